package exchange_test

import (
	"bytes"
	"math"
	"strconv"
	"strings"
	"testing"

	"photherm/app/exchange"
	"photherm/core/design"
)

// plainIES is a parser of the test's own, from the standard's description (ANSI/IES LM-63-2002,
// memory): keywords to TILT=NONE, ten figures, three, angles, then candela a plane.
func plainIES(t *testing.T, text string) (vertical, horizontal []float64, cd [][]float64, lumens, watts float64) {
	t.Helper()
	head, rest, ok := strings.Cut(text, "TILT=NONE\r\n")
	if !ok || !strings.HasPrefix(head, "IESNA:LM-63-2002\r\n") {
		t.Fatalf("head %q", head)
	}
	for _, line := range strings.Split(text, "\r\n") {
		if len(line) > 132 {
			t.Errorf("a line of %d characters", len(line))
		}
	}
	var x []float64
	for _, word := range strings.Fields(rest) {
		v, err := strconv.ParseFloat(word, 64)
		if err != nil {
			t.Fatal(err)
		}
		x = append(x, v)
	}
	nv, nh := int(x[3]), int(x[4])
	if x[5] != 1 || x[6] != 2 {
		t.Errorf("type %g, units %g", x[5], x[6])
	}
	lumens, watts = x[1], x[12]
	x = x[13:]
	vertical, horizontal, x = x[:nv], x[nv:nv+nh], x[nv+nh:]
	for range nh {
		cd, x = append(cd, x[:nv]), x[nv:]
	}
	if len(x) != 0 {
		t.Errorf("%d figures are left", len(x))
	}
	return vertical, horizontal, cd, lumens, watts
}

func TestPhotometricFile(t *testing.T) {
	table := &design.IntensityTable{HorizontalDeg: []float64{0, 90, 180, 270, 360}}
	for v := 0.0; v <= 90; v += 2.5 {
		table.VerticalDeg = append(table.VerticalDeg, v)
	}
	for _, h := range table.HorizontalDeg {
		row := make([]float64, len(table.VerticalDeg))
		for i, v := range table.VerticalDeg {
			row[i] = 1234.567 * math.Cos(v*math.Pi/180) * (1 + h/1000)
		}
		table.Candela = append(table.Candela, row)
	}
	copy(table.Candela[4], table.Candela[0])
	var b bytes.Buffer
	if err := exchange.WritePhotometric(&b, &exchange.Photometric{Table: table, InputW: 15.25, WidthM: 0.06, LengthM: 0.2}, "Bench ← light"); err != nil {
		t.Fatal(err)
	}
	v, h, cd, lumens, watts := plainIES(t, b.String())
	if len(v) != 37 || len(h) != 5 || lumens != -1 || watts != 15.25 || math.Abs(cd[3][5]-table.Candela[3][5]) > 1e-3 {
		t.Errorf("%d × %d, %g lm, %g W, %g cd", len(v), len(h), lumens, watts, cd[3][5])
	}
	again, err := exchange.ReadPhotometric(b.String())
	if err != nil {
		t.Fatal(err)
	}
	for i := range table.Candela {
		for k := range table.Candela[i] {
			if math.Abs(again.Table.Candela[i][k]-table.Candela[i][k]) > 1e-6*table.Candela[i][k]+1e-9 {
				t.Fatalf("row %d, %d: %g became %g", i, k, table.Candela[i][k], again.Table.Candela[i][k])
			}
		}
	}
	if again.Lumens != nil || again.InputW != 15.25 || again.LengthM != 0.2 || again.Table.Name != "Bench ? light" {
		t.Errorf("%+v", again)
	}
}

// Files as others write them, and broken ones, which are told with their line.
func TestPhotometricFilesOfOthers(t *testing.T) {
	const head = "IES:LM-63-2019\n[TEST] x\n[LUMINAIRE] a light\nTILT=NONE\n"
	good := map[string]string{
		"feet, commas":  head + "1,1000,2.5,3,1,1,1,0.5,1,0\n1 1 10\n0 45 90\n0\n100 70 0\n",
		"tilt included": "IESNA91\nTILT=INCLUDE\n1\n2\n0 90\n1 1\n1 1000 2.5 3 1 1 1 0.5 1 0\n1 1 10\n0 45 90\n0\n100 70 0\n",
	}
	for name, text := range good {
		p, err := exchange.ReadPhotometric(text)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		if *p.Lumens != 1000 || p.Table.Candela[0][0] != 250 || math.Abs(p.LengthM-0.3048) > 1e-9 {
			t.Errorf("%s: %+v %+v", name, p, p.Table)
		}
	}
	side, err := exchange.ReadPhotometric(head + "1 -1 1 2 3 1 2 0 0 0\n1 1 10\n0 90\n90 180 270\n10 1\n10 2\n10 3\n")
	if err != nil {
		t.Fatal(err)
	}
	if got := side.Table; len(got.HorizontalDeg) != 5 || got.Candela[0][1] != 2 || got.Candela[1][1] != 1 || got.Candela[3][1] != 3 || got.Candela[4][1] != 2 {
		t.Errorf("90 to 270°: %+v", got)
	}
	if up, err := exchange.ReadPhotometric(head + "1 -1 1 2 1 1 2 0 0 0\n1 1 10\n90 180\n0\n10 10\n"); err != nil || up.Table.VerticalDeg[0] != 0 || up.Table.Candela[0][0] != 0 {
		t.Errorf("upwards: %v", err)
	}
	for name, c := range map[string]struct{ text, says string }{
		"another file": {"hello\n", "line 1: it does not begin"},
		"no tilt":      {"IESNA:LM-63-2002\n[TEST] x\n", "no TILT"},
		"tilt file":    {"IESNA:LM-63-2002\nTILT=a.tlt\n", "line 2: TILT=A.TLT names another file"},
		"word":         {head + "1 1000 x 3 1 1 1 0.5 1 0\n", `line 5: "x" is no number`},
		"type B":       {head + "1 1000 1 3 1 2 1 0.5 1 0\n", "line 5: it is of photometric type 2"},
		"ends":         {head + "1 1000 1 3 1 1 1 0.5 1 0\n1 1 10\n0 45 90\n0\n100 70\n", "the file ends where candela 3 of 3"},
		"falling":      {head + "1 1000 1 3 1 1 1 0.5 1 0\n1 1 10\n0 95 90\n0\n100 70 0\n", "does not rise"},
		"negative":     {head + "1 1000 1 3 1 1 1 0.5 1 0\n1 1 10\n0 45 90\n0\n100 -70 0\n", "line 9: a candela of -70"},
		"huge":         {head + "1 1000 1 99999 1 1 1 0.5 1 0\n", "from 1 to 721"},
		"dark":         {head + "1 1000 1 3 1 1 1 0.5 1 0\n1 1 10\n0 45 90\n0\n0 0 0\n", "no light"},
		"NaN":          {head + "1 NaN 1 3 1 1 1 0.5 1 0\n", "no number"},
	} {
		if _, err := exchange.ReadPhotometric(c.text); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v", name, err)
		}
	}
}
