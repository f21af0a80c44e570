package verdict

import (
	"slices"
	"strings"
	"testing"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/internal/sample"
)

// A wall dimmer lowers what is known of a supply's limit: its stated amperes, or its watts over its
// volts. One that moves nothing is told, with what keeps it from it.
func TestWallDimmerMovesOrIsTold(t *testing.T) {
	of := func(change func(d *design.Driver, dimmer *design.Dimmer, loads *[]design.Node)) (*design.Light, []Finding) {
		b := onWall("voltage")
		b.d.Isolated, b.d.SetVoltageV, b.d.SetCurrentA, b.d.MaxOutputW, b.d.Dimming = p(true), p(24.0), nil, nil, "phase-cut"
		loads := b.light.Variants[0].Feeds[0].Loads
		loads[0].Loads = []design.Node{{ID: "load", Name: "Lamp", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 24, CurrentA: 1}}, Beyond: "ohmic"}}}
		dimmer := &design.Dimmer{Level: 0.5}
		change(b.d, dimmer, &loads)
		b.light.Variants[0].Feeds[0].Loads = []design.Node{{ID: "dimmer", Name: "Wall dimmer", Dimmer: dimmer, Loads: loads}}
		return b.light, judgeLight(t, b.light)
	}
	for name, c := range map[string]struct {
		change func(d *design.Driver, dimmer *design.Dimmer, loads *[]design.Node)
		says   string
	}{
		"nothing known":      {func(*design.Driver, *design.Dimmer, *[]design.Node) {}, "Neither the current limit nor the rated watts"},
		"watts, binding":     {func(d *design.Driver, _ *design.Dimmer, _ *[]design.Node) { d.MaxOutputW = p(36.0) }, ""},
		"watts, far above":   {func(d *design.Driver, _ *design.Dimmer, _ *[]design.Node) { d.MaxOutputW = p(240.0) }, "lowest 10 % of its travel"},
		"amperes, binding":   {func(d *design.Driver, _ *design.Dimmer, _ *[]design.Node) { d.SetCurrentA = p(1.5) }, ""},
		"amperes, far above": {func(d *design.Driver, _ *design.Dimmer, _ *[]design.Node) { d.SetCurrentA = p(10.0) }, "lowest 10 % of its travel"},
		"at its highest":     {func(d *design.Driver, m *design.Dimmer, _ *[]design.Node) { d.MaxOutputW, m.Level = p(36.0), 1 }, ""},
		"above a lamp itself": {func(_ *design.Driver, _ *design.Dimmer, loads *[]design.Node) {
			*loads = (*loads)[0].Loads
			(*loads)[0].Load.Points[0].VoltageV = 230
		}, "not known, so it is taken at full"},
	} {
		light, findings := of(c.change)
		f := find(findings, "no-effect")
		if (f != nil) != (c.says != "") || f != nil && (!strings.Contains(f.Why, c.says) || f.Severity != Caution) {
			t.Errorf("%s: %+v", name, f)
			continue
		}
		// And it is true: the light is the one with the dimmer turned up, or it is another.
		at := func(level float64) float64 {
			m, err := chain.Compile(light, chain.Options{})
			if err != nil {
				t.Fatal(err)
			}
			s := m.Solver()
			if err := s.Vary(chain.Variation{Pointer: "/variants/0/feeds/0/loads/0/dimmer/level", Op: chain.Set, Value: level}); err != nil {
				t.Fatal(err)
			}
			run, err := s.Run(t.Context())
			if err != nil {
				t.Fatal(err)
			}
			return run.Answers().InputW
		}
		if half, full := at(0.5), at(1); (half < full*(1-1e-6)) != (c.says == "") {
			t.Errorf("%s: %g W half way, %g W at its highest", name, half, full)
		}
	}
}

// What is set and does not rule is told with what rules; a resistor that is fitted, a voltage that
// holds, a limit that holds, a part that has nothing to be set.
func TestSettingsThatDoNotRule(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*bench)
		figure string
		says   string
	}{
		"it rules":             {func(b *bench) { b.use.SetCurrentA = p(0.3) }, "", ""},
		"a resistor is fitted": {func(b *bench) { b.d.ProgramV, b.use.ProgramOhm, b.use.SetCurrentA = p(1.0), p(4.0), p(0.3) }, "setCurrentA", "from the resistor that is fitted"},
		"the voltage holds": {func(b *bench) {
			b.d.Family, b.use.SetVoltageV, b.use.SetCurrentA = "voltage", p(8.4), p(0.9)
		}, "setCurrentA", "its voltage of 8.40 V is what holds"},
		"the limit holds": {func(b *bench) {
			b.d.Family, b.use.SetVoltageV, b.use.SetCurrentA = "voltage", p(10.0), p(0.2)
		}, "setVoltageV", "its limit of 200 mA is what holds"},
		"nothing to be set": {func(b *bench) { b.d.Family, b.d.ResistanceOhm, b.use.SetCurrentA = "resistor", p(10.0), p(0.3) }, "setCurrentA", "nothing in it can be set so"},
		"nothing to dim": {func(b *bench) {
			b.d.Family, b.d.ResistanceOhm, b.use.Dimming = "resistor", p(10.0), &design.Level{Current: p(0.5)}
		}, "current", "nothing in it can be set so"},
		"off": {func(b *bench) {
			b.d.Family, b.d.ResistanceOhm, b.use.SetCurrentA = "resistor", p(10.0), p(0.3)
			b.a.Series = 9
		}, "", ""},
	} {
		b := lowBench()
		c.change(b)
		findings := judgeLight(t, b.light)
		i := slices.IndexFunc(findings, func(f Finding) bool { return f.Code == "no-effect" })
		if (i >= 0) != (c.says != "") || i >= 0 && (!strings.Contains(findings[i].Why, c.says) || !strings.HasSuffix(findings[i].Pointer, c.figure)) {
			t.Errorf("%s: %+v", name, findings)
		}
	}
}

// Every control of every demo light moves a figure, or says why not: none is silent.
func TestNoControlIsSilent(t *testing.T) {
	seen := 0
	for _, name := range []string{"bilge-lamp", "boathouse-floodlight", "chart-table-strip", "eelgrass-tank", "germination-rack", "handlamp-as-built", "pier-lantern", "shore-search-handlamp", "skerry-marker", "slipway-lantern"} {
		light, err := sample.Example(name + ".json")
		if err != nil {
			t.Fatal(err)
		}
		for v := range light.Variants {
			m, err := chain.Compile(light, chain.Options{Variant: v})
			if err != nil {
				t.Fatal(err)
			}
			run, err := m.Solver().Run(t.Context())
			if err != nil {
				t.Fatal(err)
			}
			findings, err := Judge(t.Context(), run)
			if err != nil {
				t.Fatal(err)
			}
			j := newJudge(m)
			j.run = run
			for _, id := range j.order {
				p := j.nodes[id]
				if a, _ := j.highest(id, "inA"); !(a > leastToldA) {
					continue // off: nothing reaches it
				}
				for _, c := range j.controls(&p) {
					seen++
					told := slices.ContainsFunc(findings, func(f Finding) bool { return f.Code == "no-effect" && f.Pointer == c.pointer })
					moves := false
					for _, to := range c.tried {
						s := m.Solver()
						if err := s.Vary(chain.Variation{Pointer: c.pointer, Op: chain.Set, Value: to}); err != nil {
							t.Fatal(err)
						}
						other, err := s.Run(t.Context())
						if err != nil {
							t.Fatal(err)
						}
						moves = moves || unlike(run.Records[0], other.Records[0])
					}
					if moves == told {
						t.Errorf("%s/%d: %s moves something: %v, told: %v", name, v, c.pointer, moves, told)
					}
				}
			}
		}
	}
	if seen < 10 {
		t.Errorf("only %d controls were tried", seen)
	}
}
