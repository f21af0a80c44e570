package bench

import (
	"context"
	"math"
	"strings"
	"testing"

	"photherm/core/band"
	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/internal/sample"
)

func p(x float64) *float64 { return &x }

func handlamp(t testing.TB) *design.Light {
	t.Helper()
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	light.Variants = light.Variants[:1]
	return sample.OfKnownKPerW(light)
}

func plan(t testing.TB, light *design.Light, tools ...string) *ReadingPlan {
	t.Helper()
	out, err := PlanOf(context.Background(), light, Question{Tools: tools})
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func (plan *ReadingPlan) row(t testing.TB, node, step string) *BenchRow {
	t.Helper()
	for i := range plan.Stages {
		for k := range plan.Stages[i].Rows {
			if r := &plan.Stages[i].Rows[k]; r.Node == node && r.Step == step {
				return r
			}
		}
	}
	t.Fatalf("no row %s of %s", step, node)
	return nil
}

// measure fills in readings as a light with something else about it would give them.
func measure(t testing.TB, light *design.Light, change func(*design.Light), fault func(*chain.Solver), steps ...string) {
	t.Helper()
	truth, err := design.Clone(light)
	if err != nil {
		t.Fatal(err)
	}
	if change != nil {
		change(truth)
	}
	m, err := model(truth, 0, true)
	if err != nil {
		t.Fatal(err)
	}
	_, w, err := planOf(context.Background(), light, Question{})
	if err != nil {
		t.Fatal(err)
	}
	light.Variants[0].SetUp = nil
	for _, r := range w.placed {
		if len(steps) > 0 && !strings.Contains(" "+strings.Join(steps, " ")+" ", " "+r.Step+" ") {
			continue
		}
		q, err := newSolved(context.Background(), m)
		if err != nil {
			t.Fatal(err)
		}
		if fault != nil {
			fault(q.s)
		}
		x, ok := q.figure(*r.point)
		if !ok {
			t.Fatalf("%s of %s is not known", r.Step, r.Node)
		}
		light.Variants[0].SetUp = append(light.Variants[0].SetUp, design.Done{Node: r.Node, Step: r.Step, Reading: &x})
	}
}

// A plan goes from what is safe without power to what needs a warm light, mains with its caution
// first; each step stands once; what is read as expected agrees, whatever it is read with.
func TestPlanOfEveryExample(t *testing.T) {
	order := []string{"Before any power", "First power", "Setting up", "Bringing up", "What it takes", "Charging", "Warming up", "Light", "Run it down"}
	for _, name := range []string{"shore-search-handlamp", "slipway-lantern", "germination-rack", "chart-table-strip", "boathouse-floodlight", "pier-lantern", "skerry-marker"} {
		light, err := sample.Example(name + ".json")
		if err != nil {
			t.Fatal(err)
		}
		got := plan(t, light)
		last, seen := 0, map[string]bool{}
		for _, s := range got.Stages {
			at := 0
			for i, o := range order {
				if strings.HasPrefix(s.Name, o) {
					at = i
				}
			}
			if at < last && at != 3 {
				t.Errorf("%s: %q comes late", name, s.Name)
			}
			last = max(last, at)
			for i := range s.Rows {
				r := &s.Rows[i]
				if seen[r.Node+"/"+r.Step] {
					t.Errorf("%s: %s of %s stands twice", name, r.Step, r.Node)
				}
				seen[r.Node+"/"+r.Step] = true
				x := r.Reading
				if x == nil || x.Open {
					continue
				}
				if len(r.Tools) == 0 || !r.Tools[0].Have || x.Model <= 0 && !x.AtLeast || math.Abs(r.Tools[0].Within-x.Within) > 1e-12*x.Within {
					t.Errorf("%s: %s of %s with %+v within %g, model %g", name, r.Step, r.Node, r.Tools, x.Within, x.Model)
				}
				x.Judge(x.Expected, x.Expected, "")
				if x.Calculated != "agrees" || x.Ask != nil {
					t.Errorf("%s: %s of %s, as expected, %s", name, r.Step, r.Node, x.Calculated)
				}
				beyond := x.Expected + 2.01*x.Within
				if x.AtLeast {
					beyond = x.Expected - 2.01*x.Within
				}
				x.Judge(beyond, beyond, "")
				if x.Calculated != "differs" {
					t.Errorf("%s: %s of %s, beyond its band, %s", name, r.Step, r.Node, x.Calculated)
				}
			}
		}
		mains := light.Variants[0].Feeds[0].Sources[0].Mains != nil
		if strings.Contains(got.Stages[0].Caution, "Mains") != mains || strings.Contains(got.Stages[1].Caution, "Mains") != mains {
			t.Errorf("%s: caution of the mains %q", name, got.Stages[0].Caution)
		}
	}
}

// A hand is a poorer tool than a thermocouple: chosen where only it is there, with a wider band.
func TestToolsAtHand(t *testing.T) {
	with := plan(t, handlamp(t)).row(t, "housing", "bodyC-rest")
	hand := plan(t, handlamp(t), "hand", "multimeter-v").row(t, "housing", "bodyC-rest")
	if with.Reading.Tool != "thermocouple" || hand.Reading.Tool != "hand" || hand.Reading.Within <= with.Reading.Within || hand.Tools[0].ID != "hand" || hand.Tools[1].Have {
		t.Errorf("%+v, by hand %+v", with.Reading, hand.Tools)
	}
}

// Readings of a light with one thing wrong name it.
func TestCauses(t *testing.T) {
	for name, c := range map[string]struct {
		change  func(*design.Light)
		fault   func(*chain.Solver)
		steps   []string
		says    string
		pointer string
	}{
		"the pot stands elsewhere": {change: func(l *design.Light) {
			design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").Driver.SetCurrentA = p(1.1)
		}, says: "what Driver is set to", pointer: "/variants/0/feeds/0/loads/1/loads/0/driver/setCurrentA"},
		"one emitter shorted": {fault: func(s *chain.Solver) {
			if err := s.Fault("emitters", 1, false); err != nil {
				t.Fatal(err)
			}
		}, says: "shorted", pointer: "/variants/0/feeds/0/loads/1/loads/0/loads/0"},
		"a dry joint": {change: func(l *design.Light) {
			j := design.FindNode(l.Variants[0].Feeds[0].Loads, "emitters").Array.Joint
			r, _ := heat.JointKPerW(j)
			j.KPerW = p(10 * r)
		}, says: "joint under", pointer: "/variants/0/feeds/0/loads/1/loads/0/loads/0"},
		"a bad contact at the pack": {change: func(l *design.Light) { l.Variants[0].Feeds[0].Sources[0].Pack.ContactOhm += 0.5 },
			says: "a bad contact between Four in a tube and the light: 0.5", pointer: "/variants/0/feeds/0/sources/0/pack/contactOhm"},
		"worn cells": {change: func(l *design.Light) {
			c := l.Part(l.Variants[0].Feeds[0].Sources[0].Pack.PartID).Cell
			c.CapacityAh, c.ResistanceOhm = 0.55*c.CapacityAh, 3.3*c.ResistanceOhm
		}, says: "cells of Four in a tube that are worn out", pointer: "/variants/0/feeds/0/sources/0/pack"},
		"emitters of another lot": {change: func(l *design.Light) {
			for k := range l.Parts {
				if e := l.Parts[k].Emitter; e != nil {
					for i := range e.Forward {
						e.Forward[i].VoltageV += 0.3
					}
				}
			}
		}, says: "V more than is taken", pointer: "/parts/"},
		"less cooling": {change: func(l *design.Light) { l.Variants[0].Bodies[0].KPerW = p(1.8 * *l.Variants[0].Bodies[0].KPerW) }, says: "K/W of", pointer: "/variants/0/bodies/0/kPerW"},
	} {
		light := handlamp(t)
		measure(t, light, c.change, c.fault, c.steps...)
		got := plan(t, light)
		if got.Cause == nil || !strings.Contains(got.Cause.Why, c.says) || !strings.HasPrefix(got.Cause.Pointer, c.pointer) || got.Cause.Explains == 0 {
			t.Errorf("%s: %+v", name, got.Cause)
		}
	}
	// As calculated nothing is the cause of anything; nor of one slip that is asked about.
	light := handlamp(t)
	measure(t, light, nil, nil)
	if got := plan(t, light); got.Cause != nil || got.Read == 0 {
		t.Errorf("%+v", got.Cause)
	}
	for i := range light.Variants[0].SetUp {
		if d := &light.Variants[0].SetUp[i]; d.Step == "draw-full" {
			*d.Reading *= 1000
		}
	}
	if got := plan(t, light); got.Cause != nil || got.row(t, "power", "draw-full").Reading.Ask == nil {
		t.Errorf("a slip: %+v", got.Cause)
	}
}

// Two suspects that one reading cannot tell apart are both named, with the reading that can.
func TestRivals(t *testing.T) {
	light := handlamp(t)
	measure(t, light, func(l *design.Light) {
		design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").Driver.SetCurrentA = p(1.1)
	}, nil, "draw-full")
	got := plan(t, light)
	if got.Cause == nil || got.Cause.Rival == "" || got.Cause.Tell == nil {
		t.Fatalf("%+v", got.Cause)
	}
	if got.Cause.Tell.Step == "draw-full" || !strings.Contains(got.Cause.Tell.Why, "if it is the first") {
		t.Errorf("%+v", got.Cause.Tell)
	}
}

// The most telling reading is one not taken, and taking all leaves nothing to ask for.
func TestNextReading(t *testing.T) {
	light := handlamp(t)
	first := plan(t, light).Next
	if first == nil {
		t.Fatal("nothing to read")
	}
	measure(t, light, nil, nil, first.Step)
	if again := plan(t, light).Next; again == nil || again.Step == first.Step && again.Node == first.Node {
		t.Errorf("asked for again: %+v", again)
	}
	// What a reading told is known; a slip that is asked about told nothing.
	open := func() float64 {
		t.Helper()
		_, w, err := planOf(context.Background(), light, Question{})
		if err != nil {
			t.Fatal(err)
		}
		tolerances := band.Tolerances(w.m)
		known, least := w.posterior(tolerances), 1.0
		for k := range tolerances {
			least = min(least, known.At(k, k))
		}
		return least
	}
	measure(t, light, nil, nil, "on")
	if x := open(); x > 0.2 {
		t.Errorf("of what the driver is set to %.2g is open", x)
	}
	*light.Variants[0].SetUp[0].Reading *= 1000
	if x := open(); x != 1 {
		t.Errorf("a slip told something: %g is open", x)
	}
	measure(t, light, nil, nil)
	if end := plan(t, light).Next; end != nil {
		t.Errorf("all were taken: %+v", end)
	}
}

// Of a light of which nothing is known there is nothing to read, and no list is missing; of one half
// known, what can be done without figures.
func TestPlanOfLittle(t *testing.T) {
	light := &design.Light{Format: design.Format, Version: design.Version, Name: "x", Parts: []design.Part{}, Variants: []design.Variant{{ID: "v", Name: "v", Bodies: []design.Body{}, Feeds: []design.Feed{}}}}
	if got := plan(t, light); got.Stages == nil || len(got.Stages) != 0 || got.Next != nil || got.Of != 0 {
		t.Errorf("%+v", got)
	}
	light.Variants[0].Feeds = []design.Feed{{ID: "f", Sources: []design.Source{{ID: "s"}}, Loads: []design.Node{{ID: "d", Driver: &design.DriverUse{}, Loads: []design.Node{{ID: "a", Array: &design.Array{Series: 1, Parallel: 1}}}}}}}
	if r := plan(t, light).row(t, "a", "polarity"); r.Reading != nil {
		t.Errorf("%+v", r)
	}
	if r := plan(t, light).row(t, "f", "first-power"); strings.Contains(r.Do, " 0 ") {
		t.Errorf("nothing draws yet, and first power says %q", r.Do)
	}
	if _, err := PlanOf(context.Background(), light, Question{Variant: 3}); err == nil {
		t.Error("a variant that is not there")
	}
	if _, err := WarmFitOf(context.Background(), light, WarmQuestion{Log: WarmLog{Owner: "a", Figure: "bodyC", S: []float64{0, 1, 2, 3, 4}, C: []float64{1, 2, 3, 4, 5}}}); err == nil || !strings.Contains(err.Error(), "no bodyC") {
		t.Error(err)
	}
}
