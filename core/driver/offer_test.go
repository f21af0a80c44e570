package driver

import (
	"math"
	"testing"
)

// The slope of what a supply offers that holds its power, against differences.
func TestSlopeOfHeldPower(t *testing.T) {
	e := Envelope{OpenV: 30, SeriesOhm: 1e-3, LimitA: 10, HoldW: 40}
	const h = 1e-4
	for _, v := range []float64{8, 12, 20} {
		_, slope, _ := e.Offer(v)
		up, _, _ := e.Offer(v + h)
		down, _, _ := e.Offer(v - h)
		if want := (up - down) / (2 * h); math.Abs(slope-want) > 1e-5*math.Abs(want) || want >= 0 {
			t.Errorf("at %g V: %g A/V, by differences %g", v, slope, want)
		}
	}
}
