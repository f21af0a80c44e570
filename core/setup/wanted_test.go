package setup

import (
	"math"
	"strings"
	"testing"

	"photherm/core/design"
)

// The current that is wanted in each emitter is aimed at where the driver's own setting says nothing; a
// resistor that is fitted is what every step expects, its volts those of its current.
func TestWantedInEach(t *testing.T) {
	supply := design.Source{Supply: &design.Supply{VoltageV: 12}}
	l := light(supply, design.Driver{Family: "resistor", ResistanceOhm: p(50.0)}, design.DriverUse{}, 3)
	a := l.Variants[0].Feeds[0].Loads[0].Loads[0].Array
	a.WantedA, a.Parallel, a.Count = p(0.05), 2, 3
	got := plan(t, l, Question{})
	if got.WantedA == nil || math.Abs(*got.WantedA-0.3) > 1e-12 || got.Resistor == nil || got.Resistor.Ohm <= 0 {
		t.Errorf("wanted %v, resistor %+v", got.WantedA, got.Resistor)
	}
	set := light(supply, design.Driver{Family: "linear"}, design.DriverUse{SetCurrentA: p(0.2)}, 3)
	set.Variants[0].Feeds[0].Loads[0].Loads[0].Array.WantedA = p(0.1)
	if got := plan(t, set, Question{}); *got.WantedA != 0.2 {
		t.Errorf("its own setting goes first: %g A", *got.WantedA)
	}
	// 1 V over 5 Ω is 0.2 A, and 0.1 A was wanted.
	fitted := light(supply, design.Driver{Family: "linear", ProgramV: p(1.0)}, design.DriverUse{ProgramOhm: p(5.0), SetCurrentA: p(0.1)}, 3)
	got = plan(t, fitted, Question{})
	on, cold := step(t, got, 0, "on").Reading.Expected, step(t, got, 0, "cold").Reading.Expected
	plain := light(supply, design.Driver{Family: "linear"}, design.DriverUse{SetCurrentA: p(0.2)}, 3)
	if want := step(t, plan(t, plain, Question{}), 0, "cold").Reading.Expected; math.Abs(on-0.2) > 1e-9 || math.Abs(cold-want) > 1e-6 {
		t.Errorf("expects %g A at %g V, the emitters stand at %g V there", on, cold, want)
	}
}

// Sheets follow what is there: two pots by the way it is dimmed alone, a knob for the voltage where it is
// set, and what holds the current.
func TestSheetsByWhatIsThere(t *testing.T) {
	pots := light(mains, design.Driver{Family: "voltage", SetVoltageV: p(9.6), SetCurrentA: p(0.2), Dimming: "pots", Efficiency: p(0.9)}, design.DriverUse{}, 3)
	if got := plan(t, pots, Question{}); got.Procedures[0].Name != "Two pots" {
		t.Errorf("dimmed by pots, on the mains: %q", got.Procedures[0].Name)
	}
	pots.Parts[0].Driver.SetCurrentA = nil
	if got := plan(t, pots, Question{}); got.Procedures[0].Name != "Two pots" || got.WantedA == nil || *got.WantedA <= 0 {
		t.Errorf("and its current not said: %q, %v", got.Procedures[0].Name, got.WantedA)
	}
	supply := design.Source{Supply: &design.Supply{VoltageV: 24}}
	knob := light(supply, design.Driver{Family: "voltage", SetVoltageV: p(12.0), Efficiency: p(0.9)}, design.DriverUse{SetVoltageV: p(9.0)}, 3)
	if s := step(t, plan(t, knob, Question{}), 0, "open-voltage"); !strings.Contains(s.Do, "turn the voltage pot until the meter shows 9.00 V") {
		t.Errorf("set to another voltage: %q", s.Do)
	}
	fixed := light(supply, design.Driver{Family: "voltage", SetVoltageV: p(9.0), Efficiency: p(0.9)}, design.DriverUse{}, 3)
	got := plan(t, fixed, Question{})
	if s := step(t, got, 0, "open-voltage"); strings.Contains(s.Do, "pot") || !strings.Contains(got.Procedures[0].When, "nothing sets the current") {
		t.Errorf("fixed: %q, %q", s.Do, got.Procedures[0].When)
	}
	fixed.Parts[0].Driver.SetVoltageV, fixed.Parts[0].Driver.MaxCurrentA = p(12.0), p(0.1)
	if got := plan(t, fixed, Question{}); !strings.Contains(got.Procedures[0].When, "limit of 100 mA holds the current") {
		t.Errorf("its limit binds: %q", got.Procedures[0].When)
	}
}

// Half way between their ends the dim leads of a supply of 2 A cap it at 1 A; of one that holds a current
// they lower that, and no cap is named.
func TestDimLeadsNameTheirCap(t *testing.T) {
	supply := light(mains, design.Driver{Family: "voltage", SetVoltageV: p(9.4), SetCurrentA: p(2.0), Dimming: "three-in-one", Efficiency: p(0.9)}, design.DriverUse{Dimming: &design.Level{Current: p(0.5)}}, 3)
	held := light(mains, design.Driver{Family: "window", MinVoltageV: p(5.0), MaxVoltageV: p(20.0), SetCurrentA: p(0.3), Dimming: "three-in-one", Efficiency: p(0.9)}, design.DriverUse{Dimming: &design.Level{Current: p(0.5)}}, 3)
	for l, names := range map[*design.Light]bool{supply: true, held: false} {
		got, found := plan(t, l, Question{}), false
		for _, pr := range got.Procedures {
			for _, s := range pr.Steps {
				if s.ID == "leads-level" {
					if found = true; strings.Contains(s.Do, "caps the current at 1.00 A") != names {
						t.Errorf("%q", s.Do)
					}
				}
			}
		}
		if !found {
			t.Error("no step for the level")
		}
	}
}

// A knob for the voltage where its ends are stated and differ; one end alone is none. What only some
// emitters want is no current to aim at; a board without a joint is no paste.
func TestKnobsAndWishesHalfSaid(t *testing.T) {
	supply := design.Source{Supply: &design.Supply{VoltageV: 24}}
	for name, c := range map[string]struct {
		low, high *float64
		knob      bool
	}{"both": {p(6.0), p(12.0), true}, "equal": {p(9.0), p(9.0), false}, "lowest alone": {p(6.0), nil, false}, "highest alone": {nil, p(12.0), false}, "none": {nil, nil, false}} {
		l := light(supply, design.Driver{Family: "voltage", SetVoltageV: p(9.0), MinVoltageV: c.low, MaxVoltageV: c.high, Efficiency: p(0.9)}, design.DriverUse{}, 3)
		if s := step(t, plan(t, l, Question{}), 0, "open-voltage"); strings.Contains(s.Do, "turn the voltage pot") != c.knob {
			t.Errorf("%s: %q", name, s.Do)
		}
	}
	some := light(supply, design.Driver{Family: "resistor", ResistanceOhm: p(50.0)}, design.DriverUse{}, 3)
	loads := &some.Variants[0].Feeds[0].Loads[0].Loads
	(*loads)[0].Array.WantedA, (*loads)[0].Array.Joint = p(0.05), nil
	*loads = append(*loads, design.Node{ID: "other", Array: &design.Array{PartID: "e", Series: 3, Parallel: 1}})
	if got := plan(t, some, Question{}); got.WantedA != nil {
		t.Errorf("wanted of one of two: %g A", *got.WantedA)
	}
	linear := light(supply, design.Driver{Family: "linear"}, design.DriverUse{SetCurrentA: p(0.2)}, 3)
	linear.Variants[0].Feeds[0].Loads[0].Loads[0].Array.Joint = nil
	if s := step(t, plan(t, linear, Question{}), 0, "warm"); s.Caution != "" {
		t.Errorf("no joint is said: %q", s.Caution)
	}
	// 1 V over 9.52 Ω is 0.105 A, a twentieth beside the 0.1 A wanted: its volts are those of 0.105 A.
	near := light(supply, design.Driver{Family: "linear", ProgramV: p(1.0)}, design.DriverUse{ProgramOhm: p(1 / 0.105), SetCurrentA: p(0.1)}, 3)
	at := light(supply, design.Driver{Family: "linear"}, design.DriverUse{SetCurrentA: p(0.105)}, 3)
	if a, b := step(t, plan(t, near, Question{}), 0, "cold").Reading.Expected, step(t, plan(t, at, Question{}), 0, "cold").Reading.Expected; math.Abs(a-b) > 1e-6 {
		t.Errorf("expects %g V, the emitters stand at %g V", a, b)
	}
}
