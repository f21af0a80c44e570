package compute

import (
	"context"
	"errors"
	"sync"
	"sync/atomic"
	"testing"
	"testing/synctest"
	"time"
)

// Never more at once than there are places, and everyone comes in.
func TestGateHoldsTheNumber(t *testing.T) {
	g := New(context.Background(), 3, time.Minute)
	var inside, most, done atomic.Int32
	var all sync.WaitGroup
	for range 60 {
		all.Go(func() {
			_, leave, err := g.Enter(context.Background(), "")
			if err != nil {
				t.Error(err)
				return
			}
			for n := inside.Add(1); ; {
				if m := most.Load(); n <= m || most.CompareAndSwap(m, n) {
					break
				}
			}
			time.Sleep(time.Millisecond)
			inside.Add(-1)
			done.Add(1)
			leave()
		})
	}
	all.Wait()
	if most.Load() > 3 || done.Load() != 60 || len(g.newest) != 0 {
		t.Errorf("%d at once, %d of 60 came in, %d remembered", most.Load(), done.Load(), len(g.newest))
	}
}

// The newest of a tab ends the one before it, at work or waiting; another tab's goes on.
func TestNewestWins(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		g := New(context.Background(), 2, time.Hour)
		first, leaveFirst, err := g.Enter(t.Context(), "tab 1 solve")
		if err != nil {
			t.Fatal(err)
		}
		other, leaveOther, _ := g.Enter(t.Context(), "tab 2 solve")
		waits := make(chan error)
		go func() {
			_, _, err := g.Enter(t.Context(), "tab 1 solve")
			waits <- err
		}()
		synctest.Wait()
		if !errors.Is(context.Cause(first), ErrSuperseded) || other.Err() != nil {
			t.Errorf("the first of the tab: %v; the other tab's: %v", context.Cause(first), other.Err())
		}
		// The one that waits is overtaken in its turn.
		entered := make(chan func())
		go func() {
			inside, leave, err := g.Enter(t.Context(), "tab 1 solve")
			if err != nil || inside.Err() != nil {
				t.Errorf("the newest: %v", err)
			}
			entered <- leave
		}()
		if err := <-waits; !errors.Is(err, ErrSuperseded) {
			t.Errorf("the one that waited: %v", err)
		}
		leaveFirst()
		(<-entered)()
		leaveOther()
		if len(g.newest) != 0 || len(g.slots) != 0 {
			t.Errorf("%d remembered, %d places taken", len(g.newest), len(g.slots))
		}
	})
}

// Who leaves, or waits too long, gives the place up; the time counts the waiting.
func TestLeavingAndDeadline(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		until, close := context.WithCancel(t.Context())
		g := New(until, 1, 20*time.Second)
		inside, leave, _ := g.Enter(t.Context(), "")
		gone, goes := context.WithCancel(t.Context())
		left := make(chan error)
		go func() {
			_, _, err := g.Enter(gone, "a")
			left <- err
		}()
		synctest.Wait()
		goes()
		if err := <-left; !errors.Is(err, context.Canceled) {
			t.Errorf("who left: %v", err)
		}
		late := make(chan error)
		go func() {
			_, _, err := g.Enter(t.Context(), "b")
			late <- err
		}()
		err := <-late
		synctest.Wait()
		if !errors.Is(err, context.DeadlineExceeded) || inside.Err() == nil {
			t.Errorf("who waited too long: %v; who worked too long: %v", err, inside.Err())
		}
		leave()
		inside, leave, _ = g.Enter(t.Context(), "")
		close()
		synctest.Wait()
		if _, _, err := g.Enter(t.Context(), "c"); !errors.Is(err, ErrClosing) || !errors.Is(context.Cause(inside), ErrClosing) {
			t.Errorf("when the program stops: %v, %v", err, context.Cause(inside))
		}
		leave()
	})
}

// Long work waits between its steps while somebody asks, and a little longer; it takes a step now
// and then all the same, takes nobody's place, and ends with its asker.
func TestLongWorkGivesWay(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		g := New(context.Background(), 1, time.Minute)
		ctx, end := context.WithCancel(context.Background())
		_, leave, err := g.EnterBehind(ctx, "")
		if err != nil {
			t.Fatal(err)
		}
		waited := func() time.Duration {
			from := time.Now()
			g.GiveWay(ctx)
			return time.Since(from)
		}
		if w := waited(); w != 0 {
			t.Errorf("alone it waited %v", w)
		}
		_, out, err := g.Enter(context.Background(), "")
		if err != nil {
			t.Fatal(err)
		}
		if w := waited(); w < patience || w > patience+quiet {
			t.Errorf("while somebody is inside it waited %v", w)
		}
		out()
		if w := waited(); w < quiet || w > 2*quiet {
			t.Errorf("after somebody left it waited %v", w)
		}
		if w := waited(); w != 0 {
			t.Errorf("alone again it waited %v", w)
		}
		_, out, _ = g.Enter(context.Background(), "")
		end()
		if w := waited(); w != 0 {
			t.Errorf("its asker gone it waited %v", w)
		}
		out()
		leave()
	})
}
