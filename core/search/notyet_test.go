package search

import (
	"context"
	"slices"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
)

func lampAndDriver(t *testing.T) (*design.Light, *design.Node) {
	t.Helper()
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	return light, &light.Variants[0].Feeds[0].Loads[1].Loads[0]
}

// A cell for a light whose driver or emitters are not chosen is not judged yet; one that
// is overloaded all the same, or of a finished light, is.
func TestCellsOfAnUnfinishedLight(t *testing.T) {
	for name, change := range map[string]func(*design.Node){
		"driver":  func(d *design.Node) { d.Driver.PartID = "" },
		"emitter": func(d *design.Node) { d.Loads[0].Array.PartID = "" },
		"load":    func(d *design.Node) { d.Loads[0] = design.Node{ID: "x", Load: &design.MeasuredLoad{}} },
		"":        func(*design.Node) {},
	} {
		light, d := lampAndDriver(t)
		change(d)
		found, err := Cells(context.Background(), light, 0, light.Variants[0].Feeds[0].ID, []*design.Cell{light.Parts[0].Cell})
		if err != nil {
			t.Fatal(err)
		}
		want := NotYet
		if name == "" {
			want = Fits
		}
		if found[0].Fit != want || name != "" && !strings.HasPrefix(found[0].Why, "not judged yet: ") {
			t.Errorf("%q: %s because %q", name, found[0].Fit, found[0].Why)
		}
	}
}

// A driver is out below its lowest current as above its highest, by its knob or its
// resistor; what is wanted of the emitters is respected below their rating.
func TestLowestCurrent(t *testing.T) {
	fit := func(wanted float64, d design.Driver) (Fit, string) {
		light, n := lampAndDriver(t)
		n.Driver = &design.DriverUse{}
		n.Loads[0].Array.WantedA = &wanted
		q, err := NewQuestion(light, 0, n.ID)
		if err != nil {
			t.Fatal(err)
		}
		m, err := q.Drivers(context.Background(), []*design.Driver{&d})
		if err != nil {
			t.Fatal(err)
		}
		return m[0].Fit, m[0].Why()
	}
	knob := design.Driver{Family: "buck", MinCurrentA: new(0.1), MaxCurrentA: new(1.2), HeadroomV: new(1.0)}
	resistor := knob
	resistor.ProgramV = new(0.1)
	for name, d := range map[string]design.Driver{"knob": knob, "resistor": resistor} {
		if f, why := fit(0.06, d); f != No || !strings.Contains(why, "cannot go below 100 mA, wanted are 60") {
			t.Errorf("%s at 60 mA: %s because %q", name, f, why)
		}
		if f, why := fit(0.1, d); f != Fits {
			t.Errorf("%s at 100 mA: %s because %q", name, f, why)
		}
		if f, why := fit(0.35, d); f != Fits {
			t.Errorf("%s at 350 mA: %s because %q", name, f, why)
		}
		if f, why := fit(2.5, d); f == Fits {
			t.Errorf("%s at 2.5 A: %s because %q", name, f, why)
		}
	}
}

// Without a source a driver is judged by what is known, its current, its window and its
// size; without emitters by what the source does to it. What else speaks for it is not
// judged yet.
func TestDriversOfAnUnfinishedLight(t *testing.T) {
	ask := func(change func(*design.Light, *design.Node), d design.Driver) (Fit, string) {
		light, n := lampAndDriver(t)
		n.Driver = &design.DriverUse{}
		light.Brief.RoomDiamM = new(0.02)
		change(light, n)
		q, err := NewQuestion(light, 0, n.ID)
		if err != nil {
			t.Fatal(err)
		}
		m, err := q.Drivers(context.Background(), []*design.Driver{&d})
		if err != nil {
			t.Fatal(err)
		}
		return m[0].Fit, m[0].Why()
	}
	noSource := func(l *design.Light, n *design.Node) {
		l.Variants[0].Feeds[0].Sources = []design.Source{}
		n.Loads[0].Array.WantedA = new(0.7)
	}
	noEmitters := func(_ *design.Light, n *design.Node) { n.Loads[0].Array.PartID = "" }
	nothing := func(_ *design.Light, n *design.Node) { n.Loads = nil }
	buck := design.Driver{Family: "buck", MinCurrentA: new(0.1), MaxCurrentA: new(1.2), HeadroomV: new(1.0), InputMaxV: new(30.0)}
	with := func(change func(*design.Driver)) design.Driver {
		d := buck
		change(&d)
		return d
	}
	for name, c := range map[string]struct {
		change func(*design.Light, *design.Node)
		d      design.Driver
		fit    Fit
		says   string
	}{
		"no source":              {noSource, buck, NotYet, "no source is chosen yet"},
		"below its lowest":       {noSource, with(func(d *design.Driver) { d.MinCurrentA = new(0.8) }), No, "cannot go below 800 mA"},
		"just its lowest":        {noSource, with(func(d *design.Driver) { d.MinCurrentA = new(0.7) }), NotYet, "no source is chosen yet"},
		"nearly its lowest":      {noSource, with(func(d *design.Driver) { d.MinCurrentA = new(0.73) }), NotYet, "cannot go below 730 mA"},
		"far from wanted":        {noSource, with(func(d *design.Driver) { d.MaxCurrentA = new(0.35) }), No, "it gives 350 mA, wanted are 700"},
		"outside its window":     {noSource, design.Driver{Family: "window", SetCurrentA: new(0.7), MinVoltageV: new(20.0), MaxVoltageV: new(40.0)}, No, "window ends at 20.0 V"},
		"inside its window":      {noSource, design.Driver{Family: "window", SetCurrentA: new(0.7), MinVoltageV: new(5.0), MaxVoltageV: new(40.0)}, NotYet, "no source"},
		"below its window":       {noSource, design.Driver{Family: "window", SetCurrentA: new(0.7), MinVoltageV: new(2.0), MaxVoltageV: new(5.0)}, No, "window ends at 5.00 V"},
		"too big":                {noSource, with(func(d *design.Driver) { d.DiameterM = new(0.03) }), No, "it needs 30 mm"},
		"no emitters":            {noEmitters, buck, NotYet, "no emitter is chosen yet"},
		"nothing hangs on it":    {nothing, buck, NotYet, "nothing hangs on it yet"},
		"does not bear its pack": {noEmitters, with(func(d *design.Driver) { d.InputMaxV = new(10.0) }), No, "it bears 10.0 V"},
		"never starts on it":     {noEmitters, with(func(d *design.Driver) { d.InputMinV = new(25.0) }), No, "it starts at 25.0 V"},
	} {
		if fit, why := ask(c.change, c.d); fit != c.fit || !strings.Contains(why, c.says) {
			t.Errorf("%s: %s because %q; want %s, %q", name, fit, why, c.fit, c.says)
		}
	}
}

// Emitters for a driver are judged though none is chosen yet, and not judged where nothing
// feeds the driver.
func TestEmittersOfAnUnfinishedLight(t *testing.T) {
	ask := func(change func(*design.Light, *design.Node)) (Fit, string) {
		light, n := lampAndDriver(t)
		weak := *light.Parts[2].Emitter
		weak.MaxCurrentA, weak.RatedCurrentA = new(0.01), new(0.01)
		change(light, n)
		q, err := NewQuestion(light, 0, n.ID)
		if err != nil {
			t.Fatal(err)
		}
		d, use := q.InPlace()
		found, err := q.Arrays(context.Background(), d, use, n.Loads[0].ID, []*design.Emitter{&weak}, nil)
		if err != nil {
			t.Fatal(err)
		}
		return found[0].Fit, found[0].Why()
	}
	if fit, why := ask(func(_ *design.Light, n *design.Node) { n.Loads[0].Array.PartID = "" }); fit != No || !strings.Contains(why, "maximum is 10.0 mA") {
		t.Errorf("none chosen yet: %s because %q", fit, why)
	}
	if fit, why := ask(func(l *design.Light, _ *design.Node) { l.Variants[0].Feeds[0].Sources = []design.Source{} }); fit != NotYet || why != "no source is chosen yet" {
		t.Errorf("nothing feeds it: %s because %q", fit, why)
	}
}

// What a person would choose stands first: what fits without a drawback, of that what is
// nearest to what is wanted, at hand, and least lossy, in that order.
func TestOrderOfCandidates(t *testing.T) {
	light, n := lampAndDriver(t)
	light.Parts = slices.DeleteFunc(light.Parts, func(p design.Part) bool { return p.Driver != nil })
	n.Driver = &design.DriverUse{SetCurrentA: new(1.5)}
	part := func(name string, stock int, change func(*design.Driver)) OnHand {
		d := &design.Driver{Family: "buck", MinCurrentA: new(0.1), MaxCurrentA: new(3.0), HeadroomV: new(1.0), InputMaxV: new(30.0), Efficiency: new(0.9), EfficiencyFlat: true}
		change(d)
		return OnHand{ID: name, Stock: stock, Part: design.Part{ID: "part", Name: name, Driver: d}}
	}
	found, err := MatchDrivers(context.Background(), light, 0, n.ID, false, []OnHand{
		part("outside", 9, func(d *design.Driver) { d.InputMaxV = new(9.0) }),
		part("lossy", 2, func(d *design.Driver) { d.Efficiency = new(0.8) }),
		part("none left", 0, func(d *design.Driver) { d.Efficiency = new(0.95) }),
		part("a tenth off", 5, func(d *design.Driver) { d.MaxCurrentA = new(1.37) }),
		part("with a drawback", 5, func(d *design.Driver) { d.InputMinV = new(13.0) }),
		part("best", 1, func(*design.Driver) {}),
	})
	if err != nil {
		t.Fatal(err)
	}
	names := make([]string, len(found))
	for i := range found {
		names[i] = found[i].Part.Name
	}
	if got, want := strings.Join(names, ", "), "best, lossy, none left, a tenth off, with a drawback, outside"; got != want {
		t.Errorf("%s; want %s", got, want)
	}
}

// Behind a converter a driver sees what that makes, not the source: 12 V for a part that
// bears 6 V are well behind 5 V, and too high behind 9 V.
func TestDriverBehindAConverter(t *testing.T) {
	d := design.Driver{Family: "linear", SetCurrentA: new(0.35), HeadroomV: new(0.3), InputMinV: new(2.5), InputMaxV: new(6.0)}
	for volts, want := range map[float64]Fit{5: Fits, 9: No} {
		led := sample.LEDPart()
		light := sample.OnSupply(12, 0, []design.Part{led, {ID: "conv", Name: "Converter", Driver: &design.Driver{Family: "voltage", SetVoltageV: &volts, MaxCurrentA: new(3.0), Efficiency: new(0.9)}}},
			design.Node{ID: "first", Name: "The converter", Driver: &design.DriverUse{PartID: "conv"}, Loads: []design.Node{{ID: "second", Driver: &design.DriverUse{}, Loads: []design.Node{{ID: "a", Array: &design.Array{PartID: led.ID, Series: 1, Parallel: 1, WantedA: new(0.35)}}}}}})
		q, err := NewQuestion(light, 0, "second")
		if err != nil {
			t.Fatal(err)
		}
		m, err := q.Drivers(context.Background(), []*design.Driver{&d})
		if err != nil {
			t.Fatal(err)
		}
		if m[0].Fit != want || want == No && m[0].Why() != "The converter reaches 9.00 V, it bears 6.00 V" {
			t.Errorf("behind %g V: %s because %q", volts, m[0].Fit, m[0].Why())
		}
	}
}
