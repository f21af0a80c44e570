package heat

import (
	"math"
	"testing"
)

// Three layers in series (Fourier's law; Incropera & DeWitt, composite wall): each face
// has its temperature, and the whole is the sum.
func TestLayers(t *testing.T) {
	l := Layers{0.5, 2, 1.5}
	w := l.Watts(80, 20, 0)
	a, b := l.Slopes(80, 20, 0)
	if math.Abs(w-15) > 1e-12 || math.Abs(a-0.25) > 1e-12 || math.Abs(b+0.25) > 1e-12 {
		t.Errorf("%g W, %g and %g W/K", w, a, b)
	}
	faces := make([]float64, 3)
	l.FacesC(80, 20, faces)
	for i, want := range []float64{80, 72.5, 42.5} {
		if math.Abs(faces[i]-want) > 1e-9 {
			t.Errorf("face %d at %g °C, want %g °C", i, faces[i], want)
		}
	}
	// A perfect joint carries much, not infinity.
	if w := KPerW(0).Watts(21, 20, 0); math.IsInf(w, 0) || w < 1e3 {
		t.Errorf("a perfect joint carries %g W for a kelvin", w)
	}
}
