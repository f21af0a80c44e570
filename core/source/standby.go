package source

import "photherm/core/design"

// monthly is the share of its charge that a cell loses by itself in a month at 20 °C (common
// practice, from memory: single makes differ by half; warm it is twice as much for each 10 K).
var monthly = map[string]float64{
	"li-ion-4.2": 0.02, "li-ion-4.35": 0.02, "lifepo4": 0.02, "nimh": 0.025, "alkaline": 0.0025, "zinc-carbon": 0.01, "lead-acid": 0.04, "lithium-3.0": 0.001, "lithium-1.5": 0.001,
}

// MonthlyLoss is the share of its charge that a cell loses by itself in a month.
func MonthlyLoss(c *design.Cell) float64 {
	if c.LossMonth != nil {
		return *c.LossMonth
	}
	if loss, ok := monthly[c.Chemistry]; ok {
		return loss
	}
	return monthly["li-ion-4.2"]
}

// Primary tells of a cell that cannot be charged.
func Primary(c *design.Cell) bool {
	switch c.Chemistry {
	case "alkaline", "zinc-carbon", "lithium-3.0", "lithium-1.5":
		return true
	}
	return false
}

// DrainHarms tells of a cell that is harmed, and may be dangerous afterwards, where it is drained
// below its lowest voltage: lithium that is charged, whose copper dissolves, and lead, which
// sulphates. Dry cells are made to be emptied, nickel bears it alone (common practice).
func DrainHarms(c *design.Cell) bool { return lithiumIon[c.Chemistry] || c.Chemistry == "lead-acid" }

// InOneBlock tells of cells that are made and aged together in one block, and not chosen by hand.
func InOneBlock(c *design.Cell) bool { return c.Chemistry == "lead-acid" }

// DrainedWords says what comes of a cell that was drained too far (common practice).
func DrainedWords(c *design.Cell) string {
	if lithiumIon[c.Chemistry] {
		return "Below that copper dissolves, and a cell that is charged again afterwards may short inside."
	}
	return "Below that its plates sulphate, and it does not come back."
}

// GentleC is the discharge rate that cells of a kind bear where nothing is said of it, in multiples of
// their capacity an hour (common practice: the least of usual types, and what reclaimed ones are
// run at).
func GentleC(c *design.Cell) float64 {
	if x, ok := gentleC[c.Chemistry]; ok {
		return x
	}
	return 1
}

var gentleC = map[string]float64{
	"li-ion-4.2": 1, "li-ion-4.35": 1, "lifepo4": 1, "nimh": 1, "lead-acid": 1, "alkaline": 0.5, "zinc-carbon": 0.2, "lithium-3.0": 1, "lithium-1.5": 1,
}
