package verdict

import (
	"fmt"

	"photherm/core/design"
	"photherm/core/units"
)

// farBeyond is how far above its highest reading a load may stand before that is more
// than a note (common practice: a tenth).
const farBeyond = 1.1

// load judges a load known by its draw alone: whether it is run within its readings.
func (j *judge) load(id string, p place) {
	data, at := p.node.Load, p.pointer+"/load/points"
	if part := j.data(data.PartID).Load; part != nil {
		data, at = part, j.partPointer(p.node.Load.PartID)+"/load/points"
	}
	if len(data.Points) == 0 {
		return
	}
	v, _ := j.highest(id, "inV")
	last := data.Points[len(data.Points)-1].VoltageV
	if v <= last*(1+1e-6) {
		return
	}
	severity := Note
	if v > farBeyond*last {
		severity = Caution
	}
	j.add(Finding{Code: "beyond-readings", Severity: severity, Stage: "emitters", Node: id, Pointer: at, Title: "Beyond what was read",
		Why: fmt.Sprintf("%s gets %s; its readings end at %s. Beyond them it is taken to hold its last %s, which is a guess, and nobody has seen it bear that.", p.node.Called(), units.Volts(v), units.Volts(last), beyond(data)), Value: &v, Limit: &last, Unit: "V"})
}

// beyond says what a measured load is taken to hold above its readings.
func beyond(l *design.MeasuredLoad) string {
	if l.ConstantPower {
		return "power"
	}
	return "current"
}
