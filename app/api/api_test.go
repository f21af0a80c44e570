package api

import (
	"bytes"
	"compress/gzip"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log"
	"math"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"testing"
	"testing/fstest"

	"photherm/app/mariadb"
	"photherm/app/solution"
	"photherm/app/store"
	"photherm/core/chain"
	"photherm/core/design"
	"photherm/examples"
)

var (
	running *httptest.Server
	address string
)

func TestMain(m *testing.M) {
	os.Exit(func() int {
		dir, err := os.MkdirTemp("", "photherm-api-")
		if err != nil {
			log.Fatal(err)
		}
		defer os.RemoveAll(dir)
		ctx := context.Background()
		db, err := mariadb.Start(ctx, mariadb.Options{Dir: dir, Throwaway: true})
		if err != nil {
			log.Fatal(err)
		}
		defer db.Stop()
		address = db.DSN("")
		opened, err := store.Open(ctx, address)
		if err != nil {
			log.Fatal(err)
		}
		defer opened.Close()
		pages := fstest.MapFS{"index.html": {Data: []byte("<p>page</p>")}, "assets/a.js": {Data: []byte("1")}}
		until, stop := context.WithCancel(ctx)
		defer stop()
		running = httptest.NewServer(New(Config{Store: opened, FrontEnd: pages, Until: until}))
		defer running.Close()
		return m.Run()
	}())
}

type reply struct {
	status int
	header http.Header
	body   []byte
}

func (r reply) read(t *testing.T, to any) {
	t.Helper()
	if err := json.Unmarshal(r.body, to); err != nil {
		t.Fatalf("%v: %s", err, r.body)
	}
}

func ask(t *testing.T, method, path, body string, headers ...string) reply {
	t.Helper()
	request, err := http.NewRequest(method, running.URL+path, strings.NewReader(body))
	if err != nil {
		t.Fatal(err)
	}
	if body != "" {
		request.Header.Set("Content-Type", "application/json")
	}
	for i := 0; i < len(headers); i += 2 {
		if headers[i] == "Host" {
			request.Host = headers[i+1]
		}
		request.Header.Set(headers[i], headers[i+1])
	}
	response, err := http.DefaultClient.Do(request)
	if err != nil {
		t.Fatal(err)
	}
	defer response.Body.Close()
	data, err := io.ReadAll(response.Body)
	if err != nil {
		t.Fatal(err)
	}
	return reply{response.StatusCode, response.Header, data}
}

func handlamp(t testing.TB) string {
	t.Helper()
	data, err := examples.Files.ReadFile("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	return string(data)
}

// The API answers what the core answers.
func TestSolveAndTrace(t *testing.T) {
	file := handlamp(t)
	light, err := design.Decode([]byte(file))
	if err != nil {
		t.Fatal(err)
	}
	want, _, err := solution.Solve(context.Background(), light, solution.Query{AtS: 600})
	if err != nil {
		t.Fatal(err)
	}
	var got solution.Solution
	ask(t, "POST", "/api/solve?atS=600", file).read(t, &got)
	a, _ := json.Marshal(got)
	b, _ := json.Marshal(want)
	if !bytes.Equal(a, b) {
		t.Error("the API and the core disagree")
	}
	var trace chain.Trace
	ask(t, "POST", "/api/trace", file).read(t, &trace)
	if len(trace.T) == 0 || len(trace.T) > chain.MaxTracePoints || math.Abs(trace.EndS-*want.Answers.EndS) > 0.01 {
		t.Errorf("a trace of %d points to %g s", len(trace.T), trace.EndS)
	}
	for _, s := range trace.Series {
		if len(s.Values) != len(trace.T) {
			t.Fatalf("%s.%s has %d values", s.Owner, s.Figure, len(s.Values))
		}
	}
	var plane chain.Plane
	ask(t, "POST", "/api/plane?node=driver", file).read(t, &plane)
	if len(plane.Envelopes) != 3 || len(plane.Loads) != 4 || math.Abs(plane.Points[0].OutA-1.5) > 1e-9 {
		t.Errorf("plane %+v", plane.Points)
	}
	if r := ask(t, "POST", "/api/plane?node=emitters", file); r.status != 422 {
		t.Errorf("the plane of an array: %d", r.status)
	}
	csv := ask(t, "POST", "/api/trace.csv", file)
	if lines := strings.Count(string(csv.body), "\n"); lines != len(trace.T)+1 || !strings.HasPrefix(string(csv.body), "t [s],power.sourceW [W]") {
		t.Errorf("CSV of %d lines: %.60s", lines, csv.body)
	}
}

// The same, told as it is worked out, is the same: figures, what is judged of them, the course.
func TestSolveInSteps(t *testing.T) {
	file := handlamp(t)
	steps := func(query string) (list []SolveStep) {
		r := ask(t, "POST", "/api/solve/steps?atS=600"+query, file)
		for line := range strings.Lines(string(r.body)) {
			var step SolveStep
			if err := json.Unmarshal([]byte(line), &step); err != nil {
				t.Fatalf("%d %.80s: %v", r.status, line, err)
			}
			list = append(list, step)
		}
		return list
	}
	var want solution.Solution
	ask(t, "POST", "/api/solve?atS=600", file).read(t, &want)
	var trace chain.Trace
	ask(t, "POST", "/api/trace", file).read(t, &trace)
	got := steps("&course=true")
	if len(got) != 3 || got[0].Solved == nil || got[1].Judged == nil || got[2].Trace == nil {
		t.Fatalf("%d steps", len(got))
	}
	for name, pair := range map[string][2]any{"solution": {solution.Solution{Solved: *got[0].Solved, Judged: *got[1].Judged}, want}, "course": {*got[2].Trace, trace}} {
		a, _ := json.Marshal(pair[0])
		b, _ := json.Marshal(pair[1])
		if !bytes.Equal(a, b) {
			t.Errorf("the %s is another", name)
		}
	}
	if short := steps(""); len(short) != 2 {
		t.Errorf("without its course %d steps", len(short))
	}
	// What is wrong with a light is told before the first line, as everywhere.
	if r := ask(t, "POST", "/api/solve/steps", strings.Replace(file, `"ambientC": 15`, `"ambientC": 999`, 1)); r.status != 422 || !strings.HasPrefix(r.header.Get("Content-Type"), "application/problem+json") {
		t.Errorf("a light out of range: %d %s", r.status, r.header.Get("Content-Type"))
	}
}

func TestProblemsNameTheField(t *testing.T) {
	file := handlamp(t)
	for name, c := range map[string]struct {
		body, says, location string
		status               int
	}{
		"range":     {strings.Replace(file, `"ambientC": 15`, `"ambientC": 999`, 1), "stands: ambientC: 999 is too high", "/conditions/ambientC", 422},
		"unknown":   {strings.Replace(file, `"handheld"`, `"handhold"`, 1), "not a field", "/conditions/handhold", 422},
		"twice":     {strings.Replace(file, `"brief": {`, `"name": "x", "brief": {`, 1), "twice", "/name", 422},
		"falling":   {strings.Replace(file, `"voltageV": 2.88`, `"voltageV": 2.1`, 1), "stands: forward, number 3: forward voltage must rise", "/parts/2/emitter/forward/2", 422},
		"too cold":  {strings.Replace(file, `"voltageV": 2.88`, `"voltageV": 2.88, "junctionC": -40`, 1), "brought to 85 °C, the reading at", "/parts/2/emitter/forward", 422},
		"empty":     {"", "required", "", 400},
		"broken":    {`{"a"`, "the JSON ends too early", "", 422},
		"not a one": {`[]`, "one JSON object", "", 422},
	} {
		r := ask(t, "POST", "/api/solve", c.body, "Content-Type", "application/json")
		var p struct {
			Detail string
			Errors []struct{ Location, Message string }
		}
		r.read(t, &p)
		if r.status != c.status || !strings.HasPrefix(r.header.Get("Content-Type"), "application/problem+json") {
			t.Errorf("%s: %d %s", name, r.status, r.header.Get("Content-Type"))
		}
		text := p.Detail
		placed := c.location == ""
		for _, e := range p.Errors {
			text += e.Message
			placed = placed || e.Location == c.location
		}
		if !strings.Contains(text, c.says) || !placed {
			t.Errorf("%s: %s", name, r.body)
		}
	}
	if r := ask(t, "POST", "/api/solve?variant=7", file); r.status != 422 {
		t.Errorf("a variant that is not there: %d", r.status)
	}
	if r := ask(t, "POST", "/api/solve", strings.Repeat(" ", maxBody+1)); r.status != 413 || !strings.Contains(string(r.body), fmt.Sprintf("larger than the %d MB", maxBody>>20)) {
		t.Errorf("a body over the limit: %d %s", r.status, r.body)
	}
	if r := ask(t, "POST", "/api/solve?atS=5&foo=1", file); r.status != 422 {
		t.Errorf("an unknown query: %d", r.status)
	}
}

func TestKeepingALight(t *testing.T) {
	file := handlamp(t)
	made := ask(t, "POST", "/api/lights", file, "X-Photherm-Tab", "a")
	var l StoredLight
	made.read(t, &l)
	if made.status != 201 || made.header.Get("ETag") != `"1"` {
		t.Fatalf("%d %s", made.status, made.body)
	}
	path := "/api/lights/" + l.ID
	edited := strings.Replace(file, `"ambientC": 15`, `"ambientC": 25`, 1)
	saved := ask(t, "PUT", path, edited, "If-Match", `"1"`, "X-Photherm-Tab", "a")
	if saved.status != 200 || saved.header.Get("ETag") != `"2"` {
		t.Fatalf("%d %s", saved.status, saved.body)
	}
	late := ask(t, "PUT", path, file, "If-Match", `"1"`, "X-Photherm-Tab", "b")
	var conflict struct {
		Theirs StoredLight
		Yours  map[string]any
	}
	late.read(t, &conflict)
	if late.status != 412 || conflict.Theirs.Revision != 2 || !bytes.Contains(conflict.Theirs.Light, []byte(`"ambientC": 25`)) && !bytes.Contains(conflict.Theirs.Light, []byte(`"ambientC":25`)) || conflict.Yours["name"] != "Shore-search handlamp" {
		t.Errorf("a late change: %d %.200s", late.status, late.body)
	}
	if r := ask(t, "PUT", path, file); r.status != 422 {
		t.Errorf("a change without a base: %d", r.status)
	}
	if r := ask(t, "POST", path+"/undo", "", "If-Match", `"2"`, "X-Photherm-Tab", "b"); r.status != 409 {
		t.Errorf("another tab's undo: %d", r.status)
	}
	undone := ask(t, "POST", path+"/undo", "", "If-Match", `"2"`, "X-Photherm-Tab", "a")
	undone.read(t, &l)
	if undone.status != 200 || l.Revision != 3 || !l.CanRedo || l.CanUndo {
		t.Errorf("undo: %d %+v", undone.status, l)
	}
	if r := ask(t, "DELETE", path, ""); r.status != 204 {
		t.Errorf("to the bin: %d", r.status)
	}
	if r := ask(t, "POST", path+"/restore", ""); r.status != 204 {
		t.Errorf("out of the bin: %d", r.status)
	}
	if r := ask(t, "GET", path+"/glance", ""); r.status != 200 || !bytes.Contains(r.body, []byte(`"fluxLm"`)) {
		t.Errorf("glance: %d", r.status)
	}
	if r := ask(t, "GET", "/api/lights/aaaaaaaaaaaaaaaa", ""); r.status != 404 || bytes.Contains(r.body, []byte("sql")) {
		t.Errorf("no such light: %d %s", r.status, r.body)
	}
}

func TestOnlyLoopbackAndOwnPages(t *testing.T) {
	for name, c := range map[string]struct {
		header, value string
		status        int
	}{
		"other host":      {"Host", "lights.example", 403},
		"rebinding":       {"Host", "127.0.0.1.example:80", 403},
		"localhost":       {"Host", "localhost:8640", 200},
		"six":             {"Host", "[::1]:8640", 200},
		"other origin":    {"Origin", "http://elsewhere.example", 403},
		"other port":      {"Origin", "http://127.0.0.1:1", 403},
		"own origin":      {"Origin", running.URL, 200},
		"opaque origin":   {"Origin", "null", 403},
		"unreadable":      {"Origin", "http://%zz", 403},
		"nothing unusual": {"X-Photherm-Tab", "a", 200},
	} {
		if r := ask(t, "GET", "/api/lights", "", c.header, c.value); r.status != c.status {
			t.Errorf("%s: %d, want %d", name, r.status, c.status)
		}
	}
}

func TestPagesAndHeaders(t *testing.T) {
	for path, want := range map[string]string{"/": "200 <p>page</p>", "/lights/x/driver": "200 <p>page</p>", "/assets/a.js": "200 1", "/index.html": "200 <p>page</p>", "/../../etc/passwd": "200 <p>page</p>"} {
		r := ask(t, "GET", path, "")
		if got := fmt.Sprintf("%d %s", r.status, r.body); got != want {
			t.Errorf("%s: %s", path, got)
		}
		csp := r.header.Get("Content-Security-Policy")
		if !strings.Contains(csp, "script-src 'self';") || strings.Contains(csp, "unsafe-eval") || r.header.Get("X-Content-Type-Options") != "nosniff" {
			t.Errorf("%s: headers %v", path, r.header)
		}
	}
	for request, status := range map[string]int{"GET /assets/none.js": 404, "GET /api/nothing": 404, "PATCH /api/lights": 405, "POST /": 404} {
		method, path, _ := strings.Cut(request, " ")
		if r := ask(t, method, path, ""); r.status != status || !strings.HasPrefix(r.header.Get("Content-Type"), "application/problem+json") {
			t.Errorf("%s: %d %s", request, r.status, r.header.Get("Content-Type"))
		}
	}
	if r := ask(t, "GET", "/api/openapi.json", ""); r.status != 200 || !bytes.Contains(r.body, []byte(`"openapi":"3.1.0"`)) {
		t.Errorf("description of the API: %d %.80s", r.status, r.body)
	}
}

// What goes wrong inside stays inside.
func TestNothingInternalLeaks(t *testing.T) {
	ctx := context.Background()
	closed, err := store.Open(ctx, address)
	if err != nil {
		t.Fatal(err)
	}
	closed.Close()
	w := httptest.NewRecorder()
	r := httptest.NewRequest("GET", "http://localhost/api/lights", nil)
	New(Config{Store: closed}).ServeHTTP(w, r)
	if w.Code != 503 || strings.Contains(w.Body.String(), "sql") || !strings.Contains(w.Body.String(), "does not answer") {
		t.Errorf("a closed database: %d %s", w.Code, w.Body)
	}
}

// The front end goes over the wire compressed, and is the same.
func TestFrontEndIsCompressed(t *testing.T) {
	script := strings.Repeat("const a = 1;\n", 1000)
	page := httptest.NewServer(New(Config{FrontEnd: fstest.MapFS{"index.html": {Data: []byte("<p>page</p>")}, "assets/a.js": {Data: []byte(script)}}}))
	defer page.Close()
	r, err := http.NewRequest(http.MethodGet, page.URL+"/assets/a.js", nil)
	if err != nil {
		t.Fatal(err)
	}
	r.Header.Set("Accept-Encoding", "gzip")
	answer, err := http.DefaultTransport.RoundTrip(r)
	if err != nil {
		t.Fatal(err)
	}
	defer answer.Body.Close()
	sent, err := io.ReadAll(answer.Body)
	if err != nil || answer.Header.Get("Content-Encoding") != "gzip" || len(sent)*5 > len(script) {
		t.Fatalf("%v %v, %d bytes of %d", err, answer.Header, len(sent), len(script))
	}
	plain, err := gzip.NewReader(bytes.NewReader(sent))
	if err != nil {
		t.Fatal(err)
	}
	if got, err := io.ReadAll(plain); err != nil || string(got) != script {
		t.Errorf("%v, %d bytes", err, len(got))
	}
}

// Nought that is asked for is nought, and not what is taken where nothing is asked: the instant of
// switch-on, and the first variant to compare with.
func TestNoughtIsAsked(t *testing.T) {
	file := handlamp(t)
	for query, want := range map[string]float64{"": 30, "?atS=0": 0, "?atS=45": 45} {
		var got struct{ AtS float64 }
		ask(t, "POST", "/api/solve"+query, file).read(t, &got)
		if got.AtS != want {
			t.Errorf("%q: figures at %g s", query, got.AtS)
		}
	}
	for query, want := range map[string]string{"?variant=1": "", "?variant=1&against=-1": "", "?variant=1&against=0": "Four cells, 1.5 A", "?variant=0&against=1": "Steps down when warm"} {
		var got struct {
			Beam struct{ Compare *struct{ With string } }
		}
		ask(t, "POST", "/api/light"+query, file).read(t, &got)
		if c := got.Beam.Compare; (c == nil) != (want == "") || c != nil && c.With != want {
			t.Errorf("%q is compared with %+v", query, c)
		}
	}
	for _, query := range []string{"?atS=-1", "?atS=x", "?against=20"} {
		if r := ask(t, "POST", "/api/light"+query, file); r.status != 422 {
			t.Errorf("%q: status %d", query, r.status)
		}
	}
}
