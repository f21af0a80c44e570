package target

import (
	"context"
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"photherm/core/design"
	"photherm/core/lighting"
)

// A TankView is light in a tank.
type TankView struct {
	LengthM float64   `json:"lengthM"`
	WidthM  float64   `json:"widthM"`
	DepthM  float64   `json:"depthM"`
	RimM    float64   `json:"rimM"`
	Bottom  *LightMap `json:"bottom"`
	Reaches float64   `json:"reaches" doc:"Share of the photons from 400 to 700 nm, of light where they cannot be told, that reach the bottom"`
	Section Section   `json:"section"`
	Below   []Below   `json:"below" nullable:"false" doc:"Means at depths"`
}

// A Section is light on level ground at depths, along the middle of the tank.
type Section struct {
	NX     int       `json:"nx"`
	NZ     int       `json:"nz" doc:"From the surface down; the last is the bottom"`
	Values []float64 `json:"values" nullable:"false" doc:"Along the length first"`
	Levels []float64 `json:"levels" nullable:"false"`
}

// Below is what comes to a depth.
type Below struct {
	DepthM float64 `json:"depthM"`
	Mean   float64 `json:"mean" doc:"In the unit of the bottom's map"`
}

// Into how many cells tanks are cut (chosen: light changes slowly in water).
const (
	tankCells    = 48
	sectionCells = 40
	sectionDeep  = 10
)

func tankOf(t *design.Tank) *lighting.Tank {
	water := t.Water
	if water == "" {
		water = "clear"
	}
	return &lighting.Tank{LengthM: t.LengthM, WidthM: t.WidthM, DepthM: t.DepthM, RimM: t.RimM, CoverGlass: t.Cover, Black: t.Sides == "black", Water: lighting.Waters[water]}
}

// tank is the light in a tank.
func (l *Lit) tank(ctx context.Context) (*TankView, error) {
	t := l.Light.Scene.Tank
	law := tankOf(t)
	out := &TankView{LengthM: t.LengthM, WidthM: t.WidthM, DepthM: t.DepthM, RimM: t.RimM, Below: []Below{}}
	bottom, share, err := l.inWater(ctx, law, t.DepthM)
	if err != nil {
		return nil, err
	}
	out.Bottom, out.Reaches = bottom, share
	out.Section = Section{NX: sectionCells, NZ: sectionDeep, Values: []float64{}}
	low, high := math.Inf(1), 0.0
	for k := range sectionDeep {
		depth := t.DepthM * float64(k+1) / sectionDeep
		line := lighting.Grid{Y: t.WidthM / 2, LengthM: t.LengthM, WidthM: 1e-6, NX: sectionCells, NY: 1}
		bands, err := l.bandsIn(ctx, law, &line, depth)
		if err != nil {
			return nil, err
		}
		mean := 0.0
		for i := range sectionCells {
			x := bands.of(i, bottom.Unit)
			low, high = min(low, x), max(high, x)
			mean += x / sectionCells
			out.Section.Values = append(out.Section.Values, rounded(x))
		}
		out.Below = append(out.Below, Below{depth, mean})
	}
	out.Section.Levels = levels(low, high)
	return out, nil
}

// inBands is light in water, as it is counted.
type inBands [lighting.Counted][]float64

func (b *inBands) of(i int, unit string) float64 {
	if unit == lux {
		return b[lighting.Seen][i]
	}
	return b[0][i] + b[1][i] + b[2][i]
}

// bandsIn is the light on a level plane in the water.
func (l *Lit) bandsIn(ctx context.Context, t *lighting.Tank, g *lighting.Grid, depth float64) (*inBands, error) {
	out := new(inBands)
	for b := range out {
		out[b] = make([]float64, g.NX*g.NY)
	}
	lamps, light := make([]lighting.Lamp, 0, len(l.points)), make([][lighting.Counted]float64, 0, len(l.points))
	shift := r3.Vec{X: t.LengthM / 2, Y: t.WidthM / 2, Z: t.DepthM}
	for i := range l.points {
		p := &l.points[i]
		lamp := p.Lamp
		lamp.At = r3.Add(lamp.At, shift)
		lamps = append(lamps, lamp)
		x := [lighting.Counted]float64{lighting.Seen: p.Lumens}
		for b, photons := range l.Glows[p.glow].photons {
			x[b] = p.Lumens * photons
		}
		light = append(light, x)
	}
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	if err := t.Add((*[lighting.Counted][]float64)(out), g, depth, lamps, light); err != nil {
		return nil, fmt.Errorf("light in the tank: %w", err)
	}
	return out, nil
}

// inWater is a map of a depth, and the share that comes there.
func (l *Lit) inWater(ctx context.Context, t *lighting.Tank, depth float64) (*LightMap, float64, error) {
	cells := func(side float64) int {
		return max(4, int(math.Round(tankCells*side/max(t.LengthM, t.WidthM))))
	}
	g := lighting.Grid{LengthM: t.LengthM, WidthM: t.WidthM, NX: cells(t.LengthM), NY: cells(t.WidthM)}
	bands, err := l.bandsIn(ctx, t, &g, depth)
	if err != nil {
		return nil, 0, err
	}
	m := &LightMap{LengthM: t.LengthM, WidthM: t.WidthM, NX: g.NX, NY: g.NY, Unit: l.quantity(), Depth: &depth}
	cellsN := float64(g.NX * g.NY)
	given := l.Lumens()
	m.MeanLux = new(g.Landing(bands[lighting.Seen]) / (t.LengthM * t.WidthM))
	if l.Unknown == "" {
		var mean [lighting.Bands]float64
		for b := range mean {
			for _, x := range bands[b] {
				mean[b] += x / cellsN
			}
		}
		m.photons(mean)
	}
	m.Values = make([]float64, g.NX*g.NY)
	for i := range m.Values {
		m.Values[i] = bands.of(i, m.Unit)
	}
	landing := g.Landing(m.Values)
	if m.Unit == ppfd {
		given = l.sumOver(photonsOf)
	}
	m.tell()
	if given > 0 {
		m.Landing = landing / given
	}
	return m, m.Landing, nil
}
