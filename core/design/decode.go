package design

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"reflect"
	"strconv"
	"strings"
	"unicode/utf8"
)

// A Problem is one thing wrong with a document, in one plain sentence.
type Problem struct {
	Pointer string // JSON Pointer (RFC 6901) to the place
	Message string
}

// Problems is the error Decode and Check return: everything found wrong.
type Problems []Problem

func (p Problems) Error() string {
	if len(p) == 0 {
		return "no problem"
	}
	where := p[0].Pointer
	if where == "" {
		where = "document"
	}
	line := where + ": " + p[0].Message
	if len(p) > 1 {
		line += fmt.Sprintf(" (and %d more)", len(p)-1)
	}
	return line
}

const (
	maxDepth    = 64
	maxProblems = 50
)

// Decode reads a light file. It rejects what is malformed: broken JSON, unknown
// or repeated fields, wrong types, figures outside their physical range,
// references to nothing; the error is then a Problems. Older versions are brought
// up to date. Incomplete or unwise lights are accepted.
func Decode(data []byte) (*Light, error) {
	data = bytes.TrimPrefix(data, byteOrderMark)
	if !utf8.Valid(data) {
		return nil, Problems{{"", "the file is not UTF-8 text"}}
	}
	tree, err := parse(data)
	if err != nil {
		return nil, err
	}
	version, err := checkHeader(tree)
	if err != nil {
		return nil, err
	}
	if version < Version {
		if data, err = upgrade(data, version); err != nil {
			return nil, err
		}
		if tree, err = parse(data); err != nil {
			return nil, err
		}
	}
	c := checker{}
	c.value(tree, reflect.TypeFor[Light](), "", "")
	if len(c.problems) > 0 {
		return nil, c.problems
	}
	light := new(Light)
	if err := json.Unmarshal(data, light); err != nil {
		return nil, Problems{{"", "the document cannot be read: " + err.Error()}}
	}
	if err := Check(light); err != nil {
		return nil, err
	}
	return light, nil
}

// Encode writes a light as a file: indented, with its format and version.
func Encode(light *Light) ([]byte, error) {
	out := *light
	out.Format, out.Version = Format, Version
	data, err := json.MarshalIndent(&out, "", "  ")
	if err != nil {
		return nil, fmt.Errorf("writing the light %q: %w", light.Name, err)
	}
	return append(data, '\n'), nil
}

// checkHeader reads the version a file was written in.
func checkHeader(tree any) (int, error) {
	o, ok := tree.(*object)
	if !ok {
		return 0, Problems{{"", "a light file holds one JSON object"}}
	}
	if f, _ := o.values["format"].(string); f != Format {
		return 0, Problems{{"/format", fmt.Sprintf("this is not a light file: format must be %q", Format)}}
	}
	n, ok := o.values["version"].(json.Number)
	version, err := strconv.Atoi(string(n))
	if !ok || err != nil || version < 1 {
		return 0, Problems{{"/version", "version must be a whole number from 1"}}
	}
	if version > Version {
		return 0, Problems{{"/version", fmt.Sprintf("made by a newer Photherm (file version %d, this program reads up to %d)", version, Version)}}
	}
	return version, nil
}

type object struct {
	keys   []string
	values map[string]any
}

// byteOrderMark begins files of some editors.
var byteOrderMark = []byte("\xef\xbb\xbf")

// parse reads JSON into objects, []any, string, json.Number, bool and nil. The

// escaped writes a word of a JSON Pointer (RFC 6901).
var escaped = strings.NewReplacer("~", "~0", "/", "~1")

// standard decoder keeps the last of repeated keys; here they are an error.
func parse(data []byte) (any, error) {
	dec := json.NewDecoder(bytes.NewReader(data))
	dec.UseNumber()
	v, err := parseValue(dec, "", 0)
	if err != nil {
		var p Problems
		if errors.As(err, &p) {
			return nil, p
		}
		line := 1 + bytes.Count(data[:min(int(dec.InputOffset()), len(data))], []byte("\n"))
		if errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) {
			return nil, Problems{{"", fmt.Sprintf("the JSON ends too early, at line %d", line)}}
		}
		return nil, Problems{{"", fmt.Sprintf("not valid JSON near line %d: %v", line, err)}}
	}
	if _, err := dec.Token(); err != io.EOF {
		return nil, Problems{{"", "there is something after the end of the document"}}
	}
	return v, nil
}

func parseValue(dec *json.Decoder, at string, depth int) (any, error) {
	if depth > maxDepth {
		return nil, Problems{{at, "nested too deeply"}}
	}
	token, err := dec.Token()
	if err != nil {
		return nil, err
	}
	delim, ok := token.(json.Delim)
	if !ok {
		return token, nil
	}
	if delim == '[' {
		list := []any{}
		for dec.More() {
			v, err := parseValue(dec, at+"/"+strconv.Itoa(len(list)), depth+1)
			if err != nil {
				return nil, err
			}
			list = append(list, v)
		}
		_, err := dec.Token()
		return list, err
	}
	o := &object{values: map[string]any{}}
	for dec.More() {
		token, err := dec.Token()
		if err != nil {
			return nil, err
		}
		key, _ := token.(string)
		here := at + "/" + escape(key)
		if _, twice := o.values[key]; twice {
			return nil, Problems{{here, "this field stands here twice"}}
		}
		v, err := parseValue(dec, here, depth+1)
		if err != nil {
			return nil, err
		}
		o.keys = append(o.keys, key)
		o.values[key] = v
	}
	_, err = dec.Token()
	return o, err
}

func escape(key string) string {
	return escaped.Replace(key)
}

// checker compares a parsed document with the Go types and their tags.
type checker struct{ problems Problems }

func (c *checker) add(at, format string, args ...any) {
	if len(c.problems) < maxProblems {
		c.problems = append(c.problems, Problem{at, fmt.Sprintf(format, args...)})
	}
}

func (c *checker) value(v any, t reflect.Type, tag reflect.StructTag, at string) {
	if t.Kind() == reflect.Pointer {
		t = t.Elem()
		if v == nil {
			return
		}
	}
	switch t.Kind() {
	case reflect.Struct:
		o, ok := v.(*object)
		if !ok {
			c.add(at, "must be an object, not %s", jsonType(v))
			return
		}
		c.object(o, t, at)
	case reflect.Slice:
		list, ok := v.([]any)
		if !ok {
			c.add(at, "must be a list, not %s", jsonType(v))
			return
		}
		if n, err := strconv.Atoi(tag.Get("maxItems")); err == nil && len(list) > n {
			c.add(at, "has %d entries; at most %d are possible", len(list), n)
			return
		}
		if n, err := strconv.Atoi(tag.Get("minItems")); err == nil && len(list) < n {
			c.add(at, "needs at least %d entries", n)
		}
		for i, e := range list {
			c.value(e, t.Elem(), "", at+"/"+strconv.Itoa(i))
		}
	case reflect.String:
		s, ok := v.(string)
		if !ok {
			c.add(at, "must be text, not %s", jsonType(v))
			return
		}
		c.text(s, tag, at)
	case reflect.Bool:
		if _, ok := v.(bool); !ok {
			c.add(at, "must be true or false, not %s", jsonType(v))
		}
	case reflect.Float64, reflect.Int:
		n, ok := v.(json.Number)
		if !ok {
			c.add(at, "must be a number, not %s", jsonType(v))
			return
		}
		c.number(n, t.Kind() == reflect.Int, tag, at)
	}
}

func (c *checker) object(o *object, t reflect.Type, at string) {
	known := map[string]bool{}
	for i := range t.NumField() {
		f := t.Field(i)
		name, options, _ := strings.Cut(f.Tag.Get("json"), ",")
		known[name] = true
		v, present := o.values[name]
		if !present {
			if !strings.Contains(options, "omitempty") {
				c.add(at+"/"+name, "is missing")
			}
			continue
		}
		c.value(v, f.Type, f.Tag, at+"/"+name)
	}
	for _, key := range o.keys {
		if !known[key] {
			c.add(at+"/"+escape(key), "is not a field of a light file")
		}
	}
}

func (c *checker) text(s string, tag reflect.StructTag, at string) {
	if strings.ContainsRune(s, 0) {
		c.add(at, "holds a NUL character")
	}
	length := utf8.RuneCountInString(s)
	if n, err := strconv.Atoi(tag.Get("maxLength")); err == nil && length > n {
		c.add(at, "is %d characters long; at most %d are possible", length, n)
	}
	if n, err := strconv.Atoi(tag.Get("minLength")); err == nil && len(strings.TrimSpace(s)) < n {
		c.add(at, "is empty")
	}
	if allowed := tag.Get("enum"); allowed != "" && s != "" {
		for word := range strings.SplitSeq(allowed, ",") {
			if s == word {
				return
			}
		}
		c.add(at, "%q is not known; it can be %s", s, strings.ReplaceAll(allowed, ",", ", "))
	}
}

func (c *checker) number(n json.Number, whole bool, tag reflect.StructTag, at string) {
	x, err := strconv.ParseFloat(string(n), 64)
	if err != nil || math.IsInf(x, 0) {
		c.add(at, "%s is not a number that can be used", n)
		return
	}
	if _, err := strconv.Atoi(string(n)); whole && err != nil {
		c.add(at, "must be a whole number, not %s", n)
		return
	}
	if low, err := strconv.ParseFloat(tag.Get("minimum"), 64); err == nil && x < low {
		c.add(at, "%v is too low; it can be %v at least", x, low)
	}
	if high, err := strconv.ParseFloat(tag.Get("maximum"), 64); err == nil && x > high {
		c.add(at, "%v is too high; it can be %v at most", x, high)
	}
}

func jsonType(v any) string {
	switch v.(type) {
	case nil:
		return "null"
	case *object:
		return "an object"
	case []any:
		return "a list"
	case string:
		return "text"
	case bool:
		return "true or false"
	}
	return "a number"
}
