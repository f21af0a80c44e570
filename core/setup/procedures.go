package setup

import (
	"fmt"
	"math"
	"strings"

	"photherm/core/chain"
	"photherm/core/driver"
	"photherm/core/reading"
	"photherm/core/source"
	"photherm/core/units"
)

func (b *bench) procedures(p *Plan) {
	switch {
	case b.d.Family == "voltage" && !(b.currentPot() && b.wantedA > 0):
		p.Procedures = append(p.Procedures, b.fixedVoltage())
	case b.d.Family == "voltage" && b.mains():
		p.Procedures = append(p.Procedures, b.twoPots())
	case b.d.Family == "voltage":
		p.Procedures = append(p.Procedures, b.module()...)
	case b.d.Family == "resistor":
		p.Procedures = append(p.Procedures, b.seriesResistor())
	case b.d.Family == "none" || b.d.Family == "dropper":
		p.Procedures = append(p.Procedures, b.direct())
	case len(b.d.JumperA) > 0:
		p.Procedures = append(p.Procedures, b.held("Jumpers", "The current is chosen with jumpers.", []Step{b.jumpers()}))
	case b.node.Driver.ProgramOhm != nil || b.d.ProgramV != nil:
		p.Procedures = append(p.Procedures, b.held("Setting resistor", "The current is set by a resistor.", b.fitResistor()))
	case b.currentPot():
		p.Procedures = append(p.Procedures, b.held("Current pot", "The current is set with one pot.", []Step{{ID: "pot-low", Do: "Power off. Turn the current pot to its lowest.", Caution: "Many turns either way change nothing: count at least twenty towards the lowest."}}))
	default:
		p.Procedures = append(p.Procedures, b.held("Fixed current", "The current is as supplied.", nil))
	}
}

// currentPot tells of a pot for the current: its ends are stated, or it is dimmed by its pots.
func (b *bench) currentPot() bool {
	return b.d.MinCurrentA != nil && b.d.MaxCurrentA != nil || b.d.Family == "voltage" && b.d.Dimming == "pots"
}

// voltagePot tells of a knob for the voltage: its ends are stated, it is dimmed by its pots, or it is set
// to another voltage than it is supplied with.
func (b *bench) voltagePot() bool {
	ends := b.d.MinVoltageV != nil && b.d.MaxVoltageV != nil && *b.d.MaxVoltageV > *b.d.MinVoltageV
	set := b.node.Driver.SetVoltageV
	return ends || b.d.Dimming == "pots" || set != nil && (b.d.SetVoltageV == nil || *set != *b.d.SetVoltageV)
}

func (b *bench) mains() bool { return len(b.feed.Sources) > 0 && b.feed.Sources[0].Mains != nil }

const mainsCaution = "Mains: first power through a series lamp or a limited isolating source, behind a residual-current device, hands off. Local codes and a licensed person decide."

func (b *bench) powerOn() string {
	if b.mains() {
		return mainsCaution
	}
	return ""
}

func list(values []float64) string {
	out := ""
	for i, a := range values {
		if i > 0 {
			out += ", "
		}
		out += units.Amps(a)
	}
	return out
}

// load is the voltage at which what hangs on the driver takes the wanted current, with
// changes.
func (b *bench) load(changes ...chain.Variation) (coldV, warmV float64) {
	s := b.undimmed()
	if s.Vary(changes...) != nil {
		return 0, 0
	}
	cold, warm, ok, err := s.LoadVoltages(b.ctx, b.node.ID, b.wantedA)
	if b.stop(err); !ok || math.IsInf(cold, 0) {
		return 0, 0
	}
	return cold, warm
}

// Bands of currents that nothing but the emitters holds: at the lowest voltage, where a few
// millivolts are much, and warm, where the sink decides (common practice).
const (
	lowestBand = 0.3
	warmBand   = 0.15
)

// twoPots is a supply with a voltage and a current pot, used as a current source with
// the voltage as a second guard.
func (b *bench) twoPots() Procedure {
	coldV, warmV := b.load()
	lowV := 0.0
	if b.d.MinVoltageV != nil {
		lowV = *b.d.MinVoltageV
	}
	most := b.wantedA * 1e3
	if b.d.MaxCurrentA != nil {
		most = *b.d.MaxCurrentA
	}
	atLow := b.probe(b.set("setVoltageV", lowV), b.set("setCurrentA", most))
	steps := []Step{
		{ID: "both-down", Do: "Power off. Turn both pots to their lowest; connect the emitters with a meter for current in one wire and one for voltage across them. Check the polarity twice: marks disagree between parts."},
		{ID: "on", Do: "Power on.", Caution: b.powerOn(), Reading: reading.Of("voltage at the emitters", "voltage", atLow.OutV, voltageShare)},
		{ID: "current-up", Do: fmt.Sprintf("Raise the current pot to its highest. Stop if %s already shows: then the supply begins too high for these emitters.", units.Amps(b.wantedA)),
			Reading: reading.Of("current", "current", atLow.OutA, lowestBand)},
	}
	if atLow.OutA >= b.wantedA*0.98 {
		steps[2].Caution = fmt.Sprintf("By calculation it does: even at its lowest voltage of %s it gives %s. Choose a supply that begins lower, or more emitters in series.", units.Volts(lowV), units.Amps(atLow.OutA))
	}
	steps = append(steps, Step{ID: "voltage-up", Do: fmt.Sprintf("Raise the voltage slowly until the current shows %s.", units.Amps(b.wantedA)), Reading: reading.Of("voltage at the emitters, cold", "voltage", coldV, voltageShare)})
	if _, a, ok := b.warm(b.set("setVoltageV", coldV), b.set("setCurrentA", most)); ok {
		steps = append(steps, Step{ID: "warm", Do: "Let it warm up for twenty minutes and watch: as the forward voltage falls the current climbs.", Caution: strings.TrimSpace("If it climbs without end, power off: nothing but the emitters holds it now. " + b.firstWarmth()),
			Reading: reading.Of("current, warm", "current", a, warmBand).Wanting(b.wantedA)})
	} else {
		steps = append(steps, Step{ID: "warm", Do: "Do not let it warm up like this: by calculation the current climbs until the emitters overheat. Go on at once.", Caution: "Thermal runaway on a held voltage."})
	}
	last := Step{ID: "dim", Do: "Dim with the voltage pot from now on; leave the current pot where it is."}
	if is := b.setV(); is > 0 {
		_, warmA, ok := b.warm()
		last.Do += fmt.Sprintf(" Turned to %s, as this light is set, read the current.", units.Volts(is))
		if ok {
			last.Reading = reading.Of("current at that setting, warm", "current", warmA, warmBand)
		}
	}
	if most := b.d.MaxVoltageV; most != nil && coldV > *most {
		steps[len(steps)-2].Caution = fmt.Sprintf("By calculation it takes %s, and it reaches %s at most: the wanted current does not come.", units.Volts(coldV), units.Volts(*most))
	}
	return Procedure{Name: "Two pots", When: "A supply with a voltage and a current pot.", Steps: append(steps,
		Step{ID: "cap", Do: fmt.Sprintf("Lower the current pot until the reading just dips, to %s: from here the current is held, whatever the temperature.", units.Amps(b.wantedA)), Reading: reading.Of("current", "current", b.wantedA, b.tolerance()).Wanting(b.wantedA)},
		Step{ID: "check-mode", Do: "Read the voltage: below its setting the supply holds the current, at its setting it holds the voltage.", Reading: reading.Of("voltage at the emitters, warm", "voltage", warmV, voltageShare)},
		last,
	)}
}

// MeterOhm is what an ammeter's shunt, fuse and leads put into the circuit on its
// high-current jack, Ω (common practice).
const MeterOhm = 0.05

// burdened is line with an ammeter in the driver's output, and without it.
func (b *bench) burdened() (with, without []LinePoint) {
	changes := make([]chain.Variation, len(b.node.Loads))
	for i := range b.node.Loads {
		changes[i] = chain.Variation{Pointer: fmt.Sprintf("%s/loads/%d/fault/seriesOhm", b.pointer, i), Op: chain.Add, Value: MeterOhm}
	}
	without = b.line()
	if with = b.line(changes...); len(with) != len(without) {
		with = without
	}
	return with, without
}

// where says a point of the source's range: its own voltage, and what is left of it at the
// driver.
func (l *LinePoint) where() string {
	if l.SourceV-l.InV < 0.02*l.SourceV {
		return units.Volts(l.SourceV)
	}
	return fmt.Sprintf("%s (%s at the driver)", units.Volts(l.SourceV), units.Volts(l.InV))
}

// burden tells what the ammeter does to a reading where nothing regulates.
func burden(with, without LinePoint) string {
	if without.OutA-with.OutA < meterShare*without.OutA {
		return ""
	}
	return fmt.Sprintf(" The ammeter’s own %s are in this figure; without it %s flow.", units.Ohms(MeterOhm), units.Amps(without.OutA))
}

// guard is how far above the emitters a voltage limit is set (common practice).
const guard = 1.1

// module is a converter with two limits, set without the emitters first.
func (b *bench) module() []Procedure {
	coldV, warmV := b.load()
	limitV, above := coldV*guard, "a tenth above the emitters"
	if b.d.MaxVoltageV != nil {
		limitV = min(limitV, *b.d.MaxVoltageV)
	}
	// As the light has it, where that is said, or where it binds.
	if is := b.setV(); b.node.Driver.SetVoltageV != nil || is > 0 && is < coldV {
		limitV, above = is, "as this light is set"
		if limitV > coldV {
			above = fmt.Sprintf("%s above the emitters", units.Volts(limitV-coldV))
		}
	}
	open := Step{ID: "open-voltage", Do: fmt.Sprintf("Output open. Turn the voltage pot until the meter shows %s: %s, so that the current limit rules and a loose wire does not kill them.", units.Volts(limitV), above), Reading: reading.Of("output, open", "voltage", limitV, potShare).Wanting(limitV)}
	// What the light has once it is set like this, whichever limit rules.
	set := []chain.Variation{b.set("setVoltageV", limitV), b.set("setCurrentA", b.wantedA)}
	gives := b.probe(set...)
	if v, _, ok := b.warm(set...); ok {
		warmV = v
	}
	finish := []Step{
		{ID: "connect", Do: "Power off. Connect the emitters, then power on. A charged output discharged into emitters kills them: never connect them live."},
		{ID: "current", Do: "Read the current.", Reading: reading.Of("current", "current", gives.OutA, b.tolerance()).Wanting(b.wantedA)},
		{ID: "voltage-warm", Do: "After twenty minutes read the voltage at the emitters.", Caution: b.firstWarmth(), Reading: reading.Of("voltage at the emitters, warm", "voltage", warmV, voltageShare)},
	}
	if limitV <= coldV {
		open.Caution = fmt.Sprintf("That is not above the %s the emitters need at %s: then the voltage rules, not the current. Set it higher.", units.Volts(coldV), units.Amps(b.wantedA))
	}
	jack := fmt.Sprintf("Use the high-current jack: its fuse must bear %s, so %s or more; it takes about %s of its own.", units.Amps(b.wantedA), units.Amps(nextFuse(b.wantedA)), units.Volts(MeterOhm*b.wantedA))
	if b.wantedA > 10 {
		jack = "More than the 10 A that most meters bear: use a clamp or a shunt."
	}
	short := Procedure{Name: "Into the ammeter", When: "Quickest; the module must bear a short circuit.", Steps: append([]Step{open,
		{ID: "current-down", Do: "Turn the current pot to its lowest."},
		{ID: "short", Do: fmt.Sprintf("Connect the ammeter alone across the output and raise the current pot to %s.", units.Amps(b.wantedA)), Caution: jack + " Only a module that protects itself against a short bears this.", Reading: reading.Of("short-circuit current", "current", b.wantedA, b.tolerance()).Wanting(b.wantedA)},
		{ID: "leads-back", Do: "Put the meter's leads back to volts at once: left on amperes they short whatever is measured next."},
	}, finish...)}
	ohm, dummyV := 0.0, min(coldV, limitV) // into a plain resistor the lower limit rules too
	if b.wantedA > 0 {
		ohm = coldV / b.wantedA
	}
	dummy := Procedure{Name: "Into a dummy load", When: "Safest for the emitters.", Steps: append([]Step{open,
		{ID: "dummy", Do: fmt.Sprintf("Connect a resistor of about %s that bears %s or more, with the ammeter in series, and raise the current pot to %s.", units.Ohms(ohm), wattsOf(2*coldV*b.wantedA), units.Amps(b.wantedA)), Caution: "The resistor gets very hot.", Reading: reading.Of("current", "current", b.wantedA*min(1, dummyV/max(coldV, 1e-9)), b.tolerance()).Wanting(b.wantedA)},
		{ID: "dummy-voltage", Do: "Read the voltage across the resistor.", Reading: reading.Of("voltage across the resistor", "voltage", dummyV, 0.1)},
	}, finish...)}
	low := 0.1 * b.wantedA
	if b.d.MinCurrentA != nil {
		low = max(low, *b.d.MinCurrentA)
	}
	at := b.probe(b.set("setVoltageV", limitV), b.set("setCurrentA", low))
	itself := Procedure{Name: "Into the emitters", When: "No other load at hand; begin low.", Steps: append([]Step{open,
		{ID: "current-down", Do: "Power off. Turn the current pot to its lowest; connect the emitters with the ammeter in series."},
		{ID: "begin", Do: fmt.Sprintf("Power on and raise the current to about %s.", units.Amps(low)), Reading: reading.Of("voltage at the emitters", "voltage", at.OutV, voltageShare)},
		{ID: "raise", Do: fmt.Sprintf("Raise the current to %s. The ammeter takes a part of the voltage; the current limit does not mind.", units.Amps(b.wantedA)), Caution: jack, Reading: reading.Of("current", "current", gives.OutA, b.tolerance()).Wanting(b.wantedA)},
	}, finish[2:]...)}
	line := Procedure{Name: "Input range", When: "Whether the setting holds from a drained to a full source.", Steps: []Step{}, Also: true}
	for _, l := range b.line() {
		line.Steps = append(line.Steps, Step{ID: "line-" + l.Name, Do: fmt.Sprintf("Feed it %s, the %s it will see from %s.", units.Volts(l.InV), l.Name, b.feed.Sources[0].Called()), Reading: reading.Of("output voltage", "voltage", l.OutV, voltageShare)})
	}
	return []Procedure{short, dummy, itself, line}
}

func nextFuse(a float64) float64 {
	for _, f := range []float64{0.2, 0.4, 0.5, 0.63, 0.8, 1, 1.25, 1.6, 2, 2.5, 3.15, 4, 5, 6.3, 8, 10} {
		if f >= 1.25*a {
			return f
		}
	}
	return 10
}

// held is a driver that regulates: what comes before, then the readings.
func (b *bench) held(name, when string, before []Step) Procedure {
	coldV, warmV := b.load()
	at := b.probe()
	// Where it does not reach its current, what is read is what it does reach.
	asWanted := math.Abs(at.OutA-b.wantedA) <= meterShare*b.wantedA
	if !asWanted { // less than wanted, or by the resistor that is fitted another
		coldV, warmV = at.OutV, at.OutV
		if v, _, ok := b.warm(); ok {
			warmV = v
		}
	}
	volts := reading.Of("voltage at the emitters, cold", "voltage", coldV, voltageShare)
	if asWanted {
		volts = b.fromBelow(volts, func(changes ...chain.Variation) float64 {
			v, _ := b.load(changes...)
			return v
		})
	}
	steps := append(before,
		Step{ID: "connect", Do: "Power off. Connect the emitters with an ammeter in one wire. Check the polarity twice."},
		Step{ID: "on", Do: "Power on and read the current.", Caution: b.powerOn(), Reading: b.currentIs(reading.Of("current", "current", at.OutA, b.tolerance()).Wanting(b.wantedA))},
		Step{ID: "cold", Do: "Read the voltage at the emitters at once.", Reading: volts},
		Step{ID: "warm", Do: "Read it again after twenty minutes: it has fallen with the temperature.", Caution: b.firstWarmth(), Reading: reading.Of("voltage at the emitters, warm", "voltage", warmV, voltageShare)},
	)
	if d := b.d; b.currentPot() && len(d.JumperA) == 0 && d.ProgramV == nil {
		steps[len(before)+1].Do = fmt.Sprintf("Power on and turn the pot until the ammeter shows %s.", units.Amps(b.wantedA))
	}
	if d := b.d; d.Family == "window" && d.MinVoltageV != nil && d.MaxVoltageV != nil {
		steps[len(steps)-2].Do += fmt.Sprintf(" It must stay between %s and %s.", units.Volts(*d.MinVoltageV), units.Volts(*d.MaxVoltageV))
	}
	if l := b.line(); len(l) == 3 && !b.mains() && (b.d.Family == "linear" || b.d.Family == "buck") {
		steps = append(steps, Step{ID: "drained", Do: fmt.Sprintf("With %s drained or at its lowest, about %s, read the current again.", b.feed.Sources[0].Called(), l[0].where()), Reading: reading.Of("current, source drained", "current", l[0].OutA, 0.1).Wanting(b.wantedA)})
	}
	return Procedure{Name: name, When: when, Steps: steps}
}

func (b *bench) jumpers() Step {
	s := Step{ID: "jumper", Do: fmt.Sprintf("Power off. Set the jumpers to %s. They offer %s.", units.Amps(b.wantedA), list(b.d.JumperA))}
	if near, _ := driver.Nearest(b.d.JumperA, b.wantedA); math.Abs(near-b.wantedA) > 1e-6 {
		s.Do = fmt.Sprintf("Power off. Set the jumpers to %s, the nearest to %s. They offer %s.", units.Amps(near), units.Amps(b.wantedA), list(b.d.JumperA))
		s.Caution = "No jumper gives the wanted current: the readings below are of that, not of the nearest."
	}
	return s
}

func (b *bench) fitResistor() []Step {
	if b.node.Driver.ProgramOhm == nil {
		return []Step{{ID: "fit", Do: "Power off. Fit the resistor worked out beside."}}
	}
	r := *b.node.Driver.ProgramOhm
	return []Step{{ID: "fit", Do: fmt.Sprintf("Power off. Measure the resistor before it is fitted: it should be %s.", units.Ohms(r)), Caution: "Below an ohm the leads of the meter count: short them first and subtract.", Reading: reading.Of("setting resistor", "resistance", r, b.programShare())}}
}

func (b *bench) programShare() float64 {
	if b.d.Tolerance != nil {
		return *b.d.Tolerance
	}
	return 0.05
}

func (b *bench) seriesResistor() Procedure {
	steps := []Step{{ID: "connect", Do: "Power off. Connect resistor and emitters in series with an ammeter. Check the polarity twice."}}
	names := map[string]string{"lowest": "drained", "nominal": "half full", "highest": "full"}
	if !b.pack() {
		off := 100 * source.Spread(&b.feed.Sources[0])
		names = map[string]string{"lowest": fmt.Sprintf("%.0f %% low", off), "nominal": "as it should be", "highest": fmt.Sprintf("%.0f %% high", off)}
	}
	l, plain := b.burdened()
	for i := len(l) - 1; i >= 0; i-- {
		steps = append(steps, Step{ID: "current-" + l[i].Name, Do: fmt.Sprintf("With %s %s, at %s, read the current.", b.feed.Sources[0].Called(), names[l[i].Name], l[i].where()) + burden(l[i], plain[i]), Reading: reading.Of("current", "current", l[i].OutA, 0.1)})
	}
	return Procedure{Name: "Series resistor", When: "Nothing regulates: the current follows the source.", Steps: steps}
}

func (b *bench) pack() bool { return len(b.feed.Sources) > 0 && b.feed.Sources[0].Pack != nil }

// unlimited is what to mind where no driver limits the current: by what the source is.
func (b *bench) unlimited() string {
	s := b.feed.Sources[0]
	switch {
	case s.Pack != nil:
		return "Nothing limits it but the source itself: begin with a drained source, and watch the temperature."
	case s.Supply != nil && s.Supply.MaxCurrentA != nil:
		return fmt.Sprintf("The limit of %s is all that holds the current: begin with it at its lowest, raise it to %s at most, and watch the temperature.", s.Called(), units.Amps(min(*s.Supply.MaxCurrentA, b.mostA)))
	}
	return "Nothing limits it but the source itself: begin with its voltage at its lowest where it can be set, and watch the temperature."
}

func (b *bench) direct() Procedure {
	steps := []Step{}
	l, plain := b.burdened()
	for i := len(l) - 1; i >= 0; i-- {
		steps = append(steps, Step{ID: "current-" + l[i].Name, Do: fmt.Sprintf("With %s at %s read the current.", b.feed.Sources[0].Called(), l[i].where()) + burden(l[i], plain[i]), Caution: map[bool]string{true: b.unlimited(), false: ""}[i == len(l)-1], Reading: reading.Of("current", "current", l[i].OutA, 0.2)})
	}
	return Procedure{Name: "Direct drive", When: "The source's own resistance is the ballast.", Steps: steps}
}
