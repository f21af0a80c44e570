package lot

import (
	"encoding/csv"
	"fmt"
	"strings"

	"photherm/core/units"
)

// column is what a heading stands for: by which words it is known, the quantity of its
// figures and the unit of a bare number that cannot be in the base unit.
type column struct {
	words    []string
	quantity string
	bare     string  // unit of a bare number
	from     float64 // from this value on; a smaller one is in the base unit
	put      func(c *Found, x float64)
}

var columns = []column{
	{[]string{"printed", "nominal", "rated"}, "charge", "mAh", 50, func(c *Found, x float64) { c.PrintedAh = &x }},
	{[]string{"resist", "mω", "mohm", "ir"}, "resistance", "mΩ", 2, func(c *Found, x float64) { c.ResistanceOhm = &x }},
	{[]string{"days"}, "count", "", 0, func(c *Found, x float64) { c.RestDays = &x }},
	{[]string{"found"}, "voltage", "V", 0, func(c *Found, x float64) { c.FoundV = &x }},
	{[]string{"rest", "volt", "held"}, "voltage", "V", 0, func(c *Found, x float64) { c.RestingV = &x }},
	{[]string{"measured", "capacity", "mah", "ah"}, "charge", "mAh", 50, func(c *Found, x float64) { c.MeasuredAh = &x }},
}

var looks = map[string]string{"good": "good", "ok": "good", "torn": "wrap-torn", "wrap-torn": "wrap-torn", "rust": "rust", "dent": "dent", "leak": "leak", "hot": "hot"}

// Read reads cells from lines as a table writes them: a heading, then a line for each, parted
// by tabs, semicolons or commas. A bare number is taken in the unit that people write there:
// mAh from 50 on, mΩ from 2 on. An error names its line.
func Read(text string) ([]Found, error) {
	text = strings.TrimSpace(strings.TrimPrefix(text, "\ufeff"))
	if text == "" {
		return nil, fmt.Errorf("there is nothing to read: a heading and a line for each cell are needed")
	}
	first, _, _ := strings.Cut(text, "\n")
	r := csv.NewReader(strings.NewReader(text))
	r.Comma, r.FieldsPerRecord, r.TrimLeadingSpace, r.LazyQuotes = ',', -1, true, true
	for _, sep := range []rune{'\t', ';'} {
		if strings.ContainsRune(first, sep) {
			r.Comma = sep
			r.TrimLeadingSpace = sep != '\t'
		}
	}
	rows, err := r.ReadAll()
	if err != nil {
		return nil, fmt.Errorf("the lines cannot be taken apart: %w", err)
	}
	heads := make([]string, len(rows[0]))
	known := 0
	for i, h := range rows[0] {
		heads[i] = strings.ToLower(strings.TrimSpace(h))
		if columnOf(heads[i]) != nil || strings.Contains(heads[i], "label") || strings.Contains(heads[i], "look") {
			known++
		}
	}
	if known == 0 {
		return nil, fmt.Errorf("line 1 must be a heading: label, printed, measured, resistance, resting V, days, look, note")
	}
	var cells []Found
	for i, row := range rows[1:] {
		c, err := cellOf(heads, row, len(cells)+1)
		if err != nil {
			return nil, fmt.Errorf("line %d: %w", i+2, err)
		}
		if c != nil {
			cells = append(cells, *c)
		}
	}
	return cells, nil
}

func columnOf(head string) *column {
	for i := range columns {
		for _, w := range columns[i].words {
			if w == "ah" && head != w || w == "ir" && head != w { // they stand inside other words
				continue
			}
			if strings.Contains(head, w) {
				return &columns[i]
			}
		}
	}
	return nil
}

// cellOf reads one line; nil: it is empty.
func cellOf(heads, row []string, n int) (*Found, error) {
	c, any := new(Found), false
	for i, text := range row {
		if text = strings.TrimSpace(text); text == "" || text == "–" || text == "-" || i >= len(heads) {
			continue
		}
		any = true
		switch head := heads[i]; {
		case strings.Contains(head, "label") || head == "cell" || head == "no" || head == "#" || head == "id":
			c.Label = text
		case strings.Contains(head, "note") || strings.Contains(head, "remark"):
			c.Note = text
		case strings.Contains(head, "date"):
			c.Date = text
		case strings.Contains(head, "look") || strings.Contains(head, "state"):
			look, ok := looks[strings.ToLower(text)]
			if !ok {
				return nil, fmt.Errorf("%q is no look: good, wrap-torn, rust, dent, leak, hot", text)
			}
			c.Look = look
		default:
			k := columnOf(head)
			if k == nil {
				continue // something else that is kept there
			}
			x, err := k.read(text)
			if err != nil {
				return nil, fmt.Errorf("%s: %w", heads[i], err)
			}
			k.put(c, x)
		}
	}
	if !any {
		return nil, nil
	}
	if c.Label == "" {
		c.Label = fmt.Sprint(n)
	}
	return c, nil
}

func (k *column) read(text string) (float64, error) {
	x, err := units.Parse(text, k.quantity)
	if err != nil {
		return 0, err
	}
	if bare, err := units.Parse(text, "count"); err == nil && bare == x && k.bare != "" && k.from > 0 && x >= k.from {
		return units.Parse(text+" "+k.bare, k.quantity)
	}
	return x, nil
}
