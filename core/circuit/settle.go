package circuit

import "photherm/core/driver"

// settleFeed fills in the operating points of a feed from the voltages found.
func (s *Solver) settleFeed(i int) {
	f, p := &s.Feeds[i], &s.FeedAt[i]
	v := max(s.buses[s.feedBus[i]].u, 0)
	*p = FeedPoint{BusV: v}
	for k := f.KidLo; k < f.KidHi; k++ {
		p.BusA += s.Nodes[k].Count * s.settle(k, v)
	}
	p.BusW = p.BusV * p.BusA
	total := 0.0
	for k := f.FeederLo; k < f.FeederHi; k++ {
		q := &s.FeederAt[k]
		*q = FeederPoint{OpenV: s.offers[k].open}
		q.CurrentA, _ = s.offers[k].at(v)
		total += q.CurrentA
	}
	if f.FeederHi-f.FeederLo == 1 {
		// To the last digit what is drawn, not what little voltage over a small
		// resistance tells.
		s.FeederAt[f.FeederLo].CurrentA = p.BusA
	}
	for k := f.FeederLo; k < f.FeederHi; k++ {
		q := &s.FeederAt[k]
		q.BusW = v * q.CurrentA
		o := &s.offers[k]
		q.LossW = q.CurrentA * q.CurrentA * o.ohm
		if q.GivenW = o.open * q.CurrentA; q.CurrentA >= o.limit*(1-1e-9) {
			q.GivenW = q.BusW + q.LossW // its voltage is what its limit makes it
		}
	}
}

// settle fills in the operating point of node k at bus voltage v, and of all below it,
// and returns what one k draws.
func (s *Solver) settle(k int, v float64) float64 {
	n, p := &s.Nodes[k], &s.Point[k]
	*p = NodePoint{InV: v}
	if v <= 0 || n.Fault != OK {
		if n.Fault == Short && v > 0 {
			p.InA = v / (shortOhm + n.SeriesOhm)
			p.LossW = v * p.InA
			p.InW = p.LossW
		}
		s.darken(n.KidLo, n.KidHi)
		return p.InA
	}
	if _, _, passes := n.passes(); passes {
		s.settlePass(k, v)
		return p.InA
	}
	l := s.leafOf[k]
	if l < 0 {
		p.InnerV = v
		s.darken(n.KidLo, n.KidHi)
		return 0
	}
	f := &s.leaves[l]
	if n.Kind == Driver {
		s.settleDriver(k, f, v)
	} else {
		p.InA = f.a / f.w
		p.InnerV = v - n.SeriesOhm*p.InA
		p.LossW = p.InA * p.InnerV
		switch n.Kind {
		case Array:
			s.settleArray(k, p)
		case Strip:
			p.FluxLm, p.FarV = n.Strip.Light(p.InnerV)
			p.FluxLm *= n.Optic
			if n.Strip.LmPerW > 0 && !n.CountsHeat {
				p.RadiantW = min(p.FluxLm/n.Strip.LmPerW, 0.98*p.LossW)
				p.LossW -= p.RadiantW
			}
		case Load:
			p.FluxLm = n.Optic * n.loadLight(p.InnerV)
		}
	}
	joint := n.SeriesOhm * p.InA * p.InA
	p.LossW += joint
	p.JointW += joint
	p.InW, p.OutW = v*p.InA, p.OutV*p.OutA
	return p.InA
}

// settlePass settles a node that is a resistance to what it feeds.
func (s *Solver) settlePass(k int, v float64) {
	n, p := &s.Nodes[k], &s.Point[k]
	ohm, v0, _ := n.passes()
	switch b := s.out[k]; b {
	case dark:
		p.OutV = v - v0
	case merged:
		p.OutV = v
	case folded:
		f := &s.leaves[s.leafOf[s.endOf(k)]]
		p.OutV = v - (n.SeriesOhm+ohm)*f.a/f.w - v0
	default:
		p.OutV = s.buses[b].u
	}
	p.OutV = max(p.OutV, 0)
	p.OutA = s.settleAll(n.KidLo, n.KidHi, p.OutV)
	own := n.Drv.QuiescentA
	p.InnerV = v - n.SeriesOhm*(p.OutA+own)
	if own > 0 && p.InnerV < driver.FadeV {
		p.InnerV = (v - n.SeriesOhm*p.OutA) / (1 + n.SeriesOhm*own/driver.FadeV)
		own, _ = n.Drv.Quiescent(p.InnerV)
	}
	p.InA, p.Mode = p.OutA+own, driver.PassThrough
	joint := n.SeriesOhm * p.InA * p.InA
	p.JointW = joint
	p.LossW = joint + (ohm*p.OutA+v0)*p.OutA + own*p.InnerV
	p.InW, p.OutW = v*p.InA, p.OutV*p.OutA
}

// endOf is the array at the end of resistances.
func (s *Solver) endOf(k int) int {
	for s.Nodes[k].Kind != Array {
		k = s.Nodes[k].KidLo
	}
	return k
}

func (s *Solver) settleDriver(k int, f *leaf, v float64) {
	n, p := &s.Nodes[k], &s.Point[k]
	p.InnerV = v - n.SeriesOhm*f.a/f.w
	if n.SeriesOhm > 0 {
		p.InnerV = s.buses[s.buses[s.out[k]].ownerBus].u
	}
	if s.Locked[k] || s.Collapsed[k] {
		p.Mode = driver.LockedOut
		if n.Drv.Family == driver.Window {
			p.Mode = driver.Hiccup
		}
		p.InA, _ = n.Drv.Quiescent(p.InnerV)
		p.LossW = p.InA * p.InnerV
		s.darken(n.KidLo, n.KidHi)
		return
	}
	if p.InnerV <= 0 || n.Drv.Off {
		p.InA, p.LossW = n.Drv.Input(p.InnerV, 0, 0)
		if p.InnerV > 0 {
			p.OutV = 0
		}
		p.Mode = n.Drv.Mode(p.InnerV, 0, 0)
		s.darken(n.KidLo, n.KidHi)
		return
	}
	if h := &s.held[k]; !h.valid && h.stamp == s.stamp {
		if _, _, _, ok := s.controls(k, p.InnerV); ok {
			o := offer{env: s.control(k)}
			s.feed(s.out[k], &o)
			h.valid = true
		}
	}
	p.OutV = max(s.buses[s.out[k]].u, 0)
	if limit := n.Drv.LimitA(); limit <= 0 && (n.Drv.Regulates() || n.Drv.Family == driver.Voltage) {
		s.darken(n.KidLo, n.KidHi)
		p.InA, p.LossW = n.Drv.Input(p.InnerV, 0, 0)
		p.OutV, p.Mode = 0, driver.Off
		return
	}
	p.OutA = s.settleAll(n.KidLo, n.KidHi, p.OutV)
	p.InA, p.LossW = n.Drv.Input(p.InnerV, p.OutV, p.OutA)
	p.Mode = n.Drv.Mode(p.InnerV, p.OutV, p.OutA)
}

func (s *Solver) settleAll(lo, hi int, v float64) float64 {
	total := 0.0
	for k := lo; k < hi; k++ {
		total += s.Nodes[k].Count * s.settle(k, v)
	}
	return total
}

func (s *Solver) settleArray(k int, p *NodePoint) {
	n, t := &s.Nodes[k], s.JunctionC[k]
	v := p.InnerV
	electric, radiant := 0.0, 0.0
	p.FluxLm, electric, radiant = n.Arr.Power(v, p.InA, t)
	if n.CountsHeat {
		radiant = 0
	}
	p.OutV, p.OutA = v, p.InA
	p.OpticW = radiant * (1 - n.Optic)
	p.RadiantW = radiant - p.OpticW
	p.FluxLm *= n.Optic
	p.JointW = n.Arr.BallastW(v, p.InA, t)
	p.LossW = electric + p.JointW - radiant
}

func (n *Node) loadLight(v float64) float64 {
	if n.LoadLm <= 0 {
		return 0
	}
	p := n.Load
	last := len(p) - 1
	relative := func(i int) float64 {
		if p[i].RelativeLight != nil {
			return *p[i].RelativeLight
		}
		return p[i].CurrentA / p[last].CurrentA
	}
	switch {
	case v >= p[last].VoltageV:
		return n.LoadLm * relative(last)
	case v <= p[0].VoltageV:
		// Below its readings it gives light as it takes power.
		return n.LoadLm * relative(0) * v * n.before(v).a / max(p[0].VoltageV*p[0].CurrentA, 1e-12)
	}
	i := 1
	for v > p[i].VoltageV {
		i++
	}
	x := (v - p[i-1].VoltageV) / (p[i].VoltageV - p[i-1].VoltageV)
	return n.LoadLm * (relative(i-1)*(1-x) + relative(i)*x)
}

// darken clears the operating points of nodes that get no power.
func (s *Solver) darken(lo, hi int) {
	for k := lo; k < hi; k++ {
		s.Point[k] = NodePoint{}
		s.darken(s.Nodes[k].KidLo, s.Nodes[k].KidHi)
	}
}
