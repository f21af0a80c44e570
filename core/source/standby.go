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
