package chain

import (
	"context"
	"fmt"
	"math"

	"gonum.org/v1/gonum/blas"
	"gonum.org/v1/gonum/blas/blas64"
	"gonum.org/v1/gonum/lapack/lapack64"
)

// A SteadyState is where the light settles at constant charge.
type SteadyState struct {
	Converged bool      `json:"converged"`
	Reason    string    `json:"reason,omitempty" doc:"Why there is no steady state, or what it does instead"`
	Record    []float64 `json:"-"`
	Ledger    Ledger    `json:"ledger"`
}

// tooHotC is where the search for a steady state is given up: no part of a light
// is solid there.
const tooHotC = 600

// relaxSteps bounds the search in time.
const relaxSteps = 400

// Steady solves the coupled electro-thermal state at the solver's charge. It
// answers Converged false with a reason in words if there is no such state.
func (s *Solver) Steady(ctx context.Context) (*SteadyState, error) {
	st := &SteadyState{Record: make([]float64, len(s.m.columns))}
	y := make([]float64, len(s.y))
	s.start(y)
	s.latch(y)
	for range maxModeSolves {
		if !s.newton(y) {
			s.start(y)
			if err := s.relax(ctx, y); err != nil {
				return nil, err
			}
			if !s.newton(y) {
				s.electrical(y)
				s.record(st.Record)
				st.Reason = s.whyNot(y)
				return st, nil
			}
		}
		if !s.latch(y) || s.cycling >= 0 {
			break
		}
	}
	s.electrical(y)
	s.record(st.Record)
	st.Ledger = s.powerLedger(st.Record)
	if s.cycling >= 0 {
		n := &s.nodes[s.cycling]
		st.Reason = fmt.Sprintf("it cycles: %s locks out below %.3g V, the source recovers above %.3g V without its load, and it starts again", nodeName(n), max(n.drv.InputMinV, collapsedV), n.drv.RestartV)
		return st, nil
	}
	st.Converged = true
	return st, nil
}

// rest leaves the operating point at the steady state where there is one, else at
// switch-on.
func (s *Solver) rest(ctx context.Context) error {
	steady, err := s.Steady(ctx)
	if err == nil && !steady.Converged {
		s.start(s.scratch)
		s.electrical(s.scratch)
	}
	return err
}

func nodeName(n *node) string {
	if n.name != "" {
		return n.name
	}
	return n.id
}

func (s *Solver) whyNot(y []float64) string {
	hot, where := math.Inf(-1), ""
	for i, l := range s.m.lumps {
		if t := y[s.m.states+i]; t > hot {
			hot, where = t, l.owner
		}
	}
	if hot >= tooHotC {
		return fmt.Sprintf("there is no steady state: %s heats faster than the heat path carries away, and passes %d °C", where, tooHotC)
	}
	return fmt.Sprintf("no steady state was found: the temperatures still move after a long time, %.0f °C at %s", hot, where)
}

// balance writes how far y is from rest: volts for polarisation, watts for lumps.
// Charge is held.
func (s *Solver) balance(y, r []float64) {
	s.derivative(0, y, r)
	for i := range s.feeds {
		f := &s.feeds[i]
		if f.charge >= 0 {
			r[f.charge] = 0
		}
		if f.polar >= 0 {
			r[f.polar] *= f.pack.Cell.PolarOhm * f.pack.Cell.PolarFarad
		}
	}
	for i := range s.jPerK {
		r[s.m.states+i] *= s.jPerK[i]
	}
}

// newton finds the state at rest from y, with a difference Jacobian and a bound
// on how far a temperature moves at once. It tells whether it got there.
func (s *Solver) newton(y []float64) bool {
	n := len(y)
	if n == 0 {
		s.electrical(y)
		return true
	}
	r, d := s.residual, s.scratch
	jac := blas64.General{Rows: n, Cols: n, Stride: n, Data: make([]float64, n*n)}
	pivot := make([]int, n)
	for range 40 {
		s.balance(y, r)
		for j := range n {
			h := 1e-5 * max(1, math.Abs(y[j]))
			old := y[j]
			y[j] += h
			s.balance(y, d)
			y[j] = old
			for i := range n {
				jac.Data[i*n+j] = (d[i] - r[i]) / h
			}
		}
		for i := range s.feeds {
			if k := s.feeds[i].charge; k >= 0 {
				for j := range n {
					jac.Data[k*n+j] = 0
				}
				jac.Data[k*n+k] = 1
			}
		}
		if !lapack64.Getrf(jac, pivot) {
			return false
		}
		lapack64.Getrs(blas.NoTrans, jac, blas64.General{Rows: n, Cols: 1, Stride: 1, Data: r}, pivot)
		size := 0.0
		for i := range n {
			if math.IsNaN(r[i]) || math.IsInf(r[i], 0) {
				return false
			}
			size = max(size, math.Abs(r[i]))
		}
		damp := min(1, 60/size)
		for i := range n {
			y[i] -= damp * r[i]
			if i >= s.m.states && (y[i] > tooHotC || y[i] < -273) {
				return false
			}
		}
		if size < 1e-6 {
			return true
		}
	}
	return false
}

// relax follows the light in time, charge held, until it rests or passes tooHotC.
func (s *Solver) relax(ctx context.Context, y []float64) error {
	s.holdCharge = true
	defer func() { s.holdCharge = false }()
	st := s.newStepper()
	st.MinStep, st.JumpStep = 1e-6, jumpStepS
	st.Start(0, y, 1e-3)
	for steps := 0; st.T < 3e6; steps++ {
		if err := ctx.Err(); err != nil {
			return fmt.Errorf("finding the steady state: %w", err)
		}
		if err := st.Step(3e6); err != nil {
			break
		}
		if s.hottest(st.Y) > tooHotC || steps > relaxSteps {
			break
		}
	}
	copy(y, st.Y)
	return nil
}

func (s *Solver) hottest(y []float64) float64 {
	hot := math.Inf(-1)
	for i := s.m.states; i < len(y); i++ {
		hot = max(hot, y[i])
	}
	return hot
}
