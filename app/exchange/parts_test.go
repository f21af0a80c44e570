package exchange

import (
	"bytes"
	"encoding/json"
	"errors"
	"reflect"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/examples"
)

// The whole demo cabinet goes out as CSV and as JSON and comes back the same.
func TestPartsRoundTrip(t *testing.T) {
	parts, err := ReadPartsJSON(append([]byte("\ufeff"), examples.Cabinet...)) // as some editors save it
	if err != nil || len(parts) < 20 {
		t.Fatal(len(parts), err)
	}
	// And what the demo has none of: a supply limited by a table, which looks like a forward
	// curve turned round.
	limits := []design.LimitPoint{{VoltageV: 20, CurrentA: 2}, {VoltageV: 24, CurrentA: 1}}
	parts = append(parts, StockedPart{1, design.Part{ID: "part", Name: "Supply by its data", Driver: &design.Driver{Family: "voltage", Limits: limits}}})
	var b bytes.Buffer
	if err := WritePartsCSV(&b, parts); err != nil {
		t.Fatal(err)
	}
	back, err := ReadPartsCSV(bytes.NewReader(b.Bytes()))
	if err != nil || len(back) != len(parts) {
		t.Fatalf("%d of %d parts, %v", len(back), len(parts), err)
	}
	for i := range parts {
		if parts[i].Part.Hash() != back[i].Part.Hash() || parts[i].Stock != back[i].Stock || parts[i].Part.Note != back[i].Part.Note {
			a, _ := json.Marshal(parts[i])
			z, _ := json.Marshal(back[i])
			t.Errorf("part %d came back changed:\n%s\n%s", i, a, z)
		}
	}
	if !strings.Contains(b.String(), "0.1:1.9 0.35:2.05") {
		t.Error("a forward curve is not written as points")
	}
}

// What is wrong is named with its line and column.
func TestBadPartsCSV(t *testing.T) {
	const head = "kind,name,stock,driver.family,driver.setCurrentA\n"
	for name, c := range map[string]struct {
		file string
		line int
		says string
	}{
		"empty":           {"", 1, "no line of column names"},
		"unknown column":  {"kind,name,watts\ndriver,x,3\n", 1, "column watts: there is no such column"},
		"no name column":  {"kind,stock\ndriver,3\n", 1, "column name: this column is missing"},
		"unknown kind":    {head + "lamp,x,1,buck,1\n", 2, `"lamp" is not a kind of part`},
		"short line":      {head + "driver,x,1,buck,1\ndriver,y,1\n", 3, "another number of columns"},
		"open quote":      {head + "driver,\"x,1,buck,1\n", 2, "quotes"},
		"word for figure": {head + "driver,x,1,buck,much\n", 2, "column driver.setCurrentA: must be a number"},
		"negative limit":  {head + "driver,x,1,buck,-1\n", 2, "too low"},
		"unknown family":  {head + "driver,x,1,magic,1\n", 2, `"magic" is not known`},
		"half a part":     {head + "driver,x,many,buck,1\n", 2, "column stock"},
		"other kind's":    {head + "cell,x,1,buck,\n", 2, "a cell has no such figure"},
		"points":          {"kind,name,emitter.forward,emitter.vfRefTempC,emitter.fluxRefTempC\nemitter,x,0.1:2.6 0.3,25,25\n", 2, "not two figures with a colon"},
		"falling curve":   {"kind,name,emitter.forward,emitter.vfRefTempC,emitter.fluxRefTempC\nemitter,x,0.1:2.6 0.3:2.5,25,25\n", 2, "one of the two is wrong"},
	} {
		_, err := ReadPartsCSV(strings.NewReader(c.file))
		var line *LineError
		if !errors.As(err, &line) || line.Line != c.line || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v; want line %d, %q", name, err, c.line, c.says)
		}
	}
	for file, says := range map[string]string{"{}": "not a list", `[{"stock":-1,"part":{"id":"x","name":"x","driver":{"family":"none"}}}]`: "stock", `[{"stock":1,"part":{"id":"x","name":"x"}}]`: "exactly one of"} {
		if _, err := ReadPartsJSON([]byte(file)); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%s: %v", file, err)
		}
	}
}

// What a spreadsheet would take for a formula goes out as text, and comes in as it was;
// numbers are left alone.
func TestCellsAreHarmless(t *testing.T) {
	for _, name := range []string{"=1+1", "+cmd", "-5 V rail", "@home", "plain", "'quoted"} {
		part := StockedPart{2, design.Part{ID: "part", Name: name, Note: "=HYPERLINK(1)", Cell: &design.Cell{Chemistry: "nimh", CapacityAh: 2, ResistanceOhm: 0.03}}}
		var b bytes.Buffer
		if err := WritePartsCSV(&b, []StockedPart{part}); err != nil {
			t.Fatal(err)
		}
		for _, line := range strings.Split(b.String(), "\n") {
			for _, cell := range strings.Split(line, ",") {
				if cell = strings.Trim(cell, `"`); cell != "" && strings.ContainsRune("=+-@", rune(cell[0])) {
					t.Errorf("%s: a cell begins a formula: %s", name, cell)
				}
			}
		}
		back, err := ReadPartsCSV(&b)
		if err != nil || len(back) != 1 || back[0].Part.Name != name || back[0].Part.Note != "=HYPERLINK(1)" {
			t.Errorf("%s comes back as %+v, %v", name, back, err)
		}
	}
	if harmless("-0.002") != "-0.002" {
		t.Error("a number is marked")
	}
}

// A table of profiles as a dealer's list gives it: width, surface of a metre, mass, price.
func TestProfilesFromATable(t *testing.T) {
	const table = "kind,name,stock,price,profile.widthM,profile.heightM,profile.perimeterM,profile.kgPerM,profile.surface\n" +
		"profile,Wide extrusion,3,18.5,0.12,0.03,1.4,2.4,anodised\n" +
		"profile,Narrow extrusion,0,7,0.04,0.02,0.35,0.6,\n"
	parts, err := ReadPartsCSV(strings.NewReader(table))
	if err != nil {
		t.Fatal(err)
	}
	if len(parts) != 2 || parts[0].Stock != 3 || *parts[0].Part.Price != 18.5 || *parts[0].Part.Profile.PerimeterM != 1.4 || parts[0].Part.Profile.Surface != "anodised" || *parts[1].Part.Profile.KgPerM != 0.6 || parts[1].Part.Profile.BaseM != nil {
		t.Errorf("%+v", parts)
	}
	var out strings.Builder
	if err := WritePartsCSV(&out, parts); err != nil {
		t.Fatal(err)
	}
	again, err := ReadPartsCSV(strings.NewReader(out.String()))
	if err != nil || !reflect.DeepEqual(parts, again) {
		t.Errorf("written and read again: %+v, %v", again, err)
	}
}
