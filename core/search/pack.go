package search

import (
	"context"
	"fmt"
	"slices"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/source"
	"photherm/core/units"
)

// A PackLook is the first pack of a light as it lies, with all its thresholds.
type PackLook struct {
	Groups  []PackGroup     `json:"groups" nullable:"false"`
	Levels  []PackLevel     `json:"levels" nullable:"false" doc:"Voltages a cell at which something happens, the highest first"`
	LowV    float64         `json:"lowV" doc:"Lowest voltage to be drawn, V a cell"`
	HighV   float64         `json:"highV"`
	Ah      float64         `json:"ah" doc:"What the pack gives, Ah"`
	Wh      float64         `json:"wh" doc:"Energy of its cells, Wh"`
	Kg      *float64        `json:"kg" doc:"Mass of its cells; null: not known"`
	A       float64         `json:"a" doc:"Drawn half a minute after switch-on, A"`
	PerHour float64         `json:"perHour" doc:"That current over the capacity, 1/h"`
	SagV    float64         `json:"sagV" doc:"By how much the terminals fall below rest then, V"`
	LostW   float64         `json:"lostW" doc:"Lost in cells and contacts then, W"`
	Builds  []PackBuild     `json:"builds" nullable:"false" doc:"What the ways to join its cells add"`
	Wire    *PackWire       `json:"wire" doc:"A wire from the pack, there and back; null: none was asked about"`
	Uneven  []PackUnevenRow `json:"uneven" nullable:"false" doc:"How unlike cells side by side share at first"`
}

// A PackGroup lies side by side.
type PackGroup struct {
	Cells []PackCellLook `json:"cells" nullable:"false"`
	Ah    float64        `json:"ah"`
	Ohm   float64        `json:"ohm"`
}

// A PackCellLook is a cell as it is computed.
type PackCellLook struct {
	Label string  `json:"label"`
	Ah    float64 `json:"ah"`
	Ohm   float64 `json:"ohm"`
	Own   bool    `json:"own" doc:"Whether it was measured by itself"`
}

// A PackLevel is a voltage at which something happens.
type PackLevel struct {
	CellV   float64 `json:"cellV"`
	Name    string  `json:"name"`
	Kind    string  `json:"kind" enum:"cell,board,charger,alarm"`
	Pointer string  `json:"pointer" doc:"Where it is set; empty: by the chemistry"`
}

// A PackBuild is a way to join cells.
type PackBuild struct {
	Build string  `json:"build" enum:"spot-welded,holders,existing-wires,soldered"`
	Name  string  `json:"name"`
	Ohm   float64 `json:"ohm" doc:"What it adds to this pack, Ω"`
	LostW float64 `json:"lostW" doc:"Lost in it at the light's current, W"`
	Care  string  `json:"care"`
}

// A PackWire is what a wire from the pack does, there and back.
type PackWire struct {
	Ohm     float64 `json:"ohm"`
	DropV   float64 `json:"dropV" doc:"At the light's current, V"`
	LostW   float64 `json:"lostW"`
	PerMm2A float64 `json:"perMm2A" doc:"Current for each mm² of it, A"`
	Care    string  `json:"care" doc:"What to mind; empty: nothing"`
}

// Current for each mm² of copper from which a wire is warm in a bundle or a closed housing, and
// from which it is hot even by itself in the air (common practice; local codes decide).
const (
	warmPerMm2A = 6
	hotPerMm2A  = 12
)

// A PackUnevenRow is how a group shares its current.
type PackUnevenRow struct {
	Group int     `json:"group" doc:"From 1"`
	Most  float64 `json:"most" doc:"The cell that gives most, over the mean of its group"`
	Label string  `json:"label"`
	CellA float64 `json:"cellA" doc:"What it gives, A"`
}

// Ways to join cells, with what a joint has (common practice: a welded strip 1 mΩ, a spring of
// a holder 20 to 50 mΩ, a wire of an old pack some 5 mΩ; two to a cell).
var builds = []struct {
	build, name string
	jointOhm    float64
	care        string
}{
	{"spot-welded", "nickel strip, spot-welded", 1e-3, "weld strip to strip first and cells last; cover minus ends; one mistake shorts a group"},
	{"holders", "holders with springs", 30e-3, "each spring carries all of its cell's current and warms; springs rust near water"},
	{"existing-wires", "the welded tabs and wires that are there", 5e-3, "cut one wire at a time and cover it before the next; leave the tabs on"},
	{"soldered", "soldered", 1e-3, "heat goes into the cell: only on tabs, never on its ends"},
}

// PackOf looks at the first pack of a light, and at a wire from it; nil: at none.
func PackOf(ctx context.Context, light *design.Light, variant int, wire *units.Wire) (*PackLook, error) {
	light, err := unplugged(light, variant)
	if err != nil {
		return nil, err
	}
	feed, part := firstPack(light, &light.Variants[variant])
	if feed == nil {
		return nil, about("variant", fmt.Errorf("this light has no pack of cells that are chosen"))
	}
	pack := feed.Sources[0].Pack
	groups, err := source.GroupsOf(pack, part.Cell)
	if err != nil {
		return nil, fmt.Errorf("looking at the cells: %w", err)
	}
	m, err := chain.Compile(light, chain.Options{Variant: variant})
	if err != nil {
		return nil, err
	}
	out := &PackLook{Groups: packGroups(pack, groups), Builds: []PackBuild{}, Uneven: []PackUnevenRow{}}
	out.Ah, out.Wh = m.Holds(feed.ID, 1)
	if kg := part.Cell.MassKg; kg != nil {
		out.Kg = new(*kg * float64(pack.CellsIn()))
	}
	run, err := m.Solver().Run(ctx)
	if err != nil {
		return nil, fmt.Errorf("looking at the pack: %w", err)
	}
	at := run.At(min(30, run.T[len(run.T)-1]))
	out.A = at[figureOf(m, feed.ID, "busA")]
	out.SagV, out.LostW = at[figureOf(m, feed.ID, "openV")]-at[figureOf(m, feed.ID, "busV")], at[figureOf(m, feed.ID, "lossW")]
	if out.Ah > 0 {
		out.PerHour = out.A / out.Ah
	}
	out.levels(light, feed, pack, part, m.At())
	for _, b := range builds {
		ohm := 2 * b.jointOhm * float64(pack.Series) / float64(max(pack.Parallel, 1))
		out.Builds = append(out.Builds, PackBuild{b.build, b.name, ohm, ohm * out.A * out.A, b.care})
	}
	if wire != nil {
		out.Wire = wired(*wire, out.A)
	}
	for i := range out.Groups {
		out.Uneven = append(out.Uneven, uneven(i, &out.Groups[i], out.A))
	}
	return out, nil
}

func wired(w units.Wire, a float64) *PackWire {
	out := &PackWire{Ohm: 2 * w.Ohm(), PerMm2A: a / (w.AreaM2 * 1e6)}
	out.DropV, out.LostW = a*out.Ohm, a*a*out.Ohm
	switch {
	case out.PerMm2A > hotPerMm2A:
		out.Care = "it gets hot even by itself in the air: its insulation softens; take it thicker"
	case out.PerMm2A > warmPerMm2A:
		out.Care = "by itself in the air it bears that; in a bundle, or shut in, it gets warm"
	}
	return out
}

// atCharge and atC are where a cell's resistance is told: as data sheets do.
const (
	atCharge = 0.5
	atC      = 25
)

func packGroups(p *design.Pack, laws []source.Group) []PackGroup {
	out := make([]PackGroup, len(laws))
	for i, law := range laws {
		out[i] = PackGroup{Cells: []PackCellLook{}, Ah: law.CapacityAh(), Ohm: law.Ohm(atCharge, atC)}
		for k := range law {
			c := PackCellLook{Label: fmt.Sprintf("%c%d", 'A'+i%26, k+1), Ah: law[k].CapacityAh, Ohm: law[k].Ohm(atCharge, atC)}
			if len(p.Groups) > 0 {
				own := p.Groups[i].Cells[k]
				if own.Label != "" {
					c.Label = own.Label
				}
				c.Own = own.CapacityAh != nil || own.ResistanceOhm != nil
			}
			out[i].Cells = append(out[i].Cells, c)
		}
	}
	return out
}

// uneven is how much more than its share the strongest cell of a group gives at first: by
// resistance alone.
func uneven(i int, g *PackGroup, a float64) PackUnevenRow {
	row := PackUnevenRow{Group: i + 1}
	for _, c := range g.Cells {
		if share := g.Ohm / c.Ohm; share*float64(len(g.Cells)) > row.Most {
			row.Most, row.Label, row.CellA = share*float64(len(g.Cells)), c.Label, share*a
		}
	}
	return row
}

func (l *PackLook) levels(light *design.Light, feed *design.Feed, pack *design.Pack, part *design.Part, at string) {
	here := at
	for i := range light.Variants {
		for k := range light.Variants[i].Feeds {
			if &light.Variants[i].Feeds[k] == feed {
				here = fmt.Sprintf("%s/feeds/%d/sources/0/pack", at, k)
			}
		}
	}
	cellAt := ""
	for i := range light.Parts {
		if &light.Parts[i] == part {
			cellAt = fmt.Sprintf("/parts/%d/cell", i)
		}
	}
	low, high := source.Range(part.Cell)
	add := func(v float64, kind, name, pointer string) {
		l.Levels = append(l.Levels, PackLevel{v, name, kind, pointer})
	}
	add(high, "cell", "full", cellAt+"/chemistry")
	add(low, "cell", "drained no further", cellAt+"/minV")
	cut, release := pack.CutoffCellV, pack.ReleaseCellV
	if b := light.Part(pack.ProtectionID); b != nil && b.Protect != nil {
		if cut == nil {
			cut = &b.Protect.CutCellV
		} else if *cut != b.Protect.CutCellV {
			add(b.Protect.CutCellV, "board", "the board itself cuts", here+"/protectionId")
		}
		if release == nil && !b.Protect.Latches {
			release = b.Protect.ReleaseCellV
		}
		if v := b.Protect.OverCellV; v != nil {
			add(*v, "board", "the board stops charging", here+"/protectionId")
		}
		if v := b.Protect.BalanceCellV; v != nil {
			add(*v, "board", "balances above", here+"/protectionId")
		}
	}
	if cut != nil {
		add(*cut, "board", "cut off", here+"/cutoffCellV")
	}
	if release != nil {
		add(*release, "board", "switched on again, rested", here+"/releaseCellV")
	}
	if pack.AlarmCellV != nil {
		add(*pack.AlarmCellV, "alarm", "the alarm sounds", here+"/alarmCellV")
	}
	if pack.AlarmPackV != nil {
		add(*pack.AlarmPackV/float64(max(pack.Series, 1)), "alarm", "the alarm of the whole pack sounds", here+"/alarmPackV")
	}
	if pack.Charger != nil && !source.Primary(part.Cell) {
		charger := chargerPart(light, pack)
		law := source.NewCharger(pack.Charger, charger, part.Cell, 1, nil, 0)
		add(law.EndV, "charger", "charged up to", here+"/charger/endCellV")
	}
	slices.SortStableFunc(l.Levels, func(a, b PackLevel) int {
		switch {
		case a.CellV > b.CellV:
			return -1
		case a.CellV < b.CellV:
			return 1
		}
		return 0
	})
	l.LowV, l.HighV = l.Levels[len(l.Levels)-1].CellV, l.Levels[0].CellV
}
