package api

import (
	"bytes"
	"context"
	"errors"

	"photherm/app/exchange"
	"photherm/core/target"
)

func (s *server) light(ctx context.Context, in *struct {
	VariantQuery
	AtS     Given[float64] `query:"atS" minimum:"0" maximum:"1e9" doc:"Instant, s after switch-on; absent: 30"`
	Ways    bool           `query:"ways" doc:"Whether other ways to put it, and what mends a target, are asked for"`
	Colour  bool           `query:"colour" doc:"Whether the spectrum is asked for"`
	Kelvin  float64        `query:"kelvin" minimum:"0" maximum:"25000" doc:"Wanted colour temperature of mixed channels; 0: any"`
	Share   float64        `query:"share" minimum:"0" maximum:"10" doc:"Wanted light of mixed channels, of what there is; 0: as much"`
	Against Given[int]     `query:"against" minimum:"-1" maximum:"19" doc:"Another variant to compare with; -1: none; absent: none"`
	AtM     float64        `query:"atM" minimum:"0" maximum:"100000" doc:"How much of a beam comes so far, m; 0: it is not asked"`
	TiltDeg float64        `query:"tiltDeg" minimum:"0" maximum:"90" doc:"There on a plane tilted so from facing it, degrees"`
	Body    Document
}) (*struct{ Body *target.View }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	out, err := target.Look(ctx, light, in.Variant, target.Question{AtS: in.AtS.or(usualAtS), Ways: in.Ways, Colour: in.Colour, Kelvin: in.Kelvin, Share: in.Share, Against: in.Against.or(-1), AtM: in.AtM, TiltDeg: in.TiltDeg})
	if err != nil {
		return nil, s.questioned(ctx, "body", err)
	}
	return &struct{ Body *target.View }{out}, nil
}

// photometric is the light as a photometric file: as it hangs, looking down.
func (s *server) photometric(ctx context.Context, in *struct {
	VariantQuery
	AtS  Given[float64] `query:"atS" minimum:"0" maximum:"1e9" doc:"Instant, s after switch-on; absent: 30"`
	Body Document
}) (*struct {
	ContentType string `header:"Content-Type"`
	Body        []byte
}, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	lit, err := target.Solve(ctx, light, in.Variant, in.AtS.or(usualAtS))
	if err != nil {
		return nil, s.questioned(ctx, "body", err)
	}
	if why := lit.Dark + lit.Fault; why != "" {
		return nil, refused("body", errors.New(why))
	}
	p := &exchange.Photometric{Table: lit.Table(), InputW: lit.InputW}
	var b bytes.Buffer
	if err := exchange.WritePhotometric(&b, p, light.Name+", "+lit.Variant.Name); err != nil {
		return nil, s.failure(ctx, err)
	}
	return &struct {
		ContentType string `header:"Content-Type"`
		Body        []byte
	}{"text/plain; charset=us-ascii", b.Bytes()}, nil
}

// readPhotometric reads a photometric file that is brought in.
func (s *server) readPhotometric(_ context.Context, in *struct {
	RawBody []byte `contentType:"text/plain"`
}) (*struct{ Body *exchange.Photometric }, error) {
	p, err := exchange.ReadPhotometric(string(in.RawBody))
	if err != nil {
		return nil, refused("body", err)
	}
	return &struct{ Body *exchange.Photometric }{p}, nil
}
