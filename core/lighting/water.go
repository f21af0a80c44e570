package lighting

import (
	"fmt"
	"math"
	"runtime"
	"sync"

	"gonum.org/v1/gonum/spatial/r3"
)

// Refractive indices at 589 nm, 20 °C (handbooks, memory: water 1.333, soda-lime glass 1.52).
const (
	waterIndex = 1.333
	glassIndex = 1.52
)

// Fresnel is the share of unpolarised light that a smooth surface reflects, from an index n1 into
// n2, at a cosine to its normal, 0…1; 1 where it is total.
func Fresnel(n1, n2, c float64) float64 {
	s := n1 / n2 * math.Sqrt(max(0, 1-c*c))
	if s >= 1 {
		return 1
	}
	t := math.Sqrt(1 - s*s)
	across := (n1*c - n2*t) / (n1*c + n2*t)
	along := (n1*t - n2*c) / (n1*t + n2*c)
	return (across*across + along*along) / 2
}

// pane is what a pane of glass reflects between an index n on the near side and air on the far
// one, and what it lets through, at a cosine on the near side: its two surfaces with all that goes
// to and fro between them; what the glass swallows is left out.
func pane(n, c float64) (reflects, through float64) {
	s := n * math.Sqrt(max(0, 1-c*c))
	if s >= 1 { // the sine in air: total at the last surface, or at the first
		return 1, 0
	}
	inGlass := math.Sqrt(1 - s*s/(glassIndex*glassIndex))
	a, b := Fresnel(n, glassIndex, c), Fresnel(glassIndex, 1, inGlass)
	reflects = a + (1-a)*(1-a)*b/(1-a*b)
	return reflects, 1 - reflects
}

// Bands are the parts of the spectrum that water swallows unlike: blue 400–500, green 500–600,
// red 600–700 and far red 700–750 nm. Counted beside them is light as eyes see it, Seen, which
// water swallows as it does green.
const (
	Bands    = 4
	Seen     = Bands
	Counted  = Bands + 1
	seenLike = 1
)

// Water is what a water swallows of each band, 1/m.
type Water [Bands]float64

func (w *Water) of(counted int) float64 {
	if counted == Seen {
		return w[seenLike]
	}
	return w[counted]
}

// Waters by name. Clear is what pure water swallows (Pope & Fry 1997, memory: about 0.01, 0.07
// and 0.35 1/m in the middle of the bands, 0.9 at 725 nm) and a little that swims in it; tannin
// and green are common practice: a tea-coloured and an algae-coloured tank.
var Waters = map[string]Water{
	"clear":  {0.03, 0.08, 0.36, 0.9},
	"tannin": {2.5, 1.0, 0.6, 1.1},
	"green":  {1.6, 0.7, 1.2, 1.3},
}

// A Tank is a box of water from 0 to its length and width; its floor lies at z = 0 and the light
// hangs above its surface.
type Tank struct {
	LengthM, WidthM float64
	DepthM          float64 // of the water
	RimM            float64 // of glass above the water
	CoverGlass      bool    // a pane lies between light and water
	Black           bool    // the sides swallow all; else they are clear glass with air behind
	Water           Water
}

// Fault tells what no tank has.
func (t *Tank) Fault() error {
	for _, side := range []struct {
		name string
		x    float64
	}{{"length", t.LengthM}, {"width", t.WidthM}, {"water", t.DepthM}} {
		if !(side.x > 0) {
			return fmt.Errorf("the tank has no %s", side.name)
		}
	}
	return nil
}

// tableSteps is how finely the way from a height above the water to a depth is tabled over the
// distance aside, and mostMirrors through how many sides in a row a way is followed along each
// axis (chosen: the last that count add below 1e-4).
const (
	waySteps    = 600
	mostMirrors = 9
)

// ways are the ways from a lamp at one height above the water to one depth, by the distance aside.
type ways struct {
	step  float64
	sine  []float64 // of the angle in air to the vertical
	aside []float64 // how far of it lies in the air
	// For each m² of a level plane in the water the solid angle in air, with what surface, cover
	// and water let through of what is counted.
	spread [Counted][]float64
	last   int
}

// waysTo tables them. The rays fan out from the lamp: each has its sine in air, from which all
// else follows by Snell's law, so nothing has to be solved for.
func waysTo(height, depth, farthest float64, cover bool, water *Water) *ways {
	w := &ways{step: farthest / waySteps}
	rho := func(s float64) (x, inAir float64) {
		c := math.Sqrt(1 - s*s)
		sw := s / waterIndex
		inAir = height * s / c
		return inAir + depth*sw/math.Sqrt(1-sw*sw), inAir
	}
	s := 0.0
	for i := range waySteps + 1 {
		want := float64(i) * w.step
		for range 60 { // Newton, kept below grazing
			x, _ := rho(s)
			c2 := 1 - s*s
			sw := s / waterIndex
			slope := height/(c2*math.Sqrt(c2)) + depth/waterIndex/math.Pow(1-sw*sw, 1.5)
			next := s + (want-x)/slope
			if next >= 1 {
				next = (s + 1) / 2
			}
			if next < 0 {
				next = s / 2
			}
			if math.Abs(next-s) < 1e-13 {
				s = next
				break
			}
			s = next
		}
		_, inAir := rho(s)
		c, sw := math.Sqrt(1-s*s), s/waterIndex
		cw := math.Sqrt(1 - sw*sw)
		slope := height/(c*c*c) + depth/waterIndex/(cw*cw*cw) // dρ/ds
		solid := 1 / (slope * slope * c)                      // on the axis, where ρ → s·slope
		if want > 0 {
			solid = s / (c * want * slope) // dΩ = s ds dφ / c over dA = ρ dρ dφ
		}
		through := 1 - Fresnel(1, waterIndex, c)
		if cover {
			_, t := pane(1, c)
			through *= t
		}
		w.sine = append(w.sine, s)
		w.aside = append(w.aside, inAir)
		for b := range w.spread {
			w.spread[b] = append(w.spread[b], solid*through*math.Exp(-water.of(b)*depth/cw))
		}
	}
	w.last = waySteps
	return w
}

// mirrors is what one side gives back, tabled over the cosine to it.
type mirrors [257]float64

func mirrorOf(n float64, black bool) (m mirrors) {
	if black {
		return m
	}
	for i := range m {
		m[i], _ = pane(n, float64(i)/float64(len(m)-1))
	}
	return m
}

func (m *mirrors) at(c float64) float64 {
	x := min(1, max(0, c)) * float64(len(m)-1)
	i := min(int(x), len(m)-2)
	return m[i] + (x-float64(i))*(m[i+1]-m[i])
}

// times is what so many sides in a row give back, all struck at the same cosine.
func (m *mirrors) times(c float64, n int) float64 {
	x := 1.0
	if n > 0 {
		x = m.at(c)
		for one := x; n > 1; n-- {
			x *= one
		}
	}
	return x
}

// Add adds what reaches a level plane at a depth below the surface: each of what is
// counted, of each lamp whose light is given so. grid's Z is not looked at; its rectangle lies in the tank.
// into has for each band one figure for each cell; light has for each lamp the light it gives in
// each band, any unit. What the floor throws back is left out.
func (t *Tank) Add(into *[Counted][]float64, g *Grid, depth float64, lamps []Lamp, light [][Counted]float64) error {
	if err := t.Fault(); err != nil {
		return err
	}
	if depth <= 0 || depth > t.DepthM+1e-9 {
		return fmt.Errorf("there is no water %g m below the surface", depth)
	}
	inAir, inWater := mirrorOf(1, t.Black), mirrorOf(waterIndex, t.Black)
	tables, byHeight := map[float64]*ways{}, make([]*ways, len(lamps))
	for l := range lamps {
		lamp := &lamps[l]
		height := lamp.At.Z - t.DepthM
		if height <= 0 {
			return fmt.Errorf("a light lies %.0f mm below the surface: lights in the water are not calculated", -1000*height)
		}
		far := math.Hypot(float64(mostMirrors+1)*t.LengthM, float64(mostMirrors+1)*t.WidthM)
		far = min(far, farAside(height, depth))
		w := tables[height]
		if w == nil {
			w = waysTo(height, depth, far, t.CoverGlass, &t.Water)
			tables[height] = w
		}
		if cutsFor(max(g.LengthM/float64(g.NX), g.WidthM/float64(g.NY)), height+depth, lamp.Optic) > deepest && lamp.Optic.half < needle {
			t.follow(into, g, depth, lamp, &light[l], &inAir, &inWater)
			continue
		}
		byHeight[l] = w
	}
	// A few cells at a time go to as many workers as there are processors.
	const few = 16
	cells, some := g.NX*g.NY, make(chan int)
	var done sync.WaitGroup
	for range min((cells+few-1)/few, runtime.GOMAXPROCS(0)) {
		done.Go(func() {
			for from := range some {
				for l := range lamps {
					if byHeight[l] == nil { // it was followed by rays
						continue
					}
					t.addLamp(into, g, from, min(from+few, cells), &lamps[l], &light[l], byHeight[l], depth, &inAir, &inWater)
				}
			}
		})
	}
	for from := 0; from < cells; from += few {
		some <- from
	}
	close(some)
	done.Wait()
	return nil
}

// grazing is the sine in air beyond which nothing worth counting gets into the water (chosen: the
// surface then reflects half and more, and the solid angle left is small).
const grazing = 0.997

// farAside is how far aside light gets at most.
func farAside(height, depth float64) float64 {
	sw := grazing / waterIndex
	return height*grazing/math.Sqrt(1-grazing*grazing) + depth*sw/math.Sqrt(1-sw*sw)
}

// crossed is how many planes at whole multiples of a length lie between two places.
func crossed(a, b, length float64) int {
	n := int(math.Floor(b/length)) - int(math.Floor(a/length))
	return max(n, -n)
}

// follow sends rays of equal light down to a depth, through the mirror images of the tank.
func (t *Tank) follow(into *[Counted][]float64, g *Grid, depth float64, l *Lamp, light *[Counted]float64, inAir, inWater *mirrors) {
	side := r3.Cross(l.Axis, l.Across)
	height, area := l.At.Z-t.DepthM, g.LengthM/float64(g.NX)*g.WidthM/float64(g.NY)
	rim := min(height, t.RimM)
	for i, c := range l.Optic.rays(raysOf) {
		d := l.ray(i, c, side)
		if d.Z >= 0 {
			continue
		}
		cos, sine := -d.Z, math.Sqrt(max(0, 1-d.Z*d.Z))
		in := math.Sqrt(1 - sine*sine/(waterIndex*waterIndex))
		at := func(air, water float64) (x, y float64) { // so far down through air, then water
			far := air/cos + water/in/waterIndex
			return l.At.X + far*d.X, l.At.Y + far*d.Y
		}
		rx, ry := at(height-rim, 0)
		if crossed(l.At.X, rx, t.LengthM)+crossed(l.At.Y, ry, t.WidthM) > 0 {
			continue
		}
		sx, sy := at(height, 0)
		x, y := at(height, depth)
		ax, ay := math.Abs(d.X), math.Abs(d.Y)
		back := inAir.times(ax, crossed(l.At.X, sx, t.LengthM)) * inAir.times(ay, crossed(l.At.Y, sy, t.WidthM))
		back *= inWater.times(ax/waterIndex, crossed(sx, x, t.LengthM)) * inWater.times(ay/waterIndex, crossed(sy, y, t.WidthM))
		back *= 1 - Fresnel(1, waterIndex, cos)
		if t.CoverGlass {
			_, through := pane(1, cos)
			back *= through
		}
		k, ok := g.cell(folded(x, t.LengthM), folded(y, t.WidthM))
		if !ok {
			continue
		}
		for b := range into {
			if into[b] != nil {
				into[b][k] += light[b] * back / raysOf / area * math.Exp(-t.Water.of(b)*depth/in)
			}
		}
	}
}

// folded is a place in a mirror image, back in the tank.
func folded(x, length float64) float64 {
	x = math.Mod(math.Abs(x), 2*length)
	if x > length {
		x = 2*length - x
	}
	return x
}

func (t *Tank) addLamp(into *[Counted][]float64, g *Grid, from, to int, lamp *Lamp, light *[Counted]float64, w *ways, depth float64, inAir, inWater *mirrors) {
	L, W := t.LengthM, t.WidthM
	height := lamp.At.Z - t.DepthM
	// Glass above the water ends at the rim: what leaves above it does not come back.
	rim := min(1, t.RimM/height)
	reach := w.step * float64(w.last)
	kx, ky := min(mostMirrors, int(reach/L)+1), min(mostMirrors, int(reach/W)+1)
	if t.Black {
		kx, ky = 0, 0
	}
	dx, dy := g.LengthM/float64(g.NX), g.WidthM/float64(g.NY)
	cuts := min(deepest, cutsFor(max(dx, dy), height+depth, lamp.Optic))
	for i := from * cuts * cuts; i < to*cuts*cuts; i++ {
		cell, k := i/(cuts*cuts), i%(cuts*cuts)
		at := g.Centre(cell)
		at.X += dx * ((float64(k%cuts)+0.5)/float64(cuts) - 0.5)
		at.Y += dy * ((float64(k/cuts)+0.5)/float64(cuts) - 0.5)
		var sum [Counted]float64
		for mx := -kx; mx <= kx; mx++ {
			x := unfold(at.X, L, mx)
			dx := x - lamp.At.X
			if math.Abs(dx) > reach {
				continue
			}
			for my := -ky; my <= ky; my++ {
				y := unfold(at.Y, W, my)
				dy := y - lamp.At.Y
				rho := math.Sqrt(dx*dx + dy*dy)
				if rho >= reach {
					continue
				}
				u := rho / w.step
				j := int(u)
				f := u - float64(j)
				lerp := func(list []float64) float64 { return list[j] + f*(list[j+1]-list[j]) }
				sine, aside := lerp(w.sine), lerp(w.aside)
				ex, ey := 0.0, 0.0
				if rho > 0 {
					ex, ey = dx/rho, dy/rho
				}
				sx, sy := lamp.At.X+ex*aside, lamp.At.Y+ey*aside // where it enters the water
				back := 1.0
				if mx != 0 || my != 0 || sx < 0 || sx > L || sy < 0 || sy > W {
					ax, ay := math.Abs(ex)*sine, math.Abs(ey)*sine
					// Above the rim there is nothing: a way that crosses a side there is lost.
					rx, ry := lamp.At.X+ex*aside*(1-rim), lamp.At.Y+ey*aside*(1-rim)
					if crossed(lamp.At.X, rx, L)+crossed(lamp.At.Y, ry, W) > 0 {
						continue
					}
					back = inAir.times(ax, crossed(lamp.At.X, sx, L)) * inAir.times(ay, crossed(lamp.At.Y, sy, W))
					back *= inWater.times(ax/waterIndex, crossed(sx, x, L)) * inWater.times(ay/waterIndex, crossed(sy, y, W))
					if back < 1e-6 {
						continue
					}
				}
				direction := r3.Vec{X: ex * sine, Y: ey * sine, Z: -math.Sqrt(1 - sine*sine)}
				back *= lamp.Optic.toward(direction, lamp.Axis, lamp.Across)
				for b := range sum {
					if light[b] != 0 {
						sum[b] += light[b] * back * lerp(w.spread[b])
					}
				}
			}
		}
		for b := range sum {
			if into[b] != nil {
				into[b][cell] += sum[b] / float64(cuts*cuts)
			}
		}
	}
}

// unfold is where a place between 0 and a length lies in the so many-th mirror image.
func unfold(x, length float64, k int) float64 {
	if k%2 == 0 {
		return float64(k)*length + x
	}
	return float64(k+1)*length - x
}
