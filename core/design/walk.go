package design

import "iter"

// Nodes are all nodes of a variant, each before what hangs on it, with how often it is there:
// its count times that of all above it.
func Nodes(v *Variant) iter.Seq2[*Node, int] {
	return func(yield func(*Node, int) bool) {
		for i := range v.Feeds {
			for n, times := range NodesOf(v.Feeds[i].Loads) {
				if !yield(n, times) {
					return
				}
			}
		}
	}
}

// NodesOf are the same of what hangs on one bus.
func NodesOf(loads []Node) iter.Seq2[*Node, int] {
	return func(yield func(*Node, int) bool) { walk(loads, 1, yield) }
}

func walk(loads []Node, times int, yield func(*Node, int) bool) bool {
	for i := range loads {
		n := &loads[i]
		all := times * max(n.Count, 1)
		if !yield(n, all) || !walk(n.Loads, all, yield) {
			return false
		}
	}
	return true
}
