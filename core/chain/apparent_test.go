package chain

import (
	"testing"

	"photherm/core/design"
)

// Power factor by arithmetic: 28.8 W at 0.6 on 230 V are 48 VA and 0.209 A; a switch, a dimmer and the
// feed carry what hangs on them; two of them twice that; behind a converter there is no line any more.
func TestPowerFactor(t *testing.T) {
	l := supplyLight(0, 0, []design.Part{
		{ID: "d", Name: "Supply", Driver: &design.Driver{Family: "voltage", SetVoltageV: ptr(24.0), Efficiency: ptr(0.8), EfficiencyFlat: true, PowerFactor: ptr(0.6)}},
		{ID: "inner", Name: "Inner", Driver: &design.Driver{Family: "voltage", SetVoltageV: ptr(12.0), Efficiency: ptr(0.96), EfficiencyFlat: true, PowerFactor: ptr(0.6)}},
	}, design.Node{ID: "switch", Switch: &design.Switch{}, Loads: []design.Node{{ID: "dimmer", Dimmer: &design.Dimmer{Level: 1}, Loads: []design.Node{
		{ID: "driver", Driver: &design.DriverUse{PartID: "d"}, Loads: []design.Node{{ID: "second", Driver: &design.DriverUse{PartID: "inner"}, Loads: []design.Node{
			// 22.12 W at 12 V, 23.04 W with the loss of the inner one
			{ID: "load", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 12, CurrentA: 1.8432}}, Beyond: "ohmic"}}}}}},
	}}}})
	l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Mains: &design.Mains{VoltageV: 230, FrequencyHz: 50}}
	m := compile(t, l)
	rec := run(t, m).Records[0]
	closeTo(t, "watts", column(t, m, rec, "driver", "inW"), 28.8, 1e-4)
	feed := l.Variants[0].Feeds[0].ID
	for _, owner := range []string{"driver", "dimmer", "switch", feed} {
		closeTo(t, owner+" VA", column(t, m, rec, owner, "lineVA"), 48, 1e-4)
		closeTo(t, owner+" A", column(t, m, rec, owner, "lineA"), 0.2087, 1e-3)
	}
	for _, c := range m.Columns() {
		if c.Owner == "second" && c.Figure == "lineVA" {
			t.Error("behind a converter there is a line")
		}
	}
	l.Variants[0].Feeds[0].Loads[0].Loads[0].Loads[0].Count = 2
	m = compile(t, l)
	closeTo(t, "two of them", column(t, m, run(t, m).Records[0], "switch", "lineVA"), 96, 1e-4)
	l.Parts[0].Driver.PowerFactor = nil
	m = compile(t, l)
	closeTo(t, "not said", column(t, m, run(t, m).Records[0], "switch", "lineVA"), 57.6, 1e-4)
}
