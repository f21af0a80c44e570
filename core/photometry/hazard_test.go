package photometry

import (
	"math"
	"testing"

	"photherm/core/design"
)

// The nodes and the tails of both functions, from memory of IEC 62471:2006, tables 4.1 and 4.2;
// what lies outside weighs nothing.
func TestHazardFunctions(t *testing.T) {
	for nm, want := range map[float64]float64{299: 0, 300: 0.01, 350: 0.01, 400: 0.1, 405: 0.2, 437: 1, 450: 0.94, 460: 0.8, 500: 0.1, 550: 0.01, 599: math.Pow(10, -149.0/50), 600: 0.001, 690: 0.001, 701: 0} {
		if got := BlueHazard(nm); math.Abs(got-want) > 1e-12 {
			t.Errorf("B(%g) = %g, want %g", nm, got, want)
		}
	}
	for nm, want := range map[float64]float64{199: 0, 200: 0.03, 270: 1, 300: 0.3, 315: 0.003, 400: 3e-5, 401: 0} {
		if got := ActinicHazard(nm); math.Abs(got-want) > 1e-12 {
			t.Errorf("S(%g) = %g, want %g", nm, got, want)
		}
	}
	// 365 nm: 1.1e-4 in the table; it is no node here, and straight in the logarithm it is met.
	if got := ActinicHazard(365); math.Abs(got/1.1e-4-1) > 0.02 {
		t.Errorf("S(365) = %g", got)
	}
}

// A narrow line weighs what the function says at its peak; what is beside it is counted by where
// it lies. The blue-light hazard of a white light is some 0.3 to 1 mW for a lumen (common practice,
// from memory: lower for warm light).
func TestHazardsOfSpectra(t *testing.T) {
	line := func(nm, wide float64) Hazards {
		s, err := New(&design.Spectrum{PeakNm: &nm, WidthNm: &wide})
		if err != nil {
			t.Fatal(err)
		}
		return s.Hazards()
	}
	if h := line(450, 1); math.Abs(h.Blue-0.94) > 0.01 || h.UVA > 1e-9 || h.Infrared > 1e-9 || h.NearUV > 1e-9 || h.Actinic > 1e-9 {
		t.Errorf("450 nm: %+v", h)
	}
	if h := line(365, 2); math.Abs(h.UVA-1) > 1e-6 || math.Abs(h.NearUV-1) > 1e-6 || math.Abs(h.Actinic/1.1e-4-1) > 0.05 || math.Abs(h.Blue-0.01) > 1e-6 {
		t.Errorf("365 nm: %+v", h)
	}
	if h := line(850, 20); math.Abs(h.Infrared-1) > 1e-6 || h.Blue != 0 && h.Blue > 1e-9 {
		t.Errorf("850 nm: %+v", h)
	}
	if h := line(405, 10); math.Abs(h.NearUV-0.55) > 0.06 {
		t.Errorf("405 nm: half of it on either side: %+v", h)
	}
	mW := func(kelvin float64) float64 {
		s, err := White(kelvin)
		if err != nil {
			t.Fatal(err)
		}
		return 1000 * s.Hazards().Blue / s.EfficacyLmPerW()
	}
	if warm, cool := mW(2700), mW(6500); warm < 0.2 || warm > 0.45 || cool < 0.7 || cool > 1.1 {
		t.Errorf("blue-light hazard %g and %g mW/lm", warm, cool)
	}
	var dark Spectrum
	if dark.Hazards() != (Hazards{}) {
		t.Error("nothing radiates, and harms")
	}
}
