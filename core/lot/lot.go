// Package lot answers which of a heap of found cells are fit to be used, and how they are
// grouped into a pack whose weakest group is strongest.
package lot

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"photherm/core/design"
)

// Format and Version identify a lot's document.
const (
	Format  = "photherm/lot"
	Version = 1
)

// A Lot is a heap of cells of one chemistry and size that were measured.
type Lot struct {
	Format    string  `json:"format" enum:"photherm/lot" doc:"Always photherm/lot"`
	Version   int     `json:"version" minimum:"1" doc:"Version of the format"`
	Name      string  `json:"name" minLength:"1" maxLength:"120" doc:"What it is called"`
	Note      string  `json:"note,omitempty" maxLength:"4000" doc:"Where the cells come from"`
	Chemistry string  `json:"chemistry" enum:"li-ion-4.2,li-ion-4.35,lifepo4,nimh,lead-acid" doc:"Chemistry of all of them"`
	Size      string  `json:"size,omitempty" maxLength:"30" doc:"Size; a generic code such as 18650"`
	Rules     Rules   `json:"rules" doc:"By what they are graded"`
	Cells     []Found `json:"cells" nullable:"false" maxItems:"1000" doc:"The cells"`
}

// A Found is one cell of a lot; what was not measured is absent.
type Found struct {
	Label         string   `json:"label" minLength:"1" maxLength:"30" doc:"What is written on it, one of a kind in its lot"`
	PrintedAh     *float64 `json:"printedAh,omitempty" minimum:"0.001" maximum:"1000" doc:"Capacity printed on it, Ah"`
	MeasuredAh    *float64 `json:"measuredAh,omitempty" minimum:"0" maximum:"1000" doc:"Capacity it gave, Ah"`
	ResistanceOhm *float64 `json:"resistanceOhm,omitempty" minimum:"0" maximum:"100" doc:"Resistance, Ω"`
	FoundV        *float64 `json:"foundV,omitempty" minimum:"0" maximum:"5" doc:"Voltage it was found at, V"`
	RestingV      *float64 `json:"restingV,omitempty" minimum:"0" maximum:"5" doc:"Voltage after it was charged and left alone, V"`
	RestDays      *float64 `json:"restDays,omitempty" minimum:"0" maximum:"10000" doc:"For how many days it was left"`
	Date          string   `json:"date,omitempty" maxLength:"10" doc:"When it was measured, YYYY-MM-DD"`
	Look          string   `json:"look,omitempty" enum:"good,wrap-torn,rust,dent,leak,hot" doc:"How it looks, or whether it became hot as it was charged; absent: not looked at"`
	Note          string   `json:"note,omitempty" maxLength:"500" doc:"Remarks"`
}

// Rules are those of grading; what is absent is as usual.
type Rules struct {
	GoodShare *float64 `json:"goodShare,omitempty" minimum:"0" maximum:"1.5" doc:"Grade A from this share of the printed capacity; absent: 0.8"`
	FairShare *float64 `json:"fairShare,omitempty" minimum:"0" maximum:"1.5" doc:"Grade B from this share; absent: 0.6; below it is rejected"`
	GoodOhm   *float64 `json:"goodOhm,omitempty" minimum:"0" maximum:"100" doc:"Grade A up to this resistance, Ω; absent: 0.08"`
	FairOhm   *float64 `json:"fairOhm,omitempty" minimum:"0" maximum:"100" doc:"Grade B up to this resistance, Ω; absent: 0.15; above it is rejected"`
	DeadV     *float64 `json:"deadV,omitempty" minimum:"0" maximum:"5" doc:"Found below this voltage it is rejected, V; absent: usual for the chemistry"`
	RestV     *float64 `json:"restV,omitempty" minimum:"0" maximum:"5" doc:"Charged and left alone it still has this voltage, V; absent: usual for the chemistry"`
	RestDays  *float64 `json:"restDays,omitempty" minimum:"0" maximum:"10000" doc:"For at least so many days; absent: 7"`
}

// The rules where they are silent. Common practice: 80 % and 60 % of what is printed, 80 and
// 150 mΩ for cells of the common round size, a week of rest. Voltages by chemistry: what was
// drained further may have grown copper or reversed; what falls further in a week loses it
// inside.
const (
	goodShare, fairShare = 0.8, 0.6
	goodOhm, fairOhm     = 0.08, 0.15
	restDays             = 7
)

var restVolts = map[string]struct{ dead, rest float64 }{
	"li-ion-4.2": {2.0, 4.0}, "li-ion-4.35": {2.0, 4.12}, "lifepo4": {1.8, 3.30}, "nimh": {0.8, 1.28}, "lead-acid": {1.7, 2.10},
}

func of(given *float64, usual float64) float64 {
	if given != nil {
		return *given
	}
	return usual
}

// Sizes and how much a cell of them can hold: suspect above the first, impossible above the
// second (common practice, from memory, Ah).
var plausibleAh = map[string][2]float64{
	"18650": {3.6, 4.2}, "21700": {5.2, 6.5}, "26650": {5.8, 7.0}, "14500": {1.1, 1.5}, "AA": {2.8, 3.2}, "AAA": {1.2, 1.4},
}

// Plausible tells what is wrong with a capacity for a size; impossible tells that it cannot
// be. Empty: nothing is known against it.
func Plausible(size string, ah float64) (why string, impossible bool) {
	most, ok := plausibleAh[size]
	switch {
	case ok && ah > most[1]:
		return fmt.Sprintf("no %s cell holds %.3g Ah", size, ah), true
	case ok && ah > most[0]:
		return fmt.Sprintf("%.3g Ah is more than %s cells hold as a rule: measure again", ah, size), false
	}
	return "", false
}

// A Graded cell is one with its grade.
type Graded struct {
	Label   string   `json:"label"`
	Grade   string   `json:"grade" enum:"A,B,reject,open" doc:"open: something is not measured yet"`
	Reasons []string `json:"reasons" nullable:"false" doc:"Why it is not better, or what is missing"`
}

// Grade grades every cell of a lot.
func Grade(l *Lot) []Graded {
	out := make([]Graded, len(l.Cells))
	for i := range l.Cells {
		out[i] = l.grade(&l.Cells[i])
	}
	return out
}

func (l *Lot) grade(c *Found) Graded {
	g := Graded{Label: c.Label, Grade: "A", Reasons: []string{}}
	worse := func(grade, format string, args ...any) {
		g.Reasons = append(g.Reasons, fmt.Sprintf(format, args...))
		order := []string{"A", "B", "open", "reject"}
		if slices.Index(order, grade) > slices.Index(order, g.Grade) {
			g.Grade = grade
		}
	}
	switch c.Look {
	case "leak", "dent":
		worse("reject", "it has a %s: it may short inside", c.Look)
	case "hot":
		worse("reject", "it became hot as it was charged")
	case "rust":
		worse("B", "rust at its ends: look whether it is tight")
	case "wrap-torn":
		worse("B", "its wrap is torn: give it a new one before use")
	}
	usual := restVolts[l.Chemistry]
	if dead := of(l.Rules.DeadV, usual.dead); c.FoundV != nil && *c.FoundV < dead {
		worse("reject", "it was found at %.3g V, below %.3g V", *c.FoundV, dead)
	}
	l.capacity(c, worse)
	switch good, fair := of(l.Rules.GoodOhm, goodOhm), of(l.Rules.FairOhm, fairOhm); {
	case c.ResistanceOhm == nil:
		worse("open", "its resistance is not measured")
	case *c.ResistanceOhm <= 0:
		worse("open", "0 Ω is not a resistance: measure it again with four leads")
	case *c.ResistanceOhm > fair:
		worse("reject", "%.0f mΩ, above %.0f", 1e3**c.ResistanceOhm, 1e3*fair)
	case *c.ResistanceOhm > good:
		worse("B", "%.0f mΩ, above %.0f", 1e3**c.ResistanceOhm, 1e3*good)
	}
	rest, days := of(l.Rules.RestV, usual.rest), of(l.Rules.RestDays, restDays)
	switch {
	case c.RestingV == nil:
		worse("open", "its voltage after %.3g days of rest is not measured", days)
	case *c.RestingV < rest:
		worse("reject", "it fell to %.3g V as it was left alone, below %.3g V: it loses its charge inside", *c.RestingV, rest)
	case c.RestDays == nil || *c.RestDays < days:
		worse("open", "it was left alone for less than %.3g days", days)
	}
	return g
}

func (l *Lot) capacity(c *Found, worse func(grade, format string, args ...any)) {
	if c.MeasuredAh == nil {
		worse("open", "its capacity is not measured")
		return
	}
	if why, impossible := Plausible(l.Size, *c.MeasuredAh); impossible {
		worse("open", "%s", why)
	} else if why != "" {
		worse("B", "%s", why)
	}
	if c.PrintedAh == nil {
		return // it is judged by what it gives alone
	}
	if why, impossible := Plausible(l.Size, *c.PrintedAh); impossible {
		worse("A", "what is printed cannot be: %s", why)
		return
	}
	share := *c.MeasuredAh / *c.PrintedAh
	switch good, fair := of(l.Rules.GoodShare, goodShare), of(l.Rules.FairShare, fairShare); {
	case share < fair:
		worse("reject", "gave %.0f %% of what is printed, under %.0f %%", 100*share, 100*fair)
	case share < good:
		worse("B", "gave %.0f %% of what is printed, under %.0f %%", 100*share, 100*good)
	}
}

// Check reports what the types alone cannot hold; nil or a design.Problems.
func Check(l *Lot) error {
	var problems design.Problems
	seen := map[string]bool{}
	for i, c := range l.Cells {
		at := fmt.Sprintf("/cells/%d/label", i)
		switch key := strings.ToLower(strings.TrimSpace(c.Label)); {
		case key == "":
			problems = append(problems, design.Problem{Pointer: at, Message: "a cell needs a label: write a number on it"})
		case seen[key]:
			problems = append(problems, design.Problem{Pointer: at, Message: fmt.Sprintf("there are two cells called %q: write another number on one of them", c.Label)})
		default:
			seen[key] = true
		}
	}
	if a, b := of(l.Rules.GoodShare, goodShare), of(l.Rules.FairShare, fairShare); a < b {
		problems = append(problems, design.Problem{Pointer: "/rules/goodShare", Message: fmt.Sprintf("grade A from %.3g of what is printed lies below grade B from %.3g", a, b)})
	}
	if a, b := of(l.Rules.GoodOhm, goodOhm), of(l.Rules.FairOhm, fairOhm); a > b {
		problems = append(problems, design.Problem{Pointer: "/rules/goodOhm", Message: fmt.Sprintf("grade A up to %.3g Ω lies above grade B up to %.3g Ω", a, b)})
	}
	if len(problems) > 0 {
		return problems
	}
	return nil
}

// Part is the mean of some cells of a lot as a part, so that a pack can be made of
// them.
func (l *Lot) Part(cells []Found) *design.Cell {
	ah, ohm := 0.0, 0.0
	for i := range cells {
		ah += *cells[i].MeasuredAh
		ohm += *cells[i].ResistanceOhm
	}
	n := float64(max(len(cells), 1))
	return &design.Cell{Chemistry: l.Chemistry, Size: l.Size, CapacityAh: math.Max(ah/n, 1e-3), ResistanceOhm: math.Max(ohm/n, 1e-5)}
}

// MostAh is what a cell of a size holds at most, as a rule and ever; not ok: the size is not known.
func MostAh(size string) (usual, ever float64, ok bool) {
	most, ok := plausibleAh[size]
	return most[0], most[1], ok
}
