package heat

import "math"

// A Link is a way for heat between two places: what flows, W, and how that changes with
// both temperatures, W/K, apart, as the flow is asked for many times more often. driveV is the
// voltage that what moves the air gets, V: only a forced way asks for it.
type Link interface {
	Watts(fromC, toC, driveV float64) float64
	Slopes(fromC, toC, driveV float64) (perFromK, perToK float64)
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

// g is its conductance, W/K.
func (r Tilted) g(rise float64) float64 {
	return Tilt(rise, r.Power) / float64(max(r.KPerW, PerfectKPerW))
}

// Watts through it.
func (r Tilted) Watts(fromC, toC, _ float64) float64 { return r.g(fromC-toC) * (fromC - toC) }

// Slopes of it.
func (r Tilted) Slopes(fromC, toC, _ float64) (perFromK, perToK float64) {
	slope := r.g(fromC - toC)
	if math.Abs(fromC-toC) > leastTiltK {
		slope *= 1 + r.Power
	}
	return slope, -slope
}

// PerfectKPerW stands for a joint taken as perfect.
const PerfectKPerW = 1e-4

func (r KPerW) g() Conducts { return Conducts(1 / max(float64(r), PerfectKPerW)) }

// Watts through a resistance are in proportion.
func (r KPerW) Watts(fromC, toC, driveV float64) float64 { return r.g().Watts(fromC, toC, driveV) }

// Slopes of a resistance.
func (r KPerW) Slopes(fromC, toC, driveV float64) (perFromK, perToK float64) {
	return r.g().Slopes(fromC, toC, driveV)
}

// Conducts is a plain conductance, W/K. Those between pads of one plate may be negative: what
// leads away from both at once.
type Conducts float64

// Watts through a conductance are in proportion.
func (g Conducts) Watts(fromC, toC, _ float64) float64 { return (fromC - toC) * float64(g) }

// Slopes of a conductance.
func (g Conducts) Slopes(_, _, _ float64) (perFromK, perToK float64) {
	return float64(g), -float64(g)
}

// Sun is heat that the sun brings, W: it flows whatever the temperatures.
type Sun float64

// Watts of the sun's heat go against the way to the air.
func (w Sun) Watts(_, _, _ float64) float64 { return -float64(w) }

// Slopes of the sun's heat: there are none.
func (w Sun) Slopes(_, _, _ float64) (perFromK, perToK float64) { return 0, 0 }

// Layers are resistances one behind the other, K/W; each interface has a temperature of
// its own.
type Layers []float64

// Watts go through all layers.
func (l Layers) Watts(fromC, toC, driveV float64) float64 {
	return KPerW(l.sum()).Watts(fromC, toC, driveV)
}

// Slopes of all layers together.
func (l Layers) Slopes(fromC, toC, driveV float64) (perFromK, perToK float64) {
	return KPerW(l.sum()).Slopes(fromC, toC, driveV)
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
	w := l.Watts(fromC, toC, 0)
	for i, r := range l {
		dst[i] = fromC
		fromC -= w * r
	}
}
