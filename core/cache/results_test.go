package cache

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"
	"velours/core/fault"
)

func TestKeepsTheLastFew(t *testing.T) {
	s := Results[int]{Size: 3}
	runs := 0
	get := func(k int) int {
		v, err := s.Get(fmt.Sprint(k), func() (int, error) { runs++; return k * k, nil })
		if err != nil {
			t.Fatal(err)
		}
		return v
	}
	for _, k := range []int{1, 2, 3, 2, 1, 3} {
		if get(k) != k*k {
			t.Fatalf("%d gives %d", k, get(k))
		}
	}
	if runs != 3 {
		t.Errorf("%d computations for three keys", runs)
	}
	get(4)
	if get(1); runs != 4 {
		t.Errorf("what was used lately has gone: %d computations", runs)
	}
	if get(2); runs != 5 {
		t.Errorf("what was used longest ago should have gone: %d computations", runs)
	}
	if _, err := s.Get("bad", func() (int, error) { return 0, errors.New("no") }); err == nil {
		t.Error("a failure is hidden")
	}
	if v, err := s.Get("bad", func() (int, error) { return 7, nil }); v != 7 || err != nil {
		t.Error("a failure is kept")
	}
}

// Many who come at once compute once; one who is cancelled takes nobody along.
func TestComputedOnceForAll(t *testing.T) {
	s := Results[int]{Size: 3}
	var runs atomic.Int32
	begun, go1 := make(chan struct{}), make(chan struct{})
	var wg sync.WaitGroup
	wg.Go(func() {
		if _, err := s.Get("k", func() (int, error) { close(begun); <-go1; return 0, context.Canceled }); !errors.Is(err, context.Canceled) {
			t.Errorf("who was cancelled got %v", err)
		}
	})
	<-begun
	for range 8 {
		wg.Go(func() {
			v, err := s.Get("k", func() (int, error) { runs.Add(1); time.Sleep(20 * time.Millisecond); return 7, nil })
			if v != 7 || err != nil {
				t.Errorf("who waited got %d, %v", v, err)
			}
		})
	}
	time.Sleep(20 * time.Millisecond)
	close(go1)
	wg.Wait()
	if n := runs.Load(); n != 1 {
		t.Errorf("computed %d times", n)
	}
	s.Clear()
	if v, err := s.Get("k", func() (int, error) { return 8, nil }); v != 8 || err != nil {
		t.Errorf("after all was forgotten: %d, %v", v, err)
	}
}

// A panic is each caller's own, and the key works afterwards.
func TestPanicsAreNotKept(t *testing.T) {
	s := Results[int]{Size: 3}
	func() {
		defer func() {
			if f, ok := recover().(*fault.Error); !ok || f.What != "no" || !strings.Contains(string(f.Stack), "TestPanicsAreNotKept") {
				t.Errorf("the panic comes out as %v", f)
			}
		}()
		s.Get("k", func() (int, error) { panic("no") })
	}()
	if v, err := s.Get("k", func() (int, error) { return 1, nil }); v != 1 || err != nil {
		t.Errorf("got %d, %v", v, err)
	}
}
