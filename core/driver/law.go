package driver

import "math"

// Prepare works out what follows from the fields: the one known efficiency of a
// switching driver is split 20 % fixed, 40 % in proportion to current and
// voltage, 40 % to current squared (common practice, when only one is known). The
// current is the inductor's: that of the output stepping down, of the input but for
// its loss stepping up.
func (d *Driver) Prepare() {
	d.p0, d.a, d.b = 0, 0, 0
	if !d.Switches() || d.Efficiency <= 0 || d.EffAtA <= 0 {
		return
	}
	inV, outV := d.EffInV, d.EffOutV
	ratio := 0.7 // of output to input voltage, where not both are known
	if d.Family == Boost || (d.Family == Voltage && !d.StepsDown) {
		ratio = 1.8
	}
	if outV <= 0 {
		outV = ratio * inV
	}
	if inV <= 0 {
		if outV <= 0 {
			outV = 3
		}
		inV = outV / ratio
	}
	loss := outV * d.EffAtA * (1/d.Efficiency - 1)
	i, v := d.inductor(inV, outV, d.EffAtA)
	d.p0 = 0.2 * loss
	d.a = 0.4 * loss / (i * v)
	d.b = 0.4 * loss / (i * i)
}

// inductor is the current in the inductor and the voltage that is switched.
func (d *Driver) inductor(inV, outV, outA float64) (i, v float64) {
	up := d.Family == Boost || d.Family == BuckBoost || d.StepsUp
	if !up || outV <= inV {
		return outA, inV
	}
	return outV * outA / inV, outV
}

// regulationOhm is the output resistance of a regulated output: small beside any
// wire, large enough that current and voltage limit meet at a point.
const regulationOhm = 1e-3

// Regulates tells whether the family holds a set current.
func (d *Driver) Regulates() bool {
	switch d.Family {
	case Linear, Buck, Boost, BuckBoost, Window:
		return true
	}
	return false
}

// NeedsHeadroom tells whether it regulates only as long as its input stands above
// its output.
func (d *Driver) NeedsHeadroom() bool { return d.Family == Linear || d.Family == Buck }

// Switches tells whether its draw may rise as its input falls.
func (d *Driver) Switches() bool {
	switch d.Family {
	case Buck, Boost, BuckBoost, Window, Voltage:
		return true
	}
	return false
}

// LimitA is the current it regulates to, or limits at, as it is dimmed now.
func (d *Driver) LimitA() float64 {
	if d.Off {
		return 0
	}
	if d.Level >= 1 {
		return d.SetA
	}
	if d.Level <= 0 {
		return 0
	}
	return d.SetA * max(d.Level, d.DimFloor)
}

// Envelope is what the driver offers its output bus at an input voltage. Below
// headroom a driver that needs it passes the input through headroom/set current,
// so that regulation and drop-out join without a step.
func (d *Driver) Envelope(inV float64) Envelope {
	if d.Off {
		return Envelope{OpenV: max(inV, 0), SeriesOhm: 1}
	}
	limit := d.LimitA()
	switch d.Family {
	case None:
		return Envelope{LimitA: math.Inf(1), OpenV: inV, SeriesOhm: WireOhm}
	case Resistor:
		return Envelope{LimitA: math.Inf(1), OpenV: inV, SeriesOhm: max(d.ResistanceOhm, WireOhm)}
	case Dropper:
		return Envelope{LimitA: math.Inf(1), OpenV: max(0, inV-d.DropV), SeriesOhm: max(d.ResistanceOhm, WireOhm)}
	case Linear, Buck:
		if limit > 0 {
			return Envelope{LimitA: limit, OpenV: inV, SeriesOhm: max(d.HeadroomV/limit, WireOhm)}
		}
	case Boost, BuckBoost, Window:
		if limit > 0 && inV > 0 {
			return Envelope{LimitA: limit, OpenV: d.MaxV, SeriesOhm: regulationOhm}
		}
	case Voltage:
		if limit <= 0 || inV <= 0 {
			break
		}
		v := d.SetV
		if d.LineRegPerV > 0 && d.EffInV > 0 {
			v *= 1 + d.LineRegPerV*(inV-d.EffInV)
		}
		if !d.StepsUp {
			v = max(0, min(v, inV-d.HeadroomV))
		}
		if !d.StepsDown {
			v = max(v, inV-throughDropV)
		}
		return Envelope{LimitA: limit, OpenV: v, SeriesOhm: regulationOhm, HoldW: d.HoldW, FoldA: min(d.FoldA, limit), Folds: d.Folds && !math.IsInf(limit, 1), Table: d.Limits}
	}
	return Envelope{OpenV: max(inV, 0), SeriesOhm: 1}
}

// A step-up conducts through its inductor and diode when its input stands above
// what its load needs (common practice: about 0.4 V and a tenth of an ohm).
const (
	throughDropV = 0.4
	throughOhm   = 0.1
)

// Through is the way past a step-up driver that cannot hold its load back: from
// its input through inductor and diode. ok is false for other families.
func (d *Driver) Through(inV float64) (e Envelope, ok bool) {
	if d.Family != Boost || d.Off {
		return Envelope{}, false
	}
	return Envelope{LimitA: math.Inf(1), OpenV: max(0, inV-throughDropV), SeriesOhm: throughOhm}, true
}

// almostSet is the share of its set current below which a driver with a window is
// taken as at the top of it.
const almostSet = 0.999

// InsideWindow tells whether a driver with a window can hold its load: it stands
// inside the window, or the driver has none.
func (d *Driver) InsideWindow(outV, outA float64) bool {
	if d.Family != Window || d.Off || d.LimitA() <= 0 {
		return true
	}
	return outV >= d.MinV && outA >= almostSet*d.LimitA()
}

// Input is what the driver takes from its input bus and loses as heat when its
// output bus stands at outV, outA.
func (d *Driver) Input(inV, outV, outA float64) (inA, lossW float64) {
	if inV <= 0 {
		return 0, 0
	}
	if d.Off || (d.LimitA() <= 0 && d.Regulates()) {
		lossW = d.QuiescentA*inV + d.StandbyW
		return lossW / inV, lossW
	}
	switch d.Family {
	case Buck:
		lossW = d.buckLoss(inV, outV, outA)
	case Boost, BuckBoost, Window, Voltage:
		// In current limit the output is throttled, not dropped across a resistance.
		lossW = d.switchingLoss(inV, outV, outA)
	default:
		return outA + d.QuiescentA, (inV-outV)*outA + d.QuiescentA*inV
	}
	return (outV*outA + lossW) / inV, lossW
}

func (d *Driver) switchingLoss(inV, outV, outA float64) float64 {
	if through, ok := d.Through(inV); ok && outV < through.OpenV {
		return d.QuiescentA*inV + (inV-outV)*outA
	}
	i, v := d.inductor(inV, outV, outA)
	return d.QuiescentA*inV + d.p0 + d.a*v*i + d.b*i*i
}

// buckLoss blends switching loss into series loss as the step-down stops
// switching and becomes a closed switch.
func (d *Driver) buckLoss(inV, outV, outA float64) float64 {
	switching := d.switchingLoss(inV, outV, outA)
	set := d.LimitA()
	if outA >= set || set <= 0 {
		return switching
	}
	w := outA / set
	w *= w
	series := d.QuiescentA*inV + (inV-outV)*outA
	return w*switching + (1-w)*series
}

// Mode tells what the driver does at an operating point.
func (d *Driver) Mode(inV, outV, outA float64) Mode {
	limit := d.LimitA()
	through, stepsUp := d.Through(inV)
	switch {
	case d.Family == Absent || d.Off || limit <= 0 && (d.Regulates() || d.Family == Voltage):
		return Off
	case d.Family == None || d.Family == Resistor || d.Family == Dropper:
		return PassThrough
	case stepsUp && outV < through.OpenV && outA > limit*(1+1e-9):
		return Uncontrolled
	case d.Folds && outA >= (1-1e-6)*d.Envelope(inV).CurrentA(outV) && outV < d.Envelope(inV).OpenV-2*regulationOhm*outA:
		return Foldback
	case d.HoldW > 0 && outV*outA >= d.HoldW*(1-1e-6):
		return WattLimit
	case len(d.Limits) > 0 && outA < limit*(1-1e-9) && outA >= (1-1e-6)*d.Envelope(inV).tableA(outV):
		return ConstantCurrent
	case d.Family == Voltage && outA < limit*(1-1e-9):
		return ConstantVoltage
	case outA >= limit*(1-1e-9):
		return ConstantCurrent
	case !d.NeedsHeadroom():
		return ConstantVoltage // at its highest output
	}
	return DropOut
}
