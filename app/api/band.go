package api

import (
	"context"
	"encoding/json"
	"net/http"
	"reflect"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"photherm/core/band"
)

// bandSeed makes the band of a light the same each time it is asked for.
const bandSeed = 1

// tellEvery is how often it is told how far a band is drawn (chosen).
const tellEvery = 100 * time.Millisecond

// BandStep is a line of the answer: how many lights are drawn, and in the last what came of it.
type BandStep struct {
	Done    int        `json:"done"`
	Of      int        `json:"of"`
	Band    *band.Band `json:"band,omitempty"`
	Problem string     `json:"problem,omitempty" doc:"Why there is none"`
}

func (s *server) bands(api huma.API, op huma.Operation) {
	step := api.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[BandStep](), true, "BandStep")
	op.Responses = map[string]*huma.Response{"200": {Description: "One line a step", Content: map[string]*huma.MediaType{"application/x-ndjson": {Schema: step}}}}
	huma.Register(api, op, s.band)
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
	key, _ := ctx.Value(asked{}).(string)
	inside, leave, err := s.gate.Enter(ctx, key)
	if err != nil {
		return nil, s.failure(ctx, late(err))
	}
	return &huma.StreamResponse{Body: func(c huma.Context) {
		defer leave()
		c.SetHeader("Content-Type", "application/x-ndjson")
		w := c.BodyWriter()
		var mu sync.Mutex // drawn on several processors
		var told time.Time
		say := func(step BandStep) {
			_ = json.NewEncoder(w).Encode(step) // the asker may have left: then the work stops by its context
			if f, ok := w.(http.Flusher); ok {
				f.Flush()
			}
		}
		last := BandStep{Of: in.Samples}
		out, err := band.Of(inside, light, in.Variant, in.Samples, bandSeed, func(done int) {
			mu.Lock()
			defer mu.Unlock()
			if last.Done = max(last.Done, done); time.Since(told) > tellEvery {
				told = time.Now()
				say(last)
			}
		})
		if err != nil {
			if inside.Err() != nil {
				err = late(context.Cause(inside))
			}
			last.Problem = s.questioned(ctx, "query.samples", err).Error()
		}
		last.Band = out
		say(last)
	}}, nil
}
