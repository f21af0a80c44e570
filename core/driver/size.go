package driver

import (
	"math"

	"photherm/core/design"
)

// Oversize is in what a driver exceeds the room there is.
type Oversize struct {
	Room  string // figure of the brief: roomDiameterM, roomLengthM or roomThicknessM
	IsM   float64
	RoomM float64
}

// TooBig tells whether a driver is larger than the room the brief gives, as it lies best;
// a measure that is not known is taken to fit. A board across or along a round room needs
// its diagonal.
func TooBig(d *design.Driver, b *design.Brief) (Oversize, bool) {
	sides := known(d.LengthM, d.WidthM, d.HeightM)
	if d.DiameterM != nil {
		sides = known(d.HeightM)
	}
	if room := b.RoomDiamM; room != nil {
		if is, ok := across(d, b.RoomLongM); ok && is > *room*hair {
			return Oversize{"roomDiameterM", is, *room}, true
		}
	} else if room := b.RoomLongM; room != nil {
		longest := 0.0
		for _, m := range append(sides, known(d.DiameterM)...) {
			longest = max(longest, m)
		}
		if longest > *room*hair {
			return Oversize{"roomLengthM", longest, *room}, true
		}
	}
	if room := b.RoomThickM; room != nil && len(sides) > 0 {
		// Of a board whose height is not known, nothing thinner than its sides is.
		thinnest := math.Inf(1)
		for _, m := range sides {
			thinnest = min(thinnest, m)
		}
		if d.HeightM != nil && thinnest > *room*hair {
			return Oversize{"roomThicknessM", thinnest, *room}, true
		}
	}
	return Oversize{}, false
}

// hair lets what is exactly as large as its room fit.
const hair = 1 + 1e-9

// across is the narrowest round room a driver goes into, m.
func across(d *design.Driver, longM *float64) (m float64, ok bool) {
	if d.DiameterM != nil {
		return *d.DiameterM, true
	}
	if d.LengthM == nil || d.WidthM == nil {
		return 0, false
	}
	l, w, h := *d.LengthM, *d.WidthM, 0.0
	if d.HeightM != nil {
		h = *d.HeightM
	}
	m = math.Inf(1)
	// Each side along the axis of the room in turn, where the room is long enough.
	for _, way := range [][3]float64{{l, w, h}, {w, l, h}, {h, l, w}} {
		if longM == nil || way[0] <= *longM*hair {
			m = min(m, math.Hypot(way[1], way[2]))
		}
	}
	if math.IsInf(m, 1) {
		m = math.Hypot(l, w)
	}
	return m, true
}

func known(measures ...*float64) []float64 {
	var out []float64
	for _, m := range measures {
		if m != nil && *m > 0 {
			out = append(out, *m)
		}
	}
	return out
}
