package search

import (
	"context"
	"fmt"
	"math"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/root"
	"photherm/core/source"
	"photherm/core/units"
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
	Primary  bool            `json:"primary" doc:"Whether its cells cannot be charged"`
	CostH    *float64        `json:"costPerH" doc:"What an hour of light costs: the cells, or the energy to charge them; null: their price, or that of energy, is not known"`
	Cells    *int            `json:"cells" doc:"Strings in parallel that last as long as is wanted; null: nothing is wanted, or none of up to 64 do"`
	CellsS   *float64        `json:"cellsS" doc:"How long those last, s"`
	CurrentA *float64        `json:"currentA" doc:"Current of the one driver that lasts as long as is wanted; null: there is not one, or none does"`
	SetA     *float64        `json:"setA" doc:"What it is set to, A"`
	Alarm    *Alarm          `json:"alarm" doc:"The low-battery alarm; null: there is none"`
	Gauge    *Gauge          `json:"gauge" doc:"What a voltage read at rest stands for; null: none was given"`
	Why      string          `json:"why" doc:"Why there is no end; empty: there is"`
}

// A RuntimeSchool is a way to say how long.
type RuntimeSchool struct {
	Name   string   `json:"name"`
	Hours  *float64 `json:"hours"`
	Reason string   `json:"reason" doc:"What it leaves out, or takes in"`
}

// An Alarm is when the gauge of a pack sounds, and what comes after.
type Alarm struct {
	S       *float64 `json:"s" doc:"When it sounds, s; null: not before the end"`
	LeftS   *float64 `json:"leftS" doc:"From then until the pack is cut off, or without protection until its cells come to harm, s"`
	CellV   *float64 `json:"cellV" doc:"How low the weakest cell is then, V"`
	Guarded bool     `json:"guarded" doc:"Whether something cuts the pack off: else the alarm is all there is"`
}

// A Gauge is what a voltage that was read at rest stands for, with the ends of its band: a
// cell's voltage at rest is known to some 20 mV.
type Gauge struct {
	CellV  float64  `json:"cellV" doc:"V a cell"`
	Charge float64  `json:"charge" doc:"Of 1"`
	Low    float64  `json:"low" doc:"It may be as little as this"`
	High   float64  `json:"high" doc:"Or as much"`
	LeftS  *float64 `json:"leftS" doc:"How long it lasts from there, s"`
	LowS   *float64 `json:"lowS"`
	HighS  *float64 `json:"highS"`
	Weak   bool     `json:"weak" doc:"Whether the voltage hardly tells the charge here: the chemistry is flat"`
}

// A gauge whose band is wider than this share of the charge tells little (chosen).
const weakShare = 0.25

// gaugeV is how far the voltage of a resting cell stands off its kind's (physics: ±20 mV of
// single makes, common practice).
const gaugeV = 0.02

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
	farLonger     = 1e3  // times what is wanted: without end
	asWanted      = 0.01 // of the hours: as long as is wanted
	shyOfJump     = 0.95 // of the current at which the light no longer lasts
)

// RuntimeOf asks how long a light lasts. wantedH may be 0: not asked about; pricePerKWh too:
// not known; and restingV, of the whole pack: not read. The error may be a PlaceError.
func RuntimeOf(ctx context.Context, light *design.Light, variant int, wantedH, pricePerKWh, restingV float64) (*Runtime, error) {
	light, err := unplugged(light, variant)
	if err != nil {
		return nil, err
	}
	feed, part := firstPack(light, &light.Variants[variant])
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
	full, wh := m.Holds(feed.ID, charge)
	out.PackAh, out.PackWh = charge*full, wh
	q.schools(out, &a)
	q.moments(out, &a)
	if a.EndS == nil {
		out.Why = a.RuntimeWhy
	}
	if out.OffA, err = q.offA(); err != nil {
		return nil, err
	}
	out.LossA = source.MonthlyLoss(part.Cell) * full / (30.4 * 24)
	guarded := pack.CutoffCellV != nil || light.Part(pack.ProtectionID) != nil
	if v := pack.AlarmCellV; v != nil {
		out.Alarm = q.alarm("cellV", *v, guarded)
	}
	if v := pack.AlarmPackV; v != nil {
		// Where there are two, the one that sounds first.
		if a := q.alarm("busV", *v, guarded); out.Alarm == nil || out.Alarm.S == nil || a.S != nil && *a.S < *out.Alarm.S {
			out.Alarm = a
		}
	}
	if restingV > 0 {
		out.Gauge = q.gauge(restingV / float64(pack.Series))
	}
	if drain := out.OffA + out.LossA; drain > 0 && out.PackAh > 0 {
		out.FlatH = new(out.PackAh / drain)
	}
	out.CostH = hourCost(light, m, run, pricePerKWh)
	if wantedH > 0 {
		return out, q.backwards(out, wantedH*3600)
	}
	return out, nil
}

// unplugged is a light whose chargers are not plugged in: how long it lasts is asked of its
// cells alone.
func unplugged(light *design.Light, variant int) (*design.Light, error) {
	plugged := func(l *design.Light) (in []*design.ChargerUse) {
		for i := range l.Variants[variant].Feeds {
			for _, s := range l.Variants[variant].Feeds[i].Sources {
				if s.Pack != nil && s.Pack.Charger != nil && s.Pack.Charger.PluggedIn {
					in = append(in, s.Pack.Charger)
				}
			}
		}
		return in
	}
	if len(plugged(light)) == 0 {
		return light, nil
	}
	other, err := design.Clone(light)
	if err != nil {
		return nil, err
	}
	for _, use := range plugged(other) {
		use.PluggedIn = false
	}
	return other, nil
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

// schools are the ways people say it, with why they differ.
func (q *runtimeQuestion) schools(out *Runtime, a *chain.Answers) {
	at := q.run.At(min(30, q.run.T[len(q.run.T)-1]))
	ledA, sourceA, sourceW := 0.0, 0.0, 0.0
	arrays := map[string]float64{}
	for n, times := range design.NodesOf(q.feed.Loads) {
		if n.Array != nil || n.Strip != nil || n.Load != nil {
			arrays[n.ID] = float64(times)
		}
	}
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
		charge.Reason = fmt.Sprintf("wrong here: the emitters take %s together, the source gives %s", units.Amps(ledA), units.Amps(sourceA))
	}
	out.Schools = append(out.Schools, charge,
		RuntimeSchool{"mAh over mA of the source", hours(out.PackAh, sourceA), "takes the current of the first half minute for all of it: a driver that holds its light draws more as the cells fall, one that follows them less"},
		RuntimeSchool{"Wh over W", hours(out.PackWh, sourceW), "takes all of the energy at the watts of the first half minute: what stays in the cells at cut-off, and what the light does as it runs down, are left out"})
	solved := RuntimeSchool{Name: "solved in time", Reason: "cells, driver, emitters and heat together, until " + untilWords(a)}
	if a.EndS != nil {
		solved.Hours = new(*a.EndS / 3600)
	}
	out.Schools = append(out.Schools, solved)
}

// offA is what the cells give while the light is off, A: its draw with every switch of its feed
// open and what stays fed dimmed to nothing by its control (with neither it is off when its pack is
// taken out), and the board between.
func (q *runtimeQuestion) offA() (float64, error) {
	board := 0.0
	if part := q.light.Part(q.feed.Sources[0].Pack.ProtectionID); part != nil && part.Protect != nil && part.Protect.StandbyA != nil {
		board = *part.Protect.StandbyA
	}
	a, err := q.lightOffA()
	return a + board, err
}

func (q *runtimeQuestion) lightOffA() (float64, error) {
	other, err := design.Clone(q.light)
	if err != nil {
		return 0, err
	}
	f, _ := firstPack(other, &other.Variants[q.variant])
	if !opened(f.Loads) && !q.putOut(f.Loads) {
		return 0, nil
	}
	q.putOut(f.Loads)
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

// putOut turns down what no switch parts from the pack and what has a control to be put out by: it
// stays fed. It tells whether there is any.
func (q *runtimeQuestion) putOut(nodes []design.Node) (any bool) {
	for i := range nodes {
		n := &nodes[i]
		switch {
		case n.Switch != nil:
			continue
		case n.Driver != nil:
			part := q.light.Part(n.Driver.PartID)
			if part == nil || part.Driver == nil {
				continue
			}
			switch d := part.Driver; {
			case d.StandbyW != nil, d.Dimming == "analog", d.Dimming == "pwm", d.Dimming == "three-in-one":
				n.Driver.Mode, n.Driver.Dimming, any = "", &design.Level{Current: new(0.0)}, true
				continue
			}
		}
		any = q.putOut(n.Loads) || any
	}
	return any
}

// opened opens all switches; it tells whether there is any.
func opened(nodes []design.Node) (any bool) {
	for n := range design.NodesOf(nodes) {
		if n.Switch != nil {
			n.Switch.Open, any = true, true
		}
	}
	return any
}

// alarm reads off the run when a voltage of the pack falls below what its gauge sounds at: of its
// weakest cell, or of the whole.
func (q *runtimeQuestion) alarm(figure string, below float64, guarded bool) *Alarm {
	c, cell, out := figureOf(q.m, q.feed.ID, figure), figureOf(q.m, q.feed.ID, "cellV"), &Alarm{Guarded: guarded}
	for i := range q.run.T {
		v := q.run.Records[i][c]
		if v > below || q.run.Records[i][figureOf(q.m, q.feed.ID, "busA")] <= 0 {
			continue
		}
		at := q.run.T[i]
		if i > 0 && q.run.Records[i-1][c] > below {
			was := q.run.Records[i-1][c]
			at = q.run.T[i-1] + (at-q.run.T[i-1])*(was-below)/(was-v)
		}
		out.S, out.LeftS, out.CellV = &at, new(q.run.T[len(q.run.T)-1]-at), new(q.run.At(at)[cell])
		return out
	}
	return out
}

// gauge turns a resting voltage into a charge and the time from there.
func (q *runtimeQuestion) gauge(cellV float64) *Gauge {
	points := q.m.Resting()
	charge := func(v float64) float64 {
		for i := 1; i < len(points); i++ {
			if a, b := points[i-1], points[i]; v <= b.CellV {
				return max(0, a.Charge+(b.Charge-a.Charge)*(v-a.CellV)/max(b.CellV-a.CellV, 1e-9))
			}
		}
		return 1
	}
	left := func(of float64) *float64 {
		c := figureOf(q.m, q.feed.ID, "charge")
		end := q.run.T[len(q.run.T)-1]
		if q.run.End.Kind == "time-limit" || q.run.End.Kind == "settled" {
			return nil
		}
		for i := range q.run.T {
			if is := q.run.Records[i][c]; is <= of {
				if i == 0 {
					if is < of-1e-3 { // the run did not begin so full
						return nil
					}
					return &end
				}
				was := q.run.Records[i-1][c]
				at := q.run.T[i-1] + (q.run.T[i]-q.run.T[i-1])*(was-of)/max(was-is, 1e-12)
				return new(end - at)
			}
		}
		return new(0.0)
	}
	g := &Gauge{CellV: cellV, Charge: charge(cellV), Low: charge(cellV - gaugeV), High: charge(cellV + gaugeV)}
	g.LeftS, g.LowS, g.HighS = left(g.Charge), left(g.Low), left(g.High)
	g.Weak = g.High-g.Low > weakShare
	return g
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
	if a.EndsBy == "trips" {
		add("its board trips", a.EndS)
	} else {
		add("cut off or empty", a.EndS)
	}
}

// untilWords says what a run goes down to.
func untilWords(a *chain.Answers) string {
	if a.EndsBy == "trips" {
		return "the board of the cells trips"
	}
	return "the cells are cut off or empty"
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

// lastsS is how long a light is lit, s: to half its light, to the end where its lumens are not
// known or there are none, and nought where it overheats or nothing flows.
func lastsS(run *chain.Run) float64 {
	switch a := run.Answers(); {
	case a.HalfS != nil:
		return *a.HalfS
	case a.EndS != nil:
		return *a.EndS
	case run.End.Kind == "overheat" || a.InputW <= 0:
		return 0
	}
	return math.Inf(1)
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
		return lastsS(run), nil
	}
	with := func(strings int) (float64, error) {
		return lasts(func(l *design.Light) {
			f, _ := firstPack(l, &l.Variants[q.variant])
			f.Sources[0].Pack.Parallel, f.Sources[0].Pack.Groups = strings, nil // of cells like their part
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
		return min(lastsS(run)/wantedS-1, farLonger)
	}
	most, least := mostSetting*now, leastSetting*now
	fm, fl := over(most), over(least)
	if failed != nil {
		return fmt.Errorf("looking for a current: %w", failed)
	}
	if fl > 0 && fm < 0 {
		a := root.Bracketed(over, least, fl, most, fm, 1e-3*now)
		if math.Abs(over(a)) > asWanted {
			a *= shyOfJump // where a board trips, it jumps past what is wanted
		}
		if over(a) > -asWanted {
			out.CurrentA = &a
		}
	}
	return nil
}
