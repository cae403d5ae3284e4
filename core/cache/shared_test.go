package cache

import (
	"context"
	"errors"
	"sync"
	"sync/atomic"
	"testing"
	"time"
)

func TestSharedWorkIsDoneOnce(t *testing.T) {
	s := Shared[int]{Linger: time.Minute}
	var times atomic.Int64
	release := make(chan struct{})
	work := func(ctx context.Context) (int, error) {
		times.Add(1)
		select {
		case <-release:
			return 7, nil
		case <-ctx.Done():
			return 0, ctx.Err()
		}
	}
	// one who leaves does not end it for who stays or comes
	leaving, leave := context.WithCancel(t.Context())
	left := make(chan error)
	go func() {
		_, err := s.Do(leaving, "a", work)
		left <- err
	}()
	for times.Load() == 0 {
		time.Sleep(time.Millisecond)
	}
	leave()
	if err := <-left; !errors.Is(err, context.Canceled) {
		t.Errorf("who left was told %v", err)
	}
	var wait sync.WaitGroup
	for range 4 {
		wait.Go(func() {
			if v, err := s.Do(t.Context(), "a", work); v != 7 || err != nil {
				t.Errorf("%d, %v", v, err)
			}
		})
	}
	time.Sleep(5 * time.Millisecond)
	close(release)
	wait.Wait()
	if n := times.Load(); n != 1 {
		t.Errorf("it was done %d times", n)
	}
	// nothing is kept
	if v, err := s.Do(t.Context(), "a", work); v != 7 || err != nil || times.Load() != 2 {
		t.Errorf("anew: %d, %v, %d times", v, err, times.Load())
	}
}

func TestSharedWorkEndsWhenNobodyComes(t *testing.T) {
	s := Shared[int]{Linger: time.Millisecond}
	ended := make(chan struct{})
	ctx, leave := context.WithCancel(t.Context())
	go s.Do(ctx, "a", func(ctx context.Context) (int, error) {
		<-ctx.Done()
		close(ended)
		return 0, ctx.Err()
	})
	time.Sleep(5 * time.Millisecond)
	leave()
	<-ended
	// a panic is an error of all who wait
	if _, err := s.Do(t.Context(), "b", func(context.Context) (int, error) { panic("no") }); err == nil {
		t.Error("a panic is no error")
	}
}
