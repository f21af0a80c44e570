package source

import (
	"math"

	"photherm/core/design"
)

// Figures of charging where the data are silent (common practice).
const (
	endShare      = 0.1  // it stops at this share of its current
	prechargePart = 0.1  // and begins with this share of it where a cell is too low
	againV        = 0.15 // V a cell below its end where it begins again
	switchingPart = 0.85 // efficiency of a switching charger
	gentleBandV   = 0.02 // V a cell over which precharge passes into charge (chosen, so that no jump is followed)
	chargingBandK = 0.5  // K over which the temperature window closes (chosen, likewise)
	chargerOhm    = 1e-3 // behind its end voltage (chosen: what a regulator and its leads leave)
	// ChargeRate is what a cell is charged with where its data do not say, of its capacity an hour.
	ChargeRate = 0.5
	// ChargeMinC and ChargeMaxC are between what it is charged then, °C.
	ChargeMinC, ChargeMaxC = 0, 45
)

// usualEndV is the end of charging by chemistry, and below what it begins gently, V a cell
// (common practice).
var usualEndV = map[string][2]float64{
	"li-ion-4.2": {4.2, 2.9}, "li-ion-4.35": {4.35, 2.9}, "lifepo4": {3.65, 2.5}, "lead-acid": {2.4, 1.75}, "nimh": {1.45, 0.9},
}

// ChargeV is up to what a cell may be charged, V; 0: it may not be.
func ChargeV(c *design.Cell) float64 {
	switch {
	case Primary(c):
		return 0
	case c.FullV != nil:
		return *c.FullV
	}
	return usualEndV[c.Chemistry][0]
}

// A Charger gives a pack a constant current until it stands at a voltage, then holds that
// until the current has fallen. It has no states of its own: it looks at those of its pack,
// whose place it shares.
type Charger struct {
	Supply
	pack     Law
	watched  watched // the pack, as its board sees it; nil: there is none
	series   float64
	CurrentA float64 // 0: not known
	EndA     float64 // it stops below
	EndV     float64 // V, of the pack
	preV     float64
	preShare float64
	againV   float64
	inputV   float64 // 0: not known
	// Through how much it can give without warming past its limit, W; +Inf: as much as it likes.
	mostW       float64
	watchesC    bool
	lowC, highC float64
}

// watched is a pack whose board may stop the charge.
type watched interface {
	HighestV(y []float64, cellC, currentA float64) float64
	over() (stopV, backV float64)
}

// NewCharger makes what charges a pack; part is nil for a bench supply. airC is the air
// around it.
func NewCharger(use *design.ChargerUse, part *design.Charger, cell *design.Cell, series int, pack Law, airC float64) *Charger {
	usual := usualEndV[cell.Chemistry]
	if part != nil {
		usual = usualEndV[part.Chemistry]
	}
	c := &Charger{pack: pack, series: float64(max(series, 1)), preV: usual[1], preShare: prechargePart, mostW: math.Inf(1), lowC: ChargeMinC, highC: ChargeMaxC}
	c.watched, _ = pack.(watched)
	end, share, again := usual[0], endShare, 0.0
	if part != nil {
		c.watchesC = part.WatchesC
		pick(&end, part.EndCellV)
		pick(&share, part.EndShare)
		pick(&c.preV, part.PreCellV)
		pick(&c.preShare, part.PreShare)
		pick(&again, part.AgainCellV)
		pick(&c.inputV, part.InputV)
		if part.KPerW != nil && part.FoldC != nil {
			c.mostW = max(*part.FoldC-airC, 0) / *part.KPerW
		}
	}
	c.CurrentA = ChargingA(use, part)
	pick(&end, use.EndCellV)
	pick(&c.lowC, cell.ChargeMinC)
	pick(&c.highC, cell.ChargeMaxC)
	if again == 0 {
		again = end - againV
	}
	c.EndV, c.EndA, c.againV = end*c.series, share*c.CurrentA, again
	if part == nil {
		c.preShare, c.EndA = 1, endShare*c.CurrentA // a bench supply knows no precharge; who sets it looks at the meter
		c.againV = 0
	}
	if part != nil && part.Kind == "switching" {
		c.mostW = math.Inf(1)
	}
	return c
}

func pick(to, from *float64) {
	if from != nil {
		*to = *from
	}
}

// ChargingA is the current a charger is set to, A; 0: it is not known.
func ChargingA(use *design.ChargerUse, part *design.Charger) float64 {
	switch {
	case use.CurrentA != nil:
		return *use.CurrentA
	case part == nil:
		return 0
	case part.ProgramV != nil && use.ProgramOhm != nil:
		return *part.ProgramV / *use.ProgramOhm
	case part.CurrentA != nil:
		return *part.CurrentA
	}
	return 0
}

// ProgramOhmFor is the resistor that makes a charging current, Ω.
func ProgramOhmFor(part *design.Charger, currentA float64) float64 { return *part.ProgramV / currentA }

// States are those of its pack.
func (c *Charger) States() int { return c.pack.States() }

// limit is what it can give now, A.
func (c *Charger) limit(y []float64, cellC float64) float64 {
	open := c.pack.Terminal(y, cellC).OpenV
	a := c.CurrentA
	gentle := min(max((open/c.series-c.preV)/gentleBandV, 0), 1)
	a *= c.preShare + (1-c.preShare)*gentle
	if over := c.inputV - open; c.inputV > 0 && over > 0 && !math.IsInf(c.mostW, 1) {
		a = min(a, c.mostW/over)
	}
	if c.watchesC {
		a *= min(max(min(cellC-c.lowC, c.highC-cellC)/chargingBandK, 0), 1)
	}
	return a
}

// Terminal is its end voltage, up to its current.
func (c *Charger) Terminal(y []float64, cellC float64) Terminal {
	return Terminal{OpenV: c.EndV, SeriesOhm: chargerOhm, LimitA: c.limit(y, cellC)}
}

// RestV is its end voltage.
func (c *Charger) RestV([]float64) float64 { return c.EndV }

// IsCharge is never so: the charge is its pack's.
func (c *Charger) IsCharge(int) bool { return false }

// Protection ends it where its current has fallen, and lets it begin again where the rested
// pack has.
func (c *Charger) Protection(y []float64, cellC, currentA float64) Standby {
	s := Standby{Charge: math.NaN(), CellV: math.NaN(), AboveV: math.Inf(1), Release: math.Inf(-1)}
	ends := c.EndA > 0 && c.againV > 0
	if ends {
		rest := c.pack.RestV(y) / c.series
		s.Release = c.againV - rest
		if c.limit(y, cellC) > c.EndA && rest > c.againV {
			s.AboveV = currentA - c.EndA
		}
	}
	if c.watched == nil {
		return s
	}
	// The board that watches each cell stops it too, with all its current taken as the pack's.
	if stop, back := c.watched.over(); !math.IsInf(stop, 1) {
		s.AboveV = min(s.AboveV, c.underV(y, cellC, currentA))
		rested := back - c.watched.HighestV(y, cellC, 0)
		if s.Release = min(s.Release, rested); !ends {
			s.Release = rested
		}
	}
	return s
}

// underV is how far the highest cell is below where its board stops the charge, V.
func (c *Charger) underV(y []float64, cellC, currentA float64) float64 {
	stop, _ := c.watched.over()
	return stop - c.watched.HighestV(y, cellC, -currentA)
}

// Stopped tells whether it is the board of its pack that ends the charge at a state, and not its
// own current that has fallen.
func (c *Charger) Stopped(y []float64, cellC, currentA float64) bool {
	return c.watched != nil && c.underV(y, cellC, currentA) <= reachedV
}

// reachedV is how near to its board's voltage a cell has reached it, V: an event is found to
// within less.
const reachedV = 1e-4

// EndsItself tells a charger from a bench supply, which goes on holding its voltage.
func (c *Charger) EndsItself() bool { return c.againV > 0 }

// Phase is what it does where it gives a current at a voltage of its bus and an open-circuit
// voltage of its pack.
func (c *Charger) Phase(busV, openV, currentA float64) string {
	switch {
	case currentA <= 0:
		return "ended"
	case busV+chargerOhm*currentA >= c.EndV*(1-1e-6):
		return "constant voltage"
	case currentA >= c.CurrentA*(1-1e-3):
		return "constant current"
	case openV/c.series < c.preV+gentleBandV:
		return "precharge"
	}
	return "held back by heat"
}

// LossW is what it loses between what feeds it and what it gives, W; 0 where that is not known.
func (c *Charger) LossW(part *design.Charger, busV, currentA float64) float64 {
	switch {
	case part == nil || currentA <= 0:
		return 0
	case part.Kind == "switching":
		share := switchingPart
		pick(&share, part.Efficiency)
		return busV * currentA * (1/share - 1)
	case c.inputV > busV:
		return (c.inputV - busV) * currentA
	}
	return 0
}

// MaxChargeA is what a cell may be charged with, A, and what says so.
func MaxChargeA(c *design.Cell) (a float64, why string) {
	if c.MaxChargeA != nil {
		return *c.MaxChargeA, "its data"
	}
	return ChargeRate * c.CapacityAh, "half its capacity an hour, common practice where its data do not say"
}
