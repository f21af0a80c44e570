package setup

import (
	"fmt"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/reading"
	"photherm/core/units"
)

// What the setting of a supply and the data of its load leave open, as shares (common
// practice).
const (
	supplyShare = 0.02
	loadShare   = 0.10
)

// fixedVoltage is a supply whose current nobody sets: its voltage is checked without
// load, then what its load takes, and for a strip what is left at the far end.
func (b *bench) fixedVoltage() Procedure {
	open := b.setV()
	if b.d.OpenOutputV != nil {
		open = *b.d.OpenOutputV
	}
	first := Step{ID: "open-voltage", Do: "Nothing connected to the output. Power on and read it; mark plus and minus.", Caution: b.powerOn(), Reading: reading.Of("output, open", "voltage", open, supplyShare)}
	if b.voltagePot() {
		first.Do = fmt.Sprintf("Nothing connected to the output. Power on and turn the voltage pot until the meter shows %s; mark plus and minus.", units.Volts(b.setV()))
		first.Reading = reading.Of("output, open", "voltage", b.setV(), supplyShare).Wanting(b.setV())
	}
	if first.Reading.Expected == b.setV() {
		first.Reading.Replace = func(actual float64) *reading.Replacement {
			if actual <= 0 {
				return nil
			}
			return b.ofUse("setVoltageV", units.Volts(actual)+" as its voltage", actual, units.Volts(actual))
		}
	}
	at := b.probe()
	takes := b.fromBelow(reading.Of("current", "current", at.OutA, loadShare), func(changes ...chain.Variation) float64 { return b.probe(changes...).OutA })
	steps := []Step{
		first,
		{ID: "connect", Do: "Power off and wait until the output is down. Connect the load with an ammeter in one wire. Check the polarity twice."},
		{ID: "on", Do: "Power on and read the current.", Reading: takes},
		{ID: "loaded", Do: "Read the voltage where the load begins.", Reading: reading.Of("voltage at the load", "voltage", at.OutV, voltageShare)},
	}
	for i := range b.node.Loads {
		if n := &b.node.Loads[i]; n.Strip != nil {
			if v, ok := b.farV(n); ok {
				steps = append(steps, Step{ID: "far-" + n.ID, Do: "Read the voltage at the far end of the strip: in the middle if it is fed from both ends.", Reading: reading.Of("voltage at the far end", "voltage", v, voltageShare)})
			}
		}
	}
	steps = append(steps, Step{ID: "warm", Do: "Feel supply and load after twenty minutes: warm is well, too hot to hold is not."})
	when := "The load takes what it takes; nothing sets the current."
	if at.Mode == driver.ConstantCurrent {
		when = fmt.Sprintf("Its limit of %s holds the current; the voltage gives way.", units.Amps(at.OutA))
	}
	return Procedure{Name: "Fixed voltage", When: when, Steps: steps}
}

func (b *bench) setV() float64 {
	switch {
	case b.node.Driver.SetVoltageV != nil:
		return *b.node.Driver.SetVoltageV
	case b.d.SetVoltageV != nil:
		return *b.d.SetVoltageV
	}
	return 0
}

// farV is the lowest voltage at a segment of a strip, undimmed.
func (b *bench) farV(strip *design.Node) (float64, bool) {
	record := make([]float64, len(b.model.Columns()))
	b.undimmed().OperatingPoint(1, b.light.Conditions.AmbientC, record)
	for i, c := range b.model.Columns() {
		if c.Owner == strip.ID && c.Figure == "farV" {
			return record[i], true
		}
	}
	return 0, false
}
