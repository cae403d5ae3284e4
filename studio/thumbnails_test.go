package studio

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"velours/core/look"
)

// A thumbnail is made once: it is the draft of the shot as it is kept, read from its file from then on; another look, frame or size has
// another file, a damaged one is made anew.
func TestThumbnailsAreMadeOnce(t *testing.T) {
	s, shot, _ := filmed(t)
	v := View{Shot: shot, W: 64, H: 64}
	files := func() []string { return must(filepath.Glob(filepath.Join(s.Sessions.dir, "thumbnails", "*.png"))) }
	first := must(s.Thumbnail(ctx, v))
	draft := v
	draft.Draft = true
	if !bytes.Equal(first.RGBA, pixels(t, s, draft)) {
		t.Error("it is not the draft of the shot")
	}
	list := files()
	if len(list) != 1 {
		t.Fatalf("%d files", len(list))
	}
	was := must(os.Stat(list[0]))
	again := must(s.Thumbnail(ctx, v))
	if !bytes.Equal(again.RGBA, first.RGBA) || again.W != first.W || again.SourceW != first.SourceW {
		t.Error("read from its file it is another")
	}
	if now := must(os.Stat(list[0])); !now.ModTime().Equal(was.ModTime()) {
		t.Error("it was made again")
	}
	if err := os.WriteFile(list[0], []byte("torn"), 0o644); err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(must(s.Thumbnail(ctx, v)).RGBA, first.RGBA) {
		t.Error("a damaged file was not made anew")
	}
	set(t, s, shot, look.OfShot, "balance.exposure.stops=2")
	if bytes.Equal(must(s.Thumbnail(ctx, v)).RGBA, first.RGBA) || len(files()) != 2 {
		t.Error("another look has the same thumbnail")
	}
	v.W, v.H = 32, 32
	must(s.Thumbnail(ctx, v))
	if len(files()) != 3 {
		t.Errorf("%d files for two looks and another size", len(files()))
	}
}

// A sequence, whose path is a pattern, has its thumbnail kept as a file has.
func TestThumbnailsOfSequences(t *testing.T) {
	dir := t.TempDir()
	for n := 7; n < 10; n++ {
		still(t, filepath.Join(dir, fmt.Sprintf("roll.%04d.png", n)), n)
	}
	s := must(Open(filepath.Join(dir, "data")))
	t.Cleanup(func() { s.Close() })
	shot := must(s.AddShot(ctx, must(s.AddReel("R")).ID, filepath.Join(dir, "roll.%04d.png")))
	must(s.Thumbnail(ctx, View{Shot: shot.ID, W: 32, H: 32}))
	if list := must(filepath.Glob(filepath.Join(dir, "data", "thumbnails", "*.png"))); len(list) != 1 {
		t.Errorf("%d thumbnails are kept", len(list))
	}
}
