package source

import "photherm/core/design"

// chemistry is what cells of one kind have in common when nothing was measured:
// the resting voltage against charge and where to stop. Typical, common practice,
// from memory; single makes differ by ±30 mV, and primaries by more.
type chemistry struct {
	resting []design.OCVPoint
	minV    float64
	fullV   float64 // fresh, or at the end of charging
}

var chemistries = map[string]chemistry{
	// graphite against nickel or cobalt oxide
	"li-ion-4.2": {resting(3.00, 3.20, 3.37, 3.49, 3.60, 3.66, 3.71, 3.78, 3.86, 3.94, 4.02, 4.09, 4.19), 2.8, 4.2},
	// the same charged higher
	"li-ion-4.35": {resting(3.00, 3.22, 3.40, 3.53, 3.65, 3.72, 3.78, 3.86, 3.95, 4.04, 4.13, 4.22, 4.33), 2.8, 4.35},
	// iron phosphate: flat
	"lifepo4": {resting(2.60, 2.90, 3.10, 3.19, 3.23, 3.26, 3.28, 3.29, 3.29, 3.31, 3.33, 3.34, 3.45), 2.5, 3.65},
	"nimh":    {resting(1.00, 1.12, 1.17, 1.20, 1.23, 1.245, 1.25, 1.26, 1.27, 1.28, 1.30, 1.33, 1.40), 0.9, 1.45},
	// zinc and manganese dioxide
	"alkaline": {resting(0.80, 0.95, 1.05, 1.12, 1.18, 1.22, 1.25, 1.28, 1.32, 1.36, 1.42, 1.49, 1.60), 0.8, 1.6},
	// zinc and carbon: sags as it is used
	"zinc-carbon": {resting(0.80, 0.90, 0.98, 1.05, 1.12, 1.17, 1.21, 1.26, 1.31, 1.37, 1.43, 1.50, 1.62), 0.8, 1.62},
	// sealed lead-acid, one cell of the block: 1.95 V empty to 2.13 V rested full
	"lead-acid": {resting(1.75, 1.85, 1.90, 1.94, 1.97, 1.99, 2.01, 2.03, 2.05, 2.07, 2.09, 2.11, 2.13), 1.75, 2.30},
	// lithium and manganese dioxide, 3 V
	"lithium-3.0": {resting(2.00, 2.30, 2.55, 2.70, 2.82, 2.88, 2.92, 2.95, 2.97, 2.99, 3.02, 3.06, 3.20), 2.0, 3.2},
	// lithium and iron disulphide, 1.5 V
	"lithium-1.5": {resting(0.90, 1.10, 1.28, 1.36, 1.42, 1.45, 1.47, 1.48, 1.49, 1.50, 1.52, 1.60, 1.80), 0.9, 1.8},
}

// resting sets voltages to the charges at which all curves are written down.
func resting(volts ...float64) []design.OCVPoint {
	charge := [...]float64{0, 0.02, 0.05, 0.10, 0.20, 0.30, 0.40, 0.50, 0.60, 0.70, 0.80, 0.90, 1}
	points := make([]design.OCVPoint, len(volts))
	for i, v := range volts {
		points[i] = design.OCVPoint{Charge: charge[i], VoltageV: v}
	}
	return points
}

// Range is the highest voltage of a cell, fresh or at the end of charging, and the
// lowest it is drained to, V.
func Range(c *design.Cell) (low, high float64) {
	usual, ok := chemistries[c.Chemistry]
	if !ok {
		usual = chemistries["li-ion-4.2"]
	}
	low, high = usual.minV, usual.fullV
	if n := len(c.OCV); n > 0 {
		high = c.OCV[n-1].VoltageV
	}
	if c.MinV != nil {
		low = *c.MinV
	}
	return low, high
}

// MainsShare is by how much the mains may stand above or below what they are called (IEC
// 60038: ±10 %).
const MainsShare = 0.1

// SupplyShare is how far an adapter or a rail may stand off the voltage it is called by,
// as a share of it (common practice: ±5 %).
const SupplyShare = 0.05

// Spread is how far a source that is no pack may stand off its voltage, as a share of it:
// a bench supply stands where it is set.
func Spread(s *design.Source) float64 {
	switch {
	case s.Mains != nil:
		return MainsShare
	case s.Supply != nil && s.Supply.Kind != "bench":
		return SupplyShare
	}
	return 0
}

// Voltages is the range of a source at its terminals without load, V: a pack drained to
// its cut-off and full, the mains at the ends of their tolerance, a supply as it is
// called. It is not ok for a pack without a cell, or where no source is chosen.
func Voltages(s *design.Source, cell *design.Cell) (low, high float64, ok bool) {
	switch {
	case s.Mains != nil:
		return s.Mains.VoltageV * (1 - MainsShare), s.Mains.VoltageV * (1 + MainsShare), true
	case s.Supply != nil:
		return s.Supply.VoltageV, s.Supply.VoltageV, true
	case s.Pack == nil || cell == nil:
		return 0, 0, false
	}
	low, high = Range(cell)
	if s.Pack.CutoffCellV != nil {
		low = *s.Pack.CutoffCellV
	}
	return float64(s.Pack.Series) * low, float64(s.Pack.Series) * high, true
}
