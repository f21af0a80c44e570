package e2e

import "testing"

// Left alone for a moment, the answers have a band, and what makes them differ leads to where
// it is said; what is assumed is marked.
func TestHowSure(t *testing.T) {
	id := copyOf(t, "pier-lantern.json", "Lantern, how sure")
	p := open(t, "/lights/"+id+"?pane=sure")
	p.sees("Eight of ten lights like this come out between")
	p.until("bands of light, power and hours", `() => ['fluxLm', 'inputW', 'endS'].every((k) => document.querySelector('[data-answer-band=' + k + '] .figure')?.textContent.includes('…'))`)
	p.until("a band in words over the answer", `() => document.querySelector('[data-answer=output]').title.startsWith('Eight of ten like this: ')`)
	p.press("[data-answer-band=endS] button", "capacity of")
	p.until("the capacity where it is said", `() => document.activeElement?.getAttribute('data-pointer')?.endsWith('/cell/capacityAh') ?? false`)
}

// How long it lasts is told by every school with why they differ; what would last as long as
// is wanted is tried in one gesture.
func TestRuntimePane(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp, how long")
	p := open(t, "/lights/"+id+"/source?pane=runtime")
	p.until("four schools", `() => document.querySelectorAll("ul[aria-label='Schools of runtime'] > li").length === 4`)
	p.sees("wrong here: the emitters take 1.5 A together")
	p.sees("goes out at once")
	p.figure("wantedH", "9 h")
	p.sees("3 strings in parallel")
	p.press("[data-testid=runtime] button", "Try it")
	p.press("button", "Keep")
	p.saved()
	if n := stored(t, id).Variants[0].Feeds[0].Sources[0].Pack.Parallel; n != 3 {
		t.Errorf("%d strings are kept", n)
	}
	p.figure("hoursPerDay", "1 h")
	p.sees("Charges a week")
}
