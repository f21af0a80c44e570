package driver

import (
	"math"
	"testing"

	"photherm/core/design"
)

// By Pythagoras: a board of 20 × 15 × 8 mm goes along a bore of 17 mm, across one of 25 mm,
// and into none of 16 mm; what is just as large as its room goes in.
func TestRoomForADriver(t *testing.T) {
	mm := func(x float64) *float64 { return new(x / 1000) }
	box := design.Driver{LengthM: mm(20), WidthM: mm(15), HeightM: mm(8)}
	round := design.Driver{DiameterM: mm(17), HeightM: mm(6)}
	for name, c := range map[string]struct {
		d    design.Driver
		b    design.Brief
		room string
		isMM float64
	}{
		"along the bore":         {box, design.Brief{RoomDiamM: mm(17)}, "", 0},
		"bore too narrow":        {box, design.Brief{RoomDiamM: mm(16)}, "roomDiameterM", 17},
		"bore too short":         {box, design.Brief{RoomDiamM: mm(17), RoomLongM: mm(10)}, "roomDiameterM", 25},
		"short and wide":         {box, design.Brief{RoomDiamM: mm(25), RoomLongM: mm(10)}, "", 0},
		"shorter than all of it": {box, design.Brief{RoomDiamM: mm(18), RoomLongM: mm(5)}, "roomDiameterM", 25},
		"just as wide":           {round, design.Brief{RoomDiamM: mm(17)}, "", 0},
		"a hair too wide":        {round, design.Brief{RoomDiamM: mm(16.9)}, "roomDiameterM", 17},
		"too thick":              {round, design.Brief{RoomDiamM: mm(20), RoomThickM: mm(5)}, "roomThicknessM", 6},
		"lies on its side":       {box, design.Brief{RoomThickM: mm(8)}, "", 0},
		"too long, no bore said": {box, design.Brief{RoomLongM: mm(19)}, "roomLengthM", 20},
		"nothing known of it":    {design.Driver{}, design.Brief{RoomDiamM: mm(1), RoomLongM: mm(1), RoomThickM: mm(1)}, "", 0},
		"height not known":       {design.Driver{LengthM: mm(20), WidthM: mm(15)}, design.Brief{RoomThickM: mm(5)}, "", 0},
		"no room said":           {box, design.Brief{}, "", 0},
	} {
		got, over := TooBig(&c.d, &c.b)
		if over != (c.room != "") || got.Room != c.room || math.Abs(1000*got.IsM-c.isMM) > 1e-9 {
			t.Errorf("%s: %+v, %v", name, got, over)
		}
	}
}
