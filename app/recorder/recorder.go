// Package recorder writes logs while they happen: it asks instruments again and again and keeps
// every row at once. Which logs are to be written stands in the store; a server holds a lease on
// those it writes, so that another goes on where one has ended.
package recorder

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"math"
	"sync"
	"time"

	"photherm/app/instrument"
	"photherm/app/store"
)

// A Plan is how a log is written.
type Plan struct {
	EveryS  float64  `json:"everyS"`         // from row to row, s of the log
	Pace    float64  `json:"pace"`           // seconds of the log in a second of the clock; stand-ins may run fast
	Room    string   `json:"room,omitempty"` // of the stand-ins that are read
	Sources []Source `json:"sources"`        // of each channel
}

// A Source is where a channel comes from.
type Source struct {
	Address  string `json:"address"`
	Quantity string `json:"quantity"`
}

// ShortestS is the least time between rows, s of the clock (ten readings a second).
const ShortestS = 0.1

// What a recorder holds itself to (chosen).
const (
	lease       = 8 * time.Second  // a log whose server fell silent is taken over after it
	look        = time.Second      // how often it looks for logs to write
	silentEnds  = 10 * time.Minute // where no instrument has answered for so long, writing stops
	mostRows    = 2_000_000
	mostWaiting = 600 // readings that wait to be kept: a minute of the fastest
	mostAtOnce  = 100
	leastWait   = 20 * time.Millisecond
	mostWait    = time.Second
	firstRetry  = 500 * time.Millisecond // of an instrument that does not answer; then twice as long each time
	lastRetry   = 15 * time.Second
)

// A Recorder writes logs for one server.
type Recorder struct {
	store *store.Store
	hosts instrument.Hosts
	wake  chan struct{}
}

// New makes one; it writes nothing until it runs.
func New(s *store.Store, hosts instrument.Hosts) *Recorder {
	return &Recorder{s, hosts, make(chan struct{}, 1)}
}

// Wake has it look for logs to write now.
func (r *Recorder) Wake() {
	select {
	case r.wake <- struct{}{}:
	default:
	}
}

// Run writes what there is to write until the context ends; then it leaves its logs to others.
func (r *Recorder) Run(ctx context.Context) {
	var writing sync.WaitGroup
	defer writing.Wait()
	tick := time.NewTicker(look)
	defer tick.Stop()
	for {
		// A name of its own for each claim: who wrote a log before it was stopped and begun again at
		// once, and has not noticed, writes nothing more.
		owner := rand.Text()[:16]
		logs, err := r.store.ClaimLogs(ctx, owner, lease)
		if err != nil && ctx.Err() == nil {
			slog.WarnContext(ctx, "logs cannot be looked for", "error", err)
		}
		for _, l := range logs {
			writing.Go(func() { r.write(ctx, l, owner) })
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		case <-r.wake:
		}
	}
}

// write writes one log until it is stopped, taken over, or the context ends.
func (r *Recorder) write(ctx context.Context, l store.KeptLog, owner string) {
	err := r.rows(ctx, &l, owner)
	switch {
	case errors.Is(err, store.ErrNotOurs):
	case ctx.Err() != nil:
		leave, cancel := context.WithTimeout(context.WithoutCancel(ctx), 2*time.Second)
		defer cancel()
		if err := r.store.LeaveLog(leave, l.ID, owner); err != nil {
			slog.Warn("a log could not be left to another server; its lease runs out", "log", l.ID, "error", err)
		}
	case err != nil:
		slog.WarnContext(ctx, "a log is written no more here; its lease runs out", "log", l.ID, "error", err)
	}
}

func (r *Recorder) rows(ctx context.Context, l *store.KeptLog, owner string) error {
	var plan Plan
	if err := json.Unmarshal(l.Live, &plan); err != nil || !(plan.EveryS > 0) || !(plan.Pace > 0) || len(plan.Sources) == 0 {
		return r.end(ctx, l, 0, "stopped: how it is written is not understood")
	}
	// Times go on from the last reading even where the clock was set back meanwhile.
	begun, offset := time.Now(), 0.0
	if l.Readings > 0 {
		if offset = time.Since(l.CreatedAt).Seconds() * plan.Pace; offset <= l.Seconds {
			offset = l.Seconds + plan.EveryS
			if err := r.mark(ctx, l, offset, "the clock went back; times go on from the last reading"); err != nil {
				return err
			}
		}
	}
	now := func() float64 { return offset + time.Since(begun).Seconds()*plan.Pace }
	channels := make([]*channel, len(plan.Sources))
	asking, stop := context.WithCancel(ctx)
	defer stop()
	for i, source := range plan.Sources {
		channels[i] = listen(asking, r.hosts, source)
	}
	every := time.Duration(plan.EveryS / plan.Pace * float64(time.Second))
	read := make(chan reading, mostWaiting)
	go listenOn(asking, channels, every, now, read)
	silent := make([]bool, len(channels))
	heard, heldAt := time.Now(), time.Now()
	for {
		var some []reading
		select {
		case <-ctx.Done():
			return ctx.Err()
		case first := <-read:
			some = append(some, first)
		}
		for len(some) < mostAtOnce && len(read) > 0 {
			some = append(some, <-read)
		}
		var keep []store.LiveReading
		at := some[len(some)-1].at
		for k := range some {
			for i, why := range some[k].trouble {
				if (why != "") == silent[i] {
					continue
				}
				if silent[i] = why != ""; silent[i] {
					why = nameOf(l, i) + ": " + why
				} else {
					why = nameOf(l, i) + " answers again"
				}
				if err := r.mark(ctx, l, some[k].at, why); err != nil {
					return err
				}
			}
			if some[k].any {
				keep = append(keep, store.LiveReading{S: some[k].at, Values: some[k].values})
			}
		}
		switch {
		case len(keep) > 0:
			seq, err := r.kept(ctx, l.ID, owner, keep)
			if err != nil {
				return err
			}
			heard, heldAt = time.Now(), time.Now()
			if seq >= mostRows {
				return r.end(ctx, l, at, "stopped: a log has two million rows at most")
			}
		case time.Since(heard) > silentEnds:
			return r.end(ctx, l, at, "stopped: no instrument has answered for ten minutes")
		case time.Since(heldAt) > lease/4:
			if err := r.store.HoldLog(ctx, l.ID, owner, lease); err != nil {
				return err
			}
			heldAt = time.Now()
		}
	}
}

// A reading is what all channels answered at one time.
type reading struct {
	at      float64
	values  []float64
	any     bool
	trouble []string // of each channel; empty: none
}

// listenOn asks the channels again and again; what it heard waits to be kept, so that a slow
// store misses no row.
func listenOn(ctx context.Context, channels []*channel, every time.Duration, now func() float64, to chan<- reading) {
	wait := max(leastWait, min(every*4/5, mostWait))
	tick := time.NewTicker(every)
	defer tick.Stop()
	for {
		one := reading{trouble: make([]string, len(channels))}
		one.values, one.any = gather(ctx, channels, wait)
		one.at = now()
		for i, c := range channels {
			one.trouble[i] = c.trouble()
		}
		select {
		case <-ctx.Done():
			return
		case to <- one:
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

// kept stores rows, and tries again within the lease where the database is away for a moment.
func (r *Recorder) kept(ctx context.Context, id, owner string, rows []store.LiveReading) (seq int, err error) {
	for until := time.Now().Add(lease / 2); ; {
		seq, err = r.store.AppendReadings(ctx, id, owner, lease, rows)
		if err == nil || errors.Is(err, store.ErrNotOurs) || !store.Unreachable(err) || ctx.Err() != nil || time.Now().After(until) {
			return seq, err
		}
		time.Sleep(100 * time.Millisecond)
	}
}

func (r *Recorder) mark(ctx context.Context, l *store.KeptLog, atS float64, text string) error {
	if err := r.store.MarkLog(ctx, l.ID, store.Mark{S: atS, Text: text}); err != nil {
		return fmt.Errorf("marking log %s: %w", l.ID, err)
	}
	return nil
}

func (r *Recorder) end(ctx context.Context, l *store.KeptLog, atS float64, why string) error {
	if err := r.mark(ctx, l, atS, why); err != nil {
		return err
	}
	_, err := r.store.StopLog(ctx, l.ID)
	return err
}

func nameOf(l *store.KeptLog, i int) string {
	var channels []struct{ Name string }
	if json.Unmarshal(l.Channels, &channels) == nil && i < len(channels) {
		return channels[i].Name
	}
	return fmt.Sprintf("channel %d", i+1)
}

// gather asks every channel that is not still being asked, waits a while, and takes what came; a
// slow instrument fills the rows it can.
func gather(ctx context.Context, channels []*channel, wait time.Duration) (values []float64, any bool) {
	late := time.NewTimer(wait)
	defer late.Stop()
	for _, c := range channels {
		select {
		case c.ask <- struct{}{}:
		default:
		}
	}
	values = make([]float64, len(channels))
	open := true
	for i, c := range channels {
		values[i] = math.NaN()
		if !open {
			select {
			case values[i] = <-c.answer:
			default:
			}
		} else {
			select {
			case values[i] = <-c.answer:
			case <-late.C:
				open = false
				select {
				case values[i] = <-c.answer:
				default:
				}
			case <-ctx.Done():
				return values, false
			}
		}
		any = any || !math.IsNaN(values[i])
	}
	return values, any
}
