package chain

import (
	"context"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/heat"
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

// The face of a body under what sits on it is what its watts leave between board and body: below
// the joint, above the mean by the spreading of the body (heat.Body.SpreadKPerW, held against three
// dimensions where it stands). Boards, unlike strings and strip alike; where the body is known by
// its K/W, or nobody knows the size of the board, nothing is told.
func TestSeatUnderABoard(t *testing.T) {
	const joint, area = 0.4, 4e-4
	wood := design.Shape{Kind: "plate", Material: "wood", LengthM: ptr(0.3), WidthM: ptr(0.2), ThicknessM: ptr(0.018)}
	light := func(change func(n *design.Node, b *design.Body)) *Model {
		parts := []design.Part{ledPart(), {ID: "d", Name: "d", Driver: &design.Driver{Family: "linear", SetCurrentA: ptr(0.7), HeadroomV: ptr(0.3)}}}
		node := arrayNodeOf("a", 1, 2)
		node.BodyID, node.Array.Count = "b", 2
		node.Array.Joint = &design.Joint{KPerW: ptr(joint), AreaM2: ptr(area)}
		body := design.Body{ID: "b", Name: "b", Shape: &wood}
		change(&node, &body)
		l := supplyLight(5, 0, parts, driverNodeOf("d", "d", design.DriverUse{}, node))
		l.Variants[0].Bodies = []design.Body{body}
		return compile(t, l)
	}
	law, _ := heat.NewBody(&wood, 1)
	spreads := law.SpreadKPerW(&wood, math.Sqrt(area), math.Sqrt(area), 2)
	for name, change := range map[string]func(*design.Node, *design.Body){
		"alike":  func(*design.Node, *design.Body) {},
		"unlike": func(n *design.Node, _ *design.Body) { n.Array.Unequal = []design.Strings{{Strings: 1, OffsetV: 0.05}} },
	} {
		m := light(change)
		_, record := restOf(t, m)
		of := func(owner, figure string) float64 { return column(t, m, record, owner, figure) }
		w := of("a", "inW") - of("a", "lightW")
		above := of("a", "seatC") - of("b", "bodyC")
		closeTo(t, name+": the wood under each board", above, w/2*spreads, 1e-3)
		if above < 20 {
			t.Errorf("%s: %g K", name, above)
		}
		if name == "alike" {
			closeTo(t, name+": the joint", of("a", "boardC")-of("a", "seatC"), w/2*joint, 1e-3)
		}
	}
	for name, change := range map[string]func(*design.Node, *design.Body){
		"no area":      func(n *design.Node, _ *design.Body) { n.Array.Joint.AreaM2 = nil },
		"by its K/W":   func(_ *design.Node, b *design.Body) { b.Shape, b.KPerW = nil, ptr(3.0) },
		"no thickness": func(_ *design.Node, b *design.Body) { s := wood; s.ThicknessM = nil; b.Shape = &s },
	} {
		m := light(change)
		for _, c := range m.Columns() {
			if c.Figure == "seatC" {
				t.Errorf("%s: it is told", name)
			}
		}
	}
	strip := &design.Strip{VoltageV: 12, PerMetreW: ptr(10.0), CutM: 0.05, LoopOhm: ptr(0.0), WidthM: ptr(0.01)}
	l := supplyLight(12, 0, []design.Part{{ID: "s", Name: "Strip", Strip: strip}}, design.Node{ID: "strip", BodyID: "b", Strip: &design.StripUse{PartID: "s", PiecesM: []float64{0.3}, Joint: &design.Joint{KPerW: ptr(2.0)}}})
	l.Variants[0].Bodies = []design.Body{{ID: "b", Name: "b", Shape: &wood}}
	m := compile(t, l)
	_, record := restOf(t, m)
	of := func(owner, figure string) float64 { return column(t, m, record, owner, figure) }
	closeTo(t, "the tape", of("strip", "caseC")-of("strip", "seatC"), 2*of("strip", "inW"), 1e-3)
	closeTo(t, "the wood under it", of("strip", "seatC")-of("b", "bodyC"), of("strip", "inW")*law.StripSpreadKPerW(&wood, 0.3, 0.3, 0.01), 1e-3)
}
