package target

import (
	"context"
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"photherm/core/chain"
	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/lighting"
)

// KindOf is what is looked at: what the scene says, else by what the brief asks for and the light
// is made of.
func KindOf(l *design.Light, v *design.Variant) string {
	b, s := &l.Brief, l.Scene
	switch {
	case s != nil && s.Kind != "":
		return s.Kind
	case s != nil && s.Tank != nil:
		return "tank"
	case b.PeakCd != nil || b.BeamM != nil:
		return "beam"
	case b.PPFD != nil || b.Lux != nil || b.AreaM != nil && b.AreaAcrM != nil:
		return "area"
	}
	narrow, strip, sides := false, false, 0
	for n := range design.Nodes(v) {
		switch {
		case n.Strip != nil:
			strip = true
		case n.Array != nil && n.Array.BeamDeg != nil && *n.Array.BeamDeg < narrowDeg:
			narrow = true
		}
		if n.Optic != nil {
			narrow = narrow || n.Optic.Kind == "smooth-reflector" || n.Optic.Kind == "textured-reflector"
			if math.Abs(n.Optic.TiltDeg) > 45 {
				sides++
			}
		}
	}
	switch {
	case narrow || l.Conditions.Handheld:
		return "beam"
	case sides > 1:
		return "around"
	case strip:
		return "strip"
	}
	return "area"
}

// narrowDeg is below which full width a light throws a beam (chosen).
const narrowDeg = 60

// Where a body hangs that nobody placed, m above what is lit (chosen: a hand held before the
// body, a lamp over a bench, a lantern on a hook, a light on the rim of a tank).
var usualHeightM = map[string]float64{"beam": 1.2, "area": 0.5, "around": 1.5, "strip": 0.5, "tank": 0.1}

// UsualStand is where a body hangs that nobody placed.
func UsualStand(kind, body string) design.Stand {
	s := design.Stand{BodyID: body, HeightM: usualHeightM[kind]}
	if kind == "beam" {
		s.TiltDeg = 90
	}
	return s
}

// Optic is how the light of a node is spread; name tells it.
func Optic(n *design.Node) (d *lighting.Distribution, name string, err error) {
	o := n.Optic
	if o == nil {
		o = &design.Optic{}
	}
	var beam *float64
	if n.Array != nil {
		beam = n.Array.BeamDeg
	}
	at := func(p *float64, usual float64) float64 {
		if p != nil {
			return *p
		}
		return usual
	}
	switch o.Kind {
	case "table":
		d, err = lighting.OfTable(o.Table)
		return d, "by its intensity table", err
	case "smooth-reflector", "textured-reflector":
		spot := at(o.SpotDeg, at(beam, usualSpotDeg))
		d, err = lighting.Reflector(spot, at(o.SpillDeg, max(usualSpillDeg, min(180, spot+10))), at(o.SpotShare, usualSpotShare), o.Kind == "textured-reflector")
		return d, fmt.Sprintf("a spot of %.3g°", spot), err
	case "diffuser", "bare":
		return lighting.Lambertian(), "spread wide", nil
	}
	if beam == nil {
		return lighting.Lambertian(), "spread wide", nil
	}
	d, err = lighting.Lens(*beam)
	return d, fmt.Sprintf("a beam of %.3g°", *beam), err
}

// What a reflector does that nobody measured (common practice for small deep ones).
const (
	usualSpotDeg   = 10
	usualSpillDeg  = 100
	usualSpotShare = 0.4
)

// spreadOver is into how many points at most boards and emitters without places are spread over
// the face they are on (chosen: their light is then even between them).
const spreadOver = 400

// place puts the light of a node where it leaves.
func (l *Lit) place(ctx context.Context, m *chain.Model, use *design.Node, n *circuit.Node, figures map[string]float64, parts []Glow) error {
	d, _, err := Optic(use)
	if err != nil {
		return fmt.Errorf("the optic of %s cannot be: %w", use.Called(), err)
	}
	kind := KindOf(l.Light, l.Variant)
	body := use.BodyID
	stands := l.Variant.StandsOf(body)
	if len(stands) == 0 && len(l.Variant.Stands) > 0 {
		stands = l.Variant.StandsOf(l.Variant.Stands[0].BodyID)[:1] // what is not placed hangs where the first does
	}
	if len(stands) == 0 {
		stands = []design.Stand{UsualStand(kind, body)}
		l.take("it hangs %.3g m above what it lights", stands[0].HeightM)
	}
	places, shares, err := l.placesOf(ctx, m, use, figures)
	if err != nil {
		return err
	}
	if all := len(l.points) + len(places)*len(stands)*len(parts); all > mostPoints {
		return fmt.Errorf("the light leaves from %d points; %d are followed: place whole boards instead of single emitters", all, mostPoints)
	}
	o := use.Optic
	if o == nil {
		o = &design.Optic{}
	}
	for _, g := range parts {
		g.Lumens *= float64(len(stands))
		l.Glows = append(l.Glows, g)
		for s, stand := range stands {
			frame := leaning(r3.Vec{X: stand.XM, Y: stand.YM, Z: stand.HeightM}, stand.TiltDeg, stand.TurnDeg, stand.RollDeg)
			own := leaning(r3.Vec{}, o.TiltDeg, o.TurnDeg, 0)
			axis, across := frame.turn(own.axis), frame.turn(own.along)
			for i, p := range places {
				l.points = append(l.points, point{lighting.Lamp{
					At: frame.out(p.X, p.Y, p.Z), Axis: axis, Across: across, Optic: d, Lumens: g.Lumens / float64(len(stands)) * shares[i],
				}, len(l.Glows) - 1, s})
			}
		}
	}
	return nil
}

func (l *Lit) take(format string, a ...any) {
	if words := fmt.Sprintf(format, a...); !slices.Contains(l.Taken, words) {
		l.Taken = append(l.Taken, words)
	}
}

// placesOf are where the light of a node leaves, from the middle of its body's face, x along, y
// across, z forward, each with its share.
func (l *Lit) placesOf(ctx context.Context, m *chain.Model, use *design.Node, figures map[string]float64) ([]r3.Vec, []float64, error) {
	var along, across, forward float64
	said := false
	if o := use.Optic; o != nil {
		for _, x := range []struct {
			from *float64
			to   *float64
		}{{o.AlongM, &along}, {o.AcrossM, &across}, {o.ForwardM, &forward}} {
			if x.from != nil {
				*x.to, said = *x.from, true
			}
		}
	}
	var long, wide float64
	var face bool
	if b := l.Variant.Body(use.BodyID); b != nil {
		long, wide, face = l.Light.Face(b)
	}
	if use.Strip != nil {
		return l.alongStrip(ctx, m, use, along, across, forward)
	}
	var places []r3.Vec
	var pads []design.LayoutSpot
	for i := range l.Variant.Layouts {
		if lay := &l.Variant.Layouts[i]; lay.BodyID == use.BodyID && face {
			for _, s := range lay.Spots {
				if s.NodeID == use.ID {
					places = append(places, r3.Vec{X: s.XM - long/2, Y: s.YM - wide/2, Z: forward})
					pads = append(pads, s)
				}
			}
		}
	}
	if len(places) > 0 {
		places, shares := overPads(places, pads, stringShares(m, use.ID, figures, len(places)))
		return places, shares, nil
	}
	spread := 1
	if a := use.Array; a != nil {
		if spread = max(a.Count, 1); spread == 1 {
			spread = a.Series * a.Parallel
		}
	}
	if spread > 1 && face && !said {
		nx, ny := gridFor(min(spread, spreadOver), long, wide)
		for i := range nx * ny {
			places = append(places, r3.Vec{X: long * ((float64(i%nx)+0.5)/float64(nx) - 0.5), Y: wide * ((float64(i/nx)+0.5)/float64(ny) - 0.5), Z: forward})
		}
		l.take("%s lies spread evenly over %s", use.Called(), l.Variant.Body(use.BodyID).Name)
	} else {
		places = []r3.Vec{{X: along, Y: across, Z: forward}}
	}
	shares := make([]float64, len(places))
	for i := range shares {
		shares[i] = 1 / float64(len(shares))
	}
	return places, shares, nil
}

// padStepM is how far apart points of light lie on a board that is larger, and mostOnPad how many
// there are along it at most (chosen: light a hand's breadth before the board is then even).
const (
	padStepM  = 0.04
	mostOnPad = 8
)

// overPads spreads the light of places over their boards.
func overPads(places []r3.Vec, pads []design.LayoutSpot, shares []float64) ([]r3.Vec, []float64) {
	cuts := func(side *float64) (int, float64) {
		if side == nil {
			return 1, 0
		}
		return max(1, min(mostOnPad, int(math.Round(*side/padStepM)))), *side
	}
	var out []r3.Vec
	var of []float64
	for i, p := range places {
		nx, long := cuts(pads[i].LengthM)
		ny, wide := cuts(pads[i].WidthM)
		if pads[i].WidthM == nil {
			ny, wide = nx, long
		}
		for k := range nx * ny {
			out = append(out, r3.Vec{X: p.X + long*((float64(k%nx)+0.5)/float64(nx)-0.5), Y: p.Y + wide*((float64(k/nx)+0.5)/float64(ny)-0.5), Z: p.Z})
			of = append(of, shares[i]/float64(nx*ny))
		}
	}
	return out, of
}

// gridFor is a grid of about n places over a face, as even along as across.
func gridFor(n int, long, wide float64) (nx, ny int) {
	nx = max(1, min(n, int(math.Round(math.Sqrt(float64(n)*long/wide)))))
	return nx, max(1, int(math.Round(float64(n)/float64(nx))))
}

// stringShares are the shares of light of places: as the strings on them have it where the chain
// knows which are; else all alike.
func stringShares(m *chain.Model, id string, figures map[string]float64, places int) []float64 {
	even := make([]float64, places)
	for i := range even {
		even[i] = 1 / float64(places)
	}
	out := m.OnPlaces(id, places, func(group int) float64 {
		if each := figures[fmt.Sprintf("string%dLm", group)]; !math.IsNaN(each) {
			return each
		}
		return 0
	})
	sum := 0.0
	for _, x := range out {
		sum += x
	}
	if sum <= 0 {
		return even
	}
	for i := range out {
		out[i] /= sum
	}
	return out
}

// alongStrip lays pieces of strip out on a line, one after the other, along the length of the
// body: bright where they are fed, less at their far ends.
func (l *Lit) alongStrip(ctx context.Context, m *chain.Model, use *design.Node, along, across, forward float64) ([]r3.Vec, []float64, error) {
	runs, err := m.Solver().StripRuns(ctx, use.ID)
	if err != nil {
		return nil, nil, fmt.Errorf("following the strip %s: %w", use.Called(), err)
	}
	whole := 0.0
	for _, r := range runs {
		whole += r.CutM
	}
	var places []r3.Vec
	var shares []float64
	sum, from := 0.0, -whole/2
	for _, r := range runs {
		for k, spot := range r.Along {
			// Of a long piece only some segments are told: each stands for those about it.
			low, high := 0.0, r.CutM
			if k > 0 {
				low = (r.Along[k-1].AtM + spot.AtM) / 2
			}
			if k < len(r.Along)-1 {
				high = (spot.AtM + r.Along[k+1].AtM) / 2
			}
			share := spot.Light * (high - low)
			places = append(places, r3.Vec{X: along + from + spot.AtM, Y: across, Z: forward})
			shares = append(shares, share)
			sum += share
		}
		from += r.CutM
	}
	if len(places) == 0 || sum <= 0 {
		return []r3.Vec{{X: along, Y: across, Z: forward}}, []float64{1}, nil
	}
	for i := range shares {
		shares[i] /= sum
	}
	l.take("%s lies in one straight line along the length of what carries it", use.Called())
	return places, shares, nil
}
