package heat

import (
	"math"

	"photherm/core/design"
)

// A Panel is a plate of one material with a film on each face, on one of which a source
// lies. The source's own face has its film too.
type Panel struct {
	LengthM, WidthM, ThicknessM float64
	Conductivity                float64
	SourceFilm, BackFilm        float64 // W/(m²·K) on the face of the source and on the other
}

// modesMost bounds the modes along each side; a source of a hundredth of the side needs some
// three hundred.
const modesMost = 300

// answers is how far the face of the source rises for each W/m² of a pattern of wave number
// ζ, K·m²/W: that of a slab with both films, ζ = 0 for all of it alike.
func (p *Panel) answers(zeta float64) float64 {
	k := p.Conductivity
	if zeta == 0 {
		return 1 / (p.SourceFilm + p.BackFilm*k/(k+p.BackFilm*p.ThicknessM))
	}
	th := math.Tanh(zeta * p.ThicknessM)
	down := k * zeta * (k*zeta*th + p.BackFilm) / (k*zeta + p.BackFilm*th)
	return 1 / (p.SourceFilm + down)
}

// SourceKPerW is how far a source of a length and a width in the middle of the panel rises
// above the air for each watt, K/W, on average over itself and at its middle: the double
// cosine series of a rectangular source on a rectangular plate (Yovanovich, Muzychka &
// Culham, J. Thermophysics and Heat Transfer 13 (1999) 495, from memory, with a film on the
// source's face as well).
func (p *Panel) SourceKPerW(lengthM, widthM float64) (mean, middle float64) {
	p.modes(lengthM, widthM, func(zeta, weight, share float64) {
		a := weight * p.answers(zeta)
		mean += a * share * share
		middle += a * share
	})
	return mean, middle
}

// meanKPerW is the mean of SourceKPerW with another answer to a wave number.
func (p *Panel) meanKPerW(lengthM, widthM float64, answers func(zeta float64) float64) float64 {
	sum := 0.0
	p.modes(lengthM, widthM, func(zeta, weight, share float64) { sum += weight * answers(zeta) * share * share })
	return sum
}

// modes visits the even modes of a source in the middle, cos(2πmx/L), of which it has the
// share sinc, each with its weight, 1/m².
func (p *Panel) modes(lengthM, widthM float64, visit func(zeta, weight, share float64)) {
	area := p.LengthM * p.WidthM
	along := shares(p.LengthM, lengthM)
	across := shares(p.WidthM, widthM)
	for m := range along {
		z := 2 * math.Pi * float64(m) / p.LengthM
		for n := range across {
			share := along[m] * across[n]
			if share == 0 {
				continue
			}
			weight := 4.0
			switch {
			case m == 0 && n == 0:
				weight = 1
			case m == 0 || n == 0:
				weight = 2
			}
			visit(math.Hypot(z, 2*math.Pi*float64(n)/p.WidthM), weight/area, share)
		}
	}
}

// shares is what a source of a width has of each even mode of a side, sin(x)/x, as far as it
// matters; all of it: the first alone.
func shares(side, width float64) []float64 {
	if width >= side {
		return []float64{1}
	}
	n := min(modesMost, int(8*side/width)+2)
	out := make([]float64, n)
	out[0] = 1
	for m := 1; m < n; m++ {
		x := math.Pi * float64(m) * width / side
		out[m] = math.Sin(x) / x
	}
	return out
}

// spreadRiseK is the rise at which the film of a body is taken for spreading: it hardly
// depends on it (chosen).
const spreadRiseK = 30

// SpreadKPerW is what a source adds on a body of a shape over a body that is all at one
// temperature, K/W of the source, on average over it: for each of a number of sources alike, each on
// its share of the body. It is 0 where the thickness under it is not known.
func (b *Body) SpreadKPerW(s *design.Shape, sourceLengthM, sourceWidthM float64, sources float64) float64 {
	if sources < 1 {
		return 0
	}
	face, ok := b.Plate(s)
	if !ok {
		return 0
	}
	p := Panel{ThicknessM: *s.ThicknessM, Conductivity: MaterialOf(s).Conductivity, BackFilm: face.Film}
	if s.Kind == "plate" && !s.OneFace {
		p.SourceFilm, p.BackFilm = face.Film/2, face.Film/2
	}
	// A share of the plate for each, as near to its own proportions as it goes.
	cut := math.Sqrt(sources)
	p.LengthM, p.WidthM = max(face.LengthM/cut, sourceLengthM), max(face.WidthM/cut, sourceWidthM)
	mean, _ := p.SourceKPerW(sourceLengthM, sourceWidthM)
	even := 1 / ((p.SourceFilm + p.BackFilm) * p.LengthM * p.WidthM)
	return max(mean-even, 0)
}

// StripSpreadKPerW is the same of a strip of a width that runs along the length of the body,
// in as many rows side by side as all strips on it together ask for, K/W of the strip's own
// watts.
func (b *Body) StripSpreadKPerW(s *design.Shape, ownM, allM, widthM float64) float64 {
	face, ok := b.Plate(s)
	if !ok || ownM <= 0 || widthM <= 0 {
		return 0
	}
	rows := math.Ceil(allM/face.LengthM - 1e-9)
	p := Panel{LengthM: face.LengthM, WidthM: max(face.WidthM/rows, widthM), ThicknessM: *s.ThicknessM, Conductivity: MaterialOf(s).Conductivity, BackFilm: face.Film}
	if s.Kind == "plate" && !s.OneFace {
		p.SourceFilm, p.BackFilm = face.Film/2, face.Film/2
	}
	mean, _ := p.SourceKPerW(min(allM/rows, face.LengthM), min(widthM, p.WidthM))
	return max(mean-1/((p.SourceFilm+p.BackFilm)*p.LengthM*p.WidthM), 0) * allM / ownM / rows
}
