package chain

import (
	"context"
	"fmt"
	"math"
	"slices"

	"photherm/core/driver"
	"photherm/core/ode"
	"photherm/core/root"
)

// An Event is something that happens during a run.
type Event struct {
	T    float64 `json:"t" doc:"Seconds after switch-on"`
	Kind string  `json:"kind" enum:"drop-out,regulates,half-light,tenth-light,cut-off,empty,lock-out,hiccup,cycling,dark,faded,settled,overheat,time-limit" doc:"What happens"`
	Node string  `json:"node" doc:"Id of the node or feed"`
	Text string  `json:"text" doc:"One sentence"`
}

// A Run is a solved course in time.
type Run struct {
	Model   *Model
	T       []float64   // s; an instant where something jumps stands twice
	Records [][]float64 // one for each T, columns as Model.Columns
	Events  []Event
	Ledger  Ledger
	End     Event   // why it ended
	FluxAt0 float64 // lm at 30 s, the reference of ANSI/PLATO FL 1
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
	maxRunSteps = 20000
)

func (s *Solver) newStepper() *ode.Stepper {
	if s.stepper == nil {
		s.stepper = ode.New(len(s.y), s.derivative)
	}
	st := s.stepper
	for i := range st.Tol {
		st.Tol[i] = 0.02 // K
	}
	for i := range s.feeds {
		if k := s.feeds[i].charge; k >= 0 {
			st.Tol[k] = 2e-6
		}
		if k := s.feeds[i].polar; k >= 0 {
			st.Tol[k] = 1e-4
		}
	}
	return st
}

// watch is a quantity whose zero is an event.
type watch struct {
	kind string
	node int // node or feed
	last float64
}

// Run follows the light from switch-on until its packs are empty or cut off, or,
// on a supply, until its temperatures have come within e⁻⁵ of their end (five
// time constants).
func (s *Solver) Run(ctx context.Context) (*Run, error) {
	r := &runner{Solver: s, run: &Run{Model: s.m}, tEnd: longestS}
	return r.do(ctx)
}

type runner struct {
	*Solver
	run      *Run
	st       *ode.Stepper
	tEnd     float64
	watches  []watch
	rising   bool // the last event found crossed zero upwards
	y, ySave []float64
	settle   []float64 // temperatures at rest; nil: runs to empty
	start0   []float64
	flux30   float64
	input30W float64    // what the sources gave at the same time; 0: not there yet
	quad     [4]float64 // integrals of input, light, air and loose heat, J
	chunk    []float64
}

func (r *runner) do(ctx context.Context) (*Run, error) {
	packs := false
	for i := range r.feeds {
		packs = packs || r.feeds[i].charge >= 0
	}
	if !packs {
		st, err := r.Solver.Steady(ctx)
		if err != nil {
			return nil, err
		}
		r.tEnd = 30 * 86400
		if st.Converged {
			r.settle = slices.Clone(r.Solver.y)
		}
	}
	n := len(r.Solver.y)
	r.y, r.ySave = make([]float64, n), make([]float64, n)
	r.Solver.start(r.y)
	r.latch(r.y)
	r.start0 = slices.Clone(r.y)
	chem0, polar0 := r.chemicalJ(r.y)
	stored0 := r.storedJ(r.y)
	r.watchAll()
	r.append(0)
	r.st = r.newStepper()
	r.st.MinStep, r.st.JumpStep, r.st.Evals = 1e-7, jumpStepS, 0
	r.st.Start(0, r.y, 1e-3)
	if r.cycling >= 0 {
		r.end("cycling", r.cycling, 0)
	} else if err := r.loop(ctx); err != nil {
		return nil, err
	}
	if r.input30W == 0 {
		r.reference()
	}
	r.run.FluxAt0 = r.flux30
	r.run.Evals = r.st.Evals
	chem1, polar1 := r.chemicalJ(r.y)
	// Where next to nothing flows for months, what the integrator leaves open of the
	// temperatures adds up to some 1e-8 of what the packs hold.
	r.run.Ledger = newLedger("J", 1e-4*chem0,
		[]Entry{{"from the charge of the packs", chem0 - chem1}, {"from supplies", r.quad[0]}},
		[]Entry{{"light", r.quad[1]}, {"heat to the air", r.quad[2]}, {"heat to the surroundings", r.quad[3]},
			{"heat still stored", r.storedJ(r.y) - stored0}, {"held by polarisation", polar1 - polar0}})
	return r.run, nil
}

// reference takes what later light is measured by.
func (r *runner) reference() {
	last := len(r.run.T) - 1
	r.flux30, r.input30W = r.total(last, totalFluxLm), r.total(last, totalInputW)
}

func (r *runner) loop(ctx context.Context) error {
	for r.run.End.Kind == "" {
		if err := ctx.Err(); err != nil {
			return fmt.Errorf("solving in time: %w", err)
		}
		stop := r.tEnd
		if r.st.T < almostReferenceS {
			stop = referenceS
		}
		r.boundStep()
		if err := r.st.Step(stop); err != nil {
			return fmt.Errorf("solving in time at %.4g s: %w", r.st.T, err)
		}
		r.run.Steps++
		from, to := r.st.OldT, r.st.T
		event, at := r.firstEvent(from, to)
		if event >= 0 {
			r.st.Interpolate(at, r.y)
			r.electrical(r.y)
		}
		r.measureWatches()
		// The middle stands before the end in the record, but is solved after it:
		// the end is already solved.
		mid := (from + at) / 2
		middle := r.slot(mid)
		r.append(at)
		r.st.Interpolate(mid, r.ySave)
		r.electrical(r.ySave)
		r.record(middle)
		r.integrate(len(r.run.T) - 3)
		if event >= 0 {
			if r.happen(event, at) {
				continue
			}
		}
		if r.input30W == 0 && at >= almostReferenceS {
			r.reference()
			r.electrical(r.y)
			r.watchAll()
		}
		if event >= 0 {
			// Nothing jumped: the step stands, and the rest of it is looked at anew.
			r.st.Start(at, r.y, to-at+1e-6)
			r.measureWatches()
		}
		if event >= 0 && event < len(r.watches) && r.watches[event].kind == "drop-out" {
			r.watches[event].last = 0 // its sign is rounding; the next step tells
		}
		switch {
		case r.hottest(r.y) > tooHotC:
			r.end("overheat", 0, at)
		case r.st.T >= r.tEnd || r.run.Steps >= maxRunSteps:
			r.end("time-limit", 0, at)
		case r.settle != nil && at > referenceS && r.settled():
			r.end("settled", 0, at)
		}
	}
	return nil
}

// largestCharge is how much of a pack's charge one step may take: its voltage
// bends, and the energy is added up from it.
const largestCharge = 0.04

func (r *runner) boundStep() {
	r.st.MaxStep = 0
	for i := range r.feeds {
		if k := r.feeds[i].charge; k >= 0 {
			if rate := math.Abs(r.st.Slope()[k]); rate > 0 && (r.st.MaxStep == 0 || largestCharge/rate < r.st.MaxStep) {
				r.st.MaxStep = largestCharge / rate
			}
		}
	}
}

// watchAll lists what can happen, with its present value.
func (r *runner) watchAll() {
	r.watches = r.watches[:0]
	for i := range r.feeds {
		if r.feeds[i].kind == packSource && !r.feeds[i].cut {
			r.watches = append(r.watches, watch{"cut-off", i, 0}, watch{"empty", i, 0})
		}
	}
	for k := range r.nodes {
		n := &r.nodes[k]
		if n.kind != driverNode || r.locked[k] || r.on[k].inV <= 0 {
			continue
		}
		if n.drv.InputMinV > 0 || n.drv.Switches() {
			r.watches = append(r.watches, watch{"lock-out", k, 0})
		}
		if n.drv.NeedsHeadroom() {
			r.watches = append(r.watches, watch{"drop-out", k, 0})
		}
		if n.drv.Family == driver.Window {
			r.watches = append(r.watches, watch{"hiccup", k, 0})
		}
	}
	if r.flux30 > 0 {
		for _, kind := range []string{"half-light", "tenth-light"} {
			if !slices.ContainsFunc(r.run.Events, func(e Event) bool { return e.Kind == kind }) {
				r.watches = append(r.watches, watch{kind, 0, 0})
			}
		}
	}
	// Without a regulator a source may come to rest where its load goes out.
	if r.settle == nil && r.input30W > 0 {
		r.watches = append(r.watches, watch{"faded", 0, 0})
	}
	r.measureWatches()
}

func (r *runner) measureWatches() {
	for i := range r.watches {
		r.watches[i].last = r.value(&r.watches[i])
	}
}

// value is positive before the event and negative after it.
func (r *runner) value(w *watch) float64 {
	switch w.kind {
	case "cut-off":
		f, p := &r.feeds[w.node], &r.onFeed[w.node]
		return (p.busV+p.busA*f.pack.ContactOhm)/float64(f.pack.Series) - f.pack.CutoffV
	case "empty":
		return r.Solver.y[r.feeds[w.node].charge]
	case "lock-out":
		if r.tooLow(w.node) {
			return min(r.on[w.node].innerV-r.nodes[w.node].drv.InputMinV, -1e-9)
		}
		return max(r.on[w.node].innerV-r.nodes[w.node].drv.InputMinV, 1e-9)
	case "hiccup":
		d, p := &r.nodes[w.node].drv, &r.on[w.node]
		if d.InsideWindow(p.outV, p.outA) {
			return max(p.outV-d.MinV, 1e-9)
		}
		return -1
	case "drop-out":
		p := &r.on[w.node]
		return p.inV - r.nodes[w.node].drv.HeadroomV - p.outV
	}
	light := 0.0
	for k := range r.point {
		light += r.point[k].fluxLm
	}
	switch {
	case w.kind == "half-light":
		return light - 0.5*r.flux30
	case w.kind == "tenth-light":
		return light - 0.1*r.flux30
	case r.flux30 > 0:
		return light - fadedShare*r.flux30
	}
	input := 0.0
	for i := range r.feeds {
		input += r.feedAt[i].busW + r.packHeatW(i)
	}
	return input - fadedShare*r.input30W
}

// fadedShare is the share of the light at 30 s, or where that is not known of the power
// then, from which a light is taken as out: chosen, a hundredth of the last tenth that
// ANSI/PLATO FL 1 counts.
const fadedShare = 1e-3

// firstEvent looks for the first event of the last step and returns its watch
// and time; −1 and the end of the step if there is none.
func (r *runner) firstEvent(from, to float64) (event int, at float64) {
	event, at = -1, to
	r.st.Interpolate(to, r.y)
	r.electrical(r.y)
	for i := range r.watches {
		w := &r.watches[i]
		g := r.value(w)
		if w.last > 0 == (g > 0) || w.last == 0 {
			continue
		}
		if w.last < 0 && w.kind != "drop-out" {
			continue
		}
		t := root.Bracketed(func(t float64) float64 {
			r.st.Interpolate(t, r.ySave)
			r.electrical(r.ySave)
			return r.value(w)
		}, from, w.last, to, g, 1e-6*max(to, 1))
		r.electrical(r.y)
		if t < at || event < 0 {
			event, at, r.rising = i, t, w.last < 0
		}
	}
	return event, at
}

// happen carries out an event. It answers true if the state jumped or the run
// ended, so that nothing of the step remains to be done.
func (r *runner) happen(event int, at float64) bool {
	w := r.watches[event]
	switch w.kind {
	case "cut-off", "empty":
		r.note(w.kind, w.node, at)
		r.feeds[w.node].cut = true
	case "lock-out", "hiccup":
		r.note(w.kind, w.node, at)
		r.locked[w.node] = true
	case "faded":
		r.end(w.kind, 0, at)
		return true
	case "drop-out":
		kind := w.kind
		if r.rising {
			kind = "regulates"
		}
		r.note(kind, w.node, at)
		return false
	default:
		r.note(w.kind, w.node, at)
		r.watches = slices.Delete(r.watches, event, event+1)
		return false
	}
	lit := r.total(len(r.run.T)-1, totalFluxLm) > 0
	r.electrical(r.y)
	if w.kind == "lock-out" && r.on[w.node].innerV >= r.nodes[w.node].drv.RestartV {
		r.cycling = w.node
	}
	r.append(at)
	alive := false
	for i := range r.feeds {
		alive = alive || r.feeds[i].kind == supplySource || (r.feeds[i].kind == packSource && !r.feeds[i].cut)
	}
	switch {
	case r.cycling >= 0:
		r.end("cycling", r.cycling, at)
	case !alive:
		r.run.End = r.run.Events[len(r.run.Events)-1]
	case lit && r.total(len(r.run.T)-1, totalFluxLm) == 0:
		r.end("dark", w.node, at)
	default:
		r.st.Start(at, r.y, 1e-3)
		r.watchAll()
	}
	return true
}

func (r *runner) settled() bool {
	far := math.Exp(-5)
	for i := r.m.states; i < len(r.y); i++ {
		whole := math.Abs(r.start0[i] - r.settle[i])
		if math.Abs(r.y[i]-r.settle[i]) > max(far*whole, 0.05) {
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

func (r *runner) total(i, column int) float64 {
	rec := r.run.Records[i]
	return rec[len(rec)-column]
}

// integrate adds the interval that begins at record i: its start, middle and end
// by Simpson's rule.
func (r *runner) integrate(i int) {
	h := (r.run.T[i+2] - r.run.T[i]) / 6
	simpson := func(f func(k int) float64) float64 { return h * (f(i) + 4*f(i+1) + f(i+2)) }
	for q, column := range [...]int{0, totalLightW, totalAirW, totalLooseW} {
		if q > 0 {
			r.quad[q] += simpson(func(k int) float64 { return r.total(k, column) })
		}
	}
	// Supplies have no state to take their energy from.
	c := 0
	for k := range r.m.feeds {
		if r.m.feeds[k].kind != packSource {
			r.quad[0] += simpson(func(j int) float64 { return r.run.Records[j][c] })
			c += 5
		} else {
			c += 7
		}
	}
}

func (r *runner) note(kind string, node int, at float64) {
	e := Event{T: at, Kind: kind}
	switch kind {
	case "cut-off", "empty":
		e.Node = r.m.feeds[node].id
	case "drop-out", "regulates", "lock-out", "hiccup", "cycling", "dark":
		e.Node = r.m.nodes[node].id
	}
	e.Text = eventText[kind]
	r.run.Events = append(r.run.Events, e)
}

func (r *runner) end(kind string, node int, at float64) {
	r.note(kind, node, at)
	r.run.End = r.run.Events[len(r.run.Events)-1]
}

var eventText = map[string]string{
	"drop-out":    "headroom is gone: from here the current follows the source down",
	"regulates":   "headroom is back: the current is regulated again",
	"half-light":  "half of the light at 30 s",
	"tenth-light": "a tenth of the light at 30 s",
	"cut-off":     "the cells reach their cut-off voltage",
	"empty":       "the cells are empty",
	"lock-out":    "the driver locks out below its lowest input",
	"hiccup":      "the emitters' voltage leaves the driver's window: it stops and tries again, over and over",
	"cycling":     "the driver locks out, the source recovers, it starts again, over and over",
	"dark":        "no light is left",
	"faded":       "faded out: the source stands at the voltage at which its load goes out",
	"settled":     "temperatures have settled",
	"overheat":    "there is no steady state: it overheats",
	"time-limit":  "still running when the calculation was ended",
}
