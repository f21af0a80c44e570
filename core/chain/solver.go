package chain

import (
	"context"
	"slices"

	"photherm/core/array"
	"photherm/core/circuit"
	"photherm/core/ode"
)

// A Solver holds one model with its variations and the memory to solve it. It is not
// safe for use from several goroutines; make one for each.
type Solver struct {
	*circuit.Solver
	m        *Model
	links    []link
	jPerK    []float64
	ambientC float64
	startC   float64
	edited   *edited     // the document with its variations; nil: as compiled
	stepK    float64     // how far a step may take a temperature off, K; 0: as usual
	metered  map[int]int // arrays of which a meter is in a string, and the group that string is
	rough    float64     // how many times as far off as usual a step may be; 0: once

	y           []float64 // state at the operating point that was solved last
	lowered     []bool    // of each driver that goes down by itself
	wasFull     []bool    // at rest: it was looked at undimmed by itself
	cycles      []cycle   // of each node and then each feeder
	below       []float64 // since when a feeder is below its cut-off, s; NaN: it is not
	trippedA    []float64 // what flowed when the board of a feeder tripped, A; 0: it has not
	lumpW       []float64
	sourceHeat  []float64 // heat in each source at the operating point
	rates       []float64 // of the sources' states
	holdSources bool      // while a steady state is looked for their charge stands
	stepper     *ode.Stepper
	linear      *linear
	portionRoom []array.Portion
	scratch     []float64
	residual    []float64
}

// Solver makes a solver with the model's own figures.
func (m *Model) Solver() *Solver {
	n := m.states + len(m.lumps)
	s := &Solver{
		Solver: m.net.Solver(), m: m, lumpW: make([]float64, len(m.lumps)), y: make([]float64, n),
		scratch: make([]float64, n), residual: make([]float64, n), rates: make([]float64, m.states),
		cycles: make([]cycle, len(m.net.Nodes)+len(m.net.Feeders)), below: make([]float64, len(m.net.Feeders)), trippedA: make([]float64, len(m.net.Feeders)),
		sourceHeat: make([]float64, len(m.net.Feeders)),
	}
	s.take(m)
	s.lowered, s.wasFull = make([]bool, len(m.lowers)), make([]bool, len(m.lowers))
	return s
}

// take makes the figures of a model the solver's own; its structure is the same.
func (s *Solver) take(m *Model) {
	s.m = m
	s.links = slices.Clone(m.links)
	s.jPerK = s.jPerK[:0]
	for _, l := range m.lumps {
		s.jPerK = append(s.jPerK, l.jPerK)
	}
	s.ambientC, s.startC = m.ambientC, m.startC
}

// start writes the state at switch-on and takes every latch back.
func (s *Solver) start(y []float64) {
	s.raise()
	s.Solver.Start(y[:s.m.states])
	for i := s.m.states; i < len(y); i++ {
		y[i] = s.startC
	}
	s.calm()
}

// lumpC is the temperature of a lump in state y; ambient for none.
func (s *Solver) lumpC(y []float64, lump int) float64 {
	if lump < 0 {
		return s.ambientC
	}
	return y[s.m.states+lump]
}

// electrical solves the power tree for the temperatures and source states in y and
// leaves the operating point in Point and FeedAt. Latches are taken as they stand.
func (s *Solver) electrical(y []float64) {
	copy(s.y, y)
	copy(s.Y, y[:s.m.states])
	for k, lump := range s.m.junction {
		s.JunctionC[k] = s.lumpC(y, lump)
	}
	s.warmSpots(y)
	for i, lump := range s.m.cellBody {
		s.CellC[i] = s.lumpC(y, lump)
	}
	s.Solver.Solve()
	for i := range s.Feeders {
		s.sourceHeat[i] = s.feederHeatW(i)
	}
}

// OperatingPoint solves the power tree alone, with every temperature and charge given,
// and writes the record to dst, which has one place for each column. It does not
// allocate.
func (s *Solver) OperatingPoint(charge, temperatureC float64, dst []float64) {
	s.atConditions(charge, temperatureC)
	s.electrical(s.scratch)
	s.record(dst)
}

// atConditions writes the state of given charge and temperature to s.scratch.
func (s *Solver) atConditions(charge, temperatureC float64) {
	s.start(s.scratch)
	for i := range s.Feeders {
		f := &s.Feeders[i]
		f.Law.Start(f.States(s.scratch), charge)
	}
	for i := s.m.states; i < len(s.scratch); i++ {
		s.scratch[i] = temperatureC
	}
}

// within binds what follows to a context.
func (s *Solver) within(ctx context.Context) { s.Solver.Within(ctx) }
