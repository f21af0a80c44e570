package heat

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// A face that gives a share of a body's heat is told when its law is asked that many times
// outside the range it was measured in (both chosen: correlations bend slowly).
const (
	toldShare   = 0.2
	timesBeyond = 10
)

// lawRange is where the law of a kind of face was measured, by its Rayleigh number.
func (k faceKind) lawRange() (what string, low, high float64) {
	switch k {
	case facingUp:
		return "a warm face that looks up", 1e4, 1e11
	case facingDown:
		return "a warm face that looks down", 1e5, 1e10
	case lyingTube:
		return "a lying cylinder", 0, 1e12
	}
	return "an upright face", 0, 1e12
}

// Beyond says in words where the laws of a body are asked outside the range that they were
// measured in; none: nowhere.
func (b *Body) Beyond(bodyC, airC, driveV float64) []string {
	out := []string{}
	if b.cooler != nil || b.wet {
		return out
	}
	a := AirAt((bodyC+airC)/2, b.pressure)
	if k := a.T; k < airFromK || k > airToK {
		out = append(out, fmt.Sprintf("air at %.0f °C, its table goes from %.0f to %.0f °C", k-ZeroC, airFromK-ZeroC, airToK-ZeroC))
	}
	whole := math.Abs(b.Watts(bodyC, airC, driveV))
	flow := b.flow(driveV)
	speed := b.speed
	if b.fins == nil && b.crossM2 > 0 {
		speed = max(speed, flow/b.crossM2)
	}
	for i := range b.faces {
		f := &b.faces[i]
		if w := math.Abs(b.film(f, bodyC, airC, speed) * f.areaM2 * (bodyC - airC)); speed > 0 || w < toldShare*whole || whole == 0 {
			continue
		}
		ra := a.rayleigh(bodyC-airC, f.overM)
		if what, low, high := f.kind.lawRange(); ra < low/timesBeyond || ra > high*timesBeyond {
			out = append(out, fmt.Sprintf("%s at a Rayleigh number of about %s, its law is for %s to %s", what, power(ra), power(low), power(high)))
		}
	}
	if f := b.fins; f != nil && max(flow, b.speed) > 0 {
		v := max(flow/f.crossM2, b.speed)
		if re := v * f.spacingM / a.Nu * f.spacingM / f.lengthM; re < 0.1/timesBeyond || re > 100*timesBeyond {
			out = append(out, fmt.Sprintf("air blown between its fins at Re* %.2g, its law is for 0.1 to 100", re))
		}
	}
	return out
}

// power writes a positive number by its nearest power of ten: 10³.
func power(x float64) string {
	if x <= 0 {
		return "nought"
	}
	n := strconv.Itoa(int(math.Round(math.Log10(x))))
	return "10" + strings.NewReplacer("-", "⁻", "0", "⁰", "1", "¹", "2", "²", "3", "³", "4", "⁴", "5", "⁵", "6", "⁶", "7", "⁷", "8", "⁸", "9", "⁹").Replace(n)
}
