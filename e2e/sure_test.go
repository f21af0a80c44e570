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
