package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"testing"

	"photherm/app/mariadb"
)

// Two servers on one database: changes made on an old state are refused on whichever they
// arrive, what was accepted is counted by the light's revision, and one that is killed in
// the middle takes nothing with it.
func TestTwoServersOnOneDatabase(t *testing.T) {
	db, err := mariadb.Start(context.Background(), mariadb.Options{Dir: filepath.Join(t.TempDir(), "own"), Throwaway: true})
	if err != nil {
		t.Fatal(err)
	}
	defer db.Stop()
	t.Setenv("PHOTHERM_DSN", db.DSN(""))
	nowhere := filepath.Join(t.TempDir(), "data")
	first, one := serving(t, nowhere)
	_, two := serving(t, nowhere)
	if _, err := os.Stat(nowhere); !os.IsNotExist(err) {
		t.Error("a server on a database of one's own keeps something of its own")
	}
	file, err := os.ReadFile("../../examples/pier-lantern.json")
	if err != nil {
		t.Fatal(err)
	}
	r, err := http.Post(one+"/api/lights", "application/json", strings.NewReader(string(file)))
	if err != nil {
		t.Fatal(err)
	}
	var light struct {
		ID       string
		Revision int
		Light    json.RawMessage
	}
	if err := json.NewDecoder(r.Body).Decode(&light); err != nil || light.Revision != 1 {
		t.Fatal(r.Status, err)
	}
	r.Body.Close()

	var mu sync.Mutex
	accepted, refused, unanswered := map[int]string{}, 0, 0
	save := func(url, name string, base int) (status int) {
		body := strings.Replace(string(light.Light), `"Pier-head lantern"`, strconv.Quote(name), 1)
		request, err := http.NewRequest(http.MethodPut, url+"/api/lights/"+light.ID, strings.NewReader(body))
		if err != nil {
			return 0
		}
		request.Header.Set("Content-Type", "application/json")
		request.Header.Set("If-Match", strconv.Itoa(base))
		answer, err := http.DefaultClient.Do(request)
		if err != nil {
			return 0
		}
		defer answer.Body.Close()
		_, _ = io.Copy(io.Discard, answer.Body)
		return answer.StatusCode
	}
	// Everyone saves on every base in turn: of those on one base at most one may succeed.
	const rounds, savers = 24, 4
	for base := 1; base <= rounds; base++ {
		var all sync.WaitGroup
		for i := range savers {
			url := []string{one, two}[i%2]
			all.Go(func() {
				name := fmt.Sprintf("Base %d by %d", base, i)
				status := save(url, name, base)
				mu.Lock()
				defer mu.Unlock()
				switch status {
				case http.StatusOK:
					if other, twice := accepted[base]; twice {
						t.Errorf("on revision %d both %q and %q are accepted", base, other, name)
					}
					accepted[base] = name
				case http.StatusPreconditionFailed:
					refused++
				case 0:
					unanswered++
				default:
					t.Errorf("%s: status %d", name, status)
				}
			})
			if base == rounds/2 && i == 0 {
				_ = first.Process.Kill()
			}
		}
		all.Wait()
		// What was accepted without an answer, by the one that was killed, is a step too.
		var now struct{ Revision int }
		if err := json.Unmarshal([]byte(get(t, two+"/api/lights/"+light.ID)), &now); err != nil || now.Revision != base+1 {
			t.Fatalf("after the saves on revision %d it is at %d: %v", base, now.Revision, err)
		}
	}
	if len(accepted) < rounds-1 || refused == 0 || unanswered == 0 {
		t.Errorf("%d accepted, %d refused, %d without an answer", len(accepted), refused, unanswered)
	}
	if last := accepted[rounds]; !strings.Contains(get(t, two+"/api/lights/"+light.ID), strconv.Quote(last)) {
		t.Errorf("the last one accepted is %q, and it does not stand", last)
	}
}
