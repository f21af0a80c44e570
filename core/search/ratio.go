package search

import (
	"context"
	"fmt"
	"math"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/emitter"
)

// A Ratio is the same light made with emitters driven at a share of their rating:
// the more gently, the more of them.
type Ratio struct {
	Share     float64  `json:"share" doc:"Of the rated current"`
	EachA     float64  `json:"eachA" doc:"Current of each emitter, A"`
	Emitters  int      `json:"emitters" doc:"How many make the light"`
	FluxLm    float64  `json:"fluxLm" doc:"Out of the optic, warm"`
	ArrayW    float64  `json:"arrayW" doc:"Power into the emitters"`
	LmPerW    float64  `json:"lmPerW" doc:"Of the emitters"`
	HeatW     float64  `json:"heatW" doc:"Heat in them"`
	JunctionC *float64 `json:"junctionC" doc:"Null: not known"`
	LifeH     *float64 `json:"lifeH" doc:"To 70 % of the light, in the form of TM-21; null: no test points"`
	LifeOver  bool     `json:"lifeAtLeast" doc:"The projection ends there: at least so long"`
	Price     *float64 `json:"price" doc:"Of the emitters, in the builder's money; null: not known"`
	Why       string   `json:"why,omitempty" doc:"Why there is none"`
}

// Ratios makes the light that an array gives now with its emitters at shares of
// their rated current, on the same body and driver family, by changing the number of
// strings and the set current and solving the whole chain to rest each time.
func Ratios(ctx context.Context, light *design.Light, variant int, arrayNode string, shares []float64) ([]Ratio, error) {
	now, part, err := arrayAt(ctx, light, variant, arrayNode)
	if err != nil {
		return nil, err
	}
	e := part.Emitter
	if e.RatedCurrentA == nil || *e.RatedCurrentA <= 0 {
		return nil, fmt.Errorf("the rated current of %s is not known", part.Name)
	}
	if now.flux <= 0 {
		return nil, fmt.Errorf("the light of %s is not known, or it is dark", arrayNode)
	}
	size := now.array.RowsMounted(e)
	out := make([]Ratio, 0, len(shares))
	for _, share := range shares {
		each := share * *e.RatedCurrentA * size
		r := Ratio{Share: share, EachA: each}
		// Under a step-down, single emitters in parallel stand for any wiring, so that
		// their number need not go by whole strings; the driver is taken as one chosen
		// for them, of the same efficiency.
		series := now.array.Series
		if now.stepsDown {
			series = 1
		}
		strings := max(1, int(math.Round(now.stringsA/each))*now.array.Series/series)
		// The light of a string depends on how warm all of them make each other: a few
		// rounds settle it.
		var last placed
		for range 6 {
			changed, err := rewired(light, variant, arrayNode, series, strings, each*float64(strings))
			if err != nil {
				return nil, err
			}
			if last, _, err = arrayAt(ctx, changed, variant, arrayNode); err != nil {
				return nil, err
			}
			if last.why != "" || last.flux <= 0 {
				break
			}
			next := max(1, int(math.Ceil(sameLight*now.flux/(last.flux/float64(strings)))))
			if next == strings {
				break
			}
			strings = next
		}
		if last.why != "" {
			r.Why = last.why
			out = append(out, r)
			continue
		}
		r.Emitters, r.FluxLm, r.ArrayW, r.HeatW, r.JunctionC = strings*series, last.flux, last.inW, last.heatW, last.junctionC
		r.LmPerW = last.flux / math.Max(last.inW, 1e-12)
		if part.Price != nil {
			r.Price = new(*part.Price * float64(r.Emitters))
		}
		if last.caseC != nil {
			if h, over, ok := emitter.LifeH(e.Maintenance, *last.caseC); ok {
				r.LifeH, r.LifeOver = &h, over
			}
		}
		out = append(out, r)
	}
	return out, nil
}

// sameLight is the share of the light that nobody tells from all of it (common practice).
const sameLight = 0.97

// placed is an array at rest.
type placed struct {
	array            *design.Array
	flux, inW, heatW float64
	stringsA         float64 // current of all strings
	junctionC, caseC *float64
	why              string
	stepsDown        bool // the driver above needs no more than a source above its load
}

func arrayAt(ctx context.Context, light *design.Light, variant int, id string) (placed, *design.Part, error) {
	var p placed
	if variant < 0 || variant >= len(light.Variants) {
		return p, nil, fmt.Errorf("there is no variant %d", variant)
	}
	for i := range light.Variants[variant].Feeds {
		if n := design.FindNode(light.Variants[variant].Feeds[i].Loads, id); n != nil {
			p.array = n.Array
		}
	}
	if p.array == nil {
		return p, nil, fmt.Errorf("there is no array %q", id)
	}
	for i := range light.Variants[variant].Feeds {
		p.stepsDown = p.stepsDown || underStepDown(light, light.Variants[variant].Feeds[i].Loads, id)
	}
	var part *design.Part
	for i := range light.Parts {
		if light.Parts[i].ID == p.array.PartID {
			part = &light.Parts[i]
		}
	}
	if part == nil || part.Emitter == nil {
		return p, nil, fmt.Errorf("no emitter is chosen yet")
	}
	m, err := chain.Compile(light, chain.Options{Variant: variant})
	if err != nil {
		return p, nil, err
	}
	st, err := m.Solver().Steady(ctx)
	if err != nil {
		return p, nil, err
	}
	p.why = st.Reason
	for i, c := range m.Columns() {
		if c.Owner != id {
			continue
		}
		v := st.Record[i]
		switch c.Figure {
		case "fluxLm":
			p.flux = v
		case "inW":
			p.inW = v
		case "lossW":
			p.heatW = v
		case "inA":
			p.stringsA = v
		case "junctionC":
			p.junctionC = new(v)
		case "caseC":
			p.caseC = new(v)
		}
	}
	return p, part, nil
}

// underStepDown tells whether the first driver above a node is a step-down.
func underStepDown(light *design.Light, nodes []design.Node, id string) bool {
	for i := range nodes {
		n := &nodes[i]
		if design.FindNode(n.Loads, id) == nil {
			continue
		}
		if n.Driver == nil {
			return underStepDown(light, n.Loads, id)
		}
		for k := range light.Parts {
			if p := &light.Parts[k]; p.ID == n.Driver.PartID && p.Driver != nil {
				return p.Driver.Family == "buck"
			}
		}
	}
	return false
}

// rewired is a copy of the light with another number of strings in one array and the
// current of the driver above it set for them. It fails if no driver above it holds
// a current.
func rewired(light *design.Light, variant int, id string, series, strings int, setA float64) (*design.Light, error) {
	out := *light
	out.Variants = append([]design.Variant(nil), light.Variants...)
	v := &out.Variants[variant]
	v.Feeds = append([]design.Feed(nil), v.Feeds...)
	done, was, partID := false, 1, ""
	times := 1.0 // arrays alike below that driver
	var walk func(nodes []design.Node) []design.Node
	walk = func(nodes []design.Node) []design.Node {
		out := append([]design.Node(nil), nodes...)
		for i := range out {
			n := &out[i]
			here := design.FindNode([]design.Node{*n}, id) != nil
			n.Loads = walk(n.Loads)
			switch {
			case n.ID == id && n.Array != nil:
				a := *n.Array
				was = a.Series
				a.Series, a.Parallel, a.Count, a.Unequal = series, strings, 0, nil
				n.Array = &a
			case here && n.Driver != nil && !done:
				d := *n.Driver
				setA *= times
				d.SetCurrentA, d.ProgramOhm, d.TiedChannels = &setA, nil, 0
				n.Driver, done, partID = &d, true, d.PartID
			}
			if here && !done {
				times *= float64(max(n.Count, 1))
			}
		}
		return out
	}
	for i := range v.Feeds {
		v.Feeds[i].Loads = walk(v.Feeds[i].Loads)
	}
	if !done {
		return nil, fmt.Errorf("no driver sets the current of %q, so its drive cannot be chosen", id)
	}
	out.Parts = append([]design.Part(nil), light.Parts...)
	for i := range out.Parts {
		if p := &out.Parts[i]; p.ID == partID && p.Driver != nil {
			d := *p.Driver
			d.EfficiencyAtA = &setA
			if d.EfficiencyOut != nil {
				d.EfficiencyOut = new(*d.EfficiencyOut * float64(series) / float64(was))
			}
			p.Driver = &d
		}
	}
	return &out, nil
}
