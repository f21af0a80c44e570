package design_test

import (
	"encoding/json"
	"errors"
	"slices"
	"strings"
	"testing"

	"photherm/core/design"
)

// Measures that cannot be: each is named where it stands, with why or with the range allowed.
func TestShapesThatCannotBe(t *testing.T) {
	const at = "/variants/0/bodies/0/shape"
	for _, c := range []struct{ shape, pointer, says string }{
		{`"kind":"fins","widthM":0.04,"fins":20,"finThicknessM":0.002`, at + "/finThicknessM", "leave no room for air"},
		{`"kind":"tube","diameterM":0.02,"thicknessM":0.011`, at + "/thicknessM", "thicker than half of the diameter"},
		{`"kind":"profile","perimeterM":0.1,"widthM":0.09,"heightM":0.01`, at + "/perimeterM", "does not go round"},
		{`"kind":"area","areaM2":0`, at + "/areaM2", "1e-06 at least"},
		{`"kind":"plate","lengthM":0`, at + "/lengthM", "0.001 at least"},
		{`"kind":"fins","fan":{"flowM3PerH":0}`, at + "/fan/flowM3PerH", "0.01 at least"},
		{`"kind":"fins","fan":{"flowM3PerH":20,"nodeId":"gone"}`, at + "/fan/nodeId", `no "gone"`},
		{`"kind":"plate","fan":{"flowM3PerH":20}`, at + "/fan", "the speed of the air"},
		{`"kind":"plate","material":"unobtainium"`, at + "/material", "aluminium"},
		{`"kind":"plate","heldShare":1.5`, at + "/heldShare", "0.95 at most"},
	} {
		light := `{"format":"photherm/light","version":8,"name":"l","brief":{},"conditions":{"ambientC":25},"parts":[],"variants":[{"id":"v","name":"v","bodies":[{"id":"b","name":"b","shape":{` + c.shape + `}}],"feeds":[]}]}`
		_, err := design.Decode([]byte(light))
		var problems design.Problems
		if !errors.As(err, &problems) || !slices.ContainsFunc(problems, func(p design.Problem) bool { return p.Pointer == c.pointer && strings.Contains(p.Message, c.says) }) {
			t.Errorf("%s: want %q at %s, got %v", c.shape, c.says, c.pointer, err)
		}
	}
	// Exactly at a limit is accepted: a solid rod, a profile that just goes round.
	for _, shape := range []string{`"kind":"tube","diameterM":0.02,"thicknessM":0.01`, `"kind":"profile","perimeterM":0.2,"widthM":0.09,"heightM":0.01`, `"kind":"plate","heldShare":0.95`} {
		var s design.Shape
		if err := json.Unmarshal([]byte("{"+shape+"}"), &s); err != nil {
			t.Fatal(err)
		}
		l := design.Light{Variants: []design.Variant{{Bodies: []design.Body{{ID: "b", Name: "b", Shape: &s}}}}}
		if err := design.Check(&l); err != nil {
			t.Errorf("%s: %v", shape, err)
		}
	}
}
