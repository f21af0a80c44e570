package exchange

import (
	"fmt"
	"io"
	"slices"
	"strings"
)

// What a column of a log is.
const (
	TimeColumn   = "time"
	FigureColumn = "figure"
	MarkColumn   = "mark"
	NoColumn     = "none"
)

// A Column says what one column of a log is.
type Column struct {
	Use  string `json:"use" enum:"time,figure,mark,none"`
	Name string `json:"name" maxLength:"60"`
	Unit string `json:"unit" maxLength:"16" doc:"Of a time s, ms, min or h; of a figure as LogUnits has it; empty: none"`
}

// A Look is what a log looks like before it is read: what its columns seem to be, and its first
// rows.
type Look struct {
	Columns []Column   `json:"columns" nullable:"false"`
	First   [][]string `json:"first" nullable:"false" doc:"Cells of its first rows"`
	Heads   []string   `json:"heads" nullable:"false" doc:"Its headings; none: it has none"`
	Sure    bool       `json:"sure" doc:"Whether the headings tell the time and every quantity"`
}

// samples is how many rows are shown (chosen), and cellRunes how much of a cell.
const (
	samples   = 3
	cellRunes = 24
)

// LogUnits are the units a column of figures can be said to have.
func LogUnits() []string {
	return []string{"°C", "°F", "K", "V", "mV", "A", "mA", "W", "mW", "Ω", "lx", "klx", "µmol/m²s"}
}

func timeUnit(unit string) float64 {
	switch strings.ToLower(unit) {
	case "min", "minutes":
		return 60
	case "h", "hours":
		return 3600
	case "ms":
		return 1e-3
	}
	return 1
}

// LookAtLog looks at the beginning of a log. The error is ErrNoLog where no row has figures.
func LookAtLog(r io.Reader) (*Look, error) {
	l, err := readLog(r, nil, samples)
	if err != nil {
		return nil, err
	}
	if !l.begun {
		return nil, fmt.Errorf("%w: no row has two figures", ErrNoLog)
	}
	n := len(l.heads)
	for _, row := range l.first {
		n = max(n, len(row))
	}
	out := &Look{Columns: make([]Column, n), First: make([][]string, len(l.first)), Heads: make([]string, len(l.heads))}
	for i, h := range l.heads {
		out.Heads[i] = cell(h)
	}
	for i, row := range l.first {
		for _, c := range row {
			out.First[i] = append(out.First[i], cell(c))
		}
	}
	for i := range out.Columns {
		out.Columns[i] = Column{Use: NoColumn, Name: fmt.Sprintf("column %d", i+1)}
		if i < len(l.heads) && strings.TrimSpace(l.heads[i]) != "" {
			out.Columns[i].Name = cell(l.heads[i])
		}
	}
	if l.mark >= 0 {
		out.Columns[l.mark].Use = MarkColumn
	}
	out.Sure = l.at < len(l.heads) && timeWords.MatchString(strings.TrimSpace(l.heads[l.at])) && len(l.columns) > 0
	for k, i := range l.columns {
		c := l.log.Channels[k]
		out.Columns[i] = Column{Use: FigureColumn, Name: cell(c.Name), Unit: siUnits[c.Quantity]}
		for _, unit := range LogUnits() {
			if strings.EqualFold(unit, c.Unit) || logUnits[strings.ToLower(unit)] == logUnits[strings.ToLower(c.Unit)] && c.Unit != "" {
				out.Columns[i].Unit = unit
			}
		}
		out.Sure = out.Sure && c.Quantity != ""
	}
	out.Columns[l.at].Use = TimeColumn
	out.Columns[l.at].Unit = map[float64]string{1e-3: "ms", 1: "s", 60: "min", 3600: "h"}[l.timeBy]
	if l.hands != nil && *l.hands {
		out.Columns[l.at].Unit = "h"
	}
	return out, nil
}

func cell(text string) string {
	r := []rune(strings.ToValidUTF8(strings.TrimSpace(text), "?"))
	if len(r) > cellRunes {
		return string(r[:cellRunes]) + "…"
	}
	return string(r)
}

// bySaid begins a log as somebody said its columns are.
func (l *logReader) bySaid() {
	l.at = slices.IndexFunc(l.said, func(c Column) bool { return c.Use == TimeColumn })
	l.timeBy = timeUnit(l.said[l.at].Unit)
	for i, c := range l.said {
		switch {
		case c.Use == MarkColumn:
			l.mark = i
		case c.Use == FigureColumn && len(l.columns) < mostChannels:
			u := logUnits[strings.ToLower(c.Unit)]
			if u.quantity == "" {
				u.scale = scale{1, 0}
			}
			name := strings.TrimSpace(c.Name)
			if name == "" {
				name = fmt.Sprintf("column %d", i+1)
			}
			l.columns, l.scales = append(l.columns, i), append(l.scales, u.scale)
			l.log.Channels = append(l.log.Channels, Channel{Name: name, Quantity: u.quantity, Unit: c.Unit})
			l.log.Values = append(l.log.Values, nil)
		}
	}
}
