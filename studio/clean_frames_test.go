package studio

import (
	"os"
	"path/filepath"
	"testing"

	"velours/core/frame"
)

func TestCleanFramesAreKept(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "clean")
	c, err := newCleanFrames(dir, 2*4*7*5*3)
	if err != nil {
		t.Fatal(err)
	}
	make := func(v float32) *frame.Frame {
		f := frame.New(7, 5, 3)
		for p := range 3 {
			for y := range 5 {
				for x := range f.Row(p, y) {
					f.Row(p, y)[x] = v + float32(p)*0.1 + float32(y*7+x)*1e-3
				}
			}
		}
		return f
	}
	for i, key := range []string{"a", "b", "c"} {
		c.Put(key, make(float32(i)))
	}
	if c.Get("a") != nil {
		t.Error("more is kept than there is room for")
	}
	for i, key := range []string{"b", "c"} {
		got, want := c.Get(key), make(float32(i+1))
		if got == nil {
			t.Fatalf("%s is gone", key)
		}
		for p := range 3 {
			for y := range 5 {
				for x, v := range got.Row(p, y) {
					if v != want.Row(p, y)[x] {
						t.Fatalf("%s comes back as %g", key, v)
					}
				}
			}
		}
	}
	files, err := filepath.Glob(filepath.Join(dir, "*"))
	if err != nil || len(files) != 2 {
		t.Fatalf("%d files lie there, %v", len(files), err)
	}
	// a file that somebody shortened is cleaned again
	for _, f := range files {
		if err := os.Truncate(f, 3); err != nil {
			t.Fatal(err)
		}
	}
	if c.Get("b") != nil || c.Get("c") != nil || c.Get("b") != nil {
		t.Error("a broken file is shown")
	}
	c.Put("b", make(9))
	if c.Get("b") == nil {
		t.Error("it is not kept again")
	}
	if _, err := newCleanFrames(dir, 1000); err != nil {
		t.Fatal(err)
	}
	if files, err := filepath.Glob(filepath.Join(dir, "*")); err != nil || len(files) != 0 {
		t.Errorf("%d files of before lie there, %v", len(files), err)
	}
}
