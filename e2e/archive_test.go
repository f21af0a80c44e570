package e2e

import (
	"archive/zip"
	"bytes"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// Everything is taken out from the shelf and brought in again; what has changed both here
// and there is asked about, and put beside.
func TestTakeOutAndBringIn(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Taken out")
	p := open(t, "/")
	p.sees("Taken out")
	archive := func(name string) string {
		t.Helper()
		got := p.Browser().MustWaitDownload()
		p.press("button", "Take everything out")
		file := filepath.Join(t.TempDir(), name)
		if err := os.WriteFile(file, got(), 0o600); err != nil {
			t.Fatal(err)
		}
		p.until("that all of it came", `() => { const m = /(\d+) of (\d+) lights and parts are in photherm-/.exec(document.body.innerText); return m !== null && Number(m[1]) > 5 && m[1] === m[2] }`)
		return file
	}
	bring := func(file string) {
		t.Helper()
		if err := p.MustElement("input[aria-label='Light file or archive']").SetFiles([]string{file}); err != nil {
			t.Fatal(err)
		}
	}
	first := archive("first.zip")
	bring(first)
	p.sees("0 new")
	p.sees("there already")
	p.press("[role=alert] button", "Close")

	// The same light from another machine, where its first state is another.
	other := filepath.Join(t.TempDir(), "other.zip")
	rewritten(t, first, other, "lights/"+id+"/", "Taken out", "Taken elsewhere")
	bring(other)
	p.sees("Left out, since it differs from what is here under the same id: Taken elsewhere (light)")
	p.press("[role=alert] button", "Put beside what is here")
	p.sees("1 put beside")
	p.sees("Taken elsewhere (brought in)")

	got := p.Browser().MustWaitDownload()
	p.press("a[aria-label='Light file of Taken out']", "File")
	file := filepath.Join(t.TempDir(), "one.json")
	if err := os.WriteFile(file, got(), 0o600); err != nil {
		t.Fatal(err)
	}
	bring(file)
	p.until("the light's page", `() => location.pathname.startsWith('/lights/') && !location.pathname.includes('`+id+`')`)
	p.until("its name", `() => document.querySelector("input[aria-label='Name of the light']")?.value === 'Taken out'`)

	p = open(t, "/")
	notes := filepath.Join(t.TempDir(), "notes.zip")
	if err := os.WriteFile(notes, []byte("no zip at all"), 0o600); err != nil {
		t.Fatal(err)
	}
	p.expectTrouble(true)
	bring(notes)
	p.sees("Nothing was brought in")
}

// rewritten copies an archive, with a text replaced in all files below a folder.
func rewritten(t *testing.T, from, to, folder, was, is string) {
	t.Helper()
	r, err := zip.OpenReader(from)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	out, err := os.Create(to)
	if err != nil {
		t.Fatal(err)
	}
	defer out.Close()
	w := zip.NewWriter(out)
	for _, f := range r.File {
		in, err := f.Open()
		if err != nil {
			t.Fatal(err)
		}
		data, err := io.ReadAll(in)
		if err != nil {
			t.Fatal(err)
		}
		if strings.HasPrefix(f.Name, folder) {
			data = bytes.ReplaceAll(data, []byte(was), []byte(is))
		}
		target, err := w.Create(f.Name)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := target.Write(data); err != nil {
			t.Fatal(err)
		}
	}
	if err := w.Close(); err != nil {
		t.Fatal(err)
	}
}
