package heat

import (
	"math"
	"testing"

	"photherm/core/design"
)

// A source on a plate against finite differences in three dimensions, made with scipy by
// scripts/reference/spreading.py (grid graded, good to about a per cent).
func TestSourceOnAPlateAgainstFiniteDifferences(t *testing.T) {
	for name, c := range map[string]struct {
		p            Panel
		l, w         float64
		mean, middle float64
	}{
		"star on a sheet":       {Panel{0.1, 0.08, 0.002, 200, 6, 6}, 0.02, 0.02, 10.836, 10.932},
		"package on a fin base": {Panel{0.08, 0.06, 0.004, 200, 0, 60}, 0.01, 0.012, 3.7951, 3.8516},
		"board on wood":         {Panel{0.12, 0.09, 0.018, 0.12, 9, 9}, 0.03, 0.02, 69.274, 84.145},
		"small pad on copper":   {Panel{0.03, 0.03, 0.001, 390, 5, 200}, 0.0034, 0.0034, 6.1693, 6.2801},
	} {
		mean, middle := c.p.SourceKPerW(c.l, c.w)
		within(t, name+", mean", mean, c.mean, 0.015)
		within(t, name+", middle", middle, c.middle, 0.02)
	}
}

// Computed twice, in two dimensions: a strip of 10 mm with 10 W/m on 18 mm of wood 90 mm wide
// stands about 40 K above the air under its middle, on a folded steel stud of 0.5 mm and
// 150 mm developed about 7 K; film 9 W/m²K on both faces.
func TestStripOnWoodAndSteel(t *testing.T) {
	wood, steel := Panel{1, 0.09, 0.018, 0.12, 9, 9}, Panel{1, 0.15, 0.0005, 50, 9, 9}
	_, onWood := wood.SourceKPerW(1, 0.01)
	_, onSteel := steel.SourceKPerW(1, 0.01)
	within(t, "on wood", 10*onWood, 40, 0.05)
	within(t, "on steel", 10*onSteel, 7, 0.05)
}

// What covers all of a thin plate adds nothing; a point on a thick one comes to that on a
// half-space, R·k·√A = 0.473 of an even flux on a square (Carslaw & Jaeger, average).
func TestSpreadingInItsLimits(t *testing.T) {
	all := Panel{0.1, 0.1, 1e-6, 200, 5, 5}
	mean, middle := all.SourceKPerW(0.1, 0.1)
	within(t, "all of it", mean, 1/(10*0.01), 1e-3)
	within(t, "in the middle", middle, mean, 1e-12)
	deep := Panel{1, 1, 1, 200, 0, 1e6}
	mean, _ = deep.SourceKPerW(0.02, 0.02)
	within(t, "on a half-space", mean*200*0.02, 0.473, 0.03)
}

// On a body: a sheet spreads over its own share, more of the same sources have less each;
// fins by their base; what has no known thickness, or no plate under it, adds nothing.
func TestSpreadingOnABody(t *testing.T) {
	sheet := design.Shape{Kind: "plate", LengthM: p(0.1), WidthM: p(0.08), ThicknessM: p(0.002), Surface: "painted"}
	b := body(t, sheet)
	one, four := b.SpreadKPerW(&sheet, 0.02, 0.02, 1), b.SpreadKPerW(&sheet, 0.02, 0.02, 4)
	if !(one > 0.2 && one < 4) || !(four < one && four > 0) {
		t.Errorf("one star adds %g K/W, each of four %g", one, four)
	}
	h := b.Watts(50, 20, 0) / 30 / (0.1 * 0.08) / 2
	mean, _ := (&Panel{0.1, 0.08, 0.002, 200, h, h}).SourceKPerW(0.02, 0.02)
	within(t, "sheet", one, mean-1/(2*h*0.1*0.08), 1e-9)
	wood := sheet
	wood.Material, wood.ThicknessM = "wood", p(0.018)
	if w := body(t, wood).SpreadKPerW(&wood, 0.02, 0.02, 1); w < 20*one {
		t.Errorf("on wood %g K/W, on aluminium %g", w, one)
	}
	fin := design.Shape{Kind: "fins", LengthM: p(0.08), WidthM: p(0.06), ThicknessM: p(0.004), Fins: 8, FinHeightM: p(0.02), FinThickM: p(0.0015)}
	if f := body(t, fin).SpreadKPerW(&fin, 0.01, 0.012, 1); f < 0.3 || f > 2 {
		t.Errorf("on a fin base %g K/W", f)
	}
	tube := design.Shape{Kind: "tube", LengthM: p(0.1), DiameterM: p(0.03), ThicknessM: p(0.002), WidthM: p(0.1)}
	sheet.ThicknessM = nil
	if got := b.SpreadKPerW(&sheet, 0.02, 0.02, 1) + body(t, tube).SpreadKPerW(&tube, 0.02, 0.02, 1); got != 0 {
		t.Errorf("of what is not known: %g K/W", got)
	}
	if math.IsNaN(one) {
		t.Error("not a number")
	}
}
