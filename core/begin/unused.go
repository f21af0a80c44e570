package begin

import (
	"slices"
	"strings"

	"photherm/core/units"
)

// A heard line is what a fact's words came to, kept to tell at the end what of it changed nothing.
type heardLine struct {
	fact string
	said *said
}

// tellUnused tells, beside what a line was taken to mean, the words and figures of it that changed
// nothing: a person sees at once what was not understood, however many words there are that are not
// known here.
func (b *builder) tellUnused() {
	for _, h := range b.lines {
		if b.begun.Understood[h.fact] == "" {
			continue // that it tells nothing is remarked
		}
		for _, w := range h.said.unused() {
			if before := b.begun.Unused[h.fact]; before == "" {
				b.begun.Unused[h.fact] = w
			} else if !slices.Contains(strings.Split(before, " · "), w) {
				b.begun.Unused[h.fact] = before + " · " + w
			}
		}
	}
}

// unused are the words and figures that nothing asked for, in the order of the words.
func (s *said) unused() (list []string) {
	for _, w := range s.words {
		if !s.heard[w] && !idle[w] && len(w) > 1 && packages[w] == 0 && !nanometres.MatchString(w) {
			list = append(list, w)
		}
	}
	for _, q := range read {
		for _, x := range s.figures[q][min(s.taken[q], len(s.figures[q])):] {
			list = append(list, units.Format(x.mid(), q, 3))
		}
	}
	return list
}

// idle are words that tell nothing which could change a light.
var idle = wordSet(`an some about around approx approximately roughly nearly only just my our old new cheap good big small
	from for off by or as if is are was were be it its this that these those each every per via into onto over under behind out within
	led leds light lights lamp lamps emitter emitters chip chips package packages board boards piece pieces pcs pc unit units
	strip strips tape roll rolls reel cell cells battery batteries pack packs source power supply wire wires
	driver drivers constant current voltage volts rated rating max min maximum minimum nominal type kind made using use used have has
	long wide high deep tall thick across length width height depth thickness diameter dia perimeter girth side sides size sized
	day days night nights hours daily lit on off time measured reading readings meter shows reads read draws drew taking takes
	heat sink heatsink surface sheet plate bar block colour color coloured colored white and the with at vf if cri ra ac dc vac vdc polymer output outputs input inputs set dimmable`)

func wordSet(words string) map[string]bool {
	set := map[string]bool{}
	for _, w := range strings.Fields(words) {
		set[w] = true
	}
	return set
}
