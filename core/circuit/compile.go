package circuit

import (
	"fmt"
	"maps"
	"slices"

	"photherm/core/array"
	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/emitter"
	"photherm/core/source"
)

// Laws keeps what was made of parts, so that a light that is compiled again with one
// figure changed does not fit every curve anew.
type Laws struct {
	emitters map[string]emitter.Model
	cells    map[string]source.Cell
}

// NewLaws is empty.
func NewLaws() *Laws {
	return &Laws{emitters: map[string]emitter.Model{}, cells: map[string]source.Cell{}}
}

// Forget drops what was made of a part.
func (l *Laws) Forget(partID string) {
	delete(l.emitters, partID)
	delete(l.cells, partID)
}

// Compile makes a numeric model of the power tree of one variant of a light that Decode
// accepted; pick is the index of the source in use for a feed's id (absent: the first).
// It fails only if a part cannot be fitted; what is incomplete compiles, and Missing
// tells.
func Compile(light *design.Light, variant int, pick map[string]int, laws *Laws, beside Beside) (*Network, error) {
	n := &Network{Light: light, Variant: &light.Variants[variant], Charge: 1}
	if c := light.Conditions.Charge; c != nil {
		n.Charge = *c
	}
	c := compiler{Network: n, chips: map[string]bool{}, laws: laws, beside: beside, parts: map[string]*design.Part{}, partAt: map[string]string{}}
	for i := range light.Parts {
		c.parts[light.Parts[i].ID] = &light.Parts[i]
		c.partAt[light.Parts[i].ID] = fmt.Sprintf("/parts/%d", i)
	}
	at := fmt.Sprintf("/variants/%d", variant)
	for i := range n.Variant.Feeds {
		if err := c.feed(&n.Variant.Feeds[i], fmt.Sprintf("%s/feeds/%d", at, i), pick); err != nil {
			return nil, err
		}
	}
	n.nominal()
	return n, nil
}

type compiler struct {
	*Network
	laws   *Laws
	beside Beside
	parts  map[string]*design.Part
	partAt map[string]string
	chips  map[string]bool // seen so far
}

func (c *compiler) lacks(node, pointer, format string, args ...any) {
	c.Missing = append(c.Missing, Missing{node, pointer, fmt.Sprintf(format, args...)})
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

func (c *compiler) feed(f *design.Feed, at string, pick map[string]int) error {
	k := len(c.Feeds)
	out := Feed{ID: f.ID, Name: f.Name, Pointer: at, FeederLo: len(c.Feeders)}
	in := pick[f.ID]
	if in < 0 || in >= len(f.Sources) {
		in = 0
	}
	if len(f.Sources) > 0 {
		if err := c.source(k, &f.Sources[in], fmt.Sprintf("%s/sources/%d", at, in)); err != nil {
			return err
		}
	}
	out.mains = len(f.Sources) > 0 && f.Sources[in].Mains != nil
	out.FeederHi = len(c.Feeders)
	if out.FeederHi == out.FeederLo {
		c.lacks(f.ID, at+"/sources", "no source is chosen yet, so nothing flows")
	}
	c.Feeds = append(c.Feeds, out)
	lo, hi, err := c.children(f.Loads, at, k, -1)
	c.Feeds[k].KidLo, c.Feeds[k].KidHi = lo, hi
	return err
}

func (c *compiler) source(feed int, s *design.Source, at string) error {
	out := Feeder{SourceID: s.ID, Feed: feed, At: c.States}
	switch {
	case s.Mains != nil:
		out.Law = &source.Supply{VoltageV: s.Mains.VoltageV, LimitA: unlimited}
	case s.Supply != nil:
		law := &source.Supply{VoltageV: s.Supply.VoltageV, SeriesOhm: s.Supply.ResistanceOhm, LimitA: unlimited}
		if s.Supply.MaxCurrentA != nil {
			law.LimitA = *s.Supply.MaxCurrentA
		}
		out.Law = law
	case s.Pack != nil:
		part := c.parts[s.Pack.PartID]
		if part == nil {
			c.lacks(s.ID, at+"/pack/partId", "no cell is chosen yet")
			return nil
		}
		cell, ok := c.laws.cells[part.ID]
		if !ok {
			var err error
			if cell, err = source.New(part.Cell); err != nil {
				return design.Problems{{Pointer: c.partAt[part.ID] + "/cell", Message: fmt.Sprintf("%s: %v", part.Name, err)}}
			}
			c.laws.cells[part.ID] = cell
		}
		cell.OffsetV += c.beside.of("/parts/"+part.ID+"/cell/openCircuitOffsetV", 0)
		startC := c.Light.Conditions.AmbientC
		if at := c.Light.Conditions.StartC; at != nil {
			startC = *at
		}
		var board *design.Protection
		if p := c.parts[s.Pack.ProtectionID]; p != nil {
			board = p.Protect
		}
		out.Law, out.BodyID, out.IsPack = source.LawOf(s.Pack, cell, board, startC), s.Pack.BodyID, true
		if use := s.Pack.Charger; use != nil && use.PluggedIn {
			c.plugged(&out, s, part.Cell, at)
			return nil
		}
	default:
		return nil
	}
	c.States += out.Law.States()
	c.Feeders = append(c.Feeders, out)
	return nil
}

// children compiles sibling nodes so that they are contiguous, then what hangs on
// each.
func (c *compiler) children(nodes []design.Node, at string, feed, parent int) (lo, hi int, err error) {
	lo = len(c.Nodes)
	for i := range nodes {
		if err := c.node(&nodes[i], fmt.Sprintf("%s/loads/%d", at, i), feed, parent); err != nil {
			return 0, 0, err
		}
	}
	hi = len(c.Nodes)
	for i := range nodes {
		k := lo + i
		a, b, err := c.children(nodes[i].Loads, c.Nodes[k].Pointer, feed, k)
		if err != nil {
			return 0, 0, err
		}
		c.Nodes[k].KidLo, c.Nodes[k].KidHi = a, b
	}
	return lo, hi, nil
}

func (c *compiler) node(n *design.Node, at string, feed, parent int) error {
	out := Node{ID: n.ID, Name: n.Name, Pointer: at, Feed: feed, Parent: parent, BodyID: n.BodyID, Scale: 1, Optic: through(n.Optic), Count: float64(max(n.Count, 1))}
	out.Times = out.Count
	if parent >= 0 {
		out.Times *= c.Nodes[parent].Times
	}
	if f := n.Fault; f != nil {
		out.SeriesOhm = f.SeriesOhm
		out.Fault = map[string]float64{"short": Short, "open": Open}[f.State]
	}
	var err error
	switch {
	case n.Switch != nil:
		out.Kind, out.ContactOhm, out.Off = Switch, n.Switch.ContactOhm, n.Switch.Open
		if d := n.Switch.Duty; d != nil && *d < 1 && !n.Switch.Open {
			out.Kind, out.Level, out.Drv = Driver, 1, driver.Switched(n.Switch.ContactOhm, *d)
		}
	case n.Dimmer != nil:
		out.Kind, out.Dimmer, out.Level = Switch, true, n.Dimmer.Level
	case n.Strip != nil:
		out.Kind = Strip
		c.strip(&out, n.Strip, at+"/strip")
	case n.Driver != nil:
		out.Kind = Driver
		c.driver(&out, n.Driver, at+"/driver")
		out.Drv.OnMains = c.Feeds[feed].mains && !c.behindDriver(parent)
	case n.Array != nil:
		out.Kind = Array
		err = c.array(&out, n, at+"/array")
	case n.Load != nil:
		out.Kind = Load
		c.load(&out, n.Load, at+"/load")
	default:
		out.Kind, out.CurrentA, out.StandbyA = Aux, n.Aux.CurrentA, n.Aux.CurrentA
		if n.Aux.StandbyA != nil {
			out.StandbyA = *n.Aux.StandbyA
		}
		if n.Aux.StartV != nil {
			out.StartV = *n.Aux.StartV * driver.WireShare
		}
	}
	out.OnLine = c.Feeds[feed].mains && !c.behindDriver(parent)
	out.Scale *= c.beside.of(c.loadsOf(feed)+n.ID+"/scale", 1)
	c.Nodes = append(c.Nodes, out)
	return err
}

// behindDriver tells whether a node, or one above it, is a driver that converts.
func (c *compiler) behindDriver(k int) bool {
	for ; k >= 0; k = c.Nodes[k].Parent {
		if c.Nodes[k].Kind == Driver && (c.Nodes[k].Drv.Switches() || c.Nodes[k].Drv.Regulates()) {
			return true
		}
	}
	return false
}

// loadsOf is the pointer below which the nodes of a feed are named by id.
func (c *compiler) loadsOf(feed int) string {
	return "/variants/" + c.Variant.ID + "/feeds/" + c.Variant.Feeds[feed].ID + "/loads/"
}

func (c *compiler) driver(out *Node, use *design.DriverUse, at string) {
	var data *design.Driver
	from := ""
	if part := c.parts[use.PartID]; part != nil {
		data, from = part.Driver, c.partAt[part.ID]+"/driver"
	}
	d, missing := driver.New(data, use)
	c.gaps(out.ID, from, at, missing)
	if use.Chip != "" {
		// What a part draws for itself it draws once, however many of its channels are used.
		if c.chips[use.Chip] {
			d.QuiescentA, d.StandbyW = 0, 0
		}
		c.chips[use.Chip] = true
	}
	out.Drv, out.Level = d, d.Level
}

func (c *compiler) strip(out *Node, use *design.StripUse, at string) {
	part := c.parts[use.PartID]
	if part == nil {
		c.lacks(out.ID, at+"/partId", "no strip is chosen yet")
		return
	}
	strip, missing := array.NewStrip(part.Strip, use)
	c.gaps(out.ID, c.partAt[part.ID]+"/strip", at, missing)
	out.Strip, out.Chosen = strip, true
	out.CountsHeat = c.Light.Conditions.HeatSchool == "all-input"
}

// load takes the readings of a measured load, from its part or where it stands.
func (c *compiler) load(out *Node, use *design.MeasuredLoad, at string) {
	data, from := use, at
	if part := c.parts[use.PartID]; part != nil {
		data, from = part.Load, c.partAt[part.ID]+"/load"
	}
	if len(data.Points) == 0 {
		c.lacks(out.ID, from+"/points", "what this load draws is not known: give a few readings of voltage and current")
		return
	}
	out.Chosen, out.Load, out.Beyond = true, data.Points, beyonds[data.Beyond]
	if data.SteadyV != nil && *data.SteadyV > 0 {
		out.Load, out.Beyond = steady(data.Points, *data.SteadyV), HoldsPower
	}
	if share := use.Draws; share != nil {
		out.Load = slices.Clone(out.Load)
		for i := range out.Load {
			out.Load[i].CurrentA *= *share
		}
	}
	if data.FluxLm != nil {
		out.LoadLm = *data.FluxLm
	}
}

func (c *compiler) array(out *Node, n *design.Node, at string) error {
	a := n.Array
	e, ok, err := c.emitter(n.ID, at, a.PartID)
	if err != nil {
		return err
	}
	part := c.parts[a.PartID]
	if ok {
		if rows := max(part.Emitter.Rows, 1); a.PackageRows > 0 && a.PackageRows != rows {
			e.Resize(float64(a.PackageRows) / float64(rows))
		}
	}
	own := c.beside.of(c.loadsOf(out.Feed)+n.ID+"/array/fluxScale", 1)
	e.FluxScale *= own
	var more []array.Kind
	for i, m := range a.Mixed {
		other, there, err := c.emitter(n.ID, fmt.Sprintf("%s/mixed/%d", at, i), m.PartID)
		if err != nil {
			return err
		}
		ok = ok && there
		other.FluxScale *= own
		more = append(more, array.Kind{Emitter: other, Series: m.Series})
	}
	if !ok {
		return nil
	}
	out.Chosen = true
	out.Arr = array.New(a, e)
	out.Arr.More = more
	out.Arr.Groups[0].OffsetV += c.beside.of(c.loadsOf(out.Feed)+n.ID+"/array/vfOffsetV", 0)
	if r := part.Emitter.RatedCurrentA; r != nil {
		out.RatedA = *r * e.Size
	}
	if part.Emitter.VfBinV != nil {
		out.BinV = *part.Emitter.VfBinV
	}
	out.SameBin = a.SameBin
	if a.BoardKPerW != nil {
		out.OwnKPerW = *a.BoardKPerW
	}
	out.CountsHeat = c.Light.Conditions.HeatSchool == "all-input"
	if a.OpticEfficient != nil {
		out.Optic *= *a.OpticEfficient
	}
	return nil
}

// emitter is the model of an emitter part; it is not ok if none is chosen.
func (c *compiler) emitter(node, at, id string) (e emitter.Model, ok bool, err error) {
	part := c.parts[id]
	if part == nil {
		c.lacks(node, at+"/partId", "no emitter is chosen yet")
		return e, false, nil
	}
	if e, ok = c.laws.emitters[part.ID]; !ok {
		if e, err = emitter.New(part.Emitter); err != nil {
			return e, false, design.Problems{{Pointer: c.partAt[part.ID] + "/emitter/forward", Message: fmt.Sprintf("%s: %v", part.Name, err)}}
		}
		c.laws.emitters[part.ID] = e
	}
	own := "/parts/" + part.ID + "/emitter/"
	e.VfOffsetV += c.beside.of(own+"vfOffsetV", 0)
	e.FluxScale *= c.beside.of(own+"fluxScale", 1)
	if !e.KnowsFlux() {
		c.lacks(node, c.partAt[part.ID]+"/emitter/fluxLm", "the light of %s is not known", part.Name)
	} else if !e.KnowsRadiant() {
		c.lacks(node, c.partAt[part.ID]+"/emitter/radiationEfficacyLmPerW", "the radiated watts of %s cannot be told: all its input counts as heat, the safe side", part.Name)
	}
	return e, true, nil
}

// Copy is one that can be added to and taken from without the other.
func (l *Laws) Copy() *Laws {
	return &Laws{emitters: maps.Clone(l.emitters), cells: maps.Clone(l.cells)}
}

// plugged puts a pack and its charger on the bus: the charger's place among the states is its
// pack's.
func (c *compiler) plugged(pack *Feeder, s *design.Source, cell *design.Cell, at string) {
	c.States += pack.Law.States()
	c.Feeders = append(c.Feeders, *pack)
	use := s.Pack.Charger
	var part *design.Charger
	if p := c.parts[use.PartID]; p != nil {
		part = p.Charger
	}
	law := source.NewCharger(use, part, cell, s.Pack.Series, pack.Law, c.Light.Conditions.AmbientC)
	switch {
	case source.Primary(cell):
		return // it is told, and not done
	case law.CurrentA <= 0:
		c.lacks(s.ID, at+"/pack/charger/currentA", "the current of the charger is not known")
		return
	}
	c.Feeders = append(c.Feeders, Feeder{SourceID: s.ID, Feed: pack.Feed, At: pack.At, BodyID: pack.BodyID, Law: law})
}

// through is the share of the light that a cover and what lies on it let through.
func through(o *design.Optic) float64 {
	x := 1.0
	if o == nil {
		return x
	}
	if o.Transmits != nil {
		x = *o.Transmits
	}
	if o.Soiled != nil {
		x *= 1 - *o.Soiled
	}
	return x
}
