package api

import (
	"context"

	"photherm/core/search"
)

func (s *server) runtime(ctx context.Context, in *struct {
	VariantQuery
	WantedH     float64 `query:"wantedH" minimum:"0" maximum:"10000" doc:"How long it shall last, h; 0: not asked about"`
	PricePerKWh float64 `query:"pricePerKWh" minimum:"0" maximum:"1000" doc:"What a kWh costs, in the builder's own money; 0: not known"`
	RestingV    float64 `query:"restingV" minimum:"0" maximum:"1000" doc:"Voltage of the whole pack that was read at rest, V; 0: none was"`
	Body        Document
}) (*struct{ Body *search.Runtime }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	out, err := search.RuntimeOf(ctx, light, in.Variant, in.WantedH, in.PricePerKWh, in.RestingV)
	if err != nil {
		return nil, s.questioned(ctx, "query.variant", err)
	}
	return &struct{ Body *search.Runtime }{out}, nil
}
