package chain

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
)

// What the whole light does, at rest and through a run, is what it does with every
// counted branch written out: power, light, heat, temperatures and time.
func TestCountedLightIsWrittenOut(t *testing.T) {
	random := rand.New(rand.NewPCG(31, 32))
	lights := map[string]*design.Light{}
	for _, name := range []string{"shore-search-handlamp", "pier-lantern", "slipway-lantern", "germination-rack", "chart-table-strip"} {
		light := load(t, name+".json")
		light.Variants[0].Layouts = nil // places go by name, and what is written out has other names
		for i := range light.Variants[0].Feeds {
			loads := light.Variants[0].Feeds[i].Loads
			sample.Counted(random, loads, 0.6)
			loads[0].Count = 2
		}
		lights[name] = light
	}
	for k := range 30 {
		light := sample.Tree(random, sample.Options{Depth: 1 + k%2, Joints: 0.4})
		sample.Counted(random, light.Variants[0].Feeds[0].Loads, 0.4)
		lights[fmt.Sprintf("random %d", k)] = light
	}
	compared := 0
	for name, light := range lights {
		counted := compile(t, light)
		for i := range light.Variants[0].Feeds {
			light.Variants[0].Feeds[i].Loads = sample.WrittenOut(light.Variants[0].Feeds[i].Loads)
		}
		all := compile(t, light)
		a, err := counted.Solver().Steady(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		b, err := all.Solver().Steady(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		if a.Converged != b.Converged {
			t.Errorf("%s: counted at rest %v (%s), written out %v (%s)", name, a.Converged, a.Reason, b.Converged, b.Reason)
			continue
		}
		if !a.Converged {
			continue
		}
		compared++
		near := func(what string, x, y, within float64) {
			if math.Abs(x-y) > within*(1+math.Abs(y)) {
				t.Errorf("%s, %s: counted %.9g, written out %.9g", name, what, x, y)
			}
		}
		for c, column := range counted.Columns() {
			for d, other := range all.Columns() {
				// Of nodes it is the figure of one.
				if column == other {
					near(column.Owner+" "+column.Figure+" at rest", a.Record[c], b.Record[d], 1e-5)
				}
			}
		}
		x, y := run(t, counted), run(t, all)
		if slices.ContainsFunc(y.Events, func(e Event) bool { return e.Kind == "lock-out" }) {
			continue // of many written out one may go and let the others live
		}
		if x.End.Kind != y.End.Kind {
			t.Errorf("%s: counted ends by %q, written out by %q", name, x.End.Kind, y.End.Kind)
		}
		near("end", x.End.T, y.End.T, 1e-3)
		one, other := x.Answers(), y.Answers()
		near("input", one.InputW, other.InputW, 1e-4)
		if one.FluxLm != nil && other.FluxLm != nil {
			near("light", *one.FluxLm, *other.FluxLm, 1e-4)
		}
		if one.JunctionC != nil && other.JunctionC != nil {
			near("junction", *one.JunctionC, *other.JunctionC, 1e-3)
		}
	}
	if compared < 20 {
		t.Errorf("%d lights compared", compared)
	}
}
