package begin

import (
	"cmp"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"

	"photherm/core/design"
	"photherm/core/source"
	"photherm/core/units"
)

// A feed is what a line of words says of where power comes from.
type feed struct {
	source  design.Source
	lowV    float64 // without load
	highV   float64
	free    int  // cells whose wiring was not said
	unsaid  bool // whether nobody said how many cells
	primary bool // cells that are not charged
	cell    *design.Cell
}

const mainsFromV = 90 // what is called so or more, and nothing else, is a wall socket

// supply reads what feeds the light. Without words it is one lithium-ion cell: what most
// small lights run from.
func (b *builder) feed(id, fact, line string) feed {
	line = strings.NewReplacer("side by side", "in parallel", "powerbank", "power bank", "Powerbank", "power bank").Replace(line)
	if rest := panelPart.ReplaceAllString(line, " "); rest != line {
		if s := parse(standardCells(rest)); s.size != "" || s.figure("charge") != nil || s.has("battery", "cell", "cells", "pack") {
			b.remark(fact, "What charges the cells is left out: put a charger in on the page.")
			line = rest
		}
	}
	line = inAmpereHours(line)
	line = b.alike(fact, standardCells(noRate(line)))
	s := b.read(fact, line)
	if p := b.picked("cell"); p != nil && s.bare() {
		return b.pack(id, fact, line, s, p)
	}
	for _, w := range s.words {
		if strings.Trim(w, "0123456789") == "" && w != s.size {
			b.remark(fact, "%s of what? Give its unit.", w)
		}
	}
	if s.bare() && s.count > mostCellsTaken {
		b.remark(fact, "%d of what? Give its unit.", s.count)
		s.count = 0
	}
	v, hasV := s.first("voltage")
	_, hasAh := s.first("charge")
	// Of a battery and its charger the battery is what feeds the light.
	adapted := s.has(adapters...) && !(s.has("charger") && s.has("battery", "pack", "cell", "cells") && !s.has("usb", "adapter", "psu", "phone", "laptop"))
	onBoard := s.has("socket", "outlet", "plug", "lighter") && s.has(vehicles...)
	switch {
	case s.has("mains", "wall", "socket", "outlet", "driver", "drivers") && !hasV && !adapted && !onBoard || hasV && v.mid() >= mainsFromV && !hasAh:
		volts := 230.0
		if hasV {
			volts = v.mid()
		}
		b.mainsV = volts
		f := feed{source: design.Source{ID: id, Mains: &design.Mains{VoltageV: volts, FrequencyHz: 50}}}
		if volts < 150 {
			f.source.Mains.FrequencyHz = 60
		}
		if !hasV {
			b.assume("/feeds/power/sources/"+id+"/mains/voltageV", "the mains of most countries")
		}
		f.lowV, f.highV, _ = source.Voltages(&f.source, nil)
		b.understood(fact, "the wall socket, %s", units.Volts(volts))
		return f
	case onBoard || adapted || s.has("bank") && s.size == "" || s.has("supply", "bench", "rail", "dynamo", "mains", "wall", "socket", "outlet") || s.has("panel") && !hasAh && s.size == "" || hasV && !hasAh && s.size == "" && s.series == 0 && s.parallel == 0 && !s.has("cell", "battery", "pack") && !s.namesChemistry():
		volts := 12.0
		switch {
		case s.has("laptop", "notebook"):
			volts = laptopV
		case s.has("usb", "bank", "phone", "charger"):
			volts = 5
		case s.has("dynamo"):
			volts = 6
		case s.has("panel"):
			volts = panelV
		case onBoard && s.has("truck", "lorry"):
			volts = 24
		}
		if hasV {
			volts = v.mid()
		} else {
			b.assume("/feeds/power/sources/"+id+"/supply/voltageV", "most adapters give %s", units.Volts(volts))
		}
		if s.has("ac", "vac", "dynamo") || s.has("transformer") && !s.has("led", "leds", "dc") {
			b.remark(fact, "This gives alternating current, and LEDs want direct: a rectifier with a capacitor behind it makes of %s about %s under a small load, less under its full one. %s is what is taken here: say what it gives behind them.", units.Volts(volts), units.Volts(round3(volts*math.Sqrt2-rectifierV)), units.Volts(volts))
		}
		f := feed{source: design.Source{ID: id, Supply: &design.Supply{VoltageV: volts, MaxCurrentA: s.figure("current")}}}
		if w := s.figure("power"); w != nil && f.source.Supply.MaxCurrentA == nil && volts > 0 {
			f.source.Supply.MaxCurrentA = ptr(*w / volts)
		}
		b.kindOfSupply(s, fact, f.source.Supply, "/feeds/power/sources/"+id+"/supply/")
		f.lowV, f.highV = volts, volts
		if most := f.source.Supply.MaxCurrentA; most != nil {
			b.understood(fact, "a supply of %s, up to %s", units.Volts(volts), units.Amps(*most))
		} else {
			b.understood(fact, "a supply of %s", units.Volts(volts))
		}
		return f
	}
	return b.pack(id, fact, line, s, nil)
}

var wattHours = regexp.MustCompile(`(?i)([\d.,]*\d)\s*(k?)Wh\b`)

// inAmpereHours writes the watt-hours of a battery as the charge that they are at its volts; where
// those are not said it leaves them.
func inAmpereHours(line string) string {
	v, ok := parse(line).first("voltage")
	m := wattHours.FindStringSubmatch(line)
	if m == nil || !ok || v.mid() <= 0 || v.mid() >= mainsFromV {
		return line
	}
	wh := atof(m[1])
	if m[2] != "" {
		wh *= 1000
	}
	return wattHours.ReplaceAllString(line, fmt.Sprintf("%.4g Ah", wh/v.mid()))
}

// panelPart is what is said of a solar panel beside the cells that it charges.
var panelPart = regexp.MustCompile(`(?i)\b(?:(?:solar\s+)?panel|solar\s+charger)\b[^,;+]*?(?:[,;+]|\band\b|\bwith\b|$)`)

// vehicles have a socket of 12 V, of 24 V in trucks.
var vehicles = []string{"car", "cigarette", "vehicle", "caravan", "camper", "boat", "truck", "lorry", "tractor"}

// dischargeRate is how many times its capacity a pack of model builders gives in an hour: "3S 2200
// mAh 25C" names no cells of size C.
var dischargeRate = regexp.MustCompile(`(?i)(\b\d+S\b.*?|mAh.*?|lipo.*?)\b(?:\d{1,3}\s*-\s*)?\d{1,3}C\b`)

// noRate takes such rates off a line, from the last to the first.
func noRate(line string) string {
	for less := dischargeRate.ReplaceAllString(line, "$1"); less != line; less = dischargeRate.ReplaceAllString(line, "$1") {
		line = less
	}
	return line
}

// laptopV is what most adapters of laptops give (common practice: 18.5 to 20 V).
const laptopV = 19

// panelV is what solar panels for 12 V systems stand at, under load in full sun (common practice).
const panelV = 18

// adapters are what they are called that make a low voltage of the wall's.
var adapters = []string{"adapter", "adaptor", "wart", "charger", "psu", "brick", "transformer", "usb"}

// kindOfSupply says what a supply is by its words, and what goes with that.
func (b *builder) kindOfSupply(s *said, fact string, supply *design.Supply, at string) {
	switch {
	case s.has("bank"):
		supply.Kind = "power-bank" // what it wants to be drawn is judged as usual where it does not say
		if s.figure("charge") != nil {
			b.remark(fact, "How long a power bank lasts is not computed from its label: say its cells, as 1S2P 5 Ah, to know the hours.")
		}
	case s.has("bench"):
		supply.Kind = "bench"
		if v, ok := s.first("voltage"); ok && v.high > 2*v.low {
			b.remark(fact, "It is taken as set to %s: say what it is set to.", units.Volts(v.mid()))
		}
	case s.has("panel"):
		b.remark(fact, "A panel is taken as a steady supply in full sun: under clouds it gives a tenth of that, and at night nothing.")
	case s.has("capacitor", "supercap", "supercapacitor"):
		b.remark(fact, "A capacitor falls from the first second on and is not computed here: a supply of its volts is taken.")
	case s.has("rail"):
		supply.Kind = "rail"
	case s.has("dynamo") && supply.MaxCurrentA == nil:
		supply.MaxCurrentA = ptr(dynamoA)
		b.assume(at+"maxCurrentA", "a dynamo gives about %s whatever hangs on it", units.Amps(dynamoA))
		b.remark(fact, "A dynamo is taken as a steady supply at riding speed: it gives less at a walk.")
	}
}

// pack reads cells; picked: the cell is a part at hand.
func (b *builder) pack(id, fact, line string, s *said, picked *design.Part) feed {
	partID := "cell"
	if id != "pack" {
		partID = "cell-" + id
	}
	at := "/parts/" + partID + "/cell/"
	part := design.Part{ID: partID, Basis: "guess"}
	cell, blockOf, what := design.Cell{}, 0, ""
	if picked != nil {
		part = *picked
		part.ID = partID
		cell = *picked.Cell
	} else {
		cell, blockOf, what = b.cell(s, at)
	}
	if picked == nil && blockOf == 0 && !s.namesCells() && !s.empty() {
		b.remark(fact, "“%s” names no source that is understood here, and lithium-ion cells are taken: say cells by number and size, an adapter by its volts, or the wall.", strings.TrimSpace(line))
	}
	n := s.count
	pack := &design.Pack{PartID: partID, Series: 1, Parallel: 1, BodyID: "body"}
	f := feed{cell: &cell}
	f.primary = cell.Chemistry == "alkaline" || cell.Chemistry == "zinc-carbon" || cell.Chemistry == "lithium-1.5" || cell.Chemistry == "lithium-3.0"
	series := "/feeds/power/sources/" + id + "/pack/series"
	switch {
	// Of pouch packs 3S tells cells; of other blocks it tells blocks.
	case blockOf > 0 && (cell.Chemistry != "li-ion-4.2" || s.series <= 0 && s.parallel <= 0):
		each := blockOf
		if v, ok := s.first("voltage"); ok {
			each = cellsOf(v.mid(), &cell)
		} else {
			b.assume(series, "%s", what)
		}
		blocks := max(n, 1)
		if _, said := s.first("voltage"); !said && n > 1 && cell.Chemistry == "li-ion-4.2" && s.has("cells") {
			each, blocks = n, 1 // its cells were counted, and not packs
		}
		switch {
		case s.series > 0:
			pack.Series, pack.Parallel = each*s.series, max(s.parallel, 1)
		case s.series < 0:
			pack.Series = each * blocks
		default:
			pack.Series, pack.Parallel = each, max(s.parallel, blocks)
		}
	case s.has("laptop", "notebook") && s.has("battery", "pack") && s.series == 0 && s.parallel == 0 && laptopPacks[n] != [2]int{}:
		pack.Series, pack.Parallel = laptopPacks[n][0], laptopPacks[n][1]
		b.assume(series, "as batteries of %d cells are mostly wired in laptops", n)
	case s.series > 0:
		pack.Series, pack.Parallel = s.series, max(s.parallel, 1)
		if n > pack.Series && s.parallel <= 0 && n%pack.Series == 0 {
			pack.Parallel = n / pack.Series
		} else if blockOf > 0 && n > 1 && s.parallel <= 0 && !s.has("cell", "cells") {
			pack.Parallel = n // so many packs of that
		}
	case s.series < 0:
		pack.Series = max(n, 1)
	case s.parallel < 0:
		pack.Parallel = max(n, 1)
	case s.parallel > 0:
		pack.Parallel = s.parallel
		if n > s.parallel && n%s.parallel == 0 {
			pack.Series = n / s.parallel
		}
	case n > 1:
		pack.Series, f.free = n, n // wired for the driver, later
	case n == 0:
		if v, ok := s.first("voltage"); !ok && slices.Contains(s.words, "cell") {
			b.assume(series, "one, as “cell” was said of it")
		} else if ok {
			pack.Series = cellsOf(v.mid(), &cell)
			if s.has("tool", "drill", "mower", "cordless", "max") && wholly(v.mid()/fullVolts) {
				pack.Series = int(v.mid()/fullVolts + 0.5)
			}
		} else {
			f.unsaid = true
			b.assume(series, "as few as do, as nobody said how many")
		}
	}
	if s.has("protected", "protection", "bms", "pcm") {
		pack.CutoffCellV = &source.UsualBoard(&cell, 1).CutCellV
		b.assume("/feeds/power/sources/"+id+"/pack/cutoffCellV", "where boards of such cells mostly cut, as it was said to be protected")
	}
	part.Cell = &cell
	if part.Name == "" {
		part.Name = fmt.Sprintf("%s %s cell", units.Format(cell.CapacityAh, "charge", 3), spoken(cell))
	}
	b.part(part)
	f.source = design.Source{ID: id, Pack: pack}
	b.span(&f)
	b.understood(fact, "%s", b.packWords(&f))
	return f
}

// Cells by their standard names (IEC 60086-1, 61951, from memory): a letter for what is in them,
// R for round, a number for the size.
var (
	standardCell  = regexp.MustCompile(`(?i)\b([lfhk])?r(03|6|14|20)\b`)
	standardBlock = regexp.MustCompile(`(?i)\b(?:6lr61|6f22|3l?r12|4l?r25)\b`)
	pluralCells   = regexp.MustCompile(`\b(AAA|AA|C|D)(?:['’]?[sS]|-[cC]ells?|-[sS]ized?)\b`)
	tinyBlock     = regexp.MustCompile(`(?i)^(.*[×x*\s])?(?:23A|A23)(?:\s+12\s*V)?((?:\s+batter(?:y|ies))?\s*(?:[x×*]\s*\d+)?)\s*$`) // no 23 amperes
	lettersSaid   = regexp.MustCompile(`(?i)\b(?:double|triple)[\s-]+A\b`)
	alternating   = regexp.MustCompile(`(?i)(\d\s*)v(ac|dc)\b`)
)

// standardCells writes them as people say them: LR6 is an alkaline AA.
func standardCells(line string) string {
	line = lettersSaid.ReplaceAllStringFunc(line, func(said string) string {
		return strings.Repeat("A", map[string]int{"d": 2, "t": 3}[strings.ToLower(said[:1])])
	})
	line = tinyBlock.ReplaceAllString(pluralCells.ReplaceAllString(line, "$1 cells"), "$1 a23 $2")
	line = alternating.ReplaceAllString(line, "$1 V $2")
	line = standardBlock.ReplaceAllStringFunc(line, func(name string) string {
		switch strings.ToLower(name)[0] {
		case '6':
			return "9 V block"
		case '3':
			return "4.5 V flat block"
		}
		return "6 V lantern block"
	})
	return standardCell.ReplaceAllStringFunc(line, func(name string) string {
		m := standardCell.FindStringSubmatch(name)
		of := map[string]string{"l": "alkaline", "f": "lithium", "h": "nimh", "k": "nicd", "": "zinc-carbon"}[strings.ToLower(m[1])]
		return map[string]string{"03": "AAA", "6": "AA", "14": "C", "20": "D"}[m[2]] + " " + of
	})
}

// rectifierV is what a bridge takes from what it rectifies, V (common practice).
const rectifierV = 1.4

// namesCells tells whether something in the words belongs to cells: their number, size, wiring,
// charge, volts or kind.
func (s *said) namesCells() bool {
	if s.count > 0 || s.size != "" || s.series != 0 || s.parallel != 0 || s.figure("charge") != nil || s.figure("voltage") != nil || s.has("cell", "cells", "battery", "batteries", "pack", "accumulator", "rechargeable") {
		return true
	}
	return s.namesChemistry()
}

// namesChemistry tells whether something in the words is what cells are made of, or a block of them
// goes by.
func (s *said) namesChemistry() bool {
	for _, b := range typicalBlocks {
		if s.has(b.words...) {
			return true
		}
	}
	return slices.ContainsFunc(chemistryWords, func(c chemistryWord) bool { return s.has(c.words...) })
}

func spoken(c design.Cell) string {
	if c.Size != "" {
		return c.Size + " " + chemistryName(c.Chemistry)
	}
	return chemistryName(c.Chemistry)
}

func chemistryName(c string) string {
	if name := map[string]string{"li-ion-4.2": "lithium-ion", "li-ion-4.35": "lithium-ion 4.35 V", "lifepo4": "iron phosphate", "nimh": "nickel-metal hydride", "lithium-3.0": "3 V lithium", "lithium-1.5": "1.5 V lithium"}[c]; name != "" {
		return name
	}
	return c
}

func (b *builder) packWords(f *feed) string {
	p := f.source.Pack
	return fmt.Sprintf("%dS%dP of %s %s, %s to %s", p.Series, p.Parallel, units.Format(f.cell.CapacityAh, "charge", 3), spoken(*f.cell), units.Volts(f.lowV), units.Volts(f.highV))
}

// cellsAt is how many cells in series stand at a voltage for most of a run.
func cellsAt(volts float64, cell *design.Cell) int {
	_, high := source.Range(cell)
	return max(1, int(volts/(standShare*high)+0.5))
}

// standShare is where cells stand for most of a run, over a full cell's voltage: some 3.8 of 4.2 V,
// 1.5 of 1.6 V (common practice).
const standShare = 0.92

// cellsOf is how many cells in series a pack has that is called by a voltage: by what its cells go
// by or, of lithium ion, by what they stand at when full.
func cellsOf(volts float64, cell *design.Cell) int {
	each := nominalV(cell)
	if _, high := source.Range(cell); cell.Chemistry == "li-ion-4.2" && wholly(volts/high) && !wholly(volts/3.6) && !wholly(volts/3.7) {
		each = high
	}
	return max(1, int(volts/each+0.5))
}

// wholly tells a whole number but for 1 %.
func wholly(x float64) bool { return math.Abs(x-math.Round(x)) <= 0.01*x }

// nominalV is the volts that a cell goes by; one of no chemistry known counts as lithium ion.
func nominalV(cell *design.Cell) float64 {
	return cmp.Or(calledV[cell.Chemistry], calledV["li-ion-4.2"])
}

// mostCellsTaken is how many cells are put in series at most where nobody said how many (chosen).
const mostCellsTaken = 30

// enough puts so many cells in series as need volts, where nobody said how many.
func (b *builder) enough(f *feed, volts float64) {
	if low := f.lowV / float64(f.source.Pack.Series); low > 0 {
		f.source.Pack.Series = min(max(1, int(math.Ceil(volts/low-1e-9))), mostCellsTaken)
		b.span(f)
		b.understood("source", "%s", b.packWords(f))
	}
}

// span is the pack's voltages, drained and full.
func (b *builder) span(f *feed) {
	f.lowV, f.highV, _ = source.Voltages(&f.source, f.cell)
}

// cell is a cell of its words: its size, chemistry, capacity; what is missing is typical.
func (b *builder) cell(s *said, at string) (cell design.Cell, blockOf int, what string) {
	cell = design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 2.5, ResistanceOhm: 0.05}
	named := false
	for _, t := range typicalBlocks {
		v, said := s.first("voltage")
		if s.has(t.words...) && (t.volts == 0 || said && v.low == v.high && v.low == t.volts) {
			cell, blockOf, what, named = t.cell, t.cells, t.what, true
			switch {
			case t.volts == 9 && s.has("nimh", "ni-mh", "nickel", "rechargeable"):
				cell, what = design.Cell{Chemistry: "nimh", CapacityAh: 0.2, ResistanceOhm: 0.15}, "a 9 V block of nickel-metal hydride cells"
			case t.volts == 9 && s.has("lithium"):
				cell, what = design.Cell{Chemistry: "lithium-3.0", CapacityAh: 1.2, ResistanceOhm: 1}, "a 9 V block of three lithium cells"
			}
			break
		}
	}
	for _, c := range chemistryWords {
		if !named && s.has(c.words...) {
			cell, named = c.cell, true
			cell.Chemistry = c.chemistry
			break
		}
	}
	if v, ok := s.first("voltage"); ok && !named && s.size == "" && (s.count <= 1 || s.has("battery") || s.series < 0 || s.parallel < 0) && !s.has("cell", "cells", "pack") && slices.Contains(leadAcidVolts, v.mid()) {
		cell, named = design.Cell{Chemistry: "lead-acid", CapacityAh: 7, ResistanceOhm: 0.004}, true
		blockOf, what = int(v.mid()/2), "a block of sealed lead-acid"
		b.assume(at+"chemistry", "batteries called by %s mostly hold lead", units.Volts(v.mid()))
	}
	v, _ := s.first("voltage")
	round := slices.Contains([]string{"AAA", "AA", "C", "D"}, s.size)
	switch {
	case !named && (round && (s.has("rechargeable") || v.mid() == 1.2) || s.size == "" && slices.Contains(nickelVolts, v.mid())):
		cell, named = design.Cell{Chemistry: "nimh", CapacityAh: 2, ResistanceOhm: 0.03}, true
	case !named && s.size == "" && slices.Contains(phosphateVolts, v.mid()):
		cell, named = design.Cell{Chemistry: "lifepo4", CapacityAh: 3, ResistanceOhm: 0.02}, true
		b.assume(at+"chemistry", "packs called by %s mostly hold iron phosphate", units.Volts(v.mid()))
	case round && cell.Chemistry == "li-ion-4.2" && named:
		cell.Chemistry = "lithium-1.5" // of these sizes that is what is sold as lithium
	}
	if t, ok := typicalCells[s.size]; ok {
		chemistry := cell.Chemistry
		small := cell
		cell = t
		if named && chemistry != t.Chemistry {
			cell.Chemistry = chemistry
			if chemistry == "nimh" {
				// The rechargeable of a size bears more current and holds about as much.
				cell.ResistanceOhm = small.ResistanceOhm
				cell.CapacityAh = round2(0.9 * t.CapacityAh)
			}
		}
		cell.Size, named = s.size, true
	}
	if s.has(nickelCadmium...) {
		b.assume(at+"chemistry", "cells of nickel and cadmium stand at about the same volts; they are poisonous and are handed in")
	}
	if !named {
		b.assume(at+"chemistry", "most cells in use are lithium ion")
	}
	if v, ok := s.first("voltage"); ok && v.mid() > 1.1 && v.mid() < 1.7 && !named {
		cell = design.Cell{Chemistry: "alkaline", CapacityAh: 2.2, ResistanceOhm: 0.15}
	}
	if ah := s.figure("charge"); ah != nil {
		cell.CapacityAh = *ah
	} else {
		b.assume(at+"capacityAh", "usual for such a cell")
	}
	if ohm := s.figure("resistance"); ohm != nil && *ohm > 0 {
		cell.ResistanceOhm = *ohm
	} else {
		why := "usual for such a cell; measured in a minute with a known load"
		if s.has("reclaimed", "salvaged", "used", "old") {
			cell.ResistanceOhm, why = 2*cell.ResistanceOhm, "twice a new one's, as reclaimed cells often have"
		}
		b.assume(at+"resistanceOhm", "%s", why)
	}
	return cell, blockOf, what
}
