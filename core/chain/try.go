package chain

import (
	"photherm/core/array"
	"photherm/core/driver"
)

// A Probe is what search asks of one driver and what hangs on it.
type Probe struct {
	InV, OutV, OutA, LossW float64
	StringA                float64 // highest current of an emitter as mounted below it
	FluxLm                 float64
	Mode                   driver.Mode
	Outside                bool // outside its window
}

// TryDriver puts another driver in a place of the tree; it is gone with the solver.
// It tells whether there is such a place.
func (s *Solver) TryDriver(id string, d driver.Driver) bool {
	k := s.find(id, driverNode)
	if k < 0 {
		return false
	}
	s.nodes[k].drv, s.nodes[k].level = d, d.Level
	s.prepare()
	return true
}

// TryArray puts other emitters in the place of an array.
func (s *Solver) TryArray(id string, law array.Law) bool {
	k := s.find(id, arrayNode)
	if k < 0 {
		return false
	}
	s.nodes[k].arr, s.nodes[k].chosen = law, true
	return true
}

func (s *Solver) find(id string, kind nodeKind) int {
	for k := range s.nodes {
		if s.nodes[k].id == id && s.nodes[k].kind == kind {
			return k
		}
	}
	return -1
}

// Probe solves the tree with every temperature and charge given and reads off one
// driver. It does not allocate.
func (s *Solver) Probe(id string, charge, temperatureC float64) (p Probe, ok bool) {
	k := s.find(id, driverNode)
	if k < 0 {
		return p, false
	}
	s.atConditions(charge, temperatureC)
	s.electrical(s.scratch)
	at := &s.on[k]
	p = Probe{InV: at.innerV, OutV: at.outV, OutA: at.outA, LossW: at.lossW, Mode: at.mode}
	p.Outside = at.innerV > 0 && !s.nodes[k].drv.InsideWindow(at.outV, at.outA)
	s.below(k, &p)
	return p, true
}

func (s *Solver) below(k int, p *Probe) {
	for j := s.nodes[k].kidLo; j < s.nodes[k].kidHi; j++ {
		n, at := &s.nodes[j], &s.on[j]
		p.FluxLm += at.fluxLm
		if n.kind == arrayNode && n.chosen && at.inA > 0 {
			for g := range n.arr.Groups {
				p.StringA = max(p.StringA, n.arr.ShareA(g, at.outV, at.inA, s.lumpC(s.y, n.junction)))
			}
		}
		s.below(j, p)
	}
}

// atConditions writes the state of given charge and temperature to s.scratch.
func (s *Solver) atConditions(charge, temperatureC float64) {
	s.start(s.scratch)
	for i := range s.feeds {
		if k := s.feeds[i].charge; k >= 0 {
			s.scratch[k] = charge
		}
	}
	for i := s.m.states; i < len(s.scratch); i++ {
		s.scratch[i] = temperatureC
	}
}
