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
	p.until("ways", `() => document.querySelectorAll("ul[aria-label='Ways to place Four boards'] li").length === 4`)
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
	p.until("dragged", `() => {
		const g = document.querySelector("[data-spot='0']"), box = g.querySelector('rect').getBoundingClientRect()
		const at = (type, dx) => g.dispatchEvent(new PointerEvent(type, { bubbles: true, pointerId: 1, clientX: box.x + box.width / 2 + dx, clientY: box.y + box.height / 2 }))
		g.setPointerCapture = () => undefined
		at('pointerdown', 0); at('pointermove', 10); at('pointerup', 20)
		return true
	}`)
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
