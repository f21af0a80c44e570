package api

import (
	"context"

	"photherm/core/search"
)

func (s *server) charge(ctx context.Context, in *struct {
	VariantQuery
	From    float64 `query:"from" minimum:"-0.05" maximum:"1" doc:"Charge it begins with, of 1"`
	Lit     bool    `query:"lit" doc:"Whether the light is on meanwhile"`
	WantedA float64 `query:"wantedA" minimum:"0" maximum:"500" doc:"Current a programming resistor is sought for, A; 0: none"`
	Body    Document
}) (*struct{ Body *search.Charge }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	out, err := search.ChargeOf(ctx, light, in.Variant, in.From, in.Lit, in.WantedA)
	if err != nil {
		return nil, s.questioned(ctx, "query.variant", err)
	}
	return &struct{ Body *search.Charge }{out}, nil
}
