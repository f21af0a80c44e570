package emitter

import (
	"math"
	"slices"

	"photherm/core/design"
)

// boltzmannEV is Boltzmann's constant, eV/K (CODATA).
const boltzmannEV = 8.617333262e-5

// Reach of a projection (IES TM-21-11, from memory): the first thousand hours are
// left out, and it goes no further than six times the test.
const (
	settlingH = 1000
	reach     = 6
)

// decay is Φ(t) = B·exp(−α·t) at one case temperature.
type decay struct {
	caseC, b, alpha, testedH float64
}

// LifeH is the time to 70 % of the light at a case temperature, h, in the form of
// TM-21: an exponential through the tested points, between two tested temperatures
// by Arrhenius' law, not beyond six times the test. bounded tells that it was cut
// there: "at least". It is not ok without two points at some temperature, or where
// the light does not fall. Real lamps scatter by a factor of two.
func LifeH(points []design.Maintenance, caseC float64) (hours float64, bounded, ok bool) {
	var fits []decay
	for _, p := range points {
		if slices.ContainsFunc(fits, func(d decay) bool { return d.caseC == p.CaseC }) {
			continue
		}
		if d, ok := fitDecay(points, p.CaseC); ok {
			fits = append(fits, d)
		}
	}
	if len(fits) == 0 {
		return 0, false, false
	}
	slices.SortFunc(fits, func(a, b decay) int { return int(math.Copysign(1, a.caseC-b.caseC)) })
	d := fits[0]
	switch last := fits[len(fits)-1]; {
	case caseC >= last.caseC:
		d = last
	case caseC > d.caseC:
		k := 1
		for caseC > fits[k].caseC {
			k++
		}
		d = between(fits[k-1], fits[k], caseC)
	}
	limit := reach * d.testedH
	if d.alpha <= 0 {
		return limit, true, limit > 0
	}
	hours = math.Log(d.b/0.7) / d.alpha
	if hours > limit {
		return limit, true, true
	}
	return max(hours, 0), false, true
}

func fitDecay(points []design.Maintenance, caseC float64) (decay, bool) {
	var n, st, sy, stt, sty, longest float64
	for _, p := range points {
		if p.CaseC != caseC || p.Hours < settlingH {
			continue
		}
		y := math.Log(p.Ratio)
		n++
		st, sy, stt, sty = st+p.Hours, sy+y, stt+p.Hours*p.Hours, sty+p.Hours*y
		longest = max(longest, p.Hours)
	}
	d := n*stt - st*st
	if n < 2 || d <= 0 {
		return decay{}, false
	}
	slope := (n*sty - st*sy) / d
	return decay{caseC, math.Exp((sy - slope*st) / n), -slope, longest}, true
}

// between interpolates the rate by Arrhenius' law and the start by the geometric
// mean, as TM-21 does.
func between(low, high decay, caseC float64) decay {
	out := decay{caseC: caseC, b: math.Sqrt(low.b * high.b), testedH: min(low.testedH, high.testedH)}
	if low.alpha <= 0 || high.alpha <= 0 {
		out.alpha = max(low.alpha, high.alpha)
		return out
	}
	t1, t2, t := low.caseC+273.15, high.caseC+273.15, caseC+273.15
	ev := boltzmannEV * math.Log(high.alpha/low.alpha) / (1/t1 - 1/t2)
	out.alpha = low.alpha * math.Exp(ev/boltzmannEV*(1/t1-1/t))
	return out
}
