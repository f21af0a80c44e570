package begin

import (
	"math"
	"regexp"
	"strconv"
	"strings"

	"photherm/core/design"
	"photherm/core/photometry"
)

// A colour is what LEDs of a colour mostly are: the volts of a die, where they shine, and the share
// of the electric watts that leaves as light (common practice, from memory).
type colour struct {
	words  []string
	name   string // as an emitter has it; none where nothing of it is seen
	peakNm float64
	dieV   float64
	share  float64
}

// colours by their words, the narrower before the wider; whites are not among them.
var colours = []colour{
	{[]string{"far-red", "far red"}, "far-red", 730, 1.9, 0.45}, {[]string{"deep-red", "deep red", "hyper red"}, "deep-red", 660, 2.1, 0.5},
	{[]string{"infrared", "ir"}, "", 850, 1.6, 0.45}, {[]string{"red"}, "red", 625, 2.2, 0.35}, {[]string{"amber", "orange", "yellow"}, "amber", 593, 2.2, 0.15},
	{[]string{"green"}, "green", 525, 3.2, 0.2}, {[]string{"cyan", "turquoise"}, "cyan", 500, 3.1, 0.3}, {[]string{"royal blue", "royal"}, "blue", 450, dieV, 0.5},
	{[]string{"blue"}, "blue", 470, 3.1, 0.4}, {[]string{"violet", "purple"}, "violet", 420, 3.2, 0.45}, {[]string{"ultraviolet", "uv"}, "violet", 395, 3.4, 0.4},
}

// whites by what sellers call them, K.
var whites = []struct {
	words []string
	k     float64
}{{[]string{"warm"}, 2700}, {[]string{"neutral", "natural"}, 4000}, {[]string{"cool", "cold", "daylight"}, 6000}}

var (
	nanometres = regexp.MustCompile(`(?i)\b(\d{3,4})\s*nm\b`)
	kelvins    = regexp.MustCompile(`\b(\d{4})\s*K\b`)
)

// alikeNm is how far a wavelength may lie from the usual one of a colour that is called beside it
// (chosen: 660 nm are still called red).
const alikeNm = 60

// seenToNm is where light ends for the eye: beyond it there are no lumens to tell.
const seenToNm = 780

// colourSaid is the colour of emitters by its words or its wavelength; nil: white, or not said.
func (s *said) colourSaid(line string) *colour {
	if m := nanometres.FindStringSubmatch(line); m != nil && !kelvins.MatchString(line) {
		nm, _ := strconv.ParseFloat(m[1], 64)
		if nm < 350 || nm > 1100 {
			return nil
		}
		near := colours[0]
		for _, c := range colours {
			if math.Abs(c.peakNm-nm) < math.Abs(near.peakNm-nm) {
				near = c
			}
		}
		for _, c := range colours {
			if math.Abs(c.peakNm-nm) < alikeNm {
				s.has(c.words...) // said twice
			}
		}
		near.peakNm = nm
		return &near
	}
	for _, c := range colours {
		if s.has(c.words...) {
			return &c
		}
	}
	return nil
}

// coloursSaid is how many colours were said: deep red is one.
func (s *said) coloursSaid() (n int) {
	text := " " + strings.Join(s.words, "  ") + " "
	for _, c := range colours {
		for _, w := range c.words {
			w = " " + strings.ReplaceAll(w, " ", "  ") + " "
			if strings.Contains(text, w) {
				text = strings.ReplaceAll(text, w, " ")
				n++
			}
		}
	}
	return n
}

// whiteSaid is the colour temperature of a white, K; ok if it was said.
func (s *said) whiteSaid(line string) (k float64, ok bool) {
	if m := kelvins.FindStringSubmatch(line); m != nil {
		if k, _ := strconv.ParseFloat(m[1], 64); k >= 1800 && k <= 12000 {
			for _, w := range whites {
				s.has(w.words...) // said twice
			}
			return k, true
		}
	}
	for _, w := range whites {
		if s.has(w.words...) {
			return w.k, true
		}
	}
	return whiteK, false
}

// spectrum is what a part at a place radiates by its words; c is its colour, nil of a white. It is
// nil where nothing of it is seen.
func (b *builder) spectrum(fact, line string, s *said, c *colour, at string) *design.Spectrum {
	if c == nil {
		k, told := s.whiteSaid(line)
		switch {
		case s.has("rgb", "rgbw", "rgbww", "rgba"):
			b.remark(fact, "More than one colour: these are taken as white; add the others on the page.")
		case nanometres.MatchString(line):
			b.remark(fact, "More than one colour: these are taken as white; add the others on the page.")
		case len(kelvins.FindAllString(line, -1)) > 1:
			b.remark(fact, "More than one white: these are taken as %g K; add the others on the page.", k)
		case s.others:
			b.remark(fact, "More than one kind: the first is taken; add the others on the page.")
		}
		if !told {
			b.assume(at+"spectrum", "a white of %g K", k)
		}
		return &design.Spectrum{WhiteK: ptr(k)}
	}
	if s.has("white") || s.coloursSaid() > 1 {
		b.remark(fact, "More than one colour: these are taken as %s; add the others on the page.", c.words[0])
	}
	if c.peakNm > seenToNm {
		b.remark(fact, "Nothing of %g nm is seen, so no light is told of it: its watts and its heat are.", c.peakNm)
		return nil
	}
	if !nanometres.MatchString(line) {
		b.assume(at+"spectrum", "%s mostly has its peak at %g nm", c.words[0], c.peakNm)
	}
	return &design.Spectrum{PeakNm: ptr(c.peakNm)}
}

// efficacy is the lumens of a watt of what an emitter radiates; not ok where nothing of it is seen.
func efficacy(of *design.Spectrum) (lmPerW float64, ok bool) {
	if of == nil {
		return 0, false
	}
	if s, err := photometry.New(of); err == nil {
		lmPerW = s.EfficacyLmPerW()
	}
	return lmPerW, lmPerW > 0
}
