package api

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"photherm/app/exchange"
	"photherm/app/store"
	"photherm/app/summary"
	"photherm/core/design"
)

// PartDocument is a part as it travels: described as design.Part, read by
// design.DecodePart alone.
type PartDocument json.RawMessage

// Schema describes a PartDocument as the part it holds.
func (PartDocument) Schema(r huma.Registry) *huma.Schema {
	return r.Schema(reflect.TypeFor[design.Part](), true, "Part")
}

// UnmarshalJSON keeps the bytes.
func (d *PartDocument) UnmarshalJSON(b []byte) error {
	*d = append((*d)[:0], b...)
	return nil
}

// MarshalJSON gives the bytes back.
func (d PartDocument) MarshalJSON() ([]byte, error) { return d, nil }

func (d PartDocument) decode(at string) (*design.Part, error) {
	p, err := design.DecodePart(d)
	if err != nil {
		return nil, unusable("part", at, err)
	}
	return p, nil
}

// CabinetPart is a part of the cabinet with what it lacks and where it is used.
type CabinetPart struct {
	ID        string      `json:"id"`
	Revision  int         `json:"revision" doc:"Send it back as If-Match when changing the part"`
	Stock     int         `json:"stock"`
	Hash      string      `json:"hash" doc:"State of its data; a light's copy remembers it"`
	Lacks     []string    `json:"lacks" nullable:"false" doc:"Figures still missing, in plain words"`
	UsedIn    []PartUse   `json:"usedIn" nullable:"false" doc:"Lights that hold a copy"`
	UpdatedAt time.Time   `json:"updatedAt"`
	Part      design.Part `json:"part"`

	Unreadable string `json:"unreadable,omitempty" doc:"Why the stored document cannot be read; of the part there is its name alone then"`
}

// PartUse is a light that holds a copy of a part.
type PartUse struct {
	Light   string `json:"light" doc:"Id of the light"`
	Name    string `json:"name"`
	Changed bool   `json:"changed" doc:"The copy differs from the cabinet's part now"`
}

// Imported is what came of a file of parts.
type Imported struct {
	Added []CabinetPart `json:"added" nullable:"false"`
	There int           `json:"there" doc:"How many were there already, or twice in the file, and did not come again"`
}

type cabinetInput struct {
	Stock int          `json:"stock" minimum:"0" maximum:"1000000" doc:"How many are on hand"`
	Part  PartDocument `json:"part"`
}

// PartID is the id in the path of a part.
type PartID struct {
	ID string `path:"id" pattern:"^[a-z2-7]{16}$" doc:"Id of the part"`
}

type cabinetOutput struct {
	ETag string `header:"ETag"`
	Body CabinetPart
}

func (s *server) cabinet(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "list-cabinet", Method: http.MethodGet, Path: "/api/cabinet", Summary: "Parts on hand, by kind and name", Errors: []int{503}}, s.listCabinet)
	huma.Register(api, huma.Operation{OperationID: "add-part", Method: http.MethodPost, Path: "/api/cabinet", Summary: "Put a part into the cabinet", DefaultStatus: 201, MaxBodyBytes: maxBody, SkipValidateBody: true, Errors: []int{400, 413, 422, 503}}, s.addPart)
	huma.Register(api, huma.Operation{OperationID: "change-part", Method: http.MethodPut, Path: "/api/cabinet/{id}", Summary: "Change a part of the cabinet; lights keep their copies", MaxBodyBytes: maxBody, SkipValidateBody: true, Errors: []int{400, 404, 412, 413, 422, 503}}, s.changePart)
	huma.Register(api, huma.Operation{OperationID: "delete-part", Method: http.MethodDelete, Path: "/api/cabinet/{id}", Summary: "Put a part into the bin", Errors: []int{404, 503}},
		func(ctx context.Context, in *PartID) (*struct{}, error) {
			return nil, s.clean(ctx, s.store.BinPart(ctx, in.ID, true))
		})
	huma.Register(api, huma.Operation{OperationID: "restore-part", Method: http.MethodPost, Path: "/api/cabinet/{id}/restore", Summary: "Take a part out of the bin", Errors: []int{404, 503}},
		func(ctx context.Context, in *PartID) (*struct{}, error) {
			return nil, s.clean(ctx, s.store.BinPart(ctx, in.ID, false))
		})
	huma.Register(api, huma.Operation{OperationID: "raw-part", Method: http.MethodGet, Path: "/api/cabinet/{id}/raw", Summary: "The stored document of a part as it is, even if it cannot be read", Errors: []int{404, 503},
		Responses: map[string]*huma.Response{"200": {Description: "The stored text", Content: map[string]*huma.MediaType{"application/json": {Schema: &huma.Schema{Type: "string"}}}}}}, s.rawPart)
	huma.Register(api, huma.Operation{OperationID: "export-cabinet-csv", Method: http.MethodGet, Path: "/api/cabinet.csv", Summary: "The cabinet as CSV", Errors: []int{503},
		Responses: map[string]*huma.Response{"200": {Description: "CSV, one row a part", Content: map[string]*huma.MediaType{"text/csv": {Schema: &huma.Schema{Type: "string"}}}}}}, s.exportCSV)
	huma.Register(api, huma.Operation{OperationID: "export-cabinet", Method: http.MethodGet, Path: "/api/cabinet.json", Summary: "The cabinet as JSON", Errors: []int{503}},
		func(ctx context.Context, _ *struct{}) (*struct{ Body []exchange.StockedPart }, error) {
			parts, err := s.exported(ctx)
			return &struct{ Body []exchange.StockedPart }{parts}, err
		})
	huma.Register(api, huma.Operation{OperationID: "import-cabinet", Method: http.MethodPost, Path: "/api/cabinet/import", Summary: "Add the parts of a CSV or JSON file, all or none", MaxBodyBytes: maxBody, Errors: []int{400, 413, 422, 503}}, s.importParts)
}

// uses lists the lights that hold copies of cabinet parts, by part id.
func (s *server) uses(ctx context.Context) (map[string][]usedCopy, error) {
	out := map[string][]usedCopy{}
	for offset := 0; ; offset += usesPage {
		rows, total, err := s.store.Shelf(ctx, false, summary.Solver, offset, usesPage)
		if err != nil {
			return nil, err
		}
		for i := range rows {
			parts, err := s.copies(ctx, &rows[i])
			if err != nil {
				return nil, err
			}
			for _, c := range parts {
				out[c.Origin] = append(out[c.Origin], usedCopy{rows[i].ID, rows[i].Name, c.Hash})
			}
		}
		if offset+usesPage >= total {
			return out, nil
		}
	}
}

// usesPage is how many lights are looked through at once.
const usesPage = 500

// copies lists the cabinet's parts a light has copies of: by its summary, or by its
// document where that is not written yet.
func (s *server) copies(ctx context.Context, r *store.Row) ([]summary.Copy, error) {
	var of summary.Summary
	if r.Current && json.Unmarshal(r.Summary, &of) == nil {
		return of.Parts, nil
	}
	document, _, err := s.store.Raw(ctx, r.ID)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil // gone meanwhile
	}
	if err != nil {
		return nil, err
	}
	return summary.Copies(document), nil
}

type usedCopy struct{ id, name, hash string }

func described(p *store.CabinetPart, uses []usedCopy) CabinetPart {
	out := CabinetPart{ID: p.ID, Revision: p.Revision, Stock: p.Stock, Hash: p.Part.Hash(), Lacks: p.Part.Lacks(), UsedIn: []PartUse{}, UpdatedAt: p.UpdatedAt, Part: p.Part, Unreadable: p.Unreadable}
	for _, u := range uses {
		out.UsedIn = append(out.UsedIn, PartUse{u.id, u.name, u.hash != out.Hash})
	}
	return out
}

func (s *server) listCabinet(ctx context.Context, in *struct {
	Kind string `query:"kind" enum:"emitter,driver,cell,strip,load,profile,protection,charger" doc:"One kind only"`
	Bin  bool   `query:"bin" doc:"The bin instead"`
}) (*struct{ Body []CabinetPart }, error) {
	parts, err := s.store.Parts(ctx, in.Kind, in.Bin)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	uses, err := s.uses(ctx)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	out := make([]CabinetPart, len(parts))
	for i := range parts {
		out[i] = described(&parts[i], uses[parts[i].ID])
	}
	return &struct{ Body []CabinetPart }{out}, nil
}

func (s *server) one(ctx context.Context, p *store.CabinetPart) (*cabinetOutput, error) {
	uses, err := s.uses(ctx)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return &cabinetOutput{fmt.Sprintf("%q", strconv.Itoa(p.Revision)), described(p, uses[p.ID])}, nil
}

// own is a part as the cabinet keeps it: its id in a light is of no meaning there.
func own(p *design.Part) design.Part {
	p.ID, p.Origin = "part", nil
	return *p
}

func stockInRange(stock int) error {
	if stock < 0 || stock > store.MostStock {
		return at("/stock", errNoCount)
	}
	return nil
}

func (s *server) addPart(ctx context.Context, in *struct{ Body cabinetInput }) (*cabinetOutput, error) {
	part, err := in.Body.Part.decode("/part")
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	if err := stockInRange(in.Body.Stock); err != nil {
		return nil, err
	}
	added, err := s.store.AddParts(ctx, []store.CabinetPart{{Stock: in.Body.Stock, Part: own(part)}})
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return s.one(ctx, &added[0])
}

func (s *server) changePart(ctx context.Context, in *struct {
	PartID
	IfMatch string `header:"If-Match" required:"true" doc:"Revision the change is made on"`
	Body    cabinetInput
}) (*cabinetOutput, error) {
	base, err := strconv.Atoi(strings.Trim(in.IfMatch, `"`))
	if err != nil {
		return nil, at("header.If-Match", errNotARevision)
	}
	part, err := in.Body.Part.decode("/part")
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	if err := stockInRange(in.Body.Stock); err != nil {
		return nil, err
	}
	p, err := s.store.ChangePart(ctx, in.ID, base, store.CabinetPart{Stock: in.Body.Stock, Part: own(part)})
	var conflict *store.PartConflict
	if errors.As(err, &conflict) {
		return nil, s.failure(ctx, errPartMoved)
	}
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return s.one(ctx, p)
}

// readable lists the parts on hand of a kind, or all, that can be read.
func (s *server) readable(ctx context.Context, kind string) ([]store.CabinetPart, error) {
	parts, err := s.store.Parts(ctx, kind, false)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return slices.DeleteFunc(parts, func(p store.CabinetPart) bool { return p.Unreadable != "" }), nil
}

// rawPart gives the stored document out as it is, for one that cannot be read.
func (s *server) rawPart(ctx context.Context, in *PartID) (*download, error) {
	document, err := s.store.RawPart(ctx, in.ID)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return jsonFile("part-"+in.ID, document), nil
}

func (s *server) exported(ctx context.Context) ([]exchange.StockedPart, error) {
	parts, err := s.readable(ctx, "")
	if err != nil {
		return nil, err
	}
	out := make([]exchange.StockedPart, len(parts))
	for i := range parts {
		out[i] = exchange.StockedPart{Stock: parts[i].Stock, Part: parts[i].Part}
	}
	return out, nil
}

func (s *server) exportCSV(ctx context.Context, _ *struct{}) (*struct {
	ContentType string `header:"Content-Type"`
	Body        []byte
}, error) {
	parts, err := s.exported(ctx)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := exchange.WritePartsCSV(&b, parts); err != nil {
		return nil, s.failure(ctx, err)
	}
	return &struct {
		ContentType string `header:"Content-Type"`
		Body        []byte
	}{"text/csv; charset=utf-8", b.Bytes()}, nil
}

func (s *server) importParts(ctx context.Context, in *struct {
	Format  string `query:"format" enum:"csv,json" default:"csv" doc:"What the file is"`
	RawBody []byte
}) (*struct{ Body Imported }, error) {
	var parts []exchange.StockedPart
	var err error
	if in.Format == "json" {
		parts, err = exchange.ReadPartsJSON(in.RawBody)
	} else {
		parts, err = exchange.ReadPartsCSV(bytes.NewReader(in.RawBody))
	}
	var line *exchange.LineError
	if errors.As(err, &line) {
		return nil, huma.Error422UnprocessableEntity("Nothing was imported: "+line.Error()+".", &huma.ErrorDetail{Location: fmt.Sprintf("line %d", line.Line), Message: line.Why, Value: line.Column})
	}
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	there, err := s.readable(ctx, "")
	if err != nil {
		return nil, err
	}
	known := map[string]bool{}
	for i := range there {
		known[there[i].Part.Name+there[i].Part.Hash()] = true
	}
	rows := []store.CabinetPart{}
	for i := range parts {
		p := own(&parts[i].Part)
		if key := p.Name + p.Hash(); !known[key] {
			known[key] = true
			rows = append(rows, store.CabinetPart{Stock: parts[i].Stock, Part: p})
		}
	}
	added, err := s.store.AddParts(ctx, rows)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	out := Imported{Added: make([]CabinetPart, len(added)), There: len(parts) - len(added)}
	for i := range added {
		out.Added[i] = described(&added[i], nil)
	}
	return &struct{ Body Imported }{out}, nil
}
