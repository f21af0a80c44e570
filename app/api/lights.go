package api

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"mime"
	"net/http"
	"reflect"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"photherm/app/solution"
	"photherm/app/store"
	"photherm/app/summary"
	"photherm/core/design"
)

// StoredLight is a light with its place in the store.
type StoredLight struct {
	ID        string    `json:"id"`
	Revision  int       `json:"revision" doc:"Send it back as If-Match when changing the light"`
	UpdatedAt time.Time `json:"updatedAt"`
	Deleted   bool      `json:"deleted" doc:"Whether it lies in the bin"`
	CanUndo   bool      `json:"canUndo" doc:"Whether the asking tab can take its last change back"`
	CanRedo   bool      `json:"canRedo"`
	Label     string    `json:"label" doc:"What the last change was"`
	Light     Document  `json:"light"`
}

// ShelfLight is a light on the shelf.
type ShelfLight struct {
	ID        string           `json:"id"`
	Revision  int              `json:"revision"`
	Name      string           `json:"name"`
	Progress  string           `json:"progress"`
	UpdatedAt time.Time        `json:"updatedAt"`
	Current   bool             `json:"current" doc:"Whether the summary is of this revision; one that is not is being written"`
	Summary   *summary.Summary `json:"summary" doc:"null: not written yet"`
}

// Shelf is a page of lights.
type Shelf struct {
	Total  int          `json:"total" doc:"How many there are in all"`
	Lights []ShelfLight `json:"lights" nullable:"false"`
}

func stored(l *store.Light, tab string) StoredLight {
	return StoredLight{ID: l.ID, Revision: l.Revision, UpdatedAt: l.UpdatedAt, Deleted: l.Deleted, Label: l.Label,
		CanUndo: l.CanUndo && (tab == "" || l.Tab == tab), CanRedo: l.CanRedo, Light: Document(l.Document)}
}

type lightOutput struct {
	ETag string `header:"ETag"`
	Body StoredLight
}

func output(l *store.Light, tab string) *lightOutput {
	return &lightOutput{fmt.Sprintf("%q", strconv.Itoa(l.Revision)), stored(l, tab)}
}

// LightID, TabHeader and ChangeInput are shared parts of inputs; the framework reads
// only exported ones.
type LightID struct {
	ID string `path:"id" pattern:"^[a-z2-7]{16}$" doc:"Id of the light"`
}

type TabHeader struct {
	Tab   string `header:"X-Photherm-Tab" maxLength:"64" doc:"Names the browser tab, so that it undoes only its own changes"`
	Label string `header:"X-Photherm-Change" maxLength:"120" doc:"What the change is, percent-encoded"`
}

type ChangeInput struct {
	LightID
	TabHeader
	IfMatch string `header:"If-Match" required:"true" doc:"Revision the change is made on"`
}

func (in *ChangeInput) edit() (store.Edit, error) {
	base, err := strconv.Atoi(strings.Trim(in.IfMatch, `"`))
	if err != nil {
		return store.Edit{}, at("header.If-Match", errNotARevision)
	}
	return store.Edit{Base: base, Tab: in.Tab, Label: in.Label}, nil
}

func (s *server) lights(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "list-lights", Method: http.MethodGet, Path: "/api/lights", Summary: "Lights on the shelf, last changed first"}, s.list)
	huma.Register(api, huma.Operation{OperationID: "create-light", Method: http.MethodPost, Path: "/api/lights", Summary: "Put a light on the shelf", DefaultStatus: 201,
		MaxBodyBytes: maxBody, SkipValidateBody: true, Errors: []int{400, 413, 422, 503}}, s.create)
	huma.Register(api, huma.Operation{OperationID: "get-light", Method: http.MethodGet, Path: "/api/lights/{id}", Summary: "A light at its newest revision", Errors: []int{404, 503}}, s.get)
	huma.Register(api, huma.Operation{OperationID: "raw-light", Method: http.MethodGet, Path: "/api/lights/{id}/raw", Summary: "The stored document of a light as it is, even if it cannot be read", Errors: []int{404, 503},
		Responses: map[string]*huma.Response{"200": {Description: "The stored text", Content: map[string]*huma.MediaType{"application/json": {Schema: &huma.Schema{Type: "string"}}}}}}, s.raw)
	huma.Register(api, huma.Operation{OperationID: "light-file", Method: http.MethodGet, Path: "/api/lights/{id}/file", Summary: "A light as a file to keep or to hand on", Errors: []int{404, 422, 503},
		Responses: map[string]*huma.Response{"200": {Description: "The light file", Content: map[string]*huma.MediaType{"application/json": {Schema: &huma.Schema{Type: "string"}}}}}}, s.file)
	huma.Register(api, huma.Operation{OperationID: "save-light", Method: http.MethodPut, Path: "/api/lights/{id}", Summary: "A new revision of a light",
		MaxBodyBytes: maxBody, SkipValidateBody: true, Errors: []int{400, 404, 413, 422, 503}, Responses: conflictResponse(api)}, s.save)
	huma.Register(api, huma.Operation{OperationID: "undo", Method: http.MethodPost, Path: "/api/lights/{id}/undo", Summary: "Take this tab's last change back", Errors: []int{404, 409, 503}, Responses: conflictResponse(api)},
		s.step(func(ctx context.Context, id string, e store.Edit) (*store.Light, error) {
			return s.store.Undo(ctx, id, e)
		}))
	huma.Register(api, huma.Operation{OperationID: "redo", Method: http.MethodPost, Path: "/api/lights/{id}/redo", Summary: "Make an undone change again", Errors: []int{404, 409, 503}, Responses: conflictResponse(api)},
		s.step(func(ctx context.Context, id string, e store.Edit) (*store.Light, error) {
			return s.store.Redo(ctx, id, e)
		}))
	huma.Register(api, huma.Operation{OperationID: "delete-light", Method: http.MethodDelete, Path: "/api/lights/{id}", Summary: "Put a light in the bin", Errors: []int{404, 503}},
		func(ctx context.Context, in *LightID) (*struct{}, error) {
			return nil, s.clean(ctx, s.store.Delete(ctx, in.ID))
		})
	huma.Register(api, huma.Operation{OperationID: "restore-light", Method: http.MethodPost, Path: "/api/lights/{id}/restore", Summary: "Take a light out of the bin", Errors: []int{404, 503}},
		func(ctx context.Context, in *LightID) (*struct{}, error) {
			return nil, s.clean(ctx, s.store.Restore(ctx, in.ID))
		})
	huma.Register(api, huma.Operation{OperationID: "glance", Method: http.MethodGet, Path: "/api/lights/{id}/glance", Summary: "The first variant of a stored light, solved", Errors: []int{404, 422, 503}}, gated(s, s.glance))
}

func conflictResponse(api huma.API) map[string]*huma.Response {
	schema := huma.SchemaFromType(api.OpenAPI().Components.Schemas, reflect.TypeFor[conflictProblem]())
	return map[string]*huma.Response{"412": {Description: "Changed elsewhere since", Content: map[string]*huma.MediaType{"application/problem+json": {Schema: schema}}}}
}

func (s *server) clean(ctx context.Context, err error) error {
	if err == nil {
		return nil
	}
	return s.failure(ctx, err)
}

func (s *server) list(ctx context.Context, in *struct {
	Bin    bool `query:"bin" doc:"The bin instead of the shelf"`
	Offset int  `query:"offset" minimum:"0" maximum:"1000000" default:"0" doc:"How many to pass over"`
	Limit  int  `query:"limit" minimum:"1" maximum:"1000" default:"100" doc:"How many at most"`
}) (*struct{ Body Shelf }, error) {
	rows, total, err := s.store.Shelf(ctx, in.Bin, summary.Solver, in.Offset, in.Limit)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	page := Shelf{Total: total, Lights: make([]ShelfLight, len(rows))}
	for i := range rows {
		r := &rows[i]
		if !r.Current {
			s.changed()
		}
		page.Lights[i] = ShelfLight{r.ID, r.Revision, r.Name, r.Progress, r.UpdatedAt, r.Current, nil}
		if r.Summary == nil {
			continue
		}
		page.Lights[i].Summary = new(summary.Summary)
		if err := json.Unmarshal(r.Summary, page.Lights[i].Summary); err != nil {
			page.Lights[i].Summary, page.Lights[i].Current = nil, false
		}
	}
	return &struct{ Body Shelf }{page}, nil
}

// A download is a file that is given out under a name.
type download struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Body        []byte
}

func jsonFile(name string, document []byte) *download {
	return &download{"application/json; charset=utf-8", mime.FormatMediaType("attachment", map[string]string{"filename": name + ".json"}), document}
}

// file gives a light out, named as the light is.
func (s *server) file(ctx context.Context, in *LightID) (*download, error) {
	l, err := s.store.Get(ctx, in.ID)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return jsonFile(fileName(l.Name), l.Document), nil
}

// fileName is a name without what file systems do not take.
func fileName(name string) string {
	name = strings.TrimSpace(strings.Map(func(r rune) rune {
		if r < ' ' || strings.ContainsRune(`/\:*?"<>|`, r) {
			return ' '
		}
		return r
	}, name))
	if name = strings.Trim(name, "."); name == "" {
		return "light"
	}
	return name
}

// raw gives the stored document out as it is, for one that cannot be read.
func (s *server) raw(ctx context.Context, in *LightID) (*download, error) {
	document, _, err := s.store.Raw(ctx, in.ID)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return jsonFile("light-"+in.ID, document), nil
}

func (s *server) create(ctx context.Context, in *struct {
	TabHeader
	Body Document
}) (*lightOutput, error) {
	light, err := in.Body.decode()
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	l, err := s.store.Create(ctx, light, store.Edit{Tab: in.Tab, Label: in.Label})
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	s.changed()
	return output(l, in.Tab), nil
}

func (s *server) get(ctx context.Context, in *struct {
	LightID
	TabHeader
}) (*lightOutput, error) {
	l, err := s.store.Get(ctx, in.ID)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return output(l, in.Tab), nil
}

func (s *server) save(ctx context.Context, in *struct {
	ChangeInput
	Body Document
}) (*lightOutput, error) {
	e, err := in.edit()
	if err != nil {
		return nil, err
	}
	light, err := in.Body.decode()
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	l, err := s.store.Save(ctx, in.ID, light, e)
	var conflict *store.Conflict
	if errors.As(err, &conflict) {
		p, _ := s.failure(ctx, err).(*conflictProblem)
		p.Yours = in.Body
		return nil, p
	}
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	s.changed()
	return output(l, in.Tab), nil
}

func (s *server) step(do func(context.Context, string, store.Edit) (*store.Light, error)) func(context.Context, *ChangeInput) (*lightOutput, error) {
	return func(ctx context.Context, in *ChangeInput) (*lightOutput, error) {
		e, err := in.edit()
		if err != nil {
			return nil, err
		}
		l, err := do(ctx, in.ID, e)
		if err != nil {
			return nil, s.failure(ctx, err)
		}
		s.changed()
		return output(l, in.Tab), nil
	}
}

func (s *server) glance(ctx context.Context, in *LightID) (*struct{ Body *solution.Solution }, error) {
	l, err := s.store.Get(ctx, in.ID)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	light, err := design.Decode(l.Document)
	if err != nil {
		return nil, s.failure(ctx, fmt.Errorf("%w: light %s: %w", store.ErrUnreadable, in.ID, err))
	}
	answer, _, err := solution.Solve(ctx, light, solution.Query{AtS: 30})
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return &struct{ Body *solution.Solution }{answer}, nil
}
