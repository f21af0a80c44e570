// Package band answers how far a light's answers may be off: its figures are drawn again and
// again within their tolerances, and the whole chain is solved each time.
package band

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"runtime"
	"slices"
	"sync"
	"sync/atomic"

	"gonum.org/v1/gonum/stat"

	"photherm/core/chain"
	"photherm/core/design"
)

// A Span is the middle four fifths of what was drawn: nine in ten lights are above Low, nine
// in ten below High.
type Span struct {
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

// A Cause is a tolerance with its share of what makes an answer differ.
type Cause struct {
	Label   string  `json:"label"`
	Pointer string  `json:"pointer" doc:"JSON Pointer of its figure in the light, where it is said"`
	Share   float64 `json:"share" doc:"Of 1, by standardised rank regression"`
	Assumed bool    `json:"assumed" doc:"Whether nobody gave the figure: to find it out comes first"`
}

// A Band is what the answers of a light are good for.
type Band struct {
	Ranges  map[string]Span    `json:"ranges" nullable:"false" doc:"By the answer: fluxLm, inputW, halfS, endS, junctionC, touchC; absent: it has none, or too few of the drawn lights have it"`
	Causes  map[string][]Cause `json:"causes" nullable:"false" doc:"What matters most for each, the most first"`
	Samples int                `json:"samples" doc:"How many lights were drawn"`
	Failed  int                `json:"failed" doc:"How many of them could not be solved"`
}

// Shares of the drawn lights: an answer that fewer have has no range (chosen), and a cause
// that explains less is not told (chosen).
const (
	enoughShare = 0.9
	leastCause  = 0.02
)

// answers are the figures that get a range.
var answers = []struct {
	name string
	of   func(a *chain.Answers) *float64
}{
	{"fluxLm", func(a *chain.Answers) *float64 { return a.FluxLm }},
	{"inputW", func(a *chain.Answers) *float64 { return &a.InputW }},
	{"halfS", func(a *chain.Answers) *float64 { return a.HalfS }},
	{"endS", func(a *chain.Answers) *float64 { return a.EndS }},
	{"junctionC", func(a *chain.Answers) *float64 { return a.JunctionC }},
	{"touchC", func(a *chain.Answers) *float64 { return a.TouchC }},
}

// Of draws so many lights and solves each; the same seed draws the same lights. What progress is
// told is how many are done, from several goroutines at once; nil: nobody is.
func Of(ctx context.Context, light *design.Light, variant, samples int, seed uint64, progress func(done int)) (*Band, error) {
	m, err := chain.Compile(light, chain.Options{Variant: variant})
	if err != nil {
		return nil, err
	}
	tolerances := drawnFigures(m)
	out := &Band{Ranges: map[string]Span{}, Causes: map[string][]Cause{}, Samples: samples}
	var draws [][]float64 // of each light that was solved, one for each tolerance
	values := make([][]float64, len(answers))
	has := make([][]int, len(answers)) // which of the draws have an answer
	for _, l := range all(ctx, m, tolerances, samples, seed, progress) {
		if l.answers == nil {
			out.Failed++
			continue
		}
		for k := range answers {
			if v := answers[k].of(l.answers); v != nil {
				values[k], has[k] = append(values[k], *v), append(has[k], len(draws))
			}
		}
		draws = append(draws, l.draw)
	}
	if err := ctx.Err(); err != nil {
		return nil, fmt.Errorf("drawing a band: %w", err)
	}
	for k := range answers {
		if len(values[k]) < int(enoughShare*float64(samples)) || len(values[k]) < 2 {
			continue
		}
		sorted := slices.Clone(values[k])
		slices.Sort(sorted)
		out.Ranges[answers[k].name] = Span{stat.Quantile(0.1, stat.LinInterp, sorted, nil), stat.Quantile(0.9, stat.LinInterp, sorted, nil)}
		of := make([][]float64, len(has[k]))
		for i, d := range has[k] {
			of[i] = draws[d]
		}
		out.Causes[answers[k].name] = causes(tolerances, of, values[k])
	}
	return out, nil
}

// A lot is a drawn light with its answers; nil: it could not be solved.
type lot struct {
	draw    []float64
	answers *chain.Answers
}

// all draws and solves the lights on all processors; each is the same whoever draws it.
func all(ctx context.Context, m *chain.Model, tolerances []Tolerance, samples int, seed uint64, progress func(done int)) []lot {
	out := make([]lot, samples)
	var done atomic.Int64
	var group sync.WaitGroup
	workers := runtime.GOMAXPROCS(0)
	broke := make([]any, workers)
	for w := range workers {
		group.Go(func() {
			defer func() { broke[w] = recover() }()
			for i := w; i < samples && ctx.Err() == nil; i += workers {
				if draw, run, err := drawn(ctx, m, tolerances, seed, i, rough); err == nil {
					a := run.Answers()
					out[i] = lot{draw, &a}
				}
				if n := done.Add(1); progress != nil {
					progress(int(n))
				}
			}
		})
	}
	group.Wait()
	for _, why := range broke {
		if why != nil {
			panic(why) // where whoever asked can catch it: elsewhere it would end the program
		}
	}
	return out
}

// drawn is one light of the draw, solved.
func drawn(ctx context.Context, m *chain.Model, tolerances []Tolerance, seed uint64, i int, rough float64) ([]float64, *chain.Run, error) {
	random := newRandom(seed + uint64(i)<<20)
	draw := make([]float64, len(tolerances))
	var changes []chain.Variation
	for k := range tolerances {
		draw[k] = tolerances[k].draw(random)
		changes = append(changes, tolerances[k].Change(draw[k]))
	}
	s := m.Solver()
	if err := s.Vary(changes...); err != nil {
		return nil, nil, err
	}
	s.Roughly(rough)
	run, err := s.Run(ctx)
	return draw, run, err
}

// rough is how many times as far off as usual the steps of a drawn light may be (chosen: an answer
// moves by less than a fiftieth of its band).
const rough = 20

func newRandom(seed uint64) *rand.Rand { return rand.New(rand.NewPCG(seed, seed^0x9e3779b97f4a7c15)) }

// causes are the shares of tolerances in an answer: squares of the coefficients of a linear
// regression between ranks, each over their standard deviation (Saltelli, Chan & Scott,
// Sensitivity Analysis, 2000, from memory). As tolerances are drawn apart from each other the
// coefficients are the rank correlations.
func causes(tolerances []Tolerance, draws [][]float64, answer []float64) []Cause {
	y := ranks(answer)
	out := []Cause{}
	x := make([]float64, len(draws))
	for k := range tolerances {
		for i := range draws {
			x[i] = draws[i][k]
		}
		r := stat.Correlation(ranks(x), y, nil)
		if share := r * r; share >= leastCause && !math.IsNaN(share) {
			out = append(out, Cause{tolerances[k].Label, tolerances[k].At, share, tolerances[k].Assumed})
		}
	}
	slices.SortStableFunc(out, func(a, b Cause) int { return int(math.Copysign(1, b.Share-a.Share)) })
	return out
}

// ranks are the places of values in their order.
func ranks(values []float64) []float64 {
	order := make([]int, len(values))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return int(math.Copysign(1, values[a]-values[b])) })
	out := make([]float64, len(values))
	for rank, i := range order {
		out[i] = float64(rank)
	}
	return out
}
