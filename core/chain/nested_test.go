package chain

import (
	"context"
	"fmt"
	"math"
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
		want := spice(t, header+fmt.Sprintf("bs 0 b i=min(%g, (9.4-v(b))/1e-6)\nb1 b x i=min(0.8, (v(b)-v(x))/0.5)\nb2 b y i=min(0.3, (v(b)-v(y))/(0.4/0.3))\n", limit)+
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

// Three switches in a row with bad joints, a strip behind each of two and a resistor with
// its string behind the third, against ngspice: every bus of the region.
func TestNestedSwitchesAgainstNgspice(t *testing.T) {
	light := caseOf(t, "slow-switches")
	figure := at(t, light)
	// A strip of 40 segments of 50 mm: 1.2 A/m at 12 V from a knee of 77 % on, 0.12 Ω/m.
	const segments, perV, knee, copper = 40, 1.2 * 0.05 / (12 - 0.77*12), 0.77 * 12, 0.12 * 0.05
	netlist := header + "v1 v 0 12\nr1 v b0 0.05\nr2 b0 b1 0.05\nig b1 0 0.01\nr3 b1 b2 0.05\nr4 b2 b3 0.05\nrr b3 x 4\n" + leds(3, "x", "0")
	for _, s := range []struct{ name, bus string }{{"p", "b2"}, {"q", "b3"}} {
		netlist += fmt.Sprintf("rl%[1]s %[2]s %[1]s0 %[3]g\n", s.name, s.bus, copper/2)
		for k := range segments {
			netlist += fmt.Sprintf("b%[1]s%[2]d %[1]s%[2]d 0 i=%[3]g*max(0,v(%[1]s%[2]d)-%[4]g)\n", s.name, k, perV, knee)
			if k > 0 {
				netlist += fmt.Sprintf("rc%[1]s%[2]d %[1]s%[3]d %[1]s%[2]d %[4]g\n", s.name, k, k-1, copper)
			}
		}
	}
	want := spice(t, netlist+".nodeset v(b0)=11.8 v(b1)=11.7 v(b2)=11.6 v(b3)=11.5 v(x)=9\n.control\nop\nprint v(b0) v(b1) v(b2) v(b3) v(x)\nprint -i(v1)\n.endc\n.end\n")
	for _, c := range []struct{ owner, figure, node string }{{"f", "busV", "v(b0)"}, {"s1", "outV", "v(b1)"}, {"s2", "outV", "v(b2)"}, {"s3", "outV", "v(b3)"}, {"a", "inV", "v(x)"}, {"f", "busA", "-i(v1)"}} {
		closeTo(t, c.owner+"."+c.figure, figure(c.owner, c.figure), want[c.node], 2e-5)
	}
}

// A driver that locks out as its pack sinks under the load, waits for it to recover, and
// starts again: at the instants found its bus stands at the levels in ngspice too.
func TestLockOutAndRestartAgainstNgspice(t *testing.T) {
	ocv := []design.OCVPoint{{Charge: 0, VoltageV: 3}, {Charge: 1, VoltageV: 4.2}}
	parts := []design.Part{ledPart(), {ID: "cell", Name: "c", Cell: &design.Cell{CapacityAh: 1, ResistanceOhm: 0.1, OCV: ocv, PolarOhm: ptr(0.2), PolarS: ptr(80.0)}},
		{ID: "lin", Name: "l", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.2), InputMinV: ptr(6.6), RestartV: ptr(7.1)}}}
	l := supplyLight(0, 0, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(1.5)}, arrayNodeOf("a", 2, 1)))
	l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Pack: &design.Pack{PartID: "cell", Series: 2, Parallel: 1, CutoffCellV: ptr(2.0)}}
	r := run(t, compile(t, l))
	var times []float64
	for _, e := range r.Events {
		if e.Kind == "lock-out" || e.Kind == "restarts" {
			times = append(times, e.T)
		}
	}
	if len(times) < 3 {
		t.Fatalf("events %v", r.Events)
	}
	// There the load is switched at those instants; the bus must stand at the levels.
	t1, t2, t3 := times[0], times[1], times[2]
	want := spice(t, header+"cq q 0 3600 ic=1\nbq q 0 i=i(vs)\nbo o 0 v=2*(3+1.2*v(q)-v(p))\ncp p 0 400 ic=0\nrp p 0 0.2\nbp 0 p i=i(vs)\nvs o w 0\nbr w b i=(v(w)-v(b))/(0.2*(1+pow(max(0,1-v(q)/0.2),2)))\n"+
		fmt.Sprintf("il b 0 pwl(0 1.5 %g 1.5 %g 0 %g 0 %g 1.5 %g 1.5)\n.ic v(b)=8\n.control\ntran 0.5 %g 0 0.5 uic\n", t1, t1+0.01, t2, t2+0.01, 2*t3, t3+1)+
		fmt.Sprintf("meas tran v1 find v(b) at=%g\nmeas tran v2 find v(b) at=%g\nmeas tran v3 find v(b) at=%g\n.endc\n.end\n", t1-0.01, t2-0.01, t3-0.01))
	for i, level := range []float64{6.6, 7.1, 6.6} {
		if got := want[fmt.Sprintf("v%d", i+1)]; math.Abs(got-level) > 3e-3 {
			t.Errorf("instant %d, at %.2f s: the bus stands at %.4f V there, the level is %g V", i, times[i], got, level)
		}
	}
	if !r.Ledger.Closes() {
		t.Errorf("%+v", r.Ledger)
	}
}

// A module for 12 V without the headroom it needs: it passes its input on through what
// its headroom is at its limit, never above what it is set to. Against ngspice.
func TestModuleOutOfHeadroomAgainstNgspice(t *testing.T) {
	module := design.Part{ID: "m", Name: "m", Driver: &design.Driver{Family: "voltage", SetVoltageV: ptr(12.0), MaxCurrentA: ptr(2.0), HeadroomV: ptr(0.8), Efficiency: ptr(0.95)}}
	for _, volts := range []float64{9, 11.5, 12.05, 12.3, 12.8, 14} {
		for _, strings := range []int{1, 6} {
			a := arrayNodeOf("a", 3, strings)
			a.Array.BallastOhm = ptr(6.0)
			figure := at(t, supplyLight(volts, 0, []design.Part{ledPart(), module}, driverNodeOf("d", "m", design.DriverUse{}, a)))
			want := spice(t, header+fmt.Sprintf("bs 0 a i=min(min(2, (%g-v(a))/0.4), (12-v(a))/1e-6)\nr1 a b %.9g\n.model all d(is=%de-24 n=2.1 rs=%.9g)\nd1 b c all\nd2 c e all\nd3 e 0 all\n.control\nop\nprint v(a) v(b)\n.endc\n.end\n", volts, 6/float64(strings), strings, 0.12/float64(strings)))
			closeTo(t, fmt.Sprintf("%d strings from %g V", strings, volts), figure("d", "outV"), want["v(a)"], 2e-6)
			held := math.Abs(want["v(a)"]-12) < 1e-4
			limited := figure("d", "outA") > 2*(1-1e-6)
			if mode := ModeName(figure("d", "mode")); held != (mode == "constant voltage") || !held && !limited && mode != "drop-out" {
				t.Errorf("%d strings from %g V: %q at %g V, %g A", strings, volts, mode, figure("d", "outV"), figure("d", "outA"))
			}
		}
	}
}
