package e2e

import (
	"fmt"
	"testing"

	"github.com/go-rod/rod/lib/input"
)

// gestures counts what a person does: a press, a line typed, a choice made.
type gestures struct {
	*tab
	n int
}

func (g *gestures) tap(selector, text string) {
	g.t.Helper()
	g.n++
	g.press(selector, text)
}

func (g *gestures) say(fact, words string) {
	g.t.Helper()
	g.n++
	e := g.get(fmt.Sprintf("[data-fact=%q]", fact), "")
	if err := e.Input(words); err != nil {
		g.t.Fatal(err)
	}
}

// fourAnswers waits for a figure in each of the four, each said to rest on assumptions.
func (g *gestures) fourAnswers() {
	g.t.Helper()
	g.until("four answers", `() => ['output', 'runtime', 'hottest'].every((n) => {
		const a = document.querySelector('[data-answer=' + n + ']')
		return a && Number.parseFloat(a.querySelector('strong')?.innerText) > 0 && a.innerText.includes('assumed') && a.innerText.includes('≈')
	}) && /\d+ assumed/.test(document.querySelector('[data-answer=limits]')?.innerText)`)
}

// From an empty shelf, twelve gestures at most to four answers and the light on the shelf.
func TestFiveStarts(t *testing.T) {
	for name, do := range map[string]func(*gestures){
		"drawer": func(g *gestures) {
			g.tap("button", "Parts in the drawer")
			g.say("source", "four reclaimed 2 Ah cells")
			g.say("emitters", "10 W, 9–12 V, 900 mA")
			g.say("driver", "two-pot step-down 10 V 0.5 A")
			g.sees("3 dies in series")
			g.sees("4S1P")
		},
		"meter": func(g *gestures) {
			g.tap("button", "A lamp and a meter")
			g.say("readings", "4.5 V 300 mA · 5.0 V 485 mA · 4.2 V 300 mA · 3.28 V 137 mA")
			g.say("was", "3 AAA")
			g.say("source", "one 18650")
			g.until("the remark at its field", `() => document.querySelector('[data-remark=readings]')?.innerText.includes('Repeat the one at 4.50 V') === true`)
			g.sees("stands beside it as a variant")
		},
		"strip": func(g *gestures) {
			g.tap("button", "Strip")
			g.say("emitters", "24 V 15 W/m")
			g.say("pieces", "5 × 1 m")
			g.say("source", "80 W dimmable supply")
			g.tap("[data-fact=dimmed]", "")
			g.say("hours", "6 h")
			g.sees("behind a wall dimmer")
			g.sees("lit 6 h a day") // in the running cost
		},
		"boards": func(g *gestures) {
			g.tap("button", "Boards over an area")
			g.say("emitters", "four 36 V packages at 1.4 A, 56 % efficient")
			g.sees("12 dies in series")
		},
		"module": func(g *gestures) {
			g.tap("button", "Parts in the drawer")
			g.say("emitters", "1 W constant-light module for 1–9 V")
			g.say("source", "five 1.28 Ah cells in parallel")
			g.sees("1S5P")
		},
	} {
		t.Run(name, func(t *testing.T) {
			g := &gestures{tab: open(t, "/")}
			g.tap("a", "New light")
			do(g)
			g.fourAnswers()
			g.say("name", "Begun: "+name)
			g.tap("button", "Put it on the shelf")
			g.saved() // only a light's page tells
			g.fourAnswers()
			if g.n > 12 {
				t.Errorf("%d gestures", g.n)
			}
			t.Logf("%d gestures", g.n)
		})
	}
}

// What is assumed is listed, leads to its control, is no longer assumed once it is
// changed or said to be so, and comes back with undo.
func TestAssumed(t *testing.T) {
	g := &gestures{tab: open(t, "/start/parts")}
	g.say("emitters", "6 × 3 V 0.7 A")
	g.say("source", "24 V adapter")
	g.fourAnswers()
	// What was typed outlives leaving the page.
	g.press("a", "Shelf")
	g.press("a", "New light")
	g.press("button", "Parts in the drawer")
	g.fourAnswers()
	g.press("button", "Put it on the shelf")
	g.saved() // only a light's page tells
	count := func(n int) {
		t.Helper()
		g.until(fmt.Sprintf("%d assumed", n), `(n) => document.querySelector('[data-answer=limits]')?.innerText.includes(n + ' assumed')`, n)
	}
	g.fourAnswers()
	result, err := g.Eval(`() => Number.parseInt(/(\d+) assumed/.exec(document.querySelector('[data-answer=limits]').innerText)[1])`)
	if err != nil {
		t.Fatal(err)
	}
	n := result.Value.Int()
	g.press("button", "assumed")
	g.press("[data-assumed='/bodies/body/shape/lengthM'] button", "Change")
	g.until("its field to have the focus", `() => document.activeElement.dataset.pointer?.endsWith('/bodies/0/shape/lengthM') && document.activeElement.title.startsWith('Assumed: ')`)
	g.figure("/bodies/0/shape/lengthM", "200 mm")
	count(n - 1)
	g.press("button", "assumed")
	g.press("[data-assumed='/bodies/body/shape/thicknessM'] button", "It is so")
	g.press("[role=dialog] button", "Close")
	count(n - 2)
	g.saved()
	g.press("button", "Undo")
	count(n - 1)
	g.press("button", "Undo")
	count(n)
}

// The lamp before and after stand side by side: answers, what differs, and one scale.
func TestSideBySide(t *testing.T) {
	g := &gestures{tab: open(t, "/start/lamp")}
	g.say("source", "2 D cells")
	g.say("was", "1.2 W")
	g.fourAnswers()
	g.press("button", "Put it on the shelf")
	g.saved()
	g.press("button", "Variants side by side")
	g.until("both in figures", `() => [...document.querySelectorAll('[data-testid=compare] tbody tr')].some((r) => r.innerText.startsWith('Takes') && r.querySelectorAll('td').length === 2 && [...r.querySelectorAll('td')].every((c) => /^≈ [\d.]+ W/.test(c.innerText)))`)
	g.until("what differs", `() => [...document.querySelectorAll('[data-differs]')].some((r) => r.innerText.startsWith('Emitters') && r.innerText.includes('Old bulb'))`)
	g.until("both in one chart", `() => document.querySelector('figure[aria-label^="Light of each"]')?.getAttribute('aria-label').includes('As it was')`)
}

// What feeds it is changed where it stands, in one gesture, and nothing of the old is left.
func TestSourceChangedInOneGesture(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp to the wall")
	p := open(t, "/lights/"+id+"/source")
	p.press("[data-pointer='/variants/0/feeds/0/sources/0']", "Pack of cells")
	p.press("[role=option]", "Bench supply")
	p.saved()
	if s := stored(t, id).Variants[0].Feeds[0].Sources[0]; s.Pack != nil || s.Supply == nil || s.Supply.Kind != "bench" {
		t.Errorf("%+v", s)
	}
	p.press("[data-pointer='/variants/0/feeds/0/sources']", "nothing else")
	p.press("[role=option]", "Pack of cells")
	p.saved()
	if s := stored(t, id).Variants[0].Feeds[0].Sources; len(s) != 2 || s[1].Pack == nil {
		t.Errorf("%+v", s)
	}
}

// A new driver begins with the families that can work on its source, and another family
// leaves nothing of the one before.
func TestNewDriverByFamily(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp with a new driver")
	p := open(t, "/lights/"+id+"/driver")
	p.press("section[aria-label=Workbench] button", "Change…")
	p.until("what cannot work to stand last", `() => { const fits = [...document.querySelectorAll('[data-family]')].map((b) => b.dataset.fit); return fits.length === 6 && fits[0] !== 'no' && fits.at(-1) === 'no' }`)
	p.press("[role=dialog] button", "step-down driver")
	p.sees("New step-down driver")
	p.saved()
	light := stored(t, id)
	d := light.Part(light.Variants[0].Feeds[0].Loads[1].Loads[0].Driver.PartID).Driver
	if d.Family != "buck" || d.SetCurrentA != nil || d.HeadroomV == nil {
		t.Errorf("%+v", d)
	}
	p.press("section[aria-label=Workbench] button", "All figures…")
	p.press("[role=dialog] [data-pointer$='/driver/family']", "")
	p.press("[role=option]", "step-up")
	p.saved()
	light = stored(t, id)
	d = light.Part(light.Variants[0].Feeds[0].Loads[1].Loads[0].Driver.PartID).Driver
	if d.Family != "boost" || d.HeadroomV != nil || d.Efficiency != nil {
		t.Errorf("another family: %+v", d)
	}
}

// Units in lists are read, and figures in any order with them; what would be a thousandfold off is asked.
func TestUnitsInLists(t *testing.T) {
	id := copyOf(t, "pier-lantern.json", "Lantern with a measured bulb")
	p := open(t, "/lights/"+id+"?pane=tree")
	p.press("button", "Hang something below Battery")
	p.press("[role=menuitem]", "Measured load")
	p.saved()
	p.press("[data-stage=emitters]", "")
	const points = "section[aria-label=Workbench] textarea[data-pointer$='/points']"
	p.write(points, "2.5 V 200 mA\n350 mA 3.0 V")
	p.saved()
	loads := stored(t, id).Variants[0].Feeds[0].Loads
	if got := loads[len(loads)-1].Load.Points; len(got) != 2 || got[0].CurrentA != 0.2 || got[1].CurrentA != 0.35 || got[1].VoltageV != 3 {
		t.Errorf("kept %+v", got)
	}
	p.write(points, "2.5 200\n3.0 350")
	p.sees("200 A or 200 mA? Type the unit")
}

// While a figure is typed the page says what it understands, and a bare one far off is asked about.
func TestTypedFigureIsUnderstood(t *testing.T) {
	p := open(t, "/lights/"+copyOf(t, "shore-search-handlamp.json", "Handlamp, typed")+"/driver")
	e := p.get("input[data-pointer$='driver/setCurrentA']", "")
	if err := e.SelectAllText(); err != nil {
		t.Fatal(err)
	}
	if err := e.Input("850mA"); err != nil {
		t.Fatal(err)
	}
	p.until("what is understood", `() => document.querySelector('[data-understood]')?.textContent === '= 850.0 mA'`)
	p.keys(input.Enter)
	p.saved()
	p.figure("driver/setCurrentA", "0.002")
	p.sees("Type the unit if so")
}

// A part changed in one variant is changed in that one alone, unless one says otherwise.
func TestVariantsAreIndependent(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp in two ways")
	p := open(t, "/lights/"+id+"/driver")
	p.press("button", "New variant")
	p.until("the second variant", `() => location.search.includes('v=1')`)
	p.figure("/driver/headroomV", "3 V")
	p.sees("Changed in this variant alone")
	p.saved()
	headroom := func(v int, want string) {
		t.Helper()
		if _, err := p.Eval(`(v) => document.querySelectorAll('button[aria-pressed]')[v].click()`, v); err != nil {
			t.Fatal(err)
		}
		p.until("the variant", `(v) => (new URLSearchParams(location.search).get('v') ?? '0') === String(v)`, v)
		p.until(fmt.Sprintf("a headroom of %s in variant %d", want, v), `(want) => document.querySelector("input[data-pointer$='/driver/headroomV']")?.value === want`, want)
	}
	headroom(0, "1.2 V")
	headroom(1, "3 V")
	p.figure("/driver/headroomV", "2 V")
	p.saved()
	p.keys(input.Escape)
	headroom(0, "1.2 V")
	p.press("button", "New variant")
	p.until("the third variant", `() => location.search.includes('v=2')`)
	p.figure("/driver/headroomV", "2.5 V")
	p.press("button", "Change it in all")
	p.saved()
	headroom(0, "2.5 V")
}

// Two pages of the start at once: each begins a light of its own. A fix tried on a light that
// rests on assumptions takes none of them away for good: discarded, they are as before.
func TestStartInTwoTabs(t *testing.T) {
	a, b := &gestures{tab: open(t, "/start/parts")}, &gestures{tab: open(t, "/start/strip")}
	a.say("source", "three 4 Ah cells")
	b.say("emitters", "24 V 10 W/m")
	a.say("emitters", "1 W constant-light module for 1–9 V")
	b.say("pieces", "2 m")
	a.fourAnswers()
	ids := map[string]bool{}
	for name, g := range map[string]*gestures{"Begun in the first": a, "Begun in the second": b} {
		g.say("name", name)
		g.tap("button", "Put it on the shelf")
		g.until("its page", `() => location.pathname.startsWith('/lights/')`)
		g.until("its name", `(name) => document.querySelector('h1')?.innerText.includes(name) || [...document.querySelectorAll('h1 input')].some((e) => e.value === name)`, name)
		ids[g.MustEval(`() => location.pathname.split('/')[2]`).Str()] = true
	}
	if len(ids) != 2 {
		t.Errorf("%d lights of two starts", len(ids))
	}
	count := `() => Number.parseInt(/(\d+) assumed/.exec(document.querySelector('[data-answer=limits]').innerText)?.[1] ?? '-1')`
	b.until("what is assumed", `() => /\d+ assumed/.test(document.querySelector('[data-answer=limits]')?.innerText)`)
	was := b.MustEval(count).Int()
	b.press("button", "Light")
	b.press("[data-testid=look] button", "Try it")
	b.press("[data-testid=trial] button", "Discard")
	b.until("as many assumed as before", `(was) => document.querySelector('[data-answer=limits]').innerText.includes(was + ' assumed')`, was)
}

// What was typed last is in the light, though the page has not been answered about it yet.
func TestLastWordsOfAStart(t *testing.T) {
	g := &gestures{tab: open(t, "/start/parts")}
	g.say("emitters", "10 W, 9 V")
	g.fourAnswers()
	g.slow("*/api/begin")
	g.say("source", "three 4 Ah cells")
	g.say("name", "Typed at the last")
	g.tap("button", "Put it on the shelf")
	g.until("its page", `() => location.pathname.startsWith('/lights/')`)
	if got := g.MustEval(`async () => { const { light } = await (await fetch('/api' + location.pathname)).json(); return light.name + ', ' + light.parts.find((p) => p.cell)?.cell.capacityAh + ' Ah' }`).Str(); got != "Typed at the last, 4 Ah" {
		t.Errorf("on the shelf stands %q", got)
	}
}

// Words that changed nothing stand beside what the line was taken to mean, until they are gone.
func TestUnusedWordsAreShown(t *testing.T) {
	g := &gestures{tab: open(t, "/start/parts")}
	g.say("body", "concrete slab 300 × 300 × 50 mm")
	g.until("what it was taken for", `() => document.querySelector('[data-understood=body]')?.innerText.startsWith('a plate, 300 mm × 300 mm')`)
	g.until("what was not used", `() => document.querySelector('[data-unused=body]')?.innerText === 'Not used: concrete · slab'`)
	g.write("[data-fact=body]", "steel 300 × 300 × 5 mm")
	g.until("steel to be used", `() => document.querySelector('[data-understood=body]')?.innerText.endsWith('of steel') && !document.querySelector('[data-unused=body]')`)
}

// On a light of which nothing is known no stage tells a nought; a driver put before a load that
// was not read yet tells none either, and no hours.
func TestNothingKnownIsNoNought(t *testing.T) {
	p := open(t, "/start")
	p.press("button", "nothing at all")
	p.saved()
	none := `() => { const w = document.querySelector('section[aria-label=Workbench]'); return w !== null && !/(^|\s)0 (V|A|W|lm|%|kWh)/.test([...w.querySelectorAll('div')].map((d) => d.innerText).join('\n')) && !document.body.innerText.includes('settled') }`
	stages := func(what string) {
		for _, key := range "12345" {
			p.keys(input.Key(key))
			p.until(fmt.Sprintf("%s, stage %c", what, key), `(stage) => document.querySelector('section[aria-label=Workbench]')?.innerText.includes(stage)`, string(key))
			p.until(fmt.Sprintf("%s: no nought at stage %c", what, key), none)
		}
	}
	turn := func(key input.Key) {
		if _, err := p.Eval(`() => document.activeElement?.blur()`); err != nil { // single keys are a control's while it has the focus
			t.Fatal(err)
		}
		p.keys(key)
	}
	stages("an empty chain")
	turn('1')
	p.press("section[aria-label=Workbench] [role=combobox]", "Pack of cells")
	p.press("[role=option]", "Bench supply")
	p.sees("Nothing draws on it")
	turn('3')
	p.sees("No emitter chosen yet")
	p.press("section[aria-label=Workbench] [role=combobox]", "emitters")
	p.press("[role=option]", "a load known by its draw")
	p.saved()
	turn('2')
	p.sees("No driver chosen yet") // the stage before has a button of the same name
	p.press("section[aria-label=Workbench] button", "Choose…")
	p.press("[role=dialog] button", "step-up driver")
	p.sees("New step-up driver")
	p.saved()
	p.until("no hours of what is not read", `() => /What .* draws is not known/.test(document.querySelector('[data-answer=output]').innerText) && document.querySelector('[data-answer=runtime]').innerText.includes('Nothing draws on it')`)
	p.until("no voltage it would climb to", `() => !document.body.innerText.includes('1000 V') && !document.body.innerText.includes('Hazardous')`)
}
