package api

import (
	"bufio"
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"
)

// follow reads events until one is as wanted.
func follow(t *testing.T, path string, wanted func(event, data string) bool) {
	t.Helper()
	client := http.Client{Timeout: 30 * time.Second}
	response, err := client.Get(running.URL + path)
	if err != nil {
		t.Fatal(err)
	}
	defer response.Body.Close()
	if kind := response.Header.Get("Content-Type"); kind != "text/event-stream" {
		t.Fatalf("%d %s", response.StatusCode, kind)
	}
	event := ""
	lines := bufio.NewScanner(response.Body)
	for lines.Scan() {
		if e, ok := strings.CutPrefix(lines.Text(), "event: "); ok {
			event = e
		}
		if data, ok := strings.CutPrefix(lines.Text(), "data: "); ok && wanted(event, data) {
			return
		}
	}
	t.Fatal("the events ended before")
}

// Stand-ins are logged as the light warms up, at sixty times its pace; the rows come as events from
// any of them on; it is marked, stopped, written on, and goes out with its marks.
func TestLiveLog(t *testing.T) {
	var light struct{ ID string }
	ask(t, "POST", "/api/lights", handlamp(t)).read(t, &light)
	var ins StandIns
	ask(t, "POST", "/api/bench/standins?seed=3", handlamp(t)).read(t, &ins)
	path := "/api/lights/" + light.ID + "/logs"
	channels := `[{"name":"Housing","quantity":"temperature","meter":"thermocouple","probe":{"owner":"housing","figure":"bodyC","when":"cold","charge":1,"s":0,"over":false}},` +
		`{"name":"Draw","quantity":"current","meter":"multimeter-a","probe":{"owner":"power","figure":"busA","when":"cold","charge":1,"s":0,"over":false}}]`
	begin := func(body string) reply { t.Helper(); return ask(t, "POST", path+"/live", body) }
	body := fmt.Sprintf(`{"name":"Warm-up","everyS":6,"pace":60,"room":%q,"channels":%s}`, ins.ID, channels)
	made := begin(body)
	var log BenchLog
	made.read(t, &log)
	if made.status != 201 || log.State != "running" || log.Pace != 60 || len(log.Channels) != 2 || len(log.Marks) != 1 {
		t.Fatalf("%d %s", made.status, made.body)
	}
	one := path + "/" + log.ID
	seq := 0
	var first, last LiveRow
	follow(t, one+"/follow", func(event, data string) bool {
		if event != "rows" {
			return false
		}
		var rows LiveRows
		if err := json.Unmarshal([]byte(data), &rows); err != nil {
			t.Fatal(err)
		}
		for _, r := range rows.Rows {
			if r.Seq != seq+1 {
				t.Fatalf("row %d after %d", r.Seq, seq)
			}
			if seq = r.Seq; seq == 1 {
				first = r
			}
			last = r
		}
		return seq >= 20
	})
	if last.S-first.S < 60 || *last.Values[0] < *first.Values[0] || *last.Values[1] <= 0 {
		t.Errorf("from %+v to %+v", first, last)
	}
	if r := begin(body); r.status != 422 || !strings.Contains(string(r.body), "logged already") {
		t.Errorf("logged twice at once: %d %s", r.status, r.body)
	}
	if r := ask(t, "POST", "/api/bench/standins/"+ins.ID+"?fault=dry-joint", ""); r.status != 204 {
		t.Errorf("%d %s", r.status, r.body)
	}
	if r := ask(t, "POST", one+"/mark", `{"s":0,"text":"fan off"}`); r.status != 204 {
		t.Errorf("%d %s", r.status, r.body)
	}
	told := false
	follow(t, fmt.Sprintf("%s/follow?after=%d", one, seq), func(event, data string) bool {
		var rows LiveRows
		if event == "rows" && !told {
			if err := json.Unmarshal([]byte(data), &rows); err != nil || rows.Rows[0].Seq != seq+1 {
				t.Errorf("%s", data)
			}
			told = true
		}
		return strings.Contains(data, "fan off") && event == "log"
	})
	var series LogSeries
	ask(t, "GET", one, "").read(t, &series)
	if series.Seq < seq || len(series.S) < 20 {
		t.Errorf("%d rows of %d", len(series.S), series.Seq)
	}
	ask(t, "POST", one+"/stop", "").read(t, &log)
	if log.State != "stopped" || log.Readings < seq {
		t.Errorf("%+v", log)
	}
	// One that is not written says what it is, and that is all: rows before what is known are told as a gap.
	follow(t, one+"/follow", func(event, data string) bool {
		return event == "rows" && strings.Contains(data, `"gap":true`)
	})
	ask(t, "POST", one+"/resume", "").read(t, &log)
	if log.State != "running" {
		t.Errorf("%+v", log)
	}
	n := log.Readings
	follow(t, fmt.Sprintf("%s/follow?after=%d", one, n), func(event, data string) bool { return event == "rows" && strings.Contains(data, "seq") })
	ask(t, "POST", one+"/stop", "").read(t, &log)
	csv := string(ask(t, "GET", one+"/csv", "").body)
	if !strings.HasPrefix(csv, "time (s),Housing (°C),Draw (A),mark\n") || !strings.Contains(csv, ",switched on\n") || !strings.Contains(csv, "fan off") {
		t.Errorf("%.200s", csv)
	}
	// Brought in again it is the same, with its marks; and cannot be written on.
	var again BenchLog
	ask(t, "POST", path+"?name=again", csv, "Content-Type", "text/csv").read(t, &again)
	if again.Readings != log.Readings || len(again.Marks) < 2 || !strings.HasSuffix(again.Marks[len(again.Marks)-1].Text, "fan off") || !strings.Contains(csv, "off, dry joint put in, on again") || again.Channels[1].Quantity != "current" || again.State != "kept" {
		t.Errorf("%+v", again)
	}
	if r := ask(t, "POST", path+"/"+again.ID+"/resume", ""); r.status != 409 {
		t.Errorf("%d %s", r.status, r.body)
	}
	load := ask(t, "POST", "/api/bench/standins/"+ins.ID+"?loadA=1", "")
	loaded := begin(fmt.Sprintf(`{"name":"Run down","everyS":60,"pace":600,"room":%q,"channels":[{"name":"V","quantity":"voltage","meter":"electronic-load"},{"name":"A","quantity":"current","meter":"electronic-load"}]}`, ins.ID))
	if load.status != 204 || loaded.status != 201 {
		t.Fatalf("%d %s", loaded.status, loaded.body)
	}
	loaded.read(t, &log)
	follow(t, path+"/"+log.ID+"/follow", func(event, data string) bool {
		var rows LiveRows
		if event != "rows" || json.Unmarshal([]byte(data), &rows) != nil || len(rows.Rows) == 0 {
			return false
		}
		v := rows.Rows[0].Values
		if v[0] == nil || *v[0] < 12 || *v[0] > 17 || v[1] == nil || *v[1] < 0.9 || *v[1] > 1.1 {
			t.Errorf("%s", data)
		}
		return true
	})
	ask(t, "POST", path+"/"+log.ID+"/stop", "")
	for what, c := range map[string]struct {
		status int
		says   string
		r      reply
	}{
		"too fast":             {422, "every 6 s at least", begin(strings.Replace(body, `"everyS":6`, `"everyS":2`, 1))},
		"no room":              {404, "gone", begin(strings.Replace(body, ins.ID, "elsewhere", 1))},
		"stand-in of nowhere":  {422, "needs its room", begin(strings.Replace(body, `"room":"`+ins.ID+`",`, "", 1))},
		"one read twice":       {422, "one of it", begin(strings.Replace(body, "multimeter-a", "thermocouple", 1))},
		"no leads":             {422, "nowhere", begin(fmt.Sprintf(`{"name":"x","everyS":6,"pace":60,"room":%q,"channels":[{"name":"V","quantity":"voltage","meter":"multimeter-v"}]}`, ins.ID))},
		"no stand-in":          {422, "no stand-in", begin(strings.Replace(body, "multimeter-a", "hammer", 1))},
		"not allowed":          {422, "may not be spoken to", begin(`{"name":"x","everyS":1,"channels":[{"name":"V","quantity":"voltage","address":"198.51.100.1:5025"}]}`)},
		"a real one in a rush": {422, "cannot be made to run faster", begin(`{"name":"x","everyS":10,"pace":10,"channels":[{"name":"V","quantity":"voltage","address":"127.0.0.1:5025"}]}`)},
		"no channel":           {422, "", begin(`{"name":"x","everyS":1,"channels":[]}`)},
		"of no light":          {404, "", ask(t, "POST", "/api/lights/zzzzzzzzzzzzzzzz/logs/live", body)},
		"mark of nothing":      {422, "", ask(t, "POST", one+"/mark", `{"s":0,"text":""}`)},
		"no such fault":        {422, "elves", ask(t, "POST", "/api/bench/standins/"+ins.ID+"?fault=elves", "")},
		"a load of words":      {422, "no current", ask(t, "POST", "/api/bench/standins/"+ins.ID+"?loadA="+url.QueryEscape("a lot"), "")},
		"too great a load":     {422, "30 A", ask(t, "POST", "/api/bench/standins/"+ins.ID+"?loadA=31", "")},
		"stand-ins gone":       {404, "Set them up again", ask(t, "POST", "/api/bench/standins/elsewhere?on=true", "")},
		"a fault":              {204, "", ask(t, "POST", "/api/bench/standins/"+ins.ID+"?fault=pot&on=true", "")},
		"no fault any more":    {204, "", ask(t, "POST", "/api/bench/standins/"+ins.ID+"?fault=none", "")},
	} {
		if c.r.status != c.status || !strings.Contains(string(c.r.body), c.says) {
			t.Errorf("%s: %d %.300s", what, c.r.status, c.r.body)
		}
	}
}

// A band is told as it is drawn, and comes last; what cannot be drawn says why.
func TestBandIsTold(t *testing.T) {
	r := ask(t, "POST", "/api/band?samples=60", handlamp(t))
	var last BandStep
	before := -1
	for line := range strings.Lines(string(r.body)) {
		last = BandStep{}
		if err := json.Unmarshal([]byte(line), &last); err != nil {
			t.Fatal(err, line)
		}
		if last.Of != 60 || last.Done < before {
			t.Errorf("%s after %d", line, before)
		}
		before = last.Done
	}
	if r.status != 200 || r.header.Get("Content-Type") != "application/x-ndjson" || last.Done != 60 || last.Band == nil || last.Band.Ranges["fluxLm"].Low <= 0 || last.Problem != "" {
		t.Errorf("%d %+v", r.status, last)
	}
	for what, path := range map[string]string{"no variant": "/api/band?variant=9", "too few": "/api/band?samples=2"} {
		if r := ask(t, "POST", path, handlamp(t)); r.status != 422 {
			t.Errorf("%s: %d %s", what, r.status, r.body)
		}
	}
}
