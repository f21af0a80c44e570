package bench

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/mat"

	"photherm/core/chain"
	"photherm/core/design"
)

// rest is the whole record at rest; nil: there is none.
func (w *warmFitting) rest(theta []float64, more ...chain.Variation) ([]float64, string, error) {
	s := w.m.Solver()
	if err := s.Vary(w.changes(theta, more...)...); err != nil {
		return nil, "", err
	}
	st, err := s.Steady(w.ctx)
	if err != nil {
		return nil, "", err
	}
	if !st.Converged {
		return nil, st.Reason, nil
	}
	return st.Record, "", nil
}

// slopes are how a figure of the state at rest grows with each of the figures that were fitted.
func (w *warmFitting) slopes(theta []float64, of func([]float64) float64, more ...chain.Variation) ([]float64, error) {
	slope := make([]float64, len(theta))
	for k := range theta {
		ends := [2]float64{}
		ok := true
		for side, step := range []float64{-slopeStep, slopeStep} {
			moved := slices.Clone(theta)
			moved[k] += step
			record, _, err := w.rest(moved, more...)
			if err != nil && w.ctx.Err() != nil {
				return nil, err
			}
			if record == nil {
				ok = false
				break
			}
			ends[side] = of(record)
		}
		if ok {
			slope[k] = (ends[1] - ends[0]) / (2 * slopeStep)
		}
	}
	return slope, nil
}

func quadratic(g []float64, cov *mat.SymDense) float64 {
	sum := 0.0
	for k := range g {
		for l := range g {
			sum += g[k] * cov.At(k, l) * g[l]
		}
	}
	return max(sum, 0)
}

func (w *warmFitting) tell(q *WarmQuestion, theta []float64, air, start float64) (*WarmFit, error) {
	out := &WarmFit{Figures: []WarmFigure{}, NoiseK: w.sigma / math.Sqrt(1-w.rho*w.rho)}
	if w.rho > 0 && len(w.times) > 1 {
		out.TogetherS = -(w.times[1] - w.times[0]) / math.Log(w.rho)
	}
	place := func(r []float64) float64 { return r[w.column] }
	record, why, err := w.rest(theta)
	if err != nil {
		return nil, err
	}
	if record == nil {
		out.Why = why
		return out, w.draw(out, theta)
	}
	out.RestC = place(record)
	slope, err := w.slopes(theta, place)
	if err != nil {
		return nil, err
	}
	out.Low, out.High = w.span(out.RestC, slope, theta)
	said := make([]float64, len(theta))
	if was, _, err := w.rest(said); err == nil && was != nil {
		out.AsSaidC = new(place(was))
		out.SaidKPerW = w.perWatt(was, air)
	}
	out.KPerW = w.perWatt(record, air)
	if err := w.junction(out, theta, record); err != nil {
		return nil, err
	}
	if out.Then, err = w.then(q, theta); err != nil {
		return nil, err
	}
	if out.MeasureOn = (out.High-out.Low)/2 > enoughK; out.MeasureOn {
		if out.MoreS, err = w.more(theta, slope); err != nil {
			return nil, err
		}
	}
	v := w.m.Variant()
	for k, f := range w.free {
		unit := make([]float64, len(theta))
		unit[k] = 1
		low, high := w.span(theta[k], unit, theta)
		sd := (high - low) / 2 / z80
		c := WarmFigure{Label: f.label, Was: f.now, Value: f.value(theta[k]), Low: f.value(low), High: f.value(high), Told: 1 - min(1, sd*sd)}
		c.Within = (f.value(theta[k]+2*sd) - f.value(theta[k]-2*sd)) / 2
		c.Take = design.Correction{At: relative(v, f.pointer), Label: f.label, Value: c.Value, Was: c.Was, Within: c.Within, By: fmt.Sprintf("a warm-up of %.0f min", w.lastS/60)}
		out.Figures = append(out.Figures, c)
	}
	out.OneExpC = oneExponential(w.times, w.read, start)
	return out, w.draw(out, theta)
}

// perWatt is the rise of the place over all heat of the light, K/W.
func (w *warmFitting) perWatt(record []float64, air float64) *float64 {
	c := column(w.m, "", "heatW")
	if c < 0 || record[c] <= 0 {
		return nil
	}
	return new((record[w.column] - air) / record[c])
}

func (w *warmFitting) junction(out *WarmFit, theta, record []float64) error {
	hottest := -1
	for i, c := range w.m.Columns() {
		if c.Figure == "junctionC" && (hottest < 0 || record[i] > record[hottest]) {
			hottest = i
		}
	}
	if hottest < 0 {
		return nil
	}
	out.JunctionC = new(record[hottest])
	slope, err := w.slopes(theta, func(r []float64) float64 { return r[hottest] })
	if err != nil {
		return err
	}
	low, high := w.span(*out.JunctionC, slope, theta)
	out.JunctionU = (high - low) / 2
	return nil
}

// then is the end in other air, or at another share of the power.
func (w *warmFitting) then(q *WarmQuestion, theta []float64) (*WarmThen, error) {
	var more []chain.Variation
	if q.ThenC != nil {
		more = append(more, chain.Variation{Pointer: "/conditions/ambientC", Op: chain.Set, Value: *q.ThenC})
	}
	if q.Share > 0 && q.Share != 1 {
		more = append(more, w.powered(q.Share)...)
	}
	if len(more) == 0 {
		return nil, nil
	}
	record, _, err := w.rest(theta, more...)
	if err != nil || record == nil {
		return nil, err
	}
	place := func(r []float64) float64 { return r[w.column] }
	slope, err := w.slopes(theta, place, more...)
	if err != nil {
		return nil, err
	}
	low, high := w.span(place(record), slope, theta)
	return &WarmThen{place(record), low, high}, nil
}

// powered are what scale a light's power: the currents its drivers are set to, and what measured
// loads draw.
func (w *warmFitting) powered(share float64) (out []chain.Variation) {
	v := w.m.Variant()
	for i := range v.Feeds {
		for n := range design.NodesOf(v.Feeds[i].Loads) {
			at := "/variants/" + v.ID + "/feeds/" + v.Feeds[i].ID + "/loads/" + n.ID
			switch {
			case n.Driver != nil && n.Driver.SetCurrentA != nil:
				out = append(out, chain.Variation{Pointer: at + "/driver/setCurrentA", Op: chain.Scale, Value: share})
			case n.Load != nil:
				out = append(out, chain.Variation{Pointer: at + "/scale", Op: chain.Scale, Value: share})
			}
		}
	}
	return out
}

// more is how much longer to log until the end is known well enough, s; nil: that will not do. It
// takes the noise as it is.
func (w *warmFitting) more(theta, goal []float64) (*float64, error) {
	width := w.lastS / float64(len(w.times))
	var times []float64
	for t := width / 2; t < longestLogS; t += max(width, 20) {
		times = append(times, t)
	}
	base, err := w.at(theta, times)
	if err != nil {
		return nil, err
	}
	n := len(theta)
	j := make([][]float64, n)
	for k := range n {
		moved := slices.Clone(theta)
		moved[k] += slopeStep
		at, err := w.at(moved, times)
		if err != nil {
			return nil, err
		}
		j[k] = make([]float64, len(times))
		for i := range at {
			j[k][i] = (at[i] - base[i]) / slopeStep
		}
	}
	// Of readings that hang together fewer count.
	variance := w.sigma * w.sigma / (1 - w.rho) / (1 - w.rho) * width / max(width, 20)
	normal := mat.NewSymDense(n, nil)
	for k := range n {
		normal.SetSym(k, k, 1)
	}
	for i, t := range times {
		for k := range n {
			for l := k; l < n; l++ {
				normal.SetSym(k, l, normal.At(k, l)+j[k][i]*j[l][i]/variance)
			}
		}
		if t > w.lastS && i%3 == 0 && z80*math.Sqrt(quadratic(goal, inverse(normal))) <= enoughK {
			return new(t - w.lastS), nil
		}
	}
	return nil, nil
}

// drawPoints are how many times the curves have, to twice as long as was logged.
const drawPoints = 121

func (w *warmFitting) draw(out *WarmFit, theta []float64) error {
	for i := range drawPoints {
		out.T = append(out.T, 2*w.lastS*float64(i)/(drawPoints-1))
	}
	var err error
	out.Curve, err = w.at(theta, out.T)
	out.Read = []float64{}
	for _, t := range out.T {
		if t > w.lastS {
			break
		}
		i, _ := slices.BinarySearch(w.times, t)
		out.Read = append(out.Read, w.read[min(i, len(w.read)-1)])
	}
	return err
}

// oneExponential is where a single exponential from a start ends: the time constant of the least
// squares by a search, its height by their closed form; nil: it ends nowhere near.
func oneExponential(t, c []float64, start float64) *float64 {
	best, end := math.Inf(1), math.NaN()
	for tau := 20.0; tau < 4*longestLogS; tau *= 1.03 {
		up, down := 0.0, 0.0
		for i := range t {
			x := 1 - math.Exp(-t[i]/tau)
			up, down = up+x*(c[i]-start), down+x*x
		}
		a, sum := up/down, 0.0
		for i := range t {
			d := c[i] - start - a*(1-math.Exp(-t[i]/tau))
			sum += d * d
		}
		if sum < best {
			best, end = sum, start+a
		}
	}
	if math.IsNaN(end) || math.Abs(end) > 2000 {
		return nil
	}
	return &end
}
