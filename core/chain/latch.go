package chain

// maxModeSolves bounds how often latches may change at one instant.
const maxModeSolves = 20

// latch solves and lets drivers lock out below their lowest input and restart
// above their restart voltage, until nothing changes. A driver that restarts at
// the instant it locked out is cycling.
func (s *Solver) latch(y []float64) (changed bool) {
	s.electrical(y)
	for range maxModeSolves {
		again := false
		for k := range s.nodes {
			d := &s.nodes[k].drv
			if s.nodes[k].kind != driverNode || d.InputMinV <= 0 {
				continue
			}
			v := s.point[k].inV
			switch {
			case !s.locked[k] && v > 0 && v < d.InputMinV:
				s.locked[k] = true
				again = true
			case s.locked[k] && v >= d.RestartV && s.cycling < 0:
				if changed {
					s.cycling = k // free of its load, the source recovers at once
				} else {
					s.locked[k] = false
					again = true
				}
			}
		}
		if !again {
			break
		}
		changed = true
		s.electrical(y)
	}
	return changed
}
