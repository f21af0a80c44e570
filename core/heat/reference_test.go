package heat

import (
	"math"
	"testing"
)

// The map with a hole and an uneven film against scipy's sparse solve of the same grid
// (scripts/reference/platemap.py): each cell within 1e-4 of the highest rise.
func TestMapAgainstSparseSolve(t *testing.T) {
	p := Plate{LengthM: 0.3, WidthM: 0.18, AlongX: 0.4, AlongY: 0.4}
	s := p.Cells(100)
	s.Cut(Pad{0.15, 0.09, 0.04, 0.06})
	q := make([]float64, s.NX*s.NY)
	for _, pad := range []Pad{{0.05, 0.05, 0.01, 0.01}, {0.21, 0.1, 0.0133, 0.007}} {
		s.Cover(pad, func(c int, share float64) { q[c] += 5 * share })
	}
	s.Films = make([]float64, len(q))
	for c := range s.Films {
		s.Films[c] = 10 + 12*float64(c%s.NX)/100
	}
	got, err := s.Solve(q)
	if err != nil {
		t.Fatal(err)
	}
	most := 0.0
	for _, r := range got {
		most = max(most, r)
	}
	for at, want := range map[[2]int]float64{{16, 16}: 19.8129, {70, 33}: 16.5368, {0, 0}: 15.9705, {99, 59}: 10.2188, {43, 30}: 0, {57, 30}: 13.0078, {50, 5}: 11.9984} {
		if r := got[at[1]*s.NX+at[0]]; math.Abs(r-want) > 1e-4*most {
			t.Errorf("cell %v: %g K, scipy %g of %g", at, r, want, most)
		}
	}
}

// Small pads off the middle of a plate against a run in three dimensions (the same script):
// the influence on the sheet, and of a pad on itself what the thickness adds, within 0.5 % of
// the pad's own rise.
func TestPadsAgainstThreeDimensions(t *testing.T) {
	for name, c := range map[string]struct {
		l, w, thick, k, film, pad float64
		at                        [][2]float64
		want                      [][]float64
	}{
		"3.4 mm": {0.1, 0.08, 0.002, 200, 8, 0.0034, [][2]float64{{0.03, 0.03}, {0.06, 0.05}, {0.0375, 0.03}}, [][]float64{{1.47826, -0.15294, 0.58510}, {-0.15294, 1.38213, -0.08291}, {0.58510, -0.08291, 1.40037}}},
		"10 mm":  {0.12, 0.08, 0.003, 120, 10, 0.01, [][2]float64{{0.03, 0.03}, {0.08, 0.05}}, [][]float64{{1.15330, -0.32347}, {-0.32347, 1.01638}}},
	} {
		p := Plate{LengthM: c.l, WidthM: c.w, AlongX: c.k * c.thick, AlongY: c.k * c.thick, Film: 2 * c.film}
		pads := make([]Pad, len(c.at))
		for i, at := range c.at {
			pads[i] = Pad{at[0], at[1], c.pad, c.pad}
		}
		got := asked(t, p, pads).KPerW
		own := Constriction(c.pad, c.pad, c.thick, c.k, c.film, c.film)
		for i := range got {
			for j, r := range got[i] {
				if i == j {
					r += own
				}
				if math.Abs(r-c.want[i][j]) > 5e-3*c.want[i][i] {
					t.Errorf("%s: pad %d for pad %d %.5g K/W, in three dimensions %g", name, i, j, r, c.want[i][j])
				}
			}
		}
		// Without what the thickness adds small pads would be far off.
		if name == "3.4 mm" && got[0][0] > 0.9*c.want[0][0] {
			t.Errorf("the sheet alone gives %g of %g K/W", got[0][0], c.want[0][0])
		}
	}
}
