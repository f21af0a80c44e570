package chain

import (
	"fmt"
	"math"

	"photherm/core/circuit"
	"photherm/core/design"
)

// A lowering is how a driver goes down by itself: after a time, or while what its sensor sits
// on is hot.
type lowering struct {
	node   int
	lump   int     // of its sensor; −1: no temperature
	atC    float64 // from which it is lowered; +Inf: never
	backC  float64 // below which it is back
	afterS float64 // after which it is lowered for good; +Inf: never
	to     float64 // share of its current
}

// backK is how much cooler it must be before it is back, where that is not said, K (common
// practice).
const backK = 5

// mostLowered is how often a driver is followed down in one run (chosen); from then on it is
// taken as staying down.
const mostLowered = 24

// lowerings lists the drivers that go down by themselves.
func (c *compiler) lowerings(nodes map[string]*design.Node) {
	for k := range c.net.Nodes {
		n := &c.net.Nodes[k]
		d := nodes[n.ID]
		if n.Kind != circuit.Driver || d == nil || d.Driver == nil || d.Driver.StepDown == nil {
			continue
		}
		s := d.Driver.StepDown
		l := lowering{node: k, lump: -1, atC: math.Inf(1), backC: math.Inf(-1), afterS: math.Inf(1), to: s.To}
		if s.AfterS != nil {
			l.afterS = *s.AfterS
		}
		if s.AtC != nil {
			body := d.BodyID
			if s.BodyID != "" {
				body = s.BodyID
			}
			if i, ok := c.bodyIndex[body]; ok && body != "" {
				l.lump = c.bodies[i]
			}
			if l.lump < 0 {
				c.lacks(n.ID, n.Pointer+"/driver/stepDown/bodyId", "what the sensor that lowers %s sits on has no temperature that is told: it is taken as never lowered by heat", n.DisplayName())
			} else {
				l.atC, l.backC = *s.AtC, *s.AtC-backK
				if s.BackC != nil {
					l.backC = *s.BackC
				}
			}
		}
		c.Model.lowers = append(c.Model.lowers, l)
	}
}

// lower sets a driver down, or back up.
func (s *Solver) lower(i int, down bool) {
	l := &s.m.lowers[i]
	s.lowered[i] = down
	s.Nodes[l.node].Level = s.m.net.Nodes[l.node].Level
	if down {
		s.Nodes[l.node].Level *= l.to
	}
	s.Prepare()
}

// loweredAtStart lowers what is as hot at switch-on as it is lowered from.
func (s *Solver) loweredAtStart(y []float64) {
	for i := range s.m.lowers {
		if l := &s.m.lowers[i]; !s.lowered[i] && s.lumpC(y, l.lump) >= l.atC {
			s.lower(i, true)
		}
	}
}

// raise takes all of them back up.
func (s *Solver) raise() {
	for i := range s.lowered {
		s.wasFull[i] = false
		if s.lowered[i] {
			s.lower(i, false)
		}
	}
}

// loweredAtRest lowers what would be at rest as it stands in y; it tells whether anything
// changed, or in words why nothing comes to rest.
func (s *Solver) loweredAtRest(y []float64) (changed bool, why string) {
	for i := range s.m.lowers {
		l := &s.m.lowers[i]
		timed := !math.IsInf(l.afterS, 1)
		switch t := s.lumpC(y, l.lump); {
		case !s.lowered[i] && (timed || t >= l.atC):
			s.wasFull[i] = true
			s.lower(i, true)
			return true, ""
		case s.lowered[i] && !timed && t < l.backC && !s.wasFull[i]: // it began hot, and has cooled
			s.wasFull[i] = true
			s.lower(i, false)
			return true, ""
		case s.lowered[i] && !timed && t < l.backC:
			return false, fmt.Sprintf("%s is lowered by heat and comes back, over and over", s.m.net.Nodes[l.node].DisplayName())
		}
	}
	return false, ""
}

// lowerLevel is how far the temperature of a sensor is from what changes its driver next, K.
func (r *runner) lowerLevel(i int) float64 {
	l := &r.m.lowers[i]
	switch {
	case l.lump < 0 || r.lowered[i] && r.flips[i] >= mostLowered || r.outOfTime(i):
		return math.Inf(1)
	case r.lowered[i]:
		return r.lumpC(r.Solver.y, l.lump) - l.backC
	}
	return l.atC - r.lumpC(r.Solver.y, l.lump)
}

// outOfTime tells that a driver is down for good.
func (r *runner) outOfTime(i int) bool {
	return r.lowered[i] && r.st != nil && r.st.T >= r.m.lowers[i].afterS*(1-1e-12)
}

// lowerNow changes a driver at an instant, and all that follows from it there.
func (r *runner) lowerNow(i int, at float64) {
	r.flips[i]++
	r.at(at, func() {
		r.lower(i, !r.lowered[i])
		r.follow(r.y)
	})
	kind := "raised"
	if r.lowered[i] {
		kind = "lowered"
	}
	r.note(kind, r.Nodes[r.m.lowers[i].node].ID, at)
}

// lowerTimers lowers what its time is over for; it tells whether it did.
func (r *runner) lowerTimers(at float64) bool {
	for i := range r.m.lowers {
		if !r.lowered[i] && at >= r.m.lowers[i].afterS*(1-1e-12) {
			r.lowerNow(i, at)
			return true
		}
	}
	return false
}
