package begin_test

import (
	"slices"
	"testing"

	"photherm/core/begin"
	"photherm/core/design"
	"photherm/core/verdict"
)

// Cells that are said to be protected are cut off where boards of their kind mostly cut, counted as
// assumed; of others nothing is assumed, and what nothing switches off is told.
func TestProtectedCells(t *testing.T) {
	for source, guarded := range map[string]bool{"3 protected 18650 in series": true, "3S 18650 with BMS": true, "3 × 18650 in series": false} {
		b, run, _ := answered(t, begin.Facts{Way: "parts", Source: source, Emitters: "2 × 3 V 0.7 A 100 lm/W"}, 0)
		cut := b.Light.Variants[0].Feeds[0].Sources[0].Pack.CutoffCellV
		counted := slices.ContainsFunc(b.Light.Variants[0].Assumed, func(a design.Assumption) bool { return a.At == "/feeds/power/sources/pack/pack/cutoffCellV" })
		findings, err := verdict.Judge(t.Context(), run)
		if err != nil {
			t.Fatal(err)
		}
		told := slices.ContainsFunc(findings, func(f verdict.Finding) bool { return f.Code == "never-cut-off" })
		if (cut != nil) != guarded || counted != guarded || told == guarded || guarded && *cut != 2.5 {
			t.Errorf("%q: cut off at %v, assumed: %v, told: %v", source, cut, counted, told)
		}
	}
}
