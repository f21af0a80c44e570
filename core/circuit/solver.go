package circuit

import (
	"context"
	"fmt"
	"slices"

	"photherm/core/driver"
)

// A Solver holds one network with its variations and the memory to solve it. It is not
// safe for use from several goroutines; make one for each.
//
// Set Y, JunctionC, CellC, Locked and the feeders' Cut, and call Solve.
type Solver struct {
	Net     *Network
	Nodes   []Node
	Feeds   []Feed
	Feeders []Feeder

	Y         []float64 // states of all sources
	JunctionC []float64 // of each node that is an array
	CellC     []float64 // of each feeder
	Locked    []bool    // drivers that are locked out; as they are told
	Low       []bool    // supplies that hang at their lowest crossing; as they are told

	// Where something is switched on and off by duty, Point, FeedAt and FeederAt are
	// averages over a period, and those with On hold the instant when all is on.
	// Otherwise they are the same.
	Point, On          []NodePoint
	FeedAt, OnFeed     []FeedPoint
	FeederAt, OnFeeder []FeederPoint
	Collapsed          []bool // drivers under which their source breaks down: no state with them running
	Evals              int    // evaluations of single laws so far
	Budget             int    // of evaluations in one solve; 0: DefaultBudget
	ctx                context.Context
	startedAt          int
	stamp              int
	sinceLook          int
	buses              []bus
	leaves             []leaf
	kinds              []kind
	pending            []int
	order              []int
	held               []held
	out                []int // bus of what a node feeds; merged or folded
	leafOf             []int
	like               []int // of each driver, one before it beside it that is like it; −1: none
	feedBus            []int
	offers             []live
	breaks             []float64
	duties             []float64 // where a period is parted, rising, 0 and 1 not among them
	mean               moment
	moments            []moment // none where nothing is switched by duty
	restart            bool
	busy               int     // the bus that was worked at when the context was looked at last
	apart              float64 // the farthest an array's curve is from the voltage at its tangent, V
}

// held is what a driver's output stands at, whatever its input.
type held struct {
	stamp int // of the instant it was found in
	v, a  float64
	valid bool // the buses below still stand so
}

// Solver makes a solver with the network's own figures.
func (n *Network) Solver() *Solver {
	s := &Solver{Net: n, ctx: context.Background()}
	s.Reset(n)
	return s
}

// Reset takes the figures of another network of the same structure.
func (s *Solver) Reset(n *Network) {
	nodes := len(n.Nodes)
	s.Net = n
	s.Nodes, s.Feeds, s.Feeders = slices.Clone(n.Nodes), slices.Clone(n.Feeds), slices.Clone(n.Feeders)
	for i := range s.Nodes {
		s.Nodes[i].Arr.Groups = slices.Clone(s.Nodes[i].Arr.Groups)
	}
	if len(s.Locked) != nodes || len(s.CellC) != len(n.Feeders) || len(s.feedBus) != len(n.Feeds) {
		s.mean, s.moments = s.newMoment(), nil
		s.JunctionC, s.CellC = make([]float64, nodes), make([]float64, len(n.Feeders))
		s.Locked, s.Low = make([]bool, nodes), make([]bool, nodes)
		s.held, s.out, s.leafOf, s.like = make([]held, nodes), make([]int, nodes), make([]int, nodes), make([]int, nodes)
		s.feedBus = make([]int, len(n.Feeds))
		s.Y = make([]float64, n.States)
	}
	s.Prepare()
}

// Within bounds what is asked from here on by a context: once it is done the work stops
// within some 50 ms, and Caught has the reason.
func (s *Solver) Within(ctx context.Context) { s.ctx = ctx }

// DefaultBudget is how many evaluations of single laws one solve may take: chosen, some
// quarter of a second of work.
const DefaultBudget = 2_000_000

// halt unwinds a solve that may not go on.
type halt struct{ err error }

// Caught turns the panic of a solve that had to stop into an error. Every function that
// solves defers it:
//
//	defer circuit.Caught(&err)
func Caught(err *error) {
	switch x := recover().(type) {
	case nil:
	case halt:
		*err = x.err
	default:
		panic(x)
	}
}

// lookEvery is how many evaluations pass between two looks at the context.
const lookEvery = 256

// spend counts an evaluation for the part of the tree below a bus.
func (s *Solver) spend(b int) {
	s.Evals++
	if s.sinceLook++; s.sinceLook < lookEvery {
		return
	}
	s.sinceLook = 0
	if err := s.ctx.Err(); err != nil {
		panic(halt{fmt.Errorf("solving the power tree: %w", err)})
	}
	budget := s.Budget
	if budget == 0 {
		budget = DefaultBudget
	}
	if s.Evals-s.startedAt > budget {
		panic(halt{&TooMuchError{Part: s.partName(b)}})
	}
	s.busy = b
}

// TooMuch is the error for a question of many solves that together take too much work.
func (s *Solver) TooMuch() error { return &TooMuchError{Part: s.partName(s.busy)} }

// Look lets a loop outside that asks many solves stop in time.
func (s *Solver) Look() {
	if err := s.ctx.Err(); err != nil {
		panic(halt{fmt.Errorf("solving the power tree: %w", err)})
	}
}

// A TooMuchError says which part of a tree takes more work than it may.
type TooMuchError struct{ Part string }

func (e *TooMuchError) Error() string {
	return fmt.Sprintf("what hangs on %s is too much to solve: take drivers, joints or loads that step out of it", e.Part)
}

// partName names the node that makes a bus.
func (s *Solver) partName(b int) string {
	for b >= 0 {
		if k := s.buses[b].owner; k >= 0 {
			return s.Nodes[k].DisplayName()
		}
		if s.buses[b].parent < 0 {
			break
		}
		b = s.buses[b].parent
	}
	for i, root := range s.feedBus {
		if root == b {
			if f := &s.Feeds[i]; f.Name != "" {
				return f.Name
			}
			return s.Feeds[i].ID
		}
	}
	return "a feed"
}

// Forget drops what a solve would start from: the next one begins from no load.
func (s *Solver) Forget() {
	for i := range s.buses {
		s.buses[i].warm = false
	}
	for i := range s.leaves {
		s.leaves[i].a, s.leaves[i].before = 0, false
	}
	for i := range s.kinds {
		s.kinds[i].a = 0
	}
}

// Start writes the states at switch-on and takes every latch back.
func (s *Solver) Start(y []float64) {
	for i := range s.Feeders {
		f := &s.Feeders[i]
		f.Cut = false
		f.Law.Start(f.States(y), s.Net.Charge)
	}
	clear(s.Locked)
	clear(s.Low)
}

// Prepare works out what follows from the figures after they changed.
func (s *Solver) Prepare() {
	s.duties = s.duties[:0]
	for i := range s.Nodes {
		n := &s.Nodes[i]
		if n.Kind != Driver {
			continue
		}
		n.Drv.Level = n.Level
		for up := n.Parent; up >= 0 && n.Drv.FollowsCut; up = s.Nodes[up].Parent {
			if s.Nodes[up].Dimmer {
				n.Drv.Level *= s.Nodes[up].Level
			}
		}
		n.Drv.Prepare()
		if n.Drv.Family != driver.Absent {
			s.part(n.onShare())
		}
	}
	for i := range s.Feeders {
		s.part(s.Feeders[i].onShare())
	}
	slices.Sort(s.duties)
	s.layMoments()
	for i := range s.Feeds {
		f := &s.Feeds[i]
		switches, lit := s.reach(f.KidLo, f.KidHi)
		f.off = switches && !lit
	}
	for k := len(s.Nodes) - 1; k >= 0; k-- {
		n := &s.Nodes[k]
		n.kidsMonotone = true
		for j := n.KidLo; j < n.KidHi; j++ {
			n.kidsMonotone = n.kidsMonotone && s.Nodes[j].monotone
		}
		n.monotone = n.risingDraw()
	}
	s.build()
}

// part takes down where a period is parted.
func (s *Solver) part(share float64) {
	if share < 1 && !slices.Contains(s.duties, share) {
		s.duties = append(s.duties, share)
	}
}

// onShare is the share of the time a driver is on.
func (n *Node) onShare() float64 {
	if n.Cycle > 0 {
		return n.Drv.Duty * n.Cycle
	}
	return n.Drv.Duty
}

func (f *Feeder) onShare() float64 {
	if f.Cycle > 0 {
		return f.Cycle
	}
	return 1
}

// risingDraw tells whether the node's draw never falls as its voltage rises: then a bus
// of such nodes has one crossing.
func (n *Node) risingDraw() bool {
	if n.Fault != OK {
		return true
	}
	switch n.Kind {
	case Switch:
		return n.Off || n.kidsMonotone
	case Driver:
		return n.Drv.Family == driver.Absent || !n.Drv.Switches() && n.Drv.StandbyW == 0 && n.kidsMonotone
	case Load:
		for i := 1; i < len(n.Load); i++ {
			if n.Load[i].CurrentA < n.Load[i-1].CurrentA {
				return false
			}
		}
		if len(n.Load) == 0 {
			return true
		}
		last := n.measured(n.Load[len(n.Load)-1].VoltageV + 1)
		return n.Beyond != HoldsPower && last.slope >= 0 && n.measured(0.5*n.Load[0].VoltageV).slope >= 0
	case Aux:
		return n.StartV <= 0
	}
	return true
}

// reach tells whether there are switches among nodes and what hangs on them, or drivers that are put
// out by their control, and whether power reaches anything but auxiliaries.
func (s *Solver) reach(lo, hi int) (switches, lit bool) {
	for k := lo; k < hi; k++ {
		n := &s.Nodes[k]
		below, reached := s.reach(n.KidLo, n.KidHi)
		switch {
		case n.Kind == Switch:
			switches = true
			lit = lit || (!n.Off && reached)
		case n.Kind == Driver && n.Drv.Latches() && n.Drv.Level <= 0:
			switches = true
		case n.Kind == Aux:
		default:
			switches, lit = switches || below, true
		}
	}
	return switches, lit
}

// mostRestarts bounds how often a solve begins again because a driver broke down.
const mostRestarts = 200

// Solve finds the operating point of the whole tree and leaves it in Point, FeedAt and
// FeederAt. Lock-outs are taken as they are told; drivers that no state can hold are
// taken as locked out too, and marked in Collapsed.
//
// What is switched by duty is not followed edge by edge: all of it goes on at the same
// moment, each goes off after its duty, and the instants in between are solved and
// averaged by their share of the period.
//
// It does not allocate. It panics with what Caught catches if its context is done or
// its budget is spent.
func (s *Solver) Solve() {
	s.startedAt = s.Evals
	clear(s.Collapsed)
	if len(s.duties) == 0 {
		s.instant()
		return
	}
	s.solveMoments()
}

// instant solves the tree with everything as it is switched at one moment.
func (s *Solver) instant() {
	for range mostRestarts {
		s.restart = false
		s.stamp++
		for i := range s.Feeds {
			s.solveFeed(i)
			if s.restart {
				break
			}
		}
		if !s.restart {
			break
		}
	}
	for i := range s.Feeds {
		s.settleFeed(i)
	}
}

// solveFeed finds the voltages of all buses of a feed.
func (s *Solver) solveFeed(i int) {
	f := &s.Feeds[i]
	for k := f.FeederLo; k < f.FeederHi; k++ {
		feeder := &s.Feeders[k]
		t := feeder.Law.Terminal(feeder.States(s.Y), s.CellC[k])
		s.offers[k] = live{open: t.OpenV, ohm: max(t.SeriesOhm, driver.WireOhm), limit: t.LimitA, twoWay: t.TwoWay, cut: feeder.Cut || feeder.dark}
	}
	root := s.feedBus[i]
	o := offer{feeders: s.offers[f.FeederLo:f.FeederHi]}
	s.tops(root, o.openV())
	s.feed(root, &o)
}

// tops bounds the voltage each bus of a feed can reach.
func (s *Solver) tops(root int, openV float64) {
	for b := root; b < len(s.buses) && (b == root || s.buses[b].ownerBus >= 0 || s.buses[b].parent >= 0); b++ {
		x := &s.buses[b]
		switch {
		case b == root:
			x.top = openV
		case x.parent >= 0:
			x.top = s.buses[x.parent].top - x.v0
		default:
			d := &s.Nodes[x.owner].Drv
			in := s.buses[x.ownerBus].top
			e := d.Envelope(in)
			x.top = e.NoLoadV()
			if through, ok := d.Through(in); ok {
				x.top = max(x.top, through.OpenV)
			}
		}
	}
}
