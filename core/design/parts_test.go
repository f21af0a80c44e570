package design_test

import (
	"encoding/json"
	"errors"
	"os"
	"slices"
	"strings"
	"testing"

	"photherm/core/design"
)

// What fields since version 2 can say wrongly: each is named where it stands, in words.
func TestDecodeRejectsNewerFields(t *testing.T) {
	data, err := os.ReadFile("testdata/v3.json")
	if err != nil {
		t.Fatal(err)
	}
	var compact any
	if err := json.Unmarshal(data, &compact); err != nil {
		t.Fatal(err)
	}
	if data, err = json.Marshal(compact); err != nil {
		t.Fatal(err)
	}
	good := string(data)
	if _, err := design.Decode(data); err != nil {
		t.Fatal(err)
	}
	for name, c := range map[string]struct{ old, new, pointer, says string }{
		"window upside down":      {`"maxVoltageV":40`, `"maxVoltageV":10`, "/parts/5/driver/minVoltageV", "the lowest output voltage 20 V lies above the highest, 10 V"},
		"analog upside down":      {`"analogFullV":1.25`, `"analogFullV":0.1`, "/parts/5/driver/analogOnV", "control voltage"},
		"limits out of order":     {`{"currentA":2.5,"voltageV":24}`, `{"currentA":2.5,"voltageV":0}`, "/parts/6/driver/limitPoints/1", "voltage must rise"},
		"negative jumper":         {`"jumperCurrentsA":[0.35,0.7]`, `"jumperCurrentsA":[-0.35,0.7]`, "/parts/5/driver/jumperCurrentsA/0", "between 0 and 200 A"},
		"two spectra":             {`"peakNm":660`, `"whiteK":3000,"peakNm":660`, "/parts/3/emitter/spectrum", "exactly one of"},
		"dark spectrum":           {`{"nm":500,"relative":1}`, `{"nm":500,"relative":0}`, "/parts/4/emitter/spectrum/table", "radiates nothing"},
		"spectrum runs back":      {`{"nm":500,"relative":1}`, `{"nm":300,"relative":1}`, "/parts/4/emitter/spectrum/table/1", "300 nm comes after 400 nm"},
		"knee above rating":       {`"kneeV":18`, `"kneeV":25`, "/parts/7/strip/kneeV", "cannot be rated 24 V"},
		"piece of nothing":        {`"piecesM":[1.2,0.8]`, `"piecesM":[1.2,0]`, "/variants/0/feeds/1/loads/0/loads/0/strip/piecesM/1", "longer than nothing"},
		"a whole warehouse":       {`"piecesM":[1.2,0.8]`, `"piecesM":[100,100,100,100,100,100]`, "/variants/0/feeds/1/loads/0/loads/0/strip/piecesM", "segments"},
		"no piece":                {`"piecesM":[1.2,0.8]`, `"piecesM":[]`, "/variants/0/feeds/1/loads/0/loads/0/strip/piecesM", "at least 1"},
		"mode of no name":         {`"mode":"low"`, `"mode":"lowest"`, "/variants/0/feeds/0/loads/1/loads/0/driver/mode", `no mode "lowest"`},
		"mode twice":              {`"modes":[{`, `"modes":[{"level":{},"name":"low"},{`, "/variants/0/feeds/0/loads/1/loads/0/driver/modes/1/name", "another mode too"},
		"an emitter too far on":   {`"strings":1,"vfOffsetV":-0.05`, `"strings":1,"open":true,"at":99`, "/variants/0/feeds/0/loads/1/loads/0/loads/0/array/unequal/0/at", "there is no emitter 99"},
		"more strings than there": {`"strings":1,"vfOffsetV":-0.05`, `"strings":3,"vfOffsetV":-0.05`, "/variants/0/feeds/0/loads/1/loads/0/loads/0/array/unequal", "names 4 strings; the array has 3"},
		"more shorted than there": {`"shorted":1,`, `"shorted":9,`, "/variants/0/feeds/0/loads/1/loads/0/loads/0/array/unequal/0/shorted", "9 emitters cannot be shorted in a string of 3"},
		"strip on a strip":        {`"id":"st",`, `"id":"st","loads":[{"id":"x","auxiliary":{}}],`, "/variants/0/feeds/1/loads/0/loads/0/loads", "can feed other nodes"},
		"strip of another kind":   {`"partId":"strip"`, `"partId":"driver"`, "/variants/0/feeds/1/loads/0/loads/0/strip/partId", "is not a strip"},
		"readings run back":       {`{"currentA":0.12,"voltageV":12}`, `{"currentA":0.12,"voltageV":8}`, "/parts/8/load/points/1/voltageV", "8 V comes after 9 V"},
		"load of another kind":    {`"partId":"module"`, `"partId":"strip"`, "/variants/0/feeds/1/loads/1/load/partId", "is not a measured load"},
		"part and readings":       {`"load":{}`, `"load":{"partId":"module","points":[{"voltageV":9,"currentA":0.1}]}`, "/variants/0/feeds/1/loads/2/load/points", "one of the two must go"},
		"level beyond full":       {`"level":0.6`, `"level":1.6`, "/variants/0/feeds/1/loads/0/dimmer/level", "too high"},
		"recorded twice":          {`"setUp":[{`, `"setUp":[{"node":"driver","step":"limit"},{`, "/variants/0/setUp/1", "recorded twice"},
		"old word":                {`"unequal"`, `"faults"`, "/variants/0/feeds/0/loads/1/loads/0/loads/0/array/faults", "not a field"},
	} {
		if !strings.Contains(good, c.old) {
			t.Errorf("%s: the golden file no longer holds %s", name, c.old)
			continue
		}
		_, err := design.Decode([]byte(strings.Replace(good, c.old, c.new, 1)))
		var problems design.Problems
		if !errors.As(err, &problems) || !slices.ContainsFunc(problems, func(p design.Problem) bool {
			return p.Pointer == c.pointer && strings.Contains(p.Message, c.says)
		}) {
			t.Errorf("%s: want %q at %s, got %v", name, c.says, c.pointer, err)
		}
	}
}

// A part alone is read as one in a light is; its hash names its data and not its
// place; what it lacks is said until it lacks nothing.
func TestPartAlone(t *testing.T) {
	read := func(text string) *design.Part {
		t.Helper()
		p, err := design.DecodePart([]byte(text))
		if err != nil {
			t.Fatal(err)
		}
		return p
	}
	a := read(`{"id":"a","name":"Board","driver":{"family":"buck","maxCurrentA":3}}`)
	b := read(`{"id":"b","name":"Board","note":"in the left drawer","origin":{"id":"x","hash":"y"},"driver":{"family":"buck","maxCurrentA":3}}`)
	c := read(`{"id":"a","name":"Board","driver":{"family":"buck","maxCurrentA":2}}`)
	if a.Hash() != b.Hash() || a.Hash() == c.Hash() || len(a.Hash()) != 16 || a.Kind() != "driver" {
		t.Errorf("hashes %s, %s, %s", a.Hash(), b.Hash(), c.Hash())
	}
	if lacks := a.Lacks(); !slices.Contains(lacks, "headroom") || !slices.Contains(lacks, "efficiency") || slices.Contains(lacks, "output current") {
		t.Errorf("it lacks %v", lacks)
	}
	for text, lacks := range map[string]int{
		`{"id":"x","name":"x","driver":{"family":"none"}}`:                                                                            0,
		`{"id":"x","name":"x","driver":{"family":"resistor","resistanceOhm":1}}`:                                                      1,
		`{"id":"x","name":"x","driver":{"family":"dropper"}}`:                                                                         1,
		`{"id":"x","name":"x","driver":{"family":"window","setCurrentA":1}}`:                                                          7,
		`{"id":"x","name":"x","cell":{"chemistry":"nimh","capacityAh":2,"resistanceOhm":0.03}}`:                                       3,
		`{"id":"x","name":"x","strip":{"voltageV":12,"cutM":0.05,"powerWPerM":5,"loopOhmPerM":0.1,"fluxLmPerM":400,"longestRunM":5}}`: 0,
		`{"id":"x","name":"x","load":{"points":[{"voltageV":9,"currentA":0.1}]}}`:                                                     2,
		`{"id":"x","name":"x","emitter":{"forward":[{"currentA":1,"voltageV":3}],"vfRefTempC":25,"fluxRefTempC":25}}`:                 9,
	} {
		if got := read(text).Lacks(); len(got) != lacks {
			t.Errorf("%s lacks %v, want %d", text, got, lacks)
		}
	}
	for text, says := range map[string]string{
		`{"id":"x","name":"x"}`: "exactly one of", `{"id":"x","name":"x","driver":{"family":"buck"},"cell":{"chemistry":"nimh","capacityAh":1,"resistanceOhm":1}}`: "exactly one of",
		`{"id":"x","name":"x","driver":{"family":"buck","volts":3}}`: "not a field", `[]`: "must be an object", `{"id":"x",`: "ends too early", "\xff": "UTF-8",
	} {
		if _, err := design.DecodePart([]byte(text)); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%s: %v, want %q", text, err, says)
		}
	}
	if _, err := design.UpToDate([]byte(`{"version":0}`)); err == nil {
		t.Error("a light of no version is brought up to date")
	}
}

// A part stored before version 5 keeps what it was said to hold beyond its readings.
func TestOldPartIsBroughtUpToDate(t *testing.T) {
	old := `{"id":"m","name":"Module","load":{"points":[{"voltageV":9,"currentA":0.4}],"constantPowerBeyond":true}}`
	p, err := design.DecodePart([]byte(old))
	if err != nil || p.Load.Beyond != "power" {
		t.Errorf("%+v, %v", p, err)
	}
	if p, err = design.DecodePart([]byte(strings.Replace(old, ":true", ":false", 1))); err != nil || p.Load.Beyond != "" {
		t.Errorf("%+v, %v", p, err)
	}
}

// A variant's parts cost what they are needed: cells and emitters one by one, strip by the
// metre, each as often as its branch is there; what has no price is counted.
// A profile gives what is not said of a body cut from it, and costs by the metre.
func TestProfilePart(t *testing.T) {
	f := func(x float64) *float64 { return &x }
	l := design.Light{Parts: []design.Part{{ID: "p", Name: "p", Price: f(20), Profile: &design.Profile{WidthM: f(0.1), HeightM: f(0.03), PerimeterM: f(0.9), KgPerM: f(2), BaseM: f(0.004), Surface: "anodised"}}},
		Variants: []design.Variant{{ID: "v", Name: "v", Bodies: []design.Body{{ID: "b", Name: "b", Shape: &design.Shape{Kind: "profile", PartID: "p", LengthM: f(0.25), WidthM: f(0.08)}}}}}}
	s := l.ShapeOf(&l.Variants[0].Bodies[0])
	if *s.PerimeterM != 0.9 || *s.WidthM != 0.08 || *s.HeightM != 0.03 || *s.KgPerM != 2 || *s.ThicknessM != 0.004 || s.Surface != "anodised" || l.Variants[0].Bodies[0].Shape.PerimeterM != nil {
		t.Errorf("%+v", s)
	}
	if long, wide, ok := l.Face(&l.Variants[0].Bodies[0]); !ok || long != 0.25 || wide != 0.08 {
		t.Errorf("its face is %g × %g, %v", long, wide, ok)
	}
	if c := design.CostOf(&l, 0); c.Sum != 5 || c.Priced != 1 || c.Unpriced != 0 {
		t.Errorf("%+v", c)
	}
	l.Variants[0].Bodies[0].Shape.DrawnFins = []design.DrawnFin{{Count: 4, HeightM: 0.01, ThickM: 0.001}}
	if s := l.ShapeOf(&l.Variants[0].Bodies[0]); s.PerimeterM != nil {
		t.Error("drawn fins are said, and its perimeter is taken")
	}
	l.Variants[0].Bodies[0].Shape.PartID = "gone"
	if err := design.Check(&l); err == nil {
		t.Error("a profile that is not there is accepted")
	}
}

func TestCost(t *testing.T) {
	price := func(x float64) *float64 { return &x }
	l := &design.Light{Parts: []design.Part{
		{ID: "c", Cell: &design.Cell{}, Price: price(3)}, {ID: "e", Emitter: &design.Emitter{}, Price: price(0.5)}, {ID: "s", Strip: &design.Strip{}, Price: price(4)}, {ID: "d", Driver: &design.Driver{}}, {ID: "x", Driver: &design.Driver{}, Price: price(99)},
	}, Variants: []design.Variant{{Feeds: []design.Feed{{
		Sources: []design.Source{{Pack: &design.Pack{PartID: "c", Series: 4, Parallel: 2}}},
		Loads: []design.Node{{Count: 2, Driver: &design.DriverUse{PartID: "d"}, Loads: []design.Node{
			{Array: &design.Array{PartID: "e", Series: 3, Parallel: 2}}, {Strip: &design.StripUse{PartID: "s", PiecesM: []float64{0.5, 1}}},
		}}},
	}}}}}
	if got, want := design.CostOf(l, 0), (design.Cost{Sum: 4*2*3 + 2*6*0.5 + 2*1.5*4, Priced: 3, Unpriced: 1}); got != want {
		t.Errorf("%+v, want %+v", got, want)
	}
}
