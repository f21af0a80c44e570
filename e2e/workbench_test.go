package e2e

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"photherm/app/api"
	"photherm/core/design"
)

// stored reads a light as the server keeps it.
func stored(t *testing.T, id string) *design.Light {
	t.Helper()
	r, err := http.Get(program.URL("/api/lights/" + id))
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	var l struct{ Light design.Light }
	if err := json.NewDecoder(r.Body).Decode(&l); err != nil {
		t.Fatal(err)
	}
	return &l.Light
}

func revision(t *testing.T, id string) int {
	t.Helper()
	r, err := http.Get(program.URL("/api/lights/" + id))
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	var l struct{ Revision int }
	if err := json.NewDecoder(r.Body).Decode(&l); err != nil {
		t.Fatal(err)
	}
	return l.Revision
}

func text(t *testing.T, r *http.Response) string {
	t.Helper()
	data, err := io.ReadAll(r.Body)
	if err != nil {
		t.Fatal(err)
	}
	return string(data)
}

// Matching: what fits stands first, what does not says why in one line; one that fits
// is tried, and the light before and after are told apart until it is kept.
func TestMatching(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp to match")
	p := open(t, "/lights/"+id+"/driver")
	p.press("button", "Matching")
	p.sees("at every source the light must accept")
	p.until("the best first and the reasons", `() => { const rows = [...document.querySelectorAll('[data-testid=matches] li')].map((e) => e.innerText);
		return rows.length > 10 && rows[0].includes('fits') && rows.some((r) => /the source reaches .* it bears/.test(r)) && rows.findIndex((r) => r.includes('nearly')) < rows.findIndex((r) => /^○ no/.test(r)) }`)
	p.press("[data-testid=matches] input[type=checkbox]", "")
	p.until("a reason that names another cell", `() => [...document.querySelectorAll('[data-testid=matches] li')].some((e) => /High-charge 18650.*: the source reaches 17.4 V/.test(e.innerText))`)
	p.press("button", "Try it: Module with two pots, 30 V, 5 A")
	p.sees("Trying: Module with two pots")
	p.press("button", "Keep")
	p.saved()
	light := stored(t, id)
	use := light.Variants[0].Feeds[0].Loads[1].Loads[0].Driver
	part := light.Parts[len(light.Parts)-1]
	if use.PartID != part.ID || part.Name != "Module with two pots, 30 V, 5 A" || part.Origin == nil || part.Origin.Hash != part.Hash() {
		t.Errorf("kept %+v, part %q from %+v", use, part.Name, part.Origin)
	}
}

// The reverse of matching: emitters for the driver as it is, each in its best wiring; one
// is tried and kept with that wiring.
func TestMatchingEmitters(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp for other emitters")
	p := open(t, "/lights/"+id+"/driver?pane=match")
	p.press("button", "Emitters for this driver")
	p.sees("wired the way that fits and gives the most light")
	p.press("button", "Try it: Neutral white 3535 emitter, 1.5 A class")
	p.sees("Trying: Neutral white 3535")
	p.press("button", "Keep")
	p.saved()
	light := stored(t, id)
	a := light.Variants[0].Feeds[0].Loads[1].Loads[0].Loads[0].Array
	if a.PartID != light.Parts[len(light.Parts)-1].ID || a.Series < 3 || glance(t, id).Answers.FluxLm == nil {
		t.Errorf("kept %+v", a)
	}
}

// What is said of several branches alike is said once, and leads to each of them.
func TestFindingsAlike(t *testing.T) {
	id := spoiled(t, "slipway-lantern.json", "Lantern on hot drivers", func(l *design.Light, loads []design.Node) {
		for i := range l.Parts {
			if d := l.Parts[i].Driver; d != nil {
				d.MaxCaseC = new(20.0)
			}
		}
	})
	p := open(t, "/lights/"+id)
	p.sees("The same at East driver, South driver, West driver.")
	p.until("it to be said once", `() => document.querySelectorAll('[data-finding=driver-temperature]').length === 1`)
	p.press("[data-finding=driver-temperature] button", "South driver")
	p.until("the body of the south driver", `() => document.activeElement.dataset.pointer?.endsWith('/loads/2/loads/0/bodyId')`)
}

// The schools side by side, each from the solver: half of the light lasts longer with the
// current lowered than switched, and nothing of it is kept.
func TestSchools(t *testing.T) {
	id := copyOf(t, "slipway-lantern.json", "Lantern to argue about")
	p := open(t, "/lights/"+id+"/driver")
	p.press("button", "Schools")
	p.until("the figures", `() => document.querySelectorAll('[data-testid=schools] thead th').length === 5 && !document.querySelector('[data-testid=schools]').innerText.includes('…')`)
	row, err := p.Eval(`() => [...[...document.querySelectorAll('[data-testid=schools] tbody tr')].find((r) => r.innerText.startsWith('Gives')).querySelectorAll('td')].map((c) => parseFloat(c.innerText))`)
	if err != nil {
		t.Fatal(err)
	}
	v := row.Value.Arr()
	if whole, lowered, switched, groups := v[0].Num(), v[1].Num(), v[2].Num(), v[3].Num(); lowered < 1.1*whole || math.Abs(switched/whole-1) > 0.03 || math.Abs(groups/whole-1) > 0.03 {
		t.Errorf("lumens a watt: %v", v)
	}
	if l := stored(t, id); len(l.Parts) != len(stored(t, lightID(t, "Slipway lantern")).Parts) || revision(t, id) != 1 {
		t.Error("comparing changed the light")
	}
}

// Setting up: the steps of the supply with its expected readings; a step is ticked, a
// reading typed, and what it says stands beside it, also after the page is loaded anew.
func TestSetUpSteps(t *testing.T) {
	id := copyOf(t, "germination-rack.json", "Rack on the bench")
	p := open(t, "/lights/"+id+"/driver?pane=setup")
	p.sees("Turn both pots to their lowest")
	p.press("input[type=checkbox]", "Step 1 done")
	p.saved()
	p.figure("/step/cap", "2.4")
	p.sees("14.3 % above what is wanted")
	p.sees("differs from the calculation")
	p.figure("/step/cap", "2100 mA")
	p.sees("agrees with the calculation · as wanted")
	p.saved()
	p.MustReload()
	p.sees("agrees with the calculation · as wanted")
	done := stored(t, id).Variants[0].SetUp
	if len(done) != 2 || !done[0].Ticked || *done[1].Reading != 2.1 {
		t.Errorf("kept %+v", done)
	}
	// The knob goes lower than its data say: what was read takes their place.
	p.press("[data-testid=setup] [role=combobox]", "")
	p.press("[role=option]", "How far it dims")
	p.figure("/step/knob-floor", "780 mA")
	p.press("button", "Take 780 mA as its lowest")
	p.until("it to agree", `() => document.querySelector('[data-testid=verdict]')?.innerText.includes('agrees with the calculation')`)
	p.saved()
	if a := stored(t, id).Parts[0].Driver.MinCurrentA; a == nil || *a != 0.78 {
		t.Errorf("the lowest current is %v", a)
	}
}

// The power tree is edited: a branch copied, one hung on it, one taken out with and
// without what is below it, a second source the light must accept, a switch put into a
// wire where it does harm and the emitters moved past it; all of it undone.
func TestPowerTree(t *testing.T) {
	id := copyOf(t, "slipway-lantern.json", "Lantern to rebuild")
	p := open(t, "/lights/"+id+"?pane=tree")
	before := stored(t, id)
	rows := `() => document.querySelectorAll('[data-testid=tree] input').length`
	p.get("button", "Copy North switch")
	count, err := p.Eval(rows)
	if err != nil {
		t.Fatal(err)
	}
	p.press("button", "Copy North switch")
	p.saved()
	loads := stored(t, id).Variants[0].Feeds[0].Loads
	if len(loads) != len(before.Variants[0].Feeds[0].Loads)+1 || loads[1].Loads[0].Loads[0].Array == nil || loads[1].ID == loads[0].ID {
		t.Fatalf("copied: %+v", loads)
	}
	p.press("button", "Hang something below North driver 2")
	p.press("[role=menuitem]", "Fan, gauge or controller")
	p.saved()
	p.press("button", "Remove North switch 2")
	p.press("[role=menuitem]", "Remove, keep what hangs on it")
	p.saved()
	loads = stored(t, id).Variants[0].Feeds[0].Loads
	if loads[1].Driver == nil || len(loads[1].Loads) != 2 {
		t.Errorf("without its switch: %+v", loads[1])
	}
	p.press("button", "Add a source to Battery")
	p.press("[role=menuitem]", "Adapter")
	p.sees("must be accepted")
	p.saved()
	if s := stored(t, id).Variants[0].Feeds[0].Sources; len(s) != 2 || s[1].Supply == nil {
		t.Errorf("sources %+v", s)
	}
	p.press("button", "Put something before North side")
	p.press("[role=menuitem]", "Switch")
	p.sees("Switch after a current driver")
	p.saved()
	loads = stored(t, id).Variants[0].Feeds[0].Loads
	late := loads[0].Loads[0].Loads[0]
	if late.Switch == nil || len(late.Loads) != 1 || late.Loads[0].ID != before.Variants[0].Feeds[0].Loads[0].Loads[0].Loads[0].ID {
		t.Errorf("put before the emitters: %+v", late)
	}
	p.press("button", "Move North side")
	p.press("[role=menuitem]", "Hang it on North driver")
	p.press("button", "Remove Switch")
	p.misses("Switch after a current driver")
	p.saved()
	if below := stored(t, id).Variants[0].Feeds[0].Loads[0].Loads[0].Loads; len(below) != 1 || below[0].Array == nil {
		t.Errorf("moved past the switch: %+v", below)
	}
	for range 7 {
		r := revision(t, id)
		p.press("button", "Undo")
		for end := time.Now().Add(patience); revision(t, id) == r && time.Now().Before(end); {
			time.Sleep(20 * time.Millisecond)
		}
	}
	p.until("the tree as before", `(n) => document.querySelectorAll('[data-testid=tree] input').length === n`, count.Value.Int())
	p.misses("must be accepted")
	if got := stored(t, id); len(got.Variants[0].Feeds[0].Loads) != len(before.Variants[0].Feeds[0].Loads) || len(got.Variants[0].Feeds[0].Sources) != 1 {
		t.Error("undo does not lead back")
	}
}

// A branch is counted: what is no number of branches is refused where it was typed and
// stays there; with a count the whole light grows and each branch's figures are of one.
func TestCountedBranch(t *testing.T) {
	id := copyOf(t, "slipway-lantern.json", "Lantern of many sides")
	p := open(t, "/lights/"+id+"?pane=tree")
	before := glance(t, id)
	field := "[aria-label='How many of North switch']"
	p.write(field, "0")
	p.sees("a whole number from 1 to 1000")
	if got := p.value(field); got != "0" || stored(t, id).Variants[0].Feeds[0].Loads[0].Count != 0 {
		t.Errorf("0 became %q", got)
	}
	p.write(field, "3")
	p.misses("a whole number from 1 to 1000")
	p.sees("each")
	p.saved()
	if n := stored(t, id).Variants[0].Feeds[0].Loads[0].Count; n != 3 {
		t.Errorf("counted %d", n)
	}
	after := glance(t, id)
	if a, b := before.Answers.InputW, after.Answers.InputW; b < 1.5*a {
		t.Errorf("%g W with one, %g W with three", a, b)
	}
	p.unfold()
	p.sees("3 × ")
	p.press("button", "Undo")
	p.misses("3 × ")
}

// An emitter's curve pasted from a bench sheet: a line that is no point is named, a
// curve that falls is refused with the two points, a good one is fitted.
func TestCurvePasted(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp with a measured curve")
	p := open(t, "/lights/"+id+"/emitters")
	p.press("button", "Curve, colour, all figures…")
	p.sees("Farthest point from it")
	paste := func(text string) { p.write("[role=dialog] textarea", text) }
	paste("I V\n0.1 2.7\nabout 3")
	p.sees("Line 3, “about 3”: 2 to 4 figures are needed")
	paste("0.1 2.7\n0.5 2.9\n1.0 2.85\n")
	p.sees("one of the two is wrong")
	paste("I (A), V (V)\n0,1; 2,70\n0,5; 2,92\n1,0; 3,08\n2,0; 3,30\n")
	p.misses("one of the two is wrong")
	p.sees("Diode with resistance")
	p.press("[role=dialog] button", "Done")
	p.saved()
	if f := stored(t, id).Parts[2].Emitter.Forward; len(f) != 4 || f[1].VoltageV != 2.92 {
		t.Errorf("kept %+v", f)
	}
}

// A strip cut where it cannot be: the cut list and the finding tell it, its fix is tried
// and kept.
func TestStripCut(t *testing.T) {
	id := copyOf(t, "chart-table-strip.json", "Strip to cut")
	p := open(t, "/lights/"+id+"/emitters")
	p.press("button", "Cut list")
	p.figure("piecesM/0", "1.45 m")
	p.sees("It cannot be cut there")
	p.until("the cut list", `() => /Piece 1 \(asked 1.450 m\)\s+1.428 m\s+20\s/.test(document.querySelector('[data-testid=strip-run]')?.innerText ?? '')`)
	p.press("button", "Try it: Cut to 1.428 m")
	p.press("button", "Keep")
	p.misses("It cannot be cut there")
	p.saved()
	p.press("[data-stage=driver]", "")
	p.figure("/dimmer/level", "40 %")
	p.saved()
	if f := glance(t, id).Figures["supply"]["outA"]; f < 0.6 || f > 0.7 {
		t.Errorf("dimmed to 40 %% of 1.67 A it gives %g A", f)
	}
}

// An emitter from the drawer becomes a part by three readings: those that contradict each
// other are refused and stay, those of a file are taken; nothing that was not read is in it.
func TestMeasuredEmitter(t *testing.T) {
	p := open(t, "/cabinet")
	p.press("button", "Emitter from readings…")
	p.write("[role=dialog] textarea", "20 mA is a lot")
	p.sees("2 to 4 figures are needed")
	p.write("[role=dialog] textarea", "0.02 1.72\n0.35 2.1\n0.7 2.0")
	p.press("[role=dialog] button", "Keep it")
	p.sees("one of the two is wrong")
	file := filepath.Join(t.TempDir(), "readings.csv")
	if err := os.WriteFile(file, []byte("I in A,U in V\n0.02,1.72\n0.35,2.10\n0.7,2.31\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	if err := p.MustElement("input[aria-label='File of readings']").SetFiles([]string{file}); err != nil {
		t.Fatal(err)
	}
	p.sees("Diode with resistance")
	p.misses("one of the two is wrong")
	p.press("[role=dialog] button", "Keep it")
	p.sees("Still lacks: rated current")
	r, err := http.Get(program.URL("/api/cabinet?kind=emitter"))
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	var parts []api.CabinetPart
	if err := json.NewDecoder(r.Body).Decode(&parts); err != nil {
		t.Fatal(err)
	}
	k := slices.IndexFunc(parts, func(c api.CabinetPart) bool { return c.Part.Name == "Measured emitter" })
	if k < 0 || parts[k].Part.Basis != "measured" || len(parts[k].Part.Emitter.Forward) != 3 || parts[k].Part.Emitter.FluxLm != nil || parts[k].Part.Emitter.RatedCurrentA != nil {
		t.Fatalf("kept %+v", parts)
	}
}

// The cabinet: a part made, its stock and figures changed, binned and taken back; a
// file with a wrong column is refused with line and column, a good one comes in.
func TestCabinet(t *testing.T) {
	p := open(t, "/cabinet")
	p.sees("Station 18650 cell, 3.4 Ah, graded")
	p.press("button", "New driver")
	p.sees("Still lacks:")
	p.figure("/driver/setCurrentA", "500 mA")
	p.figure("/stock", "7")
	p.until("the row", `() => [...document.querySelectorAll('li')].some((e) => e.innerText.includes('New linear driver') && e.innerText.includes('7 ×') && e.innerText.includes('0.5 A'))`)
	p.figure("/driver/headroomV", "99 V")
	p.sees("Too high")
	p.press("button", "Close")
	p.press("button", "Bin New linear driver")
	p.until("it to go", `() => ![...document.querySelectorAll('li')].some((e) => e.innerText.includes('New linear driver'))`)
	p.press("button", "Bin")
	p.press("button", "Take back New linear driver")
	p.press("button", "Back to the cabinet")
	p.sees("New linear driver")
	bring := func(name, content string) {
		t.Helper()
		file := filepath.Join(t.TempDir(), name)
		if err := os.WriteFile(file, []byte(content), 0o600); err != nil {
			t.Fatal(err)
		}
		if err := p.MustElement("input[aria-label='File of parts']").SetFiles([]string{file}); err != nil {
			t.Fatal(err)
		}
	}
	bring("bad.csv", "kind,name,watts\ndriver,x,3\n")
	p.sees("Nothing was imported: line 1, column watts: there is no such column")
	bring("good.csv", "kind,name,stock,cell.chemistry,cell.capacityAh,cell.resistanceOhm\ncell,Cell from a list,9,nimh,1.9,0.02\n")
	p.sees("1 part imported")
	p.sees("Cell from a list")
	if _, err := p.Eval(`() => { document.querySelector('input[type=search]').focus() }`); err != nil {
		t.Fatal(err)
	}
	if err := p.MustElement("input[type=search]").Input("jumpers"); err != nil {
		t.Fatal(err)
	}
	p.until("one row", `() => document.querySelectorAll('main li').length === 1`)
	r, err := http.Get(program.URL("/api/cabinet.csv"))
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	if body := text(t, r); !strings.Contains(body, "Cell from a list") || !strings.HasPrefix(body, "kind,name,") {
		t.Errorf("export %.200s", body)
	}
}

// Strings that differ are put in on the page, and the worst of a bin is told by
// school.
func TestStringsThatDiffer(t *testing.T) {
	id := copyOf(t, "germination-rack.json", "Rack with a poor string")
	p := open(t, "/lights/"+id+"/emitters?pane=strings")
	p.sees("Never without ballast")
	p.press("button", "A string that differs…")
	p.figure("/unequal/0/shorted", "1")
	p.figure("/unequal/0/ballastOhm", "2.2")
	p.sees("1 shorted emitter")
	p.saved()
	if u := stored(t, id).Variants[0].Feeds[0].Loads[0].Loads[0].Loads[0].Array.Unequal; len(u) != 1 || u[0].Shorted != 1 || u[0].BallastOhm == nil || *u[0].BallastOhm != 2.2 {
		t.Errorf("kept %+v", u)
	}
	p.press("button", "Drive ratio")
	p.sees("Emitters for it")
	p.until("three columns", `() => document.querySelectorAll('[data-testid=ratios] thead th').length === 3`)
}

// A lamp known by its draw alone: hung on the tree, its readings pasted, and solved;
// a finding about a part leads to the part's figures.
func TestMeasuredLoad(t *testing.T) {
	id := copyOf(t, "pier-lantern.json", "Lantern with an old bulb")
	p := open(t, "/lights/"+id+"?pane=tree")
	p.press("button", "Hang something below Battery")
	p.press("[role=menuitem]", "Measured load")
	p.saved()
	p.press("[data-stage=emitters]", "")
	p.write("section[aria-label=Workbench] textarea[data-pointer$='/points']", "U/V I/A\n2.5 0.2\n3.0 0.35\n3.6 0.5")
	p.saved()
	loads := stored(t, id).Variants[0].Feeds[0].Loads
	last := loads[len(loads)-1]
	if last.Load == nil || len(last.Load.Points) != 3 || glance(t, id).Figures[last.ID]["inA"] < 0.3 {
		t.Errorf("kept %+v, draws %g A", last.Load, glance(t, id).Figures[last.ID]["inA"])
	}
	// The readings become a part; another from the cabinet takes its place.
	p.press("button", "Make a part of it…")
	p.press("section[aria-label=Workbench] button", "Change…")
	p.press("[role=dialog] button", "Sealed 12 V module")
	p.sees("Sealed 12 V module, three white emitters")
	p.saved()
	light := stored(t, id)
	loads = light.Variants[0].Feeds[0].Loads
	use := loads[len(loads)-1].Load
	if n := len(light.Parts); len(use.Points) != 0 || use.PartID != light.Parts[n-1].ID || len(light.Parts[n-1].Load.Points) != 5 || light.Parts[n-2].Load == nil {
		t.Errorf("kept %+v", use)
	}
}

// What is not known yet leads to where it is typed.
func TestFindingLeadsToFigure(t *testing.T) {
	id := copyOf(t, "chart-table-strip.json", "Strip of unknown light")
	p := open(t, "/lights/"+id+"/emitters")
	p.press("button", "All figures…")
	p.figure("/strip/fluxLmPerM", "")
	p.press("[role=dialog] button", "Done")
	p.sees("The light of the strip is not known")
	p.press("[data-stage=source]", "")
	p.press("button", "Not known yet")
	p.until("the part's figures", `() => document.querySelector('[role=dialog] input[data-pointer$="/strip/fluxLmPerM"]') !== null`)
}

// A strobe beside the steady beam: its mode is chosen on the page, half of the light is
// gone on average, and the page warns of it; the set-up tells what a camera sees.
func TestModes(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp with a strobe")
	steady := glance(t, id)
	p := open(t, "/lights/"+id+"/driver")
	p.press("button", "Dim it")
	p.press("button", "+ strobe")
	p.sees("A strobe")
	p.saved()
	strobe := glance(t, id)
	if r := *strobe.Answers.FluxLm / *steady.Answers.FluxLm; r < 0.5 || r > 0.54 {
		t.Errorf("half of the time on gives %.2f of the light", r)
	}
	if longer := *strobe.Answers.HalfS / *steady.Answers.HalfS; longer < 1.9 || longer > 2.3 {
		t.Errorf("and lasts %.2f times as long", longer)
	}
	p.figure("/level/frequencyHz", "2000")
	p.misses("A strobe")
	p.sees("Flicker of low risk")
	p.press("button", "Set up")
	p.sees("A camera at 1/60 s")
	p.figure("/shutter", "1000")
	p.sees("A camera at 1/1000 s shows no bands")
	p.press("button", "dimmed")
	p.saved()
	if use := stored(t, id).Variants[0].Feeds[0].Loads[1].Loads[0].Driver; use.Mode != "" || len(use.Modes) != 1 {
		t.Errorf("back to steady: %+v", use)
	}
}

// A number of emitters that the strings do not divide is refused with the two that
// they do, and stays as typed; one that they divide sets the strings.
func TestEmittersInAll(t *testing.T) {
	id := copyOf(t, "germination-rack.json", "Rack recounted")
	p := open(t, "/lights/"+id+"/emitters")
	p.sees("Emitters in all")
	p.figure("/array#all", "450")
	p.sees("450 do not divide into 4 boards of strings of 14: take 448 or 504")
	if v := p.value(`input[data-pointer$="/array#all"]`); v != "450" {
		t.Errorf("the field shows %q", v)
	}
	p.figure("/array#all", "504")
	p.saved()
	p.misses("do not divide")
	if a := stored(t, id).Variants[0].Feeds[0].Loads[0].Loads[0].Loads[0].Array; a.Series != 14 || a.Parallel != 9 || a.Count != 4 {
		t.Errorf("kept %d × %d × %d", a.Series, a.Parallel, a.Count)
	}
}

// Cells of the holder's size are offered, of any chemistry; others when asked for.
func TestCellsOfOneSize(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp for any cell")
	p := open(t, "/lights/"+id+"/source")
	p.press(`[data-pointer$="/pack/partId"]`, "")
	p.sees("Iron phosphate 18650")
	p.misses("Alkaline AA")
	p.press("[role=dialog] input[type=checkbox]", "")
	p.sees("Alkaline AA")
	p.press("[role=dialog] button", "Iron phosphate 18650")
	p.saved()
	l := stored(t, id)
	if cell := l.Variants[0].Feeds[0].Sources[0].Pack.PartID; l.Parts[len(l.Parts)-1].ID != cell || l.Parts[len(l.Parts)-1].Cell.Chemistry != "lifepo4" {
		t.Errorf("the pack holds %q", cell)
	}
}

// A module with two limits on a pack: each of its ways is there with its own
// cautions, a reading is judged, and it is in each way what it is in the others.
func TestModuleSetUp(t *testing.T) {
	id := spoiled(t, "shore-search-handlamp.json", "Handlamp with a module", func(l *design.Light, loads []design.Node) {
		l.Parts[1].Driver = &design.Driver{Family: "voltage", MinVoltageV: new(1.2), MaxVoltageV: new(30.0), MinCurrentA: new(0.05), MaxCurrentA: new(5.0), SetVoltageV: new(11.0), Efficiency: new(0.91)}
		loads[1].Loads[0].Driver.Dimming, loads[1].Loads[0].Driver.Modes = nil, nil
	})
	p := open(t, "/lights/"+id+"/driver?pane=setup")
	p.sees("Use the high-current jack")
	p.sees("Put the meter's leads back to volts at once")
	p.figure("/step/open-voltage", "12")
	p.sees("differs from the calculation")
	for _, way := range []struct{ name, text string }{{"Into a dummy load", "The resistor gets very hot"}, {"Into the emitters", "the current limit does not mind"}, {"Input range", "the lowest it will see"}} {
		if err := p.get("[data-testid=setup] [role=combobox]", "").Click("left", 1); err != nil {
			t.Fatal(err)
		}
		p.press("[role=option]", way.name)
		p.sees(way.text)
		if way.name != "Input range" {
			p.sees("differs from the calculation")
		}
	}
}

// A part corrected in the cabinet leaves the lights' copies alone, until one is asked
// to take the new figures over.
func TestCopyTakesTheCabinetsFigures(t *testing.T) {
	send := func(method, path, match string, headroom float64) (p api.CabinetPart) {
		t.Helper()
		body, err := json.Marshal(map[string]any{"stock": 2, "part": design.Part{ID: "board", Name: "Board to be corrected", Driver: &design.Driver{Family: "buck", SetCurrentA: new(1.5), HeadroomV: &headroom}}})
		if err != nil {
			t.Fatal(err)
		}
		q, err := http.NewRequest(method, program.URL(path), bytes.NewReader(body))
		if err != nil {
			t.Fatal(err)
		}
		q.Header.Set("Content-Type", "application/json")
		q.Header.Set("If-Match", match)
		r, err := http.DefaultClient.Do(q)
		if err != nil {
			t.Fatal(err)
		}
		defer r.Body.Close()
		if err := json.NewDecoder(r.Body).Decode(&p); err != nil || r.StatusCode >= 300 {
			t.Fatalf("%d %v", r.StatusCode, err)
		}
		return p
	}
	first := send("POST", "/api/cabinet", "", 1.2)
	id := spoiled(t, "shore-search-handlamp.json", "Handlamp with an old copy", func(l *design.Light, _ []design.Node) {
		l.Parts[1] = first.Part
		l.Parts[1].ID, l.Parts[1].Origin = "driver", &design.Origin{ID: first.ID, Hash: first.Hash}
	})
	second := send("PUT", "/api/cabinet/"+first.ID, fmt.Sprintf("%q", fmt.Sprint(first.Revision)), 2.5)
	if d := stored(t, id).Parts[1]; *d.Driver.HeadroomV != 1.2 {
		t.Fatal("the light's copy changed with the cabinet")
	}
	p := open(t, "/lights/"+id+"/driver")
	p.press("button", "All figures…")
	p.sees("The cabinet’s part has changed since it was taken")
	p.press("button", "Take its figures")
	p.misses("has changed since it was taken")
	p.saved()
	if d := stored(t, id).Parts[1]; *d.Driver.HeadroomV != 2.5 || d.ID != "driver" || d.Origin.Hash != second.Hash {
		t.Errorf("kept %+v from %+v", *d.Driver, d.Origin)
	}
}

// Drivers behind a supply are drawn so: one block before the lanes that branch off it, a
// switch where it is in the wire, and the watts of the API in each.
func TestDriversBehindSupply(t *testing.T) {
	id := spoiled(t, "germination-rack.json", "Rack of two lines", func(l *design.Light, loads []design.Node) {
		l.Parts = append(l.Parts, design.Part{ID: "line", Name: "Linear board", Driver: &design.Driver{Family: "linear", SetCurrentA: new(0.35), HeadroomV: new(0.5)}})
		supply := &loads[0].Loads[0]
		supply.Driver.SetVoltageV = new(42.0)
		boards := supply.Loads[0]
		boards.Array.Count = 1
		other := boards
		other.ID = "others"
		supply.Loads = []design.Node{
			{ID: "left", Name: "Left line", Driver: &design.DriverUse{PartID: "line"}, Loads: []design.Node{boards}},
			{ID: "between", Name: "Right switch", Switch: &design.Switch{}, Loads: []design.Node{{ID: "right", Name: "Right line", Driver: &design.DriverUse{PartID: "line", SetCurrentA: new(0.6)}, Loads: []design.Node{other}}}},
		}
	})
	p := open(t, "/lights/"+id+"/driver?t=30")
	p.sees("Left line")
	p.unfold()
	figures := glance(t, id).Figures
	p.until("the watts of supply and lines", `(supply, left, right) => {
		const words = [...document.querySelectorAll('[data-testid=ribbon] svg text')].map((e) => e.textContent).filter((w) => w.endsWith(' W')).map(parseFloat);
		return Math.abs(words[1] - supply) < 0.11 && Math.abs(words[2] - left) < 0.11 && words.some((w) => Math.abs(w - right) < 0.11) }`,
		figures["supply"]["inW"], figures["left"]["inW"], figures["right"]["inW"])
	p.until("the switches in their wires", `() => {
		const x = (e) => e.getBoundingClientRect().left + e.getBoundingClientRect().width / 2;
		const [first, second] = ['Rack switch: on', 'Right switch: on'].map((n) => x(document.querySelector('[role=switch][aria-label="' + n + '"]')));
		const blocks = [...document.querySelectorAll('[data-testid=ribbon] svg rect')].map((r) => x(r)).sort((a, b) => a - b);
		return first < blocks[1] && blocks[1] < second && second < blocks[2] }`)
	p.press("button", "Right line")
	p.sees("of Right line")
	p.press("[role=switch]", "Right switch: on")
	p.saved()
	if f := glance(t, id).Figures; f["right"]["inW"] != 0 || f["left"]["outA"] < 0.34 {
		t.Errorf("switched off: %g W, the other %g A", f["right"]["inW"], f["left"]["outA"])
	}
}

// Typing an efficiency writes down the point it is meant at, beside it and editable, and
// the figure shown is the one typed; a flat one needs no point.
func TestTypedEfficiency(t *testing.T) {
	id := spoiled(t, "germination-rack.json", "Rack on a supply of known loss", func(l *design.Light, _ []design.Node) {
		d := l.Parts[0].Driver
		d.Efficiency, d.EfficiencyAtA, d.EfficiencyInV, d.EfficiencyOut = nil, nil, nil, nil
	})
	p := open(t, "/lights/"+id+"/driver")
	p.sees("Input judged over")
	p.until("the nominal point in the place of one stated", `() => document.querySelector('[data-pointer$="/driver/efficiencyAtInputV"]').placeholder.endsWith(' here')`)
	p.figure("/driver/efficiency", "83 %")
	p.saved()
	d := stored(t, id).Parts[0].Driver
	if d.Efficiency == nil || math.Abs(*d.Efficiency-0.83) > 1e-9 || d.EfficiencyInV == nil || math.Abs(*d.EfficiencyInV-230) > 1 || d.EfficiencyAtA == nil || d.EfficiencyOut == nil {
		data, _ := json.Marshal(d)
		t.Fatalf("kept %s", data)
	}
	shown := func() float64 {
		f := glance(t, id).Figures["supply"]
		return f["outW"] / f["inW"]
	}
	if eta := shown(); math.Abs(eta-0.83) > 0.005 {
		t.Errorf("83 %% typed shows as %.3f", eta)
	}
	p.sees("· 83 %")
	p.figure("/driver/efficiencyAtA", "1 A")
	p.saved()
	if eta := shown(); math.Abs(eta-0.83) < 0.003 {
		t.Errorf("meant at 1 A it still shows as %.3f", eta)
	}
}

// Another kind of emitters in series: chosen from the same list, each kind with its own
// voltage, light and junction, and taken out again.
func TestMixedString(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp with a red eye")
	p := open(t, "/lights/"+id+"/emitters")
	p.press("button", "Another kind in series…")
	p.sees("Which emitter?")
	p.press("section[aria-label=Workbench] button", "Choose…")
	p.press("[role=dialog] button", "red")
	p.sees("Voltage · light · junction")
	p.figure("/mixed/0/series", "2")
	p.saved()
	light := stored(t, id)
	mixed := light.Variants[0].Feeds[0].Loads[1].Loads[0].Loads[0].Array.Mixed
	if len(mixed) != 1 || mixed[0].Series != 2 || mixed[0].PartID != light.Parts[len(light.Parts)-1].ID {
		t.Errorf("kept %+v", mixed)
	}
	f := glance(t, id).Figures["emitters"]
	if v := f["string0kind0V"] + f["string0kind1V"]; v < 10 || math.Abs(v-f["inV"]) > 1e-3*v {
		t.Errorf("figures %v", f)
	}
	p.press("button", "Remove")
	p.saved()
	if a := stored(t, id).Variants[0].Feeds[0].Loads[1].Loads[0].Loads[0].Array; len(a.Mixed) != 0 {
		t.Errorf("still %+v", a.Mixed)
	}
}
