package bench

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"runtime"
	"slices"
	"strings"

	"gonum.org/v1/gonum/mat"

	"photherm/core/band"
	"photherm/core/chain"
	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/reading"
)

// A Calibration is what the readings make of the figures of a light.
type Calibration struct {
	Figures []Calibrated    `json:"figures" nullable:"false" doc:"What moved most first"`
	Before  float64         `json:"before" doc:"Sum of squares of the readings over their tools before"`
	After   float64         `json:"after" doc:"And with all figures taken"`
	Rows    []FittedReading `json:"rows" nullable:"false" doc:"Each reading before and after"`
	Cause   *LikelyCause    `json:"cause" doc:"One thing that is most likely wrong: mend it before figures are taken; null: nothing is"`
	Next    *NextReading    `json:"next" doc:"The reading that would tell most now"`
	Used    int             `json:"used" doc:"How many readings it rests on"`
	Left    int             `json:"left" doc:"How many were left out: they differ so far that a slip is asked about, or they read no figure of the chain"`
}

// A Calibrated is one free figure.
type Calibrated struct {
	Label   string            `json:"label"`
	Unit    string            `json:"unit" doc:"Of the figure; empty: it is a share"`
	Pointer string            `json:"pointer" doc:"JSON Pointer of its figure in the light"`
	Was     float64           `json:"was" doc:"What the document says, in the unit of the figure (beside figures: neutral)"`
	Prior   float64           `json:"prior" doc:"± beforehand"`
	Value   float64           `json:"value" doc:"With the readings"`
	Within  float64           `json:"within" doc:"± with the readings"`
	Told    float64           `json:"told" doc:"Share of what was not known that the readings took away, of 1"`
	Unknown bool              `json:"unknown" doc:"Whether the readings say next to nothing of it"`
	Far     bool              `json:"far" doc:"Whether it lies beyond its own tolerance: look at it before you take it"`
	Take    design.Correction `json:"take" doc:"What to put into the light to accept it"`
	Taken   bool              `json:"taken" doc:"Whether the light has it corrected already"`
}

// A FittedReading is a reading before and after.
type FittedReading struct {
	What     string  `json:"what"`
	Quantity string  `json:"quantity"`
	Read     float64 `json:"read"`
	Before   float64 `json:"before"`
	After    float64 `json:"after"`
	Within   float64 `json:"within" doc:"± the tool leaves open"`
}

// unknownTold is how little of a figure readings may tell for it to be called unknown (chosen).
const unknownTold = 0.1

// CalibrationOf fits the free figures of a light, each within its own tolerance beforehand, to
// the readings: the most likely figures by Gauss–Newton on residuals and priors together
// (Tarantola, Inverse Problem Theory, 2005, ch. 3, from memory). Readings are those of the
// sitting that is open; the light is taken as its document says, without earlier corrections.
func CalibrationOf(ctx context.Context, light *design.Light, q Question) (out *Calibration, err error) {
	defer circuit.Caught(&err)
	plain, err := design.Clone(light)
	if err != nil {
		return nil, err
	}
	if q.Variant < 0 || q.Variant >= len(plain.Variants) {
		return nil, fmt.Errorf("there is no variant %d", q.Variant)
	}
	plain.Variants[q.Variant].Corrected = nil
	plan, w, err := planOf(ctx, plain, q)
	if err != nil {
		return nil, err
	}
	tolerances := band.Tolerances(w.m)
	f := fitting{ctx: ctx, m: w.m, tolerances: tolerances, tried: w.tried}
	out = &Calibration{Figures: []Calibrated{}, Rows: []FittedReading{}, Cause: plan.Cause, Next: plan.Next}
	for _, r := range w.placed {
		if r.Reading.Actual == nil || r.Reading.Ask != nil {
			continue
		}
		f.rows = append(f.rows, fitRow{*r.point, *r.Reading.Actual, w.toolSigma(r)})
		out.Rows = append(out.Rows, FittedReading{What: r.Reading.What, Quantity: r.Reading.Quantity, Read: *r.Reading.Actual, Within: 2 * w.toolSigma(r)})
	}
	out.Used, out.Left = len(f.rows), plan.Read-len(f.rows)
	if len(f.rows) == 0 {
		return out, nil
	}
	theta, cov, err := f.fit()
	if err != nil {
		return nil, fmt.Errorf("fitting the figures to the readings: %w", err)
	}
	before, err := f.at(make([]float64, len(tolerances)))
	if err != nil {
		return nil, err
	}
	now, err := f.at(theta)
	if err != nil {
		return nil, err
	}
	for i, r := range f.rows {
		out.Rows[i].Before, out.Rows[i].After = before[i], now[i]
		out.Before += math.Pow((r.read-before[i])/r.sigma, 2)
		out.After += math.Pow((r.read-now[i])/r.sigma, 2)
	}
	v := &light.Variants[q.Variant]
	for k := range tolerances {
		t := &tolerances[k]
		sd := math.Sqrt(cov.At(k, k))
		c := Calibrated{Label: t.Label, Unit: unitOf(w.m, t.Pointer), Pointer: t.At, Was: t.Change(0).Value, Value: f.change(k, theta[k]).Value}
		unit := t.Change(t.Spread).Value - c.Was
		c.Prior, c.Within = math.Abs(unit), math.Abs(unit)*sd
		c.Told = 1 - sd*sd
		c.Unknown, c.Far = c.Told < unknownTold, math.Abs(theta[k]) > 2
		c.Take = design.Correction{At: relative(w.v, t.Pointer), Label: t.Label, Value: c.Value, Was: c.Was, Within: c.Within, By: words(out.Rows)}
		for _, had := range v.Corrected {
			c.Taken = c.Taken || had.At == c.Take.At
		}
		out.Figures = append(out.Figures, c)
	}
	slices.SortStableFunc(out.Figures, func(a, b Calibrated) int {
		return cmp.Compare(math.Abs(b.Value-b.Was)/b.Prior, math.Abs(a.Value-a.Was)/a.Prior)
	})
	return out, nil
}

// unitOf is the unit of a figure by its path through ids; empty: a share.
func unitOf(m *chain.Model, pointer string) string {
	pointer = design.AtOnce(pointer) // as figures are listed
	for _, s := range m.Slots() {
		if s.Pointer == pointer && s.Unit != "1" {
			return s.Unit
		}
	}
	return ""
}

// relative is a pointer through ids as a correction has it.
func relative(v *design.Variant, pointer string) string {
	return design.AtOnce(strings.TrimPrefix(pointer, "/variants/"+v.ID))
}

// words are the readings a correction rests on, the first few.
func words(rows []FittedReading) string {
	var out []string
	for i, r := range rows {
		if i == 4 {
			out = append(out, fmt.Sprintf("and %d more", len(rows)-i))
			break
		}
		out = append(out, fmt.Sprintf("%s %s", r.What, reading.Say(r.Quantity, r.Read)))
	}
	s := strings.Join(out, ", ")
	if len(s) > 290 {
		s = s[:290]
	}
	return strings.ToValidUTF8(s, "")
}

type fitRow struct {
	at          point
	read, sigma float64
}

// A fitting finds figures, each in its own standard deviations from what the document says.
type fitting struct {
	ctx        context.Context
	m          *chain.Model
	tolerances []band.Tolerance
	rows       []fitRow
	tried      func()
}

// change is a figure so many standard deviations off: half its spread each.
func (f *fitting) change(k int, sd float64) chain.Variation {
	t := &f.tolerances[k]
	return t.Change(sd * t.Spread / 2)
}

// at is what each reading would be.
func (f *fitting) at(theta []float64) ([]float64, error) {
	var changes []chain.Variation
	for k := range theta {
		if theta[k] != 0 {
			changes = append(changes, f.change(k, theta[k]))
		}
	}
	q, err := newSolved(f.ctx, f.m, changes...)
	if err != nil {
		return nil, err
	}
	out := make([]float64, len(f.rows))
	for i, r := range f.rows {
		x, ok := q.figure(r.at)
		if !ok {
			return nil, errUnknown
		}
		out[i] = x
	}
	return out, q.err
}

// fit is the most likely figures and their covariance, in standard deviations beforehand.
func (f *fitting) fit() (theta []float64, cov *mat.SymDense, err error) {
	return mostLikely(f.ctx, make([]float64, len(f.tolerances)), runtime.GOMAXPROCS(0), func(theta []float64) (at []float64, err error) {
		defer circuit.Caught(&err)
		at, err = f.at(theta)
		f.tried()
		if err != nil {
			return nil, err
		}
		for i, r := range f.rows {
			at[i] = (r.read - at[i]) / r.sigma
		}
		return at, nil
	})
}

// posterior is what is still not known with the readings taken, along the slopes of the light as
// it is, in standard deviations beforehand.
func (w *writer) posterior(tolerances []band.Tolerance) *mat.SymDense {
	n := len(tolerances)
	if n == 0 {
		return nil
	}
	normal := mat.NewSymDense(n, nil)
	for k := range n {
		normal.SetSym(k, k, 1)
	}
	for i, r := range w.placed {
		if r.Reading.Actual == nil || r.Reading.Ask != nil {
			continue
		}
		s := w.toolSigma(r)
		for k := range n {
			for l := k; l < n; l++ {
				normal.SetSym(k, l, normal.At(k, l)+w.slopes[k][i]/2*w.slopes[l][i]/2/(s*s))
			}
		}
	}
	return inverse(normal)
}
