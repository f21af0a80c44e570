package verdict

import (
	"context"
	"strings"
	"testing"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/emitter"
	"photherm/core/internal/sample"
	"photherm/core/source"
	"photherm/core/units"
)

func caseLight(t *testing.T, name string) *design.Light {
	t.Helper()
	light, err := sample.Case(name)
	if err != nil {
		t.Fatal(err)
	}
	return light
}

// A driver behind another is judged by what reaches its own input: 12 V on one that bears
// 6 V, and on one that starts at 15 V.
func TestInnerInputIsJudged(t *testing.T) {
	light := caseLight(t, "nested-input")
	f := find(judgeLight(t, light), "source-above-input")
	if f == nil || f.Node != "d" || *f.Value < 11.99 || *f.Value > 12.01 || *f.Limit != 6 || f.Severity != Stop || !strings.HasSuffix(f.Pointer, "/setVoltageV") {
		t.Errorf("12 V on a driver for 6 V: %+v", f)
	}
	lin := light.Parts[1].Driver
	lin.InputMaxV, lin.InputMinV = p(12.0), p(12.0)
	if found := judgeLight(t, light); find(found, "source-above-input") != nil || find(found, "source-below-input") != nil {
		t.Errorf("exactly at both its limits: %+v", found)
	}
	lin.InputMaxV, lin.InputMinV = nil, p(15.0)
	if f := find(judgeLight(t, light), "source-below-input"); f == nil || f.Node != "d" || *f.Value > 12.01 || *f.Limit != 15 {
		t.Errorf("12 V on a driver that starts at 15 V: %+v", f)
	}
	// Behind a dropper the source's own range counts, less what it takes.
	light = caseLight(t, "nested-input")
	light.Parts[2].Driver = &design.Driver{Family: "dropper", DropV: p(4.0)}
	light.Parts[1].Driver.InputMaxV = p(19.5)
	if f := find(judgeLight(t, light), "source-above-input"); f == nil || *f.Value != 20 {
		t.Errorf("24 V less 4 V on a driver for 19.5 V: %+v", f)
	}
}

// The mains may stand a tenth above and below what they are called (IEC 60038).
func TestMainsAtItsEnds(t *testing.T) {
	b := mainsBench()
	b.d.InputMaxV, b.d.InputMinV = p(250.0), p(100.0)
	if f := find(judgeLight(t, b.light), "source-above-input"); f == nil || *f.Value < 252.9 || *f.Value > 253.1 || f.Severity != Caution {
		t.Errorf("230 V mains on 250 V: %+v", f)
	}
	b.d.InputMaxV = p(220.0)
	if f := find(judgeLight(t, b.light), "source-above-input"); f == nil || f.Severity != Stop {
		t.Errorf("230 V mains on 220 V: %+v", f)
	}
	b.d.InputMaxV, b.d.InputMinV = p(265.0), p(220.0)
	if f := find(judgeLight(t, b.light), "source-below-input"); f == nil || f.Severity != Caution || *f.Value < 206.9 || *f.Value > 207.1 {
		t.Errorf("207 V on a driver that stops at 209 V: %+v", f)
	}
	b.d.InputMinV = p(207.0)
	if f := find(judgeLight(t, b.light), "source-below-input"); f != nil {
		t.Errorf("207 V on a driver for 207 V: %+v", f)
	}
}

// A string with a shorted emitter carries what the others do not, and a hotter string is
// judged at its own junction.
func TestEveryStringIsJudged(t *testing.T) {
	f := find(judgeLight(t, caseLight(t, "shorted-string")), "over-max-current")
	if f == nil || *f.Value < 1.8 || *f.Limit != 1 || f.Severity != Stop {
		t.Errorf("1.9 A in one string of two: %+v", f)
	}
	b := lowBench()
	b.a.Parallel, b.a.BallastOhm, b.use.SetCurrentA = 2, p(2.0), p(0.7)
	if f := find(judgeLight(t, b.light), "junction-limit"); f != nil {
		t.Fatalf("before one is hotter: %+v", f)
	}
	b.a.Unequal = []design.Strings{{Strings: 1, HotterK: 110}}
	if f := find(judgeLight(t, b.light), "junction-limit"); f == nil || *f.Value < 130 {
		t.Errorf("a string 110 K hotter: %+v", f)
	}
}

// One limit on several strings holds their sum: told with what the worst gets, but not
// for one string.
func TestLimitHoldsTheSum(t *testing.T) {
	b := lowBench()
	if f := find(judgeLight(t, b.light), "cap-holds-sum"); f != nil {
		t.Errorf("one string: %+v", f)
	}
	b.a.Parallel, b.a.Count, b.e.VfBinV, b.use.SetCurrentA = 1, 3, p(0.02), p(0.9)
	f := find(judgeLight(t, b.light), "cap-holds-sum")
	if f == nil || *f.Value < 0.899 || !strings.Contains(f.Why, "3 strings") || !strings.Contains(f.Why, "settles at") {
		t.Errorf("three boards on 0.9 A: %+v", f)
	}
	b.a.Parallel, b.a.Count = 2, 2
	if f := find(judgeLight(t, b.light), "cap-holds-sum"); f == nil || !strings.Contains(f.Why, "4 strings") {
		t.Errorf("two boards of two strings: %+v", f)
	}
	b.a.Unequal = []design.Strings{{Strings: 1, Shorted: 1}}
	if f := find(judgeLight(t, b.light), "cap-holds-sum"); f == nil || !strings.Contains(f.Why, "the highest of them carries 900 mA") {
		t.Errorf("one of them with a shorted emitter: %+v", f)
	}
	b.a.Parallel, b.a.Count, b.a.Unequal = 1, 3, nil
	b.e.RthKPerW = nil
	found := judgeLight(t, b.light)
	if f := find(found, "cap-holds-sum"); f == nil || strings.Contains(f.Why, "settles") || !strings.Contains(f.Why, "before it warms") {
		t.Errorf("without a thermal resistance: %+v", f)
	}
	if f := find(found, "string-hogs"); f != nil {
		t.Errorf("hogging without a thermal resistance: %+v", f)
	}
}

// The material of a joint between two bodies is as hot as the hotter of them; the time to
// a touch limit is the body's own, and is not told where a mass is not known.
func TestBodiesAndTheirJoints(t *testing.T) {
	b := lowBench()
	v := &b.light.Variants[0]
	v.Bodies[0].KPerW = nil
	v.Bodies[0].Joints = []design.BodyLink{{BodyID: "shell", Joint: design.Joint{KPerW: p(4.0), MaxC: p(30.0)}}}
	v.Bodies = append(v.Bodies, design.Body{ID: "shell", Name: "Shell", KPerW: p(4.0), MassKg: p(0.1), Touchable: true})
	f := find(judgeLight(t, b.light), "joint-limit")
	if f == nil || f.Pointer != "/variants/0/bodies/0/joints/0/joint/maxC" || !strings.Contains(f.Why, "Sink reaches") || f.Fix == nil {
		t.Fatalf("a joint at the hot body's temperature: %+v", f)
	}
	mends(t, b.light, judgeLight(t, b.light), f)
	b.light.Brief.TouchC = p(24.0)
	touch := find(judgeLight(t, b.light), "touch")
	if touch == nil || touch.Node != "shell" || !strings.Contains(touch.Why, "passes 24 °C after") {
		t.Errorf("too hot to touch: %+v", touch)
	}
	m, _ := chain.Compile(b.light, chain.Options{})
	run, err := m.Solver().Run(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	shell := 0
	for i, c := range m.Columns() {
		if c.Owner == "shell" && c.Figure == "bodyC" {
			shell = i
		}
	}
	low, high := 0.0, run.T[len(run.T)-1]
	for high-low > 0.1 {
		if mid := (low + high) / 2; run.At(mid)[shell] < 24 {
			low = mid
		} else {
			high = mid
		}
	}
	if !strings.Contains(touch.Why, "after "+units.Duration(high)+";") {
		t.Errorf("it passes 24 °C after %s: %s", units.Duration(high), touch.Why)
	}
	v.Bodies[1].MassKg = nil
	if touch = find(judgeLight(t, b.light), "touch"); touch == nil || strings.Contains(touch.Why, " s;") || strings.Contains(touch.Why, "after") {
		t.Errorf("without a mass: %+v", touch)
	}
}

// leaky is a pack that turns more into heat than it loses: a wrong factor in a law.
type leaky struct{ source.Law }

func (l leaky) HeatW(y []float64, cellC, currentA float64) float64 {
	return 1.2 * l.Law.HeatW(y, cellC, currentA)
}

// A law with a wrong factor in it leaves the ledger open, and that is told.
func TestOpenLedgerIsTold(t *testing.T) {
	m, err := chain.Compile(load(t, "shore-search-handlamp.json"), chain.Options{})
	if err != nil {
		t.Fatal(err)
	}
	for _, wrong := range []bool{false, true} {
		s := m.Solver()
		if wrong {
			s.Feeders[0].Law = leaky{s.Feeders[0].Law}
		}
		run, err := s.Run(context.Background())
		if err != nil {
			t.Fatal(err)
		}
		findings, err := Judge(context.Background(), run)
		if err != nil {
			t.Fatal(err)
		}
		if f := find(findings, "ledger-open"); (f != nil) != wrong || wrong && !strings.Contains(f.Why, "please report") {
			t.Errorf("with a wrong factor %v: %+v", wrong, f)
		}
	}
}

// A set voltage that is not held is told: too little input, with a cell more as the way
// out, and too much for a step-up. Exactly at a lowest setting, or at a limit, is inside.
func TestVoltageNotHeld(t *testing.T) {
	b := newBench(design.Source{Pack: &design.Pack{PartID: "cell", Series: 3, Parallel: 1}}, design.Driver{Family: "voltage", SetVoltageV: p(12.0), MinVoltageV: p(9.0), MaxVoltageV: p(15.0), MaxCurrentA: p(2.0), Efficiency: p(0.9)}, 3)
	b.a.BallastOhm = p(4.0)
	b.light.Parts = append(b.light.Parts, design.Part{ID: "cell", Name: "Cell", Cell: &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 3, ResistanceOhm: 0.03}})
	b.light.Conditions.Charge = p(0.8)
	f := find(judgeLight(t, b.light), "voltage-not-held")
	if f == nil || !(*f.Value < 12) || *f.Limit != 12 || f.Fix == nil || f.Severity != Caution {
		t.Fatalf("12 V from three cells at 80 %%: %+v", f)
	}
	mends(t, b.light, judgeLight(t, b.light), f)
	b.d.Topology = "step-up"
	b.light.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "source", Supply: &design.Supply{VoltageV: 15}}
	if f := find(judgeLight(t, b.light), "voltage-not-held"); f == nil || *f.Value < 14.5 || f.Severity != Stop {
		t.Errorf("15 V on a step-up to 12 V: %+v", f)
	}
	b.d.Topology, b.use.SetVoltageV = "either", p(9.0)
	found := judgeLight(t, b.light)
	if find(found, "voltage-not-held") != nil || find(found, "supply-voltage-range") != nil || find(found, "supply-below-range") != nil {
		t.Errorf("at its lowest setting: %+v", found)
	}
	for _, limit := range []float64{15, 15.0000001, 14.99} {
		b.d.InputMaxV = &limit
		if f := find(judgeLight(t, b.light), "source-above-input"); (f != nil) != (limit < 15) {
			t.Errorf("15 V on a driver for %g V: %+v", limit, f)
		}
		b.d.InputMaxV, b.d.InputMinV = nil, &limit
		if f := find(judgeLight(t, b.light), "source-below-input"); (f != nil) != (limit > 15) {
			t.Errorf("15 V on a driver from %g V: %+v", limit, f)
		}
		b.d.InputMinV = nil
	}
}

// A step-up whose emitter is open climbs to its limit, which is told; where nobody knows
// the limit no figure is made up.
func TestClimbsWithoutALimit(t *testing.T) {
	b := newBench(design.Source{Supply: &design.Supply{VoltageV: 12}}, design.Driver{Family: "boost", SetCurrentA: p(0.5), Efficiency: p(0.9)}, 6)
	b.a.Unequal = []design.Strings{{Strings: 1, Open: true}}
	f := find(judgeLight(t, b.light), "hazardous-voltage")
	if f == nil || f.Value != nil || !strings.Contains(f.Why, "how far is not known") || strings.Contains(f.Why, "kV") {
		t.Errorf("no limit known: %+v", f)
	}
	b.d.MaxVoltageV = p(75.0)
	if f := find(judgeLight(t, b.light), "hazardous-voltage"); f == nil || f.Value == nil || *f.Value < 74 || *f.Value > 76 {
		t.Errorf("up to 75 V: %+v", f)
	}
}

// A shorted strip is called a short, and nothing else is said of it; without the bridge it
// is a strip again.
func TestShortIsCalledAShort(t *testing.T) {
	b := lowBench()
	b.light.Parts = append(b.light.Parts, design.Part{ID: "strip", Name: "Strip", Strip: &design.Strip{VoltageV: 5, PerMetreA: p(1.0), CutM: 0.05, LoopOhm: p(0.3), FluxLmPer: p(500.0)}})
	b.light.Variants[0].Feeds[0].Sources[0].Supply.ResistanceOhm = 0.2
	n := &b.light.Variants[0].Feeds[0].Loads[0]
	*n = design.Node{ID: "x", Fault: &design.Fault{State: "short"}, Strip: &design.StripUse{PartID: "strip", PiecesM: []float64{5}}}
	found := judgeLight(t, b.light)
	f := find(found, "short")
	if f == nil || *f.Value < 59 || *f.Value > 60 || find(found, "far-end-dark") != nil || find(found, "strip-over-voltage") != nil {
		t.Fatalf("%+v", found)
	}
	b.light.Variants[0].Feeds[0].Sources[0].Supply.VoltageV = 5
	mends(t, b.light, judgeLight(t, b.light), f)
}

// Channels of one part are one part: counted once, drawing for itself once, and no more
// of them than it has.
func TestChannelsOfOnePart(t *testing.T) {
	channel := func(id string) design.Node {
		return design.Node{ID: id, Driver: &design.DriverUse{PartID: "chip", SetCurrentA: p(0.02), Chip: "u1"}, Loads: []design.Node{{ID: "a" + id, Array: &design.Array{PartID: "e", Series: 2, Parallel: 1}}}}
	}
	b := lowBench()
	b.light.Parts = append(b.light.Parts, design.Part{ID: "chip", Name: "Four channels", Driver: &design.Driver{Family: "linear", Channels: 4, QuiescentA: p(0.005), HeadroomV: p(0.3)}})
	f := &b.light.Variants[0].Feeds[0]
	f.Loads = []design.Node{channel("1"), channel("2"), channel("3"), channel("4")}
	found := judgeLight(t, b.light)
	if f := find(found, "too-many-channels"); f != nil {
		t.Errorf("four of four: %+v", f)
	}
	if needs := design.Needs(&b.light.Variants[0]); needs["chip"] != 1 || needs["e"] != 8 {
		t.Errorf("needed: %v", needs)
	}
	m, _ := chain.Compile(b.light, chain.Options{})
	rec := make([]float64, len(m.Columns()))
	m.Solver().OperatingPoint(1, 20, rec)
	for i, c := range m.Columns() {
		if want := 4*0.02 + 0.005; c.Owner == "f" && c.Figure == "busA" && (rec[i] < want-1e-9 || rec[i] > want+1e-9) {
			t.Errorf("four channels draw %g A, want %g A", rec[i], want)
		}
	}
	f.Loads[3].Driver.TiedChannels = 2
	if f := find(judgeLight(t, b.light), "too-many-channels"); f == nil || *f.Value != 5 || *f.Limit != 4 {
		t.Errorf("five of four: %+v", f)
	}
	f.Loads[3].Driver.PartID = "d"
	if err := design.Check(b.light); err == nil || !strings.Contains(err.Error(), "are of one part") {
		t.Errorf("channels of two parts: %v", err)
	}
}

// Light that cannot be is a stop, and more of it than the best of its kind a caution, for
// emitters, strip and measured loads; what can be is neither.
func TestLightMustBePossible(t *testing.T) {
	for _, c := range []struct {
		lmPerW   float64
		severity Severity
	}{{150, ""}, {230, ""}, {290, Caution}, {663, Stop}} {
		b := lowBench()
		b.e.FluxLm = p(c.lmPerW * 0.35 * 2.85)
		found := judgeLight(t, b.light)
		impossible, doubtful := find(found, "light-impossible"), find(found, "light-doubtful")
		if (impossible != nil) != (c.severity == Stop) || (doubtful != nil) != (c.severity == Caution) {
			t.Errorf("%g lm/W: %+v, %+v", c.lmPerW, impossible, doubtful)
		}
		if impossible != nil && (!strings.Contains(impossible.Why, "663 lm") || impossible.Pointer != "/parts/1/emitter/fluxLm") {
			t.Errorf("%+v", impossible)
		}
		// Without a spectrum its colour still bounds it.
		b.e.Spectrum = nil
		if found = judgeLight(t, b.light); (find(found, "light-impossible") != nil) != (c.severity == Stop) {
			t.Errorf("%g lm/W of white without a spectrum: %+v", c.lmPerW, find(found, "light-impossible"))
		}
		b.e.Colour, b.e.FluxLm = "deep-red", p(c.lmPerW*0.35*2.85)
		if found = judgeLight(t, b.light); find(found, "light-impossible") == nil {
			t.Errorf("%g lm/W of deep red pass", c.lmPerW)
		}
	}
	// Of a colour that is not told only the lumen itself bounds it: 683 lm/W (SI, 2019).
	for lmPerW, most := range map[float64]bool{600: false, 700: true} {
		b := lowBench()
		b.e.Spectrum, b.e.Colour, b.e.EfficacyLmPerW, b.e.FluxLm = nil, "", nil, p(lmPerW*0.35*2.85)
		if f := find(judgeLight(t, b.light), "light-impossible"); (f != nil) != most {
			t.Errorf("%g lm/W of no colour: %+v", lmPerW, f)
		}
	}
	b := lowBench()
	b.e.EfficacyLmPerW = p(250.0)
	if f := find(judgeLight(t, b.light), "efficacy-disagrees"); f == nil || *f.Value != 250 || *f.Limit < 300 {
		t.Errorf("250 lm/W said of a spectrum that weighs more: %+v", f)
	}
	n := &b.light.Variants[0].Feeds[0].Loads[0]
	for lm, code := range map[float64]string{1000: "", 4200: "light-doubtful", 12000: "light-impossible"} {
		for _, strip := range []*design.Strip{{VoltageV: 12, PerMetreA: p(1.0), CutM: 0.05, FluxLmPer: p(lm)}, {VoltageV: 12, PerMetreW: p(12.0), CutM: 0.05, FluxLmPer: p(lm)}} {
			b.light.Parts = append(b.light.Parts[:2:2], design.Part{ID: "strip", Name: "Strip", Strip: strip})
			*n = design.Node{ID: "x", Strip: &design.StripUse{PartID: "strip", PiecesM: []float64{1}}}
			found := judgeLight(t, b.light)
			for _, each := range []string{"light-doubtful", "light-impossible"} {
				if (find(found, each) != nil) != (each == code) {
					t.Errorf("%g lm from 12 W: %s is %+v", lm, each, find(found, each))
				}
			}
		}
	}
	b.light.Parts = b.light.Parts[:2]
	for lm, code := range map[float64]string{100: "", 2000: "light-doubtful", 5000: "light-impossible"} {
		*n = design.Node{ID: "x", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 9, CurrentA: 0.1}, {VoltageV: 12, CurrentA: 0.5}}, FluxLm: p(lm)}}
		found := judgeLight(t, b.light)
		for _, each := range []string{"light-doubtful", "light-impossible"} {
			if (find(found, each) != nil) != (each == code) {
				t.Errorf("%g lm from 6 W: %s is %+v", lm, each, find(found, each))
			}
		}
	}
}

// Light beyond its data errs to the dark side and says so; at the current it is quoted at
// nothing is said.
func TestLightBeyondItsData(t *testing.T) {
	for amps, said := range map[float64]bool{0.35: false, 0.4: false, 0.6: true, 0.2: true} {
		b := lowBench()
		b.use.SetCurrentA = p(amps)
		if f := find(judgeLight(t, b.light), "assumed-droop"); (f != nil) != said {
			t.Errorf("at %g A: %+v", amps, f)
		}
		// A package of twice the rows at twice the current is driven alike.
		b.e.Rows, b.a.PackageRows, b.use.SetCurrentA = 1, 2, p(2*amps)
		if f := find(judgeLight(t, b.light), "assumed-droop"); (f != nil) != said {
			t.Errorf("two rows at %g A: %+v", 2*amps, f)
		}
	}
	e := *lowBench().e
	for _, c := range []struct {
		curve        []design.RatioPoint
		at, low, top float64 // light over that at 0.35 A
	}{
		{nil, 0.7, 1.6, 1.75}, {nil, 0.175, 0.45, 0.5001},
		{[]design.RatioPoint{{X: 0.1, Ratio: 0.3}, {X: 0.35, Ratio: 1}, {X: 0.7, Ratio: 1.6}}, 1.4, 1.6, 2.5601},
		{[]design.RatioPoint{{X: 0.1, Ratio: 0.3}, {X: 0.35, Ratio: 1}, {X: 0.7, Ratio: 0.9}}, 1.4, 0.89, 0.9001},
	} {
		e.FluxCurrent = c.curve
		m, err := emitter.New(&e)
		if err != nil {
			t.Fatal(err)
		}
		if x := m.FluxLm(c.at, 25) / m.FluxLm(0.35, 25); x < c.low || x > c.top {
			t.Errorf("%v at %g A: %.3f times the light, want %g to %g", c.curve, c.at, x, c.low, c.top)
		}
	}
}

// Limits are judged exactly where they lie: a resistor at half its rating, emitters of a
// larger package at their shares, a supply at its limit, strings at their own current.
func TestLimitsLieWhereTheyAre(t *testing.T) {
	b := newBench(design.Source{Supply: &design.Supply{VoltageV: 12}}, design.Driver{Family: "resistor", ResistanceOhm: p(10.0)}, 3)
	m, _ := chain.Compile(b.light, chain.Options{})
	run, err := m.Solver().Run(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	w := 0.0
	for i, c := range m.Columns() {
		if c.Owner == "driver" && c.Figure == "lossW" {
			for _, rec := range run.Records {
				w = max(w, rec[i])
			}
		}
	}
	for rated, severity := range map[float64]Severity{w / 1.01: Stop, w * 1.01: Caution, w * 1.99: Caution, w * 2.01: ""} {
		b.d.RatedW = &rated
		if f := find(judgeLight(t, b.light), "resistor-watts"); (f == nil) != (severity == "") || f != nil && (f.Severity != severity || *f.Limit != rated/2) {
			t.Errorf("%g W in a resistor for %g W: %+v", w, rated, f)
		}
	}

	// 0.7 A rated for five rows is 0.28 A for two, and the worst of three such packages.
	b = lowBench()
	b.e.Rows, b.a.PackageRows, b.a.Parallel, b.e.VfBinV, b.e.MaxCurrentA = 5, 2, 3, p(0.05), p(0.75)
	b.use.SetCurrentA = p(3 * 0.27)
	f := find(judgeLight(t, b.light), "worst-string-over-max")
	if f == nil || *f.Limit < 0.2999 || *f.Limit > 0.3001 || *f.Value < 0.3 {
		t.Errorf("the worst of three packages of two rows: %+v", f)
	}

	b = lowBench()
	source := &b.light.Variants[0].Feeds[0].Sources[0]
	for limit, at := range map[float64]bool{0.35: true, 0.3: true, 0.36: false} {
		source.Supply.MaxCurrentA = &limit
		if f := find(judgeLight(t, b.light), "supply-limit"); (f != nil) != at {
			t.Errorf("0.35 A from a supply of %g A: %+v", limit, f)
		}
	}

	b = lowBench()
	b.a.Parallel, b.use.SetCurrentA = 2, p(1.6)
	f = find(judgeLight(t, b.light), "over-rated-current")
	if f == nil || *f.Value < 0.79 || *f.Value > 0.81 || f.Fix == nil || f.Fix.Patch[0].Value != 1.4 {
		t.Fatalf("two strings on 1.6 A: %+v", f)
	}
	mends(t, b.light, judgeLight(t, b.light), f)
}
