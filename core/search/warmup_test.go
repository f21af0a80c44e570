package search

import (
	"context"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
)

func warm(t *testing.T, light *design.Light) *WarmUp {
	t.Helper()
	out, err := WarmUpOf(context.Background(), light, 0)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func curve(t *testing.T, w *WarmUp, owner, figure string) *WarmCurve {
	t.Helper()
	for i := range w.Curves {
		if w.Curves[i].Owner == owner && w.Curves[i].Figure == figure {
			return &w.Curves[i]
		}
	}
	t.Fatalf("no curve %s.%s", owner, figure)
	return nil
}

// A resistor on a supply heats a body of known K/W and J/K: the textbook exponential, read at
// 1, 5, 15 and 60 minutes, its time constant R·C and 63 % reached after it.
func TestWarmUpOfOneBody(t *testing.T) {
	const watts, r, c = 12.0, 3.0, 200.0
	light := &design.Light{Format: design.Format, Version: design.Version, Name: "heater", Conditions: design.Conditions{AmbientC: 20}, Parts: []design.Part{},
		Variants: []design.Variant{{ID: "v", Name: "v", Bodies: []design.Body{{ID: "b", Name: "Block", KPerW: p(r), HeatJPerK: p(c), Touchable: true, TouchedFor: "minute"}},
			Feeds: []design.Feed{{ID: "f", Sources: []design.Source{{ID: "rail", Supply: &design.Supply{VoltageV: 12}}}, Loads: []design.Node{{ID: "load", BodyID: "b", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 12, CurrentA: 1}}}}}}}}}}
	w := warm(t, light)
	b := curve(t, w, "b", "bodyC")
	for i, at := range []float64{60, 300, 900, 3600} {
		if want := 20 + watts*r*(1-math.Exp(-at/(r*c))); b.AtMarks[i] == nil || math.Abs(*b.AtMarks[i]-want) > 0.3 {
			t.Errorf("after %g s %v, want %g °C", at, b.AtMarks[i], want)
		}
	}
	if math.Abs(*b.RestC-56) > 1e-4 || math.Abs(*b.TauS-600) > 6 || len(w.ConstantsS) != 1 || math.Abs(w.ConstantsS[0]-600) > 1e-6 {
		t.Errorf("rests at %v °C, 63 %% after %v s, constants %v", *b.RestC, *b.TauS, w.ConstantsS)
	}
	// 51 °C, what a hand bears for a minute, is passed after −RC·ln(1−31/36).
	want := -r * c * math.Log(1-31.0/36)
	if len(w.Bare) != 1 || w.Bare[0].AfterS == nil || math.Abs(*w.Bare[0].AfterS-want) > 0.01*want || !strings.Contains(w.Bare[0].What, "hand") || *b.LimitC != 51 {
		t.Errorf("%+v, want after %g s", w.Bare, want)
	}
	// Into an insulated one, nothing comes to rest and nothing is read there.
	light.Variants[0].Bodies[0].KPerW = p(900.0)
	if w := warm(t, light); w.Unsettled == "" || curve(t, w, "b", "bodyC").RestC != nil || len(w.ConstantsS) != 0 {
		t.Errorf("%+v", w)
	}
}

// Two bodies: the constants are the roots of the quadratic of the two-node network.
func TestConstantsOfTwoBodies(t *testing.T) {
	const r1, r2, c1, c2 = 2.0, 5.0, 40.0, 300.0
	light := &design.Light{Format: design.Format, Version: design.Version, Name: "heater", Conditions: design.Conditions{AmbientC: 20}, Parts: []design.Part{},
		Variants: []design.Variant{{ID: "v", Name: "v", Bodies: []design.Body{{ID: "a", Name: "Inner", HeatJPerK: p(c1), Joints: []design.BodyLink{{BodyID: "b", Joint: design.Joint{KPerW: p(r1)}}}}, {ID: "b", Name: "Outer", KPerW: p(r2), HeatJPerK: p(c2)}},
			Feeds: []design.Feed{{ID: "f", Sources: []design.Source{{ID: "rail", Supply: &design.Supply{VoltageV: 5}}}, Loads: []design.Node{{ID: "load", BodyID: "a", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 5, CurrentA: 1}}}}}}}}}}
	got := warm(t, light).ConstantsS
	// s² + s·(1/r1c1 + 1/r1c2 + 1/r2c2) + 1/(r1r2c1c2) = 0
	half, product := (1/(r1*c1)+1/(r1*c2)+1/(r2*c2))/2, 1/(r1*r2*c1*c2)
	root := math.Sqrt(half*half - product)
	if len(got) != 2 || math.Abs(got[0]-1/(half-root)) > 1e-3*got[0] || math.Abs(got[1]-1/(half+root)) > 1e-3*got[1] {
		t.Errorf("%v, want %g and %g", got, 1/(half-root), 1/(half+root))
	}
}

// Without its sink, its fan or out of the open, what passes first is named, sooner; a mass
// that is not known is said; what a run is cut off before is not read.
func TestBareTests(t *testing.T) {
	light := sinkLight(t, func(_ *design.Light, b *design.Body) {
		b.Shape.Fan, b.Touchable = &design.Fan{FlowM3H: 10}, false
	})
	w := warm(t, light)
	after := map[string]*BareTest{}
	for i := range w.Bare {
		after[w.Bare[i].Name] = &w.Bare[i]
	}
	if after["as it is"].AfterS != nil || after["as it is"].HotC == nil {
		t.Errorf("as it is: %+v", after["as it is"])
	}
	if b := after["emitters without their sink"]; b.AfterS == nil || *b.AfterS > 300 || !strings.Contains(b.What, "junction") {
		t.Errorf("without its sink: %+v after %g s", b, *b.AfterS)
	}
	if b := after["its fan stopped"]; b == nil || *b.HotC < *after["as it is"].HotC+5 {
		t.Errorf("its fan stopped: %+v", b)
	}
	if after["out of its housing"] != nil {
		t.Error("it stands in nothing")
	}
	last := curve(t, w, "emitters", "junctionC")
	if len(last.C) != len(w.T) || last.LimitC == nil || last.C[0] >= *last.RestC {
		t.Errorf("%+v", last)
	}
	unrated := sinkLight(t, func(l *design.Light, _ *design.Body) {
		for i := range l.Parts {
			if l.Parts[i].Emitter != nil {
				l.Parts[i].Emitter.MaxJunctionC = nil
			}
		}
	})
	if c := curve(t, warm(t, unrated), "emitters", "junctionC"); c.LimitC != nil {
		t.Errorf("a junction whose highest temperature nobody gave is held to %g °C", *c.LimitC)
	}
	housed := sinkLight(t, func(l *design.Light, b *design.Body) {
		b.Inside, b.Touchable = "box", false
		l.Variants[0].Bodies = append(l.Variants[0].Bodies, design.Body{ID: "box", Name: "Box", KPerW: p(1.0)})
	})
	w = warm(t, housed)
	if len(w.Unknown) != 1 || w.Unknown[0] != "Box" || curve(t, w, "box", "insideC").Name != "air in Box" {
		t.Errorf("unknown %v", w.Unknown)
	}
	found := false
	for _, b := range w.Bare {
		found = found || b.Name == "out of its housing"
	}
	if !found {
		t.Error("out of its housing is not tried")
	}
	short := sinkLight(t, func(l *design.Light, _ *design.Body) { l.Conditions.Charge = p(0.05) })
	if m := curve(t, warm(t, short), "emitters", "junctionC").AtMarks; m[0] == nil || m[3] != nil {
		t.Errorf("nearly empty it is read at %v", m)
	}
}

// Wood is followed where it is hottest, under what sits on it, up to what it bears; of metal that
// place is none of its own.
func TestWarmUpUnderABoard(t *testing.T) {
	light := handlamp(t)
	v := &light.Variants[0]
	b := &v.Bodies[0]
	b.KPerW, b.HeatJPerK, b.MassKg, b.MaxC, b.Touchable = nil, nil, nil, nil, false
	design.FindNode(v.Feeds[0].Loads, "emitters").Array.Joint = &design.Joint{KPerW: p(0.2), AreaM2: p(1e-3)}
	design.FindNode(v.Feeds[0].Loads, "driver").Driver.SetCurrentA = p(0.5)
	v.Feeds[0].Sources[0] = design.Source{ID: "bench", Supply: &design.Supply{VoltageV: 15}}
	for material, limit := range map[string]float64{"wood": 80, "printed-plastic": 55, "aluminium": 0} {
		b.Shape = &design.Shape{Kind: "plate", Material: material, LengthM: p(0.5), WidthM: p(0.4), ThicknessM: p(0.018)}
		w := warm(t, light)
		if limit == 0 {
			for _, c := range w.Curves {
				if c.Figure == "seatC" {
					t.Errorf("of %s: %s", material, c.Name)
				}
			}
			continue
		}
		c := curve(t, w, "emitters", "seatC")
		if c.LimitC == nil || *c.LimitC != limit || c.RestC == nil || *c.RestC < limit || !strings.HasPrefix(c.Name, b.Name+", under ") {
			t.Errorf("%s: %+v", material, c)
		}
		if bare := w.Bare[0]; bare.AfterS == nil || *bare.AfterS > 3600 {
			t.Errorf("%s: %+v", material, bare)
		}
	}
	b.Shape.Material, b.MaxC = "aluminium", p(30.0)
	if c := curve(t, warm(t, light), "emitters", "seatC"); *c.LimitC != 30 {
		t.Errorf("said to bear 30 °C: %+v", c)
	}
}
