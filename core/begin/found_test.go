package begin_test

import (
	"encoding/json"
	"maps"
	"math"
	"slices"
	"strings"
	"testing"

	"photherm/core/begin"
	"photherm/core/design"
	"photherm/core/heat"
)

// What carries the heat is a shape by what it is called and its measures, in the order in which
// people say them; what they do not say is assumed, and only that.
func TestFoundBodies(t *testing.T) {
	fins := `"kind":"fins","lengthM":0.1,"widthM":0.06,"thicknessM":0.005,`
	for words, want := range map[string]struct {
		shape   string
		assumed []string // of the shape
	}{
		"finned heatsink 100 x 60 x 35 mm, 9 fins":        {fins + `"fins":9,"finHeightM":0.03,"finThicknessM":0.0015`, []string{"finThicknessM", "thicknessM"}},
		"heatsink 9 straight fins 35x60x100":              {fins + `"fins":9,"finHeightM":0.03,"finThicknessM":0.0015`, []string{"finThicknessM", "thicknessM"}},
		"heatsink 100x60x35, 60 fins":                     {fins + `"fins":7,"finHeightM":0.03,"finThicknessM":0.0015`, []string{"finThicknessM", "fins", "thicknessM"}}, // they fill it
		"heatsink 100x60x35 2 fins":                       {fins + `"fins":2,"finHeightM":0.03,"finThicknessM":0.0015`, []string{"finThicknessM", "thicknessM"}},
		"heatsink 100x60x35 1 fins":                       {fins + `"fins":7,"finHeightM":0.03,"finThicknessM":0.0015`, []string{"finThicknessM", "fins", "thicknessM"}},
		"heatsink 100x60x35 with fan":                     {fins + `"fins":7,"finHeightM":0.03,"finThicknessM":0.0015,"fan":{"flowM3PerH":11}`, []string{"fan/flowM3PerH", "finThicknessM", "fins", "thicknessM"}},
		"black anodized plate 200x100x3":                  {`"kind":"plate","surface":"anodised","lengthM":0.2,"widthM":0.1,"thicknessM":0.003`, nil},
		"painted steel box 200x150x60":                    {`"kind":"box","material":"steel","surface":"painted","lengthM":0.2,"widthM":0.15,"heightM":0.06,"thicknessM":0.002`, []string{"thicknessM"}},
		"diecast housing 120x80x55 mm":                    {`"kind":"box","material":"cast-aluminium","lengthM":0.12,"widthM":0.08,"heightM":0.055,"thicknessM":0.002`, []string{"thicknessM"}},
		"lid of a box 200x150x3":                          {`"kind":"plate","lengthM":0.2,"widthM":0.15,"thicknessM":0.003`, nil},
		"cooler of 0.3 K/W":                               {`"kind":"cooler","coolerKPerW":0.3`, nil},
		"CPU cooler without fan":                          {`"kind":"cooler","coolerKPerW":2`, []string{"coolerKPerW"}},
		"finned profile 100 wide, 60 mm long, 35 mm fins": {fins + `"fins":7,"finHeightM":0.03,"finThicknessM":0.0015`, []string{"finThicknessM", "fins", "thicknessM"}},
		"6 x 4 x 1/4 in plate":                            {`"kind":"plate","lengthM":0.1524,"widthM":0.1016,"thicknessM":0.00635`, nil},
		"L bracket 50 x 50 x 3 mm, 100 long":              {`"kind":"plate","lengthM":0.1,"widthM":0.1,"thicknessM":0.003`, nil},
		"aluminium can 66 mm x 115 mm":                    {`"kind":"tube","lengthM":0.115,"thicknessM":0.002,"diameterM":0.066`, []string{"thicknessM"}},
		"jar 80 mm x 100 mm":                              {`"kind":"tube","material":"glass","lengthM":0.1,"thicknessM":0.002,"diameterM":0.08`, []string{"thicknessM"}},
		"chipboard 600 x 300 x 16":                        {`"kind":"plate","material":"wood","lengthM":0.6,"widthM":0.3,"thicknessM":0.016`, nil},
		"cast iron plate 200x150x8":                       {`"kind":"plate","material":"steel","lengthM":0.2,"widthM":0.15,"thicknessM":0.008`, nil},
		"baking tray 40 x 30 cm":                          {`"kind":"plate","material":"steel","lengthM":0.4,"widthM":0.3,"thicknessM":0.002`, []string{"thicknessM"}},
		"CPU cooler with fan":                             {`"kind":"cooler","coolerKPerW":0.5`, []string{"coolerKPerW"}},
		"U channel 20x30x2 mm 1 m long":                   {`"kind":"plate","lengthM":1,"widthM":0.08,"thicknessM":0.002`, nil},
		"angle 30 x 40 x 2 mm, 1 m":                       {`"kind":"plate","lengthM":1,"widthM":0.07,"thicknessM":0.002`, nil},
		"angle 30 x 40 mm, 1 m":                           {`"kind":"plate","lengthM":1,"widthM":0.07,"thicknessM":0.002`, []string{"thicknessM"}},
		"L profile 40x40x6":                               {`"kind":"plate","lengthM":0.3,"widthM":0.08,"thicknessM":0.006`, []string{"lengthM"}},
		"angle 30 mm, 1 m":                                {`"kind":"plate","lengthM":1,"widthM":0.06,"thicknessM":0.002`, []string{"thicknessM"}},
		"profile 250 mm perimeter 400 mm long":            {`"kind":"profile","lengthM":0.4,"perimeterM":0.25`, nil},
		"profile 400 mm long, perimeter 250 mm":           {`"kind":"profile","lengthM":0.4,"perimeterM":0.25`, nil},
		"400 mm of profile with 250 mm girth":             {`"kind":"profile","lengthM":0.4,"perimeterM":0.25`, nil},
		"perimeter of 250 mm, 400 mm":                     {`"kind":"profile","lengthM":0.4,"perimeterM":0.25`, nil},
		"copper pill 3 mm, 20 mm":                         {`"kind":"disc","material":"copper","thicknessM":0.003,"diameterM":0.02`, nil},
		"aluminium washer 20 mm":                          {`"kind":"disc","thicknessM":0.002,"diameterM":0.02`, []string{"thicknessM"}},
		"washer 20 mm":                                    {`"kind":"disc","material":"steel","thicknessM":0.002,"diameterM":0.02`, []string{"thicknessM"}},
		"no heat sink":                                    {`"kind":"disc","thicknessM":0.0016,"diameterM":0.02`, []string{"diameterM", "thicknessM"}},
		"torch":                                           {`"kind":"tube","lengthM":0.12,"thicknessM":0.002,"diameterM":0.025`, []string{"diameterM", "lengthM", "thicknessM"}},
		"30 mm diameter 150 mm, under water":              {`"kind":"tube","lengthM":0.15,"thicknessM":0.002,"diameterM":0.03,"submerged":true`, []string{"thicknessM"}},
		"tin can 70 mm x 100 mm in the rain":              {`"kind":"tube","material":"steel","lengthM":0.1,"thicknessM":0.002,"diameterM":0.07,"wet":true`, []string{"thicknessM"}},
		`sheet 12" x 6"`:                                  {`"kind":"plate","lengthM":0.3048,"widthM":0.1524,"thicknessM":0.002`, []string{"thicknessM"}},
		"plate of 3 mm polished brass, 300 by 200":        {`"kind":"plate","material":"brass","surface":"polished","lengthM":0.3,"widthM":0.2,"thicknessM":0.003`, nil},
		"processor heatsink, fan":                         {`"kind":"cooler","coolerKPerW":0.5`, []string{"coolerKPerW"}},
		"round finned sink 80 mm dia 40 mm":               {`"kind":"fins","lengthM":0.0709,"widthM":0.0709,"thicknessM":0.005,"fins":8,"finHeightM":0.035,"finThicknessM":0.0015`, []string{"finThicknessM", "fins", "thicknessM", "widthM"}},
		"pipe 80 mm diameter 40 mm high":                  {`"kind":"tube","lengthM":0.04,"thicknessM":0.002,"diameterM":0.08`, []string{"thicknessM"}},
		"pipe 40 mm high, 80 mm across":                   {`"kind":"tube","lengthM":0.04,"thicknessM":0.002,"diameterM":0.08`, []string{"thicknessM"}},
		"tube 40mm outside 3 mm wall 150 mm long":         {`"kind":"tube","lengthM":0.15,"thicknessM":0.003,"diameterM":0.04`, nil},
		"tube 35 x 120 x 2 mm":                            {`"kind":"tube","lengthM":0.12,"thicknessM":0.002,"diameterM":0.035`, nil},
		"40 mm star on 60x60 mm 5 mm plate":               {`"kind":"plate","lengthM":0.06,"widthM":0.06,"thicknessM":0.005`, nil},
		"pipe 140 mm long 25 mm diameter":                 {`"kind":"tube","lengthM":0.14,"thicknessM":0.002,"diameterM":0.025`, []string{"thicknessM"}},
		"1000 cm² of painted steel":                       {`"kind":"area","material":"steel","surface":"painted","areaM2":0.1`, nil},
		"plate 100x100x3, 0.03 m² with its corners":       {`"kind":"area","areaM2":0.03`, nil},
	} {
		b, err := begin.For(begin.Facts{Way: "parts", Emitters: "3 W", Body: words})
		if err != nil {
			t.Fatalf("%q: %v", words, err)
		}
		body := b.Light.Variants[0].Bodies[0]
		if got, _ := json.Marshal(body.Shape); string(got) != "{"+want.shape+"}" || b.Understood["body"] == "" {
			t.Errorf("%q (%s):\n got %s\nwant {%s}", words, b.Understood["body"], got, want.shape)
		}
		of := map[string]bool{}
		for _, a := range b.Light.Variants[0].Assumed {
			if at, ok := strings.CutPrefix(a.At, "/bodies/body/shape/"); ok {
				of[at] = true
			}
		}
		if got := slices.Sorted(maps.Keys(of)); !slices.Equal(got, want.assumed) {
			t.Errorf("%q: assumed %v, want %v", words, got, want.assumed)
		}
		if _, lacks := heat.NewBody(body.Shape, 1); len(lacks) > 0 {
			t.Errorf("%q: no law without %v", words, lacks)
		}
	}
	// What they stand on is assumed by the watts of one, so that heat that stays under them counts:
	// nine watts on wood make it hot there.
	for words, m2 := range map[string]float64{"3 x 3 W": 9.4e-4, "50 W 36 V": 16e-4, "10 W 9 V": 3.1e-4, "11 W 9 V": 16e-4, "4 LEDs 5 mm in series": 2e-4} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: "24 V", Emitters: words, Driver: "step-down 20 mA", Body: "wooden board 18 mm 90 mm wide 1 m"})
		if err != nil {
			t.Fatal(err)
		}
		for n := range design.Nodes(&b.Light.Variants[0]) {
			if a := n.Array; a != nil && (math.Abs(*a.Joint.AreaM2/m2-1) > 0.01 || !assumed(b, "/feeds/power/loads/emitters/array/joint/areaM2")) {
				t.Errorf("%q: %g m²", words, *a.Joint.AreaM2)
			}
		}
	}
	for words, m := range map[string]float64{"3 x 3 W": 0.035, "": 0.02} {
		b, err := begin.For(begin.Facts{Way: "parts", Source: "24 V", Emitters: words, Body: "no heat sink"})
		if got := *b.Light.Variants[0].Bodies[0].Shape.DiameterM; err != nil || math.Abs(got-m) > 1e-9 {
			t.Errorf("%q with nothing but boards: %g m, %v", words, got, err)
		}
	}
	// Of a mass alone: no less surface than a cube has, of fins 3 mm thick on average twice its
	// volume over that.
	for words, want := range map[string]struct{ kg, m2 float64 }{"half a kilo of copper": {0.5, 6 * math.Pow(0.5/8933, 2.0/3)}, "heatsink 2 kg": {2, 2 * 2 / 2700.0 / 0.003}} {
		b, err := begin.For(begin.Facts{Way: "parts", Emitters: "3 W", Body: words})
		if err != nil {
			t.Fatal(err)
		}
		body := b.Light.Variants[0].Bodies[0]
		if math.Abs(*body.MassKg/want.kg-1) > 1e-9 || body.Shape.Kind != "area" || math.Abs(*body.Shape.AreaM2/want.m2-1) > 0.03 || !assumed(b, "/bodies/body/shape/areaM2") {
			t.Errorf("%q: %v kg, %+v", words, *body.MassKg, body.Shape)
		}
	}
}
