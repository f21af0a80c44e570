package heat

import (
	"math"
	"testing"

	"photherm/core/design"
)

// An upright plate's film grows with the rise as laws of still air have it, 0.20 to 0.33 (Incropera
// & DeWitt); of what is blown, wet or finned nothing is told.
func TestStillPower(t *testing.T) {
	f := func(x float64) *float64 { return &x }
	plate := func() *design.Shape {
		return &design.Shape{Kind: "plate", Material: "aluminium", LengthM: f(0.2), WidthM: f(0.15), ThicknessM: f(0.005)}
	}
	body := func(s *design.Shape) *Body {
		b, lacks := NewBody(s, 1)
		if len(lacks) > 0 {
			t.Fatal(lacks)
		}
		return b
	}
	if p, ok := body(plate()).StillPower(); !ok || p < 0.2 || p > 0.33 {
		t.Errorf("a plate: %g %v", p, ok)
	}
	windy, wet := plate(), plate()
	windy.SpeedMS, wet.Submerged = f(2.0), true
	finned := &design.Shape{Kind: "fins", LengthM: f(0.08), WidthM: f(0.06), ThicknessM: f(0.004), Fins: 8, FinHeightM: f(0.02), FinThickM: f(0.0015)}
	for name, s := range map[string]*design.Shape{"windy": windy, "wet": wet, "finned": finned} {
		if p, ok := body(s).StillPower(); ok {
			t.Errorf("%s: %g", name, p)
		}
	}
}

// A measured film and power scale what goes to moving air alone; at a rise of 30 K the power changes
// nothing, and a body of known K/W follows it too, its slope by differences.
func TestMeasuredFilm(t *testing.T) {
	f := func(x float64) *float64 { return &x }
	shape := &design.Shape{Kind: "plate", Material: "aluminium", LengthM: f(0.2), WidthM: f(0.15), ThicknessM: f(0.005), Emissivity: f(0.5)}
	watts := func(share, power, rise float64) float64 {
		shape.FilmShare = &share
		b, _ := NewBody(shape, 1)
		b.Power = power
		return b.Watts(20+rise, 20, 0)
	}
	b, _ := NewBody(shape, 1)
	radiant := Radiation(50, 20, 0.5) * b.RadiantM2
	if moving := watts(1, 0, 30) - radiant; math.Abs(watts(0.8, 0.1, 30)-radiant-0.8*moving) > 1e-9 {
		t.Errorf("of %g W to moving air %g", moving, watts(0.8, 0.1, 30)-radiant)
	}
	at60 := Radiation(80, 20, 0.5) * b.RadiantM2
	if got, want := watts(1, 0.1, 60)-at60, (watts(1, 0, 60)-at60)*math.Pow(2, 0.1); math.Abs(got-want) > 1e-9 {
		t.Errorf("at twice the rise %g W, want %g", got, want)
	}
	law := Tilted{KPerW: 3, Power: 0.25}
	if w := law.Watts(50, 20, 0); math.Abs(w-10) > 1e-12 {
		t.Errorf("at 30 K %g W", w)
	}
	for _, rise := range []float64{-40, 0.5, 12, 60} {
		const step = 1e-4
		from, to := law.Slopes(20+rise, 20, 0)
		up, down := law.Watts(20+rise+step, 20, 0), law.Watts(20+rise-step, 20, 0)
		if want := (up - down) / (2 * step); math.Abs(from-want) > 1e-6 || to != -from {
			t.Errorf("at %g K the slope is %g, by differences %g", rise, from, want)
		}
	}
}
