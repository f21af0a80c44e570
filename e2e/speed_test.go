package e2e

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
)

// watchFigures notes when a key goes down and when the figures of the ribbon
// have changed and stand on the screen.
const watchFigures = `() => {
	window.went = []
	window.nextOf = (had) => new Promise((told, fail) => {
		window.told = () => { if (window.went.length > had) told(window.went[had].took) }
		window.told()
		setTimeout(() => fail(new Error('the figures did not change')), 20000)
	})
	const figures = document.querySelector('[data-testid=strip]')
	let down
	addEventListener('keydown', (e) => { down ??= e.timeStamp }, true)
	new MutationObserver(() => requestAnimationFrame(() => {
		// a message posted while a frame is drawn comes back after it
		const after = new MessageChannel()
		after.port1.onmessage = () => { window.went.push({ at: performance.now(), took: down === undefined ? null : performance.now() - down }); down = undefined; window.told?.() }
		after.port2.postMessage(0)
	})).observe(figures, { subtree: true, characterData: true, childList: true })
}`

// rested waits until the page has fetched what it fetches by itself after it is opened.
func (p *tab) rested() {
	p.until("the page at rest", `() => performance.now() - Math.max(...performance.getEntriesByType('resource').map((r) => r.responseEnd)) > 1500`)
}

// An arrow key changes a figure, and what comes of it is on the screen. The
// times are printed, not judged: they are of the machine too.
func TestKeyToFigure(t *testing.T) {
	p := open(t, "/lights/"+copyOf(t, "shore-search-handlamp.json", "Handlamp, timed")+"/driver")
	p.get("[data-testid=strip]", "W")
	p.rested()
	if _, err := p.Eval(watchFigures); err != nil {
		t.Fatal(err)
	}
	strip := func() string {
		result, err := p.Eval(`() => document.querySelector('[data-testid=strip]').textContent`)
		if err != nil {
			t.Fatal(err)
		}
		return result.Value.Str()
	}
	first := strip()
	// A field that was got is not held for long: what is waited for has an end.
	focus := func(figure string) {
		if err := p.get("input[data-pointer$='driver/"+figure+"']", "").Focus(); err != nil {
			t.Fatal(err)
		}
	}
	focus("setCurrentA")
	type change struct{ At, Took float64 }
	changes := func() (list []change) {
		result, err := p.Eval(`() => window.went`)
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range result.Value.Arr() {
			list = append(list, change{c.Get("at").Num(), c.Get("took").Num()})
		}
		return list
	}
	press := func(key input.Key) float64 {
		seen := len(changes())
		if err := p.Keyboard.Type(key); err != nil {
			t.Fatal(err)
		}
		// One question that the page answers when it is so: asking it over and over takes its time.
		result, err := p.Eval(`(had) => window.nextOf(had)`, seen)
		if err != nil {
			t.Fatal(err)
		}
		time.Sleep(250 * time.Millisecond)
		return result.Value.Num()
	}
	tell := func(what string, took []float64) {
		slices.Sort(took)
		t.Logf("%s to new figures on the screen: p50 %.0f ms, p95 %.0f ms, longest %.0f ms (wanted p95: 50 ms)", what, took[len(took)/2], took[len(took)*95/100], took[len(took)-1])
	}
	p.figure("driver/setCurrentA", "2.8 A") // far from where a step gets another size
	p.wait("its figures", func() (bool, error) { return strip() != first, nil })
	p.rested()
	focus("setCurrentA")
	before := strip()
	var steps, leaps []float64
	// Three steps down and two up, twelve times; then as many up as are left.
	for i := range 60 {
		key := input.ArrowDown
		if i%5 > 2 {
			key = input.ArrowUp
		}
		steps = append(steps, press(key))
	}
	for range 12 {
		steps = append(steps, press(input.ArrowUp))
	}
	tell("a key", steps)
	p.wait("the ribbon as it was, after as many steps up as down", func() (bool, error) { return strip() == before, nil })
	// Now in this field, now in that.
	for i := range 40 {
		focus([]string{"setCurrentA", "efficiency"}[i%2])
		time.Sleep(250 * time.Millisecond) // as long as a hand needs from there to the key
		key := input.ArrowDown
		if i >= 20 {
			key = input.ArrowUp
		}
		leaps = append(leaps, press(key))
	}
	tell("a key in another field than before", leaps)
	p.wait("the ribbon as it was, after as many steps up as down in two fields", func() (bool, error) { return strip() == before, nil })
	focus("setCurrentA")

	// No drawing changes its size while figures change: a bar that comes and goes would draw all anew.
	if _, err := p.Eval(`() => {
		window.sizes = new Map()
		const seen = new ResizeObserver((all) => { for (const e of all) window.sizes.set(e.target, (window.sizes.get(e.target) ?? new Set()).add(e.contentRect.width + ' × ' + e.contentRect.height)) })
		for (const e of document.querySelectorAll('figure [class*=drawing]')) seen.observe(e)
	}`); err != nil {
		t.Fatal(err)
	}
	had := len(changes())
	for range 60 {
		if err := p.Keyboard.Type(input.ArrowDown); err != nil {
			t.Fatal(err)
		}
		time.Sleep(33 * time.Millisecond)
	}
	list := changes()[had:]
	if len(list) < 20 {
		t.Fatalf("a key held for two seconds changed the figures %d times", len(list))
	}
	gap := 0.0
	for i := 1; i < len(list); i++ {
		gap = max(gap, list[i].At-list[i-1].At)
	}
	sizes, err := p.Eval(`() => [...window.sizes.values()].map((s) => [...s].join(', '))`)
	if err != nil {
		t.Fatal(err)
	}
	for _, s := range sizes.Value.Arr() {
		if strings.Contains(s.Str(), ",") {
			t.Errorf("a drawing changed its size while a key was held: %s", s.Str())
		}
	}
	if len(sizes.Value.Arr()) == 0 {
		t.Error("no drawing was looked at")
	}
	t.Logf("a key held for two seconds: %d changes, the longest gap %.0f ms (wanted: 100 ms)", len(list), gap)
}

// A pad is dragged, and the map with its figures is on the screen. Printed, not judged.
func TestDragToMap(t *testing.T) {
	for _, c := range []struct{ what, file, pane, grip string }{
		{"a pad on its plate", "germination-rack.json", "/heat?pane=plate", "[data-spot='0']"},
		{"a light over its table", "chart-table-strip.json", "/light", "[data-stand='0']"},
		{"a light between its walls", "germination-rack.json", "/light", "[data-stand='0']"},
		{"a light over its tank", "eelgrass-tank.json", "/light", "[data-stand='0']"},
	} {
		p := open(t, "/lights/"+copyOf(t, c.file, "Dragged, "+c.what)+c.pane)
		p.get(c.grip, "")
		p.rested()
		result, err := p.Eval(`async (grip) => {
			const g = document.querySelector(grip), svg = g.ownerSVGElement
			g.setPointerCapture = () => undefined
			const box = g.querySelector('rect').getBoundingClientRect()
			const at = (type, dx) => g.dispatchEvent(new PointerEvent(type, { bubbles: true, pointerId: 1, clientX: box.x + box.width / 2 + dx, clientY: box.y + box.height / 2 }))
			const bands = () => [...svg.querySelectorAll('path')].map((x) => x.getAttribute('d')).join()
			at('pointerdown', 0)
			const took = []
			for (let i = 1; i <= 40; i++) {
				const was = bands(), from = performance.now()
				at('pointermove', (i % 2 ? 1 : 0.2) * 3 + i * 0.3)
				while (bands() === was && performance.now() - from < 1000) await new Promise((done) => requestAnimationFrame(done))
				took.push(performance.now() - from)
			}
			at('pointerup', 0)
			return took
		}`, c.grip)
		if err != nil {
			t.Fatal(err)
		}
		var took []float64
		for _, x := range result.Value.Arr() {
			took = append(took, x.Num())
		}
		slices.Sort(took)
		if len(took) != 40 || took[len(took)/2] > 999 {
			t.Fatalf("%s: the map did not follow: %v ms", c.what, took)
		}
		t.Logf("%s dragged to a new map on the screen: p50 %.0f ms, p95 %.0f ms, longest %.0f ms (wanted p95: 50 ms without walls or water)", c.what, took[len(took)/2], took[len(took)*95/100], took[len(took)-1])
	}
}
