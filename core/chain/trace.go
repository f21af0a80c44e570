package chain

import (
	"math"
	"slices"

	"photherm/core/driver"
)

// A Series is one column of a trace.
type Series struct {
	Column
	Values []*float64 `json:"values" nullable:"false" doc:"Null where a figure cannot be had"`
}

// A Trace is a run thinned for drawing: at most MaxTracePoints instants, both
// sides of each jump at the same t, and every figure of the tree at each. Values
// in between are found by straight interpolation, so sums still add.
type Trace struct {
	T      []float64   `json:"t" nullable:"false" doc:"Seconds after switch-on, rising; a jump stands twice"`
	Series []Series    `json:"series" nullable:"false"`
	Modes  []NamedMode `json:"modes" nullable:"false" doc:"Names of the values of mode columns"`
	Events []Event     `json:"events" nullable:"false"`
	EndS   float64     `json:"endS" doc:"Length of the run, s"`
	EndsBy string      `json:"endsBy" doc:"Kind of the event that ended it"`
}

// A NamedMode names a value of mode columns.
type NamedMode struct {
	Value int    `json:"value"`
	Name  string `json:"name"`
}

// MaxTracePoints bounds a trace.
const MaxTracePoints = 300

// OpeningS is the part of a run that the clock shows wider: the first half hour.
const OpeningS = 1800

// Trace thins the run to what a screen needs.
func (r *Run) Trace() *Trace {
	keep := r.thin(MaxTracePoints)
	t := &Trace{Events: r.Events, EndS: tidy(r.T[len(r.T)-1]), EndsBy: r.End.Kind, T: make([]float64, len(keep))}
	if t.Events == nil {
		t.Events = []Event{}
	}
	for i := range driver.Modes {
		t.Modes = append(t.Modes, NamedMode{i, ModeName(float64(i))})
	}
	for i, k := range keep {
		t.T[i] = tidy(r.T[k])
	}
	for c, column := range r.Model.columns {
		values, told := make([]*float64, len(keep)), make([]float64, len(keep))
		for i, k := range keep {
			if x := r.Records[k][c]; !math.IsNaN(x) && !math.IsInf(x, 0) {
				told[i] = tidy(x)
				values[i] = &told[i]
			}
		}
		t.Series = append(t.Series, Series{column, values})
	}
	return t
}

// tidy keeps seven significant digits: more than any model here deserves, and a
// third of the bytes. What is not a number stays that.
func tidy(x float64) float64 {
	if x == 0 || math.IsInf(x, 0) || math.IsNaN(x) {
		return x
	}
	p := math.Pow(10, 7-math.Ceil(math.Log10(math.Abs(x))))
	return math.Round(x*p) / p
}

// Warp maps time to the clock's length: the first half hour takes a third of it.
func Warp(t, endS float64) float64 {
	if endS <= OpeningS {
		return t / endS
	}
	if t <= OpeningS {
		return t / OpeningS / 3
	}
	return 1.0/3 + 2.0/3*(t-OpeningS)/(endS-OpeningS)
}

// thin picks at most n records: ends, jumps and events always, then those between which
// the light bends, the others where the clock would otherwise have gaps.
func (r *Run) thin(n int) []int {
	last := len(r.T) - 1
	must := make([]bool, last+1)
	count := 0
	keep := func(i int) {
		if !must[i] {
			must[i] = true
			count++
		}
	}
	if last+1 <= n {
		n = last + 1
		for i := range must {
			keep(i)
		}
	}
	keep(0)
	keep(last)
	for i := 1; i <= last && count < n/2; i++ {
		if r.T[i] == r.T[i-1] {
			keep(i - 1)
			keep(i)
		}
	}
	for _, e := range r.Events {
		if i, found := slices.BinarySearch(r.T, e.T); found && count < n/2 {
			keep(i)
		}
	}
	r.bends(func(i int) bool {
		keep(i)
		return count < n*4/5
	})
	slots := float64(n - count)
	slot := -1.0
	for i := range r.T {
		at := math.Floor(Warp(r.T[i], r.T[last]) * slots)
		if at > slot && !must[i] && count < n {
			keep(i)
		}
		slot = max(slot, at)
	}
	out := make([]int, 0, count)
	for i := range must {
		if must[i] {
			out = append(out, i)
		}
	}
	return out
}

// bends names the records without which two that are left would be further apart than
// rows of a course may be, of the full light; it stops when told to.
func (r *Run) bends(need func(i int) bool) {
	full := 0.0
	for i := range r.T {
		full = max(full, r.total(i, totalFluxLm))
	}
	from := 0
	for i := 1; i < len(r.T); i++ {
		if math.Abs(r.total(i, totalFluxLm)-r.total(from, totalFluxLm)) <= widestGap*full {
			continue
		}
		if from = max(i-1, from); !need(from) {
			return
		}
	}
}

// At returns the record at time t, between records straight interpolated; after a
// jump at t the later side.
func (r *Run) At(t float64) []float64 {
	i, _ := slices.BinarySearchFunc(r.T, t, func(x, t float64) int {
		if x <= t {
			return -1
		}
		return 1
	})
	if i == 0 {
		return r.Records[0]
	}
	if i == len(r.T) {
		return r.Records[len(r.T)-1]
	}
	a, b := r.Records[i-1], r.Records[i]
	x := (t - r.T[i-1]) / (r.T[i] - r.T[i-1])
	out := make([]float64, len(a))
	for c := range out {
		out[c] = a[c] + x*(b[c]-a[c])
		if r.Model.columns[c].Figure == "mode" {
			out[c] = a[c]
		}
	}
	return out
}
