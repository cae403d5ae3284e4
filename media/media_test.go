package media

import (
	"bytes"
	"context"
	"errors"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"velours/core/frame"
)

var ctx = context.Background()

func need(t *testing.T) {
	t.Helper()
	if _, err := exec.LookPath("ffmpeg"); err != nil {
		if os.Getenv("CI") != "" {
			t.Fatal("ffmpeg is not installed")
		}
		t.Skip("ffmpeg is not installed; make test installs it")
	}
}

// card is a picture whose code values tell where and when they are.
func card(w, h, n int) *frame.Frame {
	f := frame.New(w, h, 3)
	for y := range h {
		for x := range w {
			f.Row(0, y)[x] = float32(x) / float32(w)
			f.Row(1, y)[x] = float32(y) / float32(h)
			f.Row(2, y)[x] = 0.1 + 0.05*float32(n)
		}
	}
	return f
}

func write(t *testing.T, path string, opt Options, n int) {
	t.Helper()
	w, err := Create(path, 0, opt)
	if err != nil {
		t.Fatal(err)
	}
	for i := range n {
		if err := w.Write(ctx, card(64, 48, i)); err != nil {
			t.Fatal(err)
		}
	}
	if err := w.Close(); err != nil {
		t.Fatal(err)
	}
}

// Every format comes back as it went out, to its own precision; frame n is frame n.
func TestWhatIsWrittenIsRead(t *testing.T) {
	need(t)
	dir := t.TempDir()
	for _, c := range []struct {
		name  string
		opt   Options
		n     int
		limit float64
	}{
		{"a.png", Options{}, 1, 1.0 / 65535}, {"a.tif", Options{}, 1, 1.0 / 65535}, {"a.exr", Options{}, 1, 1e-6}, {"half.exr", Options{Half: true}, 1, 6e-4},
		{"a.dpx", Options{}, 1, 1.0 / 1023}, {"a.%04d.png", Options{}, 3, 1.0 / 65535}, {"a.%06d.exr", Options{}, 3, 1e-6},
		{"a.mkv", Options{}, 6, 1.0 / 65535}, {"a.mov", Options{}, 6, 0.02}, {"a.mp4", Options{}, 6, 0.02},
	} {
		t.Run(c.name, func(t *testing.T) {
			path := filepath.Join(dir, c.name)
			write(t, path, c.opt, c.n)
			r, err := Open(ctx, path)
			if err != nil {
				t.Fatal(err)
			}
			defer r.Close()
			if r.Info.Frames != c.n || r.Info.W != 64 || r.Info.H != 48 {
				t.Fatalf("read as %d frames of %d×%d", r.Info.Frames, r.Info.W, r.Info.H)
			}
			for _, n := range []int{c.n - 1, 0, c.n / 2, c.n - 1} {
				f, err := r.Frame(ctx, n)
				if err != nil {
					t.Fatal(err)
				}
				want := card(64, 48, n)
				// away from the frame's edge, where 4:2:2 has no neighbour
				for p := range 3 {
					for y := 4; y < 44; y++ {
						for x := 4; x < 60; x++ {
							if d := math.Abs(float64(f.Row(p, y)[x] - want.Row(p, y)[x])); d > c.limit {
								t.Fatalf("frame %d, plane %d at %d, %d: off by %g", n, p, x, y, d)
							}
						}
					}
				}
			}
		})
	}
}

func TestUnclippedFloats(t *testing.T) {
	need(t)
	path := filepath.Join(t.TempDir(), "a.exr")
	f := frame.New(32, 16, 4)
	for y := range 16 {
		for x := range 32 {
			f.Row(0, y)[x], f.Row(1, y)[x], f.Row(2, y)[x], f.Row(3, y)[x] = 120.5, -0.25, float32(x), float32(y)/16
		}
	}
	w, err := Create(path, 0, Options{Light: true})
	if err != nil {
		t.Fatal(err)
	}
	if err := w.Write(ctx, f); err != nil {
		t.Fatal(err)
	}
	r, err := Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	g, err := r.Frame(ctx, 0)
	if err != nil {
		t.Fatal(err)
	}
	if g.Planes != 4 {
		t.Fatalf("%d planes: alpha is lost", g.Planes)
	}
	for p := range 4 {
		if a, b := f.Row(p, 7)[9], g.Row(p, 7)[9]; a != b {
			t.Errorf("plane %d: %g came back as %g", p, a, b)
		}
	}
}

func TestBadFilesAreNamedWithARemedy(t *testing.T) {
	need(t)
	dir := t.TempDir()
	put := func(name, text string) string {
		path := filepath.Join(dir, name)
		if err := os.WriteFile(path, []byte(text), 0o644); err != nil {
			t.Fatal(err)
		}
		return path
	}
	movie := filepath.Join(dir, "whole.mov")
	write(t, movie, Options{}, 8)
	data, err := os.ReadFile(movie)
	if err != nil {
		t.Fatal(err)
	}
	for name, path := range map[string]string{
		"missing": filepath.Join(dir, "none.exr"), "text as exr": put("t.exr", "this is a letter\n"), "text as png": put("t.png", "a letter"),
		"empty": put("e.mov", ""), "cut movie": put("cut.mov", string(data[:len(data)/2])), "folder": dir, "no sequence": filepath.Join(dir, "z.%03d.exr"),
	} {
		_, err := Open(ctx, path)
		var f *FileError
		if !errors.As(err, &f) {
			t.Errorf("%s: %v is no FileError", name, err)
			continue
		}
		if !strings.Contains(err.Error(), path) || f.Remedy == "" || strings.Contains(err.Error(), "\n") {
			t.Errorf("%s: %q lacks the file or the remedy, or has more than one line", name, err)
		}
	}
}

func TestUnwritablePlacesAreRefusedBeforeWork(t *testing.T) {
	dir := t.TempDir()
	for _, path := range []string{filepath.Join(dir, "none", "a.png"), filepath.Join(dir, "a.xyz"), filepath.Join(dir, "a.%d.%d.png"), dir} {
		if _, err := Create(path, 0, Options{}); err == nil {
			t.Errorf("%s was accepted", path)
		}
	}
	if _, err := Create(filepath.Join(dir, "a.png"), 0, Options{Light: true}); err == nil {
		t.Error("light in a PNG was accepted")
	}
	left, _ := os.ReadDir(dir)
	if len(left) != 0 {
		t.Errorf("left behind: %v", left)
	}
}

func TestAbortLeavesNothing(t *testing.T) {
	need(t)
	dir := t.TempDir()
	for _, name := range []string{"a.mov", "b.%03d.png"} {
		w, err := Create(filepath.Join(dir, name), 0, Options{})
		if err != nil {
			t.Fatal(err)
		}
		if err := w.Write(ctx, card(64, 48, 0)); err != nil {
			t.Fatal(err)
		}
		w.Abort()
	}
	left, _ := os.ReadDir(dir)
	if len(left) != 0 {
		t.Errorf("left behind: %v", left)
	}
}

func FuzzSequenceNames(f *testing.F) {
	for _, s := range []string{"a.%06d.exr", "%d", "a%%d.png", "x.%s.png", "%0999d"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, name string) {
		if strings.Contains(name, "/") || len(name) > 40 {
			return
		}
		if _, err := findSequence(filepath.Join(t.TempDir(), name)); err == nil {
			t.Errorf("%q found a sequence in an empty folder", name)
		}
	})
}

// What is not planar is asked for in 16-bit planes, with alpha where the format has it.
func TestLayouts(t *testing.T) {
	for _, c := range []struct {
		format, name    string
		yuv, alpha      bool
		depth, w, bytes int
	}{
		{"yuv422p10le", "yuv422p10le", true, false, 10, 6, 6*4*2 + 2*3*4*2},
		{"yuv420p", "yuv420p", true, false, 8, 5, 5*4 + 2*3*2},
		{"yuva444p12le", "yuva444p12le", true, true, 12, 6, 6 * 4 * 4 * 2},
		{"gbrapf32le", "gbrapf32le", false, true, 32, 6, 6 * 4 * 4 * 4},
		{"gbrp10le", "gbrp10le", false, false, 10, 6, 6 * 4 * 3 * 2},
		{"rgb48be", "gbrp16le", false, false, 16, 6, 6 * 4 * 3 * 2},
		{"rgba64be", "gbrap16le", false, true, 16, 6, 6 * 4 * 4 * 2},
		{"bgra", "gbrap16le", false, true, 16, 6, 6 * 4 * 4 * 2},
		{"gray", "gbrp16le", false, false, 16, 6, 6 * 4 * 3 * 2},
		{"nv12", "yuv420p", true, false, 8, 6, 6*4 + 2*3*2},
		{"uyvy422", "yuv422p", true, false, 8, 6, 6*4 + 2*3*4},
	} {
		l := layoutOf(&Info{Format: c.format, W: c.w, H: 4})
		if l.name != c.name || l.yuv != c.yuv || l.alpha != c.alpha || l.depth != c.depth || l.bytes() != c.bytes {
			t.Errorf("%s: %+v, %d bytes; want %+v", c.format, l, l.bytes(), c)
		}
	}
}

// A delivery that takes as little memory as can be is the same, and so is its end when the encoder dies.
func TestFrugalDeliveriesAreTheSame(t *testing.T) {
	need(t)
	for _, ext := range []string{".mov", ".mkv", ".exr", ".dpx"} {
		var files [2][]byte
		for i, frugal := range []bool{false, true} {
			name := filepath.Join(t.TempDir(), "a"+ext)
			n := 4
			if ext == ".exr" || ext == ".dpx" {
				n = 1
			}
			write(t, name, Options{Frugal: frugal}, n)
			data, err := os.ReadFile(name)
			if err != nil {
				t.Fatal(err)
			}
			files[i] = data
		}
		if !bytes.Equal(files[0], files[1]) {
			t.Errorf("%s: %d bytes, and %d when frugal", ext, len(files[0]), len(files[1]))
		}
	}
}
