package api

import (
	"context"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-sql-driver/mysql"

	"photherm/app/store"
)

// A link passes bytes on to an address, until it hangs.
type link struct {
	mu   sync.Mutex
	free *sync.Cond
	hung bool
}

func (l *link) hang(yes bool) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.hung = yes
	l.free.Broadcast()
}

func (l *link) pass(to, from net.Conn) {
	defer to.Close()
	b := make([]byte, 4096)
	for {
		n, err := from.Read(b)
		l.mu.Lock()
		for l.hung {
			l.free.Wait()
		}
		l.mu.Unlock()
		if n > 0 {
			if _, err := to.Write(b[:n]); err != nil {
				return
			}
		}
		if err != nil {
			return
		}
	}
}

// A database that hangs is told in time, for what reads and for what writes, and served
// from again when it is back.
func TestHangingDatabase(t *testing.T) {
	c, err := mysql.ParseDSN(address)
	if err != nil {
		t.Fatal(err)
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer listener.Close()
	behind := c.Addr
	l := &link{}
	l.free = sync.NewCond(&l.mu)
	go func() {
		for {
			from, err := listener.Accept()
			if err != nil {
				return
			}
			to, err := net.Dial("tcp", behind)
			if err != nil {
				from.Close()
				continue
			}
			go l.pass(to, from)
			go l.pass(from, to)
		}
	}()
	c.Addr = listener.Addr().String()
	opened, err := store.Open(context.Background(), c.FormatDSN())
	if err != nil {
		t.Fatal(err)
	}
	defer opened.Close()
	defer l.hang(false)
	page := httptest.NewServer(New(Config{Store: opened}))
	defer page.Close()
	// Longer than it is told in, shorter than a person waits.
	client := &http.Client{Timeout: 5 * time.Second}
	do := func(method, path string) (int, string) {
		t.Helper()
		r, err := http.NewRequest(method, page.URL+path, strings.NewReader(""))
		if err != nil {
			t.Fatal(err)
		}
		answer, err := client.Do(r)
		if err != nil {
			return 0, err.Error()
		}
		defer answer.Body.Close()
		body, _ := io.ReadAll(answer.Body)
		return answer.StatusCode, string(body)
	}
	const reading, writing = "/api/lights", "/api/lights/aaaaaaaaaaaaaaab/restore"
	answers := func() {
		t.Helper()
		if status, body := do(http.MethodGet, reading); status != http.StatusOK {
			t.Fatal(status, body)
		}
	}
	answers()
	l.hang(true)
	for method, path := range map[string]string{http.MethodGet: reading, http.MethodPost: writing} {
		if status, body := do(method, path); status != http.StatusServiceUnavailable || !strings.Contains(body, "does not answer") {
			t.Errorf("%s %s: %d %s", method, path, status, body)
		}
	}
	l.hang(false)
	answers()
}
