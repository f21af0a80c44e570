package bench

import (
	"context"
	"math"
	"strings"
	"sync"
	"testing"

	"photherm/core/chain"
	"photherm/core/design"
)

// plainLoad draws 1 A at any voltage, in a body of 3 K/W.
func plainLoad() *design.Light {
	return &design.Light{Format: design.Format, Version: design.Version, Name: "heater", Conditions: design.Conditions{AmbientC: 20}, Parts: []design.Part{},
		Variants: []design.Variant{{ID: "v", Name: "v", Bodies: []design.Body{{ID: "b", Name: "Block", KPerW: p(3.0), HeatJPerK: p(200.0)}},
			Feeds: []design.Feed{{ID: "f", Sources: []design.Source{{ID: "rail", Supply: &design.Supply{VoltageV: 12}}}, Loads: []design.Node{{ID: "load", BodyID: "b", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 6, CurrentA: 1}, {VoltageV: 12, CurrentA: 1}}}}}}}}}}
}

func calibrated(t *testing.T, light *design.Light) *Calibration {
	t.Helper()
	out, err := CalibrationOf(context.Background(), light, Question{})
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func (c *Calibration) of(t *testing.T, pointer string) *Calibrated {
	t.Helper()
	for i := range c.Figures {
		if c.Figures[i].Pointer == pointer {
			return &c.Figures[i]
		}
	}
	t.Fatalf("%q is not fitted: %+v", pointer, c.Figures)
	return nil
}

const (
	drawAt = "/variants/0/feeds/0/loads/0/load"
	sinkAt = "/variants/0/bodies/0/kPerW"
)

// A current and a temperature against scripts/reference/calibration.py (scipy's least squares
// on the same residuals).
func TestCalibrationAgainstLeastSquares(t *testing.T) {
	light := plainLoad()
	light.Variants[0].SetUp = []design.Done{{Node: "f", Step: "draw", Reading: p(1.08)}, {Node: "b", Step: "bodyC-rest", Reading: p(66.0)}}
	got := calibrated(t, light)
	draw, sink := got.of(t, drawAt), got.of(t, sinkAt)
	if math.Abs(draw.Value/1.0795248537647355-1) > 5e-3 || math.Abs(sink.Value/3.415444970100049-1) > 5e-3 {
		t.Errorf("draw %g, K/W %g", draw.Value, sink.Value)
	}
	if math.Abs(draw.Within/0.1-0.176403) > 2e-3 || math.Abs(sink.Within/0.45-0.501605) > 5e-3 {
		t.Errorf("left open: draw %g, K/W %g", draw.Within, sink.Within)
	}
	if got.Used != 2 || got.Left != 0 || got.After >= got.Before || draw.Unknown || math.Abs(got.Rows[0].After-1.0795) > 1e-3 {
		t.Errorf("%+v", got)
	}
	// One figure is told by nothing that was read.
	if c := got.of(t, "/variants/0/bodies/0/heatCapacityJPerK"); !c.Unknown || c.Value != c.Was {
		t.Errorf("%+v", c)
	}
	// Taken, the light gives what was read; its document still says what it said, and the fit
	// begins from there again.
	for _, c := range got.Figures {
		light.Variants[0].Corrected = append(light.Variants[0].Corrected, c.Take)
	}
	if err := design.Check(light); err != nil {
		t.Fatal(err)
	}
	row := plan(t, light).row(t, "b", "bodyC-rest")
	if math.Abs(row.Reading.Expected-got.Rows[1].After) > 0.05 || row.Reading.Calculated != "agrees" {
		t.Errorf("%+v, want %g", row.Reading, got.Rows[1].After)
	}
	again := calibrated(t, light)
	if math.Abs(again.of(t, sinkAt).Value-sink.Value) > 1e-6 || !again.of(t, sinkAt).Taken {
		t.Errorf("%+v", again.of(t, sinkAt))
	}
	raw, err := chain.Compile(light, chain.Options{Raw: true})
	if err != nil {
		t.Fatal(err)
	}
	if k := *raw.Light().Variants[0].Bodies[0].KPerW; k != 3 {
		t.Errorf("as the document says: %g K/W", k)
	}
}

// One reading and one unknown: the closed form of a Gaussian mean with a prior, J·r/(σ² + J²).
// A coarser tool moves a datasheet less.
func TestCalibrationShrinks(t *testing.T) {
	for tool, sigma := range map[string]float64{"multimeter-a": math.Hypot(math.Hypot(0.015, 0.001/math.Sqrt(12)), 0.01) / 2, "inline-w": math.Hypot(math.Hypot(0.1, 0.02), 0.01) / 2} {
		light := plainLoad()
		light.Variants[0].SetUp = []design.Done{{Node: "f", Step: "draw", Reading: p(1.2), With: tool}}
		want := 1 + 0.05*0.05*0.2/(sigma*sigma+0.05*0.05)
		got := calibrated(t, light).of(t, drawAt)
		if math.Abs(got.Value-want) > 1e-3 || got.Far != (want > 1.1) {
			t.Errorf("%s: %g, want %g", tool, got.Value, want)
		}
	}
	light := plainLoad()
	if got := calibrated(t, light); got.Used != 0 || len(got.Figures) != 0 || got.Next == nil {
		t.Errorf("nothing was read: %+v", got)
	}
	light.Variants[0].SetUp = []design.Done{{Node: "f", Step: "draw", Reading: p(1000.0)}}
	if got := calibrated(t, light); got.Used != 0 || got.Left != 1 {
		t.Errorf("a slip is fitted: %+v", got)
	}
}

// It is told how many lights were tried, each once: one for every figure to know what readings may
// be off, and as many again for each round of the fit.
func TestCalibrationTellsHowFar(t *testing.T) {
	light := plainLoad()
	light.Variants[0].SetUp = []design.Done{{Node: "f", Step: "draw", Reading: p(1.2), With: "multimeter-a"}}
	var mu sync.Mutex
	told, most := 0, 0
	q := Question{Tried: func(lights int) {
		mu.Lock()
		defer mu.Unlock()
		told, most = told+1, max(most, lights)
	}}
	if _, err := PlanOf(context.Background(), light, q); err != nil {
		t.Fatal(err)
	}
	plan := most
	told, most = 0, 0
	out, err := CalibrationOf(context.Background(), light, q)
	if err != nil {
		t.Fatal(err)
	}
	if n := len(out.Figures); n == 0 || plan != n || told != most || most < 3*n {
		t.Errorf("a plan tells of %d lights; told %d times of up to %d, of %d figures", plan, told, most, n)
	}
}

// Readings of a known light with figures off what its document says bring them back, as far as
// readings can tell them apart.
func TestCalibrationFindsTheTruth(t *testing.T) {
	light := handlamp(t)
	b := light.Variants[0].Bodies[0]
	measure(t, light, func(l *design.Light) {
		l.Variants[0].Bodies[0].KPerW = p(1.12 * *b.KPerW)
		design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").Driver.SetCurrentA = p(1.46)
	}, nil)
	got := calibrated(t, light)
	sink, set := got.of(t, sinkAt), got.of(t, "/variants/0/feeds/0/loads/1/loads/0/driver/setCurrentA")
	if math.Abs(sink.Value-1.12**b.KPerW) > sink.Within || sink.Value < 1.04**b.KPerW || math.Abs(set.Value-1.46) > set.Within || set.Value > 1.48 {
		t.Errorf("sink %+v, set %+v", sink, set)
	}
}

// A timed run is a reading too: of a known draw it tells the capacity.
func TestTimedRunTellsCapacity(t *testing.T) {
	light := handlamp(t)
	run := plan(t, light).row(t, "power", "timed-run")
	if run.Reading.Quantity != "duration" || run.Reading.Tool != "clock" || run.Reading.Model < 0.03*run.Reading.Expected {
		t.Fatalf("%+v", run.Reading)
	}
	cell := light.Part("cell").Cell.CapacityAh
	measure(t, light, func(l *design.Light) { l.Part("cell").Cell.CapacityAh *= 0.97 }, nil, "on", "draw-full", "draw-half", "volts-full", "timed-run")
	for _, f := range calibrated(t, light).Figures {
		if strings.HasPrefix(f.Label, "capacity of") {
			if f.Value > 0.985*cell || f.Value < 0.96*cell || f.Told < 0.3 {
				t.Errorf("%+v of %g Ah", f, cell)
			}
			return
		}
	}
	t.Error("no capacity is fitted")
}
