package design

// Part is a part of the light by its id; nil if there is none.
func (l *Light) Part(id string) *Part {
	for i := range l.Parts {
		if l.Parts[i].ID == id {
			return &l.Parts[i]
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

// Called is what a node is called.
func (n *Node) Called() string { return or(n.Name, n.ID) }

// Called is what a source is called.
func (s *Source) Called() string { return or(s.Name, s.ID) }

func or(name, id string) string {
	if name != "" {
		return name
	}
	return id
}

// RowsMounted is the rows of dies of an array's packages really mounted over those that
// the data of its emitter are for.
func (a *Array) RowsMounted(e *Emitter) float64 {
	if a.PackageRows <= 0 {
		return 1
	}
	return float64(a.PackageRows) / float64(max(e.Rows, 1))
}
