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
