package studio

import (
	"context"
	"fmt"
	"math/rand/v2"
	"sync"
	"sync/atomic"
	"testing"
	"time"
)

// Work takes no more than there is, in the order in which it came; what is larger than all is done alone, and caches give way meanwhile.
func TestWorkspaceKeepsWithin(t *testing.T) {
	var lent, most atomic.Int64
	w := &workspace{all: 1000, apart: 200, lend: func(change int64) {
		if now := lent.Add(change); now < 0 || now > 800 {
			t.Errorf("caches have lent %d of 800", now)
		}
	}}
	var held [purposes]atomic.Int64
	var wait sync.WaitGroup
	for i := range 300 {
		p := purpose(i % int(purposes))
		r := rand.New(rand.NewPCG(7, uint64(i)))
		n := need{here: int64(r.IntN(400)), others: int64(r.IntN(200))}
		if i%50 == 0 {
			n.here = 3000
		}
		wait.Go(func() {
			ctx, cancel := context.WithCancel(t.Context())
			defer cancel()
			if i%7 == 0 { // who gives up
				time.AfterFunc(time.Duration(r.IntN(3))*time.Millisecond, cancel)
			}
			mine, err := w.take(ctx, p, n, nil)
			if err != nil {
				return
			}
			now := held[p].Add(n.sum())
			limit := [purposes]int64{usual: 200, large: 800, delivered: 500}[p]
			if now > limit && now != n.sum() {
				t.Errorf("%d are held for %d at once", now, p)
			}
			most.Store(max(most.Load(), now))
			time.Sleep(time.Duration(r.IntN(1000)) * time.Microsecond)
			held[p].Add(-n.sum())
			mine.release()
			mine.release() // twice gives nothing twice
		})
	}
	wait.Wait()
	if lent.Load() != 0 || w.held != [purposes]int64{} || w.working != [purposes]int{} || w.others != 0 {
		t.Errorf("afterwards %v are held by %v, %d lent, %d by others", w.held, w.working, lent.Load(), w.others)
	}
	if most.Load() < 3000 {
		t.Error("what is larger than all was not done")
	}
}

// Who waits is told the place, and the turn when it has come; one who gives up lets the others up.
func TestWorkspaceTellsThePlace(t *testing.T) {
	w := &workspace{all: 1000, apart: 1000}
	mine, err := w.take(t.Context(), delivered, need{here: 400}, func(int) { t.Error("told without a wait") })
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range []purpose{usual, large} { // the screen does not wait for deliveries, nor for what is large
		free, err := w.take(t.Context(), p, need{here: 400}, nil)
		if err != nil {
			t.Fatal(err)
		}
		defer free.release()
	}
	type news struct{ who, place int }
	heard := make(chan news, 100)
	hear := func(who, place int) {
		t.Helper()
		for {
			select {
			case n := <-heard:
				if n == (news{who, place}) {
					return
				}
			case <-time.After(10 * time.Second):
				t.Fatalf("%d was not told that it is number %d", who, place)
			}
		}
	}
	second, giveUp := context.WithCancel(t.Context())
	done := make(chan string, 3)
	for i, ctx := range []context.Context{t.Context(), second, t.Context()} {
		go func() {
			free, err := w.take(ctx, delivered, need{here: 300}, func(place int) { heard <- news{i, place} })
			if err == nil {
				free.release()
			}
			done <- fmt.Sprint(i, " ", err)
		}()
		hear(i, i+1)
	}
	giveUp()
	hear(2, 2)
	if got := <-done; got != "1 context canceled" {
		t.Errorf("first ended: %s", got)
	}
	mine.release()
	hear(0, 0)
	hear(2, 0)
}
