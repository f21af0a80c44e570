package e2e

import (
	"context"
	"fmt"
	"log"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"photherm/e2e/drive"
)

var (
	program *drive.Program
	browser *rod.Browser
)

func TestMain(m *testing.M) {
	os.Exit(func() int {
		var err error
		if program, err = drive.Start(context.Background()); err != nil {
			log.Fatal(err)
		}
		defer program.Close()
		var end func()
		if browser, end, err = drive.Browser(); err != nil {
			log.Fatal(err)
		}
		defer end()
		return m.Run()
	}())
}

// How long a busy machine may take to show something; an idle one needs well under a second.
const patience = time.Minute

// A tab is a page that fails its test on any error in the console, and on any
// request that leaves the program's own address.
type tab struct {
	*rod.Page
	t  *testing.T
	mu sync.Mutex
	// network trouble is expected while the server is made to vanish
	offline bool
}

// open shows a page in a browser of its own, with nothing kept from other tests.
func open(t *testing.T, path string) *tab {
	t.Helper()
	alone, err := browser.Incognito()
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = alone.Close() })
	return openIn(t, alone, path)
}

func openIn(t *testing.T, b *rod.Browser, path string) *tab {
	t.Helper()
	page, err := b.Page(proto.TargetCreateTarget{})
	if err != nil {
		t.Fatal(err)
	}
	p := &tab{Page: page, t: t}
	if err := page.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: 1280, Height: 800, DeviceScaleFactor: 1}); err != nil {
		t.Fatal(err)
	}
	if err := (proto.EmulationSetEmulatedMedia{Features: []*proto.EmulationMediaFeature{{Name: "prefers-reduced-motion", Value: "reduce"}}}).Call(page); err != nil {
		t.Fatal(err)
	}
	p.watch()
	t.Cleanup(func() {
		if t.Failed() {
			if data, err := page.Screenshot(false, nil); err == nil {
				name := fmt.Sprintf("%s/%s.png", os.TempDir(), strings.ReplaceAll(t.Name(), "/", "-"))
				if os.WriteFile(name, data, 0o600) == nil {
					t.Logf("what the page showed: %s", name)
				}
			}
		}
	})
	if err := page.Navigate(program.URL(path)); err != nil {
		t.Fatal(err)
	}
	return p
}

func (p *tab) watch() {
	if err := (proto.NetworkEnable{}).Call(p.Page); err != nil {
		p.t.Fatal(err)
	}
	wait := p.EachEvent(
		func(e *proto.RuntimeExceptionThrown) {
			p.t.Errorf("uncaught: %s %v", e.ExceptionDetails.Text, e.ExceptionDetails.Exception)
		},
		func(e *proto.RuntimeConsoleAPICalled) {
			if e.Type == proto.RuntimeConsoleAPICalledTypeError || e.Type == proto.RuntimeConsoleAPICalledTypeWarning {
				p.t.Errorf("console: %v", e.Args)
			}
		},
		func(e *proto.NetworkRequestWillBeSent) {
			url := e.Request.URL
			if !strings.HasPrefix(url, program.URL("")) && !strings.HasPrefix(url, "data:") && !strings.HasPrefix(url, "blob:") {
				p.t.Errorf("a request leaves the program: %s", url)
			}
		},
		func(e *proto.NetworkResponseReceived) {
			p.mu.Lock()
			defer p.mu.Unlock()
			if e.Response.Status >= 500 && !p.offline {
				p.t.Errorf("%d from %s", e.Response.Status, e.Response.URL)
			}
		},
	)
	go wait()
}

func (p *tab) expectTrouble(yes bool) {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.offline = yes
}

// slow holds requests back for a second: something else is done before they are answered.
func (p *tab) slow(path string) {
	router := p.HijackRequests()
	p.t.Cleanup(func() { _ = router.Stop() })
	router.MustAdd(path, func(h *rod.Hijack) {
		time.Sleep(time.Second)
		h.ContinueRequest(&proto.FetchContinueRequest{})
	})
	go router.Run()
}

// until waits for an expression of the page to become true.
func (p *tab) until(what, js string, args ...any) {
	p.t.Helper()
	p.wait(what, func() (bool, error) {
		result, err := p.Eval(js, args...)
		return err == nil && result.Value.Bool(), err
	})
}

// wait asks again and again, and tells what the page showed if the answer never came.
func (p *tab) wait(what string, ask func() (bool, error)) {
	p.t.Helper()
	deadline := time.Now().Add(patience)
	for {
		ok, err := ask()
		if ok {
			return
		}
		if time.Now().After(deadline) {
			seen := ""
			if body, _ := p.Eval(`() => location.href + ' ' + document.readyState + '\n' + document.body.innerText.slice(0, 900)`); body != nil {
				seen = body.Value.Str()
			}
			p.t.Fatalf("waited in vain for %s (%v); the page says:\n%s", what, err, seen)
		}
		time.Sleep(30 * time.Millisecond)
	}
}

func (p *tab) sees(text string) {
	p.t.Helper()
	p.until(fmt.Sprintf("%q", text), `(text) => document.body.innerText.includes(text)`, text)
}

func (p *tab) misses(text string) {
	p.t.Helper()
	p.until(fmt.Sprintf("%q to vanish", text), `(text) => !document.body.innerText.includes(text)`, text)
}

// get finds a visible element by selector and, if not empty, text.
func (p *tab) get(selector, text string) (found *rod.Element) {
	p.t.Helper()
	p.wait(fmt.Sprintf("%s with %q", selector, text), func() (ok bool, err error) {
		found, err = p.Sleeper(rod.NotFoundSleeper).ElementByJS(rod.Eval(`(selector, text) => [...document.querySelectorAll(selector)].find(
			(e) => (text === '' || e.textContent.includes(text) || e.getAttribute('aria-label') === text) && e.getClientRects().length > 0) ?? null`, selector, text))
		return err == nil, err
	})
	return found.Sleeper(rod.DefaultSleeper).Timeout(patience) // what goes away meanwhile is not waited for without end
}

// press clicks with the mouse, once what is pressed stands still, and makes sure that it was hit:
// an answer that comes in above it meanwhile moves it away under the pointer.
func (p *tab) press(selector, text string) {
	p.t.Helper()
	p.wait(fmt.Sprintf("%q to be pressed", text), func() (bool, error) {
		e := p.get(selector, text)
		if _, err := e.Eval(`() => new Promise((done) => {
			window.missed = true
			this.addEventListener('mousedown', () => { window.missed = false }, { capture: true, once: true })
			this.scrollIntoView({ block: 'nearest' })
			let last = ''
			const look = () => { const r = this.getBoundingClientRect(), now = r.x + ' ' + r.y; if (now === last) done(); else { last = now; setTimeout(look, 60) } }
			look()
		})`); err != nil {
			return false, err
		}
		if err := e.Click(proto.InputMouseButtonLeft, 1); err != nil {
			return false, err
		}
		missed, err := p.Eval(`() => window.missed === true`)
		return err != nil || !missed.Value.Bool(), nil // a page that went elsewhere was pressed
	})
}

func (p *tab) keys(keys ...input.Key) {
	p.t.Helper()
	if err := p.Keyboard.Type(keys...); err != nil {
		p.t.Fatal(err)
	}
}

// figure types into the field of a pointer's end and commits with Enter.
func (p *tab) figure(end, text string) {
	p.t.Helper()
	e := p.get(fmt.Sprintf("input[data-pointer$=%q]", end), "")
	if err := e.SelectAllText(); err != nil {
		p.t.Fatal(err)
	}
	if err := e.Input(text); err != nil {
		p.t.Fatal(err)
	}
	p.keys(input.Enter)
}

// write puts text into an area in the place of what is there, and leaves it.
func (p *tab) write(selector, text string) {
	p.t.Helper()
	e := p.get(selector, "")
	if err := e.SelectAllText(); err != nil {
		p.t.Fatal(err)
	}
	if err := e.Input(text); err != nil {
		p.t.Fatal(err)
	}
	p.keys(input.Tab)
}

func (p *tab) value(selector string) string {
	p.t.Helper()
	result, err := p.Eval(`(s) => { const e = document.querySelector(s); return e ? (e.value ?? e.innerText) : '' }`, selector)
	if err != nil {
		p.t.Fatal(err)
	}
	return result.Value.Str()
}

func (p *tab) saved() {
	p.t.Helper()
	p.until("the save mark to say saved", `() => document.querySelector('[data-save]')?.dataset.save === 'saved'`)
}

// unfold draws the ribbon in full, which a view that needs room has folded.
func (p *tab) unfold() {
	p.t.Helper()
	p.press("button", "Draw the ribbon in full (R)")
}

func lightID(t *testing.T, name string) string {
	t.Helper()
	ids, err := program.Lights(context.Background())
	if err != nil || ids[name] == "" {
		t.Fatalf("no light %q: %v", name, err)
	}
	return ids[name]
}
