package array

import (
	"math"
	"testing"

	"photherm/core/design"
	"photherm/core/emitter"
)

func led(t *testing.T) emitter.Model {
	t.Helper()
	e := design.Emitter{Forward: []design.ForwardPoint{{CurrentA: 0.02, VoltageV: 2.6}, {CurrentA: 0.35, VoltageV: 2.85}, {CurrentA: 1, VoltageV: 3.1}}, VfRefTempC: 25}
	m, err := emitter.New(&e)
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// Series adds voltages, parallel adds currents, boards are strings more; and the
// voltage at a current is the inverse of the current at a voltage.
func TestSeriesAndParallel(t *testing.T) {
	m := led(t)
	for name, a := range map[string]design.Array{
		"one":        {Series: 1, Parallel: 1},
		"3 × 4 × 5":  {Series: 3, Parallel: 4, Count: 5},
		"one dead":   {Series: 3, Parallel: 4, Unequal: []design.Strings{{Strings: 1, Shorted: 1}}},
		"one open":   {Series: 3, Parallel: 4, Unequal: []design.Strings{{Strings: 1, Open: true}}},
		"ballast":    {Series: 3, Parallel: 4, BallastOhm: new(2.2)},
		"unlike":     {Series: 3, Parallel: 4, BallastOhm: new(1.0), Unequal: []design.Strings{{Strings: 1, OffsetV: -0.05}, {Strings: 1, HotterK: 30, BallastOhm: new(3.0)}}},
		"all faulty": {Series: 2, Parallel: 2, Unequal: []design.Strings{{Strings: 2, Shorted: 1}}},
	} {
		l := New(&a, m)
		for _, each := range []float64{0.01, 0.2, 0.9} {
			total := each * float64(l.Strings())
			v := l.VoltageV(total, 60)
			if back := l.CurrentA(v, 0, 60); math.Abs(back/total-1) > 1e-8 {
				t.Errorf("%s: %g A at %g V, back %g A", name, total, v, back)
			}
			if behind := l.CurrentA(v+0.7*total, 0.7, 60); math.Abs(behind/total-1) > 1e-8 {
				t.Errorf("%s: behind 0.7 Ω %g A, want %g A", name, behind, total)
			}
			sum := 0.0
			for g := range l.Groups {
				sum += float64(l.Groups[g].Strings) * l.ShareA(g, v, total, 60)
			}
			if math.Abs(sum/total-1) > 1e-8 {
				t.Errorf("%s: the strings take %g A of %g A", name, sum, total)
			}
		}
	}
	a := New(&design.Array{Series: 3, Parallel: 4, Count: 5}, m)
	if v, want := a.VoltageV(20*0.35, 25), 3*2.85; math.Abs(v-want) > 1e-9 || a.Emitters() != 60 {
		t.Errorf("3 × 4 on 5 boards at 0.35 A each: %g V, want %g V", v, want)
	}
}

// A string with a shorted emitter takes more than its share, the others less.
func TestShortedEmitterHogs(t *testing.T) {
	l := New(&design.Array{Series: 3, Parallel: 4, Unequal: []design.Strings{{Strings: 1, Shorted: 1}}}, led(t))
	v := l.VoltageV(1.4, 25)
	if healthy, hog := l.ShareA(0, v, 1.4, 25), l.ShareA(1, v, 1.4, 25); hog < 2*healthy || l.Emitters() != 11 {
		t.Errorf("healthy strings %g A, the faulty one %g A", healthy, hog)
	}
}

func TestNothingConducts(t *testing.T) {
	l := New(&design.Array{Series: 1, Parallel: 1, Unequal: []design.Strings{{Strings: 1, Open: true}}}, led(t))
	if v := l.VoltageV(0.1, 25); !math.IsInf(v, 1) || l.CurrentA(5, 0, 25) != 0 {
		t.Errorf("an open string at 0.1 A stands at %g V", v)
	}
}
