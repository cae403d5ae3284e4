package cache

import (
	"context"
	"errors"
	"sync"
	"velours/core/fault"

	"golang.org/x/sync/singleflight"
)

// Results keeps the last Size results of a slow computation, by key: tables, timed prints, spectral integrals that
// serve many frames. The zero value with a Size is ready. It is safe for concurrent use.
type Results[V any] struct {
	Size int

	once  sync.Once
	cache *Cache[string, V]
	group singleflight.Group
}

func (r *Results[V]) kept() *Cache[string, V] {
	r.once.Do(func() { r.cache = New[string, V](int64(r.Size)) })
	return r.cache
}

// Get returns the result under key, computing it when it is not there: once, for all who come meanwhile. A computation
// that fails is not kept. One that was cancelled by who began it is begun anew for those who waited.
func (r *Results[V]) Get(key string, compute func() (V, error)) (V, error) {
	kept := r.kept()
	for {
		if v, ok := kept.Get(key); ok {
			return v, nil
		}
		mine := false
		got, err, _ := r.group.Do(key, func() (any, error) {
			mine = true
			v, err := caught(compute)
			if err == nil {
				kept.Put(key, v, 1)
			}
			return v, err
		})
		if t, ok := err.(thrown); ok {
			panic(t.error)
		}
		if err != nil && !mine && (errors.Is(err, context.Canceled) || errors.Is(err, context.DeadlineExceeded)) {
			continue
		}
		v, _ := got.(V)
		return v, err
	}
}

// thrown is a panic of a computation, on its way to all who wait for it.
type thrown struct{ error }

// caught computes, and gives a panic back as thrown, with its stack (fault.Error).
func caught[V any](compute func() (V, error)) (v V, err error) {
	if panicked := fault.Do(func() error { v, err = compute(); return nil }); panicked != nil {
		return v, thrown{panicked}
	}
	return v, err
}

// Clear forgets all results.
func (r *Results[V]) Clear() { r.kept().Clear() }
