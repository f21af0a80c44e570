package chain

import "photherm/core/design"

// Cost is what the parts of the model's variant come to.
func (m *Model) Cost() design.Cost { return design.CostOf(m.light, m.options.Variant) }

// A RestingPoint is the voltage of a resting cell at a charge.
type RestingPoint struct {
	Charge float64 `json:"charge" doc:"Of 1"`
	CellV  float64 `json:"cellV" doc:"Open-circuit voltage of one cell once it has come to rest, V"`
}

// restingPoints is how finely the voltage of a resting cell is told.
const restingPoints = 41

// Resting is the voltage of a resting cell of the first pack against its charge, charge
// rising: by it a voltage that was read stands for a charge. Empty: there is no pack.
func (m *Model) Resting() []RestingPoint {
	for i := range m.net.Feeders {
		f := &m.net.Feeders[i]
		if !f.IsPack {
			continue
		}
		pack, series := f.Law, m.sourceOf(f.Feed).Pack.Series
		out := make([]RestingPoint, restingPoints)
		y := make([]float64, pack.States())
		for k := range out {
			charge := float64(k) / (restingPoints - 1)
			pack.Start(y, charge)
			out[k] = RestingPoint{charge, pack.RestV(y) / float64(series)}
		}
		return out
	}
	return []RestingPoint{}
}

// Holds is what the pack of a feed holds when it is full, Ah, and between empty and a charge,
// Wh; nought where it has none.
func (m *Model) Holds(feed string, charge float64) (fullAh, wh float64) {
	for i := range m.net.Feeders {
		f := &m.net.Feeders[i]
		pack, ok := f.Law.(interface {
			CapacityAh() float64
			EnergyWh(charge float64) float64
		})
		if ok && m.net.Feeds[f.Feed].ID == feed {
			return pack.CapacityAh(), pack.EnergyWh(charge)
		}
	}
	return 0, 0
}
