package api

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"net/url"
	"testing"
	"time"

	"photherm/app/exchange"
)

// A log of a million readings: read, kept, and charted whole and in part.
func BenchmarkMillion(b *testing.B) {
	var text bytes.Buffer
	text.WriteString("time (s);housing (°C)\n")
	for i := range 1_000_000 {
		fmt.Fprintf(&text, "%d;%.2f\n", i, 15+30*(1-math.Exp(-float64(i)/1e5)))
	}
	post := func(path, kind string, body []byte) *http.Response {
		r, err := http.Post(running.URL+path, kind, bytes.NewReader(body))
		if err != nil {
			b.Fatal(err)
		}
		return r
	}
	of := post("/api/lights", "application/json", []byte(handlamp(b)))
	var light struct{ ID string }
	decode(b, of, &light)
	var read, kept, whole, part time.Duration
	for b.Loop() {
		at := time.Now()
		if _, err := exchange.ReadLog(bytes.NewReader(text.Bytes())); err != nil {
			b.Fatal(err)
		}
		read += time.Since(at)
		at = time.Now()
		var log BenchLog
		decode(b, post("/api/lights/"+light.ID+"/logs?name="+url.QueryEscape("a million"), "text/csv", text.Bytes()), &log)
		kept += time.Since(at)
		for _, c := range []struct {
			query string
			to    *time.Duration
		}{{"", &whole}, {"?fromS=400000&toS=410000", &part}} {
			at = time.Now()
			r, err := http.Get(running.URL + "/api/lights/" + light.ID + "/logs/" + log.ID + c.query)
			if err != nil {
				b.Fatal(err)
			}
			var series LogSeries
			decode(b, r, &series)
			*c.to += time.Since(at)
		}
	}
	n := float64(b.N)
	b.ReportMetric(read.Seconds()/n*1e3, "ms-read")
	b.ReportMetric(kept.Seconds()/n*1e3, "ms-import")
	b.ReportMetric(whole.Seconds()/n*1e3, "ms-whole")
	b.ReportMetric(part.Seconds()/n*1e3, "ms-part")
}

func decode(b *testing.B, r *http.Response, to any) {
	b.Helper()
	defer r.Body.Close()
	if err := json.NewDecoder(r.Body).Decode(to); err != nil || r.StatusCode >= 300 {
		b.Fatal(r.Status, err)
	}
}
