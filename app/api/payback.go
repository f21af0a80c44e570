package api

import (
	"context"

	"photherm/core/search"
)

func (s *server) payback(ctx context.Context, in *struct {
	VariantQuery
	Against     int     `query:"against" minimum:"0" maximum:"19" required:"true" doc:"Index of the variant it replaces"`
	PricePerKWh float64 `query:"pricePerKWh" minimum:"0" maximum:"1000" doc:"What a kWh costs, in the builder's own money; 0: not known"`
	Body        Document
}) (*struct{ Body *search.Payback }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	out, err := search.PaybackOf(ctx, light, in.Variant, in.Against, in.PricePerKWh)
	if err != nil {
		return nil, s.questioned(ctx, "query.against", err)
	}
	return &struct{ Body *search.Payback }{out}, nil
}
