package begin_test

import (
	"math"
	"strings"
	"testing"

	"photherm/core/begin"
	"photherm/core/design"
)

func near(t *testing.T, what string, got *float64, want float64) {
	t.Helper()
	if got == nil && want != 0 || got != nil && math.Abs(*got-want) > 1e-9*math.Abs(want) {
		t.Errorf("%s: %v, want %g", what, got, want)
	}
}

// What labels of drivers say beside their current: LEDs in a row count 3.0 to 3.6 V each (common
// practice), and what goes in is not what comes out.
func TestDriverLabels(t *testing.T) {
	for words, want := range map[string]struct {
		source, family   string
		set, from, to    float64 // A, V
		inMin, inMax     float64
		most, duty, volt float64
	}{
		"1.4 A 143-286 V":                          {source: "wall", family: "window", set: 1.4, from: 143, to: 286},
		"(6-10)×1W 300mA":                          {source: "wall", family: "window", set: 0.3, from: 18, to: 36},
		"700 mA 1–3 W × 6–10":                      {source: "wall", family: "window", set: 0.7, from: 18, to: 36},
		"drives 4 to 7 LEDs, 600 mA":               {source: "wall", family: "window", set: 0.6, from: 12, to: 25.2},
		"3 x 1 W 300 mA":                           {source: "wall", family: "window", set: 0.3, from: 9, to: 10.8},
		"input 85-265V output 9-12V 900mA":         {source: "wall", family: "window", set: 0.9, from: 9, to: 12, inMin: 85, inMax: 265},
		"AC 85-265V, DC 24-38V 600mA":              {source: "wall", family: "window", set: 0.6, from: 24, to: 38, inMin: 85, inMax: 265},
		"1050 mA 54V max":                          {source: "wall", family: "window", set: 1.05, from: 27, to: 54},
		"48 V 2 A":                                 {source: "wall", family: "voltage", set: 2, volt: 48},
		"350 mA 12 V in, 2–3 LEDs out":             {source: "12 V", family: "buck", set: 0.35},
		"step-down 700 mA, 7 to 30 V input":        {source: "12 V", family: "buck", set: 0.7, inMin: 7, inMax: 30},
		"12 V 300 mA":                              {source: "12 V", family: "buck", set: 0.3},
		"9 V 300 mA":                               {source: "12 V", family: "voltage", set: 0.3, volt: 9},
		"buck 3 A max set 700 mA":                  {source: "12 V", family: "buck", set: 0.7, most: 3},
		"buck 0.7 A set to 3 A":                    {source: "12 V", family: "buck", set: 0.7},
		"6 x 350 mA":                               {source: "18650", family: "linear", set: 2.1},
		"4 x step-down 0.2 A":                      {source: "12 V", family: "buck", set: 0.2},
		"transistor and sense resistor, 200 mA":    {source: "12 V", family: "linear", set: 0.2},
		"10 Ω resistor":                            {source: "12 V", family: "resistor"},
		"step-down 700 mA PWM 20 %":                {source: "12 V", family: "buck", set: 0.7, duty: 0.2},
		"step-down 700 mA, dimmed to 50%":          {source: "12 V", family: "buck", set: 0.7, duty: 0.5},
		"25 % duty cycle, step-down 700 mA":        {source: "12 V", family: "buck", set: 0.7, duty: 0.25},
		"step-down 700 mA at duty 120 %":           {source: "12 V", family: "buck", set: 0.7},
		"step-down 700 mA 92 % efficient, PWM 50%": {source: "12 V", family: "buck", set: 0.7, duty: 0.5},
	} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: want.source, Emitters: "3 V 0.3 A", Driver: words})
		if err != nil {
			t.Errorf("%q: %v", words, err)
			continue
		}
		d := b.Light.Part("driver").Driver
		var use *design.DriverUse
		for n := range design.Nodes(&b.Light.Variants[0]) {
			if n.Driver != nil {
				use = n.Driver
			}
		}
		if d.Family != want.family {
			t.Errorf("%q: %s, want %s", words, d.Family, want.family)
		}
		near(t, words+": set current", use.SetCurrentA, want.set)
		near(t, words+": lowest output", d.MinVoltageV, want.from)
		near(t, words+": highest output", d.MaxVoltageV, want.to)
		near(t, words+": lowest input", d.InputMinV, want.inMin)
		near(t, words+": highest input", d.InputMaxV, want.inMax)
		near(t, words+": most", d.MaxCurrentA, want.most)
		near(t, words+": set voltage", use.SetVoltageV, want.volt)
		if (use.Dimming != nil) != (want.duty > 0) || use.Dimming != nil && *use.Dimming.Duty != want.duty {
			t.Errorf("%q: dimmed %+v, want %g", words, use.Dimming, want.duty)
		}
		if got := b.Understood["driver"]; want.inMax > 0 && !strings.Contains(got, "from an input of") || want.duty > 0 && !strings.Contains(got, "% of the time") {
			t.Errorf("%q is understood as %q", words, got)
		}
	}
	// Isolation is asked, and never assumed; a dropper is not taken.
	for words, want := range map[string]*bool{"350 mA 20-40 V": nil, "350 mA isolated": new(true), "SELV 350 mA": new(true), "350 mA, not isolated": new(false), "non-isolated 350 mA": new(false), "capacitive dropper": nil} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: "wall", Emitters: "3 V 0.3 A", Driver: words})
		if err != nil {
			t.Fatal(err)
		}
		d := b.Light.Part("driver").Driver
		if d.Family != "window" || (d.Isolated == nil) != (want == nil) || want != nil && *d.Isolated != *want || !assumed(b, "/parts/driver/driver/powerFactor") || (len(b.Remarks) > 0) != strings.Contains(words, "dropper") {
			t.Errorf("%q: %+v, %v", words, d, b.Remarks)
		}
	}
	if b, err := begin.For(begin.Facts{Way: "strip", Emitters: "24 V 10 W/m", Source: "60 W SELV supply"}); err != nil || b.Light.Part("driver").Driver.Isolated == nil {
		t.Errorf("a SELV supply is isolated: %v", err)
	}
	b, err := begin.For(begin.Facts{Way: "parts", Source: "12 V", Emitters: "3 V 0.3 A", Driver: "92 % efficient step-down"})
	if err != nil || *b.Light.Part("driver").Driver.Efficiency != 0.92 {
		t.Errorf("an efficiency is one: %+v, %v", b.Light.Part("driver").Driver, err)
	}
}

// Strip that is cut has as many metres as before.
func TestCutStrip(t *testing.T) {
	for words, want := range map[string][]float64{
		"2.5 m roll cut in half": {1.25, 1.25}, "6 m cut into 4 pieces": {1.5, 1.5, 1.5, 1.5}, "5 m in two equal lengths": {2.5, 2.5}, "3 m split in thirds": {1, 1, 1},
		"half a roll of 5 m": {2.5}, "half of the strip of 4 m": {2}, "2 × 1.5 m": {1.5, 1.5}, "5 m": {5}, "2 m in one piece": {2}, "200 cm into 60 pieces": {2}, "around a 3 x 4 m ceiling": {14}, "round a frame of 50 by 20 cm": {1.4}, "3 x 4 m": {4, 4, 4},
	} {
		b, err := begin.For(begin.Facts{Way: "strip", Emitters: "24 V 10 W/m", Pieces: words})
		if err != nil {
			t.Fatal(err)
		}
		var got []float64
		for n := range design.Nodes(&b.Light.Variants[0]) {
			if n.Strip != nil {
				got = n.Strip.PiecesM
			}
		}
		if len(got) != len(want) {
			t.Errorf("%q: %v, want %v", words, got, want)
			continue
		}
		for i := range got {
			if math.Abs(got[i]-want[i]) > 1e-9 {
				t.Errorf("%q: %v, want %v", words, got, want)
			}
		}
	}
}

// Of what the label tells the length of, a number alone is so many; strip for the wall hangs on it.
func TestStripByItsLabel(t *testing.T) {
	b, err := begin.For(begin.Facts{Way: "strip", Emitters: "bar 12 V 7 W each 50 cm", Pieces: "4"})
	if err != nil || !strings.HasPrefix(b.Understood["pieces"], "4 pieces, 2.00 m") {
		t.Errorf("%v, %v", b.Understood, err)
	}
	if b, err := begin.For(begin.Facts{Way: "strip", Emitters: "double row 24 V 20 W/m, 5 m"}); err != nil || !strings.HasPrefix(b.Understood["pieces"], "1 piece, 5.00 m") {
		t.Errorf("rows are no pieces: %v, %v", b.Understood, err)
	}
	for words, volts := range map[string]float64{"230 V 10 W/m": 230, "120 V strip 5 W/m": 120, "48 V 10 W/m": 0} {
		b, err := begin.For(begin.Facts{Way: "strip", Emitters: words})
		f := b.Light.Variants[0].Feeds[0]
		if live := f.Sources[0].Mains != nil && f.Loads[0].Strip != nil; err != nil || live != (volts > 0) || live && f.Sources[0].Mains.VoltageV != volts || live != (len(b.Remarks) > 0) {
			t.Errorf("%q: %+v, %v", words, f.Sources[0].Mains, b.Remarks)
		}
	}
	b, err = begin.For(begin.Facts{Way: "strip", Emitters: "24 V 10 W/m", Source: "0-10V dimmable supply 150 W"})
	if d := b.Light.Part("driver").Driver; err != nil || d.Dimming != "analog" || *d.SetVoltageV != 24 || *d.MaxOutputW != 150 {
		t.Errorf("dim leads are no output: %+v, %v", d, err)
	}
	for words, kind := range map[string]string{"power bank": "a supply of 5.00 V", "12 V AC 60 VA": "a supply of 12.0 V", "60 W transformer": "a supply of 12.0 V", "60 W LED transformer": "a supply of 60.0 W", "caravan battery": "6S1P of 45.0 Ah lead-acid"} {
		if b, err := begin.For(begin.Facts{Way: "strip", Emitters: "12 V 10 W/m", Source: words}); err != nil || !strings.HasPrefix(b.Understood["source"], kind) {
			t.Errorf("%q: %q, %v", words, b.Understood["source"], err)
		}
	}
}

// An area of which one side has no unit asks for it; one side with nothing beside it does not.
func TestAreaWithoutAUnit(t *testing.T) {
	for words, want := range map[string]string{"shelf 1 m long 40 deep": "40 of what?", "1 m": "", "1 m × 0.4 m, 2 of them": ""} {
		b, err := begin.For(begin.Facts{Way: "boards", Area: words})
		asks := ""
		for _, r := range b.Remarks {
			if strings.Contains(r.Why, "of what") {
				asks = r.Why
			}
		}
		if err != nil || (asks == "") != (want == "") || !strings.HasPrefix(asks, want) {
			t.Errorf("%q: %q, want %q", words, asks, want)
		}
	}
}

// What rebuilds a lamp gives a tenth more than it did, cold: warmth takes that (common practice).
func TestRebuiltAsBright(t *testing.T) {
	for was, want := range map[string]float64{"2.4 V 0.7 A": 1.1 * 20, "40 W bulb": 1.1 * 480} {
		b, err := begin.For(begin.Facts{Way: "lamp", Was: was})
		if err != nil {
			t.Fatal(err)
		}
		for node := range design.Nodes(&b.Light.Variants[0]) {
			if a := node.Array; a != nil {
				if lm := *b.Light.Part("led").Emitter.FluxLm * float64(a.Series*a.Parallel); math.Abs(lm-want) > 0.02*want {
					t.Errorf("%s: %g lm, want %g", was, lm, want)
				}
			}
		}
	}
}

// Strip on volts that it is not made for is told: what batteries of its volts give is near enough.
func TestStripOnOtherVolts(t *testing.T) {
	for source, told := range map[string]string{"12 V lead-acid": "made for 24.0 V and gets 10.5 V to 13.8 V", "60 W 12 V supply": "gets 12.0 V", "24 V adapter": "", "28 V adapter": "", "30 V adapter": "gets 30.0 V", "two 12 V batteries in series": "", "60 W supply": ""} {
		b, err := begin.For(begin.Facts{Way: "strip", Emitters: "24 V 10 W/m", Source: source})
		if err != nil {
			t.Fatal(err)
		}
		why := ""
		for _, r := range b.Remarks {
			why += r.Why
		}
		if (why == "") != (told == "") || !strings.Contains(why, told) {
			t.Errorf("%q: %q, want %q", source, why, told)
		}
	}
}

// Numbers in words, heaps, rates and names: so many cells of that.
func TestCellsInWords(t *testing.T) {
	for words, want := range map[string]string{
		"a pair of 18650 in series": "2S1P of 2.50 Ah 18650", "two pairs of 18650 in series": "4S1P of 2.50 Ah 18650", "half a dozen AA": "6S1P of 2.20 Ah AA alkaline", "two dozen AA": "24S1P of", "fifteen AA": "15S1P of",
		"CR123A twice": "2S1P of 1.50 Ah CR123A", "triple A × 3": "3S1P of 1.00 Ah AAA", "2 x 18650 in a power bank case, in series": "2S1P of 2.50 Ah 18650", "rechargeable 9V block": "8S1P of 200 mAh nickel", "lithium 9 V block": "3S1P of 1.20 Ah 3 V lithium", "9 V block": "6S1P of 550 mAh alkaline", "solar panel 6 V 1 W, 18650": "1S1P of 2.50 Ah 18650", "18650 with solar charger 5 W": "1S1P of 2.50 Ah 18650", "solar panel 20 W": "a supply of 18.0 V", "36 V e-bike battery 500 Wh": "10S1P of 13.9 Ah lithium-ion", "12.8 V 1.28 kWh": "4S1P of 100 Ah iron phosphate", "4 double-A": "4S1P of 2.20 Ah AA", "3S 2200 mAh 25C/50C lipo": "3S1P of 2.20 Ah lithium-ion", "lipo 2S 30-60C 1500 mAh": "2S1P of 1.50 Ah lithium-ion",
		"1.2 V 600 mAh": "1S1P of 600 mAh nickel", "2 × 3.2 V 6 Ah": "2S1P of 6.00 Ah iron phosphate", "12.8 V 6 Ah": "4S1P of 6.00 Ah iron phosphate", "6.4 V pack": "2S1P of 3.00 Ah iron phosphate",
		"a 12 V car battery and a charger": "6S1P of 45.0 Ah lead-acid", "12 V charger": "a supply of 12.0 V", "laptop charger": "a supply of 19.0 V", "phone charger": "a supply of 5.00 V",
	} {
		b, err := begin.For(begin.Facts{Way: "lamp", Source: words})
		if err != nil {
			t.Fatal(err)
		}
		if got := b.Understood["source"]; !strings.HasPrefix(got, want) {
			t.Errorf("%q: %q, want %q", words, got, want)
		}
	}
	b, err := begin.For(begin.Facts{Way: "lamp", Source: "230"})
	if err != nil || len(b.Remarks) != 1 || b.Remarks[0].Why != "230 of what? Give its unit." {
		t.Errorf("230 of what: %v, %v", b.Remarks, err)
	}
}

// A label speaks of the whole board or package where it tells how many it holds.
func TestBoardsOfSeveral(t *testing.T) {
	for words, want := range map[string]struct {
		n, dies int
		v, w    float64
	}{
		"triple star 10 W": {1, 3, 9, 10}, "quad star 10 W": {1, 4, 12, 10}, "4 up board 12 V 20 W": {1, 4, 12, 20}, "20 mm star, 3 up": {3, 1, 3, 1.05}, "5 dies in series 15-17 V 500 mA": {1, 5, 16, 8}, "900 lm": {1, 3, 9, 10}, "4-die 12 V 500 mA": {1, 4, 12, 6}, "2 bars of 12 × 1 W": {24, 1, 3, 1}, "three boards with 8 LEDs 3 V 100 mA": {24, 1, 3, 0.3}, "64 LEDs 3 V 50 mA, 16 parallel strings of 4": {64, 1, 3, 0.15}, "3.2 V 20 mA × 100 in 4 boards": {100, 1, 3.2, 0.064},
		"class 314 emitter 3 V 700 mA": {1, 1, 3, 2.1}, "500 mcd 5 mm × 10": {10, 1, 3, 0.06}, "120 LEDs 3 V 20 mA": {120, 1, 3, 0.06}, "white 120 5mm 3 V 20 mA": {120, 1, 3, 0.06}, "3 V 20 mA 4S16P": {64, 1, 3, 0.06}, "3 V 20 mA 12s10p": {120, 1, 3, 0.06}, "6 × 1 W, one string": {6, 1, 3, 1}, "three 1 W": {3, 1, 3, 1},
	} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: "24 V", Emitters: words})
		if err != nil {
			t.Fatal(err)
		}
		e := b.Light.Part("led").Emitter
		last := e.Forward[len(e.Forward)-1]
		n := 0
		for node := range design.Nodes(&b.Light.Variants[0]) {
			if a := node.Array; a != nil {
				n = a.Series * a.Parallel
			}
		}
		if n != want.n || e.JunctionsSer != want.dies || math.Abs(last.VoltageV-want.v) > 1e-9 || math.Abs(last.VoltageV*last.CurrentA-want.w) > 0.01*want.w {
			t.Errorf("%q: %d of %d dies, %+v; want %+v", words, n, e.JunctionsSer, last, want)
		}
	}
	for words, watts := range map[string]float64{"600 W LED panel (actual 120 W)": 120, "50 W floodlight draws 42 W": 42, "50 W floodlight": 50} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: "wall", Emitters: words})
		if p := b.Light.Part("lamp"); err != nil || math.Abs(p.Load.Points[0].VoltageV*p.Load.Points[0].CurrentA-watts) > 1e-6 {
			t.Errorf("%q: %+v, %v", words, p, err)
		}
	}
	for words, volts := range map[string]float64{"T8 LED tube 18 W": 230, "floodlight 50 W": 230} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: "wall", Emitters: words})
		if lamp := b.Light.Part("lamp"); err != nil || lamp == nil || lamp.Load.Points[0].VoltageV != volts {
			t.Errorf("%q is a ready lamp on the wall: %+v, %v", words, lamp, err)
		}
	}
}

// Readings that name what was read before the figure, its unit behind it or not.
func TestReadingsByLetters(t *testing.T) {
	for words, want := range map[string]string{
		"V=12.0 I=0.51\nV=11.5 I=0.49": "11.5 V 490 mA · 12.0 V 510 mA", "V = 12 V, I = 510 mA": "12.0 V 510 mA", "u=3.6 i=.2 u=4 i=.3": "3.60 V 200 mA · 4.00 V 300 mA", "12 V: 500 mA": "12.0 V 500 mA", "1: 3.0 V 20 mA\n2: 3.2 V 45 mA": "3.00 V 20.0 mA · 3.20 V 45.0 mA", "3,7V-0,35A": "3.70 V 350 mA",
	} {
		b, err := begin.For(begin.Facts{Way: "meter", Readings: words})
		if err != nil || b.Understood["readings"] != want || len(b.Remarks) != 0 {
			t.Errorf("%q: %q, %v, %v; want %q", words, b.Understood["readings"], b.Remarks, err, want)
		}
	}
	// What has no pair, or no load, is told, and makes no pair with its neighbour.
	for words, want := range map[string]string{
		"no load 4.2 V, with load 3.8 V 1.5 A": "3.80 V 1.50 A", "open circuit 13 V; 12 V 0.5 A": "12.0 V 500 mA", "5 V, 4.5 V 0.3 A": "4.50 V 300 mA", "0.3 A; 5 V 0.4 A": "5.00 V 400 mA", "5 V; 0.3 A; 6 V": "",
	} {
		b, err := begin.For(begin.Facts{Way: "meter", Readings: words})
		if err != nil || b.Understood["readings"] != want || len(b.Remarks) == 0 {
			t.Errorf("%q: %q, %v, %v; want %q", words, b.Understood["readings"], b.Remarks, err, want)
		}
	}
}
