package lot

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
)

// An Ask is which pack is wanted of a lot.
type Ask struct {
	Series   int    `json:"series" minimum:"1" maximum:"100" doc:"Groups in series"`
	Parallel int    `json:"parallel" minimum:"1" maximum:"50" doc:"Cells in a group"`
	Grade    string `json:"grade,omitempty" enum:"A,B,open" doc:"Cells of this grade and better; open: those not yet graded too; absent: B"`
	Weakest  bool   `json:"weakest,omitempty" doc:"Takes the weakest cells that will do rather than the strongest: for a gentle lamp"`
}

// A Grouped pack is how cells lie in it.
type Grouped struct {
	Groups     []Group  `json:"groups" nullable:"false"`
	Left       []string `json:"left" nullable:"false" doc:"Cells that will do and are left over, the strongest first"`
	WeakestAh  float64  `json:"weakestAh" doc:"Capacity of the weakest group, Ah: that of the pack"`
	SpreadAh   float64  `json:"spreadAh" doc:"Strongest group less the weakest, Ah"`
	WorstOhm   float64  `json:"worstOhm" doc:"Highest resistance of a group, Ω"`
	BoundAh    float64  `json:"boundAh" doc:"What the weakest group can have at best, Ah"`
	GapShare   float64  `json:"gapShare" doc:"By what share it may be better at most"`
	Proven     bool     `json:"proven" doc:"Whether no grouping of these cells has a stronger weakest group"`
	AllProven  bool     `json:"allProven" doc:"Whether none of those has a lesser spread, and none of those a lesser resistance"`
	CellsAh    float64  `json:"cellsAh" doc:"What the cells hold together, over the groups in series: more than the pack gives by what is stranded"`
	MeanSpread float64  `json:"meanSpreadShare" doc:"Spread of the cells' own capacities, over their mean"`
}

// A Group lies side by side.
type Group struct {
	Labels      []string `json:"labels" nullable:"false"`
	CapacityAh  float64  `json:"capacityAh"`
	ResistOhm   float64  `json:"resistanceOhm"`
	WeakestCell string   `json:"weakestCell" doc:"The cell with the least capacity"`
}

// mostExhaustive is up to how many cells every grouping is tried (chosen: at most 2.6 million).
const mostExhaustive = 16

// mAh is in what capacities are compared: no meter tells more.
const mAh = 1000

type item struct {
	cell *Found
	mAh  int
	s    float64 // 1/Ω
}

// GroupOf groups the cells of a lot that will do. Which cells are used is settled first: the
// strongest (no grouping of others has a stronger weakest group), or the weakest. Then the
// weakest group is as strong as can be, then the groups' capacities as alike, then the
// highest resistance of a group as low.
func GroupOf(ctx context.Context, l *Lot, ask Ask) (*Grouped, error) {
	n := ask.Series * ask.Parallel
	items := fit(l, ask)
	if len(items) < n {
		return nil, fmt.Errorf("%d in series with %d side by side take %d cells, and %d of this lot will do", ask.Series, ask.Parallel, n, len(items))
	}
	used, left := items[:n], items[n:]
	if ask.Weakest {
		used, left = items[len(items)-n:], items[:len(items)-n]
	}
	g := grouping{items: used, series: ask.Series, parallel: ask.Parallel, of: make([]int, n)}
	var err error
	switch {
	case n <= mostExhaustive:
		err = g.exhaust(ctx)
		g.proven, g.allProven = true, true
	case ask.Series == 2:
		g.split(0, 1, nil)
		g.proven = true
		g.evenOhms()
	case ask.Series == 1:
		g.proven, g.allProven = true, true
	case ask.Parallel == 1: // every cell a group
		for i := range g.of {
			g.of[i] = i
		}
		g.proven, g.allProven = true, true
	default:
		err = g.search(ctx)
		g.evenOhms()
	}
	if err != nil {
		return nil, err
	}
	return g.told(left), nil
}

// fit are the cells that will do, the strongest first.
func fit(l *Lot, ask Ask) []item {
	grades := map[string]bool{"A": true, "B": ask.Grade != "A", "open": ask.Grade == "open"}
	var items []item
	for i, g := range Grade(l) {
		c := &l.Cells[i]
		if !grades[g.Grade] || c.MeasuredAh == nil || c.ResistanceOhm == nil || *c.MeasuredAh <= 0 || *c.ResistanceOhm <= 0 {
			continue
		}
		items = append(items, item{c, int(math.Round(*c.MeasuredAh * mAh)), 1 / *c.ResistanceOhm})
	}
	slices.SortStableFunc(items, func(a, b item) int { return cmp.Or(b.mAh-a.mAh, cmp.Compare(b.s, a.s)) })
	return items
}

type grouping struct {
	items            []item
	series, parallel int
	of               []int // the group of each item
	proven           bool
	allProven        bool
}

// A score is compared by its parts in turn: weakest, spread, worst resistance.
type score struct {
	weakest, spread int
	worstOhm        float64
}

func (a score) better(b score) bool {
	switch {
	case a.weakest != b.weakest:
		return a.weakest > b.weakest
	case a.spread != b.spread:
		return a.spread < b.spread
	}
	return a.worstOhm < b.worstOhm*(1-1e-12)
}

func scored(sums []int, s []float64) score {
	least := slices.Min(s)
	return score{slices.Min(sums), slices.Max(sums) - slices.Min(sums), 1 / least}
}

func (g *grouping) sums() (mAh []int, s []float64) {
	mAh, s = make([]int, g.series), make([]float64, g.series)
	for i, k := range g.of {
		mAh[k] += g.items[i].mAh
		s[k] += g.items[i].s
	}
	return mAh, s
}

// exhaust tries every grouping, cutting off those whose weakest group cannot reach the best
// found.
func (g *grouping) exhaust(ctx context.Context) error {
	n := len(g.items)
	sums, s, count, of := make([]int, g.series), make([]float64, g.series), make([]int, g.series), make([]int, n)
	ahead := make([]int, n+1) // sums of the items from the front
	for i := range g.items {
		ahead[i+1] = ahead[i] + g.items[i].mAh
	}
	best := score{weakest: -1}
	tries := 0
	var err error
	var place func(i int)
	place = func(i int) {
		if err != nil {
			return
		}
		if tries++; tries&0xffff == 0 && ctx.Err() != nil {
			err = fmt.Errorf("grouping: %w", ctx.Err())
			return
		}
		if i == n {
			if now := scored(sums, s); best.weakest < 0 || now.better(best) {
				best = now
				copy(g.of, of)
			}
			return
		}
		for k := range g.series {
			// The most this group can still get are the next items, the strongest of those left.
			if open := g.parallel - count[k]; sums[k]+ahead[min(i+open, n)]-ahead[i] < best.weakest {
				return
			}
		}
		for k := range g.series {
			if count[k] == g.parallel {
				continue
			}
			of[i] = k
			count[k], sums[k], s[k] = count[k]+1, sums[k]+g.items[i].mAh, s[k]+g.items[i].s
			place(i + 1)
			count[k], sums[k] = count[k]-1, sums[k]-g.items[i].mAh
			if s[k] -= g.items[i].s; count[k] == 0 {
				s[k] = 0
				break // the empty groups are alike
			}
		}
	}
	place(0)
	return err
}

// split parts the cells of two groups anew so that their sums are as near as can be: a set of
// sums that so many cells can have, kept as bits (subset sums with a count). random, if there
// is one, orders the cells. It tells whether they got nearer.
func (g *grouping) split(a, b int, random *rand.Rand) bool {
	var at []int
	before, total, least := 0, 0, math.MaxInt
	for i, k := range g.of {
		if len(g.of) == 2*g.parallel || k == a || k == b {
			at = append(at, i)
			least = min(least, g.items[i].mAh)
			total += g.items[i].mAh
		}
	}
	for _, i := range at {
		if g.of[i] == a {
			before += g.items[i].mAh
		}
	}
	if random != nil {
		random.Shuffle(len(at), func(i, j int) { at[i], at[j] = at[j], at[i] })
	}
	// What all have is taken off: as many cells of each, so that sums are small.
	span := 0
	over := make([]int, len(at))
	for i, x := range at {
		over[i] = g.items[x].mAh - least
	}
	sorted := slices.Clone(over)
	slices.Sort(sorted)
	for _, x := range sorted[len(sorted)-g.parallel:] {
		span += x
	}
	reach := make([][]bits, len(at)+1)
	reach[0] = make([]bits, g.parallel+1)
	for c := range reach[0] {
		reach[0][c] = make(bits, span/64+1)
	}
	reach[0][0].set(0)
	for i, x := range over {
		reach[i+1] = make([]bits, g.parallel+1)
		for c := range reach[i+1] {
			reach[i+1][c] = slices.Clone(reach[i][c])
			if c > 0 {
				reach[i+1][c].orShifted(reach[i][c-1], x)
			}
		}
	}
	all := total - 2*g.parallel*least
	sum := reach[len(at)][g.parallel].nearest(all, span)
	if found := sum + g.parallel*least; abs(total-2*found) >= abs(total-2*before) && countOf(g.of, a) == g.parallel {
		return false
	}
	c := g.parallel
	for i := len(at) - 1; i >= 0; i-- {
		if reach[i][c].has(sum) {
			g.of[at[i]] = b
			continue
		}
		g.of[at[i]], c, sum = a, c-1, sum-over[i]
	}
	return true
}

func countOf(of []int, k int) (n int) {
	for _, x := range of {
		if x == k {
			n++
		}
	}
	return n
}

func abs(x int) int { return max(x, -x) }

// bits is a set of small numbers.
type bits []uint64

func (b bits) set(i int)      { b[i/64] |= 1 << (i % 64) }
func (b bits) has(i int) bool { return i >= 0 && i/64 < len(b) && b[i/64]>>(i%64)&1 == 1 }

// orShifted adds another set, each of its numbers raised; what falls out is not wanted.
func (b bits) orShifted(o bits, by int) {
	words, rest := by/64, by%64
	for i := len(b) - 1; i >= words; i-- {
		x := o[i-words] << rest
		if rest > 0 && i > words {
			x |= o[i-words-1] >> (64 - rest)
		}
		b[i] |= x
	}
}

// nearest is the number whose double is nearest to all.
func (b bits) nearest(all, span int) int {
	for d := 0; ; d++ {
		switch low, high := (all-d)/2, (all+d+1)/2; {
		case low >= 0 && b.has(low):
			return low
		case high <= span && b.has(high):
			return high
		case low < 0 && high > span:
			return 0
		}
	}
}

// mostStarts is from how many beginnings a grouping is sought (chosen).
const mostStarts = 12

// search deals the cells out in turn and back, then parts pairs of groups anew until no pair
// gets nearer; from several beginnings. The bound is the mean of the groups.
func (g *grouping) search(ctx context.Context) error {
	random := rand.New(rand.NewPCG(1, 2))
	best, bestOf := score{weakest: -1}, make([]int, len(g.of))
	total := 0
	for i := range g.items {
		total += g.items[i].mAh
	}
	for start := range mostStarts {
		for i := range g.of {
			k := i % g.series
			if (i/g.series)%2 == 1 {
				k = g.series - 1 - k
			}
			g.of[i] = k
		}
		if start > 0 {
			random.Shuffle(len(g.of), func(i, j int) { g.of[i], g.of[j] = g.of[j], g.of[i] })
		}
		for again := true; again; {
			again = false
			for a := range g.series {
				for b := a + 1; b < g.series; b++ {
					if err := ctx.Err(); err != nil {
						return fmt.Errorf("grouping: %w", err)
					}
					again = g.split(a, b, random) || again
				}
			}
		}
		sums, s := g.sums()
		if now := scored(sums, s); best.weakest < 0 || now.better(best) {
			best = now
			copy(bestOf, g.of)
		}
		if best.weakest == total/g.series && best.spread <= 1 {
			break
		}
	}
	copy(g.of, bestOf)
	g.proven = best.weakest == total/g.series
	return nil
}

// evenOhms swaps cells of one capacity, or pairs of one sum, between groups where that lowers
// the highest resistance; sums stay.
func (g *grouping) evenOhms() {
	swap := func(i, j int) bool {
		sums, s := g.sums()
		was := scored(sums, s)
		g.of[i], g.of[j] = g.of[j], g.of[i]
		if sums, s = g.sums(); scored(sums, s).better(was) {
			return true
		}
		g.of[i], g.of[j] = g.of[j], g.of[i]
		return false
	}
	for again, rounds := true, 0; again && rounds < 50; rounds++ {
		again = false
		for i := range g.items {
			for j := i + 1; j < len(g.items); j++ {
				if g.of[i] != g.of[j] && g.items[i].mAh == g.items[j].mAh {
					again = swap(i, j) || again
				}
			}
		}
	}
}

func (g *grouping) told(left []item) *Grouped {
	sums, s := g.sums()
	now := scored(sums, s)
	total := 0
	out := &Grouped{Left: []string{}, WeakestAh: float64(now.weakest) / mAh, SpreadAh: float64(now.spread) / mAh, WorstOhm: now.worstOhm, Proven: g.proven, AllProven: g.allProven}
	order := make([]int, g.series) // the weakest group first
	for k := range order {
		order[k] = k
	}
	slices.SortStableFunc(order, func(a, b int) int { return sums[a] - sums[b] })
	for _, k := range order {
		group := Group{Labels: []string{}, CapacityAh: float64(sums[k]) / mAh, ResistOhm: 1 / s[k]}
		for i := range g.items {
			if g.of[i] == k {
				group.Labels = append(group.Labels, g.items[i].cell.Label)
				group.WeakestCell = g.items[i].cell.Label
			}
		}
		out.Groups = append(out.Groups, group)
	}
	most, least := 0, math.MaxInt
	for i := range g.items {
		total += g.items[i].mAh
		most, least = max(most, g.items[i].mAh), min(least, g.items[i].mAh)
	}
	for i := range left {
		out.Left = append(out.Left, left[i].cell.Label)
	}
	out.CellsAh = float64(total) / mAh / float64(g.series)
	out.BoundAh = float64(total/g.series) / mAh
	if g.proven {
		out.BoundAh = out.WeakestAh
	}
	out.GapShare = max(0, 1-out.WeakestAh/out.BoundAh)
	out.MeanSpread = float64(most-least) * float64(len(g.items)) / float64(total)
	return out
}
