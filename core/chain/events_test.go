package chain

import (
	"context"
	"math"
	"slices"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
)

func caseOf(t testing.TB, name string) *design.Light {
	t.Helper()
	light, err := sample.Case(name)
	if err != nil {
		t.Fatal(err)
	}
	return light
}

func kindsOf(r *Run) []string {
	var out []string
	for _, e := range r.Events {
		out = append(out, e.Kind)
	}
	return out
}

// A pack below its cut-off at switch-on is cut off there and then, at rest too, and
// shows its resting voltage.
func TestBelowCutoffAtSwitchOn(t *testing.T) {
	m := compile(t, caseOf(t, "below-cutoff"))
	r := run(t, m)
	if r.End.Kind != "cut-off" || r.End.T != 0 {
		t.Errorf("it ends by %+v", r.End)
	}
	resting := 0.0
	for i := range m.net.Feeders {
		s := m.Solver()
		y := make([]float64, len(s.y))
		s.start(y)
		resting = s.Feeders[i].Law.RestV(s.Feeders[i].States(y))
	}
	last := r.Records[len(r.Records)-1]
	closeTo(t, "cell after the cut-off", column(t, m, last, "f", "cellV"), resting, 1e-9)
	closeTo(t, "terminals after the cut-off", column(t, m, last, "f", "openV"), resting, 1e-9)
	if a := column(t, m, last, "f", "busA"); a != 0 {
		t.Errorf("%g A flow from a pack that is cut off", a)
	}
	st, err := m.Solver().Steady(context.Background())
	if err != nil || !st.Converged || column(t, m, st.Record, "f", "busA") != 0 {
		t.Errorf("at rest: %v, %v", st, err)
	}
	if a := r.Answers(); a.FluxLm != nil || a.EndS == nil || *a.EndS != 0 {
		t.Errorf("answers %+v", a)
	}
}

// The larger of two drivers locks out first: half of the light is gone at that moment,
// long before the pack is empty. 5948 s from a fine-stepped reference.
func TestHalfLightAcrossAJump(t *testing.T) {
	r := run(t, compile(t, caseOf(t, "half-light")))
	a := r.Answers()
	if a.HalfS == nil || math.Abs(*a.HalfS-5948) > 5 {
		t.Fatalf("half of the light at %v s, %v", a.HalfS, kindsOf(r))
	}
	if a.TenthS == nil || *a.TenthS < *a.HalfS || *a.EndS < 20000 {
		t.Errorf("a tenth at %v s, the end at %v s", a.TenthS, a.EndS)
	}
	i := slices.IndexFunc(r.Events, func(e Event) bool { return e.Kind == "lock-out" })
	if i < 0 || math.Abs(r.Events[i].T-*a.HalfS) > 1 {
		t.Errorf("events %v", r.Events)
	}
}

// Two primaries straight on an emitter fade for weeks: half at 20.2 h and a tenth at
// 158 h, from a fine-stepped reference, with rows on the way no two of which are more
// than 2 % of the full light apart.
func TestFadingPrimary(t *testing.T) {
	r := run(t, compile(t, caseOf(t, "fading-primary")))
	a := r.Answers()
	if a.HalfS == nil || a.TenthS == nil {
		t.Fatalf("%+v, ends by %+v", a, r.End)
	}
	closeTo(t, "half, h", *a.HalfS/3600, 20.2, 5e-3)
	closeTo(t, "a tenth, h", *a.TenthS/3600, 158, 5e-3)
	full := r.Records[0][len(r.Records[0])-totalFluxLm]
	for i := 1; i < len(r.T); i++ {
		if r.T[i] == r.T[i-1] {
			continue // a jump
		}
		if gap := math.Abs(r.total(i, totalFluxLm) - r.total(i-1, totalFluxLm)); gap > widestGap*full*(1+1e-9) {
			t.Errorf("from %g to %g s the light falls by %.1f %%", r.T[i-1], r.T[i], 100*gap/full)
		}
	}
	if !r.Ledger.Closes() {
		t.Errorf("%+v", r.Ledger)
	}
	// What is given out keeps them.
	trace := r.Trace()
	for _, s := range trace.Series {
		if s.Figure != "fluxLm" || s.Owner != "" {
			continue
		}
		for i := 1; i < len(trace.T); i++ {
			if gap := math.Abs(*s.Values[i] - *s.Values[i-1]); gap > 2*widestGap*full && trace.T[i] != trace.T[i-1] {
				t.Errorf("in the trace the light falls by %.1f %% from %g to %g s", 100*gap/full, trace.T[i-1], trace.T[i])
			}
		}
	}
	if len(trace.T) > MaxTracePoints {
		t.Errorf("a trace of %d points", len(trace.T))
	}
}

// Without a state at rest nothing of it is told: no body colder than the air, not even
// a figure; and every question says the same.
func TestNoStateNoAnswer(t *testing.T) {
	m := compile(t, caseOf(t, "cold-body"))
	st, err := m.Solver().Steady(context.Background())
	if err != nil || st.Converged || !strings.Contains(st.Reason, "overheats") {
		t.Fatalf("%+v, %v", st, err)
	}
	for i, x := range st.Record {
		if !math.IsNaN(x) {
			t.Fatalf("%v of a state that is not is %g", m.columns[i], x)
		}
	}
	r := run(t, m)
	if r.End.Kind != "overheat" || r.End.T <= 0 || r.End.Node == "" {
		t.Errorf("it ends by %+v", r.End)
	}
	for i, rec := range r.Records {
		if c := column(t, m, rec, "b", "bodyC"); c < 25-1e-6 {
			t.Errorf("at %g s the body is %g °C in air of 25 °C", r.T[i], c)
		}
	}
	// Plane and sharing are told as at switch-on then.
	cold := at(t, caseOf(t, "cold-body"))
	plane, err := m.Solver().Plane(context.Background(), "d")
	if err != nil || math.Abs(plane.Points[0].OutA-cold("d", "outA")) > 1e-6 {
		t.Errorf("plane %+v, %v", plane.Points, err)
	}
	shares, err := m.Solver().Sharing(context.Background())
	if err != nil || math.Abs(shares[0].EvenA-cold("a", "inA")) > 1e-6 {
		t.Errorf("sharing %+v, %v", shares, err)
	}
}

// What settles above 200 °C without a limit of its own overheats, and is told with the
// time it takes; with a limit it is for that to judge.
func TestTooHotToBeSolid(t *testing.T) {
	light := func(limit *float64) *design.Light {
		l := supplyLight(5, 0, nil, design.Node{ID: "h", BodyID: "b", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 5, CurrentA: 1}}}})
		l.Variants[0].Bodies = []design.Body{{ID: "b", Name: "b", KPerW: ptr(50.0), HeatJPerK: ptr(10.0), MaxC: limit}}
		return l
	}
	hot := run(t, compile(t, light(nil)))
	// 25 + 250·(1 − e^(−t/500)) passes 200 °C.
	if want := -500 * math.Log(1-175.0/250); hot.End.Kind != "overheat" || math.Abs(hot.End.T/want-1) > 0.2 || hot.End.T < want {
		t.Errorf("it ends by %+v, passes 200 °C after %g s", hot.End, want)
	}
	if st, err := compile(t, light(nil)).Solver().Steady(context.Background()); err != nil || st.Converged {
		t.Errorf("%+v, %v", st, err)
	}
	if judged := run(t, compile(t, light(ptr(150.0)))); judged.End.Kind != "settled" {
		t.Errorf("with a limit of its own it ends by %+v", judged.End)
	}
}

// A pack beside a supply: its end is told, and the light of the supply goes on until it
// has settled.
func TestPackBesideSupply(t *testing.T) {
	parts := []design.Part{ledPart(), {ID: "lin", Name: "l", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.3)}},
		{ID: "cell", Name: "c", Cell: &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 1, ResistanceOhm: 0.05}}}
	l := supplyLight(9, 0.1, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(0.5)}, arrayNodeOf("a", 2, 1)))
	l.Variants[0].Feeds = append(l.Variants[0].Feeds, design.Feed{ID: "g", Sources: []design.Source{{ID: "p", Pack: &design.Pack{PartID: "cell", Series: 2, Parallel: 1}}},
		Loads: []design.Node{driverNodeOf("e", "lin", design.DriverUse{SetCurrentA: ptr(0.5)}, arrayNodeOf("b", 2, 1))}})
	r := run(t, compile(t, l))
	if !slices.Contains(kindsOf(r), "empty") || r.End.Kind != "settled" {
		t.Fatalf("%v, ends by %+v", kindsOf(r), r.End)
	}
	last := r.Records[len(r.Records)-1]
	if a, b := column(t, r.Model, last, "a", "inA"), column(t, r.Model, last, "b", "inA"); math.Abs(a-0.5) > 1e-6 || b != 0 {
		t.Errorf("at the end %g A from the supply, %g A from the pack", a, b)
	}
	if a := r.Answers(); a.EndS != nil || a.RuntimeWhy == "" {
		t.Errorf("answers %+v", a)
	}
}

// A fold-back supply starts from 0 V: it takes the lowest stable crossing it can reach,
// and the finding says that it may hang there.
func TestFoldbackStartsLow(t *testing.T) {
	supply := &design.Driver{Family: "voltage", SetVoltageV: ptr(12.0), MaxCurrentA: ptr(3.0), FoldbackA: ptr(0.3), Efficiency: ptr(0.9), EfficiencyInV: ptr(230.0)}
	// Steep from 0 V on: the fold-back line meets it low, at 1 A a volt.
	load := design.Node{ID: "l", Load: &design.MeasuredLoad{Beyond: "ohmic", Points: []design.LoadPoint{{VoltageV: 1, CurrentA: 1}, {VoltageV: 12, CurrentA: 1.5}}}}
	l := supplyLight(230, 0, []design.Part{{ID: "psu", Name: "Supply", Driver: supply}}, driverNodeOf("d", "psu", design.DriverUse{}, load))
	m := compile(t, l)
	r := run(t, m)
	// I = 0.3 + 2.7·V/12 against I = V: V = 0.3/(1 − 0.225).
	closeTo(t, "hangs at", column(t, m, r.Records[len(r.Records)-1], "d", "outV"), 0.3/(1-2.7/12), 1e-6)
	if !slices.Contains(kindsOf(r), "hangs") {
		t.Errorf("events %v", kindsOf(r))
	}
	// A load that takes little at low voltage lets it come up.
	l.Variants[0].Feeds[0].Loads[0].Loads[0].Load.Points = []design.LoadPoint{{VoltageV: 8, CurrentA: 0.5}, {VoltageV: 12, CurrentA: 1.5}}
	m = compile(t, l)
	closeTo(t, "comes up to", column(t, m, run(t, m).Records[0], "d", "outV"), 12, 1e-6)
}

// A protection that releases: cut off, rested, on again, over and over; and a delay
// lets a short dip pass.
func TestProtectionReleases(t *testing.T) {
	light := func(delay float64) *design.Light {
		parts := []design.Part{{ID: "cell", Name: "c", Cell: &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 0.5, ResistanceOhm: 0.1, PolarOhm: ptr(0.2), PolarS: ptr(60.0)}}}
		l := supplyLight(0, 0, parts, design.Node{ID: "l", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 4, CurrentA: 2}}, FluxLm: ptr(100.0)}})
		l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Pack: &design.Pack{PartID: "cell", Series: 1, Parallel: 1, CutoffCellV: ptr(3.0), ReleaseCellV: ptr(3.3), CutoffDelayS: &delay}}
		l.Conditions.Charge = ptr(0.3)
		return l
	}
	// A delay begins where a cell falls below, as one without would cut off, not at the end of a step.
	first := func(r *Run, kind string) float64 {
		return r.Events[slices.IndexFunc(r.Events, func(e Event) bool { return e.Kind == kind })].T
	}
	at, waits := first(run(t, compile(t, light(0))), "cut-off"), first(run(t, compile(t, light(5))), "below-cutoff")
	if math.Abs(waits-at) > 1e-4*at {
		t.Errorf("cuts off after %g s, and with a delay begins to wait after %g s", at, waits)
	}
	for _, delay := range []float64{0, 5} {
		r := run(t, compile(t, light(delay)))
		kinds := kindsOf(r)
		if !slices.Contains(kinds, "released") || r.End.Kind != "cut-off" && r.End.Kind != "dark" {
			t.Errorf("delay %g s: %v, ends by %+v", delay, kinds, r.End)
		}
		if delay > 0 {
			below := slices.IndexFunc(r.Events, func(e Event) bool { return e.Kind == "below-cutoff" })
			cut := slices.IndexFunc(r.Events, func(e Event) bool { return e.Kind == "cut-off" })
			if below < 0 || cut < 0 || math.Abs(r.Events[cut].T-r.Events[below].T-delay) > 1e-3*r.Events[cut].T {
				t.Errorf("cut off %v after %v", r.Events[cut], r.Events[below])
			}
		}
		if !r.Ledger.Closes() {
			t.Errorf("delay %g s: %+v", delay, r.Ledger)
		}
	}
}

// A cell that is empty before the delay of its protection is over ends the run there, once.
func TestEmptyWhileProtectionWaits(t *testing.T) {
	parts := []design.Part{{ID: "cell", Name: "c", Cell: &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 0.5, ResistanceOhm: 0.1}}}
	l := supplyLight(0, 0, parts, design.Node{ID: "l", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 0.5, CurrentA: 1}, {VoltageV: 5, CurrentA: 1}}, FluxLm: ptr(100.0)}})
	l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Pack: &design.Pack{PartID: "cell", Series: 1, Parallel: 1, CutoffCellV: ptr(3.3), ReleaseCellV: ptr(4.2), CutoffDelayS: ptr(3600.0)}}
	l.Conditions.Charge = ptr(0.6)
	r := run(t, compile(t, l))
	kinds := kindsOf(r)
	waits := slices.Index(kinds, "below-cutoff")
	if waits < 0 || slices.Contains(kinds[waits+1:], "below-cutoff") || r.End.Kind != "empty" {
		t.Fatalf("%v, ends by %+v", kinds, r.End)
	}
	closeTo(t, "empty", r.End.T, 0.6*0.5*3600, 1e-3) // so much at an ampere
	if begins := r.Events[waits].T; begins <= 0 || begins >= r.End.T {
		t.Errorf("waits from %g s on", begins)
	}
	if !r.Ledger.Closes() || r.Steps > 500 {
		t.Errorf("%d steps, %+v", r.Steps, r.Ledger)
	}
}

// One branch that locks out does not end the others; between its two levels a driver
// follows the direction the input comes from.
func TestDirectionDecides(t *testing.T) {
	light := func(volts float64) *design.Light {
		parts := []design.Part{ledPart(), {ID: "lin", Name: "l", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.3), InputMinV: ptr(7.0), RestartV: ptr(8.0)}}, {ID: "free", Name: "f", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.3)}}}
		return supplyLight(volts, 0.01, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(0.5)}, arrayNodeOf("a", 2, 1)), driverNodeOf("e", "free", design.DriverUse{SetCurrentA: ptr(0.1)}, arrayNodeOf("b", 2, 1)))
	}
	for volts, lit := range map[float64]bool{6.9: false, 7.5: false, 8.2: true} {
		r := run(t, compile(t, light(volts)))
		last := r.Records[len(r.Records)-1]
		if a := column(t, r.Model, last, "a", "inA"); a > 0.4 != lit {
			t.Errorf("switched on at %g V: %g A", volts, a)
		}
		if b := column(t, r.Model, last, "b", "inA"); b < 0.099 {
			t.Errorf("at %g V the other branch gets %g A", volts, b)
		}
	}
	// From above, as a pack is drained, it goes on to 7 V.
	s := compile(t, light(7.5)).Solver()
	rec := make([]float64, len(s.m.columns))
	s.OperatingPoint(1, 25, rec)
	if a := column(t, s.m, rec, "a", "inA"); a < 0.49 {
		t.Errorf("on the way down at 7.5 V: %g A", a)
	}
}

// What a pack loses is its own, and what it gives is with that.
func TestLossInThePack(t *testing.T) {
	parts := []design.Part{{ID: "cell", Name: "c", Cell: &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 2, ResistanceOhm: 0.06}}}
	l := supplyLight(0, 0, parts, design.Node{ID: "l", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 8, CurrentA: 2}}}})
	l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Pack: &design.Pack{PartID: "cell", Series: 2, Parallel: 1, ContactOhm: 0.03}}
	figure := at(t, l)
	a := figure("f", "busA")
	closeTo(t, "loss", figure("f", "lossW"), a*a*(2*0.06+0.03), 1e-9)
	closeTo(t, "given", figure("f", "sourceW"), figure("f", "openV")*a, 1e-9)
	closeTo(t, "into the light", figure("", "inputW"), figure("f", "sourceW"), 1e-12)
	closeTo(t, "cell", figure("f", "cellV"), figure("f", "openV")/2-a*0.06, 1e-9)
}

// A driver that is locked out draws what it needs for itself.
func TestLockedOutDrawsItsOwn(t *testing.T) {
	parts := []design.Part{ledPart(), {ID: "lin", Name: "l", Driver: &design.Driver{Family: "linear", InputMinV: ptr(9.0), QuiescentA: ptr(0.003)}}}
	r := run(t, compile(t, supplyLight(6, 0, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(0.5)}, arrayNodeOf("a", 1, 1)))))
	closeTo(t, "its own draw", column(t, r.Model, r.Records[0], "d", "inA"), 0.003, 1e-9)
}

func TestEveryCaseEnds(t *testing.T) {
	for _, name := range []string{"below-cutoff", "cold-body", "fading-primary", "half-light", "long-strip", "nested-10", "nested-input", "rack-20x5", "rack-45x10", "rack-8x5", "shorted-string", "slow-switches"} {
		r := run(t, compile(t, caseOf(t, name)))
		if r.End.Kind == "" || !r.Ledger.Closes() {
			t.Errorf("%s: ends by %q, %+v", name, r.End.Kind, r.Ledger)
		}
		for _, rec := range r.Records {
			if i := slices.IndexFunc(rec, func(x float64) bool { return math.IsNaN(x) || math.IsInf(x, 0) }); i >= 0 {
				t.Fatalf("%s: %v is %v", name, r.Model.columns[i], rec[i])
			}
		}
	}
}
