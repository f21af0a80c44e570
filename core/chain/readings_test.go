package chain

import (
	"math"
	"testing"

	"photherm/core/design"
	"photherm/core/emitter"
	"photherm/core/internal/sample"
)

// An emitter measured warm, on its sink, point by point as the whole light settles, is
// the emitter it was: its readings are reduced by the same heat path. Taken as if cold
// they are tens of millivolts wrong. Readings quick and cold need no heat path.
func TestReadingsTakenWarm(t *testing.T) {
	part := sample.LEDPart()
	e := part.Emitter
	e.VfVPerK, e.RthKPerW, e.FluxLm, e.FluxCurrentA, e.EfficacyLmPerW = ptr(-0.0025), ptr(9.0), ptr(120.0), ptr(0.5), ptr(310.0)
	warm, cold, careless := *e, *e, *e
	warm.Forward, cold.Forward, careless.Forward = nil, nil, nil
	currents := []float64{0.02, 0.1, 0.3, 0.7, 1.2}
	truth, err := emitter.New(e)
	if err != nil {
		t.Fatal(err)
	}
	for _, a := range currents {
		light := onSink(supplyLight(9, 0, []design.Part{part, {ID: "lin", Name: "l", Driver: &design.Driver{Family: "linear"}}}, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: &a}, arrayNodeOf("a", 1, 1))), 14)
		figure := settled(t, light)
		v, c := figure("a", "inV"), figure("a", "caseC")
		warm.Forward = append(warm.Forward, design.ForwardPoint{CurrentA: a, VoltageV: v, CaseC: &c})
		careless.Forward = append(careless.Forward, design.ForwardPoint{CurrentA: a, VoltageV: v})
		air := 18.0
		cold.Forward = append(cold.Forward, design.ForwardPoint{CurrentA: a, VoltageV: truth.Voltage(a, air), JunctionC: &air})
	}
	for _, e := range []*design.Emitter{&warm, &cold} {
		if err := design.Check(supplyLight(5, 0, []design.Part{{ID: "e", Name: "e", Emitter: e}})); err != nil {
			t.Error(err)
		}
	}
	for name, c := range map[string]struct {
		e      design.Emitter
		within float64
	}{"warm": {warm, 2e-4}, "cold": {cold, 1e-9}} {
		m, err := emitter.New(&c.e)
		if err != nil {
			t.Fatal(err)
		}
		for _, a := range currents {
			if off := m.Voltage(a, 25) - truth.Voltage(a, 25); math.Abs(off) > c.within {
				t.Errorf("%s, at %g A: %.2f mV off", name, a, 1000*off)
			}
		}
	}
	m, err := emitter.New(&careless)
	if err != nil {
		t.Fatal(err)
	}
	if off := m.Voltage(1.2, 25) - truth.Voltage(1.2, 25); off > -0.03 {
		t.Errorf("taken as if cold it is only %.1f mV off", 1000*off)
	}
	// What cannot be is said with its place.
	hot := 190.0
	warm.Forward[0].CaseC = nil
	warm.Forward[0].JunctionC = &hot
	if _, err := emitter.New(&warm); err == nil {
		t.Error("a reading that comes out above the next passes")
	}
	both := part
	both.Emitter.Forward[1].CaseC, both.Emitter.Forward[1].JunctionC = &hot, &hot
	if err := design.Check(supplyLight(5, 0, []design.Part{both})); err == nil {
		t.Error("a reading at two temperatures passes")
	}
}
