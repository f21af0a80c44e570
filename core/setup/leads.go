package setup

import (
	"fmt"

	"photherm/core/chain"
	"photherm/core/driver"
	"photherm/core/reading"
	"photherm/core/units"
)

// fullOhm is the resistance between three-in-one leads at which they are full on, Ω, and
// fullV the voltage (common practice).
const (
	fullOhm = 100e3
	fullV   = 10
)

// dimLeads are the steps for a driver that is dimmed over a control of its own.
func (b *bench) dimLeads() Procedure {
	p := Procedure{Name: "Dimming it", When: "Once the full current is right: how its control follows.", Steps: []Step{}, Also: true}
	if b.wantedA <= 0 {
		return p
	}
	full := b.probe()
	fullA := func(id, do, caution string) Step {
		return Step{ID: id, Do: do, Caution: caution, Reading: reading.Of("current, full on", "current", full.OutA, b.tolerance())}
	}
	least := func(id, do string) Step {
		s := b.dimFloor()
		s.ID, s.Do = id, do
		return s
	}
	level := driver.InUse(b.node.Driver)
	share := 1.0
	if level.Current != nil {
		share = *level.Current
	}
	switch b.d.Dimming {
	case "three-in-one":
		p.Steps = append(p.Steps,
			fullA("leads-open", "Leave the two dim leads open, apart from each other. Power on and read the current: open is full on.", "The dim leads are marked plus and minus and belong to the driver alone: no voltage above 10 V, and never the mains, goes onto them."),
			least("leads-shorted", "Power off, join the two dim leads, power on and read the current: joined is its lowest. Some go out."))
		if share < 1 {
			p.Steps = append(p.Steps, Step{ID: "leads-level", Do: fmt.Sprintf("For %.0f %%, as this light is set: put %s, or a resistor of %s, between the leads, and read the current.", 100*share, units.Volts(share*fullV), units.Ohms(share*fullOhm)) + b.capWords(share), Reading: b.atLevel()})
		}
	case "analog":
		if b.d.AnalogOnV == nil || b.d.AnalogFullV == nil {
			return p
		}
		p.Steps = append(p.Steps,
			least("pin-on", fmt.Sprintf("Feed its control pin from a pot, and raise it from nothing: at about %s it begins. Read the current just above.", units.Volts(*b.d.AnalogOnV))),
			fullA("pin-full", fmt.Sprintf("Raise the pin to %s and read the current.", units.Volts(*b.d.AnalogFullV)), "Do not go above what its data allow on the pin."))
		if share < 1 {
			p.Steps = append(p.Steps, Step{ID: "pin-level", Do: fmt.Sprintf("For %.0f %%, as this light is set: put %s on the pin, and read the current.", 100*share, units.Volts(*b.d.AnalogOnV+share*(*b.d.AnalogFullV-*b.d.AnalogOnV))), Reading: b.atLevel()})
		}
	case "pwm":
		p.Steps = append(p.Steps, fullA("enable-high", "Hold its enable input on all the time and read the current: a meter misleads on one that is switched.", ""))
		if level.Duty != nil && *level.Duty < 1 {
			p.Steps = append(p.Steps, Step{ID: "duty-level", Do: fmt.Sprintf("Switch it on for %.0f %% of the time, as this light is set, and read the current: a plain meter shows about the mean.", 100**level.Duty), Reading: b.atLevel()})
		}
	case "phase-cut":
		p.Steps = append(p.Steps,
			fullA("dimmer-highest", "Turn the wall dimmer to its highest and read the current to the emitters.", mainsCaution),
			Step{ID: "dimmer-lowest", Do: "Turn it down slowly, to where it flickers or goes out, and a little up again: set the dimmer's own stop there, if it has one."})
		if len(b.dimmers) > 0 {
			p.Steps = append(p.Steps, Step{ID: "dimmer-level", Do: "Turn it to where this light has it, and read the current.", Reading: b.atLevel()})
		}
	}
	return p
}

// capWords says what a position of the dim leads makes of the limit of a supply: it caps the current, and
// dims only below what the load takes.
func (b *bench) capWords(share float64) string {
	law, _ := driver.New(b.d, b.node.Driver)
	if b.d.Family != "voltage" || law.KnobMaxA <= 0 {
		return ""
	}
	return fmt.Sprintf(" It caps the current at %s: where the load takes less, nothing changes.", units.Amps(max(share*law.KnobMaxA, law.KnobMinA)))
}

// atLevel is the mean current as the light is dimmed, from a full source.
func (b *bench) atLevel() *reading.Reading {
	s := b.model.Solver()
	record := make([]float64, len(b.model.Columns()))
	s.OperatingPoint(1, b.light.Conditions.AmbientC, record)
	return reading.Of("current, dimmed so", "current", column(b.model, record, b.node.ID, "outA"), 2*b.tolerance())
}

func column(m *chain.Model, record []float64, owner, figure string) float64 {
	for i, c := range m.Columns() {
		if c.Owner == owner && c.Figure == figure {
			return record[i]
		}
	}
	return 0
}
