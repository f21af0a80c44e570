package chain

import (
	"math"

	"photherm/core/circuit"
	"photherm/core/driver"
	"photherm/core/source"
)

// Latches are levels, looked at at switch-on, after every jump and at every step: a
// driver below the input at which it lets go, or under which its source breaks down,
// or outside its window, is locked out; one that is locked out starts again where its
// input reaches the level at which it starts; a pack below its cut-off is cut off, and
// switched on again where its resting cells are above its release.

// maxModeSolves bounds how often latches may change at one instant.
const maxModeSolves = 20

// What is switched on and off more often than this is not followed edge by edge.
const (
	mostCycles   = 10
	cycleWindowS = 60
)

// A cycle counts how often a latch has let go of late.
type cycle struct {
	starts [mostCycles]float64 // when, the last at places[n-1]
	n      int
	onAtS  float64 // when it was switched on last
	onS    float64 // for how long it was on, and off, since it began to be counted
	offS   float64
	offAtS float64
	flips  int  // at the present instant
	always bool // it is on and off at one instant: no time passes in between
	told   bool
}

// calm takes all cycles back.
func (s *Solver) calm() {
	again := false
	for i := range s.cycles {
		s.cycles[i] = cycle{onAtS: 0, offAtS: math.NaN()}
	}
	for k := range s.Nodes {
		again = again || s.Nodes[k].Cycle > 0
		s.Nodes[k].Cycle = 0
	}
	for i := range s.Feeders {
		again = again || s.Feeders[i].Cycle > 0
		s.Feeders[i].Cycle = 0
		s.below[i], s.trippedA[i] = math.NaN(), 0
	}
	if again {
		s.Prepare()
	}
}

func (s *Solver) cycleOfFeeder(i int) *cycle { return &s.cycles[len(s.Nodes)+i] }

// startLocked lets every driver that needs a voltage to start wait for it: at switch-on
// the input comes from below.
func (s *Solver) startLocked() {
	for k := range s.Nodes {
		n := &s.Nodes[k]
		s.Locked[k] = n.Kind == circuit.Driver && n.Drv.Latches() && n.Drv.LockV > 0
	}
}

// startLow has supplies that may hang on their way up begin there.
func (s *Solver) startLow() {
	for k := range s.Nodes {
		n := &s.Nodes[k]
		s.Low[k] = n.Kind == circuit.Driver && n.Drv.StartsLow()
	}
}

// comeUp takes those supplies off their lowest crossing that have no other above it. It
// tells whether there were any, and leaves the operating point as it is then.
func (s *Solver) comeUp(y []float64) (changed bool) {
	for k := range s.Nodes {
		if !s.Low[k] {
			continue
		}
		hangs := s.On[k].OutV
		s.Low[k] = false
		s.electrical(y)
		if s.On[k].OutV > hangs*(1+1e-6)+1e-6 && hangs > 0 {
			s.Low[k] = true
			s.electrical(y)
			continue
		}
		changed = true
	}
	return changed
}

// switchedOn looks at everything that depends on where it comes from, at switch-on.
func (s *Solver) switchedOn(y []float64) {
	s.loweredAtStart(y)
	s.startLocked()
	s.startLow()
	s.latch(y)
	if s.comeUp(y) {
		s.latch(y)
	}
}

// latch solves at y and lets latches follow their levels, one after the other, until
// nothing changes. What goes on and off at one instant is cycling: from there on it is
// taken at half of each (chosen: nothing tells the times).
func (s *Solver) latch(y []float64) (changed bool) {
	for i := range s.cycles {
		s.cycles[i].flips = 0
	}
	return s.follow(y)
}

// follow is latch at an instant at which something has changed already.
func (s *Solver) follow(y []float64) (changed bool) {
	s.electrical(y)
	for range maxModeSolves * (1 + len(s.cycles)) {
		if !s.latchOnce() {
			return changed
		}
		changed = true
		s.electrical(y)
	}
	return changed
}

// latchOnce changes the one latch that is farthest from its level.
func (s *Solver) latchOnce() bool {
	worst, at := 0.0, -1
	for k := range s.Nodes {
		if level := s.driverLevel(k); level < worst {
			worst, at = level, k
		}
	}
	for i := range s.Feeders {
		if level := s.feederLevel(i); level < worst {
			worst, at = level, len(s.Nodes)+i
		}
	}
	if at < 0 {
		return false
	}
	s.flip(at)
	return true
}

// flip changes a latch. One that has changed back and forth at this instant cycles.
func (s *Solver) flip(at int) {
	c := &s.cycles[at]
	if at < len(s.Nodes) && s.Nodes[at].Cycle > 0 {
		s.Nodes[at].Cycle, s.Locked[at], c.always = 0, true, true
		s.Prepare()
		return
	}
	if c.flips++; c.flips > 2 {
		c.always = true
		s.average(at, 0.5)
		return
	}
	if i := at - len(s.Nodes); i >= 0 {
		if f := &s.Feeders[i]; !f.Cut && s.overTrip(i) {
			s.trippedA[i] = s.OnFeeder[i].CurrentA
		}
		s.Feeders[i].Cut = !s.Feeders[i].Cut
		return
	}
	s.Locked[at] = !s.Locked[at]
}

// average takes a latch that goes on and off over and over as switched by duty. A driver
// that cannot be on at all stays out.
func (s *Solver) average(at int, share float64) {
	if i := at - len(s.Nodes); i >= 0 {
		s.Feeders[i].Cut, s.Feeders[i].Cycle = false, share
		s.Prepare()
		return
	}
	if s.Collapsed[at] {
		s.Locked[at] = true
		return
	}
	s.Locked[at], s.Nodes[at].Cycle = false, share
	s.Prepare()
}

// collapsedV is the input below which a switching driver is taken as out, though
// its data say nothing.
const collapsedV = 0.3

// driverLevel is how far a driver's input is on the good side of what changes its latch
// next, V: below 0 it changes. It is +Inf where nothing can.
func (s *Solver) driverLevel(k int) float64 {
	n, p := &s.Nodes[k], &s.On[k]
	d := &n.Drv
	if n.Cycle > 0 && s.Collapsed[k] {
		return -1e3 // not even for a moment can it be on any more
	}
	if n.Kind != circuit.Driver || n.Fault != circuit.OK || !d.Latches() || n.Cycle > 0 || s.cycles[k].always {
		return math.Inf(1)
	}
	if s.Locked[k] {
		switch {
		case d.Family == driver.Window && d.LockV <= 0:
			return math.Inf(1) // it tries again and again, for nothing
		case p.InnerV <= 0:
			return math.Inf(1)
		}
		if level := d.RestartV - p.InnerV; level > 0 {
			return level
		}
		return -1e-9 - (p.InnerV - d.RestartV)
	}
	if s.Collapsed[k] {
		return -1e3 // before all else: there is no operating point with it
	}
	if p.InnerV <= 0 && !s.starved(k) {
		return math.Inf(1) // switched off, or dark with what feeds it
	}
	if p.InnerV > 0 && !d.InsideWindow(p.OutV, p.OutA) {
		return -1
	}
	least := d.LockV
	if d.Switches() {
		least = max(least, collapsedV)
	}
	if least <= 0 {
		return math.Inf(1)
	}
	return p.InnerV - least
}

// starved tells of a driver without input that what feeds it has broken down, and is
// not switched off, locked out or faulty.
func (s *Solver) starved(k int) bool {
	n := &s.Nodes[k]
	if s.On[k].InV > 0 {
		return true
	}
	for up := n.Parent; up >= 0; up = s.Nodes[up].Parent {
		u := &s.Nodes[up]
		if u.Fault != circuit.OK || u.Off {
			return false
		}
		if u.Kind == circuit.Driver {
			if s.Locked[up] || s.Collapsed[up] || u.Drv.LimitA() <= 0 && u.Drv.Latches() || u.Drv.Family == driver.Absent {
				return false
			}
			if s.On[up].InV > 0 {
				return true
			}
		}
	}
	f := &s.Feeds[n.Feed]
	for i := f.FeederLo; i < f.FeederHi; i++ {
		if !s.Feeders[i].Cut && s.OnFeeder[i].OpenV > 0 {
			return true
		}
	}
	return false
}

// protection is where a source stands by its operating point: by its cells or, where that is
// nearer, by the current at which its board trips, a volt for an ampere. A board that has tripped
// stays off as long as its load hangs on it (common practice: it is taken off to let go).
func (s *Solver) protection(i int, at []circuit.FeederPoint) source.Standby {
	f := &s.Feeders[i]
	p := f.Law.Protection(f.States(s.y), s.CellC[i], at[i].CurrentA)
	if s.trippedA[i] > 0 {
		p.Release = math.Inf(-1)
	}
	if spare := p.TripA - at[i].CurrentA; p.TripA > 0 && spare < p.AboveV {
		if p.AboveV = spare; spare <= atTripA {
			p.DelayS = p.TripS
		}
	}
	return p
}

// atTripA is how near to the current at which its board trips a source has reached it, A: an event
// is found to within that (chosen).
const atTripA = 1e-6

// overTrip tells that it is the current by which the protection of a source acts.
func (s *Solver) overTrip(i int) bool {
	p := s.protection(i, s.OnFeeder)
	spare := p.TripA - s.OnFeeder[i].CurrentA
	return p.TripA > 0 && spare <= atTripA && spare == p.AboveV
}

// feederLevel is how far a source is on the good side of what changes its latch next,
// V; its delay is not looked at.
func (s *Solver) feederLevel(i int) float64 {
	f := &s.Feeders[i]
	if f.Cycle > 0 || s.cycleOfFeeder(i).always {
		return math.Inf(1)
	}
	p := s.protection(i, s.OnFeeder)
	switch {
	case f.Cut && p.CanEmpty && p.Charge <= 0:
		return math.Inf(1)
	case f.Cut:
		if level := -p.Release; level > 0 {
			return level
		}
		return -1e-9 - p.Release
	case p.CanEmpty && p.Charge <= 0 && s.OnFeeder[i].CurrentA > 0:
		return -1
	}
	return p.AboveV
}

// relights tells whether something that is locked out or cut off may come back by
// itself: its source recovers as it rests.
func (s *Solver) relights() bool {
	for i := range s.Feeders {
		f := &s.Feeders[i]
		y := f.States(s.y)
		if !f.Cut || s.trippedA[i] > 0 {
			continue
		}
		rested := f.Law.Protection(y, s.CellC[i], 0)
		if slow := f.Law.RestV(y) - f.Law.Terminal(y, s.CellC[i]).OpenV; rested.Release+slow > 0 && rested.Charge > 0 {
			return true
		}
	}
	for k := range s.Nodes {
		n := &s.Nodes[k]
		if n.Kind != circuit.Driver || !s.Locked[k] || n.Drv.Family == driver.Window || s.cycles[k].always {
			continue
		}
		feed := &s.Feeds[n.Feed]
		for i := feed.FeederLo; i < feed.FeederHi; i++ {
			f := &s.Feeders[i]
			y := f.States(s.y)
			slow := f.Law.RestV(y) - f.Law.Terminal(y, s.CellC[i]).OpenV
			if !f.Cut && slow > 1e-3 && s.On[k].InnerV+slow >= n.Drv.RestartV {
				return true
			}
		}
	}
	return false
}

// cycling is the first node or feeder that goes on and off over and over; ok false if
// there is none. why says it in a sentence.
func (s *Solver) cycling() (owner, why string, ok bool) {
	for k := range s.Nodes {
		if n := &s.Nodes[k]; n.Cycle > 0 || s.cycles[k].always {
			return n.ID, cycleWords(n), true
		}
	}
	for i := range s.Feeders {
		if f := &s.Feeders[i]; f.Cycle > 0 || s.cycleOfFeeder(i).always {
			return s.Feeds[f.Feed].ID, "it cycles: protection cuts the pack off, the cells recover without their load, and it switches on again", true
		}
	}
	return "", "", false
}
