// Package driver answers what each driver family does between the bus it hangs
// on and the bus it makes: the envelope it offers its load, what it takes from
// its input, what it loses as heat, and the mode it is in.
package driver

import (
	"math"

	"photherm/core/design"
)

// A Family is a way of making emitter current.
type Family int

// The families.
const (
	Absent Family = iota // not chosen yet: nothing passes
	None                 // straight through
	Resistor
	Linear
	Buck
	Voltage
)

// A Mode is what a driver is doing.
type Mode int

// The modes.
const (
	Off Mode = iota
	PassThrough
	ConstantCurrent
	DropOut
	LockedOut
	ConstantVoltage
)

func (m Mode) String() string {
	return [...]string{"off", "pass-through", "constant current", "drop-out", "locked out", "constant voltage"}[m]
}

// WireOhm stands for a connection taken as ideal.
const WireOhm = 1e-6

// An Envelope is what a feeder offers a load: up to LimitA, falling to nothing at
// OpenV along SeriesOhm: I(V) = min(LimitA, (OpenV − V)/SeriesOhm). Sources and
// drivers alike are envelopes.
type Envelope struct {
	LimitA    float64 // +Inf: no limit
	OpenV     float64
	SeriesOhm float64 // > 0
}

// CurrentA is the current offered at a bus voltage, A.
func (e Envelope) CurrentA(v float64) float64 { return min(e.LimitA, (e.OpenV-v)/e.SeriesOhm) }

// CornerV is the voltage at which the limit gives way to the slope, V.
func (e Envelope) CornerV() float64 {
	if math.IsInf(e.LimitA, 1) {
		return math.Inf(-1)
	}
	return e.OpenV - e.LimitA*e.SeriesOhm
}

// A Driver is a driver part with its settings, ready for computing. Call Prepare
// after changing a field.
type Driver struct {
	Family        Family
	SetA          float64 // regulated output current, A; family Voltage: its current limit
	SetV          float64 // family Voltage: regulated output voltage, V
	KnobMinA      float64 // family Voltage: range of its current knob, A
	KnobMaxA      float64
	ResistanceOhm float64 // resistor family
	HeadroomV     float64
	InputMinV     float64 // 0: none
	InputMaxV     float64 // 0: unknown
	RestartV      float64
	QuiescentA    float64
	Efficiency    float64 // one known efficiency of a switching driver; 0: unknown
	EffAtA        float64
	EffInV        float64
	EffOutV       float64

	p0, a, b float64 // loss = p0 + a·I·Vin + b·I²
}

// Common practice where a datasheet is silent.
const (
	CommonLinearHeadroomV = 0.3
	CommonBuckHeadroomV   = 0.8
	CommonBuckEfficiency  = 0.88
)

// New makes a driver from a part and its use. The strings name what is missing to
// compute it, or to be sure of it.
func New(part *design.Driver, use *design.DriverUse) (d Driver, missing []string) {
	if part == nil {
		return Driver{}, []string{"no driver is chosen yet"}
	}
	or := func(p *float64, fallback float64) float64 {
		if p != nil {
			return *p
		}
		return fallback
	}
	set := use.SetCurrentA
	if set == nil {
		set = part.SetCurrentA
	}
	d = Driver{
		InputMinV: or(part.InputMinV, 0), InputMaxV: or(part.InputMaxV, 0),
		QuiescentA: or(part.QuiescentA, 0), SetA: or(set, 0),
	}
	d.RestartV = or(part.RestartV, 1.05*d.InputMinV)
	switch part.Family {
	case "none":
		d.Family = None
	case "resistor":
		d.Family = Resistor
		r := use.ResistanceOhm
		if r == nil {
			r = part.ResistanceOhm
		}
		if r == nil {
			d.Family = Absent
			missing = append(missing, "the resistor has no value yet")
		}
		d.ResistanceOhm = or(r, 0)
	case "linear":
		d.Family = Linear
		d.HeadroomV = or(part.HeadroomV, CommonLinearHeadroomV)
	case "buck":
		d.Family = Buck
		d.HeadroomV = or(part.HeadroomV, CommonBuckHeadroomV)
		d.Efficiency = or(part.Efficiency, CommonBuckEfficiency)
		d.EffAtA = or(part.EfficiencyAtA, d.SetA)
		d.EffInV, d.EffOutV = or(part.EfficiencyInV, 0), or(part.EfficiencyOut, 0)
		if part.Efficiency == nil {
			missing = append(missing, "the driver's efficiency is not known: 88 % is assumed")
		}
	}
	if part.Family == "voltage" {
		missing = append(missing, d.newVoltage(part, use, set)...)
	}
	if (d.Family == Linear || d.Family == Buck) && set == nil {
		d.Family = Absent
		missing = append(missing, "the driver's current is not set")
	}
	d.Prepare()
	return d, missing
}

func (d *Driver) newVoltage(part *design.Driver, use *design.DriverUse, set *float64) (missing []string) {
	volts := use.SetVoltageV
	if volts == nil {
		volts = part.SetVoltageV
	}
	if volts == nil {
		return []string{"the supply's voltage is not set"}
	}
	d.Family, d.SetV, d.SetA = Voltage, *volts, math.Inf(1)
	if part.MaxCurrentA != nil {
		d.KnobMaxA = *part.MaxCurrentA
	}
	if part.MinCurrentA != nil {
		d.KnobMinA = *part.MinCurrentA
	}
	d.HeadroomV = CommonBuckHeadroomV
	if part.HeadroomV != nil {
		d.HeadroomV = *part.HeadroomV
	}
	switch {
	case set != nil:
		d.SetA = *set
	case part.MaxCurrentA != nil:
		d.SetA = *part.MaxCurrentA
	default:
		missing = append(missing, "the supply's current limit is not known: none is assumed")
	}
	d.Efficiency = CommonBuckEfficiency
	if part.Efficiency != nil {
		d.Efficiency = *part.Efficiency
	} else {
		missing = append(missing, "the supply's efficiency is not known: 88 % is assumed")
	}
	for _, f := range []struct{ from, to *float64 }{{part.EfficiencyAtA, &d.EffAtA}, {part.EfficiencyInV, &d.EffInV}, {part.EfficiencyOut, &d.EffOutV}} {
		if f.from != nil {
			*f.to = *f.from
		}
	}
	if d.EffOutV == 0 {
		d.EffOutV = d.SetV
	}
	if d.EffAtA == 0 && !math.IsInf(d.SetA, 1) {
		d.EffAtA = d.SetA
	}
	return missing
}

// Prepare works out what follows from the fields: the one known efficiency of a
// switching driver is split 20 % fixed, 40 % in proportion to current and input
// voltage, 40 % to current squared (common practice, when only one is known).
func (d *Driver) Prepare() {
	d.p0, d.a, d.b = 0, 0, 0
	if (d.Family != Buck && d.Family != Voltage) || d.Efficiency <= 0 || d.EffAtA <= 0 {
		return
	}
	inV, outV := d.EffInV, d.EffOutV
	if outV <= 0 {
		outV = 0.7 * inV
	}
	if inV <= 0 {
		if outV <= 0 {
			outV = 3
		}
		inV = outV / 0.7
	}
	loss := outV * d.EffAtA * (1/d.Efficiency - 1)
	d.p0 = 0.2 * loss
	d.a = 0.4 * loss / (d.EffAtA * inV)
	d.b = 0.4 * loss / (d.EffAtA * d.EffAtA)
}

// regulationOhm is the output resistance of a regulated voltage: small beside any
// wire, large enough that current and voltage limit meet at a point.
const regulationOhm = 1e-3

// Regulates tells whether the family holds a set current.
func (d *Driver) Regulates() bool { return d.Family == Linear || d.Family == Buck }

// Switches tells whether its draw may rise as its input falls.
func (d *Driver) Switches() bool { return d.Family == Buck || d.Family == Voltage }

// Envelope is what the driver offers its output bus at an input voltage. Below
// headroom a regulating driver passes the input through headroom/set current, so
// that regulation and drop-out join without a step.
func (d *Driver) Envelope(inV float64) Envelope {
	switch d.Family {
	case None:
		return Envelope{math.Inf(1), inV, WireOhm}
	case Resistor:
		return Envelope{math.Inf(1), inV, max(d.ResistanceOhm, WireOhm)}
	case Linear, Buck:
		if d.SetA > 0 {
			return Envelope{d.SetA, inV, max(d.HeadroomV/d.SetA, WireOhm)}
		}
	case Voltage:
		return Envelope{d.SetA, max(0, min(d.SetV, inV-d.HeadroomV)), regulationOhm}
	}
	return Envelope{0, inV, 1}
}

// Input is what the driver takes from its input bus and loses as heat when its
// output bus stands at outV, outA.
func (d *Driver) Input(inV, outV, outA float64) (inA, lossW float64) {
	if inV <= 0 {
		return 0, 0
	}
	if d.Family == Voltage {
		// In current limit the output is throttled, not dropped across a resistance.
		lossW = d.QuiescentA*inV + d.p0 + d.a*inV*outA + d.b*outA*outA
		return (outV*outA + lossW) / inV, lossW
	}
	if d.Family == Buck {
		lossW = d.buckLoss(inV, outV, outA)
		return (outV*outA + lossW) / inV, lossW
	}
	return outA + d.QuiescentA, (inV-outV)*outA + d.QuiescentA*inV
}

// buckLoss blends switching loss into series loss as the step-down stops
// switching and becomes a closed switch.
func (d *Driver) buckLoss(inV, outV, outA float64) float64 {
	switching := d.QuiescentA*inV + d.p0 + d.a*inV*outA + d.b*outA*outA
	if outA >= d.SetA || d.SetA <= 0 {
		return switching
	}
	w := outA / d.SetA
	w *= w
	series := d.QuiescentA*inV + (inV-outV)*outA
	return w*switching + (1-w)*series
}

// Mode tells what the driver does at an operating point.
func (d *Driver) Mode(outA float64) Mode {
	switch {
	case d.Family == Absent:
		return Off
	case d.Family == None || d.Family == Resistor:
		return PassThrough
	case d.Family == Voltage && outA < d.SetA*(1-1e-9):
		return ConstantVoltage
	case outA >= d.SetA*(1-1e-9):
		return ConstantCurrent
	}
	return DropOut
}

// KnobTravel is the share of a current knob's travel over which it dims: above it
// the load does not take what the knob allows. The knob runs from minA to maxA in
// proportion; the load takes loadA when nothing limits it.
func KnobTravel(loadA, minA, maxA float64) float64 {
	if maxA <= minA {
		return 0
	}
	return max(0, (min(loadA, maxA)-minA)/(maxA-minA))
}
