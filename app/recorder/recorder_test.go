package recorder

import (
	"bufio"
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"log"
	"math"
	"net"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"photherm/app/mariadb"
	"photherm/app/store"
	"photherm/core/design"
	"photherm/examples"
)

var (
	shared *store.Store
	dsn    string
)

func TestMain(m *testing.M) {
	os.Exit(func() int {
		dir, err := os.MkdirTemp("", "photherm-recorder-")
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
		dsn = db.DSN("")
		if shared, err = store.Open(ctx, dsn); err != nil {
			log.Fatal(err)
		}
		defer shared.Close()
		return m.Run()
	}())
}

// A meter of the test's own: it counts up, and can be made to vanish, to stay silent and to talk
// rubbish.
type meter struct {
	mu     sync.Mutex
	l      net.Listener
	conns  []net.Conn
	n      int
	answer func(n int) string
}

func newMeter(t *testing.T, answer func(n int) string) *meter {
	t.Helper()
	m := &meter{answer: answer}
	m.appear(t, "127.0.0.1:0")
	t.Cleanup(m.vanish)
	return m
}

func (m *meter) address() string { return m.l.Addr().String() }

func (m *meter) appear(t *testing.T, at string) {
	t.Helper()
	l, err := net.Listen("tcp", at)
	if err != nil {
		t.Fatal(err)
	}
	m.mu.Lock()
	m.l = l
	m.mu.Unlock()
	go func() {
		for {
			conn, err := l.Accept()
			if err != nil {
				return
			}
			m.mu.Lock()
			m.conns = append(m.conns, conn)
			m.mu.Unlock()
			go func() {
				r := bufio.NewReader(conn)
				for {
					if _, err := r.ReadString('\n'); err != nil {
						return
					}
					m.mu.Lock()
					m.n++
					line := m.answer(m.n)
					m.mu.Unlock()
					if _, err := fmt.Fprintln(conn, line); err != nil {
						return
					}
				}
			}()
		}
	}()
}

func (m *meter) vanish() {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.l.Close()
	for _, c := range m.conns {
		c.Close()
	}
	m.conns = nil
}

func begin(t *testing.T, plan Plan) *store.KeptLog {
	t.Helper()
	data, err := examples.Files.ReadFile("bilge-lamp.json")
	if err != nil {
		t.Fatal(err)
	}
	light, err := design.Decode(data)
	if err != nil {
		t.Fatal(err)
	}
	of, err := shared.Create(context.Background(), light, store.Edit{})
	if err != nil {
		t.Fatal(err)
	}
	live, err := json.Marshal(plan)
	if err != nil {
		t.Fatal(err)
	}
	var names []string
	for i := range plan.Sources {
		names = append(names, fmt.Sprintf(`{"name":"meter %d"}`, i+1))
	}
	l, err := shared.BeginLog(context.Background(), store.KeptLog{LightID: of.ID, Name: "Live", Channels: json.RawMessage("[" + strings.Join(names, ",") + "]"), Aside: json.RawMessage("{}"), Live: live})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _, _ = shared.StopLog(context.Background(), l.ID) })
	return l
}

// run runs a recorder until it is stopped.
func run(t *testing.T) (stop func()) {
	t.Helper()
	ctx, cancel := context.WithCancel(context.Background())
	done := make(chan struct{})
	go func() {
		New(shared, nil).Run(ctx)
		close(done)
	}()
	stop = func() { cancel(); <-done }
	t.Cleanup(stop)
	return stop
}

func until(t *testing.T, what string, ok func() bool) {
	t.Helper()
	for deadline := time.Now().Add(30 * time.Second); !ok(); time.Sleep(20 * time.Millisecond) {
		if time.Now().After(deadline) {
			t.Fatal("not in half a minute: " + what)
		}
	}
}

func rows(t *testing.T, l *store.KeptLog, channels int) ([]float64, [][]float64) {
	t.Helper()
	s, v, err := shared.LogRows(context.Background(), l.ID, channels, 0, math.MaxFloat64)
	if err != nil {
		t.Fatal(err)
	}
	return s, v
}

func now(t *testing.T, l *store.KeptLog) *store.KeptLog {
	t.Helper()
	got, err := shared.Log(context.Background(), l.ID)
	if err != nil {
		t.Fatal(err)
	}
	return got
}

func says(l *store.KeptLog, text string) bool {
	for _, m := range l.Marks {
		if strings.Contains(m.Text, text) {
			return true
		}
	}
	return false
}

// A log goes on over the end of its server: what was kept stays, times rise, and the next server
// writes on; a clock that was set back is told.
func TestHandOver(t *testing.T) {
	m := newMeter(t, func(n int) string { return fmt.Sprint(n) })
	l := begin(t, Plan{EveryS: 1, Pace: 10, Sources: []Source{{m.address(), "voltage"}}})
	stop := run(t)
	until(t, "ten rows", func() bool { s, _ := rows(t, l, 1); return len(s) >= 10 })
	stop()
	before, v := rows(t, l, 1)
	if got := now(t, l); got.State != store.LogRunning || got.Readings != len(before) {
		t.Fatalf("left as %s with %d of %d readings", got.State, got.Readings, len(before))
	}
	for i := range before {
		if i > 0 && (before[i] <= before[i-1] || v[0][i] <= v[0][i-1]) {
			t.Errorf("row %d: %g s, %g", i, before[i], v[0][i])
		}
	}
	// Ten seconds of the log go by in one.
	if gap := (before[9] - before[0]) / 9; gap < 0.7 || gap > 3 {
		t.Errorf("%g s from row to row instead of 1", gap)
	}
	stop = run(t)
	until(t, "rows after it", func() bool { s, _ := rows(t, l, 1); return len(s) >= len(before)+5 })
	stop()
	after, _ := rows(t, l, 1)
	for i := range before {
		if after[i] != before[i] {
			t.Fatalf("row %d was %g s and is %g s", i, before[i], after[i])
		}
	}
	if after[len(before)] <= before[len(before)-1] || says(now(t, l), "clock") {
		t.Errorf("goes on at %g s after %g s", after[len(before)], before[len(before)-1])
	}
	ctx := context.Background()
	if logs, err := shared.ClaimLogs(ctx, "test", time.Minute); err != nil || len(logs) != 1 {
		t.Fatal(len(logs), err)
	}
	if _, err := shared.AppendReadings(ctx, l.ID, "test", time.Minute, []store.LiveReading{{S: 1e6, Values: []float64{1}}}); err != nil {
		t.Fatal(err)
	}
	if err := shared.LeaveLog(ctx, l.ID, "test"); err != nil {
		t.Fatal(err)
	}
	run(t)
	until(t, "rows after the last", func() bool { s, _ := rows(t, l, 1); return s[len(s)-1] > 1e6 })
	if !says(now(t, l), "clock went back") {
		t.Errorf("%+v", now(t, l).Marks)
	}
}

// An instrument that vanishes, stays silent or talks rubbish leaves its channel empty and is told,
// once; the others go on; back again it is told too.
func TestTrouble(t *testing.T) {
	good := newMeter(t, func(n int) string { return "1.5" })
	flaky := newMeter(t, func(n int) string { return "2.5" })
	rubbish := newMeter(t, func(n int) string { return []string{"3.5", "hello"}[min(n/4, 1)] })
	l := begin(t, Plan{EveryS: 0.1, Pace: 1, Sources: []Source{{good.address(), "voltage"}, {flaky.address(), "current"}, {rubbish.address(), "temperature"}, {"198.51.100.1:5025", "power"}}})
	run(t)
	until(t, "rubbish to be told", func() bool { return says(now(t, l), "meter 3: it shows no figure") })
	if !says(now(t, l), "meter 4: this host may not be spoken to") {
		t.Errorf("%+v", now(t, l).Marks)
	}
	at := flaky.address()
	flaky.vanish()
	until(t, "its absence to be told", func() bool { return says(now(t, l), "meter 2: it does not answer") })
	s, _ := rows(t, l, 4)
	until(t, "rows without it", func() bool { now, _ := rows(t, l, 4); return len(now) > len(s)+5 })
	flaky.appear(t, at)
	until(t, "its return to be told", func() bool { return says(now(t, l), "meter 2 answers again") })
	until(t, "rows with it", func() bool { _, v := rows(t, l, 4); return v[1][len(v[1])-1] == 2.5 })
	_, v := rows(t, l, 4)
	empty := 0
	for i := range v[0] {
		if math.IsNaN(v[1][i]) {
			empty++
		}
		if !math.IsNaN(v[3][i]) || !math.IsNaN(v[2][i]) && v[2][i] != 3.5 {
			t.Errorf("row %d: %g %g", i, v[2][i], v[3][i])
		}
	}
	if empty < 5 {
		t.Errorf("%d rows without the one that was away", empty)
	}
	told := map[string]int{}
	for _, m := range now(t, l).Marks {
		told[m.Text]++
	}
	for text, n := range told {
		if n > 1 && !strings.HasPrefix(text, "meter 2") {
			t.Errorf("told %d times: %s", n, text)
		}
	}
	if _, err := shared.StopLog(context.Background(), l.ID); err != nil {
		t.Fatal(err)
	}
	s, _ = rows(t, l, 4)
	time.Sleep(500 * time.Millisecond) // five rows would come
	if again, _ := rows(t, l, 4); len(again) != len(s) {
		t.Errorf("%d rows, and after it was stopped %d", len(s), len(again))
	}
}

// A slow instrument fills the rows it can, and holds no other up.
func TestSlow(t *testing.T) {
	good := newMeter(t, func(n int) string { return "1.5" })
	slow := newMeter(t, func(n int) string { time.Sleep(350 * time.Millisecond); return fmt.Sprint(n) })
	l := begin(t, Plan{EveryS: 0.1, Pace: 1, Sources: []Source{{good.address(), "voltage"}, {slow.address(), "current"}}})
	run(t)
	until(t, "twenty rows", func() bool { s, _ := rows(t, l, 2); return len(s) >= 20 })
	_, v := rows(t, l, 2)
	filled, last := 0, 0.0
	for i := range v[0] {
		if !math.IsNaN(v[1][i]) {
			if v[1][i] <= last {
				t.Errorf("row %d has %g once more", i, v[1][i])
			}
			filled, last = filled+1, v[1][i]
		}
	}
	if filled < 3 || filled > len(v[0])/2 {
		t.Errorf("%d of %d rows have the slow one", filled, len(v[0]))
	}
}

// A store that lets nothing be written for two seconds costs no row of ten a second.
func TestStoreThatWaits(t *testing.T) {
	m := newMeter(t, func(n int) string { return fmt.Sprint(n) })
	l := begin(t, Plan{EveryS: 0.1, Pace: 1, Sources: []Source{{m.address(), "voltage"}}})
	run(t)
	until(t, "five rows", func() bool { s, _ := rows(t, l, 1); return len(s) >= 5 })
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	tx, err := db.Begin()
	if err != nil {
		t.Fatal(err)
	}
	if _, err := tx.Exec(`SELECT id FROM logs WHERE id = ? FOR UPDATE`, l.ID); err != nil {
		t.Fatal(err)
	}
	time.Sleep(2 * time.Second)
	if err := tx.Rollback(); err != nil {
		t.Fatal(err)
	}
	before, _ := rows(t, l, 1)
	until(t, "what waited and five rows more", func() bool { s, _ := rows(t, l, 1); return len(s) >= len(before)+25 })
	s, _ := rows(t, l, 1)
	for i := 1; i < len(s); i++ {
		if s[i] <= s[i-1] || s[i] > s[i-1]+1 {
			t.Errorf("after %g s comes %g s", s[i-1], s[i])
		}
	}
}

// What is not understood is stopped, and says so.
func TestNotUnderstood(t *testing.T) {
	l := begin(t, Plan{})
	run(t)
	until(t, "it to be stopped", func() bool { return now(t, l).State == store.LogStopped })
	if !says(now(t, l), "not understood") {
		t.Errorf("%+v", now(t, l).Marks)
	}
}

// Stopped and begun again at once it is written once: times rise, and rows are as far apart as said.
func TestStoppedAndGoneOn(t *testing.T) {
	m := newMeter(t, func(n int) string { return fmt.Sprint(n) })
	l := begin(t, Plan{EveryS: 0.3, Pace: 1, Sources: []Source{{m.address(), "voltage"}}})
	ctx, stop := context.WithCancel(context.Background())
	r := New(shared, nil)
	done := make(chan struct{})
	go func() { r.Run(ctx); close(done) }()
	defer func() { stop(); <-done }()
	for i := range 3 {
		until(t, "rows", func() bool { s, _ := rows(t, l, 1); return len(s) >= 3*(i+1) })
		if _, err := shared.StopLog(ctx, l.ID); err != nil {
			t.Fatal(err)
		}
		if _, err := shared.ResumeLog(ctx, l.ID); err != nil {
			t.Fatal(err)
		}
		r.Wake()
	}
	n := now(t, l).Readings
	until(t, "rows after it", func() bool { s, _ := rows(t, l, 1); return len(s) >= n+12 })
	s, _ := rows(t, l, 1)
	for i := 1; i < len(s); i++ {
		if s[i] <= s[i-1] {
			t.Errorf("row %d: %g s after %g s", i, s[i], s[i-1])
		}
	}
	if last := s[len(s)-10:]; last[9]-last[0] < 9*0.3*0.8 {
		t.Errorf("ten rows in %g s instead of %g", last[9]-last[0], 9*0.3)
	}
}
