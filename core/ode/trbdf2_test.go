package ode

import (
	"math"
	"testing"
)

func run(s *Stepper, tEnd float64, t *testing.T) {
	t.Helper()
	for s.T < tEnd {
		if err := s.Step(tEnd); err != nil {
			t.Fatalf("at %g: %v", s.T, err)
		}
	}
}

// The stiff test problem of Prothero & Robinson (1974): y' = λ(y − cos t) − sin t
// has the solution cos t for every λ; methods that are not stiffly accurate lose
// their accuracy on it.
func TestProtheroRobinson(t *testing.T) {
	for _, lambda := range []float64{-1, -1e3, -1e6} {
		s := New(1, func(t float64, y, d []float64) { d[0] = lambda*(y[0]-math.Cos(t)) - math.Sin(t) })
		s.Tol[0] = 1e-6
		s.Start(0, []float64{1}, 1e-3)
		run(s, 5, t)
		if e := math.Abs(s.Y[0] - math.Cos(5)); e > 2e-4 {
			t.Errorf("λ = %g: error %g", lambda, e)
		}
	}
}

// Second order: a tenth of the tolerance makes the global error fall, and halving
// a fixed step divides it by four.
func TestOrder(t *testing.T) {
	errorAt := func(h float64) float64 {
		s := New(2, func(_ float64, y, d []float64) { d[0], d[1] = y[1], -y[0] })
		s.Tol[0], s.Tol[1] = 1, 1
		s.MaxStep = h
		s.Start(0, []float64{0, 1}, h)
		// tight Newton, loose step control: the step stays h
		s.Tol[0], s.Tol[1] = 1e-3, 1e-3
		run(s, 2, t)
		return math.Abs(s.Y[0] - math.Sin(2))
	}
	if r := errorAt(0.02) / errorAt(0.01); r < 3.4 || r > 4.6 {
		t.Errorf("halving the step divides the error by %.2f, want about 4", r)
	}
}

func TestDenseOutput(t *testing.T) {
	s := New(1, func(_ float64, y, d []float64) { d[0] = -y[0] })
	s.Tol[0] = 1e-6
	s.Start(0, []float64{1}, 1e-3)
	y := []float64{0}
	for s.T < 3 {
		if err := s.Step(3); err != nil {
			t.Fatal(err)
		}
		m := (s.T + s.OldT) / 2
		s.Interpolate(m, y)
		if math.Abs(y[0]-math.Exp(-m)) > 1e-4 {
			t.Fatalf("at %g: %g, want %g", m, y[0], math.Exp(-m))
		}
	}
}

// L-stability: after a step far longer than a fast time constant, nothing of the
// fast part is left over.
func TestFastPartVanishes(t *testing.T) {
	s := New(1, func(_ float64, y, d []float64) { d[0] = -1e9 * y[0] })
	s.Tol[0] = 1e6
	s.Start(0, []float64{1}, 1)
	run(s, 4, t)
	if math.Abs(s.Y[0]) > 1e-6 {
		t.Errorf("left over: %g", s.Y[0])
	}
}

func TestNoNumber(t *testing.T) {
	s := New(1, func(t float64, y, d []float64) { d[0] = math.Sqrt(1 - t) })
	s.Tol[0] = 1e-6
	s.Start(0, []float64{0}, 0.1)
	for s.T < 2 {
		if err := s.Step(2); err != nil {
			return
		}
	}
	t.Error("integrated past a point where f is not a number")
}
