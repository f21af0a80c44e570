package recorder

import (
	"context"
	"errors"
	"math"
	"sync"
	"time"

	"photherm/app/instrument"
)

// A channel is an instrument that is asked again and again, its connection kept open.
type channel struct {
	ask    chan struct{}
	answer chan float64 // the newest alone; NaN: it has no figure

	mu  sync.Mutex
	why string // what is wrong with it; empty: nothing
}

func listen(ctx context.Context, hosts instrument.Hosts, source Source) *channel {
	c := &channel{ask: make(chan struct{}, 1), answer: make(chan float64, 1)}
	go c.serve(ctx, hosts, source)
	return c
}

func (c *channel) trouble() string {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.why
}

func (c *channel) serve(ctx context.Context, hosts instrument.Hosts, source Source) {
	var conn *instrument.Conn
	let := func() {
		if conn != nil {
			_ = conn.Close() // nothing is under way
			conn = nil
		}
	}
	defer let()
	retry, again := firstRetry, time.Time{}
	for {
		select {
		case <-ctx.Done():
			return
		case <-c.ask:
		}
		x, err := math.NaN(), error(nil)
		switch {
		case conn == nil && time.Now().Before(again):
			c.give(x)
			continue
		case conn == nil:
			conn, err = instrument.Dial(ctx, hosts, source.Address)
		}
		if err == nil {
			x, err = conn.Read(ctx, source.Quantity)
		}
		why := ""
		switch {
		case err == nil:
			retry = firstRetry
		case errors.Is(err, instrument.ErrGarbled):
			x, why = math.NaN(), "it shows no figure"
			// What it sent may not be all of it.
			let()
		case errors.Is(err, instrument.ErrNotAllowed):
			why = "this host may not be spoken to"
		default:
			why = "it does not answer"
		}
		if err != nil && !errors.Is(err, instrument.ErrGarbled) {
			let()
			again = time.Now().Add(retry)
			retry = min(2*retry, lastRetry)
		}
		c.mu.Lock()
		c.why = why
		c.mu.Unlock()
		if err != nil {
			x = math.NaN()
		}
		c.give(x)
	}
}

// give leaves an answer, in place of one that nobody took.
func (c *channel) give(x float64) {
	select {
	case <-c.answer:
	default:
	}
	c.answer <- x
}
