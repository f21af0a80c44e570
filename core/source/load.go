package source

import (
	"math"

	"photherm/core/design"
)

// What a cell gives falls with its load. Where its data tell it at several loads they are
// taken, straight in logarithms between and held beyond their ends. Else, for the kinds of
// which it is usual, it goes with a power of the current above a gentle one (Peukert, 1897,
// for lead-acid; for dry cells from typical curves of discharge, from memory, ±20 %). The
// gentle current is that at which it would be empty in so many hours. What the resistance
// of the cell does comes besides.
var usualLoads = map[string]struct{ exponent, hours float64 }{
	"alkaline":    {0.12, 100},
	"zinc-carbon": {0.25, 200},
	"lead-acid":   {0.15, 20},
	"lithium-3.0": {0.03, 200},
	"lithium-1.5": {0.02, 100},
}

// loads is how much more of its charge a cell loses than it gives, by its current.
type loads struct {
	a, share         []float64 // at loads that were measured: what it gives, of its capacity
	gentleA, smaller float64   // else: the gentle current and the exponent
}

func loadsOf(c *design.Cell) loads {
	var l loads
	for _, p := range c.AtLoads {
		l.a, l.share = append(l.a, p.CurrentA), append(l.share, p.CapacityAh/c.CapacityAh)
	}
	if u, ok := usualLoads[c.Chemistry]; ok && len(l.a) == 0 {
		l.gentleA, l.smaller = c.CapacityAh/u.hours, u.exponent
	}
	return l
}

// harder is by how much more the charge of a cell falls than what it gives, at a current.
func (c *Cell) harder(currentA float64) float64 {
	l := &c.loads
	switch n := len(l.a); {
	case currentA <= 0:
		return 1
	case n > 0:
		i := 0
		for i < n && l.a[i] < currentA {
			i++
		}
		if i == 0 || i == n {
			return 1 / l.share[min(i, n-1)]
		}
		x := math.Log(currentA/l.a[i-1]) / math.Log(l.a[i]/l.a[i-1])
		return math.Pow(l.share[i-1], x-1) / math.Pow(l.share[i], x)
	case l.smaller <= 0 || currentA <= l.gentleA:
		return 1
	}
	return math.Pow(currentA/l.gentleA, l.smaller)
}

// coldShares are what cells of a kind give when they start cold, over what they give at
// room temperature, at −20, 0 and 15 °C (typical, from memory: makes differ by a fifth). What their
// resistance does comes besides.
var coldShares = map[string][3]float64{
	"li-ion-4.2": {0.85, 0.95, 1}, "li-ion-4.35": {0.85, 0.95, 1}, "lifepo4": {0.7, 0.9, 1}, "nimh": {0.7, 0.9, 1},
	"alkaline": {0.25, 0.65, 1}, "zinc-carbon": {0.15, 0.5, 1}, "lead-acid": {0.55, 0.8, 1}, "lithium-3.0": {0.7, 0.9, 1}, "lithium-1.5": {0.8, 0.95, 1},
}

// ColdShare is the share of its capacity that a cell gives when it starts at a temperature;
// one that carries its own curve gives what it says.
func ColdShare(c *design.Cell, startC float64) float64 {
	s, ok := coldShares[c.Chemistry]
	if !ok || len(c.OCV) > 1 || startC >= 15 {
		return 1
	}
	if startC < 0 {
		return s[0] + (max(startC, -20)+20)/20*(s[1]-s[0])
	}
	return s[1] + startC/15*(s[2]-s[1])
}
