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
		"3 in series, 4 strings, 1 A":    {series: 3, parallel: 4, figures: map[string]span{"current": {1, 1}}},
		"Vf 3.1 If 700 mA":               {figures: map[string]span{"voltage": {3.1, 3.1}, "current": {0.7, 0.7}}},
		"Vf=2.9-3.4 V":                   {figures: map[string]span{"voltage": {2.9, 3.4}}},
		"PAR 64 1000 W":                  {figures: map[string]span{"power": {1000, 1000}}},
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
		"four 3535 at 700 mA":            {count: 4, figures: map[string]span{"current": {0.7, 0.7}}},
		"36 x 1 W red and 12 x 1 W blue": {count: 36, figures: map[string]span{"power": {1, 1}}},
		"2 strings of 5 white 350 mA":    {series: 5, parallel: 2, figures: map[string]span{"current": {0.35, 0.35}}},
		"three chains of six":            {series: 6, parallel: 3},
		"3000 K 90 CRI 30 W":             {figures: map[string]span{"power": {30, 30}}},
		"Ra 95, CRI>80, 20 W":            {figures: map[string]span{"power": {20, 20}}},
		"60° beam 10 W":                  {figures: map[string]span{"power": {10, 10}}},
		"panel 300x300 18 W":             {figures: map[string]span{"power": {18, 18}}},
		"100x350mA":                      {count: 100, figures: map[string]span{"current": {0.35, 0.35}}},
		"2835 x 120":                     {count: 120},
		"a coin cell":                    {size: "CR2032"},
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

// How many are wired, and made for what, by the words beside a number.
func TestCountsByTheirWords(t *testing.T) {
	begun := func(f Facts) *Begun {
		f.Way = "parts"
		b, err := For(f)
		if err != nil {
			t.Fatal(err)
		}
		return b
	}
	pack := func(words string) *design.Pack {
		return begun(Facts{Source: words, Emitters: "white 9 V 20 mA", Driver: "linear"}).Light.Variants[0].Feeds[0].Sources[0].Pack
	}
	for words, series := range map[string]int{"a coin cell": 1, "2 coin cells": 2, "CR2032": 5, "one 18650 cell": 1, "an AA cell": 1, "AA": 12} {
		if p := pack(words); p.Series*p.Parallel != series {
			t.Errorf("%q: %dS%dP", words, p.Series, p.Parallel)
		}
	}
	for words, amps := range map[string]float64{"2835": 0.06, "36 × 5730": 0.15, "3535": 0.35, "3030 1 W": 1.0 / 3, "2835 100 mA": 0.1, "3 W": 1} {
		if e := begun(Facts{Emitters: words}).Light.Part("led").Emitter; math.Abs(*e.RatedCurrentA-amps) > 1e-9 {
			t.Errorf("%q: %g A", words, *e.RatedCurrentA)
		}
	}
	b := begun(Facts{Source: "12 V supply 5 A", Emitters: "12 V 1.5 W module x 20"})
	var load *design.Node
	for n := range design.Nodes(&b.Light.Variants[0]) {
		if n.Load != nil {
			load = n
		}
	}
	if load == nil || load.Count != 20 || b.Understood["emitters"] != "20 modules, each of 1.50 W at 12.0 V" {
		t.Errorf("%+v, %q", load, b.Understood["emitters"])
	}
	lamp, err := For(Facts{Way: "lamp", Source: "24 V supply", Emitters: "12 V 1.5 W module x 4", Driver: "step-down two-pot 12 V"})
	if err != nil {
		t.Fatal(err)
	}
	set := 0.0
	for n := range design.Nodes(&lamp.Light.Variants[0]) {
		if n.Driver != nil && n.Driver.SetCurrentA != nil {
			set = *n.Driver.SetCurrentA
		}
	}
	if math.Abs(set-4*1.5/12) > 1e-9 {
		t.Errorf("a driver for four modules is set to %g A", set)
	}
	if b := begun(Facts{Emitters: "4 x 1 W and 2 x 3 W"}); len(b.Remarks) != 1 || b.Light.Variants[0].Feeds[0].Loads == nil {
		t.Errorf("two kinds: %v", b.Remarks)
	}
	if b := begun(Facts{Emitters: "36 x 1 W deep red, 12 x 1 W blue"}); len(b.Remarks) != 1 {
		t.Errorf("two colours: %v", b.Remarks)
	}
	for _, one := range []string{"deep red 1 W", "royal blue 1 W"} {
		if b := begun(Facts{Emitters: one}); len(b.Remarks) != 0 {
			t.Errorf("%s: %v", one, b.Remarks)
		}
	}
	for words, want := range map[string]struct {
		family string
		volts  float64
	}{
		"usb step up 5 V to 12 V": {"voltage", 12}, "step down module 24 V to 12 V 3 A": {"voltage", 12}, "two-pot module 8-36 V, set to 10 V 1 A": {"voltage", 10}, "pwm dimmer 12 V 8 A": {"none", 0},
	} {
		b := begun(Facts{Emitters: "10 W 9–12 V", Driver: words})
		d := b.Light.Part("driver").Driver
		var use *design.DriverUse
		for n := range design.Nodes(&b.Light.Variants[0]) {
			if n.Driver != nil {
				use = n.Driver
			}
		}
		if d.Family != want.family || want.volts > 0 && (use.SetVoltageV == nil || *use.SetVoltageV != want.volts) {
			t.Errorf("%q: %s set to %v", words, d.Family, use.SetVoltageV)
		}
	}
	for words, amps := range map[string]float64{"linear 8x 350 mA": 2.8, "linear 0.5 A of two transistors": 0.5} {
		b := begun(Facts{Emitters: "10 W 3 V", Driver: words})
		for n := range design.Nodes(&b.Light.Variants[0]) {
			if n.Driver != nil && math.Abs(*n.Driver.SetCurrentA-amps) > 1e-9 {
				t.Errorf("%q: %g A", words, *n.Driver.SetCurrentA)
			}
		}
	}
}
