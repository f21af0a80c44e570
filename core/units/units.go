// Package units reads and writes quantities the way people type them at a
// bench: "350 mA", "1.2 °C/W", "17 in²". Inside the program every value is in
// the unit its field name carries; this package is the border.
package units

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// A Unit is one accepted spelling of a unit: value = number·Factor + Offset.
type Unit struct {
	Symbol string  `json:"symbol" doc:"Spelling accepted after the number"`
	Factor float64 `json:"factor" doc:"Base value = number × factor + offset"`
	Offset float64 `json:"offset" doc:"Zero for all but temperatures"`
}

// A Quantity is a kind of figure together with the spellings of its units. The
// first unit is the base unit, used when a number is typed without one.
type Quantity struct {
	Name  string `json:"name" doc:"Name of the quantity"`
	Units []Unit `json:"units" doc:"Accepted units, base unit first"`
}

type prefix struct {
	symbol string
	factor float64
}

var (
	sub     = []prefix{{"", 1}, {"m", 1e-3}, {"µ", 1e-6}, {"u", 1e-6}}
	subKilo = append([]prefix{{"k", 1e3}}, sub...)
	all     = append([]prefix{{"M", 1e6}}, subKilo...)
)

func scaled(base string, prefixes []prefix, more ...Unit) []Unit {
	units := []Unit{{Symbol: base, Factor: 1}}
	for _, p := range prefixes {
		if p.symbol != "" {
			units = append(units, Unit{Symbol: p.symbol + base, Factor: p.factor})
		}
	}
	return append(units, more...)
}

// Inch, foot, pound and the like are exact by the international yard and pound
// agreement (NIST SP 811, appendix B).
const (
	inchM  = 0.0254
	poundK = 0.45359237
	footM3 = 12 * inchM * 12 * inchM * 12 * inchM
)

// Quantities lists every quantity the program reads or writes.
func Quantities() []Quantity {
	return []Quantity{
		{"current", scaled("A", sub)},
		{"voltage", scaled("V", subKilo)},
		{"power", scaled("W", subKilo)},
		{"resistance", scaled("Ω", all, append([]Unit{{Symbol: "ohm", Factor: 1}, {Symbol: "mohm", Factor: 1e-3},
			{Symbol: "kohm", Factor: 1e3}, {Symbol: "R", Factor: 1}, {Symbol: "k", Factor: 1e3}}, wires()...)...)},
		{"charge", scaled("Ah", sub, Unit{Symbol: "C", Factor: 1.0 / 3600})},
		{"energy", scaled("Wh", subKilo, Unit{Symbol: "J", Factor: 1.0 / 3600}, Unit{Symbol: "kJ", Factor: 1.0 / 3.6})},
		{"temperature", []Unit{{Symbol: "°C", Factor: 1}, {Symbol: "C", Factor: 1}, {Symbol: "K", Factor: 1, Offset: -273.15},
			{Symbol: "°F", Factor: 5.0 / 9, Offset: -160.0 / 9}, {Symbol: "F", Factor: 5.0 / 9, Offset: -160.0 / 9}}},
		{"thermalResistance", []Unit{{Symbol: "K/W", Factor: 1}, {Symbol: "°C/W", Factor: 1}, {Symbol: "C/W", Factor: 1}, {Symbol: "°F/W", Factor: 5.0 / 9}}},
		{"heatCapacity", []Unit{{Symbol: "J/K", Factor: 1}, {Symbol: "kJ/K", Factor: 1e3}, {Symbol: "J/°C", Factor: 1}}},
		{"conductivity", []Unit{{Symbol: "W/mK", Factor: 1}, {Symbol: "W/(m·K)", Factor: 1}}},
		{"area", []Unit{{Symbol: "m²", Factor: 1}, {Symbol: "m2", Factor: 1}, {Symbol: "cm²", Factor: 1e-4}, {Symbol: "cm2", Factor: 1e-4},
			{Symbol: "mm²", Factor: 1e-6}, {Symbol: "mm2", Factor: 1e-6}, {Symbol: "in²", Factor: inchM * inchM}, {Symbol: "in2", Factor: inchM * inchM}, {Symbol: "ft²", Factor: 144 * inchM * inchM}, {Symbol: "ft2", Factor: 144 * inchM * inchM}}},
		{"length", []Unit{{Symbol: "m", Factor: 1}, {Symbol: "cm", Factor: 1e-2}, {Symbol: "mm", Factor: 1e-3}, {Symbol: "µm", Factor: 1e-6}, {Symbol: "um", Factor: 1e-6},
			{Symbol: "in", Factor: inchM}, {Symbol: "ft", Factor: 12 * inchM}}},
		{"mass", []Unit{{Symbol: "kg", Factor: 1}, {Symbol: "g", Factor: 1e-3}, {Symbol: "lb", Factor: poundK}, {Symbol: "oz", Factor: poundK / 16}}},
		{"duration", []Unit{{Symbol: "s", Factor: 1}, {Symbol: "sec", Factor: 1}, {Symbol: "min", Factor: 60}, {Symbol: "h", Factor: 3600}, {Symbol: "d", Factor: 86400}, {Symbol: "ms", Factor: 1e-3}}},
		{"hours", []Unit{{Symbol: "h", Factor: 1}, {Symbol: "min", Factor: 1.0 / 60}, {Symbol: "d", Factor: 24}}},
		{"luminousFlux", []Unit{{Symbol: "lm", Factor: 1}, {Symbol: "klm", Factor: 1e3}}},
		{"powerPerLength", []Unit{{Symbol: "W/m", Factor: 1}, {Symbol: "W/ft", Factor: 1 / (12 * inchM)}}},
		{"fluxPerLength", []Unit{{Symbol: "lm/m", Factor: 1}, {Symbol: "lm/ft", Factor: 1 / (12 * inchM)}}},
		{"efficacy", []Unit{{Symbol: "lm/W", Factor: 1}}},
		{"airFlow", []Unit{{Symbol: "m³/h", Factor: 1}, {Symbol: "m3/h", Factor: 1}, {Symbol: "l/s", Factor: 3.6}, {Symbol: "CFM", Factor: 60 * footM3}}}, // cubic feet a minute
		{"speed", []Unit{{Symbol: "m/s", Factor: 1}, {Symbol: "km/h", Factor: 1 / 3.6}, {Symbol: "mph", Factor: 63360 * inchM / 3600}}},
		{"frequency", []Unit{{Symbol: "Hz", Factor: 1}, {Symbol: "kHz", Factor: 1e3}, {Symbol: "MHz", Factor: 1e6}}},
		{"irradiance", []Unit{{Symbol: "W/m²", Factor: 1}, {Symbol: "W/m2", Factor: 1}}},
		{"temperatureStep", []Unit{{Symbol: "K", Factor: 1}, {Symbol: "°C", Factor: 1}, {Symbol: "°F", Factor: 5.0 / 9}}},
		{"temperatureCoefficient", []Unit{{Symbol: "V/K", Factor: 1}, {Symbol: "mV/K", Factor: 1e-3}, {Symbol: "mV/°C", Factor: 1e-3}}},
		{"angle", []Unit{{Symbol: "°", Factor: 1}, {Symbol: "deg", Factor: 1}}},
		{"illuminance", []Unit{{Symbol: "lx", Factor: 1}, {Symbol: "klx", Factor: 1e3}, {Symbol: "fc", Factor: 10.7639104}}}, // a lumen on a square foot
		{"intensity", []Unit{{Symbol: "cd", Factor: 1}, {Symbol: "kcd", Factor: 1e3}}},
		{"photonFluxDensity", []Unit{{Symbol: "µmol/m²s", Factor: 1}, {Symbol: "µmol/(m²·s)", Factor: 1}, {Symbol: "µmol/m²/s", Factor: 1}, {Symbol: "µmol", Factor: 1}, {Symbol: "umol", Factor: 1}}},
		{"colourTemperature", []Unit{{Symbol: "K", Factor: 1}}},
		{"fraction", []Unit{{Symbol: "", Factor: 1}, {Symbol: "%", Factor: 1e-2}}},
		{"count", []Unit{{Symbol: "", Factor: 1}}},
	}
}

var byName = func() map[string]Quantity {
	m := map[string]Quantity{}
	for _, q := range Quantities() {
		m[q.Name] = q
	}
	return m
}()

// Parse reads text such as "350 mA" or "1,5" as the named quantity and returns
// the value in the quantity's base unit. A number alone is in the base unit; a
// comma or a point marks the decimals; a duration may be "3 h 20 min". The error
// is one plain sentence that says which units would have been understood.
func Parse(text, quantity string) (float64, error) {
	q, ok := byName[quantity]
	if !ok {
		return 0, fmt.Errorf("unknown quantity %q", quantity)
	}
	rest := strings.TrimSpace(strings.NewReplacer("\u00a0", " ", "\u202f", " ", "−", "-", "μ", "µ", "Ω", "Ω").Replace(text))
	if rest == "" {
		return 0, fmt.Errorf("a figure is missing")
	}
	if quantity == "resistance" {
		rest = wireWords(resistorCode(rest))
	}
	total, parts := 0.0, 0
	for rest != "" {
		number, tail := splitNumber(rest)
		value, err := strconv.ParseFloat(strings.ReplaceAll(number, ",", "."), 64)
		if err != nil || math.IsInf(value, 0) || math.IsNaN(value) {
			return 0, fmt.Errorf("%q is not a number", strings.TrimSpace(text))
		}
		tail = strings.TrimSpace(tail)
		symbol := tail
		if quantity == "duration" { // the one quantity said in two parts
			end := strings.IndexAny(tail, "0123456789")
			if end >= 0 {
				symbol = strings.TrimSpace(tail[:end])
			}
			rest = strings.TrimSpace(strings.TrimPrefix(tail, symbol))
		} else {
			rest = ""
		}
		unit, ok := find(q, symbol)
		if !ok || (parts > 0 && symbol == "") {
			return 0, fmt.Errorf("%q is not a unit of %s; use %s", symbol, spoken(quantity), symbols(q))
		}
		total += value*unit.Factor + unit.Offset
		parts++
	}
	return total, nil
}

// resistorCode spells a resistor's code out: 2R2 is 2.2 R, 4k7 is 4.7 k (IEC 60062).
func resistorCode(s string) string {
	for _, mark := range []string{"R", "k", "M"} {
		whole, part, ok := strings.Cut(s, mark)
		if ok && isDigits(part) && (whole == "" || isDigits(whole)) {
			return whole + "." + part + " " + strings.Replace(mark, "M", "MΩ", 1)
		}
	}
	return s
}

func isDigits(s string) bool { return s != "" && strings.Trim(s, "0123456789") == "" }

func splitNumber(s string) (number, rest string) {
	i := 0
	for i < len(s) {
		c := s[i]
		exponent := (c == 'e' || c == 'E') && i > 0 && i+1 < len(s) && strings.ContainsRune("0123456789+-", rune(s[i+1]))
		sign := (c == '-' || c == '+') && (i == 0 || s[i-1] == 'e' || s[i-1] == 'E')
		if !(c >= '0' && c <= '9') && c != '.' && c != ',' && !exponent && !sign {
			break
		}
		i++
	}
	return s[:i], s[i:]
}

// Find is the unit of a quantity with this spelling, if it is one; in other letters only
// where that can mean no other unit.
func Find(quantity, symbol string) (Unit, bool) { return find(byName[quantity], symbol) }

func find(q Quantity, symbol string) (Unit, bool) {
	if symbol == "" {
		return q.Units[0], true
	}
	for _, u := range q.Units {
		if u.Symbol == symbol {
			return u, true
		}
	}
	// A unit typed in the wrong case is taken only where it is not ambiguous
	// (ma and v can only be mA and V; MA is not taken for mA).
	var hit []Unit
	for _, u := range q.Units {
		if u.Symbol == "" {
			continue
		}
		milliOrMega := len(symbol) > 1 && (symbol[0]|0x20) == 'm' && symbol[0] != u.Symbol[0]
		if strings.EqualFold(u.Symbol, symbol) && !milliOrMega {
			hit = append(hit, u)
		}
	}
	if len(hit) == 1 {
		return hit[0], true
	}
	return Unit{}, false
}

func symbols(q Quantity) string {
	var s []string
	for _, u := range q.Units {
		if u.Symbol != "" && u.Symbol != "um" && u.Symbol[0] != 'u' && !strings.Contains(u.Symbol, " ") {
			s = append(s, u.Symbol)
		}
	}
	if q.Name == "resistance" {
		s = append(s, "or a wire: 1.2 m AWG 24")
	}
	if len(s) == 0 {
		return "a plain number"
	}
	return strings.Join(s, ", ")
}

func spoken(quantity string) string {
	var b strings.Builder
	for _, r := range quantity {
		if r >= 'A' && r <= 'Z' {
			b.WriteByte(' ')
			r += 'a' - 'A'
		}
		b.WriteRune(r)
	}
	return b.String()
}

// Format writes a value of the named quantity with the given number of
// significant digits, in the unit a person would use for that size.
func Format(value float64, quantity string, digits int) string {
	if quantity == "duration" {
		return duration(value)
	}
	q := byName[quantity]
	if quantity == "fraction" {
		return Digits(value*100, digits) + " %"
	}
	unit := ""
	if len(q.Units) > 0 {
		unit = q.Units[0].Symbol
	}
	size := math.Abs(value)
	switch quantity {
	case "current", "voltage", "power", "resistance", "charge":
		if size > 0 && size < 1 {
			value, unit = value*1e3, "m"+unit
		} else if size >= 1e6 && quantity == "resistance" {
			value, unit = value/1e6, "M"+unit
		} else if size >= 1e3 {
			value, unit = value/1e3, "k"+unit
		}
	case "length":
		if size > 0 && size < 1 {
			value, unit = value*1e3, "m"+unit
		}
	case "temperature":
		// Degrees are said whole: a model good to a kelvin or two has no tenths.
		return strings.TrimSpace(strconv.FormatFloat(math.Round(value), 'f', 0, 64) + " " + unit)
	}
	return strings.TrimSpace(Digits(value, digits) + " " + unit)
}

// Apart writes two values of a quantity as Format does, with as many more digits, up to six, as tell
// two unequal ones apart: that one is over the other is not to be read as two figures alike.
func Apart(a, b float64, quantity string, digits int) (string, string) {
	x, y := Format(a, quantity, digits), Format(b, quantity, digits)
	for digits++; x == y && a != b && digits <= 6; digits++ {
		x, y = Format(a, quantity, digits), Format(b, quantity, digits)
	}
	return x, y
}

// Plain writes a figure with so many significant digits at most, no noughts behind it, and never
// as a power of ten.
func Plain(value float64, digits int) string {
	s := Digits(value, digits)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	return s
}

// Digits writes a figure with so many significant digits, and never as a power of ten.
func Digits(value float64, digits int) string {
	if value == 0 {
		return "0"
	}
	decimals := digits - 1 - int(math.Floor(math.Log10(math.Abs(value))))
	if decimals < 0 {
		pow := math.Pow(10, float64(-decimals))
		return strconv.FormatFloat(math.Round(value/pow)*pow, 'f', 0, 64)
	}
	return strconv.FormatFloat(value, 'f', decimals, 64)
}

func duration(s float64) string {
	switch {
	case s < 60:
		return Digits(s, 2) + " s"
	case s < 3600:
		return fmt.Sprintf("%.0f min", s/60)
	case s < 100*3600:
		minutes := math.Round(s / 60)
		return fmt.Sprintf("%.0f h %02.0f", math.Floor(minutes/60), math.Mod(minutes, 60))
	default:
		return fmt.Sprintf("%.1f d", s/86400)
	}
}

// Figures in a sentence, with the digits that are read at a glance.

// Amps writes a current.
func Amps(x float64) string { return Format(x, "current", 3) }

// Volts writes a voltage.
func Volts(x float64) string { return Format(x, "voltage", 3) }

// Watts writes a power.
func Watts(x float64) string { return Format(x, "power", 3) }

// Ohms writes a resistance.
func Ohms(x float64) string { return Format(x, "resistance", 3) }

// Degrees writes a temperature.
func Degrees(x float64) string { return Format(x, "temperature", 2) }

// Duration writes a time.
func Duration(s float64) string { return Format(s, "duration", 2) }

// Kelvins writes a difference of temperatures.
func Kelvins(x float64) string { return Plain(x, 2) + " K" }
