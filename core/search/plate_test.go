package search

import (
	"context"
	"errors"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
)

// plateLight is the handlamp's emitters on a painted sheet.
func plateLight(t *testing.T, spots ...design.LayoutSpot) *design.Light {
	t.Helper()
	return sinkLight(t, func(l *design.Light, b *design.Body) {
		b.Shape = &design.Shape{Kind: "plate", Surface: "painted", LengthM: p(0.2), WidthM: p(0.12), ThicknessM: p(0.001)}
		design.FindNode(l.Variants[0].Feeds[0].Loads, "emitters").Array.Joint = &design.Joint{KPerW: p(0.5), AreaM2: p(3e-4)}
		if len(spots) > 0 {
			l.Variants[0].Layouts = []design.Layout{{ID: "places", BodyID: b.ID, Spots: spots}}
		}
	})
}

func plateOf(t *testing.T, light *design.Light, array string) *Plate {
	t.Helper()
	out, err := PlateOf(context.Background(), light, 0, light.Variants[0].Bodies[0].ID, array)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// The map has the body's temperature on average and loses what goes in, within 0.1 % as every
// map must; the hottest cell lies under a pad. Each way to place them, taken, is as warm as
// it was said, and the coolest comes first: apart is cooler than heaped.
func TestPlateOfALight(t *testing.T) {
	light := plateLight(t, design.LayoutSpot{NodeID: "emitters", XM: 0.03, YM: 0.03}, design.LayoutSpot{NodeID: "emitters", XM: 0.05, YM: 0.03}, design.LayoutSpot{NodeID: "emitters", XM: 0.15, YM: 0.09})
	got := plateOf(t, light, "emitters")
	if got.Map == nil || len(got.Places) != 3 || len(got.Faults) != 0 || len(got.Ways) != 5 {
		t.Fatalf("%+v", got)
	}
	if got.Arrays[0].Mean {
		t.Error("one string is not where its places are")
	}
	array := design.FindNode(light.Variants[0].Feeds[0].Loads, "emitters").Array
	if array.Parallel = 2; !plateOf(t, light, "").Arrays[0].Mean {
		t.Error("three places are those of two strings of three")
	}
	array.Parallel = 1
	mean, hot := 0.0, 0
	for c, t := range got.Map.C {
		mean += t / float64(len(got.Map.C))
		if t > got.Map.C[hot] {
			hot = c
		}
	}
	if math.Abs(mean-rested1(t, light)) > 0.01 || math.Abs(got.Map.MeanC-mean) > 0.01 || math.Abs(got.Map.OffW-got.Map.IntoW) > 1e-3*got.Map.IntoW || got.Map.IntoW < 3 {
		t.Errorf("mean %g, %g °C, into it %g W, off it %g W", mean, got.Map.MeanC, got.Map.IntoW, got.Map.OffW)
	}
	x, y := (float64(hot%got.Map.NX)+0.5)*0.2/float64(got.Map.NX), (float64(hot/got.Map.NX)+0.5)*0.12/float64(got.Map.NY)
	if math.Abs(x-0.04) > 0.02 || math.Abs(y-0.03) > 0.01 {
		t.Errorf("the map is hottest at %g, %g m", x, y)
	}
	last := 0.0
	for _, way := range got.Ways {
		if way.CaseC == nil {
			t.Errorf("%s: %s", way.Name, way.Why)
			continue
		}
		if *way.CaseC < last {
			t.Errorf("%s comes after a warmer one", way.Name)
		}
		last = *way.CaseC
		hottest := 0.0
		for _, p := range plateOf(t, plateLight(t, way.Spots...), "").Places {
			hottest = max(hottest, p.CaseC)
		}
		if math.Abs(hottest-*way.CaseC) > 1e-6 {
			t.Errorf("%s: said %g °C, taken %g", way.Name, *way.CaseC, hottest)
		}
	}
	if got.Ways[4].Name != "a cluster" || *got.Ways[4].CaseC < *got.Ways[0].CaseC+1 {
		t.Errorf("%s is worst, at %g °C; best %g", got.Ways[4].Name, *got.Ways[4].CaseC, *got.Ways[0].CaseC)
	}
}

// Without places there is no map, and as many are offered as there are boards, or emitters of
// one board; what does not go says why; what cannot be asked says so at its place.
func TestPlateWithoutPlaces(t *testing.T) {
	light := plateLight(t)
	got := plateOf(t, light, "emitters")
	if got.Map != nil || len(got.Places) != 0 || len(got.Arrays) != 1 || got.Arrays[0].Usual != 3 || got.Arrays[0].Spots != 0 || len(got.Ways[0].Spots) != 3 || got.Ways[0].CaseC == nil {
		t.Errorf("%+v", got)
	}
	boards := plateLight(t)
	design.FindNode(boards.Variants[0].Feeds[0].Loads, "emitters").Array.Count = 30
	many := plateOf(t, boards, "emitters")
	for _, way := range many.Ways {
		if way.Name == "a ring" && (way.CaseC != nil || !strings.Contains(way.Why, "overlap")) || len(way.Spots) != 30 {
			t.Errorf("%+v", way)
		}
	}
	over := plateOf(t, plateLight(t, design.LayoutSpot{NodeID: "emitters", XM: 0.001, YM: 0.03}), "")
	if over.Map != nil || len(over.Faults) != 1 {
		t.Errorf("over the edge: %+v", over)
	}
	var place *PlaceError
	if _, err := PlateOf(context.Background(), light, 0, "nothing", ""); !errors.As(err, &place) {
		t.Errorf("no body: %v", err)
	}
	if _, err := PlateOf(context.Background(), light, 0, light.Variants[0].Bodies[0].ID, "nothing"); !errors.As(err, &place) {
		t.Errorf("no emitters: %v", err)
	}
	light.Variants[0].Bodies[0].Shape.WidthM = nil
	if _, err := PlateOf(context.Background(), light, 0, light.Variants[0].Bodies[0].ID, ""); !errors.As(err, &place) || !strings.Contains(err.Error(), "length and width") {
		t.Errorf("no face: %v", err)
	}
}

// A cluster keeps a quarter of a pad between its pads, both ways, around the middle; a ring
// keeps all at one distance from it.
func TestClusterAndRing(t *testing.T) {
	for n := 1; n < 20; n++ {
		at := cluster(n, 0.3, 0.2, 0.02, 0.01)
		x, y := 0.0, 0.0
		for i, a := range at {
			x, y = x+a[0]/float64(n), y+a[1]/float64(n)
			for _, b := range at[:i] {
				if math.Abs(a[0]-b[0]) < 0.02*1.25-1e-9 && math.Abs(a[1]-b[1]) < 0.01*1.25-1e-9 {
					t.Errorf("of %d in a cluster two stand at %v and %v", n, a, b)
				}
			}
			if math.Abs(a[0]-0.15) > 0.02*1.25*math.Sqrt(float64(n))/2+1e-9 {
				t.Errorf("of %d in a cluster one stands at %v", n, a)
			}
		}
		if math.Abs(x-0.15) > 1e-9 || math.Abs(y-0.1) > 0.01 {
			t.Errorf("the middle of %d in a cluster is at %g, %g", n, x, y)
		}
		for _, a := range ring(n, 0.3, 0.2, 0.01) {
			if r := math.Hypot(a[0]-0.15, a[1]-0.1); math.Abs(r-0.075) > 1e-9 {
				t.Errorf("of %d in a ring one stands %g m from the middle", n, r)
			}
		}
	}
}

// Whatever the number and the plate, a grid and a row keep to the plate and are shared evenly.
func TestArrangementsKeepToThePlate(t *testing.T) {
	for n := 1; n < 40; n++ {
		for _, size := range [][2]float64{{0.2, 0.1}, {0.05, 0.4}, {0.1, 0.1}} {
			for name, at := range map[string][][2]float64{"grid": evenGrid(n, size[0], size[1]), "row": row(n, size[0], size[1])} {
				x, y := 0.0, 0.0
				for _, spot := range at {
					x, y = x+spot[0]/float64(n), y+spot[1]/float64(n)
					if spot[0] <= 0 || spot[1] <= 0 || spot[0] >= size[0] || spot[1] >= size[1] {
						t.Errorf("%s of %d on %v: %v", name, n, size, spot)
					}
				}
				if len(at) != n || math.Abs(x-size[0]/2) > 1e-9 || math.Abs(y-size[1]/2) > size[1]/4 {
					t.Errorf("%s of %d on %v: its middle is %g, %g", name, n, size, x, y)
				}
			}
		}
	}
}

// Drawn together an even grid gets hotter; from where it is told that more gains no kelvin, the
// grid so wide is a kelvin over the widest, and on thick copper the closest is no worse.
func TestHowFarApart(t *testing.T) {
	light := plateLight(t)
	design.FindNode(light.Variants[0].Feeds[0].Loads, "emitters").Array.Series = 4
	got := plateOf(t, light, "emitters")
	if len(got.Spacings) != 6 || got.EnoughM == nil {
		t.Fatalf("%+v, enough %v", got.Spacings, got.EnoughM)
	}
	way := func(p *Plate, name string) *Arrangement {
		for i := range p.Ways {
			if strings.HasPrefix(p.Ways[i].Name, name) {
				return &p.Ways[i]
			}
		}
		return nil
	}
	last := got.Spacings[5]
	for i := range 5 {
		if a, b := got.Spacings[i], got.Spacings[i+1]; a.PitchM >= b.PitchM || a.CaseC <= b.CaseC {
			t.Errorf("%d: %+v, then %+v", i, a, b)
		}
	}
	// Four on 200 × 120 mm stand 100 and 60 mm apart; pads that share 3 cm² touch at 8.7 mm, with a twentieth between.
	if side := math.Sqrt(3e-4 / 4); math.Abs(last.PitchM-0.06) > 1e-9 || math.Abs(got.Spacings[0].PitchM-1.05*side) > 2e-4 || math.Abs(last.CaseC-*way(got, "an even grid").CaseC) > 1e-9 {
		t.Errorf("from %g to %g m", got.Spacings[0].PitchM, last.PitchM)
	}
	closer := way(got, "a closer grid")
	if closer == nil || math.Abs(*closer.CaseC-last.CaseC-1) > 0.3 {
		t.Fatalf("closer %+v, widest %g °C", closer, last.CaseC)
	}
	apart := math.Inf(1)
	for i := range closer.Spots {
		for j := range i {
			apart = min(apart, math.Hypot(closer.Spots[i].XM-closer.Spots[j].XM, closer.Spots[i].YM-closer.Spots[j].YM))
		}
	}
	if math.Abs(apart-*got.EnoughM) > 2e-4 {
		t.Errorf("told %g m, placed %g", *got.EnoughM, apart)
	}
	thick := plateLight(t)
	s := thick.Variants[0].Bodies[0].Shape
	s.Material, s.ThicknessM = "copper", p(0.03)
	design.FindNode(thick.Variants[0].Feeds[0].Loads, "emitters").Array.Series = 4
	if got := plateOf(t, thick, "emitters"); got.EnoughM == nil || *got.EnoughM != got.Spacings[0].PitchM || way(got, "a grid as close") == nil {
		t.Errorf("on thick copper %+v, enough %v", got.Spacings, got.EnoughM)
	}
	// Where only the closest are more than a kelvin hotter it lies between them and the next.
	between := 0
	for mm := 1.5; mm < 12; mm += 0.5 {
		sheet := plateLight(t)
		sheet.Variants[0].Bodies[0].Shape.ThicknessM = p(mm / 1000)
		design.FindNode(sheet.Variants[0].Feeds[0].Loads, "emitters").Array.Series = 4
		got := plateOf(t, sheet, "emitters")
		if s := got.Spacings; s[0].CaseC-s[5].CaseC > 1.01 && s[1].CaseC-s[5].CaseC < 0.99 {
			between++
			if *got.EnoughM <= s[0].PitchM || *got.EnoughM >= s[1].PitchM {
				t.Errorf("%g mm: %g m is enough, of %+v", mm, *got.EnoughM, s)
			}
		}
	}
	if between == 0 {
		t.Error("of no sheet only the closest are hotter")
	}
	one := plateLight(t)
	design.FindNode(one.Variants[0].Feeds[0].Loads, "emitters").Array.Series = 1
	if got := plateOf(t, one, "emitters"); len(got.Spacings) != 0 || got.EnoughM != nil {
		t.Errorf("one: %+v", got)
	}
	// Large pads leave no room to draw together.
	full := plateLight(t, design.LayoutSpot{NodeID: "emitters", XM: 0.05, YM: 0.06, LengthM: p(0.065), WidthM: p(0.1)})
	if got := plateOf(t, full, "emitters"); got.EnoughM != nil && len(got.Spacings) == 0 {
		t.Errorf("full: %+v", got)
	}
}
