package studio

import (
	"bufio"
	"context"
	"crypto/sha256"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/core/steps"
	"velours/core/vec"
	"velours/demo"
	"velours/media"
)

// picturesFile holds a digest of every picture of pictureCases, as they were rendered on 29 November 2026, before the
// light path was divided into packages. A change of structure must not move a bit of them. Where a picture changes on
// purpose, its operator's process number is raised, and the list is made again with VELOURS_RECORD=1.
const picturesFile = "testdata/pictures.txt"

// A pictureCase is one look on one shot of the demo reel.
type pictureCase struct {
	name   string
	shot   int // in demo.Shots
	frames []int
	look   func(t *testing.T) *look.Look
}

// pictureCases are all frames of the demo reel under its own looks, each recipe on each of its shots, and corrections
// of every kind inside mattes. Without all, they are enough of them for every test run.
func pictureCases(t *testing.T, all bool) []pictureCase {
	t.Helper()
	var list []pictureCase
	for i, s := range demo.Shots {
		c := pictureCase{name: s.Name, shot: i, look: func(t *testing.T) *look.Look { return demoLook(t, s, 1) }}
		last := 47
		if s.File == "slate.exr" {
			last = 0
		}
		for n := 0; n <= last; n++ {
			if all || n == 31 || last == 0 {
				c.frames = append(c.frames, n)
			}
		}
		list = append(list, c)
	}
	recipes, err := steps.Recipes()
	if err != nil {
		t.Fatal(err)
	}
	for k, r := range recipes {
		for i, s := range demo.Shots {
			if !all && i != k%len(demo.Shots) {
				continue
			}
			list = append(list, pictureCase{r.ID + " on " + s.Name, i, []int{0}, func(t *testing.T) *look.Look {
				l, err := r.Onto(demoLook(t, s, 1))
				if err != nil {
					t.Fatal(err)
				}
				return aged(t, l, 1)
			}})
		}
	}
	// the list above is of process 1, as the first program made it; later ones, and as they are today
	for _, made := range []struct {
		when    string
		process int
	}{{"of process 2", 2}, {"of process 3", 3}, {"today", look.Process}} {
		for i, s := range demo.Shots {
			list = append(list, pictureCase{s.Name + " " + made.when, i, []int{17}, func(t *testing.T) *look.Look { return demoLook(t, s, made.process) }})
		}
		for k, r := range recipes {
			i := (k + 1) % len(demo.Shots)
			if s := demo.Shots[i]; all || k%5 == 0 {
				list = append(list, pictureCase{r.ID + " " + made.when + " on " + s.Name, i, []int{0}, func(t *testing.T) *look.Look {
					l, err := r.Onto(demoLook(t, s, made.process))
					if err != nil {
						t.Fatal(err)
					}
					return aged(t, l, made.process)
				}})
			}
		}
	}
	data, err := os.ReadFile("testdata/corrections.json")
	if err != nil {
		t.Fatal(err)
	}
	var corrections []struct {
		Name, Shot string
		Look       json.RawMessage
	}
	if err := json.Unmarshal(data, &corrections); err != nil {
		t.Fatal(err)
	}
	for _, c := range corrections {
		for i, s := range demo.Shots {
			if s.Name == c.Shot {
				list = append(list, pictureCase{c.Name, i, []int{24}, func(t *testing.T) *look.Look {
					l, err := look.ParseLook(c.Look)
					if err != nil {
						t.Fatalf("%s: %v", c.Name, err)
					}
					return l
				}})
			}
		}
	}
	return list
}

func demoLook(t *testing.T, s demo.Shot, process int) *look.Look {
	t.Helper()
	l, err := demo.LookOf(s)
	if err != nil {
		t.Fatal(err)
	}
	return aged(t, l, process)
}

// aged is a look as it comes from a program of a process that did not note its cards.
func aged(t *testing.T, l *look.Look, process int) *look.Look {
	t.Helper()
	l.Made.Process, l.Made.Cards = process, nil
	l.Steps(func(k *look.Kind, p *look.Step) {
		if id, ok := p.Settings["id"].(string); ok && k.ID == "stock" {
			if digest := film.EarlierDigest(id, "", process); digest != "" {
				l.Made.Cards = map[string]string{"stock " + id: digest}
			}
		}
	})
	return l
}

// digest is a digest of a picture's samples, to the bit.
func digest(f *frame.Frame) string {
	sum := sha256.New()
	row := make([]byte, 4*f.W)
	for p := range 3 {
		for y := range f.H {
			for x, v := range f.Row(p, y) {
				binary.LittleEndian.PutUint32(row[4*x:], math.Float32bits(v))
			}
			sum.Write(row)
		}
	}
	return fmt.Sprintf("%x", sum.Sum(nil)[:12])
}

// TestPicturesKeepTheirBits renders the cases and compares with the list. VELOURS_PICTURES=all takes every one of them
// (`make pictures`), which is minutes of work.
func TestPicturesKeepTheirBits(t *testing.T) {
	if testing.Short() {
		t.Skip("minutes of work under the race detector")
	}
	if vec.Backend() == "plain" {
		t.Skip("the list is of the vector kernels; the plain ones agree to rounding")
	}
	record := os.Getenv("VELOURS_RECORD") != ""
	all := record || os.Getenv("VELOURS_PICTURES") == "all"
	want := map[string]string{}
	if !record {
		f, err := os.Open(picturesFile)
		if err != nil {
			t.Fatal(err)
		}
		defer f.Close()
		for s := bufio.NewScanner(f); s.Scan(); {
			if sum, name, ok := strings.Cut(s.Text(), "  "); ok {
				want[name] = sum
			}
		}
	}
	dir := t.TempDir()
	if err := demo.Unpack(dir); err != nil {
		t.Fatal(err)
	}
	ctx := context.Background()
	readers := map[int]*media.Reader{}
	var out strings.Builder
	compared := 0
	check := func(name string, f *frame.Frame) {
		sum := digest(f)
		compared++
		if record {
			fmt.Fprintf(&out, "%s  %s\n", sum, name)
		} else if want[name] != sum {
			t.Errorf("%s: %s, and the list has %q", name, sum, want[name])
		}
	}
	sources := map[string]bool{}
	for _, c := range pictureCases(t, all) {
		s := demo.Shots[c.shot]
		r := readers[c.shot]
		if r == nil {
			var err error
			if r, err = media.Open(ctx, filepath.Join(dir, s.File)); err != nil {
				t.Fatal(err)
			}
			defer r.Close()
			readers[c.shot] = r
		}
		l := c.look(t)
		e, err := colour.FindEncoding(s.Encoding)
		if err != nil {
			t.Fatal(err)
		}
		w, h := r.Info.Shape()
		plan, err := render.Compile(ctx, l, e, render.Raster{W: w, H: h}, look.Finish)
		if err != nil {
			t.Fatalf("%s: %v", c.name, err)
		}
		for _, n := range c.frames {
			n = min(n, r.Info.Frames-1)
			src, err := r.Frame(ctx, n)
			if err != nil {
				t.Fatal(err)
			}
			if key := fmt.Sprintf("source of %s %d", s.Name, n); !sources[key] {
				sources[key] = true
				check(key, src) // a difference here is the decoder's
			}
			f, err := render.NewRenderer(0).Render(ctx, plan, single{key: r.Key(), f: src}, n)
			if err != nil {
				t.Fatalf("%s: %v", c.name, err)
			}
			check(fmt.Sprintf("%s %d", c.name, n), f)
			f.Release()
		}
	}
	if record {
		if err := os.WriteFile(picturesFile, []byte(out.String()), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	t.Logf("%d pictures compared", compared)
}
