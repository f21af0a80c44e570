package core_test

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"hash/crc32"
	"maps"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"

	"photherm/core/begin"
	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/emitter"
	"photherm/core/internal/sample"
	"photherm/core/photometry"
	"photherm/core/search"
	"photherm/core/setup"
	"photherm/core/verdict"
	"photherm/examples"
)

var update = flag.Bool("update", false, "write testdata/unchanged.txt anew")

// What the model answers about many lights does not change unseen. The figures in
// testdata are the program's own: whether they are right is for the tests beside the
// laws, against published sources; this one sees to it that a slip of the pen in a corner
// they do not look into shows. A change that is meant is written down with
// go test ./core -update, and its diff is read: a line is a light and what was changed in
// it, or a part, with figures behind it.
func TestNothingChangesUnseen(t *testing.T) {
	got := slices.Concat(ofLights(t), ofChanges(t), ofRandom(t), ofParts(t), ofSpectra(), ofBegun(t))
	const file = "testdata/unchanged.txt"
	if *update {
		if err := os.WriteFile(file, []byte(strings.Join(got, "\n")+"\n"), 0o644); err != nil {
			t.Fatal(err)
		}
		return
	}
	data, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	want := strings.Split(strings.TrimSuffix(string(data), "\n"), "\n")
	if len(got) != len(want) {
		t.Errorf("%d lines, %d before", len(got), len(want))
	}
	told := 0
	for i := range min(len(got), len(want)) {
		if alike(got[i], want[i]) {
			continue
		}
		if told++; told <= 10 {
			t.Errorf("was  %s\nis   %s", want[i], got[i])
		}
	}
	if told > 10 {
		t.Errorf("and %d lines more", told-10)
	}
}

// closeShare is how near figures are alike: rounding differs between processors, and an
// event is found to a tolerance.
const closeShare = 3e-4

func alike(a, b string) bool {
	if a == b {
		return true
	}
	x, y := strings.Fields(a), strings.Fields(b)
	return slices.EqualFunc(x, y, func(p, q string) bool {
		v, notP := strconv.ParseFloat(p, 64)
		w, notQ := strconv.ParseFloat(q, 64)
		if notP != nil || notQ != nil {
			return p == q
		}
		return math.Abs(v-w) <= closeShare*max(math.Abs(v), math.Abs(w))+1e-7
	})
}

var ctx = context.Background()

func lights(t *testing.T) map[string]*design.Light {
	t.Helper()
	found := map[string]*design.Light{}
	for _, name := range []string{"chart-table-strip", "germination-rack", "pier-lantern", "shore-search-handlamp", "slipway-lantern"} {
		light, err := sample.Example(name + ".json")
		if err != nil {
			t.Fatal(err)
		}
		found[name] = light
	}
	for _, name := range []string{"below-cutoff", "cold-body", "fading-primary", "half-light", "long-strip", "nested-input", "rack-8x5", "shorted-string", "slow-switches"} {
		light, err := sample.Case(name)
		if err != nil {
			t.Fatal(err)
		}
		found[name] = light
	}
	return found
}

// digest is one figure for many, so that each counts by its own size: a hundredth more in
// any of them is seen. Words are summed up beside it.
func digest(v any) string {
	data, err := json.Marshal(v)
	if err != nil {
		return "none: " + err.Error()
	}
	var tree any
	if err := json.Unmarshal(data, &tree); err != nil {
		return err.Error()
	}
	sum, n := 0.0, 0
	words := crc32.NewIEEE()
	var walk func(v any)
	walk = func(v any) {
		switch v := v.(type) {
		case float64:
			n++
			sum += (1 + 0.1*float64(n%7)) * math.Asinh(1e4*v)
		case string:
			fmt.Fprintln(words, v)
		case bool, nil:
			fmt.Fprintln(words, v)
		case []any:
			for _, x := range v {
				walk(x)
			}
		case map[string]any:
			for _, key := range slices.Sorted(maps.Keys(v)) {
				walk(v[key])
			}
		}
	}
	walk(tree)
	return fmt.Sprintf("%d %.6g w%08x", n, sum, words.Sum32())
}

// solved tells in a few figures what becomes of a light.
func solved(light *design.Light, variant int) (*chain.Run, string) {
	m, err := chain.Compile(light, chain.Options{Variant: variant})
	if err != nil {
		return nil, "refused"
	}
	run, err := m.Solver().Run(ctx)
	if err != nil {
		return nil, "unsolved"
	}
	a := run.Answers()
	num := func(x *float64) string {
		if x == nil {
			return "-"
		}
		return fmt.Sprintf("%.6g", *x)
	}
	var events []string
	for _, e := range run.Events {
		events = append(events, e.Kind)
	}
	steady := "unsettled"
	if s, err := m.Solver().Steady(ctx); err == nil && s.Converged {
		sum := 0.0
		for i, x := range s.Record {
			if !math.IsNaN(x) && !math.IsInf(x, 0) {
				sum += (1 + 0.1*float64(i%7)) * math.Asinh(x)
			}
		}
		steady = fmt.Sprintf("%.6g", sum)
	}
	mean := 0.0
	for i, x := range run.At(0.37 * run.T[len(run.T)-1]) {
		if !math.IsNaN(x) && !math.IsInf(x, 0) {
			mean += (1 + 0.1*float64(i%7)) * math.Asinh(x)
		}
	}
	findings, err := verdict.Judge(ctx, run)
	if err != nil {
		return run, "unjudged"
	}
	var codes []string
	for _, f := range findings {
		code := f.Code
		if f.Fix != nil {
			code += "+"
		}
		codes = append(codes, code+"@"+f.Node)
	}
	return run, fmt.Sprintf("%.6g W %s lm %s %s C end %s half %s tenth %s at 37 %% %.6g rest %s events %s findings %s why %s", a.InputW, num(a.FluxLm), num(a.JunctionC), num(a.TouchC), num(a.EndS), num(a.HalfS), num(a.TenthS), mean, steady, strings.Join(events, ","), strings.Join(codes, ","), digest(findings))
}

// ofLights are demo lights and hard cases, column by column, with everything that is asked
// of them beside.
func ofLights(t *testing.T) (lines []string) {
	say := func(format string, args ...any) { lines = append(lines, fmt.Sprintf(format, args...)) }
	all := lights(t)
	cabinet := parts(t)
	for _, name := range slices.Sorted(maps.Keys(all)) {
		light := all[name]
		for v := range light.Variants {
			run, line := solved(light, v)
			say("%s/%d %s", name, v, line)
			if run == nil {
				continue
			}
			end := run.T[len(run.T)-1]
			at := [][]float64{run.At(0), run.At(30), run.At(0.4 * end), run.At(end)}
			for i, c := range run.Model.Columns() {
				say("%s/%d %s.%s %.6g %.6g %.6g %.6g", name, v, c.Owner, c.Figure, at[0][i], at[1][i], at[2][i], at[3][i])
			}
			say("%s/%d ledger %s missing %s trace %s inputs %s needs %s", name, v, digest(run.Ledger), digest(run.Model.Missing()), digest(run.Trace()), digest(verdict.Inputs(run.Model)), digest(design.Needs(&light.Variants[v])))
			sharing, err := run.Model.Solver().Sharing(ctx)
			say("%s/%d sharing %s %v", name, v, digest(sharing), err)
			knobs, err := run.Model.Network().Solver().KnobTravel(ctx, run.Model.StartC())
			say("%s/%d knobs %s %v", name, v, digest(knobs), err)
			for _, n := range nodes(&light.Variants[v]) {
				ask := func(what string, answer any, err error) {
					if err != nil {
						answer = err.Error()
					}
					say("%s/%d %s %s %s", name, v, n.ID, what, digest(answer))
				}
				if len(nodes(&light.Variants[v])) > 40 {
					break
				}
				switch {
				case n.Driver != nil:
					plane, err := run.Model.Solver().Plane(ctx, n.ID)
					ask("plane", plane, err)
					plan, err := setup.For(ctx, light, setup.Question{Variant: v, Node: n.ID, Series: "E24", Drawer: []float64{0.1, 0.22, 1, 2.2, 4.7}, ClockHz: 16e6, ShutterS: 1.0 / 60})
					ask("setup", plan, err)
					question, err := search.NewQuestion(light, v, n.ID)
					if err != nil {
						ask("matching", nil, err)
						break
					}
					matches, err := question.Drivers(ctx, cabinet.drivers)
					ask("drivers", matches, err)
					all, err := search.MatchDrivers(ctx, light, v, n.ID, true, cabinet.onHand)
					ask("drivers with any cell", all, err)
					for i := range matches {
						ask("why", []any{matches[i].Why(), matches[i].OutA, matches[i].LossW, matches[i].FluxLm}, nil)
					}
					if part, use := question.InPlace(); part != nil && len(n.Loads) > 0 {
						arrays, err := question.Arrays(ctx, part, use, n.Loads[0].ID, cabinet.emitters, nil)
						ask("emitters", arrays, err)
						all, err := search.MatchEmitters(ctx, light, v, n.ID, n.Loads[0].ID, cabinet.onHand)
						ask("emitters at hand", all, err)
					}
				case n.Array != nil:
					ratios, err := search.Ratios(ctx, light, v, n.ID, []float64{0.25, 0.5, 1, 1.5})
					ask("ratios", ratios, err)
				case n.Strip != nil:
					runs, err := run.Model.Solver().StripRuns(ctx, n.ID)
					ask("strip", runs, err)
				}
			}
			for _, f := range light.Variants[v].Feeds {
				cells, err := search.Cells(ctx, light, v, f.ID, cabinet.cells)
				say("%s/%d %s cells %s %v", name, v, f.ID, digest(cells), err)
				all, err := search.MatchCells(ctx, light, v, f.ID, "18650", cabinet.onHand)
				say("%s/%d %s cells at hand %s %v", name, v, f.ID, digest(all), err)
			}
		}
	}
	return lines
}

func nodes(v *design.Variant) (all []*design.Node) {
	var walk func(list []design.Node)
	walk = func(list []design.Node) {
		for i := range list {
			all = append(all, &list[i])
			walk(list[i].Loads)
		}
	}
	for i := range v.Feeds {
		walk(v.Feeds[i].Loads)
	}
	return all
}

// ofChanges are the demo lights with each figure of theirs more, or less.
func ofChanges(t *testing.T) (lines []string) {
	for _, name := range slices.Sorted(maps.Keys(lights(t))) {
		light := lights(t)[name]
		if n := len(nodes(&light.Variants[0])); n > 30 {
			continue
		}
		data, err := json.Marshal(light)
		if err != nil {
			t.Fatal(err)
		}
		var tree any
		if err := json.Unmarshal(data, &tree); err != nil {
			t.Fatal(err)
		}
		// judge tells only what is said of a figure that may be impossible.
		judge := func(what string) {
			changed, err := json.Marshal(tree)
			if err != nil {
				t.Fatal(err)
			}
			said := "taken"
			if _, err := design.Decode(changed); err != nil {
				said = digest(err.Error())
			}
			lines = append(lines, fmt.Sprintf("%s %s %s", name, what, said))
		}
		try := func(pointer string) {
			changed, err := json.Marshal(tree)
			if err != nil {
				t.Fatal(err)
			}
			l, err := design.Decode(changed)
			if err != nil {
				lines = append(lines, fmt.Sprintf("%s %s refused %s", name, pointer, digest(err.Error())))
				return
			}
			_, line := solved(l, 0)
			lines = append(lines, fmt.Sprintf("%s %s %s", name, pointer, line))
		}
		k := 0
		var walk func(v any, pointer string)
		walk = func(v any, pointer string) {
			each := func(value any, put func(any), pointer string) {
				switch x := value.(type) {
				case float64:
					k++
					// Up and down in turn, so that limits are met from both sides.
					put(x * []float64{1.6, 0.55}[k%2])
					if x == math.Trunc(x) {
						put(x + []float64{1, 2}[k%2])
					}
					try(pointer)
					for _, odd := range []float64{0, -x, 1e7 * x} {
						put(odd)
						judge(fmt.Sprintf("%s as %g", pointer, odd))
					}
					put(x)
				case bool:
					put(!x)
					try(pointer)
					put(x)
				default:
					walk(value, pointer)
				}
			}
			switch v := v.(type) {
			case map[string]any:
				for _, key := range slices.Sorted(maps.Keys(v)) {
					each(v[key], func(x any) { v[key] = x }, pointer+"/"+key)
					kept := v[key]
					delete(v, key)
					try(pointer + "/" + key + " gone")
					v[key] = kept
				}
			case []any:
				for i := range v {
					each(v[i], func(x any) { v[i] = x }, pointer+"/"+strconv.Itoa(i))
					if i > 0 { // two alike, where a list may have to rise
						kept := v[i]
						v[i] = v[i-1]
						try(pointer + "/" + strconv.Itoa(i) + " twice")
						v[i] = kept
					}
				}
			}
		}
		root := tree.(map[string]any)
		for _, key := range []string{"brief", "conditions", "parts", "variants"} {
			walk(root[key], "/"+key)
		}
	}
	return lines
}

// ofRandom are lights that need not be wise, with what demo lights do not have.
func ofRandom(t *testing.T) (lines []string) {
	for seed := range uint64(220) {
		random := rand.New(rand.NewPCG(seed, 77))
		light := sample.Tree(random, sample.Options{Depth: 1 + int(seed%2), Joints: 0.1, Odd: seed%3 == 0, Feeds: 1 + int(seed%5)/4})
		dress(random, light)
		_, line := solved(light, 0)
		lines = append(lines, fmt.Sprintf("random-%d %s", seed, line))
	}
	return lines
}

// dress gives limits, thresholds, cut-offs and wishes to a random light.
func dress(random *rand.Rand, light *design.Light) {
	between := func(a, b float64) *float64 { return new(a + (b-a)*random.Float64()) }
	some := func() bool { return random.IntN(3) == 0 }
	for i := range light.Parts {
		p := &light.Parts[i]
		if d := p.Driver; d != nil && d.Family != "none" {
			if some() {
				d.InputMinV, d.InputMaxV = between(2, 7), between(9, 16)
			}
			if d.InputMinV != nil && some() {
				d.RestartV = new(*d.InputMinV * (1.02 + 0.2*random.Float64()))
			}
			if some() && d.Family != "resistor" && d.Family != "dropper" {
				d.QuiescentA, d.Tolerance = between(0, 0.02), between(0.02, 0.1)
			}
			if d.Family == "linear" || d.Family == "buck" || d.Family == "boost" {
				d.MinCurrentA, d.MaxCurrentA = between(0.02, 0.1), between(0.5, 3)
				if some() {
					d.LineRegPerV, d.Channels, d.Tieable = between(-0.01, 0.01), 2, some()
				}
			}
			if some() {
				d.RatedW, d.MaxOutputW = between(0.5, 4), between(2, 15)
			}
		}
		if e := p.Emitter; e != nil {
			e.MaxCurrentA, e.MaxJunctionC, e.VfBinV, e.FluxBin = between(0.8, 1.6), between(85, 150), between(0.01, 0.1), between(0.02, 0.1)
			e.Spectrum = &design.Spectrum{WhiteK: between(2700, 6500)}
			e.EfficacyLmPerW = nil
		}
		if c := p.Cell; c != nil {
			c.MaxDischargeA, c.Health = between(1, 8), between(0.5, 1)
			if some() {
				c.PolarOhm, c.PolarS = between(0.005, 0.05), between(10, 100)
			}
		}
		if s := p.Strip; s != nil {
			s.LongestM = between(0.5, 3)
		}
	}
	v := &light.Variants[0]
	for i := range v.Feeds {
		if pack := v.Feeds[i].Sources[0].Pack; pack != nil && some() {
			pack.CutoffCellV, pack.CutoffDelayS = between(2.6, 3.2), between(0, 5)
			if some() {
				pack.ReleaseCellV = new(*pack.CutoffCellV + 0.3)
			}
		}
	}
	for _, n := range nodes(v) {
		switch {
		case n.Switch != nil && some():
			n.Switch.RatingA, n.Switch.Duty, n.Switch.DutyHz = between(0.2, 3), between(0.2, 0.9), between(2, 400)
		case n.Array != nil:
			n.Array.OpticEfficient, n.Array.BoardKPerW, n.Array.BeamDeg = between(0.7, 1), between(0, 3), between(10, 120)
			n.Array.SameBin = some()
			n.Array.Count = 1 + random.IntN(2)
			n.Array.Joint.MaxC = between(60, 130)
		case n.Driver != nil && some():
			n.Driver.Dimming = &design.Level{Duty: between(0.1, 1), FrequencyHz: between(50, 20000)}
		}
	}
	sample.Counted(random, v.Feeds[0].Loads, 0.2)
	v.Bodies[0].Touchable, v.Bodies[0].MaxC = true, between(60, 110)
	light.Brief = design.Brief{OutputLm: between(50, 900), RuntimeH: between(0.5, 8)}
	light.Conditions.Handheld, light.Conditions.NearWater = some(), some()
	if some() {
		light.Conditions.Charge = between(0.1, 1)
	}
}

type shelf struct {
	drivers  []*design.Driver
	emitters []*design.Emitter
	cells    []*design.Cell
	all      []design.Part
	onHand   []search.OnHand
}

func parts(t *testing.T) (s shelf) {
	t.Helper()
	var list []struct{ Part design.Part }
	if err := json.Unmarshal(examples.Cabinet, &list); err != nil {
		t.Fatal(err)
	}
	for i := range list {
		p := &list[i].Part
		s.all = append(s.all, *p)
		s.onHand = append(s.onHand, search.OnHand{ID: p.Name, Stock: i, Part: *p})
		switch {
		case p.Driver != nil:
			s.drivers = append(s.drivers, p.Driver)
		case p.Emitter != nil:
			s.emitters = append(s.emitters, p.Emitter)
		case p.Cell != nil:
			s.cells = append(s.cells, p.Cell)
		}
	}
	return s
}

// ofParts are the laws of the demo cabinet's parts, over the range they are used in.
func ofParts(t *testing.T) (lines []string) {
	say := func(format string, args ...any) { lines = append(lines, fmt.Sprintf(format, args...)) }
	for _, p := range parts(t).all {
		name := strings.ReplaceAll(p.Name, " ", "-")
		switch {
		case p.Driver != nil:
			for _, use := range []design.DriverUse{{}, {SetCurrentA: new(0.4)}, {SetVoltageV: new(11.0), Dimming: &design.Level{Current: new(0.5)}}} {
				d, missing := driver.New(p.Driver, &use)
				d.Prepare()
				for _, inV := range []float64{2.5, 4, 8, 12.5, 24, 230} {
					e := d.Envelope(inV)
					qA, perV := d.Quiescent(inV)
					say("%s %g V %d %.6g %.6g %.6g %.6g %.6g %v %v", name, inV, len(missing), e.CornerV(), e.NoLoadV(), d.OpenSlope(inV), qA, perV, d.HoldsAlone(inV), d.Latches())
					for _, outV := range []float64{1, 3.1, 9.3, 14, 36} {
						a := e.CurrentA(outV)
						_, slope, follows := e.Offer(outV)
						take := d.Take(inV, outV, a)
						from, to := d.Conducts(outV, a)
						say("%s %g V %g V %.6g %.6g %v %.6g %.6g %.6g %.6g %v %v", name, inV, outV, a, slope, follows, take.InA, take.LossW, from, to, d.Mode(inV, outV, a), d.InsideWindow(outV, a))
					}
				}
			}
		case p.Emitter != nil:
			m, err := emitter.New(p.Emitter)
			if err != nil {
				say("%s %v", name, err)
				continue
			}
			sheet, err := emitter.NewSheet(&p)
			say("%s sheet %s %v", name, digest(sheet), err)
			low, high := m.CurveRange()
			say("%s %.6g %.6g %s", name, low, high, digest(m.Fitted()))
			for _, c := range []float64{-20, 25, 85, 140} {
				for _, share := range []float64{0.05, 0.3, 1, 1.7} {
					a := share * high
					v, ohm := m.VoltageOhm(a, c)
					say("%s %g C %.6g A %.6g %.6g %.6g %.6g %.6g", name, c, a, v, ohm, m.FluxLm(a, c), m.RadiantW(a, c), m.CurrentNear(v, 0.1, c, 0.2))
				}
			}
			if p.Emitter.Spectrum != nil {
				s, err := photometry.New(p.Emitter.Spectrum)
				if err != nil {
					say("%s %v", name, err)
					continue
				}
				k, duv, white := s.Colour()
				ra, ok := s.Rendering()
				say("%s %.6g lm/W %.6g %.6g blue %.6g %.6g K %.5f %v Ra %.6g %v", name, s.EfficacyLmPerW(), s.Photons(400, 700), s.Photons(700, 750), s.BlueShare(), k, duv, white, ra, ok)
			}
		}
	}
	return lines
}

// ofSpectra are light of every kind, with what is seen by it.
func ofSpectra() (lines []string) {
	say := func(name string, s *photometry.Spectrum) {
		lines = append(lines, fmt.Sprintf("spectrum %s %s %s %.6g W", name, digest(s), digest(s.Appearance()), s.Watts(480, 620)))
	}
	for _, k := range []float64{2200, 3000, 4000, 5000, 6500, 7500, 9000, 15000} {
		body, day := photometry.BlackBody(k), photometry.Daylight(k)
		say(fmt.Sprintf("black-%g", k), &body)
		say(fmt.Sprintf("day-%g", k), &day)
	}
	point := func(nm, relative float64) design.SpectrumPoint {
		return design.SpectrumPoint{Nm: nm, Relative: relative}
	}
	for name, d := range []design.Spectrum{
		{WhiteK: new(2700.0)}, {WhiteK: new(5600.0)}, {PeakNm: new(450.0), WidthNm: new(20.0)}, {PeakNm: new(660.0)}, {PeakNm: new(730.0), WidthNm: new(35.0)}, {PeakNm: new(525.0), WidthNm: new(30.0)},
		{Table: []design.SpectrumPoint{point(420, 0.2), point(450, 1), point(480, 0.3), point(555, 0.6), point(630, 0.4), point(700, 0.1)}},
		{Table: []design.SpectrumPoint{point(300, 0.5), point(500, 1), point(900, 0.2)}},
	} {
		s, err := photometry.New(&d)
		if err != nil {
			lines = append(lines, fmt.Sprintf("spectrum %d %v", name, err))
			continue
		}
		say(strconv.Itoa(name), s)
	}
	return lines
}

// ofBegun are lights begun from facts: what stands in them, and why each is dark once
// something is taken out.
func ofBegun(t *testing.T) (out []string) {
	t.Helper()
	sources := []string{"", "4 × 18650 2 Ah reclaimed", "3 AAA", "2S2P 21700", "12 V lead-acid", "6 V lantern block", "24 V adapter 3 A", "60 W 12 V supply", "mains", "120 V", "5 cells in parallel", "8 NiMH AA", "lipo", "usb", "bench 15 V 2 A"}
	emitters := []string{"", "10 W, 9–12 V, 900 mA", "6 × 3 V 0.7 A 140 lm/W", "4 × 36 V 1.4 A 56 %", "50 W 32 V", "1 W module 3–9 V", "12 V 0.5 A module 90 lm", "3 in series 3 V 1 A 250 lm"}
	drivers := []string{"", "step-down two-pot 10 V 0.5 A", "step-up", "linear 0.35 A", "resistor", "buck-boost 90 %", "step-up 36 V 0.4 A"}
	var facts []begin.Facts
	for i, s := range sources {
		for k, e := range emitters {
			facts = append(facts, begin.Facts{Way: []string{"parts", "boards"}[k%2], Source: s, Emitters: e, Driver: drivers[(i+k)%len(drivers)], Body: []string{"", "300 cm²", "4 K/W 100 g"}[i%3], Area: "1.2 × 0.6 m", Hours: "12 h"})
		}
		facts = append(facts,
			begin.Facts{Way: "strip", Source: s, Emitters: []string{"", "24 V 15 W/m", "12 V 48 W 5 m"}[i%3], Pieces: []string{"5 × 1 m", "0.8 m, 1.2 m", ""}[i%3], Dimmed: i%2 == 0},
			begin.Facts{Way: "meter", Source: s, Was: "3 AAA", Readings: []string{"4.5 V 300 mA · 5.0 V 485 mA · 4.2 V 300 mA · 3.28 V 137 mA", "5 V 1 A; 5 V 2 A; 6 V 0.5 A", "5 V 300; 2 A"}[i%3]},
			begin.Facts{Way: "lamp", Source: s, Was: []string{"3 W", "0.5 A", ""}[i%3], Light: []string{"bulb", "tube", "flame"}[i/3%3], Keeps: []string{"switch", "housing"}, Wet: []string{"dry", "over-water", "under-water"}[i%3], Area: "60 × 110 mm"})
	}
	all := lights(t)
	for _, name := range slices.Sorted(maps.Keys(all)) {
		if light := all[name]; !strings.Contains(name, "-8x") {
			for i := range light.Parts {
				facts = append(facts, begin.Facts{Way: "parts", Name: name, Parts: light.Parts[i : i+1]}, begin.Facts{Way: "parts", Name: name, Source: "2S2P", Emitters: "3 in series", Parts: light.Parts[:i+1]})
			}
		}
	}
	for _, f := range facts {
		b, err := begin.For(f)
		if err != nil {
			out = append(out, fmt.Sprintf("begun %s %q none: %v", f.Way, f.Source, err))
			continue
		}
		parts := []string{}
		for i := range f.Parts {
			parts = append(parts, f.Parts[i].ID)
		}
		line := fmt.Sprintf("begun %s %q %q %q %v: %s %s", f.Way, f.Source, f.Emitters, f.Driver, parts, digest(b.Light), digest([]any{b.Understood, b.Remarks}))
		if m, err := chain.Compile(b.Light, chain.Options{}); err == nil {
			if run, err := m.Solver().Run(ctx); err == nil {
				line += " dark " + strconv.Quote(run.Answers().FluxWhy)
			}
		}
		out = append(out, line)
	}
	return out
}
