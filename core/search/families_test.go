package search

import (
	"context"
	"slices"
	"testing"

	"photherm/core/design"
)

// Which families can work is told by the voltages alone (electrotechnical common knowledge):
// a step-down or linear driver from above its load, a step-up from below, both ways at once
// where the source lies now above and now below; the mains need a driver made for them.
func TestFamiliesByVoltage(t *testing.T) {
	cells := func(series, emitters int) func(*design.Light, *design.Node) {
		return func(l *design.Light, n *design.Node) {
			l.Variants[0].Feeds[0].Sources[0].Pack.Series = series
			n.Loads[0].Array.Series = emitters
		}
	}
	for _, c := range []struct {
		name    string
		change  func(*design.Light, *design.Node)
		can, no []string
	}{
		{"four cells, one white emitter", cells(4, 1), []string{"buck", "linear", "buck-boost", "voltage", "resistor"}, []string{"boost"}},
		{"one cell, three in series", cells(1, 3), []string{"boost", "buck-boost", "voltage"}, []string{"buck", "linear", "resistor"}},
		{"the wall", func(l *design.Light, _ *design.Node) {
			l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "wall", Mains: &design.Mains{VoltageV: 230}}
		}, []string{"window", "supply"}, nil},
	} {
		light, n := lampAndDriver(t)
		n.Driver = &design.DriverUse{}
		c.change(light, n)
		found, err := MatchFamilies(context.Background(), light, 0, n.ID)
		if err != nil {
			t.Fatal(err)
		}
		var can, no []string
		for _, f := range found {
			if f.Fit == No {
				no = append(no, f.Family)
				if f.Why == "" {
					t.Errorf("%s: %s cannot, and nothing says why", c.name, f.Family)
				}
			} else if can = append(can, f.Family); len(no) > 0 {
				t.Errorf("%s: %s can, and stands behind one that cannot", c.name, f.Family)
			}
		}
		slices.Sort(can)
		slices.Sort(c.can)
		slices.Sort(no)
		if !slices.Equal(can, c.can) || !slices.Equal(no, c.no) {
			t.Errorf("%s: can %v, cannot %v; want %v and %v (%+v)", c.name, can, no, c.can, c.no, found)
		}
	}
	light, n := lampAndDriver(t)
	light.Variants[0].Feeds[0].Sources = []design.Source{}
	found, err := MatchFamilies(context.Background(), light, 0, n.ID)
	if err != nil || len(found) != len(otherFamilies) || slices.ContainsFunc(found, func(f Family) bool { return f.Fit == No }) {
		t.Errorf("nothing feeds it yet: %+v, %v; nothing can be said against any", found, err)
	}
	if _, err := MatchFamilies(context.Background(), light, 0, "nowhere"); err == nil {
		t.Error("a place that does not exist is asked about")
	}
}
