package verdict

import (
	"strings"
	"testing"

	"photherm/core/design"
)

// Each has its own cause, on a supply and on a pack, and none is hidden by what comes later: a board
// that trips hides no step-up that conducts.
func TestCausesOfDarkness(t *testing.T) {
	pack := func(series int, maxA float64) design.Source {
		return design.Source{Pack: &design.Pack{PartID: "c", Series: series, Parallel: 1, CutoffCellV: p(2.8), ProtectionID: map[bool]string{true: "board", false: ""}[maxA > 0]}}
	}
	supply := func(v float64) design.Source { return design.Source{Supply: &design.Supply{VoltageV: v}} }
	for name, c := range map[string]struct {
		source design.Source
		d      design.Driver
		series int
		code   string
		absent string
	}{
		"step-up at its highest":            {supply(12), design.Driver{Family: "boost", MaxVoltageV: p(20.0)}, 9, "output-too-low", ""},
		"step-up at its highest, on a pack": {pack(2, 0), design.Driver{Family: "boost", MaxVoltageV: p(20.0)}, 9, "output-too-low", ""},
		"both ways at its highest":          {pack(2, 0), design.Driver{Family: "buck-boost", MaxVoltageV: p(8.0)}, 4, "output-too-low", ""},
		"step-up with room":                 {supply(12), design.Driver{Family: "boost", MaxVoltageV: p(40.0)}, 9, "", "output-too-low"},
		"step-up conducts":                  {pack(4, 0), design.Driver{Family: "boost", MaxVoltageV: p(40.0)}, 4, "step-up-conducts", ""},
		"step-up conducts, its board trips": {pack(4, 0.5), design.Driver{Family: "boost", MaxVoltageV: p(40.0)}, 4, "step-up-conducts", ""},
		"converter out of headroom":         {supply(12), design.Driver{Family: "voltage", SetVoltageV: p(15.0), SetCurrentA: nil}, 4, "voltage-not-held", ""},
		"mains outside its window":          {design.Source{Mains: &design.Mains{VoltageV: 230, FrequencyHz: 50}}, design.Driver{Family: "window", MinVoltageV: p(20.0), MaxVoltageV: p(24.0), Isolated: p(true)}, 12, "window-too-high", "output-too-low"},
	} {
		d := c.d
		d.Efficiency = p(0.88)
		if d.Family != "voltage" {
			d.SetCurrentA = p(0.35)
		}
		b := newBench(c.source, d, c.series)
		b.light.Parts = append(b.light.Parts, design.Part{ID: "c", Name: "Cell", Cell: &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 3, ResistanceOhm: 0.03}})
		if c.source.Pack != nil && c.source.Pack.ProtectionID != "" {
			b.light.Parts = append(b.light.Parts, design.Part{ID: "board", Name: "Board", Protect: &design.Protection{Series: 4, CutCellV: 2.8, MaxA: p(0.5)}})
		}
		findings := judgeLight(t, b.light)
		f := find(findings, c.code)
		if c.code != "" && f == nil {
			t.Errorf("%s: %s is not told: %+v", name, c.code, findings)
		}
		if c.absent != "" && find(findings, c.absent) != nil {
			t.Errorf("%s: %s is told", name, c.absent)
		}
		if f != nil && f.Fix != nil && f.Code == "output-too-low" {
			mends(t, b.light, findings, f)
		}
		for _, f := range findings {
			if f.Code == "cycling" && c.source.Mains != nil && strings.Contains(f.Why, "source is too weak") {
				t.Errorf("%s: %s", name, f.Why)
			}
		}
	}
	// A strip below its knee: 70 % of its volts, and just above.
	for volts, told := range map[float64]bool{8.4: true, 9.3: false} {
		b := newBench(supply(volts), design.Driver{Family: "none"}, 1)
		b.light.Parts = append(b.light.Parts, design.Part{ID: "s", Name: "Strip", Strip: &design.Strip{VoltageV: 12, PerMetreW: p(10.0), CutM: 0.05, FluxLmPer: p(900.0)}})
		b.light.Variants[0].Feeds[0].Loads = []design.Node{{ID: "strip", Strip: &design.StripUse{PartID: "s", PiecesM: []float64{1}}}}
		if f := find(judgeLight(t, b.light), "below-knee"); (f != nil) != told {
			t.Errorf("a strip at %g V: %+v", volts, f)
		}
	}
}

// A limit that is reached is what sets the current, whatever is typed of it.
func TestALimitThatBindsSetsTheCurrent(t *testing.T) {
	b := newBench(design.Source{Mains: &design.Mains{VoltageV: 230, FrequencyHz: 50}}, design.Driver{Family: "voltage", SetVoltageV: p(14.0), MaxOutputW: p(10.0), Dimming: "phase-cut", Isolated: p(true), Efficiency: p(0.88)}, 4)
	b.light.Variants[0].Feeds[0].Loads = []design.Node{{ID: "dimmer", Dimmer: &design.Dimmer{Level: 0.5}, Loads: b.light.Variants[0].Feeds[0].Loads}}
	if f := find(judgeLight(t, b.light), "no-ballast"); f != nil {
		t.Errorf("dimmed by its limit: %+v", f)
	}
	b.light.Variants[0].Feeds[0].Loads[0].Dimmer.Level = 1
	if find(judgeLight(t, b.light), "no-ballast") == nil {
		t.Error("at full nothing limits it, and that is not told")
	}
}

// A switch that chops before a driver that is slower than it, or of which that is not known; one slower
// than a start takes is none, and emitters straight behind it neither.
func TestChoppedInput(t *testing.T) {
	for name, c := range map[string]struct {
		hz   float64
		d    func(*design.Driver)
		code string
	}{
		"faster than it follows": {400, func(d *design.Driver) { d.PWMMaxHz = p(200.0) }, "switched-too-fast"},
		"follows":                {400, func(d *design.Driver) { d.PWMMaxHz = p(2000.0) }, ""},
		"slow to rise":           {400, func(d *design.Driver) { d.RiseS = p(2e-3) }, "duty-too-low"},
		"not known":              {400, func(*design.Driver) {}, "chopped-input"},
		"not known, slowly":      {100, func(*design.Driver) {}, ""},
		"a resistor":             {400, func(d *design.Driver) { d.Family, d.ResistanceOhm = "resistor", p(8.0) }, ""},
	} {
		b := lowBench()
		c.d(b.d)
		b.light.Variants[0].Feeds[0].Loads = []design.Node{{ID: "chop", Switch: &design.Switch{Duty: p(0.5), DutyHz: &c.hz}, Loads: b.light.Variants[0].Feeds[0].Loads}}
		findings := judgeLight(t, b.light)
		for _, code := range []string{"switched-too-fast", "duty-too-low", "chopped-input"} {
			if (find(findings, code) != nil) != (code == c.code) {
				t.Errorf("%s: %s: %v", name, code, find(findings, code))
			}
		}
	}
}

// What is wanted in each emitter is held against what each gets; a light dimmed on purpose is not.
func TestAsWanted(t *testing.T) {
	b := lowBench()
	for want, told := range map[float64]bool{0.35: false, 0.33: false, 0.31: true, 0.2: true, 0.5: true} {
		b.a.WantedA = &want
		findings := judgeLight(t, b.light)
		f := find(findings, "not-as-wanted")
		if (f != nil) != told {
			t.Errorf("%g A wanted: %+v", want, f)
		}
		if f != nil && f.Fix != nil {
			mends(t, b.light, findings, f)
		}
	}
	b.use.Dimming = &design.Level{Current: p(0.5)}
	if find(judgeLight(t, b.light), "not-as-wanted") != nil {
		t.Error("dimmed on purpose, and told")
	}
}
