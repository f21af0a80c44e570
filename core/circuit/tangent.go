package circuit

import (
	"photherm/core/array"
	"photherm/core/driver"
)

// A Tangent is how a solved tree answers small changes: the voltage and the current of
// every node, and what its losses do. Changes come in columns, several at once: through
// what the arrays draw at an unchanged voltage, and through the sources' open voltage.
// The tree is eliminated from its leaves to its feeds and substituted back, at a cost
// that grows with its size times the columns.
//
// It holds for one instant: of a solver with something switched by duty it says nothing.
type Tangent struct {
	s       *Solver
	columns int

	// Of each array, set by who asks: its draw with the voltage at its bus, A/V, and,
	// columns to a node, its draw at an unchanged voltage, A.
	Slope []float64
	Draw  []float64
	// Of each feeder, columns to a feeder: its current at an unchanged voltage, A.
	Give []float64

	// Answers, columns to a node or feeder.
	V     []float64 // at the node's bus, V
	A     []float64 // into the node
	LossW []float64 // of what is no array
	Feed  []float64 // current of a feeder, A

	own []part
}

// part is how a node passes on changes: its current is y·δV + w·δI, δI those of what it
// feeds at an unchanged voltage; the voltage it makes is p·δV + q·δI.
type part struct {
	y, w, p, q     float64
	joint          float64
	sum            float64 // slope of all it feeds
	radiantPerV    float64 // a strip's
	leaf, conducts bool
}

// Tangent takes the tangent of the operating point solved last, for so many columns;
// it is empty until Fill.
func (s *Solver) Tangent(columns int) *Tangent {
	n, f := len(s.Nodes), len(s.Feeders)
	t := &Tangent{s: s, columns: columns, Slope: make([]float64, n), own: make([]part, n)}
	for _, v := range []*[]float64{&t.Draw, &t.V, &t.A, &t.LossW} {
		*v = make([]float64, n*columns)
	}
	t.Give, t.Feed = make([]float64, f*columns), make([]float64, f*columns)
	return t
}

// ArrayAt is what an array draws at a voltage of its bus and a junction temperature, and
// the heat that makes in its junctions and in the body it sits on.
func (s *Solver) ArrayAt(k int, busV, junctionC float64) (currentA, junctionW, bodyW float64) {
	n := &s.Nodes[k]
	if n.Fault != OK || !n.Chosen || busV <= 0 {
		return 0, 0, 0
	}
	currentA, _ = n.Arr.Draw(busV, n.SeriesOhm, junctionC, s.Point[k].InA)
	v := busV - n.SeriesOhm*currentA
	_, radiant := n.Arr.Light(v, currentA, junctionC)
	if n.CountsHeat {
		radiant = 0
	}
	ballast := n.Arr.BallastW(v, currentA, junctionC)
	junctionW = currentA*v - radiant - ballast
	return currentA, junctionW, radiant*(1-n.Optic) + ballast + n.SeriesOhm*currentA*currentA
}

// PortionsAt is ArrayAt with what each kind of emitters does in each group of strings:
// dst has a place for each. The heat of a portion is its electric less its radiant power.
func (s *Solver) PortionsAt(k int, busV, junctionC float64, dst []array.Portion) (currentA, junctionW, bodyW float64) {
	n := &s.Nodes[k]
	clear(dst)
	if n.Fault != OK || !n.Chosen || busV <= 0 {
		return 0, 0, 0
	}
	currentA, _ = n.Arr.Draw(busV, n.SeriesOhm, junctionC, s.Point[k].InA)
	v := busV - n.SeriesOhm*currentA
	n.portions(v, currentA, junctionC, dst)
	radiant := 0.0
	for i := range dst {
		radiant += dst[i].RadiantW
	}
	ballast := n.Arr.BallastW(v, currentA, junctionC)
	return currentA, currentA*v - radiant - ballast, radiant*(1-n.Optic) + ballast + n.SeriesOhm*currentA*currentA
}

// Portions tells what each kind of emitters of an array does in each group of strings at
// the operating point, as PortionsAt does.
func (s *Solver) Portions(k int, p *NodePoint, junctionC float64, dst []array.Portion) {
	n := &s.Nodes[k]
	clear(dst)
	if p.InA > 0 {
		n.portions(p.InnerV, p.InA, junctionC, dst)
	}
}

func (n *Node) portions(v, currentA, junctionC float64, dst []array.Portion) {
	n.Arr.Portions(v, currentA, junctionC, dst)
	for i := range dst {
		if n.CountsHeat {
			dst[i].RadiantW = 0
		}
	}
}

// Fill works out the slopes of all laws at the operating point, and with the arrays'
// Slope how the tree passes changes on.
func (t *Tangent) Fill() {
	s := t.s
	for k := len(s.Nodes) - 1; k >= 0; k-- {
		n, p := &s.Nodes[k], &s.Point[k]
		x := &t.own[k]
		*x = part{leaf: n.KidHi == n.KidLo, joint: n.SeriesOhm}
		if p.InV <= 0 || n.Fault == Open {
			continue
		}
		if n.Fault == Short {
			x.y, x.joint = 1/(shortOhm+n.SeriesOhm), 0
			continue
		}
		for j := n.KidLo; j < n.KidHi; j++ {
			x.sum += s.Nodes[j].Count * t.slopeOf(j)
		}
		if ohm, _, passes := n.passes(); passes {
			ohm += n.SeriesOhm
			x.conducts, x.joint = true, 0
			x.p = 1 / (1 + x.sum*ohm)
			x.y, x.w, x.q = x.sum*x.p, x.p, -ohm*x.p
			_, own := n.Drv.Quiescent(p.InnerV)
			x.y += own // as if before its joint: own draws are small
			continue
		}
		l := s.leafOf[k]
		if l < 0 {
			continue
		}
		f := leaf{kind: s.leaves[l].kind, node: k}
		switch n.Kind {
		case Driver:
			t.driver(k, x)
		case Strip:
			_, x.y = n.Strip.Draw(p.InnerV)
			if above := p.InnerV - n.Strip.KneeV; above > 0 {
				x.radiantPerV = p.RadiantW / above
			}
		case Load:
			s.loadAt(&f, p.InnerV)
			x.y = f.g
		case Aux:
			s.auxAt(&f, p.InnerV)
			x.y = f.g
		}
	}
}

// slopeOf is a node's current with the voltage of its bus.
func (t *Tangent) slopeOf(k int) float64 {
	if t.s.Nodes[k].Kind == Array {
		return t.Slope[k]
	}
	x := &t.own[k]
	return x.y / (1 + x.joint*x.y)
}

func (t *Tangent) driver(k int, x *part) {
	s := t.s
	n, p := &s.Nodes[k], &s.Point[k]
	d := &n.Drv
	if s.Locked[k] || s.Collapsed[k] || p.InnerV <= 0 {
		_, x.y = d.Quiescent(p.InnerV)
		return
	}
	take := d.Take(p.InnerV, p.OutV, p.OutA)
	if p.OutV <= 0 && p.OutA <= 0 {
		x.y = take.PerInV
		return
	}
	x.conducts = true
	env, open := d.Envelope(p.InnerV), d.OpenSlope(p.InnerV)
	if through, ok := d.Through(p.InnerV); ok && p.Mode == driver.Uncontrolled {
		env, open = through, 1
	}
	_, slope, follows := env.Offer(p.OutV)
	switch {
	case follows:
		x.p = open / (1 + env.SeriesOhm*x.sum)
		x.q = -env.SeriesOhm / (1 + env.SeriesOhm*x.sum)
	case x.sum != slope:
		x.q = -1 / (x.sum - slope)
	}
	out := take.PerOutV + take.PerOutA*x.sum
	x.y = take.PerInV + out*x.p
	x.w = out*x.q + take.PerOutA
}

// Solve answers the columns from lo to hi.
func (t *Tangent) Solve(lo, hi int) {
	s, c := t.s, t.columns
	for k := len(s.Nodes) - 1; k >= 0; k-- {
		n, x := &s.Nodes[k], &t.own[k]
		a := t.A[k*c : (k+1)*c] // at an unchanged voltage for now
		switch {
		case n.Kind == Array:
			copy(a[lo:hi], t.Draw[k*c+lo:k*c+hi])
		case !x.conducts:
			clear(a[lo:hi])
		default:
			share := x.w / (1 + x.joint*x.y)
			for i := lo; i < hi; i++ {
				sum := 0.0
				for j := n.KidLo; j < n.KidHi; j++ {
					sum += s.Nodes[j].Count * t.A[j*c+i]
				}
				t.LossW[k*c+i] = sum // kept for the way back
				a[i] = share * sum
			}
		}
	}
	for i := range s.Feeds {
		t.feed(i, lo, hi)
	}
	for k := range s.Nodes {
		t.back(k, lo, hi)
	}
}

// feed finds the voltage of a feed's bus.
func (t *Tangent) feed(i, lo, hi int) {
	s, c := t.s, t.columns
	f := &s.Feeds[i]
	stiff := 0.0
	for k := f.FeederLo; k < f.FeederHi; k++ {
		_, slope := s.offers[k].at(s.FeedAt[i].BusV)
		stiff -= slope
	}
	for k := f.KidLo; k < f.KidHi; k++ {
		stiff += s.Nodes[k].Count * t.slopeOf(k)
	}
	for col := lo; col < hi; col++ {
		v := 0.0
		for k := f.FeederLo; k < f.FeederHi; k++ {
			v += t.Give[k*c+col]
		}
		for k := f.KidLo; k < f.KidHi; k++ {
			v -= s.Nodes[k].Count * t.A[k*c+col]
		}
		if stiff != 0 {
			v /= stiff
		}
		for k := f.FeederLo; k < f.FeederHi; k++ {
			_, slope := s.offers[k].at(s.FeedAt[i].BusV)
			t.Feed[k*c+col] = t.Give[k*c+col] + slope*v
		}
		if f.FeederHi-f.FeederLo == 1 {
			// What is drawn, rather than little voltage over a small resistance.
			a := 0.0
			for k := f.KidLo; k < f.KidHi; k++ {
				a += s.Nodes[k].Count * (t.A[k*c+col] + t.slopeOf(k)*v)
			}
			t.Feed[f.FeederLo*c+col] = a
		}
		for k := f.KidLo; k < f.KidHi; k++ {
			t.V[k*c+col] = v
		}
	}
}

// back finds what a node does now that the voltage of its bus is known.
func (t *Tangent) back(k, lo, hi int) {
	s, c := t.s, t.columns
	n, x, p := &s.Nodes[k], &t.own[k], &s.Point[k]
	for i := lo; i < hi; i++ {
		at := k*c + i
		v, kept := t.V[at], t.LossW[at]
		if n.Kind == Array {
			t.A[at] += t.Slope[k] * v
			continue
		}
		t.A[at] += t.slopeOf(k) * v
		a := t.A[at]
		loss := p.InA*v + p.InV*a
		if !x.conducts {
			t.LossW[at] = loss - x.radiantPerV*(v-x.joint*a)
			continue
		}
		out := x.p*(v-x.joint*a) + x.q*kept
		t.LossW[at] = loss - p.OutA*out - p.OutV*(x.sum*out+kept)
		for j := n.KidLo; j < n.KidHi; j++ {
			t.V[j*c+i] = out
		}
	}
}

// Stiffness is the slope of what a feeder offers where it stands, A/V, ≤ 0.
func (s *Solver) Stiffness(feeder int) float64 {
	_, slope := s.offers[feeder].at(s.FeedAt[s.Feeders[feeder].Feed].BusV)
	return slope
}
