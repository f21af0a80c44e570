package search

import (
	"context"
	"fmt"
	"math"
	"slices"

	"photherm/core/array"
	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/emitter"
)

// An ArrayMatch is emitters and the way of wiring them that fits a driver best.
type ArrayMatch struct {
	Match
	Series   int
	Parallel int // on each board
	Emitters int // in all, on as many boards as there are now
}

// The ways of wiring that are tried.
const (
	mostSeries   = 40
	mostParallel = 8
)

// Arrays judges emitters on the driver that stands at the place, each wired in the
// way that fits and gives the most light that is worth its emitters. The driver keeps its
// setting, the array its number of boards and its ballast. onHand is how many there are of each: of
// ways that fit, those there are enough for go first; 0, or nil: it does not matter.
func (q *Question) Arrays(ctx context.Context, d *design.Driver, use *design.DriverUse, arrayNode string, candidates []*design.Emitter, onHand []int) ([]ArrayMatch, error) {
	law, missing := driver.New(d, use)
	if law.Family == driver.Absent {
		return nil, fmt.Errorf("matching emitters: %s", missing[0].Why)
	}
	node := design.FindNode(q.loads, arrayNode)
	if node == nil || node.Array == nil {
		return nil, fmt.Errorf("there is no array %q", arrayNode)
	}
	boards := max(node.Array.Count, 1)
	asked := *q
	asked.wantedA = 0
	asked.open = "" // it is these that are tried in the place
	var out []ArrayMatch
	if len(q.sources) == 0 {
		for i := range candidates {
			out = append(out, ArrayMatch{Match: Match{Index: i, Fit: NotYet, after: q.open}})
		}
		return out, nil
	}
candidates:
	for i, e := range candidates {
		model, err := emitter.New(e)
		if err != nil {
			return nil, fmt.Errorf("matching emitters: %w", err)
		}
		have := 0
		if onHand != nil {
			have = onHand[i]
		}
		best := ArrayMatch{Match: Match{Index: i, Fit: No, why: incomplete}}
		// What stands there now stays wired as it is, if that fits.
		kept := q.standsAs(node.Array, e)
		asked.maxA, asked.ratedA = orInf(e.MaxCurrentA), orInf(e.RatedCurrentA)
		for parallel := 1; parallel <= mostParallel; parallel++ {
			if ctx.Err() != nil {
				return nil, fmt.Errorf("matching emitters: %w", ctx.Err())
			}
			for series := 1; series <= mostSeries; series++ {
				shape := design.Array{Series: series, Parallel: parallel, Count: boards, BallastOhm: node.Array.BallastOhm}
				for k := range asked.sources {
					if !asked.sources[k].solver.TryArray(arrayNode, array.New(&shape, model)) {
						return nil, fmt.Errorf("there is no array %q", arrayNode)
					}
				}
				one, err := asked.judge(ctx, i, d, law)
				if err != nil {
					return nil, fmt.Errorf("matching emitters: %w", err)
				}
				m := ArrayMatch{one, series, parallel, series * parallel * boards}
				if kept(&m) {
					out = append(out, m)
					continue candidates
				}
				if better(&m, &best, have) {
					best = m
				}
			}
		}
		out = append(out, best)
	}
	slices.SortStableFunc(out, func(a, b ArrayMatch) int {
		if a.Fit != b.Fit {
			return fitOrder[a.Fit] - fitOrder[b.Fit]
		}
		return int(max(-1, min(1, b.FluxLm-a.FluxLm)))
	})
	return out, nil
}

// standsAs tells the wiring of an array, where it is of these emitters and fits.
func (q *Question) standsAs(a *design.Array, e *design.Emitter) func(m *ArrayMatch) bool {
	part := q.light.Part(a.PartID)
	same := part != nil && part.Emitter == e
	return func(m *ArrayMatch) bool {
		return same && m.Fit == Fits && m.Series == a.Series && m.Parallel == max(a.Parallel, 1)
	}
}

// better prefers what fits, then what there are enough emitters for, of those at hand, then light, or
// watts where the light is not known, as far as it is worth its emitters.
func better(a, b *ArrayMatch, have int) bool {
	lacks := func(m *ArrayMatch) bool { return have > 0 && m.Emitters > have }
	switch {
	case b.why == incomplete:
		return true
	case a.Fit != b.Fit:
		return fitOrder[a.Fit] < fitOrder[b.Fit]
	case a.Fit == No:
		return a.why > b.why // the later reason is the smaller matter
	case lacks(a) != lacks(b):
		return lacks(b)
	}
	worth, was := a.FluxLm, b.FluxLm
	if worth == 0 && was == 0 {
		worth, was = a.OutW, b.OutW
	}
	return worth*plainness(a) > was*plainness(b)*1.001
}

// plainness weighs light against emitters: twice as many have to give 7 % more (chosen), or
// the few are the better wiring.
func plainness(m *ArrayMatch) float64 { return math.Pow(float64(m.Series*m.Parallel), -0.1) }

func orInf(p *float64) float64 {
	if p == nil {
		return math.Inf(1)
	}
	return *p
}
