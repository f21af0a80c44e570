package target_test

import (
	"encoding/json"
	"math"
	"math/rand/v2"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
	"photherm/core/target"
)

// scenes is how many are drawn.
const scenes = 60

// Demo lights looked at through optics, from places and into rooms and tanks drawn at random,
// sensible or not: nothing panics, no figure is none, no share is more than all, light in a closed
// room all ends somewhere, and what cannot be told says so.
func TestDrawnScenesHold(t *testing.T) {
	pictures, faults := 0, map[string]int{}
	for seed := range uint64(scenes) {
		if seed == scenes-1 {
			seed = 2227 // a wide shallow tank under a near light
		}
		if v := drawnScene(t, seed); v.Fault == "" && v.Dark == "" {
			pictures++
		} else {
			faults[v.Fault+v.Dark]++
		}
	}
	if pictures < scenes/3 {
		t.Errorf("%d of %d have a picture; the rest: %v", pictures, scenes, faults)
	}
}

func drawnScene(t *testing.T, seed uint64) *target.View {
	t.Helper()
	defer func() {
		if x := recover(); x != nil {
			t.Fatalf("seed %d panics: %v", seed, x)
		}
	}()
	names := []string{"shore-search-handlamp", "slipway-lantern", "germination-rack", "chart-table-strip", "eelgrass-tank"}
	r := rand.New(rand.NewPCG(seed, 9))
	l, err := sample.Example(names[seed%5] + ".json")
	if err != nil {
		t.Fatal(err)
	}
	in := func(low, high float64) *float64 { return new(low * math.Pow(high/low, r.Float64())) }
	maybe := func(x *float64) *float64 {
		if r.IntN(2) == 0 {
			return nil
		}
		return x
	}
	l.Scene = &design.Scene{Kind: []string{"", "beam", "area", "around", "strip", "tank"}[r.IntN(6)], Crop: []string{"", "herbs", "soft-corals"}[r.IntN(3)], Surround: *in(0.1, 500), RampH: maybe(in(0.1, 12))}
	if r.IntN(2) == 0 {
		l.Scene.Room = &design.Room{LengthM: maybe(in(0.05, 50)), HeightM: *in(0.05, 50), Walls: 0.98 * r.Float64(), Ceiling: 0.98 * r.Float64(), Floor: 0.98 * r.Float64()}
	}
	if r.IntN(3) > 0 {
		l.Scene.Tank = &design.Tank{LengthM: *in(0.02, 10), WidthM: *in(0.02, 10), DepthM: *in(0.01, 10), RimM: r.Float64(), Cover: r.IntN(2) == 0, Sides: []string{"glass", "black"}[r.IntN(2)], Water: []string{"", "tannin", "green"}[r.IntN(3)]}
	}
	l.Brief.AreaM, l.Brief.AreaAcrM, l.Brief.Lux, l.Brief.PPFD = maybe(in(0.01, 100)), maybe(in(0.01, 100)), maybe(in(1, 1e5)), maybe(in(1, 1e4))
	v := &l.Variants[0]
	v.Stands = nil
	for range r.IntN(3) {
		v.Stands = append(v.Stands, design.Stand{BodyID: v.Bodies[0].ID, XM: r.NormFloat64(), YM: r.NormFloat64(), HeightM: *in(0.002, 20), TiltDeg: 180*r.Float64() - 90, TurnDeg: 360 * r.Float64(), RollDeg: 360 * r.Float64()})
	}
	for n := range design.Nodes(v) {
		if n.Array != nil || n.Strip != nil {
			n.Optic = &design.Optic{Kind: []string{"", "bare", "lens", "smooth-reflector", "textured-reflector", "diffuser", "table"}[r.IntN(7)], SpotDeg: maybe(in(0.1, 80)), SpillDeg: maybe(in(85, 180)), SpotShare: maybe(in(0.01, 1)), OpeningM: maybe(in(0.001, 1)), Transmits: maybe(in(0.01, 1)), TiltDeg: 360*r.Float64() - 180, DiffuserM: maybe(in(0.001, 1))}
			n.Optic.Table = &design.IntensityTable{VerticalDeg: []float64{0, 30, 90, 180}, HorizontalDeg: []float64{0, 90}, Candela: [][]float64{{9, 5, 2, 1}, {9, 4 * r.Float64(), 0, 0}}}
		}
		if n.Array != nil {
			n.Array.BeamDeg = maybe(in(0.1, 180))
		}
	}
	if design.Check(l) != nil {
		return &target.View{Fault: "refused"}
	}
	look, err := target.Look(ctx, l, 0, target.Question{AtS: *in(1, 1e5), Ways: r.IntN(4) == 0, Colour: true, Kelvin: 4000, Against: -1})
	if err != nil {
		t.Fatalf("seed %d: %v", seed, err)
	}
	if _, err := json.Marshal(look); err != nil {
		t.Errorf("seed %d: %v", seed, err)
	}
	bad := func(what string, x float64) { t.Errorf("seed %d (%s, %s): %s is %g", seed, l.Name, look.Kind, what, x) }
	for _, m := range []*target.LightMap{look.Area, mapOf(look)} {
		if m == nil {
			continue
		}
		if !(m.Landing >= 0 && m.Landing <= 1.02) {
			bad("what lands", m.Landing)
		}
		if m.Min < 0 || m.Mean < m.Min-1e-9 || m.Mean > m.Max*(1+1e-9) {
			bad("the mean", m.Mean)
		}
		if e := m.Ends; e != nil && math.Abs(e.Plane+e.Walls+e.Ceiling-1) > 2e-3 {
			bad("what ends", e.Plane+e.Walls+e.Ceiling)
		}
	}
	if look.Tank != nil && look.Tank.Reaches > 1.02 {
		bad("what reaches the bottom", look.Tank.Reaches)
	}
	if b := look.Beam; b != nil && (b.PeakCd <= 0 || b.WidthDeg < 0 || b.WidthDeg > 360) {
		bad("the beam", b.WidthDeg)
	}
	return look
}

func mapOf(v *target.View) *target.LightMap {
	switch {
	case v.Around != nil:
		return v.Around.Map
	case v.Strip != nil:
		return v.Strip.Map
	case v.Tank != nil:
		return v.Tank.Bottom
	}
	return nil
}
