package target

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"photherm/core/design"
)

// A StripView is what a strip, a lantern's ring or a sign lights.
type StripView struct {
	Map     *LightMap `json:"map"`
	LmPerM  float64   `json:"lmPerM" doc:"Of all that is lit together; 0: it has no length"`
	WPerM   float64   `json:"wPerM" doc:"From the source"`
	LengthM float64   `json:"lengthM" doc:"Of strip, m"`
	Dots
	Along    []Polar `json:"along" nullable:"false" doc:"Light along the middle: m from the middle, and in the map's unit"`
	Ways     []Way   `json:"ways" nullable:"false" doc:"Along the middle or an edge, higher or lower"`
	DarkEnds float64 `json:"darkEnds" doc:"Light at the ends of the area over that in the middle"`
}

// Dots are emitters that show on a diffuser.
type Dots struct {
	PitchM float64 `json:"pitchM" doc:"From one emitter to the next, m; 0: not known"`
	Ripple float64 `json:"ripple" doc:"How dots show on a diffuser as far before them as is said, (bright − dark)/(bright + dark); 0: none is said"`
	HideM  float64 `json:"hideM" doc:"How far before the emitters a diffuser must lie for dots to show no longer, m; 0: not known"`
}

// dots tells of the emitters of a strip by its part, of others by where they lie.
func (l *Lit) dots() (out Dots) {
	diffuser := 0.0
	for n := range design.Nodes(l.Variant) {
		if n.Optic != nil && n.Optic.DiffuserM != nil {
			diffuser = *n.Optic.DiffuserM
		}
		if n.Strip == nil {
			continue
		}
		if part := l.Light.Part(n.Strip.PartID); part != nil && part.Strip != nil && part.Strip.PitchM != nil {
			out.PitchM = *part.Strip.PitchM
		}
	}
	if out.PitchM == 0 {
		out.PitchM = l.pitch()
	}
	if out.PitchM > 0 {
		out.HideM = HideAt(out.PitchM)
		if diffuser > 0 {
			out.Ripple = Ripple(out.PitchM, diffuser)
		}
	}
	return out
}

// shownRipple is from where dots on a diffuser show (chosen: a tenth; edges much weaker are lost
// on a diffuser that is not looked at from near).
const shownRipple = 0.1

// Ripple is how uneven a long row of bare emitters lights a diffuser that lies before it,
// (bright − dark)/(bright + dark): each throws 1/(x²+d²)² (cosine law twice, inverse square).
func Ripple(pitchM, distanceM float64) float64 {
	if !(pitchM > 0 && distanceM > 0) {
		return 0
	}
	at := func(x float64) float64 {
		sum := 0.0
		n := int(math.Ceil(20*distanceM/pitchM)) + 3
		for k := -n; k <= n; k++ {
			d := x - float64(k)*pitchM
			r2 := d*d + distanceM*distanceM
			sum += 1 / (r2 * r2)
		}
		return sum
	}
	bright, dark := at(0), at(pitchM/2)
	return (bright - dark) / (bright + dark)
}

// HideAt is how far before a row of emitters a diffuser must lie for its dots to show no longer, m.
func HideAt(pitchM float64) float64 {
	low, high := 0.01*pitchM, 5*pitchM
	for range 50 {
		if mid := (low + high) / 2; Ripple(pitchM, mid) > shownRipple {
			low = mid
		} else {
			high = mid
		}
	}
	return high
}

// strip is the light of a strip over an area.
func (l *Lit) strip(ctx context.Context) (*StripView, error) {
	m, err := l.areaMap(ctx)
	if err != nil {
		return nil, err
	}
	out := &StripView{Map: m, Dots: l.dots(), Along: []Polar{}, Ways: []Way{}}
	lit := 0.0
	for n, times := range design.Nodes(l.Variant) {
		if n.Strip == nil {
			continue
		}
		for _, x := range n.Strip.PiecesM {
			out.LengthM += x * float64(times)
		}
		for i := range l.Glows {
			if l.Glows[i].Node == n.ID {
				lit += l.Glows[i].Lumens
			}
		}
	}
	if out.LengthM > 0 {
		out.LmPerM, out.WPerM = lit/float64(l.Lights)/out.LengthM, l.InputW/out.LengthM
	}
	mid := m.NY / 2
	for i := range m.NX {
		out.Along = append(out.Along, Polar{m.LengthM * ((float64(i)+0.5)/float64(m.NX) - 0.5), m.Values[mid*m.NX+i]})
	}
	if c := out.Along[m.NX/2].Cd; c > 0 {
		out.DarkEnds = min(out.Along[0].Cd, out.Along[m.NX-1].Cd) / c
	}
	return out, nil
}

// pitch is how near the nearest places lie, m; 0: there are no two.
func (l *Lit) pitch() float64 {
	const most = 400
	near := math.Inf(1)
	for i := range min(len(l.points), most) {
		for k := range i {
			if d := r3.Norm(r3.Sub(l.points[i].At, l.points[k].At)); d > 1e-6 {
				near = min(near, d)
			}
		}
	}
	if math.IsInf(near, 1) {
		return 0
	}
	return near
}

// waysAlong are a strip, or any light over an area, along the middle or an edge, as high as now,
// half as high and twice.
func (l *Lit) waysAlong(ctx context.Context) ([]Way, error) {
	long, wide, _ := l.area()
	out := []Way{}
	for _, w := range []struct {
		name   string
		across float64
		times  float64
	}{{"along the middle", 0, 1}, {"along an edge", 0.5, 1}, {"half as high, in the middle", 0, 0.5}, {"twice as high, in the middle", 0, 2}} {
		change := func(s design.Stand) design.Stand {
			s.YM, s.HeightM = w.across*wide, s.HeightM*w.times
			return s
		}
		m, err := l.moved(change).mapOver(ctx, long, wide)
		if err != nil {
			if ctx.Err() != nil {
				return nil, err
			}
			continue // it does not go there
		}
		out = append(out, Way{Name: w.name, All: l.allStands(change), Mean: m.Mean, Even: m.Even})
	}
	return out, nil
}
