package circuit

import (
	"math"
	"slices"

	"photherm/core/driver"
	"photherm/core/root"
)

// scan looks for the highest crossing of a root from no load downwards. Between breaks
// offer − draw is concave and has at most two zeros: the first change from "draws more"
// to "offers more" is the highest crossing, and it is stable. Each look solves what
// hangs behind the root's resistances for itself.
func (s *Solver) scan(r int, o *offer) {
	if s.scanBehind(r, o) {
		return
	}
	x := &s.buses[r]
	open := o.openV()
	failed := false
	excess := func(v float64) float64 {
		if s.restart || failed {
			failed = true
			return 0
		}
		a, _ := o.at(v)
		return a - s.drawAt(r, v)
	}
	tol := nearV * open
	v := 0.0
	upper, fu := open, excess(open)
	mark := len(s.breaks)
	found := fu >= 0
	if found {
		v = open
	} else {
		s.addBreaks(r)
		s.offerBreaks(o)
		slices.Sort(s.breaks[mark:])
	}
	for next := len(s.breaks) - 1; !found && next >= mark-1; next-- {
		lower := 0.0
		if next >= mark {
			if lower = s.breaks[next]; lower >= upper || lower <= 0 {
				continue
			}
		}
		fl := excess(lower)
		if fl < 0 {
			// Both ends draw too much; a concave excess may still rise above zero
			// between them, unless it falls from the lower end on.
			if excess(lower+1e-6*(upper-lower)) > fl {
				if top, ft := highest(excess, lower, fl, upper, fu); ft >= 0 {
					lower, fl = top, ft
				}
			}
		}
		if fl >= 0 && lower > 0 || fl > 0 {
			v = root.Bracketed(excess, lower, fl, upper, fu, tol)
			// At nothing the draw of a driver jumps from nothing to without bound: no state.
			found = v > tol
			break
		}
		upper, fu = lower, fl
	}
	s.breaks = s.breaks[:mark]
	if failed || s.restart {
		s.restart = true
		return
	}
	if !found && s.breakDownBelow(r) {
		return
	}
	x.drawA = s.drawAt(r, v)
	x.u, x.warm, x.brk = v, false, 0
	x.drawG = x.slope
}

// scanBehind scans what hangs behind a root's only resistance, that added to the offer:
// one search instead of one within another. It gives up where the offer is not plain, or
// more hangs on the root.
func (s *Solver) scanBehind(r int, o *offer) bool {
	x := &s.buses[r]
	c := r + 1
	if x.first >= 0 || x.end == c || s.buses[c].end != x.end {
		return false
	}
	y := &s.buses[c]
	env := o.env
	switch {
	case len(o.feeders) == 1 && !o.feeders[0].cut:
		f := &o.feeders[0]
		env = driver.Envelope{LimitA: f.limit, OpenV: f.open, SeriesOhm: f.ohm}
	case o.feeders != nil || !env.Plain():
		return false
	}
	before := env.SeriesOhm
	env.OpenV, env.SeriesOhm = env.OpenV-y.v0, before+y.ohm
	behind := offer{env: env}
	if behind.openV() <= 0 {
		return false
	}
	s.scan(c, &behind)
	if s.restart {
		return true
	}
	x.u, x.warm, x.brk = y.u+y.v0+y.ohm*y.drawA, false, 0
	x.drawA, x.drawG = y.drawA, y.drawG/(1+y.drawG*y.ohm)
	return true
}

// rise looks for the lowest stable crossing of a root, from nothing upwards: where a
// supply comes to that is switched on into its load.
func (s *Solver) rise(r int, o *offer) {
	x := &s.buses[r]
	open := o.openV()
	excess := func(v float64) float64 {
		a, _ := o.at(v)
		return a - s.drawAt(r, v)
	}
	mark := len(s.breaks)
	s.addBreaks(r)
	s.offerBreaks(o)
	s.breaks = append(s.breaks, open)
	slices.Sort(s.breaks[mark:])
	v, low, fl := open, 0.0, excess(0)
	for i := mark; i < len(s.breaks); i++ {
		up := s.breaks[i]
		if up <= low || up > open {
			continue
		}
		fu := excess(up)
		if fl > 0 && fu <= 0 {
			v = root.Bracketed(excess, low, fl, up, fu, nearV*open)
			break
		}
		low, fl = up, fu
	}
	s.breaks = s.breaks[:mark]
	x.drawA = s.drawAt(r, v)
	x.u, x.warm, x.brk, x.drawG = v, false, 0, x.slope
}

// breakDownBelow takes out the drivers of a root that stands at nothing.
func (s *Solver) breakDownBelow(r int) bool {
	any := false
	for b := r; b < s.buses[r].end; b++ {
		for l := s.buses[b].first; l >= 0; l = s.leaves[l].next {
			f := &s.leaves[l]
			if f.kind == driverLeaf && !s.Locked[f.node] && !s.Collapsed[f.node] && s.Nodes[f.node].Drv.Switches() {
				s.Collapsed[f.node] = true
				any = true
			}
		}
	}
	s.restart = s.restart || any
	return any
}

// drawAt is what hangs on a bus draws at a voltage, with its slope in the bus.
func (s *Solver) drawAt(b int, v float64) float64 {
	x := &s.buses[b]
	total := 0.0
	x.slope = 0
	for l := x.first; l >= 0; l = s.leaves[l].next {
		f := &s.leaves[l]
		f.joined = false
		s.leaf(b, f, v)
		total += f.a
		x.slope += f.g
	}
	for c := b + 1; c < x.end; c = s.buses[c].end {
		a, g := s.behind(c, v)
		total += a
		x.slope += g
	}
	return total
}

// behind solves a bus from the voltage above it, and tells what it draws there.
func (s *Solver) behind(c int, v float64) (a, g float64) {
	y := &s.buses[c]
	o := offer{env: driver.Envelope{LimitA: unlimited, OpenV: v - y.v0, SeriesOhm: y.ohm}}
	s.feed(c, &o)
	return y.drawA, y.drawG / (1 + y.drawG*y.ohm)
}

// offerBreaks appends the voltages at which an offer bends.
func (s *Solver) offerBreaks(o *offer) {
	for i := range o.feeders {
		f := &o.feeders[i]
		s.breaks = append(s.breaks, f.open)
		if !math.IsInf(f.limit, 1) {
			s.breaks = append(s.breaks, f.open-f.limit*f.ohm)
		}
	}
	if o.feeders != nil {
		return
	}
	if c := o.env.CornerV(); c > 0 {
		s.breaks = append(s.breaks, c)
	}
	if v := o.env.PassesV(); v > 0 {
		s.breaks = append(s.breaks, v)
	}
	for i := range o.env.Table {
		s.breaks = append(s.breaks, o.env.Table[i].VoltageV)
	}
}

// addBreaks appends the voltages of a bus at which what hangs on it, or behind a
// resistance, has a break.
func (s *Solver) addBreaks(b int) {
	x := &s.buses[b]
	for l := x.first; l >= 0; l = s.leaves[l].next {
		f := &s.leaves[l]
		n := &s.Nodes[max(f.node, 0)]
		switch f.kind {
		case loadLeaf:
			for i := range n.Load {
				s.breaks = append(s.breaks, n.Load[i].VoltageV)
			}
			s.breaks = append(s.breaks, n.measured(n.Load[0].VoltageV).brk, driver.FadeV)
			if top := n.measured(1e9); top.a == 0 {
				s.breaks = append(s.breaks, top.brk)
			}
		case auxLeaf:
			s.breaks = append(s.breaks, max(n.StartV, driver.FadeV))
			if n.StartV > 0 {
				s.breaks = append(s.breaks, math.Nextafter(n.StartV, unlimited))
			}
		case driverLeaf:
			s.driverBreaks(f.node)
		case stripLeaf:
			s.breaks = append(s.breaks, n.Strip.KneeV)
		}
	}
	for c := b + 1; c < x.end; c = s.buses[c].end {
		mark := len(s.breaks)
		s.addBreaks(c)
		y := &s.buses[c]
		for i := mark; i < len(s.breaks); i++ {
			w := s.breaks[i]
			s.breaks[i] = w + y.v0 + y.ohm*s.drawAt(c, w)
			y.warm = false
		}
	}
}

// driverBreaks appends the input voltages at which a driver changes its way.
func (s *Solver) driverBreaks(k int) {
	n := &s.Nodes[k]
	d := &n.Drv
	if n.KidHi == n.KidLo || s.Locked[k] || s.Collapsed[k] || d.Off {
		return
	}
	r := s.out[k]
	in := s.buses[s.buses[r].ownerBus].top
	at := func(env driver.Envelope) (v, a float64) {
		s.held[k].valid = false
		o := offer{env: env}
		s.feed(r, &o)
		return s.buses[r].u, s.buses[r].drawA
	}
	switch {
	case d.Family == driver.Voltage:
		s.breaks = append(s.breaks, d.SetV+d.HeadroomV, d.SetV)
		if v, _ := at(d.Envelope(in)); v < d.SetV {
			s.breaks = append(s.breaks, v, v+d.HeadroomV)
		}
	case d.NeedsHeadroom():
		// The input at which its headroom ends, if any source lifts it there.
		if v, a := at(d.Envelope(in + d.HeadroomV)); a >= d.LimitA() {
			s.breaks = append(s.breaks, v+d.HeadroomV)
		}
	case d.Regulates():
		// Where its input passes its output, and where it begins to conduct.
		v, a := at(d.Envelope(in))
		s.breaks = append(s.breaks, v)
		if d.Family == driver.Boost {
			from, to := d.Conducts(v, a)
			s.breaks = append(s.breaks, from, to)
		}
	default: // a resistance that is switched by duty
		mark := len(s.breaks)
		s.addBreaks(r)
		for i := mark; i < len(s.breaks); i++ {
			w := s.breaks[i]
			s.breaks[i] = w + d.DropV + d.ResistanceOhm*s.drawAt(r, w)
		}
	}
}

// chord is the share of a piece over which its slope is taken: chosen, wide against the
// noise of a solve within the solve.
const chord = 1e-4

// mostLooks bounds the looks for a top: chosen, half as many again as concave functions
// of the tests need.
const mostLooks = 24

// highest looks for a point where a concave f is not negative, between ends where it is;
// it stops as soon as it has one. Outside the span of a chord f lies below its line, so
// that the lines at both ends bound what may be between, and where they meet is the place
// to look next: a straight piece is done at once, a corner is met at the first look. What
// jumps within a piece is not concave, and given up on.
func highest(f func(float64) float64, a, fa, b, fb float64) (x, fx float64) {
	h := chord * (b - a)
	if fx = f(a + h); fx >= 0 || fx <= fa {
		return a + h, fx
	}
	rising := (fx - fa) / h
	if fx = f(b - h); fx >= 0 || fx <= fb {
		return b - h, fx
	}
	falling := (fb - fx) / h
	for i := 1; ; i++ {
		if i > mostLooks {
			return x, fx
		}
		t := (fb - fa - falling*(b-a)) / (rising - falling)
		if x = a + t; i%3 == 0 {
			x = (a + b) / 2 // a rounded top is met from one side only
		}
		h = chord * (b - a)
		x = min(max(x, a+h), b-2*h)
		if fx = f(x); fx >= 0 || fa+rising*t < 0 || b-a < 1e-9*(math.Abs(b)+1) {
			return x, fx
		}
		next := f(x + h)
		if next >= 0 {
			return x + h, next
		}
		if next > fx {
			a, fa, rising = x, fx, (next-fx)/h
		} else {
			b, fb, falling = x+h, next, (next-fx)/h
		}
	}
}
