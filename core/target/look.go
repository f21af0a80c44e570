package target

import (
	"context"
	"fmt"
	"math"

	"photherm/core/chain"
	"photherm/core/design"
)

// A View is where the light goes at an instant, and whether it comes where it is wanted.
type View struct {
	Kind    string     `json:"kind" enum:"beam,area,around,strip,tank"`
	AtS     float64    `json:"atS"`
	Lumens  float64    `json:"lumens"`
	Dark    string     `json:"dark" doc:"Why there is no light; empty: there is"`
	Unknown string     `json:"unknown" doc:"Whose spectrum is not known, so that photons cannot be told; empty: of none"`
	Taken   []string   `json:"taken" nullable:"false" doc:"What is taken where nobody said it"`
	Lights  []LightAt  `json:"lights" nullable:"false" doc:"Where light leaves; of very many, some"`
	Stands  []StandAt  `json:"stands" nullable:"false" doc:"Where bodies hang"`
	Beam    *Beam      `json:"beam"`
	Area    *LightMap  `json:"area"`
	Around  *Around    `json:"around"`
	Strip   *StripView `json:"strip"`
	Tank    *TankView  `json:"tank"`
	Grow    *Grow      `json:"grow"`
	Colour  *Colour    `json:"colour"`
	Target  *Reached   `json:"target" doc:"Null: nothing is wanted of it here"`
	Fault   string     `json:"fault" doc:"Why the picture cannot be calculated; empty: it can"`
}

// A LightAt is where light leaves.
type LightAt struct {
	Node  string  `json:"node"`
	Stand int     `json:"stand"`
	X     float64 `json:"x"`
	Y     float64 `json:"y"`
	Z     float64 `json:"z"`
	AxisX float64 `json:"axisX"`
	AxisY float64 `json:"axisY"`
	AxisZ float64 `json:"axisZ"`
	Lm    float64 `json:"lm"`
}

// A StandAt is where a body hangs, also where nobody said so.
type StandAt struct {
	design.Stand
	Said bool    `json:"said" doc:"Whether the document says it"`
	At   int     `json:"at" doc:"Its place in the document's list; −1: it is not there"`
	L    float64 `json:"lengthM" doc:"Of its face; 0: it has none that is known"`
	W    float64 `json:"widthM"`
}

// shownLights is how many points of light are told one by one.
const shownLights = 300

// A Question says what is looked at beside the picture.
type Question struct {
	AtS     float64 // s after switch-on
	Ways    bool    // other ways to put it, and what mends a target that is missed
	Colour  bool    // the spectrum
	Kelvin  float64 // wanted colour temperature of mixed channels; 0: none
	Share   float64 // wanted light of mixed channels, of what there is; 0: none
	Against int     // another variant to compare with; below 0: none
	AtM     float64 // how much of a beam comes so far, m; 0: it is not asked
	TiltDeg float64 // there on a plane tilted so from facing it, degrees
}

// Look answers where the light of a variant goes.
func Look(ctx context.Context, light *design.Light, variant int, q Question) (*View, error) {
	lit, err := Solve(ctx, light, variant, q.AtS)
	if err != nil {
		return nil, err
	}
	v := lit.view()
	if lit.Dark != "" || lit.Fault != "" {
		return v, nil
	}
	if err := lit.picture(ctx, v, variant, q); err != nil {
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		v.Fault = err.Error()
		return v, nil
	}
	if q.Colour || q.Kelvin > 0 || q.Share > 0 {
		if v.Colour, err = lit.colour(); err != nil {
			return nil, err
		}
		if v.Colour != nil && (q.Kelvin > 0 || q.Share > 0) {
			share := q.Share
			if share <= 0 {
				share = 1
			}
			if err := v.Colour.wantLevels(lit, q.Kelvin, share); err != nil {
				return nil, err
			}
		}
	}
	if q.Against >= 0 && q.Against < len(light.Variants) && q.Against != variant && v.Beam != nil {
		other, err := Solve(ctx, light, q.Against, q.AtS)
		if err != nil {
			return nil, err
		}
		if other.Dark == "" && other.Fault == "" {
			v.Beam.Compare = lit.Compare(other, light.Variants[q.Against].Name)
		}
	}
	if v.Target = lit.reached(v); v.Target != nil && q.Ways {
		// What cannot be tried is not offered.
		if err := lit.mend(ctx, light, variant, v); err != nil && ctx.Err() != nil {
			return nil, err
		}
	}
	v.Taken = append(v.Taken, lit.Taken[len(v.Taken):]...)
	return v, nil
}

// Solve is the light of a variant at an instant, s after switch-on.
func Solve(ctx context.Context, light *design.Light, variant int, atS float64) (*Lit, error) {
	m, err := chain.Compile(light, chain.Options{Variant: variant})
	if err != nil {
		return nil, fmt.Errorf("compiling %q: %w", light.Name, err)
	}
	run, err := m.Solver().RunFor(ctx, max(atS, 1))
	if err != nil {
		return nil, fmt.Errorf("solving the light: %w", err)
	}
	return Of(ctx, run, atS)
}

func (l *Lit) view() *View {
	v := &View{Kind: KindOf(l.Light, l.Variant), AtS: l.AtS, Lumens: l.Lumens(), Dark: l.Dark, Fault: l.Fault, Unknown: l.Unknown, Taken: append([]string{}, l.Taken...), Lights: []LightAt{}, Stands: []StandAt{}}
	step := max(1, (len(l.points)+shownLights-1)/shownLights)
	for i := 0; i < len(l.points); i += step {
		p := &l.points[i]
		v.Lights = append(v.Lights, LightAt{l.Glows[p.glow].Node, p.stand, p.At.X, p.At.Y, p.At.Z, p.Axis.X, p.Axis.Y, p.Axis.Z, p.Lumens * float64(step)})
	}
	seen := map[string]bool{}
	all := l.stands()
	for n := range design.Nodes(l.Variant) {
		list, ok := all[n.BodyID]
		if !ok || seen[n.BodyID] {
			continue
		}
		seen[n.BodyID] = true
		for k, s := range list {
			at := StandAt{Stand: s, At: -1}
			if own := l.Variant.StandsOf(n.BodyID); k < len(own) {
				at.Said, at.At = true, placeOfStand(l.Variant, n.BodyID, k)
			}
			at.BodyID = n.BodyID
			if b := l.Variant.Body(n.BodyID); b != nil {
				at.L, at.W, _ = l.Light.Face(b)
			}
			v.Stands = append(v.Stands, at)
		}
	}
	return v
}

// placeOfStand is where the so many-th stand of a body is in the list of all.
func placeOfStand(v *design.Variant, body string, k int) int {
	for i := range v.Stands {
		if v.Stands[i].BodyID == body {
			if k == 0 {
				return i
			}
			k--
		}
	}
	return -1
}

// picture calculates what is looked at.
func (l *Lit) picture(ctx context.Context, v *View, variant int, q Question) (err error) {
	if err := l.above(v.Kind); err != nil {
		return err
	}
	switch v.Kind {
	case "beam":
		if v.Beam = l.beam(); v.Beam != nil && q.AtM > 0 {
			v.Beam.tilted(q.AtM, q.TiltDeg)
		}
	case "around":
		if v.Around, err = l.around(ctx); err == nil && q.Ways {
			v.Around.Ways, err = l.waysRound(ctx, v.Around.Map.LengthM/2)
		}
	case "strip":
		if v.Strip, err = l.strip(ctx); err == nil && q.Ways {
			v.Strip.Ways, err = l.waysAlong(ctx)
		}
	case "tank":
		if l.Light.Scene == nil || l.Light.Scene.Tank == nil {
			return fmt.Errorf("the tank has no measures yet: give its length, width and depth of water beside")
		}
		if v.Tank, err = l.tank(ctx); err == nil {
			v.Grow, err = l.grow(ctx, variant, v.Tank.Bottom)
		}
	default:
		if v.Area, err = l.areaMap(ctx); err == nil && v.Area.MeanPPFD != nil && v.Area.Unit == ppfd {
			v.Grow, err = l.grow(ctx, variant, v.Area)
		}
	}
	return err
}

// above tells of lights that do not hang above what they are to light, and of an area of no size.
func (l *Lit) above(kind string) error {
	if kind == "beam" || len(l.points) == 0 {
		return nil
	}
	lowest, up := math.Inf(1), 0
	for i := range l.points {
		lowest = min(lowest, l.points[i].At.Z)
		if l.points[i].Axis.Z > 0.99 {
			up++
		}
	}
	what := "the lit plane"
	if kind == "tank" {
		what = "the surface of the water: lights in the water are not calculated"
	}
	none := func(side *float64) bool { return side != nil && *side <= 0 }
	if b := &l.Light.Brief; kind != "tank" && (none(b.AreaM) || none(b.AreaAcrM)) {
		return fmt.Errorf("the area that is to be lit has no size: give its length and width beside")
	}
	if lowest <= 0 {
		return fmt.Errorf("a light hangs %.3g m below %s; raise it, under Light", -lowest, what)
	}
	room := l.Light.Scene != nil && l.Light.Scene.Room != nil
	if up == len(l.points) && !room {
		return fmt.Errorf("all of it looks straight up, and nothing throws it back: turn it, or give the room a ceiling")
	}
	return nil
}
