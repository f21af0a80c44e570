// Package compute answers who may compute now: every computing request goes through one
// gate, so that they never crowd out editing and reading.
package compute

import (
	"context"
	"errors"
	"fmt"
	"sync"
	"time"
)

// ErrSuperseded is why a request was ended: a newer one asks the same for the same tab.
var ErrSuperseded = errors.New("a newer request asks the same")

// ErrClosing is why a request was ended: the program stops.
var ErrClosing = errors.New("the program stops")

// A Gate lets so many in at once; the others wait in turn. It is safe for use from
// several goroutines.
type Gate struct {
	slots   chan struct{}
	behind  chan struct{} // places of those who give way
	longest time.Duration
	until   context.Context
	mu      sync.Mutex
	newest  map[string]*pass
	ahead   int       // of those who came to the front: waiting or inside
	left    time.Time // when the last of them left
}

type pass struct{ end context.CancelCauseFunc }

// New makes a gate for most at once, each for no longer than it may take, waiting
// included. When until is done everyone is sent away.
func New(until context.Context, most int, longest time.Duration) *Gate {
	return &Gate{slots: make(chan struct{}, max(most, 1)), behind: make(chan struct{}, max(most/2, 1)), longest: longest, until: until, newest: map[string]*pass{}}
}

// Enter waits for a place. A request with a key ends the one before it of the same key,
// waiting or at work; an empty key ends none. The work stops when the context it answers
// is done; leave gives the place back. The error says why there is none: ErrSuperseded,
// context.DeadlineExceeded, or that the asker left.
func (g *Gate) Enter(ctx context.Context, key string) (inside context.Context, leave func(), err error) {
	g.mu.Lock()
	g.ahead++
	g.mu.Unlock()
	inside, out, err := g.enter(ctx, key, g.slots)
	gone := func() {
		g.mu.Lock()
		g.ahead--
		g.left = time.Now()
		g.mu.Unlock()
	}
	if err != nil {
		gone()
		return nil, nil, err
	}
	return inside, func() { out(); gone() }, nil
}

// How a long piece of work that nobody waits for gives way, both chosen: it goes on when nobody
// has asked anything for quiet, and takes a step at least as often as patience.
const (
	quiet    = 60 * time.Millisecond
	patience = 250 * time.Millisecond
)

// GiveWay waits, between two steps of a long piece of work that came by EnterBehind, for those
// who ask meanwhile.
func (g *Gate) GiveWay(ctx context.Context) {
	for until := time.Now().Add(patience); time.Now().Before(until) && ctx.Err() == nil; {
		g.mu.Lock()
		free := g.ahead == 0 && time.Since(g.left) >= quiet
		g.mu.Unlock()
		if free {
			return
		}
		time.Sleep(quiet / 20)
	}
}

// EnterBehind is Enter for long work that gives way to everybody who comes by Enter: it takes none
// of their places.
func (g *Gate) EnterBehind(ctx context.Context, key string) (inside context.Context, leave func(), err error) {
	return g.enter(ctx, key, g.behind)
}

func (g *Gate) enter(ctx context.Context, key string, slots chan struct{}) (inside context.Context, leave func(), err error) {
	inside, end := context.WithCancelCause(ctx)
	inside, stop := context.WithTimeout(inside, g.longest)
	open := context.AfterFunc(g.until, func() { end(ErrClosing) })
	p := &pass{end}
	if key != "" {
		g.mu.Lock()
		if before := g.newest[key]; before != nil {
			before.end(ErrSuperseded)
		}
		g.newest[key] = p
		g.mu.Unlock()
	}
	forget := func() {
		g.mu.Lock()
		if g.newest[key] == p {
			delete(g.newest, key)
		}
		g.mu.Unlock()
		open()
		stop()
		end(nil)
	}
	select {
	case slots <- struct{}{}:
	case <-inside.Done():
		err := fmt.Errorf("waiting to compute: %w", context.Cause(inside))
		forget()
		return nil, nil, err
	}
	return inside, func() { <-slots; forget() }, nil
}
