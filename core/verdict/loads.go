package verdict

import (
	"fmt"
	"strings"

	"photherm/core/design"
	"photherm/core/units"
)

// farBeyond is how far above its highest reading a load may stand before that is more
// than a note (common practice: a tenth).
const farBeyond = 1.1

// overVolts is at how many times the highest voltage it was read at a load is not to be run (chosen:
// nothing that was made for one voltage bears three times as much).
const overVolts = 3

// load judges a load known by its draw alone: whether it is run within its readings.
func (j *judge) load(id string, p place) {
	data, at := p.node.Load, p.pointer+"/load/points"
	if part := j.data(data.PartID).Load; part != nil {
		data, at = part, j.partPointer(p.node.Load.PartID)+"/load/points"
	}
	if len(data.Points) == 0 {
		return
	}
	if end := data.Points[len(data.Points)-1]; data.FluxLm != nil {
		j.lit(id, strings.TrimSuffix(at, "points")+"fluxLm", p.node.Called(), *data.FluxLm, end.VoltageV*end.CurrentA, nil)
	}
	v, _ := j.highest(id, "inV")
	if most := data.MaxV; most != nil && above(v, *most) {
		j.add(Finding{Code: "load-over-voltage", Severity: Stop, Stage: "emitters", Node: id, Pointer: j.feedingPointer(&p), Title: "Voltage too high for it",
			Why: fmt.Sprintf("%s gets %s and is said to bear %s.", p.node.Called(), units.Volts(v), units.Volts(*most)), Value: &v, Limit: most, Unit: "V"})
		return
	}
	if from := data.SteadyV; from != nil {
		if v > 0 && v < *from*(1-1e-6) {
			j.add(Finding{Code: "load-below-steady", Severity: Note, Stage: "emitters", Node: id, Pointer: strings.TrimSuffix(at, "points") + "steadyFromVoltageV", Title: "Below its constant light",
				Why: fmt.Sprintf("%s gets %s at most; its light is constant from %s. Below that it is taken as a resistance, which is a guess.", p.node.Called(), units.Volts(v), units.Volts(*from)), Value: &v, Limit: from, Unit: "V"})
		}
		return
	}
	last := data.Points[len(data.Points)-1].VoltageV
	if v <= last*(1+1e-6) {
		return
	}
	severity, title := Note, "Beyond what was read"
	switch {
	case v >= overVolts*last*(1-1e-6):
		severity, title = Stop, "Far beyond what it was read at"
	case v > farBeyond*last:
		severity = Caution
	}
	j.add(Finding{Code: "beyond-readings", Severity: severity, Stage: "emitters", Node: id, Pointer: at, Title: title,
		Why: fmt.Sprintf("%s gets %s; its readings end at %s. Beyond them it is taken %s, which is a guess, and nobody has seen it bear that.", p.node.Called(), units.Volts(v), units.Volts(last), beyond(data)), Value: &v, Limit: &last, Unit: "V"})
}

// beyond says how a measured load is taken to go on above its readings.
func beyond(l *design.MeasuredLoad) string {
	switch l.Beyond {
	case "power":
		return "to hold its last power"
	case "current":
		return "to hold its last current"
	case "ohmic":
		return "as a resistance"
	}
	return "to go on as between its last two"
}
