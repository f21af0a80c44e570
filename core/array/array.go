// Package array answers how emitters in series and parallel share one bus: the
// voltage of the whole at a current and the current of each string at a voltage.
package array

import (
	"math"

	"photherm/core/design"
	"photherm/core/emitter"
)

// A Law is an array of S × P emitters on each of count equal boards. A string may hold
// emitters of several kinds, one behind the other. A junction temperature is given for
// the array as a whole; groups and kinds stand above it by steps of their own.
type Law struct {
	Emitter emitter.Model
	Series  int
	More    []Kind  // in series with these, in each string
	Groups  []Group // the ordinary strings first, then each kind that differs
}

// A Kind is a number of further emitters in each string.
type Kind struct {
	Emitter emitter.Model
	Series  int
}

// MostKinds bounds the kinds of emitters in a string beside the first.
const MostKinds = design.MostKinds

// A Group is a number of alike strings.
type Group struct {
	Strings    int
	Live       int // emitters of the first kind in the string that are not shorted
	Open       bool
	OffsetV    float64 // of each emitter, above the model's forward voltage
	HotterK    float64 // as it is said: hotter than the array's junctions by this
	BallastOhm float64
	AboveK     [1 + MostKinds]float64 // how far the junctions of each kind stand above the array's besides, K
}

// kindC is the junction temperature of a kind of emitters in the group's strings.
func (g *Group) kindC(kind int, junctionC float64) float64 {
	return junctionC + g.HotterK + g.AboveK[kind]
}

// New makes a law from the document.
func New(a *design.Array, e emitter.Model) Law {
	ordinary := a.Parallel * max(a.Count, 1)
	l := Law{Emitter: e, Series: a.Series, Groups: []Group{{}}}
	ballast := 0.0
	if a.BallastOhm != nil {
		ballast = *a.BallastOhm
	}
	for _, u := range a.Unequal {
		ordinary -= u.Strings
		g := Group{Strings: u.Strings, Live: a.Series - u.Shorted, Open: u.Open, OffsetV: u.OffsetV, HotterK: u.HotterK, BallastOhm: ballast}
		if u.BallastOhm != nil {
			g.BallastOhm = *u.BallastOhm
		}
		l.Groups = append(l.Groups, g)
	}
	l.Groups[0] = Group{Strings: ordinary, Live: a.Series, BallastOhm: ballast}
	if a.OffsetV != nil {
		for i := range l.Groups {
			l.Groups[i].OffsetV += *a.OffsetV
		}
	}
	return l
}

// Kinds counts the kinds of emitters in a string.
func (l *Law) Kinds() int { return 1 + len(l.More) }

// Of is the model of a kind of emitters, and how many of a group's strings' are not
// shorted.
func (l *Law) Of(group, kind int) (m *emitter.Model, live int) {
	if kind == 0 {
		return &l.Emitter, l.Groups[group].Live
	}
	return &l.More[kind-1].Emitter, l.More[kind-1].Series
}

// Live counts the emitters of a group's string that are not shorted.
func (l *Law) Live(group int) int {
	n := l.Groups[group].Live
	for k := range l.More {
		n += l.More[k].Series
	}
	return n
}

// Emitters counts those that carry current.
func (l *Law) Emitters() int {
	n := 0
	for i, g := range l.Groups {
		if !g.Open {
			n += g.Strings * l.Live(i)
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
	return l.stringNear(g, voltageV, seriesOhm, junctionC, 0)
}

func (l *Law) stringNear(g int, voltageV, seriesOhm, junctionC, nearA float64) float64 {
	group := &l.Groups[g]
	switch {
	case group.Open || group.Strings <= 0:
		return 0
	case len(l.More) > 0:
		return l.mixedA(g, voltageV, seriesOhm, junctionC, nearA)
	case group.Live <= 0:
		return voltageV / (shortOhm + seriesOhm + group.BallastOhm)
	}
	n := float64(group.Live)
	return l.Emitter.CurrentNear(voltageV/n-group.OffsetV, (seriesOhm+group.BallastOhm)/n, group.kindC(0, junctionC), nearA)
}

// Currents between which a string of several kinds is looked for, A: below the first
// nothing flows.
const (
	leastMixedA = 1e-12
	mostMixedA  = 1e6
)

// mixedA is the current of a string of several kinds: by Newton in ln I, kept in a
// bracket, from a current nearby.
func (l *Law) mixedA(g int, voltageV, seriesOhm, junctionC, nearA float64) float64 {
	low, high := math.Log(leastMixedA), math.Log(mostMixedA)
	if v, _ := l.StringOhm(g, leastMixedA, junctionC); v >= voltageV {
		return 0
	}
	ln := math.Log(0.1)
	if nearA > leastMixedA {
		ln = math.Log(nearA)
	}
	for range 200 {
		i := math.Exp(ln)
		v, ohm := l.StringOhm(g, i, junctionC)
		f := v + i*seriesOhm - voltageV
		if f > 0 {
			high = ln
		} else {
			low = ln
		}
		next := ln - max(-2, min(2, f/(i*(ohm+seriesOhm))))
		if !(next > low && next < high) {
			next = (low + high) / 2
		}
		if math.Abs(next-ln) < 1e-13*max(1, math.Abs(ln)) {
			return math.Exp(next)
		}
		ln = next
	}
	return math.Exp(ln)
}

// Draw is the current of the whole array driven by a voltage through a resistance, A,
// and its slope, A/V. It is looked for from a current nearby; 0: none is known.
func (l *Law) Draw(voltageV, seriesOhm, junctionC, nearA float64) (a, slope float64) {
	if voltageV <= 0 {
		return 0, 0
	}
	if !l.Uniform() {
		if seriesOhm <= 0 {
			return l.sumNear(voltageV, junctionC, nearA/float64(max(l.Strings(), 1)))
		}
		if nearA <= 0 {
			nearA = l.asLargest(voltageV, seriesOhm, junctionC)
		}
		if _, a, slope, ok := l.together(voltageV/seriesOhm, 1/seriesOhm, junctionC, nearA); ok {
			return a, slope / (1 + slope*seriesOhm)
		}
		a = l.CurrentA(voltageV, seriesOhm, junctionC)
		_, slope = l.sum(voltageV-a*seriesOhm, junctionC)
		return a, slope / (1 + slope*seriesOhm)
	}
	group := &l.Groups[0]
	n := float64(group.Strings)
	if group.Open || n <= 0 {
		return 0, 0
	}
	i := l.stringNear(0, voltageV, n*seriesOhm, junctionC, nearA/n)
	if i <= 0 {
		return 0, 0
	}
	return n * i, n / (l.stringOhm(0, i) + n*seriesOhm)
}

// StringOhm is the voltage of a string of group g at a current > 0, V, and dV/dI, Ω.
func (l *Law) StringOhm(g int, currentA, junctionC float64) (v, ohm float64) {
	group := &l.Groups[g]
	v, ohm = currentA*group.BallastOhm, group.BallastOhm
	for k := range l.Kinds() {
		m, live := l.Of(g, k)
		if live <= 0 {
			continue
		}
		n := float64(live)
		each, slope := m.VoltageOhm(currentA, group.kindC(k, junctionC))
		v += n * (each + group.OffsetV)
		ohm += n * slope
	}
	if l.Live(g) <= 0 {
		v += currentA * shortOhm
		ohm += shortOhm
	}
	return v, ohm
}

// stringOhm is dV/dI of a string of group g, Ω.
func (l *Law) stringOhm(g int, currentA float64) float64 {
	ohm := l.Groups[g].BallastOhm
	if l.Live(g) <= 0 {
		ohm += shortOhm
	}
	for k := range l.Kinds() {
		if m, live := l.Of(g, k); live > 0 {
			ohm += float64(live) * m.DifferentialOhm(currentA)
		}
	}
	return ohm
}

// CurrentOf is the current of one string of group g on a bus, A.
func (l *Law) CurrentOf(g int, voltageV, junctionC float64) float64 {
	return l.stringA(g, voltageV, 0, junctionC)
}

// StringV is the voltage of a string of group g at a current > 0, V.
func (l *Law) StringV(g int, currentA, junctionC float64) float64 {
	v, _ := l.StringOhm(g, currentA, junctionC)
	return v
}

// BallastW is what the ballast resistors take at a voltage and current of the
// array, W.
func (l *Law) BallastW(voltageV, currentA, junctionC float64) float64 {
	w := 0.0
	for g := range l.Groups {
		if r := l.Groups[g].BallastOhm; r > 0 {
			i := l.ShareA(g, voltageV, currentA, junctionC)
			w += float64(l.Groups[g].Strings) * i * i * r
		}
	}
	return w
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
	if seriesOhm <= 0 {
		total, _ := l.sum(voltageV, junctionC)
		return total
	}
	start := voltageV - l.asLargest(voltageV, seriesOhm, junctionC)*seriesOhm
	v := l.meet(0, voltageV, start, junctionC, func(v float64) (float64, float64) { return (voltageV - v) / seriesOhm, 1 / seriesOhm })
	return (voltageV - v) / seriesOhm
}

// asLargest is the current if all strings were like the largest group, A.
func (l *Law) asLargest(voltageV, seriesOhm, junctionC float64) float64 {
	largest, n := 0, float64(l.Strings())
	for g := range l.Groups {
		if !l.Groups[g].Open && l.Groups[g].Strings > l.Groups[largest].Strings {
			largest = g
		}
	}
	return n * l.stringA(largest, voltageV, n*seriesOhm, junctionC)
}

// sum is the current of all strings at a voltage and its slope, A/V.
func (l *Law) sum(v, junctionC float64) (total, slope float64) { return l.sumNear(v, junctionC, 0) }

// sumNear is sum, with what a string takes looked for from a current nearby.
func (l *Law) sumNear(v, junctionC, nearA float64) (total, slope float64) {
	for g := range l.Groups {
		i := l.stringNear(g, v, 0, junctionC, nearA)
		if i <= 0 {
			continue
		}
		n := float64(l.Groups[g].Strings)
		total += n * i
		slope += n / l.stringOhm(g, i)
	}
	return total, slope
}

// Bounds of together: the tolerance leaves an error that goes with its square.
const (
	mostGroups  = 8
	mostRounds  = 40
	togetherV   = 2e-8
	leastShareA = 1e-30
)

// together finds where the strings take what is offered, offeredA − perV·v: unknown are
// the voltage and the current of every group, so that each round looks at each forward
// curve once. It begins from a current of all nearby, and gives up where a group takes
// next to nothing.
func (l *Law) together(offeredA, perV, junctionC, nearA float64) (v, a, slope float64, ok bool) {
	if len(l.Groups) > mostGroups || nearA <= 0 {
		return 0, 0, 0, false
	}
	live := 0
	for g := range l.Groups {
		if !l.Groups[g].Open {
			live += l.Groups[g].Strings
		}
	}
	if live <= 0 {
		return 0, 0, 0, false
	}
	var at, stands, ohm [mostGroups]float64
	for g := range l.Groups {
		at[g] = nearA / float64(live)
	}
	for range mostRounds {
		a, slope, v = 0, 0, offeredA
		for g := range l.Groups {
			n := float64(l.Groups[g].Strings)
			if l.Groups[g].Open || n <= 0 {
				continue
			}
			stands[g], ohm[g] = l.StringOhm(g, at[g], junctionC)
			slope += n / ohm[g]
			v += n * (stands[g]/ohm[g] - at[g])
		}
		v /= perV + slope
		far := 0.0
		for g := range l.Groups {
			n := float64(l.Groups[g].Strings)
			if l.Groups[g].Open || n <= 0 {
				continue
			}
			by := v - stands[g]
			far = max(far, math.Abs(by))
			at[g] = Along(at[g], by/ohm[g])
			a += n * at[g]
			if !(at[g] > leastShareA) {
				return 0, 0, 0, false
			}
		}
		if far <= togetherV*math.Abs(v) {
			return v, a, slope, true
		}
	}
	return 0, 0, 0, false
}

// Along is a current > 0 moved by a step along the tangent of its curve, or by a factor
// if that would be far.
func Along(a, by float64) float64 {
	if math.Abs(by) > 0.3*a {
		return a * math.Exp(max(-2, min(2, by/a)))
	}
	return a + by
}

// meet finds the voltage between low and high at which the strings take what is
// offered there, a falling line given by its value and the size of its slope: by
// Newton's steps, halving where they leave the bracket.
func (l *Law) meet(low, high, v, junctionC float64, offer func(v float64) (a, slope float64)) float64 {
	for range 100 {
		i, slope := l.sum(v, junctionC)
		offered, falls := offer(v)
		f := i - offered
		if f > 0 {
			high = v
		} else {
			low = v
		}
		if high-low <= 1e-14*high {
			break
		}
		next := v - f/(slope+falls)
		if !(next > low && next < high) {
			next = (low + high) / 2
		}
		if math.Abs(next-v) <= 1e-12*next {
			return next
		}
		v = next
	}
	return v
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
		return l.StringV(0, currentA/float64(g.Strings), junctionC)
	}
	if v, _, _, ok := l.together(currentA, 0, junctionC, currentA); ok {
		return v
	}
	// No string stands higher than it would with all of the current in it.
	high := math.Inf(1)
	for g := range l.Groups {
		if group := &l.Groups[g]; !group.Open && group.Strings > 0 {
			high = min(high, l.StringV(g, currentA/float64(group.Strings), junctionC))
		}
	}
	if math.IsInf(high, 1) {
		return high
	}
	return l.meet(0, high, high, junctionC, func(float64) (float64, float64) { return currentA, 0 })
}

// A Portion is one kind of emitters in the strings of one group, all of them together but
// for current and voltage.
type Portion struct {
	CurrentA  float64 // of one string
	VoltageV  float64 // of these emitters in one string
	ElectricW float64
	FluxLm    float64
	RadiantW  float64
}

// Portions tells what each kind of emitters does in each group of strings, at the voltage
// and current of the whole array: kinds within groups. dst has a place for each.
func (l *Law) Portions(voltageV, currentA, junctionC float64, dst []Portion) {
	kinds := l.Kinds()
	for g := range l.Groups {
		group := &l.Groups[g]
		portions := dst[g*kinds : (g+1)*kinds]
		clear(portions)
		i := l.ShareA(g, voltageV, currentA, junctionC)
		if i <= 0 || l.Live(g) <= 0 {
			continue
		}
		for k := range portions {
			m, live := l.Of(g, k)
			if live <= 0 {
				continue
			}
			n, t := float64(live), group.kindC(k, junctionC)
			each := m.Voltage(i, t)
			lm, w := m.Light(each, i, t)
			v, all := n*(each+group.OffsetV), n*float64(group.Strings)
			portions[k] = Portion{i, v, float64(group.Strings) * i * v, all * lm, all * w}
		}
	}
}

// mostPortions is how many portions are told without memory of their own.
const mostPortions = 8

// Power is the flux, lm, the power that goes into the emitters and what of it they
// radiate, W, of the whole array at its voltage and current, before any optic. It rests
// on the emitters' own law, not on what is left of the array's.
func (l *Law) Power(voltageV, currentA, junctionC float64) (fluxLm, electricW, radiantW float64) {
	var room [mostPortions]Portion
	portions := room[:]
	if n := len(l.Groups) * l.Kinds(); n > mostPortions {
		portions = make([]Portion, n)
	} else {
		portions = portions[:n]
	}
	l.Portions(voltageV, currentA, junctionC, portions)
	for i := range portions {
		fluxLm += portions[i].FluxLm
		electricW += portions[i].ElectricW
		radiantW += portions[i].RadiantW
	}
	for g := range l.Groups {
		if l.Live(g) <= 0 {
			i := l.ShareA(g, voltageV, currentA, junctionC)
			electricW += float64(l.Groups[g].Strings) * i * i * shortOhm
		}
	}
	return fluxLm, electricW, radiantW
}

// Light is Power without what goes in.
func (l *Law) Light(voltageV, currentA, junctionC float64) (fluxLm, radiantW float64) {
	fluxLm, _, radiantW = l.Power(voltageV, currentA, junctionC)
	return fluxLm, radiantW
}
