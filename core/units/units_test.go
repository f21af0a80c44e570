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
func TestCodesAndStrip(t *testing.T) {
	for _, c := range []struct {
		text, quantity string
		want           float64
	}{
		{"2R2", "resistance", 2.2}, {"4k7", "resistance", 4700}, {"1M5", "resistance", 1.5e6}, {"R47", "resistance", 0.47}, {"4k", "resistance", 4000}, {"10 R", "resistance", 10},
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
