package bench

import (
	"fmt"
	"math"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/setup"
)

// Later is what is really there s seconds after switch-on with full packs, however late; not ok:
// nothing is, as after the end of a pack.
func (t *Truth) Later(p Probe, s float64) (x float64, ok bool) {
	if p.Figure == sagV {
		open, under := p, p
		open.Figure, under.Figure = "openV", "busV"
		v, known := t.Later(open, s)
		x, ok = t.Later(under, s)
		return v - x, ok && known
	}
	c := column(t.q.m, p.Owner, p.Figure)
	if c < 0 || !(s >= 0) {
		return 0, false
	}
	if t.course == nil {
		run, err := t.q.s.Run(t.q.ctx)
		if err != nil {
			return 0, false
		}
		t.course = run
	}
	end := t.course.T[len(t.course.T)-1]
	if s > end && t.course.End.Kind != "settled" {
		return 0, false
	}
	x = t.course.At(min(s, end))[c]
	if p.Over {
		x /= t.course.At(0)[c]
	}
	if p.Times != 0 {
		x *= p.Times
	}
	return x, !math.IsNaN(x) && !math.IsInf(x, 0)
}

// Metered is At with an ammeter in the wire that is read: its resistance is in the circuit. Where
// that wire is not one of the document's it is as At.
func (t *Truth) Metered(p Probe) (x float64, ok bool) {
	at := p.point()
	at.metered = true
	return t.q.figure(at)
}

// inWire puts an ammeter where a current is read: in the wire of a pack, or in those of what a
// node feeds.
func inWire(m *chain.Model, owner, figure string) []chain.Variation {
	v := m.Variant()
	at := "/variants/" + v.ID
	for i := range v.Feeds {
		f := &v.Feeds[i]
		here := at + "/feeds/" + f.ID
		switch {
		case f.ID != owner || figure != "busA":
		case len(f.Loads) == 1:
			return []chain.Variation{{Pointer: here + "/loads/" + f.Loads[0].ID + "/fault/seriesOhm", Op: chain.Add, Value: setup.MeterOhm}}
		case len(f.Sources) > 0 && f.Sources[0].Pack != nil:
			return []chain.Variation{{Pointer: here + "/sources/" + f.Sources[0].ID + "/pack/contactOhm", Op: chain.Add, Value: setup.MeterOhm}}
		}
		if figure != "peakA" && figure != "outA" {
			continue
		}
		for n := range design.NodesOf(f.Loads) {
			if n.ID != owner || len(n.Loads) != 1 {
				continue
			}
			return []chain.Variation{{Pointer: here + "/loads/" + n.ID + "/loads/" + n.Loads[0].ID + "/fault/seriesOhm", Op: chain.Add, Value: setup.MeterOhm}}
		}
	}
	return nil
}

// Under is the same light with an electronic load on its pack that draws a constant current, A,
// instead of what the pack feeds: the hidden cells, and faults of theirs, are the same. The error
// says why there can be none.
func (t *Truth) Under(currentA float64) (*Truth, error) {
	light, err := loaded(t.light, t.variant, currentA)
	if err != nil {
		return nil, err
	}
	var faults []string
	for _, f := range t.faults {
		if f == FaultWeakCell || f == FaultContact {
			faults = append(faults, f)
		}
	}
	return NewTruth(t.q.ctx, light, t.variant, t.seed, faults)
}

// LoadID is the node of an electronic load on a pack.
const LoadID = "electronic-load"

// mostLoadA is what an electronic load of the bench draws at most, A (common practice).
const mostLoadA = 30

func loaded(light *design.Light, variant int, currentA float64) (*design.Light, error) {
	if !(currentA > 0 && currentA <= mostLoadA) {
		return nil, fmt.Errorf("an electronic load draws more than nothing and up to %d A, not %g A", mostLoadA, currentA)
	}
	out, err := design.Clone(light)
	if err != nil {
		return nil, err
	}
	v := &out.Variants[variant]
	for i := range v.Feeds {
		f := &v.Feeds[i]
		if len(f.Sources) == 0 || f.Sources[0].Pack == nil {
			continue
		}
		f.Loads = []design.Node{{ID: LoadID, Name: "Electronic load", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 0.1, CurrentA: currentA}, {VoltageV: 1000, CurrentA: currentA}}}}}
		return out, nil
	}
	return nil, fmt.Errorf("%w: this light has no pack for an electronic load", errUnknown)
}

// PackTerminals is where the pack is read that an electronic load draws from.
func (t *Truth) PackTerminals() Probe {
	v := t.q.m.Variant()
	for i := range v.Feeds {
		if f := &v.Feeds[i]; len(f.Loads) == 1 && f.Loads[0].ID == LoadID {
			return Probe{Owner: f.ID, Figure: "busV"}
		}
	}
	return Probe{}
}
