package chain

import (
	"math"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
)

// No light has its first cause along the current; what is not known of the heat, further
// down or not in the way is none.
func TestWhyDark(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*design.Light, *design.Node, *design.Node, *design.Node) // light, switch, driver, emitters
		says   string
	}{
		"switch": {func(_ *design.Light, s, _, _ *design.Node) { s.Switch.Open = true }, "Tail switch is open"},
		"switch and more": {func(_ *design.Light, s, d, e *design.Node) {
			s.Switch.Open, d.Driver.PartID, e.Array.PartID = true, "", ""
		}, "Tail switch is open"},
		"never on": {func(_ *design.Light, s, _, _ *design.Node) { s.Switch.Duty = new(0.0) }, "Tail switch is open"},
		"no source": {func(l *design.Light, s, _, _ *design.Node) {
			l.Variants[0].Feeds[0].Sources = nil
			s.Switch.Open = true
		}, "no source is chosen"},
		"no cell":    {func(l *design.Light, _, _, _ *design.Node) { l.Variants[0].Feeds[0].Sources[0].Pack.PartID = "" }, "no cell is chosen"},
		"no driver":  {func(_ *design.Light, _, d, e *design.Node) { d.Driver.PartID, e.Array.PartID = "", "" }, "no driver is chosen"},
		"no emitter": {func(l *design.Light, _, _, e *design.Node) { e.Array.PartID, l.Variants[0].Bodies[0].KPerW = "", nil }, "no emitter is chosen"},
		"open emitter": {func(_ *design.Light, _, _, e *design.Node) {
			e.Array.Unequal = []design.Strings{{Strings: 1, Open: true}}
		}, "an emitter or a joint of"},
		"one that is open": {func(_ *design.Light, _, _, a *design.Node) {
			a.Array.Unequal = []design.Strings{{Strings: 1, Open: true, At: 2}}
		}, "emitter 2 of Three on one star, counted from plus, is open"},
		"both strings open": {func(_ *design.Light, _, _, a *design.Node) {
			a.Array.Parallel, a.Array.Unequal = 2, []design.Strings{{Strings: 2, Open: true}}
		}, "every string of"},
		"open joint": {func(_ *design.Light, _, _, e *design.Node) { e.Fault = &design.Fault{State: "open"} }, "a fault was put in"},
		"bridged":    {func(_ *design.Light, _, d, _ *design.Node) { d.Fault = &design.Fault{State: "short"} }, "is bridged"},
		"wrong window": {func(l *design.Light, _, _, _ *design.Node) {
			l.Parts[1].Driver.InputMinV, l.Parts[1].Driver.RestartV = new(20.0), nil
		}, "starts at 20"},
		"too few cells": {func(l *design.Light, _, _, _ *design.Node) { l.Variants[0].Feeds[0].Sources[0].Pack.Series = 1 }, "does not start"},
		"light not known": {func(l *design.Light, _, _, _ *design.Node) {
			l.Parts[2].Emitter.FluxLm, l.Variants[0].Bodies[0].KPerW = nil, nil
		}, "the light of"},
		"nothing hangs":    {func(l *design.Light, s, _, _ *design.Node) { s.Loads = nil }, "nothing that shines"},
		"nothing feeds it": {func(l *design.Light, _, _, _ *design.Node) { l.Variants[0].Feeds = nil }, "nothing feeds it"},
	} {
		light, err := sample.Example("shore-search-handlamp.json")
		if err != nil {
			t.Fatal(err)
		}
		s := &light.Variants[0].Feeds[0].Loads[1]
		c.change(light, s, &s.Loads[0], &s.Loads[0].Loads[0])
		a := run(t, compile(t, light)).Answers()
		if a.FluxLm != nil || !strings.Contains(a.FluxWhy, c.says) {
			t.Errorf("%s: light %v because %q, want %q", name, a.FluxLm, a.FluxWhy, c.says)
		}
	}
}

// A step-up of which nothing it feeds is known makes no figures: neither hours to empty nor
// the voltage it would climb to. Once one of two is known, or it is a bare part on the
// bench, it works.
func TestDriverOfNothingKnown(t *testing.T) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	s := &light.Variants[0].Feeds[0].Loads[1]
	light.Variants[0].Feeds[0].Loads = []design.Node{*s}
	d := &light.Variants[0].Feeds[0].Loads[0].Loads[0]
	light.Parts[1].Driver = &design.Driver{Family: "boost", SetCurrentA: new(0.5), Efficiency: new(0.85), QuiescentA: new(0.02)}
	unread := design.Node{ID: "unread", Load: &design.MeasuredLoad{}}
	ask := func(loads ...design.Node) (a Answers, outV float64) {
		d.Loads = loads
		m := compile(t, light)
		r := run(t, m)
		return r.Answers(), column(t, m, r.Records[1], d.ID, "outV")
	}
	shines := design.Node{ID: "lamp", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 18, CurrentA: 0.1}, {VoltageV: 24, CurrentA: 0.3}}}}
	for name, loads := range map[string][]design.Node{
		"a load without a reading":  {unread},
		"an array without emitters": {{ID: "array", Array: &design.Array{Series: 2, Parallel: 1}}},
		"behind a switch":           {{ID: "side", Switch: &design.Switch{}, Loads: []design.Node{unread}}},
		"two of them":               {unread, {ID: "strip", Strip: &design.StripUse{}}},
	} {
		if a, outV := ask(loads...); a.EndS != nil || a.InputW != 0 || outV != 0 || a.RuntimeWhy == "" {
			t.Errorf("%s: %+v, %g V", name, a, outV)
		}
	}
	if a, outV := ask(unread, shines); a.EndS == nil || outV < 18 {
		t.Errorf("one of two is known: %+v, %g V", a, outV)
	}
	if a, outV := ask(); a.InputW <= 0 || outV < 100 {
		t.Errorf("nothing hangs on it: %+v, %g V", a, outV)
	}
}

// Below its first reading a measured load gives light as it takes power: at the reading
// there is no step, at half the voltage of a resistance a quarter of it.
func TestLightBelowTheReadings(t *testing.T) {
	flux := func(volts float64) float64 {
		light := &design.Light{Format: design.Format, Version: design.Version, Name: "x", Parts: []design.Part{}, Variants: []design.Variant{{ID: "a", Name: "a", Bodies: []design.Body{}, Feeds: []design.Feed{{ID: "f",
			Sources: []design.Source{{ID: "s", Supply: &design.Supply{VoltageV: volts}}},
			Loads:   []design.Node{{ID: "l", Load: &design.MeasuredLoad{Beyond: "ohmic", FluxLm: new(100.0), Points: []design.LoadPoint{{VoltageV: 6, CurrentA: 0.5, RelativeLight: new(0.25)}, {VoltageV: 12, CurrentA: 1}}}}}}}}}}
		if f := run(t, compile(t, light)).Answers().FluxLm; f != nil {
			return *f
		}
		return 0
	}
	for volts, want := range map[float64]float64{12: 100, 6: 25, 5.9999: 25, 3: 6.25, 9: 62.5} {
		if got := flux(volts); math.Abs(got-want) > 1e-3*want {
			t.Errorf("at %v V: %v lm, want %v", volts, got, want)
		}
	}
}
