package api

import (
	"context"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"photherm/core/setup"
)

type setupInput struct {
	VariantQuery
	Node     string  `query:"node" required:"true" maxLength:"64" doc:"Id of the driver"`
	Series   string  `query:"series" enum:"E12,E24,E96" default:"E24" doc:"Standard values to choose from (IEC 60063)"`
	Drawer   string  `query:"drawer" maxLength:"1000" doc:"Resistors at hand, Ω, parted by commas"`
	ClockHz  float64 `query:"clockHz" minimum:"0" maximum:"1e10" doc:"Clock of the counter that makes the duty, Hz"`
	ShutterS float64 `query:"shutterS" minimum:"0" maximum:"100" doc:"Shutter of a camera, s"`
	LowV     float64 `query:"lowV" minimum:"0" maximum:"1000" doc:"Lowest source voltage to try, V; with highV"`
	HighV    float64 `query:"highV" minimum:"0" maximum:"1000" doc:"Highest source voltage to try, V"`
	Body     Document
}

func (s *server) setUp(ctx context.Context, in *setupInput) (*struct{ Body *setup.Plan }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	q := setup.Question{Variant: in.Variant, Node: in.Node, Series: in.Series, ClockHz: in.ClockHz, ShutterS: in.ShutterS, LowV: in.LowV, HighV: in.HighV}
	for word := range strings.SplitSeq(in.Drawer, ",") {
		if word = strings.TrimSpace(word); word == "" {
			continue
		}
		ohm, err := strconv.ParseFloat(word, 64)
		if err != nil || !(ohm > 0) || ohm > 1e9 {
			return nil, refused("query.drawer", fmt.Errorf("%q in the drawer is not a resistance", word))
		}
		q.Drawer = append(q.Drawer, ohm)
	}
	plan, err := setup.For(ctx, light, q)
	if errors.Is(err, setup.ErrRange) {
		return nil, refused("query.lowV", err)
	}
	if err != nil {
		return nil, s.questioned(ctx, "query.node", err)
	}
	return &struct{ Body *setup.Plan }{plan}, nil
}
