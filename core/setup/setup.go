// Package setup writes down how a driver is set up at the bench for one light: the
// steps in order, what the meter should show at each, from the same model as every
// other figure, and what a reading says.
package setup

import (
	"context"
	"fmt"
	"slices"

	"photherm/core/chain"
	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/reading"
)

// A Procedure is one way of setting a driver up.
type Procedure struct {
	Name  string `json:"name"`
	When  string `json:"when" doc:"When to choose it"`
	Steps []Step `json:"steps" nullable:"false"`
	Also  bool   `json:"also" doc:"Whether it is done besides one of the other ways, not instead"`
}

// A Step is one thing to do, with the reading to expect.
type Step struct {
	ID      string           `json:"id" doc:"Stays the same as long as the procedure does"`
	Do      string           `json:"do" doc:"One sentence or two"`
	Caution string           `json:"caution,omitempty"`
	Reading *reading.Reading `json:"reading" doc:"What to read; null: nothing"`
	Ticked  bool             `json:"ticked"`
}

// What parts leave open where their data do not say, as shares (common practice): a driver five
// per cent, forward voltage three, and a set point one; and what a meter needs to be told from
// nothing.
const (
	meterShare   = 0.01
	currentShare = 0.05
	voltageShare = 0.03
	potShare     = 0.01
)

// A Plan is everything there is to setting one driver up.
type Plan struct {
	Node       string          `json:"node" doc:"Id of the driver, or of what hangs on the source without one"`
	Name       string          `json:"name"`
	Family     string          `json:"family"`
	WantedA    *float64        `json:"wantedA" doc:"Current it should give, A"`
	Procedures []Procedure     `json:"procedures" nullable:"false"`
	Resistor   *ResistorAdvice `json:"resistor" doc:"The resistor that sets or limits the current; null: none does"`
	Dimming    *DimmingAdvice  `json:"dimming" doc:"Null: it is not dimmed by switching"`
	Source     string          `json:"source" doc:"The source in use, by name; empty: none is chosen"`
	Line       []LinePoint     `json:"line" nullable:"false" doc:"Output over the range of that source"`
	Tried      []LinePoint     `json:"tried" nullable:"false" doc:"Output over the range of voltage that was asked for"`
}

// A Question is what is asked, with the choices a person has made.
type Question struct {
	Variant  int
	Node     string
	Series   string    // E-series of resistors
	Drawer   []float64 // values at hand, Ω
	ClockHz  float64   // of the counter that makes the duty; 0: unknown
	ShutterS float64   // of a camera; 0: none
	LowV     float64   // any range of source voltage to try; 0 to 0: none
	HighV    float64
	Tools    []string // ids of the tools at hand; none: all are
}

// For writes the plan of one driver, or of emitters, strip or a load that hang on the
// source without one. It fails if there is no such node.
func For(ctx context.Context, light *design.Light, q Question) (*Plan, error) {
	b := bench{ctx: ctx, light: light, q: q, parts: map[string]*design.Part{}}
	if q.Variant < 0 || q.Variant >= len(light.Variants) {
		return nil, fmt.Errorf("there is no variant %d", q.Variant)
	}
	for i := range light.Parts {
		b.parts[light.Parts[i].ID] = &light.Parts[i]
	}
	v := &light.Variants[q.Variant]
	for i := range v.Feeds {
		b.find(v.Feeds[i].Loads, &v.Feeds[i], fmt.Sprintf("/variants/%d/feeds/%d", q.Variant, i), nil, true)
	}
	if b.node == nil || b.node.Driver == nil && !(b.nothingBefore && lit(b.node)) {
		return nil, fmt.Errorf("there is no driver %q", q.Node)
	}
	p := &Plan{Node: b.node.ID, Name: b.node.Name, Procedures: []Procedure{}, Line: []LinePoint{}, Tried: []LinePoint{}}
	if p.Name == "" {
		p.Name = p.Node
	}
	m, err := chain.Compile(light, chain.Options{Variant: q.Variant})
	if err != nil {
		return nil, err
	}
	b.model = m
	if b.node.Driver == nil {
		p.Procedures = append(p.Procedures, b.bringUp())
		b.spare(p)
		b.record(p, v.SetUp)
		return p, b.planned()
	}
	part := b.parts[b.node.Driver.PartID]
	if part == nil || part.Driver == nil {
		return p, nil
	}
	b.d, p.Family = part.Driver, part.Driver.Family
	if set := driver.SetCurrentA(b.d, b.node.Driver); set != nil {
		b.wantedA, p.WantedA = *set, set
	}
	// A set resistor is what there is; the setting is what was wanted.
	if b.node.Driver.SetCurrentA != nil {
		b.wantedA, p.WantedA = *b.node.Driver.SetCurrentA, b.node.Driver.SetCurrentA
	}
	b.wanted(p)
	if len(b.feed.Sources) > 0 {
		p.Source = b.feed.Sources[0].Called()
	}
	p.Line = b.line()
	if p.Tried, err = b.tried(); err != nil {
		return nil, err
	}
	b.bearable()
	b.procedures(p)
	if f := b.floors(); len(f.Steps) > 0 {
		p.Procedures = append(p.Procedures, f)
	}
	b.dimmersFull(p)
	if leads := b.dimLeads(); len(leads.Steps) > 0 {
		p.Procedures = append(p.Procedures, leads)
	}
	b.spare(p)
	b.resistor(p)
	b.dimming(p)
	b.record(p, v.SetUp)
	if err := b.planned(); err != nil {
		return nil, err
	}
	return p, nil
}

// wanted is the current to aim at where the driver's own setting does not say: what is wanted in each
// emitter, or of a supply that is dimmed by its pots what the light takes as it stands.
func (b *bench) wanted(p *Plan) {
	if b.node.Driver.SetCurrentA == nil {
		if a, ok := wantedBelow(b.node.Loads); ok && a > 0 {
			b.wantedA, p.WantedA = a, &a
			return
		}
	}
	if b.wantedA == 0 && b.d.Family == "voltage" && b.d.Dimming == "pots" {
		if at := b.probe(); at.OutA > 0 {
			b.wantedA, p.WantedA = at.OutA, new(at.OutA)
		}
	}
}

// wantedBelow is the current that emitters on a bus want together, A; not ok: of some it is not said.
func wantedBelow(nodes []design.Node) (a float64, ok bool) {
	for i := range nodes {
		n := &nodes[i]
		times := float64(max(n.Count, 1))
		switch {
		case n.Switch != nil && n.Switch.Open, n.Aux != nil:
			continue
		case n.Switch != nil:
			below, said := wantedBelow(n.Loads)
			if !said {
				return 0, false
			}
			a, ok = a+times*below, true
		case n.Array != nil && n.Array.WantedA != nil:
			a, ok = a+times**n.Array.WantedA*float64(n.Array.Parallel*max(n.Array.Count, 1)), true
		default:
			return 0, false
		}
	}
	return a, ok
}

func (b *bench) planned() error {
	if b.failed != nil {
		return fmt.Errorf("planning the set-up: %w", b.failed)
	}
	return nil
}

// lit tells a node that gives light.
func lit(n *design.Node) bool { return n.Array != nil || n.Strip != nil || n.Load != nil }

type bench struct {
	ctx     context.Context
	light   *design.Light
	q       Question
	parts   map[string]*design.Part
	node    *design.Node
	feed    *design.Feed
	pointer string
	dimmers []string
	d       *design.Driver
	model   *chain.Model
	wantedA float64
	mostA   float64 // at its output what its emitters bear, A; +Inf: not known, or more than it gives
	failed  error

	nothingBefore bool // no driver stands between the source and the node
}

// find looks for the node; dimmers are the pointers of those on the way, and bare tells
// that no driver stands on it.
func (b *bench) find(nodes []design.Node, f *design.Feed, at string, dimmers []string, bare bool) {
	for i := range nodes {
		here := fmt.Sprintf("%s/loads/%d", at, i)
		if nodes[i].ID == b.q.Node {
			b.node, b.feed, b.pointer, b.dimmers, b.nothingBefore = &nodes[i], f, here, dimmers, bare
		}
		way := dimmers
		if nodes[i].Dimmer != nil {
			way = append(slices.Clone(dimmers), here)
		}
		b.find(nodes[i].Loads, f, here, way, bare && nodes[i].Driver == nil)
	}
}

// dimmersFull comes first where a dimmer stands before the driver.
func (b *bench) dimmersFull(p *Plan) {
	if len(b.dimmers) == 0 {
		return
	}
	for i := range p.Procedures {
		first := Step{ID: "dimmer-full", Do: "Turn the dimmer before it to its highest: what is to be read below is that of full level."}
		p.Procedures[i].Steps = append([]Step{first}, p.Procedures[i].Steps...)
	}
}

// record fills in what was ticked and read, and judges it.
func (b *bench) record(p *Plan, done []design.Done) {
	for i := range p.Procedures {
		for k := range p.Procedures[i].Steps {
			s := &p.Procedures[i].Steps[k]
			d := recordOf(done, p.Node, s.ID)
			s.Ticked = d != nil && d.Ticked
			if s.Reading == nil {
				continue
			}
			s.Reading.Take(b.q.Tools)
			if d != nil {
				s.Reading.Read(d)
			}
		}
	}
}

func (b *bench) feedPointer() string {
	v := &b.light.Variants[b.q.Variant]
	for i := range v.Feeds {
		if &v.Feeds[i] == b.feed {
			return fmt.Sprintf("/variants/%d/feeds/%d", b.q.Variant, i)
		}
	}
	return ""
}

// undimmed is a solver with the driver, and dimmers before it, at full: meters mislead on one
// that is switched, and the setting is that of full current.
func (b *bench) undimmed() *chain.Solver {
	s := b.model.Solver()
	if b.node.Driver == nil {
		return s
	}
	level := "dimming/"
	for i, m := range b.node.Driver.Modes {
		if m.Name == b.node.Driver.Mode {
			level = fmt.Sprintf("modes/%d/level/", i)
		}
	}
	full := []chain.Variation{b.set(level+"current", 1), b.set(level+"duty", 1)}
	for _, at := range b.dimmers {
		full = append(full, chain.Variation{Pointer: at + "/dimmer/level", Op: chain.Set, Value: 1})
	}
	_ = s.Vary(full...) // a driver has both, and a dimmer its level
	return s
}

// probe solves the driver as it is set, undimmed, with changes, cold from a full
// source.
func (b *bench) probe(changes ...chain.Variation) circuit.Probe {
	s := b.undimmed()
	if s.Vary(changes...) != nil {
		return circuit.Probe{}
	}
	return b.probeAt(s, 1)
}

func (b *bench) probeAt(s *chain.Solver, charge float64) circuit.Probe {
	p, _, err := s.ProbeAt(b.ctx, b.node.ID, charge, b.light.Conditions.AmbientC)
	b.stop(err)
	return p
}

// stop keeps the first reason for which the plan cannot be told.
func (b *bench) stop(err error) {
	if b.failed == nil {
		b.failed = err
	}
}

// warm is the driver's output when the light has warmed up undimmed, with changes.
func (b *bench) warm(changes ...chain.Variation) (outV, outA float64, ok bool) {
	s := b.undimmed()
	if s.Vary(changes...) != nil {
		return 0, 0, false
	}
	st, err := s.Steady(b.ctx)
	b.stop(err)
	if err != nil || !st.Converged {
		return 0, 0, false
	}
	for i, c := range b.model.Columns() {
		if c.Owner == b.node.ID && c.Figure == "peakV" {
			outV = st.Record[i]
		}
		if c.Owner == b.node.ID && c.Figure == "peakA" {
			outA = st.Record[i]
		}
	}
	return outV, outA, true
}

func (b *bench) set(field string, value float64) chain.Variation {
	return chain.Variation{Pointer: b.pointer + "/driver/" + field, Op: chain.Set, Value: value}
}

func (b *bench) tolerance() float64 {
	if b.d.Tolerance != nil {
		return *b.d.Tolerance
	}
	return currentShare
}
