package chain

import (
	"fmt"
	"math"

	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/source"
)

// Options choose what is compiled.
type Options struct {
	Variant int            // index of the variant
	Source  map[string]int // feed id → index of the source in use; absent: the first
}

// Compile makes a numeric model of one variant of a light that Decode accepted.
// It fails only if the variant does not exist or a part cannot be fitted; what is
// incomplete compiles, and Missing tells.
func Compile(light *design.Light, o Options) (*Model, error) {
	if o.Variant < 0 || o.Variant >= len(light.Variants) {
		return nil, fmt.Errorf("there is no variant %d in %q", o.Variant, light.Name)
	}
	m := &Model{
		light: light, variant: &light.Variants[o.Variant],
		ambientC: light.Conditions.AmbientC, startC: light.Conditions.AmbientC, charge: 1,
		slots: map[string][]slot{},
	}
	if c := light.Conditions.StartC; c != nil {
		m.startC = *c
	}
	if c := light.Conditions.Charge; c != nil {
		m.charge = *c
	}
	m.slot("/conditions/ambientC", func(s *Solver) *float64 { return &s.ambientC })
	m.slot("/conditions/startC", func(s *Solver) *float64 { return &s.startC })
	m.slot("/conditions/charge", func(s *Solver) *float64 { return &s.charge })

	c := compiler{Model: m, parts: map[string]*design.Part{}, partAt: map[string]string{}, bodyIndex: map[string]int{}}
	for i := range light.Parts {
		c.parts[light.Parts[i].ID] = &light.Parts[i]
		c.partAt[light.Parts[i].ID] = fmt.Sprintf("/parts/%d", i)
	}
	at := fmt.Sprintf("/variants/%d", o.Variant)
	c.bodiesOf(m.variant, at)
	// What is missing is told along the current, then along the heat.
	ofBodies := m.missing
	m.missing = nil
	for i := range m.variant.Feeds {
		if err := c.feed(&m.variant.Feeds[i], fmt.Sprintf("%s/feeds/%d", at, i), o); err != nil {
			return nil, err
		}
	}
	m.missing = append(m.missing, ofBodies...)
	m.layout()
	return m, nil
}

type compiler struct {
	*Model
	parts     map[string]*design.Part
	partAt    map[string]string
	bodyIndex map[string]int
}

func (c *compiler) lacks(node, pointer, format string, args ...any) {
	c.missing = append(c.missing, Missing{node, pointer, fmt.Sprintf(format, args...)})
}

// gaps notes what a part lacks, or its use.
func (c *compiler) gaps(node, part, use string, missing []design.Gap) {
	for _, g := range missing {
		at := part
		if g.InUse {
			at = use
		}
		c.lacks(node, at+"/"+g.Figure, "%s", g.Why)
	}
}

// leastJPerK keeps every lump a state: a lump without heat capacity follows at
// once, and the integrator is L-stable.
const leastJPerK = 1e-3

func (c *compiler) lump(owner string, jPerK float64) int {
	c.lumps = append(c.lumps, thermal{owner, max(jPerK, leastJPerK)})
	return len(c.lumps) - 1
}

// connect joins two lumps through resistances in series, each with its pointer.
func (c *compiler) connect(from, to int, parts ...resistance) {
	k := len(c.links)
	l := link{from: from, to: to}
	for i, p := range parts {
		l.parts[i] = p
		c.slot(p.pointer, func(s *Solver) *float64 { return &s.links[k].parts[i].kPerW })
	}
	c.links = append(c.links, l)
}

func (c *compiler) bodiesOf(v *design.Variant, at string) {
	// A body's temperature can be told if heat can leave it, directly or through
	// other bodies.
	open := map[string]bool{}
	for range v.Bodies {
		for i := range v.Bodies {
			b := &v.Bodies[i]
			open[b.ID] = open[b.ID] || b.KPerW != nil
			for _, l := range b.Joints {
				open[b.ID] = open[b.ID] || open[l.BodyID]
				open[l.BodyID] = open[l.BodyID] || open[b.ID]
			}
		}
	}
	for i := range v.Bodies {
		b, here := &v.Bodies[i], fmt.Sprintf("%s/bodies/%d", at, i)
		c.bodyIndex[b.ID] = i
		if !open[b.ID] {
			c.bodies = append(c.bodies, -1)
			c.lacks(b.ID, here+"/kPerW", "how heat leaves %s is not known, so no temperature on it can be told: give its K/W to the air", b.Name)
			continue
		}
		capacity, ok := heat.CapacityJPerK(b)
		if !ok {
			c.lacks(b.ID, here+"/massKg", "how slowly %s warms is not known: give its mass or heat capacity", b.Name)
		}
		t := c.lump(b.ID, capacity)
		c.bodies = append(c.bodies, t)
		if b.HeatJPerK != nil {
			c.slot(here+"/heatCapacityJPerK", func(s *Solver) *float64 { return &s.jPerK[t] })
		}
		if b.KPerW != nil {
			c.connect(t, -1, resistance{here + "/kPerW", *b.KPerW, 1})
		}
	}
	for i := range v.Bodies {
		for k := range v.Bodies[i].Joints {
			l := &v.Bodies[i].Joints[k]
			here := fmt.Sprintf("%s/bodies/%d/joints/%d/joint", at, i, k)
			a, b := c.bodies[i], c.bodies[c.bodyIndex[l.BodyID]]
			r, ok := heat.JointKPerW(&l.Joint)
			if !ok {
				c.lacks(v.Bodies[i].ID, here, "the joint between %s and %s has no K/W: taken as perfect", v.Bodies[i].Name, v.Bodies[c.bodyIndex[l.BodyID]].Name)
			}
			if a >= 0 && b >= 0 {
				c.connect(a, b, resistance{here + "/kPerW", r, 1})
			}
		}
	}
}

func (c *compiler) body(id string) int {
	if id == "" {
		return noBody
	}
	return c.bodyIndex[id]
}

func (c *compiler) feed(f *design.Feed, at string, o Options) error {
	k := len(c.feeds)
	out := feed{id: f.ID, name: f.Name, pointer: at, charge: -1, polar: -1, body: noBody}
	pick := o.Source[f.ID]
	if pick < 0 || pick >= len(f.Sources) {
		pick = 0
	}
	if len(f.Sources) > 0 {
		if err := c.source(&out, k, &f.Sources[pick], fmt.Sprintf("%s/sources/%d", at, pick)); err != nil {
			return err
		}
	}
	if out.kind == noSource {
		c.lacks(f.ID, at+"/sources", "no source is chosen yet, so nothing flows")
	}
	c.feeds = append(c.feeds, out)
	lo, hi, err := c.children(f.Loads, at, k, -1)
	c.feeds[k].kidLo, c.feeds[k].kidHi = lo, hi
	return err
}

func (c *compiler) source(out *feed, k int, s *design.Source, at string) error {
	out.sourceID = s.ID
	switch {
	case s.Mains != nil:
		out.kind, out.supplyV, out.supplyLimitA = supplySource, s.Mains.VoltageV, math.Inf(1)
		c.slot(at+"/mains/voltageV", func(s *Solver) *float64 { return &s.feeds[k].supplyV })
	case s.Supply != nil:
		out.kind = supplySource
		out.supplyV, out.supplyOhm = s.Supply.VoltageV, s.Supply.ResistanceOhm
		out.supplyLimitA = math.Inf(1)
		if s.Supply.MaxCurrentA != nil {
			out.supplyLimitA, out.supplyRatedA = *s.Supply.MaxCurrentA, *s.Supply.MaxCurrentA
			c.slot(at+"/supply/maxCurrentA", func(s *Solver) *float64 { return &s.feeds[k].supplyLimitA })
		}
		c.slot(at+"/supply/voltageV", func(s *Solver) *float64 { return &s.feeds[k].supplyV })
		c.slot(at+"/supply/resistanceOhm", func(s *Solver) *float64 { return &s.feeds[k].supplyOhm })
	case s.Pack != nil:
		part := c.parts[s.Pack.PartID]
		if part == nil {
			c.lacks(s.ID, at+"/pack/partId", "no cell is chosen yet")
			return nil
		}
		cell, err := source.New(part.Cell)
		if err != nil {
			return fmt.Errorf("cell %q: %w", part.Name, err)
		}
		out.kind, out.pack, out.body = packSource, source.NewPack(s.Pack, cell), c.body(s.Pack.BodyID)
		out.charge = c.states
		c.states++
		if cell.PolarOhm > 0 {
			out.polar = c.states
			c.states++
		}
		from := c.partAt[part.ID] + "/cell"
		c.slot(from+"/capacityAh", func(s *Solver) *float64 { return &s.feeds[k].pack.Cell.CapacityAh })
		c.slot(from+"/resistanceOhm", func(s *Solver) *float64 { return &s.feeds[k].pack.Cell.Resistance })
		c.slot(from+"/openCircuitOffsetV", func(s *Solver) *float64 { return &s.feeds[k].pack.Cell.OffsetV })
		c.slot(at+"/pack/contactOhm", func(s *Solver) *float64 { return &s.feeds[k].pack.ContactOhm })
		c.slot(at+"/pack/cutoffCellV", func(s *Solver) *float64 { return &s.feeds[k].pack.CutoffV })
	}
	return nil
}

// children compiles sibling nodes so that they are contiguous, then what hangs on
// each.
func (c *compiler) children(nodes []design.Node, at string, feed, parent int) (lo, hi int, err error) {
	lo = len(c.nodes)
	for i := range nodes {
		if err := c.node(&nodes[i], fmt.Sprintf("%s/loads/%d", at, i), feed, parent); err != nil {
			return 0, 0, err
		}
	}
	hi = len(c.nodes)
	for i := range nodes {
		k := lo + i
		a, b, err := c.children(nodes[i].Loads, c.nodes[k].pointer, feed, k)
		if err != nil {
			return 0, 0, err
		}
		n := &c.nodes[k]
		n.kidLo, n.kidHi, n.kidsMonotone = a, b, true
		for j := a; j < b; j++ {
			n.kidsMonotone = n.kidsMonotone && c.nodes[j].monotone
		}
		n.monotone = n.risingDraw()
	}
	return lo, hi, nil
}

// risingDraw tells whether the node's draw never falls as its voltage rises: then
// a bus of such nodes has one crossing.
func (n *node) risingDraw() bool {
	switch n.kind {
	case arrayNode:
		return true
	case switchNode:
		return n.kidsMonotone
	case stripNode:
		return true
	case driverNode:
		return !n.drv.Switches() && n.kidsMonotone
	case loadNode:
		for i := 1; i < len(n.load); i++ {
			if n.load[i].CurrentA < n.load[i-1].CurrentA {
				return false
			}
		}
		return !n.loadCP
	}
	return n.startV <= 0
}

func (c *compiler) node(n *design.Node, at string, feed, parent int) error {
	k := len(c.nodes)
	out := node{id: n.ID, name: n.Name, pointer: at, feed: feed, parent: parent, body: c.body(n.BodyID), junction: -1, board: -1, scale: 1, optic: 1}
	if f := n.Fault; f != nil {
		out.seriesOhm = f.SeriesOhm
		out.fault = map[string]float64{"short": faultShort, "open": faultOpen}[f.State]
	}
	c.slot(at+"/fault/seriesOhm", func(s *Solver) *float64 { return &s.nodes[k].seriesOhm })
	c.slot(at+"/fault/state", func(s *Solver) *float64 { return &s.nodes[k].fault })
	var err error
	switch {
	case n.Switch != nil:
		out.kind, out.contactOhm = switchNode, n.Switch.ContactOhm
		if n.Switch.Open {
			out.open = 1
		}
		c.slot(at+"/switch/contactOhm", func(s *Solver) *float64 { return &s.nodes[k].contactOhm })
		c.slot(at+"/switch/open", func(s *Solver) *float64 { return &s.nodes[k].open })
	case n.Dimmer != nil:
		out.kind, out.dimmer, out.level = switchNode, true, n.Dimmer.Level
		c.slot(at+"/dimmer/level", func(s *Solver) *float64 { return &s.nodes[k].level })
	case n.Strip != nil:
		out.kind = stripNode
		c.strip(&out, n.Strip, k, at+"/strip")
	case n.Driver != nil:
		out.kind = driverNode
		c.driver(&out, n.Driver, k, at+"/driver")
	case n.Array != nil:
		out.kind = arrayNode
		err = c.array(&out, n, k, at+"/array")
	case n.Load != nil:
		out.kind = loadNode
		c.load(&out, n.Load, at+"/load")
		c.slot(at+"/load/scale", func(s *Solver) *float64 { return &s.nodes[k].scale })
	default:
		out.kind, out.currentA, out.standbyA = auxNode, n.Aux.CurrentA, n.Aux.CurrentA
		if n.Aux.StandbyA != nil {
			out.standbyA = *n.Aux.StandbyA
		}
		if n.Aux.StartV != nil {
			out.startV = *n.Aux.StartV
		}
		c.slot(at+"/auxiliary/currentA", func(s *Solver) *float64 { return &s.nodes[k].currentA })
		c.slot(at+"/auxiliary/standbyA", func(s *Solver) *float64 { return &s.nodes[k].standbyA })
		c.slot(at+"/auxiliary/scale", func(s *Solver) *float64 { return &s.nodes[k].scale })
	}
	c.nodes = append(c.nodes, out)
	return err
}
