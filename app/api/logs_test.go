package api

import (
	"fmt"
	"math"
	"net/url"
	"strings"
	"testing"

	"photherm/core/bench"
)

// A log is brought in, charted coarse and exact, fitted, taken out as CSV and in the archive, and
// dropped; what is no log is refused in a sentence.
func TestLogs(t *testing.T) {
	var light struct{ ID string }
	ask(t, "POST", "/api/lights", handlamp(t)).read(t, &light)
	path := "/api/lights/" + light.ID + "/logs"
	var text strings.Builder
	text.WriteString("time (s);housing (°C);I (mA)\n")
	for i := range 60_000 {
		fmt.Fprintf(&text, "%d;%.2f;%d\n", i, 15+30*(1-math.Exp(-float64(i)/1200)), 900+i%7)
	}
	text.WriteString("60000;OL;900\n")
	var log BenchLog
	made := ask(t, "POST", path+"?name=Warm-up", strings.ReplaceAll(text.String(), ".", ","), "Content-Type", "text/csv")
	made.read(t, &log)
	if made.status != 201 || log.Readings != 60_000 || log.Bad != 1 || log.Aside[0].Line != 60_002 || len(log.Channels) != 2 || log.Channels[1].Quantity != "current" {
		t.Fatalf("%d %.300s", made.status, made.body)
	}
	var list []BenchLog
	ask(t, "GET", path, "").read(t, &list)
	if len(list) != 1 || list[0].Name != "Warm-up" || list[0].Seconds != 59_999 {
		t.Errorf("%+v", list)
	}
	var whole, part LogSeries
	ask(t, "GET", path+"/"+log.ID, "").read(t, &whole)
	if len(whole.S) != 15 || whole.Exact || *whole.Low[1][0] != 0.9 || math.Abs(*whole.High[1][0]-0.906) > 1e-12 {
		t.Errorf("%d summaries, exact %v", len(whole.S), whole.Exact)
	}
	ask(t, "GET", path+"/"+log.ID+"?fromS=5000&toS=5100&points=200", "").read(t, &part)
	if len(part.S) != 101 || !part.Exact || math.Abs(*part.Mean[0][0]-(15+30*(1-math.Exp(-5000.0/1200)))) > 0.006 {
		t.Errorf("%d readings, exact %v", len(part.S), part.Exact)
	}
	ask(t, "GET", path+"/"+log.ID+"?fromS=5000&toS=6000&points=100", "").read(t, &part)
	if len(part.S) != 91 || part.Exact || *part.Low[0][3] > *part.Mean[0][3]+1e-9 || *part.High[0][3] < *part.Mean[0][3]-1e-9 {
		t.Errorf("%d of a thousand, exact %v", len(part.S), part.Exact)
	}
	var fit bench.WarmFit
	r := ask(t, "POST", "/api/bench/warmfit?owner=housing&figure=bodyC&log="+log.ID+"&channel=0&toS=2400&thenC=30", handlamp(t))
	r.read(t, &fit)
	if r.status != 200 || fit.Low > fit.RestC || fit.High < fit.RestC || fit.RestC < 35 || fit.RestC > 60 || fit.Then == nil || fit.Then.RestC < fit.RestC+5 || len(fit.Figures) == 0 {
		t.Errorf("%d %.300s", r.status, r.body)
	}
	// Columns that the headings do not tell are said by hand.
	odd := "probe A;probe B;stamp\n20,5;68;0\n21,5;77;1\n22,5;86;2\n"
	var look LogLook
	ask(t, "POST", "/api/logs/look", odd, "Content-Type", "text/csv").read(t, &look)
	if look.Sure || len(look.Columns) != 3 || look.Heads[2] != "stamp" || look.First[1][0] != "21,5" || look.Columns[0].Use != "time" || look.Columns[1].Use != "figure" || len(look.Units) < 8 {
		t.Errorf("%+v", look)
	}
	columns := url.QueryEscape(`[{"use":"figure","name":"Sink","unit":"°C"},{"use":"figure","name":"Case","unit":"°F"},{"use":"time","name":"","unit":"min"}]`)
	var by BenchLog
	said := ask(t, "POST", path+"?name=said&columns="+columns, odd, "Content-Type", "text/csv")
	said.read(t, &by)
	if said.status != 201 || by.Readings != 3 || by.Seconds != 120 || by.Channels[0].Name != "Sink" || by.Channels[1].Quantity != "temperature" {
		t.Fatalf("%d %s", said.status, said.body)
	}
	ask(t, "GET", path+"/"+by.ID, "").read(t, &part)
	if *part.Mean[0][0] != 20.5 || math.Abs(*part.Mean[1][2]-30) > 1e-9 {
		t.Errorf("%g %g", *part.Mean[0][0], *part.Mean[1][2])
	}
	ask(t, "DELETE", path+"/"+by.ID, "")
	draws := url.QueryEscape("16 V 900 mA\n14 V 800 mA")
	for what, c := range map[string]struct {
		status int
		says   string
		r      reply
	}{
		"words":               {422, "no log of readings", ask(t, "POST", path+"?name=x", "hello,world\nand,more\n", "Content-Type", "text/csv")},
		"no columns":          {422, "no list of columns", ask(t, "POST", path+"?name=x&columns=hello", odd, "Content-Type", "text/csv")},
		"no time said":        {422, "no log of readings", ask(t, "POST", path+"?name=x&columns="+url.QueryEscape(`[{"use":"figure","name":"a","unit":""}]`), odd, "Content-Type", "text/csv")},
		"nothing to look at":  {422, "no log of readings", ask(t, "POST", "/api/logs/look", "hello", "Content-Type", "text/csv")},
		"no name":             {422, "", ask(t, "POST", path, "t,C\n0,1\n1,2\n", "Content-Type", "text/csv")},
		"of no light":         {404, "", ask(t, "POST", "/api/lights/zzzzzzzzzzzzzzzz/logs?name=x", "t,C\n0,1\n1,2\n", "Content-Type", "text/csv")},
		"of another light":    {404, "", ask(t, "GET", "/api/lights/zzzzzzzzzzzzzzzz/logs/"+log.ID, "")},
		"a place it lacks":    {422, "junctionC", ask(t, "POST", "/api/bench/warmfit?owner=nobody&figure=junctionC&toS=600&log="+log.ID, handlamp(t))},
		"a channel it lacks":  {422, "2 channels", ask(t, "POST", "/api/bench/warmfit?owner=housing&channel=7&toS=600&log="+log.ID, handlamp(t))},
		"too short":           {422, "at least 5", ask(t, "POST", "/api/bench/warmfit?owner=housing&toS=2&log="+log.ID, handlamp(t))},
		"air of words":        {422, "no temperature of air", ask(t, "POST", "/api/bench/warmfit?owner=housing&ambientC=cold&toS=600&log="+log.ID, handlamp(t))},
		"no load":             {422, "no measured load", ask(t, "POST", "/api/bench/draw?node=emitters&readings="+draws, handlamp(t))},
		"no readings of draw": {422, "reading 1", ask(t, "POST", "/api/bench/draw?node=emitters&readings=hello", handlamp(t))},
		"claims of nothing":   {200, "[]", ask(t, "POST", "/api/bench/claims", handlamp(t))},
		"no such tool":        {422, "no tool", ask(t, "POST", "/api/bench/plan?tools=hammer", handlamp(t))},
		"no way":              {422, "does not name", ask(t, "POST", "/api/bench/plan?ways=hammer", handlamp(t))},
		"its tools":           {200, "thermocouple", ask(t, "GET", "/api/tools", "")},
	} {
		if c.r.status != c.status || !strings.Contains(string(c.r.body), c.says) {
			t.Errorf("%s: %d %.300s", what, c.r.status, c.r.body)
		}
	}
	// Every tool that is named is at hand.
	var plan bench.ReadingPlan
	ask(t, "POST", "/api/bench/plan?tools=tester-v&tools=clamp", handlamp(t)).read(t, &plan)
	have := map[string]bool{}
	for _, stage := range plan.Stages {
		for _, row := range stage.Rows {
			for _, tool := range row.Tools {
				have[tool.ID] = have[tool.ID] || tool.Have
			}
		}
	}
	if !have["tester-v"] || !have["clamp"] || have["multimeter-v"] {
		t.Errorf("at hand are %v", have)
	}
	csv := ask(t, "GET", path+"/"+log.ID+"/csv", "")
	if csv.status != 200 || !strings.HasPrefix(string(csv.body), "time (s),housing (°C),I (mA)\n0,15,0.9\n") {
		t.Errorf("%d %.100s", csv.status, csv.body)
	}
	zip := ask(t, "GET", "/api/archive", "")
	if !strings.Contains(string(zip.body), "lights/"+light.ID+"/logs/"+log.ID+".csv") {
		t.Error("the archive has no log")
	}
	if r := ask(t, "DELETE", path+"/"+log.ID, ""); r.status != 204 {
		t.Errorf("%d %s", r.status, r.body)
	}
	if r := ask(t, "GET", path+"/"+log.ID, ""); r.status != 404 {
		t.Errorf("dropped: %d", r.status)
	}
	// Brought in again it is there as it was; twice makes nothing twice.
	for range 2 {
		ask(t, "POST", "/api/archive", string(zip.body), "Content-Type", "application/zip")
	}
	again := ask(t, "GET", path+"/"+log.ID+"/csv", "")
	ask(t, "GET", path, "").read(t, &list)
	if len(list) != 1 || string(again.body) != string(csv.body) || list[0].Bad != 1 {
		t.Errorf("after the archive: %d logs", len(list))
	}
}
