package target_test

import (
	"context"
	"encoding/json"
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/target"
)

var ctx = context.Background()

func near(t *testing.T, what string, got, want, share float64) {
	t.Helper()
	if math.IsNaN(got) || math.Abs(got-want) > share*math.Abs(want) {
		t.Errorf("%s: %.6g, not %.6g ± %.2g %%", what, got, want, 100*share)
	}
}

// white is a light of n bare packages in one string on a constant current; each gives lm lumens
// whatever it does, in a spectrum.
func white(t *testing.T, n int, lm float64, spectrum string, change func(*design.Light)) *design.Light {
	t.Helper()
	doc := `{"format":"photherm/light","version":10,"name":"x","brief":{},"conditions":{"ambientC":25},
	"parts":[{"id":"e","name":"e","emitter":{"forward":[{"currentA":0.1,"voltageV":2.9},{"currentA":1,"voltageV":3.1}],"fluxLm":100,"fluxCurrentA":1,"spectrum":{"whiteK":4000},"fluxAgainstTemp":[{"x":0,"ratio":1},{"x":150,"ratio":1}]}},
	{"id":"d","name":"d","driver":{"family":"linear","setCurrentA":1,"dropoutV":0.2}}],
	"variants":[{"id":"a","name":"a","bodies":[{"id":"plate","name":"Plate","shape":{"kind":"plate","lengthM":0.9144,"widthM":0.6096,"thicknessM":0.003}}],"feeds":[{"id":"f","name":"f","sources":[{"id":"s","supply":{"voltageV":200}}],
	"loads":[{"id":"dr","driver":{"partId":"d"},"loads":[{"id":"arr","bodyId":"plate","array":{"partId":"e","series":1,"parallel":1}}]}]}]}]}`
	var l design.Light
	if err := json.Unmarshal([]byte(doc), &l); err != nil {
		t.Fatal(err)
	}
	l.Parts[0].Emitter.FluxLm = &lm
	array(&l).Series = n
	if spectrum != "" {
		l.Parts[0].Emitter.Spectrum = new(design.Spectrum)
		if err := json.Unmarshal([]byte(spectrum), l.Parts[0].Emitter.Spectrum); err != nil {
			t.Fatal(err)
		}
	}
	if change != nil {
		change(&l)
	}
	data, err := json.Marshal(&l)
	if err != nil {
		t.Fatal(err)
	}
	out, err := design.Decode(data)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func leaf(l *design.Light) *design.Node   { return &l.Variants[0].Feeds[0].Loads[0].Loads[0] }
func array(l *design.Light) *design.Array { return leaf(l).Array }

func look(t *testing.T, l *design.Light, q target.Question) *target.View {
	t.Helper()
	if q.AtS == 0 {
		q.AtS = 30
	}
	if q.Against == 0 {
		q.Against = -1
	}
	v, err := target.Look(ctx, l, 0, q)
	if err != nil {
		t.Fatal(err)
	}
	if v.Fault != "" || v.Dark != "" {
		t.Fatalf("fault %q, dark %q", v.Fault, v.Dark)
	}
	return v
}

func area(l *design.Light, long, wide float64) {
	l.Brief.AreaM, l.Brief.AreaAcrM = &long, &wide
}

// Common practice, the arithmetic of it: about 110 W of light of 4.7 µmol/J, 88 % of which land,
// make about 820 µmol/m²/s over 2 × 3 ft and 610 over 2 × 4 ft; a fifth equal package makes about
// 765 there. How much lands is the map's answer.
func TestPackagesOverABench(t *testing.T) {
	const foot = 0.3048
	for _, c := range []struct {
		packages, long int
		want           float64
	}{{4, 3, 820}, {4, 4, 610}, {5, 4, 765}} {
		l := white(t, c.packages, 0, "", func(l *design.Light) {
			// 27.5 W of light from each.
			l.Parts[0].Emitter.FluxLm = new(27.5 * 320.0)
			area(l, float64(c.long)*foot, 2*foot)
			l.Brief.PPFD = new(500.0)
			l.Variants[0].Stands = []design.Stand{{BodyID: "plate", HeightM: 0.1}}
		})
		v := look(t, l, target.Question{Colour: true})
		perJ := v.Colour.All.PhotonsPerJ
		if perJ < 4.5 || perJ > 4.9 {
			t.Errorf("%.2f µmol/J of white", perJ)
		}
		lit := v.Lumens / v.Colour.All.LmPerRadiatedW * perJ // µmol/s
		m := v.Area
		near(t, "mean by what lands", *m.MeanPPFD, lit*m.Landing/(m.LengthM*m.WidthM), 1e-3)
		near(t, "and at 4.7 µmol/J with 88 % landing", *m.MeanPPFD*(4.7*27.5*float64(c.packages)/lit)*(0.88/m.Landing), c.want, 0.02)
		near(t, "what lands for each joule", v.Grow.LandPerJ, v.Grow.UmolPerJ*m.Landing, 1e-9)
	}
}

// Photons, lux and a day's light are of one light: 660 nm gives 5.517 µmol a joule (SI), DLI is
// hours · 0.0036.
func TestPhotonsOfRed(t *testing.T) {
	l := white(t, 1, 40, `{"peakNm":660,"widthNm":1}`, func(l *design.Light) {
		area(l, 1, 1)
		l.Brief.PPFD, l.Brief.HoursADay = new(10.0), new(16.0)
	})
	v := look(t, l, target.Question{Colour: true})
	m := v.Area
	perLumen := *m.MeanPPFD / *m.MeanLux
	near(t, "µmol for each lumen", perLumen, 5.517/v.Colour.All.LmPerRadiatedW, 2e-3)
	near(t, "all of it red", *m.Red, 1, 1e-6)
	near(t, "a day", *v.Grow.DLI, *m.MeanPPFD*16*0.0036, 1e-12)
}

// What is said to mend a target does: each is put into the light and looked at again.
func TestMends(t *testing.T) {
	for _, c := range []struct {
		wanted, lm float64
		kinds      string
	}{{3, 400, "hang,dim"}, {30, 400, "lights"}} {
		l := white(t, 4, c.lm, "", func(l *design.Light) {
			area(l, 0.9, 0.6)
			l.Brief.PPFD = &c.wanted
			l.Parts[1].Driver.Dimming = "analog"
		})
		v := look(t, l, target.Question{Ways: true})
		if v.Target.Met {
			t.Fatalf("wanted %g, got %g: met", c.wanted, v.Target.Got)
		}
		tried := map[string]bool{}
		for _, m := range v.Target.Mends {
			again, err := design.Clone(l)
			if err != nil {
				t.Fatal(err)
			}
			switch {
			case m.Stands != nil:
				again.Variants[0].Stands, tried["hang"] = m.Stands, true
			case m.Level != nil:
				again.Variants[0].Feeds[0].Loads[0].Driver.Dimming, tried["dim"] = &design.Level{Current: m.Level}, true
			case m.Lights != nil:
				tried["lights"] = true
				near(t, "got of more lights", *m.Got, v.Target.Got*float64(*m.Lights), 1e-9)
				continue
			default:
				continue
			}
			got := look(t, again, target.Question{}).Target
			near(t, m.Label, got.Got, *m.Got, 0.01)
			if !got.Met {
				t.Errorf("%s: %s", m.Label, got.Words)
			}
		}
		for _, kind := range strings.Split(c.kinds, ",") {
			if !tried[kind] {
				t.Errorf("wanted %g, got %g: no mend by %q: %+v", c.wanted, v.Target.Got, kind, v.Target.Mends)
			}
		}
	}
}

// A beam: peak and distance of a lens by its closed form, through what the cover lets through; its
// target; the lens that would throw far enough; two lights side by side.
func TestBeamOfALight(t *testing.T) {
	l := white(t, 3, 300, "", func(l *design.Light) {
		array(l).BeamDeg, array(l).OpticEfficient = new(12.0), new(0.9)
		leaf(l).Optic = &design.Optic{Transmits: new(0.95), Soiled: new(0.1), OpeningM: new(0.03)}
		l.Brief.BeamM = new(400.0)
		l.Variants = append(l.Variants, l.Variants[0])
		l.Variants[1].ID = "b"
	})
	l.Variants[1].Feeds[0].Loads[0].Loads[0].Array.Series = 3
	v := look(t, l, target.Question{Against: 1, Ways: true})
	near(t, "light after optic, cover and dirt", v.Lumens, 3*300*0.9*0.95*0.9, 1e-3)
	m := math.Log(0.5) / math.Log(math.Cos(6*math.Pi/180))
	near(t, "peak", v.Beam.PeakCd, v.Lumens*(m+1)/(2*math.Pi), 3e-3)
	near(t, "distance", v.Beam.DistanceM, 2*math.Sqrt(v.Beam.PeakCd), 1e-9)
	near(t, "width", v.Beam.WidthDeg, 12, 0.01)
	near(t, "measured from", v.Beam.MeasureM, 5*0.03/(2*math.Tan(6*math.Pi/180)), 0.01)
	for _, a := range v.Beam.Along {
		near(t, "inverse square", a.Lux, v.Beam.PeakCd/(a.M*a.M), 1e-9)
	}
	if v.Target == nil || v.Target.Met || len(v.Target.Mends) != 1 {
		t.Fatalf("target %+v", v.Target)
	}
	if v.Beam.Compare == nil || !strings.Contains(v.Beam.Compare.Words, "as much light") {
		t.Errorf("the same light twice: %+v", v.Beam.Compare)
	}
	// Level, from 1.2 m: half of its light goes above the ground; the outline at 0.25 lx reaches
	// as far as the beam.
	far := 0.0
	for _, p := range v.Beam.Reaches[0].Rim {
		far = max(far, p.X)
	}
	near(t, "outline at 0.25 lx", far, v.Beam.DistanceM, 0.01)
}

// Where nothing is known, or stands wrong, a sentence says so, and no figure is shown.
func TestNoPicture(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*design.Light)
		says   string
	}{
		"below": {func(l *design.Light) { l.Variants[0].Stands = []design.Stand{{BodyID: "plate", HeightM: -0.2}} }, "below the lit plane"},
		"at it": {func(l *design.Light) { l.Variants[0].Stands = []design.Stand{{BodyID: "plate", HeightM: 0}} }, "below the lit plane"},
		"up": {func(l *design.Light) {
			l.Variants[0].Stands = []design.Stand{{BodyID: "plate", HeightM: 1, TiltDeg: 180}}
		}, "straight up"},
		"in water": {func(l *design.Light) {
			l.Scene = &design.Scene{Tank: &design.Tank{LengthM: 1, WidthM: 1, DepthM: 0.3}}
			l.Variants[0].Stands = []design.Stand{{BodyID: "plate", HeightM: -0.1}}
		}, "surface of the water"},
		"no tank": {func(l *design.Light) { l.Scene = &design.Scene{Kind: "tank"} }, "no measures yet"},
		"ceiling": {func(l *design.Light) {
			l.Scene = &design.Scene{Room: &design.Room{HeightM: 0.3}}
			l.Variants[0].Stands = []design.Stand{{BodyID: "plate", HeightM: 0.5}}
		}, "outside of the room"},
	} {
		l := white(t, 1, 100, "", func(l *design.Light) { area(l, 1, 1); l.Brief.Lux = new(100.0); c.change(l) })
		v, err := target.Look(ctx, l, 0, target.Question{AtS: 30, Against: -1})
		if err != nil {
			t.Fatal(err)
		}
		if !strings.Contains(v.Fault, c.says) || v.Area != nil || v.Tank != nil {
			t.Errorf("%s: %q", name, v.Fault)
		}
	}
	// Too many points: ninety-nine boards at two hundred places are more than are followed.
	l := white(t, 2, 100, "", func(l *design.Light) {
		array(l).Series, array(l).Parallel, array(l).Count = 1, 1, 400
		for range 60 {
			l.Variants[0].Stands = append(l.Variants[0].Stands, design.Stand{BodyID: "plate", HeightM: 1})
		}
	})
	if v, err := target.Look(ctx, l, 0, target.Question{AtS: 30, Against: -1}); err != nil || !strings.Contains(v.Fault, "points") {
		t.Errorf("24 000 points: %v", err)
	}
	// No spectrum: lux can be told, photons not.
	l = white(t, 1, 100, "", func(l *design.Light) { area(l, 1, 1); l.Parts[0].Emitter.Spectrum = nil; l.Brief.PPFD = new(5.0) })
	if v := look(t, l, target.Question{}); v.Unknown == "" || v.Area.MeanPPFD != nil || v.Area.Unit != "lx" || v.Target != nil {
		t.Errorf("without a spectrum: %+v", v)
	}
}

// Bodies turned and leant: a light aimed at the middle from anywhere throws the same there as from
// straight above at the same distance, but for the cosine; moving and building anew agree.
func TestPlacing(t *testing.T) {
	at := func(s design.Stand) *target.View {
		return look(t, white(t, 1, 1000, "", func(l *design.Light) {
			area(l, 0.02, 0.02)
			l.Brief.Lux = new(1.0)
			array(l).BeamDeg = new(30.0)
			l.Variants[0].Stands = []design.Stand{s}
		}), target.Question{})
	}
	straight := at(design.Stand{BodyID: "plate", HeightM: 2}).Area.Mean
	for _, turn := range []float64{0, 90, 200} {
		tilt := 40.0
		sin, cos := math.Sincos(tilt * math.Pi / 180)
		ts, tc := math.Sincos(turn * math.Pi / 180)
		leant := at(design.Stand{BodyID: "plate", XM: -2 * sin * tc, YM: -2 * sin * ts, HeightM: 2 * cos, TiltDeg: tilt, TurnDeg: turn}).Area.Mean
		near(t, "leant", leant, straight*cos, 1e-3)
	}
	// Two stands are two lights.
	two := look(t, white(t, 1, 1000, "", func(l *design.Light) {
		area(l, 0.02, 0.02)
		l.Brief.Lux = new(1.0)
		l.Variants[0].Stands = []design.Stand{{BodyID: "plate", HeightM: 2}, {BodyID: "plate", HeightM: 2}}
		array(l).BeamDeg = new(30.0)
	}), target.Question{})
	near(t, "two lights", two.Area.Mean, 2*straight, 1e-9)
}

// Dots on a diffuser: the ripple of a long row against the same sum written out over a thousand
// emitters, and common practice: at about the distance from one to the next dots are gone.
func TestRipple(t *testing.T) {
	near(t, "hidden at", target.HideAt(0.0167)/0.0167, 0.75, 0.25)
	if a, b := target.Ripple(0.02, 0.02), target.Ripple(0.02, 0.01); !(a < 0.1 && b > 0.3) {
		t.Errorf("ripple %g at the pitch, %g at half of it", a, b)
	}
	if target.Ripple(0, 1) != 0 || target.Ripple(0.1, 0) != 0 {
		t.Error("a ripple of nothing")
	}
}

// Every demo light has a picture of its own kind, no figure in it is none, and its target is told.
func TestDemoLights(t *testing.T) {
	for file, kind := range map[string]string{"shore-search-handlamp": "beam", "slipway-lantern": "around", "germination-rack": "area", "chart-table-strip": "strip", "eelgrass-tank": "tank"} {
		data, err := os.ReadFile(filepath.Join("..", "..", "examples", file+".json"))
		if err != nil {
			t.Fatal(err)
		}
		l, err := design.Decode(data)
		if err != nil {
			t.Fatal(err)
		}
		v := look(t, l, target.Question{AtS: 30, Ways: true, Colour: true})
		if v.Kind != kind {
			t.Errorf("%s is looked at as %s", file, v.Kind)
		}
		if _, err := json.Marshal(v); err != nil {
			t.Errorf("%s: %v", file, err)
		}
		if v.Target == nil || !v.Target.Met {
			t.Errorf("%s: target %+v", file, v.Target)
		}
		t.Logf("%s: %.0f lm, target %+v, %v", file, v.Lumens, v.Target, v.Taken)
	}
}
