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

// TM-21 (from memory): an exponential is found again in its own points, the rate
// between two temperatures lies on Arrhenius' line, and nothing is projected beyond
// six times the test.
func TestLife(t *testing.T) {
	var points []design.Maintenance
	add := func(caseC, b, alpha float64, hours ...float64) {
		for _, h := range hours {
			points = append(points, design.Maintenance{CaseC: caseC, Hours: h, Ratio: b * math.Exp(-alpha*h)})
		}
	}
	add(55, 1.01, 8e-6, 500, 1000, 3000, 6000, 10000)
	add(105, 1.02, 2.4e-5, 1000, 5000, 9000)
	if h, bounded, ok := LifeH(points, 55); !ok || bounded || math.Abs(h-math.Log(1.01/0.7)/8e-6) > 1 {
		t.Errorf("at 55 °C %g h, bounded %v", h, bounded)
	}
	if h, _, _ := LifeH(points, 140); math.Abs(h-math.Log(1.02/0.7)/2.4e-5) > 1 {
		t.Errorf("above the hottest test %g h", h)
	}
	// Arrhenius between 55 and 105 °C at 85 °C: 1/T is 59.8 % … of the way.
	t1, t2, tm := 328.15, 378.15, 358.15
	x := (1/t1 - 1/tm) / (1/t1 - 1/t2)
	want := math.Log(math.Sqrt(1.01*1.02)/0.7) / (8e-6 * math.Pow(3, x))
	if h, _, _ := LifeH(points, 85); math.Abs(h/want-1) > 1e-9 {
		t.Errorf("at 85 °C %g h, want %g h", h, want)
	}
	slow := []design.Maintenance{{CaseC: 55, Hours: 1000, Ratio: 1}, {CaseC: 55, Hours: 6000, Ratio: 0.9999}}
	if h, bounded, ok := LifeH(slow, 55); !ok || !bounded || h != 36000 {
		t.Errorf("a test of 6000 h projects to %g h, bounded %v", h, bounded)
	}
	if _, _, ok := LifeH(slow[:1], 55); ok {
		t.Error("one point has a life")
	}
}

// A spectrum gives the lumens a watt where none are stated; a package resized carries
// the same current in more rows at a lower voltage, with the more light.
func TestSpectrumAndSize(t *testing.T) {
	e := design.Emitter{Forward: []design.ForwardPoint{{CurrentA: 0.1, VoltageV: 2.6}, {CurrentA: 0.5, VoltageV: 2.9}, {CurrentA: 1, VoltageV: 3.1}}, VfRefTempC: 25, FluxLm: new(100.0), FluxCurrentA: new(0.5), FluxRefTempC: 25, RthKPerW: new(6.0),
		Spectrum: &design.Spectrum{WhiteK: new(4000.0)}}
	m, err := New(&e)
	if err != nil || m.EfficacyLmW < 300 || m.EfficacyLmW > 345 {
		t.Fatalf("%g lm/W, %v", m.EfficacyLmW, err)
	}
	one := m.Voltage(0.5, 25)
	m.Resize(2)
	if math.Abs(m.Voltage(1, 25)-one) > 1e-12 || math.Abs(m.FluxLm(1, 25)-200) > 1e-9 || math.Abs(m.Current(one, 0, 25)-1) > 1e-9 || m.RthKPerW != 3 {
		t.Errorf("twice the rows: %g V, %g lm, %g K/W", m.Voltage(1, 25), m.FluxLm(1, 25), m.RthKPerW)
	}
	h := 1e-6
	if d := (m.Voltage(0.8+h, 25) - m.Voltage(0.8-h, 25)) / (2 * h); math.Abs(d/m.DifferentialOhm(0.8)-1) > 1e-5 {
		t.Errorf("dV/dI %g, %g", d, m.DifferentialOhm(0.8))
	}
	f := m.Fitted()
	if len(f.ResidualV) != 3 || f.Assumed || f.SeriesOhm < 0 || f.IdealityV <= 0 {
		t.Errorf("%+v", f)
	}
}
