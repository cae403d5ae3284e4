package studio

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"velours/core/look"
)

func frameOf(n int) *Image {
	return &Image{W: 4, H: 4, RGBA: bytes.Repeat([]byte{byte(n)}, 64)}
}

// Frames beyond the memory lie on the disk, those beyond both are gone, the oldest first; the rest come
// back as they were.
func TestFrameCacheKeepsWithinItsBudgets(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "frames")
	r, err := newFrameCache(dir, 3*64, 2*64)
	if err != nil {
		t.Fatal(err)
	}
	for n := range 8 {
		r.put(fmt.Sprint(n), frameOf(n))
		if r.memory.Used() > 3*64 || r.disk.Used() > 2*64 {
			t.Fatalf("after %d: %d bytes in memory, %d on the disk", n, r.memory.Used(), r.disk.Used())
		}
	}
	for n := range 8 {
		im, ok := r.get(fmt.Sprint(n))
		if ok != (n >= 3) {
			t.Errorf("frame %d is kept: %v", n, ok)
		}
		if ok && !bytes.Equal(im.RGBA, frameOf(n).RGBA) {
			t.Errorf("frame %d comes back as another", n)
		}
	}
	if list, _ := os.ReadDir(dir); len(list) != 2 {
		t.Errorf("%d files on the disk", len(list))
	}
	if !r.full(64) || r.full(-64) {
		t.Error("a full cache is not full")
	}
	// a file that has gone is a frame that is not there
	for _, f := range must(os.ReadDir(dir)) {
		os.Remove(filepath.Join(dir, f.Name()))
	}
	for n := 3; n < 5; n++ {
		if _, ok := r.get(fmt.Sprint(n)); ok || r.has(fmt.Sprint(n)) {
			t.Errorf("frame %d came back from a file that is gone", n)
		}
	}
	r.put("large", &Image{W: 100, H: 100, RGBA: make([]byte, 40000)})
	if r.has("large") {
		t.Error("a frame larger than the memory was kept")
	}
	if _, err := newFrameCache(dir, 1, 1); err != nil {
		t.Fatal(err)
	}
}

func must[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}

// A stretch is made ready in order from where the shot is looked at, and what is ready is the picture.
func TestFillAndKept(t *testing.T) {
	s, shot, _ := small(t, 5)
	v := View{Shot: shot.ID, Frame: 3, W: 48, H: 27}
	stretch := Stretch{From: 0, To: 5}
	if kept := must(s.Kept(ctx, v, stretch)); len(kept) != 0 {
		t.Errorf("ready before anything was done: %v", kept)
	}
	var order []int
	quiet := func(ctx context.Context) (int, error) { return -1, ctx.Err() }
	if err := s.Fill(ctx, v, stretch, quiet, func(n int) {
		order = append(order, n)
		if n == 4 {
			if kept := must(s.Kept(ctx, v, stretch)); fmt.Sprint(kept) != "[[3 5]]" {
				t.Errorf("ready after two: %v", kept)
			}
		}
	}); err != nil {
		t.Fatal(err)
	}
	if fmt.Sprint(order) != "[3 4 0 1 2]" || fmt.Sprint(must(s.Kept(ctx, v, stretch))) != "[[0 5]]" {
		t.Errorf("in the order %v, ready %v", order, must(s.Kept(ctx, v, stretch)))
	}
	v.Frame = 1
	if a, b := must(s.Finished(ctx, v)), must(s.Picture(ctx, v)); !bytes.Equal(a.RGBA, b.RGBA) {
		t.Error("a finished frame is not the picture")
	}
	// another look, another size: nothing of it is ready
	edit(t, s, shot.ID, look.Edit{Op: "set", Station: "balance", Kind: "exposure", Setting: "stops", Value: 1.0})
	if kept := must(s.Kept(ctx, v, stretch)); len(kept) != 0 {
		t.Errorf("ready for another look: %v", kept)
	}
	// numbers of a frame that stands still
	still := Stretch{From: 0, To: 3, Still: true}
	if err := s.Fill(ctx, v, still, quiet, func(int) {}); err != nil {
		t.Fatal(err)
	}
	if kept := must(s.Kept(ctx, v, still)); fmt.Sprint(kept) != "[[0 3]]" || len(must(s.Kept(ctx, v, stretch))) != 0 {
		t.Errorf("still: %v", kept)
	}
	stop, cancel := context.WithCancel(ctx)
	cancel()
	if err := s.Fill(stop, v, stretch, quiet, func(int) {}); err == nil {
		t.Error("a cancelled fill went on")
	}
}

// A gap of a sequence is passed over: what is there is made ready.
func TestFillPassesGaps(t *testing.T) {
	s, _, dir := small(t, 1)
	for n := range 5 {
		if n != 2 {
			still(t, filepath.Join(dir, fmt.Sprintf("walk.%04d.png", n)), n)
		}
	}
	shot, err := s.AddShot(ctx, 1, filepath.Join(dir, "walk.0000.png"))
	if err != nil {
		t.Fatal(err)
	}
	v, stretch := View{Shot: shot.ID, W: 32, H: 18}, Stretch{From: 0, To: 5}
	if err := s.Fill(ctx, v, stretch, func(ctx context.Context) (int, error) { return -1, ctx.Err() }, func(int) {}); err != nil {
		t.Fatal(err)
	}
	if kept := must(s.Kept(ctx, v, stretch)); fmt.Sprint(kept) != "[[0 2] [3 5]]" {
		t.Errorf("ready: %v", kept)
	}
}

// The parts of a budget are its whole, none of them is nothing, and more memory makes none of them less.
func TestBudgetIsPartedWhole(t *testing.T) {
	last := Within(0)
	if last.Total() != LeastMemory<<20 {
		t.Errorf("the least is %d MB", last.Total()>>20)
	}
	for mb := LeastMemory; mb < 40000; mb += 613 {
		b := Within(mb)
		if b.Total() != int64(mb)<<20 {
			t.Errorf("%d MB are parted into %d", mb, b.Total()>>20)
		}
		if b.Pictures < 64<<20 || b.Frames < 16<<20 || b.Readers < last.Readers || b.Readers > 8 || b.working < last.working {
			t.Errorf("%d MB: %+v", mb, b)
		}
		last = b
	}
}
