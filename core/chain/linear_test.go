package chain

import (
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
)

// The Jacobian that is eliminated through tree and heat path against one by differences
// of the whole right-hand side: x is found again from x − c·J·x.
func TestJacobianAgainstDifferences(t *testing.T) {
	random := rand.New(rand.NewPCG(7, 8))
	lights := map[string]*design.Light{}
	for _, name := range []string{"shore-search-handlamp", "pier-lantern", "slipway-lantern", "germination-rack", "chart-table-strip"} {
		lights[name] = load(t, name+".json")
	}
	shorted := load(t, "shore-search-handlamp.json")
	shorted.Variants[0].Feeds[0].Loads[0].Fault = &design.Fault{State: "short", SeriesOhm: 12}
	lights["shorted"] = shorted
	for _, name := range []string{"rack-8x5", "slow-switches", "below-cutoff", "nested-input"} {
		light, err := sample.Case(name)
		if err != nil {
			t.Fatal(err)
		}
		lights[name] = light
	}
	for _, duties := range [][]float64{{0.4}, {0.3, 0.5, 0.7}} {
		light, err := sample.Case("rack-8x5")
		if err != nil {
			t.Fatal(err)
		}
		for i := range light.Variants[0].Feeds[0].Loads {
			light.Variants[0].Feeds[0].Loads[i].Driver.Dimming = &design.Level{Duty: &duties[i%len(duties)]}
		}
		lights[fmt.Sprintf("dimmed, %d duties", len(duties))] = light
	}
	spots := load(t, "shore-search-handlamp.json")
	array := &spots.Variants[0].Feeds[0].Loads[1].Loads[0].Loads[0]
	array.Fault = &design.Fault{SeriesOhm: 0.8}
	array.Array.Series, array.Array.Parallel, array.Array.Mixed = 2, 4, []design.Mixed{{PartID: array.Array.PartID, Series: 1}}
	array.Array.Unequal = []design.Strings{{Strings: 1, OffsetV: 0.02}, {Strings: 1, HotterK: 9}}
	array.Array.BallastOhm = ptr(0.7)
	lights["spots behind a joint"] = spots
	strip := load(t, "chart-table-strip.json")
	use := strip.Variants[0].Feeds[0].Loads[0].Loads[0].Loads[0]
	use.Fault = &design.Fault{SeriesOhm: 0.6}
	strip.Variants[0].Feeds[0].Loads = []design.Node{use, {ID: "led", BodyID: use.BodyID, Array: &design.Array{PartID: "led", Series: 7, Parallel: 2}}}
	strip.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "weak", Pack: &design.Pack{PartID: "cell", Series: 6, Parallel: 1, ContactOhm: 0.8, BodyID: use.BodyID}}
	strip.Parts = append(strip.Parts, sample.LEDPart(), design.Part{ID: "cell", Name: "c", Cell: &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 2, ResistanceOhm: 0.05}})
	lights["strip on a weak pack"] = strip
	for k := range 40 {
		light := sample.Tree(random, sample.Options{Depth: 1 + k%3, Joints: 0.4})
		if k%2 == 1 {
			sample.Counted(random, light.Variants[0].Feeds[0].Loads, 0.3)
		}
		lights[fmt.Sprintf("random %d", k)] = light
	}
	tried := 0
	for _, name := range slices.Sorted(maps.Keys(lights)) {
		light := lights[name]
		s := compile(t, light).Solver()
		n := len(s.y)
		if n == 0 {
			continue
		}
		y := make([]float64, n)
		s.start(y)
		for i := range s.Feeders {
			if f := &s.Feeders[i]; f.Law.States() > 0 {
				f.Law.Start(f.States(y), 0.513)
			}
		}
		for i := s.m.states; i < n; i++ {
			y[i] = 30 + 20*random.Float64()
		}
		s.latch(y)
		if atKink(s) {
			continue
		}
		tried++
		f := make([]float64, n)
		s.derivative(0, y, f)
		x, moved, back := make([]float64, n), make([]float64, n), make([]float64, n)
		for i := range x {
			x[i] = random.Float64() - 0.5
			if i < s.m.states {
				x[i] *= 1e-3
			}
		}
		probe := func(h float64, out []float64) {
			at := make([]float64, n)
			for i := range at {
				at[i] = y[i] + h*x[i]
			}
			s.derivative(0, at, out)
		}
		const h = 1e-2 // K, and as little charge: well above what a solve leaves open
		probe(h, moved)
		probe(-h, back)
		for _, c := range []float64{0.01, 3, 900} {
			v := make([]float64, n)
			for i := range v {
				v[i] = x[i] - c*(moved[i]-back[i])/(2*h)
			}
			s.derivative(0, y, f)
			lin := s.tangents()
			lin.At(0, y, f)
			lin.Factor(c)
			lin.Solve(v)
			for i := range x {
				if math.Abs(v[i]-x[i]) > 1e-5 {
					t.Errorf("%s, c = %g: component %d of %d is %.9g, want %.9g", name, c, i, n, v[i], x[i])
					break
				}
			}
		}
	}
	if tried < 25 {
		t.Errorf("only %d lights were tried", tried)
	}
}

// atKink tells of a light that stands where a law breaks: there it has no slope.
func atKink(s *Solver) bool {
	for k := range s.Nodes {
		n, p := &s.Nodes[k], &s.Point[k]
		if n.Drv.NeedsHeadroom() && math.Abs(p.InnerV-n.Drv.HeadroomV-p.OutV) < 1e-3 {
			return true
		}
	}
	return false
}
