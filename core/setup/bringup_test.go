package setup

import (
	"context"
	"encoding/json"
	"math"
	"photherm/core/reading"
	"strings"
	"testing"

	"photherm/core/chain"
	"photherm/core/design"
)

// planOf is the plan of a node, of a light that can be saved.
func planOf(t *testing.T, l *design.Light, node string) *Plan {
	t.Helper()
	if err := design.Check(l); err != nil {
		t.Fatal(err)
	}
	out, err := For(context.Background(), l, Question{Node: node})
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// What hangs on the source without a driver has first power of its own. Ohm's law: 12 Ω
// behind 0.5 Ω on 12 V take 0.96 A, and 0.956 A through an ammeter of 50 mΩ.
func TestFirstPowerWithoutADriver(t *testing.T) {
	l := light(design.Source{Supply: &design.Supply{VoltageV: 12, ResistanceOhm: 0.5}}, design.Driver{Family: "none"}, design.DriverUse{}, 1)
	l.Variants[0].Feeds[0].Loads = []design.Node{{ID: "module", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 12, CurrentA: 1}}, Beyond: "ohmic"}}}
	got := planOf(t, l, "module")
	if a := step(t, got, 0, "current-source").Reading.Expected; math.Abs(a-12/12.55) > 1e-6 {
		t.Errorf("the ammeter shows %g A", a)
	}
	if v := step(t, got, 0, "voltage").Reading.Expected; math.Abs(v-12*12/12.5) > 1e-6 {
		t.Errorf("at its terminals %g V", v)
	}
	if s := step(t, got, 0, "limited"); !strings.Contains(s.Do, "96.0 mA") || s.Caution != "" {
		t.Errorf("first power: %+v", s)
	}
	if s := step(t, got, 0, "warm"); strings.Contains(s.Caution, "paste") {
		t.Errorf("nothing is set in paste, and yet: %q", s.Caution)
	}
}

// Emitters straight on a pack: drained, half, full; first power on the mains is through a
// series lamp. Those behind a driver are set up with it.
func TestFirstPowerOfEmitters(t *testing.T) {
	l := light(design.Source{Pack: &design.Pack{PartID: "c", Series: 1, Parallel: 1}}, design.Driver{Family: "none"}, design.DriverUse{}, 1)
	feed := &l.Variants[0].Feeds[0]
	if _, err := For(context.Background(), l, Question{Node: "a"}); err == nil {
		t.Error("emitters behind a driver are brought up without it")
	}
	feed.Loads = []design.Node{{ID: "switch", Switch: &design.Switch{}, Loads: feed.Loads[0].Loads}}
	if s := step(t, planOf(t, l, "a"), 0, "warm"); s.Caution != "" {
		t.Errorf("a joint known by its K/W may be anything, and yet: %q", s.Caution)
	}
	feed.Loads[0].Loads[0].Array.Joint = &design.Joint{ThicknessM: p(5e-5), Conductivity: p(1.5), AreaM2: p(1e-4)}
	got := planOf(t, l, "a")
	drained, half, full := step(t, got, 0, "current-drained").Reading.Expected, step(t, got, 0, "current-half").Reading.Expected, step(t, got, 0, "current-full").Reading.Expected
	if !(0 < drained && drained < half && half < full) || !strings.Contains(step(t, got, 0, "warm").Caution, "smoke") {
		t.Errorf("%g A drained, %g half full, %g full", drained, half, full)
	}
	feed.Sources = []design.Source{{ID: "w", Mains: &design.Mains{VoltageV: 230, FrequencyHz: 50}}}
	if s := step(t, planOf(t, l, "a"), 0, "limited"); !strings.Contains(s.Do, "series lamp") || !strings.Contains(s.Caution, "residual-current") {
		t.Errorf("on the mains: %+v", s)
	}
}

// What a step expects is what the light has: a module whose voltage limit lies below its
// emitters holds that voltage, and less than the current its other pot is set to.
func TestExpectedIsWhatTheLightHas(t *testing.T) {
	pack := design.Source{Pack: &design.Pack{PartID: "c", Series: 4, Parallel: 1}}
	d := design.Driver{Family: "voltage", MinVoltageV: p(1.0), MaxVoltageV: p(30.0), SetVoltageV: p(9.2), MinCurrentA: p(0.02), MaxCurrentA: p(3.0), Efficiency: p(0.9), EfficiencyInV: p(14.8)}
	for _, use := range []design.DriverUse{{SetCurrentA: p(0.3)}, {SetCurrentA: p(0.3), SetVoltageV: p(9.2)}, {SetCurrentA: p(0.3), SetVoltageV: p(9.8)}} {
		l := light(pack, d, use, 3)
		got := plan(t, l, Question{})
		m, err := chain.Compile(l, chain.Options{})
		if err != nil {
			t.Fatal(err)
		}
		is, _, err := m.Solver().ProbeAt(context.Background(), "driver", 1, 25)
		if err != nil {
			t.Fatal(err)
		}
		for way, id := range []string{"current", "current", "raise"} {
			r := step(t, got, way, id).Reading
			if math.Abs(r.Expected-is.OutA) > 1e-6 || *r.Wanted != 0.3 {
				t.Errorf("%+v, %s: expects %g A, the light has %g A", use, id, r.Expected, is.OutA)
			}
		}
		if below := is.OutA < 0.29; below != (step(t, got, 0, "open-voltage").Caution != "") {
			t.Errorf("%g A, and of the voltage limit it says %q", is.OutA, step(t, got, 0, "open-voltage").Caution)
		}
		if v := step(t, got, 1, "dummy-voltage").Reading.Expected; v > 9.85 {
			t.Errorf("%g V across the dummy, above the limit", v)
		}
	}
}

// A driver that its source does not carry up to its current is expected to give what it
// gives.
func TestHeldShortOfItsCurrent(t *testing.T) {
	l := light(design.Source{Supply: &design.Supply{VoltageV: 6.3}}, design.Driver{Family: "linear", SetCurrentA: p(0.3), HeadroomV: p(0.3)}, design.DriverUse{}, 2)
	got := plan(t, l, Question{})
	on, cold := step(t, got, 0, "on").Reading, step(t, got, 0, "cold").Reading
	if !(on.Expected > 0.01 && on.Expected < 0.25) || cold.Expected > 6.3 || *on.Wanted != 0.3 {
		t.Errorf("expects %g A at %g V from 6.3 V", on.Expected, cold.Expected)
	}
}

// Each kind of control is gone through once, with its full, its lowest, and the level the
// light has.
func TestDimLeads(t *testing.T) {
	supply := design.Source{Supply: &design.Supply{VoltageV: 12}}
	half := &design.Level{Current: p(0.5)}
	for _, c := range []struct {
		dimming, id, says string
		level             *design.Level
		at                float64
	}{
		{"three-in-one", "leads-level", "5.00 V, or a resistor of 50", half, 0.15},
		{"three-in-one", "leads-open", "open is full on", half, 0.3},
		{"analog", "pin-level", "750 mV", half, 0.15},
		{"pwm", "duty-level", "50 % of the time", &design.Level{Duty: p(0.5), FrequencyHz: p(500.0)}, 0.15},
		{"pwm", "enable-high", "all the time", half, 0.3},
	} {
		d := design.Driver{Family: "buck", SetCurrentA: p(0.3), Dimming: c.dimming, AnalogOnV: p(0.25), AnalogFullV: p(1.25), Efficiency: p(0.9)}
		got := plan(t, light(supply, d, design.DriverUse{Dimming: c.level}, 2), Question{})
		s := step(t, got, len(got.Procedures)-1, c.id)
		if !strings.Contains(s.Do, c.says) || math.Abs(s.Reading.Expected-c.at) > 1e-3 {
			t.Errorf("%s: %q, expects %g A", c.dimming, s.Do, s.Reading.Expected)
		}
	}
	d := design.Driver{Family: "window", SetCurrentA: p(0.3), MinVoltageV: p(5.0), MaxVoltageV: p(40.0), Dimming: "phase-cut", Efficiency: p(0.9)}
	l := light(mains, d, design.DriverUse{}, 5)
	feed := &l.Variants[0].Feeds[0]
	feed.Loads = []design.Node{{ID: "wall", Dimmer: &design.Dimmer{Level: 0.4}, Loads: feed.Loads}}
	got := plan(t, l, Question{})
	if s := step(t, got, len(got.Procedures)-1, "dimmer-level"); math.Abs(s.Reading.Expected-0.12) > 2e-3 {
		t.Errorf("at 40 %% of the dimmer: %g A", s.Reading.Expected)
	}
	none := plan(t, light(supply, design.Driver{Family: "buck", SetCurrentA: p(0.3), Efficiency: p(0.9)}, design.DriverUse{}, 2), Question{})
	for _, pr := range none.Procedures {
		if pr.Name == "Dimming it" {
			t.Errorf("a driver without a control is dimmed: %+v", pr)
		}
	}
}

// Whatever a reading offers to stand in for, taken it agrees: the next plan expects what
// was read.
func TestTakenReadingsAgree(t *testing.T) {
	supply := design.Source{Supply: &design.Supply{VoltageV: 12}}
	straight := light(supply, design.Driver{Family: "none"}, design.DriverUse{}, 3)
	straight.Variants[0].Feeds[0].Sources[0].Supply = &design.Supply{VoltageV: 9.4, ResistanceOhm: 1}
	straight.Variants[0].Feeds[0].Loads = straight.Variants[0].Feeds[0].Loads[0].Loads
	strip := light(mains, design.Driver{Family: "voltage", SetVoltageV: p(12.0), MaxCurrentA: p(8.0), Efficiency: p(0.9), EfficiencyInV: p(230.0)}, design.DriverUse{}, 1)
	strip.Parts = append(strip.Parts, design.Part{ID: "strip", Name: "strip", Strip: &design.Strip{VoltageV: 12, PerMetreW: p(14.4), CutM: 0.05, LoopOhm: p(0.12)}})
	strip.Variants[0].Feeds[0].Loads[0].Loads = []design.Node{{ID: "table", Strip: &design.StripUse{PartID: "strip", PiecesM: []float64{2}}}}
	// A measured load on a voltage supply, and one that hangs on the source itself.
	module := func(l *design.Light) *design.Light {
		load := &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 9, CurrentA: 0.2}, {VoltageV: 12, CurrentA: 0.3}}}
		l.Variants[0].Feeds[0].Loads[0].Loads = []design.Node{{ID: "module", Load: load}}
		return l
	}
	fed := module(light(mains, design.Driver{Family: "voltage", SetVoltageV: p(12.0), MaxCurrentA: p(8.0), Efficiency: p(0.9), EfficiencyInV: p(230.0)}, design.DriverUse{}, 1))
	alone := module(light(supply, design.Driver{Family: "none"}, design.DriverUse{}, 1))
	alone.Variants[0].Feeds[0].Loads = alone.Variants[0].Feeds[0].Loads[0].Loads
	below := func(l *design.Light, nodes ...design.Node) *design.Light {
		l.Variants[0].Feeds[0].Loads[0].Loads = nodes
		return l
	}
	held := func() *design.Light {
		return light(supply, design.Driver{Family: "buck", SetCurrentA: p(0.3), Efficiency: p(0.9)}, design.DriverUse{}, 2)
	}
	array := func(id string) design.Node { return renamed(held().Variants[0].Feeds[0].Loads[0].Loads[0], id) }
	off := array("off")
	lit := design.Node{ID: "lit", Switch: &design.Switch{}, Loads: []design.Node{array("b")}}
	dark := design.Node{ID: "dark", Switch: &design.Switch{Open: true}, Loads: []design.Node{off}}
	module12 := design.Node{ID: "module", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 9, CurrentA: 0.2}, {VoltageV: 12, CurrentA: 0.3}}, Draws: p(1.2)}}
	ballast := array("a")
	ballast.Array.Series, ballast.Array.BallastOhm = 3, p(10.0)
	metres := func(id string, m float64) design.Node {
		return design.Node{ID: id, Strip: &design.StripUse{PartID: "strip", PiecesM: []float64{m}}}
	}
	several := func(nodes ...design.Node) *design.Light {
		l := below(light(mains, design.Driver{Family: "voltage", SetVoltageV: p(12.0), MaxCurrentA: p(8.0), Efficiency: p(0.9), EfficiencyInV: p(230.0)}, design.DriverUse{}, 1), nodes...)
		l.Parts = append(l.Parts, strip.Parts[3])
		return l
	}
	onTheSource := func() *design.Light {
		l := several()
		l.Variants[0].Feeds[0].Sources[0] = supply
		l.Variants[0].Feeds[0].Loads = []design.Node{metres("table", 2)}
		return l
	}
	for name, c := range map[string]struct {
		l          *design.Light
		node, step string
		share      float64
		pointer    string
		figures    int
	}{
		"two arrays":          {below(held(), array("a"), lit, dark), "driver", "cold", 1.05, "/variants/0/feeds/0/loads/0/loads/0/array/measuredOffsetV", 2},
		"two strips":          {several(metres("left", 2), metres("right", 1)), "driver", "on", 1.3, "/parts/3/strip/powerWPerM", 1},
		"one of each":         {several(metres("left", 2), module12, ballast), "driver", "on", 0.8, "/parts/3/strip/powerWPerM", 3},
		"arrays on a voltage": {several(ballast), "driver", "on", 0.8, "/variants/0/feeds/0/loads/0/loads/0/array/measuredOffsetV", 1},
		"open voltage":        {several(metres("left", 2)), "driver", "open-voltage", 1.07, "/variants/0/feeds/0/loads/0/driver/setVoltageV", 1},
		"strip alone":         {onTheSource(), "table", "current-source", 0.7, "/parts/3/strip/powerWPerM", 1},
		"array alone":         {straight, "a", "current-source", 0.7, "/variants/0/feeds/0/loads/0/array/measuredOffsetV", 1},
		"load on a supply":    {fed, "driver", "on", 0.7, "/variants/0/feeds/0/loads/0/loads/0/load/measuredDraw", 1},
		"load alone":          {alone, "module", "current-source", 1.4, "/variants/0/feeds/0/loads/0/load/measuredDraw", 1},
		"strip":               {strip, "driver", "on", 0.8, "/parts/3/strip/powerWPerM", 1},
		"fixed current":       {light(supply, design.Driver{Family: "buck", SetCurrentA: p(0.3), Efficiency: p(0.9)}, design.DriverUse{}, 2), "driver", "on", 1.15, "/variants/0/feeds/0/loads/0/driver/setCurrentA", 1},
		"setting resistor":    {light(supply, design.Driver{Family: "buck", ProgramV: p(0.1), Efficiency: p(0.9)}, design.DriverUse{ProgramOhm: p(0.33)}, 2), "driver", "on", 0.88, "/parts/0/driver/programV", 1},
		"factor":              {light(supply, design.Driver{Family: "buck", ProgramV: p(1.2), ProgramK: p(1000.0), Efficiency: p(0.9)}, design.DriverUse{ProgramOhm: p(4e3)}, 2), "driver", "on", 0.9, "/parts/0/driver/programV", 1},
		"forward voltage":     {light(supply, design.Driver{Family: "buck", SetCurrentA: p(0.3), Efficiency: p(0.9)}, design.DriverUse{}, 2), "driver", "cold", 1.05, "/variants/0/feeds/0/loads/0/loads/0/array/measuredOffsetV", 1},
		"without a driver":    {straight, "a", "voltage", 0.96, "/variants/0/feeds/0/loads/0/array/measuredOffsetV", 1},
	} {
		of := func() *reading.Reading { return step(t, planOf(t, c.l, c.node), 0, c.step).Reading }
		read := c.share * of().Expected
		c.l.Variants[0].SetUp = []design.Done{{Node: c.node, Step: c.step, Reading: &read}}
		r := of()
		if r.Calculated == "agrees" || r.Replaces == nil || len(r.Replaces.Figures) != c.figures || r.Replaces.Figures[0].Pointer != c.pointer {
			t.Fatalf("%s: %+v, %+v", name, r, r.Replaces)
		}
		for _, f := range r.Replaces.Figures {
			if to, ok := design.Resolve(taken(t, c.l, r.Replaces), 0, f.At); !ok || to != f.Pointer {
				t.Errorf("%s: %s leads to %q", name, f.At, to)
			}
		}
		c.l = taken(t, c.l, r.Replaces)
		if again := of(); math.Abs(again.Expected-read) > 1e-4*read || again.Calculated != "agrees" || again.Replaces != nil {
			t.Errorf("%s: read %g, once taken it expects %g", name, read, again.Expected)
		}
	}
}

func renamed(n design.Node, id string) design.Node {
	n.ID = id
	return n
}

// taken is the light with a reading in the place of a figure.
func taken(t *testing.T, l *design.Light, r *reading.Replacement) *design.Light {
	t.Helper()
	data, err := json.Marshal(l)
	if err != nil {
		t.Fatal(err)
	}
	var out design.Light
	if err := json.Unmarshal(data, &out); err != nil {
		t.Fatal(err)
	}
	for _, f := range r.Figures {
		if err := design.SetFigure(&out, f.Pointer, f.Value); err != nil {
			t.Fatal(err)
		}
	}
	return &out
}

// What cannot stand in for a figure is not offered: a voltage that is another emitter's, a
// current that the driver cannot hold anyway, what hangs behind a further driver.
func TestWhatCannotBeTaken(t *testing.T) {
	supply := design.Source{Supply: &design.Supply{VoltageV: 12}}
	buck := design.Driver{Family: "buck", SetCurrentA: p(0.3), Efficiency: p(0.9)}
	two := light(supply, buck, design.DriverUse{}, 2)
	driver := &two.Variants[0].Feeds[0].Loads[0]
	second := renamed(*driver, "second")
	second.Loads = []design.Node{renamed(driver.Loads[0], "b")}
	driver.Loads = []design.Node{driver.Loads[0], second}
	for name, c := range map[string]struct {
		l     *design.Light
		step  string
		share float64
		taken bool
	}{
		"a tenth off":              {light(supply, buck, design.DriverUse{}, 2), "cold", 1.1, true},
		"another emitter":          {light(supply, buck, design.DriverUse{}, 2), "cold", 1.4, false},
		"behind another driver":    {two, "cold", 1.1, false},
		"resistor of no reference": {light(supply, buck, design.DriverUse{ProgramOhm: p(0.33)}, 2), "on", 1.2, true},
		"no current at all":        {light(supply, buck, design.DriverUse{}, 2), "on", 0, false},
		"short of its source":      {light(design.Source{Supply: &design.Supply{VoltageV: 6.3}}, design.Driver{Family: "linear", SetCurrentA: p(0.3), HeadroomV: p(0.3)}, design.DriverUse{}, 2), "on", 2, false},
	} {
		read := c.share * step(t, plan(t, c.l, Question{}), 0, c.step).Reading.Expected
		c.l.Variants[0].SetUp = []design.Done{{Node: "driver", Step: c.step, Reading: &read}}
		if r := step(t, plan(t, c.l, Question{}), 0, c.step).Reading; (r.Replaces != nil) != c.taken || r.Calculated == "agrees" {
			t.Errorf("%s: %+v, %+v", name, r, r.Replaces)
		}
	}
}

// How far a thing may be off and still be taken for it is counted from its data, whatever was
// measured of it before: half a volt an emitter, twice or half of what a load or a strip takes.
func TestHowFarAReadingIsTaken(t *testing.T) {
	supply := design.Source{Supply: &design.Supply{VoltageV: 12}}
	held := func(was float64) *design.Light {
		l := light(supply, design.Driver{Family: "buck", SetCurrentA: p(0.3), Efficiency: p(0.9)}, design.DriverUse{}, 2)
		l.Variants[0].Feeds[0].Loads[0].Loads[0].Array.OffsetV = &was
		return l
	}
	fed := func(node design.Node) *design.Light {
		l := light(mains, design.Driver{Family: "voltage", SetVoltageV: p(12.0), MaxCurrentA: p(8.0), Efficiency: p(0.9), EfficiencyInV: p(230.0)}, design.DriverUse{}, 1)
		l.Parts = append(l.Parts, design.Part{ID: "strip", Name: "strip", Strip: &design.Strip{VoltageV: 12, PerMetreW: p(5.0), CutM: 0.05, LoopOhm: p(0.0)}})
		l.Variants[0].Feeds[0].Loads[0].Loads = []design.Node{node}
		return l
	}
	module := func(was float64) *design.Light {
		return fed(design.Node{ID: "module", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 9, CurrentA: 0.2}, {VoltageV: 12, CurrentA: 0.3}}, Draws: &was}})
	}
	strip := func() *design.Light {
		return fed(design.Node{ID: "table", Strip: &design.StripUse{PartID: "strip", PiecesM: []float64{2}}})
	}
	for name, c := range map[string]struct {
		l     *design.Light
		step  string
		read  func(now float64) float64
		value float64 // that the figure becomes; NaN: it is not taken
	}{
		"emitters, from 0.1 V to 0.4 V":   {held(0.1), "cold", func(v float64) float64 { return v + 2*0.3 }, 0.4},
		"emitters, from 0.1 V to 0.52 V":  {held(0.1), "cold", func(v float64) float64 { return v + 2*0.42 }, math.NaN()},
		"emitters, from 0.1 V to −0.45 V": {held(0.1), "cold", func(v float64) float64 { return v - 2*0.55 }, -0.45},
		"emitters, from 0.1 V to −0.52 V": {held(0.1), "cold", func(v float64) float64 { return v - 2*0.62 }, math.NaN()},
		"a load, from 1.2 to 1.9 times":   {module(1.2), "on", func(a float64) float64 { return a * 1.9 / 1.2 }, 1.9},
		"a load, from 1.2 to 2.1 times":   {module(1.2), "on", func(a float64) float64 { return a * 2.1 / 1.2 }, math.NaN()},
		"a load, from 1.2 to 0.55 times":  {module(1.2), "on", func(a float64) float64 { return a * 0.55 / 1.2 }, 0.55},
		"a load, from 1.2 to 0.45 times":  {module(1.2), "on", func(a float64) float64 { return a * 0.45 / 1.2 }, math.NaN()},
		"a strip, 1.9 times":              {strip(), "on", func(a float64) float64 { return a * 1.9 }, 9.5},
		"a strip, 2.2 times":              {strip(), "on", func(a float64) float64 { return a * 2.2 }, math.NaN()},
	} {
		read := c.read(step(t, plan(t, c.l, Question{}), 0, c.step).Reading.Expected)
		c.l.Variants[0].SetUp = []design.Done{{Node: "driver", Step: c.step, Reading: &read, Sure: true}}
		switch r := step(t, plan(t, c.l, Question{}), 0, c.step).Reading.Replaces; {
		case math.IsNaN(c.value) != (r == nil):
			t.Errorf("%s: %+v", name, r)
		case r != nil && math.Abs(r.Figures[0].Value-c.value) > 0.01*math.Abs(c.value):
			t.Errorf("%s: becomes %g, not %g", name, r.Figures[0].Value, c.value)
		}
	}
}

// Several things on one driver that take less than they should are all taken to take less: none
// makes up for another.
func TestAllAreOffAlike(t *testing.T) {
	l := light(mains, design.Driver{Family: "voltage", SetVoltageV: p(12.0), MaxCurrentA: p(8.0), Efficiency: p(0.9), EfficiencyInV: p(230.0)}, design.DriverUse{}, 1)
	l.Parts = append(l.Parts, design.Part{ID: "strip", Name: "strip", Strip: &design.Strip{VoltageV: 12, PerMetreW: p(5.0), CutM: 0.05, LoopOhm: p(0.0)}})
	driver := &l.Variants[0].Feeds[0].Loads[0]
	ballast := driver.Loads[0]
	ballast.Array.Series, ballast.Array.BallastOhm = 3, p(10.0)
	driver.Loads = []design.Node{{ID: "table", Strip: &design.StripUse{PartID: "strip", PiecesM: []float64{2}}}, {ID: "module", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 9, CurrentA: 0.2}, {VoltageV: 12, CurrentA: 0.3}}}}, ballast}
	for share, sign := range map[float64]float64{0.8: -1, 1.2: 1} {
		l.Variants[0].SetUp = nil
		read := share * step(t, plan(t, l, Question{}), 0, "on").Reading.Expected
		l.Variants[0].SetUp = []design.Done{{Node: "driver", Step: "on", Reading: &read}}
		r := step(t, plan(t, l, Question{}), 0, "on").Reading.Replaces
		if r == nil || len(r.Figures) != 3 {
			t.Fatalf("%+v", r)
		}
		for i, now := range []float64{5, 1, 0} {
			more := sign * (r.Figures[i].Value - now)
			if i == 2 {
				more = -more // a lower forward voltage takes more
			}
			if more <= 0 {
				t.Errorf("%g of what is expected: %s becomes %g", share, r.Figures[i].Pointer, r.Figures[i].Value)
			}
		}
		if !strings.Contains(r.Label, "for each emitter") || !strings.Contains(r.Label, "times what each of 2 takes") {
			t.Errorf("%q", r.Label)
		}
	}
}
