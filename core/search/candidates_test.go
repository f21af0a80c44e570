package search_test

import (
	"context"
	"errors"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
	"photherm/core/search"
)

// A part that the light holds a copy of is one candidate, with the cabinet's stock and
// both ids; what differs in one figure is another; other kinds are none.
func TestCandidates(t *testing.T) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	var driver design.Part
	for _, p := range light.Parts {
		if p.Driver != nil {
			driver = p
		}
	}
	kept := driver
	kept.ID, kept.Origin = "part", nil
	other := kept
	data := *kept.Driver
	data.Efficiency = new(0.5)
	other.Driver = &data
	found := search.Candidates(light, "driver", []search.OnHand{{ID: "a", Stock: 3, Part: kept}, {ID: "b", Stock: 1, Part: other}, {ID: "c", Stock: 9, Part: sample.LEDPart()}})
	if len(found) != 2 || found[0].Local != driver.ID || found[0].Cabinet != "a" || found[0].Stock != 3 || found[1].Local != "" || found[1].Cabinet != "b" || found[1].Stock != 1 {
		t.Errorf("candidates %+v", found)
	}
	ctx := context.Background()
	matches, err := search.MatchDrivers(ctx, light, 0, "driver", false, []search.OnHand{{ID: "b", Stock: 1, Part: other}})
	if err != nil || len(matches) != 2 || matches[0].Fit != search.Fits || matches[0].Needs != 1 || matches[0].OutA == nil || *matches[0].OutA < 1.4 || *matches[0].OutA > 1.6 {
		t.Fatalf("%v %+v", err, matches)
	}
	for _, m := range matches {
		if m.Cabinet == "b" && (m.LossW == nil || *m.LossW < 5*(*matches[0].LossW)) {
			t.Errorf("half of it lost: %v W beside %v W", m.LossW, *matches[0].LossW)
		}
	}
}

// Of emitters that fit, those there are enough of come before brighter ones that are lacking.
func TestEnoughComesFirst(t *testing.T) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	bright, plain := sample.LEDPart(), sample.LEDPart()
	plain.Emitter.FluxLm = new(100.0)
	more := *bright.Emitter
	more.FluxLm = new(800.0)
	bright.Emitter, bright.Name, plain.Name = &more, "bright", "plain"
	for _, c := range []struct {
		have  int
		first string
	}{{1, "plain"}, {50, "bright"}} {
		found, err := search.MatchEmitters(context.Background(), light, 0, "driver", "emitters", []search.OnHand{{ID: "a", Stock: 50, Part: plain}, {ID: "b", Stock: c.have, Part: bright}})
		if err != nil {
			t.Fatal(err)
		}
		var names []string
		for _, f := range found {
			if f.Fit != search.Fits {
				t.Errorf("%s: %s %s", f.Part.Name, f.Fit, f.Why)
			}
			if f.Cabinet != "" {
				names = append(names, f.Part.Name)
			}
		}
		if len(names) != 2 || names[0] != c.first {
			t.Errorf("with %d bright ones: %v", c.have, names)
		}
	}
}

// What stands in the place stays wired as it is where that fits, and not where it does not.
func TestWiredAsItIs(t *testing.T) {
	light, err := sample.Example("germination-rack.json")
	if err != nil {
		t.Fatal(err)
	}
	supply := &light.Variants[0].Feeds[0].Loads[0].Loads[0]
	node := &supply.Loads[0]
	for series, as := range map[int]bool{node.Array.Series: true, 2 * node.Array.Series: false} {
		node.Array.Series = series
		found, err := search.MatchEmitters(context.Background(), light, 0, supply.ID, node.ID, nil)
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range found {
			if f.Local == node.Array.PartID && (f.Series == series && f.Parallel == node.Array.Parallel) != as {
				t.Errorf("%d × %d is told as %d × %d", series, node.Array.Parallel, f.Series, f.Parallel)
			}
		}
	}
}

// What a question gets wrong is named; a question withdrawn is nobody's fault.
func TestPlaceError(t *testing.T) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	ctx := context.Background()
	for i := range light.Parts {
		if c := light.Parts[i].Cell; c != nil {
			c.Size = ""
		}
	}
	_, noNode := search.MatchDrivers(ctx, light, 0, "nobody", false, nil)
	_, noSize := search.MatchDrivers(ctx, light, 0, "driver", true, nil)
	_, noArray := search.MatchEmitters(ctx, light, 0, "driver", "nobody", nil)
	_, noFeed := search.MatchCells(ctx, light, 0, "nobody", "", nil)
	for of, err := range map[string]error{"node": noNode, "anyCell": noSize, "array": noArray, "feed": noFeed} {
		var place *search.PlaceError
		if !errors.As(err, &place) || place.Of != of || place.Error() == "" {
			t.Errorf("%s: %v", of, err)
		}
	}
	gone, leave := context.WithCancel(ctx)
	leave()
	var place *search.PlaceError
	parts := make([]search.OnHand, 100)
	for i := range parts {
		parts[i].Part = light.Parts[1]
	}
	for _, p := range light.Parts {
		if p.Driver != nil {
			for i := range parts {
				parts[i].Part = p
				d := *p.Driver
				d.Efficiency = new(0.5 + float64(i)/1000)
				parts[i].Part.Driver = &d
			}
		}
	}
	if _, err := search.MatchDrivers(gone, light, 0, "driver", false, parts); !errors.Is(err, context.Canceled) || errors.As(err, &place) {
		t.Errorf("withdrawn: %v", err)
	}
}
