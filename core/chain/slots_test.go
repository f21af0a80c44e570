package chain

import (
	"context"
	"encoding/json"
	"math"
	"strconv"
	"strings"
	"testing"

	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/internal/sample"
)

// everything is a light with every option that is a figure.
func everything(t testing.TB) *design.Light {
	t.Helper()
	light := load(t, "shore-search-handlamp.json")
	cell, emitter, drv := light.Parts[0].Cell, light.Parts[2].Emitter, light.Parts[1].Driver
	cell.Health, cell.PolarOhm, cell.PolarS = ptr(0.9), ptr(0.02), ptr(40.0)
	cell.OCV = []design.OCVPoint{{Charge: 0, VoltageV: 3.1}, {Charge: 0.5, VoltageV: 3.7}, {Charge: 1, VoltageV: 4.15}}
	emitter.VfVPerK, emitter.HeatJPerK, emitter.FluxLm = ptr(-0.0021), ptr(0.02), ptr(420.0)
	drv.Efficiency, drv.EfficiencyAtA, drv.EfficiencyInV, drv.EfficiencyOut = ptr(0.9), ptr(1.5), ptr(14.8), ptr(9.3)
	v := &light.Variants[0]
	v.Bodies[0].HeatJPerK = nil
	v.Bodies[0].MassKg, v.Bodies[0].SpecificJPerK = ptr(0.31), ptr(900.0)
	v.Bodies = append(v.Bodies, design.Body{ID: "ring", Name: "ring", MassKg: ptr(0.05), Joints: []design.BodyLink{{BodyID: v.Bodies[0].ID, Joint: design.Joint{ThicknessM: ptr(1e-4), Conductivity: ptr(1.2), AreaM2: ptr(4e-4), Coverage: ptr(0.8), ContactM2KPer: ptr(1e-5)}}}})
	light.Parts = append(light.Parts,
		design.Part{ID: "tape", Name: "tape", Strip: &design.Strip{VoltageV: 12, PerMetreA: ptr(0.8), CutM: 0.05, LoopOhm: ptr(0.11), KneeV: ptr(9.2), FluxLmPer: ptr(800.0)}},
		design.Part{ID: "set", Name: "set", Driver: &design.Driver{Family: "linear", ProgramV: ptr(0.4), HeadroomV: ptr(0.4)}},
		design.Part{ID: "psu", Name: "psu", Driver: &design.Driver{Family: "voltage", SetVoltageV: ptr(12.0), MaxCurrentA: ptr(4.0), HeldOutputW: ptr(40.0), Efficiency: ptr(0.9)}})
	v.Feeds[0].Loads = append(v.Feeds[0].Loads,
		design.Node{ID: "strip", BodyID: "ring", Strip: &design.StripUse{PartID: "tape", PiecesM: []float64{1.5}, LeadOhm: ptr(0.05)}},
		design.Node{ID: "sense", BodyID: "ring", Driver: &design.DriverUse{PartID: "set", ProgramOhm: ptr(4.0)}, Loads: []design.Node{{ID: "more", BodyID: "ring",
			Array: &design.Array{PartID: light.Parts[2].ID, Series: 3, Parallel: 3, BallastOhm: ptr(0.4), OpticEfficient: ptr(0.85), BoardKPerW: ptr(2.0), BoardJPerK: ptr(4.0),
				Joint: &design.Joint{ThicknessM: ptr(1e-4), Conductivity: ptr(2.0), AreaM2: ptr(2e-4)}, Unequal: []design.Strings{{Strings: 1, OffsetV: 0.02, HotterK: 5, BallastOhm: ptr(0.6)}}}}}},
		design.Node{ID: "module", Count: 2, Fault: &design.Fault{SeriesOhm: 0.1}, Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 9, CurrentA: 0.1}, {VoltageV: 20, CurrentA: 0.2}}, FluxLm: ptr(50.0)}},
		design.Node{ID: "rail", Count: 3, Driver: &design.DriverUse{PartID: "psu"}, Loads: []design.Node{{ID: "tail", Strip: &design.StripUse{PartID: "tape", PiecesM: []float64{0.5}}}}})
	// As a file has it.
	copied, err := design.Clone(light)
	if err != nil {
		t.Fatal(err)
	}
	return copied
}

// told is the record of a solver at rest-like conditions, and its heat path.
func told(t testing.TB, s *Solver) []float64 {
	t.Helper()
	rec := make([]float64, len(s.m.columns))
	s.start(s.scratch)
	for i := s.m.states; i < len(s.scratch); i++ {
		s.scratch[i] += 5 * float64(1+i%7)
	}
	s.switchOnFrom(s.scratch)
	s.record(rec)
	change := make([]float64, len(s.y))
	s.derivative(0, s.scratch, change)
	return append(rec, change...)
}

// switchOnFrom is switch-on at a state of one's own.
func (s *Solver) switchOnFrom(y []float64) { s.switchedOn(y); s.electrical(y) }

// edit writes a number into a document as plain JSON, finding elements by id as one
// would by eye.
func edit(t *testing.T, light *design.Light, pointer string, value float64) *design.Light {
	t.Helper()
	data, _ := json.Marshal(light)
	var doc any
	if err := json.Unmarshal(data, &doc); err != nil {
		t.Fatal(err)
	}
	var byID func(list []any, id string) any
	byID = func(list []any, id string) any {
		for _, e := range list {
			if o, ok := e.(map[string]any); ok {
				if o["id"] == id {
					return o
				}
				if loads, ok := o["loads"].([]any); ok {
					if found := byID(loads, id); found != nil {
						return found
					}
				}
			}
		}
		return nil
	}
	at := doc
	segments := strings.Split(pointer[1:], "/")
	for i, name := range segments {
		last := i == len(segments)-1
		switch x := at.(type) {
		case []any:
			if at = byID(x, name); at == nil {
				k, _ := strconv.Atoi(name)
				at = x[k]
			}
		case map[string]any:
			if !last {
				if x[name] == nil {
					x[name] = map[string]any{}
				}
				at = x[name]
				break
			}
			switch {
			case name == "state":
				x[name] = []string{"ok", "short", "open"}[int(value)]
			case name == "open":
				x[name] = value >= 0.5
			default:
				x[name] = value
			}
		}
	}
	data, _ = json.Marshal(doc)
	out := new(design.Light)
	if err := json.Unmarshal(data, out); err != nil {
		t.Fatal(err)
	}
	return out
}

// Setting any slot to the document's own value changes nothing, and varying it is what
// editing the document and compiling again is.
func TestSlotsMeanTheDocument(t *testing.T) {
	light := everything(t)
	m := compile(t, light)
	own := told(t, m.Solver())
	moved, same := map[string]bool{}, 0
	for _, slot := range m.Slots() {
		if slot.Unit == "" || slot.Low > slot.High {
			t.Errorf("%s: unit %q, from %g to %g", slot.Pointer, slot.Unit, slot.Low, slot.High)
		}
		if slot.Value == nil {
			continue
		}
		s := m.Solver()
		if err := s.Vary(Variation{slot.Pointer, Set, *slot.Value}); err != nil {
			t.Errorf("%s to its own value: %v", slot.Pointer, err)
			continue
		}
		for i, x := range told(t, s) {
			if x != own[i] {
				t.Errorf("%s to its own value moves %g to %g", slot.Pointer, own[i], x)
				break
			}
		}
		same++
		if slot.Beside {
			continue
		}
		to := *slot.Value*1.02 + 1e-3
		if to > slot.High {
			to = *slot.Value*0.98 - 1e-3
		}
		switch {
		case strings.HasSuffix(slot.Pointer, "/state"):
			to = circuit.Short
		case strings.HasSuffix(slot.Pointer, "/open"):
			to = 1
		}
		edited := edit(t, light, slot.Pointer, to)
		s = m.Solver()
		err := s.Vary(Variation{slot.Pointer, Set, to})
		if bad := design.Check(edited); bad != nil {
			if err == nil {
				t.Errorf("%s to %g is taken, and the document is refused: %v", slot.Pointer, to, bad)
			}
			continue
		}
		if err != nil {
			t.Errorf("%s to %g: %v", slot.Pointer, to, err)
			continue
		}
		varied, want := told(t, s), told(t, compile(t, edited).Solver())
		for i := range want {
			if math.Abs(varied[i]-want[i]) > 1e-9*(1+math.Abs(want[i])) {
				t.Errorf("%s to %g: varied %g, edited %g", slot.Pointer, to, varied[i], want[i])
				break
			}
			if math.Abs(varied[i]-own[i]) > 1e-9*(1+math.Abs(own[i])) {
				moved[slot.Pointer] = true
			}
		}
	}
	for _, end := range []string{
		"bodies/housing/massKg", "bodies/ring/joints/0/joint/thicknessM", "bodies/ring/joints/0/joint/coverage", "/efficiencyAtInputV", "sense/driver/programOhm", "array/unequal/0/vfOffsetV",
		"module/load/points/1/currentA", "/polarisationOhm", "/polarisationS", "/loopOhmPerM", "/kneeV", "strip/leadOhm", "/health", "/openCircuit/2/voltageV", "more/array/joint/conductivityWPerMK", "/forward/1/voltageV",
	} {
		found := false
		for p := range moved {
			found = found || strings.HasSuffix(p, end)
		}
		if !found {
			t.Errorf("varying …%s changes nothing, or it is no slot", end)
		}
	}
	if same < 100 {
		t.Errorf("only %d slots have a value", same)
	}
}

// What stands beside the document is neutral as it is, and does what it says.
func TestBesideTheDocument(t *testing.T) {
	m := compile(t, everything(t))
	at := func(changes ...Variation) func(owner, figure string) float64 {
		s := m.Solver()
		if err := s.Vary(changes...); err != nil {
			t.Fatal(err)
		}
		rec := make([]float64, len(m.columns))
		s.OperatingPoint(1, 25, rec)
		return func(owner, figure string) float64 { return column(t, m, rec, owner, figure) }
	}
	own := at()
	part := "/parts/" + m.light.Parts[2].ID
	closeTo(t, "flux scale", at(Variation{part + "/emitter/fluxScale", Set, 0.5})("emitters", "fluxLm"), own("emitters", "fluxLm")/2, 1e-9)
	closeTo(t, "forward voltage of a part", at(Variation{part + "/emitter/vfOffsetV", Add, 0.1})("driver", "outV"), own("driver", "outV")+0.3, 1e-6)
	closeTo(t, "resting voltage", at(Variation{"/parts/" + m.light.Parts[0].ID + "/cell/openCircuitOffsetV", Add, 0.02})("power", "openV"), own("power", "openV")+0.08, 1e-6)
	nodes := "/variants/" + m.net.Variant.ID + "/feeds/power/loads/"
	closeTo(t, "a load", at(Variation{nodes + "module/scale", Scale, 2}, Variation{nodes + "module/fault/seriesOhm", Set, 0})("module", "inA"), 2*at(Variation{nodes + "module/fault/seriesOhm", Set, 0})("module", "inA"), 2e-2)
}

// Pointers go through ids: a node put in between moves nothing.
func TestPointersSurviveInsertion(t *testing.T) {
	light := load(t, "shore-search-handlamp.json")
	v := &light.Variants[0]
	pointer := "/variants/" + v.ID + "/feeds/power/loads/driver/driver/setCurrentA"
	figure := func(l *design.Light) float64 {
		m := compile(t, l)
		s := m.Solver()
		if err := s.Vary(Variation{pointer, Set, 0.7}); err != nil {
			t.Fatal(err)
		}
		rec := make([]float64, len(m.columns))
		s.OperatingPoint(1, 25, rec)
		return column(t, m, rec, "driver", "outA")
	}
	closeTo(t, "as it is", figure(light), 0.7, 1e-9)
	feed := &v.Feeds[0]
	feed.Loads = []design.Node{{ID: "main", Switch: &design.Switch{}, Loads: feed.Loads}}
	closeTo(t, "behind another switch", figure(light), 0.7, 1e-9)
}

func TestImpossibleVariations(t *testing.T) {
	m := compile(t, load(t, "shore-search-handlamp.json"))
	own := told(t, m.Solver())
	id := m.net.Variant.ID
	for _, v := range []Variation{
		{"/nowhere", Set, 1}, {"/conditions/ambientC", Set, math.NaN()}, {"/conditions/ambientC", Set, math.Inf(1)}, {"/conditions/ambientC", Set, 900},
		{"/conditions/startC", Scale, 2}, {"/parts/0/cell/capacityAh", Set, 0}, {"/parts/0/cell/capacityAh", Scale, -1}, {"/parts/0/name", Set, 1},
		{"/variants/" + id + "/bodies/0/joints", Set, 1}, {"/parts/2/emitter/forward/0/voltageV", Set, 50}, {"/parts/2/emitter/fluxScale", Set, math.NaN()}, {"", Set, 1},
	} {
		s := m.Solver()
		err := s.Vary(v)
		if err == nil {
			t.Errorf("%+v is accepted", v)
			continue
		}
		for i, x := range told(t, s) {
			if x != own[i] {
				t.Errorf("%+v is refused (%v) and changes something", v, err)
				break
			}
		}
	}
	// A body without a way to the air has no temperature; to give it one adds a state.
	light := load(t, "shore-search-handlamp.json")
	light.Variants[0].Bodies[0].KPerW = nil
	if err := compile(t, light).Solver().Vary(Variation{"/variants/0/bodies/0/kPerW", Set, 5}); err == nil {
		t.Error("a variation that adds a state is accepted")
	}
}

// Varied and back, a solver answers as it did, at rest and in time.
func TestVariedAndBack(t *testing.T) {
	light, err := sample.Case("slow-switches")
	if err != nil {
		t.Fatal(err)
	}
	s := compile(t, light).Solver()
	first, err := s.Steady(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	for _, ohm := range []float64{0.4, 0.03} {
		if err := s.Vary(Variation{"/variants/v/feeds/f/loads/s2/switch/contactOhm", Set, ohm}); err != nil {
			t.Fatal(err)
		}
	}
	again, err := s.Steady(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	for i := range first.Record {
		if math.Abs(first.Record[i]-again.Record[i]) > 1e-9*(1+math.Abs(first.Record[i])) {
			t.Errorf("%v was %g, is %g", s.m.columns[i], first.Record[i], again.Record[i])
		}
	}
}

// What one variation costs: half of what a run may.
func BenchmarkVary(b *testing.B) {
	m := compile(b, load(b, "shore-search-handlamp.json"))
	s := m.Solver()
	at := "/variants/" + m.net.Variant.ID + "/feeds/power/loads/driver/driver/setCurrentA"
	b.ReportAllocs()
	for k := 0; b.Loop(); k++ {
		if err := s.Vary(Variation{at, Set, 1 + 0.1*float64(k%5)}); err != nil {
			b.Fatal(err)
		}
	}
}
