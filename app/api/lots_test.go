package api

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"strings"
	"testing"
)

const fewCells = `{"format":"photherm/lot","version":1,"name":"A few cells","chemistry":"li-ion-4.2","size":"18650","rules":{},"cells":[
{"label":"1","measuredAh":2.1,"resistanceOhm":0.05,"restingV":4.1,"restDays":8},{"label":"2","measuredAh":2.0,"resistanceOhm":0.06,"restingV":4.1,"restDays":8},
{"label":"3","measuredAh":1.9,"resistanceOhm":0.05,"restingV":4.1,"restDays":8},{"label":"4","measuredAh":2.2,"resistanceOhm":0.3,"restingV":4.1,"restDays":8}]}`

// A lot is kept, graded, changed on its revision, binned and taken back; it is no part; it goes
// into the archive; a pack is made of it, or a sentence says why not.
func TestLots(t *testing.T) {
	var l CellLot
	made := ask(t, "POST", "/api/lots", fewCells)
	made.read(t, &l)
	if made.status != 201 || l.Revision != 1 || len(l.Grades) != 4 || l.Grades[0].Grade != "A" || l.Grades[3].Grade != "reject" {
		t.Fatalf("%d %s", made.status, made.body)
	}
	path := "/api/lots/" + l.ID
	if r := ask(t, "PUT", path, strings.Replace(fewCells, "A few", "Few", 1), "If-Match", `"1"`); r.status != 200 || r.header.Get("ETag") != `"2"` {
		t.Errorf("changed: %d %s", r.status, r.body)
	}
	for what, c := range map[string]struct {
		status int
		says   string
		r      reply
	}{
		"an old revision":   {412, "changed elsewhere", ask(t, "PUT", path, fewCells, "If-Match", "1")},
		"twice one label":   {422, "two cells called", ask(t, "PUT", path, strings.Replace(fewCells, `"label":"2"`, `"label":"1"`, 1), "If-Match", "2")},
		"an odd look":       {422, "", ask(t, "POST", "/api/lots", strings.Replace(fewCells, `"label":"2"`, `"label":"2","look":"odd"`, 1))},
		"a primary":         {422, "", ask(t, "POST", "/api/lots", strings.Replace(fewCells, "li-ion-4.2", "alkaline", 1))},
		"of a newer":        {422, "newer Photherm", ask(t, "POST", "/api/lots", strings.Replace(fewCells, `"version":1`, `"version":9`, 1))},
		"nobody":            {404, "", ask(t, "GET", "/api/lots/aaaaaaaaaaaaaaaa", "")},
		"more than will do": {422, "3 of this lot will do", ask(t, "POST", "/api/lots/group?series=2&parallel=2", fewCells)},
		"no cell at all":    {422, "0 of this lot will do", ask(t, "POST", "/api/lots/group?series=1&parallel=1", `{"format":"photherm/lot","version":1,"name":"x","chemistry":"nimh","rules":{},"cells":[]}`)},
		"no table":          {422, "heading", ask(t, "POST", "/api/lots/read", `{"text":"1;2;3"}`)},
	} {
		if c.r.status != c.status || !strings.Contains(string(c.r.body), c.says) {
			t.Errorf("%s: %d %s", what, c.r.status, c.r.body)
		}
	}
	var pack LotPack
	ask(t, "POST", "/api/lots/group?series=3&parallel=1", fewCells).read(t, &pack)
	if pack.Grouped.WeakestAh != 1.9 || len(pack.Groups) != 3 || *pack.Groups[0].Cells[0].CapacityAh != 1.9 || pack.Part.CapacityAh != 2.0 || !pack.Grouped.AllProven {
		t.Errorf("%+v", pack)
	}
	for _, o := range pack.Instead {
		if o.Ah < 1.9-1e-9 || o.Cells%3 != 0 {
			t.Errorf("instead: %+v", o)
		}
	}
	listed := func(query string) bool {
		var list []CellLot
		ask(t, "GET", "/api/lots"+query, "").read(t, &list)
		for _, e := range list {
			if e.ID == l.ID {
				return true
			}
		}
		return false
	}
	if !listed("") || ask(t, "DELETE", path, "").status != 204 || listed("") || !listed("?bin=true") || ask(t, "POST", path+"/restore", "").status != 204 || !listed("") {
		t.Error("the bin does not keep it")
	}
	if parts := ask(t, "GET", "/api/cabinet", ""); strings.Contains(string(parts.body), l.ID) {
		t.Error("a lot is listed among the parts")
	}
	all := ask(t, "GET", "/api/archive", "")
	z, err := zip.NewReader(bytes.NewReader(all.body), int64(len(all.body)))
	if err != nil {
		t.Fatal(err)
	}
	f, err := z.Open("cabinet/" + l.ID + "/part.json")
	if err != nil {
		t.Fatalf("it is not in the archive: %v", err)
	}
	var kept struct {
		Name  string
		Cells []json.RawMessage
	}
	if err := json.NewDecoder(f).Decode(&kept); err != nil || kept.Name != "Few cells" || len(kept.Cells) != 4 {
		t.Errorf("%+v, %v", kept, err)
	}
	if r := ask(t, "POST", "/api/archive", string(all.body), "Content-Type", "application/zip"); r.status != 200 || strings.Contains(string(r.body), l.ID) {
		t.Errorf("brought in again: %d %.300s", r.status, r.body)
	}
}
