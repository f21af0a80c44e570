package bench

import (
	"context"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
	"photherm/core/target"
)

// Light at a distance is peak over distance squared (inverse square); it has a band of its own, a
// verdict, moves with the light, and calibrates the emitter's flux.
func TestLuxAtADistance(t *testing.T) {
	light := handlamp(t)
	v, err := target.Look(context.Background(), light, 0, target.Question{AtS: target.ReferenceS, Against: -1})
	if err != nil {
		t.Fatal(err)
	}
	r := plan(t, light).row(t, allLight, "lux-3m")
	if want := v.Beam.PeakCd / 9; math.Abs(r.Reading.Expected-want) > 0.01*want || r.Reading.Tool != "luxmeter" || r.Reading.Model < placedShare*want {
		t.Errorf("%+v, not %g lx", r.Reading, want)
	}
	if r.Probe == nil || r.Probe.Times == 0 || r.Probe.Figure != "fluxLm" {
		t.Errorf("probe %+v", r.Probe)
	}
	truth, err := NewTruth(context.Background(), light, 0, 1, nil)
	if err != nil {
		t.Fatal(err)
	}
	if x, ok := truth.At(*r.Probe); !ok || math.Abs(x/r.Reading.Expected-1) > 0.15 {
		t.Errorf("a stand-in reads %g lx where %g are expected", x, r.Reading.Expected)
	}
	for share, verdict := range map[float64]string{1: "agrees", 0.6: "differs"} {
		light.Variants[0].SetUp = []design.Done{{Node: allLight, Step: "lux-3m", Reading: p(share * r.Reading.Expected)}}
		if got := plan(t, light).row(t, allLight, "lux-3m").Reading.Calculated; got != verdict {
			t.Errorf("%g of it %s", share, got)
		}
	}
	light.Variants[0].SetUp = []design.Done{{Node: allLight, Step: "lux-3m", Reading: p(0.8 * r.Reading.Expected)}, {Node: allLight, Step: "lux-10m", Reading: p(0.8 * r.Reading.Expected * 9 / 100)}}
	for _, f := range calibrated(t, light).Figures {
		if strings.HasPrefix(f.Label, "light of") && f.Value < 0.97*f.Was && !f.Unknown {
			return
		}
	}
	t.Errorf("too little light corrects no flux: %+v", calibrated(t, light).Figures)
}

// Photons are read where they are wanted: in the middle of a shelf, on the bottom of a tank.
func TestPhotonsWhereWanted(t *testing.T) {
	for file, mean := range map[string]func(*target.View) float64{
		"germination-rack.json": func(v *target.View) float64 { return v.Area.Max },
		"eelgrass-tank.json":    func(v *target.View) float64 { return v.Tank.Bottom.Max },
	} {
		light, err := sample.Example(file)
		if err != nil {
			t.Fatal(err)
		}
		v, err := target.Look(context.Background(), light, 0, target.Question{AtS: target.ReferenceS, Against: -1})
		if err != nil {
			t.Fatal(err)
		}
		middle, corner := plan(t, light).row(t, allLight, "middle").Reading, plan(t, light).row(t, allLight, "corner").Reading
		if middle.Quantity != "ppfd" || middle.Expected > 1.01*mean(v) || middle.Expected < 0.8*mean(v) || corner.Expected >= middle.Expected {
			t.Errorf("%s: %g in the middle, %g near a corner, at most %g", file, middle.Expected, corner.Expected, mean(v))
		}
	}
}
