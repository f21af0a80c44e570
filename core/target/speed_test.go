package target_test

import (
	"os"
	"testing"

	"photherm/core/design"
	"photherm/core/target"
)

// What a picture of each demo light costs, its solving included.
func BenchmarkLook(b *testing.B) {
	for _, name := range []string{"shore-search-handlamp", "slipway-lantern", "germination-rack", "chart-table-strip", "eelgrass-tank"} {
		data, err := os.ReadFile("../../examples/" + name + ".json")
		if err != nil {
			b.Fatal(err)
		}
		light, err := design.Decode(data)
		if err != nil {
			b.Fatal(err)
		}
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				if _, err := target.Look(ctx, light, 0, target.Question{AtS: 900, Against: -1}); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
