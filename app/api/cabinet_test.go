package api

import (
	"database/sql"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"photherm/app/solution"
	"photherm/core/array"
	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/emitter"
	"photherm/core/search"
	"photherm/core/setup"
	"photherm/examples"
)

const newDriver = `{"stock": 3, "part": {"id": "x", "name": "Test step-down", "driver": {"family": "buck", "minCurrentA": 0.1, "maxCurrentA": 3, "headroomV": 1, "inputMinV": 5, "inputMaxV": 30, "efficiency": 0.9}}}`

// A part is put in, changed on its revision, refused on an old one, binned and taken
// back; what is wrong with it is named by field.
func TestCabinet(t *testing.T) {
	var p CabinetPart
	made := ask(t, "POST", "/api/cabinet", newDriver)
	made.read(t, &p)
	if made.status != 201 || p.Revision != 1 || p.Stock != 3 || p.Part.ID != "part" || len(p.Lacks) != 2 {
		t.Fatalf("%d %s", made.status, made.body)
	}
	path := "/api/cabinet/" + p.ID
	if r := ask(t, "PUT", path, strings.Replace(newDriver, `"stock": 3`, `"stock": 2`, 1), "If-Match", `"1"`); r.status != 200 || r.header.Get("ETag") != `"2"` {
		t.Errorf("changed: %d %s", r.status, r.body)
	}
	for what, r := range map[string]reply{
		"an old revision": ask(t, "PUT", path, newDriver, "If-Match", "1"),
		"no revision":     ask(t, "PUT", path, newDriver),
		"not a revision":  ask(t, "PUT", path, newDriver, "If-Match", "newest"),
		"an odd family":   ask(t, "PUT", path, strings.Replace(newDriver, "buck", "magic", 1), "If-Match", "2"),
		"negative stock":  ask(t, "PUT", path, strings.Replace(newDriver, `"stock": 3`, `"stock": -1`, 1), "If-Match", "2"),
		"nobody":          ask(t, "PUT", "/api/cabinet/aaaaaaaaaaaaaaaa", newDriver, "If-Match", "1"),
	} {
		want := map[string]int{"an old revision": 412, "nobody": 404}[what]
		if want == 0 {
			want = 422
		}
		if r.status != want {
			t.Errorf("%s: %d %s", what, r.status, r.body)
		}
		if what == "an odd family" && !strings.Contains(string(r.body), `"location":"/part/driver/family"`) {
			t.Errorf("the field is not named: %s", r.body)
		}
	}
	listed := func(query string) bool {
		var list []CabinetPart
		ask(t, "GET", "/api/cabinet"+query, "").read(t, &list)
		for _, e := range list {
			if e.ID == p.ID {
				return true
			}
		}
		return false
	}
	if ask(t, "DELETE", path, "").status != 204 || listed("") || !listed("?bin=true") || ask(t, "POST", path+"/restore", "").status != 204 || !listed("?kind=driver") || listed("?kind=cell") {
		t.Error("bin and back")
	}
	if r := ask(t, "DELETE", "/api/cabinet/aaaaaaaaaaaaaaaa", ""); r.status != 404 {
		t.Errorf("binning nothing: %d", r.status)
	}
}

// A light that took a copy is named where the part is used, and whether its copy
// still is the same.
func TestWhereUsed(t *testing.T) {
	var p CabinetPart
	ask(t, "POST", "/api/cabinet", strings.Replace(newDriver, "Test step-down", "Used step-down", 1)).read(t, &p)
	light, err := design.Decode([]byte(handlamp(t)))
	if err != nil {
		t.Fatal(err)
	}
	light.Name = "Light with a copy"
	light.Parts[1] = p.Part
	light.Parts[1].ID, light.Parts[1].Origin = "driver", &design.Origin{ID: p.ID, Hash: p.Hash}
	body, err := design.Encode(light)
	if err != nil {
		t.Fatal(err)
	}
	if r := ask(t, "POST", "/api/lights", string(body)); r.status != 201 {
		t.Fatalf("%d %s", r.status, r.body)
	}
	use := func() []PartUse {
		var list []CabinetPart
		ask(t, "GET", "/api/cabinet?kind=driver", "").read(t, &list)
		for _, e := range list {
			if e.ID == p.ID {
				return e.UsedIn
			}
		}
		return nil
	}
	if u := use(); len(u) != 1 || u[0].Name != "Light with a copy" || u[0].Changed {
		t.Errorf("used in %+v", u)
	}
	ask(t, "PUT", "/api/cabinet/"+p.ID, strings.Replace(newDriver, `"headroomV": 1`, `"headroomV": 2`, 1), "If-Match", "1")
	if u := use(); len(u) != 1 || !u[0].Changed {
		t.Errorf("after a change in the cabinet: %+v", u)
	}
}

// The shelf shows summaries written once a revision, in pages; a document that cannot be
// read is one row that says so, with its text to take away, and all else goes on.
func TestShelf(t *testing.T) {
	file := handlamp(t)
	var made StoredLight
	ask(t, "POST", "/api/lights", strings.Replace(file, "Shore-search handlamp", "Summed up", 1)).read(t, &made)
	row := func(id string) *ShelfLight {
		t.Helper()
		for offset := 0; ; offset += 2 {
			var page Shelf
			ask(t, "GET", fmt.Sprintf("/api/lights?limit=2&offset=%d", offset), "").read(t, &page)
			for i := range page.Lights {
				if page.Lights[i].ID == id {
					return &page.Lights[i]
				}
			}
			if offset+2 >= page.Total || len(page.Lights) != 2 {
				t.Fatalf("light %s is on no page of %d", id, page.Total)
			}
		}
	}
	summed := func(id string, revision int) *ShelfLight {
		t.Helper()
		for range 200 {
			if r := row(id); r.Current && r.Revision == revision {
				return r
			}
			time.Sleep(50 * time.Millisecond)
		}
		t.Fatalf("no summary of revision %d of %s", revision, id)
		return nil
	}
	first := summed(made.ID, 1)
	var glance solution.Solution
	ask(t, "GET", "/api/lights/"+made.ID+"/glance", "").read(t, &glance)
	if a := first.Summary.Answers; *a.FluxLm != *glance.Answers.FluxLm || *a.HalfS != *glance.Answers.HalfS || first.Summary.InputW != glance.Figures[solution.Total]["inputW"] || first.Summary.Worst.Title != glance.Findings[0].Title {
		t.Errorf("summary %+v, glance %+v", first.Summary, glance.Answers)
	}
	ask(t, "PUT", "/api/lights/"+made.ID, strings.ReplaceAll(file, `"setCurrentA": 1.5`, `"setCurrentA": 0.5`), "If-Match", `"1"`)
	if second := summed(made.ID, 2); !(*second.Summary.Answers.FluxLm < 0.6**first.Summary.Answers.FluxLm) {
		t.Errorf("at a third of the current %g lm after %g lm", *second.Summary.Answers.FluxLm, *first.Summary.Answers.FluxLm)
	}
	db, err := sql.Open("mysql", address)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if _, err := db.Exec(`UPDATE revisions SET document = '{"format": "broken' WHERE light_id = ?`, made.ID); err != nil {
		t.Fatal(err)
	}
	if _, err := db.Exec(`DELETE FROM summaries WHERE light_id = ?`, made.ID); err != nil {
		t.Fatal(err)
	}
	var other StoredLight
	ask(t, "POST", "/api/lights", file).read(t, &other) // wakes the writer
	if r := summed(made.ID, 2); r.Summary.Unreadable == "" || r.Summary.Answers != nil || summed(other.ID, 1).Summary.Answers == nil {
		t.Errorf("a broken document: %+v", r.Summary)
	}
	if r := ask(t, "GET", "/api/lights/"+made.ID, ""); r.status != 422 || !strings.Contains(string(r.body), "kept as it is") {
		t.Errorf("opened: %d %s", r.status, r.body)
	}
	if r := ask(t, "GET", "/api/lights/"+made.ID+"/raw", ""); r.status != 200 || string(r.body) != `{"format": "broken` {
		t.Errorf("its text: %d %s", r.status, r.body)
	}
	// The cabinet goes on beside a part that cannot be read, and gives out its text.
	var broken CabinetPart
	ask(t, "POST", "/api/cabinet", `{"stock":2,"part":{"id":"p","name":"Broken row","cell":{"chemistry":"nimh","capacityAh":1,"resistanceOhm":0.02}}}`).read(t, &broken)
	if _, err := db.Exec(`UPDATE cabinet SET document = '{"name": 7' WHERE id = ?`, broken.ID); err != nil {
		t.Fatal(err)
	}
	defer func() { ask(t, "DELETE", "/api/cabinet/"+broken.ID, "") }()
	var cabinet []CabinetPart
	ask(t, "GET", "/api/cabinet?kind=cell", "").read(t, &cabinet)
	if i := slices.IndexFunc(cabinet, func(p CabinetPart) bool { return p.ID == broken.ID }); i < 0 || cabinet[i].Unreadable == "" || cabinet[i].Part.Name != "Broken row" || cabinet[i].Stock != 2 {
		t.Errorf("a broken part: %+v", cabinet)
	}
	if r := ask(t, "GET", "/api/cabinet/"+broken.ID+"/raw", ""); r.status != 200 || string(r.body) != `{"name": 7` {
		t.Errorf("its text: %d %s", r.status, r.body)
	}
	for _, path := range []string{"/api/cabinet.csv", "/api/cabinet.json"} {
		if r := ask(t, "GET", path, ""); r.status != 200 || strings.Contains(string(r.body), "Broken row") {
			t.Errorf("%s: %d %s", path, r.status, r.body)
		}
	}
	if r := ask(t, "PUT", "/api/cabinet/"+broken.ID, `{"stock":2,"part":{"id":"p","name":"Mended","cell":{"chemistry":"nimh","capacityAh":1,"resistanceOhm":0.02}}}`, "If-Match", "1"); r.status != 200 {
		t.Errorf("mended: %d %s", r.status, r.body)
	}
	if r := ask(t, "GET", "/api/cabinet", ""); r.status != 200 {
		t.Errorf("the cabinet: %d %s", r.status, r.body)
	}
	ask(t, "DELETE", "/api/lights/"+made.ID, "")
}

// Files of parts go out and come in whole or not at all; what is there already does not
// come twice.
func TestImportAndExport(t *testing.T) {
	count := func() int {
		var list []CabinetPart
		ask(t, "GET", "/api/cabinet", "").read(t, &list)
		return len(list)
	}
	before := count()
	bad := ask(t, "POST", "/api/cabinet/import", "kind,name,stock,driver.family\ndriver,good,1,none\ndriver,bad,1,magic\n", "Content-Type", "text/csv")
	if bad.status != 422 || !strings.Contains(string(bad.body), "line 3, column driver.family") || count() != before {
		t.Errorf("%d %s, %d parts more", bad.status, bad.body, count()-before)
	}
	if r := ask(t, "POST", "/api/cabinet/import?format=json", "[", "Content-Type", "application/octet-stream"); r.status != 422 {
		t.Errorf("half a list: %d %s", r.status, r.body)
	}
	good := ask(t, "POST", "/api/cabinet/import?format=json", string(examples.Cabinet), "Content-Type", "application/octet-stream")
	var came Imported
	good.read(t, &came)
	in := came.Added
	if len(in) < 20 || count() != before+len(in) {
		t.Errorf("%d parts came in, %d more stand there", len(in), count()-before)
	}
	csv := ask(t, "GET", "/api/cabinet.csv", "")
	again := ask(t, "POST", "/api/cabinet/import", string(csv.body), "Content-Type", "text/csv")
	if again.status != 200 || !strings.Contains(string(again.body), fmt.Sprintf(`"added":[],"there":%d`, before+len(in))) || count() != before+len(in) {
		t.Errorf("what goes out comes in again: %d %s, %d parts after %d", again.status, again.body, count(), before+len(in))
	}
}

// The questions of the workbenches, over HTTP: each answers for a good light, and
// says in words what is wrong with a bad question.
func TestQuestions(t *testing.T) {
	file := handlamp(t)
	ask(t, "POST", "/api/cabinet", strings.Replace(newDriver, "Test step-down", "Matching step-down", 1))
	var drivers, emitters, cells []search.Candidate
	ask(t, "POST", "/api/match/drivers?node=driver", file).read(t, &drivers)
	found := false
	for _, m := range drivers {
		found = found || (m.Part.Name == "Matching step-down" && m.Fit == search.Fits && m.Cabinet != "" && m.Stock == 3)
	}
	if !found || drivers[0].Fit != search.Fits || (drivers[len(drivers)-1].Fit == search.No && drivers[len(drivers)-1].Why == "") {
		t.Errorf("%d drivers, first %+v", len(drivers), drivers[0])
	}
	ask(t, "POST", "/api/match/emitters?node=driver&array=emitters", file).read(t, &emitters)
	if len(emitters) == 0 || emitters[0].Series == 0 || emitters[0].FluxLm == nil {
		t.Errorf("emitters %+v", emitters)
	}
	ask(t, "POST", "/api/match/cells?feed=power&size=18650", file).read(t, &cells)
	for _, c := range cells {
		if c.Part.Cell.Size != "18650" || (c.Fit == search.Fits) != (c.Why == "") {
			t.Errorf("cell %+v", c)
		}
	}
	var plan setup.Plan
	ask(t, "POST", "/api/setup?node=driver&drawer=1,+2.2,4.7", file).read(t, &plan)
	if len(plan.Procedures) != 1 || len(plan.Line) != 3 {
		t.Errorf("plan %+v", plan)
	}
	var ratios []search.Ratio
	ask(t, "POST", "/api/ratios?array=emitters", file).read(t, &ratios)
	if len(ratios) != 3 || ratios[2].LmPerW <= ratios[0].LmPerW {
		t.Errorf("ratios %+v", ratios)
	}
	var shares []chain.Sharing
	ask(t, "POST", "/api/sharing", file).read(t, &shares)
	if len(shares) != 1 || shares[0].EvenA < 1.49 {
		t.Errorf("sharing %+v", shares)
	}
	strip, err := examples.Files.ReadFile("chart-table-strip.json")
	if err != nil {
		t.Fatal(err)
	}
	var runs []array.Run
	ask(t, "POST", "/api/strip?node=table&variant=1", string(strip)).read(t, &runs)
	if len(runs) != 1 || runs[0].Segments != 49 || len(runs[0].Along) != 49 || runs[0].AskedM != 3.5 || runs[0].FarLight >= runs[0].Along[0].Light {
		t.Errorf("cut list %+v", runs)
	}
	light, err := design.Decode([]byte(file))
	if err != nil {
		t.Fatal(err)
	}
	part, err := json.Marshal(light.Parts[2])
	if err != nil {
		t.Fatal(err)
	}
	var sheet emitter.Sheet
	ask(t, "POST", "/api/emitter", string(part)).read(t, &sheet)
	if len(sheet.Fit.ResidualV) != len(light.Parts[2].Emitter.Forward) || len(sheet.Curve) != 80+1 || sheet.LmPerW == nil || sheet.Colour != nil {
		t.Errorf("sheet %+v", sheet)
	}
	white := strings.Replace(string(part), `"radiationEfficacyLmPerW":320`, `"spectrum":{"whiteK":4000}`, 1)
	ask(t, "POST", "/api/emitter", white).read(t, &sheet)
	if c := sheet.Colour; c == nil || c.TemperatureK == nil || *c.TemperatureK < 3960 || *c.TemperatureK > 4040 || c.Ra == nil || *c.Ra < 70 || *c.Ra > 100 {
		t.Errorf("a white of 4000 K: %+v", sheet.Colour)
	}
	driver, err := json.Marshal(light.Parts[1])
	if err != nil {
		t.Fatal(err)
	}
	for path, body := range map[string]string{
		"/api/match/drivers?node=emitters":                            file,
		"/api/strip?node=emitters":                                    file,
		"/api/plane?node=emitters":                                    file,
		"/api/match/emitters?node=driver&array=driver":                file,
		"/api/match/cells?feed=nowhere":                               file,
		"/api/setup?node=emitters":                                    file,
		"/api/setup?node=driver&drawer=1,many":                        file,
		"/api/setup?node=driver&series=E13":                           file,
		"/api/ratios?array=driver":                                    file,
		"/api/ratios?array=emitters&variant=7":                        file,
		"/api/match/drivers?node=driver&variant=3":                    file,
		"/api/emitter":                                                string(driver),
		"/api/emitter?x=1":                                            string(part),
		"/api/sharing":                                                strings.Replace(file, `"series": 3`, `"series": 0`, 1),
		"/api/setup?node=driver&drawer=1&shutterS=-1":                 file,
		"/api/match/cells?feed=power&size=" + fmt.Sprintf("%040d", 1): file,
	} {
		r := ask(t, "POST", path, body)
		var problem struct{ Detail string }
		r.read(t, &problem)
		if r.status != 422 || problem.Detail == "" {
			t.Errorf("%s: %d %s", path, r.status, r.body)
		}
	}
}
