package verdict

import (
	"fmt"
	"slices"
)

// stringFaults tells of emitters that were put out of order on purpose: which, what comes
// of it, and the way to take it out.
func (j *judge) stringFaults(id string, p place) {
	a := p.node.Array
	for i, s := range a.Unequal {
		if !s.Open && s.Shorted == 0 {
			continue
		}
		which := "an emitter or a joint"
		if s.At > 0 {
			which = fmt.Sprintf("emitter %d, counted from plus,", s.At)
		}
		where := p.node.Called()
		if all := a.Parallel * max(a.Count, 1); all > 1 {
			where = fmt.Sprintf("%d of %d strings of %s", s.Strings, all, p.node.Called())
		}
		f := Finding{Code: "fault-put-in", Severity: Note, Stage: "emitters", Node: id, Pointer: fmt.Sprintf("%s/array/unequal/%d", p.pointer, i), Title: "A fault was put in",
			Fix: &Fix{Label: "Take it out", Patch: []Patch{{"add", p.pointer + "/array/unequal", slices.Delete(slices.Clone(a.Unequal), i, i+1)}}}}
		switch {
		case s.Open:
			f.Why = fmt.Sprintf("In %s %s is open: dark, and its current goes to what is left.", where, which)
		case s.Shorted == 1:
			f.Why = fmt.Sprintf("In %s %s conducts like a wire: its string stands a forward voltage lower.", where, map[bool]string{true: which, false: "an emitter"}[s.At > 0])
		default:
			f.Why = fmt.Sprintf("In %s %d emitters conduct like a wire: their string stands as many forward voltages lower.", where, s.Shorted)
		}
		j.add(f)
	}
}
