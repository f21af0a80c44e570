package driver

import (
	"math"
	"testing"

	"photherm/core/design"
)

// Only what makes its output anew can isolate: known by what it does, for every family.
func TestConverts(t *testing.T) {
	for family, want := range map[string]bool{"none": false, "resistor": false, "dropper": false, "linear": false, "buck": true, "boost": true, "buck-boost": true, "window": true, "voltage": true} {
		if Converts(&design.Driver{Family: family}) != want {
			t.Errorf("%s converts: %v", family, !want)
		}
	}
}

// A supply without a stated limit that is dimmed by its limit: its watts over its volts, 60 W over 24 V
// are 2.5 A, are what a dimmer turns down, to its floor; undimmed nothing limits it. A stated limit goes
// first, and one that is not dimmed so has none.
func TestDimmedByWattsOverVolts(t *testing.T) {
	of := func(dimming string, watts, limit *float64, level float64) Driver {
		d, _ := New(&design.Driver{Family: "voltage", SetVoltageV: new(24.0), MaxOutputW: watts, MaxCurrentA: limit, Dimming: dimming, DimFloor: new(0.1)}, &design.DriverUse{Dimming: &design.Level{Current: &level}})
		return d
	}
	for _, c := range []struct {
		dimming      string
		watts, limit *float64
		level, want  float64
	}{
		{"phase-cut", new(60.0), nil, 0.5, 1.25}, {"phase-cut", new(60.0), nil, 0.02, 0.25}, {"phase-cut", new(60.0), nil, 1, math.Inf(1)}, {"phase-cut", new(60.0), nil, 0, 0},
		{"phase-cut", new(60.0), new(4.0), 0.5, 2}, {"phase-cut", nil, nil, 0.5, math.Inf(1)}, {"pots", new(60.0), nil, 0.5, math.Inf(1)}, {"three-in-one", new(60.0), nil, 0.5, 1.25},
	} {
		d := of(c.dimming, c.watts, c.limit, c.level)
		if got := d.LimitA(); got != c.want && math.Abs(got-c.want) > 1e-12 {
			t.Errorf("%+v: %g A", c, got)
		}
	}
	if d := of("phase-cut", new(60.0), nil, 0.5); math.Abs(d.KnobMinA-0.25) > 1e-12 || math.Abs(d.KnobMaxA-2.5) > 1e-12 {
		t.Errorf("its knob goes from %g to %g A", d.KnobMinA, d.KnobMaxA)
	}
}

// Thresholds have the tolerance of a wire, a millionth, and no more; the power factor is one where it is
// not said; a window begins at its lowest voltage but for as much.
func TestThresholdsHaveATolerance(t *testing.T) {
	for _, restart := range []*float64{nil, new(13.0)} {
		d, _ := New(&design.Driver{Family: "buck", SetCurrentA: new(0.3), InputMinV: new(12.0), RestartV: restart}, &design.DriverUse{})
		starts, lets := 12.0, 12*0.95
		if restart != nil {
			starts, lets = 13, 12
		}
		if d.RestartV >= starts || d.RestartV < starts*(1-2e-6) || d.LockV > lets || d.LockV < lets*(1-2e-6) || d.Power != 1 {
			t.Errorf("starts at %.9g, lets go at %.9g V, power factor %g", d.RestartV, d.LockV, d.Power)
		}
	}
	d, _ := New(&design.Driver{Family: "window", SetCurrentA: new(0.3), MinVoltageV: new(20.0), MaxVoltageV: new(40.0), PowerFactor: new(0.6)}, &design.DriverUse{})
	if d.Power != 0.6 || !d.InsideWindow(20*(1-5e-7), 0.3) || d.InsideWindow(20*(1-1e-5), 0.3) {
		t.Errorf("power factor %g, inside at its edge %v, a hundred-thousandth below %v", d.Power, d.InsideWindow(20*(1-5e-7), 0.3), d.InsideWindow(20*(1-1e-5), 0.3))
	}
}
