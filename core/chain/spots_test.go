package chain

import (
	"context"
	"math"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
)

// redPart is the test emitter at two thirds of its voltage, with another heat path.
func redPart() design.Part {
	part := sample.LEDPart()
	part.ID, part.Name = "red", "Red test emitter"
	for i := range part.Emitter.Forward {
		part.Emitter.Forward[i].VoltageV *= 2.0 / 3
	}
	part.Emitter.RthKPerW = ptr(11.0)
	return part
}

func onSink(light *design.Light, kPerW float64) *design.Light {
	light.Variants[0].Bodies = []design.Body{{ID: "b", Name: "b", KPerW: &kPerW, HeatJPerK: ptr(50.0)}}
	var mount func(nodes []design.Node)
	mount = func(nodes []design.Node) {
		for i := range nodes {
			if nodes[i].Array != nil {
				nodes[i].BodyID = "b"
				nodes[i].Array.Joint = &design.Joint{KPerW: ptr(0.5)}
			}
			mount(nodes[i].Loads)
		}
	}
	mount(light.Variants[0].Feeds[0].Loads)
	return light
}

// settled is a reader of the state at rest.
func settled(t *testing.T, light *design.Light) func(owner, figure string) float64 {
	t.Helper()
	m := compile(t, light)
	st, err := m.Solver().Steady(context.Background())
	if err != nil || !st.Converged {
		t.Fatalf("%v, %+v", err, st)
	}
	if !st.Ledger.Closes() {
		t.Errorf("%+v", st.Ledger)
	}
	return func(owner, figure string) float64 { return column(t, m, st.Record, owner, figure) }
}

// Two kinds of emitters in every string: the same current in all of them, each with its
// own voltage; three strings on a supply behind a resistance, against ngspice.
func TestMixedStringsAgainstNgspice(t *testing.T) {
	a := arrayNodeOf("a", 2, 3)
	a.Array.Mixed = []design.Mixed{{PartID: "red", Series: 3}}
	a.Array.BallastOhm = ptr(1.2)
	a.Array.Unequal = []design.Strings{{Strings: 1, Shorted: 1}}
	white, red := sample.LEDPart(), redPart()
	for _, e := range []*design.Emitter{white.Emitter, red.Emitter} {
		e.FluxLm, e.FluxCurrentA = ptr(80.0), ptr(0.5)
	}
	figure := at(t, supplyLight(15, 1.5, []design.Part{white, red}, a))
	// Two thirds of a diode's voltage: a diode of two thirds of its slope and resistance.
	netlist := header + ".model red d(is=1e-24 n=1.4 rs=0.08)\nv1 s 0 15\nr1 s b 1.5\n" +
		"ra b a 0.6\n.model pair d(is=2e-24 n=2.1 rs=0.06)\nd1 a a1 pair\nd2 a1 a2 pair\n.model twin d(is=2e-24 n=1.4 rs=0.04)\nd3 a2 a3 twin\nd4 a3 a4 twin\nd5 a4 0 twin\n" +
		"rc b c 1.2\nd6 c c1 led\nd7 c1 c2 red\nd8 c2 c3 red\nd9 c3 0 red\n.control\nop\nprint -i(v1) v(b) v(c)-v(c1) v(c1) v(a)-v(a2)\n.endc\n.end\n"
	want := spice(t, netlist)
	closeTo(t, "bus", figure("a", "inV"), want["v(b)"], 1e-5)
	closeTo(t, "current", figure("a", "inA"), want["-i(v1)"], 5e-5)
	closeTo(t, "two of the first kind", figure("a", "string0kind0V"), want["v(a)-v(a2)"], 1e-5)
	closeTo(t, "one of the first kind", figure("a", "string1kind0V"), want["v(c)-v(c1)"], 1e-5)
	closeTo(t, "three of the second kind", figure("a", "string1kind1V"), want["v(c1)"], 1e-5)
	if lm := 2*figure("a", "string0Lm") + figure("a", "string1Lm"); math.Abs(figure("a", "string0Lm")-figure("a", "string0kind0Lm")-figure("a", "string0kind1Lm")) > 1e-9 || math.Abs(lm-figure("a", "fluxLm")) > 1e-9 || lm < 100 {
		t.Errorf("strings of %g and %g lm make %g lm", figure("a", "string0Lm"), figure("a", "string1Lm"), figure("a", "fluxLm"))
	}
	closeTo(t, "all strings", 2*figure("a", "string0A")+figure("a", "string1A"), figure("a", "inA"), 1e-9)
}

// Heat goes where it arises: every junction stands above its board by the thermal
// resistance of its kind times its own heat; a shorted emitter makes none, and eleven of
// twelve carry their own.
func TestEveryJunctionHasItsOwnHeat(t *testing.T) {
	for name, spoil := range map[string]func(a *design.Array){
		"one of twelve shorted": func(a *design.Array) { a.Unequal = []design.Strings{{Strings: 1, Shorted: 1}} },
		"all of one string":     func(a *design.Array) { a.Unequal = []design.Strings{{Strings: 1, OffsetV: -0.03}} },
		"two kinds":             func(a *design.Array) { a.Mixed = []design.Mixed{{PartID: "red", Series: 2}} },
	} {
		led := sample.LEDPart()
		led.Emitter.RthKPerW, led.Emitter.VfVPerK = ptr(7.0), ptr(-0.002)
		a := arrayNodeOf("a", 3, 4)
		a.Array.BallastOhm, a.Array.BoardKPerW = ptr(2.0), ptr(3.0)
		spoil(a.Array)
		d := driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(1.2)}, a)
		light := onSink(supplyLight(24, 0.01, []design.Part{led, redPart(), {ID: "lin", Name: "l", Driver: &design.Driver{Family: "linear"}}}, d), 1.5)
		figure := settled(t, light)
		// The board as the joint has it: heat goes in through each emitter's own way.
		emitters, body := 12.0, figure("b", "bodyC")
		ballast := 2 * (3*math.Pow(figure("a", "string0A"), 2) + math.Pow(figure("a", "inA")-3*figure("a", "string0A"), 2))
		board := body + 0.5*(figure("a", "inW")-ballast)
		if name == "one of twelve shorted" {
			emitters = 11
		}
		if name == "two kinds" {
			emitters = 20
			for kind, k := range []struct{ n, rTh float64 }{{3, 7}, {2, 11}} {
				f := []string{"string0kind0", "string0kind1"}[kind]
				closeTo(t, name+": "+f, figure("a", f+"C")-board, (k.rTh+3)*figure("a", f+"V")/k.n*figure("a", "string0A"), 1e-5)
			}
		} else {
			for g, live := range map[string]float64{"string0": 3, "string1": 3 - (12 - emitters)} {
				closeTo(t, name+": "+g, figure("a", g+"C")-board, (7+3)*figure("a", g+"V")/live*figure("a", g+"A"), 1e-5)
			}
		}
		hot := max(figure("a", "string0C")-board, figure("a", "junctionC")-board)
		if c := figure("a", "caseC") - board; c > 0.31*hot || c < 0.2*hot {
			t.Errorf("%s: the hottest case stands %.3g K above the board, its junction %.3g K", name, c, hot)
		}
		closeTo(t, name+": body", body-25, figure("a", "inW")*1.5, 1e-5)
	}
}

// A string said to be 80 K hotter than the rest is so, and its voltage falls with it.
func TestHotterStringIsHotter(t *testing.T) {
	led := sample.LEDPart()
	led.Emitter.RthKPerW, led.Emitter.VfVPerK = ptr(7.0), ptr(-0.002)
	a := arrayNodeOf("a", 3, 2)
	a.Array.BallastOhm = ptr(3.0)
	a.Array.Unequal = []design.Strings{{Strings: 1, HotterK: 80}}
	light := onSink(supplyLight(12, 1, []design.Part{led}, a), 3)
	figure := settled(t, light)
	closeTo(t, "hotter by", figure("a", "string1C")-figure("a", "string0C"), 80, 1e-9)
	closeTo(t, "hottest", figure("a", "junctionC"), figure("a", "string1C"), 1e-12)
	// Two such boards on a sink and a supply twice as good stand just as hot.
	light.Variants[0].Feeds[0].Loads[0].Count = 2
	light.Variants[0].Feeds[0].Sources[0].Supply.ResistanceOhm = 0.5
	*light.Variants[0].Bodies[0].KPerW = 1.5
	twice := settled(t, light)
	for _, c := range [][2]string{{"a", "string1C"}, {"a", "string0C"}, {"a", "caseC"}, {"b", "bodyC"}} {
		closeTo(t, "two boards, "+c[1], twice(c[0], c[1]), figure(c[0], c[1]), 1e-6)
	}
	more := figure("a", "string1A") - figure("a", "string0A")
	fall := figure("a", "string0V") - figure("a", "string1V")
	closeTo(t, "what its ballast takes more", more*3, fall, 1e-6)
	if more <= 0 {
		t.Errorf("the hotter string takes %g A more", more)
	}
}
