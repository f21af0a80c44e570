package chain

import (
	"fmt"
	"math"
	"testing"

	"photherm/core/design"
	"photherm/core/emitter"
	"photherm/core/internal/sample"
)

// Where a driver starts and lets go, exactly at its figures: the lowest input it states
// is where it starts from nothing; a switching one without a figure is out below 0.3 V.
func TestWhereADriverStarts(t *testing.T) {
	for _, c := range []struct {
		driver design.Driver
		volts  float64
		lit    bool
	}{
		{design.Driver{Family: "buck-boost", Efficiency: ptr(0.9), InputMinV: ptr(10.0)}, 10, true},
		{design.Driver{Family: "buck-boost", Efficiency: ptr(0.9), InputMinV: ptr(10.0)}, 9.99, false},
		{design.Driver{Family: "buck-boost", Efficiency: ptr(0.9), InputMinV: ptr(10.0), RestartV: ptr(11.0)}, 10.5, false},
		{design.Driver{Family: "buck-boost", Efficiency: ptr(0.9), InputMinV: ptr(10.0), RestartV: ptr(11.0)}, 11, true},
		{design.Driver{Family: "linear", InputMinV: ptr(9.5)}, 9.5, true},
		{design.Driver{Family: "linear", InputMinV: ptr(9.5)}, 9.4, false},
		{design.Driver{Family: "boost", Efficiency: ptr(0.9)}, 0.31, true},
		{design.Driver{Family: "boost", Efficiency: ptr(0.9)}, 0.29, false},
	} {
		light := supplyLight(c.volts, 0, []design.Part{ledPart(), {ID: "d", Name: "d", Driver: &c.driver}}, driverNodeOf("d", "d", design.DriverUse{SetCurrentA: ptr(0.05)}, arrayNodeOf("a", 2, 1)))
		r := run(t, compile(t, light))
		if a := column(t, r.Model, r.Records[len(r.Records)-1], "a", "inA"); (a > 0.04) != c.lit {
			t.Errorf("%s from %v V on %v V: %g A", c.driver.Family, *orNothing(c.driver.InputMinV), c.volts, a)
		}
	}
}

func orNothing(x *float64) *float64 {
	if x == nil {
		return ptr(0.0)
	}
	return x
}

// Line regulation: the output rises with the input, by so much for each volt beside where
// it is quoted.
func TestLineRegulation(t *testing.T) {
	for volts, want := range map[float64]float64{24: 12, 26: 12 * 1.02, 20: 12 * 0.96} {
		d := &design.Driver{Family: "voltage", SetVoltageV: ptr(12.0), MaxCurrentA: ptr(3.0), Efficiency: ptr(0.9), EfficiencyInV: ptr(24.0), LineRegPerV: ptr(0.01)}
		a := arrayNodeOf("a", 3, 1)
		a.Array.BallastOhm = ptr(10.0)
		figure := at(t, supplyLight(volts, 0, []design.Part{ledPart(), {ID: "d", Name: "d", Driver: d}}, driverNodeOf("d", "d", design.DriverUse{}, a)))
		closeTo(t, fmt.Sprintf("from %g V", volts), figure("d", "outV"), want, 1e-6)
	}
}

// The point an efficiency is stated at is of one channel: tied, their currents add.
func TestEfficiencyPointOfTiedChannels(t *testing.T) {
	for _, tied := range []int{1, 2, 4} {
		d := &design.Driver{Family: "buck", Channels: 4, Tieable: true, SetCurrentA: ptr(0.2), Efficiency: ptr(0.8), EfficiencyAtA: ptr(0.2), EfficiencyInV: ptr(12.0)}
		light := supplyLight(12, 0, []design.Part{ledPart(), {ID: "d", Name: "d", Driver: d}}, driverNodeOf("d", "d", design.DriverUse{TiedChannels: tied}, arrayNodeOf("a", 2, tied)))
		closeTo(t, fmt.Sprintf("%d tied", tied), shown(t, light, 1), 0.8, 1e-6)
	}
}

// Flux holds at the junction temperature it is quoted at, and falls above it.
func TestFluxReferenceTemperature(t *testing.T) {
	e := *sample.LEDPart().Emitter
	e.FluxLm, e.FluxCurrentA, e.FluxRefTempC = ptr(100.0), ptr(0.5), 85
	for _, temps := range [][]design.RatioPoint{nil, {{X: 25, Ratio: 1}, {X: 85, Ratio: 0.88}, {X: 125, Ratio: 0.8}}} {
		e.FluxTemp = temps
		m, err := emitter.New(&e)
		if err != nil {
			t.Fatal(err)
		}
		closeTo(t, "where it is quoted", m.FluxLm(0.5, 85), 100, 1e-12)
		if cold := m.FluxLm(0.5, 25); math.Abs(cold-100/0.88) > 1e-9 && !(temps == nil && math.Abs(cold-100/(1-0.12)) < 1e-9) {
			t.Errorf("at 25 °C %g lm", cold)
		}
	}
}

// An optic takes its share of the light, and of what is radiated, as heat of the body.
func TestOpticTakesItsShare(t *testing.T) {
	led := sample.LEDPart()
	led.Emitter.FluxLm, led.Emitter.FluxCurrentA, led.Emitter.FluxRefTempC, led.Emitter.EfficacyLmPerW = ptr(100.0), ptr(0.5), 25, ptr(300.0)
	light := func(optic *float64) func(owner, figure string) float64 {
		a := arrayNodeOf("a", 3, 1)
		a.Array.OpticEfficient = optic
		return at(t, supplyLight(24, 0, []design.Part{led, {ID: "lin", Name: "l", Driver: &design.Driver{Family: "linear"}}}, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(0.5)}, a)))
	}
	bare, under := light(nil), light(ptr(0.85))
	closeTo(t, "light", under("a", "fluxLm"), 0.85*bare("a", "fluxLm"), 1e-12)
	closeTo(t, "bare", bare("a", "fluxLm"), 300, 1e-9)
	closeTo(t, "radiated", under("a", "lightW"), 0.85*bare("a", "lightW"), 1e-12)
	closeTo(t, "kept by the optic", under("a", "opticW"), 0.15*bare("a", "lightW"), 1e-12)
}

// A weak source and a step-up below it: what its inductor and diode pass, up to where
// that is less than it is set to, against ngspice.
func TestWeakSourceMeetsConductingStepUp(t *testing.T) {
	parts := []design.Part{ledPart(), {ID: "up", Name: "u", Driver: &design.Driver{Family: "boost", Efficiency: ptr(0.9)}}}
	for _, ohm := range []float64{1, 4, 7.5} {
		light := supplyLight(12, ohm, parts, driverNodeOf("d", "up", design.DriverUse{SetCurrentA: ptr(0.25)}, arrayNodeOf("a", 3, 1)))
		figure := at(t, light)
		want := spice(t, header+fmt.Sprintf("v1 s 0 12\nr1 s b %g\nb1 b a i=(v(b)-v(a)-0.4)/0.1\n", ohm)+leds(3, "a", "0")+".control\nop\nprint v(a) v(b)\n.endc\n.end\n")
		closeTo(t, fmt.Sprintf("%g Ω: at the emitters", ohm), figure("a", "inV"), want["v(a)"], 1e-5)
		closeTo(t, fmt.Sprintf("%g Ω: at its input", ohm), figure("d", "inV"), want["v(b)"], 1e-5)
	}
}

// Emitters of one bin are taken to spread half as far.
func TestSameBinHalvesTheSpread(t *testing.T) {
	part := hotLED(6)
	part.Emitter.VfBinV = ptr(0.06)
	worst := func(same bool) Sharing {
		a := arrayNodeOf("a", 2, 4)
		a.BodyID, a.Array.SameBin = "b", same
		l := supplyLight(14, 0.01, []design.Part{part, {ID: "lin", Name: "Linear", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.4)}}}, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(2.0)}, a))
		l.Variants[0].Bodies = []design.Body{{ID: "b", Name: "b", KPerW: ptr(2.0)}}
		return gains(t, l)
	}
	any, same := worst(false), worst(true)
	closeTo(t, "spread of any", *any.BinV, 0.06, 1e-12)
	closeTo(t, "spread of one bin", *same.BinV, 0.03, 1e-12)
	closeTo(t, "its worst string", *same.AsItIs.WorstA, *any.SameBin.WorstA, 1e-9)
}

// What draws steadily beside a switched light draws one current while it is on and
// another while it is off; without a switch it is on.
func TestStandbyFollowsTheSwitch(t *testing.T) {
	for name, c := range map[string]struct {
		sw   *design.Switch
		want float64
	}{"closed": {&design.Switch{}, 0.05}, "open": {&design.Switch{Open: true}, 0.002}, "none": {nil, 0.05}} {
		load := arrayNodeOf("a", 3, 1)
		if load.Array.BallastOhm = ptr(10.0); c.sw != nil {
			load = design.Node{ID: "sw", Switch: c.sw, Loads: []design.Node{load}}
		}
		figure := at(t, supplyLight(12, 0, []design.Part{ledPart()}, load, design.Node{ID: "gauge", Aux: &design.Auxiliary{CurrentA: 0.05, StandbyA: ptr(0.002)}}))
		closeTo(t, name, figure("gauge", "inA"), c.want, 1e-9)
	}
}

// A board without a heat capacity of its own has that of its emitters' share (common
// practice: 1.5 J/K for each), as many as there are.
func TestHeatCapacityOfBoards(t *testing.T) {
	for _, unequal := range [][]design.Strings{nil, {{Strings: 1, OffsetV: 0.01}}} {
		a := arrayNodeOf("a", 3, 4)
		a.Array.Count, a.Array.Unequal = 2, unequal
		light := onSink(supplyLight(12, 1, []design.Part{ledPart()}, a), 3)
		m := compile(t, light)
		closeTo(t, "boards", m.lumps[m.board[0]].jPerK, 1.5*24, 1e-12)
		dies := 0.0
		for _, lump := range m.junctionsOf(0) {
			dies += m.lumps[lump].jPerK
		}
		closeTo(t, "dies", dies, 0.02*24, 1e-12)
	}
}
