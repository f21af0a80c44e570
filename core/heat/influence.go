package heat

import (
	"slices"
	"sync"
)

// Influences are those of pads on a plate, as Plate.Influence gives them, with what it takes
// to move one of the pads at the cost of its own row.
type Influences struct {
	series *plateSeries
	holes  []Pad
	KPerW  [][]float64 // not to be changed
}

// newInfluences works out all of them.
func newInfluences(p Plate, pads []Pad) *Influences {
	s := p.series(slices.Clone(pads))
	out := &Influences{s, nil, make([][]float64, len(pads))}
	for i := range pads {
		out.KPerW[i] = make([]float64, len(pads))
		for j := range i + 1 {
			out.KPerW[i][j] = s.between(i, j)
			out.KPerW[j][i] = out.KPerW[i][j]
		}
	}
	return out
}

// holedCells is into how many cells the longer side of a plate with holes is cut (chosen).
const holedCells = 160

// aroundHoles works them out on a plate with holes, by a map for each pad.
func aroundHoles(p Plate, pads, holes []Pad) (*Influences, error) {
	s := p.Cells(holedCells)
	for _, h := range holes {
		s.Cut(h)
	}
	left := 0
	for _, cut := range s.Hole {
		if !cut {
			left++
		}
	}
	mean := 1 / (p.Film * float64(left) * s.CellX * s.CellY)
	out := &Influences{&plateSeries{plate: &p, pads: slices.Clone(pads)}, slices.Clone(holes), make([][]float64, len(pads))}
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
	out := &Influences{&s, nil, make([][]float64, len(s.pads))}
	row := make([]float64, len(s.pads))
	for j := range row {
		row[j] = s.between(i, j)
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

// InfluencesOf gives the influences of pads on a plate with holes in it. It is safe for
// concurrent use. The error is that of a map that does not come to rest.
func InfluencesOf(p Plate, pads, holes []Pad) (*Influences, error) {
	recent.Lock()
	defer recent.Unlock()
	var out *Influences
	for i, n := range recent.list {
		if *n.series.plate != p || len(n.series.pads) != len(pads) || !slices.Equal(n.holes, holes) {
			continue
		}
		differs, at := 0, 0
		for k := range pads {
			if n.series.pads[k] != pads[k] {
				differs, at = differs+1, k
			}
		}
		switch {
		case differs == 0:
			out = n
		case differs == 1 && len(holes) == 0 && pads[at].LengthM == n.series.pads[at].LengthM:
			out = n.moved(at, pads[at])
		default:
			continue
		}
		recent.list = slices.Delete(recent.list, i, i+1) // asked last goes last; dragged from is over
		break
	}
	switch {
	case out != nil:
	case len(holes) == 0:
		out = newInfluences(p, pads)
	default:
		var err error
		if out, err = aroundHoles(p, pads, holes); err != nil {
			return nil, err
		}
	}
	if recent.list = append(recent.list, out); len(recent.list) > recentMost {
		recent.list = slices.Delete(recent.list, 0, 1)
	}
	return out, nil
}
