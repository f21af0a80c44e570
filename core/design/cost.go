package design

// Cost is what the parts of a variant come to.
type Cost struct {
	Sum      float64 `json:"sum" doc:"Of the parts whose price is known, in the builder's own money"`
	Unpriced int     `json:"unpriced" doc:"How many parts have no price"`
	Priced   int     `json:"priced" doc:"How many have one"`
}

// CostOf adds up the prices of what a variant takes, strip and profile by the metre.
func CostOf(l *Light, variant int) Cost {
	v := &l.Variants[variant]
	metres := map[string]float64{}
	stripMetres(v, metres)
	var out Cost
	needs := Needs(v)
	for i := range l.Parts {
		p := &l.Parts[i]
		n := float64(needs[p.ID])
		switch {
		case n == 0:
		case p.Price == nil:
			out.Unpriced++
		default:
			if p.Strip != nil || p.Profile != nil {
				n = metres[p.ID]
			}
			out.Sum += *p.Price * n
			out.Priced++
		}
	}
	return out
}

func stripMetres(v *Variant, metres map[string]float64) {
	for n, all := range Nodes(v) {
		if n.Strip != nil {
			for _, m := range n.Strip.PiecesM {
				metres[n.Strip.PartID] += m * float64(all)
			}
		}
	}
	for i := range v.Bodies {
		if s := v.Bodies[i].Shape; s != nil && s.LengthM != nil {
			metres[s.PartID] += *s.LengthM
		}
	}
}
