package search

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/source"
	"photherm/core/verdict"
)

// What is found of a board, and of a charger, by the codes of the findings.
var packFindings = map[string][]string{
	"protection": {"protection-series", "protection-chemistry", "protection-low", "protection-trips", "charging-unwatched", "charger-over-board"},
	"charger":    {"charging-primary", "charger-chemistry", "charger-series", "charger-voltage", "charge-current", "charger-input", "charger-over-board", "charging-cold"},
}

// MatchPackParts judges every board (protection) or charger there is on a pack, by the id of its
// source, best first: each is put in, and what is then found of it tells. One that is neither in
// the light nor in the cabinet is a new one, as it is mostly sold for such a pack. The error may be
// a PlaceError.
func MatchPackParts(ctx context.Context, light *design.Light, variant int, sourceID, kind string, onHand []OnHand) ([]Candidate, error) {
	codes := packFindings[kind]
	if codes == nil {
		return nil, about("kind", fmt.Errorf("%q is neither protection nor charger", kind))
	}
	_, pack := packOf(light, variant, sourceID)
	if pack == nil {
		return nil, about("source", fmt.Errorf("there is no pack %q", sourceID))
	}
	found := Candidates(light, kind, onHand)
	cells := light.Part(pack.PartID)
	known := cells != nil && cells.Cell != nil
	if known {
		found = append(found, usualFor(kind, cells.Cell, pack)...)
	}
	for i := range found {
		c := &found[i]
		c.Needs = 1
		if !known {
			c.Fit, c.Why = NotYet, "no cell is chosen yet"
			continue
		}
		findings, err := withPackPart(ctx, light, variant, sourceID, kind, c)
		if err != nil {
			return nil, err
		}
		c.Fit = Fits
		for _, f := range findings {
			if !slices.Contains(codes, f.Code) || c.Fit == No || c.Fit == Nearly && f.Severity != verdict.Stop {
				continue
			}
			switch f.Severity {
			case verdict.Stop:
				c.Fit = No
			case verdict.Caution:
				c.Fit = Nearly
			default:
				continue
			}
			c.Why, _, _ = strings.Cut(strings.TrimSuffix(f.Why, "."), ". ")
		}
	}
	slices.SortStableFunc(found, func(a, b Candidate) int {
		return cmp.Or(cmp.Compare(fitOrder[a.Fit], fitOrder[b.Fit]), handFirst(a.atHand(1), b.atHand(1)))
	})
	return found, nil
}

// usualFor is a new one as it is mostly sold for a pack; none for cells that are not to be charged.
func usualFor(kind string, cell *design.Cell, pack *design.Pack) []Candidate {
	part := design.Part{ID: "part", Basis: "guess"}
	if kind == "protection" {
		part.Name, part.Protect = "New protection board", source.UsualBoard(cell, pack.Series)
	} else if part.Name, part.Charger = "New charger", source.UsualCharger(cell, pack.Series, pack.Parallel); part.Charger == nil {
		return nil
	}
	return []Candidate{{Hash: part.Hash(), Part: part}}
}

// packOf is a source by its id, if it is a pack, and the feed that it feeds.
func packOf(light *design.Light, variant int, sourceID string) (*design.Feed, *design.Pack) {
	if variant < 0 || variant >= len(light.Variants) {
		return nil, nil
	}
	for i := range light.Variants[variant].Feeds {
		f := &light.Variants[variant].Feeds[i]
		for k := range f.Sources {
			if f.Sources[k].ID == sourceID {
				return f, f.Sources[k].Pack
			}
		}
	}
	return nil, nil
}

// withPackPart is what is found of a pack with a candidate in it.
func withPackPart(ctx context.Context, light *design.Light, variant int, sourceID, kind string, c *Candidate) ([]verdict.Finding, error) {
	other, err := design.Clone(light)
	if err != nil {
		return nil, fmt.Errorf("putting %s in: %w", c.Part.Name, err)
	}
	id := c.Local
	if id == "" {
		part := c.Part
		for id = "candidate"; other.Part(id) != nil; {
			id += "-"
		}
		part.ID = id
		other.Parts = append(other.Parts, part)
	}
	feed, pack := packOf(other, variant, sourceID)
	if kind == "protection" {
		pack.ProtectionID = id
	} else {
		pack.Charger = &design.ChargerUse{PartID: id}
	}
	chosen := slices.IndexFunc(feed.Sources, func(s design.Source) bool { return s.ID == sourceID })
	m, err := chain.Compile(other, chain.Options{Variant: variant, Source: map[string]int{feed.ID: chosen}})
	if err != nil {
		return nil, fmt.Errorf("putting %s in: %w", c.Part.Name, err)
	}
	run, err := m.Solver().Run(ctx)
	if err != nil {
		return nil, fmt.Errorf("putting %s in: %w", c.Part.Name, err)
	}
	return verdict.OfPack(run, sourceID), nil
}
