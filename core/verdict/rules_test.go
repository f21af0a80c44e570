package verdict

import (
	"flag"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"photherm/core/design"
)

var update = flag.Bool("update", false, "write testdata/rules.txt anew")

// Every family on every source, with a body of metal to touch, near water, of which hardly anything is
// said: what is told of each is listed, was read through by a person, and is kept. A rule that hangs on
// a name instead of a property shows as a gap in a row; so does a new family, source or chemistry of
// which nobody thought. go test ./core/verdict -run Rules -update writes it anew.
func TestRulesByProperty(t *testing.T) {
	type fed struct {
		name   string
		source design.Source
		cell   *design.Cell
		leds   int
	}
	feeds := []fed{
		{"mains", design.Source{Mains: &design.Mains{VoltageV: 230, FrequencyHz: 50}}, nil, 10},
		{"adapter", design.Source{Supply: &design.Supply{VoltageV: 12, ResistanceOhm: 0.2}}, nil, 3},
		{"rail", design.Source{Supply: &design.Supply{VoltageV: 12, MaxCurrentA: p(2.0), Kind: "rail"}}, nil, 3},
		{"bench", design.Source{Supply: &design.Supply{VoltageV: 12, MaxCurrentA: p(0.3), Kind: "bench"}}, nil, 3},
		{"power-bank", design.Source{Supply: &design.Supply{VoltageV: 5, ResistanceOhm: 0.1, Kind: "power-bank"}}, nil, 1},
	}
	series := map[string]int{"li-ion-4.2": 3, "li-ion-4.35": 3, "lifepo4": 4, "nimh": 10, "alkaline": 8, "zinc-carbon": 8, "lead-acid": 6, "lithium-3.0": 4, "lithium-1.5": 8}
	for _, chemistry := range []string{"li-ion-4.2", "li-ion-4.35", "lifepo4", "nimh", "alkaline", "zinc-carbon", "lead-acid", "lithium-3.0", "lithium-1.5"} {
		feeds = append(feeds, fed{chemistry, design.Source{Pack: &design.Pack{PartID: "c", Series: series[chemistry], Parallel: 1, FuseA: p(20.0), Build: "soldered"}}, &design.Cell{Chemistry: chemistry, CapacityAh: 2, ResistanceOhm: 0.05, MaxDischargeA: p(4.0)}, 3})
	}
	var got []string
	for _, family := range families {
		for _, f := range feeds {
			d := design.Driver{Family: family, SetCurrentA: p(0.35), SetVoltageV: p(9.5), ResistanceOhm: p(10.0), DropV: p(1.0), Efficiency: p(0.88), Isolated: p(false)}
			if family == "window" {
				d.MinVoltageV, d.MaxVoltageV = p(2.0), p(50.0)
			}
			if f.name == "mains" {
				d.SetVoltageV = p(31.0)
			}
			b := newBench(f.source, d, f.leds)
			b.light.Variants[0].Bodies[0].Touchable, b.light.Conditions.NearWater = true, true
			if f.cell != nil {
				b.light.Parts = append(b.light.Parts, design.Part{ID: "c", Name: "Cell", Cell: f.cell})
			}
			var told []string
			for _, x := range judgeLight(t, b.light) {
				if x.Code != "assumed-droop" {
					told = append(told, fmt.Sprintf("%s:%s", x.Severity, x.Code))
				}
			}
			slices.Sort(told)
			got = append(got, fmt.Sprintf("%s on %s: %s", family, f.name, strings.Join(slices.Compact(told), " ")))
		}
	}
	const file = "testdata/rules.txt"
	text := strings.Join(got, "\n") + "\n"
	if *update {
		if err := os.WriteFile(file, []byte(text), 0o644); err != nil {
			t.Fatal(err)
		}
		return
	}
	kept, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	was := strings.Split(strings.TrimSuffix(string(kept), "\n"), "\n")
	if len(was) != len(got) {
		t.Fatalf("%d rows, %d kept", len(got), len(was))
	}
	for i := range got {
		if got[i] != was[i] {
			t.Errorf("was %s\nis  %s", was[i], got[i])
		}
	}
}
