package verdict

import (
	"fmt"

	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/units"
)

func (j *judge) heat() {
	for i := range j.model.Variant().Bodies {
		b := &j.model.Variant().Bodies[i]
		at := fmt.Sprintf("%s/bodies/%d", j.at, i)
		if b.Shape != nil && b.KPerW != nil {
			j.add(Finding{Code: "body-twice", Severity: Note, Stage: "heat", Node: b.ID, Pointer: at + "/kPerW", Title: "Its K/W counts, not its measures",
				Why: fmt.Sprintf("%s has measures and a K/W to the air; what somebody measured as K/W goes before what follows from measures. Choose beside what it is known by.", b.Name)})
		}
		t, ok := j.highest(b.ID, "bodyC")
		if !ok {
			continue
		}
		j.cooling(i, b)
		hot := j.hottestOf(b, t)
		if m := plainMaterial(b); m != nil && hot.c > m.MaxC {
			j.add(Finding{Code: "body-limit", Severity: Stop, Stage: "heat", Node: b.ID, Pointer: at + "/shape/material", Title: "Body too hot for its material",
				Why: fmt.Sprintf("%s reaches %s%s; %s bears about %s for long, and what is stuck to it lets go.", hot.name, units.Degrees(hot.c), j.passes(hot.owner, hot.figure, m.MaxC), m.Word, units.Degrees(m.MaxC)), Value: &hot.c, Limit: &m.MaxC, Unit: "°C", Fix: j.lessCurrent(j.anyDriver(), hot.owner, hot.figure, m.MaxC)})
		}
		if b.MaxC != nil && hot.c > *b.MaxC {
			j.add(Finding{Code: "body-limit", Severity: Stop, Stage: "heat", Node: b.ID, Pointer: at + "/maxC", Title: "Body too hot for its material",
				Why: fmt.Sprintf("%s reaches %s%s; its material bears %s.", hot.name, units.Degrees(hot.c), j.passes(hot.owner, hot.figure, *b.MaxC), units.Degrees(*b.MaxC)), Value: &hot.c, Limit: b.MaxC, Unit: "°C", Fix: j.lessCurrent(j.anyDriver(), hot.owner, hot.figure, *b.MaxC)})
		}
		for k := range b.Joints {
			j.bodyJoint(b, &b.Joints[k], fmt.Sprintf("%s/joints/%d/joint/maxC", at, k))
		}
		limit := heat.TouchLimitC(&j.light.Brief, j.light.Conditions.Handheld, b)
		if !b.Touchable || t <= limit {
			continue
		}
		how := fmt.Sprintf("a hand that stays on it %s bears", heat.TouchedFor(j.light.Conditions.Handheld, b))
		f := Finding{Code: "touch", Severity: Caution, Stage: "heat", Node: b.ID, Pointer: at + cooledBy(b), Title: "Too hot to touch",
			Why: fmt.Sprintf("%s reaches %s%s; %s %s.", b.Name, units.Degrees(t), j.passes(b.ID, "bodyC", limit), how, units.Degrees(limit)), Value: &t, Limit: &limit, Unit: "°C",
			Fix: j.lessCurrent(j.anyDriver(), b.ID, "bodyC", limit)}
		if j.light.Conditions.Handheld {
			f.Title = "Too warm to hold on"
		}
		j.add(f)
	}
}

// A hotSpot is the hottest of a body: all of it alike, or its face under something.
type hotSpot struct {
	owner, figure, name string
	c                   float64
}

// hottestOf is the hottest of a body that is at meanC on the whole, where that is told.
func (j *judge) hottestOf(b *design.Body, meanC float64) hotSpot {
	out := hotSpot{b.ID, "bodyC", b.Name, meanC}
	for _, id := range j.order {
		n := j.nodes[id].node
		if n.BodyID != b.ID {
			continue
		}
		if t, ok := j.highest(id, "seatC"); ok && t > out.c {
			out = hotSpot{id, "seatC", b.Name + " under " + n.Called(), t}
		}
	}
	return out
}

// cooledBy is where it is said how a body gives its heat away.
func cooledBy(b *design.Body) string {
	if b.Shape != nil && b.KPerW == nil {
		return "/shape"
	}
	return "/kPerW"
}

// plainMaterial is what a body is made of where that is no metal and nobody said what it
// bears.
func plainMaterial(b *design.Body) *heat.Material {
	if b.Shape == nil || b.MaxC != nil {
		return nil
	}
	if m := heat.MaterialOf(b.Shape); !m.Metal {
		return m
	}
	return nil
}

// passes says when a figure comes to a temperature, if that can be told.
func (j *judge) passes(owner, figure string, limitC float64) string {
	c, ok := j.column[[2]string{owner, figure}]
	if !ok || !j.massesKnown() {
		return ""
	}
	for i, rec := range j.run.Records {
		if rec[c] <= limitC {
			continue
		}
		t := j.run.T[i]
		if i > 0 {
			was := j.run.Records[i-1][c]
			t = j.run.T[i-1] + (t-j.run.T[i-1])*(limitC-was)/(rec[c]-was)
		}
		return fmt.Sprintf(" and passes %s after %s", units.Degrees(limitC), units.Duration(t))
	}
	return ""
}

// massesKnown tells whether the light's warming in time rests on known masses.
func (j *judge) massesKnown() bool {
	for i := range j.model.Variant().Bodies {
		if _, ok := heat.CapacityJPerK(&j.model.Variant().Bodies[i]); !ok {
			return false
		}
	}
	return true
}

// bodyJoint judges the material of a joint between two bodies: it is as hot as the hotter.
func (j *judge) bodyJoint(b *design.Body, l *design.BodyLink, pointer string) {
	if l.Joint.MaxC == nil {
		return
	}
	hot, hottest := b.ID, b.Name
	t, _ := j.highest(b.ID, "bodyC")
	if other, ok := j.highest(l.BodyID, "bodyC"); ok && other > t {
		t, hot, hottest = other, l.BodyID, j.nameOf(l.BodyID)
	}
	if !above(t, *l.Joint.MaxC) {
		return
	}
	j.add(Finding{Code: "joint-limit", Severity: Stop, Stage: "heat", Node: b.ID, Pointer: pointer, Title: "Joint material too hot",
		Why: fmt.Sprintf("%s reaches %s%s; the joint between %s and %s bears %s and lets go.", hottest, units.Degrees(t), j.passes(hot, "bodyC", *l.Joint.MaxC), b.Name, j.nameOf(l.BodyID), units.Degrees(*l.Joint.MaxC)), Value: &t, Limit: l.Joint.MaxC, Unit: "°C",
		Fix: j.lessCurrent(j.anyDriver(), hot, "bodyC", *l.Joint.MaxC)})
}
