package verdict

import (
	"fmt"
	"math"
	"strings"

	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/source"
	"photherm/core/units"
)

// drained tells of cells that nothing switches off before they are harmed. What switches them off is
// a board or a cut-off that is said of the pack, or what hangs on it where all of that lets go in
// time; of cells in series that sees only their sum.
func (j *judge) drained(f *design.Feed, p *design.Pack, cell *design.Cell, lowV float64, add adder) {
	if p.CutoffCellV != nil || j.data(p.ProtectionID).Protect != nil || !source.DrainHarms(cell) {
		return
	}
	series := float64(max(p.Series, 1))
	what, letsGo := j.letsGo(f.Loads)
	if what == "" {
		return // nothing that draws on them is chosen yet
	}
	each := letsGo / series
	severity, limit := Caution, lowV
	if p.Series > 1 {
		severity = Stop
	}
	why, value := "", (*float64)(nil)
	switch {
	case each >= lowV*(2*driver.WireShare-1): // at it but for the tolerance of a threshold
		if p.Series < 2 || source.InOneBlock(cell) {
			return
		}
		severity, value = Caution, &each
		why = fmt.Sprintf("%s lets go at %s, which is %s a cell on the average; the weakest of %d in series is lower by then, and nothing sees it. A board that cuts at each cell does.", capital(what), units.Volts(letsGo), units.Volts(each), p.Series)
		add("cells-unwatched", severity, "/protectionId", "Only their sum is watched", why, value, &limit, "V")
		return
	case letsGo > 0:
		value = &each
		why = fmt.Sprintf("No board and no cut-off; %s lets go at %s, %s a cell, and they may be drained to %s.", what, units.Volts(letsGo), units.Volts(each), units.Volts(lowV))
	default:
		why = fmt.Sprintf("No board and no cut-off, and %s goes on at any voltage: they may be drained to %s a cell.", what, units.Volts(lowV))
	}
	why += " " + source.DrainedWords(cell)
	if p.Series > 1 {
		why += fmt.Sprintf(" Of %d in series the weakest is driven through zero first.", p.Series)
	}
	add("never-cut-off", severity, "/protectionId", "Nothing switches these cells off", why, value, &limit, "V").Fix =
		(&Fix{Label: fmt.Sprintf("Something that cuts at %s a cell", units.Volts(lowV)), Patch: []Patch{{"add", j.packAt(p) + "/cutoffCellV", lowV}}}).keeping(told("cut off at what they may be drained to"))
}

// packAt is where a pack stands in the document.
func (j *judge) packAt(p *design.Pack) string {
	v := j.model.Variant()
	for i := range v.Feeds {
		for k := range v.Feeds[i].Sources {
			if v.Feeds[i].Sources[k].Pack == p {
				return j.packPointer(&v.Feeds[i], k)
			}
		}
	}
	return j.at
}

// letsGo is the voltage below which nothing of what hangs on a bus draws any more but for what a
// driver that is out needs for itself, V, and what that is; 0: something goes on at any voltage.
func (j *judge) letsGo(loads []design.Node) (what string, v float64) {
	v = math.Inf(1)
	for i := range loads {
		name, at := j.nodeLetsGo(&loads[i])
		if at < v {
			what, v = name, at
		}
	}
	if math.IsInf(v, 1) {
		return "", 0
	}
	return what, v
}

func (j *judge) nodeLetsGo(n *design.Node) (what string, v float64) {
	switch {
	case n.Switch != nil, n.Dimmer != nil:
		if len(n.Loads) == 0 {
			return "", math.Inf(1)
		}
		return j.letsGo(n.Loads)
	case n.Aux != nil:
		if n.Aux.StartV != nil {
			return n.Called(), *n.Aux.StartV
		}
	case n.Driver != nil:
		d := j.data(n.Driver.PartID).Driver
		if d == nil {
			return "", math.Inf(1) // not chosen yet: told as such
		}
		law, _ := driver.New(d, n.Driver)
		if law.Latches() {
			return n.Called(), law.LockV
		}
		what, v = j.letsGo(n.Loads)
		if v > 0 && law.Family == driver.Dropper {
			v += law.DropV
		}
		if what == "" || !strings.Contains(what, n.Called()) && v <= 0 {
			what = n.Called()
		}
		return what, v
	}
	return n.Called(), 0
}
