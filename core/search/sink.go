package search

import (
	"context"
	"fmt"
	"math"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/root"
)

// A Sink is a body of a light held against the heat that comes onto it, by both schools of
// sizing, and by both of what is heat.
type Sink struct {
	heat.Sizing
	Body      string   `json:"body" doc:"Id of the body"`
	LimitOf   string   `json:"limitOf" doc:"What the limit is: a hand, the material, or what is usual"`
	MassKg    *float64 `json:"massKg" doc:"Its mass as it was weighed, or by its measures, kg; null: its thickness is not known"`
	InputW    float64  `json:"inputW" doc:"What the sources give then, W"`
	LightW    float64  `json:"lightW" doc:"What leaves as light, W"`
	RuleKg    *float64 `json:"ruleMassKg" doc:"Mass of the length that the area rule asks for, kg"`
	PhysicsKg *float64 `json:"physicsMassKg" doc:"Of that which physics asks for"`
	RuleCost  *float64 `json:"rulePrice" doc:"Its price, in the builder's own money; null: its profile has none"`
	PhysCost  *float64 `json:"physicsPrice"`
	AllInputC *float64 `json:"allInputC" doc:"Where it comes to rest if every watt is heat, °C"`
	JunctionC *float64 `json:"junctionC" doc:"Hottest junction then, by the heat school of the light, °C"`
	Emitters  int      `json:"emitters" doc:"How many emitters sit on it now"`
	RuleLEDs  int      `json:"ruleLeds" doc:"How many of them the area rule allows it at this current"`
	MaxLEDs   int      `json:"physicsLeds" doc:"How many physics does"`
	CurrentA  *float64 `json:"currentA" doc:"Current of the one driver at which it settles at its limit, A; null: there is not one, or none does"`
	SetA      *float64 `json:"setA" doc:"What that driver is set to now, A"`
	WhatIfs   []WhatIf `json:"whatIfs" nullable:"false"`
	Unsettled string   `json:"unsettled" doc:"Why there is no state at rest; empty: there is one"`
}

// A WhatIf is the same light with one thing otherwise.
type WhatIf struct {
	Name      string   `json:"name"`
	BodyC     *float64 `json:"bodyC" doc:"Where the body comes to rest, °C; null: nowhere below what its parts bear"`
	JunctionC *float64 `json:"junctionC" doc:"Hottest junction, °C"`
}

// usualLimitC is how warm a sink may get where nothing limits it (common practice).
const usualLimitC = 60

const usualLimit = "what is usual"

// dryShare is how many times the resistance of a joint its dried-out or badly pressed paste
// has (common practice).
const dryShare = 3

// SinkOf asks about a body that is known by its measures. The error may be a PlaceError.
func SinkOf(ctx context.Context, light *design.Light, variant int, body string) (*Sink, error) {
	at := -1
	for i := range light.Variants[variant].Bodies {
		if light.Variants[variant].Bodies[i].ID == body {
			at = i
		}
	}
	if at < 0 {
		return nil, about("body", fmt.Errorf("there is no body %q", body))
	}
	b := &light.Variants[variant].Bodies[at]
	if b.Shape == nil {
		return nil, about("body", fmt.Errorf("%s has no measures yet: say its shape", b.Name))
	}
	q := sinkQuestion{ctx, light, variant, body}
	now, err := q.rest(light)
	if err != nil {
		return nil, err
	}
	out := &Sink{Body: body, WhatIfs: []WhatIf{}, JunctionC: now.junctionC, Unsettled: now.why}
	limit, of := limitOf(light, b)
	in := heat.Surroundings{AirC: now.airC, SunW: now.sunW, DriveV: now.fanV, Pressure: 1}
	if h := light.Conditions.AltitudeM; h != nil {
		in.Pressure = heat.PressureAt(*h)
	}
	if b.FilmPower != nil {
		in.Power = *b.FilmPower
	}
	sizing, lacks := heat.Size(light.ShapeOf(b), now.heatW, limit, in)
	if sizing == nil {
		return nil, about("body", fmt.Errorf("%s still lacks a measure: %s", b.Name, lacks[0]))
	}
	out.Sizing, out.LimitOf = *sizing, of
	if law, _ := heat.NewBody(light.ShapeOf(b), in.Pressure); law != nil {
		if kg, ok := law.MassKg(light.ShapeOf(b)); ok {
			out.MassKg = &kg
		}
		if b.MassKg != nil { // it was on a scale
			out.MassKg = b.MassKg
		}
	}
	out.InputW, out.LightW = now.inputW, now.lightW
	out.lengths(light, b)
	if out.Emitters = emittersOn(light, variant, body); out.Emitters > 0 && now.heatW > 0 {
		each := now.heatW / float64(out.Emitters)
		out.RuleLEDs, out.MaxLEDs = int(sizing.RuleW/each+1e-9), int(sizing.PhysicsW/each+1e-9)
	}
	if err := q.whatIfs(out, at); err != nil {
		return nil, err
	}
	return out, q.current(out, limit)
}

// lengths tells what the lengths to buy weigh and cost.
func (s *Sink) lengths(light *design.Light, b *design.Body) {
	if b.Shape.LengthM == nil || *b.Shape.LengthM <= 0 {
		return
	}
	part := light.Part(b.Shape.PartID)
	for _, of := range []struct{ length, kg, price **float64 }{{&s.RuleLengthM, &s.RuleKg, &s.RuleCost}, {&s.PhysicsLengthM, &s.PhysicsKg, &s.PhysCost}} {
		if *of.length == nil {
			continue
		}
		if s.MassKg != nil {
			*of.kg = new(*s.MassKg * **of.length / *b.Shape.LengthM)
		}
		if part != nil && part.Price != nil {
			*of.price = new(*part.Price * **of.length)
		}
	}
}

// limitOf is how warm a body may get, and what says so.
func limitOf(light *design.Light, b *design.Body) (limitC float64, of string) {
	limitC, of = usualLimitC, usualLimit
	material := (*heat.Material)(nil)
	if b.Shape != nil {
		material = heat.MaterialOf(light.ShapeOf(b))
	}
	switch {
	case b.MaxC != nil:
		limitC, of = *b.MaxC, "its material"
	case material != nil && !material.Metal:
		limitC, of = material.MaxC, material.Word
	}
	if touch := heat.TouchLimitC(&light.Brief, light.Conditions.Handheld, b); b.Touchable && (touch < limitC || of == usualLimit) {
		limitC, of = touch, "a hand"
	}
	return limitC, of
}

func emittersOn(light *design.Light, variant int, body string) int {
	sum := 0
	for n, all := range design.Nodes(&light.Variants[variant]) {
		if a := n.Array; a != nil && n.BodyID == body {
			sum += all * a.Series * a.Parallel * max(a.Count, 1)
		}
	}
	return sum
}

type sinkQuestion struct {
	ctx     context.Context
	light   *design.Light
	variant int
	body    string
}

// rested is what a light comes to at rest.
type rested struct {
	bodyC, junctionC *float64
	heatW            float64 // that the body gives to the air, without the sun's; where nothing rests, that arises in the light
	sunW             float64 // that the sun brings to the body
	airC             float64 // around the body
	inputW, lightW   float64
	fanV             float64
	why              string
}

func (q *sinkQuestion) rest(light *design.Light) (rested, error) {
	m, err := chain.Compile(light, chain.Options{Variant: q.variant})
	if err != nil {
		return rested{}, err
	}
	st, err := m.Solver().Steady(q.ctx)
	if err != nil {
		return rested{}, fmt.Errorf("asking about a sink: %w", err)
	}
	return q.read(m, st), nil
}

func (q *sinkQuestion) read(m *chain.Model, st *chain.SteadyState) rested {
	out := rested{why: st.Reason, airC: m.Light().Conditions.AmbientC}
	record := st.Record
	if !st.Converged {
		// The heat there would be is that of switch-on.
		record = make([]float64, len(m.Columns()))
		charge := 1.0
		if c := m.Light().Conditions.Charge; c != nil {
			charge = *c
		}
		m.Solver().OperatingPoint(charge, m.StartC(), record)
	}
	fan, inside := "", ""
	if b := m.Variant().Body(q.body); b != nil && b.Shape != nil {
		inside, out.sunW = b.Inside, float64(heat.SunOn(b, m.Light().ShapeOf(b), m.Light().Conditions.SunWPerM2))
		if b.Shape.Fan != nil {
			fan = b.Shape.Fan.NodeID
		}
	}
	for i, c := range m.Columns() {
		switch v := record[i]; {
		case c.Owner == fan && fan != "" && c.Figure == "inV":
			out.fanV = v
		case c.Figure == "inputW" && c.Owner == "":
			out.inputW = v
		case c.Figure == "lightW" && c.Owner == "":
			out.lightW = v
		case c.Figure == "heatW" && c.Owner == "" && !st.Converged:
			out.heatW = v
		case !st.Converged:
		case c.Owner == q.body && c.Figure == "bodyC":
			out.bodyC = &v
		case c.Owner == q.body && c.Figure == "airW":
			out.heatW += v
		case inside != "" && c.Owner == inside && c.Figure == "insideC":
			out.airC, out.heatW = v, out.heatW-out.sunW // the sun's heat goes into that air too
		case c.Figure == "junctionC" && (out.junctionC == nil || v > *out.junctionC):
			out.junctionC = &v
		}
	}
	return out
}

// whatIfs asks the same light with one thing otherwise, where that means something.
func (q *sinkQuestion) whatIfs(out *Sink, at int) error {
	for _, c := range []struct {
		name   string
		change func(l *design.Light, b *design.Body) bool
	}{
		{"every watt is heat", func(l *design.Light, _ *design.Body) bool {
			was := l.Conditions.HeatSchool
			l.Conditions.HeatSchool = "all-input"
			return was != "all-input"
		}},
		{"its fan stops", func(_ *design.Light, b *design.Body) bool {
			if b.Shape.Fan == nil || b.Shape.Fan.Stopped {
				return false
			}
			b.Shape.Fan.Stopped = true
			return true
		}},
		{"10 K warmer air", func(l *design.Light, _ *design.Body) bool {
			l.Conditions.AmbientC += 10
			return true
		}},
		{"the paste dries out", func(l *design.Light, _ *design.Body) bool {
			return dried(&l.Variants[q.variant], q.body)
		}},
		{"laid on a table", func(_ *design.Light, b *design.Body) bool { return laid(b.Shape) }},
		{"of wood instead", func(l *design.Light, b *design.Body) bool {
			b.Shape = l.ShapeOf(b)
			return wooden(b.Shape)
		}},
		{"in a closed box", func(l *design.Light, b *design.Body) bool {
			b.Shape = l.ShapeOf(b)
			return boxed(&l.Variants[q.variant], b)
		}},
		{"painted or anodised", func(l *design.Light, b *design.Body) bool {
			if heat.EmissivityOf(l.ShapeOf(b)) > 0.5 {
				return false
			}
			b.Shape.Surface, b.Shape.Emissivity = "painted", nil
			return true
		}},
	} {
		light, err := design.Clone(q.light)
		if err != nil {
			return err
		}
		if !c.change(light, &light.Variants[q.variant].Bodies[at]) {
			continue
		}
		r, err := q.rest(light)
		if err != nil {
			return err
		}
		if c.name == "every watt is heat" {
			out.AllInputC = r.bodyC
			continue
		}
		out.WhatIfs = append(out.WhatIfs, WhatIf{c.name, r.bodyC, r.junctionC})
	}
	return nil
}

// wooden takes wood for what it is made of: of a profile or fins a board as large as their
// base is left.
func wooden(s *design.Shape) bool {
	if s.Material == "wood" || s.Kind == "cooler" {
		return false
	}
	if s.Kind == "profile" || s.Kind == "fins" {
		if s.LengthM == nil || s.WidthM == nil {
			return false
		}
		*s = design.Shape{Kind: "plate", LengthM: s.LengthM, WidthM: s.WidthM, ThicknessM: new(boardThickM)}
	}
	s.Material, s.Surface = "wood", ""
	return true
}

// What a light is closed into where it is asked what then comes: printed plastic with some
// room around (chosen); and the wood that stands for a profile (common practice).
const (
	boxedAroundM = 0.03
	boxedWallM   = 0.003
	boardThickM  = 0.018
)

// boxed closes a body into a box.
func boxed(v *design.Variant, b *design.Body) bool {
	law, _ := heat.NewBody(b.Shape, 1)
	if b.Inside != "" || b.Shape.Kind == "box" || law == nil {
		return false
	}
	side := func(known ...*float64) *float64 {
		for _, m := range known {
			if m != nil {
				return new(*m + 2*boxedAroundM)
			}
		}
		return new(2*boxedAroundM + 0.1)
	}
	b.Inside = "closed-box"
	v.Bodies = append(v.Bodies, design.Body{ID: b.Inside, Name: "the box", Shape: &design.Shape{Kind: "box", Material: "printed-plastic", LengthM: side(b.Shape.LengthM, b.Shape.DiameterM), WidthM: side(b.Shape.WidthM, b.Shape.DiameterM), HeightM: side(b.Shape.HeightM, b.Shape.FinHeightM, b.Shape.DiameterM, b.Shape.ThicknessM), ThicknessM: new(boxedWallM)}})
	return true
}

// dried raises the resistance of every joint onto a body; it tells whether there is any.
func dried(v *design.Variant, body string) (any bool) {
	for n := range design.Nodes(v) {
		if a := n.Array; a != nil && n.BodyID == body && a.Joint != nil && !heat.Dry(a.Joint) {
			if r, ok := heat.JointKPerW(a.Joint); ok && r > 0 {
				r *= dryShare
				a.Joint.KPerW, any = &r, true
			}
		}
	}
	return any
}

// laid puts a shape down on one of its sides; it tells whether that is another pose.
func laid(s *design.Shape) bool {
	switch s.Kind {
	case "plate":
		if s.OneFace {
			return false
		}
		s.Pose, s.OneFace = "up", true
	case "fins":
		if s.Pose == "up" {
			return false
		}
		s.Pose, s.OneFace = "up", true
	case "tube", "profile":
		if s.Pose == "level" {
			return false
		}
		s.Pose = "level"
	default:
		return false
	}
	return true
}

// current looks for the setting of the one driver at which the body settles at its limit.
func (q *sinkQuestion) current(out *Sink, limitC float64) error {
	m, err := chain.Compile(q.light, chain.Options{Variant: q.variant})
	if err != nil {
		return err
	}
	pointer, now := oneSetting(q.light, q.variant)
	if pointer == "" {
		return nil
	}
	out.SetA = &now
	var failed error
	s := m.Solver()
	over := func(a float64) float64 {
		if err := s.Vary(chain.Variation{Pointer: pointer, Op: chain.Set, Value: a}); err != nil {
			return math.NaN()
		}
		st, err := s.Steady(q.ctx)
		if err != nil {
			failed = err
			return math.NaN()
		}
		if r := q.read(m, st); r.bodyC != nil {
			return *r.bodyC - limitC
		}
		return unsettledK
	}
	low, high := leastSetting*now, mostSetting*now
	fl, fh := over(low), over(high)
	if failed != nil {
		return fmt.Errorf("looking for a current: %w", failed)
	}
	if fl < 0 && fh > 0 {
		// Where it stops to come to rest it jumps past its limit: no setting is at it then.
		if a := root.Bracketed(over, low, fl, high, fh, 1e-3*now); math.Abs(over(a)) < atLimitK {
			out.CurrentA = &a
		}
	}
	return nil
}

// A current is looked for between these shares of the one that is set; one without a state
// at rest is so far too warm.
const (
	leastSetting = 0.02
	mostSetting  = 3
	unsettledK   = 1e3
	atLimitK     = 1 // as near to it as counts as there
)

// oneSetting is where the current of the only driver whose current is set stands, and what
// it is; empty: there is not just one.
func oneSetting(light *design.Light, variant int) (pointer string, a float64) {
	found := 0
	for i := range light.Variants[variant].Feeds {
		f := &light.Variants[variant].Feeds[i]
		for n := range design.NodesOf(f.Loads) {
			if n.Driver == nil || n.Driver.ProgramOhm != nil {
				continue
			}
			part := light.Part(n.Driver.PartID)
			set := n.Driver.SetCurrentA
			if set == nil && part != nil && part.Driver != nil {
				set = part.Driver.SetCurrentA
			}
			if part != nil && part.Driver != nil && len(part.Driver.JumperA) == 0 && set != nil && *set > 0 {
				found++
				pointer, a = fmt.Sprintf("/variants/%s/feeds/%s/loads/%s/driver/setCurrentA", light.Variants[variant].ID, f.ID, n.ID), *set
			}
		}
	}
	if found != 1 {
		return "", 0
	}
	return pointer, a
}
