package target

import (
	"context"
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"photherm/core/design"
	"photherm/core/units"
)

// Around is the light on the ground round a lantern.
type Around struct {
	Map     *LightMap `json:"map"`
	ReadM   float64   `json:"walkM" doc:"How far round it has 1 lx on the ground, on average of all sides: to walk by"`
	FourM   []float64 `json:"sides" nullable:"false" doc:"How far so to each of eight sides, from +x round by y"`
	Eyes    []AtEye   `json:"eyes" nullable:"false" doc:"What eyes get that look at it"`
	Ways    []Way     `json:"ways" nullable:"false" doc:"Other ways to put it down"`
	EyeM    float64   `json:"eyeM"`
	Dots    Dots      `json:"dots" doc:"Of its emitters on a diffuser before them"`
	Glaring string    `json:"glaring" doc:"What eyes make of it; empty: nothing much"`
}

// AtEye is what reaches eyes at a distance, from the brightest side.
type AtEye struct {
	M      float64 `json:"m"`
	Cd     float64 `json:"cd" doc:"Towards the eyes"`
	Lux    float64 `json:"lux" doc:"At the eyes, facing the light"`
	Ground float64 `json:"groundLux" doc:"On the ground where they stand"`
}

// A Way is a way to put a light.
type Way struct {
	Name  string         `json:"name"`
	All   []design.Stand `json:"stands" nullable:"false" doc:"Of all its bodies then"`
	Mean  float64        `json:"mean" doc:"Over what is looked at, lx"`
	Even  float64        `json:"minOverMean"`
	WalkM float64        `json:"walkM" doc:"How far round it has 1 lx; 0: not asked"`
}

// walkLux is light to walk by (common practice: a path at 1 lx and more).
const walkLux = 1

// eyeHeightM is of eyes that stand (common practice).
const eyeHeightM = 1.6

// glareTimes is how much more light in the eyes than on the ground dazzles (chosen, after the
// habit to keep lamps on paths out of sight: eyes set themselves by what they look into).
const glareTimes = 10

// around is the light on the ground.
func (l *Lit) around(ctx context.Context) (*Around, error) {
	reach := 5.0
	s := l.Light.Scene
	if s != nil && s.Surround > 0 {
		reach = s.Surround
	}
	m, err := l.mapOver(ctx, 2*reach, 2*reach)
	if err != nil {
		return nil, err
	}
	out := &Around{Map: m, FourM: []float64{}, Eyes: []AtEye{}, Ways: []Way{}, EyeM: eyeHeightM, Dots: l.dots()}
	if s != nil && s.EyeM != nil {
		out.EyeM = *s.EyeM
	}
	out.FourM, out.ReadM = l.walks()
	at := l.middle()
	for _, far := range []float64{1, 2, 3, 5, 10} {
		if far > reach {
			break
		}
		best := AtEye{M: far}
		for k := range 24 {
			sin, cos := math.Sincos(float64(k) * math.Pi / 12)
			eye := r3.Vec{X: at.X + far*cos, Y: at.Y + far*sin, Z: out.EyeM}
			back := r3.Sub(at, eye)
			facing := r3.Unit(back)
			if x := l.LuxAt(eye, facing); x > best.Lux {
				best = AtEye{far, x * r3.Norm2(back), x, l.LuxAt(r3.Vec{X: eye.X, Y: eye.Y}, r3.Vec{Z: 1})}
			}
		}
		out.Eyes = append(out.Eyes, best)
		if out.Glaring == "" && best.Lux > glareTimes*max(best.Ground, 0.1) {
			out.Glaring = fmt.Sprintf("At %.3g m eyes at %.3g m get %s lx, the ground there %s lx: it dazzles. Hang it above eye height, shade the side one looks from, or put a diffuser before it.", far, out.EyeM, units.Plain(best.Lux, 2), units.Plain(best.Ground, 2))
		}
	}
	return out, nil
}

// walks is how far the ground has light to walk by, to eight sides and on average.
func (l *Lit) walks() (sides []float64, mean float64) {
	at := l.middle()
	for k := range 8 {
		sin, cos := math.Sincos(float64(k) * math.Pi / 4)
		lit := func(r float64) bool {
			return l.LuxAt(r3.Vec{X: at.X + r*cos, Y: at.Y + r*sin}, r3.Vec{Z: 1}) >= walkLux
		}
		far := 0.0
		for r := 0.25; r <= 200; r *= 1.1 { // the farthest place that still has it
			if lit(r) {
				far = r
			}
		}
		low, high := far, far*1.1
		for range 20 {
			if mid := (low + high) / 2; lit(mid) {
				low = mid
			} else {
				high = mid
			}
		}
		sides = append(sides, low)
		mean += low / 8
	}
	return sides, mean
}

// moved is the light with all that is placed put otherwise.
func (l *Lit) moved(change func(design.Stand) design.Stand) *Lit {
	out := *l
	out.points = make([]point, len(l.points))
	bodies := l.stands()
	for i, p := range l.points {
		node := nodeOf(l.Variant, l.Glows[p.glow].Node)
		was := bodies[node.BodyID][p.stand]
		now := change(was)
		a := leaning(r3.Vec{X: was.XM, Y: was.YM, Z: was.HeightM}, was.TiltDeg, was.TurnDeg, was.RollDeg)
		b := leaning(r3.Vec{X: now.XM, Y: now.YM, Z: now.HeightM}, now.TiltDeg, now.TurnDeg, now.RollDeg)
		take := func(v r3.Vec) r3.Vec { // from the frame of one to that of the other
			return b.turn(r3.Vec{X: r3.Dot(v, a.along), Y: r3.Dot(v, a.across()), Z: -r3.Dot(v, a.axis)})
		}
		p.At = r3.Add(b.at, take(r3.Sub(p.At, a.at)))
		p.Axis, p.Across = take(p.Axis), take(p.Across)
		out.points[i] = p
	}
	return &out
}

// stands are where bodies are, by id, also those that nobody placed.
func (l *Lit) stands() map[string][]design.Stand {
	out := map[string][]design.Stand{}
	kind := KindOf(l.Light, l.Variant)
	for n := range design.Nodes(l.Variant) {
		if n.Array == nil && n.Strip == nil && n.Load == nil {
			continue
		}
		list := l.Variant.StandsOf(n.BodyID)
		if len(list) == 0 && len(l.Variant.Stands) > 0 {
			list = l.Variant.StandsOf(l.Variant.Stands[0].BodyID)[:1]
		}
		if len(list) == 0 {
			list = []design.Stand{UsualStand(kind, n.BodyID)}
		}
		out[n.BodyID] = list
	}
	return out
}

// allStands is the list that puts every body as change has it, as a document keeps it: what has
// no body of its own cannot be placed.
func (l *Lit) allStands(change func(design.Stand) design.Stand) []design.Stand {
	out := []design.Stand{}
	seen := map[string]bool{}
	all := l.stands()
	for n := range design.Nodes(l.Variant) {
		if list, ok := all[n.BodyID]; ok && !seen[n.BodyID] && n.BodyID != "" {
			seen[n.BodyID] = true
			for _, s := range list {
				s.BodyID = n.BodyID
				out = append(out, change(s))
			}
		}
	}
	return out
}

// waysRound are ways to put a lantern down.
func (l *Lit) waysRound(ctx context.Context, reach float64) ([]Way, error) {
	out := []Way{}
	for _, w := range []struct {
		name          string
		heightM, tilt float64
	}{{"on the ground", 0.3, 0}, {"on a table", 1.0, 0}, {"hung at head height", 2.0, 0}, {"hung high", 3.0, 0}, {"laid on its side", 0.15, 90}} {
		change := func(s design.Stand) design.Stand {
			s.HeightM, s.TiltDeg = w.heightM, w.tilt
			return s
		}
		lit := l.moved(change)
		m, err := lit.mapOver(ctx, 2*reach, 2*reach)
		if err != nil {
			if ctx.Err() != nil {
				return nil, err
			}
			continue // it does not go there
		}
		_, walk := lit.walks()
		out = append(out, Way{Name: w.name, All: l.allStands(change), Mean: m.Mean, Even: m.Even, WalkM: walk})
	}
	return out, nil
}
