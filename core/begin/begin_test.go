package begin_test

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"photherm/core/begin"
	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/emitter"
	"photherm/core/heat"
	"photherm/core/internal/sample"
	"photherm/core/verdict"
)

// answered begins a light, solves its variant, and wants all four answers of it.
func answered(t *testing.T, f begin.Facts, variant int) (*begin.Begun, *chain.Run, chain.Answers) {
	t.Helper()
	b, err := begin.For(f)
	if err != nil {
		t.Fatal(err)
	}
	data, err := design.Encode(b.Light)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := design.Decode(data); err != nil {
		t.Fatalf("what was begun cannot be read: %v", err)
	}
	m, err := chain.Compile(b.Light, chain.Options{Variant: variant})
	if err != nil {
		t.Fatal(err)
	}
	run, err := m.Solver().Run(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	a := run.Answers()
	if a.FluxLm == nil || a.JunctionC == nil && a.TouchC == nil || a.EndS == nil && a.HalfS == nil && a.RuntimeWhy != "it runs from a supply" {
		t.Errorf("%+v of variant %d: light %v %q, runtime %q, heat %q; missing %+v", f, variant, a.FluxLm, a.FluxWhy, a.RuntimeWhy, a.JunctionWhy, m.Missing())
	}
	for _, x := range b.Light.Variants[variant].Assumed {
		if _, ok := design.Resolve(b.Light, variant, x.At); !ok || x.Why == "" {
			t.Errorf("%+v: assumes %q, which is not there (why: %q)", f, x.At, x.Why)
		}
	}
	return b, run, a
}

func hours(t *testing.T, what string, got *float64, want, within float64) {
	t.Helper()
	if got == nil || math.Abs(*got/3600-want) > within*want {
		t.Errorf("%s: %v s, want about %v h", what, got, want)
	}
}

// Four reclaimed cells, a package by its label, a converter with two pots: the cells must
// be in series for it, and the light takes what 10 V give three dies.
func TestDrawer(t *testing.T) {
	b, _, a := answered(t, begin.Facts{Way: "parts", Source: "four reclaimed 2 Ah cells", Emitters: "10 W, 9–12 V, 900 mA", Driver: "two-pot step-down, 10 V 0.5 A"}, 0)
	v := &b.Light.Variants[0]
	if p := v.Feeds[0].Sources[0].Pack; p.Series != 4 || p.Parallel != 1 {
		t.Errorf("%dS%dP", p.Series, p.Parallel)
	}
	if e := b.Light.Part("led").Emitter; e.JunctionsSer != 3 || *e.RatedCurrentA != 0.9 {
		t.Errorf("%d dies, %v A", e.JunctionsSer, *e.RatedCurrentA)
	}
	d := v.Feeds[0].Loads[0].Driver
	if *d.SetVoltageV != 10 || *d.SetCurrentA != 0.5 || b.Light.Part("driver").Driver.Family != "voltage" {
		t.Errorf("set to %v V, %v A", *d.SetVoltageV, *d.SetCurrentA)
	}
	// 8 Ah cells' worth at 3.66 V a cell over the watts it takes, by hand.
	hours(t, "runtime", a.HalfS, 4*2*3.66/a.InputW, 0.08)
	if a.InputW < 4.5 || a.InputW > 6.5 {
		t.Errorf("takes %v W", a.InputW)
	}
	if len(b.Remarks) > 0 || !strings.Contains(b.Understood["emitters"], "3 dies in series") || !strings.Contains(b.Understood["source"], "4S1P") {
		t.Errorf("understood %v, remarks %v", b.Understood, b.Remarks)
	}
}

// Three primary cells replaced by one of lithium ion, from four readings in any order, of
// which two do not agree.
func TestMeter(t *testing.T) {
	f := begin.Facts{Way: "meter", Readings: "4.5 V 300 mA · 5.0 V 485 mA · 4.2 V 300 mA · 3.28 V 137 mA", Was: "3 AAA", Source: "18650"}
	b, _, a := answered(t, f, 0)
	points := b.Light.Part("lamp").Load.Points
	want := [][2]float64{{3.28, 0.137}, {4.2, 0.3}, {4.5, 0.3}, {5, 0.485}}
	for i, w := range want {
		if len(points) != 4 || math.Abs(points[i].VoltageV-w[0]) > 1e-9 || math.Abs(points[i].CurrentA-w[1]) > 1e-9 {
			t.Fatalf("points %+v", points)
		}
	}
	if len(b.Remarks) != 1 || !strings.Contains(b.Remarks[0].Why, "Repeat the one at 4.50 V") {
		t.Errorf("remarks %q", b.Remarks)
	}
	// Full at 4.2 V it takes about 0.29 A, and less as it empties.
	if a.InputW < 1.1 || a.InputW > 1.3 {
		t.Errorf("%v W", a.InputW)
	}
	answered(t, f, 1)
	before := b.Light.Variants[1].Feeds[0].Sources[0].Pack
	if cell := b.Light.Part(before.PartID).Cell; before.Series != 3 || cell.Chemistry != "alkaline" || cell.Size != "AAA" {
		t.Errorf("before: %dS of %+v", before.Series, cell)
	}
	for _, c := range []struct{ readings, says string }{
		{"5 V 1 A; 5 V 2 A; 6 V 2.2 A", "one of the two is to be read again"},
		{"5 V 1 A; 6 V 0.5 A", "may regulate"},
		{"5 V; 1 A; 6 V", "do not make pairs"},
		{"5 V 300", "of what"},
	} {
		b, _, _ := answered(t, begin.Facts{Way: "meter", Readings: c.readings}, 0)
		if !strings.Contains(fmt.Sprint(b.Remarks), c.says) {
			t.Errorf("%q: remarks %q, want one with %q", c.readings, b.Remarks, c.says)
		}
	}
	// A repeat is averaged, any units and any order within a reading.
	b, _, _ = answered(t, begin.Facts{Way: "meter", Readings: "300 mA 4500 mV, 0,31 A at 4,5 V, 5 V 0.5 A"}, 0)
	if p := b.Light.Part("lamp").Load.Points; len(p) != 2 || math.Abs(p[0].CurrentA-0.305) > 1e-9 || len(b.Remarks) != 0 {
		t.Errorf("%+v, %q", p, b.Remarks)
	}
}

func TestStripBehindADimmer(t *testing.T) {
	b, _, a := answered(t, begin.Facts{Way: "strip", Emitters: "24 V 15 W/m", Pieces: "5 × 1 m", Source: "80 W dimmable", Dimmed: true}, 0)
	top := b.Light.Variants[0].Feeds[0].Loads[0]
	if top.Dimmer == nil || top.Loads[0].Driver == nil || len(top.Loads[0].Loads[0].Strip.PiecesM) != 5 || *b.Light.Part("driver").Driver.MaxOutputW != 80 {
		t.Errorf("%+v", top)
	}
	// 75 W over the usual efficiency of a supply.
	if a.InputW < 0.95*75/0.87 || a.InputW > 1.02*75/0.87 {
		t.Errorf("%v W", a.InputW)
	}
	b, _, _ = answered(t, begin.Facts{Way: "strip", Emitters: "12 V 48 W 5 m", Source: "12 V lead-acid 7 Ah"}, 0)
	if s := b.Light.Part("strip").Strip; math.Abs(*s.PerMetreW-9.6) > 1e-9 || b.Light.Variants[0].Feeds[0].Sources[0].Pack.Series != 6 {
		t.Errorf("%+v on %+v", s, b.Light.Variants[0].Feeds[0].Sources[0].Pack)
	}
	// It lies on a bar as long as all pieces, no wider than it has to be.
	for _, c := range []struct {
		watts, pieces string
		longM, least  float64
	}{{"24 V 15 W/m", "5 × 1 m", 5, 0.02}, {"12 V 0.5 W/m", "0.5 m", 0.5, leastBarM}, {"24 V 15 W/m", "10 × 5 m", 20, 0.05}} {
		b, _, a := answered(t, begin.Facts{Way: "strip", Emitters: c.watts, Pieces: c.pieces}, 0)
		bar := b.Light.Variants[0].Bodies[0].Shape
		if why := b.Light.Variants[0].Assumed; !slices.ContainsFunc(why, func(a design.Assumption) bool {
			return strings.Contains(a.Why, "a bar of painted aluminium along the strip")
		}) {
			t.Errorf("%s: %+v", c.watts, why)
		}
		if bar.Kind != "plate" || *bar.LengthM != c.longM || *bar.WidthM < c.least || c.least == leastBarM && *bar.WidthM != c.least || *bar.WidthM > *bar.LengthM/3 {
			t.Errorf("%s, %s: a bar of %v × %v m", c.watts, c.pieces, *bar.LengthM, *bar.WidthM)
		}
		if rise := *a.TouchC - b.Light.Conditions.AmbientC; rise <= 0 || rise > 31 {
			t.Errorf("%s, %s: %v K above the air", c.watts, c.pieces, rise)
		}
	}
}

// leastBarM is the narrowest bar that is assumed under strip, m.
const leastBarM = 0.015

// A package's typed efficiency is the one its model has: radiated over electric watts.
func TestBoards(t *testing.T) {
	b, _, a := answered(t, begin.Facts{Way: "boards", Emitters: "4 × 36 V 1.4 A 56 %", Area: "1.2 × 0.6 m", Hours: "14 h"}, 0)
	m, err := emitter.New(b.Light.Part("led").Emitter)
	if err != nil {
		t.Fatal(err)
	}
	if share := m.RadiantW(1.4, 25) / (36 * 1.4); math.Abs(share-0.56) > 1e-3 {
		t.Errorf("radiates %v of what it takes", share)
	}
	if b.Light.Part("led").Emitter.JunctionsSer != 12 || b.Light.Variants[0].Feeds[0].Loads[0].Count != 4 {
		t.Errorf("%+v", b.Light.Part("led").Emitter)
	}
	if brief := b.Light.Brief; *brief.AreaM != 1.2 || *brief.AreaAcrM != 0.6 || *brief.HoursADay != 14 {
		t.Errorf("%+v", brief)
	}
	if want := 4 * 36 * 1.4 / 0.85; math.Abs(a.InputW-want) > 0.03*want {
		t.Errorf("%v W, want about %v", a.InputW, want)
	}
}

// A module of constant light on cells side by side: its power is the same all the time, so
// the runtime is energy over power.
func TestModule(t *testing.T) {
	b, _, a := answered(t, begin.Facts{Way: "parts", Source: "five 1.28 Ah cells in parallel", Emitters: "1 W module 1–9 V"}, 0)
	if p := b.Light.Variants[0].Feeds[0].Sources[0].Pack; p.Series != 1 || p.Parallel != 5 {
		t.Errorf("%dS%dP", p.Series, p.Parallel)
	}
	if math.Abs(a.InputW-1) > 0.01 {
		t.Errorf("%v W", a.InputW)
	}
	hours(t, "runtime", a.EndS, 5*1.28*3.7, 0.05)
}

// An old lamp: as much light as before, and the old one beside it on the same source.
func TestOldLamp(t *testing.T) {
	for _, c := range []struct {
		facts    begin.Facts
		lm       float64
		variants int
	}{
		{begin.Facts{Way: "lamp", Source: "4 D", Was: "3 W", Light: "bulb", Keeps: []string{"switch"}, Wet: "splashed", Area: "60 × 110 mm"}, 36, 2},
		{begin.Facts{Way: "lamp", Source: "mains", Was: "18 W", Light: "tube"}, 1170, 2},
		{begin.Facts{Way: "lamp", Source: "6 V lantern block", Was: "0.5 A", Light: "bulb", Wet: "over-water"}, 36, 2},
		{begin.Facts{Way: "lamp", Source: "3 × 18650", Light: "flame"}, 80, 2},
	} {
		b, _, a := answered(t, c.facts, 0)
		if a.FluxLm == nil || math.Abs(*a.FluxLm-c.lm) > 0.2*c.lm || len(b.Light.Variants) != c.variants {
			t.Errorf("%+v: %v lm in %d variants", c.facts, *a.FluxLm, len(b.Light.Variants))
		}
		if c.facts.Light == "flame" {
			if b.Light.Variants[1].Note == "" {
				t.Error("nothing is said of the flame")
			}
			continue
		}
		if _, _, old := answered(t, c.facts, 1); old.FluxLm == nil || math.Abs(*old.FluxLm-c.lm) > 0.25*c.lm || old.InputW < 1.2*a.InputW {
			t.Errorf("%+v: before %v lm at %v W", c.facts, *old.FluxLm, old.InputW)
		}
	}
	b, _, _ := answered(t, begin.Facts{Way: "lamp", Source: "4 D", Was: "3 W", Keeps: []string{"switch", "soul"}, Wet: "over-water", Area: "60 × 110 mm"}, 0)
	if brief := b.Light.Brief; len(brief.Keeps) != 1 || *brief.RoomDiamM != 0.06 || *brief.RoomLongM != 0.11 || !b.Light.Conditions.NearWater || brief.Was != "bulb" {
		t.Errorf("%+v", brief)
	}
}

// What is assumed does not by itself put a light over a limit.
func TestAssumedIsModest(t *testing.T) {
	for _, f := range []begin.Facts{
		{Way: "lamp", Source: "2 D", Was: "1.2 W"}, {Way: "lamp", Source: "4 AA"}, {Way: "lamp", Source: "mains", Was: "36 W", Light: "tube"},
		{Way: "parts", Source: "18650"}, {Way: "parts", Emitters: "50 W 32 V", Source: "mains"}, {Way: "strip"}, {Way: "boards", Emitters: "2 × 48 V 1 A"}, {Way: "meter"},
	} {
		b, run, _ := answered(t, f, 0)
		findings, err := verdict.Judge(context.Background(), run)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range findings {
			if x.Severity == verdict.Stop {
				t.Errorf("%+v: %s: %s (%d assumed)", f, x.Title, x.Why, len(b.Light.Assumed(0)))
			}
		}
	}
}

// Nothing known: four answers all the same, every figure of them assumed with a reason.
func TestNothingKnown(t *testing.T) {
	for _, way := range []string{"lamp", "parts", "meter", "strip", "boards"} {
		b, _, _ := answered(t, begin.Facts{Way: way}, 0)
		if n := len(b.Light.Assumed(0)); n < 6 || b.Light.Name == "" || len(b.Remarks) > 0 {
			t.Errorf("%s: %d assumed, %q, %q", way, n, b.Light.Name, b.Remarks)
		}
	}
	if _, err := begin.For(begin.Facts{Way: "magic"}); err == nil {
		t.Error("a light begins with magic")
	}
}

// How cells and emitters are wired where nobody said it.
func TestWiring(t *testing.T) {
	for _, c := range []struct {
		source, emitters, driver        string
		cells, beside, series, parallel int
		family                          string
	}{
		{"4 × 18650", "3 × 3 V 1 A", "", 4, 1, 3, 1, "buck"},
		{"4 × 18650", "12 V 0.5 A", "step-up", 1, 4, 1, 1, "boost"},
		{"2 × 18650", "3 V 350 mA", "", 1, 2, 1, 1, "linear"},
		{"4 AA", "3 V 350 mA", "", 4, 1, 1, 1, "buck-boost"},
		{"4S2P 18650", "36 V 0.5 A", "", 4, 2, 1, 1, "boost"},
		{"24 V adapter", "12 × 3 V 0.35 A", "", 0, 0, 6, 2, "linear"},
		{"230 V", "60 × 3 V 0.1 A", "", 0, 0, 15, 4, "window"},
		{"12 V adapter", "3 V 1 A", "resistor", 0, 0, 1, 1, "resistor"},
		{"8 cells 4P", "3 V 1 A", "step-down", 2, 4, 1, 1, "buck"},
	} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: c.source, Emitters: c.emitters, Driver: c.driver})
		if err != nil {
			t.Fatal(err)
		}
		feed := b.Light.Variants[0].Feeds[0]
		if p := feed.Sources[0].Pack; c.cells > 0 && (p == nil || p.Series != c.cells || p.Parallel != c.beside) {
			t.Errorf("%q, %q: cells %+v", c.source, c.emitters, p)
		}
		if a := feed.Loads[0].Loads[0].Array; a.Series != c.series || a.Parallel != c.parallel {
			t.Errorf("%q, %q: %d in series, %d strings", c.source, c.emitters, a.Series, a.Parallel)
		}
		if got := b.Light.Part("driver").Driver.Family; got != c.family {
			t.Errorf("%q, %q: %s, want %s", c.source, c.emitters, got, c.family)
		}
	}
}

// Any part alone begins a light that works.
func TestEachPartAlone(t *testing.T) {
	for _, name := range []string{"shore-search-handlamp", "pier-lantern", "slipway-lantern", "germination-rack", "chart-table-strip"} {
		light, err := sample.Example(name + ".json")
		if err != nil {
			t.Fatal(err)
		}
		for i := range light.Parts {
			answered(t, begin.Facts{Way: "parts", Parts: light.Parts[i : i+1]}, 0)
		}
	}
}

// Of a part that was picked the words say how many, and how they are wired.
func TestPickedAndCounted(t *testing.T) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	f := begin.Facts{Way: "parts", Source: "2S3P", Emitters: "3 in series", Parts: light.Parts}
	b, _, _ := answered(t, f, 0)
	feed := b.Light.Variants[0].Feeds[0]
	if p, a := feed.Sources[0].Pack, feed.Loads[0].Loads[0].Array; p.Series != 2 || p.Parallel != 3 || a.Series != 3 || a.Parallel != 1 {
		t.Errorf("%dS%dP feed %d in series, %d strings", p.Series, p.Parallel, a.Series, a.Parallel)
	}
}

// On a step-up driver at hand so many emitters stand in series as keep it above its source;
// on a strong one so many strings as share its current.
func TestEmittersForADriverAtHand(t *testing.T) {
	driver := func(d design.Driver) design.Part { return design.Part{ID: "d", Name: "At hand", Driver: &d} }
	led := design.Part{ID: "e", Name: "LED", Emitter: &design.Emitter{Forward: []design.ForwardPoint{{CurrentA: 0.35, VoltageV: 3}}, VfRefTempC: 25, RatedCurrentA: new(0.35), FluxLm: new(100.0), FluxRefTempC: 25}}
	for _, c := range []struct {
		source           string
		driver           design.Driver
		series, parallel int
	}{
		{"", design.Driver{Family: "boost", SetCurrentA: new(0.35), Efficiency: new(0.85)}, 2, 1},           // above 4.2 V
		{"2S1P 18650", design.Driver{Family: "boost", SetCurrentA: new(0.35), Efficiency: new(0.85)}, 4, 1}, // above 8.4 V
		{"12 V adapter", design.Driver{Family: "buck", SetCurrentA: new(1.4), HeadroomV: new(1.0)}, 1, 4},
		{"12 V adapter", design.Driver{Family: "buck", SetCurrentA: new(0.36), HeadroomV: new(1.0)}, 1, 2}, // more than one bears
		{"12 V adapter", design.Driver{Family: "buck", SetCurrentA: new(0.35), HeadroomV: new(1.0)}, 1, 1},
		{"mains", design.Driver{Family: "window", SetCurrentA: new(0.35), MinVoltageV: new(20.0), MaxVoltageV: new(40.0)}, 7, 1},
	} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: c.source, Parts: []design.Part{driver(c.driver), led}})
		if err != nil {
			t.Fatal(err)
		}
		if a := b.Light.Variants[0].Feeds[0].Loads[0].Loads[0].Array; a.Series != c.series || a.Parallel != c.parallel {
			t.Errorf("%q, %s: %d in series, %d strings; want %d, %d", c.source, c.driver.Family, a.Series, a.Parallel, c.series, c.parallel)
		}
	}
}

// Parts picked from those at hand stand as they are; the rest is assumed.
func TestPickedParts(t *testing.T) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	for n := range 1 << 3 {
		f := begin.Facts{Way: "parts"}
		for i, kind := range []string{"driver", "emitter", "cell"} {
			for k := range light.Parts {
				if n>>i&1 == 1 && light.Parts[k].Kind() == kind {
					f.Parts = append(f.Parts, light.Parts[k])
					break
				}
			}
		}
		b, _, _ := answered(t, f, 0)
		for _, p := range f.Parts {
			found := false
			for i := range b.Light.Parts {
				found = found || b.Light.Parts[i].Name == p.Name && b.Light.Parts[i].Hash() == p.Hash()
			}
			if !found {
				t.Errorf("%s was picked and is not there", p.Name)
			}
		}
	}
}

// Words that tell nothing of a driver, and a room without a unit: the one is remarked at its
// field and assumed, the other is in millimetres.
func TestWordsAtTheirFields(t *testing.T) {
	for words, remarked := range map[string]bool{"blue thing": true, "step-down": false, "linear": false, "0.7 A": false, "two pots, 12 V 1 A": false, "": false} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: "4 × 18650", Emitters: "3 V 1 A 120 lm/W", Driver: words})
		if err != nil {
			t.Fatal(err)
		}
		_, understood := b.Understood["driver"]
		if is := len(b.Remarks) > 0; is != remarked || is && b.Remarks[0].Fact != "driver" || understood != (words != "" && !remarked) {
			t.Errorf("%q: remarks %+v, understood %q", words, b.Remarks, b.Understood["driver"])
		}
	}
	for area, want := range map[string][2]float64{"70 x 250": {0.07, 0.25}, "7 cm × 250 mm": {0.07, 0.25}, "0.1 × 0.2 m": {0.1, 0.2}, "65": {0.065, 0}} {
		b, err := begin.For(begin.Facts{Way: "lamp", Source: "wall", Was: "5 W", Light: "bulb", Area: area})
		if err != nil {
			t.Fatal(err)
		}
		r := b.Light.Brief
		if len(b.Remarks) > 0 || r.RoomDiamM == nil || math.Abs(*r.RoomDiamM-want[0]) > 1e-9 || (r.RoomLongM == nil) != (want[1] == 0) || r.RoomLongM != nil && math.Abs(*r.RoomLongM-want[1]) > 1e-9 {
			t.Errorf("%q: %+v, %v × %v", area, b.Remarks, r.RoomDiamM, r.RoomLongM)
		}
	}
	if b, err := begin.For(begin.Facts{Way: "boards", Emitters: "2 × 3 V 1 A", Area: "60 x 30"}); err != nil || len(b.Remarks) != 1 || b.Remarks[0] != (begin.Remark{Fact: "area", Why: "60 x 30 of what? Give its unit."}) {
		t.Errorf("a bench of no unit: %+v, %v", b.Remarks, err)
	}
}

// Sources by what people call them: cells of lithium are not taken where the words tell others.
func TestSourcesAsTheyAreCalled(t *testing.T) {
	for words, want := range map[string]struct {
		chemistry string
		series    int
		ah        float64
	}{
		"9 V block": {"alkaline", 6, 0.55}, "9 V battery": {"alkaline", 6, 0.55}, "4.5 V flat battery": {"alkaline", 3, 5},
		"12 V car battery": {"lead-acid", 6, 45}, "6 V 4 Ah": {"lead-acid", 3, 4}, "solar battery 12 V 20 Ah": {"lead-acid", 6, 20}, "24 V battery": {"lead-acid", 12, 7},
		"12 V block": {"lead-acid", 6, 7}, "6 V lantern battery": {"zinc-carbon", 4, 7}, "11.1 V 2.2 Ah": {"li-ion-4.2", 3, 2.2}, "12 V pack 10 Ah": {"li-ion-4.2", 3, 10}, "12 V lithium battery 6 Ah": {"li-ion-4.2", 3, 6},
		"2 × CR123A": {"lithium-3.0", 2, 1.5},
	} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: words})
		if err != nil {
			t.Fatal(err)
		}
		pack := b.Light.Variants[0].Feeds[0].Sources[0].Pack
		if pack == nil {
			t.Errorf("%q: no pack: %s", words, b.Understood["source"])
			continue
		}
		if c := b.Light.Part(pack.PartID).Cell; c.Chemistry != want.chemistry || pack.Series != want.series || c.CapacityAh != want.ah {
			t.Errorf("%q: %d in series of %s, %g Ah; want %+v", words, pack.Series, c.Chemistry, c.CapacityAh, want)
		}
	}
	// Cells that are counted, or a pack, are no block of lead by their volts alone.
	b, err := begin.For(begin.Facts{Way: "parts", Source: "4 cells 6 V 2 Ah"})
	if pack := b.Light.Variants[0].Feeds[0].Sources[0].Pack; err != nil || pack.Series*pack.Parallel != 4 || b.Light.Part(pack.PartID).Cell.Chemistry != "li-ion-4.2" {
		t.Errorf("%+v, %v", pack, err)
	}
	for words, volts := range map[string]float64{"phone charger": 5, "power bank": 5, "12 V adapter": 12, "laptop supply 19 V 3.4 A": 19, "9 V": 9} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: words})
		if s := b.Light.Variants[0].Feeds[0].Sources[0].Supply; err != nil || s == nil || s.VoltageV != volts {
			t.Errorf("%q: %+v, %v", words, s, err)
		}
	}
}

// Drivers by what people call them; one for the mains brings its wall socket.
func TestDriversAsTheyAreCalled(t *testing.T) {
	for words, want := range map[string]struct {
		family  string
		mains   bool
		setA    float64 // 0: whatever the emitters are rated for
		setV    float64 // 0: none said
		watts   float64
		dimming string
	}{
		"constant current 700 mA mains": {"window", true, 0.7, 0, 0, ""}, "mains, 700 mA, 20 W": {"window", true, 0.7, 0, 20, ""},
		"12 V 60 W supply": {"voltage", true, 5, 12, 60, ""}, "24 V supply": {"voltage", true, 0, 24, 0, ""}, "step-down 350 mA": {"buck", false, 0.35, 0, 0, ""},
		"mains 0-10 V 700 mA": {"window", true, 0.7, 0, 0, "analog"}, "boost 10 V 0.5 A": {"voltage", false, 0.5, 10, 0, ""},
	} {
		b, err := begin.For(begin.Facts{Way: "parts", Driver: words})
		if err != nil {
			t.Fatal(err)
		}
		feed := b.Light.Variants[0].Feeds[0]
		d, use := b.Light.Part("driver").Driver, feed.Loads[0].Driver
		watts := 0.0
		if d.MaxOutputW != nil {
			watts = *d.MaxOutputW
		}
		if d.Family != want.family || (feed.Sources[0].Mains != nil) != want.mains || watts != want.watts || d.Dimming != want.dimming {
			t.Errorf("%q: %s, %g W, dimming %q, mains %v", words, d.Family, watts, d.Dimming, feed.Sources[0].Mains != nil)
		}
		for _, set := range []struct {
			is   *float64
			want float64
		}{{use.SetCurrentA, want.setA}, {use.SetVoltageV, want.setV}} {
			if set.want > 0 && (set.is == nil || math.Abs(*set.is-set.want) > 1e-9) {
				t.Errorf("%q: set to %+v, want %g", words, use, set.want)
			}
		}
	}
	// Strip among the parts is strip.
	b, err := begin.For(begin.Facts{Way: "parts", Emitters: "5050 strip 24 V 14 W/m"})
	if s := b.Light.Part("strip"); err != nil || s == nil || s.Strip.VoltageV != 24 || *s.Strip.PerMetreW != 14 {
		t.Errorf("%+v, %v", s, err)
	}
}

// What made the light of an old lamp is told by its words, unless it is picked; a bulb's watts by
// its own volts.
func TestOldLampByItsWords(t *testing.T) {
	for words, want := range map[string]struct {
		kind string
		lm   float64
	}{"36 W tube": {"tube", 2300}, "T8 58 W": {"tube", 3800}, "two tubes 36 W": {"tube", 4700}, "mercury vapour 125 W": {"tube", 6300}, "sodium 70 W": {"tube", 6300}, "HID 35 W": {"tube", 3000}, "CFL 11 W": {"tube", 600}, "candle": {"flame", 12}, "two candles": {"flame", 24}, "oil lamp": {"flame", 80},
		"gas mantle": {"flame", 500}, "LED 3 W": {"bulb", 240}, "halogen 20 W": {"bulb", 320}, "3 W 150 lm": {"bulb", 150}, "bulb of 2 D cells": {"bulb", 18}, "40 W bulb": {"bulb", 480}, "2.5 V 0.2 A": {"bulb", 6}} {
		b, err := begin.For(begin.Facts{Way: "lamp", Was: words})
		if err != nil || b.Light.Brief.Was != want.kind || math.Abs(*b.Light.Brief.OutputLm-want.lm) > 0.02*want.lm {
			t.Errorf("%q: %s of %v lm, %v", words, b.Light.Brief.Was, *b.Light.Brief.OutputLm, err)
		}
		guessed := slices.ContainsFunc(b.Light.Variants[1].Assumed, func(a design.Assumption) bool { return a.At == "/parts/old/load/fluxLm" })
		if want := b.Light.Brief.Was != "flame" && !strings.Contains(words, " lm"); guessed != want {
			t.Errorf("%q: its light is assumed: %t", words, guessed)
		}
	}
	b, err := begin.For(begin.Facts{Way: "lamp", Was: "36 W tube", Light: "bulb"})
	if err != nil || b.Light.Brief.Was != "bulb" {
		t.Errorf("picked: %s, %v", b.Light.Brief.Was, err)
	}
}

// What people write into each field, and what it comes to; what comes to nothing is asked about, and
// nothing that was said passes in silence.
func TestFieldsAsPeopleWrite(t *testing.T) {
	for _, c := range []struct {
		way, fact, words, understood, asks string
	}{
		{"strip", "pieces", "two metres", "1 piece, 2.00 m", ""}, {"strip", "pieces", "3 × 50 cm and 1 m", "4 pieces, 2.50 m", ""}, {"strip", "pieces", "1.2 m, 80 cm", "2 pieces, 2.00 m", ""},
		{"strip", "pieces", "10x50cm", "10 pieces, 5.00 m", ""}, {"strip", "pieces", "12x30 cm", "12 pieces, 3.60 m", ""}, {"strip", "pieces", "1,5 m", "1 piece, 1.50 m", ""}, {"strip", "pieces", "2", "", "how many of what length"}, {"strip", "pieces", "90 × 1 m", "50 pieces, 50.0 m", ""},
		{"strip", "emitters", "12 V 4.8 W per metre", "12.0 V, 4.8 W/m", ""}, {"strip", "emitters", "24 V 3 W per foot", "24.0 V, 9.843 W/m", ""},
		{"strip", "emitters", "12 V 60 LED/m", "12.0 V, 4.8 W/m", ""}, {"strip", "emitters", "5050 60 leds per metre 12 V", "12.0 V, 14.4 W/m", ""}, {"strip", "emitters", "12 V 18 LEDs a foot", "12.0 V, 4.72", ""}, {"strip", "emitters", "12 V 60 LED/m, 9 W/m", "12.0 V, 9 W/m", ""}, {"strip", "source", "12 V 5 A", "a supply of 60.0 W for 12.0 V", ""}, {"strip", "source", "230 V", "for 12.0 V on the wall", ""},
		{"boards", "area", "60x30x35 cm", "600 mm × 300 mm", ""}, {"boards", "area", "0.5 by 1 m", "500 mm × 1.00 m", ""}, {"boards", "area", "1 m²", "1.00 m × 1.00 m", "taken as a square"}, {"boards", "area", "80 cm", "800 mm × 800 mm", "taken as a square"}, {"boards", "emitters", "10 m of strip 20 W/m", "200 W", "begins better as strip"}, {"lamp", "was", "400 W HPS", "sodium lamp, 400 W", ""}, {"lamp", "was", "PL 11 W", "compact tube, 11.0 W", ""}, {"lamp", "source", "LiPo 1S 1000", "1S1P of 2.20 Ah", "1000 of what"}, {"boards", "source", "two drivers 120 W each", "the wall socket", ""}, {"parts", "driver", "buck 1 A with dimmer", "a step-down current driver, at most 1.00 A", ""}, {"parts", "driver", "linear driver for 3 LEDs 700 mA", "at most 700 mA", ""}, {"parts", "driver", "4 linear chips 350 mA", "at most 1.40 A", ""}, {"boards", "emitters", "9 x 100 W COB, 12 blue 3 W", "9 of them · 36.0 V", "“9 x 100 W COB” is taken"}, {"lamp", "source", "3 cells LiPo", "3S1P of 2.20 Ah", ""}, {"lamp", "source", "100 W solar panel", "a supply of 18.0 V, up to 5.56 A", "in full sun"}, {"lamp", "source", "solar 6 V panel with 2 NiMH AA", "2S1P of 2.00 Ah AA nickel", "put a charger in"}, {"lamp", "source", "variable bench supply 0-30 V", "a supply of 15.0 V", "set to 15.0 V"}, {"lamp", "source", "super capacitor 2.7 V 100 F", "a supply of 2.70 V", "falls from the first second"}, {"parts", "emitters", "array 7x7 1 W", "49 of them", ""}, {"parts", "emitters", "2700 K and 6500 K 3528", "60.0 mW", "taken as 2700 K"}, {"boards", "emitters", "strip of 20 W/m", "20.0 W", "begins better"}, {"parts", "emitters", "12 red and blue 3 W", "12 of them", "More than one colour"}, {"boards", "emitters", "board 50x50 cm 100 W", "36.0 V", ""}, {"lamp", "source", "2 x 18650 side by side", "1S2P of 2.50 Ah 18650", ""}, {"lamp", "area", "2 1/2 in", "63.5 mm across", ""}, {"lamp", "area", "3/4 inch x 4 inches", "19.1 mm × 102 mm", ""}, {"parts", "emitters", "1/2 W x 10", "10 of them · 3.00 V · 167 mA · 500 mW", ""}, {"parts", "emitters", "10 W RGB", "10.0 W", "More than one colour"}, {"parts", "emitters", "9S2P 2835 boards 30 W", "18 of them · 3.00 V · 556 mA · 1.67 W", "as of all 18"}, {"parts", "emitters", "2835 1 W x 12", "1.00 W", ""}, {"meter", "readings", "6V/0.5A 5 V / 0.42 A", "5.00 V 420 mA · 6.00 V 500 mA", ""}, {"lamp", "was", "LED strip 5 m 14 W/m", "LED lamp, 70.0 W", ""}, {"boards", "area", "large", "", "with a unit"},
		{"boards", "hours", "8", "8 h 00", ""}, {"boards", "hours", "18/6", "18 h 00", ""}, {"boards", "hours", "half an hour", "30 min", ""}, {"boards", "hours", "all night", "lit 12 h", ""}, {"boards", "hours", "dusk to dawn", "lit 12 h", ""}, {"boards", "hours", "every night 6 to 11 pm", "lit 5 h", ""}, {"boards", "hours", "9 to 5 pm", "lit 8 h", ""}, {"boards", "hours", "6 am to 8 pm", "lit 14 h", ""}, {"boards", "hours", "11 to 12 pm", "lit 1 h", ""}, {"boards", "hours", "every evening", "", "how many hours"}, {"boards", "hours", "30 h", "", "A day has 24"},
		{"parts", "body", "copper plate 80 x 100 x 3 mm", "a plate, 100 mm × 80.0 mm × 3.0 mm, of copper", ""}, {"parts", "body", "stainless steel plate 10 × 20 cm", "200 mm × 100 mm × 2.0 mm, of stainless", ""}, {"parts", "body", "glass-fibre plate 10 × 20 cm", "2.0 mm, of glass-fibre", ""}, {"parts", "body", "window glass 10 × 20 cm", "2.0 mm, of glass", ""},
		{"parts", "body", "finned heatsink 100x100x40", "a sink of 12 fins, 100 mm × 100 mm, 40 mm high", ""}, {"parts", "body", "heatsink 100 × 100 × 6 mm", "6.0 mm, of aluminium", ""}, {"parts", "body", "copper pipe 22 mm", "a tube, 22.0 mm across, 120 mm long, of copper", ""},
		{"parts", "body", "host 120 mm × 25 mm", "a tube, 25.0 mm across, 120 mm long", ""}, {"parts", "body", "10 cm square of 2 mm brass", "a plate, 100 mm × 100 mm × 2.0 mm, of brass", ""}, {"parts", "body", "4 x 4 x 1 inch", "102 mm × 102 mm × 25 mm", ""}, {"parts", "body", "50x50 FR4", "a plate, 50.0 mm × 50.0 mm × 2.0 mm, of glass-fibre board", ""},
		{"parts", "body", "20 square inches", "0.0129 m²", ""}, {"parts", "body", "a pound of copper", "0.454 kg", ""},
		{"boards", "hours", "from 6 to 20", "lit 14 h 00", ""}, {"boards", "hours", "6:30 am to 8 pm", "lit 13 h 30", ""}, {"boards", "hours", "10 pm until 6 am", "lit 8 h 00", ""}, {"boards", "hours", "12 am to 12 pm", "lit 12 h 00", ""}, {"boards", "hours", "14 on 10 off", "lit 14 h 00", ""},
		{"boards", "hours", "14h/day", "lit 14 h 00", ""}, {"boards", "hours", "half a day", "lit 12 h 00", ""}, {"boards", "hours", "10 to 12 h", "lit 11 h 00", ""}, {"meter", "readings", "3.7V .25A", "3.70 V 250 mA", ""}, {"lamp", "area", "40 mm long 90", "40.0 mm across", "90 of what"},
		{"parts", "body", "plate 10 cm × 20 cm", "200 mm × 100 mm × 2.0 mm", ""},
		{"parts", "body", "200 g", "0.200 kg", ""}, {"parts", "body", "an old cooler", "", "say its K/W"}, {"parts", "source", "gizmo", "1S1P", "names no source"}, {"parts", "source", "2 kg", "1S1P", "names no source"}, {"parts", "source", "rechargeable", "1S1P", ""}, {"parts", "source", "NiMH", "nickel-metal", ""},
		{"parts", "emitters", "1 W 350 mA 3.2 V", "3.20 V · 350 mA", ""}, {"parts", "emitters", "1 W 350 mA 2.2 V", "2.20 V · 350 mA", "does not agree"}, {"parts", "emitters", "1 W 350 mA 3.7 V", "3.70 V · 350 mA", "does not agree"},
		{"parts", "emitters", "3 mm red LED x 10", "10 of them · 2.20 V · 20.0 mA", ""}, {"parts", "emitters", "395 nm 3 W", "3.40 V · 882 mA", ""}, {"parts", "emitters", "70 °C 3 W", "3.00 V · 1.00 A", ""},
		{"parts", "emitters", "5x5 matrix 1W", "25 of them", ""}, {"parts", "emitters", "10 x 1W, 5 in series", "10 of them", ""}, {"parts", "emitters", "3 LEDs in parallel 1 W", "3 of them", ""},
		{"parts", "driver", "4 modes 2.8 A", "at most 2.80 A", ""}, {"parts", "driver", "sepic 500 mA", "a step-up and -down current driver, at most 500 mA", ""},
		{"lamp", "source", "5 cells in parallel", "1S5P of 2.50 Ah lithium-ion", ""}, {"lamp", "source", "18650 3P", "1S3P of 2.50 Ah 18650", ""}, {"lamp", "source", "6 cells 3P", "2S3P", ""}, {"lamp", "source", "7 cells 3P", "1S3P", ""}, {"lamp", "source", "3 cells in series", "3S1P", ""}, {"lamp", "source", "3 lithium cells in series", "3S1P", ""},
		{"lamp", "source", "4 LR6", "4S1P of 2.20 Ah AA alkaline", ""}, {"lamp", "source", "HR03 x 2", "2S1P of 900 mAh AAA nickel", ""}, {"lamp", "source", "R20", "1S1P of 13.0 Ah D zinc-carbon", ""}, {"lamp", "source", "2 FR6", "2S1P of 2.20 Ah AA 1.5 V lithium", ""},
		{"lamp", "source", "6LR61", "6S1P of 550 mAh alkaline", ""}, {"lamp", "source", "3LR12", "3S1P of 5.00 Ah alkaline", ""}, {"lamp", "source", "4R25", "4S1P of 7.00 Ah zinc-carbon", ""},
		{"lamp", "source", "lithium AA x 2", "2S1P of 2.20 Ah AA 1.5 V lithium", ""}, {"lamp", "source", "rechargeable AA x3", "3S1P of 2.00 Ah AA nickel", ""}, {"lamp", "source", "AA 1.2 V", "1S1P of 2.00 Ah AA nickel", ""}, {"lamp", "source", "4.8 V pack", "4S1P of 2.00 Ah nickel", ""}, {"lamp", "source", "CR2 battery", "1S1P of 800 mAh CR2 3 V lithium", ""},
		{"lamp", "source", "40 V mower battery", "10S1P of 2.50 Ah lithium-ion", ""}, {"lamp", "source", "40 V battery", "11S1P of 2.50 Ah lithium-ion", ""}, {"lamp", "source", "laptop battery 6 cells", "3S2P of 2.50 Ah lithium-ion", ""}, {"lamp", "source", "laptop battery 5 cells", "5S1P", ""}, {"lamp", "source", "6 cells of a laptop battery 2S", "2S3P", ""},
		{"lamp", "source", "24 V truck", "12S1P of 45.0 Ah lead-acid", ""}, {"lamp", "source", "boat battery", "6S1P of 45.0 Ah lead-acid", ""},
		{"lamp", "source", "two 6 V batteries in series", "6S1P of 7.00 Ah lead-acid", ""}, {"lamp", "source", "three 12V in parallel", "6S3P of 7.00 Ah lead-acid", ""}, {"lamp", "source", "2 x 12 V 7 Ah gel", "6S2P of 7.00 Ah lead-acid", ""}, {"lamp", "source", "12 V 7 Ah battery, 2 in series", "12S1P of 7.00 Ah lead-acid", ""}, {"lamp", "source", "12 V gel, 2 in parallel", "6S2P of 7.00 Ah lead-acid", ""}, {"lamp", "source", "2S2P 6 V gel", "6S2P", ""}, {"lamp", "source", "3S lipo", "3S1P of 2.20 Ah", ""}, {"lamp", "source", "2 lipo 3S", "3S2P of 2.20 Ah", ""}, {"lamp", "source", "6 lipo cells 3S", "3S2P of 2.20 Ah", ""}, {"lamp", "source", "2 gel in series", "12S1P of 7.00 Ah lead-acid", ""},
		{"lamp", "source", "12VAC", "a supply of 12.0 V", "15.6 V under a small load"}, {"lamp", "source", "12 V transformer", "a supply of 12.0 V", "alternating"}, {"lamp", "source", "12 V LED transformer", "a supply of 12.0 V", ""}, {"lamp", "source", "24VDC", "a supply of 24.0 V", ""}, {"lamp", "source", "120 V AC", "the wall socket, 120 V", ""}, {"lamp", "source", "6 V 3 W dynamo", "up to 500 mA", "alternating"},
		{"lamp", "was", "hurricane lantern", "a flame", ""}, {"lamp", "was", "tea light", "a candle", ""}, {"lamp", "was", "GU10 50 W", "a halogen bulb, 50.0 W", ""}, {"lamp", "was", "LED 5 mm x 6", "6 × LED lamp, 396 mW", ""}, {"lamp", "was", "LED 5 mm 0.1 W", "an LED lamp, 100 mW", ""}, {"lamp", "was", "LED 12 mm", "an LED lamp, 1.82 W", ""},
		{"meter", "readings", "4.5 V 0.3 A\n5 V 0.4 A", "4.50 V 300 mA · 5.00 V 400 mA", ""}, {"meter", "readings", "0.3A@4.5V", "4.50 V 300 mA", ""}, {"meter", "readings", "12 V 1.2 W", "12.0 V 100", ""}, {"meter", "readings", "no idea", "", "say volts and amperes"},
	} {
		f := begin.Facts{Way: c.way}
		*map[string]*string{"pieces": &f.Pieces, "emitters": &f.Emitters, "source": &f.Source, "area": &f.Area, "hours": &f.Hours, "body": &f.Body, "readings": &f.Readings, "driver": &f.Driver, "was": &f.Was}[c.fact] = c.words
		b, err := begin.For(f)
		if err != nil {
			t.Errorf("%s %q: %v", c.fact, c.words, err)
			continue
		}
		asked := ""
		for _, r := range b.Remarks {
			if r.Fact == c.fact {
				asked += r.Why
			}
		}
		if got := b.Understood[c.fact]; !strings.Contains(got, c.understood) || (got == "") != (c.understood == "") || !strings.Contains(asked, c.asks) || (asked == "") != (c.asks == "") {
			t.Errorf("%s %q: understood %q, asks %q; want %q and %q", c.fact, c.words, got, asked, c.understood, c.asks)
		}
	}
	b, err := begin.For(begin.Facts{Way: "parts", Body: "copper plate 80 x 100 x 3 mm", Emitters: "3 W"})
	if s := b.Light.Variants[0].Bodies[0].Shape; err != nil || s.Kind != "plate" || s.Material != "copper" || math.Abs(*s.ThicknessM-0.003) > 1e-9 || math.Abs(*s.LengthM-0.1) > 1e-9 {
		t.Errorf("%+v, %v", s, err)
	}
}

// Emitters stand as it was said, in whatever words.
func TestWiringInWords(t *testing.T) {
	for words, want := range map[string][2]int{"10 x 1W, 5 in series": {5, 2}, "5S 10 x 1 W": {5, 2}, "7 x 1 W 5S": {5, 1}, "3 LEDs in parallel, 1 W": {1, 3}, "6 x 1 W, 3 in parallel": {2, 3}, "7 x 1 W 3P": {1, 3}, "4 LEDs in series, 1 W": {4, 1}, "6 × 1 W in parallel": {1, 6}, "2S3P 1 W": {2, 3}} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: "24 V", Emitters: words})
		if err != nil {
			t.Fatal(err)
		}
		if a := b.Light.Variants[0].Feeds[0].Loads[0].Loads[0].Array; a.Series != want[0] || a.Parallel != want[1] {
			t.Errorf("%q: %dS%dP, want %v", words, a.Series, a.Parallel, want)
		}
	}
}

// Where nobody said what feeds a lamp that was read, the cells stand where it was read.
func TestCellsOfAReadLamp(t *testing.T) {
	for readings, series := range map[string]int{"6 V 0.4 A · 7 V 0.5 A": 2, "3.4 V 0.1 A · 4.2 V 0.3 A": 1, "11 V 0.2 A, 12.5 V 0.3 A": 3, "500 V 0.01 A": 30, "": 1} {
		b, err := begin.For(begin.Facts{Way: "meter", Readings: readings})
		if err != nil {
			t.Fatal(err)
		}
		if pack := b.Light.Variants[0].Feeds[0].Sources[0].Pack; pack == nil || pack.Series != series {
			t.Errorf("%q: %+v, want %d in series", readings, pack, series)
		}
	}
	b, err := begin.For(begin.Facts{Way: "meter", Readings: "6 V 0.4 A", Source: "4 AA"})
	if pack := b.Light.Variants[0].Feeds[0].Sources[0].Pack; err != nil || pack.Series != 4 {
		t.Errorf("said: %+v, %v", pack, err)
	}
}

// The old lamp's glass is a surface that stands twice the usual rise above the air at its watts, by
// the law of such a surface; nothing that begins is known by a K/W nobody said.
func TestOldLampIsGlass(t *testing.T) {
	b, err := begin.For(begin.Facts{Way: "lamp", Was: "60 W bulb", Source: "mains", Light: "bulb"})
	if err != nil || len(b.Light.Variants) != 2 {
		t.Fatalf("%v, %v", b, err)
	}
	for _, v := range b.Light.Variants {
		if body := v.Bodies[0]; body.KPerW != nil || body.Shape == nil {
			t.Errorf("%s: %+v", v.Name, body)
		}
	}
	old := b.Light.Variants[1].Bodies[0]
	law, _ := heat.NewBody(old.Shape, 1)
	if w := law.Watts(b.Light.Conditions.AmbientC+60, b.Light.Conditions.AmbientC, 0); old.Shape.Material != "glass" || math.Abs(w/60-1) > 0.01 {
		t.Errorf("%+v gives %g W", old.Shape, w)
	}
}
