package chain

import "photherm/core/circuit"

// On the mains a converter draws more amperes than its watts make: volt-amperes are watts over its
// power factor, and amperes are those over the volts of the line. Volt-amperes of several are added as
// they stand, which errs to the safe side: their phases differ.

// fromMains tells a feed that the mains feeds.
func (m *Model) fromMains(i int) bool { return m.net.Feeds[i].Mains() }

// onLine tells a node that hangs on the mains and passes it on, or converts it.
func onLine(m *Model, k int) bool {
	return m.net.Nodes[k].OnLine && (m.net.Nodes[k].Kind == circuit.Switch || m.net.Nodes[k].Kind == circuit.Driver)
}

// lineVA is what one node takes from the line, VA.
func (s *Solver) lineVA(k int) float64 {
	n := &s.Nodes[k]
	switch {
	case n.Kind == circuit.Driver && n.OnLine && n.Drv.Switches():
		return s.Point[k].InW / n.Drv.Power
	case n.KidHi == n.KidLo:
		return s.Point[k].InW
	}
	return s.Point[k].LossW + s.kidsVA(n.KidLo, n.KidHi)
}

func (s *Solver) kidsVA(lo, hi int) (va float64) {
	for k := lo; k < hi; k++ {
		va += s.Nodes[k].Count * s.lineVA(k)
	}
	return va
}

func (s *Solver) lineA(k int) float64 { return over(s.lineVA(k), s.Point[k].InV) }

// feedVA is what a feed on the mains takes from the line, VA.
func (s *Solver) feedVA(i int) float64 {
	return s.kidsVA(s.m.net.Feeds[i].KidLo, s.m.net.Feeds[i].KidHi)
}

func (s *Solver) feedLineA(i int) float64 { return over(s.feedVA(i), s.FeedAt[i].BusV) }

func over(va, v float64) float64 {
	if v <= 0 {
		return 0
	}
	return va / v
}
