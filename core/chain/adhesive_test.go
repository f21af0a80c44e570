package chain

import (
	"context"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
)

// Strip stuck to a body: at rest its back stands above the body by its watts times
// t/(k·A·coverage), A its width times its length, and the body above the air by the same
// watts times its K/W: Fourier's law in one dimension. Two alike share the body, and each
// its own adhesive.
func TestStripOnItsAdhesive(t *testing.T) {
	const width, length, thick, k, covers, body = 0.01, 1.5, 2e-4, 0.18, 0.8, 2.0
	light := func(count int, joint *design.Joint) *Model {
		parts := []design.Part{{ID: "s", Name: "Strip", Strip: &design.Strip{VoltageV: 12, PerMetreW: ptr(14.4), CutM: 0.05, LoopOhm: ptr(0.0), WidthM: ptr(width)}}}
		l := supplyLight(12, 0, parts, design.Node{ID: "strip", Count: count, BodyID: "b", Strip: &design.StripUse{PartID: "s", PiecesM: []float64{length / 3, 2 * length / 3}, Joint: joint}})
		l.Variants[0].Bodies = []design.Body{{ID: "b", Name: "b", KPerW: ptr(body), HeatJPerK: ptr(50.0)}}
		return compile(t, l)
	}
	rest := func(m *Model, owner, figure string) float64 {
		st, err := m.Solver().Steady(context.Background())
		if err != nil || !st.Converged {
			t.Fatalf("%v %+v", err, st)
		}
		return column(t, m, st.Record, owner, figure)
	}
	layer := &design.Joint{ThicknessM: ptr(thick), Conductivity: ptr(k), Coverage: ptr(covers)}
	for _, count := range []int{1, 2} {
		m := light(count, layer)
		w := rest(m, "strip", "inW")
		if math.Abs(w-14.4*length) > 1e-3 {
			t.Fatalf("%d of them: %g W each", count, w)
		}
		at, back := rest(m, "b", "bodyC"), rest(m, "strip", "caseC")
		if want := 25 + float64(count)*w*body; math.Abs(at-want) > 1e-3 {
			t.Errorf("%d of them: the body is at %g °C, want %g", count, at, want)
		}
		if want := w * thick / (k * width * length * covers); math.Abs(back-at-want) > 1e-3*want {
			t.Errorf("%d of them: the back stands %g K above the body, want %g", count, back-at, want)
		}
	}
	// An area that is given counts, and a K/W.
	if got := rest(light(1, &design.Joint{KPerW: ptr(0.5)}), "strip", "caseC"); math.Abs(got-(25+14.4*length*(body+0.5))) > 1e-3 {
		t.Errorf("with 0.5 K/W the back is at %g °C", got)
	}
	// Of a layer whose figures are not known it is said, and nothing is made up.
	m := light(1, &design.Joint{MaxC: ptr(70.0)})
	if got := rest(m, "strip", "caseC"); math.Abs(got-(25+14.4*length*body)) > 0.01 {
		t.Errorf("without figures of the layer the back is at %g °C", got)
	}
	if missing := m.Missing(); len(missing) == 0 || !strings.Contains(missing[len(missing)-1].Why+missing[0].Why, "adhesive") {
		t.Errorf("%+v", missing)
	}
	if m := light(1, nil); len(m.lumps) != 1 {
		t.Errorf("without a joint there are %d lumps", len(m.lumps))
	}
}

// What it is stuck on matters: a strip of 10 mm with 10 W/m of heat on 18 mm of wood 90 mm wide
// stands about 40 K above the air at its back, on a folded steel stud of 0.5 mm and 150 mm
// developed about 7 K (computed twice, in two dimensions, with a film of 9 W/(m²·K) on both
// faces, highest under it; here on average under it, with the film of the law). Two strips on one
// board warm it more, though wood hardly carries heat from one to the other.
func TestStripOnWoodAndSteel(t *testing.T) {
	back := func(material string, widthM, thickM float64, count int) float64 {
		parts := []design.Part{{ID: "s", Name: "Strip", Strip: &design.Strip{VoltageV: 12, PerMetreW: ptr(10.0), CutM: 0.05, LoopOhm: ptr(0.0), WidthM: ptr(0.01)}}}
		l := supplyLight(12, 0, parts, design.Node{ID: "strip", Count: count, BodyID: "b", Strip: &design.StripUse{PartID: "s", PiecesM: []float64{1}}})
		l.Variants[0].Bodies = []design.Body{{ID: "b", Name: "b", Shape: &design.Shape{Kind: "plate", Material: material, Surface: "painted", LengthM: ptr(1.0), WidthM: &widthM, ThicknessM: &thickM}}}
		m := compile(t, l)
		_, record := restOf(t, m)
		return column(t, m, record, "strip", "caseC") - l.Conditions.AmbientC
	}
	wood, steel := back("wood", 0.09, 0.018, 1), back("steel", 0.15, 0.0005, 1)
	if math.Abs(wood-40) > 4 || math.Abs(steel-7) > 2 {
		t.Errorf("on wood %g K, on steel %g K", wood, steel)
	}
	if two := back("wood", 0.09, 0.018, 2); two < wood+0.5 || two > 1.5*wood {
		t.Errorf("two on one board %g K, one %g K", two, wood)
	}
}
