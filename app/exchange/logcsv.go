package exchange

import (
	"cmp"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"
)

// A Log is what a logger wrote down: channels over time.
type Log struct {
	Channels []Channel
	S        []float64   // seconds since the first row, rising
	Values   [][]float64 // of each channel, a value a row; NaN: none
	Marks    []Mark      // what happened meanwhile: a column of words under "mark"
	Aside    []BadRow    // rows that were not understood, the first few
	Bad      int         // how many
}

// A Channel is a column of a log.
type Channel struct {
	Name     string `json:"name"`
	Quantity string `json:"quantity" doc:"temperature, voltage, current, power, illuminance, or empty: not known"`
	Unit     string `json:"unit" doc:"As it stands in the heading; values are kept in SI, temperatures in °C"`
}

// A Mark is something that happened while a log was written, at a time of the log.
type Mark struct {
	S    float64
	Text string
}

// A BadRow was kept aside.
type BadRow struct {
	Line int    `json:"line"`
	Text string `json:"text"`
	Why  string `json:"why"`
}

// How many rows that are kept aside are shown, how much of each, and how many columns there may
// be (chosen).
const (
	mostAside    = 20
	asideRunes   = 80
	mostChannels = 16
)

// ErrNoLog is the error of a text that is no log. What it says after the colon is for people.
var ErrNoLog = errors.New("this is no log of readings")

// ReadLog reads a log from CSV: parted by tabs, semicolons or commas; decimals with a point or,
// where commas do not part, a comma; a heading with units or none. The time stands in the column
// whose heading says so, else the first: in seconds (or what its heading says), as h:mm:ss, as a
// date with time, or in seconds of the era. Rows that are not understood, or whose clock stands
// or goes back, are kept aside, named by line.
func ReadLog(r io.Reader) (*Log, error) { return ReadLogBy(r, nil) }

// ReadLogBy reads a log by what somebody said of its columns, in their order; nothing said is as
// ReadLog does.
func ReadLogBy(r io.Reader, said []Column) (*Log, error) {
	if said != nil && !slices.ContainsFunc(said, func(c Column) bool { return c.Use == TimeColumn }) {
		return nil, fmt.Errorf("%w: no column is its time", ErrNoLog)
	}
	l, err := readLog(r, said, math.MaxInt)
	if err != nil {
		return nil, err
	}
	if len(l.log.S) < 2 {
		why := "it has not two rows with a time and a figure"
		if len(l.log.Aside) > 0 {
			why += fmt.Sprintf("; line %d: %s", l.log.Aside[0].Line, l.log.Aside[0].Why)
		}
		return nil, fmt.Errorf("%w: %s", ErrNoLog, why)
	}
	return l.log, nil
}

func readLog(r io.Reader, said []Column, most int) (*logReader, error) {
	text, err := io.ReadAll(r)
	if err != nil {
		return nil, fmt.Errorf("reading a log: %w", err)
	}
	all := strings.TrimPrefix(string(text), "\ufeff")
	if strings.TrimSpace(all) == "" || !utf8.ValidString(all[:min(len(all), 4096)]) && !utf8.ValidString(all) || strings.ContainsRune(all[:min(len(all), 4096)], 0) {
		return nil, fmt.Errorf("%w: it is empty, or no text", ErrNoLog)
	}
	sep := separator(all)
	rows := csv.NewReader(strings.NewReader(all))
	rows.Comma, rows.FieldsPerRecord, rows.LazyQuotes, rows.ReuseRecord, rows.TrimLeadingSpace = sep, -1, true, true, sep != '\t'
	l := &logReader{comma: sep != ',', mark: -1, said: said, log: new(Log)}
	for len(l.log.S) < most {
		row, err := rows.Read()
		if err == io.EOF {
			break
		}
		line, _ := rows.FieldPos(0)
		if err != nil {
			l.aside(line, strings.Join(row, string(sep)), "it cannot be taken apart")
			continue
		}
		l.row(line, row, string(sep))
	}
	return l, nil
}

// separator is what parts the columns: the one of which most lines have as many.
func separator(text string) rune {
	best, most := ',', 0
	for _, sep := range []rune{'\t', ';', ','} {
		counts := map[int]int{}
		n := 0
		for line := range strings.Lines(text) {
			if n++; n > 30 {
				break
			}
			if k := strings.Count(line, string(sep)); k > 0 {
				counts[k]++
			}
		}
		for _, c := range counts {
			if c > most {
				best, most = sep, c
			}
		}
	}
	return best
}

type logReader struct {
	comma   bool // decimals may have one
	log     *Log
	heads   []string
	begun   bool
	at      int     // column of the time
	timeBy  float64 // seconds of its unit
	from    float64 // of the first row
	day     float64 // seconds of the days that a clock has gone through
	hands   *bool   // whether "10:30" is hours and minutes; nil: none was read yet
	scales  []scale
	columns []int // of each channel
	mark    int   // column of the marks; -1: none
	said    []Column
	first   [][]string // cells of the first rows
}

// markHead is the heading of a column of marks, and markRunes what is kept of one (chosen).
const (
	markHead  = "mark"
	markRunes = 120
)

// A scale turns a figure as it is written into SI.
type scale struct{ times, plus float64 }

func (l *logReader) aside(line int, text, why string) {
	l.log.Bad++
	if len(l.log.Aside) >= mostAside {
		return
	}
	if r := []rune(text); len(r) > asideRunes {
		text = string(r[:asideRunes]) + "…"
	}
	l.log.Aside = append(l.log.Aside, BadRow{line, strings.ToValidUTF8(text, "?"), why})
}

func (l *logReader) row(line int, row []string, sep string) {
	if len(row) == 1 && strings.TrimSpace(row[0]) == "" {
		return
	}
	if !l.begun {
		figures := 0
		for _, f := range row {
			if _, ok := l.number(f); ok {
				figures++
			} else if _, ok := clockOf(f); ok {
				figures++
			}
		}
		if figures < 2 {
			l.heads = append([]string(nil), row...) // the last line before figures is the heading
			return
		}
		l.begin(row)
	}
	if len(l.first) < samples {
		l.first = append(l.first, slices.Clone(row))
	}
	if l.at >= len(row) {
		l.aside(line, strings.Join(row, sep), "it has no time")
		return
	}
	t, ok := l.time(row[l.at])
	if !ok {
		l.aside(line, strings.Join(row, sep), "its time is not understood")
		return
	}
	if len(l.log.S) == 0 {
		l.from = t
	}
	t -= l.from
	if n := len(l.log.S); n > 0 && t <= l.log.S[n-1] {
		why := "its clock stands still: the same time twice"
		if t < l.log.S[n-1] {
			why = "its clock goes back"
		}
		l.aside(line, strings.Join(row, sep), why)
		return
	}
	any := false
	values := make([]float64, len(l.columns))
	for i, c := range l.columns {
		values[i] = math.NaN()
		if c >= len(row) || strings.TrimSpace(row[c]) == "" {
			continue
		}
		x, ok := l.number(row[c])
		if !ok {
			l.aside(line, strings.Join(row, sep), fmt.Sprintf("%q is no figure", row[c]))
			return
		}
		values[i], any = x*l.scales[i].times+l.scales[i].plus, true
	}
	if l.mark >= 0 && l.mark < len(row) {
		if text := []rune(strings.TrimSpace(row[l.mark])); len(text) > 0 {
			l.log.Marks = append(l.log.Marks, Mark{t, strings.ToValidUTF8(string(text[:min(len(text), markRunes)]), "?")})
		}
	}
	if !any {
		l.aside(line, strings.Join(row, sep), "it has no figure")
		return
	}
	l.log.S = append(l.log.S, t)
	for i := range values {
		l.log.Values[i] = append(l.log.Values[i], values[i])
	}
}

var timeWords = regexp.MustCompile(`(?i)^\W*(time|elapsed|zeit|date|datum|uhrzeit|seconds?|sec|min|minutes|t|s|timestamp)\b`)

func (l *logReader) begin(row []string) {
	l.begun, l.timeBy, l.at = true, 1, 0
	if l.said != nil {
		l.bySaid()
		return
	}
	if at := slices.IndexFunc(l.heads, func(h string) bool { return timeWords.MatchString(strings.TrimSpace(h)) }); at >= 0 {
		l.at = at
	} else if at := slices.IndexFunc(row, func(c string) bool { _, ok := clockOf(c); return ok }); at >= 0 {
		l.at = at // no heading tells, but it is written as clocks write it
	}
	if l.at < len(l.heads) {
		l.timeBy = timeUnit(unitIn(l.heads[l.at]))
	}
	for i := range row {
		if i < len(l.heads) && strings.EqualFold(strings.TrimSpace(l.heads[i]), markHead) && i != l.at {
			l.mark = i
			continue
		}
		if i == l.at || len(l.columns) == mostChannels {
			continue
		}
		name, unit := fmt.Sprintf("column %d", i+1), ""
		if i < len(l.heads) && strings.TrimSpace(l.heads[i]) != "" {
			name, unit = strings.TrimSpace(l.heads[i]), unitIn(l.heads[i])
		}
		c, by := channelOf(name, unit)
		if _, ok := l.number(row[i]); !ok && strings.TrimSpace(row[i]) != "" {
			continue // words all the way down
		}
		if r := []rune(c.Name); len(r) > 60 {
			c.Name = string(r[:60])
		}
		l.columns, l.scales = append(l.columns, i), append(l.scales, by)
		l.log.Channels = append(l.log.Channels, c)
		l.log.Values = append(l.log.Values, nil)
	}
}

// units of headings.
var logUnits = map[string]struct {
	quantity string
	scale    scale
}{
	"°c": {"temperature", scale{1, 0}}, "c": {"temperature", scale{1, 0}}, "degc": {"temperature", scale{1, 0}}, "celsius": {"temperature", scale{1, 0}},
	"°f": {"temperature", scale{5.0 / 9, -160.0 / 9}}, "f": {"temperature", scale{5.0 / 9, -160.0 / 9}}, "degf": {"temperature", scale{5.0 / 9, -160.0 / 9}}, "k": {"temperature", scale{1, -273.15}},
	"v": {"voltage", scale{1, 0}}, "mv": {"voltage", scale{1e-3, 0}}, "a": {"current", scale{1, 0}}, "ma": {"current", scale{1e-3, 0}}, "w": {"power", scale{1, 0}}, "mw": {"power", scale{1e-3, 0}}, "lx": {"illuminance", scale{1, 0}}, "lux": {"illuminance", scale{1, 0}}, "klx": {"illuminance", scale{1000, 0}},
	"ω": {"resistance", scale{1, 0}}, "ohm": {"resistance", scale{1, 0}}, "mω": {"resistance", scale{1e-3, 0}}, "µmol/m²s": {"ppfd", scale{1, 0}}, "µmol/m²/s": {"ppfd", scale{1, 0}}, "umol/m2/s": {"ppfd", scale{1, 0}},
}

var inBrackets = regexp.MustCompile(`[(\[]\s*([^)\]]+?)\s*[)\]]\s*$|[/_, ]\s*([^\s/_,()\[\]]+)\s*$`)

func unitIn(head string) string {
	if _, ok := logUnits[strings.ToLower(strings.TrimSpace(head))]; ok {
		return strings.TrimSpace(head)
	}
	m := inBrackets.FindStringSubmatch(strings.TrimSpace(head))
	if m == nil {
		return ""
	}
	return m[1] + m[2]
}

// quantityWords tell what a column without a unit holds, where they begin a word.
var quantityWords = []struct {
	in       *regexp.Regexp
	quantity string
}{
	{regexp.MustCompile(`(?i)(^|[^a-z])temp`), "temperature"}, {regexp.MustCompile(`(?i)(^|[^a-z])(volt|spannung)`), "voltage"},
	{regexp.MustCompile(`(?i)(^|[^a-z])(curr|amp|strom)`), "current"}, {regexp.MustCompile(`(?i)(^|[^a-z])(watt|power)`), "power"}, {regexp.MustCompile(`(?i)(^|[^a-z])lux`), "illuminance"},
}

func channelOf(name, unit string) (Channel, scale) {
	if u, ok := logUnits[strings.ToLower(unit)]; ok {
		return Channel{name, u.quantity, unit}, u.scale
	}
	for _, w := range quantityWords {
		if w.in.MatchString(name) {
			return Channel{name, w.quantity, ""}, scale{1, 0}
		}
	}
	return Channel{name, "", ""}, scale{1, 0}
}

func (l *logReader) number(s string) (float64, bool) {
	s = strings.TrimSpace(s)
	if l.comma && strings.Count(s, ",") == 1 && !strings.Contains(s, ".") {
		s = strings.Replace(s, ",", ".", 1)
	}
	x, err := strconv.ParseFloat(s, 64)
	return x, err == nil && !math.IsNaN(x) && !math.IsInf(x, 0) && math.Abs(x) < 1e15
}

func (l *logReader) time(s string) (float64, bool) {
	if x, ok := l.number(s); ok {
		return x * l.timeBy, true
	}
	x, ok := clockOf(s)
	if m := clockFace.FindStringSubmatch(strings.TrimSpace(s)); m != nil {
		if m[1] == "" && l.hoursAndMinutes(m) {
			x *= 60
		}
		// Past midnight a clock begins anew: by half a day and more (chosen); one that goes back by less
		// stays one that goes back.
		if n := len(l.log.S); n > 0 && x+l.day+dayS/2 < l.from+l.log.S[n-1] {
			l.day += dayS
		}
		x += l.day
	}
	return x, ok
}

const dayS = 86400

// workingHour is the hour from which on a first time of two figures is one of the day and not
// minutes since switch-on (chosen: who writes minutes down begins with few).
const workingHour = 6

// hoursAndMinutes tells whether times of two figures are hours and minutes, and not minutes and
// seconds: as the unit of the column says, or else as the first one looks.
func (l *logReader) hoursAndMinutes(m []string) bool {
	if l.hands == nil {
		first, _ := strconv.Atoi(m[2])
		l.hands = new(l.timeBy == 3600 || l.said == nil && l.timeBy == 1 && first >= workingHour && first < 24 && len(m[3]) == 2)
	}
	return *l.hands
}

var (
	clockFace = regexp.MustCompile(`^(?:(\d+):)?(\d{1,2}):(\d{2}(?:[.,]\d+)?)$`)
	dateFaces = []string{time.RFC3339Nano, "2006-01-02 15:04:05.999999999", "2006-01-02T15:04:05.999999999", "2006-01-02 15:04", "02.01.2006 15:04:05", "02.01.2006 15:04", "01/02/2006 15:04:05", "2006/01/02 15:04:05"}
)

// clockOf reads a time of day, a time gone by, or a date with time, as seconds.
func clockOf(s string) (float64, bool) {
	s = strings.TrimSpace(s)
	if m := clockFace.FindStringSubmatch(s); m != nil {
		h, _ := strconv.ParseFloat("0"+m[1], 64)
		min, _ := strconv.ParseFloat(m[2], 64)
		sec, err := strconv.ParseFloat(strings.Replace(m[3], ",", ".", 1), 64)
		return h*3600 + min*60 + sec, err == nil
	}
	if len(s) < 10 {
		return 0, false
	}
	for _, face := range dateFaces {
		if t, err := time.Parse(face, s); err == nil {
			return float64(t.UnixNano()) / 1e9, true
		}
	}
	return 0, false
}

// ReadLogAs reads what WriteLog wrote of channels: figures are in SI already, times as they are.
func ReadLogAs(r io.Reader, channels []Channel) (*Log, error) {
	rows := csv.NewReader(r)
	rows.FieldsPerRecord, rows.ReuseRecord = 1+len(channels), true
	if _, err := rows.Read(); err != nil {
		return nil, fmt.Errorf("%w: it has no heading: %w", ErrNoLog, err)
	}
	l := &Log{Channels: channels, Values: make([][]float64, len(channels))}
	for {
		row, err := rows.Read()
		if err == io.EOF {
			return l, nil
		}
		if err != nil {
			return nil, fmt.Errorf("%w: %w", ErrNoLog, err)
		}
		for i, cell := range row {
			x := math.NaN()
			if cell != "" {
				if x, err = strconv.ParseFloat(cell, 64); err != nil {
					return nil, fmt.Errorf("%w: %w", ErrNoLog, err)
				}
			}
			if i == 0 {
				l.S = append(l.S, x)
			} else {
				l.Values[i-1] = append(l.Values[i-1], x)
			}
		}
	}
}

// WriteLog writes a log as CSV that ReadLogAs reads again: times in seconds, figures in SI, °C.
// Marks stand in a column of their own, each in the first row that is not before it; without any
// there is none, and ReadLogAs reads no other.
func WriteLog(w io.Writer, channels []Channel, s []float64, values [][]float64, marks ...Mark) error {
	out := csv.NewWriter(w)
	row := []string{"time (s)"}
	for _, c := range channels {
		row = append(row, harmless(headOf(c)))
	}
	if len(marks) > 0 {
		row = append(row, markHead)
		marks = slices.SortedStableFunc(slices.Values(marks), func(a, b Mark) int { return cmp.Compare(a.S, b.S) })
	}
	marked := len(marks) > 0
	if err := out.Write(row); err != nil {
		return fmt.Errorf("writing a log: %w", err)
	}
	for i := range s {
		row = append(row[:0], strconv.FormatFloat(s[i], 'g', -1, 64))
		for c := range channels {
			cell := ""
			if x := values[c][i]; !math.IsNaN(x) {
				cell = strconv.FormatFloat(x, 'g', -1, 64)
			}
			row = append(row, cell)
		}
		if marked {
			var here []string
			for len(marks) > 0 && (marks[0].S <= s[i] || i == len(s)-1) {
				here, marks = append(here, marks[0].Text), marks[1:]
			}
			row = append(row, harmless(strings.Join(here, "; ")))
		}
		if err := out.Write(row); err != nil {
			return fmt.Errorf("writing a log: %w", err)
		}
	}
	out.Flush()
	if err := out.Error(); err != nil {
		return fmt.Errorf("writing a log: %w", err)
	}
	return nil
}

// siUnits are what figures of a quantity are kept in.
var siUnits = map[string]string{"temperature": "°C", "voltage": "V", "current": "A", "power": "W", "resistance": "Ω", "illuminance": "lx", "ppfd": "µmol/m²s"}

// headOf is a channel's heading, with its unit.
func headOf(c Channel) string {
	_, said := logUnits[strings.ToLower(unitIn(c.Name))]
	if unit := siUnits[c.Quantity]; unit != "" && !said {
		return c.Name + " (" + unit + ")"
	}
	return c.Name
}
