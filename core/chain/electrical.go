package chain

import (
	"math"
	"slices"

	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/root"
)

// electrical solves the power tree for the temperatures and charges in y and
// leaves the operating point in s.point and s.feedAt. Lock-out latches are taken
// as they stand.
func (s *Solver) electrical(y []float64) {
	copy(s.y, y)
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

// bus finds the voltage at which a feeder gives what its loads draw: the highest
// stable crossing. The draw need not be monotone: switching drivers draw more as
// the voltage falls. Between break-points every law is convex in V, so that
// offer − draw is concave and has at most two zeros there; scanning downwards
// from no load, the first change from "draws more" to "offers more" is the
// highest crossing and it is stable.
func (s *Solver) bus(env driver.Envelope, lo, hi int) (v, a float64) {
	if lo == hi || env.OpenV <= 0 {
		return max(env.OpenV, 0), 0
	}
	if arr, ohm, ok := s.onlyArray(lo, hi); ok {
		return s.arrayBus(env, arr, ohm, lo)
	}
	if math.IsInf(env.LimitA, 1) {
		if v, a, ok := s.stiffBus(env, lo, hi); ok {
			return v, a
		}
	}
	monotone := true
	for k := lo; k < hi; k++ {
		monotone = monotone && s.nodes[k].monotone
	}
	excess := func(v float64) float64 {
		x := env.CurrentA(v)
		for k := lo; k < hi; k++ {
			x -= s.draw(k, v)
		}
		return x
	}
	upper := env.OpenV
	fu := excess(upper)
	if fu >= 0 {
		return upper, 0
	}
	tol := 1e-11 * env.OpenV
	if monotone {
		// One crossing at the most: no need to look for another.
		lower, fl := 0.0, 1.0
		if c := env.CornerV(); c > 0 {
			if lower, fl = c, excess(c); fl < 0 {
				upper, fu, lower, fl = c, fl, 0, 1
			}
		}
		if lower == 0 {
			fl = max(excess(0), 0)
		}
		v = root.Bracketed(excess, lower, fl, upper, fu, tol)
		return v, s.drawAll(lo, hi, v)
	}
	mark := len(s.breaks)
	s.addBreaks(lo, hi)
	if c := env.CornerV(); c > 0 {
		s.breaks = append(s.breaks, c)
	}
	slices.Sort(s.breaks[mark:])
	for next := len(s.breaks) - 1; ; next-- {
		lower := 0.0
		if next >= mark {
			lower = s.breaks[next]
			if lower >= upper || lower <= 0 {
				continue
			}
		}
		fl := excess(lower)
		if fl < 0 {
			// Both ends draw too much; a concave excess may still rise above zero
			// between them, unless it falls from the lower end on.
			step := 1e-6 * (upper - lower)
			if excess(lower+step) <= fl {
				upper, fu = lower, fl
				if next < mark {
					break
				}
				continue
			}
			if top, ft := highest(excess, lower, fl, upper, fu); ft >= 0 {
				lower, fl = top, ft
			}
		}
		if fl >= 0 {
			v = root.Bracketed(excess, lower, fl, upper, fu, tol)
			break
		}
		if next < mark {
			break // even at 0 V more is drawn than offered: collapsed
		}
		upper, fu = lower, fl
	}
	s.breaks = s.breaks[:mark]
	return v, s.drawAll(lo, hi, v)
}

// stiffBus is bus for a feeder of so little resistance that the draw hardly
// changes over its drop: V = Vopen − R·I(V) is then a contraction, its crossing is
// the highest and the only one nearby, and a few secant steps find it. It gives up
// where that does not hold.
func (s *Solver) stiffBus(env driver.Envelope, lo, hi int) (v, a float64, ok bool) {
	v0 := env.OpenV
	i0 := s.drawAll(lo, hi, v0)
	v1 := env.OpenV - env.SeriesOhm*i0
	if v1 < 0.8*v0 {
		return 0, 0, false
	}
	for range 6 {
		i1 := s.drawAll(lo, hi, v1)
		if v1 == v0 {
			return v1, i1, true
		}
		slope := (i1 - i0) / (v1 - v0)
		if math.Abs(slope*env.SeriesOhm) > 0.3 {
			return 0, 0, false
		}
		next := v1 - (v1-env.OpenV+env.SeriesOhm*i1)/(1+slope*env.SeriesOhm)
		if math.Abs(next-v1) <= 1e-11*env.OpenV {
			return v1, i1, true
		}
		v0, i0, v1 = v1, i1, next
	}
	return 0, 0, false
}

// highest looks for a point where a concave f is not negative, by golden
// section; it stops as soon as it has one.
func highest(f func(float64) float64, a, fa, b, fb float64) (x, fx float64) {
	const g = 0.3819660112501051
	x1, x2 := a+g*(b-a), b-g*(b-a)
	f1, f2 := f(x1), f(x2)
	best, fbest := a, fa
	if fb > fbest {
		best, fbest = b, fb
	}
	for range 40 {
		if f1 > fbest {
			best, fbest = x1, f1
		}
		if f2 > fbest {
			best, fbest = x2, f2
		}
		if fbest >= 0 {
			return best, fbest
		}
		// A concave f cannot rise above zero if its tangent bound does not: once
		// the bracket is small against how far below zero f lies, give up.
		if b-a < 1e-9*(math.Abs(b)+1) || max(f1, f2)+math.Abs(f1-f2)/(x2-x1)*(b-a) < 0 {
			return best, fbest
		}
		if f1 > f2 {
			b, x2, f2 = x2, x1, f1
			x1 = a + g*(b-a)
			f1 = f(x1)
		} else {
			a, x1, f1 = x1, x2, f2
			x2 = b - g*(b-a)
			f2 = f(x2)
		}
	}
	return best, fbest
}

// onlyArray tells whether all that hangs between lo and hi is one array, perhaps
// behind closed switches and bad joints: then closed forms hold.
func (s *Solver) onlyArray(lo, hi int) (arr int, ohm float64, ok bool) {
	for hi-lo == 1 {
		n := &s.nodes[lo]
		if n.fault != faultOK {
			return 0, 0, false
		}
		ohm += n.seriesOhm
		switch n.kind {
		case arrayNode:
			return lo, ohm, n.chosen && n.arr.Uniform()
		case switchNode:
			if n.open != 0 {
				return 0, 0, false
			}
			ohm += max(n.contactOhm, driver.WireOhm)
			lo, hi = n.kidLo, n.kidHi
		default:
			return 0, 0, false
		}
	}
	return 0, 0, false
}

// arrayBus is bus for one array behind a resistance.
func (s *Solver) arrayBus(env driver.Envelope, arr int, ohm float64, lo int) (v, amp float64) {
	a, p := &s.nodes[arr].arr, &s.point[lo]
	t := s.lumpC(s.y, s.nodes[arr].junction)
	if !math.IsInf(env.LimitA, 1) {
		if !p.fresh || p.limitAt != env.LimitA {
			v := a.VoltageV(env.LimitA, t)
			p.limitV, p.limitAt, p.fresh = v+env.LimitA*ohm, env.LimitA, true
			s.point[arr].atV, s.point[arr].atA = v, env.LimitA
		}
		if p.limitV <= env.CornerV() {
			return p.limitV, env.LimitA
		}
	}
	i := a.CurrentA(env.OpenV, env.SeriesOhm+ohm, t)
	return env.OpenV - i*env.SeriesOhm, i
}

// addBreaks appends the voltages at which the draw of these nodes has a kink.
func (s *Solver) addBreaks(lo, hi int) {
	for k := lo; k < hi; k++ {
		n := &s.nodes[k]
		if n.fault != faultOK {
			continue
		}
		switch n.kind {
		case switchNode:
			if n.open == 0 {
				s.addBreaks(n.kidLo, n.kidHi)
			}
		case driverNode:
			if n.drv.Regulates() && n.kidHi > n.kidLo {
				// The input at which its headroom ends, if any source lifts it there.
				if v, a := s.output(k, s.topV+n.drv.HeadroomV); a >= n.drv.SetA {
					s.breaks = append(s.breaks, v+n.drv.HeadroomV)
				}
			} else if n.drv.Family == driver.Voltage {
				s.breaks = append(s.breaks, n.drv.SetV+n.drv.HeadroomV)
			} else if !n.drv.Regulates() {
				s.addBreaks(n.kidLo, n.kidHi)
			}
		case loadNode:
			for i := range n.load {
				s.breaks = append(s.breaks, n.load[i].VoltageV)
			}
		case auxNode:
			s.breaks = append(s.breaks, max(n.startV, auxKneeV))
			if n.startV > 0 {
				s.breaks = append(s.breaks, math.Nextafter(n.startV, 0))
			}
		}
	}
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
	case loadNode:
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

// output is the bus a driver makes at an input voltage. Where it regulates into
// loads that draw more the higher the voltage, that bus does not depend on the
// input, and is found once.
func (s *Solver) output(k int, inV float64) (outV, outA float64) {
	n, p := &s.nodes[k], &s.point[k]
	env := n.drv.Envelope(inV)
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
		}
		s.darken(n.kidLo, n.kidHi)
		return p.inA
	}
	inner := v
	if n.seriesOhm > 0 {
		inner, _ = s.behindJoint(k, v)
	}
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
			s.darken(n.kidLo, n.kidHi)
		case n.drv.Family == driver.Absent:
			s.darken(n.kidLo, n.kidHi)
		default:
			p.outV, _ = s.output(k, inner)
			p.outA = s.settleAll(n.kidLo, n.kidHi, p.outV)
			p.inA, p.lossW = n.drv.Input(inner, p.outV, p.outA)
			p.mode = n.drv.Mode(p.outA)
		}
	case arrayNode:
		s.settleArray(n, p, inner)
	case loadNode:
		p.inA = s.drawInner(k, inner)
		p.lossW = p.inA * inner
		p.fluxLm = n.loadLight(inner)
	case auxNode:
		p.inA = s.drawInner(k, inner)
		p.lossW = p.inA * inner
	}
	p.lossW += n.seriesOhm * p.inA * p.inA
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

// maxModeSolves bounds how often latches may change at one instant.
const maxModeSolves = 20

// latch solves and lets drivers lock out below their lowest input and restart
// above their restart voltage, until nothing changes. A driver that restarts at
// the instant it locked out is cycling.
func (s *Solver) latch(y []float64) (changed bool) {
	s.electrical(y)
	for range maxModeSolves {
		again := false
		for k := range s.nodes {
			d := &s.nodes[k].drv
			if s.nodes[k].kind != driverNode || d.InputMinV <= 0 {
				continue
			}
			v := s.point[k].inV
			switch {
			case !s.locked[k] && v > 0 && v < d.InputMinV:
				s.locked[k] = true
				again = true
			case s.locked[k] && v >= d.RestartV && s.cycling < 0:
				if changed {
					s.cycling = k // free of its load, the source recovers at once
				} else {
					s.locked[k] = false
					again = true
				}
			}
		}
		if !again {
			break
		}
		changed = true
		s.electrical(y)
	}
	return changed
}
