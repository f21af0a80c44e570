package chain

import (
	"math"

	"photherm/core/design"
	"photherm/core/driver"
)

// electrical solves the power tree for the temperatures and charges in y and
// leaves the operating point in s.point and s.feedAt. Lock-out latches are taken
// as they stand.
//
// What is switched by duty is not followed edge by edge: all of it goes on at the
// same moment, each goes off after its duty, and the instants in between are
// solved and averaged by their share of the period.
func (s *Solver) electrical(y []float64) {
	copy(s.y, y)
	if len(s.duties) == 0 {
		s.instant(y)
		return
	}
	clear(s.sum)
	clear(s.sumFeed)
	from := 0.0
	for i := range len(s.duties) + 1 {
		to := 1.0
		if i < len(s.duties) {
			to = s.duties[i]
		}
		for k := range s.nodes {
			s.nodes[k].drv.Off = s.nodes[k].drv.Duty <= from && s.nodes[k].drv.Duty < 1
		}
		s.instant(y)
		if i == 0 {
			copy(s.allOn, s.point)
			copy(s.allOnFed, s.feedAt)
		}
		for k := range s.point {
			s.sum[k].add(&s.point[k], to-from)
		}
		for k := range s.feedAt {
			s.sumFeed[k].add(&s.feedAt[k], to-from)
		}
		from = to
	}
	for k := range s.point {
		s.nodes[k].drv.Off = false
		s.sum[k].mode, s.sum[k].known = s.allOn[k].mode, known{}
	}
	copy(s.point, s.sum)
	copy(s.feedAt, s.sumFeed)
}

func (p *nodePoint) add(q *nodePoint, share float64) {
	p.inV += share * q.inV
	p.innerV += share * q.innerV
	p.inA += share * q.inA
	p.inW += share * q.inW
	p.outV += share * q.outV
	p.outA += share * q.outA
	p.outW += share * q.outW
	p.lossW += share * q.lossW
	p.jointW += share * q.jointW
	p.fluxLm += share * q.fluxLm
	p.radiantW += share * q.radiantW
	p.opticW += share * q.opticW
	p.farV += share * q.farV
}

func (p *feedPoint) add(q *feedPoint, share float64) {
	p.openV += share * q.openV
	p.busV += share * q.busV
	p.busA += share * q.busA
	p.busW += share * q.busW
	p.lossW += share * q.lossW
}

// instant solves the tree with everything as it is switched at one moment.
func (s *Solver) instant(y []float64) {
	for i := range s.point {
		s.point[i].known = known{}
	}
	for i := range s.feeds {
		f, p := &s.feeds[i], &s.feedAt[i]
		env := s.sourceEnvelope(f, y)
		s.topV = env.OpenV
		v, _ := s.bus(env, f.kidLo, f.kidHi)
		p.openV, p.busV, p.busA = env.OpenV, v, 0
		for k := f.kidLo; k < f.kidHi; k++ {
			p.busA += s.settle(k, v)
		}
		p.lossW = p.busA * p.busA * env.SeriesOhm
		p.busW = p.busV * p.busA
	}
}

func (s *Solver) sourceEnvelope(f *feed, y []float64) driver.Envelope {
	if f.cut {
		return driver.Envelope{SeriesOhm: 1}
	}
	switch f.kind {
	case packSource:
		polar := 0.0
		if f.polar >= 0 {
			polar = y[f.polar]
		}
		r := f.pack.CellsOhm(y[f.charge], s.bodyC(y, f.body)) + f.pack.ContactOhm
		return driver.Envelope{LimitA: math.Inf(1), OpenV: f.pack.OpenV(y[f.charge], polar), SeriesOhm: max(r, driver.WireOhm)}
	case supplySource:
		return driver.Envelope{LimitA: f.supplyLimitA, OpenV: f.supplyV, SeriesOhm: max(f.supplyOhm, driver.WireOhm)}
	}
	return driver.Envelope{SeriesOhm: 1}
}

const (
	shortOhm = 1e-3
	auxKneeV = 0.5 // an auxiliary's draw fades below this
)

// draw is the current node k takes from its bus at voltage v.
func (s *Solver) draw(k int, v float64) float64 {
	n := &s.nodes[k]
	if v <= 0 || n.fault == faultOpen {
		return 0
	}
	if n.fault == faultShort {
		return v / (shortOhm + n.seriesOhm)
	}
	if n.seriesOhm > 0 {
		_, a := s.behindJoint(k, v)
		return a
	}
	return s.drawInner(k, v)
}

// behindJoint is the voltage a node sees behind its bad joint.
func (s *Solver) behindJoint(k int, v float64) (inner, amp float64) {
	n := &s.nodes[k]
	r := n.seriesOhm
	n.seriesOhm = 0
	inner, amp = s.bus(driver.Envelope{LimitA: math.Inf(1), OpenV: v, SeriesOhm: r}, k, k+1)
	n.seriesOhm = r
	return inner, amp
}

func (s *Solver) drawInner(k int, v float64) float64 {
	n := &s.nodes[k]
	switch n.kind {
	case switchNode:
		if n.open != 0 {
			return 0
		}
		env := driver.Envelope{LimitA: math.Inf(1), OpenV: v, SeriesOhm: max(n.contactOhm, driver.WireOhm)}
		_, a := s.bus(env, n.kidLo, n.kidHi)
		return a
	case driverNode:
		if s.locked[k] || n.drv.Family == driver.Absent {
			return 0
		}
		outV, outA := s.output(k, v)
		inA, _ := n.drv.Input(v, outV, outA)
		return inA
	case arrayNode:
		if !n.chosen {
			return 0
		}
		return n.arr.CurrentA(v, 0, s.lumpC(s.y, n.junction))
	case stripNode:
		if !n.chosen {
			return 0
		}
		return n.strip.CurrentA(v)
	case loadNode:
		if !n.chosen {
			return 0
		}
		return n.scale * loadA(n.load, n.loadCP, v)
	}
	if v < n.startV {
		return 0
	}
	current := n.currentA
	if s.feeds[n.feed].off {
		current = n.standbyA
	}
	return n.scale * current * min(1, v/auxKneeV)
}

// output is the bus a driver makes at an input voltage. A step-up driver cannot
// hold back a load that its input can feed without it.
func (s *Solver) output(k int, inV float64) (outV, outA float64) {
	n := &s.nodes[k]
	outV, outA = s.held(k, n.drv.Envelope(inV))
	if through, ok := n.drv.Through(inV); ok && outV < through.OpenV-through.SeriesOhm*outA {
		return s.bus(through, n.kidLo, n.kidHi)
	}
	return outV, outA
}

// held is the bus a driver makes within its envelope. Where it regulates into
// loads that draw more the higher the voltage, that bus does not depend on the
// input, and is found once.
func (s *Solver) held(k int, env driver.Envelope) (outV, outA float64) {
	n, p := &s.nodes[k], &s.point[k]
	if env.Same(p.heldBy) {
		return p.heldV, p.heldA
	}
	defer func() { p.heldBy, p.heldV, p.heldA = env, outV, outA }()
	if !n.drv.Regulates() || !n.kidsMonotone || env.LimitA <= 0 || n.kidLo == n.kidHi {
		return s.bus(env, n.kidLo, n.kidHi)
	}
	if p.regulated && p.regulatedV <= env.CornerV() {
		return p.regulatedV, env.LimitA
	}
	outV, outA = s.bus(env, n.kidLo, n.kidHi)
	if outV <= env.CornerV() {
		p.regulatedV, p.regulated = outV, true
	}
	return outV, outA
}

func (s *Solver) drawAll(lo, hi int, v float64) float64 {
	total := 0.0
	for k := lo; k < hi; k++ {
		total += s.draw(k, v)
	}
	return total
}

// loadA is the draw of a measured load: straight between its points, ohmic below
// the first, the last current or the last power above.
func loadA(p []design.LoadPoint, constantPower bool, v float64) float64 {
	last := p[len(p)-1]
	switch {
	case v <= p[0].VoltageV:
		if p[0].VoltageV <= 0 {
			return p[0].CurrentA
		}
		return p[0].CurrentA * v / p[0].VoltageV
	case v >= last.VoltageV:
		if constantPower {
			return last.CurrentA * last.VoltageV / v
		}
		return last.CurrentA
	}
	i := 1
	for v > p[i].VoltageV {
		i++
	}
	a, b := p[i-1], p[i]
	return a.CurrentA + (b.CurrentA-a.CurrentA)*(v-a.VoltageV)/(b.VoltageV-a.VoltageV)
}

// settle fills in the operating point of node k at bus voltage v, and of all
// below it, and returns what k draws.
func (s *Solver) settle(k int, v float64) float64 {
	n, p := &s.nodes[k], &s.point[k]
	*p = nodePoint{inV: v, known: p.known}
	if v <= 0 || n.fault != faultOK {
		if n.fault == faultShort && v > 0 {
			p.inA = v / (shortOhm + n.seriesOhm)
			p.lossW = v * p.inA
			p.inW = p.lossW
		}
		s.darken(n.kidLo, n.kidHi)
		return p.inA
	}
	inner := v
	if n.seriesOhm > 0 {
		inner, _ = s.behindJoint(k, v)
	}
	p.innerV = inner
	switch n.kind {
	case switchNode:
		if n.open != 0 {
			s.darken(n.kidLo, n.kidHi)
			break
		}
		r := max(n.contactOhm, driver.WireOhm)
		p.outV, _ = s.bus(driver.Envelope{LimitA: math.Inf(1), OpenV: inner, SeriesOhm: r}, n.kidLo, n.kidHi)
		p.outA = s.settleAll(n.kidLo, n.kidHi, p.outV)
		p.inA, p.lossW, p.mode = p.outA, p.outA*p.outA*r, driver.PassThrough
	case driverNode:
		switch {
		case s.locked[k]:
			p.mode = driver.LockedOut
			if n.drv.Family == driver.Window {
				p.mode = driver.Hiccup
			}
			s.darken(n.kidLo, n.kidHi)
		case n.drv.Family == driver.Absent:
			s.darken(n.kidLo, n.kidHi)
		default:
			p.outV, _ = s.output(k, inner)
			p.outA = s.settleAll(n.kidLo, n.kidHi, p.outV)
			p.inA, p.lossW = n.drv.Input(inner, p.outV, p.outA)
			p.mode = n.drv.Mode(inner, p.outV, p.outA)
		}
	case arrayNode:
		s.settleArray(n, p, inner)
	case stripNode:
		if !n.chosen {
			break
		}
		p.inA = s.drawInner(k, inner)
		p.lossW = p.inA * inner
		p.fluxLm, p.farV = n.strip.Light(inner)
		if n.strip.LmPerW > 0 && !n.countsHeat {
			p.radiantW = min(p.fluxLm/n.strip.LmPerW, 0.98*p.lossW)
			p.lossW -= p.radiantW
		}
	case loadNode:
		if !n.chosen {
			break
		}
		p.inA = s.drawInner(k, inner)
		p.lossW = p.inA * inner
		p.fluxLm = n.loadLight(inner)
	case auxNode:
		p.inA = s.drawInner(k, inner)
		p.lossW = p.inA * inner
	}
	joint := n.seriesOhm * p.inA * p.inA
	p.lossW += joint
	p.jointW += joint
	p.inW, p.outW = v*p.inA, p.outV*p.outA
	return p.inA
}

func (s *Solver) settleAll(lo, hi int, v float64) float64 {
	total := 0.0
	for k := lo; k < hi; k++ {
		total += s.settle(k, v)
	}
	return total
}

func (s *Solver) settleArray(n *node, p *nodePoint, v float64) {
	if !n.chosen {
		return
	}
	t := s.lumpC(s.y, n.junction)
	if p.inA = p.atA; v != p.atV {
		p.inA = n.arr.CurrentA(v, 0, t)
	}
	var radiant float64
	p.fluxLm, radiant = n.arr.Light(v, p.inA, t)
	if n.countsHeat {
		radiant = 0
	}
	p.outV, p.outA = v, p.inA
	p.opticW = radiant * (1 - n.optic)
	p.radiantW = radiant - p.opticW
	p.fluxLm *= n.optic
	p.lossW = p.inA*v - radiant
	p.jointW = n.arr.BallastW(v, p.inA, t)
}

func (n *node) loadLight(v float64) float64 {
	if n.loadLm <= 0 {
		return 0
	}
	p := n.load
	relative := func(i int) float64 {
		if p[i].RelativeLight != nil {
			return *p[i].RelativeLight
		}
		return p[i].CurrentA / p[len(p)-1].CurrentA
	}
	last := len(p) - 1
	switch {
	case v >= p[last].VoltageV:
		return n.loadLm * relative(last)
	case v <= p[0].VoltageV:
		return n.loadLm * relative(0) * v / max(p[0].VoltageV, 1e-9)
	}
	i := 1
	for v > p[i].VoltageV {
		i++
	}
	x := (v - p[i-1].VoltageV) / (p[i].VoltageV - p[i-1].VoltageV)
	return n.loadLm * (relative(i-1)*(1-x) + relative(i)*x)
}

// darken clears the operating points of nodes that get no power.
func (s *Solver) darken(lo, hi int) {
	for k := lo; k < hi; k++ {
		s.point[k] = nodePoint{}
		s.darken(s.nodes[k].kidLo, s.nodes[k].kidHi)
	}
}
