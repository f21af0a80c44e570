package bench

import (
	"context"
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/interp"

	"photherm/core/chain"
	"photherm/core/circuit"
	"photherm/core/design"
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
