package api

import (
	"bytes"
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"photherm/app/exchange"
	"photherm/app/solution"
	"photherm/core/chain"
	"photherm/core/design"
)

type solveInput struct {
	Variant int     `query:"variant" minimum:"0" maximum:"19" default:"0" doc:"Index of the variant"`
	AtS     float64 `query:"atS" minimum:"0" maximum:"1e9" default:"30" doc:"Instant of the figures, s after switch-on"`
	Body    Document
}

type traceInput struct {
	Variant int `query:"variant" minimum:"0" maximum:"19" default:"0" doc:"Index of the variant"`
	Body    Document
}

func (s *server) solving(api huma.API) {
	huma.Register(api, huma.Operation{
		OperationID: "solve", Method: http.MethodPost, Path: "/api/solve", Summary: "Answers, figures at one instant and findings of a posted light",
		MaxBodyBytes: maxBody, SkipValidateBody: true, Errors: []int{400, 413, 422},
	}, gated(s, func(ctx context.Context, in *solveInput) (*struct{ Body *solution.Solution }, error) {
		answer, err := s.solve(ctx, in.Body, solution.Query{Variant: in.Variant, AtS: in.AtS})
		if err != nil {
			return nil, err
		}
		return &struct{ Body *solution.Solution }{answer}, nil
	}))
	huma.Register(api, huma.Operation{
		OperationID: "trace", Method: http.MethodPost, Path: "/api/trace", Summary: "The course in time of a posted light, at most 300 instants",
		MaxBodyBytes: maxBody, SkipValidateBody: true, Errors: []int{400, 413, 422},
	}, gated(s, func(ctx context.Context, in *traceInput) (*struct{ Body *chain.Trace }, error) {
		run, err := s.course(ctx, in)
		if err != nil {
			return nil, err
		}
		return &struct{ Body *chain.Trace }{run.Trace()}, nil
	}))
	huma.Register(api, huma.Operation{
		OperationID: "plane", Method: http.MethodPost, Path: "/api/plane", Summary: "A driver's envelope and its load on the current–voltage plane",
		MaxBodyBytes: maxBody, SkipValidateBody: true, Errors: []int{400, 413, 422},
	}, gated(s, s.plane))
	huma.Register(api, huma.Operation{
		OperationID: "trace-csv", Method: http.MethodPost, Path: "/api/trace.csv", Summary: "The course in time as CSV",
		MaxBodyBytes: maxBody, SkipValidateBody: true, Errors: []int{400, 413, 422},
		Responses: map[string]*huma.Response{"200": {Description: "CSV, one row an instant", Content: map[string]*huma.MediaType{"text/csv": {Schema: &huma.Schema{Type: "string"}}}}},
	}, gated(s, func(ctx context.Context, in *traceInput) (*struct {
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
	}))
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

func (s *server) solve(ctx context.Context, d Document, q solution.Query) (*solution.Solution, error) {
	light, err := s.read(ctx, d, q.Variant)
	if err != nil {
		return nil, err
	}
	answer, _, err := solution.Solve(ctx, light, q)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return answer, nil
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
		return nil, huma.Error422UnprocessableEntity("This light has no such variant.", &huma.ErrorDetail{Location: "query.variant", Message: "no such variant"})
	}
	return light, nil
}
