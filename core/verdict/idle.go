package verdict

import (
	"fmt"
	"math"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/units"
)

// A control is something a person sets or turns in the wire, with where it is turned to, to see what
// it moves.
type control struct {
	figure  string // of the node: what is turned
	is      float64
	tried   []float64
	pointer string
}

// mostControls bounds how many controls of a light are tried, and mostControlWidth the figures of their
// records together (both chosen: each is compiled and solved anew); the rest of a larger light are not
// looked at.
const (
	mostControls     = 24
	mostControlWidth = 20000
)

// idle tells of every control of a light that is on which moves no figure, with its reason: it is
// turned a tenth each way, a dimmer to its highest or half way down, and the light solved at switch-on.
func (j *judge) idle() {
	if j.trial || !(j.answers.InputW > 0) {
		return // nothing flows: that is told, with its cause
	}
	s, n := j.model.Solver(), 0
	charge := 1.0
	if c := j.light.Conditions.Charge; c != nil {
		charge = *c
	}
	record := func(s *chain.Solver) []float64 {
		out := make([]float64, len(j.model.Columns()))
		s.OperatingPoint(charge, j.model.StartC(), out)
		return out
	}
	base := record(s)
	for _, id := range j.order {
		p := j.nodes[id]
		if a, ok := j.column[[2]string{id, "inA"}]; !ok || !(base[a] > leastToldA) {
			continue // off, or nothing reaches it
		}
		for _, c := range j.controls(&p) {
			if n++; n > mostControls || n*len(base) > mostControlWidth {
				return
			}
			moves := false
			for _, to := range c.tried {
				other := j.model.Solver()
				if other.Vary(chain.Variation{Pointer: c.pointer, Op: chain.Set, Value: to}) != nil {
					moves = true // it cannot be turned there: nothing is known of it
					break
				}
				if moves = unlike(base, record(other)); moves {
					break
				}
			}
			if !moves {
				j.tellIdle(id, &p, c, base)
			}
		}
	}
}

// unlike tells that some figure of two records differs by more than rounding.
func unlike(a, b []float64) bool {
	for i := range a {
		if math.Abs(a[i]-b[i]) > 1e-6*max(math.Abs(a[i]), math.Abs(b[i]), 1e-6) {
			return true
		}
	}
	return false
}

// controls are what a person set, or turns, at a node.
func (j *judge) controls(p *place) (out []control) {
	either := func(figure string, is *float64, most float64) {
		if is == nil || *is <= 0 {
			return
		}
		out = append(out, control{figure, *is, []float64{*is * 0.9, min(*is*1.1, most)}, p.pointer + "/driver/" + figure})
	}
	if d := p.node.Dimmer; d != nil {
		to := 1.0
		if d.Level >= 1 {
			to = 0.5
		}
		out = append(out, control{"level", d.Level, []float64{to}, p.pointer + "/dimmer/level"})
	}
	use := p.node.Driver
	if use == nil || j.data(use.PartID).Driver == nil {
		return out
	}
	either("setCurrentA", use.SetCurrentA, 200)
	either("setVoltageV", use.SetVoltageV, 1000)
	at := "dimming/"
	for i, m := range use.Modes {
		if m.Name == use.Mode {
			at = fmt.Sprintf("modes/%d/level/", i)
		}
	}
	l := driver.InUse(use)
	either(at+"current", l.Current, 1)
	either(at+"duty", l.Duty, 1)
	return out
}

// tellIdle says why a control moves nothing.
func (j *judge) tellIdle(id string, p *place, c control, base []float64) {
	f := Finding{Code: "no-effect", Severity: Note, Stage: "driver", Node: id, Pointer: c.pointer, Title: "Turning it changes nothing"}
	if c.figure == "level" {
		if f.Why = j.whyDimmer(p, c.is, base); f.Why == "" {
			return
		}
		if f.Stage = "source"; c.is < 1 {
			f.Severity = Caution
		}
		j.add(f)
		return
	}
	part, use, name := j.data(p.node.Driver.PartID).Driver, p.node.Driver, p.node.Called()
	law, _ := driver.New(part, use)
	mode := driver.Off
	if col, ok := j.column[[2]string{id, "mode"}]; ok {
		mode = driver.Mode(base[col] + 0.5)
	}
	outV, outA := j.figureIn(base, id, "peakV"), j.figureIn(base, id, "peakA")
	held := fmt.Sprintf("its voltage of %s is what holds: the load takes %s there", units.Volts(outV), units.Amps(outA))
	if mode == driver.ConstantCurrent {
		held = fmt.Sprintf("its limit of %s is what holds, and the load stands at %s", units.Amps(outA), units.Volts(outV))
	}
	switch {
	case mode == driver.LockedOut || mode == driver.Hiccup || j.hasAbout("no-headroom", id) || j.hasAbout("voltage-not-held", id) || j.hasAbout("below-dim-floor", id):
		return // told with its own cause
	case c.figure == "setCurrentA" && use.ProgramOhm != nil && part.ProgramV != nil:
		f.Why = fmt.Sprintf("%s takes its current from the resistor that is fitted, %s: what is set beside it is only what was wanted.", name, units.Ohms(*use.ProgramOhm))
	case !law.Latches():
		f.Why = fmt.Sprintf("%s passes on what it gets: nothing in it can be set so.", name)
	case mode == driver.WattLimit:
		f.Why = fmt.Sprintf("%s is held by its watts, at %s and %s.", name, units.Volts(outV), units.Amps(outA))
	case mode == driver.Foldback:
		f.Why = fmt.Sprintf("%s is held by its folded-back limit, at %s and %s.", name, units.Volts(outV), units.Amps(outA))
	case mode == driver.ConstantCurrent && c.figure == "setCurrentA":
		f.Why = fmt.Sprintf("%s is held by another of its limits, at %s and %s.", name, units.Volts(outV), units.Amps(outA))
	case mode == driver.ConstantCurrent || mode == driver.ConstantVoltage:
		f.Why = fmt.Sprintf("Of %s %s.", name, held)
	case mode == driver.DropOut:
		f.Why = fmt.Sprintf("%s is out of headroom, and follows what feeds it: %s and %s.", name, units.Volts(outV), units.Amps(outA))
	case mode == driver.Uncontrolled:
		f.Why = fmt.Sprintf("%s conducts without control: what feeds it stands above its load.", name)
	default:
		f.Why = fmt.Sprintf("Something before %s holds what flows, at %s and %s.", name, units.Volts(outV), units.Amps(outA))
	}
	j.add(f)
}

// figureIn is a figure of a record; nought where there is none.
func (j *judge) figureIn(record []float64, owner, figure string) float64 {
	if c, ok := j.column[[2]string{owner, figure}]; ok {
		return record[c]
	}
	return 0
}

// whyDimmer says why a wall dimmer moves nothing; empty: it is told elsewhere.
func (j *judge) whyDimmer(p *place, level float64, base []float64) string {
	if j.has("not-for-phase-cut") || j.has("dimmer-off-mains") {
		return ""
	}
	name := p.node.Called()
	for n := range design.NodesOf(p.node.Loads) {
		switch {
		case n.Load != nil:
			return fmt.Sprintf("How %s answers to a cut wave is not known, so it is taken at full wherever %s stands: read its light, or its draw, at some of its positions.", n.Called(), name)
		case n.Strip != nil || n.Array != nil:
			return fmt.Sprintf("%s hangs on %s with nothing between that follows a cut wave: it is taken at full.", n.Called(), name)
		case n.Driver == nil:
			continue
		}
		part := j.data(n.Driver.PartID).Driver
		if part == nil {
			return ""
		}
		law, _ := driver.New(part, n.Driver)
		switch {
		case !law.Latches():
			return fmt.Sprintf("%s follows no cut wave: it is taken at full.", n.Called())
		case law.KnobMaxA <= 0:
			return fmt.Sprintf("Neither the current limit nor the rated watts of %s are known, and a cut wave lowers that limit: give one of them.", n.Called())
		}
		a := j.figureIn(base, n.ID, "peakA")
		return fmt.Sprintf("Its lever lowers the limit of %s, %s at full, and the load takes %s: it dims in the lowest %s of its travel only.", n.Called(), units.Amps(law.KnobMaxA), units.Amps(a), percent(driver.KnobTravel(a, law.KnobMinA, law.KnobMaxA)))
	}
	return ""
}
