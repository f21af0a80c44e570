package verdict

import (
	"fmt"
	"math"

	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/emitter"
	"photherm/core/units"
)

func (j *judge) emitters() {
	for _, id := range j.order {
		p := j.nodes[id]
		if j.shorted(id, p) {
			continue
		}
		if p.node.Strip != nil {
			j.strip(id, p)
		}
		if p.node.Load != nil {
			j.load(id, p)
		}
		a := p.node.Array
		if a == nil {
			continue
		}
		e := j.data(a.PartID).Emitter
		if e == nil {
			continue
		}
		i, _ := j.highest(id, "stringA")
		j.stringFaults(id, p)
		j.colour(id, p, e)
		j.belowKnee(id, p, e, i)
		j.possible(id, p, a.PartID, e)
		j.current(id, &p, a.PartID, e, a.RowsMounted(e), i)
		for k := range a.Mixed {
			if other := j.data(a.Mixed[k].PartID).Emitter; other != nil {
				j.possible(id, p, a.Mixed[k].PartID, other)
				j.current(id, &p, a.Mixed[k].PartID, other, 1, i)
				j.mixedJunction(id, &p, k+1, a.Mixed[k].PartID, other)
			}
		}
		size := a.RowsMounted(e)
		if high := e.Forward[len(e.Forward)-1].CurrentA * size; i > high*(1+1e-9) {
			end, at := units.Apart(high, i, "current", 3)
			j.add(Finding{Code: "beyond-curve", Severity: Note, Stage: "emitters", Node: id, Pointer: j.partPointer(a.PartID) + "/emitter/forward", Title: "Beyond the data",
				Why: fmt.Sprintf("The emitter's curve ends at %s; %s is beyond it and less sure.", end, at), Value: &i, Limit: &high, Unit: "A"})
		}
		if len(e.Forward) < 3 {
			j.add(Finding{Code: "assumed-curve", Severity: Note, Stage: "emitters", Node: id, Pointer: j.partPointer(a.PartID) + "/emitter/forward", Title: "Forward curve is a guess",
				Why: "Fewer than three points of forward voltage are known; three readings make a usable curve."})
		}
		j.droop(id, a.PartID, e, i/size)
		j.asWanted(id, p, i)
		j.junction(id, p, e)
		j.labelWatts(id, p, e)
	}
}

// wantedShare is how far the current may be from what is wanted in each emitter before it is told
// (chosen: a driver's tolerance and a spread of forward voltage make as much).
const wantedShare = 0.1

// asWanted holds the current of the emitters against what is wanted in each, where that was said.
func (j *judge) asWanted(id string, p place, is float64) {
	want := p.node.Array.WantedA
	if want == nil || *want <= 0 || is <= 0 || math.Abs(is / *want - 1) <= wantedShare {
		return
	}
	for up := p.driver; up != nil; up = up.driver {
		l := driver.InUse(up.node.Driver)
		if l.Current != nil && *l.Current < 1 || l.Duty != nil && *l.Duty < 1 {
			return // dimmed on purpose
		}
	}
	f := Finding{Code: "not-as-wanted", Severity: Note, Stage: "emitters", Node: id, Pointer: p.pointer + "/array/wantedCurrentA", Title: "Not the current that is wanted",
		Why: fmt.Sprintf("Each emitter of %s gets %s, wanted %s.", p.node.Called(), units.Amps(is), units.Amps(*want)), Value: &is, Limit: want, Unit: "A"}
	if p.driver != nil && len(p.node.Array.Unequal) == 0 {
		strings := p.node.Array.Parallel * max(p.node.Array.Count, 1)
		if stringsBelow(p.driver.node.Loads) == strings {
			f.Fix = j.setCurrent(p.driver, "Set", *want*float64(strings))
		}
	}
	j.add(f)
}

// labelShare is how far the watts of a label may be from what an emitter takes before the two
// are told apart (chosen: tolerances of driver and emitter together make less).
const labelShare = 0.2

// labelWatts tells of emitters that take other watts here than their label says: hours and
// heat go by what they take, and of that only what does not leave as light is heat.
func (j *judge) labelWatts(id string, p place, e *design.Emitter) {
	if e.Claimed == nil || e.Claimed.PowerW == nil {
		return
	}
	a := p.node.Array
	n := float64(a.Series * a.Parallel * max(a.Count, 1))
	w, ok := j.highest(id, "inW")
	light, _ := j.highest(id, "lightW")
	label := *e.Claimed.PowerW * n
	if !ok || w <= 0 || math.Abs(w/label-1) <= labelShare {
		return
	}
	f := Finding{Code: "label-watts", Severity: Note, Stage: "emitters", Node: id, Pointer: p.pointer + "/array/partId", Title: "Not the watts of the label",
		Why: fmt.Sprintf("By their label %s take %s; here it is %s, and what the wall or the pack gives is more by what the driver loses. Hours go by that.", p.node.Called(), units.Watts(label), units.Watts(w)), Value: &w, Limit: &label, Unit: "W"}
	if light > 0 {
		f.Why += fmt.Sprintf(" Heat on their sink is %s of it.", units.Watts(w-light))
	}
	j.add(f)
}

// droopShare is how far the current may lie from where the light is quoted before how
// light falls behind current matters (common practice: a fifth).
const droopShare = 0.2

// droop tells of light that is told beyond its data: it errs to the dark side.
func (j *judge) droop(id, part string, e *design.Emitter, a float64) {
	if e.FluxLm == nil || a <= 0 {
		return
	}
	at, high := emitter.QuotedAtA(e), 0.0
	for _, x := range e.FluxCurrent {
		high = max(high, x.X)
	}
	f := Finding{Code: "assumed-droop", Severity: Note, Stage: "light", Node: id, Pointer: j.partPointer(part) + "/emitter/fluxAgainstCurrent", Title: "Light beyond its data", Value: &a, Unit: "A"}
	switch {
	case len(e.FluxCurrent) >= 3 && above(a, high*(1+droopShare)):
		f.Limit = &high
		f.Why = fmt.Sprintf("Its light is known up to %s; at %s it is taken on the dark side, falling further behind the current.", units.Amps(high), units.Amps(a))
	case len(e.FluxCurrent) < 3 && (above(a, at*(1+droopShare)) || above(at*(1-droopShare), a)):
		f.Limit = &at
		f.Why = fmt.Sprintf("Its light is known at %s alone; at %s it is taken on the dark side. A few readings of light against current tell.", units.Amps(at), units.Amps(a))
	default:
		return
	}
	j.add(f)
}

// current judges the current of the emitters of one part in the string that gets most.
func (j *judge) current(id string, p *place, part string, e *design.Emitter, size, i float64) {
	a := p.node.Array
	strings := float64(a.Parallel * max(a.Count, 1))
	each := "Each emitter"
	if size != 1 {
		each = fmt.Sprintf("Each package of %d rows", a.PackageRows)
	}
	if len(a.Mixed) > 0 {
		each = "Each " + j.data(part).Name
	}
	if len(a.Unequal) > 0 {
		each = "In the string that gets most, each emitter"
	}
	times := func(limit *float64) *float64 {
		if limit == nil {
			return nil
		}
		return new(*limit * size)
	}
	most, rated := times(e.MaxCurrentA), times(e.RatedCurrentA)
	over := func(code string, severity Severity, limit *float64, title, what string) {
		is, most := units.Apart(i, *limit, "current", 3)
		f := Finding{Code: code, Severity: severity, Stage: "emitters", Node: id, Pointer: p.pointer + "/array/parallel", Title: title,
			Why: fmt.Sprintf("%s gets %s; %s is %s.", each, is, what, most), Value: &i, Limit: limit, Unit: "A"}
		if p.driver != nil {
			f.Pointer = j.currentPointer(p.driver)
			if f.Fix = j.setCurrent(p.driver, "Set", *limit*strings); len(a.Unequal) > 0 || stringsBelow(p.driver.node.Loads) != int(strings) {
				f.Fix = j.lessCurrent(p.driver, id, "stringA", *limit) // unlike strings, or more of them
			}
		}
		j.add(f)
	}
	switch {
	case most != nil && above(i, *most):
		over("over-max-current", Stop, most, "Emitters over their maximum current", "the absolute maximum")
	case size < 1 && rated != nil && above(i, *rated):
		over("smaller-package", Stop, rated, "Package too small for this driver", "every row is over its current: the rating")
	case rated != nil && above(i, *rated):
		over("over-rated-current", Caution, rated, "Emitters over their rated current", "the rating")
	}
}

// mixedJunction judges the junctions of a further kind of emitters in the strings.
func (j *judge) mixedJunction(id string, p *place, kind int, part string, e *design.Emitter) {
	if e.MaxJunctionC == nil {
		return
	}
	hot, known := 0.0, false
	for g := 0; ; g++ {
		t, ok := j.highest(id, fmt.Sprintf("string%dkind%dC", g, kind))
		if !ok {
			break
		}
		hot, known = max(hot, t), true
	}
	if limit := *e.MaxJunctionC; known && above(hot, limit) {
		j.add(Finding{Code: "junction-limit", Severity: Stop, Stage: "heat", Node: id, Pointer: p.pointer + "/array/joint", Title: "Junction too hot",
			Why: fmt.Sprintf("The junctions of %s reach %s and may reach %s.", j.data(part).Name, units.Degrees(hot), units.Degrees(limit)), Value: &hot, Limit: &limit, Unit: "°C"})
	}
}

// shorted tells of a node whose wires are bridged; nothing else of it is judged then.
func (j *judge) shorted(id string, p place) bool {
	if p.node.Fault == nil || p.node.Fault.State != "short" {
		return false
	}
	a, _ := j.highest(id, "inA")
	j.add(Finding{Code: "short", Severity: Stop, Stage: j.stage(id), Node: id, Title: "A short",
		Why: fmt.Sprintf("The wires of %s are bridged: %s flow past it, and it stays dark. Switch off and find the bridge.", p.node.Called(), units.Amps(a)), Value: &a, Unit: "A",
		Fix: &Fix{Label: "Take the bridge away", Patch: []Patch{{"add", p.pointer + "/fault/state", "ok"}}}})
	return true
}

// junction judges how hot the emitters get, and the joint under them.
func (j *judge) junction(id string, p place, e *design.Emitter) {
	figure := "junctionC"
	if len(p.node.Array.Mixed) > 0 {
		figure = "string0kind0C"
	}
	j.noPaste(id, p, figure)
	if t, ok := j.highest(id, figure); ok && e.MaxJunctionC != nil {
		switch limit := *e.MaxJunctionC; {
		case t > limit:
			j.add(Finding{Code: "junction-limit", Severity: Stop, Stage: "heat", Node: id, Pointer: p.pointer + "/array/joint", Title: "Junction too hot",
				Why: fmt.Sprintf("The junction reaches %s and may reach %s.", units.Degrees(t), units.Degrees(limit)), Value: &t, Limit: &limit, Unit: "°C", Fix: j.lessCurrent(p.driver, id, figure, limit-10)})
		case t > limit-15:
			j.add(Finding{Code: "junction-close", Severity: Caution, Stage: "heat", Node: id, Pointer: p.pointer + "/array/joint", Title: "Junction close to its limit",
				Why: fmt.Sprintf("The junction reaches %s; its limit of %s leaves little for a warm day or a poor joint.", units.Degrees(t), units.Degrees(limit)), Value: &t, Limit: &limit, Unit: "°C"})
		}
	}
	if t, ok := j.highest(id, "caseC"); ok && p.node.Array.Joint != nil && p.node.Array.Joint.MaxC != nil && t > *p.node.Array.Joint.MaxC {
		j.add(Finding{Code: "joint-limit", Severity: Stop, Stage: "heat", Node: id, Pointer: p.pointer + "/array/joint/maxC", Title: "Joint material too hot",
			Why: fmt.Sprintf("Under the emitters it comes to %s%s; the joint's material bears %s and lets go.", units.Degrees(t), j.passes(id, "caseC", *p.node.Array.Joint.MaxC), units.Degrees(*p.node.Array.Joint.MaxC)), Value: &t, Limit: p.node.Array.Joint.MaxC, Unit: "°C", Fix: j.lessCurrent(p.driver, id, "caseC", *p.node.Array.Joint.MaxC)})
	}
}

// darkShare is the share of their rated current below which emitters are taken as
// dark (common practice).
const darkShare = 0.01

// belowKnee tells of emitters that are fed and yet dark: what feeds them never comes
// up to their voltage.
func (j *judge) belowKnee(id string, p place, e *design.Emitter, stringA float64) {
	size, usual := p.node.Array.RowsMounted(e), e.Forward[len(e.Forward)-1].CurrentA
	if e.RatedCurrentA != nil {
		usual = *e.RatedCurrentA
	}
	if d := p.driver; d != nil && (j.reaches(d.node.ID, driver.ConstantCurrent) || j.reaches(d.node.ID, driver.Off)) {
		return // dimmed as far as that, not for want of voltage
	}
	v, _ := j.highest(id, "inV")
	need, ok := j.model.Solver().StringVoltage(id, usual*size, j.light.Conditions.AmbientC)
	if v <= 0 || stringA >= darkShare*usual*size || !ok || v >= need {
		return // lit, or open or shorted
	}
	series := p.node.Array.Series
	f := Finding{Code: "below-knee", Severity: Stop, Stage: "emitters", Node: id, Pointer: j.feedingPointer(&p), Title: "Too little voltage to light",
		Why: fmt.Sprintf("They get %s at most; %d in series need %s at %s. Fewer in series, or more voltage.", units.Volts(v), series, units.Volts(need), units.Amps(usual*size)), Value: &v, Limit: &need, Unit: "V"}
	if n := math.Floor(v / need * float64(series)); n >= 1 {
		f.Fix = (&Fix{Label: fmt.Sprintf("%.0f in series", n), Patch: []Patch{{"add", p.pointer + "/array/series", n}}}).keeping(told(units.Volts(v-need*n/float64(series)) + " above what they need"))
	}
	j.add(f)
}
