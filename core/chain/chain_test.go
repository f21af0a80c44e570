package chain

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/internal/sample"
)

func load(t testing.TB, name string) *design.Light {
	t.Helper()
	light, err := sample.Example(name)
	if err != nil {
		t.Fatal(err)
	}
	return sample.OfKnownKPerW(light)
}

func compile(t testing.TB, light *design.Light) *Model {
	t.Helper()
	if err := design.Check(light); err != nil {
		t.Fatal(err)
	}
	m, err := Compile(light, Options{})
	if err != nil {
		t.Fatal(err)
	}
	return m
}

func run(t testing.TB, m *Model) *Run {
	t.Helper()
	r, err := m.Solver().Run(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	return r
}

// One lump: T = T₀ + P·R·(1 − e^(−t/RC)). Two lumps in a row: the sum of the two
// exponentials that the eigenvalues of the network give.
func TestThermalStepAgainstClosedForm(t *testing.T) {
	const p, r, c = 5.0, 4.0, 300.0
	heater := design.Node{ID: "h", BodyID: "b", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 5, CurrentA: p / 5}}}}
	light := supplyLight(10, 0, nil, heater)
	light.Variants[0].Feeds[0].Sources[0].Supply.VoltageV = 5
	light.Variants[0].Bodies = []design.Body{{ID: "b", Name: "b", KPerW: ptr(r), HeatJPerK: ptr(c)}}
	result := run(t, compile(t, light))
	if result.End.Kind != "settled" || result.End.T < 5*r*c || result.End.T > 1.2*5*r*c {
		t.Errorf("a light on a supply ends by %q after %g s, want five time constants, %g s", result.End.Kind, result.End.T, 5*r*c)
	}
	for i, at := range result.T {
		want := 25 + p*r*(1-math.Exp(-at/(r*c)))
		if got := column(t, result.Model, result.Records[i], "b", "bodyC"); math.Abs(got-want) > 0.05 {
			t.Fatalf("at %g s: %g °C, closed form %g °C", at, got, want)
		}
	}

	// A second body between the first and the air.
	const r12, c2 = 2.5, 700.0
	light.Variants[0].Bodies = []design.Body{
		{ID: "b", Name: "b", HeatJPerK: ptr(c), Joints: []design.BodyLink{{BodyID: "o", Joint: design.Joint{KPerW: ptr(r12)}}}},
		{ID: "o", Name: "o", KPerW: ptr(r), HeatJPerK: ptr(c2)},
	}
	result = run(t, compile(t, light))
	a11, a12, a21, a22 := -1/(r12*c), 1/(r12*c), 1/(r12*c2), -(1/r12+1/r)/c2
	tr, det := a11+a22, a11*a22-a12*a21
	l1, l2 := tr/2+math.Sqrt(tr*tr/4-det), tr/2-math.Sqrt(tr*tr/4-det)
	end := p * (r12 + r)
	// x(0) = 0 and x'(0) = P/C fix the two amplitudes.
	k2 := (p/c + l1*end) / (l2 - l1)
	k1 := -end - k2
	for i, at := range result.T {
		want := 25 + end + k1*math.Exp(l1*at) + k2*math.Exp(l2*at)
		if got := column(t, result.Model, result.Records[i], "b", "bodyC"); math.Abs(got-want) > 0.05 {
			t.Fatalf("two bodies, at %g s: %g °C, closed form %g °C", at, got, want)
		}
	}
}

// A constant power on a source with resistance has two crossings, one, or none:
// V = (V₀ ± √(V₀² − 4·P·R))/2. The upper one is stable and is taken; without one
// the bus collapses to where the load is no longer that load.
func TestSourceTooWeak(t *testing.T) {
	const v0, r = 12.0, 1.5
	for _, p := range []float64{1, 10, 20, 23.9, 24.1, 60} {
		// below 2 V the load is an ohmic one
		n := design.Node{ID: "l", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 2, CurrentA: p / 2}}, Beyond: "power"}}
		figure := at(t, supplyLight(v0, r, nil, n))
		d := v0*v0 - 4*p*r
		if d >= 0 {
			closeTo(t, fmt.Sprintf("upper crossing at %g W", p), figure("l", "inV"), (v0+math.Sqrt(d))/2, 1e-6)
			continue
		}
		ohm := 4 / p
		closeTo(t, fmt.Sprintf("collapsed at %g W", p), figure("l", "inV"), v0*ohm/(ohm+r), 1e-6)
	}
}

// Energy is neither made nor lost, at rest and over a whole run, whatever the
// light; nothing is infinite or not a number; and warmer air is never cooler.
func TestRandomLightsKeepTheLedger(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 4))
	ended := map[string]int{}
	for k := range 40 {
		light := sample.Light(random, 1)
		m := compile(t, light)
		s := m.Solver()
		st, err := s.Steady(context.Background())
		if err != nil {
			t.Fatal(err)
		}
		if !st.Converged && st.Reason == "" {
			t.Errorf("light %d: no steady state and no reason", k)
		}
		if st.Converged && !st.Ledger.Closes() {
			t.Errorf("light %d: at rest %+v\n%+v", k, st.Ledger, light.Variants[0].Feeds[0])
		}
		r := run(t, m)
		ended[r.End.Kind]++
		// Of a run of seconds the integrator's tolerance is a large part.
		if gone := r.Ledger.In[0].Value; math.Abs(r.Ledger.Closure) > 0.02 || (r.End.T > 60 && gone > 1 && !r.Ledger.Closes()) {
			t.Errorf("light %d, ends by %q: over the run %+v", k, r.End.Kind, r.Ledger)
		}
		for _, rec := range r.Records {
			if i := slices.IndexFunc(rec, func(x float64) bool { return math.IsNaN(x) || math.IsInf(x, 0) }); i >= 0 {
				t.Fatalf("light %d: %v is %v", k, m.columns[i], rec[i])
			}
		}
		if !st.Converged {
			continue
		}
		if err := s.Vary(Variation{"/conditions/ambientC", Add, 5}); err != nil {
			t.Fatal(err)
		}
		warm, err := s.Steady(context.Background())
		if err != nil {
			t.Fatal(err)
		}
		if a, b := column(t, m, st.Record, "b", "bodyC"), column(t, m, warm.Record, "b", "bodyC"); warm.Converged && b < a {
			t.Errorf("light %d: 5 K warmer air cools the body from %g to %g °C", k, a, b)
		}
	}
	if ended["cut-off"]+ended["empty"] < 10 {
		t.Errorf("the sample is one-sided: %v", ended)
	}
}

// The ledger can fail: with a wrong figure on one side it does.
func TestLedgerCanFail(t *testing.T) {
	r := run(t, compile(t, load(t, "shore-search-handlamp.json")))
	if !r.Ledger.Closes() {
		t.Fatalf("%+v", r.Ledger)
	}
	out := slices.Clone(r.Ledger.Out)
	out[1].Value *= 1.005
	if l := newLedger("J", 0, r.Ledger.In, out); l.Closes() {
		t.Error("half a percent of the heat counted twice goes unnoticed")
	}
}

func TestFaultSlots(t *testing.T) {
	m := compile(t, load(t, "shore-search-handlamp.json"))
	figure := func(pointer string, value float64, owner, name string) float64 {
		s := m.Solver()
		if err := s.Vary(Variation{pointer, Set, value}); err != nil {
			t.Fatal(err)
		}
		rec := make([]float64, len(m.Columns()))
		s.OperatingPoint(1, 25, rec)
		return column(t, m, rec, owner, name)
	}
	const sw = "/variants/0/feeds/0/loads/1"
	if a := figure(sw+"/fault/state", circuit.Open, "emitters", "inA"); a != 0 {
		t.Errorf("with the switch open-circuit the emitters get %g A", a)
	}
	// A dead short is limited by the pack: 4 cells of 42 mΩ and 90 mΩ of contacts.
	if a := figure(sw+"/fault/state", circuit.Short, "power", "busA"); math.Abs(a/(4*4.19/(4*0.042+0.09+0.001))-1) > 0.01 {
		t.Errorf("a short draws %g A", a)
	}
	if a := figure(sw+"/loads/0/loads/0/fault/seriesOhm", 1, "driver", "outV") - figure(sw+"/loads/0/loads/0/fault/seriesOhm", 0, "driver", "outV"); math.Abs(a-1.5) > 1e-6 {
		t.Errorf("1 Ω in the emitters' wire at 1.5 A costs %g V", a)
	}
}

// A driver that locks out where the unloaded source is above its restart voltage goes
// on and off, and the average is followed until the rested source no longer starts it;
// one with a wide gap stays off; one that needs more than the source has never starts.
func TestLockOut(t *testing.T) {
	for restart, want := range map[float64][]string{3.05: {"drop-out", "cycling", "cycling-ends", "dark"}, 3.6: {"drop-out", "lock-out", "dark"}, 5: {"lock-out", "empty"}} {
		light := load(t, "pier-lantern.json")
		d := light.Parts[1].Driver
		d.InputMinV, d.RestartV = ptr(3.0), &restart
		light.Variants[0].Feeds[0].Loads[0].Loads[0].Driver.SetCurrentA = ptr(1.4)
		light.Variants[0].Feeds[0].Sources[0].Pack.ContactOhm = 0.15
		r := run(t, compile(t, light))
		var kinds []string
		for _, e := range r.Events {
			if e.Kind != "half-light" && e.Kind != "tenth-light" {
				kinds = append(kinds, e.Kind)
			}
		}
		if !slices.Equal(kinds, want) {
			t.Errorf("restart at %g V: %v, want %v", restart, kinds, want)
		}
	}
}

// Straight from a cell the light falls all the way: half and a tenth come in this
// order and at those levels, and ANSI/PLATO FL 1 counts from 30 s.
func TestFadingLight(t *testing.T) {
	light := load(t, "pier-lantern.json")
	m, err := Compile(light, Options{Variant: 1})
	if err != nil {
		t.Fatal(err)
	}
	r := run(t, m)
	a := r.Answers()
	if a.HalfS == nil || a.TenthS == nil || !(30 < *a.HalfS && *a.HalfS < *a.TenthS && *a.TenthS <= *a.EndS) {
		t.Fatalf("half after %v, a tenth after %v, end after %v", a.HalfS, a.TenthS, a.EndS)
	}
	flux := func(at float64) float64 { return column(t, m, r.At(at), "", "fluxLm") }
	closeTo(t, "light at half", flux(*a.HalfS), flux(30)/2, 2e-3)
	if lin := run(t, compile(t, light)); lin.Events[0].Kind != "drop-out" {
		t.Errorf("with the linear driver the first event is %+v, want the end of its headroom", lin.Events[0])
	}
	trace := r.Trace()
	if len(trace.T) > MaxTracePoints || !slices.IsSorted(trace.T) {
		t.Errorf("a trace of %d points, sorted %v", len(trace.T), slices.IsSorted(trace.T))
	}
	jump := false
	for i := 1; i < len(trace.T); i++ {
		jump = jump || trace.T[i] == trace.T[i-1]
	}
	if !jump {
		t.Error("the cut-off does not stand twice in the trace")
	}
}

// Switched off, only the standby currents are left: time to empty is capacity over
// current, months here, and not the runtime of the light.
func TestStandby(t *testing.T) {
	light := load(t, "shore-search-handlamp.json")
	light.Variants[0].Feeds[0].Loads[1].Switch.Open = true
	light.Variants[0].Feeds[0].Loads[0].Aux.StandbyA = ptr(1e-3)
	r := run(t, compile(t, light))
	if a := r.Answers(); a.FluxLm != nil || a.EndS == nil {
		t.Errorf("switched off it gives %v lm and ends by %q", a.FluxLm, r.End.Kind)
	}
	// 3.4 Ah at 1 mA; the gauge draws 6 mA only while the light is on.
	closeTo(t, "hours to flat", r.End.T/3600, 3400, 5e-3)
}

// Stages may be absent: solved as far as it goes, and it says what is missing.
func TestIncompleteLights(t *testing.T) {
	whole := load(t, "shore-search-handlamp.json")
	for name, strip := range map[string]func(*design.Light){
		"no cell":    func(l *design.Light) { l.Variants[0].Feeds[0].Sources[0].Pack.PartID = "" },
		"no source":  func(l *design.Light) { l.Variants[0].Feeds[0].Sources = nil },
		"no driver":  func(l *design.Light) { l.Variants[0].Feeds[0].Loads[1].Loads[0].Driver.PartID = "" },
		"no emitter": func(l *design.Light) { l.Variants[0].Feeds[0].Loads[1].Loads[0].Loads[0].Array.PartID = "" },
		"no K/W":     func(l *design.Light) { l.Variants[0].Bodies[0].KPerW = nil },
		"no body":    func(l *design.Light) { l.Variants[0].Feeds[0].Loads[1].Loads[0].Loads[0].BodyID = "" },
		"no feed":    func(l *design.Light) { l.Variants[0].Feeds = nil },
		"no flux":    func(l *design.Light) { l.Parts[2].Emitter.FluxLm = nil },
	} {
		data, _ := design.Encode(whole)
		light, err := design.Decode(data)
		if err != nil {
			t.Fatal(err)
		}
		strip(light)
		m := compile(t, light)
		r := run(t, m)
		if name != "no feed" && len(m.Missing()) == 0 {
			t.Errorf("%s: nothing is said to be missing", name)
		}
		a := r.Answers()
		if name == "no source" && (a.RuntimeWhy != "no source is chosen yet" || m.Missing()[0].Node != "power") {
			t.Errorf("%s: runtime %q, missing first %+v", name, a.RuntimeWhy, m.Missing()[0])
		}
		if name == "no K/W" || name == "no body" {
			if a.JunctionC != nil || a.FluxLm == nil || a.EndS == nil {
				t.Errorf("%s: junction %v, flux %v, end %v", name, a.JunctionC, a.FluxLm, a.EndS)
			}
		} else if a.FluxLm != nil || a.FluxWhy == "" {
			t.Errorf("%s: flux %v because %q", name, a.FluxLm, a.FluxWhy)
		}
	}
}

// Without a way for the heat there is a reason in words, not a failure.
func TestNoSteadyState(t *testing.T) {
	light := load(t, "shore-search-handlamp.json")
	light.Variants[0].Bodies[0].KPerW = ptr(90.0)
	st, err := compile(t, light).Solver().Steady(context.Background())
	if err != nil || st.Converged || st.Reason == "" {
		t.Errorf("converged %v, reason %q, error %v", st.Converged, st.Reason, err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := compile(t, light).Solver().Run(ctx); err == nil {
		t.Error("a withdrawn question is answered")
	}
}

// Random trees to depth 4, with joints, switches, duty, several packs and what jumps:
// no panic, nothing infinite, the ledger closes, and no solve is over its budget.
func FuzzSolve(f *testing.F) {
	f.Add(uint64(1), uint64(2), uint8(1))
	f.Add(uint64(3), uint64(4), uint8(31))
	f.Fuzz(func(t *testing.T, a, b uint64, kind uint8) {
		o := sample.Options{Depth: 1 + int(kind)%4, Joints: []float64{0, 0.3, 1}[int(kind/4)%3], Odd: kind%2 == 1, Feeds: 1 + int(kind/16)%3}
		random := rand.New(rand.NewPCG(a, b))
		light := sample.Tree(random, o)
		if kind/8%8 == 7 {
			sample.Counted(random, light.Variants[0].Feeds[0].Loads, 0.3)
		}
		m := compile(t, light)
		// Fuzzing gives up on an input after ten seconds.
		ctx, stop := context.WithTimeout(t.Context(), 6*time.Second)
		defer stop()
		st, err := m.Solver().Steady(ctx)
		if errors.Is(err, context.DeadlineExceeded) {
			t.Skip("it takes its time, and every solve of it is within its budget:", err)
		}
		if err != nil {
			t.Fatal(err)
		}
		if st.Converged && !st.Ledger.Closes() {
			t.Fatalf("at rest the ledger does not close: %+v", st.Ledger)
		}
		r, err := m.Solver().Run(ctx)
		if errors.Is(err, context.DeadlineExceeded) {
			t.Skip("it takes its time, and every solve of it is within its budget:", err)
		}
		var tooMuch *circuit.TooMuchError
		if errors.As(err, &tooMuch) && strings.Contains(err.Error(), "solving in time at") {
			t.Skip("each solve is within its budget, the whole run is not:", err)
		}
		if err != nil {
			t.Fatal(err)
		}
		if !r.Ledger.Closes() {
			t.Fatalf("ends by %+v, and the ledger does not close: %+v", r.End, r.Ledger)
		}
		for _, rec := range r.Records {
			if i := slices.IndexFunc(rec, func(x float64) bool { return math.IsNaN(x) || math.IsInf(x, 0) }); i >= 0 {
				t.Fatalf("%v is %v", m.columns[i], rec[i])
			}
		}
	})
}

func BenchmarkElectrical(b *testing.B) {
	m := compile(b, load(b, "shore-search-handlamp.json"))
	s, rec := m.Solver(), make([]float64, len(m.Columns()))
	b.ReportAllocs()
	for b.Loop() {
		s.OperatingPoint(0.7, 60, rec)
	}
}

func BenchmarkSteady(b *testing.B) {
	s := compile(b, load(b, "shore-search-handlamp.json")).Solver()
	b.ReportAllocs()
	for b.Loop() {
		if _, err := s.Steady(context.Background()); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkRun is a discharge of ten hours through one channel.
func BenchmarkRun(b *testing.B) {
	light := load(b, "shore-search-handlamp.json")
	light.Variants[0].Feeds[0].Sources[0].Pack.Parallel = 3
	s := compile(b, light).Solver()
	b.ReportAllocs()
	for b.Loop() {
		if _, err := s.Run(context.Background()); err != nil {
			b.Fatal(err)
		}
	}
}

// The cost of a run of each light of the demo.
func BenchmarkDemo(b *testing.B) {
	for _, name := range []string{"shore-search-handlamp", "pier-lantern", "slipway-lantern", "germination-rack", "chart-table-strip", "eelgrass-tank", "boathouse-floodlight", "bilge-lamp", "skerry-marker"} {
		s := compile(b, load(b, name+".json")).Solver()
		b.Run(name, func(b *testing.B) {
			b.ReportAllocs()
			for b.Loop() {
				if _, err := s.Run(context.Background()); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// The cost of racks at rest and over a run, beside the handlamp's.
func BenchmarkRack(b *testing.B) {
	for _, name := range []string{"rack-8x5", "rack-45x10", "rack-45x10/dimmed"} {
		file, dimmed := strings.CutSuffix(name, "/dimmed")
		light, err := sample.Case(file)
		if err != nil {
			b.Fatal(err)
		}
		for i := range light.Variants[0].Feeds[0].Loads {
			if dimmed {
				light.Variants[0].Feeds[0].Loads[i].Driver.Dimming = &design.Level{Duty: ptr(0.3 + 0.2*float64(i%3))}
			}
		}
		s := compile(b, light).Solver()
		b.Run(name+"/steady", func(b *testing.B) {
			b.ReportAllocs()
			for b.Loop() {
				if _, err := s.Steady(context.Background()); err != nil {
					b.Fatal(err)
				}
			}
		})
		b.Run(name+"/run", func(b *testing.B) {
			b.ReportAllocs()
			for b.Loop() {
				if _, err := s.Run(context.Background()); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
