package chain

import (
	"context"
	"fmt"
	"math"
	"strings"
	"testing"

	"photherm/core/circuit"
	"photherm/core/design"
)

// shown is output over input power of a driver, switched on.
func shown(t *testing.T, light *design.Light, charge float64) float64 {
	t.Helper()
	m := compile(t, light)
	rec := make([]float64, len(m.Columns()))
	m.Solver().OperatingPoint(charge, light.Conditions.AmbientC, rec)
	return column(t, m, rec, "d", "outW") / column(t, m, rec, "d", "inW")
}

// The efficiency typed is the efficiency shown: at the nominal point of the light where
// the part states none, whatever the family and the source; exactly as given by a flat
// figure or a table; and moved by the law once the point is written down.
func TestTypedEfficiencyIsShown(t *testing.T) {
	cell := design.Part{ID: "cell", Name: "c", Cell: &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 3, ResistanceOhm: 0.05}}
	sources := map[string]design.Source{
		"supply": {ID: "s", Supply: &design.Supply{VoltageV: 14, ResistanceOhm: 0.3}},
		"pack":   {ID: "s", Pack: &design.Pack{PartID: "cell", Series: 4, Parallel: 1, ContactOhm: 0.1}},
		"mains":  {ID: "s", Mains: &design.Mains{VoltageV: 230, FrequencyHz: 50}},
	}
	for family, series := range map[string]int{"buck": 3, "boost": 7, "buck-boost": 4, "window": 4, "voltage": 3, "voltage, nothing set": 3} {
		for name, source := range sources {
			if family == "boost" && name == "mains" {
				continue
			}
			for _, typed := range []float64{0.88, 0.7, 0.95} {
				d := &design.Driver{Family: family, Efficiency: &typed, MaxCurrentA: ptr(3.0), SetVoltageV: ptr(10.0)}
				use := design.DriverUse{SetCurrentA: ptr(0.6)}
				if d.Family, use.SetCurrentA = strings.TrimSuffix(family, ", nothing set"), ptr(0.6); d.Family != family {
					use.SetCurrentA = nil // far from its limit
				}
				light := supplyLight(1, 0, []design.Part{ledPart(), cell, {ID: "drv", Name: "d", Driver: d}},
					driverNodeOf("d", "drv", use, arrayNodeOf("a", series, 1)))
				light.Variants[0].Feeds[0].Sources[0] = source
				what := fmt.Sprintf("%s on a %s, %g typed", family, name, typed)
				closeTo(t, what, shown(t, light, 0.5), typed, 2e-4)
				dim := &light.Variants[0].Feeds[0].Loads[0].Driver.Dimming
				if *dim = (&design.Level{Current: ptr(0.2)}); d.Family != "voltage" {
					if eta := shown(t, light, 0.5); !(eta < typed-0.005) {
						t.Errorf("%s: dimmed to a fifth it shows %g", what, eta)
					}
				}
				// Said to be flat it stays.
				d.EfficiencyFlat = true
				closeTo(t, what+", flat", shown(t, light, 0.5), typed, 1e-9)
				d.EfficiencyFlat, *dim = false, nil
				// The point written down, the same is shown, and a lower setting moves it.
				net := compile(t, light).Network()
				at := net.Nodes[net.Find("d", circuit.Driver)].Nominal
				d.EfficiencyAtA, d.EfficiencyInV, d.EfficiencyOut = &at.OutA, &at.InV, &at.OutV
				closeTo(t, what+", its point written down", shown(t, light, 0.5), typed, 2e-4)
			}
		}
	}
}

// A mains driver loses hardly more at a higher line voltage, and in proportion more at
// part load; one on a battery loses what it switches.
func TestLossAndLine(t *testing.T) {
	for _, mains := range []bool{true, false} {
		eta := map[float64]float64{}
		for _, volts := range []float64{100, 230} {
			d := &design.Driver{Family: "window", SetCurrentA: ptr(0.7), Efficiency: ptr(0.88), EfficiencyAtA: ptr(0.7), EfficiencyInV: ptr(230.0), EfficiencyOut: ptr(24.0)}
			light := supplyLight(volts, 0, []design.Part{ledPart(), {ID: "drv", Name: "d", Driver: d}}, driverNodeOf("d", "drv", design.DriverUse{}, arrayNodeOf("a", 8, 1)))
			if mains {
				light.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "s", Mains: &design.Mains{VoltageV: volts, FrequencyHz: 50}}
			}
			eta[volts] = shown(t, light, 1)
		}
		if same := math.Abs(eta[100]-eta[230]) < 1e-9; same != mains {
			t.Errorf("on the mains %v: %g at 100 V, %g at 230 V", mains, eta[100], eta[230])
		}
	}
}

// A table is used as given: at its points, straight between them in load and input, and
// held beyond its ends. Energy is neither made nor lost with it.
func TestEfficiencyTable(t *testing.T) {
	point := func(v, a, eta float64) design.EfficiencyPoint {
		return design.EfficiencyPoint{InputV: &v, CurrentA: a, Efficiency: eta}
	}
	d := &design.Driver{Family: "buck", HeadroomV: ptr(0.5), Efficiencies: []design.EfficiencyPoint{point(12, 0.1, 0.7), point(12, 0.5, 0.9), point(12, 1, 0.86), point(24, 0.2, 0.6), point(24, 1, 0.8)}}
	for _, c := range []struct{ volts, amps, want float64 }{
		{12, 0.5, 0.9}, {12, 0.3, 0.8}, {12, 0.75, 0.88}, {12, 0.05, 0.7}, {12, 1.4, 0.86}, {24, 0.6, 0.7}, {18, 1, 0.83}, {18, 0.6, (0.892 + 0.7) / 2}, {10, 0.5, 0.9}, {30, 1, 0.8},
	} {
		light := supplyLight(c.volts, 0, []design.Part{ledPart(), {ID: "drv", Name: "d", Driver: d}}, driverNodeOf("d", "drv", design.DriverUse{SetCurrentA: &c.amps}, arrayNodeOf("a", 2, 1)))
		closeTo(t, fmt.Sprintf("%g A from %g V", c.amps, c.volts), shown(t, light, 1), c.want, 1e-6)
		light.Variants[0].Feeds[0].Sources[0].Supply.ResistanceOhm = 0.5
		st, err := compile(t, light).Solver().Steady(context.Background())
		if err != nil || !st.Converged || !st.Ledger.Closes() {
			t.Errorf("%g A from %g V behind 0.5 Ω: %v, %+v", c.amps, c.volts, err, st)
		}
	}
}
