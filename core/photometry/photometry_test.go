package photometry

import (
	_ "embed"
	"math"
	"testing"

	"photherm/core/design"
)

func near(t *testing.T, what string, got, want, within float64) {
	t.Helper()
	if !(math.Abs(got-want) <= within) {
		t.Errorf("%s = %.5g, want %.5g ± %.2g", what, got, want, within)
	}
}

// The SI: monochromatic light at 555 nm has 683 lm/W. Photons: λ/119.627 µmol/J
// from CODATA's h·c·N_A: 450 nm 3.762, 660 nm 5.517.
func TestLines(t *testing.T) {
	one := func(nm float64) *Spectrum {
		s, err := New(&design.Spectrum{Table: []design.SpectrumPoint{{Nm: nm, Relative: 2}}})
		if err != nil {
			t.Fatal(err)
		}
		return s
	}
	near(t, "lm/W at 555 nm", one(555).EfficacyLmPerW(), 683, 0.1)
	near(t, "µmol/J at 450 nm", one(450).Photons(400, 700), 3.762, 0.001)
	near(t, "µmol/J at 660 nm", one(660).Photons(400, 700), 5.517, 0.001)
	near(t, "µmol/J of far red", one(730).Photons(400, 700), 0, 0)
	near(t, "blue share at 450 nm", one(450).BlueShare(), 1, 0)
	if _, _, ok := one(450).Colour(); ok {
		t.Error("blue has a colour temperature")
	}
}

// Planckian radiators: 250.8 lm/W at 5800 K in 400…700 nm (Murphy 2012, from
// memory, computed again); lux for each µmol/(m²·s) in 400…700 nm 50.3 at 2856 K
// and 55.2 at 5500 K (computed; Thimijan & Heins 1983 give 50 for incandescent,
// from memory). 2856 K is CIE illuminant A: u = 0.2560, v = 0.3495 (CIE 015).
func TestBlackBodies(t *testing.T) {
	sun := BlackBody(5800)
	visible := new(Spectrum)
	copy(visible[400-FirstNm:701-FirstNm], sun[400-FirstNm:701-FirstNm])
	near(t, "lm/W at 5800 K", visible.EfficacyLmPerW(), 250.8, 1)
	for kelvin, want := range map[float64]float64{2856: 50.3, 5500: 55.2} {
		s := BlackBody(kelvin)
		near(t, "lux per µmol", s.EfficacyLmPerW()/s.Photons(400, 700), want, 0.055)
		cct, duv, ok := s.Colour()
		if !ok {
			t.Fatalf("%g K has no colour temperature", kelvin)
		}
		near(t, "its own temperature", cct, kelvin, 2)
		near(t, "Duv", duv, 0, 1e-5)
	}
	a := BlackBody(2856)
	u, v := a.uv()
	near(t, "u of illuminant A", u, 0.2560, 2e-4)
	near(t, "v of illuminant A", v, 0.3495, 2e-4)
}

// Common practice: an 80-CRI white has 300 to 340 lm for each radiated watt and 65
// to 72 lx for each µmol/(m²·s).
func TestWhites(t *testing.T) {
	for _, kelvin := range []float64{1900, 2700, 3000, 4000, 5000, 6500, 10000} {
		s, err := White(kelvin)
		if err != nil {
			t.Fatal(err)
		}
		cct, duv, ok := s.Colour()
		if !ok || math.Abs(cct-kelvin) > 0.01*kelvin || math.Abs(duv) > 0.003 {
			t.Errorf("a white of %g K comes out at %g K, Duv %g", kelvin, cct, duv)
		}
		if ler, lux := s.EfficacyLmPerW(), s.EfficacyLmPerW()/s.Photons(400, 700); kelvin >= 2700 && kelvin <= 6500 && (ler < 300 || ler > 340 || lux < 65 || lux > 75) {
			t.Errorf("%g K: %.0f lm/W, %.1f lx per µmol", kelvin, ler, lux)
		}
	}
	blue, _ := New(&design.Spectrum{PeakNm: new(450.0)})
	if w := blue.Watts(430, 470) / blue.Watts(FirstNm, LastNm); w < 0.97 {
		t.Errorf("a line of 20 nm keeps %g within ±20 nm", w)
	}
}

//go:embed testdata/cie_fluorescent.csv
var fluorescentCSV string

// CIE 13.3 on the fluorescent illuminants of CIE 015:2004: F5 72, F8 95 and F10 81,
// at 6350, 5000 and 5000 K (the indices from memory). Daylight and black bodies are
// their own reference: 100. D65 is at x = 0.3127, y = 0.3290 and has 55.5 lx for each
// µmol/(m²·s) (computed).
func TestRendering(t *testing.T) {
	lamps := readTable[[3]float64](fluorescentCSV, func(row *[3]float64) []float64 { return row[:] })
	for k, want := range []struct{ ra, kelvin float64 }{{72, 6350}, {95, 5000}, {81, 5000}} {
		s := new(Spectrum)
		for i := range s {
			s[i] = lamps[i][k]
		}
		ra, ok := s.Rendering()
		cct, _, _ := s.Colour()
		if near(t, "Ra of a fluorescent", ra, want.ra, 0.8); !ok {
			t.Error("a fluorescent renders nothing")
		}
		near(t, "its temperature", cct, want.kelvin, 15)
	}
	for _, kelvin := range []float64{2856, 4990} {
		s := BlackBody(kelvin)
		ra, _ := s.Rendering()
		near(t, "Ra of a black body", ra, 100, 0.05)
	}
	d65 := Daylight(6504)
	ra, _ := d65.Rendering()
	near(t, "Ra of daylight", ra, 100, 0.05)
	c := d65.xyz()
	near(t, "x of D65", c[0]/(c[0]+c[1]+c[2]), 0.3127, 1e-4)
	near(t, "y of D65", c[1]/(c[0]+c[1]+c[2]), 0.3290, 1e-4)
	near(t, "lux per µmol of D65", d65.EfficacyLmPerW()/d65.Photons(400, 700), 55.5, 0.055)
	green, _ := New(&design.Spectrum{PeakNm: new(530.0)})
	if ra, ok := green.Rendering(); ok {
		t.Errorf("green renders at %g", ra)
	}
	for _, kelvin := range []float64{2700, 4000, 6500} {
		s, err := White(kelvin)
		if err != nil {
			t.Fatal(err)
		}
		ra, ok := s.Rendering()
		if !ok || ra < 70 || ra > 97 {
			t.Errorf("a white of %g K renders at %g", kelvin, ra)
		}
		t.Logf("%g K: Ra %.0f", kelvin, ra)
	}
}
