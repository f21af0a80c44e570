package bench

import (
	"context"
	"math"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
)

// Read without a fault, most of what is hidden agrees; each fault is found in the readings, and
// named for what it is; the same seed hides the same.
func TestTruth(t *testing.T) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	light.Variants = light.Variants[:1]
	read := func(seed uint64, faults ...string) *ReadingPlan {
		truth, err := NewTruth(context.Background(), light, 0, seed, faults)
		if err != nil {
			t.Fatal(faults, err)
		}
		with, err := design.Clone(light)
		if err != nil {
			t.Fatal(err)
		}
		got := plan(t, light)
		for i := range got.Stages {
			for k := range got.Stages[i].Rows {
				r := &got.Stages[i].Rows[k]
				if r.Probe == nil {
					continue
				}
				if x, ok := truth.At(*r.Probe); ok {
					with.Variants[0].SetUp = append(with.Variants[0].SetUp, design.Done{Node: r.Node, Step: r.Step, Reading: &x})
				}
			}
		}
		return plan(t, with)
	}
	count := func(p *ReadingPlan, says string) (n int) {
		for _, s := range p.Stages {
			for _, r := range s.Rows {
				if r.Reading != nil && r.Reading.Calculated == says {
					n++
				}
			}
		}
		return n
	}
	plain := read(3)
	if count(plain, "differs") > 0 || count(plain, "agrees") < 10 || plain.Cause != nil {
		t.Errorf("without a fault %d agree, %d differ: %+v", count(plain, "agrees"), count(plain, "differs"), plain.Cause)
	}
	for _, f := range []string{FaultPot, FaultShortedEmitter, FaultDryJoint} {
		if got := read(3, f); count(got, "differs") == 0 || got.Cause == nil {
			t.Errorf("%s: %d differ, %+v", f, count(got, "differs"), got.Cause)
		}
	}
	if got := read(3, FaultContact); count(got, "differs")+count(got, "doubtful") == 0 {
		t.Errorf("a bad contact is not seen")
	}
	probe := Probe{Owner: "driver", Figure: "peakA", When: "cold", Charge: 1}
	var at [3]float64
	for i, seed := range []uint64{3, 3, 4} {
		truth, err := NewTruth(context.Background(), light, 0, seed, []string{FaultWeakCell})
		if err != nil {
			t.Fatal(err)
		}
		at[i], _ = truth.At(probe)
	}
	if at[0] != at[1] || at[0] == at[2] || math.Abs(at[0]-1.5) > 0.1 {
		t.Errorf("%v", at)
	}
	if _, err := NewTruth(context.Background(), light, 0, 1, []string{"elves"}); err == nil {
		t.Error("elves")
	}
	if _, err := NewTruth(context.Background(), plainLoad(), 0, 1, []string{FaultPot}); err == nil {
		t.Error("a light without a driver has a pot")
	}
	// Two at once, whichever is named first.
	both := read(3, FaultShortedEmitter, FaultPot)
	if r := both.row(t, "driver", "cold").Reading; *r.Actual > 0.75*r.Expected {
		t.Errorf("an emitter that is shorted is gone: %g V", *r.Actual)
	}
	if r := both.row(t, "driver", "on").Reading; *r.Actual > 0.85*r.Expected {
		t.Errorf("a pot that is wrong is gone: %g A", *r.Actual)
	}
	if len(Faults()) != 6 {
		t.Errorf("%v", Faults())
	}
}
