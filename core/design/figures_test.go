package design_test

import (
	"math"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
)

// A figure is read and written by ids, and by places where elements have none; what is none, or
// out of its range, is refused and changes nothing.
func TestFiguresByPointer(t *testing.T) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	v := &light.Variants[0]
	byID, byPlace := "/variants/"+v.ID+"/bodies/"+v.Bodies[0].ID+"/shape/lengthM", "/variants/0/bodies/0/shape/lengthM"
	for range 2 { // a field that was found before is found again
		x, err := design.FigureAt(light, byID)
		if err != nil || x == nil || *x != *v.Bodies[0].Shape.LengthM {
			t.Errorf("%v, %v", x, err)
		}
	}
	if err := design.SetFigure(light, byPlace, 0.2); err != nil || *v.Bodies[0].Shape.LengthM != 0.2 {
		t.Errorf("%v: %g m", err, *v.Bodies[0].Shape.LengthM)
	}
	if x, err := design.FigureAt(light, "/conditions/altitudeM"); err != nil || x != nil && *x != 0 {
		t.Errorf("what is not said is %v, %v", x, err)
	}
	for _, bad := range []string{"", "conditions/ambientC", "/conditions/nothing", "/variants/9/bodies/0/shape/lengthM", "/variants", "/name", "/conditions/ambientC/deeper"} {
		if _, err := design.FigureAt(light, bad); err == nil {
			t.Errorf("%q is a figure", bad)
		}
	}
	for _, x := range []float64{-1, math.NaN(), math.Inf(1), 1e12} {
		if err := design.SetFigure(light, byPlace, x); err == nil || *v.Bodies[0].Shape.LengthM != 0.2 {
			t.Errorf("%g m: %v, now %g m", x, err, *v.Bodies[0].Shape.LengthM)
		}
	}
}
