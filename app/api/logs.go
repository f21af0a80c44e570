package api

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"photherm/app/exchange"
	"photherm/app/recorder"
	"photherm/app/store"
	"photherm/core/bench"
	"photherm/core/reading"
)

// BenchLog is a log of a light, without its readings.
type BenchLog struct {
	ID        string             `json:"id"`
	Name      string             `json:"name"`
	Channels  []exchange.Channel `json:"channels" nullable:"false"`
	Readings  int                `json:"readings"`
	Seconds   float64            `json:"seconds"`
	Bad       int                `json:"bad" doc:"How many rows were kept aside"`
	Aside     []exchange.BadRow  `json:"aside" nullable:"false" doc:"The first of them"`
	Marks     []LogMark          `json:"marks" nullable:"false" doc:"What happened meanwhile"`
	State     string             `json:"state" enum:"kept,running,stopped" doc:"Brought in; being written; written and stopped"`
	Pace      float64            `json:"pace" doc:"Of one that was written: seconds of it in a second of the clock; 0: it was brought in"`
	CreatedAt time.Time          `json:"createdAt"`
}

// LogSeries is a log between two times, no finer than was asked for.
type LogSeries struct {
	S     []float64    `json:"s" nullable:"false"`
	Low   [][]*float64 `json:"low" nullable:"false" doc:"Of each channel its least about each time; null: none"`
	High  [][]*float64 `json:"high" nullable:"false"`
	Mean  [][]*float64 `json:"mean" nullable:"false"`
	Exact bool         `json:"exact" doc:"Whether each is a reading itself"`
	Seq   int          `json:"seq" doc:"How many readings the log had when this was asked"`
}

// LogLook is what a log looks like before it is read.
type LogLook struct {
	exchange.Look
	Units []string `json:"units" nullable:"false" doc:"What a column of figures can be said to be in"`
}

type asideRows struct {
	Bad  int               `json:"bad"`
	Rows []exchange.BadRow `json:"rows"`
}

// LogPath is the path of a log.
type LogPath struct {
	ID  string `path:"id" pattern:"^[a-z2-7]{16}$" doc:"Id of the light"`
	Log string `path:"log" pattern:"^[a-z2-7]{16}$" doc:"Id of the log"`
}

// mostLogBytes bounds a log that is brought in: some two million readings.
const mostLogBytes = 96 << 20

func (s *server) logs(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "list-logs", Method: http.MethodGet, Path: "/api/lights/{id}/logs", Summary: "Logs of a light", Errors: []int{404, 503}},
		func(ctx context.Context, in *struct {
			ID string `path:"id" pattern:"^[a-z2-7]{16}$"`
		}) (*struct{ Body []BenchLog }, error) {
			logs, err := s.store.Logs(ctx, in.ID)
			if err != nil {
				return nil, s.failure(ctx, err)
			}
			out := make([]BenchLog, len(logs))
			for i := range logs {
				out[i] = benchLog(&logs[i])
			}
			return &struct{ Body []BenchLog }{out}, nil
		})
	huma.Register(api, huma.Operation{OperationID: "add-log", Method: http.MethodPost, Path: "/api/lights/{id}/logs", Summary: "Bring a log in, as CSV", DefaultStatus: 201, MaxBodyBytes: mostLogBytes, Errors: []int{404, 413, 422, 503}}, s.addLog)
	huma.Register(api, huma.Operation{OperationID: "look-at-log", Method: http.MethodPost, Path: "/api/logs/look", Summary: "What the columns of a log seem to be, from its beginning", MaxBodyBytes: maxBody, Errors: []int{413, 422}},
		func(_ context.Context, in *struct {
			RawBody []byte `contentType:"text/csv"`
		}) (*struct{ Body LogLook }, error) {
			look, err := exchange.LookAtLog(bytes.NewReader(in.RawBody))
			if err != nil {
				return nil, refused("body", err)
			}
			return &struct{ Body LogLook }{LogLook{*look, exchange.LogUnits()}}, nil
		})
	huma.Register(api, huma.Operation{OperationID: "log", Method: http.MethodGet, Path: "/api/lights/{id}/logs/{log}", Summary: "A log between two times, for a chart", Errors: []int{404, 503}}, s.logSeries)
	huma.Register(api, huma.Operation{OperationID: "drop-log", Method: http.MethodDelete, Path: "/api/lights/{id}/logs/{log}", Summary: "Take a log out for good", Errors: []int{404, 503}},
		func(ctx context.Context, in *LogPath) (*struct{}, error) {
			if _, err := s.logOf(ctx, in); err != nil {
				return nil, err
			}
			return nil, s.clean(ctx, s.store.DropLog(ctx, in.Log))
		})
	csv := map[string]*huma.Response{"200": {Description: "CSV, a row a reading", Content: map[string]*huma.MediaType{"text/csv": {Schema: &huma.Schema{Type: "string"}}}}}
	huma.Register(api, huma.Operation{OperationID: "log-csv", Method: http.MethodGet, Path: "/api/lights/{id}/logs/{log}/csv", Summary: "A log as CSV", Errors: []int{404, 503}, Responses: csv}, s.logCSV)
}

func benchLog(l *store.KeptLog) BenchLog {
	out := BenchLog{ID: l.ID, Name: l.Name, Channels: []exchange.Channel{}, Readings: l.Readings, Seconds: l.Seconds, Aside: []exchange.BadRow{}, Marks: []LogMark{}, State: string(l.State), CreatedAt: l.CreatedAt}
	for _, m := range l.Marks {
		out.Marks = append(out.Marks, LogMark(m))
	}
	var plan recorder.Plan
	if l.Live != nil {
		_ = json.Unmarshal(l.Live, &plan) // written by beginLog
		out.Pace = plan.Pace
	}
	_ = json.Unmarshal(l.Channels, &out.Channels) // written by addLog
	var aside asideRows
	_ = json.Unmarshal(l.Aside, &aside)
	if out.Bad = aside.Bad; aside.Rows != nil {
		out.Aside = aside.Rows
	}
	return out
}

func (s *server) logOf(ctx context.Context, in *LogPath) (*store.KeptLog, error) {
	l, err := s.store.Log(ctx, in.Log)
	if err == nil && l.LightID != in.ID {
		err = store.ErrNotFound
	}
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return l, nil
}

func (s *server) addLog(ctx context.Context, in *struct {
	ID      string `path:"id" pattern:"^[a-z2-7]{16}$"`
	Name    string `query:"name" required:"true" minLength:"1" maxLength:"120" doc:"What it is"`
	Columns string `query:"columns" maxLength:"6000" doc:"What its columns are, in their order, as JSON of Columns; absent: as its headings say"`
	RawBody []byte `contentType:"text/csv"`
}) (*struct{ Body BenchLog }, error) {
	if _, err := s.store.Get(ctx, in.ID); err != nil && !errors.Is(err, store.ErrUnreadable) {
		return nil, s.failure(ctx, err)
	}
	var said []exchange.Column
	if in.Columns != "" {
		if err := json.Unmarshal([]byte(in.Columns), &said); err != nil {
			return nil, refused("query.columns", errors.New("this is no list of columns"))
		}
	}
	log, err := exchange.ReadLogBy(bytes.NewReader(in.RawBody), said)
	if err != nil {
		return nil, refused("body", err)
	}
	channels, err := json.Marshal(log.Channels)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	aside, err := json.Marshal(asideRows{log.Bad, log.Aside})
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	marks := make([]store.Mark, len(log.Marks))
	for i, m := range log.Marks {
		marks[i] = store.Mark(m)
	}
	kept, err := s.store.AddLog(ctx, store.KeptLog{LightID: in.ID, Name: strings.TrimSpace(in.Name), Channels: channels, Aside: aside, Marks: marks}, log.S, log.Values)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	return &struct{ Body BenchLog }{benchLog(kept)}, nil
}

// exactChunks is how many chunks are looked at reading by reading; more are read as summaries.
const exactChunks = 12

func (s *server) logSeries(ctx context.Context, in *struct {
	LogPath
	FromS  float64 `query:"fromS" minimum:"0" doc:"From this time on, s"`
	ToS    float64 `query:"toS" minimum:"0" doc:"Up to this time, s; 0: to the end"`
	Points int     `query:"points" minimum:"10" maximum:"2000" default:"600" doc:"No more than so many"`
}) (*struct{ Body LogSeries }, error) {
	l, err := s.logOf(ctx, &in.LogPath)
	if err != nil {
		return nil, err
	}
	to := in.ToS
	if to <= in.FromS {
		to = math.MaxFloat64
	}
	sums, err := s.store.LogSummaries(ctx, l.ID, in.FromS, to)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	n := len(benchLog(l).Channels)
	out := LogSeries{Seq: l.Readings, S: []float64{}, Low: make([][]*float64, n), High: make([][]*float64, n), Mean: make([][]*float64, n)}
	for c := range n {
		out.Low[c], out.High[c], out.Mean[c] = []*float64{}, []*float64{}, []*float64{}
	}
	if len(sums) > exactChunks {
		for _, x := range sums {
			out.S = append(out.S, (x.FromS+x.ToS)/2)
			for c := range n {
				out.Low[c], out.High[c], out.Mean[c] = append(out.Low[c], x.Min[c]), append(out.High[c], x.Max[c]), append(out.Mean[c], x.Mean[c])
			}
		}
		return &struct{ Body LogSeries }{out}, nil
	}
	times, values, err := s.store.LogRows(ctx, l.ID, n, in.FromS, to)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	each := (len(times) + in.Points - 1) / max(in.Points, 1)
	out.Exact = each <= 1
	for i := 0; i < len(times); i += max(each, 1) {
		end := min(i+max(each, 1), len(times))
		out.S = append(out.S, (times[i]+times[end-1])/2)
		for c := range n {
			least, most, sum, count := math.Inf(1), math.Inf(-1), 0.0, 0.0
			for _, x := range values[c][i:end] {
				if !math.IsNaN(x) {
					least, most, sum, count = min(least, x), max(most, x), sum+x, count+1
				}
			}
			var low, high, mean *float64
			if count > 0 {
				low, high, mean = &least, &most, new(sum/count)
			}
			out.Low[c], out.High[c], out.Mean[c] = append(out.Low[c], low), append(out.High[c], high), append(out.Mean[c], mean)
		}
	}
	return &struct{ Body LogSeries }{out}, nil
}

func (s *server) logCSV(ctx context.Context, in *LogPath) (*struct {
	Type string `header:"Content-Type"`
	Name string `header:"Content-Disposition"`
	Body []byte
}, error) {
	l, err := s.logOf(ctx, in)
	if err != nil {
		return nil, err
	}
	channels := benchLog(l).Channels
	times, values, err := s.store.LogRows(ctx, l.ID, len(channels), 0, math.MaxFloat64)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	var b bytes.Buffer
	marks := make([]exchange.Mark, len(l.Marks))
	for i, m := range l.Marks {
		marks[i] = exchange.Mark(m)
	}
	if err := exchange.WriteLog(&b, channels, times, values, marks...); err != nil {
		return nil, s.failure(ctx, err)
	}
	return &struct {
		Type string `header:"Content-Type"`
		Name string `header:"Content-Disposition"`
		Body []byte
	}{"text/csv; charset=utf-8", `attachment; filename="log.csv"`, b.Bytes()}, nil
}

// LogQuery names a log and a channel of it.
type LogQuery struct {
	Log     string `query:"log" required:"true" pattern:"^[a-z2-7]{16}$" doc:"Id of the log"`
	Channel int    `query:"channel" minimum:"0" maximum:"15" default:"0" doc:"Which of its channels"`
}

// logged reads whole channels of a log; what is not there is left out.
func (s *server) logged(ctx context.Context, id string, channels ...int) (times []float64, values [][]float64, err error) {
	l, err := s.store.Log(ctx, id)
	if err != nil {
		return nil, nil, s.failure(ctx, err)
	}
	n := len(benchLog(l).Channels)
	for _, c := range channels {
		if c >= n {
			return nil, nil, refused("query.channel", fmt.Errorf("this log has %d channels", n))
		}
	}
	all, rows, err := s.store.LogRows(ctx, id, n, 0, math.MaxFloat64)
	if err != nil {
		return nil, nil, s.failure(ctx, err)
	}
	values = make([][]float64, len(channels))
	for i := range all {
		whole := true
		for _, c := range channels {
			whole = whole && !math.IsNaN(rows[c][i])
		}
		if !whole {
			continue
		}
		times = append(times, all[i])
		for k, c := range channels {
			values[k] = append(values[k], rows[c][i])
		}
	}
	return times, values, nil
}

func (s *server) warmFit(ctx context.Context, in *struct {
	VariantQuery
	LogQuery
	Owner    string  `query:"owner" required:"true" maxLength:"64" doc:"Id of the body, or of the node, whose temperature it is"`
	Figure   string  `query:"figure" enum:"bodyC,caseC,junctionC" default:"bodyC"`
	FromS    float64 `query:"fromS" minimum:"0" doc:"When the light was switched on, s of the log"`
	ToS      float64 `query:"toS" minimum:"0" doc:"Look no further than this, s of the log; 0: all of it"`
	AmbientC string  `query:"ambientC" maxLength:"20" doc:"Air while it was logged, °C; empty: that of the light"`
	ThenC    string  `query:"thenC" maxLength:"20" doc:"Other air to tell the end in, °C"`
	Share    float64 `query:"share" minimum:"0" maximum:"5" doc:"Share of its power to tell the end at; 0: all of it"`
	Body     Document
}) (*struct{ Body *bench.WarmFit }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	times, values, err := s.logged(ctx, in.Log, in.Channel)
	if err != nil {
		return nil, err
	}
	q := bench.WarmQuestion{Variant: in.Variant, Log: bench.WarmLog{Owner: in.Owner, Figure: in.Figure}, Share: in.Share}
	for i, t := range times {
		if t >= in.FromS && (in.ToS <= in.FromS || t <= in.ToS) {
			q.Log.S, q.Log.C = append(q.Log.S, t-in.FromS), append(q.Log.C, values[0][i])
		}
	}
	for _, c := range []struct {
		name, text string
		to         **float64
	}{{"query.ambientC", in.AmbientC, &q.AmbientC}, {"query.thenC", in.ThenC, &q.ThenC}} {
		if c.text == "" {
			continue
		}
		var x float64
		if _, err := fmt.Sscanf(c.text, "%g", &x); err != nil || !(x >= -60 && x <= 120) {
			return nil, refused(c.name, fmt.Errorf("%q is no temperature of air, between -60 and 120 °C", c.text))
		}
		*c.to = &x
	}
	out, err := bench.WarmFitOf(ctx, light, q)
	if err != nil {
		return nil, s.questioned(ctx, "query.owner", err)
	}
	return &struct{ Body *bench.WarmFit }{out}, nil
}

func (s *server) discharge(ctx context.Context, in *struct {
	VariantQuery
	Log  string `query:"log" required:"true" pattern:"^[a-z2-7]{16}$" doc:"Id of the log"`
	V    int    `query:"v" minimum:"0" maximum:"15" doc:"Which channel is the pack's voltage"`
	A    int    `query:"a" minimum:"0" maximum:"15" doc:"Which channel is its current"`
	Body Document
}) (*struct{ Body *bench.Discharge }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	times, values, err := s.logged(ctx, in.Log, in.V, in.A)
	if err != nil {
		return nil, err
	}
	out, err := bench.DischargeOf(ctx, light, in.Variant, bench.DischargeLog{S: times, V: values[0], A: values[1]})
	if err != nil {
		return nil, s.questioned(ctx, "query.log", err)
	}
	return &struct{ Body *bench.Discharge }{out}, nil
}

func (s *server) draw(ctx context.Context, in *struct {
	VariantQuery
	Node     string `query:"node" required:"true" maxLength:"64" doc:"Id of the measured load"`
	Readings string `query:"readings" required:"true" maxLength:"8000" doc:"Pairs of volts and amperes, each on a line"`
	Body     Document
}) (*struct{ Body *bench.DrawnLife }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	list, err := reading.ReadDraws(in.Readings)
	if err != nil {
		return nil, refused("query.readings", err)
	}
	out, err := bench.DrawOf(ctx, light, in.Variant, in.Node, list)
	if err != nil {
		return nil, s.questioned(ctx, "query.readings", err)
	}
	return &struct{ Body *bench.DrawnLife }{out}, nil
}

func (s *server) claims(ctx context.Context, in *struct {
	VariantQuery
	Body Document
}) (*struct{ Body []bench.JudgedClaim }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	return &struct{ Body []bench.JudgedClaim }{bench.ClaimsOf(light.Variants[in.Variant].Claims)}, nil
}
