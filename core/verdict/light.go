package verdict

import (
	"fmt"
	"math"

	"photherm/core/design"
	"photherm/core/emitter"
	"photherm/core/photometry"
	"photherm/core/units"
)

// bestOfKind is the share of its electric power that the best emitters of a kind radiate
// (common practice, from memory: sorted white and blue at a gentle current come to some
// 80 %, red to 75 %, green to 55 %); above it a figure is doubted.
var bestOfKind = map[string]float64{"green": 0.55, "cyan": 0.6, "amber": 0.6, "red": 0.75}

const usualBest = 0.8

// edgeNm is the wavelength nearest the eye's peak that a colour may have, nm (CIE
// colour regions, rounded): what it weighs is the most its light can be.
var edgeNm = map[string]float64{"violet": 440, "blue": 490, "cyan": 520, "green": 555, "amber": 580, "red": 610, "deep-red": 640, "far-red": 690}

// whiteMostLmPerW is the most that white light of any use weighs, lm for each radiated
// watt (common practice: 300 to 340 at a colour rendering of 80, some 400 at 60).
const whiteMostLmPerW = 400

// weighs is the most lumens a radiated watt of an emitter can be: by its spectrum, by
// what its data say, or by its colour; sure tells that its spectrum is known.
func weighs(e *design.Emitter) (lmPerW float64, sure bool) {
	if e.Spectrum != nil {
		if s, err := photometry.New(e.Spectrum); err == nil {
			return s.EfficacyLmPerW(), true
		}
	}
	switch {
	case e.EfficacyLmPerW != nil:
		return *e.EfficacyLmPerW, true
	case e.Colour == "white" || e.Colour == "warm-white":
		return whiteMostLmPerW, false
	case edgeNm[e.Colour] > 0:
		peak, width := edgeNm[e.Colour], 1.0
		if s, err := photometry.New(&design.Spectrum{PeakNm: &peak, WidthNm: &width}); err == nil {
			return s.EfficacyLmPerW(), false
		}
	}
	return photometry.LumensPerWatt, false
}

// possible judges whether the light of an emitter can be: lumens for each electric watt
// where it is quoted, and where it is run, against what its radiated watt can weigh.
func (j *judge) possible(id string, p place, partID string, e *design.Emitter) {
	if e.FluxLm == nil || j.hasAbout("light-impossible", id) || j.hasAbout("light-doubtful", id) {
		return
	}
	at := j.partPointer(partID) + "/emitter/fluxLm"
	most, sure := weighs(e)
	if e.Spectrum != nil && e.EfficacyLmPerW != nil && math.Abs(*e.EfficacyLmPerW/most-1) > efficacyApart {
		j.add(Finding{Code: "efficacy-disagrees", Severity: Caution, Stage: "light", Node: id, Pointer: j.partPointer(partID) + "/emitter/radiationEfficacyLmPerW", Title: "Spectrum and lumens a watt disagree",
			Why: fmt.Sprintf("Its data say %.0f lm for each radiated watt; its spectrum weighs %.0f. One of the two is wrong, and its heat with it.", *e.EfficacyLmPerW, most), Value: e.EfficacyLmPerW, Limit: &most, Unit: "lm/W"})
	}
	model, err := emitter.New(e)
	if err != nil {
		return
	}
	worst, where := 0.0, ""
	look := func(a, c float64, words string) {
		if v := model.Voltage(a, c); a > 0 && v > 0 {
			if x := model.FluxLm(a, c) / (a * v); x > worst*(1+nearShare) {
				worst, where = x, fmt.Sprintf("%s at %s", words, units.Amps(a))
			}
		}
	}
	look(emitter.QuotedAtA(e), e.FluxRefTempC, "as it is quoted")
	for _, x := range e.FluxCurrent {
		look(x.X, e.FluxRefTempC, "by its curve of light")
	}
	name := j.data(partID).Name
	if above(worst, most) {
		why := fmt.Sprintf("%s would give %.0f lm for each watt, %s: more than the %.0f that all of its power radiated as this light would be. A reading or a unit is wrong.", name, worst, where, most)
		if !sure {
			why = fmt.Sprintf("%s would give %.0f lm for each watt, %s: more than light of its colour can be, %.0f at the very most. A reading or a unit is wrong.", name, worst, where, most)
		}
		j.add(Finding{Code: "light-impossible", Severity: Stop, Stage: "light", Node: id, Pointer: at, Title: "This light cannot be", Why: why, Value: &worst, Limit: &most, Unit: "lm/W"})
		return
	}
	best := usualBest
	if b, ok := bestOfKind[e.Colour]; ok {
		best = b
	}
	if limit := best * most; above(worst, limit) {
		j.add(Finding{Code: "light-doubtful", Severity: Caution, Stage: "light", Node: id, Pointer: at, Title: "More light than the best of its kind",
			Why: fmt.Sprintf("%s would give %.0f lm for each watt, %s; the best of its kind come to some %.0f. Check flux, current and forward voltage.", name, worst, where, limit), Value: &worst, Limit: &limit, Unit: "lm/W"})
	}
}

// efficacyApart is how far a stated efficacy may lie from that of the spectrum (common
// practice: 5 % of spread for a phosphor, doubled).
const efficacyApart = 0.1

// lit judges the light of a strip or a measured load against its watts.
func (j *judge) lit(id, pointer, name string, lm, w float64, spectrum *design.Spectrum) {
	if lm <= 0 || w <= 0 {
		return
	}
	most := float64(photometry.LumensPerWatt)
	if spectrum != nil {
		if s, err := photometry.New(spectrum); err == nil {
			most = s.EfficacyLmPerW()
		}
	}
	x := lm / w
	best := usualBest * min(most, whiteMostLmPerW)
	switch {
	case above(x, most):
		j.add(Finding{Code: "light-impossible", Severity: Stop, Stage: "light", Node: id, Pointer: pointer, Title: "This light cannot be",
			Why: fmt.Sprintf("%s would give %.0f lm for each watt: more than the %.0f that all of its power radiated would be. A reading or a unit is wrong.", name, x, most), Value: &x, Limit: &most, Unit: "lm/W"})
	case above(x, best):
		j.add(Finding{Code: "light-doubtful", Severity: Caution, Stage: "light", Node: id, Pointer: pointer, Title: "More light than the best of its kind",
			Why: fmt.Sprintf("%s would give %.0f lm for each watt; the best of its kind come to some %.0f. Check its light and its draw.", name, x, best), Value: &x, Limit: &best, Unit: "lm/W"})
	}
}
