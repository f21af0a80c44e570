package target

import (
	"cmp"
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"photherm/core/lighting"
)

// A LightMap is light over a level rectangle.
type LightMap struct {
	LengthM float64   `json:"lengthM"`
	WidthM  float64   `json:"widthM"`
	NX      int       `json:"nx"`
	NY      int       `json:"ny"`
	Unit    string    `json:"unit" enum:"lx,µmol/(m²·s)"`
	Values  []float64 `json:"values" nullable:"false" doc:"Of each cell, along the length first"`
	Mean    float64   `json:"mean"`
	Min     float64   `json:"min"`
	Max     float64   `json:"max"`
	Even    float64   `json:"minOverMean" doc:"How even it is"`
	Levels  []float64 `json:"levels" nullable:"false" doc:"Round figures at which contours are drawn"`

	MeanLux  *float64 `json:"meanLux"`
	MeanPPFD *float64 `json:"meanPPFD" doc:"µmol/(m²·s), 400 to 700 nm; null: a spectrum is not known"`
	Blue     *float64 `json:"blue" doc:"Share of the photons from 400 to 700 nm that are below 500"`
	Red      *float64 `json:"red" doc:"Share above 600 nm"`
	FarRed   *float64 `json:"farRed" doc:"Photons from 700 to 750 nm over those from 400 to 700"`

	Landing float64  `json:"landing" doc:"Of the light, the share that strikes the rectangle straight from the lights"`
	Within  float64  `json:"within" doc:"By what share reflected light may be off; 0: nothing reflects"`
	Ends    *EndsIn  `json:"ends" doc:"Where the light ends; null: the room is open, and what does not land goes by"`
	Walls   bool     `json:"walls"`
	Depth   *float64 `json:"depthM" doc:"Of the map in water, m below the surface; null: in air"`
}

// EndsIn is where light ends in a closed room, shares of what the lights give.
type EndsIn struct {
	Plane   float64 `json:"plane" doc:"On the lit plane, in and beside the target"`
	Walls   float64 `json:"walls"`
	Ceiling float64 `json:"ceiling"`
}

// longestCells is into how many cells the longer side of a map is cut (chosen: a cell is a few
// pixels, and the mean is met to 0.2 %).
const longestCells = 96

// gridOver is a rectangle cut into cells, about the middle.
func gridOver(lengthM, widthM float64) lighting.Grid {
	longer := max(lengthM, widthM)
	cells := func(side float64) int { return max(4, int(math.Round(longestCells*side/longer))) }
	return lighting.Grid{X: -lengthM / 2, Y: -widthM / 2, LengthM: lengthM, WidthM: widthM, NX: cells(lengthM), NY: cells(widthM)}
}

// Lux and PPFD, as maps have them.
const (
	lux  = "lx"
	ppfd = "µmol/(m²·s)"
)

// area is the size of what is to be lit, m, and whether somebody said so.
func (l *Lit) area() (lengthM, widthM float64, said bool) {
	b := &l.Light.Brief
	if s := l.Light.Scene; s != nil && s.Tank != nil && KindOf(l.Light, l.Variant) == "tank" {
		return s.Tank.LengthM, s.Tank.WidthM, true
	}
	if b.AreaM != nil && b.AreaAcrM != nil && *b.AreaM > 0 && *b.AreaAcrM > 0 {
		return *b.AreaM, *b.AreaAcrM, true
	}
	kind := KindOf(l.Light, l.Variant)
	for i := range l.Variant.Bodies {
		if long, wide, ok := l.Light.Face(&l.Variant.Bodies[i]); ok && (kind == "strip" || max(long, wide) >= l.highest()) {
			return max(long, 4*wide/10), max(wide, 0.4), false
		}
	}
	// Of a light that is small from there, half of it falls within as far as it hangs high.
	side := 2 * cmp.Or(l.highest(), usualHeightM[kind])
	return side, side, false
}

// highest is how high the highest light hangs above what it lights, m.
func (l *Lit) highest() float64 {
	high := 0.0
	for i := range l.points {
		high = max(high, l.points[i].At.Z)
	}
	return high
}

// quantity is what the light is weighed in: photons where plants or animals live by it.
func (l *Lit) quantity() string {
	s := l.Light.Scene
	if l.Unknown == "" && (l.Light.Brief.PPFD != nil || s != nil && (s.Crop != "" || s.Tank != nil)) {
		return ppfd
	}
	return lux
}

// areaMap is the light over the area, with what walls throw back.
func (l *Lit) areaMap(ctx context.Context) (*LightMap, error) {
	long, wide, said := l.area()
	if !said {
		l.take("the area is %.3g × %.3g m", long, wide)
	}
	return l.mapOver(ctx, long, wide)
}

func (l *Lit) mapOver(ctx context.Context, long, wide float64) (*LightMap, error) {
	g := gridOver(long, wide)
	out := &LightMap{LengthM: long, WidthM: wide, NX: g.NX, NY: g.NY, Unit: l.quantity()}
	// One map a spectrum: all quantities are sums of them.
	same := l.spectra()
	maps := make([][]float64, len(same.of))
	all, landing := 0.0, 0.0
	for k := range maps {
		maps[k] = make([]float64, g.NX*g.NY)
	}
	lamps := make([][]lighting.Lamp, len(same.of))
	for i := range l.points {
		k := same.glow[l.points[i].glow]
		lamps[k] = append(lamps[k], l.points[i].Lamp)
		all += l.points[i].Lumens
	}
	for k := range maps {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		g.AddAll(maps[k], lamps[k])
	}
	for _, m := range maps {
		landing += g.Landing(m)
	}
	if all > 0 {
		out.Landing = min(1, landing/all)
	}
	if err := l.reflected(ctx, out, &g, same, maps); err != nil {
		return nil, err
	}
	out.weigh(l, same, maps)
	return out, nil
}

// spectra are the glows grouped by what their light is made of.
type spectra struct {
	glow []int   // of each glow, its group
	of   []*Glow // one of each group
}

func (l *Lit) spectra() spectra {
	var s spectra
	for i := range l.Glows {
		at := slices.IndexFunc(s.of, func(g *Glow) bool {
			return g.photons == l.Glows[i].photons && (g.spectrum == nil) == (l.Glows[i].spectrum == nil)
		})
		if at < 0 {
			at = len(s.of)
			s.of = append(s.of, &l.Glows[i])
		}
		s.glow = append(s.glow, at)
	}
	return s
}

// reflected adds what the walls throw back, spectrum by spectrum: they reflect all alike.
func (l *Lit) reflected(ctx context.Context, out *LightMap, g *lighting.Grid, same spectra, maps [][]float64) error {
	s := l.Light.Scene
	if s == nil || s.Room == nil || len(l.points) == 0 {
		return nil
	}
	at := func(p *float64, usual float64) float64 {
		if p != nil {
			return max(*p, usual)
		}
		return usual
	}
	room, err := lighting.NewRoom(lighting.Room{LengthM: at(s.Room.LengthM, g.LengthM), WidthM: at(s.Room.WidthM, g.WidthM), HeightM: s.Room.HeightM, Floor: s.Room.Floor, Walls: s.Room.Walls, Ceiling: s.Room.Ceiling})
	if err != nil {
		return err
	}
	shift := r3.Vec{X: room.LengthM / 2, Y: room.WidthM / 2}
	inside := *g
	inside.X, inside.Y = g.X+shift.X, g.Y+shift.Y
	ends, total := EndsIn{}, 0.0
	for k := range same.of {
		var lamps []lighting.Lamp
		lumens := 0.0
		for i := range l.points {
			if same.glow[l.points[i].glow] == k {
				lamp := l.points[i].Lamp
				lamp.At = r3.Add(lamp.At, shift)
				lamps = append(lamps, lamp)
				lumens += lamp.Lumens
			}
		}
		w, err := room.Reflect(ctx, lamps)
		if err != nil {
			return err
		}
		if err := w.Add(ctx, &inside, maps[k]); err != nil {
			return err
		}
		out.Within = max(out.Within, w.Within)
		ends.Plane += w.Share.Floor * lumens
		ends.Walls += w.Share.Walls * lumens
		ends.Ceiling += w.Share.Ceiling * lumens
		total += lumens
	}
	if total > 0 {
		out.Ends = &EndsIn{ends.Plane / total, ends.Walls / total, ends.Ceiling / total}
	}
	out.Walls = true
	return nil
}

// weigh fills a map from maps in lumens, one a spectrum.
func (m *LightMap) weigh(l *Lit, same spectra, maps [][]float64) {
	cells := m.NX * m.NY
	mean := func(weight func(*Glow) float64) float64 {
		sum := 0.0
		for k, of := range same.of {
			part := 0.0
			for _, x := range maps[k] {
				part += x
			}
			sum += part * weight(of)
		}
		return sum / float64(cells)
	}
	m.MeanLux = new(mean(lumens))
	if l.Unknown == "" {
		bands := [lighting.Bands]float64{}
		for b := range bands {
			bands[b] = mean(func(g *Glow) float64 { return g.photons[b] })
		}
		m.photons(bands)
	}
	weight := lumens
	if m.Unit == ppfd {
		weight = photonsOf
	}
	m.Values = make([]float64, cells)
	for k, of := range same.of {
		w := weight(of)
		for i, x := range maps[k] {
			m.Values[i] += w * x
		}
	}
	m.tell()
}

// photons tells the means of the bands.
func (m *LightMap) photons(bands [lighting.Bands]float64) {
	p := bands[0] + bands[1] + bands[2]
	m.MeanPPFD = &p
	if p > 0 {
		m.Blue, m.Red, m.FarRed = new(bands[0]/p), new(bands[2]/p), new(bands[3]/p)
	}
}

// tell fills what is told of the values, and rounds them.
func (m *LightMap) tell() {
	m.Min, m.Max, m.Mean = math.Inf(1), 0, 0
	for i, x := range m.Values {
		m.Min, m.Max, m.Mean = min(m.Min, x), max(m.Max, x), m.Mean+x/float64(len(m.Values))
		m.Values[i] = rounded(x)
	}
	if m.Mean > 0 {
		m.Even = m.Min / m.Mean
	}
	m.Levels = levels(m.Min, m.Max)
}

// rounded keeps four figures: more are never shown.
func rounded(x float64) float64 {
	if math.Abs(x) < 1e-12 {
		return 0
	}
	k := math.Pow(10, 3-math.Floor(math.Log10(math.Abs(x))))
	return math.Round(x*k) / k
}

// levels are round figures between two: a few, evenly where the two are near each other, by
// thirds of a decade where they are far apart.
func levels(low, high float64) []float64 {
	out := []float64{}
	if !(high > 0) {
		return out
	}
	low = max(low, high/1000)
	if high < 8*low {
		step := niceStep((high - low) / 6)
		for x := math.Ceil(low/step) * step; step > 0 && x < high && len(out) < 12; x += step {
			out = append(out, rounded(x))
		}
		return out
	}
	for e := math.Floor(math.Log10(low)); e <= math.Ceil(math.Log10(high)); e++ {
		for _, k := range []float64{1, 2, 5} {
			if x := k * math.Pow(10, e); x > low && x < high {
				out = append(out, rounded(x))
			}
		}
	}
	return out
}

func niceStep(x float64) float64 {
	if !(x > 0) {
		return 0
	}
	e := math.Pow(10, math.Floor(math.Log10(x)))
	for _, k := range []float64{1, 2, 5, 10} {
		if k*e >= x {
			return k * e
		}
	}
	return 10 * e
}
