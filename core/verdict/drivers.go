package verdict

import (
	"fmt"
	"math"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/units"
)

func (j *judge) drivers() {
	for _, id := range j.order {
		p := j.nodes[id]
		if p.node.Dimmer != nil {
			j.dimmer(id, p)
		}
		if p.node.Switch != nil {
			j.switchDuty(id, p)
		}
		if p.node.Driver == nil {
			continue
		}
		d := j.data(p.node.Driver.PartID).Driver
		if d == nil {
			continue
		}
		if over, is := driver.TooBig(d, &j.light.Brief); is {
			j.add(Finding{Code: "driver-too-big", Severity: Caution, Stage: "driver", Node: id, Pointer: "/brief/" + over.Room, Title: "No room for the driver",
				Why: fmt.Sprintf("%s needs %.3g mm, and there is room for %.3g mm.", j.data(p.node.Driver.PartID).Name, 1000*over.IsM, 1000*over.RoomM), Value: &over.IsM, Limit: &over.RoomM, Unit: "m"})
		}
		j.driverInput(id, p, d)
		j.driverSetting(id, p, d)
		j.family(id, p, d)
		j.dimming(id, p, d)
		if d.Family == "voltage" {
			j.notHeld(id, p, d)
			j.supplyRating(id, p, d)
		}
	}
	for _, e := range j.run.Events {
		p, ok := j.nodes[e.Node]
		if e.Kind != "drop-out" || !ok {
			continue
		}
		if p.node.Driver == nil || e.T <= 0 || e.T >= j.run.T[len(j.run.T)-1] {
			continue
		}
		left := j.run.T[len(j.run.T)-1] - e.T
		t := e.T
		j.add(Finding{Code: "headroom-ends", Severity: Caution, Stage: "driver", Node: e.Node, Pointer: j.voltagePointer(p.feed, 0), Title: "Headroom ends before the pack does",
			Why: fmt.Sprintf("From %s on the source is too low for %s and the light follows it down for %s.", units.Duration(e.T), p.node.Called(), units.Duration(left)), Value: &t, Unit: "s",
			Fix: j.oneMoreCell(p)})
	}
}

// Margins of a supply over its load: the two schools of common practice.
const (
	leastMargin = 1.1
	goodMargin  = 1.25
)

// supplyRating judges a constant-voltage supply: its watts, and its voltage setting. Both
// of its knobs may allow more than its rating does.
func (j *judge) supplyRating(id string, p place, d *design.Driver) {
	at := p.pointer + "/driver"
	v, _ := j.highest(id, "peakV")
	a, _ := j.highest(id, "peakA")
	w, gives := v*a, ""
	if nominal := j.stripNominalW(p.node.Loads); nominal > w {
		// Strip is bought by its nominal watts, which a thicker feed lets it take.
		gives = fmt.Sprintf(" nominally, metres times watts a metre (%s as its copper lets it now)", units.Watts(w))
		w = nominal
	}
	if d.MaxOutputW != nil && w > *d.MaxOutputW/leastMargin {
		f := Finding{Code: "supply-margin", Severity: Caution, Stage: "driver", Node: id, Pointer: at + "/setCurrentA", Title: "Supply has little to spare",
			Why:   fmt.Sprintf("It gives %s%s and is rated %s, %.2f times that: 1.1 is the least that is advised and 1.25 the careful choice.", units.Watts(w), gives, units.Watts(*d.MaxOutputW), *d.MaxOutputW/w),
			Value: &w, Limit: d.MaxOutputW, Unit: "W"}
		if w > *d.MaxOutputW*(1+1e-9) {
			f.Code, f.Severity, f.Title = "supply-watts", Stop, "Supply above its rated watts"
			f.Why = fmt.Sprintf("Its settings let it give %s%s; it is rated %s.", units.Watts(w), gives, units.Watts(*d.MaxOutputW))
		}
		f.Fix = j.setCurrent(&p, "Limit to", math.Floor(*d.MaxOutputW/goodMargin/v*100)/100).keeping(func(with *judge) string {
			gives, _ := with.highest(id, "outW")
			return fmt.Sprintf("rated %.2f times that", *d.MaxOutputW/max(gives, 1e-9))
		})
		j.add(f)
	}
	if d.MinVoltageV != nil && a > 0 && v > 0 && v < *d.MinVoltageV*(1-1e-6) && (p.node.Driver.SetVoltageV == nil || *p.node.Driver.SetVoltageV >= *d.MinVoltageV) {
		j.add(Finding{Code: "supply-below-range", Severity: Caution, Stage: "driver", Node: id, Pointer: at + "/partId", Title: "Emitters below the supply's range",
			Why:   fmt.Sprintf("They stand at %s; its voltage begins at %s. Holding its current so far below, it may give up and try again, over and over: take more in series, or a supply that begins lower.", units.Volts(v), units.Volts(*d.MinVoltageV)),
			Value: &v, Limit: d.MinVoltageV, Unit: "V"})
	}
	if set := p.node.Driver.SetVoltageV; set != nil && ((d.MaxVoltageV != nil && *set > *d.MaxVoltageV) || (d.MinVoltageV != nil && *set < *d.MinVoltageV)) {
		limit := d.MaxVoltageV
		if d.MinVoltageV != nil && *set < *d.MinVoltageV {
			limit = d.MinVoltageV
		}
		j.add(Finding{Code: "supply-voltage-range", Severity: Stop, Stage: "driver", Node: id, Pointer: at + "/setVoltageV", Title: "Set beyond what the supply can",
			Why: fmt.Sprintf("%s is set to %s; its range ends at %s.", p.node.Called(), units.Volts(*set), units.Volts(*limit)), Value: set, Limit: limit, Unit: "V",
			Fix: &Fix{Label: "Set " + units.Volts(*limit), Patch: []Patch{{"add", at + "/setVoltageV", *limit}}, keeps: told("at the end of its range")}})
	}
}

// stripNominalW is what strip below takes by its data, W, at the voltage it is made for;
// nought where anything else that shines hangs there too.
func (j *judge) stripNominalW(nodes []design.Node) (w float64) {
	for i := range nodes {
		n := &nodes[i]
		switch {
		case n.Switch != nil && !n.Switch.Open:
			w += float64(max(n.Count, 1)) * j.stripNominalW(n.Loads)
		case n.Strip != nil:
			s := j.data(n.Strip.PartID).Strip
			if s == nil {
				continue
			}
			perM := orZero(s.PerMetreW)
			if s.PerMetreW == nil && s.PerMetreA != nil {
				perM = new(*s.PerMetreA * s.VoltageV)
			}
			for _, m := range n.Strip.PiecesM {
				w += float64(max(n.Count, 1)) * m * *perM
			}
		case n.Array != nil, n.Load != nil, n.Driver != nil:
			return 0
		}
	}
	return w
}

func (j *judge) driverInput(id string, p place, d *design.Driver) {
	if p.driver == nil {
		for k := range p.feed.Sources {
			j.sourceOnInput(id, p, d, k)
		}
	} else {
		j.innerInput(id, p, d)
	}
	out, _ := j.highest(id, "peakA")
	set := driver.SetCurrentA(d, p.node.Driver)
	if l := driver.InUse(p.node.Driver).Current; set != nil && l != nil {
		set = new(*set * max(*l, *orZero(d.DimFloor)))
	}
	law, _ := driver.New(d, p.node.Driver)
	if law.NeedsHeadroom() && j.reaches(id, driver.DropOut) && set != nil && *set > 0 && out > 0 && out < *set*(1-1e-6) {
		most := units.Amps(out)
		if out < leastToldA {
			most = "next to nothing"
		}
		j.add(Finding{Code: "no-headroom", Severity: Caution, Stage: "driver", Node: id, Pointer: j.feedingPointer(&p), Title: "Not enough headroom",
			Why: fmt.Sprintf("%s never reaches its %s: what feeds it is too low for the emitters and the driver's drop; the most is %s.", p.node.Called(), units.Amps(*set), most), Value: &out, Limit: set, Unit: "A",
			Fix: j.oneMoreCell(p)})
	}
}

// leastToldA is below what a current is not told in figures, A (chosen: no meter at a bench reads it).
const leastToldA = 1e-6

// notHeld tells of a voltage that is set and not held: from the beginning for want of
// input (later it is told as it happens), or for too much of it.
func (j *judge) notHeld(id string, p place, d *design.Driver) {
	mode, ok := j.column[[2]string{id, "mode"}]
	volts := j.column[[2]string{id, "peakV"}]
	set := p.node.Driver.SetVoltageV
	if set == nil {
		set = d.SetVoltageV
	}
	if !ok || set == nil {
		return
	}
	for i, rec := range j.run.Records {
		if int(rec[mode]+0.5) != int(driver.DropOut) {
			continue
		}
		v := rec[volts]
		f := Finding{Code: "voltage-not-held", Severity: Caution, Stage: "driver", Node: id, Pointer: j.feedingPointer(&p), Title: "Its voltage is not held", Value: &v, Limit: set, Unit: "V"}
		switch {
		case v > *set:
			f.Severity = Stop
			f.Why = fmt.Sprintf("%s is set to %s, but its input stands above that: a step-up cannot hold it back, and passes on %s.", p.node.Called(), units.Volts(*set), units.Volts(v))
		case i > 0:
			return
		default:
			f.Why = fmt.Sprintf("%s is set to %s and gives %s: what feeds it is too low for that and its own drop.", p.node.Called(), units.Volts(*set), units.Volts(v))
			if p.driver == nil {
				f.Fix = j.oneMoreCell(p)
			}
		}
		j.add(f)
		return
	}
}

// sourceOnInput judges a driver that hangs on a source, or on switches behind it, by what
// that source may give.
func (j *judge) sourceOnInput(id string, p place, d *design.Driver, source int) {
	s := &p.feed.Sources[source]
	low, high, ok := j.sourceRange(s)
	if !ok {
		return
	}
	highest, lowest := "Fresh", "Drained"
	switch {
	case s.Mains != nil:
		highest, lowest = "At its highest, a tenth above nominal", "At its lowest, a tenth below nominal"
	case s.Supply != nil:
		highest, lowest = "Off load", "Off load"
	}
	which := sourceName(s)
	if d.InputMaxV != nil && above(high, *d.InputMaxV) {
		f := Finding{Code: "source-above-input", Severity: Stop, Stage: "driver", Node: id, Pointer: j.voltagePointer(p.feed, source), Title: "Source too high for the driver",
			Why: fmt.Sprintf("%s, %s gives %s; %s bears %s.", highest, which, units.Volts(high), p.node.Called(), units.Volts(*d.InputMaxV)), Value: &high, Limit: d.InputMaxV, Unit: "V"}
		if s.Mains != nil && !above(s.Mains.VoltageV, *d.InputMaxV) {
			f.Severity, f.Title = Caution, "The mains may stand too high for the driver"
			f.Why += " A label often names nominal voltages, and means a tenth more: look in its data."
		}
		if s.Pack != nil {
			if n := math.Floor(*d.InputMaxV / (high / float64(s.Pack.Series)) * (1 + nearShare)); n >= 1 {
				f.Fix = (&Fix{Label: cellsInSeries(int(n)), Patch: []Patch{{"add", j.packPointer(p.feed, source) + "/series", n}}}).keeping(told(units.Volts(*d.InputMaxV-high*n/float64(s.Pack.Series)) + " below what the driver bears"))
			}
		}
		j.add(f)
	}
	starts := startsAt(d)
	law, _ := driver.New(d, p.node.Driver)
	stops := law.LockV
	switch {
	case starts == nil:
	case above(*starts, high):
		j.add(Finding{Code: "source-below-input", Severity: Stop, Stage: "driver", Node: id, Pointer: j.voltagePointer(p.feed, source), Title: "Source too low for the driver",
			Why: fmt.Sprintf("%s, %s gives no more than %s; %s starts at %s.", highest, which, units.Volts(high), p.node.Called(), units.Volts(*starts)), Value: &high, Limit: starts, Unit: "V"})
	case above(stops, low) && s.Pack != nil:
		j.add(Finding{Code: "source-below-input", Severity: Caution, Stage: "driver", Node: id, Pointer: j.voltagePointer(p.feed, source), Title: "Driver stops before the pack is empty",
			Why: fmt.Sprintf("%s, %s gives %s; %s stops at %s, and charge is left over.", lowest, which, units.Volts(low), p.node.Called(), units.Volts(stops)), Value: &low, Limit: &stops, Unit: "V"})
	case above(stops, low):
		j.add(Finding{Code: "source-below-input", Severity: Caution, Stage: "driver", Node: id, Pointer: j.voltagePointer(p.feed, source), Title: "Source may be too low for the driver",
			Why: fmt.Sprintf("%s, %s gives %s; %s stops at %s.", lowest, which, units.Volts(low), p.node.Called(), units.Volts(stops)), Value: &low, Limit: &stops, Unit: "V"})
	}
}

// innerInput judges a driver behind another by what that makes of its sources, and by
// what its own input reached.
func (j *judge) innerInput(id string, p place, d *design.Driver) {
	at, from := j.feedingPointer(&p), p.driver.node.Called()
	high, seen := j.highest(id, "inV")
	for k := range p.feed.Sources {
		if _, most, ok := j.behind(p.driver, k); ok {
			high, seen = max(high, most), true
		}
	}
	if !seen {
		return
	}
	if d.InputMaxV != nil && above(high, *d.InputMaxV) {
		j.add(Finding{Code: "source-above-input", Severity: Stop, Stage: "driver", Node: id, Pointer: at, Title: "Input too high for the driver",
			Why: fmt.Sprintf("%s gives it up to %s; %s bears %s.", from, units.Volts(high), p.node.Called(), units.Volts(*d.InputMaxV)), Value: &high, Limit: d.InputMaxV, Unit: "V"})
	}
	if starts := startsAt(d); starts != nil && above(*starts, high) {
		j.add(Finding{Code: "source-below-input", Severity: Stop, Stage: "driver", Node: id, Pointer: at, Title: "Input too low for the driver",
			Why: fmt.Sprintf("%s gives it no more than %s; %s starts at %s.", from, units.Volts(high), p.node.Called(), units.Volts(*starts)), Value: &high, Limit: starts, Unit: "V"})
	}
}

// behind is the range of voltage that a source makes at the output of a driver: off load
// at the top, and where the source stands lowest. It is not ok where only a solve tells.
func (j *judge) behind(p *place, source int) (low, high float64, ok bool) {
	if p.driver == nil {
		low, high, ok = j.sourceRange(&p.feed.Sources[source])
	} else {
		low, high, ok = j.behind(p.driver, source)
	}
	part := j.data(p.node.Driver.PartID).Driver
	if !ok || part == nil {
		return 0, 0, false
	}
	return driver.Behind(part, p.node.Driver, low, high)
}

// startsAt is the input from which a driver starts, V; nil if nothing says.
func startsAt(d *design.Driver) *float64 {
	if d.InputMinV != nil && d.RestartV != nil {
		return new(max(*d.InputMinV, *d.RestartV))
	}
	return d.InputMinV
}

// nearShare is how near a figure may come to its limit and still be at it.
const nearShare = 1e-9

// above tells whether a figure is beyond a limit, not just at it.
func above(x, limit float64) bool { return x > limit*(1+nearShare) }

func (j *judge) driverSetting(id string, p place, d *design.Driver) {
	at := p.pointer + "/driver/setCurrentA"
	if set := p.node.Driver.SetCurrentA; set != nil {
		if d.MaxCurrentA != nil && *set > *d.MaxCurrentA {
			j.add(Finding{Code: "driver-over-current", Severity: Stop, Stage: "driver", Node: id, Pointer: at, Title: "Set above what the driver can",
				Why: fmt.Sprintf("%s is set to %s and gives %s at most.", p.node.Called(), units.Amps(*set), units.Amps(*d.MaxCurrentA)), Value: set, Limit: d.MaxCurrentA, Unit: "A",
				Fix: &Fix{Label: "Set " + units.Amps(*d.MaxCurrentA), Patch: []Patch{{"add", at, *d.MaxCurrentA}}, keeps: told("at the most it gives")}})
		}
		if d.MinCurrentA != nil && *set < *d.MinCurrentA {
			j.add(Finding{Code: "driver-under-current", Severity: Caution, Stage: "driver", Node: id, Pointer: at, Title: "Set below what the driver can",
				Why: fmt.Sprintf("%s is set to %s and cannot go below %s.", p.node.Called(), units.Amps(*set), units.Amps(*d.MinCurrentA)), Value: set, Limit: d.MinCurrentA, Unit: "A",
				Fix: &Fix{Label: "Set " + units.Amps(*d.MinCurrentA), Patch: []Patch{{"add", at, *d.MinCurrentA}}, keeps: told("at the least it gives")}})
		}
	}
	if ohm := p.node.Driver.ProgramOhm; ohm != nil {
		set := driver.SetCurrentA(d, p.node.Driver)
		over := func(code string, severity Severity, title, does string, limit *float64) {
			j.add(Finding{Code: code, Severity: severity, Stage: "driver", Node: id, Pointer: p.pointer + "/driver/programOhm", Title: title,
				Why: fmt.Sprintf("%s sets %s to %s; it %s %s.", units.Ohms(*ohm), p.node.Called(), units.Amps(*set), does, units.Amps(*limit)), Value: set, Limit: limit, Unit: "A"})
		}
		switch {
		case set == nil:
		case d.MaxCurrentA != nil && above(*set, *d.MaxCurrentA):
			over("driver-over-current", Stop, "Set above what the driver can", "gives at most", d.MaxCurrentA)
		case d.MinCurrentA != nil && above(*d.MinCurrentA, *set):
			over("driver-under-current", Caution, "Set below what the driver can", "cannot go below", d.MinCurrentA)
		}
	}
	if w, _ := j.highest(id, "lossW"); d.Family == "resistor" && d.RatedW != nil && w > *d.RatedW/2 {
		limit := *d.RatedW / 2
		severity := Caution
		if w > *d.RatedW {
			severity = Stop
		}
		j.add(Finding{Code: "resistor-watts", Severity: severity, Stage: "driver", Node: id, Pointer: p.pointer + "/driver/resistanceOhm", Title: "Resistor runs hot",
			Why: fmt.Sprintf("It turns %s into heat; a resistor is used up to half its rating of %s (common practice).", units.Watts(w), units.Format(*d.RatedW, "power", 2)), Value: &w, Limit: &limit, Unit: "W"})
	}
	if t, ok := j.highest(p.node.BodyID, "bodyC"); ok && d.MaxCaseC != nil && t > *d.MaxCaseC {
		j.add(Finding{Code: "driver-temperature", Severity: Stop, Stage: "driver", Node: id, Pointer: p.pointer + "/bodyId", Title: "Driver too hot",
			Why: fmt.Sprintf("What it sits on reaches %s; it bears %s.", units.Degrees(t), units.Degrees(*d.MaxCaseC)), Value: &t, Limit: d.MaxCaseC, Unit: "°C", Fix: j.lessCurrent(&p, p.node.BodyID, "bodyC", *d.MaxCaseC)})
	}
}

func orZero(p *float64) *float64 {
	if p == nil {
		return new(0.0)
	}
	return p
}

// Inputs is the range of voltage each driver's input is judged over: from every source its
// feed must accept, off load, as far as what stands between leaves that to be told.
func Inputs(m *chain.Model) map[string][2]float64 {
	j := newJudge(m)
	out := map[string][2]float64{}
	for _, id := range j.order {
		p := j.nodes[id]
		if p.node.Driver == nil {
			continue
		}
		low, high, known := math.Inf(1), 0.0, false
		for k := range p.feed.Sources {
			a, b, ok := j.sourceRange(&p.feed.Sources[k])
			if p.driver != nil {
				a, b, ok = j.behind(p.driver, k)
			}
			if ok {
				low, high, known = min(low, a), max(high, b), true
			}
		}
		if known {
			out[id] = [2]float64{low, high}
		}
	}
	return out
}
