package e2e

import (
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"photherm/core/design"
)

// Too little over a shelf: what would mend it is offered, tried, kept, and mends it. A light is
// dragged, and drawn lower; the map follows. What is only taken is said as soon as it is typed.
func TestLightOverAnArea(t *testing.T) {
	id := copyOf(t, "germination-rack.json", "Rack too dim")
	p := open(t, "/lights/"+id+"/light")
	p.sees("as wanted")
	p.figure("/brief/ppfdUmolPerM2S", "120")
	p.sees("more than 250, the most that is usual for seedlings")
	p.sees("Dim it to")
	p.press("[aria-label='What would mend it'] button", "Try it")
	p.press("button", "Keep")
	p.saved()
	p.sees("as wanted")
	stands := stored(t, id).Variants[0].Stands
	p.until("dragged", `() => {
		const g = document.querySelector("[data-stand='0']"), box = g.querySelector('rect').getBoundingClientRect()
		const at = (type, dx) => g.dispatchEvent(new PointerEvent(type, { bubbles: true, pointerId: 1, clientX: box.x + box.width / 2 + dx, clientY: box.y + box.height / 2 }))
		g.setPointerCapture = () => undefined
		at('pointerdown', 0); at('pointermove', 20); at('pointerup', 40)
		return true
	}`)
	p.saved()
	moved := stored(t, id).Variants[0].Stands
	if len(moved) != 1 || moved[0].XM <= stands[0].XM+0.02 || moved[0].HeightM != stands[0].HeightM {
		t.Errorf("from %+v to %+v", stands, moved)
	}
	// It goes out in four ways, none of them empty.
	if _, err := p.Eval(`() => {
		window.out = []
		const make = URL.createObjectURL.bind(URL)
		URL.createObjectURL = (b) => { window.out.push(b); return make(b) }
		HTMLAnchorElement.prototype.click = () => undefined
	}`); err != nil {
		t.Fatal(err)
	}
	for _, way := range []string{"SVG", "PNG", "CSV", "Photometric file"} {
		p.press("[aria-label='Take it out'] button", way)
	}
	p.until("four files", `() => window.out.length === 4`)
	texts, err := p.Eval(`async () => Promise.all(window.out.map((b) => b.type === 'image/png' ? String(b.size) : b.text()))`)
	if err != nil {
		t.Fatal(err)
	}
	var all strings.Builder
	for _, x := range texts.Value.Arr() {
		all.WriteString(x.Str())
	}
	for _, part := range []string{"<svg", "µmol/(m²·s)", "IESNA:LM-63-2002", "TILT=NONE"} {
		if !strings.Contains(all.String(), part) {
			t.Errorf("no %q in what goes out", part)
		}
	}
	before := p.MustElement("[data-testid=look]").MustText()
	p.figure("/stands/0/heightM", "12 cm")
	p.until("another map", `(before) => { const now = document.querySelector('[data-testid=look]'); return now.getAttribute('aria-busy') === 'false' && now.innerText !== before }`, before)
	p.figure("/stands/0/heightM", "-5 cm")
	p.sees("below the lit plane")
	p.press("button", "Day")
	p.sees("below the lit plane")
	p.figure("/stands/0/heightM", "20 cm")
	p.sees("mol/m² in 16.0 h")
	p.press("[aria-label='About where the light goes'] button", "Colour")
	p.sees("Colour temperature")
}

// Two channels of a tank: levels for half of their photons are put on their drivers, and then
// that is what there is.
func TestChannelsAtTheirLevels(t *testing.T) {
	id := copyOf(t, "eelgrass-tank.json", "Tank to mix")
	p := open(t, "/lights/"+id+"/light?pane=colour")
	p.sees("Wanted photons")
	photons := `() => [...document.querySelectorAll('[data-testid=colour] tbody tr')].reduce((sum, r) => sum + parseFloat(r.children[2].textContent), 0)`
	p.get("[data-testid=colour] tbody tr", "")
	all := p.MustEval(photons).Num()
	p.figure("/wanted/share", "50 %")
	p.press("[data-testid=colour] button", "Try these levels")
	p.until("half of the photons", `(all) => { const rows = [...document.querySelectorAll('[data-testid=colour] tbody tr')]; return Math.abs(rows.reduce((sum, r) => sum + parseFloat(r.children[2].textContent), 0) / all - 0.5) < 0.06 }`, all)
	p.press("[data-testid=trial] button", "Keep")
	p.saved()
	dimmed := 0
	o := stored(t, id).Variants[0]
	for n := range design.Nodes(&o) {
		if n.Driver != nil && n.Driver.Dimming != nil && n.Driver.Dimming.Current != nil && *n.Driver.Dimming.Current < 1 {
			dimmed++
		}
	}
	if dimmed == 0 {
		t.Error("no driver is turned down")
	}
}

// A handlamp: its distance is an answer; a lens is tried that throws farther; a photometric file of
// another light takes the place of its lens, a broken one is told with its line.
func TestBeamAndPhotometricFile(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp to aim")
	p := open(t, "/lights/"+id+"/light")
	p.sees("cd at its peak")
	p.until("its distance among the answers", `() => /\d+\s*m far/.test(document.querySelector('[data-answer=output]').innerText.replace(/\n/g, ' '))`)
	p.figure("/asked/atM", "20 m")
	p.figure("/asked/tiltDeg", "60")
	p.until("light on what is tilted", `() => /\d lx/.test(document.querySelector('[data-testid=there]')?.textContent ?? '')`)
	p.figure("/brief/beamM", "480 m")
	p.sees("Too little comes where it is wanted")
	p.sees("A lens of 8° at the same light")
	p.press("[aria-label='What would mend it'] button", "Try it")
	p.until("the lens that is offered does it", `() => document.querySelector('[data-testid=target]')?.textContent.startsWith('✓')`)
	p.press("[data-testid=trial] button", "Discard")
	p.sees("Too little comes where it is wanted")
	p.get("[data-testid=optics] tr", "A smooth reflector, spot 12°")
	file := filepath.Join(t.TempDir(), "wide.ies")
	if err := os.WriteFile(file, []byte("IESNA:LM-63-2002\n[LUMINAIRE] Wide one\nTILT=NONE\n1 -1 1 3 1 1 2 0 0 0\n1 1 10\n0 45 90\n0\n100 70 0\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	broken := filepath.Join(t.TempDir(), "broken.ies")
	if err := os.WriteFile(broken, []byte("IESNA:LM-63-2002\nTILT=NONE\n1 -1 1 3 1 1 2 0 0 0\n1 1 10\n0 45 x\n0\n100 70 0\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	p.MustElement("input[aria-label='Photometric file']").MustSetFiles(broken)
	p.sees(`ine 5: "x" is no number`)
	p.MustElement("input[aria-label='Photometric file']").MustSetFiles(file)
	p.sees("a measured table: Wide one")
	p.saved()
	o := stored(t, id).Variants[0]
	var table *design.IntensityTable
	for n := range design.Nodes(&o) {
		if n.Optic != nil && n.Optic.Table != nil {
			table = n.Optic.Table
		}
	}
	if table == nil || table.Name != "Wide one" || math.Abs(table.Candela[0][1]-70) > 1e-9 {
		t.Fatalf("table %+v", table)
	}
	p.press("button", "Take the table away")
	p.misses("a measured table")
	p.press("button", "New variant")
	p.until("the second variant", `() => location.search.includes('v=1')`)
	p.until("its light", `() => document.querySelector('[data-testid=look]')?.getAttribute('aria-busy') === 'false'`)
	p.get("[aria-label='Compare with']", "").MustSelect("Four cells, 1.5 A")
	p.sees("Against Four cells, 1.5 A: as much light")
	p.get("svg text", "dashed: Four cells, 1.5 A")
}

// Nothing known, and half known: a sentence instead of a picture, and the way on.
func TestLightOfLittle(t *testing.T) {
	id := copyOf(t, "pier-lantern.json", "Lantern over a tank")
	p := open(t, "/lights/"+id+"/light")
	p.sees("Over the area")
	p.press("[data-pointer='/scene/kind']", "")
	p.press("li", "a tank")
	p.sees("no measures yet")
	p.press("button", "Measures of the tank")
	p.sees("The bottom from above")
	p.sees("Photons cannot be told")
	p.saved()
	if l := stored(t, id); l.Scene == nil || l.Scene.Tank == nil || !l.Conditions.NearWater {
		t.Errorf("%+v", l.Scene)
	}
	p.press("[aria-label='About where the light goes'] button", "Day")
	p.sees("the spectrum of")
	p.press("[aria-label='About where the light goes'] button", "Colour")
	if text := p.get("section[aria-label='Charts']", "").MustText(); strings.Contains(text, "NaN") {
		t.Error(text)
	}
	p.sees("No spectrum is known")
}
