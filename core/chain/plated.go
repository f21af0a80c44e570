package chain

import (
	"fmt"
	"slices"

	"gonum.org/v1/gonum/mat"

	"photherm/core/design"
	"photherm/core/heat"
)

// A plated array is one whose boards have places on a plate, or a seat of one: heat reaches its
// body through the plate, past its neighbours.
type plated struct {
	node    int // in the network
	strings int // that sit there
	lump    int // the plate under its pads, on average
	down    int // link from its board to that; −1: nothing is chosen that would stand there
	spots   []platedSpot
}

// A platedSpot is one of its pads: how far the plate rises under it above the body's mean for
// each watt of each plated array on that plate, K/W, and what the pad itself adds for each
// watt into it.
type platedSpot struct {
	index  int // in the layout
	kPerW  []float64
	narrow float64
}

// A plate is a body's face with what is laid out on it.
type plate struct {
	layout int
	law    heat.Plate
	body   int // lump
	rest   heat.Rest
	pads   []heat.Pad // of each spot
	arrays []plated
}

// leastPlateKPerW keeps pads that together cover all of a plate apart from its mean.
const leastPlateKPerW = 1e-3

// plates lays out what has places. A layout that cannot be solved is told, and what is on it
// spreads as if it had no places.
func (c *compiler) plates(nodes map[string]*design.Node) {
	v := c.net.Variant
	c.plateOf = map[string][]*plated{}
	for i := range v.Layouts {
		l, here := &v.Layouts[i], fmt.Sprintf("%s/layouts/%d", c.at, i)
		if len(l.Spots) == 0 {
			continue
		}
		faults := design.LayoutFaults(c.light, c.options.Variant, i)
		for _, f := range faults {
			c.lacksLater(l.BodyID, c.at+f.Pointer, "nothing is told of places on %s: %s", v.Body(l.BodyID).Name, f.Message)
		}
		body, law := v.Body(l.BodyID), c.shapes[l.BodyID]
		if len(faults) > 0 || law == nil {
			continue // what a body lacks was said there
		}
		face, ok := law.Plate(c.shapeOf[l.BodyID])
		if !ok {
			c.lacksLater(l.BodyID, fmt.Sprintf("%s/bodies/%d/shape/thicknessM", c.at, c.bodyIndex[l.BodyID]), "how heat spreads along %s is not known: give its thickness", body.Name)
			continue
		}
		if err := c.plate(i, l, law, face, nodes); err != nil {
			c.lacksLater(l.BodyID, here, "nothing is told of places on %s: %v", body.Name, err)
		}
	}
}

// plate makes one of them: the pads' influence on each other becomes conductances between
// the arrays and their body, whose temperature is the plate's mean.
func (c *compiler) plate(at int, l *design.Layout, law *heat.Body, face heat.Plate, nodes map[string]*design.Node) error {
	shape := c.shapeOf[l.BodyID]
	count := map[string]int{}
	for i := range l.Spots {
		count[l.Spots[i].NodeID]++
	}
	pads, narrow := make([]heat.Pad, len(l.Spots)), make([]float64, len(l.Spots))
	for i := range l.Spots {
		s := &l.Spots[i]
		pads[i] = heat.Pad{XM: s.XM, YM: s.YM}
		pads[i].LengthM, pads[i].WidthM = s.Pad(nodes[s.NodeID].Array, count[s.NodeID])
		narrow[i] = c.narrow(law, shape, face, pads[i])
	}
	rest := c.restOf(l)
	influence, err := heat.InfluencesOf(face, pads, rest)
	if err != nil {
		return err
	}
	p := plate{layout: at, law: face, rest: rest, pads: pads, body: c.bodies[c.bodyIndex[l.BodyID]]}
	ids, seats := c.seatPlate(l, nodes, influence, narrow)
	var owners []string
	of := make([]int, len(pads))
	for _, id := range ids {
		for _, seat := range seats[id] {
			for _, i := range seat.spots {
				of[i] = len(p.arrays)
			}
			p.arrays, owners = append(p.arrays, plated{node: c.nodeNamed(id), strings: seat.strings, down: -1, spots: make([]platedSpot, len(seat.spots))}), append(owners, id)
		}
	}
	n := len(p.arrays)
	mean := mat.NewSymDense(n, nil)
	filled := make([]int, n)
	for i := range pads {
		s := platedSpot{index: i, kPerW: make([]float64, n), narrow: narrow[i]}
		for j := range pads {
			s.kPerW[of[j]] += influence.KPerW[i][j] / float64(len(p.arrays[of[j]].spots))
		}
		p.arrays[of[i]].spots[filled[of[i]]] = s
		filled[of[i]]++
	}
	for a := range n {
		for b := a; b < n; b++ {
			sum := 0.0
			for _, s := range p.arrays[a].spots {
				sum += s.kPerW[b] / float64(len(p.arrays[a].spots))
			}
			if a == b {
				sum = max(sum, 0) + leastPlateKPerW
			}
			mean.SetSym(a, b, sum)
		}
	}
	var g mat.Dense
	if err := g.Inverse(mean); err != nil {
		return fmt.Errorf("how its pads warm each other cannot be told apart: %w", err)
	}
	m := heat.MaterialOf(shape)
	for a, id := range owners {
		under := 0.0
		for i := range pads {
			if of[i] == a {
				under += pads[i].LengthM * pads[i].WidthM
			}
		}
		p.arrays[a].lump = c.lump(id, "the plate under "+nodes[id].Called(), under**shape.ThicknessM*m.KgPerM3*m.JPerKgK, solidC)
		c.plateOf[id] = append(c.plateOf[id], &p.arrays[a])
	}
	for a := range n {
		whole := 0.0
		for b := range n {
			whole += g.At(a, b)
			if b > a {
				c.connect(p.arrays[a].lump, p.arrays[b].lump, heat.Conducts(-g.At(a, b)))
			}
		}
		c.connect(p.arrays[a].lump, p.body, heat.Conducts(whole))
	}
	c.Model.plates = append(c.Model.plates, p)
	return nil
}

// restOf are the holes of a layout, and its held edges with what the joints of its body lead
// away.
func (c *compiler) restOf(l *design.Layout) (r heat.Rest) {
	for _, k := range l.KeepOuts {
		if k.Hole {
			r.Holes = append(r.Holes, heat.Pad{XM: k.XM, YM: k.YM, LengthM: k.LengthM, WidthM: k.WidthM})
		}
	}
	for i, edge := range [4]string{"left", "right", "top", "bottom"} {
		r.Held[i] = slices.Contains(l.Held, edge)
	}
	v := c.net.Variant
	for i := range v.Bodies {
		for k := range v.Bodies[i].Joints {
			if j := &v.Bodies[i].Joints[k]; v.Bodies[i].ID == l.BodyID || j.BodyID == l.BodyID {
				kPerW, _ := heat.JointKPerW(&j.Joint)
				r.HeldW += 1 / max(kPerW, heat.PerfectKPerW)
			}
		}
	}
	return r
}

// narrow is what a pad adds because heat also goes down, K/W; it is the same for all pads of
// one size.
func (c *compiler) narrow(law *heat.Body, shape *design.Shape, face heat.Plate, pad heat.Pad) float64 {
	key := [2]float64{pad.LengthM, pad.WidthM}
	if r, ok := c.narrows[key]; ok && c.narrowsOf == shape {
		return r
	}
	if c.narrowsOf != shape {
		c.narrows, c.narrowsOf = map[[2]float64]float64{}, shape
	}
	r := law.PadKPerW(shape, face, pad.LengthM, pad.WidthM)
	c.narrows[key] = r
	return r
}

// padKPerW is what the pads of a plated array add together.
func (p *plated) padKPerW() float64 {
	sum := 0.0
	for i := range p.spots {
		sum += p.spots[i].narrow
	}
	n := float64(len(p.spots))
	return sum / n / n
}

// above is how far the plate is under a spot of an array above its mean there, K, and above
// that the pad itself, at the heat that flows in s.
func (p *plate) above(s *Solver, array, spot int) (plateK, padK float64) {
	x := &p.arrays[array]
	mine := &x.spots[spot]
	for b := range p.arrays {
		mean := 0.0
		for i := range x.spots {
			mean += x.spots[i].kPerW[b] / float64(len(x.spots))
		}
		plateK += (mine.kPerW[b] - mean) * s.intoPlate(&p.arrays[b])
	}
	n := float64(len(x.spots))
	return plateK, (mine.narrow - x.padKPerW()*n) * s.intoPlate(x) / n
}

// intoPlate is the heat that goes into a plate from an array's boards, W.
func (s *Solver) intoPlate(p *plated) float64 {
	if p.down < 0 {
		return 0
	}
	return s.flowW(&s.links[p.down], s.y)
}

// hottestSpotK is how far the hottest of the places of a seat of an array is above their mean, K.
func (s *Solver) hottestSpotK(k, seat int) float64 {
	hot := 0.0
	for i := range s.m.plates {
		p, n := &s.m.plates[i], 0
		for a := range p.arrays {
			if p.arrays[a].node != k {
				continue
			}
			if n++; n-1 != seat {
				continue
			}
			for spot := range p.arrays[a].spots {
				plateK, padK := p.above(s, a, spot)
				hot = max(hot, plateK+padK)
			}
		}
	}
	return hot
}

// A Place is what a spot of a layout is at.
type Place struct {
	Layout  int     `json:"layout" doc:"Index of the layout"`
	Spot    int     `json:"spot" doc:"Index of the spot in it"`
	Node    string  `json:"node" doc:"Id of the array"`
	HeatW   float64 `json:"heatW" doc:"Heat that goes in there, W"`
	PlateC  float64 `json:"plateC" doc:"The plate under its pad, on average, °C"`
	CaseC   float64 `json:"caseC" doc:"Its case, °C"`
	JunctC  float64 `json:"junctionC" doc:"Its junction, °C"`
	AboveK  float64 `json:"aboveK" doc:"How far it is above these emitters on average, K"`
	Hottest bool    `json:"hottest" doc:"Whether no place of these emitters is hotter"`
}

// Places tells what every spot that can be solved is at, in the state solved last.
func (s *Solver) Places() []Place {
	out := []Place{}
	for i := range s.m.plates {
		p := &s.m.plates[i]
		seats := map[int]int{}
		first := map[int]int{}
		for a := range p.arrays {
			x := &p.arrays[a]
			if x.down < 0 {
				continue
			}
			seat := seats[x.node]
			if seats[x.node]++; seat == 0 {
				first[x.node] = len(out)
			}
			caseC, junctionC := s.seatCaseC(x.node, seat), s.seatJunctionC(x.node, seat)
			for spot := range x.spots {
				plateK, padK := p.above(s, a, spot)
				up := plateK + padK
				out = append(out, Place{Layout: p.layout, Spot: x.spots[spot].index, Node: s.m.net.Nodes[x.node].ID, HeatW: s.intoPlate(x) / float64(len(x.spots)), PlateC: s.lumpC(s.y, x.lump) + plateK,
					CaseC: caseC + up, JunctC: junctionC + up})
			}
		}
		for k, from := range first {
			markPlaces(out[from:], s.m.net.Nodes[k].ID)
		}
	}
	return out
}

// markPlaces sets how far the places of an array stand above their mean, by their cases, and which is
// the hottest.
func markPlaces(places []Place, node string) {
	mean, n, hot := 0.0, 0, -1
	for i := range places {
		if places[i].Node != node {
			continue
		}
		mean, n = mean+places[i].CaseC, n+1
		if hot < 0 || places[i].CaseC > places[hot].CaseC {
			hot = i
		}
	}
	for i := range places {
		if places[i].Node == node {
			places[i].AboveK = places[i].CaseC - mean/float64(n)
		}
	}
	places[hot].Hottest = true
}

// A Map is a plate seen from above, at the state solved last.
type Map struct {
	Layout  int       `json:"layout" doc:"Index of the layout"`
	LengthM float64   `json:"lengthM"`
	WidthM  float64   `json:"widthM"`
	NX      int       `json:"nx" doc:"Cells along the length"`
	NY      int       `json:"ny" doc:"Cells along the width"`
	C       []float64 `json:"c" nullable:"false" doc:"Temperature of each cell, °C, along the length first; of one that is cut out what is beside it"`
	MeanC   float64   `json:"meanC" doc:"Of the body, °C"`
	IntoW   float64   `json:"intoW" doc:"Heat that goes in under the pads, W"`
	OffW    float64   `json:"offW" doc:"Heat that leaves the map, W: the same, as far as the map is right"`
}

// MapOf is the map of a layout, its longer side cut into so many cells: the pads' heat on the
// sheet, whose mean stands where the body does. Nil: the layout cannot be solved.
func (s *Solver) MapOf(layout, longer int) (*Map, error) {
	for i := range s.m.plates {
		if p := &s.m.plates[i]; p.layout == layout {
			return s.mapOf(p, longer)
		}
	}
	return nil, nil
}

func (s *Solver) mapOf(p *plate, longer int) (*Map, error) {
	sheet := p.law.Sheet(longer, p.rest)
	heatW := make([]float64, sheet.NX*sheet.NY)
	out := &Map{Layout: p.layout, LengthM: p.law.LengthM, WidthM: p.law.WidthM, NX: sheet.NX, NY: sheet.NY, MeanC: s.lumpC(s.y, p.body)}
	for a := range p.arrays {
		x := &p.arrays[a]
		each := s.intoPlate(x) / float64(len(x.spots))
		out.IntoW += s.intoPlate(x)
		for i := range x.spots {
			sheet.Cover(p.pads[x.spots[i].index], func(c int, share float64) { heatW[c] += each * share })
		}
	}
	rise, err := sheet.Solve(heatW)
	if err != nil {
		return nil, fmt.Errorf("drawing the map of a plate: %w", err)
	}
	// The mean by which heat leaves stands where the body does.
	for c := range rise {
		film := sheet.Film
		if sheet.Films != nil {
			film = sheet.Films[c]
		}
		out.OffW += film * sheet.CellX * sheet.CellY * rise[c] // of cells that are cut out 0
	}
	mean := out.OffW / sheet.PerKelvinW()
	for c := range rise {
		rise[c] += out.MeanC - mean
	}
	if sheet.Hole != nil {
		fillHoles(rise, sheet)
	}
	out.C = rise
	return out, nil
}

// fillHoles gives cells that are cut out what is beside them, so that lines of equal
// temperature go up to a hole and not around it.
func fillHoles(c []float64, sheet *heat.Sheet) {
	open := append([]bool(nil), sheet.Hole...)
	for left := true; left; {
		left = false
		was := append([]bool(nil), open...)
		for i := range c {
			if !was[i] {
				continue
			}
			sum, n := 0.0, 0.0
			for _, k := range [4]int{i - 1, i + 1, i - sheet.NX, i + sheet.NX} {
				if k >= 0 && k < len(c) && !was[k] && (k/sheet.NX == i/sheet.NX || k%sheet.NX == i%sheet.NX) {
					sum, n = sum+c[k], n+1
				}
			}
			if left = true; n > 0 {
				c[i], open[i] = sum/n, false
			}
		}
		if left && len(open) > 0 && slices.Equal(open, was) {
			return // nothing is left around them
		}
	}
}
