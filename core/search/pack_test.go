package search

import (
	"context"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/units"
)

// A pack of cells measured one by one, by hand: sums and parallels of each group, how the
// unlike ones share, what the pack gives, and every threshold where it is set.
func TestPackAsItLies(t *testing.T) {
	light := handlamp(t)
	pack := light.Variants[0].Feeds[0].Sources[0].Pack
	pack.Series, pack.Parallel, pack.AlarmCellV, pack.ReleaseCellV = 4, 2, p(3.3), p(3.6)
	two := func(a, b, ra, rb float64) design.CellGroup {
		return design.CellGroup{Cells: []design.PackCell{{Label: "x", CapacityAh: &a, ResistanceOhm: &ra}, {CapacityAh: &b, ResistanceOhm: &rb}}}
	}
	pack.Groups = []design.CellGroup{two(3, 3.4, 0.04, 0.12), two(3.4, 3.4, 0.04, 0.04), {Cells: []design.PackCell{{}, {}}}, two(3.2, 3.4, 0.06, 0.03)}
	look, err := PackOf(context.Background(), light, 0, &units.Wire{LengthM: 0.5, AreaM2: 0.205e-6})
	if err != nil {
		t.Fatal(err)
	}
	if look.Ah != 6.4 || look.Groups[0].Ah != 6.4 || math.Abs(look.Groups[0].Ohm-0.03) > 1e-12 || look.Groups[2].Ah != 6.8 || math.Abs(look.Groups[2].Ohm-0.021) > 1e-12 {
		t.Errorf("%g Ah, %+v", look.Ah, look.Groups)
	}
	if c := look.Groups[0].Cells; c[0].Label != "x" || c[1].Label != "A2" || !c[0].Own || look.Groups[2].Cells[0].Own || look.Groups[2].Cells[1].Label != "C2" {
		t.Errorf("%+v", look.Groups)
	}
	// 40 mΩ beside 120 mΩ takes three quarters, one and a half times its share.
	if u := look.Uneven[0]; u.Label != "x" || math.Abs(u.Most-1.5) > 1e-9 || math.Abs(u.CellA-0.75*look.A) > 1e-9 || u.Group != 1 {
		t.Errorf("%+v", u)
	}
	if math.Abs(look.PerHour-look.A/6.4) > 1e-12 || math.Abs(*look.Kg-8*0.046) > 1e-12 || math.Abs(look.SagV*look.A/look.LostW-1) > 0.05 {
		t.Errorf("%+v", look)
	}
	levels := map[string]PackLevel{}
	for i, l := range look.Levels {
		levels[l.Name] = l
		if i > 0 && l.CellV > look.Levels[i-1].CellV {
			t.Errorf("out of order: %+v", look.Levels)
		}
	}
	for name, want := range map[string]struct {
		v  float64
		at string
	}{
		"full": {4.2, "/parts/0/cell/chemistry"}, "drained no further": {2.8, "/parts/0/cell/minV"}, "cut off": {3, "/variants/0/feeds/0/sources/0/pack/cutoffCellV"}, "the board itself cuts": {2.7, "/variants/0/feeds/0/sources/0/pack/protectionId"},
		"switched on again, rested": {3.6, "/variants/0/feeds/0/sources/0/pack/releaseCellV"}, "the alarm sounds": {3.3, "/variants/0/feeds/0/sources/0/pack/alarmCellV"}, "charged up to": {4.2, "/variants/0/feeds/0/sources/0/pack/charger/endCellV"}, "the board stops charging": {4.28, "/variants/0/feeds/0/sources/0/pack/protectionId"},
	} {
		if l := levels[name]; math.Abs(l.CellV-want.v) > 1e-9 || l.Pointer != want.at {
			t.Errorf("%s: %+v, want %+v", name, l, want)
		}
	}
	if look.LowV != 2.7 || look.HighV != 4.28 || len(look.Levels) != 8 {
		t.Errorf("%g to %g V, %+v", look.LowV, look.HighV, look.Levels)
	}
	// Half a metre of AWG 24, there and back: 84.2 mΩ (ASTM B258).
	if w := look.Wire; math.Abs(w.Ohm-0.0842) > 2e-4 || math.Abs(w.DropV-w.Ohm*look.A) > 1e-12 || math.Abs(w.LostW-w.DropV*look.A) > 1e-12 || w.Care != "" {
		t.Errorf("%+v", w)
	}
	for a, says := range map[float64]string{1.2: "", 1.3: "in a bundle", 2.4: "in a bundle", 2.5: "hot even"} {
		if w := wired(units.Wire{LengthM: 1, AreaM2: 0.2e-6}, a); says == "" && w.Care != "" || !strings.Contains(w.Care, says) {
			t.Errorf("%g A in 0.2 mm²: %+v", a, w)
		}
	}
	// Springs of 30 mΩ, two to a cell, four in series and two abreast: 120 mΩ.
	for _, b := range look.Builds {
		if b.Build == "holders" && (math.Abs(b.Ohm-0.12) > 1e-12 || math.Abs(b.LostW-0.12*look.A*look.A) > 1e-12) {
			t.Errorf("%+v", b)
		}
	}
	light.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Supply: &design.Supply{VoltageV: 15}}
	if look, err := PackOf(context.Background(), light, 0, nil); err == nil {
		t.Errorf("no pack: %+v", look)
	}
}
