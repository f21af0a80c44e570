package design

import "fmt"

// Part is a part of the light by its id; nil if there is none.
func (l *Light) Part(id string) *Part {
	for i := range l.Parts {
		if l.Parts[i].ID == id {
			return &l.Parts[i]
		}
	}
	return nil
}

// Body is a body of the variant by its id; nil if there is none.
func (v *Variant) Body(id string) *Body {
	for i := range v.Bodies {
		if v.Bodies[i].ID == id {
			return &v.Bodies[i]
		}
	}
	return nil
}

// FindNode looks for a node by its id among nodes and what hangs on them; nil if there is
// none.
func FindNode(nodes []Node, id string) *Node {
	for i := range nodes {
		if nodes[i].ID == id {
			return &nodes[i]
		}
		if n := FindNode(nodes[i].Loads, id); n != nil {
			return n
		}
	}
	return nil
}

// FindIn looks for a node by its id in a variant; nil if there is none.
func FindIn(v *Variant, id string) *Node {
	for i := range v.Feeds {
		if n := FindNode(v.Feeds[i].Loads, id); n != nil {
			return n
		}
	}
	return nil
}

// DriversAbove are the drivers on the way to a node, the one nearest the source first; not
// ok if it is not among nodes.
func DriversAbove(nodes []Node, id string) (above []*Node, ok bool) {
	for i := range nodes {
		n := &nodes[i]
		if n.ID == id {
			return nil, true
		}
		if further, found := DriversAbove(n.Loads, id); found {
			if n.Driver != nil {
				further = append([]*Node{n}, further...)
			}
			return further, true
		}
	}
	return nil, false
}

// Called is what a node is called.
func (n *Node) Called() string {
	switch {
	case n.Name != "":
		return n.Name
	case n.Switch != nil:
		return "Switch"
	case n.Dimmer != nil:
		return "Wall dimmer"
	case n.Driver != nil:
		return "Driver"
	case n.Strip != nil:
		return "Strip"
	case n.Load != nil:
		return "Measured load"
	case n.Aux != nil:
		return "Fan, gauge or controller"
	}
	return "Emitters"
}

// Called is what a source is called.
func (s *Source) Called() string {
	switch {
	case s.Name != "":
		return s.Name
	case s.Pack != nil:
		return fmt.Sprintf("%dS%dP pack", s.Pack.Series, s.Pack.Parallel)
	case s.Supply != nil:
		return fmt.Sprintf("%g V supply", s.Supply.VoltageV)
	case s.Mains != nil:
		return fmt.Sprintf("%g V mains", s.Mains.VoltageV)
	}
	return "Source not chosen yet"
}

// RowsMounted is the rows of dies of an array's packages really mounted over those that
// the data of its emitter are for.
func (a *Array) RowsMounted(e *Emitter) float64 {
	if a.PackageRows <= 0 {
		return 1
	}
	return float64(a.PackageRows) / float64(max(e.Rows, 1))
}
