package chain

import (
	"context"
	"fmt"
	"math"
	"testing"

	"photherm/core/design"
)

// The whole coupling against ngspice: emitters whose voltage falls as they warm,
// behind a resistor, so that current and heat drive each other; junctions, board,
// joint and body as a second circuit in which volts are degrees and amperes are
// watts. At rest and on the way there.
func TestCoupledHeatAgainstNgspice(t *testing.T) {
	const (
		kV                     = -0.0035 // V/K a junction
		rjc, star, joint, body = 6.0, 2.0, 0.8, 7.0
		jBody                  = 60.0
	)
	led := ledPart()
	led.Emitter.VfVPerK, led.Emitter.RthKPerW = ptr(kV), ptr(rjc)
	led.Emitter.HeatJPerK = ptr(0.3)
	parts := []design.Part{led, {ID: "r", Name: "Resistor", Driver: &design.Driver{Family: "resistor", ResistanceOhm: ptr(1.1)}}}
	array := arrayNodeOf("a", 3, 1)
	array.BodyID = "b"
	array.Array.BoardKPerW, array.Array.BoardJPerK, array.Array.Joint = ptr(star), ptr(5.0), &design.Joint{KPerW: ptr(joint)}
	light := supplyLight(9.4, 0.2, parts, driverNodeOf("d", "r", design.DriverUse{}, array))
	light.Variants[0].Bodies = []design.Body{{ID: "b", Name: "b", KPerW: ptr(body), HeatJPerK: ptr(jBody)}}
	m := compile(t, light)
	st, err := m.Solver().Steady(context.Background())
	if err != nil || !st.Converged {
		t.Fatalf("%v %+v", err, st)
	}
	result := run(t, m)

	netlist := func(control string) string {
		return header + "v1 s 0 9.4\nr1 s c 1.3\n" +
			fmt.Sprintf("bt c a v=%g*(v(j)-25)\n", 3*kV) + leds(3, "a", "0") + // the shift of three junctions in series
			"va air 0 25\nbh 0 j i=v(c)*i(v1)*(-1)\n" +
			fmt.Sprintf("rjc j k %g\nrst k m %g\nrj m b %g\nrb b air %g\n", rjc/3, star/3, joint, body) +
			fmt.Sprintf("cj j 0 %g ic=25\nck k 0 5 ic=25\ncb b 0 %g ic=25\n", 3*0.3, jBody) +
			".control\n" + control + ".endc\n.end\n"
	}
	want := spice(t, netlist("op\nprint -i(v1) v(j) v(k) v(b)\n"))
	rest := func(owner, figure string) float64 { return column(t, m, st.Record, owner, figure) }
	closeTo(t, "junction at rest", rest("a", "junctionC"), want["v(j)"], 2e-4)
	closeTo(t, "case at rest", rest("a", "caseC"), want["v(k)"], 2e-4)
	closeTo(t, "body at rest", rest("b", "bodyC"), want["v(b)"], 2e-4)
	closeTo(t, "current at rest", rest("a", "inA"), want["-i(v1)"], 2e-4)
	// Warm emitters take more current: the coupling is there and matters.
	if cold := column(t, m, result.Records[0], "a", "inA"); rest("a", "inA") < 1.1*cold {
		t.Errorf("the current rises from %g to %g A only", cold, rest("a", "inA"))
	}

	control := "tran 0.25 400 uic\n"
	for _, at := range []float64{20, 120, 350} {
		control += fmt.Sprintf("meas tran j%g find v(j) at=%g\nmeas tran b%g find v(b) at=%g\n", at, at, at, at)
	}
	want = spice(t, netlist(control))
	for _, at := range []float64{20, 120, 350} {
		// The run is read between its records, so a tenth of a kelvin is allowed.
		j, b := column(t, m, result.At(at), "a", "junctionC"), column(t, m, result.At(at), "b", "bodyC")
		if wj, wb := want[fmt.Sprintf("j%g", at)], want[fmt.Sprintf("b%g", at)]; math.Abs(j-wj) > 0.15 || math.Abs(b-wb) > 0.15 {
			t.Errorf("after %g s: junction %.2f °C and body %.2f °C, the reference says %.2f and %.2f", at, j, b, wj, wb)
		}
	}
}

// At rest is where the time solve ends, for each light of the demo that has a
// source without an end; and with all input counted as heat it ends warmer.
func TestRestIsWhereTimeEnds(t *testing.T) {
	light := load(t, "germination-rack.json")
	m := compile(t, light)
	st, err := m.Solver().Steady(context.Background())
	if err != nil || !st.Converged {
		t.Fatal(err, st)
	}
	result := run(t, m)
	end := result.Records[len(result.Records)-1]
	for i, c := range m.Columns() {
		if c.Figure == "bodyC" || c.Figure == "junctionC" || c.Figure == "caseC" {
			if rise := st.Record[i] - 22; math.Abs(end[i]-st.Record[i]) > 0.01*rise {
				t.Errorf("%s.%s ends at %.2f °C and rests at %.2f °C", c.Owner, c.Figure, end[i], st.Record[i])
			}
		}
	}
	light.Conditions.HeatSchool = "all-input"
	all, err := compile(t, light).Solver().Steady(context.Background())
	if err != nil || !all.Converged || !all.Ledger.Closes() {
		t.Fatal(err, all)
	}
	part, whole := column(t, m, st.Record, "shelf", "bodyC")-22, column(t, m, all.Record, "shelf", "bodyC")-22
	if whole < 1.5*part || column(t, m, all.Record, "boards", "fluxLm") < 1000 {
		t.Errorf("the shelf rises by %g K with the light taken off and by %g K without", part, whole)
	}
}
