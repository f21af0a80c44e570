package source

import (
	"math"
	"testing"

	"photherm/core/design"
)

// What a board gives to its pack: its own figures where it has them, else those of common practice; of
// equal cells as of cells measured one by one, and nothing of it where there is none.
func TestBoardOfAPack(t *testing.T) {
	of := cell(t, design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 2, ResistanceOhm: 0.05, PolarOhm: new(0.03), PolarS: new(60.0)})
	for _, c := range []struct {
		board              *design.Protection
		delayS, tripA, byS float64
	}{
		{nil, 0, 0, 0}, {&design.Protection{Series: 2, CutCellV: 2.5}, 0.1, 0, 0.01},
		{&design.Protection{Series: 2, CutCellV: 2.5, MaxA: new(3.0)}, 0.1, 3, 0.01},
		{&design.Protection{Series: 2, CutCellV: 2.5, CutDelayS: new(2.0), MaxA: new(3.0), TripS: new(5.0)}, 2, 3, 5},
	} {
		for _, groups := range [][]design.CellGroup{nil, {{Cells: []design.PackCell{{}}}, {Cells: []design.PackCell{{}}}}} {
			law := LawOf(&design.Pack{Series: 2, Parallel: 1, Groups: groups}, of, c.board, 25)
			y := make([]float64, law.States())
			law.Start(y, 0.5)
			if p := law.Protection(y, 25, 1); p.DelayS != c.delayS || p.TripA != c.tripA || p.TripS != c.byS || !p.CanEmpty {
				t.Errorf("%+v in %d groups: %+v", c.board, len(groups), p)
			}
		}
	}
	// The highest cell of a pack: its resting voltage less what its slow part holds, and what its
	// resistance takes, which adds where it is charged.
	p := LawOf(&design.Pack{Series: 2, Parallel: 1}, of, nil, 25).(*Pack)
	y := make([]float64, p.States())
	p.Start(y, 0.5)
	y[1] = 0.02
	for _, a := range []float64{-1, 0, 2} {
		if v, want := p.HighestV(y, 25, a), of.OCV(0.5)-0.02-a*of.Ohm(0.5, 25); math.Abs(v-want) > 1e-9 {
			t.Errorf("at %g A the highest cell stands at %g V, want %g", a, v, want)
		}
	}
}
