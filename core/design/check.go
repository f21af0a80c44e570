package design

import (
	"fmt"
	"strconv"
)

// MaxNodes bounds the nodes of one variant, so that no document makes the solver
// work without end.
const MaxNodes = 500

const maxTreeDepth = 16

// MaxSegments bounds the segments of one strip, which are followed one by one.
const MaxSegments = 5000

// Check reports what the types alone cannot hold: ids that are not unique,
// references to nothing, nodes of no kind or two, curves that contradict
// themselves. It returns nil or a Problems.
func Check(light *Light) error {
	c := &checker{}
	parts := map[string]*Part{}
	for i := range light.Parts {
		p, at := &light.Parts[i], "/parts/"+strconv.Itoa(i)
		if parts[p.ID] != nil {
			c.add(at+"/id", "%q is the id of another part too", p.ID)
		}
		parts[p.ID] = p
		c.part(p, at)
	}
	variants := map[string]bool{}
	for i := range light.Variants {
		v, at := &light.Variants[i], "/variants/"+strconv.Itoa(i)
		if variants[v.ID] {
			c.add(at+"/id", "%q is the id of another variant too", v.ID)
		}
		variants[v.ID] = true
		w := variantCheck{checker: c, chips: map[string]string{}, parts: parts, bodies: map[string]bool{}, ids: map[string]bool{}}
		w.variant(v, at)
	}
	if len(c.problems) > 0 {
		return c.problems
	}
	return nil
}

func (c *checker) part(p *Part, at string) {
	kinds := 0
	for _, set := range []bool{p.Emitter != nil, p.Driver != nil, p.Cell != nil, p.Strip != nil, p.Load != nil, p.Profile != nil, p.Protect != nil, p.Charger != nil} {
		if set {
			kinds++
		}
	}
	if kinds != 1 {
		c.add(at, "must hold the data of exactly one of emitter, driver, cell, strip, load, profile, protection, charger")
	}
	if e := p.Emitter; e != nil {
		for k := range e.Forward {
			if r := e.Forward[k]; r.JunctionC != nil && r.CaseC != nil {
				c.add(fmt.Sprintf("%s/emitter/forward/%d/caseC", at, k), "a reading is taken at a junction temperature or at one of the case, not at both")
			}
		}
		for k := 1; k < len(e.Forward); k++ {
			a, b := e.Forward[k-1], e.Forward[k]
			here := fmt.Sprintf("%s/emitter/forward/%d", at, k)
			if b.CurrentA <= a.CurrentA {
				c.add(here, "current must rise from point to point: %v A comes after %v A", b.CurrentA, a.CurrentA)
			} else if b.VoltageV <= a.VoltageV && a.JunctionC == nil && a.CaseC == nil && b.JunctionC == nil && b.CaseC == nil {
				c.add(here, "forward voltage must rise with current: %v V at %v A is not above %v V at %v A; one of the two is wrong", b.VoltageV, b.CurrentA, a.VoltageV, a.CurrentA)
			}
		}
		c.rising(e.FluxCurrent, at+"/emitter/fluxAgainstCurrent")
		c.rising(e.FluxTemp, at+"/emitter/fluxAgainstTemp")
		if e.Spectrum != nil {
			c.spectrum(e.Spectrum, at+"/emitter/spectrum")
		}
	}
	if s := p.Strip; s != nil && s.Spectrum != nil {
		c.spectrum(s.Spectrum, at+"/strip/spectrum")
	}
	if s := p.Strip; s != nil && s.KneeV != nil && *s.KneeV >= s.VoltageV {
		c.add(at+"/strip/kneeV", "a strip that begins to light at %v V cannot be rated %v V", *s.KneeV, s.VoltageV)
	}
	if l := p.Load; l != nil {
		if l.PartID != "" {
			c.add(at+"/load/partId", "a part cannot be another part")
		}
		c.readings(l.Points, at+"/load/points")
	}
	if d := p.Driver; d != nil {
		for _, pair := range []struct {
			field, what, unit string
			low, high         *float64
		}{
			{"inputMinV", "input", "V", d.InputMinV, d.InputMaxV}, {"minVoltageV", "output voltage", "V", d.MinVoltageV, d.MaxVoltageV},
			{"minCurrentA", "current", "A", d.MinCurrentA, d.MaxCurrentA}, {"analogOnV", "control voltage", "V", d.AnalogOnV, d.AnalogFullV},
		} {
			if pair.low != nil && pair.high != nil && *pair.low > *pair.high {
				c.add(at+"/driver/"+pair.field, "the lowest %s %v %s lies above the highest, %v %s", pair.what, *pair.low, pair.unit, *pair.high, pair.unit)
			}
		}
		c.efficiency(d, at+"/driver")
		for k := 1; k < len(d.Limits); k++ {
			if d.Limits[k].VoltageV <= d.Limits[k-1].VoltageV {
				c.add(fmt.Sprintf("%s/driver/limitPoints/%d", at, k), "voltage must rise from point to point: %v V comes after %v V", d.Limits[k].VoltageV, d.Limits[k-1].VoltageV)
			}
		}
		for k, a := range d.JumperA {
			if a < 0 || a > 200 {
				c.add(fmt.Sprintf("%s/driver/jumperCurrentsA/%d", at, k), "a current lies between 0 and 200 A, not at %v A", a)
			}
		}
	}
	if cell := p.Cell; cell != nil {
		for k := 1; k < len(cell.OCV); k++ {
			if cell.OCV[k].Charge <= cell.OCV[k-1].Charge || cell.OCV[k].VoltageV < cell.OCV[k-1].VoltageV {
				c.add(fmt.Sprintf("%s/cell/openCircuit/%d", at, k), "charge and voltage must rise from point to point")
			}
		}
		if len(cell.OCV) == 1 {
			c.add(at+"/cell/openCircuit", "needs at least two points")
		}
		c.cell(cell, at+"/cell")
	}
	if p.Protect != nil {
		c.protection(p.Protect, at+"/protection")
	}
}

func (c *checker) spectrum(s *Spectrum, at string) {
	kinds := 0
	for _, set := range []bool{s.PeakNm != nil, s.WhiteK != nil, len(s.Table) > 0} {
		if set {
			kinds++
		}
	}
	if kinds != 1 {
		c.add(at, "is exactly one of a peak, a white and a table")
	}
	lit := len(s.Table) == 0
	for k, p := range s.Table {
		if k > 0 && p.Nm <= s.Table[k-1].Nm {
			c.add(fmt.Sprintf("%s/table/%d", at, k), "wavelength must rise from point to point: %v nm comes after %v nm", p.Nm, s.Table[k-1].Nm)
		}
		lit = lit || p.Relative > 0
	}
	if !lit {
		c.add(at+"/table", "radiates nothing at any wavelength")
	}
}

func (c *checker) readings(points []LoadPoint, at string) {
	for k := 1; k < len(points); k++ {
		if a, b := points[k-1], points[k]; b.VoltageV <= a.VoltageV {
			c.add(fmt.Sprintf("%s/%d/voltageV", at, k), "voltage must rise from point to point: %v V comes after %v V", b.VoltageV, a.VoltageV)
		}
	}
}

// converts are the families that turn one voltage into another.
var converts = map[string]bool{"buck": true, "boost": true, "buck-boost": true, "window": true, "voltage": true}

// efficiency checks what a converter is said to lose: something, and a table in order.
func (c *checker) efficiency(d *Driver, at string) {
	if !converts[d.Family] {
		return
	}
	if d.Efficiency != nil && *d.Efficiency >= 1 {
		c.add(at+"/efficiency", "no converter is without loss: an efficiency lies below 100 %%")
	}
	for k, p := range d.Efficiencies {
		here := fmt.Sprintf("%s/efficiencyPoints/%d", at, k)
		if p.Efficiency >= 1 {
			c.add(here+"/efficiency", "no converter is without loss: an efficiency lies below 100 %%")
		}
		if k == 0 {
			continue
		}
		last := d.Efficiencies[k-1]
		switch {
		case (p.InputV == nil) != (last.InputV == nil):
			c.add(here+"/inputV", "either all points name an input voltage or none does")
		case p.InputV != nil && *p.InputV < *last.InputV:
			c.add(here+"/inputV", "input voltage must not fall from point to point: %v V comes after %v V", *p.InputV, *last.InputV)
		case (p.InputV == nil || *p.InputV == *last.InputV) && p.CurrentA <= last.CurrentA:
			c.add(here+"/currentA", "current must rise from point to point at one input: %v A comes after %v A", p.CurrentA, last.CurrentA)
		}
	}
}

func (c *checker) rising(points []RatioPoint, at string) {
	for k := 1; k < len(points); k++ {
		if points[k].X <= points[k-1].X {
			c.add(at+"/"+strconv.Itoa(k), "x must rise from point to point: %v comes after %v", points[k].X, points[k-1].X)
		}
	}
}

type variantCheck struct {
	*checker
	chips  map[string]string // of each chip the part it is
	parts  map[string]*Part
	bodies map[string]bool
	ids    map[string]bool
	nodes  int
}

func (c *variantCheck) variant(v *Variant, at string) {
	for i := range v.Bodies {
		b := &v.Bodies[i]
		if c.bodies[b.ID] {
			c.add(fmt.Sprintf("%s/bodies/%d/id", at, i), "%q is the id of another body too", b.ID)
		}
		c.bodies[b.ID] = true
		if b.Shape != nil {
			c.shape(b.Shape, fmt.Sprintf("%s/bodies/%d/shape", at, i))
			c.ref(b.Shape.PartID, fmt.Sprintf("%s/bodies/%d/shape/partId", at, i), "a profile", func(p *Part) bool { return p.Profile != nil })
		}
	}
	for i := range v.Bodies {
		for k, link := range v.Bodies[i].Joints {
			here := fmt.Sprintf("%s/bodies/%d/joints/%d", at, i, k)
			if link.BodyID == v.Bodies[i].ID {
				c.add(here+"/bodyId", "a body cannot be joined to itself")
			} else {
				c.body(link.BodyID, here+"/bodyId")
			}
			c.joint(&link.Joint, here+"/joint")
		}
	}
	for i := range v.Bodies {
		c.inside(v, i, fmt.Sprintf("%s/bodies/%d/insideId", at, i))
	}
	for i := range v.Feeds {
		f, here := &v.Feeds[i], fmt.Sprintf("%s/feeds/%d", at, i)
		c.id(f.ID, here)
		for k := range f.Sources {
			s, there := &f.Sources[k], fmt.Sprintf("%s/sources/%d", here, k)
			c.id(s.ID, there)
			kinds := 0
			for _, set := range []bool{s.Pack != nil, s.Supply != nil, s.Mains != nil} {
				if set {
					kinds++
				}
			}
			if kinds > 1 {
				c.add(there, "is one of pack, supply and mains, not several")
			}
			if s.Pack != nil {
				c.ref(s.Pack.PartID, there+"/pack/partId", "a cell", func(p *Part) bool { return p.Cell != nil })
				c.body(s.Pack.BodyID, there+"/pack/bodyId")
				c.pack(s.Pack, there+"/pack")
			}
		}
		c.loads(f.Loads, here, 0)
	}
	for i := range v.Bodies {
		if s := v.Bodies[i].Shape; s != nil && s.Fan != nil && s.Fan.NodeID != "" && !c.ids[s.Fan.NodeID] {
			c.add(fmt.Sprintf("%s/bodies/%d/shape/fan/nodeId", at, i), "there is no %q in this variant that could feed the fan", s.Fan.NodeID)
		}
	}
	c.layouts(v, at)
	c.stands(v, at)
	c.stepDowns(v.Feeds, at)
	c.done(v.SetUp, at+"/setUp")
	for i := range v.Sessions {
		here := fmt.Sprintf("%s/sessions/%d", at, i)
		c.id(v.Sessions[i].ID, here)
		c.done(v.Sessions[i].Done, here+"/done")
	}
	corrected := map[string]bool{}
	for i, x := range v.Corrected {
		if corrected[x.At] {
			c.add(fmt.Sprintf("%s/corrected/%d", at, i), "%q is corrected twice", x.At)
		}
		corrected[x.At] = true
	}
	if c.nodes > MaxNodes {
		c.add(at+"/feeds", "has %d nodes; at most %d are possible", c.nodes, MaxNodes)
	}
}

// done finds steps that are recorded twice.
func (c *variantCheck) done(list []Done, at string) {
	seen := map[[2]string]bool{}
	for i, d := range list {
		if key := [2]string{d.Node, d.Step}; seen[key] {
			c.add(fmt.Sprintf("%s/%d", at, i), "step %q of %q is recorded twice", d.Step, d.Node)
		} else {
			seen[key] = true
		}
	}
}

func (c *variantCheck) loads(nodes []Node, at string, depth int) {
	if depth > maxTreeDepth {
		c.add(at, "the tree is more than %d nodes deep", maxTreeDepth)
		return
	}
	c.nodes += len(nodes)
	for i := range nodes {
		n, here := &nodes[i], fmt.Sprintf("%s/loads/%d", at, i)
		c.id(n.ID, here)
		c.body(n.BodyID, here+"/bodyId")
		kinds := 0
		for _, set := range []bool{n.Switch != nil, n.Driver != nil, n.Dimmer != nil, n.Array != nil, n.Strip != nil, n.Load != nil, n.Aux != nil} {
			if set {
				kinds++
			}
		}
		if kinds != 1 {
			c.add(here, "must be exactly one of switch, driver, dimmer, array, strip, load, auxiliary")
		}
		if len(n.Loads) > 0 && n.Switch == nil && n.Driver == nil && n.Dimmer == nil {
			c.add(here+"/loads", "only a switch, a dimmer or a driver can feed other nodes")
		}
		if n.Driver != nil {
			c.ref(n.Driver.PartID, here+"/driver/partId", "a driver", func(p *Part) bool { return p.Driver != nil })
			c.modes(n.Driver, here+"/driver")
			c.chip(n, here)
		}
		if n.Strip != nil {
			c.segments(n.Strip, here+"/strip")
			c.ref(n.Strip.PartID, here+"/strip/partId", "a strip", func(p *Part) bool { return p.Strip != nil })
			for k, m := range n.Strip.PiecesM {
				if m <= 0 || m > 100 {
					c.add(fmt.Sprintf("%s/strip/piecesM/%d", here, k), "a piece is longer than nothing and at most 100 m, not %v m", m)
				}
			}
		}
		if n.Array != nil {
			c.array(n.Array, here+"/array")
		}
		c.optic(n, here)
		if n.Load != nil {
			c.ref(n.Load.PartID, here+"/load/partId", "a measured load", func(p *Part) bool { return p.Load != nil })
			c.readings(n.Load.Points, here+"/load/points")
			if n.Load.PartID != "" && len(n.Load.Points) > 0 {
				c.add(here+"/load/points", "it is a part and has readings of its own; one of the two must go")
			}
		}
		c.loads(n.Loads, here, depth+1)
	}
}

// chip checks that what are channels of one part name the same part.
func (c *variantCheck) chip(n *Node, at string) {
	chip := n.Driver.Chip
	if chip == "" {
		return
	}
	if n.Count > 1 {
		c.add(at+"/count", "it is a channel of one part, so there cannot be %d of it", n.Count)
	}
	if other, ok := c.chips[chip]; ok && other != n.Driver.PartID {
		c.add(at+"/driver/chip", "channels of %q are of one part, but %q and %q are two", chip, other, n.Driver.PartID)
	}
	c.chips[chip] = n.Driver.PartID
}

func (c *variantCheck) segments(use *StripUse, at string) {
	part := c.parts[use.PartID]
	if part == nil || part.Strip == nil || part.Strip.CutM <= 0 {
		return
	}
	length := 0.0
	for _, m := range use.PiecesM {
		length += m
	}
	if n := length / part.Strip.CutM; n > MaxSegments {
		c.add(at+"/piecesM", "comes to %.0f segments of %v m; at most %d are possible: fewer or shorter pieces, or check where it can be cut", n, part.Strip.CutM, MaxSegments)
	}
}

func (c *variantCheck) modes(d *DriverUse, at string) {
	names := map[string]bool{}
	for k, m := range d.Modes {
		if names[m.Name] {
			c.add(fmt.Sprintf("%s/modes/%d/name", at, k), "%q is the name of another mode too", m.Name)
		}
		names[m.Name] = true
	}
	if d.Mode != "" && !names[d.Mode] {
		c.add(at+"/mode", "there is no mode %q", d.Mode)
	}
}

func (c *variantCheck) array(a *Array, at string) {
	c.ref(a.PartID, at+"/partId", "an emitter", func(p *Part) bool { return p.Emitter != nil })
	for i, m := range a.Mixed {
		c.ref(m.PartID, fmt.Sprintf("%s/mixed/%d/partId", at, i), "an emitter", func(p *Part) bool { return p.Emitter != nil })
	}
	if a.Joint != nil {
		c.joint(a.Joint, at+"/joint")
	}
	named := 0
	for i, f := range a.Unequal {
		named += f.Strings
		if f.Shorted > a.Series {
			c.add(fmt.Sprintf("%s/unequal/%d/shorted", at, i), "%d emitters cannot be shorted in a string of %d", f.Shorted, a.Series)
		}
		if f.At > a.Series {
			c.add(fmt.Sprintf("%s/unequal/%d/at", at, i), "there is no emitter %d in a string of %d", f.At, a.Series)
		}
	}
	if total := a.Parallel * max(a.Count, 1); named > total {
		c.add(at+"/unequal", "names %d strings; the array has %d", named, total)
	}
}

// shape checks that measures go together: fins that leave room for air, walls thinner
// than what they enclose.
func (c *variantCheck) shape(s *Shape, at string) {
	if s.Kind == "fins" && s.Fins >= 2 && s.FinThickM != nil && s.WidthM != nil && float64(s.Fins)**s.FinThickM >= *s.WidthM {
		c.add(at+"/finThicknessM", "%d fins of %v m fill a base of %v m and leave no room for air: fewer or thinner ones", s.Fins, *s.FinThickM, *s.WidthM)
	}
	if s.Fan != nil && s.Kind != "fins" && s.Kind != "profile" && s.Kind != "cooler" {
		c.add(at+"/fan", "a fan is understood on fins, on a profile and of a cooler; of another shape say the speed of the air past it")
	}
	if s.Kind == "tube" && s.ThicknessM != nil && s.DiameterM != nil && *s.ThicknessM > *s.DiameterM/2 {
		c.add(at+"/thicknessM", "a wall of %v m is thicker than half of the diameter, %v m", *s.ThicknessM, *s.DiameterM)
	}
	if s.Kind == "profile" && s.PerimeterM != nil && s.WidthM != nil && s.HeightM != nil && *s.PerimeterM < 1.9*max(*s.WidthM, *s.HeightM) {
		c.add(at+"/perimeterM", "a perimeter of %v m does not go round a profile of %v × %v m", *s.PerimeterM, *s.WidthM, *s.HeightM)
	}
}

func (c *variantCheck) joint(j *Joint, at string) {
	layer := j.ThicknessM != nil || j.Conductivity != nil
	if j.KPerW == nil && layer && (j.ThicknessM == nil || j.Conductivity == nil || j.AreaM2 == nil) {
		c.add(at, "a layer needs thickness, conductivity and area, or give its K/W")
	}
}

func (c *variantCheck) id(id, at string) {
	if c.ids[id] {
		c.add(at+"/id", "%q is used twice in this variant", id)
	}
	c.ids[id] = true
}

func (c *variantCheck) body(id, at string) {
	if id != "" && !c.bodies[id] {
		c.add(at, "there is no body %q in this variant", id)
	}
}

func (c *variantCheck) ref(id, at, what string, fits func(*Part) bool) {
	if id == "" {
		return
	}
	p := c.parts[id]
	if p == nil {
		c.add(at, "there is no part %q in this light", id)
	} else if !fits(p) {
		c.add(at, "part %q is not %s", id, what)
	}
}
