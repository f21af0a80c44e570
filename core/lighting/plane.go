package lighting

import (
	"math"
	"runtime"
	"sync"

	"gonum.org/v1/gonum/spatial/r3"
)

// A Lamp is a point that light comes from.
type Lamp struct {
	At     r3.Vec
	Axis   r3.Vec // unit, where its optic points
	Across r3.Vec // unit, across the axis: where an intensity around the axis is counted from
	Lumens float64
	Optic  *Distribution
}

// At is what reaches a point on a surface that faces along a unit normal, lx; nothing from behind.
func (l *Lamp) LuxAt(p, normal r3.Vec) float64 {
	d := r3.Sub(p, l.At)
	r2 := r3.Norm2(d)
	if r2 == 0 {
		return 0
	}
	r := math.Sqrt(r2)
	facing := -r3.Dot(d, normal) / r
	if facing <= 0 {
		return 0
	}
	return l.Lumens * l.Optic.toward(r3.Scale(1/r, d), l.Axis, l.Across) * facing / r2
}

// A Grid is a level rectangle cut into NX × NY equal cells, from a corner at X, Y, at a height Z;
// it is lit from above.
type Grid struct {
	X, Y, Z         float64
	LengthM, WidthM float64 // along x and y
	NX, NY          int
}

// Centre is the middle of a cell, counted along x first.
func (g *Grid) Centre(i int) r3.Vec {
	return r3.Vec{X: g.X + (float64(i%g.NX)+0.5)*g.LengthM/float64(g.NX), Y: g.Y + (float64(i/g.NX)+0.5)*g.WidthM/float64(g.NY), Z: g.Z}
}

// nearCells is how many cells a lamp must be above the grid for the middle of a cell to stand for
// all of it, and deepest into how many a side a cell is cut otherwise (chosen: an integral over
// the light of a bare source at one cell above the plane is then met to 0.3 %).
const (
	nearCells = 2.5
	deepest   = 12
)

// Add adds to each cell what a lamp throws on it, as a multiple of its light, lx: times −1 takes
// it away again. dst has NX·NY cells.
func (g *Grid) Add(dst []float64, l *Lamp, times float64) {
	h := l.At.Z - g.Z
	if h <= 0 || l.Lumens == 0 {
		return
	}
	dx, dy := g.LengthM/float64(g.NX), g.WidthM/float64(g.NY)
	cuts := cutsFor(max(dx, dy), h, l.Optic)
	switch {
	case cuts > deepest && l.Optic.half < needle:
		g.follow(dst, l, times)
		return
	case l.Optic.turned != nil:
		g.addTurned(dst, l, times)
		return
	}
	cuts = min(cuts, deepest)
	for iy := range g.NY {
		row := dst[iy*g.NX : (iy+1)*g.NX]
		if cuts == 1 {
			g.addRow(row, l, times, g.Y+(float64(iy)+0.5)*dy, g.X+0.5*dx, dx)
			continue
		}
		for k := range cuts * cuts {
			y := g.Y + (float64(iy)+(float64(k/cuts)+0.5)/float64(cuts))*dy
			x := g.X + (float64(k%cuts)+0.5)/float64(cuts)*dx
			g.addRow(row, l, times/float64(cuts*cuts), y, x, dx)
		}
	}
}

// needle is below which half width a beam is followed by rays where it strikes less than a part
// of a cell, rad (chosen: 15°).
const needle = 15 * math.Pi / 180

// cutsFor is into how many points a side a cell must be cut for what a lamp throws so far.
func cutsFor(cell, far float64, d *Distribution) int {
	return max(1, int(math.Ceil(nearCells*cell/(far*math.Tan(min(d.half, math.Pi/4))))))
}

// follow puts rays of equal light into the cells they strike.
func (g *Grid) follow(dst []float64, l *Lamp, times float64) {
	side := r3.Cross(l.Axis, l.Across)
	each := times * l.Lumens / raysOf / (g.LengthM / float64(g.NX) * g.WidthM / float64(g.NY))
	for i, c := range l.Optic.rays(raysOf) {
		d := l.ray(i, c, side)
		if d.Z >= 0 {
			continue
		}
		t := (l.At.Z - g.Z) / -d.Z
		if k, ok := g.cell(l.At.X+t*d.X, l.At.Y+t*d.Y); ok {
			dst[k] += each
		}
	}
}

// goldenAngle turns from one direction to the next so that they spread evenly, rad: π·(3 − √5).
const goldenAngle = 2.399963229728653

// ray is the direction of the i-th ray, at a cosine to the axis; the golden angle spreads them.
func (l *Lamp) ray(i int, c float64, side r3.Vec) r3.Vec {
	sin, cos := math.Sincos(goldenAngle * float64(i))
	s := math.Sqrt(max(0, 1-c*c))
	return r3.Add(r3.Scale(c, l.Axis), r3.Add(r3.Scale(s*cos, l.Across), r3.Scale(s*sin, side)))
}

// cell is the one that a place lies in.
func (g *Grid) cell(x, y float64) (int, bool) {
	i, j := math.Floor((x-g.X)/g.LengthM*float64(g.NX)), math.Floor((y-g.Y)/g.WidthM*float64(g.NY))
	if i < 0 || j < 0 || i >= float64(g.NX) || j >= float64(g.NY) {
		return 0, false
	}
	return int(j)*g.NX + int(i), true
}

// addRow adds a lamp to points of one line along x.
func (g *Grid) addRow(row []float64, l *Lamp, times, y, x, dx float64) {
	h := l.At.Z - g.Z
	d := l.Optic
	dy := y - l.At.Y
	across2 := dy*dy + h*h
	along, fixed := l.Axis.X, l.Axis.Y*dy-l.Axis.Z*h
	k := times * l.Lumens * h
	off := x - l.At.X
	edge, perBeam, perSide, beam, side := d.edge, d.perBeam, d.perSide, d.beam, d.side
	for i := range row {
		ir2 := 1 / (off*off + across2)
		ir := math.Sqrt(ir2)
		c := (along*off + fixed) * ir
		switch {
		case c >= edge:
			u := (c - edge) * perBeam
			j := min(int(u), inBeam-1)
			row[i] += k * (beam[j] + (u-float64(j))*(beam[j+1]-beam[j])) * ir2 * ir
		case c >= 0:
			u := c * perSide
			j := min(int(u), beside-1)
			row[i] += k * (side[j] + (u-float64(j))*(side[j+1]-side[j])) * ir2 * ir
		case d.back != nil:
			row[i] += k * d.At(c) * ir2 * ir
		}
		off += dx
	}
}

// A lamp that looks straight down is tabled over the square of the distance aside, if a grid is
// not so large beside its height that the table would be coarse: steps below this share of the
// height, and of the width of its beam, squared (chosen: met to 2e-4).
const (
	asideSteps = 4096
	asideShare = 0.01
)

// asideTable is the light of such a lamp for each of its lumens.
type asideTable struct {
	per  float64
	flux [asideSteps + 2]float64
}

// tableOf makes it; nil: it would be too coarse.
func (g *Grid) tableOf(l *Lamp, h float64) *asideTable {
	far := max(math.Abs(g.X-l.At.X), math.Abs(g.X+g.LengthM-l.At.X))
	wide := max(math.Abs(g.Y-l.At.Y), math.Abs(g.Y+g.WidthM-l.At.Y))
	// A little farther, so that its neighbours of the same height can have it too.
	reach := 1.5 * (far*far + wide*wide)
	narrow := min(1, math.Pow(math.Tan(min(l.Optic.half, math.Pi/4)), 2))
	if reach/asideSteps > asideShare*h*h*narrow {
		return nil
	}
	t := &asideTable{per: asideSteps / reach}
	for i := range t.flux {
		ir2 := 1 / (float64(i)/t.per + h*h)
		ir := math.Sqrt(ir2)
		t.flux[i] = l.Optic.At(h*ir) * h * ir2 * ir
	}
	return t
}

// AddAll adds many lamps, by as many workers as there are processors.
func (g *Grid) AddAll(dst []float64, lamps []Lamp) {
	type key struct {
		optic *Distribution
		h     float64
	}
	known := map[key]*asideTable{}
	tables := make([]*asideTable, len(lamps))
	cell := max(g.LengthM/float64(g.NX), g.WidthM/float64(g.NY))
	for i := range lamps {
		l := &lamps[i]
		h := l.At.Z - g.Z
		if l.Optic.turned != nil || l.Axis.Z > -1+1e-12 || cutsFor(cell, h, l.Optic) > 1 {
			continue
		}
		k := key{l.Optic, h}
		t, ok := known[k]
		if !ok {
			t = g.tableOf(l, h)
			known[k] = t
		}
		if t != nil && !g.within(l, t) {
			t = nil
		}
		tables[i] = t
	}
	workers := min(g.NY, runtime.GOMAXPROCS(0))
	if g.NX*g.NY*len(lamps) < 100_000 { // it is done before others have begun
		workers = 1
	}
	var done sync.WaitGroup
	for w := range workers {
		part := *g
		from, to := w*g.NY/workers, (w+1)*g.NY/workers
		part.Y, part.WidthM, part.NY = g.Y+g.WidthM*float64(from)/float64(g.NY), g.WidthM*float64(to-from)/float64(g.NY), to-from
		own := dst[from*g.NX : to*g.NX]
		done.Go(func() {
			for i := range lamps {
				if t := tables[i]; t != nil {
					part.addTabled(own, &lamps[i], t)
				} else {
					part.Add(own, &lamps[i], 1)
				}
			}
		})
	}
	done.Wait()
}

// within tells that a table reaches all of the grid.
func (g *Grid) within(l *Lamp, t *asideTable) bool {
	far := max(math.Abs(g.X-l.At.X), math.Abs(g.X+g.LengthM-l.At.X))
	wide := max(math.Abs(g.Y-l.At.Y), math.Abs(g.Y+g.WidthM-l.At.Y))
	return (far*far+wide*wide)*t.per < asideSteps
}

func (g *Grid) addTabled(dst []float64, l *Lamp, t *asideTable) {
	dx, dy := g.LengthM/float64(g.NX), g.WidthM/float64(g.NY)
	for iy := range g.NY {
		y := g.Y + (float64(iy)+0.5)*dy - l.At.Y
		row := dst[iy*g.NX : (iy+1)*g.NX]
		x, y2, lm := g.X+0.5*dx-l.At.X, y*y, l.Lumens
		for i := range row {
			u := (x*x + y2) * t.per
			j := int(u)
			row[i] += lm * (t.flux[j] + (u-float64(j))*(t.flux[j+1]-t.flux[j]))
			x += dx
		}
	}
}

// addTurned adds a lamp whose intensity differs around its axis, cell by cell.
func (g *Grid) addTurned(dst []float64, l *Lamp, times float64) {
	up := r3.Vec{Z: 1}
	for i := range dst {
		dst[i] += times * l.LuxAt(g.Centre(i), up)
	}
}

// Landing is the light on a grid, lm.
func (g *Grid) Landing(lux []float64) float64 {
	sum := 0.0
	for _, x := range lux {
		sum += x
	}
	return sum * g.LengthM * g.WidthM / float64(len(lux))
}

// Bilinear is straight between values at nx × ny nodes that lie on the rim and within of a unit
// square, at x, y of it, 0…1.
func bilinear(values []float64, nx, ny int, x, y float64) float64 {
	u, v := x*float64(nx-1), y*float64(ny-1)
	i, j := min(int(u), nx-2), min(int(v), ny-2)
	f, g := u-float64(i), v-float64(j)
	row := func(j int) float64 { return values[j*nx+i]*(1-f) + values[j*nx+i+1]*f }
	return row(j)*(1-g) + row(j+1)*g
}
