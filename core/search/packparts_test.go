package search_test

import (
	"context"
	"errors"
	"slices"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
	"photherm/core/search"
)

// Boards and chargers for four lithium-ion cells in series: each is judged as it would be found in
// the light, those on hand first among those that fit.
func TestPackParts(t *testing.T) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	source := &light.Variants[0].Feeds[0].Sources[0]
	board := func(change func(*design.Protection)) design.Part {
		b := *light.Part(source.Pack.ProtectionID).Protect
		change(&b)
		return design.Part{Protect: &b}
	}
	charger := func(change func(*design.Charger)) design.Part {
		c := *light.Part(source.Pack.Charger.PartID).Charger
		change(&c)
		return design.Part{Charger: &c}
	}
	for _, c := range []struct {
		name string
		part design.Part
		fit  search.Fit
		why  string
	}{
		{"a board like it", board(func(b *design.Protection) { b.CutCellV = 2.9 }), search.Fits, ""},
		{"a board for three", board(func(b *design.Protection) { b.Series = 3 }), search.No, "3 in series"},
		{"a board for iron phosphate", board(func(b *design.Protection) { b.Chemistry = "lifepo4" }), search.No, "iron phosphate"},
		{"a board for 1 A", board(func(b *design.Protection) { b.MaxA = new(1.0) }), search.No, "lets 1.00 A through"},
		{"a board that cuts late", board(func(b *design.Protection) { b.CutCellV = 2.2 }), search.Nearly, "cuts at 2.20 V"},
		{"a board for emptying alone", board(func(b *design.Protection) { b.OverCellV = nil }), search.Nearly, "sees 4 in series as one"},
		{"a charger like it", charger(func(c *design.Charger) { c.CurrentA = new(1.1) }), search.Fits, ""},
		{"a charger for one", charger(func(c *design.Charger) { c.Series = 1 }), search.No, "charges 1 in series"},
		{"a charger for iron phosphate", charger(func(c *design.Charger) { c.Chemistry = "lifepo4" }), search.No, "iron phosphate"},
		{"a fast charger", charger(func(c *design.Charger) { c.CurrentA = new(2.0) }), search.Nearly, "may be with 1.70 A"},
		{"a charger to 4.3 V", charger(func(c *design.Charger) { c.EndCellV = new(4.3) }), search.No, "4.30 V"},
	} {
		c.part.ID, c.part.Name = "kept", c.name
		stock := []search.OnHand{{ID: "none", Part: c.part}, {ID: "some", Stock: 1, Part: c.part}}
		found, err := search.MatchPackParts(context.Background(), light, 0, source.ID, c.part.Kind(), stock)
		if err != nil {
			t.Fatal(err)
		}
		var cabinet []string
		for _, f := range found {
			if f.Cabinet == "" {
				if f.Fit != search.Fits {
					t.Errorf("%s: what is in the light %s: %s", c.name, f.Fit, f.Why)
				}
				continue
			}
			cabinet = append(cabinet, f.Cabinet)
			if f.Fit != c.fit || !strings.Contains(f.Why, c.why) || (f.Why == "") != (c.why == "") {
				t.Errorf("%s: %s, %q; want %s with %q", c.name, f.Fit, f.Why, c.fit, c.why)
			}
		}
		if len(cabinet) != 2 || cabinet[0] != "some" {
			t.Errorf("%s: in the order %v", c.name, cabinet)
		}
	}
	// A new one for any pack fits it; dry cells have no charger.
	cell := light.Part(source.Pack.PartID).Cell
	for chemistry, series := range map[string]int{"li-ion-4.2": 1, "li-ion-4.35": 3, "lifepo4": 4, "nimh": 10, "lead-acid": 6} {
		other, err := design.Clone(light)
		if err != nil {
			t.Fatal(err)
		}
		pack := other.Variants[0].Feeds[0].Sources[0].Pack
		pack.Series, other.Part(pack.PartID).Cell.Chemistry = series, chemistry
		pack.ProtectionID, pack.Charger = "", nil
		for _, kind := range []string{"protection", "charger"} {
			found, err := search.MatchPackParts(context.Background(), other, 0, source.ID, kind, nil)
			fresh := slices.IndexFunc(found, func(c search.Candidate) bool { return c.Local == "" && c.Cabinet == "" })
			if err != nil || fresh < 0 || found[fresh].Fit != search.Fits {
				t.Errorf("a new %s for %d of %s: %+v, %v", kind, series, chemistry, found, err)
			}
		}
	}
	cell.Chemistry = "alkaline"
	if found, err := search.MatchPackParts(context.Background(), light, 0, source.ID, "charger", nil); err != nil || len(found) != 1 || found[0].Fit != search.No {
		t.Errorf("for dry cells: %+v, %v", found, err)
	}
	cell.Chemistry = "li-ion-4.2"
	// What is set at the charger in place is not carried over, and nothing is put into the light.
	source.Pack.Charger.CurrentA = new(5.0)
	parts := len(light.Parts)
	again, err := search.MatchPackParts(context.Background(), light, 0, source.ID, "charger", []search.OnHand{{ID: "some", Stock: 1, Part: charger(func(c *design.Charger) { c.CurrentA = new(1.1) })}})
	if err != nil || len(again) != 3 || again[0].Fit != search.Fits || again[1].Fit != search.Fits || len(light.Parts) != parts {
		t.Errorf("%+v, %v", again, err)
	}
	source.Pack.PartID = ""
	if found, err := search.MatchPackParts(context.Background(), light, 0, source.ID, "charger", nil); err != nil || found[0].Fit != search.NotYet {
		t.Errorf("without cells: %+v, %v", found, err)
	}
	for _, variant := range []int{-1, len(light.Variants)} {
		if _, err := search.MatchPackParts(context.Background(), light, variant, source.ID, "charger", nil); err == nil {
			t.Errorf("variant %d is none", variant)
		}
	}
	for of, ask := range map[string]func() error{
		"kind": func() error {
			_, err := search.MatchPackParts(context.Background(), light, 0, source.ID, "cell", nil)
			return err
		},
		"source": func() error {
			_, err := search.MatchPackParts(context.Background(), light, 0, "nobody", "charger", nil)
			return err
		},
	} {
		var place *search.PlaceError
		if err := ask(); !errors.As(err, &place) || place.Of != of {
			t.Errorf("%s: %v", of, err)
		}
	}
}
