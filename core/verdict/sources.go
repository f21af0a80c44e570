package verdict

import (
	"fmt"
	"math"

	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/source"
	"photherm/core/units"
)

// HazardousV is where direct voltage becomes dangerous to touch: 60 V, the limit
// of safety extra-low voltage without ripple (IEC 61140, from memory).
const HazardousV = 60

func (j *judge) sources() {
	v := j.model.Variant()
	for i := range v.Feeds {
		f := &v.Feeds[i]
		for k := range f.Sources {
			j.cells(f, &f.Sources[k], fmt.Sprintf("%s/feeds/%d/sources/%d", j.at, i, k), k == 0)
		}
		for _, id := range j.order {
			p := j.nodes[id]
			if s := p.node.Switch; p.feed == f && s != nil && s.RatingA != nil {
				a, _ := j.highest(id, "outA")
				line, _ := j.highest(id, "lineA") // on the mains with the power factor of what hangs on it
				if a = max(a, line); above(a, *s.RatingA) {
					j.add(Finding{Code: "switch-rating", Severity: Stop, Stage: "source", Node: id, Pointer: p.pointer + "/switch/ratingA", Title: "Switch overloaded",
						Why: fmt.Sprintf("%s carries %s and is rated %s.", p.node.Called(), units.Amps(a), units.Amps(*s.RatingA)), Value: &a, Limit: s.RatingA, Unit: "A"})
				}
			}
		}
		for k := range f.Sources {
			if f.Sources[k].Mains != nil {
				j.mains(f, k)
				break
			}
		}
		if len(f.Sources) > 0 && f.Sources[0].Mains != nil {
			// said with the mains
		} else if v, _ := j.highest(f.ID, "busV"); v > HazardousV {
			j.hazard(f.ID, "source", v)
		}
	}
	for _, id := range j.order {
		p := j.nodes[id]
		if p.node.Switch != nil && p.parent != nil && p.parent.Driver != nil {
			if d := j.data(p.parent.Driver.PartID).Driver; d != nil && holdsCurrent(d.Family) {
				j.add(Finding{Code: "switch-after-driver", Severity: Caution, Stage: "driver", Node: id, Pointer: p.pointer + "/switch", Title: "Switch after a current driver",
					Why: fmt.Sprintf("%s opens the current that %s holds: off load its output climbs, and the emitters get the surge when it closes. Put the switch before the driver.", p.node.Called(), p.parent.Called())})
			}
		}
		if v, ok := j.highest(id, "outV"); ok && p.node.Driver != nil && v > HazardousV {
			j.hazard(id, "driver", v)
		}
	}
}

// mains says the usual caution where a light hangs on the wall.
func (j *judge) mains(f *design.Feed, source int) {
	j.add(Finding{Code: "mains", Severity: Caution, Stage: "source", Node: f.ID, Pointer: j.voltagePointer(f, source), Title: "Mains",
		Why: "Isolate before work, earth the metal, insulate joints twice; first power through a series lamp or a limited isolating source, behind a residual-current device, hands off. Local codes and a licensed person decide."})
}

func (j *judge) hazard(node, stage string, v float64) {
	limit, value := float64(HazardousV), &v
	why := units.Volts(v) + " here is above 60 V DC, dangerous to touch even without mains"
	if v >= driver.AnyV {
		why, value = "With nothing to drive its output climbs as far as it can, and how far is not known: above 60 V DC it is dangerous to touch even without mains", nil
	}
	j.add(Finding{Code: "hazardous-voltage", Severity: Caution, Stage: stage, Node: node, Title: "Hazardous voltage",
		Why: why + ": enclose it, discharge it before work, and follow the local code.", Value: value, Limit: &limit, Unit: "V"})
}

// leftOver is the share of a charge that is worth a word when it cannot be used
// (common practice).
const leftOver = 0.1

// faded tells of charge that a light cannot use: it fades out before its pack is empty.
func (j *judge) faded(f *design.Feed, s *design.Source, at string) {
	c, ok := j.column[[2]string{f.ID, "charge"}]
	if j.run.End.Kind != "faded" || !ok {
		return
	}
	left := j.run.Records[len(j.run.Records)-1][c]
	if left < leftOver {
		return
	}
	limit := leftOver
	j.add(Finding{Code: "fades-out", Severity: Caution, Stage: "source", Node: s.ID, Pointer: at + "/pack/series", Title: "Goes out before the pack is empty",
		Why: fmt.Sprintf("Nothing regulates: the light follows the source down and goes out with %s of the charge left. More cells in series with a driver, a load for a lower voltage, or a step-up use it.", percent(left)), Value: &left, Limit: &limit})
}

func (j *judge) cells(f *design.Feed, s *design.Source, at string, inUse bool) {
	if s.Supply != nil {
		j.keptOn(f, s, at, inUse)
		if a, _ := j.highest(f.ID, "busA"); inUse && s.Supply.MaxCurrentA != nil && a >= *s.Supply.MaxCurrentA*(1-1e-9) && a > 0 {
			limit := Finding{Code: "supply-limit", Severity: Caution, Stage: "source", Node: s.ID, Pointer: at + "/supply/maxCurrentA", Title: "Supply at its limit",
				Why: fmt.Sprintf("The light takes all of the %s the supply can give; the light is then set by the supply, not by the driver.", units.Amps(a)), Value: &a, Limit: s.Supply.MaxCurrentA, Unit: "A"}
			if s.Supply.Kind == "bench" {
				limit.Severity, limit.Title = Note, "Bench supply holds the current"
				limit.Why = fmt.Sprintf("It gives the %s it is set to and no more, as it should while a light is brought up.", units.Amps(a))
			}
			j.add(limit)
		}
		return
	}
	if s.Pack == nil {
		return
	}
	if !inUse {
		j.otherPack(f, s, at)
		return
	}
	j.faded(f, s, at)
	j.pack(f, s, at)
	cell := j.data(s.Pack.PartID).Cell
	if cell == nil {
		return
	}
	if a, _ := j.highest(f.ID, "busA"); cell.MaxDischargeA != nil {
		if each := a / float64(s.Pack.Parallel); each > *cell.MaxDischargeA {
			need := math.Ceil(a / *cell.MaxDischargeA)
			j.add(Finding{Code: "cell-discharge", Severity: Stop, Stage: "source", Node: s.ID, Pointer: at + "/pack/parallel", Title: "Cells overloaded",
				Why:   fmt.Sprintf("Each cell gives up to %s and may give %s: it overheats and ages fast.", units.Amps(each), units.Amps(*cell.MaxDischargeA)),
				Value: &each, Limit: cell.MaxDischargeA, Unit: "A",
				Fix: (&Fix{Label: fmt.Sprintf("%.0f cells in parallel", need), Patch: []Patch{{"add", at + "/pack/parallel", need}}}).keeping(func(with *judge) string {
					a, _ := with.highest(f.ID, "busA")
					return units.Amps(*cell.MaxDischargeA-a/need) + " below what a cell may give"
				})})
		}
	}
	limit := 60.0
	if cell.MaxC != nil {
		limit = *cell.MaxC
	}
	if t, ok := j.highest(s.Pack.BodyID, "bodyC"); ok && t > limit {
		j.add(Finding{Code: "cell-temperature", Severity: Stop, Stage: "source", Node: s.ID, Pointer: at + "/pack/bodyId", Title: "Cells too hot",
			Why: fmt.Sprintf("The cells reach %s with their body; they must stay below %s.", units.Degrees(t), units.Degrees(limit)), Value: &t, Limit: &limit, Unit: "°C"})
	}
}

// sourceRange is the highest and lowest voltage of a source: full and at cut-off.
func (j *judge) sourceRange(s *design.Source) (low, high float64, ok bool) {
	if s.Pack == nil {
		return source.Voltages(s, nil)
	}
	return source.Voltages(s, j.data(s.Pack.PartID).Cell)
}

// keepsOnA is what a power bank wants to be drawn where it does not say (common practice).
const keepsOnA = 0.06

// keptOn tells of a power bank that switches itself off: the light draws too little for it.
func (j *judge) keptOn(f *design.Feed, s *design.Source, at string, inUse bool) {
	if s.Supply.Kind != "power-bank" || !inUse {
		return
	}
	limit := keepsOnA
	if s.Supply.KeepsOnA != nil {
		limit = *s.Supply.KeepsOnA
	}
	c, ok := j.column[[2]string{f.ID, "busA"}]
	if !ok {
		return
	}
	a := j.run.Records[len(j.run.Records)-1][c]
	if a <= 0 || a >= limit {
		return
	}
	j.add(Finding{Code: "power-bank-off", Severity: Caution, Stage: "source", Node: s.ID, Pointer: at + "/supply/keepsOnA", Title: "The power bank goes to sleep",
		Why: fmt.Sprintf("The light draws %s, and a power bank switches itself off where less than %s is drawn for a minute or so: draw more, or take one with a mode for small loads.", units.Amps(a), units.Amps(limit)), Value: &a, Limit: &limit, Unit: "A"})
}
