package begin

import (
	"fmt"
	"strings"
	"testing"

	"photherm/core/design"
)

// Where nobody says what fed an old lamp, its volts, its cap or its watts tell; and what people call
// sockets and packs by is no wall and no cell of size C.
func TestWhatFedIt(t *testing.T) {
	for _, c := range []struct{ was, source, want string }{
		{"400 W HPS", "", "mains 230 V"},
		{"par can 64 1000 W", "", "mains 230 V"},
		{"sewing machine bulb 15 W 120 V", "", "mains 120 V"},
		{"GU10 50 W", "", "mains 230 V"},
		{"MR 16 35 W", "", "supply 12 V"},
		{"12 V 21 W tail light bulb", "", "supply 12 V"},
		{"torch bulb 0.5 A", "", "pack 1S1P li-ion-4.2"},
		{"candle", "", "pack 1S1P li-ion-4.2"},
		{"bulb 12 W", "", "pack 1S1P li-ion-4.2"},
		{"H7 headlight 55 W", "", "pack 6S1P lead-acid"},
		{"CFL 8 W", "", "mains 230 V"},
		{"fairy lights, 20 lamps", "", "mains 230 V"},
		{"1200 lm", "", "mains 230 V"},
		{"100 lm", "", "pack 1S1P li-ion-4.2"},
		{"dynamo lamp 3 W", "", "supply 6 V"},
		{"lantern of 8 D cells, tube 9 W", "", "pack 8S1P alkaline"},
		{"torch of one AA", "", "pack 1S1P alkaline"},
		{"400 W HPS", "12 V 7 Ah battery", "pack 6S1P lead-acid"},
		{"", "car cigarette lighter socket", "supply 12 V"},
		{"", "truck socket", "supply 24 V"},
		{"", "socket", "mains 230 V"},
		{"", "LiPo 3S 2200mAh 25C", "pack 3S1P li-ion-4.2"},
		{"", "3C 8000 mAh", "pack 3S1P alkaline"},
		{"", "two AAs", "pack 2S1P alkaline"},
		{"", "4 D-cells", "pack 4S1P alkaline"},
		{"", "18500 cell", "pack 1S1P li-ion-4.2"},
		{"", "23A 12V", "pack 8S1P alkaline"},
		{"", "12 V 23A supply", "supply 12 V"},
		{"", "powerbank 20000 mAh", "supply 5 V"},
	} {
		b, err := For(Facts{Way: "lamp", Was: c.was, Source: c.source})
		if err != nil {
			t.Errorf("%q, %q: %v", c.was, c.source, err)
			continue
		}
		got := ""
		switch s := b.Light.Variants[0].Feeds[0].Sources[0]; {
		case s.Mains != nil:
			got = fmt.Sprintf("mains %g V", s.Mains.VoltageV)
		case s.Supply != nil:
			got = fmt.Sprintf("supply %g V", s.Supply.VoltageV)
		case s.Pack != nil:
			got = fmt.Sprintf("pack %dS%dP %s", s.Pack.Series, s.Pack.Parallel, b.Light.Part(s.Pack.PartID).Cell.Chemistry)
		}
		if got != c.want {
			t.Errorf("%q, %q: %s, want %s", c.was, c.source, got, c.want)
		}
	}
	// What one of them took, where nobody says: by its kind on the wall, by its volts elsewhere.
	for was, want := range map[string]string{
		"pendant with 4 GU10": "4 × halogen bulb, 140 W", "bulb E27": "a bulb, 40.0 W", "LED bulb GU10": "an LED lamp, 9.00 W", "600 lm": "a bulb, 50.0 W", "GU10 200 lm": "a halogen bulb, 13.0 W",
		"100 LED headlamp": "100 × LED lamp, 6.60 W", "20 fairy lights": "20 × lamp of fairy lights, 10.0 W", "three 40 W candle bulbs": "3 × bulb, 120 W", "3 candles": "3 × candle", "double ended halogen 150 W": "a halogen bulb, 150 W",
	} {
		if b, err := For(Facts{Way: "lamp", Was: was}); err != nil || !strings.HasPrefix(b.Understood["was"], want) {
			t.Errorf("%q: %q, %v; want %q", was, b.Understood["was"], err, want)
		}
	}
	two, err := For(Facts{Way: "parts", Emitters: "660nm deep red 3W x 12, 450 nm royal blue x 4"})
	if err != nil {
		t.Fatal(err)
	}
	count := 0
	for n := range design.Nodes(&two.Light.Variants[0]) {
		if n.Array != nil {
			count += n.Array.Series * n.Array.Parallel * max(n.Array.Count, 1) * max(n.Count, 1)
		}
	}
	if count != 12 {
		t.Errorf("of two kinds %d are taken, not the first 12", count)
	}
}
