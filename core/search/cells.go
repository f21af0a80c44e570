package search

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/source"
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
	open := ""
	for i := range light.Variants[variant].Feeds {
		if f := &light.Variants[variant].Feeds[i]; f.ID == feed {
			open = unfinished(f.Loads)
		}
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
		findings, err := verdict.Judge(ctx, run)
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
		case a.FluxLm == nil && open != "":
			out[i].Fit, out[i].Why = NotYet, "not judged yet: "+open
		case a.FluxLm == nil:
			out[i].Fit, out[i].Why = No, a.FluxWhy
		case *a.FluxLm < farDimmer*now:
			out[i].Fit, out[i].Why = No, fmt.Sprintf("It gives %.0f lm of the %.0f lm there are now: too low, or too weak.", *a.FluxLm, now)
		}
	}
	slices.SortStableFunc(out, func(a, b CellMatch) int {
		return cmp.Or(fitOrder[a.Fit]-fitOrder[b.Fit], cmp.Compare(a.Findings, b.Findings), cmp.Compare(longest(b.HalfS), longest(a.HalfS)))
	})
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

// longest is a time to half the light; what never comes there is not known to be longer.
func longest(s *float64) float64 {
	if s == nil {
		return 0
	}
	return *s
}

// farDimmer is the share of the present light below which a cell does not do.
const farDimmer = 0.5

var fitOrder = map[Fit]int{Fits: 0, Nearly: 1, NotYet: 2, No: 3}

// unfinished is what is not chosen yet of all that hangs on a feed; empty: everything is.
func unfinished(nodes []design.Node) string {
	for i := range nodes {
		n := &nodes[i]
		switch {
		case n.Driver != nil && n.Driver.PartID == "":
			return "no driver is chosen yet"
		case n.Array != nil && n.Array.PartID == "":
			return "no emitter is chosen yet"
		case n.Strip != nil && n.Strip.PartID == "":
			return "no strip is chosen yet"
		case n.Load != nil && n.Load.PartID == "" && len(n.Load.Points) == 0:
			return "what " + n.Called() + " draws is not known yet"
		}
		if why := unfinished(n.Loads); why != "" {
			return why
		}
	}
	return ""
}

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
	out, f := withOwnFeed(light, variant, func(f *design.Feed) bool { return f.ID == feed })
	if f == nil || len(f.Sources) == 0 || f.Sources[0].Pack == nil {
		return nil, fmt.Errorf("feed %q has no pack", feed)
	}
	f.Sources = f.Sources[:1]
	out.hold(f, 0, &design.Part{Name: "tried", Cell: cell})
	return &out.Light, nil
}

// AnyCell is a light that must accept, at the feed of a node, its pack with every one
// of some cells in it: any battery that fits. Each pack is cut off where its own
// cells are drained.
func AnyCell(light *design.Light, variant int, node string, cells []design.Part) (*design.Light, error) {
	if variant < 0 || variant >= len(light.Variants) {
		return nil, fmt.Errorf("there is no variant %d", variant)
	}
	out, f := withOwnFeed(light, variant, func(f *design.Feed) bool { return design.FindNode(f.Loads, node) != nil })
	if f == nil || len(f.Sources) == 0 || f.Sources[0].Pack == nil {
		return nil, fmt.Errorf("%q does not hang on a pack", node)
	}
	for i := range cells {
		f.Sources = append(f.Sources, f.Sources[0])
		out.hold(f, len(f.Sources)-1, &cells[i])
	}
	return &out.Light, nil
}

// CellSize is the size of the cells in the pack that feeds a node; empty if it is
// not known, or there is no pack.
func CellSize(light *design.Light, variant int, node string) string {
	for i := range light.Variants[variant].Feeds {
		f := &light.Variants[variant].Feeds[i]
		if design.FindNode(f.Loads, node) == nil || len(f.Sources) == 0 || f.Sources[0].Pack == nil {
			continue
		}
		for _, p := range light.Parts {
			if p.ID == f.Sources[0].Pack.PartID && p.Cell != nil {
				return p.Cell.Size
			}
		}
	}
	return ""
}

// trial is a copy of a light whose parts and one feed are its own.
type trial struct{ design.Light }

func withOwnFeed(light *design.Light, variant int, wanted func(*design.Feed) bool) (*trial, *design.Feed) {
	out := &trial{*light}
	out.Parts = slices.Clone(light.Parts)
	out.Variants = slices.Clone(light.Variants)
	v := &out.Variants[variant]
	v.Feeds = slices.Clone(v.Feeds)
	for i := range v.Feeds {
		if f := &v.Feeds[i]; wanted(f) {
			f.Sources = slices.Clone(f.Sources)
			return out, f
		}
	}
	return out, nil
}

// hold puts a cell into the pack of a source. No document holds an id that begins
// with a blank, so that the part on trial meets no other.
func (t *trial) hold(f *design.Feed, at int, cell *design.Part) {
	id := fmt.Sprintf(" %d", len(t.Parts))
	pack := *f.Sources[at].Pack
	pack.PartID, pack.Groups = id, nil // what was measured is of the cells that are there
	if pack.CutoffCellV != nil {
		low, _ := source.Range(cell.Cell)
		pack.CutoffCellV = &low // as much is cut off, where that suits these
	}
	f.Sources[at] = design.Source{ID: f.Sources[at].ID + id, Name: cell.Name, Pack: &pack}
	t.Parts = append(t.Parts, design.Part{ID: id, Name: cell.Name, Cell: cell.Cell})
}
