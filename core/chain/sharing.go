package chain

import (
	"context"
	"math"

	"gonum.org/v1/gonum/mat"

	"photherm/core/array"
	"photherm/core/circuit"
	"photherm/core/root"
)

// Sharing is how the parallel strings of an array share its current, and whether
// that is stable, at the steady state.
type Sharing struct {
	Node    string   `json:"node" doc:"Id of the array"`
	Strings []String `json:"strings" nullable:"false" doc:"Each kind of string"`
	EvenA   float64  `json:"evenA" doc:"Current of a string if all were alike, A"`
	RatedA  *float64 `json:"ratedA" doc:"Rated current of the emitter as mounted, A"`

	BinV *float64 `json:"binV" doc:"Spread of forward voltage taken, ±, V"`
	// The schools on parallel strings, each by its worst string: one at the low end
	// of the spread among others at its high end, warmed by what it takes.
	AsItIs  *School `json:"asItIs" doc:"The strings as they are"`
	SameBin *School `json:"sameBin" doc:"All from one bin or bag, half the spread, well below the rating"`
	Ballast *School `json:"ballast" doc:"Never without ballast: as much as keeps the worst string within a tenth above even"`

	CommonGain       *float64 `json:"commonGain" doc:"Loop gain of warming: all strings together through their source. From 1 on it runs away"`
	DifferentialGain *float64 `json:"differentialGain" doc:"The same for one string against the others at one voltage: a limit on the whole current does not help"`
}

// A School is what one way of paralleling strings leaves of their rating.
type School struct {
	WorstA *float64 `json:"worstA" doc:"Current of the worst string, A; null: it takes more and more and does not settle"`
	WorstC *float64 `json:"worstC" doc:"Its junction, °C; null: not known"`
	Cold   bool     `json:"cold" doc:"Before it warms: the emitters' thermal resistance is not known, so whether it settles cannot be told"`
	Margin *float64 `json:"margin" doc:"How far that is below the rating, as a share of it; negative: above"`
	Ohm    float64  `json:"ballastOhm" doc:"Ballast in each string, Ω"`
	LossW  float64  `json:"ballastW" doc:"What all those ballasts take, W"`
}

// A String is one kind of string of an array.
type String struct {
	Name     string  `json:"name" doc:"ordinary, or how it differs"`
	Count    int     `json:"count"`
	CurrentA float64 `json:"currentA" doc:"Of each, A"`
	LiveLEDs int     `json:"liveLEDs" doc:"Emitters that are not shorted"`
	Open     bool    `json:"open"`
	Spots    []int   `json:"spots" nullable:"false" doc:"Places of the layout that it stands on, where the array's strings have places that are not as warm as each other; else none"`
	Kinds    []Kind  `json:"kinds" nullable:"false" doc:"Each kind of emitters in it, in the order of the document"`
}

// A Kind is what the emitters of one part do in one string.
type Kind struct {
	LiveLEDs  int      `json:"liveLEDs" doc:"Emitters that are not shorted"`
	VoltageV  float64  `json:"voltageV" doc:"Of all of them in series, V"`
	FluxLm    float64  `json:"fluxLm" doc:"Their light before the optic, lm; 0 where it is not known"`
	JunctionC *float64 `json:"junctionC" doc:"Their junctions, °C; null: not known"`
}

// gainStepK is the step of temperature for the loop gains.
const gainStepK = 0.05

// Sharing works the sharing out for each array with an emitter, at the steady
// state where there is one, else as at switch-on.
//
// The loop gain is what a kelvin more at the junction brings back through more
// current and so more heat: L = R·dP/dT, with dP/dT taken from the whole power
// tree at once (so it holds for every feeder) and R the rise of the junction for a
// watt in all strings together, or for one string the part it does not share.
// Coupling through other arrays on the same body is left out.
func (s *Solver) Sharing(ctx context.Context) (out []Sharing, err error) {
	defer circuit.Caught(&err)
	out = []Sharing{}
	if err := s.rest(ctx); err != nil {
		return nil, err
	}
	y := append([]float64(nil), s.y...)
	for k := range s.Nodes {
		if n := &s.Nodes[k]; n.Kind == circuit.Array && n.Chosen {
			s.Look()
			out = append(out, s.sharing(k, y))
			s.electrical(y)
		}
	}
	return out, nil
}

func (s *Solver) sharing(k int, y []float64) Sharing {
	n, p := &s.Nodes[k], s.On[k]
	t := s.lumpC(y, s.m.junction[k])
	out := Sharing{Node: n.ID, Strings: []String{}}
	portions, kinds := s.portions(k), n.Arr.Kinds()
	s.Portions(k, &p, t, portions)
	for g := range n.Arr.Groups {
		group := &n.Arr.Groups[g]
		if group.Strings <= 0 {
			continue
		}
		name := "ordinary"
		switch {
		case s.m.originOf(k, g) == 0:
		case group.Open:
			name = "open"
		case group.Live < n.Arr.Series:
			name = "shorted emitter"
		default:
			name = "unlike"
		}
		one := String{name, group.Strings, s.groupA(place{node: k, group: g}), n.Arr.Live(g), group.Open, s.m.spotsOf(k, g), nil}
		for kind := range kinds {
			_, live := n.Arr.Of(g, kind)
			x := &portions[g*kinds+kind]
			of := Kind{LiveLEDs: live, VoltageV: x.VoltageV, FluxLm: x.FluxLm / float64(group.Strings)}
			if s.m.junction[k] >= 0 {
				of.JunctionC = new(s.kindC(place{k, g, kind}))
			}
			one.Kinds = append(one.Kinds, of)
		}
		out.Strings = append(out.Strings, one)
	}
	strings := n.Arr.Strings()
	out.EvenA = p.InA / float64(max(strings, 1))
	if n.RatedA > 0 {
		out.RatedA = new(n.RatedA)
	}
	unshared := n.Arr.Emitter.RthKPerW + n.OwnKPerW
	if p.InA > 0 {
		if s.m.junction[k] >= 0 {
			out.CommonGain = new(s.commonGain(k, y))
		}
		if n.Arr.Emitter.RthKPerW > 0 {
			out.DifferentialGain = new(differentialGain(n, p.OutV, t, unshared))
		}
	}
	if n.BinV > 0 && strings > 1 && p.InA > 0 {
		taken := n.BinV
		if n.SameBin {
			taken /= 2
		}
		out.BinV = new(taken)
		even, bears := n.Arr.Groups[0], float64(bearsC)
		if t >= bears {
			bears = solidC // too hot as it is, and judged by that
		}
		school := func(binV, ballast float64) *School {
			law := alike(&n.Arr, strings, ballast)
			one := School{Ohm: ballast, LossW: float64(strings) * out.EvenA * out.EvenA * ballast}
			if one.Cold = n.Arr.Emitter.RthKPerW <= 0; one.Cold {
				unshared = 0
			}
			if a, base, hotter, ok := hogA(&law, p.InA, t, binV, unshared, n.CountsHeat, bears-t); ok {
				if one.WorstA = &a; s.m.junction[k] >= 0 && !one.Cold {
					one.WorstC = new(base + hotter)
				}
				if n.RatedA > 0 {
					one.Margin = new(1 - a/n.RatedA)
				}
			}
			return &one
		}
		out.AsItIs = school(taken, even.BallastOhm)
		out.SameBin = school(n.BinV/2, even.BallastOhm)
		out.Ballast = neededBallast(even.BallastOhm, hogShare*out.EvenA, func(ohm float64) *School { return school(taken, ohm) })
	}
	return out
}

// alike is the array with all its strings ordinary.
func alike(l *array.Law, strings int, ballast float64) array.Law {
	out := *l
	out.Groups = []array.Group{{Strings: strings, Live: l.Series, BallastOhm: ballast}}
	return out
}

// hogShare is how far above even the worst string may go before ballast is
// advised (common practice: a tenth).
const hogShare = 1.1

// neededBallast is the least ballast, from what is fitted on, with which the worst
// string stays within a current; nil if none does.
func neededBallast(fitted, withinA float64, school func(ohm float64) *School) *School {
	good := func(c *School) bool { return c.WorstA != nil && *c.WorstA <= withinA }
	best := school(fitted)
	if good(best) {
		return best
	}
	low, high := fitted, max(fitted, 0.1)
	for best = school(high); !good(best); best = school(high) {
		if high *= 2; high > 1e6 {
			return nil
		}
	}
	for high/max(low, 1e-9) > 1.001 && high-low > 1e-6 {
		mid := (low + high) / 2
		if c := school(mid); good(c) {
			high, best = mid, c
		} else {
			low = mid
		}
	}
	return best
}

// hogA is the current of one string whose emitters all lie at the low end of the
// spread among others at its high end, the whole current given, with the string
// warmer than the rest by what it turns into heat beyond them: the lowest such excess at
// which it stays. It is not ok if there is none up to what its emitters bear: it warms on
// without end.
func hogA(l *array.Law, totalA, junctionC, binV, unsharedKPerW float64, allHeat bool, bearsK float64) (a, baseC, hotterK float64, ok bool) {
	law := *l
	strings := l.Groups[0].Strings
	high, low := l.Groups[0], l.Groups[0]
	high.Strings, high.OffsetV = strings-1, binV
	low.Strings, low.OffsetV = 1, -binV
	law.Groups = []array.Group{high, low}
	each := float64(max(law.Live(0), 1))
	even := stringHeatW(l, 0, totalA/float64(strings), junctionC, allHeat)
	// rest is how much warmer it makes itself than it is taken to be. The others cool by
	// what they lose.
	rest := func(hotter float64) float64 {
		law.Groups[1].HotterK = hotter
		others, one, base := 0.0, 0.0, junctionC
		defer func() { baseC = base }()
		for range 3 {
			v := law.VoltageV(totalA, base)
			a = law.ShareA(1, v, totalA, base)
			others, one = stringHeatW(&law, 0, law.ShareA(0, v, totalA, base), base, allHeat), stringHeatW(&law, 1, a, base, allHeat)
			base = junctionC + unsharedKPerW*(others-even)/each
		}
		return unsharedKPerW*(one-others)/each - hotter
	}
	from, above := 0.0, rest(0)
	if above <= hogNearK {
		return a, baseC, 0, true
	}
	for to := hogFirstK; from < bearsK; to = min(to*hogStep, max(bearsK, hogFirstK)) {
		next := rest(to)
		if next <= 0 {
			hotterK = root.Bracketed(rest, from, above, to, next, hogNearK)
			rest(hotterK)
			return a, baseC, hotterK, true
		}
		from, above = to, next
	}
	return a, baseC, from, false
}

// The search for the excess at which a string stays: from a hundredth of a kelvin in
// steps of a quarter, to a millionth of a kelvin (chosen).
const (
	hogFirstK = 0.01
	hogStep   = 1.25
	hogNearK  = 1e-6
)

// stringHeatW is what one string of a group turns into heat in its junctions, W.
func stringHeatW(l *array.Law, g int, currentA, junctionC float64, allHeat bool) float64 {
	if currentA <= 0 {
		return 0
	}
	group, w := &l.Groups[g], 0.0
	for kind := range l.Kinds() {
		m, live := l.Of(g, kind)
		t := junctionC + group.HotterK + group.AboveK[kind]
		each := currentA * (m.Voltage(currentA, t) + group.OffsetV)
		if !allHeat {
			each -= m.RadiantW(currentA, t)
		}
		w += float64(live) * each
	}
	return w
}

// commonGain is the loop gain with all strings warmed alike.
func (s *Solver) commonGain(k int, y []float64) float64 {
	return s.riseKPerW(k) * s.heatSlope(k, y)
}

// heatSlope is how much more heat the junctions of array k make for each kelvin
// they are warmer, all else in y held, W/K.
func (s *Solver) heatSlope(k int, y []float64) float64 {
	probe := append([]float64(nil), y...)
	heat := func(byK float64) float64 {
		for _, lump := range s.m.junctionsOf(k) {
			probe[s.m.states+lump] = y[s.m.states+lump] + byK
		}
		s.electrical(probe)
		return s.Nodes[k].Times * (s.Point[k].LossW - s.Point[k].JointW)
	}
	return (heat(gainStepK) - heat(-gainStepK)) / (2 * gainStepK)
}

// riseKPerW is the steady rise of an array's junctions for a watt in them, shared as
// their emitters are: along their own way to their body, and of the body through all
// links to the air.
func (s *Solver) riseKPerW(k int) float64 {
	column := s.tangents().column // of what is no part of an ordinary array's way
	n := 0
	at := func(lump int) int { return column[s.m.states+lump] - 1 - s.m.states }
	for i := range s.m.lumps {
		n = max(n, at(i)+1)
	}
	g, heat := mat.NewDense(n, n, nil), mat.NewVecDense(n, nil)
	for i := range s.links {
		l := &s.links[i]
		from := at(l.from)
		if from < 0 {
			continue
		}
		perFrom, perTo := s.slopes(l, s.y)
		g.Set(from, from, g.At(from, from)+perFrom)
		if l.to >= 0 {
			to := at(l.to)
			g.Set(to, to, g.At(to, to)-perTo)
			g.Set(from, to, g.At(from, to)+perTo)
			g.Set(to, from, g.At(to, from)-perFrom)
		}
	}
	for i := range n {
		if g.At(i, i) == 0 {
			g.Set(i, i, 1)
		}
	}
	own, share := 0.0, map[int]float64{} // of its way; of the watt, by column
	for _, w := range s.m.ways {
		if w.node == k {
			up, _ := s.slopes(&s.links[w.up], s.y)
			down, _ := s.slopes(&s.links[w.down], s.y)
			own, share[at(w.body)] = 1/up+1/down, 1
		}
	}
	kinds := s.Nodes[k].Arr.Kinds()
	for i, lump := range s.m.spots[k] {
		if _, live := s.Nodes[k].Arr.Of(i/kinds, i%kinds); lump >= 0 {
			share[at(lump)] = float64(live*s.Nodes[k].Arr.Groups[i/kinds].Strings) / float64(s.Nodes[k].Arr.Emitters())
		}
	}
	for c, x := range share {
		heat.SetVec(c, x)
	}
	var t mat.VecDense
	if t.SolveVec(g, heat) != nil {
		return math.Inf(1)
	}
	for c, x := range share {
		own += x * t.AtVec(c)
	}
	return own
}

// junctionsOf lists the lumps of an array's junctions.
func (m *Model) junctionsOf(k int) (out []int) {
	for _, lump := range m.spots[k] {
		if lump >= 0 {
			out = append(out, lump)
		}
	}
	if len(out) == 0 {
		out = append(out, m.junction[k])
	}
	return out
}

// differentialGain is the loop gain of one ordinary string at the bus voltage as it
// stands.
func differentialGain(n *circuit.Node, busV, junctionC, unsharedKPerW float64) float64 {
	heat := func(t float64) float64 {
		law := n.Arr
		return stringHeatW(&law, 0, law.CurrentOf(0, busV, t), t, n.CountsHeat) / float64(max(law.Live(0), 1))
	}
	return unsharedKPerW * (heat(junctionC+gainStepK) - heat(junctionC-gainStepK)) / (2 * gainStepK)
}
