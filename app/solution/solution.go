// Package solution puts together what the command line and the interface answer
// about a light: the figures asked for first, every figure at one instant, the
// findings, and the course in time.
package solution

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"time"

	"photherm/core/chain"
	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/target"
	"photherm/core/verdict"
)

// A Query says what is asked.
type Query struct {
	Variant  int
	AtS      float64  // instant of the figures, s after switch-on; beyond the end: the end
	AmbientC *float64 // in place of the document's
}

// Figures holds the values of one owner, named as chain.Column names them.
type Figures map[string]float64

// Total is the owner name of the figures of the light as a whole.
const Total = "total"

// A Solution is the summary of a solved variant.
type Solution struct {
	Solved
	Judged
}

// Solved is what the chain comes to.
type Solved struct {
	Variant   string               `json:"variant" doc:"Id of the variant"`
	Answers   chain.Answers        `json:"answers"`
	AtS       float64              `json:"atS" doc:"Instant of the figures, s after switch-on"`
	Figures   map[string]Figures   `json:"figures" doc:"Every figure at that instant, by id of feed, node or body; total for the whole light. Units: …V volt, …A ampere, …W watt, …C °C, …Lm lumen, charge fraction"`
	Modes     map[string]string    `json:"modes" doc:"What each driver and switch is doing at that instant"`
	Knobs     map[string]float64   `json:"knobTravel" doc:"For each supply with a current knob: the share of its travel over which it dims this load"`
	Nominal   map[string]Point     `json:"nominalPoints" doc:"Where each driver that converts works at the light's nominal point, undimmed: what an efficiency is meant at if its part does not say"`
	Inputs    map[string]Range     `json:"judgedInputs" doc:"What each driver's input is judged over: every source its feed must accept, off load"`
	Needs     map[string]int       `json:"needs" doc:"How many of each part the variant takes, by its id in the light; channels of one chip are one"`
	Steady    Steady               `json:"steady" doc:"Where temperatures would settle if the charge stayed as it is at switch-on"`
	Ledger    chain.Ledger         `json:"ledger" doc:"Energy in and out over the whole run"`
	Missing   []chain.Missing      `json:"missing" nullable:"false" doc:"What cannot be computed, and what would mend it"`
	Assumed   []design.Standing    `json:"assumed" nullable:"false" doc:"Figures that nobody gave: typical ones stand there, and every answer rests on them"`
	Cost      design.Cost          `json:"cost"`
	Resting   []chain.RestingPoint `json:"resting" nullable:"false" doc:"Voltage of a resting cell of the first pack against its charge"`
	Corrected []design.Correction  `json:"corrected" nullable:"false" doc:"Figures that readings correct, as they are taken"`
	Stale     []design.Correction  `json:"stale" nullable:"false" doc:"Corrections that speak of nothing this light has: they are left out"`
	Measured  []design.Standing    `json:"measured" nullable:"false" doc:"Figures that a reading at the bench stands for"`
}

// Judged is what is made of it, which takes other runs of the chain: fixes are tried, corrections left out.
type Judged struct {
	Findings  []verdict.Finding `json:"findings" nullable:"false" doc:"Worst first"`
	Raw       *chain.Answers    `json:"raw" doc:"The answers without corrections; null: there are none"`
	Reached   *target.Reached   `json:"reached" doc:"How the light stands to what is wanted of it where it is wanted, at 30 s; null: nothing is, or it cannot be told"`
	ReachedBy string            `json:"reachedWhy" doc:"Why it cannot be told"`
}

// A Range is of voltage.
type Range struct {
	LowV  float64 `json:"lowV" doc:"V"`
	HighV float64 `json:"highV" doc:"V"`
}

// A Point is where a driver works.
type Point struct {
	InV   float64 `json:"inV" doc:"Input voltage, V"`
	OutV  float64 `json:"outV" doc:"Output voltage, V"`
	OutA  float64 `json:"outA" doc:"Output current, A, of one of its channels"`
	Taken bool    `json:"taken" doc:"Whether its efficiency is taken to hold here, as its part does not state all of the point"`
}

// Steady is the state of rest.
type Steady struct {
	Converged bool               `json:"converged"`
	Reason    string             `json:"reason,omitempty" doc:"Why there is none"`
	Figures   map[string]Figures `json:"figures"`
	Ledger    chain.Ledger       `json:"ledger"`
}

// ErrTooLong is returned when a solution takes longer than its context allows.
var ErrTooLong = errors.New("this light takes too long to calculate")

// longest bounds the work on one light.
const longest = 20 * time.Second

// A Working is a light that is solved and not judged yet.
type Working struct {
	Solved Solved
	// Run is the course in time.
	Run *chain.Run

	light *design.Light
	model *chain.Model
}

// Solve answers a query on a light that design.Decode accepted.
func Solve(ctx context.Context, light *design.Light, q Query) (*Solution, *chain.Run, error) {
	ctx, cancel := context.WithTimeout(ctx, longest)
	defer cancel()
	w, err := Begin(ctx, light, q)
	if err != nil {
		return nil, nil, err
	}
	judged, err := w.Judge(ctx)
	if err != nil {
		return nil, nil, err
	}
	return &Solution{w.Solved, *judged}, w.Run, nil
}

// Begin solves a light that design.Decode accepted: its figures are there long
// before it is judged.
func Begin(ctx context.Context, light *design.Light, q Query) (*Working, error) {
	if q.AmbientC != nil {
		l := *light
		l.Conditions.AmbientC = *q.AmbientC
		light = &l
	}
	model, err := chain.Compile(light, chain.Options{Variant: q.Variant})
	if err != nil {
		return nil, fmt.Errorf("compiling %q: %w", light.Name, err)
	}
	solver := model.Solver()
	steady, err := solver.Steady(ctx)
	if err != nil {
		return nil, tooLong(err)
	}
	run, err := solver.Run(ctx)
	if err != nil {
		return nil, tooLong(err)
	}
	knobs, err := model.Network().Solver().KnobTravel(ctx, model.StartC())
	if err != nil {
		return nil, tooLong(err)
	}
	answers := run.Answers()
	if answers.EnergyPerDayW, err = target.EnergyPerDayWh(ctx, run); err != nil {
		return nil, tooLong(err)
	}
	at := min(max(q.AtS, 0), run.T[len(run.T)-1])
	record := run.At(at)
	s := Solved{
		Variant: model.Variant().ID, Answers: answers, AtS: at, Ledger: run.Ledger,
		Missing: model.Missing(), Assumed: light.Assumed(q.Variant), Measured: light.Measured(q.Variant), Resting: model.Resting(), Cost: model.Cost(), Modes: map[string]string{}, Knobs: knobs, Nominal: nominal(model), Inputs: map[string]Range{}, Needs: design.Needs(model.Variant()),
		Figures: figures(model, record),
		Steady:  Steady{Converged: steady.Converged, Reason: steady.Reason, Figures: figures(model, steady.Record), Ledger: steady.Ledger},
	}
	s.Corrected, s.Stale = []design.Correction{}, append([]design.Correction{}, model.Stale()...)
	for _, c := range light.Variants[q.Variant].Corrected {
		if !slices.Contains(s.Stale, c) {
			s.Corrected = append(s.Corrected, c)
		}
	}
	for id, r := range verdict.Inputs(model) {
		s.Inputs[id] = Range{r[0], r[1]}
	}
	if s.Missing == nil {
		s.Missing = []chain.Missing{}
	}
	if s.Steady.Ledger.In == nil {
		s.Steady.Ledger = chain.Ledger{Unit: "W", In: []chain.Entry{}, Out: []chain.Entry{}}
	}
	for i, c := range model.Columns() {
		if c.Figure == "mode" {
			s.Modes[c.Owner] = chain.ModeName(record[i])
		}
	}
	return &Working{s, run, light, model}, nil
}

// Judge tells what is over a limit, how the light stands to what is wanted of it,
// and what the answers would be without what readings correct.
func (w *Working) Judge(ctx context.Context) (*Judged, error) {
	j := &Judged{}
	var err error
	if j.Reached, j.ReachedBy, err = target.Reach(ctx, w.Run); err != nil {
		return nil, tooLong(err)
	}
	if j.Findings, err = verdict.JudgeReached(ctx, w.Run, j.Reached, j.ReachedBy); err != nil {
		return nil, tooLong(err)
	}
	if len(w.Solved.Corrected) == 0 {
		return j, nil
	}
	raw, err := chain.Compile(w.light, chain.Options{Variant: w.model.Options().Variant, Raw: true})
	if err != nil {
		return nil, fmt.Errorf("compiling %q: %w", w.light.Name, err)
	}
	run, err := raw.Solver().Run(ctx)
	if err != nil {
		return nil, tooLong(err)
	}
	j.Raw = new(run.Answers())
	return j, nil
}

// nominal tells where drivers work at the light's nominal point.
func nominal(m *chain.Model) map[string]Point {
	out := map[string]Point{}
	for i := range m.Network().Nodes {
		n := &m.Network().Nodes[i]
		if n.Kind == circuit.Driver && n.Drv.Tied > 0 && n.Nominal.OutA > 0 { // a switch that switches fast is none
			out[n.ID] = Point{n.Nominal.InV, n.Nominal.OutV, n.Nominal.OutA / float64(n.Drv.Tied), n.Drv.NeedsPoint()}
		}
	}
	return out
}

// Course solves the course in time alone.
func Course(ctx context.Context, light *design.Light, variant int) (*chain.Run, error) {
	ctx, cancel := context.WithTimeout(ctx, longest)
	defer cancel()
	model, err := chain.Compile(light, chain.Options{Variant: variant})
	if err != nil {
		return nil, fmt.Errorf("compiling %q: %w", light.Name, err)
	}
	run, err := model.Solver().Run(ctx)
	if err != nil {
		return nil, tooLong(err)
	}
	return run, nil
}

func tooLong(err error) error {
	if errors.Is(err, context.DeadlineExceeded) {
		return fmt.Errorf("%w: %w", ErrTooLong, err)
	}
	return err
}

func figures(model *chain.Model, record []float64) map[string]Figures {
	out := map[string]Figures{}
	for i, c := range model.Columns() {
		if c.Figure == "mode" {
			continue
		}
		owner := c.Owner
		if owner == "" {
			owner = Total
		}
		if out[owner] == nil {
			out[owner] = Figures{}
		}
		if x := record[i]; !math.IsNaN(x) && !math.IsInf(x, 0) {
			out[owner][c.Figure] = x
		}
	}
	return out
}
