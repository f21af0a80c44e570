package verdict

import (
	"fmt"

	"photherm/core/design"
)

// whereWanted tells of light that does not come where it is wanted, or too much of it.
func (j *judge) whereWanted() {
	if t := j.light.Scene; t != nil && t.Tank != nil && !j.light.Conditions.NearWater {
		j.add(Finding{Code: "tank-water", Severity: Caution, Stage: "light", Pointer: "/conditions/nearWater", Title: "It hangs over water",
			Why: "A light over a tank gets splashed and drips: say that it is near water, so that mains and metal are judged for it.",
			Fix: &Fix{Label: "It hangs over water", Patch: []Patch{{"add", "/conditions/nearWater", true}}}})
	}
	r := j.reached
	if r == nil {
		return
	}
	pointer := j.wantedAt()
	if r.Reached == nil {
		if r.why != "" && j.answers.FluxLm != nil { // why it is dark is told elsewhere
			j.add(Finding{Code: "target-untold", Severity: Note, Stage: "light", Pointer: pointer, Title: "What comes there cannot be told",
				Why: fmt.Sprintf("Where the light is wanted, it cannot be told how much comes: %s.", r.why)})
		}
		return
	}
	switch {
	case r.TooFar:
		j.add(Finding{Code: "target-over", Severity: Caution, Stage: "light", Pointer: pointer, Title: "Too bright",
			Why: fmt.Sprintf("%s: %s.", capital(r.Words), tooBright(j.light)), Value: &r.Got, Limit: r.High, Unit: r.Unit})
	case !r.Met:
		j.add(Finding{Code: "target-short", Severity: Note, Stage: "light", Pointer: pointer, Title: "Too little comes where it is wanted",
			Why: capital(r.Words) + ".", Value: &r.Got, Limit: &r.Low, Unit: r.Unit})
	}
}

// tooBright says what too much light does (common practice).
func tooBright(l *design.Light) string {
	if l.Scene != nil && l.Scene.Tank != nil {
		return "algae come, and corals bleach; dim it, raise it, or light it for fewer hours"
	}
	return "leaves bleach and curl; dim it, raise it, or light it for fewer hours"
}

// wantedAt points to what says what is wanted.
func (j *judge) wantedAt() string {
	b := &j.light.Brief
	switch {
	case b.PPFD != nil:
		return "/brief/ppfdUmolPerM2S"
	case b.Lux != nil:
		return "/brief/lux"
	case b.PeakCd != nil:
		return "/brief/peakCd"
	case b.BeamM != nil:
		return "/brief/beamM"
	}
	return "/scene/crop"
}
