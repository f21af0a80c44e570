// Package verdict judges a solved light: what is over a limit, what deserves
// caution, what is worth knowing. A finding carries the figure, the limit, one
// plain sentence why, and where there is one a change that would mend it.
package verdict

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/target"
)

// Severity orders findings.
type Severity string

// Stop: do not build or run it so. Caution: it works, but mind this. Note: good to
// know.
const (
	Stop    Severity = "stop"
	Caution Severity = "caution"
	Note    Severity = "note"
)

// A Finding is one judgement.
type Finding struct {
	Code     string   `json:"code" doc:"What kind of finding, stable across releases"`
	Severity Severity `json:"severity" enum:"stop,caution,note"`
	Stage    string   `json:"stage" enum:"source,driver,emitters,light,heat" doc:"The stage of the chain it belongs to"`
	Node     string   `json:"node" doc:"Id of the node, source or body"`
	Pointer  string   `json:"pointer" doc:"JSON Pointer to what is to be changed: the figure that decides, or the node it belongs to"`
	Title    string   `json:"title" doc:"A few words"`
	Why      string   `json:"why" doc:"One plain sentence"`
	Value    *float64 `json:"value" doc:"The figure"`
	Limit    *float64 `json:"limit" doc:"Its limit"`
	Unit     string   `json:"unit,omitempty" doc:"Unit of both"`
	Fix      *Fix     `json:"fix,omitempty" doc:"A change that would mend it"`
}

// A Fix is a change to the document, as JSON Patch operations (RFC 6902).
type Fix struct {
	Label string  `json:"label" doc:"What is changed, in a few words"`
	Patch []Patch `json:"patch" nullable:"false"`
	Then  string  `json:"then,omitempty" doc:"What the light gives with it, and the margin it keeps; empty: nothing to say"`

	keeps func(*judge) string // the margin in a light that has it
}

// keeping lets a fix name the margin it keeps, of the light that has it; nil stays nil.
func (f *Fix) keeping(words func(with *judge) string) *Fix {
	if f != nil {
		f.keeps = words
	}
	return f
}

// told is a margin that is known beforehand.
func told(words string) func(*judge) string { return func(*judge) string { return words } }

// Patch is one operation; op is always add, which also replaces.
type Patch struct {
	Op    string `json:"op" enum:"add"`
	Path  string `json:"path" doc:"JSON Pointer"`
	Value any    `json:"value" doc:"A number, a word, or true"`
}

type judge struct {
	ctx      context.Context
	light    *design.Light
	at       string // pointer of the variant
	run      *chain.Run
	model    *chain.Model
	answers  chain.Answers
	steady   *chain.SteadyState
	resting  *chain.Solver // in that state
	findings []Finding
	spectra  map[string]*weighed // by part
	spreads  map[float64][2]float64
	searches int // fixes searched for so far
	trial    bool
	failed   error
	reached  *reach
	nodes    map[string]place
	order    []string // ids of nodes, as they stand in the tree
	parts    map[string]*design.Part
	column   map[[2]string]int
}

// place is where a node stands in the tree.
type place struct {
	node    *design.Node
	pointer string
	parent  *design.Node
	feed    *design.Feed
	driver  *place // nearest driver above, that sets its current
}

// Judge lists the findings on a run, worst first. A fix that is offered was tried: what it
// mends is gone with it, and nothing graver comes.
func Judge(ctx context.Context, run *chain.Run) ([]Finding, error) {
	r, why, err := target.Reach(ctx, run)
	if err != nil {
		return nil, fmt.Errorf("judging where the light goes: %w", err)
	}
	return JudgeReached(ctx, run, r, why)
}

// JudgeReached is Judge where it is known already how the light stands to what is wanted of it.
func JudgeReached(ctx context.Context, run *chain.Run, r *target.Reached, why string) ([]Finding, error) {
	return judgeRun(ctx, run, &reach{r, why}, false)
}

// reach is how the light stands to what is wanted of it; nil: it is not asked.
type reach struct {
	*target.Reached
	why string
}

// judgeRun judges a run; of a trial fixes are neither searched for nor tried.
func judgeRun(ctx context.Context, run *chain.Run, reached *reach, trial bool) ([]Finding, error) {
	j := newJudge(run.Model)
	j.reached = reached
	if j.trial = trial; trial {
		j.searches = mostSearches
	}
	j.ctx, j.run, j.answers = ctx, run, run.Answers()
	var err error
	j.resting = j.model.Solver()
	if j.steady, err = j.resting.Steady(ctx); err != nil {
		return nil, fmt.Errorf("judging the light: %w", err)
	}
	j.sources()
	j.drivers()
	j.course()
	j.rails()
	j.looseArrays()
	j.surroundings()
	j.emitters()
	if err := j.strings(); err != nil {
		return nil, err
	}
	j.eyes()
	j.ranges()
	j.contradictions()
	j.idle()
	j.heat()
	j.places()
	j.brief()
	j.whereWanted()
	if j.failed != nil {
		return nil, fmt.Errorf("judging the light: %w", j.failed)
	}
	for _, m := range j.model.Missing() {
		j.add(Finding{Code: "missing", Severity: Note, Stage: j.stage(m.Node), Node: m.Node, Pointer: m.Pointer, Title: "Not known yet", Why: sentence(m.Why)})
	}
	order := map[Severity]int{Stop: 0, Caution: 1, Note: 2}
	slices.SortStableFunc(j.findings, func(a, b Finding) int { return cmp.Compare(order[a.Severity], order[b.Severity]) })
	if j.findings == nil {
		j.findings = []Finding{}
	}
	if j.try(); j.failed != nil {
		return nil, fmt.Errorf("trying what would mend the light: %w", j.failed)
	}
	j.asSet()
	return j.findings, nil
}

// asSet turns what a figure should be into what to set, where readings say that it is not what
// it is set to.
func (j *judge) asSet() {
	for i := range j.findings {
		if j.findings[i].Fix == nil {
			continue
		}
		for k := range j.findings[i].Fix.Patch {
			p := &j.findings[i].Fix.Patch[k]
			if f := j.model.Factor(p.Path); f != 1 {
				if x, ok := p.Value.(float64); ok {
					p.Value = x / f
				}
			}
		}
	}
}

// newJudge reads a model's tree and parts.
func newJudge(m *chain.Model) *judge {
	j := &judge{light: m.Light(), at: m.At(), model: m, nodes: map[string]place{}, parts: map[string]*design.Part{}, column: map[[2]string]int{}}
	for i := range j.light.Parts {
		j.parts[j.light.Parts[i].ID] = &j.light.Parts[i]
	}
	for i, c := range m.Columns() {
		j.column[[2]string{c.Owner, c.Figure}] = i
	}
	v := m.Variant()
	for i := range v.Feeds {
		f := &v.Feeds[i]
		j.walk(f, nil, nil, f.Loads, fmt.Sprintf("%s/feeds/%d", j.at, i))
	}
	return j
}

func (j *judge) walk(f *design.Feed, parent *design.Node, above *place, loads []design.Node, at string) {
	for i := range loads {
		n := &loads[i]
		p := place{n, fmt.Sprintf("%s/loads/%d", at, i), parent, f, above}
		j.nodes[n.ID] = p
		j.order = append(j.order, n.ID)
		below := above
		if n.Driver != nil {
			below = &p
		}
		j.walk(f, n, below, n.Loads, p.pointer)
	}
}

// stop keeps the first reason for which the light cannot be judged.
func (j *judge) stop(err error) {
	if j.failed == nil {
		j.failed = err
	}
}

// add takes a finding down; one that points at no figure points at its node.
func (j *judge) add(f Finding) {
	if f.Pointer == "" {
		f.Pointer = j.pointerTo(f.Node)
	}
	j.findings = append(j.findings, f)
}

// pointerTo is where a node, feed, source or body stands in the document.
func (j *judge) pointerTo(id string) string {
	if p, ok := j.nodes[id]; ok {
		return p.pointer
	}
	v := j.model.Variant()
	for i := range v.Feeds {
		at := fmt.Sprintf("%s/feeds/%d", j.at, i)
		if v.Feeds[i].ID == id {
			return at
		}
		for k := range v.Feeds[i].Sources {
			if v.Feeds[i].Sources[k].ID == id {
				return fmt.Sprintf("%s/sources/%d", at, k)
			}
		}
	}
	for i := range v.Bodies {
		if v.Bodies[i].ID == id {
			return fmt.Sprintf("%s/bodies/%d", j.at, i)
		}
	}
	return j.at
}

// partPointer is where a part's own figures stand.
func (j *judge) partPointer(id string) string {
	for i := range j.light.Parts {
		if j.light.Parts[i].ID == id {
			return fmt.Sprintf("/parts/%d", i)
		}
	}
	return ""
}

// stage tells under which stage of the chain an id is shown.
func (j *judge) stage(id string) string {
	if p, ok := j.nodes[id]; ok {
		switch n := p.node; {
		case n.Array != nil, n.Load != nil, n.Strip != nil:
			return "emitters"
		case n.Driver != nil:
			return "driver"
		}
		return "source"
	}
	for _, b := range j.model.Variant().Bodies {
		if b.ID == id {
			return "heat"
		}
	}
	return "source"
}

// highest is the largest value a figure reaches in the run.
func (j *judge) highest(owner, figure string) (value float64, ok bool) {
	c, ok := j.column[[2]string{owner, figure}]
	if !ok {
		return 0, false
	}
	for i, rec := range j.run.Records {
		if i == 0 || rec[c] > value {
			value = rec[c]
		}
	}
	return value, true
}

// data is the emitter, driver or cell a part id names; nil if none.
func (j *judge) data(id string) *design.Part {
	if p := j.parts[id]; p != nil {
		return p
	}
	return &design.Part{}
}

func sentence(s string) string {
	if s == "" {
		return s
	}
	return capital(s) + "."
}

func capital(s string) string { return strings.ToUpper(s[:1]) + s[1:] }
