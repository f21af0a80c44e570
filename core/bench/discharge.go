package bench

import (
	"context"
	"fmt"
	"math"
	"slices"

	"photherm/core/chain"
	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/source"
)

// A DischargeLog is a pack run down, from full: its voltage and current over time.
type DischargeLog struct {
	S []float64 `json:"s" nullable:"false" maxItems:"200000" doc:"Times, rising, s"`
	V []float64 `json:"v" nullable:"false" maxItems:"200000" doc:"V of the pack at each"`
	A []float64 `json:"a" nullable:"false" maxItems:"200000" doc:"A out of it at each; into it: negative"`
}

// A Discharge is what a log says of a pack.
type Discharge struct {
	Ah      float64           `json:"ah" doc:"Taken out of the pack, Ah"`
	Wh      float64           `json:"wh" doc:"And as energy, Wh"`
	CellAh  float64           `json:"cellAh" doc:"Capacity of a cell by it, Ah: to where the log ends"`
	SaidAh  float64           `json:"saidAh" doc:"And as its part says, Ah"`
	CellOhm *float64          `json:"cellOhm" doc:"Resistance of a cell by the steps of the current, contacts left out as the document has them, Ω; null: the current has no steps"`
	SaidOhm float64           `json:"saidOhm" doc:"And as its part says, Ω"`
	Steps   int               `json:"steps" doc:"How many steps of the current there are"`
	EndS    float64           `json:"endS" doc:"How long it lasted, s"`
	SaidS   *float64          `json:"saidS" doc:"How long the light lasts as it is computed, s; null: it has no end"`
	Whole   bool              `json:"whole" doc:"Whether the log goes down to where the pack is cut off or empty: else its capacity is more"`
	Take    design.Correction `json:"take" doc:"The capacity as a correction of the light"`
	MeanA   float64           `json:"meanA"`
	EndV    float64           `json:"endV"`
}

// stepShare is how much of the greatest current a change between two readings is for it to be a step
// (chosen), and wholeV how near the cut-off a log must come, V a cell (chosen).
const (
	stepShare = 0.15
	wholeV    = 0.05
)

// DischargeOf reads a pack's capacity and resistance off a log of it being run down from full.
func DischargeOf(ctx context.Context, light *design.Light, variant int, log DischargeLog) (out *Discharge, err error) {
	defer circuit.Caught(&err)
	if len(log.S) < 2 || len(log.V) != len(log.S) || len(log.A) != len(log.S) {
		return nil, fmt.Errorf("a log has as many volts and amperes as times, two at least; these are %d, %d and %d", len(log.S), len(log.V), len(log.A))
	}
	for i := range log.S {
		if x := log.S[i] + log.V[i] + log.A[i]; math.IsNaN(x) || math.IsInf(x, 0) || i > 0 && log.S[i] < log.S[i-1] {
			return nil, fmt.Errorf("reading %d of the log: times rise, and this one is %g s, %g V, %g A", i+1, log.S[i], log.V[i], log.A[i])
		}
	}
	if variant < 0 || variant >= len(light.Variants) {
		return nil, fmt.Errorf("there is no variant %d", variant)
	}
	v := &light.Variants[variant]
	var pack *design.Pack
	var part *design.Part
	for i := range v.Feeds {
		if s := v.Feeds[i].Sources; pack == nil && len(s) > 0 && s[0].Pack != nil {
			pack, part = s[0].Pack, light.Part(s[0].Pack.PartID)
		}
	}
	if pack == nil || part == nil || part.Cell == nil {
		return nil, fmt.Errorf("%w: this light has no pack of cells that are chosen", errUnknown)
	}
	cell, err := source.New(part.Cell)
	if err != nil {
		return nil, fmt.Errorf("looking at the cells: %w", err)
	}
	out = &Discharge{SaidAh: cell.CapacityAh, SaidOhm: cell.Resistance, EndS: log.S[len(log.S)-1] - log.S[0], EndV: log.V[len(log.V)-1]}
	for i := 1; i < len(log.S); i++ {
		dt := log.S[i] - log.S[i-1]
		out.Ah += dt * (log.A[i] + log.A[i-1]) / 2 / 3600
		out.Wh += dt * (log.A[i]*log.V[i] + log.A[i-1]*log.V[i-1]) / 2 / 3600
	}
	if out.EndS > 0 {
		out.MeanA = out.Ah * 3600 / out.EndS
	}
	out.CellAh = out.Ah / float64(max(pack.Parallel, 1))
	low, _ := source.Range(part.Cell)
	if pack.CutoffCellV != nil {
		low = *pack.CutoffCellV
	} else if b := light.Part(pack.ProtectionID); b != nil && b.Protect != nil {
		low = b.Protect.CutCellV
	}
	least := slices.Min(log.V)
	out.Whole = least/float64(max(pack.Series, 1)) <= low+wholeV
	out.resistance(&log, pack)
	if m, err := chain.Compile(light, chain.Options{Variant: variant}); err == nil {
		run, err := m.Solver().Run(ctx)
		if err != nil {
			return nil, fmt.Errorf("asking how long it should have lasted: %w", err)
		}
		out.SaidS = run.Answers().EndS
	}
	out.Take = design.Correction{At: "/parts/" + part.ID + "/cell/capacityAh", Label: "capacity of " + part.Name, Value: out.CellAh, Was: part.Cell.CapacityAh, Within: logShare * out.CellAh, By: fmt.Sprintf("a discharge of %.3g h at %.3g A", out.EndS/3600, out.MeanA)}
	return out, nil
}

// logShare is how far a logger's amperes leave a capacity open (common practice: a plain meter's
// 1.5 % and a clock).
const logShare = 0.02

// resistance is the median of the steps of the voltage over those of the current: of cells in
// series, each group's side by side, without the contacts.
func (d *Discharge) resistance(log *DischargeLog, pack *design.Pack) {
	var list []float64
	most := 0.0
	for _, a := range log.A {
		most = max(most, math.Abs(a))
	}
	for i := 1; i < len(log.S); i++ {
		if da := log.A[i] - log.A[i-1]; most > 0 && math.Abs(da) > stepShare*most {
			if r := -(log.V[i] - log.V[i-1]) / da; r > 0 {
				list = append(list, r)
			}
		}
	}
	if d.Steps = len(list); d.Steps == 0 {
		return
	}
	slices.Sort(list)
	whole := list[len(list)/2] - pack.ContactOhm
	if whole > 0 {
		d.CellOhm = new(whole * float64(max(pack.Parallel, 1)) / float64(max(pack.Series, 1)))
	}
}
