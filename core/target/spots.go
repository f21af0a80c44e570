package target

import (
	"context"
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"photherm/core/lighting"
)

// A MeterSpot is where a meter is held to read the light.
type MeterSpot struct {
	Step string  // short name, stable
	Name string  // what it is
	Do   string  // how
	Lux  float64 // 0: it is not read in lux
	PPFD float64 // µmol/(m²·s); 0: it is not, or cannot be told
}

// Distances at which a beam is read, m: as far as a room or a yard has them (chosen).
var readAtM = []float64{1, 3, 10}

// MeterSpots are where the light can be read: on the axis of a beam, as far as it has grown round;
// in the middle of an area and near a corner; on the bottom of a tank.
func (l *Lit) MeterSpots(ctx context.Context) ([]MeterSpot, error) {
	kind := KindOf(l.Light, l.Variant)
	if l.Dark != "" || l.Fault != "" || l.above(kind) != nil {
		return nil, nil
	}
	var out []MeterSpot
	add := func(step, name, do string, lux, photons float64) {
		if l.quantity() == ppfd {
			lux = 0
		} else {
			photons = 0
		}
		out = append(out, MeterSpot{step, name, do, lux, photons})
	}
	switch kind {
	case "beam":
		b := l.beam()
		if b == nil {
			return nil, nil
		}
		from := b.MeasureM
		for _, m := range readAtM {
			if m < from || len(out) == 2 {
				continue
			}
			add(fmt.Sprintf("lux-%gm", m), fmt.Sprintf("light at %g m", m), fmt.Sprintf("In the dark, the meter facing it %g m before its front, in the brightest place, thirty seconds after switch-on.", m), lighting.LuxAt(b.PeakCd, m, 0), 0)
		}
	case "around":
		for _, m := range []float64{1, 2} {
			far := 0.0
			at := l.middle()
			for k := range 8 {
				sin, cos := math.Sincos(float64(k) * math.Pi / 4)
				far += l.LuxAt(r3.Vec{X: at.X + m*cos, Y: at.Y + m*sin}, r3.Vec{Z: 1}) / 8
			}
			add(fmt.Sprintf("ground-%gm", m), fmt.Sprintf("light on the ground, %g m aside", m), fmt.Sprintf("The meter flat on the ground %g m from below it, on eight sides, thirty seconds after switch-on: their mean.", m), far, 0)
		}
	default:
		m, where, err := l.readMap(ctx, kind)
		if err != nil || m == nil {
			return nil, err
		}
		at := func(x, y int) (lx, photons float64) {
			v := m.Values[y*m.NX+x]
			if m.Unit == ppfd {
				return 0, v
			}
			return v, 0
		}
		lx, photons := at(m.NX/2, m.NY/2)
		add("middle", "light in the middle"+where, "The meter flat, in the middle of the area, thirty seconds after switch-on.", lx, photons)
		lx, photons = at(m.NX/10, m.NY/10)
		add("corner", "light near a corner"+where, "The meter flat, a tenth of the length and of the width in from a corner.", lx, photons)
	}
	return out, nil
}

// readMap is the map of what is lit, and how it is called; nil: there is none.
func (l *Lit) readMap(ctx context.Context, kind string) (*LightMap, string, error) {
	if kind == "tank" {
		if l.Light.Scene == nil || l.Light.Scene.Tank == nil {
			return nil, "", nil
		}
		m, _, err := l.inWater(ctx, tankOf(l.Light.Scene.Tank), l.Light.Scene.Tank.DepthM)
		return m, " of the bottom", err
	}
	if _, _, said := l.area(); !said {
		return nil, "", nil
	}
	m, err := l.areaMap(ctx)
	if err != nil && ctx.Err() == nil { // what cannot be pictured is not read
		return nil, "", nil
	}
	return m, "", err
}
