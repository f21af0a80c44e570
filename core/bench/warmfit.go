package bench

import (
	"context"
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/interp"
	"gonum.org/v1/gonum/mat"

	"photherm/core/chain"
	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/heat"
)

// A WarmLog is the temperature of one place of a light from switch-on.
type WarmLog struct {
	Owner  string    `json:"owner" minLength:"1" maxLength:"64" doc:"Id of the body, or of the node"`
	Figure string    `json:"figure" enum:"bodyC,caseC,junctionC" doc:"Which temperature of it"`
	S      []float64 `json:"s" nullable:"false" maxItems:"200000" doc:"Times after switch-on, rising, s"`
	C      []float64 `json:"c" nullable:"false" maxItems:"200000" doc:"°C at each"`
}

// A WarmQuestion asks where a warm-up is going.
type WarmQuestion struct {
	Variant  int
	Log      WarmLog
	AmbientC *float64 // air while it was logged; nil: that of the light
	ThenC    *float64 // air to tell the end in too; nil: the same
	Share    float64  // of its power to tell the end at too; 0: all of it
}

// A WarmFit is where a warm-up is going, by the chain's own heat with its figures fitted.
type WarmFit struct {
	RestC     float64      `json:"restC" doc:"Where the place comes to rest, in the air of the log, °C"`
	Low       float64      `json:"low" doc:"Nine in ten are above, °C"`
	High      float64      `json:"high" doc:"Nine in ten are below, °C"`
	AsSaidC   *float64     `json:"asSaidC" doc:"Where the document alone says it comes to rest, °C; null: nowhere"`
	Then      *WarmThen    `json:"then" doc:"In other air, or at another power; null: not asked, or it does not come to rest there"`
	JunctionC *float64     `json:"junctionC" doc:"The hottest junction at rest, °C; null: not known"`
	JunctionU float64      `json:"junctionWithin" doc:"± of it, the middle four fifths, K"`
	KPerW     *float64     `json:"kPerW" doc:"Rise of the place at rest over all heat of the light, K/W; null: no heat is known"`
	SaidKPerW *float64     `json:"saidKPerW" doc:"And as the document says"`
	MeasureOn bool         `json:"measureOn" doc:"Whether the end is not known to 1 K yet"`
	MoreS     *float64     `json:"moreS" doc:"How much longer to log until it is, s; null: it is, or that will not do"`
	Figures   []WarmFigure `json:"figures" nullable:"false" doc:"What was fitted"`
	NoiseK    float64      `json:"noiseK" doc:"Standard deviation of what the fit leaves, K"`
	TogetherS float64      `json:"togetherS" doc:"How long that hangs together, s; 0: not at all"`
	T         []float64    `json:"t" nullable:"false" doc:"Times of the curves, s"`
	Curve     []float64    `json:"curve" nullable:"false" doc:"The fit at those times, °C"`
	Read      []float64    `json:"read" nullable:"false" doc:"What was logged, averaged about each of the times while there is any, °C"`
	OneExpC   *float64     `json:"oneExponentialC" doc:"Where a single exponential through the log would end, °C, for comparison: it is wrong where air moves by itself"`
	Why       string       `json:"why" doc:"Why there is no state at rest; empty: there is"`
}

// A WarmThen is the end in other air or at another power.
type WarmThen struct {
	RestC float64 `json:"restC"`
	Low   float64 `json:"low"`
	High  float64 `json:"high"`
}

// A WarmFigure is a figure of the heat that was fitted.
type WarmFigure struct {
	Label  string            `json:"label"`
	Was    float64           `json:"was"`
	Value  float64           `json:"value"`
	Low    float64           `json:"low" doc:"Nine in ten are above"`
	High   float64           `json:"high"`
	Told   float64           `json:"told" doc:"Share of what was not known that the log took away, of 1"`
	Take   design.Correction `json:"take" doc:"What to put into the light to accept it"`
	Within float64           `json:"within"`
}

// Figures of heat before they are fitted, as standard deviations, of 1 (common practice: natural
// convection ±15 % of a body that is drawn is its σ here, as a fitted exponent needs room; heat
// capacity by weight ±5 %; a joint as it was pressed ±50 %). The power of a rise: laws of still air
// have 0.20 to 0.33 (Incropera & DeWitt), theirs is in a drawn body already.
const (
	capacityFree   = 0.025
	capacityBlind  = 1.0 // nobody weighed it
	blindJPerK     = 150
	jointFree      = 0.25
	powerFree      = 0.04
	emissivityFree = 0.025
	sinkFree       = 0.3
	sinkPower      = 0.15
	sinkPowerFree  = 0.08
	z80            = 1.2815515655446004 // half of the middle four fifths of a normal
	warmBins       = 180
	fitStepK       = 0.005 // of the runs that are fitted (chosen: far below what is read)
	leastNoiseK    = 0.04  // of a mean: what laws and steps leave (chosen)
	enoughK        = 1.0
	longestLogS    = 6 * 3600
)

// A warmFree is a figure of the heat that may move.
type warmFree struct {
	label, pointer string
	now, sigma     float64
	log            bool    // by a factor; else added
	least, most    float64 // its ends, if it has any
}

func (f *warmFree) value(theta float64) float64 {
	if f.log {
		return f.now * math.Exp(f.sigma*theta)
	}
	x := f.now + f.sigma*theta
	if f.most > f.least {
		x = min(max(x, f.least), f.most)
	}
	return x
}

type warmFitting struct {
	ctx    context.Context
	m      *chain.Model
	base   []chain.Variation // air, and where it began
	free   []warmFree
	column int
	times  []float64
	read   []float64
	sigma  float64
	rho    float64
	noises []noise
	lastS  float64
}

// WarmFitOf fits the heat of a light to the log of a warm-up, and says where it ends. The noise,
// and how it hangs together in time, is taken from what the fit leaves: as an autoregression of
// first order. The error says what is wrong with the log, or that the light has no such place.
func WarmFitOf(ctx context.Context, light *design.Light, q WarmQuestion) (out *WarmFit, err error) {
	defer circuit.Caught(&err)
	if err := checkLog(&q.Log); err != nil {
		return nil, err
	}
	full, err := benched(light, q.Variant)
	if err != nil {
		return nil, err
	}
	m, free, err := openHeat(full, q.Variant)
	if err != nil {
		return nil, err
	}
	w := &warmFitting{ctx: ctx, m: m, column: column(m, q.Log.Owner, q.Log.Figure), sigma: 0.1, free: free}
	if w.column < 0 {
		return nil, fmt.Errorf("%w: this light has no %s of %q that is known", errUnknown, q.Log.Figure, q.Log.Owner)
	}
	air := light.Conditions.AmbientC
	if q.AmbientC != nil {
		air = *q.AmbientC
	}
	w.binned(&q.Log)
	start := air
	if q.Log.S[0] < startsWithinS && math.Abs(q.Log.C[0]-air) > startsOffK {
		start = q.Log.C[0]
	}
	w.base = []chain.Variation{{Pointer: "/conditions/ambientC", Op: chain.Set, Value: air}, {Pointer: "/conditions/startC", Op: chain.Set, Value: start}}
	theta, err := w.fit()
	if err != nil {
		return nil, fmt.Errorf("fitting the warm-up: %w", err)
	}
	return w.tell(&q, theta, air, start)
}

// When a log that does not begin at the air's temperature begins warm (chosen).
const (
	startsWithinS = 10
	startsOffK    = 5
)

func checkLog(l *WarmLog) error {
	switch {
	case len(l.S) != len(l.C):
		return fmt.Errorf("a log has as many temperatures as times; these are %d and %d", len(l.C), len(l.S))
	case len(l.S) < leastLog:
		return fmt.Errorf("a warm-up takes at least %d readings to say where it goes; these are %d", leastLog, len(l.S))
	}
	for i := range l.S {
		if math.IsNaN(l.S[i]) || math.IsInf(l.C[i], 0) || math.IsNaN(l.C[i]) || l.S[i] < 0 || i > 0 && l.S[i] < l.S[i-1] {
			return fmt.Errorf("reading %d of the log: times rise from 0, and this one is %g s, %g °C", i+1, l.S[i], l.C[i])
		}
	}
	if l.S[len(l.S)-1] > longestLogS {
		return fmt.Errorf("a warm-up of more than %d h is no warm-up: cut the log", longestLogS/3600)
	}
	return nil
}

// leastLog is how few readings are fitted (chosen).
const leastLog = 5

// openHeat is the model of a light, and the figures of its heat that may move as its document has
// them: an earlier log may have corrected them, and what is fitted now takes its place.
func openHeat(light *design.Light, variant int) (*chain.Model, []warmFree, error) {
	unweighed := blind(light, variant)
	raw, err := chain.Compile(light, chain.Options{Variant: variant, Raw: true})
	if err != nil {
		return nil, nil, err
	}
	m, err := chain.Compile(light, chain.Options{Variant: variant})
	return m, freeHeat(raw, unweighed), err
}

// blind gives bodies that nobody weighed a heat capacity to begin from, and tells which.
func blind(light *design.Light, variant int) map[string]bool {
	unweighed := map[string]bool{}
	v := &light.Variants[variant]
	for i := range v.Bodies {
		b := v.Bodies[i]
		b.Shape = light.ShapeOf(&b)
		if _, ok := heat.CapacityJPerK(&b); !ok {
			v.Bodies[i].HeatJPerK, unweighed[b.ID] = new(float64(blindJPerK)), true
		}
	}
	return unweighed
}

// freeHeat are the figures of a light's heat that may move.
func freeHeat(m *chain.Model, unweighed map[string]bool) (out []warmFree) {
	light, v := m.Light(), m.Variant()
	for i := range v.Bodies {
		b := v.Bodies[i]
		at := "/variants/" + v.ID + "/bodies/" + b.ID
		power := 0.0
		if b.FilmPower != nil {
			power = *b.FilmPower
		}
		switch {
		case b.KPerW != nil:
			if b.FilmPower == nil {
				power = sinkPower
			}
			out = append(out, warmFree{label: "K/W of " + b.Name, pointer: at + "/kPerW", now: *b.KPerW, sigma: sinkFree, log: true}, warmFree{label: "how its cooling grows with its rise, " + b.Name, pointer: at + "/measuredPower", now: power, sigma: sinkPowerFree, least: -0.3, most: 0.4})
		case b.Shape != nil || light.ShapeOf(&b) != nil:
			shape := light.ShapeOf(&b)
			share := 1.0
			if b.Shape != nil && b.Shape.FilmShare != nil {
				share = *b.Shape.FilmShare
			}
			if b.FilmPower == nil {
				power = stillPower - ownPower(shape)
			}
			out = append(out, warmFree{label: "cooling of " + b.Name, pointer: at + "/shape/measuredFilm", now: share, sigma: heat.OffShare(shape), log: true}, warmFree{label: "how its cooling grows with its rise, " + b.Name, pointer: at + "/measuredPower", now: power, sigma: powerFree, least: -0.3, most: 0.4})
		}
		if shape := light.ShapeOf(&b); b.KPerW == nil && b.Shape != nil && shape.Kind != "cooler" {
			out = append(out, warmFree{label: "emissivity of " + b.Name, pointer: at + "/shape/emissivity", now: heat.EmissivityOf(shape), sigma: emissivityFree, least: 0.01, most: 1})
		}
		with := b
		with.Shape = light.ShapeOf(&b)
		if c, ok := heat.CapacityJPerK(&with); ok && c > 0 {
			sigma := capacityFree
			if unweighed[b.ID] {
				sigma = capacityBlind
			}
			out = append(out, warmFree{label: "heat capacity of " + b.Name, pointer: at + "/heatCapacityJPerK", now: c, sigma: sigma, log: true})
		}
		for k := range b.Joints {
			if r, ok := heat.JointKPerW(&b.Joints[k].Joint); ok && r > 0 {
				out = append(out, warmFree{label: "joint of " + b.Name, pointer: fmt.Sprintf("%s/joints/%d/joint/kPerW", at, k), now: r, sigma: jointFree, log: true})
			}
		}
	}
	for n := range design.Nodes(v) {
		if n.Array == nil || n.Array.Joint == nil {
			continue
		}
		if r, ok := heat.JointKPerW(n.Array.Joint); ok && r > 0 {
			for i := range v.Feeds {
				if design.FindNode(v.Feeds[i].Loads, n.ID) != nil {
					out = append(out, warmFree{label: "joint under " + n.Called(), pointer: "/variants/" + v.ID + "/feeds/" + v.Feeds[i].ID + "/loads/" + n.ID + "/array/joint/kPerW", now: r, sigma: jointFree, log: true})
				}
			}
		}
	}
	return out
}

// stillPower is the middle of the powers of a rise that laws of still air have.
const stillPower = 0.265

// ownPower is the power with which the film of a drawn body grows with its rise about 30 K; what
// is blown, or stands in channels, has its own law: as much as the middle.
func ownPower(s *design.Shape) float64 {
	law, lacks := heat.NewBody(s, 1)
	if len(lacks) > 0 {
		return stillPower
	}
	if p, ok := law.StillPower(); ok {
		return p
	}
	return stillPower
}

// binned averages the log over equal spans.
func (w *warmFitting) binned(l *WarmLog) {
	w.lastS = l.S[len(l.S)-1]
	width := max(w.lastS/warmBins, 1e-9)
	for i := 0; i < len(l.S); {
		bin := math.Floor(l.S[i] / width)
		t, c, n := 0.0, 0.0, 0.0
		for i < len(l.S) && math.Floor(l.S[i]/width) == bin {
			t, c, n = t+l.S[i], c+l.C[i], n+1
			i++
		}
		if k := len(w.times); k > 0 && t/n <= w.times[k-1] {
			continue
		}
		w.times, w.read = append(w.times, t/n), append(w.read, c/n)
	}
}

func (w *warmFitting) changes(theta []float64, more ...chain.Variation) []chain.Variation {
	out := slices.Clone(w.base)
	for k := range theta {
		out = append(out, chain.Variation{Pointer: w.free[k].pointer, Op: chain.Set, Value: w.free[k].value(theta[k])})
	}
	return append(out, more...)
}

// at is the temperature at times, by the chain.
func (w *warmFitting) at(theta, times []float64) ([]float64, error) {
	s := w.m.Solver()
	if err := s.Vary(w.changes(theta)...); err != nil {
		return nil, err
	}
	s.StepWithin(fitStepK)
	run, err := s.RunFor(w.ctx, times[len(times)-1]+1)
	if err != nil {
		return nil, err
	}
	var t, c []float64
	for i := range run.T {
		if len(t) == 0 || run.T[i] > t[len(t)-1] {
			t, c = append(t, run.T[i]), append(c, run.Records[i][w.column])
		}
	}
	var curve interp.FritschButland
	if len(t) < 2 {
		return nil, errUnknown
	}
	if err := curve.Fit(t, c); err != nil {
		return nil, fmt.Errorf("drawing the warm-up: %w", err)
	}
	out := make([]float64, len(times))
	for i := range times {
		out[i] = curve.Predict(min(times[i], t[len(t)-1])) // what has settled stays
	}
	return out, nil
}

// residuals are what was read less what is computed, K.
func (w *warmFitting) residuals(theta []float64) ([]float64, error) {
	at, err := w.at(theta, w.times)
	if err != nil {
		return nil, err
	}
	for i := range at {
		at[i] = w.read[i] - at[i]
	}
	return at, nil
}

// whitened takes out of each residual what hangs over from the one before, over σ.
func whitened(r []float64, sigma, rho float64) []float64 {
	out := make([]float64, len(r))
	for i := range r {
		if i == 0 {
			out[i] = r[i] * math.Sqrt(1-rho*rho) / sigma
		} else {
			out[i] = (r[i] - rho*r[i-1]) / sigma
		}
	}
	return out
}

// fit finds the figures, then the noise they leave, and the figures again with that.
func (w *warmFitting) fit() (theta []float64, err error) {
	theta = make([]float64, len(w.free))
	for range fitPasses {
		sigma, rho := w.sigma, w.rho
		if theta, _, err = mostLikely(w.ctx, theta, 1, func(theta []float64) ([]float64, error) {
			r, err := w.residuals(theta)
			if err != nil {
				return nil, err
			}
			return whitened(r, sigma, rho), nil
		}); err != nil {
			return nil, err
		}
		if err := w.weigh(theta); err != nil {
			return nil, err
		}
	}
	return theta, nil
}

// fitPasses are how often figures and noise are found in turn (chosen).
const fitPasses = 2

// A noise is one that may be: an autoregression of first order, with how likely it is by the log
// once all figures that may be are taken together, and what the figures then are.
type noise struct {
	sigma, rho float64
	weight     float64
	mean       []float64 // of the figures
	cov        *mat.SymDense
}

// Noises that are weighed: how long they hang together, s, and their size (chosen: a draught in a
// room hangs together for seconds to minutes).
var (
	togetherS = []float64{0, 3, 6, 10, 15, 22, 32, 45, 60, 80, 110, 150}
	noiseK    = func() (out []float64) {
		for s := leastNoiseK; s < 3; s *= 1.2 {
			out = append(out, s)
		}
		return out
	}()
)

// weigh asks of each noise how likely the log is with it: the evidence of a linear model with
// Gaussian unknowns (MacKay, Bayesian interpolation, 1992, from memory), along the slopes at the
// figures as they were fitted.
func (w *warmFitting) weigh(theta []float64) error {
	r, err := w.residuals(theta)
	if err != nil {
		return err
	}
	j := growth(w.ctx, theta, r, 1, w.residuals)
	if err := w.ctx.Err(); err != nil {
		return err
	}
	// As it would be with no figure moved, were it linear.
	for k := range j {
		for i := range r {
			r[i] += j[k][i] * theta[k]
		}
	}
	n, count := len(theta), float64(len(r))
	width := w.lastS / count
	w.noises = w.noises[:0]
	best := math.Inf(-1)
	white := make([][]float64, n)
	for _, together := range togetherS {
		rho := 0.0
		if together > 0 {
			rho = math.Exp(-width / together)
		}
		e := whitened(r, 1, rho)
		for k := range j {
			white[k] = whitened(j[k], 1, rho)
		}
		gram, right, square := mat.NewSymDense(n, nil), mat.NewVecDense(n, nil), 0.0
		for k := range n {
			for l := k; l < n; l++ {
				gram.SetSym(k, l, dot(white[k], white[l]))
			}
			right.SetVec(k, dot(white[k], e))
		}
		square = dot(e, e)
		for _, size := range noiseK {
			sigma := size * math.Sqrt(1-rho*rho)
			normal := mat.NewSymDense(n, nil)
			for k := range n {
				for l := k; l < n; l++ {
					x := gram.At(k, l) / (sigma * sigma)
					if k == l {
						x++
					}
					normal.SetSym(k, l, x)
				}
			}
			var chol mat.Cholesky
			if !chol.Factorize(normal) {
				continue
			}
			var mean mat.VecDense
			scaled := mat.NewVecDense(n, nil)
			scaled.ScaleVec(1/(sigma*sigma), right)
			if chol.SolveVecTo(&mean, scaled) != nil {
				continue
			}
			log := -count*math.Log(sigma) + 0.5*math.Log(1-rho*rho) - 0.5*chol.LogDet() - 0.5*(square/(sigma*sigma)-mat.Dot(&mean, scaled))
			cov := mat.NewSymDense(n, nil)
			if chol.InverseTo(cov) != nil {
				continue
			}
			w.noises = append(w.noises, noise{sigma, rho, log, mean.RawVector().Data, cov})
			if log > best {
				best, w.sigma, w.rho = log, sigma, rho
			}
		}
	}
	sum := 0.0
	for i := range w.noises {
		w.noises[i].weight = math.Exp(w.noises[i].weight - best)
		sum += w.noises[i].weight
	}
	if sum == 0 || len(w.noises) == 0 {
		return fmt.Errorf("the log tells nothing of this light: %w", errUnknown)
	}
	kept := w.noises[:0]
	for _, x := range w.noises {
		if x.weight /= sum; x.weight > 1e-4 {
			kept = append(kept, x)
		}
	}
	w.noises = kept
	return nil
}

func dot(a, b []float64) float64 {
	sum := 0.0
	for i := range a {
		sum += a[i] * b[i]
	}
	return sum
}

// span is the middle four fifths of a figure that stands at a value and has slopes with the
// figures that were fitted: over all noises that may be.
func (w *warmFitting) span(value float64, slope, theta []float64) (low, high float64) {
	type part struct{ weight, mean, sd float64 }
	var parts []part
	far := 0.0
	for _, x := range w.noises {
		p := part{x.weight, value, math.Sqrt(quadratic(slope, x.cov))}
		for k := range slope {
			p.mean += slope[k] * (x.mean[k] - theta[k])
		}
		parts = append(parts, p)
		far = max(far, math.Abs(p.mean-value)+5*p.sd)
	}
	at := func(share float64) float64 {
		low, high := value-far-1e-9, value+far+1e-9
		for range 60 {
			mid, below := (low+high)/2, 0.0
			for _, p := range parts {
				below += p.weight * 0.5 * math.Erfc(-(mid-p.mean)/max(p.sd, 1e-12)/math.Sqrt2)
			}
			if below < share {
				low = mid
			} else {
				high = mid
			}
		}
		return (low + high) / 2
	}
	return at(0.1), at(0.9)
}

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
