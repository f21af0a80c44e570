package chain

import (
	"math"

	"photherm/core/driver"
)

// KnobTravel tells for each constant-voltage supply with a range of current over
// what share of its current knob's travel it dims the present load, warm as at
// switch-on: the load's own current is found with the limit taken away.
func (s *Solver) KnobTravel() map[string]float64 {
	out := map[string]float64{}
	for k := range s.nodes {
		n := &s.nodes[k]
		if n.kind != driverNode || n.drv.Family != driver.Voltage || n.drv.KnobMaxA <= n.drv.KnobMinA {
			continue
		}
		set := n.drv.SetA
		n.drv.SetA = math.Inf(1)
		s.start(s.scratch)
		s.electrical(s.scratch)
		out[n.id] = driver.KnobTravel(s.point[k].outA, n.drv.KnobMinA, n.drv.KnobMaxA)
		n.drv.SetA = set
	}
	return out
}
