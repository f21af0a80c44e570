package driver

import "math"

// Flicker judges light that goes up and down.
type Flicker struct {
	Modulation float64 `json:"modulation" doc:"(max − min)/(max + min) of the light"`
	Hz         float64 `json:"frequencyHz"`
	LowRisk    float64 `json:"lowRisk" doc:"Highest modulation of low risk at this frequency, IEEE 1789-2015"`
	NoEffect   float64 `json:"noEffect" doc:"Highest modulation of no observable effect, IEEE 1789-2015"`
	Verdict    string  `json:"verdict" enum:"no effect,low risk,risk"`
}

// LowRiskModulation is the highest modulation of low risk: 0.025·f % to 90 Hz,
// 0.08·f % to 1250 Hz, any above (IEEE 1789-2015, from memory).
func LowRiskModulation(hz float64) float64 {
	switch {
	case hz <= 90:
		return min(1, 0.00025*hz)
	case hz <= 1250:
		return min(1, 0.0008*hz)
	}
	return 1
}

// NoEffectModulation is the highest modulation without observable effect: 0.01·f %
// to 90 Hz, 0.0333·f % to 3 kHz, any above (IEEE 1789-2015, from memory).
func NoEffectModulation(hz float64) float64 {
	switch {
	case hz <= 90:
		return min(1, 0.0001*hz)
	case hz < 3000:
		return min(1, 0.000333*hz)
	}
	return 1
}

// JudgeFlicker sets a modulation at a frequency against IEEE 1789.
func JudgeFlicker(modulation, hz float64) Flicker {
	f := Flicker{modulation, hz, LowRiskModulation(hz), NoEffectModulation(hz), "risk"}
	switch {
	case modulation <= f.NoEffect:
		f.Verdict = "no effect"
	case modulation <= f.LowRisk:
		f.Verdict = "low risk"
	}
	return f
}

// CameraBands is how much brighter than dark the bands are that a camera with a
// rolling shutter draws of light switched with a duty at a frequency: (max −
// min)/(max + min) of what reaches its lines while the shutter is open. None if
// the shutter is open for whole periods.
func CameraBands(duty, hz, shutterS float64) float64 {
	if duty <= 0 || duty >= 1 || hz <= 0 || shutterS <= 0 {
		return 0
	}
	cycles := math.Floor(shutterS * hz)
	rest := shutterS*hz - cycles // of a period
	if rest > 1-1e-9 {
		cycles, rest = cycles+1, 0
	}
	most := cycles*duty + min(rest, duty)
	least := cycles*duty + max(0, rest-(1-duty))
	if most+least <= 0 {
		return 0
	}
	return (most - least) / (most + least)
}

// LowestDuty is the lowest duty a driver follows whose current needs riseS to
// come up: two rise times of a period (common practice), so that half of the
// pulse is light as meant.
func LowestDuty(riseS, hz float64) float64 { return min(1, 2*riseS*hz) }

// DutyBits is how many bits a counter clocked at clockHz resolves a duty to at a
// switching frequency: log2(fclk/fpwm).
func DutyBits(clockHz, pwmHz float64) float64 { return math.Log2(clockHz / pwmHz) }
