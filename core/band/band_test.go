package band

import (
	"context"
	"errors"
	"math"
	"slices"
	"strings"
	"sync/atomic"
	"testing"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/internal/sample"
)

func load(t testing.TB, name string) *design.Light {
	t.Helper()
	light, err := sample.Example(name)
	if err != nil {
		t.Fatal(err)
	}
	return light
}

func compiled(t testing.TB, light *design.Light) *chain.Model {
	t.Helper()
	m, err := chain.Compile(light, chain.Options{})
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// Every tolerance of every demo light is a figure that can be varied both ways, and stands at
// a place of the document.
func TestTolerancesCanBeVaried(t *testing.T) {
	for _, name := range []string{"shore-search-handlamp.json", "pier-lantern.json", "slipway-lantern.json", "germination-rack.json", "chart-table-strip.json", "boathouse-floodlight.json"} {
		m := compiled(t, load(t, name))
		list := drawnFigures(m)
		if len(list) < 4 {
			t.Errorf("%s: %d tolerances", name, len(list))
		}
		pointers := map[string]bool{}
		for i := range list {
			x := &list[i]
			for _, by := range []float64{-x.Spread, x.Spread} {
				if err := m.Solver().Vary(x.Change(by)); err != nil {
					t.Errorf("%s: %s off by %g: %v", name, x.Label, by, err)
				}
			}
			if pointers[x.Pointer] {
				t.Errorf("%s: %s is drawn twice", name, x.Pointer)
			}
			pointers[x.Pointer] = true
		}
	}
}

// What is drawn keeps to its spread: a bin evenly (deviation 2·spread/√12), the rest normal of
// half the spread and cut there (0.88 of that, a normal one cut at two deviations).
func TestDraws(t *testing.T) {
	for uniform, deviation := range map[bool]float64{true: 1 / math.Sqrt(3), false: 0.5 * 0.8796} {
		x := Tolerance{Spread: 3, Uniform: uniform}
		sum, squares := 0.0, 0.0
		const n = 20000
		random := newRandom(7)
		for range n {
			d := x.draw(random)
			if math.Abs(d) > 3 {
				t.Fatalf("%g is beyond ±3", d)
			}
			sum, squares = sum+d, squares+d*d
		}
		if got := math.Sqrt(squares/n) / 3; math.Abs(got-deviation) > 0.02 || math.Abs(sum/n) > 0.05 {
			t.Errorf("uniform %v: deviation %g, want %g; mean %g", uniform, got, deviation, sum/n)
		}
	}
}

// A band covers four fifths of other lights drawn within the same tolerances: 75 to 85 % of
// 500 seeded ones; and the same seed gives the same band.
func TestBandCovers(t *testing.T) {
	light := load(t, "shore-search-handlamp.json")
	band, err := Of(context.Background(), light, 0, 500, 1, nil)
	if err != nil || band.Failed > 0 {
		t.Fatal(err, band)
	}
	m := compiled(t, light)
	tolerances := drawnFigures(m)
	inside := map[string]int{}
	const truths = 500
	for i := range truths {
		_, run, err := drawn(context.Background(), m, tolerances, 2, i, 1)
		if err != nil {
			t.Fatal(err)
		}
		a := run.Answers()
		for k := range answers {
			r, ok := band.Ranges[answers[k].name]
			if v := answers[k].of(&a); ok && v != nil && *v >= r.Low && *v <= r.High {
				inside[answers[k].name]++
			}
		}
	}
	for _, name := range []string{"fluxLm", "inputW", "halfS", "endS", "junctionC", "touchC"} {
		if share := float64(inside[name]) / truths; share < 0.75 || share > 0.85 {
			t.Errorf("%s: %+v covers %g", name, band.Ranges[name], share)
		}
	}
	var most atomic.Int64
	few, _ := Of(context.Background(), light, 0, 20, 1, func(done int) {
		if done < 1 || done > 20 {
			t.Errorf("%d of 20 are done", done)
		}
		for was := most.Load(); int64(done) > was && !most.CompareAndSwap(was, int64(done)); was = most.Load() {
		}
	})
	if most.Load() != 20 {
		t.Errorf("%d of 20 were told", most.Load())
	}
	again, _ := Of(context.Background(), light, 0, 20, 1, nil)
	if few.Ranges["endS"] != again.Ranges["endS"] || few.Ranges["endS"] == band.Ranges["endS"] {
		t.Errorf("%+v and %+v", few.Ranges, again.Ranges)
	}
}

// What matters most: capacity, and what the driver is set to, for hours; the light of the
// emitters for lumens; of an assumed figure first of all, twice as wide.
func TestWhatMattersMost(t *testing.T) {
	light := load(t, "shore-search-handlamp.json")
	band, err := Of(context.Background(), light, 0, 300, 1, nil)
	if err != nil {
		t.Fatal(err)
	}
	top := func(b *Band, answer string) Cause {
		if len(b.Causes[answer]) == 0 {
			t.Fatalf("no cause of %s", answer)
		}
		return b.Causes[answer][0]
	}
	if c := top(band, "fluxLm"); c.Pointer == "" || c.Share < 0.3 || !slices.Contains([]string{"light of " + light.Parts[2].Name, "what Driver is set to"}, c.Label) {
		t.Errorf("lumens: %+v", band.Causes["fluxLm"])
	}
	if c := band.Causes["touchC"]; c[0].Label != "cooling of Tube and head" {
		t.Errorf("touch: %+v", c)
	}
	sum := 0.0
	for _, c := range band.Causes["endS"] {
		sum += c.Share
	}
	if sum < 0.85 || sum > 1.1 {
		t.Errorf("of hours %g is explained: %+v", sum, band.Causes["endS"])
	}
	light.Variants[0].Assumed = []design.Assumption{{At: "/parts/cell/cell/capacityAh", Why: "typical"}}
	assumed, err := Of(context.Background(), light, 0, 300, 1, nil)
	if err != nil {
		t.Fatal(err)
	}
	if c := top(assumed, "endS"); c.Label != "capacity of "+light.Parts[0].Name || !c.Assumed || c.Pointer != "/parts/0/cell/capacityAh" {
		t.Errorf("assumed: %+v", assumed.Causes["endS"])
	}
	if a, b := assumed.Ranges["endS"], band.Ranges["endS"]; a.High-a.Low < 1.2*(b.High-b.Low) {
		t.Errorf("assumed %+v, known %+v", a, b)
	}
}

// A band can be withdrawn; of a light that has no hours there is none of hours.
func TestBandOfALightWithoutHours(t *testing.T) {
	band, err := Of(context.Background(), load(t, "germination-rack.json"), 0, 20, 1, nil)
	if err != nil {
		t.Fatal(err)
	}
	if _, there := band.Ranges["halfS"]; there || band.Ranges["fluxLm"].Low <= 0 {
		t.Errorf("%+v", band.Ranges)
	}
	stopped, stop := context.WithCancel(context.Background())
	stop()
	if _, err := Of(stopped, load(t, "germination-rack.json"), 0, 20, 1, nil); !errors.Is(err, context.Canceled) {
		t.Errorf("withdrawn: %v", err)
	}
	if _, err := Of(context.Background(), load(t, "germination-rack.json"), 9, 20, 1, nil); err == nil {
		t.Error("a variant that is not there")
	}
}

// BenchmarkBand draws 500 lights of each of the demo.
func BenchmarkBand(b *testing.B) {
	for _, name := range []string{"shore-search-handlamp.json", "slipway-lantern.json", "germination-rack.json", "pier-lantern.json", "chart-table-strip.json", "eelgrass-tank.json", "boathouse-floodlight.json", "bilge-lamp.json", "skerry-marker.json"} {
		light := load(b, name)
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				if _, err := Of(context.Background(), light, 0, 500, 1, nil); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// Cells that were measured one by one are drawn one by one: three alike side by side are off
// together by less than one of them, by √3.
func TestMeasuredCellsAreDrawnApart(t *testing.T) {
	width := func(groups int) float64 {
		light, err := sample.Example("pier-lantern.json")
		if err != nil {
			t.Fatal(err)
		}
		pack := light.Variants[0].Feeds[0].Sources[0].Pack
		ah := light.Part(pack.PartID).Cell.CapacityAh
		var g design.CellGroup
		for range groups {
			g.Cells = append(g.Cells, design.PackCell{CapacityAh: new(3 * ah / float64(groups))})
		}
		pack.Groups = []design.CellGroup{g}
		b, err := Of(context.Background(), light, 0, 300, 5, nil)
		if err != nil {
			t.Fatal(err)
		}
		share := 0.0
		for _, c := range b.Causes["endS"] {
			if strings.HasPrefix(c.Label, "capacity of cell ") {
				share += c.Share
			}
		}
		return share * math.Pow(b.Ranges["endS"].High-b.Ranges["endS"].Low, 2)
	}
	if one, three := width(1), width(3); three > 0.6*one || three < 0.15*one {
		t.Errorf("three cells by themselves leave %g of what one leaves, want a third", three/one)
	}
}

// Corrected by a reading, a figure is as open as the reading left it, about what it says.
func TestCorrectedIsNarrower(t *testing.T) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	of := func() *Band {
		out, err := Of(context.Background(), light, 0, 60, 1, nil)
		if err != nil {
			t.Fatal(err)
		}
		return out
	}
	wide := of().Ranges["fluxLm"]
	emitter := ""
	for _, p := range light.Parts {
		if p.Emitter != nil {
			emitter = p.ID
		}
	}
	light.Variants[0].Corrected = []design.Correction{{At: "/parts/" + emitter + "/emitter/fluxScale", Label: "light", Was: 1, Value: 0.8, Within: 0.004},
		{At: "/feeds/power/loads/driver/driver/setCurrentA", Label: "set", Was: 1.5, Value: 1.5, Within: 0.01}}
	m, err := chain.Compile(light, chain.Options{})
	if err != nil {
		t.Fatal(err)
	}
	run, err := m.Solver().Run(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	got, is := of().Ranges["fluxLm"], *run.Answers().FluxLm
	if got.Low > is || got.High < is || got.High-got.Low > 0.5*(wide.High-wide.Low) || got.High > 0.85*wide.High {
		t.Errorf("before %+v, now %+v about %g lm", wide, got, is)
	}
}

// Drawn lights are stepped through roughly: their answers are those of the usual steps by far
// less than they lie apart.
func TestRoughStepsMoveNoBand(t *testing.T) {
	for _, name := range []string{"shore-search-handlamp.json", "slipway-lantern.json"} {
		m, err := chain.Compile(load(t, name), chain.Options{})
		if err != nil {
			t.Fatal(err)
		}
		tolerances := Tolerances(m)
		of := func(a *chain.Answers) map[string]float64 {
			return map[string]float64{"fluxLm": *a.FluxLm, "inputW": a.InputW, "endS": *a.EndS, "junctionC": *a.JunctionC}
		}
		low, high, off := map[string]float64{}, map[string]float64{}, map[string]float64{}
		for i := range 40 {
			_, fine, err := drawn(context.Background(), m, tolerances, 3, i, 1)
			if err != nil {
				t.Fatal(err)
			}
			_, coarse, err := drawn(context.Background(), m, tolerances, 3, i, rough)
			if err != nil {
				t.Fatal(err)
			}
			if coarse.Steps >= fine.Steps {
				t.Errorf("%s: %d rough steps, %d usual ones", name, coarse.Steps, fine.Steps)
			}
			a, b := fine.Answers(), coarse.Answers()
			was, is := of(&a), of(&b)
			for k, x := range was {
				if i == 0 {
					low[k], high[k] = x, x
				}
				low[k], high[k] = min(low[k], x), max(high[k], x)
				off[k] = max(off[k], math.Abs(is[k]-x))
			}
		}
		for k := range off {
			t.Logf("%s %s: off by %.2g of %.3g", name, k, off[k], high[k]-low[k])
			if off[k] > (high[k]-low[k])/50 {
				t.Errorf("%s, %s: rough steps move it by %g, and lights lie %g apart", name, k, off[k], high[k]-low[k])
			}
		}
	}
}
