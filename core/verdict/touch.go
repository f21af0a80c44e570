package verdict

import (
	"fmt"

	"photherm/core/chain"
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
		if f := j.fanStops(i, b); f != nil {
			j.add(*f)
		}
		if m := plainMaterial(b); m != nil && t > m.MaxC {
			j.add(Finding{Code: "body-limit", Severity: Stop, Stage: "heat", Node: b.ID, Pointer: at + "/shape/material", Title: "Body too hot for its material",
				Why: fmt.Sprintf("%s reaches %s; %s bears about %s for long, and what is stuck to it lets go.", b.Name, units.Degrees(t), m.Word, units.Degrees(m.MaxC)), Value: &t, Limit: &m.MaxC, Unit: "°C", Fix: j.lessCurrent(j.anyDriver(), b.ID, "bodyC", m.MaxC)})
		}
		if b.MaxC != nil && t > *b.MaxC {
			j.add(Finding{Code: "body-limit", Severity: Stop, Stage: "heat", Node: b.ID, Pointer: at + "/maxC", Title: "Body too hot for its material",
				Why: fmt.Sprintf("%s reaches %s; its material bears %s.", b.Name, units.Degrees(t), units.Degrees(*b.MaxC)), Value: &t, Limit: b.MaxC, Unit: "°C", Fix: j.lessCurrent(j.anyDriver(), b.ID, "bodyC", *b.MaxC)})
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
			Why: fmt.Sprintf("%s reaches %s%s; %s %s.", b.Name, units.Degrees(t), j.passes(b, limit), how, units.Degrees(limit)), Value: &t, Limit: &limit, Unit: "°C",
			Fix: j.lessCurrent(j.anyDriver(), b.ID, "bodyC", limit)}
		if j.light.Conditions.Handheld {
			f.Title = "Too warm to hold on"
		}
		j.add(f)
	}
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

// fanStops tells of a body whose fan keeps it below a limit that it passes without: fans stop.
func (j *judge) fanStops(i int, b *design.Body) *Finding {
	if b.Shape == nil || b.KPerW != nil || b.Shape.Fan == nil || b.Shape.Fan.Stopped || j.trial {
		return nil
	}
	still, err := design.Clone(j.light)
	if err != nil {
		j.stop(err)
		return nil
	}
	still.Variants[j.model.Options().Variant].Bodies[i].Shape.Fan.Stopped = true
	model, err := chain.Compile(still, j.model.Options())
	if err != nil {
		j.stop(err)
		return nil
	}
	st, err := model.Solver().Steady(j.ctx)
	if j.stop(err); err != nil {
		return nil
	}
	f := &Finding{Code: "fan-stops", Severity: Note, Stage: "heat", Node: b.ID, Pointer: fmt.Sprintf("%s/bodies/%d/shape/fan/stopped", j.at, i), Title: "Should its fan stop"}
	if !st.Converged {
		f.Severity, f.Why = Caution, fmt.Sprintf("Without its fan %s never comes to rest: %s. A thermostat on it, or a driver that is lowered by heat, keeps it.", b.Name, st.Reason)
		return f
	}
	was := newJudge(model)
	c, ok := was.column[[2]string{b.ID, "bodyC"}]
	if !ok {
		return nil
	}
	t := st.Record[c]
	f.Value, f.Unit = &t, "°C"
	f.Why = fmt.Sprintf("Without its fan %s comes to %s.", b.Name, units.Degrees(t))
	return f
}

// passes says when a body comes to a temperature, if that can be told.
func (j *judge) passes(b *design.Body, limitC float64) string {
	if !j.massesKnown() {
		return ""
	}
	c := j.column[[2]string{b.ID, "bodyC"}]
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
		Why: fmt.Sprintf("%s reaches %s; the joint between %s and %s bears %s and lets go.", hottest, units.Degrees(t), b.Name, j.nameOf(l.BodyID), units.Degrees(*l.Joint.MaxC)), Value: &t, Limit: l.Joint.MaxC, Unit: "°C",
		Fix: j.lessCurrent(j.anyDriver(), hot, "bodyC", *l.Joint.MaxC)})
}
