package api

import (
	"context"

	"photherm/core/design"
	"photherm/core/search"
)

// MatchInput asks about a driver of a posted light; the framework reads only exported
// parts.
type MatchInput struct {
	VariantQuery
	Node string `query:"node" required:"true" maxLength:"64" doc:"Id of the driver"`
	Body Document
}

// found is the answer of a match.
type found struct{ Body []search.Candidate }

// match reads light and cabinet, and asks.
func (s *server) match(ctx context.Context, body Document, variant int, ask func(*design.Light, []search.OnHand) ([]search.Candidate, error)) (*found, error) {
	light, err := s.read(ctx, body, variant)
	if err != nil {
		return nil, err
	}
	kept, err := s.readable(ctx, "")
	if err != nil {
		return nil, err
	}
	onHand := make([]search.OnHand, len(kept))
	for i := range kept {
		onHand[i] = search.OnHand{ID: kept[i].ID, Stock: kept[i].Stock, Part: kept[i].Part}
	}
	matches, err := ask(light, onHand)
	if err != nil {
		return nil, s.questioned(ctx, "query.node", err)
	}
	return &found{matches}, nil
}

func (s *server) matchDrivers(ctx context.Context, in *struct {
	MatchInput
	AnyCell bool `query:"anyCell" doc:"With any cell of the size in the pack that the light and the cabinet hold"`
}) (*found, error) {
	return s.match(ctx, in.Body, in.Variant, func(light *design.Light, onHand []search.OnHand) ([]search.Candidate, error) {
		return search.MatchDrivers(ctx, light, in.Variant, in.Node, in.AnyCell, onHand)
	})
}

func (s *server) matchFamilies(ctx context.Context, in *MatchInput) (*struct{ Body []search.Family }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	families, err := search.MatchFamilies(ctx, light, in.Variant, in.Node)
	if err != nil {
		return nil, s.questioned(ctx, "query.node", err)
	}
	return &struct{ Body []search.Family }{families}, nil
}

func (s *server) matchEmitters(ctx context.Context, in *struct {
	MatchInput
	Array string `query:"array" required:"true" maxLength:"64" doc:"Id of the array below the driver"`
}) (*found, error) {
	return s.match(ctx, in.Body, in.Variant, func(light *design.Light, onHand []search.OnHand) ([]search.Candidate, error) {
		return search.MatchEmitters(ctx, light, in.Variant, in.Node, in.Array, onHand)
	})
}

func (s *server) matchCells(ctx context.Context, in *struct {
	VariantQuery
	Feed string `query:"feed" required:"true" maxLength:"64" doc:"Id of the feed"`
	Size string `query:"size" maxLength:"30" doc:"Cells of this size only"`
	Body Document
}) (*found, error) {
	return s.match(ctx, in.Body, in.Variant, func(light *design.Light, onHand []search.OnHand) ([]search.Candidate, error) {
		return search.MatchCells(ctx, light, in.Variant, in.Feed, in.Size, onHand)
	})
}

func (s *server) matchPackParts(ctx context.Context, in *struct {
	VariantQuery
	Source string `query:"source" required:"true" maxLength:"64" doc:"Id of the source that is the pack"`
	Kind   string `query:"kind" required:"true" enum:"protection,charger" doc:"What is sought for it"`
	Body   Document
}) (*found, error) {
	return s.match(ctx, in.Body, in.Variant, func(light *design.Light, onHand []search.OnHand) ([]search.Candidate, error) {
		return search.MatchPackParts(ctx, light, in.Variant, in.Source, in.Kind, onHand)
	})
}
