package search

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"

	"photherm/core/chain"
	"photherm/core/design"
)

// A Plate is what is laid out on a body, at rest.
type Plate struct {
	Body      string        `json:"body" doc:"Id of the body"`
	LengthM   float64       `json:"lengthM"`
	WidthM    float64       `json:"widthM"`
	LimitC    float64       `json:"limitC" doc:"How warm the body may get, °C"`
	LimitOf   string        `json:"limitOf"`
	Map       *chain.Map    `json:"map" doc:"Null: nothing has a place, or nothing comes to rest"`
	Places    []chain.Place `json:"places" nullable:"false" doc:"What each spot is at"`
	Faults    []string      `json:"faults" nullable:"false" doc:"Why places cannot be solved"`
	Unsettled string        `json:"unsettled" doc:"Why there is no state at rest; empty: there is one"`
	Arrays    []OnPlate     `json:"arrays" nullable:"false" doc:"Emitters mounted on the body"`
	Ways      []Arrangement `json:"ways" nullable:"false" doc:"Ways to place the emitters asked about, coolest first"`
	Spacings  []Spacing     `json:"spacings" nullable:"false" doc:"An even grid of them drawn together by and by, the closest first; none: there is one place, or it does not go"`
	EnoughM   *float64      `json:"enoughM" doc:"How far apart their middles stand where what is further apart gains no kelvin more, m; null: that was not found"`
}

// OnPlate is an array that is mounted on the body.
type OnPlate struct {
	Node    string  `json:"node"`
	Name    string  `json:"name"`
	Spots   int     `json:"spots" doc:"How many places it has"`
	Usual   int     `json:"usual" doc:"How many it would have: one for each board, or where there is one board for each emitter"`
	LengthM float64 `json:"padLengthM" doc:"Of a pad without a size of its own, m"`
	Mean    bool    `json:"mean" doc:"Its parallel strings are taken as warm as its places on average: how many there are does not tell which string is where"`
}

// An Arrangement is a way to place the boards or emitters of an array.
type Arrangement struct {
	Name   string              `json:"name"`
	Spots  []design.LayoutSpot `json:"spots" nullable:"false"`
	CaseC  *float64            `json:"caseC" doc:"The hottest case of them then, °C; null: nothing comes to rest"`
	JunctC *float64            `json:"junctionC"`
	Why    string              `json:"why,omitempty" doc:"Why it does not go"`
}

// A Spacing is how hot the hottest of an even grid is, its places so far apart.
type Spacing struct {
	PitchM float64 `json:"pitchM" doc:"From middle to middle of the nearest two, m"`
	CaseC  float64 `json:"caseC" doc:"The hottest case, °C"`
}

// mapCells is into how many cells the longer side of a map on the page is cut (chosen: a cell
// is a few pixels).
const mapCells = 120

// PlateOf asks about what is laid out on a body; of one of its arrays, if its id is given,
// also how else it could be placed. The error may be a PlaceError.
func PlateOf(ctx context.Context, light *design.Light, variant int, body, array string) (*Plate, error) {
	v := &light.Variants[variant]
	b := v.Body(body)
	if b == nil {
		return nil, about("body", fmt.Errorf("there is no body %q", body))
	}
	long, wide, ok := light.Face(b)
	if !ok {
		return nil, about("body", fmt.Errorf("nothing can be laid out on %s: give its length and width as a sheet, a base with fins, a profile with its outer width, or a housing", b.Name))
	}
	out := &Plate{Body: body, LengthM: long, WidthM: wide, Places: []chain.Place{}, Faults: []string{}, Arrays: []OnPlate{}, Ways: []Arrangement{}, Spacings: []Spacing{}}
	out.LimitC, out.LimitOf = limitOf(light, b)
	at := layoutOn(v, body)
	for _, n := range arraysOn(v, body) {
		on := OnPlate{Node: n.ID, Name: n.Called(), Usual: usualSpots(n.Array)}
		if at >= 0 {
			for _, s := range v.Layouts[at].Spots {
				if s.NodeID == n.ID {
					on.Spots++
				}
			}
		}
		on.LengthM, _ = (&design.LayoutSpot{}).Pad(n.Array, max(on.Spots, 1))
		if on.Spots == 0 {
			on.LengthM, _ = (&design.LayoutSpot{}).Pad(n.Array, on.Usual)
		}
		out.Arrays = append(out.Arrays, on)
	}
	if at >= 0 {
		for _, f := range design.LayoutFaults(light, variant, at) {
			out.Faults = append(out.Faults, f.Message)
		}
	}
	m, err := chain.Compile(light, chain.Options{Variant: variant})
	if err != nil {
		return nil, err
	}
	for i := range out.Arrays {
		on := &out.Arrays[i]
		on.Mean = on.Spots > 0 && m.StringsAlike(on.Node, on.Spots)
	}
	s := m.Solver()
	st, err := s.Steady(ctx)
	if err != nil {
		return nil, fmt.Errorf("asking about a plate: %w", err)
	}
	if out.Unsettled = st.Reason; st.Converged && at >= 0 {
		for _, p := range s.Places() {
			if p.Layout == at {
				out.Places = append(out.Places, p)
			}
		}
		if out.Map, err = s.MapOf(at, mapCells); err != nil {
			return nil, err
		}
		if out.Map != nil {
			for c := range out.Map.C {
				out.Map.C[c] = math.Round(out.Map.C[c]*100) / 100
			}
		}
	}
	if array == "" {
		return out, nil
	}
	return out, out.arrange(ctx, light, variant, array)
}

func layoutOn(v *design.Variant, body string) int {
	for i := range v.Layouts {
		if v.Layouts[i].BodyID == body {
			return i
		}
	}
	return -1
}

func arraysOn(v *design.Variant, body string) (out []*design.Node) {
	for n := range design.Nodes(v) {
		if n.Array != nil && n.BodyID == body {
			out = append(out, n)
		}
	}
	return out
}

// mostUsual is how many places are offered at once (chosen: more are drawn by their boards).
const mostUsual = 200

// usualSpots is one for each board, or of one board one for each emitter.
func usualSpots(a *design.Array) int {
	if n := max(a.Count, 1); n > 1 {
		return min(n, mostUsual)
	}
	return min(max(a.Series, 1)*max(a.Parallel, 1), mostUsual)
}

// arrange tries the ways to place an array, each by the whole chain at rest.
func (p *Plate) arrange(ctx context.Context, light *design.Light, variant int, array string) error {
	var on *OnPlate
	for i := range p.Arrays {
		if p.Arrays[i].Node == array {
			on = &p.Arrays[i]
		}
	}
	if on == nil {
		return about("array", fmt.Errorf("there are no emitters %q on this body", array))
	}
	n := on.Spots
	if n == 0 {
		n = on.Usual
	}
	// Pads that were given a size keep it.
	pad := design.LayoutSpot{}
	if at := layoutOn(&light.Variants[variant], p.Body); at >= 0 {
		for _, s := range light.Variants[variant].Layouts[at].Spots {
			if s.NodeID == array {
				pad.LengthM, pad.WidthM = s.LengthM, s.WidthM
				break
			}
		}
	}
	padL, padW := pad.Pad(design.FindIn(&light.Variants[variant], array).Array, n)
	spots := func(at [][2]float64) []design.LayoutSpot {
		out := make([]design.LayoutSpot, len(at))
		for i, xy := range at {
			out[i] = design.LayoutSpot{NodeID: array, XM: math.Round(xy[0]*1e4) / 1e4, YM: math.Round(xy[1]*1e4) / 1e4, LengthM: pad.LengthM, WidthM: pad.WidthM}
		}
		return out
	}
	for _, w := range []struct {
		name string
		at   [][2]float64
	}{
		{"an even grid", evenGrid(n, p.LengthM, p.WidthM)}, {"a row", row(n, p.LengthM, p.WidthM)}, {"a ring", ring(n, p.LengthM, p.WidthM, max(padL, padW))}, {"a cluster", cluster(n, p.LengthM, p.WidthM, padL, padW)},
	} {
		way := Arrangement{Name: w.name, Spots: spots(w.at)}
		if err := way.try(ctx, light, variant, p.Body, array); err != nil {
			return err
		}
		p.Ways = append(p.Ways, way)
	}
	if err := p.space(n, padL, padW, func(at [][2]float64) (Arrangement, error) {
		way := Arrangement{Spots: spots(at)}
		return way, way.try(ctx, light, variant, p.Body, array)
	}); err != nil {
		return err
	}
	slices.SortStableFunc(p.Ways, func(a, b Arrangement) int {
		switch {
		case a.CaseC != nil && b.CaseC != nil:
			return cmp.Compare(*a.CaseC, *b.CaseC)
		case a.CaseC != nil:
			return -1
		case b.CaseC != nil:
			return 1
		}
		return 0
	})
	return nil
}

// Spacings are tried in so many steps, the closest with so much of a pad between; further apart is
// not worth it where it gains less than a kelvin (all chosen).
const (
	spacingTries = 6
	leastBetween = 1.05
	worthApartK  = 1.0
	leastCloser  = 0.03 // of the even grid's
)

// space draws an even grid together, and finds from where on further apart hardly cools.
func (p *Plate) space(n int, padL, padW float64, try func([][2]float64) (Arrangement, error)) error {
	grid := evenGrid(n, p.LengthM, p.WidthM)
	pitch, closest := nearest(grid, padL, padW)
	if n < 2 || closest >= 1 {
		return nil
	}
	drawn := func(share float64) (Arrangement, error) {
		at := make([][2]float64, n)
		for i, xy := range grid {
			at[i] = [2]float64{p.LengthM/2 + share*(xy[0]-p.LengthM/2), p.WidthM/2 + share*(xy[1]-p.WidthM/2)}
		}
		return try(at)
	}
	for k := range spacingTries {
		share := closest * math.Pow(1/closest, float64(k)/(spacingTries-1))
		way, err := drawn(share)
		if err != nil {
			return err
		}
		if way.CaseC != nil {
			p.Spacings = append(p.Spacings, Spacing{share * pitch, *way.CaseC})
		}
	}
	last := len(p.Spacings) - 1
	if last < 1 || p.Spacings[last].PitchM < pitch*(1-1e-9) {
		return nil // what it would be held against does not go
	}
	enough := p.Spacings[0].PitchM
	for k := last - 1; k >= 0; k-- {
		if over, less := p.Spacings[k].CaseC-p.Spacings[last].CaseC, p.Spacings[k+1].CaseC-p.Spacings[last].CaseC; over > worthApartK {
			enough = p.Spacings[k].PitchM + (p.Spacings[k+1].PitchM-p.Spacings[k].PitchM)*(over-worthApartK)/(over-less)
			break
		}
	}
	p.EnoughM = &enough
	way, err := drawn(enough / pitch)
	if err != nil || way.CaseC == nil || enough > pitch*(1-leastCloser) {
		return err
	}
	way.Name = "a closer grid, a kelvin warmer"
	if *way.CaseC-p.Spacings[last].CaseC < worthApartK/2 {
		way.Name = "a grid as close as they go"
	}
	p.Ways = append(p.Ways, way)
	return nil
}

// nearest is how far apart the nearest two of a grid stand, m, and the share of it at which pads
// come together, in a row or across.
func nearest(grid [][2]float64, padL, padW float64) (pitchM, closest float64) {
	pitchM = math.Inf(1)
	for i := range grid {
		for j := range i {
			dx, dy := math.Abs(grid[i][0]-grid[j][0]), math.Abs(grid[i][1]-grid[j][1])
			pitchM = min(pitchM, math.Hypot(dx, dy))
			closest = max(closest, leastBetween*min(padL/dx, padW/dy)) // clear of each other one way is enough
		}
	}
	return pitchM, closest
}

// try puts the arrangement into the light and reads the hottest of it.
func (w *Arrangement) try(ctx context.Context, light *design.Light, variant int, body, array string) error {
	other, err := design.Clone(light)
	if err != nil {
		return err
	}
	v := &other.Variants[variant]
	at := layoutOn(v, body)
	if at < 0 {
		v.Layouts = append(v.Layouts, design.Layout{ID: "places of its own", BodyID: body})
		at = len(v.Layouts) - 1
	}
	l := &v.Layouts[at]
	kept := []design.LayoutSpot{}
	for _, s := range l.Spots {
		if s.NodeID != array {
			kept = append(kept, s)
		}
	}
	l.Spots = append(kept, w.Spots...)
	if faults := design.LayoutFaults(other, variant, at); len(faults) > 0 {
		w.Why = faults[0].Message
		return nil
	}
	m, err := chain.Compile(other, chain.Options{Variant: variant})
	if err != nil {
		return err
	}
	s := m.Solver()
	st, err := s.Steady(ctx)
	if err != nil {
		return fmt.Errorf("trying an arrangement: %w", err)
	}
	if !st.Converged {
		w.Why = st.Reason
		return nil
	}
	for _, p := range s.Places() {
		if p.Node == array && p.Hottest {
			w.CaseC, w.JunctC = &p.CaseC, &p.JunctC
		}
	}
	return nil
}

// evenGrid shares a rectangle among places as squarely as it goes; a last row that is not
// full stands in the middle.
func evenGrid(n int, long, wide float64) [][2]float64 {
	columns := min(max(int(math.Round(math.Sqrt(float64(n)*long/wide))), 1), n)
	rows := (n + columns - 1) / columns
	columns = (n + rows - 1) / rows
	out := make([][2]float64, n)
	for i := range n {
		r := i / columns
		here := min(columns, n-r*columns)
		out[i] = [2]float64{(float64(i-r*columns) + 0.5) * long / float64(here), (float64(r) + 0.5) * wide / float64(rows)}
	}
	return out
}

func row(n int, long, wide float64) [][2]float64 {
	out := make([][2]float64, n)
	for i := range n {
		out[i] = [2]float64{(float64(i) + 0.5) * long / float64(n), wide / 2}
	}
	return out
}

// ringShare is the diameter of a ring over the shorter side (chosen: half of the area within
// and half without, on a square plate).
const ringShare = 0.75

func ring(n int, long, wide, pad float64) [][2]float64 {
	r := max(min(ringShare*min(long, wide), min(long, wide)-1.5*pad), 0) / 2
	out := make([][2]float64, n)
	for i := range n {
		a := 2 * math.Pi * float64(i) / float64(n)
		out[i] = [2]float64{long/2 + r*math.Cos(a), wide/2 + r*math.Sin(a)}
	}
	return out
}

// clusterPitch is how far apart places of a cluster stand over their pads (chosen).
const clusterPitch = 1.25

func cluster(n int, long, wide, padL, padW float64) [][2]float64 {
	columns := int(math.Ceil(math.Sqrt(float64(n))))
	rows := (n + columns - 1) / columns
	out := make([][2]float64, n)
	for i := range n {
		r := i / columns
		here := min(columns, n-r*columns)
		out[i] = [2]float64{long/2 + (float64(i-r*columns)-float64(here-1)/2)*padL*clusterPitch, wide/2 + (float64(r)-float64(rows-1)/2)*padW*clusterPitch}
	}
	return out
}
