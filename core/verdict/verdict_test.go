package verdict

import (
	"context"
	"encoding/json"
	"math"
	"slices"
	"strconv"
	"strings"
	"testing"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/internal/sample"
	"photherm/core/units"
)

func load(t *testing.T, name string) *design.Light {
	t.Helper()
	light, err := sample.Example(name)
	if err != nil {
		t.Fatal(err)
	}
	return sample.OfKnownKPerW(light)
}

func judgeLight(t *testing.T, light *design.Light) []Finding {
	t.Helper()
	if err := design.Check(light); err != nil {
		t.Fatal(err)
	}
	m, err := chain.Compile(light, chain.Options{})
	if err != nil {
		t.Fatal(err)
	}
	run, err := m.Solver().Run(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	findings, err := Judge(context.Background(), run)
	if err != nil {
		t.Fatal(err)
	}
	return findings
}

func find(findings []Finding, code string) *Finding {
	i := slices.IndexFunc(findings, func(f Finding) bool { return f.Code == code })
	if i < 0 {
		return nil
	}
	return &findings[i]
}

func p[T any](x T) *T { return &x }

func node(l *design.Light, ids ...int) *design.Node {
	n := &l.Variants[0].Feeds[0].Loads[ids[0]]
	for _, i := range ids[1:] {
		n = &n.Loads[i]
	}
	return n
}

// Each case makes one thing wrong with the handlamp; the finding appears with its
// figure and limit, and where a fix is offered the change mends it.
func TestFindings(t *testing.T) {
	pack := func(l *design.Light) *design.Pack { return l.Variants[0].Feeds[0].Sources[0].Pack }
	use := func(l *design.Light) *design.DriverUse { return node(l, 1, 0).Driver }
	for code, c := range map[string]struct {
		spoil    func(*design.Light)
		severity Severity
		fix      bool
	}{
		"over-rated-current":   {func(l *design.Light) { use(l).SetCurrentA = p(2.0) }, Caution, true},
		"over-max-current":     {func(l *design.Light) { use(l).SetCurrentA = p(3.5) }, Stop, true},
		"junction-limit":       {func(l *design.Light) { l.Variants[0].Bodies[0].KPerW = p(14.0) }, Stop, true},
		"junction-close":       {func(l *design.Light) { l.Parts[2].Emitter.MaxJunctionC = p(75.0) }, Caution, false},
		"source-above-input":   {func(l *design.Light) { pack(l).Series = 8 }, Stop, true},
		"source-below-input":   {func(l *design.Light) { l.Parts[1].Driver.InputMinV, l.Parts[1].Driver.RestartV = p(13.0), p(14.0) }, Caution, false},
		"no-headroom":          {func(l *design.Light) { pack(l).Series = 2 }, Caution, true},
		"headroom-ends":        {func(l *design.Light) { pack(l).CutoffCellV = p(2.5); pack(l).Series = 3 }, Caution, true},
		"touch":                {func(l *design.Light) { l.Brief.TouchC = p(45.0) }, Caution, true},
		"cell-discharge":       {func(l *design.Light) { l.Parts[0].Cell.MaxDischargeA = p(0.8) }, Stop, true},
		"cell-temperature":     {func(l *design.Light) { l.Parts[0].Cell.MaxC = p(45.0) }, Stop, false},
		"driver-over-current":  {func(l *design.Light) { l.Parts[1].Driver.MaxCurrentA = p(1.2) }, Stop, true},
		"driver-under-current": {func(l *design.Light) { l.Parts[1].Driver.MinCurrentA = p(1.8) }, Caution, true},
		"driver-temperature":   {func(l *design.Light) { l.Parts[1].Driver.MaxCaseC = p(45.0) }, Stop, true},
		"joint-limit":          {func(l *design.Light) { node(l, 1, 0, 0).Array.Joint.MaxC = p(50.0) }, Stop, true},
		"body-limit":           {func(l *design.Light) { l.Variants[0].Bodies[0].MaxC = p(40.0) }, Stop, true},
		"switch-rating":        {func(l *design.Light) { node(l, 1).Switch.RatingA = p(0.5) }, Stop, false},
		"switch-after-driver": {func(l *design.Light) {
			array := node(l, 1, 0).Loads
			node(l, 1, 0).Loads = []design.Node{{ID: "late", Switch: &design.Switch{}, Loads: array}}
		}, Caution, false},
		"hazardous-voltage": {func(l *design.Light) {
			pack(l).Series = 18
			l.Parts[1].Driver.InputMaxV = p(100.0)
		}, Caution, false},
		"overheats":     {func(l *design.Light) { l.Variants[0].Bodies[0].KPerW = p(90.0) }, Stop, false},
		"output-short":  {func(l *design.Light) { l.Brief.OutputLm = p(9000.0) }, Note, false},
		"empty-early":   {func(l *design.Light) { l.Brief.EmptyH = p(30.0) }, Note, false},
		"costs-more":    {func(l *design.Light) { l.Brief.Money, l.Parts[0].Price = p(11.9), p(3.0) }, Note, false},
		"runtime-short": {func(l *design.Light) { l.Brief.RuntimeH = p(30.0) }, Note, false},
		"no-paste": {func(l *design.Light) {
			layers := heat.UsualLayers()
			dry, under := layers[len(layers)-1].Joint, node(l, 1, 0, 0).Array.Joint
			under.ThicknessM, under.Conductivity = dry.ThicknessM, dry.Conductivity
		}, Caution, true},
		"beyond-curve":  {func(l *design.Light) { use(l).SetCurrentA = p(3.2) }, Note, false},
		"assumed-curve": {func(l *design.Light) { l.Parts[2].Emitter.Forward = l.Parts[2].Emitter.Forward[2:3] }, Note, false},
		"missing":       {func(l *design.Light) { node(l, 1, 0).Driver.PartID = "" }, Note, false},
	} {
		light := load(t, "shore-search-handlamp.json")
		before := find(judgeLight(t, light), code)
		if before != nil && code != "touch" {
			t.Errorf("%s: there before anything is wrong", code)
		}
		c.spoil(light)
		findings := judgeLight(t, light)
		f := find(findings, code)
		if f == nil {
			t.Errorf("%s: not found", code)
			continue
		}
		if f.Severity != c.severity || f.Why == "" || !strings.HasSuffix(f.Why, ".") || f.Stage == "" {
			t.Errorf("%s: %+v", code, *f)
		}
		if (f.Fix != nil) != c.fix {
			t.Errorf("%s: a fix is offered: %v, want %v", code, f.Fix != nil, c.fix)
		}
		if f.Fix != nil {
			mends(t, light, findings, f)
		}
		if !slices.IsSortedFunc(findings, func(a, b Finding) int {
			return strings.Index("stop caution note", string(a.Severity)) - strings.Index("stop caution note", string(b.Severity))
		}) {
			t.Errorf("%s: not worst first", code)
		}
	}
}

// mends applies the fix of a finding: the finding is gone, and none worse has come.
func mends(t *testing.T, light *design.Light, found []Finding, f *Finding) {
	t.Helper()
	rank := map[Severity]int{Stop: 0, Caution: 1, Note: 2}
	for _, after := range judgeLight(t, apply(t, light, f.Fix)) {
		if after.Code == f.Code && after.Node == f.Node {
			t.Errorf("%s is still there after %q: %s", f.Code, f.Fix.Label, after.Why)
			continue
		}
		before := slices.ContainsFunc(found, func(b Finding) bool { return b.Code == after.Code && b.Node == after.Node })
		if !before && rank[after.Severity] < rank[f.Severity] {
			t.Errorf("%s: %q brings %s: %s", f.Code, f.Fix.Label, after.Code, after.Why)
		}
	}
}

// apply carries out a fix as the interface does: on the document.
func apply(t *testing.T, light *design.Light, fix *Fix) *design.Light {
	t.Helper()
	data, err := design.Encode(light)
	if err != nil {
		t.Fatal(err)
	}
	var doc any
	if err := json.Unmarshal(data, &doc); err != nil {
		t.Fatal(err)
	}
	for _, change := range fix.Patch {
		here := doc
		steps := strings.Split(change.Path, "/")[1:]
		for _, step := range steps[:len(steps)-1] {
			if list, ok := here.([]any); ok {
				var i int
				if err := json.Unmarshal([]byte(step), &i); err != nil || i >= len(list) {
					t.Fatalf("no place %s", change.Path)
				}
				here = list[i]
				continue
			}
			object := here.(map[string]any)
			if object[step] == nil {
				object[step] = map[string]any{}
			}
			here = object[step]
		}
		last := steps[len(steps)-1]
		if list, ok := here.([]any); ok {
			i, err := strconv.Atoi(last)
			if err != nil || i >= len(list) {
				t.Fatalf("no place %s", change.Path)
			}
			list[i] = change.Value
			continue
		}
		// As the interface does, objects on the way are made.
		here.(map[string]any)[last] = change.Value
	}
	if data, err = json.Marshal(doc); err != nil {
		t.Fatal(err)
	}
	out, err := design.Decode(data)
	if err != nil {
		t.Fatalf("the fix %+v makes a light that cannot be read: %v", fix, err)
	}
	return out
}

// Limits hold over every source the light must accept, not only the one in use:
// two lithium-ion cells are 8.4 V full (common practice).
func TestEverySourceIsJudged(t *testing.T) {
	light := load(t, "pier-lantern.json")
	if find(judgeLight(t, light), "source-above-input") != nil {
		t.Fatal("one cell is too much already")
	}
	f := &light.Variants[0].Feeds[0]
	f.Sources = append(f.Sources, design.Source{ID: "spare", Name: "Two spare cells", Pack: &design.Pack{PartID: "cell", Series: 2, Parallel: 1}})
	found := find(judgeLight(t, light), "source-above-input")
	if found == nil || *found.Value != 8.4 || !strings.Contains(found.Why, "Two spare cells") {
		t.Errorf("a second source of 8.4 V on a 6 V driver: %+v", found)
	}
}

// On the mains: the usual caution, the rating of the supply whatever its knobs
// allow, both schools of margin (75 W on 80 W is 1.07, common practice), isolation.
func TestMainsSupply(t *testing.T) {
	rack := func(spoil func(*design.Light, *design.Driver, *design.DriverUse)) []Finding {
		light := load(t, "germination-rack.json")
		spoil(light, light.Parts[0].Driver, node(light, 0, 0).Driver)
		return judgeLight(t, light)
	}
	sound := rack(func(*design.Light, *design.Driver, *design.DriverUse) {})
	if find(sound, "mains") == nil || find(sound, "supply-margin") != nil || find(sound, "hazardous-voltage") != nil {
		t.Errorf("a sound rack: %+v", sound)
	}
	watts := find(rack(func(l *design.Light, d *design.Driver, u *design.DriverUse) {
		u.SetVoltageV, u.SetCurrentA = p(41.5), p(6.0)
	}), "supply-watts")
	if watts == nil || *watts.Value < *watts.Limit || watts.Severity != Stop || watts.Fix == nil {
		t.Errorf("both knobs up: %+v", watts)
	}
	tight := find(rack(func(l *design.Light, d *design.Driver, u *design.DriverUse) { d.MaxOutputW = p(84.0) }), "supply-margin")
	if tight == nil || tight.Severity != Caution || !strings.Contains(tight.Why, "times") {
		t.Errorf("little to spare: %+v", tight)
	}
	if f := find(rack(func(l *design.Light, d *design.Driver, u *design.DriverUse) { d.Isolated = p(false) }), "not-isolated"); f == nil || f.Severity != Stop {
		t.Errorf("a live output: %+v", f)
	}
	below := find(rack(func(l *design.Light, d *design.Driver, u *design.DriverUse) {
		node(l, 0, 0, 0).Array.Series = 5
	}), "supply-below-range")
	if below == nil || *below.Value > 15 || *below.Limit != 34 || find(sound, "supply-below-range") != nil {
		t.Errorf("five in series on 34 to 42 V: %+v", below)
	}
	if f := find(rack(func(l *design.Light, d *design.Driver, u *design.DriverUse) { u.SetVoltageV = p(50.0) }), "supply-voltage-range"); f == nil || f.Fix == nil {
		t.Errorf("beyond its range: %+v", f)
	}
}

// Emitters or strip straight on the mains are live; near water that is a stop. Behind a supply they
// are not told so, nor on a battery.
func TestLiveEmitters(t *testing.T) {
	for _, c := range []struct {
		straight, mains, water bool
		want                   Severity
	}{{true, true, false, Caution}, {true, true, true, Stop}, {false, true, true, ""}, {true, false, true, ""}} {
		l := load(t, "chart-table-strip.json")
		f := &l.Variants[0].Feeds[0]
		if c.straight {
			for n := range design.Nodes(&l.Variants[0]) {
				if n.Strip != nil {
					f.Loads = []design.Node{*n}
					break
				}
			}
		}
		if !c.mains {
			f.Sources = []design.Source{{ID: "wall", Supply: &design.Supply{VoltageV: 24}}}
		}
		l.Conditions.NearWater = c.water
		got := find(judgeLight(t, l), "live-emitters")
		if (got != nil) != (c.want != "") || got != nil && got.Severity != c.want {
			t.Errorf("%+v: %+v", c, got)
		}
	}
}

// A light whose lumens nobody knows is short of the wanted hours by its end; one that is
// never lit is told so elsewhere.
func TestHoursOfUnknownLight(t *testing.T) {
	light := load(t, "shore-search-handlamp.json")
	light.Parts[2].Emitter.FluxLm = nil
	light.Brief.RuntimeH = p(30.0)
	if f := find(judgeLight(t, light), "runtime-short"); f == nil || !strings.Contains(f.Why, "out after") {
		t.Errorf("of unknown lumens: %+v", f)
	}
	light.Brief.RuntimeH = p(1.0)
	if f := find(judgeLight(t, light), "runtime-short"); f != nil {
		t.Errorf("one hour: %+v", f)
	}
}

// A light that fades is short of hours by its half, though it burns on.
func TestHoursOfAFadingLight(t *testing.T) {
	light, err := sample.Case("fading-primary")
	if err != nil {
		t.Fatal(err)
	}
	m, err := chain.Compile(light, chain.Options{})
	if err != nil {
		t.Fatal(err)
	}
	run, err := m.Solver().Run(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	a := run.Answers()
	if a.HalfS == nil || a.EndS != nil && *a.EndS < 1.3**a.HalfS {
		t.Fatalf("half %v, end %v", a.HalfS, a.EndS)
	}
	light.Brief.RuntimeH = p(1.2 * *a.HalfS / 3600)
	if f := find(judgeLight(t, light), "runtime-short"); f == nil || *f.Value != *a.HalfS || !strings.Contains(f.Why, "to half light, wanted") {
		t.Errorf("after its half, before its end: %+v", f)
	}
}

// A fan that gets less than it starts at stands still, from the beginning or once the cells have
// fallen: that is told, and what would come without it only where it turns.
func TestFanThatStands(t *testing.T) {
	with := func(startV float64) *design.Light {
		light := load(t, "shore-search-handlamp.json")
		b := &light.Variants[0].Bodies[0]
		b.KPerW, b.Shape = nil, &design.Shape{Kind: "fins", LengthM: p(0.1), WidthM: p(0.1), ThicknessM: p(0.004), Fins: 12, FinHeightM: p(0.03), FinThickM: p(0.0015), Fan: &design.Fan{NodeID: "fan", FlowM3H: 20, RatedV: p(12.0)}}
		f := &light.Variants[0].Feeds[0]
		f.Loads = append(f.Loads, design.Node{ID: "fan", Name: "Fan", Aux: &design.Auxiliary{Purpose: "fan", CurrentA: 0.08, StartV: &startV}})
		return light
	}
	for startV, want := range map[float64]struct{ says, not string }{20: {"stands still, and", "fan-stops"}, 14: {"stands still from", "none"}, 6: {"", "fan-stands"}} {
		found := judgeLight(t, with(startV))
		f := find(found, "fan-stands")
		if (f != nil) != (want.says != "") || f != nil && (!strings.Contains(f.Why, want.says) || *f.Limit != startV || *f.Value >= startV || f.Severity != Caution) {
			t.Errorf("starts at %g V: %+v", startV, f)
		}
		if find(found, want.not) != nil || (find(found, "fan-stops") == nil) != (startV == 20) {
			t.Errorf("starts at %g V: %s is told", startV, want.not)
		}
	}
}

// Pressed on dry a board costs what the air between holds back: the finding names the paste's
// gain, which the light with paste has. A joint of known K/W, and one of paste, are let be.
func TestPressedOnDry(t *testing.T) {
	layers := heat.UsualLayers()
	with := func(joint design.Joint) *design.Light {
		light := load(t, "shore-search-handlamp.json")
		under := node(light, 1, 0, 0).Array
		joint.AreaM2 = under.Joint.AreaM2
		under.Joint = &joint
		return light
	}
	junction := func(light *design.Light) float64 {
		m, err := chain.Compile(light, chain.Options{})
		if err != nil {
			t.Fatal(err)
		}
		st, err := m.Solver().Steady(context.Background())
		if err != nil || !st.Converged {
			t.Fatal(err, st)
		}
		for i, c := range m.Columns() {
			if c.Figure == "junctionC" {
				return st.Record[i]
			}
		}
		return math.NaN()
	}
	dry, paste := with(layers[len(layers)-1].Joint), with(heat.Paste())
	gain := junction(dry) - junction(paste)
	f := find(judgeLight(t, dry), "no-paste")
	if f == nil || math.Abs(*f.Value-junction(paste)) > 1e-6 || !strings.Contains(f.Why, units.Kelvins(gain)+" less") {
		t.Fatalf("%+v, paste gains %g K", f, gain)
	}
	for _, joint := range []design.Joint{heat.Paste(), {KPerW: p(0.9)}, layers[6].Joint} {
		if f := find(judgeLight(t, with(joint)), "no-paste"); f != nil {
			t.Errorf("%+v: %+v", joint, f)
		}
	}
	// Where a large board makes it a trifle nothing is said.
	light := with(layers[len(layers)-1].Joint)
	node(light, 1, 0, 0).Array.Joint.AreaM2 = p(0.01)
	if f := find(judgeLight(t, light), "no-paste"); f != nil {
		t.Errorf("on 100 cm²: %+v", f)
	}
}

// What a driver gives is told in figures down to what a meter reads.
func TestLeastCurrentThatIsTold(t *testing.T) {
	for emitters, want := range map[int]string{3: "the most is 95.1 mA.", 9: "the most is next to nothing."} {
		l := load(t, "shore-search-handlamp.json")
		l.Variants[0].Feeds[0].Sources[0].Pack.Series = 2
		node(l, 1, 0, 0).Array.Series = emitters
		if f := find(judgeLight(t, l), "no-headroom"); f == nil || !strings.Contains(f.Why, want) {
			t.Errorf("%d in series: %+v, want %q", emitters, f, want)
		}
	}
}
