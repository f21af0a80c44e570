package chain

import (
	"fmt"
	"math"
	"testing"

	"photherm/core/design"
)

// Every level is looked at at switch-on, at rest and in time alike. Each case begins on the good side
// of a threshold, exactly at it, and beyond it; run and rest agree on what stands.

// Step-down by heat: begun beyond its threshold, in air that keeps it there, it is lowered at once, in
// the run and at rest; cooled off it comes back.
func TestLoweredAtSwitchOn(t *testing.T) {
	for _, c := range []struct {
		startC, airC float64
		lowered      bool
	}{{49.9, 20, false}, {50, 20, true}, {50.1, 20, true}, {80, 20, true}, {50.1, 50.1, true}, {20, 20, false}} {
		m := stepping(t, design.StepDown{To: 0.5, AtC: ptr(50.0), BackC: ptr(45.0)}, func(l *design.Light) {
			l.Conditions.AmbientC, l.Conditions.StartC = c.airC, &c.startC
			l.Variants[0].Bodies[0].KPerW = ptr(0.5) // full on it settles well below, by itself
			l.Variants[0].Bodies[0].Shape = nil
		})
		name := fmt.Sprintf("begun at %g °C in %g °C", c.startC, c.airC)
		r := run(t, m)
		a := column(t, m, r.Records[0], "driver", "outA")
		if full := 1.5; (a < 0.6*full) != c.lowered {
			t.Errorf("%s: %g A at switch-on", name, a)
		}
		down, up := eventsOf(r, "lowered"), eventsOf(r, "raised")
		if (len(down) > 0 && down[0] == 0) != c.lowered || c.lowered && c.airC < 45 && len(up) != 1 || c.airC > 45 && len(up) != 0 {
			t.Errorf("%s: lowered at %v, back at %v", name, down, up)
		}
		s, record := restOf(t, m)
		if s.lowered[0] != (c.airC > 45) {
			t.Errorf("%s: lowered at rest: %v", name, s.lowered[0])
		}
		// Where it ends is where it rests: the last record before the cells are empty, and the rest at the
		// charge of switch-on.
		late := r.At(0.5 * r.T[len(r.T)-1])
		if run, rest := column(t, m, late, "driver", "outA"), column(t, m, record, "driver", "outA"); math.Abs(run-rest) > 0.01*rest {
			t.Errorf("%s: %g A in time, %g A at rest", name, run, rest)
		}
	}
	// Over and over at rest, whether it begins below or beyond.
	for _, start := range []float64{20, 60} {
		m := stepping(t, design.StepDown{To: 0.1, AtC: ptr(40.0), BackC: ptr(36.0)}, func(l *design.Light) { l.Conditions.StartC = &start })
		if st, err := m.Solver().Steady(t.Context()); err != nil || st.Converged || !st.Regulated {
			t.Errorf("begun at %g °C: %+v, %v", start, st, err)
		}
	}
}

// An input exactly at a threshold is at it, whatever drops in an ideal wire: a driver's lowest input
// for every family that has one, with and without a voltage of its own to start at, and the start of an
// auxiliary. A hundredth below it stays out.
func TestExactlyAtItsStart(t *testing.T) {
	for _, family := range []string{"linear", "buck", "boost", "buck-boost", "voltage"} {
		for _, restart := range []*float64{nil, ptr(12.0)} {
			for volts, on := range map[float64]bool{11.99: false, 12: true, 12.01: true} {
				d := design.Driver{Family: family, SetCurrentA: ptr(0.3), SetVoltageV: ptr(9.5), InputMinV: ptr(12.0), RestartV: restart, Efficiency: ptr(0.9)}
				if restart != nil {
					d.InputMinV = ptr(11.0)
				}
				leds := 3
				if family == "boost" {
					leds = 5
				}
				l := supplyLight(volts, 0, []design.Part{ledPart(), {ID: "drv", Name: "Driver", Driver: &d}}, driverNodeOf("d", "drv", design.DriverUse{}, arrayNodeOf("a", leds, 1)))
				m, err := Compile(l, Options{})
				if err != nil {
					t.Fatal(err)
				}
				r := run(t, m)
				st, err := m.Solver().Steady(t.Context())
				if err != nil {
					t.Fatal(err)
				}
				lit := column(t, m, r.Records[0], "a", "inA") > 0
				if rests := column(t, m, st.Record, "a", "inA") > 0; lit != on || rests != on {
					t.Errorf("%s at %g V: on %v in time, %v at rest", family, volts, lit, rests)
				}
			}
		}
	}
	for volts, on := range map[float64]bool{11.99: false, 12: true} {
		l := supplyLight(volts, 0, nil, design.Node{ID: "fan", Aux: &design.Auxiliary{CurrentA: 0.2, StartV: ptr(12.0)}})
		m := compile(t, l)
		if a := column(t, m, run(t, m).Records[0], "fan", "inA"); (a > 0.19) != on {
			t.Errorf("a fan from 12 V on, at %g V: %g A", volts, a)
		}
	}
}

// Cells that nothing cuts off go on until they are empty, however low they stand under their load; with
// a cut-off, or a board, they end there, begun above it, at it or below it.
func TestCutOffIsSaid(t *testing.T) {
	of := func(cut *float64, board bool, chemistry string) *Run {
		l := caseOf(t, "below-cutoff")
		pack := l.Variants[0].Feeds[0].Sources[0].Pack
		pack.CutoffCellV, pack.ReleaseCellV, pack.ProtectionID = cut, nil, ""
		for i := range l.Parts {
			if l.Parts[i].Cell != nil {
				l.Parts[i].Cell.Chemistry, l.Parts[i].Cell.OCV, l.Parts[i].Cell.MinV = chemistry, nil, nil
			}
		}
		l.Variants[0].Feeds[0].Loads = []design.Node{{ID: "l", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 1, CurrentA: 0.2}}, Beyond: "current"}}}
		l.Conditions.Charge = nil
		if board {
			l.Parts = append(l.Parts, design.Part{ID: "board", Name: "Board", Protect: &design.Protection{Series: pack.Series, CutCellV: 3.3}})
			pack.ProtectionID = "board"
		}
		return run(t, compile(t, l))
	}
	for _, chemistry := range []string{"li-ion-4.2", "li-ion-4.35", "lifepo4", "nimh", "alkaline", "zinc-carbon", "lead-acid", "lithium-3.0", "lithium-1.5"} {
		if r := of(nil, false, chemistry); r.End.Kind != "empty" {
			t.Errorf("%s, nothing cuts: ends by %q", chemistry, r.End.Kind)
		}
	}
	for name, r := range map[string]*Run{"cut-off": of(ptr(3.3), false, "li-ion-4.2"), "board": of(nil, true, "li-ion-4.2")} {
		if r.End.Kind != "cut-off" || r.End.T <= 0 {
			t.Errorf("%s: ends by %+v", name, r.End)
		}
	}
	if r := of(ptr(4.25), false, "li-ion-4.2"); r.End.Kind != "cut-off" || r.End.T != 0 {
		t.Errorf("begun below it: %+v", r.End)
	}
}
