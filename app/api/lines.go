package api

import (
	"encoding/json"
	"net/http"
	"reflect"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
)

// lines answers line by line, each sent as soon as it is said.
func lines(tell func(say func(line any))) *huma.StreamResponse {
	return &huma.StreamResponse{Body: func(c huma.Context) {
		c.SetHeader("Content-Type", "application/x-ndjson")
		w := c.BodyWriter()
		tell(func(line any) {
			_ = json.NewEncoder(w).Encode(line) // the asker may have left: then the work stops by its context
			if f, ok := w.(http.Flusher); ok {
				f.Flush()
			}
		})
	}}
}

// linesOf says what the lines of an operation are.
func linesOf[T any](api huma.API, op huma.Operation) huma.Operation {
	t := reflect.TypeFor[T]()
	line := api.OpenAPI().Components.Schemas.Schema(t, true, t.Name())
	op.Responses = map[string]*huma.Response{"200": {Description: "One line a step", Content: map[string]*huma.MediaType{"application/x-ndjson": {Schema: line}}}}
	return op
}

// tellEvery is how often it is told how far a piece of work is (chosen).
const tellEvery = 100 * time.Millisecond

// A count of what is done is told from several processors, but not too often.
type count struct {
	mu   sync.Mutex
	last time.Time
	n    int
}

func (c *count) reach(n int, tell func(n int)) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.n = max(c.n, n)
	if time.Since(c.last) > tellEvery {
		c.last = time.Now()
		tell(c.n)
	}
}
