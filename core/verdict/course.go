package verdict

import (
	"fmt"
	"math"
	"slices"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/source"
	"photherm/core/units"
)

// course tells of a course that ends, or goes on, in another way than one would
// expect: nothing that stops a light is passed over.
func (j *judge) course() {
	overheats := j.run.End.Kind == "overheat"
	j.ledgers()
	for _, e := range j.run.Events {
		switch e.Kind {
		case "cut-off", "empty":
			if e.T <= 0 {
				j.startsCutOff(e)
			}
		case "lock-out":
			j.locksOut(e)
		case "hangs":
			j.add(Finding{Code: "supply-hangs", Severity: Caution, Stage: "driver", Node: e.Node, Title: "The supply may not come up",
				Why: fmt.Sprintf("Switched on into this load, %s hangs on its folded-back limit: connect the load after the supply is up, or take a supply that does not fold back.", j.nameOf(e.Node))})
		case "cycling":
			j.cycles(e)
		case "lowered":
			j.lowered(e)
		case "overheat":
			f := Finding{Code: "overheats", Severity: Stop, Stage: j.stage(e.Node), Node: e.Node, Title: "It overheats",
				Why: fmt.Sprintf("%s gets hotter than anything in a light bears, and it does not settle below: carry the heat away better, or drive it less.", j.nameOf(e.Node))}
			if j.massesKnown() {
				f.Why = fmt.Sprintf("After %s %s is hotter than anything in a light bears, and it does not settle below: carry the heat away better, or drive it less.", units.Duration(e.T), j.nameOf(e.Node))
			}
			j.add(f)
		}
	}
	if !overheats && !j.steady.Converged && j.steady.Reason != "" && !j.steady.Regulated && !j.has("cycling") {
		j.add(Finding{Code: "no-steady-state", Severity: Stop, Stage: "heat", Title: "It does not settle", Why: sentence(j.steady.Reason)})
	}
}

// lowered tells of a driver that goes down by itself, once: when, and what light is left.
func (j *judge) lowered(e chain.Event) {
	if j.hasAbout("lowered", e.Node) {
		return
	}
	f := Finding{Code: "lowered", Severity: Note, Stage: "driver", Node: e.Node, Pointer: j.nodes[e.Node].pointer + "/driver/stepDown", Title: "It goes down by itself"}
	back := 0
	for _, o := range j.run.Events {
		if o.Kind == "raised" && o.Node == e.Node {
			back++
		}
	}
	f.Why = fmt.Sprintf("After %s %s is lowered", units.Duration(e.T), j.nameOf(e.Node))
	if e.T <= 0 {
		f.Why = fmt.Sprintf("Its sensor is as hot as that at switch-on: %s begins lowered", j.nameOf(e.Node))
	}
	if c, ok := j.column[[2]string{"", "fluxLm"}]; ok && j.answers.FluxLm != nil {
		f.Why += fmt.Sprintf(", and %s of light are left", units.Format(j.run.At(e.T)[c], "luminousFlux", 3))
	}
	if back > 0 {
		f.Why += "; cool again it comes back, and so on, up and down"
	}
	f.Why += "."
	j.add(f)
}

// ledgers tells of figures that contradict each other: energy that comes from nowhere, or
// is lost.
func (j *judge) ledgers() {
	open := j.run.Ledger.Closure
	if j.steady.Converged && math.Abs(j.steady.Ledger.Closure) > math.Abs(open) {
		open = j.steady.Ledger.Closure
	}
	if limit := chain.OpenShare; math.Abs(open) > limit {
		j.add(Finding{Code: "ledger-open", Severity: Caution, Stage: "source", Title: "These figures do not add up",
			Why: fmt.Sprintf("%.2g %% of the energy is not accounted for: please report this light, and do not rely on its figures.", 100*math.Abs(open)), Value: &open, Limit: &limit})
	}
}

func (j *judge) has(code string) bool {
	return slices.ContainsFunc(j.findings, func(f Finding) bool { return f.Code == code })
}

func (j *judge) hasAbout(code, node string) bool {
	return slices.ContainsFunc(j.findings, func(f Finding) bool { return f.Code == code && f.Node == node })
}

// startsCutOff tells of a pack that is cut off as soon as it is switched on.
func (j *judge) startsCutOff(e chain.Event) {
	f := Finding{Code: "starts-cut-off", Severity: Stop, Stage: "source", Node: e.Node, Title: "Cut off at switch-on",
		Why: "The pack stands below its cut-off as soon as it is switched on, so protection keeps it off: charge it, or set another cut-off."}
	if s, cell := j.packIn(e.Node); s != nil {
		limit, _ := source.Range(cell)
		if s.Pack.CutoffCellV != nil {
			limit = *s.Pack.CutoffCellV
		}
		if c, ok := j.column[[2]string{e.Node, "cellV"}]; ok {
			v := j.run.Records[0][c]
			f.Value, f.Limit, f.Unit = &v, &limit, "V"
			f.Why = fmt.Sprintf("A resting cell has %s; under its load it falls below the cut-off of %s as soon as it is switched on, and protection keeps it off: charge it, or set another cut-off.", units.Volts(v), units.Volts(limit))
		}
		f.Pointer = j.pointerTo(s.ID) + "/pack/cutoffCellV"
	}
	j.add(f)
}

// packIn is the pack a feed runs from, with its cell; nil if it has none.
func (j *judge) packIn(feed string) (*design.Source, *design.Cell) {
	v := j.model.Variant()
	for i := range v.Feeds {
		if f := &v.Feeds[i]; f.ID == feed && len(f.Sources) > 0 && f.Sources[0].Pack != nil {
			if cell := j.data(f.Sources[0].Pack.PartID).Cell; cell != nil {
				return &f.Sources[0], cell
			}
		}
	}
	return nil, nil
}

// locksOut tells of a driver that does not start, or that stops before its pack ends.
func (j *judge) locksOut(e chain.Event) {
	p, ok := j.nodes[e.Node]
	if !ok || p.node.Driver == nil {
		return
	}
	d := j.data(p.node.Driver.PartID).Driver
	if d == nil {
		return
	}
	starts := d.InputMinV
	if d.RestartV != nil {
		starts = d.RestartV
	}
	if e.T <= 0 {
		f := Finding{Code: "does-not-start", Severity: Stop, Stage: "driver", Node: e.Node, Pointer: j.voltagePointer(p.feed, 0), Title: "The driver does not start",
			Why: fmt.Sprintf("The source breaks down under %s as soon as it starts.", p.node.Called())}
		if v, ok := j.highest(e.Node, "inV"); ok && starts != nil && v < *starts {
			f.Value, f.Limit, f.Unit = &v, starts, "V"
			f.Why = fmt.Sprintf("%s gets %s and starts at %s.", p.node.Called(), units.Volts(v), units.Volts(*starts))
		}
		j.add(f)
		return
	}
	left, end := 0.0, j.run.T[len(j.run.T)-1]
	if c, ok := j.column[[2]string{p.feed.ID, "charge"}]; ok {
		left = j.run.At(e.T)[c]
	}
	if left < 0.05 && e.T > 0.9*end || j.hasAbout("source-below-input", e.Node) {
		return // as good as empty, or said from its data
	}
	t := e.T
	j.add(Finding{Code: "locks-out", Severity: Caution, Stage: "driver", Node: e.Node, Pointer: j.voltagePointer(p.feed, 0), Title: "The driver stops before the pack does",
		Why: fmt.Sprintf("After %s the source is too low for %s, and it stops with %s of the charge left.", units.Duration(t), p.node.Called(), percent(left)), Value: &t, Unit: "s"})
}

// cycles tells of what goes on and off over and over.
func (j *judge) cycles(e chain.Event) {
	f := Finding{Code: "cycling", Severity: Stop, Stage: j.stage(e.Node), Node: e.Node, Title: "It goes on and off, over and over",
		Why: fmt.Sprintf("From %s on %s goes off, its source recovers without the load, and it comes back. What is told from there on is the average.", units.Duration(e.T), j.nameOf(e.Node))}
	if e.T <= 0 {
		f.Why = fmt.Sprintf("From switch-on on %s goes off under its own load, its source recovers, and it comes back: the source is too weak for it.", j.nameOf(e.Node))
		if j.stiff(e.Node) {
			f.Why = fmt.Sprintf("From switch-on on %s goes off under its own load and comes back, over and over: it cannot hold that load, whatever feeds it.", j.nameOf(e.Node))
		}
	}
	j.add(f)
}

// stiff tells of a node or feed whose source does not give way: the mains, or a supply without a
// resistance and a limit.
func (j *judge) stiff(id string) bool {
	p, ok := j.nodes[id]
	if !ok || len(p.feed.Sources) == 0 {
		return false
	}
	s := &p.feed.Sources[0]
	return s.Mains != nil || s.Supply != nil && s.Supply.ResistanceOhm == 0 && s.Supply.MaxCurrentA == nil
}

// nameOf is what a node, feed or body is called.
func (j *judge) nameOf(id string) string {
	if p, ok := j.nodes[id]; ok {
		return p.node.Called()
	}
	v := j.model.Variant()
	for i := range v.Bodies {
		if v.Bodies[i].ID == id {
			return v.Bodies[i].Name
		}
	}
	for i := range v.Feeds {
		switch f := &v.Feeds[i]; {
		case f.ID != id:
		case f.Name != "":
			return f.Name
		case len(f.Sources) > 0:
			return f.Sources[0].Called()
		}
	}
	return id
}
