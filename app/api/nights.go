package api

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"photherm/core/search"
)

func (s *server) nights(ctx context.Context, in *struct {
	VariantQuery
	Spells      []string `query:"spells,explode" required:"true" maxItems:"12" doc:"Parts of a night, in turn: hours, and after a space the mode of the drivers that have it; none: as it is set"`
	PricePerKWh float64  `query:"pricePerKWh" minimum:"0" maximum:"1000" doc:"What a kWh costs, in the builder's own money; 0: not known"`
	Body        Document
}) (*struct{ Body *search.Nights }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	var spells []search.Spell
	for _, text := range in.Spells {
		hours, mode, _ := strings.Cut(text, " ")
		h, err := strconv.ParseFloat(hours, 64)
		if err != nil || !(h > 0 && h <= 24) {
			return nil, refused("query.spells", fmt.Errorf("%q are no hours of a night", hours))
		}
		spells = append(spells, search.Spell{Mode: mode, Hours: h})
	}
	out, err := search.NightsOf(ctx, light, in.Variant, spells, in.PricePerKWh)
	if err != nil {
		return nil, s.questioned(ctx, "query.spells", err)
	}
	return &struct{ Body *search.Nights }{out}, nil
}
