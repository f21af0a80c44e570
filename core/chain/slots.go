package chain

import (
	"fmt"
	"math"
	"slices"
)

// An Op is how a Variation changes a value.
type Op int

// The ways to change a value.
const (
	Set Op = iota
	Scale
	Add
)

// A Variation changes one figure of a compiled model, addressed by its JSON
// Pointer in the document. Bands, faults, calibration, search and dragging are
// variations; the document is not touched and nothing is compiled again.
//
// Beside the document's own figures some places exist only as slots, neutral
// unless varied: …/emitter/vfOffsetV, …/emitter/fluxScale,
// …/array/vfOffsetV, …/cell/openCircuitOffsetV, …/load/scale, …/auxiliary/scale, …/fault/seriesOhm
// and …/fault/state (0 ok, 1 short, 2 open) of every node.
type Variation struct {
	Pointer string  `json:"pointer" doc:"JSON Pointer of the figure"`
	Op      Op      `json:"op" doc:"0 set, 1 scale, 2 add"`
	Value   float64 `json:"value" doc:"In the unit of the figure"`
}

type slot func(*Solver) *float64

func (m *Model) slot(pointer string, s slot) {
	m.slots[pointer] = append(m.slots[pointer], s)
}

// Slots lists the pointers that can be varied, sorted.
func (m *Model) Slots() []string {
	out := make([]string, 0, len(m.slots))
	for p := range m.slots {
		out = append(out, p)
	}
	slices.Sort(out)
	return out
}

// Vary applies variations to the solver. An unknown pointer or a value that is
// not a finite number is an error; nothing is changed then.
func (s *Solver) Vary(changes ...Variation) error {
	for _, v := range changes {
		if s.m.slots[v.Pointer] == nil {
			return fmt.Errorf("varying the light: no figure at %q", v.Pointer)
		}
		if math.IsNaN(v.Value) || math.IsInf(v.Value, 0) {
			return fmt.Errorf("varying the light: %q cannot be %v", v.Pointer, v.Value)
		}
	}
	for _, v := range changes {
		for _, address := range s.m.slots[v.Pointer] {
			p := address(s)
			switch v.Op {
			case Set:
				*p = v.Value
			case Scale:
				*p *= v.Value
			case Add:
				*p += v.Value
			}
		}
	}
	s.prepare()
	return nil
}
