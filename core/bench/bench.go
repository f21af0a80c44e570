// Package bench answers what to measure on a light, in which order, what each reading should
// be and how far off it may be; what the readings say; and what they make of the figures of the
// light. Everything is asked of the chain.
package bench

import (
	"context"
	"fmt"
	"math"
	"slices"
	"sync/atomic"

	"photherm/core/band"
	"photherm/core/chain"
	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/reading"
	"photherm/core/setup"
	"photherm/core/units"
)

// A ReadingPlan is what to do and read at the bench, in the order of a safe bring-up.
type ReadingPlan struct {
	Stages []BenchStage `json:"stages" nullable:"false"`
	Cause  *LikelyCause `json:"cause" doc:"What would explain the readings that differ; null: none differs, or nothing single does"`
	Next   *NextReading `json:"next" doc:"The reading that would tell most of what is not known; null: none would tell anything"`
	Read   int          `json:"read" doc:"How many readings were taken"`
	Of     int          `json:"of" doc:"Of how many"`
}

// A BenchStage is a part of the bring-up.
type BenchStage struct {
	Name    string     `json:"name"`
	Caution string     `json:"caution,omitempty" doc:"Before anything of it is done"`
	Rows    []BenchRow `json:"rows" nullable:"false"`
	Ways    []string   `json:"ways" nullable:"false" doc:"Other ways to set up what it is about, the one shown included"`
	Way     string     `json:"way,omitempty" doc:"The way shown"`
}

// A BenchRow is one thing to do or read.
type BenchRow struct {
	Node    string           `json:"node" doc:"Id of the node, feed or body"`
	Step    string           `json:"step" doc:"Stays the same as long as the light has it"`
	Of      string           `json:"of" doc:"What it is about, by name"`
	Do      string           `json:"do"`
	Caution string           `json:"caution,omitempty"`
	Reading *reading.Reading `json:"reading" doc:"What to read; null: nothing"`
	Ticked  bool             `json:"ticked"`
	Done    *design.Done     `json:"done" doc:"What was recorded; null: nothing"`
	Probe   *Probe           `json:"probe" doc:"Where the chain has it; null: it is no figure of the chain, and stand-ins cannot read it"`
	Tools   []ToolOffer      `json:"tools" nullable:"false" doc:"What to read it with, the best at hand first"`

	point *point
}

// A ToolOffer is a tool for one reading.
type ToolOffer struct {
	ID     string  `json:"id"`
	Name   string  `json:"name"`
	Care   string  `json:"care,omitempty"`
	Within float64 `json:"within" doc:"± what tool and calculation leave open together, SI"`
	Range  float64 `json:"range" doc:"What to set the meter to, SI; 0: nothing to set"`
	Have   bool    `json:"have" doc:"Whether it is at hand"`
}

// A NextReading is a reading not taken yet.
type NextReading struct {
	Node string `json:"node"`
	Step string `json:"step"`
	Why  string `json:"why"`
}

// A Question is what is asked, with what a person has and chose.
type Question struct {
	Variant int
	Tools   []string          // ids of the tools at hand; none: all are
	Ways    map[string]string // node → name of the way to set it up
	// Tried is told each time how many lights with one figure or more changed were solved so
	// far, from several goroutines; nil: nobody asks.
	Tried func(lights int)
}

// counter counts the lights that are tried for a question.
func (q *Question) counter() func() {
	if q.Tried == nil {
		return func() {}
	}
	var n atomic.Int64
	return func() { q.Tried(int(n.Add(1))) }
}

// leastModel is what any calculation leaves open, as a share (chosen: curves are drawn from few
// points).
const leastModel = 0.01

// PlanOf writes the plan of a light, with what was recorded judged.
func PlanOf(ctx context.Context, light *design.Light, q Question) (out *ReadingPlan, err error) {
	defer circuit.Caught(&err)
	out, _, err = planOf(ctx, light, q)
	return out, err
}

func planOf(ctx context.Context, light *design.Light, q Question) (*ReadingPlan, *writer, error) {
	m, err := model(light, q.Variant, false)
	if err != nil {
		return nil, nil, err
	}
	w := &writer{ctx: ctx, light: m.Light(), q: q, m: m, v: m.Variant(), tried: q.counter()}
	if w.base, err = newSolved(ctx, m); err != nil {
		return nil, nil, err
	}
	w.before()
	w.firstPower()
	if err := w.setUps(); err != nil {
		return nil, nil, err
	}
	w.draws()
	w.charging()
	w.warming()
	if err := w.shining(); err != nil {
		return nil, nil, err
	}
	w.runDown()
	w.meters()
	if w.base.err != nil {
		return nil, nil, fmt.Errorf("planning the readings: %w", w.base.err)
	}
	tolerances := band.Tolerances(m)
	if err := w.bands(tolerances); err != nil {
		return nil, nil, fmt.Errorf("asking how far readings may be off: %w", err)
	}
	plan := &ReadingPlan{Stages: append([]BenchStage{}, w.stages...)}
	w.judge(plan)
	if err := w.explain(plan, tolerances); err != nil {
		return nil, nil, fmt.Errorf("looking for a cause: %w", err)
	}
	return plan, w, nil
}

type writer struct {
	ctx    context.Context
	light  *design.Light
	q      Question
	m      *chain.Model
	v      *design.Variant
	base   *solved
	stages []BenchStage
	slopes [][]float64 // of each tolerance, for each row with a point
	placed []*BenchRow // those rows
	tried  func()      // counts a light that is solved with figures changed
}

// rows are all of a plan.
func (w *writer) rows(visit func(*BenchRow)) {
	for i := range w.stages {
		for k := range w.stages[i].Rows {
			visit(&w.stages[i].Rows[k])
		}
	}
}

// add puts a stage in, if it has anything.
func (w *writer) add(s BenchStage) {
	if len(s.Rows) == 0 {
		return
	}
	if s.Ways == nil {
		s.Ways = []string{}
	}
	w.stages = append(w.stages, s)
}

// at is a reading of a figure of the chain; nil: the light has none there.
func (w *writer) at(what, quantity string, p point) (*reading.Reading, *point) {
	x, ok := w.base.figure(p)
	if !ok || x == 0 && quantity != "temperature" {
		return nil, nil
	}
	return reading.Of(what, quantity, x, leastModel), &p
}

// seenShare is by how much an ammeter has to change what it reads to be spoken of (chosen: less
// than a plain meter's own error).
const seenShare = 0.005

// meters puts an ammeter into the wire where one is what a current is read with: its resistance
// is in the figure that is expected.
func (w *writer) meters() {
	w.rows(func(r *BenchRow) {
		if r.point == nil || r.Reading.Quantity != "current" || r.point.metered {
			return
		}
		tool := ""
		if tools := reading.For("current", r.Reading.Expected, w.q.Tools); len(tools) > 0 {
			tool = tools[0].ID
		}
		for i := range w.v.SetUp {
			if d := &w.v.SetUp[i]; d.Node == r.Node && d.Step == r.Step && d.With != "" {
				tool = d.With
			}
		}
		if tool != inWireTool {
			return
		}
		with := *r.point
		with.metered = true
		x, ok := w.base.figure(with)
		if !ok || !(x > 0) {
			return
		}
		if bare := r.Reading.Expected; math.Abs(x-bare) > seenShare*bare {
			r.Do += fmt.Sprintf(" The ammeter’s own %s are in this figure; without it %s flow.", units.Ohms(setup.MeterOhm), units.Amps(bare))
		}
		r.Reading.Expected, r.point = x, &with
	})
}

// inWireTool is the tool that is in the wire it reads.
const inWireTool = "multimeter-a"

// bands asks of every row with a point how far it moves with each tolerance of the light: all
// of them together, as they are drawn apart, is what parts leave open.
func (w *writer) bands(tolerances []band.Tolerance) error {
	var at []point
	w.rows(func(r *BenchRow) {
		if r.point != nil {
			w.placed, at = append(w.placed, r), append(at, *r.point)
		}
	})
	var err error
	if w.slopes, err = slopes(w.ctx, w.m, tolerances, at, w.tried); err != nil {
		return err
	}
	for i, r := range w.placed {
		sum := math.Pow(w.leastModel(r), 2)
		for k := range tolerances {
			sum += w.slopes[k][i] * w.slopes[k][i]
		}
		r.Reading.Model = math.Sqrt(sum)
	}
	return nil
}

// placedShare is what the place of a meter and the spread of an optic leave open of light that
// falls somewhere (common practice: two hands measure it a tenth apart).
const placedShare = 0.1

// slowShare is what cells fall by on their own between switch-on and a look at the meter, as a share
// of the whole fall (chosen: the slow part of a resistance in the first seconds).
const slowShare = 0.1

// sagStep is what two looks at a plain meter leave open of how far a source falls, V.
func (w *writer) sagStep(feed string) float64 {
	v, _ := w.base.figure(point{owner: feed, figure: "busV", at: cold})
	return reading.ByID("multimeter-v").Step(v) * math.Sqrt2 / math.Sqrt(12)
}

// leastModel is what any calculation leaves open of a row: of a temperature, a share of its rise;
// of light somewhere, where that is.
func (w *writer) leastModel(r *BenchRow) float64 {
	if r.point != nil && r.point.times != 0 {
		return placedShare * r.Reading.Expected
	}
	if r.point != nil && r.point.figure == sagV {
		return math.Hypot(slowShare*r.Reading.Expected, w.sagStep(r.Node))
	}
	if r.Reading.Quantity == "temperature" {
		return leastModel * (r.Reading.Expected - w.m.StartC())
	}
	return leastModel * r.Reading.Expected
}

// judge fills in what was recorded.
func (w *writer) judge(plan *ReadingPlan) {
	var places []reading.Place
	w.rows(func(r *BenchRow) {
		r.Tools = []ToolOffer{}
		if r.point != nil && r.point.figure != endS {
			r.Probe = r.point.probe()
		}
		for i := range w.v.SetUp {
			if d := &w.v.SetUp[i]; d.Node == r.Node && d.Step == r.Step {
				r.Done, r.Ticked = d, d.Ticked
			}
		}
		if r.Reading == nil {
			return
		}
		plan.Of++
		r.Reading.Actual, r.Reading.Calculated, r.Reading.AsWanted, r.Reading.Replaces, r.Reading.Ask = nil, "", "", nil, nil
		r.Reading.Take(w.q.Tools)
		have := reading.For(r.Reading.Quantity, r.Reading.Expected, w.q.Tools)
		all := reading.For(r.Reading.Quantity, r.Reading.Expected, nil)
		for _, list := range [][]reading.Tool{have, all} {
			for i := range list {
				r.offer(&list[i], len(list) == len(have))
			}
		}
		if r.Done != nil {
			r.Reading.Read(r.Done)
		}
		if r.Reading.Actual != nil {
			plan.Read++
		}
		places = append(places, reading.Place{Row: r.Node + "/" + r.Step, Reading: r.Reading})
	})
	w.voltsForFall()
	reading.Elsewhere(places)
}

// voltsForFall asks whether a fall of the voltage that is as much as the pack itself was meant as
// the voltage with the light off: what is under it is taken away then.
func (w *writer) voltsForFall() {
	w.rows(func(r *BenchRow) {
		if r.point == nil || r.point.figure != sagV || r.Reading.Actual == nil || r.Reading.Calculated != "differs" || r.Done.Sure {
			return
		}
		under, ok := w.base.figure(point{owner: r.Node, figure: "busV", at: cold})
		w.rows(func(other *BenchRow) {
			if other.Node == r.Node && other.Step == "volts-full" && other.Reading.Actual != nil {
				under = *other.Reading.Actual
			}
		})
		if is := *r.Reading.Actual; ok && is > under && is < (1+mostFall)*under {
			r.Reading.Ask = &reading.Slip{Why: fmt.Sprintf("%s is the voltage itself, and how far it rises is asked: %s above the %s under load?", units.Volts(is), units.Volts(is-under), units.Volts(under)), Value: is - under}
			r.Reading.Replaces = nil
		}
	})
}

// mostFall is the share of its voltage by which a pack that is worth anything falls (chosen).
const mostFall = 0.3

func (r *BenchRow) offer(t *reading.Tool, have bool) {
	for i := range r.Tools {
		if r.Tools[i].ID == t.ID {
			return
		}
	}
	r.Tools = append(r.Tools, ToolOffer{t.ID, t.Name, t.Care, math.Hypot(r.Reading.Model, t.Within(r.Reading.Expected)), t.Range(r.Reading.Expected), have})
}

// setUps are the procedures of every driver, and of what hangs on a source without one.
func (w *writer) setUps() error {
	for n := range design.Nodes(w.v) {
		plan, err := setup.For(w.ctx, w.light, setup.Question{Variant: w.q.Variant, Node: n.ID, Tools: w.q.Tools})
		if err != nil {
			if w.ctx.Err() != nil {
				return fmt.Errorf("planning the set-up of %s: %w", n.Called(), err)
			}
			continue // it is no driver, and something stands before it
		}
		w.setUp(n, plan)
	}
	return nil
}

func (w *writer) setUp(n *design.Node, plan *setup.Plan) {
	s := BenchStage{Name: "Setting up " + n.Called()}
	if n.Driver == nil {
		s.Name = "Bringing up " + n.Called()
	}
	way, most := -1, 0
	for i := range plan.Procedures {
		p := &plan.Procedures[i]
		if p.Also {
			continue
		}
		s.Ways = append(s.Ways, p.Name)
		done := 1
		for k := range p.Steps {
			if p.Steps[k].Ticked || p.Steps[k].Reading != nil && p.Steps[k].Reading.Actual != nil {
				done++
			}
		}
		if p.Name == w.q.Ways[n.ID] {
			done = math.MaxInt
		}
		if done > most {
			way, most = i, done
		}
	}
	for i := range plan.Procedures {
		p := &plan.Procedures[i]
		if i != way && !p.Also {
			continue
		}
		if i == way {
			s.Way = p.Name
		}
		for k := range p.Steps {
			step := &p.Steps[k]
			if slices.ContainsFunc(s.Rows, func(r BenchRow) bool { return r.Step == step.ID }) {
				continue // it was done on the way
			}
			if n.Driver == nil && slices.Contains(packDraws, step.ID) && w.drawnAlone(n, p.Steps) {
				continue // what the pack gives is asked for further on
			}
			row := BenchRow{Node: plan.Node, Step: step.ID, Of: n.Called(), Do: step.Do, Caution: step.Caution, Reading: step.Reading}
			if row.Reading != nil {
				row.point = w.pointOf(n, step.ID, row.Reading)
			}
			s.Rows = append(s.Rows, row)
		}
	}
	w.add(s)
}

// packDraws are the steps of bringing up what has no driver that read what the pack gives.
var packDraws = []string{"current-drained", "current-half", "current-full"}

// drawnAlone tells whether all that a pack gives goes through a node whose bring-up reads it, and
// nothing was recorded there: the same reading is in what the light takes (see draws).
func (w *writer) drawnAlone(n *design.Node, steps []setup.Step) bool {
	full := slices.IndexFunc(steps, func(s setup.Step) bool { return s.ID == "current-full" })
	of := slices.IndexFunc(w.v.Feeds, func(f design.Feed) bool { return design.FindNode(f.Loads, n.ID) != nil })
	if full < 0 || of < 0 || slices.ContainsFunc(w.v.SetUp, func(d design.Done) bool { return d.Node == n.ID && slices.Contains(packDraws, d.Step) }) {
		return false
	}
	x, ok := w.base.figure(point{owner: w.v.Feeds[of].ID, figure: "busA", at: cold, metered: true})
	return ok && math.Abs(x-steps[full].Reading.Expected) <= sameDraw*x
}

// sameDraw is how near two ways to expect what a pack gives are the same one (chosen: where an
// ammeter is put moves it by as much).
const sameDraw = 0.03

// pointOf is the figure of the chain that a step of a set-up reads, if it expects just what the
// chain has there: some steps read the driver in another state than the light's.
func (w *writer) pointOf(n *design.Node, step string, r *reading.Reading) *point {
	p, ok := map[string]point{
		"on": {n.ID, "peakA", cold, nil, 0, false}, "current": {n.ID, "peakA", cold, nil, 0, false}, "cold": {n.ID, "peakV", cold, nil, 0, false},
		"warm": {n.ID, "peakV", rest, nil, 0, false}, "voltage-warm": {n.ID, "peakV", rest, nil, 0, false},
	}[step]
	if !ok {
		return nil
	}
	for _, p.metered = range []bool{false, true} {
		if x, there := w.base.figure(p); there && math.Abs(x-r.Expected) <= samePoint*math.Abs(x) {
			return &p
		}
	}
	return nil
}

// samePoint is how near two figures are the same one (chosen: what the solves leave open).
const samePoint = 1e-3
