// Package reading judges what was read at the bench: how far the tool may be off, how far the
// calculation, and what the two say together.
package reading

import (
	"fmt"
	"math"

	"photherm/core/design"
	"photherm/core/units"
)

// A Reading is what a tool should show, and what it did.
type Reading struct {
	What       string   `json:"what" doc:"What is measured where"`
	Quantity   string   `json:"quantity" enum:"voltage,current,resistance,power,temperature,illuminance,ppfd,light,duration" doc:"What kind of figure"`
	Expected   float64  `json:"expected" doc:"As calculated, SI (temperatures °C; light over another reading)"`
	Model      float64  `json:"model" doc:"± what parts and calculation leave open, SI"`
	Within     float64  `json:"within" doc:"± what these and the tool leave open together, SI"`
	Tool       string   `json:"tool" doc:"Id of the tool to take, or that was taken"`
	Wanted     *float64 `json:"wanted" doc:"What it should be for the light to be as meant; null: nothing is asked of it"`
	AtLeast    bool     `json:"atLeast,omitempty" doc:"Expected is the least that it may be: more agrees"`
	Open       bool     `json:"open" doc:"Nothing is known of it: the reading itself is wanted"`
	Actual     *float64 `json:"actual" doc:"What was read; of one that moved, the middle"`
	Calculated string   `json:"calculated,omitempty" enum:"agrees,doubtful,differs" doc:"The reading against the calculation"`
	AsWanted   string   `json:"asWanted,omitempty" doc:"The reading against what was wanted"`
	Ask        *Slip    `json:"ask" doc:"What may have been meant instead; null: nothing is asked"`

	Replaces *Replacement                      `json:"replaces" doc:"What of the light it stands in for; null: nothing, or it agrees"`
	Replace  func(actual float64) *Replacement `json:"-"`
}

// A Replacement is what of the light a reading stands in for: what was measured is better
// than what is stated.
type Replacement struct {
	Label   string   `json:"label" doc:"What changes, in a few words"`
	Figures []Figure `json:"figures" nullable:"false" doc:"The figures, one or more, with what they become"`
	Read    string   `json:"read" doc:"What was read, in words"`
}

// A Figure is a figure of the light with what it becomes.
type Figure struct {
	Pointer string  `json:"pointer" doc:"JSON Pointer of the figure"`
	Value   float64 `json:"value" doc:"In the unit of the figure"`
	At      string  `json:"at" doc:"Path of the figure through ids, to mark it as measured"`
}

// wantedShare is how far a reading may lie from what was wanted (common practice: a tenth).
const wantedShare = 0.10

// Of is a reading that is expected, off by a share of it for all that parts and calculation
// leave open, with the best tool.
func Of(what, quantity string, expected, share float64) *Reading {
	r := &Reading{What: what, Quantity: quantity, Expected: expected, Model: math.Abs(expected) * share}
	r.Take(nil)
	return r
}

// Least is a reading that is to be no lower than it says.
func Least(what, quantity string, expected float64) *Reading {
	r := Of(what, quantity, expected, 0)
	r.AtLeast = true
	return r
}

// Wanting sets what it should be for the light to be as meant.
func (r *Reading) Wanting(x float64) *Reading {
	r.Wanted = &x
	return r
}

// Take takes the best tool that is at hand; no list: all are.
func (r *Reading) Take(have []string) {
	if list := For(r.Quantity, r.Expected, have); len(list) > 0 {
		r.with(&list[0])
	}
}

func (r *Reading) with(t *Tool) {
	r.Tool, r.Within = t.ID, math.Hypot(r.Model, t.Within(r.Expected))
}

// Read judges what was recorded of it, if anything was read.
func (r *Reading) Read(d *design.Done) {
	if d.Reading == nil {
		return
	}
	to := *d.Reading
	if d.To != nil {
		to = *d.To
	}
	r.Judge(*d.Reading, to, d.With)
	if d.Sure && r.Ask != nil {
		r.Ask = nil
		r.replace()
	}
}

// Judge sets what was read against expectation and wish: with u what parts, calculation and
// tool leave open together, it agrees to within u, is doubtful to within 2u and differs
// beyond; as wanted to within a tenth. Of one that moved, from and to are its ends (pass the
// same for one that stood); its middle is judged, and half its way counts to u. A tool of
// another quantity is no tool.
func (r *Reading) Judge(from, to float64, tool string) {
	if t := ByID(tool); t != nil && t.Quantity == r.Quantity {
		r.with(t)
	}
	if to != from {
		r.Within = math.Hypot(r.Within, (to-from)/2)
	}
	actual := (from + to) / 2
	r.Actual = &actual
	if r.Open {
		r.replace()
		return
	}
	off := math.Abs(actual - r.Expected)
	if r.AtLeast && actual > r.Expected {
		off = 0
	}
	switch {
	case off <= r.Within*(1+1e-12):
		r.Calculated = "agrees"
	case off <= 2*r.Within*(1+1e-12):
		r.Calculated = "doubtful"
	default:
		r.Calculated = "differs"
		r.Ask = slipOf(r)
	}
	if r.Calculated != "agrees" && r.Ask == nil {
		r.replace()
	}
	if r.Wanted == nil || *r.Wanted == 0 {
		return
	}
	switch off := actual / *r.Wanted - 1; {
	case math.Abs(off) <= wantedShare:
		r.AsWanted = "as wanted"
	case off > 0:
		r.AsWanted = fmt.Sprintf("%.3g %% above what is wanted", 100*off)
	default:
		r.AsWanted = fmt.Sprintf("%.3g %% below what is wanted", -100*off)
	}
}

func (r *Reading) replace() {
	if r.Replace != nil {
		r.Replaces = r.Replace(*r.Actual)
	}
}

// Say is a figure of a quantity with its unit.
func Say(quantity string, x float64) string {
	switch quantity {
	case "voltage":
		return units.Volts(x)
	case "current":
		return units.Amps(x)
	case "resistance":
		return units.Ohms(x)
	case "power":
		return units.Watts(x)
	case "temperature":
		return units.Degrees(x)
	case "duration":
		return units.Duration(x)
	case "illuminance":
		return fmt.Sprintf("%.3g lx", x)
	case "ppfd":
		return fmt.Sprintf("%.3g µmol/(m²·s)", x)
	}
	return fmt.Sprintf("%.0f %%", 100*x)
}
