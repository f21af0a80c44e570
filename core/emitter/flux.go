package emitter

import (
	"fmt"

	"gonum.org/v1/gonum/interp"

	"photherm/core/design"
)

// flux is Φ(I,T) = Φtest · relI(I)/relI(Itest) · relT(T)/relT(Tref).
type flux struct {
	scaleLm   float64 // flux where both relative curves are 1
	current   interp.FritschButland
	highA     float64
	highRatio float64
	slope     float64 // of the relative curve beyond highA, 1/A
	temp      []design.RatioPoint
	tempRef   float64
}

func testCurrentA(e *design.Emitter) float64 {
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
	test := testCurrentA(e)
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
	f.slope = max(0, (y[n]-y[n-1])/(x[n]-x[n-1]))
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

// relativeCurrent goes on straight beyond the data: droop there is underestimated.
func (f *flux) relativeCurrent(currentA float64) float64 {
	if currentA > f.highA {
		return f.highRatio + f.slope*(currentA-f.highA)
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
