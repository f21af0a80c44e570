package api

import (
	"context"
	"crypto/rand"
	"encoding/base32"
	"errors"
	"fmt"
	"hash/fnv"
	"net/http"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"photherm/app/instrument"
	"photherm/app/instrument/simulated"
	"photherm/app/store"
	"photherm/core/bench"
)

// StandIns are stand-in instruments on a light as it really is.
type StandIns struct {
	ID     string         `json:"id"`
	Meters []StandInMeter `json:"meters" nullable:"false"`
}

// StandInMeter is one of them.
type StandInMeter struct {
	ID       string `json:"id"`
	Name     string `json:"name"`
	Quantity string `json:"quantity"`
	Address  string `json:"address" doc:"Host and port: any program that speaks SCPI reads it there"`
}

// InstrumentReading is what an instrument showed.
type InstrumentReading struct {
	Value float64 `json:"value" doc:"SI; temperatures °C"`
}

// practice holds the stand-ins that are set up. They stand on this server alone, until nobody has
// read them for a while.
type practice struct {
	mu    sync.Mutex
	rooms map[string]*room
	until context.Context
}

type room struct {
	bench  *simulated.Bench
	remake func(faults []string) (*bench.Truth, error)
	end    context.CancelFunc
	used   time.Time
}

// last is when somebody used it last.
func (r *room) last() time.Time {
	if read := r.bench.Used(); read.After(r.used) {
		return read
	}
	return r.used
}

// How many stand-in benches there may be, and how long one is kept that nobody reads (chosen).
const (
	mostRooms = 16
	roomIdle  = 2 * time.Hour
)

func newPractice(until context.Context) *practice {
	if until == nil {
		until = context.Background()
	}
	return &practice{rooms: map[string]*room{}, until: until}
}

// open sets a room up; the oldest goes where there are too many.
func (p *practice) open(truth *bench.Truth, seed uint64, remake func(faults []string) (*bench.Truth, error)) (string, *simulated.Bench, error) {
	ctx, end := context.WithCancel(p.until)
	b, err := simulated.New(ctx, truth, seed)
	if err != nil {
		end()
		return "", nil, err
	}
	raw := make([]byte, 10)
	if _, err := rand.Read(raw); err != nil {
		end()
		return "", nil, fmt.Errorf("naming the stand-ins: %w", err)
	}
	id := strings.ToLower(base32.StdEncoding.EncodeToString(raw))
	p.mu.Lock()
	defer p.mu.Unlock()
	for len(p.rooms) > 0 {
		oldest := ""
		for name, r := range p.rooms {
			if oldest == "" || r.last().Before(p.rooms[oldest].last()) {
				oldest = name
			}
		}
		if len(p.rooms) < mostRooms && time.Since(p.rooms[oldest].last()) < roomIdle {
			break
		}
		p.rooms[oldest].end()
		delete(p.rooms, oldest)
	}
	p.rooms[id] = &room{b, remake, end, time.Now()}
	return id, b, nil
}

func (p *practice) room(id string) *room {
	p.mu.Lock()
	defer p.mu.Unlock()
	r := p.rooms[id]
	if r != nil {
		r.used = time.Now()
	}
	return r
}

// gone is what is said of a room that is no more.
func gone() error {
	return huma.Error404NotFound("These stand-ins are gone: nobody read them for a while, or the server was started anew. Set them up again.")
}

func (s *server) instruments(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "read-stand-in", Method: http.MethodPost, Path: "/api/bench/standins/{id}/read", Summary: "Put the leads of a stand-in somewhere and read it", Errors: []int{404, 422}},
		func(ctx context.Context, in *struct {
			ID    string `path:"id" maxLength:"32"`
			Meter string `query:"meter" required:"true" maxLength:"32" doc:"Id of the stand-in"`
			Body  bench.Probe
		}) (*struct{ Body InstrumentReading }, error) {
			room := s.practice.room(in.ID)
			if room == nil {
				return nil, gone()
			}
			b := room.bench
			if !b.Lead(in.Meter, in.Body) {
				return nil, refused("query.meter", fmt.Errorf("there is no stand-in %q", in.Meter))
			}
			for _, m := range b.Meters() {
				if m.ID == in.Meter {
					return s.instrumentReading(ctx, m.Address, m.Quantity)
				}
			}
			return nil, refused("query.meter", fmt.Errorf("there is no stand-in %q", in.Meter))
		})
	huma.Register(api, huma.Operation{OperationID: "change-stand-ins", Method: http.MethodPost, Path: "/api/bench/standins/{id}", Summary: "Switch the light of stand-ins on anew, put other faults in it, or a load on its pack", DefaultStatus: 204, Errors: []int{404, 422}},
		func(ctx context.Context, in *struct {
			ID    string `path:"id" maxLength:"32"`
			On    bool   `query:"on" doc:"Switch it on anew, cold and with full packs"`
			Fault string `query:"fault" maxLength:"32" doc:"Put this fault in, in place of those it has; none: take them out; empty: leave them"`
			LoadA string `query:"loadA" maxLength:"12" doc:"What the electronic load draws, A; 0: nothing; empty: as it is"`
		}) (*struct{}, error) {
			room := s.practice.room(in.ID)
			if room == nil {
				return nil, gone()
			}
			if in.Fault != "" {
				var faults []string
				if in.Fault != "none" {
					faults = []string{in.Fault}
				}
				if err := room.bench.Hide(func() (*bench.Truth, error) { return room.remake(faults) }); err != nil {
					return nil, s.questioned(ctx, "query.fault", err)
				}
			}
			if in.LoadA != "" {
				amps, err := strconv.ParseFloat(in.LoadA, 64)
				if err != nil {
					return nil, refused("query.loadA", fmt.Errorf("%q is no current in amperes", in.LoadA))
				}
				if err := room.bench.Draw(amps); err != nil {
					return nil, s.questioned(ctx, "query.loadA", err)
				}
			}
			if in.On {
				room.bench.SwitchOn(1)
			}
			return nil, s.clean(ctx, s.markChange(ctx, in.ID, in.Fault, in.LoadA, in.On))
		})
	huma.Register(api, huma.Operation{OperationID: "read-instrument", Method: http.MethodPost, Path: "/api/instruments/read", Summary: "Read an instrument of the bench", Errors: []int{422}},
		func(ctx context.Context, in *struct {
			Address  string `query:"address" required:"true" maxLength:"200" doc:"Host and port"`
			Quantity string `query:"quantity" required:"true" enum:"voltage,current,resistance,power,temperature,illuminance,ppfd,light"`
		}) (*struct{ Body InstrumentReading }, error) {
			return s.instrumentReading(ctx, in.Address, in.Quantity)
		})
}

// markChange notes in what is being logged of stand-ins what was done to them.
func (s *server) markChange(ctx context.Context, room, fault, loadA string, on bool) error {
	var said []string
	switch fault {
	case "":
	case "none":
		said = append(said, "off, put right, on again")
	default:
		said = append(said, "off, "+strings.ReplaceAll(fault, "-", " ")+" put in, on again")
	}
	if loadA != "" {
		said = append(said, "load draws "+loadA+" A")
	}
	if on {
		said = append(said, "switched on anew")
	}
	if len(said) == 0 {
		return nil
	}
	logs, err := s.ofRoom(ctx, room)
	for _, l := range logs {
		err = errors.Join(err, s.store.MarkLog(ctx, l.ID, store.Mark{S: l.Seconds, Text: strings.Join(said, "; ")}))
	}
	return err
}

func (s *server) instrumentReading(ctx context.Context, address, quantity string) (*struct{ Body InstrumentReading }, error) {
	x, err := instrument.ReadAt(ctx, s.hosts, address, quantity)
	switch {
	case errors.Is(err, instrument.ErrNotAllowed):
		return nil, refused("query.address", fmt.Errorf("this host may not be spoken to; who started the program can allow it with --instrument"))
	case errors.Is(err, instrument.ErrSilent):
		return nil, refused("query.address", fmt.Errorf("the instrument at %s does not answer: is it on, and is that its port?", address))
	case errors.Is(err, instrument.ErrGarbled):
		return nil, refused("query.address", fmt.Errorf("the instrument shows no figure there: %s", strings.TrimPrefix(err.Error(), instrument.ErrGarbled.Error()+": ")))
	case err != nil:
		return nil, s.failure(ctx, err)
	}
	return &struct{ Body InstrumentReading }{InstrumentReading{x}}, nil
}

func (s *server) standIns(ctx context.Context, in *struct {
	VariantQuery
	Seed   int      `query:"seed" minimum:"0" maximum:"1000000" default:"1" doc:"Which light of all that may be: the same is the same"`
	Faults []string `query:"faults,explode" maxItems:"6" doc:"Faults that its document does not know of; surprise: one of those it can have"`
	Body   Document
}) (*struct{ Body StandIns }, error) {
	light, err := s.read(ctx, in.Body, in.Variant)
	if err != nil {
		return nil, err
	}
	faults := in.Faults
	// What is read later is not bounded by this request.
	ctx = context.WithoutCancel(ctx)
	if len(faults) == 1 && faults[0] == "surprise" {
		h := fnv.New32a()
		fmt.Fprintf(h, "%d", in.Seed)
		all := bench.Faults()
		for i := range all {
			faults = []string{all[(int(h.Sum32()%uint32(len(all)))+i)%len(all)]}
			if _, err := bench.NewTruth(ctx, light, in.Variant, uint64(in.Seed), faults); err == nil {
				break
			}
		}
	}
	remake := func(faults []string) (*bench.Truth, error) {
		return bench.NewTruth(ctx, light, in.Variant, uint64(in.Seed), faults)
	}
	truth, err := remake(faults)
	if err != nil {
		return nil, s.questioned(ctx, "query.faults", err)
	}
	id, b, err := s.practice.open(truth, uint64(in.Seed), remake)
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	out := StandIns{ID: id, Meters: []StandInMeter{}}
	for _, m := range b.Meters() {
		out.Meters = append(out.Meters, StandInMeter{m.ID, m.Name, m.Quantity, m.Address})
	}
	return &struct{ Body StandIns }{out}, nil
}
