package driver

import "math"

// An Envelope is what a feeder offers a load: up to LimitA, falling to nothing at
// OpenV along SeriesOhm: I(V) = min(LimitA, (OpenV − V)/SeriesOhm, HoldW/V). Sources and
// drivers alike are envelopes.
type Envelope struct {
	LimitA    float64 // +Inf: no limit
	OpenV     float64
	SeriesOhm float64 // > 0
	HoldW     float64 // the feeder holds itself to this power; 0: it does not
	FoldA     float64 // its limit falls in proportion to the voltage, to this at 0 V
	Folds     bool
}

// Plain tells that it has neither a held power nor a limit that folds back.
func (e Envelope) Plain() bool { return e.HoldW == 0 && !e.Folds }

// CurrentA is the current offered at a bus voltage, A.
func (e Envelope) CurrentA(v float64) float64 {
	limit := e.LimitA
	if e.Folds && e.OpenV > 0 && v < e.OpenV {
		limit = e.FoldA + (e.LimitA-e.FoldA)*v/e.OpenV
	}
	i := min(limit, (e.OpenV-v)/e.SeriesOhm)
	if e.HoldW > 0 && v > 0 {
		i = min(i, e.HoldW/v)
	}
	return i
}

// CornerV is the voltage at which the limit gives way to the slope, V.
func (e Envelope) CornerV() float64 {
	if math.IsInf(e.LimitA, 1) {
		return math.Inf(-1)
	}
	return e.OpenV - e.LimitA*e.SeriesOhm
}
