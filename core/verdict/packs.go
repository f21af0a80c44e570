package verdict

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/lot"
	"photherm/core/source"
	"photherm/core/units"
)

// Where limits of packs lie (common practice).
const (
	groupsApart = 0.1 // share by which groups may differ before it is said
	dropOutV    = 0.3 // a linear charger's least input above its output
	fuseShare   = 0.8 // of its rating a fuse carries for long
	lateV       = 0.5 // V below what cells may be drained to at which a board is for accidents only
)

// OfPack is what is found of one pack of a run, by the id of its source: its cells, its board, its
// charger. Fixes are not tried.
func OfPack(run *chain.Run, sourceID string) []Finding {
	j := newJudge(run.Model)
	j.run, j.answers = run, run.Answers()
	v := run.Model.Variant()
	for i := range v.Feeds {
		for k := range v.Feeds[i].Sources {
			if s := &v.Feeds[i].Sources[k]; s.ID == sourceID && s.Pack != nil {
				j.pack(&v.Feeds[i], s, fmt.Sprintf("%s/feeds/%d/sources/%d", j.at, i, k))
			}
		}
	}
	return j.findings
}

// otherPack judges a pack that a feed must accept beside the source in use: what its document alone
// tells.
func (j *judge) otherPack(f *design.Feed, s *design.Source, at string) {
	cell := j.data(s.Pack.PartID).Cell
	if cell == nil {
		return
	}
	add := j.packAdder(s, at)
	low, _ := source.Range(cell)
	j.drained(f, s.Pack, cell, low, add)
	j.fuse(f, s, s.Pack, cell, add)
}

// packAdder takes down findings about a pack.
func (j *judge) packAdder(s *design.Source, at string) adder {
	return func(code string, severity Severity, pointer, title, why string, value, limit *float64, unit string) *Finding {
		j.add(Finding{Code: code, Severity: severity, Stage: "source", Node: s.ID, Pointer: at + "/pack" + pointer, Title: title, Why: why, Value: value, Limit: limit, Unit: unit})
		return &j.findings[len(j.findings)-1]
	}
}

func (j *judge) pack(f *design.Feed, s *design.Source, at string) {
	p := s.Pack
	cell := j.data(p.PartID).Cell
	if cell == nil {
		return
	}
	add := j.packAdder(s, at)
	low, high := source.Range(cell)
	if p.CutoffCellV != nil && *p.CutoffCellV >= high {
		add("cutoff-above-full", Stop, "/cutoffCellV", "Cut off even when full", fmt.Sprintf("The pack is cut off at %s a cell, and a full one stands at %s: it never comes on.", units.Volts(*p.CutoffCellV), units.Volts(high)), p.CutoffCellV, &high, "V")
	}
	if why, impossible := lot.Plausible(cell.Size, cell.CapacityAh); why != "" {
		f := add("cell-capacity", Note, "/partId", "Capacity hard to believe", sentence(why), &cell.CapacityAh, nil, "Ah")
		if impossible {
			f.Severity, f.Title = Caution, "Capacity that cannot be"
		}
	}
	j.groups(s, p, cell, add)
	j.drained(f, p, cell, low, add)
	j.fuse(f, s, p, cell, add)
	j.protection(f, s, p, cell, low, add)
	j.alarms(p, low, add)
	if p.Build == "soldered" && !source.Primary(cell) && !source.InOneBlock(cell) {
		add("soldered-cells", Caution, "/build", "Soldered on cells", "Heat goes into the cell through its end and can burn its separator: weld strip on, use holders, or keep the welded tabs that are there. If it must be: roughened, hot iron, two seconds, never on minus of a lithium cell.", nil, nil, "")
	}
	j.charging(s, p, cell, add)
}

// fuse judges the fuse at a pack: what the light draws through it, and what its cells bear. The
// figures of a run are of the first source of a feed alone.
func (j *judge) fuse(f *design.Feed, s *design.Source, p *design.Pack, cell *design.Cell, add adder) {
	a := 0.0
	if s == &f.Sources[0] {
		a, _ = j.highest(f.ID, "busA")
	}
	parallel := float64(max(p.Parallel, 1))
	if p.FuseA != nil && a > fuseShare**p.FuseA {
		limit := fuseShare * *p.FuseA
		add("fuse-small", Caution, "/fuseA", "Fuse too small", fmt.Sprintf("The light draws %s; a fuse of %s carries %s for long.", units.Amps(a), units.Amps(*p.FuseA), units.Amps(limit)), &a, &limit, "A")
	}
	if most := cell.MaxDischargeA; p.FuseA != nil && most != nil && above(*p.FuseA, *most*parallel) {
		limit := *most * parallel
		found := add("fuse-large", Caution, "/fuseA", "The fuse does not protect the cells", fmt.Sprintf("It carries %s for long, and the cells bear %s: they overheat before it blows.", units.Amps(*p.FuseA), units.Amps(limit)), p.FuseA, &limit, "A")
		if fits := lowerFuse(limit); fits > a/fuseShare {
			found.Fix = (&Fix{Label: "A fuse of " + units.Amps(fits), Patch: []Patch{{"add", j.packAt(p) + "/fuseA", fits}}}).keeping(told("below what the cells bear"))
		}
	}
	if cell.MaxDischargeA != nil {
		return
	}
	gentle := source.GentleC(cell) * cell.CapacityAh
	if each := a / parallel; above(each, gentle) {
		add("cell-current-asked", Caution, "/partId", "How much may a cell give?", fmt.Sprintf("Each cell gives up to %s, %.2g times its capacity in an hour, and nobody said what it bears: look in its data; of reclaimed or unknown ones take no more than %s.", units.Amps(each), each/cell.CapacityAh, units.Amps(gentle)), &each, &gentle, "A")
	}
}

// lowerFuse is the next lower usual rating of a fuse, A (IEC 60127, the R10 series).
func lowerFuse(a float64) float64 {
	if a <= 0 {
		return 0
	}
	decade := math.Pow(10, math.Floor(math.Log10(a)))
	out := 0.8 * decade
	for _, x := range []float64{1, 1.25, 1.6, 2, 2.5, 3.15, 4, 5, 6.3, 8} {
		if x*decade <= a*(1+1e-9) {
			out = x * decade
		}
	}
	return math.Round(out*1e4) / 1e4
}

// alarms tells of gauges that sound too late, or alone.
func (j *judge) alarms(p *design.Pack, low float64, add adder) {
	cut, guarded := low, p.CutoffCellV != nil
	if guarded {
		cut = *p.CutoffCellV
	} else if board := j.data(p.ProtectionID).Protect; board != nil {
		cut, guarded = board.CutCellV, true
	}
	for _, a := range []struct {
		v       *float64
		cells   float64
		pointer string
		each    string
	}{{p.AlarmCellV, 1, "/alarmCellV", " a cell"}, {p.AlarmPackV, float64(max(p.Series, 1)), "/alarmPackV", ""}} {
		if a.v == nil {
			continue
		}
		end := cut * a.cells
		switch {
		case *a.v <= end:
			add("alarm-late", Caution, a.pointer, "The alarm never sounds", fmt.Sprintf("It would sound at %s%s, and the pack is cut off, or empty, at %s before that.", units.Volts(*a.v), a.each, units.Volts(end)), a.v, &end, "V")
		case !guarded:
			add("alarm-alone", Caution, a.pointer, "An alarm that does not cut", fmt.Sprintf("It sounds at %s%s and nothing switches the light off: who is not there, or asleep, comes back to cells below %s. The Runtime pane says how long that takes.", units.Volts(*a.v), a.each, units.Volts(low)), a.v, nil, "V")
		}
	}
}

type adder func(code string, severity Severity, pointer, title, why string, value, limit *float64, unit string) *Finding

// groups tells of groups that are unlike: the pack ends with the weakest.
func (j *judge) groups(s *design.Source, p *design.Pack, cell *design.Cell, add adder) {
	unequal := slices.ContainsFunc(p.Groups, func(g design.CellGroup) bool { return len(g.Cells) != p.Parallel })
	if unequal {
		n := float64(p.Parallel)
		add("groups-unequal", Caution, "/groups", "Groups of unlike many cells", fmt.Sprintf("A pack of %d in parallel takes as many cells in every group; these do not. It is computed as they lie.", p.Parallel), nil, &n, "")
	}
	if gap := groupsGap(p, cell); gap > groupsApart {
		limit := groupsApart
		add("groups-apart", Caution, "/groups", "Groups far apart", fmt.Sprintf("The weakest group holds %s less than the strongest: the pack ends with it, what the others hold is stranded, and without a balancing board the gap grows. Put cells together that are closer to each other.", percent(gap)), &gap, &limit, "")
	}
}

// trips tells of a board that lets less through than the light draws.
func (j *judge) trips(f *design.Feed, p *design.Pack, b *design.Protection, lowV float64, add adder) {
	a, did := j.run.Tripped[f.ID]
	if !did || b.MaxA == nil {
		return
	}
	why := fmt.Sprintf("The light draws %s and the board lets %s through: it switches off as soon as it is switched on", units.Amps(a), units.Amps(*b.MaxA))
	for _, e := range j.run.Events {
		if e.Kind == "trips" && e.Node == f.ID && e.T > 0 {
			why = fmt.Sprintf("The board lets %s through, and after %s the light draws more: it switches off then", units.Amps(*b.MaxA), units.Duration(e.T))
		}
	}
	found := add("protection-trips", Stop, "/protectionId", "The board trips", why+", and stays off until the load is taken away.", &a, b.MaxA, "A")
	found.Fix = j.underTrip(f, p, lowV, a, *b.MaxA)
}

// tripSpare is how much less than its board bears a pack is made to give (chosen: contacts and losses
// take some of it).
const tripSpare = 1.05

// underTrip sets the one driver there is so low that its pack gives no more than the board bears until
// it is cut off: a switching one draws more as the cells empty. What flowed when it tripped is a.
func (j *judge) underTrip(f *design.Feed, p *design.Pack, lowV, a, maxA float64) *Fix {
	driver := j.anyDriver()
	open, ok := j.column[[2]string{f.ID, "openV"}]
	if driver == nil || !ok {
		return nil
	}
	d := j.data(driver.node.Driver.PartID).Driver
	now := cmp.Or(driver.node.Driver.SetCurrentA, d.SetCurrentA)
	if now == nil {
		return nil
	}
	worst := a
	if d.Family != "linear" {
		worst *= max(1, j.run.Records[len(j.run.Records)-1][open]/(float64(p.Series)*lowV))
	}
	return j.setCurrent(driver, "Set", downTo2(*now*maxA/(worst*tripSpare))).keeping(func(with *judge) string { return with.below(f.ID, "busA", maxA) })
}

// protection judges the board between cells and light.
func (j *judge) protection(f *design.Feed, s *design.Source, p *design.Pack, cell *design.Cell, lowV float64, add adder) {
	b := j.data(p.ProtectionID).Protect
	if b == nil {
		return
	}
	if b.Series != p.Series {
		n, want := float64(p.Series), float64(b.Series)
		add("protection-series", Stop, "/protectionId", "Board for another number of cells", fmt.Sprintf("The board watches %d in series, the pack has %d: cells it does not see are not protected, or it never switches on.", b.Series, p.Series), &n, &want, "")
	}
	if b.Chemistry != "" && b.Chemistry != cell.Chemistry {
		add("protection-chemistry", Stop, "/protectionId", "Board for another chemistry", fmt.Sprintf("The board cuts at %s and belongs to %s; these cells are %s.", units.Volts(b.CutCellV), chemistryWord(b.Chemistry), chemistryWord(cell.Chemistry)), nil, nil, "")
	} else if b.CutCellV < lowV-lateV {
		add("protection-low", Caution, "/protectionId", "Board cuts late", fmt.Sprintf("It cuts at %s a cell, far below the %s these may be drained to: it is there for an accident, not for every night.", units.Volts(b.CutCellV), units.Volts(lowV)), &b.CutCellV, &lowV, "V")
	}
	j.trips(f, p, b, lowV, add)
	if b.Latches || b.LowSide {
		why := ""
		if b.LowSide {
			why = "It opens the minus wire: measure cells at the cells, not at the light's minus, and let no metal join the two. "
		}
		if b.Latches {
			why += fmt.Sprintf("After a cut it stays off until it is woken: a charger, or for a second %s on its output through a resistor that lets no more than 0.1 A flow. A cell found below %s is not woken but scrapped.", units.Volts(float64(p.Series)*wakeV(cell)), units.Volts(scrapV(cell)))
		}
		add("protection-wakes", Note, "/protectionId", "How this board behaves", why, nil, nil, "")
	}
}

// wakeV is about what a resting cell of a kind stands at, V.
func wakeV(c *design.Cell) float64 {
	low, high := source.Range(c)
	return math.Round(10*(low+0.6*(high-low))) / 10
}

// scrapV is below what a cell that was drained is not charged again, V (common practice: half a
// volt below its lowest for lithium, whose copper dissolves there).
func scrapV(c *design.Cell) float64 {
	low, _ := source.Range(c)
	return math.Max(low-0.8, 0.5)
}

var chemistryWords = map[string]string{
	"li-ion-4.2": "lithium-ion of 4.2 V", "li-ion-4.35": "lithium-ion of 4.35 V", "lifepo4": "iron phosphate", "nimh": "nickel–metal hydride", "alkaline": "alkaline",
	"zinc-carbon": "zinc–carbon", "lead-acid": "lead-acid", "lithium-3.0": "lithium primaries of 3 V", "lithium-1.5": "lithium primaries of 1.5 V",
}

func chemistryWord(c string) string { return chemistryWords[c] }

// charging judges what charges a pack.
func (j *judge) charging(s *design.Source, p *design.Pack, cell *design.Cell, add adder) {
	use := p.Charger
	if use == nil {
		return
	}
	if source.Primary(cell) {
		add("charging-primary", Stop, "/charger", "Cells that must not be charged", fmt.Sprintf("%s cells leak or burst when they are charged: take the charger and its jack out of the light.", capital(chemistryWord(cell.Chemistry))), nil, nil, "")
		return
	}
	part := j.data(use.PartID).Charger
	if part != nil && part.Chemistry != cell.Chemistry {
		add("charger-chemistry", Stop, "/charger/partId", "Charger of another chemistry", fmt.Sprintf("It charges %s, and these cells are %s: they are overcharged, or never full. Take it out, and its jack too, so that nobody plugs one in.", chemistryWord(part.Chemistry), chemistryWord(cell.Chemistry)), nil, nil, "")
		return
	}
	if part != nil && max(part.Series, 1) != p.Series {
		n, want := float64(p.Series), float64(max(part.Series, 1))
		add("charger-series", Stop, "/charger/partId", "Charger for another number of cells", fmt.Sprintf("It charges %d in series, the pack has %d.", max(part.Series, 1), p.Series), &n, &want, "")
		return
	}
	law := source.NewCharger(use, part, cell, p.Series, nil, 0)
	end, most := law.EndV/float64(max(p.Series, 1)), source.ChargeV(cell)
	if end > most+1e-9 {
		at := "/charger/endCellV"
		if use.EndCellV == nil {
			at = "/charger/partId"
		}
		f := add("charger-voltage", Stop, at, "Charged too high", fmt.Sprintf("It charges to %s a cell, and these bear %s: beyond it lithium plates and cells vent.", units.Volts(end), units.Volts(most)), &end, &most, "V")
		f.Fix = (&Fix{Label: "End at " + units.Volts(most), Patch: []Patch{{"add", j.sourceAt(s) + "/pack/charger/endCellV", most}}}).keeping(told("at what a cell bears"))
	}
	a := law.CurrentA / float64(p.Parallel)
	limit, says := source.MaxChargeA(cell)
	if a > limit*(1+1e-9) {
		f := add("charge-current", Caution, "/charger/currentA", "Charged too fast", fmt.Sprintf("Each cell is charged with %s, and may be with %s (%s).", units.Amps(a), units.Amps(limit), says), &a, &limit, "A")
		if use.ProgramOhm == nil {
			f.Fix = (&Fix{Label: "Charge with " + units.Amps(limit*float64(p.Parallel)), Patch: []Patch{{"add", j.sourceAt(s) + "/pack/charger/currentA", limit * float64(p.Parallel)}}}).keeping(told("at what a cell may take"))
		}
	}
	if part != nil && part.InputV != nil && part.Kind == "linear" && *part.InputV < law.EndV+dropOutV {
		need := law.EndV + dropOutV
		add("charger-input", Caution, "/charger/partId", "Charger fed by too little", fmt.Sprintf("A linear charger needs about %s to end at %s; it gets %s.", units.Volts(need), units.Volts(law.EndV), units.Volts(*part.InputV)), part.InputV, &need, "V")
	}
	if b := j.data(p.ProtectionID).Protect; b != nil && b.OverCellV != nil && end >= *b.OverCellV {
		add("charger-over-board", Caution, "/charger", "The board ends the charge", fmt.Sprintf("It charges to %s a cell, and the board stops at %s: the charger never comes to its own end.", units.Volts(end), units.Volts(*b.OverCellV)), &end, b.OverCellV, "V")
	}
	j.unwatched(p, cell, add)
	low := 0.0
	if cell.ChargeMinC != nil {
		low = *cell.ChargeMinC
	}
	if c := j.light.Conditions.AmbientC; c < low && (part == nil || !part.WatchesC) {
		add("charging-cold", Caution, "/charger", "Charged in the cold", fmt.Sprintf("At %s lithium plates on the electrode while it is charged; these are charged above %s, and nothing keeps it. Charge indoors.", units.Degrees(c), units.Degrees(low)), &c, &low, "°C")
	}
}

// unwatched tells of cells in series that are charged by the voltage of all of them alone: the one
// that holds least is full first. Of groups that are known to be far apart it is a stop (chosen:
// common practice asks for a board or a balancing charger on any lithium pack in series).
func (j *judge) unwatched(p *design.Pack, cell *design.Cell, add adder) {
	b := j.data(p.ProtectionID).Protect
	if p.Series < 2 || !strings.HasPrefix(cell.Chemistry, "li") || b != nil && b.OverCellV != nil && b.Series == p.Series {
		return
	}
	severity := Caution
	if groupsGap(p, cell) > groupsApart {
		severity = Stop
	}
	add("charging-unwatched", severity, "/protectionId", "No cell is watched while it charges", fmt.Sprintf("The charger sees %d in series as one: the cell that holds least is full first and is driven beyond %s, where it vents or burns. Put in a board that stops the charge at each cell, or charge with a balancing charger by its balance leads.", p.Series, units.Volts(source.ChargeV(cell))), nil, nil, "")
}

// groupsGap is by which share the weakest group of a pack holds less than the strongest; 0 where
// the cells are not known, as the chain says.
func groupsGap(p *design.Pack, cell *design.Cell) float64 {
	groups, err := source.GroupsOf(p, cell)
	if err != nil {
		return 0
	}
	least, most := math.Inf(1), 0.0
	for _, g := range groups {
		least, most = min(least, g.CapacityAh()), max(most, g.CapacityAh())
	}
	return 1 - least/most
}

// sourceAt is where a source stands in the document.
func (j *judge) sourceAt(s *design.Source) string { return j.pointerTo(s.ID) }
