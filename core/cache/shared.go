package cache

import (
	"context"
	"sync"
	"time"

	"velours/core/fault"
)

// Shared is work that several may wait for, by key: it goes on while somebody waits, and for Linger after the last has left, for who comes
// next with the same wish. The zero value is ready. It is safe for concurrent use.
type Shared[V any] struct {
	Linger time.Duration

	mu    sync.Mutex
	going map[string]*going[V]
}

// going is work under way.
type going[V any] struct {
	done    chan struct{}
	end     context.CancelFunc
	waiting int
	value   V
	err     error
}

// Do returns what work comes to, begun now unless it is under way. It leaves with the context's error as soon as ctx is done.
func (s *Shared[V]) Do(ctx context.Context, key string, work func(ctx context.Context) (V, error)) (V, error) {
	s.mu.Lock()
	g := s.going[key]
	if g == nil {
		own, end := context.WithCancel(context.WithoutCancel(ctx))
		g = &going[V]{done: make(chan struct{}), end: end}
		if s.going == nil {
			s.going = map[string]*going[V]{}
		}
		s.going[key] = g
		go func() {
			g.err = fault.Do(func() (err error) { g.value, err = work(own); return err })
			s.mu.Lock()
			s.forget(key, g)
			s.mu.Unlock()
			close(g.done)
			end()
		}()
	}
	g.waiting++
	s.mu.Unlock()
	select {
	case <-g.done:
	case <-ctx.Done():
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if g.waiting--; g.waiting == 0 {
		time.AfterFunc(s.Linger, func() {
			s.mu.Lock()
			defer s.mu.Unlock()
			if g.waiting == 0 { // nobody came
				s.forget(key, g)
				g.end()
			}
		})
	}
	if err := ctx.Err(); err != nil {
		var none V
		return none, err
	}
	return g.value, g.err
}

// forget takes work out, so that who comes now begins anew. s.mu is held.
func (s *Shared[V]) forget(key string, g *going[V]) {
	if s.going[key] == g {
		delete(s.going, key)
	}
}
