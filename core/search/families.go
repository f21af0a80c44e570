package search

import (
	"cmp"
	"context"
	"slices"

	"photherm/core/design"
	"photherm/core/driver"
)

// A Family is a kind of driver judged for a place, before any part of it is known.
type Family struct {
	Family string `json:"family" doc:"As drivers have it; supply: a mains supply of a voltage"`
	Fit    Fit    `json:"fit" enum:"fits,nearly,not-yet,no"`
	Why    string `json:"why" doc:"One line; empty if it simply can work here"`
}

// Families on the mains and on everything else, what is chosen most first (common practice).
var (
	mainsFamilies = []string{"window", "supply"}
	otherFamilies = []string{"buck", "linear", "boost", "buck-boost", "voltage", "resistor"}
)

// MatchFamilies tells which families can work at a place: the usual driver of each is asked
// there, set to what is wanted. Those that cannot stand last, with their reason. A converter
// with a voltage knob is asked as a step-down and as a step-up of the same current, a
// resistor as a linear driver that needs no voltage of its own. The error may be a PlaceError.
func MatchFamilies(ctx context.Context, light *design.Light, variant int, node string) ([]Family, error) {
	q, err := NewQuestion(light, variant, node)
	if err != nil {
		return nil, about("node", err)
	}
	if q.mains {
		out := make([]Family, len(mainsFamilies))
		for i, f := range mainsFamilies {
			out[i] = Family{Family: f, Fit: Fits}
		}
		return out, nil
	}
	asked := []string{"buck", "linear", "boost", "buck-boost", "resistor"}
	drivers := make([]*design.Driver, len(asked))
	for i, f := range asked {
		d := driver.Usual(f)
		if f == "resistor" {
			d = design.Driver{Family: "linear", HeadroomV: new(0.0)}
		}
		d.MinCurrentA, d.MaxCurrentA = new(nothingA), new(max(q.wantedA, usualSetA))
		drivers[i] = &d
	}
	matches, err := q.Drivers(ctx, drivers)
	if err != nil {
		return nil, about("node", err)
	}
	by := map[string]Family{}
	for i := range matches {
		m := &matches[i]
		f := asked[m.Index]
		by[f] = Family{Family: f, Fit: m.Fit, Why: m.Why()}
	}
	knob := by["buck"]
	if fitOrder[by["boost"].Fit] < fitOrder[knob.Fit] {
		knob = by["boost"]
	}
	knob.Family = "voltage"
	by["voltage"] = knob
	out := make([]Family, len(otherFamilies))
	for i, f := range otherFamilies {
		out[i] = by[f]
	}
	slices.SortStableFunc(out, func(a, b Family) int { return cmp.Compare(fitOrder[a.Fit], fitOrder[b.Fit]) })
	return out, nil
}

// usualSetA is what a family is asked at where nothing says what is wanted (chosen: a
// small emitter's current; only voltages matter then).
const usualSetA = 0.35
