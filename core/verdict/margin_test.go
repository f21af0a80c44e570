package verdict

import (
	"strings"
	"testing"

	"photherm/core/design"
)

// A fix that was tried names the margin it keeps, in the terms of the limit that was crossed.
func TestFixesNameTheirMargin(t *testing.T) {
	lamp := func(change func(*design.Light)) *design.Light {
		l := load(t, "shore-search-handlamp.json")
		pack := l.Variants[0].Feeds[0].Sources[0].Pack // with a board for four no other number is offered
		pack.ProtectionID, pack.Charger = "", nil
		change(l)
		return l
	}
	driverOf := func(l *design.Light) *design.Driver { return l.Parts[1].Driver }
	for code, c := range map[string]struct {
		light *design.Light
		says  string
	}{
		"touch":              {lamp(func(*design.Light) {}), "K below the limit"},
		"source-above-input": {lamp(func(l *design.Light) { driverOf(l).InputMaxV = p(15.0) }), "2.40 V below what the driver bears"},
		"cell-discharge":     {lamp(func(l *design.Light) { l.Parts[0].Cell.MaxDischargeA = p(0.8) }), "below what a cell may give"},
	} {
		f := find(judgeLight(t, c.light), code)
		if f == nil || f.Fix == nil || !strings.Contains(f.Fix.Then, c.says) {
			t.Errorf("%s: %+v", code, f)
			if f != nil {
				t.Errorf("%+v", f.Fix)
			}
		}
	}
	strip := load(t, "chart-table-strip.json")
	use := design.FindNode(strip.Variants[0].Feeds[0].Loads, "table").Strip
	use.PiecesM = []float64{8.568}
	if f := find(judgeLight(t, strip), "far-end-dark"); f == nil || f.Fix == nil || !strings.Contains(f.Fix.Then, "the darkest segment then has 9") {
		t.Errorf("%+v", f)
	}
}
