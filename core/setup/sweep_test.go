package setup

import (
	"context"
	"errors"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
)

// A sweep goes over the source's own range: an adapter ±5 % (common practice), the mains
// ±10 % (IEC 60038), cells drained to full, and a bench supply stands where it is set.
func TestSweepOfItsOwnSource(t *testing.T) {
	d := design.Driver{Family: "buck", SetCurrentA: p(0.3), Efficiency: p(0.9)}
	window := design.Driver{Family: "window", SetCurrentA: p(0.3), MinVoltageV: p(3.0), MaxVoltageV: p(40.0), Efficiency: p(0.9)}
	for name, c := range map[string]struct {
		from     design.Source
		d        design.Driver
		low, top float64
		points   int
	}{
		"adapter": {design.Source{Supply: &design.Supply{VoltageV: 12}}, d, 11.4, 12.6, 3},
		"rail":    {design.Source{Supply: &design.Supply{VoltageV: 12, Kind: "rail"}}, d, 11.4, 12.6, 3},
		"bench":   {design.Source{Supply: &design.Supply{VoltageV: 12, Kind: "bench"}}, d, 12, 12, 1},
		"mains":   {mains, window, 207, 253, 3},
		"cells":   {design.Source{Pack: &design.Pack{PartID: "c", Series: 3, Parallel: 1}}, d, 3 * 3.2, 3 * 4.19, 3},
	} {
		c.from.Name = "the " + name
		got := plan(t, light(c.from, c.d, design.DriverUse{}, 2), Question{})
		l := got.Line
		if len(l) != c.points || got.Source != c.from.Name || math.Abs(l[0].SourceV-c.low) > 0.03*c.low || math.Abs(l[len(l)-1].SourceV-c.top) > 0.001*c.top {
			t.Errorf("%s: %q, %+v", name, got.Source, l)
		}
	}
}

// Behind a dropper the source is told by its own voltage, and the driver's input beside.
func TestSweepBehindADropper(t *testing.T) {
	l := light(design.Source{Name: "The adapter", Supply: &design.Supply{VoltageV: 12}}, design.Driver{Family: "resistor", ResistanceOhm: p(3.3)}, design.DriverUse{SetCurrentA: p(0.3)}, 1)
	l.Parts = append(l.Parts, design.Part{ID: "drop", Name: "drop", Driver: &design.Driver{Family: "dropper", DropV: p(7.0)}})
	feed := &l.Variants[0].Feeds[0]
	feed.Loads = []design.Node{{ID: "above", Driver: &design.DriverUse{PartID: "drop"}, Loads: feed.Loads}}
	got := plan(t, l, Question{})
	if n := got.Line[1]; math.Abs(n.SourceV-12) > 1e-9 || math.Abs(n.InV-5) > 0.05 {
		t.Errorf("%+v", n)
	}
	if s := step(t, got, 0, "current-nominal"); !strings.Contains(s.Do, "The adapter as it should be, at 12.0 V (4.97 V at the driver)") {
		t.Errorf("%q", s.Do)
	}
	if s := step(t, got, 0, "current-lowest"); !strings.Contains(s.Do, "5 % low, at 11.4 V") {
		t.Errorf("%q", s.Do)
	}
}

// Any range of input can be tried, whatever the source; a linear driver of 0.3 V gives its
// current from 0.3 V above its emitters and loses the rest.
func TestTriedRange(t *testing.T) {
	l := light(design.Source{Pack: &design.Pack{PartID: "c", Series: 1, Parallel: 1}}, design.Driver{Family: "linear", SetCurrentA: p(0.3), HeadroomV: p(0.3)}, design.DriverUse{}, 2)
	got := plan(t, l, Question{LowV: 5, HighV: 8}).Tried
	if len(got) != triedPoints {
		t.Fatalf("%+v", got)
	}
	for i, point := range got {
		if v := 5 + 0.5*float64(i); math.Abs(point.SourceV-v) > 1e-9 || math.Abs(point.InV-v) > 1e-6 {
			t.Errorf("point %d at %g V, %g V", i, point.SourceV, point.InV)
		}
		if full := point.InV > point.OutV+0.3-1e-6; (math.Abs(point.OutA-0.3) < 1e-6) != (full && point.InV > 6.7) || math.Abs(point.LossW-(point.InV-point.OutV)*point.OutA) > 1e-3 {
			t.Errorf("from %g V: %+v", point.InV, point)
		}
	}
	if l.Variants[0].Feeds[0].Sources[0].Pack == nil {
		t.Error("the light itself was changed")
	}
	for _, q := range []Question{{LowV: 8, HighV: 5}, {LowV: -1, HighV: 5}, {HighV: 5}, {LowV: 5, HighV: 2000}, {LowV: math.NaN(), HighV: 5}} {
		q.Node = "driver"
		if _, err := For(context.Background(), l, q); !errors.Is(err, ErrRange) {
			t.Errorf("%g to %g V: %v", q.LowV, q.HighV, err)
		}
	}
}
