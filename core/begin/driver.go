package begin

import (
	"cmp"
	"fmt"
	"math"
	"strings"

	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/units"
)

// What families need and lose, common practice.
const (
	linearWaste = 0.35 // above this share lost a linear driver is not what one would choose
	safeV       = 60   // hazardous above, direct current (IEC 61140)
)

var familyNames = map[string]string{"buck": "step-down current driver", "boost": "step-up current driver", "buck-boost": "step-up and -down current driver", "linear": "linear current driver", "window": "mains current driver", "voltage": "constant-voltage converter", "resistor": "series resistor"}

// drive puts a driver between a feed and a load, wires cells and emitters for it, and
// gives the node that hangs on the feed.
func (b *builder) drive(f *feed, l *load) design.Node {
	label, line := driverLabelOf(b.facts.Driver)
	line, duty := dutyOf(line)
	s := b.read("driver", line)
	leads := s.dimsByVoltage()
	if p := b.picked("driver"); p != nil && s.empty() {
		part := *p
		part.ID = "driver"
		b.part(part)
		return b.pickedDriver(f, l, part.Driver)
	}
	b.strong(f, l.watts())
	family, topology := family(s, f)
	said := family != ""
	b.wireEmitters(f, l, family)
	target := l.volts()
	if v := s.outputV(topology); v != nil && family == "voltage" {
		target = *v
	}
	b.wireCellsTo(f, target, family, topology)
	if f.unsaid && (family == "buck" || topology == "step-down") {
		b.enough(f, target+driver.UsualBuckHeadroomV)
	}
	// What only takes away needs a source that is above; one lithium cell is, of one white die, when full.
	if f.unsaid && f.cell != nil && (family == "linear" || family == "resistor" || family == "none") && f.highV < target+driver.UsualLinearHeadroomV {
		b.enough(f, target)
	}
	if f.source.Mains != nil && s.has("dropper", "capacitive") {
		b.remark("driver", "A dropper isolates nothing: whatever hangs on it is live to the touch. A driver for the mains is taken in its place; choose one that is isolated (SELV).")
	}
	if !said {
		family = fits(f, target)
		b.assume("/parts/driver/driver/family", "%s", whyFamily(family, f, target))
	}
	if s.count > 1 && (s.counted || s.has("drivers", "converters", "boards", "modules")) && family != "linear" && family != "resistor" && l.each <= 1 {
		b.remark("driver", "Of several drivers one is taken: add the others on the page, each with its emitters.")
	}
	d := &design.Driver{Family: family, Topology: topology}
	use := &design.DriverUse{PartID: "driver"}
	if usual := driver.Usual(family).Efficiency; usual != nil {
		e := *usual
		if share := s.figure("fraction"); share != nil && *share < 1 {
			e = *share
		} else {
			b.assume("/parts/driver/driver/efficiency", "usual for a %s", familyNames[family])
		}
		d.Efficiency = ptr(e)
	}
	amps := l.amps()
	if a, w := s.figure("current"), s.figure("power"); a != nil {
		use.SetCurrentA = a
		if set := setSaid.FindStringSubmatch(line); set != nil && len(s.all("current")) > 1 {
			if to := parse(set[1]).figure("current"); to != nil && *to < *a {
				d.MaxCurrentA, use.SetCurrentA = a, to
			}
		}
		if family == "linear" && s.count > 1 && !s.has("transistor", "transistors", "for", "led", "leds") {
			use.SetCurrentA = ptr(float64(s.count) * *a) // chips side by side
		}
	} else if family == "voltage" && w != nil && *w > 0 && target > 0 {
		use.SetCurrentA = ptr(round3(*w / target))
		b.assume("/feeds/power/loads/driver/driver/setCurrentA", "as much as its watts are at %s", units.Volts(target))
	} else if family != "resistor" && family != "none" {
		use.SetCurrentA = ptr(down3(amps))
		b.assume("/feeds/power/loads/driver/driver/setCurrentA", "what the emitters are rated for")
	}
	switch family {
	case "buck":
		d.HeadroomV = new(driver.UsualBuckHeadroomV)
		b.assume("/parts/driver/driver/headroomV", "usual for a step-down driver")
	case "linear":
		d.HeadroomV = new(driver.UsualLinearHeadroomV)
		b.assume("/parts/driver/driver/headroomV", "usual for a linear driver")
	case "resistor":
		if ohm := s.figure("resistance"); ohm != nil {
			use.ResistanceOhm = ohm
		} else if amps > 0 && f.highV > l.volts() {
			use.ResistanceOhm = ptr(round2((f.highV - l.volts()) / amps))
			b.assume("/feeds/power/loads/driver/driver/resistanceOhm", "gives the rated current from the full source")
		}
	case "voltage":
		if topology == "" || topology == "step-down" {
			d.HeadroomV = new(driver.UsualBuckHeadroomV)
			b.assume("/parts/driver/driver/headroomV", "usual for a step-down converter")
		}
		use.SetVoltageV = ptr(target)
		if s.figure("voltage") == nil {
			use.SetVoltageV = ptr(round3(1.1 * l.volts()))
			b.assume("/feeds/power/loads/driver/driver/setVoltageV", "a little above what the emitters need")
		}
	case "window":
		if v, ok := s.first("voltage"); label.toLEDs > 0 {
			b.assume("/parts/driver/driver/minVoltageV", "labels count an LED as %g to %g V", dieV, labelHighV)
		} else if ok && v.low < v.high {
			d.MinVoltageV, d.MaxVoltageV = ptr(v.low), ptr(v.high)
		} else if ok {
			d.MinVoltageV, d.MaxVoltageV = ptr(round2(v.high/2)), ptr(v.high)
			b.assume("/parts/driver/driver/minVoltageV", "half of its highest, as mostly")
		} else {
			d.MinVoltageV, d.MaxVoltageV = ptr(round2(0.6*l.volts())), ptr(round2(1.2*l.volts()))
			b.assume("/parts/driver/driver/minVoltageV", "a window that fits these emitters")
		}
		d.PowerFactor = ptr(0.9)
		b.assume("/parts/driver/driver/powerFactor", "usual for such a driver")
	}
	if w := s.figure("power"); w != nil && *w > 0 && (family == "voltage" || family == "window") {
		d.MaxOutputW = w
	}
	if leads {
		d.Dimming = "analog"
	}
	label.put(d)
	if f.source.Mains != nil {
		d.Isolated = s.isolated()
	}
	if duty > 0 {
		use.Dimming = &design.Level{Duty: &duty}
	}
	l.heatW = b.lost(f, l, d, use)
	name := cmp.Or(familyNames[family], "no driver")
	b.part(design.Part{ID: "driver", Name: capital(name), Basis: "guess", Driver: d})
	switch {
	case !said && len(s.figures) == 0 && len(s.words) > 0 && !s.has("dropper") && label == (driverLabel{}) && duty == 0:
		b.remark("driver", "“%s” tells neither a kind of driver nor a figure of it, and it is assumed: say linear, resistor, step-down or step-up, and what it is set to.", strings.Join(s.words, " "))
	case family == "none":
		b.understood("driver", "none: straight on the source")
	case !s.empty() || label != (driverLabel{}) || duty > 0:
		words := name + label.words()
		if use.SetVoltageV != nil {
			words += fmt.Sprintf(", set to %s", units.Volts(*use.SetVoltageV))
		}
		if use.SetCurrentA != nil {
			words += fmt.Sprintf(", at most %s", units.Amps(*use.SetCurrentA))
		}
		if duty > 0 {
			words += fmt.Sprintf(", lit %.3g %% of the time", 100*duty)
		}
		b.understood("driver", "a %s", words)
	}
	return design.Node{ID: "driver", BodyID: "body", Count: l.each, Driver: use, Loads: []design.Node{l.node}}
}

// pickedDriver puts a driver at hand between: set to what the emitters are rated for, as
// far as it can be set.
func (b *builder) pickedDriver(f *feed, l *load, d *design.Driver) design.Node {
	b.wireEmitters(f, l, d.Family)
	b.wireCells(f, l, d.Family)
	use := &design.DriverUse{PartID: "driver"}
	if amps := l.amps(); d.MaxCurrentA != nil && amps > 0 {
		low := 0.0
		if d.MinCurrentA != nil {
			low = *d.MinCurrentA
		}
		use.SetCurrentA = ptr(max(low, down3(min(max(amps, low), *d.MaxCurrentA))))
		b.assume("/feeds/power/loads/driver/driver/setCurrentA", "what the emitters are rated for, as far as it goes")
	}
	b.wireUnsaid(f, l, d, use)
	b.strong(f, l.watts())
	if f.unsaid {
		need := 0.0
		switch d.Family {
		case "none", "resistor":
			need = float64(cellsAt(l.volts(), f.cell)) * f.lowV / float64(f.source.Pack.Series)
		case "dropper":
			need = l.volts()
			if d.DropV != nil {
				need += *d.DropV
			}
		}
		if d.Family == "buck" || d.Family == "linear" || d.Family == "voltage" && d.Topology != "step-up" {
			need = l.volts() + driver.UsualBuckHeadroomV
			if d.HeadroomV != nil {
				need = l.volts() + *d.HeadroomV
			}
		}
		for _, least := range []*float64{d.InputMinV, d.RestartV} {
			if least != nil {
				need = max(need, *least)
			}
		}
		b.enough(f, need)
	}
	l.heatW = b.lost(f, l, d, use)
	return design.Node{ID: "driver", BodyID: "body", Count: l.each, Driver: use, Loads: []design.Node{l.node}}
}

// wireUnsaid puts so many emitters on a driver at hand as its current and its voltage ask
// for, where nobody said how many.
func (b *builder) wireUnsaid(f *feed, l *load, d *design.Driver, use *design.DriverUse) {
	a := l.node.Array
	if a == nil || !l.unsaid || l.ledA <= 0 || l.ledV <= 0 {
		return
	}
	set := d.SetCurrentA
	if use.SetCurrentA != nil {
		set = use.SetCurrentA
	}
	if set != nil && *set > 1.01*l.ledA {
		a.Parallel = min(int(math.Ceil(*set/l.ledA-0.01)), 500)
	}
	least := 0.0
	if d.MinVoltageV != nil && d.Family == "window" {
		least = *d.MinVoltageV
	}
	if d.Family == "boost" {
		least = max(least, f.highV*1.1)
	}
	a.Series = min(max(a.Series, int(math.Ceil(least/l.ledV))), 500)
	if a.Parallel > 1 || a.Series > 1 {
		b.assume("/feeds/power/loads/emitters/array/parallel", "as many as this driver's current and voltage ask for")
	}
}

// strong adds cells in series until the pack bears the watts at one times its capacity an
// hour, where nobody said how many.
func (b *builder) strong(f *feed, watts float64) {
	if !f.unsaid || f.cell == nil {
		return
	}
	n := int(math.Ceil(watts / (0.85 * nominalV(f.cell) * f.cell.CapacityAh)))
	if n > f.source.Pack.Series {
		b.enough(f, float64(min(n, 30))*f.lowV/float64(f.source.Pack.Series))
	}
}

// lost is about what a driver turns to heat.
func (b *builder) lost(f *feed, l *load, d *design.Driver, use *design.DriverUse) float64 {
	if d.Efficiency != nil {
		return l.watts() * (1 / *d.Efficiency - 1)
	}
	amps := l.amps()
	if use.SetCurrentA != nil {
		amps = *use.SetCurrentA
	} else if d.SetCurrentA != nil {
		amps = *d.SetCurrentA
	}
	return max(0, f.highV-l.volts()) * amps
}

func capital(s string) string {
	if s == "" {
		return s
	}
	return string(s[0]-'a'+'A') + s[1:]
}

// down3 leaves three digits and is never above: a rating is not passed by rounding.
func down3(x float64) float64 {
	if x <= 0 {
		return 0
	}
	scale := math.Pow(10, 2-math.Floor(math.Log10(x)))
	return exact(math.Floor(x*scale*(1+1e-9)) / scale)
}

func round3(x float64) float64 {
	if x == 0 {
		return 0
	}
	scale := math.Pow(10, 2-math.Floor(math.Log10(math.Abs(x))))
	return math.Round(x*scale) / scale
}

// isolated is whether a driver's output was said to be apart from the mains; nil: nobody said, which
// is asked and never assumed.
func (s *said) isolated() *bool {
	switch {
	case s.has("non-isolated", "unisolated", "not isolated", "no isolation"):
		return ptr(false)
	case s.has("isolated", "selv"):
		return ptr(true)
	}
	return nil
}

// dimsByVoltage tells control leads for 0 or 1 to 10 V, and takes their volts for no output.
func (s *said) dimsByVoltage() bool {
	v, ok := s.first("voltage")
	if !ok || v.high != 10 || v.low > 1 || v.low == v.high {
		return false
	}
	if s.figures["voltage"] = s.figures["voltage"][1:]; len(s.figures["voltage"]) == 0 {
		delete(s.figures, "voltage")
	}
	return true
}

// outputV is the voltage a converter is set to; of "5 V to 12 V" up the higher, down the lower, and
// of a window and one more figure that one. Nil: it was not said.
func (s *said) outputV(topology string) *float64 {
	said := s.all("voltage")
	if len(said) == 0 {
		return nil
	}
	v := said[0]
	switch {
	case v.low == v.high:
		return ptr(v.low)
	case len(said) > 1 && said[1].low == said[1].high:
		return ptr(said[1].low)
	case topology == "step-up":
		return ptr(v.high)
	case topology == "step-down":
		return ptr(v.low)
	}
	return ptr(v.mid())
}

// family reads what a driver is called; empty: it was not said.
func family(s *said, f *feed) (family, topology string) {
	v, hasV := s.first("voltage")
	amps := s.figure("current") != nil
	// The window of a current driver, or its end; or the volts it is fed with, said again.
	ranges := hasV && amps && (v.low < v.high || f.source.Mains != nil && s.has("max", "maximum") || f.source.Supply != nil && v.low == f.highV)
	limits := s.has("pot", "pots", "two-pot", "cc/cv", "cv", "module", "converter", "constant-voltage") || hasV && !ranges
	switch {
	case s.has("none", "nothing", "direct", "without", "no driver") && len(s.figures) == 0:
		return "none", ""
	case s.has("linear") || f.source.Mains == nil && s.has("transistor", "transistors"):
		return "linear", ""
	case s.has("resistor") && !s.has("sense") || len(s.figures["resistance"]) > 0 && !amps && !hasV && !s.has("sense", "set", "program", "constant"):
		return "resistor", ""
	case s.has("buck-boost", "buck boost", "either", "both ways", "sepic"):
		return "buck-boost", ""
	case s.has("step-down", "buck", "down"):
		if limits {
			return "voltage", "step-down"
		}
		return "buck", ""
	case s.has("step-up", "boost", "up", "thief"):
		if limits {
			return "voltage", "step-up"
		}
		return "boost", ""
	case f.source.Mains == nil && s.has("dimmer") && !s.has("driver", "supply", "converter", "module"):
		return "none", "" // it switches, and limits nothing
	case f.source.Mains != nil && s.has("dropper", "capacitive"):
		return "", "" // told in drive
	case f.source.Mains != nil && amps && (!hasV || ranges):
		return "window", ""
	case f.source.Mains != nil && limits:
		return "voltage", ""
	case f.source.Mains != nil:
		return "", ""
	case limits:
		return "voltage", "step-down"
	}
	return "", ""
}

// fits is the family one would choose between a source and emitters.
func fits(f *feed, volts float64) string {
	switch {
	case f.source.Mains != nil:
		return "window"
	case f.lowV >= volts+driver.UsualLinearHeadroomV && (f.highV-volts) <= linearWaste*f.highV:
		return "linear"
	case f.lowV >= volts+driver.UsualBuckHeadroomV:
		return "buck"
	case f.highV < volts:
		return "boost"
	case f.lowV < volts && (f.highV-volts) <= linearWaste*f.highV && f.highV > volts+driver.UsualLinearHeadroomV && volts < 5:
		return "linear" // one lithium-ion cell and one white die: it only dims at the end
	}
	return "buck-boost"
}

func whyFamily(family string, f *feed, volts float64) string {
	from := fmt.Sprintf("from %s to %s", units.Volts(f.lowV), units.Volts(f.highV))
	if f.lowV == f.highV {
		from = "from " + units.Volts(f.lowV)
	}
	switch family {
	case "window":
		return "the mains ask for a driver made for them, with a constant current"
	case "linear":
		return fmt.Sprintf("%s to %s little is lost in a linear one", from, units.Volts(volts))
	case "buck":
		return fmt.Sprintf("%s down to %s", from, units.Volts(volts))
	case "boost":
		return fmt.Sprintf("%s up to %s", from, units.Volts(volts))
	}
	return fmt.Sprintf("%s to %s: the source lies now above and now below", from, units.Volts(volts))
}

// wireEmitters puts emitters whose wiring was not said in series as far as the source, or
// what is safe, lets a driver reach.
func (b *builder) wireEmitters(f *feed, l *load, family string) {
	a := l.node.Array
	if a == nil || l.free < 2 {
		return
	}
	n := l.free
	reach := safeV / 1.1
	if f.source.Mains == nil && family != "boost" && family != "buck-boost" {
		reach = f.highV
		if f.free == 0 {
			reach = f.lowV - driver.UsualBuckHeadroomV
		}
	}
	series := 1
	for s := 1; s <= n; s++ {
		if n%s == 0 && float64(s)*l.ledV <= reach {
			series = s
		}
	}
	if series == 1 && f.source.Mains == nil && l.ledV > reach {
		series = n // only stepping up reaches them
	}
	a.Series, a.Parallel = series, n/series
	b.assume("/feeds/power/loads/emitters/array/series", "as many in series as the source can drive: their current is then the same")
}

func (b *builder) wireCells(f *feed, l *load, family string) {
	b.wireCellsTo(f, l.volts(), family, "")
}

// wireCellsTo puts cells whose wiring was not said in series as far as a load needs, and
// where a converter steps up, side by side.
func (b *builder) wireCellsTo(f *feed, volts float64, family, topology string) {
	if f.free < 2 {
		return
	}
	p, n := f.source.Pack, f.free
	low, high := f.lowV/float64(p.Series), f.highV/float64(p.Series)
	series := n
	why := "cells of a pack that are not charged are mostly in series"
	if !f.primary {
		up := family == "boost" || topology == "step-up"
		why = "in series, as this driver needs more than the emitters"
		if up {
			series, why = 1, "side by side, as this driver steps up"
		} else {
			need := volts + driver.UsualBuckHeadroomV
			if family == "linear" || family == "" && high-volts <= linearWaste*high && high > volts+driver.UsualLinearHeadroomV {
				need = volts
			}
			for s := n; s >= 1; s-- {
				if n%s == 0 && float64(s)*high > need && (float64(s)*low >= need || s == n || family == "linear" || family == "" && volts < high) {
					series = s
				}
			}
			if series == 1 {
				why = "side by side: one is enough for these emitters"
			}
		}
	}
	p.Series, p.Parallel = series, n/series
	b.span(f)
	b.assume("/feeds/power/sources/"+f.source.ID+"/pack/series", "%s", why)
	if b.begun.Understood["source"] != "" {
		b.understood("source", "%s", b.packWords(f))
	}
}
