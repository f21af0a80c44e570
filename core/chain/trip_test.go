package chain

import (
	"math"
	"slices"
	"strings"
	"testing"

	"photherm/core/design"
)

// tripLight is three cells in series behind a board, beside a load.
func tripLight(load design.MeasuredLoad, change func(b *design.Protection, p *design.Pack)) *design.Light {
	board := &design.Protection{Series: 3, CutCellV: 2.5}
	pack := design.Pack{Series: 3, Parallel: 1, ContactOhm: 0.08, ProtectionID: "board"}
	change(board, &pack)
	l := packLight(lithium(2, 0.06), pack, load)
	l.Parts = append(l.Parts, design.Part{ID: "board", Name: "b", Protect: board})
	return l
}

func runTrip(t *testing.T, l *design.Light) (*Model, *Run) {
	t.Helper()
	m := compile(t, l)
	return m, run(t, m)
}

func columnAt(m *Model, owner, figure string) int {
	return slices.IndexFunc(m.Columns(), func(c Column) bool { return c.Owner == owner && c.Figure == figure })
}

// A load of constant power draws more as the cells empty: the board trips where power over current is
// the voltage, which needs no solver, and that is when the same light without a trip stands there.
func TestBoardTrips(t *testing.T) {
	power := design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 6, CurrentA: 2}}, Beyond: "power"}
	const tripA = 1.2
	at := func(delayS float64, change func(b *design.Protection, p *design.Pack)) *design.Light {
		return tripLight(power, func(b *design.Protection, p *design.Pack) {
			b.MaxA, b.TripS, b.ReleaseCellV = ptr(tripA), &delayS, ptr(3.0)
			change(b, p)
		})
	}
	asIs := func(*design.Protection, *design.Pack) {}
	m, free := runTrip(t, tripLight(power, asIs))
	bus, busA := columnAt(m, "f", "busV"), columnAt(m, "f", "busA")
	reached := 0.0
	for i := 1; i < len(free.T); i++ {
		if was, is := free.Records[i-1][bus], free.Records[i][bus]; was > 12/tripA && is <= 12/tripA {
			reached = free.T[i-1] + (free.T[i]-free.T[i-1])*(was-12/tripA)/(was-is)
			break
		}
	}
	for _, delay := range []float64{0, 20} {
		_, got := runTrip(t, at(delay, asIs))
		n := len(got.T)
		if got.End.Kind != "trips" || math.Abs(got.End.T-delay-reached) > 3e-3*reached || got.Records[n-1][busA] != 0 {
			t.Errorf("after a delay of %g s: %+v, want %g s; %g A are left", delay, got.End, delay+reached, got.Records[n-1][busA])
		}
		// Just before, in the row that stands at the same instant.
		if v := got.Records[n-2][bus]; delay == 0 && math.Abs(v-12/tripA) > 1e-3 {
			t.Errorf("it trips at %g V, want %g", v, 12/tripA)
		}
		if a := got.Tripped["f"]; math.Abs(a-got.Records[n-2][busA]) > 1e-3 || a < tripA-1e-5 {
			t.Errorf("%g A are told, %g flow", a, got.Records[n-2][busA])
		}
		if waited := slices.Contains(kindsOf(got), "over-current"); waited != (delay > 0) {
			t.Errorf("events %v", kindsOf(got))
		}
	}
	// Of cells measured one by one it does as of equal ones.
	_, groups := runTrip(t, at(0, func(_ *design.Protection, p *design.Pack) {
		for range 3 {
			p.Groups = append(p.Groups, design.CellGroup{Cells: []design.PackCell{{}}})
		}
	}))
	if groups.End.Kind != "trips" || math.Abs(groups.End.T-reached) > 3e-3*reached {
		t.Errorf("in groups: %+v", groups.End)
	}
	// What comes back within the delay does not trip: here the cells are cut off first.
	_, cut := runTrip(t, at(20, func(b *design.Protection, _ *design.Pack) {
		b.CutCellV, b.ReleaseCellV, b.CutDelayS = 12/tripA/3+0.05, nil, ptr(0.0)
	}))
	if cut.End.Kind != "cut-off" || cut.Tripped != nil {
		t.Errorf("cut off before: %+v, %v", cut.End, cut.Tripped)
	}
}

// At switch-on: a board that bears just what flows lets it through, one that bears less trips at once
// and stays off, and that is told as the cause of the dark.
func TestBoardTripsAtSwitchOn(t *testing.T) {
	ohmic := design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 12, CurrentA: 2}}, Beyond: "ohmic", FluxLm: ptr(500.0)}
	m, free := runTrip(t, tripLight(ohmic, func(*design.Protection, *design.Pack) {}))
	first := free.Records[0][columnAt(m, "f", "busA")]
	for _, c := range []struct {
		share float64
		trips bool
	}{{1.0000001, false}, {0.999, true}, {0.1, true}} {
		_, got := runTrip(t, tripLight(ohmic, func(b *design.Protection, _ *design.Pack) {
			b.MaxA, b.ReleaseCellV = ptr(c.share*first), ptr(2.6)
		}))
		a := got.Answers()
		if (got.End.Kind == "trips" && got.End.T == 0) != c.trips || (got.Tripped["f"] > 0) != c.trips || c.trips && math.Abs(got.Tripped["f"]-first) > 1e-6 {
			t.Errorf("a board that bears %g of it: %+v, %v", c.share, got.End, got.Tripped)
		}
		if dark := a.FluxLm == nil || *a.FluxLm == 0; dark != c.trips || dark && !strings.Contains(a.FluxWhy, "board of the cells trips") {
			t.Errorf("a board that bears %g of it: %v lm, %q", c.share, a.FluxLm, a.FluxWhy)
		}
	}
}
