package begin_test

import (
	"strings"
	"testing"

	"photherm/core/begin"
)

// What of a line changed nothing is told beside what it was taken to mean; what did, or could not,
// is not.
func TestUnusedWordsAreTold(t *testing.T) {
	for _, c := range []struct{ fact, words, understood, unused string }{
		{"body", "concrete slab 300 × 300 × 50 mm", "a plate, 300 mm × 300 mm", "concrete · slab"},
		{"body", "oak plank 300 × 100 × 20 mm", "of wood", ""},
		{"body", "5 K/W sink with fan", "5.00 K/W", "fan"},
		{"body", "20 cm² of 2 mm aluminium", "of surface", "2.00 mm"}, // how thick: a surface has none
		{"emitters", "3 W white LED from an old torch", "3.00 W", "torch"},
		{"emitters", "red 660nm 1 W", "deep-red", ""}, {"emitters", "green 660nm 1 W", "deep-red", "green"},
		{"emitters", "3 W and 5 W", "3.00 W", "5.00 W"},
		{"emitters", "2835 × 12, 0.5 W each", "12 of them", ""},
		{"driver", "buck 700 mA 2 A", "at most 700 mA", "2.00 A"},
		{"driver", "step-down 700 mA yellow sticker yellow", "at most 700 mA", "yellow · sticker"},
		{"source", "scooter pack 36 V", "10S1P", "scooter"},
		{"source", "4 × 18650, 2.5 Ah", "2.50 Ah 18650", ""},
		{"readings", "5 V 0.4 A in the shed", "5.00 V 400 mA", "shed"},
		{"hours", "6 h a day on weekdays", "lit 6 h", "weekdays"},
		{"pieces", "2 × 1 m left, 0.5 m left", "3 pieces", "left"},
		{"source", "12 V lead-acid in a shed", "6S1P of 7.00 Ah lead-acid", "shed"}, // of strip it is read twice
		{"driver", "sticker", "", ""},                                               // that all of it tells nothing is remarked
	} {
		f := begin.Facts{Way: map[string]string{"readings": "meter", "pieces": "strip"}[c.fact]}
		if strings.Contains(c.words, "lead-acid") {
			f.Way = "strip"
		}
		if f.Way == "" {
			f.Way = "parts"
		}
		*map[string]*string{"pieces": &f.Pieces, "emitters": &f.Emitters, "source": &f.Source, "hours": &f.Hours, "body": &f.Body, "readings": &f.Readings, "driver": &f.Driver}[c.fact] = c.words
		b, err := begin.For(f)
		if err != nil {
			t.Errorf("%q: %v", c.words, err)
			continue
		}
		if got := b.Understood[c.fact]; !strings.Contains(got, c.understood) || b.Unused[c.fact] != c.unused {
			t.Errorf("%s %q: understood %q, unused %q; want %q and %q", c.fact, c.words, got, b.Unused[c.fact], c.understood, c.unused)
		}
	}
}
