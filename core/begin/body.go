package begin

import (
	"photherm/core/design"
	"photherm/core/units"
)

// body is what carries the heat of all: as said, else as large as keeps it bearable.
func (b *builder) body(heatW float64) {
	s := b.read("body", b.facts.Body)
	body := design.Body{ID: "body", Name: "Body", Touchable: true}
	heatW = max(heatW, 0.05)
	switch k, area := s.figure("thermalResistance"), s.figure("area"); {
	case k != nil && *k > 0:
		body.KPerW = k
		b.understood("body", "%s to the air", units.Format(*k, "thermalResistance", 3))
	case area != nil && *area > 0:
		body.KPerW = ptr(round2(1 / (surfaceW * *area)))
		b.assume("/bodies/body/kPerW", "%s of surface at %d W/(m²·K), as a painted surface in still air", units.Format(*area, "area", 3), surfaceW)
		b.understood("body", "%s of surface: about %s", units.Format(*area, "area", 3), units.Format(*body.KPerW, "thermalResistance", 2))
	default:
		body.KPerW = ptr(min(round2(riseK/heatW), mostKPerW))
		b.assume("/bodies/body/kPerW", "a body made for these watts: about %d K above the air at most", riseK)
	}
	if m := s.figure("mass"); m != nil && *m > 0 {
		body.MassKg = m
	} else {
		body.MassKg = ptr(round2(max(0.02, gramsPerW/1000.0*heatW)))
		b.assume("/bodies/body/massKg", "%d g of aluminium for each watt of heat", gramsPerW)
	}
	b.v.Bodies = append(b.v.Bodies, body)
}
