package begin

import (
	"fmt"
	"strings"
	"testing"
)

// Cells of several kinds in one line: the first kind alone, or all with the least charge of them,
// and it is told which; cells said in two breaks of one kind are one pack.
func TestUnlikeCells(t *testing.T) {
	for line, want := range map[string]struct{ pack, told string }{
		"2 NiMH AA and 1 lithium 18650":                    {"2S1P 2 Ah nimh", "Only “2 NiMH AA” is taken"},
		"one li-ion 18650 and one LiFePO4 18650 in series": {"1S1P 2.5 Ah li-ion-4.2", "Only “one li-ion 18650” is taken"},
		"3 D cells, 2 C cells":                             {"3S1P 13 Ah alkaline", "Only “3 D cells” is taken"},
		"6 AA and a 9V block":                              {"6S1P 2.2 Ah alkaline", "Only “6 AA” is taken"},
		"4S 18650, 4S 21700":                               {"4S1P 2.5 Ah li-ion-4.2", "Only “4S 18650” is taken"},
		"two 18650 2.5Ah and one 18650 1.9Ah":              {"3S1P 1.9 Ah li-ion-4.2", "all 3 are taken as 1.90 Ah"},
		"2x 2000mAh + 2x 2600mAh":                          {"4S1P 2 Ah li-ion-4.2", "all 4 are taken as 2.00 Ah"},
		"4 AA, alkaline or NiMH":                           {"4S1P 2 Ah nimh", "nickel-metal hydride is taken"},
		"lithium or alkaline AA, 4 of them":                {"4S1P 2.2 Ah alkaline", "alkaline is taken"},
		"2 AA and 2 AA":                                    {"4S1P 2.2 Ah alkaline", ""},
		"18650, 3000 mAh, 4 of them":                       {"4S1P 3 Ah li-ion-4.2", ""},
		"lithium iron phosphate 18650, 4S":                 {"4S1P 2.5 Ah lifepo4", ""},
		"4 AA, 6 V battery":                                {"4S1P 2.2 Ah alkaline", ""},
		"4 18650 in series and 4 18650 2600mAh":            {"4S1P 2.5 Ah li-ion-4.2", "“4 18650 in series” is taken"},
		"1S2P 18650 and 1S2P 18650":                        {"1S2P 2.5 Ah li-ion-4.2", "Of several packs"},
		"2P 18650 and 2P 18650":                            {"1S2P 2.5 Ah li-ion-4.2", "Of several packs"},
	} {
		b, err := For(Facts{Way: "lamp", Source: line})
		if err != nil {
			t.Errorf("%q: %v", line, err)
			continue
		}
		pack := b.Light.Variants[0].Feeds[0].Sources[0].Pack
		cell := b.Light.Part(pack.PartID).Cell
		if got := fmt.Sprintf("%dS%dP %g Ah %s", pack.Series, pack.Parallel, cell.CapacityAh, cell.Chemistry); got != want.pack {
			t.Errorf("%q: %s, want %s", line, got, want.pack)
		}
		told := ""
		for _, r := range b.Remarks {
			if r.Fact == "source" {
				told += r.Why + " "
			}
		}
		if want.told == "" && told != "" || !strings.Contains(told, want.told) {
			t.Errorf("%q: told %q, want %q", line, told, want.told)
		}
	}
}
