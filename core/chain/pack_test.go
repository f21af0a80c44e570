package chain

import (
	"context"
	"fmt"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/source"
)

// lithium is a cell whose curve is that of its chemistry, with a slow part.
func lithium(ah, ohm float64) design.Part {
	return design.Part{ID: "cell", Name: "c", Cell: &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: ah, ResistanceOhm: ohm, PolarOhm: ptr(0.03), PolarS: ptr(60.0)}}
}

// ocvOf writes a cell's resting voltage for ngspice: straight between 400 points.
func ocvOf(t testing.TB, c *design.Cell, node string) string {
	t.Helper()
	cell, err := source.New(c)
	if err != nil {
		t.Fatal(err)
	}
	var b strings.Builder
	fmt.Fprintf(&b, "pwl(%s", node)
	for i := range 401 {
		q := float64(i) / 400
		fmt.Fprintf(&b, ", %g, %.9g", q, cell.OCV(q))
		if i%8 == 7 {
			b.WriteString("\n+ ")
		}
	}
	b.WriteString(")")
	return b.String()
}

// packLight is a pack beside a load, without heat.
func packLight(part design.Part, p design.Pack, load design.MeasuredLoad) *design.Light {
	l := supplyLight(0, 0, []design.Part{part}, design.Node{ID: "l", Load: &load})
	p.PartID = part.ID
	l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Pack: &p}
	return l
}

// powerPack is that pack for ngspice: one cell carries half the current; v(cell) is what
// protection sees.
func powerPack(ocv, load string) string {
	return header + fmt.Sprintf(`cq q 0 %g ic=1
bq q 0 i=i(vs)/2
bo o 0 v=%s
cp p 0 2000 ic=0
rp p 0 0.03
bp 0 p i=i(vs)/2
bcell cell 0 v=v(o)-v(p)-i(vs)/2*0.06*(1+pow(max(0,1-v(q)/0.2),2))
bs e 0 v=3*v(cell)
vs e f 0
rk f b 0.08
bl b 0 i=%s
.ic v(b)=11
.control
tran 2 20000 0 2 uic
meas tran end when v(cell)=3 fall=1
rusage all
.endc
.end
`, 3600*2.2, ocv, load)
}

// Time to cut-off of a pack of three times two cells, with a curve, a resistance that rises
// when nearly empty, a slow part and contacts, on constant current, on a resistance and on
// constant power: against ngspice.
func TestPackAgainstNgspice(t *testing.T) {
	part := lithium(2.2, 0.06)
	for name, c := range map[string]struct {
		load design.MeasuredLoad
		as   string
	}{
		"current":    {design.MeasuredLoad{Beyond: "current", Points: []design.LoadPoint{{VoltageV: 3, CurrentA: 3}}}, "3"},
		"resistance": {design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 20, CurrentA: 5}}}, "v(b)/4"},
		"power":      {design.MeasuredLoad{Beyond: "power", Points: []design.LoadPoint{{VoltageV: 6, CurrentA: 5}}}, "30/max(v(b),6)"},
	} {
		t.Run(name, func(t *testing.T) {
			r := run(t, compile(t, packLight(part, design.Pack{Series: 3, Parallel: 2, ContactOhm: 0.08, CutoffCellV: ptr(3.0)}, c.load)))
			if r.End.Kind != "cut-off" || !r.Ledger.Closes() {
				t.Errorf("it ends by %+v, %+v", r.End, r.Ledger)
			}
			netlist := powerPack(ocvOf(t, part.Cell, "v(q)"), c.as)
			closeTo(t, "time to cut-off on constant "+name, r.End.T, spice(t, netlist)["end"], 5e-3)
		})
	}
}

// Two unlike cells side by side share by resistance at first and by capacity later: 2.0 Ah of
// 50 mΩ beside 1.5 Ah of 100 mΩ, 67 to 33 at first, 57 to 43 after several of
// τ = (R₁+R₂)·C₁C₂/(C₁+C₂), 463 s at 1 V from empty to full: the closed form of two
// capacitors behind resistors.
func TestUnlikeCellsShare(t *testing.T) {
	ocv := []design.OCVPoint{{Charge: 0, VoltageV: 3}, {Charge: 1, VoltageV: 4}}
	part := design.Part{ID: "cell", Name: "c", Cell: &design.Cell{CapacityAh: 2, ResistanceOhm: 0.05, OCV: ocv}}
	pack := design.Pack{Series: 1, Parallel: 2, CutoffCellV: ptr(2.0), Groups: []design.CellGroup{{Cells: []design.PackCell{{Label: "A"}, {Label: "B", CapacityAh: ptr(1.5), ResistanceOhm: ptr(0.1)}}}}}
	m := compile(t, packLight(part, pack, design.MeasuredLoad{Beyond: "current", Points: []design.LoadPoint{{VoltageV: 1, CurrentA: 1}}}))
	const c1, c2, r1, r2 = 7200.0, 5400.0, 0.05, 0.1
	tau := (r1 + r2) * c1 * c2 / (c1 + c2)
	if math.Abs(tau-463) > 1 {
		t.Errorf("τ is %g s", tau)
	}
	r := run(t, m)
	law := m.net.Feeders[0].Law.(*source.Groups)
	first := func(at float64) float64 { // the first cell's current at a time, from its state
		s := m.Solver()
		y, rates := make([]float64, len(s.y)), make([]float64, law.States())
		s.start(y)
		st := s.newStepper()
		st.Start(0, y, 1)
		for st.T < at {
			if err := st.Step(at); err != nil {
				t.Fatal(err)
			}
		}
		law.Rates(st.Y[:law.States()], 25, 1, rates)
		return -rates[0] * c1
	}
	for _, at := range []float64{0, 200, 463, 3000} {
		later, atFirst := c1/(c1+c2), r2/(r1+r2)
		closeTo(t, fmt.Sprintf("share after %g s", at), first(at), later+(atFirst-later)*math.Exp(-at/tau), 2e-4)
	}
	if !r.Ledger.Closes() || math.Abs(r.End.T-3600*3.5) > 20 {
		t.Errorf("ends after %g s by %s, %+v", r.End.T, r.End.Kind, r.Ledger)
	}
}

// A pack of cells measured one by one that all measure as their part does just what the pack
// of equal cells does; and with one weak group it ends when that is empty.
func TestGroupsOfEqualCellsAreThePack(t *testing.T) {
	part := lithium(2, 0.05)
	load := design.MeasuredLoad{Beyond: "power", Points: []design.LoadPoint{{VoltageV: 4, CurrentA: 4}}}
	plain := design.Pack{Series: 2, Parallel: 3, ContactOhm: 0.05, CutoffCellV: ptr(3.0), CutoffDelayS: ptr(2.0), ReleaseCellV: ptr(3.9)}
	listed := plain
	group := design.CellGroup{Cells: []design.PackCell{{Label: "a"}, {CapacityAh: ptr(2.0)}, {ResistanceOhm: ptr(0.05)}}}
	listed.Groups = []design.CellGroup{group, group}
	a, b := run(t, compile(t, packLight(part, plain, load))), run(t, compile(t, packLight(part, listed, load)))
	closeTo(t, "end", b.End.T, a.End.T, 1e-4)
	if a.End.Kind != b.End.Kind || len(a.Events) != len(b.Events) || !b.Ledger.Closes() {
		t.Errorf("%v and %v, %+v", kindsOf(a), kindsOf(b), b.Ledger)
	}
	weak := design.CellGroup{Cells: []design.PackCell{{}, {CapacityAh: ptr(1.0)}, {CapacityAh: ptr(1.0)}}}
	listed.Groups = []design.CellGroup{group, weak}
	listed.CutoffCellV, plain.CutoffCellV = ptr(2.0), ptr(2.0)
	all := run(t, compile(t, packLight(part, plain, load)))
	c := run(t, compile(t, packLight(part, listed, load)))
	// Six ampere-hours a group fall to four: the rest is in the other group still.
	if share := c.End.T / all.End.T; share < 0.66 || share > 0.69 || c.End.Kind != "empty" || !c.Ledger.Closes() {
		t.Errorf("with a weak group it lasts %g of it, by %s, %+v", share, c.End.Kind, c.Ledger)
	}
}

// Charging from a third at constant current and then constant voltage, with a slow part:
// against ngspice, where a source gives the lesser of both.
func TestChargeAgainstNgspice(t *testing.T) {
	part := lithium(2, 0.08)
	charger := design.Part{ID: "charger", Name: "l", Charger: &design.Charger{Kind: "linear", Chemistry: "li-ion-4.2", CurrentA: ptr(1.0), InputV: ptr(5.0)}}
	l := packLight(part, design.Pack{Series: 1, Parallel: 1, ContactOhm: 0.04, Charger: &design.ChargerUse{PartID: "charger", PluggedIn: true}}, design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 4, CurrentA: 1e-6}}})
	l.Parts = append(l.Parts, charger)
	l.Variants[0].Feeds[0].Loads = []design.Node{{ID: "sw", Switch: &design.Switch{Open: true}, Loads: l.Variants[0].Feeds[0].Loads}}
	l.Conditions.Charge = ptr(0.3)
	m := compile(t, l)
	r := run(t, m)
	if r.End.Kind != "charged" || !r.Ledger.Closes() {
		t.Fatalf("it ends by %+v, %+v", r.End, r.Ledger)
	}
	netlist := header + fmt.Sprintf(`cq q 0 7200 ic=0.3
bq q 0 i=i(vs)
bo o 0 v=%s
cp p 0 2000 ic=0
rp p 0 0.03
bp 0 p i=i(vs)
be e 0 v=v(o)-v(p)
vs e f 0
rk f b 0.12
bc 0 b i=max(0,min(1,(4.2-v(b))/1e-3))
.ic v(b)=3.8
.control
tran 1 20000 0 1 uic
meas tran hold when v(b)=4.15 rise=1
meas tran end when i(vs)=-0.1 cross=last
.endc
.end
`, ocvOf(t, part.Cell, "v(q)"))
	want := spice(t, netlist)
	closeTo(t, "time until it has ended", r.End.T, want["end"], 5e-3)
	hold := 0.0
	for i := range r.T {
		if v := column(t, m, r.Records[i], "f", "busV"); v > 4.15 {
			was := column(t, m, r.Records[i-1], "f", "busV")
			hold = r.T[i-1] + (r.T[i]-r.T[i-1])*(4.15-was)/(v-was)
			break
		}
	}
	closeTo(t, "time until 4.15 V at its terminals", hold, want["hold"], 5e-3)
	// The one cell stands below its terminals by what the contacts take.
	for i := range r.T[:len(r.T)-1] {
		busV, a, high := column(t, m, r.Records[i], "f", "busV"), column(t, m, r.Records[i], "f", "packA"), column(t, m, r.Records[i], "f", "highCellV")
		if math.Abs(high-(busV+0.04*a)) > 1e-5 {
			t.Fatalf("at %g s the cell stands at %g V behind %g V and %g A", r.T[i], high, busV, a)
		}
	}
}

// Two groups of unlike much, charged in series: the board stops it at the one that holds less, and
// the run says so; without the board it goes on to the charger's own end.
func TestBoardStopsTheCharge(t *testing.T) {
	for over, end := range map[float64]string{4.25: "over-charge", 0: "charged"} {
		pack := design.Pack{Series: 2, Parallel: 1, Groups: []design.CellGroup{{Cells: []design.PackCell{{CapacityAh: ptr(2.0)}}}, {Cells: []design.PackCell{{CapacityAh: ptr(1.6)}}}}, Charger: &design.ChargerUse{PartID: "charger", PluggedIn: true}}
		l := packLight(lithium(2, 0.05), pack, design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 8, CurrentA: 1e-6}}})
		l.Parts = append(l.Parts, design.Part{ID: "charger", Name: "c", Charger: &design.Charger{Kind: "switching", Chemistry: "li-ion-4.2", CurrentA: ptr(1.0), Series: 2}})
		if over > 0 {
			l.Parts = append(l.Parts, design.Part{ID: "board", Name: "b", Protect: &design.Protection{Series: 2, CutCellV: 2.5, OverCellV: ptr(over)}})
			l.Variants[0].Feeds[0].Sources[0].Pack.ProtectionID = "board"
		}
		l.Variants[0].Feeds[0].Loads = []design.Node{{ID: "sw", Switch: &design.Switch{Open: true}, Loads: l.Variants[0].Feeds[0].Loads}}
		l.Conditions.Charge = ptr(0.4)
		m := compile(t, l)
		r := run(t, m)
		high := 0.0
		for i := range r.T {
			high = max(high, column(t, m, r.Records[i], "f", "highCellV"))
		}
		if r.End.Kind != end || !r.Ledger.Closes() || over > 0 && math.Abs(high-over) > 1e-3 || over == 0 && high < 4.27 {
			t.Errorf("stopped at %g V: it ends by %+v, the highest cell came to %g V, %+v", over, r.End, high, r.Ledger)
		}
		if why := r.Answers().RuntimeWhy; strings.Contains(why, "its board stops that") != (over > 0) {
			t.Errorf("stopped at %g V: %q", over, why)
		}
	}
}

// What a charger does at its edges.
func TestChargerAtItsEdges(t *testing.T) {
	light := func(charge float64, lit bool, change func(p *design.Pack, c *design.Charger, cell *design.Cell, l *design.Light)) *Run {
		part := lithium(2, 0.08)
		c := &design.Charger{Kind: "linear", Chemistry: "li-ion-4.2", CurrentA: ptr(1.0), InputV: ptr(5.0)}
		l := packLight(part, design.Pack{Series: 1, Parallel: 1, Charger: &design.ChargerUse{PartID: "charger", PluggedIn: true}}, design.MeasuredLoad{Beyond: "current", Points: []design.LoadPoint{{VoltageV: 2, CurrentA: 0.4}}})
		l.Parts = append(l.Parts, design.Part{ID: "charger", Name: "l", Charger: c})
		l.Variants[0].Feeds[0].Loads = []design.Node{{ID: "sw", Switch: &design.Switch{Open: !lit}, Loads: l.Variants[0].Feeds[0].Loads}}
		l.Conditions.Charge = &charge
		if change != nil {
			change(l.Variants[0].Feeds[0].Sources[0].Pack, c, part.Cell, l)
		}
		r, err := compile(t, l).Solver().Run(context.Background())
		if err != nil {
			t.Fatal(err)
		}
		if !r.Ledger.Closes() {
			t.Errorf("%+v", r.Ledger)
		}
		return r
	}
	col := func(r *Run, i int, figure string) float64 { return column(t, r.Model, r.Records[i], "f", figure) }
	full := light(1, false, nil)
	if full.End.Kind != "charged" || full.End.T > 1 {
		t.Errorf("a full pack: %+v", full.End)
	}
	dark, lit := light(0.5, false, nil), light(0.5, true, nil)
	if dark.End.Kind != "charged" || lit.End.Kind != "time-limit" {
		t.Errorf("dark %+v, lit %+v: what a light takes hides the end from the charger", dark.End, lit.End)
	}
	if a, b := dark.Answers(), lit.Answers(); a.EndS != nil || !strings.Contains(a.RuntimeWhy, "full after ") || b.EndS != nil || !strings.Contains(b.RuntimeWhy, "charger goes on") {
		t.Errorf("what is charged has no time to empty: %v %q, %v %q", a.EndS, a.RuntimeWhy, b.EndS, b.RuntimeWhy)
	}
	if q := col(lit, len(lit.T)-1, "charge"); q < 0.98 {
		t.Errorf("lit, it comes to a charge of %g", q)
	}
	if greedy := light(0.5, true, func(_ *design.Pack, c *design.Charger, _ *design.Cell, _ *design.Light) { c.CurrentA = ptr(0.3) }); greedy.End.Kind != "settled" {
		t.Errorf("a light that takes more than the charger gives: %+v", greedy.End)
	} else if q := col(greedy, len(greedy.T)-1, "charge"); q > 0.1 {
		t.Errorf("it still holds %g", q)
	}
	lower := light(0.5, false, func(p *design.Pack, _ *design.Charger, _ *design.Cell, _ *design.Light) {
		p.Charger.EndCellV = ptr(4.0)
	})
	if q := col(lower, len(lower.T)-1, "charge"); q < 0.65 || q > 0.82 {
		t.Errorf("to 4.0 V it holds %g", q)
	}
	// The board cannot pass more than it can shed: (110 − 25)/100 W over 5 V less the cell.
	hot := light(0.5, false, func(_ *design.Pack, c *design.Charger, _ *design.Cell, _ *design.Light) {
		c.KPerW, c.FoldC = ptr(100.0), ptr(110.0)
	})
	rest := col(hot, 0, "openV")
	var charging float64
	for i, c := range hot.Model.columns {
		if c.Figure == "chargerA" {
			charging = hot.Records[0][i]
		}
	}
	closeTo(t, "held back by heat", charging, 0.85/(5-rest), 1e-3)
	// Outside its window it does nothing.
	cold := light(0.5, false, func(_ *design.Pack, c *design.Charger, _ *design.Cell, l *design.Light) {
		c.WatchesC, l.Conditions.AmbientC = true, -5
	})
	if q := col(cold, len(cold.T)-1, "charge"); math.Abs(q-0.5) > 1e-3 {
		t.Errorf("in the frost it charges to %g", q)
	}
	// A deeply drained cell is charged gently: a tenth below 2.9 V.
	low := light(-0.003, false, nil)
	for i, c := range low.Model.columns {
		if c.Figure == "chargerA" {
			closeTo(t, "precharge", low.Records[0][i], 0.1, 1e-6)
		}
	}
}

// Dry cells give less the harder they work: by what was measured at loads, or by the power
// of the current; and the ledger tells what stays in them.
func TestDryCellsUnderLoad(t *testing.T) {
	ocv := []design.OCVPoint{{Charge: 0, VoltageV: 1.0}, {Charge: 1, VoltageV: 1.5}}
	lasts := func(c design.Cell, a float64) float64 {
		part := design.Part{ID: "cell", Name: "c", Cell: &c}
		r := run(t, compile(t, packLight(part, design.Pack{Series: 2, Parallel: 1, CutoffCellV: ptr(0.2)}, design.MeasuredLoad{Beyond: "current", Points: []design.LoadPoint{{VoltageV: 0.5, CurrentA: a}}})))
		if r.End.Kind != "empty" || !r.Ledger.Closes() {
			t.Errorf("at %g A it ends by %s, %+v", a, r.End.Kind, r.Ledger)
		}
		return r.End.T / 3600
	}
	measured := design.Cell{Chemistry: "alkaline", OCV: ocv, CapacityAh: 2.5, ResistanceOhm: 0.01, AtLoads: []design.LoadCapacity{{CurrentA: 0.05, CapacityAh: 2.5}, {CurrentA: 0.5, CapacityAh: 1.6}}}
	usual := design.Cell{Chemistry: "lead-acid", OCV: ocv, CapacityAh: 7, ResistanceOhm: 0.01}
	for _, c := range []struct {
		cell        design.Cell
		a, wantAh   float64
		description string
	}{
		{measured, 0.05, 2.5, "at the load it was measured at"},
		{measured, 0.01, 2.5, "below the least of them"},
		{measured, 0.5, 1.6, "at the highest"},
		{measured, 1, 1.6, "above it"},
		{measured, math.Sqrt(0.05 * 0.5), math.Sqrt(2.5 * 1.6), "half-way, in logarithms"},
		{usual, 0.35, 7, "lead-acid in 20 h"},
		// Peukert 1897: C = C₂₀·(I₂₀/I)^(k−1), k = 1.15 (handbook range 1.1–1.25).
		{usual, 3.5, 7 * math.Pow(0.1, 0.15), "lead-acid at ten times that"},
	} {
		closeTo(t, c.description, lasts(c.cell, c.a)*c.a, c.wantAh, 1e-3)
	}
}

// What people know of packs (all common practice): what the source gives makes the hours, not
// what the emitters take; a fan takes its part; small cells side by side sag by millivolts.
func TestPacksAsPeopleKnowThem(t *testing.T) {
	liion := func(ah float64) design.Part {
		return design.Part{ID: "cell", Name: "c", Cell: &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: ah, ResistanceOhm: 0.05}}
	}
	current := func(a float64) design.MeasuredLoad {
		return design.MeasuredLoad{Beyond: "current", Points: []design.LoadPoint{{VoltageV: 0.5, CurrentA: a}}}
	}
	power := func(w float64) design.MeasuredLoad {
		return design.MeasuredLoad{Beyond: "power", Points: []design.LoadPoint{{VoltageV: 1, CurrentA: w}}}
	}
	hours := func(part design.Part, series, parallel int, load design.MeasuredLoad) float64 {
		return run(t, compile(t, packLight(part, design.Pack{Series: series, Parallel: parallel}, load))).End.T / 3600
	}
	within := func(what string, got, low, high float64) {
		t.Helper()
		if got < low || got > high {
			t.Errorf("%s: %.3g, want %g to %g", what, got, low, high)
		}
	}
	within("2.0 Ah at 0.5 A, h", hours(liion(2), 1, 1, current(0.5)), 3.9, 4.01)
	// Through an 88 % step-down at 10 V 0.5 A four in series give 5 W over 0.88, and no 0.5 A.
	within("four of them through a step-down, h", hours(liion(2), 4, 1, power(5/0.88)), 4.8, 5.4)
	within("and with a fan of 1.2 W, h", hours(liion(2), 4, 1, power(5/0.88+1.2)), 3.9, 4.5)
	five := hours(liion(1.28), 1, 5, power(1))
	within("five of 1.28 Ah side by side at 1 W, h", five, 20, 25)
	m := compile(t, packLight(liion(1.28), design.Pack{Series: 1, Parallel: 5}, power(1)))
	r := run(t, m)
	within("their sag, V", column(t, m, r.At(30), "f", "openV")-column(t, m, r.At(30), "f", "busV"), 1e-3, 4e-3)
	within("three of 2.0 Ah, over that", hours(liion(2), 1, 3, power(1))/five, 0.93, 0.945)
	within("three of 3.0 Ah, over that", hours(liion(3), 1, 3, power(1))/five, 1.39, 1.42)
	// Until 0.8 V a cell; 14 Ah is what such a cell holds gently used (common practice).
	dry := design.Part{ID: "cell", Name: "c", Cell: &design.Cell{Chemistry: "alkaline", Size: "D", CapacityAh: 14, ResistanceOhm: 0.15}}
	within("two alkaline D at a third of a watt, h", hours(dry, 2, 1, power(0.33)), 70, 140)
	_, wh := compile(t, packLight(liion(5.6), design.Pack{Series: 3, Parallel: 1}, current(1))).Holds("f", 1)
	within("three 5.6 Ah pouch cells, Wh", wh, 60, 64.5)
	within("over eight and a half hours, W", wh/8.5, 7.1, 7.6)
}

// A run that is not asked for longer ends there: on a supply, from a pack, and while it charges.
func TestRunForSoLong(t *testing.T) {
	charged := packLight(lithium(2, 0.05), design.Pack{Series: 1, Parallel: 1, Charger: &design.ChargerUse{CurrentA: ptr(0.1), PluggedIn: true}}, design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 4, CurrentA: 0.01}}})
	charged.Conditions.Charge = ptr(0.1)
	for name, l := range map[string]*design.Light{
		"supply":   heater(5, design.Body{ID: "b", Name: "b", KPerW: ptr(5.0), HeatJPerK: ptr(500.0)}),
		"pack":     packLight(lithium(2, 0.05), design.Pack{Series: 1, Parallel: 1}, design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 4, CurrentA: 0.1}}}),
		"charging": charged,
	} {
		r, err := compile(t, l).Solver().RunFor(context.Background(), 600)
		if err != nil || r.End.Kind != "time-limit" || math.Abs(r.End.T-600) > 1e-6 || !r.Ledger.Closes() {
			t.Errorf("%s: %+v, %v", name, r.End, err)
		}
	}
}

// BenchmarkAgainstNgspice empties the pack of TestPackAgainstNgspice on constant power, and
// tells how many times longer the circuit simulator's own analysis takes for the same circuit;
// both come within 0.5 % of its own run in steps of 2 s.
func BenchmarkAgainstNgspice(b *testing.B) {
	part := lithium(2.2, 0.06)
	l := packLight(part, design.Pack{Series: 3, Parallel: 2, ContactOhm: 0.08, CutoffCellV: ptr(3.0)}, design.MeasuredLoad{Beyond: "power", Points: []design.LoadPoint{{VoltageV: 6, CurrentA: 5}}})
	m, err := Compile(l, Options{})
	if err != nil {
		b.Fatal(err)
	}
	end := 0.0
	for b.Loop() {
		r, err := m.Solver().Run(context.Background())
		if err != nil {
			b.Fatal(err)
		}
		end = r.End.T
	}
	ours := b.Elapsed().Seconds() / float64(b.N)
	netlist := powerPack(ocvOf(b, part.Cell, "v(q)"), "30/max(v(b),6)")
	fine, coarse := spice(b, strings.Replace(netlist, "tran 2 20000 0 2 uic", "tran 2 6000 0 2 uic", 1)), spice(b, strings.Replace(netlist, "tran 2 20000 0 2 uic", "tran 60 6000 0 60 uic", 1))
	for name, got := range map[string]float64{"ours": end, "ngspice in steps of a minute": coarse["end"]} {
		if math.Abs(got/fine["end"]-1) > 5e-3 {
			b.Errorf("%s: %g s, want %g", name, got, fine["end"])
		}
	}
	b.ReportMetric(coarse["Total analysis time (seconds)"]/ours, "spice/ours")
}
