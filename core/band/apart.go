package band

import (
	"math"

	"photherm/core/chain"
	"photherm/core/design"
)

// Half of the variance of what emitters are off by is their lot's, half their own (chosen: data
// tell both together). A single one is then off by what its data say, many by seven tenths of it.
var lotShare = math.Sqrt(0.5)

// mostApart is how many emitters of an array are drawn apart from their lot (chosen: what more of
// them are off by for themselves is a fifth of what their lot is, and adds a fiftieth to it).
const mostApart = 25

// drawnFigures are what the lights of a band differ in: tolerances, those of emitters parted into
// their lot's and their own. What readings correct is of the emitters that are there.
func drawnFigures(m *chain.Model) []Tolerance {
	list := Tolerances(m)
	corrected := map[string]bool{}
	for _, c := range m.Corrected() {
		corrected[design.AtOnce(chain.FullPointer(m.Variant(), c.At))] = true
	}
	at := map[string]int{}
	for i := range list {
		at[list[i].Pointer] = i
	}
	parted := map[int]bool{}
	part := func(lot, own, label string, scale bool, n float64) {
		i, ok := at[lot]
		if !ok || corrected[design.AtOnce(lot)] {
			return
		}
		mine := list[i]
		if !parted[i] {
			list[i].Spread, parted[i] = list[i].Spread*lotShare, true
		} else {
			mine.Spread /= lotShare
		}
		if n > mostApart {
			return
		}
		mine.Label, mine.Pointer, mine.Spread, mine.Uniform, mine.beside, mine.scale = label, own, mine.Spread*lotShare/math.Sqrt(n), mine.Uniform && n == 1, true, scale
		if mine.now = 0; scale {
			mine.now = 1
		}
		list = append(list, mine)
	}
	v := m.Variant()
	for i := range v.Feeds {
		var walk func(nodes []design.Node, times float64)
		walk = func(nodes []design.Node, times float64) {
			for k := range nodes {
				n := &nodes[k]
				times := times * float64(max(n.Count, 1))
				if a := n.Array; a != nil && a.PartID != "" {
					emitters := times * float64(a.Series*a.Parallel*max(a.Count, 1))
					here, of := "/variants/"+v.ID+"/feeds/"+v.Feeds[i].ID+"/loads/"+n.ID+"/array/", "/parts/"+a.PartID+"/emitter/"
					part(of+"vfOffsetV", here+"vfOffsetV", "forward voltage of "+n.Called()+", one to the next", false, emitters)
					part(of+"fluxScale", here+"fluxScale", "light of "+n.Called()+", one to the next", true, emitters)
				}
				walk(n.Loads, times)
			}
		}
		walk(v.Feeds[i].Loads, 1)
	}
	return list
}
