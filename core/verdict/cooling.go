package verdict

import (
	"fmt"
	"strings"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/units"
)

// cooling asks of a body known by its measures what would come if it were otherwise: its fan
// stopped, its fins the right way, of metal.
func (j *judge) cooling(i int, b *design.Body) {
	if b.Shape == nil || b.KPerW != nil {
		return
	}
	at := fmt.Sprintf("%s/bodies/%d/shape", j.at, i)
	j.fanFedFromEmitters(b, at)
	j.beyondLaw(b, at)
	if j.trial {
		return
	}
	if f := b.Shape.Fan; f != nil && !f.Stopped && !j.fanStands(b, f, at) {
		j.fanStops(i, b, at)
	}
	if pose := b.Shape.Pose; (b.Shape.Kind == "fins" && (pose == "down" || pose == "across") || b.Shape.Kind == "profile" && pose == "level") && j.steady.Converged {
		stood := func(s *design.Shape) { s.Pose = "" }
		if t, gain, ok := j.otherwise(i, b, stood); ok && gain >= worthK {
			j.add(Finding{Code: "fins-wrong-way", Severity: Note, Stage: "heat", Node: b.ID, Pointer: at + "/pose", Title: "Its fins stand the wrong way",
				Why: fmt.Sprintf("Air rises between fins that stand. Turned so that they do, %s comes to %s, %s less.", b.Name, units.Degrees(t), units.Kelvins(gain)), Value: &t, Unit: "°C",
				Fix: &Fix{Label: "Fins standing", Patch: []Patch{{"add", at + "/pose", "upright"}}, keeps: told(units.Kelvins(gain) + " less")}})
		}
	}
	if m := heat.MaterialOf(b.Shape); !m.Metal {
		j.unknownPad(b, m)
	}
	if m := heat.MaterialOf(b.Shape); !m.Metal && j.steady.Converged {
		metal := func(s *design.Shape) { s.Material = "aluminium" }
		if hot, gain, ok := j.hottestOtherwise(i, metal); ok && gain >= worthK {
			j.add(Finding{Code: "poor-backing", Severity: Caution, Stage: "heat", Node: b.ID, Pointer: at + "/material", Title: "What it sits on hardly carries heat",
				Why: fmt.Sprintf("%s conducts %.2g W/(m·K), aluminium %.0f: heat stays where it arises. On the same in aluminium the hottest place on it would be %s, %s less. A profile, a stud or a strip of sheet under it helps.", capital(m.Word), m.Conductivity, heat.MaterialOf(&design.Shape{}).Conductivity, units.Degrees(hot), units.Kelvins(gain)), Value: &hot, Unit: "°C"})
		}
	}
}

// unknownPad tells of emitters on what hardly conducts whose board is of unknown size: heat that does
// not leave from under it cannot be told then, and they are hotter than they seem.
func (j *judge) unknownPad(b *design.Body, m *heat.Material) {
	if _, _, face := j.light.Face(b); !face || b.Shape.ThicknessM == nil {
		return
	}
	laid := map[string]bool{}
	for _, l := range j.model.Variant().Layouts {
		for _, s := range l.Spots {
			laid[s.NodeID] = true
		}
	}
	for _, id := range j.order {
		p := j.nodes[id]
		n := p.node
		if n.BodyID != b.ID || laid[id] {
			continue
		}
		at := ""
		switch {
		case n.Array != nil && (n.Array.Joint == nil || n.Array.Joint.AreaM2 == nil):
			at = p.pointer + "/array/joint/areaM2"
		case n.Strip != nil && j.data(n.Strip.PartID) != nil && j.data(n.Strip.PartID).Strip.WidthM == nil:
			at = j.partPointer(n.Strip.PartID) + "/strip/widthM"
		default:
			continue
		}
		j.add(Finding{Code: "unknown-pad", Severity: Caution, Stage: "heat", Node: id, Pointer: at, Title: "Hotter than it seems",
			Why: fmt.Sprintf("%s sits on %s, which conducts %.2g W/(m·K): heat stays under it, and how large it is there is not known. What is told is as if the whole of %s were warm alike. Give the area under a board, or the width of the strip.", n.Called(), strings.ToLower(m.Word), m.Conductivity, b.Name)})
	}
}

// beyondLaw tells where the laws of a body are asked outside the range they were measured in.
func (j *judge) beyondLaw(b *design.Body, at string) {
	t, ok := j.highest(b.ID, "bodyC")
	if !ok {
		return
	}
	pressure := 1.0
	if h := j.light.Conditions.AltitudeM; h != nil {
		pressure = heat.PressureAt(*h)
	}
	law, _ := heat.NewBody(j.light.ShapeOf(b), pressure)
	if law == nil {
		return
	}
	driveV := 0.0
	if f := b.Shape.Fan; f != nil {
		driveV, _ = j.highest(f.NodeID, "inV")
	}
	if beyond := law.Beyond(t, j.light.Conditions.AmbientC, driveV); len(beyond) > 0 {
		j.add(Finding{Code: "beyond-law", Severity: Note, Stage: "heat", Node: b.ID, Pointer: at, Title: "Outside what its laws were measured for",
			Why: fmt.Sprintf("%s: %s. Its temperature is a rough guess; a thermometer on it decides.", b.Name, strings.Join(beyond, "; "))})
	}
}

// worthK is what a change must bring to be told, K (chosen: below that hands and weather
// make more).
const worthK = 3

// fanStops tells of a body whose fan keeps it below what it comes to without: fans stop.
func (j *judge) fanStops(i int, b *design.Body, at string) {
	st, model := j.rest(i, func(s *design.Shape) { s.Fan.Stopped = true })
	if st == nil {
		return
	}
	f := Finding{Code: "fan-stops", Severity: Note, Stage: "heat", Node: b.ID, Pointer: at + "/fan/stopped", Title: "Should its fan stop"}
	if !st.Converged {
		f.Severity, f.Why = Caution, fmt.Sprintf("Without its fan %s never comes to rest: %s. A thermostat on it, or a driver that is lowered by heat, keeps it.", b.Name, st.Reason)
		j.add(f)
		return
	}
	if c, ok := newJudge(model).column[[2]string{b.ID, "bodyC"}]; ok {
		t := st.Record[c]
		f.Value, f.Unit = &t, "°C"
		f.Why = fmt.Sprintf("Without its fan %s comes to %s.", b.Name, units.Degrees(t))
		j.add(f)
	}
}

// fanStands tells of a fan that gets less than it starts at, from the beginning or from some time
// on; true: it never turns.
func (j *judge) fanStands(b *design.Body, f *design.Fan, at string) (never bool) {
	p, known := j.nodes[f.NodeID]
	c, there := j.column[[2]string{f.NodeID, "inV"}]
	if !known || !there || p.node.Aux == nil || p.node.Aux.StartV == nil {
		return false
	}
	starts := *p.node.Aux.StartV
	for i, t := range j.run.T {
		v := j.run.Records[i][c]
		if !(v > 0 && v < starts) { // without any it is switched off
			continue
		}
		when := "it stands still"
		if i > 0 {
			when = "it stands still from " + units.Duration(t) + " on"
		}
		j.add(Finding{Code: "fan-stands", Severity: Caution, Stage: "heat", Node: b.ID, Pointer: at + "/fan/nodeId", Title: "The fan gets too little to turn",
			Why: fmt.Sprintf("%s starts at %s and gets %s: %s, and %s is cooled without it. Feed it from a higher voltage, or take a fan for less.", p.node.Called(), units.Volts(starts), units.Volts(v), when, b.Name), Value: &v, Limit: &starts, Unit: "V"})
		return i == 0
	}
	return false
}

// rest is the light at rest with the shape of a body otherwise; nil where that cannot be
// told.
func (j *judge) rest(i int, change func(*design.Shape)) (*chain.SteadyState, *chain.Model) {
	other, err := design.Clone(j.light)
	if err != nil {
		j.stop(err)
		return nil, nil
	}
	change(other.Variants[j.model.Options().Variant].Bodies[i].Shape)
	return j.settled(other)
}

// settled is where another light comes to rest; nil: that cannot be asked.
func (j *judge) settled(other *design.Light) (*chain.SteadyState, *chain.Model) {
	model, err := chain.Compile(other, j.model.Options())
	if err != nil {
		j.stop(err)
		return nil, nil
	}
	st, err := model.Solver().Steady(j.ctx)
	if j.stop(err); err != nil {
		return nil, nil
	}
	return st, model
}

// otherwise is where a body comes to rest with its shape otherwise, and how much cooler that
// is, K.
func (j *judge) otherwise(i int, b *design.Body, change func(*design.Shape)) (t, gain float64, ok bool) {
	st, model := j.rest(i, change)
	if st == nil || !st.Converged {
		return 0, 0, false
	}
	c, there := newJudge(model).column[[2]string{b.ID, "bodyC"}]
	was, here := j.column[[2]string{b.ID, "bodyC"}]
	if !there || !here {
		return 0, 0, false
	}
	return st.Record[c], j.steady.Record[was] - st.Record[c], true
}

// hottestOtherwise is the same of the hottest case on a body, or of itself where it carries
// none that is told.
func (j *judge) hottestOtherwise(i int, change func(*design.Shape)) (t, gain float64, ok bool) {
	st, model := j.rest(i, change)
	if st == nil || !st.Converged {
		return 0, 0, false
	}
	body := j.model.Variant().Bodies[i].ID
	hottest := func(of *judge, record []float64) (hot float64, any bool) {
		for key, c := range of.column {
			onIt := key[1] == "bodyC" && key[0] == body
			if p, ok := of.nodes[key[0]]; ok && key[1] == "caseC" {
				onIt = p.node.BodyID == body
			}
			if onIt && (!any || record[c] > hot) {
				hot, any = record[c], true
			}
		}
		return hot, any
	}
	was, a := hottest(j, j.steady.Record)
	t, b := hottest(newJudge(model), st.Record)
	return t, was - t, a && b
}

// fanFedFromEmitters tells of a fan that hangs on the output of a driver which holds its
// current: it takes that from the emitters, and runs at their voltage.
func (j *judge) fanFedFromEmitters(b *design.Body, at string) {
	f := b.Shape.Fan
	if f == nil || f.NodeID == "" {
		return
	}
	p, ok := j.nodes[f.NodeID]
	if !ok || p.driver == nil || p.node.Aux == nil {
		return
	}
	if d := j.data(p.driver.node.Driver.PartID).Driver; d == nil || d.Family == "voltage" || d.Family == "none" || d.Family == "resistor" {
		return
	}
	v, _ := j.highest(f.NodeID, "inV")
	j.add(Finding{Code: "fan-takes-current", Severity: Caution, Stage: "heat", Node: f.NodeID, Pointer: at + "/fan/nodeId", Title: "The fan takes the emitters’ current",
		Why: fmt.Sprintf("It hangs on the output of %s, which holds one current for all: its %s are missing in the emitters, and it gets their voltage, %s. If it stops or comes off, the emitters get all of the current while nothing blows. Feed it from the source, or from a supply of its own.", p.driver.node.Called(), units.Amps(p.node.Aux.CurrentA), units.Volts(v)), Value: &v, Unit: "V"})
}

// unevenK is how much hotter one place may be than the array on average before it is told, K
// (chosen: a third of the margin that is kept at a junction).
const unevenK = 5

// places tells of arrays one of whose places is hotter than the rest.
func (j *judge) places() {
	if !j.steady.Converged {
		return
	}
	for _, p := range j.resting.Places() {
		if !p.Hottest || p.AboveK < unevenK {
			continue
		}
		t, spot := p.CaseC, &j.model.Variant().Layouts[p.Layout].Spots[p.Spot]
		j.add(Finding{Code: "hot-place", Severity: Note, Stage: "heat", Node: p.Node, Pointer: fmt.Sprintf("%s/layouts/%d/spots", j.at, p.Layout), Title: "One place is hotter than the rest",
			Why: fmt.Sprintf("At %.0f, %.0f mm it is %s hotter than these emitters are on average. Spread them, or move it towards the middle of the plate.", spot.XM*1e3, spot.YM*1e3, units.Kelvins(p.AboveK)), Value: &t, Unit: "°C"})
	}
}

// noPaste tells of emitters that are pressed on dry, where paste would make them cooler.
func (j *judge) noPaste(id string, p place, figure string) {
	if j.trial || !heat.Dry(p.node.Array.Joint) {
		return
	}
	other, err := design.Clone(j.light)
	if err != nil {
		j.stop(err)
		return
	}
	a := design.FindIn(&other.Variants[j.model.Options().Variant], id).Array
	paste := heat.Paste()
	paste.AreaM2 = a.Joint.AreaM2
	a.Joint = &paste
	st, model := j.settled(other)
	c, here := j.column[[2]string{id, figure}]
	if st == nil || !st.Converged || !here {
		return
	}
	t := st.Record[newJudge(model).column[[2]string{id, figure}]]
	less := "where now nothing comes to rest"
	if j.steady.Converged {
		gain := j.steady.Record[c] - t
		if gain < worthK {
			return
		}
		less = units.Kelvins(gain) + " less"
	}
	at := p.pointer + "/array/joint"
	j.add(Finding{Code: "no-paste", Severity: Caution, Stage: "heat", Node: id, Pointer: at, Title: "Nothing but air between",
		Why: fmt.Sprintf("%s is pressed on dry: what does not touch is air. With paste, pressed flat by screws, its junction comes to %s, %s.", p.node.Called(), units.Degrees(t), less), Value: &t, Unit: "°C",
		Fix: &Fix{Label: "Paste under it", Patch: []Patch{{"add", at + "/thicknessM", *paste.ThicknessM}, {"add", at + "/conductivityWPerMK", *paste.Conductivity}, {"add", at + "/coverage", 1}, {"add", at + "/maxC", *paste.MaxC}}, keeps: told(less)}})
}
