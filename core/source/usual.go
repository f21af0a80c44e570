package source

import "photherm/core/design"

// usualBoards are where boards cut, switch on again, stop the charge and let it go on, V a cell
// (common practice: boards of lithium-ion cut at 2.4 to 2.5 V and release at 3.0 V).
var usualBoards = map[string][4]float64{
	"li-ion-4.2": {2.5, 3.0, 4.28, 4.1}, "li-ion-4.35": {2.5, 3.0, 4.43, 4.2}, "lifepo4": {2.5, 2.9, 3.75, 3.55},
}

const (
	usualBoardOhm = 0.05 // of its switches (common practice: 20 to 80 mΩ)
	adapterV      = 5.0  // what feeds a small charger
)

// UsualBoard is a board as it is mostly sold for so many cells of a kind in series; of chemistries
// that have none of their own it cuts where the cells end, and stops no charge.
func UsualBoard(c *design.Cell, series int) *design.Protection {
	b := &design.Protection{Series: max(series, 1), ResistOhm: new(usualBoardOhm)}
	if !Primary(c) {
		b.Chemistry = c.Chemistry
	}
	u, ok := usualBoards[c.Chemistry]
	if !ok {
		b.CutCellV, _ = Range(c)
		return b
	}
	b.CutCellV, b.ReleaseCellV, b.OverCellV, b.OverFreeV = u[0], new(u[1]), new(u[2]), new(u[3])
	return b
}

// UsualCharger is a charger for so many cells of a kind, at what they may be charged with where
// their data do not say: linear from an adapter for one cell, switching for more. nil: they are
// not to be charged.
func UsualCharger(c *design.Cell, series, parallel int) *design.Charger {
	if Primary(c) {
		return nil
	}
	a, _ := MaxChargeA(c)
	a *= float64(max(parallel, 1))
	out := &design.Charger{Kind: "switching", Chemistry: c.Chemistry, Series: max(series, 1), CurrentA: &a}
	if out.Series == 1 && ChargeV(c) < adapterV-0.5 {
		out.Kind, out.InputV = "linear", new(adapterV)
	}
	return out
}
