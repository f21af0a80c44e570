// Command screenshots takes the pictures of docs/screenshots from the demo
// workshop: go run ./e2e/screenshots [DIR [NAME…]].
package main

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"time"

	"github.com/go-rod/rod/lib/proto"

	"photherm/e2e/drive"
)

type view struct {
	name, light, path string
	width, height     int
	dark              bool
	say               map[string]string // facts typed on the way
	press             string            // what leads further
}

var views = []view{
	{"shelf", "", "/", 1280, 800, false, nil, ""},
	{"light-overview", "Shore-search handlamp", "", 1280, 800, false, nil, ""},
	{"light-source", "Shore-search handlamp", "/source?t=2400&pane=pack", 1280, 800, false, nil, ""},
	{"light-driver", "Pier-head lantern", "/driver?t=36000", 1280, 800, false, nil, ""},
	{"light-emitters", "Shore-search handlamp", "/emitters?t=2400", 1280, 800, false, nil, ""},
	{"light-beam", "Shore-search handlamp", "/light", 1280, 800, false, nil, ""},
	{"light-area", "Germination rack", "/light", 1280, 800, false, nil, ""},
	{"light-tank", "Eelgrass nursery tank", "/light", 1280, 800, false, nil, ""},
	{"light-heat", "Chart-table strip", "/heat?pane=sink", 1280, 800, false, nil, ""},
	{"light-runtime", "Slipway lantern", "/source?pane=runtime", 1280, 800, false, nil, ""},
	{"light-plate", "Boathouse floodlight", "/heat?pane=plate", 1280, 800, false, nil, ""},
	{"bench", "Handlamp, the first one built", "/bench", 1280, 800, false, nil, ""},
	{"bench-log", "Bilge lamp nobody knows", "/bench?pane=logs", 1280, 1000, false, nil, ""},
	{"start", "", "/start/parts", 1280, 800, false, map[string]string{"source": "3 × 21700, 4 Ah reclaimed", "emitters": "2 × 3 V 1.5 A 140 lm/W"}, ""},
	{"light-compare", "Chart-table strip", "?pane=compare", 1280, 800, false, nil, ""},
	{"cabinet", "", "/cabinet", 1280, 800, false, nil, ""},
	{"lot", "", "/cabinet/lots", 1280, 800, false, nil, "main li a"},
	{"light-dark", "Shore-search handlamp", "/source?pane=charge", 1280, 800, true, nil, ""},
	{"light-phone", "Shore-search handlamp", "?t=2400", 390, 844, false, nil, ""},
}

func main() {
	if err := run(os.Args[1:]); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func run(args []string) error {
	dir := "docs/screenshots"
	if len(args) > 0 {
		dir = args[0]
	}
	ctx := context.Background()
	p, err := drive.Start(ctx)
	if err != nil {
		return err
	}
	defer p.Close()
	ids, err := p.Lights(ctx)
	if err != nil {
		return err
	}
	b, end, err := drive.Browser()
	if err != nil {
		return err
	}
	defer end()
	for _, v := range views {
		if len(args) > 1 && !slices.Contains(args[1:], v.name) {
			continue
		}
		path := v.path
		if v.light != "" {
			path = "/lights/" + ids[v.light] + v.path
		}
		page := b.MustPage()
		page.MustSetViewport(v.width, v.height, 1, false)
		scheme := "light"
		if v.dark {
			scheme = "dark"
		}
		if err := (proto.EmulationSetEmulatedMedia{Features: []*proto.EmulationMediaFeature{
			{Name: "prefers-color-scheme", Value: scheme}, {Name: "prefers-reduced-motion", Value: "reduce"}}}).Call(page); err != nil {
			return fmt.Errorf("choosing the colour scheme: %w", err)
		}
		page.MustNavigate(p.URL(path)).MustWaitStable()
		for fact, words := range v.say {
			page.MustElement(fmt.Sprintf("[data-fact=%q]", fact)).MustInput(words)
		}
		if v.press != "" {
			page.MustElement(v.press).MustClick()
		}
		// After the fonts and the last chart there is nothing left to wait for.
		page.MustWaitDOMStable()
		_ = page.WaitIdle(5 * time.Second)
		data, err := page.Screenshot(false, &proto.PageCaptureScreenshot{Format: proto.PageCaptureScreenshotFormatPng})
		if err != nil {
			return fmt.Errorf("picture %s: %w", v.name, err)
		}
		if err := os.WriteFile(filepath.Join(dir, v.name+".png"), data, 0o644); err != nil {
			return fmt.Errorf("picture %s: %w", v.name, err)
		}
		page.MustClose()
	}
	return nil
}
