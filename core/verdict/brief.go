package verdict

import (
	"fmt"
	"strings"

	"photherm/core/source"
	"photherm/core/units"
)

// money holds the prices of its parts against what the light may cost; one without a
// price costs nothing yet.
func (j *judge) money() {
	may := j.light.Brief.Money
	if may == nil {
		return
	}
	cost := j.model.Cost()
	if cost.Sum <= *may {
		return
	}
	f := Finding{Code: "costs-more", Severity: Note, Stage: "source", Pointer: "/brief/money", Title: "Costs more than it may",
		Why: fmt.Sprintf("Its parts come to %.2f, wanted %.2f at most.", cost.Sum, *may), Value: &cost.Sum, Limit: may}
	if cost.Unpriced > 0 {
		f.Why += fmt.Sprintf(" Of %d of them the price is not known.", cost.Unpriced)
	}
	j.add(f)
}

func (j *judge) brief() {
	b, a := &j.light.Brief, &j.answers
	if b.OutputLm != nil && a.FluxLm != nil && *a.FluxLm < *b.OutputLm {
		is, wanted := units.Apart(*a.FluxLm, *b.OutputLm, "luminousFlux", 3)
		j.add(Finding{Code: "output-short", Severity: Note, Stage: "light", Pointer: "/brief/outputLm", Title: "Less light than wanted",
			Why: fmt.Sprintf("%s at 30 s, wanted %s.", is, wanted), Value: a.FluxLm, Limit: b.OutputLm, Unit: "lm"})
	}
	lit, words := a.HalfS, "%s to half light, wanted %s."
	if lit == nil && a.InputW > 0 { // its lumens are not known, or there are none
		lit, words = a.EndS, "It is out after %s, wanted %s to half light."
	}
	if b.RuntimeH != nil && lit != nil && *lit < *b.RuntimeH*3600 {
		limit := *b.RuntimeH * 3600
		j.add(Finding{Code: "runtime-short", Severity: Note, Stage: "source", Pointer: "/brief/runtimeH", Title: "Shorter than wanted",
			Why: fmt.Sprintf(words, units.Duration(*lit), units.Duration(limit)), Value: lit, Limit: &limit, Unit: "s"})
	}
	if b.EmptyH != nil && a.EndS != nil && *a.EndS < *b.EmptyH*3600 {
		limit := *b.EmptyH * 3600
		j.add(Finding{Code: "empty-early", Severity: Note, Stage: "source", Pointer: "/brief/emptyH", Title: "Empty sooner than wanted",
			Why: fmt.Sprintf("Dark after %s, wanted %s.", units.Duration(*a.EndS), units.Duration(limit)), Value: a.EndS, Limit: &limit, Unit: "s"})
	}
	j.money()
	for i := range j.model.Variant().Feeds {
		for _, s := range j.model.Variant().Feeds[i].Sources {
			if s.Pack == nil || j.data(s.Pack.PartID).Cell == nil {
				continue
			}
			cell := j.data(s.Pack.PartID).Cell
			if !strings.HasPrefix(cell.Chemistry, "li") {
				continue
			}
			if source.Primary(cell) {
				j.add(Finding{Code: "lithium-care", Severity: Note, Stage: "source", Node: s.ID, Pointer: j.pointerTo(s.ID) + "/pack/partId", Title: "Lithium cells",
					Why: "Never charge them, never mix fresh and used ones or makes, take all out together; carry and post them with their poles covered, after the carrier's rules."})
				return
			}
			j.add(Finding{Code: "lithium-care", Severity: Note, Stage: "source", Node: s.ID, Pointer: j.pointerTo(s.ID) + "/pack/partId", Title: "Lithium cells",
				Why: "Tested and matched cells only, with protection and a fuse; never solder to a bare cell; connect outputs before the cell, one wire at a time; charge attended; carry and post them with their poles covered, after the carrier's rules."})
			return
		}
	}
}
