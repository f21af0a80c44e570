package api

import (
	"context"

	"github.com/danielgtaylor/huma/v2"

	"photherm/core/band"
)

// bandSeed makes the band of a light the same each time it is asked for.
const bandSeed = 1

// BandStep is a line of the answer: how many lights are drawn, and in the last what came of it.
type BandStep struct {
	Done    int        `json:"done"`
	Of      int        `json:"of"`
	Band    *band.Band `json:"band,omitempty"`
	Problem string     `json:"problem,omitempty" doc:"Why there is none"`
}

func (s *server) band(ctx context.Context, in *struct {
	VariantQuery
	Samples int `query:"samples" minimum:"20" maximum:"500" default:"200" doc:"How many lights are drawn"`
	Body    Document
}) (*huma.StreamResponse, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	inside, leave, err := s.enterBy(ctx, s.gate.EnterBehind)
	if err != nil {
		return nil, err
	}
	return lines(func(say func(any)) {
		defer leave()
		var drawn count
		out, err := band.Of(inside, light, in.Variant, in.Samples, bandSeed, func(done int) {
			s.gate.GiveWay(inside)
			drawn.reach(done, func(n int) { say(BandStep{Done: n, Of: in.Samples}) })
		})
		last := BandStep{Done: drawn.n, Of: in.Samples, Band: out}
		if err != nil {
			last.Problem = s.questioned(ctx, "query.samples", why(inside, err)).Error()
		}
		say(last)
	}), nil
}
