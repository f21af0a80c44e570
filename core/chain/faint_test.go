package chain

import (
	"strings"
	"testing"

	"photherm/core/design"
)

// Emitters that get too little voltage leak some nanoamperes: that is no light, it settles on the
// heaviest body, and what a microkelvin left open makes in a year leaves no ledger open.
func TestTooLittleVoltageIsNoLight(t *testing.T) {
	l := &design.Light{
		Format: design.Format, Version: design.Version, Name: "Seven in series on three cells", Conditions: design.Conditions{AmbientC: 20},
		Parts: []design.Part{
			{ID: "cell", Name: "Cell", Basis: "guess", Cell: &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 10, ResistanceOhm: 0.05}},
			{ID: "led", Name: "LED", Basis: "guess", Emitter: &design.Emitter{Forward: []design.ForwardPoint{{CurrentA: 1, VoltageV: 3}}, VfRefTempC: 25, JunctionsSer: 1, RatedCurrentA: new(1.0), FluxLm: new(300.0), FluxCurrentA: new(1.0), FluxRefTempC: 25, RthBasis: "real", RthKPerW: new(5.0)}},
		},
		Variants: []design.Variant{{ID: "a", Name: "A",
			Bodies: []design.Body{{ID: "body", Name: "Table", Shape: &design.Shape{Kind: "plate", Material: "wood", LengthM: new(1.0), WidthM: new(0.6), ThicknessM: new(0.03)}}},
			Feeds: []design.Feed{{ID: "power", Sources: []design.Source{{ID: "pack", Pack: &design.Pack{PartID: "cell", Series: 3, Parallel: 1}}},
				Loads: []design.Node{{ID: "emitters", BodyID: "body", Array: &design.Array{PartID: "led", Series: 7, Parallel: 1, Joint: &design.Joint{KPerW: new(1.0)}}}}}},
		}},
	}
	m := compile(t, l)
	r := run(t, m)
	a := r.Answers()
	if a.FluxLm != nil || a.InputW != 0 || a.EndS != nil || a.RuntimeWhy == "" || strings.Contains(a.RuntimeWhy, "400 days") || a.HalfS != nil || a.TenthS != nil || !strings.Contains(a.FluxWhy, "too little to shine") {
		t.Errorf("%+v", a)
	}
	if !r.Ledger.Closes() {
		t.Errorf("%+v", r.Ledger)
	}
	st, err := m.Solver().Steady(t.Context())
	if err != nil || !st.Converged || !st.Ledger.Closes() {
		t.Errorf("%+v, %v", st, err)
	}
}

// Of a supply that holds its volts, a limit of current that nobody said is no cause of darkness; its
// volts are one where nobody said them.
func TestSupplyTooLowForItsStrip(t *testing.T) {
	for set, want := range map[*float64]string{new(12.0): "too little to shine", nil: "what Driver is set to is not known"} {
		l := &design.Light{
			Format: design.Format, Version: design.Version, Name: "Strip on too low a supply", Conditions: design.Conditions{AmbientC: 20},
			Parts: []design.Part{
				{ID: "supply", Name: "Supply", Basis: "guess", Driver: &design.Driver{Family: "voltage", SetVoltageV: set, Efficiency: new(0.9)}},
				{ID: "strip", Name: "Strip", Basis: "guess", Strip: &design.Strip{VoltageV: 24, PerMetreW: new(10.0), CutM: 0.1, LoopOhm: new(0.1), FluxLmPer: new(900.0)}},
			},
			Variants: []design.Variant{{ID: "a", Name: "A", Feeds: []design.Feed{{ID: "power", Sources: []design.Source{{ID: "wall", Mains: &design.Mains{VoltageV: 230, FrequencyHz: 50}}},
				Loads: []design.Node{{ID: "driver", Driver: &design.DriverUse{PartID: "supply"}, Loads: []design.Node{{ID: "strip", Strip: &design.StripUse{PartID: "strip", PiecesM: []float64{1}}}}}}}}}},
		}
		if a := run(t, compile(t, l)).Answers(); a.FluxLm != nil || !strings.Contains(a.FluxWhy, want) {
			t.Errorf("%q, want %q", a.FluxWhy, want)
		}
	}
}

// The energy of a day is that of the hours that the brief says, else of all of it.
func TestEnergyOfADay(t *testing.T) {
	for hours, want := range map[*float64]float64{nil: 24, new(5.0): 5, new(0.0): 0} {
		l := load(t, "chart-table-strip.json")
		l.Brief.HoursADay = hours
		if a := run(t, compile(t, l)).Answers(); a.HoursADay != want || a.InputW <= 0 || a.EnergyPerDayW != want*a.InputW {
			t.Errorf("%+v, want %g h", a, want)
		}
	}
}

// Of a driver that holds a current, the current is what nobody said.
func TestDriverWithoutItsCurrent(t *testing.T) {
	l := load(t, "shore-search-handlamp.json")
	for n := range design.Nodes(&l.Variants[0]) {
		if n.Driver != nil {
			n.Driver.SetCurrentA = nil
			l.Part(n.Driver.PartID).Driver.SetCurrentA = nil
		}
	}
	if a := run(t, compile(t, l)).Answers(); a.FluxLm != nil || a.FluxWhy != "what Driver is set to is not known" {
		t.Errorf("%+v", a)
	}
}

// Of two kinds in a string the one that is not chosen yet is the cause.
func TestOtherKindNotChosen(t *testing.T) {
	l := load(t, "shore-search-handlamp.json")
	for n := range design.Nodes(&l.Variants[0]) {
		if n.Array != nil {
			n.Array.Mixed = []design.Mixed{{Series: 1}}
		}
	}
	if a := run(t, compile(t, l)).Answers(); a.FluxLm != nil || !strings.Contains(a.FluxWhy, "the other kind of emitter") {
		t.Errorf("%+v", a)
	}
}
