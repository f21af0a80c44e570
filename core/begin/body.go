package begin

import (
	"math"
	"regexp"

	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/units"
)

// standsOn is what a board is said to stand on: that is the body, and not the board.
var standsOn = regexp.MustCompile(`(?i)\b(?:stars?|boards?|mcpcbs?|leds?|cobs?)\b.*?\bon\s+(.*\d.*)$`)

// body is what carries the heat of all: as said, else as large as keeps it bearable. Under
// strip, so many metres of it, that is a bar along it.
func (b *builder) body(heatW, alongM float64) {
	line := b.facts.Body
	if m := standsOn.FindStringSubmatch(line); m != nil {
		line = m[1]
	}
	s := b.read("body", measures(inMillimetres(fractions(line))))
	body := design.Body{ID: "body", Name: "Body", Touchable: true}
	heatW = max(heatW, 0.05)
	k, area := s.figure("thermalResistance"), s.figure("area")
	var shape *design.Shape
	if k == nil && area == nil || s.has("cooler") || s.has("cpu") {
		shape = b.found(line, s)
	}
	switch {
	case shape != nil:
		body.Shape = shape
	case k != nil && *k > 0:
		body.KPerW = k
		b.understood("body", "%s to the air", units.Format(*k, "thermalResistance", 3))
	case area != nil && *area > 0:
		body.Shape = &design.Shape{Kind: "area", AreaM2: area}
		b.madeOf(s, body.Shape)
		b.understood("body", "%s of surface", units.Format(*area, "area", 3))
	default:
		body.Shape = sheetFor(heatW, b.light.Conditions.AmbientC, alongM)
		thing, along := "a sheet", ""
		if alongM > 0 {
			thing, along = "a bar", " along the strip"
		}
		for _, measure := range []string{"lengthM", "widthM", "thicknessM"} {
			b.assume("/bodies/body/shape/"+measure, "%s of painted aluminium%s that settles at most about %d K above the air at these watts", thing, along, riseK)
		}
	}
	if m := s.figure("mass"); m != nil && *m > 0 {
		body.MassKg = m
	} else if body.Shape == nil || body.Shape.Kind == "area" || body.Shape.Kind == "cooler" {
		body.MassKg = ptr(round2(max(0.02, gramsPerW/1000.0*heatW)))
		b.assume("/bodies/body/massKg", "%d g of aluminium for each watt of heat", gramsPerW)
	}
	b.v.Bodies = append(b.v.Bodies, body)
}

// sheetFor is a painted sheet that settles at the usual rise, its side rounded up to two
// digits: a square no smaller than a thing one can hold, upright; or, where it is to lie
// along something, as long as that and no narrower than a bar one can buy, with one face on
// what it is screwed to.
func sheetFor(heatW, airC, alongM float64) *design.Shape {
	low, high := leastSideM, mostSideM
	sheet := func(side float64) *design.Shape {
		s := &design.Shape{Kind: "plate", LengthM: ptr(side), WidthM: ptr(side), ThicknessM: ptr(sheetM), Surface: "painted"}
		if alongM > 0 {
			s.LengthM, s.Pose, s.OneFace = ptr(min(alongM, mostAlongM)), "up", true
		}
		return s
	}
	if alongM > 0 {
		low = leastBarM
	}
	for range 40 {
		side := (low + high) / 2
		if law, _ := heat.NewBody(sheet(side), 1); law.Watts(airC+riseK, airC, 0) < heatW {
			low = side
		} else {
			high = side
		}
	}
	digit := math.Pow(10, math.Floor(math.Log10(high))-1)
	return sheet(math.Round(math.Ceil(high/digit-1e-6)*digit*1e6) / 1e6)
}
