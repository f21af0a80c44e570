package circuit

import (
	"context"
	"errors"
	"math"
	"math/rand/v2"
	"testing"

	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/internal/sample"
	"photherm/core/source"
)

func network(t testing.TB, light *design.Light) *Network {
	t.Helper()
	if err := design.Check(light); err != nil {
		t.Fatal(err)
	}
	n, err := Compile(light, 0, nil, NewLaws(), nil)
	if err != nil {
		t.Fatal(err)
	}
	return n
}

// anyhow puts a solver at random charges and temperatures, all unlike.
func anyhow(s *Solver, random *rand.Rand) {
	s.At(0.2+0.8*random.Float64(), 25)
	for k := range s.JunctionC {
		s.JunctionC[k] = 10 + 100*random.Float64()
	}
	for i := range s.CellC {
		s.CellC[i] = 50 * random.Float64()
	}
}

// solve solves, and takes drivers that break down as locked out from then on, as a
// light would.
func solve(t testing.TB, s *Solver) (err error) {
	defer Caught(&err)
	for {
		s.Solve()
		again := false
		for k, c := range s.Collapsed {
			if c && !s.Locked[k] {
				s.Locked[k], again = true, true
			}
		}
		if !again {
			return nil
		}
	}
}

// Against brute force, on random trees with joints everywhere, at every bus: what was
// taken is a crossing, and on a grid of voltages above it no other lies.
func TestHighestCrossing(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	const grid = 400
	for tree := range 150 {
		o := sample.Options{Depth: 1 + tree%4, Joints: []float64{0, 0.5, 1}[tree%3], Odd: tree%2 == 1}
		light := sample.Tree(random, o)
		n := network(t, light)
		s, other := n.Solver(), n.Solver()
		if s.Moments() > 1 {
			continue // an average is no crossing; its instants are such trees
		}
		anyhow(s, random)
		if err := solve(t, s); err != nil {
			t.Fatal(err)
		}
		copy(other.Y, s.Y)
		copy(other.JunctionC, s.JunctionC)
		copy(other.CellC, s.CellC)
		copy(other.Locked, s.Locked)
		other.Solve()
		check := func(what string, root int, o *offer, v float64) {
			open := o.openV()
			given, _ := o.at(v)
			drawn := other.drawAt(root, v)
			if v > 1e-6 && v < open-1e-6 && math.Abs(given-drawn) > 1e-6*(1+math.Abs(given)) && !atJump(other, root, v) {
				t.Errorf("tree %d, %s: at %.9g V %.9g A are offered and %.9g A drawn", tree, what, v, given, drawn)
			}
			for k := 1; k < grid; k++ {
				above := v + (open-v)*float64(k)/grid
				if above < v+1e-6 {
					continue
				}
				if offered, _ := o.at(above); offered-other.drawAt(root, above) > 1e-6 && !other.restart {
					t.Fatalf("tree %d, %s: a crossing above %g V was missed: at %g V more is offered than drawn", tree, what, v, above)
				}
				other.restart = false
			}
		}
		feed := offer{feeders: s.offers}
		check("the feed", s.feedBus[0], &feed, s.FeedAt[0].BusV)
		for b := s.feedBus[0] + 1; b < s.buses[s.feedBus[0]].end; b++ {
			x := &s.buses[b]
			above := s.buses[x.parent].u
			check(s.partName(b), b, &offer{env: driver.Envelope{LimitA: math.Inf(1), OpenV: above - x.v0, SeriesOhm: x.ohm}}, x.u)
		}
	}
}

// atJump tells of a bus that is held where a load begins to draw.
func atJump(s *Solver, b int, v float64) bool {
	found := false
	for c := b; c < s.buses[b].end; c++ {
		for l := s.buses[c].first; l >= 0; l = s.leaves[l].next {
			f := &s.leaves[l]
			found = found || f.kind == auxLeaf && s.Nodes[f.node].StartV > 0
		}
	}
	return found
}

// A warm start gives what a cold one gives, after random earlier states.
func TestWarmIsCold(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 6))
	for tree := range 120 {
		n := network(t, sample.Tree(random, sample.Options{Depth: 1 + tree%4, Joints: 0.4, Odd: tree%3 == 0}))
		warm, cold := n.Solver(), n.Solver()
		for range 4 {
			anyhow(warm, random)
			warm.Solve()
		}
		copy(cold.Y, warm.Y)
		copy(cold.JunctionC, warm.JunctionC)
		copy(cold.CellC, warm.CellC)
		cold.Solve()
		for k := range n.Nodes {
			a, b := &warm.Point[k], &cold.Point[k]
			if math.Abs(a.InV-b.InV) > 1e-9*(1+b.InV) || math.Abs(a.InA-b.InA) > 1e-8*(1+b.InA) || a.Mode != b.Mode {
				t.Fatalf("tree %d, %s: warm %.12g V %.12g A %v, cold %.12g V %.12g A %v", tree, n.Nodes[k].ID, a.InV, a.InA, a.Mode, b.InV, b.InA, b.Mode)
			}
		}
	}
}

// A constant power behind a resistance breaks down past V²/4R, and is taken out; at
// half of that it stands at the upper of two crossings.
func TestBreaksDown(t *testing.T) {
	boost := &design.Driver{Family: "boost", Efficiency: new(1 - 1e-9)}
	parts := []design.Part{sample.LEDPart(), {ID: "up", Name: "up", Driver: boost}}
	for amp, holds := range map[float64]bool{0.8: true, 1.4: false} {
		light := sample.OnSupply(4, 0.3, parts, design.Node{ID: "sw", Switch: &design.Switch{ContactOhm: 0.1}, Loads: []design.Node{
			{ID: "g", Aux: &design.Auxiliary{CurrentA: 0.01}},
			{ID: "d", Driver: &design.DriverUse{PartID: "up", SetCurrentA: &amp}, Loads: []design.Node{{ID: "a", Array: &design.Array{PartID: "led", Series: 3, Parallel: 1}}}}}})
		s := network(t, light).Solver()
		s.At(1, 25)
		s.Solve()
		k := s.Net.Find("d", Driver)
		if s.Collapsed[k] == holds {
			t.Errorf("%g A: breaks down %v", amp, s.Collapsed[k])
		}
		if v := 4 - 0.4*0.01; !holds && math.Abs(s.Point[k].InV-v) > 1e-6 {
			t.Errorf("taken out, its bus stands at %g V, want %g V", s.Point[k].InV, v)
		}
		if p := amp * s.Point[k].OutV; holds {
			open := 4 - 0.4*0.01
			if want := (open + math.Sqrt(open*open-4*0.4*p)) / 2; math.Abs(s.Point[k].InV-want) > 1e-6 {
				t.Errorf("upper crossing %g V, want %g V", s.Point[k].InV, want)
			}
		}
	}
}

// Two sources on one bus with a resistive load, against the closed form of two voltages
// behind resistances; the lower one is charged if it can be, and gives nothing if not.
func TestTwoFeeders(t *testing.T) {
	load := design.Node{ID: "l", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 100, CurrentA: 100.0 / 8}}}}
	n := network(t, sample.OnSupply(12, 0.5, nil, load))
	for _, c := range []struct {
		v2     float64
		charge bool
	}{{11.8, true}, {11.8, false}, {9, true}, {9, false}} {
		two := *n
		two.Feeders = append(two.Feeders, Feeder{Feed: 0, Law: &battery{Supply: source.Supply{VoltageV: c.v2, SeriesOhm: 0.25, LimitA: math.Inf(1)}, twoWay: c.charge}})
		two.Feeds = []Feed{n.Feeds[0]}
		two.Feeds[0].FeederHi = 2
		s := two.Solver()
		s.Solve()
		want := (12/0.5 + c.v2/0.25) / (1/0.5 + 1/0.25 + 1.0/8)
		if want > c.v2 && !c.charge {
			want = 12 / 0.5 / (1/0.5 + 1.0/8)
		}
		if got := s.FeedAt[0].BusV; math.Abs(got-want) > 1e-9 {
			t.Errorf("%g V, charged %v: bus at %.10g V, want %.10g V", c.v2, c.charge, got, want)
		}
		second := (c.v2 - want) / 0.25
		if !c.charge {
			second = max(second, 0)
		}
		if got := s.FeederAt[1].CurrentA; math.Abs(got-second) > 1e-6 {
			t.Errorf("%g V, charged %v: the second gives %g A, want %g A", c.v2, c.charge, got, second)
		}
		if sum := s.FeederAt[0].CurrentA + s.FeederAt[1].CurrentA; math.Abs(sum-s.FeedAt[0].BusA) > 1e-6 {
			t.Errorf("the sources give %g A, %g A are drawn", sum, s.FeedAt[0].BusA)
		}
	}
}

// battery is a law of the test's own: a supply that can be charged.
type battery struct {
	source.Supply
	twoWay bool
}

func (b *battery) Terminal(y []float64, c float64) source.Terminal {
	t := b.Supply.Terminal(y, c)
	t.TwoWay = b.twoWay
	return t
}

// A dropper's string beside a plain one and a strip, all on a weak supply: each stands on
// the LED's own law at its current, and the currents add up to what the supply gives.
func TestStringsOfOneRegion(t *testing.T) {
	parts := []design.Part{sample.LEDPart(), {ID: "z", Name: "z", Driver: &design.Driver{Family: "dropper", DropV: new(1.1), ResistanceOhm: new(0.2)}},
		{ID: "s", Name: "s", Strip: &design.Strip{VoltageV: 7, PerMetreA: new(0.5), CutM: 0.1, LoopOhm: new(0.1), KneeV: new(5.0)}}}
	array := func(id string, parallel int) design.Node {
		return design.Node{ID: id, Fault: &design.Fault{SeriesOhm: 0.15}, Array: &design.Array{PartID: "led", Series: 2, Parallel: parallel}}
	}
	light := sample.OnSupply(9, 1.2, parts, design.Node{ID: "z1", Driver: &design.DriverUse{PartID: "z"}, Loads: []design.Node{array("a", 3)}}, array("b", 1), design.Node{ID: "t", Strip: &design.StripUse{PartID: "s", PiecesM: []float64{0.5}}})
	s := network(t, light).Solver()
	s.At(1, 25)
	for range 2 { // cold, and warm
		s.Solve()
		bus, total := s.FeedAt[0].BusV, 0.0
		for id, c := range map[string]struct{ strings, before, v0 float64 }{"a": {3, 0.2 + 0.15, 1.1}, "b": {1, 0.15, 0}} {
			p := &s.Point[s.Net.Find(id, Array)]
			if v := bus - c.v0 - c.before*p.InA; math.Abs(v-2*sample.LEDLaw(p.InA/c.strings)) > 2e-4 || math.Abs(v-p.OutV) > 1e-9 {
				t.Errorf("%s: %g A leave %g V for a string, the law says %g V", id, p.InA, v, 2*sample.LEDLaw(p.InA/c.strings))
			}
			total += p.InA
		}
		strip := &s.Point[s.Net.Find("t", Strip)]
		if total += strip.InA; math.Abs(total-(9-bus)/1.2) > 1e-8 || strip.InA < 0.01 {
			t.Errorf("%g A are drawn, the supply gives %g A", total, (9-bus)/1.2)
		}
		if z := &s.Point[s.Net.Find("z1", Driver)]; math.Abs(z.LossW-z.InA*(1.1+0.2*z.InA)) > 1e-9 {
			t.Errorf("the dropper loses %g W at %g A", z.LossW, z.InA)
		}
	}
}

// Equal branches are solved once, and are what they would be each for itself; one that
// is warmer is not taken for equal.
func TestEqualBranches(t *testing.T) {
	parts := []design.Part{sample.LEDPart(), {ID: "lin", Name: "l", Driver: &design.Driver{Family: "linear", HeadroomV: new(0.3)}}, {ID: "buck", Name: "b", Driver: &design.Driver{Family: "buck", Efficiency: new(0.9), EfficiencyInV: new(20.0), EfficiencyOut: new(9.0)}}}
	parts[0].Emitter.VfVPerK = new(-0.002)
	var branches []design.Node
	for k := range 12 {
		id := func(s string) string { return s + string(rune('a'+k)) }
		branches = append(branches, design.Node{ID: id("d"), Fault: &design.Fault{SeriesOhm: 0.05}, Driver: &design.DriverUse{PartID: "buck", SetCurrentA: new(0.9)}, Loads: []design.Node{
			{ID: id("s"), Switch: &design.Switch{ContactOhm: 0.02}, Loads: []design.Node{
				{ID: id("x"), Array: &design.Array{PartID: "led", Series: 3, Parallel: 1}},
				{ID: id("e"), Driver: &design.DriverUse{PartID: "lin", SetCurrentA: new(0.2)}, Loads: []design.Node{{ID: id("y"), Array: &design.Array{PartID: "led", Series: 2, Parallel: 2}}}}}}}})
	}
	n := network(t, sample.OnSupply(20, 0.1, parts, branches...))
	equal, each := n.Solver(), n.Solver()
	for k := range each.like {
		each.like[k] = -1
	}
	for _, warm := range []float64{60, 61} {
		for _, s := range []*Solver{equal, each} {
			s.At(1, 60)
			s.JunctionC[n.Find("xf", Array)] = warm
			s.Forget()
			s.Solve()
		}
		for k := range n.Nodes {
			if a, b := equal.Point[k], each.Point[k]; math.Abs(a.InV-b.InV) > 1e-9 || math.Abs(a.InA-b.InA) > 1e-9 || a.Mode != b.Mode {
				t.Errorf("%s at %g °C: %+v, each for itself %+v", n.Nodes[k].ID, warm, a, b)
			}
		}
		a, b := equal.Point[n.Find("xa", Array)].InV, equal.Point[n.Find("xf", Array)].InV
		if (a == b) != (warm == 60) {
			t.Errorf("at %g °C: %g and %g V", warm, a, b)
		}
	}
	count := func(s *Solver) int {
		s.At(1, 60)
		s.Forget()
		before := s.Evals
		s.Solve()
		return s.Evals - before
	}
	if a, b := count(equal), count(each); a > b/2 {
		t.Errorf("twelve equal branches take %d evaluations, each for itself %d", a, b)
	}
}

// A load that begins to draw at a voltage holds a weak bus just there: between off and
// on it draws what is left over.
func TestHeldAtItsStart(t *testing.T) {
	fan := design.Node{ID: "fan", Aux: &design.Auxiliary{CurrentA: 0.5, StartV: new(8.0)}}
	steady := design.Node{ID: "l", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 100, CurrentA: 10}}}}
	for volts, want := range map[float64][2]float64{8.3: {8.3 / 1.1, 0}, 9: {8, 9 - 8 - 0.8}, 12: {(12 - 0.5) / 1.1, 0.5}} {
		s := network(t, sample.OnSupply(volts, 1, nil, design.Node{ID: "sw", Switch: &design.Switch{}, Loads: []design.Node{fan, steady}})).Solver()
		s.Solve()
		k := s.Net.Find("fan", Aux)
		// At its start but for a millionth, which an ideal wire may drop.
		if p := &s.Point[k]; math.Abs(p.InV-want[0]) > 1e-5 || math.Abs(p.InA-want[1]) > 1e-5 {
			t.Errorf("from %g V: %g V and %g A, want %v", volts, p.InV, p.InA, want)
		}
	}
}

// Work is bounded: over its budget, or once its context is done, a solve stops, and
// says why; the solver can go on after.
func TestBudgetAndContext(t *testing.T) {
	light, err := sample.Case("rack-45x10")
	if err != nil {
		t.Fatal(err)
	}
	s := network(t, light).Solver()
	s.At(1, 25)
	once := func() (err error) {
		defer Caught(&err)
		s.Forget()
		s.Solve()
		return nil
	}
	s.Budget = 500
	var many *TooMuchError
	if err := once(); !errors.As(err, &many) || many.Part == "" {
		t.Errorf("a budget of %d: %v", s.Budget, err)
	}
	s.Budget = 0
	left := &leaving{Context: context.Background(), looks: 3}
	s.Within(left)
	before := s.Evals
	for range 100 {
		if err = once(); err != nil {
			break
		}
	}
	if !errors.Is(err, context.Canceled) {
		t.Errorf("a withdrawn solve ends by %v", err)
	}
	if did := s.Evals - before; left.looks != 0 || did > 5*lookEvery {
		t.Errorf("%d evaluations, though the client left at the fourth look", did)
	}
	s.Within(context.Background())
	if err := once(); err != nil || s.FeedAt[0].BusV <= 0 {
		t.Errorf("afterwards: %v, %g V", err, s.FeedAt[0].BusV)
	}
}

// leaving is a context whose client leaves after a few looks.
type leaving struct {
	context.Context
	looks int
}

func (l *leaving) Err() error {
	if l.looks == 0 {
		return context.Canceled
	}
	l.looks--
	return nil
}

// Random trees of every kind: no panic, no voltage above what can be, no lost current.
func FuzzTree(f *testing.F) {
	f.Add(uint64(1), uint64(2), uint8(3))
	f.Fuzz(func(t *testing.T, a, b uint64, depth uint8) {
		random := rand.New(rand.NewPCG(a, b))
		n := network(t, sample.Tree(random, sample.Options{Depth: int(depth % 5), Joints: float64(depth%3) / 2, Odd: depth%2 == 0, Feeds: 1 + int(depth%2)}))
		s := n.Solver()
		anyhow(s, random)
		if err := solve(t, s); err != nil {
			t.Fatal(err)
		}
		for i := range s.Feeds {
			v, open := s.FeedAt[i].BusV, s.OnFeeder[s.Feeds[i].FeederLo].OpenV
			if math.IsNaN(v) || v < 0 || v > open*(1+1e-9) {
				t.Fatalf("the bus stands at %g V of %g V", v, open)
			}
		}
		for k := range s.Point {
			p := &s.Point[k]
			if sum := p.OutW + p.LossW + p.RadiantW + p.OpticW - p.InW; s.Nodes[k].Kind == Switch && math.Abs(sum) > 1e-6*(1+p.InW) {
				t.Fatalf("%s takes %g W and gives %g W", s.Nodes[k].ID, p.InW, p.OutW+p.LossW)
			}
		}
	})
}

// hot are unlike temperatures, so that equal branches do not flatter.
func hot(s *Solver, step int) {
	for k := range s.JunctionC {
		s.JunctionC[k] = 40 + 0.37*float64(k%97) + 0.01*float64(step%7)
	}
}

// The cost of a tree, as ratios to the handlamp's in the same run: from no load, and
// from a neighbouring solution; and of a solve in drop-out to one in regulation.
func BenchmarkTree(b *testing.B) {
	handlamp := network(b, example(b, "shore-search-handlamp.json")).Solver()
	measure := func(b *testing.B, s *Solver, charge float64, cold bool, unit *float64) {
		s.At(charge, 60)
		b.ReportAllocs()
		for step := 0; b.Loop(); step++ {
			hot(s, step)
			if cold {
				s.Forget()
			}
			s.Solve()
		}
		each := float64(b.Elapsed().Nanoseconds()) / float64(b.N)
		if *unit == 0 {
			*unit = each
		}
		b.ReportMetric(each / *unit, "×handlamp")
	}
	unit := 0.0
	b.Run("handlamp", func(b *testing.B) { unit = 0; measure(b, handlamp, 0.7, false, &unit) })
	b.Run("handlamp/drop-out", func(b *testing.B) {
		starved := network(b, example(b, "shore-search-handlamp.json")).Solver()
		k := starved.Net.Find("driver", Driver)
		starved.Nodes[k].Drv.HeadroomV = 8 // more than its pack has above the emitters
		starved.Prepare()
		measure(b, starved, 0.7, false, &unit)
		if starved.Point[k].Mode != driver.DropOut {
			b.Fatalf("it is in %v", starved.Point[k].Mode)
		}
	})
	for _, name := range []string{"nested-10", "slow-switches", "rack-8x5", "rack-45x10"} {
		light, err := sample.Case(name)
		if err != nil {
			b.Fatal(err)
		}
		s := network(b, light).Solver()
		b.Run(name+"/cold", func(b *testing.B) { measure(b, s, 0.7, true, &unit) })
		b.Run(name+"/warm", func(b *testing.B) { measure(b, s, 0.7, false, &unit) })
	}
}

func example(t testing.TB, name string) *design.Light {
	t.Helper()
	light, err := sample.Example(name)
	if err != nil {
		t.Fatal(err)
	}
	return light
}
