package target_test

import (
	"math"
	"testing"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/target"
)

// Every optic that is offered, put on the light, gives what was told of it: lumens, candela, width.
// What the light has is told as it is.
func TestOpticsAsTold(t *testing.T) {
	two := func(l *design.Light) {
		second := *leaf(l)
		a := *second.Array
		second.ID, second.Array, second.Optic = "second", &a, &design.Optic{TiltDeg: 4}
		if leaf(l).Optic != nil {
			o := *leaf(l).Optic
			o.TiltDeg = 4
			second.Optic = &o
		}
		loads := &l.Variants[0].Feeds[0].Loads[0].Loads
		*loads = append(*loads, second)
	}
	for name, change := range map[string]func(*design.Light){
		"bare": func(l *design.Light) {},
		"a lens with a dirty cover": func(l *design.Light) {
			array(l).BeamDeg, array(l).OpticEfficient = new(20.0), new(0.8)
			leaf(l).Optic = &design.Optic{Transmits: new(0.9), Soiled: new(0.1), TiltDeg: 10}
		},
		"a reflector": func(l *design.Light) {
			array(l).OpticEfficient = new(0.75)
			leaf(l).Optic = &design.Optic{Kind: "smooth-reflector", SpotDeg: new(9.0), SpillDeg: new(60.0), SpotShare: new(0.5)}
		},
		"two that lean apart": func(l *design.Light) { array(l).BeamDeg = new(12.0); two(l) },
		"a measured table": func(l *design.Light) {
			leaf(l).Optic = &design.Optic{Kind: "table", Table: &design.IntensityTable{VerticalDeg: []float64{0, 20, 60}, HorizontalDeg: []float64{0}, Candela: [][]float64{{900, 200, 0}}}}
		},
	} {
		make := func(more func(*design.Light)) *design.Light {
			return white(t, 1, 500, "", func(l *design.Light) {
				l.Scene = &design.Scene{Kind: "beam"}
				change(l)
				if more != nil {
					more(l)
				}
			})
		}
		v := look(t, make(nil), target.Question{})
		if len(v.Beam.Optics) != 16 || !v.Beam.Optics[0].Own {
			t.Fatalf("%s: %+v", name, v.Beam.Optics)
		}
		own := v.Beam.Optics[0]
		near(t, name+": its own lumens", own.Lumens, v.Lumens, 1e-9)
		near(t, name+": its own peak", own.PeakCd, v.Beam.PeakCd, 1e-9)
		for _, o := range v.Beam.Optics[1:] {
			put := look(t, make(func(l *design.Light) {
				loads := l.Variants[0].Feeds[0].Loads[0].Loads
				for i := range loads {
					loads[i] = o.With(loads[i])
				}
			}), target.Question{})
			near(t, name+": lumens of "+o.Name, o.Lumens, put.Lumens, 2e-3) // the light the optic keeps is heat
			near(t, name+": peak of "+o.Name, o.PeakCd, put.Beam.PeakCd, 4e-3)
			near(t, name+": reach of "+o.Name, o.DistanceM, put.Beam.DistanceM, 2e-3)
			if math.Abs(o.WidthDeg-put.Beam.WidthDeg) > 0.05 {
				t.Errorf("%s: %s is %g° wide, told %g°", name, o.Name, put.Beam.WidthDeg, o.WidthDeg)
			}
		}
	}
}

// Where one optic cannot be put on all, none is tried: a light through two kinds of them, or of
// two efficiencies. A spot wider than the spill that is there is left out.
func TestOpticsThatAreNotTried(t *testing.T) {
	light := func(change func(*design.Light)) *target.Beam {
		return look(t, white(t, 1, 500, "", func(l *design.Light) {
			l.Scene = &design.Scene{Kind: "beam"}
			change(l)
		}), target.Question{}).Beam
	}
	beside := func(l *design.Light, change func(a *design.Array)) {
		second := *leaf(l)
		a := *second.Array
		change(&a)
		second.ID, second.Array = "second", &a
		loads := &l.Variants[0].Feeds[0].Loads[0].Loads
		*loads = append(*loads, second)
	}
	mixed := light(func(l *design.Light) { beside(l, func(a *design.Array) { a.BeamDeg = new(20.0) }) })
	if len(mixed.Optics) != 1 {
		t.Errorf("a lens beside a bare one: %+v", mixed.Optics)
	}
	unlike := light(func(l *design.Light) {
		array(l).BeamDeg, array(l).OpticEfficient = new(20.0), new(0.9)
		beside(l, func(a *design.Array) { a.OpticEfficient = new(0.8) })
	})
	if len(unlike.Optics) != 1 {
		t.Errorf("lenses that let out unlike shares: %+v", unlike.Optics)
	}
	narrow := light(func(l *design.Light) {
		leaf(l).Optic = &design.Optic{Kind: "textured-reflector", SpotDeg: new(5.0), SpillDeg: new(15.0)}
	})
	for _, o := range narrow.Optics {
		if o.Kind == "textured-reflector" && o.Deg >= 15 {
			t.Errorf("a spot of %g° in a spill of 15°", o.Deg)
		}
	}
	if len(narrow.Optics) != 14 {
		t.Errorf("%d are left", len(narrow.Optics))
	}
}

// The widest lens that throws far enough is offered; where none does the widest reflector; it
// then meets what is wanted.
func TestOpticThatMendsABeam(t *testing.T) {
	make := func(cd float64, more func(*design.Light)) *design.Light {
		return white(t, 1, 1000, "", func(l *design.Light) {
			array(l).BeamDeg = new(60.0)
			l.Brief.PeakCd = &cd
			l.Scene = &design.Scene{Kind: "beam"}
			if more != nil {
				more(l)
			}
		})
	}
	for cd, name := range map[float64]string{5000: "a lens of 20° at the same light", 20000: "a lens of 12° at the same light", 50000: "a smooth reflector, spot 5° at the same light"} {
		v := look(t, make(cd, nil), target.Question{Ways: true})
		if len(v.Target.Mends) != 1 || v.Target.Mends[0].Label != name {
			t.Errorf("%g cd: %+v", cd, v.Target.Mends)
			continue
		}
		o := v.Target.Mends[0].Optic
		then := look(t, make(cd, func(l *design.Light) { *leaf(l) = o.With(*leaf(l)) }), target.Question{})
		if !then.Target.Met {
			t.Errorf("%g cd: with %s %+v", cd, name, then.Target)
		}
	}
	if v := look(t, make(1e6, nil), target.Question{Ways: true}); len(v.Target.Mends) != 1 || v.Target.Mends[0].Optic != nil {
		t.Errorf("a million candela: %+v", v.Target.Mends)
	}
}

// Another variant's beam is told with the outlines of its own.
func TestBesideAnotherBeam(t *testing.T) {
	l := white(t, 1, 1000, "", func(l *design.Light) {
		array(l).BeamDeg = new(12.0)
		l.Scene = &design.Scene{Kind: "beam"}
		other, err := design.Encode(l)
		if err != nil {
			t.Fatal(err)
		}
		second, err := design.Decode(other)
		if err != nil {
			t.Fatal(err)
		}
		second.Variants[0].ID, second.Variants[0].Name = "b", "b"
		array(second).BeamDeg = new(30.0)
		leaf(second).Optic = &design.Optic{Transmits: new(0.5)}
		l.Variants = append(l.Variants, second.Variants[0])
	})
	other, err := target.Look(ctx, l, 1, target.Question{AtS: 30, Against: -1})
	if err != nil {
		t.Fatal(err)
	}
	alone := other.Beam
	mine := look(t, l, target.Question{})
	if c := look(t, l, target.Question{Against: 1}).Beam.Compare; c != nil {
		near(t, "lumens against the other's", c.Lumens, mine.Lumens/other.Lumens, 1e-9)
		near(t, "distance against the other's", c.Distance, mine.Beam.DistanceM/alone.DistanceM, 1e-9)
	}
	c := look(t, l, target.Question{Against: 1}).Beam.Compare
	if c == nil || c.PeakCd != alone.PeakCd || c.DistanceM != alone.DistanceM || c.HeightM != alone.HeightM || len(c.Reaches) != len(alone.Reaches) {
		t.Fatalf("%+v", c)
	}
	for i := range c.Reaches {
		for k := range c.Reaches[i].Rim {
			if c.Reaches[i].Rim[k] != alone.Reaches[i].Rim[k] {
				t.Fatalf("at %g lx the outline is another", c.Reaches[i].Lux)
			}
		}
	}
}

// Of two wishes the one that is missed is told, whichever stands first: 400 cd are there and reach 40 m
// (ANSI/PLATO FL 1: 2·√cd), and 200 m are not.
func TestTheWishThatIsMissed(t *testing.T) {
	for name, c := range map[string]struct {
		cd, m float64
		what  string
		met   bool
	}{"both met": {400, 30, "peakCd", true}, "reach missed": {400, 200, "beamM", false}, "candela missed": {1e6, 30, "peakCd", false}} {
		l := white(t, 1, 1000, "", func(l *design.Light) {
			array(l).BeamDeg = new(60.0)
			l.Scene = &design.Scene{Kind: "beam"}
			l.Brief.PeakCd, l.Brief.BeamM = &c.cd, &c.m
		})
		if r := look(t, l, target.Question{}).Target; r == nil || r.What != c.what || r.Met != c.met {
			t.Errorf("%s: %+v", name, r)
		}
	}
}

// What the answers say of a beam is what its picture says.
func TestReachOfABeam(t *testing.T) {
	for name, want := range map[string]func(*design.Brief){
		"candela": func(b *design.Brief) { b.PeakCd = new(5000.0) }, "distance": func(b *design.Brief) { b.BeamM = new(120.0) },
	} {
		l := white(t, 1, 1000, "", func(l *design.Light) {
			array(l).BeamDeg = new(20.0)
			l.Scene = &design.Scene{Kind: "beam"}
			want(&l.Brief)
		})
		m, err := chain.Compile(l, chain.Options{})
		if err != nil {
			t.Fatal(err)
		}
		run, err := m.Solver().Run(ctx)
		if err != nil {
			t.Fatal(err)
		}
		r, why, err := target.Reach(ctx, run)
		if err != nil || why != "" || r == nil {
			t.Fatalf("%s: %+v %q %v", name, r, why, err)
		}
		near(t, name, r.Got, look(t, l, target.Question{}).Target.Got, 1e-9)
	}
}
