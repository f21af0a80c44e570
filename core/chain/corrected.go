package chain

import (
	"strings"

	"photherm/core/circuit"
	"photherm/core/design"
)

// FullPointer is where the path of a correction leads, through ids.
func FullPointer(v *design.Variant, at string) string {
	if strings.HasPrefix(at, "/parts/") {
		return at
	}
	return "/variants/" + v.ID + at
}

// corrected makes the model again with the figures that readings stand for. What a correction
// spoke of may be gone: such a one is left out, and Stale tells.
func (m *Model) corrected() (*Model, error) {
	v := m.net.Variant
	if len(v.Corrected) == 0 || m.options.Raw {
		return m, nil
	}
	s := m.Solver() // it knows what stands beside the document
	var stale, applied []design.Correction
	factors := map[string]float64{}
	now := edited{m.light, m.beside}
	for _, c := range v.Corrected {
		next := edited{beside: circuit.Beside{}}
		for k, x := range now.beside {
			next.beside[k] = x
		}
		var err error
		if next.light, err = design.Clone(now.light); err != nil {
			return nil, err
		}
		at := FullPointer(v, c.At)
		change := Variation{at, Set, c.Value}
		if is, err := design.FigureAt(next.light, at); err == nil && is != nil && c.Was != 0 {
			change.Op, change.Value = Scale, c.Value/c.Was // what was set anew since is off as much
		}
		if err := s.set(&next, change); err != nil || design.Check(next.light) != nil {
			stale = append(stale, c)
			continue
		}
		now, applied = next, append(applied, c)
		if pointer, ok := design.Resolve(now.light, m.options.Variant, c.At); ok && change.Op == Scale {
			factors[pointer] = change.Value
		}
	}
	now.light.Variants[m.options.Variant].Corrected = nil // it has them now
	out, err := assemble(now.light, m.options, circuit.NewLaws(), now.beside, nil)
	if err != nil {
		return nil, err
	}
	out.stale, out.factors, out.applied = stale, factors, applied
	return out, nil
}

// Stale are the corrections that speak of nothing this light has.
func (m *Model) Stale() []design.Correction { return m.stale }

// Corrected are the corrections that are in its figures.
func (m *Model) Corrected() []design.Correction { return m.applied }

// Factor is what a figure is over what its document says, by its JSON Pointer: 1, unless
// readings correct it. Who says what to set divides by it.
func (m *Model) Factor(pointer string) float64 {
	if f, ok := m.factors[pointer]; ok {
		return f
	}
	return 1
}
