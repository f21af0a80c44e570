package api

import (
	"context"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"photherm/app/store"
	"photherm/core/design"
	"photherm/core/lot"
	"photherm/core/search"
)

// CellLot is a lot of cells with how each is graded.
type CellLot struct {
	ID         string       `json:"id"`
	Revision   int          `json:"revision" doc:"Send it back as If-Match when changing the lot"`
	UpdatedAt  time.Time    `json:"updatedAt"`
	Lot        lot.Lot      `json:"lot"`
	Grades     []lot.Graded `json:"grades" nullable:"false" doc:"Of each cell in turn"`
	Unreadable string       `json:"unreadable,omitempty" doc:"Why the stored document cannot be read; of the lot there is its name alone then"`
}

// LotPack is a pack made of a lot, with what it is good for.
type LotPack struct {
	Grouped lot.Grouped `json:"grouped"`
	// As groups of a pack and a part, to be taken into a light.
	Groups    []design.CellGroup `json:"groups" nullable:"false" doc:"For the pack of a light"`
	Part      design.Cell        `json:"part" doc:"Their mean, as a part"`
	GentleA   *float64           `json:"gentleA" doc:"Current at which the resistance of the cells costs that share of what the pack gives, A; null: not even at two charges an hour"`
	CostShare float64            `json:"costShare"`
	Instead   []LotInstead       `json:"instead" nullable:"false" doc:"Cells of the cabinet that would do the same"`
}

// LotInstead is how many of another cell do the same.
type LotInstead struct {
	ID    string   `json:"id"`
	Name  string   `json:"name"`
	Cells int      `json:"cells" doc:"How many, in as many groups"`
	Ah    float64  `json:"ah" doc:"What the pack then holds, Ah"`
	Ohm   float64  `json:"ohm" doc:"Resistance of a group, Ω"`
	Kg    *float64 `json:"kg" doc:"Their mass; null: not known"`
	Cost  *float64 `json:"cost" doc:"What they cost; null: not known"`
	Stock int      `json:"stock" doc:"How many are on hand"`
}

// LotID is the id in the path of a lot.
type LotID struct {
	ID string `path:"id" pattern:"^[a-z2-7]{16}$" doc:"Id of the lot"`
}

type lotOutput struct {
	ETag string `header:"ETag"`
	Body CellLot
}

func (s *server) lots(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "list-lots", Method: http.MethodGet, Path: "/api/lots", Summary: "Lots of cells", Errors: []int{503}},
		func(ctx context.Context, in *struct {
			Bin bool `query:"bin" doc:"The bin instead"`
		}) (*struct{ Body []CellLot }, error) {
			lots, err := s.store.Lots(ctx, in.Bin)
			if err != nil {
				return nil, s.failure(ctx, err)
			}
			out := make([]CellLot, len(lots))
			for i := range lots {
				out[i] = graded(&lots[i])
			}
			return &struct{ Body []CellLot }{out}, nil
		})
	huma.Register(api, huma.Operation{OperationID: "lot", Method: http.MethodGet, Path: "/api/lots/{id}", Summary: "A lot of cells", Errors: []int{404, 422, 503}},
		func(ctx context.Context, in *LotID) (*lotOutput, error) {
			l, err := s.store.Lot(ctx, in.ID)
			return s.oneLot(ctx, l, err)
		})
	huma.Register(api, huma.Operation{OperationID: "add-lot", Method: http.MethodPost, Path: "/api/lots", Summary: "Put a lot of cells into the cabinet", DefaultStatus: 201, MaxBodyBytes: maxBody, Errors: []int{400, 413, 422, 503}},
		func(ctx context.Context, in *struct{ Body lot.Lot }) (*lotOutput, error) {
			if err := usable(&in.Body); err != nil {
				return nil, err
			}
			l, err := s.store.AddLot(ctx, &in.Body)
			return s.oneLot(ctx, l, err)
		})
	huma.Register(api, huma.Operation{OperationID: "change-lot", Method: http.MethodPut, Path: "/api/lots/{id}", Summary: "Change a lot of cells; packs keep their copies", MaxBodyBytes: maxBody, Errors: []int{400, 404, 412, 413, 422, 503}}, s.changeLot)
	huma.Register(api, huma.Operation{OperationID: "delete-lot", Method: http.MethodDelete, Path: "/api/lots/{id}", Summary: "Put a lot into the bin", Errors: []int{404, 503}},
		func(ctx context.Context, in *LotID) (*struct{}, error) {
			return nil, s.clean(ctx, s.store.BinPart(ctx, in.ID, true))
		})
	huma.Register(api, huma.Operation{OperationID: "restore-lot", Method: http.MethodPost, Path: "/api/lots/{id}/restore", Summary: "Take a lot out of the bin", Errors: []int{404, 503}},
		func(ctx context.Context, in *LotID) (*struct{}, error) {
			return nil, s.clean(ctx, s.store.BinPart(ctx, in.ID, false))
		})
	huma.Register(api, huma.Operation{OperationID: "read-cells", Method: http.MethodPost, Path: "/api/lots/read", Summary: "Cells from the lines of a table", MaxBodyBytes: maxBody, Errors: []int{400, 413, 422}},
		func(_ context.Context, in *struct {
			Body struct {
				Text string `json:"text" maxLength:"1000000" doc:"A heading and a line for each cell"`
			}
		}) (*struct{ Body []lot.Found }, error) {
			cells, err := lot.Read(in.Body.Text)
			if err != nil {
				return nil, huma.Error422UnprocessableEntity(sentence(err.Error()))
			}
			return &struct{ Body []lot.Found }{cells}, nil
		})
	huma.Register(api, huma.Operation{OperationID: "group-lot", Method: http.MethodPost, Path: "/api/lots/group", Summary: "The pack of a lot whose weakest group is strongest", MaxBodyBytes: maxBody, Errors: []int{400, 413, 422, 503}}, gated(s, s.groupLot))
}

func usable(l *lot.Lot) error {
	if l.Version > lot.Version {
		return refused("body.version", fmt.Errorf("this lot was made by a newer Photherm"))
	}
	l.Format, l.Version = lot.Format, lot.Version
	if err := lot.Check(l); err != nil {
		return unusable("lot", "", err)
	}
	return nil
}

func graded(l *store.StoredLot) CellLot {
	if l.Lot.Cells == nil {
		l.Lot.Cells = []lot.Found{}
	}
	return CellLot{ID: l.ID, Revision: l.Revision, UpdatedAt: l.UpdatedAt, Lot: l.Lot, Grades: lot.Grade(&l.Lot), Unreadable: l.Unreadable}
}

func (s *server) oneLot(ctx context.Context, l *store.StoredLot, err error) (*lotOutput, error) {
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return &lotOutput{fmt.Sprintf("%q", strconv.Itoa(l.Revision)), graded(l)}, nil
}

func (s *server) changeLot(ctx context.Context, in *struct {
	LotID
	IfMatch string `header:"If-Match" required:"true" doc:"Revision the change is made on"`
	Body    lot.Lot
}) (*lotOutput, error) {
	base, err := strconv.Atoi(strings.Trim(in.IfMatch, `"`))
	if err != nil {
		return nil, at("header.If-Match", errNotARevision)
	}
	if err := usable(&in.Body); err != nil {
		return nil, err
	}
	l, err := s.store.ChangeLot(ctx, in.ID, base, &in.Body)
	return s.oneLot(ctx, l, err)
}

func (s *server) groupLot(ctx context.Context, in *struct {
	Series    int     `query:"series" minimum:"1" maximum:"100" required:"true" doc:"Groups in series"`
	Parallel  int     `query:"parallel" minimum:"1" maximum:"50" required:"true" doc:"Cells in a group"`
	Grade     string  `query:"grade" enum:"A,B,open" default:"B" doc:"Cells of this grade and better"`
	Weakest   bool    `query:"weakest" doc:"Takes the weakest cells that will do"`
	CostShare float64 `query:"costShare" minimum:"0.001" maximum:"0.5" default:"0.05" doc:"Share of what the pack gives that its resistance may cost"`
	Body      lot.Lot
}) (*struct{ Body LotPack }, error) {
	l := &in.Body
	if err := lot.Check(l); err != nil {
		return nil, unusable("lot", "", err)
	}
	g, err := lot.GroupOf(ctx, l, lot.Ask{Series: in.Series, Parallel: in.Parallel, Grade: in.Grade, Weakest: in.Weakest})
	if err != nil {
		if ctx.Err() != nil {
			return nil, err
		}
		return nil, refused("query.parallel", err)
	}
	out := LotPack{Grouped: *g, CostShare: in.CostShare, Groups: []design.CellGroup{}, Instead: []LotInstead{}}
	var used []lot.Found
	for _, group := range g.Groups {
		cells := design.CellGroup{}
		for _, label := range group.Labels {
			c := l.Cells[slices.IndexFunc(l.Cells, func(c lot.Found) bool { return c.Label == label })]
			used = append(used, c)
			cells.Cells = append(cells.Cells, design.PackCell{Label: c.Label, CapacityAh: c.MeasuredAh, ResistanceOhm: c.ResistanceOhm})
		}
		out.Groups = append(out.Groups, cells)
	}
	out.Part = *l.Part(used)
	out.GentleA, err = search.GentleOf(ctx, &out.Part, design.Pack{Series: in.Series, Parallel: in.Parallel, Groups: out.Groups}, in.CostShare)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	parts, err := s.readable(ctx, "cell")
	if err != nil {
		return nil, err
	}
	for i := range parts {
		if c := parts[i].Part.Cell; c.Chemistry == l.Chemistry {
			out.Instead = append(out.Instead, instead(&parts[i], g.WeakestAh, in.Series))
		}
	}
	slices.SortStableFunc(out.Instead, func(a, b LotInstead) int { return a.Cells - b.Cells })
	return &struct{ Body LotPack }{out}, nil
}

// instead is how many of a cell hold as much.
func instead(p *store.CabinetPart, ah float64, series int) LotInstead {
	c := p.Part.Cell
	each := c.CapacityAh
	if c.Health != nil {
		each *= *c.Health
	}
	parallel := int(math.Ceil(ah/each - 1e-9))
	out := LotInstead{ID: p.ID, Name: p.Part.Name, Cells: parallel * series, Ah: each * float64(parallel), Ohm: c.ResistanceOhm / float64(parallel), Stock: p.Stock}
	if c.MassKg != nil {
		out.Kg = new(*c.MassKg * float64(out.Cells))
	}
	if p.Part.Price != nil {
		out.Cost = new(*p.Part.Price * float64(out.Cells))
	}
	return out
}
