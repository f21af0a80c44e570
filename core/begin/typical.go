package begin

import (
	"math"

	"photherm/core/design"
)

func ptr[T any](x T) *T { return &x }

// round2 leaves two digits: no assumption is surer than that.
func round2(x float64) float64 {
	if x == 0 {
		return 0
	}
	scale := math.Pow(10, 1-math.Floor(math.Log10(math.Abs(x))))
	return math.Round(x*scale) / scale
}

// Typical figures where nothing is said: common practice, from memory.
const (
	dieV          = 3.0   // a white die's forward voltage as labels round it
	packageLmPerW = 90    // white packages without a data sheet: 70 to 120
	moduleLmPerW  = 80    // LED lamps and modules with what they hold of a driver
	stripLmPerM   = 90    // lm for each watt of strip, resistors included
	stripShare    = 0.75  // of strip's watts that its LEDs take, the rest its resistors
	riseK         = 30    // a sink is mostly made as large as keeps it so far above the air
	jointK        = 5     // what a smear of paste costs
	ownK          = 15    // from junction to case, at the rating
	heatShare     = 0.75  // of what LEDs take
	gramsPerW     = 20    // of metal, for each watt of heat
	sheetM        = 0.002 // a sheet that is bent by hand
	leastSideM    = 0.04  // of a body: the smallest thing one holds
	mostSideM     = 3.0
	leastBarM     = 0.015 // of a bar under strip: the narrowest that is sold as such
	mostAlongM    = 20.0  // of a bar: what a shape may have
)

// An oldLamp is what lamps of a kind give: lm, or lm/W of what they take, ballast included.
type oldLamp struct {
	words  []string
	kind   string // as the brief has it: lamps with mercury or sodium in them count as tubes
	name   string
	lmPerW float64
	lm     float64
}

// oldLamps by their words, the narrower before the wider.
var oldLamps = []oldLamp{
	{[]string{"sodium", "hps", "son"}, "tube", "sodium lamp", 90, 0}, {[]string{"mercury", "hql"}, "tube", "mercury lamp", 50, 0}, {[]string{"halide", "hid", "discharge", "mh", "cmh", "hqi"}, "tube", "discharge lamp", 85, 0},
	{[]string{"cfl", "cfls", "compact", "energy-saving", "saver", "pl"}, "tube", "compact tube", 55, 0}, {[]string{"tube", "fluorescent", "neon", "t5", "t8", "t12"}, "tube", "tube", 65, 0},
	{[]string{"fairy"}, "bulb", fairyLights, 6, 0},
	{[]string{"candle", "tealight", "tea light"}, "flame", "candle", 0, 12}, {[]string{"mantle"}, "flame", "mantle lamp", 0, 500},
	{[]string{"flame", "wick", "kerosene", "paraffin", "petroleum", "carbide", "oil", "gas", "hurricane", "storm"}, "flame", "flame", 0, 80},
	{[]string{"led", "leds"}, "bulb", "LED lamp", moduleLmPerW, 0}, {[]string{"halogen", "mr16", "mr11", "g4", "g9", "gu10", "r7s", "h1", "h3", "h4", "h7", "h8", "h9", "h11"}, "bulb", "halogen bulb", 16, 0},
	{nil, "bulb", "bulb", 12, 0}, // filaments; torch bulbs 8 to 18
}

// calledV is the volts of a cell that packs go by, where they do not go by those of full cells.
var calledV = map[string]float64{"li-ion-4.2": 3.65, "li-ion-4.35": 3.8, "lifepo4": 3.2, "nimh": 1.2, "alkaline": 1.5, "zinc-carbon": 1.5, "lithium-1.5": 1.5, "lithium-3.0": 3, "lead-acid": 2}

// dynamoA is what a dynamo of a bicycle gives, 3 W at 6 V.
const dynamoA = 0.5

// cells by size: of lithium ion unless a chemistry is named.
var typicalCells = map[string]design.Cell{
	"10440": {Chemistry: "li-ion-4.2", CapacityAh: 0.35, ResistanceOhm: 0.15}, "14500": {Chemistry: "li-ion-4.2", CapacityAh: 0.8, ResistanceOhm: 0.08},
	"16340": {Chemistry: "li-ion-4.2", CapacityAh: 0.65, ResistanceOhm: 0.1}, "18350": {Chemistry: "li-ion-4.2", CapacityAh: 1, ResistanceOhm: 0.05},
	"18500": {Chemistry: "li-ion-4.2", CapacityAh: 1.6, ResistanceOhm: 0.06},
	"18650": {Chemistry: "li-ion-4.2", CapacityAh: 2.5, ResistanceOhm: 0.05}, "20700": {Chemistry: "li-ion-4.2", CapacityAh: 4, ResistanceOhm: 0.03},
	"21700": {Chemistry: "li-ion-4.2", CapacityAh: 4.5, ResistanceOhm: 0.025}, "26650": {Chemistry: "li-ion-4.2", CapacityAh: 5, ResistanceOhm: 0.025},
	"32700":  {Chemistry: "lifepo4", CapacityAh: 6, ResistanceOhm: 0.01},
	"CR2":    {Chemistry: "lithium-3.0", CapacityAh: 0.8, ResistanceOhm: 0.5},
	"CR123A": {Chemistry: "lithium-3.0", CapacityAh: 1.5, ResistanceOhm: 0.3},
	"CR2016": {Chemistry: "lithium-3.0", CapacityAh: 0.085, ResistanceOhm: 20}, "CR2025": {Chemistry: "lithium-3.0", CapacityAh: 0.16, ResistanceOhm: 18},
	"CR2032": {Chemistry: "lithium-3.0", CapacityAh: 0.22, ResistanceOhm: 15}, "CR2450": {Chemistry: "lithium-3.0", CapacityAh: 0.6, ResistanceOhm: 10},
	"LR44": {Chemistry: "alkaline", CapacityAh: 0.12, ResistanceOhm: 4},
	"AAA":  {Chemistry: "alkaline", CapacityAh: 1, ResistanceOhm: 0.25}, "AA": {Chemistry: "alkaline", CapacityAh: 2.2, ResistanceOhm: 0.15},
	"C": {Chemistry: "alkaline", CapacityAh: 7, ResistanceOhm: 0.1}, "D": {Chemistry: "alkaline", CapacityAh: 13, ResistanceOhm: 0.08},
}

// cells by what a pack is called, where that is no size: so many in series to a block; of some
// only where a voltage is said that is theirs.
var typicalBlocks = []struct {
	words []string
	volts float64 // 0: any
	cells int
	what  string
	cell  design.Cell
}{
	{[]string{"a23"}, 0, 8, "a 12 V battery of eight button cells", design.Cell{Chemistry: "alkaline", CapacityAh: 0.055, ResistanceOhm: 1.5}},
	{[]string{"car", "starter", "motorcycle", "vehicle", "truck", "lorry", "boat", "marine", "caravan", "camper", "leisure", "tractor"}, 0, 6, "a starter battery", design.Cell{Chemistry: "lead-acid", CapacityAh: 45, ResistanceOhm: 0.001}},
	{[]string{"lead", "lead-acid", "sla", "agm", "gel"}, 0, 6, "a 12 V block of sealed lead-acid", design.Cell{Chemistry: "lead-acid", CapacityAh: 7, ResistanceOhm: 0.004}},
	{[]string{"block", "battery", "pp3", "e-block"}, 9, 6, "a 9 V block of six alkaline cells", design.Cell{Chemistry: "alkaline", CapacityAh: 0.55, ResistanceOhm: 0.3}},
	{[]string{"flat", "block", "battery"}, 4.5, 3, "a flat battery of three alkaline cells", design.Cell{Chemistry: "alkaline", CapacityAh: 5, ResistanceOhm: 0.2}},
	{[]string{"lantern"}, 0, 4, "a 6 V lantern block of zinc and carbon", design.Cell{Chemistry: "zinc-carbon", CapacityAh: 7, ResistanceOhm: 0.15}},
	{[]string{"block"}, 0, 6, "a 12 V block of sealed lead-acid", design.Cell{Chemistry: "lead-acid", CapacityAh: 7, ResistanceOhm: 0.004}},
	{[]string{"lipo", "pouch", "model"}, 0, 3, "a pouch pack of model builders, three in series", design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 2.2, ResistanceOhm: 0.008}},
}

// leadAcidVolts are voltages that batteries are called by which hold lead: a lithium pack of as
// many volts is called by 11.1 or 14.8.
var leadAcidVolts = []float64{6, 12, 24}

// nickelVolts are voltages of packs that no number of lithium cells goes by.
var nickelVolts = []float64{1.2, 2.4, 4.8, 9.6}

// phosphateVolts are voltages that packs of iron phosphate go by, and no others.
var phosphateVolts = []float64{3.2, 6.4, 12.8, 25.6}

// fullVolts of lithium ion are what cordless tools count a cell as: 20 V are five.
const fullVolts = 4.0

// laptopPacks are how the cells of a laptop's battery are wired, by their number.
var laptopPacks = map[int][2]int{3: {3, 1}, 4: {4, 1}, 6: {3, 2}, 8: {4, 2}, 9: {3, 3}, 12: {4, 3}}

// nickelCadmium cells stand at about the volts of nickel-metal hydride.
var nickelCadmium = []string{"nicd", "ni-cd", "nicad", "cadmium"}

// A chemistryWord is what a chemistry is called.
type chemistryWord struct {
	words     []string
	chemistry string
	cell      design.Cell // where no size is said
}

var chemistryWords = []chemistryWord{
	{nickelCadmium, "nimh", design.Cell{CapacityAh: 0.7, ResistanceOhm: 0.02}},
	{[]string{"nimh", "ni-mh", "nickel"}, "nimh", design.Cell{CapacityAh: 2, ResistanceOhm: 0.03}},
	{[]string{"lifepo4", "phosphate"}, "lifepo4", design.Cell{CapacityAh: 3, ResistanceOhm: 0.02}},
	{[]string{"alkaline", "primary", "primaries"}, "alkaline", design.Cell{CapacityAh: 2.2, ResistanceOhm: 0.15}},
	{[]string{"zinc-carbon", "zinc"}, "zinc-carbon", design.Cell{CapacityAh: 1, ResistanceOhm: 0.4}},
	{[]string{"lithium", "li-ion", "liion"}, "li-ion-4.2", design.Cell{CapacityAh: 2.5, ResistanceOhm: 0.05}},
}
