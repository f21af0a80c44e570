package lighting

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// A Far is a light seen from so far that its lamps are one point.
type Far []Lamp

// Candela is the intensity in a unit direction.
func (f Far) Candela(direction r3.Vec) float64 {
	sum := 0.0
	for i := range f {
		sum += f[i].Lumens * f[i].Optic.toward(direction, f[i].Axis, f[i].Across)
	}
	return sum
}

// Peak is the highest intensity, cd, and where: looked for along the axes of the lamps, over the
// sphere, and then ever more finely around the best of them.
func (f Far) Peak() (cd float64, toward r3.Vec) {
	try := func(v r3.Vec) {
		if r3.Norm2(v) == 0 {
			return
		}
		v = r3.Unit(v)
		if x := f.Candela(v); x > cd*(1+1e-12) {
			cd, toward = x, v
		}
	}
	mean := r3.Vec{}
	for i := range f {
		mean = r3.Add(mean, r3.Scale(f[i].Lumens, f[i].Axis))
		if i < mostAxes {
			try(f[i].Axis)
		}
	}
	try(mean)
	const n = 400
	for i := range n { // spread evenly over the sphere by the golden angle
		z := 1 - 2*(float64(i)+0.5)/n
		round := goldenAngle * float64(i)
		s := math.Sqrt(1 - z*z)
		try(r3.Vec{X: s * math.Cos(round), Y: s * math.Sin(round), Z: z})
	}
	for step := 0.1; step > 1e-4 && cd > 0; step /= 2 {
		for range 4 {
			before := toward
			one, two := Around(toward)
			for k := range 8 {
				sin, cos := math.Sincos(float64(k) * math.Pi / 4)
				try(r3.Add(before, r3.Add(r3.Scale(step*cos, one), r3.Scale(step*sin, two))))
			}
			if before == toward {
				break
			}
		}
	}
	return cd, toward
}

// mostAxes is along how many lamps' axes a peak is looked for.
const mostAxes = 500

// Around is two unit directions across a unit direction, the first level where there is one.
func Around(v r3.Vec) (one, two r3.Vec) {
	one = r3.Cross(r3.Vec{Z: 1}, v)
	if r3.Norm2(one) < 1e-12 {
		one = r3.Vec{X: 1}
	}
	one = r3.Unit(one)
	return one, r3.Cross(v, one)
}

// fl1Lux is where the beam of a flashlight ends: 0.25 lx (ANSI/PLATO FL 1).
const fl1Lux = 0.25

// BeamDistance is how far a beam reaches, m: 0.25 lx, twice the root of its peak intensity
// (ANSI/PLATO FL 1).
func BeamDistance(peakCd float64) float64 { return math.Sqrt(peakCd / fl1Lux) }

// LuxAt is the illuminance of a beam at a distance, m, on a plane that is tilted from facing it,
// rad: inverse square and cosine.
func LuxAt(cd, distanceM, tilt float64) float64 {
	return cd * max(0, math.Cos(tilt)) / (distanceM * distanceM)
}

// MeasureFrom is from how far a beam must be measured for the inverse square to hold, m: where
// its width has grown to five times its opening, 5·D/(2·tan(θ/2)) (common practice); of a bare
// source five times its size.
func MeasureFrom(openingM, fullDeg float64) float64 {
	half := math.Tan(min(fullDeg, 90) / 2 * math.Pi / 180)
	return 5 * openingM / (2 * half)
}

// WidthAt is how wide what lies within a full angle is at a distance, m.
func WidthAt(fullDeg, distanceM float64) float64 {
	return 2 * distanceM * math.Tan(min(fullDeg, 179)/2*math.Pi/180)
}
