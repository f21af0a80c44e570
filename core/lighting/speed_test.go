package lighting_test

import (
	"context"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"photherm/core/lighting"
)

// hundred emitters behind lenses over a shelf, and its map of 60 × 120 cells.
func hundred(b *testing.B) (lighting.Grid, []lighting.Lamp) {
	lens, err := lighting.Lens(90)
	if err != nil {
		b.Fatal(err)
	}
	var lamps []lighting.Lamp
	for i := range 100 {
		lamps = append(lamps, lighting.Lamp{At: r3.Vec{X: 0.06 + 0.12*float64(i%10), Y: 0.03 + 0.06*float64(i/10), Z: 0.3}, Axis: r3.Vec{Z: -1}, Across: r3.Vec{X: 1}, Lumens: 100, Optic: lens})
	}
	return lighting.Grid{LengthM: 1.2, WidthM: 0.6, NX: 120, NY: 60}, lamps
}

func BenchmarkMap(b *testing.B) {
	g, lamps := hundred(b)
	out := make([]float64, g.NX*g.NY)
	b.ReportAllocs()
	for b.Loop() {
		clear(out)
		g.AddAll(out, lamps)
	}
}

// One lamp is moved: taken away, and put elsewhere.
func BenchmarkDrag(b *testing.B) {
	g, lamps := hundred(b)
	out := make([]float64, g.NX*g.NY)
	moved := lamps[7]
	moved.At.X += 0.01
	b.ReportAllocs()
	for b.Loop() {
		g.Add(out, &lamps[7], -1)
		g.Add(out, &moved, 1)
	}
}

func BenchmarkWalls(b *testing.B) {
	g, lamps := hundred(b)
	out := make([]float64, g.NX*g.NY)
	room := lighting.Room{LengthM: 1.2, WidthM: 0.6, HeightM: 0.5, Walls: 0.85, Ceiling: 0.8, Floor: 0.1}
	b.ReportAllocs()
	for b.Loop() {
		clear(out)
		g.AddAll(out, lamps)
		w, err := room.Reflect(context.Background(), lamps)
		if err != nil {
			b.Fatal(err)
		}
		if err := w.Add(context.Background(), &g, out); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkTank(b *testing.B) {
	tank := &lighting.Tank{LengthM: 0.9, WidthM: 0.45, DepthM: 0.4, RimM: 0.05, Water: lighting.Waters["clear"]}
	g := lighting.Grid{LengthM: 0.9, WidthM: 0.45, NX: 48, NY: 24}
	var lamps []lighting.Lamp
	var light [][lighting.Counted]float64
	for i := range 24 {
		lamps = append(lamps, lighting.Lamp{At: r3.Vec{X: 0.03 + 0.036*float64(i), Y: 0.2, Z: 0.5}, Axis: r3.Vec{Z: -1}, Across: r3.Vec{X: 1}, Optic: lighting.Lambertian()})
		light = append(light, [lighting.Counted]float64{1, 1, 1, 1, 1})
	}
	var into [lighting.Counted][]float64
	for k := range into {
		into[k] = make([]float64, g.NX*g.NY)
	}
	b.ReportAllocs()
	for b.Loop() {
		if err := tank.Add(&into, &g, 0.4, lamps, light); err != nil {
			b.Fatal(err)
		}
	}
}
