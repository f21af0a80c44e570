package chain

import (
	"slices"

	"photherm/core/driver"
	"photherm/core/ode"
)

// A Solver holds one model with its variations and the memory to solve it. It is
// not safe for use from several goroutines; make one for each.
type Solver struct {
	m        *Model
	nodes    []node
	feeds    []feed
	links    []link
	jPerK    []float64
	ambientC float64
	startC   float64
	charge   float64

	y      []float64 // state at the operating point below
	point  []nodePoint
	feedAt []feedPoint
	// Where something is switched on and off by duty, point and feedAt are averages
	// over a period, and on and onFeed hold the instant when all is on. Otherwise
	// they are the same.
	on         []nodePoint
	onFeed     []feedPoint
	duties     []float64 // where a period is parted, rising, 0 and 1 not among them
	sum        []nodePoint
	sumFeed    []feedPoint
	allOn      []nodePoint
	allOnFed   []feedPoint
	locked     []bool
	cycling    int // node that locks out and restarts at once; -1: none
	lumpW      []float64
	breaks     []float64
	holdCharge bool    // while a steady state is looked for
	topV       float64 // highest voltage in the tree being solved
	stepper    *ode.Stepper
	scratch    []float64
	residual   []float64
}

// nodePoint is the operating point of a node.
type nodePoint struct {
	inV, inA, outV, outA, lossW float64
	innerV                      float64 // at the node itself, behind a bad joint
	mode                        driver.Mode
	inW, outW, jointW           float64 // jointW: of lossW, in a bad joint or ballast
	fluxLm, radiantW, opticW    float64 // leaving the emitters; lost in the optic
	farV                        float64 // strip: the lowest voltage at a segment
	known
}

// known is what of an operating point need not be found twice in one solve.
type known struct {
	limitV, limitAt float64 // an only array below: its voltage at that current
	fresh           bool
	atV, atA        float64 // array: a voltage whose current is known
	regulatedV      float64 // driver: its output at its set current
	regulated       bool
	heldBy          driver.Envelope // driver: its output within this envelope
	heldV, heldA    float64
}

type feedPoint struct {
	openV, busV, busA, lossW, busW float64
}

// Solver makes a solver with the model's own figures.
func (m *Model) Solver() *Solver {
	n := m.states + len(m.lumps)
	s := &Solver{
		m: m, nodes: cloneNodes(m.nodes), feeds: slices.Clone(m.feeds), links: slices.Clone(m.links),
		ambientC: m.ambientC, startC: m.startC, charge: m.charge, cycling: -1,
		jPerK: make([]float64, len(m.lumps)), point: make([]nodePoint, len(m.nodes)), feedAt: make([]feedPoint, len(m.feeds)),
		locked: make([]bool, len(m.nodes)), lumpW: make([]float64, len(m.lumps)), y: make([]float64, n),
		scratch: make([]float64, n), residual: make([]float64, n), breaks: make([]float64, 0, 64),
	}
	for i, l := range m.lumps {
		s.jPerK[i] = l.jPerK
	}
	s.prepare()
	return s
}

// prepare works out what follows from the figures after they changed.
func (s *Solver) prepare() {
	s.duties = s.duties[:0]
	for i := range s.nodes {
		n := &s.nodes[i]
		if n.kind != driverNode {
			continue
		}
		n.drv.Level = n.level
		for up := n.parent; up >= 0 && n.drv.FollowsCut; up = s.nodes[up].parent {
			if s.nodes[up].dimmer {
				n.drv.Level *= s.nodes[up].level
			}
		}
		n.drv.Prepare()
		if d := n.drv.Duty; d < 1 && n.drv.Family != driver.Absent && !slices.Contains(s.duties, d) {
			s.duties = append(s.duties, d)
		}
	}
	slices.Sort(s.duties)
	s.on, s.onFeed = s.point, s.feedAt
	if len(s.duties) > 0 {
		if s.allOn == nil {
			s.sum, s.allOn = make([]nodePoint, len(s.point)), make([]nodePoint, len(s.point))
			s.sumFeed, s.allOnFed = make([]feedPoint, len(s.feedAt)), make([]feedPoint, len(s.feedAt))
		}
		s.on, s.onFeed = s.allOn, s.allOnFed
	}
	for i := range s.feeds {
		f := &s.feeds[i]
		switches, lit := s.reach(f.kidLo, f.kidHi)
		f.off = switches && !lit
	}
	for i := range s.links {
		l := &s.links[i]
		r := 0.0
		for _, p := range l.parts {
			if p.share > 0 {
				r += p.kPerW / p.share
			}
		}
		l.wPerK = 1 / max(r, leastKPerW)
	}
	for i := range s.jPerK {
		s.jPerK[i] = max(s.jPerK[i], leastJPerK)
	}
}

// cloneNodes copies nodes so that varying one solver leaves the model alone.
func cloneNodes(nodes []node) []node {
	out := slices.Clone(nodes)
	for i := range out {
		out[i].arr.Groups = slices.Clone(out[i].arr.Groups)
	}
	return out
}

// reach tells whether there are switches among nodes and what hangs on them, and
// whether power reaches anything but auxiliaries.
func (s *Solver) reach(lo, hi int) (switches, lit bool) {
	for k := lo; k < hi; k++ {
		n := &s.nodes[k]
		below, reached := s.reach(n.kidLo, n.kidHi)
		switch n.kind {
		case switchNode:
			switches = true
			lit = lit || (n.open == 0 && reached)
		case auxNode:
		default:
			switches, lit = switches || below, true
		}
	}
	return switches, lit
}

// leastKPerW stands for a joint taken as perfect.
const leastKPerW = 1e-4

// start writes the state at switch-on.
func (s *Solver) start(y []float64) {
	for i := range s.m.states {
		y[i] = 0
	}
	for i := range s.feeds {
		s.feeds[i].cut = false
		if s.feeds[i].charge >= 0 {
			y[s.feeds[i].charge] = s.charge
		}
	}
	for i := range s.m.lumps {
		y[s.m.states+i] = s.startC
	}
	clear(s.locked)
	s.cycling = -1
}

// lumpC is the temperature of a lump in state y; ambient for noBody.
func (s *Solver) lumpC(y []float64, lump int) float64 {
	if lump < 0 {
		return s.ambientC
	}
	return y[s.m.states+lump]
}

func (s *Solver) bodyC(y []float64, body int) float64 {
	if body == noBody {
		return s.ambientC
	}
	return s.lumpC(y, s.m.bodies[body])
}

// OperatingPoint solves the power tree alone, with every temperature and charge
// given, and writes the record to dst, which has one place for each column. It
// does not allocate; matching and search ask it.
func (s *Solver) OperatingPoint(charge, temperatureC float64, dst []float64) {
	s.atConditions(charge, temperatureC)
	s.electrical(s.scratch)
	s.record(dst)
}
