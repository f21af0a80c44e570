// Package drive starts the whole program on a throwaway folder, and a browser on
// it. The tests of the interface and the pictures in docs/ use it.
package drive

import (
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"sync"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/launcher"

	"photherm/app/api"
	"photherm/app/demo"
	"photherm/app/mariadb"
	"photherm/app/store"
	"photherm/web"
)

// A Program is a running Photherm whose HTTP side can be stopped and started
// again, as if it had been ended while pages are open.
type Program struct {
	writing sync.WaitGroup
	Address string
	dir     string
	db      *mariadb.Server
	store   *store.Store
	server  *http.Server
	stop    context.CancelFunc
}

// Start starts database, store with the demo workshop, and server.
func Start(ctx context.Context) (*Program, error) {
	p := &Program{}
	var err error
	if p.dir, err = os.MkdirTemp("", "photherm-e2e-"); err != nil {
		return nil, fmt.Errorf("making a folder: %w", err)
	}
	if p.db, err = mariadb.Start(ctx, mariadb.Options{Dir: p.dir, Throwaway: true}); err != nil {
		p.Close()
		return nil, err
	}
	if p.store, err = store.Open(ctx, p.db.DSN("")); err != nil {
		p.Close()
		return nil, err
	}
	if err = demo.Load(ctx, p.store); err != nil {
		p.Close()
		return nil, err
	}
	if err = p.Serve(); err != nil {
		p.Close()
		return nil, err
	}
	return p, nil
}

// Serve starts the HTTP side, at the address it had before if there was one.
func (p *Program) Serve() error {
	address := p.Address
	if address == "" {
		address = "127.0.0.1:0"
	}
	l, err := net.Listen("tcp", address)
	if err != nil {
		return fmt.Errorf("listening: %w", err)
	}
	p.Address = l.Addr().String()
	until, stop := context.WithCancel(context.Background())
	p.stop = stop
	p.server = &http.Server{Handler: api.New(api.Config{Store: p.store, FrontEnd: web.Files(), Until: until, Writing: &p.writing}), ReadHeaderTimeout: 5 * time.Second}
	go func() { _ = p.server.Serve(l) }()
	return nil
}

// Drop cuts the HTTP side off.
func (p *Program) Drop() {
	p.stop()
	_ = p.server.Close()
	p.writing.Wait()
}

// URL is the address of a page.
func (p *Program) URL(path string) string { return "http://" + p.Address + path }

// Close ends everything and removes the folder.
func (p *Program) Close() {
	if p.server != nil {
		p.Drop()
	}
	if p.store != nil {
		_ = p.store.Close()
	}
	if p.db != nil {
		p.db.Stop()
	}
	_ = os.RemoveAll(p.dir)
}

// Browser starts Debian's Chromium, headless, with no way out of this machine.
func Browser() (b *rod.Browser, end func(), err error) {
	profile, err := os.MkdirTemp("", "photherm-browser-")
	if err != nil {
		return nil, nil, fmt.Errorf("making a browser profile: %w", err)
	}
	l := launcher.New().Bin("/usr/bin/chromium").HeadlessNew(true).UserDataDir(profile).Logger(io.Discard).
		Set("disable-gpu").Set("disable-quic").Set("no-first-run").Set("disable-background-networking").
		Set("disable-component-update").Set("disable-sync").Set("disable-dev-shm-usage").
		Set("force-color-profile", "srgb").Set("font-render-hinting", "none").Set("lang", "en-US").
		Set("window-size", "1280,800").Set("host-resolver-rules", "MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost")
	if os.Geteuid() == 0 {
		l = l.NoSandbox(true)
	}
	url, err := l.Launch()
	if err != nil {
		_ = os.RemoveAll(profile)
		return nil, nil, fmt.Errorf("starting chromium: %w", err)
	}
	b = rod.New().ControlURL(url)
	end = func() {
		_ = b.Close()
		l.Kill()
		_ = os.RemoveAll(profile)
	}
	if err := b.Connect(); err != nil {
		end()
		return nil, nil, fmt.Errorf("reaching chromium: %w", err)
	}
	return b, end, nil
}

// Lights gives the id of each light on the shelf by its name.
func (p *Program) Lights(ctx context.Context) (map[string]string, error) {
	list, _, err := p.store.Shelf(ctx, false, 0, 0, 1000)
	if err != nil {
		return nil, err
	}
	ids := map[string]string{}
	for _, l := range list {
		ids[l.Name] = l.ID
	}
	return ids, nil
}
