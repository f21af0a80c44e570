package photometry

import (
	"math"
	"testing"
)

func line(nm, width float64) *Spectrum {
	s := gaussian(nm, width)
	return &s
}

// Mixing keeps watts and photons: two lines together have the photons of both (SI: λ/119.627
// µmol a joule).
func TestMix(t *testing.T) {
	mixed, err := Mix([]*Spectrum{line(450, 2), line(660, 2)}, []float64{1, 3})
	if err != nil {
		t.Fatal(err)
	}
	if got, want := mixed.Photons(400, 700), (450.0+3*660)/4/planckNA; math.Abs(got/want-1) > 1e-4 {
		t.Errorf("%g µmol/J, not %g", got, want)
	}
	if got := mixed.Photons(400, 500) / mixed.Photons(400, 700); math.Abs(got-450.0/(450+3*660)) > 1e-4 {
		t.Errorf("%g of them blue", got)
	}
	red, err := Mix([]*Spectrum{line(660, 20), line(730, 20)}, []float64{2, 1})
	if err != nil {
		t.Fatal(err)
	}
	if ratio, ok := red.RedToFarRed(); !ok || math.Abs(ratio-2*660.0/730) > 0.02 {
		t.Errorf("red to far red %g, %v", ratio, ok)
	}
	if _, ok := line(450, 2).RedToFarRed(); ok {
		t.Error("blue light has a red to far red ratio")
	}
	if _, err := Mix([]*Spectrum{line(450, 2)}, []float64{0}); err == nil {
		t.Error("a mix of nothing")
	}
}

// Levels of channels: a warm and a cold white come near a colour between theirs (their chord lies below the locus) and to an amount;
// what they cannot come to is told by how far off they stay; red, green and blue mix a white.
func TestLevels(t *testing.T) {
	white := func(k float64) *Spectrum {
		s, err := White(k)
		if err != nil {
			t.Fatal(err)
		}
		return s
	}
	check := func(name string, of []*Spectrum, want Wanted, met bool) []float64 {
		watts, amounts := make([]float64, len(of)), make([]float64, len(of))
		for k := range of {
			watts[k], amounts[k] = 1, of[k].Photons(400, 700)
		}
		levels, off, apart, err := Levels(of, watts, amounts, want)
		if err != nil {
			t.Fatal(err)
		}
		sum := 0.0
		scaled := make([]float64, len(of))
		for k, x := range levels {
			if x < 0 || x > 1 {
				t.Errorf("%s: level %g", name, x)
			}
			sum += x * amounts[k]
			scaled[k] = x * watts[k]
		}
		if math.Abs(sum/want.Amount-1-off) > 1e-9 {
			t.Errorf("%s: %g of %g, told %g off", name, sum, want.Amount, off)
		}
		if met != (math.Abs(off) < 0.02 && apart < 0.008) {
			t.Errorf("%s: off %g, apart %g", name, off, apart)
		}
		if mixed, err := Mix(of, scaled); err == nil && met {
			if cct, _, ok := mixed.Colour(); !ok || math.Abs(cct/want.TemperatureK-1) > 0.05 {
				t.Errorf("%s: %g K, wanted %g", name, cct, want.TemperatureK)
			}
		}
		return levels
	}
	warmCold := []*Spectrum{white(2700), white(6500)}
	levels := check("between", warmCold, Wanted{4000, 4}, true)
	if levels[0] < 0.1 || levels[1] < 0.1 {
		t.Errorf("one of two alone: %v", levels)
	}
	check("too much", warmCold, Wanted{4000, 40}, false)
	check("beyond", warmCold, Wanted{15000, 4}, false)
	check("three lines", []*Spectrum{line(630, 18), line(525, 32), line(455, 20)}, Wanted{5000, 3}, true)
	if _, _, _, err := Levels(nil, nil, nil, Wanted{}); err == nil {
		t.Error("levels of nothing")
	}
}
