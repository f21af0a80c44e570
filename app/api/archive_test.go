package api

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"
)

// zipped makes a zip of names and contents.
func zipped(t *testing.T, files ...string) string {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for i := 0; i < len(files); i += 2 {
		f, err := z.Create(files[i])
		if err != nil {
			t.Fatal(err)
		}
		if _, err := f.Write([]byte(files[i+1])); err != nil {
			t.Fatal(err)
		}
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	return b.String()
}

// What is no archive, or a made-up one, is refused in a sentence and stores nothing.
func TestOddArchives(t *testing.T) {
	const id, id2 = "aaaaaaaaaaaaaaaa", "bbbbbbbbbbbbbbbb"
	const at = `"createdAt":"2026-01-01T00:00:00Z","updatedAt":"2026-01-01T00:00:00Z"`
	const light = `{"id":"` + id + `","name":"n","progress":"idea",` + at + `,"revisions":[{"label":"","tab":"","createdAt":"2026-01-01T00:00:00Z"}]}`
	is := []string{"photherm.json", `{"format":"photherm/archive","version":1}`}
	with := func(files ...string) string { return zipped(t, append(is[:2:2], files...)...) }
	at1 := func(dir string) string { return "lights/" + dir + "/light.json" }
	document := "lights/" + id + "/revisions/1.json"
	for says, file := range map[string]string{
		"not a zip archive":          "PK not really",
		"not a whole one":            with(at1(id), light, document, handlamp(t))[:200],
		"not an archive of this":     zipped(t, "letter.txt", "hello"),
		"version 9":                  zipped(t, "photherm.json", `{"format":"photherm/archive","version":9}`),
		"light.json is not under":    with(at1(id), `[]`),
		"revisions/1.json is miss":   with(at1(id), light),
		"twice":                      with(at1(id), light, document, "{}", document, "{}"),
		"bbb/light.json is not":      with(at1(id2), light, document, "{}"),
		"x/light.json is miss":       with(at1("../x"), strings.ReplaceAll(light, id, "../x")),
		"a revision that is not":     with(at1(id), strings.Replace(light, `"label"`, `"undoTo":2,"label"`, 1), document, "{}"),
		"aaa/light.json is not und":  with(at1(id), strings.ReplaceAll(light, "2026-", "0000-"), document, "{}"),
		"aaa/kept.json is not under": with("cabinet/"+id+"/kept.json", `{"id":"`+id+`","revision":1,"kind":"cell","name":"n","stock":-1,`+at+`}`),
		"is not a document":          with(at1(id), light, document, "\xff"),
	} {
		r := ask(t, http.MethodPost, "/api/archive", file, "Content-Type", "application/zip")
		if r.status != http.StatusUnprocessableEntity || !strings.Contains(string(r.body), says) || !strings.Contains(string(r.body), "Nothing was brought in") {
			t.Errorf("%q: %d %s", says, r.status, r.body)
		}
	}
	for _, path := range []string{"/api/lights/" + id, "/api/lights/" + id2} {
		if r := ask(t, http.MethodGet, path, ""); r.status != http.StatusNotFound {
			t.Errorf("%s: %d %s", path, r.status, r.body)
		}
	}

	// One that cannot be read by this program comes in as it is, and is shown so.
	r := ask(t, http.MethodPost, "/api/archive", with(at1(id), light, document, `{"from":"later"}`), "Content-Type", "application/zip")
	if lines := steps(t, r); len(lines) != 3 || lines[1].Done != 1 || lines[2].Report == nil || lines[2].Report.Added != 1 {
		t.Errorf("%d %s", r.status, r.body)
	}
	if r := ask(t, http.MethodGet, "/api/lights/"+id+"/raw", ""); string(r.body) != `{"from":"later"}` {
		t.Errorf("%d %s", r.status, r.body)
	}
	if r := ask(t, http.MethodGet, "/api/lights/"+id+"/file", ""); r.status != http.StatusUnprocessableEntity {
		t.Errorf("%d %s", r.status, r.body)
	}
}

func steps(t *testing.T, r reply) (lines []ArchiveStep) {
	t.Helper()
	for d := json.NewDecoder(bytes.NewReader(r.body)); d.More(); {
		var s ArchiveStep
		if err := d.Decode(&s); err != nil {
			t.Fatalf("%d %s: %v", r.status, r.body, err)
		}
		lines = append(lines, s)
	}
	return lines
}

// A light taken out as a file is the light, under its name; what goes out of the page
// comes back into it once.
func TestTakeOut(t *testing.T) {
	var made StoredLight
	ask(t, http.MethodPost, "/api/lights", strings.Replace(handlamp(t), "Shore-search handlamp", "Taken: out/1", 1)).read(t, &made)
	r := ask(t, http.MethodGet, "/api/lights/"+made.ID+"/file", "")
	var file bytes.Buffer
	if err := json.Compact(&file, r.body); err != nil {
		t.Fatal(err)
	}
	if r.status != http.StatusOK || file.String() != string(made.Light) || r.header.Get("Content-Disposition") != `attachment; filename="Taken  out 1.json"` {
		t.Errorf("%d %v %.80s", r.status, r.header, r.body)
	}
	everything := ask(t, http.MethodGet, "/api/archive", "")
	if everything.status != http.StatusOK || !strings.HasPrefix(everything.header.Get("Content-Disposition"), `attachment; filename="photherm-2`) {
		t.Fatal(everything.status, everything.header)
	}
	before := ask(t, http.MethodGet, "/api/lights", "").body
	last := steps(t, ask(t, http.MethodPost, "/api/archive?beside=true", string(everything.body), "Content-Type", "application/zip"))
	report := last[len(last)-1].Report
	if report == nil || report.There < 1 || report.Added+report.Continued+report.Copied+len(report.Differing) != 0 {
		t.Errorf("%+v", report)
	}
	var shelf, again Shelf
	if err := json.Unmarshal(before, &shelf); err != nil {
		t.Fatal(err)
	}
	if ask(t, http.MethodGet, "/api/lights", "").read(t, &again); again.Total != shelf.Total {
		t.Error(fmt.Sprint("the shelf had ", shelf.Total, " lights and has ", again.Total))
	}
}
