package chain

import (
	"fmt"
	"math"

	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/heat"
)

// Options choose what is compiled.
type Options struct {
	Variant int            // index of the variant
	Source  map[string]int // feed id → index of the source in use; absent: the first
	Raw     bool           // leave the corrections by readings out: as the document says
}

// Compile makes a numeric model of one variant of a light that Decode accepted.
// It fails only if the variant does not exist or a part cannot be fitted; what is
// incomplete compiles, and Missing tells.
func Compile(light *design.Light, o Options) (*Model, error) {
	m, err := assemble(light, o, circuit.NewLaws(), nil, nil)
	if err != nil {
		return nil, err
	}
	return m.corrected()
}

// assemble is Compile with what was made of parts before, what stands beside the document, and
// where the strings of arrays sit, if that is settled.
func assemble(light *design.Light, o Options, laws *circuit.Laws, beside circuit.Beside, seatOf map[string][]int) (*Model, error) {
	if o.Variant < 0 || o.Variant >= len(light.Variants) {
		return nil, fmt.Errorf("there is no variant %d in %q", o.Variant, light.Name)
	}
	net, err := circuit.Compile(light, o.Variant, o.Source, laws, beside)
	if err != nil {
		return nil, err
	}
	m := &Model{
		net: net, light: light, options: o, laws: laws, beside: beside, states: net.States,
		ambientC: light.Conditions.AmbientC, startC: light.Conditions.AmbientC, missing: net.Missing,
		seats: make([][]int, len(net.Nodes)), origin: make([][]int, len(net.Nodes)), seatOf: map[string][]int{},
	}
	if c := light.Conditions.StartC; c != nil {
		m.startC = *c
	}
	// What is missing is told along the current, then along the heat.
	c := compiler{Model: m, given: seatOf, at: fmt.Sprintf("/variants/%d", o.Variant), bodyIndex: map[string]int{}, shapes: map[string]*heat.Body{}, shapeOf: map[string]*design.Shape{}, parts: map[string]*design.Part{}, partAt: map[string]string{}}
	for i := range light.Parts {
		c.parts[light.Parts[i].ID] = &light.Parts[i]
		c.partAt[light.Parts[i].ID] = fmt.Sprintf("/parts/%d", i)
	}
	c.bodiesOf(net.Variant)
	c.joints(net.Variant)
	c.nodes()
	m.layout()
	return m, nil
}

type compiler struct {
	*Model
	at        string
	bodyIndex map[string]int
	parts     map[string]*design.Part
	partAt    map[string]string
	late      []Missing // of bodies: told after the emitters'
	shapes    map[string]*heat.Body
	shapeOf   map[string]*design.Shape // with what its profile says
	given     map[string][]int         // seats that are settled; nil: none are
	plateOf   map[string][]*plated     // of each array that has places: its seats
	narrows   map[[2]float64]float64
	narrowsOf *design.Shape
}

func (c *compiler) lacks(node, pointer, format string, args ...any) {
	c.missing = append(c.missing, Missing{Node: node, Pointer: pointer, Why: fmt.Sprintf(format, args...)})
}

func (c *compiler) lacksLater(node, pointer, format string, args ...any) {
	c.late = append(c.late, Missing{Node: node, Pointer: pointer, Why: fmt.Sprintf(format, args...)})
}

// leastJPerK keeps every lump a state: a lump without heat capacity follows at
// once, and the integrator is L-stable.
const leastJPerK = 1e-3

// What a lump bears where nothing tells: no light is solid above 200 °C (chosen: solder
// melts at 183 to 220 °C). What has a limit is judged by that, up to where no metal of
// a light is solid.
const (
	bearsC = 200
	solidC = 600
)

func bears(limit *float64) float64 {
	if limit != nil {
		return solidC
	}
	return bearsC
}

func (c *compiler) lump(owner, name string, jPerK, bearsC float64) int {
	c.lumps = append(c.lumps, lump{owner, name, max(jPerK, leastJPerK), bearsC})
	return len(c.lumps) - 1
}

func (c *compiler) connect(from, to int, law heat.Link) {
	c.links = append(c.links, link{from, to, law, -1, 0})
}

// byMeasurement is the way to the air of a body that is known by its K/W.
func byMeasurement(b *design.Body) heat.Link {
	if b.FilmPower != nil {
		return heat.Tilted{KPerW: *b.KPerW, Power: *b.FilmPower}
	}
	return heat.KPerW(*b.KPerW)
}

func (c *compiler) bodiesOf(v *design.Variant) {
	// A body's temperature can be told if heat can leave it, directly or through
	// other bodies.
	open := map[string]bool{}
	c.shapesOf(v)
	holds := map[string]bool{} // bodies that others stand in
	for i := range v.Bodies {
		holds[v.Bodies[i].Inside] = true
	}
	for range v.Bodies {
		for i := range v.Bodies {
			b := &v.Bodies[i]
			lets := b.KPerW != nil || c.shapes[b.ID] != nil
			if in := v.Body(b.Inside); in != nil {
				lets = lets && (in.VentM3H != nil && *in.VentM3H > 0 || in.KPerW != nil || c.shapes[in.ID] != nil)
			}
			open[b.ID] = open[b.ID] || lets
			for _, l := range b.Joints {
				open[b.ID] = open[b.ID] || open[l.BodyID]
				open[l.BodyID] = open[l.BodyID] || open[b.ID]
			}
		}
	}
	for i := range v.Bodies {
		b, here := &v.Bodies[i], fmt.Sprintf("%s/bodies/%d", c.at, i)
		c.bodyIndex[b.ID] = i
		if !open[b.ID] {
			c.bodies = append(c.bodies, -1)
			if b.Shape == nil && b.KPerW == nil && (!holds[b.ID] || b.VentM3H == nil) { // of a shape it was said which measures it lacks
				c.lacksLater(b.ID, here+"/kPerW", "how heat leaves %s is not known, so no temperature on it can be told: give its measures, or its K/W to the air", b.Name)
			}
			continue
		}
		with := *b
		with.Shape = c.shapeOf[b.ID]
		capacity, ok := heat.CapacityJPerK(&with)
		if !ok {
			c.lacksLater(b.ID, here+"/massKg", "how slowly %s warms is not known: give its mass or heat capacity", b.Name)
		}
		c.bodies = append(c.bodies, c.lump(b.ID, b.Name, capacity, bears(b.MaxC)))
	}
	c.insides(v, holds)
	for i := range v.Bodies {
		b, t := &v.Bodies[i], c.bodies[i]
		if t < 0 {
			continue
		}
		if b.KPerW != nil {
			c.connect(t, c.airOf(i), byMeasurement(b))
		} else if law := c.shapes[b.ID]; law != nil {
			if b.FilmPower != nil {
				law.Power = *b.FilmPower
			}
			c.dries = c.dries || b.Shape.Wet
			c.connect(t, c.airOf(i), law)
			if f := b.Shape.Fan; f != nil && f.NodeID != "" {
				c.blown(&c.links[len(c.links)-1], f)
			}
		}
		if sun := heat.SunOn(b, c.shapeOf[b.ID], c.light.Conditions.SunWPerM2); sun != 0 {
			c.connect(t, air, sun)
		}
	}
}

// insides makes the air of housings and tents that bodies stand in: it gives its heat to
// their walls and with what is ventilated.
func (c *compiler) insides(v *design.Variant, holds map[string]bool) {
	for i := range v.Bodies {
		b := &v.Bodies[i]
		c.inner = append(c.inner, -1)
		vent := 0.0
		if b.VentM3H != nil {
			vent = heat.VentWPerK(*b.VentM3H, c.pressure())
		}
		if !holds[b.ID] || c.bodies[i] < 0 && vent == 0 {
			continue
		}
		law := c.shapes[b.ID]
		inside := 0.0
		if law != nil && b.Shape.LengthM != nil && b.Shape.WidthM != nil && b.Shape.HeightM != nil {
			inside = *b.Shape.LengthM * *b.Shape.WidthM * *b.Shape.HeightM
		}
		at := c.lump(b.ID, "the air in "+b.Name, inside*heat.AirJPerM3K, solidC)
		c.inner[i] = at
		if vent > 0 {
			c.connect(at, air, heat.Conducts(vent))
		}
		switch {
		case c.bodies[i] < 0:
		case law != nil && law.AreaM2 > 0:
			c.connect(at, c.bodies[i], heat.Conducts(heat.InsideW*law.AreaM2))
		default: // its K/W is taken from the air inside on
			c.connect(at, c.bodies[i], heat.KPerW(heat.PerfectKPerW))
		}
	}
}

// airOf is the air that a body gives its heat to: the surroundings', or that of what it
// stands in.
func (m *Model) airOf(body int) int {
	in := m.net.Variant.Bodies[body].Inside
	for i := range m.net.Variant.Bodies {
		if m.net.Variant.Bodies[i].ID == in && in != "" && m.inner[i] >= 0 {
			return m.inner[i]
		}
	}
	return air
}

// blown ties a link to the node that feeds its fan.
func (c *compiler) blown(l *link, f *design.Fan) {
	if l.blower = c.nodeNamed(f.NodeID); l.blower < 0 {
		return
	}
	if n := design.FindIn(c.net.Variant, f.NodeID); n != nil && n.Aux != nil && n.Aux.StartV != nil {
		l.startV = *n.Aux.StartV * driver.WireShare
	}
}

func (c *compiler) pressure() float64 {
	if h := c.light.Conditions.AltitudeM; h != nil {
		return heat.PressureAt(*h)
	}
	return 1
}

// shapesOf makes the laws of bodies that are known by their measures.
func (c *compiler) shapesOf(v *design.Variant) {
	pressure := c.pressure()
	for i := range v.Bodies {
		b := &v.Bodies[i]
		c.shapeOf[b.ID] = c.light.ShapeOf(b)
		if b.Shape == nil || b.KPerW != nil {
			continue
		}
		law, lacks := heat.NewBody(c.shapeOf[b.ID], pressure)
		for _, name := range lacks {
			c.lacksLater(b.ID, fmt.Sprintf("%s/bodies/%d/shape/%s", c.at, i, name), "%s is not known well enough for its temperature: %s", b.Name, measures[name])
		}
		if len(lacks) == 0 {
			c.shapes[b.ID] = law
		}
	}
}

// measures are what is asked for where a measure of a shape is missing.
var measures = map[string]string{
	"kind": "say what shape it has", "lengthM": "give its length", "widthM": "give its width", "heightM": "give its height", "diameterM": "give its diameter", "perimeterM": "give the perimeter of its profile",
	"areaM2": "give its surface", "fins": "say how many fins it has", "finHeightM": "give the height of its fins", "finThicknessM": "give the thickness of its fins",
}

// nodeNamed is the place of a node in the network; −1: there is none.
func (c *compiler) nodeNamed(id string) int {
	for k := range c.net.Nodes {
		if c.net.Nodes[k].ID == id {
			return k
		}
	}
	return -1
}

func (c *compiler) joints(v *design.Variant) {
	for i := range v.Bodies {
		for k := range v.Bodies[i].Joints {
			l := &v.Bodies[i].Joints[k]
			a, b := c.bodies[i], c.bodies[c.bodyIndex[l.BodyID]]
			r, ok := heat.JointKPerW(&l.Joint)
			if !ok {
				c.lacksLater(v.Bodies[i].ID, fmt.Sprintf("%s/bodies/%d/joints/%d/joint", c.at, i, k), "the joint between %s and %s has no K/W: taken as perfect", v.Bodies[i].Name, v.Bodies[c.bodyIndex[l.BodyID]].Name)
			}
			if a >= 0 && b >= 0 {
				c.connect(a, b, heat.KPerW(r))
			}
		}
	}
}

// nodes puts every node, and every pack, on its body.
func (c *compiler) nodes() {
	lumpOf := func(id string) int {
		if i, ok := c.bodyIndex[id]; ok && id != "" {
			if c.bodies[i] < 0 || c.net.Variant.Bodies[i].KeepsLight {
				if c.inner[i] >= 0 {
					return c.inner[i] // what stands loose in a tent warms its air
				}
			}
			return c.bodies[i]
		}
		return -1
	}
	for i := range c.net.Feeders {
		c.cellBody = append(c.cellBody, lumpOf(c.net.Feeders[i].BodyID))
	}
	nodes := index(c.net.Variant)
	c.plates(nodes)
	for k := range c.net.Nodes {
		n := &c.net.Nodes[k]
		c.bodyOf, c.keeps = append(c.bodyOf, lumpOf(n.BodyID)), append(c.keeps, c.keepsLight(n.BodyID))
		c.junction, c.board, c.spots, c.under = append(c.junction, -1), append(c.board, -1), append(c.spots, nil), append(c.under, nil)
		c.boards = append(c.boards, nil)
		if n.Kind == circuit.Array && n.Chosen {
			c.array(k, n, nodes[n.ID].Array)
		}
		if n.Kind == circuit.Strip && n.Chosen && c.bodyOf[k] >= 0 {
			c.adhesive(k, n, nodes[n.ID].Strip)
		}
	}
	c.lowerings(nodes)
	c.missing = append(c.missing, c.late...)
}

// keepsLight is the lump of the air of a tent that keeps the light of what sits on a body;
// −1: the light leaves.
func (c *compiler) keepsLight(body string) int {
	i, ok := c.bodyIndex[body]
	if !ok || body == "" {
		return -1
	}
	v := c.net.Variant
	if in := v.Bodies[i].Inside; in != "" {
		i = c.bodyIndex[in]
	}
	if !v.Bodies[i].KeepsLight {
		return -1
	}
	return c.inner[i]
}

// commonStripJPerKM is the heat capacity of a metre of flexible strip, J/(K·m) (common
// practice: some 20 g of copper, plastic and parts).
const commonStripJPerKM = 20

// adhesive puts a strip's back between it and its body, where what it is stuck on with has a
// resistance, or the body spreads its heat badly.
func (c *compiler) adhesive(k int, n *circuit.Node, use *design.StripUse) {
	strip, whole := c.parts[use.PartID].Strip, 0.0
	for _, m := range use.PiecesM {
		whole += m
	}
	spreads := 0.0
	if law := c.shapes[n.BodyID]; law != nil && strip.WidthM != nil {
		spreads = law.StripSpreadKPerW(c.shapeOf[n.BodyID], whole*n.Times, c.stripOn(n.BodyID), *strip.WidthM) * n.Times
	}
	if use.Joint == nil && spreads == 0 {
		return
	}
	kPerW, bear := 0.0, bears(nil)
	if use.Joint != nil {
		joint := *use.Joint
		if joint.AreaM2 == nil && strip.WidthM != nil {
			area := *strip.WidthM * whole
			joint.AreaM2 = &area
		}
		var ok bool
		if kPerW, ok = heat.JointKPerW(&joint); !ok {
			c.lacks(n.ID, n.Pointer+"/strip/joint", "the adhesive under %s has no K/W: taken as perfect; give its thickness and conductivity, and the width of the strip", n.DisplayName())
		}
		bear = bears(joint.MaxC)
	}
	back := c.lump(n.ID, "the back of "+n.DisplayName(), commonStripJPerKM*whole*n.Times, bear)
	c.connect(back, c.bodyOf[k], heat.Layers{kPerW / n.Times, spreads / n.Times})
	c.spreadsUnder(k, spreads)
	c.bodyOf[k], c.board[k] = back, back
}

// stripOn is how much strip sits on a body, m.
func (c *compiler) stripOn(body string) float64 {
	sum := 0.0
	nodes := index(c.net.Variant)
	for k := range c.net.Nodes {
		if n := &c.net.Nodes[k]; n.Kind == circuit.Strip && n.BodyID == body && nodes[n.ID] != nil {
			for _, m := range nodes[n.ID].Strip.PiecesM {
				sum += m * n.Times
			}
		}
	}
	return sum
}

func index(v *design.Variant) map[string]*design.Node {
	nodes := map[string]*design.Node{}
	for n := range design.Nodes(v) {
		nodes[n.ID] = n
	}
	return nodes
}

// Heat capacities where the data are silent, J/K for one emitter (common
// practice; they matter in the first seconds only).
const (
	commonDieJPerK   = 0.02
	commonBoardJPerK = 1.5
)

func (c *compiler) lacksRth(node, id string) {
	if part := c.parts[id]; part.Emitter.RthKPerW == nil {
		c.lacks(node, c.partAt[id]+"/emitter/rThKPerW", "the thermal resistance of %s is not known: its junction is shown as hot as its case", part.Name)
	}
}

// array is the way from an array's junctions to its body.
func (c *compiler) array(k int, n *circuit.Node, a *design.Array) {
	if n.BodyID == "" {
		c.lacks(n.ID, n.Pointer+"/bodyId", "the emitters are mounted on nothing: their temperature cannot be told")
		return
	}
	base := c.bodyOf[k]
	if base < 0 {
		return // said where the body is compiled
	}
	e := c.parts[a.PartID].Emitter
	c.lacksRth(n.ID, a.PartID)
	for i := range a.Mixed {
		c.lacksRth(n.ID, a.Mixed[i].PartID)
	}
	boards := float64(max(a.Count, 1)) * n.Times
	live := float64(max(n.Arr.Emitters(), 1)) * n.Times
	board := commonBoardJPerK * float64(n.Arr.Strings()) * float64(a.Series) * n.Times
	if a.BoardJPerK != nil {
		board = *a.BoardJPerK * boards
	}
	joint, ok := heat.JointKPerW(a.Joint)
	if !ok {
		c.lacks(n.ID, n.Pointer+"/array/joint", "the joint under the emitters has no K/W: taken as perfect")
	}
	on := c.plateOf[n.ID]
	stands := []stand{{base, 1, nil}}
	if len(on) > 0 {
		stands = stands[:0]
		for _, seat := range on {
			stands = append(stands, stand{seat.lump, float64(seat.strings) / float64(n.Arr.Strings()), seat})
		}
	}
	// down is the way of the boards of a stand to what they are on: the joint, and how that spreads
	// their heat.
	spreads := 0.0
	if len(on) == 0 { // under a place the plate has it
		spreads = c.spreading(n.BodyID, a.Joint, boards) / boards
	}
	down := func(at stand) heat.Layers {
		if at.on != nil {
			return heat.Layers{joint/(boards*at.share) + at.on.padKPerW()}
		}
		return heat.Layers{joint / boards, spreads}
	}
	if len(n.Arr.Groups) > 1 || n.Arr.Kinds() > 1 {
		c.apart(k, n, a, stands, board)
		for i, at := range stands {
			c.connect(c.boards[k][i].lump, at.lump, down(at))
			c.spreadsUnder(k, spreads)
			at.leads(len(c.links) - 1)
		}
		return
	}
	bear, at := bears(e.MaxJunctionC), stands[0]
	c.junction[k] = c.lump(n.ID, "the junction of "+n.DisplayName(), dieJPerK(e)*live, bear)
	c.board[k] = c.lump(n.ID, "the board of "+n.DisplayName(), board, bear)
	c.connect(c.junction[k], c.board[k], heat.KPerW(n.Arr.Emitter.RthKPerW/live))
	c.connect(c.board[k], at.lump, append(heat.Layers{n.OwnKPerW / live}, down(at)...))
	c.spreadsUnder(k, spreads)
	at.leads(len(c.links) - 1)
	c.ways = append(c.ways, way{k, c.junction[k], c.board[k], at.lump, len(c.links) - 2, len(c.links) - 1})
}

// A stand is what a share of an array's strings is mounted on: its body, or a seat of a plate.
type stand struct {
	lump  int
	share float64
	on    *plated // nil: the body
}

// leads tells a seat which link leads to it.
func (s *stand) leads(link int) {
	if s.on != nil {
		s.on.down = link
	}
}

// spreadsUnder keeps the link that was just made as one whose last layer is in the body, if that
// layer is any.
func (c *compiler) spreadsUnder(k int, spreads float64) {
	if spreads > 0 && len(c.plateOf[c.net.Nodes[k].ID]) == 0 {
		c.under[k] = append(c.under[k], len(c.links)-1)
	}
}

// spreading is what each of some boards alike adds under its contact area, taken as a
// square, on a body that is known by its measures, K/W.
func (c *compiler) spreading(body string, joint *design.Joint, boards float64) float64 {
	law := c.shapes[body]
	if law == nil || joint == nil || joint.AreaM2 == nil {
		return 0
	}
	side := math.Sqrt(*joint.AreaM2)
	return law.SpreadKPerW(c.shapeOf[body], side, side, boards)
}

func dieJPerK(e *design.Emitter) float64 {
	if e.HeatJPerK != nil {
		return *e.HeatJPerK
	}
	return commonDieJPerK
}

// apart gives each kind of emitters in each group of strings a junction of its own: they
// carry unlike currents, or make unlike heat of the same one. Strings that are said to be
// hotter by a step have the ordinary ones' junctions and that step.
func (c *compiler) apart(k int, n *circuit.Node, a *design.Array, stands []stand, boardJPerK float64) {
	kinds := n.Arr.Kinds()
	ids := []string{a.PartID}
	for i := range a.Mixed {
		ids = append(ids, a.Mixed[i].PartID)
	}
	bear := bears(c.parts[a.PartID].Emitter.MaxJunctionC)
	for _, at := range stands {
		c.boards[k] = append(c.boards[k], board{c.lump(n.ID, "the board of "+n.DisplayName(), boardJPerK*at.share, bear), at.share})
	}
	spots := make([]int, len(n.Arr.Groups)*kinds)
	first := -1
	for g := range n.Arr.Groups {
		group := &n.Arr.Groups[g]
		for kind := range kinds {
			m, live := n.Arr.Of(g, kind)
			spots[g*kinds+kind] = -1
			if group.Strings <= 0 || group.Open || group.HotterK != 0 || live <= 0 {
				continue
			}
			e := c.parts[ids[kind]].Emitter
			emitters := float64(group.Strings*live) * n.Times
			lump := c.lump(n.ID, "a junction of "+n.DisplayName(), dieJPerK(e)*emitters, bears(e.MaxJunctionC))
			spots[g*kinds+kind] = lump
			if first < 0 {
				first = lump
			}
			// What they do not share: their own resistance and their share of the board.
			c.connect(lump, c.boards[k][c.seatAt(k, g)].lump, heat.Layers{m.RthKPerW / emitters, n.OwnKPerW / emitters})
		}
	}
	c.board[k] = c.boards[k][0].lump
	if first < 0 {
		first = c.board[k] // nothing carries current by itself: what is hotter by a step is so than the board
	}
	c.junction[k], c.spots[k] = first, spots
}
