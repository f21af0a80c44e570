package reading

import (
	"math"
	"slices"
	"strings"
	"testing"

	"photherm/core/design"
)

func p(x float64) *float64 { return &x }

// Verdicts, by the band of a clamp whose last digit is 10 mA: of it step/√12 counts (GUM,
// 4.3.7), and its own 3 % and what the model leaves open come on top.
func TestVerdicts(t *testing.T) {
	u := math.Sqrt(math.Pow(0.05*0.057, 2) + math.Pow(0.03*0.057, 2) + 0.01*0.01/12)
	for _, c := range []struct {
		read float64
		says string
	}{{0.060, "agrees"}, {0.057 + u, "agrees"}, {0.057 + 1.001*u, "doubtful"}, {0.057 - 2*u, "doubtful"}, {0.057 - 2.001*u, "differs"}} {
		r := Of("current", "current", 0.057, 0.05)
		r.Judge(c.read, c.read, "clamp")
		if r.Calculated != c.says || math.Abs(r.Within-u) > 1e-12 {
			t.Errorf("%g A on a clamp %s within %g", c.read, r.Calculated, r.Within)
		}
	}
	// One that moved: half its way counts.
	r := Of("current", "current", 0.057, 0.05)
	r.Judge(0.060, 0.080, "clamp")
	if r.Calculated != "doubtful" || math.Abs(*r.Actual-0.070) > 1e-12 || math.Abs(r.Within-math.Hypot(u, 0.01)) > 1e-12 {
		t.Errorf("moved: %+v", r)
	}
}

// As wanted and as calculated are two things, and the poorer tool has the wider band.
func TestWantedAndTools(t *testing.T) {
	r := Of("current", "current", 0.66, 0.05).Wanting(0.66)
	r.Judge(0.605, 0.605, "")
	if r.Calculated != "doubtful" || r.AsWanted != "as wanted" {
		t.Errorf("%+v", r)
	}
	r = Of("current", "current", 0.605, 0.05).Wanting(0.66)
	if r.Judge(0.58, 0.58, ""); r.Calculated != "agrees" || r.AsWanted != "12.1 % below what is wanted" {
		t.Errorf("%+v", r)
	}
	if r.Judge(0.75, 0.75, ""); r.AsWanted != "13.6 % above what is wanted" {
		t.Errorf("%+v", r)
	}
	for _, q := range []string{"voltage", "current", "power", "temperature", "illuminance", "light"} {
		list := For(q, 20, nil)
		if len(list) < 2 || list[0].Within(20) >= list[len(list)-1].Within(20) {
			t.Errorf("%s: the best %+v, the poorest %+v", q, list[0], list[len(list)-1])
		}
	}
	if list := For("current", 20, nil); slices.ContainsFunc(list, func(t Tool) bool { return t.ID == "multimeter-a" }) {
		t.Error("20 A through a multimeter")
	}
	if list := For("temperature", 40, []string{"hand", "clamp"}); len(list) != 1 || list[0].ID != "hand" {
		t.Errorf("%+v", list)
	}
	if list := For("temperature", 40, []string{"clamp"}); len(list) != 3 {
		t.Errorf("nothing at hand: %+v", list)
	}
	r = Of("the sink", "temperature", 40, 0.05)
	if r.Take([]string{"hand"}); r.Tool != "hand" || math.Abs(r.Within-math.Hypot(2, 6)) > 1e-12 {
		t.Errorf("%+v", r)
	}
	if r.Judge(47, 47, "clamp"); r.Tool != "hand" || r.Calculated != "doubtful" {
		t.Errorf("a temperature on a clamp: %+v", r)
	}
}

// The last digit of a meter of 2000 counts follows its range.
func TestRanges(t *testing.T) {
	m := ByID("multimeter-v")
	for value, want := range map[float64][2]float64{12.6: {20, 0.01}, 2: {2, 0.001}, 2.01: {20, 0.01}, -0.15: {0.2, 0.0001}, 230: {2000, 1}} {
		if math.Abs(m.Range(value)-want[0]) > 1e-9*want[0] || math.Abs(m.Step(value)-want[1]) > 1e-12 {
			t.Errorf("%g V on the range of %g V, to %g V", value, m.Range(value), m.Step(value))
		}
	}
	if m.Range(0) != 0 || ByID("hand").Range(40) != 0 || ByID("none") != nil {
		t.Error("ranges where there are none")
	}
}

// A slip is asked about with both figures, and only where it would mend the reading.
func TestSlips(t *testing.T) {
	for _, c := range []struct {
		quantity       string
		expected, read float64
		meant          float64 // 0: nothing is asked
		how            string
	}{
		{"current", 0.605, 600, 0.6, "thousandths"},
		{"resistance", 2200, 2.2, 2200, "thousands"},
		{"current", 0.605, 350, 0.35, "thousandths"},
		{"current", 0.605, 2400, 2.4, "thousandths"},
		{"current", 0.605, 2500, 0, ""},
		{"current", 0.605, 150, 0, ""},
		{"current", 0.605, 7.2, 0.72, "point"},
		{"current", 0.605, 7.3, 0, ""},
		{"current", 0.605, 6.1, 0.61, "point"},
		{"voltage", 12.6, 1.26, 12.6, "point"},
		{"voltage", 12.6, -12.6, 12.6, "leads"},
		{"current", 0.605, 0.3, 0, ""},
		{"current", 0.605, 0, 0, ""},
		{"temperature", 40, 4, 0, ""},
		{"voltage", 0, 5, 0, ""},
	} {
		r := Of("it", c.quantity, c.expected, 0.03)
		called := 0
		r.Replace = func(actual float64) *Replacement { called++; return &Replacement{Figures: []Figure{{Value: actual}}} }
		r.Judge(c.read, c.read, "")
		switch {
		case c.meant == 0 && (r.Ask != nil || r.Replaces == nil):
			t.Errorf("%g for %g: %+v", c.read, c.expected, r)
		case c.meant != 0 && (r.Ask == nil || math.Abs(r.Ask.Value-c.meant) > 1e-12 || !strings.Contains(r.Ask.Why, c.how) || called > 0):
			t.Errorf("%g for %g: %+v", c.read, c.expected, r.Ask)
		}
	}
	// Meant as it stands, it is taken at its word.
	r := Of("current", "current", 0.605, 0.03)
	r.Replace = func(actual float64) *Replacement { return &Replacement{Figures: []Figure{{Value: actual}}} }
	if r.Read(&design.Done{Reading: p(6.1), Sure: true}); r.Ask != nil || r.Replaces == nil || r.Calculated != "differs" {
		t.Errorf("%+v", r)
	}
	r = Of("current", "current", 0.605, 0.03)
	if r.Read(&design.Done{Ticked: true}); r.Actual != nil || r.Calculated != "" {
		t.Errorf("nothing read: %+v", r)
	}
	if r.Read(&design.Done{Reading: p(0.6), To: p(0.62)}); math.Abs(*r.Actual-0.61) > 1e-12 {
		t.Errorf("from and to: %+v", r)
	}
}

// What fits another row better is asked about, if that row was not read.
func TestElsewhere(t *testing.T) {
	volts, amps := Of("voltage at the emitters", "voltage", 9.3, 0.03), Of("current", "current", 0.6, 0.05)
	amps.Replace = func(actual float64) *Replacement { return &Replacement{Figures: []Figure{{Value: actual}}} }
	amps.Judge(9.25, 9.25, "")
	Elsewhere([]Place{{"d/cold", volts}, {"d/on", amps}})
	if amps.Ask == nil || amps.Ask.Row != "d/cold" || amps.Replaces != nil || !strings.Contains(amps.Ask.Why, "9.25 V is what is expected as voltage at the emitters") {
		t.Errorf("%+v", amps.Ask)
	}
	amps.Ask = nil
	volts.Judge(9.3, 9.3, "")
	if Elsewhere([]Place{{"d/cold", volts}, {"d/on", amps}}); amps.Ask != nil {
		t.Errorf("it was read already: %+v", amps.Ask)
	}
	volts.Actual, amps.Calculated = nil, "doubtful"
	if Elsewhere([]Place{{"d/cold", volts}, {"d/on", amps}}); amps.Ask != nil {
		t.Errorf("doubtful is not asked: %+v", amps.Ask)
	}
}

// Open readings are taken as they are.
func TestOpen(t *testing.T) {
	r := &Reading{What: "floor", Quantity: "current", Open: true, Replace: func(actual float64) *Replacement { return &Replacement{Figures: []Figure{{Value: actual}}} }}
	if r.Judge(0.02, 0.02, ""); r.Calculated != "" || r.Replaces == nil || r.Replaces.Figures[0].Value != 0.02 {
		t.Errorf("%+v", r)
	}
}

// What is to be no lower than something agrees however much more it is; below it is judged as
// anything is.
func TestAtLeast(t *testing.T) {
	for read, says := range map[float64]string{500e6: "agrees", 1e6: "agrees", 0.97e6: "agrees", 0.92e6: "doubtful", 0.5e6: "differs", 10: "differs"} {
		r := Least("insulation", "resistance", 1e6)
		if r.Tool != "insulation-tester" {
			t.Fatalf("with %s", r.Tool)
		}
		if r.Judge(read, read, ""); r.Calculated != says || says == "agrees" && r.Ask != nil {
			t.Errorf("%g Ω: %s, %+v", read, r.Calculated, r.Ask)
		}
	}
	r := Least("insulation", "resistance", 1e6)
	if r.Take([]string{"ohmmeter"}); r.Tool != "ohmmeter" {
		t.Errorf("with an ohmmeter alone: %s", r.Tool)
	}
	if list := For("resistance", 50, nil); list[0].ID != "ohmmeter" {
		t.Errorf("a small resistance with %s", list[0].ID)
	}
}
