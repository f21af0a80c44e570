package bench

import (
	"context"
	"errors"
	"fmt"
	"math"
	"runtime"
	"slices"
	"sync"

	"photherm/core/band"
	"photherm/core/chain"
	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/setup"
)

// A moment is when something is read. A light at the bench is at full level: meters mislead
// on what is switched.
type moment struct {
	kind   string  // cold: at once after switch-on; after: so long after it; rest: when nothing moves any more
	charge float64 // of packs, of 1, cold
	s      float64 // after switch-on, s
}

var (
	cold = moment{kind: "cold", charge: 1}
	rest = moment{kind: "rest"}
)

func after(s float64) moment { return moment{kind: "after", s: s} }

// A point is a figure of the chain at a moment; over another, if that is given. Light that falls
// somewhere is so many times the light that leaves.
type point struct {
	owner, figure string
	at            moment
	over          *moment
	times         float64 // 0: it is the figure itself
	metered       bool    // an ammeter is in its wire
}

// solved is a light's figures at moments, each solved once, as its solver stands.
type solved struct {
	ctx     context.Context
	m       *chain.Model
	s       *chain.Solver
	records map[moment][]float64
	run     *chain.Run
	end     *float64           // how long it lasts, s; NaN: for ever; nil: not asked yet
	err     error              // why a moment could not be solved, if that is no answer
	changes []chain.Variation  // what its solver was varied by
	faults  []emitterFault     // and broken by
	metered map[string]*solved // with an ammeter in the wire of a figure
}

type emitterFault struct {
	node string
	open bool
}

func newSolved(ctx context.Context, m *chain.Model, changes ...chain.Variation) (*solved, error) {
	q := &solved{ctx: ctx, m: m, s: m.Solver(), records: map[moment][]float64{}, metered: map[string]*solved{}}
	if len(changes) > 0 {
		if err := q.vary(changes...); err != nil {
			return nil, err
		}
	}
	return q, nil
}

// vary varies its solver, before anything is asked.
func (q *solved) vary(changes ...chain.Variation) error {
	if err := q.s.Vary(changes...); err != nil {
		return err
	}
	q.changes = append(q.changes, changes...)
	return nil
}

// broken breaks one emitter, after all that is varied: a solver that is varied has it whole again.
func (q *solved) broken(node string, open bool) error {
	if err := q.s.Fault(node, 1, open); err != nil {
		return err
	}
	q.faults = append(q.faults, emitterFault{node, open})
	return nil
}

// longestS is how long after switch-on the last reading of a plan is taken, s.
const longestS = 900

// record is the light at a moment; nil: it has none, or it was cut off before.
func (q *solved) record(at moment) []float64 {
	if r, ok := q.records[at]; ok {
		return r
	}
	var r []float64
	switch at.kind {
	case "cold":
		r = make([]float64, len(q.m.Columns()))
		q.s.OperatingPoint(at.charge, q.m.StartC(), r)
	case "rest":
		if st, err := q.s.Steady(q.ctx); err != nil {
			q.stop(err)
		} else if st.Converged {
			r = st.Record
		}
	case "after":
		if q.run == nil {
			run, err := q.s.RunFor(q.ctx, longestS)
			if err != nil {
				q.stop(err)
				break
			}
			q.run = run
		}
		if end := q.run.T[len(q.run.T)-1]; at.s <= end || q.run.End.Kind == "settled" {
			r = q.run.At(min(at.s, end))
		}
	}
	q.records[at] = r
	return r
}

// stop keeps why nothing more can be asked; a light that cannot be solved at a moment has just
// no figure there.
func (q *solved) stop(err error) {
	if q.err == nil && q.ctx.Err() != nil {
		q.err = err
	}
}

// bears is by how many times what a feed draws cold may grow before something is above what it bears.
func (q *solved) bears(feed string) float64 {
	if r := q.record(cold); r != nil {
		return q.m.Bears(feed, r)
	}
	return math.Inf(1)
}

// figure is what stands at a point; not ok: nothing does.
func (q *solved) figure(p point) (x float64, ok bool) {
	if p.figure == endS {
		return q.lasts()
	}
	if p.metered {
		return q.inWire(p)
	}
	if p.figure == sagV {
		open, under := p, p
		open.figure, under.figure = "openV", "busV"
		v, known := q.figure(open)
		x, ok = q.figure(under)
		return v - x, ok && known
	}
	c := column(q.m, p.owner, p.figure)
	if c < 0 {
		return 0, false
	}
	r := q.record(p.at)
	if r == nil {
		return 0, false
	}
	x = r[c]
	if p.over != nil {
		base := q.record(*p.over)
		if base == nil || base[c] == 0 {
			return 0, false
		}
		x /= base[c]
	}
	if p.times != 0 {
		x *= p.times
	}
	return x, !math.IsNaN(x) && !math.IsInf(x, 0)
}

// inWire is a figure with an ammeter in its wire; where it cannot be put there it is the figure.
func (q *solved) inWire(p point) (x float64, ok bool) {
	p.metered = false
	key := p.owner + " " + p.figure
	in, known := q.metered[key]
	if !known {
		if in = q.with(inWire(q.m, p.owner, p.figure)); p.figure == "stringA" {
			in = q.inString(p.owner)
		}
		q.metered[key] = in
	}
	if in == nil {
		return q.figure(p)
	}
	x, ok = in.figure(p)
	if in.err != nil && q.err == nil {
		q.err = in.err
	}
	return x, ok
}

// inString is the same light with an ammeter in the string of an array that takes most; nil: it
// cannot be put there.
func (q *solved) inString(array string) *solved {
	in := q.varied(q.changes)
	if in == nil || in.s.Meter(array, setup.MeterOhm) != nil {
		return nil
	}
	return in
}

// with is the same light with a meter in it; nil: it cannot be put there.
func (q *solved) with(meter []chain.Variation) *solved {
	if len(meter) == 0 {
		return nil
	}
	return q.varied(append(slices.Clone(q.changes), meter...))
}

// varied is the same light, with the same faults, varied otherwise; nil: it cannot be.
func (q *solved) varied(changes []chain.Variation) *solved {
	in, err := newSolved(q.ctx, q.m, changes...)
	for _, f := range q.faults {
		if err == nil {
			err = in.broken(f.node, f.open)
		}
	}
	if err != nil {
		return nil
	}
	return in
}

// sagV is by how much a source falls when the light is switched on, V: two readings of one meter,
// whose error in common drops out.
const sagV = "sagV"

// endS is no figure of an instant: how long the light lasts, from full, s.
const endS = "endS"

// lasts runs it down, once.
func (q *solved) lasts() (s float64, ok bool) {
	if q.end == nil {
		q.end = new(math.NaN())
		run, err := q.s.Run(q.ctx)
		if err != nil {
			q.stop(err)
		} else if a := run.Answers(); a.EndS != nil {
			*q.end = *a.EndS
		}
	}
	return *q.end, !math.IsNaN(*q.end)
}

func column(m *chain.Model, owner, figure string) int {
	for i, c := range m.Columns() {
		if c.Owner == owner && c.Figure == figure {
			return i
		}
	}
	return -1
}

// benched is a light as it is at the bench: everything switched on, at full level, without
// what lowers it by itself.
func benched(light *design.Light, variant int) (*design.Light, error) {
	out, err := design.Clone(light)
	if err != nil {
		return nil, err
	}
	for n := range design.Nodes(&out.Variants[variant]) {
		switch {
		case n.Driver != nil:
			n.Driver.Mode, n.Driver.Dimming, n.Driver.StepDown = "", nil, nil
		case n.Dimmer != nil:
			n.Dimmer.Level = 1
		case n.Switch != nil:
			n.Switch.Open, n.Switch.Duty = false, nil
		}
	}
	return out, nil
}

// model is a light at the bench; raw: without the corrections that readings brought.
func model(light *design.Light, variant int, raw bool) (*chain.Model, error) {
	if variant < 0 || variant >= len(light.Variants) {
		return nil, fmt.Errorf("there is no variant %d", variant)
	}
	full, err := benched(light, variant)
	if err != nil {
		return nil, err
	}
	return chain.Compile(full, chain.Options{Variant: variant, Raw: raw})
}

// errUnknown is that nothing of a light can be computed.
var errUnknown = errors.New("nothing of this light can be computed yet")

// slopes are how far each point moves with each tolerance at its whole spread, by solving the
// light so; 0 where one of the two has no such point.
func slopes(ctx context.Context, m *chain.Model, tolerances []band.Tolerance, at []point, tried func()) ([][]float64, error) {
	base, err := newSolved(ctx, m)
	if err != nil {
		return nil, err
	}
	was := make([]float64, len(at))
	known := make([]bool, len(at))
	for i, p := range at {
		was[i], known[i] = base.figure(p)
	}
	if base.err != nil {
		return nil, base.err
	}
	out := make([][]float64, len(tolerances))
	errs := make([]error, len(tolerances))
	next := make(chan int)
	var workers sync.WaitGroup
	for range min(runtime.GOMAXPROCS(0), len(tolerances)) {
		workers.Go(func() {
			for k := range next {
				out[k], errs[k] = slope(ctx, m, &tolerances[k], at, was, known)
				tried()
			}
		})
	}
	for k := range tolerances {
		next <- k
	}
	close(next)
	workers.Wait()
	return out, errors.Join(errs...)
}

// slope is how far the points move with one tolerance.
func slope(ctx context.Context, m *chain.Model, t *band.Tolerance, at []point, was []float64, known []bool) (out []float64, err error) {
	defer circuit.Caught(&err)
	out = make([]float64, len(at))
	by := t.Spread
	q, err := newSolved(ctx, m, t.Change(by))
	if err != nil {
		by = -by // at the end of its range
		if q, err = newSolved(ctx, m, t.Change(by)); err != nil {
			return out, nil // it cannot be moved
		}
	}
	for i, p := range at {
		if is, there := q.figure(p); known[i] && there {
			out[i] = (is - was[i]) * by / t.Spread
		}
	}
	return out, q.err
}
