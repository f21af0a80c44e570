package circuit

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/internal/sample"
)

// A counted branch does what so many written out do, in random trees.
func TestCountedIsWrittenOut(t *testing.T) {
	random := rand.New(rand.NewPCG(21, 22))
	compared, counted := 0, 0
	for tree := range 400 {
		o := sample.Options{Depth: 1 + tree%3, Joints: []float64{0, 0.5, 1}[tree%3], Odd: tree%2 == 1}
		light := sample.Tree(random, o)
		feed := &light.Variants[0].Feeds[0]
		sample.Counted(random, feed.Loads, 0.3)
		n := network(t, light)
		loads := feed.Loads
		feed.Loads = sample.WrittenOut(loads)
		if len(feed.Loads) > 50 {
			continue
		}
		all := network(t, light)
		feed.Loads = loads
		a, b := n.Solver(), all.Solver()
		anyhow(a, random)
		copy(b.Y, a.Y)
		copy(b.CellC, a.CellC)
		like := make([]int, len(all.Nodes)) // of each written out: the counted
		for k := range all.Nodes {
			id, _, _ := strings.Cut(all.Nodes[k].ID, "x")
			for j := range n.Nodes {
				if n.Nodes[j].ID == id {
					like[k] = j
				}
			}
			b.JunctionC[k] = a.JunctionC[like[k]]
		}
		a.Solve()
		b.Solve()
		gives(t, a)
		gives(t, b)
		if slices.Contains(a.Collapsed, true) || slices.Contains(b.Collapsed, true) {
			continue // of many written out some may go and let the others live
		}
		compared++
		if x, y := a.FeedAt[0], b.FeedAt[0]; math.Abs(x.BusV-y.BusV) > 1e-8*(1+y.BusV) || math.Abs(x.BusA-y.BusA) > 1e-7*(1+y.BusA) {
			t.Fatalf("tree %d: counted %.12g V %.12g A, written out %.12g V %.12g A", tree, x.BusV, x.BusA, y.BusV, y.BusA)
		}
		for k := range all.Nodes {
			j := like[k]
			if n.Nodes[j].Times > 1 {
				counted++
			}
			x, y := &a.Point[j], &b.Point[k]
			if math.Abs(x.InV-y.InV) > 1e-8*(1+y.InV) ||
				n.Nodes[j].Kind != Aux && math.Abs(x.InA-y.InA) > 1e-7*(1+y.InA) || math.Abs(x.OutV-y.OutV) > 1e-7*(1+y.OutV) {
				t.Fatalf("tree %d, %s: counted %.12g V %.12g A → %.9g V, written out %.12g V %.12g A → %.9g V", tree, all.Nodes[k].ID, x.InV, x.InA, x.OutV, y.InV, y.InA, y.OutV)
			}
		}
	}
	if compared < 300 || counted < 2000 {
		t.Fatalf("%d trees with %d counted nodes compared", compared, counted)
	}
}

// gives checks that no driver that could give something stands at nothing and gives
// nothing: what is more offered than drawn raises the voltage.
func gives(t *testing.T, s *Solver) {
	t.Helper()
	for k := range s.Nodes {
		n, p := &s.Nodes[k], &s.On[k]
		if n.Kind != Driver || s.Locked[k] || s.Collapsed[k] || n.Fault != OK || p.InnerV <= 0 || p.OutV > 0 || p.OutA > 0 {
			continue
		}
		e := n.Drv.Envelope(p.InnerV)
		if a, _, _ := e.Offer(0); a > 1e-6 && e.OpenV > 0 {
			t.Errorf("%s stands at nothing behind %g V, though it offers %g A and nothing draws", n.ID, p.InnerV, a)
		}
	}
}

// The slope of what is drawn, of an array alone behind a resistance and of several
// alike, against differences.
func TestSlopeOfDraw(t *testing.T) {
	for count := 1; count <= 3; count++ {
		light := sample.OnSupply(12, 0.1, []design.Part{sample.LEDPart(), {ID: "buck", Name: "buck", Driver: &design.Driver{Family: "buck", SetCurrentA: new(1.0)}}},
			design.Node{ID: "d", Driver: &design.DriverUse{PartID: "buck"}, Loads: []design.Node{{ID: "a", Count: count, Array: &design.Array{PartID: "led", Series: 2, Parallel: 2, BallastOhm: new(0.3)}}}})
		s := network(t, light).Solver()
		s.At(1, 40)
		s.Solve()
		r := s.out[s.Net.Find("d", Driver)]
		at := func(openV float64) (u, a, g float64) {
			s.stamp++
			o := offer{env: driver.Envelope{LimitA: math.Inf(1), OpenV: openV, SeriesOhm: 1.5}}
			s.feed(r, &o)
			return s.buses[r].u, s.buses[r].drawA, s.buses[r].drawG
		}
		_, _, g := at(8)
		u1, a1, _ := at(8 + 1e-3)
		u0, a0, _ := at(8 - 1e-3)
		if want := (a1 - a0) / (u1 - u0); math.Abs(g-want) > 1e-4*want {
			t.Errorf("%d alike: slope %.7g A/V, by differences %.7g", count, g, want)
		}
	}
}
