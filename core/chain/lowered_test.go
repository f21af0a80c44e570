package chain

import (
	"math"
	"strings"
	"testing"

	"photherm/core/design"
)

// stepping is the handlamp with a driver that goes down by itself.
func stepping(t *testing.T, s design.StepDown, change func(*design.Light)) *Model {
	t.Helper()
	l := load(t, "shore-search-handlamp.json")
	design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").Driver.StepDown = &s
	change(l)
	return compile(t, l)
}

func none(*design.Light) {}

func eventsOf(r *Run, kind string) (out []float64) {
	for _, e := range r.Events {
		if e.Kind == kind {
			out = append(out, e.T)
		}
	}
	return out
}

// By time: until then it is the light without it, to the record; from then on it is the light
// set to that share, as warm at rest as that; and the run lasts longer. The ledger closes.
func TestLoweredByTime(t *testing.T) {
	plain, half := stepping(t, design.StepDown{To: 1}, none), stepping(t, design.StepDown{To: 1}, func(l *design.Light) {
		*design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").Driver.SetCurrentA *= 0.4
	})
	m := stepping(t, design.StepDown{To: 0.4, AfterS: ptr(600.0)}, none)
	r, full := run(t, m), run(t, plain)
	if down := eventsOf(r, "lowered"); len(down) != 1 || math.Abs(down[0]-600) > 1e-6 || len(eventsOf(r, "raised")) != 0 {
		t.Fatalf("lowered at %v", down)
	}
	closeTo(t, "before", column(t, m, r.At(590), "emitters", "inA"), column(t, plain, full.At(590), "emitters", "inA"), 1e-4)
	closeTo(t, "after", column(t, m, r.At(601), "emitters", "stringA"), 0.4*column(t, m, r.At(590), "emitters", "stringA"), 1e-3)
	if !r.Ledger.Closes() || r.End.T < 1.8*full.End.T {
		t.Errorf("ledger %g, ends after %g s, without it %g", r.Ledger.Closure, r.End.T, full.End.T)
	}
	_, a := restOf(t, m)
	_, b := restOf(t, half)
	closeTo(t, "at rest", column(t, m, a, "housing", "bodyC"), column(t, half, b, "housing", "bodyC"), 1e-6)
	// A second run of the same solver begins at full again.
	s := m.Solver()
	for range 2 {
		again, err := s.Run(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		closeTo(t, "at switch-on", column(t, m, again.Records[0], "emitters", "inA"), column(t, plain, full.Records[0], "emitters", "inA"), 1e-9)
	}
}

// By heat: lowered when the body passes it, for good where the share keeps it warm, over and
// over where it cools off again, between both temperatures; never beyond the upper one by
// more than it still soaks.
func TestLoweredByHeat(t *testing.T) {
	gentle := stepping(t, design.StepDown{To: 0.8, AtC: ptr(45.0), BackC: ptr(25.0)}, none)
	r := run(t, gentle)
	if down := eventsOf(r, "lowered"); len(down) != 1 || len(eventsOf(r, "raised")) != 0 {
		t.Fatalf("lowered at %v, back at %v", down, eventsOf(r, "raised"))
	} else if c := column(t, gentle, r.At(down[0]), "housing", "bodyC"); math.Abs(c-45) > 0.05 {
		t.Errorf("lowered at %g °C", c)
	}
	s, record := restOf(t, gentle)
	if !s.lowered[0] || column(t, gentle, record, "housing", "bodyC") > 50 {
		t.Errorf("at rest %g °C, lowered %v", column(t, gentle, record, "housing", "bodyC"), s.lowered)
	}
	hard := stepping(t, design.StepDown{To: 0.1, AtC: ptr(40.0), BackC: ptr(36.0)}, none)
	r = run(t, hard)
	down, up := eventsOf(r, "lowered"), eventsOf(r, "raised")
	if len(down) < 3 || len(up) < 2 || !r.Ledger.Closes() {
		t.Fatalf("down %v, up %v, ledger %g", down, up, r.Ledger.Closure)
	}
	for i, at := range up {
		if c := column(t, hard, r.At(at), "housing", "bodyC"); math.Abs(c-36) > 0.05 || at < down[i] {
			t.Errorf("back at %g °C after %g s", c, at)
		}
	}
	for i := range r.T {
		if c := column(t, hard, r.Records[i], "housing", "bodyC"); c > 40.5 {
			t.Fatalf("%g °C after %g s", c, r.T[i])
		}
	}
	st, err := hard.Solver().Steady(t.Context())
	if err != nil || st.Converged || !strings.Contains(st.Reason, "over and over") {
		t.Errorf("at rest: %+v, %v", st, err)
	}
	// At most so often it is followed; then it stays down.
	quick := run(t, stepping(t, design.StepDown{To: 0.02, AtC: ptr(40.0), BackC: ptr(39.8)}, none))
	if n := len(eventsOf(quick, "lowered")) + len(eventsOf(quick, "raised")); n != mostLowered+1 || quick.End.Kind == "" {
		t.Errorf("%d changes, ends with %q", n, quick.End.Kind)
	}
}

// A sensor on nothing is told; a temperature to come back that is no lower is refused; both
// together go down by whichever comes first.
func TestLoweringThatCannotBe(t *testing.T) {
	m := stepping(t, design.StepDown{To: 0.5, AtC: ptr(40.0)}, func(l *design.Light) {
		design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").BodyID = ""
	})
	told := false
	for _, miss := range m.Missing() {
		told = told || strings.Contains(miss.Pointer, "/stepDown/bodyId")
	}
	if r := run(t, m); !told || len(eventsOf(r, "lowered")) != 0 {
		t.Errorf("told %v, %v", told, r.Events)
	}
	l := load(t, "shore-search-handlamp.json")
	design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").Driver.StepDown = &design.StepDown{To: 0.5, AtC: ptr(40.0), BackC: ptr(40.0)}
	if err := design.Check(l); err == nil || !strings.Contains(err.Error(), "must be back below that") {
		t.Errorf("back at the same temperature: %v", err)
	}
	both := run(t, stepping(t, design.StepDown{To: 0.5, AtC: ptr(45.0), BackC: ptr(20.0), AfterS: ptr(60.0)}, none))
	if down := eventsOf(both, "lowered"); len(down) != 1 || math.Abs(down[0]-60) > 1e-6 {
		t.Errorf("lowered at %v", down)
	}
}
