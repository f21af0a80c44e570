package heat

import (
	"math"
	"testing"

	"photherm/core/design"
)

func p(x float64) *float64 { return &x }

// Fourier's law for a plane layer, R = t/(k·A) (Incropera & DeWitt, chapter 3):
// 0.1 mm of 1 W/mK paste on 1 cm² is 1 K/W.
func TestLayer(t *testing.T) {
	j := design.Joint{ThicknessM: p(1e-4), Conductivity: p(1), AreaM2: p(1e-4)}
	if r, ok := JointKPerW(&j); !ok || math.Abs(r-1) > 1e-12 {
		t.Errorf("R = %g", r)
	}
	j.Coverage, j.ContactM2KPer = p(0.5), p(2e-5)
	if r, _ := JointKPerW(&j); math.Abs(r-(2+0.4)) > 1e-12 {
		t.Errorf("half wetted, with contact resistance, R = %g", r)
	}
	j.KPerW = p(0.7)
	if r, _ := JointKPerW(&j); r != 0.7 {
		t.Errorf("a known resistance is not taken: %g", r)
	}
	if _, ok := JointKPerW(&design.Joint{}); ok {
		t.Error("nothing known counts as known")
	}
}

func TestBodies(t *testing.T) {
	// CRC Handbook: aluminium 0.897 J/(g·K); 310 g are 279 J/K.
	if c, ok := CapacityJPerK(&design.Body{MassKg: p(0.31)}); !ok || math.Abs(c-279) > 2 {
		t.Errorf("310 g of aluminium hold %g J/K", c)
	}
	if _, ok := CapacityJPerK(&design.Body{}); ok {
		t.Error("a body of unknown mass has a heat capacity")
	}
	b := design.Brief{}
	if held, touched := TouchLimitC(&b, true), TouchLimitC(&b, false); held >= touched {
		t.Error("what is held may not be as hot as what is only touched")
	}
	b.TouchC = p(40)
	if TouchLimitC(&b, true) != 40 {
		t.Error("the brief's own limit is not taken")
	}
}
