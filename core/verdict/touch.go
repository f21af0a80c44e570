package verdict

import (
	"fmt"

	"photherm/core/units"
)

func (j *judge) heat() {
	for i := range j.model.Variant().Bodies {
		b := &j.model.Variant().Bodies[i]
		t, ok := j.highest(b.ID, "bodyC")
		if !ok {
			continue
		}
		at := fmt.Sprintf("%s/bodies/%d", j.at, i)
		if b.MaxC != nil && t > *b.MaxC {
			j.add(Finding{Code: "body-limit", Severity: Stop, Stage: "heat", Node: b.ID, Pointer: at + "/maxC", Title: "Body too hot for its material",
				Why: fmt.Sprintf("%s reaches %s; its material bears %s.", b.Name, units.Degrees(t), units.Degrees(*b.MaxC)), Value: &t, Limit: b.MaxC, Unit: "°C", Fix: j.lessCurrent(j.anyDriver(), b.ID, "bodyC", *b.MaxC)})
		}
		limit := j.answers.TouchLimitC
		if !b.Touchable || t <= limit {
			continue
		}
		how := "a hand that only touches it bears"
		if j.light.Conditions.Handheld {
			how = "a hand that holds it bears"
		}
		f := Finding{Code: "touch", Severity: Caution, Stage: "heat", Node: b.ID, Pointer: at + "/kPerW", Title: "Too hot to touch",
			Why: fmt.Sprintf("%s reaches %s after %s; %s %s.", b.Name, units.Degrees(t), units.Duration(j.answers.TouchAtS), how, units.Degrees(limit)), Value: &t, Limit: &limit, Unit: "°C",
			Fix: j.lessCurrent(j.anyDriver(), b.ID, "bodyC", limit)}
		if j.light.Conditions.Handheld {
			f.Title = "Too warm to hold on"
		}
		j.add(f)
	}
}
