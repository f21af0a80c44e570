package api

import (
	"bytes"
	"context"
	"errors"

	"github.com/danielgtaylor/huma/v2"

	"photherm/app/compute"
	"photherm/app/exchange"
	"photherm/app/solution"
	"photherm/core/chain"
	"photherm/core/design"
)

// SolveQuery is what is asked of a light; the framework reads only exported parts.
type SolveQuery struct {
	Variant int            `query:"variant" minimum:"0" maximum:"19" default:"0" doc:"Index of the variant"`
	AtS     Given[float64] `query:"atS" minimum:"0" maximum:"1e9" doc:"Instant of the figures, s after switch-on; absent: 30"`
	Body    Document
}

type traceInput struct {
	Variant int `query:"variant" minimum:"0" maximum:"19" default:"0" doc:"Index of the variant"`
	Body    Document
}

func (s *server) summary(ctx context.Context, in *SolveQuery) (*struct{ Body *solution.Solution }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	answer, _, err := solution.Solve(ctx, light, solution.Query{Variant: in.Variant, AtS: in.AtS.or(usualAtS)})
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return &struct{ Body *solution.Solution }{answer}, nil
}

// SolveStep is a line of a light that is told as it is worked out: its figures, what is
// judged of them, its course in time. What went wrong after the figures is told in its place.
type SolveStep struct {
	Solved  *solution.Solved `json:"solved,omitempty"`
	Judged  *solution.Judged `json:"judged,omitempty"`
	Trace   *chain.Trace     `json:"trace,omitempty"`
	Problem string           `json:"problem,omitempty"`
}

type stepsInput struct {
	SolveQuery
	Course bool `query:"course" doc:"Whether the course in time is told too"`
}

// steps tells a light line by line: its figures do not wait for what is judged of them.
func (s *server) steps(ctx context.Context, in *stepsInput) (*huma.StreamResponse, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	inside, leave, err := s.enter(ctx)
	if err != nil {
		return nil, err
	}
	goesOn := false
	defer func() {
		if !goesOn {
			leave()
		}
	}()
	work, err := solution.Begin(inside, light, solution.Query{Variant: in.Variant, AtS: in.AtS.or(usualAtS)})
	if err != nil {
		return nil, s.failure(ctx, why(inside, err))
	}
	goesOn = true
	return lines(func(say func(any)) {
		defer leave()
		say(SolveStep{Solved: &work.Solved})
		judged, err := work.Judge(inside)
		if errors.Is(context.Cause(inside), compute.ErrClosing) {
			return // whoever asked sees the lines end early, and asks again
		}
		if err != nil {
			say(SolveStep{Problem: s.failure(ctx, why(inside, err)).Error()})
			return
		}
		say(SolveStep{Judged: judged})
		if in.Course {
			say(SolveStep{Trace: work.Run.Trace()})
		}
	}), nil
}

func (s *server) trace(ctx context.Context, in *traceInput) (*struct{ Body *chain.Trace }, error) {
	run, err := s.course(ctx, in)
	if err != nil {
		return nil, err
	}
	return &struct{ Body *chain.Trace }{run.Trace()}, nil
}

func (s *server) traceCSV(ctx context.Context, in *traceInput) (*struct {
	ContentType string `header:"Content-Type"`
	Body        []byte
}, error) {
	run, err := s.course(ctx, in)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := exchange.WriteCSV(&b, run.Trace()); err != nil {
		return nil, s.failure(ctx, err)
	}
	return &struct {
		ContentType string `header:"Content-Type"`
		Body        []byte
	}{"text/csv; charset=utf-8", b.Bytes()}, nil
}

type planeInput struct {
	Variant int    `query:"variant" minimum:"0" maximum:"19" default:"0" doc:"Index of the variant"`
	Node    string `query:"node" required:"true" maxLength:"64" doc:"Id of the driver"`
	Body    Document
}

func (s *server) plane(ctx context.Context, in *planeInput) (*struct{ Body *chain.Plane }, error) {
	solver, err := s.solver(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	plane, err := solver.Plane(ctx, in.Node)
	if err != nil {
		return nil, s.questioned(ctx, "query.node", err)
	}
	return &struct{ Body *chain.Plane }{plane}, nil
}

func (s *server) course(ctx context.Context, in *traceInput) (*chain.Run, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	run, err := solution.Course(ctx, light, in.Variant)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return run, nil
}

// read decodes a posted light that has the variant asked for.
func (s *server) read(ctx context.Context, d Document, variant int) (*design.Light, error) {
	light, err := d.decode()
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	if variant >= len(light.Variants) {
		return nil, at("query.variant", errNoVariant)
	}
	return light, nil
}

// solver compiles a variant of a posted light.
func (s *server) solver(ctx context.Context, body Document, variant int) (*chain.Solver, error) {
	light, err := s.read(ctx, body, variant)
	if err != nil {
		return nil, err
	}
	m, err := chain.Compile(light, chain.Options{Variant: variant})
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return m.Solver(), nil
}
