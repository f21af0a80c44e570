package design_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"os"
	"path/filepath"
	"reflect"
	"strings"
	"testing"

	"photherm/core/design"
)

func example(t testing.TB, name string) []byte {
	t.Helper()
	data, err := os.ReadFile(filepath.Join("..", "..", "examples", name))
	if err != nil {
		t.Fatal(err)
	}
	return data
}

// The file of each version stays readable for ever, and what is written is what
// was read.
func TestGoldenAndRoundTrip(t *testing.T) {
	files, _ := filepath.Glob("testdata/v*.json")
	if len(files) != design.Version {
		t.Fatalf("%d golden files for %d versions", len(files), design.Version)
	}
	for _, file := range files {
		data, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		light, err := design.Decode(data)
		if err != nil {
			t.Fatalf("%s: %v", file, err)
		}
		written, err := design.Encode(light)
		if err != nil {
			t.Fatal(err)
		}
		again, err := design.Decode(written)
		if err != nil || !reflect.DeepEqual(light, again) {
			t.Errorf("%s: writing and reading changes the light: %v", file, err)
		}
		// What version 5 gave another name.
		data = bytes.ReplaceAll(data, []byte(`"constantPowerBeyond": true`), []byte(`"beyond": "power"`))
		var a, b any
		err = errors.Join(json.Unmarshal(data, &a), json.Unmarshal(written, &b))
		if old, ok := a.(map[string]any); ok {
			old["version"] = float64(design.Version)
		}
		if err != nil || !reflect.DeepEqual(a, b) {
			t.Errorf("%s: something was lost between the file and what is written", file)
		}
	}
}

// What version 1 called faults are unequal strings since version 2.
func TestUpgradeKeepsFaults(t *testing.T) {
	v1, err := os.ReadFile("testdata/v1.json")
	if err != nil {
		t.Fatal(err)
	}
	old := bytes.Replace(v1, []byte(`"series": 3, "parallel": 1,`), []byte(`"series": 3, "parallel": 2, "faults": [{"strings": 1, "shorted": 2}],`), 1)
	light, err := design.Decode(old)
	if err != nil {
		t.Fatal(err)
	}
	a := light.Variants[0].Feeds[0].Loads[1].Loads[0].Loads[0].Array
	if len(a.Unequal) != 1 || a.Unequal[0].Shorted != 2 || light.Version != design.Version {
		t.Errorf("faults became %+v in version %d", a.Unequal, light.Version)
	}
	if _, err := design.Decode(bytes.Replace(old, []byte(`"version": 1`), []byte(`"version": 2`), 1)); err == nil {
		t.Error("version 2 still knows faults")
	}
}

func TestDecodeRejects(t *testing.T) {
	good := string(example(t, "shore-search-handlamp.json"))
	change := func(old, new string) string {
		if !strings.Contains(good, old) {
			t.Fatalf("the example no longer holds %q", old)
		}
		return strings.Replace(good, old, new, 1)
	}
	for name, c := range map[string]struct{ file, pointer, says string }{
		"not JSON":            {"{", "", "ends too early"},
		"list":                {"[]", "", "one JSON object"},
		"other format":        {`{"format":"x","version":1}`, "/format", "not a light file"},
		"newer":               {change(`"version": 11`, `"version": 119`), "/version", "newer Photherm"},
		"unknown field":       {change(`"handheld"`, `"handhold"`), "/conditions/handhold", "not a field"},
		"twice":               {change(`"brief": {`, `"name": "again", "brief": {`), "/name", "twice"},
		"text for number":     {change(`"ambientC": 15`, `"ambientC": "15"`), "/conditions/ambientC", "must be a number"},
		"too hot":             {change(`"ambientC": 15`, `"ambientC": 150`), "/conditions/ambientC", "too high"},
		"huge":                {change(`"ambientC": 15`, `"ambientC": 1e999`), "/conditions/ambientC", "not a number that can be used"},
		"not a number":        {change(`"ambientC": 15`, `"ambientC": NaN`), "", "not valid JSON"},
		"null":                {change(`"ambientC": 15`, `"ambientC": null`), "/conditions/ambientC", "must be a number, not null"},
		"missing":             {change(`"ambientC": 15, `, ``), "/conditions/ambientC", "is missing"},
		"half an LED":         {change(`"series": 3`, `"series": 2.5`), "/variants/0/feeds/0/loads/1/loads/0/loads/0/array/series", "whole number"},
		"no LED":              {change(`"series": 3`, `"series": 0`), "/variants/0/feeds/0/loads/1/loads/0/loads/0/array/series", "too low"},
		"dangling part":       {change(`"partId": "driver"`, `"partId": "drivel"`), "/variants/0/feeds/0/loads/1/loads/0/driver/partId", `no part "drivel"`},
		"wrong part":          {change(`"partId": "driver"`, `"partId": "cell"`), "/variants/0/feeds/0/loads/1/loads/0/driver/partId", "is not a driver"},
		"dangling body":       {change(`"bodyId": "housing", "switch"`, `"bodyId": "barn", "switch"`), "/variants/0/feeds/0/loads/1/bodyId", "no body"},
		"same id":             {change(`"id": "switch"`, `"id": "driver"`), "/variants/0/feeds/0/loads/1/loads/0/id", "used twice"},
		"falling curve":       {change(`"voltageV": 2.88`, `"voltageV": 2.70`), "/parts/2/emitter/forward/2", "not above 2.76 V at 0.35 A"},
		"NUL":                 {change("Tail switch", `Tail\u0000`), "/variants/0/feeds/0/loads/1/name", "NUL"},
		"not UTF-8":           {change("Tail switch", "Tail\xff"), "", "UTF-8"},
		"trailing":            {good + "{}", "", "after the end"},
		"deep":                {strings.Repeat(`{"a":`, 200) + "1" + strings.Repeat("}", 200), "/a", "nested"},
		"case":                {change(`"ambientC"`, `"AmbientC"`), "/conditions/ambientC", "missing"},
		"odd word":            {change(`"family": "buck"`, `"family": "magic"`), "/parts/1/driver/family", "it can be none, resistor, dropper, linear, buck"},
		"no loss at all":      {change(`"efficiency": 0.91`, `"efficiency": 1`), "/parts/1/driver/efficiency", "below 100 %"},
		"all loss":            {change(`"efficiency": 0.91`, `"efficiency": 0`), "/parts/1/driver/efficiency", "too low"},
		"table in no order":   {change(`"efficiency": 0.91`, `"efficiencyPoints": [{"currentA": 1, "efficiency": 0.9}, {"currentA": 0.5, "efficiency": 0.8}]`), "/parts/1/driver/efficiencyPoints/1/currentA", "must rise"},
		"table without loss":  {change(`"efficiency": 0.91`, `"efficiencyPoints": [{"currentA": 1, "efficiency": 1}]`), "/parts/1/driver/efficiencyPoints/0/efficiency", "below 100 %"},
		"half a table":        {change(`"efficiency": 0.91`, `"efficiencyPoints": [{"inputV": 12, "currentA": 1, "efficiency": 0.9}, {"currentA": 0.5, "efficiency": 0.8}]`), "/parts/1/driver/efficiencyPoints/1/inputV", "or none does"},
		"no setting resistor": {strings.Replace(good, `"partId": "driver", "setCurrentA": 1.5`, `"partId": "driver", "programOhm": 0`, 1), "/variants/0/feeds/0/loads/1/loads/0/driver/programOhm", "too low"},
		"red hot reading":     {change(`"voltageV": 2.88`, `"voltageV": 2.88, "junctionC": 300`), "/parts/2/emitter/forward/2/junctionC", "too high"},
		"two temperatures":    {change(`"voltageV": 2.88`, `"voltageV": 2.88, "junctionC": 30, "caseC": 40`), "/parts/2/emitter/forward/2/caseC", "not at both"},
		"inverted input":      {change(`"inputMinV": 6`, `"inputMinV": 60`), "/parts/1/driver/inputMinV", "above the highest"},
	} {
		_, err := design.Decode([]byte(c.file))
		var problems design.Problems
		if !errors.As(err, &problems) {
			t.Errorf("%s: accepted, or another kind of error: %v", name, err)
			continue
		}
		found := false
		for _, p := range problems {
			found = found || (strings.HasPrefix(p.Pointer, c.pointer) && strings.Contains(p.Message, c.says))
		}
		if !found || strings.Contains(err.Error(), "\n") {
			t.Errorf("%s: want %q at %q in one line, got %v", name, c.says, c.pointer, problems)
		}
	}
}

func TestLoopsAndDepthAreBounded(t *testing.T) {
	deep := `{"id":"s0","switch":{}}`
	for i := 1; i < 30; i++ {
		deep = `{"id":"s` + strings.Repeat("x", i) + `","switch":{},"loads":[` + deep + `]}`
	}
	file := `{"format":"photherm/light","version":1,"name":"x","brief":{},"conditions":{"ambientC":20},"parts":[],"variants":[{"id":"a","name":"a","bodies":[],"feeds":[{"id":"f","sources":[],"loads":[` + deep + `]}]}]}`
	if _, err := design.Decode([]byte(file)); err == nil {
		t.Error("a tree 30 nodes deep is accepted")
	}
}

// Incomplete is not malformed.
func TestIncompleteIsAccepted(t *testing.T) {
	file := `{"format":"photherm/light","version":1,"name":"Idea","brief":{},"conditions":{"ambientC":20},"parts":[],"variants":[{"id":"a","name":"a","bodies":[],"feeds":[{"id":"f","sources":[{"id":"s","pack":{"series":1,"parallel":1}}],"loads":[{"id":"d","driver":{},"loads":[{"id":"e","array":{"series":1,"parallel":1}}]}]}]}]}`
	if _, err := design.Decode([]byte(file)); err != nil {
		t.Error(err)
	}
}

func FuzzDecode(f *testing.F) {
	f.Add(example(f, "shore-search-handlamp.json"))
	f.Add([]byte(`{"format":"photherm/light","version":1}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		light, err := design.Decode(data)
		if err != nil {
			if p := (design.Problems)(nil); !errors.As(err, &p) || len(p) == 0 || bytes.ContainsRune([]byte(p.Error()), 0) {
				t.Fatalf("an error without a place: %v", err)
			}
			return
		}
		out, err := design.Encode(light)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := design.Decode(out); err != nil {
			t.Fatalf("what was accepted is rejected when written: %v", err)
		}
	})
}

// A byte order mark, as some editors write it, is no part of the light.
func TestByteOrderMark(t *testing.T) {
	data := example(t, "pier-lantern.json")
	plain, err := design.Decode(data)
	if err != nil {
		t.Fatal(err)
	}
	marked, err := design.Decode(append([]byte("\ufeff"), data...))
	if err != nil || marked.Name != plain.Name {
		t.Errorf("with a byte order mark: %v", err)
	}
}
