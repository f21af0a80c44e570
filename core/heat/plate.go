package heat

import (
	"math"

	"photherm/core/design"
)

// A Plate is a rectangular sheet seen from above, insulated at its edges: heat goes along it
// and off its faces at a film that is alike everywhere.
//
// How far each pad on it rises above its mean for each watt into each other, Influences, is
// a cosine series in x and closed form in y: Green's function of −κ·T″ + κγ²·T with insulated
// ends (Carslaw & Jaeger, Conduction of Heat in Solids, 2nd ed. 1959, §14.3, from memory).
type Plate struct {
	LengthM, WidthM float64 // along x and y
	AlongX, AlongY  float64 // conductivity times thickness, W/K
	Film            float64 // of both faces together, for its area seen from above, W/(m²·K)
}

// A Pad is a rectangle on a plate into which heat goes evenly: its middle and its sides, m.
type Pad struct{ XM, YM, LengthM, WidthM float64 }

// padModes is how many modes for each time that the smallest pad goes into the side: what
// is beyond falls with the cube (chosen: 1e-4 of a pad's own rise).
const (
	padModes  = 6
	mostModes = 2000
	fades     = 32 // e-foldings after which nothing is left
)

// plateSeries is what each pad has of each mode along x, and how the mode goes in y.
type plateSeries struct {
	plate *Plate
	pads  []Pad
	gamma []float64   // of each mode, 1/m
	whole []float64   // weight of each mode over what it conducts in y and goes round, K·m/W
	share [][]float64 // [pad][mode]
	fade  [][]float64 // mean over a pad of exp(−γ·d), d from its edge
	low   [][]float64 // the same from the edge y = 0 of the plate
	high  [][]float64 // and from the other
}

func (p *Plate) series(pads []Pad) *plateSeries {
	least := p.LengthM
	for i := range pads {
		least = min(least, pads[i].LengthM)
	}
	n := min(int(padModes*p.LengthM/least)+2, mostModes)
	s := &plateSeries{plate: p, pads: pads, gamma: make([]float64, n), whole: make([]float64, n)}
	for m := range s.gamma {
		z := math.Pi * float64(m) / p.LengthM
		g := math.Sqrt((p.AlongX*z*z + p.Film) / p.AlongY)
		weight := 2 / p.LengthM
		if m == 0 {
			weight = 1 / p.LengthM
		}
		s.gamma[m], s.whole[m] = g, weight/(p.AlongY*g)/2/(-math.Expm1(-2*g*p.WidthM))
	}
	s.share, s.fade, s.low, s.high = make([][]float64, len(pads)), make([][]float64, len(pads)), make([][]float64, len(pads)), make([][]float64, len(pads))
	for i := range pads {
		s.place(i)
	}
	return s
}

// place works out what one pad has of each mode.
func (s *plateSeries) place(i int) {
	p, pad, n := s.plate, s.pads[i], len(s.gamma)
	room := make([]float64, 4*n)
	share, fade, low, high := room[:n:n], room[n:2*n:2*n], room[2*n:3*n:3*n], room[3*n:]
	for m, g := range s.gamma {
		z := math.Pi * float64(m) / p.LengthM
		share[m] = math.Cos(z*pad.XM) * sinc(z*pad.LengthM/2)
		fade[m] = meanFrom(pad.WidthM/2, pad.WidthM, g)
		low[m] = fade[m] * math.Exp(-g*(pad.YM-pad.WidthM/2))
		high[m] = fade[m] * math.Exp(-g*(p.WidthM-pad.YM-pad.WidthM/2))
	}
	s.share[i], s.fade[i], s.low[i], s.high[i] = share, fade, low, high
}

func sinc(x float64) float64 {
	if math.Abs(x) < 1e-6 {
		return 1
	}
	return math.Sin(x) / x
}

// An across is what two pads so wide and so far apart in y have of each mode, as far as modes
// matter: straight from one to the other, and all around the plate.
type across struct{ direct, round []float64 }

// acrossKey is what an across depends on.
type acrossKey struct{ apart, a, b float64 }

func (s *plateSeries) key(i, j int) acrossKey {
	a, b := s.pads[i], s.pads[j]
	return acrossKey{math.Abs(a.YM - b.YM), a.WidthM, b.WidthM}
}

// across works it out into room that is there.
func (s *plateSeries) across(i, j int, out *across) {
	a, b := s.pads[i], s.pads[j]
	gap := math.Abs(a.YM-b.YM) - (a.WidthM+b.WidthM)/2
	clear := gap >= -1e-12
	out.direct, out.round = out.direct[:0], out.round[:0]
	for m, g := range s.gamma {
		if g*gap > fades {
			break
		}
		direct, round := 0.0, 0.0
		if clear { // two means of exponentials
			direct = math.Exp(-g*gap) * s.fade[i][m] * s.fade[j][m]
		} else {
			direct = meanFading(a, b, g)
		}
		if g*s.plate.WidthM < fades {
			round = math.Exp(-2*g*s.plate.WidthM) * meanFading(a, b, -g)
		}
		out.direct, out.round = append(out.direct, direct), append(out.round, round)
	}
}

// between is how far pad i rises for a watt into pad j: of each mode cosh γ(W−|y−y′|) +
// cosh γ(W−y−y′) over 2·sinh γW, averaged over both.
func (s *plateSeries) between(i, j int, x *across) float64 {
	sum := -1 / (s.plate.Film * s.plate.LengthM * s.plate.WidthM) // above the mean
	for m, direct := range x.direct {
		// From one edge and from the other, and all around.
		mirrored := s.low[i][m]*s.low[j][m] + s.high[i][m]*s.high[j][m]
		mirrored += x.round[m]
		sum += s.whole[m] * s.share[i][m] * s.share[j][m] * (direct + mirrored)
	}
	return sum
}

// meanFrom is the mean over a width of exp(−γy), y from an edge.
func meanFrom(y, width, gamma float64) float64 {
	x := gamma * width
	if math.Abs(x) < 1e-6 {
		return math.Exp(-gamma * y)
	}
	return math.Exp(-gamma*(y-width/2)) * -math.Expm1(-x) / x
}

// meanFading is the mean over two widths of exp(−γ|y−y′|); γ may be negative.
func meanFading(a, b Pad, gamma float64) float64 {
	apart := math.Abs(a.YM - b.YM)
	low, high := (a.WidthM-b.WidthM)/2, (a.WidthM+b.WidthM)/2
	if apart >= high-1e-12 { // clear of each other: two means of exponentials
		near := math.Exp(-gamma * (apart - high))
		return near * meanFrom(a.WidthM/2, a.WidthM, gamma) * meanFrom(b.WidthM/2, b.WidthM, gamma)
	}
	// Φ with Φ″ = exp(−γ|d|), of the differences of their ends.
	f := func(d float64) float64 {
		x := gamma * math.Abs(d)
		if math.Abs(x) < 1e-3 { // x²/2 − x³/6 + x⁴/24
			return (x*x/2 - x*x*x/6 + x*x*x*x/24) / (gamma * gamma)
		}
		return (math.Expm1(-x) + x) / (gamma * gamma)
	}
	return (f(apart+high) + f(apart-high) - f(apart+low) - f(apart-low)) / (a.WidthM * b.WidthM)
}

// Constriction is what a pad in the middle of its neighbourhood adds because heat must also
// go down into the thickness: the slab's series less the sheet's, on average over the pad,
// K/W. It is added to what a map of the sheet gives.
func Constriction(lengthM, widthM, thicknessM, conductivity, sourceFilm, backFilm float64) float64 {
	// Beyond a few thicknesses nothing is left of it (chosen).
	const around = 12
	p := Panel{LengthM: lengthM + around*thicknessM, WidthM: widthM + around*thicknessM, ThicknessM: thicknessM, Conductivity: conductivity, SourceFilm: sourceFilm, BackFilm: backFilm}
	return p.meanKPerW(lengthM, widthM, func(zeta float64) float64 {
		return p.answers(zeta) - 1/(conductivity*thicknessM*zeta*zeta+sourceFilm+backFilm)
	})
}

// Plate is the face of a body of a shape that carries what is laid out on it, x along its
// length; not ok: its thickness is not known, or it has no such face. Fins, and the walls of
// a profile, carry heat along them too.
func (b *Body) Plate(s *design.Shape) (p Plate, ok bool) {
	if s.ThicknessM == nil || s.LengthM == nil || s.WidthM == nil {
		return Plate{}, false
	}
	l, w, t, k := *s.LengthM, *s.WidthM, *s.ThicknessM, MaterialOf(s).Conductivity
	perK := b.Watts(20+spreadRiseK, 20, b.ratedV) / spreadRiseK
	p = Plate{LengthM: l, WidthM: w, AlongX: k * t, AlongY: k * t, Film: perK / (l * w)}
	switch s.Kind {
	case "plate":
	case "fins":
		p.AlongX += k * float64(s.Fins) * *s.FinThickM * *s.FinHeightM / w
	case "profile":
		p.AlongX = max(p.AlongX, k*b.VolumeM3/l/w)
	case "box":
		p.Film = perK / b.AreaM2
	default:
		return Plate{}, false
	}
	return p, true
}

// PadKPerW is what a pad of a length and width on that face adds to a map of the face, K/W.
func (b *Body) PadKPerW(s *design.Shape, p Plate, lengthM, widthM float64) float64 {
	top, back := 0.0, p.Film
	if s.Kind == "plate" && !s.OneFace {
		top, back = p.Film/2, p.Film/2
	}
	return Constriction(lengthM, widthM, *s.ThicknessM, MaterialOf(s).Conductivity, top, back)
}
