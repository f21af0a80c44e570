package verdict

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"photherm/core/chain"
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
	driverUse := func(l *design.Light) *design.DriverUse {
		return design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").Driver
	}
	for code, c := range map[string]struct {
		light *design.Light
		says  string
	}{
		"touch":              {lamp(func(*design.Light) {}), "K below the limit"},
		"source-above-input": {lamp(func(l *design.Light) { driverOf(l).InputMaxV = p(15.0) }), "2.40 V below what the driver bears"},
		"cell-discharge":     {lamp(func(l *design.Light) { l.Parts[0].Cell.MaxDischargeA = p(0.8) }), "below what a cell may give"},
		"driver-over-current": {lamp(func(l *design.Light) {
			driverOf(l).MaxCurrentA = p(0.6)
			driverUse(l).SetCurrentA = p(0.7)
		}), "at the most it gives"},
		// No limit is crossed: what is nearest to one in the light is told.
		"not-dimmable": {lamp(func(l *design.Light) {
			driverOf(l).Dimming = "none"
			driverUse(l).Dimming = &design.Level{Current: p(0.5)}
			driverUse(l).Mode, driverUse(l).Modes = "", nil
			l.Variants[0].Bodies[0].Touchable = false
		}), " K below the limit"},
		"not-dimmable in the hand": {lamp(func(l *design.Light) {
			driverOf(l).Dimming = "none"
			driverUse(l).Dimming = &design.Level{Current: p(0.5)}
			driverUse(l).Mode, driverUse(l).Modes = "", nil
		}), " K above the limit"},
	} {
		code, _, _ = strings.Cut(code, " ")
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

// Each fix was tried, or says that it was not: of twelve drivers set too high, eight are.
func TestFixesThatWereNotTried(t *testing.T) {
	l := load(t, "shore-search-handlamp.json")
	loads := &l.Variants[0].Feeds[0].Loads
	one, err := design.Encode(l)
	if err != nil {
		t.Fatal(err)
	}
	for n := range 11 {
		copied, err := design.Decode(one)
		if err != nil {
			t.Fatal(err)
		}
		more := copied.Variants[0].Feeds[0].Loads
		rename(more, fmt.Sprintf("-%d", n))
		*loads = append(*loads, more...)
	}
	l.Parts[1].Driver.MaxCurrentA = p(0.3)
	tried, not := 0, 0
	for _, f := range judgeLight(t, l) {
		switch {
		case f.Fix == nil:
		case f.Fix.Then == untried:
			not++
		default:
			tried++
		}
	}
	width := len(compiled(t, l).Columns())
	if tried+not < 12 || tried != min(mostTried, mostWidth/width) {
		t.Errorf("%d tried, %d not, of lights with %d figures", tried, not, width)
	}
	// Ten pieces of strip that cannot be cut there: eight are tried, however few figures there are.
	strip := load(t, "chart-table-strip.json")
	use := design.FindNode(strip.Variants[0].Feeds[0].Loads, "table").Strip
	use.PiecesM = slices.Repeat([]float64{0.333}, 10)
	tried, not = 0, 0
	for _, f := range judgeLight(t, strip) {
		if f.Code == "cut-interval" && f.Fix != nil && f.Fix.Then == untried {
			not++
		} else if f.Fix != nil {
			tried++
		}
	}
	if tried != mostTried || tried+not < 10 {
		t.Errorf("of ten pieces %d tried, %d not", tried, not)
	}
}

// The nearest limit of temperature is that of whatever is nearest to its own.
func TestSpare(t *testing.T) {
	l := load(t, "shore-search-handlamp.json")
	l.Variants[0].Bodies[0].Touchable = false
	spare := func() string {
		m := compiled(t, l)
		run, err := m.Solver().Run(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		j := newJudge(m)
		j.run, j.ctx = run, t.Context()
		return j.spare()
	}
	if words := spare(); !strings.HasPrefix(words, "junctions of ") || !strings.HasSuffix(words, "below the limit") {
		t.Errorf("%q", words)
	}
	l.Variants[0].Bodies[0].MaxC = p(60.0)
	if words := spare(); !strings.HasPrefix(words, l.Variants[0].Bodies[0].Name) {
		t.Errorf("%q", words)
	}
	l.Variants[0].Bodies[0].MaxC = p(40.0)
	if words := spare(); !strings.Contains(words, "above the limit") {
		t.Errorf("%q", words)
	}
	for i := range l.Parts {
		if e := l.Parts[i].Emitter; e != nil {
			e.MaxJunctionC = nil
		}
	}
	l.Variants[0].Bodies[0].MaxC = nil
	if words := spare(); words != "" {
		t.Errorf("nothing is known: %q", words)
	}
}

func rename(nodes []design.Node, by string) {
	for i := range nodes {
		nodes[i].ID += by
		rename(nodes[i].Loads, by)
	}
}

func compiled(t *testing.T, l *design.Light) *chain.Model {
	t.Helper()
	m, err := chain.Compile(l, chain.Options{})
	if err != nil {
		t.Fatal(err)
	}
	return m
}
