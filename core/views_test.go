package core_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/internal/sample"
	"photherm/core/search"
)

// viewed is how many lights are drawn: so many take some seconds.
const viewed = 90

// What a view says of a light is what the light does: a sink rests where the solved body does, in sun,
// tents and rain; a current that is offered, set, brings what was said of it; a cell that is listed,
// put in, lasts as long; an end of charging, set, is the charge that was told. The lights are those of
// the demo with bodies and packs drawn at random, sensible or not.
func TestViewsAgreeWithTheLight(t *testing.T) {
	names := []string{"shore-search-handlamp", "pier-lantern", "slipway-lantern", "skerry-marker", "germination-rack", "chart-table-strip", "boathouse-floodlight", "handlamp-as-built", "bilge-lamp"}
	cabinet := parts(t)
	asked := map[string]int{}
	for seed := range uint64(viewed) {
		r := rand.New(rand.NewPCG(seed, 99))
		l, err := sample.Example(names[seed%uint64(len(names))] + ".json")
		if err != nil {
			t.Fatal(err)
		}
		drawing{r}.bodies(l)
		if seed%2 == 0 {
			drawing{r}.packs(l)
		}
		if design.Check(l) != nil {
			continue
		}
		v := view{t, seed, asked}
		for i := range l.Variants[0].Bodies {
			v.sink(l, &l.Variants[0].Bodies[i])
		}
		v.runtime(l, 0.5+2*r.Float64())
		v.charge(l, 0.9*r.Float64())
		if seed%3 == 0 {
			v.cells(l, cabinet.cells)
		}
	}
	t.Logf("asked %v", asked)
	for _, what := range []string{"sink", "sink's current", "runtime's current", "end of charging", "cell"} {
		if asked[what] < 3 {
			t.Errorf("%s was asked %d times: too few", what, asked[what])
		}
	}
}

type view struct {
	t     *testing.T
	seed  uint64
	asked map[string]int
}

func (v *view) agree(what string, said, is, within float64) {
	v.asked[what]++
	if !(math.Abs(said-is) <= within) {
		v.t.Errorf("seed %d: %s says %g, the light %g", v.seed, what, said, is)
	}
}

// rests is where a body comes to rest; not ok: it does not.
func rests(l *design.Light, body string) (c float64, ok bool) {
	m, err := chain.Compile(l, chain.Options{})
	if err != nil {
		return 0, false
	}
	st, err := m.Solver().Steady(ctx)
	if err != nil || !st.Converged {
		return 0, false
	}
	for i, column := range m.Columns() {
		if column.Owner == body && column.Figure == "bodyC" {
			return st.Record[i], true
		}
	}
	return 0, false
}

// half is how long a light lasts to half of its light, s; not ok: it has no end.
func half(l *design.Light) (s float64, ok bool) {
	m, err := chain.Compile(l, chain.Options{})
	if err != nil {
		return 0, false
	}
	run, err := m.Solver().Run(ctx)
	if err != nil {
		return 0, false
	}
	if a := run.Answers(); a.HalfS != nil {
		return *a.HalfS, true
	}
	return 0, false
}

// turned is a light whose one driver that is set is set otherwise; nil: there is not one.
func turned(l *design.Light, amps float64) *design.Light {
	out, _ := design.Clone(l)
	n := 0
	for node := range design.Nodes(&out.Variants[0]) {
		if node.Driver != nil && node.Driver.SetCurrentA != nil {
			node.Driver.SetCurrentA = &amps
			n++
		}
	}
	if n != 1 {
		return nil
	}
	return out
}

func (v *view) sink(l *design.Light, b *design.Body) {
	if b.Shape == nil || b.KPerW != nil || b.Shape.Kind == "tube" && b.Shape.Wet {
		return // a wet tube colder than the air in its middle has a law that is not monotonous
	}
	s, err := search.SinkOf(ctx, l, 0, b.ID)
	if err != nil {
		return
	}
	if at, ok := rests(l, b.ID); ok && s.EndsAtC != nil {
		v.agree("sink", *s.EndsAtC, at, 0.3)
	}
	if s.CurrentA == nil {
		return
	}
	if other := turned(l, *s.CurrentA); other != nil {
		at, _ := rests(other, b.ID)
		v.agree("sink's current", s.LimitC, at, 1.2)
	}
}

func (v *view) runtime(l *design.Light, times float64) {
	s, ok := half(l)
	if !ok || s < 60 {
		return
	}
	r, err := search.RuntimeOf(ctx, l, 0, times*s/3600, 0.3, 0)
	if err != nil || r.CurrentA == nil {
		return
	}
	if other := turned(l, *r.CurrentA); other != nil {
		lasts, ok := half(other)
		if !ok {
			lasts = math.Inf(1)
		}
		v.agree("runtime's current", times*s, min(lasts, times*s), 0.03*times*s)
	}
}

func (v *view) charge(l *design.Light, from float64) {
	c, err := search.ChargeOf(ctx, l, 0, from, false, 0)
	if err != nil {
		return
	}
	for _, end := range c.Ends {
		other, _ := design.Clone(l)
		other.Variants[0].Feeds[0].Sources[0].Pack.Charger.EndCellV = &end.CellV
		if set, err := search.ChargeOf(ctx, other, 0, from, false, 0); err == nil {
			v.agree("end of charging", end.Reached, set.Reached, 0.005)
		}
	}
}

func (v *view) cells(l *design.Light, cells []*design.Cell) {
	f := &l.Variants[0].Feeds[0]
	if len(f.Sources) == 0 || f.Sources[0].Pack == nil {
		return
	}
	found, err := search.Cells(ctx, l, 0, f.ID, cells)
	if err != nil {
		return
	}
	for _, m := range found {
		if m.HalfS == nil || m.Fit != search.Fits {
			continue
		}
		other, _ := design.Clone(l)
		pack := other.Variants[0].Feeds[0].Sources[0].Pack
		cell := *cells[m.Index]
		other.Part(pack.PartID).Cell, pack.Groups = &cell, nil
		if s, ok := half(other); ok {
			v.agree("cell", *m.HalfS, s, 0.02*s)
		}
	}
}
