package heat

import (
	"math"
	"testing"

	"photherm/core/design"
)

func within(t *testing.T, what string, got, want, share float64) {
	t.Helper()
	if !(math.Abs(got-want) <= share*math.Abs(want)) {
		t.Errorf("%s: %.5g, want %.5g within %g %%", what, got, want, 100*share)
	}
}

// Air of Incropera & DeWitt, table A.4, at its own temperatures and between them; half the
// pressure doubles the kinematic viscosity. The standard atmosphere has 0.8988 of its
// pressure at 894 m and half at 5500 m (ISO 2533).
func TestAir(t *testing.T) {
	for kelvin, want := range map[float64]Air{300: {K: 26.3e-3, Nu: 15.89e-6, Pr: 0.707}, 350: {K: 30.0e-3, Nu: 20.92e-6, Pr: 0.700}, 400: {K: 33.8e-3, Nu: 26.41e-6, Pr: 0.690}, 325: {K: 28.15e-3, Nu: 18.405e-6, Pr: 0.7035}} {
		got := AirAt(kelvin-ZeroC, 1)
		within(t, "conductivity", got.K, want.K, 1e-9)
		within(t, "viscosity", got.Nu, want.Nu, 1e-9)
		within(t, "Prandtl", got.Pr, want.Pr, 1e-9)
		within(t, "thin air", AirAt(kelvin-ZeroC, 0.5).Nu, 2*want.Nu, 1e-9)
	}
	within(t, "pressure at 894 m", PressureAt(894), 0.8988, 1e-3)
	within(t, "pressure at 5500 m", PressureAt(5500), 0.498, 5e-3)
	if cold, hot := AirAt(-80, 1), AirAt(900, 1); cold.K != airK[0] || hot.K != airK[5] {
		t.Error("outside the table the ends are held")
	}
}

// Incropera & DeWitt, Fundamentals of Heat and Mass Transfer, worked examples of free
// convection (from memory; recomputed from the correlations): glass 0.71 × 1.02 m at 232 °C
// in 23 °C, form of all ranges; a pipe of 0.1 m at 165 °C in 23 °C, emissivity 0.85; a
// duct of 0.75 × 0.3 m at 45 °C in 15 °C with the coefficients of the older editions.
func TestWorkedExamplesOfFreeConvection(t *testing.T) {
	a := AirAt((232.0+23)/2, 1)
	h := anyNu(a.rayleigh(232-23, 0.71), a.Pr) * a.K / 0.71
	within(t, "glass, h", h, 7.0, 0.02)
	within(t, "glass, W", h*0.71*1.02*(232-23), 1060, 0.02)
	pipe := HorizontalCylinder(165, 23, 0.1, 1)
	within(t, "pipe, free", pipe*math.Pi*0.1*(165-23), 325, 0.02)
	within(t, "pipe, radiated", Radiation(165, 23, 0.85)*math.Pi*0.1, 441, 0.02)
	side, top, bottom := VerticalPlate(45, 15, 0.3, 1), PlateUp(45, 15, 0.375, 1), PlateDown(45, 15, 0.375, 1)
	within(t, "duct, side", side, 4.23, 0.02)
	within(t, "duct, top", top, 5.47, 0.02)
	within(t, "duct, bottom", bottom, 2.07, 0.02)
	within(t, "duct, W/m", (2*0.3*side+0.75*(top+bottom))*30, 246, 0.02)
}

// No law jumps: over forty decades of warming by small steps each grows smoothly.
func TestFilmsAreContinuous(t *testing.T) {
	for name, law := range map[string]func(c float64) float64{
		"vertical plate": func(c float64) float64 { return VerticalPlate(c, 20, 1, 1) * (c - 20) },
		"plate up":       func(c float64) float64 { return PlateUp(c, 20, 0.2, 1) * (c - 20) },
		"plate down":     func(c float64) float64 { return PlateDown(c, 20, 0.2, 1) * (c - 20) },
		"cylinder":       func(c float64) float64 { return HorizontalCylinder(c, 20, 0.03, 1) * (c - 20) },
		"channel":        func(c float64) float64 { return Channel(c, 20, 0.008, 0.1, 1) * (c - 20) },
		"radiation":      func(c float64) float64 { return Radiation(c, 20, 0.9) },
	} {
		last, at := law(20), 20.0
		if last != 0 || law(10) >= 0 {
			t.Errorf("%s: %g at the temperature of the air, %g below it", name, last, law(10))
		}
		for at < 400 {
			step := 1e-6 + (at-20)*1e-3
			at += step
			if now := law(at); now <= last || now-last > 3*max(last, 1e-12)*step/(at-20)+1e-3 {
				t.Fatalf("%s: from %g to %g W/m² at %g °C", name, last, now, at)
			} else {
				last = now
			}
		}
	}
}

// The limits of the channel law: wide apart it is a plate by itself in the classical form of
// thin layers, Nu = 0.59·Ra^¼; narrow, air leaves with the plates' temperature, Nu = El/24
// (Elenbaas). The best spacing is where a sweep of what an envelope gives has its top
// (Bar-Cohen & Rohsenow 1984).
func TestChannel(t *testing.T) {
	const c, air, height = 70.0, 20.0, 0.1
	a := AirAt((c+air)/2, 1)
	wide := Channel(c, air, 0.08, height, 1) * height / a.K
	within(t, "wide apart", wide, 0.59*math.Pow(a.rayleigh(c-air, height), 0.25), 0.02)
	const s = 0.0015
	el := a.rayleigh(c-air, s) * s / height
	within(t, "narrow", Channel(c, air, s, height, 1)*s/a.K, el/24, 0.03)
	best, at := 0.0, 0.0
	for s := 0.002; s < 0.03; s += 1e-5 {
		// Of thin fins a share of 1/s of them stand side by side.
		if gives := Channel(c, air, s, height, 1) / s; gives > best {
			best, at = gives, s
		}
	}
	within(t, "best spacing", BestSpacing(c, air, height, 1), at, 0.005)
}

// Limits of forced flow: slow air leaves a channel with the fins' temperature, Nu = Re*·Pr/2;
// fast air grows layers, Nu = 0.664·√Re*·Pr^⅓ (Teertstra, Yovanovich & Culham 2000). Across
// a cylinder of 25.4 mm at 10 m/s in air of 300 K: Nu about 69 (Churchill & Bernstein;
// computed by hand). Along a plate of 0.5 m at 10 m/s in 300 K the laminar layer gives
// Nu 331 (Pohlhausen).
func TestForcedAir(t *testing.T) {
	air := 300 - ZeroC
	a := AirAt(air, 1)
	slow := Blown(air, air, 0.002, 0.5, 0.01, 1) * 0.002 / a.K
	within(t, "slow", slow, 0.01*0.002/a.Nu*0.002/0.5*a.Pr/2, 0.01)
	re := 40 * 0.01 / a.Nu * 0.01 / 0.01
	within(t, "fast", Blown(air, air, 0.01, 0.01, 40, 1)*0.01/a.K, 0.664*math.Sqrt(re)*math.Cbrt(a.Pr), 0.02)
	re = 10 * 0.0254 / a.Nu
	want := 0.3 + 0.62*math.Sqrt(re)*math.Cbrt(0.707)/math.Pow(1+math.Pow(0.4/0.707, 2.0/3), 0.25)*math.Pow(1+math.Pow(re/282000, 0.625), 0.8)
	within(t, "across a cylinder", CrossFlow(air, air, 0.0254, 10, 1)*0.0254/a.K, want, 1e-6)
	within(t, "across a cylinder", want, 69, 0.03)
	within(t, "along a plate", AlongPlate(air, air, 0.5, 10, 1)*0.5/a.K, 331, 0.01)
	if lam, turb := AlongPlate(air, air, 0.79, 10, 1), AlongPlate(air, air, 0.80, 10, 1); math.Abs(turb/lam-1) > 0.03 {
		t.Errorf("at the edge of turbulence %g becomes %g", lam, turb)
	}
}

// A straight fin against the equation it solves, T” = m²·T, by finite differences; a thick
// one is as warm as its root.
func TestFinEfficiency(t *testing.T) {
	const h, k, high, thick, n = 25.0, 180.0, 0.05, 0.001, 4000
	m2, dx := 2*h/(k*thick), high/n
	// From the tip, where nothing flows, up to the root.
	y, slope, sum := 1.0, 0.0, 0.0
	for range n {
		mid := slope + m2*y*dx/2
		sum += (y + mid*dx/2) * dx
		y, slope = y+mid*dx, mid+m2*(y+mid*dx)*dx/2
	}
	within(t, "fin", FinEfficiency(h, k, high, thick), sum/(y*high), 1e-4)
	within(t, "short fin", FinEfficiency(h, k, 1e-6, thick), 1, 1e-6)
}

// A wet surface that nothing heats comes to the wet-bulb temperature: in air of 25 °C and half
// saturated 17.9 °C, of 35 °C and a fifth 18.5 °C (psychrometric charts at sea level, from
// memory), and in saturated air to that of the air. Vapour is as dense as steam tables have
// it: 17.3 g/m³ at 20 °C, 51.1 at 40.
func TestDrying(t *testing.T) {
	for _, c := range []struct{ airC, humidity, wetC float64 }{{25, 0.5, 17.9}, {35, 0.2, 18.5}, {20, 1, 20}} {
		const h = 10.0
		low, high := -20.0, c.airC+1
		for range 60 {
			if mid := (low + high) / 2; h*(mid-c.airC)+drying(h, mid, c.airC, c.humidity, 1) < 0 {
				low = mid
			} else {
				high = mid
			}
		}
		if math.Abs(low-c.wetC) > 0.4 {
			t.Errorf("air of %g °C, %g saturated: wet bulb %g, not %g °C", c.airC, c.humidity, low, c.wetC)
		}
	}
	within(t, "vapour at 20 °C", vapourKgPerM3(20), 0.0173, 0.01)
	within(t, "vapour at 40 °C", vapourKgPerM3(40), 0.0511, 0.01)
	// Far outside its range it is held, so that no probe of a solver meets a pole.
	for _, c := range []float64{-272, -243.12, -100, 1e4} {
		if v := vapourKgPerM3(c); math.IsNaN(v) || math.IsInf(v, 0) || v < 0 || v > 20 {
			t.Errorf("at %g °C vapour of %g kg/m³", c, v)
		}
	}
	if a := AirAt(math.NaN(), 1); !math.IsNaN(a.K) {
		t.Errorf("air of no temperature: %+v", a)
	}
	// In the rain a tube gives several times what it gives dry.
	shape := design.Shape{Kind: "tube", Pose: "level", DiameterM: p(0.03), LengthM: p(0.12), Surface: "anodised"}
	dry := body(t, shape).Watts(40, 15, 0)
	shape.Wet = true
	if wet := body(t, shape).Watts(40, 15, 0); wet < 2*dry || wet > 8*dry {
		t.Errorf("wet %g W, dry %g W", wet, dry)
	}
	// It has no kink where it is as warm as the air, as a tube along which heat goes too.
	shape.ThicknessM = p(0.002)
	for _, s := range []design.Shape{shape, {Kind: "box", LengthM: p(0.1), WidthM: p(0.1), HeightM: p(0.1), Wet: true}, {Kind: "plate", Pose: "down", OneFace: true, LengthM: p(0.1), WidthM: p(0.1), Wet: true}} {
		b := body(t, s)
		last := b.Watts(15-0.02, 15, 0)
		for x := -0.02; x < 0.02; x += 1e-4 {
			w := b.Watts(15+x, 15, 0)
			if math.IsNaN(w) || math.Abs(w-last) > 2e-3 || w < last-1e-9 {
				t.Fatalf("%s: %g W at %g K above the air, %g just below", s.Kind, w, x, last)
			}
			last = w
		}
	}
	shape.ThicknessM = nil
	shape.Submerged = true
	within(t, "under water it is no wetter", body(t, shape).Watts(40, 15, 0), waterW*math.Pi*0.03*0.12*25, 1e-9)
}

// Blown down onto fins the air parts: half of it over half of the length, each way.
func TestBlownOntoFins(t *testing.T) {
	shape := design.Shape{Kind: "fins", LengthM: p(0.08), WidthM: p(0.06), ThicknessM: p(0.004), Fins: 12, FinHeightM: p(0.02), FinThickM: p(0.001), Fan: &design.Fan{FlowM3H: 15}}
	along := body(t, shape)
	shape.Fan.Onto = true
	onto := body(t, shape)
	f := onto.fins
	v := 15.0 / 3600 / f.crossM2
	want := both(Channel(50, 25, f.spacingM, 0.08, 1), Blown(50, 25, f.spacingM, 0.04, v/2, 1))
	within(t, "onto", f.conducts(onto, 50, 25, 15.0/3600), want*(f.floorM2+FinEfficiency(want, 200, 0.02, 0.001)*f.areaM2), 1e-9)
	if a, b := along.Watts(50, 25, 0), onto.Watts(50, 25, 0); b > 1.2*a || b < 0.6*a {
		t.Errorf("along %g W, onto %g W", a, b)
	}
}
