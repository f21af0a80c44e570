package begin

import (
	"cmp"
	"math"
	"slices"

	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/units"
)

// body is what carries the heat of all: as said, else as large as keeps it bearable. Under
// strip, so many metres of it, that is a bar along it.
func (b *builder) body(heatW, alongM float64) {
	s := b.read("body", measures(b.facts.Body))
	body := design.Body{ID: "body", Name: "Body", Touchable: true}
	heatW = max(heatW, 0.05)
	switch k, area := s.figure("thermalResistance"), s.figure("area"); {
	case k != nil && *k > 0:
		body.KPerW = k
		b.understood("body", "%s to the air", units.Format(*k, "thermalResistance", 3))
	case area != nil && *area > 0:
		body.Shape = &design.Shape{Kind: "area", AreaM2: area}
		b.understood("body", "%s of surface", units.Format(*area, "area", 3))
	case len(s.figures["length"]) >= 2:
		body.Shape = b.plateOf(s)
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
		if b.begun.Understood["body"] == "" {
			b.understood("body", "%s of metal; its surface is assumed", units.Format(*m, "mass", 3))
		}
	} else if body.Shape == nil || body.Shape.Kind == "area" {
		body.MassKg = ptr(round2(max(0.02, gramsPerW/1000.0*heatW)))
		b.assume("/bodies/body/massKg", "%d g of aluminium for each watt of heat", gramsPerW)
	}
	b.v.Bodies = append(b.v.Bodies, body)
}

// plateMaterials by what people call them; the first that is among the words is meant, so what
// narrows another down stands before it.
var plateMaterials = []struct{ word, material string }{
	{"copper", "copper"}, {"brass", "brass"}, {"stainless", "stainless"}, {"steel", "steel"}, {"cast aluminium", "cast-aluminium"},
	{"glass-fibre", "glass-fibre-board"}, {"glass fibre", "glass-fibre-board"}, {"fibreglass", "glass-fibre-board"}, {"acrylic", "acrylic"}, {"plywood", "wood"},
	{"wood", "wood"}, {"plastic", "printed-plastic"}, {"glass", "glass"},
}

// plateOf is a plate by its measures, the smallest of three its thickness; of aluminium where no
// other material is named.
func (b *builder) plateOf(s *said) *design.Shape {
	var m []float64
	for _, l := range s.figures["length"][:min(len(s.figures["length"]), 3)] {
		m = append(m, l.mid())
	}
	slices.SortFunc(m, func(a, b float64) int { return cmp.Compare(b, a) })
	shape := &design.Shape{Kind: "plate", LengthM: &m[0], WidthM: &m[1], ThicknessM: ptr(sheetM)}
	if len(m) > 2 {
		shape.ThicknessM = &m[2]
	} else {
		b.assume("/bodies/body/shape/thicknessM", "a sheet that is bent by hand")
	}
	of := "aluminium"
	if at := slices.IndexFunc(plateMaterials, func(m struct{ word, material string }) bool { return s.has(m.word) }); at >= 0 {
		shape.Material, of = plateMaterials[at].material, plateMaterials[at].word
	}
	b.understood("body", "a plate of %s, %s × %s × %s", of, units.Format(m[0], "length", 3), units.Format(m[1], "length", 3), units.Format(*shape.ThicknessM, "length", 2))
	return shape
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
