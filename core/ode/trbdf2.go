// Package ode integrates stiff initial value problems y' = f(t, y) of small
// dimension with error control, dense output and no allocation per step.
//
// The method is TR-BDF2, second order, L-stable and stiffly accurate, written as
// an ESDIRK pair: Bank et al., "Transient simulation of silicon devices and
// circuits", IEEE Trans. Electron Devices 32 (1985) 1992–2007; coefficients and
// error estimate from Hosea & Shampine, "Analysis and implementation of
// TR-BDF2", Applied Numerical Mathematics 20 (1996) 21–37.
package ode

import (
	"errors"
	"math"
)

// StageShare is where in a step its first stage lies, and StageWeights what the slopes
// at its begin, first stage and end count in it: who adds up something else along a step
// with them keeps its balance with the solution.
var (
	StageShare   = gamma
	StageWeights = [3]float64{weigh, weigh, diag}
)

var (
	gamma = 2 - math.Sqrt2
	diag  = gamma / 2
	weigh = math.Sqrt2 / 4
)

// ErrStep is returned when no step small enough to be accurate exists, or f
// returned something that is not a number.
var ErrStep = errors.New("ode: the step size became too small")

// A System is the right-hand side: it writes f(t, y) to dydt.
type System func(t float64, y, dydt []float64)

// A Linear solves with the Jacobian J = ∂f/∂y of a system.
type Linear interface {
	At(t float64, y, f []float64) // takes J at y, where the right-hand side is f
	Factor(c float64)             // prepares 1 − c·J
	Solve(v []float64)            // solves (1 − c·J)·x = v, in place
}

// A Stepper advances one solution. Create it with New, then call Start and Step.
type Stepper struct {
	f          System
	n          int
	Linear     Linear                       // how to solve with the Jacobian; New sets a dense one, by differences
	Tol        []float64                    // error wanted per step, per component, absolute
	MaxStep    float64                      // largest step; 0: no bound
	MinStep    float64                      // a step this small is accepted whatever its error
	JumpStep   float64                      // a step this small in which f jumps goes straight over the jump
	Stage      func(t float64, y []float64) // if set, called with the first stage of a step once it is found; f was asked last so near it that it counts as found
	T          float64                      // where the solution stands
	Y          []float64                    // the solution there
	OldT       float64                      // where the last step began
	Evals      int                          // calls of f so far
	oldY       []float64
	k1, k2, k3 []float64
	oldK       []float64
	y, base    []float64
	res, err   []float64
	luH        float64 // step the factors were made for; 0: none
	jacFresh   bool
	h          float64
	over       float64 // JumpStep as it has grown
}

// New returns a stepper for n equations.
func New(n int, f System) *Stepper {
	s := &Stepper{f: f, n: n, MinStep: 1e-9}
	for _, v := range []*[]float64{&s.Tol, &s.Y, &s.oldY, &s.k1, &s.k2, &s.k3, &s.oldK, &s.y, &s.base, &s.res, &s.err} {
		*v = make([]float64, n)
	}
	s.Linear = NewDense(n, func(t float64, y, dydt []float64) { s.eval(t, y, dydt) })
	return s
}

// Start sets the state, and the first step to try. It is also how to go on after
// a jump in f or y.
func (s *Stepper) Start(t float64, y []float64, h float64) {
	s.T, s.OldT, s.h = t, t, h
	copy(s.Y, y)
	copy(s.oldY, y)
	s.eval(t, s.Y, s.k1)
	copy(s.oldK, s.k1)
	s.jacobian()
	s.over = 0
}

// Step advances by one accurate step, not past tEnd.
func (s *Stepper) Step(tEnd float64) error {
	fresh := s.jacFresh
	for try := 0; try < 60; try++ {
		h := min(s.h, tEnd-s.T)
		if s.MaxStep > 0 {
			h = min(h, s.MaxStep)
		}
		if left := tEnd - s.T - h; left > 0 && left < 0.1*h {
			h = (tEnd - s.T) / 2 // two equal steps rather than one and a crumb
		}
		if h <= 0 || math.IsNaN(h) {
			return ErrStep
		}
		smallest := h <= s.MinStep
		if s.luH != h {
			s.factor(h)
		}
		rate := 1.0
		ok := s.stage(h, s.T+gamma*h, s.k1, nil, s.k2)
		if ok && s.Stage != nil {
			s.Stage(s.T+gamma*h, s.y)
		}
		ok = ok && s.stage(h, s.T+h, s.k1, s.k2, s.k3)
		if ok {
			rate = s.errorRatio(h)
		}
		confirmed := true
		if ok && (rate <= 1 || smallest) {
			confirmed = s.confirm(h)
			ok = confirmed
		}
		// A step this small that fails with a Jacobian of its own: f jumps in it.
		if !ok && fresh && (h <= max(s.JumpStep, s.over) || smallest && !confirmed) {
			return s.crawl(h)
		}
		switch {
		case ok && (rate <= 1 || smallest):
			s.accept(h)
			s.over /= 2
			grow := 0.9 / math.Cbrt(max(rate, 1e-4))
			// Small changes of step are not worth a new factorisation.
			if grow < 1 || grow > 1.4 {
				s.h = h * min(max(grow, 0.3), 4)
			} else {
				s.h = h
			}
			return nil
		case !ok && !fresh:
			s.jacobian()
			fresh = true
			continue
		case smallest:
			return ErrStep
		case ok:
			s.h = h * min(max(0.9/math.Cbrt(rate), 0.1), 0.8)
		default:
			s.h = h / 4
		}
		s.h = max(s.h, s.MinStep)
	}
	return ErrStep
}

// confirm tells whether the last stage is the derivative at the new point. Where f
// jumps, simplified Newton with a Jacobian taken across the jump can settle on what
// f nowhere is.
func (s *Stepper) confirm(h float64) bool {
	s.eval(s.T+h, s.y, s.res)
	for i := range s.n {
		if off := math.Abs(s.res[i]-s.k3[i]) * h * diag / s.Tol[i]; off > confirmed || math.IsNaN(off) {
			return false
		}
	}
	copy(s.k3, s.res)
	return true
}

// confirmed is how far, in tolerances, a stage may be from the derivative.
const confirmed = 0.05

// crawl takes a small step straight on, with the slope from before: over a jump of f
// that lies within the step. It is linearly implicit, so that stiff components stay
// bounded where the steps grow: f that jumps at every step, to and fro, is followed on
// the average.
func (s *Stepper) crawl(h float64) error {
	for i := range s.n {
		s.res[i] = h * s.k1[i]
	}
	s.Linear.Factor(h)
	s.luH = 0
	s.Linear.Solve(s.res)
	for i := range s.n {
		s.y[i] = s.Y[i] + s.res[i]
	}
	s.eval(s.T+h, s.y, s.k3)
	for _, x := range s.k3 {
		if math.IsNaN(x) {
			return ErrStep
		}
	}
	s.accept(h)
	s.jacobian()
	s.h = h
	if h >= s.JumpStep/4 {
		s.over = overGrows * max(s.over, h)
		s.h = s.over
	}
	return nil
}

// overGrows is how much longer each further step over a jump may be (chosen).
const overGrows = 1.3

// Interpolate writes the solution at t, between OldT and T, to dst: the cubic
// through both ends of the last step with their slopes.
func (s *Stepper) Interpolate(t float64, dst []float64) {
	h := s.T - s.OldT
	if h <= 0 {
		copy(dst, s.Y)
		return
	}
	x := (t - s.OldT) / h
	a, b := (1+2*x)*(1-x)*(1-x), x*(1-x)*(1-x)*h
	c, d := x*x*(3-2*x), x*x*(x-1)*h
	for i := range dst {
		dst[i] = a*s.oldY[i] + b*s.oldK[i] + c*s.Y[i] + d*s.k1[i]
	}
}

// Slope returns the current derivative; it must not be changed.
func (s *Stepper) Slope() []float64 { return s.k1 }

func (s *Stepper) accept(h float64) {
	s.OldT = s.T
	copy(s.oldY, s.Y)
	copy(s.oldK, s.k1)
	copy(s.Y, s.y)
	s.T += h
	// Stiffly accurate: the last stage is the derivative at the new point.
	copy(s.k1, s.k3)
	s.jacFresh = false
}

func (s *Stepper) eval(t float64, y, dydt []float64) {
	s.Evals++
	s.f(t, y, dydt)
}

func (s *Stepper) jacobian() {
	s.Linear.At(s.T, s.Y, s.k1)
	s.luH, s.jacFresh = 0, true
}

func (s *Stepper) factor(h float64) {
	s.Linear.Factor(h * diag)
	s.luH = h
}

func (s *Stepper) solve(v []float64) { s.Linear.Solve(v) }

// stage solves k = f(t, base + h·diag·k) by simplified Newton. With b nil it is
// the trapezoidal stage, else the second.
func (s *Stepper) stage(h, t float64, a, b, k []float64) bool {
	for i := range s.n {
		if b == nil {
			s.base[i] = s.Y[i] + h*diag*a[i]
			k[i] = a[i]
		} else {
			s.base[i] = s.Y[i] + h*weigh*(a[i]+b[i])
			k[i] = b[i]
		}
	}
	last := math.Inf(1)
	for range 8 {
		for i := range s.n {
			s.y[i] = s.base[i] + h*diag*k[i]
		}
		s.eval(t, s.y, s.res)
		for i := range s.n {
			s.res[i] -= k[i]
		}
		s.solve(s.res)
		size := 0.0
		for i := range s.n {
			k[i] += s.res[i]
			size = max(size, math.Abs(h*diag*s.res[i])/s.Tol[i])
		}
		if math.IsNaN(size) || size > 2*last {
			return false
		}
		if size < 0.02 {
			for i := range s.n {
				s.y[i] = s.base[i] + h*diag*k[i]
			}
			return true
		}
		last = size
	}
	return false
}

func (s *Stepper) errorRatio(h float64) float64 {
	for i := range s.n {
		s.err[i] = h * ((1-4*weigh)/3*s.k1[i] + s.k2[i]/3 - 2*diag/3*s.k3[i])
	}
	s.solve(s.err) // keeps the estimate bounded for stiff components
	ratio := 0.0
	for i := range s.n {
		ratio = max(ratio, math.Abs(s.err[i])/s.Tol[i])
	}
	return ratio
}
