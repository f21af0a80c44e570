package circuit

import (
	"context"
	"math"

	"photherm/core/array"
	"photherm/core/driver"
)

// A Probe is what search asks of one driver and what hangs on it.
type Probe struct {
	InV, OutV, OutA, LossW float64
	StringA                float64 // highest current of an emitter as mounted below it
	FluxLm                 float64
	Mode                   driver.Mode
	Outside                bool // outside its window
	BreaksDown             bool // its source breaks down under it
}

// TryDriver puts another driver in a place of the tree; it is gone with the solver.
// It tells whether there is such a place.
func (s *Solver) TryDriver(id string, d driver.Driver) bool {
	k := s.Net.Find(id, Driver)
	if k < 0 {
		return false
	}
	d.OnMains = s.Nodes[k].Drv.OnMains
	s.Nodes[k].Drv, s.Nodes[k].Level = d, d.Level
	if d.NeedsPoint() {
		s.Nodes[k].Level, s.Nodes[k].Drv.Duty = 1, 1
		s.Prepare()
		if s.solveNominal(s.Net.Light.Conditions.AmbientC) == nil && s.Point[k].OutA > 0 {
			d.TakePoint(s.Point[k].InnerV, s.Point[k].OutV, s.Point[k].OutA)
		}
		s.Nodes[k].Drv, s.Nodes[k].Level = d, d.Level
	}
	s.Prepare()
	return true
}

// TryArray puts other emitters in the place of an array.
func (s *Solver) TryArray(id string, law array.Law) bool {
	k := s.Net.Find(id, Array)
	if k < 0 {
		return false
	}
	s.Nodes[k].Arr, s.Nodes[k].Chosen = law, true
	s.Prepare()
	return true
}

// At sets every charge and every temperature, nothing locked out or cut off.
func (s *Solver) At(charge, temperatureC float64) {
	s.Start(s.Y)
	for i := range s.Feeders {
		f := &s.Feeders[i]
		f.Law.Start(f.States(s.Y), charge)
		s.CellC[i] = temperatureC
	}
	for k := range s.JunctionC {
		s.JunctionC[k] = temperatureC
	}
}

// ProbeAt solves the tree with every temperature and charge given and reads off one
// driver. It does not allocate. It is not ok if there is no such driver.
func (s *Solver) ProbeAt(ctx context.Context, id string, charge, temperatureC float64) (p Probe, ok bool, err error) {
	defer Caught(&err)
	k := s.Net.Find(id, Driver)
	if k < 0 {
		return p, false, nil
	}
	s.Within(ctx)
	s.At(charge, temperatureC)
	s.Solve()
	at := &s.On[k]
	p = Probe{InV: at.InnerV, OutV: at.OutV, OutA: at.OutA, LossW: at.LossW, Mode: at.Mode, BreaksDown: s.Collapsed[k]}
	p.Outside = at.InnerV > 0 && !s.Collapsed[k] && !s.Nodes[k].Drv.InsideWindow(at.OutV, at.OutA)
	s.belowOf(k, 1, &p)
	return p, true, nil
}

func (s *Solver) belowOf(k int, times float64, p *Probe) {
	for j := s.Nodes[k].KidLo; j < s.Nodes[k].KidHi; j++ {
		n, at := &s.Nodes[j], &s.On[j]
		p.FluxLm += times * n.Count * at.FluxLm
		if n.Kind == Array && n.Chosen && at.InA > 0 {
			for g := range n.Arr.Groups {
				p.StringA = max(p.StringA, n.Arr.ShareA(g, at.OutV, at.InA, s.JunctionC[j]))
			}
		}
		s.belowOf(j, times*n.Count, p)
	}
}

// KnobTravel tells for each constant-voltage supply with a range of current over
// what share of its current knob's travel it dims the present load at a temperature:
// the load's own current is found with the limit taken away.
func (s *Solver) KnobTravel(ctx context.Context, temperatureC float64) (out map[string]float64, err error) {
	defer Caught(&err)
	s.Within(ctx)
	out = map[string]float64{}
	for k := range s.Nodes {
		n := &s.Nodes[k]
		if n.Kind != Driver || n.Drv.Family != driver.Voltage || n.Drv.KnobMaxA <= n.Drv.KnobMinA {
			continue
		}
		set := n.Drv.SetA
		n.Drv.SetA = math.Inf(1)
		s.At(s.Net.Charge, temperatureC)
		s.Solve()
		out[n.ID] = driver.KnobTravel(s.Point[k].OutA, n.Drv.KnobMinA, n.Drv.KnobMaxA)
		n.Drv.SetA = set
	}
	return out, nil
}

// VoltageAt is the voltage at which what hangs on a node takes a current, at the
// temperatures set, V. It is not ok if nothing takes that current.
func (s *Solver) VoltageAt(k int, currentA float64) (v float64, ok bool) {
	n := &s.Nodes[k]
	if n.KidLo == n.KidHi || n.Kind != Driver {
		return 0, false
	}
	// Solved once for all it rests on, then the bus alone.
	s.Solve()
	r := s.out[k]
	if r < 0 {
		r = s.aside(k)
		defer s.build()
	}
	s.stamp++
	s.tops(r, unboundV)
	o := offer{env: driver.Envelope{LimitA: currentA * s.buses[r].w, OpenV: unboundV, SeriesOhm: driver.WireOhm}}
	s.feed(r, &o)
	s.restart = false
	return s.buses[r].u, s.buses[r].drawA > 0.99*currentA*s.buses[r].w
}

// unboundV stands for an output without a highest voltage.
const unboundV = 1e4

// aside lays out what hangs on a node once more, behind all other buses, where it is
// taken together with its surroundings.
func (s *Solver) aside(k int) int {
	n := &s.Nodes[k]
	return s.root(k, -1, n.KidLo, n.KidHi)
}

// CurveAt samples what hangs on a node at voltages, A, at the temperatures set.
func (s *Solver) CurveAt(k int, volts []float64, dst []float64) {
	r := s.out[k]
	if r < 0 {
		r = s.aside(k)
		defer s.build()
	}
	for i, v := range volts {
		s.stamp++
		s.tops(r, v)
		dst[i] = s.drawAt(r, v) / s.buses[r].w
		s.restart = false
	}
}
