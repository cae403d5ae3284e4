package e2e

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"velours/core/frame"
	"velours/media"
)

// rushes writes what a camera and a renderer would leave: a sequence with a gap and two movies without tags.
func rushes(t *testing.T, dir string) (files []string) {
	t.Helper()
	write := func(name string, first, n int) {
		w, err := media.Create(filepath.Join(dir, name), first, media.Options{})
		if err != nil {
			t.Fatal(err)
		}
		for k := range n {
			f := frame.New(160, 90, 3)
			for p := range 3 {
				for y := range f.H {
					for x := range f.W {
						f.Row(p, y)[x] = 0.1 + 0.5*float32(x)/160 + 0.02*float32(p*k)
					}
				}
			}
			if err := w.Write(context.Background(), f); err != nil {
				t.Fatal(err)
			}
		}
		if err := w.Close(); err != nil {
			t.Fatal(err)
		}
	}
	write("lamp.%04d.dpx", 101, 6)
	if err := os.Remove(filepath.Join(dir, "lamp.0103.dpx")); err != nil {
		t.Fatal(err)
	}
	write("stairs.mkv", 0, 4)
	write("yard.mkv", 0, 4)
	list, err := os.ReadDir(dir)
	if err != nil {
		t.Fatal(err)
	}
	for _, e := range list {
		files = append(files, filepath.Join(dir, e.Name()))
	}
	return files
}

// Bringing footage in: sent from the page, its gap seen, declared in one act, and delivered.
func TestBringingShotsIn(t *testing.T) {
	b := browser(t)
	dir := t.TempDir()
	srv, _ := open(t, filepath.Join(dir, "data"))
	from := filepath.Join(dir, "card")
	if err := os.Mkdir(from, 0o755); err != nil {
		t.Fatal(err)
	}
	files := rushes(t, from)
	p := page(t, b, srv.URL)
	exact(t, p)

	t.Log("send the files of a card")
	p.MustElementR("header button", "^Add$").MustClick()
	p.MustElement("[data-testid=upload]").MustSetFiles(files...)
	p.MustElementR("aside button", "lamp")
	p.MustElementR("aside button", "1 frame missing")
	exact(t, p)

	t.Log("see the gap")
	p.MustElement("body").MustEval("() => document.activeElement.blur()")
	p.Keyboard.MustType(input.Period, input.Period)
	if text := p.MustElement("[data-testid=gap]").MustText(); !strings.Contains(text, "103 is missing") {
		t.Errorf("the gap says %q", text)
	}
	p.Keyboard.MustType(input.Period)
	exact(t, p)
	if p.MustHas("[data-testid=gap]") {
		t.Error("the gap is shown on a frame that is there")
	}

	t.Log("declare all three at once, by the frame under every encoding")
	p.MustElementR("aside button", "^Declare$").MustClick()
	p.MustElement("[data-testid=encodings] [data-encoding=slog3]").MustClick()
	until(t, "all three are declared", func() bool {
		return named(t, srv.URL, "lamp").Encoding == "slog3" && named(t, srv.URL, "stairs").Encoding == "slog3" && named(t, srv.URL, "yard").Encoding == "slog3"
	})
	if on := setting(t, named(t, srv.URL, "yard"), "intake", "compress", "on"); on != true {
		t.Errorf("the camera gamut's step is %v", on)
	}

	t.Log("in and out around the gap, and the shot as DPX")
	p.MustElement("[role=slider][aria-label=Frame]").MustFocus()
	p.Keyboard.MustType(input.KeyI)
	p.MustElement("[data-testid=span]")
	p.MustElementR("header button", "^Deliver$").MustClick()
	p.MustElementR("[role=dialog] button", "^DPX, 10-bit$").MustClick()
	p.MustElement("[data-testid=deliveries] [data-state=done]")
	list := fetch[[]struct{ Path, State string }](t, srv.URL+"/api/v1/deliveries")
	for n := 3; n < 6; n++ {
		if st, err := os.Stat(fmt.Sprintf(list[0].Path, n)); err != nil || st.Size() < 160*90*4 {
			t.Errorf("frame %d of the delivery: %v", n, err)
		}
	}
	info, err := media.Probe(context.Background(), list[0].Path)
	if err != nil || info.Frames != 3 || info.Depth != 10 || info.W != 160 {
		t.Errorf("delivered %+v, %v", info, err)
	}

	t.Log("take a shot out again")
	p.Keyboard.MustType(input.Escape)
	undisturbed(t, p)
	p.Keyboard.MustType(input.Key('1'))
	p.MustElementR("aside[aria-label=Desk] button", "^Remove$").MustClick()
	until(t, "the shot is gone", func() bool {
		return !slices.ContainsFunc(everyShot(t, srv.URL), func(s shot) bool { return s.Name == "lamp" })
	})
}
