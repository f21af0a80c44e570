package store

import (
	"context"
	"encoding/json"
	"errors"
	"math"
	"testing"
	"time"
)

// A log is written by one owner at a time; who lost the lease writes nothing more; what was given a
// number is there, packed or not, across a stop and writing on.
func TestLiveLog(t *testing.T) {
	ctx := context.Background()
	l, err := shared.Create(ctx, light(t, "Logged"), Edit{})
	must(t, l, err)
	log, err := shared.BeginLog(ctx, KeptLog{LightID: l.ID, Name: "Live", Channels: json.RawMessage(`[{"name":"a"},{"name":"b"}]`), Aside: json.RawMessage(`{}`), Live: json.RawMessage(`{"everyS":1}`)})
	if err != nil {
		t.Fatal(err)
	}
	claim := func(owner string, lease time.Duration, want int) {
		t.Helper()
		got, err := shared.ClaimLogs(ctx, owner, lease)
		if err != nil || len(got) != want {
			t.Fatalf("%s claimed %d logs, %v; want %d", owner, len(got), err, want)
		}
	}
	claim("first", time.Minute, 1)
	claim("second", time.Minute, 0)
	const rows = chunkRows + 30
	write := func(owner string, i int) error {
		second := float64(i)
		if i%10 == 0 {
			second = math.NaN()
		}
		seq, err := shared.AppendReadings(ctx, log.ID, owner, time.Minute, []LiveReading{{S: float64(i), Values: []float64{math.Sin(float64(i)), second}}})
		if err == nil && seq != i {
			t.Fatalf("reading %d has number %d", i, seq)
		}
		return err
	}
	for i := 1; i <= rows-10; i++ {
		if i == chunkRows-2 { // several at once, over the end of a chunk
			var some []LiveReading
			for ; i <= chunkRows+3; i++ {
				second := float64(i)
				if i%10 == 0 {
					second = math.NaN()
				}
				some = append(some, LiveReading{S: float64(i), Values: []float64{math.Sin(float64(i)), second}})
			}
			if seq, err := shared.AppendReadings(ctx, log.ID, "first", time.Minute, some); err != nil || seq != chunkRows+3 {
				t.Fatalf("the last of several has number %d, %v", seq, err)
			}
		}
		if err := write("first", i); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := shared.AppendReadings(ctx, log.ID, "first", time.Minute, nil); err == nil {
		t.Error("no rows were written")
	}
	if _, err := shared.AppendReadings(ctx, log.ID, "second", time.Minute, []LiveReading{{S: 1e6, Values: []float64{0, 0}}}); !errors.Is(err, ErrNotOurs) {
		t.Errorf("written by who has no lease: %v", err)
	}
	if err := shared.HoldLog(ctx, log.ID, "second", time.Minute); !errors.Is(err, ErrNotOurs) {
		t.Errorf("held by who has no lease: %v", err)
	}
	// The first falls silent; the second goes on where it was.
	if err := shared.HoldLog(ctx, log.ID, "first", -time.Second); err != nil {
		t.Fatal(err)
	}
	claim("second", time.Minute, 1)
	if err := write("first", rows); !errors.Is(err, ErrNotOurs) {
		t.Errorf("written after the lease was lost: %v", err)
	}
	for i := rows - 9; i <= rows-5; i++ {
		if err := write("second", i); err != nil {
			t.Fatal(err)
		}
	}
	fresh, err := shared.LogSince(ctx, log.ID, rows-7)
	if err != nil || len(fresh) != 2 || fresh[1].Seq != rows-5 || fresh[1].S != rows-5 {
		t.Errorf("since: %+v, %v", fresh, err)
	}
	sums, err := shared.LogSummaries(ctx, log.ID, 0, math.MaxFloat64)
	if err != nil || len(sums) != 2 || sums[1].FromS != chunkRows+4 || sums[1].ToS != rows-5 || *sums[1].Max[1] != rows-5 {
		t.Errorf("summaries: %+v, %v", sums, err)
	}
	for range 2 { // twice is once
		if log, err = shared.StopLog(ctx, log.ID); err != nil || log.State != LogStopped || log.Readings != rows-5 || log.Seconds != rows-5 {
			t.Fatalf("stopped: %+v, %v", log, err)
		}
	}
	if err := write("second", rows-4); !errors.Is(err, ErrNotOurs) {
		t.Errorf("written when stopped: %v", err)
	}
	claim("third", time.Minute, 0)
	if log, err = shared.ResumeLog(ctx, log.ID); err != nil || log.State != LogRunning {
		t.Fatalf("resumed: %+v, %v", log, err)
	}
	claim("third", time.Minute, 1)
	for i := rows - 4; i <= rows; i++ {
		if err := write("third", i); err != nil {
			t.Fatal(err)
		}
	}
	if err := shared.LeaveLog(ctx, log.ID, "third"); err != nil {
		t.Fatal(err)
	}
	claim("fourth", time.Minute, 1)
	times, values, err := shared.LogRows(ctx, log.ID, 2, 0, math.MaxFloat64)
	if err != nil || len(times) != rows {
		t.Fatalf("%d of %d readings, %v", len(times), rows, err)
	}
	for i, s := range times {
		if s != float64(i+1) || values[0][i] != math.Sin(s) || math.IsNaN(values[1][i]) != ((i+1)%10 == 0) {
			t.Fatalf("reading %d: %g %g %g", i+1, s, values[0][i], values[1][i])
		}
	}
	if part, _, err := shared.LogRows(ctx, log.ID, 2, 4000, 4100); err != nil || len(part) != 101 {
		t.Errorf("%d readings of a part, %v", len(part), err)
	}
	if err := shared.MarkLog(ctx, log.ID, Mark{3, " fan off "}); err != nil {
		t.Fatal(err)
	}
	for range mostMarks {
		if err := shared.MarkLog(ctx, log.ID, Mark{4, "more"}); err != nil {
			t.Fatal(err)
		}
	}
	if log, err = shared.Log(ctx, log.ID); err != nil || len(log.Marks) != mostMarks || log.Marks[0] != (Mark{4, "more"}) {
		t.Errorf("%d marks, %v", len(log.Marks), err)
	}
	kept, err := shared.AddLog(ctx, KeptLog{LightID: l.ID, Name: "Brought in", Channels: json.RawMessage(`[{"name":"a"}]`), Aside: json.RawMessage(`{}`), Marks: []Mark{{1, "on"}}}, []float64{0, 1}, [][]float64{{1, 2}})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := shared.ResumeLog(ctx, kept.ID); !errors.Is(err, ErrNotWritable) {
		t.Errorf("one that was brought in: %v", err)
	}
	if there, err := shared.Log(ctx, kept.ID); err != nil || len(there.Marks) != 1 || there.Marks[0].Text != "on" || there.State != LogKept {
		t.Errorf("%+v, %v", there, err)
	}
	// One that was written live counts from its start, and does so still when it is brought in
	// elsewhere; a length that its readings cannot have is not believed.
	for says, want := range map[float64]float64{0: 8, 9: 9, 8.5: 8.5, 9.5: 8, 7: 8} {
		id, err := newID()
		if err != nil {
			t.Fatal(err)
		}
		brought, err := shared.AddLog(ctx, KeptLog{ID: id, LightID: l.ID, Name: "From an archive", Seconds: says, CreatedAt: now(), Channels: json.RawMessage(`[{"name":"a"}]`), Aside: json.RawMessage(`{}`)}, []float64{1, 9}, [][]float64{{1, 2}})
		if err != nil || brought.Seconds != want {
			t.Errorf("said to be %g s long: %+v, %v; want %g", says, brought, err, want)
		}
	}
	for _, err := range []error{shared.MarkLog(ctx, "aaaaaaaaaaaaaaaa", Mark{}), func() error { _, err := shared.StopLog(ctx, "aaaaaaaaaaaaaaaa"); return err }(), func() error { _, err := shared.ResumeLog(ctx, "aaaaaaaaaaaaaaaa"); return err }()} {
		if !errors.Is(err, ErrNotFound) {
			t.Errorf("of no log: %v", err)
		}
	}
}
