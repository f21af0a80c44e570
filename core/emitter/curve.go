package emitter

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/interp"
	"gonum.org/v1/gonum/mat"

	"photherm/core/design"
)

// curve is a forward curve at its reference temperature: a diode with series
// resistance, V = nVt·ln(1 + I/Is) + I·Rs, plus what the points have beyond it,
// interpolated without overshoot in ln I and held outside the points.
//
// Interpolating datasheet points directly makes dV/dI wrong by up to half; the
// fit carries the shape and the residual is a few millivolts.
type curve struct {
	nVt, lnIs, rs float64
	between       interp.FritschButland // residual, or V itself if direct
	hasBetween    bool
	direct        bool
	offLow        float64 // residual at and below the lowest point, V
	offHigh       float64 // residual at and above the highest, V
	lnLow, lnHigh float64
	lowA, highA   float64
	assumed       bool
	points        []design.ForwardPoint // it was fitted to, all at its own temperature
}

// Shape of the curve when fewer than three points are known (common practice for
// a white die: about 60 mV of nVt and a tenth of a volt over the resistance).
const (
	assumedNVtPerV = 0.02
	assumedRsDropV = 0.03
)

func fitCurve(points []design.ForwardPoint) (*curve, error) {
	n := len(points)
	if n == 0 {
		return nil, fmt.Errorf("the forward curve has no point")
	}
	c := &curve{lowA: points[0].CurrentA, highA: points[n-1].CurrentA, assumed: n < 3, points: points}
	c.lnLow, c.lnHigh = math.Log(c.lowA), math.Log(c.highA)
	last := points[n-1]
	if n < 3 {
		c.nVt = assumedNVtPerV * last.VoltageV
		c.rs = assumedRsDropV * last.VoltageV / last.CurrentA
		if n == 2 {
			// Two points fix the resistance once nVt is assumed.
			dv := last.VoltageV - points[0].VoltageV - c.nVt*math.Log(last.CurrentA/points[0].CurrentA)
			c.rs = max(dv/(last.CurrentA-points[0].CurrentA), 0)
		}
	} else {
		c.fit(points)
	}
	// Is from the mean of the points, far below any current of interest.
	mean := 0.0
	for _, p := range points {
		mean += (p.VoltageV - p.CurrentA*c.rs - c.nVt*math.Log(p.CurrentA)) / float64(n)
	}
	c.lnIs = -mean / c.nVt
	if n >= 2 {
		c.fitResidual(points)
	}
	return c, nil
}

// fit finds nVt and Rs by linear least squares: with I ≫ Is the law is linear in
// (nVt, Rs, −nVt·ln Is). Both must be positive; one that is not is set to its
// smallest sensible value and the rest fitted again.
func (c *curve) fit(points []design.ForwardPoint) {
	solve := func(useRs bool) (nVt, rs float64) {
		cols := 2
		if useRs {
			cols = 3
		}
		a, b := mat.NewDense(len(points), cols, nil), mat.NewVecDense(len(points), nil)
		for i, p := range points {
			a.Set(i, 0, 1)
			a.Set(i, 1, math.Log(p.CurrentA))
			if useRs {
				a.Set(i, 2, p.CurrentA)
			}
			b.SetVec(i, p.VoltageV)
		}
		var x mat.VecDense
		if err := x.SolveVec(a, b); err != nil {
			return 0, 0
		}
		if useRs {
			return x.AtVec(1), x.AtVec(2)
		}
		return x.AtVec(1), 0
	}
	last := points[len(points)-1]
	least := 0.005 * last.VoltageV
	c.nVt, c.rs = solve(true)
	if c.rs < 0 {
		c.nVt, c.rs = solve(false)
	}
	if c.nVt < least {
		c.nVt = least
		dv := last.VoltageV - points[0].VoltageV - c.nVt*math.Log(last.CurrentA/points[0].CurrentA)
		c.rs = max(dv/(last.CurrentA-points[0].CurrentA), 0)
	}
}

func (c *curve) fitResidual(points []design.ForwardPoint) {
	x, y := make([]float64, len(points)), make([]float64, len(points))
	for i, p := range points {
		x[i] = math.Log(p.CurrentA)
		y[i] = p.VoltageV - c.fitted(x[i])
	}
	if len(points) == 2 {
		x = []float64{x[0], (x[0] + x[1]) / 2, x[1]}
		y = []float64{y[0], (y[0] + y[1]) / 2, y[1]}
	}
	if c.between.Fit(x, y) != nil {
		return
	}
	n := len(y) - 1
	c.hasBetween, c.offLow, c.offHigh = true, y[0], y[n]
	if c.rises() {
		return
	}
	// Rough data: the residual bends the sum down somewhere. Between the points,
	// interpolate V itself without overshoot.
	for i := range y {
		y[i] += c.fitted(x[i])
	}
	_ = c.between.Fit(x, y) // same x: cannot fail
	c.direct = true
}

func (c *curve) rises() bool {
	const steps = 200
	last := math.Inf(-1)
	for k := range steps + 1 {
		v := c.at(c.lnLow + (c.lnHigh-c.lnLow)*float64(k)/steps)
		if v <= last {
			return false
		}
		last = v
	}
	return true
}

// fitted is the diode with resistance at ln I.
func (c *curve) fitted(ln float64) float64 {
	u := ln - c.lnIs
	if u > 30 { // ln(1 + e^u) = u to double precision
		return c.nVt*u + c.rs*math.Exp(ln)
	}
	return c.nVt*math.Log1p(math.Exp(u)) + c.rs*math.Exp(ln)
}

func (c *curve) at(ln float64) float64 {
	v, _, _ := c.both(ln)
	return v
}

// both is V, dV/d(ln I) and I at ln I, with one exponential where it can.
func (c *curve) both(ln float64) (v, slope, i float64) {
	i = math.Exp(ln)
	v, slope = c.bothAt(ln, i)
	return v, slope, i
}

// bothAt is V and dV/d(ln I) at a current and its logarithm.
func (c *curve) bothAt(ln, i float64) (v, slope float64) {
	if u := ln - c.lnIs; u > 30 {
		v, slope = c.nVt*u+c.rs*i, c.nVt+c.rs*i
	} else {
		e := math.Exp(u)
		v, slope = c.nVt*math.Log1p(e)+c.rs*i, c.nVt*e/(1+e)+c.rs*i
	}
	switch {
	case !c.hasBetween:
	case ln <= c.lnLow:
		v += c.offLow
	case ln >= c.lnHigh:
		v += c.offHigh
	case c.direct:
		v, slope = c.between.Predict(ln), c.between.PredictDerivative(ln)
	default:
		v += c.between.Predict(ln)
		slope += c.between.PredictDerivative(ln)
	}
	return v, slope
}

func (c *curve) voltage(currentA float64) float64 { return c.at(math.Log(currentA)) }

func (c *curve) slope(currentA float64) float64 {
	if currentA <= 0 {
		return math.Inf(1)
	}
	_, slope, _ := c.both(math.Log(currentA))
	return slope / currentA
}

// What flows below the knee is taken as nothing from here down: e⁻⁶⁰ A.
const (
	leastLn = -60
	leastA  = 8.7e-27
)

// lastStep is the change of ln I after which nothing is left to solve: its square is below what
// a float64 tells, as the curve bends by about its own slope for each e-fold of current.
const lastStep = 1e-8

// current inverts v = V(I) + I·seriesOhm by Newton in ln I, kept in a bracket. It
// starts from a current nearby if one is known (nearA > 0), else where the diode alone
// or the resistance alone would take all of v.
func (c *curve) current(v, seriesOhm, nearA float64) float64 {
	if v <= 0 {
		return 0
	}
	ln := 0.0
	if nearA > leastA {
		ln = math.Log(nearA)
	} else {
		ln = c.lnIs + (v-min(c.offLow, c.offHigh, 0))/c.nVt
		if r := c.rs + seriesOhm; r > 0 {
			ln = min(ln, math.Log(v/r))
		}
	}
	low, high, last := math.Inf(-1), math.Inf(1), math.Inf(1)
	for range 200 {
		volts, slope, i := c.both(ln)
		f := volts + i*seriesOhm - v
		if f > 0 {
			high = ln
		} else {
			low = ln
		}
		step := f / (slope + i*seriesOhm)
		// A small Newton step is the last: what it leaves is of its square.
		if math.Abs(step) < lastStep {
			return i * (1 - step + step*step/2)
		}
		next := ln - max(-2, min(2, step))
		// Newton leaves the bracket or crawls where data have a kink: halve it.
		if !(next > low && next < high) || (math.Abs(f) > 0.7*last && !math.IsInf(high-low, 1)) {
			next = (low + high) / 2
			if math.IsInf(next, 0) || math.IsNaN(next) {
				break
			}
		}
		last = math.Abs(f)
		if math.Abs(next-ln) < 1e-13*max(1, math.Abs(ln)) {
			ln = next
			break
		}
		if next < leastLn {
			return 0
		}
		ln = next
	}
	return math.Exp(ln)
}
