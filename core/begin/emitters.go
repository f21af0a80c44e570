package begin

import (
	"fmt"
	"math"
	"regexp"
	"strings"

	"photherm/core/design"
	"photherm/core/units"
)

// A load is what lights up, as one driver sees it.
type load struct {
	node   design.Node
	ledV   float64 // of one emitter at the wanted current
	ledA   float64 // wanted in one emitter
	heatW  float64 // of all
	free   int     // emitters whose wiring was not said
	unsaid bool    // whether nobody said how many emitters
	each   int     // so many alike, each on a driver of its own; 0 is one
	driven bool    // whether it wants a driver: a module or strip has what it needs
	// a module's window, where it was said
	fromV, toV float64
}

// volts and amps are what the driver must give one of them.
func (l *load) volts() float64 {
	if a := l.node.Array; a != nil {
		return l.ledV * float64(a.Series)
	}
	return l.ledV
}

func (l *load) amps() float64 {
	if a := l.node.Array; a != nil {
		return l.ledA * float64(a.Parallel*max(a.Count, 1))
	}
	return l.ledA * float64(max(l.node.Count, 1))
}

func (l *load) watts() float64 { return l.volts() * l.amps() * float64(max(l.each, 1)) }

// bigV is from where packages are taken to be driven one by one: two of them in series
// are near the 60 V that are hazardous (IEC 61140).
const bigV = 20

// loads reads what lights up from a label or a seller's words.
func (b *builder) loads(fact, line string) load {
	if first := firstKind(line); first != "" {
		b.remark(fact, "More than one kind: “%s” is taken; add the others on the page.", first)
		line = first
	}
	line = actually.ReplaceAllString(sides.ReplaceAllString(line, " "), "$1 $2")
	s := b.read(fact, line)
	if p := b.picked("load"); p != nil && s.bare() {
		return b.pickedLoad(p)
	}
	if p := b.picked("emitter"); p != nil && s.bare() {
		return b.pickedEmitter(p, s)
	}
	if s.has("module", "constant", "bulb", "lamp") || s.has(fixtures...) || s.lampVolts() > 0 {
		return b.module(fact, s)
	}
	return b.label(fact, line, s)
}

// sides are those of a board or a panel of emitters, and no number of them.
var sides = regexp.MustCompile(`(?i)\b\d{2,4}[x×]\d{2,4}\s*(?:mm|cm)\b`)

// actually are watts that are said to be the true ones, behind those of the name.
var actually = regexp.MustCompile(`(?i)[\d.,]+\s*W(?:atts?)?\b(.*?)\b(?:actual(?:ly)?|truly|really|true|draws|takes)\b\D{0,8}([\d.,]+\s*W)\b`)

var kindsApart = regexp.MustCompile(`(?i)\s*(?:[,;+&\n]|\b(?:and|plus)\b)\s+`)

// firstKind is the first of several kinds of emitters, each with its watts and its number or its
// colour; empty: there are not several.
func firstKind(line string) string {
	first, kinds := "", 0
	for _, part := range kindsApart.Split(line, -1) {
		s := parse(part)
		coloured := s.colourSaid(part) != nil || s.has("white")
		if s.figure("power") == nil && !(kinds > 0 && coloured && s.count > 0) || s.count == 0 && !coloured {
			continue
		}
		if kinds++; kinds == 1 {
			first = strings.TrimSpace(part)
		}
	}
	if kinds < 2 {
		return ""
	}
	return first
}

func (b *builder) pickedLoad(p *design.Part) load {
	part := *p
	part.ID = "lamp"
	b.part(part)
	l := load{node: design.Node{ID: "emitters", BodyID: "body", Load: &design.MeasuredLoad{PartID: "lamp"}}}
	if n := len(part.Load.Points); n > 0 {
		end := part.Load.Points[n-1]
		l.ledV, l.ledA = end.VoltageV, end.CurrentA
		l.fromV, l.toV = part.Load.Points[0].VoltageV, end.VoltageV
	}
	l.heatW = l.ledV * l.ledA
	return l
}

func (b *builder) pickedEmitter(p *design.Part, s *said) load {
	part := *p
	part.ID = "led"
	b.part(part)
	e := part.Emitter
	l := load{driven: true, free: max(s.count, 1), unsaid: s.count == 0}
	l.ledA = e.Forward[len(e.Forward)-1].CurrentA / 2
	if e.RatedCurrentA != nil {
		l.ledA = *e.RatedCurrentA
	}
	l.ledV = e.Forward[0].VoltageV
	for _, point := range e.Forward {
		if point.CurrentA <= l.ledA*(1+1e-9) {
			l.ledV = point.VoltageV
		}
	}
	b.array(&l)
	b.wiringSaid(&l, s)
	return l
}

// lampVolts is what a ready lamp stands at, by its cap or by its volts; 0: it is none by these.
func (s *said) lampVolts() float64 {
	switch v, hasV := s.first("voltage"); {
	case hasV && v.mid() >= mainsFromV:
		return v.mid()
	case s.has("e27", "e14", "e26", "b22", "gu10", "g9"):
		return 230
	case s.has("mr16", "mr11", "g4"):
		return 12
	}
	return 0
}

// fixtures are ready lamps by what they are called: what they hold is driven in them.
var fixtures = []string{"floodlight", "floodlights", "downlight", "downlights", "luminaire", "fixture", "t5", "t8", "t12", "retrofit", "panel", "worklight"}

// module is a load that regulates itself inside a window of voltage.
func (b *builder) module(fact string, s *said) load {
	v, hasV := s.first("voltage")
	why := "a 12 V module, as most are"
	if !hasV {
		v = span{12, 12}
		if volts := s.lampVolts(); volts > 0 {
			v, why = span{volts, volts}, "lamps with such a cap are made for it"
		} else if b.mainsV > 0 {
			v, why = span{b.mainsV, b.mainsV}, "as it hangs on the wall socket"
		}
	}
	w := 1.0
	switch power, current := s.figure("power"), s.figure("current"); {
	case power != nil:
		w = *power
	case current != nil:
		w = *current * v.high
	default:
		b.assume("/parts/lamp/load/points", "a watt, as nobody said how many")
	}
	data := &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: v.low, CurrentA: w / v.low}}, Beyond: "power"}
	if v.low < v.high {
		data.SteadyV, data.MaxV = ptr(v.low), ptr(v.high)
	}
	b.flux(s, data, w, moduleLmPerW)
	b.part(design.Part{ID: "lamp", Name: units.Watts(w) + " module", Basis: "guess", Load: data})
	l := load{node: design.Node{ID: "emitters", BodyID: "body", Load: &design.MeasuredLoad{PartID: "lamp"}}, ledV: v.high, ledA: w / v.high, heatW: w * float64(max(s.count, 1)), fromV: v.low, toV: v.high}
	all := "a module"
	if s.count > 1 {
		l.node.Count, all = s.count, fmt.Sprintf("%d modules, each", s.count)
	}
	if !hasV {
		b.assume("/parts/lamp/load/points", "%s: %s", units.Volts(v.high), why)
	}
	if v.low < v.high {
		b.understood(fact, "%s that takes %s at any voltage from %s to %s", all, units.Watts(w), units.Volts(v.low), units.Volts(v.high))
		b.assume("/parts/lamp/load/points", "constant light means constant power: %s over the whole window, loss included", units.Watts(w))
	} else {
		b.understood(fact, "%s of %s at %s", all, units.Watts(w), units.Volts(v.high))
	}
	return l
}

// flux is a load's light: as said, else typical of its watts.
func (b *builder) flux(s *said, data *design.MeasuredLoad, w, lmPerW float64) {
	switch lm, each := s.figure("luminousFlux"), s.figure("efficacy"); {
	case lm != nil:
		data.FluxLm = lm
	case each != nil:
		data.FluxLm = ptr(*each * w)
	default:
		data.FluxLm = ptr(round2(lmPerW * w))
		b.assume("/parts/lamp/load/fluxLm", "about %g lm/W, as most of its kind", lmPerW)
	}
}

// whiteK is a white of which nobody said more; below warmBelowK it is called warm (chosen).
const (
	whiteK     = 4000
	warmBelowK = 3300
)

// wattsOff is how far a label's watts may lie from its volts and amperes: they are rounded (common
// practice, as with claims).
const wattsOff = 0.2

// manyTimes what a package is usually made for is more than any of its size bears (chosen).
const manyTimes = 20

// many is how many emitters were said.
func (s *said) many() int { return max(s.count, max(s.series, 1)*max(s.parallel, 1)) }

// Dies that one package holds, or emitters that one board does, and no number of packages.
var (
	diesSaid = regexp.MustCompile(`(?i)\b(\d{1,3}|[a-z]+)(?:\s+(?:dies|dice|junctions|chips)\s+(?:in\s+)?series\b|-die\b)`)
	upSaid   = regexp.MustCompile(`(?i)\b(\d|two|three|four|six|seven)[\s-]up\b|\b(dual|triple|quad)\b.*\b(?:star|board|mcpcb|pcb)\b`)
)

// together is how many dies or emitters the label speaks of as one thing: those of a package, and
// those of a board whose volts or watts were said. 0: it speaks of each.
func (s *said) together(line string, whole bool) int {
	if m := diesSaid.FindStringSubmatch(line); m != nil && howMany(m[1]) > 0 {
		s.has("dies", "die", "junctions")
		s.series, s.count = 0, 0
		return howMany(m[1])
	}
	if m := upSaid.FindStringSubmatch(line); m != nil && whole {
		if n := howMany(m[1] + m[2]); n > 0 && n == s.count {
			s.heard["up"] = true
			s.count = 0
			return n
		}
	}
	return 0
}

// label is an emitter by what its label or seller says: volts, amperes or watts, and
// light in one of its ways.
func (b *builder) label(fact, line string, s *said) load {
	at := "/parts/led/emitter/"
	v, hasV := s.first("voltage")
	watts, amps := s.figure("power"), s.figure("current")
	if perM := s.figure("powerPerLength"); perM != nil && watts == nil {
		long := 1.0
		if m := s.figure("length"); m != nil {
			long = *m
		}
		watts = ptr(exact(*perM * long))
		b.remark(fact, "Strip begins better as strip: here it is one thing of %s.", units.Watts(*watts))
	}
	if n := s.many(); watts != nil && n > 1 {
		for _, w := range s.words {
			if a := packages[w]; a > 0 && *watts > manyTimes*a*dieV {
				b.remark(fact, "%s are more than a package %s bears: they are taken as of all %d.", units.Watts(*watts), w, n)
				watts = ptr(*watts / float64(n))
			}
		}
	}
	c := s.colourSaid(line)
	each := dieV
	if c != nil {
		each = c.dieV
	}
	lm := s.figure("luminousFlux")
	if watts == nil && amps == nil && !hasV && lm != nil && *lm > 0 {
		watts = ptr(round2(*lm / packageLmPerW)) // its light alone was said
	}
	dies := diesOf(watts)
	held := s.together(line, hasV || watts != nil)
	if held > 0 {
		dies = held
	}
	switch {
	case hasV && held > 0:
	case hasV:
		dies = max(1, int(v.low/each+0.5))
	case watts != nil && amps != nil && *amps > 0 && *watts / *amps > 0.8*each:
		v = span{*watts / *amps, *watts / *amps}
		dies = max(1, int(v.low/each+0.5))
	default:
		v = span{float64(dies) * each, float64(dies) * each}
	}
	volts := v.mid() // watts on a label are rounded up more than volts are
	current := 0.35
	switch {
	case amps != nil && *amps > 0:
		current = *amps
	case watts != nil && volts > 0:
		current = *watts / volts
	default:
		why := "the small package's usual test current"
		if d := s.figure("length"); d != nil && *d <= lampLedM {
			current, why = lampLedA, "what LEDs with two legs are made for"
		}
		for _, w := range s.words {
			if a := packages[w]; a > 0 {
				current, why = a, "what packages "+w+" are mostly made for"
			}
		}
		if p := b.picked("driver"); p != nil && p.Driver.SetCurrentA != nil && *p.Driver.SetCurrentA > 0 {
			current, why = *p.Driver.SetCurrentA, "what the driver gives"
		}
		b.assume(at+"ratedCurrentA", "%s", why)
	}
	w := volts * current
	if watts != nil && hasV && amps != nil && (*watts > v.high**amps*(1+wattsOff) || *watts < v.low**amps*(1-wattsOff)) {
		b.remark("emitters", "The label does not agree with itself: %s is not %s × %s. Volts and amperes are taken.", units.Watts(*watts), units.Volts(volts), units.Amps(*amps))
	}
	forward := []design.ForwardPoint{{CurrentA: current, VoltageV: volts}}
	if v.low < volts {
		// A range runs from where it begins to shine.
		forward = append([]design.ForwardPoint{{CurrentA: current / 10, VoltageV: v.low}}, forward...)
	}
	e := &design.Emitter{Forward: forward, VfRefTempC: 25, JunctionsSer: dies, RatedCurrentA: ptr(current), FluxRefTempC: 25, FluxCurrentA: ptr(current), RthBasis: "real"}
	e.Spectrum = b.spectrum(fact, line, s, c, at)
	switch {
	case c != nil:
		e.Colour = c.name
	case *e.Spectrum.WhiteK < warmBelowK:
		e.Colour = "warm-white"
	default:
		e.Colour = "white"
	}
	switch {
	case hasV || watts != nil && amps != nil:
		b.assume(at+"junctionsInSeries", "%s is %s in series: about %g V each", units.Volts(volts), count(dies, "die"), each)
	case dies > 1:
		b.assume(at+"forward", "packages of so many watts mostly hold %d dies in series, of about %g V each", dies, each)
	default:
		b.assume(at+"forward", "an emitter of one die, of about %g V", each)
	}
	// What the label says stays, beside what will be measured.
	claim := design.Claim{CurrentA: amps, PowerW: watts, FluxLm: lm}
	if hasV {
		claim.VoltageV = ptr(volts)
	}
	if claim != (design.Claim{}) {
		e.Claimed = &claim
	}
	b.lightSaid(s, c, e, at, w)
	e.RthKPerW = ptr(round2(ownK / (w * heatShare)))
	b.assume(at+"rThKPerW", "%d K from junction to case at its rating, as usual", ownK)
	e.MaxJunctionC = ptr(120.0)
	b.assume(at+"maxJunctionC", "what such packages are mostly allowed")
	name := strings.TrimSpace(fmt.Sprintf("%s package, %s", units.Watts(w), units.Volts(volts)))
	b.part(design.Part{ID: "led", Name: name, Basis: "guess", Emitter: e})
	words := []string{units.Volts(volts), units.Amps(current), units.Watts(w), count(dies, "die") + " in series"}
	if n := s.many(); n > 1 {
		words = append([]string{fmt.Sprintf("%d of them", n)}, words...)
	}
	if c != nil {
		words = append(words, c.words[0])
	}
	if !s.empty() {
		b.understood(fact, "%s", strings.Join(words, " · "))
	}
	l := load{driven: true, ledV: volts, ledA: current, free: max(s.count, 1)}
	if volts >= bigV && s.count > 1 {
		l.free, l.each = 1, s.count
	}
	b.array(&l)
	b.wiringSaid(&l, s)
	return l
}

// diesOf is how many dies in series a package mostly holds, by its watts (common practice: one of
// up to some 5 W, three of 10 W, twelve of more).
func diesOf(watts *float64) int {
	switch {
	case watts == nil || *watts < 7:
		return 1
	case *watts < 15:
		return 3
	}
	return 12
}

// wiringSaid wires emitters as was said.
func (b *builder) wiringSaid(l *load, s *said) {
	a := l.node.Array
	switch {
	case s.series > 0:
		a.Series, a.Parallel, l.free, l.each, l.unsaid = s.series, max(s.parallel, 1), 0, 0, false
		if s.parallel <= 0 && s.count > s.series && s.count%s.series == 0 {
			a.Parallel = s.count / s.series
		}
	case s.parallel > 0:
		a.Series, a.Parallel, l.free, l.each, l.unsaid = 1, s.parallel, 0, 0, false
		if s.count > s.parallel && s.count%s.parallel == 0 {
			a.Series = s.count / s.parallel
		}
	case s.series < 0:
		a.Series, l.free, l.each = max(s.count, 1), 0, 0
	case s.parallel < 0:
		a.Series, a.Parallel, l.free, l.each = 1, max(s.count, 1), 0, 0
	}
}

// lightSaid is the light of a package at its rating.
func (b *builder) lightSaid(s *said, c *colour, e *design.Emitter, at string, w float64) {
	lm, each, share := s.figure("luminousFlux"), s.figure("efficacy"), s.figure("fraction")
	ofWatt, seen := efficacy(e.Spectrum)
	switch {
	case lm != nil:
		e.FluxLm = lm
	case each != nil:
		e.FluxLm = ptr(*each * w)
	case !seen: // nothing of it is light
	case share != nil && *share > 0 && *share < 1:
		// An efficiency is of radiated watts: light is that times what the spectrum gives a watt.
		e.FluxLm = ptr(*share * w * ofWatt)
	case c != nil:
		e.FluxLm = ptr(round2(c.share * w * ofWatt))
		b.assume(at+"fluxLm", "about %.0f %% of the watts leave as %s light, as mostly", 100*c.share, c.words[0])
	default:
		e.FluxLm = ptr(round2(packageLmPerW * w))
		b.assume(at+"fluxLm", "about %d lm/W, as packages without a data sheet", packageLmPerW)
	}
}

// array mounts emitters on the body.
func (b *builder) array(l *load) {
	l.node = design.Node{ID: "emitters", BodyID: "body", Array: &design.Array{PartID: "led", Series: l.free, Parallel: 1}}
}

// joint is the paste under an array, for its watts.
func (b *builder) joint(l *load) {
	a := l.node.Array
	if a == nil {
		return
	}
	heat := l.volts() * l.amps() * heatShare
	l.heatW += l.watts() * heatShare
	if heat <= 0 || math.IsNaN(heat) {
		return
	}
	a.Joint = &design.Joint{KPerW: ptr(round2(jointK / heat * float64(max(a.Count, 1))))}
	b.assume("/feeds/power/loads/emitters/array/joint/kPerW", "a smear of paste under it: about %d K at these watts", jointK)
	each, what := boardM*boardM*math.Pi/4, "a round board of 20 mm under each"
	switch w := l.volts() * l.amps() / float64(max(a.Series*a.Parallel, 1)); {
	case w < leggedW:
		each, what = leggedM2, "a finger nail of copper under each"
	case w > starW:
		each, what = packageM2, "packages of so many watts are about 40 mm square"
	}
	a.Joint.AreaM2 = ptr(round2(each * float64(max(a.Series*a.Parallel, 1))))
	b.assume("/feeds/power/loads/emitters/array/joint/areaM2", "%s", what)
}

// What emitters stand on, by the watts of one (common practice): up to some ten on a round board each.
const (
	leggedW, leggedM2 = 0.3, 5e-5
	starW, packageM2  = 10.0, 16e-4
)

func count(n int, of string) string {
	if n == 1 {
		return "1 " + of
	}
	return fmt.Sprintf("%d %ss", n, of)
}
