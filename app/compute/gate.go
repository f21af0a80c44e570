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
	longest time.Duration
	until   context.Context
	mu      sync.Mutex
	newest  map[string]*pass
}

type pass struct{ end context.CancelCauseFunc }

// New makes a gate for most at once, each for no longer than it may take, waiting
// included. When until is done everyone is sent away.
func New(until context.Context, most int, longest time.Duration) *Gate {
	return &Gate{slots: make(chan struct{}, max(most, 1)), longest: longest, until: until, newest: map[string]*pass{}}
}

// Enter waits for a place. A request with a key ends the one before it of the same key,
// waiting or at work; an empty key ends none. The work stops when the context it answers
// is done; leave gives the place back. The error says why there is none: ErrSuperseded,
// context.DeadlineExceeded, or that the asker left.
func (g *Gate) Enter(ctx context.Context, key string) (inside context.Context, leave func(), err error) {
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
	case g.slots <- struct{}{}:
	case <-inside.Done():
		err := fmt.Errorf("waiting to compute: %w", context.Cause(inside))
		forget()
		return nil, nil, err
	}
	return inside, func() { <-g.slots; forget() }, nil
}
