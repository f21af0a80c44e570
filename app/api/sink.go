package api

import (
	"context"

	"photherm/core/search"
)

func (s *server) sink(ctx context.Context, in *struct {
	VariantQuery
	Of   string `query:"body" required:"true" maxLength:"64" doc:"Id of the body"`
	Body Document
}) (*struct{ Body *search.Sink }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	out, err := search.SinkOf(ctx, light, in.Variant, in.Of)
	if err != nil {
		return nil, s.questioned(ctx, "query.body", err)
	}
	return &struct{ Body *search.Sink }{out}, nil
}
