// Package lighting answers where light goes: how intensity leaves an optic, and what reaches a
// plane, the walls of a room, and the bottom of a tank. It knows geometry and lumens; spectra are
// photometry's, and what burns how brightly is the chain's.
//
// Lengths are in metres, angles in radians unless a name says degrees, intensities in candela for
// each lumen that leaves the optic. z points up.
package lighting

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"photherm/core/design"
)

// How fine an intensity is tabled in the cosine to its axis: in the beam, beside it, behind it
// (chosen: a cosine power of a beam of 3° is then met to 1e-4 of its peak).
const (
	inBeam, beside, behind = 1024, 512, 128
)

// A Distribution is how intensity leaves an optic, cd for each lumen, against the cosine of the
// angle to its axis; some differ also around the axis.
type Distribution struct {
	beam, side []float64 // over [edge, 1] and [0, edge]
	back       []float64 // over [-1, 0]; nil: dark
	edge       float64
	half       float64 // half its width at half of its peak, rad
	perBeam    float64
	perSide    float64
	turned     *turned // nil: the same all round
}

// turned is an intensity table around the axis too.
type turned struct {
	vertical, horizontal []float64 // rad, rising
	cd                   [][]float64
}

// tabled makes a distribution of any shape in the cosine, edge being where its beam ends, and
// scales it so that one lumen leaves.
func tabled(shape func(c float64) float64, edge float64, back bool) *Distribution {
	d := &Distribution{edge: edge, perBeam: inBeam / (1 - edge), perSide: beside / edge}
	fill := func(n int, from, to float64) []float64 {
		out := make([]float64, n+1)
		for i := range out {
			out[i] = shape(from + (to-from)*float64(i)/float64(n))
		}
		return out
	}
	d.beam, d.side = fill(inBeam, edge, 1), fill(beside, 0, edge)
	if back {
		d.back = fill(behind, -1, 0)
	}
	if whole := d.flux(); whole > 0 {
		for _, part := range [][]float64{d.beam, d.side, d.back} {
			for i := range part {
				part[i] /= whole
			}
		}
	}
	d.half = d.Width(0.5) / 2 * math.Pi / 180
	return d
}

// flux is 2π∫I dc of what is tabled, straight between its entries.
func (d *Distribution) flux() float64 {
	sum := func(part []float64, span float64) float64 {
		if len(part) < 2 {
			return 0
		}
		s := (part[0] + part[len(part)-1]) / 2
		for _, x := range part[1 : len(part)-1] {
			s += x
		}
		return s * span / float64(len(part)-1)
	}
	return 2 * math.Pi * (sum(d.beam, 1-d.edge) + sum(d.side, d.edge) + sum(d.back, 1))
}

// At is the intensity in a direction at a cosine c to the axis, −1…1, cd/lm; of an intensity that
// differs around the axis it is the mean.
func (d *Distribution) At(c float64) float64 {
	part, x := d.side, 0.0
	switch {
	case c >= d.edge:
		part, x = d.beam, (c-d.edge)*d.perBeam
	case c >= 0:
		x = c * d.perSide
	case d.back == nil:
		return 0
	default:
		part, x = d.back, (c+1)*behind
	}
	i := min(int(x), len(part)-2)
	f := x - float64(i)
	return part[i] + f*(part[i+1]-part[i])
}

// toward is the intensity in a direction, unit, of an optic with an axis and a direction across
// it, both unit, cd/lm.
func (d *Distribution) toward(direction, axis, across r3.Vec) float64 {
	c := max(-1, min(1, r3.Dot(direction, axis)))
	if d.turned == nil {
		return d.At(c)
	}
	side := r3.Cross(axis, across)
	round := math.Atan2(r3.Dot(direction, side), r3.Dot(direction, across))
	if round < 0 {
		round += 2 * math.Pi
	}
	return d.turned.at(math.Acos(c), round)
}

// at is straight between the entries of the table.
func (t *turned) at(polar, round float64) float64 {
	i, f := placeIn(t.vertical, polar)
	if f < 0 {
		return 0
	}
	j, g := placeIn(t.horizontal, round)
	g = max(0, g)
	lerp := func(row []float64) float64 { return row[j]*(1-g) + row[j+1]*g }
	return lerp(t.cd[i])*(1-f) + lerp(t.cd[i+1])*f
}

// placeIn finds where x lies in a rising list, as an index and the share to the next; −1: outside.
func placeIn(list []float64, x float64) (int, float64) {
	const slack = 1e-9
	if x < list[0]-slack || x > list[len(list)-1]+slack {
		return 0, -1
	}
	i, _ := slices.BinarySearch(list, x)
	i = max(0, min(i-1, len(list)-2))
	return i, max(0, min(1, (x-list[i])/(list[i+1]-list[i])))
}

// Peak is the highest intensity, cd/lm.
func (d *Distribution) Peak() float64 {
	peak := 0.0
	for _, part := range [][]float64{d.beam, d.side, d.back} {
		for _, x := range part {
			peak = max(peak, x)
		}
	}
	if d.turned != nil {
		for _, row := range d.turned.cd {
			peak = max(peak, slices.Max(row))
		}
	}
	return peak
}

// Lambertian is a bare emitter or a diffuser: intensity in proportion to the cosine.
func Lambertian() *Distribution {
	return tabled(func(c float64) float64 { return max(c, 0) }, 0.5, false)
}

// Widest and narrowest full width that a beam may have, degrees.
const (
	narrowestDeg = 0.1
	widestDeg    = 180
)

// Lens is a beam by its full width at half of its peak, degrees, 0.1…180: I = I0·cosᵐθ with
// m = ln ½ / ln cos(θ/2), I0 = Φ(m+1)/2π (physics of a generalised Lambertian source; common
// practice for lenses). Real lenses have some light beside it: halos are not drawn.
func Lens(fullDeg float64) (*Distribution, error) {
	if !(fullDeg >= narrowestDeg && fullDeg <= widestDeg) {
		return nil, fmt.Errorf("a beam of %g° is none: %g to %d°", fullDeg, narrowestDeg, widestDeg)
	}
	half := fullDeg / 2 * math.Pi / 180
	return tabled(cosinePower(half), beamEdge(half), false), nil
}

func cosinePower(half float64) func(float64) float64 {
	m := 0.0
	if k := math.Cos(half); k > 1e-9 {
		m = math.Log(0.5) / math.Log(k)
	}
	return func(c float64) float64 {
		if c < 0 {
			return 0
		}
		return math.Pow(c, m)
	}
}

// beamEdge is the cosine beyond which an intensity is tabled more coarsely.
func beamEdge(half float64) float64 { return math.Cos(min(math.Pi/3, 4*half)) }

// spillEdgeRad is over how much of an angle the edge of a spill fades (chosen: 3°).
const spillEdgeRad = 3 * math.Pi / 180

// Reflector is a spot in a spill: a share of the light in a spot of so many degrees at half of
// its peak, the rest as bare light leaves out of an opening of spillDeg. A textured reflector has
// a spot that fades as a lens's does, a smooth one a spot with a flat top and a steep edge,
// exp(−ln 2·(θ/θ½)⁴) (chosen).
func Reflector(spotDeg, spillDeg, spotShare float64, textured bool) (*Distribution, error) {
	if !(spotDeg >= narrowestDeg && spotDeg < spillDeg && spillDeg <= widestDeg) {
		return nil, fmt.Errorf("a spot of %g° in a spill of %g° is no reflector's: the spot is the narrower of the two, and neither is above %d°", spotDeg, spillDeg, widestDeg)
	}
	if !(spotShare >= 0 && spotShare <= 1) {
		return nil, fmt.Errorf("the spot holds a share of %g: 0 to 1", spotShare)
	}
	half, opening := spotDeg/2*math.Pi/180, spillDeg/2*math.Pi/180
	spot := cosinePower(half)
	if !textured {
		spot = func(c float64) float64 {
			x := math.Acos(max(-1, min(1, c))) / half
			return math.Exp(-math.Ln2 * x * x * x * x)
		}
	}
	spill := func(c float64) float64 {
		over := (math.Acos(max(-1, min(1, c))) - opening) / spillEdgeRad
		return max(c, 0) * max(0, min(1, 0.5-over))
	}
	edge := beamEdge(half)
	a, b := tabled(spot, edge, false), tabled(spill, edge, false)
	for _, parts := range [][2][]float64{{a.beam, b.beam}, {a.side, b.side}} {
		for i := range parts[0] {
			parts[0][i] = spotShare*parts[0][i] + (1-spotShare)*parts[1][i]
		}
	}
	return a, nil
}

// OfTable is an imported table of intensity: candela at vertical angles from the axis, 0…180°,
// and at angles around it, 0…360° (a single one: the same all round; up to 90° or 180°: mirrored).
// It keeps its shape, and one lumen leaves.
func OfTable(t *design.IntensityTable) (*Distribution, error) {
	if err := t.Fault(); err != nil {
		return nil, err
	}
	full := t.AllRound()
	w := &turned{}
	for _, v := range full.VerticalDeg {
		w.vertical = append(w.vertical, v*math.Pi/180)
	}
	for _, h := range full.HorizontalDeg {
		w.horizontal = append(w.horizontal, h*math.Pi/180)
	}
	for i := range w.vertical {
		row := make([]float64, len(w.horizontal))
		for j := range row {
			row[j] = full.Candela[j][i]
		}
		w.cd = append(w.cd, row)
	}
	mean := func(c float64) float64 {
		polar, sum := math.Acos(max(-1, min(1, c))), 0.0
		for j := range len(w.horizontal) - 1 {
			a, b := w.at(polar, w.horizontal[j]), w.at(polar, w.horizontal[j+1])
			sum += (a + b) / 2 * (w.horizontal[j+1] - w.horizontal[j])
		}
		return sum / (2 * math.Pi)
	}
	whole := tabledFlux(mean)
	if whole <= 0 {
		return nil, fmt.Errorf("the intensity table has no light in it")
	}
	d := tabled(mean, tableEdge(mean), w.vertical[len(w.vertical)-1] > math.Pi/2+1e-9)
	if len(t.HorizontalDeg) > 1 {
		for _, row := range w.cd {
			for j := range row {
				row[j] /= whole
			}
		}
		d.turned = w
	}
	return d, nil
}

// tabledFlux is 2π∫I dc, finely.
func tabledFlux(shape func(float64) float64) float64 {
	const n = 20000
	sum := 0.0
	for i := range n {
		theta := (float64(i) + 0.5) / n * math.Pi
		sum += shape(math.Cos(theta)) * math.Sin(theta)
	}
	return 2 * math.Pi * sum * math.Pi / n
}

// tableEdge is where the intensity of a table has fallen to a hundredth of its axis.
func tableEdge(shape func(float64) float64) float64 {
	const steps = 360
	top := shape(1)
	for i := 1; i < steps; i++ {
		theta := float64(i) / steps * math.Pi / 3
		if shape(math.Cos(theta)) < 0.01*top {
			return math.Cos(theta)
		}
	}
	return 0.5
}

// Share is the part of the light within an angle of the axis, rad, 0…1.
func (d *Distribution) Share(within float64) float64 {
	const n = 2000
	sum, low := 0.0, math.Cos(within)
	for i := range n {
		sum += d.At(low + (1-low)*(float64(i)+0.5)/n)
	}
	return 2 * math.Pi * sum * (1 - low) / n
}

// Width is the full angle, degrees, beyond which the intensity stays below a share of its peak,
// all round.
func (d *Distribution) Width(share float64) float64 {
	const steps = 720
	limit := share * d.Peak()
	at := func(theta float64) bool { return d.At(math.Cos(theta)) >= limit }
	for i := steps; i >= 0; i-- {
		// Finer near the axis, where narrow beams are.
		x := float64(i) / steps
		low := math.Pi * x * x
		if !at(low) {
			continue
		}
		if i == steps {
			return 360
		}
		x = float64(i+1) / steps
		high := math.Pi * x * x
		for range 30 {
			if mid := (low + high) / 2; at(mid) {
				low = mid
			} else {
				high = mid
			}
		}
		return 2 * low * 180 / math.Pi
	}
	return 0
}

// rays are cosines to the axis of so many rays that carry the same light each, the middle first.
func (d *Distribution) rays(n int) []float64 {
	out := make([]float64, 0, n)
	sum := 0.0
	step := func(c, low, high float64) { // all between two cosines, high first
		sum += 2 * math.Pi * d.At(c) * (high - low)
		for len(out) < n && sum*float64(n) >= float64(len(out))+0.5 {
			out = append(out, c)
		}
	}
	const fine = 4000
	for i := range fine {
		high := 1 - (1-d.edge)*float64(i)/fine
		low := 1 - (1-d.edge)*float64(i+1)/fine
		step((low+high)/2, low, high)
	}
	for i := range fine {
		high := d.edge - (1+d.edge)*float64(i)/fine
		low := d.edge - (1+d.edge)*float64(i+1)/fine
		step((low+high)/2, low, high)
	}
	for len(out) < n { // what rounding left
		out = append(out, out[len(out)/2])
	}
	return out
}
