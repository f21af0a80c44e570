package chain

import (
	"context"
	"fmt"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
)

// ngspice is the outside reference for circuits: it solves the same equations by
// its own means. It proves the solver; the driver laws are behavioural sources
// there and are proved elsewhere. Its default temperature is 27 °C, so it is set.

func spice(t testing.TB, netlist string) map[string]float64 {
	t.Helper()
	return sample.Ngspice(t, netlist)
}

const header = "* circuit\n.options temp=25 tnom=25 reltol=1e-7 abstol=1e-15 vntol=1e-9 gmin=1e-15\n.model led d(is=1e-24 n=2.1 rs=0.12)\n" // ngspice rounds k/q: good to 2e-5 in current

func ledLaw(i float64) float64 { return sample.LEDLaw(i) }

func ledPart() design.Part { return sample.LEDPart() }

func leds(n int, from, to string) string {
	var b strings.Builder
	node := from
	for k := range n {
		next := fmt.Sprintf("%s_%d", from, k)
		if k == n-1 {
			next = to
		}
		fmt.Fprintf(&b, "d%s%d %s %s led\n", from, k, node, next)
		node = next
	}
	return b.String()
}

func closeTo(t *testing.T, what string, got, want, relative float64) {
	t.Helper()
	if math.Abs(got-want) > relative*math.Max(math.Abs(want), 1e-6) {
		t.Errorf("%s = %.8g, the reference says %.8g", what, got, want)
	}
}

func supplyLight(volts, ohm float64, parts []design.Part, loads ...design.Node) *design.Light {
	return &design.Light{
		Name: "test", Conditions: design.Conditions{AmbientC: 25}, Parts: parts,
		Variants: []design.Variant{{ID: "v", Name: "v", Feeds: []design.Feed{{
			ID: "f", Sources: []design.Source{{ID: "s", Supply: &design.Supply{VoltageV: volts, ResistanceOhm: ohm}}}, Loads: loads,
		}}}},
	}
}

func arrayNodeOf(id string, series, parallel int) design.Node {
	return design.Node{ID: id, Array: &design.Array{PartID: "led", Series: series, Parallel: parallel}}
}

func driverNodeOf(id, part string, use design.DriverUse, loads ...design.Node) design.Node {
	use.PartID = part
	return design.Node{ID: id, Driver: &use, Loads: loads}
}

func ptr[T any](x T) *T { return &x }

// at compiles and solves at 25 °C and full charge, and reads figures.
func at(t *testing.T, light *design.Light) func(owner, figure string) float64 {
	t.Helper()
	m, err := Compile(light, Options{})
	if err != nil {
		t.Fatal(err)
	}
	rec := make([]float64, len(m.Columns()))
	m.Solver().OperatingPoint(1, 25, rec)
	return func(owner, figure string) float64 { return column(t, m, rec, owner, figure) }
}

func column(t *testing.T, m *Model, rec []float64, owner, figure string) float64 {
	t.Helper()
	for i, c := range m.Columns() {
		if c.Owner == owner && c.Figure == figure {
			return rec[i]
		}
	}
	t.Fatalf("no column %s.%s", owner, figure)
	return 0
}

// A resistor on a pack's range, two LEDs in series.
func TestResistorDriveAgainstNgspice(t *testing.T) {
	parts := []design.Part{ledPart(), {ID: "r", Name: "Resistor", Driver: &design.Driver{Family: "resistor", ResistanceOhm: ptr(2.2)}}}
	for _, volts := range []float64{5.6, 6.4, 7.4, 8.4} {
		figure := at(t, supplyLight(volts, 0.15, parts, driverNodeOf("d", "r", design.DriverUse{}, arrayNodeOf("a", 2, 1))))
		want := spice(t, header+fmt.Sprintf("v1 s 0 %g\nr1 s b 0.15\nr2 b a 2.2\n", volts)+leds(2, "a", "0")+".control\nop\nprint -i(v1) v(a)\n.endc\n.end\n")
		closeTo(t, fmt.Sprintf("current at %g V", volts), figure("a", "inA"), want["-i(v1)"], 5e-5)
		closeTo(t, fmt.Sprintf("voltage at %g V", volts), figure("a", "inV"), want["v(a)"], 1e-6)
	}
}

// A linear driver in regulation and through its drop-out, down to next to nothing.
func TestLinearDropOutAgainstNgspice(t *testing.T) {
	parts := []design.Part{ledPart(), {ID: "lin", Name: "Linear", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.4)}}}
	for _, volts := range []float64{7.2, 6.6, 6.3, 6.0, 5.7, 5.4} {
		figure := at(t, supplyLight(volts, 0.1, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(0.8)}, arrayNodeOf("a", 2, 1))))
		want := spice(t, header+fmt.Sprintf("v1 s 0 %g\nr1 s b 0.1\nb1 b a i=min(0.8, (v(b)-v(a))/0.5)\n", volts)+leds(2, "a", "0")+".control\nop\nprint -i(v1) v(a)\n.endc\n.end\n")
		closeTo(t, fmt.Sprintf("current at %g V", volts), figure("a", "inA"), want["-i(v1)"], 5e-5)
	}
}

// Branches of different kinds on one bus behind one resistance: a linear string, a
// resistor string with a parallel pair, a step-down stage and a controller.
func TestBranchesOnOneBusAgainstNgspice(t *testing.T) {
	parts := []design.Part{
		ledPart(),
		{ID: "lin", Name: "Linear", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.4)}},
		{ID: "r", Name: "Resistor", Driver: &design.Driver{Family: "resistor", ResistanceOhm: ptr(15.0)}},
		{ID: "buck", Name: "Step-down", Driver: &design.Driver{Family: "buck", HeadroomV: ptr(1.0), Efficiency: ptr(0.9), EfficiencyAtA: ptr(1.0), EfficiencyInV: ptr(12.0), EfficiencyOut: ptr(6.0)}},
	}
	figure := at(t, supplyLight(12, 0.6, parts,
		driverNodeOf("d1", "lin", design.DriverUse{SetCurrentA: ptr(0.5)}, arrayNodeOf("a1", 3, 1)),
		design.Node{ID: "sw", Switch: &design.Switch{ContactOhm: 0.05}, Loads: []design.Node{
			driverNodeOf("d2", "r", design.DriverUse{}, arrayNodeOf("a2", 2, 2)),
			driverNodeOf("d3", "buck", design.DriverUse{SetCurrentA: ptr(0.7)}, arrayNodeOf("a3", 2, 1)),
		}},
		design.Node{ID: "aux", Aux: &design.Auxiliary{CurrentA: 0.03}},
	))
	loss := 6.0 * (1/0.9 - 1)
	netlist := header + "v1 s 0 12\nr1 s b 0.6\ni1 b 0 0.03\nb1 b a i=min(0.5, (v(b)-v(a))/0.8)\n" + leds(3, "a", "0") +
		"rs b c 0.05\nr2 c e 15\n" + leds(2, "e", "0") + "vp e g 0\n" + leds(2, "g", "0") +
		// the step-down stage in regulation: a current out, a constant power in
		fmt.Sprintf("b2 0 h i=0.7\nb3 c 0 i=(v(h)*0.7 + %.9g + %.9g*v(c)*0.7 + %.9g*0.49)/v(c)\n", 0.2*loss, 0.4*loss/12, 0.4*loss) + leds(2, "h", "0") +
		".control\nop\nprint -i(v1) v(b) v(c) v(e) v(h)\n.endc\n.end\n"
	want := spice(t, netlist)
	closeTo(t, "source current", figure("f", "busA"), want["-i(v1)"], 5e-5)
	closeTo(t, "bus", figure("f", "busV"), want["v(b)"], 1e-6)
	closeTo(t, "behind the switch", figure("sw", "outV"), want["v(c)"], 1e-6)
	closeTo(t, "parallel pair", figure("a2", "inV"), want["v(e)"], 1e-6)
	closeTo(t, "step-down output", figure("d3", "outV"), want["v(h)"], 1e-6)
}

// A dead emitter and an open string in an array driven by a current.
func TestLEDFaultsAgainstNgspice(t *testing.T) {
	a := arrayNodeOf("a", 3, 4)
	a.Array.Unequal = []design.Strings{{Strings: 1, Shorted: 1}, {Strings: 1, Open: true}}
	parts := []design.Part{ledPart(), {ID: "lin", Name: "Linear", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.4)}}}
	figure := at(t, supplyLight(14, 0.01, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(1.2)}, a)))
	netlist := header + "i1 0 x 1.2\nv1 x a 0\nv2 x k 0\nv3 x m 0\n" + leds(3, "a", "0") + leds(3, "k", "0") + leds(2, "m", "0") + ".control\nop\nprint v(x) i(v1) i(v3)\n.endc\n.end\n"
	want := spice(t, netlist)
	closeTo(t, "voltage", figure("a", "inV"), want["v(x)"], 1e-6)
	// The healthy ones get next to nothing, some 70 nA: their share is of the second place.
	if a := figure("a", "string0A"); math.Abs(a-want["i(v1)"]) > 1e-5*want["i(v3)"] {
		t.Errorf("a healthy string takes %g A, the reference says %g A", a, want["i(v1)"])
	}
	closeTo(t, "string with a shorted emitter", figure("a", "string1A"), want["i(v3)"], 1e-5)
	if a := figure("a", "string2A"); a != 0 {
		t.Errorf("an open string takes %g A", a)
	}
}

// A pack emptied through a linear and through a step-down driver: charge is the
// integral of what is drawn, the voltage follows it, the resistance rises at the
// end, a slow resistance with its capacitance in between.
func TestDischargeAgainstNgspice(t *testing.T) {
	cell := design.Part{ID: "cell", Name: "Test cell", Cell: &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 1, ResistanceOhm: 0.06,
		PolarOhm: ptr(0.04), PolarS: ptr(80.0), MinV: ptr(3.1), OCV: []design.OCVPoint{{Charge: 0, VoltageV: 3.0}, {Charge: 1, VoltageV: 4.2}}}}
	loss := 3.1 * (1/0.88 - 1)
	for _, c := range []struct {
		name   string
		driver design.Driver
		leds   int
		load   string // of the bus b, with the emitters' bus a
	}{
		{"linear", design.Driver{Family: "linear", HeadroomV: ptr(0.3)}, 2, "b1 b a i=min(1, (v(b)-v(a))/0.3)\n"},
		{"step-down", design.Driver{Family: "buck", HeadroomV: ptr(0.5), Efficiency: ptr(0.88), EfficiencyAtA: ptr(1.0), EfficiencyInV: ptr(8.0), EfficiencyOut: ptr(3.1)}, 1,
			fmt.Sprintf("b1 0 a i=1\nb2 b 0 i=(v(a)*1 + %.9g + %.9g*v(b) + %.9g)/v(b)\n", 0.2*loss, 0.4*loss/8, 0.4*loss)},
	} {
		light := supplyLight(0, 0, []design.Part{ledPart(), cell, {ID: "drv", Name: "Driver", Driver: &c.driver}},
			driverNodeOf("d", "drv", design.DriverUse{SetCurrentA: ptr(1.0)}, arrayNodeOf("a", c.leds, 1)))
		light.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Pack: &design.Pack{PartID: "cell", Series: 2, Parallel: 1, ContactOhm: 0.05, CutoffCellV: ptr(3.1)}}
		m, err := Compile(light, Options{})
		if err != nil {
			t.Fatal(err)
		}
		run, err := m.Solver().Run(context.Background())
		if err != nil {
			t.Fatal(err)
		}
		if run.End.Kind != "cut-off" {
			t.Fatalf("%s: ends by %q", c.name, run.End.Kind)
		}
		end := run.T[len(run.T)-1]
		// q is the charge, one volt when full; cc the slow part of one cell.
		netlist := header + "cq q 0 3600 ic=1\nbq q 0 i=i(vs)\n" +
			"bocv o 0 v=2*(3+1.2*v(q)-v(p))\ncp p 0 2000 ic=0\nrp p 0 0.04\nbp 0 p i=i(vs)\nvs o w 0\n" +
			"br w b i=(v(w)-v(b))/(0.05+0.12*(1+pow(max(0,1-v(q)/0.2),2)))\n" + c.load + leds(c.leds, "a", "0") +
			fmt.Sprintf(".ic v(o)=8.4 v(b)=8 v(a)=%g\n.control\ntran 2 %g 0 2 uic\n", ledLaw(1)*float64(c.leds), end*1.05) +
			fmt.Sprintf("let cell = (v(b)+0.05*i(vs))/2\nmeas tran tend when cell=3.1\nmeas tran v1 find v(b) at=600\nmeas tran v2 find v(b) at=%g\nmeas tran i2 find i(vs) at=%g\nmeas tran q2 find v(q) at=%g\n.endc\n.end\n", end*0.9, end*0.97, end*0.97)
		want := spice(t, netlist)
		closeTo(t, c.name+": time to cut-off", end, want["tend"], 1e-3)
		closeTo(t, c.name+": bus after 10 min", column(t, m, run.At(600), "f", "busV"), want["v1"], 1e-3)
		closeTo(t, c.name+": bus near the end", column(t, m, run.At(end*0.9), "f", "busV"), want["v2"], 1e-3)
		closeTo(t, c.name+": current near the end", column(t, m, run.At(end*0.97), "f", "busA"), want["i2"], 2e-3)
		closeTo(t, c.name+": charge near the end", column(t, m, run.At(end*0.97), "f", "charge"), want["q2"], 3e-3)
		if !run.Ledger.Closes() {
			t.Errorf("%s: the ledger does not close: %+v", c.name, run.Ledger)
		}
	}
}

// The plane holds what the solver answers: the operating point lies on the load's
// curve and on the envelope, and the load's curve is ngspice's.
func TestPlane(t *testing.T) {
	parts := []design.Part{ledPart(), {ID: "lin", Name: "Linear", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.4)}}}
	m := compile(t, supplyLight(7.2, 0.1, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(0.8)}, arrayNodeOf("a", 2, 1))))
	p, err := m.Solver().Plane(context.Background(), "d")
	if err != nil {
		t.Fatal(err)
	}
	point := p.Points[0]
	closeTo(t, "current", point.OutA, 0.8, 1e-9)
	closeTo(t, "voltage", point.OutV, 2*ledLaw(0.8), 1e-6)
	for _, q := range p.Loads[1].Points {
		if q.A > 0.01 {
			closeTo(t, fmt.Sprintf("load at %g V", q.V), 2*ledLaw(q.A), q.V, 1e-5)
		}
	}
	e := p.Envelopes[0]
	if e.Points[0].A != 0.8 || math.Abs(e.Points[1].V-(e.InV-0.4)) > 1e-9 || math.Abs(e.Points[2].V-e.InV) > 1e-9 {
		t.Errorf("envelope %+v", e)
	}
	if _, err := m.Solver().Plane(context.Background(), "a"); err == nil {
		t.Error("an array has a plane")
	}
}

// Equal boards in parallel on a supply of limited voltage, its current limit swept
// from below one board's current to above all of them: constant current first,
// constant voltage once the boards take less than the limit.
func TestBoardsOnLimitedSupplyAgainstNgspice(t *testing.T) {
	supply := &design.Driver{Family: "voltage", SetVoltageV: ptr(8.7), Efficiency: ptr(0.93), EfficiencyAtA: ptr(5.0), EfficiencyInV: ptr(230.0)}
	parts := []design.Part{ledPart(), {ID: "psu", Name: "Supply", Driver: supply}}
	modes := map[string]int{}
	for _, boards := range []int{1, 3} {
		for _, limit := range []float64{0.3, 0.9, 1.8, 2.6, 5} {
			board := arrayNodeOf("a", 3, 2)
			board.Array.Count = boards
			light := supplyLight(0, 0, parts, driverNodeOf("d", "psu", design.DriverUse{SetCurrentA: ptr(limit)}, board))
			light.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Mains: &design.Mains{VoltageV: 230, FrequencyHz: 50}}
			m := compile(t, light)
			rec := make([]float64, len(m.Columns()))
			m.Solver().OperatingPoint(1, 25, rec)
			netlist := header + fmt.Sprintf("bs 0 a i=min(%g, (8.7-v(a))/1e-6)\n", limit)
			for k := range 2 * boards {
				netlist += fmt.Sprintf("v%d a s%d 0\n", k, k) + leds(3, fmt.Sprintf("s%d", k), "0")
			}
			want := spice(t, netlist+".nodeset v(a)=8.5\n.control\nop\nprint v(a) i(v0)\n.endc\n.end\n")
			what := fmt.Sprintf("%d boards, %g A", boards, limit)
			closeTo(t, what+": voltage", column(t, m, rec, "a", "inV"), want["v(a)"], 1e-5)
			closeTo(t, what+": each string", column(t, m, rec, "a", "stringA"), want["i(v0)"], 1e-4)
			modes[ModeName(column(t, m, rec, "d", "mode"))]++
		}
	}
	if modes["constant current"] < 3 || modes["constant voltage"] < 3 {
		t.Errorf("the sweep is one-sided: %v", modes)
	}
}
