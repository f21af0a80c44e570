package array

import (
	"math"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
)

// 5 m of 14.4 W/m with 0.12 Ω/m of copper on 12 V fed at one end: about 51 W and
// about 10.8 V at the far end (computed twice, independently). Fed at both ends it
// is nearly even.
func TestStripLadder(t *testing.T) {
	part := design.Strip{VoltageV: 12, PerMetreW: new(14.4), CutM: 0.05, LoopOhm: new(0.12), FluxLmPer: new(1200.0)}
	use := design.StripUse{PiecesM: []float64{5}}
	s, missing := NewStrip(&part, &use)
	if len(missing) > 0 {
		t.Fatal(missing)
	}
	w := 12 * taken(&s, 12)
	lm, far := s.Light(12)
	if math.Abs(w-51) > 1 || math.Abs(far-10.8) > 0.1 {
		t.Errorf("one end: %.1f W, far end %.2f V", w, far)
	}
	use.BothEnds = true
	both, _ := NewStrip(&part, &use)
	lmBoth, farBoth := both.Light(12)
	if farBoth < 11.5 || lmBoth < 1.15*lm || 12*taken(&both, 12) > 72 {
		t.Errorf("both ends: %.1f W, middle %.2f V, %.0f lm after %.0f", 12*taken(&both, 12), farBoth, lmBoth, lm)
	}
	if taken(&s, 8) != 0 || math.Abs(s.ofRated(12)-1) > 1e-12 {
		t.Error("below its knee a strip is dark, at its rated voltage it is whole")
	}
	// A long ladder against its limit: with vanishing segments the ladder of
	// conductance g a metre and copper r a metre takes (V − knee)·√(g/r)·tanh(L·√(g·r)).
	part.CutM = 0.001
	fine, _ := NewStrip(&part, &design.StripUse{PiecesM: []float64{5}})
	g, r := 1.2/(12-fine.KneeV), 0.12
	if want := (12 - fine.KneeV) * math.Sqrt(g/r) * math.Tanh(5*math.Sqrt(g*r)); math.Abs(taken(&fine, 12)/want-1) > 1e-3 {
		t.Errorf("fine ladder %g A, the line it tends to %g A", taken(&fine, 12), want)
	}
}

// A piece is cut between segments only; an odd number fed from both ends shares
// its middle one.
func TestStripPieces(t *testing.T) {
	part := design.Strip{VoltageV: 24, PerMetreA: new(0.6), CutM: 0.1, LoopOhm: new(0.0)}
	for _, c := range []struct {
		piece float64
		both  bool
		want  float64
	}{{0.3, false, 0.18}, {0.3, true, 0.18}, {0.39, true, 0.18}, {0.05, false, 0}, {1, true, 0.6}} {
		s, missing := NewStrip(&part, &design.StripUse{PiecesM: []float64{c.piece}, BothEnds: c.both})
		if got := taken(&s, 24); math.Abs(got-c.want) > 1e-9 || len(missing) != 1 {
			t.Errorf("a piece of %g m takes %g A, want %g A; missing %v", c.piece, got, c.want, missing)
		}
		// The cut list: whole segments, each of them lit.
		r := s.Runs(24)[0]
		if n := int(math.Round(c.want / 0.06)); r.Segments != n || math.Abs(r.CutM-0.1*float64(n)) > 1e-12 || len(r.Along) != n || math.Abs(r.CurrentA-c.want) > 1e-9 || r.Over != (c.piece == 0.39 || c.piece == 0.05) || r.Dark {
			t.Errorf("a piece of %g m, both ends %v: %+v", c.piece, c.both, r)
		}
	}
}

func taken(s *Strip, v float64) float64 {
	a, _ := s.Draw(v)
	return a
}

// Pieces chained along one wire, leads between them, fed at one end or both, against the
// network of segments and copper solved by elimination on its own; and no length makes
// a longer strip take less.
func TestChainedPieces(t *testing.T) {
	part := design.Strip{VoltageV: 12, PerMetreA: new(1.2), CutM: 0.1, LoopOhm: new(0.12), FluxLmPer: new(1000.0), KneeV: new(9.0)}
	for _, both := range []bool{false, true} {
		s, _ := NewStrip(&part, &design.StripUse{PiecesM: []float64{0.4, 0.05, 1.3, 0.2}, Chained: true, BothEnds: both, LeadOhm: new(0.2), LinkOhm: new(0.5)})
		const n, volts = 19, 11.5
		g, copper := 0.12/3.0, 0.012
		var m [n][n]float64
		var rhs [n]float64
		tie := func(i, k int, ohm float64) { // k < 0: to the feed
			m[i][i] += 1 / ohm
			if k < 0 {
				rhs[i] += (volts - 9) / ohm
				return
			}
			m[k][k] += 1 / ohm
			m[i][k] -= 1 / ohm
			m[k][i] -= 1 / ohm
		}
		for i := range n {
			m[i][i] += g
			switch {
			case i == 0:
				tie(i, -1, copper/2+0.2)
			case i == 4 || i == 17: // the piece shorter than a segment is not there
				tie(i, i-1, copper+0.5)
			default:
				tie(i, i-1, copper)
			}
		}
		if both {
			tie(n-1, -1, copper/2+0.2)
		}
		for i := range n {
			for k := i + 1; k < n; k++ {
				f := m[k][i] / m[i][i]
				for c := range n {
					m[k][c] -= f * m[i][c]
				}
				rhs[k] -= f * rhs[i]
			}
		}
		total, lowest := 0.0, 3.0
		for i := n - 1; i >= 0; i-- {
			for c := i + 1; c < n; c++ {
				rhs[i] -= m[i][c] * rhs[c]
			}
			rhs[i] /= m[i][i]
			total += g * rhs[i]
			lowest = min(lowest, rhs[i])
		}
		lm, far := s.Light(volts)
		runs := s.Runs(volts)
		if math.Abs(taken(&s, volts)/total-1) > 1e-12 || math.Abs(far-9-lowest) > 1e-12 || math.Abs(lm/(100*total/0.12)-1) > 1e-12 || math.Abs(runs[3].Along[1].VoltageV-9-rhs[18]) > 1e-12 || runs[1].Segments != 0 || math.Abs(runs[2].Along[3].AtM-0.35) > 1e-12 {
			t.Errorf("both ends %v: %.9g A and %.9g V, want %.9g and %.9g; %+v", both, taken(&s, volts), far, total, 9+lowest, runs[3])
		}
		if into := (volts - 9 - rhs[0]) / (copper/2 + 0.2) * 0.2; math.Abs(runs[0].FeedV-volts+into) > 1e-9 {
			t.Errorf("both ends %v: the first piece is fed at %g V, want %g V", both, runs[0].FeedV, volts-into)
		}
	}
	last := 0.0
	for _, m := range []float64{1, 5, 20, 25, 60, 100} {
		s, _ := NewStrip(&design.Strip{VoltageV: 5, PerMetreA: new(3.6), CutM: 0.0167, LoopOhm: new(0.1)}, &design.StripUse{PiecesM: []float64{m}})
		a := taken(&s, 5)
		if !(a >= last*(1-1e-12)) || s.FarLight() < 0 {
			t.Errorf("%g m take %g A, shorter ones %g A; far end %g", m, a, last, s.FarLight())
		}
		last = a
	}
}

// The case of a strip far too long: 25 m of it take at least what 20 m take, and leave
// the far end dark.
func TestLongStripCase(t *testing.T) {
	light, err := sample.Case("long-strip")
	if err != nil {
		t.Fatal(err)
	}
	part, use := light.Parts[0].Strip, light.Variants[0].Feeds[0].Loads[0].Strip
	long, _ := NewStrip(part, use)
	short, _ := NewStrip(part, &design.StripUse{PiecesM: []float64{20}})
	// An endless one of that copper and those LEDs: (V − knee)·√(g/r).
	g, r := *part.PerMetreA/(part.VoltageV-long.KneeV), *part.LoopOhm
	endless := (part.VoltageV - long.KneeV) * math.Sqrt(g/r)
	if a, b := taken(&long, 5), taken(&short, 5); a < b || math.Abs(a/endless-1) > 0.01 || long.FarLight() > 0.01 {
		t.Errorf("25 m take %g A, 20 m %g A, an endless one %g A; its far end %g", a, b, endless, long.FarLight())
	}
}
