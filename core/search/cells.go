package search

import (
	"context"
	"fmt"
	"slices"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/verdict"
)

// A CellMatch is a cell in the light's pack, judged by everything that judges the
// light.
type CellMatch struct {
	Index    int
	Fit      Fit
	Why      string // the worst finding that the cell brings
	FluxLm   *float64
	HalfS    *float64
	Findings int // stops and cautions that the cell brings
	Cells    int // in the pack
}

// Cells puts each candidate in the place of the cell of a feed's first pack and
// judges the light anew: any battery of the size people may put in.
func Cells(ctx context.Context, light *design.Light, variant int, feed string, candidates []*design.Cell) ([]CellMatch, error) {
	if variant < 0 || variant >= len(light.Variants) {
		return nil, fmt.Errorf("there is no variant %d", variant)
	}
	now, err := fluxOf(ctx, light, variant)
	if err != nil {
		return nil, err
	}
	out := make([]CellMatch, len(candidates))
	for i, cell := range candidates {
		changed, err := withCell(light, variant, feed, cell)
		if err != nil {
			return nil, err
		}
		m, err := chain.Compile(changed, chain.Options{Variant: variant})
		if err != nil {
			return nil, fmt.Errorf("matching cells: %w", err)
		}
		run, err := m.Solver().Run(ctx)
		if err != nil {
			return nil, fmt.Errorf("matching cells: %w", err)
		}
		findings, err := verdict.Judge(ctx, run, variant)
		if err != nil {
			return nil, fmt.Errorf("matching cells: %w", err)
		}
		a := run.Answers()
		out[i] = CellMatch{Index: i, Fit: Fits, FluxLm: a.FluxLm, HalfS: a.HalfS, Cells: cellsOf(changed, variant, feed)}
		for _, f := range findings {
			if f.Severity == verdict.Note || f.Stage != "source" && f.Stage != "driver" && f.Stage != "emitters" {
				continue
			}
			out[i].Findings++
			if out[i].Why == "" {
				out[i].Why = f.Why
			}
			if f.Severity == verdict.Stop {
				out[i].Fit = No
			} else if out[i].Fit == Fits {
				out[i].Fit = Nearly
			}
		}
		switch {
		case out[i].Fit == No:
		case a.FluxLm == nil:
			out[i].Fit, out[i].Why = No, a.FluxWhy
		case *a.FluxLm < farDimmer*now:
			out[i].Fit, out[i].Why = No, fmt.Sprintf("It gives %.0f lm of the %.0f lm there are now: too low, or too weak.", *a.FluxLm, now)
		}
	}
	slices.SortStableFunc(out, func(a, b CellMatch) int { return fitOrder[a.Fit] - fitOrder[b.Fit] })
	return out, nil
}

// cellsOf counts the cells of a feed's first pack.
func cellsOf(light *design.Light, variant int, feed string) int {
	for _, f := range light.Variants[variant].Feeds {
		for _, s := range f.Sources {
			if f.ID == feed && s.Pack != nil {
				return s.Pack.Series * s.Pack.Parallel
			}
		}
	}
	return 0
}

// farDimmer is the share of the present light below which a cell does not do.
const farDimmer = 0.5

var fitOrder = map[Fit]int{Fits: 0, Nearly: 1, No: 2}

// fluxOf is the light there is now, lm; 0 if it is dark.
func fluxOf(ctx context.Context, light *design.Light, variant int) (float64, error) {
	m, err := chain.Compile(light, chain.Options{Variant: variant})
	if err != nil {
		return 0, fmt.Errorf("matching cells: %w", err)
	}
	run, err := m.Solver().Run(ctx)
	if err != nil {
		return 0, fmt.Errorf("matching cells: %w", err)
	}
	if flux := run.Answers().FluxLm; flux != nil {
		return *flux, nil
	}
	return 0, nil
}

// withCell is a copy of the light with another cell in the feed's pack.
func withCell(light *design.Light, variant int, feed string, cell *design.Cell) (*design.Light, error) {
	out := *light
	out.Variants = append([]design.Variant(nil), light.Variants...)
	v := &out.Variants[variant]
	v.Feeds = append([]design.Feed(nil), v.Feeds...)
	for i := range v.Feeds {
		f := &v.Feeds[i]
		if f.ID != feed || len(f.Sources) == 0 || f.Sources[0].Pack == nil {
			continue
		}
		pack := *f.Sources[0].Pack
		pack.PartID = tried
		pack.CutoffCellV = nil
		f.Sources = append([]design.Source(nil), f.Sources[0])
		f.Sources[0].Pack = &pack
		out.Parts = append(append([]design.Part(nil), light.Parts...), design.Part{ID: tried, Name: "tried", Cell: cell})
		return &out, nil
	}
	return nil, fmt.Errorf("feed %q has no pack", feed)
}

// tried is the id of the part on trial: no document holds a blank one.
const tried = " tried "
