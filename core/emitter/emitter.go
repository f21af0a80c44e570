// Package emitter answers what one LED does at a current and a junction
// temperature: forward voltage, light, radiated power, heat.
package emitter

import (
	"fmt"
	"math"
	"slices"

	"photherm/core/design"
	"photherm/core/photometry"
)

// A Model is an emitter ready for computing. The exported scales and offsets
// start neutral; tolerances, bins and calibration change them.
type Model struct {
	VfRefC      float64 // junction temperature of the forward curve, °C
	VfVPerK     float64 // dV/dT at constant current, V/K
	VfOffsetV   float64 // added to the forward voltage, V
	FluxScale   float64 // multiplies the light
	EfficacyLmW float64 // lm per radiated watt; 0: unknown
	RthKPerW    float64 // junction to case per real heat watt, K/W
	Size        float64 // rows of dies of the package mounted over those of the part: the same current spreads over more or fewer

	curve *curve
	flux  *flux // nil: unknown
}

// CommonVfVPerK is the change of forward voltage of one junction with its
// temperature when the datasheet is silent, V/K (common practice for InGaN).
const CommonVfVPerK = -0.002

// New makes a model from a part's data. It fails only on data that Decode
// rejects.
func New(e *design.Emitter) (Model, error) {
	m := Model{VfRefC: e.VfRefTempC, FluxScale: 1, Size: 1}
	m.VfVPerK = CommonVfVPerK * float64(max(e.JunctionsSer, 1))
	if e.VfVPerK != nil {
		m.VfVPerK = *e.VfVPerK
	}
	if e.EfficacyLmPerW != nil {
		m.EfficacyLmW = *e.EfficacyLmPerW
	} else if e.Spectrum != nil {
		s, err := photometry.New(e.Spectrum)
		if err != nil {
			return Model{}, err
		}
		m.EfficacyLmW = s.EfficacyLmPerW()
	}
	var err error
	if e.FluxLm != nil {
		if m.flux, err = fitFlux(e); err != nil {
			return Model{}, err
		}
	}
	// A reading taken warm is reduced by the heat it makes, which the curve tells, and so
	// does a thermal resistance for each electric watt.
	rounds := 1
	if atCase(e.Forward) {
		rounds = reductions
	}
	for range rounds {
		points, err := m.reduce(e.Forward)
		if err != nil {
			return Model{}, err
		}
		if m.curve, err = fitCurve(points); err != nil {
			return Model{}, err
		}
		if e.RthKPerW != nil {
			m.RthKPerW = *e.RthKPerW
			if e.RthBasis == "electric" {
				m.RthKPerW /= 1 - m.efficiency(QuotedAtA(e), e.FluxRefTempC)
			}
		}
	}
	return m, nil
}

// reductions is how often warm readings are reduced by the curve they make: each round
// leaves some hundredth of the last one's error.
const reductions = 6

func atCase(points []design.ForwardPoint) bool {
	return slices.ContainsFunc(points, func(p design.ForwardPoint) bool { return p.CaseC != nil })
}

// reduce brings readings to the curve's own temperature: V(Tref) = V + kV·(Tref − T), T
// as it is stated for the junction, or that of the case and what the emitter's heat adds.
func (m *Model) reduce(readings []design.ForwardPoint) ([]design.ForwardPoint, error) {
	if !slices.ContainsFunc(readings, func(p design.ForwardPoint) bool { return p.JunctionC != nil || p.CaseC != nil }) {
		return readings, nil
	}
	out := slices.Clone(readings)
	for i := range out {
		p := &out[i]
		t := m.VfRefC
		switch {
		case p.JunctionC != nil:
			t = *p.JunctionC
		case p.CaseC != nil:
			t = *p.CaseC
			if m.curve != nil && m.RthKPerW > 0 {
				// The reading itself says what went in.
				electric := readings[i].CurrentA * readings[i].VoltageV
				for range 3 {
					heat := electric
					if m.KnowsRadiant() {
						heat -= m.radiant(m.FluxLm(p.CurrentA, t), electric)
					}
					t = *p.CaseC + m.RthKPerW*heat
				}
			}
		}
		p.VoltageV += m.VfVPerK * (m.VfRefC - t)
		p.JunctionC, p.CaseC = nil, nil
		if i > 0 && p.VoltageV <= out[i-1].VoltageV {
			return nil, fmt.Errorf("brought to %.0f °C, the reading at %v A comes to %.3f V, not above %.3f V at %v A: one of the two, or its temperature, is wrong", m.VfRefC, p.CurrentA, p.VoltageV, out[i-1].VoltageV, out[i-1].CurrentA)
		}
	}
	return out, nil
}

// efficiency is radiated over electric watts of the LED, which turns a thermal
// resistance per electric watt into one per heat watt (JESD51-51).
func (m *Model) efficiency(currentA, junctionC float64) float64 {
	if !m.KnowsRadiant() {
		return 0
	}
	share := m.RadiantW(currentA, junctionC) / (currentA * m.Voltage(currentA, junctionC))
	return min(max(share, 0), 0.9)
}

// KnowsFlux tells whether the light can be computed.
func (m *Model) KnowsFlux() bool { return m.flux != nil }

// KnowsRadiant tells whether radiated power, and so heat, can be computed.
func (m *Model) KnowsRadiant() bool { return m.flux != nil && m.EfficacyLmW > 0 }

// Resize gives the package more or fewer rows of dies than the part's data are
// for: light, current and heat spread over size times as many.
func (m *Model) Resize(size float64) {
	m.Size, m.RthKPerW = size, m.RthKPerW*m.Size/size
}

// Fit describes the forward curve: the diode with resistance that was fitted, and
// how far the points lie from it.
type Fit struct {
	IdealityV float64   `json:"idealityV" doc:"n·Vt of V = n·Vt·ln(1 + I/Is) + I·Rs, V"`
	SeriesOhm float64   `json:"seriesOhm" doc:"Rs, Ω"`
	ResidualV []float64 `json:"residualV" nullable:"false" doc:"Measured less fitted voltage of each point, V"`
	Assumed   bool      `json:"assumed" doc:"Fewer than three points: the shape is assumed"`
}

// Fitted describes the fit of the forward curve.
func (m *Model) Fitted() Fit {
	f := Fit{IdealityV: m.curve.nVt, SeriesOhm: m.curve.rs, ResidualV: make([]float64, len(m.curve.points)), Assumed: m.curve.assumed}
	for i, p := range m.curve.points {
		f.ResidualV[i] = p.VoltageV - m.curve.fitted(math.Log(p.CurrentA))
	}
	return f
}

// AssumedShape tells that fewer than three forward points were given.
func (m *Model) AssumedShape() bool { return m.curve.assumed }

// CurveRange is the lowest and highest current of the forward data, A.
func (m *Model) CurveRange() (lowA, highA float64) { return m.curve.lowA, m.curve.highA }

// Voltage is the forward voltage at a current ≥ 0 and junction temperature, V:
// V(I,T) = Vref(I) + kV·(T − Tref).
func (m *Model) Voltage(currentA, junctionC float64) float64 {
	if currentA <= 0 {
		return 0
	}
	return max(0, m.curve.voltage(currentA/m.Size)+m.shift(junctionC))
}

// Current is the current, A, that flows when voltage V drives the LED through a
// resistance; 0 below its knee.
func (m *Model) Current(voltageV, seriesOhm, junctionC float64) float64 {
	return m.CurrentNear(voltageV, seriesOhm, junctionC, 0)
}

// CurrentNear is Current, looked for from a current nearby; 0: none is known. The
// answer is the same.
func (m *Model) CurrentNear(voltageV, seriesOhm, junctionC, nearA float64) float64 {
	return m.Size * m.curve.current(voltageV-m.shift(junctionC), seriesOhm*m.Size, nearA/m.Size)
}

// VoltageOhm is the forward voltage at a current > 0, V, and dV/dI there, Ω.
func (m *Model) VoltageOhm(currentA, junctionC float64) (v, ohm float64) {
	i := currentA / m.Size
	v, slope := m.curve.bothAt(math.Log(i), i)
	return v + m.shift(junctionC), slope / i / m.Size
}

// DifferentialOhm is dV/dI at a current, Ω.
func (m *Model) DifferentialOhm(currentA float64) float64 {
	return m.curve.slope(currentA/m.Size) / m.Size
}

func (m *Model) shift(junctionC float64) float64 {
	return m.VfVPerK*(junctionC-m.VfRefC) + m.VfOffsetV
}

// FluxLm is the luminous flux, lm; 0 if unknown (ask KnowsFlux).
func (m *Model) FluxLm(currentA, junctionC float64) float64 {
	if m.flux == nil {
		return 0
	}
	return m.FluxScale * m.Size * m.flux.at(currentA/m.Size, junctionC)
}

// RadiantW is the radiated power, W: flux over the efficacy of the radiation,
// never more than what went in. 0 if unknown (ask KnowsRadiant).
func (m *Model) RadiantW(currentA, junctionC float64) float64 {
	if !m.KnowsRadiant() {
		return 0
	}
	return m.radiant(m.FluxLm(currentA, junctionC), currentA*m.Voltage(currentA, junctionC))
}

// mostEfficient bounds the radiated share of what goes in: chosen, so that some heat
// is left whatever the data say.
const mostEfficient = 0.98

func (m *Model) radiant(fluxLm, electricW float64) float64 {
	return min(fluxLm/m.EfficacyLmW, mostEfficient*electricW)
}

// Light is the flux, lm, and the radiated power, W, of an emitter that stands at a
// voltage and takes a current: 0 where they are not known.
func (m *Model) Light(voltageV, currentA, junctionC float64) (fluxLm, radiantW float64) {
	fluxLm = m.FluxLm(currentA, junctionC)
	if m.KnowsRadiant() {
		radiantW = m.radiant(fluxLm, currentA*voltageV)
	}
	return fluxLm, radiantW
}
