package chain

import (
	"context"
	"fmt"
	"math"
	"slices"

	"photherm/core/circuit"
	"photherm/core/ode"
	"photherm/core/root"
)

// A Run is a solved course in time.
type Run struct {
	Model   *Model
	T       []float64   // s; an instant where something jumps stands twice
	Records [][]float64 // one for each T, columns as Model.Columns
	Events  []Event
	Ledger  Ledger
	End     Event              // why it ended
	FluxAt0 float64            // lm at 30 s, the reference of ANSI/PLATO FL 1
	Tripped map[string]float64 // what flowed when the board on a feed tripped, A; nil: none did
	Steps   int
	Evals   int
}

// Times of a run, s.
const (
	referenceS = 30 // ANSI/PLATO FL 1 takes the light 30 s after switch-on
	// A step that ends at the reference may miss it by rounding.
	almostReferenceS = referenceS * (1 - 1e-12)

	jumpStepS   = 1e-3 // where a source collapses, no finer than this is followed
	longestS    = 400 * 86400
	suppliedS   = 30 * 86400 // longest on a supply
	chargedS    = 3 * 86400  // longest while a pack is charged
	maxRunSteps = 20000

	// leastJ is against what a ledger's gap counts at least: chosen, a µJ, some hundredths
	// of a millikelvin of a single die.
	leastJ = 1e-6
	// runBudget is how many evaluations of single laws one run may take: chosen, some
	// three seconds of work.
	runBudget = 30_000_000
)

// usualStepK is how far a step may take a temperature off, K.
const usualStepK = 0.02

// StepWithin sets how far a step of a run may take a temperature off, K: a fit to a log looks at
// the bend of a curve, and wants it finer than a picture does.
func (s *Solver) StepWithin(k float64) { s.stepK = k }

// Roughly lets every step of a run be so many times as far off as usual: many lights that are drawn
// apart by far more ask for no more.
func (s *Solver) Roughly(times float64) { s.rough = times }

func (s *Solver) newStepper() *ode.Stepper {
	if s.stepper == nil {
		s.stepper = ode.New(len(s.y), s.derivative)
		s.stepper.Linear = s.tangents()
	}
	st := s.stepper
	st.Stage = nil
	for i := range st.Tol {
		st.Tol[i] = usualStepK
		if s.stepK > 0 {
			st.Tol[i] = s.stepK
		}
	}
	for i := range s.Feeders {
		f := &s.Feeders[i]
		f.Law.Tolerance(f.States(st.Tol))
	}
	if s.rough > 0 {
		for i := range st.Tol {
			st.Tol[i] *= s.rough
		}
	}
	return st
}

// Run follows the light from switch-on until its packs are empty or cut off, or,
// on a supply, until its temperatures have come within e⁻⁵ of their end (five
// time constants).
func (s *Solver) Run(ctx context.Context) (*Run, error) { return s.RunFor(ctx, longestS) }

// RunFor is Run, but not for longer than a time, s.
func (s *Solver) RunFor(ctx context.Context, longest float64) (run *Run, err error) {
	defer circuit.Caught(&err)
	s.within(ctx)
	r := &runner{Solver: s, ctx: ctx, run: &Run{Model: s.m}, tEnd: min(longest, longestS), longest: min(longest, longestS), stageT: math.NaN(), before: s.Solver.Evals}
	return r.do()
}

type runner struct {
	*Solver
	ctx      context.Context
	run      *Run
	st       *ode.Stepper
	tEnd     float64
	longest  float64 // what was asked for
	watches  []watch
	y, probe []float64
	rest     []float64 // temperatures at rest; nil: runs to empty
	start0   []float64
	flux30   float64
	input30W float64 // what the sources gave at the same time; 0: not there yet
	full     float64 // the most light so far, or power where none is known
	wasLit   bool

	before     int   // evaluations of the solver when it began
	soughtRest bool  // it has been asked where the temperatures go once the packs have ended
	now        flows // at the last row
	stageT     float64
	stage      flows
	stageRow   []float64
	used       [6]float64 // integrals of flows, J
	chunk      []float64
	locked     []bool // as they were before a jump
	cut        []bool
	gave       []float64 // what each source gave then, A
	levels     []float64
	flips      []int // of each driver that goes down by itself
}

// flows are what the ledger adds up over time: power from supplies, light, heat to the
// air, heat to the surroundings, heat in the supplies, what hard work leaves in cells.
type flows [6]float64

func (r *runner) do() (*Run, error) {
	packs := false
	for i := range r.Feeders {
		packs = packs || r.Feeders[i].IsPack
	}
	if !packs {
		st, err := r.Steady(r.ctx)
		if err != nil {
			return nil, err
		}
		r.tEnd = min(r.longest, suppliedS)
		// What goes on and off too fast to follow is at rest on the average.
		if _, why, cycles := r.cycling(); st.Converged || cycles && why == st.Reason {
			r.rest = slices.Clone(r.Solver.y)
		}
	}
	if r.charger() >= 0 {
		r.tEnd = min(r.longest, chargedS)
	}
	n := len(r.Solver.y)
	r.y, r.probe = make([]float64, n), make([]float64, n)
	r.locked, r.cut, r.gave = make([]bool, len(r.Nodes)), make([]bool, len(r.Feeders)), make([]float64, len(r.Feeders))
	r.stageRow = make([]float64, len(r.m.columns))
	r.flips = make([]int, len(r.m.lowers))
	r.start(r.y)
	r.startLocked()
	r.begin()
	r.start0 = slices.Clone(r.y)
	stored0, held0 := r.sourcesJ(r.y)
	heat0 := r.storedJ(r.y)
	r.st = r.newStepper()
	r.st.Stage = r.atStage
	r.st.MinStep, r.st.JumpStep, r.st.Evals = 1e-7, jumpStepS, 0
	r.st.Start(0, r.y, 1e-3)
	r.electrical(r.y)
	r.watchAll()
	r.ends(0)
	if err := r.loop(); err != nil {
		return nil, err
	}
	r.run.Evals = r.st.Evals
	r.reference()
	r.light()
	stored1, held1 := r.sourcesJ(r.y)
	// Where next to nothing flows for months, what the integrator leaves open of the
	// temperatures adds up to some 1e-5 of what the packs hold, and so does what it leaves open of charge.
	r.run.Ledger = newLedger("J", max(0.1*math.Abs(stored0), leastW*r.run.T[len(r.run.T)-1], leastJ),
		[]Entry{{"from the charge of the packs", stored0 - stored1}, {"from supplies", r.used[0]}},
		[]Entry{{"light", r.used[1]}, {"heat to the air", r.used[2]}, {"heat to the surroundings", r.used[3]}, {"heat in the supplies", r.used[4]},
			{"heat still stored", r.storedJ(r.y) - heat0}, {"held by polarisation", held1 - held0}, {"left in the cells by hard work", r.used[5]}})
	return r.run, nil
}

// begin looks at the latches at switch-on and takes the first record.
func (r *runner) begin() {
	copy(r.locked, r.Locked)
	for i := range r.Feeders {
		r.cut[i] = r.Feeders[i].Cut
	}
	r.switchedOn(r.y)
	for k := range r.Nodes {
		// Coming from below, to start is no event; not to start is.
		if r.locked[k] = false; r.Locked[k] && r.On[k].InnerV <= 0 && !r.starved(k) && !r.Collapsed[k] && !r.cycles[k].always {
			r.locked[k] = true // dark: nothing reaches it
		}
	}
	r.append(0)
	r.noteLatches(0)
	for i := range r.lowered {
		if r.lowered[i] {
			r.flips[i]++
			r.note("lowered", r.Nodes[r.m.lowers[i].node].ID, 0)
		}
	}
	for k := range r.Nodes {
		if r.Low[k] {
			r.note("hangs", r.Nodes[k].ID, 0)
		}
	}
	r.now = r.flowing()
	r.wasLit = r.lit()
}

// reference takes what later light is measured by: that at 30 s, or before the end if
// that is sooner.
func (r *runner) reference() {
	if r.input30W != 0 {
		return
	}
	i := r.run.lastOn()
	r.flux30, r.input30W = r.run.total(i, totalFluxLm), r.run.total(i, totalInputW)
	r.run.FluxAt0 = r.flux30
}

func (r *runner) loop() error {
	for r.run.End.Kind == "" {
		if err := r.ctx.Err(); err != nil {
			return fmt.Errorf("solving in time: %w", err)
		}
		if r.Solver.Evals-r.before > runBudget {
			return fmt.Errorf("solving in time at %.4g s: %w", r.st.T, r.TooMuch())
		}
		r.boundStep()
		r.stageT = math.NaN()
		if err := r.st.Step(r.nextStop()); err != nil {
			return fmt.Errorf("solving in time at %.4g s: %w", r.st.T, err)
		}
		r.run.Steps++
		from, to := r.st.OldT, r.st.T
		copy(r.y, r.st.Y)
		if !slices.Equal(r.Solver.y, r.y) {
			r.electrical(r.y)
		}
		event, at := r.firstEvent(from, to)
		r.row(from, at, event >= 0)
		if event >= 0 {
			r.st.Interpolate(at, r.y) // just past it
			r.electrical(r.y)
		}
		if event >= 0 && r.happen(event, at) {
			continue
		}
		if r.input30W == 0 && at >= almostReferenceS {
			r.reference()
		}
		if event >= 0 {
			// Nothing jumped: the step stands, and the rest of it is looked at anew.
			r.st.Start(at, r.y, to-at+1e-6)
			r.electrical(r.y)
			r.measure()
			if w := &r.watches[event]; w.kind != feederLatch { // that looks at something else now
				w.last = 0 // its sign is rounding; the next step tells
			}
			continue
		}
		r.refine(from, at)
		if !r.lowerTimers(at) && !r.timers(at) && !r.stillCycling(at) && !r.cameUp(at) {
			r.ends(at)
		}
	}
	return nil
}

// nextStop is the time no step may pass: the reference, or the end of a delay.
func (r *runner) nextStop() float64 {
	stop := r.tEnd
	if r.st.T < almostReferenceS {
		stop = referenceS
	}
	for i := range r.m.lowers {
		if at := r.m.lowers[i].afterS; !r.lowered[i] && at > r.st.T {
			stop = min(stop, at)
		}
	}
	for i, since := range r.below {
		if math.IsNaN(since) {
			continue
		}
		if at := since + r.protection(i, r.OnFeeder).DelayS; at > r.st.T {
			stop = min(stop, at)
		}
	}
	return stop
}

// largestCharge is how much of a pack's charge one step may take: its voltage
// bends, and the energy is added up from it.
const largestCharge = 0.04

// mostOf is that of a pack at a charge: next to empty the voltage bends most.
func mostOf(charge float64) float64 { return min(max(charge/3, largestCharge/10), largestCharge) }

func (r *runner) boundStep() {
	r.st.MaxStep = 0
	for i := range r.Feeders {
		f := &r.Feeders[i]
		for k := range f.Law.States() {
			if !f.Law.IsCharge(k) {
				continue
			}
			most := mostOf(r.st.Y[f.At+k])
			if rate := math.Abs(r.st.Slope()[f.At+k]); rate > 0 && (r.st.MaxStep == 0 || most/rate < r.st.MaxStep) {
				r.st.MaxStep = most / rate
			}
		}
	}
}

// atStage takes down what flows at the first stage of a step: it is solved there
// anyway, and with both ends, weighed as the integrator weighs them, what is added up
// keeps its balance with the temperatures and charges.
func (r *runner) atStage(t float64, y []float64) {
	r.stageT = t
	copy(r.Solver.y, y)
	r.stage = r.flowing()
	r.record(r.stageRow)
}

func (r *runner) flowing() flows {
	var f flows
	f[0], f[4] = r.supplied()
	f[1] = r.lightW()
	f[2] = r.allToAirW(0)
	f[3] = r.heatW(true)
	f[5] = r.leftW()
	return f
}

// row takes down the middle and the end of the interval just stepped over, and adds up
// what flowed. cutShort: it ends before the step did.
func (r *runner) row(from, at float64, cutShort bool) {
	x := ode.StageShare
	mid := from + x*(at-from)
	end := r.flowing()
	row := r.slot(mid)
	weights := ode.StageWeights
	if cutShort || math.IsNaN(r.stageT) || math.Abs(r.stageT-mid) > 1e-9*(1+math.Abs(mid)) {
		// Through 0, x and 1: exact for parabolas.
		w := 1 / (6 * x * (1 - x))
		weights = [3]float64{0.5 - w*(1-x), w, 0.5 - w*x}
		r.st.Interpolate(mid, r.probe)
		r.electrical(r.probe)
		r.stage = r.flowing()
		r.record(row)
		r.electrical(r.y)
	} else {
		copy(row, r.stageRow)
	}
	r.append(at)
	for i := range r.used {
		r.used[i] += (at - from) * (weights[0]*r.now[i] + weights[1]*r.stage[i] + weights[2]*end[i])
	}
	r.now = end
}

// widestGap is how far, of the full light, two rows may be apart.
const widestGap = 0.02

// refine puts rows between those of a step where the light bends.
func (r *runner) refine(from, at float64) {
	n := len(r.run.T)
	r.full = max(r.full, r.bright(r.run.Records[n-1]), r.bright(r.run.Records[0]))
	if r.full <= 0 {
		return
	}
	lo := n - 3 // the row before, the stage and the end
	if lo < 0 || r.run.T[lo] < from {
		return
	}
	solved := false
	for i := lo; i < len(r.run.T)-1 && len(r.run.T)-n < 400; {
		a, b := r.run.Records[i], r.run.Records[i+1]
		ta, tb := r.run.T[i], r.run.T[i+1]
		if math.Abs(r.bright(a)-r.bright(b)) <= widestGap*r.full || tb-ta <= 1e-6*(at-from) || tb-ta < jumpStepS {
			i++
			continue
		}
		mid := (ta + tb) / 2
		r.st.Interpolate(mid, r.probe)
		r.electrical(r.probe)
		solved = true
		row := make([]float64, len(a))
		r.record(row)
		r.run.T = slices.Insert(r.run.T, i+1, mid)
		r.run.Records = slices.Insert(r.run.Records, i+1, row)
	}
	if solved {
		r.electrical(r.y)
	}
}

// bright is the light of a record, or where none is known its power.
func (r *runner) bright(rec []float64) float64 {
	if r.flux30 > 0 || r.input30W == 0 && rec[len(rec)-totalFluxLm] > 0 {
		return rec[len(rec)-totalFluxLm]
	}
	return rec[len(rec)-totalInputW]
}

// ends looks whether the run is over.
func (r *runner) ends(at float64) {
	packs, live, supplied := 0, 0, false
	for i := range r.Feeders {
		f := &r.Feeders[i]
		switch {
		case !f.IsPack:
			supplied = true
		case !f.Cut:
			packs, live = packs+1, live+1
		default:
			packs++
		}
	}
	hot := r.melts(r.y)
	switch {
	case hot >= 0:
		r.end("overheat", r.m.lumps[hot].owner, at)
	case r.st.T >= r.tEnd || r.run.Steps >= maxRunSteps:
		r.end("time-limit", "", at)
	case r.charged():
		r.run.End = r.lastOf(at, "charged", "over-charge")
	case r.rest != nil && at > referenceS && r.settled():
		r.end("settled", "", at)
	case packs > 0 && live == 0 && !supplied && !r.relights():
		r.run.End = r.lastOf(at, "cut-off", "empty", "trips")
	case packs > 0 && live == 0 && supplied && !r.soughtRest && !r.relights():
		r.soughtRest = true
		r.rests()
	case r.wasLit && !r.lit() && r.dark():
		r.end("dark", r.darkNode(), at)
	}
}

// charger is the first feeder that charges a pack; −1: none does.
func (r *runner) charger() int {
	return slices.IndexFunc(r.Feeders, func(f circuit.Feeder) bool { return charges(&f) })
}

// charged tells that every charger has ended and nothing is lit.
func (r *runner) charged() bool {
	if r.charger() < 0 || r.lit() {
		return false
	}
	for i := range r.Feeders {
		if f := &r.Feeders[i]; charges(f) && !f.Cut {
			return false
		}
	}
	return true
}

// dark tells that light is out for good: something is locked out, or a pack is, and
// nothing comes back by itself.
func (r *runner) dark() bool {
	out := slices.Contains(r.Locked, true)
	for i := range r.Feeders {
		out = out || r.Feeders[i].Cut
	}
	return out && !r.relights()
}

// darkNode is what went out last.
func (r *runner) darkNode() string {
	for i := len(r.run.Events) - 1; i >= 0; i-- {
		if e := &r.run.Events[i]; e.Node != "" {
			return e.Node
		}
	}
	return ""
}

// lastOf is the last event of some kinds, as the end of a run.
func (r *runner) lastOf(at float64, kinds ...string) Event {
	for i := len(r.run.Events) - 1; i >= 0; i-- {
		if e := r.run.Events[i]; slices.Contains(kinds, e.Kind) {
			return e
		}
	}
	return Event{T: at, Kind: kinds[0], Text: eventText[kinds[0]]}
}

func (run *Run) tripped(feed string, a float64) {
	if run.Tripped == nil {
		run.Tripped = map[string]float64{}
	}
	run.Tripped[feed] = a
}

// rests finds where the temperatures go from here on a supply alone.
func (r *runner) rests() {
	at := r.st.T // to settle uses the same stepper
	copy(r.locked, r.Locked)
	y := slices.Clone(r.y)
	reason, err := r.settle(r.ctx, y)
	copy(r.Locked, r.locked)
	if _, why, cycles := r.cycling(); err == nil && (reason == "" || cycles && why == reason) {
		r.rest = y
		copy(r.start0, r.y)
		r.tEnd = min(r.tEnd, at+suppliedS)
	} else {
		r.tEnd = min(r.tEnd, at+suppliedS)
		r.rest = nil
	}
	r.electrical(r.y)
	r.st.Stage = r.atStage
	r.st.Start(at, r.y, 1)
	r.electrical(r.y)
}

func (r *runner) settled() bool {
	far := math.Exp(-5)
	for i := r.m.states; i < len(r.y); i++ {
		whole := math.Abs(r.start0[i] - r.rest[i])
		if math.Abs(r.y[i]-r.rest[i]) > max(far*whole, 0.05) {
			return false
		}
	}
	return true
}

func (r *runner) append(t float64) { r.record(r.slot(t)) }

// slot makes room for the record of an instant.
func (r *runner) slot(t float64) []float64 {
	n := len(r.m.columns)
	if cap(r.chunk)-len(r.chunk) < n {
		r.chunk = make([]float64, 0, 128*n)
	}
	lo := len(r.chunk)
	r.chunk = r.chunk[:lo+n]
	rec := r.chunk[lo : lo+n : lo+n]
	r.run.T = append(r.run.T, t)
	r.run.Records = append(r.run.Records, rec)
	return rec
}

// find narrows down when between two times a level falls below zero, and leaves y and
// the operating point just before; after is a time just past it.
func (r *runner) find(level func() float64, from, last, to, now float64) (after float64) {
	at := func(t float64) float64 {
		r.st.Interpolate(t, r.probe)
		r.electrical(r.probe)
		return level()
	}
	tol := 1e-6 * max(to, 1)
	t := root.Bracketed(at, from, last, to, now, tol)
	if at(t) < 0 {
		return t
	}
	if after = t + tol; after >= to || at(after) >= 0 {
		return to
	}
	return after
}

// justBefore leaves y and the operating point on the good side of an event that was
// found at a time.
func (r *runner) justBefore(level func() float64, from, at float64) {
	tol := 2e-6 * max(at, 1)
	for _, t := range [...]float64{at - tol, from} {
		r.st.Interpolate(max(t, from), r.y)
		r.electrical(r.y)
		if level() >= 0 {
			return
		}
	}
}
