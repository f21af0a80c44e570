package heat

import (
	"math"

	"photherm/core/design"
)

// A cooler is known by its K/W, with its fan at its rated voltage and without.
type cooler struct {
	still, rated float64 // W/K
	ratedV       float64 // 0: full at any voltage
	stopped      bool
}

// stillShare is what a cooler made for a fan keeps without it, where that was not measured
// (common practice: a sixth), and flowPower how its W/K above that goes with the flow
// (common practice for turbulent air: 0.8).
const (
	stillShare = 1.0 / 6
	flowPower  = 0.8
)

func newCooler(s *design.Shape) *cooler {
	c := &cooler{rated: 1 / *s.CoolerKW}
	c.still = stillShare * c.rated
	if s.StillKW != nil {
		c.still = min(1 / *s.StillKW, c.rated)
	}
	if f := s.Fan; f != nil {
		c.stopped = f.Stopped
		if f.RatedV != nil && f.NodeID != "" {
			c.ratedV = *f.RatedV
		}
	}
	return c
}

// wPerK is what it gives for each kelvin, W/K, with its fan at a voltage.
func (c *cooler) wPerK(driveV float64) float64 {
	switch {
	case c.stopped:
		return c.still
	case c.ratedV == 0:
		return c.rated
	}
	return c.still + (c.rated-c.still)*math.Pow(max(driveV, 0)/c.ratedV, flowPower)
}
