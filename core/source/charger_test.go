package source

import (
	"math"
	"testing"

	"photherm/core/design"
)

// What a charger is set to, by whatever says so; its end by chemistry (common practice: 4.2, 4.35,
// 3.65, 2.4 and 1.45 V a cell); what it loses.
func TestChargerBySettings(t *testing.T) {
	linear := &design.Charger{Kind: "linear", Chemistry: "li-ion-4.2", CurrentA: new(0.5), ProgramV: new(1200.0), InputV: new(5.0)}
	for _, c := range []struct {
		use  design.ChargerUse
		part *design.Charger
		want float64
	}{
		{design.ChargerUse{}, linear, 0.5},
		{design.ChargerUse{ProgramOhm: new(4000.0)}, linear, 0.3},
		{design.ChargerUse{ProgramOhm: new(4000.0), CurrentA: new(0.2)}, linear, 0.2},
		{design.ChargerUse{ProgramOhm: new(4000.0)}, &design.Charger{CurrentA: new(0.7)}, 0.7},
		{design.ChargerUse{CurrentA: new(1.0)}, nil, 1},
		{design.ChargerUse{}, nil, 0},
		{design.ChargerUse{}, &design.Charger{}, 0},
	} {
		if a := ChargingA(&c.use, c.part); math.Abs(a-c.want) > 1e-12 {
			t.Errorf("%+v: %g A, want %g", c.use, a, c.want)
		}
	}
	for chemistry, want := range map[string]float64{"li-ion-4.2": 4.2, "li-ion-4.35": 4.35, "lifepo4": 3.65, "lead-acid": 2.4, "nimh": 1.45, "alkaline": 0, "lithium-3.0": 0} {
		if v := ChargeV(&design.Cell{Chemistry: chemistry}); v != want {
			t.Errorf("%s: %g V, want %g", chemistry, v, want)
		}
	}
	if v := ChargeV(&design.Cell{Chemistry: "li-ion-4.2", FullV: new(4.1)}); v != 4.1 {
		t.Errorf("a cell of its own: %g V", v)
	}
	made := func(part *design.Charger) *Charger {
		c := cell(t, design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 2, ResistanceOhm: 0.05})
		return NewCharger(&design.ChargerUse{}, part, &design.Cell{Chemistry: "li-ion-4.2"}, 1, NewPack(&design.Pack{Series: 1, Parallel: 1}, c, nil, 25), 25)
	}
	for _, c := range []struct {
		part          *design.Charger
		busV, a, want float64
	}{
		{linear, 3.7, 0.5, 0.65}, // (5 − 3.7) V
		{linear, 5.5, 0.5, 0},    // nothing flows back
		{linear, 3.7, 0, 0},
		{&design.Charger{Kind: "switching", Chemistry: "li-ion-4.2", Efficiency: new(0.8)}, 4, 1, 1},
		{&design.Charger{Kind: "switching", Chemistry: "li-ion-4.2"}, 4, 1, 4 * (1/0.85 - 1)}, // common practice
		{nil, 4, 1, 0},
	} {
		if w := made(c.part).LossW(c.part, c.busV, c.a); math.Abs(w-c.want) > 1e-12 {
			t.Errorf("%+v at %g V, %g A: %g W, want %g", c.part, c.busV, c.a, w, c.want)
		}
	}
	if a, _ := MaxChargeA(&design.Cell{CapacityAh: 3}); a != 1.5 {
		t.Errorf("half of 3 Ah an hour is %g A", a)
	}
	if a, _ := MaxChargeA(&design.Cell{CapacityAh: 3, MaxChargeA: new(3.0)}); a != 3 {
		t.Errorf("its data say 3 A, not %g", a)
	}
}

// What is left of a capacity in the cold, at the temperatures of the table, between and beyond.
func TestColdShare(t *testing.T) {
	for _, c := range []struct {
		chemistry string
		at, want  float64
	}{{"alkaline", 25, 1}, {"alkaline", 15, 1}, {"alkaline", 0, 0.65}, {"alkaline", -20, 0.25}, {"alkaline", -40, 0.25}, {"alkaline", -10, 0.45}, {"alkaline", 7.5, 0.825}, {"li-ion-4.2", 0, 0.95}} {
		if s := ColdShare(&design.Cell{Chemistry: c.chemistry}, c.at); math.Abs(s-c.want) > 1e-12 {
			t.Errorf("%s at %g °C: %g, want %g", c.chemistry, c.at, s, c.want)
		}
	}
	own := &design.Cell{Chemistry: "alkaline", OCV: []design.OCVPoint{{Charge: 0, VoltageV: 1}, {Charge: 1, VoltageV: 1.5}}}
	if s := ColdShare(own, -20); s != 1 {
		t.Errorf("a cell with its own curve is taken as it says, not %g of it", s)
	}
}
