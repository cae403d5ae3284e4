// Package registry holds what persons add to what ships: encodings, stocks, tables, pictures.
package registry

import "sync"

// Registry holds values by id, in order of coming. It is safe for concurrent use.
type Registry[T any] struct {
	mu   sync.RWMutex
	ids  []string
	list []T
}

// Add puts v at the end, in place of what had its id.
func (r *Registry[T]) Add(id string, v T) {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.remove(id)
	r.ids, r.list = append(r.ids, id), append(r.list, v)
}

// Remove takes what has an id away.
func (r *Registry[T]) Remove(id string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.remove(id)
}

// remove makes new lists, so that those that All gave out stay as they are.
func (r *Registry[T]) remove(id string) {
	var ids []string
	var list []T
	for i, have := range r.ids {
		if have != id {
			ids, list = append(ids, have), append(list, r.list[i])
		}
	}
	r.ids, r.list = ids, list
}

// All lists everything; the caller must not write into it.
func (r *Registry[T]) All() []T {
	r.mu.RLock()
	defer r.mu.RUnlock()
	return r.list[:len(r.list):len(r.list)]
}

// Find is what has an id.
func (r *Registry[T]) Find(id string) (v T, ok bool) {
	r.mu.RLock()
	defer r.mu.RUnlock()
	for i, have := range r.ids {
		if have == id {
			return r.list[i], true
		}
	}
	return v, false
}
