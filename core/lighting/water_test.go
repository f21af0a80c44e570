package lighting_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"photherm/core/lighting"
)

// Closed forms of Fresnel's equations: straight on ((n1−n2)/(n1+n2))², total beyond the critical
// angle, and at Brewster's angle only half of what is polarised across comes back.
func TestFresnel(t *testing.T) {
	near(t, "into water, straight", lighting.Fresnel(1, 1.333, 1), 0.020373, 1e-3)
	near(t, "out of it, straight", lighting.Fresnel(1.333, 1, 1), 0.020373, 1e-3)
	critical := math.Sqrt(1 - 1/(1.333*1.333))
	near(t, "just beyond the critical angle", lighting.Fresnel(1.333, 1, critical-1e-6), 1, 1e-12)
	if x := lighting.Fresnel(1.333, 1, critical+0.01); x >= 0.9 {
		t.Errorf("before it %g", x)
	}
	brewster := math.Atan(1.333)
	near(t, "at Brewster's angle", lighting.Fresnel(1, 1.333, math.Cos(brewster)), math.Pow(math.Cos(2*brewster), 2)/2, 1e-9)
}

func spread(tank *lighting.Tank, gap float64, nx, ny int, optic *lighting.Distribution) (lamps []lighting.Lamp, light [][lighting.Counted]float64) {
	for i := range nx * ny {
		at := r3.Vec{X: tank.LengthM * (float64(i%nx) + 0.5) / float64(nx), Y: tank.WidthM * (float64(i/nx) + 0.5) / float64(ny), Z: tank.DepthM + gap}
		lamps = append(lamps, lighting.Lamp{At: at, Axis: r3.Vec{Z: -1}, Across: r3.Vec{X: 1}, Optic: optic})
		light = append(light, [lighting.Counted]float64{0.3, 0.4, 0.3, 0.1})
	}
	return lamps, light
}

func reach(t *testing.T, tank *lighting.Tank, depth float64, lamps []lighting.Lamp, light [][lighting.Counted]float64) (share float64, bands [lighting.Bands]float64) {
	t.Helper()
	g := lighting.Grid{LengthM: tank.LengthM, WidthM: tank.WidthM, NX: 36, NY: 18}
	var into [lighting.Counted][]float64
	for b := range into {
		into[b] = make([]float64, g.NX*g.NY)
	}
	if err := tank.Add(&into, &g, depth, lamps, light); err != nil {
		t.Fatal(err)
	}
	visible, given := 0.0, 0.0
	for b := range bands {
		of := 0.0
		for _, l := range light {
			of += l[b]
		}
		bands[b] = g.Landing(into[b]) / of
		if b < 3 {
			visible, given = visible+g.Landing(into[b]), given+of
		}
	}
	return visible / given, bands
}

// A tank of 60 × 30 cm, emitters spread over it, 5 cm of air, 33 cm of water that swallows
// nothing, glass also above the water: 76 ± 1 % reach the bottom with real sides, 33 ± 1 % with
// black ones (computed). What clear water swallows comes off that: a twentieth.
func TestLightInATank(t *testing.T) {
	for _, c := range []struct {
		black bool
		want  float64
	}{{false, 0.76}, {true, 0.33}} {
		tank := &lighting.Tank{LengthM: 0.6, WidthM: 0.3, DepthM: 0.33, RimM: 0.06, Black: c.black}
		lamps, light := spread(tank, 0.05, 12, 6, lighting.Lambertian())
		share, _ := reach(t, tank, 0.33, lamps, light)
		if math.Abs(share-c.want) > 0.01 {
			t.Errorf("black %v: %.3f reach the bottom, not %.2f", c.black, share, c.want)
		}
		tank.Water = lighting.Waters["clear"]
		clear, bands := reach(t, tank, 0.33, lamps, light)
		if loss := 1 - clear/share; loss < 0.03 || loss > 0.08 || !(bands[0] > bands[1] && bands[1] > bands[2] && bands[2] > bands[3]) {
			t.Errorf("clear water takes %.3f; bands %v", loss, bands)
		}
	}
}

// The same by following photons one by one with code of the test's own: polarised surfaces
// averaged, panes as two surfaces; with a rim that ends below the lights, cover glass, tea-coloured
// water, a beam that leans.
func TestTankAgainstWalks(t *testing.T) {
	lens, err := lighting.Lens(90)
	if err != nil {
		t.Fatal(err)
	}
	tank := &lighting.Tank{LengthM: 0.5, WidthM: 0.25, DepthM: 0.3, RimM: 0.02, CoverGlass: true, Water: lighting.Waters["tannin"]}
	lamps := []lighting.Lamp{{At: r3.Vec{X: 0.1, Y: 0.12, Z: 0.38}, Axis: r3.Unit(r3.Vec{X: 0.5, Z: -1}), Across: r3.Vec{Y: 1}, Optic: lens}}
	light := [][lighting.Counted]float64{{1, 1, 1, 1, 1}}
	_, bands := reach(t, tank, 0.3, lamps, light)
	walked := walkTank(tank, &lamps[0], 3_000_000)
	for b := range bands {
		near(t, "band", bands[b], walked[b], 0.02)
	}
	// Darker the deeper; nothing from a light in the water, and that is told.
	at, _ := reach(t, tank, 0.1, lamps, light)
	if low, _ := reach(t, tank, 0.3, lamps, light); at <= low {
		t.Errorf("%g at 10 cm, %g at 30 cm", at, low)
	}
	lamps[0].At.Z = 0.2
	var into [lighting.Counted][]float64
	if err := tank.Add(&into, &lighting.Grid{LengthM: 0.5, WidthM: 0.25, NX: 4, NY: 4}, 0.3, lamps, light); err == nil {
		t.Error("a light in the water is taken")
	}
}

func walkTank(tank *lighting.Tank, lamp *lighting.Lamp, n int) (share [lighting.Bands]float64) {
	r := rand.New(rand.NewPCG(7, 11))
	peak := lamp.Optic.Peak()
	sheet := func(outside, c float64) float64 { // glass between an index and air
		sg := outside * math.Sqrt(1-c*c) / 1.52
		if outside*math.Sqrt(1-c*c) >= 1 {
			return 1
		}
		cg := math.Sqrt(1 - sg*sg)
		a, b := lighting.Fresnel(outside, 1.52, c), lighting.Fresnel(1.52, 1, cg)
		back, inside := a, 1-a
		for range 40 { // to and fro in the glass
			back += inside * b * (1 - a)
			inside *= b * a
		}
		return back
	}
	size := [2]float64{tank.LengthM, tank.WidthM}
	for range n {
		var d r3.Vec
		for { // by rejection, over the half sphere below
			z, a := -r.Float64(), 2*math.Pi*r.Float64()
			s := math.Sqrt(1 - z*z)
			d = r3.Vec{X: s * math.Cos(a), Y: s * math.Sin(a), Z: z}
			if r.Float64()*peak < lamp.Optic.At(r3.Dot(d, lamp.Axis)) {
				break
			}
		}
		at, v := [2]float64{lamp.At.X, lamp.At.Y}, [2]float64{d.X, d.Y}
		weight := 1.0
		// One level of height after the other: to the rim, where a side lets go; to the water; to the floor.
		travel := func(height, vz, index float64, sides bool) {
			left := height / vz
			for left > 0 && weight > 0 {
				step, axis := left, -1
				for k := range 2 {
					far := math.Inf(1)
					if v[k] > 0 {
						far = (size[k] - at[k]) / v[k]
					} else if v[k] < 0 {
						far = -at[k] / v[k]
					}
					if far < step {
						step, axis = far, k
					}
				}
				at[0], at[1] = at[0]+step*v[0], at[1]+step*v[1]
				left -= step
				if axis >= 0 {
					if !sides {
						weight = 0
						return
					}
					weight *= sheet(index, math.Abs(v[axis]))
					v[axis] = -v[axis]
					if weight < 1e-4 {
						weight = 0
					}
				}
			}
		}
		air := lamp.At.Z - tank.DepthM
		travel(air-min(air, tank.RimM), -d.Z, 1, false)
		travel(min(air, tank.RimM), -d.Z, 1, true)
		if weight == 0 {
			continue
		}
		weight *= 1 - lighting.Fresnel(1, 1.333, -d.Z)
		if tank.CoverGlass {
			weight *= 1 - sheet(1, -d.Z)
		}
		v[0], v[1] = v[0]/1.333, v[1]/1.333
		cw := math.Sqrt(1 - v[0]*v[0] - v[1]*v[1])
		travel(tank.DepthM, cw, 1.333, !tank.Black)
		for b := range share {
			share[b] += weight * math.Exp(-tank.Water[b]*tank.DepthM/cw)
		}
	}
	// What is sent up is no part of the walk, but of the lamp's light.
	below := 0.0
	const m = 200_000
	for range m {
		z, a := 2*r.Float64()-1, 2*math.Pi*r.Float64()
		s := math.Sqrt(1 - z*z)
		if z < 0 {
			below += lamp.Optic.At(r3.Dot(r3.Vec{X: s * math.Cos(a), Y: s * math.Sin(a), Z: z}, lamp.Axis)) * 4 * math.Pi
		}
	}
	for b := range share {
		share[b] *= below / m / float64(n)
	}
	return share
}

// A lamp close above a wide shallow tank: its light lies in few cells, and still adds up to what
// comes through the surface.
func TestShallowTank(t *testing.T) {
	tank := &lighting.Tank{LengthM: 4, WidthM: 2, DepthM: 0.05}
	lamps, light := spread(tank, 0.05, 1, 1, lighting.Lambertian())
	share, _ := reach(t, tank, 0.05, lamps, light)
	// Of a bare lamp over an endless surface: 1 − 2∫R(c)·c dc.
	lost, n := 0.0, 4000
	for i := range n {
		c := (float64(i) + 0.5) / float64(n)
		lost += 2 * lighting.Fresnel(1, 1.333, c) * c / float64(n)
	}
	near(t, "through the surface", share, 1-lost, 0.02)
}

// A needle of light strikes less than a cell: all of it lands, in air, and through the surface of
// a tank all but what that reflects; aslant it comes back from a side that reflects it all.
func TestNeedles(t *testing.T) {
	needle := must[*lighting.Distribution](t)(lighting.Lens(0.3))
	lamp := lighting.Lamp{At: r3.Vec{X: 0.11, Y: 0.12, Z: 0.4}, Axis: r3.Vec{Z: -1}, Across: r3.Vec{X: 1}, Lumens: 50, Optic: needle}
	g := lighting.Grid{LengthM: 1, WidthM: 0.5, NX: 20, NY: 10}
	lux := make([]float64, 200)
	g.AddAll(lux, []lighting.Lamp{lamp})
	near(t, "a needle in air", g.Landing(lux), 50, 1e-3)
	near(t, "in the cell below it", lux[2*20+2], 50/(0.05*0.05), 0.01)
	tank := &lighting.Tank{LengthM: 1, WidthM: 0.5, DepthM: 0.3, RimM: 0.2}
	one := [][lighting.Counted]float64{{1, 1, 1, 1, 1}}
	share, _ := reach(t, tank, 0.3, []lighting.Lamp{lamp}, one)
	near(t, "a needle into water", share, 1-0.020373, 2e-3)
	// 50° in air, 35° in water, and 55° to the side it strikes: total there.
	lamp.At, lamp.Axis = r3.Vec{X: 0.2, Y: 0.25, Z: 0.31}, r3.Vec{X: -math.Sin(50 * math.Pi / 180), Z: -math.Cos(50 * math.Pi / 180)}
	lamp.Across = r3.Vec{Y: 1}
	share, _ = reach(t, tank, 0.3, []lighting.Lamp{lamp}, one)
	through := 1 - lighting.Fresnel(1, 1.333, math.Cos(50*math.Pi/180))
	near(t, "aslant, off a side", share, through, 5e-3)
	// Steeper in water than it may be for that, from a cell's breadth: 20° in air, 15° in water, and
	// it strikes at 75° to the other side; a pane there reflects what the closed form says, once.
	tank = &lighting.Tank{LengthM: 1, WidthM: 0.1, DepthM: 0.3, RimM: 0.2}
	lamp.At, lamp.Axis, lamp.Across = r3.Vec{X: 0.5, Y: 0.05, Z: 0.31}, r3.Vec{Y: math.Sin(20 * math.Pi / 180), Z: -math.Cos(20 * math.Pi / 180)}, r3.Vec{X: 1}
	share, _ = reach(t, tank, 0.3, []lighting.Lamp{lamp}, one)
	near(t, "aslant the other way, total off a side", share, 1-lighting.Fresnel(1, 1.333, math.Cos(20*math.Pi/180)), 5e-3)
	// Level enough to get out: sideways in air through the glass above the water.
	lamp.At, lamp.Axis = r3.Vec{X: 0.5, Y: 0.05, Z: 0.35}, r3.Vec{Y: math.Sin(60 * math.Pi / 180), Z: -0.5}
	share, _ = reach(t, tank, 0.3, []lighting.Lamp{lamp}, one)
	if off := share / (1 - lighting.Fresnel(1, 1.333, 0.5)); off > 0.2 || off < 0.05 {
		t.Errorf("off the glass above the water %g", off)
	}
}
