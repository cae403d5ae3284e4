package media

import (
	"bytes"
	"context"
	"os"
	"path/filepath"
	"testing"
	"time"

	"velours/core/cache"
	"velours/core/frame"
)

// A movie of long groups is kept on the disk as it was decoded, beyond what is in memory: the same bytes, without a decoder, up to the
// limit. What is gone from the disk is decoded again.
func TestProxies(t *testing.T) {
	need(t)
	ctx := context.Background()
	name := filepath.Join(t.TempDir(), "long.mp4")
	write(t, name, Options{Codec: "h264"}, 12)
	dir := filepath.Join(t.TempDir(), "decoded")
	if err := os.MkdirAll(dir, 0o755); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(filepath.Join(dir, "of an earlier run"), nil, 0o644); err != nil {
		t.Fatal(err)
	}
	plain, err := Open(ctx, name)
	if err != nil {
		t.Fatal(err)
	}
	defer plain.Close()
	if plain.Slow() {
		t.Error("frames are kept on the disk without a place")
	}
	size := int64(plain.layout.bytes())
	p, err := NewProxies(dir, 12*size)
	if err != nil {
		t.Fatal(err)
	}
	r, err := Open(ctx, name)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	r.cache = cache.New[int, []byte](2 * size)
	r.KeepOn(p)
	files := func() int {
		list, err := os.ReadDir(dir)
		if err != nil {
			t.Fatal(err)
		}
		return len(list)
	}
	for n := range 12 {
		if err := r.Decode(ctx, n); err != nil {
			t.Fatal(err)
		}
	}
	settle(t, func() bool { return files() == 10 })
	r.drop()
	for n := range 12 {
		if !r.Decoded(n) {
			t.Fatalf("frame %d is not there", n)
		}
		got, err := r.wait(ctx, n)
		if err != nil {
			t.Fatal(err)
		}
		want, err := plain.wait(ctx, n)
		if err != nil {
			t.Fatal(err)
		}
		if !bytes.Equal(got.([]byte), want.([]byte)) {
			t.Errorf("frame %d is another", n)
		}
	}
	r.mu.Lock()
	if r.decoder != nil {
		t.Error("a decoder was started for frames that are decoded")
	}
	r.mu.Unlock()
	list, err := os.ReadDir(dir)
	if err != nil {
		t.Fatal(err)
	}
	for _, e := range list { // somebody clears the folder, or cuts a file short
		if err := os.Truncate(filepath.Join(dir, e.Name()), 5); err != nil {
			t.Fatal(err)
		}
	}
	for n := range 12 {
		got, err := r.Frame(ctx, n)
		if err != nil {
			t.Fatal(err)
		}
		if want, err := plain.Frame(ctx, n); err != nil || got.Row(0, 3)[5] != want.Row(0, 3)[5] {
			t.Errorf("frame %d is another after its file was cut short (%v)", n, err)
		}
	}
}

// Beyond the limit nothing is decoded before it is asked for, and what was used longest ago goes.
func TestProxiesKeepToTheirLimit(t *testing.T) {
	need(t)
	ctx := context.Background()
	name := filepath.Join(t.TempDir(), "long.mp4")
	write(t, name, Options{Codec: "h264"}, 30)
	dir := filepath.Join(t.TempDir(), "decoded")
	r, err := Open(ctx, name)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	size := int64(r.layout.bytes())
	p, err := NewProxies(dir, 3*size)
	if err != nil {
		t.Fatal(err)
	}
	r.cache = cache.New[int, []byte](2 * size)
	r.KeepOn(p)
	for n := range 30 {
		if _, err := r.Frame(ctx, n); err != nil {
			t.Fatal(err)
		}
	}
	settle(t, func() bool { return p.kept.Used() == 3*size && len(p.writing) == 0 })
	if err := r.Decode(ctx, 2); err != nil || r.Decoded(2) {
		t.Errorf("frame 2 was decoded beyond the limit (%v)", err)
	}
	list, err := os.ReadDir(dir)
	if err != nil || len(list) != 3 {
		t.Errorf("%d files, want 3 (%v)", len(list), err)
	}
}

// settle waits until something holds.
func settle(t *testing.T, holds func() bool) {
	t.Helper()
	for range 500 {
		if holds() {
			return
		}
		time.Sleep(10 * time.Millisecond)
	}
	t.Fatal("it did not come to rest")
}

// Movies of which every frame is decoded by itself are not kept a second time.
func TestWholeFramesHaveNoProxies(t *testing.T) {
	need(t)
	name := filepath.Join(t.TempDir(), "whole.mov")
	write(t, name, Options{}, 2)
	p, err := NewProxies(t.TempDir(), 1<<20)
	if err != nil {
		t.Fatal(err)
	}
	r, err := Open(context.Background(), name)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	if r.KeepOn(p); r.Slow() {
		t.Errorf("frames of %s are kept on the disk", r.Info.Codec)
	}
}

// A reader that has room for a frame or two reads on in order with the decoder that it has: what is read ahead pushes nothing out.
func TestReadingAheadPushesNothingOut(t *testing.T) {
	need(t)
	ctx := context.Background()
	name := filepath.Join(t.TempDir(), "long.mp4")
	write(t, name, Options{Codec: "h264"}, 16)
	for _, room := range []int64{1, 2, 3} {
		r, err := Open(ctx, name)
		if err != nil {
			t.Fatal(err)
		}
		r.cache = cache.New[int, []byte](room * int64(r.layout.bytes()))
		var first *decoder
		for n := range 16 {
			if _, err := r.Frame(ctx, n); err != nil {
				t.Fatal(err)
			}
			r.mu.Lock()
			if n == 0 {
				first = r.decoder
			}
			if r.decoder != first {
				t.Errorf("room for %d: the decoder was begun anew at frame %d", room, n)
				first = r.decoder
			}
			r.mu.Unlock()
		}
		r.Close()
	}
}

// The decoder of large frames ends when it has rested, and the next frame begins another; that of usual frames stays.
func TestDecodersOfLargeFramesDoNotLinger(t *testing.T) {
	need(t)
	ctx := context.Background()
	name := filepath.Join(t.TempDir(), "long.mp4")
	write(t, name, Options{Codec: "h264"}, 6)
	wasLarge, wasWarm := largeFrame, warmth
	defer func() { largeFrame, warmth = wasLarge, wasWarm }()
	warmth = 20 * time.Millisecond
	warm := func(r *Reader) bool {
		r.mu.Lock()
		defer r.mu.Unlock()
		return r.decoder != nil
	}
	for _, large := range []bool{false, true} {
		if large {
			largeFrame = 1
		}
		r, err := Open(ctx, name)
		if err != nil {
			t.Fatal(err)
		}
		defer r.Close()
		var was *frame.Frame
		for _, n := range []int{2, 4, 2} {
			f, err := r.Frame(ctx, n)
			if err != nil {
				t.Fatal(err)
			}
			if n == 2 && was != nil && f.Row(0, 3)[5] != was.Row(0, 3)[5] {
				t.Error("another decoder, another frame")
			}
			if n == 2 {
				was = f
			}
			if large {
				settle(t, func() bool { return !warm(r) })
			} else if time.Sleep(5 * warmth); !warm(r) {
				t.Error("the decoder of usual frames ended")
			}
		}
	}
}

// Closed, nothing is written any more: the folder can go.
func TestProxiesAreClosed(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "decoded")
	p, err := NewProxies(dir, 1<<30)
	if err != nil {
		t.Fatal(err)
	}
	data := make([]byte, 4<<20)
	for n := range 8 {
		p.put(proxyKey{"a movie", n}, data)
	}
	p.Close()
	if list, err := os.ReadDir(dir); err != nil || len(list) != 8 {
		t.Errorf("%d files when it is closed, %v", len(list), err)
	}
	if err := os.RemoveAll(dir); err != nil {
		t.Fatal(err)
	}
	p.put(proxyKey{"a movie", 8}, data)
	time.Sleep(20 * time.Millisecond)
	if _, err := os.Stat(dir); err == nil || p.has(proxyKey{"a movie", 8}) {
		t.Error("something was kept after it was closed")
	}
}
