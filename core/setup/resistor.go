package setup

import (
	"fmt"
	"math"

	"photherm/core/circuit"
	"photherm/core/driver"
	"photherm/core/units"
)

func wattsOf(x float64) string { return units.Format(x, "power", 2) }

// ResistorAdvice is the resistor for a wanted current, and what standard values, or
// those in the drawer, make of it.
type ResistorAdvice struct {
	Purpose string           `json:"purpose" enum:"sets,limits" doc:"sets: a driver reads it; limits: it carries the current and drops the voltage"`
	Ohm     float64          `json:"ohm" doc:"Wanted, Ω"`
	Choices []ResistorChoice `json:"choices" nullable:"false"`
}

// A ResistorChoice is one resistor or two in parallel.
type ResistorChoice struct {
	driver.Fitting
	CurrentA float64 `json:"currentA" doc:"What it gives; for a series resistor with the source full, A"`
	LowA     float64 `json:"lowA" doc:"At the low end of the tolerances; for a series resistor with the source drained, A"`
	HighA    float64 `json:"highA" doc:"At the high end of the tolerances; for a series resistor with the source full, A"`
	HalfA    float64 `json:"halfA" doc:"Series resistor: with the source half full, A"`
	LossW    float64 `json:"lossW" doc:"Heat in each resistor, the hotter of two, W"`
	RateW    float64 `json:"rateW" doc:"What each should bear: twice that (common practice), W"`
	Costs    string  `json:"costs" doc:"What taking it costs, in words"`
}

// resistorTolerance is that of a plain resistor, share.
const resistorTolerance = 0.01

func (b *bench) resistor(p *Plan) {
	if b.wantedA <= 0 {
		return
	}
	switch {
	case b.d.ProgramV != nil:
		p.Resistor = b.setting()
	case b.d.Family == "resistor":
		p.Resistor = b.series()
	}
}

// sources of standard values to choose from.
func (b *bench) fittings(ohm float64) []driver.Fitting {
	var out []driver.Fitting
	series := b.q.Series
	if series == "" {
		series = "E24"
	}
	out = append(out, driver.Fit(ohm, series, nil)...)
	if len(b.q.Drawer) > 0 {
		out = append(out, driver.Fit(ohm, "drawer", b.q.Drawer)...)
	}
	return out
}

// setting is the resistor a driver reads: I = k·Vref/R.
func (b *bench) setting() *ResistorAdvice {
	volts := b.d.ProgramVolts()
	a := &ResistorAdvice{Purpose: "sets", Ohm: volts / b.wantedA, Choices: []ResistorChoice{}}
	tolerance := resistorTolerance
	if b.d.ProgramTol != nil {
		tolerance += *b.d.ProgramTol
	}
	for _, f := range b.fittings(a.Ohm) {
		i := volts / f.Whole
		c := ResistorChoice{Fitting: f, CurrentA: i, LowA: i * (1 - tolerance), HighA: i * (1 + tolerance)}
		// Below a volt it is a sense resistor, in the current's way; a programming
		// resistor carries next to nothing.
		if volts < senseV {
			c.LossW = volts * volts / smallest(f.Ohm)
			c.RateW = 2 * c.LossW
		}
		c.Costs = fmt.Sprintf("%+.1f %% from the wanted current", 100*(i/b.wantedA-1))
		a.Choices = append(a.Choices, c)
	}
	return a
}

// senseV is the largest voltage dropped on purpose to sense a current, V.
const senseV = 1

func smallest(values []float64) float64 {
	out := math.Inf(1)
	for _, r := range values {
		out = min(out, r)
	}
	return out
}

// series is the resistor in the current's way: the value that gives the wanted
// current from a full source, the next higher standard one, and what is at hand.
func (b *bench) series() *ResistorAdvice {
	at := func(ohm, charge float64) circuit.Probe {
		s := b.undimmed()
		if s.Vary(b.set("resistanceOhm", ohm)) != nil {
			return circuit.Probe{}
		}
		return b.probeAt(s, charge)
	}
	low, high := 1e-3, 1e6
	if at(low, 1).OutA < b.wantedA {
		return &ResistorAdvice{Purpose: "limits", Choices: []ResistorChoice{}}
	}
	for range 80 {
		if mid := math.Sqrt(low * high); at(mid, 1).OutA > b.wantedA {
			low = mid
		} else {
			high = mid
		}
	}
	a := &ResistorAdvice{Purpose: "limits", Ohm: high, Choices: []ResistorChoice{}}
	series := driver.E24
	switch b.q.Series {
	case "E12":
		series = driver.E12
	case "E96":
		series = driver.E96
	}
	next := driver.NextHigher(series, high*(1-1e-6))
	fittings := []driver.Fitting{{Ohm: []float64{next}, Whole: next, Off: next/high - 1, Source: "next higher"}}
	for _, f := range append(fittings, b.fittings(high)...) {
		full, half, drained := at(f.Whole, 1), at(f.Whole, 0.5), at(f.Whole, 0.02)
		c := ResistorChoice{Fitting: f, CurrentA: full.OutA, HighA: full.OutA, HalfA: half.OutA, LowA: drained.OutA}
		// The hotter of two in parallel is the smaller one.
		c.LossW = full.OutA * full.OutA * f.Whole * f.Whole / smallest(f.Ohm)
		c.RateW = 2 * c.LossW
		c.Costs = fmt.Sprintf("%+.0f %% of the wanted current when full, %.0f %% left when drained", 100*(full.OutA/b.wantedA-1), 100*drained.OutA/max(full.OutA, 1e-12))
		a.Choices = append(a.Choices, c)
	}
	return a
}
