package circuit

import (
	"math"

	"photherm/core/array"
	"photherm/core/driver"
)

// Bounds of the search in a region. The tolerance is a share of the highest voltage: far
// below what any meter reads, near what doubles hold.
const (
	mostRounds = 200
	nearV      = 1e-11
	tangentV   = 2e-7 // within this the error of a forward curve's tangent is below nearV
	mostRises  = 120
	tangents   = 12   // rounds in which an array's curve is taken by its tangent
	risesV     = 1e-9 // by how much a voltage may rise on the way down and still be rounding
)

// feed finds the voltages of a region from what feeds its root, and what is drawn there:
// in a root's u, drawA and drawG.
func (s *Solver) feed(r int, o *offer) {
	x := &s.buses[r]
	if open := o.openV(); open <= 0 || math.IsNaN(open) {
		for b := r; b < x.end; b++ {
			s.buses[b].u, s.buses[b].warm = 0, false
		}
		for l := x.first; l >= 0; l = s.leaves[l].next {
			s.leaves[l].a, s.leaves[l].g = 0, 0
		}
		x.drawA, x.drawG = 0, 0
		return
	}
	if x.first < 0 && x.end == r+1 && len(o.feeders) < 2 { // several feed each other
		x.u, x.drawA, x.drawG = o.openV(), 0, 0
		return
	}
	if x.owner >= 0 && x.ownerBus >= 0 && s.Low[x.owner] {
		s.rise(r, o)
		return
	}
	// What ruled the last time is tried first: its limit, or not.
	if x.warm && s.onlyArray(r, o) || s.parallel(r, o) || !x.warm && s.onlyArray(r, o) {
		return
	}
	if s.region(r, o) || s.restart {
		return
	}
	s.scan(r, o)
}

// onlyArray solves a root on which an only array hangs, behind the resistance of a plain
// offer: a closed form. It gives up where the limit rules.
func (s *Solver) onlyArray(r int, o *offer) bool {
	x := &s.buses[r]
	if x.end != r+1 || x.first < 0 || s.leaves[x.first].next >= 0 || s.leaves[x.first].kind != arrayLeaf || o.feeders != nil || !o.env.Plain() {
		return false
	}
	if o.env.CornerV() > 0 && o.env.SeriesOhm <= regulatedOhm {
		return false // in control: its limit rules
	}
	f := &s.leaves[x.first]
	s.spend(r)
	a, g := s.Nodes[f.node].Arr.Draw(o.env.OpenV-f.v0, f.ohm+f.w*o.env.SeriesOhm, s.JunctionC[f.node], f.a/f.w)
	g = f.w * g / (1 - g*f.w*o.env.SeriesOhm)
	if a *= f.w; a > o.env.LimitA {
		return false
	}
	f.a, f.g, f.i = a, g, 0
	x.u, x.drawA, x.drawG, x.brk, x.warm = o.env.OpenV-a*o.env.SeriesOhm, a, f.g, 0, true
	return true
}

// regulatedOhm is the output resistance up to which a supply is taken as in control.
const regulatedOhm = 1e-3

// parallel solves a root on which only arrays hang and whose current limit rules: the
// unknowns are its voltage and the current of every kind of string, so that each round
// looks at each forward curve once. It gives up where that is not so.
func (s *Solver) parallel(r int, o *offer) bool {
	x := &s.buses[r]
	kinds := s.kinds[x.kindLo:x.kindHi]
	if len(kinds) == 0 || o.feeders != nil || !o.env.Plain() || math.IsInf(o.env.LimitA, 1) || o.env.LimitA <= 0 {
		return false
	}
	limit, corner := o.env.LimitA, o.env.CornerV()
	total := 0.0
	for i := range kinds {
		total += kinds[i].n
	}
	for i := range kinds {
		if kinds[i].a <= 0 {
			kinds[i].a = limit / total
		}
	}
	if len(kinds) == 1 {
		kinds[0].a = limit / kinds[0].n
	}
	v, g := 0.0, 0.0
	for round := 0; ; round++ {
		if round == mostRounds {
			return false
		}
		var sum, gv float64
		sum, g, gv = s.tangentsOf(r, kinds)
		v = (limit - sum + gv) / g
		if round == 0 && len(kinds) == 1 {
			v = kinds[0].v
			break
		}
		off := stepTo(v, kinds)
		if v > 2*corner && corner > 0 && round > 8 || math.IsNaN(v) {
			return false
		}
		// What a tangent misses goes with the square of how far it reaches.
		if off <= tangentV*math.Abs(v) {
			break
		}
	}
	if v > corner {
		return false
	}
	x.u, x.drawA, x.drawG, x.warm, x.brk = v, limit, g, false, 0
	i := 0
	for l := x.first; l >= 0; l = s.leaves[l].next {
		f := &s.leaves[l]
		f.a, f.g = 0, 0
		for ; i < len(kinds) && kinds[i].node == f.node; i++ {
			f.a += kinds[i].n * kinds[i].a
			f.g += kinds[i].slope
		}
	}
	return true
}

// tangentsOf takes the curves of kinds of strings by their tangents: their currents,
// slopes, and slopes times voltages, added up.
func (s *Solver) tangentsOf(r int, kinds []kind) (sum, g, gv float64) {
	for i := range kinds {
		k := &kinds[i]
		s.spend(r)
		volts, ohm := s.Nodes[k.node].Arr.StringOhm(k.group, k.a, s.JunctionC[k.node])
		k.v, k.slope = volts+k.v0+k.a*k.ohm, k.n/(ohm+k.ohm)
		sum += k.n * k.a
		g += k.slope
		gv += k.slope * k.v
	}
	return sum, g, gv
}

// stepTo moves currents along their tangents to a voltage, far ones by a factor. It
// answers how far the farthest was.
func stepTo(v float64, kinds []kind) (off float64) {
	for i := range kinds {
		k := &kinds[i]
		off = max(off, math.Abs(v-k.v))
		k.a = array.Along(k.a, k.slope*(v-k.v)/k.n)
	}
	return off
}

// region solves all buses of a region together by Newton's steps, eliminating from the
// leaves to the root. It is true if that gave the highest crossing.
//
// Where every draw rises with its voltage and the offer falls there is one crossing
// only, and any way to it will do. Elsewhere the search begins from no load, where more
// is drawn than offered everywhere: between breaks draws are convex, so that each step
// stops above the highest crossing (monotone Newton theorem; Ortega & Rheinboldt,
// Iterative Solution of Nonlinear Equations in Several Variables, 13.3, from memory; the
// tests compare with brute force). No step passes a break. A bus whose draw falls
// faster than its offer rises has no crossing down to the next break, and goes there at
// once; without one its drivers break down, and are taken out.
func (s *Solver) region(r int, o *offer) bool {
	x := &s.buses[r]
	alone := x.monotone && o.falling()
	if !alone && !o.concave() {
		return false
	}
	base := len(s.order)
	ok := s.descend(r, base, o, alone)
	for i := base; i < len(s.order); i++ {
		b := &s.buses[s.order[i]]
		b.warm = ok && alone
		for l := b.first; l >= 0; l = s.leaves[l].next {
			f := &s.leaves[l]
			if f.joined {
				// With its limit in force it is back in control.
				f.before = b.warm && s.buses[s.out[f.node]].link > 0
			}
			f.joined = false
		}
	}
	s.order = s.order[:base]
	return ok
}

// enter adds a bus and its static subtree to the region being solved, from the bus
// above it.
func (s *Solver) enter(b, up int, ohm, v0, limit float64) {
	end := s.buses[b].end
	for c := b; c < end; c++ {
		x := &s.buses[c]
		x.up, x.upOhm, x.upV0, x.upLimit = x.parent, x.ohm, x.v0, unlimited
		x.pin, x.jump, x.held, x.from, x.low = -1, -1, false, 0, 0
		if c == b {
			x.up, x.upOhm, x.upV0, x.upLimit = up, ohm, v0, limit
		}
		s.order = append(s.order, c)
	}
}

// begin sets where buses begin: at no load, or lower where an array alone would draw
// the voltage down as far; or, warm, where they stand from an earlier solution.
func (s *Solver) begin(b int, openV, ohm, limit float64, warm bool) {
	if warm {
		return
	}
	x := &s.buses[b]
	for c := b; c < x.end; c++ {
		y := &s.buses[c]
		top := openV
		if c != b {
			top = s.buses[y.parent].u - y.v0
		}
		y.u = top
	}
	if !x.arrays {
		return
	}
	for c := b; c < x.end; c++ {
		for l := s.buses[c].first; l >= 0; l = s.leaves[l].next {
			if f := &s.leaves[l]; f.kind == arrayLeaf {
				s.lower(b, c, f, openV, ohm, limit)
			}
		}
	}
	for c := b + 1; c < x.end; c++ {
		y := &s.buses[c]
		y.u = min(y.u, s.buses[y.parent].u-y.v0)
	}
}

// lower takes down the buses on the way to an array as far as it alone would draw them.
func (s *Solver) lower(b, c int, f *leaf, openV, ohm, limit float64) {
	way, v0 := ohm, 0.0
	for at := c; at != b; at = s.buses[at].parent {
		way += s.buses[at].ohm
		v0 += s.buses[at].v0
	}
	s.spend(c)
	n, t := &s.Nodes[f.node], s.JunctionC[f.node]
	a, _ := n.Arr.Draw(openV-v0-f.v0, way*f.w+f.ohm, t, f.a/f.w)
	if a *= f.w; a > limit {
		a = limit
		if v := n.Arr.VoltageV(limit/f.w, t) + limit/f.w*f.ohm + f.v0 + v0; !math.IsInf(v, 1) {
			openV = v + limit*way
		}
	}
	f.a = a
	for at := c; ; at = s.buses[at].parent {
		s.buses[at].u = min(s.buses[at].u, openV-v0-a*way)
		if at == b {
			return
		}
		way -= s.buses[at].ohm
		v0 -= s.buses[at].v0
	}
}

func (s *Solver) descend(r, base int, o *offer, alone bool) bool {
	B := s.buses
	open := o.openV()
	ohm, limit := o.limits()
	s.enter(r, -1, 0, 0, unlimited)
	s.begin(r, open, ohm, limit, alone && B[r].warm)
	scale := max(open, 1e-3)
	rises := 0
	for round := range mostRounds {
		s.apart = 0
		for i := base; i < len(s.order); i++ {
			s.look(s.order[i], alone, alone && round < tangents)
			if s.restart {
				return false
			}
		}
		s.flows(base, r, o)
		if bad := s.eliminate(base, alone); bad >= 0 {
			if alone || !s.fall(bad, base) {
				return false
			}
			if s.restart {
				return false
			}
			continue
		}
		clipped := false
		for s.clip(base, alone) {
			clipped = true
			s.flows(base, r, o)
			if s.eliminate(base, alone) >= 0 {
				return false
			}
		}
		far, pinned := 0.0, false
		for i := base; i < len(s.order); i++ {
			b := &B[s.order[i]]
			wanted := math.Abs(b.step)
			if !alone && !b.held && b.step > risesV*scale {
				switch {
				case b.jump >= 0 && b.pin < 0:
					b.pin = b.jump // between drawing and not drawing
					pinned = true
				case rises == mostRises:
					return false
				case b.u >= b.from:
					// It began where others had gone too far: up, but not above no load.
					if b.step = min(b.step, b.top-b.u); b.step <= 0 {
						return false
					}
					rises++
				default:
					// What it feeds through a driver is not quite convex, or jumps, and the
					// last step went too far: back, but not to where it came from.
					b.low = b.u
					b.step = min(b.step, (b.from-b.u)/2)
					rises++
				}
			} else if b.low > 0 && b.u+b.step < b.low {
				b.step = (b.low - b.u) / 2
			}
			if math.Abs(b.step) <= nearV*scale && wanted > risesV*scale {
				if rises == mostRises || b.low <= 0 {
					return false // it creeps to where it may not go
				}
				// Where it rose last others stood otherwise.
				b.low = 0
				clipped = true
				rises++
			}
			far = max(far, math.Abs(b.step))
		}
		if pinned {
			// Held there, others stand otherwise than when they last rose.
			for i := base; i < len(s.order); i++ {
				B[s.order[i]].low = 0
			}
			s.unhold(base)
			continue
		}
		if math.IsNaN(far) {
			return false
		}
		for i := base; i < len(s.order); i++ {
			s.move(&B[s.order[i]])
		}
		if max(far, s.apart) <= nearV*scale && !clipped {
			return s.arrive(r, base, o)
		}
		s.unhold(base)
	}
	return false
}

func (s *Solver) unhold(base int) {
	for i := base; i < len(s.order); i++ {
		s.buses[s.order[i]].held = false
	}
}

// move takes a step; what its leaves draw follows their slopes.
func (s *Solver) move(b *bus) {
	if b.step < 0 {
		b.from = b.u
	}
	b.u += b.step
	for l := b.first; l >= 0; l = s.leaves[l].next {
		f := &s.leaves[l]
		switch {
		case f.kind == arrayLeaf && f.i > 0:
			n := f.w * float64(s.Nodes[f.node].Arr.Groups[0].Strings)
			f.i = array.Along(f.i, (f.a+f.g*b.step)/n-f.i)
			f.a = n * f.i
		case f.kind == arrayLeaf && math.Abs(f.g*b.step) > 0.3*f.a:
			f.a = 0 // too far for a slope; a new look begins anew
		default:
			f.a += f.g * b.step
		}
	}
}

// arrive sums up a solution. What is drawn at the root is what all leaves draw: to the
// last digit, where a little voltage over a small resistance tells less.
func (s *Solver) arrive(r, base int, o *offer) bool {
	total := 0.0
	for i := base; i < len(s.order); i++ {
		b := &s.buses[s.order[i]]
		if b.pin >= 0 {
			// What holds it draws the rest.
			f := &s.leaves[b.pin]
			if f.a = b.slack; f.a < 0 || f.a > s.fullA(f)*(1+1e-9) {
				return false // it stands above its jump, or below
			}
		}
		for l := b.first; l >= 0; l = s.leaves[l].next {
			total += s.leaves[l].a
		}
	}
	x := &s.buses[r]
	_, slope := o.at(x.u)
	x.drawA, x.drawG = total, x.diag+slope
	return true
}

// tangent takes an array by the tangent of its curve at the current it has: one look at
// the curve, where to find its current for a voltage takes several. It is for regions
// with one crossing only. It is not ok for arrays of unlike strings.
func (s *Solver) tangent(b int, f *leaf, u float64) bool {
	law := &s.Nodes[f.node].Arr
	group := &law.Groups[0]
	if !law.Uniform() || group.Open || group.Strings <= 0 || u <= 0 || f.a <= 0 {
		return false
	}
	s.spend(b)
	strings := float64(group.Strings)
	n := strings * f.w
	f.i = f.a / n
	v, ohm := law.StringOhm(0, f.i, s.JunctionC[f.node])
	by := u - (v + f.v0 + f.a/f.w*f.ohm)
	f.g = n / (ohm + strings*f.ohm)
	f.a += f.g * by
	s.apart = max(s.apart, math.Abs(by))
	return true
}

// look works out draws and slopes of the leaves of a bus at its voltage, of arrays by
// their tangents if that will do. A driver that has lost control hands its bus to the
// region.
func (s *Solver) look(b int, sure, tangents bool) {
	x := &s.buses[b]
	x.residual, x.slope, x.brk, x.jump = 0, 0, 0, -1
	for l := x.first; l >= 0; l = s.leaves[l].next {
		f := &s.leaves[l]
		if f.kind == driverLeaf && !f.joined && s.joins(f, x.u, sure) {
			f.joined = true
			s.join(b, f, sure)
		}
		switch {
		case f.joined:
			s.ownAt(f, x.u)
		case f.kind != arrayLeaf || !tangents || !s.tangent(b, f, x.u):
			s.leaf(b, f, x.u)
		}
		x.residual -= f.a
		x.slope += f.g
		x.brk = max(x.brk, f.brk)
		if f.kind == auxLeaf && x.u == s.Nodes[f.node].StartV {
			x.jump = l
		}
	}
}

// joins tells whether a driver at an input voltage is but a resistance to what it
// feeds: a linear one that has run out of headroom.
//
// Where there is one crossing only, one that was so before is taken so again: as a
// resistance with a limit it is right in control too.
func (s *Solver) joins(f *leaf, u float64, sure bool) bool {
	k := f.node
	n := &s.Nodes[k]
	d := &n.Drv
	if d.Family != driver.Linear || f.w != 1 || s.Locked[k] || s.Collapsed[k] || u <= 0 || !n.kidsMonotone || d.LimitA() <= 0 {
		return false
	}
	if f.before && sure {
		return true
	}
	v, _ := s.hold(k)
	return u <= v+d.HeadroomV
}

// join adds the bus of a driver that has lost control to the region. It begins where
// the driver would hold it, or from the highest input: no lower than it will end.
// Where there is one crossing only, any begin will do, as from an earlier solution.
func (s *Solver) join(b int, f *leaf, sure bool) {
	c := s.out[f.node]
	limit := s.Nodes[f.node].Drv.LimitA()
	if h := &s.held[f.node]; !h.valid && !(f.before && sure) {
		h.stamp = 0
		s.hold(f.node)
	}
	f.before = false
	s.held[f.node].valid = false
	s.enter(c, b, max(s.Nodes[f.node].Drv.HeadroomV/limit, driver.WireOhm), 0, limit)
	for e := c; e < s.buses[c].end; e++ {
		s.buses[e].u = min(s.buses[e].u, s.buses[b].u)
	}
}

// hold finds what a driver's output stands at while it holds it: it is the same for
// every input that is high enough. v is +Inf if no input in the tree is.
func (s *Solver) hold(k int) (v, a float64) {
	h := &s.held[k]
	if h.stamp == s.stamp {
		return h.v, h.a
	}
	n := &s.Nodes[k]
	r := s.out[k]
	if t := s.like[k]; t >= 0 && s.held[t].stamp == s.stamp && s.held[t].valid && s.buses[s.buses[r].ownerBus].top == s.buses[s.buses[s.out[t]].ownerBus].top && s.asWarm(t, k) {
		s.takeOver(t, k)
		return h.v, h.a
	}
	o := offer{env: s.control(k)}
	s.feed(r, &o)
	h.v, h.a, h.stamp, h.valid = s.buses[r].u, s.buses[r].drawA, s.stamp, true
	if n.Drv.NeedsHeadroom() && h.a < n.Drv.LimitA()*(1-1e-12) {
		h.v = math.Inf(1)
	}
	return h.v, h.a
}

// control is what a driver offers while it is in control, whatever its input.
func (s *Solver) control(k int) driver.Envelope {
	d := &s.Nodes[k].Drv
	in := s.buses[s.buses[s.out[k]].ownerBus].top
	if d.Family == driver.Voltage && !d.StepsDown {
		from, _ := d.Conducts(d.SetV, 0)
		in = min(in, from)
	}
	return d.Envelope(in)
}

// leaf works out what a leaf draws at a voltage, its slope, and the next voltage below
// at which its law breaks: at a break the law is that below it.
func (s *Solver) leaf(b int, f *leaf, v float64) {
	s.spend(b)
	f.g, f.brk = 0, 0
	if v <= 0 {
		f.a = 0
		return
	}
	switch f.kind {
	case arrayLeaf:
		f.i = 0
		f.a, f.g = s.Nodes[f.node].Arr.Draw(v-f.v0, f.ohm, s.JunctionC[f.node], f.a/f.w)
	case stripLeaf:
		f.a, f.g = s.Nodes[f.node].Strip.Draw(v)
	case loadLeaf:
		s.loadAt(f, v)
	case auxLeaf:
		s.auxAt(f, v)
	case driverLeaf:
		s.driverAt(f, v)
	case ohmLeaf:
		f.a, f.g = v/f.ohm, 1/f.ohm
	case ownLeaf:
		s.ownAt(f, v)
	}
	f.a *= f.w
	f.g *= f.w
}

// loadAt is the draw of a measured load.
func (s *Solver) loadAt(f *leaf, v float64) {
	n := &s.Nodes[f.node]
	d := n.measured(v)
	f.a, f.g, f.brk = d.a*n.Scale, d.slope*n.Scale, d.brk
}

// fullA is what the auxiliaries of a leaf draw just above their start.
func (s *Solver) fullA(f *leaf) float64 {
	above := *f
	s.auxAt(&above, math.Nextafter(max(s.Nodes[f.node].StartV, driver.FadeV), unlimited))
	return above.a * f.w
}

// auxAt is the draw of an auxiliary: steady, fading below half a volt, nothing up to
// where it starts.
func (s *Solver) auxAt(f *leaf, v float64) {
	n := &s.Nodes[f.node]
	if v <= n.StartV {
		f.a = 0
		return
	}
	current := n.CurrentA
	if s.Feeds[n.Feed].off {
		current = n.StandbyA
	}
	current *= n.Scale
	f.brk = max(n.StartV, driver.FadeV)
	if v > driver.FadeV {
		f.a = current
		return
	}
	f.brk = n.StartV
	f.g = current / driver.FadeV
	f.a = f.g * v
}

// ownAt is what a driver draws beside what it passes on.
func (s *Solver) ownAt(f *leaf, v float64) {
	f.a, f.g = s.Nodes[f.node].Drv.Quiescent(v)
	f.brk = 0
	if v > driver.FadeV && f.a > 0 {
		f.brk = driver.FadeV
	}
}

// driverAt is the draw of a driver from its input.
func (s *Solver) driverAt(f *leaf, u float64) {
	k := f.node
	n := &s.Nodes[k]
	d := &n.Drv
	limit := d.LimitA()
	switch {
	case s.Locked[k] || s.Collapsed[k]:
		s.ownAt(f, u)
		return
	case d.Off || limit <= 0 && (d.Regulates() || d.Family == driver.Voltage):
		t := d.Take(u, 0, 0)
		f.a, f.g = t.InA, t.PerInV
		return
	}
	f.nested = false
	if v, a, brk, ok := s.controls(k, u); ok {
		t := d.Take(u, v, a)
		f.a, f.g, f.brk = t.InA, t.PerInV, brk
	} else {
		s.nested(f, u)
	}
	if u > driver.FadeV && d.QuiescentA > 0 {
		f.brk = max(f.brk, driver.FadeV)
	}
}

// controls tells what a driver holds at its output at an input voltage, if that does
// not depend on the input, and down to which input it does.
func (s *Solver) controls(k int, u float64) (v, a, brk float64, ok bool) {
	n := &s.Nodes[k]
	d := &n.Drv
	switch {
	case d.Family == driver.Voltage:
		if !d.HoldsAlone(u) {
			return 0, 0, 0, false
		}
		v, a = s.hold(k)
		if !d.StepsUp {
			brk = d.SetV + d.HeadroomV
			if brk >= u {
				brk = math.Nextafter(u, 0)
			}
		} else if d.StepsDown && v < u {
			brk = v
		}
		return v, a, brk, true
	case !d.Regulates() || d.NeedsHeadroom() && !n.kidsMonotone:
		return 0, 0, 0, false
	}
	v, a = s.hold(k)
	switch d.Family {
	case driver.Linear, driver.Buck:
		brk = v + d.HeadroomV
		return v, a, brk, u > brk
	case driver.Boost:
		from, to := d.Conducts(v, a)
		switch {
		case u >= to:
			return 0, 0, 0, false
		case u > from:
			brk = from
		}
	default:
		if v < u {
			brk = v // it steps down above, up below
		}
	}
	return v, a, brk, true
}

// nested solves what a driver feeds as its input makes it.
func (s *Solver) nested(f *leaf, u float64) {
	k := f.node
	d := &s.Nodes[k].Drv
	r := s.out[k]
	x := &s.buses[r]
	f.nested = true
	s.held[k].valid = false
	o, open := offer{env: d.Envelope(u)}, d.OpenSlope(u)
	if through, ok := d.Through(u); ok && s.held[k].stamp == s.stamp {
		// It is asked only where it conducts, past what it would hold.
		o.env, open = through, 1
	}
	s.feed(r, &o)
	_, slope, follows := o.env.Offer(x.u)
	along := 0.0 // of its output voltage with its input
	if follows {
		along = open / o.env.SeriesOhm / (x.drawG - slope)
	}
	t := d.Take(u, x.u, x.drawA)
	f.a = t.InA
	f.g = t.PerInV + (t.PerOutV+t.PerOutA*x.drawG)*along
	if d.Family == driver.Boost {
		// held says where it would come back into control.
		if _, to := d.Conducts(s.held[k].v, s.held[k].a); to < u {
			f.brk = to
		}
	}
	if !follows && !d.StepsUp && d.Family != driver.BuckBoost && d.Family != driver.Window {
		// Just at the bend its output may come to a little more than that leaves.
		f.brk = max(f.brk, min(x.u+d.HeadroomV, u*(1-100*nearV)))
	}
	if along > 0 {
		if gap := s.nextBreak(r); gap < x.u {
			f.brk = max(f.brk, u-gap/along)
		}
	}
}

// nextBreak is how far the buses of a region may fall until a law in it breaks.
func (s *Solver) nextBreak(r int) float64 {
	gap := math.Inf(1)
	for b := r; b < s.buses[r].end; b++ {
		if x := &s.buses[b]; x.brk > 0 && x.brk < x.u {
			gap = min(gap, (x.u-x.brk)*(1+1e-6)+1e-9)
		}
	}
	return gap
}

// flows adds the currents along the region and what is offered to its root.
func (s *Solver) flows(base, r int, o *offer) {
	for i := base; i < len(s.order); i++ {
		b := &s.buses[s.order[i]]
		b.rhs, b.diag = b.residual, b.slope
	}
	for i := base; i < len(s.order); i++ {
		at := s.order[i]
		b := &s.buses[at]
		if b.up < 0 {
			a, slope := o.at(b.u)
			b.rhs += a
			b.diag -= slope
			continue
		}
		up := &s.buses[b.up]
		a := (up.u - b.upV0 - b.u) / b.upOhm
		b.link = 1 / b.upOhm
		if a > b.upLimit {
			a, b.link = b.upLimit, 0
		}
		b.rhs += a
		up.rhs -= a
		b.diag += b.link
		up.diag += b.link
	}
}

// eliminate solves for the steps of all buses. It answers the bus whose draw falls
// faster than its offer rises; −1 if there is none.
func (s *Solver) eliminate(base int, alone bool) int {
	for i := len(s.order) - 1; i >= base; i-- {
		at := s.order[i]
		b := &s.buses[at]
		if b.pin >= 0 {
			// It stays; what holds it takes up the rest.
			b.slack, b.held, b.step = b.rhs, true, 0
		}
		if !b.held && !(b.diag > 0) {
			if alone && b.up >= 0 {
				b.diag = 1e-12
			} else {
				return at
			}
		}
		if b.up < 0 {
			continue
		}
		up := &s.buses[b.up]
		if b.held {
			up.rhs += b.link * b.step
			continue
		}
		up.rhs += b.link * b.rhs / b.diag
		up.diag -= b.link * b.link / b.diag
	}
	for i := base; i < len(s.order); i++ {
		b := &s.buses[s.order[i]]
		if b.held {
			continue
		}
		b.step = b.rhs / b.diag
		if b.up >= 0 {
			b.step += b.link * s.buses[b.up].step / b.diag
		}
		if alone {
			// Never above no load, never below nothing.
			b.step = min(max(b.step, -b.u-1), max(b.top-b.u, 0))
		}
	}
	return -1
}

// clip holds the first bus that would pass a break at the break; it tells whether there
// was one.
func (s *Solver) clip(base int, alone bool) bool {
	if alone {
		return false
	}
	any := false
	for i := base; i < len(s.order); i++ {
		b := &s.buses[s.order[i]]
		if !b.held && b.brk > 0 && b.u+b.step < b.brk {
			b.held, b.step = true, b.brk-b.u
			any = true
			break
		}
	}
	return any
}

// fall takes a bus that has no crossing down to its next break there, or takes out the
// drivers that break down. It tells whether it could do either.
func (s *Solver) fall(bad, base int) bool {
	for at := bad; ; {
		own := 0.0
		for l := s.buses[at].first; l >= 0; l = s.leaves[l].next {
			own = min(own, own+s.leaves[l].g)
		}
		// What pulls hardest may lie further out.
		next, worst := -1, own
		for i := base; i < len(s.order); i++ {
			c := &s.buses[s.order[i]]
			if c.up != at || c.held || !(c.diag > 0) {
				continue
			}
			if pull := c.link * (c.diag - c.link) / c.diag; pull < worst {
				next, worst = s.order[i], pull
			}
		}
		switch {
		case next >= 0:
			at = next
		case own < 0:
			return s.drop(at)
		default:
			return false
		}
	}
}

// drop takes a bus down to its next break, or takes out what pulls it down.
func (s *Solver) drop(at int) bool {
	b := &s.buses[at]
	if b.brk > 0 {
		b.from, b.u, b.low = b.u, b.brk, 0
		return true
	}
	return s.breakDown(at)
}

// breakDown takes out the drivers on a bus whose draw rises as their input falls; where
// that is for what a driver feeds, the ones down there.
func (s *Solver) breakDown(at int) bool {
	any := false
	for l := s.buses[at].first; l >= 0; l = s.leaves[l].next {
		f := &s.leaves[l]
		switch {
		case f.kind != driverLeaf || f.joined || f.g >= 0 || s.Locked[f.node] || s.Collapsed[f.node] || !s.Nodes[f.node].Drv.Switches():
		case f.nested && s.breakDownFrom(s.out[f.node]):
			any = true
		default:
			s.Collapsed[f.node] = true
			any = true
		}
	}
	s.restart = s.restart || any
	return any
}

// breakDownFrom does the same for all buses of a region.
func (s *Solver) breakDownFrom(r int) bool {
	any := false
	for b := r; b < s.buses[r].end; b++ {
		any = s.breakDown(b) || any
	}
	return any
}
