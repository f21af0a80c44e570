package begin

import (
	"math"

	"photherm/core/design"
	"photherm/core/heat"
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
		body.Shape = &design.Shape{Kind: "area", AreaM2: area}
		b.understood("body", "%s of surface", units.Format(*area, "area", 3))
	default:
		side := sheetFor(heatW, b.light.Conditions.AmbientC)
		body.Shape = &design.Shape{Kind: "plate", LengthM: &side, WidthM: ptr(side), ThicknessM: ptr(sheetM), Surface: "painted"}
		for _, measure := range []string{"lengthM", "widthM", "thicknessM"} {
			b.assume("/bodies/body/shape/"+measure, "a sheet of aluminium, painted, that settles about %d K above the air at these watts", riseK)
		}
	}
	if m := s.figure("mass"); m != nil && *m > 0 {
		body.MassKg = m
	} else if body.Shape == nil || body.Shape.Kind == "area" {
		body.MassKg = ptr(round2(max(0.02, gramsPerW/1000.0*heatW)))
		b.assume("/bodies/body/massKg", "%d g of aluminium for each watt of heat", gramsPerW)
	}
	b.v.Bodies = append(b.v.Bodies, body)
}

// sheetFor is the side of a square sheet that settles at the usual rise, m: rounded up to
// two digits, and no smaller than a thing one can hold.
func sheetFor(heatW, airC float64) float64 {
	low, high := leastSideM, mostSideM
	for range 40 {
		side := (low + high) / 2
		sheet, _ := heat.NewBody(&design.Shape{Kind: "plate", LengthM: &side, WidthM: &side, Surface: "painted"}, 1)
		if sheet.Watts(airC+riseK, airC, 0) < heatW {
			low = side
		} else {
			high = side
		}
	}
	digit := math.Pow(10, math.Floor(math.Log10(high))-1)
	return math.Round(math.Ceil(high/digit-1e-9)*digit*1e6) / 1e6
}
