package driver

import "math"

// An Envelope is what a feeder offers a load: up to LimitA, falling to nothing at
// OpenV along SeriesOhm: I(V) = min(LimitA, (OpenV − V)/SeriesOhm). Sources and
// drivers alike are envelopes.
type Envelope struct {
	LimitA    float64 // +Inf: no limit
	OpenV     float64
	SeriesOhm float64 // > 0
}

// CurrentA is the current offered at a bus voltage, A.
func (e Envelope) CurrentA(v float64) float64 { return min(e.LimitA, (e.OpenV-v)/e.SeriesOhm) }

// CornerV is the voltage at which the limit gives way to the slope, V.
func (e Envelope) CornerV() float64 {
	if math.IsInf(e.LimitA, 1) {
		return math.Inf(-1)
	}
	return e.OpenV - e.LimitA*e.SeriesOhm
}
