package begin

import (
	"fmt"
	"math"
	"regexp"
	"strings"

	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/units"
)

// parts is a light from parts, or boards over an area: a source, emitters, a driver, a body.
func (b *builder) parts() {
	source := b.facts.Source
	if b.facts.Way == "boards" && source == "" && b.picked("cell") == nil {
		source = "wall socket"
	}
	lit := parse(b.facts.Emitters)
	if p := b.picked("strip"); p != nil && b.facts.Emitters == "" || b.facts.Way == "parts" && (lit.has("strip", "tape") || lit.figure("powerPerLength") != nil) {
		b.strip()
		return
	}
	driver := b.picked("driver")
	if source == "" && (lit.lampVolts() >= mainsFromV || driver != nil && onMains(driver.Driver) || parse(b.facts.Driver).has("mains", "wall", "supply", "psu")) {
		source = "wall socket"
	}
	f := b.feed("pack", "source", source)
	if driver != nil && driver.Driver.Family == "voltage" && b.facts.Emitters == "" && b.facts.Driver == "" && b.picked("emitter") == nil && b.picked("load") == nil {
		b.stripOn(&f, driver)
		return
	}
	if source == "" && b.facts.Way == "boards" {
		b.assume("/feeds/power/sources/pack/mains/voltageV", "boards over an area mostly run from the wall")
	}
	l := b.loads("emitters", b.facts.Emitters)
	var top design.Node
	if l.driven {
		top = b.drive(&f, &l)
		b.joint(&l)
		top.Loads[0] = l.node
	} else {
		if f.free > 1 {
			b.wireModuleCells(&f, &l)
		}
		if f.unsaid {
			b.enough(&f, float64(cellsAt(l.ledV, f.cell))*f.lowV/float64(f.source.Pack.Series))
		}
		if b.facts.Driver != "" || driver != nil {
			b.remark("driver", "The driver is left out: such a load has what it needs in it. Put it before the load on the page if it is meant so.")
		}
		top = l.node
	}
	b.hang(f, top)
	b.body(l.heatW, 0)
	b.area()
	b.hours()
}

// onMains tells a driver that is made for the wall socket.
func onMains(d *design.Driver) bool {
	return d.Family == "window" || d.InputMinV != nil && *d.InputMinV >= 80 || d.PowerFactor != nil || d.Dimming == "phase-cut"
}

// stripOn hangs strip on a supply that was picked alone: what most of them feed.
func (b *builder) stripOn(f *feed, picked *design.Part) {
	part := *picked
	part.ID = "driver"
	b.part(part)
	volts := 12.0
	if v := part.Driver.SetVoltageV; v != nil && *v >= 1 {
		volts = *v
	}
	strip := b.stripPart("", parse(units.Volts(volts)))
	b.part(design.Part{ID: "strip", Name: units.Volts(volts) + " strip", Basis: "guess", Strip: strip})
	metres := 1.0
	if w := part.Driver.MaxOutputW; w != nil {
		metres = max(0.5, math.Floor(*w/supplyMargin / *strip.PerMetreW))
	}
	pieces := []float64{}
	for left := metres; left > 0; left -= 5 {
		pieces = append(pieces, min(left, 5))
	}
	b.assume("/feeds/power/loads/emitters/strip/piecesM", "as much as the supply feeds, in pieces of 5 m at most")
	w := metres * *strip.PerMetreW
	l := load{ledV: volts, ledA: w / volts, toV: volts}
	if f.unsaid {
		b.enough(f, volts+driver.UsualBuckHeadroomV)
	}
	use := &design.DriverUse{PartID: "driver"}
	heat := w*heatShare + b.lost(f, &l, part.Driver, use)
	b.hang(*f, design.Node{ID: "driver", BodyID: "body", Driver: use, Loads: []design.Node{{ID: "emitters", BodyID: "body", Strip: &design.StripUse{PartID: "strip", PiecesM: pieces[:min(len(pieces), 50)]}}}})
	b.body(heat, metres)
}

// wireModuleCells puts cells in series as far as a module bears.
func (b *builder) wireModuleCells(f *feed, l *load) {
	n, p := f.free, f.source.Pack
	high := f.highV / float64(p.Series)
	series := n
	if l.toV > 0 && !f.primary {
		for s := n; s >= 1; s-- {
			if n%s == 0 && float64(s)*high <= l.toV {
				series = s
				break
			}
		}
	}
	p.Series, p.Parallel = series, n/series
	b.span(f)
	b.assume("/feeds/power/sources/"+f.source.ID+"/pack/series", "as many in series as it bears")
	b.understood("source", "%s", b.packWords(f))
}

func (b *builder) hang(f feed, top design.Node) {
	b.v.Feeds = append(b.v.Feeds, design.Feed{ID: "power", Sources: []design.Source{f.source}, Loads: []design.Node{top}})
}

func (b *builder) area() {
	if unitless.MatchString(b.facts.Area) {
		b.remark("area", "%s of what? Give its unit.", strings.TrimSpace(b.facts.Area))
		return
	}
	s := b.read("area", measures(b.facts.Area))
	l := s.all("length")
	if m2 := s.figure("area"); len(l) == 0 && m2 != nil && *m2 > 0 {
		side := round3(math.Sqrt(*m2))
		l = []span{{side, side}}
	}
	if len(l) > 0 {
		if len(l) == 1 && s.count > 1 {
			b.remark("area", "%d of what? Give its unit.", s.count)
		}
		if l = l[:min(len(l), 2)]; len(l) == 1 { // a height is not asked for here
			b.remark("area", "It is taken as a square: say how long and how wide it is, as 1.2 × 0.6 m.")
		}
		b.light.Brief.AreaM = ptr(l[0].mid())
		b.light.Brief.AreaAcrM = ptr(l[len(l)-1].mid())
		b.understood("area", "%s × %s", units.Format(l[0].mid(), "length", 3), units.Format(l[len(l)-1].mid(), "length", 3))
	}
}

// strip is strip by the metre on a supply, the wall dimmer before it if there is one.
func (b *builder) strip() {
	s := b.read("emitters", b.facts.Emitters)
	part := design.Part{ID: "strip", Name: "Strip", Basis: "guess"}
	if p := b.picked("strip"); p != nil && s.empty() {
		part = *p
		part.ID = "strip"
	} else {
		part.Strip = b.stripPart(b.facts.Emitters, s)
		part.Name = fmt.Sprintf("%s strip, %.4g W/m", units.Volts(part.Strip.VoltageV), *part.Strip.PerMetreW)
		b.understood("emitters", "%s, %.4g W/m", units.Volts(part.Strip.VoltageV), *part.Strip.PerMetreW)
	}
	b.part(part)
	strip := part.Strip
	perM := 10.0
	switch {
	case strip.PerMetreW != nil:
		perM = *strip.PerMetreW
	case strip.PerMetreA != nil:
		perM = *strip.PerMetreA * strip.VoltageV
	}
	pieces := b.pieces(s)
	metres := 0.0
	for _, m := range pieces {
		metres += m
	}
	w := perM * metres
	node := design.Node{ID: "emitters", BodyID: "body", Strip: &design.StripUse{PartID: "strip", PiecesM: pieces}}
	heat := w * heatShare
	b.supplyFor(node, strip.VoltageV, w)
	b.body(heat, metres)
	b.hours()
}

// ledsSaid is how many LEDs there are on a metre or a foot of strip.
var ledsSaid = regexp.MustCompile(`(?i)(\d+)\s*LEDs?\s*(?:/|per\s+|an?\s+)\s*(m|f)`)

// What an LED of strip takes with its share of the resistor, W (common practice): a single die,
// and one of three.
const ledW, threeDieW = 0.08, 0.24

func (b *builder) stripPart(line string, s *said) *design.Strip {
	volts := 12.0
	if v := s.figure("voltage"); v != nil {
		volts = *v
	} else {
		b.assume("/parts/strip/strip/voltageV", "most strip is made for 12 V")
	}
	perM := 10.0
	switch w, all := s.figure("powerPerLength"), s.figure("power"); {
	case w != nil:
		perM = *w
	case all != nil && s.figure("length") != nil && *s.figure("length") > 0:
		perM = *all / *s.figure("length")
	case ledsSaid.MatchString(line):
		m := ledsSaid.FindStringSubmatch(line)
		each := ledW
		if strings.Contains(line, "5050") {
			each = threeDieW
		}
		perM = exact(atof(m[1]) * each)
		if strings.HasPrefix(m[2], "f") {
			perM = exact(perM / 0.3048)
		}
		b.assume("/parts/strip/strip/powerWPerM", "%s each, as most strip of such LEDs takes", units.Format(each, "power", 2))
	default:
		b.assume("/parts/strip/strip/powerWPerM", "usual for strip to see by")
	}
	out := &design.Strip{VoltageV: volts, PerMetreW: ptr(perM), CutM: 0.05, LoopOhm: ptr(0.12), FluxLmPer: s.figure("fluxPerLength")}
	if volts > 18 {
		out.CutM = 0.1
	}
	b.assume("/parts/strip/strip/cutM", "usual between two cutting marks of %s strip", units.Volts(volts))
	b.assume("/parts/strip/strip/loopOhmPerM", "usual copper, there and back")
	c := s.colourSaid(line)
	out.Spectrum = b.spectrum("emitters", line, s, c, "/parts/strip/strip/")
	switch ofWatt, seen := efficacy(out.Spectrum); {
	case out.FluxLmPer != nil || !seen:
	case c != nil:
		out.FluxLmPer = ptr(round2(c.share * stripShare * perM * ofWatt))
		b.assume("/parts/strip/strip/fluxLmPerM", "about %.0f %% of what its LEDs take leaves as %s light, as mostly", 100*c.share, c.words[0])
	default:
		out.FluxLmPer = ptr(round2(stripLmPerM * perM))
		b.assume("/parts/strip/strip/fluxLmPerM", "about %d lm a watt", stripLmPerM)
	}
	return out
}

// pieces reads "5 × 1 m" or "1.2 m, 0.8 m"; of nothing it is one metre.
func (b *builder) pieces(label *said) []float64 {
	var out []float64
	each := label.all("length")
	for _, one := range between.Split(roundRoom(b.facts.Pieces), -1) {
		s := b.read("pieces", cut(one))
		if n := min(s.count, mostPieces); n > 0 && len(s.figures["length"]) == 0 && len(each) == 1 {
			for range n { // so many of what the label tells the length of
				out = append(out, each[0].mid())
			}
		}
		out = append(out, piecesOf(s)...)
	}
	if len(out) == 0 {
		out = piecesOf(label)
	}
	if len(out) == 0 {
		b.assume("/feeds/power/loads/emitters/strip/piecesM", "one metre, as nobody said how long")
		return []float64{1}
	}
	total := 0.0
	for _, l := range out {
		total += l
	}
	b.understood("pieces", "%s, %s in all", count(len(out), "piece"), units.Format(total, "length", 3))
	return out[:min(len(out), mostPieces)]
}

// between are the marks between pieces of unlike lengths; a decimal comma has no space behind it.
var between = regexp.MustCompile(`,\s+|;|\+|\n|\s+and\s+`)

const mostPieces = 50

// piecesOf are the lengths of one mention: 3 × 50 cm is three of them.
func piecesOf(s *said) (out []float64) {
	lengths := s.all("length")
	for _, l := range lengths {
		n := 1
		if len(lengths) == 1 {
			n = min(max(s.count, 1), mostPieces)
		}
		for range n {
			out = append(out, l.mid())
		}
	}
	return out
}

// voltsOff is how far a supply may lie from what strip is made for, of it (common practice: most is
// made for what batteries of its volts give, 11 to 14.4 V of 12).
const voltsOff = 0.2

// volts remarks on a source that is not made for the strip.
func (b *builder) volts(strip, low, high float64) {
	if high < strip*(1-voltsOff) || low > strip*(1+voltsOff) {
		is := units.Volts(high)
		if low < high {
			is = units.Volts(low) + " to " + is
		}
		b.remark("source", "The strip is made for %s and gets %s: take one for the other, or a converter between.", units.Volts(strip), is)
	}
}

const supplyMargin = 1.2 // common practice: a supply is chosen a fifth above its strip

// supplyFor hangs a load on what gives its voltage: a pack or adapter as said, else a mains
// supply, behind a wall dimmer where there is one.
func (b *builder) supplyFor(node design.Node, volts, w float64) {
	s := b.read("source", b.facts.Source)
	if volts >= mainsFromV {
		b.hang(b.feed("wall", "source", fmt.Sprintf("wall %g V", volts)), node)
		b.remark("emitters", "Strip for the wall socket is live along its whole length, and where it is cut: seal its ends, and keep it out of reach.")
		return
	}
	f := feed{}
	direct := s.has("cell", "battery", "pack", "adapter", "bench", "usb", "bank", "lantern", "lead", "car", "block", "lipo", "solar", "panel", "alternator", "dynamo", "ac", "vac") ||
		s.has("transformer") && !s.has("led", "leds", "dc") || s.has(vehicles...) || s.size != "" || s.figure("charge") != nil
	s.has("wall", "mains", "socket", "outlet") // what such a supply is on anyway
	if direct && !b.facts.Dimmed || b.picked("cell") != nil && s.empty() {
		f = b.feed("pack", "source", b.facts.Source)
		if f.free > 1 {
			l := load{ledV: volts, toV: 1.25 * volts}
			b.wireModuleCells(&f, &l)
		}
		if f.unsaid {
			b.enough(&f, float64(cellsAt(volts, f.cell))*f.lowV/float64(f.source.Pack.Series))
		}
		b.hang(f, node)
		b.volts(volts, f.lowV, f.highV)
		return
	}
	f = feed{source: design.Source{ID: "wall", Mains: &design.Mains{VoltageV: 230, FrequencyHz: 50}}}
	b.assume("/feeds/power/sources/wall/mains/voltageV", "the mains of most countries")
	leads := s.dimsByVoltage()
	d := &design.Driver{Family: "voltage", SetVoltageV: ptr(volts), Efficiency: ptr(0.87), Isolated: s.isolated()}
	b.assume("/parts/driver/driver/efficiency", "usual for such a supply")
	if v, a := s.figure("voltage"), s.figure("current"); s.figure("power") == nil && v != nil && a != nil && *v < mainsFromV {
		s.figures["power"] = []span{{*v * *a, *v * *a}}
	}
	if rated := s.figure("power"); rated != nil {
		d.MaxOutputW = rated
	} else {
		d.MaxOutputW = ptr(math.Ceil(supplyMargin*w/5) * 5)
		b.assume("/parts/driver/driver/maxOutputW", "a fifth above what the strip takes")
	}
	if v := s.figure("voltage"); v != nil && *v < mainsFromV {
		d.SetVoltageV = v
	}
	b.volts(volts, *d.SetVoltageV, *d.SetVoltageV)
	top := design.Node{ID: "driver", Driver: &design.DriverUse{PartID: "driver"}, Loads: []design.Node{node}}
	words := fmt.Sprintf("a supply of %s for %s on the wall socket", units.Watts(*d.MaxOutputW), units.Volts(*d.SetVoltageV))
	switch {
	case leads && !b.facts.Dimmed:
		d.Dimming = "analog"
	case b.facts.Dimmed || s.has("dimmable", "dimmer"):
		d.Dimming = "phase-cut"
		words = strings.Replace(words, "a supply", "a dimmable supply", 1)
	}
	if b.facts.Dimmed {
		top = design.Node{ID: "dimmer", Dimmer: &design.Dimmer{Level: 1}, Loads: []design.Node{top}}
		words += " behind a wall dimmer"
	}
	b.part(design.Part{ID: "driver", Name: fmt.Sprintf("%s supply, %s", units.Volts(*d.SetVoltageV), units.Watts(*d.MaxOutputW)), Basis: "guess", Driver: d})
	b.hang(f, top)
	b.understood("source", "%s", words)
}
