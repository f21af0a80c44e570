package search

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"photherm/core/design"
)

// An OnHand is a part that is kept outside the light.
type OnHand struct {
	ID    string
	Stock int
	Part  design.Part
}

// A Candidate is a part for a place in a light, with where it is and how well it does there.
type Candidate struct {
	Cabinet  string      `json:"cabinet,omitempty" doc:"Its id in the cabinet"`
	Local    string      `json:"local,omitempty" doc:"Its id in this light"`
	Stock    int         `json:"stock"`
	Hash     string      `json:"hash"`
	Part     design.Part `json:"part"`
	Fit      Fit         `json:"fit" enum:"fits,nearly,not-yet,no"`
	Why      string      `json:"why" doc:"One line; empty if it simply fits"`
	OutA     *float64    `json:"outA" doc:"Current it gives, A"`
	LossW    *float64    `json:"lossW" doc:"Heat in it, W"`
	FluxLm   *float64    `json:"fluxLm" doc:"Light, lm"`
	HalfS    *float64    `json:"halfS" doc:"Cells: time to half the light, s"`
	Series   int         `json:"series,omitempty" doc:"Emitters: wired so many in series"`
	Parallel int         `json:"parallel,omitempty" doc:"and so many strings on each board"`
	Needs    int         `json:"needs,omitempty" doc:"How many of it the place takes; 0: not known"`
}

// atHand tells whether it is in the light or so many of it are in the cabinet.
func (c *Candidate) atHand(needs int) bool { return c.Local != "" || c.Stock >= needs }

// handFirst orders what is at hand before what is not.
func handFirst(a, b bool) int {
	switch {
	case a == b:
		return 0
	case a:
		return -1
	}
	return 1
}

// A PlaceError says which part of a question names no place that can be asked about: node,
// array, feed or anyCell.
type PlaceError struct {
	Of  string
	Err error
}

func (e *PlaceError) Error() string { return e.Err.Error() }
func (e *PlaceError) Unwrap() error { return e.Err }

// about marks what a question got wrong; that it was withdrawn is not its fault.
func about(of string, err error) error {
	if err == nil || errors.Is(err, context.Canceled) || errors.Is(err, context.DeadlineExceeded) {
		return err
	}
	return &PlaceError{of, err}
}

// Candidates are the parts of one kind in the light and on hand; a copy in the light stands
// for the part it was made from.
func Candidates(light *design.Light, kind string, onHand []OnHand) []Candidate {
	var out []Candidate
	have := map[string]bool{}
	for i := range light.Parts {
		if p := light.Parts[i]; p.Kind() == kind {
			hash := p.Hash()
			have[hash] = true
			out = append(out, Candidate{Local: p.ID, Hash: hash, Part: p})
		}
	}
	for _, p := range onHand {
		if p.Part.Kind() != kind {
			continue
		}
		hash := p.Part.Hash()
		if !have[hash] {
			out = append(out, Candidate{Cabinet: p.ID, Stock: p.Stock, Hash: hash, Part: p.Part})
			continue
		}
		for k := range out {
			if out[k].Hash == hash {
				out[k].Cabinet, out[k].Stock = p.ID, p.Stock
			}
		}
	}
	return out
}

// MatchDrivers judges every driver there is at a place, best first; with any cell, at every
// pack of the cells at hand of the size that is in it. The error may be a PlaceError.
func MatchDrivers(ctx context.Context, light *design.Light, variant int, node string, anyCell bool, onHand []OnHand) ([]Candidate, error) {
	if anyCell {
		size := CellSize(light, variant, node)
		if size == "" {
			return nil, about("anyCell", errors.New("the size of the cells in the pack is not known"))
		}
		var cells []design.Part
		for _, c := range Candidates(light, "cell", onHand) {
			if c.Part.Cell.Size == size {
				cells = append(cells, c.Part)
			}
		}
		var err error
		if light, err = AnyCell(light, variant, node, cells); err != nil {
			return nil, about("node", err)
		}
	}
	found := Candidates(light, "driver", onHand)
	q, err := NewQuestion(light, variant, node)
	if err != nil {
		return nil, about("node", err)
	}
	drivers := make([]*design.Driver, len(found))
	for i := range found {
		drivers[i] = found[i].Part.Driver
	}
	matches, err := q.Drivers(ctx, drivers)
	if err != nil {
		return nil, about("node", err)
	}
	slices.SortStableFunc(matches, func(a, b Match) int { return inOrder(&a, &b, found[a.Index].atHand(1), found[b.Index].atHand(1)) })
	out := make([]Candidate, len(matches))
	for i := range matches {
		m := &matches[i]
		out[i] = found[m.Index]
		out[i].Fit, out[i].Why, out[i].Needs = m.Fit, m.Why(), 1
		if m.OutA > 0 {
			out[i].OutA, out[i].LossW = &m.OutA, &m.LossW
		}
	}
	return out, nil
}

// MatchEmitters judges every emitter there is in an array below a driver, wired as it fits
// best. The error may be a PlaceError.
func MatchEmitters(ctx context.Context, light *design.Light, variant int, node, array string, onHand []OnHand) ([]Candidate, error) {
	found := Candidates(light, "emitter", onHand)
	q, err := NewQuestion(light, variant, node)
	if err != nil {
		return nil, about("node", err)
	}
	emitters, have := make([]*design.Emitter, len(found)), make([]int, len(found))
	for i := range found {
		emitters[i], have[i] = found[i].Part.Emitter, found[i].Stock
	}
	part, use := q.InPlace()
	matches, err := q.Arrays(ctx, part, use, array, emitters, have)
	if err != nil {
		return nil, about("array", err)
	}
	// Of those that do as well, what there is enough of comes first.
	slices.SortStableFunc(matches, func(a, b ArrayMatch) int {
		return cmp.Or(cmp.Compare(fitOrder[a.Fit], fitOrder[b.Fit]), handFirst(found[a.Index].atHand(a.Emitters), found[b.Index].atHand(b.Emitters)))
	})
	out := make([]Candidate, len(matches))
	for i := range matches {
		m := &matches[i]
		out[i] = found[m.Index]
		out[i].Fit, out[i].Why, out[i].Series, out[i].Parallel, out[i].Needs = m.Fit, m.Why(), m.Series, m.Parallel, m.Emitters
		if m.FluxLm > 0 {
			out[i].FluxLm, out[i].OutA = &m.FluxLm, &m.OutA
		}
	}
	return out, nil
}

// MatchCells judges every cell there is in the pack of a feed, or those of one size. The
// error may be a PlaceError.
func MatchCells(ctx context.Context, light *design.Light, variant int, feed, size string, onHand []OnHand) ([]Candidate, error) {
	var found []Candidate
	var cells []*design.Cell
	for _, c := range Candidates(light, "cell", onHand) {
		if size == "" || c.Part.Cell.Size == size {
			found, cells = append(found, c), append(cells, c.Part.Cell)
		}
	}
	matches, err := Cells(ctx, light, variant, feed, cells)
	if err != nil {
		return nil, about("feed", err)
	}
	out := make([]Candidate, len(matches))
	for i := range matches {
		m := &matches[i]
		out[i] = found[m.Index]
		out[i].Fit, out[i].Why, out[i].FluxLm, out[i].HalfS, out[i].Needs = m.Fit, m.Why, m.FluxLm, m.HalfS, m.Cells
	}
	return out, nil
}
