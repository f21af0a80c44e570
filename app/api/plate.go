package api

import (
	"context"

	"photherm/core/search"
)

func (s *server) plate(ctx context.Context, in *struct {
	VariantQuery
	Of    string `query:"body" required:"true" maxLength:"64" doc:"Id of the body"`
	Array string `query:"array" maxLength:"64" doc:"Id of emitters on it whose other arrangements are asked for; empty: none"`
	Body  Document
}) (*struct{ Body *search.Plate }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	out, err := search.PlateOf(ctx, light, in.Variant, in.Of, in.Array)
	if err != nil {
		return nil, s.questioned(ctx, "query.body", err)
	}
	return &struct{ Body *search.Plate }{out}, nil
}
