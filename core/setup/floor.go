package setup

import (
	"fmt"

	"photherm/core/design"
	"photherm/core/reading"
	"photherm/core/units"
)

// floors asks how far down each adjustment really goes: stated floors are often
// wrong either way (common practice).
func (b *bench) floors() Procedure {
	p := Procedure{Name: "How far it dims", When: "What is stated is often not what is; measure it, and the figures follow.", Steps: []Step{}, Also: true}
	// One that just bears so much has no pot for it.
	if b.d.Family == "voltage" && (b.currentPot() || b.d.MaxCurrentA != nil && (b.d.Dimming == "pots" || b.node.Driver.SetCurrentA != nil)) {
		p.Steps = append(p.Steps, b.knobFloor())
	}
	if b.d.Dimming != "" && b.d.Dimming != "none" && b.d.Dimming != "pots" && b.wantedA > 0 {
		p.Steps = append(p.Steps, b.dimFloor())
	}
	return p
}

func (b *bench) knobFloor() Step {
	s := Step{ID: "knob-floor", Do: "Emitters connected and lit. Turn the current pot to its lowest, read the current, and turn it back."}
	if least := b.d.MinCurrentA; least != nil {
		at := b.probe(b.set("setCurrentA", *least))
		s.Reading = reading.Of("current, pot at its lowest", "current", at.OutA, b.tolerance())
		if at.OutA < *least-s.Reading.Within {
			s.Do = fmt.Sprintf("The emitters take only %s at this voltage, less than the %s its pot begins at: raise the voltage or hang more on it first. Then turn the current pot to its lowest, read the current, and turn it back.", units.Amps(at.OutA), units.Amps(*least))
		}
	} else {
		s.Reading = &reading.Reading{What: "current, pot at its lowest", Quantity: "current", Open: true}
	}
	s.Reading.Replace = func(actual float64) *reading.Replacement {
		return b.ofPart("minCurrentA", units.Amps(actual)+" as its lowest", actual, units.Amps(actual))
	}
	return s
}

func (b *bench) dimFloor() Step {
	s := Step{ID: "dim-floor", Do: "Dim it as far down as it goes without going out, and read the current."}
	full := b.probe().OutA
	if floor := b.d.DimFloor; floor != nil {
		s.Reading = reading.Of("current, dimmed as far as it goes", "current", *floor*full, b.tolerance())
	} else {
		s.Reading = &reading.Reading{What: "current, dimmed as far as it goes", Quantity: "current", Open: true}
	}
	s.Reading.Replace = func(actual float64) *reading.Replacement {
		if full <= 0 || actual < 0 || actual > full {
			return nil
		}
		return b.ofPart("dimFloor", fmt.Sprintf("%.3g %% as its floor", 100*actual/full), actual/full, units.Amps(actual))
	}
	return s
}

// partPointer is where the driver's own figures stand.
func (b *bench) partPointer() string { return b.pointerOfPart(b.node.Driver.PartID) }

func (b *bench) pointerOfPart(id string) string {
	for i := range b.light.Parts {
		if b.light.Parts[i].ID == id {
			return fmt.Sprintf("/parts/%d", i)
		}
	}
	return ""
}

// recordOf is what was noted of a step; nil if nothing was.
func recordOf(done []design.Done, node, step string) *design.Done {
	for i := range done {
		if done[i].Node == node && done[i].Step == step {
			return &done[i]
		}
	}
	return nil
}
