package api

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"net/http"
	"reflect"
	"strconv"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"

	"photherm/app/archive"
)

// mostArchive bounds an archive that is brought in from the page: chosen, thousands of
// lights. The command takes larger ones.
const mostArchive = 512 << 20

// ArchiveStep is a line of the answer to an archive: how far it is, or at last what came
// of it or why it was left.
type ArchiveStep struct {
	Done    int             `json:"done" doc:"Lights and parts that are in"`
	Of      int             `json:"of"`
	Report  *archive.Report `json:"report,omitempty" doc:"What came of it; in the last line alone"`
	Problem string          `json:"problem,omitempty" doc:"Why it was left; in the last line alone. What came in before stays"`
}

func (s *server) archive(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "export-archive", Method: http.MethodGet, Path: "/api/archive", Summary: "Everything as one zip of open files", Errors: []int{503},
		Responses: map[string]*huma.Response{"200": {Description: "The archive", Content: map[string]*huma.MediaType{"application/zip": {Schema: &huma.Schema{Type: "string", Format: "binary"}}}}}}, s.exportArchive)
	step := api.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[ArchiveStep](), true, "ArchiveStep")
	huma.Register(api, huma.Operation{OperationID: "import-archive", Method: http.MethodPost, Path: "/api/archive", Summary: "Bring an archive in: what is here already stays as it is",
		MaxBodyBytes: mostArchive, BodyReadTimeout: -1, Errors: []int{413, 422, 503},
		Responses: map[string]*huma.Response{"200": {Description: "One line a step", Content: map[string]*huma.MediaType{"application/x-ndjson": {Schema: step}}}}}, s.importArchive)
}

// itemsHeader tells how many lights and parts an archive holds, for who watches it come.
const itemsHeader = "X-Photherm-Items"

func (s *server) exportArchive(ctx context.Context, _ *struct{}) (*huma.StreamResponse, error) {
	if err := s.store.Ping(ctx); err != nil {
		return nil, s.failure(ctx, err)
	}
	return &huma.StreamResponse{Body: func(c huma.Context) {
		unhurried(c)
		c.SetHeader("Content-Type", "application/zip")
		c.SetHeader("Content-Disposition", fmt.Sprintf(`attachment; filename="photherm-%s.zip"`, time.Now().Format("2006-01-02")))
		if err := archive.Write(ctx, c.BodyWriter(), s.store, func(done, of int) {
			if done == 0 { // nothing is written yet
				c.SetHeader(itemsHeader, strconv.Itoa(of))
			}
		}); err != nil {
			slog.ErrorContext(ctx, "archive cut short", "error", err)
			panic(http.ErrAbortHandler) // so that half a file is not taken for a whole one
		}
	}}, nil
}

func (s *server) importArchive(ctx context.Context, in *struct {
	Beside  bool `query:"beside" doc:"Put what differs from what is here beside it; otherwise it is left out"`
	RawBody []byte
}) (*huma.StreamResponse, error) {
	a, err := archive.Open(bytes.NewReader(in.RawBody), int64(len(in.RawBody)))
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return &huma.StreamResponse{Body: func(c huma.Context) {
		unhurried(c)
		c.SetHeader("Content-Type", "application/x-ndjson")
		w := c.BodyWriter()
		say := func(step ArchiveStep) {
			_ = json.NewEncoder(w).Encode(step) // the client may have left: the work goes on to its end
			if f, ok := w.(http.Flusher); ok {
				f.Flush()
			}
		}
		last := ArchiveStep{}
		report, err := a.TakeIn(ctx, s.store, in.Beside, func(done, of int) {
			last.Done, last.Of = done, of
			say(last)
		})
		s.changed()
		if err != nil {
			last.Problem = s.failure(ctx, err).Error()
		}
		last.Report = report
		say(last)
	}}, nil
}

// unhurried lifts the server's deadline for an answer that is long and comes in pieces.
func unhurried(c huma.Context) {
	if err := http.NewResponseController(humagin.Unwrap(c).Writer).SetWriteDeadline(time.Time{}); err != nil {
		slog.Warn("an archive may be cut short by the deadline of answers", "error", err)
	}
}
