package verdict

import (
	"fmt"
	"math"

	"photherm/core/design"
	"photherm/core/emitter"
	"photherm/core/photometry"
	"photherm/core/target"
	"photherm/core/units"
)

// Limits of IEC 62471:2006 for what reaches the eye, W/m², that its exempt group keeps (clauses 4.3
// and 6.1, from memory), and of blue light where risk group 2 ends. A source is taken as a point,
// which errs to the safe side.
const (
	blueLimit     = 1     // retina, blue light, small source, longer than 100 s
	blueLimit2    = 400   // the same, risk group 2: a quarter of a second
	actinicLimit  = 0.001 // cornea and skin, weighted, eight hours
	uvaLimit      = 10    // lens, 315–400 nm, longer than 1000 s
	infraredLimit = 100   // cornea and lens, longer than 1000 s
)

const (
	nearestM = 0.2 // IEC 62471 looks at a lamp from 200 mm
	roomLux  = 500 // and at one that lights a space from where it gives 500 lx
	// What lights a space: its beam is at least so wide (chosen: a floodlight's).
	roomBeamDeg = 60
	// White enough for that: so near the black body's colour (chosen: ANSI C78.377 allows 0.006).
	whiteDuv = 0.02

	// The share of a light from which it is told as near-ultraviolet, or infrared (chosen).
	unseenShare = 0.1
	// What an emitter radiates of its power where its data do not say (chosen; common practice is
	// 0.3 to 0.6, less below 350 nm).
	usualRadiant = 0.45
)

// colourSpectra are the spectra of colours of which nothing else is said (common practice).
var colourSpectra = map[string]design.Spectrum{
	"white": {WhiteK: new(6000.0)}, "warm-white": {WhiteK: new(3000.0)},
	"violet": {PeakNm: new(405.0)}, "blue": {PeakNm: new(455.0)}, "cyan": {PeakNm: new(500.0)}, "green": {PeakNm: new(525.0)},
	"amber": {PeakNm: new(590.0)}, "red": {PeakNm: new(625.0)}, "deep-red": {PeakNm: new(660.0)}, "far-red": {PeakNm: new(730.0)},
}

// radiates is a spectrum with what it radiates out of its optic and how that is spread.
type radiates struct {
	id, pointer, name string
	light             *weighed
	w                 float64 // of one board or piece
	perSr             float64 // W/sr of the axis for each watt
	beamDeg           float64
	lineM             float64 // > 0: a strip of this length, W/m in w
	openingM          float64 // width of what it leaves through; 0: not known
}

// weighed is a spectrum with what it weighs; many lights of one part share one.
type weighed struct {
	hazards photometry.Hazards
	lmPerW  float64
	white   bool
}

// weigh is the spectrum of a part, its own or that of its colour, weighed once; nil: nothing says.
func (j *judge) weigh(partID string, own *design.Spectrum, colour string) *weighed {
	key := partID + "\x00" + colour
	if w, ok := j.spectra[key]; ok {
		return w
	}
	if j.spectra == nil {
		j.spectra = map[string]*weighed{}
	}
	if own == nil {
		if usual, ok := colourSpectra[colour]; ok {
			own = &usual
		}
	}
	var w *weighed
	if own != nil {
		if s, err := photometry.New(own); err == nil { // what cannot be is told where it is decoded
			_, duv, ok := s.Colour()
			w = &weighed{s.Hazards(), s.EfficacyLmPerW(), ok && math.Abs(duv) <= whiteDuv}
		}
	}
	j.spectra[key] = w
	return w
}

// spread is the intensity on the axis of a node's optic for each watt, W/sr, and its width; plain lenses
// of one beam are worked out once.
func (j *judge) spread(n *design.Node) (perSr, beamDeg float64, ok bool) {
	plain := n.Optic == nil && n.Array != nil && n.Array.BeamDeg != nil
	if plain {
		if s, known := j.spreads[*n.Array.BeamDeg]; known {
			return s[0], s[1], true
		}
	}
	optic, _, err := target.Optic(n)
	if err != nil {
		return 0, 0, false
	}
	perSr, beamDeg = optic.Peak(), optic.Width(0.5)
	if plain {
		if j.spreads == nil {
			j.spreads = map[float64][2]float64{}
		}
		j.spreads[*n.Array.BeamDeg] = [2]float64{perSr, beamDeg}
	}
	return perSr, beamDeg, true
}

// eyes judges what light does to eyes and skin, for each kind of emitter, strip and load.
func (j *judge) eyes() {
	if j.trial {
		return // no fix is for eyes, and none is refused for them
	}
	for _, id := range j.order {
		p := j.nodes[id]
		if p.node.Array == nil && p.node.Strip == nil && p.node.Load == nil || j.hasAbout("short", id) {
			continue
		}
		perSr, beamDeg, ok := j.spread(p.node)
		if !ok {
			continue // told where the light goes
		}
		r := radiates{id: id, name: p.node.Called(), perSr: perSr, beamDeg: beamDeg}
		if o := p.node.Optic; o != nil && o.OpeningM != nil {
			r.openingM = *o.OpeningM
		}
		flux, _ := j.highest(id, "fluxLm")
		switch n := p.node; {
		case n.Array != nil:
			j.arrayEyes(r, p, flux)
		case n.Strip != nil:
			if s := j.data(n.Strip.PartID).Strip; s != nil && s.Spectrum != nil && len(n.Strip.PiecesM) > 0 {
				sum := 0.0
				for _, m := range n.Strip.PiecesM {
					sum += m
				}
				r.pointer, r.light, r.lineM = p.pointer+"/strip/partId", j.weigh(n.Strip.PartID, s.Spectrum, ""), sum
				if r.light != nil && r.light.lmPerW > 0 {
					r.w = flux / r.light.lmPerW / sum
				}
				j.exposes(&r)
			}
		case n.Load != nil && flux > 0:
			// Of a lamp known by its draw alone only lumens are known: white is taken.
			r.pointer, r.light = p.pointer+"/load", j.weigh("", nil, "white")
			r.w = flux / r.light.lmPerW
			j.exposes(&r)
		}
	}
}

// arrayEyes judges every kind of emitter in an array, one board at a time.
func (j *judge) arrayEyes(r radiates, p place, fluxLm float64) {
	a := p.node.Array
	in, _ := j.highest(r.id, "inW")
	out, _ := j.highest(r.id, "lightW")
	if in <= 0 {
		return
	}
	boards := float64(max(a.Count, 1))
	all := a.Series
	for _, m := range a.Mixed {
		all += m.Series
	}
	kind := func(partID string, series int, pointer string) {
		e := j.data(partID).Emitter
		if e == nil {
			return
		}
		one := r
		one.pointer, one.light = pointer, j.weigh(partID, e.Spectrum, e.Colour)
		if one.light == nil {
			return
		}
		switch per := one.light.lmPerW; {
		case len(a.Mixed) == 0 && out > 0:
			one.w = out / boards
		case len(a.Mixed) == 0 && fluxLm > 0 && per > 0:
			one.w = min(fluxLm/per, in) / boards
		default:
			one.w = in * float64(series) / float64(all) * radiantShare(e, per) * opticLets(a) / boards
		}
		if len(a.Mixed) > 0 {
			one.name = j.data(partID).Name
		}
		j.exposes(&one)
	}
	kind(a.PartID, a.Series, p.pointer+"/array/partId")
	for k := range a.Mixed {
		kind(a.Mixed[k].PartID, a.Mixed[k].Series, fmt.Sprintf("%s/array/mixed/%d/partId", p.pointer, k))
	}
}

func opticLets(a *design.Array) float64 {
	if a.OpticEfficient != nil {
		return *a.OpticEfficient
	}
	return 1
}

// radiantShare is the share of its power that an emitter radiates where it is quoted; a usual one
// where its data do not say.
func radiantShare(e *design.Emitter, per float64) float64 {
	m, err := emitter.New(e)
	if e.EfficacyLmPerW != nil {
		per = *e.EfficacyLmPerW
	}
	if err != nil || e.FluxLm == nil || per < 1 { // what the eye hardly sees is not told by lumens
		return usualRadiant
	}
	a := emitter.QuotedAtA(e)
	return min(*e.FluxLm/per/max(a*m.Voltage(a, e.FluxRefTempC), 1e-12), 1)
}

// exposes tells what a light does to eyes and skin: where a limit is passed how far away it is kept,
// and of what the eye does not see always.
func (j *judge) exposes(r *radiates) {
	if r.light == nil || r.w <= 0 {
		return
	}
	h := &r.light.hazards
	// At is what comes at a distance, W/m² for a share of its watts; from is where it has fallen to a limit.
	at := func(share, m float64) float64 {
		if r.lineM > 0 { // ∫ of a line of Lambertian pieces
			return share * r.w / (2 * m)
		}
		return share * r.w * r.perSr / (m * m)
	}
	from := func(share, limit float64) float64 {
		if r.lineM > 0 {
			return share * r.w / (2 * limit)
		}
		return math.Sqrt(share * r.w * r.perSr / limit)
	}
	tell := func(code, title, why string, value *float64, limit float64) {
		f := Finding{Code: code, Severity: Caution, Stage: "light", Node: r.id, Pointer: r.pointer, Title: title, Why: why}
		if value != nil {
			f.Value, f.Limit, f.Unit = value, &limit, "W/m²"
		}
		j.add(f)
	}
	away := func(share, limit float64) string { return units.Format(from(share, limit), "length", 2) }
	if blue := at(h.Blue, j.lookedAtFrom(r)); blue > blueLimit && h.NearUV < unseenShare {
		tell("eyes", "Do not look into it", fmt.Sprintf("%s may harm the retina from near: about %s of IEC 62471 for blue light. The limit for looks of more than 100 s is kept from %s on. A calculation, no certificate.", r.name, r.blueGroup(h.Blue, blue), away(h.Blue, blueLimit)), &blue, blueLimit)
	}
	if h.NearUV >= unseenShare {
		uva, actinic := at(h.UVA, nearestM), at(h.Actinic, nearestM)
		why := fmt.Sprintf("Most of what %s radiates up to %d nm is not seen, and harms eyes and skin all the same; paper, cloth, teeth and eyes fluoresce by it. Wear glasses that stop it, and light no faces.", r.name, 405)
		code, title, value, limit := "ultraviolet", "Ultraviolet: cover eyes and skin", (*float64)(nil), float64(uvaLimit)
		keep := 0.0
		switch {
		case actinic/actinicLimit > uva/uvaLimit && actinic > actinicLimit:
			value, limit, keep = &actinic, actinicLimit, from(h.Actinic, actinicLimit)
		case uva > uvaLimit:
			value, keep = &uva, from(h.UVA, uvaLimit)
		}
		if blue := from(h.Blue, blueLimit); blue > max(keep, nearestM) {
			keep = blue
		}
		if keep > nearestM {
			why += fmt.Sprintf(" The limits of IEC 62471 are kept from %s on: a calculation, no certificate.", units.Format(keep, "length", 2))
		}
		tell(code, title, why, value, limit)
	}
	if h.Infrared >= unseenShare {
		ir := at(h.Infrared, nearestM)
		why := fmt.Sprintf("%s radiates what the eye does not see: no pupil closes and nobody looks away. Do not look into it from near, with a loupe or a camera's view finder least of all.", r.name)
		var value *float64
		if ir > infraredLimit {
			value = &ir
			why += fmt.Sprintf(" The limit of IEC 62471 is kept from %s on: a calculation, no certificate.", away(h.Infrared, infraredLimit))
		}
		tell("infrared", "Infrared: nothing warns the eye", why, value, infraredLimit)
	}
}

// Limits of the radiance of blue light, W/(m²·sr): where risk groups 1 and 2 end (IEC 62471:2006,
// clause 6.1, from memory).
const blueGroup1, blueGroup2 = 1e4, 4e6

// blueGroup is the risk group by its blue light: by its radiance where the width of what it leaves
// through is known, else as of a point, which errs to the safe side.
func (r *radiates) blueGroup(share, irradiance float64) string {
	switch radiance := share * r.w * r.perSr / (math.Pi / 4 * r.openingM * r.openingM); {
	case r.openingM <= 0 || r.lineM > 0:
	case radiance <= blueGroup1:
		return "risk group 1"
	case radiance <= blueGroup2:
		return "risk group 2"
	default:
		return "risk group 3"
	}
	if irradiance > blueLimit2 {
		return "risk group 2 (3, if it is no wider than a few millimetres)"
	}
	return "risk group 2"
}

// lookedAtFrom is from where IEC 62471 looks at a light, m: white light that is made to light a space
// from where it gives 500 lx, all else, and what a hand holds, from 200 mm.
func (j *judge) lookedAtFrom(r *radiates) float64 {
	if !r.light.white || r.beamDeg < roomBeamDeg || j.light.Conditions.Handheld {
		return nearestM
	}
	lm := r.w * r.light.lmPerW
	if r.lineM > 0 {
		return max(lm/(2*roomLux), nearestM)
	}
	return max(math.Sqrt(lm*r.perSr/roomLux), nearestM)
}
