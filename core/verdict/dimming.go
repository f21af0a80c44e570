package verdict

import (
	"fmt"

	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/units"
)

// levelPointer is where the level a driver is dimmed to stands: that of its mode, or
// its own.
func levelPointer(p *place) string {
	at := p.pointer + "/driver"
	for i, m := range p.node.Driver.Modes {
		if m.Name == p.node.Driver.Mode {
			return fmt.Sprintf("%s/modes/%d/level", at, i)
		}
	}
	return at + "/dimming"
}

func hertz(x float64) string { return units.Plain(x, 4) + " Hz" }

// dimming judges how a driver is dimmed: whether it can be, down to where, and how
// its light flickers.
func (j *judge) dimming(id string, p place, d *design.Driver) {
	at := levelPointer(&p)
	l := driver.InUse(p.node.Driver)
	if l.Current != nil && *l.Current < 1 && d.Dimming == "none" {
		j.add(Finding{Code: "not-dimmable", Severity: Stop, Stage: "driver", Node: id, Pointer: at + "/current", Title: "It cannot be dimmed",
			Why: fmt.Sprintf("%s is set to %s of its current, and has no way of being dimmed.", p.node.Called(), percent(*l.Current)), Fix: &Fix{Label: "Full current", Patch: []Patch{{"add", at + "/current", 1}}}})
	} else if l.Current != nil && d.DimFloor != nil && *l.Current > 0 && *l.Current < *d.DimFloor {
		j.add(Finding{Code: "below-dim-floor", Severity: Caution, Stage: "driver", Node: id, Pointer: at + "/current", Title: "It does not dim so far",
			Why: fmt.Sprintf("Set to %s it stays at %s, its floor.", percent(*l.Current), percent(*d.DimFloor)), Value: l.Current, Limit: d.DimFloor,
			Fix: &Fix{Label: "Set " + percent(*d.DimFloor), Patch: []Patch{{"add", at + "/current", *d.DimFloor}}, keeps: told("at its floor")}})
	}
	duty := 1.0
	if l.Duty != nil {
		duty = *l.Duty
	}
	if duty > 0 && duty < 1 {
		j.switched(id, p, d, duty, l.FrequencyHz)
	}
	if d.Ripple != nil && len(p.feed.Sources) > 0 && p.feed.Sources[0].Mains != nil && duty == 1 {
		j.flicker(id, p.pointer+"/driver/partId", *d.Ripple, 2*p.feed.Sources[0].Mains.FrequencyHz, "its ripple at twice the line frequency")
	}
}

func (j *judge) switched(id string, p place, d *design.Driver, duty float64, hz *float64) {
	at := levelPointer(&p)
	if hz == nil {
		j.add(Finding{Code: "no-frequency", Severity: Note, Stage: "driver", Node: id, Pointer: at + "/frequencyHz", Title: "How fast is it switched?",
			Why: "Without the frequency neither flicker nor the lowest duty can be judged."})
		return
	}
	if d.PWMMaxHz != nil && *hz > *d.PWMMaxHz {
		j.add(Finding{Code: "switched-too-fast", Severity: Caution, Stage: "driver", Node: id, Pointer: at + "/frequencyHz", Title: "Switched faster than it follows",
			Why: fmt.Sprintf("It is switched at %s and follows to %s: its current no longer follows the duty.", hertz(*hz), hertz(*d.PWMMaxHz)), Value: hz, Limit: d.PWMMaxHz, Unit: "Hz",
			Fix: &Fix{Label: "Switch at " + hertz(*d.PWMMaxHz), Patch: []Patch{{"add", at + "/frequencyHz", *d.PWMMaxHz}}, keeps: told("at the most it follows")}})
	}
	if d.RiseS != nil {
		if least := driver.LowestDuty(*d.RiseS, *hz); duty < least {
			j.add(Finding{Code: "duty-too-low", Severity: Caution, Stage: "driver", Node: id, Pointer: at + "/duty", Title: "Pulses too short",
				Why: fmt.Sprintf("At %s its current needs %s to rise; below a duty of %s the pulse is mostly slope and the light uncertain.", hertz(*hz), units.Duration(*d.RiseS), percent(least)), Value: &duty, Limit: &least})
		}
	}
	j.blinks(id, at, *hz)
}

// switchDuty judges a switch that is opened and closed fast, to dim or to flash what
// hangs on it.
func (j *judge) switchDuty(id string, p place) {
	s, at := p.node.Switch, p.pointer+"/switch"
	if s.Duty == nil || *s.Duty <= 0 || *s.Duty >= 1 || s.Open {
		return
	}
	if s.DutyHz == nil {
		j.add(Finding{Code: "no-frequency", Severity: Note, Stage: "source", Node: id, Pointer: at + "/frequencyHz", Title: "How fast is it switched?",
			Why: "Without the frequency its flicker cannot be judged."})
		return
	}
	j.choppedDrivers(p.node.Loads, at, *s.Duty, *s.DutyHz)
	j.blinks(id, at, *s.DutyHz)
}

// restartHz is above what a switch before a driver opens and closes faster than most drivers start
// (common practice: they take milliseconds).
const restartHz = 100

// choppedDrivers judges drivers whose input a switch opens and closes: they must start each time.
func (j *judge) choppedDrivers(loads []design.Node, at string, duty, hz float64) {
	for i := range loads {
		n := &loads[i]
		if n.Switch != nil {
			j.choppedDrivers(n.Loads, at, duty, hz)
		}
		if n.Driver == nil || j.data(n.Driver.PartID).Driver == nil {
			continue
		}
		d := j.data(n.Driver.PartID).Driver
		law, _ := driver.New(d, n.Driver)
		add := func(code string, severity Severity, figure, title, why string, value, limit *float64, unit string) {
			j.add(Finding{Code: code, Severity: severity, Stage: "driver", Node: n.ID, Pointer: at + figure, Title: title, Why: why, Value: value, Limit: limit, Unit: unit})
		}
		switch {
		case !law.Latches():
		case d.PWMMaxHz != nil && hz > *d.PWMMaxHz:
			add("switched-too-fast", Caution, "/frequencyHz", "Chopped faster than it starts", fmt.Sprintf("Its input is switched at %s, and it follows to %s: its light no longer follows the duty.", hertz(hz), hertz(*d.PWMMaxHz)), &hz, d.PWMMaxHz, "Hz")
		case d.RiseS != nil && duty < driver.LowestDuty(*d.RiseS, hz):
			least := driver.LowestDuty(*d.RiseS, hz)
			add("duty-too-low", Caution, "/duty", "Pulses too short", fmt.Sprintf("At %s %s needs %s to start each time; below a duty of %s it hardly does.", hertz(hz), n.Called(), units.Duration(*d.RiseS), percent(least)), &duty, &least, "")
		case d.PWMMaxHz == nil && d.RiseS == nil && hz > restartHz:
			limit := float64(restartHz)
			add("chopped-input", Caution, "/frequencyHz", "Can it start so often?", fmt.Sprintf("The switch before %s opens and closes at %s, and how fast it starts is not known; most take milliseconds, and the duty then means little. Dim it by its own input, or after it.", n.Called(), hertz(hz)), &hz, &limit, "Hz")
		}
	}
}

// blinks judges light that goes on and off: as flicker, or as a strobe, which is meant to
// be seen.
func (j *judge) blinks(id, at string, hz float64) {
	if hz >= slowestHz {
		j.flicker(id, at+"/frequencyHz", 1, hz, "switching on and off")
		return
	}
	j.add(Finding{Code: "strobe", Severity: Caution, Stage: "light", Node: id, Pointer: at + "/frequencyHz", Title: "A strobe",
		Why: "Flashes of 3 to 70 a second can bring on seizures; warn those around, and keep away from 15 to 20 a second."})
}

// slowestHz is where switching is taken as dimming, not as a strobe.
const slowestHz = 70

func (j *judge) flicker(id, at string, modulation, hz float64, what string) {
	f := driver.JudgeFlicker(modulation, hz)
	if f.Verdict == "no effect" {
		return
	}
	severity, title := Note, "Flicker of low risk"
	if f.Verdict == "risk" {
		severity, title = Caution, "Flicker"
	}
	j.add(Finding{Code: "flicker", Severity: severity, Stage: "light", Node: id, Pointer: at, Title: title,
		Why: fmt.Sprintf("%s modulates the light by %s at %s; IEEE 1789 puts low risk at up to %s and no effect at up to %s.", capital(what), percent(modulation), hertz(hz), percent(f.LowRisk), fmt.Sprintf("%.1f %%", 100*f.NoEffect)), Value: &modulation, Limit: &f.LowRisk})
}

// dimmer judges a phase-cut dimmer: its load, and whether what hangs on it can be
// dimmed so.
func (j *judge) dimmer(id string, p place) {
	d := p.node.Dimmer
	w, _ := j.highest(id, "outW")
	if va, _ := j.highest(id, "lineVA"); va > w && d.MaxLoadW != nil && above(va, *d.MaxLoadW) && !above(w, *d.MaxLoadW) {
		j.add(Finding{Code: "dimmer-overloaded", Severity: Caution, Stage: "source", Node: id, Pointer: p.pointer + "/dimmer/maxLoadW", Title: "Dimmer overloaded by volt-amperes",
			Why: fmt.Sprintf("%s carries %s and, by their power factor, %s VA; it may carry %s.", p.node.Called(), units.Watts(w), units.Plain(va, 3), units.Watts(*d.MaxLoadW)), Value: &va, Limit: d.MaxLoadW, Unit: "VA"})
	}
	if d.MaxLoadW != nil && w > *d.MaxLoadW {
		j.add(Finding{Code: "dimmer-overloaded", Severity: Stop, Stage: "source", Node: id, Pointer: p.pointer + "/dimmer/maxLoadW", Title: "Dimmer overloaded",
			Why: fmt.Sprintf("%s carries %s and may carry %s.", p.node.Called(), units.Watts(w), units.Watts(*d.MaxLoadW)), Value: &w, Limit: d.MaxLoadW, Unit: "W"})
	}
	if d.MinLoadW != nil && w > 0 && w < *d.MinLoadW {
		j.add(Finding{Code: "dimmer-underloaded", Severity: Caution, Stage: "source", Node: id, Pointer: p.pointer + "/dimmer/minLoadW", Title: "Load too small for the dimmer",
			Why: fmt.Sprintf("%s carries %s and needs %s: it may flash, or not turn off.", p.node.Called(), units.Watts(w), units.Watts(*d.MinLoadW)), Value: &w, Limit: d.MinLoadW, Unit: "W"})
	}
	for k := range p.node.Loads {
		below := &p.node.Loads[k]
		if below.Driver == nil {
			continue
		}
		if part := j.data(below.Driver.PartID).Driver; part != nil && part.Dimming != "phase-cut" {
			j.add(Finding{Code: "not-for-phase-cut", Severity: Stop, Stage: "driver", Node: below.ID, Pointer: fmt.Sprintf("%s/loads/%d/driver/partId", p.pointer, k), Title: "Not made for this dimmer",
				Why: fmt.Sprintf("%s is not dimmable by a phase-cut dimmer: it flashes, hums or fails. Choose one that is, or dim on its output side.", below.Called())})
		} else if part != nil && part.CutEdge != "" && part.CutEdge != "either" && d.Edge != "" && d.Edge != part.CutEdge {
			j.add(Finding{Code: "wrong-edge", Severity: Caution, Stage: "driver", Node: below.ID, Pointer: p.pointer + "/dimmer/edge", Title: "The dimmer cuts the other edge",
				Why: fmt.Sprintf("%s is made for a dimmer that cuts the %s edge; %s cuts the %s one: it may flicker, hum or wear out.", below.Called(), part.CutEdge, p.node.Called(), d.Edge)})
		}
	}
	if len(p.feed.Sources) > 0 && p.feed.Sources[0].Mains == nil {
		j.add(Finding{Code: "dimmer-off-mains", Severity: Stop, Stage: "source", Node: id, Pointer: p.pointer + "/dimmer/level", Title: "A mains dimmer without mains",
			Why: "A phase-cut dimmer works on alternating current only; on a pack or a direct supply it stays on, or fails."})
	}
}
