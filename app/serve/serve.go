// Package serve runs the program: database, store, HTTP, and their clean end.
package serve

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"runtime/debug"
	"sync"
	"time"

	"photherm/app/access"
	"photherm/app/api"
	"photherm/app/demo"
	"photherm/app/mariadb"
	"photherm/app/store"
	"photherm/web"
)

// Config says how to run.
type Config struct {
	Dir     string   // data folder of the private database
	DSN     string   // an own database instead; empty: the private one
	Address string   // host:port to serve on
	Hosts   []string // names it answers to beside those of its own machine, with a port if another is seen from outside; then a passphrase is asked for
	Cert    string   // files of its certificate and key; empty: no TLS of its own
	Key     string
	Proxy   bool // a proxy in front does TLS
	Demo    bool // put the demo workshop on an empty shelf

	Instruments []string // hosts whose instruments may be read, beside this machine

	Out io.Writer
}

const shutdownWithin = 5 * time.Second

// A question leaves some megabytes behind and little stays, so that by the
// runtime's own measure garbage is collected every few questions, which is seen
// in the slowest of them. Collected is when ten times of what stays has come,
// and sooner where the heap grows towards the bound (both chosen, measured).
const (
	garbagePercent = 1000
	heapBound      = 512 << 20
)

// Run serves until the context ends, or something it depends on does.
func Run(ctx context.Context, c Config) error {
	debug.SetGCPercent(garbagePercent)
	debug.SetMemoryLimit(heapBound)
	listener, err := net.Listen("tcp", c.Address)
	if err != nil {
		return fmt.Errorf("address %s cannot be used (is another Photherm running? try --address 127.0.0.1:0): %w", c.Address, err)
	}
	defer listener.Close()
	beyond, err := c.beyond(listener.Addr())
	if err != nil {
		return err
	}
	dsn := c.DSN
	var db *mariadb.Server
	var gone <-chan struct{}
	if dsn == "" {
		fmt.Fprintf(c.Out, "Starting the database in %s\n", c.Dir)
		if db, err = mariadb.Start(ctx, mariadb.Options{Dir: c.Dir}); err != nil {
			return err
		}
		defer db.Stop()
		dsn, gone = db.DSN(""), db.Exited()
	}
	s, err := store.Open(ctx, dsn)
	if err != nil {
		return err
	}
	defer s.Close()
	var writing sync.WaitGroup
	handler := api.Config{Store: s, FrontEnd: web.Files(), Hosts: c.Instruments, Until: ctx, Writing: &writing}
	if beyond {
		if hash, err := s.Passphrase(ctx); err != nil {
			return err
		} else if hash == "" {
			return errors.New("to be reached from beyond this machine it needs a passphrase first: photherm passphrase")
		}
		handler.Door, handler.Address = access.New(c.Hosts, s.Passphrase), c.outside(listener.Addr())
	}
	if c.Demo {
		if err := demo.Load(ctx, s); err != nil {
			return fmt.Errorf("loading the demo: %w", err)
		}
	}
	server := &http.Server{
		Handler:           api.New(handler),
		ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 60 * time.Second, WriteTimeout: 60 * time.Second, IdleTimeout: 2 * time.Minute,
	}
	failed := make(chan error, 1)
	at := "http://" + listener.Addr().String()
	if c.Cert != "" {
		at = "https://" + listener.Addr().String()
		go func() { failed <- server.ServeTLS(listener, c.Cert, c.Key) }()
	} else {
		go func() { failed <- server.Serve(listener) }()
	}
	if handler.Address != "" {
		at += ", and from other devices at " + handler.Address
	}
	fmt.Fprintf(c.Out, "Photherm is at %s (stop with Ctrl-C)\n", at)
	err = attend(ctx, failed, gone, func() (<-chan struct{}, error) {
		err := db.Restart(ctx, mariadb.Options{Dir: c.Dir})
		return db.Exited(), err
	})
	stop, cancel := context.WithTimeout(context.WithoutCancel(ctx), shutdownWithin)
	defer cancel()
	if e := server.Shutdown(stop); e != nil {
		slog.Warn("some requests were cut off", "error", e)
	}
	if ctx.Err() != nil {
		writing.Wait() // logs are left to whoever writes them on, in two seconds at most
	}
	fmt.Fprintln(c.Out, "Stopped.")
	return err
}

var errGone = errors.New("the database ended by itself; its log is mariadb.log in the data folder")

// attend waits for the end: of the context, of the server, or of a database that has
// ended by itself and was started again once already.
func attend(ctx context.Context, failed <-chan error, gone <-chan struct{}, restart func() (<-chan struct{}, error)) error {
	for restarted := false; ; restarted = true {
		select {
		case <-ctx.Done():
			return nil
		case err := <-failed:
			return err
		case <-gone:
		}
		if ctx.Err() != nil {
			return nil
		}
		if restarted {
			return errGone
		}
		slog.Warn("the database ended by itself and is started again, this once")
		var err error
		if gone, err = restart(); err != nil {
			return fmt.Errorf("%w; starting it again: %w", errGone, err)
		}
	}
}
