package source

import "math"

// A Law is a kind of source: what it offers, how its states move, the heat in it and
// the energy behind it. States are numbers of its own, as many as it says; y always
// holds just those. Currents are positive when it gives and negative when it is charged.
type Law interface {
	States() int
	Start(y []float64, charge float64)                           // at switch-on
	Tolerance(tol []float64)                                     // error wanted of each state in a step of time
	Terminal(y []float64, cellC float64) Terminal                // what it offers
	Rates(y []float64, cellC, currentA float64, rates []float64) // of its states, 1/s
	HeatW(y []float64, cellC, currentA float64) float64          // arising within the light
	EnergyJ(y []float64) (stored, held float64)                  // still to be given; in slow parts
	LeftW(y []float64, cellC, currentA float64) float64          // what hard work leaves in it for good, W
	IsCharge(state int) bool                                     // whether a state of its is a charge
	RestV(y []float64) float64                                   // open-circuit voltage once its slow parts have come to rest, V
	Protection(y []float64, cellC, currentA float64) Standby     // whether it can go on
}

// A Terminal is what a source offers: up to LimitA, falling to nothing at OpenV along
// SeriesOhm, and below nothing if it can be charged.
type Terminal struct {
	OpenV     float64
	SeriesOhm float64
	LimitA    float64 // +Inf: none
	TwoWay    bool    // current may flow into it
}

// A Standby is where a source stands between going on and being cut off.
type Standby struct {
	Charge   float64 // of 1; NaN: it has none
	CellV    float64 // voltage of one cell under its load, V; NaN: it has no cells
	AboveV   float64 // how far that is above its cut-off, V
	Release  float64 // how far the resting cell is above where it is switched on again, V; −Inf: never
	DelayS   float64 // how long it may be below before it is cut off
	TripA    float64 // its board trips above this current, A; 0: none does
	TripS    float64 // how long it bears more
	CanEmpty bool    // it ends when its charge does
}

// A Supply is a voltage behind a resistance: adapter, rail, bench supply, the mains.
type Supply struct {
	VoltageV, SeriesOhm, LimitA float64
}

// States of a supply: none.
func (s *Supply) States() int { return 0 }

// Start does nothing.
func (s *Supply) Start([]float64, float64) {}

// Tolerance does nothing.
func (s *Supply) Tolerance([]float64) {}

// Terminal is its voltage behind its resistance, up to its limit.
func (s *Supply) Terminal([]float64, float64) Terminal {
	return Terminal{OpenV: s.VoltageV, SeriesOhm: s.SeriesOhm, LimitA: s.LimitA}
}

// Rates does nothing.
func (s *Supply) Rates([]float64, float64, float64, []float64) {}

// LeftW is nothing.
func (s *Supply) LeftW([]float64, float64, float64) float64 { return 0 }

// IsCharge is never so.
func (s *Supply) IsCharge(int) bool { return false }

// HeatW is nothing: a supply's own loss is outside the light.
func (s *Supply) HeatW([]float64, float64, float64) float64 { return 0 }

// EnergyJ is not told by a state.
func (s *Supply) EnergyJ([]float64) (stored, held float64) { return 0, 0 }

// RestV is its voltage.
func (s *Supply) RestV([]float64) float64 { return s.VoltageV }

// Protection of a supply never cuts it off.
func (s *Supply) Protection([]float64, float64, float64) Standby {
	return Standby{Charge: math.NaN(), CellV: math.NaN(), AboveV: math.Inf(1), Release: math.Inf(-1)}
}
