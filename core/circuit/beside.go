package circuit

import (
	"math"
	"strings"
)

// Beside holds figures that stand beside the document: neutral unless varied. They are
// named like its own, by a pointer through ids.
type Beside map[string]float64

func (b Beside) of(pointer string, neutral float64) float64 {
	if v, ok := b[pointer]; ok {
		return v
	}
	return neutral
}

// besides are the kinds of such figures: of a part, or of a node.
var besides = []struct {
	ofPart             bool
	end, unit          string
	neutral, low, high float64
}{
	{true, "/emitter/vfOffsetV", "V", 0, -2, 2},
	{true, "/emitter/fluxScale", "1", 1, 0, 10},
	{true, "/cell/openCircuitOffsetV", "V", 0, -1, 1},
	{false, "/array/vfOffsetV", "V", 0, -2, 2},
	{false, "/scale", "1", 1, 0, 100},
	{false, "/array/fluxScale", "1", 1, 0, 10},
}

// A BesideFigure is one that can stand beside a document.
type BesideFigure struct {
	Pointer, Unit      string
	Neutral, Low, High float64
}

// BesideFigures lists those of a network.
func (n *Network) BesideFigures() []BesideFigure {
	var out []BesideFigure
	add := func(pointer string, i int) {
		b := &besides[i]
		out = append(out, BesideFigure{pointer, b.unit, b.neutral, b.low, b.high})
	}
	used := map[string]bool{}
	for i := range n.Light.Parts {
		p := &n.Light.Parts[i]
		for b := range besides {
			if besides[b].ofPart && !used[p.ID] && strings.HasPrefix(besides[b].end, "/"+p.Kind()+"/") {
				add("/parts/"+p.ID+besides[b].end, b)
			}
		}
		used[p.ID] = true
	}
	for k := range n.Nodes {
		node := &n.Nodes[k]
		at := "/variants/" + n.Variant.ID + "/feeds/" + n.Feeds[node.Feed].ID + "/loads/" + node.ID
		switch {
		case node.Kind == Array && node.Chosen:
			add(at+besides[3].end, 3)
			add(at+besides[5].end, 5)
		case node.Kind == Load, node.Kind == Aux:
			add(at+besides[4].end, 4)
		}
	}
	return out
}

var unlimited = math.Inf(1)
