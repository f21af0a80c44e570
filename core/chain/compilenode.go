package chain

import (
	"fmt"

	"photherm/core/array"
	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/emitter"
	"photherm/core/heat"
)

func (c *compiler) driver(out *node, use *design.DriverUse, k int, at string) {
	var data *design.Driver
	from := ""
	if part := c.parts[use.PartID]; part != nil {
		data, from = part.Driver, c.partAt[part.ID]+"/driver"
	}
	d, missing := driver.New(data, use)
	c.gaps(out.id, from, at, missing)
	out.drv, out.level = d, d.Level
	c.slot(at+"/dimming/current", func(s *Solver) *float64 { return &s.nodes[k].level })
	c.slot(at+"/dimming/duty", func(s *Solver) *float64 { return &s.nodes[k].drv.Duty })
	set := func(s *Solver) *float64 { return &s.nodes[k].drv.SetA }
	c.slot(at+"/setCurrentA", set)
	if use.SetCurrentA == nil && from != "" {
		c.slot(from+"/setCurrentA", set)
	}
	c.slot(at+"/setVoltageV", func(s *Solver) *float64 { return &s.nodes[k].drv.SetV })
	c.slot(at+"/resistanceOhm", func(s *Solver) *float64 { return &s.nodes[k].drv.ResistanceOhm })
	if from != "" {
		c.slot(from+"/headroomV", func(s *Solver) *float64 { return &s.nodes[k].drv.HeadroomV })
		c.slot(from+"/efficiency", func(s *Solver) *float64 { return &s.nodes[k].drv.Efficiency })
		c.slot(from+"/quiescentA", func(s *Solver) *float64 { return &s.nodes[k].drv.QuiescentA })
	}
}

func (c *compiler) strip(out *node, use *design.StripUse, k int, at string) {
	part := c.parts[use.PartID]
	if part == nil {
		c.lacks(out.id, at+"/partId", "no strip is chosen yet")
		return
	}
	strip, missing := array.NewStrip(part.Strip, use)
	c.gaps(out.id, c.partAt[part.ID]+"/strip", at, missing)
	out.strip, out.chosen = strip, true
	out.countsHeat = c.light.Conditions.HeatSchool == "all-input"
	c.slot(at+"/leadOhm", func(s *Solver) *float64 { return &s.nodes[k].strip.LeadOhm })
}

// load takes the readings of a measured load, from its part or where it stands.
func (c *compiler) load(out *node, use *design.MeasuredLoad, at string) {
	data, from := use, at
	if part := c.parts[use.PartID]; part != nil {
		data, from = part.Load, c.partAt[part.ID]+"/load"
	}
	if len(data.Points) == 0 {
		c.lacks(out.id, from+"/points", "what this load draws is not known: give a few readings of voltage and current")
		return
	}
	out.chosen, out.load, out.loadCP = true, data.Points, data.ConstantPower
	if data.FluxLm != nil {
		out.loadLm = *data.FluxLm
	}
}

// Heat capacities where the data are silent, J/K for one emitter (common
// practice; they matter in the first seconds only).
const (
	commonDieJPerK   = 0.02
	commonBoardJPerK = 1.5
)

func (c *compiler) array(out *node, n *design.Node, k int, at string) error {
	a := n.Array
	part := c.parts[a.PartID]
	if part == nil {
		c.lacks(n.ID, at+"/partId", "no emitter is chosen yet")
		return nil
	}
	e, err := emitter.New(part.Emitter)
	if err != nil {
		return fmt.Errorf("emitter %q: %w", part.Name, err)
	}
	from := c.partAt[part.ID] + "/emitter"
	if rows := max(part.Emitter.Rows, 1); a.PackageRows > 0 && a.PackageRows != rows {
		e.Resize(float64(a.PackageRows) / float64(rows))
	}
	out.chosen = true
	out.arr = array.New(a, e)
	if r := part.Emitter.RatedCurrentA; r != nil {
		out.ratedA = *r * e.Size
	}
	if part.Emitter.VfBinV != nil {
		out.binV = *part.Emitter.VfBinV
	}
	out.sameBin = a.SameBin
	if a.BoardKPerW != nil {
		out.ownKPerW = *a.BoardKPerW
	}
	out.countsHeat = c.light.Conditions.HeatSchool == "all-input"
	if !e.KnowsFlux() {
		c.lacks(n.ID, from+"/fluxLm", "the light of %s is not known", part.Name)
	} else if !e.KnowsRadiant() {
		c.lacks(n.ID, from+"/radiationEfficacyLmPerW", "the radiated watts of %s cannot be told: all its input counts as heat, the safe side", part.Name)
	}
	if a.OpticEfficient != nil {
		out.optic = *a.OpticEfficient
	}
	law := func(s *Solver) *array.Law { return &s.nodes[k].arr }
	c.slot(from+"/vfOffsetV", func(s *Solver) *float64 { return &law(s).Emitter.VfOffsetV })
	c.slot(from+"/fluxScale", func(s *Solver) *float64 { return &law(s).Emitter.FluxScale })
	c.slot(from+"/vfTempCoeffVPerK", func(s *Solver) *float64 { return &law(s).Emitter.VfVPerK })
	for g := range out.arr.Groups {
		where := at
		if g > 0 {
			where = fmt.Sprintf("%s/unequal/%d", at, g-1)
		}
		c.slot(where+"/vfOffsetV", func(s *Solver) *float64 { return &law(s).Groups[g].OffsetV })
		c.slot(where+"/ballastOhm", func(s *Solver) *float64 { return &law(s).Groups[g].BallastOhm })
	}
	c.slot(at+"/opticEfficiency", func(s *Solver) *float64 { return &s.nodes[k].optic })

	if out.body == noBody {
		c.lacks(n.ID, out.pointer+"/bodyId", "the emitters are mounted on nothing: their temperature cannot be told")
		return nil
	}
	base := c.bodies[out.body]
	if base < 0 {
		return nil // said where the body is compiled
	}
	if part.Emitter.RthKPerW == nil {
		c.lacks(n.ID, from+"/rThKPerW", "the thermal resistance of %s is not known: its junction is shown as hot as its case", part.Name)
	}
	boards, emitters := float64(max(a.Count, 1)), float64(a.Series*a.Parallel*max(a.Count, 1))
	die, board := commonDieJPerK*emitters, commonBoardJPerK*emitters
	if part.Emitter.HeatJPerK != nil {
		die = *part.Emitter.HeatJPerK * emitters
	}
	if a.BoardJPerK != nil {
		board = *a.BoardJPerK * boards
	}
	out.junction, out.board = c.lump(n.ID, die), c.lump(n.ID, board)
	c.connect(out.junction, out.board, resistance{from + "/rThKPerW", e.RthKPerW, emitters})
	joint, ok := heat.JointKPerW(a.Joint)
	if !ok {
		c.lacks(n.ID, at+"/joint", "the joint under the emitters has no K/W: taken as perfect")
	}
	perEmitter := 0.0
	if a.BoardKPerW != nil {
		perEmitter = *a.BoardKPerW
	}
	c.connect(out.board, base, resistance{at + "/boardKPerW", perEmitter, emitters}, resistance{at + "/joint/kPerW", joint, boards})
	return nil
}
