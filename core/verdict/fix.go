package verdict

import (
	"fmt"
	"math"
	"strings"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/root"
	"photherm/core/units"
)

func (j *judge) packPointer(f *design.Feed, source int) string {
	for i := range j.model.Variant().Feeds {
		if &j.model.Variant().Feeds[i] == f {
			return fmt.Sprintf("%s/feeds/%d/sources/%d/pack", j.at, i, source)
		}
	}
	return ""
}

func cellsInSeries(n int) string {
	if n == 1 {
		return "One cell"
	}
	return fmt.Sprintf("%d cells in series", n)
}

// oneMoreCell is the fix for a source too low, if the driver bears it.
func (j *judge) oneMoreCell(p place) *Fix {
	if len(p.feed.Sources) == 0 || p.feed.Sources[0].Pack == nil {
		return nil
	}
	pack := p.feed.Sources[0].Pack
	_, high, ok := j.sourceRange(&p.feed.Sources[0])
	d := j.data(p.node.Driver.PartID).Driver
	if !ok || (d.InputMaxV != nil && high*float64(pack.Series+1)/float64(pack.Series) > *d.InputMaxV) {
		return nil
	}
	fix := &Fix{Label: cellsInSeries(pack.Series + 1), Patch: []Patch{{"add", j.packPointer(p.feed, 0) + "/series", pack.Series + 1}}}
	if most := d.InputMaxV; most != nil {
		fix.keeps = func(*judge) string {
			return units.Volts(*most-high*float64(pack.Series+1)/float64(pack.Series)) + " below what the driver bears"
		}
	}
	return fix
}

// voltagePointer is where the voltage of a source is chosen.
func (j *judge) voltagePointer(f *design.Feed, source int) string {
	at := strings.TrimSuffix(j.packPointer(f, source), "/pack")
	switch s := &f.Sources[source]; {
	case s.Pack != nil:
		return at + "/pack/series"
	case s.Supply != nil:
		return at + "/supply/voltageV"
	case s.Mains != nil:
		return at + "/mains/voltageV"
	}
	return at
}

// feedingPointer is where the voltage that reaches a node is chosen.
func (j *judge) feedingPointer(p *place) string {
	if p.driver == nil {
		return j.voltagePointer(p.feed, 0)
	}
	if d := j.data(p.driver.node.Driver.PartID).Driver; d != nil && d.Family == "voltage" {
		return p.driver.pointer + "/driver/setVoltageV"
	}
	return p.driver.pointer + "/driver/partId"
}

// currentPointer is where the current of a driver is set: its setting, its resistor,
// or the choice of the driver itself.
func (j *judge) currentPointer(p *place) string {
	at := p.pointer + "/driver"
	d := j.data(p.node.Driver.PartID).Driver
	switch {
	case d == nil:
	case j.canSet(p):
		return at + "/setCurrentA"
	case p.node.Driver.ProgramOhm != nil:
		return at + "/programOhm"
	case d.Family == "resistor":
		return at + "/resistanceOhm"
	}
	return at + "/partId"
}

// setCurrent is the fix of setting a driver to a current, if it goes so low.
func (j *judge) setCurrent(p *place, label string, a float64) *Fix {
	if p == nil || !j.canSet(p) {
		return nil
	}
	if d := j.data(p.node.Driver.PartID).Driver; a <= 0 || (d.MinCurrentA != nil && a < *d.MinCurrentA) {
		return nil
	}
	return &Fix{Label: label + " " + units.Amps(a), Patch: []Patch{{"add", p.pointer + "/driver/setCurrentA", a}}}
}

func (j *judge) canSet(p *place) bool {
	d := j.data(p.node.Driver.PartID).Driver
	return d != nil && (holdsCurrent(d.Family) || d.Family == "voltage") && p.node.Driver.ProgramOhm == nil
}

// holdsCurrent tells whether a family regulates its output current.
func holdsCurrent(family string) bool {
	switch family {
	case "linear", "buck", "boost", "buck-boost", "window":
		return true
	}
	return false
}

// anyDriver is the driver whose set current is turned down to cool a body: the
// only one there is.
func (j *judge) anyDriver() *place {
	var found *place
	for _, id := range j.order {
		p := j.nodes[id]
		if p.node.Driver != nil && j.canSet(&p) {
			if found != nil {
				return nil
			}
			found = &p
		}
	}
	return found
}

// mostSearches bounds the fixes that are searched for: each asks for some ten steady
// states, and a light of many branches has as many findings.
const mostSearches = 6

// lessCurrent looks for the set current at which a figure settles at its limit,
// by asking the same solver with the current varied, rounded down to two digits.
func (j *judge) lessCurrent(p *place, owner, figure string, limit float64) *Fix {
	if p == nil || !j.canSet(p) || j.searches >= mostSearches {
		return nil
	}
	c, ok := j.column[[2]string{owner, figure}]
	if !ok {
		return nil
	}
	pointer := p.pointer + "/driver/setCurrentA"
	now := j.data(p.node.Driver.PartID).Driver.SetCurrentA
	if p.node.Driver.SetCurrentA != nil {
		now = p.node.Driver.SetCurrentA
	}
	if now == nil || *now <= 0 {
		return nil
	}
	j.searches++
	s := j.model.Solver()
	over := func(a float64) float64 {
		if s.Vary(chain.Variation{Pointer: pointer, Op: chain.Set, Value: a}) != nil {
			return math.NaN()
		}
		st, err := s.Steady(j.ctx)
		j.stop(err)
		if err != nil || !st.Converged {
			return 1e3
		}
		return st.Record[c] - limit
	}
	low, high := 0.02**now, *now
	fl, fh := over(low), over(high)
	if !(fl < 0) || !(fh > 0) {
		return nil
	}
	a := root.Bracketed(over, low, fl, high, fh, 1e-3**now)
	fix := j.setCurrent(p, "Set", downTo2(a))
	if fix != nil {
		fix.keeps = func(with *judge) string { return with.below(owner, figure, limit) }
	}
	return fix
}

// downTo2 is a figure rounded down to two digits.
func downTo2(x float64) float64 {
	digit := math.Pow(10, math.Floor(math.Log10(x))-1)
	return math.Round(math.Floor(x/digit*(1+1e-9))*digit*1e6) / 1e6
}

// below says how far a figure stays below a limit.
func (j *judge) below(owner, figure string, limit float64) string {
	v, ok := j.highest(owner, figure)
	if !ok || v > limit {
		return ""
	}
	if strings.HasSuffix(figure, "A") {
		return units.Amps(limit-v) + " below the limit"
	}
	return units.Kelvins(limit-v) + " below the limit"
}
