package chain

import "photherm/core/circuit"

// derivative is the right-hand side of the time solve: it solves the power tree
// at y and writes dy/dt.
func (s *Solver) derivative(_ float64, y, dydt []float64) {
	s.electrical(y)
	s.change(y, dydt)
}

// change writes dy/dt at the operating point that was solved for y.
func (s *Solver) change(y, dydt []float64) {
	for i := range s.Feeders {
		f := &s.Feeders[i]
		if n := f.Law.States(); n > 0 {
			f.Law.Rates(f.States(y), s.CellC[i], s.FeederAt[i].CurrentA, f.States(dydt))
			if s.holdSources {
				for j := range n { // charges; slow parts go on
					if f.Law.IsCharge(j) {
						dydt[f.At+j] = 0
					}
				}
			}
		}
	}
	s.heatInto()
	t := dydt[s.m.states:]
	copy(t, s.lumpW)
	for i := range s.links {
		l := &s.links[i]
		w := s.flowW(l, y)
		t[l.from] -= w
		if l.to >= 0 {
			t[l.to] += w
		}
	}
	for i := range t {
		t[i] /= s.jPerK[i]
	}
}

// flowW is the heat going along a link, W.
func (s *Solver) flowW(l *link, y []float64) float64 {
	return l.law.Watts(y[s.m.states+l.from], s.lumpC(y, l.to), s.driveV(l))
}

// slopes is how the heat going along a link changes with both ends, W/K.
func (s *Solver) slopes(l *link, y []float64) (perFrom, perTo float64) {
	return l.law.Slopes(y[s.m.states+l.from], s.lumpC(y, l.to), s.driveV(l))
}

// driveV is the voltage of what blows along a link.
func (s *Solver) driveV(l *link) float64 {
	if l.blower < 0 || s.Point[l.blower].InV < l.startV {
		return 0
	}
	return s.Point[l.blower].InV
}

// heatInto adds up the heat arising in each lump at the operating point.
func (s *Solver) heatInto() {
	clear(s.lumpW)
	add := func(lump int, w float64) {
		if lump >= 0 {
			s.lumpW[lump] += w
		}
	}
	for i := range s.Feeders {
		add(s.m.cellBody[i], s.sourceHeat[i])
	}
	for k := range s.Nodes {
		p, times := &s.Point[k], s.Nodes[k].Times
		add(s.m.keeps[k], times*p.RadiantW)
		if s.m.spots[k] != nil {
			s.spotHeat(k, add)
			add(s.m.bodyOf[k], times*(p.OpticW+p.JointW))
			continue
		}
		if j := s.m.junction[k]; j >= 0 {
			s.lumpW[j] += times * (p.LossW - p.JointW)
			add(s.m.bodyOf[k], times*(p.OpticW+p.JointW))
			continue
		}
		add(s.m.bodyOf[k], times*(p.LossW+p.OpticW))
	}
}

// feederHeatW is the heat arising in a source, within the light.
func (s *Solver) feederHeatW(i int) float64 {
	f := &s.Feeders[i]
	if s.Moments() == 1 {
		return f.Law.HeatW(f.States(s.y), s.CellC[i], s.FeederAt[i].CurrentA)
	}
	// Its loss is that of the current's square, averaged; the rest that of none.
	w := f.Law.HeatW(f.States(s.y), s.CellC[i], 0)
	if f.IsPack {
		w += s.FeederAt[i].LossW
	}
	return w
}

// storedJ is the heat in the lumps above the temperature at switch-on, J.
func (s *Solver) storedJ(y []float64) float64 {
	j := 0.0
	for i := range s.jPerK {
		j += s.jPerK[i] * (y[s.m.states+i] - s.startC)
	}
	return j
}

// sourcesJ is the energy left in the sources, J, from their states alone, so that the
// ledger's two sides share nothing; and what their slow parts hold.
func (s *Solver) sourcesJ(y []float64) (stored, held float64) {
	for i := range s.Feeders {
		f := &s.Feeders[i]
		a, b := f.Law.EnergyJ(f.States(y))
		stored, held = stored+a, held+b
	}
	return stored, held
}

// melts is the first lump above what it bears; −1 if there is none.
func (s *Solver) melts(y []float64) int {
	for i := range s.m.lumps {
		if y[s.m.states+i] > s.m.lumps[i].bearsC {
			return i
		}
	}
	return -1
}

// lit tells whether there is light, or where no light is known, power.
func (s *Solver) lit() bool {
	known, flux, power := false, 0.0, 0.0
	for k := range s.Nodes {
		flux += s.Point[k].FluxLm
		n := &s.Nodes[k]
		switch n.Kind {
		case circuit.Array, circuit.Strip, circuit.Load:
			power += s.Point[k].InW
		}
		known = known || s.Point[k].FluxLm > 0
	}
	if known {
		return flux > 0
	}
	return power > 0
}
