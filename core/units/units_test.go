package units

import (
	"math"
	"strings"
	"testing"
)

func TestParse(t *testing.T) {
	for _, c := range []struct {
		text, quantity string
		want           float64
	}{
		{"350 mA", "current", 0.35},
		{"350ma", "current", 0.35},
		{"1,5", "current", 1.5},
		{"1e-3 A", "current", 1e-3},
		{"−2 mV/K", "temperatureCoefficient", -0.002},
		{"17 in²", "area", 0.01096772}, // NIST SP 811: 1 in² = 6.4516e-4 m²
		{"1.2 °C/W", "thermalResistance", 1.2},
		{"212 °F", "temperature", 100},
		{"300 K", "temperature", 26.85},
		{"3 h 20 min", "duration", 12000},
		{"45 min", "duration", 2700},
		{"2500 mAh", "charge", 2.5},
		{"85 %", "fraction", 0.85},
		{"4.7k", "resistance", 4700},
		{"12 v", "voltage", 12},
	} {
		got, err := Parse(c.text, c.quantity)
		if math.IsNaN(c.want) {
			if err == nil {
				t.Errorf("Parse(%q, %s) = %v, want an error", c.text, c.quantity, got)
			}
			continue
		}
		if err != nil || math.Abs(got-c.want) > 1e-9*math.Max(1, math.Abs(c.want)) {
			t.Errorf("Parse(%q, %s) = %v, %v; want %v", c.text, c.quantity, got, err, c.want)
		}
	}
}

func TestParseRejects(t *testing.T) {
	for text, quantity := range map[string]string{
		"": "current", "abc": "current", "3 V": "current", "1e999": "voltage", "NaN": "power",
		"3 Mv": "voltage", "2 h x": "duration", "5 h 3": "duration",
	} {
		if v, err := Parse(text, quantity); err == nil {
			t.Errorf("Parse(%q, %s) = %v, want an error", text, quantity, v)
		}
	}
	_, err := Parse("3 V", "current")
	if err == nil || !strings.Contains(err.Error(), "mA") {
		t.Errorf("the error should name units that work, got %v", err)
	}
}

func TestFormat(t *testing.T) {
	for _, c := range []struct {
		value    float64
		quantity string
		want     string
	}{
		{0.35, "current", "350 mA"}, {1.5, "current", "1.50 A"}, {85.4, "temperature", "85 °C"},
		{12240, "duration", "3 h 24"}, {1640, "luminousFlux", "1640 lm"}, {0.89, "fraction", "89.0 %"}, {0, "power", "0 W"},
	} {
		if got := Format(c.value, c.quantity, 3); got != c.want {
			t.Errorf("Format(%v, %s) = %q, want %q", c.value, c.quantity, got, c.want)
		}
	}
}

// Codes printed on resistors (IEC 60062), and units of strip and hours.
func TestApart(t *testing.T) {
	for _, c := range []struct {
		a, b     float64
		quantity string
		digits   int
		x, y     string
	}{
		{2.78, 2.777778, "current", 3, "2.780 A", "2.778 A"}, {1, 2, "current", 3, "1.00 A", "2.00 A"}, {1, 1, "current", 3, "1.00 A", "1.00 A"}, {19.47, 20, "luminousFlux", 2, "19 lm", "20 lm"}, {19.6, 20, "luminousFlux", 2, "19.6 lm", "20.0 lm"},
		{1.0000001, 1, "current", 3, "1.00000 A", "1.00000 A"}, // no meter tells these apart
	} {
		if x, y := Apart(c.a, c.b, c.quantity, c.digits); x != c.x || y != c.y {
			t.Errorf("%g and %g: %s and %s, want %s and %s", c.a, c.b, x, y, c.x, c.y)
		}
	}
}

func TestCodesAndStrip(t *testing.T) {
	for _, c := range []struct {
		text, quantity string
		want           float64
	}{
		{"2R2", "resistance", 2.2}, {"4k7", "resistance", 4700}, {"1M5", "resistance", 1.5e6}, {"R47", "resistance", 0.47}, {"4k", "resistance", 4000}, {"10 R", "resistance", 10},
		{"1 CFM", "airFlow", 4.719474432e-4 * 3600}, {"10 l/s", "airFlow", 36}, {"20", "airFlow", 20}, {"1 mph", "speed", 0.44704}, {"18 km/h", "speed", 5}, {"20 kHz", "frequency", 20000}, {"1000 W/m²", "irradiance", 1000}, {"9 °F", "temperatureStep", 5}, {"1 ft²", "area", 0.09290304}, // NIST SP 811, appendix B
		{"15 W/m", "powerPerLength", 15}, {"3 W/ft", "powerPerLength", 3 / 0.3048}, {"900 lm/m", "fluxPerLength", 900}, {"20 h", "hours", 20}, {"90 min", "hours", 1.5}, {"2 d", "hours", 48},
	} {
		if got, err := Parse(c.text, c.quantity); err != nil || math.Abs(got-c.want) > 1e-9*c.want {
			t.Errorf("%q as %s: %v, %v; want %v", c.text, c.quantity, got, err, c.want)
		}
	}
	for _, quantity := range []string{"fraction", "count"} {
		if _, err := Parse("5 mm", quantity); err == nil {
			t.Errorf("5 mm is read as a %s", quantity)
		}
	}
	for _, text := range []string{"2R2R", "R", "4k7k", "kk"} {
		if _, err := Parse(text, "resistance"); err == nil {
			t.Errorf("%q is read as a resistance", text)
		}
	}
}

// Wire by ASTM B258 and copper of 1.724e-8 Ω·m: 24 AWG is 0.5106 mm and 84.2 mΩ/m, 18 AWG
// 1.024 mm and 20.9 mΩ/m. The length of a wire stands for its resistance, whichever way it
// is said.
func TestWireForItsResistance(t *testing.T) {
	for n, want := range map[int][2]float64{24: {0.5106, 84.2}, 18: {1.024, 20.9}} {
		d := GaugeM(n)
		if ohm := WireOhmPerM(math.Pi * d * d / 4); math.Abs(1e3*d-want[0]) > 5e-4 || math.Abs(1e3*ohm-want[1]) > 0.06 {
			t.Errorf("AWG %d: %g mm, %g mΩ/m", n, 1e3*d, 1e3*ohm)
		}
	}
	for text, want := range map[string]float64{
		"2 m AWG 24": 0.1684, "AWG 24 2 m": 0.1684, "24 AWG, 2 m": 0.1684, "2 m of awg24": 0.1684, "200 cm 24 AWG": 0.1684, "10 ft AWG 18": 10 * 0.3048 * 0.02095,
		"1 m 0.5 mm²": 0.03448, "1 m of 0.5 mm2": 0.03448, "2R2": 2.2, "50 mΩ": 0.05,
	} {
		if got, err := Parse(text, "resistance"); err != nil || math.Abs(got-want) > 1e-3*want {
			t.Errorf("%s: %g Ω, %v; want %g", text, got, err, want)
		}
	}
	for _, text := range []string{"AWG 24", "2 m", "2 m AWG 99", "1 kg AWG 24", "m AWG 24"} {
		if got, err := Parse(text, "resistance"); err == nil {
			t.Errorf("%q is taken as %g Ω", text, got)
		} else if !strings.Contains(err.Error(), "AWG") {
			t.Errorf("%q: %v", text, err)
		}
	}
}

// Wires as people write them, against the gauge table of ASTM B258: 24 AWG is 0.5106 mm and
// 84.2 mΩ/m, 18 AWG 1.024 mm and 20.9 mΩ/m.
func TestParseWire(t *testing.T) {
	for text, want := range map[string]struct{ m, mm, ohm float64 }{
		"1 m AWG 24": {1, 0.5106, 0.0842}, "AWG 18, 2 m": {2, 1.024, 0.0418}, "30 cm 18 AWG": {0.3, 1.024, 0.00627}, "1.5 m 0.5 mm²": {1.5, 0.7979, 0.0517}, "2 ft of 24 gauge": {0.6096, 0.5106, 0.0513}, "50 cm 0.75 mm2": {0.5, 0.9772, 0.0115},
	} {
		w, err := ParseWire(text)
		if err != nil || math.Abs(w.LengthM/want.m-1) > 1e-3 || math.Abs(2*math.Sqrt(w.AreaM2/math.Pi)*1e3/want.mm-1) > 1e-3 || math.Abs(w.Ohm()/want.ohm-1) > 4e-3 {
			t.Errorf("%q: %+v, %g Ω, %v", text, w, w.Ohm(), err)
		}
	}
	for _, text := range []string{"", "24", "AWG 24", "1 m", "1 V AWG 24", "0 m AWG 24", "1 m 0 mm²", "1 m 99999 mm²"} {
		if w, err := ParseWire(text); err == nil {
			t.Errorf("%q: %+v", text, w)
		}
	}
}

// Ohms are said in the prefix that keeps them short, up to millions.
func TestOhms(t *testing.T) {
	for x, want := range map[float64]string{0.05: "50.0 mΩ", 22: "22.0 Ω", 4700: "4.70 kΩ", 999e3: "999 kΩ", 1e6: "1.00 MΩ", 4.7e6: "4.70 MΩ"} {
		if got := Ohms(x); got != want {
			t.Errorf("%g: %q, not %q", x, got, want)
		}
	}
}

// Figures are said with so many digits and never as a power of ten.
func TestDigits(t *testing.T) {
	for _, c := range []struct {
		x      float64
		digits int
		want   string
	}{{20000, 4, "20000"}, {1250, 3, "1250"}, {273.6, 2, "270"}, {99.6, 2, "100"}, {-273.6, 2, "-270"}, {0.123, 2, "0.12"}, {0, 3, "0"}, {7, 3, "7.00"}} {
		if got := Digits(c.x, c.digits); got != c.want {
			t.Errorf("%g with %d digits: %q, want %q", c.x, c.digits, got, c.want)
		}
	}
	for got, want := range map[string]string{Kelvins(273.6): "270 K", Kelvins(3): "3 K", Plain(100, 4): "100", Plain(20000, 4): "20000", Plain(0.70, 3): "0.7", Plain(1250, 3): "1250", Plain(8.594, 3): "8.59", Plain(0, 2): "0"} {
		if got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
}
