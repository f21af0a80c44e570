package store

import (
	"context"
	"errors"
	"fmt"
	"log"
	"os"
	"strings"
	"sync"
	"testing"

	"photherm/app/mariadb"
	"photherm/core/design"
	"photherm/examples"
)

var shared *Store

func TestMain(m *testing.M) {
	os.Exit(func() int {
		dir, err := os.MkdirTemp("", "photherm-store-")
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
		if shared, err = Open(ctx, db.DSN("")); err != nil {
			log.Fatal(err)
		}
		defer shared.Close()
		return m.Run()
	}())
}

func light(t *testing.T, name string) *design.Light {
	t.Helper()
	data, err := examples.Files.ReadFile("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	l, err := design.Decode(data)
	if err != nil {
		t.Fatal(err)
	}
	l.Name = name
	return l
}

func must(t *testing.T, l *Light, err error) *Light {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
	return l
}

func TestUndoStepsThroughOwnEdits(t *testing.T) {
	ctx := context.Background()
	first, err := shared.Create(ctx, light(t, "one"), Edit{Tab: "a"})
	now := must(t, first, err)
	edit := func(tab, name string) {
		t.Helper()
		l, err := shared.Save(ctx, now.ID, light(t, name), Edit{Base: now.Revision, Tab: tab, Label: name})
		now = must(t, l, err)
	}
	step := func(f func(context.Context, string, Edit) (*Light, error), tab, want string) {
		t.Helper()
		l, err := f(ctx, now.ID, Edit{Base: now.Revision, Tab: tab})
		now = must(t, l, err)
		if now.Name != want || !strings.Contains(string(now.Document), `"name": "`+want+`"`) {
			t.Fatalf("it is %q, want %q", now.Name, want)
		}
	}
	edit("a", "two")
	edit("a", "three")
	step(shared.Undo, "a", "two")
	step(shared.Undo, "a", "one")
	if _, err := shared.Undo(ctx, now.ID, Edit{Base: now.Revision, Tab: "a"}); !errors.Is(err, ErrNothingToDo) {
		t.Errorf("an undo before the first revision: %v", err)
	}
	step(shared.Redo, "a", "two")
	step(shared.Redo, "a", "three")
	if _, err := shared.Redo(ctx, now.ID, Edit{Base: now.Revision, Tab: "a"}); !errors.Is(err, ErrNothingToDo) {
		t.Errorf("a redo past the last change: %v", err)
	}
	step(shared.Undo, "a", "two")
	edit("b", "other")
	if now.CanRedo {
		t.Error("a new edit leaves something to redo")
	}
	if _, err := shared.Undo(ctx, now.ID, Edit{Base: now.Revision, Tab: "a"}); !errors.Is(err, ErrOtherTab) {
		t.Errorf("a tab undoes another tab's edit: %v", err)
	}
	step(shared.Undo, "b", "two")
	if _, err := shared.Undo(ctx, now.ID, Edit{Base: now.Revision, Tab: "b"}); !errors.Is(err, ErrOtherTab) {
		t.Errorf("after its own edit a tab undoes another's: %v", err)
	}
	step(shared.Undo, "a", "one")
	if now.Revision != 11 {
		t.Errorf("eleven revisions were written, the head is %d: revisions are never rewritten", now.Revision)
	}
}

// Of many changes on the same base one wins; the others get what stands there.
func TestOneOfManyWins(t *testing.T) {
	ctx := context.Background()
	made, err := shared.Create(ctx, light(t, "contested"), Edit{Tab: "a"})
	base := must(t, made, err)
	const n = 8
	var won, lost int
	var mutex sync.Mutex
	var all sync.WaitGroup
	for i := range n {
		all.Go(func() {
			l, err := shared.Save(ctx, base.ID, light(t, fmt.Sprintf("by %d", i)), Edit{Base: base.Revision, Tab: fmt.Sprint(i)})
			var conflict *Conflict
			mutex.Lock()
			defer mutex.Unlock()
			switch {
			case err == nil && l.Revision == 2:
				won++
			case errors.As(err, &conflict) && conflict.Theirs.Revision == 2:
				lost++
			default:
				t.Errorf("change %d: %v", i, err)
			}
		})
	}
	all.Wait()
	if won != 1 || lost != n-1 {
		t.Errorf("%d won and %d were told", won, lost)
	}
}

func TestBin(t *testing.T) {
	ctx := context.Background()
	made, err := shared.Create(ctx, light(t, "to be binned"), Edit{})
	l := must(t, made, err)
	in := func(bin bool) bool {
		t.Helper()
		list, _, err := shared.Shelf(ctx, bin, 1, 0, 1000)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range list {
			if x.ID == l.ID {
				return true
			}
		}
		return false
	}
	if err := shared.Delete(ctx, l.ID); err != nil || in(false) || !in(true) {
		t.Errorf("binned: %v, on the shelf %v, in the bin %v", err, in(false), in(true))
	}
	if err := shared.Restore(ctx, l.ID); err != nil || !in(false) || in(true) {
		t.Errorf("restored: %v, on the shelf %v, in the bin %v", err, in(false), in(true))
	}
	if err := shared.Delete(ctx, "nothing"); !errors.Is(err, ErrNotFound) {
		t.Errorf("binning what is not there: %v", err)
	}
	if _, err := shared.Get(ctx, "nothing"); !errors.Is(err, ErrNotFound) {
		t.Errorf("reading what is not there: %v", err)
	}
}

func TestUnreachable(t *testing.T) {
	if _, err := Open(context.Background(), "x:y@tcp(127.0.0.1:1)/z"); err == nil || !strings.Contains(err.Error(), "reaching the database") {
		t.Errorf("an unreachable database: %v", err)
	}
	if _, err := Open(context.Background(), "://"); err == nil {
		t.Error("nonsense is taken for an address")
	}
}

// The cabinet: all parts of a list or none, one conflict for many who change one part,
// and a bin.
func TestCabinet(t *testing.T) {
	ctx := context.Background()
	part := func(name string) CabinetPart {
		return CabinetPart{Stock: 2, Part: design.Part{ID: "part", Name: name, Driver: &design.Driver{Family: "none"}}}
	}
	added, err := shared.AddParts(ctx, []CabinetPart{part("one"), part("two")})
	if err != nil || len(added) != 2 || added[0].ID == added[1].ID {
		t.Fatal(added, err)
	}
	count := func() int {
		list, err := shared.Parts(ctx, "driver", false)
		if err != nil {
			t.Fatal(err)
		}
		return len(list)
	}
	before := count()
	if _, err := shared.AddParts(ctx, []CabinetPart{part("three"), part(strings.Repeat("x", 200))}); err == nil || count() != before {
		t.Errorf("half a list came in: %v, %d parts more", err, count()-before)
	}
	var wg sync.WaitGroup
	results := make([]error, 8)
	for i := range results {
		wg.Add(1)
		go func() {
			defer wg.Done()
			_, results[i] = shared.ChangePart(ctx, added[0].ID, 1, part(fmt.Sprintf("by %d", i)))
		}()
	}
	wg.Wait()
	won := 0
	for _, err := range results {
		var conflict *PartConflict
		if err == nil {
			won++
		} else if !errors.As(err, &conflict) || conflict.Theirs.Revision != 2 {
			t.Errorf("%v", err)
		}
	}
	if won != 1 {
		t.Errorf("%d of 8 won", won)
	}
	if err := shared.BinPart(ctx, added[1].ID, true); err != nil || count() != before-1 {
		t.Errorf("binned: %v", err)
	}
	if p, err := shared.Part(ctx, added[1].ID); err != nil || !p.Deleted || p.Part.Name != "two" {
		t.Errorf("in the bin: %+v, %v", p, err)
	}
	if err := shared.BinPart(ctx, "aaaaaaaaaaaaaaaa", true); !errors.Is(err, ErrNotFound) {
		t.Errorf("binning nothing: %v", err)
	}
	if _, err := shared.ChangePart(ctx, "aaaaaaaaaaaaaaaa", 1, part("x")); !errors.Is(err, ErrNotFound) {
		t.Errorf("changing nothing: %v", err)
	}
}

// A light stored by an older release is brought up to date on reading; what is stored
// stays as it was.
func TestOlderDocument(t *testing.T) {
	ctx := context.Background()
	l, err := shared.Create(ctx, light(t, "Old"), Edit{Label: "new"})
	must(t, l, err)
	old := strings.Replace(strings.Replace(string(l.Document), `"version": 11`, `"version": 1`, 1), `"boardKPerW"`, `"faults": [{"strings": 1, "shorted": 1}], "boardKPerW"`, 1)
	if _, err := shared.db.ExecContext(ctx, `UPDATE revisions SET document = ? WHERE light_id = ?`, old, l.ID); err != nil {
		t.Fatal(err)
	}
	got, err := shared.Get(ctx, l.ID)
	must(t, got, err)
	read, err := design.Decode(got.Document)
	if err != nil || read.Version != design.Version || strings.Contains(string(got.Document), "faults") || !strings.Contains(string(got.Document), "unequal") {
		t.Errorf("%v\n%.300s", err, got.Document)
	}
	var kept string
	if err := shared.db.QueryRowContext(ctx, `SELECT document FROM revisions WHERE light_id = ?`, l.ID).Scan(&kept); err != nil || kept != old {
		t.Errorf("the stored revision was rewritten: %v", err)
	}
}
