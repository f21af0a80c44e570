package heat

import (
	"math"
	"slices"
	"testing"
)

// The map against an exact mode: heat that goes as a cosine over the cells comes out as the
// same cosine, over what a sheet of that wave number conducts and its film gives; the discrete
// wave number is (2−2cos θ)/cell².
func TestSheetCosine(t *testing.T) {
	s := Sheet{NX: 48, NY: 30, CellX: 2e-3, CellY: 3e-3, AlongX: 0.4, AlongY: 0.3, Film: 18}
	q := make([]float64, s.NX*s.NY)
	tx, ty := 3*math.Pi/48, 2*math.Pi/30
	mode := func(c int) float64 {
		return math.Cos(tx*(float64(c%s.NX)+0.5)) * math.Cos(ty*(float64(c/s.NX)+0.5))
	}
	for c := range q {
		q[c] = mode(c)
	}
	each := 1 / (s.AlongX*s.CellY/s.CellX*(2-2*math.Cos(tx)) + s.AlongY*s.CellX/s.CellY*(2-2*math.Cos(ty)) + s.Film*s.CellX*s.CellY)
	uneven := s
	uneven.Hole = make([]bool, len(q))
	for name, sheet := range map[string]*Sheet{"even": &s, "many grids": &uneven} {
		got, err := sheet.Solve(q)
		if err != nil {
			t.Fatal(err)
		}
		for c := range got {
			if math.Abs(got[c]-each*mode(c)) > 5e-5*each {
				t.Fatalf("%s: cell %d at %g, the mode says %g", name, c, got[c], each*mode(c))
			}
		}
	}
}

// Both ways of solving agree to 1e-4 of the rise where both can, fins along or across too, which
// conduct a hundred times better one way.
func TestSheetBothWays(t *testing.T) {
	for name, p := range map[string]Plate{
		"flat":               {LengthM: 0.3, WidthM: 0.18, AlongX: 0.4, AlongY: 0.4, Film: 16},
		"fins along":         {LengthM: 0.3, WidthM: 0.18, AlongX: 4, AlongY: 0.04, Film: 16},
		"fins across":        {LengthM: 0.3, WidthM: 0.18, AlongX: 0.04, AlongY: 4, Film: 16},
		"some fins":          {LengthM: 0.3, WidthM: 0.18, AlongX: 0.4, AlongY: 0.1, Film: 60},
		"a strip":            {LengthM: 1, WidthM: 0.01, AlongX: 0.4, AlongY: 0.4, Film: 16},
		"hardly any film":    {LengthM: 0.3, WidthM: 0.18, AlongX: 4, AlongY: 4, Film: 0.1},
		"a poor conductor":   {LengthM: 0.3, WidthM: 0.18, AlongX: 2e-4, AlongY: 2e-4, Film: 30},
		"stood on its edges": {LengthM: 0.1, WidthM: 0.5, AlongX: 1, AlongY: 0.2, Film: 8},
	} {
		exact, slow := p.Cells(200), p.Cells(200)
		q := make([]float64, exact.NX*exact.NY)
		for _, at := range []float64{0.2, 0.55, 0.9} {
			exact.Cover(Pad{at * p.LengthM, (1 - at/2) * p.WidthM, 0.05 * p.LengthM, 0.1 * p.WidthM}, func(c int, share float64) { q[c] += 5 * share })
		}
		slow.Hole = make([]bool, len(q))
		want, err := exact.Solve(q)
		if err != nil {
			t.Fatal(err)
		}
		got, err := slow.Solve(q)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		most, off := slices.Max(want), 0.0
		for c := range want {
			off = max(off, math.Abs(got[c]-want[c]))
		}
		if off > 1e-4*most {
			t.Errorf("%s: %g of the rise apart", name, off/most)
		}
	}
}

// With holes and an uneven film the energy balances within 0.1 %, as every map must, cells
// out of reach of any heat stay cold.
func TestSheetWithHoles(t *testing.T) {
	p := Plate{LengthM: 0.3, WidthM: 0.18, AlongX: 0.4, AlongY: 0.4, Film: 16}
	s := p.Cells(100)
	q := make([]float64, s.NX*s.NY)
	s.Cut(Pad{0.15, 0.09, 0.04, 0.06})
	for _, pad := range []Pad{{0.05, 0.05, 0.01, 0.01}, {0.21, 0.1, 0.0133, 0.007}} {
		s.Cover(pad, func(c int, share float64) { q[c] += 5 * share })
	}
	s.Films = make([]float64, len(q))
	for c := range s.Films {
		s.Films[c] = 10 + 12*float64(c%s.NX)/float64(s.NX)
	}
	got, err := s.Solve(q)
	if err != nil {
		t.Fatal(err)
	}
	out := 0.0
	for c := range got {
		if s.Hole[c] {
			if got[c] != 0 {
				t.Fatalf("a hole at %g K", got[c])
			}
			continue
		}
		out += s.Films[c] * s.CellX * s.CellY * got[c]
	}
	within(t, "W off the faces", out, 10, 1e-3)
	slow := p.Cells(100)
	slow.Hole = make([]bool, len(q))
	if none, err := slow.Solve(make([]float64, len(q))); err != nil || none[0] != 0 {
		t.Errorf("no heat: %v, %v", none[0], err)
	}
}

func asked(t *testing.T, p Plate, pads []Pad, holes ...Pad) *Influences {
	t.Helper()
	n, err := InfluencesOf(p, pads, Rest{Holes: holes})
	if err != nil {
		t.Fatal(err)
	}
	return n
}

// A hole far from everything changes hardly anything; a slit between two pads parts them.
func TestInfluenceAroundHoles(t *testing.T) {
	p := Plate{LengthM: 0.16, WidthM: 0.08, AlongX: 0.4, AlongY: 0.4, Film: 20}
	pads := []Pad{{0.03, 0.04, 0.01, 0.01}, {0.06, 0.04, 0.01, 0.01}}
	plain := asked(t, p, pads).KPerW
	far := asked(t, p, pads, Pad{0.155, 0.075, 0.002, 0.002}).KPerW
	slit := asked(t, p, pads, Pad{0.045, 0.04, 0.002, 0.08}).KPerW
	for i := range plain {
		for j := range plain[i] {
			if math.Abs(far[i][j]-plain[i][j]) > 0.02*plain[0][0] {
				t.Errorf("a far hole: %d for %d is %g, not %g", i, j, far[i][j], plain[i][j])
			}
		}
	}
	if slit[0][1] > plain[0][1]-0.5 || slit[0][0] < plain[0][0] {
		t.Errorf("parted: %g and %g, together %g and %g", slit[0][0], slit[0][1], plain[0][0], plain[0][1])
	}
	// Quite parted, the other side is as cold as the air: that far below the mean.
	within(t, "the other side", slit[0][1], -1/(20*(0.16*0.08-0.002*0.08)), 0.01)
}

// Edges that lead heat away: a strip whose ends are held is the rod of a textbook, warmest in
// the middle: for a watt in the middle L/(4·κ·W) above its ends, and half of that on average
// along it. Symmetric all the same, and more warm far from the edge than near it.
func TestInfluenceWithHeldEdges(t *testing.T) {
	p := Plate{LengthM: 0.2, WidthM: 0.01, AlongX: 0.4, AlongY: 0.4, Film: 1e-3}
	pads := []Pad{{0.1, 0.005, 0.002, 0.01}, {0.03, 0.005, 0.002, 0.01}}
	n, err := InfluencesOf(p, pads, Rest{Held: [4]bool{true, true, false, false}, HeldW: 1e3})
	if err != nil {
		t.Fatal(err)
	}
	within(t, "in the middle", n.KPerW[0][0]+1/1e3, 0.2/(4*0.4*0.01), 0.02)
	// At x from one end: x(L−x)/L over κW.
	within(t, "near an end", n.KPerW[1][1]+1/1e3, 0.03*0.17/0.2/(0.4*0.01), 0.04)
	within(t, "of each other", n.KPerW[0][1], n.KPerW[1][0], 1e-9)
	free, err := InfluencesOf(p, pads, Rest{HeldW: 1e3})
	if err != nil || free.KPerW[0][1] == n.KPerW[0][1] {
		t.Errorf("no edge is held: %v, %v", free.KPerW, err)
	}
}

// Influence of pads against the map of the same plate on a fine grid, less its mean: 0.5 % of
// the highest. It is symmetric, and a pad that covers all of the plate rises with its mean.
func TestInfluenceAgainstMap(t *testing.T) {
	p := Plate{LengthM: 0.24, WidthM: 0.15, AlongX: 0.6, AlongY: 0.25, Film: 22}
	pads := []Pad{{0.03, 0.03, 0.012, 0.009}, {0.2, 0.12, 0.012, 0.012}, {0.036, 0.0405, 0.006, 0.012}, {0.12, 0.015, 0.03, 0.03}, {0.21, 0.12, 0.008, 0.012}}
	got := asked(t, p, pads).KPerW
	s := p.Cells(480)
	for j, from := range pads {
		q := make([]float64, s.NX*s.NY)
		s.Cover(from, func(c int, share float64) { q[c] += share })
		rise, err := s.Solve(q)
		if err != nil {
			t.Fatal(err)
		}
		mean := 1 / (p.Film * p.LengthM * p.WidthM)
		for i, to := range pads {
			there := 0.0
			s.Cover(to, func(c int, share float64) { there += share * rise[c] })
			if want := there - mean; math.Abs(got[i][j]-want) > 5e-3*(got[j][j]+mean) {
				t.Errorf("pad %d for pad %d: %g K/W, map %g", i, j, got[i][j], want)
			}
			if math.Abs(got[i][j]-got[j][i]) > 1e-9 {
				t.Errorf("%d and %d: %g and %g", i, j, got[i][j], got[j][i])
			}
		}
	}
	// A pad that is dragged there comes to the same as one that stood there.
	before := slices.Clone(pads)
	before[2].XM, before[2].YM = 0.1, 0.1
	moved := newInfluences(p, before).moved(2, pads[2]).KPerW
	for i := range moved {
		for j := range moved[i] {
			if math.Abs(moved[i][j]-got[i][j]) > 1e-9*got[0][0] {
				t.Errorf("dragged: %d for %d is %g, not %g", i, j, moved[i][j], got[i][j])
			}
		}
	}
	if all := newInfluences(p, []Pad{{0.12, 0.075, 0.24, 0.15}}).KPerW; math.Abs(all[0][0]) > 1e-9 {
		t.Errorf("a pad over all of it: %g K/W", all[0][0])
	}
}

// What was asked last is kept, and its next neighbour made from it; nothing is mixed up.
func TestInfluencesAreKept(t *testing.T) {
	p := Plate{LengthM: 0.24, WidthM: 0.15, AlongX: 0.6, AlongY: 0.25, Film: 22}
	pads := []Pad{{0.05, 0.05, 0.01, 0.01}, {0.1, 0.1, 0.01, 0.01}}
	first := asked(t, p, pads)
	if asked(t, p, slices.Clone(pads)) != first {
		t.Error("asked again it is worked out again")
	}
	for i := range 2 * recentMost {
		pads[1].XM = 0.1 + 0.001*float64(i)
		pads[0].WidthM = 0.01 + 0.0001*float64(i%3)
		got, want := asked(t, p, pads).KPerW, newInfluences(p, pads).KPerW
		for k := range want {
			for j := range want[k] {
				within(t, "kept", got[k][j], want[k][j], 1e-9)
			}
		}
	}
	if len(recent.list) > recentMost {
		t.Errorf("%d are kept", len(recent.list))
	}
	thicker := p
	thicker.AlongX *= 2
	if asked(t, thicker, pads).KPerW[0][0] >= asked(t, p, pads).KPerW[0][0] {
		t.Error("a thicker plate spreads no better")
	}
}

// A map of 400 × 240 cells: of a plain plate, and with holes and an uneven film.
func BenchmarkMap(b *testing.B) {
	p := Plate{LengthM: 0.4, WidthM: 0.24, AlongX: 0.4, AlongY: 0.4, Film: 16}
	for _, c := range []struct {
		name string
		cut  bool
	}{{"plain", false}, {"holes", true}} {
		b.Run(c.name, func(b *testing.B) {
			s, q := benchedSheet(&p, c.cut)
			b.ReportAllocs()
			for b.Loop() {
				if _, err := s.Solve(q); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// benchedSheet is a plate with twelve pads, cut twice and blown on unevenly where asked.
func benchedSheet(p *Plate, cut bool) (*Sheet, []float64) {
	s := p.Cells(400)
	q := make([]float64, s.NX*s.NY)
	if cut {
		s.Cut(Pad{0.1, 0.12, 0.03, 0.05})
		s.Cut(Pad{0.27, 0.06, 0.06, 0.02})
		s.Films = make([]float64, len(q))
		for c := range s.Films {
			s.Films[c] = 10 + 12*float64(c%s.NX)/float64(s.NX)
		}
	}
	for i := range 12 {
		s.Cover(Pad{0.04 + 0.1*float64(i%4), 0.03 + 0.08*float64(i/4), 0.01, 0.01}, func(c int, share float64) { q[c] += 5 * share })
	}
	return s, q
}

// One of a hundred pads moved: its row of the influence.
func BenchmarkPadMoved(b *testing.B) {
	p := Plate{LengthM: 0.4, WidthM: 0.24, AlongX: 0.4, AlongY: 0.4, Film: 16}
	var pads []Pad
	for i := range 100 {
		pads = append(pads, Pad{0.02 + 0.04*float64(i%10), 0.012 + 0.024*float64(i/10), 0.01, 0.01})
	}
	b.Run("moved", func(b *testing.B) {
		all := newInfluences(p, pads)
		to := pads[42]
		for b.Loop() {
			to.XM += 1e-6
			all.moved(42, to)
		}
	})
	b.Run("all", func(b *testing.B) {
		for b.Loop() {
			newInfluences(p, pads)
		}
	})
}

// What one pad does to another is the same with others about as by themselves: in rows, out of
// them, and of unlike widths.
func TestOthersChangeNothing(t *testing.T) {
	p := Plate{LengthM: 0.3, WidthM: 0.2, AlongX: 0.4, AlongY: 0.25, Film: 12}
	var pads []Pad
	for _, y := range []float64{0.02, 0.05, 0.08, 0.11, 0.17} {
		for i, x := range []float64{0.03, 0.1, 0.22} {
			pads = append(pads, Pad{XM: x, YM: y, LengthM: 0.01, WidthM: 0.01 + 0.006*float64(i)})
		}
	}
	all := asked(t, p, pads).KPerW
	for i := range pads {
		for j := range pads {
			if i == j {
				continue
			}
			two := asked(t, p, []Pad{pads[i], pads[j]}).KPerW[0][1]
			if math.Abs(all[i][j]-two) > 1e-12*math.Abs(two)+1e-14 {
				t.Errorf("pads %d and %d: %g K/W among others, %g by themselves", i, j, all[i][j], two)
			}
		}
	}
}
