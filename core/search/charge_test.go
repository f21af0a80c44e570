package search

import (
	"context"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/source"
)

func charged(t *testing.T, light *design.Light, from float64, lit bool, wantedA float64) *Charge {
	t.Helper()
	c, err := ChargeOf(context.Background(), light, 0, from, lit, wantedA)
	if err != nil {
		t.Fatal(err)
	}
	return c
}

// The handlamp's board: phases in their order, as long as the charge over the current asks at
// least, its heat by its efficiency; a lower end gives charge up for life, both told as a band.
func TestCharge(t *testing.T) {
	light := handlamp(t)
	c := charged(t, light, 0.1, false, 0)
	if len(c.Phases) < 2 || c.Phases[0].Name != "constant current" || c.Phases[1].Name != "constant voltage" || c.Phases[1].FromS <= 0 {
		t.Errorf("%+v", c.Phases)
	}
	least := (c.Reached - 0.1) * 3.4 / 1.2 * 3600
	if c.FullS == nil || *c.FullS < least || *c.FullS > 1.6*least || c.Reached < 0.97 || c.Reached > 1.001 {
		t.Fatalf("full after %v s, at least %g, reached %g", c.FullS, least, c.Reached)
	}
	for i, at := range c.T {
		if math.Abs(at-*c.FullS*float64(i)/float64(len(c.T)-1)) > 1e-6**c.FullS || i > 0 && (c.Charge[i] <= c.Charge[i-1] || c.CurrentA[i] > c.CurrentA[i-1]+1e-6) {
			t.Fatalf("curves at %g s: %v", at, c)
		}
	}
	if math.Abs(c.Charge[0]-0.1) > 1e-9 || math.Abs(c.CellV[len(c.T)-1]-4.2) > 1e-3 {
		t.Errorf("from %g to %g V", c.Charge[0], c.CellV[len(c.T)-1])
	}
	// 16.8 V at 1.2 A through 90 % lose 2.24 W at most, and warm 28 K/W over 15 °C.
	if math.Abs(*c.MostW-16.8*1.2/9) > 0.02 || math.Abs(*c.MostC-(15+28**c.MostW)) > 1e-9 {
		t.Errorf("%g W, %g °C", *c.MostW, *c.MostC)
	}
	stored := 3.4 * 4 * 3.75 * (c.Reached - 0.1)
	if *c.InWh < stored/0.9 || *c.InWh > 1.08*stored/0.9 {
		t.Errorf("takes %g Wh for %g Wh", *c.InWh, stored)
	}
	if c.CellA != 1.2 || c.CellMaxA != 1.7 || c.LowC != 0 || c.HighC != 45 {
		t.Errorf("%+v", c)
	}
	if len(c.Ends) != 3 || !c.Ends[0].Use || math.Abs(c.Ends[0].Reached-c.Reached) > 1e-9 || c.Ends[1].Reached >= c.Ends[0].Reached || c.Ends[2].Reached >= c.Ends[1].Reached || c.Ends[0].LifeHigh != 1 || math.Abs(c.Ends[2].LifeLow-1.69) > 1e-9 {
		t.Errorf("%+v", c.Ends)
	}
	if lit := charged(t, light, 0.5, true, 0); lit.FullS != nil || lit.Why == "" {
		t.Errorf("lit: %+v", lit.FullS)
	}
	// 18 kΩ at 1000 V programs 55.6 mA (common practice for boards of that kind).
	light.Part("charger").Charger.ProgramV = p(1000.0)
	use := light.Variants[0].Feeds[0].Sources[0].Pack.Charger
	use.ProgramOhm = p(18e3)
	if slow := charged(t, light, 0.9, false, 0.1); math.Abs(slow.SetA-0.0556) > 5e-5 || math.Abs(*slow.Ohm-1e4) > 1e-9 {
		t.Errorf("%g A, %g Ω", slow.SetA, *slow.Ohm)
	}
	for name, change := range map[string]func(l *design.Light){
		"no charger": func(l *design.Light) { l.Variants[0].Feeds[0].Sources[0].Pack.Charger = nil },
		"no current": func(l *design.Light) { l.Part("charger").Charger.CurrentA = nil },
		"dry cells":  func(l *design.Light) { l.Part("cell").Cell.Chemistry = "alkaline" },
		"from the wall": func(l *design.Light) {
			l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "m", Mains: &design.Mains{VoltageV: 230, FrequencyHz: 50}}
		},
	} {
		l := handlamp(t)
		change(l)
		if c, err := ChargeOf(context.Background(), l, 0, 0, false, 0); err == nil {
			t.Errorf("%s: %+v", name, c)
		}
	}
}

// 0.44 A into a cell at rest at 4.00 V shows 4.16 V where cell and leads have 0.36 Ω (common
// practice: the jump when charging begins measures them).
func TestJumpWhenChargingBegins(t *testing.T) {
	light := handlamp(t)
	light.Parts[0].Cell = &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 2, ResistanceOhm: 0.3, OCV: []design.OCVPoint{{Charge: 0, VoltageV: 3}, {Charge: 1, VoltageV: 4.25}}}
	pack := light.Variants[0].Feeds[0].Sources[0].Pack
	pack.Series, pack.ContactOhm, pack.ProtectionID, pack.Charger = 1, 0.06, "", &design.ChargerUse{CurrentA: p(0.44), EndCellV: p(4.3)}
	light.Conditions.AmbientC = 25
	c := charged(t, light, 0.8, false, 0)
	// A bench supply does not end: full is when its current has fallen to a tenth.
	if n := len(c.T) - 1; c.FullS == nil || math.Abs(c.CurrentA[n]-0.044) > 1e-3 || c.Why == "" || len(c.Ends) != 3 || c.Ends[0].FullS == nil {
		t.Errorf("full after %v s at %g A, %q", c.FullS, c.CurrentA[n], c.Why)
	}
	if jump := c.CellV[0] - 4.0; math.Abs(jump-0.36*0.44) > 2e-3 || math.Abs(c.CurrentA[0]-0.44) > 1e-4 {
		t.Errorf("shows %g V at %g A", c.CellV[0], c.CurrentA[0])
	}
}

// How long it lasts is asked of the cells, whether it is plugged in or not.
func TestPluggedInLastsAsLong(t *testing.T) {
	out, in := handlamp(t), handlamp(t)
	in.Variants[0].Feeds[0].Sources[0].Pack.Charger.PluggedIn = true
	a, b := lasts(t, out, 0, 0.3), lasts(t, in, 0, 0.3)
	n, err := NightsOf(context.Background(), in, 0, []Spell{{Hours: 1}}, 0.3)
	if *a.Schools[3].Hours != *b.Schools[3].Hours || *a.CostH != *b.CostH || err != nil || n.Whole != 3 {
		t.Errorf("%v and %v h, %+v, %v", *a.Schools[3].Hours, b.Schools[3].Hours, n, err)
	}
	if !in.Variants[0].Feeds[0].Sources[0].Pack.Charger.PluggedIn {
		t.Error("the light that was asked about is changed")
	}
}

// Where an alarm sounds, what is left then; and what a voltage read at rest stands for: weak
// where the chemistry is flat.
func TestAlarmAndGauge(t *testing.T) {
	light := handlamp(t)
	pack := light.Variants[0].Feeds[0].Sources[0].Pack
	pack.AlarmCellV = p(3.3)
	r := lasts(t, light, 0, 0)
	end := *r.Moments[len(r.Moments)-1].S
	if r.Alarm == nil || !r.Alarm.Guarded || *r.Alarm.S <= 0.5*end || math.Abs(*r.Alarm.S+*r.Alarm.LeftS-end) > 1 {
		t.Errorf("%+v of %g s", r.Alarm, end)
	}
	// One that watches the whole pack: of four like cells it sounds sooner by what wires and springs take;
	// of a pack with one weak group it sounds when that group is far lower.
	pack.AlarmCellV, pack.AlarmPackV = nil, p(4*3.3)
	whole := lasts(t, light, 0, 0)
	if whole.Alarm == nil || *whole.Alarm.S > *r.Alarm.S || *whole.Alarm.S < 0.8**r.Alarm.S || *whole.Alarm.CellV < 3.3 || *whole.Alarm.CellV > 3.4 || math.Abs(*r.Alarm.CellV-3.3) > 1e-3 {
		t.Errorf("%+v of the pack, %+v of a cell", whole.Alarm, r.Alarm)
	}
	one := design.CellGroup{Cells: []design.PackCell{{}}}
	pack.Groups = []design.CellGroup{one, one, {Cells: []design.PackCell{{CapacityAh: p(2.2)}}}, one}
	weakS := lasts(t, light, 0, 0).Alarm.S
	pack.AlarmPackV = p(4 * 3.55)
	if weak := lasts(t, light, 0, 0).Alarm; weakS != nil || weak.S == nil || *weak.CellV > 3.45 {
		t.Errorf("one cell is weak: at 13.2 V it comes after the cut-off, %v s; at 14.2 V %+v", weakS, weak)
	}
	pack.AlarmPackV = p(4 * 3.3)
	pack.Groups = nil
	pack.AlarmCellV = p(3.3) // of two the first
	if both := lasts(t, light, 0, 0); *both.Alarm.S != *whole.Alarm.S {
		t.Errorf("%+v, and of the pack alone %+v", both.Alarm, whole.Alarm)
	}
	pack.AlarmPackV = p(0.6)
	if both := lasts(t, light, 0, 0); *both.Alarm.S != *r.Alarm.S {
		t.Errorf("%+v, and of a cell alone %+v", both.Alarm, r.Alarm)
	}
	pack.AlarmPackV = nil
	pack.ProtectionID, pack.CutoffCellV = "", p(3.0)
	if r := lasts(t, light, 0, 0); !r.Alarm.Guarded {
		t.Error("a cut-off without a board guards it")
	}
	pack.CutoffCellV = nil
	if r := lasts(t, light, 0, 0); r.Alarm.Guarded || *r.Alarm.LeftS <= 0 {
		t.Errorf("nothing cuts: %+v", r.Alarm)
	}
	pack.AlarmCellV = p(2.0)
	if r := lasts(t, light, 0, 0); r.Alarm.S != nil {
		t.Errorf("it never sounds: %+v", r.Alarm)
	}
	gauge := func(cellV float64) *Gauge {
		r, err := RuntimeOf(context.Background(), light, 0, 0, 0, 4*cellV)
		if err != nil {
			t.Fatal(err)
		}
		return r.Gauge
	}
	// From the kind's table: 3.78 V at half charge.
	g := gauge(3.78)
	if math.Abs(g.Charge-0.5) > 0.01 || g.Low >= g.Charge || g.High <= g.Charge || g.Weak || *g.LowS >= *g.LeftS || *g.HighS <= *g.LeftS || math.Abs(*g.LeftS/end-0.5) > 0.08 {
		t.Errorf("%+v", g)
	}
	if g := gauge(4.5); g.Charge != 1 {
		t.Errorf("above full: %+v", g)
	}
	if g := gauge(2.0); g.Charge != 0 || *g.LeftS != 0 {
		t.Errorf("below empty: %+v", g)
	}
	light.Parts[0].Cell.Chemistry, light.Parts[0].Cell.MinV = "lifepo4", nil
	if g := gauge(3.29); !g.Weak {
		t.Errorf("flat, and not said: %+v", g)
	}
}

// The current at which resistance costs a share: by the voltage at which a linear cell falls to
// its cut-off. OCV = 3 + 1.2·q, cut at 3.0 V: ends at q = I·R/1.2, and R doubles towards empty.
func TestGentleCurrent(t *testing.T) {
	cell := &design.Cell{Chemistry: "nimh", CapacityAh: 2, ResistanceOhm: 0.1, MinV: p(3.0), OCV: []design.OCVPoint{{Charge: 0, VoltageV: 3}, {Charge: 1, VoltageV: 4.2}}}
	a, err := GentleOf(context.Background(), cell, design.Pack{Series: 2, Parallel: 3}, 0.05)
	if want := 0.05 * 1.2 / 0.1 * 3; err != nil || a == nil || math.Abs(*a/want-1) > 0.015 {
		t.Errorf("%v A, want %g: %v", a, want, err)
	}
	cell.ResistanceOhm = 1e-4
	if a, err := GentleOf(context.Background(), cell, design.Pack{Series: 2, Parallel: 3}, 0.05); err != nil || a != nil {
		t.Errorf("next to no resistance: %v, %v", a, err)
	}
}

// Groups that hold unlike much, charged in series: the one that holds least is driven beyond the
// others. A board that watches each cell stops it there; where nothing does, it goes on until the
// sum of all stands at the charger's end, which says how far: each group has taken the same charge.
func TestUnlikeGroupsCharged(t *testing.T) {
	const from = 0.3
	capacities := []float64{3.4, 3.4, 3.4, 2.4}
	unlike := func(change func(l *design.Light, pack *design.Pack)) *design.Light {
		light := handlamp(t)
		pack := light.Variants[0].Feeds[0].Sources[0].Pack
		for _, ah := range capacities {
			pack.Groups = append(pack.Groups, design.CellGroup{Cells: []design.PackCell{{CapacityAh: new(ah)}}})
		}
		change(light, pack)
		return light
	}
	stopped := charged(t, unlike(func(*design.Light, *design.Pack) {}), from, false, 0)
	if stopped.FullS == nil || math.Abs(stopped.HighCellV-4.28) > 2e-3 || stopped.Reached > 0.85 || stopped.Over != "" || !strings.Contains(stopped.Why, "group 4") || !strings.Contains(stopped.Why, "board stops") {
		t.Errorf("with its board: %v s, %g V, %g, %q, %q", stopped.FullS, stopped.HighCellV, stopped.Reached, stopped.Why, stopped.Over)
	}
	if n := len(stopped.HighV); n != len(stopped.T) || math.Abs(stopped.HighV[n-1]-4.28) > 2e-3 || stopped.HighV[n/2] < stopped.HighV[0] {
		t.Errorf("its highest cell in time: %v", stopped.HighV)
	}
	bare := unlike(func(_ *design.Light, p *design.Pack) { p.ProtectionID = "" })
	c := charged(t, bare, from, false, 0)
	pack := bare.Variants[0].Feeds[0].Sources[0].Pack
	groups, err := source.GroupsOf(pack, bare.Part("cell").Cell)
	if err != nil {
		t.Fatal(err)
	}
	sum := func(ah float64) (all, highest float64) {
		for k := range groups {
			v := groups[k][0].OCV(from + ah/capacities[k])
			all, highest = all+v, max(highest, v)
		}
		return all, highest
	}
	low, high := 0.0, 3.4
	for range 60 {
		if mid := (low + high) / 2; func() float64 { v, _ := sum(mid); return v }() < 4*4.2 {
			low = mid
		} else {
			high = mid
		}
	}
	// At the end a tenth of its current still flows through cells of some 45 mΩ.
	if _, want := sum(low); want < 4.3 || c.FullS == nil || math.Abs(c.HighCellV-want) > 0.03 {
		t.Errorf("without a board group 4 comes to %g V, want about %g; ends %v", c.HighCellV, want, c.FullS)
	}
	if !strings.Contains(c.Over, "group 4") || !strings.Contains(c.Over, "bears 4.20 V") || c.Why != "" {
		t.Errorf("%q, %q", c.Over, c.Why)
	}
	// Alike, nothing is said; set too high, the board ends it, as its finding says.
	for i := range capacities {
		capacities[i] = 3.4
	}
	if even := charged(t, unlike(func(*design.Light, *design.Pack) {}), from, false, 0); even.Over != "" || even.Why != "" || math.Abs(even.HighCellV-4.2) > 5e-3 {
		t.Errorf("alike: %g V, %q, %q", even.HighCellV, even.Over, even.Why)
	}
	// Set too high it is told, whether they are full before its end or not; a bench supply with
	// unlike groups is stopped by the board, too.
	light := handlamp(t)
	light.Variants[0].Feeds[0].Sources[0].Pack.Charger.EndCellV = p(4.35)
	if over := charged(t, light, from, false, 0); len(over.HighV) > 0 || over.FullS != nil || !strings.Contains(over.Over, "4.35 V a cell, and these bear 4.20 V") || !strings.Contains(over.Why, "full before") {
		t.Errorf("set to 4.35 V: %v, %q, %q", over.FullS, over.Why, over.Over)
	}
	// While it burns, and takes more than comes, that is why they are not full.
	light.Variants[0].Feeds[0].Sources[0].Pack.Charger.CurrentA = p(0.1)
	if lit := charged(t, light, from, true, 0); lit.FullS != nil || lit.Over == "" || !strings.Contains(lit.Why, "takes more") {
		t.Errorf("lit: %v, %q, %q", lit.FullS, lit.Why, lit.Over)
	}
	capacities[1] = 2.0
	bench := unlike(func(_ *design.Light, p *design.Pack) {
		p.Charger = &design.ChargerUse{CurrentA: new(1.0), EndCellV: new(4.2)}
	})
	if over := charged(t, bench, from, false, 0); over.FullS == nil || math.Abs(over.HighCellV-4.28) > 2e-3 || !strings.Contains(over.Why, "group 2") || over.Reached > 0.85 {
		t.Errorf("a bench supply: %v, %g V, %g, %q", over.FullS, over.HighCellV, over.Reached, over.Why)
	}
}
