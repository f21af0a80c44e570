package units

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
)

// copperOhmM is the resistivity of annealed copper at 20 °C, Ω·m (IEC 60028).
const copperOhmM = 1.724e-8

// GaugeM is the diameter of a wire by its American gauge number, m: 0.127 mm ·
// 92^((36−n)/39) (ASTM B258).
func GaugeM(n int) float64 { return 0.127e-3 * math.Pow(92, float64(36-n)/39) }

// WireOhmPerM is the resistance of copper wire of a cross-section, Ω/m at 20 °C.
func WireOhmPerM(areaM2 float64) float64 { return copperOhmM / areaM2 }

// Wires people use in lights: gauges, and cross-sections in mm² (IEC 60228).
const (
	thickestGauge = 8
	thinnestGauge = 36
)

var sections = []float64{0.05, 0.08, 0.14, 0.2, 0.22, 0.25, 0.34, 0.5, 0.75, 1, 1.5, 2.5, 4, 6}

// wires are the spellings by which the length of a wire stands for its resistance:
// 1.2 m AWG 24, 4 ft AWG 18, 2 m 0.5 mm².
func wires() []Unit {
	var out []Unit
	lengths := []Unit{{Symbol: "m", Factor: 1}, {Symbol: "cm", Factor: 1e-2}, {Symbol: "ft", Factor: 12 * inchM}}
	add := func(wire string, ohmPerM float64) {
		for _, l := range lengths {
			out = append(out, Unit{Symbol: l.Symbol + " " + wire, Factor: l.Factor * ohmPerM})
		}
	}
	for n := thickestGauge; n <= thinnestGauge; n++ {
		d := GaugeM(n)
		add(fmt.Sprintf("AWG %d", n), WireOhmPerM(math.Pi*d*d/4))
	}
	for _, s := range sections {
		add(fmt.Sprintf("%g mm²", s), WireOhmPerM(s*1e-6))
	}
	return out
}

var (
	gaugeFirst = regexp.MustCompile(`(?i)^(?:awg\s*(\d+)|(\d+)\s*(?:awg|gauge|ga))\s*,?\s*(.+)$`)
	gaugeLast  = regexp.MustCompile(`(?i)^(.+?)\s*(?:of\s+)?(?:awg\s*(\d+)|\b(\d+)\s*(?:awg|gauge|ga))$`)
	section    = regexp.MustCompile(`(?i)^(.+?)\s+(?:of\s+)?([\d.]+)\s*(?:mm²|mm2|mm\^2)$`)
)

// wireWords spells a wire's gauge or cross-section the one way it is known here: behind
// its length.
func wireWords(s string) string {
	if m := gaugeFirst.FindStringSubmatch(s); m != nil {
		return m[3] + " AWG " + m[1] + m[2]
	}
	if m := gaugeLast.FindStringSubmatch(s); m != nil {
		return m[1] + " AWG " + m[2] + m[3]
	}
	if m := section.FindStringSubmatch(s); m != nil {
		return m[1] + " " + m[2] + " mm²"
	}
	return s
}

// A Wire is a length of copper.
type Wire struct {
	LengthM, AreaM2 float64
}

var wireText = regexp.MustCompile(`^([\d.,]+)\s*(m|cm|ft)\s+(?:AWG (\d+)|([\d.]+) mm²)$`)

// ParseWire reads a wire: 1.2 m AWG 24, 30 cm 0.5 mm², 18 AWG 2 ft.
func ParseWire(text string) (Wire, error) {
	m := wireText.FindStringSubmatch(wireWords(strings.Join(strings.Fields(text), " ")))
	if m == nil {
		return Wire{}, fmt.Errorf("%q is no wire: a length and a gauge or a cross-section are needed, such as 1.2 m AWG 24 or 30 cm 0.5 mm²", text)
	}
	length, err := Parse(m[1]+" "+m[2], "length")
	if err != nil {
		return Wire{}, err
	}
	w := Wire{LengthM: length}
	if m[3] != "" {
		n, _ := strconv.Atoi(m[3]) // digits they are
		d := GaugeM(n)
		w.AreaM2 = math.Pi * d * d / 4
	} else {
		mm2, err := strconv.ParseFloat(m[4], 64)
		if err != nil {
			return Wire{}, fmt.Errorf("%q is no cross-section", m[4])
		}
		w.AreaM2 = mm2 * 1e-6
	}
	if !(w.LengthM > 0 && w.AreaM2 > 1e-10 && w.AreaM2 < 1e-2) {
		return Wire{}, fmt.Errorf("%q is no wire that exists", text)
	}
	return w, nil
}

// Ohm is its resistance at 20 °C, Ω.
func (w Wire) Ohm() float64 { return WireOhmPerM(w.AreaM2) * w.LengthM }
