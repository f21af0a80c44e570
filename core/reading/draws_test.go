package reading

import (
	"math"
	"strings"
	"testing"
)

// Common practice: 0.30 A at 4.5 and at 4.2 V, 0.485 A at 5.0, 0.137 A at 3.28: two of them
// cannot both be right, and the one at 4.5 V, where a smooth law has about 0.37 A, is repeated.
func TestContradictions(t *testing.T) {
	list, err := ReadDraws("4.5 V 300 mA · 5.0 V 485 mA · 4.2 V 300 mA · 3.28 V 137 mA")
	if err != nil || len(list) != 4 {
		t.Fatal(list, err)
	}
	got := Contradictions(list)
	if len(got) != 1 || got[0].Repeat != 0 || math.Abs(got[0].WouldBe-0.37) > 0.01 || !strings.Contains(got[0].Why, "300 mA at 4.20 V and 300 mA at 4.50 V cannot both be right") || !strings.Contains(got[0].Why, "Repeat the one at 4.50 V") {
		t.Errorf("%+v", got)
	}
	for name, text := range map[string]string{
		"a diode and a resistor": "3 V 20 mA; 3.5 V 120 mA; 4 V 260 mA; 4.5 V 410 mA; 5 V 560 mA",
		"it holds its current":   "3 V 100 mA; 3.5 V 250 mA; 4 V 300 mA; 4.5 V 301 mA; 5 V 300 mA",
		"it holds its power":     "3 V 500 mA; 4 V 375 mA; 5 V 300 mA; 6 V 250 mA",
		"two are too few":        "3 V 100 mA; 4 V 100 mA",
		"three too":              "3 V 100 mA; 4 V 100 mA; 5 V 300 mA",
		"one voltage, near":      "3 V 100 mA; 3 V 105 mA",
		"nothing flows at first": "1 V 0 mA; 2 V 0 mA; 3 V 100 mA; 4 V 300 mA",
	} {
		list, err := ReadDraws(text)
		if err != nil {
			t.Fatal(name, err)
		}
		if got := Contradictions(list); len(got) != 0 {
			t.Errorf("%s: %+v", name, got)
		}
	}
	list, _ = ReadDraws("3 V 100 mA; 3.01 V 150 mA")
	if got := Contradictions(list); len(got) != 1 || got[0].Repeat != 1 {
		t.Errorf("one voltage, far apart: %+v", got)
	}
	list, _ = ReadDraws("3 V 100 mA; 3.2 V 300 mA; 3.4 V 120 mA; 3.6 V 330 mA; 3.8 V 130 mA; 4 V 380 mA; 4.2 V 140 mA")
	if got := Contradictions(list); len(got) != 1 || !strings.Contains(got[0].Why, "jump to and fro") {
		t.Errorf("all over the place: %+v", got)
	}
}

// Readings as people write them.
func TestReadDraws(t *testing.T) {
	list, err := ReadDraws("4,5 V 0,3–0,34 A\n12 V 57mA 830\n\n 300 mA to 340 mA 5V ; 6 V 0.30-0.34 A 900")
	if err != nil || len(list) != 4 {
		t.Fatal(list, err)
	}
	if d := list[0]; d.V != 4.5 || d.A != 0.3 || d.ToA == nil || math.Abs(*d.ToA-0.34) > 1e-12 || d.Light != nil {
		t.Errorf("%+v", d)
	}
	if d := list[1]; d.V != 12 || math.Abs(d.A-0.057) > 1e-12 || d.Light == nil || *d.Light != 830 {
		t.Errorf("%+v", d)
	}
	if d := list[2]; d.V != 5 || d.ToA == nil {
		t.Errorf("%+v", d)
	}
	if d := list[3]; d.Light == nil || *d.Light != 900 || *d.ToA != 0.34 {
		t.Errorf("%+v", d)
	}
	for _, text := range []string{"4.5 V", "300 mA", "4.5 300 mA", "4.5 V 300 mW", "4.5 V 5 V 1 A", "4.5 V 0.3 –", "4.5 V 0.3 – 0.4"} {
		if list, err := ReadDraws(text); err == nil {
			t.Errorf("%q: %+v", text, list)
		} else if !strings.Contains(err.Error(), "reading 1") {
			t.Errorf("%q: %v", text, err)
		}
	}
}

// Readings at one voltage are their mean; light is relative to the last; and scatter is the
// meter's 1.5 % with what stands apart, or moved.
func TestLoadOf(t *testing.T) {
	list, _ := ReadDraws("5 V 400 mA 900; 4 V 190 mA 400; 4 V 210 mA 500")
	points, scatter := LoadOf(list)
	// The last was read without light: it is told over that of the highest where it was.
	if dim, _ := LoadOf([]Draw{{V: 12, A: 0.31}, {V: 11, A: 0.2, Light: p(80)}, {V: 10, A: 0.15, Light: p(40)}}); dim[2].RelativeLight != nil || *dim[1].RelativeLight != 1 || *dim[0].RelativeLight != 0.5 {
		t.Errorf("%+v", dim)
	}
	if len(points) != 2 || math.Abs(points[0].CurrentA-0.2) > 1e-12 || *points[0].RelativeLight != 0.5 || *points[1].RelativeLight != 1 {
		t.Errorf("%+v", points)
	}
	if want := math.Hypot(0.015, 2*math.Sqrt(2*0.05*0.05/3)); math.Abs(scatter-want) > 1e-12 {
		t.Errorf("scatter %g, want %g", scatter, want)
	}
	list, _ = ReadDraws("5 V 400 mA – 440 mA")
	if points, scatter = LoadOf(list); math.Abs(points[0].CurrentA-0.42) > 1e-12 || math.Abs(scatter-math.Hypot(0.015, 2*0.02/0.42)) > 1e-12 {
		t.Errorf("%+v %g", points, scatter)
	}
	if points, _ := LoadOf(nil); points != nil {
		t.Errorf("%+v", points)
	}
}
