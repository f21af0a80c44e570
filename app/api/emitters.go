package api

import (
	"context"
	"errors"

	"photherm/core/array"
	"photherm/core/chain"
	"photherm/core/emitter"
	"photherm/core/search"
)

func (s *server) ratios(ctx context.Context, in *struct {
	VariantQuery
	Array string `query:"array" required:"true" maxLength:"64" doc:"Id of the array"`
	Body  Document
}) (*struct{ Body []search.Ratio }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	r, err := search.Ratios(ctx, light, in.Variant, in.Array, []float64{1, 0.7, 0.5})
	if err != nil {
		return nil, s.questioned(ctx, "query.array", err)
	}
	return &struct{ Body []search.Ratio }{r}, nil
}

func (s *server) sharing(ctx context.Context, in *struct {
	VariantQuery
	Body Document
}) (*struct{ Body []chain.Sharing }, error) {
	solver, err := s.solver(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	shares, err := solver.Sharing(ctx)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return &struct{ Body []chain.Sharing }{shares}, nil
}

func (s *server) strip(ctx context.Context, in *struct {
	VariantQuery
	Node string `query:"node" required:"true" maxLength:"64" doc:"Id of the strip"`
	Body Document
}) (*struct{ Body []array.Run }, error) {
	solver, err := s.solver(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	runs, err := solver.StripRuns(ctx, in.Node)
	if err != nil {
		return nil, s.questioned(ctx, "query.node", err)
	}
	return &struct{ Body []array.Run }{runs}, nil
}

func (s *server) emitter(ctx context.Context, in *struct{ Body PartDocument }) (*struct{ Body *emitter.Sheet }, error) {
	part, err := in.Body.decode("")
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	if part.Emitter == nil {
		return nil, refused("body", errors.New("this part is not an emitter"))
	}
	sheet, err := emitter.NewSheet(part)
	if err != nil {
		return nil, refused("body", err)
	}
	return &struct{ Body *emitter.Sheet }{sheet}, nil
}
