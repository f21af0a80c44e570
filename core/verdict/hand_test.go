package verdict

import (
	"strings"
	"testing"

	"photherm/core/design"
)

// Forty lights judged by hand first, about half of them flawed: the flaw is told with the weight it has,
// and of the sound ones nothing is told that asks for a change.
func TestLightsJudgedByHand(t *testing.T) {
	v := func(x float64) design.Source {
		return design.Source{Supply: &design.Supply{VoltageV: x, ResistanceOhm: 0.05}}
	}
	wall := design.Source{Mains: &design.Mains{VoltageV: 230, FrequencyHz: 50}}
	pk := func(s, par int, cut *float64) design.Source {
		return design.Source{Pack: &design.Pack{PartID: "c", Series: s, Parallel: par, CutoffCellV: cut}}
	}
	lin := func(a float64) design.Driver {
		return design.Driver{Family: "linear", SetCurrentA: &a, HeadroomV: p(0.3)}
	}
	buck := func(a float64) design.Driver {
		return design.Driver{Family: "buck", SetCurrentA: &a, Efficiency: p(0.9), HeadroomV: p(1.0)}
	}
	boost := func(a float64) design.Driver {
		return design.Driver{Family: "boost", SetCurrentA: &a, Efficiency: p(0.88), MaxVoltageV: p(40.0)}
	}
	res := func(r float64) design.Driver {
		return design.Driver{Family: "resistor", ResistanceOhm: &r, RatedW: p(5.0)}
	}
	win := func(a, lo, hi float64, iso bool) design.Driver {
		return design.Driver{Family: "window", SetCurrentA: &a, MinVoltageV: &lo, MaxVoltageV: &hi, Efficiency: p(0.88), Isolated: &iso, Class: "II"}
	}
	cv := func(x float64) design.Driver {
		return design.Driver{Family: "voltage", SetVoltageV: &x, MaxCurrentA: p(2.0), MaxOutputW: p(60.0), Efficiency: p(0.88), Isolated: p(true), Class: "II"}
	}
	no := func(*bench) {}
	for _, c := range []struct {
		name string
		src  design.Source
		d    design.Driver
		n    int
		do   func(*bench)
		want string
	}{
		{"12 V linear 3", v(12), lin(0.35), 3, no, "none"},
		{"12 V linear 4: just enough", v(12), lin(0.35), 4, no, "none"},
		{"24 V buck 5", v(24), buck(0.5), 5, no, "none"},
		{"24 V buck 9: too low", v(24), buck(0.5), 9, no, "caution no-headroom"},
		{"12 V boost 8", v(12), boost(0.35), 8, no, "none"},
		{"12 V boost 3: conducts", v(12), boost(0.35), 3, no, "stop step-up-conducts"},
		{"12 V boost 14: output ends", v(12), boost(0.35), 16, no, "stop output-too-low"},
		{"12 V resistor 3", v(12), res(10), 3, no, "none"},
		{"12 V resistor 3, 1 ohm: over", v(12), res(1), 3, no, "stop over-max-current"},
		{"wall window 10", wall, win(0.35, 20, 40, true), 10, no, "caution mains"},
		{"wall window 5: too few", wall, win(0.35, 20, 40, true), 5, no, "stop window-too-low"},
		{"wall window live, metal", wall, win(0.35, 20, 40, false), 10, func(b *bench) { b.light.Variants[0].Bodies[0].Touchable = true }, "stop not-isolated"},
		{"wall window live, plain", wall, win(0.35, 20, 40, false), 10, no, "caution live-output"},
		{"wall supply 29.5 V 10", wall, cv(28.8), 10, no, "caution mains"},
		{"wall resistor", wall, res(6000), 10, no, "stop mains-dropped"},
		{"1S boost guarded", pk(1, 2, p(2.8)), boost(0.3), 3, no, "none"},
		{"1S boost unguarded", pk(1, 2, nil), boost(0.3), 3, no, "caution never-cut-off"},
		{"3S buck unguarded", pk(3, 1, nil), buck(0.35), 2, no, "stop never-cut-off"},
		{"3S buck guarded", pk(3, 1, p(3.0)), buck(0.35), 2, no, "none"},
		{"4S linear guarded", pk(4, 1, p(3.0)), lin(0.35), 3, no, "none"},
		{"1S none", pk(1, 1, p(2.8)), design.Driver{Family: "none"}, 1, no, "stop over-max-current"},
		{"fuse far above", pk(3, 1, p(3.0)), buck(0.35), 2, func(b *bench) { b.light.Variants[0].Feeds[0].Sources[0].Pack.FuseA = p(30.0) }, "caution fuse-large"},
		{"fuse too small", pk(3, 1, p(3.0)), buck(0.35), 2, func(b *bench) { b.light.Variants[0].Feeds[0].Sources[0].Pack.FuseA = p(0.2) }, "caution fuse-small"},
		{"weak cell", pk(3, 1, p(3.0)), buck(0.7), 2, func(b *bench) { b.light.Parts[2].Cell.MaxDischargeA = p(0.3) }, "stop cell-discharge"},
		{"unknown small cell", pk(3, 1, p(3.0)), buck(0.7), 2, func(b *bench) { b.light.Parts[2].Cell.MaxDischargeA, b.light.Parts[2].Cell.CapacityAh = nil, 0.4 }, "caution cell-current-asked"},
		{"over rated", v(12), lin(0.8), 3, no, "caution over-rated-current"},
		{"over max", v(12), lin(1.2), 3, no, "stop over-max-current"},
		{"small sink", v(12), lin(0.7), 3, func(b *bench) { b.light.Variants[0].Bodies[0].KPerW = p(25.0) }, "stop junction-limit"},
		{"hot to touch", v(12), lin(0.35), 3, func(b *bench) {
			b.light.Variants[0].Bodies[0].KPerW, b.light.Variants[0].Bodies[0].Touchable = p(36.0), true
		}, "caution touch"},
		{"blue beam", v(12), lin(0.35), 3, func(b *bench) {
			b.e.Colour, b.e.Spectrum, b.e.FluxLm, b.a.BeamDeg = "blue", &design.Spectrum{PeakNm: p(450.0)}, nil, p(10.0)
		}, "caution eyes"},
		{"UV", v(12), lin(0.1), 3, func(b *bench) {
			b.e.Colour, b.e.Spectrum, b.e.FluxLm = "violet", &design.Spectrum{PeakNm: p(395.0)}, nil
		}, "caution ultraviolet"},
		{"dimmed below floor", v(24), buck(0.5), 5, func(b *bench) { b.d.DimFloor, b.use.Dimming = p(0.1), &design.Level{Current: p(0.05)} }, "caution below-dim-floor"},
		{"dimmed half", v(24), buck(0.5), 5, func(b *bench) { b.use.Dimming = &design.Level{Current: p(0.5)} }, "none"},
		{"foldback below air", v(24), buck(0.5), 5, func(b *bench) { b.n().BodyID = "b"; b.use.StepDown = &design.StepDown{To: 0.5, AtC: p(15.0)} }, "caution threshold-below-air"},
		{"input too high", v(24), buck(0.5), 5, func(b *bench) { b.d.InputMaxV = p(20.0) }, "stop source-above-input"},
		{"input too low", v(9), buck(0.3), 2, func(b *bench) { b.d.InputMinV = p(12.0) }, "stop source-below-input"},
		{"input at its lowest", v(12.05), buck(0.3), 2, func(b *bench) { b.d.InputMinV = p(12.0) }, "none"},
		{"six parallel no ballast", v(12), lin(1.0), 3, func(b *bench) { b.a.Parallel = 6 }, "none"},
		{"tied channels wrongly", v(12), lin(0.35), 3, func(b *bench) { b.d.Channels, b.use.TiedChannels = 2, 2 }, "stop channels-not-to-tie"},
		{"power bank asleep", design.Source{Supply: &design.Supply{VoltageV: 5, Kind: "power-bank", ResistanceOhm: 0.1}}, lin(0.02), 1, no, "caution power-bank-off"},
	} {
		b := newBench(c.src, c.d, c.n)
		b.light.Parts = append(b.light.Parts, design.Part{ID: "c", Name: "Cell", Cell: &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: 3, ResistanceOhm: 0.03, MaxDischargeA: p(10.0)}})
		c.do(b)
		findings := judgeLight(t, b.light)
		severity, code, _ := strings.Cut(c.want, " ")
		if f := find(findings, code); severity != "none" && (f == nil || f.Severity != Severity(severity)) {
			t.Errorf("%s: wanted %s, told %+v", c.name, c.want, f)
		}
		for _, f := range findings {
			if severity == "none" && f.Severity != Note || severity == "caution" && f.Severity == Stop {
				t.Errorf("%s: %s is told: %s", c.name, f.Code, f.Why)
			}
		}
	}
}

func (b *bench) n() *design.Node { return &b.light.Variants[0].Feeds[0].Loads[0] }
