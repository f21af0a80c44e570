// Package photometry answers what a spectrum looks like and weighs: lumens per
// radiated watt, photons for plants, colour.
package photometry

import (
	_ "embed"
	"encoding/csv"
	"fmt"
	"math"
	"strconv"
	"strings"

	"gonum.org/v1/gonum/interp"
	"gonum.org/v1/gonum/mat"

	"photherm/core/design"
)

// The wavelengths a spectrum is kept at, nm.
const (
	FirstNm = 200
	LastNm  = 1100
	places  = LastNm - FirstNm + 1
)

// A Spectrum is power per nm at each whole wavelength from FirstNm to LastNm, any
// scale.
type Spectrum [places]float64

// LumensPerWatt is the luminous efficacy of radiation at the peak of V(λ), lm/W:
// the SI fixes 683 lm/W at 540 THz, which is 683.002 at the maximum (BIPM, SI
// brochure; CIE 018).
const LumensPerWatt = 683.002

// planckNA is h·c·N_A, J·nm/µmol: the energy of a micromole of photons times its
// wavelength (CODATA).
const planckNA = 119.62656

//go:embed cie_1931_2deg_1nm.csv
var observerCSV string

// observer is the CIE 1931 2° standard observer; its middle column is V(λ).
var observer = readTable[[3]float64](observerCSV, func(row *[3]float64) []float64 { return row[:] })

// readTable reads a table against wavelength that ships with the program: a heading,
// then rows of whole nanometres and figures, straight lines between them.
func readTable[Row any](text string, figures func(*Row) []float64) (out [places]Row) {
	rows, err := csv.NewReader(strings.NewReader(text)).ReadAll()
	if err != nil {
		panic(fmt.Sprintf("a table shipped with the program: %v", err))
	}
	last := -1
	for _, row := range rows[1:] {
		nm, err := strconv.Atoi(row[0])
		if err != nil {
			panic(fmt.Sprintf("a table shipped with the program: %v", err))
		}
		here := nm - FirstNm
		for k, x := range row[1:] {
			figures(&out[here])[k], _ = strconv.ParseFloat(x, 64)
		}
		for i := last + 1; last >= 0 && i < here; i++ {
			share := float64(i-last) / float64(here-last)
			for k := range figures(&out[i]) {
				figures(&out[i])[k] = (1-share)*figures(&out[last])[k] + share*figures(&out[here])[k]
			}
		}
		last = here
	}
	return out
}

func gaussian(peakNm, widthNm float64) (s Spectrum) {
	sigma := widthNm / (2 * math.Sqrt(2*math.Ln2))
	for i := range s {
		d := (float64(FirstNm+i) - peakNm) / sigma
		s[i] = math.Exp(-d * d / 2)
	}
	return s
}

// The bands a white is made of, nm: a blue pump and two phosphors. One phosphor
// alone gives 10 to 20 % too many lumens for the watt (computed).
const (
	pumpNm, pumpWidthNm   = 452, 22
	greenNm, greenWidthNm = 540, 100
	redNm, redWidthNm     = 618, 105
)

// New makes the spectrum of a part. It fails only on data that design.Decode
// rejects, or a white that the bands cannot make.
func New(d *design.Spectrum) (*Spectrum, error) {
	switch {
	case d.PeakNm != nil:
		width := 20.0
		if d.WidthNm != nil {
			width = *d.WidthNm
		}
		s := gaussian(*d.PeakNm, width)
		return &s, nil
	case d.WhiteK != nil:
		return White(*d.WhiteK)
	case len(d.Table) > 0:
		return table(d.Table), nil
	}
	return nil, fmt.Errorf("the spectrum is empty")
}

func table(points []design.SpectrumPoint) *Spectrum {
	s := new(Spectrum)
	if len(points) == 1 {
		s[int(math.Round(points[0].Nm))-FirstNm] = 1
		return s
	}
	x, y := make([]float64, len(points)), make([]float64, len(points))
	for i, p := range points {
		x[i], y[i] = p.Nm, p.Relative
	}
	var between interp.PiecewiseLinear
	if between.Fit(x, y) != nil {
		return s
	}
	for i := range s {
		if nm := float64(FirstNm + i); nm >= x[0] && nm <= x[len(x)-1] {
			s[i] = between.Predict(nm)
		}
	}
	return s
}

// White is a phosphor-converted white of a correlated colour temperature, K, on
// the Planckian locus: blue pump, green and red phosphor mixed to its colour.
// Valid 1800…12000 K; real phosphors differ by about ±5 % in lm/W.
func White(cctK float64) (*Spectrum, error) {
	bands := [3]Spectrum{gaussian(pumpNm, pumpWidthNm), gaussian(greenNm, greenWidthNm), gaussian(redNm, redWidthNm)}
	black := BlackBody(cctK)
	a, b := mat.NewDense(3, 3, nil), mat.NewVecDense(3, nil)
	want := black.xyz()
	for k := range 3 {
		for i := range bands {
			a.Set(k, i, bands[i].xyz()[k])
		}
		b.SetVec(k, want[k]/want[1])
	}
	var share mat.VecDense
	if err := share.SolveVec(a, b); err != nil {
		return nil, fmt.Errorf("mixing a white of %.0f K: %w", cctK, err)
	}
	s := new(Spectrum)
	for i := range bands {
		w := share.AtVec(i)
		if w < 0 {
			return nil, fmt.Errorf("a white of %.0f K cannot be made of a blue pump and two phosphors", cctK)
		}
		for j := range s {
			s[j] += w * bands[i][j]
		}
	}
	return s, nil
}

// BlackBody is the Planckian radiator at a temperature, K.
func BlackBody(kelvin float64) (s Spectrum) {
	for i := range s {
		m := float64(FirstNm+i) * 1e-9
		s[i] = 1e-24 / math.Pow(m, 5) / math.Expm1(0.014387769/(m*kelvin))
	}
	return s
}

func (s *Spectrum) xyz() (v [3]float64) {
	for i := range s {
		for k := range v {
			v[k] += s[i] * observer[i][k]
		}
	}
	return v
}

// Watts is the power between two wavelengths, in the spectrum's own scale.
func (s *Spectrum) Watts(fromNm, toNm int) float64 {
	w := 0.0
	for nm := max(fromNm, FirstNm); nm <= min(toNm, LastNm); nm++ {
		w += s[nm-FirstNm]
	}
	return w
}

// EfficacyLmPerW is the luminous efficacy of the radiation, lm per radiated watt:
// 683.002·∫V·S/∫S.
func (s *Spectrum) EfficacyLmPerW() float64 {
	return LumensPerWatt * s.xyz()[1] / s.Watts(FirstNm, LastNm)
}

// Photons is the photon flux between two wavelengths for a radiated watt of the
// whole spectrum, µmol/s: ∫S·λ dλ/119.627 by trapezoids, so that what lies at an end
// counts half on either side of it. 400 to 700 nm is photosynthetic (PPF); far red, 700
// to 750, is counted apart.
func (s *Spectrum) Photons(fromNm, toNm int) float64 {
	n, first, last := 0.0, max(fromNm, FirstNm), min(toNm, LastNm)
	for nm := first; nm <= last; nm++ {
		x := s[nm-FirstNm] * float64(nm) / planckNA
		if nm == first || nm == last {
			x /= 2
		}
		n += x
	}
	return n / s.Watts(FirstNm, LastNm)
}

// BlueShare is the share of the photosynthetic photons below 500 nm.
func (s *Spectrum) BlueShare() float64 { return s.Photons(400, 500) / s.Photons(400, 700) }

// uv is the colour in the CIE 1960 diagram.
func (s *Spectrum) uv() (u, v float64) {
	c := s.xyz()
	d := c[0] + 15*c[1] + 3*c[2]
	return 4 * c[0] / d, 6 * c[1] / d
}

// Colour is the correlated colour temperature, K, and the distance Duv from the
// Planckian locus, positive above it (CIE 015). It is not ok for colours too far
// from white, |Duv| > 0.05, or outside 1000…25000 K.
func (s *Spectrum) Colour() (cctK, duv float64, ok bool) {
	if s.xyz()[1] <= 0 {
		return 0, 0, false
	}
	u, v := s.uv()
	apart := func(mired float64) (distance, above float64) {
		b := BlackBody(1e6 / mired)
		bu, bv := b.uv()
		return math.Hypot(u-bu, v-bv), v - bv
	}
	low, high := 1e6/25000.0, 1e6/1000.0
	const g = 0.3819660112501051
	for high-low > 0.01 {
		a, b := low+g*(high-low), high-g*(high-low)
		da, _ := apart(a)
		db, _ := apart(b)
		if da < db {
			high = b
		} else {
			low = a
		}
	}
	mired := (low + high) / 2
	d, above := apart(mired)
	if d > 0.05 || mired < 41 || mired > 999 {
		return 0, 0, false
	}
	return 1e6 / mired, math.Copysign(d, above), true
}
