package api

import (
	"context"

	"photherm/core/search"
	"photherm/core/units"
)

func (s *server) pack(ctx context.Context, in *struct {
	VariantQuery
	Wire string `query:"wire" maxLength:"60" doc:"A wire from the pack, one way, such as 1.2 m AWG 24 or 30 cm 0.5 mm²; empty: none"`
	Body Document
}) (*struct{ Body *search.PackLook }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	var wire *units.Wire
	if in.Wire != "" {
		w, err := units.ParseWire(in.Wire)
		if err != nil {
			return nil, refused("query.wire", err)
		}
		wire = &w
	}
	out, err := search.PackOf(ctx, light, in.Variant, wire)
	if err != nil {
		return nil, s.questioned(ctx, "query.variant", err)
	}
	return &struct{ Body *search.PackLook }{out}, nil
}
