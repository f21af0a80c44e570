package verdict

import (
	"fmt"
	"math"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/root"
	"photherm/core/units"
)

// HazardousV is where direct voltage becomes dangerous to touch: 60 V, the limit
// of safety extra-low voltage without ripple (IEC 61140, from memory).
const HazardousV = 60

func amps(x float64) string   { return units.Format(x, "current", 3) }
func volts(x float64) string  { return units.Format(x, "voltage", 3) }
func kelvin(x float64) string { return units.Format(x, "temperature", 2) }

func (j *judge) settling() {
	if !j.steady.Converged && j.steady.Reason != "" {
		code := "no-steady-state"
		if j.run.End.Kind == "cycling" {
			code = "cycling"
		}
		node := j.run.End.Node
		j.add(Finding{Code: code, Severity: Stop, Stage: j.stage(node), Node: node, Title: "It does not settle", Why: sentence(j.steady.Reason)})
	}
}

func (j *judge) sources() {
	v := j.model.Variant()
	for i := range v.Feeds {
		f := &v.Feeds[i]
		for k := range f.Sources {
			j.cells(f, &f.Sources[k], fmt.Sprintf("%s/feeds/%d/sources/%d", j.at, i, k), k == 0)
		}
		for _, id := range j.order {
			p := j.nodes[id]
			if s := p.node.Switch; p.feed == f && s != nil && s.RatingA != nil {
				if a, _ := j.highest(id, "outA"); a > *s.RatingA {
					j.add(Finding{Code: "switch-rating", Severity: Stop, Stage: "source", Node: id, Pointer: p.pointer + "/switch/ratingA", Title: "Switch overloaded",
						Why: fmt.Sprintf("%s carries %s and is rated %s.", name(p.node), amps(a), amps(*s.RatingA)), Value: &a, Limit: s.RatingA, Unit: "A"})
				}
			}
		}
		if len(f.Sources) > 0 && f.Sources[0].Mains != nil {
			j.mains(f)
		} else if v, _ := j.highest(f.ID, "busV"); v > HazardousV {
			j.hazard(f.ID, "source", v)
		}
	}
	for _, id := range j.order {
		p := j.nodes[id]
		if p.node.Switch != nil && p.parent != nil && p.parent.Driver != nil {
			if d := j.data(p.parent.Driver.PartID).Driver; d != nil && (d.Family == "linear" || d.Family == "buck") {
				j.add(Finding{Code: "switch-after-driver", Severity: Caution, Stage: "driver", Node: id, Pointer: p.pointer, Title: "Switch after a current driver",
					Why: fmt.Sprintf("%s opens the current that %s holds: off load its output climbs, and the emitters get the surge when it closes. Put the switch before the driver.", name(p.node), name(p.parent))})
			}
		}
		if v, ok := j.highest(id, "outV"); ok && p.node.Driver != nil && v > HazardousV {
			j.hazard(id, "driver", v)
		}
	}
}

// mains says the usual caution where a light hangs on the wall.
func (j *judge) mains(f *design.Feed) {
	j.add(Finding{Code: "mains", Severity: Caution, Stage: "source", Node: f.ID, Title: "Mains",
		Why: "Isolate before work, earth the metal, insulate joints twice; first power through a series lamp or a limited isolating source, behind a residual-current device, hands off. Local codes and a licensed person decide."})
}

func (j *judge) hazard(node, stage string, v float64) {
	limit := float64(HazardousV)
	j.add(Finding{Code: "hazardous-voltage", Severity: Caution, Stage: stage, Node: node, Title: "Hazardous voltage",
		Why: fmt.Sprintf("%s here is above 60 V DC, dangerous to touch even without mains: enclose it, discharge it before work, and follow the local code.", volts(v)), Value: &v, Limit: &limit, Unit: "V"})
}

func (j *judge) cells(f *design.Feed, s *design.Source, at string, inUse bool) {
	if s.Supply != nil {
		if a, _ := j.highest(f.ID, "busA"); inUse && s.Supply.MaxCurrentA != nil && a >= *s.Supply.MaxCurrentA*(1-1e-9) && a > 0 {
			j.add(Finding{Code: "supply-limit", Severity: Caution, Stage: "source", Node: s.ID, Pointer: at + "/supply/maxCurrentA", Title: "Supply at its limit",
				Why: fmt.Sprintf("The light takes all of the %s the supply can give; the light is then set by the supply, not by the driver.", amps(a)), Value: &a, Limit: s.Supply.MaxCurrentA, Unit: "A"})
		}
		return
	}
	if s.Pack == nil || !inUse {
		return
	}
	cell := j.data(s.Pack.PartID).Cell
	if cell == nil {
		return
	}
	if a, _ := j.highest(f.ID, "busA"); cell.MaxDischargeA != nil {
		if each := a / float64(s.Pack.Parallel); each > *cell.MaxDischargeA {
			need := math.Ceil(a / *cell.MaxDischargeA)
			j.add(Finding{Code: "cell-discharge", Severity: Stop, Stage: "source", Node: s.ID, Pointer: at + "/pack/parallel", Title: "Cells overloaded",
				Why:   fmt.Sprintf("Each cell gives up to %s and may give %s: it overheats and ages fast.", amps(each), amps(*cell.MaxDischargeA)),
				Value: &each, Limit: cell.MaxDischargeA, Unit: "A",
				Fix: &Fix{fmt.Sprintf("%.0f cells in parallel", need), []Patch{{"add", at + "/pack/parallel", need}}}})
		}
	}
	limit := 60.0
	if cell.MaxC != nil {
		limit = *cell.MaxC
	}
	if t, ok := j.highest(s.Pack.BodyID, "bodyC"); ok && t > limit {
		j.add(Finding{Code: "cell-temperature", Severity: Stop, Stage: "source", Node: s.ID, Pointer: at + "/pack/bodyId", Title: "Cells too hot",
			Why: fmt.Sprintf("The cells reach %s with their body; they must stay below %s.", kelvin(t), kelvin(limit)), Value: &t, Limit: &limit, Unit: "°C"})
	}
}

// sourceRange is the highest and lowest voltage of a source: full and at cut-off.
func (j *judge) sourceRange(s *design.Source) (low, high float64, ok bool) {
	switch {
	case s.Mains != nil:
		return s.Mains.VoltageV, s.Mains.VoltageV, true
	case s.Supply != nil:
		return s.Supply.VoltageV, s.Supply.VoltageV, true
	case s.Pack != nil:
		cell := j.data(s.Pack.PartID).Cell
		if cell == nil {
			return 0, 0, false
		}
		full := 4.2
		if n := len(cell.OCV); n > 0 {
			full = cell.OCV[n-1].VoltageV
		}
		empty := 2.8
		if cell.MinV != nil {
			empty = *cell.MinV
		}
		if s.Pack.CutoffCellV != nil {
			empty = *s.Pack.CutoffCellV
		}
		return float64(s.Pack.Series) * empty, float64(s.Pack.Series) * full, true
	}
	return 0, 0, false
}

func (j *judge) drivers() {
	for _, id := range j.order {
		p := j.nodes[id]
		if p.node.Driver == nil {
			continue
		}
		d := j.data(p.node.Driver.PartID).Driver
		if d == nil {
			continue
		}
		j.driverInput(id, p, d)
		j.driverSetting(id, p, d)
		if d.Family == "voltage" {
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
		j.add(Finding{Code: "headroom-ends", Severity: Caution, Stage: "driver", Node: e.Node, Pointer: p.pointer + "/driver", Title: "Headroom ends before the pack does",
			Why: fmt.Sprintf("From %s on the source is too low for %s and the light follows it down for %s.", units.Format(e.T, "duration", 2), name(p.node), units.Format(left, "duration", 2)), Value: &t, Unit: "s",
			Fix: j.oneMoreCell(p)})
	}
}

// Margins of a supply over its load: the two schools of common practice.
const (
	leastMargin = 1.1
	goodMargin  = 1.25
)

// supplyRating judges a constant-voltage supply: its watts, its voltage setting,
// and whether its output may be touched. Both of its knobs may allow more than its
// rating does.
func (j *judge) supplyRating(id string, p place, d *design.Driver) {
	at := p.pointer + "/driver"
	v, _ := j.highest(id, "outV")
	a, _ := j.highest(id, "outA")
	if w := v * a; d.MaxOutputW != nil && w > *d.MaxOutputW/leastMargin {
		f := Finding{Code: "supply-margin", Severity: Caution, Stage: "driver", Node: id, Pointer: at, Title: "Supply has little to spare",
			Why:   fmt.Sprintf("It gives %s and is rated %s, %.2f times that: 1.1 is the least that is advised and 1.25 the careful choice.", units.Format(w, "power", 3), units.Format(*d.MaxOutputW, "power", 3), *d.MaxOutputW/w),
			Value: &w, Limit: d.MaxOutputW, Unit: "W"}
		if w > *d.MaxOutputW*(1+1e-9) {
			f.Code, f.Severity, f.Title = "supply-watts", Stop, "Supply above its rated watts"
			f.Why = fmt.Sprintf("Its settings let it give %s; it is rated %s.", units.Format(w, "power", 3), units.Format(*d.MaxOutputW, "power", 3))
		}
		if limit := math.Floor(*d.MaxOutputW/goodMargin/v*100) / 100; limit > 0 {
			f.Fix = &Fix{"Limit to " + amps(limit), []Patch{{"add", at + "/setCurrentA", limit}}}
		}
		j.add(f)
	}
	if set := p.node.Driver.SetVoltageV; set != nil && ((d.MaxVoltageV != nil && *set > *d.MaxVoltageV) || (d.MinVoltageV != nil && *set < *d.MinVoltageV)) {
		limit := d.MaxVoltageV
		if d.MinVoltageV != nil && *set < *d.MinVoltageV {
			limit = d.MinVoltageV
		}
		j.add(Finding{Code: "supply-voltage-range", Severity: Stop, Stage: "driver", Node: id, Pointer: at + "/setVoltageV", Title: "Set beyond what the supply can",
			Why: fmt.Sprintf("%s is set to %s; its range ends at %s.", name(p.node), volts(*set), volts(*limit)), Value: set, Limit: limit, Unit: "V",
			Fix: &Fix{"Set " + volts(*limit), []Patch{{"add", at + "/setVoltageV", *limit}}}})
	}
	onMains := len(p.feed.Sources) > 0 && p.feed.Sources[0].Mains != nil
	if onMains && d.Isolated != nil && !*d.Isolated && (j.light.Conditions.NearWater || j.touchableMetal()) {
		j.add(Finding{Code: "not-isolated", Severity: Stop, Stage: "driver", Node: id, Pointer: at, Title: "Not isolated from the mains",
			Why: "Its output is live, and there is metal to touch or water near: use an isolated supply."})
	}
}

func (j *judge) touchableMetal() bool {
	for _, b := range j.model.Variant().Bodies {
		if b.Touchable {
			return true
		}
	}
	return false
}

func (j *judge) driverInput(id string, p place, d *design.Driver) {
	direct := p.parent == nil || p.parent.Switch != nil
	if !direct {
		return
	}
	for k := range p.feed.Sources {
		s := &p.feed.Sources[k]
		low, high, ok := j.sourceRange(s)
		if !ok {
			continue
		}
		which := "the source"
		if s.Name != "" {
			which = s.Name
		}
		if d.InputMaxV != nil && high > *d.InputMaxV {
			f := Finding{Code: "source-above-input", Severity: Stop, Stage: "driver", Node: id, Pointer: p.pointer + "/driver", Title: "Source too high for the driver",
				Why: fmt.Sprintf("Fresh, %s gives %s; %s bears %s.", which, volts(high), name(p.node), volts(*d.InputMaxV)), Value: &high, Limit: d.InputMaxV, Unit: "V"}
			if s.Pack != nil {
				if n := math.Floor(*d.InputMaxV / (high / float64(s.Pack.Series))); n >= 1 {
					f.Fix = &Fix{fmt.Sprintf("%.0f cells in series", n), []Patch{{"add", j.packPointer(p.feed, k) + "/series", n}}}
				}
			}
			j.add(f)
		}
		if d.InputMinV != nil && high < *d.InputMinV {
			j.add(Finding{Code: "source-below-input", Severity: Stop, Stage: "driver", Node: id, Pointer: p.pointer + "/driver", Title: "Source too low for the driver",
				Why: fmt.Sprintf("Even fresh, %s gives %s; %s starts at %s.", which, volts(high), name(p.node), volts(*d.InputMinV)), Value: &high, Limit: d.InputMinV, Unit: "V"})
		} else if d.InputMinV != nil && low < *d.InputMinV {
			j.add(Finding{Code: "source-below-input", Severity: Caution, Stage: "driver", Node: id, Pointer: p.pointer + "/driver", Title: "Driver stops before the pack is empty",
				Why: fmt.Sprintf("Drained, %s gives %s; %s stops at %s and charge is left over.", which, volts(low), name(p.node), volts(*d.InputMinV)), Value: &low, Limit: d.InputMinV, Unit: "V"})
		}
	}
	out, _ := j.highest(id, "outA")
	set := d.SetCurrentA
	if p.node.Driver.SetCurrentA != nil {
		set = p.node.Driver.SetCurrentA
	}
	if regulates := d.Family == "linear" || d.Family == "buck"; regulates && set != nil && *set > 0 && out > 0 && out < *set*(1-1e-6) {
		j.add(Finding{Code: "no-headroom", Severity: Caution, Stage: "driver", Node: id, Pointer: p.pointer + "/driver", Title: "Not enough headroom",
			Why: fmt.Sprintf("%s never reaches its %s: the source is too low for the emitters and the driver's drop; the most is %s.", name(p.node), amps(*set), amps(out)), Value: &out, Limit: set, Unit: "A",
			Fix: j.oneMoreCell(p)})
	}
}

func (j *judge) packPointer(f *design.Feed, source int) string {
	for i := range j.model.Variant().Feeds {
		if &j.model.Variant().Feeds[i] == f {
			return fmt.Sprintf("%s/feeds/%d/sources/%d/pack", j.at, i, source)
		}
	}
	return ""
}

// oneMoreCell is the fix for a source too low, if the driver bears it.
func (j *judge) oneMoreCell(p place) *Fix {
	if len(p.feed.Sources) == 0 || p.feed.Sources[0].Pack == nil {
		return nil
	}
	pack := p.feed.Sources[0].Pack
	_, high, ok := j.sourceRange(&p.feed.Sources[0])
	d := j.data(p.node.Driver.PartID).Driver
	if !ok || (d.InputMaxV != nil && high*float64(pack.Series+1)/float64(pack.Series) > *d.InputMaxV) {
		return nil
	}
	return &Fix{fmt.Sprintf("%d cells in series", pack.Series+1), []Patch{{"add", j.packPointer(p.feed, 0) + "/series", float64(pack.Series + 1)}}}
}

func (j *judge) driverSetting(id string, p place, d *design.Driver) {
	at := p.pointer + "/driver/setCurrentA"
	if set := p.node.Driver.SetCurrentA; set != nil {
		if d.MaxCurrentA != nil && *set > *d.MaxCurrentA {
			j.add(Finding{Code: "driver-over-current", Severity: Stop, Stage: "driver", Node: id, Pointer: at, Title: "Set above what the driver can",
				Why: fmt.Sprintf("%s is set to %s and gives %s at most.", name(p.node), amps(*set), amps(*d.MaxCurrentA)), Value: set, Limit: d.MaxCurrentA, Unit: "A",
				Fix: &Fix{"Set " + amps(*d.MaxCurrentA), []Patch{{"add", at, *d.MaxCurrentA}}}})
		}
		if d.MinCurrentA != nil && *set < *d.MinCurrentA {
			j.add(Finding{Code: "driver-under-current", Severity: Caution, Stage: "driver", Node: id, Pointer: at, Title: "Set below what the driver can",
				Why: fmt.Sprintf("%s is set to %s and cannot go below %s.", name(p.node), amps(*set), amps(*d.MinCurrentA)), Value: set, Limit: d.MinCurrentA, Unit: "A",
				Fix: &Fix{"Set " + amps(*d.MinCurrentA), []Patch{{"add", at, *d.MinCurrentA}}}})
		}
	}
	if w, _ := j.highest(id, "lossW"); d.Family == "resistor" && d.RatedW != nil && w > *d.RatedW/2 {
		limit := *d.RatedW / 2
		severity := Caution
		if w > *d.RatedW {
			severity = Stop
		}
		j.add(Finding{Code: "resistor-watts", Severity: severity, Stage: "driver", Node: id, Pointer: p.pointer + "/driver", Title: "Resistor runs hot",
			Why: fmt.Sprintf("It turns %s into heat; a resistor is used up to half its rating of %s (common practice).", units.Format(w, "power", 3), units.Format(*d.RatedW, "power", 2)), Value: &w, Limit: &limit, Unit: "W"})
	}
	if t, ok := j.highest(p.node.BodyID, "bodyC"); ok && d.MaxCaseC != nil && t > *d.MaxCaseC {
		j.add(Finding{Code: "driver-temperature", Severity: Stop, Stage: "driver", Node: id, Pointer: p.pointer + "/bodyId", Title: "Driver too hot",
			Why: fmt.Sprintf("What it sits on reaches %s; it bears %s.", kelvin(t), kelvin(*d.MaxCaseC)), Value: &t, Limit: d.MaxCaseC, Unit: "°C", Fix: j.lessCurrent(&p, p.node.BodyID, "bodyC", *d.MaxCaseC)})
	}
}

func (j *judge) emitters() {
	for _, id := range j.order {
		p := j.nodes[id]
		a := p.node.Array
		if a == nil {
			continue
		}
		e := j.data(a.PartID).Emitter
		if e == nil {
			continue
		}
		i, _ := j.highest(id, "stringA")
		strings := float64(a.Parallel * max(a.Count, 1))
		over := func(code string, severity Severity, limit *float64, title, what string) {
			f := Finding{Code: code, Severity: severity, Stage: "emitters", Node: id, Pointer: p.pointer + "/array", Title: title,
				Why: fmt.Sprintf("Each emitter gets %s; %s is %s.", amps(i), what, amps(*limit)), Value: &i, Limit: limit, Unit: "A"}
			if p.driver != nil && j.canSet(p.driver) {
				set := *limit * strings
				f.Fix = &Fix{"Set " + amps(set), []Patch{{"add", p.driver.pointer + "/driver/setCurrentA", set}}}
			}
			j.add(f)
		}
		switch {
		case e.MaxCurrentA != nil && i > *e.MaxCurrentA*(1+1e-9):
			over("over-max-current", Stop, e.MaxCurrentA, "Emitters over their maximum current", "the absolute maximum")
		case e.RatedCurrentA != nil && i > *e.RatedCurrentA*(1+1e-9):
			over("over-rated-current", Caution, e.RatedCurrentA, "Emitters over their rated current", "the rating")
		}
		if high := e.Forward[len(e.Forward)-1].CurrentA; i > high*(1+1e-9) {
			j.add(Finding{Code: "beyond-curve", Severity: Note, Stage: "emitters", Node: id, Pointer: p.pointer + "/array/partId", Title: "Beyond the data",
				Why: fmt.Sprintf("The emitter's curve ends at %s; %s is beyond it and less sure.", amps(high), amps(i)), Value: &i, Limit: &high, Unit: "A"})
		}
		if len(e.Forward) < 3 {
			j.add(Finding{Code: "assumed-curve", Severity: Note, Stage: "emitters", Node: id, Pointer: p.pointer + "/array/partId", Title: "Forward curve is a guess",
				Why: "Fewer than three points of forward voltage are known; three readings make a usable curve."})
		}
		if t, ok := j.highest(id, "junctionC"); ok && e.MaxJunctionC != nil {
			switch limit := *e.MaxJunctionC; {
			case t > limit:
				j.add(Finding{Code: "junction-limit", Severity: Stop, Stage: "heat", Node: id, Pointer: p.pointer + "/array", Title: "Junction too hot",
					Why: fmt.Sprintf("The junction reaches %s and may reach %s.", kelvin(t), kelvin(limit)), Value: &t, Limit: &limit, Unit: "°C", Fix: j.lessCurrent(p.driver, id, "junctionC", limit-10)})
			case t > limit-15:
				j.add(Finding{Code: "junction-close", Severity: Caution, Stage: "heat", Node: id, Pointer: p.pointer + "/array", Title: "Junction close to its limit",
					Why: fmt.Sprintf("The junction reaches %s; its limit of %s leaves little for a warm day or a poor joint.", kelvin(t), kelvin(limit)), Value: &t, Limit: &limit, Unit: "°C"})
			}
		}
		if t, ok := j.highest(id, "caseC"); ok && a.Joint != nil && a.Joint.MaxC != nil && t > *a.Joint.MaxC {
			j.add(Finding{Code: "joint-limit", Severity: Stop, Stage: "heat", Node: id, Pointer: p.pointer + "/array/joint/maxC", Title: "Joint material too hot",
				Why: fmt.Sprintf("Under the emitters it is %s; the joint's material bears %s and lets go.", kelvin(t), kelvin(*a.Joint.MaxC)), Value: &t, Limit: a.Joint.MaxC, Unit: "°C", Fix: j.lessCurrent(p.driver, id, "caseC", *a.Joint.MaxC)})
		}
		if flux, _ := j.highest(id, "fluxLm"); flux > 300 && a.BeamDeg != nil && *a.BeamDeg < 40 {
			j.add(Finding{Code: "eyes", Severity: Note, Stage: "light", Node: id, Title: "Do not look into the beam",
				Why: "Light this bright in a narrow beam harms eyes at close range; IEC 62471 is the standard to classify it by."})
		}
	}
}

func (j *judge) heat() {
	for i := range j.model.Variant().Bodies {
		b := &j.model.Variant().Bodies[i]
		t, ok := j.highest(b.ID, "bodyC")
		if !ok {
			continue
		}
		at := fmt.Sprintf("%s/bodies/%d", j.at, i)
		if b.MaxC != nil && t > *b.MaxC {
			j.add(Finding{Code: "body-limit", Severity: Stop, Stage: "heat", Node: b.ID, Pointer: at + "/maxC", Title: "Body too hot for its material",
				Why: fmt.Sprintf("%s reaches %s; its material bears %s.", b.Name, kelvin(t), kelvin(*b.MaxC)), Value: &t, Limit: b.MaxC, Unit: "°C", Fix: j.lessCurrent(j.anyDriver(), b.ID, "bodyC", *b.MaxC)})
		}
		limit := heat.TouchLimitC(&j.light.Brief, j.light.Conditions.Handheld)
		if !b.Touchable || t <= limit {
			continue
		}
		how := "a hand that only touches it bears"
		if j.light.Conditions.Handheld {
			how = "a hand that holds it bears"
		}
		f := Finding{Code: "touch", Severity: Caution, Stage: "heat", Node: b.ID, Pointer: at + "/kPerW", Title: "Too hot to touch",
			Why: fmt.Sprintf("%s reaches %s after %s; %s %s.", b.Name, kelvin(t), units.Format(j.answers.TouchAtS, "duration", 2), how, kelvin(limit)), Value: &t, Limit: &limit, Unit: "°C",
			Fix: j.lessCurrent(j.anyDriver(), b.ID, "bodyC", limit)}
		if j.light.Conditions.Handheld {
			f.Title = "Too warm to hold on"
		}
		j.add(f)
	}
}

func (j *judge) canSet(p *place) bool {
	d := j.data(p.node.Driver.PartID).Driver
	return d != nil && (d.Family == "linear" || d.Family == "buck" || d.Family == "voltage")
}

// anyDriver is the driver whose set current is turned down to cool a body: the
// only one there is.
func (j *judge) anyDriver() *place {
	var found *place
	for _, id := range j.order {
		p := j.nodes[id]
		if p.node.Driver != nil && j.canSet(&p) {
			if found != nil {
				return nil
			}
			found = &p
		}
	}
	return found
}

// lessCurrent looks for the set current at which a figure settles at its limit,
// by asking the same solver with the current varied, rounded down to two digits.
func (j *judge) lessCurrent(p *place, owner, figure string, limit float64) *Fix {
	if p == nil || !j.canSet(p) {
		return nil
	}
	c, ok := j.column[[2]string{owner, figure}]
	if !ok {
		return nil
	}
	pointer := p.pointer + "/driver/setCurrentA"
	now := j.data(p.node.Driver.PartID).Driver.SetCurrentA
	if p.node.Driver.SetCurrentA != nil {
		now = p.node.Driver.SetCurrentA
	}
	if now == nil || *now <= 0 {
		return nil
	}
	s := j.model.Solver()
	over := func(a float64) float64 {
		if s.Vary(chain.Variation{Pointer: pointer, Op: chain.Set, Value: a}) != nil {
			return math.NaN()
		}
		st, err := s.Steady(j.ctx)
		if err != nil || !st.Converged {
			return 1e3
		}
		return st.Record[c] - limit
	}
	low, high := 0.02**now, *now
	fl, fh := over(low), over(high)
	if !(fl < 0) || !(fh > 0) {
		return nil
	}
	a := root.Bracketed(over, low, fl, high, fh, 1e-3**now)
	digit := math.Pow(10, math.Floor(math.Log10(a))-1)
	a = math.Floor(a/digit*(1+1e-9)) * digit
	if d := j.data(p.node.Driver.PartID).Driver; d.MinCurrentA != nil && a < *d.MinCurrentA {
		return nil
	}
	a = math.Round(a*1e6) / 1e6
	return &Fix{"Set " + amps(a), []Patch{{"add", pointer, a}}}
}

func (j *judge) brief() {
	b, a := &j.light.Brief, &j.answers
	if b.OutputLm != nil && a.FluxLm != nil && *a.FluxLm < *b.OutputLm {
		j.add(Finding{Code: "output-short", Severity: Note, Stage: "light", Pointer: "/brief/outputLm", Title: "Less light than wanted",
			Why: fmt.Sprintf("%.0f lm at 30 s, wanted %.0f lm.", *a.FluxLm, *b.OutputLm), Value: a.FluxLm, Limit: b.OutputLm, Unit: "lm"})
	}
	if b.RuntimeH != nil && a.HalfS != nil && *a.HalfS < *b.RuntimeH*3600 {
		limit := *b.RuntimeH * 3600
		j.add(Finding{Code: "runtime-short", Severity: Note, Stage: "source", Pointer: "/brief/runtimeH", Title: "Shorter than wanted",
			Why: fmt.Sprintf("%s to half light, wanted %s.", units.Format(*a.HalfS, "duration", 2), units.Format(limit, "duration", 2)), Value: a.HalfS, Limit: &limit, Unit: "s"})
	}
	for i := range j.model.Variant().Feeds {
		for _, s := range j.model.Variant().Feeds[i].Sources {
			if s.Pack != nil && j.data(s.Pack.PartID).Cell != nil {
				j.add(Finding{Code: "lithium-care", Severity: Note, Stage: "source", Node: s.ID, Title: "Lithium cells",
					Why: "Tested and matched cells only, with protection and a fuse; never solder to a bare cell; connect outputs before the cell, one wire at a time; charge attended."})
				return
			}
		}
	}
}
