package circuit

import (
	"math"

	"photherm/core/driver"
)

// A bus is two wires at one voltage. Buses joined by resistances lie together, each
// before what hangs below it: a region is a root and what follows up to its end.
type bus struct {
	parent   int     // −1: a region's root, fed by a driver or by a feed's sources
	ohm, v0  float64 // of what joins it to its parent
	w        float64 // how many of it are taken together: all its currents are of so many
	end      int
	first    int // its first leaf; −1: none
	owner    int // the node it is the output of; −1: a feed's
	ownerBus int // a root's: the bus that its driver hangs on; −1: it is a feed's
	monotone bool
	kindLo   int // a root on which only arrays hang: their strings
	kindHi   int
	arrays   bool // arrays hang in the region straight on, or behind resistances

	top  float64 // no voltage in it is higher
	warm bool    // u is a solution of late

	// While a region is solved:
	up        int // the bus above; −1: the root
	upOhm     float64
	upV0      float64
	upLimit   float64 // of the current into it
	u         float64
	from      float64 // where it stood before its last step down
	low       float64 // where it had to go up again
	residual  float64 // what is offered to it less what is drawn, A
	slope     float64 // of what is drawn, A/V
	link      float64 // of the current into it with the voltage above, A/V
	rhs, diag float64
	step      float64
	brk       float64 // the next voltage below at which a law of it breaks
	held      bool    // the step is given
	slack     float64 // what a pinned bus has left
	jump      int     // leaf that begins to draw just here; −1: none
	pin       int     // leaf that holds the bus at the voltage it begins to draw at

	drawA, drawG float64 // a root's solution: what is drawn from it, and its slope
}

type leafKind int

const (
	arrayLeaf leafKind = iota
	stripLeaf
	loadLeaf
	auxLeaf
	driverLeaf
	ohmLeaf // a short
	ownLeaf // what a part draws beside what it passes
)

// A leaf is what ends a region: a load, or a driver with a region of its own below it.
type leaf struct {
	kind   leafKind
	node   int     // whose law it is
	w      float64 // how many of it are taken together in a and g
	ohm    float64 // before an array
	v0     float64 // before an array
	next   int     // of the same bus; −1: the last
	a, g   float64 // draw and slope when last looked at
	i      float64 // an array's: current of a string the slope was taken at; 0: a is no tangent
	brk    float64
	nested bool // its driver's output follows its input, and is solved for it each time
	joined bool // its driver is out of control: the bus below belongs to this region
	before bool // it was so in the last solution, and the buses below still stand so
}

// A kind is alike strings of an array on a bus of nothing but arrays.
type kind struct {
	node, group int
	n           float64 // how many
	ohm         float64 // beside their own
	v0          float64
	a           float64 // of one, when last looked at; 0: never
	v, slope    float64
}

// Instead of a bus in Solver.out.
const (
	merged = -1 // what the node feeds is at its own voltage
	folded = -2 // what it feeds is an only array, taken together with it
	dark   = -3 // nothing gets there
)

// build lays out buses and leaves.
func (s *Solver) build() {
	s.buses, s.leaves, s.kinds, s.pending = s.buses[:0], s.leaves[:0], s.kinds[:0], s.pending[:0]
	for k := range s.Nodes {
		s.out[k], s.leafOf[k] = dark, -1
	}
	for i := range s.Feeds {
		f := &s.Feeds[i]
		s.feedBus[i] = s.root(-1, -1, f.KidLo, f.KidHi)
	}
	s.pair()
}

// addBus adds a bus of which there are w: their resistances lie in parallel.
func (s *Solver) addBus(parent int, ohm, v0, w float64, owner int) int {
	s.buses = append(s.buses, bus{parent: parent, ohm: ohm / w, v0: v0, w: w, first: -1, owner: owner, ownerBus: -1, monotone: true, pin: -1, jump: -1})
	return len(s.buses) - 1
}

// root lays out a region and, behind it, those of the drivers in it.
func (s *Solver) root(owner, ownerBus, lo, hi int) int {
	r := s.addBus(-1, 0, 0, 1, owner)
	s.buses[r].ownerBus = ownerBus
	mark := len(s.pending)
	s.hang(r, lo, hi, 1)
	s.close(r)
	s.strings(r)
	for len(s.pending) > mark {
		last := len(s.pending) - 2
		k, b := s.pending[last], s.pending[last+1]
		s.pending = s.pending[:last]
		n := &s.Nodes[k]
		s.out[k] = s.root(k, b, n.KidLo, n.KidHi)
	}
	return r
}

// close ends a bus once all below it is laid out.
func (s *Solver) close(b int) {
	s.buses[b].end = len(s.buses)
	if up := s.buses[b].parent; up >= 0 {
		s.buses[up].monotone = s.buses[up].monotone && s.buses[b].monotone
		s.buses[up].arrays = s.buses[up].arrays || s.buses[b].arrays
	}
}

func (s *Solver) addLeaf(b int, l leaf) {
	l.next = -1
	s.leaves = append(s.leaves, l)
	at := len(s.leaves) - 1
	if s.buses[b].first < 0 {
		s.buses[b].first = at
	} else {
		last := s.buses[b].first
		for s.leaves[last].next >= 0 {
			last = s.leaves[last].next
		}
		s.leaves[last].next = at
	}
	if l.node >= 0 {
		if l.kind != ownLeaf {
			s.leafOf[l.node] = at
		}
		s.buses[b].monotone = s.buses[b].monotone && s.Nodes[l.node].monotone
	}
	s.buses[b].arrays = s.buses[b].arrays || l.kind == arrayLeaf
}

// known tells whether anything of what hangs side by side can be computed. A driver of which
// all loads are still to be said is left out: what it would do without them, such as climb
// to its highest voltage, is no figure of the light.
func (s *Solver) known(lo, hi int) bool {
	for k := lo; k < hi; k++ {
		switch n := &s.Nodes[k]; {
		case n.Chosen, n.Kind == Aux, n.Fault != OK, n.Kind == Driver && n.KidHi == n.KidLo, s.known(n.KidLo, n.KidHi):
			return true
		}
	}
	return false
}

// hang puts nodes on a bus, w times.
func (s *Solver) hang(b, lo, hi int, w float64) {
	times := w
	for k := lo; k < hi; k++ {
		n := &s.Nodes[k]
		w := n.Count * times
		switch {
		case n.Fault == Open:
			continue
		case n.Fault == Short:
			s.addLeaf(b, leaf{kind: ohmLeaf, node: k, w: w, ohm: shortOhm + n.SeriesOhm})
			continue
		}
		if arr, ohm, v0, ok := s.fold(k); ok {
			s.addLeaf(b, leaf{kind: arrayLeaf, node: arr, w: w, ohm: ohm, v0: v0})
			for j := k; j != arr; j = s.Nodes[j].KidLo {
				s.out[j] = folded
			}
			continue
		}
		if ohm, v0, ok := n.passes(); ok {
			s.pass(b, k, ohm, v0, w)
			continue
		}
		kind := arrayLeaf
		switch n.Kind {
		case Driver:
			if n.Drv.Family == driver.Absent || n.KidHi > n.KidLo && !s.known(n.KidLo, n.KidHi) {
				continue
			}
			kind = driverLeaf
		case Strip:
			kind = stripLeaf
		case Load:
			kind = loadLeaf
		case Aux:
			kind = auxLeaf
		default:
			continue // an open switch, or an array without emitters
		}
		if kind != driverLeaf && kind != auxLeaf && !n.Chosen {
			continue
		}
		at := b
		if n.SeriesOhm > 0 {
			at = s.addBus(b, n.SeriesOhm, 0, w, k)
		}
		s.addLeaf(at, leaf{kind: kind, node: k, w: w})
		if at != b {
			s.close(at)
		}
		if kind == driverLeaf {
			s.pending = append(s.pending, k, at)
		}
	}
}

// pass puts w equal nodes on a bus that are resistances to what hangs below them.
func (s *Solver) pass(b, k int, ohm, v0, w float64) {
	n := &s.Nodes[k]
	at := b
	ohm += n.SeriesOhm
	if n.Drv.QuiescentA > 0 && n.Kind == Driver {
		if n.SeriesOhm > 0 {
			at = s.addBus(b, n.SeriesOhm, 0, w, k)
			ohm -= n.SeriesOhm
		}
		s.addLeaf(at, leaf{kind: ownLeaf, node: k, w: w})
	}
	if ohm == 0 && v0 == 0 {
		s.out[k] = merged
		s.hang(at, n.KidLo, n.KidHi, w)
	} else {
		c := s.addBus(at, ohm, v0, w, k)
		s.out[k] = c
		s.hang(c, n.KidLo, n.KidHi, w)
		s.close(c)
	}
	if at != b {
		s.close(at)
	}
}

// passes tells that a node is a resistance, and perhaps a fixed drop, to what it feeds.
func (n *Node) passes() (ohm, v0 float64, ok bool) {
	switch {
	case n.Kind == Switch:
		return n.ContactOhm, 0, !n.Off
	case n.Kind != Driver || n.Drv.Duty < 1:
		return 0, 0, false
	}
	switch n.Drv.Family {
	case driver.None:
		return 0, 0, true
	case driver.Resistor:
		return n.Drv.ResistanceOhm, 0, true
	case driver.Dropper:
		return n.Drv.ResistanceOhm, n.Drv.DropV, true
	}
	return 0, 0, false
}

// fold follows a node through resistances to an only array.
func (s *Solver) fold(k int) (arr int, ohm, v0 float64, ok bool) {
	top := k
	for {
		n := &s.Nodes[k]
		if n.Fault != OK || k != top && n.Count != 1 {
			return 0, 0, 0, false
		}
		ohm += n.SeriesOhm
		if n.Kind == Array {
			return k, ohm, v0, n.Chosen
		}
		r, v, passes := n.passes()
		if !passes || n.KidHi-n.KidLo != 1 || n.Kind == Driver && n.Drv.QuiescentA > 0 {
			return 0, 0, 0, false
		}
		ohm, v0, k = ohm+r, v0+v, n.KidLo
	}
}

// strings lists the strings on a root on which nothing but arrays hang.
func (s *Solver) strings(r int) {
	x := &s.buses[r]
	x.kindLo = len(s.kinds)
	x.kindHi = x.kindLo
	if x.end != r+1 {
		return
	}
	for l := x.first; l >= 0; l = s.leaves[l].next {
		f := &s.leaves[l]
		if f.kind != arrayLeaf || f.ohm > 0 && !s.Nodes[f.node].Arr.Uniform() {
			s.kinds = s.kinds[:x.kindLo]
			return
		}
		for g := range s.Nodes[f.node].Arr.Groups {
			group := &s.Nodes[f.node].Arr.Groups[g]
			if group.Open || group.Strings <= 0 {
				continue
			}
			n := float64(group.Strings)
			s.kinds = append(s.kinds, kind{node: f.node, group: g, n: n * f.w, ohm: n * f.ohm, v0: f.v0})
		}
	}
	x.kindHi = len(s.kinds)
}

const (
	shortOhm = 1e-3
)

// live is what a source offers while a feed is solved.
type live struct {
	open, ohm, limit float64
	twoWay, cut      bool
}

func (l *live) at(v float64) (a, slope float64) {
	if l.cut {
		return 0, 0
	}
	a, slope = (l.open-v)/l.ohm, -1/l.ohm
	switch {
	case a > l.limit:
		return l.limit, 0
	case a < 0 && !l.twoWay:
		return 0, 0
	}
	return a, slope
}

// An offer is what a root is fed with: by a driver, or by the sources of a feed.
type offer struct {
	env     driver.Envelope
	feeders []live // of a feed
}

func (o *offer) openV() float64 {
	if o.feeders == nil {
		return o.env.NoLoadV()
	}
	v := 0.0
	for i := range o.feeders {
		if !o.feeders[i].cut {
			v = max(v, o.feeders[i].open)
		}
	}
	return v
}

// at is the current offered at a voltage, and its slope.
func (o *offer) at(v float64) (a, slope float64) {
	if o.feeders == nil {
		a, slope, _ = o.env.Offer(v)
		return a, slope
	}
	for i := range o.feeders {
		x, dx := o.feeders[i].at(v)
		a, slope = a+x, slope+dx
	}
	return a, slope
}

// falling tells that it offers no more as the voltage rises.
func (o *offer) falling() bool { return o.feeders != nil || o.env.Falling() }

// concave tells that it bends down only, so that Newton's steps from above stop above.
func (o *offer) concave() bool {
	if o.feeders == nil {
		// A limit that folds back is a straight line, and so the lower of two.
		return o.env.HoldW == 0 && len(o.env.Table) == 0
	}
	// A supply beside a higher source begins to give where it bends the other way.
	top := o.openV()
	for i := range o.feeders {
		if f := &o.feeders[i]; !f.cut && !f.twoWay && f.open < top {
			return false
		}
	}
	return true
}

// limits is the resistance and the limit of a plain offer, to begin from.
func (o *offer) limits() (ohm, limit float64) {
	if o.feeders == nil {
		if o.env.CapV > 0 {
			return driver.WireOhm, o.env.LimitA
		}
		return o.env.SeriesOhm, o.env.LimitA
	}
	g := 0.0
	for i := range o.feeders {
		if f := &o.feeders[i]; !f.cut {
			g += 1 / f.ohm
			limit += f.limit
		}
	}
	if g == 0 {
		return math.Inf(1), 0
	}
	return 1 / g, limit
}
