// Package array answers how emitters in series and parallel share one bus: the
// voltage of the whole at a current and the current of each string at a voltage.
package array

import (
	"math"

	"photherm/core/design"
	"photherm/core/emitter"
	"photherm/core/root"
)

// A Law is an array of S × P emitters on each of count equal boards, all at one
// junction temperature. Strings differ only by faults.
type Law struct {
	Emitter emitter.Model
	Series  int
	Groups  []Group // healthy strings first, then each kind of faulty one
}

// A Group is a number of alike strings.
type Group struct {
	Strings int
	Live    int // emitters in the string that are not shorted; 0 in a dead short
	Open    bool
}

// New makes a law from the document.
func New(a *design.Array, e emitter.Model) Law {
	healthy := a.Parallel * max(a.Count, 1)
	l := Law{Emitter: e, Series: a.Series, Groups: []Group{{}}}
	for _, f := range a.Faults {
		healthy -= f.Strings
		l.Groups = append(l.Groups, Group{Strings: f.Strings, Live: a.Series - f.Shorted, Open: f.Open})
	}
	l.Groups[0] = Group{Strings: healthy, Live: a.Series}
	return l
}

// Emitters counts those that carry current.
func (l *Law) Emitters() int {
	n := 0
	for _, g := range l.Groups {
		if !g.Open {
			n += g.Strings * g.Live
		}
	}
	return n
}

// Strings counts all strings, open ones too.
func (l *Law) Strings() int {
	n := 0
	for _, g := range l.Groups {
		n += g.Strings
	}
	return n
}

// Uniform tells that all strings are alike, so that closed forms hold.
func (l *Law) Uniform() bool { return len(l.Groups) == 1 }

// shortOhm stands for a string whose emitters are all shorted.
const shortOhm = 1e-3

// ShareA is the current of one string of group g, A, when the array stands at a
// voltage and takes a current.
func (l *Law) ShareA(g int, voltageV, currentA, junctionC float64) float64 {
	if l.Uniform() && !l.Groups[0].Open {
		return currentA / float64(max(l.Groups[0].Strings, 1))
	}
	return l.stringA(g, voltageV, 0, junctionC)
}

func (l *Law) stringA(g int, voltageV, seriesOhm, junctionC float64) float64 {
	group := &l.Groups[g]
	switch {
	case group.Open || group.Strings <= 0:
		return 0
	case group.Live <= 0:
		return voltageV / (shortOhm + seriesOhm)
	}
	n := float64(group.Live)
	return l.Emitter.Current(voltageV/n, seriesOhm/n, junctionC)
}

// CurrentA is the current of the whole array, A, driven by a voltage through a
// resistance.
func (l *Law) CurrentA(voltageV, seriesOhm, junctionC float64) float64 {
	if voltageV <= 0 {
		return 0
	}
	if l.Uniform() {
		n := float64(l.Groups[0].Strings)
		return n * l.stringA(0, voltageV, n*seriesOhm, junctionC)
	}
	v := voltageV
	if seriesOhm > 0 {
		f := func(v float64) float64 { return (voltageV-v)/seriesOhm - l.sum(v, junctionC) }
		v = root.Bracketed(f, 0, f(0), voltageV, f(voltageV), 1e-12*voltageV)
		return (voltageV - v) / seriesOhm
	}
	return l.sum(v, junctionC)
}

func (l *Law) sum(v, junctionC float64) float64 {
	total := 0.0
	for g := range l.Groups {
		total += float64(l.Groups[g].Strings) * l.stringA(g, v, 0, junctionC)
	}
	return total
}

// VoltageV is the voltage at which the array takes a current ≥ 0, V. It is +Inf
// if every string is open.
func (l *Law) VoltageV(currentA, junctionC float64) float64 {
	if currentA <= 0 {
		return 0
	}
	if l.Uniform() {
		g := &l.Groups[0]
		if g.Strings <= 0 || g.Open {
			return math.Inf(1)
		}
		return float64(g.Live) * l.Emitter.Voltage(currentA/float64(g.Strings), junctionC)
	}
	low, high := 0.0, 1.0
	for l.sum(high, junctionC) < currentA {
		low, high = high, 2*high
		if high > 1e6 {
			return math.Inf(1)
		}
	}
	f := func(v float64) float64 { return l.sum(v, junctionC) - currentA }
	return root.Bracketed(f, low, f(low), high, f(high), 1e-12*high)
}

// Light is the flux, lm, and radiated power, W, of the whole array at its voltage
// and current, before any optic.
func (l *Law) Light(voltageV, currentA, junctionC float64) (fluxLm, radiantW float64) {
	for g := range l.Groups {
		n := float64(l.Groups[g].Strings * l.Groups[g].Live)
		if i := l.ShareA(g, voltageV, currentA, junctionC); i > 0 && n > 0 {
			fluxLm += n * l.Emitter.FluxLm(i, junctionC)
			radiantW += n * l.Emitter.RadiantW(i, junctionC)
		}
	}
	return fluxLm, radiantW
}
