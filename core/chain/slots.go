package chain

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"photherm/core/circuit"
	"photherm/core/design"
)

// An Op is how a Variation changes a value.
type Op int

// The ways to change a value.
const (
	Set Op = iota
	Scale
	Add
)

// A Variation changes one figure of a light, addressed by its pointer through ids (see
// design.Figure). Bands, faults, calibration, search and dragging are variations: each
// means what editing the document means.
//
// Beside the document's own figures some stand only here, neutral unless varied:
// …/emitter/vfOffsetV and …/emitter/fluxScale of a part, …/cell/openCircuitOffsetV of a
// part, …/array/vfOffsetV (its ordinary strings) and …/array/fluxScale of a node, and …/scale of a measured
// load or an auxiliary.
type Variation struct {
	Pointer string  `json:"pointer" doc:"Pointer of the figure, through ids"`
	Op      Op      `json:"op" doc:"0 set, 1 scale, 2 add"`
	Value   float64 `json:"value" doc:"In the unit of the figure"`
}

// A Slot is a figure that can be varied.
type Slot struct {
	design.Figure
	Beside bool // it stands beside the document; Value is what is neutral
}

// Slots lists what can be varied, sorted by pointer.
func (m *Model) Slots() []Slot {
	var out []Slot
	for _, f := range design.Figures(m.light, m.options.Variant) {
		out = append(out, Slot{Figure: f})
	}
	for _, b := range m.net.BesideFigures() {
		out = append(out, Slot{design.Figure{Pointer: b.Pointer, Unit: b.Unit, Low: b.Low, High: b.High, Value: &b.Neutral}, true})
	}
	slices.SortFunc(out, func(a, b Slot) int { return strings.Compare(a.Pointer, b.Pointer) })
	return out
}

// edited is a solver's own copy of the document, with what stands beside it.
type edited struct {
	light  *design.Light
	beside circuit.Beside
}

// Vary applies variations to the solver: its copy of the document is edited and made
// into a model again, from which it takes over all figures. An unknown pointer, a value
// outside the figure's range, or one that would add or take away a part of the model is
// an error, and nothing is changed then.
func (s *Solver) Vary(changes ...Variation) error {
	if err := s.vary(changes); err != nil {
		return fmt.Errorf("varying the light: %w", err)
	}
	return nil
}

func (s *Solver) vary(changes []Variation) error {
	from := edited{s.m.light, s.m.beside}
	if s.edited != nil {
		from = *s.edited
	}
	light, err := design.Clone(from.light)
	if err != nil {
		return err
	}
	next := edited{light, circuit.Beside{}}
	for k, v := range from.beside {
		next.beside[k] = v
	}
	laws := s.m.laws.Copy()
	for _, v := range changes {
		if math.IsNaN(v.Value) || math.IsInf(v.Value, 0) {
			return fmt.Errorf("%q cannot be %v", v.Pointer, v.Value)
		}
		if err := s.set(&next, v); err != nil {
			return err
		}
		if part, ok := strings.CutPrefix(v.Pointer, "/parts/"); ok {
			id, _, _ := strings.Cut(part, "/")
			laws.Forget(partNamed(light, id))
		}
	}
	if err := design.Check(light); err != nil {
		return err
	}
	m, err := assemble(light, s.m.options, laws, next.beside, s.m.seatOf)
	if err != nil {
		return err
	}
	if !s.m.alike(m) {
		return fmt.Errorf("%q adds to what is computed or takes from it: edit the light instead", changes[0].Pointer)
	}
	s.edited, s.metered = &next, nil
	s.Solver.Reset(m.net)
	s.take(m)
	return nil
}

// partNamed is the id of a part that is named by it, or by its place.
func partNamed(light *design.Light, name string) string {
	for i := range light.Parts {
		if light.Parts[i].ID == name || fmt.Sprint(i) == name {
			return light.Parts[i].ID
		}
	}
	return name
}

// set applies one variation to a document and what stands beside it.
func (s *Solver) set(e *edited, v Variation) error {
	apply := func(now float64) float64 {
		switch v.Op {
		case Scale:
			return now * v.Value
		case Add:
			return now + v.Value
		}
		return v.Value
	}
	for _, b := range s.m.net.BesideFigures() {
		if b.Pointer != v.Pointer {
			continue
		}
		now, ok := e.beside[b.Pointer]
		if !ok {
			now = b.Neutral
		}
		x := apply(now)
		if x < b.Low || x > b.High {
			return fmt.Errorf("%s cannot be %v: it lies between %v and %v", v.Pointer, x, b.Low, b.High)
		}
		e.beside[b.Pointer] = x
		return nil
	}
	now, err := design.FigureAt(e.light, v.Pointer)
	if err != nil {
		return err
	}
	if now == nil {
		if v.Op != Set {
			return fmt.Errorf("%s is not known, so it cannot be scaled or added to", v.Pointer)
		}
		now = new(0.0)
	}
	return design.SetFigure(e.light, v.Pointer, apply(*now))
}

// alike tells that two models have the same structure.
func (m *Model) alike(o *Model) bool {
	same := func(a, b link) bool { return a.from == b.from && a.to == b.to }
	return m.states == o.states && len(m.lumps) == len(o.lumps) && len(m.columns) == len(o.columns) &&
		len(m.net.Feeders) == len(o.net.Feeders) && slices.EqualFunc(m.links, o.links, same)
}

// Fault puts emitters of an array out of order in the solver as it stands, without
// making the model again: in so many strings one emitter more is shorted, or open. It
// is gone when the solver is varied. Of an array that is there several times it is so in
// each. It fails if there is no such array, or it has not
// so many ordinary strings.
func (s *Solver) Fault(array string, strings int, open bool) error {
	k := s.Net.Find(array, circuit.Array)
	if k < 0 || !s.Nodes[k].Chosen {
		return fmt.Errorf("there are no emitters %q", array)
	}
	law, ordinary := &s.Nodes[k].Arr, 0
	for g := range law.Groups {
		if s.m.originOf(k, g) == 0 {
			ordinary += law.Groups[g].Strings
		}
	}
	if strings < 1 || strings > ordinary {
		return fmt.Errorf("%q has %d ordinary strings, not %d", array, ordinary, strings)
	}
	faulty := law.Groups[0]
	faulty.Strings = strings
	if open {
		faulty.Open = true
	} else {
		faulty.Live--
	}
	for g := 0; strings > 0; g++ {
		if s.m.originOf(k, g) == 0 { // from the warmest seat on
			n := min(strings, law.Groups[g].Strings)
			law.Groups[g].Strings -= n
			strings -= n
		}
	}
	law.Groups = append(law.Groups, faulty)
	s.Prepare()
	return nil
}

// Meter puts an ammeter of so many ohms into one string of an array, in the solver as it stands:
// into that which takes most when it is switched on full and cold, as one would who looks for
// it. The array's stringA is then the current of that string alone. It is gone when the solver
// is varied. It fails if there is no such array, or no string of it takes a current.
func (s *Solver) Meter(array string, ohm float64) error {
	k := s.Net.Find(array, circuit.Array)
	if k < 0 || !s.Nodes[k].Chosen {
		return fmt.Errorf("there are no emitters %q", array)
	}
	s.OperatingPoint(1, s.m.StartC(), make([]float64, len(s.m.Columns())))
	law, in, most := &s.Nodes[k].Arr, -1, 0.0
	for g := range law.Groups {
		if a := s.groupA(place{node: k, group: g}); a > most {
			in, most = g, a
		}
	}
	if in < 0 {
		return fmt.Errorf("no string of %q takes a current", array)
	}
	read := law.Groups[in]
	read.Strings = 1
	read.BallastOhm += ohm
	law.Groups[in].Strings--
	law.Groups = append(law.Groups, read)
	s.metered = map[int]int{k: len(law.Groups) - 1}
	s.Prepare()
	return nil
}
