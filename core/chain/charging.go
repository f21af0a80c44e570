package chain

import (
	"photherm/core/circuit"
	"photherm/core/source"
)

// ChargerOn is what charges the pack of a feed; nil: nothing does.
func (m *Model) ChargerOn(feed string) *source.Charger {
	for i := range m.net.Feeds {
		if k := m.chargerOf(i); m.net.Feeds[i].ID == feed && k >= 0 {
			return m.net.Feeders[k].Law.(*source.Charger)
		}
	}
	return nil
}

func charges(f *circuit.Feeder) bool {
	_, ok := f.Law.(*source.Charger)
	return ok
}

// highCellV is the voltage of the cell that stands highest in the pack of a feed, V.
func (s *Solver) highCellV(feed int) float64 {
	i := s.m.packOf(feed)
	f := &s.Feeders[i]
	return f.Law.(interface {
		HighestV(y []float64, cellC, currentA float64) float64
	}).HighestV(f.States(s.y), s.CellC[i], s.FeederAt[i].CurrentA)
}
