package circuit

import (
	"math"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
)

// The light of a measured load is straight between its readings: by hand, halfway between
// a fifth and all of 100 lm is 60 lm.
func TestLightOfMeasuredLoad(t *testing.T) {
	light := sample.OnSupply(4.5, 0, nil, design.Node{ID: "m", Load: &design.MeasuredLoad{FluxLm: new(100.0), Points: []design.LoadPoint{
		{VoltageV: 3, CurrentA: 0.1, RelativeLight: new(0.2)}, {VoltageV: 6, CurrentA: 0.3, RelativeLight: new(1.0)}}}})
	s := network(t, light).Solver()
	s.At(1, 25)
	s.Solve()
	if p := s.Point[0]; math.Abs(p.FluxLm-60) > 1e-3 || math.Abs(p.InA-0.2) > 1e-5 {
		t.Errorf("%g lm at %g A", p.FluxLm, p.InA)
	}
}

// What a passing driver draws for itself goes through its joint too: by hand, 12 V behind
// 2 Ω with 50 mA of its own beside what 8 Ω pass on into a fixed current.
func TestOwnDrawBehindAJoint(t *testing.T) {
	parts := []design.Part{{ID: "res", Name: "r", Driver: &design.Driver{Family: "resistor", ResistanceOhm: new(8.0), QuiescentA: new(0.05)}}}
	for volts, own := range map[float64]float64{12: 0.05, 0.2: 0.05 * 0.2 / 0.5 / (1 + 2*0.05/0.5)} {
		load := design.Node{ID: "l", Load: &design.MeasuredLoad{Beyond: "current", Points: []design.LoadPoint{{VoltageV: 1, CurrentA: 0.3}}}}
		if volts < 1 {
			load = design.Node{ID: "l", Aux: &design.Auxiliary{CurrentA: 0, StartV: new(9.0)}}
		}
		light := sample.OnSupply(volts, 0, parts, design.Node{ID: "d", Fault: &design.Fault{SeriesOhm: 2}, Driver: &design.DriverUse{PartID: "res"}, Loads: []design.Node{load}})
		s := network(t, light).Solver()
		s.At(1, 25)
		s.Solve()
		passed := 0.0
		if volts > 1 {
			passed = 0.3
		}
		p := s.Point[0]
		if math.Abs(p.InA-passed-own) > 1e-6 || math.Abs(p.InnerV-(volts-2*(passed+own))) > 1e-5 || math.Abs(p.OutV-(p.InnerV-8*passed)) > 1e-5 {
			t.Errorf("at %g V: %+v, its own draw by hand %g A", volts, p, own)
		}
		if loss := 2*p.InA*p.InA + 8*passed*passed + own*p.InnerV; math.Abs(p.LossW-loss) > 1e-6 {
			t.Errorf("at %g V it loses %g W, by hand %g W", volts, p.LossW, loss)
		}
	}
}

// A driver is left out while nothing that it feeds can be computed, however deep; a load
// that is known, an auxiliary, a fault put in or a bare output lets it work: it draws at least
// its own 20 mA. One that is not chosen draws nothing, whatever hangs on it.
func TestDriverWaitsForWhatItFeeds(t *testing.T) {
	parts := []design.Part{{ID: "boost", Name: "b", Driver: &design.Driver{Family: "boost", SetCurrentA: new(0.1), Efficiency: new(0.8), EfficiencyFlat: true, QuiescentA: new(0.02), MaxVoltageV: new(40.0)}}}
	unread := func(id string) design.Node { return design.Node{ID: id, Load: &design.MeasuredLoad{}} }
	lamp := design.Node{ID: "lamp", Load: &design.MeasuredLoad{Beyond: "current", Points: []design.LoadPoint{{VoltageV: 20, CurrentA: 0.1}}}}
	behind := func(n ...design.Node) design.Node {
		return design.Node{ID: "side", Switch: &design.Switch{}, Loads: n}
	}
	broken := unread("broken")
	broken.Fault = &design.Fault{State: "open"}
	for name, c := range map[string]struct {
		loads []design.Node
		works bool
	}{
		"unread":                 {[]design.Node{unread("a")}, false},
		"two unread":             {[]design.Node{unread("a"), {ID: "b", Array: &design.Array{Series: 1, Parallel: 1}}}, false},
		"unread behind a switch": {[]design.Node{behind(unread("a"))}, false},
		"nothing hangs on it":    {nil, true},
		"the second is known":    {[]design.Node{unread("a"), lamp}, true},
		"known behind a switch":  {[]design.Node{unread("a"), behind(lamp)}, true},
		"an auxiliary":           {[]design.Node{{ID: "fan", Aux: &design.Auxiliary{CurrentA: 0.1}}}, true},
		"a fault put in":         {[]design.Node{broken}, true},
		"a bare driver below":    {[]design.Node{{ID: "low", Driver: &design.DriverUse{PartID: "boost"}}}, true},
	} {
		for _, part := range []string{"boost", ""} {
			s := network(t, sample.OnSupply(12, 0, parts, design.Node{ID: "d", Driver: &design.DriverUse{PartID: part}, Loads: c.loads})).Solver()
			s.At(1, 25)
			s.Solve()
			works := c.works && part != ""
			if in := s.Point[0].InA; (in > 0.0199) != works || !works && in != 0 {
				t.Errorf("%s on %q: %g A in", name, part, in)
			}
		}
	}
}
