package main

import (
	"archive/zip"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"
)

// Everything goes out while the program runs, and comes in on another machine, the same
// in every byte; twice brought in it is there once, and what differs is said.
func TestExportAndImport(t *testing.T) {
	from := filepath.Join(t.TempDir(), "data")
	_, url := serving(t, from)
	var shelf struct{ Lights []struct{ ID string } }
	if err := json.Unmarshal([]byte(get(t, url+"/api/lights")), &shelf); err != nil || len(shelf.Lights) < 3 {
		t.Fatal(err, len(shelf.Lights))
	}
	id := shelf.Lights[0].ID
	light := regexp.MustCompile(`(?s)"light":(\{.*\})\}`).FindStringSubmatch(get(t, url+"/api/lights/"+id))[1]
	save := func(url string, base int, name string) {
		t.Helper()
		changed := regexp.MustCompile(`"name":"[^"]*"`).ReplaceAllString(light, `"name":"`+name+`"`)
		r, err := http.NewRequest(http.MethodPut, url+"/api/lights/"+id, strings.NewReader(changed))
		if err != nil {
			t.Fatal(err)
		}
		r.Header.Set("Content-Type", "application/json")
		r.Header.Set("If-Match", strconv.Itoa(base))
		answer, err := http.DefaultClient.Do(r)
		if err != nil || answer.StatusCode != http.StatusOK {
			t.Fatal(answer, err)
		}
		answer.Body.Close()
	}
	early, late := filepath.Join(from, "..", "early.zip"), filepath.Join(from, "..", "late.zip")
	out := func(dir, file string) string {
		t.Helper()
		if out, problems, code := call("export", file, "--data", dir); code != 0 || !strings.Contains(out, file) {
			t.Fatalf("exit %d: %s%s", code, out, problems)
		}
		return contents(t, file)
	}
	before := out(from, early)
	save(url, 1, "Second state")
	after := out(from, late)
	if before == after || !strings.Contains(after, "revisions/2.json") {
		t.Fatal("the archive does not show the change")
	}
	if _, problems, code := call("export", late, "--data", from); code != 1 || !strings.Contains(problems, "there already") {
		t.Errorf("an archive is written over: exit %d, %s", code, problems)
	}

	to := filepath.Join(t.TempDir(), "data")
	in := func(file, says string, options ...string) {
		t.Helper()
		out, problems, code := call(append([]string{"import", file, "--data", to}, options...)...)
		if code != 0 || !strings.Contains(out, says) {
			t.Fatalf("exit %d: %s%s; want %q", code, out, problems, says)
		}
	}
	things := strings.Count(before, "light.json") + strings.Count(before, "kept.json")
	in(early, strconv.Itoa(things)+" new, 0 brought on, 0 there already")
	in(early, "0 new, 0 brought on, "+strconv.Itoa(things)+" there already")
	in(late, "0 new, 1 brought on, "+strconv.Itoa(things-1)+" there already")
	in(early, "0 new, 0 brought on, "+strconv.Itoa(things)+" there already")
	if there := out(to, filepath.Join(to, "..", "again.zip")); there != after {
		t.Error("what came in is not what went out")
	}

	// Changed on both, neither is lost.
	_, there := serving(t, to)
	save(there, 2, "Third state, there")
	other := filepath.Join(to, "..", "other.zip")
	out(to, other)
	save(url, 2, "Third state, here")
	to = from
	in(other, "0 put beside.\nLeft out, it differs from what is there: light "+id)
	in(other, "1 put beside.\n", "--beside")
	in(other, "0 put beside.\n", "--beside")
	list := get(t, url+"/api/lights")
	for _, name := range []string{"Third state, here", "Third state, there (brought in)"} {
		if strings.Count(list, `"name":"`+name+`"`) != 1 {
			t.Errorf("%q is not on the shelf once: %s", name, list)
		}
	}
}

// contents is what an archive holds, in one text.
func contents(t *testing.T, file string) string {
	t.Helper()
	z, err := zip.OpenReader(file)
	if err != nil {
		t.Fatal(err)
	}
	defer z.Close()
	var all strings.Builder
	for _, f := range z.File {
		r, err := f.Open()
		if err != nil {
			t.Fatal(err)
		}
		data, err := io.ReadAll(r)
		if err != nil {
			t.Fatal(err)
		}
		fmt.Fprintf(&all, "%s\n%s\n", f.Name, data)
	}
	return all.String()
}
