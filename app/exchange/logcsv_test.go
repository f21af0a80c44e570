package exchange

import (
	"bytes"
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"
)

// Logs as loggers of several countries write them.
func TestReadLog(t *testing.T) {
	for name, c := range map[string]struct {
		text     string
		s        []float64
		first    []float64 // of each channel
		quantity string
		bad      int
		why      string
	}{
		"commas, points":      {"time,temp (°C),I [mA]\n0,20.5,300\n10,21.5,310\n", []float64{0, 10}, []float64{20.5, 0.3}, "temperature current", 0, ""},
		"semicolons, commas":  {"Zeit;Temperatur (°C)\n0;20,5\n10;21,5\n20;22,25\n", []float64{0, 10, 20}, []float64{20.5}, "temperature", 0, ""},
		"tabs, no heading":    {"0\t4.1\n1.5\t4.0\n", []float64{0, 1.5}, []float64{4.1}, "", 0, ""},
		"minutes":             {"Minutes (min),T °F\n0,68\n1,77\n", []float64{0, 60}, []float64{20}, "temperature", 0, ""},
		"clock faces":         {"t;V\n0:59:58;4,2\n1:00:00;4,1\n1:00:02,5;4,0\n", []float64{0, 2, 4.5}, []float64{4.2}, "voltage", 0, ""},
		"hours and minutes":   {"Time,Volts (mV)\n18:30,4100\n18:31,4000\n19:00,3990\n", []float64{0, 60, 1800}, []float64{4.1}, "voltage", 0, ""},
		"minutes and seconds": {"Time,V\n0:30,4.1\n1:00,4\n18:30,3.9\n", []float64{0, 30, 1080}, []float64{4.1}, "voltage", 0, ""},
		"minutes, as is said": {"Time (min),V\n18:30,4.1\n18:40,4\n", []float64{0, 10}, []float64{4.1}, "voltage", 0, ""},
		"hours, as is said":   {"Time (h),V\n1:30,4.1\n2:00,4\n", []float64{0, 1800}, []float64{4.1}, "voltage", 0, ""},
		"past midnight":       {"time;V\n23:59:50;4,1\n00:00:10;4,0\n13:00:00;3,9\n00:00:00;3,8\n", []float64{0, 20, 46810, 86410}, []float64{4.1}, "voltage", 0, ""},
		"an hour back":        {"time;V\n10:00:00;4,1\n09:00:00;4,0\n10:00:01;3,9\n", []float64{0, 1}, []float64{4.1}, "voltage", 1, "its clock goes back"},
		"dates":               {"Timestamp,A\n2026-11-28 19:00:00,1\n2026-11-28 19:00:10,1.1\n", []float64{0, 10}, []float64{1}, "current", 0, ""},
		"days first":          {"date;mV\n28.11.2026 23:59:59;4100\n29.11.2026 00:00:01;4000\n", []float64{0, 2}, []float64{4.1}, "voltage", 0, ""},
		"seconds of the era":  {"time,lux\n1790000000,100\n1790000060,90\n", []float64{0, 60}, []float64{100}, "illuminance", 0, ""},
		"time comes last":     {"V,time\n4.2,5\n4.1,6\n", []float64{0, 1}, []float64{4.2}, "voltage", 0, ""},
		"a clock untold":      {"n;x;y\n1;20;10:00:00\n2;21;10:00:05\n", []float64{0, 5}, []float64{1, 20}, " ", 0, ""},
		"a word among them":   {"t,C\n0,20\n1,OL\n2,21\n", []float64{0, 2}, []float64{20}, "temperature", 1, `line 3: "OL" is no figure`},
		"markup":              {"t,C\n0,20\n1,<img src=x onerror=alert(1)>\n2,21\n", []float64{0, 2}, []float64{20}, "temperature", 1, "is no figure"},
		"the clock goes back": {"t,C\n0,20\n10,21\n5,22\n10,23\n11,24\n", []float64{0, 10, 11}, []float64{20}, "temperature", 2, "line 4: its clock goes back"},
		"a gap in a column":   {"t,V,A\n0,4.2,\n1,,1\n2,4.1,1\n3,,\n", []float64{0, 1, 2}, []float64{4.2, math.NaN()}, "voltage current", 1, "it has no figure"},
		"a title above":       {"Logger 3\n\ntime (s);T (°C)\n0;20\n1;21\n", []float64{0, 1}, []float64{20}, "temperature", 0, ""},
	} {
		got, err := ReadLog(strings.NewReader(c.text))
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		var quantities []string
		for _, ch := range got.Channels {
			quantities = append(quantities, ch.Quantity)
		}
		if fmt.Sprintf("%.6g", got.S) != fmt.Sprintf("%.6g", c.s) || strings.Join(quantities, " ") != c.quantity || got.Bad != c.bad {
			t.Errorf("%s: %v %v, %d bad %v", name, got.S, quantities, got.Bad, got.Aside)
		}
		for i, want := range c.first {
			if x := got.Values[i][0]; math.Abs(x-want) > 1e-9 || math.IsNaN(x) != math.IsNaN(want) {
				t.Errorf("%s: channel %d begins with %g, want %g", name, i, x, want)
			}
		}
		if c.why != "" && !strings.Contains(fmt.Sprintf("line %d: %s", got.Aside[0].Line, got.Aside[0].Why), c.why) {
			t.Errorf("%s: %+v", name, got.Aside)
		}
	}
	for name, text := range map[string]string{"empty": " ", "words": "a,b\nc,d\n", "one row": "t,C\n0,20\n", "bytes": "\x00\x01\x02,\xff\n", "a picture": "\x89PNG\r\n\x1a\n\x00\x00"} {
		if _, err := ReadLog(strings.NewReader(text)); !errors.Is(err, ErrNoLog) {
			t.Errorf("%s: %v", name, err)
		}
	}
	// Only the first rows that are kept aside are kept, and no more of each than tells it.
	text := "t,C\n0,20\n1,21\n" + strings.Repeat("x,"+strings.Repeat("y", 500)+"\n", 100)
	if got, err := ReadLog(strings.NewReader(text)); err != nil || got.Bad != 100 || len(got.Aside) != mostAside || len([]rune(got.Aside[0].Text)) > asideRunes+1 {
		t.Errorf("%v", err)
	}
}

// What is written is read again as it was.
func TestLogThereAndBack(t *testing.T) {
	channels := []Channel{{"T (°F)", "temperature", "°F"}, {"=V (V)", "voltage", "V"}}
	s, values := []float64{0, 0.1, 7.25}, [][]float64{{20, math.NaN(), 21.5}, {4.2, 4.1, 1e-7}}
	var b bytes.Buffer
	if err := WriteLog(&b, channels, s, values); err != nil {
		t.Fatal(err)
	}
	if strings.Contains(b.String(), ",=V") {
		t.Errorf("a heading that is a formula: %s", b.String())
	}
	got, err := ReadLogAs(&b, channels)
	if err != nil || fmt.Sprint(got.S, got.Values) != fmt.Sprint(s, values) {
		t.Errorf("%+v %v", got, err)
	}
}

// What the columns of a log seem to be; and read by what somebody says they are.
func TestColumns(t *testing.T) {
	for name, c := range map[string]struct {
		text string
		want string
		sure bool
	}{
		"headings that tell":  {"time (min);T (°F);I (mA);mark\n0;68;1;on\n1;70;2;\n", "time min, figure °F, figure mA, mark ", true},
		"a clock of the day":  {"time;V\n18:30;4\n18:40;5\n", "time h, figure V", true},
		"an unknown quantity": {"time;lamp level\n0;1\n1;2\n", "time s, figure ", false},
		"words that tell":     {"time;body_temp;Pack volts\n0;20;4\n1;21;4\n", "time s, figure °C, figure V", true},
		"no headings":         {"0\t4.1\n1\t4.0\n", "time s, figure ", false},
		"words all the way":   {"t,who,V\n0,ann,4\n1,bob,5\n", "time s, none , figure V", true},
	} {
		look, err := LookAtLog(strings.NewReader(c.text))
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		var got []string
		for _, col := range look.Columns {
			got = append(got, col.Use+" "+col.Unit)
		}
		if strings.Join(got, ", ") != c.want || look.Sure != c.sure || len(look.First) < 2 {
			t.Errorf("%s: %v, sure %v, %v", name, got, look.Sure, look.First)
		}
	}
	if _, err := LookAtLog(strings.NewReader("a,b\nc,d\n")); !errors.Is(err, ErrNoLog) {
		t.Errorf("words: %v", err)
	}
	said := []Column{{Use: NoColumn}, {Use: FigureColumn, Unit: "klx"}, {Use: MarkColumn}, {Use: TimeColumn, Unit: "ms"}, {Use: TimeColumn}, {Use: FigureColumn, Name: "raw"}}
	log, err := ReadLogBy(strings.NewReader("9,1.5,,0,7,3\n9,2.5,fan off,500,7,4\n"), said)
	if err != nil {
		t.Fatal(err)
	}
	if fmt.Sprint(log.S) != "[0 0.5]" || fmt.Sprint(log.Values) != "[[1500 2500] [3 4]]" || len(log.Marks) != 1 || log.Marks[0] != (Mark{0.5, "fan off"}) || log.Channels[0].Name != "column 2" || log.Channels[1].Quantity != "" {
		t.Errorf("%+v", log)
	}
	if _, err := ReadLogBy(strings.NewReader("0,1\n1,2\n"), []Column{{Use: FigureColumn}}); !errors.Is(err, ErrNoLog) {
		t.Errorf("without a time: %v", err)
	}
}
