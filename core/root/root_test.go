package root

import (
	"math"
	"testing"
)

func TestBracketed(t *testing.T) {
	for _, c := range []struct {
		name string
		f    func(float64) float64
		a, b float64
		want float64
	}{
		{"cubic", func(x float64) float64 { return x*x*x - 2*x - 5 }, 2, 3, 2.0945514815423265}, // Wallis' equation
		{"cosine", func(x float64) float64 { return math.Cos(x) - x }, 0, 1, 0.7390851332151607},
		{"steep", func(x float64) float64 { return math.Expm1(40 * (x - 0.3)) }, 0, 1, 0.3},
		{"flat", func(x float64) float64 { return math.Pow(x-0.4, 9) }, 0, 1, 0.4},
		{"step", func(x float64) float64 { return math.Copysign(1, x-0.7) }, 0, 1, 0.7},
		{"at the end", func(x float64) float64 { return x }, 0, 1, 0},
	} {
		n := 0
		x := Bracketed(func(x float64) float64 { n++; return c.f(x) }, c.a, c.f(c.a), c.b, c.f(c.b), 1e-12)
		tol := 1e-11
		if c.name == "flat" {
			tol = 1e-2 // f itself is below rounding there
		}
		if math.Abs(x-c.want) > tol || n > 60 {
			t.Errorf("%s: x = %.15g after %d evaluations, want %.15g", c.name, x, n, c.want)
		}
	}
}
