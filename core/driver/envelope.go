package driver

import (
	"math"

	"photherm/core/design"
)

// An Envelope is what a feeder offers a load: up to LimitA, falling to nothing at
// OpenV along SeriesOhm: I(V) = min(LimitA, (OpenV − V)/SeriesOhm, HoldW/V, Table(V)), and
// nothing above CapV where it regulates below what it could pass on.
// A limit that folds back is FoldA + (LimitA − FoldA)·V/OpenV in the place of LimitA.
// Sources and drivers alike are envelopes.
type Envelope struct {
	LimitA    float64 // +Inf: no limit
	OpenV     float64
	SeriesOhm float64 // > 0
	CapV      float64 // it regulates to this, where that lies below OpenV; 0: it does not
	HoldW     float64 // the feeder holds itself to this power; 0: it does not
	FoldA     float64 // its limit falls in proportion to the voltage, to this at 0 V
	Folds     bool
	Table     []design.LimitPoint // of its limit, voltage rising; straight between, held beyond its ends
}

// Plain tells that its limit does not depend on the voltage.
func (e Envelope) Plain() bool { return e.CapV == 0 && e.HoldW == 0 && !e.Folds && len(e.Table) == 0 }

// Falling tells that it offers no more as the voltage rises.
func (e Envelope) Falling() bool {
	for i := 1; i < len(e.Table); i++ {
		if e.Table[i].CurrentA > e.Table[i-1].CurrentA {
			return false
		}
	}
	return !e.Folds
}

// tableA is the limit its table has at a voltage.
func (e Envelope) tableA(v float64) float64 {
	last := e.Table[0]
	for _, p := range e.Table {
		if v < p.VoltageV {
			if p.VoltageV > last.VoltageV {
				return last.CurrentA + (p.CurrentA-last.CurrentA)*(v-last.VoltageV)/(p.VoltageV-last.VoltageV)
			}
			return p.CurrentA
		}
		last = p
	}
	return last.CurrentA
}

// CurrentA is the current offered at a bus voltage, A.
func (e Envelope) CurrentA(v float64) float64 {
	a, _, _ := e.Offer(v)
	return a
}

// Offer is the current offered at a bus voltage, A, how it changes with that voltage,
// A/V, and whether it is the resistance that rules, so that it follows OpenV.
func (e *Envelope) Offer(v float64) (a, slope float64, follows bool) {
	a, slope, follows = (e.OpenV-v)/e.SeriesOhm, -1/e.SeriesOhm, true
	if e.CapV > 0 {
		if b := (e.CapV - v) / regulationOhm; b < a {
			a, slope, follows = b, -1/regulationOhm, false
		}
	}
	limit, rise := e.LimitA, 0.0
	if e.Folds && e.OpenV > 0 && v < e.OpenV {
		rise = (e.LimitA - e.FoldA) / e.OpenV
		limit = e.FoldA + rise*v
	}
	if limit < a {
		a, slope, follows = limit, rise, false
	}
	if e.HoldW > 0 && v > 0 && e.HoldW/v < a {
		a, slope, follows = e.HoldW/v, -e.HoldW/(v*v), false
	}
	if len(e.Table) > 0 {
		if t := e.tableA(v); t < a {
			const h = 1e-6
			a, slope, follows = t, (e.tableA(v+h)-t)/h, false
		}
	}
	return a, slope, follows
}

// CornerV is the voltage at which the limit gives way to the slope, V.
func (e Envelope) CornerV() float64 {
	if math.IsInf(e.LimitA, 1) {
		return math.Inf(-1)
	}
	corner := e.OpenV - e.LimitA*e.SeriesOhm
	if e.CapV > 0 {
		corner = min(corner, e.CapV-e.LimitA*regulationOhm)
	}
	return corner
}

// NoLoadV is the voltage from which on nothing is offered.
func (e Envelope) NoLoadV() float64 {
	if e.CapV > 0 {
		return min(e.CapV, e.OpenV)
	}
	return e.OpenV
}

// PassesV is the voltage at which regulation gives way to what is passed on, V; 0: it
// does not.
func (e Envelope) PassesV() float64 {
	if e.CapV <= 0 || e.SeriesOhm <= regulationOhm {
		return 0
	}
	return (e.CapV*e.SeriesOhm - e.OpenV*regulationOhm) / (e.SeriesOhm - regulationOhm)
}

// Behind is the range of voltage at the output of a driver whose input goes over a range:
// off load at the top, and where its source stands lowest. It is not ok where only a solve
// tells: of one that holds its current, or lacks a figure.
func Behind(part *design.Driver, use *design.DriverUse, low, high float64) (lowV, highV float64, ok bool) {
	d, _ := New(part, use)
	if d.Family == Absent || d.Regulates() {
		return 0, 0, false
	}
	return d.Envelope(low).NoLoadV(), d.Envelope(high).NoLoadV(), true
}
