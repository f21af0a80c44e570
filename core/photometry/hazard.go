package photometry

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/interp"
)

// Hazards are what a spectrum does to eyes and skin, for each radiated watt, weighed as IEC
// 62471:2006 does (its tables 4.1 and 4.2, ICNIRP's; from memory).
type Hazards struct {
	Blue     float64 // weighted by B(λ), 300–700 nm: the retina, W/W
	Actinic  float64 // weighted by S(λ), 200–400 nm: cornea and skin, W/W
	UVA      float64 // 315–400 nm, not weighted: the lens of the eye, W/W
	Infrared float64 // 780 nm and longer, as far as a spectrum is kept: cornea and lens, W/W
	NearUV   float64 // up to 405 nm, not weighted: what fluoresces by it, W/W
}

// The edges between which the hazards are counted, nm.
const (
	uvaFromNm, uvaToNm   = 315, 400
	nearUVToNm           = 405
	infraredFromNm       = 780
	blueFromNm, blueToNm = 300, 700
	blueTailNm           = 500 // from here on B falls by a power of ten for 50 nm
	blueFloorNm          = 600 // and stands still
)

// blueNm and blueB are the blue-light hazard function at its nodes (IEC 62471 table 4.2, from
// memory); from 500 nm on it is 10^((450−λ)/50), from 600 to 700 nm 0.001.
var (
	blueNm = []float64{300, 380, 385, 390, 395, 400, 405, 410, 415, 420, 425, 430, 435, 440, 445, 450, 455, 460, 465, 470, 475, 480, 485, 490, 495, 500}
	blueB  = []float64{0.01, 0.01, 0.013, 0.025, 0.05, 0.1, 0.2, 0.4, 0.8, 0.9, 0.95, 0.98, 1, 1, 0.97, 0.94, 0.9, 0.8, 0.7, 0.62, 0.55, 0.45, 0.4, 0.22, 0.16, 0.1}
)

// actinicNm and actinicS are the actinic hazard function at its nodes (IEC 62471 table 4.1, from
// memory), straight in its logarithm between them.
var (
	actinicNm = []float64{200, 210, 220, 230, 240, 250, 260, 270, 280, 290, 300, 305, 310, 315, 320, 330, 340, 350, 360, 370, 380, 390, 400}
	actinicS  = []float64{0.03, 0.075, 0.12, 0.19, 0.3, 0.43, 0.65, 1, 0.88, 0.64, 0.3, 0.06, 0.015, 0.003, 0.001, 0.00041, 0.00028, 0.0002, 0.00013, 9.3e-5, 6.4e-5, 4.4e-5, 3e-5}
)

var blueAt, actinicAt = between(blueNm, blueB), between(actinicNm, logs(actinicS))

func logs(x []float64) []float64 {
	out := make([]float64, len(x))
	for i := range x {
		out[i] = math.Log(x[i])
	}
	return out
}

func between(x, y []float64) *interp.PiecewiseLinear {
	p := new(interp.PiecewiseLinear)
	if err := p.Fit(x, y); err != nil {
		panic(fmt.Sprintf("a table shipped with the program: %v", err))
	}
	return p
}

// BlueHazard is B(λ), the blue-light hazard function, at a wavelength in nm; 0 outside 300–700 nm.
func BlueHazard(nm float64) float64 {
	switch {
	case nm < blueFromNm || nm > blueToNm:
		return 0
	case nm <= blueTailNm:
		return blueAt.Predict(nm)
	}
	return math.Pow(10, (450-min(nm, blueFloorNm))/50)
}

// ActinicHazard is S(λ), the actinic hazard function, at a wavelength in nm; 0 outside 200–400 nm.
func ActinicHazard(nm float64) float64 {
	if nm < actinicNm[0] || nm > actinicNm[len(actinicNm)-1] {
		return 0
	}
	return math.Exp(actinicAt.Predict(nm))
}

// Hazards weighs a spectrum; of one that radiates nothing all are 0.
func (s *Spectrum) Hazards() (h Hazards) {
	sum := 0.0
	for i, w := range s {
		nm := float64(FirstNm + i)
		sum += w
		h.Blue += w * BlueHazard(nm)
		h.Actinic += w * ActinicHazard(nm)
		if nm >= uvaFromNm && nm < uvaToNm {
			h.UVA += w
		}
		if nm <= nearUVToNm {
			h.NearUV += w
		}
		if nm >= infraredFromNm {
			h.Infrared += w
		}
	}
	if sum <= 0 {
		return Hazards{}
	}
	h.Blue, h.Actinic, h.UVA, h.NearUV, h.Infrared = h.Blue/sum, h.Actinic/sum, h.UVA/sum, h.NearUV/sum, h.Infrared/sum
	return h
}
