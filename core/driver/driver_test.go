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
