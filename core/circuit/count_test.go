package circuit

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

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
