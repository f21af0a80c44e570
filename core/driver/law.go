package driver

import (
	"math"

	"photherm/core/design"
)

// Prepare works out what follows from the fields: the one known efficiency of a
// switching driver is split 20 % fixed, 40 % in proportion to current and
// voltage, 40 % to current squared (common practice, when only one is known). The
// current is the inductor's: that of the output stepping down, of the input but for
// its loss stepping up. On the mains the middle part goes with the current alone: what
// is switched there changes little with the line.
func (d *Driver) Prepare() {
	d.p0, d.a, d.b = 0, 0, 0
	if !d.Switches() || d.Efficiency <= 0 || d.EffFlat || len(d.EffTable) > 0 {
		return
	}
	atA, inV, outV := d.EffAtA, d.EffInV, d.EffOutV
	if atA <= 0 {
		if atA = d.SetA; math.IsInf(atA, 1) || atA <= 0 {
			return
		}
	}
	ratio := 0.7 // of output to input voltage, where not both are known
	if d.Family == Boost || (d.Family == Voltage && !d.StepsDown) {
		ratio = 1.8
	}
	if outV <= 0 && d.Family == Voltage {
		outV = d.SetV
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
	loss := outV * atA * (1/d.Efficiency - 1)
	i, v := d.inductor(inV, outV, atA)
	d.p0 = 0.2 * loss
	d.a = 0.4 * loss / (i * v)
	d.b = 0.4 * loss / (i * i)
}

// raises tells whether it steps up where its output stands above its input.
func (d *Driver) raises() bool { return d.Family == Boost || d.Family == BuckBoost || d.StepsUp }

// inductor is the current in the inductor and the voltage that is switched.
func (d *Driver) inductor(inV, outV, outA float64) (i, v float64) {
	switch {
	case d.OnMains:
		return outA, 1
	case !d.raises() || outV <= inV:
		return outA, inV
	}
	return outV * outA / inV, outV
}

// regulationOhm is the output resistance of a regulated output: none, but for what lets
// current and voltage limit meet at a point.
const regulationOhm = WireOhm

// Regulates tells whether the family holds a set current.
func (d *Driver) Regulates() bool {
	switch d.Family {
	case Linear, Buck, Boost, BuckBoost, Window:
		return true
	}
	return false
}

// Converts tells whether a part makes its output anew instead of passing its input on through a
// resistance: only such a one can isolate.
func Converts(part *design.Driver) bool {
	d := Driver{Family: families[part.Family]}
	return d.Switches()
}

// NeedsHeadroom tells whether it regulates only as long as its input stands above
// its output.
func (d *Driver) NeedsHeadroom() bool { return d.Family == Linear || d.Family == Buck }

// Latches tells whether it can lock out: it holds a current or a voltage.
func (d *Driver) Latches() bool { return d.Regulates() || d.Family == Voltage }

// StartsLow tells of a supply whose limit is lower at low voltages: switched on into a
// load it rises from nothing, and may hang on the way.
func (d *Driver) StartsLow() bool {
	return d.Family == Voltage && !(Envelope{Folds: d.Folds, Table: d.Limits}).Falling()
}

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
	if math.IsInf(d.SetA, 1) && d.DimMaxA > 0 {
		return d.DimMaxA * max(d.Level, d.DimFloor)
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
		v, _ := d.regulatedV(inV)
		if !d.StepsDown {
			v = max(v, inV-throughDropV)
		}
		e := Envelope{LimitA: limit, OpenV: v, SeriesOhm: regulationOhm, HoldW: d.HoldW, FoldA: min(d.FoldA, limit), Folds: d.Folds && !math.IsInf(limit, 1), Table: d.Limits}
		switch {
		case d.StepsUp || inV >= v+d.HeadroomV:
		case math.IsInf(limit, 1):
			e.OpenV = max(0, inV-d.HeadroomV)
		default:
			// Out of headroom it passes its input on, like one that holds a current.
			e.OpenV, e.SeriesOhm = inV, max(d.HeadroomV/limit, WireOhm)
			if inV > v {
				e.CapV = v
			}
		}
		return e
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
	return outV >= d.MinV*WireShare && outA >= almostSet*d.LimitA()
}

// OpenSlope is how the voltage its envelope begins at follows its input, V/V.
func (d *Driver) OpenSlope(inV float64) float64 {
	switch d.Family {
	case Dropper:
		if inV <= d.DropV {
			return 0
		}
		return 1
	case Boost, BuckBoost, Window:
		return 0
	case Voltage:
		set, slope := d.regulatedV(inV)
		switch {
		case !d.StepsUp && inV-d.HeadroomV < set:
			return 1
		case !d.StepsDown && inV-throughDropV > set:
			return 1
		}
		return slope
	}
	return 1
}

// regulatedV is the voltage a supply regulates to, and how it follows its input.
func (d *Driver) regulatedV(inV float64) (v, slope float64) {
	if d.LineRegPerV > 0 && d.EffInV > 0 {
		return d.SetV * (1 + d.LineRegPerV*(inV-d.EffInV)), d.SetV * d.LineRegPerV
	}
	return d.SetV, 0
}

// HoldsAlone tells that a supply's output does not depend on its input, within what
// the input is and above.
func (d *Driver) HoldsAlone(inV float64) bool {
	if d.LineRegPerV > 0 && d.EffInV > 0 {
		return false
	}
	return (d.StepsUp || inV >= d.SetV+d.HeadroomV) && (d.StepsDown || inV <= d.SetV+throughDropV)
}

// A Take is what a driver takes from its input at an operating point, and how that
// changes with input voltage, output voltage and output current.
type Take struct {
	InA, LossW          float64
	PerInV, PerOutV     float64 // of InA, A/V
	PerOutA             float64 // of InA, A/A
	lossIn, lossOut, lA float64 // of LossW
}

// FadeV is the voltage below which what draws a steady current to be alive, a driver's
// own draw or an auxiliary, draws less and less (chosen: below any semiconductor
// junction, so that it bears on nothing that works).
const FadeV = 0.5

// Quiescent is the driver's own draw at an input voltage, A, and its slope, A/V.
func (d *Driver) Quiescent(inV float64) (a, perV float64) {
	if inV >= FadeV {
		return d.QuiescentA, 0
	}
	perV = d.QuiescentA / FadeV
	return perV * max(inV, 0), perV
}

// Input is what the driver takes from its input bus and loses as heat when its
// output bus stands at outV, outA.
func (d *Driver) Input(inV, outV, outA float64) (inA, lossW float64) {
	t := d.Take(inV, outV, outA)
	return t.InA, t.LossW
}

// Take is Input with its slopes.
func (d *Driver) Take(inV, outV, outA float64) (t Take) {
	if inV <= 0 {
		return t
	}
	own, perV := d.Quiescent(inV)
	if d.Off || (d.LimitA() <= 0 && d.Regulates()) {
		t.LossW = own*inV + d.StandbyW
		t.InA, t.PerInV = t.LossW/inV, perV-d.StandbyW/(inV*inV)
		return t
	}
	switch d.Family {
	case Buck:
		t = d.stepDownLoss(inV, outV, outA)
	case Boost:
		t = d.stepUpLoss(inV, outV, outA)
	case BuckBoost, Window, Voltage:
		// In current limit the output is throttled, not dropped across a resistance.
		t = d.switchingLoss(inV, outV, outA)
	default:
		return Take{InA: outA + own, LossW: (inV-outV)*outA + own*inV, PerInV: perV, PerOutA: 1}
	}
	t.LossW += own * inV
	t.lossIn += own + perV*inV
	t.InA = (outV*outA + t.LossW) / inV
	t.PerInV = (t.lossIn - t.InA) / inV
	t.PerOutV = (outA + t.lossOut) / inV
	t.PerOutA = (outV + t.lA) / inV
	return t
}

// seriesLoss is that of a closed switch.
func (d *Driver) seriesLoss(inV, outV, outA float64) Take {
	return Take{LossW: (inV - outV) * outA, lossIn: outA, lossOut: -outA, lA: inV - outV}
}

// stated is the efficiency as it is given, by one flat figure or a table, and its slopes
// with input voltage and output current.
func (d *Driver) stated(inV, outA float64) (eta, perV, perA float64) {
	if len(d.EffTable) == 0 {
		return d.Efficiency, 0, 0
	}
	p := d.EffTable
	// The rows of one input voltage follow one another: those at it and below, and above.
	lo, hi := 0, rowEnd(p, 0)
	for hi < len(p) && *p[hi].InputV <= inV {
		lo, hi = hi, rowEnd(p, hi)
	}
	eta, perA = rowAt(p[lo:hi], outA)
	if p[lo].InputV == nil || hi == len(p) || *p[lo].InputV > inV {
		return eta, 0, perA
	}
	above, slope := rowAt(p[hi:rowEnd(p, hi)], outA)
	gap := *p[hi].InputV - *p[lo].InputV
	x := (inV - *p[lo].InputV) / gap
	return eta + x*(above-eta), (above - eta) / gap, perA + x*(slope-perA)
}

func rowEnd(p []design.EfficiencyPoint, from int) int {
	to := from + 1
	for to < len(p) && (p[from].InputV == nil || *p[to].InputV == *p[from].InputV) {
		to++
	}
	return to
}

// rowAt is the efficiency at a current in the row of one input voltage.
func rowAt(p []design.EfficiencyPoint, outA float64) (eta, perA float64) {
	last := len(p) - 1
	switch {
	case outA <= p[0].CurrentA:
		return p[0].Efficiency, 0
	case outA >= p[last].CurrentA:
		return p[last].Efficiency, 0
	}
	i := 1
	for outA > p[i].CurrentA {
		i++
	}
	perA = (p[i].Efficiency - p[i-1].Efficiency) / (p[i].CurrentA - p[i-1].CurrentA)
	return p[i-1].Efficiency + perA*(outA-p[i-1].CurrentA), perA
}

func (d *Driver) switchingLoss(inV, outV, outA float64) Take {
	if d.EffFlat || len(d.EffTable) > 0 {
		eta, perV, perA := d.stated(inV, outA)
		share := 1/eta - 1
		slope := -outV * outA / (eta * eta)
		return Take{LossW: outV * outA * share, lossIn: slope * perV, lossOut: outA * share, lA: outV*share + slope*perA}
	}
	if d.OnMains {
		return Take{LossW: d.p0 + d.a*outA + d.b*outA*outA, lA: d.a + 2*d.b*outA}
	}
	if !d.raises() || outV <= inV {
		return Take{LossW: d.p0 + d.a*inV*outA + d.b*outA*outA, lossIn: d.a * outA, lA: d.a*inV + 2*d.b*outA}
	}
	i := outV * outA / inV
	perI := d.a*outV + 2*d.b*i
	return Take{LossW: d.p0 + d.a*outV*i + d.b*i*i, lossIn: -perI * i / inV, lossOut: d.a*i + perI*outA/inV, lA: perI * outV / inV}
}

// mix is share of one loss and the rest of the other; the share itself has slopes.
func mix(share float64, slope [3]float64, one, rest Take) Take {
	by := one.LossW - rest.LossW
	between := func(a, b, slope float64) float64 { return share*a + (1-share)*b + slope*by }
	return Take{LossW: between(one.LossW, rest.LossW, 0), lossIn: between(one.lossIn, rest.lossIn, slope[0]),
		lossOut: between(one.lossOut, rest.lossOut, slope[1]), lA: between(one.lA, rest.lA, slope[2])}
}

// stepDownLoss blends switching loss into series loss as the step-down stops
// switching and becomes a closed switch.
func (d *Driver) stepDownLoss(inV, outV, outA float64) Take {
	switching := d.switchingLoss(inV, outV, outA)
	set := d.LimitA()
	if outA >= set || set <= 0 {
		return switching
	}
	w := outA / set
	return mix(w*w, [3]float64{0, 0, 2 * w / set}, switching, d.seriesLoss(inV, outV, outA))
}

// stepUpLoss blends switching loss into series loss as the input of a step-up comes
// near what its load needs, and it conducts without switching.
func (d *Driver) stepUpLoss(inV, outV, outA float64) Take {
	through, ok := d.Through(inV)
	set := d.LimitA()
	if !ok || outV >= through.OpenV || set <= 0 {
		return d.switchingLoss(inV, outV, outA)
	}
	series := d.seriesLoss(inV, outV, outA)
	wide := throughOhm * set
	conducts := (through.OpenV - outV) / wide
	if conducts >= 1 {
		return series
	}
	return mix(conducts, [3]float64{1 / wide, -1 / wide, 0}, series, d.switchingLoss(inV, outV, outA))
}

// Conducts is the pair of input voltages between which a step-up that holds outV at
// outA goes over from switching to conducting, V.
func (d *Driver) Conducts(outV, outA float64) (from, to float64) {
	return outV + throughDropV, outV + throughDropV + throughOhm*outA
}

// heldShare is how near its set voltage a supply holds it (chosen: far below what a meter
// reads).
const heldShare = 1e-4

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
	case d.Folds && outA >= (1-1e-6)*d.Envelope(inV).CurrentA(outV) && outV < d.Envelope(inV).NoLoadV()-2*regulationOhm*outA:
		return Foldback
	case d.HoldW > 0 && outV*outA >= d.HoldW*(1-1e-6):
		return WattLimit
	case len(d.Limits) > 0 && outA < limit*(1-1e-9) && outA >= (1-1e-6)*d.Envelope(inV).tableA(outV):
		return ConstantCurrent
	case d.Family == Voltage && outA < limit*(1-1e-9):
		// Nearer than that is what its wire of next to nothing takes.
		if set, _ := d.regulatedV(inV); !d.StepsUp && outV < set*(1-heldShare) || !d.StepsDown && outV > set*(1+heldShare) {
			return DropOut
		}
		return ConstantVoltage
	case outA >= limit*(1-1e-9):
		return ConstantCurrent
	case !d.NeedsHeadroom():
		return ConstantVoltage // at its highest output
	}
	return DropOut
}
