package chain

import (
	"context"
	"fmt"
	"math"
	"slices"

	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/root"
	"photherm/core/source"
)

// A Plane is a driver and its load on the current–voltage plane: the operating
// point is where the load's curve meets the driver's envelope.
type Plane struct {
	Node      string       `json:"node" doc:"Id of the driver"`
	Loads     []PlaneCurve `json:"loads" nullable:"false" doc:"What the load draws at a voltage: cold, warm, and warm at both ends of the spread of forward voltage"`
	Envelopes []PlaneCurve `json:"envelopes" nullable:"false" doc:"What the driver offers: with the pack full, half and at its cut-off (empty), or with a supply or the mains at its lowest, nominal and highest"`
	Points    []PlanePoint `json:"points" nullable:"false" doc:"Where they meet, warmed up"`
}

// A PlaneCurve is a line of points.
type PlaneCurve struct {
	Name   string  `json:"name"`
	InV    float64 `json:"inV" doc:"Driver input of an envelope, V"`
	Points []VA    `json:"points" nullable:"false"`
}

// VA is a point of the plane.
type VA struct {
	V float64 `json:"v" doc:"Volts"`
	A float64 `json:"a" doc:"Amperes"`
}

// A PlanePoint is an operating point.
type PlanePoint struct {
	Name string  `json:"name"`
	OutV float64 `json:"outV"`
	OutA float64 `json:"outA"`
	Mode string  `json:"mode"`
}

const planePoints = 60

// Plane draws the plane of a driver. It fails if there is no such driver. Where there
// is no state at rest the points are those at switch-on.
func (s *Solver) Plane(ctx context.Context, id string) (p *Plane, err error) {
	defer circuit.Caught(&err)
	k := s.Net.Find(id, circuit.Driver)
	if k < 0 {
		return nil, fmt.Errorf("there is no driver %q", id)
	}
	if err := s.rest(ctx); err != nil {
		return nil, err
	}
	warm := append([]float64(nil), s.y...)
	cold := make([]float64, len(warm))
	s.start(cold)
	p = &Plane{Node: id, Loads: []PlaneCurve{}, Envelopes: []PlaneCurve{}, Points: []PlanePoint{}}
	top, most := 0.0, 0.0
	for _, c := range s.conditions(s.Nodes[k].Feed, warm) {
		s.Look()
		point := &s.Point[k]
		c.solve()
		env := s.Nodes[k].Drv.Envelope(point.InnerV)
		line := outline(env)
		if through, ok := s.Nodes[k].Drv.Through(point.InnerV); ok {
			line = append(past(through, env.LimitA), line[1:]...)
		}
		p.Envelopes = append(p.Envelopes, PlaneCurve{c.name, point.InnerV, line})
		p.Points = append(p.Points, PlanePoint{c.name, point.OutV, point.OutA, point.Mode.String()})
		top, most = max(top, env.NoLoadV()), max(most, point.OutA)
		if !math.IsInf(env.LimitA, 1) {
			most = max(most, env.LimitA)
		}
	}
	for _, c := range []struct {
		name string
		y    []float64
	}{{"cold", cold}, {"warm", warm}} {
		p.Loads = append(p.Loads, PlaneCurve{Name: c.name, Points: s.loadCurve(k, c.y, top, 1.25*most)})
	}
	for _, side := range []struct {
		name string
		sign float64
	}{{"low bin", -1}, {"high bin", 1}} {
		if s.shiftBins(k, side.sign) {
			p.Loads = append(p.Loads, PlaneCurve{Name: side.name, Points: s.loadCurve(k, warm, top, 1.25*most)})
			s.shiftBins(k, -side.sign)
		}
	}
	return p, nil
}

// A condition of the source is a name and a way to solve there.
type condition struct {
	name  string
	solve func()
}

// conditions are those a feed's first source may be in: its charge full, half and at
// its cut-off, or its voltage at its lowest, nominal and highest.
func (s *Solver) conditions(feed int, y []float64) []condition {
	f := &s.Feeds[feed]
	if f.FeederLo == f.FeederHi {
		return []condition{{"nominal", func() { s.electrical(y) }}}
	}
	first := f.FeederLo
	feeder := &s.Feeders[first]
	if feeder.IsPack {
		at := func(charge float64) func() {
			return func() {
				feeder.Law.Start(feeder.States(y), charge)
				s.electrical(y)
			}
		}
		return []condition{{"full", at(1)}, {"half", at(0.5)}, {"empty", func() { at(s.chargeAtCutoff(first, y))() }}}
	}
	supply := feeder.Law.(*source.Supply)
	at := func(share float64) func() {
		return func() {
			other := *supply
			other.VoltageV *= share
			feeder.Law = &other
			s.electrical(y)
			feeder.Law = supply
		}
	}
	spread := source.Spread(s.m.sourceOf(feed))
	if spread == 0 {
		return []condition{{"nominal", at(1)}}
	}
	return []condition{{"nominal", at(1)}, {"lowest", at(1 - spread)}, {"highest", at(1 + spread)}}
}

// sourceOf is the source in use of a feed.
func (m *Model) sourceOf(feed int) *design.Source {
	f := &m.net.Variant.Feeds[feed]
	return &f.Sources[m.options.Source[f.ID]]
}

// shiftBins moves the forward voltage of all arrays below a node to an end of their
// spread; it tells whether there is any.
func (s *Solver) shiftBins(k int, sign float64) (any bool) {
	for j := s.Nodes[k].KidLo; j < s.Nodes[k].KidHi; j++ {
		if n := &s.Nodes[j]; n.Kind == circuit.Array && n.BinV > 0 {
			n.Arr.Emitter.VfOffsetV += sign * n.BinV
			any = true
		}
		any = s.shiftBins(j, sign) || any
	}
	return any
}

// chargeAtCutoff is the charge at which the loaded cells stand at the cut-off.
func (s *Solver) chargeAtCutoff(feeder int, y []float64) float64 {
	f := &s.Feeders[feeder]
	low, high := 0.0, 1.0
	for range 40 {
		mid := (low + high) / 2
		f.Law.Start(f.States(y), mid)
		s.electrical(y)
		if s.protection(feeder, s.FeederAt).AboveV > 0 {
			high = mid
		} else {
			low = mid
		}
	}
	return high
}

// past is the way past a step-up that conducts, down to the current it holds when it
// does not.
func past(through driver.Envelope, limitA float64) []VA {
	if knee := through.OpenV - limitA*through.SeriesOhm; knee > 0 {
		return []VA{{0, through.OpenV / through.SeriesOhm}, {knee, limitA}}
	}
	return []VA{{0, limitA}}
}

// outline is an envelope as a line from 0 V to where it offers nothing.
func outline(e driver.Envelope) []VA {
	if len(e.Table) > 0 {
		at := []float64{0, e.NoLoadV()}
		for _, p := range e.Table {
			at = append(at, p.VoltageV)
		}
		if c := e.CornerV(); c > 0 {
			at = append(at, c)
		}
		// Where table and limit cross the line bends too; so does a held power.
		for k := range 40 {
			at = append(at, e.NoLoadV()*float64(k)/40)
		}
		slices.Sort(at)
		line := []VA{}
		for _, v := range at {
			if v <= e.NoLoadV() {
				line = append(line, VA{v, e.CurrentA(v)})
			}
		}
		return line
	}
	if e.Folds {
		return []VA{{0, e.FoldA}, {max(e.CornerV(), 0), e.LimitA}, {e.NoLoadV(), 0}}
	}
	if e.HoldW > 0 {
		// Where the limit gives way to the power, along it, and down.
		from := 0.0
		if !math.IsInf(e.LimitA, 1) {
			from = e.HoldW / e.LimitA
		}
		from = max(from, 0.1*e.NoLoadV())
		line := []VA{{0, e.CurrentA(from)}}
		for k := range 13 {
			v := from + (e.NoLoadV()-from)*float64(k)/12
			line = append(line, VA{v, e.CurrentA(v)})
		}
		return line
	}
	if math.IsInf(e.LimitA, 1) {
		return []VA{{0, e.NoLoadV() / e.SeriesOhm}, {e.NoLoadV(), 0}}
	}
	line := []VA{{0, e.LimitA}, {max(e.CornerV(), 0), e.LimitA}}
	if v := e.PassesV(); v > e.CornerV() {
		line = append(line, VA{v, e.CurrentA(v)})
	}
	return append(line, VA{e.NoLoadV(), 0})
}

// loadCurve samples what hangs on a driver, up to a voltage and a current.
func (s *Solver) loadCurve(k int, y []float64, topV, topA float64) []VA {
	s.electrical(y)
	volts, amps := make([]float64, planePoints+1), make([]float64, planePoints+1)
	draw := func(v float64) float64 {
		volts[0] = v
		s.CurveAt(k, volts[:1], amps[:1])
		return amps[0]
	}
	// From where a thousandth of the current flows to where all of it does.
	end := topV
	if most := draw(topV); most > topA {
		end = root.Bracketed(func(v float64) float64 { return draw(v) - topA }, 0, -topA, topV, most-topA, 1e-6*topV)
	}
	start := end
	for start > 0.02*end && draw(start) > 1e-3*topA {
		start *= 0.98
	}
	for i := range volts {
		volts[i] = start + (end-start)*float64(i)/planePoints
	}
	s.CurveAt(k, volts, amps)
	out := make([]VA, len(volts))
	for i := range out {
		out[i] = VA{tidy(volts[i]), tidy(amps[i])}
	}
	return out
}
