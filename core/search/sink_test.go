package search

import (
	"context"
	"errors"
	"math"
	"testing"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/heat"
)

func sinkLight(t *testing.T, change func(*design.Light, *design.Body)) *design.Light {
	t.Helper()
	light := handlamp(t)
	b := &light.Variants[0].Bodies[0]
	b.KPerW, b.HeatJPerK, b.MassKg = nil, nil, nil
	b.Shape = &design.Shape{Kind: "fins", LengthM: p(0.08), WidthM: p(0.06), ThicknessM: p(0.004), Fins: 8, FinHeightM: p(0.02), FinThickM: p(0.0015), Surface: "anodised"}
	change(light, b)
	if err := design.Check(light); err != nil {
		t.Fatal(err)
	}
	return light
}

func sink(t *testing.T, light *design.Light) *Sink {
	t.Helper()
	out, err := SinkOf(context.Background(), light, 0, light.Variants[0].Bodies[0].ID)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func rested1(t *testing.T, light *design.Light) (bodyC float64) {
	t.Helper()
	m, err := chain.Compile(light, chain.Options{})
	if err != nil {
		t.Fatal(err)
	}
	st, err := m.Solver().Steady(context.Background())
	if err != nil || !st.Converged {
		t.Fatal(err, st)
	}
	for i, c := range m.Columns() {
		if c.Owner == light.Variants[0].Bodies[0].ID && c.Figure == "bodyC" {
			return st.Record[i]
		}
	}
	return 0
}

// What a sink is told agrees with the light itself: it ends where the light's body does, the
// current found for the limit settles there, and each what-if is the light edited so.
func TestSinkOfALight(t *testing.T) {
	light := sinkLight(t, func(l *design.Light, _ *design.Body) { l.Conditions.Handheld = true })
	got := sink(t, light)
	if got.EndsAtC == nil || math.Abs(*got.EndsAtC-rested1(t, light)) > 0.01 || got.LimitC != 48 || got.LimitOf != "a hand" || got.Unsettled != "" {
		t.Fatalf("%+v", got)
	}
	if got.Emitters != 3 || got.RuleLEDs != int(3*got.RuleW/got.HeatW) || got.MaxLEDs != int(3*got.PhysicsW/got.HeatW) || got.MassKg == nil || got.AllInputC == nil || *got.AllInputC <= *got.EndsAtC {
		t.Errorf("%+v", got)
	}
	if got.CurrentA == nil || *got.SetA != 1.5 {
		t.Fatalf("current %v of %v", got.CurrentA, got.SetA)
	}
	turned := sinkLight(t, func(l *design.Light, _ *design.Body) { l.Conditions.Handheld = true })
	design.FindNode(turned.Variants[0].Feeds[0].Loads, "driver").Driver.SetCurrentA = got.CurrentA
	if c := rested1(t, turned); math.Abs(c-48) > 0.05 {
		t.Errorf("at %g A it settles at %g °C", *got.CurrentA, c)
	}
	for name, edit := range map[string]func(*design.Light, *design.Body){
		"10 K warmer air": func(l *design.Light, _ *design.Body) { l.Conditions.AmbientC += 10 },
		"the paste dries out": func(l *design.Light, _ *design.Body) {
			joint := design.FindNode(l.Variants[0].Feeds[0].Loads, "emitters").Array.Joint
			r, _ := heat.JointKPerW(joint)
			joint.KPerW = p(3 * r)
		},
		"laid on a table": func(_ *design.Light, b *design.Body) { b.Shape.Pose, b.Shape.OneFace = "up", true },
		"in a closed box": func(l *design.Light, b *design.Body) {
			b.Inside = "box"
			box := &design.Shape{Kind: "box", Material: "printed-plastic", LengthM: p(*b.Shape.LengthM + 0.06), WidthM: p(*b.Shape.WidthM + 0.06), HeightM: p(*b.Shape.FinHeightM + 0.06), ThicknessM: p(0.003)}
			l.Variants[0].Bodies = append(l.Variants[0].Bodies, design.Body{ID: "box", Name: "Box", Shape: box})
		},
	} {
		changed := sinkLight(t, func(l *design.Light, b *design.Body) { l.Conditions.Handheld = true; edit(l, b) })
		found := false
		for _, w := range got.WhatIfs {
			if w.Name == name {
				found = true
				if w.BodyC == nil || math.Abs(*w.BodyC-rested1(t, changed)) > 1e-6 {
					t.Errorf("%s: %v", name, w.BodyC)
				}
			}
		}
		if !found {
			t.Errorf("%s is not asked: %+v", name, got.WhatIfs)
		}
	}
	// Of wood: a board as large as its base, at a current that it bears.
	gentle := func(l *design.Light, _ *design.Body) {
		design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").Driver.SetCurrentA = p(0.1)
	}
	board := sinkLight(t, func(l *design.Light, b *design.Body) {
		gentle(l, b)
		b.Shape = &design.Shape{Kind: "plate", Material: "wood", LengthM: b.Shape.LengthM, WidthM: b.Shape.WidthM, ThicknessM: p(0.018)}
	})
	for _, w := range sink(t, sinkLight(t, gentle)).WhatIfs {
		if w.Name == "of wood instead" && (w.BodyC == nil || math.Abs(*w.BodyC-rested1(t, board)) > 1e-6) {
			t.Errorf("of wood %v, edited so %g", w.BodyC, rested1(t, board))
		}
	}
	for _, w := range got.WhatIfs {
		if w.Name == "its fan stops" || w.Name == "painted or anodised" {
			t.Errorf("%s means nothing here", w.Name)
		}
	}
}

// In the sun, in a tent, wet, and with a film that was measured, it ends where the light's body does
// too; a shorter length of fins for the sun's heat is none.
func TestSinkInWhatIsAroundIt(t *testing.T) {
	for name, edit := range map[string]func(*design.Light, *design.Body){
		"sun":      func(l *design.Light, b *design.Body) { l.Conditions.SunWPerM2, b.SunM2 = p(700.0), p(0.006) },
		"measured": func(_ *design.Light, b *design.Body) { b.FilmPower, b.Shape.FilmShare = p(0.2), p(0.7) },
		"wet": func(l *design.Light, b *design.Body) {
			b.Shape = &design.Shape{Kind: "plate", LengthM: p(0.3), WidthM: p(0.3), ThicknessM: p(0.003), Wet: true}
			design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").Driver.SetCurrentA = p(0.2)
		},
		"wet and off": func(l *design.Light, b *design.Body) {
			b.Shape = &design.Shape{Kind: "plate", LengthM: p(0.3), WidthM: p(0.3), ThicknessM: p(0.003), Wet: true}
			l.Variants[0].Feeds[0].Loads = nil
		},
		"tent": func(l *design.Light, b *design.Body) {
			b.Inside, b.SunM2, l.Conditions.SunWPerM2 = "tent", p(0.02), p(300.0)
			l.Variants[0].Bodies = append(l.Variants[0].Bodies, design.Body{ID: "tent", Name: "Tent", VentM3H: p(20.0), Shape: &design.Shape{Kind: "box", Material: "printed-plastic", LengthM: p(0.5), WidthM: p(0.5), HeightM: p(0.8), ThicknessM: p(0.001)}})
		},
	} {
		light := sinkLight(t, edit)
		got, at := sink(t, light), rested1(t, light)
		if got.EndsAtC == nil || math.Abs(*got.EndsAtC-at) > 0.02 {
			t.Errorf("%s: ends at %v, the light's body at %g °C", name, *got.EndsAtC, at)
		}
		if name == "sun" {
			in := 700 * 0.006 * heat.Absorbs(light.Variants[0].Bodies[0].Shape)
			shade := sink(t, sinkLight(t, func(*design.Light, *design.Body) {}))
			if math.Abs(got.SunW-in) > 1e-9 || math.Abs(got.HeatW-shade.HeatW) > 0.02*shade.HeatW || math.Abs(shade.PhysicsW-got.PhysicsW-in) > 1e-6 || *got.PhysicsLengthM <= *shade.PhysicsLengthM || *got.SureLengthM <= *got.PhysicsLengthM {
				t.Errorf("sun %+v\nshade %+v", got, shade)
			}
			cut := sinkLight(t, func(l *design.Light, b *design.Body) { edit(l, b); b.Shape.LengthM = got.PhysicsLengthM })
			if c := rested1(t, cut); math.Abs(c-got.LimitC) > 1 {
				t.Errorf("cut to %g m it rests at %g of %g °C", *got.PhysicsLengthM, c, got.LimitC)
			}
		}
	}
}

// Behind a joint that lets little through junctions overheat before the body comes to its limit:
// there is a current at which nothing rests any more, and none at which it settles at the limit.
func TestNoCurrentAtAJump(t *testing.T) {
	at := func(kPerW, amps float64) *design.Light {
		return sinkLight(t, func(l *design.Light, _ *design.Body) {
			l.Conditions.Handheld = true
			design.FindNode(l.Variants[0].Feeds[0].Loads, "emitters").Array.Joint.KPerW = &kPerW
			design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").Driver.SetCurrentA = &amps
		})
	}
	if got := sink(t, at(200, 1.5)); got.CurrentA != nil || got.SetA == nil || got.Unsettled == "" || sink(t, at(200, 0.1)).Unsettled != "" {
		t.Errorf("it is told to settle at its limit with %v A; now: %q", got.CurrentA, got.Unsettled)
	}
	if got := sink(t, at(1, 1.5)); got.CurrentA == nil {
		t.Error("behind a good joint there is a current")
	}
}

// Cut from a profile of the cabinet, the lengths to buy weigh and cost by the metre, and a
// light of its measures typed is the same light.
func TestSinkCutFromAProfile(t *testing.T) {
	cut := func(typed bool) *design.Light {
		return sinkLight(t, func(l *design.Light, b *design.Body) {
			b.Shape = &design.Shape{Kind: "profile", LengthM: p(0.1), PartID: "extrusion"}
			l.Parts = append(l.Parts, design.Part{ID: "extrusion", Name: "Extrusion", Price: p(30.0), Profile: &design.Profile{WidthM: p(0.1), HeightM: p(0.03), PerimeterM: p(0.9), KgPerM: p(2.5), BaseM: p(0.004)}})
			if typed {
				b.Shape = &design.Shape{Kind: "profile", LengthM: p(0.1), WidthM: p(0.1), HeightM: p(0.03), PerimeterM: p(0.9), KgPerM: p(2.5), ThicknessM: p(0.004)}
			}
		})
	}
	got, typed := sink(t, cut(false)), sink(t, cut(true))
	if got.MassKg == nil || math.Abs(*got.MassKg-0.25) > 1e-9 || math.Abs(*got.RuleKg-2.5**got.RuleLengthM) > 1e-9 || math.Abs(*got.PhysCost-30**got.PhysicsLengthM) > 1e-9 || typed.RuleCost != nil {
		t.Errorf("%+v", got)
	}
	if math.Abs(*got.EndsAtC-*typed.EndsAtC) > 1e-6 || math.Abs(rested1(t, cut(false))-rested1(t, cut(true))) > 1e-9 {
		t.Errorf("cut %g °C, typed %g", *got.EndsAtC, *typed.EndsAtC)
	}
	if in := got.InputW - got.LightW - got.HeatW; in < -1e-6 || in > 3 || got.LightW < 3 {
		t.Errorf("%g W in, %g light, %g onto it", got.InputW, got.LightW, got.HeatW)
	}
}

// Limits come from the material, from a hand, or from what is usual; what means something is
// asked; a body without measures, or none at all, is said so.
func TestLimitsOfASink(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*design.Light, *design.Body)
		limitC float64
		of     string
	}{
		"usual":        {func(_ *design.Light, b *design.Body) { b.Touchable = false }, 60, "what is usual"},
		"touched":      {func(l *design.Light, _ *design.Body) { l.Brief.TouchC, l.Conditions.Handheld = nil, false }, 65, "a hand"},
		"held":         {func(l *design.Light, _ *design.Body) { l.Conditions.Handheld = true }, 48, "a hand"},
		"its material": {func(_ *design.Light, b *design.Body) { b.MaxC, b.Touchable = p(44.0), false }, 44, "its material"},
		"printed":      {func(_ *design.Light, b *design.Body) { b.Shape.Material, b.Touchable = "printed-plastic", false }, 55, "printed plastic"},
		"printed and held": {func(l *design.Light, b *design.Body) {
			b.Shape.Material, l.Conditions.Handheld = "printed-plastic", true
		}, 48, "a hand"},
		"printed and touched": {func(l *design.Light, b *design.Body) {
			b.Shape.Material, l.Brief.TouchC, l.Conditions.Handheld = "printed-plastic", nil, false
		}, 55, "printed plastic"},
	} {
		light := sinkLight(t, c.change)
		if limit, of := limitOf(light, &light.Variants[0].Bodies[0]); limit != c.limitC || of != c.of {
			t.Errorf("%s: %g °C by %s", name, limit, of)
		}
	}
	blown := sink(t, sinkLight(t, func(_ *design.Light, b *design.Body) { b.Shape.Surface, b.Shape.Fan = "bare", &design.Fan{FlowM3H: 15} }))
	asked := map[string]*float64{}
	for _, w := range blown.WhatIfs {
		asked[w.Name] = w.BodyC
	}
	if fan, paint := asked["its fan stops"], asked["painted or anodised"]; fan == nil || *fan < *blown.EndsAtC+5 || math.Abs(*fan-*blown.StoppedC) > 1 || paint == nil || *paint >= *blown.EndsAtC {
		t.Errorf("%+v, at rest %v, stopped %v", asked, *blown.EndsAtC, *blown.StoppedC)
	}
	var place *PlaceError
	bare := sinkLight(t, func(_ *design.Light, b *design.Body) { b.Shape, b.KPerW = nil, p(3.0) })
	for name, light := range map[string]*design.Light{"no measures": bare, "one is missing": sinkLight(t, func(_ *design.Light, b *design.Body) { b.Shape.LengthM = nil })} {
		if _, err := SinkOf(context.Background(), light, 0, light.Variants[0].Bodies[0].ID); !errors.As(err, &place) || place.Of != "body" {
			t.Errorf("%s: %v", name, err)
		}
	}
	if _, err := SinkOf(context.Background(), bare, 0, "nobody"); !errors.As(err, &place) {
		t.Errorf("nobody: %v", err)
	}
	// A sink far too small: nothing rests, physics allows less than there is, and no current of
	// those looked at does.
	tiny := sink(t, sinkLight(t, func(_ *design.Light, b *design.Body) {
		b.Shape = &design.Shape{Kind: "plate", LengthM: p(0.01), WidthM: p(0.01)}
	}))
	if tiny.Unsettled == "" || tiny.MaxLEDs != 0 || tiny.HeatW < 5 || tiny.MassKg != nil {
		t.Errorf("%+v", tiny)
	}
	if heat.PassiveM2PerW <= heat.FanM2PerW {
		t.Error("a fan needs more")
	}
}
