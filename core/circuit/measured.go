package circuit

import (
	"photherm/core/design"
	"photherm/core/driver"
)

// Beyond is how a measured load goes on beyond its points.
type Beyond int

// As its end slopes; as a resistance; holding its current; above its last point holding
// its power, and a resistance below its first.
const (
	GoesOn Beyond = iota
	Ohmic
	HoldsCurrent
	HoldsPower
)

var beyonds = map[string]Beyond{"": GoesOn, "slope": GoesOn, "ohmic": Ohmic, "current": HoldsCurrent, "power": HoldsPower}

// steady is readings of a load whose light is constant from a voltage up: there it holds
// the power of its highest reading, and below it has the readings that lie there.
func steady(points []design.LoadPoint, fromV float64) []design.LoadPoint {
	last := points[len(points)-1]
	var out []design.LoadPoint
	for _, p := range points {
		if p.VoltageV < fromV {
			out = append(out, p)
		}
	}
	return append(out, design.LoadPoint{VoltageV: fromV, CurrentA: last.VoltageV * last.CurrentA / fromV, RelativeLight: last.RelativeLight})
}

// drawn is a draw, its slope, and the next voltage below at which its law breaks.
type drawn struct{ a, slope, brk float64 }

// measured is the draw of a measured load, one of it: straight between its points, and
// beyond them as is said. What it draws steadily fades towards no voltage.
func (n *Node) measured(v float64) drawn {
	p := n.Load
	last := len(p) - 1
	switch {
	case v > p[last].VoltageV:
		return n.past(v)
	case v <= p[0].VoltageV:
		return n.before(v)
	}
	i := 1
	for v > p[i].VoltageV {
		i++
	}
	slope := slopeBetween(p[i-1].VoltageV, p[i-1].CurrentA, p[i].VoltageV, p[i].CurrentA)
	return drawn{p[i-1].CurrentA + slope*(v-p[i-1].VoltageV), slope, p[i-1].VoltageV}
}

func slopeBetween(v0, a0, v1, a1 float64) float64 { return (a1 - a0) / (v1 - v0) }

// past is the draw above the last point.
func (n *Node) past(v float64) drawn {
	p := n.Load
	end := p[len(p)-1]
	d := drawn{a: end.CurrentA, brk: end.VoltageV}
	switch {
	case n.Beyond == HoldsCurrent:
	case n.Beyond == HoldsPower:
		d.a = end.CurrentA * end.VoltageV / v
		d.slope = -d.a / v
	case n.Beyond == Ohmic || len(p) == 1:
		d.slope = end.CurrentA / end.VoltageV
		d.a = d.slope * v
	default:
		q := p[len(p)-2]
		d.slope = slopeBetween(q.VoltageV, q.CurrentA, end.VoltageV, end.CurrentA)
		d.a = end.CurrentA + d.slope*(v-end.VoltageV)
		// Where it falls to nothing on the way it stays there.
		if zero := end.VoltageV - end.CurrentA/min(d.slope, -1e-300); d.slope < 0 && v > zero {
			return drawn{brk: zero}
		}
	}
	return d
}

// before is the draw below the first point.
func (n *Node) before(v float64) drawn {
	first := n.Load[0]
	d := drawn{a: first.CurrentA}
	switch {
	case n.Beyond == HoldsCurrent:
	case n.Beyond != GoesOn || len(n.Load) == 1:
		d.slope = first.CurrentA / first.VoltageV
		d.a = d.slope * v
		return d
	default:
		q := n.Load[1]
		d.slope = slopeBetween(first.VoltageV, first.CurrentA, q.VoltageV, q.CurrentA)
		if d.a = first.CurrentA + d.slope*(v-first.VoltageV); d.a <= 0 {
			return drawn{}
		}
		if zero := first.VoltageV - first.CurrentA/max(d.slope, 1e-300); zero > 0 {
			d.brk = zero
		}
	}
	if v > driver.FadeV {
		d.brk = max(d.brk, min(driver.FadeV, first.VoltageV))
		return d
	}
	share := v / driver.FadeV
	d.slope = d.slope*share + d.a/driver.FadeV
	d.a *= share
	return d
}
