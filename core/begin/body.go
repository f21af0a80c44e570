package begin

import (
	"cmp"
	"math"
	"regexp"
	"slices"
	"strings"

	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/units"
)

// body is what carries the heat of all: as said, else as large as keeps it bearable. Under
// strip, so many metres of it, that is a bar along it.
func (b *builder) body(heatW, alongM float64) {
	s := b.read("body", measures(inMillimetres(b.facts.Body)))
	body := design.Body{ID: "body", Name: "Body", Touchable: true}
	heatW = max(heatW, 0.05)
	switch k, area := s.figure("thermalResistance"), s.figure("area"); {
	case k != nil && *k > 0:
		body.KPerW = k
		b.understood("body", "%s to the air", units.Format(*k, "thermalResistance", 3))
	case area != nil && *area > 0:
		body.Shape = &design.Shape{Kind: "area", AreaM2: area}
		b.understood("body", "%s of surface", units.Format(*area, "area", 3))
	case len(s.figures["length"]) > 0 && s.has("tube", "pipe", "round", "host", "torch", "flashlight", "cylinder"):
		body.Shape = b.tubeOf(s)
	case len(s.figures["length"]) > 2 && s.has("heatsink", "sink", "finned", "fins"):
		body.Shape = b.finsOf(s)
	case len(s.figures["length"]) >= 2 || len(s.figures["length"]) == 1 && s.has("square"):
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

// bodyMaterials by what people call them; the first that is among the words is meant, so what
// narrows another down stands before it.
var bodyMaterials = []struct{ word, material string }{
	{"copper", "copper"}, {"brass", "brass"}, {"stainless", "stainless"}, {"steel", "steel"}, {"cast aluminium", "cast-aluminium"},
	{"glass-fibre", "glass-fibre-board"}, {"glass fibre", "glass-fibre-board"}, {"fr4", "glass-fibre-board"}, {"pcb", "glass-fibre-board"}, {"fibreglass", "glass-fibre-board"}, {"acrylic", "acrylic"}, {"plywood", "wood"},
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
	if s.has("square") && len(m) < 3 {
		m = append([]float64{m[0]}, m...)
	}
	shape := &design.Shape{Kind: "plate", LengthM: &m[0], WidthM: &m[1], ThicknessM: ptr(sheetM)}
	if len(m) > 2 {
		shape.ThicknessM = &m[2]
	} else {
		b.assume("/bodies/body/shape/thicknessM", "a sheet that is bent by hand")
	}
	of := cmp.Or(strings.TrimSpace(b.materialOf(s, shape)), "aluminium")
	b.understood("body", "a plate of %s, %s × %s × %s", of, units.Format(m[0], "length", 3), units.Format(m[1], "length", 3), units.Format(*shape.ThicknessM, "length", 2))
	return shape
}

// unitlessProduct is a product of measures that no unit follows: housings are measured in mm.
var unitlessProduct = regexp.MustCompile(`(\d[\d.,]*(?:\s*[×xX*]\s*\d[\d.,]*){1,2})(\s*[a-zA-Z]*)`)

func inMillimetres(line string) string {
	return unitlessProduct.ReplaceAllStringFunc(line, func(p string) string {
		m := unitlessProduct.FindStringSubmatch(p)
		if unit := strings.TrimSpace(m[2]); unit != "" && known(unit) {
			return p
		}
		return m[1] + " mm" + m[2]
	})
}

// Of a tube or a finned sink what nobody said (common practice, sinks of extruded aluminium).
const (
	tubeLongM  = 0.12
	tubeWallM  = 0.002
	finPitchM  = 0.008
	finThickM  = 0.0015
	finsBaseM  = 0.005
	leastFinsM = 0.012 // of a thing with fins: what is lower is a plate
)

// tubeOf is a tube by its diameter and, where it was said, its length.
func (b *builder) tubeOf(s *said) *design.Shape {
	diameter, length := s.figures["length"][0].mid(), tubeLongM
	if len(s.figures["length"]) > 1 {
		length = s.figures["length"][1].mid()
	} else {
		b.assume("/bodies/body/shape/lengthM", "as long as most hand lights")
	}
	diameter, length = min(diameter, length), max(diameter, length)
	shape := &design.Shape{Kind: "tube", DiameterM: &diameter, LengthM: &length, ThicknessM: ptr(min(tubeWallM, diameter/4))}
	b.assume("/bodies/body/shape/thicknessM", "the wall of most tubes")
	b.understood("body", "a %stube, %s across, %s long", b.materialOf(s, shape), units.Format(diameter, "length", 3), units.Format(length, "length", 3))
	return shape
}

// finsOf is a finned sink by its three measures, the least its height.
func (b *builder) finsOf(s *said) *design.Shape {
	l := s.figures["length"]
	m := []float64{l[0].mid(), l[1].mid(), l[2].mid()}
	slices.SortFunc(m, func(a, b float64) int { return cmp.Compare(b, a) })
	if m[2] < leastFinsM {
		return b.plateOf(s)
	}
	base := min(finsBaseM, m[2]/3)
	shape := &design.Shape{Kind: "fins", LengthM: &m[0], WidthM: &m[1], ThicknessM: &base, FinHeightM: ptr(m[2] - base), FinThickM: new(finThickM), Fins: max(2, int(m[1]/finPitchM))}
	b.assume("/bodies/body/shape/fins", "a fin each %s, as most have: count them", units.Format(finPitchM, "length", 1))
	b.assume("/bodies/body/shape/finThicknessM", "usual for extruded fins")
	b.assume("/bodies/body/shape/thicknessM", "the base of most such sinks")
	b.understood("body", "a %ssink of %d fins, %s × %s, %s high", b.materialOf(s, shape), shape.Fins, units.Format(m[0], "length", 3), units.Format(m[1], "length", 3), units.Format(m[2], "length", 2))
	return shape
}

// materialOf sets what a shape is made of, if a word tells, and gives that word.
func (b *builder) materialOf(s *said, shape *design.Shape) string {
	for _, m := range bodyMaterials {
		if s.has(m.word) {
			shape.Material = m.material
			return m.word + " "
		}
	}
	return ""
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
