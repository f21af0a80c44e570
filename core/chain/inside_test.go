package chain

import (
	"math"
	"testing"

	"photherm/core/design"
	"photherm/core/heat"
)

// In a tent all watts end in its air, light included, and go with what is ventilated: its air
// is warmer than outside by watts over ρ·c·flow (1.2 kg/m³ of 1007 J/(kg·K)).
func TestTentAir(t *testing.T) {
	const vent = 60.0
	tent := func(keeps bool) (m *Model, record []float64) {
		m = finned(t, func(l *design.Light, b *design.Body) {
			b.Inside = "tent"
			l.Variants[0].Bodies = append(l.Variants[0].Bodies, design.Body{ID: "tent", Name: "Tent", VentM3H: ptr(vent), KeepsLight: keeps})
		})
		_, record = restOf(t, m)
		return m, record
	}
	m, kept := tent(true)
	perK := 1.2 * 1007 * vent / 3600
	into := column(t, m, kept, "", "airW")
	closeTo(t, "the air in it", column(t, m, kept, "tent", "insideC")-15, into/perK, 1e-6)
	closeTo(t, "all watts", into+column(t, m, kept, "", "looseW"), column(t, m, kept, "", "inputW"), 1e-6)
	if w := column(t, m, kept, "", "lightW"); w != 0 {
		t.Errorf("%g W of light leave a tent", w)
	}
	m, gone := tent(false)
	if a, b := column(t, m, kept, "tent", "insideC"), column(t, m, gone, "tent", "insideC"); b > a-0.02 || column(t, m, gone, "", "lightW") < 0.5 {
		t.Errorf("the light kept %g °C, gone %g °C", a, b)
	}
	if r := run(t, m); !r.Ledger.Closes() {
		t.Errorf("the ledger is %g open", r.Ledger.Closure)
	}
	// The sink in it is above that air as it is above the air outside by itself.
	free := finned(t, func(l *design.Light, _ *design.Body) { l.Conditions.AmbientC = column(t, m, gone, "tent", "insideC") })
	_, open := restOf(t, free)
	id := free.Variant().Bodies[0].ID
	if a, b := column(t, free, open, id, "bodyC"), column(t, m, gone, id, "bodyC"); math.Abs(a-b) > 0.05 {
		t.Errorf("in that air %g °C, in the tent %g °C", a, b)
	}
}

// Wet from rain and hardly warm a body rests below the air, where its law and its watts meet; dry it
// stands above.
func TestWetAndHardlyWarm(t *testing.T) {
	sheet := design.Shape{Kind: "plate", LengthM: ptr(0.3), WidthM: ptr(0.3), ThicknessM: ptr(0.003)}
	at := func(wet bool) float64 {
		with := sheet
		with.Wet = wet
		m := finned(t, func(l *design.Light, b *design.Body) {
			b.Shape = &with
			design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").Driver.SetCurrentA = ptr(0.15)
		})
		_, record := restOf(t, m)
		id := m.Variant().Bodies[0].ID
		law, _ := heat.NewBody(&with, 1)
		c := column(t, m, record, id, "bodyC")
		closeTo(t, "to the air", column(t, m, record, id, "airW"), law.Watts(c, 15, 0), 1e-6)
		return c
	}
	if wet, dry := at(true), at(false); wet > 14.9 || wet < 10 || dry < 15.1 {
		t.Errorf("wet %g °C, dry %g °C, in air of 15 °C", wet, dry)
	}
}

// A closed housing: what stands in it warms its air, that its walls from inside (8 W/(m²·K),
// common practice), and those the air outside by their own law.
func TestClosedHousing(t *testing.T) {
	box := design.Shape{Kind: "box", LengthM: ptr(0.2), WidthM: ptr(0.15), HeightM: ptr(0.1), ThicknessM: ptr(0.002), Material: "printed-plastic"}
	m := finned(t, func(l *design.Light, b *design.Body) {
		b.Inside = "box"
		l.Variants[0].Bodies = append(l.Variants[0].Bodies, design.Body{ID: "box", Name: "Box", Shape: &box})
	})
	_, record := restOf(t, m)
	w := column(t, m, record, m.Variant().Bodies[0].ID, "airW")
	law, _ := heat.NewBody(&box, 1)
	wall, inside := column(t, m, record, "box", "bodyC"), column(t, m, record, "box", "insideC")
	closeTo(t, "through its walls", w, law.Watts(wall, 15, 0), 1e-6)
	closeTo(t, "from its air", w, 8*law.AreaM2*(inside-wall), 1e-6)
	// With no way out of it nothing is told.
	none := finned(t, func(l *design.Light, b *design.Body) {
		b.Inside = "box"
		l.Variants[0].Bodies = append(l.Variants[0].Bodies, design.Body{ID: "box", Name: "Box"})
	})
	if told := len(none.Missing()); told == 0 || none.bodies[0] >= 0 {
		t.Errorf("no way out: lump %d, %+v", none.bodies[0], none.Missing())
	}
}

// The sun on a dark body brings what it takes up; the rest is as the air that much warmer.
func TestSun(t *testing.T) {
	rest := func(sun *float64) float64 {
		m := finned(t, func(l *design.Light, b *design.Body) {
			l.Conditions.SunWPerM2 = sun
			b.KPerW, b.SunM2 = ptr(4.0), ptr(0.01)
		})
		_, record := restOf(t, m)
		return column(t, m, record, m.Variant().Bodies[0].ID, "bodyC")
	}
	// 800 W/m² on 100 cm² that takes up 0.7 (anodised): 5.6 W through 4 K/W; the light is a
	// little less bright, warmer.
	if got := rest(ptr(800.0)) - rest(nil); math.Abs(got-22.4) > 0.5 {
		t.Errorf("the sun warms it by %g K", got)
	}
}

// A fan stands still below its start voltage.
func TestFanThatDoesNotStart(t *testing.T) {
	at := func(startV float64) float64 {
		m := finned(t, func(l *design.Light, b *design.Body) {
			f := &l.Variants[0].Feeds[0]
			f.Loads = append(f.Loads, design.Node{ID: "fan", Aux: &design.Auxiliary{Purpose: "fan", CurrentA: 0.01, StartV: &startV}})
			b.Shape.Fan = &design.Fan{NodeID: "fan", FlowM3H: 15, RatedV: ptr(12.0)}
		})
		_, record := restOf(t, m)
		return column(t, m, record, m.Variant().Bodies[0].ID, "bodyC")
	}
	if runs, stands := at(5), at(40); runs > stands-8 {
		t.Errorf("running %g °C, not started %g °C", runs, stands)
	}
}
