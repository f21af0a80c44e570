package bench

import (
	"fmt"

	"photherm/core/design"
	"photherm/core/reading"
	"photherm/core/source"
	"photherm/core/target"
	"photherm/core/units"
)

// Currents and times of a plan (common practice): a few milliamperes show the polarity and harm
// nothing; a tenth of what a light will take is first power; after ten minutes most of a small
// light is warm.
const (
	polarityA  = 0.005
	firstShare = 0.1
	soonS      = 300
	laterS     = 900
	drained    = 0.05
)

const mainsCaution = "Mains: a licensed person and local codes decide. Hands off while it is live, metal earthed, behind a residual-current device."

func (w *writer) mains(f *design.Feed) bool { return len(f.Sources) > 0 && f.Sources[0].Mains != nil }

// spareTimes is how far above what a light draws a limit is set so that it runs free (chosen), and
// nearlyShare what no meter tells apart.
const (
	spareTimes  = 1.2
	nearlyShare = 0.01
)

// insulationOhm is the least insulation of a circuit of up to 500 V, Ω (IEC 60364-6, from memory;
// standards of lamps ask for more).
const insulationOhm = 1e6

// before is what is done without any power.
func (w *writer) before() {
	s := BenchStage{Name: "Before any power"}
	for i := range w.v.Feeds {
		f := &w.v.Feeds[i]
		if len(f.Sources) == 0 {
			continue
		}
		of := f.Sources[0].Called()
		s.Rows = append(s.Rows, BenchRow{Node: f.ID, Step: "no-short", Of: of, Do: fmt.Sprintf("With %s off or taken out, ohms across the light's input, leads both ways round: neither may be a short.", of)})
		if w.mains(f) {
			s.Caution = mainsCaution
			s.Rows = append(s.Rows, BenchRow{Node: f.ID, Step: "insulation", Of: of, Do: fmt.Sprintf("Insulation from each wire of the mains to every metal a hand can touch: %s and more, at the test voltage your code asks for. Read the lowest; with less it is not powered. Earth wire to metal: well below an ohm.", units.Ohms(insulationOhm)), Caution: "An ordinary ohmmeter finds a dead short, not a weak insulation.", Reading: reading.Least("insulation", "resistance", insulationOhm)})
		}
		if p := f.Sources[0].Pack; p != nil {
			if r, at := w.at("voltage at rest, full", "voltage", point{f.ID, "openV", cold, nil, 0, false}); r != nil {
				do := "Read the pack at rest, light off, an hour after the charger; mark plus."
				if cell := w.light.Part(p.PartID); cell != nil && cell.Cell != nil && source.Primary(cell.Cell) {
					do = "Read the fresh cells at rest, light off; mark plus."
				}
				if p.Series > 1 {
					do += " Read each group in series too: they should be alike to 50 mV."
				}
				s.Rows = append(s.Rows, BenchRow{Node: f.ID, Step: "pack-rest", Of: of, Do: do, Caution: "One slip shorts a pack: cover what you do not touch.", Reading: r, point: at})
			}
		}
	}
	for n := range design.Nodes(w.v) {
		if n.Array == nil {
			continue
		}
		row := BenchRow{Node: n.ID, Step: "polarity", Of: n.Called(), Do: fmt.Sprintf("Let %s through each string of %s, from a bench supply in its current limit or a meter's diode test: it glows. Mark plus: marks disagree between parts.", units.Amps(polarityA), n.Called())}
		if v, ok := w.base.s.StringVoltage(n.ID, polarityA, w.m.StartC()); ok {
			row.Reading = reading.Of("voltage of a string, barely lit", "voltage", v, barelyShare)
		}
		s.Rows = append(s.Rows, row)
	}
	w.add(s)
}

// barelyShare is how far forward voltage may be off far below what it was drawn for (common
// practice).
const barelyShare = 0.06

// firstPower is done once for each feed that goes through a driver: what hangs on a source
// itself has first power in its own set-up.
func (w *writer) firstPower() {
	s := BenchStage{Name: "First power"}
	for i := range w.v.Feeds {
		f := &w.v.Feeds[i]
		if len(f.Sources) == 0 || !driven(f) {
			continue
		}
		row := BenchRow{Node: f.ID, Step: "first-power", Of: f.Sources[0].Called()}
		v, okV := w.base.figure(point{f.ID, "busV", cold, nil, 0, false})
		a, okA := w.base.figure(point{f.ID, "busA", cold, nil, 0, false})
		switch {
		case w.mains(f):
			s.Caution = mainsCaution
			row.Do = "First power through a series lamp, or from a limited isolating source: the lamp flashes up and goes dim. One that stays bright is a short: power off."
		case okV && okA && v > 0 && a > 0: // not of a chain of which nothing draws yet
			most := min(spareTimes, w.base.bears(f.ID)) * a
			row.Do = fmt.Sprintf("First from a bench supply in the place of %s: its voltage at %s, its current limit at %s, then step by step up to %s and no further, with eyes and nose on it. No bench supply: a lamp for that voltage in series.", row.Of, units.Volts(v), units.Amps(firstShare*most), units.Amps(most))
			if most < a*(1-nearlyShare) {
				row.Caution = fmt.Sprintf("As it stands it would draw %s, more than its emitters or cells bear: change the light before it runs from its own source.", units.Amps(a))
			}
		default:
			row.Do = "First from a bench supply with its current limit at its lowest, then step by step up."
		}
		s.Rows = append(s.Rows, row)
	}
	for n := range design.Nodes(w.v) {
		d := w.driverOf(n)
		if d == nil || d.Family != "boost" && d.Family != "window" && d.Family != "buck-boost" {
			continue
		}
		row := BenchRow{Node: n.ID, Step: "open-output", Of: n.Called(), Do: fmt.Sprintf("Nothing on the output of %s: read its open voltage, power off, and let the output discharge before the emitters go on.", n.Called()), Caution: "Without a load such a driver goes to its highest voltage; some do not survive it: leave this out if its data forbid it."}
		row.Reading = &reading.Reading{What: "output, open", Quantity: "voltage", Open: true}
		if d.MaxVoltageV != nil {
			row.Reading = reading.Of("output, open", "voltage", *d.MaxVoltageV, openShare)
		}
		s.Rows = append(s.Rows, row)
	}
	w.add(s)
}

// openShare is how far above or below its stated highest a driver stands without a load
// (common practice).
const openShare = 0.1

func (w *writer) driverOf(n *design.Node) *design.Driver {
	if n.Driver == nil {
		return nil
	}
	if p := w.light.Part(n.Driver.PartID); p != nil {
		return p.Driver
	}
	return nil
}

func driven(f *design.Feed) bool {
	for n := range design.NodesOf(f.Loads) {
		if n.Driver != nil {
			return true
		}
	}
	return false
}

// draws are what the source gives, at several of its voltages, and what strings take.
func (w *writer) draws() {
	s := BenchStage{Name: "What it takes"}
	for i := range w.v.Feeds {
		f := &w.v.Feeds[i]
		if len(f.Sources) == 0 {
			continue
		}
		of := f.Sources[0].Called()
		add := func(step, do, what, quantity, figure string, at moment) {
			if r, p := w.at(what, quantity, point{f.ID, figure, at, nil, 0, false}); r != nil {
				s.Rows = append(s.Rows, BenchRow{Node: f.ID, Step: step, Of: of, Do: do, Reading: r, point: p})
			}
		}
		switch {
		case w.mains(f):
			if w.figureOfFeed(f, "sourceW") {
				add("wall-power", "At full level, cold, read the power at the wall.", "power at the wall", "power", "sourceW", cold)
				add("wall-power-warm", "Read it again after twenty minutes.", "power at the wall, warm", "power", "sourceW", rest)
			}
		case f.Sources[0].Pack != nil:
			add("draw-full", fmt.Sprintf("With %s full, at full level, at once: read the current it gives.", of), "current from the pack", "current", "busA", cold)
			add("volts-full", "And the voltage at the light's end of the wires.", "voltage under load", "voltage", "busV", cold)
			if sag, ok := w.base.figure(point{f.ID, sagV, cold, nil, 0, false}); ok && sag > 4*w.sagStep(f.ID) {
				add("sag-full", "Leave the meter there and switch the light off: write down how far the voltage rises, within some seconds.", "rise of the voltage, switched off", "voltage", sagV, cold)
			}
			add("draw-half", fmt.Sprintf("With %s half full, read the current again.", of), "current, half full", "current", "busA", moment{kind: "cold", charge: 0.5})
			add("draw-drained", fmt.Sprintf("With %s nearly drained, or a bench supply at the voltage it has then, read it again.", of), "current, nearly drained", "current", "busA", moment{kind: "cold", charge: drained})
		default:
			add("draw", fmt.Sprintf("From %s, at full level, at once: read the current.", of), "current from the source", "current", "busA", cold)
			add("draw-warm", "Read it again after twenty minutes.", "current, warm", "current", "busA", rest)
		}
	}
	for n := range design.Nodes(w.v) {
		if n.Array == nil || n.Array.Parallel < 2 {
			continue
		}
		if r, p := w.at("current of one string", "current", point{n.ID, "stringA", cold, nil, 0, false}); r != nil {
			s.Rows = append(s.Rows, BenchRow{Node: n.ID, Step: "string-a", Of: n.Called(), Do: fmt.Sprintf("Each of the %d strings of %s by itself: write down the one that takes most.", n.Array.Parallel, n.Called()), Reading: r, point: p})
		}
	}
	w.add(s)
}

func (w *writer) figureOfFeed(f *design.Feed, figure string) bool {
	return column(w.m, f.ID, figure) >= 0
}

// charging is what a charger that is built in does.
func (w *writer) charging() {
	s := BenchStage{Name: "Charging", Caution: "Charge attended, on something that does not burn, the first times with a hand near: a cell that gets warm while it is charged gently is a bad one."}
	for i := range w.v.Feeds {
		f := &w.v.Feeds[i]
		if len(f.Sources) == 0 || f.Sources[0].Pack == nil || f.Sources[0].Pack.Charger == nil {
			continue
		}
		pack := f.Sources[0].Pack
		cell := w.light.Part(pack.PartID)
		if cell == nil || cell.Cell == nil || source.Primary(cell.Cell) {
			continue
		}
		var data *design.Charger
		if p := w.light.Part(pack.Charger.PartID); p != nil {
			data = p.Charger
		}
		law := source.NewCharger(pack.Charger, data, cell.Cell, pack.Series, nil, w.m.StartC())
		of := f.Sources[0].Called()
		if law.CurrentA > 0 {
			s.Rows = append(s.Rows, BenchRow{Node: f.ID, Step: "charge-a", Of: of, Do: "Pack half empty, light off, charger on: read the current into the pack.", Reading: reading.Of("charging current", "current", law.CurrentA, chargeShare)})
		}
		s.Rows = append(s.Rows, BenchRow{Node: f.ID, Step: "charge-v", Of: of, Do: "When the charger says full, read the pack at once, charger still on.", Caution: fmt.Sprintf("Above %s it is charged too high: take it off.", units.Volts(law.EndV*(1+chargeVShare))), Reading: reading.Of("end of charge", "voltage", law.EndV, chargeVShare)})
	}
	w.add(s)
}

// Chargers keep their current to a tenth and their voltage to one per cent (common practice).
const (
	chargeShare  = 0.1
	chargeVShare = 0.01
)

// warming is what gets warm, at places a probe or a hand can reach.
func (w *writer) warming() {
	s := BenchStage{Name: "Warming up", Caution: "From cold, at full level, in the air and the way it will be used; write down when. What is too hot to hold is not touched again."}
	add := func(node, name, figure, where string) {
		for _, t := range []struct {
			step, when string
			at         moment
		}{{"5", "after 5 minutes", after(soonS)}, {"15", "after 15 minutes", after(laterS)}, {"rest", "when it no longer rises", rest}} {
			r, p := w.at(where+", "+t.when, "temperature", point{node, figure, t.at, nil, 0, false})
			if r == nil {
				continue
			}
			s.Rows = append(s.Rows, BenchRow{Node: node, Step: figure + "-" + t.step, Of: name, Do: fmt.Sprintf("Read the temperature of %s %s.", where, t.when), Reading: r, point: p})
		}
	}
	for i := range w.v.Bodies {
		b := &w.v.Bodies[i]
		if b.Inside == "" || b.Touchable {
			add(b.ID, b.Name, "bodyC", b.Name)
		}
	}
	for n := range design.Nodes(w.v) {
		if n.Array != nil && column(w.m, n.ID, "caseC") >= 0 {
			add(n.ID, n.Called(), "caseC", "the solder point of "+n.Called())
		}
	}
	w.add(s)
}

// runDown is a timed run: what lasts so long at what it draws holds so much.
func (w *writer) runDown() {
	s := BenchStage{Name: "Run it down", Caution: "Stay near, and look at it now and then: the first time tells where it gets hot and what cuts it off."}
	for i := range w.v.Feeds {
		f := &w.v.Feeds[i]
		if len(f.Sources) == 0 || f.Sources[0].Pack == nil || len(w.v.Feeds) > 1 {
			continue
		}
		if r, p := w.at("hours from full", "duration", point{f.ID, endS, moment{kind: "run"}, nil, 0, false}); r != nil {
			of := f.Sources[0].Called()
			s.Rows = append(s.Rows, BenchRow{Node: f.ID, Step: "timed-run", Of: of, Do: fmt.Sprintf("From %s full, at full level, until it is cut off or dark: how long. An alarm that sounds first is written down too.", of), Reading: r, point: p})
		}
	}
	w.add(s)
}

// shining is light where a meter is held, and light over another reading of it: at one place,
// once at the start and once warm.
func (w *writer) shining() error {
	s := BenchStage{Name: "Light", Caution: "Do not look into it."}
	if err := w.falling(&s); err != nil {
		return err
	}
	first := cold
	for n := range design.Nodes(w.v) {
		if n.Array == nil && n.Strip == nil && n.Load == nil {
			continue
		}
		if r, p := w.at("light warm over light at switch-on", "light", point{n.ID, "fluxLm", rest, &first, 0, false}); r != nil {
			s.Rows = append(s.Rows, BenchRow{Node: n.ID, Step: "light-warm", Of: n.Called(), Do: fmt.Sprintf("A light meter at one place, at switch-on and after twenty minutes: what is left of the light of %s, of 1.", n.Called()), Reading: r, point: p})
		}
	}
	w.add(s)
	return nil
}

// falling is light that falls where a meter is held: so many times all the light that leaves, as
// long as its parts keep their shares.
func (w *writer) falling(s *BenchStage) error {
	lit, err := target.Solve(w.ctx, w.light, w.m.Options().Variant, target.ReferenceS)
	if err != nil {
		return fmt.Errorf("looking where the light goes: %w", err)
	}
	spots, err := lit.MeterSpots(w.ctx)
	if err != nil {
		return fmt.Errorf("looking where the light is read: %w", err)
	}
	all := lit.Lumens() / float64(lit.Lights)
	for _, at := range spots {
		quantity, x := "illuminance", at.Lux
		if at.PPFD > 0 {
			quantity, x = "ppfd", at.PPFD
		}
		if !(x > 0 && all > 0) {
			continue
		}
		if r, p := w.at(at.Name, quantity, point{"", "fluxLm", after(target.ReferenceS), nil, x / all, false}); r != nil {
			s.Rows = append(s.Rows, BenchRow{Node: allLight, Step: at.Step, Of: "the light", Do: at.Do, Reading: r, point: p})
		}
	}
	return nil
}

// allLight is the name of what is read of the light as a whole.
const allLight = "light"
