package emitter

import (
	"math"
	"testing"

	"photherm/core/design"
)

// A claim is held against what the figures make at the claimed current, or at the rated
// one: an emitter read at 3.0 V and 0.35 A takes 1.05 W there, whatever its label says.
func TestClaims(t *testing.T) {
	p := func(x float64) *float64 { return &x }
	part := design.Part{ID: "e", Emitter: &design.Emitter{Forward: []design.ForwardPoint{{CurrentA: 0.1, VoltageV: 2.8}, {CurrentA: 0.35, VoltageV: 3.0}, {CurrentA: 0.7, VoltageV: 3.2}}, VfRefTempC: 25, RatedCurrentA: p(0.7)}}
	sheet := func() *AtClaim {
		s, err := NewSheet(&part)
		if err != nil {
			t.Fatal(err)
		}
		return s.Claim
	}
	if got := sheet(); got != nil {
		t.Errorf("nothing is claimed, and yet %+v", got)
	}
	part.Emitter.Claimed = &design.Claim{VoltageV: p(3.4), CurrentA: p(0.35), PowerW: p(3)}
	if got := sheet(); got == nil || got.CurrentA != 0.35 || math.Abs(got.VoltageV-3) > 1e-3 || math.Abs(got.PowerW-1.05) > 1e-3 || got.FluxLm != nil {
		t.Errorf("at the claimed current: %+v", got)
	}
	part.Emitter.Claimed.CurrentA = nil
	part.Emitter.FluxLm, part.Emitter.FluxCurrentA, part.Emitter.FluxRefTempC = p(100), p(0.7), 25
	if got := sheet(); got == nil || got.CurrentA != 0.7 || math.Abs(got.VoltageV-3.2) > 1e-3 || got.FluxLm == nil || math.Abs(*got.FluxLm-100) > 1e-6 {
		t.Errorf("at the rated current: %+v", got)
	}
	part.Emitter.RatedCurrentA = nil
	if got := sheet(); got != nil {
		t.Errorf("at no current: %+v", got)
	}
}
