package band

import (
	"context"
	"math"
	"strings"
	"testing"

	"photherm/core/chain"
	"photherm/core/design"
)

// lampOf is the handlamp with its emitters in arrays of so many each on one driver.
func lampOf(t *testing.T, each ...int) *design.Light {
	t.Helper()
	light := load(t, "shore-search-handlamp.json")
	v := &light.Variants[0]
	driver := design.FindNode(v.Feeds[0].Loads, "driver")
	first := driver.Loads[0]
	driver.Loads = nil
	for i, n := range each {
		a := *first.Array
		a.Series, a.Parallel, a.Count = n, 1, 0
		next := first
		next.ID, next.Array = string(rune('a'+i)), &a
		driver.Loads = append(driver.Loads, next)
	}
	v.Layouts, v.SetUp = nil, nil
	return light
}

// What one emitter is off by is all that its data say; of many together, their own part has
// averaged out by the root of their number, and their lot's is left.
func TestEmittersAreDrawnApart(t *testing.T) {
	for _, c := range []struct {
		each []int
		own  []float64 // of each array, of all that a figure is off by
	}{
		{[]int{1}, []float64{math.Sqrt(0.5)}},
		{[]int{4}, []float64{math.Sqrt(0.5 / 4)}},
		{[]int{25}, []float64{math.Sqrt(0.5 / 25)}},
		{[]int{26}, nil},
		{[]int{2, 1}, []float64{math.Sqrt(0.5 / 2), math.Sqrt(0.5)}},
	} {
		m := compiled(t, lampOf(t, c.each...))
		was := map[string]float64{}
		for _, x := range Tolerances(m) {
			was[x.Pointer] = x.Spread
		}
		for _, figure := range []string{"/vfOffsetV", "/fluxScale"} {
			lots, own, all := 0, []float64{}, 0.0
			for _, x := range drawnFigures(m) {
				switch {
				case strings.HasSuffix(x.Pointer, "/emitter"+figure):
					lots++
					if all = was[x.Pointer]; math.Abs(x.Spread/all-math.Sqrt(0.5)) > 1e-12 {
						t.Errorf("%v%s: the lot is off by %g of %g", c.each, figure, x.Spread, all)
					}
				case strings.HasSuffix(x.Pointer, "/array"+figure):
					own = append(own, x.Spread/all)
				}
			}
			if lots != 1 || len(own) != len(c.own) {
				t.Fatalf("%v%s: %d lots, own %v", c.each, figure, lots, own)
			}
			for i := range own {
				if math.Abs(own[i]-c.own[i]) > 1e-12 {
					t.Errorf("%v%s: array %d is off by %g for itself, not %g", c.each, figure, i, own[i], c.own[i])
				}
			}
		}
	}
}

// What readings correct is of the emitters that are there, and is not parted.
func TestCorrectedEmittersAreNotParted(t *testing.T) {
	light := lampOf(t, 2)
	id := design.FindNode(light.Variants[0].Feeds[0].Loads, "a").Array.PartID
	light.Variants[0].Corrected = []design.Correction{{At: "/parts/" + id + "/emitter/fluxScale", Value: 0.9, Within: 0.02}}
	for _, x := range drawnFigures(compiled(t, light)) {
		if strings.HasSuffix(x.Pointer, "/array/fluxScale") {
			t.Errorf("%+v", x)
		}
		if strings.HasSuffix(x.Pointer, "/emitter/fluxScale") && math.Abs(x.Spread-0.02/0.9) > 1e-12 {
			t.Errorf("the lot is off by %g", x.Spread)
		}
	}
}

// The light of one array goes with its own figure, and no other's.
func TestLightOfOneArray(t *testing.T) {
	m := compiled(t, lampOf(t, 1, 1))
	light := func(changes ...chain.Variation) (a, b float64) {
		s := m.Solver()
		if err := s.Vary(changes...); err != nil {
			t.Fatal(err)
		}
		st, err := s.Steady(context.Background())
		if err != nil {
			t.Fatal(err)
		}
		for i, c := range m.Columns() {
			if c.Figure == "fluxLm" && c.Owner == "a" {
				a = st.Record[i]
			}
			if c.Figure == "fluxLm" && c.Owner == "b" {
				b = st.Record[i]
			}
		}
		return a, b
	}
	a, b := light()
	id := m.Variant().Feeds[0].ID
	brightA, sameB := light(chain.Variation{Pointer: "/variants/" + m.Variant().ID + "/feeds/" + id + "/loads/a/array/fluxScale", Op: chain.Set, Value: 1.02})
	if a <= 0 || math.Abs(brightA/a-1.02) > 1e-3 || math.Abs(sameB/b-1) > 1e-3 {
		t.Errorf("%g and %g lm, then %g and %g", a, b, brightA, sameB)
	}
}
