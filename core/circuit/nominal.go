package circuit

import "photherm/core/driver"

// NominalCharge is the charge at which a pack stands for what it is called (chosen: half,
// where most chemistries are near their mean voltage).
const NominalCharge = 0.5

// nominalBudget bounds the search for nominal points: a light that takes more is left to
// what is usual.
const nominalBudget = 200_000

// An Operating is where a driver works.
type Operating struct{ InV, OutV, OutA float64 }

// nominal finds where each driver works at the light's nominal point: every source as it
// is called, packs half charged, everything switched on and undimmed, at the temperature
// of the air. What a part does not state of the point its efficiency holds at is taken
// from there.
func (n *Network) nominal() {
	needs := false
	for k := range n.Nodes {
		needs = needs || n.Nodes[k].Kind == Driver && n.Nodes[k].Drv.Switches()
	}
	if !needs {
		return
	}
	s := n.Solver()
	for k := range s.Nodes {
		s.Nodes[k].Off, s.Nodes[k].Fault, s.Nodes[k].Level, s.Nodes[k].Drv.Duty = false, OK, 1, 1
	}
	s.Prepare()
	s.Budget = nominalBudget
	// What a driver loses lowers the voltage of what feeds it, and that of what it loses.
	for range 2 {
		if s.solveNominal(n.Light.Conditions.AmbientC) != nil {
			return
		}
		for k := range n.Nodes {
			if n.Nodes[k].Kind == Driver {
				n.takePoint(k, s)
			}
		}
		s.Prepare()
	}
}

func (s *Solver) solveNominal(temperatureC float64) (err error) {
	defer Caught(&err)
	s.At(NominalCharge, temperatureC)
	s.Solve()
	return nil
}

// takePoint takes a driver's nominal point from a solution, where it works.
func (n *Network) takePoint(k int, s *Solver) {
	p := &s.Point[k]
	if p.OutA <= 0 || p.InnerV <= 0 || s.Collapsed[k] {
		return
	}
	node := &n.Nodes[k]
	node.Nominal = Operating{p.InnerV, p.OutV, p.OutA}
	for _, d := range []*driver.Driver{&node.Drv, &s.Nodes[k].Drv} {
		if d.NeedsPoint() {
			d.TakePoint(p.InnerV, p.OutV, p.OutA)
			d.Prepare()
		}
	}
}
