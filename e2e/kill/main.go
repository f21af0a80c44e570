// Command kill saves lights as fast as the program takes them, kills it without warning,
// starts it again and looks whether everything it acknowledged is there; over and over.
//
//	go run ./e2e/kill -kills 30
package main

import (
	"bufio"
	"bytes"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"log"
	"math/rand/v2"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"time"

	"photherm/examples"
)

const savers = 4

func main() {
	kills := flag.Int("kills", 30, "how often")
	flag.Parse()
	if err := run(*kills); err != nil {
		log.Fatal(err)
	}
}

func run(kills int) error {
	dir, err := os.MkdirTemp("", "photherm-kill-")
	if err != nil {
		return fmt.Errorf("making a folder: %w", err)
	}
	defer os.RemoveAll(dir)
	binary := filepath.Join(dir, "photherm")
	if out, err := exec.Command("go", "build", "-o", binary, "./cmd/photherm").CombinedOutput(); err != nil {
		return fmt.Errorf("building: %w: %s", err, out)
	}
	file, err := examples.Files.ReadFile("pier-lantern.json")
	if err != nil {
		return fmt.Errorf("reading the light: %w", err)
	}
	lights := make([]saved, savers)
	total, lost, notBack := 0, 0, 0
	for k := range kills + 1 {
		c, url, err := start(binary, filepath.Join(dir, "data"))
		if err != nil {
			notBack++
			log.Printf("start %d: %v", k+1, err)
			continue
		}
		for i := range lights {
			switch there, err := lights[i].look(url); {
			case err != nil:
				return err
			case !there:
				lost++
			}
		}
		if k == kills {
			_ = c.Process.Signal(os.Interrupt)
			_ = c.Wait()
			break
		}
		var all sync.WaitGroup
		for i := range lights {
			all.Go(func() { lights[i].save(url, file, i) })
		}
		time.Sleep(200*time.Millisecond + rand.N(1200*time.Millisecond))
		_ = c.Process.Kill()
		_ = c.Wait()
		all.Wait()
		for i := range lights {
			total += lights[i].acknowledged
		}
	}
	fmt.Printf("| kills | acknowledged saves | lost | starts that failed |\n|---|---|---|---|\n| %d | %d | %d | %d |\n", kills, total, lost, notBack)
	if lost+notBack > 0 {
		return errors.New("something was lost")
	}
	return nil
}

// saved is a light and how far the program has acknowledged it.
type saved struct {
	ID           string
	Revision     int
	name         string // of the last revision acknowledged
	acknowledged int    // since the last start
}

// save saves until the program is gone.
func (s *saved) save(url string, file []byte, who int) {
	s.acknowledged = 0
	for n := 0; ; n++ {
		method, path := http.MethodPost, "/api/lights"
		if s.ID != "" {
			method, path = http.MethodPut, "/api/lights/"+s.ID
		}
		name := fmt.Sprintf("Saver %d, save %d of %d", who, n, s.Revision)
		r, err := http.NewRequest(method, url+path, bytes.NewReader(bytes.Replace(file, []byte("Pier-head lantern"), []byte(name), 1)))
		if err != nil {
			log.Fatal(err)
		}
		r.Header.Set("Content-Type", "application/json")
		r.Header.Set("If-Match", strconv.Itoa(s.Revision))
		answer, err := http.DefaultClient.Do(r)
		if err != nil {
			return
		}
		err = json.NewDecoder(answer.Body).Decode(s)
		answer.Body.Close()
		if err != nil || answer.StatusCode >= 300 {
			return
		}
		s.name = name
		s.acknowledged++
	}
}

// look tells whether what was acknowledged is there, and goes on from what is: a save
// that had no answer may have been made.
func (s *saved) look(url string) (there bool, err error) {
	if s.ID == "" {
		return true, nil
	}
	r, err := http.Get(url + "/api/lights/" + s.ID)
	if err != nil {
		return false, fmt.Errorf("looking at light %s: %w", s.ID, err)
	}
	defer r.Body.Close()
	data, err := io.ReadAll(r.Body)
	if err != nil {
		return false, fmt.Errorf("looking at light %s: %w", s.ID, err)
	}
	var now struct{ Revision int }
	if json.Unmarshal(data, &now) != nil {
		return false, nil
	}
	there = now.Revision == s.Revision && strings.Contains(string(data), strconv.Quote(s.name)) || now.Revision == s.Revision+1
	s.Revision = now.Revision
	return there, nil
}

// start starts the program and waits for the address it prints.
func start(binary, data string) (*exec.Cmd, string, error) {
	c := exec.Command(binary, "serve", "--data", data, "--address", "127.0.0.1:0")
	out, err := c.StdoutPipe()
	if err != nil {
		return nil, "", err
	}
	if err := c.Start(); err != nil {
		return nil, "", fmt.Errorf("starting: %w", err)
	}
	lines := bufio.NewScanner(out)
	for lines.Scan() {
		if _, rest, ok := strings.Cut(lines.Text(), "http://"); ok {
			address, _, _ := strings.Cut(rest, " ")
			go func() { _, _ = io.Copy(io.Discard, out) }()
			return c, "http://" + address, nil
		}
	}
	_ = c.Wait()
	return nil, "", errors.New("it ended by itself")
}
