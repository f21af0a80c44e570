package design

// Needs counts what a variant takes of each part: emitters, cells, loads and drivers one
// by one, of which channels of one chip are one, and strip in pieces.
func Needs(v *Variant) map[string]int {
	out := map[string]int{}
	chips := map[string]bool{}
	for n, all := range Nodes(v) {
		switch {
		case n.Driver != nil && n.Driver.Chip != "":
			if !chips[n.Driver.Chip] {
				chips[n.Driver.Chip] = true
				out[n.Driver.PartID]++
			}
		case n.Driver != nil:
			out[n.Driver.PartID] += all
		case n.Array != nil:
			strings := all * n.Array.Parallel * max(n.Array.Count, 1)
			out[n.Array.PartID] += strings * n.Array.Series
			for _, m := range n.Array.Mixed {
				out[m.PartID] += strings * m.Series
			}
		case n.Strip != nil:
			out[n.Strip.PartID] += all * len(n.Strip.PiecesM)
		case n.Load != nil:
			out[n.Load.PartID] += all
		}
	}
	for i := range v.Feeds {
		if s := v.Feeds[i].Sources; len(s) > 0 && s[0].Pack != nil {
			out[s[0].Pack.PartID] += s[0].Pack.CellsIn()
			out[s[0].Pack.ProtectionID]++
			if c := s[0].Pack.Charger; c != nil {
				out[c.PartID]++
			}
		}
	}
	for i := range v.Bodies {
		if s := v.Bodies[i].Shape; s != nil {
			out[s.PartID]++
		}
	}
	delete(out, "")
	return out
}
