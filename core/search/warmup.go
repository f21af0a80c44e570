package search

import (
	"context"
	"fmt"
	"math"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/heat"
)

// A WarmUp is how a light warms from switch-on.
type WarmUp struct {
	T          []float64   `json:"t" nullable:"false" doc:"Times of the curves, s"`
	MarksS     []float64   `json:"marksS" nullable:"false" doc:"Times at which every curve is read, s"`
	Curves     []WarmCurve `json:"curves" nullable:"false"`
	ConstantsS []float64   `json:"constantsS" nullable:"false" doc:"Time constants of its heat at rest, the slowest first, s"`
	Bare       []BareTest  `json:"bare" nullable:"false" doc:"How long until something passes a limit, as it is and with something taken away"`
	EndS       float64     `json:"endS" doc:"Until when it was followed, s: later nothing moves, or it is cut off"`
	EndsBy     string      `json:"endsBy"`
	Unsettled  string      `json:"unsettled" doc:"Why there is no state at rest; empty: there is one"`
	Unknown    []string    `json:"unknown" nullable:"false" doc:"Bodies whose mass is not known: how slowly they warm is not told"`
}

// A WarmCurve is one place that warms.
type WarmCurve struct {
	Owner   string     `json:"owner"`
	Name    string     `json:"name"`
	Figure  string     `json:"figure"`
	C       []float64  `json:"c" nullable:"false" doc:"°C at each of the times"`
	AtMarks []*float64 `json:"atMarks" nullable:"false" doc:"°C at each mark; null: it was cut off before"`
	RestC   *float64   `json:"restC" doc:"If it ran for ever, full, °C"`
	TauS    *float64   `json:"tauS" doc:"Until 63 % of the way there, s"`
	LimitC  *float64   `json:"limitC" doc:"What it bears, °C; null: not known"`
	LimitOf string     `json:"limitOf"`
}

// A BareTest is how long a light bears to run with something taken away.
type BareTest struct {
	Name   string   `json:"name"`
	What   string   `json:"what" doc:"What passes its limit first, in words; empty: nothing does"`
	LimitC *float64 `json:"limitC"`
	AfterS *float64 `json:"afterS" doc:"After which time, s; null: nothing does"`
	Hot    string   `json:"hot" doc:"What gets hottest, where nothing passes a limit"`
	HotC   *float64 `json:"hotC" doc:"How hot, °C"`
}

// warmMarksS are the times people ask for.
var warmMarksS = []float64{60, 300, 900, 3600}

// Curves are told at so many times of at most an hour (chosen).
const (
	warmPoints = 121
	warmLongS  = 3600
)

// WarmUpOf follows a light from switch-on.
func WarmUpOf(ctx context.Context, light *design.Light, variant int) (*WarmUp, error) {
	m, run, st, s, err := warmed(ctx, light, variant)
	if err != nil {
		return nil, err
	}
	out := &WarmUp{MarksS: warmMarksS, Unsettled: st.Reason, ConstantsS: []float64{}, Curves: []WarmCurve{}, Bare: []BareTest{}, Unknown: []string{}, EndS: run.T[len(run.T)-1], EndsBy: run.End.Kind}
	if st.Converged {
		out.ConstantsS = s.TimeConstants()
	}
	end := min(out.EndS, warmLongS)
	settled := run.End.Kind == "settled"
	if settled {
		end = warmLongS // nothing moves any more
	}
	for i := range warmPoints {
		out.T = append(out.T, end*float64(i)/(warmPoints-1))
	}
	at := func(t float64) []float64 { return run.At(min(t, out.EndS)) }
	limits := limitsOn(m)
	for c, column := range m.Columns() {
		name, ok := warmName(m, column)
		if !ok {
			continue
		}
		curve := WarmCurve{Owner: column.Owner, Name: name, Figure: column.Figure}
		for _, t := range out.T {
			curve.C = append(curve.C, at(t)[c])
		}
		for _, t := range warmMarksS {
			var mark *float64
			if settled || t <= out.EndS {
				mark = new(at(t)[c])
			}
			curve.AtMarks = append(curve.AtMarks, mark)
		}
		if st.Converged {
			curve.RestC = new(st.Record[c])
			curve.TauS = reaches(run, c, curve.C[0]+(1-math.Exp(-1))*(*curve.RestC-curve.C[0]))
		}
		for _, l := range limits {
			if l.owner == column.Owner && l.figure == column.Figure {
				curve.LimitC, curve.LimitOf = new(l.limitC), l.of
			}
		}
		out.Curves = append(out.Curves, curve)
	}
	for _, miss := range m.Missing() {
		if b := m.Variant().Body(miss.Node); b != nil {
			out.Unknown = append(out.Unknown, b.Name)
		}
	}
	out.Bare = append(out.Bare, bareTest("as it is", m, run))
	return out, out.bare(ctx, light, variant)
}

func warmed(ctx context.Context, light *design.Light, variant int) (*chain.Model, *chain.Run, *chain.SteadyState, *chain.Solver, error) {
	m, err := chain.Compile(light, chain.Options{Variant: variant})
	if err != nil {
		return nil, nil, nil, nil, err
	}
	run, err := m.Solver().Run(ctx)
	if err != nil {
		return nil, nil, nil, nil, fmt.Errorf("warming up: %w", err)
	}
	s := m.Solver()
	st, err := s.Steady(ctx)
	if err != nil {
		return nil, nil, nil, nil, fmt.Errorf("warming up: %w", err)
	}
	return m, run, st, s, nil
}

// warmName is what a column is called among curves; not ok: it is none of them.
func warmName(m *chain.Model, c chain.Column) (string, bool) {
	if b := m.Variant().Body(c.Owner); b != nil {
		switch c.Figure {
		case "bodyC":
			return b.Name, true
		case "insideC":
			return "air in " + b.Name, true
		}
		return "", false
	}
	n := design.FindIn(m.Variant(), c.Owner)
	switch {
	case n == nil:
	case c.Figure == "junctionC":
		return "junction, " + n.Called(), true
	case c.Figure == "caseC" && n.Strip != nil:
		return "back, " + n.Called(), true
	case c.Figure == "seatC":
		if b, limit := bearsUnder(m, n); limit != nil {
			return b.Name + ", under " + n.Called(), true
		}
	}
	return "", false
}

// bearsUnder is what the body of a node bears, where it was said or is no metal: such a body is
// hottest under what sits on it.
func bearsUnder(m *chain.Model, n *design.Node) (b *design.Body, limitC *float64) {
	switch b = m.Variant().Body(n.BodyID); {
	case b == nil:
		return nil, nil
	case b.MaxC != nil:
		return b, b.MaxC
	case b.Shape != nil && !heat.MaterialOf(b.Shape).Metal:
		return b, &heat.MaterialOf(b.Shape).MaxC
	}
	return b, nil
}

// reaches is when a column comes to a temperature, s; nil: it does not.
func reaches(run *chain.Run, column int, c float64) *float64 {
	up := c >= run.Records[0][column]
	for i := 1; i < len(run.T); i++ {
		was, is := run.Records[i-1][column], run.Records[i][column]
		if (up && is >= c && was < c) || (!up && is <= c && was > c) {
			return new(run.T[i-1] + (run.T[i]-run.T[i-1])*(c-was)/(is-was))
		}
	}
	return nil
}

// A warmLimit is what something bears.
type warmLimit struct {
	owner, figure, of string
	limitC            float64
}

// limitsOn are the limits of a light that are known: of junctions, joints and bodies.
func limitsOn(m *chain.Model) (out []warmLimit) {
	light := m.Light()
	for i := range m.Variant().Bodies {
		b := &m.Variant().Bodies[i]
		if b.Shape == nil && b.MaxC == nil && !b.Touchable {
			continue
		}
		if limit, of := limitOf(light, b); of != usualLimit {
			out = append(out, warmLimit{b.ID, "bodyC", b.Name + ", " + of, limit})
		}
	}
	for n := range design.Nodes(m.Variant()) {
		joint := (*design.Joint)(nil)
		if n.Array != nil {
			joint = n.Array.Joint
			if part := light.Part(n.Array.PartID); part != nil && part.Emitter != nil && part.Emitter.MaxJunctionC != nil {
				out = append(out, warmLimit{n.ID, "junctionC", "the junction of " + n.Called(), *part.Emitter.MaxJunctionC})
			}
		}
		if n.Strip != nil {
			joint = n.Strip.Joint
		}
		if b, limit := bearsUnder(m, n); limit != nil {
			out = append(out, warmLimit{n.ID, "seatC", b.Name + " under " + n.Called() + ", what its material bears", *limit})
		}
		if joint != nil && joint.MaxC != nil {
			out = append(out, warmLimit{n.ID, "caseC", "what holds " + n.Called(), *joint.MaxC})
		}
	}
	return out
}

// bare tries the light with something taken away.
func (w *WarmUp) bare(ctx context.Context, light *design.Light, variant int) error {
	for _, c := range []struct {
		name   string
		change func(v *design.Variant) bool
	}{
		{"its fan stopped", stopFans},
		{"out of its housing", func(v *design.Variant) (any bool) {
			for i := range v.Bodies {
				any = any || v.Bodies[i].Inside != ""
				v.Bodies[i].Inside = ""
			}
			return any
		}},
		{"emitters without their sink", withoutSink},
	} {
		other, err := design.Clone(light)
		if err != nil {
			return err
		}
		if !c.change(&other.Variants[variant]) {
			continue
		}
		m, err := chain.Compile(other, chain.Options{Variant: variant})
		if err != nil {
			return err
		}
		run, err := m.Solver().Run(ctx)
		if err != nil {
			return fmt.Errorf("trying it bare: %w", err)
		}
		w.Bare = append(w.Bare, bareTest(c.name, m, run))
	}
	return nil
}

// bareTest reads which limit of a light is passed first.
func bareTest(name string, m *chain.Model, run *chain.Run) BareTest {
	t := BareTest{Name: name}
	for c, column := range m.Columns() {
		for _, l := range limitsOn(m) {
			if l.owner != column.Owner || l.figure != column.Figure {
				continue
			}
			after := reaches(run, c, l.limitC)
			if run.Records[0][c] > l.limitC {
				after = new(0.0)
			}
			if after != nil && (t.AfterS == nil || *after < *t.AfterS) {
				t.What, t.LimitC, t.AfterS = l.of, new(l.limitC), after
			}
		}
		called, ok := warmName(m, column)
		if !ok {
			continue
		}
		for i := range run.Records {
			if hot := run.Records[i][c]; t.HotC == nil || hot > *t.HotC {
				t.Hot, t.HotC = called, &hot
			}
		}
	}
	return t
}

func stopFans(v *design.Variant) (any bool) {
	for i := range v.Bodies {
		if s := v.Bodies[i].Shape; s != nil && v.Bodies[i].KPerW == nil && s.Fan != nil && !s.Fan.Stopped {
			s.Fan.Stopped, any = true, true
		}
	}
	return any
}

// A board in the air by itself, where its area is not known (chosen: a star of 20 mm), and
// how thick it is (common practice).
const (
	bareBoardM2     = 4e-4
	bareBoardThickM = 1.6e-3
)

// withoutSink leaves every board of emitters in the air by itself: each array its own body
// of the area of its boards.
func withoutSink(v *design.Variant) (any bool) {
	v.Layouts = nil
	for n, all := range design.Nodes(v) {
		if n.Array == nil || v.Body(n.BodyID) == nil {
			continue
		}
		area := bareBoardM2
		if n.Array.Joint != nil && n.Array.Joint.AreaM2 != nil {
			area = *n.Array.Joint.AreaM2
		}
		side := math.Sqrt(area)
		boards := float64(max(n.Array.Count, 1) * all)
		// Boards alike are one sheet as long as all of them, as high as one.
		v.Bodies = append(v.Bodies, design.Body{ID: "bare-" + n.ID, Name: "bare board", Shape: &design.Shape{Kind: "plate", Surface: "painted", LengthM: &side, WidthM: new(side * boards), ThicknessM: new(bareBoardThickM)}})
		n.BodyID, n.Array.Joint, any = "bare-"+n.ID, &design.Joint{KPerW: new(0.0)}, true
	}
	return any
}
