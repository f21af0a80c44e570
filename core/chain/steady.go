package chain

import (
	"context"
	"fmt"
	"math"

	"photherm/core/circuit"
	"photherm/core/heat"
)

// A SteadyState is where the light settles at constant charge.
type SteadyState struct {
	Converged bool      `json:"converged"`
	Reason    string    `json:"reason,omitempty" doc:"Why there is no steady state, or what it does instead"`
	Regulated bool      `json:"regulated,omitempty" doc:"Whether it is held by a driver that goes down while it is hot: so it is meant, and no state stands"`
	Record    []float64 `json:"-"` // NaN where there is none
	Ledger    Ledger    `json:"ledger"`
}

// relaxSteps bounds the search in time.
const relaxSteps = 400

// Steady solves the coupled electro-thermal state at the solver's charge. It
// answers Converged false with a reason in words if there is no such state; then
// nothing of it is told.
func (s *Solver) Steady(ctx context.Context) (st *SteadyState, err error) {
	defer circuit.Caught(&err)
	s.within(ctx)
	st = &SteadyState{Record: unknown(make([]float64, len(s.m.columns)))}
	y := make([]float64, len(s.y))
	s.start(y)
	s.switchedOn(y)
	for again := true; again; {
		if st.Reason, err = s.settle(ctx, y); err != nil {
			return st, err
		}
		if st.Reason != "" {
			return st, nil
		}
		if again, st.Reason = s.loweredAtRest(y); st.Reason != "" {
			st.Regulated = true
			return st, nil
		}
	}
	s.electrical(y)
	s.record(st.Record)
	st.Ledger = s.powerLedger(st.Record)
	st.Converged = true
	return st, nil
}

// settle finds the state at rest from y, latches as they stand or come to stand; the
// reason says in words why there is none.
func (s *Solver) settle(ctx context.Context, y []float64) (reason string, err error) {
	for range maxModeSolves {
		from := append([]float64(nil), y...)
		if !s.newton(y) || !s.possible(y) {
			copy(y, from)
			if err := s.relax(ctx, y); err != nil {
				return "", err
			}
			if hot := s.melts(y); hot >= 0 {
				return s.overheats(hot), nil
			}
			if !s.newton(y) || !s.possible(y) {
				return "no steady state was found: the temperatures still move after a long time", nil
			}
		}
		if hot := s.melts(y); hot >= 0 {
			return s.overheats(hot), nil
		}
		if up := s.comeUp(y); !s.latch(y) && !up {
			if _, why, ok := s.cycling(); ok {
				return why, nil
			}
			return "", nil
		}
	}
	return "it does not settle: warm it is switched one way, cold the other", nil
}

func (s *Solver) overheats(hot int) string {
	l := &s.m.lumps[hot]
	return fmt.Sprintf("there is no steady state that it bears: %s passes %.0f °C, and it overheats", l.name, l.bearsC)
}

// possible tells whether a state may be one: what makes heat is not colder than the air, unless
// something dries there.
func (s *Solver) possible(y []float64) bool {
	coldest := s.ambientC - 1e-3
	if s.m.dries {
		coldest -= heat.MostDriedK
	}
	for _, t := range y[s.m.states:] {
		if t < coldest {
			return false
		}
	}
	return true
}

// rest leaves the operating point at the steady state where there is one, else at
// switch-on.
func (s *Solver) rest(ctx context.Context) error {
	steady, err := s.Steady(ctx)
	if err == nil && !steady.Converged {
		s.switchOn(s.scratch)
	}
	return err
}

// switchOn writes the state at switch-on and solves it, with what latches then.
func (s *Solver) switchOn(y []float64) {
	s.start(y)
	s.switchedOn(y)
}

func cycleWords(n *circuit.Node) string {
	return fmt.Sprintf("it cycles: %s locks out below %.3g V, the source recovers to %.3g V and more without its load, and it starts again", n.DisplayName(), max(n.Drv.LockV, collapsedV), n.Drv.RestartV)
}

// newton finds the state at rest from y, with a bound on how far a temperature moves at
// once. It tells whether it got there.
func (s *Solver) newton(y []float64) bool {
	s.holdSources = true
	defer func() { s.holdSources = false }()
	if len(y) == 0 {
		s.electrical(y)
		return true
	}
	r, lin := s.residual, s.tangents()
	for range 40 {
		s.derivative(0, y, r)
		lin.At(0, y, r)
		if !lin.mix(0, -1) {
			return false
		}
		lin.Solve(r)
		size := 0.0
		for _, x := range r {
			if math.IsNaN(x) || math.IsInf(x, 0) {
				return false
			}
			size = max(size, math.Abs(x))
		}
		damp := min(1, 60/size)
		for i := range y {
			y[i] -= damp * r[i]
			if i >= s.m.states && (y[i] > solidC || y[i] < -273) {
				return false
			}
		}
		if size < 1e-6 {
			s.derivative(0, y, r)
			return s.balanced(r) && !s.parts(y, r)
		}
	}
	return false
}

// partsAfterS are the times over which strings that warm apart are looked for, s.
var partsAfterS = []float64{0.1, 1, 10, 100, 1000}

// parts tells whether unlike strings would leave a state at the least push, one warming
// on at the others' cost: whether something that is not at rest grows there. It asks for
// the growth of a push in some steps of implicit Euler's of each length, which shows a
// mode whose own time is longer than the step.
func (s *Solver) parts(y, f []float64) bool {
	lin := s.tangents()
	if len(lin.spreads) == 0 {
		return false
	}
	lin.At(0, y, f)
	push := make([]float64, len(y))
	for _, after := range partsAfterS {
		if !lin.mix(1, after) {
			continue
		}
		for i := range push {
			push[i] = 0
			if i >= s.m.states {
				push[i] = 1 + float64(i%3) // unlike any mode of equals
			}
		}
		size := 0.0
		for n := 0; n < fewPushes || n < manyPushes && size > 1+growthShare; n++ {
			lin.Solve(push)
			size = 0
			for i := s.m.states; i < len(push); i++ {
				size = max(size, math.Abs(push[i]))
			}
			if size == 0 {
				break
			}
			for i := range push {
				push[i] /= size
			}
		}
		if size > 1+growthShare {
			return true
		}
	}
	return false
}

// How often a push is followed over each time, and what it must grow by each time (chosen). One
// that seems to grow is followed for longer: heat that comes down a chain of lumps may rise in one
// of them for a while, and only what goes on rising parts.
const (
	fewPushes   = 12
	manyPushes  = 500
	growthShare = 1e-3
)

// restShare is what of its heat a light at rest may still store: a tenth of what a
// ledger may leave open (chosen).
const restShare = 1e-4

// restW is what a light at rest may store besides, W (chosen): Newton's last step of a µK moves as
// much through a body of 10 W/K, however little flows.
const restW = 1e-5

// balanced tells whether the light stores next to nothing of the heat that arises: a
// step of Newton's may be small because a law jumps just there.
func (s *Solver) balanced(dydt []float64) bool {
	stored, heat := 0.0, 0.0
	for i, j := range s.jPerK {
		stored += j * dydt[s.m.states+i]
		heat += math.Abs(s.lumpW[i])
	}
	return math.Abs(stored) <= restShare*heat+restW
}

// relax follows the light in time, charge held, until it rests or melts.
func (s *Solver) relax(ctx context.Context, y []float64) error {
	s.holdSources = true
	defer func() { s.holdSources = false }()
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
		if s.melts(st.Y) >= 0 || steps > relaxSteps {
			break
		}
	}
	copy(y, st.Y)
	return nil
}
