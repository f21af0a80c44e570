package chain

import (
	"context"

	"photherm/core/circuit"
)

// LoadVoltages is the voltage at which what hangs on a driver takes a current, cold
// as at switch-on and warm as in the steady state where there is one, V. It is not
// ok if there is no such driver or nothing takes that current.
func (s *Solver) LoadVoltages(ctx context.Context, id string, currentA float64) (coldV, warmV float64, ok bool, err error) {
	defer circuit.Caught(&err)
	s.within(ctx)
	k := s.Net.Find(id, circuit.Driver)
	if k < 0 {
		return 0, 0, false, nil
	}
	s.start(s.scratch)
	s.electrical(s.scratch)
	if coldV, ok = s.VoltageAt(k, currentA); !ok {
		return coldV, coldV, ok, nil
	}
	warmV = coldV
	st, err := s.Steady(ctx)
	if err == nil && st.Converged {
		s.electrical(s.y)
		warmV, ok = s.VoltageAt(k, currentA)
	}
	return coldV, warmV, ok, err
}

// StringVoltage is the voltage at which an ordinary string of an array, as it is
// mounted and with its ballast, takes a current at a junction temperature, V. It is not
// ok if there is no such array or no emitter is chosen.
func (s *Solver) StringVoltage(id string, currentA, junctionC float64) (v float64, ok bool) {
	k := s.Net.Find(id, circuit.Array)
	if k < 0 || !s.Nodes[k].Chosen || currentA <= 0 {
		return 0, false
	}
	return s.Nodes[k].Arr.StringV(0, currentA, junctionC), true
}
