package api

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"photherm/core/array"
	"photherm/core/chain"
	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/emitter"
	"photherm/core/photometry"
	"photherm/core/search"
	"photherm/core/setup"
)

// asking registers the questions of the workbenches: matching, set-up, drive ratio,
// sharing, and what an emitter's data make.
func (s *server) asking(api huma.API) {
	ask := func(id, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: http.MethodPost, Path: path, Summary: summary, MaxBodyBytes: maxBody, SkipValidateBody: true, Errors: []int{400, 413, 422, 503}}
	}
	huma.Register(api, ask("set-up", "/api/setup", "How a driver is set up for a posted light, step by step"), gated(s, s.setUp))
	huma.Register(api, ask("match-drivers", "/api/match/drivers", "Which drivers of the cabinet and the light fit a place"), gated(s, s.matchDrivers))
	huma.Register(api, ask("match-emitters", "/api/match/emitters", "Which emitters fit a driver, and how to wire them"), gated(s, s.matchEmitters))
	huma.Register(api, ask("match-cells", "/api/match/cells", "Which cells of the cabinet fit a feed of the light"), gated(s, s.matchCells))
	huma.Register(api, ask("ratios", "/api/ratios", "The same light at full, 70 and 50 % of the emitters' rating"), gated(s, s.ratios))
	huma.Register(api, ask("sharing", "/api/sharing", "How parallel strings share, and whether that is stable"), gated(s, s.sharing))
	huma.Register(api, ask("strip", "/api/strip", "Cut list of a strip, with voltage and light along each piece"), gated(s, s.strip))
	huma.Register(api, ask("emitter", "/api/emitter", "Fit, curve and colour of a posted emitter part"), gated(s, s.emitter))
}

// VariantQuery and MatchInput are shared by inputs; the framework reads only
// exported parts.
type VariantQuery struct {
	Variant int `query:"variant" minimum:"0" maximum:"19" default:"0" doc:"Index of the variant"`
}

// refused is the answer to a question the light gives no ground for.
func refused(where string, err error) error {
	return huma.Error422UnprocessableEntity(sentence(err.Error()), &huma.ErrorDetail{Location: where, Message: err.Error()})
}

func sentence(s string) string { return strings.ToUpper(s[:1]) + s[1:] + "." }

type setupInput struct {
	VariantQuery
	Node     string  `query:"node" required:"true" maxLength:"64" doc:"Id of the driver"`
	Series   string  `query:"series" enum:"E12,E24,E96" default:"E24" doc:"Standard values to choose from (IEC 60063)"`
	Drawer   string  `query:"drawer" maxLength:"1000" doc:"Resistors at hand, Ω, parted by commas"`
	ClockHz  float64 `query:"clockHz" minimum:"0" maximum:"1e10" doc:"Clock of the counter that makes the duty, Hz"`
	ShutterS float64 `query:"shutterS" minimum:"0" maximum:"100" doc:"Shutter of a camera, s"`
	Body     Document
}

func (s *server) setUp(ctx context.Context, in *setupInput) (*struct{ Body *setup.Plan }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	q := setup.Question{Variant: in.Variant, Node: in.Node, Series: in.Series, ClockHz: in.ClockHz, ShutterS: in.ShutterS}
	for word := range strings.SplitSeq(in.Drawer, ",") {
		if word = strings.TrimSpace(word); word == "" {
			continue
		}
		ohm, err := strconv.ParseFloat(word, 64)
		if err != nil || !(ohm > 0) || ohm > 1e9 {
			return nil, refused("query.drawer", fmt.Errorf("%q in the drawer is not a resistance", word))
		}
		q.Drawer = append(q.Drawer, ohm)
	}
	plan, err := setup.For(ctx, light, q)
	if err != nil {
		return nil, s.questioned(ctx, "query.node", err)
	}
	return &struct{ Body *setup.Plan }{plan}, nil
}

// questioned parts what the question got wrong from a request withdrawn, and from a
// light that is too much to solve.
func (s *server) questioned(ctx context.Context, where string, err error) error {
	var tooMuch *circuit.TooMuchError
	if errors.As(err, &tooMuch) || errors.Is(err, context.Canceled) || errors.Is(err, context.DeadlineExceeded) {
		return s.failure(ctx, err)
	}
	return refused(where, err)
}

// Matched is a candidate with how well it does.
type Matched struct {
	Cabinet  string      `json:"cabinet,omitempty" doc:"Its id in the cabinet"`
	Local    string      `json:"local,omitempty" doc:"Its id in this light"`
	Stock    int         `json:"stock"`
	Hash     string      `json:"hash"`
	Part     design.Part `json:"part"`
	Fit      search.Fit  `json:"fit" enum:"fits,nearly,no"`
	Why      string      `json:"why" doc:"One line; empty if it simply fits"`
	OutA     *float64    `json:"outA" doc:"Current it gives, A"`
	LossW    *float64    `json:"lossW" doc:"Heat in it, W"`
	FluxLm   *float64    `json:"fluxLm" doc:"Light, lm"`
	HalfS    *float64    `json:"halfS" doc:"Cells: time to half the light, s"`
	Series   int         `json:"series,omitempty" doc:"Emitters: wired so many in series"`
	Parallel int         `json:"parallel,omitempty" doc:"and so many strings on each board"`
	Needs    int         `json:"needs,omitempty" doc:"How many of it the place takes; 0: not known"`
}

// candidates are the parts of one kind in the light and in the cabinet; a copy in
// the light stands for the cabinet's part it was made from.
func (s *server) candidates(ctx context.Context, light *design.Light, kind string) ([]Matched, error) {
	var out []Matched
	have := map[string]bool{}
	for i := range light.Parts {
		if p := light.Parts[i]; p.Kind() == kind {
			m := Matched{Local: p.ID, Hash: p.Hash(), Part: p}
			have[m.Hash] = true
			out = append(out, m)
		}
	}
	parts, err := s.readable(ctx, kind)
	if err != nil {
		return nil, err
	}
	for i := range parts {
		p := &parts[i]
		hash := p.Part.Hash()
		if have[hash] {
			for k := range out {
				if out[k].Hash == hash {
					out[k].Cabinet, out[k].Stock = p.ID, p.Stock
				}
			}
			continue
		}
		out = append(out, Matched{Cabinet: p.ID, Stock: p.Stock, Hash: hash, Part: p.Part})
	}
	return out, nil
}

// MatchInput asks about a driver of a posted light.
type MatchInput struct {
	VariantQuery
	Node string `query:"node" required:"true" maxLength:"64" doc:"Id of the driver"`
	Body Document
}

func (s *server) matchDrivers(ctx context.Context, in *struct {
	MatchInput
	AnyCell bool `query:"anyCell" doc:"With any cell of the size in the pack that the light and the cabinet hold"`
}) (*struct{ Body []Matched }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	if in.AnyCell {
		if light, err = s.anyCell(ctx, light, &in.MatchInput); err != nil {
			return nil, err
		}
	}
	found, err := s.candidates(ctx, light, "driver")
	if err != nil {
		return nil, err
	}
	q, err := search.NewQuestion(light, in.Variant, in.Node)
	if err != nil {
		return nil, s.questioned(ctx, "query.node", err)
	}
	drivers := make([]*design.Driver, len(found))
	for i := range found {
		drivers[i] = found[i].Part.Driver
	}
	matches, err := q.Drivers(ctx, drivers)
	if err != nil {
		return nil, s.questioned(ctx, "query.node", err)
	}
	out := make([]Matched, len(matches))
	for i := range matches {
		m := &matches[i]
		out[i] = found[m.Index]
		out[i].Fit, out[i].Why, out[i].Needs = m.Fit, m.Why(), 1
		if m.OutA > 0 {
			out[i].OutA, out[i].LossW = &m.OutA, &m.LossW
		}
	}
	return &struct{ Body []Matched }{out}, nil
}

// anyCell is the light with every cell at hand of the size that is in its pack.
func (s *server) anyCell(ctx context.Context, light *design.Light, in *MatchInput) (*design.Light, error) {
	size := search.CellSize(light, in.Variant, in.Node)
	if size == "" {
		return nil, refused("query.anyCell", errors.New("the size of the cells in the pack is not known"))
	}
	found, err := s.candidates(ctx, light, "cell")
	if err != nil {
		return nil, err
	}
	var cells []design.Part
	for i := range found {
		if found[i].Part.Cell.Size == size {
			cells = append(cells, found[i].Part)
		}
	}
	if light, err = search.AnyCell(light, in.Variant, in.Node, cells); err != nil {
		return nil, refused("query.node", err)
	}
	return light, nil
}

func (s *server) matchEmitters(ctx context.Context, in *struct {
	MatchInput
	Array string `query:"array" required:"true" maxLength:"64" doc:"Id of the array below the driver"`
}) (*struct{ Body []Matched }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	found, err := s.candidates(ctx, light, "emitter")
	if err != nil {
		return nil, err
	}
	q, err := search.NewQuestion(light, in.Variant, in.Node)
	if err != nil {
		return nil, s.questioned(ctx, "query.node", err)
	}
	emitters := make([]*design.Emitter, len(found))
	for i := range found {
		emitters[i] = found[i].Part.Emitter
	}
	part, use := q.InPlace()
	matches, err := q.Arrays(ctx, part, use, in.Array, emitters)
	if err != nil {
		return nil, s.questioned(ctx, "query.array", err)
	}
	out := make([]Matched, len(matches))
	for i := range matches {
		m := &matches[i]
		out[i] = found[m.Index]
		out[i].Fit, out[i].Why, out[i].Series, out[i].Parallel, out[i].Needs = m.Fit, m.Why(), m.Series, m.Parallel, m.Emitters
		if m.FluxLm > 0 {
			out[i].FluxLm, out[i].OutA = &m.FluxLm, &m.OutA
		}
	}
	return &struct{ Body []Matched }{out}, nil
}

func (s *server) matchCells(ctx context.Context, in *struct {
	VariantQuery
	Feed string `query:"feed" required:"true" maxLength:"64" doc:"Id of the feed"`
	Size string `query:"size" maxLength:"30" doc:"Cells of this size only"`
	Body Document
}) (*struct{ Body []Matched }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	all, err := s.candidates(ctx, light, "cell")
	if err != nil {
		return nil, err
	}
	var found []Matched
	var cells []*design.Cell
	for _, m := range all {
		if in.Size == "" || m.Part.Cell.Size == in.Size {
			found, cells = append(found, m), append(cells, m.Part.Cell)
		}
	}
	matches, err := search.Cells(ctx, light, in.Variant, in.Feed, cells)
	if err != nil {
		return nil, s.questioned(ctx, "query.feed", err)
	}
	out := make([]Matched, len(matches))
	for i := range matches {
		m := &matches[i]
		out[i] = found[m.Index]
		out[i].Fit, out[i].Why, out[i].FluxLm, out[i].HalfS, out[i].Needs = m.Fit, m.Why, m.FluxLm, m.HalfS, m.Cells
	}
	return &struct{ Body []Matched }{out}, nil
}

func (s *server) ratios(ctx context.Context, in *struct {
	VariantQuery
	Array string `query:"array" required:"true" maxLength:"64" doc:"Id of the array"`
	Body  Document
}) (*struct{ Body []search.Ratio }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	r, err := search.Ratios(ctx, light, in.Variant, in.Array, []float64{1, 0.7, 0.5})
	if err != nil {
		return nil, s.questioned(ctx, "query.array", err)
	}
	return &struct{ Body []search.Ratio }{r}, nil
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

func (s *server) sharing(ctx context.Context, in *struct {
	VariantQuery
	Body Document
}) (*struct{ Body []chain.Sharing }, error) {
	solver, err := s.solver(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	shares, err := solver.Sharing(ctx)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return &struct{ Body []chain.Sharing }{shares}, nil
}

func (s *server) strip(ctx context.Context, in *struct {
	VariantQuery
	Node string `query:"node" required:"true" maxLength:"64" doc:"Id of the strip"`
	Body Document
}) (*struct{ Body []array.Run }, error) {
	solver, err := s.solver(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	runs, err := solver.StripRuns(ctx, in.Node)
	if err != nil {
		return nil, s.questioned(ctx, "query.node", err)
	}
	return &struct{ Body []array.Run }{runs}, nil
}

// EmitterSheet is what an emitter's data make.
type EmitterSheet struct {
	Fit    emitter.Fit           `json:"fit"`
	Curve  []design.ForwardPoint `json:"curve" nullable:"false" doc:"The curve that is computed with, at the reference temperature"`
	Colour *Colour               `json:"colour" doc:"Null: no spectrum is given"`
	Lacks  []string              `json:"lacks" nullable:"false"`
	LmPerW *float64              `json:"lmPerW" doc:"Of the emitter at its rated current and reference temperature; null: not known"`
}

// Colour is what a spectrum looks like.
type Colour struct {
	LmPerRadiatedW float64  `json:"lmPerRadiatedW"`
	PhotonsPerJ    float64  `json:"photonsPerJ" doc:"400 to 700 nm, µmol for each radiated joule"`
	FarRedPerJ     float64  `json:"farRedPerJ" doc:"700 to 750 nm, µmol for each radiated joule"`
	BlueShare      float64  `json:"blueShare" doc:"Of the photons from 400 to 700 nm"`
	TemperatureK   *float64 `json:"temperatureK" doc:"Correlated colour temperature; null: too far from white"`
	Duv            *float64 `json:"duv"`
	Ra             *float64 `json:"ra" doc:"General colour rendering index, CIE 13.3; null: not white"`
}

const curvePoints = 80

func (s *server) emitter(ctx context.Context, in *struct{ Body PartDocument }) (*struct{ Body *EmitterSheet }, error) {
	part, err := in.Body.decode("")
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	if part.Emitter == nil {
		return nil, refused("body", errors.New("this part is not an emitter"))
	}
	e := part.Emitter
	m, err := emitter.New(e)
	if err != nil {
		return nil, refused("body", err)
	}
	sheet := &EmitterSheet{Fit: m.Fitted(), Lacks: part.Lacks(), Curve: []design.ForwardPoint{}}
	low, high := m.CurveRange()
	if e.MaxCurrentA != nil {
		high = max(high, *e.MaxCurrentA)
	}
	for i := range curvePoints + 1 {
		a := low + (high-low)*float64(i)/curvePoints
		sheet.Curve = append(sheet.Curve, design.ForwardPoint{CurrentA: a, VoltageV: m.Voltage(a, e.VfRefTempC)})
	}
	if e.RatedCurrentA != nil && m.KnowsFlux() {
		a := *e.RatedCurrentA
		sheet.LmPerW = new(m.FluxLm(a, e.FluxRefTempC) / (a * m.Voltage(a, e.FluxRefTempC)))
	}
	if e.Spectrum != nil {
		spectrum, err := photometry.New(e.Spectrum)
		if err != nil {
			return nil, refused("/emitter/spectrum", err)
		}
		c := &Colour{LmPerRadiatedW: spectrum.EfficacyLmPerW(), PhotonsPerJ: spectrum.Photons(400, 700), FarRedPerJ: spectrum.Photons(700, 750), BlueShare: spectrum.BlueShare()}
		if k, duv, ok := spectrum.Colour(); ok {
			c.TemperatureK, c.Duv = &k, &duv
		}
		if ra, ok := spectrum.Rendering(); ok {
			c.Ra = &ra
		}
		sheet.Colour = c
	}
	return &struct{ Body *EmitterSheet }{sheet}, nil
}
