// Package root finds zeros of scalar functions inside a bracket.
package root

import "math"

// Bracketed returns x between a and b with f(x) = 0, where fa = f(a) and
// fb = f(b) have opposite signs or one of them is zero. It stops when the
// bracket is narrower than tol or an exact zero is met; at most 100 evaluations.
//
// The method is Chandrupatla, T. R., "A new hybrid quadratic/bisection algorithm
// for finding the zero of a nonlinear function without using derivatives",
// Advances in Engineering Software 28 (1997) 145–149.
func Bracketed(f func(float64) float64, a, fa, b, fb, tol float64) float64 {
	if fa == 0 {
		return a
	}
	if fb == 0 {
		return b
	}
	c, fc := a, fa
	t := 0.5
	for range 100 {
		x := a + t*(b-a)
		fx := f(x)
		if math.Signbit(fx) == math.Signbit(fa) {
			c, fc = a, fa
		} else {
			c, fc = b, fb
			b, fb = a, fa
		}
		a, fa = x, fx
		best, fbest := a, fa
		if math.Abs(fb) < math.Abs(fa) {
			best, fbest = b, fb
		}
		narrow := (2e-16*math.Abs(best) + 0.5*tol) / math.Abs(b-c)
		if math.Abs(b-a) < tol {
			narrow = 1
		}
		if narrow > 0.5 || fbest == 0 {
			return best
		}
		xi, phi := (a-b)/(c-b), (fa-fb)/(fc-fb)
		if phi*phi < xi && (1-phi)*(1-phi) < 1-xi {
			t = fa/(fb-fa)*fc/(fb-fc) + (c-a)/(b-a)*fa/(fc-fa)*fb/(fc-fb)
		} else {
			t = 0.5
		}
		t = min(max(t, narrow), 1-narrow)
	}
	return a
}
