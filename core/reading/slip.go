package reading

import (
	"fmt"
	"math"
)

// A Slip is what may have been meant by a reading that cannot be right.
type Slip struct {
	Why   string  `json:"why" doc:"One sentence: both figures, and the question"`
	Value float64 `json:"value" doc:"What may have been meant, SI"`
	Row   string  `json:"row,omitempty" doc:"Another reading it fits: its node and step; empty: a figure of this one"`
}

// slips are how figures are typed wrong: a prefix forgotten, a point slipped.
var slips = []struct {
	times float64
	how   string
}{
	{1e-3, "thousandths were meant"},
	{1e3, "thousands were meant"},
	{0.1, "the point slipped"},
	{10, "the point slipped"},
	{-1, "the leads were the other way round"},
}

// slipOf looks for a slip that makes a reading agree. Temperatures have none, as
// they are not multiples, nor have times, which are typed in minutes and hours.
func slipOf(r *Reading) *Slip {
	if r.Quantity == "temperature" || r.Quantity == "light" || r.Quantity == "duration" || r.Expected == 0 {
		return nil
	}
	actual := *r.Actual
	for _, s := range slips {
		meant := actual * s.times
		fits := math.Abs(meant-r.Expected) <= max(slipU*r.Within, slipShare*math.Abs(r.Expected))
		if math.Abs(math.Log10(math.Abs(s.times))) > 2 { // so far off it is no reading, whatever the light does
			over := meant / r.Expected
			fits = over >= 1/farSlip && over <= farSlip
		}
		if fits {
			return &Slip{Why: fmt.Sprintf("%s was typed, and %s is expected: %s, if %s?", Say(r.Quantity, actual), Say(r.Quantity, r.Expected), Say(r.Quantity, meant), s.how), Value: meant}
		}
	}
	return nil
}

// How far a corrected figure may lie off what is expected to be asked about: so many bands, or
// such a share of it; of thousands, so many times of it either way (chosen: who slips a point may
// as well have a light that differs).
const (
	slipU     = 2
	slipShare = 0.2
	farSlip   = 4.0
)

// A Place is a reading of a plan by its place.
type Place struct {
	Row string // node and step
	*Reading
}

// Elsewhere asks of readings that differ whether they belong to another row of the plan: the
// number as typed fits that one's expectation, of another quantity, while it was not read. Shares of
// light and times of day are typed otherwise: no volts or amperes are meant as such.
func Elsewhere(all []Place) {
	for _, r := range all {
		if r.Actual == nil || r.Calculated != "differs" || r.Ask != nil {
			continue
		}
		for _, other := range all {
			if other.Quantity == r.Quantity || other.Quantity == "light" || other.Quantity == "duration" || other.Open || other.Actual != nil || other.Expected == 0 || math.Abs(*r.Actual-other.Expected) > other.Within {
				continue
			}
			r.Ask = &Slip{Why: fmt.Sprintf("%s cannot be %s here; %s is what is expected as %s: was it that?", Say(r.Quantity, *r.Actual), r.What, Say(other.Quantity, *r.Actual), other.What), Value: *r.Actual, Row: other.Row}
			r.Replaces = nil
			break
		}
	}
}
