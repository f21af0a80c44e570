package search

import (
	"context"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
)

// A lamp of dry cells against one that is charged, by hand: the difference in parts over that
// in an hour; and every way in which it cannot be told.
func TestPayback(t *testing.T) {
	light := handlamp(t)
	light.Variants = light.Variants[:1]
	other, err := design.Clone(light)
	if err != nil {
		t.Fatal(err)
	}
	dry := other.Variants[0]
	dry.ID, dry.Name = "dry", "Dry cells"
	pack := *dry.Feeds[0].Sources[0].Pack
	pack.PartID, pack.Series, pack.CutoffCellV, pack.ProtectionID, pack.Charger = "dry cell", 9, nil, "", nil
	dry.Feeds[0].Sources[0].Pack = &pack
	light.Parts = append(light.Parts, design.Part{ID: "dry cell", Name: "Dry cell", Price: p(1.0), Cell: &design.Cell{Chemistry: "alkaline", CapacityAh: 7, ResistanceOhm: 0.15}})
	light.Variants = append(light.Variants, dry)
	light.Part("cell").Price, light.Part("charger").Price = p(6.0), p(20.0)
	ask := func(variant, against int, price float64) *Payback {
		b, err := PaybackOf(context.Background(), light, variant, against, price)
		if err != nil {
			t.Fatal(err)
		}
		return b
	}
	b := ask(0, 1, 0.3)
	charged, changed := lasts(t, light, 0, 0.3), (*Runtime)(nil)
	if changed, err = RuntimeOf(context.Background(), light, 1, 0, 0.3, 0); err != nil {
		t.Fatal(err)
	}
	if *b.HourC != *charged.CostH || *b.OtherC != *changed.CostH || math.Abs(b.Cost-b.Other-(4*6+20-9)) > 1e-9 {
		t.Fatalf("%+v", b)
	}
	light.Conditions.Charge = p(0.5) // half the charge lasts half as long, and costs half
	if half := lasts(t, light, 0, 0.3); math.Abs(*half.CostH / *charged.CostH - 1) > 0.06 {
		t.Errorf("an hour from half a charge costs %g, from a full one %g", *half.CostH, *charged.CostH)
	}
	light.Conditions.Charge = nil
	if want := 35 / (*b.OtherC - *b.HourC); b.Hours == nil || math.Abs(*b.Hours-want) > 1e-9 || b.Why != "" {
		t.Errorf("after %v h, want %g", b.Hours, want)
	}
	for says, b := range map[string]*Payback{"cheaper to make": ask(1, 0, 0.3), "not known of both": ask(0, 1, 0)} {
		if !strings.Contains(b.Why, says) {
			t.Errorf("%q: %+v", says, b)
		}
	}
	light.Part("charger").Price, light.Part("cell").Price = nil, p(0.1)
	if b := ask(0, 1, 0.3); !strings.Contains(b.Why, "no more than Dry cells") || b.Hours != nil {
		t.Errorf("%+v", b)
	}
	light.Part("dry cell").Price = p(0.001)
	light.Part("cell").Price = p(50.0)
	if b := ask(0, 1, 30); !strings.Contains(b.Why, "never") || b.Hours != nil {
		t.Errorf("%+v", b)
	}
	for _, against := range []int{0, 2, -1} {
		if b, err := PaybackOf(context.Background(), light, 0, against, 0.3); err == nil {
			t.Errorf("against %d: %+v", against, b)
		}
	}
}
