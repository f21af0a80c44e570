package search

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/internal/sample"
	"photherm/core/units"
)

func p[T any](x T) *T { return &x }

func handlamp(t testing.TB) *design.Light {
	t.Helper()
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	return sample.OfKnownKPerW(light)
}

func question(t testing.TB, light *design.Light) *Question {
	t.Helper()
	q, err := NewQuestion(light, 0, "driver")
	if err != nil {
		t.Fatal(err)
	}
	return q
}

// Three white emitters of about 9 V at 1.5 A on four lithium-ion cells, 12 to 16.8 V:
// what fits, what nearly does, and what does not, each with its one line.
func TestDriversForAnArray(t *testing.T) {
	good := design.Driver{Family: "buck", MinCurrentA: p(0.1), MaxCurrentA: p(3.0), HeadroomV: p(1.0), InputMinV: p(6.0), InputMaxV: p(30.0), Efficiency: p(0.92), EfficiencyInV: p(14.8), EfficiencyOut: p(9.3)}
	change := func(f func(*design.Driver)) *design.Driver {
		d := good
		f(&d)
		return &d
	}
	cases := []struct {
		d    *design.Driver
		fit  Fit
		says string
	}{
		{&good, Fits, ""},
		{change(func(d *design.Driver) { d.InputMaxV = p(12.0) }), No, "it bears 12.0 V"},
		{change(func(d *design.Driver) { d.InputMinV = p(22.0) }), No, "starts at 22.0 V"},
		{change(func(d *design.Driver) { d.InputMinV = p(13.0) }), Nearly, "stops at 13.0 V"},
		{change(func(d *design.Driver) { d.HeadroomV = p(4.4) }), Nearly, "drained"},
		{change(func(d *design.Driver) { d.HeadroomV = p(9.0) }), Nearly, "even from a full source it reaches only 1.18 A of 1.50 A; one emitter fewer in series would do"},
		{change(func(d *design.Driver) { d.HeadroomV = p(12.0) }), No, "even from a full source"},
		{change(func(d *design.Driver) { d.Family = "boost" }), No, "a step-up"},
		{change(func(d *design.Driver) { d.MinCurrentA, d.MaxCurrentA, d.SetCurrentA = nil, nil, p(0.7) }), No, "wanted are 1.50 A"},
		{change(func(d *design.Driver) { d.MinCurrentA, d.MaxCurrentA, d.SetCurrentA = nil, nil, p(1.3) }), Nearly, "it gives 1.30 A"},
		{change(func(d *design.Driver) { d.MinCurrentA, d.MaxCurrentA, d.SetCurrentA = nil, nil, p(3.6) }), No, "its maximum is 3.00 A"},
		{change(func(d *design.Driver) { d.MaxOutputW = p(14.5) }), Nearly, "little to spare"},
		{change(func(d *design.Driver) { d.MaxOutputW = p(10.0) }), No, "is rated 10.0 W"},
		{change(func(d *design.Driver) { d.Family, d.MinVoltageV, d.MaxVoltageV = "window", p(12.0), p(24.0) }), Nearly, "its window ends at 12.0 V; one emitter more in series would do"},
		{change(func(d *design.Driver) { d.Family, d.MinVoltageV, d.MaxVoltageV = "window", p(18.0), p(24.0) }), No, "its window ends at 18.0 V"},
		{change(func(d *design.Driver) { d.Family, d.MinVoltageV, d.MaxVoltageV = "window", p(9.6), p(24.0) }), Nearly, "its window ends at 9.60 V"},
		{change(func(d *design.Driver) { d.InputMaxV = p(15.0) }), Nearly, "it bears 15.0 V; one cell fewer in series would do"},
		{change(func(d *design.Driver) { d.DiameterM = p(0.0601) }), No, "it needs 60.1 mm, and there is room for 60 mm"},
		{change(func(d *design.Driver) { d.DiameterM = p(0.06) }), Fits, ""},
		{change(func(d *design.Driver) { d.JumperA = []float64{0.5, 1.0, 1.45} }), Fits, ""},
		{change(func(d *design.Driver) {
			d.Family, d.SetVoltageV, d.MinVoltageV, d.HeadroomV = "voltage", p(12.0), p(11.0), p(1.0)
		}), No, "its voltage begins at 11.0 V"},
		{change(func(d *design.Driver) {
			d.Family, d.SetVoltageV, d.MinVoltageV, d.HeadroomV = "voltage", p(12.0), p(9.6), p(1.0)
		}), Nearly, "its voltage begins at 9.60 V"},
		{&design.Driver{Family: "buck"}, No, "do not tell"},
		{&design.Driver{Family: "resistor", ResistanceOhm: p(4.7), RatedW: p(2.0)}, No, "into heat and bears 2.00 W"},
	}
	roomy := handlamp(t)
	roomy.Brief.RoomDiamM = p(0.06)
	q := question(t, roomy)
	if q.WantedA() != 1.5 {
		t.Fatalf("wanted %g A", q.WantedA())
	}
	var all []*design.Driver
	for _, c := range cases {
		all = append(all, c.d)
	}
	matches, err := q.Drivers(context.Background(), all)
	if err != nil {
		t.Fatal(err)
	}
	rank, last := map[Fit]int{Fits: 0, Nearly: 1, No: 2}, 0
	for _, m := range matches {
		c := cases[m.Index]
		if m.Fit != c.fit || !strings.Contains(m.Why(), c.says) || (m.Fit != Fits) != (m.Why() != "") {
			t.Errorf("driver %d: %s, %q; want %s, %q", m.Index, m.Fit, m.Why(), c.fit, c.says)
		}
		if rank[m.Fit] < last {
			t.Errorf("driver %d stands behind worse ones", m.Index)
		}
		last = rank[m.Fit]
	}
	// Every source counts: with six cells to accept too, the driver for 24 V no longer fits.
	light := handlamp(t)
	feed := &light.Variants[0].Feeds[0]
	six := *feed.Sources[0].Pack
	six.Series = 8
	feed.Sources = append(feed.Sources, design.Source{ID: "eight", Pack: &six})
	if matches, err = question(t, light).Drivers(context.Background(), []*design.Driver{&good}); err != nil || matches[0].Fit != No {
		t.Errorf("eight cells on 30 V: %+v, %v", matches, err)
	}
	for _, node := range []string{"emitters", "nowhere"} {
		if _, err := NewQuestion(light, 0, node); err == nil {
			t.Errorf("%q is taken for a driver", node)
		}
	}
}

// The reverse: emitters wired so that they fit the driver. Three or four whites of 3 V
// in series fit between four cells and a step-down's headroom, five do not.
func TestArraysForADriver(t *testing.T) {
	light := handlamp(t)
	e := light.Parts[2].Emitter
	weak := *e
	weak.MaxCurrentA, weak.RatedCurrentA = p(0.4), p(0.35)
	d := light.Parts[1].Driver
	found, err := question(t, light).Arrays(context.Background(), d, &design.DriverUse{SetCurrentA: p(1.5)}, "emitters", []*design.Emitter{&weak, e}, nil)
	if err != nil || len(found) != 2 {
		t.Fatal(found, err)
	}
	for _, m := range found {
		each := 1.5 / float64(m.Parallel)
		if m.Emitters != m.Series*m.Parallel {
			t.Errorf("%d × %d are %d", m.Series, m.Parallel, m.Emitters)
		}
		if m.Fit == No || m.Series < 2 || m.Series > 4 || (m.Index == 0 && each > 0.4) || (m.Index == 1 && each > 1.5) {
			t.Errorf("%+v: %s", m, m.Why())
		}
	}
	if found[0].FluxLm < found[1].FluxLm {
		t.Error("the brighter does not come first")
	}
	// A supply that stands below what they begin to conduct at fits none of them; below a
	// hundredth of the rating it does where it is told to give no more.
	low := &design.Driver{Family: "voltage", SetVoltageV: p(2.0), MaxCurrentA: p(5.0), InputMinV: p(5.0), InputMaxV: p(40.0), Efficiency: p(0.9)}
	dark, err := question(t, light).Arrays(context.Background(), low, &design.DriverUse{}, "emitters", []*design.Emitter{e}, nil)
	if err != nil || dark[0].Fit != No || !strings.Contains(dark[0].Why(), "stay dark") || !strings.Contains(dark[0].Why(), units.Amps(*e.RatedCurrentA)) {
		t.Errorf("%+v: %s, %v", dark[0], dark[0].Why(), err)
	}
	glow, err := question(t, light).Arrays(context.Background(), d, &design.DriverUse{SetCurrentA: p(0.005)}, "emitters", []*design.Emitter{e}, nil)
	if err != nil || glow[0].Fit == No {
		t.Errorf("told to give 5 mA: %+v: %s, %v", glow[0], glow[0].Why(), err)
	}
	// At a fifth of the rating more strings give a little more light, and are not worth it.
	another := *e // what stands in the place would stay wired as it is
	few, err := question(t, light).Arrays(context.Background(), d, &design.DriverUse{SetCurrentA: p(0.3)}, "emitters", []*design.Emitter{&another}, nil)
	if err != nil || few[0].Fit == No || few[0].Parallel != 1 || few[0].Series < 2 {
		t.Errorf("%+v, %v", few[0], err)
	}
	// Of as many as lie there the best is made, and with too few for any way what would be best stands.
	for have, want := range map[int]func(m ArrayMatch) bool{
		0: func(m ArrayMatch) bool { return m.Emitters > 8 }, 8: func(m ArrayMatch) bool { return m.Emitters == 6 }, 5: func(m ArrayMatch) bool { return m.Emitters == 3 },
		100: func(m ArrayMatch) bool { return m.Emitters > 8 },
	} {
		some, err := question(t, light).Arrays(context.Background(), d, &design.DriverUse{SetCurrentA: p(1.5)}, "emitters", []*design.Emitter{&another}, []int{have})
		if err != nil || some[0].Fit == No || !want(some[0]) {
			t.Errorf("%d on hand: %+v, %v", have, some[0], err)
		}
	}
	// On four boards in parallel the same driver is shared by four times the strings.
	light.Variants[0].Feeds[0].Loads[1].Loads[0].Loads[0].Array.Count = 4
	boards, err := question(t, light).Arrays(context.Background(), d, &design.DriverUse{SetCurrentA: p(1.5)}, "emitters", []*design.Emitter{e}, nil)
	if err != nil || boards[0].Emitters != boards[0].Series*boards[0].Parallel*4 || boards[0].Fit == No {
		t.Fatalf("%+v, %v", boards, err)
	}
	one := found[slices.IndexFunc(found, func(m ArrayMatch) bool { return m.Index == 1 })]
	if boards[0].Series == one.Series && boards[0].Parallel == one.Parallel && !(boards[0].FluxLm > one.FluxLm) {
		t.Errorf("four boards of %d × %d give %g lm, one gives %g", one.Series, one.Parallel, boards[0].FluxLm, one.FluxLm)
	}
	if _, err := question(t, light).Arrays(context.Background(), d, &design.DriverUse{SetCurrentA: p(1.5)}, "driver", []*design.Emitter{e}, nil); err == nil {
		t.Error("a driver takes emitters")
	}
}

// Any cell of the size: iron phosphate is too low for the driver and the emitters at
// the end, alkaline cells never start the driver, a lithium-ion cell fits, and two in series of twice the number do not.
func TestCellsOfAnotherChemistry(t *testing.T) {
	light := handlamp(t)
	light.Parts[1].Driver.InputMaxV = p(17.0)
	cells := []*design.Cell{
		{Chemistry: "li-ion-4.2", CapacityAh: 3, ResistanceOhm: 0.04, MaxDischargeA: p(6.0)},
		{Chemistry: "lifepo4", CapacityAh: 1.5, ResistanceOhm: 0.04},
		{Chemistry: "li-ion-4.35", CapacityAh: 3, ResistanceOhm: 0.04},
		{Chemistry: "alkaline", CapacityAh: 2, ResistanceOhm: 0.2},
	}
	// A board of another chemistry rules the others out before all else.
	pack := light.Variants[0].Feeds[0].Sources[0].Pack
	if m, err := Cells(context.Background(), light, 0, "power", cells); err != nil || m[0].Index != 0 || m[1].Fit != No || !strings.Contains(m[1].Why, "board") {
		t.Errorf("with a board: %+v, %v", m, err)
	}
	pack.ProtectionID, pack.Charger, pack.CutoffCellV = "", nil, p(2.8) // cut off by something else
	m, err := Cells(context.Background(), light, 0, "power", cells)
	if err != nil {
		t.Fatal(err)
	}
	fit := map[int]CellMatch{}
	for _, c := range m {
		fit[c.Index] = c
	}
	if m[0].Index != 0 || fit[0].Fit != Fits || fit[2].Fit != No || !strings.Contains(fit[2].Why, "17.4 V") || fit[3].Fit != No || !strings.Contains(fit[3].Why, "starts at 6.60 V") || fit[1].Fit == No {
		t.Errorf("%+v", m)
	}
	if _, err := Cells(context.Background(), light, 0, "other", cells); err == nil {
		t.Error("a feed that is not there has cells")
	}
	if len(light.Parts) != len(handlamp(t).Parts) || light.Variants[0].Feeds[0].Sources[0].Pack.PartID != "cell" {
		t.Error("trying cells changed the light")
	}
}

// What makes the pack's board trip is left out where it does so from full cells, and told where only
// drained ones give so much: by energy, what a step-down driver takes of the pack is its watts over
// the pack's volts. At just the limit nothing trips, as the board has it.
func TestMatchesThatTripTheBoard(t *testing.T) {
	light := handlamp(t)
	pack := light.Variants[0].Feeds[0].Sources[0].Pack
	board := design.Protection{Series: pack.Series, CutCellV: 2.5}
	light.Parts = append(light.Parts, design.Part{ID: "board", Name: "Board", Protect: &board})
	pack.ProtectionID = "board"
	d := &design.Driver{Family: "buck", MinCurrentA: p(0.1), MaxCurrentA: p(3.0), HeadroomV: p(0.5), InputMinV: p(6.0), InputMaxV: p(30.0), Efficiency: p(0.92), EfficiencyInV: p(14.8), EfficiencyOut: p(9.3)}
	e := light.Parts[2].Emitter
	at := func(charge float64) float64 {
		t.Helper()
		with, err := design.Clone(light)
		if err != nil {
			t.Fatal(err)
		}
		with.Parts[1].Driver = d
		m, err := chain.Compile(with, chain.Options{})
		if err != nil {
			t.Fatal(err)
		}
		most := 0.0
		for _, c := range []float64{with.Conditions.AmbientC, 85} {
			rec := make([]float64, len(m.Columns()))
			m.Solver().OperatingPoint(charge, c, rec)
			for k, col := range m.Columns() {
				if col.Owner == with.Variants[0].Feeds[0].ID && col.Figure == "busA" {
					most = max(most, rec[k])
				}
			}
			if charge < 1 {
				break // drained it is asked cold
			}
		}
		return most
	}
	full, drained := at(1), at(0.02)
	if drained < 1.2*full {
		t.Fatalf("%g A from full cells, %g A from drained ones", full, drained)
	}
	// A board of which no limit is known trips nothing.
	if found, err := question(t, light).Drivers(context.Background(), []*design.Driver{d}); err != nil || found[0].Fit != Fits {
		t.Errorf("a board of no known limit: %v, %q, %v", found[0].Fit, found[0].Why(), err)
	}
	for _, c := range []struct {
		maxA float64
		fit  Fit
		says string
	}{{0.999 * full, No, "the pack would give " + units.Amps(full)}, {full * 1.0005, Nearly, "drained, the pack would give " + units.Amps(drained)}, {0.999 * drained, Nearly, "its board trips above"}, {drained * 1.0005, Fits, ""}} {
		board.MaxA = &c.maxA
		light.Parts[len(light.Parts)-1].Protect = &board
		found, err := question(t, light).Drivers(context.Background(), []*design.Driver{d})
		if err != nil || found[0].Fit != c.fit || !strings.Contains(found[0].Why(), c.says) || (c.says == "") != (found[0].Why() == "") {
			t.Errorf("a board of %g A: %v, %q, %v", c.maxA, found[0].Fit, found[0].Why(), err)
		}
		arrays, err := question(t, light).Arrays(context.Background(), d, &design.DriverUse{SetCurrentA: p(1.5)}, "emitters", []*design.Emitter{e}, nil)
		if err != nil {
			t.Fatal(err)
		}
		// What fits takes no more of full cells, by energy, than the board bears.
		if a := (arrays[0].OutW + arrays[0].LossW) / (float64(pack.Series) * 4.2); arrays[0].Fit != Fits || a > c.maxA {
			t.Errorf("a board of %g A: %+v takes %g A and more", c.maxA, arrays[0], a)
		}
		if c.maxA < full && arrays[0].Series >= light.Variants[0].Feeds[0].Loads[1].Loads[0].Loads[0].Array.Series {
			t.Errorf("a board of %g A: %d in series", c.maxA, arrays[0].Series)
		}
	}
}

// many makes drivers over a range of windows and currents.
func many(n int) []*design.Driver {
	out := make([]*design.Driver, n)
	for i := range out {
		d := &design.Driver{Family: []string{"buck", "linear", "boost", "buck-boost", "voltage", "window"}[i%6], HeadroomV: p(0.3 + float64(i%9)/4), InputMinV: p(3 + float64(i%10)), InputMaxV: p(10 + float64(i%25)),
			MinCurrentA: p(0.1), MaxCurrentA: p(0.5 + float64(i%30)/10), SetVoltageV: p(6 + float64(i%12)), Efficiency: p(0.8 + float64(i%17)/100), EfficiencyInV: p(12.0), EfficiencyOut: p(9.0), EfficiencyAtA: p(1.0)}
		if d.Family == "window" {
			d.MinVoltageV, d.MaxVoltageV = p(5.0), p(20.0)
		}
		out[i] = d
	}
	return out
}

// No candidate costs an allocation: a thousand need no more than ten.
func TestMatchingDoesNotAllocate(t *testing.T) {
	q := question(t, handlamp(t))
	cost := func(n int) float64 {
		drivers := many(n)
		return testing.AllocsPerRun(3, func() {
			if _, err := q.Drivers(context.Background(), drivers); err != nil {
				t.Fatal(err)
			}
		})
	}
	if few, lots := cost(10), cost(1000); lots > few {
		t.Errorf("ten drivers cost %g allocations, a thousand %g", few, lots)
	}
}

// BenchmarkMatching compares matching with the electrical solve it is made of.
func BenchmarkMatching(b *testing.B) {
	light := handlamp(b)
	m, err := chain.Compile(light, chain.Options{})
	if err != nil {
		b.Fatal(err)
	}
	s, rec := m.Solver(), make([]float64, len(m.Columns()))
	b.Run("electrical", func(b *testing.B) {
		for b.Loop() {
			s.OperatingPoint(0.7, 40, rec)
		}
	})
	for _, n := range []int{200, 2000} {
		q, drivers := question(b, light), many(n)
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			b.ReportAllocs()
			for b.Loop() {
				if _, err := q.Drivers(context.Background(), drivers); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// The same light at full, 70 and 50 % of the rating: more emitters, more lumens a
// watt, less heat, cooler junctions.
func TestDriveRatios(t *testing.T) {
	light := handlamp(t)
	light.Parts[2].Price = p(2.5)
	light.Parts[2].Emitter.Maintenance = []design.Maintenance{{CaseC: 55, Hours: 1000, Ratio: 0.995}, {CaseC: 55, Hours: 9000, Ratio: 0.95}, {CaseC: 105, Hours: 1000, Ratio: 0.99}, {CaseC: 105, Hours: 9000, Ratio: 0.89}}
	r, err := Ratios(context.Background(), light, 0, "emitters", []float64{1, 0.7, 0.5})
	if err != nil || len(r) != 3 {
		t.Fatal(r, err)
	}
	for i := 1; i < 3; i++ {
		a, b := r[i-1], r[i]
		if !(b.Emitters >= a.Emitters && b.LmPerW > a.LmPerW && *b.Price >= *a.Price && math.Abs(b.FluxLm/r[0].FluxLm-1) < 0.2) {
			t.Errorf("%+v then %+v", a, b)
		}
	}
	if first := r[0]; first.Emitters != 3 || first.EachA != 1.5 || *first.Price != 7.5 {
		t.Errorf("as it is: %+v", first)
	}
	if half := r[2]; half.HeatW/half.FluxLm >= r[0].HeatW/r[0].FluxLm || *half.JunctionC >= *r[0].JunctionC || *half.LifeH < *r[0].LifeH {
		t.Errorf("half: %+v", half)
	}
	light.Parts[2].Emitter.RatedCurrentA = nil
	if _, err := Ratios(context.Background(), light, 0, "emitters", []float64{1}); err == nil {
		t.Error("without a rating there is a ratio")
	}
}

// Arrays that are there several times take so many times the current: the matches aim at
// it, and a driver that is rewired is set for all of them.
func TestCountedArrays(t *testing.T) {
	light := handlamp(t)
	design.FindNode(light.Variants[0].Feeds[0].Loads, "emitters").Count = 3
	changed, err := rewired(light, 0, "emitters", 3, 2, 1.2)
	if err != nil {
		t.Fatal(err)
	}
	if d := design.FindNode(changed.Variants[0].Feeds[0].Loads, "driver").Driver; math.Abs(*d.SetCurrentA-3.6) > 1e-12 {
		t.Errorf("1.2 A for each of three: set to %g A", *d.SetCurrentA)
	}
	var q Question
	n := design.FindNode(light.Variants[0].Feeds[0].Loads, "driver")
	n.Driver.PartID = ""
	rated := *light.Parts[2].Emitter.RatedCurrentA
	if q.wanted(n, map[string]*design.Part{light.Parts[2].ID: &light.Parts[2]}); math.Abs(q.wantedA-3*rated) > 1e-12 {
		t.Errorf("three strings of %g A: %g A are aimed at", rated, q.wantedA)
	}
	n.Count = 5
	if changed, _ := rewired(light, 0, "emitters", 3, 2, 1.2); math.Abs(*design.FindNode(changed.Variants[0].Feeds[0].Loads, "driver").Driver.SetCurrentA-3.6) > 1e-12 {
		t.Error("how many drivers there are changes what one is set to")
	}
}

// Any battery that fits: a driver that bears the pack as it is does not bear it with
// cells of a higher charge, nor does one that needs more than iron phosphate holds; the
// line names the cell, and the light asked about stays as it was.
func TestDriversWithAnyCell(t *testing.T) {
	light := handlamp(t)
	size := CellSize(light, 0, "driver")
	cells := []design.Part{
		{Name: "High charge", Cell: &design.Cell{Chemistry: "li-ion-4.35", Size: size, CapacityAh: 3, ResistanceOhm: 0.04}},
		{Name: "Iron phosphate", Cell: &design.Cell{Chemistry: "lifepo4", Size: size, CapacityAh: 1.5, ResistanceOhm: 0.04}},
	}
	any, err := AnyCell(light, 0, "driver", cells)
	if err != nil || size == "" || len(light.Variants[0].Feeds[0].Sources) != 1 || len(any.Variants[0].Feeds[0].Sources) != 3 {
		t.Fatalf("%q, %v", size, err)
	}
	tight, hungry, good := *light.Parts[1].Driver, *light.Parts[1].Driver, *light.Parts[1].Driver
	tight.InputMaxV, hungry.InputMinV = p(17.0), p(13.5)
	candidates := []*design.Driver{&tight, &hungry, &good}
	says := map[int]string{0: "High charge: the source reaches 17.4 V", 1: "Iron phosphate: "}
	matches, err := question(t, any).Drivers(context.Background(), candidates)
	if err != nil {
		t.Fatal(err)
	}
	for _, m := range matches {
		if !strings.HasPrefix(m.Why(), says[m.Index]) || (m.Index == 0) != (m.Fit == No) {
			t.Errorf("with any cell driver %d: %s, %q", m.Index, m.Fit, m.Why())
		}
	}
	if alone, err := question(t, light).Drivers(context.Background(), candidates[:1]); err != nil || alone[0].Fit == No {
		t.Errorf("with its own cells: %+v, %v", alone, err)
	}
	if _, err := AnyCell(light, 0, "nowhere", cells); err == nil {
		t.Error("a node that is not there takes cells")
	}
}
