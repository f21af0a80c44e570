package circuit

import (
	"reflect"
	"slices"
)

// Equal branches are solved once: drivers beside each other that are alike, with alike trees
// below them, and junctions of the same temperatures to the last bit.

// pair finds for every driver one before it beside it that is like it.
func (s *Solver) pair() {
	for k := range s.Nodes {
		s.like[k] = -1
	}
	for k := range s.Nodes {
		if s.leafOf[k] < 0 || s.out[k] < 0 || s.Nodes[k].Kind != Driver {
			continue
		}
		for i := k - 1; i >= 0 && s.Nodes[i].Parent == s.Nodes[k].Parent && s.Nodes[i].Feed == s.Nodes[k].Feed; i-- {
			if s.leafOf[i] >= 0 && s.out[i] >= 0 && s.Nodes[i].Kind == Driver {
				if s.alike(i, k) {
					s.like[k] = i
				}
				break
			}
		}
	}
}

// alike tells whether two nodes are, with all that hangs on them.
func (s *Solver) alike(i, k int) bool {
	a, b := &s.Nodes[i], &s.Nodes[k]
	if a.KidHi-a.KidLo != b.KidHi-b.KidLo || a.Kind != b.Kind || a.Count != b.Count || a.Fault != b.Fault || a.SeriesOhm != b.SeriesOhm || a.ContactOhm != b.ContactOhm ||
		a.Off != b.Off || a.Chosen != b.Chosen || a.Scale != b.Scale || a.CurrentA != b.CurrentA || a.StandbyA != b.StandbyA || a.StartV != b.StartV || a.Beyond != b.Beyond || a.Cycle != b.Cycle {
		return false
	}
	if !slices.Equal(a.Load, b.Load) || a.Arr.Emitter != b.Arr.Emitter || a.Arr.Series != b.Arr.Series || !slices.Equal(a.Arr.More, b.Arr.More) || !slices.Equal(a.Arr.Groups, b.Arr.Groups) {
		return false
	}
	if a.Kind == Driver && !reflect.DeepEqual(a.Drv, b.Drv) || a.Kind == Strip && !reflect.DeepEqual(a.Strip, b.Strip) {
		return false
	}
	for j := range a.KidHi - a.KidLo {
		if !s.alike(a.KidLo+j, b.KidLo+j) {
			return false
		}
	}
	return true
}

// asWarm tells whether what hangs on two alike nodes is as warm, and in the same state.
func (s *Solver) asWarm(i, k int) bool {
	if s.JunctionC[i] != s.JunctionC[k] || s.Locked[i] != s.Locked[k] || s.Low[i] != s.Low[k] || s.Collapsed[i] != s.Collapsed[k] {
		return false
	}
	a, b := &s.Nodes[i], &s.Nodes[k]
	if !slices.Equal(a.Arr.Groups, b.Arr.Groups) {
		return false
	}
	for j := range a.KidHi - a.KidLo {
		if !s.asWarm(a.KidLo+j, b.KidLo+j) {
			return false
		}
	}
	return true
}

// takeOver gives a driver what one like it was found to hold.
func (s *Solver) takeOver(from, to int) {
	s.held[to] = s.held[from]
	a, b := s.out[from], s.out[to]
	x, y := &s.buses[a], &s.buses[b]
	for i := range x.kindHi - x.kindLo {
		s.kinds[y.kindLo+i].a = s.kinds[x.kindLo+i].a
	}
	for i := range x.end - a {
		p, q := &s.buses[a+i], &s.buses[b+i]
		q.u, q.warm, q.brk, q.drawA, q.drawG = p.u, p.warm, p.brk, p.drawA, p.drawG
		for l, m := p.first, q.first; l >= 0; l, m = s.leaves[l].next, s.leaves[m].next {
			f, g := &s.leaves[l], &s.leaves[m]
			g.a, g.g, g.i, g.brk, g.nested = f.a, f.g, f.i, f.brk, f.nested
			if f.kind == driverLeaf && s.out[f.node] >= 0 {
				s.takeOver(f.node, g.node)
			}
		}
	}
}
