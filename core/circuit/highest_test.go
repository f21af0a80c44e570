package circuit

import (
	"math"
	"math/rand/v2"
	"testing"
)

// A concave function above zero somewhere is found so, however narrow its peak, and one
// that stays below is not: against the minimum of two lines,
// whose top is a corner, and against an exponential's fall from its tangent.
func TestHighestOfConcave(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 6))
	above := 0
	for i := range 6000 {
		round := i%2 == 1
		a, b := random.Float64(), 1+3*random.Float64()
		peak := a + (b-a)*math.Pow(random.Float64(), 1+4*random.Float64())
		top := 0.2 * (random.Float64() - 0.5)
		left, right := math.Exp(8*random.Float64()-3), math.Exp(8*random.Float64()-3)
		calls := 0
		f := func(x float64) float64 {
			calls++
			if round {
				z := (left - right) * (x - peak) / 10
				return top - (math.Exp(z) - 1 - z)
			}
			return top - max(left*(peak-x), right*(x-peak))
		}
		if f(a) >= 0 || f(b) >= 0 {
			continue
		}
		calls = 0
		x, fx := highest(f, a, f(a), b, f(b))
		if fx != f(x) || x < a || x > b {
			t.Fatalf("f(%g) is told as %g", x, fx)
		}
		if found := fx >= 0; found != (top >= 0) && math.Abs(top) > 1e-6 {
			t.Errorf("peak %g at %g in (%g, %g), slopes %g and %g: found %v", top, peak, a, b, left, right, found)
		}
		if top >= 0 {
			above++
		} else if !round && top < -0.01*(b-a)*min(left, right) && calls > 7 {
			t.Errorf("a peak of %g took %d looks", top, calls)
		}
	}
	if above < 100 {
		t.Error("too few peaks above zero:", above)
	}
}
