package chain

import (
	"context"
	"fmt"
	"math"
	"testing"

	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/source"
)

// heater is a load of so many watts on a body.
func heater(watts float64, bodies ...design.Body) *design.Light {
	l := supplyLight(5, 0, nil, design.Node{ID: "h", BodyID: bodies[0].ID, Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 5, CurrentA: watts / 5}}}})
	l.Variants[0].Bodies = bodies
	return l
}

// natural is a law of the test's own: heat goes with the 1.25th power of the kelvins.
type natural float64

func (n natural) Watts(from, to, _ float64) float64 {
	return float64(n) * (from - to) * math.Sqrt(math.Sqrt(math.Abs(from-to)))
}

func (n natural) Slopes(from, to, _ float64) (perFrom, perTo float64) {
	g := 1.25 * float64(n) * math.Sqrt(math.Sqrt(math.Abs(from-to)))
	return g, -g
}

// A body cools by ΔT^1.25: ΔT^(−¼) = ΔT₀^(−¼) + k·t/(4·C); and heated it rests at
// (P/k)^0.8.
func TestHeatLawInALink(t *testing.T) {
	const k, c = 0.05, 40.0
	for _, watts := range []float64{0, 6} {
		l := heater(watts, design.Body{ID: "b", Name: "b", KPerW: ptr(1.0), HeatJPerK: ptr(c)})
		l.Conditions.StartC = ptr(105.0)
		m := compile(t, l)
		m.links[0].law = natural(k)
		rest := math.Pow(watts/k, 0.8)
		s := m.Solver()
		st, err := s.Steady(context.Background())
		if err != nil || !st.Converged {
			t.Fatal(st, err)
		}
		if got := column(t, m, st.Record, "b", "bodyC") - 25; math.Abs(got-rest) > 1e-3 {
			t.Errorf("%g W: rests %g K above the air, want %g K", watts, got, rest)
		}
		r := run(t, m)
		if watts > 0 {
			continue
		}
		for i, at := range r.T {
			want := math.Pow(math.Pow(80, -0.25)+k*at/(4*c), -4)
			if got := column(t, m, r.Records[i], "b", "bodyC") - 25; math.Abs(got-want) > 0.15 {
				t.Fatalf("after %g s %g K above the air, want %g K", at, got, want)
			}
		}
	}
}

// A box of air between body and room is a lump like another: it warms, and the body
// stands on top of it. Its way out is forced by what a fan gets.
func TestBoxOfAir(t *testing.T) {
	l := heater(10, design.Body{ID: "b", Name: "b", KPerW: ptr(2.0), HeatJPerK: ptr(30.0)})
	m := compile(t, l)
	m.lumps = append(m.lumps, lump{"box", "the air in the box", 5, bearsC})
	box := len(m.lumps) - 1
	m.links[0].to = box
	m.links = append(m.links, link{box, air, blown(0.2), 0, 0})
	st, err := m.Solver().Steady(context.Background())
	if err != nil || !st.Converged {
		t.Fatal(st, err)
	}
	// 0.2 W/K a volt at 5 V: 10 W warm the box by 10 K, and the body by 20 K more.
	s := m.Solver()
	if _, err := s.Steady(context.Background()); err != nil {
		t.Fatal(err)
	}
	if got := s.lumpC(s.y, box); math.Abs(got-35) > 1e-5 {
		t.Errorf("the air in the box is %g °C, want 35 °C", got)
	}
	closeTo(t, "the body", column(t, m, st.Record, "b", "bodyC"), 55, 1e-6)
	if !st.Ledger.Closes() {
		t.Errorf("%+v", st.Ledger)
	}
}

// blown is a law of the test's own: a way that carries in proportion to a fan's voltage.
type blown float64

func (b blown) Watts(from, to, driveV float64) float64 { return float64(b) * driveV * (from - to) }

func (b blown) Slopes(_, _, driveV float64) (perFrom, perTo float64) {
	return float64(b) * driveV, -float64(b) * driveV
}

// A joint of three layers in the way of an array: the same as one of their sum.
func TestLayersInTheWay(t *testing.T) {
	l := heater(5, design.Body{ID: "b", Name: "b", HeatJPerK: ptr(30.0), Joints: []design.BodyLink{{BodyID: "o", Joint: design.Joint{KPerW: ptr(1.0)}}}}, design.Body{ID: "o", Name: "o", KPerW: ptr(3.0)})
	m := compile(t, l)
	for i := range m.links {
		if m.links[i].to >= 0 {
			m.links[i].law = heat.Layers{0.25, 1, 0.75}
		}
	}
	st, err := m.Solver().Steady(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	closeTo(t, "behind three layers", column(t, m, st.Record, "b", "bodyC"), 25+5*(3+2), 1e-6)
}

// Two unlike cells side by side on one bus, each with its slow part, against ngspice:
// how they share a load at first and later; a cell is a source with two states.
func TestTwoCellsInParallelAgainstNgspice(t *testing.T) {
	ocv := []design.OCVPoint{{Charge: 0, VoltageV: 3}, {Charge: 1, VoltageV: 4.2}} // 3 + 1.2·q
	parts := []design.Part{{ID: "cell", Name: "c", Cell: &design.Cell{CapacityAh: 1, ResistanceOhm: 0.04, OCV: ocv, PolarOhm: ptr(0.06), PolarS: ptr(120.0)}}}
	l := supplyLight(0, 0, parts, design.Node{ID: "l", Load: &design.MeasuredLoad{Beyond: "current", Points: []design.LoadPoint{{VoltageV: 2, CurrentA: 1}, {VoltageV: 4, CurrentA: 2}}}})
	l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Pack: &design.Pack{PartID: "cell", Series: 1, Parallel: 1, CutoffCellV: ptr(2.5), ContactOhm: 0.01}}
	m := compile(t, l)
	weak, err := source.New(&design.Cell{CapacityAh: 0.6, ResistanceOhm: 0.09, OCV: ocv, PolarOhm: ptr(0.1), PolarS: ptr(200.0)})
	if err != nil {
		t.Fatal(err)
	}
	second := source.NewPack(&design.Pack{Series: 1, Parallel: 1, CutoffCellV: ptr(2.5), ContactOhm: 0.01}, weak, nil, 25)
	m.net.Feeders = append(m.net.Feeders, circuit.Feeder{SourceID: "t", Feed: 0, Law: second, At: m.net.States, IsPack: true})
	m.net.Feeds[0].FeederHi = 2
	m.net.States += second.States()
	m.states = m.net.States
	m.cellBody = append(m.cellBody, -1)
	r := run(t, m)
	if !r.Ledger.Closes() {
		t.Errorf("%+v", r.Ledger)
	}
	ohm := "(%g*(1+pow(max(0,1-v(q%d)/0.2),2))+0.01)"
	netlist := header
	for i, c := range []struct{ ah, r0, r1, c1 float64 }{{1, 0.04, 0.06, 2000}, {0.6, 0.09, 0.1, 2000}} {
		netlist += fmt.Sprintf("cq%[1]d q%[1]d 0 %[2]g ic=1\nbq%[1]d q%[1]d 0 i=i(vs%[1]d)\nbo%[1]d o%[1]d 0 v=3+1.2*v(q%[1]d)-v(p%[1]d)\ncp%[1]d p%[1]d 0 %[3]g ic=0\nrp%[1]d p%[1]d 0 %[4]g\nbp%[1]d 0 p%[1]d i=i(vs%[1]d)\nvs%[1]d o%[1]d w%[1]d 0\n", i, 3600*c.ah, c.c1, c.r1)
		netlist += fmt.Sprintf("br%[1]d w%[1]d b i=(v(w%[1]d)-v(b))/"+ohm+"\n", i, c.r0, i)
	}
	netlist += "bl b 0 i=min(2, v(b)/2)\n.ic v(b)=4\n.control\ntran 1 2400 0 1 uic\n"
	times := []float64{5, 300, 1500, 2300}
	for _, at := range times {
		netlist += fmt.Sprintf("meas tran v%[1]g find v(b) at=%[1]g\nmeas tran a%[1]g find i(vs0) at=%[1]g\n", at)
	}
	want := spice(t, netlist+".endc\n.end\n")
	for _, at := range times {
		closeTo(t, fmt.Sprintf("bus after %g s", at), column(t, m, r.At(at), "f", "busV"), want[fmt.Sprintf("v%g", at)], 1e-3)
	}
	// The charge of the first cell tells what it gave.
	closeTo(t, "current of the stronger at first", -(column(t, m, r.At(10), "f", "charge")-column(t, m, r.At(0), "f", "charge"))*3600/10, want["a5"], 5e-3)
}

// A supply behind a resistance charges a pack beside a load, until the pack is full and
// takes nothing more: as long as ∫dq/I(q) says, and the ledger keeps its balance.
func TestChargedUntilFull(t *testing.T) {
	const volts, ohm, r0, ah, q0 = 4.3, 0.5, 0.1, 0.5, 0.6
	parts := []design.Part{{ID: "cell", Name: "c", Cell: &design.Cell{CapacityAh: ah, ResistanceOhm: r0, OCV: []design.OCVPoint{{Charge: 0, VoltageV: 3}, {Charge: 1, VoltageV: 4.2}}}}}
	l := supplyLight(0, 0, parts, design.Node{ID: "l", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 100, CurrentA: 1}}}})
	l.Conditions.Charge = ptr(q0)
	l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Pack: &design.Pack{PartID: "cell", Series: 1, Parallel: 1, CutoffCellV: ptr(2.5)}}
	m := compile(t, l)
	m.net.Feeders = append(m.net.Feeders, circuit.Feeder{SourceID: "t", Feed: 0, Law: &source.Supply{VoltageV: volts, SeriesOhm: ohm, LimitA: math.Inf(1)}, At: m.net.States})
	m.net.Feeds[0].FeederHi = 2
	m.cellBody = append(m.cellBody, -1)
	r := run(t, m)
	full := -1.0
	for _, e := range r.Events {
		if e.Kind == "full" {
			full = e.T
		}
	}
	// Into the cell: (V/R + U/r)·R∥r∥100 Ω − U over r.
	want, steps := 0.0, 20000
	for k := range steps {
		u := 3 + 1.2*(q0+(1-q0)*(float64(k)+0.5)/float64(steps))
		bus := (volts/ohm + u/r0) / (1/ohm + 1/r0 + 1.0/100)
		want += (1 - q0) / float64(steps) * 3600 * ah * r0 / (bus - u)
	}
	if math.Abs(full/want-1) > 2e-3 {
		t.Errorf("full after %g s, want %g s (%v)", full, want, kindsOf(r))
	}
	last := r.Records[len(r.Records)-1]
	if q := column(t, m, last, "f", "charge"); q < 0.999 || q > 1.001 || r.End.Kind != "time-limit" && r.End.Kind != "settled" {
		t.Errorf("it ends by %+v with a charge of %g", r.End, q)
	}
	closeTo(t, "the load on the supply alone", column(t, m, last, "f", "busV"), volts/ohm/(1/ohm+1.0/100), 1e-4)
	if !r.Ledger.Closes() {
		t.Errorf("%+v", r.Ledger)
	}
}

// A driver that locks out under its load, and starts again when the rested source lets
// it, over and over: from there on the average is followed. Against a simulation in
// steps of a tenth of a millisecond.
func TestCycleAveragesAgainstFineSteps(t *testing.T) {
	const (
		open, r0, r1, tau = 8.0, 0.5, 1.5, 0.8
		set               = 0.8
		locks, starts     = 7.3, 7.7
	)
	parts := []design.Part{ledPart(), {ID: "cell", Name: "c", Cell: &design.Cell{CapacityAh: 500, ResistanceOhm: r0, OCV: []design.OCVPoint{{Charge: 0, VoltageV: open/2 - 0.001}, {Charge: 1, VoltageV: open / 2}}, PolarOhm: ptr(r1), PolarS: ptr(tau)}},
		{ID: "lin", Name: "l", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.2), InputMinV: ptr(locks), RestartV: ptr(starts)}}, {ID: "small", Name: "s", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.2)}}}
	l := supplyLight(0, 0, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(set)}, arrayNodeOf("a", 2, 1)), driverNodeOf("e", "small", design.DriverUse{SetCurrentA: ptr(0.02)}, arrayNodeOf("b", 2, 1)))
	l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Pack: &design.Pack{PartID: "cell", Series: 2, Parallel: 4, CutoffCellV: ptr(2.0)}}
	m := compile(t, l)
	r := run(t, m)
	cycling := -1.0
	for _, e := range r.Events {
		if e.Kind == "cycling" {
			cycling = e.T
		}
	}
	if cycling < 0 || cycling > 60 {
		t.Fatalf("cycling from %g s on: %v", cycling, kindsOf(r))
	}
	// Two cells in series, four abreast: half of the resistances of one.
	slow, on, lit, total := 0.0, true, 0.0, 0.0
	const dt = 1e-4
	for at := 0.0; at < 60; at += dt {
		i := 0.02
		if on {
			i += set
		}
		v := open - 2*slow - i*r0/2
		switch {
		case on && v < locks:
			on = false
		case !on && v >= starts:
			on = true
		}
		slow += dt * (i/4*r1 - slow) / tau
		if at > 20 {
			total += dt
			if on {
				lit += dt
			}
		}
	}
	share := lit / total
	got := column(t, m, r.At(cycling+30), "a", "inA") / set
	if math.Abs(got-share) > 0.05 || share < 0.1 || share > 0.9 {
		t.Errorf("on for %.3f of the time, fine steps say %.3f", got, share)
	}
	closeTo(t, "the other branch", column(t, m, r.At(cycling+30), "b", "inA"), 0.02, 1e-6)
}

// A pack that is cut off, rests, and comes back, against ngspice: the two switch levels
// are those of a hysteresis switch there.
func TestCutOffAndRecoveryAgainstNgspice(t *testing.T) {
	ocv := []design.OCVPoint{{Charge: 0, VoltageV: 3}, {Charge: 1, VoltageV: 4.2}}
	parts := []design.Part{{ID: "cell", Name: "c", Cell: &design.Cell{CapacityAh: 1, ResistanceOhm: 0.1, OCV: ocv, PolarOhm: ptr(0.25), PolarS: ptr(100.0)}}}
	l := supplyLight(0, 0, parts, design.Node{ID: "l", Load: &design.MeasuredLoad{Beyond: "current", Points: []design.LoadPoint{{VoltageV: 2, CurrentA: 1}, {VoltageV: 4, CurrentA: 2}}}})
	l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Pack: &design.Pack{PartID: "cell", Series: 1, Parallel: 1, CutoffCellV: ptr(3.2), ReleaseCellV: ptr(3.55)}}
	m := compile(t, l)
	r := run(t, m)
	var times []float64
	for _, e := range r.Events {
		if e.Kind == "cut-off" || e.Kind == "released" {
			times = append(times, e.T)
		}
	}
	if len(times) < 3 {
		t.Fatalf("events %v", r.Events)
	}
	// Under its load the cell's own voltage rules, at rest that without its current.
	netlist := header + "cq q 0 3600 ic=1\nbq q 0 i=i(vs)\nbo o 0 v=3+1.2*v(q)-v(p)\ncp p 0 400 ic=0\nrp p 0 0.25\nbp 0 p i=i(vs)\nvs o w 0\n" +
		"rc w x 0.1\ns1 x b x 0 prot on\n.model prot sw vt=3.375 vh=0.175 ron=1e-4 roff=1e9\nbl b 0 i=v(b)/2\n.ic v(b)=4\n.control\n" +
		fmt.Sprintf("tran 0.2 %g 0 0.2 uic\nmeas tran t1 when i(vs)=0.5 fall=1\nmeas tran t2 when i(vs)=0.5 rise=1\nmeas tran t3 when i(vs)=0.5 fall=2\n.endc\n.end\n", times[2]*1.1)
	want := spice(t, netlist)
	for i, name := range []string{"t1", "t2", "t3"} {
		if name == "t2" {
			if _, ok := want[name]; !ok {
				continue
			}
		}
		if math.Abs(times[i]-want[name]) > 2e-3*times[0]+0.5 {
			t.Errorf("%s: at %.2f s, ngspice at %.2f s (all: %v)", name, times[i], want[name], want)
		}
	}
}

// A variation with what is not there, not a number or out of range, is refused, and
// nothing changes; a fault goes into the compiled model, and is gone when it is varied.
func TestFaultsInACompiledModel(t *testing.T) {
	light := load(t, "shore-search-handlamp.json")
	m := compile(t, light)
	volts := func(s *Solver) float64 {
		rec := make([]float64, len(s.m.Columns()))
		s.OperatingPoint(1, 25, rec)
		return column(t, s.m, rec, "driver", "outV")
	}
	s := m.Solver()
	whole := volts(s)
	if err := s.Fault("emitters", 1, false); err != nil {
		t.Fatal(err)
	}
	short := volts(s)
	edited := load(t, "shore-search-handlamp.json")
	edited.Variants[0].Feeds[0].Loads[1].Loads[0].Loads[0].Array.Unequal = []design.Strings{{Strings: 1, Shorted: 1}}
	closeTo(t, "one shorted", short, volts(compile(t, edited).Solver()), 1e-9)
	if !(short < whole-2) {
		t.Errorf("an emitter less lowers %g V to %g V", whole, short)
	}
	if err := s.Vary(Variation{"/conditions/ambientC", Set, 20}); err != nil {
		t.Fatal(err)
	}
	closeTo(t, "varied", volts(s), whole, 1e-12)
	open := m.Solver()
	if err := open.Fault("emitters", 1, true); err != nil {
		t.Fatal(err)
	}
	rec := make([]float64, len(m.Columns()))
	open.OperatingPoint(1, 25, rec)
	if a := column(t, m, rec, "emitters", "inA"); a != 0 {
		t.Errorf("with its only string open %g A flow", a)
	}
	if s.Fault("emitters", 5, false) == nil || s.Fault("driver", 1, false) == nil {
		t.Error("a fault that cannot be is put in")
	}
}
