package design

import (
	"fmt"
	"math"
)

// A pad is a rectangle by its middle and its sides, m.
type pad struct{ x, y, l, w float64 }

// layoutPlay is how far pads may overlap or stand out, m: rounding.
const layoutPlay = 1e-6

func (p pad) overlaps(q pad) bool {
	return math.Abs(p.x-q.x) < (p.l+q.l)/2-layoutPlay && math.Abs(p.y-q.y) < (p.w+q.w)/2-layoutPlay
}

func (p pad) beyond(lengthM, widthM float64) bool {
	return p.x-p.l/2 < -layoutPlay || p.y-p.w/2 < -layoutPlay || p.x+p.l/2 > lengthM+layoutPlay || p.y+p.w/2 > widthM+layoutPlay
}

// LayoutFaults is why nothing can be told of what is laid out on a body: pads that reach
// beyond it, overlap, or lie on what is kept free. None: it can be solved.
func LayoutFaults(light *Light, variant, layout int) (faults []Problem) {
	v := &light.Variants[variant]
	l := &v.Layouts[layout]
	add := func(at, format string, a ...any) {
		faults = append(faults, Problem{fmt.Sprintf("/layouts/%d%s", layout, at), fmt.Sprintf(format, a...)})
	}
	body := v.Body(l.BodyID)
	if body == nil {
		return []Problem{{fmt.Sprintf("/layouts/%d/bodyId", layout), "its body is not there"}}
	}
	long, wide, ok := light.Face(body)
	if !ok {
		add("/bodyId", "%s has no face of known length and width: give its measures as a sheet, a base with fins, a profile with its outer width, or a housing", body.Name)
		return faults
	}
	count := map[string]int{}
	for i := range l.Spots {
		count[l.Spots[i].NodeID]++
	}
	kept := make([]pad, len(l.KeepOuts))
	for i, k := range l.KeepOuts {
		kept[i] = pad{k.XM, k.YM, k.LengthM, k.WidthM}
		if kept[i].beyond(long, wide) {
			add(fmt.Sprintf("/keepOuts/%d", i), "what is kept free at %.0f, %.0f mm reaches beyond %s, which is %.0f × %.0f mm", k.XM*1e3, k.YM*1e3, body.Name, long*1e3, wide*1e3)
		}
	}
	var done []pad
	for i := range l.Spots {
		s, here := &l.Spots[i], fmt.Sprintf("/spots/%d", i)
		n := FindIn(v, s.NodeID)
		if n == nil || n.Array == nil {
			add(here+"/nodeId", "emitters that are no longer there have a place at %.0f, %.0f mm: take it away", s.XM*1e3, s.YM*1e3)
			continue
		}
		if n.BodyID != l.BodyID {
			add(here+"/nodeId", "%s have a place on %s and are mounted elsewhere", n.Called(), body.Name)
			continue
		}
		p := pad{x: s.XM, y: s.YM}
		if p.l, p.w = s.Pad(n.Array, count[s.NodeID]); p.beyond(long, wide) {
			add(here, "the pad at %.0f, %.0f mm, %.1f × %.1f mm, reaches beyond %s, which is %.0f × %.0f mm", s.XM*1e3, s.YM*1e3, p.l*1e3, p.w*1e3, body.Name, long*1e3, wide*1e3)
		}
		for k := range kept {
			if p.overlaps(kept[k]) {
				add(here, "the pad at %.0f, %.0f mm lies on what is kept free", s.XM*1e3, s.YM*1e3)
			}
		}
		for k := range done {
			if p.overlaps(done[k]) {
				add(here, "the pads at %.0f, %.0f mm and %.0f, %.0f mm overlap: move one, or give the size of a pad", done[k].x*1e3, done[k].y*1e3, s.XM*1e3, s.YM*1e3)
				break
			}
		}
		done = append(done, p)
	}
	return faults
}
