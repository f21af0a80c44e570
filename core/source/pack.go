package source

import (
	"math"

	"photherm/core/design"
)

// A Pack is Series × Parallel equal cells behind contacts, with their protection. Its
// states are its charge, of 1, and the voltage on the slow resistance of a cell, if
// the cell has one.
type Pack struct {
	Cell       Cell
	Series     int
	Parallel   int
	ContactOhm float64
	CutoffV    float64 // at the cells, per cell
	ReleaseV   float64 // resting, per cell, where protection switches on again; +Inf: it stays off
	DelayS     float64 // how long it may be below the cut-off
}

// NewPack makes a pack from the document.
func NewPack(p *design.Pack, c Cell) *Pack {
	pack := &Pack{Cell: c, Series: p.Series, Parallel: p.Parallel, ContactOhm: p.ContactOhm, CutoffV: c.MinV, ReleaseV: math.Inf(1)}
	if p.CutoffCellV != nil {
		pack.CutoffV = *p.CutoffCellV
	}
	if p.ReleaseCellV != nil {
		pack.ReleaseV = *p.ReleaseCellV
	}
	if p.CutoffDelayS != nil {
		pack.DelayS = *p.CutoffDelayS
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

// States of a pack: its charge, and the slow voltage of a cell that has one.
func (p *Pack) States() int {
	if p.Cell.Slow {
		return 2
	}
	return 1
}

// Start is a rested pack of a charge.
func (p *Pack) Start(y []float64, charge float64) {
	clear(y)
	y[0] = charge
}

// Tolerance of the charge and of the slow voltage.
func (p *Pack) Tolerance(tol []float64) {
	tol[0] = 2e-6
	if len(tol) > 1 {
		tol[1] = 1e-4
	}
}

func slowV(y []float64) float64 {
	if len(y) > 1 {
		return y[1]
	}
	return 0
}

// Terminal is the open-circuit voltage behind cells and contacts. A full pack takes
// nothing more.
func (p *Pack) Terminal(y []float64, cellC float64) Terminal {
	return Terminal{OpenV: p.OpenV(y[0], slowV(y)), SeriesOhm: p.CellsOhm(y[0], cellC) + p.ContactOhm, LimitA: math.Inf(1), TwoWay: y[0] < 1}
}

// Rates of charge and slow voltage.
func (p *Pack) Rates(y []float64, currentA float64, rates []float64) {
	rates[0] = -currentA / (3600 * p.CapacityAh())
	if len(y) > 1 {
		if p.Cell.PolarOhm <= 0 {
			rates[1] = -y[1]
			return
		}
		rates[1] = (currentA/float64(p.Parallel) - y[1]/p.Cell.PolarOhm) / p.Cell.PolarFarad
	}
}

// HeatW is the loss in cells, contacts and the slow resistance.
func (p *Pack) HeatW(y []float64, cellC, currentA float64) float64 {
	w := currentA * currentA * (p.CellsOhm(y[0], cellC) + p.ContactOhm)
	if v := slowV(y); v != 0 && p.Cell.PolarOhm > 0 {
		w += v * v / p.Cell.PolarOhm * float64(p.Series*p.Parallel)
	}
	return w
}

// EnergyJ is the energy left, from the charge alone, ∫OCV dQ, and what the slow parts
// hold.
func (p *Pack) EnergyJ(y []float64) (stored, held float64) {
	v := slowV(y)
	return 3600 * p.EnergyWh(y[0]), p.Cell.PolarFarad * v * v / 2 * float64(p.Series*p.Parallel)
}

// RestV is the open-circuit voltage of the rested pack.
func (p *Pack) RestV(y []float64) float64 { return p.OpenV(y[0], 0) }

// Protection compares a cell, under its load and at rest, with cut-off and release.
func (p *Pack) Protection(y []float64, cellC, currentA float64) Standby {
	resting := p.Cell.OCV(y[0]) - slowV(y)
	cell := resting - currentA*p.CellsOhm(y[0], cellC)/float64(p.Series)
	return Standby{Charge: y[0], CellV: cell, AboveV: cell - p.CutoffV, Release: resting - p.ReleaseV, DelayS: p.DelayS, CanEmpty: true}
}
