package chain

import (
	"cmp"
	"math"
	"slices"

	"photherm/core/array"
	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/heat"
)

// Strings of one array whose places on a plate are not as warm as each other share its current
// unevenly. Those whose places are about as warm have a seat: a group in the array's law, with
// junctions, a board and a patch of the plate of its own.

// Bounds of the seats of one array, and of a plate: what is left within a seat is told at its
// places, and many seats cost a solve as many arrays do (chosen).
const (
	mostSeats        = 6
	mostSeatsOfPlate = 24
)

// A seat is some strings of an array and their places.
type seat struct {
	strings int
	spots   []int // in the layout
}

// stringSpots are the places of each string of an array, ordinary strings first, out of all its
// places in their order: one for each emitter, one for each string, or one for each board. Nil:
// they are none of these, or the array has one string alone.
func stringSpots(a *design.Array, strings int, spots []int) [][]int {
	each := a.Series
	for i := range a.Mixed {
		each += a.Mixed[i].Series
	}
	if strings < 2 {
		return nil
	}
	out := make([][]int, strings)
	switch boards := max(a.Count, 1); len(spots) {
	case strings * each:
		for s := range out {
			out[s] = spots[s*each : (s+1)*each]
		}
	case strings:
		for s := range out {
			out[s] = spots[s : s+1]
		}
	case boards:
		for s := range out {
			out[s] = spots[s*boards/strings : s*boards/strings+1]
		}
	default:
		return nil
	}
	return out
}

// seatsOf sorts the strings of an array by how far their places rise with all pads of the plate
// alike, hottest first. It is nil where all stand alike.
func seatsOf(of [][]int, rise []float64) (seatOf []int) {
	if of == nil {
		return nil
	}
	warm := make([]float64, len(of))
	order := make([]int, len(of))
	for s, spots := range of {
		for _, i := range spots {
			warm[s] += rise[i] / float64(len(spots))
		}
		order[s] = s
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(warm[b], warm[a]) })
	hottest, coldest := warm[order[0]], warm[order[len(order)-1]]
	if hottest-coldest <= alikeShare*math.Abs(hottest) {
		return nil
	}
	seatOf = make([]int, len(of))
	n, from := 0, hottest
	for _, s := range order {
		if from-warm[s] > (hottest-coldest)/mostSeats {
			n, from = n+1, warm[s]
		}
		seatOf[s] = n
	}
	return seatOf
}

// alikeShare is how little the rises of places differ, as a share, where they are taken as alike:
// places that mirror each other differ by the last digits alone (chosen).
const alikeShare = 1e-3

// seatsFrom lists the seats of an array.
func seatsFrom(seatOf []int, of [][]int) []seat {
	out := make([]seat, slices.Max(seatOf)+1)
	for s, k := range seatOf {
		out[k].strings++
		for _, i := range of[s] {
			if !slices.Contains(out[k].spots, i) {
				out[k].spots = append(out[k].spots, i)
			}
		}
	}
	for k := range out {
		slices.Sort(out[k].spots)
	}
	return out
}

// sit parts the strings of an array's law by their seats: each group keeps what it is, those of
// further seats come behind all others. It tells the seat of each group, and the group that each
// is of.
func sit(law *array.Law, seatOf []int) (seats, of []int) {
	was, at := law.Groups, 0
	law.Groups = slices.Clone(was)
	seats, of = make([]int, len(was)), make([]int, len(was))
	for g := range was {
		of[g] = g
		count := make([]int, slices.Max(seatOf)+1)
		for range was[g].Strings {
			count[seatOf[at]]++
			at++
		}
		first := true
		for k, n := range count {
			if n == 0 {
				continue
			}
			if first {
				law.Groups[g].Strings, seats[g], first = n, k, false
				continue
			}
			more := was[g]
			more.Strings = n
			law.Groups, seats, of = append(law.Groups, more), append(seats, k), append(of, g)
		}
	}
	return seats, of
}

// seatPlate finds the seats of all arrays on a plate. An array whose strings stand alike, or
// nobody knows where, has one.
func (c *compiler) seatPlate(l *design.Layout, nodes map[string]*design.Node, influence *heat.Influences, narrow []float64) (order []string, seats map[string][]seat) {
	spots := map[string][]int{}
	for i := range l.Spots {
		id := l.Spots[i].NodeID
		if spots[id] == nil {
			order = append(order, id)
		}
		spots[id] = append(spots[id], i)
	}
	rise := make([]float64, len(l.Spots))
	for i := range rise {
		for j := range rise {
			rise[i] += influence.KPerW[i][j]
		}
		rise[i] += narrow[i]
	}
	seats = map[string][]seat{}
	chosen, left := map[string][]int{}, mostSeatsOfPlate
	for _, id := range order {
		seats[id] = []seat{{0, spots[id]}}
		left--
		k := c.nodeNamed(id)
		if k < 0 {
			continue
		}
		n := &c.net.Nodes[k] // without emitters of no strings
		if seats[id][0].strings = n.Arr.Strings(); n.Times != 1 {
			continue
		}
		of := stringSpots(nodes[id].Array, n.Arr.Strings(), spots[id])
		seatOf := seatsOf(of, rise)
		if c.given != nil {
			seatOf = c.given[id] // a light whose figures vary keeps its structure
		}
		if seatOf != nil {
			seats[id], chosen[id] = seatsFrom(seatOf, of), seatOf
			left -= len(seats[id]) - 1
		}
	}
	for _, id := range order {
		seatOf := chosen[id]
		if seatOf == nil {
			continue
		}
		if left < 0 {
			seats[id] = []seat{{len(seatOf), spots[id]}}
			continue
		}
		k := c.nodeNamed(id)
		c.seatOf[id] = seatOf
		c.seats[k], c.origin[k] = sit(&c.net.Nodes[k].Arr, seatOf)
	}
	return order, seats
}

// seatAt is the seat of a group of strings; all of an array without seats have the first.
func (m *Model) seatAt(k, group int) int {
	if seats := m.seats[k]; group < len(seats) {
		return seats[group]
	}
	return 0
}

// originOf is the group of the document's strings that a group was parted from: 0, the ordinary
// ones; from 1 on those that are said to differ.
func (m *Model) originOf(k, group int) int {
	if of := m.origin[k]; group < len(of) {
		return of[group]
	}
	return group
}

// spotsOf are the places of a group of strings of an array that has seats; else none.
func (m *Model) spotsOf(k, group int) []int {
	out := []int{}
	if m.seats[k] == nil {
		return out
	}
	for _, spot := range m.platedOf(k)[m.seatAt(k, group)].spots {
		out = append(out, spot.index)
	}
	return out
}

// OnPlaces spreads what a string of each group does over the places of an array in their order, of
// which there are so many. It is nil where nobody knows which string has which place.
func (m *Model) OnPlaces(id string, places int, each func(group int) float64) []float64 {
	k := m.net.Find(id, circuit.Array)
	if k < 0 || !m.net.Nodes[k].Chosen {
		return nil
	}
	own := make([]int, places)
	for i := range own {
		own[i] = i
	}
	law := &m.net.Nodes[k].Arr
	of := stringSpots(design.FindIn(m.net.Variant, id).Array, law.Strings(), own)
	if of == nil {
		return nil
	}
	out := make([]float64, places)
	for g, strings := range groupStrings(law, m.origin[k], m.seats[k], m.seatOf[id]) {
		for _, s := range strings {
			for _, i := range of[s] {
				out[i] += each(g) / float64(len(of[s]))
			}
		}
	}
	return out
}

// StringsAlike tells that an array has parallel strings and nobody knows which of its places, of
// which there are so many, is whose: that all are as warm as the places are on average.
func (m *Model) StringsAlike(id string, places int) bool {
	k := m.net.Find(id, circuit.Array)
	if k < 0 || !m.net.Nodes[k].Chosen || m.net.Nodes[k].Arr.Strings() < 2 {
		return false
	}
	return m.net.Nodes[k].Times != 1 || m.OnPlaces(id, places, func(int) float64 { return 1 }) == nil
}

// groupStrings lists the strings of each group of an array, counted as the document has them: the
// ordinary ones first, then each kind that differs.
func groupStrings(law *array.Law, origin, seats, seatOf []int) [][]int {
	out := make([][]int, len(law.Groups))
	at := 0
	if origin == nil {
		for g := range law.Groups {
			for range law.Groups[g].Strings {
				out[g] = append(out[g], at)
				at++
			}
		}
		return out
	}
	for was := range law.Groups {
		n := 0
		for g := range law.Groups {
			if origin[g] == was {
				n += law.Groups[g].Strings
			}
		}
		for s := at; s < at+n; s++ {
			for g := range law.Groups {
				if origin[g] == was && seats[g] == seatOf[s] {
					out[g] = append(out[g], s)
				}
			}
		}
		at += n
	}
	return out
}

// platedOf are the seats of an array with places on a plate, in their order; none: it has none.
func (m *Model) platedOf(k int) (out []*plated) {
	for i := range m.plates {
		for a := range m.plates[i].arrays {
			if m.plates[i].arrays[a].node == k {
				out = append(out, &m.plates[i].arrays[a])
			}
		}
	}
	return out
}
