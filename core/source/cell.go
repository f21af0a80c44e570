// Package source answers what a pack of cells or a supply offers: open-circuit
// voltage against charge, resistance, and the energy behind a change of charge.
package source

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/interp"

	"photherm/core/design"
)

// A Cell is one cell ready for computing. Charge is the fraction of its capacity
// still in it.
type Cell struct {
	CapacityAh  float64
	OffsetV     float64 // added to the open-circuit voltage, V
	Resistance  float64 // R0 at 25 °C and half charge, Ω
	PolarOhm    float64 // R1, Ω
	LithiumIon  bool    // its resistance rises when nearly empty
	DoublesK    float64 // so much colder it has twice its resistance, K; 0: not told
	PolarFarad  float64 // C1, F
	MinV        float64
	MaxA        float64 // 0: unknown
	MaxC        float64
	MassKg      float64
	MeasuredOCV bool
	Slow        bool // it has a slow part, though that may be varied to nothing

	table *ocvTable
	loads loads
	cold  func(startC float64) float64
}

// ocvTable holds the open-circuit voltage at equal steps of charge and its
// integral from empty. Cells are copied by value and share it.
type ocvTable struct {
	ocv [ocvSteps + 1]float64
	sum [ocvSteps + 1]float64
}

const ocvSteps = 512

// lithiumIon are the chemistries the rule of their resistance is for.
var lithiumIon = map[string]bool{"li-ion-4.2": true, "li-ion-4.35": true, "lifepo4": true}

// New makes a cell from a part's data.
func New(c *design.Cell) (Cell, error) {
	chemistry, ok := chemistries[c.Chemistry]
	if !ok && len(c.OCV) < 2 {
		return Cell{}, fmt.Errorf("chemistry %q is not known", c.Chemistry)
	}
	m := Cell{table: new(ocvTable), CapacityAh: c.CapacityAh, Resistance: c.ResistanceOhm, MinV: chemistry.minV, MaxC: 60, LithiumIon: lithiumIon[c.Chemistry], DoublesK: doublesK[c.Chemistry], loads: loadsOf(c), cold: func(startC float64) float64 { return ColdShare(c, startC) }}
	for _, p := range []struct {
		from *float64
		to   *float64
	}{{c.MinV, &m.MinV}, {c.MaxDischargeA, &m.MaxA}, {c.MaxC, &m.MaxC}, {c.MassKg, &m.MassKg}} {
		if p.from != nil {
			*p.to = *p.from
		}
	}
	if c.Health != nil {
		m.CapacityAh *= *c.Health
	}
	m.Slow = c.PolarOhm != nil && c.PolarS != nil
	if m.Slow && *c.PolarOhm > 0 {
		m.PolarOhm, m.PolarFarad = *c.PolarOhm, *c.PolarS / *c.PolarOhm
	}
	points := chemistry.resting
	if len(c.OCV) > 1 {
		points, m.MeasuredOCV = c.OCV, true
	}
	x, y := make([]float64, len(points)), make([]float64, len(points))
	for i, p := range points {
		x[i], y[i] = p.Charge, p.VoltageV
	}
	predictor, err := fit(x, y)
	if err != nil {
		return Cell{}, fmt.Errorf("open-circuit curve: %w", err)
	}
	t := m.table
	for i := range t.ocv {
		t.ocv[i] = predictor.Predict(min(max(float64(i)/ocvSteps, x[0]), x[len(x)-1]))
		if i > 0 {
			t.sum[i] = t.sum[i-1] + (t.ocv[i-1]+t.ocv[i])/2/ocvSteps
		}
	}
	return m, nil
}

func fit(x, y []float64) (interp.Predictor, error) {
	if len(x) == 2 {
		p := new(interp.PiecewiseLinear)
		return p, p.Fit(x, y)
	}
	p := new(interp.FritschButland)
	return p, p.Fit(x, y)
}

// emptySlopeV is how fast the voltage falls per unit of charge below empty: a
// drained cell has no more to give, its voltage drops away.
const emptySlopeV = 60

// OCV is the open-circuit voltage, V, at a charge; beyond 0 and 1 it goes on
// straight.
func (c *Cell) OCV(charge float64) float64 {
	switch {
	case charge < 0:
		return c.OffsetV + c.table.ocv[0] + emptySlopeV*charge
	case charge >= 1:
		return c.OffsetV + c.table.ocv[ocvSteps] + (c.table.ocv[ocvSteps]-c.table.ocv[ocvSteps-1])*ocvSteps*(charge-1)
	}
	x := charge * ocvSteps
	i := int(x)
	return c.OffsetV + c.table.ocv[i] + (x-float64(i))*(c.table.ocv[i+1]-c.table.ocv[i])
}

// EnergyWh is the energy of one cell between empty and a charge, ∫OCV dQ, Wh.
func (c *Cell) EnergyWh(charge float64) float64 {
	var v float64 // integral over fraction of charge
	switch {
	case charge < 0:
		v = charge*c.table.ocv[0] + emptySlopeV*charge*charge/2
	case charge >= 1:
		d := charge - 1
		v = c.table.sum[ocvSteps] + d*c.table.ocv[ocvSteps] + (c.table.ocv[ocvSteps]-c.table.ocv[ocvSteps-1])*ocvSteps*d*d/2
	default:
		x := charge * ocvSteps
		i := int(x)
		f := x - float64(i)
		v = c.table.sum[i] + (f*c.table.ocv[i]+f*f*(c.table.ocv[i+1]-c.table.ocv[i])/2)/ocvSteps
	}
	return (v + c.OffsetV*charge) * c.CapacityAh
}

// Temperatures between which the resistance of cells is told, °C; it is held outside.
const (
	ColdestC = -20
	HottestC = 60
)

// doublesK is by how many kelvins a cell of a kind must be colder for twice its resistance (common
// practice, from memory: of lithium-ion cells 20 to 30 K; alkaline AA cells have some 0.15 Ω at room
// temperature and 0.6 to 0.9 Ω at −20 °C; lead's acid conducts half as well there).
var doublesK = map[string]float64{
	"li-ion-4.2": 25, "li-ion-4.35": 25, "lifepo4": 25, "nimh": 30, "alkaline": 20, "zinc-carbon": 20, "lead-acid": 45, "lithium-3.0": 30, "lithium-1.5": 35,
}

// Ohm is the resistance R0 at a charge and a cell temperature, Ω: it doubles for every so many kelvins
// colder, by its chemistry, and of a lithium-ion cell it rises to twice below a fifth of the charge
// (common practice; valid from ColdestC to HottestC, held outside). Of a chemistry that is not known it
// stays as it was measured.
func (c *Cell) Ohm(charge, cellC float64) float64 {
	r := c.Resistance
	if c.DoublesK > 0 {
		t := min(max(cellC, ColdestC), HottestC)
		r *= math.Exp((25 - t) / c.DoublesK * math.Ln2)
	}
	if c.LithiumIon && charge < 0.2 {
		low := 1 - max(charge, 0)/0.2
		r *= 1 + low*low
	}
	return r
}
