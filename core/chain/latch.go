package chain

import "photherm/core/driver"

// maxModeSolves bounds how often latches may change at one instant.
const maxModeSolves = 20

// latch solves and lets drivers lock out below their lowest input, or where their
// source collapses under them, or outside their window, and restart above their
// restart voltage, until nothing changes. A driver that restarts at the instant it
// locked out is cycling.
func (s *Solver) latch(y []float64) (changed bool) {
	s.electrical(y)
	for range maxModeSolves {
		again := false
		for k := range s.nodes {
			d, p := &s.nodes[k].drv, &s.on[k]
			if s.nodes[k].kind != driverNode {
				continue
			}
			switch {
			case !s.locked[k] && s.tooLow(k), !s.locked[k] && p.innerV > 0 && !d.InsideWindow(p.outV, p.outA):
				s.locked[k] = true
				again = true
			case s.locked[k] && d.Family != driver.Window && p.innerV > 0 && p.innerV >= d.RestartV && s.cycling < 0:
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

// collapsedV is the input below which a switching driver is taken as out, though
// its data say nothing.
const collapsedV = 0.3

// tooLow tells whether a driver stands below its lowest input, or what feeds it has
// broken down under its load; not whether it is switched off.
func (s *Solver) tooLow(k int) bool {
	n, p := &s.nodes[k], &s.on[k]
	least := n.drv.InputMinV
	if n.drv.Switches() {
		least = max(least, collapsedV)
	}
	if p.innerV >= least || n.fault != faultOK || n.drv.Family == driver.Absent {
		return false
	}
	if p.inV > 0 {
		return true
	}
	for up := n.parent; up >= 0; up = s.nodes[up].parent {
		u := &s.nodes[up]
		if u.fault != faultOK || (u.kind == switchNode && u.open != 0) {
			return false
		}
		if u.kind == driverNode {
			if s.locked[up] || u.drv.LimitA() <= 0 {
				return false
			}
			if s.on[up].inV > 0 {
				return true
			}
		}
	}
	return s.onFeed[n.feed].openV > 0
}
