package heat

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/dsp/fourier"
)

// A Sheet is a plate cut into NX × NY equal cells, x first: heat goes from each to its four
// neighbours and off its faces; the edges are insulated.
type Sheet struct {
	NX, NY         int
	CellX, CellY   float64   // sides of a cell, m
	AlongX, AlongY float64   // conductivity times thickness, W/K
	Film           float64   // of both faces together, W/(m²·K), where Films is nil
	Films          []float64 // of each cell, W/(m²·K); nil: alike everywhere
	Hole           []bool    // cells that are cut out; nil: none

	levels []level   // of the many-grid solve, made once
	pivots []float64 // of the even one
}

// Cells is a sheet of a plate, cut so that its longer side has so many cells.
func (p *Plate) Cells(longer int) *Sheet {
	nx, ny := longer, longer
	if p.LengthM >= p.WidthM {
		ny = max(int(math.Round(float64(longer)*p.WidthM/p.LengthM)), 2)
	} else {
		nx = max(int(math.Round(float64(longer)*p.LengthM/p.WidthM)), 2)
	}
	return &Sheet{NX: nx, NY: ny, CellX: p.LengthM / float64(nx), CellY: p.WidthM / float64(ny), AlongX: p.AlongX, AlongY: p.AlongY, Film: p.Film}
}

// Cut takes a rectangle out of the sheet: the cells whose middle lies in it.
func (s *Sheet) Cut(hole Pad) {
	if s.Hole == nil {
		s.Hole = make([]bool, s.NX*s.NY)
	}
	s.levels, s.pivots = nil, nil
	for j := range s.NY {
		for i := range s.NX {
			x, y := (float64(i)+0.5)*s.CellX, (float64(j)+0.5)*s.CellY
			if math.Abs(x-hole.XM) < hole.LengthM/2 && math.Abs(y-hole.YM) < hole.WidthM/2 {
				s.Hole[j*s.NX+i] = true
			}
		}
	}
}

// Cover visits the cells that a pad covers, each with its share of the pad: by area, so that
// a pad moved a little changes the heat a little. Cut-out cells take nothing.
func (s *Sheet) Cover(pad Pad, visit func(cell int, share float64)) {
	spans := func(n int, cell, middle, side float64) (first int, shares []float64) {
		low, high := (middle-side/2)/cell, (middle+side/2)/cell
		first = min(max(int(low), 0), n-1)
		for i := first; i < n && float64(i) < high; i++ {
			shares = append(shares, max(min(high, float64(i+1))-max(low, float64(i)), 0)/(high-low))
		}
		return first, shares
	}
	i0, alongX := spans(s.NX, s.CellX, pad.XM, pad.LengthM)
	j0, alongY := spans(s.NY, s.CellY, pad.YM, pad.WidthM)
	whole := 0.0
	for j, y := range alongY {
		for i, x := range alongX {
			if c := (j0+j)*s.NX + i0 + i; s.Hole == nil || !s.Hole[c] {
				whole += x * y
			}
		}
	}
	if whole == 0 {
		return
	}
	for j, y := range alongY {
		for i, x := range alongX {
			if c := (j0+j)*s.NX + i0 + i; x*y > 0 && (s.Hole == nil || !s.Hole[c]) {
				visit(c, x*y/whole)
			}
		}
	}
}

// Solve is how far each cell rises above the air for heat into each, W; of cut-out cells it
// is 0. Where the film is alike and nothing is cut out it is exact; else to 1e-4 of the
// highest rise, or an error.
func (s *Sheet) Solve(heatW []float64) ([]float64, error) {
	if s.Films == nil && s.Hole == nil {
		return s.even(heatW), nil
	}
	return s.uneven(heatW)
}

// even solves by cosines along x and elimination along y.
func (s *Sheet) even(heatW []float64) []float64 {
	nx, ny := s.NX, s.NY
	t := fourier.NewQuarterWaveFFT(nx)
	out := make([]float64, nx*ny)
	for j := range ny {
		// Rows without heat have no waves: of few pads most rows.
		if row := heatW[j*nx : (j+1)*nx]; slices.ContainsFunc(row, func(w float64) bool { return w != 0 }) {
			t.CosSequence(out[j*nx:(j+1)*nx], row)
		}
	}
	if s.pivots == nil {
		s.pivots = s.eliminated()
	}
	gy := s.AlongY * s.CellX / s.CellY
	// Thomas, all modes at once, row by row.
	for j := range ny {
		d, pivot := out[j*nx:(j+1)*nx], s.pivots[j*nx:(j+1)*nx]
		if j == 0 {
			for m := range d {
				d[m] *= pivot[m]
			}
			continue
		}
		before := out[(j-1)*nx : j*nx]
		for m := range d {
			d[m] = (d[m] + gy*before[m]) * pivot[m]
		}
	}
	for j := ny - 2; j >= 0; j-- {
		d, pivot, after := out[j*nx:(j+1)*nx], s.pivots[j*nx:(j+1)*nx], out[(j+1)*nx:(j+2)*nx]
		for m := range d {
			d[m] += gy * pivot[m] * after[m]
		}
	}
	scale := 1 / (4 * float64(nx))
	for j := range ny {
		row := out[j*nx : (j+1)*nx]
		t.CosCoefficients(row, row)
		for i := range row {
			row[i] *= scale
		}
	}
	return out
}

// eliminated are one over the pivots of each mode in each row.
func (s *Sheet) eliminated() []float64 {
	nx, ny := s.NX, s.NY
	gx, gy, f := s.AlongX*s.CellY/s.CellX, s.AlongY*s.CellX/s.CellY, s.Film*s.CellX*s.CellY
	out := make([]float64, nx*ny)
	for j := range ny {
		links := 2.0
		switch {
		case ny == 1:
			links = 0
		case j == 0 || j == ny-1:
			links = 1
		}
		for m := range nx {
			own := f + gx*(2-2*math.Cos(math.Pi*float64(m)/float64(nx))) + gy*links
			if j > 0 {
				own -= gy * gy * out[(j-1)*nx+m]
			}
			out[j*nx+m] = 1 / own
		}
	}
	return out
}

// A level is one of the grids of the many-grid solve: conductances to the next cell in x and
// in y, and from each cell to the air, W/K. A row of nothing lies before the first row and
// behind the last, so that every cell has four neighbours.
type level struct {
	nx, ny       int
	halfX, halfY int // 1: the next grid has half as many
	gx, gy, air  []float64
	pivot        []float64 // one over what leaves a cell; 0: cut out
	x, b         []float64
}

// cell is the place of a cell.
func (l *level) cell(i, j int) int { return (j+1)*l.nx + i }

// uneven solves by conjugate gradients, with one cycle over grids of half the size each as
// what comes before them (Briggs, Henson & McCormick, A Multigrid Tutorial, 2nd ed. 2000).
func (s *Sheet) uneven(heatW []float64) ([]float64, error) {
	if s.levels == nil {
		s.levels = s.grids()
	}
	top := &s.levels[0]
	n := len(top.x)
	x, d, ad := make([]float64, n), make([]float64, n), make([]float64, n)
	r := top.b // what is left to be explained
	clear(r)
	for i, w := range heatW {
		if c := s.NX + i; top.pivot[c] != 0 {
			r[c] = w
		}
	}
	rz, before := 0.0, 0.0
	for step := range mostSteps {
		s.cycle(0)
		was := rz
		if rz = dot(r, top.x); rz == 0 {
			return x[s.NX : n-s.NX], nil
		}
		beta := 0.0
		if step > 0 {
			beta = rz / was
		}
		for i, z := range top.x {
			d[i] = z + beta*d[i]
		}
		alpha := rz / top.times(d, ad)
		most, change := 0.0, 0.0
		for i, by := range d {
			by *= alpha
			x[i] += by
			r[i] -= alpha * ad[i]
			most, change = max(most, math.Abs(x[i])), max(change, math.Abs(by))
		}
		// What is left is what further steps, each as much smaller, would change.
		if step > 0 && change < before && change*change/(before-change) < sheetShare*most {
			return x[s.NX : n-s.NX], nil
		}
		before = change
	}
	return nil, fmt.Errorf("a map of %d × %d cells did not come to rest in %d steps", s.NX, s.NY, mostSteps)
}

// Steps of conjugate gradients, and how much may be left to change as a share of the highest
// rise (chosen: 1e-4 is asked of a map, and what is left is itself estimated).
const (
	mostSteps  = 60
	sheetShare = 5e-5
)

func dot(a, b []float64) float64 {
	sum := 0.0
	for i := range a {
		sum += a[i] * b[i]
	}
	return sum
}

// grids makes the conductances of the sheet and of coarser ones: what goes in parallel adds,
// twice as far is half as much.
func (s *Sheet) grids() []level {
	l := newLevel(s.NX, s.NY)
	hole := func(c int) bool { return s.Hole != nil && s.Hole[c] }
	for j := range s.NY {
		for i := range s.NX {
			c, at := j*s.NX+i, l.cell(i, j)
			if hole(c) {
				continue
			}
			film := s.Film
			if s.Films != nil {
				film = s.Films[c]
			}
			l.air[at] = film * s.CellX * s.CellY
			if i+1 < s.NX && !hole(c+1) {
				l.gx[at] = s.AlongX * s.CellY / s.CellX
			}
			if j+1 < s.NY && !hole(c+s.NX) {
				l.gy[at] = s.AlongY * s.CellX / s.CellY
			}
		}
	}
	l.pivots()
	out := []level{l}
	ratio := s.AlongX * s.CellY * s.CellY / (s.AlongY * s.CellX * s.CellX)
	for last := &out[len(out)-1]; max(last.nx, last.ny) > 4; last = &out[len(out)-1] {
		// Neighbours that hold on to each other go together: both ways, or the stronger alone.
		switch {
		case last.ny <= 2 || last.nx > 2 && ratio > 2:
			last.halfX = 1
		case last.nx <= 2 || ratio < 0.5:
			last.halfY = 1
		default:
			last.halfX, last.halfY = 1, 1
		}
		ratio *= math.Pow(4, float64(last.halfY-last.halfX))
		out = append(out, last.coarser())
	}
	return out
}

func newLevel(nx, ny int) level {
	n := nx * (ny + 2)
	return level{nx: nx, ny: ny, gx: make([]float64, n), gy: make([]float64, n), air: make([]float64, n), pivot: make([]float64, n), x: make([]float64, n), b: make([]float64, n)}
}

func (l *level) coarser() level {
	sideX, sideY := 1<<l.halfX, 1<<l.halfY
	c := newLevel((l.nx+sideX-1)/sideX, (l.ny+sideY-1)/sideY)
	for j := range l.ny {
		for i := range l.nx {
			fine, coarse := l.cell(i, j), c.cell(i/sideX, j/sideY)
			c.air[coarse] += l.air[fine]
			if (i+1)%sideX == 0 { // leaves what goes together
				c.gx[coarse] += l.gx[fine] / float64(sideX)
			}
			if (j+1)%sideY == 0 {
				c.gy[coarse] += l.gy[fine] / float64(sideY)
			}
		}
	}
	c.pivots()
	return c
}

func (l *level) pivots() {
	nx := l.nx
	for c := nx; c < len(l.x)-nx; c++ {
		if sum := l.air[c] + l.gx[c] + l.gx[c-1] + l.gy[c] + l.gy[c-nx]; sum > 0 {
			l.pivot[c] = 1 / sum
		}
	}
}

// times writes what leaves each cell at rises x to y, W, and is the sum of x·y.
func (l *level) times(x, y []float64) (sum float64) {
	nx := l.nx
	for j := 1; j <= l.ny; j++ {
		row := j * nx
		here, up, down := x[row-1:row+nx+1], x[row-nx:row], x[row+nx:row+2*nx]
		gx, gl, gy, gu := l.gx[row:row+nx], l.gx[row-1:row+nx-1], l.gy[row:row+nx], l.gy[row-nx:row]
		air, out := l.air[row:row+nx], y[row:row+nx]
		for i := range out {
			v := here[i+1]
			w := air[i]*v + gx[i]*(v-here[i+2]) + gl[i]*(v-here[i]) + gy[i]*(v-down[i]) + gu[i]*(v-up[i])
			out[i] = w
			sum += v * w
		}
	}
	return sum
}

// The cells of a level have two colours, as a chessboard has: what a cell of one asks for
// depends on cells of the other alone.

// relax sets every second cell to what its neighbours ask for, first those of one colour.
func (l *level) relax(first int) {
	for _, colour := range [2]int{first, 1 - first} {
		l.relaxColour(colour)
	}
}

func (l *level) relaxColour(colour int) {
	nx := l.nx
	for j := 1; j <= l.ny; j++ {
		row := j * nx
		x, b, pivot := l.x[row-1:row+nx+1], l.b[row:row+nx], l.pivot[row:row+nx]
		above, below := l.x[row-nx:row], l.x[row+nx:row+2*nx]
		gx, gl, gy, gu := l.gx[row:row+nx], l.gx[row-1:row+nx-1], l.gy[row:row+nx], l.gy[row-nx:row]
		for i := (j + colour) & 1; i < nx; i += 2 {
			x[i+1] = (b[i] + gx[i]*x[i+2] + gl[i]*x[i] + gy[i]*below[i] + gu[i]*above[i]) * pivot[i]
		}
	}
}

// begin is relax(0) from nothing.
func (l *level) begin() {
	nx := l.nx
	for j := 1; j <= l.ny; j++ {
		x, b, pivot := l.x[j*nx:(j+1)*nx], l.b[j*nx:(j+1)*nx], l.pivot[j*nx:(j+1)*nx]
		for i := j & 1; i < nx; i += 2 {
			x[i] = b[i] * pivot[i]
		}
	}
	l.relaxColour(1)
}

// left gives the coarser grid what begin has left over: nothing in the colour that came last,
// and in the other what has come from its neighbours since.
func (l *level) left(next *level) {
	nx := l.nx
	clear(next.b)
	for j := 1; j <= l.ny; j++ {
		row := j * nx
		x, above, below := l.x[row-1:row+nx+1], l.x[row-nx:row], l.x[row+nx:row+2*nx]
		gx, gl, gy, gu := l.gx[row:row+nx], l.gx[row-1:row+nx-1], l.gy[row:row+nx], l.gy[row-nx:row]
		coarse := next.b[next.cell(0, (j-1)>>l.halfY):]
		for i := j & 1; i < nx; i += 2 {
			coarse[i>>l.halfX] += gx[i]*x[i+2] + gl[i]*x[i] + gy[i]*below[i] + gu[i]*above[i]
		}
	}
}

// taken adds what the coarser grid found, and is relax(1) then: of the colour that is set
// first nothing needs to be added.
func (l *level) taken(next *level) {
	nx := l.nx
	for j := 1; j <= l.ny; j++ {
		x, coarse := l.x[j*nx:(j+1)*nx], next.x[next.cell(0, (j-1)>>l.halfY):]
		for i := j & 1; i < nx; i += 2 {
			x[i] += coarse[i>>l.halfX]
		}
	}
	l.relax(1)
}

// cycle makes l.x an answer to l.b from nothing: alike forwards and backwards, so that
// conjugate gradients may stand on it.
func (s *Sheet) cycle(at int) {
	l := &s.levels[at]
	if at == len(s.levels)-1 {
		clear(l.x)
		for range coarsestSweeps {
			l.relax(0)
			l.relax(1)
		}
		return
	}
	next := &s.levels[at+1]
	l.begin()
	l.left(next)
	s.cycle(at + 1)
	l.taken(next)
}

// coarsestSweeps is how often the coarsest grid, of at most some 4 × 4 cells each way, is
// relaxed forwards and backwards (chosen).
const coarsestSweeps = 8
