package verdict

import (
	"encoding/json"
	"fmt"
	"math"
	"strconv"
	"strings"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/units"
)

// mostTried bounds the fixes that are tried on a light, and mostWidth the figures of their
// records together: each is solved once more. The rest are offered, and said to be untried
// (both chosen).
const (
	mostTried = 8
	mostWidth = 1000
)

const untried = "not tried"

// lostShare is the share of what a light gives, lumens times hours, below which a fix takes
// more than it mends, if what it mends is no stop (chosen).
const lostShare = 0.5

// try solves the light with each fix, the gravest first, and takes back those that do not
// mend, or break something else. What comes of the others is told.
func (j *judge) try() {
	if j.trial {
		return
	}
	before := map[[2]string]bool{}
	for _, f := range j.findings {
		before[[2]string{f.Code, f.Node}] = true
	}
	tried := 0
	for i := range j.findings {
		f := &j.findings[i]
		if f.Fix == nil || f.Code == "short" || f.Code == "fault-put-in" { // a fault that was put in is taken out, whatever it hid
			continue
		}
		if tried >= mostTried || (tried+1)*len(j.model.Columns()) > mostWidth {
			f.Fix.Then = untried
			continue
		}
		tried++
		light, err := patched(j.light, f.Fix.Patch)
		if err != nil {
			f.Fix = nil // the document does not take it
			continue
		}
		answers, findings, with, err := j.with(light)
		if j.ctx.Err() != nil {
			j.stop(err)
			return
		}
		// A light that cannot be solved with it is no better for it.
		if err != nil || worse(f, before, findings) || f.Severity != Stop && given(&answers) < lostShare*given(&j.answers) {
			f.Fix = nil
			continue
		}
		f.Fix.Then = then(&answers)
		margin := ""
		if f.Fix.keeps != nil {
			margin = f.Fix.keeps(with)
		}
		if margin == "" {
			margin = with.spare()
		}
		if margin != "" {
			f.Fix.Then = strings.TrimPrefix(f.Fix.Then+", "+margin, ", ")
		}
	}
}

// spare is the margin of a light whose fix has no limit of its own: how far the nearest of
// its limits of temperature is. Empty: none is known.
func (j *judge) spare() string {
	least, name := math.Inf(1), ""
	near := func(what, owner, figure string, limit *float64) {
		if limit == nil {
			return
		}
		if t, ok := j.highest(owner, figure); ok && *limit-t < least {
			least, name = *limit-t, what
		}
	}
	for _, id := range j.order {
		if p := j.nodes[id]; p.node.Array != nil && j.data(p.node.Array.PartID).Emitter != nil && len(p.node.Array.Mixed) == 0 {
			near("junctions of "+p.node.Called(), id, "junctionC", j.data(p.node.Array.PartID).Emitter.MaxJunctionC)
		}
	}
	for i := range j.model.Variant().Bodies {
		b := &j.model.Variant().Bodies[i]
		near(b.Name, b.ID, "bodyC", b.MaxC)
		if b.Touchable {
			near(b.Name, b.ID, "bodyC", new(heat.TouchLimitC(&j.light.Brief, j.light.Conditions.Handheld, b)))
		}
	}
	switch {
	case name == "":
		return ""
	case least < 0:
		return name + " still " + units.Kelvins(-least) + " above the limit"
	}
	return name + " " + units.Kelvins(least) + " below the limit"
}

// given is what a light gives in all, lm·s: of one on a supply what it gives.
func given(a *chain.Answers) float64 {
	switch {
	case a.FluxLm == nil:
		return 0
	case a.HalfS != nil:
		return *a.FluxLm * *a.HalfS
	case a.EndS != nil:
		return *a.FluxLm * *a.EndS
	}
	return *a.FluxLm
}

// worse tells whether a finding is still there after its fix, or a stop has come.
func worse(f *Finding, before map[[2]string]bool, after []Finding) bool {
	for _, g := range after {
		if g.Code == f.Code && g.Node == f.Node && g.Pointer == f.Pointer || g.Severity == Stop && !before[[2]string{g.Code, g.Node}] {
			return true
		}
	}
	return false
}

// then says what the light gives with a fix.
func then(a *chain.Answers) string {
	var words []string
	if a.FluxLm != nil {
		words = append(words, units.Format(*a.FluxLm, "luminousFlux", 3))
	}
	if a.HalfS != nil {
		words = append(words, units.Duration(*a.HalfS)+" to half light")
	}
	if a.JunctionC != nil {
		words = append(words, "junction "+units.Degrees(*a.JunctionC))
	}
	if a.TouchC != nil {
		words = append(words, "touch "+units.Degrees(*a.TouchC))
	}
	return strings.Join(words, ", ")
}

// with judges the same variant of another light, without trying its fixes.
func (j *judge) with(light *design.Light) (chain.Answers, []Finding, *judge, error) {
	model, err := chain.Compile(light, j.model.Options())
	if err != nil {
		return chain.Answers{}, nil, nil, err
	}
	run, err := model.Solver().Run(j.ctx)
	if err != nil {
		return chain.Answers{}, nil, nil, err
	}
	findings, err := judgeRun(j.ctx, run, nil, true)
	other := newJudge(model)
	other.run, other.ctx = run, j.ctx
	return run.Answers(), findings, other, err
}

// patched is a copy of a light with changes; an error: the document does not take them.
func patched(light *design.Light, patches []Patch) (*design.Light, error) {
	data, err := design.Encode(light)
	if err != nil {
		return nil, err
	}
	var doc any
	if err := json.Unmarshal(data, &doc); err != nil {
		return nil, err
	}
	for _, p := range patches {
		if err := put(doc, strings.Split(strings.TrimPrefix(p.Path, "/"), "/"), p.Value); err != nil {
			return nil, fmt.Errorf("changing %s: %w", p.Path, err)
		}
	}
	if data, err = json.Marshal(doc); err != nil {
		return nil, err
	}
	return design.Decode(data)
}

// put writes a value into a document; objects on the way are made where there are none.
func put(here any, steps []string, value any) error {
	last := len(steps) == 1
	switch at := here.(type) {
	case map[string]any:
		if last {
			at[steps[0]] = value
			return nil
		}
		if at[steps[0]] == nil {
			at[steps[0]] = map[string]any{}
		}
		return put(at[steps[0]], steps[1:], value)
	case []any:
		i, err := strconv.Atoi(steps[0])
		if err != nil || i < 0 || i >= len(at) {
			return fmt.Errorf("there is no %q in a list of %d", steps[0], len(at))
		}
		if last {
			at[i] = value
			return nil
		}
		return put(at[i], steps[1:], value)
	}
	return fmt.Errorf("%q leads nowhere", steps[0])
}
