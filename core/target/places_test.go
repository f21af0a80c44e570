package target_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/internal/sample"
	"photherm/core/lighting"
	"photherm/core/target"
)

func demo(t *testing.T, name string) *design.Light {
	t.Helper()
	l, err := sample.Example(name + ".json")
	if err != nil {
		t.Fatal(err)
	}
	return l
}

// extent is how far lights reach along an axis, and how many places there are on it.
func extent(list []target.LightAt, of func(target.LightAt) float64) (low, high float64, places int) {
	var at []float64
	for _, l := range list {
		at = append(at, math.Round(1e6*of(l))/1e6)
	}
	slices.Sort(at)
	low, high = at[0], at[len(at)-1]
	return low, high, len(slices.Compact(at))
}

func x(l target.LightAt) float64 { return l.X }
func y(l target.LightAt) float64 { return l.Y }

// Where light leaves: boards of known size from points over all of them; boards without places
// spread over their face; where an optic says it sits; strip along a line. All of it is told.
func TestWhereLightLeaves(t *testing.T) {
	rack := look(t, demo(t, "germination-rack"), target.Question{})
	// Boards of 0.48 × 0.14 m about ±0.26 and ±0.1 m: twelve… eight points along, three or four across.
	low, high, n := extent(rack.Lights, x)
	near(t, "boards along", high-low, 0.52+0.48*7/8, 1e-3)
	near(t, "about the middle", high+low+1, 1, 1e-6)
	if n != 16 {
		t.Errorf("%d places along", n)
	}
	low, high, n = extent(rack.Lights, y)
	near(t, "boards across", high-low, 0.2+0.14*3/4, 1e-3)
	if n != 8 {
		t.Errorf("%d places across", n)
	}
	sum := 0.0
	for _, l := range rack.Lights {
		sum += l.Lm
		if l.Z != 0.3 || math.Abs(l.AxisZ+1) > 1e-9 {
			t.Fatalf("%+v", l)
		}
	}
	near(t, "all the light", sum, rack.Lumens, 1e-9)

	spread := look(t, white(t, 12, 100, "", func(l *design.Light) {
		area(l, 1, 1)
		l.Variants[0].Stands = []design.Stand{{BodyID: "plate", HeightM: 0.5, TurnDeg: 90}}
	}), target.Question{})
	// Twelve over 0.9144 × 0.6096 m: four along, three across; turned a quarter, along is across.
	if low, high, n := extent(spread.Lights, y); n != 4 || math.Abs(high-low-0.75*0.9144) > 1e-4 {
		t.Errorf("spread along %g, %d places", high-low, n)
	}
	if low, high, n := extent(spread.Lights, x); n != 3 || math.Abs(high-low-0.6096*2/3) > 1e-4 {
		t.Errorf("spread across %g, %d places", high-low, n)
	}

	said := look(t, white(t, 1, 100, "", func(l *design.Light) {
		area(l, 1, 1)
		leaf(l).Optic = &design.Optic{TiltDeg: 90, TurnDeg: 90, AlongM: new(0.1), AcrossM: new(-0.2), ForwardM: new(0.05)}
		l.Variants[0].Stands = []design.Stand{{BodyID: "plate", XM: 1, YM: 2, HeightM: 0.5}}
	}), target.Question{}).Lights[0]
	if math.Abs(said.X-1.1)+math.Abs(said.Y-1.8)+math.Abs(said.Z-0.45) > 1e-9 || math.Abs(said.AxisY-1) > 1e-9 {
		t.Errorf("it sits at %+v", said)
	}

	strip := look(t, demo(t, "chart-table-strip"), target.Question{})
	low, high, _ = extent(strip.Lights, x)
	near(t, "strip along", high-low, 2.356-0.0714, 0.01)
	near(t, "about the middle", high+low+1, 1, 1e-3)
	lit := strip.Strip
	near(t, "lumens a metre", lit.LmPerM, strip.Lumens/lit.LengthM, 1e-9)
	near(t, "watts a metre", lit.WPerM, 25.89/lit.LengthM, 0.01)
	if along := lit.Along; along[0].Deg > -1.15 || along[len(along)-1].Deg < 1.15 || math.Abs(along[len(along)/2].Deg) > 0.03 || along[len(along)/2].Cd <= along[0].Cd {
		t.Errorf("along it from %+v to %+v", along[0], along[len(along)-1])
	}
	near(t, "pitch as the part has it", lit.PitchM, 0.0119, 1e-9)
	near(t, "pitch of places", look(t, white(t, 12, 100, "", func(l *design.Light) {
		area(l, 1, 1)
		l.Scene = &design.Scene{Kind: "strip"}
	}), target.Question{}).Strip.PitchM, 0.6096/3, 1e-6)
}

// A beam over ground: from its height, level, every point of the ground gets what the lens law
// and the inverse square say. The lens that is offered is the widest that does.
func TestBeamOverGround(t *testing.T) {
	l := white(t, 1, 1000, "", func(l *design.Light) {
		array(l).BeamDeg = new(20.0)
		l.Brief.PeakCd = new(20000.0)
		l.Variants[0].Stands = []design.Stand{{BodyID: "plate", HeightM: 2, TiltDeg: 80, TurnDeg: 30}}
	})
	v := look(t, l, target.Question{Ways: true, AtM: 25, TiltDeg: 60})
	b := v.Beam
	near(t, "tilted by 60° at 25 m", b.At.Lux, b.PeakCd/625/2, 1e-9)
	near(t, "tilt", b.TiltDeg, 80, 1e-3)
	near(t, "height", b.HeightM, 2, 1e-9)
	// Above the peak is up: there, and in the outline, by the lens's law.
	m := math.Log(0.5) / math.Log(math.Cos(10*math.Pi/180))
	for i, a := range b.Around {
		if math.Abs(a.Deg) > 30 || i%7 != 0 {
			continue
		}
		if want := b.PeakCd * math.Pow(math.Cos(a.Deg*math.Pi/180), m); math.Abs(a.Cd-want) > 0.01*b.PeakCd {
			t.Errorf("%g cd at %g°, not %g", a.Cd, a.Deg, want)
		}
		at, r := b.Reaches[1].Rim[i], math.Sqrt(a.Cd)
		if up := r * math.Sin((a.Deg-10)*math.Pi/180); math.Abs(at.Z-up) > 0.02*r+0.1 {
			t.Errorf("%g° above the peak the outline is %g m up, not %g", a.Deg, at.Z, up)
		}
	}
	m = math.Log(0.5) / math.Log(math.Cos(10*math.Pi/180))
	// Distances are told as far as the beam comes, and half as far again; ten metres at least.
	if first, last := b.Along[0].M, b.Along[len(b.Along)-1].M; first != 1 || last > 1.5*b.DistanceM || 2.5*last < 1.5*b.DistanceM {
		t.Errorf("from %g to %g m, of a beam of %g m", first, last, b.DistanceM)
	}
	weak := look(t, white(t, 1, 0.5, "", func(l *design.Light) { l.Scene = &design.Scene{Kind: "beam"} }), target.Question{}).Beam
	if last := weak.Along[len(weak.Along)-1].M; last != 10 || weak.DistanceM > 2 {
		t.Errorf("to %g m, of a beam of %g m", last, weak.DistanceM)
	}
	for _, g := range b.Ground[5:20] {
		r2 := g.M*g.M + 4
		off := math.Atan2(2, g.M) - 10*math.Pi/180
		want := b.PeakCd * math.Pow(math.Cos(off), m) * 2 / (r2 * math.Sqrt(r2))
		if math.Abs(g.Lux-want) > 0.02*want+1e-4*b.PeakCd/r2 {
			t.Errorf("%g m off: %g lx, not %g", g.M, g.Lux, want)
		}
	}
	// 20 000 cd of 1000 lm: 12° give 29 000, 20° give 10 500.
	if len(v.Target.Mends) != 1 || v.Target.Mends[0].Label != "a lens of 12° at the same light" {
		t.Errorf("%+v", v.Target.Mends)
	}
	for _, o := range b.Optics {
		if o.Kind == "lens" && o.Deg == 20 && math.Abs(o.PeakCd/b.PeakCd-1) > 1e-6 {
			t.Errorf("its own lens gives %g cd, not %g", o.PeakCd, b.PeakCd)
		}
	}
}

// A bare lamp that hangs over ground: Φ/π·h²/(h²+r²)². How far it has a lux, what eyes get, and
// what it gives hung otherwise follow from that.
func TestRoundALantern(t *testing.T) {
	at := func(h float64) *target.View {
		return look(t, white(t, 1, 500, "", func(l *design.Light) {
			l.Scene = &design.Scene{Kind: "around", Surround: 6, EyeM: new(1.0)}
			l.Variants[0].Stands = []design.Stand{{BodyID: "plate", HeightM: h}}
		}), target.Question{Ways: true})
	}
	v := at(3)
	r := math.Sqrt(math.Sqrt(500/math.Pi*9) - 9)
	near(t, "a lux reaches", v.Around.ReadM, r, 1e-3)
	for _, e := range v.Around.Eyes {
		down := 3 - 1.0
		d2 := e.M*e.M + down*down
		near(t, "in the eyes", e.Lux, 500/math.Pi*down/math.Sqrt(d2)/d2, 2e-3)
		near(t, "on the ground", e.Ground, 500/math.Pi*9/math.Pow(9+e.M*e.M, 2), 2e-3)
	}
	for _, w := range v.Around.Ways {
		if w.Name == "hung at head height" {
			there := at(2)
			near(t, "hung so, on average", w.Mean, there.Around.Map.Mean, 1e-6)
			near(t, "and a lux", w.WalkM, there.Around.ReadM, 1e-6)
			if w.All[0].HeightM != 2 {
				t.Errorf("%+v", w.All)
			}
		}
	}
	if d := look(t, demo(t, "slipway-lantern"), target.Question{}).Around.Dots; d.Ripple != 0 || math.Abs(d.PitchM-0.03*math.Sqrt2) > 1e-4 {
		t.Errorf("dots %+v", d)
	}
	if len(v.Around.Ways) != 5 {
		t.Errorf("%d ways", len(v.Around.Ways))
	}
}

// Lines of a map are round figures between its least and its most; walls tell how far they may be
// off; photons and lumens of one spectrum go together.
func TestMapsTell(t *testing.T) {
	m := look(t, demo(t, "germination-rack"), target.Question{}).Area
	if len(m.Levels) < 3 || m.Levels[0] < m.Min || m.Levels[len(m.Levels)-1] > m.Max || !slices.IsSorted(m.Levels) {
		t.Errorf("levels %v between %g and %g", m.Levels, m.Min, m.Max)
	}
	for _, x := range m.Levels {
		if math.Abs(x/50-math.Round(x/50)) > 1e-9 {
			t.Errorf("a level of %g", x)
		}
	}
	if !m.Walls || !(m.Within > 0 && m.Within < 0.02) || m.Ends == nil {
		t.Errorf("walls: within %g, %+v", m.Within, m.Ends)
	}
	wide := look(t, white(t, 1, 1e5, "", func(l *design.Light) {
		area(l, 20, 20)
		l.Brief.Lux = new(10.0)
	}), target.Question{}).Area
	for _, x := range wide.Levels {
		if k := x / math.Pow(10, math.Floor(math.Log10(x)+1e-9)); math.Abs(k-1)*math.Abs(k-2)*math.Abs(k-5) > 1e-6 || x < wide.Max/1000 || x > wide.Max {
			t.Errorf("a level of %g up to %g", x, wide.Max)
		}
	}
	if len(wide.Levels) < 6 {
		t.Errorf("levels %v of a map from %g to %g", wide.Levels, wide.Min, wide.Max)
	}
}

// The energy of a day that the answers tell is that its day is drawn from, ramped or not, and it is so
// of a light of which nothing is wanted; of one that cannot be dimmed the ramp changes nothing.
func TestEnergyOfADay(t *testing.T) {
	of := func(l *design.Light) float64 {
		m, err := chain.Compile(l, chain.Options{})
		if err != nil {
			t.Fatal(err)
		}
		run, err := m.Solver().Run(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		wh, err := target.EnergyPerDayWh(t.Context(), run)
		if err != nil {
			t.Fatal(err)
		}
		return wh
	}
	l := demo(t, "eelgrass-tank")
	ramped := of(l)
	near(t, "ramped", ramped, 1000*look(t, l, target.Question{}).Grow.DayKWh, 1e-6)
	l.Brief.PPFD, l.Scene.Crop, l.Scene.Tank, l.Scene.Kind = nil, "", nil, ""
	near(t, "nothing wanted", of(l), ramped, 1e-9)
	l.Scene.RampH = new(2.0)
	if longer := of(l); longer >= ramped {
		t.Errorf("a longer sunrise takes %g Wh of %g", longer, ramped)
	}
	l.Scene.RampH = nil
	flat := of(l)
	if flat <= ramped {
		t.Errorf("without a sunrise %g Wh, with one %g", flat, ramped)
	}
	l.Scene.RampH = new(1.0)
	for n := range design.Nodes(&l.Variants[0]) {
		if n.Driver != nil {
			l.Part(n.Driver.PartID).Driver.DimFloor = new(1.0)
		}
	}
	near(t, "not to be dimmed", of(l), flat, 1e-9)
}

// The day of a tank: energy is power over time, turned down as the drivers take it; the ramp takes
// light from the day. A month has 30.4; two lights take twice as much.
func TestDay(t *testing.T) {
	flat := demo(t, "eelgrass-tank")
	flat.Scene.RampH = nil
	f := look(t, flat, target.Question{}).Grow
	ramped := look(t, demo(t, "eelgrass-tank"), target.Question{})
	g := ramped.Grow
	full := 0.0
	for _, d := range f.Day {
		full = max(full, d.W)
	}
	near(t, "a month", f.MonthKWh, full*12*30.4/1000, 1e-9)
	two := demo(t, "eelgrass-tank")
	two.Scene.RampH = nil
	body := two.Variants[0].Bodies[0].ID
	two.Variants[0].Stands = []design.Stand{{BodyID: body, XM: -0.2, HeightM: 0.6}, {BodyID: body, XM: 0.2, HeightM: 0.6}}
	near(t, "a month of two", look(t, two, target.Question{}).Grow.MonthKWh, 2*f.MonthKWh, 1e-9)
	near(t, "a flat day", f.DayKWh, full*12/1000, 1e-6)
	near(t, "a month ramped", g.MonthKWh, 30.4*g.DayKWh, 1e-9)
	near(t, "the ramp's light", *g.DLI, *f.DLI*11/12, 1e-6)
	if share := g.DayKWh / f.DayKWh; share > 0.925 || share < 0.88 { // a little less than the light: turned down they give more for it
		t.Errorf("ramped it takes %g", share)
	}
	for i, d := range g.Day {
		if d.Level < 0 || d.Level > 1 || i > 0 && d.H < g.Day[i-1].H || math.Abs(d.PPFD-d.Level**ramped.Tank.Bottom.MeanPPFD) > 1e-9 {
			t.Errorf("%+v", d)
		}
		if d.Level == 0.5 && (d.W < 0.38*full || d.W > 0.5*full) {
			t.Errorf("half of the light takes %g of %g W", d.W, full)
		}
	}
	if n := len(g.Acclimation); n != 5 || g.Acclimation[0].Level != 0.5 || g.Acclimation[2].Level != 0.75 || g.Acclimation[4].Level != 1 {
		t.Errorf("%+v", g.Acclimation)
	}
	near(t, "hours for the least", g.Hours.Low, 5/0.0036 / *ramped.Tank.Bottom.MeanPPFD, 1e-9)
	// Too bright, with a day that is too long: fewer hours are offered, and too dark more.
	long := demo(t, "germination-rack")
	long.Brief.PPFD, long.Brief.HoursADay = nil, new(20.0)
	offered := func(l *design.Light) (hours float64) {
		for _, m := range look(t, l, target.Question{Ways: true}).Target.Mends {
			if m.Hours != nil {
				hours = *m.Hours
			}
		}
		return hours
	}
	if h := offered(long); h < 10 || h > 12 {
		t.Errorf("%g h offered for too bright a day", h)
	}
	long.Scene.Crop, long.Brief.HoursADay = "fruiting", new(8.0)
	if h := offered(long); h < 17 || h > 20 {
		t.Errorf("%g h offered for too dark a day", h)
	}
	long.Brief.HoursADay = new(19.5)
	if h := offered(long); h != 0 {
		t.Errorf("%g h offered for a day that is long enough", h)
	}
}

// The light as a table, taken as the optic of another: the same peak, the same map. Two sides that
// look apart are told all round.
func TestLightAsTable(t *testing.T) {
	solve := func(l *design.Light) *target.Lit {
		lit, err := target.Solve(ctx, l, 0, target.ReferenceS)
		if err != nil {
			t.Fatal(err)
		}
		return lit
	}
	lens := white(t, 1, 800, "", func(l *design.Light) {
		array(l).BeamDeg = new(25.0)
		l.Variants[0].Stands = []design.Stand{{BodyID: "plate", HeightM: 1.5, TiltDeg: 60, TurnDeg: 20}}
	})
	table := solve(lens).Table()
	if len(table.HorizontalDeg) != 1 || table.VerticalDeg[0] != 0 {
		t.Fatalf("%v", table.HorizontalDeg)
	}
	again := white(t, 1, 800, "", func(l *design.Light) {
		leaf(l).Optic = &design.Optic{Kind: "table", Table: table}
		l.Scene = &design.Scene{Kind: "beam"}
	})
	a, b := look(t, lens, target.Question{}).Beam, look(t, again, target.Question{}).Beam
	near(t, "the same peak", b.PeakCd, a.PeakCd, 0.01)
	near(t, "the same width", b.WidthDeg, a.WidthDeg, 0.01)

	sides := demo(t, "slipway-lantern")
	lit := solve(sides)
	table = lit.Table()
	d, err := lighting.OfTable(table)
	if err != nil {
		t.Fatal(err)
	}
	// Light of the table over the sphere is the light there is.
	flux := 0.0
	for i := range table.VerticalDeg[1:] {
		v0, v1 := table.VerticalDeg[i]*math.Pi/180, table.VerticalDeg[i+1]*math.Pi/180
		for k := range table.HorizontalDeg[1:] {
			mean := (table.Candela[k][i] + table.Candela[k][i+1] + table.Candela[k+1][i] + table.Candela[k+1][i+1]) / 4
			flux += mean * (math.Cos(v0) - math.Cos(v1)) * (table.HorizontalDeg[k+1] - table.HorizontalDeg[k]) * math.Pi / 180
		}
	}
	near(t, "light of the table", flux, lit.Lumens(), 0.02)
	if len(table.HorizontalDeg) < 9 || d.Peak() <= 0 {
		t.Errorf("%v", table.HorizontalDeg)
	}
}

// Channels of a spectrum add up to all of it, and its highest is one.
func TestColourOfChannels(t *testing.T) {
	c := look(t, demo(t, "eelgrass-tank"), target.Question{Colour: true, Kelvin: 6500, Share: 0.4}).Colour
	top := 0.0
	for i, p := range c.Power {
		sum := 0.0
		for _, ch := range c.Channels {
			sum += ch.Power[i]
		}
		if math.Abs(sum-p) > 2e-3 {
			t.Errorf("%g nm: %g of %g", c.Nm[i], sum, p)
		}
		top = max(top, p)
	}
	near(t, "its highest", top, 1, 0.02)
	if len(c.Levels.Level) != 2 || c.Levels.Words == "" {
		t.Errorf("%+v", c.Levels)
	}
	got := 0.0
	for i, ch := range c.Channels {
		got += c.Levels.Level[i] * ch.UmolS
	}
	near(t, "photons at those levels", got, 0.4*(c.Channels[0].UmolS+c.Channels[1].UmolS)*(1+c.Levels.Off), 1e-6)
}

// A reflector of which only its kind is said: its spot takes the usual share, and the rest is spill.
func TestUsualReflector(t *testing.T) {
	l := white(t, 1, 1000, "", func(l *design.Light) {
		leaf(l).Optic = &design.Optic{Kind: "textured-reflector"}
		l.Variants[0].Stands = []design.Stand{{BodyID: "plate", HeightM: 1}}
	})
	b := look(t, l, target.Question{}).Beam
	m := math.Log(0.5) / math.Log(math.Cos(5*math.Pi/180))
	near(t, "peak", b.PeakCd, 400*(m+1)/(2*math.Pi)+600/math.Pi/math.Pow(math.Sin(50*math.Pi/180), 2), 0.02)
	near(t, "width", b.WidthDeg, 10, 0.05)
}

// Where nobody said what is to be lit, it is the face of what is large from there; below a small
// light as far to each side as it hangs high, within which half of a spread light falls.
func TestAreaThatNobodySaid(t *testing.T) {
	wide := func(heightM float64) *target.View {
		l := demo(t, "boathouse-floodlight")
		l.Variants[0].Stands = []design.Stand{{BodyID: l.Variants[0].Bodies[0].ID, HeightM: heightM}}
		return look(t, l, target.Question{})
	}
	for _, high := range []float64{0.5, 3} {
		v := wide(high)
		m := v.Area
		if told := fmt.Sprintf("the area is %g × %g m", 2*high, 2*high); !slices.Contains(v.Taken, told) {
			t.Errorf("it is not told that %s: %q", told, v.Taken)
		}
		near(t, "long", m.LengthM, 2*high, 1e-9)
		near(t, "across", m.WidthM, 2*high, 1e-9)
		if lands := m.Landing; lands < 0.5 || lands > 0.62 { // a circle of that radius in the square: 0.5
			t.Errorf("%g m: %g land", high, lands)
		}
	}
	if m := wide(0.05).Area; m.LengthM > 0.3 || m.WidthM != 0.4 {
		t.Errorf("from near the face: %g × %g m", m.LengthM, m.WidthM)
	}
}

// An area of no size is told as such, and nothing else is lit in its place; a tank has its own.
func TestAreaOfNoSize(t *testing.T) {
	for name, told := range map[string]bool{"germination-rack": true, "chart-table-strip": true, "eelgrass-tank": false, "shore-search-handlamp": false} {
		for _, change := range []func(b *design.Brief){func(b *design.Brief) { b.AreaM = new(0.0) }, func(b *design.Brief) { b.AreaAcrM = new(0.0) }} {
			l := demo(t, name)
			change(&l.Brief)
			v, err := target.Look(t.Context(), l, 0, target.Question{})
			if err != nil {
				t.Fatal(err)
			}
			if got := strings.Contains(v.Fault, "has no size"); got != told || told && v.Area != nil && len(v.Area.Values) > 0 {
				t.Errorf("%s: %q", name, v.Fault)
			}
		}
	}
}
