// Package cache keeps values in memory within a bound: those used longest ago go first.
package cache

import (
	"container/list"
	"sync"
)

// Cache keeps values by key up to a total size, in whatever unit their sizes are given: bytes, or one each. It is safe
// for concurrent use.
type Cache[K comparable, V any] struct {
	limit int64

	mu     sync.Mutex
	used   int64
	lent   int64      // of the limit, to others
	recent *list.List // of *entry, the one used last at the front
	byKey  map[K]*list.Element
}

// Entry is a value with its key.
type Entry[K comparable, V any] struct {
	Key   K
	Value V
}

type entry[K comparable, V any] struct {
	Entry[K, V]
	size int64
}

// New makes a cache that keeps values up to a total size; 0 keeps nothing.
func New[K comparable, V any](limit int64) *Cache[K, V] {
	return &Cache[K, V]{limit: limit, recent: list.New(), byKey: map[K]*list.Element{}}
}

// Get returns what is kept under a key, which is now the value used last.
func (c *Cache[K, V]) Get(key K) (v V, ok bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	e := c.byKey[key]
	if e == nil {
		return v, false
	}
	c.recent.MoveToFront(e)
	return e.Value.(*entry[K, V]).Value, true
}

// Has tells whether a key is kept, without making it the one used last.
func (c *Cache[K, V]) Has(key K) bool {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.byKey[key] != nil
}

// Put keeps a value and returns what had to go for it, the one used longest ago first. A value that is larger than the
// whole cache is not kept, nor is one whose key there is already.
func (c *Cache[K, V]) Put(key K, v V, size int64) (gone []Entry[K, V]) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if size > c.limit-c.lent || c.byKey[key] != nil {
		return nil
	}
	c.byKey[key] = c.recent.PushFront(&entry[K, V]{Entry[K, V]{key, v}, size})
	c.used += size
	return c.shrink()
}

// shrink forgets what is beyond the limit. c.mu is held.
func (c *Cache[K, V]) shrink() (gone []Entry[K, V]) {
	for c.used > max(c.limit-c.lent, 0) {
		gone = append(gone, c.forget(c.recent.Back()))
	}
	return gone
}

// Lend lowers the limit by a size, or raises it again by one below 0, and returns what had to go.
func (c *Cache[K, V]) Lend(size int64) (gone []Entry[K, V]) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.lent += size
	return c.shrink()
}

// Remove takes a key out, and returns what it held.
func (c *Cache[K, V]) Remove(key K) (v V, ok bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	e := c.byKey[key]
	if e == nil {
		return v, false
	}
	return c.forget(e).Value, true
}

// Clear takes everything out.
func (c *Cache[K, V]) Clear() {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.used = 0
	c.recent.Init()
	clear(c.byKey)
}

// All lists what is kept, the value used last first.
func (c *Cache[K, V]) All() []V {
	c.mu.Lock()
	defer c.mu.Unlock()
	var list []V
	for e := c.recent.Front(); e != nil; e = e.Next() {
		list = append(list, e.Value.(*entry[K, V]).Value)
	}
	return list
}

// Used is the total size of what is kept, Limit the bound on it.
func (c *Cache[K, V]) Used() int64 {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.used
}

// Limit is the total size up to which values are kept.
func (c *Cache[K, V]) Limit() int64 { return c.limit }

func (c *Cache[K, V]) forget(e *list.Element) Entry[K, V] {
	k := c.recent.Remove(e).(*entry[K, V])
	delete(c.byKey, k.Key)
	c.used -= k.size
	return k.Entry
}
