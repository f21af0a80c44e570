package search

import (
	"context"
	"fmt"
	"math"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/root"
	"photherm/core/source"
)

// A Runtime is how long the first pack of a light lasts, by every school, and what follows.
type Runtime struct {
	PackAh   float64         `json:"packAh" doc:"Charge of the pack at switch-on, Ah"`
	PackWh   float64         `json:"packWh" doc:"Its energy at the voltage of rest, Wh"`
	Schools  []RuntimeSchool `json:"schools" nullable:"false"`
	Moments  []DimMoment     `json:"moments" nullable:"false" doc:"When the light is seen to dim, and so on, in the time solve"`
	WarnS    *float64        `json:"warnS" doc:"From when it is seen to dim until it is dark, s; null: it does not dim first, or never is dark"`
	OffA     float64         `json:"offA" doc:"What is drawn while the light is off, A"`
	LossA    float64         `json:"lossA" doc:"What its cells lose by themselves, as a current, A"`
	FlatH    *float64        `json:"flatH" doc:"Until it is flat when it is only left off, h"`
	PerWeek  *float64        `json:"perWeek" doc:"Charges, or sets of cells, a week at the hours asked about; null: no hours"`
	Primary  bool            `json:"primary" doc:"Whether its cells cannot be charged"`
	CostH    *float64        `json:"costPerH" doc:"What an hour of light costs: the cells, or the energy to charge them; null: their price, or that of energy, is not known"`
	Cells    *int            `json:"cells" doc:"Strings in parallel that last as long as is wanted; null: nothing is wanted, or none of up to 64 do"`
	CellsS   *float64        `json:"cellsS" doc:"How long those last, s"`
	CurrentA *float64        `json:"currentA" doc:"Current of the one driver that lasts as long as is wanted; null: there is not one, or none does"`
	SetA     *float64        `json:"setA" doc:"What it is set to, A"`
	Why      string          `json:"why" doc:"Why there is no end; empty: there is"`
}

// A RuntimeSchool is a way to say how long.
type RuntimeSchool struct {
	Name   string   `json:"name"`
	Hours  *float64 `json:"hours"`
	Reason string   `json:"reason" doc:"What it leaves out, or takes in"`
}

// A DimMoment is something that happens to the light.
type DimMoment struct {
	Name string   `json:"name"`
	S    *float64 `json:"s" doc:"Null: never, before the pack is empty"`
}

// seenShare is the light, over that at 30 s, below which it is seen to have dimmed (common
// practice: a quarter less).
const seenShare = 0.75

// Charging takes more than the cells hold (common practice: lithium and its charger give
// back 85 %), and how many strings are tried for wanted hours (chosen).
const (
	chargingShare = 0.85
	mostStrings   = 64
)

// RuntimeOf asks how long a light lasts. hoursPerDay and wantedH may be 0: not asked about;
// pricePerKWh too: not known. The error may be a PlaceError.
func RuntimeOf(ctx context.Context, light *design.Light, variant int, hoursPerDay, wantedH, pricePerKWh float64) (*Runtime, error) {
	v := &light.Variants[variant]
	feed, part := firstPack(light, v)
	if feed == nil {
		return nil, about("variant", fmt.Errorf("this light has no pack of cells that are chosen: there is nothing to last"))
	}
	pack := feed.Sources[0].Pack
	m, err := chain.Compile(light, chain.Options{Variant: variant})
	if err != nil {
		return nil, err
	}
	run, err := m.Solver().Run(ctx)
	if err != nil {
		return nil, fmt.Errorf("asking how long it lasts: %w", err)
	}
	a := run.Answers()
	q := runtimeQuestion{ctx, light, variant, m, run, feed, part}
	out := &Runtime{Primary: source.Primary(part.Cell), Schools: []RuntimeSchool{}, Moments: []DimMoment{}}
	charge := 1.0
	if c := light.Conditions.Charge; c != nil {
		charge = *c
	}
	health := 1.0
	if part.Cell.Health != nil {
		health = *part.Cell.Health
	}
	full := part.Cell.CapacityAh * health * float64(pack.Parallel)
	out.PackAh = charge * full
	out.PackWh = q.restingWh(out.PackAh, pack.Series)
	q.schools(out, &a)
	q.moments(out, &a)
	if a.EndS == nil {
		out.Why = a.RuntimeWhy
	}
	if out.OffA, err = q.offA(); err != nil {
		return nil, err
	}
	out.LossA = source.MonthlyLoss(part.Cell) * full / (30.4 * 24)
	if drain := out.OffA + out.LossA; drain > 0 && out.PackAh > 0 {
		out.FlatH = new(out.PackAh / drain)
	}
	if hoursPerDay > 0 && a.EndS != nil && *a.EndS > 0 {
		out.PerWeek = new(7 * hoursPerDay * 3600 / *a.EndS)
	}
	if a.EndS != nil && *a.EndS > 0 {
		hours := *a.EndS / 3600
		switch {
		case out.Primary && part.Price != nil:
			out.CostH = new(*part.Price * float64(pack.Series*pack.Parallel) / hours)
		case !out.Primary && pricePerKWh > 0:
			out.CostH = new(out.PackWh / 1000 / chargingShare * pricePerKWh / hours)
		}
	}
	if wantedH > 0 {
		return out, q.backwards(out, wantedH*3600)
	}
	return out, nil
}

type runtimeQuestion struct {
	ctx     context.Context
	light   *design.Light
	variant int
	m       *chain.Model
	run     *chain.Run
	feed    *design.Feed
	part    *design.Part
}

// firstPack is the first feed in whose source cells are chosen, and their part.
func firstPack(light *design.Light, v *design.Variant) (*design.Feed, *design.Part) {
	for i := range v.Feeds {
		f := &v.Feeds[i]
		if len(f.Sources) == 0 || f.Sources[0].Pack == nil {
			continue
		}
		if part := light.Part(f.Sources[0].Pack.PartID); part != nil && part.Cell != nil {
			return f, part
		}
	}
	return nil, nil
}

// restingWh is the energy of a charge at the voltage of rest, Wh.
func (q *runtimeQuestion) restingWh(ah float64, series int) float64 {
	points := q.m.Resting()
	charge := 1.0
	if c := q.light.Conditions.Charge; c != nil {
		charge = *c
	}
	wh := 0.0
	for i := 1; i < len(points); i++ {
		low, high := points[i-1], points[i]
		top := min(high.Charge, charge)
		if top <= low.Charge {
			break
		}
		share := (top - low.Charge) / (high.Charge - low.Charge)
		v := low.CellV + share*(high.CellV-low.CellV)
		wh += (top - low.Charge) * (low.CellV + v) / 2
	}
	if charge <= 0 {
		return 0
	}
	return wh / charge * ah * float64(series)
}

// schools are the ways people say it, with why they differ.
func (q *runtimeQuestion) schools(out *Runtime, a *chain.Answers) {
	at := q.run.At(min(30, q.run.T[len(q.run.T)-1]))
	ledA, sourceA, sourceW := 0.0, 0.0, 0.0
	arrays := map[string]float64{}
	count(q.feed.Loads, 1, arrays)
	for i, c := range q.m.Columns() {
		switch {
		case c.Figure == "inA" && arrays[c.Owner] > 0:
			ledA += arrays[c.Owner] * at[i]
		case c.Figure == "busA" && c.Owner == q.feed.ID:
			sourceA = at[i]
		case c.Figure == "sourceW" && c.Owner == q.feed.ID:
			sourceW = at[i]
		}
	}
	hours := func(of, by float64) *float64 {
		if by <= 0 {
			return nil
		}
		return new(of / by)
	}
	charge := RuntimeSchool{"mAh over mA of the emitters", hours(out.PackAh, ledA), "right where the source gives the emitters’ current; it leaves out what a switching driver changes, losses, and all else that draws"}
	if ledA > 0 && math.Abs(sourceA-ledA) > 0.05*ledA {
		charge.Reason = fmt.Sprintf("wrong here: the emitters take %.2g A together, the source gives %.2g A", ledA, sourceA)
	}
	out.Schools = append(out.Schools, charge,
		RuntimeSchool{"mAh over mA of the source", hours(out.PackAh, sourceA), "takes the current of the first half minute for all of it: a driver that holds its light draws more as the cells fall, one that follows them less"},
		RuntimeSchool{"Wh over W", hours(out.PackWh, sourceW), "takes all of the energy at the watts of the first half minute: what stays in the cells at cut-off, and what the light does as it runs down, are left out"})
	solved := RuntimeSchool{Name: "solved in time", Reason: "cells, driver, emitters and heat together, until the cells are cut off or empty"}
	if a.EndS != nil {
		solved.Hours = new(*a.EndS / 3600)
	}
	out.Schools = append(out.Schools, solved)
}

// count lists arrays, strips and loads with how often they are there.
func count(nodes []design.Node, times float64, into map[string]float64) {
	for i := range nodes {
		all := times * float64(max(nodes[i].Count, 1))
		if n := &nodes[i]; n.Array != nil || n.Strip != nil || n.Load != nil {
			into[n.ID] = all
		}
		count(nodes[i].Loads, all, into)
	}
}

// offA is what the pack gives with every switch of its feed open, A; without a switch the light
// is off when its pack is taken out.
func (q *runtimeQuestion) offA() (float64, error) {
	other, err := design.Clone(q.light)
	if err != nil {
		return 0, err
	}
	f, _ := firstPack(other, &other.Variants[q.variant])
	if !opened(f.Loads) {
		return 0, nil
	}
	m, err := chain.Compile(other, chain.Options{Variant: q.variant})
	if err != nil {
		return 0, err
	}
	record := make([]float64, len(m.Columns()))
	m.Solver().OperatingPoint(1, m.StartC(), record)
	for i, c := range m.Columns() {
		if c.Owner == f.ID && c.Figure == "busA" {
			return max(record[i], 0), nil
		}
	}
	return 0, nil
}

// opened opens all switches; it tells whether there is any.
func opened(nodes []design.Node) (any bool) {
	for i := range nodes {
		if s := nodes[i].Switch; s != nil {
			s.Open, any = true, true
		}
		any = opened(nodes[i].Loads) || any
	}
	return any
}

// moments reads off the run when the light dims.
func (q *runtimeQuestion) moments(out *Runtime, a *chain.Answers) {
	flux := -1
	for i, c := range q.m.Columns() {
		if c.Owner == "" && c.Figure == "fluxLm" {
			flux = i
		}
	}
	add := func(name string, s *float64) { out.Moments = append(out.Moments, DimMoment{name, s}) }
	if a.FluxLm != nil && *a.FluxLm > 0 {
		seen := reachesAfter(q.run, flux, seenShare**a.FluxLm)
		half, tenth := reachesAfter(q.run, flux, 0.5**a.FluxLm), reachesAfter(q.run, flux, 0.1**a.FluxLm)
		add("seen to have dimmed, a quarter less", seen)
		add("half of the light at 30 s", half)
		add("a tenth of it (ANSI/PLATO FL 1)", tenth)
		if dark := tenth; seen != nil && dark != nil {
			out.WarnS = new(*dark - *seen)
		}
	}
	add("cut off or empty", a.EndS)
}

// reachesAfter is when a column falls to a value for good, s: what comes back is not it; nil:
// it does not.
func reachesAfter(run *chain.Run, column int, value float64) *float64 {
	for i := len(run.T) - 1; i >= 0; i-- {
		if run.Records[i][column] <= value {
			continue
		}
		if i == len(run.T)-1 {
			return nil
		}
		was, is := run.Records[i][column], run.Records[i+1][column]
		if was == is {
			return &run.T[i+1]
		}
		return new(run.T[i] + (run.T[i+1]-run.T[i])*(was-value)/(was-is))
	}
	return nil
}

// backwards looks for what lasts as long as is wanted: more strings in parallel, or less
// current.
func (q *runtimeQuestion) backwards(out *Runtime, wantedS float64) error {
	lasts := func(change func(l *design.Light)) (float64, error) {
		other, err := design.Clone(q.light)
		if err != nil {
			return 0, err
		}
		change(other)
		m, err := chain.Compile(other, chain.Options{Variant: q.variant})
		if err != nil {
			return 0, err
		}
		run, err := m.Solver().Run(q.ctx)
		if err != nil {
			return 0, fmt.Errorf("asking what lasts %g h: %w", wantedS/3600, err)
		}
		if a := run.Answers(); a.HalfS != nil {
			return *a.HalfS, nil
		}
		return math.Inf(1), nil
	}
	with := func(strings int) (float64, error) {
		return lasts(func(l *design.Light) {
			f, _ := firstPack(l, &l.Variants[q.variant])
			f.Sources[0].Pack.Parallel = strings
		})
	}
	low, high := 0, 1
	var last float64
	for {
		s, err := with(high)
		if err != nil {
			return err
		}
		if last = s; s >= wantedS {
			break
		}
		if low, high = high, 2*high; high > mostStrings {
			high = 0
			break
		}
	}
	for high > low+1 && high > 0 {
		mid := (low + high) / 2
		s, err := with(mid)
		if err != nil {
			return err
		}
		if s >= wantedS {
			high, last = mid, s
		} else {
			low = mid
		}
	}
	if high > 0 {
		out.Cells = &high
		if !math.IsInf(last, 1) {
			out.CellsS = &last
		}
	}
	pointer, now := oneSetting(q.light, q.variant)
	if pointer == "" {
		return nil
	}
	out.SetA = &now
	var failed error
	over := func(amps float64) float64 {
		s := q.m.Solver()
		if err := s.Vary(chain.Variation{Pointer: pointer, Op: chain.Set, Value: amps}); err != nil {
			return math.NaN()
		}
		run, err := s.Run(q.ctx)
		if err != nil {
			failed = err
			return math.NaN()
		}
		if a := run.Answers(); a.HalfS != nil {
			return *a.HalfS/wantedS - 1
		}
		return 1e3
	}
	most, least := mostSetting*now, leastSetting*now
	fm, fl := over(most), over(least)
	if failed != nil {
		return fmt.Errorf("looking for a current: %w", failed)
	}
	if fl > 0 && fm < 0 {
		out.CurrentA = new(root.Bracketed(over, least, fl, most, fm, 1e-3*now))
	}
	return nil
}
