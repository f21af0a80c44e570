package driver

import (
	"math"
	"testing"

	"photherm/core/design"
)

func p(x float64) *float64 { return &x }

func make1(t *testing.T, d design.Driver, use design.DriverUse) Driver {
	t.Helper()
	out, missing := New(&d, &use)
	if len(missing) > 0 {
		t.Fatalf("missing %v", missing)
	}
	return out
}

// What comes in is what goes out and what is lost, in every mode of every family,
// and nothing jumps where a mode ends.
func TestLawsAreContinuousAndClose(t *testing.T) {
	for name, d := range map[string]Driver{
		"linear":   make1(t, design.Driver{Family: "linear", HeadroomV: p(0.4), QuiescentA: p(0.002)}, design.DriverUse{SetCurrentA: p(1)}),
		"buck":     make1(t, design.Driver{Family: "buck", HeadroomV: p(1), Efficiency: p(0.9), EfficiencyInV: p(12), EfficiencyOut: p(6)}, design.DriverUse{SetCurrentA: p(1)}),
		"resistor": make1(t, design.Driver{Family: "resistor", ResistanceOhm: p(3)}, design.DriverUse{}),
		"none":     make1(t, design.Driver{Family: "none"}, design.DriverUse{}),
		"dropper":  make1(t, design.Driver{Family: "dropper", DropV: p(1)}, design.DriverUse{}),
		"boost":    make1(t, design.Driver{Family: "boost", Efficiency: p(0.9), EfficiencyInV: p(4), EfficiencyOut: p(6)}, design.DriverUse{SetCurrentA: p(1)}),
		"both":     make1(t, design.Driver{Family: "buck-boost", Efficiency: p(0.85), EfficiencyInV: p(6), EfficiencyOut: p(6)}, design.DriverUse{SetCurrentA: p(1)}),
		"dimmed":   make1(t, design.Driver{Family: "linear", DimFloor: p(0.1)}, design.DriverUse{SetCurrentA: p(1), Dimming: &design.Level{Current: p(0.3)}}),
		"module":   make1(t, design.Driver{Family: "voltage", Topology: "either", Efficiency: p(0.9), EfficiencyInV: p(6), SetVoltageV: p(6.2), MaxCurrentA: p(1)}, design.DriverUse{}),
	} {
		const outV = 6.0
		var lastA, lastIn float64
		for k := range 800 {
			inV := 5.9 + float64(k)*0.005
			outA := max(0, min(d.Envelope(inV).CurrentA(outV), 5))
			if e, ok := d.Through(inV); ok {
				outA = max(outA, e.CurrentA(outV)) // a step-up cannot hold its load back
			}
			inA, loss := d.Input(inV, outV, outA)
			if e := inV*inA - outV*outA - loss; math.Abs(e) > 1e-9 {
				t.Fatalf("%s at %g V: %g W appear from nowhere", name, inV, -e)
			}
			if loss < -1e-12 {
				t.Fatalf("%s at %g V: a loss of %g W", name, inV, loss)
			}
			if k > 0 && d.Regulates() && (math.Abs(outA-lastA) > 0.06 || math.Abs(inA-lastIn) > 0.06) {
				t.Errorf("%s jumps at %g V: out %g → %g A, in %g → %g A", name, inV, lastA, outA, lastIn, inA)
			}
			lastA, lastIn = outA, inA
		}
	}
}

// One known efficiency is met where it was measured, and falls at light load
// because a fifth of the loss is fixed.
func TestOneKnownEfficiency(t *testing.T) {
	d := make1(t, design.Driver{Family: "buck", Efficiency: p(0.92), EfficiencyAtA: p(1.5), EfficiencyInV: p(14.8), EfficiencyOut: p(9.3)}, design.DriverUse{SetCurrentA: p(1.5)})
	eta := func(inV, outV, outA float64) float64 {
		d.SetA = outA
		inA, _ := d.Input(inV, outV, outA)
		return outV * outA / (inV * inA)
	}
	if got := eta(14.8, 9.3, 1.5); math.Abs(got-0.92) > 1e-12 {
		t.Errorf("efficiency at its own condition = %g", got)
	}
	if eta(14.8, 9.3, 0.05) > 0.85 || eta(28, 9.3, 1.5) >= 0.92 {
		t.Error("light load or a high input cost nothing")
	}
}

func TestModesAndMissing(t *testing.T) {
	d := make1(t, design.Driver{Family: "linear"}, design.DriverUse{SetCurrentA: p(0.5)})
	if d.Mode(5, 3, 0.5) != ConstantCurrent || d.Mode(3.2, 3, 0.4) != DropOut || d.Mode(3.2, 3, 0.4).String() != "drop-out" {
		t.Error("modes of a linear driver")
	}
	if d, missing := New(nil, &design.DriverUse{}); d.Mode(0, 0, 0) != Off || len(missing) == 0 || d.Envelope(12).CurrentA(3) != 0 {
		t.Error("without a driver nothing passes, and that is said")
	}
	if _, missing := New(&design.Driver{Family: "buck"}, &design.DriverUse{}); len(missing) != 2 {
		t.Errorf("a step-down driver without current and efficiency lacks %v", missing)
	}
}

// Common practice: a load of 2.5 A on a supply of 12 A whose knob begins at zero
// dims only in the lowest 21 % of its travel; two 42 %, four 83 %, and six are
// always limited. A knob that begins at half dims less still.
func TestKnobTravel(t *testing.T) {
	for boards, want := range map[float64]float64{1: 0.208, 2: 0.417, 4: 0.833, 6: 1} {
		if got := KnobTravel(2.5*boards, 0, 12); math.Abs(got-want) > 1e-3 {
			t.Errorf("%g boards: %.3f, want %.3f", boards, got, want)
		}
	}
	// A supply without pots has a knob in the dimmer before it, or none.
	fixed := design.Driver{Family: "voltage", SetVoltageV: p(24), MaxCurrentA: p(1.6), Efficiency: p(0.9), DimFloor: p(0.1)}
	if d := make1(t, fixed, design.DriverUse{}); d.KnobMaxA != 0 {
		t.Errorf("a supply without a knob has one to %g A", d.KnobMaxA)
	}
	fixed.Dimming = "phase-cut"
	if d := make1(t, fixed, design.DriverUse{}); d.KnobMaxA != 1.6 || math.Abs(d.KnobMinA-0.16) > 1e-12 {
		t.Errorf("dimmed from %g to %g A", d.KnobMinA, d.KnobMaxA)
	}
	if got := KnobTravel(7.5, 6, 12); math.Abs(got-0.25) > 1e-12 || KnobTravel(2, 6, 12) != 0 || KnobTravel(1, 3, 3) != 0 {
		t.Errorf("a knob from half: %g", got)
	}
}

// A supply holds its voltage up to its current limit, then its current; from a
// falling input it follows at its headroom; what goes in comes out or is lost.
func TestVoltageSupply(t *testing.T) {
	d := make1(t, design.Driver{Family: "voltage", SetVoltageV: p(24), MaxCurrentA: p(5), Efficiency: p(0.92), EfficiencyInV: p(230)}, design.DriverUse{SetCurrentA: p(2)})
	e := d.Envelope(230)
	if e.LimitA != 2 || math.Abs(e.OpenV-24) > 1e-12 || math.Abs(e.CornerV()-24) > 0.01 {
		t.Errorf("envelope %+v", e)
	}
	if d.Mode(230, 24, 1) != ConstantVoltage || d.Mode(230, 20, 2) != ConstantCurrent {
		t.Error("modes")
	}
	inA, loss := d.Input(230, 24, 2)
	if eta := 48 / (230 * inA); math.Abs(eta-0.92) > 1e-12 || math.Abs(48+loss-230*inA) > 1e-9 {
		t.Errorf("efficiency %g, loss %g W", eta, loss)
	}
	// Out of headroom it passes its input on, all of its headroom gone at its limit.
	for _, c := range []struct {
		in, out, amps float64
		mode          Mode
	}{
		{12, 12, 0, DropOut}, {12, 12 - CommonBuckHeadroomV/2, 1, DropOut}, {12, 12 - CommonBuckHeadroomV, 2, ConstantCurrent},
		{24.4, 24, 0.5, ConstantVoltage}, {24.4, 24, 1, ConstantVoltage}, {24.4, 24.4 - 0.75*CommonBuckHeadroomV, 1.5, DropOut}, {24.4, 24.4 - CommonBuckHeadroomV, 2, ConstantCurrent},
		{24 + CommonBuckHeadroomV, 24, 1.999, ConstantVoltage},
	} {
		e := d.Envelope(c.in)
		if a := e.CurrentA(c.out - 1e-5); math.Abs(a-c.amps) > 2e-3 && !(c.out == 24 && a >= c.amps-2e-3) || d.Mode(c.in, c.out, c.amps) != c.mode {
			t.Errorf("from %g V at %g V it offers %g A, want %g A, and is in %v", c.in, c.out, a, c.amps, d.Mode(c.in, c.out, c.amps))
		}
	}
	up := make1(t, design.Driver{Family: "voltage", Topology: "step-up", SetVoltageV: p(12), MaxCurrentA: p(5), Efficiency: p(0.9)}, design.DriverUse{})
	if e := up.Envelope(15); math.Abs(e.OpenV-14.6) > 1e-12 || up.Mode(15, 14.6, 1) != DropOut || up.Mode(12.3, 12, 1) != ConstantVoltage {
		t.Errorf("a step-up from above its output: %+v, %v", e, up.Mode(15, 14.6, 1))
	}
}

// A step-up that stands below its load holds its current from a falling input by
// taking more; above its load it conducts and nothing limits it.
func TestStepUp(t *testing.T) {
	d := make1(t, design.Driver{Family: "boost", Efficiency: p(0.88), EfficiencyAtA: p(0.7), EfficiencyInV: p(3.7), EfficiencyOut: p(9.3)}, design.DriverUse{SetCurrentA: p(0.7)})
	high, _ := d.Input(4.2, 9.3, 0.7)
	low, loss := d.Input(3, 9.3, 0.7)
	if low < 1.3*high || math.Abs(3*low-9.3*0.7-loss) > 1e-12 || d.Mode(3, 9.3, 0.7) != ConstantCurrent {
		t.Errorf("input %g A at 4.2 V, %g A at 3 V", high, low)
	}
	if at, _ := d.Input(3.7, 9.3, 0.7); math.Abs(9.3*0.7/(3.7*at)-0.88) > 1e-12 {
		t.Errorf("efficiency at its own condition %g", 9.3*0.7/(3.7*at))
	}
	if d.Mode(12, 9.3, 5) != Uncontrolled {
		t.Error("12 V into a step-up for 9.3 V is under control")
	}
}

func TestWindowAndTies(t *testing.T) {
	d := make1(t, design.Driver{Family: "window", SetCurrentA: p(0.7), MinVoltageV: p(20), MaxVoltageV: p(40), Efficiency: p(0.9), EfficiencyInV: p(230), EfficiencyOut: p(36)}, design.DriverUse{})
	for _, c := range []struct {
		v, a   float64
		inside bool
	}{{19.9, 0.7, false}, {20, 0.7, true}, {39.9, 0.7, true}, {40, 0.5, false}} {
		if d.InsideWindow(c.v, c.a) != c.inside {
			t.Errorf("at %g V, %g A inside is %v", c.v, c.a, !c.inside)
		}
	}
	// Common practice: four tied channels of 20 mA give 80 mA.
	tied := make1(t, design.Driver{Family: "linear", SetCurrentA: p(0.02), Channels: 4, Tieable: true}, design.DriverUse{TiedChannels: 4})
	if tied.LimitA() != 0.08 {
		t.Errorf("four tied channels give %g A", tied.LimitA())
	}
	dim := make1(t, design.Driver{Family: "linear", DimFloor: p(0.27)}, design.DriverUse{SetCurrentA: p(1), Modes: []design.Mode{{Name: "low", Level: design.Level{Current: p(0.1)}}}, Mode: "low"})
	if dim.LimitA() != 0.27 {
		t.Errorf("dimmed below its floor it gives %g A", dim.LimitA())
	}
	// Fed but dimmed to nothing it draws its standby.
	dim.Level, dim.StandbyW = 0, 0.4
	if a, w := dim.Input(20, 0, 0); a != 0.02 || w != 0.4 {
		t.Errorf("dimmed to nothing %g A, %g W", a, w)
	}
}

// Common practice: a lithium charger's 1000 V over 18 kΩ give 55.6 mA; 0.4 V over
// two of 3.48 Ω in series 57 mA; 0.1 V over 0.3 Ω 333 mA and over 0.1 Ω 1 A.
func TestProgrammedCurrent(t *testing.T) {
	for _, c := range []struct{ volts, ohm, want float64 }{{1000, 18e3, 0.0556}, {0.4, 2 * 3.48, 0.0575}, {0.1, 0.3, 0.333}, {0.1, 0.1, 1}} {
		d := make1(t, design.Driver{Family: "linear", ProgramV: &c.volts}, design.DriverUse{ProgramOhm: &c.ohm, SetCurrentA: p(9)})
		if math.Abs(d.LimitA()-c.want) > 0.002*c.want {
			t.Errorf("%g V over %g Ω set %g A, want %g A", c.volts, c.ohm, d.LimitA(), c.want)
		}
	}
}

// IEC 60063: E24 has 3.0, 3.3, 3.9 where the geometric series has 3.16, 3.48, 3.83;
// E96 is exact, 3.48 among it. E12 is every second of E24.
func TestStandardValues(t *testing.T) {
	for k, v := range E12 {
		if E24[2*k] != v {
			t.Errorf("E12 has %g where E24 has %g", v, E24[2*k])
		}
	}
	if len(E24) != 24 || len(E96) != 96 {
		t.Fatal("series of wrong length")
	}
	for k, v := range map[int]float64{0: 1, 1: 1.02, 2: 1.05, 24: 1.78, 48: 3.16, 52: 3.48, 95: 9.76} {
		if E96[k] != v {
			t.Errorf("E96[%d] = %g, IEC 60063 has %g", k, E96[k], v)
		}
	}
	if r := NextHigher(E12, 8.3); r != 10 {
		t.Errorf("above 8.3 Ω comes %g Ω", r)
	}
	if r := NextHigher(E24, 470); r != 470 {
		t.Errorf("470 Ω is a standard value, not followed by %g Ω", r)
	}
	for _, c := range []struct {
		ohm, single, pair float64
		source            string
		drawer            []float64
	}{{0.143, 0.15, 0.1435, "E12", nil}, {6.96, 6.98, 6.96, "E96", nil}, {5, 4.7, 4.99, "drawer", []float64{4.7, 10, 9.96}}} {
		f := Fit(c.ohm, c.source, c.drawer)
		if len(f) != 2 || math.Abs(f[0].Whole-c.single) > 1e-9 || math.Abs(f[1].Off) > math.Abs(f[0].Off)+1e-12 || math.Abs(f[1].Whole-c.pair) > 0.003*c.pair {
			t.Errorf("%g Ω from %s: %+v", c.ohm, c.source, f)
		}
	}
	if len(Fit(10, "drawer", nil)) != 0 {
		t.Error("an empty drawer fits")
	}
}

// IEEE 1789-2015 (from memory): at 100 Hz up to 8 % is low risk and 3.33 % has no
// effect; full modulation is of low risk from 1250 Hz and without effect from 3 kHz.
func TestFlicker(t *testing.T) {
	for _, c := range []struct {
		modulation, hz float64
		want           string
	}{{0.03, 100, "no effect"}, {0.08, 100, "low risk"}, {0.09, 100, "risk"}, {0.012, 120, "no effect"}, {1, 1000, "risk"}, {1, 1250.1, "low risk"}, {1, 3000, "no effect"}, {0.02, 80, "low risk"}, {1, 8, "risk"}} {
		if f := JudgeFlicker(c.modulation, c.hz); f.Verdict != c.want {
			t.Errorf("%g %% at %g Hz: %+v, want %s", 100*c.modulation, c.hz, f, c.want)
		}
	}
	// A camera: whole periods show nothing; 1/1000 s at 200 Hz sees only on or only off;
	// 1/60 s at 1 kHz and half duty catches 16 or 17 pulses of ½ ms.
	for _, c := range []struct{ duty, hz, shutter, want float64 }{{0.5, 1000, 0.01, 0}, {0.5, 200, 0.001, 1}, {0.5, 1000, 1.0 / 60, (1.0 / 3) / (16 + 2.0/3)}, {1, 50, 0.001, 0}} {
		// Brute force: slide the open shutter over the wave.
		low, high := math.Inf(1), 0.0
		for k := range 400 {
			on, n := 0.0, 20000
			for i := range n {
				if _, f := math.Modf((float64(k)/400/c.hz + c.shutter*(float64(i)+0.5)/float64(n)) * c.hz); f < c.duty {
					on++
				}
			}
			low, high = min(low, on), max(high, on)
		}
		got, slid := CameraBands(c.duty, c.hz, c.shutter), (high-low)/(high+low)
		if math.Abs(got-c.want) > 1e-6 || math.Abs(got-slid) > 0.002 {
			t.Errorf("duty %g at %g Hz, shutter %g s: %g, slid %g, want %g", c.duty, c.hz, c.shutter, got, slid, c.want)
		}
	}
	if b := DutyBits(16e6, 4000); math.Abs(b-11.97) > 0.01 || LowestDuty(20e-6, 1000) != 0.04 {
		t.Errorf("%g bits", b)
	}
}

// The slopes of what a driver takes are those its figures have, in every family, on the
// mains, by a table, and where its own draw fades near no voltage.
func TestSlopesOfTake(t *testing.T) {
	point := func(v, a, eta float64) design.EfficiencyPoint {
		return design.EfficiencyPoint{InputV: &v, CurrentA: a, Efficiency: eta}
	}
	mains := make1(t, design.Driver{Family: "voltage", SetVoltageV: p(12), MaxCurrentA: p(2), Efficiency: p(0.85), EfficiencyInV: p(230)}, design.DriverUse{})
	mains.OnMains = true
	mains.Prepare()
	off := make1(t, design.Driver{Family: "buck", QuiescentA: p(0.01), StandbyW: p(0.4), Efficiency: p(0.9)}, design.DriverUse{SetCurrentA: p(1)})
	off.Off = true
	for name, d := range map[string]Driver{
		"linear": make1(t, design.Driver{Family: "linear", QuiescentA: p(0.01)}, design.DriverUse{SetCurrentA: p(1)}),
		"buck":   make1(t, design.Driver{Family: "buck", QuiescentA: p(0.01), Efficiency: p(0.9), EfficiencyAtA: p(0.8), EfficiencyInV: p(9), EfficiencyOut: p(5)}, design.DriverUse{SetCurrentA: p(1)}),
		"both":   make1(t, design.Driver{Family: "buck-boost", QuiescentA: p(0.01), Efficiency: p(0.85), EfficiencyInV: p(6), EfficiencyOut: p(6)}, design.DriverUse{SetCurrentA: p(1)}),
		"flat":   make1(t, design.Driver{Family: "buck-boost", Efficiency: p(0.85), EfficiencyFlat: true}, design.DriverUse{SetCurrentA: p(1)}),
		"table":  make1(t, design.Driver{Family: "buck", Efficiencies: []design.EfficiencyPoint{point(6, 0.1, 0.7), point(6, 1, 0.9), point(12, 0.2, 0.6), point(12, 1, 0.8)}}, design.DriverUse{SetCurrentA: p(1)}),
		"mains":  mains,
		"off":    off,
	} {
		for _, at := range [][3]float64{{0.3, 0.1, 0.05}, {7, 4, 0.5}, {7, 4, 0.97}, {9, 8.5, 0.7}, {4, 6, 0.4}} {
			if at[0] < at[1] && !d.raises() {
				continue
			}
			take := d.Take(at[0], at[1], at[2])
			for i, slope := range []float64{take.PerInV, take.PerOutV, take.PerOutA} {
				const h = 1e-6
				up, down := at, at
				up[i] += h
				down[i] -= h
				a1, _ := d.Input(up[0], up[1], up[2])
				a0, _ := d.Input(down[0], down[1], down[2])
				if by := (a1 - a0) / (2 * h); math.Abs(by-slope) > 1e-5*(1+math.Abs(by)) {
					t.Errorf("%s at %v: slope %d is %g, by differences %g", name, at, i, slope, by)
				}
			}
		}
	}
}
