// Command load lets many users work on lights of their own for a while, on a server of
// its own with a database safe against power cuts, and prints how long they waited.
//
//	go run ./e2e/load -users 50 -for 20s
package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"log"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"os"
	"slices"
	"strconv"
	"sync"
	"time"

	"photherm/app/api"
	"photherm/app/mariadb"
	"photherm/app/store"
	"photherm/core/design"
	"photherm/examples"
)

// mostThought is the longest a user thinks between two gestures.
const mostThought = 500 * time.Millisecond

// A tally is how long answers to one kind of question took.
type tally struct {
	mu     sync.Mutex
	waits  []time.Duration
	errors int
}

func (t *tally) add(d time.Duration, ok bool) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if !ok {
		t.errors++
		return
	}
	t.waits = append(t.waits, d)
}

// share is the wait that a share of the answers did not exceed.
func (t *tally) share(p float64) time.Duration {
	if len(t.waits) == 0 {
		return 0
	}
	return t.waits[min(int(p*float64(len(t.waits))), len(t.waits)-1)]
}

var saves, solves, shelves tally

func main() {
	users := flag.Int("users", 50, "how many at once")
	length := flag.Duration("for", 20*time.Second, "how long")
	flag.Parse()
	if err := run(context.Background(), *users, *length); err != nil {
		log.Fatal(err)
	}
}

func run(ctx context.Context, users int, length time.Duration) error {
	dir, err := os.MkdirTemp("", "photherm-load-")
	if err != nil {
		return fmt.Errorf("making a folder: %w", err)
	}
	defer os.RemoveAll(dir)
	db, err := mariadb.Start(ctx, mariadb.Options{Dir: dir})
	if err != nil {
		return err
	}
	defer db.Stop()
	s, err := store.Open(ctx, db.DSN(""))
	if err != nil {
		return err
	}
	defer s.Close()
	until, stop := context.WithCancel(ctx)
	defer stop()
	page := httptest.NewServer(api.New(api.Config{Store: s, Until: until}))
	defer page.Close()
	http.DefaultTransport.(*http.Transport).MaxIdleConnsPerHost = users
	file, err := examples.Files.ReadFile("shore-search-handlamp.json")
	if err != nil {
		return fmt.Errorf("reading the light: %w", err)
	}
	end := time.Now().Add(length)
	var all sync.WaitGroup
	for i := range users {
		all.Go(func() { work(page.URL, file, strconv.Itoa(i), end) })
	}
	all.Wait()
	fmt.Printf("%d users, 0 to %v of thought, %v\n\n| | answers | errors | p50 | p95 | p99 | longest |\n|---|---|---|---|---|---|---|\n", users, mostThought, length)
	for _, row := range []struct {
		name string
		t    *tally
	}{{"save", &saves}, {"solve", &solves}, {"shelf", &shelves}} {
		slices.Sort(row.t.waits)
		fmt.Printf("| %s | %d | %d |", row.name, len(row.t.waits), row.t.errors)
		for _, p := range []float64{0.5, 0.95, 0.99, 1} {
			fmt.Printf(" %d ms |", row.t.share(p).Milliseconds())
		}
		fmt.Println()
	}
	return nil
}

// work is one user: a light of his own, of which he changes the current, saves and looks
// at what comes of it.
func work(url string, file []byte, name string, end time.Time) {
	light, err := design.Decode(file)
	if err != nil {
		log.Fatal(err)
	}
	var stored struct {
		ID       string
		Revision int
	}
	if !ask(&saves, http.MethodPost, url+"/api/lights", name, "", file, &stored) {
		return
	}
	for time.Now().Before(end) {
		time.Sleep(rand.N(mostThought))
		setCurrent(light.Variants[0].Feeds[0].Loads, 0.5+rand.Float64())
		body, err := design.Encode(light)
		if err != nil {
			log.Fatal(err)
		}
		var both sync.WaitGroup
		both.Go(func() {
			ask(&saves, http.MethodPut, url+"/api/lights/"+stored.ID, name, strconv.Itoa(stored.Revision), body, &stored)
		})
		both.Go(func() { ask(&solves, http.MethodPost, url+"/api/solve", name, "", body, nil) })
		both.Wait()
		if rand.N(20) == 0 {
			ask(&shelves, http.MethodGet, url+"/api/lights", name, "", nil, nil)
		}
	}
}

func setCurrent(loads []design.Node, a float64) {
	for i := range loads {
		if d := loads[i].Driver; d != nil {
			d.SetCurrentA = &a
		}
		setCurrent(loads[i].Loads, a)
	}
}

func ask(t *tally, method, url, tab, base string, body []byte, to any) bool {
	r, err := http.NewRequest(method, url, bytes.NewReader(body))
	if err != nil {
		log.Fatal(err)
	}
	r.Header.Set("Content-Type", "application/json")
	r.Header.Set("X-Photherm-Tab", tab)
	if base != "" {
		r.Header.Set("If-Match", base)
	}
	began := time.Now()
	answer, err := http.DefaultClient.Do(r)
	if err != nil {
		t.add(0, false)
		return false
	}
	defer answer.Body.Close()
	data, err := io.ReadAll(answer.Body)
	ok := err == nil && answer.StatusCode < 300 && (to == nil || json.Unmarshal(data, to) == nil)
	t.add(time.Since(began), ok)
	return ok
}
