package api

import (
	"net/http"

	"github.com/danielgtaylor/huma/v2"
)

// computing registers every question that has to be computed, all of them behind the gate.
func (s *server) computing(api huma.API) {
	ask := func(id, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: http.MethodPost, Path: path, Summary: summary, MaxBodyBytes: maxBody, SkipValidateBody: true, Errors: []int{400, 413, 422, 503}}
	}
	huma.Register(api, ask("solve", "/api/solve", "Answers, figures at one instant and findings of a posted light"), gated(s, s.summary))
	huma.Register(api, ask("trace", "/api/trace", "The course in time of a posted light, at most 300 instants"), gated(s, s.trace))
	csv := ask("trace-csv", "/api/trace.csv", "The course in time as CSV")
	csv.Responses = map[string]*huma.Response{"200": {Description: "CSV, one row an instant", Content: map[string]*huma.MediaType{"text/csv": {Schema: &huma.Schema{Type: "string"}}}}}
	huma.Register(api, csv, gated(s, s.traceCSV))
	huma.Register(api, ask("plane", "/api/plane", "A driver's envelope and its load on the current–voltage plane"), gated(s, s.plane))
	huma.Register(api, ask("set-up", "/api/setup", "How a driver is set up for a posted light, step by step"), gated(s, s.setUp))
	huma.Register(api, ask("match-drivers", "/api/match/drivers", "Which drivers of the cabinet and the light fit a place"), gated(s, s.matchDrivers))
	huma.Register(api, ask("match-emitters", "/api/match/emitters", "Which emitters fit a driver, and how to wire them"), gated(s, s.matchEmitters))
	huma.Register(api, ask("match-cells", "/api/match/cells", "Which cells of the cabinet fit a feed of the light"), gated(s, s.matchCells))
	huma.Register(api, ask("ratios", "/api/ratios", "The same light at full, 70 and 50 % of the emitters' rating"), gated(s, s.ratios))
	huma.Register(api, ask("sharing", "/api/sharing", "How parallel strings share, and whether that is stable"), gated(s, s.sharing))
	huma.Register(api, ask("strip", "/api/strip", "Cut list of a strip, with voltage and light along each piece"), gated(s, s.strip))
	huma.Register(api, ask("runtime", "/api/runtime", "How long a pack lasts by every school, and what would last as long as is wanted"), gated(s, s.runtime))
	huma.Register(api, ask("band", "/api/band", "How far the answers may be off, and what makes them so"), gated(s, s.band))
	huma.Register(api, ask("plate", "/api/plate", "What is laid out on a body: its map, every place, other arrangements"), gated(s, s.plate))
	huma.Register(api, ask("warmUp", "/api/warmup", "How a light warms from switch-on, and how long it bears to run with something taken away"), gated(s, s.warmUp))
	huma.Register(api, ask("sink", "/api/sink", "A body by its measures against the heat on it, by both schools of sizing"), gated(s, s.sink))
	facts := ask("begin", "/api/begin", "A light made of a few facts; what is not said is assumed")
	facts.SkipValidateBody = false
	huma.Register(api, facts, gated(s, s.begin))
	huma.Register(api, ask("emitter", "/api/emitter", "Fit, curve and colour of a posted emitter part"), gated(s, s.emitter))
}

// VariantQuery is shared by inputs; the framework reads only exported parts.
type VariantQuery struct {
	Variant int `query:"variant" minimum:"0" maximum:"19" default:"0" doc:"Index of the variant"`
}
