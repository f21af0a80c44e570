package begin

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/units"
)

// lamp is an old lamp rebuilt with LEDs that give about the light it gave; the old one
// stands beside it, by common practice.
func (b *builder) lamp() {
	s := b.read("was", b.facts.Was)
	was := oldLampOf(s, b.facts.Light)
	b.light.Brief.Was = was.kind
	for _, k := range b.facts.Keeps {
		if k == "switch" || k == "reflector" || k == "housing" {
			b.light.Brief.Keeps = append(b.light.Brief.Keeps, k)
		}
	}
	from := b.facts.Source
	if strings.TrimSpace(from) == "" && b.picked("cell") == nil {
		from = b.asBefore(&was, s)
	}
	f := b.feed("pack", "source", from)
	f.free = 0 // they stay wired as they were: in series
	watts, lm := b.oldLight(&was, s, &f)
	area := b.read("area", measures(inMillimetres(millimetres(fractions(b.facts.Area)))))
	if room := area.all("length"); len(room) > 0 {
		if len(room) == 1 && area.count > 1 {
			b.remark("area", "%d of what? Give its unit.", area.count)
		}
		b.light.Brief.RoomDiamM = ptr(room[0].mid())
		b.understood("area", "%s across", units.Format(room[0].mid(), "length", 3))
		if len(room) > 1 {
			b.light.Brief.RoomLongM = ptr(room[1].mid())
			b.understood("area", "%s × %s", units.Format(room[0].mid(), "length", 3), units.Format(room[1].mid(), "length", 3))
		}
	}
	b.light.Brief.OutputLm = ptr(round2(lm))
	// As many emitters of about a watt as give that light, at the current that gives it.
	const ledLm, ledMA = 110.0, 350.0
	cold := lm * (1 + warmthShare)
	n := max(1, int(math.Ceil(cold/ledLm)))
	line := fmt.Sprintf("%d × 3 V %.3g mA %.3g lm", n, ledMA*cold/ledLm/float64(n), cold/float64(n))
	if b.facts.Emitters != "" {
		line = b.facts.Emitters
	}
	l := b.loads("emitters", line)
	if b.facts.Emitters == "" {
		b.assume("/parts/led/emitter/forward", "small white emitters of about a watt, %d of them for the light of the old lamp and %.0f %% more, which warmth takes", n, 100*warmthShare)
		delete(b.begun.Understood, "emitters")
	}
	top := b.drive(&f, &l)
	b.joint(&l)
	top.Loads[0] = l.node
	if slices.Contains(b.facts.Keeps, "switch") {
		top = design.Node{ID: "switch", Name: "Switch of the old lamp", Switch: &design.Switch{}, Loads: []design.Node{top}}
	}
	b.hang(f, top)
	b.body(l.heatW, 0)
	b.old(&was, watts, lm, &f)
}

// vehicleLamps are what lamps of cars and motorcycles are called (UN Regulation 37, from memory).
var vehicleLamps = []string{"h1", "h3", "h4", "h7", "h8", "h9", "h11", "p21w", "p21", "r5w", "r10w", "w5w", "t4w", "c5w", "festoon", "headlight", "headlights", "taillight", "indicator"}

// warmthShare is what emitters mostly lose of their light between cold and warm (common practice).
const warmthShare = 0.1

// mostTorchW is what the strongest lamps for cells took before there were LEDs (common practice).
const mostTorchW = 12

// asBefore is where an old lamp had its power from where nobody says: by its volts or its cap, from
// from 12 V where it was a vehicle's, from the wall where it is of a kind, or takes so much, that none
// on cells does.
func (b *builder) asBefore(was *oldLamp, s *said) string {
	volts, w := s.lampVolts(), s.figure("power")
	if lm := s.figure("luminousFlux"); w == nil && lm != nil && was.lmPerW > 0 {
		w = ptr(*lm / was.lmPerW)
	}
	if v, ok := s.first("voltage"); ok {
		volts = v.mid()
	}
	switch {
	case was.kind == "flame":
		return ""
	case volts >= mainsFromV:
		b.assume("/feeds/power/sources/pack/mains/voltageV", "what the old lamp was made for")
		return fmt.Sprintf("wall %g V", volts)
	case volts > 0:
		b.assume("/feeds/power/sources/pack/supply/voltageV", "what the old lamp was made for")
		return fmt.Sprintf("adapter %g V", volts)
	case s.size != "":
		return fmt.Sprintf("%d × %s", max(s.count, 1), s.size)
	case s.has("dynamo"):
		return "dynamo"
	case s.has(vehicleLamps...):
		b.assume("/feeds/power/sources/pack/pack/series", "lamps of vehicles are made for 12 V")
		return "car battery"
	case w != nil && *w > mostTorchW || was.name == "compact tube" || was.name == fairyLights:
		return "wall"
	}
	return ""
}

// oldLampOf is what made the light, by its words; of a kind that was picked, if one was.
func oldLampOf(s *said, kind string) oldLamp {
	bulb := s.has("bulb", "bulbs") // a candle bulb is no candle
	for _, l := range oldLamps {
		if (kind == "" || l.kind == kind) && !(bulb && l.kind == "flame") && s.has(l.words...) {
			return l
		}
	}
	for _, l := range oldLamps {
		if l.name == kind {
			return l
		}
	}
	return oldLamps[len(oldLamps)-1]
}

// called is the voltage a source goes by, at which a bulb is rated.
func called(f *feed) float64 {
	if f.source.Pack != nil {
		return nominalV(f.cell) * float64(f.source.Pack.Series)
	}
	return (f.lowV + f.highV) / 2
}

// usualW is what lamps on the wall mostly took, W (common practice); of fewer volts it goes by them.
var usualW = map[string]float64{"bulb": 40, "halogen bulb": 35, "LED lamp": 9}

// fewLEDs is above what number a lamp of LEDs has small ones (common practice).
const fewLEDs = 4

// LEDs with two legs by their diameter, and what one takes (common practice).
const lampLedM, lampLedA, lampLedW = 0.011, 0.02, 0.066

// fairyW is what a filament of fairy lights takes, 2.5 V 0.2 A (common practice).
const fairyLights, fairyW = "lamp of fairy lights", 0.5

// oldLight is what the old lamp took and gave, all of them where there were several.
func (b *builder) oldLight(was *oldLamp, s *said, f *feed) (watts, lm float64) {
	w := s.figure("power")
	switch was.kind {
	case "flame":
	case "tube":
		watts = 18
		if w != nil {
			watts = *w
		}
	default:
		watts = usualW[was.name]
		if f.highV < 20 || watts == 0 {
			watts = 0.5 * called(f) // half an ampere, as most torch bulbs
		}
		if was.name == fairyLights {
			watts = fairyW
		}
		small := s.figure("length")
		if w != nil {
			watts = *w
		} else if lm := s.figure("luminousFlux"); lm != nil && was.lmPerW > 0 && s.figure("current") == nil {
			watts = round2(*lm / was.lmPerW)
		} else if m := s.figure("powerPerLength"); m != nil && s.figure("length") != nil {
			watts = *m * *s.figure("length")
		} else if was.name == "LED lamp" && (small != nil && *small <= lampLedM || small == nil && s.count > fewLEDs && s.figure("current") == nil) {
			watts = lampLedW
		} else if a := s.figure("current"); a != nil {
			volts := called(f)
			if v := s.figure("voltage"); v != nil {
				volts = *v
			}
			watts = *a * volts
		}
	}
	lm = was.lm + was.lmPerW*watts
	if said := s.figure("luminousFlux"); said != nil && *said > 0 {
		lm, was.lmPerW = *said, 0
	}
	what := "a " + was.name
	if strings.HasPrefix(was.name, "LED") {
		what = "an " + was.name
	}
	if n := s.count; n > 1 && s.size == "" {
		watts, lm, what = float64(n)*watts, float64(n)*lm, fmt.Sprintf("%d × %s", n, was.name)
	}
	if was.kind == "flame" {
		b.understood("was", "%s, about %s", what, units.Format(lm, "luminousFlux", 2))
	} else {
		b.understood("was", "%s, %s, about %s", what, units.Watts(watts), units.Format(lm, "luminousFlux", 2))
	}
	return watts, lm
}

// hotGlass is glass of a surface that gives so many watts at twice the usual rise.
func (b *builder) hotGlass(watts float64) *design.Shape {
	shape := &design.Shape{Kind: "area", Material: "glass", AreaM2: ptr(1.0)}
	law, _ := heat.NewBody(shape, 1)
	air := b.light.Conditions.AmbientC
	shape.AreaM2 = ptr(round2(watts / law.Watts(air+2*riseK, air, 0)))
	return shape
}

// old is the lamp that is replaced, on the same source.
func (b *builder) old(was *oldLamp, watts, lm float64, f *feed) {
	v := design.Variant{ID: "before", Name: "As it was: " + was.name, Bodies: []design.Body{}, Feeds: []design.Feed{}}
	if was.kind == "flame" {
		v.Note = "A wick lamp gives about 50 to 100 lm and burns some 20 to 40 ml of oil an hour (common practice). It has no electricity, so nothing of it is computed."
		b.light.Variants = append(b.light.Variants, v)
		b.v = &b.light.Variants[0]
		return
	}
	volts := called(f)
	b.part(design.Part{ID: "old", Name: fmt.Sprintf("Old %s, %s", was.name, units.Watts(watts)), Basis: "guess", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: volts, CurrentA: watts / volts}}, Beyond: "ohmic", FluxLm: ptr(round2(lm))}})
	body := design.Body{ID: "body", Name: "Old lamp", Touchable: true, Shape: b.hotGlass(max(watts, 0.1)), MassKg: ptr(0.1)}
	v.Bodies = []design.Body{body}
	source := f.source
	if source.Pack != nil {
		pack := *source.Pack
		source.Pack = &pack
	}
	v.Feeds = []design.Feed{{ID: "power", Sources: []design.Source{source}, Loads: []design.Node{{ID: "emitters", BodyID: "body", Load: &design.MeasuredLoad{PartID: "old"}}}}}
	v.Assumed = []design.Assumption{
		{At: "/parts/old/load/points", Why: "its watts at the voltage its source goes by"}, {At: "/bodies/body/shape/areaM2", Why: fmt.Sprintf("old lamps run hot: their glass about %d K above the air", 2*riseK)},
	}
	if was.lmPerW > 0 {
		v.Assumed = append(v.Assumed, design.Assumption{At: "/parts/old/load/fluxLm", Why: fmt.Sprintf("about %g lm/W, common practice for a %s", was.lmPerW, was.name)})
	}
	for _, a := range b.light.Variants[0].Assumed {
		if f.source.Pack != nil && strings.HasPrefix(a.At, "/parts/cell/") || a.At == "/conditions/ambientC" {
			v.Assumed = append(v.Assumed, a)
		}
	}
	b.light.Variants = append(b.light.Variants, v)
	b.v = &b.light.Variants[0]
}
