package heat

import "math"

// Film coefficients of free and forced air, W/(m²·K), each of a surface at one temperature
// in still air of another. Properties are those of the mean of both.

// Where the laminar form of a vertical plate ends and the form of all ranges holds alone;
// between them the two are blended in ln Ra, so that nothing jumps.
const (
	laminarRa = 3e8
	anyRa     = 3e9
)

// VerticalPlate is a vertical plate of a height, m: Churchill & Chu, Int. J. Heat Mass
// Transfer 18 (1975) 1323, the laminar form below Ra 1e9 and the form of all ranges above,
// up to Ra 1e12.
func VerticalPlate(surfaceC, airC, heightM, pressure float64) float64 {
	a := AirAt((surfaceC+airC)/2, pressure)
	ra := a.rayleigh(surfaceC-airC, heightM)
	nu := 0.0
	switch {
	case ra <= laminarRa:
		nu = laminarNu(ra, a.Pr)
	case ra >= anyRa:
		nu = anyNu(ra, a.Pr)
	default:
		x := math.Log(ra/laminarRa) / math.Log(anyRa/laminarRa)
		nu = (1-x)*laminarNu(ra, a.Pr) + x*anyNu(ra, a.Pr)
	}
	return nu * a.K / heightM
}

// fourth is a fourth root: films are worked out all the time, and a power takes longer.
func fourth(x float64) float64 { return math.Sqrt(math.Sqrt(x)) }

// prandtl is (1 + (c/Pr)^9⁄16)^1⁄27, of which the powers that Churchill and Chu write are made.
func prandtl(c, pr float64) float64 {
	x := c / pr
	return math.Cbrt(math.Cbrt(math.Cbrt(1 + math.Sqrt(x)*fourth(fourth(x)))))
}

func laminarNu(ra, pr float64) float64 {
	p := prandtl(0.492, pr)
	p *= p * p
	return 0.68 + 0.670*fourth(ra)/(p*p*p*p)
}

func anyNu(ra, pr float64) float64 {
	p := prandtl(0.492, pr)
	p *= p
	root := 0.825 + 0.387*math.Sqrt(math.Cbrt(ra))/(p*p*p*p)
	return root * root
}

// PlateUp is a horizontal plate whose warm face looks up (or whose cold one looks down):
// 0.54·Ra^¼ to Ra 1e7 and 0.15·Ra^⅓ to 1e11 (McAdams, Heat Transmission, 3rd ed., 1954,
// with the length of Goldstein, Sparrow & Jones 1973; as in Incropera & DeWitt).
func PlateUp(surfaceC, airC, lengthM, pressure float64) float64 {
	a := AirAt((surfaceC+airC)/2, pressure)
	ra := a.rayleigh(surfaceC-airC, lengthM)
	// The two meet near Ra 4.7e6: the greater of them has no jump.
	return max(0.54*fourth(ra), 0.15*math.Cbrt(ra), leastNu) * a.K / lengthM
}

// PlateDown is a horizontal plate whose warm face looks down: 0.27·Ra^¼, Ra 1e5 to 1e10
// (McAdams 1954; older editions of Incropera & DeWitt).
func PlateDown(surfaceC, airC, lengthM, pressure float64) float64 {
	a := AirAt((surfaceC+airC)/2, pressure)
	return max(0.27*fourth(a.rayleigh(surfaceC-airC, lengthM)), leastNu) * a.K / lengthM
}

// leastNu is what conduction into still air leaves of a small or hardly warm plate
// (chosen: that of a disc of the same area over perimeter, 0.5).
const leastNu = 0.5

// HorizontalCylinder is a horizontal cylinder of a diameter, m, Ra up to 1e12: Churchill &
// Chu, Int. J. Heat Mass Transfer 18 (1975) 1049.
func HorizontalCylinder(surfaceC, airC, diameterM, pressure float64) float64 {
	a := AirAt((surfaceC+airC)/2, pressure)
	ra := a.rayleigh(surfaceC-airC, diameterM)
	p := prandtl(0.559, a.Pr)
	p *= p
	root := 0.60 + 0.387*math.Sqrt(math.Cbrt(ra))/(p*p*p*p)
	return root * root * a.K / diameterM
}

// CrossFlow is air blown across a cylinder of a diameter, m, at a speed, m/s, Re·Pr above
// 0.2: Churchill & Bernstein, J. Heat Transfer 99 (1977) 300 (from memory).
func CrossFlow(surfaceC, airC, diameterM, speedMPerS, pressure float64) float64 {
	a := AirAt((surfaceC+airC)/2, pressure)
	re := speedMPerS * diameterM / a.Nu
	pr, turns := math.Cbrt(0.4/a.Pr), re/282000
	turns = math.Sqrt(turns) * math.Sqrt(fourth(turns)) // to 5⁄8
	nu := 0.3 + 0.62*math.Sqrt(re)*math.Cbrt(a.Pr)/fourth(1+pr*pr)*math.Pow(1+turns, 4.0/5)
	return nu * a.K / diameterM
}

// AlongPlate is air blown along a plate of a length, m, laminar up to Re 5e5 and turbulent
// from the edge beyond (Pohlhausen; Incropera & DeWitt, mixed conditions).
func AlongPlate(surfaceC, airC, lengthM, speedMPerS, pressure float64) float64 {
	a := AirAt((surfaceC+airC)/2, pressure)
	re := speedMPerS * lengthM / a.Nu
	nu := 0.664 * math.Sqrt(re) * math.Cbrt(a.Pr)
	if re > 5e5 {
		nu = (0.037*math.Pow(re, 0.8) - 871) * math.Cbrt(a.Pr)
	}
	return nu * a.K / lengthM
}

// Channel is free air between vertical plates alike on both sides, a spacing apart and of a
// height, m: Bar-Cohen & Rohsenow, J. Heat Transfer 106 (1984) 116, both isothermal. It goes
// from a plate by itself, wide apart, to air that has taken the plates' temperature.
func Channel(surfaceC, airC, spacingM, heightM, pressure float64) float64 {
	a := AirAt((surfaceC+airC)/2, pressure)
	el := a.rayleigh(surfaceC-airC, spacingM) * spacingM / heightM
	if el <= 0 {
		return 0
	}
	return a.K / spacingM / math.Sqrt(576/(el*el)+2.873/math.Sqrt(el))
}

// BestSpacing is the spacing of thin isothermal fins of a height at which an envelope gives
// most, m: 2.714·(L/Ra')^¼ with Ra' = gβΔT/(ν·α) (Bar-Cohen & Rohsenow 1984).
func BestSpacing(surfaceC, airC, heightM, pressure float64) float64 {
	a := AirAt((surfaceC+airC)/2, pressure)
	return 2.714 * fourth(heightM/a.rayleigh(surfaceC-airC, 1))
}

// Blown is air driven between plates a spacing apart and of a length, m, at a speed there:
// Teertstra, Yovanovich & Culham, J. Electronics Manufacturing 10 (2000) 253, Re* from 0.1
// to 100.
func Blown(surfaceC, airC, spacingM, lengthM, speedMPerS, pressure float64) float64 {
	a := AirAt((surfaceC+airC)/2, pressure)
	re := speedMPerS * spacingM / a.Nu * spacingM / lengthM
	if re <= 0 {
		return 0
	}
	full := re * a.Pr / 2
	grows := 0.664 * math.Sqrt(re) * math.Cbrt(a.Pr) * math.Sqrt(1+3.65/math.Sqrt(re))
	return a.K / spacingM * math.Pow(math.Pow(full, -3)+math.Pow(grows, -3), -1.0/3)
}

// FinEfficiency is tanh(mL)/(mL) of a plain fin of a height, m, and thickness, m, with an
// adiabatic tip: m² = 2h/(k·t).
func FinEfficiency(h, conductivity, heightM, thicknessM float64) float64 {
	ml := heightM * math.Sqrt(2*h/(conductivity*thicknessM))
	if ml < 1e-4 {
		return 1
	}
	return math.Tanh(ml) / ml
}

// rainHumidity is how damp the air is that rain or spray comes with (chosen).
const rainHumidity = 0.8

// Drying is what a wet surface gives by evaporation, W/m², where its film without water is h,
// W/(m²·K): the film of mass by the rule of W. K. Lewis (Trans. ASME 44 (1922) 325, from
// memory), h/(ρ·c), times the difference of vapour densities, times the heat
// of evaporation. It is negative where dew falls.
func Drying(h, surfaceC, airC, pressure float64) float64 {
	return drying(h, surfaceC, airC, rainHumidity, pressure)
}

func drying(h, surfaceC, airC, humidity, pressure float64) float64 {
	const heatJPerKg = 2.45e6 // Incropera & DeWitt table A.6 at 20 °C
	kg := vapourKgPerM3(surfaceC) - humidity*vapourKgPerM3(airC)
	return h / (AirJPerM3K * pressure) * kg * heatJPerKg
}

// vapourKgPerM3 is the density of saturated vapour over water (the Magnus form of the World
// Meteorological Organization, Guide No. 8, from memory; −45 to 60 °C, held at −60 and 200).
func vapourKgPerM3(c float64) float64 {
	c = min(max(c, -60), 200)
	return 611.2 * math.Exp(17.62*c/(243.12+c)) / (461.5 * (c + ZeroC))
}

// stefan is the Stefan–Boltzmann constant, W/(m²·K⁴) (CODATA).
const stefan = 5.670374419e-8

// Radiation is what a surface of an emissivity sends to surroundings at the temperature of
// the air, W/m².
func Radiation(surfaceC, airC, emissivity float64) float64 {
	s, a := surfaceC+ZeroC, airC+ZeroC
	return emissivity * stefan * (s*s + a*a) * (s + a) * (s - a)
}
