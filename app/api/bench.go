package api

import (
	"context"
	"fmt"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"photherm/core/bench"
	"photherm/core/reading"
)

// BenchQuery is shared by inputs; the framework reads only exported parts.
type BenchQuery struct {
	VariantQuery
	Tools []string `query:"tools,explode" maxItems:"30" doc:"Ids of the tools at hand; none: all are"`
	Ways  []string `query:"ways,explode" maxItems:"50" doc:"Ways to set drivers up, each as node=way"`
}

func (q *BenchQuery) question() (bench.Question, error) {
	out := bench.Question{Variant: q.Variant, Ways: map[string]string{}}
	for _, t := range q.Tools {
		if reading.ByID(t) == nil {
			return out, refused("query.tools", fmt.Errorf("there is no tool %q", t))
		}
		out.Tools = append(out.Tools, t)
	}
	for _, w := range q.Ways {
		node, way, ok := strings.Cut(w, "=")
		if !ok {
			return out, refused("query.ways", fmt.Errorf("%q does not name a node and a way", w))
		}
		out.Ways[node] = way
	}
	return out, nil
}

func (s *server) benchPlan(ctx context.Context, in *struct {
	BenchQuery
	Body Document
}) (*struct{ Body *bench.ReadingPlan }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	q, err := in.question()
	if err != nil {
		return nil, err
	}
	out, err := bench.PlanOf(ctx, light, q)
	if err != nil {
		return nil, s.questioned(ctx, "query.variant", err)
	}
	return &struct{ Body *bench.ReadingPlan }{out}, nil
}

func (s *server) calibration(ctx context.Context, in *struct {
	BenchQuery
	Body Document
}) (*huma.StreamResponse, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	q, err := in.question()
	if err != nil {
		return nil, err
	}
	inside, leave, err := s.enter(ctx)
	if err != nil {
		return nil, err
	}
	return lines(func(say func(any)) {
		defer leave()
		var tried count
		q.Tried = func(lights int) {
			tried.reach(lights, func(n int) { say(CalibrationStep{Tried: n}) })
		}
		out, err := bench.CalibrationOf(inside, light, q)
		last := CalibrationStep{Tried: tried.n, Calibration: out}
		if err != nil {
			last.Problem = s.questioned(ctx, "query.variant", why(inside, err)).Error()
		}
		say(last)
	}), nil
}

// CalibrationStep is a line of the answer: how many lights were tried, and in the last what came of it.
type CalibrationStep struct {
	Tried       int                `json:"tried" doc:"How many lights with figures changed were solved"`
	Calibration *bench.Calibration `json:"calibration,omitempty"`
	Problem     string             `json:"problem,omitempty" doc:"Why there is none"`
}

func (s *server) tools(context.Context, *struct{}) (*struct{ Body []reading.Tool }, error) {
	return &struct{ Body []reading.Tool }{reading.Tools()}, nil
}
