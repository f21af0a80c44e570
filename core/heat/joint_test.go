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

// Aluminium on aluminium, 10 µm rough, in air at 1 bar: 2.75e-4 m²K/W (Incropera & DeWitt, table
// of thermal contact resistances, from memory). Only that of the usual layers is dry.
func TestPressedOnDry(t *testing.T) {
	layers := UsualLayers()
	for i, l := range layers {
		l.Joint.AreaM2 = p(1)
		r, ok := JointKPerW(&l.Joint)
		if dry := i == len(layers)-1; !ok || Dry(&l.Joint) != dry || dry && math.Abs(r/2.75e-4-1) > 0.01 {
			t.Errorf("%s: %g m²K/W, dry %v", l.Word, r, Dry(&l.Joint))
		}
	}
	if Dry(nil) || Dry(&design.Joint{}) || Dry(&design.Joint{KPerW: p(3), Conductivity: p(0.02)}) {
		t.Error("dry without a layer")
	}
	for k, want := range map[float64]bool{0.03: true, 0.049: true, 0.06: false, 0.1: false} {
		if Dry(&design.Joint{Conductivity: p(k)}) != want {
			t.Errorf("%g W/(m·K) is air: %v", k, !want)
		}
	}
}

// What is not in the sun, or of which nobody said how strong it is, gets none of it.
func TestSunOnABody(t *testing.T) {
	lit, black := &design.Body{SunM2: p(0.02)}, &design.Shape{Surface: "painted"}
	if got := SunOn(lit, black, p(500)); math.Abs(float64(got)-9) > 1e-9 {
		t.Errorf("0.02 m² of paint in 500 W/m²: %g W", float64(got))
	}
	if SunOn(lit, black, nil) != 0 || SunOn(&design.Body{}, black, p(500)) != 0 {
		t.Error("sun where there is none")
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
}

// By how long a hand stays and on what (EN ISO 13732-1, from memory): less the longer, and
// less on metal than on plastics and wood; held for long the material no longer matters.
func TestTouch(t *testing.T) {
	b := design.Brief{}
	metal, printed := &design.Body{}, &design.Body{Shape: &design.Shape{Kind: "box", Material: "printed-plastic"}}
	within(t, "held", TouchLimitC(&b, true, metal), 48, 0)
	within(t, "brushed", TouchLimitC(&b, false, nil), 65, 0)
	last := map[string]float64{}
	for _, stays := range []string{"second", "ten-seconds", "minute", "long"} {
		for _, key := range []string{"", "glass", "acrylic", "wood"} {
			body := &design.Body{TouchedFor: stays, Shape: &design.Shape{Kind: "box", Material: key}}
			limit := TouchLimitC(&b, false, body)
			if was, ok := last[key]; ok && limit >= was || limit < TouchLimitC(&b, true, metal) {
				t.Errorf("%s, %q: %g °C after %g", stays, key, limit, was)
			}
			last[key] = limit
			if stays == "long" && limit != 48 {
				t.Errorf("long on %q: %g °C", key, limit)
			}
		}
	}
	if TouchedFor(true, metal) == TouchedFor(false, metal) || TouchLimitC(&b, false, printed) != 85 {
		t.Errorf("%s, %s, printed %g °C", TouchedFor(true, metal), TouchedFor(false, metal), TouchLimitC(&b, false, printed))
	}
	b.TouchC = p(40)
	within(t, "the brief's own", TouchLimitC(&b, true, printed), 40, 0)
}
