package e2e

import (
	"testing"
)

// Emitters get their places on a plate in one gesture, are dragged, and the map follows; a
// place off the plate is told in one sentence; what warms is followed from switch-on.
func TestPlatePane(t *testing.T) {
	id := copyOf(t, "germination-rack.json", "Rack to lay out")
	p := open(t, "/lights/"+id+"/heat?pane=plate")
	p.sees("4 placed")
	p.press("button", "Take the places away")
	p.sees("4 to place")
	p.until("ways", `() => document.querySelectorAll("ul[aria-label='Ways to place Four boards'] li").length === 5`)
	p.sees("further apart gains less than a kelvin")
	p.press("ul[aria-label='Ways to place Four boards'] li:first-child button", "Place so")
	p.sees("4 placed")
	p.until("a figure at every place", `() => [...document.querySelectorAll('[data-spot] text')].length === 4`)
	p.saved()
	spots := stored(t, id).Variants[0].Layouts[0].Spots
	if len(spots) != 4 {
		t.Fatalf("%+v", spots)
	}
	was := spots[0]
	// Dragged by the mouse, and by the keys.
	p.drag(0, 20, 0)
	p.saved()
	moved := stored(t, id).Variants[0].Layouts[0].Spots[0]
	if moved.XM <= was.XM+0.005 || moved.YM != was.YM {
		t.Errorf("dragged from %g, %g to %g, %g m", was.XM, was.YM, moved.XM, moved.YM)
	}
	p.press("summary", "Coordinates")
	p.figure("/spots/0/xM", "2 mm")
	p.sees("reaches beyond Folded aluminium shelf")
	p.figure("/spots/0/xM", "20 cm")
	p.until("the map again", `() => document.querySelectorAll('[data-spot] text').length === 4`)
	p.press("button", "Warm-up")
	p.sees("Warming from switch-on")
	p.sees("63 % after")
	p.sees("emitters without their sink")
	p.until("every mark", `() => [...document.querySelectorAll("table[aria-label='Temperatures at marks'] tbody tr")].every((tr) => tr.querySelectorAll('td').length === 7)`)
}

// drag moves a place by so many pixels.
func (p *tab) drag(spot, dx, dy int) {
	p.t.Helper()
	p.until("dragged", `(spot, dx, dy) => {
		const g = document.querySelector("[data-spot='" + spot + "']")
		if (!g) return false
		const box = g.querySelector('rect').getBoundingClientRect()
		const at = (type, share) => g.dispatchEvent(new PointerEvent(type, { bubbles: true, pointerId: 1, clientX: box.x + box.width / 2 + share * dx, clientY: box.y + box.height / 2 + share * dy }))
		g.setPointerCapture = () => undefined
		at('pointerdown', 0); at('pointermove', 0.5); at('pointerup', 1)
		return true
	}`, spot, dx, dy)
}

// A plate in two tabs: what was dragged in one is not lost by a drag in the other. And a board that
// is moved away from the others takes its own share of the current.
func TestPlateInTwoTabs(t *testing.T) {
	id := copyOf(t, "germination-rack.json", "Rack laid out twice")
	a := open(t, "/lights/"+id+"/heat?pane=plate")
	b := open(t, "/lights/"+id+"/heat?pane=plate")
	for _, p := range []*tab{a, b} {
		p.until("the map", `() => document.querySelectorAll('[data-spot] text').length === 4`)
		p.saved()
	}
	at := func(spot int) float64 { return stored(t, id).Variants[0].Layouts[0].Spots[spot].XM }
	was := at(0)
	a.drag(0, -12, 0)
	a.saved()
	mine := at(0)
	if mine >= was {
		t.Fatalf("dragged from %g to %g m", was, mine)
	}
	b.drag(3, 12, 8)
	b.sees("This light was changed elsewhere too")
	if at(0) != mine {
		t.Errorf("the other tab's place is at %g m, was dragged to %g m", at(0), mine)
	}
	b.press("[role=dialog] button", "Take theirs")
	b.saved()
	b.drag(3, 12, 8)
	b.saved()
	if at(0) != mine || at(3) <= 0.81 {
		t.Errorf("at %g and %g m", at(0), at(3))
	}
	b.press("nav a, a, button", "Emitters")
	b.press("button", "Strings")
	b.sees("8 ordinary, on place 4")
	b.sees("Each emitter, highest string")
}
