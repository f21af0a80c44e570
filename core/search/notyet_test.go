package search

import (
	"context"
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
