package e2e

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"photherm/core/design"
)

// read types a reading of the bench and leaves it with Enter.
func (p *tab) read(row, text string) {
	p.t.Helper()
	e := p.get(fmt.Sprintf("[data-row=%q] input[data-pointer=%q]", row, "reading/"+row), "")
	if err := e.SelectAllText(); err != nil {
		p.t.Fatal(err)
	}
	if err := e.Input(text); err != nil {
		p.t.Fatal(err)
	}
	p.keys(input.Enter)
}

func (p *tab) verdict(row, word string) {
	p.t.Helper()
	p.until(row+" to be "+word, `(row, word) => [...document.querySelectorAll('[data-row]')].find((e) => e.dataset.row === row)?.querySelector('[data-testid=verdict]')?.textContent.includes(word)`, row, word)
}

// A bring-up at the bench: readings are judged, a slip is asked about, the cause is named, the
// figures follow the readings and go back, and a closed sitting leaves room for the next.
func TestBench(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp at the bench")
	p := open(t, "/lights/"+id)
	p.sees("Output")
	p.keys('B')
	p.sees("Before any power")
	p.sees("One slip shorts a pack")
	p.press("[data-row='power/no-short'] input[type=checkbox]", "")
	p.read("power/pack-rest", "16.72 V")
	p.verdict("power/pack-rest", "agrees")
	// Enter leads to the next reading.
	p.until("the next reading to have the cursor", `() => document.activeElement?.getAttribute('data-pointer') === 'reading/emitters/polarity'`)
	p.read("driver/on", "1.11 A")
	p.verdict("driver/on", "differs")
	p.verdict("driver/on", "below what is wanted")
	p.sees("Most likely one thing")
	p.sees("What Driver is set to: 1.11 instead of 1.5 A")
	p.read("power/draw-full", "700 A")
	p.sees("700 mA, if thousandths were meant?")
	p.press("[aria-label='A slip?'] button", "700 mA")
	p.verdict("power/draw-full", "differs")
	p.until("nothing asked any more", `() => document.querySelector("[aria-label='A slip?']") === null`)
	p.saved()
	v := stored(t, id).Variants[0]
	if d := doneOf(v.SetUp, "power", "draw-full"); d == nil || math.Abs(*d.Reading-0.7) > 1e-9 || d.With != "multimeter-a" {
		t.Errorf("kept: %+v", d)
	}
	// A poorer tool has a wider band.
	p.press("section[aria-label='Tools at hand'] label", "a hand")
	p.until("a wider band", `() => [...document.querySelectorAll('[data-row]')].find((e) => e.dataset.row === 'housing/bodyC-rest')?.querySelector('[role=img]')?.getAttribute('aria-label').match(/within [789]/) !== null`)
	p.press("button", "Calibration")
	p.sees("beyond its own tolerance")
	p.press("[data-testid=calibration] tr button", "Take")
	p.sees("Take back")
	p.until("answers side by side", `() => document.querySelector("[aria-label='Answers as said and corrected']") !== null`)
	p.saved()
	if c := stored(t, id).Variants[0].Corrected; len(c) != 1 || !strings.HasSuffix(c[0].At, "setCurrentA") || c[0].Was != 1.5 {
		t.Errorf("corrected: %+v", c)
	}
	p.until("the answers to say that readings correct them", `() => document.querySelector('[aria-label=Answers]')?.textContent.includes('corrected')`)
	p.press("[data-testid=calibration] button", "Take back")
	p.until("it to be gone", `() => document.querySelector("[aria-label='Answers as said and corrected']") === null`)
	p.press("[aria-label='About the bench'] button", "Readings")
	p.press("button", "One at a time, large")
	p.until("it to be large", `() => document.querySelector("[role=dialog][aria-label='One reading at a time'], [aria-label='One reading at a time'] [role=dialog]") !== null || document.querySelector('.MuiDialog-root') !== null`)
	p.until("the field in sight, nothing cut off", `() => { const d = document.querySelector('.MuiDialog-paper'), f = d?.querySelector('input[data-pointer^=big]'); return d && d.scrollWidth <= d.clientWidth && (!f || f.getBoundingClientRect().right <= innerWidth) }`)
	p.press("button", "Back to the list")
	p.write("section[aria-label=Sittings] input", "as built")
	p.press("button", "Close this one")
	p.misses("Close this one")
	p.saved()
	v = stored(t, id).Variants[0]
	if len(v.Sessions) != 1 || v.Sessions[0].Name != "as built" || len(v.Sessions[0].Done) != 4 || len(v.SetUp) != 0 {
		t.Errorf("closed: %+v", v.Sessions)
	}
	// Before and after: the next sitting beside the one that is closed.
	p.get("section[aria-label=Sittings] select", "").MustSelect("as built")
	p.read("driver/on", "1.48 A")
	p.until("the change since", `() => /before 1.11 A, \+33.3 %/.test(document.querySelector("[data-row='driver/on'] [data-before]")?.textContent ?? '')`)
	p.press("button[aria-label='New variant']", "")
	p.saved()
	if v := stored(t, id).Variants[1]; len(v.Sessions) != 0 || len(v.SetUp) != 0 {
		t.Errorf("what was read of another light: %+v", v.Sessions)
	}
}

func doneOf(list []design.Done, node, step string) *design.Done {
	for i := range list {
		if list[i].Node == node && list[i].Step == step {
			return &list[i]
		}
	}
	return nil
}

// A log is pasted, rows that are no readings are kept aside, and it tells where the warm-up ends; a
// figure of it is taken, and the log goes again.
func TestBenchLogs(t *testing.T) {
	id := copyOf(t, "bilge-lamp.json", "Lamp to log")
	p := open(t, "/lights/"+id+"/bench?pane=logs")
	p.sees("Nothing is logged yet")
	p.press("button", "Paste one…")
	var text strings.Builder
	text.WriteString("t (s);shell (°C)\n")
	for i := range 200 {
		fmt.Fprintf(&text, "%d;%s\n", 5*i, strings.Replace(fmt.Sprintf("%.1f", 16+28*(1-math.Exp(-float64(5*i)/500))), ".", ",", 1))
	}
	text.WriteString("1000;<b>hot</b>\n")
	p.write("textarea[aria-label='Readings of a log']", "hello")
	p.press("button", "Take it")
	p.sees("no log of readings")
	p.write("textarea[aria-label='Readings of a log']", text.String())
	p.press("button", "Take it")
	p.sees("1 row kept aside")
	p.until("where it ends", `() => { const m = /([\d.]+) °C/.exec(document.querySelector('[data-testid=warm-rest]')?.textContent ?? ''); return m !== null && Number(m[1]) > 40 && Number(m[1]) < 48 }`)
	// A stretch of it is pulled open, and typed.
	box, err := p.Eval(`() => { const f = document.querySelector('[data-testid=logs] figure svg[width]:not([width="18"])') ?? document.querySelector('[data-testid=logs] figure > div:last-child > div'); f.scrollIntoView({ block: 'center' }); const r = f.getBoundingClientRect(); return { x: r.x, y: r.y, w: r.width, h: r.height } }`)
	if err != nil {
		t.Fatal(err)
	}
	x, y, w := box.Value.Get("x").Num(), box.Value.Get("y").Num()+40, box.Value.Get("w").Num()
	p.Mouse.MustMoveTo(x+0.3*w, y).MustDown("left")
	p.Mouse.MustMoveTo(x+0.45*w, y)
	p.Mouse.MustMoveTo(x+0.6*w, y).MustUp("left")
	p.sees("Every reading of this stretch")
	p.figure("zoom/from", "100 s")
	p.figure("zoom/to", "5 min")
	p.until("that stretch", `() => { const ends = [...document.querySelectorAll("[data-pointer^='zoom/']")].map((e) => e.value); return ends[0] === '1 min 40' || ends[0].startsWith('1') }`)
	p.press("[data-testid=logs] button", "All of it")
	p.press("[aria-label='Figures of the heat'] button", "Take")
	p.saved()
	if c := stored(t, id).Variants[0].Corrected; len(c) != 1 {
		t.Errorf("corrected: %+v", c)
	}
	// Headings that do not tell: columns are said by hand, once for logs of that kind.
	for i, told := range []bool{false, true} {
		p.press("button", "Paste one…")
		p.write("textarea[aria-label='Readings of a log']", "a,b,c\n0,20,68\n1,21,69\n2,22,70\n")
		p.press("button", "Take it")
		if !told {
			p.sees("Say what its columns are")
			p.get("select[aria-label='Unit of column 1']", "").MustSelect("min")
			p.get("select[aria-label='Unit of column 2']", "").MustSelect("°C")
			p.get("select[aria-label='What column 3 is']", "").MustSelect("left out")
			p.press("button", "Read it so")
		}
		p.sees("3 readings over 2 min")
		p.press("button", "Take it out")
		p.until("it to be gone", `(n) => document.querySelectorAll('[data-testid=logs] button[aria-pressed]').length === 1`, i)
	}
	p.press("button", "Take it out")
	p.sees("Nothing is logged yet")
}

// Readings of draw give hours, contradictions are named; what is stated is held against energy.
func TestDrawAndClaims(t *testing.T) {
	id := copyOf(t, "bilge-lamp.json", "Lamp to measure")
	p := open(t, "/lights/"+id+"/bench?pane=draw")
	p.until("its hours", `() => document.querySelector('[data-testid=draw-end]')?.textContent.includes('h')`)
	p.write("#draws", "12 V 300 mA\n11 V 200 mA\n11.5 V 200 mA\n9.8 V 110 mA\n")
	p.sees("cannot both be right beside the others. Repeat the one at 11.5 V")
	p.write("#draws", "12 V 300\n")
	p.sees("\"300\" is neither volts nor amperes")
	p.write("#draws", "12 V 310 mA – 330 mA 90\n10 V 150 mA 40\n")
	p.sees("light at the end")
	p.press("button", "Take these readings as what it draws")
	p.saved()
	if points := stored(t, id).Part("lamp").Load.Points; len(points) != 2 || math.Abs(points[1].CurrentA-0.32) > 1e-9 {
		t.Errorf("%+v", points)
	}
	p.press("[aria-label='About the bench'] button", "Claims")
	p.sees("Type what its seller")
	p.figure("/claims/powerW", "20 W")
	p.sees("To tell more: its draw")
	p.figure("/claims/measuredV", "12 V")
	p.figure("/claims/measuredA", "320 mA")
	p.sees("impossible")
	p.saved()
	if c := stored(t, id).Variants[0].Claims; c == nil || *c.PowerW != 20 || *c.MeasuredA != 0.32 {
		t.Errorf("%+v", c)
	}
}

// A whole bring-up is played against the stand-ins, with something hidden: row after row is read,
// what differs is found, and its cause is named.
func TestBringUpWithStandIns(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp to practise on")
	p := open(t, "/lights/"+id+"/bench")
	p.sees("Before any power")
	p.MustEval(`() => { Math.random = () => 0.4 }`) // the page draws which light stands there; a test needs the same each time
	p.get("select[aria-label='What is hidden']", "").MustSelect("the pot stands wrong")
	p.press("button", "Practise with stand-ins")
	p.sees("Stand-ins are on the light")
	// The open one by its key, the others one after the other by their buttons.
	if _, err := p.Eval(`() => { const i = document.querySelector("[data-row='power/pack-rest'] input:not([type=checkbox])"); i.focus(); i.blur() }`); err != nil {
		t.Fatal(err)
	}
	p.keys(input.KeyR)
	p.verdict("power/pack-rest", "agrees")
	rows, err := p.Eval(`() => [...document.querySelectorAll('[data-row]')].filter((e) => [...e.querySelectorAll('button')].some((b) => b.textContent === 'Read')).map((e) => e.dataset.row)`)
	if err != nil {
		t.Fatal(err)
	}
	names := rows.Value.Arr()
	if len(names) < 12 {
		t.Fatalf("%d rows can be read", len(names))
	}
	for _, row := range names {
		if row.Str() != "power/pack-rest" {
			p.press(fmt.Sprintf("[data-row=%q] button", row.Str()), "Read")
			p.until(row.Str()+" to be read", `(row) => /agrees|doubtful|differs/.test([...document.querySelectorAll('[data-row]')].find((e) => e.dataset.row === row)?.querySelector('[data-testid=verdict]')?.textContent ?? '')`, row.Str())
		}
	}
	p.verdict("driver/on", "differs")
	p.sees("What Driver is set to: 1.1")
	p.saved()
	if n := len(stored(t, id).Variants[0].SetUp); n != len(names) {
		t.Errorf("%d of %d are kept", n, len(names))
	}
	p.press("section[aria-label='Instruments'] button", "Put them away")
	p.sees("Practise with stand-ins")
	p.press("section[aria-label='Instruments'] button", "Add one of your own…")
	p.write("input[aria-label='Address of an instrument']", "198.51.100.7:5025")
	p.press("section[aria-label='Instruments'] button", "Add")
	p.press("[data-row='power/pack-rest'] button", "Read")
	p.sees("host may not be spoken to")
}

// Stand-ins are logged while the light warms up: figures come by themselves, what happens is marked,
// a fault is put in, the log is stopped and written on, and a page that is opened later has it all.
func TestLiveLog(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp to log live")
	p := open(t, "/lights/"+id+"/bench?pane=logs")
	p.press("button", "Log from instruments…")
	p.sees("No instrument is at hand")
	p.get("select[aria-label='What is hidden']", "").MustSelect("nothing is wrong")
	p.press("button", "Practise with stand-ins")
	p.get("select[aria-label='Where Stand-in thermometer reads']", "").MustSelect("Tube and head")
	p.get("select[aria-label='Where Stand-in multimeter, volts reads']", "").MustSelect("Four in a tube, volts")
	p.get("select[aria-label='Pace of the stand-ins']", "").MustSelect("60 times as fast")
	p.sees("a row every 6 s")
	p.write("input[aria-label='Name of the log']", "On the shelf")
	p.press("button", "Switch on and log")
	p.sees("is being written")
	p.until("figures to come", `() => /°C/.test(document.querySelector('[data-testid=live]')?.textContent ?? '') && /V/.test(document.querySelector('[data-testid=live]')?.textContent ?? '')`)
	p.until("many of them, without being asked", `() => Number(/(\d+) readings/.exec(document.querySelector('[data-testid=logs]')?.textContent ?? '')?.[1]) >= 30`)
	p.write("input[aria-label='Note what happens']", "wind on it")
	p.press("button", "Mark it")
	p.get("select[aria-label='Fault to put in now']", "").MustSelect("a dry joint")
	p.sees("started cold again")
	p.press("summary", "What happened")
	p.sees("wind on it")
	p.sees("dry joint put in")
	p.press("button", "Stop")
	p.press("button", "Go on with it")
	p.sees("is being written")
	p.press("button", "Stop")
	p.sees("Go on with it")
	q := open(t, "/lights/"+id+"/bench?pane=logs")
	q.sees("On the shelf")
	q.sees("Go on with it")
	q.press("summary", "What happened")
	q.sees("wind on it")
	q.until("its chart", `() => document.querySelectorAll('[data-testid=logs] svg path').length > 4`)
}

// Photos and a note of a sitting: kept, said of, and closed with it.
func TestPhotos(t *testing.T) {
	id := copyOf(t, "bilge-lamp.json", "Lamp with photos")
	p := open(t, "/lights/"+id+"/bench")
	p.sees("Add photos…")
	dir := t.TempDir()
	img := image.NewRGBA(image.Rect(0, 0, 3000, 1000))
	for i := range img.Pix {
		img.Pix[i] = uint8(i)
	}
	var b bytes.Buffer
	if err := png.Encode(&b, img); err != nil {
		t.Fatal(err)
	}
	for name, data := range map[string][]byte{"star.png": b.Bytes(), "page.png": []byte("<html></html>")} {
		if err := os.WriteFile(filepath.Join(dir, name), data, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	files := p.MustElement("input[aria-label='Photos']")
	files.MustSetFiles(filepath.Join(dir, "page.png"))
	p.sees("“page.png” is no photo")
	files.MustSetFiles(filepath.Join(dir, "star.png"))
	p.press("button[aria-label='Photo: without words']", "")
	p.until("the picture, made smaller", `() => { const i = document.querySelector('[role=dialog] img'); return i?.naturalWidth === 2400 && i.naturalHeight === 800 }`)
	p.write("input[aria-label='What the photo shows']", "the star, soldered anew")
	p.press("[role=dialog] button", "Close")
	p.press("button[aria-label='Photo: the star, soldered anew']", "")
	p.press("[role=dialog] button", "Close")
	p.write("textarea[aria-label='What was seen']", "It flickers when it is shaken.")
	p.write("section[aria-label=Sittings] input:not([type=file])", "as found")
	p.press("button", "Close this one")
	p.sees("It flickers when it is shaken.")
	p.saved()
	v := stored(t, id).Variants[0]
	if len(v.Sessions) != 1 || v.Sessions[0].Note != "It flickers when it is shaken." || v.SetUpNote != "" {
		t.Errorf("%+v, %q", v.Sessions, v.SetUpNote)
	}
	p.until("the photo to stand with its sitting", `() => /as found/.test(document.querySelector('[data-testid=photos]')?.textContent ?? '')`)
	p.press("button[aria-label='Photo: the star, soldered anew']", "")
	p.press("[role=dialog] button", "Take it out")
	p.press("[role=dialog] button", "Take it out for good")
	p.until("it to be gone", `() => document.querySelector('[data-testid=photos] img') === null`)
}

// The bench in two tabs: a reading taken in one, then one in the other that has not seen it. It is
// told, and nothing that was read is lost whichever is kept. A log that comes in while a fix is on
// trial stays when the fix is discarded.
func TestBenchInTwoTabs(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp at two benches")
	a := open(t, "/lights/"+id+"/bench")
	b := open(t, "/lights/"+id+"/bench")
	b.sees("Before any power")
	a.read("power/pack-rest", "16.72 V")
	a.saved()
	b.read("driver/on", "1.45 A")
	b.sees("This light was changed elsewhere too")
	b.press("[role=dialog] button", "Take theirs")
	b.until("the reading of the other tab", `() => document.querySelector("[data-pointer='reading/power/pack-rest']")?.value.startsWith('16.7')`)
	b.read("driver/on", "1.45 A")
	b.saved()
	done := stored(t, id).Variants[0].SetUp
	if r := doneOf(done, "power", "pack-rest"); r == nil || *r.Reading != 16.72 {
		t.Errorf("%+v", r)
	}
	if r := doneOf(done, "driver", "on"); r == nil || *r.Reading != 1.45 {
		t.Errorf("%+v", r)
	}
	c := open(t, "/lights/"+id)
	c.press("section[aria-label=Findings] button", "Try it")
	c.get("[data-testid=trial] button", "Discard")
	c.press("header a, header button, a, button", "Bench")
	c.press("[aria-label] button", "Logs")
	c.press("button", "Paste one…")
	c.write("textarea[aria-label='Readings of a log']", "t (s);shell (°C)\n0;16\n60;18\n120;20\n180;21\n")
	c.press("button", "Take it")
	c.sees("4 readings")
	c.press("[data-testid=trial] button", "Discard")
	c.sees("4 readings")
	c.saved()
	if r := doneOf(stored(t, id).Variants[0].SetUp, "driver", "on"); r == nil || *r.Reading != 1.45 {
		t.Errorf("after the trial: %+v", r)
	}
}
