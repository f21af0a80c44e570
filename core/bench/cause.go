package bench

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"photherm/core/band"
	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/reading"
	"photherm/core/units"
)

// A LikelyCause is one thing that would explain readings that differ from what is calculated.
type LikelyCause struct {
	Why      string       `json:"why" doc:"What it is, in one sentence"`
	Pointer  string       `json:"pointer" doc:"JSON Pointer of what to look at, or change"`
	Explains int          `json:"explains" doc:"How many of the readings that differ it explains"`
	Of       int          `json:"of" doc:"Of how many"`
	Rival    string       `json:"rival" doc:"Another that explains them about as well; empty: none"`
	Tell     *NextReading `json:"tell" doc:"A reading that would tell the two apart; null: none, or there is no rival"`
}

// A suspect is a light with one thing wrong.
type suspect struct {
	why, pointer string
	price        float64   // how unlikely it is beforehand, in the sum of squares
	at           []float64 // what each row would read
}

// How a cause is chosen: it must take away so much of the sum of squares, leave readings within
// their bands, and one that leaves not much more than another is a rival (chosen; four is the
// square of two bands).
const (
	explainsShare = 0.6
	rivalBy       = 4
	farTimes      = 6 // tolerances beyond which a part is another part
	faultPrice    = 2
	farPrice      = 3 // of a figure that is set, or made, otherwise: it is not the tail of its tolerance
)

// explain looks for the most likely single cause of readings that differ.
func (w *writer) explain(plan *ReadingPlan, tolerances []band.Tolerance) error {
	w.next(plan, tolerances)
	differ := 0
	for _, r := range w.placed {
		if r.Reading.Calculated == "differs" && r.Reading.Ask == nil {
			differ++
		}
	}
	if differ == 0 {
		return nil
	}
	suspects, err := w.suspects(tolerances)
	if err != nil {
		return err
	}
	asIs := w.squares(nil)
	type scored struct {
		*suspect
		left float64
	}
	var list []scored
	for i := range suspects {
		list = append(list, scored{&suspects[i], w.squares(suspects[i].at) + suspects[i].price})
	}
	slices.SortStableFunc(list, func(a, b scored) int { return cmp.Compare(a.left, b.left) })
	if len(list) == 0 || list[0].left-list[0].price > (1-explainsShare)*asIs {
		return nil
	}
	best := list[0]
	c := &LikelyCause{Why: best.why, Pointer: best.pointer, Of: differ}
	for i, r := range w.placed {
		if r.Reading.Calculated == "differs" && r.Reading.Ask == nil && math.Abs(*r.Reading.Actual-best.at[i]) <= 2*r.Reading.Within {
			c.Explains++
		}
	}
	if c.Explains == 0 {
		return nil
	}
	if len(list) > 1 && list[1].left < best.left+rivalBy && list[1].left-list[1].price < (1-explainsShare)*asIs {
		c.Rival = list[1].why
		c.Tell = w.tells(best.at, list[1].at)
	}
	plan.Cause = c
	return nil
}

// squares are the deviations of what was read from what would be, over their bands: one thing
// wrong leaves the rest as uncertain as before.
func (w *writer) squares(at []float64) float64 {
	sum := 0.0
	for i, r := range w.placed {
		if r.Reading.Actual == nil || r.Reading.Ask != nil || r.Reading.Open {
			continue
		}
		x := r.Reading.Expected
		if at != nil {
			x = at[i]
		}
		off := (*r.Reading.Actual - x) / r.Reading.Within
		sum += off * off
	}
	return sum
}

// tells is the reading not taken yet that lies furthest apart under two suspects, over its band.
func (w *writer) tells(a, b []float64) *NextReading {
	most, out := 1.0, (*NextReading)(nil)
	for i, r := range w.placed {
		if r.Reading.Actual != nil {
			continue
		}
		if apart := math.Abs(a[i]-b[i]) / r.Reading.Within; apart > most {
			most, out = apart, &NextReading{r.Node, r.Step, fmt.Sprintf("%s: %s if it is the first, %s if the second", r.Reading.What, reading.Say(r.Reading.Quantity, a[i]), reading.Say(r.Reading.Quantity, b[i]))}
		}
	}
	return out
}

// suspects are lights with one thing wrong: a figure far off, an emitter dead or shorted, a bad
// contact, a dry joint.
func (w *writer) suspects(tolerances []band.Tolerance) ([]suspect, error) {
	var out []suspect
	read := func(q *solved) []float64 {
		at := make([]float64, len(w.placed))
		for i, r := range w.placed {
			x, ok := q.figure(*r.point)
			if !ok {
				x = 0
			}
			at[i] = x
		}
		return at
	}
	for k := range tolerances {
		if by := w.best(k); math.Abs(by) > 1 {
			t := &tolerances[k]
			change := t.Change(max(-0.95, by*t.Spread))
			if q, err := newSolved(w.ctx, w.m, change); err == nil {
				out = append(out, suspect{fmt.Sprintf("%s: %s", t.Label, w.instead(t, change)), t.At, min(by*by/4, farPrice), read(q)})
			}
		}
	}
	for _, s := range w.packs() {
		if q, err := newSolved(w.ctx, w.m, s.changes...); err == nil {
			out = append(out, suspect{s.why, s.pointer, faultPrice, read(q)})
		}
	}
	for n := range design.Nodes(w.v) {
		if n.Array == nil {
			continue
		}
		at, _ := design.Resolve(w.m.Light(), w.q.Variant, w.pathOf(n.ID))
		for _, open := range []bool{false, true} {
			q, err := newSolved(w.ctx, w.m)
			if err != nil {
				return nil, err
			}
			if q.broken(n.ID, open) == nil {
				why := fmt.Sprintf("one emitter of %s is shorted", n.Called())
				if open {
					why = fmt.Sprintf("one string of %s is open: a dead emitter, or a joint that let go", n.Called())
				}
				out = append(out, suspect{why, at, faultPrice, read(q)})
			}
		}
		for _, f := range []struct {
			figure, why string
			value       []float64
		}{
			{"/fault/seriesOhm", "a bad contact in the wires to %s: %s Ω", []float64{0.1, 0.3, 1, 3}},
			{"/array/joint/kPerW", "a dry or lifted joint under %s: %s K/W", w.dryJoints(n)},
		} {
			for _, v := range f.value {
				q, err := newSolved(w.ctx, w.m, chain.Variation{Pointer: at + f.figure, Op: chain.Set, Value: v})
				if err != nil {
					continue
				}
				out = append(out, suspect{fmt.Sprintf(f.why, n.Called(), units.Plain(v, 2)), at, faultPrice, read(q)})
			}
		}
	}
	for _, s := range out {
		if len(s.at) != len(w.placed) {
			return nil, fmt.Errorf("a suspect has %d readings, not %d", len(s.at), len(w.placed))
		}
	}
	return out, w.base.err
}

// A tired pack holds so much less, and its cells have so many times the resistance (chosen: where
// reclaimed cells are given up, by common practice, and well beyond a tolerance).
const (
	tiredShare = 0.6
	tiredTimes = 3
)

// A packFault is what may be wrong with a pack.
type packFault struct {
	why, pointer string
	changes      []chain.Variation
}

// packs are what may be wrong with the packs in use: a bad contact on the way to the light, cells
// that are worn out.
func (w *writer) packs() []packFault {
	var out []packFault
	for i := range w.v.Feeds {
		f := &w.v.Feeds[i]
		if len(f.Sources) == 0 || f.Sources[0].Pack == nil {
			continue
		}
		s := &f.Sources[0]
		contact := "/variants/" + w.v.ID + "/feeds/" + f.ID + "/sources/" + s.ID + "/pack/contactOhm"
		at, _ := design.Resolve(w.m.Light(), w.q.Variant, "/feeds/"+f.ID+"/sources/"+s.ID+"/pack/contactOhm")
		for _, ohm := range []float64{0.1, 0.2, 0.5, 1, 2} {
			out = append(out, packFault{fmt.Sprintf("a bad contact between %s and the light: %s Ω", s.Called(), units.Plain(ohm, 2)), at, []chain.Variation{{Pointer: contact, Op: chain.Add, Value: ohm}}})
		}
		cell := "/parts/" + s.Pack.PartID + "/cell/"
		out = append(out, packFault{fmt.Sprintf("cells of %s that are worn out: they hold %s less, at %s times the resistance", s.Called(), units.Plain(100*(1-tiredShare), 2)+" %", units.Plain(tiredTimes, 2)), strings.TrimSuffix(at, "/contactOhm"),
			[]chain.Variation{{Pointer: cell + "capacityAh", Op: chain.Scale, Value: tiredShare}, {Pointer: cell + "resistanceOhm", Op: chain.Scale, Value: tiredTimes}}})
	}
	return out
}

// instead says what a figure would have to be.
func (w *writer) instead(t *band.Tolerance, to chain.Variation) string {
	unit, taken := unitOf(w.m, t.Pointer), t.Change(0).Value
	if off := to.Value - taken; strings.HasSuffix(t.Pointer, "OffsetV") {
		return strings.TrimSpace(units.Plain(math.Abs(off), 3)+" "+unit) + map[bool]string{true: " less", false: " more"}[off < 0] + " than is taken"
	}
	return strings.TrimSpace(fmt.Sprintf("%s instead of %s %s", units.Plain(to.Value, 3), units.Plain(taken, 3), unit))
}

// dryJoints are resistances of a joint that has let go, K/W.
func (w *writer) dryJoints(n *design.Node) []float64 {
	if j := n.Array.Joint; j != nil {
		if r, ok := heat.JointKPerW(j); ok && r > 0 {
			return []float64{3 * r, 10 * r, 30 * r}
		}
	}
	return nil
}

// best is by how many of its spreads one tolerance alone explains the readings best, along its
// slope: least squares with one unknown.
func (w *writer) best(k int) float64 {
	up, down := 0.0, 0.0
	for i, r := range w.placed {
		if r.Reading.Actual == nil || r.Reading.Ask != nil {
			continue
		}
		j := w.slopes[k][i] / r.Reading.Within
		up += j * (*r.Reading.Actual - r.Reading.Expected) / r.Reading.Within
		down += j * j
	}
	if down == 0 {
		return 0
	}
	return max(-farTimes, min(farTimes, up/down))
}

// pathOf is the path of a node through ids, within the variant.
func (w *writer) pathOf(id string) string {
	for i := range w.v.Feeds {
		if design.FindNode(w.v.Feeds[i].Loads, id) != nil {
			return "/feeds/" + w.v.Feeds[i].ID + "/loads/" + id
		}
	}
	return ""
}

// leastGain is how much of what is not known a reading must take away to be asked for, as the
// logarithm of a band (chosen: a tenth).
const leastGain = 0.1

// next is the reading not taken yet that would narrow what is not known most: of a linear
// model with Gaussian errors ½·ln(1 + J·Σ·Jᵀ/σ²) nats (Lindley, On a measure of the information
// provided by an experiment, 1956, from memory).
func (w *writer) next(plan *ReadingPlan, tolerances []band.Tolerance) {
	known := w.posterior(tolerances)
	most := leastGain
	for i, r := range w.placed {
		if r.Reading.Actual != nil {
			continue
		}
		sigma := w.toolSigma(r)
		var along float64
		for k := range tolerances {
			for l := range tolerances {
				along += w.slopes[k][i] / 2 * known.At(k, l) * w.slopes[l][i] / 2
			}
		}
		if gain := 0.5 * math.Log1p(along/(sigma*sigma)); gain > most {
			most = gain
			plan.Next = &NextReading{r.Node, r.Step, fmt.Sprintf("It would narrow what is not known of this light most: %s", w.about(i, tolerances))}
		}
	}
}

// about is the tolerance that a row tells most of.
func (w *writer) about(i int, tolerances []band.Tolerance) string {
	at, most := "", 0.0
	for k := range tolerances {
		if s := math.Abs(w.slopes[k][i]); s > most {
			at, most = tolerances[k].Label, s
		}
	}
	return at
}

// toolSigma is a standard deviation of what the tool leaves open, and what any calculation does.
func (w *writer) toolSigma(r *BenchRow) float64 {
	t := reading.ByID(r.Reading.Tool)
	x := r.Reading.Expected
	within := math.Hypot(t.Within(x), w.leastModel(r))
	if d := r.Done; d != nil && d.To != nil && d.Reading != nil {
		within = math.Hypot(within, (*d.To-*d.Reading)/2)
	}
	return within / 2
}
