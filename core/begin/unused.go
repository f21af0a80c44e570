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
	used, unused := map[string][]string{}, map[string][]string{}
	for _, h := range b.lines {
		yes, no := h.said.asked()
		used[h.fact] = append(used[h.fact], yes...)
		unused[h.fact] = append(unused[h.fact], no...)
	}
	for fact, words := range unused {
		var told []string
		for _, w := range words {
			// A line is read more than once where its words decide what is read: once used is used.
			if !slices.Contains(used[fact], w) && !slices.Contains(told, w) {
				told = append(told, w)
			}
		}
		if len(told) > 0 && b.begun.Understood[fact] != "" { // that it tells nothing at all is remarked
			b.begun.Unused[fact] = strings.Join(told, " · ")
		}
	}
}

// asked are the words and figures that something asked for, and those that nothing did.
func (s *said) asked() (used, unused []string) {
	for _, w := range s.words {
		switch {
		case s.heard[w]:
			used = append(used, w)
		case !idle[w] && len(w) > 1 && packages[w] == 0 && !nanometres.MatchString(w):
			unused = append(unused, w)
		}
	}
	for _, q := range read {
		for i, x := range s.figures[q] {
			if told := units.Format(x.mid(), q, 3); i < s.taken[q] {
				used = append(used, told)
			} else {
				unused = append(unused, told)
			}
		}
	}
	return used, unused
}

// idle are words that tell nothing which could change a light.
var idle = wordSet(`an some about approx approximately roughly nearly only just my our old new cheap good big small
	from for off by or as if is are was were be it its this that these those each every per via into onto over under behind out within
	led leds light lights lamp lamps emitter emitters chip chips package packages board boards piece pieces pcs pc unit units
	strip strips tape roll rolls reel cell cells battery batteries pack packs source power supply wire wires
	driver drivers constant current voltage volts rated rating max min maximum minimum nominal type kind made using use used have has
	long wide high deep tall thick across length width height depth thickness diameter dia perimeter girth side sides size sized
	day days night nights hours daily lit on off time measured reading readings meter shows reads read draws drew taking takes
	heat sink heatsink surface sheet plate bar block colour color coloured colored white and the with at vf if cri ra ac dc vac vdc polymer output outputs input inputs set dimmable cob smd star stars style them efficient metre metres foot actual`)

func wordSet(words string) map[string]bool {
	set := map[string]bool{}
	for _, w := range strings.Fields(words) {
		set[w] = true
	}
	return set
}
