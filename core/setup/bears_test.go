package setup

import (
	"encoding/json"
	"regexp"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/units"
)

var amperes = regexp.MustCompile(`(\d+(?:\.\d+)?) (mA|A)\b`)

// No step tells anyone to exceed what the emitters bear, whatever drives them: emitters of at most
// 0.5 A in a light that would give, or is set to, more. Every current that a step names or expects
// stays below, but where it is told that it must not flow, or no emitter hangs on the output.
func TestNoStepExceedsARating(t *testing.T) {
	pack := func(series int) design.Source {
		return design.Source{Pack: &design.Pack{PartID: "c", Series: series, Parallel: 1}}
	}
	for _, family := range []string{"", "none", "resistor", "dropper", "linear", "buck", "boost", "buck-boost", "window", "voltage", "pots"} {
		d := design.Driver{Family: family, SetCurrentA: p(2.0), SetVoltageV: p(3.4), DropV: p(0.5), ResistanceOhm: p(0.5), Efficiency: p(0.9)}
		source := pack(1)
		switch family {
		case "boost":
			d.MaxVoltageV = p(30.0)
		case "window":
			source, d.MinVoltageV, d.MaxVoltageV = mains, p(2.0), p(5.0)
		case "linear", "buck":
			source = pack(2)
		case "voltage":
			source, d.SetCurrentA = pack(2), nil
		case "pots":
			source, d.Family, d.MinCurrentA, d.MaxCurrentA, d.MinVoltageV, d.MaxVoltageV = pack(2), "voltage", p(0.02), p(3.0), p(1.0), p(12.0)
		}
		l := light(source, d, design.DriverUse{}, map[bool]int{true: 3, false: 1}[family == "boost"])
		l.Parts[1].Emitter.MaxCurrentA = p(0.5)
		node := "driver"
		if family == "" {
			node, l.Variants[0].Feeds[0].Loads = "a", l.Variants[0].Feeds[0].Loads[0].Loads
			l.Parts[0].Driver.Family = "none"
		}
		got := planOf(t, l, node)
		steps := 0
		for _, p := range got.Procedures {
			for _, s := range p.Steps {
				steps++
				if strings.HasPrefix(s.Do, "Leave this out") || withoutEmitters[s.ID] || strings.Contains(s.Do, "jack") {
					continue
				}
				if r := s.Reading; r != nil && r.Quantity == "current" && r.Expected > 0.505 {
					t.Errorf("%s, %s: expects %g A", family, s.ID, r.Expected)
				}
				for _, m := range amperes.FindAllString(s.Do, -1) {
					if a, err := units.Parse(m, "current"); err != nil || a > 0.505 {
						t.Errorf("%s, %s: %q", family, s.ID, s.Do)
					}
				}
			}
		}
		if steps == 0 {
			t.Errorf("%s: no steps", family)
		}
		// What bears all of it is told as before.
		l.Parts[1].Emitter.MaxCurrentA = p(50.0)
		if data, _ := json.Marshal(planOf(t, l, node)); strings.Contains(string(data), "Leave this out") {
			t.Errorf("%s: left out although they bear it", family)
		}
	}
}

// What is said of a source that nothing else limits goes by what it is.
func TestUnlimitedBySource(t *testing.T) {
	for words, source := range map[string]design.Source{
		"begin with a drained source":          {Pack: &design.Pack{PartID: "c", Series: 1, Parallel: 1}},
		"begin with it at its lowest":          {Supply: &design.Supply{VoltageV: 3.2, MaxCurrentA: p(1.0), Kind: "bench"}},
		"begin with its voltage at its lowest": {Supply: &design.Supply{VoltageV: 3.2, ResistanceOhm: 0.5}},
	} {
		got := plan(t, light(source, design.Driver{Family: "none"}, design.DriverUse{}, 1), Question{})
		steps := got.Procedures[0].Steps
		if c := steps[0].Caution; !strings.Contains(c, words) {
			t.Errorf("%q: %q", words, c)
		}
	}
}
