// Package shelf keeps the last few results of slow computations, by key: tables, timed prints,
// spectral integrals that serve many frames.
package shelf

import "sync"

// Shelf keeps up to Size values; the oldest goes first. It is safe for concurrent use.
type Shelf[T any] struct {
	Size int

	mu     sync.Mutex
	order  []string
	values map[string]T
}

// Get returns the value under key, computing it when it is not there. A computation that fails is
// not kept. Two callers that come at once may both compute; the results are the same.
func (s *Shelf[T]) Get(key string, compute func() (T, error)) (T, error) {
	s.mu.Lock()
	v, ok := s.values[key]
	s.mu.Unlock()
	if ok {
		return v, nil
	}
	v, err := compute()
	if err != nil {
		return v, err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.values == nil {
		s.values = map[string]T{}
	}
	if _, ok := s.values[key]; !ok {
		s.order = append(s.order, key)
	}
	s.values[key] = v
	for len(s.order) > s.Size {
		delete(s.values, s.order[0])
		s.order = s.order[1:]
	}
	return v, nil
}
