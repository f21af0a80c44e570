package main

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"encoding/json"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"photherm/app/solution"
)

var binary string

func TestMain(m *testing.M) {
	os.Exit(func() int {
		dir, err := os.MkdirTemp("", "photherm-cmd-")
		if err != nil {
			panic(err)
		}
		defer os.RemoveAll(dir)
		binary = filepath.Join(dir, "photherm")
		if out, err := exec.Command("go", "build", "-o", binary, ".").CombinedOutput(); err != nil {
			panic(string(out))
		}
		return m.Run()
	}())
}

func call(args ...string) (stdout, stderr string, code int) {
	var out, problems bytes.Buffer
	c := exec.Command(binary, args...)
	c.Stdout, c.Stderr = &out, &problems
	_ = c.Run() // the exit code tells
	return out.String(), problems.String(), c.ProcessState.ExitCode()
}

func TestSolveEveryExample(t *testing.T) {
	files, _ := filepath.Glob("../../examples/*.json")
	if len(files) < 2 {
		t.Fatal("examples are missing")
	}
	for _, file := range files {
		out, problems, code := call("solve", file)
		var s solution.Solution
		if code != 0 || json.Unmarshal([]byte(out), &s) != nil || s.Answers.FluxLm == nil && s.Answers.FluxWhy == "" || !s.Ledger.Closes() {
			t.Errorf("%s: exit %d, %s%.200s", file, code, problems, out)
		}
		for _, f := range s.Findings {
			if f.Severity == "stop" {
				t.Errorf("%s is shown as an example and has a stop: %s", file, f.Why)
			}
		}
		out, _, code = call("solve", file, "--csv")
		rows, err := csv.NewReader(strings.NewReader(out)).ReadAll()
		if code != 0 || err != nil || len(rows) < 20 {
			t.Errorf("%s: --csv gives %d rows, %v", file, len(rows), err)
		}
	}
}

func TestSolveOptions(t *testing.T) {
	const file = "../../examples/shore-search-handlamp.json"
	solve := func(args ...string) (s solution.Solution) {
		t.Helper()
		out, problems, code := call(append([]string{"solve", file}, args...)...)
		if err := json.Unmarshal([]byte(out), &s); err != nil || code != 0 {
			t.Fatalf("%v: exit %d %s", args, code, problems)
		}
		return s
	}
	plain, late, warm := solve(), solve("--at", "2h"), solve("--ambient", "95 °F", "--at", "2 h")
	if plain.AtS != 30 || late.AtS != 7200 {
		t.Errorf("instants %g and %g", plain.AtS, late.AtS)
	}
	if rise := warm.Figures["housing"]["bodyC"] - late.Figures["housing"]["bodyC"]; rise < 17 || rise > 20 {
		t.Errorf("20 K warmer air warms the housing by %g K", rise)
	}
}

func TestBadFilesOneClearLine(t *testing.T) {
	data, err := os.ReadFile("../../examples/shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	good := string(data)
	for name, c := range map[string]struct{ file, says string }{
		"unknown field": {strings.Replace(good, `"handheld"`, `"handhold"`, 1), "/conditions/handhold"},
		"duplicate":     {strings.Replace(good, `"brief": {`, `"name": "x", "brief": {`, 1), "/name"},
		"NaN":           {strings.Replace(good, `"ambientC": 15`, `"ambientC": NaN`, 1), "JSON"},
		"wrong type":    {strings.Replace(good, `"ambientC": 15`, `"ambientC": "warm"`, 1), "/conditions/ambientC"},
		"newer":         {strings.Replace(good, `"version": 11`, `"version": 99`, 1), "newer Photherm"},
		"empty":         {"", "ends too early"},
	} {
		file := filepath.Join(t.TempDir(), "light.json")
		if err := os.WriteFile(file, []byte(c.file), 0o600); err != nil {
			t.Fatal(err)
		}
		out, problems, code := call("solve", file)
		if code != 1 || out != "" || strings.Count(problems, "\n") != 1 || !strings.Contains(problems, c.says) {
			t.Errorf("%s: exit %d, %q", name, code, problems)
		}
	}
	for _, args := range [][]string{{"solve"}, {"solve", "/nowhere.json"}, {"nonsense"}, {"solve", "../../examples/pier-lantern.json", "--at", "soon"}, {"solve", "../../examples/pier-lantern.json", "--variant", "9"}, {"solve", "../../examples/pier-lantern.json", "--ambient", "900"}} {
		if _, problems, code := call(args...); code != 1 || problems == "" {
			t.Errorf("%v: exit %d, %q", args, code, problems)
		}
	}
}

func TestSchemaHoldsTheFormat(t *testing.T) {
	out, _, code := call("schema")
	var s struct {
		Ref  string                    `json:"$ref"`
		Defs map[string]map[string]any `json:"$defs"`
	}
	if err := json.Unmarshal([]byte(out), &s); err != nil || code != 0 || s.Ref != "#/$defs/Light" || s.Defs["Emitter"]["additionalProperties"] != false {
		t.Errorf("exit %d, %v, %+v", code, err, s.Ref)
	}
}

// serving starts the program and waits for the address it prints.
func serving(t *testing.T, dir string) (*exec.Cmd, string) {
	t.Helper()
	c := exec.Command(binary, "demo", "--data", dir, "--address", "127.0.0.1:0")
	out, err := c.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	var problems bytes.Buffer
	c.Stderr = &problems
	if err := c.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = c.Process.Kill(); _ = c.Wait() })
	lines := bufio.NewScanner(out)
	for lines.Scan() {
		if _, rest, ok := strings.Cut(lines.Text(), "http://"); ok {
			address, _, _ := strings.Cut(rest, " ")
			go func() { _, _ = io.Copy(io.Discard, out) }()
			return c, "http://" + address
		}
	}
	t.Fatalf("it did not start: %s", problems.String())
	return nil, ""
}

func get(t *testing.T, url string) string {
	t.Helper()
	r, err := http.Get(url)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	data, err := io.ReadAll(r.Body)
	if err != nil || r.StatusCode != 200 {
		t.Fatalf("%s: %d %v", url, r.StatusCode, err)
	}
	return string(data)
}

// Killed without warning and started again, the program has every light it had
// acknowledged; a second one on the same folder, or the same port, says so in one
// line; Ctrl-C ends server and database.
func TestKillAndRecover(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "data")
	c, url := serving(t, dir)
	file, err := os.ReadFile("../../examples/pier-lantern.json")
	if err != nil {
		t.Fatal(err)
	}
	r, err := http.Post(url+"/api/lights", "application/json", bytes.NewReader(bytes.Replace(file, []byte("Pier-head lantern"), []byte("Kept through a kill"), 1)))
	if err != nil || r.StatusCode != 201 {
		t.Fatalf("%v %v", r, err)
	}
	r.Body.Close()

	if _, problems, code := call("demo", "--data", dir, "--address", "127.0.0.1:0"); code != 1 || strings.Count(problems, "\n") != 1 || !strings.Contains(problems, "in use") {
		t.Errorf("a second program on the same folder: exit %d, %q", code, problems)
	}
	if _, problems, code := call("demo", "--data", t.TempDir(), "--address", strings.TrimPrefix(url, "http://")); code != 1 || strings.Count(problems, "\n") != 1 || !strings.Contains(problems, "cannot be used") {
		t.Errorf("a second program on the same port: exit %d, %q", code, problems)
	}
	if _, problems, code := call("serve", "--data", t.TempDir(), "--address", "0.0.0.0:0"); code != 1 || strings.Count(problems, "\n") != 1 || !strings.Contains(problems, "--host NAME") {
		t.Errorf("serving the whole network: exit %d, %q", code, problems)
	}

	if err := c.Process.Signal(syscall.SIGKILL); err != nil {
		t.Fatal(err)
	}
	_ = c.Wait()
	again, url := serving(t, dir)
	list := get(t, url+"/api/lights")
	if !strings.Contains(list, "Kept through a kill") || !strings.Contains(list, `"Shore-search handlamp"`) {
		t.Errorf("after a kill the shelf holds %.300s", list)
	}
	if err := again.Process.Signal(os.Interrupt); err != nil {
		t.Fatal(err)
	}
	done := make(chan error, 1)
	go func() { done <- again.Wait() }()
	select {
	case err := <-done:
		if err != nil {
			t.Errorf("Ctrl-C: %v", err)
		}
	case <-time.After(20 * time.Second):
		t.Fatal("Ctrl-C does not end it")
	}
	if pid, err := os.ReadFile(filepath.Join(dir, "mariadb.pid")); err == nil {
		t.Errorf("the database still runs as %s", pid)
	}
}

// A private database that dies is started again, once; dying again it ends the program
// with a sentence.
func TestDatabaseDies(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "data")
	c, url := serving(t, dir)
	kill := func() {
		t.Helper()
		text, err := os.ReadFile(filepath.Join(dir, "mariadb.pid"))
		if err != nil {
			t.Fatal(err)
		}
		pid, err := strconv.Atoi(strings.TrimSpace(string(text)))
		if err != nil || syscall.Kill(pid, syscall.SIGKILL) != nil {
			t.Fatal(pid, err)
		}
	}
	before := get(t, url+"/api/lights")
	kill()
	for deadline := time.Now().Add(time.Minute); ; time.Sleep(50 * time.Millisecond) {
		r, err := http.Get(url + "/api/lights")
		if err != nil {
			t.Fatal(err)
		}
		r.Body.Close()
		if r.StatusCode == http.StatusOK {
			break
		}
		if time.Now().After(deadline) {
			t.Fatal("it is not back: ", r.Status)
		}
	}
	if after := get(t, url+"/api/lights"); strings.Count(after, `"id"`) != strings.Count(before, `"id"`) {
		t.Errorf("after the database's death the shelf holds %s", after)
	}
	kill()
	if err := c.Wait(); err == nil {
		t.Error("the program goes on without its database")
	}
}
