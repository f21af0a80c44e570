package bench

import (
	"context"
	"fmt"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
	"photherm/core/reading"
)

// lampLight is a lamp that is not known yet on three cells of a straight curve.
func lampLight() *design.Light {
	cell := &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 2, ResistanceOhm: 0.1, OCV: []design.OCVPoint{{Charge: 0, VoltageV: 3.0}, {Charge: 1, VoltageV: 4.2}}, MinV: p(3.0)}
	return &design.Light{Format: design.Format, Version: design.Version, Name: "lamp", Conditions: design.Conditions{AmbientC: 25}, Parts: []design.Part{{ID: "cell", Name: "cell", Cell: cell}},
		Variants: []design.Variant{{ID: "v", Name: "v", Bodies: []design.Body{}, Feeds: []design.Feed{{ID: "f", Sources: []design.Source{{ID: "s", Pack: &design.Pack{PartID: "cell", Series: 3, Parallel: 1, CutoffCellV: p(3.3)}}},
			Loads: []design.Node{{ID: "lamp", Load: &design.MeasuredLoad{}}}}}}}}
}

// The run-down of a lamp by its readings, unordered, against a circuit simulator's transient of
// the same table and cell: half a per cent.
func TestDrawAgainstNgspice(t *testing.T) {
	list, err := reading.ReadDraws("12.6 V 520 mA 100; 9.5 V 180 mA 30; 11 V 330 mA 62")
	if err != nil {
		t.Fatal(err)
	}
	light := lampLight()
	got, err := DrawOf(context.Background(), light, 0, "lamp", list)
	if err != nil {
		t.Fatal(err)
	}
	// Resistance of lithium rises below a fifth of the charge, as the chain has it, which ends before.
	want := sample.Ngspice(t, fmt.Sprintf(`* lamp
cq q 0 %g ic=1
bq q 0 i=v(m)
bo e 0 v=3*pwl(v(q), 0, 3.0, 1, 4.2)
rs e b 0.3
bl b 0 i=pwl(v(b), 9.5, 0.18, 11, 0.33, 12.6, 0.52)
bm m 0 v=pwl(v(b), 9.5, 0.18, 11, 0.33, 12.6, 0.52)
.control
tran 5 60000 0 5 uic
meas tran tend when v(b)=9.9 fall=1
meas tran charge find v(q) when v(b)=9.9 fall=1
print tend charge
.endc
.end
`, 3600*2.0))
	if got.EndS == nil || math.Abs(*got.EndS/want["tend"]-1) > 5e-3 {
		t.Fatalf("lasts %v s, ngspice %g", got.EndS, want["tend"])
	}
	mean := (1 - want["charge"]) * 2 * 3600 / want["tend"]
	if math.Abs(*got.MeanA/mean-1) > 5e-3 || got.FromA < got.ToA || got.Extrapolated {
		t.Errorf("mean %g A, ngspice %g; from %g to %g A", *got.MeanA, mean, got.FromA, got.ToA)
	}
	// As the draw scatters by ±1.5 %, about so do the hours.
	if math.Abs(*got.LowS/(*got.EndS/(1+got.Scatter))-1) > 0.02 || math.Abs(*got.HighS/(*got.EndS/(1-got.Scatter))-1) > 0.02 || math.Abs(got.Scatter-0.015) > 1e-12 {
		t.Errorf("from %g to %g s, scatter %g", *got.LowS, *got.HighS, got.Scatter)
	}
	// From 12.4 V, by its readings, to 9.9 V: 0.95 of its light to 0.385.
	if got.LightAtEnd == nil || math.Abs(*got.LightAtEnd-0.385/0.95) > 0.03 {
		t.Errorf("light at the end %v", got.LightAtEnd)
	}
}

func TestDrawSays(t *testing.T) {
	ask := func(text string) (*DrawnLife, error) {
		list, err := reading.ReadDraws(text)
		if err != nil {
			t.Fatal(err)
		}
		return DrawOf(context.Background(), lampLight(), 0, "lamp", list)
	}
	got, err := ask("11 V 300 mA; 10.5 V 300 mA; 12.5 V 485 mA; 8.2 V 137 mA")
	if err != nil || len(got.Contradicts) != 1 || len(got.Repeat) != 1 {
		t.Errorf("%+v %v", got, err)
	}
	if got, err := ask("10 V 100 mA; 10.5 V 120 mA"); err != nil || !got.Extrapolated {
		t.Errorf("%+v %v", got, err)
	}
	if _, err := ask("10 V 100 mA"); err == nil || !strings.Contains(err.Error(), "two readings") {
		t.Error(err)
	}
	if _, err := DrawOf(context.Background(), handlamp(t), 0, "emitters", make([]reading.Draw, 2)); err == nil {
		t.Error("emitters taken for a load")
	}
}

// A log made by hand: 2 h at 1 A and back to rest for a moment in the middle, from 12.3 V down.
func TestDischarge(t *testing.T) {
	light := lampLight()
	light.Variants[0].Feeds[0].Sources[0].Pack.ContactOhm = 0.06
	log := DischargeLog{}
	for i := range 721 {
		a, v := 1.0, 12.3-2.4*float64(i)/720
		if i == 300 {
			a, v = 0, v+0.36 // 0.1 Ω each of three, and the contacts
		}
		log.S, log.A, log.V = append(log.S, 10*float64(i)), append(log.A, a), append(log.V, v)
	}
	got, err := DischargeOf(context.Background(), light, 0, log)
	if err != nil {
		t.Fatal(err)
	}
	if math.Abs(got.CellAh-(2-10.0/3600)) > 1e-9 || got.CellOhm == nil || math.Abs(*got.CellOhm-0.1) > 2e-3 || got.Steps != 2 || !got.Whole || got.EndS != 7200 || math.Abs(got.Wh-got.Ah*11.1) > 0.05 {
		t.Errorf("%+v, a cell %v Ω", got, *got.CellOhm)
	}
	if got.Take.At != "/parts/cell/cell/capacityAh" || got.Take.Was != 2 || got.SaidAh != 2 {
		t.Errorf("%+v", got.Take)
	}
	log.S, log.V, log.A = log.S[:250], log.V[:250], log.A[:250]
	if got, err := DischargeOf(context.Background(), light, 0, log); err != nil || got.Whole || got.CellOhm != nil {
		t.Errorf("cut short: %+v %v", got, err)
	}
	for _, bad := range []DischargeLog{{S: []float64{0, 1}, V: []float64{1, 1}}, {S: []float64{1, 0}, V: []float64{1, 1}, A: []float64{1, 1}}, {S: []float64{0, 1}, V: []float64{1, math.NaN()}, A: []float64{1, 1}}} {
		if _, err := DischargeOf(context.Background(), light, 0, bad); err == nil {
			t.Errorf("%+v is taken", bad)
		}
	}
	if _, err := DischargeOf(context.Background(), plainLoad(), 0, log); err == nil {
		t.Error("a supply is run down")
	}
}

// Common practice: a cell that goes from 4.00 to 4.16 V as 0.44 A of charge begins has, with its
// leads, about 0.36 Ω.
func TestResistanceByAStepOfCharge(t *testing.T) {
	light := lampLight()
	light.Variants[0].Feeds[0].Sources[0].Pack.Series = 1
	got, err := DischargeOf(context.Background(), light, 0, DischargeLog{S: []float64{0, 10, 20, 30}, V: []float64{4.00, 4.00, 4.16, 4.16}, A: []float64{0, 0, -0.44, -0.44}})
	if err != nil || got.CellOhm == nil || math.Abs(*got.CellOhm-0.36) > 0.01 {
		t.Errorf("%+v %v", got, err)
	}
}

// Common practice: 1.4 V over 21 Ω are 67 mA from a full cell, and some 38 to 40 mA at 3.6 V.
func TestResistorOnACell(t *testing.T) {
	light := lampLight()
	light.Parts = append(light.Parts, design.Part{ID: "led", Name: "led", Emitter: &design.Emitter{VfRefTempC: 25, Forward: []design.ForwardPoint{{CurrentA: 0.02, VoltageV: 2.74}, {CurrentA: 0.04, VoltageV: 2.78}, {CurrentA: 0.067, VoltageV: 2.8}}}},
		design.Part{ID: "r", Name: "r", Driver: &design.Driver{Family: "resistor"}})
	f := &light.Variants[0].Feeds[0]
	f.Sources[0].Pack.Series, f.Sources[0].Pack.CutoffCellV = 1, nil
	light.Parts[0].Cell.ResistanceOhm = 0.02
	f.Loads = []design.Node{{ID: "r", Driver: &design.DriverUse{PartID: "r", ResistanceOhm: p(21.0)}, Loads: []design.Node{{ID: "led", Array: &design.Array{PartID: "led", Series: 1, Parallel: 1}}}}}
	m, err := model(light, 0, true)
	if err != nil {
		t.Fatal(err)
	}
	q, err := newSolved(context.Background(), m)
	if err != nil {
		t.Fatal(err)
	}
	for charge, want := range map[float64][2]float64{1: {0.066, 0.068}, 0.5: {0.038, 0.040}} { // its curve is straight: 3.6 V half full
		if a, ok := q.figure(point{"led", "inA", moment{kind: "cold", charge: charge}, nil, 0, false}); !ok || a < want[0] || a > want[1] {
			t.Errorf("at a charge of %g %g A %v", charge, a, ok)
		}
	}
}
