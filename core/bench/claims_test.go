package bench

import (
	"strings"
	"testing"

	"photherm/core/design"
)

// Stated figures against energy; common practice: a part of stated 15 W that draws 0.125 A at
// 12 V is one of 1.5 W, and 3000 lm for 8½ h from 62 Wh would be 411 lm/W.
func TestClaims(t *testing.T) {
	for name, c := range map[string]struct {
		claims design.Claims
		want   []string // what says, a word of the sum
	}{
		"watts":          {design.Claims{PowerW: p(15.0), MeasuredV: p(12.0), MeasuredA: p(0.125)}, []string{"impossible", "1.50 W"}},
		"watts, true":    {design.Claims{PowerW: p(15.0), MeasuredV: p(12.0), MeasuredA: p(1.2)}, []string{"holds", "14.4 W"}},
		"watts, rounded": {design.Claims{PowerW: p(10.0), MeasuredW: p(8.0)}, []string{"holds", "8.00 W"}},
		"watts, less":    {design.Claims{PowerW: p(10.0), MeasuredW: p(7.9)}, []string{"doubtful", "79"}},
		"watts, half":    {design.Claims{PowerW: p(10.0), MeasuredW: p(5.0)}, []string{"doubtful", "50"}},
		"watts, more":    {design.Claims{PowerW: p(10.0), MeasuredW: p(12.5)}, []string{"doubtful", "125"}},
		"no draw":        {design.Claims{PowerW: p(10.0)}, []string{"unknown", ""}},
		"hours":          {design.Claims{FluxLm: p(3000.0), RuntimeH: p(8.5), EnergyWh: p(62.0)}, []string{"impossible", "411 lm/W"}},
		"hours, gentle":  {design.Claims{FluxLm: p(1200.0), RuntimeH: p(8.5), EnergyWh: p(62.0)}, []string{"holds", "165 lm/W"}},
		"hours by draw":  {design.Claims{RuntimeH: p(10.0), EnergyWh: p(50.0), MeasuredW: p(10.1)}, []string{"impossible", "5.00 W"}},
		"lumens":         {design.Claims{FluxLm: p(2000.0), MeasuredW: p(10.0)}, []string{"doubtful", "200 lm/W"}},
		"lumens, said":   {design.Claims{FluxLm: p(9000.0), PowerW: p(20.0)}, []string{"unknown", "", "impossible", "450 lm/W"}},
		"a cell":         {design.Claims{CapacityAh: p(9.9), CellSize: "18650"}, []string{"impossible", "no 18650"}},
		"a full cell":    {design.Claims{CapacityAh: p(3.4), CellSize: "18650"}, []string{"holds", "3.6 Ah"}},
		"no size":        {design.Claims{CapacityAh: p(3.4)}, []string{"unknown", ""}},
		"counted cells":  {design.Claims{FluxLm: p(1000.0), RuntimeH: p(10.0), CellSize: "18650", Cells: 2}, []string{"impossible", "386 lm/W"}},
		"best cells":     {design.Claims{FluxLm: p(700.0), RuntimeH: p(10.0), CellSize: "18650", Cells: 2}, []string{"doubtful", "270 lm/W"}},
	} {
		got := ClaimsOf(&c.claims)
		if 2*len(got) != len(c.want) {
			t.Errorf("%s: %+v", name, got)
			continue
		}
		for i := range got {
			if got[i].Says != c.want[2*i] || !strings.Contains(got[i].Sum, c.want[2*i+1]) || (got[i].Says == "unknown") != (got[i].Sum == "" && got[i].Lacks != "") {
				t.Errorf("%s: %+v", name, got[i])
			}
		}
	}
	if got := ClaimsOf(nil); len(got) != 0 {
		t.Errorf("nothing is stated: %+v", got)
	}
}

// How many cells it has was not said: each number is gone through.
func TestClaimsSwept(t *testing.T) {
	got := ClaimsOf(&design.Claims{FluxLm: p(1500.0), RuntimeH: p(8.0), CellSize: "18650"})
	// 8 h of 1500 lm is 12000 lmh: n cells of 3.6 Ah at 3.6 V hold 12.96 n Wh, so 926/n lm/W.
	if len(got) != 1 || got[0].Says != "doubtful" || got[0].Sweeps != "impossible for up to 3, doubtful for 4 to 5, possible from 6 on 18650 cells" || got[0].Lacks == "" {
		t.Errorf("%+v", got)
	}
	if got := ClaimsOf(&design.Claims{FluxLm: p(150.0), RuntimeH: p(1.0), CellSize: "18650"}); got[0].Says != "holds" {
		t.Errorf("%+v", got)
	}
	if got := ClaimsOf(&design.Claims{FluxLm: p(90000.0), RuntimeH: p(8.0), CellSize: "AA"}); got[0].Says != "impossible" {
		t.Errorf("%+v", got)
	}
	if got := ClaimsOf(&design.Claims{RuntimeH: p(8.0)}); got[0].Says != "unknown" || !strings.Contains(got[0].Lacks, "watts") {
		t.Errorf("%+v", got)
	}
}
