package setup

import (
	"fmt"

	"photherm/core/driver"
	"photherm/core/units"
)

// DimmingAdvice is how far and how a driver dims, and how its light flickers.
type DimmingAdvice struct {
	Kind       string          `json:"kind" doc:"As the part has it"`
	ControlV   *float64        `json:"controlV" doc:"Control voltage for the level it is set to: straight from on to full, V"`
	OnV        *float64        `json:"onV" doc:"Control voltage at which it begins, V"`
	FullV      *float64        `json:"fullV" doc:"Control voltage at which it is full on, V"`
	Floor      *float64        `json:"floor" doc:"Lowest share of its current"`
	Duty       *float64        `json:"duty" doc:"Duty it is set to"`
	LowestDuty *float64        `json:"lowestDuty" doc:"Lowest duty its current follows at this frequency"`
	Bits       *float64        `json:"bits" doc:"Bits to which a counter at the given clock resolves the duty"`
	Flicker    *driver.Flicker `json:"flicker"`
	Bands      *float64        `json:"bands" doc:"Contrast of the bands a camera with the given shutter sees"`
	Words      []string        `json:"words" nullable:"false" doc:"What follows, in plain words"`
}

// bandsSeen is the contrast from which bands show in a picture (common practice).
const bandsSeen = 0.02

func (b *bench) dimming(p *Plan) {
	l := driver.InUse(b.node.Driver)
	if b.d.Dimming == "" && l.Current == nil && l.Duty == nil {
		return
	}
	a := &DimmingAdvice{Kind: b.d.Dimming, Floor: b.d.DimFloor, OnV: b.d.AnalogOnV, FullV: b.d.AnalogFullV, Duty: l.Duty, Words: []string{}}
	say := func(format string, args ...any) { a.Words = append(a.Words, fmt.Sprintf(format, args...)) }
	level := 1.0
	if l.Current != nil {
		level = *l.Current
	}
	if a.OnV != nil && a.FullV != nil {
		v := *a.OnV + level*(*a.FullV-*a.OnV)
		a.ControlV = &v
		say("Its control pin begins at %s and is full on at %s; for %.0f %% set %s.", units.Volts(*a.OnV), units.Volts(*a.FullV), 100*level, units.Volts(v))
	}
	if b.d.Dimming == "three-in-one" {
		say("Its two leads take 0 to 10 V, a resistance of 0 to 100 kΩ, or a switched signal; left open it is full on.")
		v := 10 * level
		a.ControlV = &v
	}
	if l.Duty != nil && l.FrequencyHz != nil {
		hz := *l.FrequencyHz
		f := driver.JudgeFlicker(1, hz)
		if *l.Duty >= 1 {
			f = driver.JudgeFlicker(0, hz)
		}
		a.Flicker = &f
		if b.d.RiseS != nil {
			least := driver.LowestDuty(*b.d.RiseS, hz)
			a.LowestDuty = &least
			say("At %s Hz its current follows a duty of %s or more.", units.Plain(hz, 4), units.Format(least, "fraction", 2))
		}
		if b.q.ClockHz > hz {
			bits := driver.DutyBits(b.q.ClockHz, hz)
			a.Bits = &bits
			say("A counter clocked at %.3g MHz resolves the duty to %.1f bits: the darkest step is 1 in %.0f.", b.q.ClockHz/1e6, bits, b.q.ClockHz/hz)
		}
		if b.q.ShutterS > 0 {
			bands := driver.CameraBands(*l.Duty, hz, b.q.ShutterS)
			a.Bands = &bands
			if bands > bandsSeen {
				say("A camera at 1/%.0f s shows bands of %.0f %% contrast.", 1/b.q.ShutterS, 100*bands)
			} else {
				say("A camera at 1/%.0f s shows no bands.", 1/b.q.ShutterS)
			}
		}
	}
	say("Switching keeps the current, and so the colour and the lumens a watt; lowering the current gains lumens a watt and never flickers, and shifts the colour a little.")
	p.Dimming = a
}
