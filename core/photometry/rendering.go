package photometry

import (
	_ "embed"
	"math"
)

// Reflectances of the eight test-colour samples of CIE 13.3-1995, to two decimals.
//
//go:embed cie_13_3_samples.csv
var samplesCSV string

// Components of the CIE daylight illuminants (CIE 015:2004, table T.2).
//
//go:embed cie_daylight.csv
var daylightCSV string

var (
	samples  = readTable[[8]float64](samplesCSV, func(row *[8]float64) []float64 { return row[:] })
	daylight = readTable[[3]float64](daylightCSV, func(row *[3]float64) []float64 { return row[:] })
)

// Daylight is the CIE daylight illuminant of a correlated colour temperature, K,
// from 4000 to 25000 (CIE 015:2004, 3.1).
func Daylight(kelvin float64) (s Spectrum) {
	t := 1000 / kelvin
	x := 0.244063 + 0.09911*t + 2.9678*t*t - 4.6070*t*t*t
	if kelvin > 7000 {
		x = 0.237040 + 0.24748*t + 1.9018*t*t - 2.0064*t*t*t
	}
	y := -3*x*x + 2.870*x - 0.275
	m := 0.0241 + 0.2562*x - 0.7341*y
	m1, m2 := (-1.3515-1.7703*x+5.9114*y)/m, (0.0300-31.4424*x+30.0717*y)/m
	for i := range s {
		s[i] = daylight[i][0] + m1*daylight[i][1] + m2*daylight[i][2]
	}
	return s
}

const (
	// daylightFromK is where the reference turns from black body to daylight.
	daylightFromK = 5000
	// renderingDuv is how far off the reference a light may be for its rendering to
	// mean anything; beyond 0.0054 CIE 13.3 calls it less sure.
	renderingDuv = 0.01
)

// Rendering is the general colour rendering index Ra of CIE 13.3-1995: 100 less 4.6
// times the mean shift of eight samples against a black body, or daylight from 5000 K
// on, of the same colour temperature. It is not ok for what is not white.
func (s *Spectrum) Rendering() (ra float64, ok bool) {
	cct, _, ok := s.Colour()
	if !ok {
		return 0, false
	}
	reference := BlackBody(cct)
	if cct >= daylightFromK {
		reference = Daylight(cct)
	}
	u, v := s.uv()
	ru, rv := reference.uv()
	if math.Hypot(u-ru, v-rv) > renderingDuv {
		return 0, false
	}
	c, d := adaptation(u, v)
	rc, rd := adaptation(ru, rv)
	white, referenceWhite := s.xyz()[1], reference.xyz()[1]
	sum := 0.0
	for k := range 8 {
		lit, referenceLit := s.reflected(k), reference.reflected(k)
		// The eye adapts to the light (von Kries, as CIE 13.3 has it).
		ku, kv := lit.uv()
		kc, kd := adaptation(ku, kv)
		c, d := kc*rc/c, kd*rd/d
		w := 16.518 + 1.481*c - d
		ku, kv = (10.872+0.404*c-4*d)/w, 5.520/w
		rku, rkv := referenceLit.uv()
		l, rl := lightness(lit.xyz()[1]/white), lightness(referenceLit.xyz()[1]/referenceWhite)
		du, dv := 13*l*(ku-ru)-13*rl*(rku-ru), 13*l*(kv-rv)-13*rl*(rkv-rv)
		sum += 100 - 4.6*math.Sqrt(du*du+dv*dv+(l-rl)*(l-rl))
	}
	return sum / 8, true
}

// reflected is the light off a sample.
func (s *Spectrum) reflected(sample int) (out Spectrum) {
	for i := range s {
		out[i] = s[i] * samples[i][sample]
	}
	return out
}

func adaptation(u, v float64) (c, d float64) {
	return (4 - u - 10*v) / v, (1.708*v + 0.404 - 1.481*u) / v
}

// lightness is W* of CIE 1964, of a share of white.
func lightness(share float64) float64 { return 25*math.Cbrt(100*share) - 17 }
