package heat

import (
	"math"
	"strings"
	"testing"

	"photherm/core/design"
)

func body(t *testing.T, s design.Shape) *Body {
	t.Helper()
	b, lacks := NewBody(&s, 1)
	if b == nil {
		t.Fatalf("%s lacks %v", s.Kind, lacks)
	}
	return b
}

const inch = 0.0254

// Whole bodies against the worked examples that their faces are checked by (Incropera &
// DeWitt, from memory): the duct of 0.75 × 0.3 m loses 246 W/m without radiation, the pipe
// of 0.1 m 325 + 441 W/m.
func TestBodiesOfWorkedExamples(t *testing.T) {
	duct := body(t, design.Shape{Kind: "box", LengthM: p(20.0), WidthM: p(0.75), HeightM: p(0.3)})
	duct.Emissivity = 0
	within(t, "duct", duct.Watts(45, 15, 0)/20, 246, 0.05) // its ends, and the length of its faces, are in it
	pipe := body(t, design.Shape{Kind: "tube", Pose: "level", DiameterM: p(0.1), LengthM: p(2.0)})
	pipe.Emissivity = 0.85
	within(t, "pipe", pipe.Watts(165, 23, 0)/2, 325+441, 0.02)
}

// A tube of 25 mm with a wall of 2 mm and 0.1 m long has about 4 K/W along itself (physics of
// a rod, l/(k·A)): heat that enters at one end warms it as a fin. Held for a third it gives a
// third less; in wind more than still; under water far more.
func TestHandheldTube(t *testing.T) {
	shape := design.Shape{Kind: "tube", Pose: "level", DiameterM: p(0.025), ThicknessM: p(0.002), LengthM: p(0.1), Surface: "anodised"}
	b := body(t, shape)
	along := *shape.LengthM / b.along
	within(t, "along the tube, K/W", along, 0.1/(200*math.Pi*0.023*0.002), 1e-9)
	if along < 3 || along > 4.5 {
		t.Errorf("%g K/W along it", along)
	}
	solid := shape
	solid.ThicknessM = nil
	even := body(t, solid).Watts(60, 25, 0)
	g := even / 35
	ml := math.Sqrt(g * along)
	within(t, "as a fin", b.Watts(60, 25, 0), even*math.Tanh(ml)/ml, 1e-9)
	held, windy, wet := solid, solid, solid
	held.HeldShare, windy.SpeedMS, wet.Submerged = p(1.0/3), p(1.0), true
	within(t, "held", body(t, held).Watts(60, 25, 0), even*2/3, 1e-9)
	if w := body(t, windy).Watts(60, 25, 0); w < 1.5*even || w > 4*even {
		t.Errorf("walking %g W, still %g W", w, even)
	}
	within(t, "under water", body(t, wet).Watts(60, 25, 0), 300*math.Pi*0.025*0.1*35, 1e-9)
}

// A plate-fin sink put together by hand from the same sources: channels with their floor and
// fin efficiency, outer sides and back as plates, radiation from the envelope; other poses
// keep their share of the channels.
func TestFinnedSink(t *testing.T) {
	shape := design.Shape{Kind: "fins", LengthM: p(0.1), WidthM: p(0.08), ThicknessM: p(0.005), Fins: 9, FinHeightM: p(0.03), FinThickM: p(0.0015), Surface: "anodised"}
	const c, air = 65.0, 25.0
	s := (0.08 - 9*0.0015) / 8
	h, plate := Channel(c, air, s, 0.1, 1), VerticalPlate(c, air, 0.1, 1)
	channels := h * 8 * 0.1 * (s + 2*0.03*FinEfficiency(h, 200, 0.03, 0.0015)) * (c - air)
	rest := plate*(2*0.03*0.1+0.08*0.1)*(c-air) + Radiation(c, air, 0.8)*(2*0.08*0.1+2*0.03*0.1+2*0.03*0.08)
	within(t, "upright", body(t, shape).Watts(c, air, 0), channels+rest, 1e-9)
	for pose, share := range map[string]float64{"up": 0.8, "down": 0.5, "across": 0.4} {
		shape.Pose = pose
		b := body(t, shape)
		h := share * Channel(c, air, s, 0.1, 1)
		within(t, pose, b.Watts(c, air, 0), h*8*0.1*(s+2*0.03*FinEfficiency(h, 200, 0.03, 0.0015))*(c-air)+rest, 1e-9)
	}
	kg, ok := body(t, shape).MassKg(&shape)
	within(t, "mass", kg, 2700*(9*0.03*0.0015*0.1+0.005*0.08*0.1), 1e-9)
	if !ok {
		t.Error("its mass is not known")
	}
	// With a fan far more, in proportion to its voltage; without voltage as in still air.
	shape.Pose = "upright"
	still := body(t, shape)
	shape.Fan = &design.Fan{NodeID: "fan", FlowM3H: 30, RatedV: p(12.0)}
	blown := body(t, shape)
	half, full := blown.Watts(c, air, 6), blown.Watts(c, air, 12)
	if !(full > half && half > still.Watts(c, air, 0)) || full < 2*still.Watts(c, air, 0) {
		t.Errorf("still %g W, half %g W, full %g W", still.Watts(c, air, 0), half, full)
	}
	within(t, "no voltage", blown.Watts(c, air, 0), still.Watts(c, air, 0), 1e-12)
	shape.Fan.Stopped = true
	within(t, "stopped", body(t, shape).Watts(c, air, 12), still.Watts(c, air, 0), 1e-12)
}

// A disc is a sheet of its area; a cooler has its K/W with its fan at its rated voltage, what
// was measured without, and between them with the flow to the power of 0.8 (common practice);
// a profile drawn fin by fin has the perimeter that a tape around it would show.
func TestDiscCoolerAndDrawnProfile(t *testing.T) {
	disc := body(t, design.Shape{Kind: "disc", DiameterM: p(0.05), ThicknessM: p(0.003), Pose: "up", OneFace: true, Surface: "painted"})
	area := math.Pi * 0.05 * 0.05 / 4
	within(t, "disc", disc.Watts(60, 25, 0), area*(35*PlateUp(60, 25, 0.0125, 1)+Radiation(60, 25, 0.9)), 1e-9)
	within(t, "its volume", disc.VolumeM3, area*0.003, 1e-12)
	fan := &design.Fan{FlowM3H: 20, NodeID: "fan", RatedV: p(12.0)}
	cooler := design.Shape{Kind: "cooler", CoolerKW: p(0.5), StillKW: p(4.0), Fan: fan}
	within(t, "full", body(t, cooler).Watts(60, 20, 12), 80, 1e-9)
	within(t, "without voltage", body(t, cooler).Watts(60, 20, 0), 10, 1e-9)
	within(t, "half", body(t, cooler).Watts(60, 20, 6), 40*(0.25+1.75*math.Pow(0.5, 0.8)), 1e-9)
	fan.Stopped = true
	within(t, "stopped", body(t, cooler).Watts(60, 20, 12), 10, 1e-9)
	cooler.StillKW = nil
	within(t, "stopped, not measured", body(t, cooler).Watts(60, 20, 12), 80.0/6, 1e-9)
	cooler.Fan = nil
	within(t, "its fan by itself", body(t, cooler).Watts(60, 20, 0), 80, 1e-9)
	if got, _ := Size(&cooler, 40, 60, Surroundings{AirC: 20, Pressure: 1}); got.RuleEndC != nil || *got.EndsAtC != 40 && math.Abs(*got.EndsAtC-40) > 1e-6 {
		t.Errorf("a cooler has no surface that the area rule could speak of: %+v", got)
	}

	drawn := design.Shape{Kind: "profile", LengthM: p(0.2), WidthM: p(0.1), HeightM: p(0.04), ThicknessM: p(0.005), DrawnFins: []design.DrawnFin{{Count: 9, HeightM: 0.035, ThickM: 0.0015}, {Count: 2, HeightM: 0.02, ThickM: 0.003}}}
	by := drawn
	by.PerimeterM, by.DrawnFins = p(2*0.1+18*0.035+4*0.02), nil
	within(t, "drawn", body(t, drawn).Watts(60, 25, 0), body(t, by).Watts(60, 25, 0), 1e-12)
	within(t, "its volume", body(t, drawn).VolumeM3, 0.2*(0.1*0.005+9*0.035*0.0015+2*0.02*0.003), 1e-12)
	if b, lacks := NewBody(&design.Shape{Kind: "profile", LengthM: p(0.2), DrawnFins: drawn.DrawnFins}, 1); b != nil || len(lacks) != 1 || lacks[0] != "widthM" {
		t.Errorf("drawn on no base: %v", lacks)
	}
}

// Faces know which way is up, warm and cold; one face has half of an upright plate; thin
// air carries less; slopes are those of differences; and what a body gives at its rise is
// what it was asked to.
func TestShapesObeyTheirMeasures(t *testing.T) {
	sheet := func(change func(*design.Shape)) *Body {
		s := design.Shape{Kind: "plate", LengthM: p(0.3), WidthM: p(0.2), ThicknessM: p(0.002), Surface: "painted"}
		change(&s)
		return body(t, s)
	}
	both, one := sheet(func(*design.Shape) {}), sheet(func(s *design.Shape) { s.OneFace = true })
	within(t, "one face", one.Watts(50, 20, 0), both.Watts(50, 20, 0)/2, 1e-12)
	up, down := sheet(func(s *design.Shape) { s.Pose, s.OneFace = "up", true }), sheet(func(s *design.Shape) { s.Pose, s.OneFace = "down", true })
	if up.Watts(50, 20, 0) <= down.Watts(50, 20, 0) || -up.Watts(-10, 20, 0) >= -down.Watts(-10, 20, 0) {
		t.Error("a warm face gives more upwards, and a cold one downwards")
	}
	s := design.Shape{Kind: "plate", LengthM: p(0.3), WidthM: p(0.2)}
	high, _ := NewBody(&s, PressureAt(3000))
	if low := body(t, s); high.Watts(60, 20, 0) >= low.Watts(60, 20, 0) {
		t.Error("at 3000 m it gives no less")
	}
	for name, b := range map[string]*Body{"plate": both, "up": up, "box": body(t, design.Shape{Kind: "box", LengthM: p(0.2), WidthM: p(0.15), HeightM: p(0.08)}),
		"profile": body(t, design.Shape{Kind: "profile", PerimeterM: p(1.2), LengthM: p(0.2), WidthM: p(0.12), HeightM: p(0.04), ThicknessM: p(0.002)}), "area": body(t, design.Shape{Kind: "area", AreaM2: p(0.4)})} {
		w := b.Watts(48, 20, 0)
		perBody, perAir := b.Slopes(48, 20, 0)
		within(t, name+", slope", perBody, (b.Watts(48.5, 20, 0) - b.Watts(47.5, 20, 0)), 1e-3)
		within(t, name+", slope with the air", perAir, (b.Watts(48, 20.5, 0) - b.Watts(48, 19.5, 0)), 1e-3)
		rise, ok := b.RiseAt(w, 20, 0)
		within(t, name+", rise", rise, 28, 1e-6)
		if _, far := b.RiseAt(1e6, 20, 0); !ok || far {
			t.Errorf("%s: found %v, beyond all reason %v", name, ok, far)
		}
	}
	for kind, want := range map[string]int{"area": 1, "plate": 2, "box": 3, "profile": 2, "tube": 2, "fins": 5, "disc": 1, "cooler": 1, "": 1} {
		if b, lacks := NewBody(&design.Shape{Kind: kind}, 1); b != nil || len(lacks) != want {
			t.Errorf("%q without measures lacks %v", kind, lacks)
		}
	}
}

// The surface of a housing is that of a cuboid, twice each pair of sides.
func TestBoxSurface(t *testing.T) {
	b := body(t, design.Shape{Kind: "box", LengthM: p(0.16), WidthM: p(0.12), HeightM: p(0.06), ThicknessM: p(0.002)})
	within(t, "surface", b.AreaM2, 2*(0.16*0.12+0.16*0.06+0.12*0.06), 1e-12)
	within(t, "radiates", b.RadiantM2, b.AreaM2, 1e-12)
	within(t, "volume", b.VolumeM3, 0.002*b.AreaM2, 1e-12)
}

// A profile that lies has the surface it has, and 0.7 of the film of channels that stand
// (common practice): it radiates as before, and the area rule speaks of all of it.
func TestLyingProfile(t *testing.T) {
	shape := design.Shape{Kind: "profile", PerimeterM: p(0.9), LengthM: p(0.2), WidthM: p(0.12), HeightM: p(0.1), Surface: "painted"}
	stands := body(t, shape)
	shape.Pose = "level"
	lies := body(t, shape)
	within(t, "surface", lies.AreaM2, 0.18, 1e-12)
	within(t, "envelope", lies.RadiantM2, 2*(0.12+0.1)*0.2, 1e-12)
	radiates := Radiation(60, 25, 0.9) * lies.RadiantM2
	within(t, "standing", stands.Watts(60, 25, 0), VerticalPlate(60, 25, 0.2, 1)*0.18*35+radiates, 1e-9)
	within(t, "lying", lies.Watts(60, 25, 0), 0.7*VerticalPlate(60, 25, 0.1, 1)*0.18*35+radiates, 1e-9)
	got, _ := Size(&shape, 10, 60, Surroundings{AirC: 25, Pressure: 1})
	within(t, "the rule's watts", got.RuleW, 0.18/(17*inch*inch), 1e-9)
	// What blows through it does not mind how it lies; through what, must be known.
	shape.Fan, shape.Pose = &design.Fan{FlowM3H: 60}, ""
	within(t, "blown", body(t, shape).Watts(60, 25, 0), both(VerticalPlate(60, 25, 0.2, 1), AlongPlate(60, 25, 0.2, 60.0/3600/0.012, 1))*0.18*35+radiates, 1e-9)
	shape.WidthM = nil
	if b, lacks := NewBody(&shape, 1); b != nil || len(lacks) != 1 || lacks[0] != "widthM" {
		t.Errorf("blown through an unknown envelope: lacks %v", lacks)
	}
}

// The area rule, common practice: 88 heat watts ask for about 1500 in² in still air or 528
// with a fan; a profile of 40 in² per inch for about 38 in or 13 in; 140 in of perimeter by
// 12 in carry about 99 W in still air and 280 W with a fan.
func TestAreaRule(t *testing.T) {
	profile := func(perimeterIn, lengthIn float64, fan *design.Fan) *design.Shape {
		return &design.Shape{Kind: "profile", PerimeterM: p(perimeterIn * inch), LengthM: p(lengthIn * inch), WidthM: p(0.3), HeightM: p(0.06), Fan: fan}
	}
	blows := &design.Fan{FlowM3H: 100}
	for _, c := range []struct {
		s                 *design.Shape
		heatW             float64
		ruleIn2, lengthIn float64
		ruleW             float64
	}{
		{profile(40, 20, nil), 88, 1500, 38, 47}, {profile(40, 20, blows), 88, 528, 13.2, 133}, {profile(140, 12, nil), 99, 1683, 12, 99}, {profile(140, 12, blows), 280, 1680, 12, 280},
	} {
		got, lacks := Size(c.s, c.heatW, 60, Surroundings{AirC: 25, Pressure: 1})
		if got == nil {
			t.Fatal(lacks)
		}
		within(t, "area, in²", got.RuleM2/(inch*inch), c.ruleIn2, 0.02)
		within(t, "length, in", *got.RuleLengthM/inch, c.lengthIn, 0.02)
		within(t, "watts", got.RuleW, c.ruleW, 0.02)
		if got.WithFan != (c.s.Fan != nil) {
			t.Errorf("with a fan: %v", got.WithFan)
		}
	}
}

// The number of fins that is offered is as cool as the coolest of all, and near that of the best
// spacing of thin fins (Bar-Cohen & Rohsenow 1984).
func TestBestNumberOfFins(t *testing.T) {
	for _, high := range []float64{0.06, 0.12, 0.25} {
		s := design.Shape{Kind: "fins", LengthM: &high, WidthM: p(0.12), ThicknessM: p(0.005), Fins: 30, FinHeightM: p(0.02), FinThickM: p(0.0008)}
		got, _ := Size(&s, 15, 60, Surroundings{AirC: 25, Pressure: 1})
		coolest := math.Inf(1)
		for n := 2; n < 60; n++ {
			s.Fins = n
			if rise, ok := body(t, s).RiseAt(15, 25, 0); ok {
				coolest = min(coolest, 25+rise)
			}
		}
		if got.BestFins == nil || *got.BestEndsAtC > coolest+0.002*(coolest-25) {
			t.Errorf("%g m high: %v fins at %v °C, the coolest of all %g", high, *got.BestFins, *got.BestEndsAtC, coolest)
		}
		if gap := (0.12 - float64(*got.BestFins)*0.0008) / float64(*got.BestFins-1); gap < 0.6**got.BestSpacingM || gap > 1.2**got.BestSpacingM {
			t.Errorf("%g m high: %g m apart, thin fins by themselves %g", high, gap, *got.BestSpacingM)
		}
	}
}

// Outside the range of a law it is told: a tall face past Ra 1e12, a small one that looks down,
// air beyond its table, fins blown far too hard; ordinary bodies say nothing.
func TestBeyondTheLaws(t *testing.T) {
	for name, c := range map[string]struct {
		s     design.Shape
		bodyC float64
		told  string
	}{
		"a sheet":         {design.Shape{Kind: "plate", LengthM: p(0.2), WidthM: p(0.1)}, 60, ""},
		"a box":           {design.Shape{Kind: "box", LengthM: p(0.16), WidthM: p(0.12), HeightM: p(0.06)}, 50, ""},
		"a washer":        {design.Shape{Kind: "disc", DiameterM: p(0.012), Pose: "down", OneFace: true}, 40, "looks down at a Rayleigh number of about 10², its law is for 10⁵ to 10¹⁰"},
		"a tower":         {design.Shape{Kind: "plate", LengthM: p(19.0), WidthM: p(1.0)}, 90, "upright"},
		"red hot":         {design.Shape{Kind: "plate", LengthM: p(0.2), WidthM: p(0.1)}, 480, "air at"},
		"a storm in fins": {design.Shape{Kind: "fins", LengthM: p(0.01), WidthM: p(0.1), Fins: 3, FinHeightM: p(0.02), FinThickM: p(0.001), SpeedMS: p(30.0)}, 40, "Re*"},
		"a wind on fins":  {design.Shape{Kind: "fins", LengthM: p(0.1), WidthM: p(0.1), Fins: 20, FinHeightM: p(0.02), FinThickM: p(0.001), SpeedMS: p(3.0)}, 40, ""},
		"under water":     {design.Shape{Kind: "disc", DiameterM: p(0.012), Pose: "down", OneFace: true, Submerged: true}, 40, ""},
		"a cooler":        {design.Shape{Kind: "cooler", CoolerKW: p(0.5)}, 480, ""},
	} {
		if got := strings.Join(body(t, c.s).Beyond(c.bodyC, 20, 0), "; "); (c.told == "") != (got == "") || !strings.Contains(got, c.told) {
			t.Errorf("%s: %q, want %q", name, got, c.told)
		}
	}
}

// Physics beside it: the length it asks for comes to rest at the limit, the watts it allows
// too; the best spacing is told beside the one there is, and the temperature with the fan
// stopped is that of the same sink in still air.
func TestSizingByPhysics(t *testing.T) {
	s := design.Shape{Kind: "fins", LengthM: p(0.1), WidthM: p(0.1), ThicknessM: p(0.005), Fins: 12, FinHeightM: p(0.03), FinThickM: p(0.0015), Surface: "anodised"}
	got, _ := Size(&s, 20, 60, Surroundings{AirC: 25, Pressure: 1})
	if got.EndsAtC == nil || got.PhysicsLengthM == nil || got.StoppedC != nil || got.BestSpacingM == nil {
		t.Fatalf("%+v", got)
	}
	longer := s
	longer.LengthM = got.PhysicsLengthM
	if got.OffShare != 0.15 || *got.SureLengthM <= *got.PhysicsLengthM {
		t.Errorf("with %g in hand %g m, without %g", got.OffShare, *got.SureLengthM, *got.PhysicsLengthM)
	}
	within(t, "length", body(t, longer).Watts(60, 25, 0), 20, 1e-6)
	within(t, "watts", body(t, s).Watts(60, 25, 0), got.PhysicsW, 1e-12)
	within(t, "at rest", body(t, s).Watts(*got.EndsAtC, 25, 0), 20, 1e-6)
	within(t, "K/W", *got.KPerW, (*got.EndsAtC-25)/20, 1e-12)
	within(t, "by the rule", body(t, s).Watts(*got.RuleEndC, 25, 0), 20*got.AreaM2/got.RuleM2, 1e-6)
	within(t, "spacing", *got.SpacingM, (0.1-12*0.0015)/11, 1e-12)
	blown := s
	blown.Fan = &design.Fan{FlowM3H: 20}
	with, _ := Size(&blown, 20, 60, Surroundings{AirC: 25, Pressure: 1})
	within(t, "stopped", *with.StoppedC, *got.EndsAtC, 1e-9)
	if *with.EndsAtC >= *got.EndsAtC-5 {
		t.Errorf("%g °C blown, %g °C still", *with.EndsAtC, *got.EndsAtC)
	}
	if none, _ := Size(&s, 5000, 60, Surroundings{AirC: 25, Pressure: 1}); none.PhysicsLengthM != nil || none.EndsAtC != nil {
		t.Errorf("5 kW: %+v", none)
	}
	if cold, _ := Size(&s, 20, 60, Surroundings{AirC: 65, Pressure: 1}); cold.PhysicsW != 0 || cold.PhysicsLengthM != nil {
		t.Errorf("air above the limit: %+v", cold)
	}
	if none, lacks := Size(&design.Shape{Kind: "box"}, 20, 60, Surroundings{AirC: 25, Pressure: 1}); none != nil || len(lacks) != 3 {
		t.Errorf("without measures: %+v, %v", none, lacks)
	}
}

// The rise is where the body's own law gives the watts, on either side of the air: a sheet that takes
// heat is cooler, one that gives none is as warm, and wet it is cooler then too.
func TestRiseOnBothSides(t *testing.T) {
	sheet := design.Shape{Kind: "plate", LengthM: p(0.2), WidthM: p(0.2), ThicknessM: p(0.002)}
	wet := sheet
	wet.Wet = true
	for name, c := range map[string]struct {
		s        *design.Shape
		w        float64
		from, to float64
	}{
		"warm": {&sheet, 5, 3, 40}, "off": {&sheet, 0, 0, 0}, "takes heat": {&sheet, -1, -10, -0.5}, "wet and off": {&wet, 0, -5, -1}, "wet and hardly warm": {&wet, 0.3, -4, -0.5}, "wet and warm": {&wet, 8, 1, 20},
	} {
		b, _ := NewBody(c.s, 1)
		rise, ok := b.RiseAt(c.w, 20, 0)
		if !ok || rise < c.from || rise > c.to || math.Abs(b.Watts(20+rise, 20, 0)-c.w) > 1e-6 {
			t.Errorf("%s: %g K, %v, gives %g W", name, rise, ok, b.Watts(20+rise, 20, 0))
		}
	}
	b, _ := NewBody(&sheet, 1)
	for _, w := range []float64{-1e3, 1e5} {
		if _, ok := b.RiseAt(w, 20, 0); ok {
			t.Errorf("%g W have a rise", w)
		}
	}
}
