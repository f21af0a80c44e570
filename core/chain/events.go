package chain

import (
	"cmp"
	"math"
	"slices"

	"photherm/core/circuit"
	"photherm/core/driver"
	"photherm/core/source"
)

// An Event is something that happens during a run.
type Event struct {
	T    float64 `json:"t" doc:"Seconds after switch-on"`
	Kind string  `json:"kind" enum:"drop-out,regulates,half-light,tenth-light,below-cutoff,cut-off,over-current,trips,empty,released,full,charged,over-charge,charges-again,hangs,comes-up,lock-out,restarts,hiccup,cycling,cycling-ends,lowered,raised,dark,faded,settled,overheat,time-limit" doc:"What happens"`
	Node string  `json:"node" doc:"Id of the node, feed or body"`
	Text string  `json:"text" doc:"One sentence"`
}

var eventText = map[string]string{
	"drop-out":      "headroom is gone: from here the current follows the source down",
	"regulates":     "headroom is back: the current is regulated again",
	"half-light":    "half of the light at 30 s",
	"tenth-light":   "a tenth of the light at 30 s",
	"below-cutoff":  "a cell falls below its cut-off: protection waits",
	"cut-off":       "the cells reach their cut-off voltage",
	"over-current":  "more flows than the board of the cells bears: it waits",
	"trips":         "the board of the cells trips: more flows than it bears, and it stays off until the load is taken away",
	"empty":         "the cells are empty",
	"released":      "the rested cells are above their release: protection switches on again",
	"full":          "the cells are full, and take nothing more",
	"charged":       "the charger's current has fallen to its end: it stops",
	"over-charge":   "a cell has risen to where its board stops the charge",
	"charges-again": "the rested cells have fallen far enough: the charger begins again",
	"hangs":         "switched on into its load the supply hangs on its folded-back limit",
	"comes-up":      "the load has let go: the supply comes up to its voltage",
	"lock-out":      "the driver locks out below its lowest input",
	"restarts":      "its input is back: the driver starts again",
	"hiccup":        "the emitters' voltage leaves the driver's window: it stops and tries again, over and over",
	"cycling":       "it goes off, the source recovers, it comes back, over and over: from here on the average is told",
	"cycling-ends":  "the source no longer recovers far enough: it stays off",
	"lowered":       "the driver goes down by itself",
	"raised":        "it is cool again: the driver comes back",
	"dark":          "no light is left",
	"faded":         "faded out: the source stands at the voltage at which its load goes out",
	"settled":       "temperatures have settled",
	"overheat":      "there is no steady state that it bears: it overheats",
	"time-limit":    "still running when the calculation was ended",
}

func (r *runner) note(kind, owner string, at float64) {
	r.run.Events = append(r.run.Events, Event{T: at, Kind: kind, Node: owner, Text: eventText[kind]})
}

func (r *runner) end(kind, owner string, at float64) {
	r.note(kind, owner, at)
	r.run.End = r.run.Events[len(r.run.Events)-1]
}

// A watch is a level that is looked at at every step: below zero something happens.
type watch struct {
	kind watchKind
	at   int // node or feeder
	last float64
	seen int // how often it has been told
}

// mostTold is how often a driver's headroom is told to come and go in one run (chosen):
// what flutters more than that tells nothing new.
const mostTold = 20

type watchKind int

const (
	driverLatch watchKind = iota
	feederLatch
	headroom // a sign that changes, either way
	fading
	filling
	warmth
)

// watchAll lists the levels, with their present values.
func (r *runner) watchAll() {
	r.watches = r.watches[:0]
	for k := range r.Nodes {
		n := &r.Nodes[k]
		if n.Kind != circuit.Driver {
			continue
		}
		if n.Drv.Latches() {
			r.watches = append(r.watches, watch{kind: driverLatch, at: k})
		}
		if n.Drv.NeedsHeadroom() {
			r.watches = append(r.watches, watch{kind: headroom, at: k})
		}
	}
	for i := range r.Feeders {
		if f := &r.Feeders[i]; f.IsPack {
			r.watches = append(r.watches, watch{kind: feederLatch, at: i}, watch{kind: filling, at: i})
		} else if charges(f) {
			r.watches = append(r.watches, watch{kind: feederLatch, at: i})
		}
	}
	for i := range r.m.lowers {
		if r.m.lowers[i].lump >= 0 {
			r.watches = append(r.watches, watch{kind: warmth, at: i})
		}
	}
	r.watches = append(r.watches, watch{kind: fading})
	r.measure()
}

func (r *runner) measure() {
	for i := range r.watches {
		r.watches[i].last = r.level(&r.watches[i])
	}
}

// fadedShare is the share of the light at 30 s, or where that is not known of the power
// then, from which a light is taken as out: chosen, a hundredth of the last tenth that
// ANSI/PLATO FL 1 counts.
const fadedShare = 1e-3

func (r *runner) level(w *watch) float64 {
	switch w.kind {
	case driverLatch:
		return r.driverLevel(w.at)
	case feederLatch:
		if r.waiting(w.at) {
			return r.chargeLevel(w.at)
		}
		return r.feederLevel(w.at)
	case headroom:
		p := &r.On[w.at]
		if r.Locked[w.at] || r.Collapsed[w.at] || p.InnerV <= 0 || r.Nodes[w.at].Drv.LimitA() <= 0 {
			return 0
		}
		return p.InnerV - r.Nodes[w.at].Drv.HeadroomV - p.OutV
	case filling:
		return 1 - r.protection(w.at, r.OnFeeder).Charge
	case warmth:
		return r.lowerLevel(w.at)
	}
	// Without a regulator a source may come to rest where its load goes out.
	if r.rest != nil || r.input30W == 0 {
		return math.Inf(1)
	}
	if r.flux30 > 0 {
		return r.fluxLm() - fadedShare*r.flux30
	}
	return r.inputW(0) - fadedShare*r.input30W
}

// firstEvent looks for the first event of the last step, and leaves y and the operating
// point there; −1 and the end of the step if there is none.
func (r *runner) firstEvent(from, to float64) (event int, at float64) {
	event, at = -1, to
	n := len(r.watches)
	if cap(r.levels) < n {
		r.levels = make([]float64, n)
	}
	r.levels = r.levels[:n]
	for i := range r.watches {
		r.levels[i] = r.level(&r.watches[i])
	}
	for i := range r.watches {
		w, now := &r.watches[i], r.levels[i]
		switch {
		case w.kind == headroom:
			if w.last == 0 || now == 0 || w.last > 0 == (now > 0) || w.seen >= mostTold {
				continue
			}
		case w.kind == feederLatch && r.waits(w.at) && (r.Feeders[w.at].Cycle > 0 || !math.IsNaN(r.below[w.at])):
			continue
		case w.kind == filling && w.last <= 0:
			continue
		case w.kind == fading && event >= 0:
			continue // what goes out at a jump has not faded
		case now >= 0 || w.last < 0:
			continue
		}
		last := w.last
		if math.IsInf(last, 1) {
			last = 1
		}
		sign := 1.0
		if last < 0 {
			sign = -1
		}
		t := r.find(func() float64 { return min(sign*r.level(w), 1e6) }, from, sign*last, to, sign*now)
		if t < at || event < 0 {
			event, at = i, t
		}
	}
	if event >= 0 {
		w := &r.watches[event]
		if w.kind == headroom {
			r.st.Interpolate(at, r.y)
			r.electrical(r.y)
		} else {
			r.justBefore(func() float64 { return r.level(w) }, from, at)
		}
	} else {
		for i := range r.watches {
			r.watches[i].last = r.levels[i]
		}
	}
	return event, at
}

// waits tells that the protection of a source has a delay, which its timer keeps.
func (r *runner) waits(i int) bool {
	p := r.protection(i, r.OnFeeder)
	return !r.Feeders[i].Cut && p.DelayS > 0 && p.Charge > 0
}

// waiting tells that a source is below its cut-off, and its delay runs.
func (r *runner) waiting(i int) bool { return !r.Feeders[i].Cut && !math.IsNaN(r.below[i]) }

// chargeLevel is the charge of a source whose delay runs: what may end it before the delay does is
// an empty cell. Below zero it is empty.
func (r *runner) chargeLevel(i int) float64 {
	p := r.protection(i, r.OnFeeder)
	if p.CanEmpty && p.Charge <= 0 && r.OnFeeder[i].CurrentA > 0 {
		return -1
	}
	return max(p.Charge, 0)
}

// timers keeps since when a source with a delay is below its cut-off, and cuts it off
// when that is over. It tells whether it did.
func (r *runner) timers(at float64) bool {
	for i := range r.Feeders {
		if !r.waits(i) || r.Feeders[i].Cycle > 0 {
			r.below[i] = math.NaN()
			continue
		}
		p := r.protection(i, r.OnFeeder)
		switch {
		case p.AboveV >= 0:
			r.below[i] = math.NaN()
		case math.IsNaN(r.below[i]):
			r.below[i] = at
			r.noteWait(i, at)
			r.measure() // what may happen to it next is something else
		case at >= (r.below[i]+p.DelayS)*(1-1e-12):
			r.below[i] = math.NaN()
			r.jump(len(r.Nodes)+i, at)
			return true
		}
	}
	return false
}

// noteWait tells what the delay of a source's protection runs for.
func (r *runner) noteWait(i int, at float64) {
	kind := "below-cutoff"
	if r.overTrip(i) {
		kind = "over-current"
	}
	r.note(kind, r.ownerOf(i), at)
}

func (r *runner) ownerOf(feeder int) string { return r.m.net.Feeds[r.Feeders[feeder].Feed].ID }

// happen carries out an event. It answers true if the state jumped or the run
// ended, so that nothing of the step remains to be done.
func (r *runner) happen(event int, at float64) bool {
	w := &r.watches[event]
	switch w.kind {
	case fading:
		r.end("faded", "", at)
		return true
	case headroom:
		kind := "drop-out"
		if w.last < 0 {
			kind = "regulates"
		}
		w.seen++
		r.note(kind, r.Nodes[w.at].ID, at)
		return false
	case filling:
		r.note("full", r.ownerOf(w.at), at)
		return false
	case warmth:
		r.lowerNow(w.at, at)
	case feederLatch:
		if r.waits(w.at) {
			r.below[w.at] = at
			r.noteWait(w.at, at)
			return false
		}
		r.below[w.at] = math.NaN()
		r.jump(len(r.Nodes)+w.at, at)
	default:
		r.jump(w.at, at)
	}
	return true
}

// jump changes a latch at an instant and all that follows from it there.
func (r *runner) jump(which int, at float64) {
	r.at(at, func() {
		was := r.isOff(which)
		r.flip(which)
		r.follow(r.y)
		if c := &r.cycles[which]; r.isOff(which) == was && !c.always {
			// It has let go and is back at the same instant, where it was.
			c.always = true
			r.average(which, 0.5)
			r.follow(r.y)
		}
	})
}

// at makes a change at an instant, with all that follows from it there.
func (r *runner) at(at float64, change func()) {
	copy(r.locked, r.Locked)
	for i := range r.Feeders {
		r.cut[i], r.gave[i] = r.Feeders[i].Cut, r.OnFeeder[i].CurrentA
	}
	for i := range r.cycles {
		r.cycles[i].flips = 0
	}
	change()
	r.countCycles(at)
	r.append(at)
	r.noteLatches(at)
	r.now = r.flowing()
	r.ends(at)
	if r.run.End.Kind == "" {
		r.st.Start(at, r.y, 1e-3)
		r.electrical(r.y)
		r.measure()
	}
}

// isOff tells whether a latch is off.
func (r *runner) isOff(which int) bool {
	if i := which - len(r.Nodes); i >= 0 {
		return r.Feeders[i].Cut
	}
	return r.Locked[which]
}

// noteLatches tells what latches did at an instant.
func (r *runner) noteLatches(at float64) {
	for i := range r.Feeders {
		f := &r.Feeders[i]
		switch {
		case !f.IsPack && f.Cut && !r.cut[i]:
			kind := "charged"
			if c, ok := f.Law.(*source.Charger); ok && c.Stopped(f.States(r.y), r.CellC[i], r.gave[i]) {
				kind = "over-charge"
			}
			r.note(kind, r.ownerOf(i), at)
		case !f.IsPack && !f.Cut && r.cut[i]:
			r.note("charges-again", r.ownerOf(i), at)
		case f.Cut && !r.cut[i]:
			kind := "cut-off"
			if p := r.protection(i, r.OnFeeder); p.CanEmpty && p.Charge <= 0 {
				kind = "empty"
			}
			if a := r.trippedA[i]; a > 0 {
				kind = "trips"
				r.run.tripped(r.ownerOf(i), a)
			}
			r.note(kind, r.ownerOf(i), at)
		case !f.Cut && r.cut[i]:
			r.note("released", r.ownerOf(i), at)
		}
		r.tellCycle(len(r.Nodes)+i, r.ownerOf(i), f.Cycle > 0, at)
	}
	for k := range r.Nodes {
		n := &r.Nodes[k]
		switch {
		case r.Locked[k] && !r.locked[k] && n.Drv.Family == driver.Window:
			r.note("hiccup", n.ID, at)
		case r.Locked[k] && !r.locked[k]:
			r.note("lock-out", n.ID, at)
		case !r.Locked[k] && r.locked[k]:
			r.note("restarts", n.ID, at)
		}
		r.tellCycle(k, n.ID, n.Cycle > 0, at)
	}
}

func (r *runner) tellCycle(which int, owner string, averaged bool, at float64) {
	if c := &r.cycles[which]; !c.told && (averaged || c.always) {
		c.told = true
		r.note("cycling", owner, at)
	}
}

// countCycles keeps how often latches let go of late, and takes the average where that
// is too often to follow: at the share of the time it was on since it was counted.
func (r *runner) countCycles(at float64) {
	count := func(which int, wasOff, isOff bool) {
		c := &r.cycles[which]
		switch {
		case isOff && !wasOff:
			c.onS += at - c.onAtS
			c.offAtS = at
		case !isOff && wasOff:
			if !math.IsNaN(c.offAtS) {
				c.offS += at - c.offAtS
			}
			c.onAtS = at
			if c.n == mostCycles {
				copy(c.starts[:], c.starts[1:])
				c.n--
			}
			c.starts[c.n] = at
			c.n++
			if c.n == mostCycles && at-c.starts[0] < cycleWindowS {
				if span := c.onS + c.offS; span > 0 {
					r.average(which, min(max(c.onS/span, 0.01), 0.99))
					r.electrical(r.y)
				}
			} else if c.n == 1 || at-c.starts[c.n-1] >= cycleWindowS {
				c.onS, c.offS = 0, 0 // it is counted from here
			}
		}
	}
	for k := range r.Nodes {
		count(k, r.locked[k], r.Locked[k])
	}
	for i := range r.Feeders {
		count(len(r.Nodes)+i, r.cut[i], r.Feeders[i].Cut)
	}
}

// stillCycling looks whether what goes on and off still can: once the rested source no
// longer reaches the level at which it comes back, it stays off. It tells whether
// something changed.
func (r *runner) stillCycling(at float64) bool {
	for k := range r.Nodes {
		n := &r.Nodes[k]
		if n.Cycle <= 0 {
			continue
		}
		feed := &r.Feeds[n.Feed]
		rest := 0.0
		for i := feed.FeederLo; i < feed.FeederHi; i++ {
			if f := &r.Feeders[i]; !f.Cut {
				rest = max(rest, f.Law.RestV(f.States(r.y)))
			}
		}
		if rest >= n.Drv.RestartV || !r.fedStraight(k) {
			continue
		}
		copy(r.locked, r.Locked)
		n.Cycle, r.Locked[k] = 0, true
		r.Prepare()
		r.settleJump(at, n.ID, "cycling-ends")
		return true
	}
	for i := range r.Feeders {
		f := &r.Feeders[i]
		if f.Cycle <= 0 {
			continue
		}
		p := f.Law.Protection(f.States(r.y), r.CellC[i], 0)
		slow := f.Law.RestV(f.States(r.y)) - f.Law.Terminal(f.States(r.y), r.CellC[i]).OpenV
		if p.Release+slow > 0 && p.Charge > 0 {
			continue
		}
		f.Cycle, f.Cut = 0, true
		r.Prepare()
		r.settleJump(at, r.ownerOf(i), "cycling-ends")
		return true
	}
	return false
}

// cameUp lets a supply that hung go up once its load lets it.
func (r *runner) cameUp(at float64) bool {
	for k := range r.Nodes {
		if !r.Low[k] {
			continue
		}
		if !r.comeUp(r.y) {
			return false
		}
		copy(r.locked, r.Locked)
		r.settleJump(at, r.Nodes[k].ID, "comes-up")
		return true
	}
	return false
}

func (r *runner) settleJump(at float64, owner, kind string) {
	for i := range r.Feeders {
		r.cut[i] = r.Feeders[i].Cut
	}
	r.latch(r.y)
	r.note(kind, owner, at)
	r.append(at)
	r.now = r.flowing()
	r.ends(at)
	r.st.Start(at, r.y, 1e-3)
	r.electrical(r.y)
	r.measure()
}

// fedStraight tells that nothing but resistances lies between a node and its feed.
func (r *runner) fedStraight(k int) bool {
	for up := r.Nodes[k].Parent; up >= 0; up = r.Nodes[up].Parent {
		if r.Nodes[up].Drv.Latches() {
			return false
		}
	}
	return true
}

// light reads half and a tenth of the light off the course: the first time after the
// reference at which it is down there.
func (r *runner) light() {
	if r.flux30 <= 0 {
		return
	}
	for _, level := range []struct {
		kind  string
		share float64
	}{{"half-light", 0.5}, {"tenth-light", 0.1}} {
		if t, ok := r.run.fallsTo(level.share * r.flux30); ok {
			r.note(level.kind, "", t)
		}
	}
	slices.SortStableFunc(r.run.Events, func(a, b Event) int { return cmp.Compare(a.T, b.T) })
}

// fallsTo is when the light is first down at a flux, straight between rows, counted from
// the reference on.
func (run *Run) fallsTo(fluxLm float64) (t float64, ok bool) {
	flux := func(i int) float64 { return run.Records[i][len(run.Records[i])-totalFluxLm] }
	for i := range run.T {
		if run.T[i] < almostReferenceS || flux(i) > fluxLm {
			continue
		}
		if i == 0 || run.T[i-1] < almostReferenceS || flux(i-1) <= fluxLm {
			return max(run.T[i], referenceS), true
		}
		share := (flux(i-1) - fluxLm) / (flux(i-1) - flux(i))
		return run.T[i-1] + share*(run.T[i]-run.T[i-1]), true
	}
	return 0, false
}
