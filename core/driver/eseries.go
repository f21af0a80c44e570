package driver

import "math"

// Standard resistor values of a decade, IEC 60063: E24 and E12 as tabulated there
// (they depart from the geometric series), E96 as 10^(k/96) to three digits.
var (
	E12 = []float64{1.0, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2}
	E24 = []float64{1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0, 3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1}
	E96 = geometric(96)
)

func geometric(n int) []float64 {
	out := make([]float64, n)
	for k := range out {
		out[k] = math.Round(100*math.Pow(10, float64(k)/float64(n))) / 100
	}
	return out
}

// A Fitting is one resistor, or two in parallel, that comes near a wanted value.
type Fitting struct {
	Ohm    []float64 `json:"ohm" nullable:"false" doc:"One value, or two in parallel, Ω"`
	Whole  float64   `json:"wholeOhm" doc:"Their resistance together, Ω"`
	Off    float64   `json:"off" doc:"How far that is from the wanted value, share"`
	Source string    `json:"source" doc:"E12, E24, E96 or drawer"`
}

// Values lists the values of a series between two resistances, Ω, rising.
func Values(series []float64, low, high float64) []float64 {
	var out []float64
	if low <= 0 || high < low {
		return nil
	}
	for decade := math.Pow(10, math.Floor(math.Log10(low))); decade <= high; decade *= 10 {
		for _, v := range series {
			if r := v * decade; r >= low*(1-1e-9) && r <= high*(1+1e-9) {
				out = append(out, math.Round(r*1e6)/1e6)
			}
		}
	}
	return out
}

// NextHigher is the next standard value at or above a resistance, Ω: the safe side
// for a series resistor.
func NextHigher(series []float64, ohm float64) float64 {
	for _, r := range Values(series, ohm, 10.5*ohm) {
		return r
	}
	return ohm
}

// Nearest is the single value that comes nearest, by ratio.
func Nearest(values []float64, ohm float64) (float64, bool) {
	best, found := 0.0, false
	for _, r := range values {
		if r > 0 && (!found || math.Abs(math.Log(r/ohm)) < math.Abs(math.Log(best/ohm))) {
			best, found = r, true
		}
	}
	return best, found
}

// NearestPair is the pair in parallel that comes nearest, the two as equal as can
// be among those equally near, so that they share their watts.
func NearestPair(values []float64, ohm float64) (a, b float64, found bool) {
	best := math.Inf(1)
	for i, r := range values {
		for _, q := range values[i:] {
			if r <= 0 {
				continue
			}
			off := math.Abs(math.Log(r * q / (r + q) / ohm))
			if off < best-1e-9 || (off < best+1e-9 && q/r < b/a) {
				best, a, b, found = off, r, q, true
			}
		}
	}
	return a, b, found
}

// Fit finds the nearest single value and the nearest pair in parallel for a wanted
// resistance, from a series or from the values in the drawer.
func Fit(ohm float64, source string, drawer []float64) []Fitting {
	values := drawer
	switch source {
	case "E12":
		values = Values(E12, ohm/10, 30*ohm)
	case "E24":
		values = Values(E24, ohm/10, 30*ohm)
	case "E96":
		values = Values(E96, ohm/10, 30*ohm)
	}
	var out []Fitting
	if r, ok := Nearest(values, ohm); ok {
		out = append(out, Fitting{[]float64{r}, r, r/ohm - 1, source})
	}
	if a, b, ok := NearestPair(values, ohm); ok {
		out = append(out, Fitting{[]float64{a, b}, a * b / (a + b), a*b/(a+b)/ohm - 1, source})
	}
	return out
}
