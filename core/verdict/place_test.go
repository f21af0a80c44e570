package verdict

import (
	"strings"
	"testing"

	"photherm/core/design"
)

// Water asks for its cautions; on the mains isolation and earth are asked about, and
// what only drops the mains is a stop.
func TestSurroundings(t *testing.T) {
	rack := func(change func(*design.Light, *design.Driver)) []Finding {
		light := load(t, "germination-rack.json")
		for i := range light.Parts {
			if d := light.Parts[i].Driver; d != nil {
				change(light, d)
			}
		}
		return judgeLight(t, light)
	}
	for name, c := range map[string]struct {
		change func(*design.Light, *design.Driver)
		has    string
		not    string
		grave  Severity
		says   string
	}{
		"dry":              {func(*design.Light, *design.Driver) {}, "mains", "near-water", Caution, ""},
		"over water":       {func(l *design.Light, _ *design.Driver) { l.Conditions.NearWater = true }, "near-water", "", Caution, "residual-current device"},
		"under water":      {func(l *design.Light, _ *design.Driver) { l.Brief.Wet = "under-water" }, "near-water", "", Caution, "drip loop"},
		"isolation":        {func(l *design.Light, d *design.Driver) { d.Isolated = nil; l.Conditions.NearWater = true }, "isolation-unknown", "", Caution, "water is near"},
		"isolation, metal": {func(l *design.Light, d *design.Driver) { d.Isolated = nil; touchable(l, true) }, "isolation-unknown", "", Caution, "metal to touch"},
		"nothing to touch": {func(l *design.Light, d *design.Driver) { d.Isolated = nil; touchable(l, false) }, "mains", "isolation-unknown", Caution, ""},
		"earth":            {func(l *design.Light, d *design.Driver) { d.Class = ""; touchable(l, true) }, "earth-asked", "", Note, "class"},
		"earth known":      {func(l *design.Light, d *design.Driver) { d.Class = "II"; touchable(l, true) }, "mains", "earth-asked", Caution, ""},
		"dropped":          {func(_ *design.Light, d *design.Driver) { *d = design.Driver{Family: "dropper", DropV: p(180.0)} }, "mains-dropped", "isolation-unknown", Stop, "live"},
	} {
		found := rack(c.change)
		f := find(found, c.has)
		if f == nil || f.Severity != c.grave || !strings.Contains(f.Why, c.says) {
			t.Errorf("%s: %s is %+v", name, c.has, f)
		}
		if c.not != "" && find(found, c.not) != nil {
			t.Errorf("%s: %s is said", name, c.not)
		}
	}
	// On cells water is a note without a residual-current device.
	light := load(t, "shore-search-handlamp.json")
	light.Conditions.NearWater = true
	if f := find(judgeLight(t, light), "near-water"); f == nil || f.Severity != Note || strings.Contains(f.Why, "residual") {
		t.Errorf("on cells: %+v", f)
	}
}

func touchable(l *design.Light, yes bool) {
	for i := range l.Variants[0].Bodies {
		l.Variants[0].Bodies[i].Touchable = yes
	}
}

func TestOldLampsCautions(t *testing.T) {
	for was, want := range map[string][]string{"": nil, "flame": {"old-paint"}, "bulb": {"old-paint"}, "tube": {"old-paint", "old-tube", "old-capacitor"}} {
		light := load(t, "shore-search-handlamp.json")
		light.Brief.Was, light.Brief.Keeps = was, []string{"switch", "housing", "reflector"}
		found := judgeLight(t, light)
		n := 0
		for _, f := range found {
			if strings.HasPrefix(f.Code, "old-") {
				n++
			}
		}
		for _, code := range want {
			if find(found, code) == nil {
				t.Errorf("%q: %s is not said", was, code)
			}
		}
		if n != len(want) {
			t.Errorf("%q: %d findings of old lamps", was, n)
		}
	}
	light := load(t, "shore-search-handlamp.json")
	light.Brief.Was, light.Brief.Keeps = "bulb", []string{"switch"}
	if find(judgeLight(t, light), "old-paint") != nil {
		t.Error("paint of a housing that does not stay")
	}
}

// Nothing sets the current where nothing does: emitters straight on a pack, or on a
// voltage without a limit. A resistor, a current limit, a strip's own resistors do.
func TestNothingSetsTheCurrent(t *testing.T) {
	for name, c := range map[string]struct {
		change func(l *design.Light, f *design.Feed, d, a *design.Node)
		want   bool
	}{
		"driver":             {func(*design.Light, *design.Feed, *design.Node, *design.Node) {}, false},
		"straight on a pack": {func(_ *design.Light, f *design.Feed, _, a *design.Node) { f.Loads = []design.Node{*a} }, true},
		"switch alone": {func(_ *design.Light, f *design.Feed, _, a *design.Node) {
			f.Loads = []design.Node{{ID: "sw", Switch: &design.Switch{}, Loads: []design.Node{*a}}}
		}, true},
		"ballast": {func(_ *design.Light, f *design.Feed, _, a *design.Node) {
			a.Array.BallastOhm = p(2.0)
			f.Loads = []design.Node{*a}
		}, false},
		"wire": {func(l *design.Light, _ *design.Feed, _, _ *design.Node) {
			*l.Parts[1].Driver = design.Driver{Family: "none"}
		}, true},
		"wire and ballast": {func(l *design.Light, _ *design.Feed, _, a *design.Node) {
			*l.Parts[1].Driver = design.Driver{Family: "none"}
			a.Array.BallastOhm = p(2.0)
		}, false},
		"resistor": {func(l *design.Light, _ *design.Feed, d, _ *design.Node) {
			*l.Parts[1].Driver = design.Driver{Family: "resistor"}
			d.Driver.ResistanceOhm = p(3.0)
		}, false},
		"dropper": {func(l *design.Light, _ *design.Feed, _, _ *design.Node) {
			*l.Parts[1].Driver = design.Driver{Family: "dropper", DropV: p(3.0)}
		}, true},
		"voltage, no limit": {func(l *design.Light, _ *design.Feed, d, _ *design.Node) {
			*l.Parts[1].Driver = design.Driver{Family: "voltage", SetVoltageV: p(9.0)}
			d.Driver = &design.DriverUse{PartID: d.Driver.PartID}
		}, true},
		"voltage, limited": {func(l *design.Light, _ *design.Feed, d, _ *design.Node) {
			*l.Parts[1].Driver = design.Driver{Family: "voltage", SetVoltageV: p(9.0), SetCurrentA: p(1.0)}
			d.Driver = &design.DriverUse{PartID: d.Driver.PartID}
		}, false},
		"supply with a limit": {func(_ *design.Light, f *design.Feed, _, a *design.Node) {
			f.Loads, f.Sources = []design.Node{*a}, []design.Source{{ID: "s", Supply: &design.Supply{VoltageV: 10, MaxCurrentA: p(1.0)}}}
		}, false},
		"supply without": {func(_ *design.Light, f *design.Feed, _, a *design.Node) {
			f.Loads, f.Sources = []design.Node{*a}, []design.Source{{ID: "s", Supply: &design.Supply{VoltageV: 8.6}}}
		}, true},
	} {
		light := load(t, "shore-search-handlamp.json")
		f := &light.Variants[0].Feeds[0]
		d := node(light, 1, 0)
		c.change(light, f, d, &d.Loads[0])
		n := 0
		for _, x := range judgeLight(t, light) {
			if x.Code == "no-ballast" {
				n++
			}
		}
		if n > 1 || (n == 1) != c.want {
			t.Errorf("%s: said %d times", name, n)
		}
	}
}

// Strip is judged by its nominal watts, and what its copper lets through is beside it.
func TestStripSupplyIsJudgedByMetres(t *testing.T) {
	for rated, want := range map[float64]string{80: "supply-margin", 70: "supply-watts", 100: ""} {
		light := load(t, "chart-table-strip.json")
		for i := range light.Parts {
			switch q := &light.Parts[i]; {
			case q.Driver != nil:
				q.Driver.MaxOutputW, q.Driver.MaxCurrentA, q.Driver.MinLoadW = p(rated), nil, nil
			case q.Strip != nil:
				q.Strip.PerMetreW, q.Strip.LoopOhm, q.Strip.LongestM = p(15.0), p(1.2), nil
			}
		}
		var strip *design.Node
		for _, n := range []string{"strip", "table", "emitters"} {
			if strip = design.FindNode(light.Variants[0].Feeds[0].Loads, n); strip != nil && strip.Strip != nil {
				break
			}
		}
		strip.Strip.PiecesM, strip.Strip.Chained = []float64{2.5, 2.5}, false
		found := judgeLight(t, light)
		for _, code := range []string{"supply-margin", "supply-watts"} {
			f := find(found, code)
			if (f != nil) != (code == want) {
				t.Fatalf("rated %v W: %s is %+v", rated, code, f)
			}
			if f != nil && (*f.Value < 74.999 || *f.Value > 75.001 || !strings.Contains(f.Why, "as its copper lets it")) {
				t.Errorf("rated %v W: %v W, %s", rated, *f.Value, f.Why)
			}
		}
	}
}

// A bench supply in its limit is how a light is brought up.
func TestBenchSupplyInItsLimit(t *testing.T) {
	for kind, want := range map[string]Severity{"bench": Note, "": Caution, "rail": Caution} {
		b := lowBench()
		b.light.Variants[0].Feeds[0].Sources[0].Supply.Kind = kind
		b.light.Variants[0].Feeds[0].Sources[0].Supply.MaxCurrentA = p(0.05)
		if f := find(judgeLight(t, b.light), "supply-limit"); f == nil || f.Severity != want {
			t.Errorf("%q: %+v", kind, f)
		}
	}
}

// A fix that is offered says what comes of it; one that takes more than it mends is not.
func TestFixesAreTried(t *testing.T) {
	light := load(t, "shore-search-handlamp.json")
	node(light, 1, 0).Driver.SetCurrentA = p(2.9)
	f := find(judgeLight(t, light), "touch")
	if f == nil || f.Fix == nil || !strings.Contains(f.Fix.Then, "lm") || !strings.Contains(f.Fix.Then, "to half light") {
		t.Fatalf("%+v", f)
	}
	// One cell fewer is not offered where the driver then does not start.
	light = load(t, "shore-search-handlamp.json")
	light.Parts[1].Driver.InputMaxV, light.Parts[1].Driver.InputMinV, light.Parts[1].Driver.RestartV = p(13.0), p(12.9), nil
	if f := find(judgeLight(t, light), "source-above-input"); f == nil || f.Fix != nil {
		t.Errorf("%+v", f)
	}
}

// A resistor that asks for less, or more, than its driver can is spoken of.
func TestProgrammedBeyondTheDriver(t *testing.T) {
	for ohm, code := range map[float64]string{10: "driver-under-current", 0.5: "", 0.05: "driver-over-current", 1: ""} {
		light := load(t, "shore-search-handlamp.json")
		d := light.Parts[1].Driver
		d.ProgramV, d.MinCurrentA, d.MaxCurrentA = p(0.1), p(0.1), p(1.0)
		use := node(light, 1, 0).Driver
		use.SetCurrentA, use.ProgramOhm = nil, p(ohm)
		found := judgeLight(t, light)
		for _, c := range []string{"driver-under-current", "driver-over-current"} {
			if f := find(found, c); (f != nil) != (c == code) || f != nil && !strings.HasSuffix(f.Pointer, "/programOhm") {
				t.Errorf("%v Ω: %s is %+v", ohm, c, f)
			}
		}
	}
}

// A change that leads nowhere in the document is refused, and changes nothing.
func TestPatchesThatLeadNowhere(t *testing.T) {
	light := load(t, "shore-search-handlamp.json")
	for _, path := range []string{"/variants/9/name", "/variants/-1/name", "/variants/x/name", "/name/deeper", "/variants/0/feeds/9"} {
		if _, err := patched(light, []Patch{{"add", path, "x"}}); err == nil {
			t.Errorf("%s is changed", path)
		}
	}
	got, err := patched(light, []Patch{{"add", "/variants/0/feeds/0/loads/1/fault/seriesOhm", 0.5}})
	if err != nil || got.Variants[0].Feeds[0].Loads[1].Fault == nil || got.Variants[0].Feeds[0].Loads[1].Fault.SeriesOhm != 0.5 || light.Variants[0].Feeds[0].Loads[1].Fault != nil {
		t.Errorf("%v", err)
	}
}
