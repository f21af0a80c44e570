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
}

var views = []view{
	{"shelf", "", "/", 1280, 800, false},
	{"light-overview", "Shore-search handlamp", "", 1280, 800, false},
	{"light-source", "Shore-search handlamp", "/source?t=2400", 1280, 800, false},
	{"light-driver", "Pier-head lantern", "/driver?t=36000", 1280, 800, false},
	{"light-emitters", "Shore-search handlamp", "/emitters?t=2400", 1280, 800, false},
	{"light-light", "Pier-head lantern", "/light?v=1&t=7200", 1280, 800, false},
	{"light-heat", "Shore-search handlamp", "/heat?t=7200", 1280, 800, false},
	{"light-branches", "Slipway lantern", "", 1280, 800, false},
	{"light-supply", "Germination rack", "/driver", 1280, 800, false},
	{"light-matching", "Shore-search handlamp", "/driver?pane=match", 1280, 800, false},
	{"light-setup", "Germination rack", "/driver?pane=setup", 1280, 800, false},
	{"light-strings", "Germination rack", "/emitters?pane=strings", 1280, 800, false},
	{"light-strip", "Chart-table strip", "/emitters?v=1&pane=strip", 1280, 800, false},
	{"light-tree", "Slipway lantern", "?pane=tree", 1280, 800, false},
	{"cabinet", "", "/cabinet", 1280, 800, false},
	{"light-dark", "Shore-search handlamp", "/driver?t=2400", 1280, 800, true},
	{"light-phone", "Shore-search handlamp", "?t=2400", 390, 844, false},
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
