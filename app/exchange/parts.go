package exchange

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"photherm/core/design"
)

// A StockedPart is a part of the cabinet on its way in or out.
type StockedPart struct {
	Stock int         `json:"stock" doc:"How many are on hand"`
	Part  design.Part `json:"part"`
}

// general are the columns every part has; the others are those of its kind, headed
// kind.field as in a light file.
var general = []string{"kind", "name", "basis", "stock", "price", "note"}

// partColumns lists the columns of parts as CSV: plain figures and words one each,
// lists of points as "x:y x:y", anything deeper as JSON.
func partColumns() []string {
	columns := slices.Clone(general)
	for _, kind := range kinds {
		for i := range kind.data.NumField() {
			columns = append(columns, kind.name+"."+fieldName(kind.data.Field(i)))
		}
	}
	return columns
}

// kinds are the kinds of parts with the type of their data.
var kinds = []struct {
	name string
	data reflect.Type
}{
	{"emitter", reflect.TypeFor[design.Emitter]()}, {"driver", reflect.TypeFor[design.Driver]()},
	{"cell", reflect.TypeFor[design.Cell]()}, {"strip", reflect.TypeFor[design.Strip]()},
	{"load", reflect.TypeFor[design.MeasuredLoad]()}, {"profile", reflect.TypeFor[design.Profile]()},
	{"protection", reflect.TypeFor[design.Protection]()}, {"charger", reflect.TypeFor[design.Charger]()},
}

func fieldName(f reflect.StructField) string {
	name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
	return name
}

func isKind(name string) bool {
	for _, kind := range kinds {
		if kind.name == name {
			return true
		}
	}
	return false
}

// isWord tells whether a column holds words, though they may look like figures.
func isWord(column string) bool {
	of, field, _ := strings.Cut(column, ".")
	for _, kind := range kinds {
		for i := range kind.data.NumField() {
			if f := kind.data.Field(i); kind.name == of && fieldName(f) == field {
				return f.Type.Kind() == reflect.String
			}
		}
	}
	return false
}

// WritePartsCSV writes parts as CSV; columns that none of them fills are left out.
func WritePartsCSV(w io.Writer, parts []StockedPart) error {
	rows := make([]map[string]string, len(parts))
	used := map[string]bool{}
	for _, c := range general {
		used[c] = true
	}
	for i := range parts {
		row, err := flatten(&parts[i])
		if err != nil {
			return err
		}
		for c := range row {
			used[c] = true
		}
		rows[i] = row
	}
	columns := slices.DeleteFunc(partColumns(), func(c string) bool { return !used[c] })
	out := csv.NewWriter(w)
	if err := out.Write(columns); err != nil {
		return fmt.Errorf("writing parts: %w", err)
	}
	for _, row := range rows {
		line := make([]string, len(columns))
		for k, c := range columns {
			line[k] = harmless(row[c])
		}
		if err := out.Write(line); err != nil {
			return fmt.Errorf("writing parts: %w", err)
		}
	}
	out.Flush()
	if err := out.Error(); err != nil {
		return fmt.Errorf("writing parts: %w", err)
	}
	return nil
}

func flatten(p *StockedPart) (map[string]string, error) {
	row := map[string]string{"kind": p.Part.Kind(), "name": p.Part.Name, "basis": p.Part.Basis, "stock": strconv.Itoa(p.Stock), "note": p.Part.Note}
	if p.Part.Price != nil {
		row["price"] = strconv.FormatFloat(*p.Part.Price, 'g', -1, 64)
	}
	data, err := json.Marshal(p.Part)
	if err != nil {
		return nil, fmt.Errorf("writing part %q: %w", p.Part.Name, err)
	}
	var whole map[string]json.RawMessage
	var fields map[string]json.RawMessage
	if err := errors.Join(json.Unmarshal(data, &whole), json.Unmarshal(whole[p.Part.Kind()], &fields)); err != nil {
		return nil, fmt.Errorf("writing part %q: %w", p.Part.Name, err)
	}
	for name, value := range fields {
		text := string(value)
		var word string
		switch {
		case json.Unmarshal(value, &word) == nil:
			text = word
		case strings.HasPrefix(text, "["):
			text = points(name, value, text)
		}
		row[p.Part.Kind()+"."+name] = text
	}
	return row, nil
}

// pairs names the two figures of the points that are written as x:y.
var pairs = map[string][2]string{
	"forward": {"currentA", "voltageV"}, "fluxAgainstCurrent": {"x", "ratio"}, "fluxAgainstTemp": {"x", "ratio"},
	"openCircuit": {"charge", "voltageV"}, "limitPoints": {"voltageV", "currentA"}, "points": {"voltageV", "currentA"},
}

// points writes the points of a field as x:y; as text what has more to a point.
func points(field string, value json.RawMessage, text string) string {
	names, ok := pairs[field]
	var list []map[string]float64
	if !ok || json.Unmarshal(value, &list) != nil {
		return text
	}
	words := make([]string, len(list))
	for i, point := range list {
		if len(point) != len(names) {
			return text
		}
		words[i] = strconv.FormatFloat(point[names[0]], 'g', -1, 64) + ":" + strconv.FormatFloat(point[names[1]], 'g', -1, 64)
	}
	return strings.Join(words, " ")
}

// A LineError says what is wrong with a line of a file.
type LineError struct {
	Line   int
	Column string
	Why    string
}

func (e *LineError) Error() string {
	if e.Column == "" {
		return fmt.Sprintf("line %d: %s", e.Line, e.Why)
	}
	return fmt.Sprintf("line %d, column %s: %s", e.Line, e.Column, e.Why)
}

// MostParts bounds a file of parts.
const MostParts = 5000

// ReadPartsCSV reads what WritePartsCSV writes. Its error is a *LineError that names
// line and column.
func ReadPartsCSV(r io.Reader) ([]StockedPart, error) {
	in := csv.NewReader(r)
	in.TrimLeadingSpace = true
	header, err := in.Read()
	if err != nil {
		return nil, &LineError{1, "", "there is no line of column names"}
	}
	header[0] = strings.TrimPrefix(header[0], "\ufeff")
	known := partColumns()
	for i, c := range header {
		header[i] = strings.TrimSpace(c)
		if !slices.Contains(known, header[i]) {
			return nil, &LineError{1, header[i], "there is no such column; kind and name are needed, the others are named like driver.setCurrentA"}
		}
	}
	for _, c := range []string{"kind", "name"} {
		if !slices.Contains(header, c) {
			return nil, &LineError{1, c, "this column is missing"}
		}
	}
	var out []StockedPart
	for {
		record, err := in.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		line, _ := in.FieldPos(0)
		var broken *csv.ParseError
		if errors.As(err, &broken) {
			return nil, &LineError{broken.Line, "", csvWords(broken)}
		}
		if err != nil {
			return nil, fmt.Errorf("reading parts: %w", err)
		}
		p, err := unflatten(header, record, line)
		if err != nil {
			return nil, err
		}
		if out = append(out, *p); len(out) > MostParts {
			return nil, &LineError{line, "", fmt.Sprintf("more than %d parts in one file", MostParts)}
		}
	}
}

func csvWords(e *csv.ParseError) string {
	if errors.Is(e.Err, csv.ErrFieldCount) {
		return "it has another number of columns than the first line"
	}
	return "the quotes are not in order"
}

func unflatten(header, record []string, line int) (*StockedPart, error) {
	part := map[string]any{"id": "part"}
	fields := map[string]any{}
	kind, stock := "", 0
	for i, c := range header {
		if c == "kind" {
			kind = record[i]
		}
	}
	if !isKind(kind) {
		return nil, &LineError{line, "kind", fmt.Sprintf("%q is not a kind of part; it can be emitter, driver, cell, strip, load, profile, protection, charger", kind)}
	}
	for i, c := range header {
		text := strings.TrimSpace(unharmed(record[i]))
		switch of, field, dotted := strings.Cut(c, "."); {
		case text == "" || c == "kind":
		case c == "stock":
			n, err := strconv.Atoi(text)
			if err != nil || n < 0 || n > 1e6 {
				return nil, &LineError{line, c, fmt.Sprintf("%q is not a number of parts", text)}
			}
			stock = n
		case !dotted:
			part[c] = plain(c, text)
		case of != kind:
			return nil, &LineError{line, c, fmt.Sprintf("a %s has no such figure", kind)}
		case isWord(c):
			fields[field] = text
		default:
			value, err := figure(field, text)
			if err != nil {
				return nil, &LineError{line, c, err.Error()}
			}
			fields[field] = value
		}
	}
	part[kind] = fields
	data, err := json.Marshal(part)
	if err != nil {
		return nil, &LineError{line, "", "it cannot be read"}
	}
	p, err := design.DecodePart(data)
	if err != nil {
		var problems design.Problems
		if errors.As(err, &problems) {
			return nil, &LineError{line, strings.ReplaceAll(strings.TrimPrefix(problems[0].Pointer, "/"), "/", "."), problems[0].Message}
		}
		return nil, err
	}
	return &StockedPart{stock, *p}, nil
}

func plain(column, text string) any {
	if column == "price" {
		return number(text)
	}
	return text
}

func number(text string) any {
	if _, err := strconv.ParseFloat(text, 64); err == nil && json.Valid([]byte(text)) {
		return json.Number(text)
	}
	return text
}

func figure(field, text string) (any, error) {
	if names, ok := pairs[field]; ok && !strings.HasPrefix(text, "[") {
		list := []map[string]any{}
		for i, word := range strings.Fields(text) {
			x, y, both := strings.Cut(word, ":")
			if !both {
				return nil, fmt.Errorf("point %d, %q, is not two figures with a colon", i+1, word)
			}
			list = append(list, map[string]any{names[0]: number(x), names[1]: number(y)})
		}
		return list, nil
	}
	if strings.HasPrefix(text, "[") || strings.HasPrefix(text, "{") || text == "true" || text == "false" {
		if !json.Valid([]byte(text)) {
			return nil, fmt.Errorf("%q is neither a figure nor a list", text)
		}
		return json.RawMessage(text), nil
	}
	return number(text), nil
}

// ReadPartsJSON reads a list of parts with their stock, as the cabinet exports it.
// Its error is a *LineError whose line is the place in the list.
func ReadPartsJSON(data []byte) ([]StockedPart, error) {
	var list []struct {
		Stock int             `json:"stock"`
		Part  json.RawMessage `json:"part"`
	}
	if err := json.Unmarshal(bytes.TrimPrefix(data, []byte("\ufeff")), &list); err != nil {
		return nil, &LineError{1, "", "this is not a list of parts in JSON"}
	}
	if len(list) > MostParts {
		return nil, &LineError{1, "", fmt.Sprintf("more than %d parts in one file", MostParts)}
	}
	out := make([]StockedPart, len(list))
	for i, entry := range list {
		p, err := design.DecodePart(entry.Part)
		var problems design.Problems
		if errors.As(err, &problems) {
			return nil, &LineError{i + 1, strings.ReplaceAll(strings.TrimPrefix(problems[0].Pointer, "/"), "/", "."), problems[0].Message}
		}
		if err != nil {
			return nil, err
		}
		if entry.Stock < 0 || entry.Stock > 1e6 {
			return nil, &LineError{i + 1, "stock", "it lies between 0 and a million"}
		}
		out[i] = StockedPart{entry.Stock, *p}
	}
	return out, nil
}
