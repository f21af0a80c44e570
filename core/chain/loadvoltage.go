package chain

import (
	"context"

	"photherm/core/driver"
)

// unboundV stands for an output without a highest voltage.
const unboundV = 1e4

// LoadVoltages is the voltage at which what hangs on a driver takes a current, cold
// as at switch-on and warm as in the steady state where there is one, V. It is not
// ok if there is no such driver or nothing takes that current.
func (s *Solver) LoadVoltages(ctx context.Context, id string, currentA float64) (coldV, warmV float64, ok bool) {
	for k := range s.nodes {
		n := &s.nodes[k]
		if n.id != id || n.kind != driverNode || n.kidLo == n.kidHi {
			continue
		}
		at := func() float64 {
			s.electrical(s.scratch)
			v, a := s.bus(driver.Envelope{LimitA: currentA, OpenV: unboundV, SeriesOhm: driver.WireOhm}, n.kidLo, n.kidHi)
			ok = a > 0.99*currentA
			return v
		}
		s.start(s.scratch)
		coldV = at()
		warmV = coldV
		if st, err := s.Steady(ctx); err == nil && st.Converged {
			copy(s.scratch, s.y)
			warmV = at()
		}
		return coldV, warmV, ok
	}
	return 0, 0, false
}

// StringVoltage is the voltage at which an ordinary string of an array, as it is
// mounted and with its ballast, takes a current at a junction temperature, V. It is not
// ok if there is no such array or no emitter is chosen.
func (s *Solver) StringVoltage(id string, currentA, junctionC float64) (v float64, ok bool) {
	k := s.find(id, arrayNode)
	if k < 0 || !s.nodes[k].chosen || currentA <= 0 {
		return 0, false
	}
	return s.nodes[k].arr.StringV(0, currentA, junctionC), true
}
