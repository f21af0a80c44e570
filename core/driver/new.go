package driver

import (
	"math"

	"photherm/core/design"
)

// A Driver is a driver part with its settings, ready for computing. Call Prepare
// after changing a field.
type Driver struct {
	Family        Family
	SetA          float64 // regulated output current, undimmed, A; family Voltage: its current limit
	SetV          float64 // family Voltage: regulated output voltage, V
	MinV          float64 // family Window: its window; others: MaxV is the highest output
	MaxV          float64
	HoldW         float64 // family Voltage: it holds itself to this power; 0: it does not
	FoldA         float64 // family Voltage: current its limit falls to at 0 V
	Folds         bool
	Limits        []design.LimitPoint // family Voltage: its limit against output voltage
	StepsUp       bool                // family Voltage: its output may stand above its input
	StepsDown     bool
	KnobMinA      float64 // family Voltage: range of its current knob, or of what its dimmer makes of its limit, A
	KnobMaxA      float64
	ResistanceOhm float64 // resistor family
	DropV         float64 // dropper family
	HeadroomV     float64
	InputMinV     float64 // as stated; 0: none
	LockV         float64 // below this input it locks out; 0: none
	InputMaxV     float64 // 0: unknown
	RestartV      float64 // from this input on it starts
	QuiescentA    float64
	LineRegPerV   float64 // share of the output for each volt of input beside EffInV

	Level      float64 // share of the set current it is dimmed to, 0…1
	Duty       float64 // share of the time it is on
	Off        bool    // in the dark part of its duty
	DimFloor   float64
	FollowsCut bool // its level is that of a phase-cut dimmer before it
	StandbyW   float64
	DimMaxA    float64 // of a supply without a stated limit: what its dimmer turns down, its rated watts over its volts, A; 0: not known
	Power      float64 // power factor on the mains: watts over volt-amperes; 1 where it is not said

	Efficiency float64 // one known efficiency of a switching driver; 0: unknown
	EffAtA     float64 // the point it holds at; 0: not known
	EffInV     float64
	EffOutV    float64
	Tied       int  // channels tied together, at least 1
	EffFlat    bool // it holds everywhere
	EffTable   []design.EfficiencyPoint
	OnMains    bool                          // its loss does not go with its input voltage
	Assumed    struct{ AtA, InV, OutV bool } // of the point: taken from the light, not stated

	p0, a, b float64 // loss = p0 + a·I·V + b·I², I the inductor's current
}

// Common practice where a datasheet is silent.
const (
	CommonLinearHeadroomV     = 0.3
	CommonBuckHeadroomV       = 0.8
	CommonBuckEfficiency      = 0.88
	CommonBuckBoostEfficiency = 0.83
	CommonDropperOhm          = 0.05
)

// letsGoShare is the share of the input at which a driver starts below which it lets
// go, if its data tell only one of them (chosen: 5 % of hysteresis).
const letsGoShare = 0.95

// WireShare lets a voltage that stands at a threshold but for the drop of an ideal wire be at
// it (chosen: a millionth, what WireOhm drops at 1 A of 1 V).
const WireShare = 1 - 1e-6

// AnyV stands for an output voltage without a known limit, V.
const AnyV = 1000

func or(p *float64, fallback float64) float64 {
	if p != nil {
		return *p
	}
	return fallback
}

var families = map[string]Family{
	"none": None, "resistor": Resistor, "dropper": Dropper, "linear": Linear, "buck": Buck, "boost": Boost,
	"buck-boost": BuckBoost, "window": Window, "voltage": Voltage,
}

// SetCurrentA is the current one driver is set to, A: by its setting resistor,
// by its setting, or as supplied, times the channels tied together. It is nil if
// nothing says.
func SetCurrentA(part *design.Driver, use *design.DriverUse) *float64 {
	set := use.SetCurrentA
	if set == nil {
		set = part.SetCurrentA
	}
	if part.ProgramV != nil && use.ProgramOhm != nil {
		set = new(part.ProgramVolts() / *use.ProgramOhm)
	}
	if set != nil && use.TiedChannels > 1 {
		set = new(*set * float64(use.TiedChannels))
	}
	return set
}

// InUse is the level a driver is dimmed to: of its mode, or its own.
func InUse(use *design.DriverUse) design.Level {
	for _, m := range use.Modes {
		if m.Name == use.Mode {
			return m.Level
		}
	}
	if use.Dimming != nil {
		return *use.Dimming
	}
	return design.Level{}
}

// New makes a driver from a part and its use. The gaps are what is missing to
// compute it, or to be sure of it.
func New(part *design.Driver, use *design.DriverUse) (d Driver, missing []design.Gap) {
	if part == nil {
		return Driver{Level: 1, Duty: 1}, []design.Gap{{Figure: "partId", InUse: true, Why: "no driver is chosen yet"}}
	}
	return ready(part, use, func(g design.Gap) { missing = append(missing, g) }), missing
}

// Prepared makes a driver as New does, without a word on what is missing and without
// allocating; it is not ok if it cannot be computed.
func Prepared(part *design.Driver, use *design.DriverUse) (d Driver, ok bool) {
	d = ready(part, use, ignore)
	return d, d.Family != Absent
}

func ignore(design.Gap) {}

func ready(part *design.Driver, use *design.DriverUse, lack func(design.Gap)) Driver {
	set := SetCurrentA(part, use)
	level := InUse(use)
	d := Driver{
		Family: families[part.Family], SetA: or(set, 0), MinV: or(part.MinVoltageV, 0), MaxV: or(part.MaxVoltageV, AnyV),
		InputMinV: or(part.InputMinV, 0), InputMaxV: or(part.InputMaxV, 0), QuiescentA: or(part.QuiescentA, 0),
		Power: or(part.PowerFactor, 1), LineRegPerV: or(part.LineRegPerV, 0), DimFloor: or(part.DimFloor, 0), StandbyW: or(part.StandbyW, 0),
		Level: or(level.Current, 1), Duty: or(level.Duty, 1), FollowsCut: part.Dimming == "phase-cut",
		Efficiency: or(part.Efficiency, 0), EffAtA: or(part.EfficiencyAtA, 0), EffInV: or(part.EfficiencyInV, 0), EffOutV: or(part.EfficiencyOut, 0),
		Tied: max(use.TiedChannels, 1), EffFlat: part.EfficiencyFlat, EffTable: part.Efficiencies,
	}
	if part.EfficiencyAtA != nil && use.TiedChannels > 1 {
		d.EffAtA *= float64(use.TiedChannels)
	}
	d.LockV, d.RestartV = d.InputMinV*WireShare, d.InputMinV*WireShare
	if part.RestartV != nil {
		d.RestartV = max(*part.RestartV*WireShare, d.LockV)
	} else {
		d.LockV *= letsGoShare
	}
	assume := func(efficiency float64, what string) {
		if part.Efficiency == nil && len(part.Efficiencies) == 0 {
			d.Efficiency = efficiency
			lack(design.Gap{Figure: "efficiency", Why: what})
		}
	}
	switch d.Family {
	case Resistor:
		r := use.ResistanceOhm
		if r == nil {
			r = part.ResistanceOhm
		}
		if r == nil {
			d.Family = Absent
			lack(design.Gap{Figure: "resistanceOhm", InUse: true, Why: "the resistor has no value yet"})
		}
		d.ResistanceOhm = or(r, 0)
	case Dropper:
		if part.DropV == nil {
			d.Family = Absent
			lack(design.Gap{Figure: "dropV", Why: "the voltage the dropper takes is not known"})
		}
		d.DropV, d.ResistanceOhm = or(part.DropV, 0), or(part.ResistanceOhm, CommonDropperOhm)
	case Linear:
		d.HeadroomV = or(part.HeadroomV, CommonLinearHeadroomV)
	case Buck:
		d.HeadroomV = or(part.HeadroomV, CommonBuckHeadroomV)
		assume(CommonBuckEfficiency, "the driver's efficiency is not known: 88 % is assumed")
	case Boost, Window:
		assume(CommonBuckEfficiency, "the driver's efficiency is not known: 88 % is assumed")
	case BuckBoost:
		assume(CommonBuckBoostEfficiency, "the driver's efficiency is not known: 83 % is assumed")
	case Voltage:
		d.newVoltage(part, use, set, lack)
	}
	if d.Regulates() && set == nil {
		d.Family = Absent
		lack(design.Gap{Figure: "setCurrentA", InUse: true, Why: "the driver's current is not set"})
	}
	d.Assumed.AtA, d.Assumed.InV, d.Assumed.OutV = d.EffAtA <= 0, d.EffInV <= 0, d.EffOutV <= 0
	d.Prepare()
	return d
}

// NeedsPoint tells that its one efficiency is stated without all of the point it holds
// at.
func (d *Driver) NeedsPoint() bool {
	return d.Switches() && d.Efficiency > 0 && !d.EffFlat && len(d.EffTable) == 0 && (d.Assumed.AtA || d.Assumed.InV || d.Assumed.OutV)
}

// TakePoint takes what is not stated of the point its efficiency holds at from an
// operating point; Prepare follows.
func (d *Driver) TakePoint(inV, outV, outA float64) {
	if d.Assumed.AtA {
		d.EffAtA = outA
	}
	if d.Assumed.InV {
		d.EffInV = inV
	}
	if d.Assumed.OutV {
		d.EffOutV = outV
	}
}

// Switched is a plain contact that switches on and off fast.
func Switched(contactOhm, duty float64) Driver {
	return Driver{Family: Resistor, ResistanceOhm: contactOhm, Level: 1, Duty: duty}
}

// turnsLimit are the ways of dimming that lower the current limit of a supply.
var turnsLimit = map[string]bool{"three-in-one": true, "analog": true, "phase-cut": true}

func (d *Driver) newVoltage(part *design.Driver, use *design.DriverUse, set *float64, lack func(design.Gap)) {
	volts := use.SetVoltageV
	if volts == nil {
		volts = part.SetVoltageV
	}
	if volts == nil {
		d.Family = Absent
		lack(design.Gap{Figure: "setVoltageV", InUse: true, Why: "the supply's voltage is not set"})
		return
	}
	d.SetV, d.SetA, d.HoldW = *volts, math.Inf(1), or(part.HeldOutputW, 0)
	d.FoldA, d.Folds = or(part.FoldbackA, 0), part.FoldbackA != nil
	d.Limits = part.Limits
	d.StepsUp, d.StepsDown = part.Topology == "step-up" || part.Topology == "either", part.Topology != "step-up"
	d.HeadroomV = or(part.HeadroomV, CommonBuckHeadroomV)
	switch {
	case set != nil:
		d.SetA = *set
	case part.MaxCurrentA != nil:
		d.SetA = *part.MaxCurrentA
	default:
		lack(design.Gap{Figure: "setCurrentA", InUse: true, Why: "the supply's current limit is not known: none is assumed"})
	}
	switch {
	case part.MinCurrentA != nil && part.MaxCurrentA != nil:
		d.KnobMinA, d.KnobMaxA = *part.MinCurrentA, *part.MaxCurrentA
	case turnsLimit[part.Dimming] && !math.IsInf(d.SetA, 1):
		d.KnobMinA, d.KnobMaxA = d.DimFloor*d.SetA, d.SetA
	case turnsLimit[part.Dimming] && part.MaxOutputW != nil && d.SetV > 0:
		d.DimMaxA = *part.MaxOutputW / d.SetV
		d.KnobMinA, d.KnobMaxA = d.DimFloor*d.DimMaxA, d.DimMaxA
	}
	if part.Efficiency == nil && len(part.Efficiencies) == 0 {
		d.Efficiency = CommonBuckEfficiency
		lack(design.Gap{Figure: "efficiency", Why: "the supply's efficiency is not known: 88 % is assumed"})
	}
}
