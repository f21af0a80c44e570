package chain

import (
	"context"
	"fmt"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/internal/sample"
)

var plateFins = design.Shape{Kind: "fins", LengthM: ptr(0.08), WidthM: ptr(0.06), ThicknessM: ptr(0.004), Fins: 8, FinHeightM: ptr(0.02), FinThickM: ptr(0.0015), Surface: "anodised"}

// finned is the handlamp with a body that is known by its measures.
func finned(t *testing.T, change func(*design.Light, *design.Body)) *Model {
	t.Helper()
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	b, shape := &light.Variants[0].Bodies[0], plateFins
	b.KPerW, b.HeatJPerK, b.MassKg, b.Shape = nil, nil, nil, &shape
	change(light, b)
	return compile(t, light)
}

// A body by its measures is solved with the rest: at rest what comes onto it is what its law
// gives at its own temperature, on the way its mass and specific heat hold it back, and thin
// air and the sea's level differ. A K/W that is given wins.
func TestBodyByItsMeasures(t *testing.T) {
	m := finned(t, func(*design.Light, *design.Body) {})
	st, err := m.Solver().Steady(context.Background())
	if err != nil || !st.Converged {
		t.Fatalf("%v %+v", err, st)
	}
	rest := func(m *Model, st *SteadyState, figure string) float64 {
		return column(t, m, st.Record, m.Variant().Bodies[0].ID, figure)
	}
	law, _ := heat.NewBody(&plateFins, 1)
	at, out := rest(m, st, "bodyC"), rest(m, st, "airW")
	closeTo(t, "to the air", out, law.Watts(at, m.Light().Conditions.AmbientC, 0), 1e-6)
	if at < 30 || at > 90 || out < 3 {
		t.Errorf("at rest %g °C, %g W", at, out)
	}
	// The first minute: almost all of the heat goes into warming it.
	r := run(t, m)
	kg, _ := law.MassKg(&plateFins)
	warmed, into := 0.0, 0.0
	for i := 1; i < len(r.T) && r.T[i] <= 60; i++ {
		warmed = column(t, m, r.Records[i], m.Variant().Bodies[0].ID, "bodyC") - m.Light().Conditions.AmbientC
		into += (r.T[i] - r.T[i-1]) * column(t, m, r.Records[i], "", "heatW")
	}
	if share := warmed * kg * 900 / into; share < 0.75 || share > 1 {
		t.Errorf("after a minute %g of the heat is in it", share)
	}
	if !r.Ledger.Closes() {
		t.Errorf("the ledger is %g open", r.Ledger.Closure)
	}

	thin := finned(t, func(l *design.Light, _ *design.Body) { l.Conditions.AltitudeM = ptr(3000.0) })
	high, err := thin.Solver().Steady(context.Background())
	if err != nil || rest(thin, high, "bodyC") < at+0.5 {
		t.Errorf("at 3000 m %g °C, %v", rest(thin, high, "bodyC"), err)
	}
	plain := finned(t, func(_ *design.Light, b *design.Body) { b.KPerW = ptr(2.0) })
	by, err := plain.Solver().Steady(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	closeTo(t, "by its K/W", rest(plain, by, "bodyC")-15, 2*rest(plain, by, "airW"), 1e-6)
}

// A fan follows the voltage of the node that feeds it: behind an open switch it stands still,
// and one that nothing feeds runs by itself.
func TestFanOfABody(t *testing.T) {
	at := func(open bool, node string) float64 {
		m := finned(t, func(l *design.Light, b *design.Body) {
			f := &l.Variants[0].Feeds[0]
			f.Loads = append(f.Loads, design.Node{ID: "fan-switch", Switch: &design.Switch{Open: open}, Loads: []design.Node{{ID: "fan", Aux: &design.Auxiliary{Purpose: "fan", CurrentA: 0.05}}}})
			b.Shape.Fan = &design.Fan{NodeID: node, FlowM3H: 15, RatedV: ptr(12.0)}
		})
		st, err := m.Solver().Steady(context.Background())
		if err != nil || !st.Converged {
			t.Fatal(err, st)
		}
		return column(t, m, st.Record, m.Variant().Bodies[0].ID, "bodyC")
	}
	on, off, alone := at(false, "fan"), at(true, "fan"), at(false, "")
	if !(on < off-8) || math.Abs(alone-on) > 3 {
		t.Errorf("blown %g °C, its switch open %g °C, by itself %g °C", on, off, alone)
	}
}

// What a shape still lacks is told at the measure.
func TestShapeWithoutMeasures(t *testing.T) {
	m := finned(t, func(_ *design.Light, b *design.Body) { b.Shape.FinHeightM, b.Shape.Fins = nil, 0 })
	told := map[string]bool{}
	for _, miss := range m.Missing() {
		if strings.Contains(miss.Pointer, "/bodies/0/shape/") {
			told[miss.Pointer[strings.LastIndex(miss.Pointer, "/")+1:]] = true
		}
	}
	if !told["fins"] || !told["finHeightM"] || len(told) != 2 {
		t.Errorf("told of %v", told)
	}
}

// BenchmarkSteadyGeometry compares the state of rest of a body by its measures with that of
// one by its K/W.
func BenchmarkSteadyGeometry(b *testing.B) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		b.Fatal(err)
	}
	shape := plateFins
	for name, change := range map[string]func(*design.Body){"k-per-w": func(*design.Body) {}, "fins": func(body *design.Body) { body.KPerW, body.Shape = nil, &shape }} {
		b.Run(name, func(b *testing.B) {
			change(&light.Variants[0].Bodies[0])
			m, err := Compile(light, Options{})
			if err != nil {
				b.Fatal(err)
			}
			s := m.Solver()
			b.ReportAllocs()
			for b.Loop() {
				if _, err := s.Steady(context.Background()); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// Emitters whose contact area is known spread their heat in the body under them: the board
// stands higher above the body by their watts times what the series says.
func TestSpreadingUnderEmitters(t *testing.T) {
	above := func(area *float64) float64 {
		m := finned(t, func(l *design.Light, _ *design.Body) {
			design.FindNode(l.Variants[0].Feeds[0].Loads, "emitters").Array.Joint = &design.Joint{KPerW: ptr(0.5), AreaM2: area}
		})
		st, err := m.Solver().Steady(context.Background())
		if err != nil || !st.Converged {
			t.Fatal(err, st)
		}
		at := func(owner, figure string) float64 { return column(t, m, st.Record, owner, figure) }
		board := at("emitters", "caseC") - at(m.Variant().Bodies[0].ID, "bodyC")
		return board / at("emitters", "lossW")
	}
	law, _ := heat.NewBody(&plateFins, 1)
	closeTo(t, "spreading, K/W", above(ptr(1e-4))-above(nil), law.SpreadKPerW(&plateFins, 0.01, 0.01, 1), 1e-4)
}

// Warming of a body by its measures against ngspice: its law as a table of watts over kelvins
// beside its heat capacity, with a second body joined to it, degrees as volts and watts as
// amperes. Within 0.5 % of the rise on the way and at rest.
func TestWarmingAgainstNgspice(t *testing.T) {
	const watts, joint, inner = 14.0, 0.8, 25.0
	shape := plateFins
	m := compile(t, heater(watts, design.Body{ID: "a", Name: "Inner", HeatJPerK: ptr(inner), Joints: []design.BodyLink{{BodyID: "b", Joint: design.Joint{KPerW: ptr(joint)}}}}, design.Body{ID: "b", Name: "Fins", Shape: &shape}))
	r := run(t, m)
	ambient := m.Light().Conditions.AmbientC
	law, _ := heat.NewBody(&shape, 1)
	kg, _ := law.MassKg(&shape)
	table := ""
	for k := -5; k <= 80; k++ {
		table += fmt.Sprintf(",%d,%.9g", k, law.Watts(ambient+float64(k), ambient, 0))
	}
	control := "tran 1 4000 uic\n"
	times := []float64{60, 300, 900, 3600}
	for _, at := range times {
		control += fmt.Sprintf("meas tran a%g find v(a) at=%g\nmeas tran b%g find v(b) at=%g\n", at, at, at, at)
	}
	want := spice(t, fmt.Sprintf("* warming\n.options reltol=1e-6\ni1 0 a %g\nr1 a b %g\nca a 0 %g ic=0\ncb b 0 %g ic=0\nbair b 0 i=pwl(v(b)%s)\n.control\n%s.endc\n.end\n", watts, joint, inner, kg*900, table, control))
	for _, at := range times {
		record := r.At(at)
		rise := want[fmt.Sprintf("b%g", at)]
		for owner, name := range map[string]string{"a": "a%g", "b": "b%g"} {
			if got, should := column(t, m, record, owner, "bodyC")-ambient, want[fmt.Sprintf(name, at)]; math.Abs(got-should) > 5e-3*rise+0.02 || should < 1 {
				t.Errorf("%s after %g s: %g K above the air, ngspice %g", owner, at, got, should)
			}
		}
	}
}
