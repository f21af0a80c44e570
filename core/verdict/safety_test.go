package verdict

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"photherm/core/design"
)

var families = []string{"none", "resistor", "dropper", "linear", "buck", "boost", "buck-boost", "window", "voltage"}

// onWall is a driver of a family on the wall socket with an array and a sink.
func onWall(family string) *bench {
	d := design.Driver{Family: family, SetCurrentA: p(0.35), SetVoltageV: p(32.0), MaxOutputW: p(60.0), Efficiency: p(0.88), ResistanceOhm: p(600.0), RatedW: p(200.0), DropV: p(200.0), Class: "II"}
	if family == "window" {
		d.MinVoltageV, d.MaxVoltageV = p(20.0), p(40.0)
	}
	return newBench(design.Source{Mains: &design.Mains{VoltageV: 230, FrequencyHz: 50}}, d, 10)
}

// Isolation is judged for every family on the mains by two properties, whether it converts and what
// is said of it: known bad is worse than unknown, and metal or water makes it so.
func TestIsolationOfEveryFamily(t *testing.T) {
	converts := []string{"buck", "boost", "buck-boost", "window", "voltage"}
	for _, family := range families {
		for _, near := range []string{"", "metal", "water", "wood"} {
			for said, isolated := range map[string]*bool{"unknown": nil, "isolated": p(true), "live": p(false)} {
				b := onWall(family)
				b.d.Isolated = isolated
				body := &b.light.Variants[0].Bodies[0]
				switch near {
				case "metal":
					body.Touchable = true
				case "wood":
					body.Touchable, body.KPerW, body.MassKg = true, nil, nil
					body.Shape = &design.Shape{Kind: "plate", Material: "wood", LengthM: p(0.3), WidthM: p(0.3), ThicknessM: p(0.01)}
				case "water":
					b.light.Conditions.NearWater = true
				}
				findings := judgeLight(t, b.light)
				want := map[string]Severity{}
				switch danger := near == "metal" || near == "water"; {
				case !slices.Contains(converts, family):
					want["mains-dropped"] = Stop
					if said == "isolated" {
						want["isolation-contradicts"] = Stop
					}
				case said == "live" && danger:
					want["not-isolated"] = Stop
				case said == "live":
					want["live-output"] = Caution
				case said == "unknown" && danger:
					want["isolation-unknown"] = Caution
				}
				for _, code := range []string{"mains-dropped", "isolation-contradicts", "not-isolated", "live-output", "isolation-unknown"} {
					f := find(findings, code)
					if is := want[code]; (f != nil) != (is != "") || f != nil && f.Severity != is {
						t.Errorf("%s, %s, near %q: %s is %+v, wanted %q", family, said, near, code, f, is)
					}
				}
			}
		}
	}
}

// The mains counts as soon as a feed must accept it, and an isolated driver between takes the
// emitters off it.
func TestIsolationDeeper(t *testing.T) {
	b := onWall("window")
	b.d.Isolated, b.light.Variants[0].Bodies[0].Touchable = p(false), true
	f := &b.light.Variants[0].Feeds[0]
	f.Sources = append([]design.Source{{ID: "other", Supply: &design.Supply{VoltageV: 48}}}, f.Sources...)
	if got := judgeLight(t, b.light); find(got, "not-isolated") == nil || find(got, "mains") == nil {
		t.Error("the mains as the second source: not judged")
	}
	b = onWall("voltage")
	b.d.Isolated, b.light.Variants[0].Bodies[0].Touchable = p(false), true
	b.light.Parts = append(b.light.Parts, design.Part{ID: "d2", Name: "Second", Driver: &design.Driver{Family: "buck", SetCurrentA: p(0.3), Efficiency: p(0.9), Isolated: p(true)}})
	n := node(b.light, 0)
	n.Loads = []design.Node{{ID: "second", Driver: &design.DriverUse{PartID: "d2"}, Loads: n.Loads}}
	if got := judgeLight(t, b.light); find(got, "not-isolated") != nil || find(got, "live-output") == nil {
		t.Error("an isolated driver between: the emitters are told live")
	}
	b.light.Parts[2].Driver.Isolated = nil
	if find(judgeLight(t, b.light), "not-isolated") == nil {
		t.Error("one of which nothing is said, between: not told")
	}
	b = onWall("window")
	b.d.Class, b.d.Isolated = "III", p(true)
	if find(judgeLight(t, b.light), "isolation-contradicts") == nil {
		t.Error("class III on the mains is not told")
	}
}

// guarded is a pack on a driver that lets go at a voltage.
func onPack(chemistry string, series int, letsGoV *float64, family string) *bench {
	b := newBench(design.Source{Pack: &design.Pack{PartID: "c", Series: series, Parallel: 2}}, design.Driver{Family: family, SetCurrentA: p(0.2), SetVoltageV: p(3.2), ResistanceOhm: p(3.0), DropV: p(0.3), Efficiency: p(0.85), InputMinV: letsGoV}, 1)
	b.light.Parts = append(b.light.Parts, design.Part{ID: "c", Name: "Cell", Cell: &design.Cell{Chemistry: chemistry, CapacityAh: 2, ResistanceOhm: 0.05, MaxDischargeA: p(3.0)}})
	return b
}

// Cells that nothing switches off: every chemistry, one and three in series, under a driver that lets
// go in time, too late, never; a board or a cut-off ends it.
func TestCellsThatNothingSwitchesOff(t *testing.T) {
	least := map[string]float64{"li-ion-4.2": 2.8, "li-ion-4.35": 2.8, "lifepo4": 2.5, "lead-acid": 1.75}
	for _, chemistry := range []string{"li-ion-4.2", "li-ion-4.35", "lifepo4", "nimh", "alkaline", "zinc-carbon", "lead-acid", "lithium-3.0", "lithium-1.5"} {
		low, harms := least[chemistry]
		for _, series := range []int{1, 3} {
			// It lets go 5 % below where it starts: at half, at exactly, and well above what the cells bear.
			for _, each := range []float64{0, 0.5 * low, low / 0.95, 1.1 * low / 0.95} {
				v := each * float64(series)
				b := onPack(chemistry, series, &v, "buck")
				if each == 0 {
					b.d.InputMinV = nil
				}
				findings := judgeLight(t, b.light)
				never, sum := find(findings, "never-cut-off"), find(findings, "cells-unwatched")
				inTime := each >= low
				name := fmt.Sprintf("%s, %d in series, starts at %g V a cell", chemistry, series, each)
				if (never != nil) != (harms && !inTime) || (sum != nil) != (harms && inTime && series > 1 && chemistry != "lead-acid") {
					t.Errorf("%s: %+v, %+v", name, never, sum)
					continue
				}
				if never == nil {
					continue
				}
				severity := map[bool]Severity{true: Stop, false: Caution}[series > 1]
				if never.Severity != severity || each > 0 && (never.Value == nil || math.Abs(*never.Value-0.95*each) > 1e-3) {
					t.Errorf("%s: %+v", name, never)
				}
				b.light.Variants[0].Feeds[0].Sources[0].Pack.CutoffCellV = &low
				if find(judgeLight(t, b.light), "never-cut-off") != nil {
					t.Errorf("%s: told of a pack that is cut off", name)
				}
			}
		}
	}
	for _, family := range families {
		b := onPack("li-ion-4.2", 2, nil, family)
		if f := find(judgeLight(t, b.light), "never-cut-off"); f == nil || f.Severity != Stop {
			t.Errorf("%s: %+v", family, f)
		}
	}
	// What hangs beside a driver that lets go in time goes on; a pack that only may be in use counts too.
	b := onPack("li-ion-4.2", 1, p(3.3), "buck")
	b.light.Variants[0].Feeds[0].Loads = append(b.light.Variants[0].Feeds[0].Loads, design.Node{ID: "gauge", Name: "Gauge", Aux: &design.Auxiliary{CurrentA: 0.005}})
	if f := find(judgeLight(t, b.light), "never-cut-off"); f == nil || !strings.Contains(f.Why, "Gauge") {
		t.Errorf("a gauge beside it: %+v", f)
	}
	// Nothing that draws is chosen yet: nothing can be told of it.
	b = onPack("li-ion-4.2", 2, nil, "buck")
	b.use.PartID = ""
	if f := find(judgeLight(t, b.light), "never-cut-off"); f != nil {
		t.Errorf("no driver yet: %+v", f)
	}
	b = onPack("li-ion-4.2", 2, nil, "buck")
	feed := &b.light.Variants[0].Feeds[0]
	feed.Sources = append([]design.Source{{ID: "adapter", Supply: &design.Supply{VoltageV: 8}}}, feed.Sources...)
	if find(judgeLight(t, b.light), "never-cut-off") == nil {
		t.Error("as the second source: not told")
	}
}

// Fuse and current of cells: at exactly a limit nothing is said, above it is.
func TestFuseAndCurrentOfCells(t *testing.T) {
	for _, c := range []struct {
		name   string
		fuse   float64
		most   *float64
		series float64 // set current
		code   string
		told   bool
	}{
		{"fuse as the cells", 6, p(3.0), 0.2, "fuse-large", false}, {"fuse above them", 6.3, p(3.0), 0.2, "fuse-large", true},
		{"nobody said, gentle", 10, nil, 0.2, "cell-current-asked", false}, {"nobody said, hard", 10, nil, 0.65, "cell-current-asked", true},
		{"said, hard", 10, p(10.0), 0.65, "cell-current-asked", false},
	} {
		b := onPack("li-ion-4.2", 1, p(3.0), "boost")
		b.a.Series, b.e.MaxCurrentA = 3, p(5.0)
		b.light.Parts[2].Cell.CapacityAh = 1
		b.light.Parts[2].Cell.MaxDischargeA, b.use.SetCurrentA = c.most, &c.series
		b.light.Variants[0].Feeds[0].Sources[0].Pack.FuseA = &c.fuse
		findings := judgeLight(t, b.light)
		f := find(findings, c.code)
		if (f != nil) != c.told || f != nil && c.code == "fuse-large" && *f.Limit != 6 || f != nil && c.code == "cell-current-asked" && *f.Limit != 1 {
			t.Errorf("%s: %+v", c.name, f)
		}
		if f != nil && f.Fix != nil {
			mends(t, b.light, findings, f)
		}
	}
	for a, want := range map[float64]float64{0: 0, 0.99: 0.8, 1: 1, 6.2: 5, 6.3: 6.3, 12: 10, 100: 100} {
		if got := lowerFuse(a); math.Abs(got-want) > 1e-9 {
			t.Errorf("below %g A: a fuse of %g", a, got)
		}
	}
}

// Eyes by spectrum and intensity. 2.9 W of 450 nm in 10°: m = 181.8, I = 84 W/sr, weighed by B(450) =
// 0.94 (IEC 62471, from memory): 1 W/m² from √79 m on; half of that twice as wide by the same formula.
// Near-ultraviolet and infrared are told however weak; white that lights a room is not.
func TestEyes(t *testing.T) {
	of := func(nm, beam float64, set float64) *bench {
		b := lowBench()
		b.e.Colour, b.e.FluxLm, b.e.EfficacyLmPerW = "", nil, nil
		b.e.Spectrum, b.a.BeamDeg, b.use.SetCurrentA = &design.Spectrum{PeakNm: &nm, WidthNm: p(1.0)}, &beam, &set
		return b
	}
	b := of(450, 10, 0.35)
	v, a := 2.85*3, 0.35
	// Without lumens a usual share of its power is light.
	w := usualRadiant * v * a
	m := math.Log(0.5) / math.Log(math.Cos(5*math.Pi/180))
	if want := math.Sqrt(2.9 * (m + 1) / (2 * math.Pi) * 0.94); math.Abs(want-8.9) > 0.05 {
		t.Fatalf("the check value itself: %g m", want)
	}
	want := w * (m + 1) / (2 * math.Pi) * 0.94
	f := find(judgeLight(t, b.light), "eyes")
	if f == nil || f.Severity != Caution || math.Abs(*f.Value/(want/0.04)-1) > 0.03 {
		t.Fatalf("450 nm in 10°: %+v, wanted %g W/m²", f, want/0.04)
	}
	for _, c := range []struct {
		nm   float64
		code string
	}{{365, "ultraviolet"}, {385, "ultraviolet"}, {405, "ultraviolet"}, {850, "infrared"}, {940, "infrared"}, {630, ""}, {530, ""}} {
		findings := judgeLight(t, of(c.nm, 120, 0.001).light)
		for _, code := range []string{"ultraviolet", "infrared"} {
			if f := find(findings, code); (f != nil) != (code == c.code) || f != nil && f.Severity != Caution {
				t.Errorf("%g nm, weak: %s %+v", c.nm, code, f)
			}
		}
	}
	// Strong enough for the limits, with the distance: UV-A 10 W/m², infrared 100 W/m².
	for nm, limit := range map[float64]float64{370: 10, 850: 100} {
		b := of(nm, 10, 0.35)
		f := find(judgeLight(t, b.light), map[bool]string{true: "ultraviolet", false: "infrared"}[nm < 400])
		if f == nil || f.Value == nil || *f.Limit != limit || math.Abs(*f.Value/(w*(m+1)/(2*math.Pi)/0.04)-1) > 0.03 || !strings.Contains(f.Why, "kept from") {
			t.Errorf("%g nm: %+v", nm, f)
		}
	}
	// Actinic: 280 nm weighs 0.88, and 0.001 W/m² is its limit.
	if f := find(judgeLight(t, of(280, 120, 0.01).light), "ultraviolet"); f == nil || f.Value == nil || *f.Limit != 0.001 {
		t.Errorf("280 nm: %+v", f)
	}
	room := lowBench()
	if f := find(judgeLight(t, room.light), "eyes"); f != nil {
		t.Errorf("white that lights a room: %+v", f)
	}
	room.light.Conditions.Handheld = true
	room.a.BeamDeg = p(15.0)
	if f := find(judgeLight(t, room.light), "eyes"); f == nil {
		t.Error("the same held, in a beam: silent")
	}
	// By the width of what it leaves through: a wide opening is less of a danger than a point.
	node(room.light, 0, 0).Optic = &design.Optic{OpeningM: p(0.3)}
	if f := find(judgeLight(t, room.light), "eyes"); f == nil || !strings.Contains(f.Why, "risk group 1 ") {
		t.Errorf("through 0.3 m: %+v", f)
	}
}

// Ranges that are left are told, at their ends they are not; facts that cannot both hold have one
// sentence each with the place.
func TestRangesAndContradictions(t *testing.T) {
	for _, c := range []struct {
		code  string
		told  bool
		spoil func(*bench)
	}{
		{"outside-range", false, func(b *bench) { b.light.Conditions.AmbientC = -20 }},
		{"outside-range", true, func(b *bench) { b.light.Conditions.AmbientC = -21 }},
		{"outside-range", true, func(b *bench) { b.light.Conditions.StartC = p(-40.0) }},
		{"threshold-below-air", false, func(b *bench) { b.use.StepDown = &design.StepDown{To: 0.5, AtC: p(21.0)} }},
		{"threshold-below-air", true, func(b *bench) { b.use.StepDown = &design.StepDown{To: 0.5, AtC: p(20.0)} }},
		{"threshold-below-air", true, func(b *bench) { b.light.Brief.TouchC, b.light.Conditions.AmbientC = p(25.0), 30 }},
		{"threshold-below-air", true, func(b *bench) { b.light.Conditions.AmbientC = 65 }},
		{"threshold-below-air", true, func(b *bench) { b.light.Parts[2].Cell.MaxC = p(15.0) }},
		{"alarm-always", true, func(b *bench) { b.light.Variants[0].Feeds[0].Sources[0].Pack.AlarmCellV = p(4.2) }},
		{"alarm-always", false, func(b *bench) { b.light.Variants[0].Feeds[0].Sources[0].Pack.AlarmCellV = p(3.4) }},
		{"earth-contradicts", true, func(b *bench) { b.d.Class, b.use.Unearthed = "II", true }},
	} {
		b := onPack("li-ion-4.2", 1, p(3.0), "linear")
		c.spoil(b)
		if f := find(judgeLight(t, b.light), c.code); (f != nil) != c.told || f != nil && f.Pointer == "" {
			t.Errorf("%s: %+v", c.code, f)
		}
	}
	cold := newBench(design.Source{Supply: &design.Supply{VoltageV: 12}}, design.Driver{Family: "linear", SetCurrentA: p(0.2)}, 3)
	body := &cold.light.Variants[0].Bodies[0]
	body.KPerW, body.Shape = nil, &design.Shape{Kind: "plate", LengthM: p(0.2), WidthM: p(0.2), ThicknessM: p(0.003)}
	cold.light.Conditions.AmbientC = -30
	if f := find(judgeLight(t, cold.light), "outside-range"); f == nil || f.Stage != "heat" {
		t.Errorf("air of −30 °C: %+v", f)
	}
}

// A load known by its readings: within them nothing, above a note, a tenth above a caution, at three
// times a stop.
func TestLoadFarOutsideItsReadings(t *testing.T) {
	for volts, want := range map[float64]Severity{12: "", 12.5: Note, 13.3: Caution, 35.9: Caution, 36: Stop, 48: Stop} {
		b := newBench(design.Source{Supply: &design.Supply{VoltageV: volts}}, design.Driver{Family: "none"}, 1)
		b.light.Variants[0].Feeds[0].Loads = []design.Node{{ID: "load", Name: "Lamp", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 12, CurrentA: 0.5}}, Beyond: "power"}}}
		f := find(judgeLight(t, b.light), "beyond-readings")
		if (f != nil) != (want != "") || f != nil && f.Severity != want {
			t.Errorf("at %g V: %+v, wanted %q", volts, f, want)
		}
	}
}

// Amperes of the line, by the power factor, are judged where they flow: 28.8 W at 0.6 on 230 V are
// 0.209 A and 48 VA.
func TestPowerFactorIsJudged(t *testing.T) {
	of := func(switchA, dimmerW float64) []Finding {
		b := onWall("voltage")
		b.d.Isolated, b.d.PowerFactor, b.d.Efficiency, b.d.EfficiencyFlat, b.d.SetVoltageV, b.d.Dimming, b.d.SetCurrentA = p(true), p(0.6), p(0.8), true, p(24.0), "phase-cut", nil
		loads := b.light.Variants[0].Feeds[0].Loads
		loads[0].Loads = []design.Node{{ID: "load", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 24, CurrentA: 0.96}}, Beyond: "ohmic"}}}
		b.light.Variants[0].Feeds[0].Loads = []design.Node{{ID: "switch", Switch: &design.Switch{RatingA: &switchA}, Loads: []design.Node{{ID: "dimmer", Dimmer: &design.Dimmer{Level: 1, MaxLoadW: &dimmerW}, Loads: loads}}}}
		return judgeLight(t, b.light)
	}
	for _, c := range []struct {
		a, w   float64
		over   bool
		dimmer Severity
	}{{0.21, 50, false, ""}, {0.2, 50, true, ""}, {0.21, 47, false, Caution}, {0.21, 28, false, Stop}} {
		findings := of(c.a, c.w)
		if f := find(findings, "switch-rating"); (f != nil) != c.over {
			t.Errorf("a switch of %g A: %+v", c.a, f)
		}
		if f := find(findings, "dimmer-overloaded"); (f != nil) != (c.dimmer != "") || f != nil && f.Severity != c.dimmer {
			t.Errorf("a dimmer of %g W: %+v", c.w, f)
		}
	}
}

// Of several kinds in a string each is told by its own share of the watts; a strip is a line: what comes
// at d is its weighted watts a metre over 2d, and a white one that lights a room is looked at from where
// it gives 500 lx.
func TestEyesOfMixedStringsAndStrip(t *testing.T) {
	b := lowBench()
	blue := design.Emitter{Colour: "blue", Forward: b.e.Forward, VfRefTempC: 25, VfVPerK: p(0.0), FluxLm: p(25.0), FluxCurrentA: p(0.35), FluxRefTempC: 25, Spectrum: &design.Spectrum{PeakNm: p(470.0), WidthNm: p(1.0)}}
	b.light.Parts = append(b.light.Parts, design.Part{ID: "blue", Name: "Blue one", Emitter: &blue})
	b.a.Series, b.a.Mixed, b.a.OpticEfficient = 2, []design.Mixed{{PartID: "blue", Series: 1}}, p(0.8)
	f := find(judgeLight(t, b.light), "eyes")
	// V(470) = 0.09098 (CIE 1931): 62.1 lm/W; a third of the watts, of which 25/62.1/(0.35 · 2.85) are light,
	// spread by Lambert's law, weighed by B(470) = 0.62 and seen from 0.2 m.
	in := 3 * 2.85 * 0.35
	want := in / 3 * (25 / (683.002 * 0.09098) / (0.35 * 2.85)) * 0.8 / math.Pi * 0.62 / 0.04
	if f == nil || !strings.Contains(f.Why, "Blue one") || math.Abs(*f.Value/want-1) > 0.05 {
		t.Fatalf("mixed: %+v, wanted %g W/m²", f, want)
	}
	strip := func(s design.Spectrum, perM float64) *Finding {
		b := newBench(design.Source{Supply: &design.Supply{VoltageV: 12}}, design.Driver{Family: "none"}, 1)
		b.light.Parts = append(b.light.Parts, design.Part{ID: "s", Name: "Strip", Strip: &design.Strip{VoltageV: 12, PerMetreW: p(10.0), CutM: 0.05, FluxLmPer: &perM, Spectrum: &s}})
		b.light.Variants[0].Feeds[0].Loads = []design.Node{{ID: "strip", Strip: &design.StripUse{PartID: "s", PiecesM: []float64{1, 2}}}}
		return find(judgeLight(t, b.light), "eyes")
	}
	if f := strip(design.Spectrum{WhiteK: p(4000.0)}, 3000); f != nil {
		t.Errorf("a bright white strip: %+v", f)
	}
	f = strip(design.Spectrum{PeakNm: p(470.0), WidthNm: p(1.0)}, 62.1)
	if f == nil || math.Abs(*f.Value/(1*0.62/0.4)-1) > 0.05 {
		t.Errorf("1 W/m of 470 nm: %+v", f)
	}
}
