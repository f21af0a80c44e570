package setup

import (
	"errors"
	"fmt"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/source"
)

// LinePoint is a driver's output at one voltage of its source.
type LinePoint struct {
	Name    string  `json:"name" enum:"lowest,nominal,highest,tried"`
	SourceV float64 `json:"sourceV" doc:"Of the source without load, V"`
	InV     float64 `json:"inV" doc:"At the driver's input, behind all that stands before it, V"`
	OutV    float64 `json:"outV"`
	OutA    float64 `json:"outA"`
	LossW   float64 `json:"lossW"`
	Mode    string  `json:"mode"`
}

// line asks the driver's output over the range of its own source, undimmed, with changes:
// cells from drained to full, an adapter or the mains over what they may stand off, a
// bench supply where it is set.
func (b *bench) line(changes ...chain.Variation) []LinePoint {
	if len(b.feed.Sources) == 0 {
		return []LinePoint{}
	}
	type condition struct {
		name    string
		charge  float64
		changes []chain.Variation
	}
	var conditions []condition
	if from := &b.feed.Sources[0]; from.Pack != nil {
		conditions = []condition{{"lowest", drainedCharge, nil}, {"nominal", 0.5, nil}, {"highest", 1, nil}}
	} else {
		kind := "/supply/voltageV"
		if from.Mains != nil {
			kind = "/mains/voltageV"
		}
		at := func(name string, share float64) condition {
			return condition{name, 1, []chain.Variation{{Pointer: b.feedPointer() + "/sources/0" + kind, Op: chain.Scale, Value: share}}}
		}
		if spread := source.Spread(from); spread > 0 {
			conditions = []condition{at("lowest", 1-spread), at("nominal", 1), at("highest", 1+spread)}
		} else {
			conditions = []condition{{name: "nominal", charge: 1}}
		}
	}
	out := []LinePoint{}
	for _, c := range conditions {
		s := b.undimmed()
		if s.Vary(append(c.changes, changes...)...) != nil {
			return []LinePoint{}
		}
		p, ok := b.linePoint(s, c.name, c.charge)
		if !ok {
			return []LinePoint{}
		}
		out = append(out, p)
	}
	return out
}

func (b *bench) linePoint(s *chain.Solver, name string, charge float64) (LinePoint, bool) {
	p, ok, err := s.ProbeAt(b.ctx, b.node.ID, charge, b.light.Conditions.AmbientC)
	if b.stop(err); !ok || err != nil {
		return LinePoint{}, false
	}
	record := make([]float64, len(b.model.Columns()))
	s.OperatingPoint(charge, b.light.Conditions.AmbientC, record)
	return LinePoint{name, column(b.model, record, b.feed.ID, "openV"), p.InV, p.OutV, p.OutA, p.LossW, p.Mode.String()}, true
}

// triedPoints is how many voltages of a range are tried.
const triedPoints = 7

// tried asks the driver's output over any range of source voltage, from a stiff supply in
// the place of its source.
func (b *bench) tried() ([]LinePoint, error) {
	if b.q.LowV == 0 && b.q.HighV == 0 {
		return []LinePoint{}, nil
	}
	if !(b.q.LowV > 0 && b.q.HighV >= b.q.LowV && b.q.HighV <= mostTriedV) {
		return nil, fmt.Errorf("%w begins above 0 V and ends at %v V at most, the higher one last", ErrRange, mostTriedV)
	}
	light, err := design.Clone(b.light)
	if err != nil {
		return nil, err
	}
	for i := range light.Variants[b.q.Variant].Feeds {
		if f := &light.Variants[b.q.Variant].Feeds[i]; f.ID == b.feed.ID {
			f.Sources = []design.Source{{ID: " tried", Supply: &design.Supply{VoltageV: b.q.LowV}}}
		}
	}
	other := *b
	other.light = light
	if other.model, err = chain.Compile(light, chain.Options{Variant: b.q.Variant}); err != nil {
		return nil, err
	}
	out := []LinePoint{}
	for i := range triedPoints {
		v := b.q.LowV + (b.q.HighV-b.q.LowV)*float64(i)/(triedPoints-1)
		s := other.undimmed()
		if err := s.Vary(chain.Variation{Pointer: b.feedPointer() + "/sources/0/supply/voltageV", Op: chain.Set, Value: v}); err != nil {
			return nil, err
		}
		p, ok := other.linePoint(s, "tried", 1)
		if !ok {
			return nil, errors.Join(errors.New("the range cannot be tried"), other.failed)
		}
		out = append(out, p)
	}
	return out, nil
}

// ErrRange is of a range of source voltage that cannot be tried.
var ErrRange = errors.New("a range to try")

// mostTriedV is the highest voltage that may be tried, V: that of a supply in a light.
const mostTriedV = 1000
