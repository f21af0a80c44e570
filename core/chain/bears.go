package chain

import (
	"math"

	"photherm/core/design"
)

// Bears is by how many times the currents of a record may grow before something on a feed, or below a
// node, is above what it bears: its emitters their absolute maximum (their rating, where that is not
// known), and of a feed its cells what they may give. +Inf: nothing is known of what they bear, or
// nothing flows.
func (m *Model) Bears(owner string, record []float64) float64 {
	figure := func(owner, name string) float64 {
		for i, c := range m.columns {
			if c.Owner == owner && c.Figure == name {
				return record[i]
			}
		}
		return 0
	}
	least := math.Inf(1)
	take := func(limit *float64, size, is float64) {
		if limit != nil && is > 0 {
			least = min(least, *limit*size/is)
		}
	}
	emitters := func(nodes []design.Node) {
		for n := range design.NodesOf(nodes) {
			if n.Array == nil {
				continue
			}
			a := figure(n.ID, "stringA")
			ids := []string{n.Array.PartID}
			for _, more := range n.Array.Mixed {
				ids = append(ids, more.PartID)
			}
			for k, id := range ids {
				part := m.light.Part(id)
				if part == nil || part.Emitter == nil {
					continue
				}
				size := 1.0
				if k == 0 {
					size = n.Array.RowsMounted(part.Emitter)
				}
				if part.Emitter.MaxCurrentA != nil {
					take(part.Emitter.MaxCurrentA, size, a)
				} else {
					take(part.Emitter.RatedCurrentA, size, a)
				}
			}
		}
	}
	v := m.net.Variant
	for i := range v.Feeds {
		f := &v.Feeds[i]
		if f.ID != owner {
			if n := design.FindNode(f.Loads, owner); n != nil {
				emitters([]design.Node{*n})
			}
			continue
		}
		emitters(f.Loads)
		if len(f.Sources) > 0 && f.Sources[0].Pack != nil {
			if part := m.light.Part(f.Sources[0].Pack.PartID); part != nil && part.Cell != nil {
				take(part.Cell.MaxDischargeA, float64(max(f.Sources[0].Pack.Parallel, 1)), figure(f.ID, "busA"))
			}
		}
	}
	return least
}
