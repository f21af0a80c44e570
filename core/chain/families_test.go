package chain

import (
	"context"
	"fmt"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/driver"
)

// A step-down driver that has run out of headroom passes its input through: then
// its current is what the rest of the circuit lets flow.
func TestBuckDropOutAgainstNgspice(t *testing.T) {
	buck := &design.Driver{Family: "buck", HeadroomV: ptr(1.2), Efficiency: ptr(0.9), EfficiencyAtA: ptr(1.2), EfficiencyInV: ptr(12.0), EfficiencyOut: ptr(6.0)}
	parts := []design.Part{ledPart(), {ID: "buck", Name: "Step-down", Driver: buck}}
	seen := map[string]bool{}
	for _, volts := range []float64{7.9, 7.3, 6.8, 6.3, 5.8} {
		light := supplyLight(volts, 0.2, parts, driverNodeOf("d", "buck", design.DriverUse{SetCurrentA: ptr(1.2)}, arrayNodeOf("a", 2, 1)))
		figure := at(t, light)
		want := spice(t, header+fmt.Sprintf("bs 0 b i=(%g-v(b))/0.2\n", volts)+
			// output: at most 1.2 A, along headroom / set current below it
			"bo 0 a i=min(1.2, (v(b)-v(a))/1)\n"+
			// input: watts out and the loss, blended from switching to series loss
			fmt.Sprintf("bi b 0 i=(v(a)*min(1.2,(v(b)-v(a))/1) + (min(1,(v(b)-v(a))/1.2)^2)*(%[1]g+%[2]g*v(b)*min(1.2,(v(b)-v(a))/1)+%[3]g*min(1.2,(v(b)-v(a))/1)^2) + (1-min(1,(v(b)-v(a))/1.2)^2)*(v(b)-v(a))*min(1.2,(v(b)-v(a))/1))/v(b)\n",
				0.2*6*1.2*(1/0.9-1), 0.4*6*1.2*(1/0.9-1)/(1.2*12), 0.4*6*1.2*(1/0.9-1)/(1.2*1.2))+
			leds(2, "a", "0")+fmt.Sprintf(".nodeset v(b)=%g v(a)=%g\n.control\nop\nprint v(a) v(b)\n.endc\n.end\n", volts-0.2, min(6.2, volts-0.4)))
		closeTo(t, fmt.Sprintf("output from %g V", volts), figure("d", "outV"), want["v(a)"], 2e-5)
		closeTo(t, fmt.Sprintf("input from %g V", volts), figure("d", "inV"), want["v(b)"], 2e-5)
		seen[ModeName(figure("d", "mode"))] = true
	}
	if !seen["drop-out"] || !seen["constant current"] {
		t.Errorf("the sweep is one-sided: %v", seen)
	}
}

// Three unequal strings on one current, bare and with ballast.
func TestUnequalStringsAgainstNgspice(t *testing.T) {
	for _, ballast := range []float64{0, 1.5} {
		a := arrayNodeOf("a", 3, 3)
		a.Array.BallastOhm = ptr(ballast)
		a.Array.Unequal = []design.Strings{{Strings: 1, OffsetV: -0.03}, {Strings: 1, OffsetV: 0.05}}
		parts := []design.Part{ledPart(), {ID: "lin", Name: "Linear", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.4)}}}
		m := compile(t, supplyLight(16, 0.01, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(1.5)}, a)))
		shares, err := m.Solver().Sharing(context.Background())
		if err != nil || len(shares) != 1 || len(shares[0].Strings) != 3 {
			t.Fatalf("sharing %+v, %v", shares, err)
		}
		netlist := header + "i1 0 x 1.5\n"
		for k, offset := range []float64{0, -0.09, 0.15} {
			netlist += fmt.Sprintf("v%d x p%d %g\nr%d p%d s%d %g\n", k, k, offset, k, k, k, max(ballast, 1e-6)) + leds(3, fmt.Sprintf("s%d", k), "0")
		}
		want := spice(t, netlist+".control\nop\nprint i(v0) i(v1) i(v2)\n.endc\n.end\n")
		for k := range 3 {
			closeTo(t, fmt.Sprintf("ballast %g Ω: string %d", ballast, k), shares[0].Strings[k].CurrentA, want[fmt.Sprintf("i(v%d)", k)], 1e-4)
		}
	}
}

// The ladder of a strip, segment by segment, behind leads and a supply: the current, the
// darkest segment, and the voltage all along.
func TestStripAgainstNgspice(t *testing.T) {
	const segments, copper, knee, rated, amp = 40, 0.012, 9.24, 12.0, 0.12
	part := design.Part{ID: "strip", Name: "Strip", Strip: &design.Strip{VoltageV: rated, PerMetreA: ptr(amp / 0.1), CutM: 0.1, LoopOhm: ptr(copper / 0.1), KneeV: ptr(knee), FluxLmPer: ptr(1000.0)}}
	for _, both := range []bool{false, true} {
		light := supplyLight(12.3, 0.05, []design.Part{part}, design.Node{ID: "run", Strip: &design.StripUse{PartID: "strip", PiecesM: []float64{4}, BothEnds: both, LeadOhm: ptr(0.03)}})
		figure := at(t, light)
		var b strings.Builder
		fmt.Fprintf(&b, "%sv1 v 0 12.3\nr1 v bus 0.05\nrl bus n0 %g\n", header, 0.03+copper/2)
		for k := range segments {
			fmt.Fprintf(&b, "b%d n%d 0 i=%g*max(0,v(n%d)-%g)\n", k, k, amp/(rated-knee), k, knee)
			if k > 0 {
				fmt.Fprintf(&b, "rc%d n%d n%d %g\n", k, k-1, k, copper)
			}
		}
		if both {
			fmt.Fprintf(&b, "rr bus n%d %g\n", segments-1, 0.03+copper/2)
		}
		far := segments - 1
		if both {
			far = segments / 2
		}
		nodes := ""
		for k := range segments {
			nodes += fmt.Sprintf(" v(n%d)", k)
		}
		want := spice(t, b.String()+".control\nop\nprint -i(v1)"+nodes+"\n.endc\n.end\n")
		closeTo(t, fmt.Sprintf("both ends %v: current", both), figure("run", "inA"), want["-i(v1)"], 1e-6)
		closeTo(t, fmt.Sprintf("both ends %v: darkest segment", both), figure("run", "farV"), want[fmt.Sprintf("v(n%d)", far)], 1e-6)
		runs, err := compile(t, light).Solver().StripRuns(context.Background(), "run")
		if err != nil || len(runs) != 1 || len(runs[0].Along) != segments {
			t.Fatalf("runs %+v, %v", runs, err)
		}
		for k, spot := range runs[0].Along {
			closeTo(t, fmt.Sprintf("both ends %v: segment %d", both, k), spot.VoltageV, want[fmt.Sprintf("v(n%d)", k)], 1e-6)
		}
		closeTo(t, "into the piece", runs[0].CurrentA, want["-i(v1)"], 1e-6)
		if _, err := compile(t, light).Solver().StripRuns(context.Background(), "x"); err == nil {
			t.Error("a strip that is not there has a cut list")
		}
	}
}

// Two white emitters in series and a linear driver's drop-out exceed 5.5 V, two red
// fit (common practice). A fixed dropper of 1 V and a string of 3 V on 12 V leave 8 V
// in the linear driver: two thirds of the power.
func TestDropperAndHeadroom(t *testing.T) {
	led := func(id string, v float64) design.Part {
		return design.Part{ID: id, Name: id, Emitter: &design.Emitter{Forward: []design.ForwardPoint{{CurrentA: 0.01, VoltageV: v - 0.25}, {CurrentA: 0.02, VoltageV: v - 0.15}, {CurrentA: 0.1, VoltageV: v}}, VfRefTempC: 25}}
	}
	parts := []design.Part{led("led", 3.0), led("red", 2.1), {ID: "lin", Name: "l", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.5)}}, {ID: "z", Name: "z", Driver: &design.Driver{Family: "dropper", DropV: ptr(8.0)}}}
	for part, fits := range map[string]bool{"led": false, "red": true} {
		a := arrayNodeOf("a", 2, 1)
		a.Array.PartID = part
		figure := at(t, supplyLight(5.5, 0, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(0.1)}, a)))
		if full := figure("d", "outA") > 0.0999; full != fits {
			t.Errorf("two %s on 5.5 V get %g A of 0.1 A", part, figure("d", "outA"))
		}
	}
	figure := at(t, supplyLight(12, 0, parts, driverNodeOf("z", "z", design.DriverUse{}, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(0.1)}, arrayNodeOf("a", 1, 1)))))
	if share := figure("z", "lossW") / figure("f", "sourceW"); math.Abs(share-2.0/3) > 0.002 {
		t.Errorf("the dropper takes %.3f of the power, want two thirds", share)
	}
}

// A step-up driver takes a constant power: with a resistance before it there are two
// crossings, (V ± √(V² − 4·R·P))/2, and none past V²/4R, where it collapses and
// cycles. From a source above its load it is not in control.
func TestStepUpOnWeakSource(t *testing.T) {
	boost := &design.Driver{Family: "boost", Efficiency: ptr(1 - 1e-9), InputMinV: ptr(2.0)}
	parts := []design.Part{ledPart(), {ID: "up", Name: "Step-up", Driver: boost}}
	light := func(volts, ohm, amp float64) *design.Light {
		return supplyLight(volts, ohm, parts, driverNodeOf("d", "up", design.DriverUse{SetCurrentA: &amp}, arrayNodeOf("a", 3, 1)))
	}
	const v, r = 4.0, 0.4
	figure := at(t, light(v, r, 0.8))
	p := 0.8 * figure("d", "outV")
	closeTo(t, "upper crossing", figure("d", "inV"), (v+math.Sqrt(v*v-4*r*p))/2, 1e-6)
	st, err := compile(t, light(v, r, 1.4)).Solver().Steady(context.Background())
	if err != nil || st.Converged || !strings.Contains(st.Reason, "cycles") {
		t.Errorf("collapsed: converged %v, %q, %v", st.Converged, st.Reason, err)
	}
	figure = at(t, light(12, 0.1, 0.3))
	if ModeName(figure("d", "mode")) != "uncontrolled" || figure("a", "inA") < 2 {
		t.Errorf("12 V into a step-up for 9 V: %s, %g A", ModeName(figure("d", "mode")), figure("a", "inA"))
	}
	// What passes by is the input through 0.4 V and 0.1 Ω.
	want := spice(t, header+"v1 s 0 12\nr1 s b 0.1\nb1 b a i=(v(b)-v(a)-0.4)/0.1\n"+leds(3, "a", "0")+".control\nop\nprint v(a)\n.endc\n.end\n")
	closeTo(t, "passing by", figure("a", "inV"), want["v(a)"], 1e-6)
}

// Outside its window a mains current driver does not light: too few emitters are as
// wrong as too many.
func TestWindow(t *testing.T) {
	window := &design.Driver{Family: "window", SetCurrentA: ptr(0.7), MinVoltageV: ptr(20.0), MaxVoltageV: ptr(40.0), Efficiency: ptr(0.9), EfficiencyInV: ptr(230.0), EfficiencyOut: ptr(36.0), StandbyW: ptr(0.3)}
	parts := []design.Part{ledPart(), {ID: "w", Name: "Mains driver", Driver: window}}
	for series, lit := range map[int]bool{4: false, 8: true, 12: true, 14: false} {
		light := supplyLight(0, 0, parts, driverNodeOf("d", "w", design.DriverUse{}, arrayNodeOf("a", series, 1)))
		light.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Mains: &design.Mains{VoltageV: 230, FrequencyHz: 50}}
		m := compile(t, light)
		st, err := m.Solver().Steady(context.Background())
		if err != nil {
			t.Fatal(err)
		}
		mode := ModeName(column(t, m, st.Record, "d", "mode"))
		if a := column(t, m, st.Record, "a", "inA"); (a > 0.69) != lit || (mode == "hiccup") == lit {
			t.Errorf("%d in series: %g A, %s", series, a, mode)
		}
	}
}

// Switched by duty, averages are the duty's share of the instants: a quarter of the
// light, a quarter of the input, four times the loss in the wires for the same
// charge; and two branches of unlike duty load the source in three instants.
func TestDutyAverages(t *testing.T) {
	lin := &design.Driver{Family: "linear", HeadroomV: ptr(0.3)}
	part := ledPart()
	part.Emitter.FluxLm, part.Emitter.FluxCurrentA, part.Emitter.EfficacyLmPerW = ptr(100.0), ptr(0.35), ptr(300.0)
	parts := []design.Part{part, {ID: "lin", Name: "Linear", Driver: lin}}
	branch := func(id string, duty float64) design.Node {
		return driverNodeOf("d"+id, "lin", design.DriverUse{SetCurrentA: ptr(0.4), Dimming: &design.Level{Duty: &duty, FrequencyHz: ptr(1000.0)}}, arrayNodeOf(id, 2, 1))
	}
	full := at(t, supplyLight(8, 1, parts, branch("a", 1)))
	quarter := at(t, supplyLight(8, 1, parts, branch("a", 0.25)))
	closeTo(t, "light", quarter("a", "fluxLm"), full("a", "fluxLm")/4, 1e-9)
	closeTo(t, "charge", quarter("f", "busA"), 0.1, 1e-9)
	closeTo(t, "peak", quarter("da", "peakA"), 0.4, 1e-9)
	closeTo(t, "string while on", quarter("a", "stringA"), 0.4, 1e-9)
	wires := func(figure func(owner, name string) float64) float64 {
		return 8*figure("f", "busA") - figure("f", "sourceW")
	}
	closeTo(t, "wires", wires(quarter), 0.25*0.4*0.4, 1e-6)
	two := at(t, supplyLight(8, 1, parts, branch("a", 0.25), branch("b", 0.75)))
	closeTo(t, "wires of two", wires(two), 0.25*0.8*0.8+0.5*0.4*0.4, 1e-6)
	closeTo(t, "second branch", two("b", "fluxLm"), 3*two("a", "fluxLm"), 1e-9)
	// The whole run keeps its books, and a lower duty lasts longer by as much.
	m := compile(t, load(t, "shore-search-handlamp.json"))
	whole := run(t, m)
	s := m.Solver()
	if err := s.Vary(Variation{"/variants/0/feeds/0/loads/1/loads/0/driver/dimming/duty", Set, 0.3}); err != nil {
		t.Fatal(err)
	}
	dimmed, err := s.Run(context.Background())
	if err != nil || !dimmed.Ledger.Closes() {
		t.Fatalf("%v, %+v", err, dimmed.Ledger)
	}
	// At rest it is where its heat, averaged, leaves it: through the housing alone.
	rest, err := s.Steady(context.Background())
	if err != nil || !rest.Converged || !rest.Ledger.Closes() {
		t.Fatalf("%v, %+v", err, rest)
	}
	housing := m.net.Variant.Bodies[0]
	closeTo(t, "the housing at rest", column(t, m, rest.Record, housing.ID, "bodyC"), 15+*housing.KPerW*column(t, m, rest.Record, "", "airW"), 1e-6)
	if longer := dimmed.End.T / whole.End.T; longer < 3 || longer > 4 {
		t.Errorf("at 30 %% duty it lasts %.2f times as long", longer)
	}
}

// A phase-cut dimmer sets those below it that can follow, down to their floor.
func TestPhaseCut(t *testing.T) {
	window := design.Driver{Family: "window", SetCurrentA: ptr(0.7), Dimming: "phase-cut", DimFloor: ptr(0.2), Efficiency: ptr(0.9), EfficiencyInV: ptr(230.0), EfficiencyOut: ptr(36.0)}
	plain := window
	plain.Dimming = "none"
	parts := []design.Part{ledPart(), {ID: "dim", Name: "Dimmable", Driver: &window}, {ID: "plain", Name: "Not", Driver: &plain}}
	for level, want := range map[float64]float64{1: 0.7, 0.5: 0.35, 0.1: 0.14, 0: 0} {
		figure := at(t, supplyLight(230, 0, parts, design.Node{ID: "dimmer", Dimmer: &design.Dimmer{Level: level}, Loads: []design.Node{
			driverNodeOf("d", "dim", design.DriverUse{}, arrayNodeOf("a", 8, 1)), driverNodeOf("e", "plain", design.DriverUse{}, arrayNodeOf("b", 8, 1)),
		}}))
		closeTo(t, fmt.Sprintf("level %g", level), figure("d", "outA"), want, 1e-9)
		closeTo(t, "the other", figure("e", "outA"), 0.7, 1e-9)
	}
}

// A package of five rows on a driver meant for two carries 0.40 of the row current;
// one of one row twice (common practice: a row a channel of ten watts).
func TestPackageRows(t *testing.T) {
	part := ledPart()
	part.Emitter.Rows, part.Emitter.RatedCurrentA = 2, ptr(1.4)
	parts := []design.Part{part, {ID: "lin", Name: "Linear", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.4)}}}
	volts := map[int]float64{}
	for rows, share := range map[int]float64{5: 0.4, 2: 1, 1: 2} {
		a := arrayNodeOf("a", 1, 1)
		a.Array.PackageRows = rows
		m := compile(t, supplyLight(9, 0, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(1.4)}, a)))
		shares, err := m.Solver().Sharing(context.Background())
		if err != nil {
			t.Fatal(err)
		}
		closeTo(t, fmt.Sprintf("%d rows", rows), shares[0].Strings[0].CurrentA / *shares[0].RatedA, share, 1e-9)
		rec := make([]float64, len(m.Columns()))
		m.Solver().OperatingPoint(1, 25, rec)
		volts[rows] = column(t, m, rec, "a", "inV")
	}
	if closeTo(t, "voltage of five rows", volts[5], ledLaw(1.4/5*2), 1e-3); !(volts[5] < volts[2] && volts[2] < volts[1]) {
		t.Errorf("voltages %v", volts)
	}
}

// The plane holds the load warm at both ends of the spread, the nominal one between
// them; a source's own voltage has no part in it.
func TestPlaneShowsTheBin(t *testing.T) {
	part := ledPart()
	part.Emitter.VfBinV = ptr(0.06)
	parts := []design.Part{part, {ID: "lin", Name: "Linear", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.4)}}}
	m := compile(t, supplyLight(9, 0.1, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(0.8)}, arrayNodeOf("a", 2, 1))))
	s := m.Solver()
	plane, err := s.Plane(context.Background(), "d")
	if err != nil || len(plane.Loads) != 4 {
		t.Fatalf("%d curves, %v", len(plane.Loads), err)
	}
	at := func(name string) float64 { // voltage at half the current, by straight interpolation
		for _, c := range plane.Loads {
			if c.Name != name {
				continue
			}
			for i := 1; i < len(c.Points); i++ {
				if a, b := c.Points[i-1], c.Points[i]; b.A >= 0.4 {
					return a.V + (b.V-a.V)*(0.4-a.A)/(b.A-a.A)
				}
			}
		}
		t.Fatalf("no curve %q reaches half the current", name)
		return 0
	}
	if low, mid, high := at("low bin"), at("warm"), at("high bin"); math.Abs(mid-low-0.12) > 0.01 || math.Abs(high-mid-0.12) > 0.01 {
		t.Errorf("two emitters of ± 60 mV: %g, %g, %g V", low, mid, high)
	}
	rec := make([]float64, len(m.Columns()))
	s.OperatingPoint(1, 25, rec)
	fresh := make([]float64, len(m.Columns()))
	m.Solver().OperatingPoint(1, 25, fresh)
	if column(t, m, rec, "a", "inV") != column(t, m, fresh, "a", "inV") {
		t.Error("drawing the plane left the bins shifted")
	}
}

// What hangs on a driver stands at the voltage the LED law gives at the wanted
// current, whatever is in the driver's place.
func TestLoadVoltages(t *testing.T) {
	parts := []design.Part{ledPart(), {ID: "w", Name: "Mains driver", Driver: &design.Driver{Family: "window", SetCurrentA: ptr(0.7), MinVoltageV: ptr(100.0), MaxVoltageV: ptr(150.0), Efficiency: ptr(0.9), EfficiencyInV: ptr(230.0), EfficiencyOut: ptr(120.0)}}}
	s := compile(t, supplyLight(230, 0, parts, driverNodeOf("d", "w", design.DriverUse{}, arrayNodeOf("a", 4, 2)))).Solver()
	cold, warm, ok, _ := s.LoadVoltages(context.Background(), "d", 0.7)
	if want := 4 * ledLaw(0.35); !ok || math.Abs(cold-want) > 1e-3 || math.Abs(warm-want) > 1e-3 {
		t.Errorf("%g V cold, %g V warm, want %g V", cold, warm, want)
	}
	if _, _, ok, _ := s.LoadVoltages(context.Background(), "a", 0.7); ok {
		t.Error("an array is taken for a driver")
	}
}

// Common practice: a channel of 0.66 A at 36 V gives 24 W; two channels tied that may
// not be are a stop elsewhere, but two channels with a string each give 48 W.
func TestTwoChannels(t *testing.T) {
	led := design.Part{ID: "led", Name: "LED", Emitter: &design.Emitter{Forward: []design.ForwardPoint{{CurrentA: 0.1, VoltageV: 2.75}, {CurrentA: 0.66, VoltageV: 3.0}, {CurrentA: 1, VoltageV: 3.1}}, VfRefTempC: 25}}
	channel := &design.Driver{Family: "boost", SetCurrentA: ptr(0.66), Channels: 2, Efficiency: ptr(0.9), EfficiencyInV: ptr(19.0), EfficiencyOut: ptr(36.0)}
	parts := []design.Part{led, {ID: "d", Name: "d", Driver: channel}}
	figure := at(t, supplyLight(19, 0, parts, driverNodeOf("one", "d", design.DriverUse{}, arrayNodeOf("a", 12, 1)), driverNodeOf("two", "d", design.DriverUse{}, arrayNodeOf("b", 12, 1))))
	for _, id := range []string{"one", "two"} {
		closeTo(t, id, figure(id, "outW"), 24, 0.02)
	}
	closeTo(t, "from the supply", figure("f", "sourceW"), 2*0.66*36/0.9, 0.02)
}

// A strip straight on a pack fades: it draws the pack down to where it goes out, and
// comes to rest there with charge to spare. The run ends then, its half and tenth of the
// light in between, whether the light is known or only the power; cut off before, it ends
// there.
func TestStripFadesOnPack(t *testing.T) {
	parts := []design.Part{
		{ID: "cell", Name: "c", Cell: &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 2.5, ResistanceOhm: 0.05}},
		{ID: "strip", Name: "s", Strip: &design.Strip{VoltageV: 12, PerMetreW: ptr(9.6), CutM: 0.05, LoopOhm: ptr(0.1), KneeV: ptr(10.6), FluxLmPer: ptr(900.0)}},
	}
	light := func() *design.Light {
		l := supplyLight(0, 0, parts, design.Node{ID: "run", Strip: &design.StripUse{PartID: "strip", PiecesM: []float64{1}}})
		l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Pack: &design.Pack{PartID: "cell", Series: 3, Parallel: 1, CutoffCellV: ptr(2.8)}}
		return l
	}
	r := run(t, compile(t, light()))
	a := r.Answers()
	if r.End.Kind != "faded" || a.HalfS == nil || a.TenthS == nil || a.EndS == nil || !(*a.HalfS < *a.TenthS && *a.TenthS < *a.EndS) || !r.Ledger.Closes() {
		t.Fatalf("ends by %+v, %+v, ledger %+v", r.End, a, r.Ledger)
	}
	last := r.Records[len(r.Records)-1]
	if v := column(t, r.Model, last, "run", "inV"); math.Abs(v-10.6) > 0.01 {
		t.Errorf("it goes out at %g V", v)
	}
	parts[1].Strip.FluxLmPer = nil
	if dark := run(t, compile(t, light())); dark.End.Kind != "faded" || dark.Answers().EndS == nil {
		t.Errorf("of unknown light: %+v", dark.End)
	}
	early := light()
	early.Variants[0].Feeds[0].Sources[0].Pack.CutoffCellV = ptr(3.6)
	if cut := run(t, compile(t, early)); cut.End.Kind != "cut-off" {
		t.Errorf("cut off at 10.8 V: %+v", cut.End)
	}
}

// Common practice: four channels of 20 mA that may be tied give 80 mA, and eight
// strings on them take 10 mA each.
func TestTiedChannels(t *testing.T) {
	parts := []design.Part{ledPart(), {ID: "d", Name: "d", Driver: &design.Driver{Family: "linear", SetCurrentA: ptr(0.02), Channels: 4, Tieable: true, HeadroomV: ptr(0.3)}}}
	figure := at(t, supplyLight(5, 0, parts, driverNodeOf("d", "d", design.DriverUse{TiedChannels: 4}, arrayNodeOf("a", 1, 8))))
	closeTo(t, "all together", figure("d", "outA"), 0.08, 1e-9)
	closeTo(t, "each string", figure("a", "stringA"), 0.01, 1e-9)
}

// Common practice: boards of 2.5 A on a supply of 12 A whose knob begins at zero dim
// from 21, 42 and 83 % of its travel down for one, two and four; six are always limited.
// Their own current is that of the solved supply, its limit taken away.
func TestKnobOfManyBoards(t *testing.T) {
	supply := &design.Driver{Family: "voltage", SetVoltageV: ptr(12.0), MinCurrentA: ptr(0.0), MaxCurrentA: ptr(12.0), Efficiency: ptr(0.9), EfficiencyInV: ptr(230.0)}
	for boards, want := range map[int]float64{1: 0.208, 2: 0.417, 4: 0.833, 6: 1} {
		var loads []design.Node
		for k := range boards {
			loads = append(loads, design.Node{ID: fmt.Sprint("board", k), Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 5, CurrentA: 2.5}, {VoltageV: 12, CurrentA: 2.5}}}})
		}
		l := supplyLight(230, 0, []design.Part{{ID: "psu", Name: "Supply", Driver: supply}}, driverNodeOf("d", "psu", design.DriverUse{}, loads...))
		closeTo(t, fmt.Sprintf("%d boards", boards), knobs(t, l)["d"], want, 2e-3)
	}
}

func knobs(t *testing.T, l *design.Light) map[string]float64 {
	t.Helper()
	out, err := compile(t, l).Network().Solver().KnobTravel(context.Background(), 25)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// A driver tried in a place is asked as one that was there from the start.
func TestTryingIsCompiling(t *testing.T) {
	driver1 := &design.Driver{Family: "linear", HeadroomV: ptr(0.4), SetCurrentA: ptr(0.3)}
	driver2 := &design.Driver{Family: "buck", HeadroomV: ptr(1.0), SetCurrentA: ptr(0.9), Efficiency: ptr(0.9), EfficiencyAtA: ptr(1.2), EfficiencyInV: ptr(12.0), EfficiencyOut: ptr(6.0)}
	light := func(d *design.Driver) *design.Light {
		return supplyLight(12, 0.2, []design.Part{ledPart(), {ID: "d", Name: "d", Driver: d}}, driverNodeOf("d", "d", design.DriverUse{}, arrayNodeOf("a", 2, 2)))
	}
	ctx := context.Background()
	tried := compile(t, light(driver1)).Network().Solver()
	law, ok := driver.Prepared(driver2, &design.DriverUse{})
	if !ok || !tried.TryDriver("d", law) || tried.TryDriver("a", law) {
		t.Fatal("the driver cannot be tried")
	}
	got, _, _ := tried.ProbeAt(ctx, "d", 1, 40)
	want, _, _ := compile(t, light(driver2)).Network().Solver().ProbeAt(ctx, "d", 1, 40)
	if got != want || got.OutA != 0.9 || got.StringA != 0.45 {
		t.Errorf("tried %+v, compiled %+v", got, want)
	}
	if n := testing.AllocsPerRun(50, func() { tried.TryDriver("d", law); tried.ProbeAt(ctx, "d", 1, 40) }); n > 0 {
		t.Errorf("a candidate costs %g allocations", n)
	}
}

// A supply that holds itself to a power: boards on it draw along V·I = P, against a
// source of the same three limits.
func TestHeldPowerAgainstNgspice(t *testing.T) {
	supply := &design.Driver{Family: "voltage", SetVoltageV: ptr(9.6), MaxCurrentA: ptr(4.0), HeldOutputW: ptr(24.0), Efficiency: ptr(0.93), EfficiencyAtA: ptr(3.0), EfficiencyInV: ptr(230.0)}
	parts := []design.Part{ledPart(), {ID: "psu", Name: "Supply", Driver: supply}}
	seen := map[string]bool{}
	for _, count := range []int{1, 2, 4, 12} {
		figure := at(t, supplyLight(230, 0, parts, driverNodeOf("d", "psu", design.DriverUse{}, arrayNodeOf("a", 3, count))))
		netlist := header + "bs 0 a i=min(min(4, (9.6-v(a))/1e-6), 24/max(v(a),1))\n"
		for k := range count {
			netlist += fmt.Sprintf("v%d a s%d 0\n", k, k) + leds(3, fmt.Sprintf("s%d", k), "0")
		}
		want := spice(t, netlist+".nodeset v(a)=9\n.control\nop\nprint v(a)\n.endc\n.end\n")
		closeTo(t, fmt.Sprintf("%d strings", count), figure("a", "inV"), want["v(a)"], 1e-5)
		seen[ModeName(figure("d", "mode"))] = true
	}
	if !seen["watt limit"] || !seen["constant voltage"] {
		t.Errorf("the sweep is one-sided: %v", seen)
	}
}

// A supply whose limit folds back: of the crossings of its line with a load's the
// highest is taken, and a load too heavy falls to the lowest.
func TestFoldbackAgainstNgspice(t *testing.T) {
	supply := &design.Driver{Family: "voltage", SetVoltageV: ptr(9.6), MaxCurrentA: ptr(2.0), FoldbackA: ptr(0.4), Efficiency: ptr(0.93), EfficiencyAtA: ptr(2.0), EfficiencyInV: ptr(230.0)}
	parts := []design.Part{ledPart(), {ID: "psu", Name: "Supply", Driver: supply}}
	seen := map[string]bool{}
	for _, c := range []struct{ count, start float64 }{{1, 9.5}, {3, 9}, {8, 8.5}} {
		figure := at(t, supplyLight(230, 0, parts, driverNodeOf("d", "psu", design.DriverUse{}, arrayNodeOf("a", 3, int(c.count)))))
		netlist := header + "bs 0 a i=min(0.4+1.6*v(a)/9.6, (9.6-v(a))/1e-6)\n"
		for k := range int(c.count) {
			netlist += fmt.Sprintf("v%d a s%d 0\n", k, k) + leds(3, fmt.Sprintf("s%d", k), "0")
		}
		want := spice(t, netlist+fmt.Sprintf(".nodeset v(a)=%g\n.control\nop\nprint v(a)\n.endc\n.end\n", c.start))
		closeTo(t, fmt.Sprintf("%g strings", c.count), figure("a", "inV"), want["v(a)"], 1e-5)
		seen[ModeName(figure("d", "mode"))] = true
	}
	if !seen["foldback"] || !seen["constant voltage"] {
		t.Errorf("the sweep is one-sided: %v", seen)
	}
}

// A supply whose data draw the current it can give against its voltage: down a
// falling table with few to many strings, and over a hump whose crossings are met
// from above.
func TestLimitTableAgainstNgspice(t *testing.T) {
	tables := [][]design.LimitPoint{
		{{VoltageV: 0, CurrentA: 3}, {VoltageV: 8, CurrentA: 2.4}, {VoltageV: 9, CurrentA: 1.2}, {VoltageV: 9.6, CurrentA: 0.5}},
		{{VoltageV: 2, CurrentA: 0.3}, {VoltageV: 8.4, CurrentA: 2}, {VoltageV: 9.6, CurrentA: 0.4}},
	}
	modes := map[string]int{}
	for k, table := range tables {
		pwl := ""
		for _, p := range table {
			pwl += fmt.Sprintf(", %g, %g", p.VoltageV, p.CurrentA)
		}
		supply := &design.Driver{Family: "voltage", SetVoltageV: ptr(9.6), MaxCurrentA: ptr(2.2), Limits: table, Efficiency: ptr(0.93), EfficiencyAtA: ptr(2.0), EfficiencyInV: ptr(230.0)}
		parts := []design.Part{ledPart(), {ID: "psu", Name: "Supply", Driver: supply}}
		for _, c := range []struct{ count, start float64 }{{1, 9.5}, {3, 9}, {6, 8.7}, {12, 8.4}} {
			figure := at(t, supplyLight(230, 0, parts, driverNodeOf("d", "psu", design.DriverUse{}, arrayNodeOf("a", 3, int(c.count)))))
			netlist := header + fmt.Sprintf("bs 0 a i=min(min(2.2, pwl(v(a)%s)), (9.6-v(a))/1e-6)\n", pwl)
			for n := range int(c.count) {
				netlist += fmt.Sprintf("v%d a s%d 0\n", n, n) + leds(3, fmt.Sprintf("s%d", n), "0")
			}
			want := spice(t, netlist+fmt.Sprintf(".nodeset v(a)=%g\n.control\nop\nprint v(a)\n.endc\n.end\n", c.start))
			closeTo(t, fmt.Sprintf("table %d, %g strings", k, c.count), figure("a", "inV"), want["v(a)"], 1e-5)
			modes[ModeName(figure("d", "mode"))]++
		}
	}
	if modes["constant current"] < 5 {
		t.Errorf("the sweep is one-sided: %v", modes)
	}
}

// At every input drawn, the operating point stands on the line that is drawn of what
// the driver offers, whatever its mode; 10 V in are 9, 10 and 11 V.
func TestPlanePointsStandOnTheirEnvelopes(t *testing.T) {
	volts := func(d design.Driver) design.Driver {
		d.Family, d.Efficiency = "voltage", ptr(0.9)
		return d
	}
	modes := map[string]bool{}
	for name, c := range map[string]struct {
		d      design.Driver
		set    *float64
		series int
	}{
		"linear, near its headroom":   {design.Driver{Family: "linear", HeadroomV: ptr(0.5)}, ptr(1.0), 3},
		"step-up":                     {design.Driver{Family: "boost", Efficiency: ptr(0.9), MaxVoltageV: ptr(40.0)}, ptr(0.7), 6},
		"step-up that conducts":       {design.Driver{Family: "boost", Efficiency: ptr(0.9), MaxVoltageV: ptr(40.0)}, ptr(0.05), 3},
		"resistor":                    {design.Driver{Family: "resistor", ResistanceOhm: ptr(2.0)}, nil, 2},
		"regulated voltage":           {volts(design.Driver{SetVoltageV: ptr(6.4), MaxCurrentA: ptr(5.0)}), nil, 2},
		"regulated, current limit":    {volts(design.Driver{SetVoltageV: ptr(8.0)}), ptr(0.6), 2},
		"regulated, held watts":       {volts(design.Driver{SetVoltageV: ptr(8.0), MaxCurrentA: ptr(5.0), HeldOutputW: ptr(4.0)}), nil, 2},
		"regulated, by its data":      {volts(design.Driver{SetVoltageV: ptr(8.0), MaxCurrentA: ptr(1.5), Limits: []design.LimitPoint{{VoltageV: 5, CurrentA: 2}, {VoltageV: 6.5, CurrentA: 0.7}, {VoltageV: 8, CurrentA: 0.3}}}), nil, 2},
		"regulated, limit folds back": {volts(design.Driver{SetVoltageV: ptr(8.0), MaxCurrentA: ptr(1.0), FoldbackA: ptr(0.2)}), nil, 2},
	} {
		m := compile(t, supplyLight(10, 0.05, []design.Part{ledPart(), {ID: "drv", Name: "Driver", Driver: &c.d}}, driverNodeOf("d", "drv", design.DriverUse{SetCurrentA: c.set}, arrayNodeOf("a", c.series, 1))))
		plane, err := m.Solver().Plane(context.Background(), "d")
		if err != nil || len(plane.Points) != 3 {
			t.Fatalf("%s: %v, %v", name, plane, err)
		}
		for i, p := range plane.Points {
			line := plane.Envelopes[i]
			if want := []float64{10, 9.5, 10.5}[i]; math.Abs(line.InV-want) > 0.12 {
				t.Errorf("%s: %s input is %g V", name, line.Name, line.InV)
			}
			on := false
			for k := 1; k < len(line.Points); k++ {
				a, b := line.Points[k-1], line.Points[k]
				// The held watts are a hyperbola, drawn as a dozen chords: 2 % of current off at most.
				if p.OutV >= a.V-1e-6 && p.OutV <= b.V+1e-6 {
					at := a.A
					if b.V > a.V {
						at += (b.A - a.A) * (p.OutV - a.V) / (b.V - a.V)
					}
					on = on || math.Abs(at-p.OutA) < 0.02*p.OutA || (p.OutA <= a.A && p.OutA >= b.A && b.V-a.V < 0.05)
				}
			}
			if !on {
				t.Errorf("%s: %g V, %g A at %s input (%s) is off the line %v", name, p.OutV, p.OutA, line.Name, p.Mode, line.Points)
			}
			modes[p.Mode] = true
		}
	}
	for _, mode := range []string{"constant current", "drop-out", "uncontrolled", "pass-through", "constant voltage", "watt limit", "foldback"} {
		if !modes[mode] {
			t.Errorf("no point in %s: %v", mode, modes)
		}
	}
}
