package chain

import (
	"context"
	"fmt"
	"math"
	"slices"

	"photherm/core/driver"
	"photherm/core/root"
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

// Plane draws the plane of a driver. It fails if there is no such driver.
func (s *Solver) Plane(ctx context.Context, id string) (*Plane, error) {
	k := -1
	for i := range s.nodes {
		if s.nodes[i].id == id && s.nodes[i].kind == driverNode {
			k = i
		}
	}
	if k < 0 {
		return nil, fmt.Errorf("there is no driver %q", id)
	}
	if _, err := s.Steady(ctx); err != nil {
		return nil, err
	}
	warm := append([]float64(nil), s.y...)
	cold := make([]float64, len(warm))
	s.start(cold)
	p := &Plane{Node: id, Loads: []PlaneCurve{}, Envelopes: []PlaneCurve{}, Points: []PlanePoint{}}
	feed := &s.feeds[s.nodes[k].feed]
	type condition struct {
		name          string
		charge, share float64
	}
	conditions := []condition{{"nominal", 1, 1}, {"lowest", 1, 1 - LineShare}, {"highest", 1, 1 + LineShare}}
	if feed.charge >= 0 {
		conditions = []condition{{"full", 1, 1}, {"half", 0.5, 1}, {"empty", s.chargeAtCutoff(feed, warm), 1}}
	}
	top, most := 0.0, 0.0
	nominalV := feed.supplyV
	for _, c := range conditions {
		if feed.charge >= 0 {
			warm[feed.charge] = c.charge
		}
		feed.supplyV = nominalV * c.share
		s.prepare()
		s.electrical(warm)
		point := &s.point[k]
		env := s.nodes[k].drv.Envelope(point.inV)
		line := outline(env)
		if through, ok := s.nodes[k].drv.Through(point.inV); ok {
			line = append(past(through, env.LimitA), line[1:]...)
		}
		p.Envelopes = append(p.Envelopes, PlaneCurve{c.name, point.inV, line})
		p.Points = append(p.Points, PlanePoint{c.name, point.outV, point.outA, point.mode.String()})
		top, most = max(top, env.OpenV), max(most, point.outA)
		if !math.IsInf(env.LimitA, 1) {
			most = max(most, env.LimitA)
		}
	}
	feed.supplyV = nominalV
	s.prepare()
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

// shiftBins moves the forward voltage of all arrays below a node to an end of their
// spread; it tells whether there is any.
func (s *Solver) shiftBins(k int, sign float64) (any bool) {
	for j := s.nodes[k].kidLo; j < s.nodes[k].kidHi; j++ {
		if n := &s.nodes[j]; n.kind == arrayNode && n.binV > 0 {
			n.arr.Emitter.VfOffsetV += sign * n.binV
			any = true
		}
		any = s.shiftBins(j, sign) || any
	}
	return any
}

// chargeAtCutoff is the charge at which the resting voltage stands at the cut-off,
// a little before the loaded pack gets there.
func (s *Solver) chargeAtCutoff(f *feed, y []float64) float64 {
	low, high := 0.0, 1.0
	for range 40 {
		y[f.charge] = (low + high) / 2
		s.electrical(y)
		i := 0
		for s.feeds[i].id != f.id {
			i++
		}
		p := &s.feedAt[i]
		if (p.busV+p.busA*f.pack.ContactOhm)/float64(f.pack.Series) > f.pack.CutoffV {
			high = y[f.charge]
		} else {
			low = y[f.charge]
		}
	}
	return high
}

// LineShare is how far a supply or the mains may stand off its nominal voltage, as a
// share of it (EN 50160 for the mains).
const LineShare = 0.1

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
		at := []float64{0, e.OpenV}
		for _, p := range e.Table {
			at = append(at, p.VoltageV)
		}
		if c := e.CornerV(); c > 0 {
			at = append(at, c)
		}
		// Where table and limit cross the line bends too; so does a held power.
		for k := range 40 {
			at = append(at, e.OpenV*float64(k)/40)
		}
		slices.Sort(at)
		line := []VA{}
		for _, v := range at {
			if v <= e.OpenV {
				line = append(line, VA{v, e.CurrentA(v)})
			}
		}
		return line
	}
	if e.Folds {
		return []VA{{0, e.FoldA}, {e.OpenV - e.LimitA*e.SeriesOhm, e.LimitA}, {e.OpenV, 0}}
	}
	if e.HoldW > 0 {
		// Where the limit gives way to the power, along it, and down.
		from := 0.0
		if !math.IsInf(e.LimitA, 1) {
			from = e.HoldW / e.LimitA
		}
		from = max(from, 0.1*e.OpenV)
		line := []VA{{0, e.CurrentA(from)}}
		for k := range 13 {
			v := from + (e.OpenV-from)*float64(k)/12
			line = append(line, VA{v, e.CurrentA(v)})
		}
		return line
	}
	if math.IsInf(e.LimitA, 1) {
		return []VA{{0, e.OpenV / e.SeriesOhm}, {e.OpenV, 0}}
	}
	return []VA{{0, e.LimitA}, {max(e.CornerV(), 0), e.LimitA}, {e.OpenV, 0}}
}

// loadCurve samples what hangs on a driver, up to a voltage and a current.
func (s *Solver) loadCurve(k int, y []float64, topV, topA float64) []VA {
	n := &s.nodes[k]
	s.electrical(y)
	draw := func(v float64) float64 { return s.drawAll(n.kidLo, n.kidHi, v) }
	// From where a thousandth of the current flows to where all of it does.
	end := topV
	if most := draw(topV); most > topA {
		end = root.Bracketed(func(v float64) float64 { return draw(v) - topA }, 0, -topA, topV, most-topA, 1e-6*topV)
	}
	start := end
	for start > 0.02*end && draw(start) > 1e-3*topA {
		start *= 0.98
	}
	out := make([]VA, 0, planePoints+1)
	for i := range planePoints + 1 {
		v := start + (end-start)*float64(i)/planePoints
		out = append(out, VA{tidy(v), tidy(draw(v))})
	}
	return out
}
