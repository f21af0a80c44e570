package search

import (
	"context"
	"math"
	"testing"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/internal/sample"
)

// The map from one night to the next against every night solved from the charge that is left:
// nights, charges at dusk, and when it goes out; by hours that end within one charge and by
// modes.
func TestNightsAgainstEveryNight(t *testing.T) {
	light := handlamp(t)
	driver := design.FindNode(light.Variants[0].Feeds[0].Loads, "driver").Driver
	driver.Modes = []design.Mode{{Name: "low", Level: design.Level{Current: p(0.2)}}}
	for _, spells := range [][]Spell{{{"", 0.4}}, {{"", 0.1}, {"low", 1.5}}, {{"low", 10}}, {{"", 6}}} {
		n, err := NightsOf(context.Background(), light, 0, spells, 0.3)
		if err != nil {
			t.Fatal(err)
		}
		m, _ := chain.Compile(light, chain.Options{})
		full, wh := m.Holds("power", 1)
		r := lasts(t, light, 0, 0)
		lit := 0.0
		for _, s := range spells {
			lit += s.Hours
		}
		charge := 1.0
		for k, at := range n.Dusk {
			if math.Abs(at-charge) > 5e-3 {
				t.Errorf("%v, dusk %d: %g, solved %g", spells, k, at, charge)
				break
			}
			one := night{ctx: context.Background(), feed: "power"}
			for _, s := range spells {
				l, _ := design.Clone(light)
				setMode(&l.Variants[0], s.Mode)
				one.spells, one.lights = append(one.spells, 3600*s.Hours), append(one.lights, l)
			}
			left, litS, err := one.solve(charge)
			if err != nil {
				t.Fatal(err)
			}
			if out := litS < 3600*lit*(1-1e-6); out != (k == n.Whole && n.OutH != nil) {
				t.Errorf("%v, night %d of %d: lit for %g s", spells, k, n.Whole, litS)
			} else if out && math.Abs(litS/3600-*n.OutH) > 0.1*lit { // on its last charge, next to empty
				t.Errorf("%v: out after %g h, solved %g", spells, *n.OutH, litS/3600)
			}
			charge = left - (r.OffA*(24-lit)+24*r.LossA)/full
		}
		if n.OutH != nil && (math.Abs(*n.PerYear-365/math.Max(float64(n.Whole), 1)) > 1e-9 || math.Abs(*n.PerWeek/7-*n.PerYear/365) > 1e-9) {
			t.Errorf("%v: %g a year, %g a week for %d nights", spells, *n.PerYear, *n.PerWeek, n.Whole)
		}
		if n.OutH != nil {
			taken := 1.0
			if n.Whole > 0 {
				taken -= n.Dusk[n.Whole]
			}
			if want := *n.PerYear * taken * wh / 1000 / 0.85 * 0.3; math.Abs(*n.Cost-want) > 1e-9 {
				t.Errorf("%v: a year costs %g, want %g", spells, *n.Cost, want)
			}
		}
	}
	for _, spells := range [][]Spell{{}, {{"", 25}}, {{"no such mode", 1}}} {
		if n, err := NightsOf(context.Background(), light, 0, spells, 0); err == nil {
			t.Errorf("%v: %+v", spells, n)
		}
	}
	// Next to nothing each night: it lasts the year, and the cells' own loss shows.
	off := handlamp(t)
	off.Part("cell").Cell.LossMonth = p(0.01)
	design.FindNode(off.Variants[0].Feeds[0].Loads, "driver").Driver.SetCurrentA = p(0.1)
	n, err := NightsOf(context.Background(), off, 0, []Spell{{"", 0.01}}, 0)
	if err != nil || n.Whole != 365 || n.OutH != nil || n.PerYear != nil || n.Dusk[364] > 0.9-0.12+0.1 || n.Dusk[364] < 0.6 {
		t.Errorf("%+v, %v", n, err)
	}
}

// BenchmarkYear is a year of nights of each demo light with a pack.
func BenchmarkYear(b *testing.B) {
	for _, name := range []string{"shore-search-handlamp", "pier-lantern", "slipway-lantern", "skerry-marker", "bilge-lamp"} {
		light, err := sample.Example(name + ".json")
		if err != nil {
			b.Fatal(err)
		}
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				if _, err := NightsOf(context.Background(), light, 0, []Spell{{"", 0.5}}, 0); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
