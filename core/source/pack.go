package source

import "photherm/core/design"

// A Pack is Series × Parallel equal cells behind contacts.
type Pack struct {
	Cell       Cell
	Series     int
	Parallel   int
	ContactOhm float64
	CutoffV    float64 // at the cells, per cell
}

// NewPack makes a pack from the document.
func NewPack(p *design.Pack, c Cell) Pack {
	pack := Pack{Cell: c, Series: p.Series, Parallel: p.Parallel, ContactOhm: p.ContactOhm, CutoffV: c.MinV}
	if p.CutoffCellV != nil {
		pack.CutoffV = *p.CutoffCellV
	}
	return pack
}

// OpenV is the open-circuit voltage of the pack, V; polarV is the voltage on one
// cell's slow resistance.
func (p *Pack) OpenV(charge, polarV float64) float64 {
	return float64(p.Series) * (p.Cell.OCV(charge) - polarV)
}

// CellsOhm is the resistance of the cells, without contacts, Ω.
func (p *Pack) CellsOhm(charge, cellC float64) float64 {
	return float64(p.Series) / float64(p.Parallel) * p.Cell.Ohm(charge, cellC)
}

// CapacityAh is the capacity of the pack, Ah.
func (p *Pack) CapacityAh() float64 { return float64(p.Parallel) * p.Cell.CapacityAh }

// EnergyWh is the energy between empty and a charge, Wh.
func (p *Pack) EnergyWh(charge float64) float64 {
	return float64(p.Series*p.Parallel) * p.Cell.EnergyWh(charge)
}
