package emitter

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/interp"

	"photherm/core/design"
)

// flux is Φ(I,T) = Φtest · relI(I)/relI(Itest) · relT(T)/relT(Tref).
type flux struct {
	scaleLm   float64 // flux where both relative curves are 1
	current   interp.FritschButland
	highA     float64
	highRatio float64
	exponent  float64 // of the relative curve beyond highA
	temp      []design.RatioPoint
	tempRef   float64
}

// QuotedAtA is the current an emitter's flux is quoted at: as stated, its rating, or
// where its forward curve ends, A.
func QuotedAtA(e *design.Emitter) float64 {
	switch {
	case e.FluxCurrentA != nil:
		return *e.FluxCurrentA
	case e.RatedCurrentA != nil && *e.RatedCurrentA > 0:
		return *e.RatedCurrentA
	}
	return e.Forward[len(e.Forward)-1].CurrentA
}

func fitFlux(e *design.Emitter) (*flux, error) {
	f := &flux{temp: e.FluxTemp}
	test := QuotedAtA(e)
	x, y := []float64{0}, []float64{0}
	for _, p := range e.FluxCurrent {
		if p.X > 0 {
			x, y = append(x, p.X), append(y, p.Ratio)
		}
	}
	if len(x) == 1 { // one point says no more than "in proportion"
		x, y = append(x, test), append(y, 1)
	}
	if len(x) == 2 {
		x, y = []float64{0, x[1] / 2, x[1]}, []float64{0, y[1] / 2, y[1]}
	}
	if err := f.current.Fit(x, y); err != nil {
		return nil, fmt.Errorf("relative flux against current: %w", err)
	}
	n := len(x) - 1
	f.highA, f.highRatio = x[n], y[n]
	f.exponent = beyondExponent
	if x[n-1] > 0 && y[n-1] > 0 && y[n] > 0 {
		f.exponent = min(beyondExponent, max(0, math.Log(y[n]/y[n-1])/math.Log(x[n]/x[n-1])))
	}
	f.tempRef = 1
	f.tempRef = f.relativeTemp(e.FluxRefTempC)
	atTest := f.relativeCurrent(test)
	if atTest <= 0 || f.tempRef <= 0 {
		return nil, fmt.Errorf("the relative flux is zero at the condition the flux is quoted at")
	}
	f.scaleLm = *e.FluxLm / atTest
	return f, nil
}

func (f *flux) at(currentA, junctionC float64) float64 {
	if currentA <= 0 {
		return 0
	}
	return max(0, f.scaleLm*f.relativeCurrent(currentA)*f.relativeTemp(junctionC)/f.tempRef)
}

// beyondExponent is how light grows with current beyond the data at most, as an exponent:
// droop goes on (chosen: some 0.8, as white emitters near their rating have it; lower
// where the data themselves are).
const beyondExponent = 0.8

// relativeCurrent errs to the dark side beyond the data: light goes on with the data's
// last exponent, and no more than droop leaves.
func (f *flux) relativeCurrent(currentA float64) float64 {
	if currentA > f.highA {
		return f.highRatio * math.Pow(currentA/f.highA, f.exponent)
	}
	return f.current.Predict(currentA)
}

// CommonFluxPerK is the loss of light with junction temperature when the
// datasheet is silent, 1/K (common practice for white).
const CommonFluxPerK = -0.002

func (f *flux) relativeTemp(c float64) float64 {
	p := f.temp
	if len(p) < 2 {
		return max(0.05, 1+CommonFluxPerK*(c-25))
	}
	k := 1
	for k < len(p)-1 && c > p[k].X {
		k++
	}
	slope := (p[k].Ratio - p[k-1].Ratio) / (p[k].X - p[k-1].X)
	return max(0.01, p[k-1].Ratio+slope*(c-p[k-1].X))
}
