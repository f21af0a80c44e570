package circuit

import (
	"math"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
)

// The light of a measured load is straight between its readings: by hand, halfway between
// a fifth and all of 100 lm is 60 lm.
func TestLightOfMeasuredLoad(t *testing.T) {
	light := sample.OnSupply(4.5, 0, nil, design.Node{ID: "m", Load: &design.MeasuredLoad{FluxLm: new(100.0), Points: []design.LoadPoint{
		{VoltageV: 3, CurrentA: 0.1, RelativeLight: new(0.2)}, {VoltageV: 6, CurrentA: 0.3, RelativeLight: new(1.0)}}}})
	s := network(t, light).Solver()
	s.At(1, 25)
	s.Solve()
	if p := s.Point[0]; math.Abs(p.FluxLm-60) > 1e-3 || math.Abs(p.InA-0.2) > 1e-5 {
		t.Errorf("%g lm at %g A", p.FluxLm, p.InA)
	}
}
