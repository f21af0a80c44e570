package simulated

import (
	"fmt"
	"strconv"
	"strings"
	"time"

	"photherm/core/bench"
)

// LoadMeter is the electronic load, and LoadQuantity what it is read for beside volts and amperes.
const (
	LoadMeter    = "electronic-load"
	LoadQuantity = "load"
)

// A clock runs from switch-on, so many times as fast as the wall's.
type clock struct {
	on   time.Time
	pace float64
}

// paced is seconds gone by since a moment, at the clock's pace.
func (c *clock) paced(since time.Time) float64 {
	return time.Since(since).Seconds() * max(c.pace, 1)
}

// gone is how long the light has been on, s.
func (c *clock) gone() (s float64, on bool) {
	if c.on.IsZero() {
		return 0, false
	}
	return c.paced(c.on), true
}

// load is an electronic load on the pack.
type load struct {
	truth *bench.Truth // nil: it is off
	probe bench.Probe
	amps  float64
	since time.Time
}

func (l *load) at(c *clock, quantity string) (x float64, ok bool) {
	if l.truth == nil {
		return 0, false
	}
	v, ok := l.truth.Later(l.probe, c.paced(l.since))
	if ok && quantity == "current" {
		return l.amps, true
	}
	return v, ok
}

// SwitchOn begins the course of the light anew, from cold and full; pace is how many of its
// seconds go by in one, from 1.
func (b *Bench) SwitchOn(pace float64) {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.clock = clock{time.Now(), max(pace, 1)}
	b.load.since = time.Now()
}

// Hide puts other faults in, none if there are none. The light is off meanwhile, as it would be,
// and starts cold where it was on.
func (b *Bench) Hide(remake func() (*bench.Truth, error)) error {
	truth, err := remake()
	if err != nil {
		return err
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	b.truth = truth
	if !b.clock.on.IsZero() {
		b.clock.on = time.Now()
	}
	if b.load.truth != nil {
		return b.draw(b.load.amps)
	}
	return nil
}

// Draw has the electronic load draw a current from the full pack, A; 0: nothing.
func (b *Bench) Draw(currentA float64) error {
	b.mu.Lock()
	defer b.mu.Unlock()
	return b.draw(currentA)
}

func (b *Bench) draw(currentA float64) error {
	if currentA == 0 {
		b.load = load{}
		return nil
	}
	under, err := b.truth.Under(currentA)
	if err != nil {
		return fmt.Errorf("putting a load on the pack: %w", err)
	}
	b.load = load{under, under.PackTerminals(), currentA, time.Now()}
	return nil
}

// Used is when something was read last.
func (b *Bench) Used() time.Time {
	b.mu.Lock()
	defer b.mu.Unlock()
	return b.read
}

// setLoad carries a command of the electronic load out, if it is one: CURRent, INPut.
func (s *session) setLoad(name, rest string) bool {
	value := strings.TrimSpace(rest)
	var amps float64
	switch {
	case isShort(name, "SOURCE:CURRENT") || isShort(name, "CURRENT"):
		x, err := strconv.ParseFloat(value, 64)
		if err != nil {
			s.fail(-104, "Data type error")
			return true
		}
		amps = x
	case isShort(name, "INPUT") || isShort(name, "INPUT:STATE"):
		if value != "0" && !strings.EqualFold(value, "OFF") {
			return true // a current puts it on
		}
	default:
		return false
	}
	if err := s.meter.bench.Draw(amps); err != nil {
		s.fail(-222, "Data out of range")
	}
	return true
}
