package begin

import (
	"errors"
	"math"
	"testing"

	"photherm/core/design"
)

// A figure in a small unit is not off in its last digits: 700 mA is 0.7 A.
func TestFiguresAreExact(t *testing.T) {
	for line, want := range map[string]float64{"700 mA": 0.7, "350 mA": 0.35, "1,1 A": 1.1, "57 mA": 0.057} {
		if a := parse(line).figure("current"); a == nil || *a != want {
			t.Errorf("%q: %v, want %g", line, *a, want)
		}
	}
}

// What people write on labels and beside them.
func TestWordsAreRead(t *testing.T) {
	near := func(a, b float64) bool { return math.Abs(a-b) <= 1e-9*math.Abs(b) }
	for line, want := range map[string]struct {
		count, series, parallel int
		size                    string
		figures                 map[string]span
	}{
		"10 W, 9–12 V, 900 mA":           {figures: map[string]span{"power": {10, 10}, "voltage": {9, 12}, "current": {0.9, 0.9}}},
		"10W 9-12V 900mA":                {figures: map[string]span{"power": {10, 10}, "voltage": {9, 12}, "current": {0.9, 0.9}}},
		"9 V to 12 V":                    {figures: map[string]span{"voltage": {9, 12}}},
		"four reclaimed 2 Ah cells":      {count: 4, figures: map[string]span{"charge": {2, 2}}},
		"4 × 18650, 2000 mAh":            {count: 4, size: "18650", figures: map[string]span{"charge": {2, 2}}},
		"4x18650 4S1P":                   {count: 4, size: "18650", series: 4, parallel: 1},
		"2S2P 21700":                     {size: "21700", series: 2, parallel: 2},
		"five 1.28 Ah cells in parallel": {count: 5, parallel: -1, figures: map[string]span{"charge": {1.28, 1.28}}},
		"3 AAA in series":                {count: 3, size: "AAA", series: -1},
		"5 × 1 m":                        {count: 5, figures: map[string]span{"length": {1, 1}}},
		"24 V 15 W/m":                    {figures: map[string]span{"voltage": {24, 24}, "powerPerLength": {15, 15}}},
		"36 V 1,4 A 56 %":                {figures: map[string]span{"voltage": {36, 36}, "current": {1.4, 1.4}, "fraction": {0.56, 0.56}}},
		"1 W 1–9 V":                      {figures: map[string]span{"power": {1, 1}, "voltage": {1, 9}}},
		"1500 in²":                       {figures: map[string]span{"area": {1500 * 0.00064516, 1500 * 0.00064516}}},
		"18650 × 3":                      {count: 3, size: "18650"},
		"AA x 4":                         {count: 4, size: "AA"},
		"4xAA":                           {count: 4, size: "AA"},
		"CR123 x2":                       {count: 2, size: "CR123A"},
		"two CR-123A":                    {count: 2, size: "CR123A"},
		"5050 × 12":                      {count: 12},
		"2835":                           {},
		"500":                            {count: 500},
		"501":                            {},
		"395nm 3W":                       {figures: map[string]span{"power": {3, 3}}},
		"T8 58 W":                        {figures: map[string]span{"power": {58, 58}}},
		"E10 2.5V 0.3A":                  {figures: map[string]span{"voltage": {2.5, 2.5}, "current": {0.3, 0.3}}},
		"LED3W":                          {figures: map[string]span{"power": {3, 3}}},
		"3x1W":                           {count: 3, figures: map[string]span{"power": {1, 1}}},
		"120 lm/W 350 mA to 700 mA":      {figures: map[string]span{"efficacy": {120, 120}, "current": {0.35, 0.7}}},
	} {
		s := parse(line)
		if s.count != want.count || s.series != want.series || s.parallel != want.parallel || s.size != want.size {
			t.Errorf("%q: count %d series %d parallel %d size %q", line, s.count, s.series, s.parallel, s.size)
		}
		for q, x := range want.figures {
			if got, ok := s.first(q); !ok || !near(got.low, x.low) || !near(got.high, x.high) {
				t.Errorf("%q: %s is %v, want %v", line, q, s.figures[q], x)
			}
		}
		if len(s.figures) != len(want.figures) {
			t.Errorf("%q: read %v", line, s.figures)
		}
	}
}

func FuzzWords(f *testing.F) {
	for _, line := range []string{"10 W, 9–12 V", "4S", "9-", "1- ", "9 V to ", "- 5", "3 to ", "5 mA-", "2s3p x 4"} {
		f.Add(line)
	}
	f.Fuzz(func(t *testing.T, line string) {
		// Whatever is said, a light comes of it.
		for _, way := range []string{"parts", "strip", "meter", "lamp"} {
			if _, err := For(Facts{Way: way, Source: line, Emitters: line, Driver: line, Body: line, Readings: line, Pieces: line, Area: line, Hours: line, Was: line}); err != nil && !errors.As(err, new(design.Problems)) {
				t.Errorf("%s %q: %v", way, line, err)
			}
		}
		for q, list := range parse(line).figures {
			for _, x := range list {
				if math.IsNaN(x.low) || math.IsInf(x.high, 0) || x.low > x.high {
					t.Errorf("%q: %s from %v to %v", line, q, x.low, x.high)
				}
			}
		}
	})
}
