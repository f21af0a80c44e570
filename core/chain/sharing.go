package chain

import (
	"context"
	"math"

	"gonum.org/v1/gonum/mat"

	"photherm/core/array"
	"photherm/core/circuit"
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
	for g := range n.Arr.Groups {
		group := &n.Arr.Groups[g]
		if group.Strings <= 0 {
			continue
		}
		name := "ordinary"
		switch {
		case g == 0:
		case group.Open:
			name = "open"
		case group.Live < n.Arr.Series:
			name = "shorted emitter"
		default:
			name = "unlike"
		}
		out.Strings = append(out.Strings, String{name, group.Strings, n.Arr.ShareA(g, p.OutV, p.InA, t), group.Live, group.Open})
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
		out.DifferentialGain = new(differentialGain(n, p.OutV, t, unshared))
	}
	if n.BinV > 0 && strings > 1 && p.InA > 0 {
		taken := n.BinV
		if n.SameBin {
			taken /= 2
		}
		out.BinV = new(taken)
		even := n.Arr.Groups[0]
		school := func(binV, ballast float64) *School {
			law := alike(&n.Arr, strings, ballast)
			one := School{Ohm: ballast, LossW: float64(strings) * out.EvenA * out.EvenA * ballast}
			if a, ok := hogA(&law, p.InA, t, binV, unshared, n.CountsHeat); ok {
				one.WorstA = &a
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

// hogsAll is the share of the whole current from which one string has taken it to
// itself.
const hogsAll = 0.8

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
// warmer than the rest by what it turns into heat beyond them. It is not ok if it
// does not settle before it has taken nearly all.
func hogA(l *array.Law, totalA, junctionC, binV, unsharedKPerW float64, allHeat bool) (a float64, ok bool) {
	law := *l
	strings := l.Groups[0].Strings
	high, low := l.Groups[0], l.Groups[0]
	high.Strings, high.OffsetV = strings-1, binV
	low.Strings, low.OffsetV = 1, -binV
	law.Groups = []array.Group{high, low}
	heat := func(g int, i float64) float64 {
		t := junctionC + law.Groups[g].HotterK
		w := i * (law.Emitter.Voltage(i, t) + law.Groups[g].OffsetV)
		if !allHeat {
			w -= law.Emitter.RadiantW(i, t)
		}
		return w
	}
	last := 0.0
	for range 200 {
		v := law.VoltageV(totalA, junctionC)
		a = law.ShareA(1, v, totalA, junctionC)
		hotter := unsharedKPerW * (heat(1, a) - heat(0, law.ShareA(0, v, totalA, junctionC)))
		if math.Abs(hotter-last) < 1e-6 {
			return a, a < hogsAll*totalA
		}
		last = hotter
		law.Groups[1].HotterK = hotter
		if hotter > solidC {
			return a, false
		}
	}
	return a, false
}

// commonGain is the loop gain with all strings warmed alike.
func (s *Solver) commonGain(k int, y []float64) float64 {
	return s.riseKPerW(k) * s.heatSlope(k, y)
}

// heatSlope is how much more heat the junctions of array k make for each kelvin
// they are warmer, all else in y held, W/K.
func (s *Solver) heatSlope(k int, y []float64) float64 {
	at := s.m.states + s.m.junction[k]
	probe := append([]float64(nil), y...)
	heat := func(t float64) float64 {
		probe[at] = t
		s.electrical(probe)
		return s.Nodes[k].Times * (s.Point[k].LossW - s.Point[k].JointW)
	}
	return (heat(y[at]+gainStepK) - heat(y[at]-gainStepK)) / (2 * gainStepK)
}

// riseKPerW is the steady rise of an array's junctions for a watt in them: along their
// own way to their body, and of the body through all links to the air.
func (s *Solver) riseKPerW(k int) float64 {
	column := s.tangents().column
	n := 0
	at := func(lump int) int { return column[s.m.states+lump] - 1 - s.m.states }
	for i := range s.m.lumps {
		n = max(n, at(i)+1)
	}
	for _, w := range s.m.ways {
		if w.node != k {
			continue
		}
		_, up, _ := s.flow(&s.links[w.up], s.y)
		_, down, _ := s.flow(&s.links[w.down], s.y)
		g, one := mat.NewDense(n, n, nil), mat.NewVecDense(n, nil)
		for i := range s.links {
			l := &s.links[i]
			from := at(l.from)
			if from < 0 {
				continue // part of an array's way
			}
			_, perFrom, perTo := s.flow(l, s.y)
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
		one.SetVec(at(w.body), 1)
		var t mat.VecDense
		if t.SolveVec(g, one) != nil {
			return math.Inf(1)
		}
		return 1/up + 1/down + t.AtVec(at(w.body))
	}
	return math.Inf(1)
}

// differentialGain is the loop gain of one ordinary string at the bus voltage as it
// stands.
func differentialGain(n *circuit.Node, busV, junctionC, unsharedKPerW float64) float64 {
	heat := func(t float64) float64 {
		law := n.Arr
		i := law.CurrentOf(0, busV, t)
		w := i * law.Emitter.Voltage(i, t)
		if !n.CountsHeat {
			w -= law.Emitter.RadiantW(i, t)
		}
		return w
	}
	return unsharedKPerW * (heat(junctionC+gainStepK) - heat(junctionC-gainStepK)) / (2 * gainStepK)
}
