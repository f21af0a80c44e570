package lighting_test

import (
	"context"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"gonum.org/v1/gonum/integrate/quad"
	"gonum.org/v1/gonum/spatial/r3"

	"photherm/core/design"
	"photherm/core/lighting"
)

var down = r3.Vec{Z: -1}

func near(t *testing.T, what string, got, want, share float64) {
	t.Helper()
	if math.IsNaN(got) || math.Abs(got-want) > share*math.Abs(want) {
		t.Errorf("%s: %.6g, not %.6g ± %.2g %%", what, got, want, 100*share)
	}
}

func must[T any](t *testing.T) func(T, error) T {
	return func(x T, err error) T {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
		return x
	}
}

// overSphere is what a distribution sends out, integrated over the sphere with a rule of its own.
func overSphere(d *lighting.Distribution) float64 {
	sum := 0.0
	for _, part := range [][2]float64{{0, 0.02}, {0.02, 0.1}, {0.1, 0.5}, {0.5, math.Pi / 2}, {math.Pi / 2, math.Pi}} {
		sum += quad.Fixed(func(a float64) float64 { return 2 * math.Pi * d.At(math.Cos(a)) * math.Sin(a) }, part[0], part[1], 400, nil, 0)
	}
	return sum
}

// Whatever an optic does, all that leaves it is its lumens; its beam is as wide as was said, and
// its peak is the closed form of a cosine power.
func TestDistributions(t *testing.T) {
	near(t, "a bare emitter's peak", lighting.Lambertian().Peak(), 1/math.Pi, 1e-4)
	for _, deg := range []float64{2, 11, 30, 60, 119, 120, 150} {
		d := must[*lighting.Distribution](t)(lighting.Lens(deg))
		near(t, "flux of a lens", overSphere(d), 1, 2e-3)
		m := math.Log(0.5) / math.Log(math.Cos(deg/2*math.Pi/180))
		near(t, "peak of a lens", d.Peak(), (m+1)/(2*math.Pi), 2e-3)
		near(t, "width of a lens", d.Width(0.5), deg, 0.01)
		half := deg / 2 * math.Pi / 180
		near(t, "share of a lens within its width", d.Share(half), 1-math.Pow(math.Cos(half), m+1), 5e-3)
	}
	if _, err := lighting.Lens(0); err == nil {
		t.Error("a lens of 0°")
	}
	for _, textured := range []bool{false, true} {
		d := must[*lighting.Distribution](t)(lighting.Reflector(8, 90, 0.4, textured))
		near(t, "flux of a reflector", overSphere(d), 1, 3e-3)
		near(t, "width of its spot", d.Width(0.5), 8, 0.05)
		if spill, outside := d.At(math.Cos(35*math.Pi/180)), d.At(math.Cos(50*math.Pi/180)); spill <= 0.1 || outside > 1e-9 {
			t.Errorf("spill %g, outside of it %g", spill, outside)
		}
	}
	if _, err := lighting.Reflector(40, 30, 0.5, false); err == nil {
		t.Error("a spot wider than its spill")
	}
}

// A table keeps its shape; one that is given for a quarter is mirrored; broken ones are told.
func TestTables(t *testing.T) {
	lambert := &design.IntensityTable{HorizontalDeg: []float64{0}}
	var row []float64
	for a := range 91 {
		lambert.VerticalDeg, row = append(lambert.VerticalDeg, float64(a)), append(row, 250*math.Cos(float64(a)*math.Pi/180))
	}
	lambert.Candela = [][]float64{row}
	d := must[*lighting.Distribution](t)(lighting.OfTable(lambert))
	near(t, "a bare emitter's table at 60°", d.At(0.5), 0.5/math.Pi, 1e-3)
	near(t, "and its flux", overSphere(d), 1, 2e-3)

	// Wider along its length than across: a quarter is given.
	quarter := &design.IntensityTable{VerticalDeg: lambert.VerticalDeg, HorizontalDeg: []float64{0, 45, 90}, Candela: [][]float64{row, row, make([]float64, 91)}}
	d = must[*lighting.Distribution](t)(lighting.OfTable(quarter))
	lamp := lighting.Lamp{At: r3.Vec{Z: 1}, Axis: down, Across: r3.Vec{X: 1}, Lumens: 100, Optic: d}
	at := func(x, y float64) float64 { return lamp.LuxAt(r3.Vec{X: x, Y: y}, r3.Vec{Z: 1}) }
	near(t, "left and right", at(0.7, 0.1), at(-0.7, -0.1), 1e-9)
	if at(0.7, 0) < 10*at(0, 0.7) {
		t.Errorf("along %g, across %g", at(0.7, 0), at(0, 0.7))
	}
	g := lighting.Grid{X: -15, Y: -15, LengthM: 30, WidthM: 30, NX: 600, NY: 600}
	lux := make([]float64, 600*600)
	g.Add(lux, &lamp, 1)
	near(t, "its light on a wide plane", g.Landing(lux), 100, 0.01)

	for _, broken := range []func(*design.IntensityTable){
		func(t *design.IntensityTable) { t.VerticalDeg[3] = 1 },
		func(t *design.IntensityTable) { t.HorizontalDeg = []float64{0, 100} },
		func(t *design.IntensityTable) { t.Candela[0][2] = -1 },
		func(t *design.IntensityTable) { t.Candela = t.Candela[:0] },
		func(t *design.IntensityTable) { t.Candela[0] = make([]float64, 3) },
		func(t *design.IntensityTable) { t.Candela[0] = make([]float64, 4) },
		func(t *design.IntensityTable) { t.VerticalDeg[0] = 1 },
	} {
		table := &design.IntensityTable{VerticalDeg: []float64{0, 30, 60, 90}, HorizontalDeg: []float64{0}, Candela: [][]float64{{4, 3, 2, 0}}}
		broken(table)
		if _, err := lighting.OfTable(table); err == nil {
			t.Errorf("%+v is taken", table)
		}
	}
}

// onRectangle is what a point sees of a rectangle parallel to it, from above one of its corners
// (Howell, catalogue of configuration factors, memory; the two arctangents).
func onRectangle(a, b, h float64) float64 {
	x, y := a/h, b/h
	return (x/math.Sqrt(1+x*x)*math.Atan(y/math.Sqrt(1+x*x)) + y/math.Sqrt(1+y*y)*math.Atan(x/math.Sqrt(1+y*y))) / (2 * math.Pi)
}

// Light of a bare source over a rectangle, from above one of its corners, against the closed form
// of the view from a point to a rectangle parallel to it.
func TestLambertianOverRectangle(t *testing.T) {
	corner := onRectangle
	for _, h := range []float64{0.005, 0.01, 0.03, 0.1, 0.3, 1} {
		g := lighting.Grid{LengthM: 0.9, WidthM: 0.6, NX: 120, NY: 60}
		lamp := lighting.Lamp{At: r3.Vec{X: 0.3, Y: 0.2, Z: h}, Axis: down, Across: r3.Vec{X: 1}, Lumens: 1000, Optic: lighting.Lambertian()}
		want := 1000 * (corner(0.3, 0.2, h) + corner(0.6, 0.2, h) + corner(0.3, 0.4, h) + corner(0.6, 0.4, h))
		lux := make([]float64, g.NX*g.NY)
		g.Add(lux, &lamp, 1)
		near(t, "landing", g.Landing(lux), want, 5e-3)
		// Inverse square and cosine in one cell; taking the lamp away leaves nothing.
		at := g.Centre(40*120 + 100)
		r2 := r3.Norm2(r3.Sub(at, lamp.At))
		near(t, "one cell", lamp.LuxAt(at, r3.Vec{Z: 1}), 1000/math.Pi*h*h/(r2*r2), 2e-3)
		g.Add(lux, &lamp, -1)
		if left := g.Landing(lux); math.Abs(left) > 1e-9 {
			t.Errorf("%g is left", left)
		}
	}
	// From below, and aimed up, nothing lands.
	g := lighting.Grid{LengthM: 1, WidthM: 1, NX: 10, NY: 10}
	lux := make([]float64, 100)
	for _, lamp := range []lighting.Lamp{{At: r3.Vec{Z: -1}, Axis: r3.Vec{Z: 1}}, {At: r3.Vec{Z: 0}, Axis: down}, {At: r3.Vec{Z: 1}, Axis: r3.Vec{Z: 1}}} {
		lamp.Lumens, lamp.Optic = 100, lighting.Lambertian()
		g.Add(lux, &lamp, 1)
	}
	if x := g.Landing(lux); x != 0 {
		t.Errorf("%g lm land", x)
	}
}

// Four bare packages over 2 ft × 3 ft and 2 ft × 4 ft, each over the middle of its quarter: 88 %
// land from 10 cm and 53 % from 30 cm (computed).
func TestBarePackagesLand(t *testing.T) {
	const foot = 0.3048
	for _, c := range []struct{ height, want float64 }{{0.10, 0.88}, {0.30, 0.53}} {
		g := lighting.Grid{LengthM: 3 * foot, WidthM: 2 * foot, NX: 120, NY: 60}
		lux := make([]float64, g.NX*g.NY)
		for k := range 4 {
			lamp := lighting.Lamp{At: r3.Vec{X: g.LengthM * (0.25 + 0.5*float64(k%2)), Y: g.WidthM * (0.25 + 0.5*float64(k/2)), Z: c.height}, Axis: down, Across: r3.Vec{X: 1}, Lumens: 1, Optic: lighting.Lambertian()}
			g.Add(lux, &lamp, 1)
		}
		near(t, "landing", g.Landing(lux)/4, c.want, 0.02)
	}
}

// The peak of a far light and its distance (ANSI/PLATO FL 1: 0.25 lx, so twice the root of the
// candela): 10 000 cd reach 200 m.
func TestBeam(t *testing.T) {
	near(t, "10 000 cd", lighting.BeamDistance(10000), 200, 1e-12)
	near(t, "at that distance", lighting.LuxAt(10000, 200, 0), 0.25, 1e-12)
	near(t, "tilted by 60°", lighting.LuxAt(900, 3, math.Pi/3), 50, 1e-9)
	near(t, "10° at 50 m", lighting.WidthAt(10, 50), 8.749, 1e-3)
	near(t, "a beam of 10° out of 40 mm", lighting.MeasureFrom(0.04, 10), 1.143, 1e-3)
	lens := must[*lighting.Distribution](t)(lighting.Lens(12))
	axis := r3.Unit(r3.Vec{X: 1, Y: 0.2, Z: -0.1})
	cd, toward := lighting.Far{{Axis: axis, Lumens: 900, Optic: lens}, {Axis: axis, Lumens: 100, Optic: lens}}.Peak()
	near(t, "two alike", cd, 1000*lens.Peak(), 1e-6)
	if r3.Dot(toward, axis) < 1-1e-9 {
		t.Errorf("the peak lies toward %v", toward)
	}
	// Two beams side by side, closer than they are wide: the peak lies between.
	one, two := r3.Unit(r3.Vec{X: 1, Y: 0.04}), r3.Unit(r3.Vec{X: 1, Y: -0.04})
	_, toward = lighting.Far{{Axis: one, Lumens: 500, Optic: lens}, {Axis: two, Lumens: 500, Optic: lens}}.Peak()
	if math.Abs(toward.Y) > 2e-3 || toward.X < 0.999 {
		t.Errorf("between two beams the peak lies toward %v", toward)
	}
}

// A box lit evenly and reflecting alike all round: the light that arrives is what comes over
// 1 − ρ (the closed form of the integrating sphere, which holds for a box lit evenly).
func TestIntegratingBox(t *testing.T) {
	ctx := context.Background()
	const lumens, rho = 1000.0, 0.8
	even := func(n int) (lamps []lighting.Lamp) {
		// Light from the middle of a cube in all directions, as much on every m² of its sides:
		// E = I cos/r², so I ∝ r²/cos, which is the square of the distance to a side over cos³.
		for _, axis := range []r3.Vec{{X: 1}, {X: -1}, {Y: 1}, {Y: -1}, {Z: 1}, {Z: -1}} {
			one, two := lighting.Around(axis)
			for i := range n * n {
				u, v := (float64(i%n)+0.5)/float64(n)-0.5, (float64(i/n)+0.5)/float64(n)-0.5
				at := r3.Add(r3.Vec{X: 0.5, Y: 0.5, Z: 0.5}, r3.Add(r3.Scale(0.49, axis), r3.Add(r3.Scale(u, one), r3.Scale(v, two))))
				narrow, _ := lighting.Lens(60)
				lamps = append(lamps, lighting.Lamp{At: at, Axis: axis, Across: one, Lumens: lumens / float64(6*n*n), Optic: narrow})
			}
		}
		return lamps
	}
	room := must[lighting.Room](t)(lighting.NewRoom(lighting.Room{LengthM: 1, WidthM: 1, HeightM: 1, Floor: rho, Walls: rho, Ceiling: rho}))
	w, err := room.Reflect(ctx, even(12))
	if err != nil {
		t.Fatal(err)
	}
	near(t, "on the floor", w.FloorLm, lumens/6/(1-rho), 0.005)
	near(t, "on the walls", w.WallsLm, 4*lumens/6/(1-rho), 0.005)
	near(t, "what ends", w.Share.Floor+w.Share.Walls+w.Share.Ceiling, 1, 1e-4)
	g := lighting.Grid{LengthM: 1, WidthM: 1, NX: 40, NY: 40}
	lux := make([]float64, 1600)
	if err := w.Add(ctx, &g, lux); err != nil {
		t.Fatal(err)
	}
	near(t, "on the floor's map, reflected", g.Landing(lux), lumens/6*rho/(1-rho), 0.01)
}

// Walls against random walks: one bare lamp in a long low room, every photon followed on its own
// by the test. A run of 4·10⁷ walks is kept here as the truth; a shorter one shows that the code
// below still walks so.
func TestWallsAgainstWalks(t *testing.T) {
	ctx := context.Background()
	room := must[lighting.Room](t)(lighting.NewRoom(lighting.Room{LengthM: 1.2, WidthM: 0.6, HeightM: 0.8, Floor: 0.2, Walls: 0.9, Ceiling: 0.5}))
	lamp := lighting.Lamp{At: r3.Vec{X: 0.4, Y: 0.3, Z: 0.6}, Axis: down, Across: r3.Vec{X: 1}, Lumens: 1, Optic: lighting.Lambertian()}
	w, err := room.Reflect(ctx, []lighting.Lamp{lamp})
	if err != nil {
		t.Fatal(err)
	}
	const floor, walls, ceiling, quarter = 0.618067, 0.204137, 0.177796, 0.240632
	f, _, _, q := walk(room, lamp.At, 300_000)
	near(t, "a short walk, the floor", f, floor, 0.005)
	near(t, "a short walk, a quarter of it", q, quarter, 0.01)
	near(t, "ends on the floor", w.Share.Floor, floor, 0.004)
	near(t, "on the walls", w.Share.Walls, walls, 0.01)
	near(t, "on the ceiling", w.Share.Ceiling, ceiling, 0.01)
	if w.Within > 0.01 {
		t.Errorf("off by up to %g", w.Within)
	}
	g := lighting.Grid{LengthM: 0.6, WidthM: 0.3, NX: 60, NY: 30}
	lux := make([]float64, 1800)
	g.Add(lux, &lamp, 1)
	if err := w.Add(ctx, &g, lux); err != nil {
		t.Fatal(err)
	}
	near(t, "arrives on a quarter of the floor", g.Landing(lux), quarter, 0.01)
}

// walk follows photons from a bare lamp that looks down: shares that end on floor, walls and
// ceiling, and how often one arrives on the quarter of the floor at the origin.
func walk(room lighting.Room, from r3.Vec, n int) (floor, walls, ceiling, quarter float64) {
	r := rand.New(rand.NewPCG(3, 5))
	size := [3]float64{room.LengthM, room.WidthM, room.HeightM}
	for range n {
		at, normal := [3]float64{from.X, from.Y, from.Z}, [3]float64{0, 0, -1}
		for {
			// A diffuse direction: a point on the unit sphere added to the normal.
			z, a := 2*r.Float64()-1, 2*math.Pi*r.Float64()
			s := math.Sqrt(1 - z*z)
			d := [3]float64{normal[0] + s*math.Cos(a), normal[1] + s*math.Sin(a), normal[2] + z}
			best, axis := math.Inf(1), 0
			for k := range 3 {
				far := math.Inf(1)
				if d[k] > 0 {
					far = (size[k] - at[k]) / d[k]
				} else if d[k] < 0 {
					far = -at[k] / d[k]
				}
				if far > 1e-12 && far < best {
					best, axis = far, k
				}
			}
			for k := range 3 {
				at[k] = max(0, min(size[k], at[k]+best*d[k]))
			}
			normal = [3]float64{}
			normal[axis] = 1
			if d[axis] > 0 {
				normal[axis] = -1
			}
			share, count := room.Walls, &walls
			if axis == 2 && d[2] < 0 {
				share, count = room.Floor, &floor
				if at[0] < room.LengthM/2 && at[1] < room.WidthM/2 {
					quarter++
				}
			} else if axis == 2 {
				share, count = room.Ceiling, &ceiling
			}
			if r.Float64() >= share {
				*count++
				break
			}
		}
	}
	m := float64(n)
	return floor / m, walls / m, ceiling / m, quarter / m
}

func TestBadRooms(t *testing.T) {
	for _, r := range []lighting.Room{{LengthM: 0, WidthM: 1, HeightM: 1}, {LengthM: 1, WidthM: 1, HeightM: 1, Walls: 1}, {LengthM: 1, WidthM: 1, HeightM: 1, Floor: 1.2}, {LengthM: 1, WidthM: 1, HeightM: 1, Ceiling: -0.1}, {LengthM: 1, WidthM: math.NaN(), HeightM: 1}} {
		if _, err := lighting.NewRoom(r); err == nil {
			t.Errorf("%+v is taken", r)
		}
	}
	room := lighting.Room{LengthM: 1, WidthM: 1, HeightM: 1, Walls: 0.5}
	if _, err := room.Reflect(context.Background(), []lighting.Lamp{{At: r3.Vec{X: 0.5, Y: 0.5, Z: 1.2}, Axis: down, Lumens: 1, Optic: lighting.Lambertian()}}); err == nil || !strings.Contains(err.Error(), "outside of the room") {
		t.Errorf("a light above the ceiling: %v", err)
	}
}

// Many at once are as one after the other: tabled or not, near and far, level and leaning.
func TestManyAtOnce(t *testing.T) {
	wide, _ := lighting.Lens(100)
	narrow, _ := lighting.Lens(9)
	r := rand.New(rand.NewPCG(1, 2))
	var lamps []lighting.Lamp
	for i := range 60 {
		axis := r3.Vec{Z: -1}
		if i%5 == 0 {
			axis = r3.Unit(r3.Vec{X: 0.4, Z: -1})
		}
		lamps = append(lamps, lighting.Lamp{At: r3.Vec{X: 2*r.Float64() - 0.5, Y: r.Float64(), Z: []float64{0.004, 0.2, 0.5, 3}[i%4]}, Axis: axis, Across: r3.Vec{Y: 1}, Lumens: 100 * r.Float64(), Optic: []*lighting.Distribution{wide, narrow, lighting.Lambertian()}[i%3]})
	}
	g := lighting.Grid{LengthM: 1.2, WidthM: 0.6, NX: 80, NY: 41}
	one, all := make([]float64, g.NX*g.NY), make([]float64, g.NX*g.NY)
	for i := range lamps {
		g.Add(one, &lamps[i], 1)
	}
	g.AddAll(all, lamps)
	for i := range one {
		near(t, "a cell", all[i], one[i], 1e-3)
	}
}

// A beam so narrow that it strikes less than a patch is not lost: straight down all of it comes to
// the floor first, and aslant to the wall it is aimed at.
func TestNarrowBeamInARoom(t *testing.T) {
	needle := must[*lighting.Distribution](t)(lighting.Lens(0.5))
	room := lighting.Room{LengthM: 4, WidthM: 3, HeightM: 2.5, Walls: 0.5}
	for _, c := range []struct {
		axis         r3.Vec
		floor, walls float64
	}{{r3.Vec{Z: -1}, 1, 0}, {r3.Unit(r3.Vec{X: 1, Z: -0.1}), 0, 0.5}} {
		w, err := room.Reflect(context.Background(), []lighting.Lamp{{At: r3.Vec{X: 1.01, Y: 1.51, Z: 2}, Axis: c.axis, Across: r3.Vec{Y: 1}, Lumens: 300, Optic: needle}})
		if err != nil {
			t.Fatal(err)
		}
		near(t, "all of it", w.Share.Floor+w.Share.Walls+w.Share.Ceiling, 1, 1e-3)
		if w.Share.Floor < c.floor-1e-3 || w.Share.Walls < c.walls {
			t.Errorf("%v: %+v", c.axis, w.Share)
		}
	}
}

// A needle on the floor makes a bright patch there; what of its light comes to the ceiling next is
// the view of the ceiling from that place.
func TestNeedleStrikesItsPatch(t *testing.T) {
	needle := must[*lighting.Distribution](t)(lighting.Lens(0.5))
	room := lighting.Room{LengthM: 4, WidthM: 3, HeightM: 2.5, Floor: 0.9}
	for _, at := range []r3.Vec{{X: 1.75, Y: 1.75, Z: 2}, {X: 0.25, Y: 2.75, Z: 2}, {X: 3.25, Y: 0.75, Z: 2}} {
		w, err := room.Reflect(context.Background(), []lighting.Lamp{{At: at, Axis: down, Across: r3.Vec{Y: 1}, Lumens: 300, Optic: needle}})
		if err != nil {
			t.Fatal(err)
		}
		x, y := at.X, at.Y
		want := 0.9 * (onRectangle(x, y, 2.5) + onRectangle(4-x, y, 2.5) + onRectangle(x, 3-y, 2.5) + onRectangle(4-x, 3-y, 2.5))
		near(t, "on the ceiling", w.Share.Ceiling, want, 0.03)
	}
}

// Light behind an optic is kept too, and followed.
func TestLightBehind(t *testing.T) {
	table := &design.IntensityTable{VerticalDeg: []float64{0, 60, 90, 120, 180}, HorizontalDeg: []float64{0}, Candela: [][]float64{{1, 2, 3, 4, 5}}}
	d := must[*lighting.Distribution](t)(lighting.OfTable(table))
	near(t, "back over front", d.At(-0.9999)/d.At(0.9999), 5, 0.02)
	near(t, "at 120°", d.At(-0.5)/d.At(0), 4.0/3, 0.01)
	near(t, "all of it", overSphere(d), 1, 5e-3)
	lamp := lighting.Lamp{At: r3.Vec{X: 0.5, Y: 0.5, Z: 1}, Axis: r3.Vec{Z: 1}, Across: r3.Vec{X: 1}, Lumens: 10, Optic: d}
	g := lighting.Grid{LengthM: 1, WidthM: 1, NX: 21, NY: 21}
	lux := make([]float64, 441)
	g.Add(lux, &lamp, 1)
	near(t, "below one that looks up", lux[10*21+10], lamp.LuxAt(g.Centre(10*21+10), r3.Vec{Z: 1}), 1e-9)
}
