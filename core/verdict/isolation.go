package verdict

import (
	"fmt"

	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/heat"
)

// acceptsMains tells that the mains is among the sources a feed must accept: limits are judged over
// all of them.
func acceptsMains(f *design.Feed) bool {
	for i := range f.Sources {
		if f.Sources[i].Mains != nil {
			return true
		}
	}
	return false
}

// wet tells that water is near.
func (j *judge) wet() bool {
	return j.light.Conditions.NearWater || j.light.Brief.Wet == "under-water"
}

// touchableMetal tells of metal that a hand can touch; a body of which nothing is known is taken as
// metal.
func (j *judge) touchableMetal() bool {
	for i := range j.model.Variant().Bodies {
		b := &j.model.Variant().Bodies[i]
		if !b.Touchable {
			continue
		}
		if s := j.light.ShapeOf(b); s == nil || heat.MaterialOf(s).Metal {
			return true
		}
	}
	return false
}

// onMains judges what stands first on the wall socket: whether its output is isolated, and its earth.
// It goes by two properties, whatever the family: whether it converts at all (one that only drops its
// input cannot isolate), and what is said of its isolation. Known bad is worse than unknown.
func (j *judge) onMains(id string, p place, d *design.Driver) {
	wet, touch := j.wet(), j.touchableMetal()
	at := j.partPointer(p.node.Driver.PartID) + "/driver"
	near := "there is metal to touch"
	if wet {
		near = "water is near"
	}
	name := j.data(p.node.Driver.PartID).Name
	switch {
	case !driver.Converts(d):
		why := "It only drops the mains: whatever hangs on it is live to the touch. Parts taken from old appliances hold a charge long after they are unplugged, and those from the high-voltage side of a microwave oven kill: use an isolated supply."
		if d.Isolated != nil && *d.Isolated {
			j.add(Finding{Code: "isolation-contradicts", Severity: Stop, Stage: "driver", Node: id, Pointer: at + "/isolated", Title: "Isolated and live at once",
				Why: fmt.Sprintf("%s is said to be isolated, and it only drops its input: nothing of its kind isolates. One of the two is wrong; take it as live.", name)})
		}
		j.add(Finding{Code: "mains-dropped", Severity: Stop, Stage: "driver", Node: id, Pointer: p.pointer + "/driver/partId", Title: "Everything behind it is live", Why: why})
		return
	case d.Class == "III":
		j.add(Finding{Code: "isolation-contradicts", Severity: Stop, Stage: "driver", Node: id, Pointer: at + "/class", Title: "Class III on the mains",
			Why: fmt.Sprintf("%s is of class III, made for safety extra-low voltage, and it is fed by the mains: one of the two is wrong.", name)})
	}
	switch {
	case d.Isolated != nil && *d.Isolated:
	case d.Isolated != nil && (wet || touch) && j.liveBelow(p.node.Loads):
		j.add(Finding{Code: "not-isolated", Severity: Stop, Stage: "driver", Node: id, Pointer: p.pointer + "/driver/partId", Title: "Not isolated from the mains",
			Why: fmt.Sprintf("The output of %s is live, and %s: use an isolated one.", name, near)})
	case d.Isolated != nil:
		j.add(Finding{Code: "live-output", Severity: Caution, Stage: "driver", Node: id, Pointer: p.pointer + "/driver/partId", Title: "Its output is live",
			Why: fmt.Sprintf("%s is not isolated: its output and all that hangs on it are live. Enclose them so that no hand and no water comes to them, and work on them unplugged only.", name)})
	case wet || touch:
		j.add(Finding{Code: "isolation-unknown", Severity: Caution, Stage: "driver", Node: id, Pointer: at + "/isolated", Title: "Is it isolated from the mains?",
			Why: fmt.Sprintf("Nobody said whether the output of %s is isolated, and %s: look for SELV or the sign of a safety transformer on it before anything is built.", name, near)})
	}
	if touch && d.Class == "" {
		j.add(Finding{Code: "earth-asked", Severity: Note, Stage: "driver", Node: id, Pointer: at + "/class", Title: "Does it need an earth?",
			Why: "Its protection class is not known. Of class I it must be earthed, and the metal with it; of class II, two squares in one another, it needs none."})
	}
}

// liveBelow tells that something a hand or water may come to hangs below with no isolation before it:
// emitters, strip, a load; where nothing hangs there yet, the output itself.
func (j *judge) liveBelow(loads []design.Node) bool {
	if len(loads) == 0 {
		return true
	}
	for i := range loads {
		n := &loads[i]
		if n.Driver != nil {
			if d := j.data(n.Driver.PartID).Driver; d != nil && d.Isolated != nil && *d.Isolated && driver.Converts(d) {
				continue
			}
			if j.liveBelow(n.Loads) {
				return true
			}
			continue
		}
		if n.Switch == nil && n.Dimmer == nil || len(n.Loads) > 0 && j.liveBelow(n.Loads) {
			return true
		}
	}
	return false
}
