package source

import (
	"math"
	"slices"

	"photherm/core/design"
)

// Groups is a pack of cells that were measured one by one: groups in series, the cells of
// a group side by side. Its states are, of each cell, its charge, of 1, and the voltage on
// its slow resistance if the cells have one. A group stands at one voltage, and its cells
// share its current as their own voltages and resistances make it: by resistance at first,
// later by capacity.
type Groups struct {
	Pack             // what is common: contacts, protection; its cell is the part's
	cells    []Cell  // group after group
	from     []int   // where each group begins among them, and the end
	leastOhm float64 // below it a cell is not taken as: rounding
}

// NewGroups makes a pack from its groups.
func NewGroups(pack *Pack, groups []design.CellGroup) *Groups {
	g := &Groups{Pack: *pack, leastOhm: 1e-5}
	for i := range groups {
		g.from = append(g.from, len(g.cells))
		for _, c := range groups[i].Cells {
			cell := pack.Cell
			if c.CapacityAh != nil {
				cell.CapacityAh = *c.CapacityAh * pack.coldShare
			}
			if c.ResistanceOhm != nil {
				cell.Resistance = *c.ResistanceOhm
			}
			g.cells = append(g.cells, cell)
		}
	}
	g.from = append(g.from, len(g.cells))
	return g
}

func (g *Groups) each() int {
	if g.Cell.Slow {
		return 2
	}
	return 1
}

// States are those of each cell.
func (g *Groups) States() int { return g.each() * len(g.cells) }

// IsCharge tells which of its states are charges.
func (g *Groups) IsCharge(state int) bool { return state%g.each() == 0 }

// Start is a rested pack of a charge, each cell of the same.
func (g *Groups) Start(y []float64, charge float64) {
	clear(y)
	for i := range g.cells {
		y[i*g.each()] = charge
	}
}

// Tolerance of the charges and of the slow voltages.
func (g *Groups) Tolerance(tol []float64) {
	for i := range tol {
		if tol[i] = 2e-6; !g.IsCharge(i) {
			tol[i] = 1e-4
		}
	}
}

// of is the charge and the resting voltage less its slow part of a cell.
func (g *Groups) of(y []float64, i int) (charge, openV float64) {
	at := i * g.each()
	charge = y[at]
	openV = g.cells[i].OCV(charge)
	if g.Cell.Slow {
		openV -= y[at+1]
	}
	return charge, openV
}

// group is the voltage of a group without a current, and its resistance.
func (g *Groups) group(y []float64, k int, cellC float64) (openV, ohm float64) {
	sum, by := 0.0, 0.0
	for i := g.from[k]; i < g.from[k+1]; i++ {
		charge, v := g.of(y, i)
		s := 1 / max(g.cells[i].Ohm(charge, cellC), g.leastOhm)
		sum, by = sum+s, by+s*v
	}
	return by / sum, 1 / sum
}

// Terminal adds up the groups behind the contacts. A pack takes more as long as one group is not
// full: the others are then driven beyond, unless a board stops it.
func (g *Groups) Terminal(y []float64, cellC float64) Terminal {
	t := Terminal{SeriesOhm: g.ContactOhm, LimitA: math.Inf(1)}
	for k := range len(g.from) - 1 {
		v, ohm := g.group(y, k, cellC)
		t.OpenV, t.SeriesOhm = t.OpenV+v, t.SeriesOhm+ohm
		t.TwoWay = t.TwoWay || g.charge(y, k) < 1
	}
	return t
}

// charge is that of a group: what its cells hold together.
func (g *Groups) charge(y []float64, k int) float64 {
	ah, of := 0.0, 0.0
	for i := g.from[k]; i < g.from[k+1]; i++ {
		ah, of = ah+g.cells[i].CapacityAh*y[i*g.each()], of+g.cells[i].CapacityAh
	}
	return ah / of
}

// shared calls with what each cell gives of a current.
func (g *Groups) shared(y []float64, cellC, currentA float64, to func(i int, ohm, a float64)) {
	for k := range len(g.from) - 1 {
		open, ohm := g.group(y, k, cellC)
		v := open - currentA*ohm
		for i := g.from[k]; i < g.from[k+1]; i++ {
			charge, own := g.of(y, i)
			r := max(g.cells[i].Ohm(charge, cellC), g.leastOhm)
			to(i, r, (own-v)/r)
		}
	}
}

// Rates of charges and slow voltages.
func (g *Groups) Rates(y []float64, cellC, currentA float64, rates []float64) {
	g.shared(y, cellC, currentA, func(i int, _, a float64) {
		at, c := i*g.each(), &g.cells[i]
		rates[at] = -c.harder(a) * a / (3600 * c.CapacityAh)
		if !g.Cell.Slow {
			return
		}
		if rates[at+1] = -y[at+1]; c.PolarOhm > 0 {
			rates[at+1] = (a - y[at+1]/c.PolarOhm) / c.PolarFarad
		}
	})
}

// HeatW is the loss in every cell, what they give each other included, and in the contacts.
func (g *Groups) HeatW(y []float64, cellC, currentA float64) float64 {
	w := currentA * currentA * g.ContactOhm
	g.shared(y, cellC, currentA, func(i int, ohm, a float64) {
		w += a * a * ohm
		if g.Cell.Slow && g.cells[i].PolarOhm > 0 {
			v := y[i*g.each()+1]
			w += v * v / g.cells[i].PolarOhm
		}
	})
	return w
}

// LeftW is what hard work leaves in the cells.
func (g *Groups) LeftW(y []float64, cellC, currentA float64) float64 {
	w := 0.0
	g.shared(y, cellC, currentA, func(i int, _, a float64) {
		charge := y[i*g.each()]
		w += (g.cells[i].harder(a) - 1) * a * g.cells[i].OCV(charge)
	})
	return w
}

// EnergyJ is the energy left in all cells, and what their slow parts hold.
func (g *Groups) EnergyJ(y []float64) (stored, held float64) {
	for i := range g.cells {
		at := i * g.each()
		stored += 3600 * g.cells[i].EnergyWh(y[at])
		if g.Cell.Slow {
			held += g.cells[i].PolarFarad * y[at+1] * y[at+1] / 2
		}
	}
	return stored, held
}

// RestV is the voltage of the rested pack: each group at the mean charge of its cells.
func (g *Groups) RestV(y []float64) float64 {
	v := 0.0
	for k := range len(g.from) - 1 {
		v += g.restV(y, k)
	}
	return v
}

// restV is the voltage of a group by its charges alone, its slow parts at rest.
func (g *Groups) restV(y []float64, k int) float64 {
	sum, by := 0.0, 0.0
	for i := g.from[k]; i < g.from[k+1]; i++ {
		charge := y[i*g.each()]
		s := 1 / max(g.cells[i].Ohm(charge, 25), g.leastOhm)
		sum, by = sum+s, by+s*g.cells[i].OCV(charge)
	}
	return by / sum
}

// Protection looks at the group that is worst off: a board sees groups, not cells.
func (g *Groups) Protection(y []float64, cellC, currentA float64) Standby {
	out := Standby{Charge: math.Inf(1), CellV: math.Inf(1), AboveV: math.Inf(1), Release: math.Inf(1), DelayS: g.DelayS, TripA: g.TripA, TripS: g.TripS, CanEmpty: true}
	for k := range len(g.from) - 1 {
		open, ohm := g.group(y, k, cellC)
		v := open - currentA*ohm
		out.Charge = min(out.Charge, g.charge(y, k))
		out.CellV, out.AboveV = min(out.CellV, v), min(out.AboveV, above(v, g.CutoffV, currentA))
		out.Release = min(out.Release, open-g.ReleaseV)
	}
	return out
}

// HighestV is the voltage of the group that stands highest while a current flows.
func (g *Groups) HighestV(y []float64, cellC, currentA float64) float64 {
	v := math.Inf(-1)
	for k := range len(g.from) - 1 {
		open, ohm := g.group(y, k, cellC)
		v = max(v, open-currentA*ohm)
	}
	return v
}

// CapacityAh is what the pack gives: its weakest group.
func (g *Groups) CapacityAh() float64 {
	least := math.Inf(1)
	for k := range len(g.from) - 1 {
		least = min(least, g.side(k).CapacityAh())
	}
	return least
}

// side is a group by itself.
func (g *Groups) side(k int) Group { return g.cells[g.from[k]:g.from[k+1]] }

// EnergyWh is the energy of all its cells between empty and a charge, Wh.
func (g *Groups) EnergyWh(charge float64) float64 {
	wh := 0.0
	for i := range g.cells {
		wh += g.cells[i].EnergyWh(charge)
	}
	return wh
}

// A Group is cells side by side.
type Group []Cell

// GroupsOf are the groups of a pack in series, as its law takes them at 25 °C. The error is
// that of New.
func GroupsOf(p *design.Pack, c *design.Cell) ([]Group, error) {
	cell, err := New(c)
	if err != nil {
		return nil, err
	}
	var out []Group
	switch law := LawOf(p, cell, nil, 25).(type) {
	case *Groups:
		for k := range p.Groups {
			out = append(out, law.side(k))
		}
	case *Pack:
		for range p.Series {
			out = append(out, slices.Repeat(Group{law.Cell}, p.Parallel))
		}
	}
	return out, nil
}

// CapacityAh is what its cells hold together, Ah.
func (g Group) CapacityAh() float64 {
	sum := 0.0
	for i := range g {
		sum += g[i].CapacityAh
	}
	return sum
}

// Ohm is its resistance at a charge, of 1, and a temperature, Ω.
func (g Group) Ohm(charge, cellC float64) float64 {
	siemens := 0.0
	for i := range g {
		siemens += 1 / g[i].Ohm(charge, cellC)
	}
	return 1 / siemens
}
