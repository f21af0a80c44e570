package emitter

import (
	"fmt"

	"photherm/core/design"
	"photherm/core/photometry"
)

// A Sheet is what an emitter's data make.
type Sheet struct {
	Fit    Fit                    `json:"fit"`
	Curve  []design.ForwardPoint  `json:"curve" nullable:"false" doc:"The curve that is computed with, at the reference temperature"`
	Colour *photometry.Appearance `json:"colour" doc:"Null: no spectrum is given"`
	Lacks  []string               `json:"lacks" nullable:"false"`
	Claim  *AtClaim               `json:"claim" doc:"What it makes of what is claimed of it; null: nothing is claimed"`
	LmPerW *float64               `json:"lmPerW" doc:"Of the emitter at its rated current and reference temperature; null: not known"`
}

// AtClaim is what an emitter's data make at the current that is claimed, or at its rated
// one, at its reference temperature.
type AtClaim struct {
	CurrentA float64  `json:"currentA" doc:"Current, A"`
	VoltageV float64  `json:"voltageV" doc:"Forward voltage, V"`
	PowerW   float64  `json:"powerW" doc:"Electric power, W"`
	FluxLm   *float64 `json:"fluxLm" doc:"Light, lm; null: not known"`
}

// atClaim is null where no current is told to hold the claim against.
func atClaim(e *design.Emitter, m *Model) *AtClaim {
	if e.Claimed == nil {
		return nil
	}
	a := e.Claimed.CurrentA
	if a == nil {
		a = e.RatedCurrentA
	}
	if a == nil || *a <= 0 {
		return nil
	}
	v := m.Voltage(*a, e.VfRefTempC)
	out := &AtClaim{CurrentA: *a, VoltageV: v, PowerW: *a * v}
	if m.KnowsFlux() {
		out.FluxLm = new(m.FluxLm(*a, e.FluxRefTempC))
	}
	return out
}

const curvePoints = 80

// NewSheet tells what the data of an emitter part make. The error says what is wrong with
// them.
func NewSheet(part *design.Part) (*Sheet, error) {
	e := part.Emitter
	m, err := New(e)
	if err != nil {
		return nil, err
	}
	sheet := &Sheet{Fit: m.Fitted(), Lacks: part.Lacks(), Curve: []design.ForwardPoint{}}
	sheet.Claim = atClaim(e, &m)
	low, high := m.CurveRange()
	if e.MaxCurrentA != nil {
		high = max(high, *e.MaxCurrentA)
	}
	for i := range curvePoints + 1 {
		a := low + (high-low)*float64(i)/curvePoints
		sheet.Curve = append(sheet.Curve, design.ForwardPoint{CurrentA: a, VoltageV: m.Voltage(a, e.VfRefTempC)})
	}
	if e.RatedCurrentA != nil && m.KnowsFlux() {
		a := *e.RatedCurrentA
		sheet.LmPerW = new(m.FluxLm(a, e.FluxRefTempC) / (a * m.Voltage(a, e.FluxRefTempC)))
	}
	if e.Spectrum != nil {
		spectrum, err := photometry.New(e.Spectrum)
		if err != nil {
			return nil, fmt.Errorf("its spectrum: %w", err)
		}
		sheet.Colour = spectrum.Appearance()
	}
	return sheet, nil
}
