package band

import (
	"cmp"
	"fmt"
	"math"
	"math/rand/v2"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/source"
)

// A Tolerance is how far one figure may be off what it says. All parts of one kind share a
// draw: they come out of one lot.
type Tolerance struct {
	Label   string
	At      string // JSON Pointer of its figure
	Pointer string // through ids, as a variation has it
	Op      chain.Op
	Spread  float64 // ±: of 1 for what is scaled, else in its unit
	Uniform bool    // a bin; else two standard deviations of a normal one that is cut there
	Assumed bool
	scale   bool
	beside  bool    // it stands beside the document
	most    float64 // a share that is scaled stays below; 0: no limit
	now     float64
}

// draw is a figure's place within its tolerance.
func (t *Tolerance) draw(random *rand.Rand) float64 {
	if t.Uniform {
		return t.Spread * (2*random.Float64() - 1)
	}
	for {
		if z := random.NormFloat64() / 2; math.Abs(z) <= 1 {
			return t.Spread * z
		}
	}
}

// Change is the variation that takes a figure so far off: by up to Spread, and beyond where
// readings say so.
func (t *Tolerance) Change(by float64) chain.Variation {
	if !t.scale {
		return chain.Variation{Pointer: t.Pointer, Op: t.Op, Value: t.now + by}
	}
	value := t.now * (1 + by)
	if t.most > 0 {
		value = min(value, t.most)
	}
	return chain.Variation{Pointer: t.Pointer, Op: chain.Set, Value: value}
}

// What figures may be off by where the data do not say (common practice), as a share unless it
// is said: of a data sheet, of a reading, of a guess.
var (
	capacityOff   = byBasis{0.05, 0.02, 0.2}
	resistanceOff = byBasis{0.2, 0.1, 0.4}
	fluxOff       = byBasis{0.07, 0.03, 0.2}
	forwardOff    = byBasis{0.03, 0.01, 0.06} // of the voltage at the rating
	currentOff    = byBasis{0.05, 0.02, 0.15}
	efficiencyOff = byBasis{0.03, 0.01, 0.08}
	stripOff      = byBasis{0.1, 0.03, 0.2}
	drawOff       = byBasis{0.1, 0.03, 0.3}
)

const (
	openCircuitV = 0.02 // V
	jointOff     = 0.3
	sinkOff      = 0.15
	contactOff   = 0.4
	heatOff      = 0.1

	emissivityOff     = 0.05 // of a surface as such surfaces are
	mostEmissivityOff = 0.6  // of itself: what is polished still emits
	assumedTimes      = 2    // an assumed figure is a guess about a guess: twice, and a fifth at least (chosen)
	assumedLeast      = 0.2
)

type byBasis struct{ datasheet, measured, guess float64 }

func (b byBasis) of(p *design.Part) float64 {
	switch p.Basis {
	case "measured":
		return b.measured
	case "guess":
		return b.guess
	}
	return b.datasheet
}

// Tolerances lists those of a light that matter to its answers.
func Tolerances(m *chain.Model) []Tolerance {
	l := &lister{light: m.Light(), v: m.Variant(), at: m.At(), variant: m.Options().Variant, assumed: map[string]bool{}}
	for _, a := range l.v.Assumed {
		if at, ok := design.Resolve(l.light, l.variant, a.At); ok {
			l.assumed[at] = true
		}
	}
	needs := design.Needs(l.v)
	for i := range l.light.Parts {
		if p := &l.light.Parts[i]; needs[p.ID] > 0 {
			l.part(p, fmt.Sprintf("/parts/%d", i))
		}
	}
	for i := range l.v.Bodies {
		l.body(&l.v.Bodies[i], fmt.Sprintf("%s/bodies/%d", l.at, i))
	}
	for i := range l.v.Feeds {
		f := &l.v.Feeds[i]
		at, ids := fmt.Sprintf("%s/feeds/%d", l.at, i), "/variants/"+l.v.ID+"/feeds/"+f.ID
		if len(f.Sources) > 0 {
			l.source(&f.Sources[0], at+"/sources/0", ids+"/sources/"+f.Sources[0].ID)
		}
		l.nodes(f.Loads, at, ids)
	}
	l.corrected(m)
	return l.out
}

// corrected takes for what readings correct what they leave open, about what they say.
func (l *lister) corrected(m *chain.Model) {
	for _, c := range m.Corrected() {
		at := design.AtOnce(chain.FullPointer(l.v, c.At))
		for i := range l.out {
			t := &l.out[i]
			if design.AtOnce(t.Pointer) != at || c.Value == 0 && t.scale {
				continue
			}
			if t.Uniform, t.Spread = false, c.Within; t.scale {
				t.Spread = c.Within / math.Abs(c.Value)
			}
			if t.now == 0 || t.beside { // what stands in the document has it already
				t.now = c.Value
			}
		}
	}
}

type lister struct {
	light   *design.Light
	v       *design.Variant
	at      string
	variant int
	assumed map[string]bool
	out     []Tolerance
}

// scaled adds a figure that is off by a share of itself.
func (l *lister) scaled(label, at, pointer string, now *float64, share, most float64) {
	if now == nil || *now == 0 || share <= 0 {
		return
	}
	t := Tolerance{Label: label, At: at, Pointer: pointer, Spread: share, scale: true, most: most, now: *now, Assumed: l.assumed[at]}
	if t.Assumed {
		t.Spread = min(max(assumedTimes*share, assumedLeast), 0.9)
	}
	l.out = append(l.out, t)
}

// added adds what stands beside the document, or is neutral at a value, and is off by so much.
func (l *lister) added(label, at, pointer string, op chain.Op, spread float64, uniform bool) {
	if spread > 0 {
		l.out = append(l.out, Tolerance{Label: label, At: at, Pointer: pointer, Op: op, Spread: spread, Uniform: uniform, Assumed: l.assumed[at]})
	}
}

func (l *lister) part(p *design.Part, at string) {
	ids := "/parts/" + p.ID
	switch {
	case p.Cell != nil:
		l.scaled("capacity of "+p.Name, at+"/cell/capacityAh", ids+"/cell/capacityAh", &p.Cell.CapacityAh, capacityOff.of(p), 0)
		l.scaled("resistance of "+p.Name, at+"/cell/resistanceOhm", ids+"/cell/resistanceOhm", &p.Cell.ResistanceOhm, resistanceOff.of(p), 0)
		l.added("voltage of resting "+p.Name, at+"/cell/chemistry", ids+"/cell/openCircuitOffsetV", chain.Set, openCircuitV, false)
	case p.Emitter != nil:
		l.emitter(p, at, ids)
	case p.Driver != nil:
		l.scaled("efficiency of "+p.Name, at+"/driver/efficiency", ids+"/driver/efficiency", p.Driver.Efficiency, efficiencyOff.of(p), 0.995)
	case p.Strip != nil:
		l.scaled("watts of "+p.Name, at+"/strip/powerWPerM", ids+"/strip/powerWPerM", p.Strip.PerMetreW, stripOff.of(p), 0)
		l.scaled("amperes of "+p.Name, at+"/strip/currentAPerM", ids+"/strip/currentAPerM", p.Strip.PerMetreA, stripOff.of(p), 0)
		l.scaled("light of "+p.Name, at+"/strip/fluxLmPerM", ids+"/strip/fluxLmPerM", p.Strip.FluxLmPer, fluxOff.of(p), 0)
	}
}

func (l *lister) emitter(p *design.Part, at, ids string) {
	e := p.Emitter
	if bin := e.VfBinV; bin != nil {
		l.added("forward voltage of "+p.Name, at+"/emitter/vfBinV", ids+"/emitter/vfOffsetV", chain.Set, *bin, true)
	} else if n := len(e.Forward); n > 0 {
		l.added("forward voltage of "+p.Name, at+"/emitter/forward", ids+"/emitter/vfOffsetV", chain.Set, forwardOff.of(p)*e.Forward[n-1].VoltageV, false)
	}
	light := Tolerance{Label: "light of " + p.Name, At: at + "/emitter/fluxLm", Pointer: ids + "/emitter/fluxScale", Spread: fluxOff.of(p), scale: true, beside: true, now: 1, Assumed: l.assumed[at+"/emitter/fluxLm"]}
	if e.FluxBin != nil {
		light.Spread, light.Uniform = *e.FluxBin, true
	}
	if e.FluxLm != nil && light.Spread > 0 {
		l.out = append(l.out, light)
	}
	l.scaled("thermal resistance of "+p.Name, at+"/emitter/rThKPerW", ids+"/emitter/rThKPerW", e.RthKPerW, resistanceOff.of(p), 0)
}

func (l *lister) body(b *design.Body, at string) {
	ids := "/variants/" + l.v.ID + "/bodies/" + b.ID
	switch {
	case b.KPerW != nil:
		l.scaled("heat capacity of "+b.Name, at+"/heatCapacityJPerK", ids+"/heatCapacityJPerK", b.HeatJPerK, heatOff, 0)
		l.scaled("K/W of "+b.Name, at+"/kPerW", ids+"/kPerW", b.KPerW, sinkOff, 0)
	case b.Shape != nil:
		one := 1.0
		if b.Shape.FilmShare != nil {
			one = *b.Shape.FilmShare
		}
		l.scaled("cooling of "+b.Name, at+"/shape", ids+"/shape/measuredFilm", &one, heat.OffShare(b.Shape), 0)
		if shape := l.light.ShapeOf(b); b.Shape.Kind != "cooler" {
			e := heat.EmissivityOf(shape)
			l.scaled("emissivity of "+b.Name, at+"/shape/surface", ids+"/shape/emissivity", &e, min(emissivityOff/e, mostEmissivityOff), 1)
		}
	}
}

func (l *lister) source(s *design.Source, at, ids string) {
	switch {
	case s.Pack != nil:
		l.scaled("springs and wires of "+s.Called(), at+"/pack/contactOhm", ids+"/pack/contactOhm", &s.Pack.ContactOhm, contactOff, 0)
		for i := range s.Pack.Groups {
			for k := range s.Pack.Groups[i].Cells {
				c, at, ids := &s.Pack.Groups[i].Cells[k], fmt.Sprintf("%s/pack/groups/%d/cells/%d", at, i, k), fmt.Sprintf("%s/pack/groups/%d/cells/%d", ids, i, k)
				name := cmp.Or(c.Label, fmt.Sprintf("cell %d of group %d", k+1, i+1))
				l.scaled("capacity of "+name, at+"/capacityAh", ids+"/capacityAh", c.CapacityAh, capacityOff.measured, 0)
				l.scaled("resistance of "+name, at+"/resistanceOhm", ids+"/resistanceOhm", c.ResistanceOhm, resistanceOff.measured, 0)
			}
		}
	case s.Supply != nil:
		l.scaled("voltage of "+s.Called(), at+"/supply/voltageV", ids+"/supply/voltageV", &s.Supply.VoltageV, source.Spread(s), 0)
	}
}

func (l *lister) nodes(nodes []design.Node, at, ids string) {
	for i := range nodes {
		n := &nodes[i]
		here, through := fmt.Sprintf("%s/loads/%d", at, i), ids+"/loads/"+n.ID
		switch {
		case n.Driver != nil:
			l.driver(n, here, through)
		case n.Array != nil && n.Array.Joint != nil && n.Array.Joint.KPerW != nil:
			l.scaled("joint under "+n.Called(), here+"/array/joint/kPerW", through+"/array/joint/kPerW", n.Array.Joint.KPerW, jointOff, 0)
		case n.Array != nil && n.Array.Joint != nil:
			l.scaled("joint under "+n.Called(), here+"/array/joint/thicknessM", through+"/array/joint/thicknessM", n.Array.Joint.ThicknessM, jointOff, 0)
		case n.Load != nil:
			l.out = append(l.out, Tolerance{Label: "draw of " + n.Called(), At: here + "/load", Pointer: through + "/scale", Spread: drawOff.datasheet, scale: true, beside: true, now: 1})
		case n.Aux != nil:
			l.scaled("draw of "+n.Called(), here+"/auxiliary/currentA", through+"/auxiliary/currentA", &n.Aux.CurrentA, drawOff.datasheet, 0)
		}
		l.nodes(n.Loads, here, through)
	}
}

// driver is off in what it is set to: its current, its reference, its voltage.
func (l *lister) driver(n *design.Node, at, ids string) {
	p := l.light.Part(n.Driver.PartID)
	if p == nil || p.Driver == nil {
		return
	}
	share := currentOff.of(p)
	if p.Driver.Tolerance != nil {
		share = *p.Driver.Tolerance
	}
	part, partAt := "/parts/"+p.ID, ""
	for i := range l.light.Parts {
		if l.light.Parts[i].ID == p.ID {
			partAt = fmt.Sprintf("/parts/%d", i)
		}
	}
	label := "what " + n.Called() + " is set to"
	switch {
	case n.Driver.ProgramOhm != nil && p.Driver.ProgramV != nil:
		l.scaled(label, at+"/driver/programOhm", ids+"/driver/programOhm", n.Driver.ProgramOhm, share, 0)
	case n.Driver.SetCurrentA != nil:
		l.scaled(label, at+"/driver/setCurrentA", ids+"/driver/setCurrentA", n.Driver.SetCurrentA, share, 0)
	case p.Driver.SetCurrentA != nil && !l.listed(part+"/driver/setCurrentA"):
		l.scaled(label, partAt+"/driver/setCurrentA", part+"/driver/setCurrentA", p.Driver.SetCurrentA, share, 0)
	}
	if p.Driver.Family == "resistor" {
		if n.Driver.ResistanceOhm != nil {
			l.scaled("resistor of "+n.Called(), at+"/driver/resistanceOhm", ids+"/driver/resistanceOhm", n.Driver.ResistanceOhm, share, 0)
		} else if !l.listed(part + "/driver/resistanceOhm") {
			l.scaled("resistor of "+n.Called(), partAt+"/driver/resistanceOhm", part+"/driver/resistanceOhm", p.Driver.ResistanceOhm, share, 0)
		}
	}
}

func (l *lister) listed(pointer string) bool {
	for i := range l.out {
		if l.out[i].Pointer == pointer {
			return true
		}
	}
	return false
}
