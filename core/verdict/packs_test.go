package verdict

import (
	"context"
	"slices"
	"strings"
	"testing"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/internal/sample"
)

// Each thing that can be wrong with a pack, its board and its charger, at its limit and just
// past it; what a fix offers mends.
func TestPacksAreJudged(t *testing.T) {
	type parts struct {
		light   *design.Light
		pack    *design.Pack
		cell    *design.Cell
		board   *design.Protection
		charger *design.Charger
	}
	for _, c := range []struct {
		name, code string
		severity   Severity
		change     func(x *parts)
		near       func(x *parts) // what is just within; nil: the lamp as it is
	}{
		{"cut-off at full", "cutoff-above-full", Stop, func(x *parts) { x.pack.CutoffCellV = p(4.2) }, func(x *parts) { x.pack.CutoffCellV = p(4.19) }},
		{"capacity suspect", "cell-capacity", Note, func(x *parts) { x.cell.CapacityAh = 3.7 }, func(x *parts) { x.cell.CapacityAh = 3.6 }},
		{"capacity impossible", "cell-capacity", Caution, func(x *parts) { x.cell.CapacityAh = 9.9 }, nil},
		{"unlike many", "groups-unequal", Caution, func(x *parts) {
			x.pack.Groups = []design.CellGroup{{Cells: make([]design.PackCell, 1)}, {Cells: make([]design.PackCell, 2)}, {Cells: make([]design.PackCell, 1)}, {Cells: make([]design.PackCell, 1)}}
		}, func(x *parts) { x.pack.Groups = four(3.4, 3.4) }},
		{"groups apart", "groups-apart", Caution, func(x *parts) { x.pack.Groups = four(3.0, 3.4) }, func(x *parts) { x.pack.Groups = four(3.07, 3.4) }},
		{"board for three", "protection-series", Stop, func(x *parts) { x.board.Series = 3 }, nil},
		{"board of another kind", "protection-chemistry", Stop, func(x *parts) { x.board.Chemistry = "lifepo4" }, nil},
		{"board cuts late", "protection-low", Caution, func(x *parts) { x.board.CutCellV = 2.2 }, func(x *parts) { x.board.CutCellV = 2.31 }},
		{"board trips", "protection-trips", Stop, func(x *parts) { x.board.MaxA = p(1.0) }, func(x *parts) { x.board.MaxA = p(1.6) }},
		{"board sleeps", "protection-wakes", Note, func(*parts) {}, func(x *parts) { x.board.Latches, x.board.LowSide = false, false }},
		{"alarm below the cut-off", "alarm-late", Caution, func(x *parts) { x.pack.AlarmCellV = p(3.0) }, func(x *parts) { x.pack.AlarmCellV = p(3.01) }},
		{"pack alarm below the cut-off", "alarm-late", Caution, func(x *parts) { x.pack.AlarmPackV = p(3.0 * float64(x.pack.Series)) }, func(x *parts) { x.pack.AlarmPackV = p(3.01 * float64(x.pack.Series)) }},
		{"pack alarm alone", "alarm-alone", Caution, func(x *parts) {
			x.pack.AlarmPackV, x.pack.CutoffCellV, x.pack.ProtectionID = p(3.3*float64(x.pack.Series)), nil, ""
		}, func(x *parts) { x.pack.AlarmPackV, x.pack.ProtectionID = p(3.3*float64(x.pack.Series)), "" }},
		{"alarm alone", "alarm-alone", Caution, func(x *parts) { x.pack.AlarmCellV, x.pack.CutoffCellV, x.pack.ProtectionID = p(3.3), nil, "" }, func(x *parts) { x.pack.AlarmCellV, x.pack.ProtectionID = p(3.3), "" }},
		{"fuse", "fuse-small", Caution, func(x *parts) { x.pack.FuseA = p(1.5) }, func(x *parts) { x.pack.FuseA = p(2.0) }},
		{"soldered", "soldered-cells", Caution, func(x *parts) { x.pack.Build = "soldered" }, nil},
		{"dry cells charged", "charging-primary", Stop, func(x *parts) { x.cell.Chemistry = "lithium-3.0" }, nil},
		{"charger of another kind", "charger-chemistry", Stop, func(x *parts) { x.charger.Chemistry = "lifepo4" }, nil},
		{"charger for one", "charger-series", Stop, func(x *parts) { x.charger.Series = 1 }, nil},
		{"charged to 4.21 V", "charger-voltage", Stop, func(x *parts) { x.charger.EndCellV = p(4.21) }, func(x *parts) { x.charger.EndCellV = p(4.2) }},
		{"set to 4.3 V", "charger-voltage", Stop, func(x *parts) { x.pack.Charger.EndCellV = p(4.3) }, nil},
		{"charged fast", "charge-current", Caution, func(x *parts) { x.charger.CurrentA = p(1.71) }, func(x *parts) { x.charger.CurrentA = p(1.7) }},
		{"faster than its data", "charge-current", Caution, func(x *parts) { x.cell.MaxChargeA = p(1.0) }, func(x *parts) { x.cell.MaxChargeA = p(1.2) }},
		{"fed by too little", "charger-input", Caution, func(x *parts) { x.charger.Kind, x.charger.InputV = "linear", p(17.0) }, func(x *parts) { x.charger.Kind, x.charger.InputV = "linear", p(17.1) }},
		{"board ends it", "charger-over-board", Caution, func(x *parts) { x.board.OverCellV = p(4.2) }, func(x *parts) { x.board.OverCellV = p(4.21) }},
		{"nothing watches each cell", "charging-unwatched", Caution, func(x *parts) { x.pack.ProtectionID = "" }, func(*parts) {}},
		{"a board that only cuts low", "charging-unwatched", Caution, func(x *parts) { x.board.OverCellV = nil }, nil},
		{"a board for three does not watch the fourth", "charging-unwatched", Caution, func(x *parts) { x.board.Series = 3 }, nil},
		{"unlike groups nothing watches", "charging-unwatched", Stop, func(x *parts) { x.pack.ProtectionID, x.pack.Groups = "", four(3.0, 3.4) }, func(x *parts) { x.pack.Groups = four(3.0, 3.4) }},
		{"two cells nothing watches", "charging-unwatched", Caution, func(x *parts) { x.pack.Series, x.charger.Series, x.pack.ProtectionID = 2, 2, "" }, func(x *parts) { x.pack.Series, x.charger.Series, x.pack.ProtectionID = 1, 1, "" }},
		{"iron phosphate nothing watches", "charging-unwatched", Caution, func(x *parts) { x.cell.Chemistry, x.charger.Chemistry, x.pack.ProtectionID = "lifepo4", "lifepo4", "" }, func(x *parts) { x.cell.Chemistry, x.charger.Chemistry, x.pack.ProtectionID = "nimh", "nimh", "" }},
		{"in the frost", "charging-cold", Caution, func(x *parts) { x.light.Conditions.AmbientC = -1 }, func(x *parts) { x.light.Conditions.AmbientC, x.charger.WatchesC = -1, true }},
		{"at nought", "charging-cold", Caution, func(x *parts) { x.cell.ChargeMinC = p(16.0) }, func(x *parts) { x.cell.ChargeMinC = p(15.0) }},
	} {
		made := func(change func(x *parts)) []Finding {
			light, err := sample.Example("shore-search-handlamp.json")
			if err != nil {
				t.Fatal(err)
			}
			x := &parts{light: light, pack: light.Variants[0].Feeds[0].Sources[0].Pack, cell: light.Part("cell").Cell, board: light.Part("board").Protect, charger: light.Part("charger").Charger}
			x.cell.MaxDischargeA = nil
			if change != nil {
				change(x)
			}
			if err := design.Check(light); err != nil {
				t.Fatalf("%s: %v", c.name, err)
			}
			found := judgeLight(t, light)
			if f := find(found, c.code); f != nil && f.Fix != nil {
				mends(t, light, found, f)
			}
			return found
		}
		f := find(made(c.change), c.code)
		if f == nil || f.Severity != c.severity || !strings.HasPrefix(f.Pointer, "/variants/0/feeds/0/sources/0/pack") {
			t.Errorf("%s: %+v", c.name, f)
		}
		near := c.near
		if c.code == "protection-wakes" || near != nil {
			if f := find(made(near), c.code); f != nil {
				t.Errorf("%s, just within: %+v", c.name, f)
			}
		} else if c.severity != Note {
			if f := find(made(nil), c.code); f != nil {
				t.Errorf("%s, and the lamp as it is: %+v", c.name, f)
			}
		}
	}
}

func four(one, others float64) []design.CellGroup {
	g := []design.CellGroup{{Cells: []design.PackCell{{CapacityAh: &one}}}}
	for range 3 {
		g = append(g, design.CellGroup{Cells: []design.PackCell{{CapacityAh: &others}}})
	}
	return g
}

// A power bank sleeps under a light that draws less than it wants: by the usual limit and its
// own, at it and just below.
func TestPowerBankSleeps(t *testing.T) {
	b := lowBench()
	supply := &design.Supply{VoltageV: 24, Kind: "power-bank"}
	b.light.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "bank", Supply: supply}
	for amps, sleeps := range map[float64]bool{0.02: true, 0.3: false} {
		b.use.SetCurrentA = &amps
		if f := find(judgeLight(t, b.light), "power-bank-off"); (f != nil) != sleeps {
			t.Errorf("%g A: %+v", amps, f)
		}
	}
	drawn := find(func() []Finding { supply.KeepsOnA = p(9.0); return judgeLight(t, b.light) }(), "power-bank-off").Value
	supply.KeepsOnA = drawn
	if f := find(judgeLight(t, b.light), "power-bank-off"); f != nil {
		t.Errorf("at its limit: %+v", f)
	}
	supply.KeepsOnA, supply.Kind = p(9.0), "adapter"
	if f := find(judgeLight(t, b.light), "power-bank-off"); f != nil {
		t.Errorf("an adapter: %+v", f)
	}
}

// What is found of one pack is of that pack alone.
func TestOfPack(t *testing.T) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	feed := &light.Variants[0].Feeds[0]
	other := feed.Sources[0]
	pack := *other.Pack
	pack.Series, pack.ProtectionID = 3, ""
	other.ID, other.Pack = "other", &pack
	feed.Sources = append(feed.Sources, other, design.Source{ID: "adapter", Supply: &design.Supply{VoltageV: 15}})
	m, err := chain.Compile(light, chain.Options{})
	if err != nil {
		t.Fatal(err)
	}
	run, err := m.Solver().Run(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	for source, want := range map[string]string{feed.Sources[0].ID: "protection-wakes", "other": "charger-series", "adapter": "", "nobody": ""} {
		found := OfPack(run, source)
		if (len(found) == 0) != (want == "") || want != "" && !slices.ContainsFunc(found, func(f Finding) bool { return f.Code == want }) {
			t.Errorf("%s: %+v, want %q", source, found, want)
		}
		for _, f := range found {
			if f.Node != source {
				t.Errorf("%s: a finding of %s", source, f.Node)
			}
		}
	}
}

// A board that trips says so as soon as it is switched on, or, as the cells empty and more flows, when;
// what the light would have drawn stands in it, also after a delay.
func TestWhenABoardTrips(t *testing.T) {
	for _, c := range []struct {
		maxA   float64
		delayS *float64
		says   string
	}{{0.9, nil, "as soon as it is switched on"}, {1.2, nil, " the light draws more"}, {1.2, p(30.0), " the light draws more"}} {
		light, err := sample.Example("shore-search-handlamp.json")
		if err != nil {
			t.Fatal(err)
		}
		b := light.Part("board").Protect
		b.MaxA, b.TripS = &c.maxA, c.delayS
		f := find(judgeLight(t, light), "protection-trips")
		// What it offers runs until the pack is cut off.
		if f == nil || f.Fix == nil || !strings.Contains(f.Fix.Then, "below the limit") || strings.Contains(f.Fix.Then, untried) {
			t.Errorf("a board for %g A offers %+v", c.maxA, f)
			continue
		}
		// Full cells over those at their least, and a twentieth to spare: no lower than that asks for.
		if set, ok := f.Fix.Patch[0].Value.(float64); !ok || set < 0.5*c.maxA || set > 1.5*c.maxA {
			t.Errorf("a board for %g A: set to %v", c.maxA, f.Fix.Patch[0].Value)
		}
		found := judgeLight(t, light)
		mends(t, light, found, find(found, "protection-trips"))
		if !strings.Contains(f.Why, c.says) || *f.Value < c.maxA*(1-1e-6) || *f.Value > c.maxA*1.05 && c.maxA > 1 {
			t.Errorf("a board for %g A: %+v", c.maxA, f)
		}
	}
}

// Rounded down to two digits, and a figure of two digits stays what it is.
func TestDownTo2(t *testing.T) {
	for x, want := range map[float64]float64{1.2: 1.2, 1.29: 1.2, 0.07: 0.07, 0.0799: 0.079, 12.9: 12, 0.3: 0.3, 2.9: 2.9, 1.9999: 1.9} {
		if got := downTo2(x); got != want {
			t.Errorf("%g is %g, want %g", x, got, want)
		}
	}
}
