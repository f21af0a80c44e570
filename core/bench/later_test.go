package bench

import (
	"context"
	"math"
	"strings"
	"testing"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/internal/sample"
)

// What is there later is what is there at a moment where both are asked, ends with the pack, and
// stays where nothing moves any more.
func TestLater(t *testing.T) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	truth, err := NewTruth(context.Background(), light, 0, 7, nil)
	if err != nil {
		t.Fatal(err)
	}
	for _, s := range []float64{0, 1, 60, 300, 899} {
		p := Probe{Owner: "housing", Figure: "bodyC", When: "after", S: s}
		a, _ := truth.At(p)
		if b, ok := truth.Later(p, s); !ok || math.Abs(a-b) > 0.05 {
			t.Errorf("after %g s: %g, and in its course %g °C", s, a, b)
		}
	}
	last, ended := 0.0, math.Inf(1)
	for s := 0.0; s < 40*3600; s += 600 {
		v, ok := truth.Later(Probe{Owner: "power", Figure: "busV"}, s)
		if !ok {
			ended = s
			break
		}
		if s > 0 && v > last+1e-6 {
			t.Errorf("the pack rises from %g to %g V at %g s", last, v, s)
		}
		last = v
	}
	if e, ok := truth.q.lasts(); !ok || ended < e || ended > e+600 {
		t.Errorf("in its course it lasts %g s, else %g s", ended, e)
	}
	if x, ok := truth.Later(Probe{Owner: "emitters", Figure: "fluxLm", Over: true}, 600); !ok || x > 1 || x < 0.8 {
		t.Errorf("of the light at once %g are left after ten minutes", x)
	}
	once, _ := truth.Later(Probe{Figure: "fluxLm"}, 60)
	if twice, _ := truth.Later(Probe{Figure: "fluxLm", Times: 2}, 60); twice != 2*once {
		t.Errorf("%g is not twice %g", twice, once)
	}
	for _, p := range []Probe{{Owner: "nobody", Figure: "busV"}, {Owner: "power", Figure: "nothing"}} {
		if _, ok := truth.Later(p, 0); ok {
			t.Errorf("%+v", p)
		}
	}
	if _, ok := truth.Later(Probe{Owner: "power", Figure: "busV"}, -1); ok {
		t.Error("before it was switched on")
	}
	wall, err := sample.Example("boathouse-floodlight.json")
	if err != nil {
		t.Fatal(err)
	}
	if truth, err = NewTruth(context.Background(), wall, 0, 7, nil); err != nil {
		t.Fatal(err)
	}
	p := Probe{Owner: wall.Variants[0].Bodies[0].ID, Figure: "bodyC", When: "rest"}
	rest, _ := truth.At(p)
	if x, ok := truth.Later(p, 1e6); !ok || math.Abs(x-rest) > 0.5 {
		t.Errorf("at rest %g, after a week and more %g °C", rest, x)
	}
}

// An ammeter in the wire is 50 mΩ in the circuit: where nothing regulates, Ohm's law says what it
// takes; where a driver does, it takes nothing.
func TestMetered(t *testing.T) {
	light := plainLoad() // a load whose current follows its voltage
	v := &light.Variants[0]
	n := &v.Feeds[0].Loads[0]
	const ohm = 4.0
	n.Load.Points, n.Load.SteadyV = []design.LoadPoint{{VoltageV: 1, CurrentA: 1 / ohm}, {VoltageV: 100, CurrentA: 100 / ohm}}, nil
	truth, err := NewTruth(context.Background(), light, 0, 7, nil)
	if err != nil {
		t.Fatal(err)
	}
	p := Probe{Owner: v.Feeds[0].ID, Figure: "busA", When: "cold", Charge: 1}
	bare, ok := truth.At(p)
	in, there := truth.Metered(p)
	bus, _ := truth.At(Probe{Owner: v.Feeds[0].ID, Figure: "busV", When: "cold", Charge: 1})
	open, _ := truth.At(Probe{Owner: v.Feeds[0].ID, Figure: "openV", When: "cold", Charge: 1})
	// The loop's resistance is the voltage at rest over its current.
	if want := open / (open/bare + 0.05); !ok || !there || math.Abs(in-want) > 2e-4*want || bus >= open {
		t.Errorf("%g A bare, %g A with the meter, by Ohm %g A", bare, in, want)
	}
	if again, _ := truth.Metered(p); again != in {
		t.Errorf("%g A, and then %g A", in, again)
	}
	// The plan expects what the meter at hand will show, and says so; a clamp is in no wire.
	for tool, want := range map[string]float64{"multimeter-a": 12 / (ohm + 0.05), "clamp": 12 / ohm} {
		got, err := PlanOf(context.Background(), light, Question{Tools: []string{tool}})
		if err != nil {
			t.Fatal(err)
		}
		r := got.row(t, "f", "draw")
		if math.Abs(r.Reading.Expected-want) > 1e-4*want || strings.Contains(r.Do, "ammeter’s own 50.0 mΩ") != (tool == "multimeter-a") {
			t.Errorf("%s: %g A expected, by Ohm %g A: %s", tool, r.Reading.Expected, want, r.Do)
		}
	}
	v.SetUp = []design.Done{{Node: "f", Step: "draw", Reading: &in, With: "clamp"}}
	if got, err := PlanOf(context.Background(), light, Question{}); err != nil || math.Abs(got.row(t, "f", "draw").Reading.Expected-12/ohm) > 1e-3 {
		t.Errorf("read with a clamp: %v", err)
	}
	hand, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	if truth, err = NewTruth(context.Background(), hand, 0, 7, nil); err != nil {
		t.Fatal(err)
	}
	for figure, share := range map[string]float64{"peakA": 1e-4, "peakV": 0} {
		p := Probe{Owner: "driver", Figure: figure, When: "cold", Charge: 1}
		a, _ := truth.At(p)
		if b, ok := truth.Metered(p); !ok || math.Abs(b/a-1) > share {
			t.Errorf("%s: %g, with a meter %g", figure, a, b)
		}
	}
	// A step-down driver makes up for the meter: it draws a little more.
	p = Probe{Owner: "power", Figure: "busA", When: "cold", Charge: 1}
	a, _ := truth.At(p)
	if b, ok := truth.Metered(p); !ok || b <= a || b > 1.02*a {
		t.Errorf("%g A, with a meter %g A", a, b)
	}
}

// In one of several strings the ammeter is in that string alone: what one string takes is less
// than its part by what the meter's 50 mΩ take of the slope of its emitters.
func TestMeteredString(t *testing.T) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	v := &light.Variants[0]
	var emitters *design.Node
	for n := range design.Nodes(v) {
		if n.Array != nil {
			emitters = n
		}
	}
	emitters.Array.Series, emitters.Array.Parallel = 1, 3
	for tool, metered := range map[string]bool{"multimeter-a": true, "clamp": false} {
		got, err := PlanOf(context.Background(), light, Question{Tools: []string{tool}})
		if err != nil {
			t.Fatal(err)
		}
		r := got.row(t, emitters.ID, "string-a")
		truth, err := NewTruth(context.Background(), light, 0, 7, nil)
		if err != nil {
			t.Fatal(err)
		}
		p := Probe{Owner: emitters.ID, Figure: "stringA", When: "cold", Charge: 1}
		bare, _ := truth.At(p)
		in, ok := truth.Metered(p)
		if !ok || in >= 0.98*bare || in < 0.7*bare {
			t.Errorf("%g A, with a meter %g A", bare, in)
		}
		// The same share in the plan, whose emitters are as their part says.
		plain, err := newSolvedPlan(light)
		if err != nil {
			t.Fatal(err)
		}
		want, _ := plain.figure(point{emitters.ID, "stringA", cold, nil, 0, metered})
		if math.Abs(r.Reading.Expected/want-1) > 1e-9 || strings.Contains(r.Do, "ammeter’s own") != metered {
			t.Errorf("%s: %g A expected, %g A: %s", tool, r.Reading.Expected, want, r.Do)
		}
	}
}

func newSolvedPlan(light *design.Light) (*solved, error) {
	m, err := chain.Compile(light, chain.Options{})
	if err != nil {
		return nil, err
	}
	return newSolved(context.Background(), m)
}

// Under a constant current the same hidden cells give their charge: hours are capacity over current.
func TestUnder(t *testing.T) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	part := light.Part(light.Variants[0].Feeds[0].Sources[0].Pack.PartID)
	parallel := float64(max(1, light.Variants[0].Feeds[0].Sources[0].Pack.Parallel))
	lasts := func(amps float64, faults ...string) float64 {
		t.Helper()
		truth, err := NewTruth(context.Background(), light, 0, 7, faults)
		if err != nil {
			t.Fatal(err)
		}
		under, err := truth.Under(amps)
		if err != nil {
			t.Fatal(err)
		}
		if a, ok := under.Later(Probe{Owner: "power", Figure: "busA"}, 60); !ok || math.Abs(a-amps) > 1e-6 {
			t.Errorf("it draws %g A instead of %g A", a, amps)
		}
		s, _ := under.q.lasts()
		return s * amps / 3600 / parallel
	}
	ah := lasts(0.5)
	if ah < 0.8*part.Cell.CapacityAh || ah > 1.1*part.Cell.CapacityAh {
		t.Errorf("a cell of %g Ah gives %g Ah", part.Cell.CapacityAh, ah)
	}
	if fast := lasts(1.5); fast >= ah {
		t.Errorf("%g Ah at half an ampere, %g Ah at three times that", ah, fast)
	}
	if weak := lasts(0.5, FaultPot, FaultWeakCell); math.Abs(weak/ah-weakShare) > 0.05 {
		t.Errorf("weak cells give %g of %g Ah; faults of the driver are no matter", weak, ah)
	}
	truth, err := NewTruth(context.Background(), light, 0, 7, nil)
	if err != nil {
		t.Fatal(err)
	}
	for _, amps := range []float64{0, -1, math.NaN(), 31} {
		if _, err := truth.Under(amps); err == nil {
			t.Errorf("a load of %g A", amps)
		}
	}
	if light.Variants[0].Feeds[0].Loads[0].ID == LoadID {
		t.Error("the light itself was put under load")
	}
	wall, err := sample.Example("boathouse-floodlight.json")
	if err != nil {
		t.Fatal(err)
	}
	if truth, err = NewTruth(context.Background(), wall, 0, 7, nil); err != nil {
		t.Fatal(err)
	}
	if _, err := truth.Under(1); err == nil {
		t.Error("a load on the pack of a light that has none")
	}
}
