package lighting

import (
	"context"
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// A Room is a box, from 0 to its length, width and height, whose sides reflect diffusely, each a
// share of 0 to below 1.
type Room struct {
	LengthM, WidthM, HeightM float64
	Floor, Walls, Ceiling    float64
}

// The faces of a room.
const (
	floorFace = iota
	ceilingFace
	westFace
	eastFace
	southFace
	northFace
	faces
)

// A face of a room is cut into patches along its two axes.
type face struct {
	normal, u, v int     // axes: 0 x, 1 y, 2 z
	at           float64 // along its normal
	inward       float64 // +1 or −1
	share        float64 // reflected
	first        int     // its first patch
}

// patches is a room that is cut up.
type patches struct {
	size  [3]float64
	n     [3]int // patches along each axis
	faces [faces]face
	count int
	form  []float64 // form[i*count+j]: of what arrives at i, the share of what leaves j; rows add up to 1
}

// Reflected is how light goes round in a room.
type Reflected struct {
	patches *patches
	leaves  []float64 // of each patch, lm/m²
	FloorLm float64   // that reach the floor, and so on, counting each arrival
	WallsLm float64
	CeilLm  float64
	Share   struct{ Floor, Walls, Ceiling float64 } // of the emitted light, what ends there
	Within  float64                                 // by what share this may be off: half as many patches a side come out so different
}

// How finely a room is cut: patches along its longest side, and with how many the error is told
// by (chosen: a room twice as long as wide is then met to 1 %).
const (
	finePatches   = 8
	coarsePatches = 4
	fewestPatches = 3
)

// NewRoom checks a room. Reflectances of 1 and above never let light end: they are refused.
func NewRoom(r Room) (Room, error) {
	for _, side := range []struct {
		name string
		x    float64
	}{{"length", r.LengthM}, {"width", r.WidthM}, {"height", r.HeightM}} {
		if !(side.x > 0) {
			return r, fmt.Errorf("the room has no %s", side.name)
		}
	}
	for _, side := range []struct {
		name string
		x    float64
	}{{"floor", r.Floor}, {"walls", r.Walls}, {"ceiling", r.Ceiling}} {
		if !(side.x >= 0 && side.x < 1) {
			return r, fmt.Errorf("the %s reflect a share of %g: 0 to below 1", side.name, side.x)
		}
	}
	return r, nil
}

func (r *Room) cut(longest int) *patches {
	p := &patches{size: [3]float64{r.LengthM, r.WidthM, r.HeightM}}
	most := max(r.LengthM, r.WidthM, r.HeightM)
	for k, x := range p.size {
		p.n[k] = max(fewestPatches, int(math.Round(float64(longest)*x/most)))
	}
	p.faces = [faces]face{
		floorFace:   {normal: 2, u: 0, v: 1, at: 0, inward: 1, share: r.Floor},
		ceilingFace: {normal: 2, u: 0, v: 1, at: r.HeightM, inward: -1, share: r.Ceiling},
		westFace:    {normal: 0, u: 1, v: 2, at: 0, inward: 1, share: r.Walls},
		eastFace:    {normal: 0, u: 1, v: 2, at: r.LengthM, inward: -1, share: r.Walls},
		southFace:   {normal: 1, u: 0, v: 2, at: 0, inward: 1, share: r.Walls},
		northFace:   {normal: 1, u: 0, v: 2, at: r.WidthM, inward: -1, share: r.Walls},
	}
	for k := range p.faces {
		f := &p.faces[k]
		f.first = p.count
		p.count += p.n[f.u] * p.n[f.v]
	}
	return p
}

func (p *patches) step(axis int) float64 { return p.size[axis] / float64(p.n[axis]) }

func (p *patches) area(f *face) float64 { return p.step(f.u) * p.step(f.v) }

// point is one on a face, by its place along the two axes of the face.
func (f *face) point(u, v float64) r3.Vec {
	var x [3]float64
	x[f.normal], x[f.u], x[f.v] = f.at, u, v
	return r3.Vec{X: x[0], Y: x[1], Z: x[2]}
}

func (f *face) facing() r3.Vec {
	var x [3]float64
	x[f.normal] = f.inward
	return r3.Vec{X: x[0], Y: x[1], Z: x[2]}
}

// factor is the share of the half space over a point, weighed with the cosine to its normal, that
// a rectangle on a face fills: ½π·Σ over its edges of the angle an edge is seen under times the
// cosine of the plane it spans with the point (Lambert's formula for polygons). The rectangle
// lies before the point.
func factor(p, normal r3.Vec, f *face, u0, u1, v0, v1 float64) float64 {
	corners := [5]r3.Vec{f.point(u0, v0), f.point(u1, v0), f.point(u1, v1), f.point(u0, v1)}
	for k := range 4 {
		corners[k] = r3.Sub(corners[k], p)
	}
	corners[4] = corners[0]
	sum := 0.0
	for k := range 4 {
		a, b := corners[k], corners[k+1]
		cross := r3.Cross(a, b)
		n := r3.Norm(cross)
		if n == 0 {
			continue
		}
		sum += math.Atan2(n, r3.Dot(a, b)) * r3.Dot(cross, normal) / n
	}
	return math.Abs(sum) / (2 * math.Pi)
}

// gauss2 are the places of a two-point rule on 0…1.
var gauss2 = [2]float64{0.5 - 0.5/math.Sqrt(3), 0.5 + 0.5/math.Sqrt(3)}

// forms fills the form factors. Equal patches see each other alike wherever they lie on their
// faces, so few of them are ever calculated.
func (p *patches) forms(ctx context.Context) error {
	type seen struct{ f, g, du, dv, a, b int }
	known := map[seen]float64{}
	p.form = make([]float64, p.count*p.count)
	for kf := range p.faces {
		if err := ctx.Err(); err != nil {
			return err
		}
		f := &p.faces[kf]
		for kg := range p.faces {
			g := &p.faces[kg]
			if kg == kf {
				continue
			}
			for i := range p.n[f.u] * p.n[f.v] {
				iu, iv := i%p.n[f.u], i/p.n[f.u]
				row := p.form[(f.first+i)*p.count:]
				for j := range p.n[g.u] * p.n[g.v] {
					ju, jv := j%p.n[g.u], j/p.n[g.u]
					key := seen{f: kf, g: kg}
					if f.normal == g.normal {
						key.du, key.dv = max(iu-ju, ju-iu), max(iv-jv, jv-iv)
					} else {
						var at, there [3]int
						at[f.u], at[f.v], there[g.u], there[g.v] = iu, iv, ju, jv
						shared := 3 - f.normal - g.normal
						d := at[shared] - there[shared]
						key.du, key.a, key.b = max(d, -d), at[g.normal], there[f.normal]
					}
					x, ok := known[key]
					if !ok {
						x = p.mutual(f, g, iu, iv, ju, jv)
						known[key] = x
					}
					row[g.first+j] = x
				}
			}
		}
	}
	p.balance()
	return nil
}

// balanceRounds is how often the form factors are brought closer to what they must add up to.
const balanceRounds = 30

// balance makes the factors such that two patches see each other alike, weighed with their areas,
// and that what leaves a patch all arrives: then no light is lost or made.
func (p *patches) balance() {
	area := make([]float64, p.count)
	for k := range p.faces {
		f := &p.faces[k]
		for i := range p.n[f.u] * p.n[f.v] {
			area[f.first+i] = p.area(f)
		}
	}
	for i := range p.count {
		for j := range i {
			x := (p.form[i*p.count+j]*area[i] + p.form[j*p.count+i]*area[j]) / 2
			p.form[i*p.count+j], p.form[j*p.count+i] = x, x
		}
	}
	scale := make([]float64, p.count)
	for range balanceRounds {
		for i := range p.count {
			sum := 0.0
			for _, x := range p.form[i*p.count : (i+1)*p.count] {
				sum += x
			}
			scale[i] = math.Sqrt(area[i] / sum)
		}
		for i := range p.count {
			row := p.form[i*p.count : (i+1)*p.count]
			for j := range row {
				row[j] *= scale[i] * scale[j]
			}
		}
	}
	for i := range p.count {
		row := p.form[i*p.count : (i+1)*p.count]
		for j := range row {
			row[j] /= area[i]
		}
	}
}

// mutual is the mean over one patch of what another fills.
func (p *patches) mutual(f, g *face, iu, iv, ju, jv int) float64 {
	du, dv, gu, gv := p.step(f.u), p.step(f.v), p.step(g.u), p.step(g.v)
	sum := 0.0
	for _, a := range gauss2 {
		for _, b := range gauss2 {
			at := f.point((float64(iu)+a)*du, (float64(iv)+b)*dv)
			sum += factor(at, f.facing(), g, float64(ju)*gu, float64(ju+1)*gu, float64(jv)*gv, float64(jv+1)*gv)
		}
	}
	return sum / 4
}

// wallCuts is into how many points a side a patch is cut that lies near a lamp.
const wallCuts = 8

// direct is what the lamps throw on each patch, lx. As much as leaves the lamps arrives: what the
// points of a patch miss of it is put right.
func (p *patches) direct(lamps []Lamp) []float64 {
	out := make([]float64, p.count)
	one := make([]float64, p.count)
	for l := range lamps {
		lamp := &lamps[l]
		sum := 0.0
		for k := range p.faces {
			f := &p.faces[k]
			du, dv := p.step(f.u), p.step(f.v)
			for i := range p.n[f.u] * p.n[f.v] {
				u, v := float64(i%p.n[f.u])*du, float64(i/p.n[f.u])*dv
				off := r3.Norm(r3.Sub(f.point(u+du/2, v+dv/2), lamp.At))
				cuts := max(2, min(wallCuts, int(math.Ceil(4*max(du, dv)/max(off, 1e-9)))))
				x := 0.0
				for a := range cuts * cuts {
					x += lamp.LuxAt(f.point(u+du*(float64(a%cuts)+0.5)/float64(cuts), v+dv*(float64(a/cuts)+0.5)/float64(cuts)), f.facing())
				}
				one[f.first+i] = x / float64(cuts*cuts)
				sum += one[f.first+i] * du * dv
			}
		}
		// A beam so narrow that it slips through between the points is followed by rays.
		if math.Abs(sum-lamp.Lumens) > missedShare*lamp.Lumens {
			p.follow(lamp, out)
			continue
		}
		for i, x := range one {
			out[i] += x * lamp.Lumens / sum
		}
	}
	return out
}

// Beyond which share of its light missed a lamp is followed by so many rays (chosen: each then
// counts a thousandth).
const (
	missedShare = 0.05
	raysOf      = 1000
)

// follow sends rays of equal light from a lamp to the patches they strike.
func (p *patches) follow(l *Lamp, out []float64) {
	side := r3.Cross(l.Axis, l.Across)
	at, size := [3]float64{l.At.X, l.At.Y, l.At.Z}, p.size
	for i, c := range l.Optic.rays(raysOf) {
		v := l.ray(i, c, side)
		d := [3]float64{v.X, v.Y, v.Z}
		best, axis := math.Inf(1), -1
		for k := range d {
			far := math.Inf(1)
			if d[k] > 0 {
				far = (size[k] - at[k]) / d[k]
			} else if d[k] < 0 {
				far = -at[k] / d[k]
			}
			if far < best {
				best, axis = far, k
			}
		}
		for k := range p.faces {
			f := &p.faces[k]
			if axis < 0 || f.normal != axis || (f.inward > 0) != (d[axis] < 0) {
				continue
			}
			place := func(a int) int {
				return max(0, min(p.n[a]-1, int((at[a]+best*d[a])/p.step(a))))
			}
			out[f.first+place(f.v)*p.n[f.u]+place(f.u)] += l.Lumens / raysOf / p.area(f)
		}
	}
}

// mostBounces and restOf end the going round: what is left is below restOf of what came.
const (
	mostBounces = 2000
	restOf      = 1e-7
)

// Reflect follows the light of lamps in the room until it has ended. Lamps outside of the room
// are an error.
func (r *Room) Reflect(ctx context.Context, lamps []Lamp) (*Reflected, error) {
	for i := range lamps {
		at := lamps[i].At
		if at.X < 0 || at.Y < 0 || at.Z < 0 || at.X > r.LengthM || at.Y > r.WidthM || at.Z > r.HeightM {
			return nil, fmt.Errorf("a light is at %.2f m, %.2f m, %.2f m high, outside of the room of %.2f × %.2f × %.2f m", at.X, at.Y, at.Z, r.LengthM, r.WidthM, r.HeightM)
		}
	}
	coarse, err := r.reflect(ctx, lamps, coarsePatches)
	if err != nil {
		return nil, err
	}
	fine, err := r.reflect(ctx, lamps, finePatches)
	if err != nil {
		return nil, err
	}
	if fine.FloorLm > 0 {
		fine.Within = math.Abs(fine.FloorLm-coarse.FloorLm) / fine.FloorLm
	}
	return fine, nil
}

func (r *Room) reflect(ctx context.Context, lamps []Lamp, longest int) (*Reflected, error) {
	p := r.cut(longest)
	if err := p.forms(ctx); err != nil {
		return nil, err
	}
	first := p.direct(lamps)
	share, area := make([]float64, p.count), make([]float64, p.count)
	for k := range p.faces {
		f := &p.faces[k]
		for i := range p.n[f.u] * p.n[f.v] {
			share[f.first+i], area[f.first+i] = f.share, p.area(f)
		}
	}
	arrives := append([]float64{}, first...)
	leaves := make([]float64, p.count)
	for range mostBounces {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		for i := range leaves {
			leaves[i] = share[i] * arrives[i]
		}
		moved, whole := 0.0, 0.0
		for i := range arrives {
			x := first[i]
			for j, form := range p.form[i*p.count : (i+1)*p.count] {
				x += form * leaves[j]
			}
			moved += math.Abs(x-arrives[i]) * area[i]
			whole += x * area[i]
			arrives[i] = x
			leaves[i] = share[i] * x
		}
		if moved <= restOf*whole {
			break
		}
	}
	out := &Reflected{patches: p, leaves: leaves}
	emitted := 0.0
	for i := range lamps {
		emitted += lamps[i].Lumens
	}
	for i, x := range arrives {
		lm := x * area[i]
		ends := 0.0
		if emitted > 0 {
			ends = lm * (1 - share[i]) / emitted
		}
		switch {
		case i < p.faces[ceilingFace].first:
			out.FloorLm += lm
			out.Share.Floor += ends
		case i < p.faces[westFace].first:
			out.CeilLm += lm
			out.Share.Ceiling += ends
		default:
			out.WallsLm += lm
			out.Share.Walls += ends
		}
	}
	return out, nil
}

// Nodes at which reflected light is calculated along the longer side of a grid (chosen: it
// changes slowly, but for a step from the foot of a wall).
const reflectedNodes = 25

// Add adds what the sides of the room throw on a level grid that lies in it, lx.
func (w *Reflected) Add(ctx context.Context, g *Grid, dst []float64) error {
	longer := max(g.LengthM, g.WidthM)
	nx := max(3, int(math.Round(reflectedNodes*g.LengthM/longer)))
	ny := max(3, int(math.Round(reflectedNodes*g.WidthM/longer)))
	nodes := make([]float64, nx*ny)
	for i := range nodes {
		if err := ctx.Err(); err != nil {
			return err
		}
		// The rim itself is the foot of a wall: a hair within.
		u, v := float64(i%nx)/float64(nx-1), float64(i/nx)/float64(ny-1)
		p := r3.Vec{X: g.X + g.LengthM*(inset+u*(1-2*inset)), Y: g.Y + g.WidthM*(inset+v*(1-2*inset)), Z: g.Z}
		nodes[i] = w.at(p)
	}
	for i := range dst {
		dst[i] += bilinear(nodes, nx, ny, (float64(i%g.NX)+0.5)/float64(g.NX), (float64(i/g.NX)+0.5)/float64(g.NY))
	}
	return nil
}

const inset = 1e-4

// at is what reaches a point that faces up, from all that lies higher, lx.
func (w *Reflected) at(p r3.Vec) float64 {
	up, sum := r3.Vec{Z: 1}, 0.0
	for k := range w.patches.faces {
		f := &w.patches.faces[k]
		if k == floorFace {
			continue
		}
		du, dv := w.patches.step(f.u), w.patches.step(f.v)
		for i := range w.patches.n[f.u] * w.patches.n[f.v] {
			u, v := float64(i%w.patches.n[f.u])*du, float64(i/w.patches.n[f.u])*dv
			low, high := v, v+dv
			if f.v == 2 { // of a wall, what is above the point
				if low = max(low, p.Z); low >= high {
					continue
				}
			}
			if x := w.leaves[f.first+i]; x > 0 {
				sum += x * factor(p, up, f, u, u+du, low, high)
			}
		}
	}
	return sum
}
