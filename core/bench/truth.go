package bench

import (
	"context"
	"fmt"
	"hash/fnv"
	"math/rand/v2"
	"strings"

	"photherm/core/band"
	"photherm/core/chain"
	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/heat"
)

// A Probe is where, and when, something is read of a light.
type Probe struct {
	Owner  string  `json:"owner" maxLength:"64" doc:"Id of the node, feed or body"`
	Figure string  `json:"figure" maxLength:"32" doc:"Its figure, as the chain names it"`
	When   string  `json:"when" enum:"cold,after,rest,live" doc:"At once after switch-on, so long after it, when nothing moves any more, or as time goes by for leads that stay there"`
	Charge float64 `json:"charge" minimum:"0" maximum:"1" doc:"Of packs, of 1, cold"`
	S      float64 `json:"s" minimum:"0" maximum:"86400" doc:"Seconds after switch-on"`
	Over   bool    `json:"over" doc:"Whether it is told over what it was at once after switch-on"`
	Times  float64 `json:"times,omitempty" minimum:"0" maximum:"1e9" doc:"How many times the figure is read: light that falls where a meter is held is so many times the light that leaves; absent: once"`
}

// WhenLive is when leads are read that stay where they are: whoever reads them knows the time.
const WhenLive = "live"

func (p Probe) point() point {
	out := point{owner: p.Owner, figure: p.Figure, at: moment{kind: p.When, charge: p.Charge, s: p.S}, times: p.Times}
	if p.Over {
		first := cold
		out.over = &first
	}
	return out
}

func (p *point) probe() *Probe {
	return &Probe{p.owner, p.figure, p.at.kind, p.at.charge, p.at.s, p.over != nil, p.times}
}

// Faults that a light may have without its document knowing.
const (
	FaultOpenEmitter    = "open-emitter"
	FaultShortedEmitter = "shorted-emitter"
	FaultPot            = "pot"
	FaultDryJoint       = "dry-joint"
	FaultWeakCell       = "weak-cell"
	FaultContact        = "contact"
)

// Faults lists them all, in the order of the current.
func Faults() []string {
	return []string{FaultWeakCell, FaultContact, FaultPot, FaultOpenEmitter, FaultShortedEmitter, FaultDryJoint}
}

// How wrong a fault is (chosen: enough to be found with a plain meter).
const (
	potShare     = 0.78
	dryTimes     = 12
	weakShare    = 0.6
	weakTimes    = 3
	contactOhm   = 0.4
	hiddenSpread = 0.6 // of its tolerance that a figure is off, as two standard deviations
)

// A Truth is a light as it really is: its figures off within their tolerances, and faults that
// nobody knows of. Practice reads it, one reading at a time.
type Truth struct {
	q      *solved
	course *chain.Run // from full packs to the end; nil: not asked yet

	light   *design.Light
	variant int
	seed    uint64
	faults  []string
}

// NewTruth draws one; the same seed draws the same. The error names a fault that this light cannot
// have.
func NewTruth(ctx context.Context, light *design.Light, variant int, seed uint64, faults []string) (out *Truth, err error) {
	defer circuit.Caught(&err)
	m, err := model(light, variant, true)
	if err != nil {
		return nil, err
	}
	q, err := newSolved(ctx, m)
	if err != nil {
		return nil, err
	}
	for _, t := range band.Tolerances(m) {
		if strings.Contains(t.Pointer, "/loads/"+LoadID+"/") {
			continue // it regulates
		}
		// A stream of its own for each figure: the same cells are hidden under whatever loads them.
		h := fnv.New64a()
		_, _ = h.Write([]byte(t.Pointer)) // a hash takes everything
		z := max(-2, min(2, rand.New(rand.NewPCG(seed, h.Sum64())).NormFloat64()))
		_ = q.vary(t.Change(hiddenSpread * t.Spread * z / 2)) // one at the end of its range stays
	}
	for _, last := range []bool{false, true} { // a faulty emitter is gone when anything is varied
		for _, f := range faults {
			if (f == FaultOpenEmitter || f == FaultShortedEmitter) != last {
				continue
			}
			if err := hide(q, m.Variant(), f); err != nil {
				return nil, fmt.Errorf("hiding a fault: %w", err)
			}
		}
	}
	return &Truth{q: q, light: light, variant: variant, seed: seed, faults: faults}, nil
}

// hide puts a fault in.
func hide(q *solved, v *design.Variant, fault string) error {
	at := "/variants/" + v.ID
	var changes []chain.Variation
	for i := range v.Feeds {
		f := &v.Feeds[i]
		if len(f.Sources) > 0 && f.Sources[0].Pack != nil {
			source := at + "/feeds/" + f.ID + "/sources/" + f.Sources[0].ID + "/pack/contactOhm"
			cell := "/parts/" + f.Sources[0].Pack.PartID + "/cell"
			switch fault {
			case FaultContact:
				changes = append(changes, chain.Variation{Pointer: source, Op: chain.Add, Value: contactOhm})
			case FaultWeakCell:
				changes = append(changes, chain.Variation{Pointer: cell + "/capacityAh", Op: chain.Scale, Value: weakShare}, chain.Variation{Pointer: cell + "/resistanceOhm", Op: chain.Scale, Value: weakTimes})
			}
		}
		for n := range design.NodesOf(f.Loads) {
			here := at + "/feeds/" + f.ID + "/loads/" + n.ID
			switch {
			case fault == FaultPot && n.Driver != nil && n.Driver.SetCurrentA != nil && len(changes) == 0:
				changes = append(changes, chain.Variation{Pointer: here + "/driver/setCurrentA", Op: chain.Scale, Value: potShare})
			case fault == FaultDryJoint && n.Array != nil && n.Array.Joint != nil && len(changes) == 0:
				if k, ok := heat.JointKPerW(n.Array.Joint); ok && k > 0 {
					changes = append(changes, chain.Variation{Pointer: here + "/array/joint/kPerW", Op: chain.Set, Value: dryTimes * k})
				}
			case (fault == FaultOpenEmitter || fault == FaultShortedEmitter) && n.Array != nil:
				return q.broken(n.ID, fault == FaultOpenEmitter)
			}
		}
	}
	if len(changes) == 0 {
		return fmt.Errorf("this light cannot have the fault %q", fault)
	}
	return q.vary(changes...)
}

// At is what is really there, SI (°C; a share where it is told over another); not ok: nothing is,
// as where the light has gone out.
func (t *Truth) At(p Probe) (x float64, ok bool) { return t.q.figure(p.point()) }
