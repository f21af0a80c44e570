package target

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"photherm/core/design"
)

// Table is the light's intensity, cd, as seen from far, with the light looking down as it hangs
// in its own frame: vertical angles from where it looks, horizontal ones round it from its length.
// One horizontal angle: it is the same all round.
func (l *Lit) Table() *design.IntensityTable {
	lit := l.moved(func(s design.Stand) design.Stand {
		return design.Stand{BodyID: s.BodyID, XM: s.XM, YM: s.YM, HeightM: s.HeightM}
	})
	far := farOf(lit.weigh(lumens))
	at := func(v, h float64) float64 {
		sv, cv := math.Sincos(v * math.Pi / 180)
		sh, ch := math.Sincos(h * math.Pi / 180)
		return far.Candela(r3.Vec{X: sv * ch, Y: sv * sh, Z: -cv})
	}
	out := &design.IntensityTable{Name: l.Light.Name}
	step := func(to, by float64) {
		from := 0.0
		if n := len(out.VerticalDeg); n > 0 {
			from = out.VerticalDeg[n-1] + by
		}
		for v := from; v <= to+1e-9; v += by {
			out.VerticalDeg = append(out.VerticalDeg, math.Round(1e4*v)/1e4)
		}
	}
	step(5, 0.25)
	step(20, 0.5)
	step(90, 2.5)
	back := 0.0
	for _, v := range []float64{95, 120, 150, 180} {
		for h := 0.0; h < 360; h += 45 {
			back = max(back, at(v, h))
		}
	}
	peak, _ := far.Peak()
	if back > 1e-4*peak {
		step(180, 5)
	}
	round := []float64{}
	for h := 0.0; h <= 360; h += 15 {
		round = append(round, h)
	}
	even := true
	for _, v := range out.VerticalDeg {
		first := at(v, 0)
		for _, h := range round {
			even = even && math.Abs(at(v, h)-first) < 2e-3*peak
		}
	}
	if even {
		round = []float64{0}
	}
	out.HorizontalDeg = round
	for _, h := range round {
		row := make([]float64, len(out.VerticalDeg))
		for i, v := range out.VerticalDeg {
			row[i] = rounded(at(v, h))
		}
		out.Candela = append(out.Candela, row)
	}
	return out
}
