package target

import (
	"context"
	"fmt"
	"math"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/driver"
)

// A Crop is what grows and the band of light that is usual for it.
type Crop struct {
	Key       string  `json:"key"`
	Name      string  `json:"name"`
	Low       float64 `json:"low" doc:"Photons, 400 to 700 nm, µmol/(m²·s)"`
	High      float64 `json:"high"`
	LowDLI    float64 `json:"lowDLI" doc:"In a day, mol/m²; 0: not usual to say"`
	HighDLI   float64 `json:"highDLI"`
	InTheTank bool    `json:"inTheTank" doc:"Counted on the bottom of a tank"`
}

// Crops are bands of light as growers and keepers of tanks pass them on: common practice all of
// it, and wide.
var Crops = []Crop{
	{"seedlings", "seedlings", 100, 250, 6, 12, false},
	{"cuttings", "cuttings that root", 60, 150, 4, 8, false},
	{"leaf-greens", "leaf greens", 180, 300, 12, 17, false},
	{"herbs", "herbs", 200, 400, 12, 20, false},
	{"fruiting", "fruiting plants", 400, 900, 20, 45, false},
	{"low-light-plants", "water plants, low light", 15, 40, 0, 0, true},
	{"medium-light-plants", "water plants, medium light", 40, 80, 0, 0, true},
	{"high-light-plants", "water plants, high light", 80, 150, 0, 0, true},
	{"soft-corals", "soft corals", 50, 120, 0, 0, true},
	{"large-polyp-corals", "large-polyped stony corals", 80, 200, 0, 0, true},
	{"small-polyp-corals", "small-polyped stony corals", 200, 400, 0, 0, true},
	{"seagrass", "seagrass", 100, 300, 5, 15, true},
}

// CropOf finds one; nil: there is none.
func CropOf(key string) *Crop {
	for i := range Crops {
		if Crops[i].Key == key {
			return &Crops[i]
		}
	}
	return nil
}

// Grow is what plants get in a day, and what it takes.
type Grow struct {
	DLI         *float64      `json:"dli" doc:"Daily light integral, mol/m²: PPFD · hours · 0.0036"`
	HoursADay   float64       `json:"hoursADay"`
	UmolPerJ    float64       `json:"umolPerJ" doc:"Photons from 400 to 700 nm for each joule from the source, at the wall where it hangs there"`
	LandPerJ    float64       `json:"landingUmolPerJ" doc:"Of those, that strike the area straight"`
	MonthKWh    float64       `json:"monthKWh" doc:"In a month of 30.4 days"`
	Day         []AtHour      `json:"day" nullable:"false" doc:"The day as it is ramped up and down"`
	DayKWh      float64       `json:"dayKWh"`
	Acclimation []AtWeek      `json:"acclimation" nullable:"false" doc:"How life in a tank, or plants from less light, are let get used to it"`
	Hours       *HoursForBand `json:"hours" doc:"Hours a day that bring a usual day's light; null: not usual to say"`
	Moist       string        `json:"moist" doc:"Caution where water and light meet"`
}

// HoursForBand are hours a day that bring a day's light within a band.
type HoursForBand struct {
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

// AtHour is the light at an hour of its day.
type AtHour struct {
	H     float64 `json:"h"`
	Level float64 `json:"level" doc:"Share of the light"`
	PPFD  float64 `json:"ppfd"`
	W     float64 `json:"w" doc:"From the source"`
}

// AtWeek is the light in a week.
type AtWeek struct {
	Week  int     `json:"week"`
	Level float64 `json:"level"`
	PPFD  float64 `json:"ppfd"`
}

// dliPer is mol/m² in a day for each µmol/(m²·s) and hour.
const dliPer = 0.0036

// Acclimation (common practice): half of the light in the first week, all of it in the fifth.
const (
	firstLevel = 0.5
	overWeeks  = 4
)

// dayHours is how long a day is lit where nobody said so (common practice for seedlings).
const dayHours = 16

// dimLevels are shares of the current at which what the light takes is solved.
var dimLevels = []float64{0.1, 0.25, 0.5, 0.75, 1}

// Dimmed is a light at a level of its drivers.
type Dimmed struct {
	Current float64
	Light   float64 // share of the light undimmed
	W       float64
}

// DimmedCourse solves the light with its drivers at several levels; fewer than two points: they
// cannot be dimmed.
func DimmedCourse(ctx context.Context, light *design.Light, variant int) ([]Dimmed, error) {
	out := []Dimmed{{}}
	full := 0.0
	for i := len(dimLevels) - 1; i >= 0; i-- {
		x, err := dimmedAt(ctx, light, variant, dimLevels[i])
		if err != nil {
			return nil, err
		}
		if x.Light <= 0 {
			continue
		}
		if full == 0 {
			full = x.Light
		}
		x.Light /= full
		out = append(out, x)
	}
	// Rising, and only while light does follow the level.
	for i, j := 1, len(out)-1; i < j; i, j = i+1, j-1 {
		out[i], out[j] = out[j], out[i]
	}
	if n := len(out); n < 2 || n > 2 && out[n-2].Light > 0.97 {
		return nil, nil
	}
	return out, nil
}

// dimmedAt is the light with all drivers that feed light at a share of their current.
func dimmedAt(ctx context.Context, light *design.Light, variant int, level float64) (Dimmed, error) {
	l, err := design.Clone(light)
	if err != nil {
		return Dimmed{}, err
	}
	for n := range design.Nodes(&l.Variants[variant]) {
		if n.Driver == nil || !feedsLight(n) {
			continue
		}
		was := 1.0
		if d := driver.InUse(n.Driver); d.Current != nil {
			was = *d.Current
		}
		n.Driver.Mode = ""
		n.Driver.Dimming = &design.Level{Current: new(was * level)}
	}
	m, err := chain.Compile(l, chain.Options{Variant: variant})
	if err != nil {
		return Dimmed{}, err
	}
	run, err := m.Solver().RunFor(ctx, ReferenceS)
	if err != nil {
		return Dimmed{}, fmt.Errorf("solving the light dimmed: %w", err)
	}
	lit, err := Of(ctx, run, ReferenceS)
	if err != nil {
		return Dimmed{}, err
	}
	return Dimmed{level, lit.Lumens(), lit.InputW}, nil
}

func feedsLight(n *design.Node) bool {
	for k := range design.NodesOf(n.Loads) {
		if k.Array != nil || k.Strip != nil || k.Load != nil {
			return true
		}
	}
	return false
}

// between is straight between levels of light.
func between(list []Dimmed, light float64, of func(Dimmed) float64) float64 {
	for i := 1; i < len(list); i++ {
		if light <= list[i].Light || i == len(list)-1 {
			a, b := list[i-1], list[i]
			if b.Light <= a.Light {
				return of(b)
			}
			f := (light - a.Light) / (b.Light - a.Light)
			return of(a) + f*(of(b)-of(a))
		}
	}
	return 0
}

// grow tells what plants get of a map's mean.
func (l *Lit) grow(ctx context.Context, variant int, m *LightMap) (*Grow, error) {
	if m.MeanPPFD == nil {
		return nil, nil
	}
	g := &Grow{HoursADay: dayHours, Day: []AtHour{}, Acclimation: []AtWeek{}}
	if h := l.Light.Brief.HoursADay; h != nil && *h > 0 {
		g.HoursADay = *h
	}
	mean := *m.MeanPPFD
	g.DLI = new(mean * g.HoursADay * dliPer)
	if l.InputW > 0 {
		g.UmolPerJ = l.sumOver(photonsOf) / float64(l.Lights) / l.InputW
		g.LandPerJ = g.UmolPerJ * m.Landing
	}
	g.MonthKWh = l.InputW * float64(l.Lights) * g.HoursADay * monthDays / 1000
	s := l.Light.Scene
	if s != nil {
		if c := CropOf(s.Crop); c != nil && c.HighDLI > 0 && mean > 0 {
			g.Hours = &HoursForBand{min(24, c.LowDLI/dliPer/mean), min(24, c.HighDLI/dliPer/mean)}
		}
		if s.Tank != nil {
			g.Moist = "Water and mains: a residual-current device, a drip loop in every cable, driver out of reach of splashes, metal earthed. Salt creeps and eats joints; a cover glass that lies on the rim keeps spray off, and takes light when it is soiled."
		}
		ramp := 0.0
		if s.RampH != nil {
			ramp = min(*s.RampH, g.HoursADay/2)
		}
		if err := g.day(ctx, l, variant, mean, ramp); err != nil {
			return nil, err
		}
	} else if err := g.day(ctx, l, variant, mean, 0); err != nil {
		return nil, err
	}
	for w := range overWeeks + 1 {
		level := firstLevel + (1-firstLevel)*float64(w)/overWeeks
		g.Acclimation = append(g.Acclimation, AtWeek{w + 1, level, level * mean})
	}
	return g, nil
}

// monthDays are the days of a month in the mean of a year.
const monthDays = 30.4

// EnergyPerDayWh is the energy of a day of one light, Wh: as long as it is lit a day, with its sunrise
// and sunset, whatever is wanted of it. It is the figure that its day is drawn from.
func EnergyPerDayWh(ctx context.Context, run *chain.Run) (float64, error) {
	a, m := run.Answers(), run.Model
	s := m.Light().Scene
	if s == nil || s.RampH == nil || *s.RampH <= 0 || !(a.InputW > 0) || a.HoursADay <= 0 {
		return a.EnergyPerDayW, nil
	}
	g := &Grow{HoursADay: a.HoursADay}
	if err := g.day(ctx, &Lit{Light: m.Light(), InputW: a.InputW, Lights: 1}, m.Options().Variant, 0, min(*s.RampH, a.HoursADay/2)); err != nil {
		return 0, fmt.Errorf("the energy of a day: %w", err)
	}
	return 1000 * g.DayKWh, nil
}

// day ramps the light up and down, and adds up its energy: what a dimmed light takes is what the
// chain says of it.
func (g *Grow) day(ctx context.Context, l *Lit, variant int, mean, ramp float64) error {
	full := []Dimmed{{}, {1, 1, l.InputW}}
	levels := full
	if ramp > 0 {
		found, err := DimmedCourse(ctx, l.Light, variant)
		if err != nil {
			return err
		}
		if levels = found; len(found) < 2 {
			levels, ramp = full, 0 // it cannot be dimmed: it is on or off
		}
	}
	lights := float64(l.Lights)
	at := func(h, level float64) AtHour {
		return AtHour{h, level, level * mean, lights * between(levels, level, func(d Dimmed) float64 { return d.W })}
	}
	start := max(0, 12-g.HoursADay/2)
	const steps = 8
	add := func(x AtHour) {
		if n := len(g.Day); n > 0 {
			g.DayKWh += (x.H - g.Day[n-1].H) * (x.W + g.Day[n-1].W) / 2000
		}
		g.Day = append(g.Day, x)
	}
	if start > 0 {
		add(at(0, 0))
	}
	for k := range steps + 1 {
		add(at(start+ramp*float64(k)/steps, float64(k)/steps))
	}
	for k := range steps + 1 {
		add(at(start+g.HoursADay-ramp+ramp*float64(k)/steps, 1-float64(k)/steps))
	}
	if end := start + g.HoursADay; end < 24 {
		add(at(24, 0))
	}
	if ramp > 0 && mean > 0 { // the ramp takes light from the day
		g.DLI = new(mean * (g.HoursADay - ramp) * dliPer)
		g.MonthKWh = g.DayKWh * monthDays
	}
	if math.IsNaN(g.DayKWh) {
		return fmt.Errorf("the day's energy cannot be told")
	}
	return nil
}
