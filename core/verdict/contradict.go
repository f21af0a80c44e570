package verdict

import (
	"fmt"

	"photherm/core/source"
	"photherm/core/units"
)

// contradictions tells of facts that cannot both hold, each with the place where one of them stands.
// What a document may not hold at all is refused where it is decoded; what stands here can be typed,
// and is solved as it stands.
func (j *judge) contradictions() {
	air := j.light.Conditions.AmbientC
	for _, id := range j.order {
		p := j.nodes[id]
		if p.node.Driver == nil {
			continue
		}
		if s := p.node.Driver.StepDown; s != nil && s.AtC != nil && *s.AtC <= air {
			j.add(Finding{Code: "threshold-below-air", Severity: Caution, Stage: "driver", Node: id, Pointer: p.pointer + "/driver/stepDown/atC", Title: "Lowered by the air alone",
				Why: fmt.Sprintf("%s is lowered from %s on, and the air has %s: it never comes to its full current.", p.node.Called(), units.Degrees(*s.AtC), units.Degrees(air)), Value: s.AtC, Limit: &air, Unit: "°C"})
		}
		d := j.data(p.node.Driver.PartID).Driver
		if d != nil && p.node.Driver.Unearthed && d.Class != "" && d.Class != "I" {
			j.add(Finding{Code: "earth-contradicts", Severity: Note, Stage: "driver", Node: id, Pointer: p.pointer + "/driver/unearthed", Title: "No earth to be left open",
				Why: fmt.Sprintf("Its earth is said to be left open, and of class %s it has none.", d.Class)})
		}
	}
	if t := j.light.Brief.TouchC; t != nil && *t <= air {
		j.add(Finding{Code: "threshold-below-air", Severity: Note, Stage: "heat", Pointer: "/brief/touchC", Title: "Cooler than the air is wanted",
			Why: fmt.Sprintf("It shall be no warmer to touch than %s, and the air has %s: nothing that is lit stays below that.", units.Degrees(*t), units.Degrees(air)), Value: t, Limit: &air, Unit: "°C"})
	}
	v := j.model.Variant()
	for i := range v.Feeds {
		for k := range v.Feeds[i].Sources {
			s := &v.Feeds[i].Sources[k]
			if s.Pack == nil || j.data(s.Pack.PartID).Cell == nil {
				continue
			}
			cell := j.data(s.Pack.PartID).Cell
			_, high := source.Range(cell)
			at := j.packPointer(&v.Feeds[i], k)
			for _, a := range []struct {
				v       *float64
				fullV   float64
				pointer string
			}{{s.Pack.AlarmCellV, high, "/alarmCellV"}, {s.Pack.AlarmPackV, high * float64(max(s.Pack.Series, 1)), "/alarmPackV"}} {
				if a.v != nil && *a.v >= a.fullV {
					j.add(Finding{Code: "alarm-always", Severity: Caution, Stage: "source", Node: s.ID, Pointer: at + a.pointer, Title: "The alarm sounds when full",
						Why: fmt.Sprintf("It sounds below %s, and full it stands at %s.", units.Volts(*a.v), units.Volts(a.fullV)), Value: a.v, Limit: &a.fullV, Unit: "V"})
				}
			}
			limit, pointer := float64(source.HottestC), "/conditions/ambientC"
			if cell.MaxC != nil {
				limit, pointer = *cell.MaxC, j.partPointer(s.Pack.PartID)+"/cell/maxC"
			}
			if limit <= air {
				j.add(Finding{Code: "threshold-below-air", Severity: Stop, Stage: "source", Node: s.ID, Pointer: pointer, Title: "The air is too warm for the cells",
					Why: fmt.Sprintf("They bear %s, and the air has %s before anything is switched on.", units.Degrees(limit), units.Degrees(air)), Value: &air, Limit: &limit, Unit: "°C"})
			}
		}
	}
}
