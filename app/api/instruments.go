package api

import (
	"context"
	"crypto/rand"
	"encoding/base32"
	"errors"
	"fmt"
	"hash/fnv"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"photherm/app/instrument"
	"photherm/app/instrument/simulated"
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
	bench *simulated.Bench
	end   context.CancelFunc
	used  time.Time
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
func (p *practice) open(truth *bench.Truth, seed uint64) (string, *simulated.Bench, error) {
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
			if oldest == "" || r.used.Before(p.rooms[oldest].used) {
				oldest = name
			}
		}
		if len(p.rooms) < mostRooms && time.Since(p.rooms[oldest].used) < roomIdle {
			break
		}
		p.rooms[oldest].end()
		delete(p.rooms, oldest)
	}
	p.rooms[id] = &room{b, end, time.Now()}
	return id, b, nil
}

func (p *practice) room(id string) *simulated.Bench {
	p.mu.Lock()
	defer p.mu.Unlock()
	r := p.rooms[id]
	if r == nil {
		return nil
	}
	r.used = time.Now()
	return r.bench
}

func (s *server) instruments(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "read-stand-in", Method: http.MethodPost, Path: "/api/bench/standins/{id}/read", Summary: "Put the leads of a stand-in somewhere and read it", Errors: []int{404, 422}},
		func(ctx context.Context, in *struct {
			ID    string `path:"id" maxLength:"32"`
			Meter string `query:"meter" required:"true" maxLength:"32" doc:"Id of the stand-in"`
			Body  bench.Probe
		}) (*struct{ Body InstrumentReading }, error) {
			b := s.practice.room(in.ID)
			if b == nil {
				return nil, huma.Error404NotFound("These stand-ins are gone: nobody read them for a while, or the server was started anew. Set them up again.")
			}
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
	huma.Register(api, huma.Operation{OperationID: "read-instrument", Method: http.MethodPost, Path: "/api/instruments/read", Summary: "Read an instrument of the bench", Errors: []int{422}},
		func(ctx context.Context, in *struct {
			Address  string `query:"address" required:"true" maxLength:"200" doc:"Host and port"`
			Quantity string `query:"quantity" required:"true" enum:"voltage,current,resistance,power,temperature,illuminance,ppfd,light"`
		}) (*struct{ Body InstrumentReading }, error) {
			return s.instrumentReading(ctx, in.Address, in.Quantity)
		})
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
	Faults []string `query:"faults" maxItems:"6" doc:"Faults that its document does not know of; surprise: one of those it can have"`
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
	truth, err := bench.NewTruth(ctx, light, in.Variant, uint64(in.Seed), faults)
	if err != nil {
		return nil, s.questioned(ctx, "query.faults", err)
	}
	id, b, err := s.practice.open(truth, uint64(in.Seed))
	if err != nil {
		return nil, s.failure(ctx, err)
	}
	out := StandIns{ID: id, Meters: []StandInMeter{}}
	for _, m := range b.Meters() {
		out.Meters = append(out.Meters, StandInMeter{m.ID, m.Name, m.Quantity, m.Address})
	}
	return &struct{ Body StandIns }{out}, nil
}
