// Package search asks the chain over candidate parts: which drivers fit these
// emitters, which emitters fit this driver, which cells fit this light. It asks the
// same electrical solve as everything else, with one part exchanged.
package search

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/source"
	"photherm/core/units"
)

// A Fit says how well a candidate does.
type Fit string

// Fits: use it. Nearly: one emitter, one cell, or 5 % of a voltage or current away; or it
// works with a drawback, such as an early end. NotYet: what is known speaks for it, and
// what it hangs together with is not chosen. No: it does not.
const (
	Fits   Fit = "fits"
	Nearly Fit = "nearly"
	NotYet Fit = "not-yet"
	No     Fit = "no"
)

// A reason is why a candidate does not simply fit.
type reason int

const (
	none reason = iota
	tooHighInput
	tooLowInput
	stepUpConducts
	noHeadroom
	outsideWindow
	staysDark
	overMaximum
	belowLowest
	farFromWanted
	overWatts
	overHeated
	locksOut
	tripsBoard
	incomplete
	tooBig
	belowRange
	offWanted
	// from here on: drawbacks
	stopsEarly
	headroomEnds
	tripsLater
	overRated
	littleSpare
)

// nearBy is how far a voltage or a current may be from what would fit to be nearly there.
const nearBy = 0.05

// almost tells a limit that is crossed by less than that. What an emitter or a part
// bears at most is not to be crossed at all.
func (m *Match) almost() bool {
	off := math.Abs(m.value - m.limit)
	switch m.why {
	case tooLowInput, noHeadroom, belowLowest, belowRange:
		return off <= nearBy*m.limit
	case offWanted:
		return off <= (nearWanted+nearBy)*m.limit
	case outsideWindow:
		return m.limit > 0 && off <= nearBy*m.limit
	}
	return false
}

// A Match is one candidate judged.
type Match struct {
	Index  int     // of the candidate
	Fit    Fit     // how well it does
	OutA   float64 // current it gives
	LossW  float64 // heat in it
	FluxLm float64
	OutW   float64 // what the emitters get
	why    reason
	value  float64
	limit  float64
	off    float64 // distance from the wanted current
	source string  // with which source; empty: there is only one
	from   string  // the driver it hangs on; empty: on the source itself
	after  string  // what would mend it, or is not judged yet
}

// Why is one line, empty for a candidate that simply fits.
func (m *Match) Why() string {
	why := m.reason()
	if m.after != "" {
		why = strings.TrimPrefix(why+"; "+m.after, "; ")
	}
	if why != "" && m.source != "" {
		return m.source + ": " + why
	}
	return why
}

func (m *Match) reason() string {
	amps := func(x float64) string {
		if x < nothingA {
			return "next to nothing"
		}
		return units.Amps(x)
	}
	volts := units.Volts
	from := "the source"
	if m.from != "" {
		from = m.from
	}
	switch m.why {
	case tooHighInput:
		return fmt.Sprintf("%s reaches %s, it bears %s", from, volts(m.value), volts(m.limit))
	case tooLowInput:
		return fmt.Sprintf("%s gives %s at most, it starts at %s", from, volts(m.value), volts(m.limit))
	case stepUpConducts:
		return fmt.Sprintf("a step-up, and %s at %s is not below the emitters at %s", from, volts(m.value), volts(m.limit))
	case noHeadroom:
		return fmt.Sprintf("even from a full source it reaches only %s of %s", amps(m.value), amps(m.limit))
	case outsideWindow:
		if m.limit > 0 {
			return fmt.Sprintf("the emitters stand at %s, its window ends at %s", volts(m.value), volts(m.limit))
		}
		return fmt.Sprintf("the emitters stand at %s, outside its window", volts(m.value))
	case staysDark:
		return fmt.Sprintf("the emitters stay dark: each gets %s of a rated %s", amps(m.value), amps(m.limit))
	case overMaximum:
		return fmt.Sprintf("each emitter would get %s, its maximum is %s", amps(m.value), amps(m.limit))
	case belowLowest:
		return fmt.Sprintf("it cannot go below %s, wanted are %s", amps(m.limit), amps(m.value))
	case farFromWanted:
		return fmt.Sprintf("it gives %s, wanted are %s", amps(m.value), amps(m.limit))
	case overWatts:
		return fmt.Sprintf("it would give %s and is rated %s", units.Watts(m.value), units.Watts(m.limit))
	case overHeated:
		return fmt.Sprintf("it would turn %s into heat and bears %s", units.Watts(m.value), units.Watts(m.limit))
	case locksOut:
		return from + " breaks down under it"
	case tripsBoard:
		return fmt.Sprintf("the pack would give %s, and its board trips above %s", amps(m.value), amps(m.limit))
	case tripsLater:
		return fmt.Sprintf("drained, the pack would give %s, and its board trips above %s", amps(m.value), amps(m.limit))
	case tooBig:
		return fmt.Sprintf("it needs %s, and there is room for %s", millimetres(m.value), millimetres(m.limit))
	case incomplete:
		return "its data do not tell its current or voltage"
	case stopsEarly:
		return fmt.Sprintf("it stops at %s, before the source is drained to %s", volts(m.limit), volts(m.value))
	case belowRange:
		return fmt.Sprintf("the emitters stand at %s, its voltage begins at %s: below that it may give up and try again", volts(m.value), volts(m.limit))
	case headroomEnds:
		return fmt.Sprintf("drained, %s holds only %s of %s", from, amps(m.value), amps(m.limit))
	case overRated:
		return fmt.Sprintf("each emitter gets %s, rated are %s", amps(m.value), amps(m.limit))
	case littleSpare:
		return fmt.Sprintf("it gives %s of a rated %s: little to spare", units.Watts(m.value), units.Watts(m.limit))
	case offWanted:
		return fmt.Sprintf("it gives %s, wanted are %s", amps(m.value), amps(m.limit))
	}
	return ""
}

func millimetres(m float64) string { return fmt.Sprintf("%.3g mm", 1000*m) }

// nothingA is a current below which no light is worth the name.
const nothingA = 1e-5

// Bounds of a match (common practice).
const (
	nearWanted  = 0.1 // within a tenth of the wanted current
	farWanted   = 0.4
	leastMargin = 1.1  // of rated watts
	warmC       = 85   // of a junction at work
	darkShare   = 0.01 // of the rated current: chosen; below it nobody calls that light
)

// supplied is one of the sources the light must accept, with a solver for it.
type supplied struct {
	name      string
	from      string // the last driver before the place; empty: none
	solver    *circuit.Solver
	low, high float64 // V; drained and full
	pack      bool
	tripA     float64 // the board of the pack trips above it, A; 0: none does
	feeder    int     // of the solver, that gives it
}

// A Question is a place in a light for which parts are sought.
type Question struct {
	node    string
	sources []supplied
	wantedA float64
	maxA    float64 // of an emitter as mounted; +Inf: unknown
	ratedA  float64
	coldC   float64
	part    *design.Driver // in place now; nil: none
	use     design.DriverUse
	loads   []design.Node // what hangs on it

	light   *design.Light
	variant int
	drained float64 // charge down to which it must hold
	open    string  // what is not chosen yet, in words; empty: all is
	standV  float64 // without a source: where the emitters stand at the wanted current; 0: not known
	beside  []neighbour
	looked  bool // for neighbours
	mains   bool // it hangs on the mains themselves
}

// InPlace is the driver that stands at the place now, and its settings.
func (q *Question) InPlace() (*design.Driver, *design.DriverUse) { return q.part, &q.use }

// NewQuestion compiles a light for each source its feed must accept. The wanted
// current is that of the driver in place now, or the rated current of what hangs
// there.
func NewQuestion(light *design.Light, variant int, node string) (*Question, error) {
	if variant < 0 || variant >= len(light.Variants) {
		return nil, fmt.Errorf("there is no variant %d", variant)
	}
	parts := map[string]*design.Part{}
	for i := range light.Parts {
		parts[light.Parts[i].ID] = &light.Parts[i]
	}
	q := &Question{node: node, light: light, variant: variant, drained: drainedCharge, maxA: math.Inf(1), ratedA: math.Inf(1), coldC: light.Conditions.AmbientC}
	for i := range light.Variants[variant].Feeds {
		f := &light.Variants[variant].Feeds[i]
		n := design.FindNode(f.Loads, node)
		if n == nil {
			continue
		}
		if n.Driver == nil {
			return nil, fmt.Errorf("%q is not a driver", node)
		}
		q.wanted(n, parts)
		for k := range f.Sources {
			m, err := circuit.Compile(light, variant, map[string]int{f.ID: k}, circuit.NewLaws(), nil)
			if err != nil {
				return nil, err
			}
			s := supplied{name: f.Sources[k].Called(), solver: m.Solver()}
			var cell *design.Cell
			if pack := f.Sources[k].Pack; pack != nil && parts[pack.PartID] != nil {
				cell = parts[pack.PartID].Cell
				if board := parts[pack.ProtectionID]; board != nil && board.Protect != nil && board.Protect.MaxA != nil {
					s.tripA = *board.Protect.MaxA
					s.feeder = slices.IndexFunc(m.Feeders, func(x circuit.Feeder) bool { return x.SourceID == f.Sources[k].ID && x.IsPack })
				}
			}
			var chosen bool
			if s.low, s.high, chosen = source.Voltages(&f.Sources[k], cell); !chosen {
				continue
			}
			s.pack = cell != nil
			s.behind(f, node, parts)
			q.mains = q.mains || f.Sources[k].Mains != nil && s.from == ""
			q.sources = append(q.sources, s)
		}
		q.open = unfinished(n.Loads)
		if len(n.Loads) == 0 {
			q.open = "nothing hangs on it yet"
		}
		if len(q.sources) == 0 {
			q.open = "no source is chosen yet"
			return q, q.stand()
		}
		return q, nil
	}
	return nil, fmt.Errorf("there is no node %q", node)
}

// behind takes a source's range through the drivers that stand before a place.
func (s *supplied) behind(f *design.Feed, node string, parts map[string]*design.Part) {
	above, _ := design.DriversAbove(f.Loads, node)
	for _, n := range above {
		part := parts[n.Driver.PartID]
		if part == nil || part.Driver == nil {
			s.low, s.high = math.NaN(), math.NaN()
			return
		}
		var ok bool
		if s.low, s.high, ok = driver.Behind(part.Driver, n.Driver, s.low, s.high); !ok {
			s.low, s.high = math.NaN(), math.NaN() // only the solve tells
			return
		}
		s.from = n.Called()
	}
}

// wanted finds the current to aim at and what the emitters below bear.
func (q *Question) wanted(n *design.Node, parts map[string]*design.Part) {
	rated := 0.0
	var below func(nodes []design.Node, times float64)
	below = func(nodes []design.Node, times float64) {
		for i := range nodes {
			a := nodes[i].Array
			of := times * float64(max(nodes[i].Count, 1))
			if a != nil && parts[a.PartID] != nil {
				e := parts[a.PartID].Emitter
				size := a.RowsMounted(e)
				if e.MaxCurrentA != nil {
					q.maxA = min(q.maxA, *e.MaxCurrentA*size)
				}
				if e.RatedCurrentA == nil && a.WantedA != nil {
					rated += *a.WantedA * of * float64(a.Parallel*max(a.Count, 1))
				}
				if e.RatedCurrentA != nil {
					q.ratedA = min(q.ratedA, *e.RatedCurrentA*size)
					// What is wanted of an emitter is respected below its rating.
					each := *e.RatedCurrentA * size
					if a.WantedA != nil {
						each = min(each, *a.WantedA)
					}
					rated += each * of * float64(a.Parallel*max(a.Count, 1))
				}
			}
			below(nodes[i].Loads, of)
		}
	}
	below(n.Loads, 1)
	q.wantedA, q.use, q.loads = rated, *n.Driver, n.Loads
	if p := parts[n.Driver.PartID]; p != nil && p.Driver != nil {
		q.part = p.Driver
		if set := driver.SetCurrentA(p.Driver, n.Driver); set != nil {
			q.wantedA = *set
		}
	}
}

// WantedA is the current the matches aim at, A; 0: none known.
func (q *Question) WantedA() float64 { return q.wantedA }

// Drivers judges candidates, those that fit first, the nearest to the wanted
// current and the least lossy ahead. It does not allocate per candidate.
func (q *Question) Drivers(ctx context.Context, candidates []*design.Driver) (out []Match, err error) {
	out = make([]Match, len(candidates))
	var use design.DriverUse
	var set float64
	for i, d := range candidates {
		if i%64 == 0 && ctx.Err() != nil {
			return nil, fmt.Errorf("matching drivers: %w", ctx.Err())
		}
		use = design.DriverUse{}
		if a, ok := q.settable(d); ok {
			set = a
			use.SetCurrentA = &set
		}
		law, ok := driver.Prepared(d, &use)
		out[i] = Match{Index: i, Fit: No, why: incomplete}
		if ok {
			if out[i], err = q.weigh(ctx, i, d, law); err != nil {
				return nil, fmt.Errorf("matching drivers: %w", err)
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Match) int { return inOrder(&a, &b, true, true) })
	return out, nil
}

// settable is the current nearest to the wanted one that a driver can be set to; not
// ok if it is fixed.
func (q *Question) settable(d *design.Driver) (float64, bool) {
	if q.wantedA <= 0 {
		if q.open == "" || d.MaxCurrentA == nil {
			return 0, false
		}
		return *d.MaxCurrentA, true // as far as it goes: nobody knows yet what is wanted
	}
	if len(d.JumperA) > 0 {
		return driver.Nearest(d.JumperA, q.wantedA)
	}
	if d.ProgramV != nil && d.MaxCurrentA != nil {
		least := 0.0
		if d.MinCurrentA != nil {
			least = *d.MinCurrentA
		}
		return max(least, min(q.wantedA, *d.MaxCurrentA)), true
	}
	if d.MinCurrentA == nil || d.MaxCurrentA == nil {
		return 0, false
	}
	return max(*d.MinCurrentA, min(q.wantedA, *d.MaxCurrentA)), true
}

// judge asks one driver at every source, full and drained, cold and warm.
func (q *Question) judge(ctx context.Context, index int, d *design.Driver, law driver.Driver) (Match, error) {
	worst := Match{Index: index, Fit: Fits}
	source, from := "", ""
	note := func(why reason, value, limit float64) {
		// The gravest, and of one kind the farthest off.
		if worst.why == none || why < worst.why || (why == worst.why && math.Abs(value-limit) > math.Abs(worst.value-worst.limit)) {
			worst.why, worst.value, worst.limit, worst.source, worst.from = why, value, limit, source, from
		}
	}
	target := q.wantedA
	first := true
	for k := range q.sources {
		s := &q.sources[k]
		from = s.from
		if len(q.sources) > 1 {
			source = s.name
		}
		if d.InputMaxV != nil && s.high > *d.InputMaxV {
			note(tooHighInput, s.high, *d.InputMaxV)
			continue
		}
		if s.high < law.InputMinV {
			note(tooLowInput, s.high, law.InputMinV)
			continue
		}
		if s.low < law.InputMinV && q.drained == drainedCharge {
			note(stopsEarly, s.low, law.InputMinV)
		}
		s.solver.TryDriver(q.node, law)
		for _, c := range [...]struct{ charge, tempC float64 }{{1, q.coldC}, {1, warmC}, {q.drained, q.coldC}} {
			if c.charge < 1 && !s.pack {
				continue
			}
			p, ok, err := s.solver.ProbeAt(ctx, q.node, c.charge, c.tempC)
			if err != nil {
				return worst, err
			}
			if !ok {
				continue
			}
			if q.open != "" {
				continue // only what the source does to it is known
			}
			q.crossed(d, &law, &p, c.charge == 1, note)
			if a := s.solver.OnFeeder[s.feeder].CurrentA; s.tripA > 0 && a > s.tripA {
				if c.charge == 1 {
					note(tripsBoard, a, s.tripA)
				} else {
					note(tripsLater, a, s.tripA)
				}
			}
			if first {
				worst.OutA, worst.LossW, worst.FluxLm, worst.OutW, first = p.OutA, p.LossW, p.FluxLm, p.OutV*p.OutA, false
				if target > 0 {
					worst.off = math.Abs(p.OutA/target - 1)
				}
			}
		}
	}
	source, from = "", ""
	// Below its lowest current it is out as it is above its highest, however it is set.
	if d.MinCurrentA != nil && target > 0 && target < *d.MinCurrentA*(1-1e-9) {
		note(belowLowest, target, *d.MinCurrentA)
	}
	if target > 0 && !first {
		switch off := math.Abs(worst.OutA/target - 1); {
		case q.open != "":
		case off > farWanted:
			note(farFromWanted, worst.OutA, target)
		case off > nearWanted:
			note(offWanted, worst.OutA, target)
		}
	}
	if over, is := driver.TooBig(d, &q.light.Brief); is {
		note(tooBig, over.IsM, over.RoomM)
	}
	switch {
	case worst.why == none:
	case worst.why >= stopsEarly || worst.almost():
		worst.Fit = Nearly
	default:
		worst.Fit = No
	}
	return worst, nil
}

// crossed notes every limit that a driver crosses at one operating point.
func (q *Question) crossed(d *design.Driver, law *driver.Driver, p *circuit.Probe, full bool, note func(why reason, value, limit float64)) {
	set := law.LimitA()
	switch {
	case p.Mode == driver.Uncontrolled:
		note(stepUpConducts, p.InV, p.OutV)
	case p.BreaksDown || p.InV <= 0:
		note(locksOut, 0, 0)
	case p.Outside:
		note(outsideWindow, p.OutV, windowEnd(d, p.OutV))
	case law.Regulates() && p.OutA < 0.98*set && full:
		note(noHeadroom, p.OutA, set)
	case law.Regulates() && p.OutA < 0.9*set:
		note(headroomEnds, p.OutA, set)
	}
	if law.Family == driver.Voltage && d.MinVoltageV != nil && p.OutV < *d.MinVoltageV*(1-1e-6) {
		note(belowRange, p.OutV, *d.MinVoltageV)
	}
	// Not where it is told to give so little.
	if held := set > 0 && p.OutA >= 0.9*set; full && !held && !law.Off && law.Level > 0 && !math.IsInf(q.ratedA, 1) && p.StringA < darkShare*q.ratedA {
		note(staysDark, p.StringA, q.ratedA)
	}
	if p.StringA > q.maxA*(1+1e-9) {
		note(overMaximum, p.StringA, q.maxA)
	} else if p.StringA > q.ratedA*(1+1e-9) {
		note(overRated, p.StringA, q.ratedA)
	}
	if d.RatedW != nil && p.LossW > *d.RatedW {
		note(overHeated, p.LossW, *d.RatedW)
	}
	if w := p.OutV * p.OutA; d.MaxOutputW != nil && w > *d.MaxOutputW {
		note(overWatts, w, *d.MaxOutputW)
	} else if d.MaxOutputW != nil && w*leastMargin > *d.MaxOutputW {
		note(littleSpare, w, *d.MaxOutputW)
	}
}

// windowEnd is the end of a driver's window beyond which a voltage lies, V; 0: none is
// known.
func windowEnd(d *design.Driver, v float64) float64 {
	switch {
	case d.MinVoltageV != nil && v < *d.MinVoltageV:
		return *d.MinVoltageV
	case d.MaxVoltageV != nil && v > *d.MaxVoltageV:
		return *d.MaxVoltageV
	}
	return 0
}

// drainedCharge is the charge taken for a drained pack.
const drainedCharge = 0.02
