package target

import (
	"context"
	"fmt"
	"math"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/lighting"
	"photherm/core/units"
)

// Reached is how what comes stands to what is wanted.
type Reached struct {
	What   string   `json:"what" enum:"peakCd,beamM,lux,ppfd" doc:"What is wanted"`
	Unit   string   `json:"unit"`
	Got    float64  `json:"got"`
	Low    float64  `json:"low" doc:"The least that is wanted"`
	High   *float64 `json:"high" doc:"More is too much; null: it cannot be"`
	Met    bool     `json:"met"`
	TooFar bool     `json:"tooMuch"`
	Even   *float64 `json:"minOverMean"`
	Of     string   `json:"of" doc:"Whose wish it is: the brief's, or what is usual for what grows there"`
	Words  string   `json:"words"`
	Mends  []Mend   `json:"mends" nullable:"false"`
}

// A Mend is a change that brings what is wanted.
type Mend struct {
	Label  string         `json:"label"`
	Got    *float64       `json:"got" doc:"What comes then; null: not tried, as it cannot be told"`
	Even   *float64       `json:"minOverMean"`
	Why    string         `json:"why,omitempty" doc:"Why it does not go"`
	Stands []design.Stand `json:"stands,omitempty" doc:"All stands of the variant then"`
	Level  *float64       `json:"level,omitempty" doc:"Share of the current of all drivers that feed light"`
	Hours  *float64       `json:"hoursADay,omitempty"`
	Lights *int           `json:"lights,omitempty" doc:"So many equal lights"`
	Optic  *OneOptic      `json:"optic,omitempty" doc:"The optic on all its emitters"`
}

// missedShare is by how much of what is wanted something may fall short and still be met (chosen:
// no meter on a bench tells it).
const missedShare = 0.02

// tooMuchTimes is from how many times what the brief wants on plants, or in a tank, it is too much
// where no band is given (chosen; algae and bleaching begin somewhere above).
const tooMuchTimes = 1.5

// reached judges what a view shows; nil: nothing is wanted of it. Of several wishes the first that is
// missed is told, and where none is the first.
func (l *Lit) reached(v *View) *Reached {
	var first *Reached
	for _, wish := range l.wishes(v) {
		r := l.judged(wish)
		if first == nil {
			first = r
		}
		if !r.Met {
			return r
		}
	}
	return first
}

// wishes are what is wanted of what a view shows, and what comes.
func (l *Lit) wishes(v *View) (out []*Reached) {
	b := &l.Light.Brief
	m := v.Area
	switch {
	case v.Around != nil:
		m = v.Around.Map
	case v.Strip != nil:
		m = v.Strip.Map
	case v.Tank != nil:
		m = v.Tank.Bottom
	}
	crop := l.crop()
	if v.Beam != nil && b.PeakCd != nil {
		out = append(out, &Reached{What: "peakCd", Unit: "cd", Got: v.Beam.PeakCd, Low: *b.PeakCd})
	}
	if v.Beam != nil && b.BeamM != nil {
		out = append(out, &Reached{What: "beamM", Unit: "m", Got: v.Beam.DistanceM, Low: *b.BeamM})
	}
	if m != nil && m.MeanPPFD != nil && (b.PPFD != nil || crop != nil) {
		r := &Reached{What: "ppfd", Unit: ppfd, Got: *m.MeanPPFD, Even: &m.Even}
		if crop != nil {
			r.Low, r.High, r.Of = crop.Low, &crop.High, "usual for "+crop.Name
		}
		if b.PPFD != nil {
			r.Low, r.Of = *b.PPFD, ""
			if crop == nil || *r.High < tooMuchTimes*r.Low {
				r.High = new(tooMuchTimes * r.Low)
			}
		}
		out = append(out, r)
	}
	if m != nil && b.Lux != nil && m.MeanLux != nil {
		out = append(out, &Reached{What: "lux", Unit: lux, Got: *m.MeanLux, Low: *b.Lux, Even: &m.Even})
	}
	return out
}

// crop is what grows in the light; nil: nothing that is known.
func (l *Lit) crop() *Crop {
	if l.Light.Scene == nil {
		return nil
	}
	return CropOf(l.Light.Scene.Crop)
}

// judged says how a wish stands.
func (l *Lit) judged(r *Reached) *Reached {
	b, crop := &l.Light.Brief, l.crop()
	if r.Of == "" {
		r.Of = "wanted"
	}
	r.Mends = []Mend{}
	r.TooFar = r.High != nil && r.Got > *r.High*(1+1e-9)
	r.Met = r.Got >= r.Low*(1-missedShare) && !r.TooFar
	switch {
	case r.TooFar:
		r.Words = fmt.Sprintf("%s %s is more than %s, %s", units.Plain(r.Got, 3), r.Unit, units.Plain(*r.High, 3), mostOf(crop, r, b.PPFD))
	case r.Met:
		r.Words = fmt.Sprintf("%s %s: as %s", units.Plain(r.Got, 3), r.Unit, r.Of)
	default:
		r.Words = fmt.Sprintf("%s %s is %.0f %% of what is %s", units.Plain(r.Got, 3), r.Unit, 100*r.Got/r.Low, r.Of)
	}
	return r
}

// mostOf says of whose wish a highest figure is.
func mostOf(crop *Crop, r *Reached, wanted *float64) string {
	if crop != nil && *r.High == crop.High {
		return "the most that is usual for " + crop.Name
	}
	return fmt.Sprintf("too much where %s are wanted", units.Plain(*wanted, 3))
}

// Reach is how a solved light stands to what is wanted of it, 30 s after switch-on: what answers
// and judgement show. nil: nothing is wanted that can be told, and why says what stands in the way.
func Reach(ctx context.Context, run *chain.Run) (r *Reached, why string, err error) {
	l := run.Model.Light()
	b := &l.Brief
	if b.PPFD == nil && b.Lux == nil && b.PeakCd == nil && b.BeamM == nil && (l.Scene == nil || l.Scene.Crop == "") {
		return nil, "", nil
	}
	lit, err := Of(ctx, run, ReferenceS)
	if err != nil {
		return nil, "", err
	}
	if lit.Dark != "" {
		return nil, lit.Dark, nil
	}
	if lit.Fault != "" {
		return nil, lit.Fault, nil
	}
	v := lit.view()
	if b.PPFD != nil && lit.Unknown != "" {
		return nil, fmt.Sprintf("photons cannot be told: the spectrum of %s is not known", lit.Unknown), nil
	}
	if err := lit.above(v.Kind); err != nil {
		return nil, err.Error(), nil
	}
	// Only what is judged, not the whole picture.
	switch v.Kind {
	case "beam":
		if cd, _ := farOf(lit.weigh(lumens)).Peak(); cd > 0 {
			v.Beam = &Beam{PeakCd: cd, DistanceM: lighting.BeamDistance(cd)}
		}
	case "tank":
		if l.Scene == nil || l.Scene.Tank == nil {
			return nil, "the tank has no measures yet", nil
		}
		t := &TankView{}
		t.Bottom, t.Reaches, err = lit.inWater(ctx, tankOf(l.Scene.Tank), l.Scene.Tank.DepthM)
		v.Tank = t
	case "around":
		v.Around, err = lit.around(ctx)
	default:
		v.Area, err = lit.areaMap(ctx)
	}
	if err != nil {
		if ctx.Err() != nil {
			return nil, "", ctx.Err()
		}
		return nil, err.Error(), nil
	}
	if r = lit.reached(v); r == nil {
		return nil, "what the brief wants is nothing that this picture shows: choose another beside", nil
	}
	return r, "", nil
}

// Search for a height: between, m, and how finely.
const (
	lowestM, highestM = 0.03, 10
	heightRounds      = 22
)

// mend looks for what brings the target: another height, dimming, hours, more lights. Each is
// tried on the light itself.
func (l *Lit) mend(ctx context.Context, light *design.Light, variant int, v *View) error {
	r := v.Target
	if r.What == "peakCd" || r.What == "beamM" {
		l.mendBeam(v)
		return nil
	}
	if r.Met {
		return nil
	}
	goal := r.Low
	if r.TooFar {
		goal = (r.Low + *r.High) / 2
	}
	if err := l.mendHeight(ctx, v, goal); err != nil {
		return err
	}
	if r.TooFar {
		if err := l.mendLevel(ctx, light, variant, r, goal); err != nil {
			return err
		}
	}
	if g := v.Grow; g != nil && g.Hours != nil && g.HoursADay > 0 {
		if r.TooFar && g.Hours.High < g.HoursADay {
			r.Mends = append(r.Mends, Mend{Label: fmt.Sprintf("%.1f h a day instead of %.1f: the day's light is then usual, though it is as bright", g.Hours.High, g.HoursADay), Hours: new(math.Floor(10*g.Hours.High) / 10), Got: &r.Got})
		} else if !r.TooFar && g.Hours.Low > g.HoursADay && g.Hours.Low <= 20 {
			r.Mends = append(r.Mends, Mend{Label: fmt.Sprintf("%.1f h a day instead of %.1f: the day's light is then usual, though it is no brighter", g.Hours.Low, g.HoursADay), Hours: new(math.Ceil(10*g.Hours.Low) / 10), Got: &r.Got})
		}
	}
	if !r.TooFar && r.Got > 0 {
		n := int(math.Ceil(goal * float64(l.Lights) / r.Got * (1 - missedShare)))
		r.Mends = append(r.Mends, Mend{Label: fmt.Sprintf("%d lights like it instead of %d, spread over the area", n, l.Lights), Lights: &n, Got: new(r.Got * float64(n) / float64(l.Lights)), Why: "if each lands as much of its light as this one"})
	}
	return nil
}

// mendHeight looks for the height at which the mean is as wanted.
func (l *Lit) mendHeight(ctx context.Context, v *View, goal float64) error {
	lowest := math.Inf(1)
	for _, list := range l.stands() {
		for _, s := range list {
			lowest = min(lowest, s.HeightM)
		}
	}
	at := func(h float64) (got, even float64, err error) {
		lit := l.moved(func(s design.Stand) design.Stand {
			s.HeightM += h - lowest
			return s
		})
		var m *LightMap
		switch {
		case v.Tank != nil:
			m, _, err = lit.inWater(ctx, tankOf(l.Light.Scene.Tank), l.Light.Scene.Tank.DepthM)
		case v.Around != nil:
			m, err = lit.mapOver(ctx, v.Around.Map.LengthM, v.Around.Map.WidthM)
		default:
			m, err = lit.areaMap(ctx)
		}
		if err != nil {
			return 0, 0, err
		}
		if v.Target.What == "ppfd" {
			return *m.MeanPPFD, m.Even, nil
		}
		return *m.MeanLux, m.Even, nil
	}
	low, high := lowestM, float64(highestM)
	if room := l.Light.Scene; room != nil && room.Room != nil {
		high = min(high, room.Room.HeightM*0.99)
	}
	near, _, err := at(low)
	if err != nil {
		return err
	}
	far, _, err := at(high)
	if err != nil {
		return err
	}
	if goal > near || goal < far {
		if goal > near {
			v.Target.Mends = append(v.Target.Mends, Mend{Label: "hang it lower", Why: fmt.Sprintf("even at %.2g m only %s %s come", low, units.Plain(near, 3), v.Target.Unit)})
		}
		return nil
	}
	for range heightRounds {
		mid := math.Sqrt(low * high)
		x, _, err := at(mid)
		if err != nil {
			return err
		}
		if x > goal {
			low = mid
		} else {
			high = mid
		}
		if high/low < 1.002 {
			break
		}
	}
	h := math.Floor(1000*math.Sqrt(low*high)) / 1000
	got, even, err := at(h)
	if err != nil {
		return err
	}
	change := func(s design.Stand) design.Stand {
		s.HeightM = math.Round(1e4*(s.HeightM+h-lowest)) / 1e4
		return s
	}
	if list := l.allStands(change); len(list) > 0 {
		v.Target.Mends = append(v.Target.Mends, Mend{Label: fmt.Sprintf("hang it at %.3g m instead of %.3g m", h, lowest), Got: &got, Even: &even, Stands: list})
	}
	return nil
}

// mendLevel looks for the current at which the mean is as wanted: what light is left is what the
// chain says of drivers turned down.
func (l *Lit) mendLevel(ctx context.Context, light *design.Light, variant int, r *Reached, goal float64) error {
	list, err := DimmedCourse(ctx, light, variant)
	if err != nil || len(list) < 2 {
		return err
	}
	share := goal / r.Got
	level := between(list, share, func(d Dimmed) float64 { return d.Current })
	full, err := dimmedAt(ctx, light, variant, 1)
	if err != nil {
		return err
	}
	// Twice more along the chord, as light does not go straight with current.
	var now Dimmed
	for range 3 {
		if now, err = dimmedAt(ctx, light, variant, level); err != nil {
			return err
		}
		if now.Light <= 0 || full.Light <= 0 {
			return nil
		}
		got := now.Light / full.Light
		if math.Abs(got/share-1) < 0.005 {
			break
		}
		level = max(0.005, min(1, level*share/got))
	}
	r.Mends = append(r.Mends, Mend{Label: fmt.Sprintf("dim it to %.0f %% of its current", 100*level), Got: new(r.Got * now.Light / full.Light), Even: r.Even, Level: new(math.Round(level*1000) / 1000)})
	return nil
}

// mendBeam looks for a lens that throws as far as is wanted.
func (l *Lit) mendBeam(v *View) {
	r := v.Target
	if r.Met {
		return
	}
	widest := -1
	reach := func(o *OneOptic) float64 {
		if r.What == "beamM" {
			return o.DistanceM
		}
		return o.PeakCd
	}
	for i := range v.Beam.Optics { // the widest lens that does; no lens does: the widest reflector
		o := &v.Beam.Optics[i]
		if o.Own || o.Kind == "bare" || reach(o) < r.Low*(1-missedShare) || widest >= 0 && (o.Deg < v.Beam.Optics[widest].Deg || o.Kind != "lens" && v.Beam.Optics[widest].Kind == "lens") {
			continue
		}
		widest = i
	}
	if widest >= 0 {
		o := &v.Beam.Optics[widest]
		r.Mends = append(r.Mends, Mend{Label: o.Name + " at the same light", Got: new(reach(o)), Why: "look at how wide it then is", Optic: o})
		return
	}
	r.Mends = append(r.Mends, Mend{Label: "more light, or a larger reflector", Why: "none of the usual optics throws so far"})
}
