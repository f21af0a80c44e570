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

// A charger ends where its current falls, begins again where the rested pack has fallen, and is
// stopped where the highest cell stands at its board's limit; by hand, from the cells' own voltage
// and resistance.
func TestChargerAndItsBoard(t *testing.T) {
	of := cell(t, design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 2, ResistanceOhm: 0.05})
	board := &design.Protection{Series: 2, CutCellV: 2.5, OverCellV: new(4.28), OverFreeV: new(4.1)}
	part := &design.Charger{Kind: "switching", Chemistry: "li-ion-4.2", CurrentA: new(1.0), Series: 2}
	groups := []design.CellGroup{{Cells: []design.PackCell{{CapacityAh: new(2.0)}}}, {Cells: []design.PackCell{{CapacityAh: new(1.5)}}}}
	make2 := func(board *design.Protection, part *design.Charger, groups []design.CellGroup) (*Charger, Law) {
		p := &design.Pack{Series: 2, Parallel: 1, Groups: groups}
		law := LawOf(p, of, board, 25)
		return NewCharger(&design.ChargerUse{CurrentA: new(1.0)}, part, &design.Cell{Chemistry: "li-ion-4.2"}, 2, law, 25), law
	}
	near := func(what string, got, want float64) {
		t.Helper()
		if math.Abs(got-want) > 1e-9 && !(math.IsInf(got, 0) && got == want) {
			t.Errorf("%s: %g, want %g", what, got, want)
		}
	}
	c, law := make2(board, part, groups)
	y := make([]float64, law.States())
	law.Start(y, 0.5)
	each := len(y) / 2
	y[0], y[each] = 0.7, 0.95 // the second holds less and is ahead
	high := of.OCV(0.95) + of.Ohm(0.95, 25)
	stop := c.Protection(y, 25, 1)
	near("below the board's limit", stop.AboveV, 4.28-high)
	near("rested below where it may go on", stop.Release, min(4.05-(of.OCV(0.7)+of.OCV(0.95))/2, 4.1-of.OCV(0.95)))
	near("the highest", law.(*Groups).HighestV(y, 25, -1), high)
	if c.Stopped(y, 25, 1) || !c.Stopped(y, 25, (4.28-of.OCV(0.95))/of.Ohm(0.95, 25)) {
		t.Error("stopped too soon, or not at its limit")
	}
	y[0], y[each] = 0.999, 0.995 // both nearly full: its own end comes first
	near("above its own end", c.Protection(y, 25, 0.15).AboveV, min(0.05, 4.28-of.OCV(0.999)-0.15*of.Ohm(0.999, 25)))
	// A pack takes more as long as one group does not hold all.
	for _, x := range []struct {
		a, b float64
		more bool
	}{{0.9, 0.9, true}, {1.01, 0.9, true}, {0.9, 1.01, true}, {1, 1, false}} {
		if y[0], y[each] = x.a, x.b; law.Terminal(y, 25).TwoWay != x.more {
			t.Errorf("groups at %g and %g: takes more: %v", x.a, x.b, !x.more)
		}
	}
	// Without the limit of a board it is its own end alone; a supply that was taken off stays off,
	// unless the board lets it go on.
	bare, _ := make2(nil, part, groups)
	y[0], y[each] = 0.9, 1.1
	near("nothing watches", bare.Protection(y, 25, 1).AboveV, 0.9)
	if bare.Stopped(y, 25, 1) {
		t.Error("a board stops it that is not there")
	}
	supply, law := make2(board, nil, nil)
	y = make([]float64, law.States())
	y[0] = 0.8
	s := supply.Protection(y, 25, 1)
	near("a supply below the limit", s.AboveV, 4.28-of.OCV(0.8)-of.Ohm(0.8, 25))
	near("and where it goes on", s.Release, 4.1-of.OCV(0.8))
	supply, _ = make2(nil, nil, nil)
	s = supply.Protection(y, 25, 1)
	near("a supply alone", s.AboveV, math.Inf(1))
	near("stays off", s.Release, math.Inf(-1))
	// Where its data do not say, a board lets it go on 0.15 V lower.
	silent, _ := make2(&design.Protection{Series: 2, CutCellV: 2.5, OverCellV: new(4.3)}, nil, nil)
	near("by common practice", silent.Protection(y, 25, 1).Release, 4.15-of.OCV(0.8))
}

// What is mostly sold for a pack.
func TestUsualForAPack(t *testing.T) {
	for _, c := range []struct {
		cell             design.Cell
		series, parallel int
		cut, over        float64 // 0: stops no charge
		kind             string  // empty: none
		a                float64
	}{
		{design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 2}, 1, 1, 2.5, 4.28, "linear", 1},
		{design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 2}, 3, 2, 2.5, 4.28, "switching", 2},
		{design.Cell{Chemistry: "li-ion-4.35", CapacityAh: 2}, 1, 1, 2.5, 4.43, "linear", 1},
		{design.Cell{Chemistry: "lifepo4", CapacityAh: 6, MaxChargeA: new(2.0)}, 4, 0, 2.5, 3.75, "switching", 2},
		{design.Cell{Chemistry: "lead-acid", CapacityAh: 7, MinV: new(1.75)}, 6, 1, 1.75, 0, "switching", 3.5},
		{design.Cell{Chemistry: "alkaline", CapacityAh: 2, MinV: new(0.8)}, 3, 1, 0.8, 0, "", 0},
	} {
		b := UsualBoard(&c.cell, c.series)
		over := 0.0
		if b.OverCellV != nil {
			over = *b.OverCellV
		}
		if b.Series != c.series || b.CutCellV != c.cut || over != c.over || (b.Chemistry == c.cell.Chemistry) == Primary(&c.cell) {
			t.Errorf("%+v: board %+v", c.cell, b)
		}
		ch := UsualCharger(&c.cell, c.series, c.parallel)
		switch {
		case (ch == nil) != (c.kind == ""):
			t.Errorf("%+v: charger %+v", c.cell, ch)
		case ch != nil && (ch.Kind != c.kind || ch.Series != c.series || *ch.CurrentA != c.a || ch.Chemistry != c.cell.Chemistry || (ch.InputV != nil) != (c.kind == "linear")):
			t.Errorf("%+v: charger %+v, %g A", c.cell, ch, *ch.CurrentA)
		}
	}
}
