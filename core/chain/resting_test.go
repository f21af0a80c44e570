package chain

import (
	"math"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
)

// The voltage of a rested cell is that of one, however many stand in series: a lithium-ion
// cell ends at 4.2 V (its definition), and rises from empty to full. A supply has no cells.
func TestRestingCell(t *testing.T) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	points := compile(t, light).Resting()
	if len(points) != restingPoints || points[0].Charge != 0 || points[len(points)-1].Charge != 1 || math.Abs(points[len(points)-1].CellV-4.2) > 0.02 {
		t.Fatalf("%+v", points)
	}
	for i := 1; i < len(points); i++ {
		if points[i].CellV <= points[i-1].CellV || points[i].Charge <= points[i-1].Charge {
			t.Errorf("from %+v to %+v", points[i-1], points[i])
		}
	}
	light.Variants[0].Feeds[0].Sources = []design.Source{{ID: "s", Supply: &design.Supply{VoltageV: 14}}}
	if points := compile(t, light).Resting(); len(points) != 0 {
		t.Errorf("a supply: %+v", points)
	}
}
