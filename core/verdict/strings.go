package verdict

import (
	"fmt"
	"math"

	"photherm/core/array"
	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/units"
)

// closeGain is the loop gain from which warming multiplies every difference by two.
const closeGain = 0.5

// strings judges how parallel strings share and whether that is stable.
func (j *judge) strings() error {
	shares, err := j.model.Solver().Sharing(j.ctx)
	if err != nil {
		return fmt.Errorf("judging parallel strings: %w", err)
	}
	for i := range shares {
		j.sharing(&shares[i])
	}
	return nil
}

func (j *judge) sharing(s *chain.Sharing) {
	p := j.nodes[s.Node]
	e := j.data(p.node.Array.PartID).Emitter
	at := p.pointer + "/array"
	feeder := at + "/partId"
	if p.driver != nil {
		feeder = p.driver.pointer + "/driver/partId"
	}
	ballast := func() *Fix {
		if s.Ballast == nil || s.Ballast.Ohm <= 0 {
			return nil
		}
		ohm := roundUp(s.Ballast.Ohm)
		return (&Fix{Label: fmt.Sprintf("Ballast of %.3g Ω in each string", ohm), Patch: []Patch{{"add", at + "/ballastOhm", ohm}}}).keeping(func(with *judge) string {
			return with.worstBelow(s.Node, e, p.node.Array)
		})
	}
	var worstA *float64
	if s.AsItIs != nil {
		worstA = s.AsItIs.WorstA
	}
	size := p.node.Array.RowsMounted(e)
	settles := "settles at"
	if s.AsItIs != nil && s.AsItIs.Cold {
		settles = "takes, before it warms,"
	}
	switch {
	case s.AsItIs != nil && worstA == nil:
		j.add(Finding{Code: "string-hogs", Severity: Stop, Stage: "emitters", Node: s.Node, Pointer: at + "/ballastOhm", Title: "One string can take it all",
			Why: "Within the spread of forward voltage one string can warm, take more, and warm on without end, though the whole current is held. Ballast, series strings or a driver each prevent it.", Fix: ballast()})
	case worstA != nil && e.MaxCurrentA != nil && above(*worstA, *e.MaxCurrentA*size):
		limit := *e.MaxCurrentA * size
		j.add(Finding{Code: "worst-string-over-max", Severity: Stop, Stage: "emitters", Node: s.Node, Pointer: at + "/ballastOhm", Title: "The worst string exceeds its maximum",
			Why:   fmt.Sprintf("Even sharing gives %s; within a spread of ±%s the worst string %s %s, its absolute maximum is %s.", units.Amps(s.EvenA), units.Volts(*s.BinV), settles, units.Amps(*worstA), units.Amps(limit)),
			Value: worstA, Limit: &limit, Unit: "A", Fix: ballast()})
	case worstA != nil && s.RatedA != nil && above(*worstA, *s.RatedA):
		j.add(Finding{Code: "worst-string", Severity: Caution, Stage: "emitters", Node: s.Node, Pointer: at + "/ballastOhm", Title: "Strings share unevenly",
			Why:   fmt.Sprintf("Even sharing gives %s; within a spread of ±%s the worst string %s %s of a rated %s. One school puts ballast in each string, another takes one bin and stays well below the rating.", units.Amps(s.EvenA), units.Volts(*s.BinV), settles, units.Amps(*worstA), units.Amps(*s.RatedA)),
			Value: worstA, Limit: s.RatedA, Unit: "A", Fix: ballast()})
	}
	if s.AsItIs != nil && s.AsItIs.WorstC != nil && e.MaxJunctionC != nil && above(*s.AsItIs.WorstC, *e.MaxJunctionC) && !j.hasAbout("junction-limit", s.Node) {
		j.add(Finding{Code: "worst-string-hot", Severity: Caution, Stage: "heat", Node: s.Node, Pointer: at + "/ballastOhm", Title: "The worst string gets too hot",
			Why:   fmt.Sprintf("Within a spread of ±%s the worst string settles at %s with its junctions at %s; they may reach %s.", units.Volts(*s.BinV), units.Amps(*worstA), units.Degrees(*s.AsItIs.WorstC), units.Degrees(*e.MaxJunctionC)),
			Value: s.AsItIs.WorstC, Limit: e.MaxJunctionC, Unit: "°C"})
	}
	j.sumHeld(s, &p, worstA, settles)
	for _, g := range []struct {
		gain      *float64
		code, why string
	}{
		{s.CommonGain, "common-runaway", "All strings together: a kelvin more brings back %.2f of a kelvin through more current. From 1 on it runs away; hold the current, or carry the heat away better."},
		{s.DifferentialGain, "differential-runaway", "One string against the others: a kelvin more brings back %.2f of a kelvin, and a limit on the whole current does not stop it. Ballast in each string does."},
	} {
		differential := g.code == "differential-runaway"
		if g.gain == nil || *g.gain < closeGain || (differential && p.node.Array.Parallel*max(p.node.Array.Count, 1) < 2) {
			continue
		}
		limit := 1.0
		f := Finding{Code: g.code, Severity: Caution, Stage: "emitters", Node: s.Node, Pointer: feeder, Title: "Close to thermal runaway", Why: fmt.Sprintf(g.why, *g.gain), Value: g.gain, Limit: &limit}
		if *g.gain >= 1 {
			f.Severity, f.Title = Stop, "Thermal runaway"
		}
		if differential {
			f.Pointer, f.Fix = at+"/ballastOhm", ballast()
		}
		j.add(f)
	}
}

// sumHeld tells, where one limit feeds several strings or boards, that it holds their sum
// only.
func (j *judge) sumHeld(s *chain.Sharing, p *place, worstA *float64, settles string) {
	if p.driver == nil {
		return
	}
	d := j.data(p.driver.node.Driver.PartID).Driver
	if d == nil || !holdsCurrent(d.Family) && !(d.Family == "voltage" && j.reaches(p.driver.node.ID, driver.ConstantCurrent)) || j.hasAbout("cap-holds-sum", p.driver.node.ID) {
		return
	}
	strings := stringsBelow(p.driver.node.Loads)
	total, _ := j.highest(p.driver.node.ID, "peakA")
	if strings < 2 || total <= 0 {
		return
	}
	highest := j.highestBelow(p.driver.node.Loads)
	worst := fmt.Sprintf("the highest of them carries %s", units.Amps(highest))
	if worstA != nil && s.BinV != nil && *worstA > highest {
		worst = fmt.Sprintf("within a spread of ±%s the worst %s %s", units.Volts(*s.BinV), settles, units.Amps(*worstA))
	}
	j.add(Finding{Code: "cap-holds-sum", Severity: Note, Stage: "emitters", Node: p.driver.node.ID, Pointer: j.currentPointer(p.driver), Title: "The limit holds the sum",
		Why: fmt.Sprintf("%s holds %s for %d strings together, not for each: %s, and if one lets go the others get its share too.", p.driver.node.Called(), units.Amps(total), strings, worst), Value: &total, Unit: "A"})
}

// stringsBelow counts the strings on a bus, through switches.
func stringsBelow(loads []design.Node) (strings int) {
	for i := range loads {
		n := &loads[i]
		times := max(n.Count, 1)
		switch {
		case n.Array != nil:
			strings += times * n.Array.Parallel * max(n.Array.Count, 1)
		case n.Switch != nil && !n.Switch.Open:
			strings += times * stringsBelow(n.Loads)
		}
	}
	return strings
}

// highestBelow is the highest current of a string on a bus, through switches.
func (j *judge) highestBelow(loads []design.Node) float64 {
	most := 0.0
	for i := range loads {
		if a, ok := j.highest(loads[i].ID, "stringA"); ok && loads[i].Array != nil {
			most = max(most, a)
		}
		if loads[i].Switch != nil {
			most = max(most, j.highestBelow(loads[i].Loads))
		}
	}
	return most
}

func roundUp(ohm float64) float64 {
	digit := math.Pow(10, math.Floor(math.Log10(ohm))-1)
	return math.Round(math.Ceil(ohm/digit*(1-1e-9))*digit*1e6) / 1e6
}

// colourV is the forward voltage of one junction that a colour allows at a usual
// current, V (common practice: gallium nitride for violet to green and all white,
// the red family of phosphides from amber on).
var colourV = map[string][2]float64{
	"white": {2.5, 3.8}, "warm-white": {2.5, 3.8}, "blue": {2.5, 3.8}, "cyan": {2.5, 3.8}, "green": {2.2, 3.9}, "violet": {2.8, 4.3},
	"amber": {1.7, 2.7}, "red": {1.6, 2.7}, "deep-red": {1.6, 2.6}, "far-red": {1.4, 2.4},
}

// colour asks whether a forward voltage fits the colour of an emitter.
func (j *judge) colour(id string, p place, e *design.Emitter) {
	usual, ok := colourV[e.Colour]
	if !ok {
		return
	}
	last := e.Forward[len(e.Forward)-1]
	v := last.VoltageV / float64(max(e.JunctionsSer, 1))
	// Towards its maximum resistance adds up; well below, it is the junction.
	if v >= usual[0] && v <= usual[1]*1.1 {
		return
	}
	limit := usual[1]
	if v < usual[0] {
		limit = usual[0]
	}
	j.add(Finding{Code: "implausible-colour", Severity: Caution, Stage: "emitters", Node: id, Pointer: j.partPointer(p.node.Array.PartID) + "/emitter/colour", Title: "This voltage does not fit the colour",
		Why:   fmt.Sprintf("%s a junction at %s is unlike a direct %s emitter, which has %s to %s. A wrong label, another colour, more junctions in series, or a phosphor type?", units.Volts(v), units.Amps(last.CurrentA), e.Colour, units.Volts(usual[0]), units.Volts(usual[1])),
		Value: &v, Limit: &limit, Unit: "V"})
}

// strip judges a cut strip: where it is cut, its voltage, and how even its light is.
func (j *judge) strip(id string, p place) {
	use := p.node.Strip
	s := j.data(use.PartID).Strip
	if s == nil {
		return
	}
	at, chain := p.pointer+"/strip", 0.0 // the longest run
	for k, m := range use.PiecesM {
		if rest, over := array.Uncut(m, s.CutM); over {
			whole := m - rest
			f := Finding{Code: "cut-interval", Severity: Caution, Stage: "emitters", Node: id, Pointer: fmt.Sprintf("%s/piecesM/%d", at, k), Title: "It cannot be cut there",
				Why: fmt.Sprintf("The strip is cut every %s; of %s only %s light up.", length(s.CutM), length(m), length(whole)), Value: new(m), Limit: &whole, Unit: "m"}
			if array.Segments(m, s.CutM) > 0 {
				f.Fix = &Fix{Label: "Cut to " + length(whole), Patch: []Patch{{"add", fmt.Sprintf("%s/piecesM/%d", at, k), math.Round(whole*1e6) / 1e6}}}
			}
			j.add(f)
		}
		if use.Chained {
			chain += m
		} else {
			chain = max(chain, m)
		}
	}
	fed, from := chain, "one end"
	if use.BothEnds {
		fed, from = chain/2, "each of its ends"
	}
	if s.LongestM != nil && above(fed, *s.LongestM) {
		f := Finding{Code: "run-too-long", Severity: Caution, Stage: "emitters", Node: id, Pointer: at + "/bothEnds", Title: "Longer than one end should feed",
			Why: fmt.Sprintf("%s are fed from %s; its maker allows %s.", length(fed), from, length(*s.LongestM)), Value: &fed, Limit: s.LongestM, Unit: "m"}
		if !use.BothEnds && !above(chain/2, *s.LongestM) {
			f.Fix = &Fix{Label: "Feed both ends", Patch: []Patch{{"add", at + "/bothEnds", true}}, keeps: told(length(*s.LongestM-chain/2) + " less from each end than its maker allows")}
		}
		j.add(f)
	}
	if s.FluxLmPer != nil {
		w := 0.0
		if s.PerMetreW != nil {
			w = *s.PerMetreW
		} else if s.PerMetreA != nil {
			w = *s.PerMetreA * s.VoltageV
		}
		j.lit(id, j.partPointer(use.PartID)+"/strip/fluxLmPerM", j.data(use.PartID).Name, *s.FluxLmPer, w, s.Spectrum)
	}
	v, _ := j.highest(id, "inV")
	law, _ := array.NewStrip(s, use)
	if v > 0 && v <= law.KneeV {
		j.add(Finding{Code: "below-knee", Severity: Stop, Stage: "emitters", Node: id, Pointer: j.feedingPointer(&p), Title: "Too little voltage to light",
			Why: fmt.Sprintf("It gets %s at most and begins to light at %s; it is made for %s.", units.Volts(v), units.Volts(law.KneeV), units.Volts(s.VoltageV)), Value: &v, Limit: &law.KneeV, Unit: "V"})
	}
	if most := s.VoltageV * 1.05; v > most {
		j.add(Finding{Code: "strip-over-voltage", Severity: Stop, Stage: "emitters", Node: id, Pointer: j.feedingPointer(&p), Title: "Voltage too high for the strip",
			Why: fmt.Sprintf("It gets %s and is made for %s: its resistors overheat.", units.Volts(v), units.Volts(s.VoltageV)), Value: &v, Limit: &most, Unit: "V"})
	}
	if t, ok := j.highest(id, "caseC"); ok && use.Joint != nil && use.Joint.MaxC != nil && above(t, *use.Joint.MaxC) {
		j.add(Finding{Code: "joint-limit", Severity: Stop, Stage: "heat", Node: id, Pointer: at + "/joint/maxC", Title: "Adhesive too hot",
			Why: fmt.Sprintf("The back of the strip reaches %s%s; what sticks it on bears %s and lets go.", units.Degrees(t), j.passes(id, "caseC", *use.Joint.MaxC), units.Degrees(*use.Joint.MaxC)), Value: &t, Limit: use.Joint.MaxC, Unit: "°C"})
	}
	if far, ok := j.highest(id, "farLight"); ok && v > 0 && far < array.EvenLight {
		f := Finding{Code: "far-end-dark", Severity: Caution, Stage: "emitters", Node: id, Pointer: at + "/bothEnds", Title: "The far end is darker",
			Why: fmt.Sprintf("Its copper leaves the far end %s of the light at the near end.", percent(far)), Value: &far, Limit: new(array.EvenLight)}
		both := *use
		both.BothEnds = true
		if law, _ := array.NewStrip(s, &both); !use.BothEnds && law.FarLight() > far+evenerShare {
			f.Fix = (&Fix{Label: "Feed both ends", Patch: []Patch{{"add", at + "/bothEnds", true}}}).keeping(told("the darkest segment then has " + percent(law.FarLight()) + " of the light"))
		}
		j.add(f)
	}
}

// evenerShare is by how much a change must even the light out to be offered (chosen).
const evenerShare = 0.02

func length(m float64) string {
	if m < 1 {
		return fmt.Sprintf("%.4g mm", m*1000)
	}
	return fmt.Sprintf("%.4g m", m)
}

// worstBelow says how far the worst string of an array stays below what its emitters bear,
// or are rated for.
func (j *judge) worstBelow(node string, e *design.Emitter, a *design.Array) string {
	shares, err := j.model.Solver().Sharing(j.ctx)
	if err != nil {
		return "" // the light itself was solved: its margin is not told then
	}
	for i := range shares {
		s := &shares[i]
		if s.Node != node || s.AsItIs == nil || s.AsItIs.WorstA == nil {
			continue
		}
		size := a.RowsMounted(e)
		for _, limit := range []struct {
			a     *float64
			words string
		}{{e.RatedCurrentA, " below the rating"}, {e.MaxCurrentA, " below the maximum"}} {
			if limit.a != nil && *s.AsItIs.WorstA <= *limit.a*size {
				return "the worst string " + units.Amps(*limit.a*size-*s.AsItIs.WorstA) + limit.words
			}
		}
	}
	return ""
}
