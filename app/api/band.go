package api

import (
	"context"

	"photherm/core/band"
)

// bandSeed makes the band of a light the same each time it is asked for.
const bandSeed = 1

func (s *server) band(ctx context.Context, in *struct {
	VariantQuery
	Samples int `query:"samples" minimum:"20" maximum:"500" default:"200" doc:"How many lights are drawn"`
	Body    Document
}) (*struct{ Body *band.Band }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	out, err := band.Of(ctx, light, in.Variant, in.Samples, bandSeed)
	if err != nil {
		return nil, s.questioned(ctx, "query.samples", err)
	}
	return &struct{ Body *band.Band }{out}, nil
}
