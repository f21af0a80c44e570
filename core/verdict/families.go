package verdict

import (
	"fmt"
	"math"
	"slices"

	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/units"
)

func percent(x float64) string { return fmt.Sprintf("%.0f %%", 100*x) }

// family judges what belongs to one family of drivers, and what a part says of
// itself.
func (j *judge) family(id string, p place, d *design.Driver) {
	at := p.pointer + "/driver"
	switch d.Family {
	case "boost":
		j.stepUp(id, p, d)
	case "window":
		j.window(id, p, d)
	case "dropper":
		j.dropper(id, p)
	case "none":
		if !j.loose(p.node.Loads) {
			break
		}
		j.add(Finding{Code: "no-ballast", Severity: Caution, Stage: "driver", Node: id, Pointer: at + "/partId", Title: "Nothing sets the current",
			Why: "The source's own resistance is all that limits it: it is bright when fresh, fades as the source drains, and warms towards more current. A driver holds it; a resistor at least limits it."})
	}
	if law, _ := driver.New(d, p.node.Driver); law.Regulates() && d.MaxVoltageV != nil && d.Family != "window" {
		j.atHighest(id, p, d)
	}
	use := p.node.Driver
	if n, used := max(d.Channels, 1), j.channelsOf(use.Chip); use.Chip != "" && used > n && !j.has("too-many-channels") {
		limit, value := float64(n), float64(used)
		j.add(Finding{Code: "too-many-channels", Severity: Stop, Stage: "driver", Node: id, Pointer: at + "/chip", Title: "More channels than it has",
			Why: fmt.Sprintf("%d channels of %s are used; it has %d.", used, j.data(use.PartID).Name, n), Value: &value, Limit: &limit})
	} else if use.TiedChannels > n {
		limit, value := float64(n), float64(use.TiedChannels)
		j.add(Finding{Code: "too-many-channels", Severity: Stop, Stage: "driver", Node: id, Pointer: at + "/tiedChannels", Title: "More channels than it has",
			Why: fmt.Sprintf("%d channels are tied; it has %d.", use.TiedChannels, n), Value: &value, Limit: &limit, Fix: &Fix{Label: fmt.Sprintf("Tie %d", n), Patch: []Patch{{"add", at + "/tiedChannels", limit}}, keeps: told("no channel to spare")}})
	} else if use.TiedChannels > 1 && !d.Tieable {
		j.add(Finding{Code: "channels-not-to-tie", Severity: Stop, Stage: "driver", Node: id, Pointer: at + "/tiedChannels", Title: "These channels must not be tied",
			Why: "Each of its channels regulates for itself; tied, they fight and one takes the load of all. Give each channel a string of its own.", Fix: &Fix{Label: "One channel", Patch: []Patch{{"add", at + "/tiedChannels", 1}}}})
	}
	if d.Class == "I" && use.Unearthed {
		j.add(Finding{Code: "unearthed", Severity: Stop, Stage: "driver", Node: id, Pointer: at + "/unearthed", Title: "Earth left open",
			Why: "It is of class I: without its earth its case and output can become live. Connect the earth, or choose one of class II."})
	}
	if d.OpenOutputV != nil && *d.OpenOutputV > HazardousV {
		if v, _ := j.highest(id, "outV"); v <= HazardousV {
			limit := float64(HazardousV)
			j.add(Finding{Code: "open-output", Severity: Caution, Stage: "driver", Node: id, Pointer: at + "/partId", Title: "Hazardous when its load is off",
				Why: fmt.Sprintf("With the emitters disconnected its output rises to %s: switch off and wait before touching the wires, and never connect emitters to it live.", units.Volts(*d.OpenOutputV)), Value: d.OpenOutputV, Limit: &limit, Unit: "V"})
		}
	}
	if w, ok := j.highest(id, "outW"); ok && d.MinLoadW != nil && w > 0 && w < *d.MinLoadW {
		j.add(Finding{Code: "below-least-load", Severity: Caution, Stage: "driver", Node: id, Pointer: at + "/partId", Title: "Load too small for it",
			Why: fmt.Sprintf("It gives %s and needs a load of %s to work steadily; it may flash or hum.", units.Watts(w), units.Watts(*d.MinLoadW)), Value: &w, Limit: d.MinLoadW, Unit: "W"})
	}
	if set := use.SetCurrentA; set != nil && len(d.JumperA) > 0 && !slices.ContainsFunc(d.JumperA, func(a float64) bool { return math.Abs(a-*set) < 1e-6 }) {
		nearest, _ := driver.Nearest(d.JumperA, *set)
		j.add(Finding{Code: "not-a-jumper-current", Severity: Caution, Stage: "driver", Node: id, Pointer: at + "/setCurrentA", Title: "No jumper for this current",
			Why: fmt.Sprintf("Its jumpers do not offer %s; the nearest they do is %s.", units.Amps(*set), units.Amps(nearest)), Value: set, Limit: &nearest, Unit: "A", Fix: &Fix{Label: "Set " + units.Amps(nearest), Patch: []Patch{{"add", at + "/setCurrentA", nearest}}}})
	}
}

// channelsOf counts the channels used of one part.
func (j *judge) channelsOf(chip string) (n int) {
	for _, id := range j.order {
		if d := j.nodes[id].node.Driver; d != nil && d.Chip == chip {
			n += max(d.TiedChannels, 1)
		}
	}
	return n
}

// stepUp judges a step-up driver against every source: above its load it conducts. What its load needs
// is asked of the load itself, so that nothing later, such as a board that trips, hides it.
func (j *judge) stepUp(id string, p place, d *design.Driver) {
	out, _ := j.highest(id, "outV")
	if set := driver.SetCurrentA(d, p.node.Driver); set != nil && *set > 0 {
		cold, _, ok, err := j.model.Solver().LoadVoltages(j.ctx, id, *set)
		if j.stop(err); ok && !math.IsInf(cold, 0) && !j.reaches(id, driver.ConstantCurrent) {
			out = cold
		}
	}
	for k := range p.feed.Sources {
		s := &p.feed.Sources[k]
		_, high, ok := j.sourceRange(s)
		if !ok || out <= 0 || p.parentDriver() || (high < out && !j.reaches(id, driver.Uncontrolled)) {
			continue
		}
		f := Finding{Code: "step-up-conducts", Severity: Stop, Stage: "driver", Node: id, Pointer: j.voltagePointer(p.feed, k), Title: "Source too high for a step-up",
			Why: fmt.Sprintf("Fresh, %s gives %s and the emitters stand at %s: a step-up cannot hold that back, it conducts without control.", sourceName(s), units.Volts(high), units.Volts(out)), Value: &high, Limit: &out, Unit: "V"}
		if s.Pack != nil {
			if n := math.Floor(out / (high / float64(s.Pack.Series)) * 0.999); n >= 1 {
				f.Fix = (&Fix{Label: cellsInSeries(int(n)), Patch: []Patch{{"add", j.packPointer(p.feed, k) + "/series", n}}}).keeping(told(units.Volts(out-high*n/float64(s.Pack.Series)) + " below the emitters"))
			}
		}
		j.add(f)
	}
}

// atHighest tells of a driver that holds a current and cannot, for its output ends below what its load
// needs; whether it runs out of input or never starts is told elsewhere.
func (j *judge) atHighest(id string, p place, d *design.Driver) {
	set := driver.SetCurrentA(d, p.node.Driver)
	if set == nil || *set <= 0 || len(p.node.Loads) == 0 {
		return
	}
	cold, warm, ok, err := j.model.Solver().LoadVoltages(j.ctx, id, *set)
	if j.stop(err); !ok || math.IsInf(cold, 0) {
		return
	}
	need := max(cold, warm)
	if !above(need, *d.MaxVoltageV) {
		return
	}
	f := Finding{Code: "output-too-low", Severity: Stop, Stage: "driver", Node: id, Pointer: p.pointer + "/driver/partId", Title: "Too many emitters for the driver",
		Why: fmt.Sprintf("At %s its load stands at %s, and the output of %s ends at %s: the current does not come.", units.Amps(*set), units.Volts(need), p.node.Called(), units.Volts(*d.MaxVoltageV)), Value: &need, Limit: d.MaxVoltageV, Unit: "V"}
	if min(cold, warm) <= *d.MaxVoltageV {
		f.Severity, f.Title = Caution, "Its output ends at the load"
	}
	if a := p.node.Loads[0].Array; len(p.node.Loads) == 1 && a != nil && len(a.Mixed) == 0 {
		if n := math.Floor(*d.MaxVoltageV / need * float64(a.Series)); n >= 1 {
			f.Pointer = p.pointer + "/loads/0/array/series"
			f.Fix = (&Fix{Label: fmt.Sprintf("%.0f in series", n), Patch: []Patch{{"add", f.Pointer, n}}}).keeping(told(units.Volts(*d.MaxVoltageV-n*need/float64(a.Series)) + " below its highest"))
		}
	}
	j.add(f)
}

func sourceName(s *design.Source) string {
	if s.Name != "" {
		return s.Name
	}
	return "the source"
}

func (p *place) parentDriver() bool { return p.driver != nil }

// reaches tells whether a driver is ever in a mode.
func (j *judge) reaches(id string, mode driver.Mode) bool {
	c, ok := j.column[[2]string{id, "mode"}]
	return ok && slices.ContainsFunc(j.run.Records, func(rec []float64) bool { return int(rec[c]+0.5) == int(mode) })
}

// window judges whether the emitters stand inside a driver's window of voltage, cold
// as well as warm.
func (j *judge) window(id string, p place, d *design.Driver) {
	set := driver.SetCurrentA(d, p.node.Driver)
	if set == nil || len(p.node.Loads) == 0 {
		return
	}
	cold, warm, ok, err := j.model.Solver().LoadVoltages(j.ctx, id, *set)
	if j.stop(err); !ok || math.IsInf(cold, 0) {
		return
	}
	add := func(code, title, what string, v float64, limit *float64) {
		f := Finding{Code: code, Severity: Stop, Stage: "driver", Node: id, Pointer: p.pointer + "/driver/partId", Title: title,
			Why: fmt.Sprintf("At %s the emitters stand at %s cold and %s warm; %s %s. Outside its window it stops and tries again, over and over.", units.Amps(*set), units.Volts(cold), units.Volts(warm), what, units.Volts(*limit)), Value: &v, Limit: limit, Unit: "V"}
		if a := p.node.Loads[0].Array; len(p.node.Loads) == 1 && a != nil {
			f.Pointer = p.pointer + "/loads/0/array/series"
			each := v / float64(a.Series)
			n := math.Floor(*limit / each)
			if code == "window-too-low" {
				n = math.Ceil(*limit / each)
			}
			if most := max(cold, warm) / float64(a.Series); n >= 1 && n <= 500 && n*most <= *orBig(d.MaxVoltageV) {
				inside := *orBig(d.MaxVoltageV) - n*most
				if d.MinVoltageV != nil {
					inside = min(inside, n*min(cold, warm)/float64(a.Series)-*d.MinVoltageV)
				}
				f.Fix = (&Fix{Label: fmt.Sprintf("%.0f in series", n), Patch: []Patch{{"add", p.pointer + "/loads/0/array/series", n}}}).keeping(told(units.Volts(inside) + " inside its window"))
			}
		}
		j.add(f)
	}
	if low := min(cold, warm); d.MinVoltageV != nil && low < *d.MinVoltageV {
		add("window-too-low", "Too few emitters for the driver", "its window begins at", low, d.MinVoltageV)
	}
	if high := max(cold, warm); d.MaxVoltageV != nil && high > *d.MaxVoltageV {
		add("window-too-high", "Too many emitters for the driver", "its window ends at", high, d.MaxVoltageV)
	}
}

func orBig(p *float64) *float64 {
	if p == nil {
		return new(math.Inf(1))
	}
	return p
}

// dropperShare is the share of the power in a dropper from which another way is
// advised.
const dropperShare = 0.2

func (j *judge) dropper(id string, p place) {
	in, _ := j.highest(id, "inW")
	lost, _ := j.highest(id, "lossW")
	if in <= 0 || lost/in < dropperShare {
		return
	}
	share, limit := lost/in, dropperShare
	j.add(Finding{Code: "dropper-waste", Severity: Caution, Stage: "driver", Node: id, Pointer: p.pointer + "/driver/partId", Title: "Most is dropped, not lit",
		Why: fmt.Sprintf("%s of the power, %s, is heat in the dropper. A step-down driver, or a source of lower voltage, makes light of it.", percent(share), units.Watts(lost)), Value: &share, Limit: &limit})
}

// rails judges rails of one supply together.
func (j *judge) rails() {
	total, limit, first := map[string]float64{}, map[string]*float64{}, map[string]*design.Feed{}
	for i := range j.model.Variant().Feeds {
		f := &j.model.Variant().Feeds[i]
		if len(f.Sources) == 0 || f.Sources[0].Supply == nil || f.Sources[0].Supply.Unit == "" {
			continue
		}
		s := f.Sources[0].Supply
		w, _ := j.highest(f.ID, "sourceW")
		total[s.Unit] += w
		if s.UnitMaxW != nil {
			limit[s.Unit] = s.UnitMaxW
		}
		if first[s.Unit] == nil {
			first[s.Unit] = f
		}
	}
	for unit, most := range limit {
		if w := total[unit]; w > *most/leastMargin {
			severity := Caution
			if w > *most {
				severity = Stop
			}
			j.add(Finding{Code: "rails-watts", Severity: severity, Stage: "source", Node: first[unit].ID, Pointer: j.pointerTo(first[unit].ID) + "/sources/0/supply/unitMaxW", Title: "All rails together",
				Why: fmt.Sprintf("The rails of %s give %s together; it may give %s in all, whatever each rail bears.", unit, units.Watts(w), units.Watts(*most)), Value: &w, Limit: most, Unit: "W"})
		}
	}
}
