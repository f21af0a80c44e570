package circuit

import (
	"math"
	"testing"

	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/internal/sample"
)

// A measured load is straight between its readings and goes on beyond them as is said:
// by closed forms, with slopes as differences tell them, and on a limited supply it
// stands where its readings do.
func TestMeasuredLoadBeyondItsReadings(t *testing.T) {
	points := []design.LoadPoint{{VoltageV: 50, CurrentA: 0.2}, {VoltageV: 54, CurrentA: 0.6}, {VoltageV: 56, CurrentA: 1}}
	for beyond, c := range map[string]struct{ at40, at49, at60 float64 }{
		"":        {0, 0.1, 1.8},
		"slope":   {0, 0.1, 1.8},
		"ohmic":   {0.16, 0.196, 60.0 / 56},
		"current": {0.2, 0.2, 1},
		"power":   {0.16, 0.196, 56.0 / 60},
	} {
		for v, want := range map[float64]float64{40: c.at40, 49: c.at49, 60: c.at60, 52: 0.4, 55: 0.8, 54: 0.6} {
			light := sample.OnSupply(v, 0, nil, design.Node{ID: "l", Load: &design.MeasuredLoad{Points: points, Beyond: beyond}})
			s := network(t, light).Solver()
			s.At(1, 25)
			s.Solve()
			if got := s.Point[0].InA; math.Abs(got-want) > 1e-5 {
				t.Errorf("%q at %g V: %g A, want %g A", beyond, v, got, want)
			}
			n := &s.Nodes[0]
			const h = 1e-6
			if d, slope := n.measured(v-0.01), (n.measured(v-0.01+h).a-n.measured(v-0.01-h).a)/(2*h); math.Abs(d.slope-slope) > 1e-6 || d.brk >= v-0.01 {
				t.Errorf("%q at %g V: slope %g, by differences %g; next break at %g V", beyond, v, d.slope, slope, d.brk)
			}
		}
	}
	// One reading of 3 W, its light constant from 4 V: everywhere from there 3 W, below it the
	// resistance of 4 V and 3 W; a reading that lies below is kept.
	for v, want := range map[float64]float64{9: 3.0 / 9, 6: 0.5, 4: 0.75, 2: 0.375} {
		light := sample.OnSupply(v, 0, nil, design.Node{ID: "l", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 6, CurrentA: 0.5}}, SteadyV: new(4.0), FluxLm: new(90.0)}})
		s := network(t, light).Solver()
		s.At(1, 25)
		s.Solve()
		if got := s.Point[0]; math.Abs(got.InA-want) > 1e-5 || v >= 4 && math.Abs(got.FluxLm-90) > 1e-3 || v < 4 && got.FluxLm > 30 {
			t.Errorf("constant light from 4 V, at %g V: %g A, %g lm", v, got.InA, got.FluxLm)
		}
	}
	if p := steady([]design.LoadPoint{{VoltageV: 3, CurrentA: 0.2}, {VoltageV: 6, CurrentA: 0.5}}, 4); len(p) != 2 || p[0].CurrentA != 0.2 || p[1].CurrentA != 0.75 {
		t.Errorf("with a reading below: %+v", p)
	}
	limited := design.Part{ID: "psu", Name: "p", Driver: &design.Driver{Family: "voltage", SetVoltageV: new(60.0), MaxCurrentA: new(0.75), Efficiency: new(0.9)}}
	light := sample.OnSupply(230, 0, []design.Part{limited}, design.Node{ID: "d", Driver: &design.DriverUse{PartID: "psu"}, Loads: []design.Node{{ID: "l", Load: &design.MeasuredLoad{Points: points}}}})
	s := network(t, light).Solver()
	s.At(1, 25)
	s.Solve()
	if p := s.Point[0]; math.Abs(p.OutV-54.75) > 1e-6 || p.Mode != driver.ConstantCurrent {
		t.Errorf("on a limit of 0.75 A it stands at %g V, %v", p.OutV, p.Mode)
	}
	// One that falls with voltage draws nothing where its line ends, and never less.
	falling := Node{Load: []design.LoadPoint{{VoltageV: 5, CurrentA: 1}, {VoltageV: 10, CurrentA: 0.5}}, Scale: 1}
	for v, want := range map[float64]float64{12.5: 0.25, 15: 0, 20: 0, 4: 1.1, 0.25: 0.5 * 1.475, 0: 0} {
		if got := falling.measured(v).a; math.Abs(got-want) > 1e-12 {
			t.Errorf("falling, at %g V: %g A, want %g A", v, got, want)
		}
	}
}

// Whatever can be switched is dimmed by duty: on a stiff supply the mean is the share of
// what it is when on, in current, watts and light.
func TestAnythingIsDimmedByDuty(t *testing.T) {
	led := sample.LEDPart()
	led.Emitter.FluxLm, led.Emitter.FluxCurrentA, led.Emitter.EfficacyLmPerW = new(100.0), new(0.5), new(300.0)
	parts := []design.Part{led, {ID: "strip", Name: "s", Strip: &design.Strip{VoltageV: 12, PerMetreW: new(14.4), CutM: 0.05, LoopOhm: new(0.1), FluxLmPer: new(1000.0)}},
		{ID: "res", Name: "r", Driver: &design.Driver{Family: "resistor", ResistanceOhm: new(4.0)}}, {ID: "none", Name: "n", Driver: &design.Driver{Family: "none"}}}
	array := design.Node{ID: "x", Array: &design.Array{PartID: "led", Series: 3, Parallel: 1}}
	strip := design.Node{ID: "x", Strip: &design.StripUse{PartID: "strip", PiecesM: []float64{2}}}
	load := design.Node{ID: "x", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 9, CurrentA: 0.1}, {VoltageV: 12, CurrentA: 0.4}}, FluxLm: new(80.0)}}
	under := func(part string, n design.Node) func(duty *float64) design.Node {
		return func(duty *float64) design.Node {
			return design.Node{ID: "d", Driver: &design.DriverUse{PartID: part, Dimming: &design.Level{Duty: duty}}, Loads: []design.Node{n}}
		}
	}
	switched := func(n design.Node) func(duty *float64) design.Node {
		return func(duty *float64) design.Node {
			return design.Node{ID: "d", Switch: &design.Switch{ContactOhm: 0.1, Duty: duty}, Loads: []design.Node{n}}
		}
	}
	for name, node := range map[string]func(*float64) design.Node{
		"resistor": under("res", array), "straight through": under("none", strip), "switched strip": switched(strip), "switched load": switched(load), "switched emitters": switched(array),
	} {
		var on, dimmed NodePoint
		for _, c := range []struct {
			duty *float64
			to   *NodePoint
		}{{nil, &on}, {new(0.3), &dimmed}} {
			s := network(t, sample.OnSupply(11, 0, parts, node(c.duty))).Solver()
			s.At(1, 25)
			s.Solve()
			*c.to = s.Point[s.Net.Find("x", Array)+s.Net.Find("x", Strip)+s.Net.Find("x", Load)+2]
		}
		for _, f := range []struct {
			what      string
			on, dimmd float64
		}{{"inner voltage", on.InnerV, dimmed.InnerV}, {"current", on.InA, dimmed.InA}, {"power", on.InW, dimmed.InW}, {"light", on.FluxLm, dimmed.FluxLm}} {
			if f.on <= 0 || math.Abs(f.dimmd/f.on-0.3) > 1e-4 {
				t.Errorf("%s, %s: %g when on, %g at a duty of 0.3", name, f.what, f.on, f.dimmd)
			}
		}
	}
}
