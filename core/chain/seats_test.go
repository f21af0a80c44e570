package chain

import (
	"context"
	"math"
	"slices"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
)

// abreast are emitters on a sheet behind one driver: one in the middle of neighbours, one in a
// corner by itself, others between. As one array of parallel strings, or as arrays of one string
// each, which have places of their own by all that went before.
func abreast(t *testing.T, apart bool, places [][2]float64, series int, change func(l *design.Light, arrays []*design.Node)) *Model {
	t.Helper()
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	v := &light.Variants[0]
	v.Corrected = nil
	b := &v.Bodies[0]
	b.KPerW, b.HeatJPerK, b.MassKg = nil, nil, nil
	b.Shape = &design.Shape{Kind: "plate", LengthM: ptr(0.2), WidthM: ptr(0.12), ThicknessM: ptr(0.0005), Surface: "painted"}
	driver := design.FindNode(v.Feeds[0].Loads, "driver")
	one := *design.FindNode(v.Feeds[0].Loads, "emitters")
	array := *one.Array
	array.Joint, array.Series, array.Parallel, array.BoardKPerW, array.BoardJPerK, array.Unequal = &design.Joint{KPerW: ptr(1.2), AreaM2: ptr(1e-4)}, series, 1, nil, nil, nil
	driver.Driver.SetCurrentA = ptr(4.0)
	driver.Driver.Modes, driver.Driver.Mode = nil, ""
	strings := len(places) / series
	layout := design.Layout{ID: "places", BodyID: b.ID}
	driver.Loads = nil
	if apart {
		for s := range strings {
			n, a := one, array
			n.ID, n.Array, n.Name = string(rune('a'+s)), &a, ""
			driver.Loads = append(driver.Loads, n)
		}
	} else {
		n, a := one, array
		a.Count = strings
		n.ID, n.Array = "a", &a
		driver.Loads = []design.Node{n}
	}
	for i, at := range places {
		id := "a"
		if apart {
			id = string(rune('a' + i/series))
		}
		layout.Spots = append(layout.Spots, design.LayoutSpot{NodeID: id, XM: at[0], YM: at[1], LengthM: ptr(0.01), WidthM: ptr(0.01)})
	}
	v.Layouts = []design.Layout{layout}
	var arrays []*design.Node
	for i := range driver.Loads {
		arrays = append(arrays, &driver.Loads[i])
	}
	if change != nil {
		change(light, arrays)
	}
	if err := design.Check(light); err != nil {
		t.Fatal(err)
	}
	return compile(t, light)
}

// Places none of which is as warm as another; and three crowded, one of them less so, and one in a
// corner.
var (
	unlike = [][2]float64{{0.1, 0.06}, {0.19, 0.06}, {0.01, 0.01}}
	crowd  = [][2]float64{{0.1, 0.06}, {0.115, 0.06}, {0.107, 0.075}, {0.015, 0.015}}
)

// A string of an array is as warm as its own places make it, and takes what that asks for: as an
// array of its own does there. In the steady state, in time, and dimmed by duty.
func TestStringsWhereTheySit(t *testing.T) {
	for name, c := range map[string]struct {
		places        [][2]float64
		series        int
		within, least float64 // of what is compared, and what the strings' heat differs by
		change        func(l *design.Light, arrays []*design.Node)
	}{
		"one each":               {unlike, 1, 1e-5, 0.02, nil},
		"a crowd of about alike": {crowd, 1, 2e-3, 0.01, nil},
		"two of two":             {append([][2]float64{{0.115, 0.06}}, unlike...), 2, 1e-5, 0.005, nil},
		"with resistors": {unlike, 1, 1e-5, 0.005, func(_ *design.Light, arrays []*design.Node) {
			for _, n := range arrays {
				n.Array.BallastOhm = ptr(0.3)
			}
		}},
		"by duty": {unlike, 1, 1e-5, 0.004, func(l *design.Light, _ []*design.Node) {
			design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").Driver.Dimming = &design.Level{Duty: ptr(0.4), FrequencyHz: ptr(500.0)}
		}},
	} {
		one, apart := abreast(t, false, c.places, c.series, c.change), abreast(t, true, c.places, c.series, c.change)
		s, record := restOf(t, one)
		far, want := restOf(t, apart)
		together, each := s.Places(), far.Places()
		if len(together) != len(each) || len(each) != len(c.places) {
			t.Fatalf("%s: %d and %d places", name, len(together), len(each))
		}
		at := func(list []Place, spot int) Place {
			return list[slices.IndexFunc(list, func(p Place) bool { return p.Spot == spot })]
		}
		low, high := math.Inf(1), math.Inf(-1)
		for i := range c.places {
			a, b := at(together, i), at(each, i)
			closeTo(t, name+": case", a.CaseC, b.CaseC, c.within)
			closeTo(t, name+": junction", a.JunctC, b.JunctC, c.within)
			closeTo(t, name+": plate", a.PlateC, b.PlateC, c.within)
			closeTo(t, name+": heat", a.HeatW, b.HeatW, c.within)
			low, high = min(low, a.HeatW), max(high, a.HeatW)
		}
		if high/low < 1+c.least {
			t.Errorf("%s: %g and %g W: the test would not see a difference", name, low, high)
		}
		closeTo(t, name+": light", column(t, one, record, "", "fluxLm"), column(t, apart, want, "", "fluxLm"), c.within)
		sharing, err := s.Sharing(context.Background())
		if err != nil {
			t.Fatal(err)
		}
		sum := 0.0
		for _, x := range sharing[0].Strings {
			sum += float64(x.Count) * x.CurrentA
		}
		if c.change == nil {
			closeTo(t, name+": all strings", sum, 4, 1e-6)
		}
		// In time too.
		run := func(m *Model) []float64 {
			s := m.Solver()
			r, err := s.RunFor(context.Background(), 240)
			if err != nil {
				t.Fatal(err)
			}
			return r.At(120)
		}
		closeTo(t, name+": light after two minutes", column(t, one, run(one), "", "fluxLm"), column(t, apart, run(apart), "", "fluxLm"), max(c.within, 1e-4))
	}
}

// Which string has which place: one for each emitter, string or board; where the numbers tell
// nothing the strings stay alike, and where all places are alike too.
func TestWhoSitsWhere(t *testing.T) {
	for name, c := range map[string]struct {
		places [][2]float64
		change func(a *design.Array)
		want   []int // strings of each group; nil: one group
		warmer int   // place of the hottest
	}{
		"one for each emitter": {[][2]float64{{0.01, 0.01}, {0.022, 0.01}, {0.1, 0.06}, {0.115, 0.06}}, func(a *design.Array) { a.Series, a.Parallel, a.Count = 2, 2, 1 }, []int{1, 1}, 0},
		"one for each string":  {[][2]float64{{0.1, 0.06}, {0.01, 0.01}}, func(a *design.Array) { a.Series, a.Parallel, a.Count = 2, 2, 1 }, []int{1, 1}, 1},
		"one for each board":   {[][2]float64{{0.1, 0.06}, {0.01, 0.01}}, func(a *design.Array) { a.Series, a.Parallel, a.Count = 1, 3, 2 }, []int{3, 3}, 1},
		"none of these":        {[][2]float64{{0.1, 0.06}, {0.01, 0.01}, {0.15, 0.03}}, func(a *design.Array) { a.Series, a.Parallel, a.Count = 2, 4, 1 }, nil, 1},
		"mirrored":             {[][2]float64{{0.05, 0.06}, {0.15, 0.06}}, func(a *design.Array) { a.Series, a.Parallel, a.Count = 1, 2, 1 }, nil, -1},
		"a single string":      {[][2]float64{{0.1, 0.06}, {0.01, 0.01}}, func(a *design.Array) { a.Series, a.Parallel, a.Count = 2, 1, 1 }, nil, 1},
		"twice the branch":     {[][2]float64{{0.1, 0.06}, {0.01, 0.01}}, nil, nil, 1},
		"more of them, unlike": {append([][2]float64{{0.05, 0.02}}, unlike...), func(a *design.Array) {
			a.Series, a.Parallel, a.Count, a.Unequal = 1, 4, 1, []design.Strings{{Strings: 1, OffsetV: 0.05}}
		}, []int{1, 1, 2}, -1},
	} {
		m := abreast(t, false, c.places, 1, func(_ *design.Light, arrays []*design.Node) {
			if c.change == nil {
				arrays[0].Array.Count, arrays[0].Array.Parallel, arrays[0].Count = 1, 2, 2
				return
			}
			c.change(arrays[0].Array)
		})
		k := m.wayOfNode(t, "a")
		var got []int
		for _, g := range m.net.Nodes[k].Arr.Groups {
			got = append(got, g.Strings)
		}
		if c.want == nil && m.seats[k] != nil || c.want != nil && !slices.Equal(got, c.want) {
			t.Errorf("%s: groups of %v strings, wanted %v", name, got, c.want)
		}
		s, _ := restOf(t, m)
		for _, p := range s.Places() {
			if p.Hottest && c.warmer >= 0 && p.Spot != c.warmer {
				t.Errorf("%s: place %d is the hottest", name, p.Spot)
			}
		}
	}
}

// A string that differs keeps what it has and its place: as an array of its own does.
func TestUnlikeStringOnItsPlace(t *testing.T) {
	with := func(u design.Strings) func(l *design.Light, arrays []*design.Node) {
		return func(_ *design.Light, arrays []*design.Node) {
			if len(arrays) > 1 { // the last of them
				u.Strings = 1
				arrays[len(arrays)-1].Array.Unequal = []design.Strings{u}
				return
			}
			arrays[0].Array.Unequal = []design.Strings{u}
		}
	}
	for name, u := range map[string]design.Strings{"another bin": {Strings: 1, OffsetV: 0.06}, "a resistor": {Strings: 1, BallastOhm: ptr(0.2)}, "open": {Strings: 1, Open: true}} {
		s, record := restOf(t, abreast(t, false, unlike, 1, with(u)))
		far, want := restOf(t, abreast(t, true, unlike, 1, with(u)))
		for _, p := range s.Places() {
			q := far.Places()[slices.IndexFunc(far.Places(), func(x Place) bool { return x.Spot == p.Spot })]
			closeTo(t, name+": case", p.CaseC, q.CaseC, 1e-5)
			closeTo(t, name+": junction", p.JunctC, q.JunctC, 1e-5)
			if (p.HeatW <= 1e-9) != (u.Open && p.Spot == len(unlike)-1) {
				t.Errorf("%s: %g W at place %d", name, p.HeatW, p.Spot)
			}
		}
		closeTo(t, name+": light", column(t, s.m, record, "", "fluxLm"), column(t, far.m, want, "", "fluxLm"), 1e-5)
	}
}

// A meter in one string of several is a resistor there: the same as a document that says so of
// the string that takes most. It is read alone, and is gone when the light is varied.
func TestMeterInOneString(t *testing.T) {
	const ohm = 0.05
	parts := []design.Part{ledPart(), {ID: "d", Name: "d", Driver: &design.Driver{Family: "linear", SetCurrentA: ptr(1.05), HeadroomV: ptr(0.3)}}}
	light := func(unlike ...design.Strings) *design.Light {
		node := arrayNodeOf("a", 1, 3)
		node.Array.Unequal = unlike
		return supplyLight(5, 0, parts, driverNodeOf("d", "d", design.DriverUse{}, node))
	}
	cold := func(s *Solver, figure string) float64 {
		record := make([]float64, len(s.m.Columns()))
		s.OperatingPoint(1, s.m.StartC(), record)
		return column(t, s.m, record, "a", figure)
	}
	for name, c := range map[string]struct{ plain, metered *design.Light }{
		"three alike":        {light(), light(design.Strings{Strings: 1, BallastOhm: ptr(ohm)})},
		"one of a lower bin": {light(design.Strings{Strings: 1, OffsetV: -0.05}), light(design.Strings{Strings: 1, OffsetV: -0.05, BallastOhm: ptr(ohm)})},
		"one of a higher":    {light(design.Strings{Strings: 1, OffsetV: 0.05}), light(design.Strings{Strings: 1, OffsetV: 0.05}, design.Strings{Strings: 1, BallastOhm: ptr(ohm)})},
	} {
		s := compile(t, c.plain).Solver()
		bare := cold(s, "stringA")
		if err := s.Meter("a", ohm); err != nil {
			t.Fatal(err)
		}
		m := compile(t, c.metered)
		record := make([]float64, len(m.Columns()))
		m.Solver().OperatingPoint(1, m.StartC(), record)
		group := "string1A"
		if name == "one of a higher" {
			group = "string2A"
		}
		want := column(t, m, record, "a", group)
		closeTo(t, name, cold(s, "stringA"), want, 1e-9)
		if want >= 0.995*bare {
			t.Errorf("%s: %g A, with the meter %g A", name, bare, want)
		}
		closeTo(t, name+": all of them", cold(s, "inA"), 1.05, 1e-9)
		if err := s.Vary(Variation{"/conditions/ambientC", Set, 25}); err != nil {
			t.Fatal(err)
		}
		closeTo(t, name+": without", cold(s, "stringA"), bare, 1e-9)
	}
	s := compile(t, light()).Solver()
	if s.Meter("d", ohm) == nil || s.Meter("b", ohm) == nil {
		t.Error("a meter in a string of no emitters")
	}
	if err := compile(t, light(design.Strings{Strings: 3, Open: true})).Solver().Meter("a", ohm); err == nil {
		t.Error("a meter in a string that takes nothing")
	}
}

// Varying a figure is editing the document, seats or not, and a plate on which other strings would
// sit together is still the same model; the light of each place is that of its own string.
func TestSeatsVaried(t *testing.T) {
	m := abreast(t, false, unlike, 1, nil)
	s := m.Solver()
	if err := s.Vary(Variation{"/variants/" + m.net.Variant.ID + "/bodies/housing/shape/thicknessM", Set, 0.02}); err != nil {
		t.Fatal(err)
	}
	st, err := s.Steady(context.Background())
	if err != nil || !st.Converged {
		t.Fatal(err, st.Reason)
	}
	thick := abreast(t, false, unlike, 1, func(l *design.Light, _ []*design.Node) {
		l.Variants[0].Bodies[0].Shape.ThicknessM = ptr(0.02)
	})
	_, want := restOf(t, thick)
	closeTo(t, "varied", column(t, m, st.Record, "", "fluxLm"), column(t, thick, want, "", "fluxLm"), 1e-6)
	// A fault takes strings from all seats.
	if err := s.Fault("a", 3, true); err != nil {
		t.Errorf("three of three: %v", err)
	}
	if err := m.Solver().Fault("a", 4, true); err == nil {
		t.Error("four of three strings are open")
	}
	// The light of a place.
	got := m.OnPlaces("a", 3, func(group int) float64 { return float64(10 + group) })
	s, _ = restOf(t, m)
	sharing, err := s.Sharing(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	for g, x := range sharing[0].Strings {
		if x.Name != "ordinary" || x.Count != 1 || len(x.Spots) != 1 || got[x.Spots[0]] != float64(10+g) {
			t.Errorf("group %d: %+v, of places %v", g, x, got)
		}
	}
	if m.OnPlaces("a", 2, func(int) float64 { return 1 }) != nil || m.OnPlaces("nobody", 3, func(int) float64 { return 1 }) != nil {
		t.Error("places nobody knows are told")
	}
}

// Strings by the hundred on one plate keep to a bounded number of seats, and many arrays to one.
func TestManySeats(t *testing.T) {
	var many [][2]float64
	for i := range 100 {
		many = append(many, [2]float64{0.01 + 0.018*float64(i%10), 0.006 + 0.0115*float64(i/10)})
	}
	m := abreast(t, false, many, 1, func(l *design.Light, _ []*design.Node) {
		for i := range l.Variants[0].Layouts[0].Spots {
			l.Variants[0].Layouts[0].Spots[i].LengthM, l.Variants[0].Layouts[0].Spots[i].WidthM = ptr(0.004), ptr(0.004)
		}
	})
	if n := len(m.platedOf(m.wayOfNode(t, "a"))); n < 2 || n > mostSeats {
		t.Errorf("%d seats", n)
	}
	restOf(t, m)
	light := m.light
	v := &light.Variants[0]
	driver := design.FindNode(v.Feeds[0].Loads, "driver")
	one := driver.Loads[0]
	driver.Loads = nil
	v.Layouts[0].Spots = v.Layouts[0].Spots[:30]
	for i := range 10 {
		n, a := one, *one.Array
		n.ID, n.Array = string(rune('a'+i)), &a
		a.Count, a.Parallel = 1, 3
		driver.Loads = append(driver.Loads, n)
		for k := range 3 {
			v.Layouts[0].Spots[3*i+k].NodeID = n.ID
		}
	}
	for i := range driver.Loads {
		driver.Loads[i].Array.Count, driver.Loads[i].Array.Parallel = 1, 3
	}
	m = compile(t, light)
	if n := len(m.plates[0].arrays); n > mostSeatsOfPlate {
		t.Errorf("%d seats of a plate", n)
	}
	restOf(t, m)
}
