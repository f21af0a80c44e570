package source

import (
	"math"
	"testing"

	"photherm/core/design"
)

func cell(t *testing.T, c design.Cell) Cell {
	t.Helper()
	m, err := New(&c)
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// The energy between two charges is ∫OCV dQ: checked by adding up the voltage
// itself in small steps, also below empty and above full, with an offset.
func TestEnergyIsTheIntegralOfVoltage(t *testing.T) {
	c := cell(t, design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 2.5, ResistanceOhm: 0.05})
	c.OffsetV = 0.013
	for _, r := range [][2]float64{{0, 1}, {0.1, 0.35}, {-0.02, 0.04}, {0.97, 1.03}} {
		const n = 200000
		sum, d := 0.0, (r[1]-r[0])/n
		for k := range n {
			sum += c.OCV(r[0]+(float64(k)+0.5)*d) * d
		}
		if got, want := c.EnergyWh(r[1])-c.EnergyWh(r[0]), sum*2.5; math.Abs(got/want-1) > 1e-6 {
			t.Errorf("from %g to %g: %g Wh, added up %g Wh", r[0], r[1], got, want)
		}
	}
	// A 2.5 Ah cell of this kind is sold as about 9 Wh: 3.6 V nominal (common practice).
	if wh := c.EnergyWh(1); wh < 2.5*3.6 || wh > 2.5*3.85 {
		t.Errorf("a full cell holds %g Wh", wh)
	}
}

func TestVoltageRisesWithCharge(t *testing.T) {
	c := cell(t, design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 1, ResistanceOhm: 0.05})
	last := math.Inf(-1)
	for s := -0.05; s < 1.05; s += 0.001 {
		v := c.OCV(s)
		if v <= last {
			t.Fatalf("the voltage falls at charge %g", s)
		}
		last = v
	}
	if full := c.OCV(1); full < 4.15 || full > 4.2 {
		t.Errorf("full is %g V", full)
	}
	measured := cell(t, design.Cell{CapacityAh: 1, ResistanceOhm: 0.05, OCV: []design.OCVPoint{{Charge: 0, VoltageV: 3.1}, {Charge: 0.5, VoltageV: 3.7}, {Charge: 1, VoltageV: 4.15}}})
	if math.Abs(measured.OCV(0.5)-3.7) > 1e-9 || measured.OCV(1) != 4.15 {
		t.Error("a measured curve does not go through its points")
	}
}

func TestResistance(t *testing.T) {
	c := cell(t, design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 1, ResistanceOhm: 0.05})
	if r := c.Ohm(0.5, 25); r != 0.05 {
		t.Errorf("at its reference %g Ω", r)
	}
	if cold := c.Ohm(0.5, 0) / c.Ohm(0.5, 25); math.Abs(cold-2) > 1e-9 {
		t.Errorf("freezing multiplies the resistance by %g", cold)
	}
	if empty := c.Ohm(0, 25) / c.Ohm(0.5, 25); math.Abs(empty-2) > 1e-9 || c.Ohm(0.2, 25) != 0.05 {
		t.Errorf("empty multiplies the resistance by %g", empty)
	}
	pack := NewPack(&design.Pack{Series: 4, Parallel: 2}, c, nil, 25)
	// At −20 °C, as multiples of room temperature: common practice, from memory. Alkaline AA cells have
	// 0.6 to 0.9 Ω of 0.15; lead gives about half the current. Held further down; nearly empty only
	// lithium-ion rises.
	for chemistry, cold := range map[string][2]float64{"li-ion-4.35": {3, 4.5}, "lifepo4": {3, 4.5}, "nimh": {2, 3.5}, "alkaline": {4, 6}, "zinc-carbon": {4, 6}, "lead-acid": {1.8, 2.2}, "lithium-3.0": {2, 3.5}, "lithium-1.5": {2, 3}} {
		other, err := New(&design.Cell{Chemistry: chemistry, CapacityAh: 1, ResistanceOhm: 0.2})
		if err != nil {
			t.Fatal(err)
		}
		if x := other.Ohm(0.5, -20) / 0.2; x < cold[0] || x > cold[1] || other.Ohm(0.5, -60) != other.Ohm(0.5, -20) || other.Ohm(0.5, 70) != other.Ohm(0.5, 60) {
			t.Errorf("%s at −20 °C: %g times, wanted %v", chemistry, x, cold)
		}
		if rises := other.Ohm(0.1, 25) > 0.2; rises != lithiumIon[chemistry] {
			t.Errorf("%s nearly empty: rises %v", chemistry, rises)
		}
	}
	if r := pack.CellsOhm(0.5, 25); math.Abs(r-0.1) > 1e-12 || pack.CapacityAh() != 2 || math.Abs(pack.OpenV(1, 0)-4*c.OCV(1)) > 1e-12 {
		t.Error("4S2P: twice the resistance, twice the capacity, four times the voltage")
	}
}

// Common practice: two 3 V lithium primaries give 6.4 V fresh, two lithium-ion cells
// 8.4 V full, three fresh alkaline cells 4.8 V; iron phosphate is flat, within
// 0.1 V from a fifth to nine tenths.
func TestChemistries(t *testing.T) {
	cell := func(chemistry string) Cell {
		c, err := New(&design.Cell{Chemistry: chemistry, CapacityAh: 1, ResistanceOhm: 0.1})
		if err != nil {
			t.Fatal(err)
		}
		for q := 0.0; q < 1; q += 0.01 {
			if c.OCV(q+0.01) < c.OCV(q) {
				t.Errorf("%s: resting voltage falls with charge at %g", chemistry, q)
			}
		}
		return c
	}
	for _, c := range []struct {
		chemistry    string
		cells, fresh float64
	}{{"lithium-3.0", 2, 6.4}, {"li-ion-4.2", 2, 8.4}, {"li-ion-4.35", 1, 4.35}, {"alkaline", 3, 4.8}, {"nimh", 3, 4.2}, {"lithium-1.5", 2, 3.6}} {
		one := cell(c.chemistry)
		if v := c.cells * one.OCV(1); math.Abs(v-c.fresh) > 0.03 {
			t.Errorf("%g × %s fresh: %g V, want %g V", c.cells, c.chemistry, v, c.fresh)
		}
	}
	if flat := cell("lifepo4"); flat.OCV(0.9)-flat.OCV(0.2) > 0.12 || flat.MinV != 2.5 {
		t.Error("iron phosphate is not flat")
	}
	if _, err := New(&design.Cell{Chemistry: "lead", CapacityAh: 1, ResistanceOhm: 1}); err == nil {
		t.Error("an unknown chemistry is taken")
	}
}

// Two cells side by side share the current: the slow part of each charges by half of it.
// What it holds is a capacitor's C·V²/2, and with the loss in its resistance it accounts
// for all the power that goes into it.
func TestSlowPartSharesAndHolds(t *testing.T) {
	cell, err := New(&design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 2, Health: new(0.8), ResistanceOhm: 0.05, PolarOhm: new(0.03), PolarS: new(40.0)})
	if err != nil {
		t.Fatal(err)
	}
	pack := NewPack(&design.Pack{Series: 3, Parallel: 2, ContactOhm: 0.5}, cell, nil, 25)
	if pack.CapacityAh() != 2*2*0.8 {
		t.Errorf("at 80 %% health two cells of 2 Ah hold %g Ah", pack.CapacityAh())
	}
	const amps = 4.0
	rates := make([]float64, 2)
	for _, slow := range []float64{0, 0.02, 0.06} {
		y := []float64{0.5, slow}
		pack.Rates(y, 25, amps, rates)
		// I/P through R1 and C1 of one cell: dv/dt = (I/P − v/R1)/C1, C1 = τ/R1.
		if want := (amps/2 - slow/0.03) / (40 / 0.03); math.Abs(rates[1]-want) > 1e-12 || math.Abs(rates[0]+amps/(3600*3.2)) > 1e-15 {
			t.Errorf("slow voltage %g V: rates %v, want %g", slow, rates, want)
		}
		_, held := pack.EnergyJ(y)
		_, more := pack.EnergyJ([]float64{0.5, slow + 1e-6*rates[1]})
		lost := pack.HeatW(y, 25, amps) - amps*amps*(pack.CellsOhm(0.5, 25)+0.5)
		into := 3 * amps * slow // the slow voltage of three in series, times the current
		if stored := (more - held) / 1e-6; math.Abs(stored+lost-into) > 1e-4*max(into, 1e-3) {
			t.Errorf("slow voltage %g V: %g W stored and %g W lost of %g W", slow, stored, lost, into)
		}
		// A cell's own voltage has no part of the drop in the contacts.
		want := cell.OCV(0.5) - slow - amps/2*cell.Ohm(0.5, 25)
		if p := pack.Protection(y, 25, amps); math.Abs(p.CellV-want) > 1e-12 || math.Abs(p.AboveV-(want-pack.CutoffV)) > 1e-12 {
			t.Errorf("slow voltage %g V: a cell stands at %g V, want %g V", slow, p.CellV, want)
		}
	}
}
