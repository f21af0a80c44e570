package api

import (
	"context"

	"photherm/core/search"
)

func (s *server) warmUp(ctx context.Context, in *struct {
	VariantQuery
	Body Document
}) (*struct{ Body *search.WarmUp }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	out, err := search.WarmUpOf(ctx, light, in.Variant)
	if err != nil {
		return nil, s.questioned(ctx, "query.variant", err)
	}
	return &struct{ Body *search.WarmUp }{out}, nil
}
