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
	huma.Register(api, linesOf[SolveStep](api, ask("steps", "/api/solve/steps", "The same, told as it is worked out, and the course in time after it")), s.steps)
	huma.Register(api, ask("trace", "/api/trace", "The course in time of a posted light, at most 300 instants"), gated(s, s.trace))
	csv := ask("trace-csv", "/api/trace.csv", "The course in time as CSV")
	csv.Responses = map[string]*huma.Response{"200": {Description: "CSV, one row an instant", Content: map[string]*huma.MediaType{"text/csv": {Schema: &huma.Schema{Type: "string"}}}}}
	huma.Register(api, csv, gated(s, s.traceCSV))
	huma.Register(api, ask("plane", "/api/plane", "A driver's envelope and its load on the current–voltage plane"), gated(s, s.plane))
	huma.Register(api, ask("set-up", "/api/setup", "How a driver is set up for a posted light, step by step"), gated(s, s.setUp))
	huma.Register(api, ask("match-families", "/api/match/families", "Which families of drivers can work at a place"), gated(s, s.matchFamilies))
	huma.Register(api, ask("match-drivers", "/api/match/drivers", "Which drivers of the cabinet and the light fit a place"), gated(s, s.matchDrivers))
	huma.Register(api, ask("match-emitters", "/api/match/emitters", "Which emitters fit a driver, and how to wire them"), gated(s, s.matchEmitters))
	huma.Register(api, ask("match-pack-parts", "/api/match/packparts", "Which boards or chargers of the cabinet and the light fit a pack"), gated(s, s.matchPackParts))
	huma.Register(api, ask("match-cells", "/api/match/cells", "Which cells of the cabinet fit a feed of the light"), gated(s, s.matchCells))
	huma.Register(api, ask("ratios", "/api/ratios", "The same light at full, 70 and 50 % of the emitters' rating"), gated(s, s.ratios))
	huma.Register(api, ask("sharing", "/api/sharing", "How parallel strings share, and whether that is stable"), gated(s, s.sharing))
	huma.Register(api, ask("strip", "/api/strip", "Cut list of a strip, with voltage and light along each piece"), gated(s, s.strip))
	huma.Register(api, ask("runtime", "/api/runtime", "How long a pack lasts by every school, and what would last as long as is wanted"), gated(s, s.runtime))
	huma.Register(api, ask("payback", "/api/payback", "After how many hours of light a variant has paid itself against another"), gated(s, s.payback))
	huma.Register(api, ask("nights", "/api/nights", "For how many nights of the same use a pack lasts"), gated(s, s.nights))
	huma.Register(api, ask("pack", "/api/pack", "A pack as it lies: its groups, its thresholds, what the ways to build it cost"), gated(s, s.pack))
	huma.Register(api, ask("charge", "/api/charge", "How a pack is charged: in which time, how far, with how much heat, and to other end voltages"), gated(s, s.charge))
	huma.Register(api, linesOf[BandStep](api, ask("band", "/api/band", "How far the answers may be off, and what makes them so, told as it is drawn")), s.band)
	huma.Register(api, ask("plate", "/api/plate", "What is laid out on a body: its map, every place, other arrangements"), gated(s, s.plate))
	huma.Register(api, ask("light", "/api/light", "Where the light goes: beam, area, ground round a lantern, along a strip, tank; what mends a target that is missed"), gated(s, s.light))
	text := map[string]*huma.Response{"200": {Description: "A photometric file, LM-63", Content: map[string]*huma.MediaType{"text/plain": {Schema: &huma.Schema{Type: "string"}}}}}
	photometric := ask("photometric", "/api/light.ies", "The light as a photometric file")
	photometric.Responses = text
	huma.Register(api, photometric, gated(s, s.photometric))
	huma.Register(api, huma.Operation{OperationID: "read-photometric", Method: http.MethodPost, Path: "/api/photometric", Summary: "Read a photometric file", MaxBodyBytes: maxBody, Errors: []int{413, 422}}, s.readPhotometric)
	huma.Register(api, ask("warmUp", "/api/warmup", "How a light warms from switch-on, and how long it bears to run with something taken away"), gated(s, s.warmUp))
	huma.Register(api, ask("sink", "/api/sink", "A body by its measures against the heat on it, by both schools of sizing"), gated(s, s.sink))
	huma.Register(api, ask("bench-plan", "/api/bench/plan", "What to measure on a light, in which order, what each reading should be, and what those taken say"), gated(s, s.benchPlan))
	huma.Register(api, linesOf[CalibrationStep](api, ask("calibration", "/api/bench/calibration", "What the readings make of the figures of a light, told as it is worked out")), s.calibration)
	huma.Register(api, ask("warm-fit", "/api/bench/warmfit", "Where a logged warm-up is going, by the light's own heat"), gated(s, s.warmFit))
	huma.Register(api, ask("discharge", "/api/bench/discharge", "What a log of a pack run down says of its cells"), gated(s, s.discharge))
	huma.Register(api, ask("draw", "/api/bench/draw", "How long a lamp that is known by readings of its draw lasts on the pack of its light"), gated(s, s.draw))
	huma.Register(api, ask("claims", "/api/bench/claims", "What is stated of a light against what was read and against energy"), gated(s, s.claims))
	huma.Register(api, ask("stand-ins", "/api/bench/standins", "Stand-in instruments on a light as it really is"), gated(s, s.standIns))
	facts := ask("begin", "/api/begin", "A light made of a few facts; what is not said is assumed")
	facts.SkipValidateBody = false
	huma.Register(api, facts, gated(s, s.begin))
	huma.Register(api, huma.Operation{OperationID: "tools", Method: http.MethodGet, Path: "/api/tools", Summary: "What can be measured with"}, s.tools)
	huma.Register(api, ask("emitter", "/api/emitter", "Fit, curve and colour of a posted emitter part"), gated(s, s.emitter))
}

// VariantQuery is shared by inputs; the framework reads only exported parts.
type VariantQuery struct {
	Variant int `query:"variant" minimum:"0" maximum:"19" default:"0" doc:"Index of the variant"`
}
