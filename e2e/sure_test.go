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
	p.sees("wrong here: the emitters take 1.50 A together")
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
	p.sees("Whole nights on one charge")
	p.figure("restingV", "15.1 V")
	p.sees("between ")
	p.until("hours from there", `() => [...document.querySelectorAll('[data-testid=runtime] *')].some((e) => /^It lasts from there/.test(e.textContent))`)
	p.until("its band and what matters most", `() => (document.querySelector('[data-testid=runtime-band]')?.textContent ?? '').includes('what matters most')`)
	p.press("button[aria-label='New variant']", "")
	p.get("#payback-against", "").MustSelect("Four cells, 1.5 A")
	p.sees("What an hour costs is not known of both")
}

// A lot opened in two tabs: the second to save is told, and what was typed stays.
func TestLotInTwoTabs(t *testing.T) {
	a := open(t, "/cabinet/lots")
	a.press("button", "New lot")
	a.press("button", "Add a cell")
	a.until("a cell", `() => document.querySelector("[aria-label='Label of cell 1']") !== null`)
	at, err := a.Eval(`() => new Promise((done) => setTimeout(() => done(location.pathname), 600))`)
	if err != nil {
		t.Fatal(err)
	}
	b := open(t, at.Value.Str())
	b.write("[aria-label='Measured of 1']", "2000")
	b.until("it to be graded", `() => document.querySelector("[aria-label='Measured of 1']").value === '2000'`)
	if _, err := b.Eval(`() => new Promise((done) => setTimeout(done, 600))`); err != nil {
		t.Fatal(err)
	}
	a.expectTrouble(true)
	a.write("[aria-label='Measured of 1']", "1900")
	a.sees("This lot was changed elsewhere since you opened it; what you typed is still here")
	if v := a.value("[aria-label='Measured of 1']"); v != "1900" {
		t.Errorf("typed was 1900, and there stands %q", v)
	}
}

// How far a band is drawn is told; it can be stopped, and drawn after all.
func TestBandIsStopped(t *testing.T) {
	p := open(t, "/lights/"+copyOf(t, "slipway-lantern.json", "Lantern, how sure")+"?pane=sure")
	p.sees("Eight of ten lights like this come out between")
	// It may be drawn in no time: it is stopped as soon as it is told that it is being drawn.
	if _, err := p.Eval(`() => {
		window.stopped = false
		new MutationObserver(() => {
			const s = [...document.querySelectorAll('[role=status]')].find((e) => /\d+ of 200 lights like this one/.test(e.textContent))
			if (s && !window.stopped) {
				window.stopped = true
				s.querySelector('button').click()
			}
		}).observe(document.body, { subtree: true, childList: true, characterData: true })
	}`); err != nil {
		t.Fatal(err)
	}
	p.figure("/conditions/ambientC", "13 °C")
	p.until("it to be drawn, and stopped", `() => window.stopped`)
	p.sees("It is not drawn how sure that is.")
	p.press("[role=status] button", "Draw it")
	p.sees("Eight of ten lights like this come out between")
}
