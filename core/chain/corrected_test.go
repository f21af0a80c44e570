package chain

import (
	"context"
	"math"
	"slices"
	"testing"

	"photherm/core/design"
	"photherm/core/internal/sample"
)

// Corrected by readings, a light is the one whose document says so; what was set anew since is
// off as much; what is gone is left out and told; raw is as the document says.
func TestCorrectedIsEdited(t *testing.T) {
	handlamp := func() *design.Light {
		light, err := sample.Example("shore-search-handlamp.json")
		if err != nil {
			t.Fatal(err)
		}
		return light
	}
	rest := func(light *design.Light, o Options) ([]float64, *Model) {
		m, err := Compile(light, o)
		if err != nil {
			t.Fatal(err)
		}
		st, err := m.Solver().Steady(context.Background())
		if err != nil || !st.Converged {
			t.Fatal(err)
		}
		return st.Record, m
	}
	driver := func(l *design.Light) *design.DriverUse {
		return design.FindNode(l.Variants[0].Feeds[0].Loads, "driver").Driver
	}
	emitter := ""
	light := handlamp()
	for _, part := range light.Parts {
		if part.Emitter != nil {
			emitter = part.ID
		}
	}
	light.Variants[0].Corrected = []design.Correction{
		{At: "/feeds/power/loads/driver/driver/setCurrentA", Label: "set", Was: 1.5, Value: 1.2},
		{At: "/parts/" + emitter + "/emitter/fluxScale", Label: "light", Was: 1, Value: 0.9},
		{At: "/feeds/power/loads/gone/driver/setCurrentA", Label: "gone", Was: 1, Value: 2},
	}
	got, m := rest(light, Options{})
	edited := handlamp()
	driver(edited).SetCurrentA = new(1.2)
	want, plain := rest(edited, Options{})
	lm := slices.IndexFunc(m.Columns(), func(c Column) bool { return c.Owner == "" && c.Figure == "fluxLm" })
	heat := slices.IndexFunc(m.Columns(), func(c Column) bool { return c.Figure == "bodyC" })
	if math.Abs(got[lm]-0.9*want[lm]) > 0.01*want[lm] || got[heat] < want[heat] || got[heat] > want[heat]+2 || len(plain.Stale()) != 0 {
		t.Errorf("light %g and %g °C (what is no light is heat), edited %g and %g", got[lm], got[heat], want[lm], want[heat])
	}
	if len(m.Stale()) != 1 || m.Stale()[0].Label != "gone" || len(m.Light().Variants[0].Corrected) != 0 || len(light.Variants[0].Corrected) != 3 {
		t.Errorf("stale %+v", m.Stale())
	}
	at, _ := design.Resolve(light, 0, light.Variants[0].Corrected[0].At)
	if f := m.Factor(at); math.Abs(f-0.8) > 1e-12 || m.Factor("/none") != 1 {
		t.Errorf("factor %g at %s", f, at)
	}
	if raw, _ := rest(light, Options{Raw: true}); math.Abs(raw[lm]-mustRest(t, handlamp())[lm]) > 1e-9 {
		t.Errorf("raw it gives %g lm", raw[lm])
	}
	driver(light).SetCurrentA = new(1.0)
	again, _ := rest(light, Options{})
	driver(edited).SetCurrentA = new(0.8)
	if want, _ := rest(edited, Options{}); math.Abs(again[lm]-0.9*want[lm]) > 0.01*want[lm] {
		t.Errorf("set anew it gives %g lm, want %g", again[lm], 0.9*want[lm])
	}
}

func mustRest(t *testing.T, light *design.Light) []float64 {
	t.Helper()
	m, err := Compile(light, Options{})
	if err != nil {
		t.Fatal(err)
	}
	st, err := m.Solver().Steady(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	return st.Record
}
