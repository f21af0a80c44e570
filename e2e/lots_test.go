package e2e

import (
	"strings"
	"testing"
)

// A lot from an empty page to a pack: cells pasted and typed in the units people use, graded
// as they are, regrouped as rules change, printed as labels, undone; and taken into a light,
// where two cells change places.
func TestLotFromTableToPack(t *testing.T) {
	p := open(t, "/cabinet/lots")
	p.sees("Cells from the old drill packs")
	p.press("button", "New lot")
	p.sees("No cell is logged yet")
	p.press("button", "Paste a table")
	p.write("[aria-label='Table of cells']", "label;measured;resistance;resting V;days\nA1;2200;48;4.1;8\nA2;2,1 Ah;0.05;4.1;8\nA3;2000;52;4.1;8\nA4;1900;300;4.1;8")
	p.press("button", "Read them")
	p.until("four graded cells", `() => [...document.querySelectorAll("table[aria-label='Cells of the lot'] tbody tr")].map((r) => r.cells[1].textContent.trim()).join() === '● A,● A,● A,✕ rejected'`)
	p.sees("300 mΩ, above 150")
	p.press("button", "Add a cell")
	p.until("the next label", `() => document.querySelector("[aria-label='Label of cell 5']")?.value === 'A5'`)
	for label, text := range map[string]string{"Measured of A5": "1850 mAh", "Resistance of A5": "61", "After rest of A5": "4,05", "Days of A5": "10"} {
		p.write("[aria-label='"+label+"']", text)
	}
	p.until("A5 to be graded", `() => [...document.querySelectorAll("table[aria-label='Cells of the lot'] tbody tr")][4]?.cells[1].textContent.trim() === '● A'`)
	p.write("[aria-label='Resistance of A5']", "odd")
	p.until("what cannot be read to stay", `() => document.querySelector("[aria-label='Resistance of A5']").value === 'odd' && document.querySelector("[aria-label='Resistance of A5']").getAttribute('aria-invalid') === 'true'`)
	p.write("[aria-label='Resistance of A5']", "61")
	p.figure("lot/series", "2")
	p.figure("lot/parallel", "2")
	// 2200 + 1850 beside 2100 + 2000.
	p.sees("4.050 Ah")
	p.sees("all were tried")
	p.figure("lot/parallel", "3")
	p.sees("2 in series with 3 side by side take 6 cells, and 4 of this lot will do")
	p.figure("lot/rules/fairOhm", "350 mΩ")
	p.until("A4 to be let in", `() => [...document.querySelectorAll("table[aria-label='Cells of the lot'] tbody tr")][3]?.cells[1].textContent.trim() === '◐ B'`)
	p.press("button", "Undo")
	p.until("A4 to be out again", `() => [...document.querySelectorAll("table[aria-label='Cells of the lot'] tbody tr")][3]?.cells[1].textContent.trim() === '✕ rejected'`)
	p.write("[aria-label='Name of the lot']", "Five of mine")
	p.press("button", "Labels")
	p.until("a label a cell", `() => document.querySelectorAll('[data-testid=labels] > *').length === 5`)
	p.press("button", "Back to the lot")
	p.MustReload()
	p.until("all of it kept", `() => document.querySelector("[aria-label='Name of the lot']")?.value === 'Five of mine' && document.querySelectorAll("table[aria-label='Cells of the lot'] tbody tr").length === 5`)
	p.write("[aria-label='Label of cell 5']", "a1")
	p.sees("two cells called")

	id := copyOf(t, "slipway-lantern.json", "Lantern of found cells")
	p = open(t, "/lights/"+id+"/source?pane=pack")
	p.until("three groups of two", `() => document.querySelectorAll('[data-testid^=group-]').length === 3`)
	p.write("#pack-wire", "half a metre")
	p.sees("is no wire")
	p.write("#pack-wire", "40 cm 0.5 mm²")
	p.sees("There and back 28 mΩ")
	p.figure("/pack/series", "2")
	p.get("[aria-label='Lot of cells']", "Five of mine").MustSelect("Five of mine")
	p.press("button", "Take them into the pack")
	p.until("the cells as they lie", `() => [...document.querySelectorAll('[data-testid^=group-] button')].filter((b) => b.draggable).map((b) => b.textContent).sort().join() === 'A1,A2,A3,A5'`)
	p.saved()
	pack := stored(t, id).Variants[0].Feeds[0].Sources[0].Pack
	if len(pack.Groups) != 2 || *pack.Groups[0].Cells[0].CapacityAh < 1.8 || !strings.HasPrefix(pack.PartID, "cells") {
		t.Fatalf("%+v", pack)
	}
	first, other := pack.Groups[0].Cells[0].Label, pack.Groups[1].Cells[0].Label
	// A cell that is taken up moves no other; let go beside all of them it is taken up no more.
	p.until("a cell dragged and let go beside", `(first, other) => {
		const cell = (label) => [...document.querySelectorAll('[data-testid^=group-] button')].find((b) => b.textContent === label)
		const at = () => [...document.querySelectorAll('[data-testid^=group-] button')].map((b) => b.getBoundingClientRect().y).join()
		const was = at()
		cell(first).dispatchEvent(new DragEvent('dragstart', { bubbles: true }))
		return new Promise((done) => setTimeout(() => {
			const held = cell(first).getAttribute('aria-pressed') === 'true' && at() === was
			cell(first).dispatchEvent(new DragEvent('dragend', { bubbles: true }))
			setTimeout(() => done(held && cell(first).getAttribute('aria-pressed') === 'false'), 100)
		}, 100))
	}`, first, other)
	p.press("[data-testid=group-0] button", first)
	p.press("[data-testid=group-1] button", other)
	p.saved()
	if now := stored(t, id).Variants[0].Feeds[0].Sources[0].Pack; now.Groups[0].Cells[0].Label != other || now.Groups[1].Cells[0].Label != first {
		t.Errorf("%+v", now.Groups)
	}
	p.press("button", "Take all cells as their part again")
	p.saved()
	if now := stored(t, id).Variants[0].Feeds[0].Sources[0].Pack; now.Groups != nil {
		t.Errorf("%+v", now.Groups)
	}
}

// Charging from the pane: its phases, a lower end tried and kept, the light on meanwhile; a
// charger put in where there was none.
func TestChargePane(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp, charged")
	p := open(t, "/lights/"+id+"/source?pane=charge")
	p.sees("Charged in")
	p.sees("2.2 W, 78 °C")
	p.press("[data-testid=charge] input[type=checkbox]", "")
	p.sees("It does not end")
	p.press("[data-testid=charge] input[type=checkbox]", "")
	p.sees("4.10 V")
	p.press("[data-testid=charge] button", "Try it")
	p.press("button", "Keep")
	p.saved()
	if use := stored(t, id).Variants[0].Feeds[0].Sources[0].Pack.Charger; use.EndCellV == nil || *use.EndCellV != 4.1 {
		t.Errorf("%+v", use)
	}
	id = copyOf(t, "slipway-lantern.json", "Lantern, charged")
	p = open(t, "/lights/"+id+"/source?pane=charge")
	p.sees("it is taken out to be charged")
	p.press("button", "Put a charger in")
	p.sees("The current of the charger is not known")
	p.figure("/charger/currentA", "2 A")
	p.sees("Charged in")
	p.figure("/charger/endCellV", "4.3 V")
	p.sees("Charged too high")
	p.press("[data-finding] button", "Try it")
	p.press("button", "Keep")
	p.misses("Charged too high")
	// Three in series without a board: no cell is watched. Chargers of the cabinet for other packs
	// say so; a new one is one for this pack, and what the supply was set to is gone with it.
	p.sees("No cell is watched while it charges")
	p.press("button[data-pointer$='/charger/partId']", "Choose…")
	p.sees("It charges 4 in series, the pack has 3")
	p.press("[role=dialog] button", "A new one")
	p.misses("It charges 4 in series, the pack has 3")
	p.sees("The highest cell comes to")
	p.saved()
	light := stored(t, id)
	use := light.Variants[0].Feeds[0].Sources[0].Pack.Charger
	if c := light.Part(use.PartID).Charger; c == nil || c.Series != 3 || use.CurrentA != nil || use.EndCellV != nil {
		t.Errorf("%+v, set to %+v", c, use)
	}
	p.misses("another number of cells")
}
