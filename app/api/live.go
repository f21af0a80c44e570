package api

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/sse"
	"github.com/gin-gonic/gin"

	"photherm/app/exchange"
	"photherm/app/instrument/simulated"
	"photherm/app/recorder"
	"photherm/app/store"
	"photherm/core/bench"
)

// LiveBeginning says what a log that is to be written reads.
type LiveBeginning struct {
	Name     string        `json:"name" minLength:"1" maxLength:"120" doc:"What it is"`
	EveryS   float64       `json:"everyS" minimum:"0.1" maximum:"3600" doc:"From row to row, s of the log"`
	Pace     float64       `json:"pace,omitempty" minimum:"1" maximum:"600" doc:"How many seconds of the light go by in one: of stand-ins alone; absent: one"`
	Room     string        `json:"room,omitempty" maxLength:"32" doc:"Id of the stand-ins, if any are read: their light is switched on as the log begins"`
	Channels []LiveChannel `json:"channels" nullable:"false" minItems:"1" maxItems:"16"`
}

// LiveChannel is what one channel of it reads.
type LiveChannel struct {
	Name     string       `json:"name" minLength:"1" maxLength:"60"`
	Quantity string       `json:"quantity" enum:"voltage,current,power,resistance,temperature,illuminance,ppfd,light"`
	Address  string       `json:"address,omitempty" maxLength:"200" doc:"Host and port of an instrument"`
	Meter    string       `json:"meter,omitempty" maxLength:"32" doc:"Or id of a stand-in"`
	Probe    *bench.Probe `json:"probe,omitempty" doc:"And where its leads are"`
}

// LogMark is something that happened while a log was written.
type LogMark struct {
	S    float64 `json:"s"`
	Text string  `json:"text" minLength:"1" maxLength:"120"`
}

// LiveRow is a row of a log as it comes.
type LiveRow struct {
	Seq    int        `json:"seq"`
	S      float64    `json:"s"`
	Values []*float64 `json:"values" nullable:"false" doc:"Of each channel; null: none"`
}

// LiveRows are the rows that came since the last ones.
type LiveRows struct {
	Rows []LiveRow `json:"rows" nullable:"false"`
	Gap  bool      `json:"gap" doc:"Whether rows before these were not sent: ask for the log anew"`
}

// LiveBeat says that the line is open.
type LiveBeat struct {
	Readings int `json:"readings"`
}

// How often rows that came are looked for, and how often the line is shown to be open (chosen).
const (
	lookEvery = 250 * time.Millisecond
	beatEvery = 10 * time.Second
)

func (s *server) live(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "begin-log", Method: http.MethodPost, Path: "/api/lights/{id}/logs/live", Summary: "Begin a log that is written from instruments", DefaultStatus: 201, Errors: []int{404, 409, 422, 503}}, s.beginLog)
	one := func(id, verb, summary string, do func(context.Context, *store.KeptLog) (*store.KeptLog, error)) {
		huma.Register(api, huma.Operation{OperationID: id, Method: http.MethodPost, Path: "/api/lights/{id}/logs/{log}/" + verb, Summary: summary, Errors: []int{404, 409, 503}},
			func(ctx context.Context, in *LogPath) (*struct{ Body BenchLog }, error) {
				l, err := s.logOf(ctx, in)
				if err != nil {
					return nil, err
				}
				if l, err = do(ctx, l); err != nil {
					return nil, s.failure(ctx, err)
				}
				return &struct{ Body BenchLog }{benchLog(l)}, nil
			})
	}
	one("stop-log", "stop", "Stop writing a log", func(ctx context.Context, l *store.KeptLog) (*store.KeptLog, error) { return s.store.StopLog(ctx, l.ID) })
	one("resume-log", "resume", "Write a log on", func(ctx context.Context, l *store.KeptLog) (*store.KeptLog, error) {
		defer s.recorder.Wake()
		return s.store.ResumeLog(ctx, l.ID)
	})
	huma.Register(api, huma.Operation{OperationID: "mark-log", Method: http.MethodPost, Path: "/api/lights/{id}/logs/{log}/mark", Summary: "Note that something happened", DefaultStatus: 204, Errors: []int{404, 422, 503}},
		func(ctx context.Context, in *struct {
			LogPath
			Body LogMark
		}) (*struct{}, error) {
			l, err := s.logOf(ctx, &in.LogPath)
			if err != nil {
				return nil, err
			}
			// Where it is being written a mark stands at its newest reading.
			at := in.Body.S
			if l.State == store.LogRunning {
				at = l.Seconds
			}
			return nil, s.clean(ctx, s.store.MarkLog(ctx, l.ID, store.Mark{S: at, Text: in.Body.Text}))
		})
	sse.Register(api, huma.Operation{OperationID: "follow-log", Method: http.MethodGet, Path: "/api/lights/{id}/logs/{log}/follow", Summary: "Rows of a log as they come"},
		map[string]any{"rows": LiveRows{}, "log": BenchLog{}, "beat": LiveBeat{}}, s.followLog)
}

// patient lets an answer that goes on and on read as long: whoever asked is told apart by writing.
func patient(c *gin.Context) {
	if strings.HasSuffix(c.Request.URL.Path, "/follow") {
		_ = http.NewResponseController(c.Writer).SetReadDeadline(time.Time{}) // one that cannot is asked anew each minute
	}
}

func (s *server) beginLog(ctx context.Context, in *struct {
	ID   string `path:"id" pattern:"^[a-z2-7]{16}$" doc:"Id of the light"`
	Body LiveBeginning
}) (*struct{ Body BenchLog }, error) {
	b := &in.Body
	if _, err := s.store.Get(ctx, in.ID); err != nil && !errors.Is(err, store.ErrUnreadable) {
		return nil, s.failure(ctx, err)
	}
	plan := recorder.Plan{EveryS: b.EveryS, Pace: max(b.Pace, 1), Room: b.Room}
	if b.EveryS/plan.Pace < recorder.ShortestS-1e-9 {
		return nil, refused("/everyS", fmt.Errorf("ten rows in a second are the most: at this pace every %g s at least", recorder.ShortestS*plan.Pace))
	}
	var room *room
	if b.Room != "" {
		if room = s.practice.room(b.Room); room == nil {
			return nil, gone()
		}
	}
	if logs, err := s.ofRoom(ctx, b.Room); err != nil {
		return nil, s.failure(ctx, err)
	} else if len(logs) > 0 {
		return nil, refused("/room", fmt.Errorf("these stand-ins are being logged already, as %q: stop that first", logs[0].Name))
	}
	channels := make([]exchange.Channel, len(b.Channels))
	taken := map[string]bool{}
	for i := range b.Channels {
		source, err := s.source(&b.Channels[i], room, plan.Pace, taken, fmt.Sprintf("/channels/%d", i))
		if err != nil {
			return nil, err
		}
		plan.Sources = append(plan.Sources, source)
		channels[i] = exchange.Channel{Name: strings.TrimSpace(b.Channels[i].Name), Quantity: b.Channels[i].Quantity}
	}
	l := store.KeptLog{LightID: in.ID, Name: strings.TrimSpace(b.Name), Aside: []byte("{}")}
	var err error
	if l.Channels, err = json.Marshal(channels); err != nil {
		return nil, s.failure(ctx, err)
	}
	if l.Live, err = json.Marshal(plan); err != nil {
		return nil, s.failure(ctx, err)
	}
	if room != nil {
		room.bench.SwitchOn(plan.Pace)
		l.Marks = []store.Mark{{Text: "switched on"}}
	}
	kept, err := s.store.BeginLog(ctx, l)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	s.recorder.Wake()
	return &struct{ Body BenchLog }{benchLog(kept)}, nil
}

// ofRoom are the logs that are being written of stand-ins.
func (s *server) ofRoom(ctx context.Context, room string) (out []store.KeptLog, err error) {
	if room == "" {
		return nil, nil
	}
	logs, err := s.store.RunningLogs(ctx)
	for _, l := range logs {
		var plan recorder.Plan
		if json.Unmarshal(l.Live, &plan) == nil && plan.Room == room {
			out = append(out, l)
		}
	}
	return out, err
}

// source is where a channel is read; the leads of a stand-in are put there.
func (s *server) source(c *LiveChannel, room *room, pace float64, taken map[string]bool, at string) (recorder.Source, error) {
	if c.Meter == "" {
		switch {
		case !s.hosts.May(c.Address):
			return recorder.Source{}, refused(at+"/address", errors.New("this host may not be spoken to; who started the program can allow it with --instrument"))
		case pace != 1:
			return recorder.Source{}, refused("/pace", errors.New("a real instrument cannot be made to run faster: log it by itself, or at the pace of the clock"))
		}
		return recorder.Source{Address: c.Address, Quantity: c.Quantity}, nil
	}
	if room == nil {
		return recorder.Source{}, refused(at+"/meter", errors.New("a stand-in needs its room"))
	}
	key := c.Meter
	if c.Meter == simulated.LoadMeter {
		key += c.Quantity // it shows both
	} else if c.Probe == nil {
		return recorder.Source{}, refused(at+"/probe", errors.New("its leads are nowhere"))
	}
	if taken[key] {
		return recorder.Source{}, refused(at+"/meter", errors.New("this stand-in reads another channel already: there is one of it"))
	}
	taken[key] = true
	for _, m := range room.bench.Meters() {
		if m.ID != c.Meter {
			continue
		}
		if c.Probe != nil {
			p := *c.Probe
			p.When = bench.WhenLive
			room.bench.Lead(m.ID, p)
		}
		return recorder.Source{Address: m.Address, Quantity: c.Quantity}, nil
	}
	return recorder.Source{}, refused(at+"/meter", fmt.Errorf("there is no stand-in %q", c.Meter))
}

func (s *server) followLog(ctx context.Context, in *struct {
	LogPath
	After int    `query:"after" minimum:"0" doc:"The last row that is known"`
	Last  string `header:"Last-Event-ID" maxLength:"20" doc:"Or that, as a browser says it when it comes again"`
}, send sse.Sender) {
	seq := in.After
	if in.Last != "" {
		_, _ = fmt.Sscanf(in.Last, "%d", &seq) // what is no number is taken as nothing known
	}
	told := ""
	look, beat := time.NewTicker(lookEvery), time.Now()
	defer look.Stop()
	for {
		l, err := s.logOf(ctx, &in.LogPath)
		if err != nil {
			return // the page asks again, and is told why
		}
		fresh, err := s.store.LogSince(ctx, l.ID, seq)
		if err != nil {
			return
		}
		rows := LiveRows{Rows: make([]LiveRow, len(fresh)), Gap: len(fresh) > 0 && fresh[0].Seq > seq+1 || len(fresh) == 0 && l.Readings > seq}
		for i, r := range fresh {
			rows.Rows[i] = LiveRow{r.Seq, r.S, figuresOf(r.Values)}
			seq = r.Seq
		}
		if len(fresh) == 0 && rows.Gap {
			seq = l.Readings
		}
		if len(fresh) > 0 || rows.Gap {
			if send(sse.Message{ID: seq, Data: rows}) != nil {
				return
			}
			beat = time.Now()
		}
		if now := fmt.Sprint(l.State, len(l.Marks), l.Marks); now != told {
			if told = now; send.Data(benchLog(l)) != nil {
				return
			}
		}
		if l.State != store.LogRunning {
			return
		}
		if time.Since(beat) > beatEvery {
			if beat = time.Now(); send.Data(LiveBeat{l.Readings}) != nil {
				return
			}
		}
		select {
		case <-ctx.Done():
			return
		case <-s.until.Done():
			return
		case <-look.C:
		}
	}
}

func figuresOf(values []float64) []*float64 {
	out := make([]*float64, len(values))
	for i, x := range values {
		if !math.IsNaN(x) {
			out[i] = &values[i]
		}
	}
	return out
}
