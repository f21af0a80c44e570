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
	CutoffV    float64 // at the cells, per cell; −Inf: nothing cuts them off
	ReleaseV   float64 // resting, per cell, where protection switches on again; +Inf: it stays off
	DelayS     float64 // how long it may be below the cut-off
	TripA      float64 // its board trips above it; 0: none does
	TripS      float64 // how long it bears more
	OverV      float64 // per cell, where its board stops the charge; +Inf: nothing does
	OverFreeV  float64 // resting, per cell, below which it lets it be charged again

	coldShare float64 // of its capacity, for the temperature at switch-on
}

// cutDelayS is how long a board waits where its data do not say (common practice).
const cutDelayS = 0.1

// tripDelayS is how long a board bears more than it trips at, where its data do not say (common
// practice).
const tripDelayS = 0.01

// overBackV is how far below the voltage at which it stopped the charge a board lets it go on,
// where its data do not say (common practice: 0.1 to 0.2 V).
const overBackV = 0.15

// LawOf is the law of a pack: of equal cells, or of cells measured one by one.
func LawOf(p *design.Pack, c Cell, board *design.Protection, startC float64) Law {
	pack := NewPack(p, c, board, startC)
	if len(p.Groups) > 0 {
		return NewGroups(pack, p.Groups)
	}
	return pack
}

// NewPack makes a pack of equal cells from the document, with the board that protects it;
// nil: it has none. startC is the temperature at which it is switched on.
func NewPack(p *design.Pack, c Cell, board *design.Protection, startC float64) *Pack {
	pack := &Pack{Cell: c, Series: p.Series, Parallel: p.Parallel, ContactOhm: p.ContactOhm, CutoffV: math.Inf(-1), ReleaseV: math.Inf(1), OverV: math.Inf(1), OverFreeV: math.Inf(1), coldShare: c.cold(startC)}
	pack.Cell.CapacityAh *= pack.coldShare
	if board != nil {
		pack.CutoffV, pack.DelayS = board.CutCellV, cutDelayS
		pick(&pack.DelayS, board.CutDelayS)
		if pack.TripS = tripDelayS; board.MaxA != nil {
			pack.TripA = *board.MaxA
			pick(&pack.TripS, board.TripS)
		}
		if board.ResistOhm != nil {
			pack.ContactOhm += *board.ResistOhm
		}
		if board.OverCellV != nil {
			pack.OverV, pack.OverFreeV = *board.OverCellV, *board.OverCellV-overBackV
			pick(&pack.OverFreeV, board.OverFreeV)
		}
		if !board.Latches {
			pick(&pack.ReleaseV, board.ReleaseCellV)
		}
	}
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
func (p *Pack) Rates(y []float64, _, currentA float64, rates []float64) {
	rates[0] = -p.Cell.harder(currentA/float64(p.Parallel)) * currentA / (3600 * p.CapacityAh())
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

// LeftW is what hard work leaves in the cells: they are empty before they have given all.
func (p *Pack) LeftW(y []float64, _, currentA float64) float64 {
	return (p.Cell.harder(currentA/float64(p.Parallel)) - 1) * currentA * p.OpenV(y[0], 0)
}

// IsCharge is so of its first state.
func (p *Pack) IsCharge(state int) bool { return state == 0 }

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
	return Standby{Charge: y[0], CellV: cell, AboveV: above(cell, p.CutoffV, currentA), Release: resting - p.ReleaseV, DelayS: p.DelayS, TripA: p.TripA, TripS: p.TripS, CanEmpty: true}
}

// HighestV is the voltage of the cell that stands highest while a current flows, negative where
// it is charged.
func (p *Pack) HighestV(y []float64, cellC, currentA float64) float64 {
	return p.Cell.OCV(y[0]) - slowV(y) - currentA*p.CellsOhm(y[0], cellC)/float64(p.Series)
}

// over is where its board stops the charge and lets it go on, V a cell.
func (p *Pack) over() (stopV, backV float64) { return p.OverV, p.OverFreeV }

// above is how far a cell is above its cut-off, V: one that is being charged is not cut off.
func above(cellV, cutoffV, currentA float64) float64 {
	if currentA < 0 {
		return math.Inf(1)
	}
	return cellV - cutoffV
}
