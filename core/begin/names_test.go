package begin_test

import (
	"math"
	"slices"
	"strings"
	"testing"

	"photherm/core/begin"
	"photherm/core/design"
)

// assumed tells whether a figure at a path is assumed.
func assumed(b *begin.Begun, at string) bool {
	return slices.ContainsFunc(b.Light.Variants[0].Assumed, func(a design.Assumption) bool { return a.At == at })
}

// LEDs of a colour have its volts, and as many lumens a radiated watt as the eye gives at their peak:
// 683 lm/W times V(λ) of CIE 1924 (from memory), within what a line of 20 nm is broader.
func TestColoursByTheirWords(t *testing.T) {
	for words, want := range map[string]struct {
		colour string
		nm, v  float64
		lm     float64 // of one watt electric
	}{
		"1 W green": {"green", 525, 3.2, 0.2 * 683 * 0.793}, "1 W deep red": {"deep-red", 660, 2.1, 0.5 * 683 * 0.061}, "red 660nm 1 W": {"deep-red", 660, 2.1, 0.5 * 683 * 0.061},
		"1 W royal blue": {"blue", 450, 3, 0.5 * 683 * 0.038}, "1 W blue": {"blue", 470, 3.1, 0.4 * 683 * 0.091}, "1 W 590 nm": {"amber", 590, 2.2, 0.15 * 683 * 0.757},
		"1 W far red": {"far-red", 730, 1.9, 0.45 * 683 * 0.00052}, "1 W 505nm": {"cyan", 505, 3.1, 0.3 * 683 * 0.41},
	} {
		b, err := begin.For(begin.Facts{Way: "parts", Emitters: words})
		if err != nil {
			t.Fatal(err)
		}
		e := b.Light.Part("led").Emitter
		if e.Colour != want.colour || e.Spectrum.PeakNm == nil || *e.Spectrum.PeakNm != want.nm || math.Abs(e.Forward[0].VoltageV-want.v) > 1e-9 || math.Abs(*e.FluxLm-want.lm) > 0.2*want.lm {
			t.Errorf("%q: %s, %+v, %g V, %g lm; want %+v", words, e.Colour, e.Spectrum, e.Forward[0].VoltageV, *e.FluxLm, want)
		}
	}
	for words, k := range map[string]float64{"3 W warm white": 2700, "3 W 3000K": 3000, "3 W cool white 350 mA": 6000, "3 W": 4000, "3 W 9000 K": 9000, "3000K + 660nm 3 W": 3000, "white 1234K": 4000, "3 W 1800 K": 1800, "3 W 12000K": 4000, "3 W 200 nm": 4000, "3 W 1200 nm": 4000} {
		b, err := begin.For(begin.Facts{Way: "parts", Emitters: words})
		if err != nil {
			t.Fatal(err)
		}
		if e := b.Light.Part("led").Emitter; *e.Spectrum.WhiteK != k || (e.Colour == "warm-white") != (k < 3300) || assumed(b, "/parts/led/emitter/spectrum") != (k == 4000) {
			t.Errorf("%q: %s of %g K, assumed %t", words, e.Colour, *e.Spectrum.WhiteK, assumed(b, "/parts/led/emitter/spectrum"))
		}
	}
	// What nobody sees has watts and heat, and no light.
	b, err := begin.For(begin.Facts{Way: "parts", Emitters: "infrared 850nm 1A"})
	if e := b.Light.Part("led").Emitter; err != nil || e.FluxLm != nil || e.Spectrum != nil || len(b.Remarks) == 0 || !strings.Contains(b.Remarks[0].Why, "850 nm") {
		t.Errorf("infrared: %+v, %v, %v", e, b.Remarks, err)
	}
	b, err = begin.For(begin.Facts{Way: "parts", Emitters: "12 red and white 3 W"})
	if err != nil || len(b.Remarks) != 1 || !strings.Contains(b.Remarks[0].Why, "More than one colour") {
		t.Errorf("two colours: %v, %v", b.Remarks, err)
	}
	strip := func(words string) (lmPerM float64, nm *float64) {
		b, err := begin.For(begin.Facts{Way: "strip", Emitters: words})
		if err != nil {
			t.Fatal(err)
		}
		s := b.Light.Part("strip").Strip
		return *s.FluxLmPer, s.Spectrum.PeakNm
	}
	if lm, nm := strip("green 12 V 10 W/m"); nm == nil || math.Abs(lm-0.2*0.75*10*683*0.793) > 0.1*lm {
		t.Errorf("green strip: %g lm/m, %v", lm, nm)
	}
	if lm, nm := strip("12 V 10 W/m"); nm != nil || lm != 900 {
		t.Errorf("white strip: %g lm/m, %v", lm, nm)
	}
}

// Packages hold dies in series by their watts where no volts are said (common practice), and stand
// at the volts that watts and amperes make.
func TestPackagesByTheirWatts(t *testing.T) {
	for words, want := range map[string]struct {
		v, a float64
		dies int
	}{
		"3 W": {3, 1, 1}, "10 W": {9, 10.0 / 9, 3}, "100 W": {36, 100.0 / 36, 12}, "10 W 1 A": {10, 1, 3}, "3 W 700 mA": {3 / 0.7, 0.7, 1}, "5 W 5 A": {3, 5, 1},
		"3 W red": {2.2, 3 / 2.2, 1}, "30 W deep red": {25.2, 30 / 25.2, 12}, "6.6 V red 1 A": {6.6, 1, 3}, "1 A": {3, 1, 1},
	} {
		b, err := begin.For(begin.Facts{Way: "parts", Emitters: words})
		if err != nil {
			t.Fatal(err)
		}
		e := b.Light.Part("led").Emitter
		if p := e.Forward[len(e.Forward)-1]; math.Abs(p.VoltageV-want.v) > 1e-6 || math.Abs(p.CurrentA-want.a) > 1e-6 || e.JunctionsSer != want.dies {
			t.Errorf("%q: %g V, %g A, %d dies; want %+v", words, p.VoltageV, p.CurrentA, e.JunctionsSer, want)
		}
	}
	// Lamps by their cap, or at the volts of the wall, hang on the wall.
	for words, v := range map[string]float64{"E27 9 W": 230, "50 W 220 V": 220, "GU10 5 W": 230, "MR16 5 W": 12, "G4 2 W 12 V": 12} {
		b, err := begin.For(begin.Facts{Way: "parts", Emitters: words})
		if err != nil {
			t.Fatal(err)
		}
		load := b.Light.Part("lamp").Load
		if s := b.Light.Variants[0].Feeds[0].Sources[0]; load.Points[0].VoltageV != v || (s.Mains != nil) != (v > 90) {
			t.Errorf("%q: %+v on %+v", words, load.Points, s)
		}
	}
}

// Sources by what people call them.
func TestSourcesByTheirNames(t *testing.T) {
	for words, want := range map[string]string{
		"wall wart 9 V 1 A": "supply of 9.00 V, up to 1.00 A", "wall adapter": "supply of 12.0 V", "mains": "wall socket, 230 V", "mains 110 V": "wall socket, 110 V", "wall 12 V": "supply of 12.0 V",
		"2 × CR2032": "2S1P of 220 mAh CR2032 3 V lithium", "3 LR44 button cells": "3S1P of 120 mAh LR44 alkaline", "coin cell": "CR2032", "cr123": "CR123A", "NiCd pack 4.8 V 600 mAh": "4S1P of 600 mAh nickel",
		"7.2 V NiMH": "6S1P", "12 V NiMH 2 Ah": "10S1P", "48 V 10 Ah battery": "13S1P", "36 V 10 Ah battery": "10S1P", "18 V 5 Ah pack": "5S1P", "16.8 V 3 Ah pack": "4S1P", "11.1 V 2 Ah": "3S1P", "24 V LiFePO4 20 Ah": "8S1P",
		"dynamo": "supply of 6.00 V, up to 500 mA", "USB power bank": "supply of 5.00 V", "12 V AGM": "6S1P of 7.00 Ah lead-acid", "9 V block": "6S1P of 550 mAh alkaline",
	} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: words, Emitters: "3 W"})
		if err != nil {
			t.Fatalf("%q: %v", words, err)
		}
		if got := b.Understood["source"]; !strings.Contains(got, want) {
			t.Errorf("%q: %s, want %s", words, got, want)
		}
	}
	b, err := begin.For(begin.Facts{Way: "parts", Source: "USB power bank 10 Ah", Emitters: "3 W"})
	if s := b.Light.Variants[0].Feeds[0].Sources[0].Supply; err != nil || s.Kind != "power-bank" || s.KeepsOnA != nil || len(b.Remarks) != 1 {
		t.Errorf("power bank: %+v, %v, %v", s, b.Remarks, err)
	}
	for words, kind := range map[string]string{"bench supply 12 V": "bench", "24 V rail": "rail", "12 V adapter": ""} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: words, Emitters: "3 W"})
		if s := b.Light.Variants[0].Feeds[0].Sources[0].Supply; err != nil || s.Kind != kind {
			t.Errorf("%q: %+v, %v", words, s, err)
		}
	}
}

// Drivers by what people call them.
func TestDriversByTheirNames(t *testing.T) {
	for words, want := range map[string]struct {
		family string
		amps   float64 // 0: not told
	}{
		"none": {"none", 0}, "no driver": {"none", 0}, "buck 8-36 V 700 mA": {"buck", 0.7}, "directly": {"none", 0}, "10 ohm": {"resistor", 0}, "10R 2W": {"resistor", 0}, "0.33 ohm sense, 300 mA": {"linear", 0.3}, "linear 350 mA × 4": {"linear", 1.4},
		"buck boost 1 A": {"buck-boost", 1}, "driver 30-36V 900 mA": {"linear", 0.9},
	} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: "12 V adapter", Emitters: "3 × 3 W", Driver: words})
		if err != nil {
			t.Fatal(err)
		}
		use := b.Light.Variants[0].Feeds[0].Loads[0].Driver
		if got := b.Light.Part("driver").Driver.Family; got != want.family || want.amps > 0 && (use.SetCurrentA == nil || math.Abs(*use.SetCurrentA-want.amps) > 1e-9) {
			t.Errorf("%q: %s, %+v", words, got, use)
		}
	}
	b, err := begin.For(begin.Facts{Way: "parts", Source: "mains", Emitters: "36 V 900 mA", Driver: "driver 30-36V 900 mA"})
	if d := b.Light.Part("driver").Driver; err != nil || d.Family != "window" || *d.MinVoltageV != 30 || *d.MaxVoltageV != 36 {
		t.Errorf("%+v, %v", d, err)
	}
}

// How many of them is told back, and where nobody said how many cells, as many as the load stands at
// are taken.
func TestHowMany(t *testing.T) {
	for words, want := range map[string]string{"LED matrix 4s3p 3 V": "12 of them", "3 W": "", "6 × 3 W": "6 of them"} {
		b, err := begin.For(begin.Facts{Way: "parts", Emitters: words})
		if err != nil {
			t.Fatal(err)
		}
		if got := b.Understood["emitters"]; !strings.Contains(got, want) || want == "" && strings.Contains(got, "of them") {
			t.Errorf("%q: %s", words, got)
		}
	}
	for _, f := range []begin.Facts{{Way: "strip", Emitters: "12 V 10 W/m", Source: "lithium battery"}, {Way: "parts", Emitters: "12 V 1 W module", Source: "lithium cells"}} {
		b, err := begin.For(f)
		if err != nil {
			t.Fatal(err)
		}
		if n := b.Light.Variants[0].Feeds[0].Sources[0].Pack.Series; n != 3 {
			t.Errorf("%+v: %d in series", f, n)
		}
	}
	b, err := begin.For(begin.Facts{Way: "parts", Source: "mains", Emitters: "36 V 900 mA"})
	if d := b.Light.Part("driver").Driver; err != nil || math.Abs(*d.MinVoltageV-22) > 0.1 || math.Abs(*d.MaxVoltageV-43) > 0.1 || !assumed(b, "/parts/driver/driver/minVoltageV") {
		t.Errorf("a window of 0.6 to 1.2 of 36 V: %+v, %v", d, err)
	}
}

// A sink has its base and its fins by what is usual, as high as it is in all; a low one is a plate.
func TestSinkByItsMeasures(t *testing.T) {
	for words, want := range map[string]struct {
		kind       string
		base, high float64
		fins       int
	}{"heatsink 100 × 80 × 40 mm": {"fins", 0.005, 0.035, 10}, "heatsink 100 × 80 × 13 mm": {"fins", 0.013 / 3, 0.026 / 3, 10}, "heatsink 30 × 9 × 20 mm": {"plate", 0.009, 0, 0}, "heatsink 40 × 40 × 10 mm": {"fins", 0.01 / 3, 0.02 / 3, 5}, "finned 60 × 12 × 30 mm": {"fins", 0.004, 0.008, 3}, "heatsink 100 × 80 × 9 mm": {"plate", 0.009, 0, 0}} {
		b, err := begin.For(begin.Facts{Way: "parts", Emitters: "3 W", Body: words})
		if err != nil {
			t.Fatal(err)
		}
		s := b.Light.Variants[0].Bodies[0].Shape
		if s.Kind != want.kind || math.Abs(*s.ThicknessM-want.base) > 1e-9 || s.Fins != want.fins || want.fins > 0 && (math.Abs(*s.FinHeightM-want.high) > 1e-9 || *s.FinThickM != 0.0015) {
			t.Errorf("%q: %+v", words, s)
		}
	}
}
