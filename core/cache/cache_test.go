package cache

import (
	"math/rand/v2"
	"slices"
	"testing"
)

func TestBoundedBySize(t *testing.T) {
	c := New[string, int](10)
	c.Put("a", 1, 4)
	c.Put("b", 2, 4)
	if gone := c.Put("large", 9, 11); gone != nil || c.Has("large") || c.Used() != 8 {
		t.Errorf("what is larger than the whole pushed out %v", gone)
	}
	c.Get("a")
	if gone := c.Put("c", 3, 4); len(gone) != 1 || gone[0] != (Entry[string, int]{"b", 2}) {
		t.Errorf("what was used longest ago is b, and %v went", gone)
	}
	c.Put("a", 100, 1)
	if v, ok := c.Get("a"); v != 1 || !ok {
		t.Errorf("a key that was there became %d", v)
	}
	if v, ok := c.Remove("a"); v != 1 || !ok || c.Used() != 4 || c.Has("a") {
		t.Errorf("removed %d, %d are used", v, c.Used())
	}
	if _, ok := c.Remove("a"); ok {
		t.Error("removed twice")
	}
	if c.Clear(); c.Used() != 0 || c.Has("c") {
		t.Error("not cleared")
	}
	none := New[int, int](0)
	if none.Put(1, 1, 1); none.Has(1) {
		t.Error("a cache of nothing keeps something")
	}
}

// Whatever comes, it is never over its bound, and holds the last few that were used, as a plain list does.
func TestAgainstAPlainList(t *testing.T) {
	const limit = 30
	c := New[int, int](limit)
	var list []int // the one used last at the end
	size := func(k int) int64 { return int64(1 + k%7) }
	r := rand.New(rand.NewPCG(4, 4))
	for range 5000 {
		k := r.IntN(20)
		at := slices.Index(list, k)
		switch r.IntN(3) {
		case 0:
			if _, ok := c.Get(k); ok != (at >= 0) {
				t.Fatalf("%d is kept: %v", k, ok)
			}
			if at >= 0 {
				list = append(slices.Delete(list, at, at+1), k)
			}
		case 1:
			c.Put(k, k, size(k))
			if at < 0 {
				list = append(list, k)
			}
			for total := int64(limit + 1); total > limit; {
				total = 0
				for _, v := range list {
					total += size(v)
				}
				if total > limit {
					list = list[1:]
				}
			}
		case 2:
			if c.Has(k) != (at >= 0) {
				t.Fatalf("%d is kept: %v", k, c.Has(k))
			}
		}
		if c.Used() > limit {
			t.Fatalf("%d are used of %d", c.Used(), limit)
		}
	}
}
