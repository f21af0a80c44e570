package setup

import (
	"fmt"
	"math"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/reading"
	"photherm/core/units"
)

// firstShare is the share of what it will take that a thing is first powered with
// (common practice: a tenth).
const firstShare = 0.1

// bringUp is first power for what hangs on the source without a driver: nothing holds
// its current, so it is approached from below.
func (b *bench) bringUp() Procedure {
	p := Procedure{Name: "First power", When: "No driver holds the current: it follows the source.", Steps: []Step{}}
	at := func(charge float64, changes ...chain.Variation) (v, a float64) {
		s := b.undimmed()
		if s.Vary(changes...) != nil {
			return 0, 0
		}
		record := make([]float64, len(b.model.Columns()))
		s.OperatingPoint(charge, b.light.Conditions.AmbientC, record)
		return column(b.model, record, b.node.ID, "inV"), column(b.model, record, b.node.ID, "inA")
	}
	b.mostA = math.Inf(1)
	if b.node.Array != nil {
		s := b.undimmed()
		record := make([]float64, len(b.model.Columns()))
		s.OperatingPoint(1, b.light.Conditions.AmbientC, record)
		b.mostA = b.model.Bears(b.node.ID, record) * column(b.model, record, b.node.ID, "inA")
	}
	meter := chain.Variation{Pointer: b.pointer + "/fault/seriesOhm", Op: chain.Add, Value: MeterOhm}
	fullV, fullA := at(1)
	what := map[bool]string{true: "the emitters", false: "it"}[b.node.Array != nil]
	if b.node.Array != nil {
		p.Steps = append(p.Steps, Step{ID: "polarity", Do: fmt.Sprintf("Before anything is joined, let a few milliamperes through %s, from a bench supply in its current limit or a meter's diode test, and mark plus: marks disagree between parts.", what)})
	} else {
		p.Steps = append(p.Steps, Step{ID: "polarity", Do: "Before anything is joined, find and mark its plus; a load with a fuse or electronics inside forgives no mistake."})
	}
	first := Step{ID: "limited", Do: fmt.Sprintf("First power from a bench supply, its voltage at %s and its current limit at %s; raise the limit step by step%s while you watch and smell.", units.Volts(fullV), units.Amps(firstShare*min(fullA, b.mostA)), upTo(min(fullA, b.mostA)))}
	if fullA > b.mostA {
		first.Caution = fmt.Sprintf("Never the full source straight on: it would give %s, and the emitters bear %s. Put a driver or a resistor between.", units.Amps(fullA), units.Amps(b.mostA))
	}
	if b.mains() {
		first.Do, first.Caution = "First power through a series lamp, and look for anything that glows, hums or smells.", mainsCaution
	}
	p.Steps = append(p.Steps, first)
	add := func(id, state string, charge float64, changes ...chain.Variation) {
		_, plain := at(charge, changes...)
		_, with := at(charge, append(changes, meter)...)
		s := Step{ID: id, Do: fmt.Sprintf("With %s %s and an ammeter in one wire, read the current.", b.feed.Sources[0].Called(), state), Reading: reading.Of("current", "current", with, directShare)}
		if len(changes) == 0 {
			s.Reading = b.fromBelow(s.Reading, func(changes ...chain.Variation) float64 {
				_, a := at(charge, append(changes, meter)...)
				return a
			})
		}
		if plain-with > meterShare*plain {
			s.Do += fmt.Sprintf(" The ammeter’s own %s are in this figure; without it %s flow.", units.Ohms(MeterOhm), units.Amps(plain))
		}
		p.Steps = append(p.Steps, s)
	}
	if b.pack() {
		add("current-drained", "nearly drained", drainedCharge)
		add("current-half", "half full", 0.5)
		add("current-full", "full", 1)
	} else if len(b.feed.Sources) > 0 {
		add("current-source", "on", 1)
	}
	volts := reading.Of("voltage at "+what, "voltage", fullV, voltageShare)
	volts = b.fromBelow(volts, func(changes ...chain.Variation) float64 {
		v, _ := at(1, changes...)
		return v
	})
	return Procedure{Name: p.Name, When: p.When, Steps: append(p.Steps,
		Step{ID: "voltage", Do: fmt.Sprintf("From the full source, without the ammeter, read the voltage at %s at once.", what), Reading: volts},
		Step{ID: "warm", Do: "Let it run for twenty minutes and feel source, wires and body: warm is well, too hot to hold is not. A current that climbs all the while is on its way to harm: power off.", Caution: b.firstWarmth()})}
}

// upTo says how far a limit is raised.
func upTo(a float64) string {
	if a <= 0 {
		return ""
	}
	return " up to " + units.Amps(a) + " and no further,"
}

// What nothing regulates follows the source's own resistance, which is known badly
// (common practice), and the charge taken for a drained pack.
const (
	directShare   = 0.2
	drainedCharge = 0.02
)

// firstWarmth is what the first minutes at full heat may show where boards are newly set
// in something.
func (b *bench) firstWarmth() string {
	if b.light.Progress != "measured" && pasted(b.feed.Loads) {
		return "Fresh paste may smoke a little the first time it gets hot: air the room. Smoke that goes on, or smells of plastic, is something else: power off."
	}
	return ""
}

// pasted tells whether emitters below are set in a layer that may be paste or glue: one that conducts
// like those, and not like solder, foam or air (common practice: 0.5 to 12 W/(m·K)).
func pasted(nodes []design.Node) bool {
	for n := range design.NodesOf(nodes) {
		if n.Array == nil || n.Array.Joint == nil || n.Array.Joint.KPerW != nil {
			continue
		}
		if k := n.Array.Joint.Conductivity; n.Array.Joint.ThicknessM != nil && (k == nil || *k >= 0.5 && *k <= 12) {
			return true
		}
	}
	return false
}
