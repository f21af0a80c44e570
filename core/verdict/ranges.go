package verdict

import (
	"fmt"

	"photherm/core/heat"
	"photherm/core/source"
	"photherm/core/units"
)

// ranges tells of laws that are left: what is computed beyond their range is held, or drawn on.
func (j *judge) ranges() {
	c := j.light.Conditions.AmbientC
	if c < heat.AirFromC || c > heat.AirToC {
		for i := range j.model.Variant().Bodies {
			if b := &j.model.Variant().Bodies[i]; b.Shape != nil && b.KPerW == nil {
				limit := float64(heat.AirFromC)
				j.beyond(b.ID, "heat", "/conditions/ambientC", "the air's", c, limit, fmt.Sprintf("What the air carries away is known from %s on; below, it is taken as there.", units.Degrees(limit)))
				break
			}
		}
	}
	v := j.model.Variant()
	for i := range v.Feeds {
		f := &v.Feeds[i]
		if len(f.Sources) == 0 || f.Sources[0].Pack == nil || j.data(f.Sources[0].Pack.PartID).Cell == nil {
			continue
		}
		s := &f.Sources[0]
		coldest := c
		if at := j.light.Conditions.StartC; at != nil {
			coldest = min(coldest, *at)
		}
		hottest, ok := j.highest(s.Pack.BodyID, "bodyC")
		if !ok {
			hottest = c
		}
		switch {
		case coldest < source.ColdestC:
			j.beyond(s.ID, "source", "/conditions/ambientC", "the cells'", coldest, source.ColdestC, fmt.Sprintf("How cells sag and what they give is known down to %s; below, they are taken as there, and most freeze or stop somewhere below.", units.Degrees(source.ColdestC)))
		case hottest > source.HottestC:
			j.beyond(s.ID, "source", j.pointerTo(s.ID)+"/pack/bodyId", "the cells'", hottest, source.HottestC, fmt.Sprintf("How cells sag is known up to %s; above, they are taken as there.", units.Degrees(source.HottestC)))
		}
	}
}

func (j *judge) beyond(node, stage, pointer, whose string, value, limit float64, why string) {
	j.add(Finding{Code: "outside-range", Severity: Note, Stage: stage, Node: node, Pointer: pointer, Title: fmt.Sprintf("Outside %s range", whose),
		Why: fmt.Sprintf("It comes to %s. %s", units.Degrees(value), why), Value: &value, Limit: &limit, Unit: "°C"})
}
