package heat

import "math"

// A Link is a way for heat between two places: what flows, W, and how that changes with
// both temperatures, W/K. driveV is the voltage that what moves the air gets, V: only a
// forced way asks for it.
type Link interface {
	Flow(fromC, toC, driveV float64) (w, perFromK, perToK float64)
}

// KPerW is a plain resistance, K/W.
type KPerW float64

// A Tilted is a resistance of so many K/W at a rise of TiltRiseK, whose conductance grows as a
// power of the rise: a body in still air that is known by measurement alone.
type Tilted struct{ KPerW, Power float64 }

// TiltRiseK is the rise at which a measured power changes nothing, and leastTiltK that below
// which it changes no more, K (chosen).
const (
	TiltRiseK  = 30
	leastTiltK = 1
)

// Tilt is what a power of the rise makes of a law.
func Tilt(riseK, power float64) float64 {
	if power == 0 {
		return 1
	}
	return math.Pow(max(math.Abs(riseK), leastTiltK)/TiltRiseK, power)
}

// Flow through it, with its slope.
func (r Tilted) Flow(fromC, toC, _ float64) (w, perFromK, perToK float64) {
	rise := fromC - toC
	g := Tilt(rise, r.Power) / max(r.KPerW, PerfectKPerW)
	slope := g
	if math.Abs(rise) > leastTiltK {
		slope = g * (1 + r.Power)
	}
	return g * rise, slope, -slope
}

// PerfectKPerW stands for a joint taken as perfect.
const PerfectKPerW = 1e-4

// Flow through a resistance is in proportion.
func (r KPerW) Flow(fromC, toC, _ float64) (w, perFromK, perToK float64) {
	g := 1 / max(float64(r), PerfectKPerW)
	return (fromC - toC) * g, g, -g
}

// Conducts is a plain conductance, W/K. Those between pads of one plate may be negative: what
// leads away from both at once.
type Conducts float64

// Flow through a conductance is in proportion.
func (g Conducts) Flow(fromC, toC, _ float64) (w, perFromK, perToK float64) {
	return (fromC - toC) * float64(g), float64(g), -float64(g)
}

// Sun is heat that the sun brings, W: it flows whatever the temperatures.
type Sun float64

// Flow of the sun's heat goes against the way to the air.
func (w Sun) Flow(_, _, _ float64) (out, perFromK, perToK float64) { return -float64(w), 0, 0 }

// Layers are resistances one behind the other, K/W; each interface has a temperature of
// its own.
type Layers []float64

// Flow goes through all layers.
func (l Layers) Flow(fromC, toC, driveV float64) (w, perFromK, perToK float64) {
	return KPerW(l.sum()).Flow(fromC, toC, driveV)
}

func (l Layers) sum() float64 {
	r := 0.0
	for _, x := range l {
		r += x
	}
	return r
}

// FacesC writes the temperature of the warm face of each layer to dst, °C: the first is
// that of the place the heat comes from.
func (l Layers) FacesC(fromC, toC float64, dst []float64) {
	w, _, _ := l.Flow(fromC, toC, 0)
	for i, r := range l {
		dst[i] = fromC
		fromC -= w * r
	}
}
