package target

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"photherm/core/design"
	"photherm/core/lighting"
	"photherm/core/units"
)

// A Beam is what a light throws far away.
type Beam struct {
	PeakCd    float64     `json:"peakCd"`
	DistanceM float64     `json:"distanceM" doc:"To 0.25 lx, ANSI/PLATO FL 1"`
	WidthDeg  float64     `json:"widthDeg" doc:"Full width at half of its peak, degrees, in the level plane through its axis"`
	FieldDeg  float64     `json:"fieldDeg" doc:"Full width at a tenth of its peak"`
	MeasureM  float64     `json:"measureFromM" doc:"From how far it can be measured; 0: the opening is not known"`
	TiltDeg   float64     `json:"tiltDeg" doc:"Where its peak looks, from straight down"`
	HeightM   float64     `json:"heightM" doc:"Of the light above the ground"`
	Around    []Polar     `json:"around" nullable:"false" doc:"Its intensity in the upright plane through its peak"`
	Along     []AtReach   `json:"along" nullable:"false" doc:"At distances along the beam"`
	Reaches   []Isolux    `json:"reaches" nullable:"false" doc:"Where what faces the light gets so many lux, in the upright plane"`
	Ground    []AtReach   `json:"ground" nullable:"false" doc:"On level ground before the light"`
	At        *AtReach    `json:"at" doc:"What comes to the distance that is asked about, on a plane tilted so from facing it; null: none was"`
	Optics    []OneOptic  `json:"optics" nullable:"false" doc:"Its own optic, then others on the same emitters"`
	Compare   *Comparison `json:"compare" doc:"Against another variant; null: none was asked for"`
}

// Polar is intensity in a direction.
type Polar struct {
	Deg float64 `json:"deg" doc:"Above the peak, degrees; below it negative"`
	Cd  float64 `json:"cd"`
}

// AtReach is what comes to a distance.
type AtReach struct {
	M      float64 `json:"m" doc:"From the light; on the ground from below it"`
	Lux    float64 `json:"lux" doc:"On what faces the light; on the ground on level ground"`
	SpotM  float64 `json:"spotM" doc:"How wide the beam is there at half of its peak, m; on the ground 0"`
	SpillM float64 `json:"spillM" doc:"And at a tenth of it"`
}

// An Isolux is an outline: where what faces the light gets so many lux.
type Isolux struct {
	Lux float64  `json:"lux"`
	Rim []Spread `json:"rim" nullable:"false"`
}

// A Spread is a place forward of the light and up from it, m.
type Spread struct {
	X float64 `json:"x"`
	Z float64 `json:"z"`
}

// A Comparison is what one sees between two lights.
type Comparison struct {
	With     string  `json:"with"`
	Lumens   float64 `json:"lumens" doc:"This one's over the other's"`
	Distance float64 `json:"distance" doc:"Likewise"`
	Words    string  `json:"words"`

	PeakCd    float64  `json:"peakCd" doc:"Of the other"`
	DistanceM float64  `json:"distanceM" doc:"Of the other, to 0.25 lx"`
	HeightM   float64  `json:"heightM" doc:"Of the other above the ground"`
	Reaches   []Isolux `json:"reaches" nullable:"false" doc:"The other's outlines, as its own are told"`
}

// reachesLux are the outlines drawn: 0.25 lx as ANSI/PLATO FL 1 ends a beam, about full moon; 1 lx
// walking on a path; 10 lx doing something there (common practice).
var reachesLux = []float64{0.25, 1, 10}

// beam is the light as a beam.
func (l *Lit) beam() *Beam {
	far := farOf(l.weigh(lumens))
	cd, toward := far.Peak()
	if !(cd > 0) {
		return nil
	}
	b := &Beam{PeakCd: cd, DistanceM: lighting.BeamDistance(cd), TiltDeg: math.Acos(max(-1, min(1, -toward.Z))) * 180 / math.Pi, HeightM: l.middle().Z, Around: []Polar{}, Along: []AtReach{}, Reaches: []Isolux{}, Ground: []AtReach{}, Optics: []OneOptic{}}
	up := upOf(toward)
	b.WidthDeg, b.FieldDeg = widthOf(far, toward, cd/2), widthOf(far, toward, cd/10)
	b.Around = upright(far, toward, up)
	b.Reaches = outlines(b.Around, toward, up)
	for _, m := range []float64{1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000} {
		if m > 1.5*b.DistanceM && m > 10 {
			break
		}
		b.Along = append(b.Along, AtReach{m, lighting.LuxAt(cd, m, 0), lighting.WidthAt(b.WidthDeg, m), lighting.WidthAt(b.FieldDeg, m)})
	}
	b.ground(l, toward)
	for n := range design.Nodes(l.Variant) {
		if n.Optic != nil && n.Optic.OpeningM != nil {
			b.MeasureM = max(b.MeasureM, lighting.MeasureFrom(*n.Optic.OpeningM, b.WidthDeg))
		}
	}
	b.Optics = l.otherOptics(b)
	return b
}

// upright is the intensity of a light in the plane of its peak and up, finer near the peak.
func upright(far lighting.Far, toward, up r3.Vec) (out []Polar) {
	for i := -180; i <= 180; i++ {
		// The cube keeps the middle.
		x := float64(i) / 180
		rad := math.Pi * (0.15*x + 0.85*x*x*x)
		sin, cos := math.Sincos(rad)
		out = append(out, Polar{rad * 180 / math.Pi, far.Candela(r3.Add(r3.Scale(cos, toward), r3.Scale(sin, up)))})
	}
	return out
}

// outlines are where what faces a light gets so many lux, in the frame of the ground: forward is
// level.
func outlines(around []Polar, toward, up r3.Vec) (out []Isolux) {
	forward := math.Hypot(toward.X, toward.Y)
	for _, at := range reachesLux {
		iso := Isolux{Lux: at}
		for _, p := range around {
			r := math.Sqrt(p.Cd / at)
			sin, cos := math.Sincos(p.Deg * math.Pi / 180)
			d := r3.Add(r3.Scale(cos, toward), r3.Scale(sin, up))
			x := d.Z
			if forward > 1e-9 {
				x = (d.X*toward.X + d.Y*toward.Y) / forward
			}
			iso.Rim = append(iso.Rim, Spread{rounded(r * x), rounded(r * d.Z)})
		}
		out = append(out, iso)
	}
	return out
}

// upOf is up, as seen along a beam.
func upOf(toward r3.Vec) r3.Vec {
	_, up := lighting.Around(toward)
	if up.Z < 0 || up.Z == 0 && up.X < 0 {
		return r3.Scale(-1, up)
	}
	return up
}

// tilted is what comes to a distance on a plane that is tilted from facing the light, degrees.
func (b *Beam) tilted(distanceM, tiltDeg float64) {
	b.At = &AtReach{distanceM, lighting.LuxAt(b.PeakCd, distanceM, tiltDeg*math.Pi/180), lighting.WidthAt(b.WidthDeg, distanceM), lighting.WidthAt(b.FieldDeg, distanceM)}
}

// ground is the light on level ground before the light.
func (b *Beam) ground(l *Lit, toward r3.Vec) {
	forward := r3.Vec{X: toward.X, Y: toward.Y}
	if r3.Norm2(forward) < 1e-12 {
		forward = r3.Vec{X: 1}
	}
	forward = r3.Unit(forward)
	from := l.middle()
	if !(from.Z > 0) {
		return
	}
	far := max(10, min(2*b.DistanceM, 2000))
	for i := range 61 {
		m := far * math.Pow(float64(i)/60, 2)
		at := r3.Add(r3.Vec{X: from.X, Y: from.Y}, r3.Scale(m, forward))
		b.Ground = append(b.Ground, AtReach{M: m, Lux: l.LuxAt(at, r3.Vec{Z: 1})})
	}
}

// farOf is lamps from afar, where it is all the same from which point of a light its light leaves.
func farOf(lamps []lighting.Lamp) lighting.Far {
	type way struct {
		axis, across r3.Vec
		optic        *lighting.Distribution
	}
	at := map[way]int{}
	var far lighting.Far
	for _, lamp := range lamps {
		key := way{lamp.Axis, lamp.Across, lamp.Optic}
		if i, ok := at[key]; ok {
			far[i].Lumens += lamp.Lumens
			continue
		}
		at[key] = len(far)
		far = append(far, lamp)
	}
	return far
}

// widthOf is the full width, degrees, of a beam in the level plane through its peak within which
// it stays at or above a limit.
func widthOf(far lighting.Far, toward r3.Vec, limit float64) float64 {
	side, _ := lighting.Around(toward)
	return width(func(rad float64) float64 {
		sin, cos := math.Sincos(rad)
		return far.Candela(r3.Add(r3.Scale(cos, toward), r3.Scale(sin, side)))
	}, limit)
}

// width is the full angle, degrees, within which an intensity stays at or above a limit, on both
// sides of the peak.
func width(cd func(float64) float64, limit float64) float64 {
	side := func(sign float64) float64 {
		const steps = 720
		last := 0.0
		for i := 1; i <= steps; i++ {
			x := float64(i) / steps
			a := math.Pi * x * x
			if cd(sign*a) < limit {
				low, high := last, a
				for range 40 {
					if mid := (low + high) / 2; cd(sign*mid) < limit {
						high = mid
					} else {
						low = mid
					}
				}
				return low
			}
			last = a
		}
		return math.Pi
	}
	return (side(1) + side(-1)) * 180 / math.Pi
}

// LuxAt is what reaches a point on a surface that faces along a normal, lx, straight from the lights.
func (l *Lit) LuxAt(p, normal r3.Vec) float64 {
	sum := 0.0
	for i := range l.points {
		sum += l.points[i].LuxAt(p, normal)
	}
	return sum
}

// middle is the middle of the lights.
func (l *Lit) middle() r3.Vec {
	sum, lm := r3.Vec{}, 0.0
	for i := range l.points {
		sum, lm = r3.Add(sum, r3.Scale(l.points[i].Lumens, l.points[i].At)), lm+l.points[i].Lumens
	}
	if lm == 0 {
		return r3.Vec{}
	}
	return r3.Scale(1/lm, sum)
}

// How much more light is seen as more (common practice among those who compare lamps out of
// doors): below half as much again it is hardly visible from one evening to the next; twice the
// light is a clear step; four times looks about twice as bright, and reaches twice as far.
const (
	hardlyTimes = 1.5
	clearTimes  = 3
)

// Compare tells what one sees between this light and another.
func (l *Lit) Compare(with *Lit, name string) *Comparison {
	a, _ := farOf(l.weigh(lumens)).Peak()
	other := farOf(with.weigh(lumens))
	b, toward := other.Peak()
	if !(a > 0 && b > 0) {
		return nil
	}
	up := upOf(toward)
	c := &Comparison{With: name, Lumens: l.Lumens() / with.Lumens(), Distance: math.Sqrt(a / b), PeakCd: b, DistanceM: lighting.BeamDistance(b), HeightM: with.middle().Z, Reaches: outlines(upright(other, toward, up), toward, up)}
	say := func(times float64, what string) string {
		step := max(times, 1/times)
		switch as := fmt.Sprintf("%s times as much %s", units.Plain(times, 3), what); {
		case step < 1.02:
			return "as much " + what
		case step < hardlyTimes:
			return as + ", hardly visible"
		case step < clearTimes:
			return as + ", a clear step"
		default:
			return as + ", another class of light"
		}
	}
	c.Words = fmt.Sprintf("%s; in the middle of the beam %s; it reaches %.2f times as far", say(c.Lumens, "light"), say(a/b, "light"), c.Distance)
	return c
}
