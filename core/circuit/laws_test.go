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

// What a passing driver draws for itself goes through its joint too: by hand, 12 V behind
// 2 Ω with 50 mA of its own beside what 8 Ω pass on into a fixed current.
func TestOwnDrawBehindAJoint(t *testing.T) {
	parts := []design.Part{{ID: "res", Name: "r", Driver: &design.Driver{Family: "resistor", ResistanceOhm: new(8.0), QuiescentA: new(0.05)}}}
	for volts, own := range map[float64]float64{12: 0.05, 0.2: 0.05 * 0.2 / 0.5 / (1 + 2*0.05/0.5)} {
		load := design.Node{ID: "l", Load: &design.MeasuredLoad{Beyond: "current", Points: []design.LoadPoint{{VoltageV: 1, CurrentA: 0.3}}}}
		if volts < 1 {
			load = design.Node{ID: "l", Aux: &design.Auxiliary{CurrentA: 0, StartV: new(9.0)}}
		}
		light := sample.OnSupply(volts, 0, parts, design.Node{ID: "d", Fault: &design.Fault{SeriesOhm: 2}, Driver: &design.DriverUse{PartID: "res"}, Loads: []design.Node{load}})
		s := network(t, light).Solver()
		s.At(1, 25)
		s.Solve()
		passed := 0.0
		if volts > 1 {
			passed = 0.3
		}
		p := s.Point[0]
		if math.Abs(p.InA-passed-own) > 1e-6 || math.Abs(p.InnerV-(volts-2*(passed+own))) > 1e-5 || math.Abs(p.OutV-(p.InnerV-8*passed)) > 1e-5 {
			t.Errorf("at %g V: %+v, its own draw by hand %g A", volts, p, own)
		}
		if loss := 2*p.InA*p.InA + 8*passed*passed + own*p.InnerV; math.Abs(p.LossW-loss) > 1e-6 {
			t.Errorf("at %g V it loses %g W, by hand %g W", volts, p.LossW, loss)
		}
	}
}
