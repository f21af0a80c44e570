package chain

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/mat"
)

// TimeConstants are those of the heat in the state solved last, s, the slowest first: one
// over the eigenvalues of C⁻¹·G, with what flows along the links as it changes there. What
// follows within a tenth of a second is left out.
func (s *Solver) TimeConstants() []float64 {
	n := len(s.m.lumps)
	if n == 0 {
		return []float64{}
	}
	g := mat.NewDense(n, n, nil)
	for i := range s.links {
		l := &s.links[i]
		perFrom, perTo := s.slopes(l, s.y)
		g.Set(l.from, l.from, g.At(l.from, l.from)+perFrom/s.jPerK[l.from])
		if l.to >= 0 {
			g.Set(l.from, l.to, g.At(l.from, l.to)+perTo/s.jPerK[l.from])
			g.Set(l.to, l.to, g.At(l.to, l.to)-perTo/s.jPerK[l.to])
			g.Set(l.to, l.from, g.At(l.to, l.from)-perFrom/s.jPerK[l.to])
		}
	}
	var e mat.Eigen
	if !e.Factorize(g, mat.EigenNone) {
		return []float64{}
	}
	out := []float64{}
	for _, v := range e.Values(nil) {
		if rate := real(v); rate > 0 && rate < 1/leastConstantS {
			out = append(out, 1/rate)
		}
	}
	slices.SortFunc(out, func(a, b float64) int { return int(math.Copysign(1, b-a)) })
	return out
}

const leastConstantS = 0.1
