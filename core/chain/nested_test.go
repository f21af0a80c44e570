package chain

import (
	"context"
	"fmt"
	"testing"

	"photherm/core/design"
)

// A supply with two limits feeds two linear drivers, each with its string: with its
// voltage limit in force both regulate; with its current limit below their sum the bus
// sinks until they drop out, and they share what there is.
func TestDriversBehindSupplyAgainstNgspice(t *testing.T) {
	parts := []design.Part{ledPart(), {ID: "lin", Name: "Linear", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.4)}},
		{ID: "psu", Name: "Supply", Driver: &design.Driver{Family: "voltage", SetVoltageV: ptr(9.4), MaxCurrentA: ptr(2.0), Efficiency: ptr(0.9), EfficiencyAtA: ptr(1.0), EfficiencyInV: ptr(230.0)}}}
	seen := map[string]bool{}
	for _, limit := range []float64{2, 1.05, 0.7} {
		figure := at(t, supplyLight(230, 0, parts, driverNodeOf("s", "psu", design.DriverUse{SetCurrentA: &limit},
			driverNodeOf("d1", "lin", design.DriverUse{SetCurrentA: ptr(0.8)}, arrayNodeOf("a1", 2, 1)),
			driverNodeOf("d2", "lin", design.DriverUse{SetCurrentA: ptr(0.3)}, arrayNodeOf("a2", 2, 2)))))
		want := spice(t, header+fmt.Sprintf("bs 0 b i=min(%g, (9.4-v(b))/1e-3)\nb1 b x i=min(0.8, (v(b)-v(x))/0.5)\nb2 b y i=min(0.3, (v(b)-v(y))/(0.4/0.3))\n", limit)+
			leds(2, "x", "0")+"vp y z 0\n"+leds(2, "y", "0")+leds(2, "z", "0")+fmt.Sprintf(".nodeset v(b)=%g v(x)=6 v(y)=5.8\n.control\nop\nprint v(b) v(x) v(y)\n.endc\n.end\n", map[bool]float64{true: 9.4, false: 6.2}[limit > 1.1]))
		what := fmt.Sprintf("limit %g A: ", limit)
		closeTo(t, what+"bus", figure("s", "outV"), want["v(b)"], 5e-5)
		closeTo(t, what+"first string", figure("a1", "inV"), want["v(x)"], 5e-5)
		closeTo(t, what+"second strings", figure("a2", "inV"), want["v(y)"], 5e-5)
		seen[ModeName(figure("s", "mode"))+"/"+ModeName(figure("d1", "mode"))] = true
	}
	if !seen["constant voltage/constant current"] || !seen["constant current/drop-out"] {
		t.Errorf("the sweep is one-sided: %v", seen)
	}
}

// The worst string of a bin: all of it at the low end, the others at the high one, on
// one current; cold, as nothing tells how warm they get.
func TestWorstStringAgainstNgspice(t *testing.T) {
	part := ledPart()
	part.Emitter.VfBinV = ptr(0.05)
	parts := []design.Part{part, {ID: "lin", Name: "Linear", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.4)}}}
	for _, ballast := range []float64{0, 0.8} {
		a := arrayNodeOf("a", 2, 4)
		a.Array.BallastOhm = &ballast
		shares, err := compile(t, supplyLight(14, 0.01, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(2.0)}, a))).Solver().Sharing(context.Background())
		if err != nil {
			t.Fatal(err)
		}
		netlist := header + "i1 0 x 2\n"
		for k, offset := range []float64{0.1, 0.1, 0.1, -0.1} {
			netlist += fmt.Sprintf("v%d x p%d %g\nr%d p%d s%d %g\n", k, k, offset, k, k, k, max(ballast, 1e-6)) + leds(2, fmt.Sprintf("s%d", k), "0")
		}
		want := spice(t, netlist+".control\nop\nprint i(v3)\n.endc\n.end\n")
		closeTo(t, fmt.Sprintf("ballast %g Ω", ballast), *shares[0].AsItIs.WorstA, want["i(v3)"], 1e-4)
	}
}

// A branch switched by duty pulls the bus down while it is on: what a steady branch
// beside it takes on average is that of a transient of many periods.
func TestSwitchedBranchAgainstNgspice(t *testing.T) {
	parts := []design.Part{ledPart(), {ID: "lin", Name: "Linear", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.3)}},
		{ID: "r", Name: "Resistor", Driver: &design.Driver{Family: "resistor", ResistanceOhm: ptr(4.0)}}}
	for _, duty := range []float64{0.2, 0.65} {
		figure := at(t, supplyLight(9, 0.8, parts,
			driverNodeOf("d1", "lin", design.DriverUse{SetCurrentA: ptr(1.0), Dimming: &design.Level{Duty: &duty, FrequencyHz: ptr(1000.0)}}, arrayNodeOf("a1", 2, 1)),
			driverNodeOf("d2", "r", design.DriverUse{}, arrayNodeOf("a2", 2, 1))))
		want := spice(t, header+fmt.Sprintf("v1 s 0 9\nr1 s b 0.8\ni1 b 0 pulse(0 1 0 1n 1n %g 1m)\nr2 b c 4\nvm c e 0\n", duty*1e-3)+leds(2, "e", "0")+
			"bw w 0 v=(v(s)-v(b))*(v(s)-v(b))/0.8\n.control\ntran 2u 20m\nmeas tran steady avg i(vm) from=2m to=20m\nmeas tran wire avg v(w) from=2m to=20m\n.endc\n.end\n")
		closeTo(t, fmt.Sprintf("duty %g: the steady branch", duty), figure("a2", "inA"), want["steady"], 1e-3)
		wireW := 9*figure("f", "busA") - figure("f", "sourceW")
		closeTo(t, fmt.Sprintf("duty %g: loss before the bus", duty), wireW, want["wire"], 2e-3)
	}
}
