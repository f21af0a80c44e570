package search

import (
	"context"
	"fmt"
	"math"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/source"
	"photherm/core/units"
)

// A Charge is how the first pack of a light is charged.
type Charge struct {
	T          []float64     `json:"t" nullable:"false" doc:"Times of the curves, s"`
	CurrentA   []float64     `json:"currentA" nullable:"false" doc:"Into the cells, A"`
	CellV      []float64     `json:"cellV" nullable:"false" doc:"At the terminals, V a cell"`
	HighV      []float64     `json:"highV" nullable:"false" doc:"Of the cell that stands highest, V; empty where all are alike"`
	Charge     []float64     `json:"charge" nullable:"false" doc:"Of 1"`
	Phases     []ChargePhase `json:"phases" nullable:"false" doc:"What the charger does, in turn"`
	FullS      *float64      `json:"fullS" doc:"Until the charger ends, s; null: it does not"`
	Why        string        `json:"why" doc:"Why it does not end, or not by itself; empty: it does"`
	Reached    float64       `json:"reached" doc:"Charge then, of 1; of the group that holds least"`
	HighCellV  float64       `json:"highCellV" doc:"How high the cell comes that stands highest, V"`
	BearsV     float64       `json:"bearsV" doc:"And what it bears, V"`
	Over       string        `json:"over" doc:"What is wrong where it is driven beyond; empty: it is not"`
	MostW      *float64      `json:"mostW" doc:"Most heat in the charger, W; null: what feeds it is not known"`
	MostC      *float64      `json:"mostC" doc:"How hot the charger gets, °C; null: its K/W is not known"`
	InWh       *float64      `json:"inWh" doc:"Taken by the charger, Wh"`
	SetA       float64       `json:"setA" doc:"Current it is set to, A"`
	CellA      float64       `json:"cellA" doc:"And each cell's part of it, A"`
	CellMaxA   float64       `json:"cellMaxA" doc:"What a cell may be charged with, A"`
	CellMaxWhy string        `json:"cellMaxWhy"`
	Ohm        *float64      `json:"ohm" doc:"Resistor that makes the wanted current, Ω; null: no resistor does, or none is wanted"`
	Ends       []ChargeEnd   `json:"ends" nullable:"false" doc:"The same to other end voltages"`
	LowC       float64       `json:"lowC" doc:"Cells are charged above, °C"`
	HighC      float64       `json:"highC" doc:"And below, °C"`
}

// A ChargePhase is a part of charging.
type ChargePhase struct {
	Name  string  `json:"name"`
	FromS float64 `json:"fromS"`
}

// A ChargeEnd is charging up to a voltage.
type ChargeEnd struct {
	CellV    float64  `json:"cellV"`
	FullS    *float64 `json:"fullS"`
	Reached  float64  `json:"reached" doc:"Charge it comes to, of 1"`
	LifeLow  float64  `json:"lifeLow" doc:"Times as many charges in its life as at the usual end, at least"`
	LifeHigh float64  `json:"lifeHigh" doc:"And at most"`
	Use      bool     `json:"use" doc:"Whether it is the one that is set"`
}

// Life against the end of charging (common practice, much disputed): each 0.1 V a lithium-ion
// cell ends lower makes it last 1.3 to 2 times as many charges.
const lifeLowPer, lifeHighPer = 1.3, 2.0

// chargePoints are at how many times the curves are told (chosen).
const chargePoints = 121

// ChargeOf asks how the first pack is charged from a charge, with the light off or lit. wantedA
// may be 0: no resistor is asked for. The error may be a PlaceError.
func ChargeOf(ctx context.Context, light *design.Light, variant int, from float64, lit bool, wantedA float64) (*Charge, error) {
	feed, part := firstPack(light, &light.Variants[variant])
	switch {
	case feed == nil:
		return nil, about("variant", fmt.Errorf("this light has no pack of cells that are chosen: there is nothing to charge"))
	case source.Primary(part.Cell):
		return nil, about("variant", fmt.Errorf("%s cannot be charged: it may leak or burst", part.Name))
	case feed.Sources[0].Pack.Charger == nil:
		return nil, about("variant", fmt.Errorf("nothing charges this pack in the light: choose a charger, or set a bench supply"))
	}
	q := chargeQuestion{ctx, light, variant, from, lit}
	m, run, err := q.run(nil)
	if err != nil {
		return nil, err
	}
	law := m.ChargerOn(feed.ID)
	if law == nil {
		return nil, about("variant", fmt.Errorf("the current of the charger is not known: give it, or its programming resistor"))
	}
	pack := feed.Sources[0].Pack
	charger := chargerPart(light, pack)
	out := &Charge{HighV: []float64{}, SetA: law.CurrentA, LowC: source.ChargeMinC, HighC: source.ChargeMaxC, Ends: []ChargeEnd{}, Phases: []ChargePhase{}}
	for _, of := range []struct{ to, from *float64 }{{&out.LowC, part.Cell.ChargeMinC}, {&out.HighC, part.Cell.ChargeMaxC}} {
		if of.from != nil {
			*of.to = *of.from
		}
	}
	out.CellMaxA, out.CellMaxWhy = source.MaxChargeA(part.Cell)
	out.BearsV = source.ChargeV(part.Cell)
	out.CellA = law.CurrentA / float64(pack.Parallel)
	if charger != nil && charger.ProgramV != nil && wantedA > 0 {
		out.Ohm = new(source.ProgramOhmFor(charger, wantedA))
	}
	out.FullS, out.Reached = chargedAt(m, run, feed.ID)
	switch {
	case out.FullS == nil:
		out.Why = whyNotFull(lit, run)
	case stoppedByBoard(run):
		// highest says by which cell.
	case !law.EndsItself():
		out.Why = fmt.Sprintf("a bench supply does not end by itself: take it off when its current has fallen to %s", units.Amps(law.EndA))
	}
	out.course(m, run, feed.ID, law, charger, pack, light.Conditions.AmbientC)
	out.highest(run, pack, part.Cell, law.EndV/float64(pack.Series))
	return out, q.ends(out, feed.ID, part.Cell)
}

type chargeQuestion struct {
	ctx     context.Context
	light   *design.Light
	variant int
	from    float64
	lit     bool
}

// run charges the light, changed first; nil: as it is.
func (q *chargeQuestion) run(change func(p *design.Pack)) (*chain.Model, *chain.Run, error) {
	other, err := design.Clone(q.light)
	if err != nil {
		return nil, nil, err
	}
	f, _ := firstPack(other, &other.Variants[q.variant])
	other.Conditions.Charge = &q.from
	f.Sources[0].Pack.Charger.PluggedIn = true
	if change != nil {
		change(f.Sources[0].Pack)
	}
	if !q.lit && !opened(f.Loads) && len(f.Loads) > 0 {
		f.Loads = []design.Node{{ID: "off while charging", Switch: &design.Switch{Open: true}, Loads: f.Loads}}
	}
	m, err := chain.Compile(other, chain.Options{Variant: q.variant})
	if err != nil {
		return nil, nil, err
	}
	run, err := m.Solver().Run(q.ctx)
	if err != nil {
		return nil, nil, fmt.Errorf("charging it: %w", err)
	}
	return m, run, nil
}

func chargerPart(light *design.Light, pack *design.Pack) *design.Charger {
	if p := light.Part(pack.Charger.PartID); p != nil {
		return p.Charger
	}
	return nil
}

func figureOf(m *chain.Model, feed, figure string) int {
	for i, c := range m.Columns() {
		if c.Owner == feed && c.Figure == figure {
			return i
		}
	}
	return -1
}

// chargedAt is when charging ended first, and the charge then, or at the end of the run.
func chargedAt(m *chain.Model, run *chain.Run, feed string) (*float64, float64) {
	c, a := figureOf(m, feed, "charge"), figureOf(m, feed, "chargerA")
	if law := m.ChargerOn(feed); law != nil && !law.EndsItself() && !stoppedByBoard(run) {
		for i := 1; i < len(run.T); i++ {
			if was, is := run.Records[i-1][a], run.Records[i][a]; is <= law.EndA && was > law.EndA {
				t := run.T[i-1] + (run.T[i]-run.T[i-1])*(was-law.EndA)/(was-is)
				return &t, run.At(t)[c]
			}
		}
	}
	for _, e := range run.Events {
		if e.Kind == "charged" || e.Kind == "over-charge" {
			return new(e.T), run.At(e.T)[c]
		}
	}
	return nil, run.Records[len(run.Records)-1][c]
}

// stoppedByBoard tells whether the first end of charging was its board's doing.
func stoppedByBoard(run *chain.Run) bool {
	for _, e := range run.Events {
		if e.Kind == "charged" || e.Kind == "over-charge" {
			return e.Kind == "over-charge"
		}
	}
	return false
}

// beyondV is how far a cell may come above what it is charged to without a word, V (chosen: what
// good chargers are off by; IEC 62133-2 tests lithium cells at 4.25 V, from memory).
const beyondV = 0.05

// full is the charge of cells that take nothing more.
const full = 0.999

// highest tells of the cell that comes highest, and what is wrong with that.
func (c *Charge) highest(run *chain.Run, pack *design.Pack, cell *design.Cell, endV float64) {
	who := "a cell"
	if groups, err := source.GroupsOf(pack, cell); err == nil && len(pack.Groups) > 1 {
		weakest := 0
		for k := range groups {
			if groups[k].CapacityAh() < groups[weakest].CapacityAh() {
				weakest = k
			}
		}
		who = fmt.Sprintf("group %d, which holds least,", weakest+1)
	}
	switch board := stoppedByBoard(run); {
	case board:
		c.Why = fmt.Sprintf("the board stops it: %s is at %s while another is at %.0f %%", who, units.Volts(c.HighCellV), 100*c.Reached)
		if len(pack.Groups) < 2 {
			c.Why = fmt.Sprintf("the board stops it: %s is at %s", who, units.Volts(c.HighCellV))
		}
	case endV > c.BearsV+beyondV:
		c.Over = fmt.Sprintf("it is set to go on to %s a cell, and these bear %s: set its end lower", units.Volts(endV), units.Volts(c.BearsV))
		if c.FullS == nil && c.Reached > full {
			c.Why = "the cells are full before it comes to its end, and what it pushes into them beyond is not computed"
		}
	case c.HighCellV > c.BearsV+beyondV:
		c.Over = fmt.Sprintf("%s is driven to %s and bears %s: it vents, or burns later, and nothing here watches each cell. Put in a board that stops at one cell, or groups of like capacity; do not charge it so", who, units.Volts(c.HighCellV), units.Volts(c.BearsV))
	}
}

func whyNotFull(lit bool, run *chain.Run) string {
	switch {
	case lit && run.End.Kind == "time-limit":
		return "what the light takes hides the end from the charger: its current never falls far enough, and it holds the cells at its end voltage for as long as it is plugged in"
	case lit:
		return "the light takes more than the charger gives"
	}
	return "it gives too little: outside the cells' temperature window, too hot itself, or fed by too little"
}

// course reads the curves off a run, what the charger does, and what is lost in it.
func (c *Charge) course(m *chain.Model, run *chain.Run, feed string, law *source.Charger, charger *design.Charger, pack *design.Pack, airC float64) {
	series, high := float64(pack.Series), figureOf(m, feed, "highCellV")
	bus, open, packA, chargerA, charge := figureOf(m, feed, "busV"), figureOf(m, feed, "openV"), figureOf(m, feed, "packA"), figureOf(m, feed, "chargerA"), figureOf(m, feed, "charge")
	end := run.T[len(run.T)-1]
	if c.FullS != nil {
		end = *c.FullS
	} else {
		end = min(end, 24*3600)
	}
	for i := range chargePoints {
		t := end * float64(i) / (chargePoints - 1)
		at := run.At(min(t, end*(1-1e-9))) // just before it ends
		c.T, c.CurrentA = append(c.T, t), append(c.CurrentA, -at[packA])
		c.CellV, c.Charge = append(c.CellV, at[bus]/series), append(c.Charge, at[charge])
		if len(pack.Groups) > 1 {
			c.HighV = append(c.HighV, at[high])
		}
	}
	known := charger != nil && (charger.InputV != nil || charger.Kind == "switching")
	most, joules := 0.0, 0.0
	last := ""
	for i := range run.T {
		if run.T[i] > end {
			break
		}
		r := run.Records[i]
		c.HighCellV = max(c.HighCellV, r[high])
		if name := law.Phase(r[bus], r[open], r[chargerA]); name != last && (name != "ended" || i > 0) {
			c.Phases, last = append(c.Phases, ChargePhase{name, run.T[i]}), name
		}
		loss := law.LossW(charger, r[bus], r[chargerA])
		if most = max(most, loss); i > 0 {
			was := run.Records[i-1]
			joules += (run.T[i] - run.T[i-1]) / 2 * (loss + law.LossW(charger, was[bus], was[chargerA]) + r[bus]*r[chargerA] + was[bus]*was[chargerA])
		}
	}
	if !known {
		return
	}
	c.MostW, c.InWh = &most, new(joules/3600)
	if charger.KPerW != nil {
		c.MostC = new(airC + *charger.KPerW*most)
	}
}

// ends tries other end voltages of lithium-ion cells: lower ones hold less and make them last
// longer.
func (q *chargeQuestion) ends(out *Charge, feed string, cell *design.Cell) error {
	usual := source.ChargeV(cell)
	if cell.Chemistry != "li-ion-4.2" && cell.Chemistry != "li-ion-4.35" {
		return nil
	}
	set := usual
	f, _ := firstPack(q.light, &q.light.Variants[q.variant])
	if v := f.Sources[0].Pack.Charger.EndCellV; v != nil {
		set = *v
	} else if p := chargerPart(q.light, f.Sources[0].Pack); p != nil && p.EndCellV != nil {
		set = *p.EndCellV
	}
	tried := []float64{usual, usual - 0.1, usual - 0.2}
	for _, v := range tried {
		m, run, err := q.run(func(p *design.Pack) { p.Charger.EndCellV = &v })
		if err != nil {
			return err
		}
		e := ChargeEnd{CellV: v, Use: math.Abs(v-set) < 5e-4, LifeLow: math.Pow(lifeLowPer, (usual-v)*10), LifeHigh: math.Pow(lifeHighPer, (usual-v)*10)}
		e.FullS, e.Reached = chargedAt(m, run, feed)
		out.Ends = append(out.Ends, e)
	}
	return nil
}

// GentleOf is at which current the resistance of a pack costs a share of what it gives: with
// it the pack ends at its cut-off before it is empty. The pack works by itself, on constant
// current. nil: not even at two charges an hour.
func GentleOf(ctx context.Context, cell *design.Cell, pack design.Pack, share float64) (*float64, error) {
	part := design.Part{ID: "cell", Name: "cell", Cell: cell}
	pack.PartID, pack.BodyID, pack.Charger, pack.ProtectionID = "cell", "", nil, ""
	if pack.CutoffCellV == nil {
		low, _ := source.Range(cell)
		pack.CutoffCellV = &low
	}
	light := &design.Light{Format: design.Format, Version: design.Version, Name: "pack", Conditions: design.Conditions{AmbientC: 25}, Parts: []design.Part{part},
		Variants: []design.Variant{{ID: "v", Name: "v", Bodies: []design.Body{}, Feeds: []design.Feed{{ID: "f", Sources: []design.Source{{ID: "s", Pack: &pack}},
			Loads: []design.Node{{ID: "l", Load: &design.MeasuredLoad{Beyond: "current", Points: []design.LoadPoint{{VoltageV: 0.1, CurrentA: 1}}}}}}}}}}
	m, err := chain.Compile(light, chain.Options{})
	if err != nil {
		return nil, err
	}
	full, _ := m.Holds("f", 1)
	lost := func(a float64) (float64, error) {
		s := m.Solver()
		if err := s.Vary(chain.Variation{Pointer: "/variants/v/feeds/f/loads/l/scale", Op: chain.Set, Value: a}); err != nil {
			return 0, err
		}
		run, err := s.Run(ctx)
		if err != nil {
			return 0, fmt.Errorf("asking what %s costs: %w", units.Amps(a), err)
		}
		return 1 - run.End.T/3600*a/full, nil
	}
	low, high := full/200, 2*full
	switch f, err := lost(high); {
	case err != nil:
		return nil, err
	case f < share:
		return nil, nil
	}
	for high/low > 1.01 { // it grows with the current, if not smoothly
		mid := math.Sqrt(low * high)
		f, err := lost(mid)
		if err != nil {
			return nil, err
		}
		if f < share {
			low = mid
		} else {
			high = mid
		}
	}
	return &low, nil
}
