// Command shelf times a full shelf: so many lights are put into a throwaway program,
// and the shelf and a light's page are opened in a browser that has been there before.
package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"log"
	"net/http"
	"slices"
	"sync"
	"time"

	"github.com/go-rod/rod"

	"photherm/e2e/drive"
	"photherm/examples"
)

func main() {
	lights := flag.Int("lights", 1000, "lights on the shelf")
	flag.Parse()
	if err := run(*lights); err != nil {
		log.Fatal(err)
	}
}

func run(lights int) error {
	p, err := drive.Start(context.Background())
	if err != nil {
		return err
	}
	defer p.Close()
	light, err := examples.Files.ReadFile("shore-search-handlamp.json")
	if err != nil {
		return err
	}
	var id string
	var all sync.WaitGroup
	var once sync.Mutex
	for w := range 4 {
		all.Go(func() {
			for i := w; i < lights; i += 4 {
				named := bytes.Replace(light, []byte("Shore-search handlamp"), fmt.Appendf(nil, "Handlamp %d", i), 1)
				made, err := add(p, named)
				if err != nil {
					log.Print(err)
					return
				}
				once.Lock()
				id = made
				once.Unlock()
			}
		})
	}
	all.Wait()
	if err := summarised(p); err != nil {
		return err
	}
	b, end, err := drive.Browser()
	if err != nil {
		return err
	}
	defer end()
	for what, place := range map[string][2]string{
		"the shelf, its first rows": {"/", `() => document.body.innerText.includes('Handlamp')`},
		"a light, ready for use":    {"/lights/" + id + "/driver", `() => document.querySelector('[data-testid=strip]') !== null && document.querySelector('[aria-label=Workbench] input') !== null`},
	} {
		took, err := opened(b, p.URL(place[0]), place[1])
		if err != nil {
			return err
		}
		fmt.Printf("%s: %.0f ms (median of %d, longest %.0f ms)\n", what, took[len(took)/2], len(took), took[len(took)-1])
	}
	return nil
}

func add(p *drive.Program, light []byte) (string, error) {
	r, err := http.Post(p.URL("/api/lights"), "application/json", bytes.NewReader(light))
	if err != nil {
		return "", fmt.Errorf("adding a light: %w", err)
	}
	defer r.Body.Close()
	var made struct{ ID string }
	if err := json.NewDecoder(r.Body).Decode(&made); err != nil || made.ID == "" {
		return "", fmt.Errorf("adding a light: %s %w", r.Status, err)
	}
	return made.ID, nil
}

// summarised waits until every row of the first page has its summary.
func summarised(p *drive.Program) error {
	for range 600 {
		r, err := http.Get(p.URL("/api/lights"))
		if err != nil {
			return fmt.Errorf("reading the shelf: %w", err)
		}
		body, err := io.ReadAll(r.Body)
		r.Body.Close()
		if err != nil {
			return fmt.Errorf("reading the shelf: %w", err)
		}
		if !bytes.Contains(body, []byte(`"current":false`)) {
			return nil
		}
		time.Sleep(100 * time.Millisecond)
	}
	return fmt.Errorf("the summaries were not written in a minute")
}

// opened times so many openings of a page, from the address to what is waited for; the
// first, which fetches scripts and fonts, is left out.
func opened(b *rod.Browser, url, ready string) ([]float64, error) {
	page := b.MustPage()
	defer page.MustClose()
	page.MustSetViewport(1280, 800, 1, false)
	var took []float64
	for i := range 8 {
		start := time.Now()
		if err := page.Navigate(url); err != nil {
			return nil, fmt.Errorf("opening %s: %w", url, err)
		}
		for {
			if is, err := page.Eval(ready); err == nil && is.Value.Bool() {
				break
			}
			time.Sleep(5 * time.Millisecond)
		}
		if i > 0 {
			took = append(took, time.Since(start).Seconds()*1000)
		}
		time.Sleep(500 * time.Millisecond)
	}
	slices.Sort(took)
	return took, nil
}
