package heat

import "math"

// ZeroC is 0 °C, K.
const ZeroC = 273.15

const gravity = 9.80665 // m/s²

// An Air is what air does at one film temperature.
type Air struct {
	K  float64 // thermal conductivity, W/(m·K)
	Nu float64 // kinematic viscosity, m²/s
	Pr float64 // Prandtl number
	T  float64 // absolute temperature, K
}

// Air at 1 atm from 250 to 500 K in steps of 50 K (Incropera & DeWitt, table A.4).
var (
	airK  = [...]float64{22.3e-3, 26.3e-3, 30.0e-3, 33.8e-3, 37.3e-3, 40.7e-3}
	airNu = [...]float64{11.44e-6, 15.89e-6, 20.92e-6, 26.41e-6, 32.39e-6, 38.79e-6}
	airPr = [...]float64{0.720, 0.707, 0.700, 0.690, 0.686, 0.684}
)

const (
	airFromK = 250
	airStepK = 50
	airToK   = 500
)

// AirFromC and AirToC are the temperatures between which the properties of air are told, °C.
const (
	AirFromC = airFromK - ZeroC
	AirToC   = airToK - ZeroC
)

// AirAt is air at a temperature, °C, and a pressure over that at sea level: straight
// between the points of the table, and held at its ends below 250 K and above 500 K.
// Viscosity goes as one over the pressure; the rest hardly changes.
func AirAt(temperatureC, pressure float64) Air {
	t := temperatureC + ZeroC
	x := (min(max(t, airFromK), airToK) - airFromK) / airStepK
	i := min(max(int(x), 0), len(airK)-2) // of no number too
	x -= float64(i)
	at := func(table *[6]float64) float64 { return table[i] + x*(table[i+1]-table[i]) }
	return Air{K: at(&airK), Nu: at(&airNu) / pressure, Pr: at(&airPr), T: t}
}

// PressureAt is the pressure at an altitude over that at sea level (ISO 2533, the standard
// atmosphere up to 11 km).
func PressureAt(altitudeM float64) float64 { return math.Pow(1-2.25577e-5*altitudeM, 5.25588) }

// rayleigh is the Rayleigh number of a surface of a length L, m: gβΔT·L³/(ν·α).
func (a Air) rayleigh(deltaK, lengthM float64) float64 {
	return gravity / a.T * math.Abs(deltaK) * lengthM * lengthM * lengthM * a.Pr / (a.Nu * a.Nu)
}

// AirJPerM3K is what a cubic metre of air takes for each kelvin, J/(m³·K), at 20 °C and sea
// level (Incropera & DeWitt table A.4: 1.2 kg/m³ of 1007 J/(kg·K)), and goes with the pressure.
const AirJPerM3K = 1.2 * 1007

// VentWPerK is what air exchanged with the outside carries, W/K, for a flow in m³/h.
func VentWPerK(flowM3H, pressure float64) float64 { return flowM3H / 3600 * AirJPerM3K * pressure }

// InsideW is the film of the inside of a housing's walls, air and radiation together,
// W/(m²·K) (common practice, ±30 %).
const InsideW = 8
