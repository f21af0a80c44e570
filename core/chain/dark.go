package chain

import (
	"fmt"
	"slices"

	"photherm/core/design"
	"photherm/core/units"
)

// darkWhy is why there is no light: the first cause along the current on the way to the
// first thing that could shine. Gaps of heat, and what is assumed, are none.
func (r *Run) darkWhy() string {
	d := dark{Run: r, parts: map[string]*design.Part{}}
	for i := range r.Model.light.Parts {
		d.parts[r.Model.light.Parts[i].ID] = &r.Model.light.Parts[i]
	}
	v := r.Model.net.Variant
	if len(v.Feeds) == 0 {
		return "nothing feeds it yet"
	}
	first := ""
	for i := range v.Feeds {
		why := d.source(&v.Feeds[i])
		if why == "" {
			why = bridged(v.Feeds[i].Loads)
		}
		if why == "" {
			why = r.cutAtOnce()
		}
		if why == "" {
			why = d.first(v.Feeds[i].Loads)
		}
		if why == "" {
			why = "nothing that shines hangs on it yet"
		}
		if first == "" {
			first = why
		}
	}
	return first
}

// atOnceS is until when something happens as soon as it is switched on, s (chosen: quicker than one
// looks up; boards trip within hundredths).
const atOnceS = 1

// cutAtOnce says why a pack is off as soon as it is switched on; empty: none is.
func (r *Run) cutAtOnce() string {
	for _, e := range r.Events {
		switch {
		case e.T > atOnceS:
			return ""
		case e.Kind == "cut-off" || e.Kind == "empty":
			return "the pack is below its cut-off as soon as it is switched on"
		case e.Kind == "trips":
			return fmt.Sprintf("the board of the cells trips as soon as it is switched on: %s is more than it bears", units.Amps(r.Tripped[e.Node]))
		}
	}
	return ""
}

// bridged tells of a fault that bridges the wires anywhere below.
func bridged(nodes []design.Node) string {
	for i := range nodes {
		if f := nodes[i].Fault; f != nil && f.State == "short" {
			return nodes[i].Called() + " is bridged: a fault was put in"
		}
		if s := nodes[i].Switch; s != nil && s.Open {
			continue
		}
		if why := bridged(nodes[i].Loads); why != "" {
			return why
		}
	}
	return ""
}

type dark struct {
	*Run
	parts map[string]*design.Part
}

// source is what keeps a feed from giving anything.
func (d *dark) source(f *design.Feed) string {
	if len(f.Sources) == 0 {
		return "no source is chosen yet"
	}
	s := &f.Sources[min(d.Model.options.Source[f.ID], len(f.Sources)-1)]
	switch {
	case s.Pack == nil && s.Supply == nil && s.Mains == nil:
		return "no source is chosen yet"
	case s.Pack != nil && d.parts[s.Pack.PartID] == nil:
		return "no cell is chosen yet"
	}
	return ""
}

// first is the cause on the way to the first thing below that could shine; empty: there is none.
func (d *dark) first(nodes []design.Node) string {
	for i := range nodes {
		n := &nodes[i]
		why := d.at(n)
		leads := n.Array != nil || n.Strip != nil || n.Load != nil
		if !leads {
			below := d.first(n.Loads)
			if below == "" {
				continue // nothing below shines
			}
			if why == "" {
				why = below
			}
		}
		return why
	}
	return ""
}

// at is what is wrong at one node; of what shines there is always something.
func (d *dark) at(n *design.Node) string {
	name := n.Called()
	if n.Fault != nil && n.Fault.State == "open" {
		return fmt.Sprintf("%s is open: a fault was put in", name)
	}
	switch {
	case n.Switch != nil && (n.Switch.Open || n.Switch.Duty != nil && *n.Switch.Duty == 0):
		return name + " is open"
	case n.Dimmer != nil && n.Dimmer.Level == 0:
		return name + " is turned down to nothing"
	case n.Driver != nil:
		return d.driver(n)
	case n.Strip != nil && d.parts[n.Strip.PartID] == nil:
		return "no strip is chosen yet"
	case n.Strip != nil && d.parts[n.Strip.PartID].Strip.FluxLmPer == nil, n.Load != nil && d.figure(n.ID, "inA") > 0:
		return fmt.Sprintf("the light of %s is not known", name)
	case n.Load != nil && d.loadData(n) == nil:
		return "what " + name + " draws is not known: give a few readings of voltage and current"
	case n.Array != nil && d.parts[n.Array.PartID] == nil:
		return "no emitter is chosen yet"
	case n.Array != nil && slices.ContainsFunc(n.Array.Mixed, func(m design.Mixed) bool { return d.parts[m.PartID] == nil }):
		return "the other kind of emitter in series with " + name + " is not chosen yet"
	case n.Array != nil && allOpen(n.Array):
		return openEmitter(n.Array, name)
	case n.Array != nil && d.figure(n.ID, "inA") > 0 && d.figure(n.ID, "fluxLm") <= 0:
		return fmt.Sprintf("the light of %s is not known", d.parts[n.Array.PartID].Name)
	case n.Array != nil || n.Strip != nil || n.Load != nil:
		return fmt.Sprintf("%s gets %s, which is too little to shine", name, units.Volts(d.figure(n.ID, "inV")))
	}
	return ""
}

func (d *dark) loadData(n *design.Node) *design.MeasuredLoad {
	if part := d.parts[n.Load.PartID]; part != nil && len(part.Load.Points) > 0 {
		return part.Load
	}
	if len(n.Load.Points) > 0 {
		return n.Load
	}
	return nil
}

// openEmitter says what is open where no string conducts: which emitter, if there is one
// string and that was said.
func openEmitter(a *design.Array, name string) string {
	switch {
	case a.Parallel*max(a.Count, 1) > 1:
		return "every string of " + name + " has an open emitter or joint"
	case a.Unequal[0].At > 0:
		return fmt.Sprintf("emitter %d of %s, counted from plus, is open", a.Unequal[0].At, name)
	}
	return "an emitter or a joint of " + name + " is open"
}

// allOpen tells an array in which no string conducts.
func allOpen(a *design.Array) bool {
	open := 0
	for _, s := range a.Unequal {
		if s.Open {
			open += s.Strings
		}
	}
	return open > 0 && open >= a.Parallel*max(a.Count, 1)
}

func (d *dark) driver(n *design.Node) string {
	part := d.parts[n.Driver.PartID]
	switch {
	case part == nil:
		return "no driver is chosen yet"
	case unset(part.Driver, n.Driver) && d.lacking(n.ID):
		return "what " + n.Called() + " is set to is not known"
	}
	switch d.modeOf(n.ID) {
	case "locked out":
		if least := part.Driver.InputMinV; least != nil {
			return fmt.Sprintf("%s does not start: it gets %s and starts at %s", n.Called(), units.Volts(d.figure(n.ID, "inV")), units.Volts(*least))
		}
		return n.Called() + " does not start"
	case "hiccup":
		return n.Called() + " does not start: its load lies outside its window"
	}
	return ""
}

// unset tells a driver of which nobody said what it holds: its volts if it holds those, else its
// amperes.
func unset(d *design.Driver, use *design.DriverUse) bool {
	if d.Family == "voltage" {
		return d.SetVoltageV == nil && use.SetVoltageV == nil
	}
	return d.SetCurrentA == nil && use.SetCurrentA == nil
}

// lacking tells a driver that could not be compiled for want of a figure.
func (d *dark) lacking(id string) bool {
	for _, m := range d.Model.missing {
		if m.Node == id {
			return true
		}
	}
	return false
}

func (d *dark) column(id, figure string) int {
	for i, c := range d.Model.columns {
		if c.Owner == id && c.Figure == figure {
			return i
		}
	}
	return -1
}

// figure is a figure at switch-on; nought where there is none.
func (d *dark) figure(id, name string) float64 {
	if i := d.column(id, name); i >= 0 {
		return d.Records[d.lastOn()][i]
	}
	return 0
}

func (d *dark) modeOf(id string) string {
	i := d.column(id, "mode")
	if i < 0 {
		return ""
	}
	return ModeName(d.Records[0][i])
}
