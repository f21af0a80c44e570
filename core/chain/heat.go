package chain

// derivative is the right-hand side of the time solve: it solves the power tree
// at y and writes dy/dt.
func (s *Solver) derivative(_ float64, y, dydt []float64) {
	s.electrical(y)
	for i := range s.feeds {
		f, p := &s.feeds[i], &s.feedAt[i]
		if f.charge >= 0 {
			dydt[f.charge] = -p.busA / (3600 * f.pack.CapacityAh())
			if s.holdCharge {
				dydt[f.charge] = 0
			}
		}
		if f.polar >= 0 {
			c := &f.pack.Cell
			dydt[f.polar] = (p.busA/float64(f.pack.Parallel) - y[f.polar]/c.PolarOhm) / c.PolarFarad
		}
	}
	s.heatInto()
	t := dydt[s.m.states:]
	copy(t, s.lumpW)
	for i := range s.links {
		l := &s.links[i]
		w := s.linkW(l, y)
		t[l.from] -= w
		if l.to >= 0 {
			t[l.to] += w
		}
	}
	for i := range t {
		t[i] /= s.jPerK[i]
	}
}

// linkW is the heat going along a link, W.
func (s *Solver) linkW(l *link, y []float64) float64 {
	return (y[s.m.states+l.from] - s.lumpC(y, l.to)) * l.wPerK
}

// heatInto adds up the heat arising in each lump at the operating point.
func (s *Solver) heatInto() {
	clear(s.lumpW)
	add := func(body int, w float64) {
		if body != noBody && s.m.bodies[body] >= 0 {
			s.lumpW[s.m.bodies[body]] += w
		}
	}
	for i := range s.feeds {
		add(s.feeds[i].body, s.packHeatW(i))
	}
	for k := range s.nodes {
		n, p := &s.nodes[k], &s.point[k]
		if n.kind == arrayNode && n.junction >= 0 {
			s.lumpW[n.junction] += p.lossW - p.jointW
			add(n.body, p.opticW+p.jointW)
			continue
		}
		add(n.body, p.lossW+p.opticW)
	}
}

// packHeatW is the heat arising in a source: its series loss and that of the slow
// resistance.
func (s *Solver) packHeatW(i int) float64 {
	f := &s.feeds[i]
	if f.kind != packSource {
		return 0 // a supply's own loss is outside the light
	}
	w := s.feedAt[i].lossW
	if f.polar >= 0 {
		v := s.y[f.polar]
		w += v * v / f.pack.Cell.PolarOhm * float64(f.pack.Series*f.pack.Parallel)
	}
	return w
}
