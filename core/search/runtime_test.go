package search

import (
	"context"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
)

func lasts(t *testing.T, light *design.Light, wantedH, price float64) *Runtime {
	t.Helper()
	out, err := RuntimeOf(context.Background(), light, 0, wantedH, price, 0)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func school(t *testing.T, r *Runtime, name string) RuntimeSchool {
	t.Helper()
	for _, s := range r.Schools {
		if s.Name == name {
			return s
		}
	}
	t.Fatalf("no school %q", name)
	return RuntimeSchool{}
}

// Common practice: 2.0 Ah at 0.5 A is four hours only if the source gives 0.5 A: behind a
// step-down from four cells it does not, and the school that says so is told to be wrong here.
func TestSchoolsOfRuntime(t *testing.T) {
	light := handlamp(t)
	light.Parts[0].Cell.CapacityAh = 2
	design.FindNode(light.Variants[0].Feeds[0].Loads, "driver").Driver.SetCurrentA = p(0.5)
	r := lasts(t, light, 0, 0)
	byLED, bySource, byEnergy, solved := school(t, r, "mAh over mA of the emitters"), school(t, r, "mAh over mA of the source"), school(t, r, "Wh over W"), school(t, r, "solved in time")
	if math.Abs(*byLED.Hours-4) > 0.05 || !strings.HasPrefix(byLED.Reason, "wrong here") {
		t.Errorf("by the emitters %+v", byLED)
	}
	if *bySource.Hours < 5.5 || math.Abs(*byEnergy.Hours-*solved.Hours) > 0.12**solved.Hours || math.Abs(*bySource.Hours-*solved.Hours) > 0.2**solved.Hours {
		t.Errorf("source %g h, energy %g h, solved %g h", *bySource.Hours, *byEnergy.Hours, *solved.Hours)
	}
	if math.Abs(r.PackAh-2) > 1e-9 || r.PackWh < 4*2*3.5 || r.PackWh > 4*2*3.9 {
		t.Errorf("the pack holds %g Ah, %g Wh", r.PackAh, r.PackWh)
	}
	// A linear driver passes on the current of the cells: there the rule is right.
	linear := handlamp(t)
	linear.Parts[1].Driver = &design.Driver{Family: "linear", SetCurrentA: p(0.5), HeadroomV: p(0.3), InputMaxV: p(30.0)}
	design.FindNode(linear.Variants[0].Feeds[0].Loads, "driver").Driver.SetCurrentA = p(0.5)
	if s := school(t, lasts(t, linear, 0, 0), "mAh over mA of the emitters"); strings.HasPrefix(s.Reason, "wrong") {
		t.Errorf("linear: %+v", s)
	}
	// A board that trips on the way ends it, and is named.
	trips := handlamp(t)
	trips.Part("board").Protect.MaxA = p(1.2)
	for light, until := range map[*design.Light][2]string{trips: {"until the board of the cells trips", "its board trips"}, handlamp(t): {"until the cells are cut off or empty", "cut off or empty"}} {
		r := lasts(t, light, 0, 0)
		s, end := school(t, r, "solved in time"), r.Moments[len(r.Moments)-1]
		if !strings.HasSuffix(s.Reason, until[0]) || end.Name != until[1] || end.S == nil || math.Abs(*end.S/3600-*s.Hours) > 1e-9 {
			t.Errorf("%+v, ends by %+v; want %q", s, end, until)
		}
	}
	half := handlamp(t)
	half.Conditions.Charge = p(0.5)
	if a, b := lasts(t, half, 0, 0), lasts(t, handlamp(t), 0, 0); math.Abs(a.PackAh-b.PackAh/2) > 1e-9 || a.PackWh > 0.5*b.PackWh || a.PackWh < 0.45*b.PackWh {
		t.Errorf("half full %g Ah, %g Wh of %g", a.PackAh, a.PackWh, b.PackWh)
	}
}

// When it dims comes in order, and the warning is what is between; off, what the gauge and
// the protection board draw and what the cells lose by themselves (2 % a month, common practice) empty it; charges a week
// and the price of an hour follow.
func TestWhatFollowsFromRuntime(t *testing.T) {
	light := handlamp(t)
	light.Parts[1].Driver = &design.Driver{Family: "resistor", ResistanceOhm: p(4.0)} // dims as it empties
	r := lasts(t, light, 0, 0.3)
	last := 0.0
	for _, m := range r.Moments {
		if m.S == nil || *m.S < last-1e-6 {
			t.Fatalf("%+v", r.Moments)
		}
		last = *m.S
	}
	if len(r.Moments) != 4 || r.WarnS == nil || *r.WarnS <= 0 || math.Abs(*r.WarnS-(*r.Moments[2].S-*r.Moments[0].S)) > 1e-9 {
		t.Errorf("%+v, warned for %v s", r.Moments, r.WarnS)
	}
	full := light.Parts[0].Cell.CapacityAh
	if math.Abs(r.OffA-3.2e-5) > 1e-6 || math.Abs(r.LossA-0.02*full/(30.4*24)) > 1e-12 || math.Abs(*r.FlatH-full/(r.OffA+r.LossA)) > 1e-6**r.FlatH {
		t.Errorf("off %g A, lost %g A, flat after %v h", r.OffA, r.LossA, *r.FlatH)
	}
	if math.Abs(*r.CostH-r.PackWh/1000/0.85*0.3/(last/3600)) > 1e-12 || r.Primary {
		t.Errorf("an hour costs %v", *r.CostH)
	}
	light.Parts[0].Cell.Chemistry, light.Parts[0].Price = "alkaline", p(0.8)
	light.Parts[0].Cell.MinV = nil
	light.Variants[0].Feeds[0].Sources[0].Pack.Series, light.Variants[0].Feeds[0].Sources[0].Pack.CutoffCellV = 9, nil
	light.Variants[0].Feeds[0].Sources[0].Pack.ProtectionID = ""
	if r := lasts(t, light, 0, 0.3); !r.Primary || math.Abs(*r.CostH-7.2/(*r.Moments[len(r.Moments)-1].S/3600)) > 1e-9 {
		t.Errorf("primary: %+v", r)
	}
}

// What stays fed while the light is off counts where no switch is in its wire: a driver that is put out
// by its control draws its standby, 0.12 W of 14.4 V are some 8 mA; behind a switch, or where it has no
// control, it does not.
func TestDrawWhileOff(t *testing.T) {
	for name, c := range map[string]struct {
		change func(l *design.Light)
		above  float64
	}{
		"behind its switch": {func(l *design.Light) { l.Parts[1].Driver.StandbyW = p(0.12) }, 0},
		"no switch": {func(l *design.Light) {
			l.Parts[1].Driver.StandbyW = p(0.12)
			f := &l.Variants[0].Feeds[0]
			for i := range f.Loads {
				if f.Loads[i].Switch != nil {
					f.Loads[i] = f.Loads[i].Loads[0]
				}
			}
		}, 0.12 / 16.8},
		"no switch, no control": {func(l *design.Light) {
			l.Parts[1].Driver.StandbyW, l.Parts[1].Driver.Dimming = nil, ""
			f := &l.Variants[0].Feeds[0]
			for i := range f.Loads {
				if f.Loads[i].Switch != nil {
					f.Loads[i] = f.Loads[i].Loads[0]
				}
			}
		}, 0},
	} {
		light := handlamp(t)
		gauge := lasts(t, light, 0, 0).OffA
		c.change(light)
		if c.above > 0 {
			c.above += *light.Parts[1].Driver.QuiescentA // beside its standby
		}
		r := lasts(t, light, 0, 0)
		if c.above > 0 && (r.OffA < c.above || r.OffA > c.above*1.1+gauge) || c.above == 0 && r.OffA > gauge+1e-9 {
			t.Errorf("%s: %g A, the gauge alone %g", name, r.OffA, gauge)
		}
	}
}

// What is found for wanted hours lasts them, and one string less, or a little more current,
// does not.
func TestWantedHours(t *testing.T) {
	light := handlamp(t)
	const wanted = 8.0
	r := lasts(t, light, wanted, 0)
	halfS := func(change func(l *design.Light)) float64 {
		l := handlamp(t)
		change(l)
		return *lasts(t, l, 0, 0).Moments[1].S
	}
	strings := func(n int) float64 {
		return halfS(func(l *design.Light) { l.Variants[0].Feeds[0].Sources[0].Pack.Parallel = n })
	}
	if r.Cells == nil || strings(*r.Cells) < wanted*3600 || strings(*r.Cells-1) >= wanted*3600 || math.Abs(strings(*r.Cells)-*r.CellsS) > 1 {
		t.Errorf("%v strings", r.Cells)
	}
	amps := func(a float64) float64 {
		return halfS(func(l *design.Light) { design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").Driver.SetCurrentA = &a })
	}
	if r.CurrentA == nil || *r.SetA != 1.5 || math.Abs(amps(*r.CurrentA)-wanted*3600) > 0.01*wanted*3600 {
		t.Errorf("%v A", r.CurrentA)
	}
	// A board that trips above a current, before a linear driver, which takes what it gives: as long as
	// is wanted a light would last above that, so the offer is a little below it, and lasts longer.
	trips := func(a float64) *design.Light {
		l := handlamp(t)
		l.Part(l.Variants[0].Feeds[0].Sources[0].Pack.ProtectionID).Protect.MaxA = p(1.0)
		d := design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").Driver
		l.Part(d.PartID).Driver = &design.Driver{Family: "linear", HeadroomV: p(0.3)}
		d.SetCurrentA = &a
		return l
	}
	half := func(a float64) float64 { return *lasts(t, trips(a), 0, 0).Moments[1].S }
	if shy := lasts(t, trips(0.5), 2, 0); shy.CurrentA == nil || *shy.CurrentA > 0.97 || *shy.CurrentA < 0.9 || half(*shy.CurrentA) < 2*3600 {
		t.Errorf("a board that trips at 1 A: %v A", shy.CurrentA)
	}
	if far := lasts(t, light, 5000, 0); far.Cells != nil || far.CurrentA != nil {
		t.Errorf("5000 h: %v strings, %v A", far.Cells, far.CurrentA)
	}
	mains := handlamp(t)
	mains.Variants[0].Feeds[0].Sources[0].Pack, mains.Variants[0].Feeds[0].Sources[0].Supply = nil, &design.Supply{VoltageV: 15}
	if _, err := RuntimeOf(context.Background(), mains, 0, 0, 0, 0); err == nil || !strings0(err) {
		t.Errorf("without cells: %v", err)
	}
}

func strings0(err error) bool { return strings.Contains(err.Error(), "no pack of cells") }
