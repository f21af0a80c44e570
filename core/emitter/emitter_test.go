package emitter

import (
	"math"
	"testing"

	"photherm/core/design"
)

func p[T any](x T) *T { return &x }

// law is a diode with resistance: what a fitted curve should find again.
func law(i float64) float64 { return 0.055*math.Log(1+i/1e-22) + 0.11*i }

func points(currents ...float64) []design.ForwardPoint {
	var out []design.ForwardPoint
	for _, i := range currents {
		out = append(out, design.ForwardPoint{CurrentA: i, VoltageV: law(i)})
	}
	return out
}

func model(t *testing.T, e design.Emitter) Model {
	t.Helper()
	m, err := New(&e)
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// Three readings of a diode with resistance give the whole curve, well outside
// the points and in its slope; joining the points straight in ln I, as is done by
// hand, would miss by tens of millivolts.
func TestThreePointsMakeACurve(t *testing.T) {
	m := model(t, design.Emitter{Forward: points(0.02, 0.35, 1.5), VfRefTempC: 25})
	for _, i := range []float64{0.001, 0.01, 0.05, 0.1, 0.7, 1, 2, 3} {
		if d := m.Voltage(i, 25) - law(i); math.Abs(d) > 1e-6 {
			t.Errorf("V(%g A) is off by %.2g V", i, d)
		}
		if got, want := m.DifferentialOhm(i), 0.055/i+0.11; math.Abs(got/want-1) > 1e-6 {
			t.Errorf("dV/dI at %g A = %g, want %g", i, got, want)
		}
	}
	straight := law(0.35) + (law(1.5)-law(0.35))*math.Log(0.7/0.35)/math.Log(1.5/0.35)
	if math.Abs(straight-law(0.7)) < 0.01 {
		t.Error("the comparison with straight interpolation shows nothing")
	}
}

// Whatever the points, the curve goes through them, rises everywhere, and its
// inverse is its inverse.
func TestCurveThroughRoughPoints(t *testing.T) {
	for name, forward := range map[string][]design.ForwardPoint{
		"datasheet": {{CurrentA: 0.1, VoltageV: 2.64}, {CurrentA: 0.35, VoltageV: 2.76}, {CurrentA: 0.7, VoltageV: 2.88}, {CurrentA: 1.5, VoltageV: 3.08}, {CurrentA: 3, VoltageV: 3.35}},
		"kinked":    {{CurrentA: 0.1, VoltageV: 2.6}, {CurrentA: 0.2, VoltageV: 2.601}, {CurrentA: 0.4, VoltageV: 3.1}, {CurrentA: 0.5, VoltageV: 3.102}},
		"two":       {{CurrentA: 0.02, VoltageV: 1.9}, {CurrentA: 0.35, VoltageV: 2.2}},
		"one":       {{CurrentA: 0.35, VoltageV: 3.0}},
		"36 V":      {{CurrentA: 0.05, VoltageV: 31}, {CurrentA: 0.35, VoltageV: 34}, {CurrentA: 0.9, VoltageV: 36.5}},
		"concave":   {{CurrentA: 0.1, VoltageV: 2.5}, {CurrentA: 0.2, VoltageV: 2.8}, {CurrentA: 0.4, VoltageV: 2.85}},
	} {
		m := model(t, design.Emitter{Forward: forward, VfRefTempC: 25, VfVPerK: p(-0.002)})
		for _, q := range forward {
			if v := m.Voltage(q.CurrentA, 25); math.Abs(v-q.VoltageV) > 1e-9 {
				t.Errorf("%s: V(%g) = %g, the point says %g", name, q.CurrentA, v, q.VoltageV)
			}
		}
		last := 0.0
		for ln := math.Log(1e-4); ln < math.Log(5); ln += 0.01 {
			i := math.Exp(ln)
			v := m.Voltage(i, 25)
			if v <= last {
				t.Fatalf("%s: V falls at %g A", name, i)
			}
			last = v
			for _, r := range []float64{0, 0.5, 20} {
				if back := m.Current(v-0.04+i*r, r, 45); math.Abs(back/i-1) > 1e-7 {
					t.Fatalf("%s: I(V) gives %g A for %g A with %g Ω at 20 K more", name, back, i, r)
				}
			}
		}
		if m.Current(0, 0, 25) != 0 || m.Current(-3, 1, 25) != 0 {
			t.Errorf("%s: a current flows without voltage", name)
		}
	}
}

func white() design.Emitter {
	return design.Emitter{
		Forward: points(0.1, 0.35, 1), VfRefTempC: 85, VfVPerK: p(-0.002),
		FluxLm: p(130.0), FluxCurrentA: p(0.35), FluxRefTempC: 85,
		FluxCurrent:    []design.RatioPoint{{X: 0.1, Ratio: 0.31}, {X: 0.35, Ratio: 1}, {X: 0.7, Ratio: 1.8}, {X: 1, Ratio: 2.35}},
		FluxTemp:       []design.RatioPoint{{X: 25, Ratio: 1.12}, {X: 85, Ratio: 1}, {X: 125, Ratio: 0.9}},
		EfficacyLmPerW: p(320.0), RthKPerW: p(5.0),
	}
}

func TestReferenceConditions(t *testing.T) {
	e := white()
	m := model(t, e)
	if got := m.FluxLm(0.35, 85); math.Abs(got-130) > 1e-9 {
		t.Errorf("flux at its own reference = %g lm, want 130", got)
	}
	if got := m.FluxLm(0.35, 25) / 130; math.Abs(got-1.12) > 1e-9 {
		t.Errorf("cold over hot = %g, want 1.12", got)
	}
	if d := m.Voltage(0.35, 25) - m.Voltage(0.35, 85); math.Abs(d-0.12) > 1e-12 {
		t.Errorf("60 K colder raises the voltage by %g V, want 0.12", d)
	}
	// Droop: twice the current gives less than twice the light.
	if r := m.FluxLm(0.7, 85) / m.FluxLm(0.35, 85); math.Abs(r-1.8) > 1e-9 {
		t.Errorf("light at twice the current = %g, want 1.8", r)
	}
}

// JESD51-51 (2012): the electrical thermal resistance counts all input watts, the
// real one only what becomes heat; real = electrical / (1 − efficiency), here
// with the efficiency the flux and the spectrum give.
func TestThermalResistanceBasis(t *testing.T) {
	e := white()
	real := model(t, e)
	e.RthBasis = "electric"
	electric := model(t, e)
	share := (130.0 / 320) / (0.35 * law(0.35))
	if got, want := electric.RthKPerW/real.RthKPerW, 1/(1-share); math.Abs(got/want-1) > 1e-9 || got < 1.4 || got > 2 {
		t.Errorf("real over electrical = %g, want %g and between 1.4 and 2", got, want)
	}
}

func TestUnknownLight(t *testing.T) {
	m := model(t, design.Emitter{Forward: points(0.1, 0.35, 1)})
	if m.KnowsFlux() || m.FluxLm(0.35, 25) != 0 || m.RadiantW(0.35, 25) != 0 {
		t.Error("light is made up where nothing is known")
	}
	e := white()
	e.FluxLm = p(1e5) // more light than the watts allow
	if m := model(t, e); m.RadiantW(0.35, 85) > 0.35*m.Voltage(0.35, 85) {
		t.Error("more watts out than in")
	}
}
