package bench

import (
	"context"
	"math"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
	"photherm/core/reading"
)

// How far a pack falls under its light tells of a contact what the voltage alone does not: the
// error of one meter, and of what a full cell stands at, drop out. By Ohm's law it falls by the
// current times what is in its way.
func TestSagTellsOfAContact(t *testing.T) {
	light := handlamp(t)
	p := plan(t, light)
	sag, under, draw := p.row(t, "power", "sag-full").Reading, p.row(t, "power", "volts-full").Reading, p.row(t, "power", "draw-full").Reading
	if sag.Within > under.Within/3 {
		t.Errorf("±%g V of a fall, ±%g V of a voltage", sag.Within, under.Within)
	}
	if at := (sag.Expected + under.Expected); math.Abs(at-4*4.19) > 0.02*4 {
		t.Errorf("four full cells rest at %g V", at)
	}
	const ohm = 0.4
	light.Variants[0].Feeds[0].Sources[0].Pack.ContactOhm += ohm
	worse := plan(t, light)
	more, amps := worse.row(t, "power", "sag-full").Reading.Expected, worse.row(t, "power", "draw-full").Reading.Expected
	// What was in the way before is, and the driver takes more at less voltage.
	if want := sag.Expected/draw.Expected*amps + ohm*amps; math.Abs(more-want) > 0.01*want {
		t.Errorf("it falls %g V, not %g V", more, want)
	}
	truth, err := NewTruth(context.Background(), handlamp(t), 0, 1, []string{FaultContact})
	if err != nil {
		t.Fatal(err)
	}
	at := Probe{Owner: "power", Figure: sagV, When: "cold", Charge: 1}
	x, ok := truth.At(at)
	later, there := truth.Later(at, 0)
	if !ok || !there || x < sag.Expected+2*sag.Within || math.Abs(later-x) > 1e-6 {
		t.Errorf("with a bad contact %g V (%v), as time goes by %g V (%v)", x, ok, later, there)
	}
}

// Who types the volts that are read with the light off is asked for how far they rose, by the reading
// under load if there is one.
func TestVoltsForFall(t *testing.T) {
	light := handlamp(t)
	typed := func(sag float64, sure bool, under ...float64) *reading.Reading {
		t.Helper()
		light.Variants[0].SetUp = []design.Done{{Node: "power", Step: "sag-full", Reading: &sag, Sure: sure}}
		for _, v := range under {
			light.Variants[0].SetUp = append(light.Variants[0].SetUp, design.Done{Node: "power", Step: "volts-full", Reading: &v})
		}
		return plan(t, light).row(t, "power", "sag-full").Reading
	}
	if r := typed(16.76, false, 16.41); r.Ask == nil || math.Abs(r.Ask.Value-0.35) > 1e-9 {
		t.Errorf("beside a reading: %+v", r.Ask)
	}
	if r := typed(16.76, false); r.Ask == nil || math.Abs(r.Ask.Value-r.Expected) > 0.02 {
		t.Errorf("beside none: %+v", r.Ask)
	}
	for _, sag := range []float64{0.9, 16.3, 21.5} {
		if r := typed(sag, false, 16.41); r.Ask != nil {
			t.Errorf("%g V: %+v", sag, r.Ask)
		}
	}
	if r := typed(16.76, true, 16.41); r.Ask != nil {
		t.Errorf("who is sure is asked: %+v", r.Ask)
	}
}

// What a pack gives to a lamp without a driver is asked for once; a reading that was recorded in its
// bring-up still stands there.
func TestDrawIsAskedOnce(t *testing.T) {
	light, err := sample.Example("bilge-lamp.json")
	if err != nil {
		t.Fatal(err)
	}
	count := func() (bringUp, draws int) {
		t.Helper()
		for _, s := range plan(t, light).Stages {
			for _, r := range s.Rows {
				switch r.Step {
				case "current-drained", "current-half", "current-full":
					bringUp++
				case "draw-drained", "draw-half", "draw-full":
					draws++
				}
			}
		}
		return bringUp, draws
	}
	light.Variants[0].SetUp = nil
	if up, draws := count(); up != 0 || draws != 3 {
		t.Errorf("%d in the bring-up, %d of the pack", up, draws)
	}
	light.Variants[0].SetUp = []design.Done{{Node: "lamp", Step: "current-half", Reading: p(0.3)}}
	if up, _ := count(); up != 3 {
		t.Errorf("what was read is hidden: %d", up)
	}
	// What is ticked of it, or recorded of another, hides nothing and brings nothing back.
	light.Variants[0].SetUp = []design.Done{{Node: "lamp", Step: "limited", Ticked: true}, {Node: "other", Step: "current-half", Reading: p(0.3)}}
	if up, draws := count(); up != 0 || draws != 3 {
		t.Errorf("other steps: %d in the bring-up, %d of the pack", up, draws)
	}
	// A small thing beside it, and a second lamp: what the pack gives is no longer what this one takes.
	light.Variants[0].SetUp = nil
	loads := light.Variants[0].Feeds[0].Loads
	full := 0.0
	for _, x := range light.Part(loads[len(loads)-1].Load.PartID).Load.Points {
		full = max(full, x.CurrentA)
	}
	light.Variants[0].Feeds[0].Loads = append(loads[:len(loads):len(loads)], design.Node{ID: "gauge", Aux: &design.Auxiliary{CurrentA: 0.06 * full}})
	if up, _ := count(); up != 3 {
		t.Errorf("beside a gauge: %d in the bring-up", up)
	}
	other := loads[len(loads)-1]
	other.ID = "another"
	light.Variants[0].Feeds[0].Loads = append(loads, other)
	if up, draws := count(); up == 0 || draws != 3 {
		t.Errorf("of two: %d in the bring-up, %d of the pack", up, draws)
	}
}
