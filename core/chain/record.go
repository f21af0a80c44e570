package chain

import "photherm/core/driver"

// A Column says what one number of every record is. Owner is the id of a feed,
// node or body, or empty for the light as a whole.
type Column struct {
	Owner  string `json:"owner" doc:"Id of the feed, node or body; empty: the whole light"`
	Figure string `json:"figure" doc:"sourceW openV busV busA lossW charge cellV inV inA inW outV outA outW peakV peakA stringA mode fluxLm farV farLight lightW opticW junctionC caseC bodyC heatW airW inputW"`
	Unit   string `json:"unit" doc:"Unit of the values"`
}

// layout fixes the columns of a record; Solver.record writes in the same order.
func (m *Model) layout() {
	add := func(owner string, figures ...string) {
		for i := 0; i < len(figures); i += 2 {
			m.columns = append(m.columns, Column{owner, figures[i], figures[i+1]})
		}
	}
	for i := range m.feeds {
		f := &m.feeds[i]
		add(f.id, "sourceW", "W", "openV", "V", "busV", "V", "busA", "A", "lossW", "W")
		if f.kind == packSource {
			add(f.id, "charge", "1", "cellV", "V")
		}
	}
	for k := range m.nodes {
		n := &m.nodes[k]
		add(n.id, "inV", "V", "inA", "A", "inW", "W", "lossW", "W")
		switch n.kind {
		case switchNode, driverNode:
			add(n.id, "outV", "V", "outA", "A", "outW", "W", "peakV", "V", "peakA", "A", "mode", "1")
		case stripNode:
			add(n.id, "fluxLm", "lm", "lightW", "W", "farV", "V", "farLight", "1")
		case loadNode:
			add(n.id, "fluxLm", "lm")
		case arrayNode:
			add(n.id, "stringA", "A", "fluxLm", "lm", "lightW", "W", "opticW", "W")
			if n.junction >= 0 {
				add(n.id, "junctionC", "°C", "caseC", "°C")
			}
		}
	}
	for i := range m.bodies {
		if m.bodies[i] >= 0 {
			add(m.variant.Bodies[i].ID, "bodyC", "°C", "airW", "W")
		}
	}
	add("", "inputW", "W", "lightW", "W", "heatW", "W", "fluxLm", "lm", "airW", "W", "looseW", "W")
}

// Columns describes the numbers of a record.
func (m *Model) Columns() []Column { return m.columns }

// Places of the whole-light columns, counted from the end.
const (
	totalInputW = 6 - iota
	totalLightW
	totalHeatW
	totalFluxLm
	totalAirW
	totalLooseW
)

// record writes the operating point, solved at s.y, to dst.
func (s *Solver) record(dst []float64) {
	i := 0
	put := func(values ...float64) {
		i += copy(dst[i:], values)
	}
	var inputW, lightW, heatW, fluxLm, airW, looseW float64
	heat := func(body int, w float64) {
		heatW += w
		if body == noBody || s.m.bodies[body] < 0 {
			looseW += w
		}
	}
	for k := range s.feeds {
		f, p := &s.feeds[k], &s.feedAt[k]
		loss := s.packHeatW(k)
		source := p.busW + loss
		put(source, p.openV, p.busV, p.busA, loss)
		inputW += source
		heat(f.body, loss)
		if f.kind == packSource {
			put(s.y[f.charge], (p.busV+p.busA*f.pack.ContactOhm)/float64(f.pack.Series))
		}
	}
	for k := range s.nodes {
		n, p := &s.nodes[k], &s.point[k]
		put(p.inV, p.inA, p.inW, p.lossW)
		fluxLm += p.fluxLm
		lightW += p.radiantW
		switch n.kind {
		case switchNode, driverNode:
			put(p.outV, p.outA, p.outW, s.on[k].outV, s.on[k].outA, float64(p.mode))
		case stripNode:
			put(p.fluxLm, p.radiantW, s.on[k].farV, n.strip.FarLight(s.on[k].farV))
		case loadNode:
			put(p.fluxLm)
		case arrayNode:
			string0 := 0.0
			if q := &s.on[k]; n.chosen && q.inA > 0 {
				string0 = n.arr.ShareA(0, q.outV, q.inA, s.lumpC(s.y, n.junction))
			}
			put(string0, p.fluxLm, p.radiantW, p.opticW)
			if n.junction >= 0 {
				put(s.lumpC(s.y, n.junction), s.lumpC(s.y, n.board))
			}
		}
		heat(n.body, p.lossW+p.opticW)
	}
	for b, lump := range s.m.bodies {
		if lump < 0 {
			continue
		}
		w := 0.0
		for l := range s.links {
			if s.links[l].from == lump && s.links[l].to < 0 {
				w += s.linkW(&s.links[l], s.y)
			}
		}
		airW += w
		put(s.lumpC(s.y, s.m.bodies[b]), w)
	}
	put(inputW, lightW, heatW, fluxLm, airW, looseW)
}

// storedJ is the heat in the lumps above the temperature at switch-on, J.
func (s *Solver) storedJ(y []float64) float64 {
	j := 0.0
	for i := range s.jPerK {
		j += s.jPerK[i] * (y[s.m.states+i] - s.startC)
	}
	return j
}

// chemicalJ is the energy left in the packs, J: from the charge alone, ∫OCV dQ,
// so that the ledger's two sides share nothing; and what the slow part holds.
func (s *Solver) chemicalJ(y []float64) (chemical, polar float64) {
	for i := range s.feeds {
		f := &s.feeds[i]
		if f.charge >= 0 {
			chemical += 3600 * f.pack.EnergyWh(y[f.charge])
		}
		if f.polar >= 0 {
			v := y[f.polar]
			polar += f.pack.Cell.PolarFarad * v * v / 2 * float64(f.pack.Series*f.pack.Parallel)
		}
	}
	return chemical, polar
}

// ModeName names the value of a mode column.
func ModeName(value float64) string { return driver.Mode(int(value + 0.5)).String() }
