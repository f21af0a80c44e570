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
	} {
		const outV = 6.0
		var lastA, lastIn float64
		for k := range 800 {
			inV := 5.9 + float64(k)*0.005
			outA := max(0, min(d.Envelope(inV).CurrentA(outV), 5))
			inA, loss := d.Input(inV, outV, outA)
			if e := inV*inA - outV*outA - loss; math.Abs(e) > 1e-9 {
				t.Fatalf("%s at %g V: %g W appear from nowhere", name, inV, -e)
			}
			if loss < -1e-12 {
				t.Fatalf("%s at %g V: a loss of %g W", name, inV, loss)
			}
			if k > 0 && d.Regulates() && (math.Abs(outA-lastA) > 0.03 || math.Abs(inA-lastIn) > 0.03) {
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
	if d.Mode(0.5) != ConstantCurrent || d.Mode(0.4) != DropOut || d.Mode(0.4).String() != "drop-out" {
		t.Error("modes of a linear driver")
	}
	if d, missing := New(nil, &design.DriverUse{}); d.Mode(0) != Off || len(missing) == 0 || d.Envelope(12).CurrentA(3) != 0 {
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
	if d.Mode(1) != ConstantVoltage || d.Mode(2) != ConstantCurrent {
		t.Error("modes")
	}
	inA, loss := d.Input(230, 24, 2)
	if eta := 48 / (230 * inA); math.Abs(eta-0.92) > 1e-12 || math.Abs(48+loss-230*inA) > 1e-9 {
		t.Errorf("efficiency %g, loss %g W", eta, loss)
	}
	if low := d.Envelope(12); math.Abs(low.OpenV-(12-CommonBuckHeadroomV)) > 1e-12 {
		t.Errorf("from 12 V it offers %g V", low.OpenV)
	}
}
