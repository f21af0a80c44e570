package heat

import (
	"slices"
	"sync"
)

// Influences are those of pads on a plate, as Plate.Influence gives them, with what it takes
// to move one of the pads at the cost of its own row.
type Influences struct {
	series *plateSeries
	rest   Rest
	KPerW  [][]float64 // not to be changed
}

// A Rest is what a plate has beside its film that is alike everywhere: holes, and edges that
// lead heat away.
type Rest struct {
	Holes []Pad
	Held  [4]bool // edges at x = 0, at its end, at y = 0, at its end
	HeldW float64 // of all held edges together, W/K
}

func (r *Rest) plain() bool { return len(r.Holes) == 0 && (r.HeldW == 0 || r.Held == [4]bool{}) }

func (r *Rest) same(o *Rest) bool {
	return slices.Equal(r.Holes, o.Holes) && r.Held == o.Held && r.HeldW == o.HeldW
}

// Sheet cuts a plate with all that into cells.
func (p *Plate) Sheet(longer int, r Rest) *Sheet {
	s := p.Cells(longer)
	for _, h := range r.Holes {
		s.Cut(h)
	}
	if r.HeldW == 0 || r.Held == [4]bool{} {
		return s
	}
	s.Films = make([]float64, s.NX*s.NY)
	edge := make([]float64, s.NX*s.NY) // of the held edges, m
	whole := 0.0
	for j := range s.NY {
		for i := range s.NX {
			c := j*s.NX + i
			s.Films[c] = s.Film
			for side, at := range [4]bool{i == 0, i == s.NX-1, j == 0, j == s.NY-1} {
				if at && r.Held[side] && (s.Hole == nil || !s.Hole[c]) {
					edge[c] += [2]float64{s.CellY, s.CellX}[side/2]
				}
			}
			whole += edge[c]
		}
	}
	for c, m := range edge {
		if whole > 0 {
			s.Films[c] += r.HeldW * m / whole / (s.CellX * s.CellY)
		}
	}
	return s
}

// PerKelvinW is what a sheet loses when all of it is a kelvin warmer, W/K.
func (s *Sheet) PerKelvinW() float64 {
	sum := 0.0
	for c := range s.NX * s.NY {
		if s.Hole != nil && s.Hole[c] {
			continue
		}
		film := s.Film
		if s.Films != nil {
			film = s.Films[c]
		}
		sum += film * s.CellX * s.CellY
	}
	return sum
}

// newInfluences works out all of them.
func newInfluences(p Plate, pads []Pad) *Influences {
	s := p.series(slices.Clone(pads))
	out := &Influences{s, Rest{}, make([][]float64, len(pads))}
	known := map[acrossKey]*across{} // pads in rows are as far apart as others
	for i := range pads {
		out.KPerW[i] = make([]float64, len(pads))
		for j := range i + 1 {
			x := known[s.key(i, j)]
			if x == nil {
				x = &across{}
				s.across(i, j, x)
				known[s.key(i, j)] = x
			}
			out.KPerW[i][j] = s.between(i, j, x)
			out.KPerW[j][i] = out.KPerW[i][j]
		}
	}
	return out
}

// holedCells is into how many cells the longer side of a plate with holes is cut (chosen).
const holedCells = 160

// byMaps works them out on a plate with holes or held edges, by a map for each pad. The mean
// they are above is that by which heat leaves: of each place by its film, so that what a watt
// raises it by is the same wherever it goes in.
func byMaps(p Plate, pads []Pad, r Rest) (*Influences, error) {
	s := p.Sheet(holedCells, r)
	mean := 1 / s.PerKelvinW()
	r.Holes = slices.Clone(r.Holes)
	out := &Influences{&plateSeries{plate: &p, pads: slices.Clone(pads)}, r, make([][]float64, len(pads))}
	q := make([]float64, s.NX*s.NY)
	for i, from := range pads {
		clear(q)
		s.Cover(from, func(c int, share float64) { q[c] += share })
		rise, err := s.Solve(q)
		if err != nil {
			return nil, err
		}
		out.KPerW[i] = make([]float64, len(pads))
		for j := range i + 1 {
			there := 0.0
			s.Cover(pads[j], func(c int, share float64) { there += share * rise[c] })
			out.KPerW[i][j] = there - mean
			out.KPerW[j][i] = there - mean
		}
	}
	return out, nil
}

// moved is the same with one pad elsewhere.
func (n *Influences) moved(i int, pad Pad) *Influences {
	s := *n.series
	s.pads = slices.Clone(s.pads)
	s.pads[i] = pad
	s.share, s.fade, s.low, s.high = slices.Clone(s.share), slices.Clone(s.fade), slices.Clone(s.low), slices.Clone(s.high)
	s.place(i)
	out := &Influences{&s, Rest{}, make([][]float64, len(s.pads))}
	row := make([]float64, len(s.pads))
	var x across
	for j := range row {
		if j == 0 || s.key(i, j) != s.key(i, j-1) {
			s.across(i, j, &x)
		}
		row[j] = s.between(i, j, &x)
	}
	for k, was := range n.KPerW {
		out.KPerW[k] = slices.Clone(was)
		out.KPerW[k][i] = row[k]
	}
	out.KPerW[i] = row
	return out
}

// recent are the plates asked about last: lights are solved again and again with the same
// places, and a dragged pad differs from the last by itself alone.
var recent struct {
	sync.Mutex
	list []*Influences
}

// recentMost is how many are kept (chosen).
const recentMost = 16

// InfluencesOf gives the influences of pads on a plate, above its mean by which heat leaves. It is safe for
// concurrent use. The error is that of a map that does not come to rest.
func InfluencesOf(p Plate, pads []Pad, r Rest) (out *Influences, err error) {
	like, moved := recently(p, pads, &r)
	switch {
	case like != nil && moved < 0:
		out = like
	case like != nil:
		out = like.moved(moved, pads[moved])
	case r.plain():
		out = newInfluences(p, pads)
	default:
		if out, err = byMaps(p, pads, r); err != nil {
			return nil, err
		}
	}
	recent.Lock()
	defer recent.Unlock()
	if recent.list = append(recent.list, out); len(recent.list) > recentMost {
		recent.list = slices.Delete(recent.list, 0, 1)
	}
	return out, nil
}

// recently takes what was asked about last out of the list: the same pads, moved −1, or the same
// but for one that moved; nil: neither was.
func recently(p Plate, pads []Pad, r *Rest) (like *Influences, moved int) {
	recent.Lock()
	defer recent.Unlock()
	for i, n := range recent.list {
		if *n.series.plate != p || len(n.series.pads) != len(pads) || !n.rest.same(r) {
			continue
		}
		differs, at := 0, -1
		for k := range pads {
			if n.series.pads[k] != pads[k] {
				differs, at = differs+1, k
			}
		}
		if differs > 1 || differs == 1 && !(r.plain() && pads[at].LengthM == n.series.pads[at].LengthM) {
			continue
		}
		recent.list = slices.Delete(recent.list, i, i+1) // asked last goes last; dragged from is over
		return n, at
	}
	return nil, -1
}
