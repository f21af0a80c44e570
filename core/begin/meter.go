package begin

import (
	"fmt"
	"regexp"
	"strings"

	"photherm/core/design"
	"photherm/core/reading"
	"photherm/core/units"
)

// lettered are readings that name what was read before the figure, V=12.0 I=0.5, their unit behind
// it or not.
var (
	lettered   = regexp.MustCompile(`(?i)\b([VUI])\s*=\s*([\d.,]*\d)`)
	unitBehind = regexp.MustCompile(`(?i)^[ \t]*m?[VA]\b[ \t]*=?`)
)

// unloaded are volts that were read with nothing on.
var unloaded = regexp.MustCompile(`(?i)\b(?:no[\s-]load|unloaded|open(?:\s+circuit)?|at\s+rest|rested|idle)\b[\s:=]*[\d.,]*\d\s*m?V\b`)

// paired are the readings of a line that have both, where not all do: those beside each other
// between two marks.
func paired(line string) (volts, amps []span) {
	for _, one := range readingsApart.Split(line, -1) {
		if s := parse(one); len(s.figures["voltage"]) == 1 && len(s.figures["current"]) == 1 {
			volts, amps = append(volts, s.figures["voltage"][0]), append(amps, s.figures["current"][0])
		}
	}
	return volts, amps
}

// readingsApart are the marks between readings; a decimal comma has no space behind it.
var readingsApart = regexp.MustCompile(`,\s+|[;·\n]`)

// Readings may be numbered, and have a dash between their volts and amperes.
var (
	numbered = regexp.MustCompile(`(?m)^\s*\d{1,2}\s*[:)](?:\s|$)`)
	dashed   = regexp.MustCompile(`(?i)(\dm?\s*V)\s*[-–]\s*(\d[\d.,]*\s*m?A\b)`)
)

// unlettered puts behind each figure the unit that the letter before it means.
func unlettered(line string) string {
	var out strings.Builder
	from := 0
	for _, m := range lettered.FindAllStringSubmatchIndex(line, -1) {
		out.WriteString(line[from:m[0]] + line[m[4]:m[5]])
		from = m[1]
		if own := unitBehind.FindString(line[from:]); own == "" || strings.HasSuffix(own, "=") {
			out.WriteString(map[string]string{"V": " V ", "U": " V ", "I": " A "}[strings.ToUpper(line[m[2]:m[3]])])
		}
	}
	return out.String() + line[from:]
}

// fallsFrom is the share by which a current falls with rising voltage for it to be told (chosen).
const fallsFrom = 0.05

// meter is a lamp known by readings alone, on what feeds it now and, beside it, before.
func (b *builder) meter() {
	points := b.readings()
	data := &design.MeasuredLoad{Points: points}
	lamp := design.Part{ID: "lamp", Name: "Lamp as measured", Basis: "measured", Load: data}
	w := 1.0
	if len(points) == 0 {
		data.Points = []design.LoadPoint{{VoltageV: 4.5, CurrentA: 0.2}}
		lamp.Basis = "guess"
		b.assume("/parts/lamp/load/points", "nothing was read yet")
	}
	end := data.Points[len(data.Points)-1]
	w = end.VoltageV * end.CurrentA
	data.FluxLm = ptr(round2(moduleLmPerW * w))
	b.assume("/parts/lamp/load/fluxLm", "about %d lm/W, as most of its kind", moduleLmPerW)
	for i := range data.Points {
		p := &data.Points[i]
		// Light by the watts it takes: nothing else is known of it.
		p.RelativeLight = ptr(p.VoltageV * p.CurrentA / w)
	}
	b.part(lamp)
	node := design.Node{ID: "emitters", BodyID: "body", Load: &design.MeasuredLoad{PartID: "lamp"}}
	f := b.feed("pack", "source", b.facts.Source)
	if f.free > 1 {
		l := load{toV: end.VoltageV * 1.1}
		b.wireModuleCells(&f, &l)
	}
	if f.unsaid {
		// As many as stand where it was read, in the middle.
		f.source.Pack.Series = min(cellsAt((data.Points[0].VoltageV+end.VoltageV)/2, f.cell), mostCellsTaken)
		b.span(&f)
		b.understood("source", "%s", b.packWords(&f))
	}
	b.hang(f, node)
	b.body(w, 0)
	if b.facts.Was != "" {
		b.before(design.Variant{ID: "before", Name: "As it was"}, "was", b.facts.Was, node, w)
	}
}

// before adds what is replaced as another variant: the same lamp, or the old one, on what fed it.
func (b *builder) before(v design.Variant, fact, line string, node design.Node, heatW float64) {
	b.light.Variants = append(b.light.Variants, v)
	b.v = &b.light.Variants[len(b.light.Variants)-1]
	f := b.feed("old", fact, line)
	b.hang(f, node)
	said := b.facts.Body
	b.facts.Body = ""
	b.body(heatW, 0)
	b.facts.Body = said
	// What is assumed of the load is so here too.
	for _, a := range b.light.Variants[0].Assumed {
		if strings.HasPrefix(a.At, "/parts/lamp/") || strings.HasPrefix(a.At, "/conditions/") {
			b.v.Assumed = append(b.v.Assumed, a)
		}
	}
	b.v = &b.light.Variants[0]
}

// readings reads pairs of volts and amperes in the order they were taken.
func (b *builder) readings() []design.LoadPoint {
	line := dashed.ReplaceAllString(numbered.ReplaceAllString(unlettered(b.facts.Readings), " "), "$1 $2")
	if unloaded.MatchString(line) {
		line = unloaded.ReplaceAllString(line, " ")
		b.remark("readings", "What stands without a load is no reading of the lamp, and is left out.")
	}
	s := b.read("readings", line)
	if s.count > 0 {
		b.remark("readings", "%d of what? Give its unit.", s.count)
	}
	volts, amps := s.all("voltage"), s.all("current")
	if watts := s.all("power"); len(amps) == 0 && len(watts) == len(volts) {
		for i := range watts {
			if v := volts[i].mid(); v > 0 {
				amps = append(amps, span{watts[i].mid() / v, watts[i].mid() / v})
			}
		}
	}
	if len(volts) != len(amps) {
		b.remark("readings", "%s and %s do not make pairs: each reading needs both.", count(len(volts), "voltage"), count(len(amps), "current"))
		volts, amps = paired(line)
	}
	var list []reading.Draw
	for i := range min(len(volts), len(amps)) {
		if volts[i].mid() > 0 {
			list = append(list, reading.Draw{V: volts[i].mid(), A: amps[i].mid()})
		}
	}
	for _, c := range reading.Contradictions(list) {
		b.remark("readings", "%s", c.Why)
	}
	out, _ := reading.LoadOf(list)
	for i := 1; i < len(out); i++ {
		if p, q := out[i-1], out[i]; q.CurrentA < p.CurrentA*(1-fallsFrom) {
			b.remark("readings", "%s at %s, but %s at %s: it may regulate its light, or one of the two is wrong.", units.Amps(p.CurrentA), units.Volts(p.VoltageV), units.Amps(q.CurrentA), units.Volts(q.VoltageV))
		}
	}
	if len(out) > 0 {
		words := make([]string, len(out))
		for i, p := range out {
			words[i] = fmt.Sprintf("%s %s", units.Volts(p.VoltageV), units.Amps(p.CurrentA))
		}
		b.understood("readings", "%s", strings.Join(words, " · "))
	}
	return out
}
