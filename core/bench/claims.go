package bench

import (
	"fmt"
	"strings"

	"photherm/core/design"
	"photherm/core/lot"
	"photherm/core/units"
)

// A JudgedClaim is one thing that is stated, held against what was read and against energy.
type JudgedClaim struct {
	What   string `json:"what"`
	Says   string `json:"says" enum:"holds,doubtful,impossible,unknown" doc:"holds: nothing stands against it"`
	Sum    string `json:"sum" doc:"The arithmetic, in one line"`
	Lacks  string `json:"lacks,omitempty" doc:"What would tell more"`
	Sweeps string `json:"sweeps,omitempty" doc:"What was not said, gone through"`
}

// What light a watt gives (common practice, from memory): whole lights of white light give up to
// 170 lm/W, single emitters at a trickle up to 230; with every watt light, white light of the eye's
// liking has 300 to 400. And how far figures may be apart before they contradict each other
// (chosen: a label rounds).
const (
	usualLmPerW   = 170
	mostLmPerW    = 250
	statedApart   = 0.2
	statedFar     = 0.5
	lithiumCellV  = 3.6
	singleUseV    = 1.5
	mostSweptCell = 8
)

// ClaimsOf holds what is stated of a light against what was read and against energy.
func ClaimsOf(c *design.Claims) []JudgedClaim {
	out := []JudgedClaim{}
	if c == nil {
		return out
	}
	measuredW, how := 0.0, ""
	switch {
	case c.MeasuredW != nil:
		measuredW, how = *c.MeasuredW, units.Watts(*c.MeasuredW)+" read"
	case c.MeasuredV != nil && c.MeasuredA != nil:
		measuredW = *c.MeasuredV * *c.MeasuredA
		how = fmt.Sprintf("%s · %s = %s", units.Volts(*c.MeasuredV), units.Amps(*c.MeasuredA), units.Watts(measuredW))
	}
	if c.PowerW != nil {
		out = append(out, power(*c.PowerW, measuredW, how))
	}
	if c.FluxLm != nil {
		if claim, ok := brightness(c, measuredW, how); ok {
			out = append(out, claim)
		}
	}
	if c.CapacityAh != nil {
		claim := JudgedClaim{What: fmt.Sprintf("%.3g Ah in a cell", *c.CapacityAh), Says: "unknown", Lacks: "the size of its cells"}
		if usual, _, ok := lot.MostAh(c.CellSize); ok {
			why, impossible := lot.Plausible(c.CellSize, *c.CapacityAh)
			claim.Says, claim.Lacks, claim.Sum = "holds", "", fmt.Sprintf("%s cells hold up to %.3g Ah as a rule", c.CellSize, usual)
			if why != "" {
				claim.Says, claim.Sum = "doubtful", why
			}
			if impossible {
				claim.Says = "impossible"
			}
		}
		out = append(out, claim)
	}
	if c.RuntimeH != nil {
		out = append(out, hours(c, measuredW))
	}
	return out
}

func power(stated, measuredW float64, how string) JudgedClaim {
	c := JudgedClaim{What: "Stated " + units.Watts(stated), Says: "unknown", Lacks: "its draw: volts and amperes, or watts at the wall"}
	if measuredW <= 0 {
		return c
	}
	c.Says, c.Lacks, c.Sum = "holds", "", how
	switch apart := 1 - measuredW/stated; {
	case apart > statedFar:
		c.Says, c.Sum = "impossible", fmt.Sprintf("%s, %s of what is stated", how, units.Format(measuredW/stated, "fraction", 2))
	case apart > statedApart || apart < -statedApart:
		c.Says, c.Sum = "doubtful", fmt.Sprintf("%s, %s of what is stated", how, units.Format(measuredW/stated, "fraction", 3))
	}
	return c
}

// byLight judges lumens for each watt.
func byLight(lmPerW float64) string {
	switch {
	case lmPerW > mostLmPerW:
		return "impossible"
	case lmPerW > usualLmPerW:
		return "doubtful"
	}
	return "holds"
}

func brightness(c *design.Claims, measuredW float64, how string) (JudgedClaim, bool) {
	out := JudgedClaim{What: fmt.Sprintf("%.0f lm", *c.FluxLm)}
	switch {
	case measuredW > 0:
		out.Says, out.Sum = byLight(*c.FluxLm/measuredW), fmt.Sprintf("%.0f lm ÷ (%s) = %.3g lm/W", *c.FluxLm, how, *c.FluxLm/measuredW)
	case c.PowerW != nil:
		out.Says, out.Sum, out.Lacks = byLight(*c.FluxLm / *c.PowerW), fmt.Sprintf("%.0f lm ÷ %s = %.3g lm/W, if the watts are true", *c.FluxLm, units.Watts(*c.PowerW), *c.FluxLm / *c.PowerW), "its draw"
	case c.RuntimeH != nil:
		return out, false // its hours tell
	default:
		out.Says, out.Lacks = "unknown", "its watts"
	}
	return out, true
}

// hours holds light times hours, or watts times hours, against what a pack holds.
func hours(c *design.Claims, measuredW float64) JudgedClaim {
	out := JudgedClaim{What: fmt.Sprintf("%.4g h", *c.RuntimeH), Says: "unknown", Lacks: "what its pack holds: Wh, or how many cells of which size"}
	needW, of := 0.0, ""
	judge := func(wh float64) (says, sum string) {
		w := wh / *c.RuntimeH
		if c.FluxLm != nil && measuredW <= 0 {
			return byLight(*c.FluxLm / w), fmt.Sprintf("%.3g Wh ÷ %.3g h = %s; %.0f lm ÷ that = %.3g lm/W", wh, *c.RuntimeH, units.Watts(w), *c.FluxLm, *c.FluxLm/w)
		}
		says = "holds"
		if needW > w*(1+statedApart) {
			says = "doubtful"
		}
		if needW > w/statedFar {
			says = "impossible"
		}
		return says, fmt.Sprintf("%.3g Wh ÷ %.3g h = %s, and it %s %s", wh, *c.RuntimeH, units.Watts(w), of, units.Watts(needW))
	}
	switch {
	case measuredW > 0:
		needW, of = measuredW, "takes"
	case c.FluxLm != nil:
		out.What = fmt.Sprintf("%.0f lm for %.4g h", *c.FluxLm, *c.RuntimeH)
	case c.PowerW != nil:
		needW, of = *c.PowerW, "is said to take"
	default:
		out.Lacks = "its light, or its watts"
		return out
	}
	if c.EnergyWh != nil {
		out.Says, out.Sum = judge(*c.EnergyWh)
		out.Lacks = ""
		return out
	}
	usual, ever, ok := lot.MostAh(c.CellSize)
	if !ok {
		return out
	}
	each, most := usual*cellV(c.CellSize), ever*cellV(c.CellSize)
	if ah := c.CapacityAh; ah != nil && *ah <= ever {
		each, most = *ah*cellV(c.CellSize), *ah*cellV(c.CellSize)
	}
	if c.Cells > 0 {
		out.Says, out.Sum = judge(float64(c.Cells) * each)
		out.Lacks = ""
		if says, _ := judge(float64(c.Cells) * most); out.Says == "impossible" && says != "impossible" {
			out.Says = "doubtful" // with the best there ever were
		}
		return out
	}
	out.Sweeps, out.Says, out.Sum = sweep(c.CellSize, func(n int) (string, string) { return judge(float64(n) * each) })
	out.Lacks = "how many cells it has"
	return out
}

// cellV is the mean voltage of a cell by its size: AA and AAA are taken for single-use cells.
func cellV(size string) float64 {
	if strings.HasPrefix(size, "AA") {
		return singleUseV
	}
	return lithiumCellV
}

// sweep goes through how many cells there may be.
func sweep(size string, judge func(n int) (says, sum string)) (words, says, sum string) {
	last := map[string]int{}
	first := map[string]int{}
	for n := 1; n <= mostSweptCell; n++ {
		s, line := judge(n)
		if _, seen := first[s]; !seen {
			first[s] = n
		}
		if last[s] = n; n == 1 {
			sum = line
		}
	}
	var parts []string
	if n := last["impossible"]; n > 0 {
		parts = append(parts, fmt.Sprintf("impossible for up to %d", n))
	}
	if n := last["doubtful"]; n > 0 {
		word := fmt.Sprintf("doubtful for %d", first["doubtful"])
		if n > first["doubtful"] {
			word = fmt.Sprintf("doubtful for %d to %d", first["doubtful"], n)
		}
		parts = append(parts, word)
	}
	if n, ok := first["holds"]; ok {
		parts = append(parts, fmt.Sprintf("possible from %d on", n))
	}
	says = "holds"
	switch {
	case first["holds"] == 0 && first["doubtful"] == 0:
		says = "impossible"
	case first["holds"] != 1:
		says = "doubtful"
	}
	return strings.Join(parts, ", ") + " " + size + " cells", says, "with one cell: " + sum
}
