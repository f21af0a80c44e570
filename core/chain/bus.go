package chain

import (
	"math"
	"slices"

	"photherm/core/driver"
	"photherm/core/root"
)

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
	if arr, ohm, ok := s.onlyArray(lo, hi); ok && env.Plain() {
		return s.arrayBus(env, arr, ohm, lo)
	}
	if math.IsInf(env.LimitA, 1) && env.Plain() {
		if v, a, ok := s.stiffBus(env, lo, hi); ok {
			return v, a
		}
	}
	monotone := env.Falling() // a limit that rises with the voltage may be met twice
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
	for i := range env.Table {
		s.breaks = append(s.breaks, env.Table[i].VoltageV)
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
			return lo, ohm, n.chosen
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
			s.driverBreaks(k)
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

func (s *Solver) driverBreaks(k int) {
	n := &s.nodes[k]
	switch {
	case n.kidHi == n.kidLo || s.locked[k]:
	case n.drv.NeedsHeadroom():
		// The input at which its headroom ends, if any source lifts it there.
		if v, a := s.output(k, s.topV+n.drv.HeadroomV); a >= n.drv.LimitA() {
			s.breaks = append(s.breaks, v+n.drv.HeadroomV)
		}
	case n.drv.Family == driver.Voltage:
		s.breaks = append(s.breaks, n.drv.SetV+n.drv.HeadroomV, n.drv.SetV)
		if v, _ := s.output(k, s.topV); v < n.drv.SetV {
			s.breaks = append(s.breaks, v, v+n.drv.HeadroomV)
		}
	case n.drv.Regulates():
		// Where its input passes its output, and where it begins to conduct.
		v, a := s.held(k, n.drv.Envelope(s.topV))
		s.breaks = append(s.breaks, v)
		if through, ok := n.drv.Through(s.topV); ok {
			s.breaks = append(s.breaks, v+s.topV-through.OpenV, v+s.topV-through.OpenV+through.SeriesOhm*a)
		}
	default:
		s.addBreaks(n.kidLo, n.kidHi)
	}
}
