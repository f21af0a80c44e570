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

// bodyMaterials by what people call them; the first that is among the words is meant, so what
// narrows another down stands before it.
var bodyMaterials = []struct{ word, material string }{
	{"copper", "copper"}, {"brass", "brass"}, {"stainless", "stainless"}, {"steel", "steel"}, {"iron", "steel"}, {"cast aluminium", "cast-aluminium"}, {"die-cast", "cast-aluminium"}, {"diecast", "cast-aluminium"}, {"cast", "cast-aluminium"}, {"alumin", ""}, {"alu", ""},
	{"glass-fibre", "glass-fibre-board"}, {"glass fibre", "glass-fibre-board"}, {"fr4", "glass-fibre-board"}, {"pcb", "glass-fibre-board"}, {"fibreglass", "glass-fibre-board"}, {"acryl", "acrylic"}, {"plywood", "wood"},
	{"wood", "wood"}, {"plank", "wood"}, {"chipboard", "wood"}, {"mdf", "wood"}, {"timber", "wood"}, {"bamboo", "wood"}, {"oak", "wood"}, {"pine", "wood"}, {"beech", "wood"}, {"birch", "wood"}, {"plastic", "printed-plastic"}, {"glass", "glass"}, {"jar", "glass"}, {"tin", "steel"}, {"washer", "steel"}, {"tray", "steel"}, {"galvani", "steel"}, {"abs", "printed-plastic"}, {"pla", "printed-plastic"}, {"petg", "printed-plastic"}, {"pvc", "printed-plastic"},
}

// bodySurfaces likewise: black anodised is anodised, black alone a paint.
var bodySurfaces = []struct{ word, surface string }{
	{"anodised", "anodised"}, {"anodized", "anodised"}, {"polished", "polished"}, {"shiny", "polished"}, {"painted", "painted"}, {"lacquered", "painted"}, {"powder", "painted"}, {"black", "painted"},
}

// Of a thing that is found, what nobody said (common practice, from memory).
const (
	tubeLongM        = 0.12
	tubeAcrossM      = 0.025
	tubeWallM        = 0.002
	finPitchM        = 0.008 // of extruded aluminium
	finThickM        = 0.0015
	finsBaseM        = 0.005
	leastFinsM       = 0.01 // of a thing with fins: what is lower is a plate
	discThickM       = 0.002
	boardM           = 0.02 // a round board under one emitter
	boardThickM      = 0.0016
	wallM            = 0.002
	mostWallM        = 0.006 // of an angle or channel: what is thicker is one of its sides
	sectionM         = 0.3
	coolerKPerW      = 0.5   // of a processor, with its fan
	coolerStillKPerW = 2.0   // and without
	finnedM          = 0.003 // of a sink by its mass alone: its mean thickness
	fanMPerS         = 2.0   // between fins
)

// found is a body by its measures and what it is called; nil if they tell none.
func (b *builder) found(line string, s *said) *design.Shape {
	shape, what := b.shapeOf(line, s)
	if shape == nil {
		return nil
	}
	b.madeOf(s, shape)
	if shape.Kind != "cooler" {
		word, _, _ := strings.Cut(heat.MaterialOf(shape).Word, ",")
		what += ", of " + strings.ToLower(word)
	}
	if shape.Surface != "" {
		what += ", " + shape.Surface
	}
	article := "a "
	if strings.HasPrefix(what, "angle") {
		article = "an "
	}
	b.understood("body", "%s%s", article, what)
	return shape
}

// shapeOf tells the shape and its measures in words.
func (b *builder) shapeOf(line string, s *said) (shape *design.Shape, what string) {
	var m []float64 // as they were said
	for _, l := range s.all("length") {
		m = append(m, l.mid())
	}
	switch {
	case s.has("cooler") && s.figure("thermalResistance") != nil || s.has("cpu", "processor") || s.has("pc", "gpu") && s.has("heatsink", "sink", "cooler"):
		return b.coolerOf(s)
	case len(m) >= 2 && perimeterWord.MatchString(line):
		return profileOf(line, m)
	case len(m) > 0 && s.has("washer", "pill", "disc", "disk", "star", "slug"):
		return b.discOf(m)
	case len(m) == 0 && s.has("none", "nothing", "no sink", "no heatsink", "no heat", "no body", "star"):
		n := 0
		for node := range design.Nodes(b.v) {
			if a := node.Array; a != nil {
				n += a.Series * a.Parallel * max(a.Count, 1)
			}
		}
		across := round2(boardM * math.Sqrt(float64(max(n, 1))))
		b.assume("/bodies/body/shape/diameterM", "nothing but the round boards under the emitters, as one")
		b.assume("/bodies/body/shape/thicknessM", "usual for such boards")
		return &design.Shape{Kind: "disc", DiameterM: &across, ThicknessM: ptr(boardThickM)}, "board of " + units.Format(across, "length", 3) + " and nothing else"
	case len(m) == 2 && s.has(finned...) && s.has("round", "diameter", "dia", "pin"):
		side := round3(slices.Max(m) * math.Sqrt(math.Pi) / 2)
		b.assume("/bodies/body/shape/widthM", "a square one as large seen from above as this round one")
		return b.finsOf(line, s, []float64{side, side, slices.Min(m)})
	case s.has("tube", "pipe", "round", "host", "torch", "flashlight", "cylinder", "diameter", "dia", "can", "cans", "jar") && (len(m) > 0 || s.has("host", "torch", "flashlight")):
		return b.tubeOf(line, m)
	case len(m) > 2 && s.has(finned...) && slices.Min(m[:3]) >= leastFinsM:
		return b.finsOf(line, s, m)
	case len(m) >= 2 && s.has("channel", "angle", "profile", "stud", "u", "l", "u-channel", "l-profile"):
		return b.sectionOf(s, m)
	case len(m) > 2 && s.has("box", "case", "housing", "enclosure") && slices.Min(m[:3]) >= leastFinsM:
		b.assume("/bodies/body/shape/thicknessM", "a wall as such boxes have")
		return &design.Shape{Kind: "box", LengthM: &m[0], WidthM: &m[1], HeightM: &m[2], ThicknessM: ptr(wallM)}, "box, " + product(m[:3])
	case len(m) >= 2 || len(m) == 1 && s.has("square"):
		return b.plateOf(s, m)
	}
	if mass := s.figure("mass"); mass != nil && *mass > 0 {
		density := heat.MaterialOf(b.materialOf(s)).KgPerM3
		area, why, thing := 6*math.Pow(*mass/density, 2.0/3), "at least that of a cube of it", "lump of "
		if s.has(finned...) {
			area, why, thing = 2**mass/(density*finnedM), "of fins and a base 3 mm thick on average", "sink of "
		}
		area = round2(area)
		b.assume("/bodies/body/shape/areaM2", "%s", why)
		return &design.Shape{Kind: "area", AreaM2: &area}, thing + units.Format(*mass, "mass", 3) + ", " + units.Format(area, "area", 2) + " of surface"
	}
	return nil, ""
}

// finned are what things with fins are called.
var finned = []string{"heatsink", "sink", "finned", "fins", "fin", "radiator"}

func product(m []float64) string {
	var out []string
	for _, x := range m {
		out = append(out, units.Format(x, "length", 3))
	}
	return strings.Join(out, " × ")
}

func (b *builder) coolerOf(s *said) (*design.Shape, string) {
	k, how := s.figure("thermalResistance"), "with its fan"
	still := s.has("without fan", "no fan", "passive", "fanless")
	if still {
		how = "without a fan"
	}
	if k == nil {
		k = ptr(coolerKPerW)
		if still {
			k = ptr(coolerStillKPerW)
		}
		b.assume("/bodies/body/shape/coolerKPerW", "usual for the cooler of a processor %s", how)
	}
	return &design.Shape{Kind: "cooler", CoolerKW: k}, "cooler of " + units.Format(*k, "thermalResistance", 3) + " " + how
}

var (
	perimeterWord = regexp.MustCompile(`(?i)perimeter|girth`)
	roundBefore   = regexp.MustCompile(`(?i)\d\s*[a-z"″]*\s+(?:perimeter|girth)`)
	anyFigure     = regexp.MustCompile(`\d[\d.,]*`)
)

// profileOf is a profile by its perimeter, the figure beside that word, and its length.
func profileOf(line string, m []float64) (*design.Shape, string) {
	at := perimeterWord.FindStringIndex(line)[0]
	i := len(anyFigure.FindAllString(line[:at], -1))
	if roundBefore.MatchString(line) {
		i--
	}
	i = max(0, min(i, 1))
	round, long := m[i], m[1-i]
	return &design.Shape{Kind: "profile", PerimeterM: &round, LengthM: &long}, "profile of " + units.Format(round, "length", 3) + " round, " + units.Format(long, "length", 3) + " long"
}

func (b *builder) discOf(m []float64) (*design.Shape, string) {
	shape := &design.Shape{Kind: "disc", DiameterM: ptr(slices.Max(m)), ThicknessM: ptr(discThickM)}
	if len(m) > 1 {
		shape.ThicknessM = ptr(slices.Min(m))
	} else {
		b.assume("/bodies/body/shape/thicknessM", "as most washers and pills")
	}
	return shape, "disc, " + units.Format(*shape.DiameterM, "length", 3) + " across, " + units.Format(*shape.ThicknessM, "length", 2) + " thick"
}

// sectionOf is an angle or a channel by its sides, folded out: a channel has its second side
// twice. Its thickness is the least measure, if that is one of a wall; its length the greatest.
func (b *builder) sectionOf(s *said, m []float64) (*design.Shape, string) {
	sides := slices.Clone(m)
	take := func(x float64) { sides = slices.Delete(sides, slices.Index(sides, x), slices.Index(sides, x)+1) }
	thick, long := wallM, sectionM
	if least := slices.Min(sides); least <= mostWallM {
		thick = least
		take(least)
	} else {
		b.assume("/bodies/body/shape/thicknessM", "the wall of most profiles")
	}
	if len(sides) > 2 || len(sides) == 2 && slices.Max(sides) > 3*slices.Min(sides) {
		long = slices.Max(sides)
		take(long)
	} else {
		b.assume("/bodies/body/shape/lengthM", "nobody said how long it is")
	}
	wide := sides[0] + sides[len(sides)-1]
	name := "angle"
	if s.has("channel", "stud", "u", "u-channel") {
		wide += sides[len(sides)-1]
		name = "channel"
	}
	return &design.Shape{Kind: "plate", LengthM: &long, WidthM: ptr(exact(wide)), ThicknessM: &thick}, name + " folded of sheet " + product([]float64{exact(wide), thick}) + ", " + units.Format(long, "length", 3) + " long"
}

// plateOf is a plate by its measures, the smallest of three its thickness.
func (b *builder) plateOf(s *said, said []float64) (*design.Shape, string) {
	m := slices.Clone(said[:min(len(said), 3)])
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
	return shape, "plate, " + product(m[:2]) + " × " + units.Format(*shape.ThicknessM, "length", 2)
}

var (
	// acrossSaid tells which of two measures is the diameter, so that a tube may be wider than long.
	acrossSaid  = regexp.MustCompile(`(?i)diameter|\bdia\b|across|[øØ⌀]`)
	lengthFirst = regexp.MustCompile(`(?i)^\D*[\d.,]+\D*(?:long|high|tall|length|height)`)
)

// tubeOf is a tube by its diameter and, where it was said, its length.
func (b *builder) tubeOf(line string, m []float64) (*design.Shape, string) {
	diameter, length := tubeAcrossM, tubeLongM
	wall := 0.0
	if len(m) > 2 {
		// Its wall is the least of three measures; the two others stand in their order.
		k := slices.Index(m[:3], slices.Min(m[:3]))
		wall, m = m[k], slices.Delete(slices.Clone(m[:3]), k, k+1)
	}
	switch len(m) {
	case 0:
		b.assume("/bodies/body/shape/diameterM", "as most hand lights")
		fallthrough
	case 1:
		b.assume("/bodies/body/shape/lengthM", "as long as most hand lights")
	default:
		length = m[1]
	}
	if len(m) > 0 {
		diameter = m[0]
	}
	if len(m) != 2 || !acrossSaid.MatchString(line) {
		diameter, length = min(diameter, length), max(diameter, length)
	} else if lengthFirst.MatchString(line) {
		diameter, length = length, diameter
	}
	if wall = min(wall, diameter/2); wall == 0 {
		wall = min(tubeWallM, diameter/4)
		b.assume("/bodies/body/shape/thicknessM", "the wall of most tubes")
	}
	return &design.Shape{Kind: "tube", DiameterM: &diameter, LengthM: &length, ThicknessM: &wall}, "tube, " + units.Format(diameter, "length", 3) + " across, " + units.Format(length, "length", 3) + " long"
}

// finsSaid is how many fins were counted.
var finsSaid = regexp.MustCompile(`(?i)(\d+)\s+(?:([a-z]+)\s+)?fins\b`)

// finsOf is a finned sink by its three measures, the least its height.
func (b *builder) finsOf(line string, s *said, said []float64) (*design.Shape, string) {
	m := slices.Clone(said[:3])
	slices.SortFunc(m, func(a, b float64) int { return cmp.Compare(b, a) })
	base := min(finsBaseM, m[2]/3)
	shape := &design.Shape{Kind: "fins", LengthM: &m[0], WidthM: &m[1], ThicknessM: &base, FinHeightM: ptr(exact(m[2] - base)), FinThickM: new(finThickM), Fins: max(2, int(m[1]/finPitchM))}
	if n := finsSaid.FindStringSubmatch(line); n != nil && (n[2] == "" || !known(n[2])) && atof(n[1]) >= 2 && atof(n[1])*finThickM < m[1]*0.8 {
		shape.Fins = int(atof(n[1]))
	} else {
		b.assume("/bodies/body/shape/fins", "a fin each %s, as most have: count them", units.Format(finPitchM, "length", 1))
	}
	b.assume("/bodies/body/shape/finThicknessM", "usual for extruded fins")
	b.assume("/bodies/body/shape/thicknessM", "the base of most such sinks")
	what := "sink of " + count(shape.Fins, "fin") + ", " + product(m[:2]) + ", " + units.Format(m[2], "length", 2) + " high"
	if s.has("fan", "fans") {
		flow := round2(fanMPerS * (m[1] - float64(shape.Fins)*finThickM) * *shape.FinHeightM * 3600)
		shape.Fan = &design.Fan{FlowM3H: max(flow, 0.1)}
		b.assume("/bodies/body/shape/fan/flowM3PerH", "about %.0f m/s between the fins; what feeds it is not counted", fanMPerS)
		what += ", with a fan"
	}
	return shape, what
}

// materialOf is a shape of the material that words tell.
func (b *builder) materialOf(s *said) *design.Shape {
	said := &design.Shape{}
	found := false
	for _, m := range bodyMaterials {
		if s.has(m.word) && !found { // the others are heard too: an oak plank is of wood by both
			said.Material, found = m.material, true
		}
	}
	return said
}

// madeOf sets what a shape is made of, how its surface is and how wet it gets, as far as words
// tell.
func (b *builder) madeOf(s *said, shape *design.Shape) {
	shape.Material = b.materialOf(s).Material
	for _, x := range bodySurfaces {
		if s.has(x.word) && shape.Surface == "" {
			shape.Surface = x.surface
		}
	}
	shape.Wet = s.has("wet", "rain", "spray")
	shape.Submerged = s.has("submerged", "under water", "underwater")
}

var (
	// unitlessProduct is a product of measures that no unit follows: housings are measured in mm.
	unitlessProduct = regexp.MustCompile(`(\d+(?:[.,]\d+)?(?:\s*[×xX*]\s*\d+(?:[.,]\d+)?){1,2})(\s*[a-zA-Z]*)`)
	unitlessLong    = regexp.MustCompile(`(?i)(\d)(\s+(?:long|high|tall|wide|deep|thick)\b)`)
	unitlessBy      = regexp.MustCompile(`(?i)(\d)\s+by\s+(\d)`)
)

func inMillimetres(line string) string {
	return unitlessProduct.ReplaceAllStringFunc(unitlessBy.ReplaceAllString(unitlessLong.ReplaceAllString(line, "$1 mm$2"), "$1 × $2"), func(p string) string {
		m := unitlessProduct.FindStringSubmatch(p)
		if unit := strings.TrimSpace(m[2]); unit != "" && known(unit) {
			return p
		}
		return m[1] + " mm" + m[2]
	})
}
