package studio

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/library"
	"velours/media"
)

// The corpus holds libraries as programs of a day wrote them, with a picture of each shot as that program rendered it.
// They are opened for ever. A new one is added with each release; none is ever changed.
const corpus = "testdata/corpus"

// oldFolder is a data folder with a library of the corpus; change, if not nil, is made to it first.
func oldFolder(t *testing.T, day string, change func(file string)) string {
	t.Helper()
	dir := t.TempDir()
	data, err := os.ReadFile(filepath.Join(corpus, day, "library.db"))
	if err != nil {
		t.Fatal(err)
	}
	file := filepath.Join(dir, "library.db")
	if err := os.WriteFile(file, data, 0o644); err != nil {
		t.Fatal(err)
	}
	if change != nil {
		change(file)
	}
	return dir
}

func openOld(t *testing.T, dir string) *Studio {
	t.Helper()
	s, err := Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	if err := s.LoadDemoApart(ctx); err != nil {
		t.Fatal(err)
	}
	return s
}

func shotsOf(t *testing.T, s *Studio) []library.Shot {
	t.Helper()
	reels, err := s.Reels()
	if err != nil {
		t.Fatal(err)
	}
	var out []library.Shot
	for _, r := range reels {
		out = append(out, r.Shots...)
	}
	return out
}

// worst is the largest CIEDE2000 between two pictures of sRGB-like code values, read on a display.
func worst(t *testing.T, a, b *frame.Frame, d *colour.Display) float64 {
	t.Helper()
	if a.W != b.W || a.H != b.H {
		t.Fatalf("%d×%d against %d×%d", a.W, a.H, b.W, b.H)
	}
	m := d.Gamut.ToXYZ()
	lab := func(c [3]float64) [3]float64 { return colour.Lab(m.Apply(d.Light(c)), d.Gamut.White.XYZ()) }
	most := 0.0
	for y := range a.H {
		for x := range a.W {
			most = max(most, colour.DeltaE2000(lab(a.At(x, y)), lab(b.At(x, y))))
		}
	}
	return most
}

// Old work opens, looks as it did, can be changed, and goes back all the way.
func TestOldWorkLooksAsItDid(t *testing.T) {
	if _, err := os.Stat("/usr/bin/ffmpeg"); err != nil && os.Getenv("CI") == "" {
		t.Skip("needs ffmpeg")
	}
	days, err := os.ReadDir(corpus)
	if err != nil || len(days) == 0 {
		t.Fatalf("no corpus: %v", err)
	}
	for _, day := range days {
		t.Run(day.Name(), func(t *testing.T) {
			dir := oldFolder(t, day.Name(), nil)
			s := openOld(t, dir)
			if len(library.Copies(filepath.Join(dir, "library.db"))) != 1 {
				t.Error("no copy was kept before the upgrade")
			}
			shots := shotsOf(t, s)
			if len(shots) == 0 {
				t.Fatal("no shots")
			}
			for _, shot := range shots {
				p, err := s.Show(ctx, View{Shot: shot.ID, W: 240, H: 135})
				if err != nil {
					t.Fatalf("%s: %v", shot.Name, err)
				}
				r, err := media.Open(ctx, filepath.Join(corpus, day.Name(), strings.ToLower(shot.Name)+".png"))
				if err != nil {
					t.Fatal(err)
				}
				was, err := r.Frame(ctx, 0)
				if err != nil {
					t.Fatal(err)
				}
				if e := worst(t, p.Frame, was, p.Display); e > 0.1 {
					t.Errorf("%s: ΔE %.3f from what it looked like", shot.Name, e)
				}
				now := edit(t, s, shot.ID, look.Edit{Op: "set", Station: "balance", Kind: "saturation", Setting: "all", Value: 90.0})
				l, err := look.ParseStored([]byte(now.Look))
				if err != nil || l.Made == nil || l.Made.Process != 1 {
					t.Errorf("%s: after a change it is made with %+v, %v", shot.Name, l.Made, err)
				}
				if _, err := look.ParseLook([]byte(now.Look)); err != nil {
					t.Errorf("%s: what is stored cannot be loaded elsewhere: %v", shot.Name, err)
				}
				last, steps := now.Look, 0
				for {
					if _, err := s.Undo(shot.ID, library.Author{}); err != nil {
						if !NotFound(err) {
							t.Errorf("%s: undo: %v", shot.Name, err)
						}
						break
					}
					steps++
				}
				if steps < 2 {
					t.Errorf("%s: %d steps back", shot.Name, steps)
				}
				for range steps {
					if now, err = s.Redo(shot.ID, library.Author{}); err != nil {
						t.Fatalf("%s: redo: %v", shot.Name, err)
					}
				}
				if now.Look != last {
					t.Errorf("%s: after %d steps back and forth the look is another", shot.Name, steps)
				}
			}
		})
	}
}

// sqlOn changes a library's file by statements of the library itself.
func sqlOn(t *testing.T, statements ...string) func(string) {
	return func(file string) {
		t.Helper()
		if err := library.Exec(file, statements...); err != nil {
			t.Fatal(err)
		}
	}
}

// A stored look that this program cannot read whole locks nothing: it is shown, what is unknown is told and kept through
// edits, and is there again for a program that knows it.
func TestUnknownPartsOfStoredLooks(t *testing.T) {
	given := `{"velours":1,"name":"x","haze":{"a":1},"stations":{` +
		`"balance":{"on":true,"strength":1,"steps":[{"kind":"exposure","on":true,"strength":1,"settings":{"stops":0.5,"wobble":3},"sparkle":true,"matte":null},` +
		`{"kind":"swirl","on":true,"strength":1,"settings":{"turns":2},"matte":null},` +
		`{"kind":"contrast","on":true,"strength":1,"settings":{"amount":9000},"matte":null},` +
		`{"kind":"saturation","on":true,"strength":1,"settings":{"all":120},"matte":"odd"}]},` +
		`"lens":{"on":true,"strength":1,"steps":"none"},"attic":{"on":true,"strength":1,"steps":[]}},` +
		`"mattes":{"odd":{"parts":[{"kind":"cloud","settings":{}}]}}}`
	dir := oldFolder(t, "2026-11-29", sqlOn(t, "UPDATE shots SET look='"+given+"' WHERE name='Workbench'"))
	s := openOld(t, dir)
	var shot library.Shot
	for _, x := range shotsOf(t, s) {
		if x.Name == "Workbench" {
			shot = x
		}
	}
	if _, err := s.Show(ctx, View{Shot: shot.ID, W: 240, H: 135}); err != nil {
		t.Fatalf("it is not shown: %v", err)
	}
	// windows ask for pictures with the look that they were given, even before anything was changed
	var sent look.Look
	if err := json.Unmarshal(Read(shot.Look), &sent); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Show(ctx, View{Shot: shot.ID, W: 240, H: 135, Look: &sent}); err != nil {
		t.Errorf("a window that asks with it is refused: %v", err)
	}
	if len(sent.Unread) != 4 || len(sent.Stations["balance"].Unread) != 3 {
		t.Errorf("a window is not told all that is put aside: %s", Read(shot.Look))
	}
	if text := string(Read("[]")); !strings.Contains(text, "cannot be read") {
		t.Errorf("got %s", text)
	}
	after := edit(t, s, shot.ID, look.Edit{Op: "set", Station: "balance", Kind: "exposure", Setting: "stops", Value: 1.0})
	for _, word := range []string{"wobble", "sparkle", "swirl", "turns", "9000", "cloud", "attic", "haze"} {
		if !strings.Contains(after.Look, word) {
			t.Errorf("%q is lost: %s", word, after.Look)
		}
	}
	l, err := look.ParseStored([]byte(after.Look))
	if err != nil {
		t.Fatal(err)
	}
	st := l.Stations["balance"]
	if len(st.Steps) != 1 || st.Steps[0].Settings["stops"] != 1.0 || len(st.Steps[0].Unread) != 2 || len(st.Unread) != 3 {
		t.Errorf("balance is %+v with %d unread", st, len(st.Unread))
	}
	if len(l.Unread) != 4 {
		t.Errorf("the look keeps %v", l.Unread)
	}
	if _, err := look.ParseLook([]byte(after.Look)); err == nil {
		t.Error("a look with unread parts was loaded as if it were whole")
	}
	// a recipe in its place, as the screen sends it, keeps them too
	whole := edit(t, s, shot.ID, look.Edit{Op: "look", Name: "again", Look: []byte(after.Look)})
	if !strings.Contains(whole.Look, "swirl") {
		t.Error("taking a look lost what was kept")
	}
	if _, err := s.Undo(shot.ID, library.Author{}); err != nil && !NotFound(err) {
		t.Error(err)
	}
	// for a program that knows it, it is there again
	l.Stations["balance"].Unread[0].Part = []byte(`{"kind":"contrast","on":true,"strength":1,"settings":{"amount":110},"matte":null}`)
	data, err := l.Stored()
	if err != nil {
		t.Fatal(err)
	}
	if l, err = look.ParseStored(data); err != nil || l.Step("balance", "contrast") == nil {
		t.Errorf("what became known was not read: %v", err)
	}
}

// What cannot be opened is refused with its remedy, and left as it is.
func TestLibrariesThatCannotBeOpened(t *testing.T) {
	for name, c := range map[string]struct {
		change func(dir, file string)
		words  []string
	}{
		"from the future": {func(_, file string) { sqlOn(t, "PRAGMA user_version = 99")(file) }, []string{"newer Velours", "schema 99", "start that one"}},
		"damaged": {func(_, file string) {
			data := must(os.ReadFile(file))
			for i := 4096; i < len(data)-4096; i += 512 {
				copy(data[i:], "this is not a database")
			}
			if err := os.WriteFile(file, data, 0o644); err != nil {
				t.Fatal(err)
			}
		}, []string{"library.db", "damaged", "copy"}},
		"another kind of file": {func(_, file string) {
			if err := os.WriteFile(file, bytes.Repeat([]byte("letters "), 900), 0o644); err != nil {
				t.Fatal(err)
			}
		}, []string{"library.db", "damaged"}},
		"empty": {func(_, file string) {
			if err := os.Truncate(file, 0); err != nil {
				t.Fatal(err)
			}
		}, []string{"library.db", "is empty", "begin anew"}},
		"missing beside deliveries": {func(dir, file string) {
			if err := errors.Join(os.Remove(file), os.MkdirAll(filepath.Join(dir, "deliveries"), 0o755), os.WriteFile(filepath.Join(dir, "deliveries", "a-0001.mov"), []byte("x"), 0o644)); err != nil {
				t.Fatal(err)
			}
		}, []string{"library.db", "missing", "deliveries"}},
		"a folder": {func(_, file string) {
			if err := errors.Join(os.Remove(file), os.Mkdir(file, 0o755)); err != nil {
				t.Fatal(err)
			}
		}, []string{"library.db", "is a folder"}},
	} {
		t.Run(name, func(t *testing.T) {
			var file string
			dir := oldFolder(t, "2026-11-29", func(f string) { file = f })
			c.change(dir, file)
			before, _ := os.ReadFile(file)
			_, err := Open(dir)
			var bad BadInput
			if !errors.As(err, &bad) {
				t.Fatalf("got %v", err)
			}
			for _, w := range c.words {
				if !strings.Contains(err.Error(), w) {
					t.Errorf("%q lacks %q", err, w)
				}
			}
			if strings.Contains(err.Error(), "\n") {
				t.Errorf("more than a line: %q", err)
			}
			if after, _ := os.ReadFile(file); !bytes.Equal(before, after) {
				t.Error("the file was changed")
			}
			// the folder is free again
			f, err := Take(dir)
			if err != nil {
				t.Fatal(err)
			}
			f.Release()
		})
	}
}

// A data folder is one program's: a second one is told who has it, and touches nothing.
func TestOneProgramADataFolder(t *testing.T) {
	dir := t.TempDir()
	f, err := Take(dir)
	if err != nil {
		t.Fatal(err)
	}
	if err := f.Say("http://127.0.0.1:7410"); err != nil {
		t.Fatal(err)
	}
	s, err := f.Open(Within(LeastMemory))
	if err != nil {
		t.Fatal(err)
	}
	reels, _ := s.Reels()
	d := &library.Delivery{ShotID: 1, State: "running"}
	if err := s.lib.SaveDelivery(d); err != nil {
		t.Fatal(err)
	}
	_, err = Open(dir)
	var bad BadInput
	if !errors.As(err, &bad) || !strings.Contains(err.Error(), "http://127.0.0.1:7410") || !strings.Contains(err.Error(), "--data") {
		t.Errorf("got %v", err)
	}
	if got, err := s.Delivery(d.ID); err != nil || got.State != "running" {
		t.Errorf("the first one's delivery is %+v, %v", got, err)
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	again, err := Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	defer again.Close()
	if now, _ := again.Reels(); len(now) != len(reels) {
		t.Errorf("%d reels became %d", len(reels), len(now))
	}
}

// A demo reel that was removed does not come back at the next start.
func TestARemovedDemoStaysAway(t *testing.T) {
	s := must(Open(t.TempDir()))
	t.Cleanup(func() { s.Close() })
	if err := s.LoadDemo(ctx); err != nil {
		t.Fatal(err)
	}
	gone := true
	for _, r := range must(s.Reels()) {
		if r.Demo {
			if err := s.ChangeReel(r.ID, Change{Removed: &gone}, library.Author{}); err != nil {
				t.Fatal(err)
			}
		}
	}
	if err := s.LoadDemo(ctx); err != nil {
		t.Fatal(err)
	}
	for _, r := range must(s.Reels()) {
		if r.Demo {
			t.Error("it is back")
		}
	}
	if err := s.UndoReel(0, library.Author{}); err != nil {
		t.Fatal(err)
	}
	if n := len(must(s.Reels())); n != 2 {
		t.Errorf("undone there are %d reels", n)
	}
}

// A first start that is interrupted leaves no half reel; the next one makes it whole.
func TestInterruptedFirstStart(t *testing.T) {
	dir := t.TempDir()
	s, err := Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	stopped, cancel := context.WithCancel(ctx)
	cancel()
	if err := s.LoadDemoApart(stopped); err == nil {
		t.Error("an interrupted start made the reel all the same")
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	// half a file, as a killed program leaves it
	if err := os.WriteFile(filepath.Join(dir, "demo", "slate.exr"), []byte("half"), 0o644); err != nil {
		t.Fatal(err)
	}
	s = openOld(t, dir)
	if n := len(shotsOf(t, s)); n != 4 {
		t.Errorf("the demo reel has %d shots", n)
	}
}

// Parts that a killed program left are cleared at the start; whole files stay, and none is written over.
func TestLeftoversAreCleared(t *testing.T) {
	s, shot, dir := small(t, 3)
	edit(t, s, shot.ID, look.Edit{Op: "declare", Value: "srgb"})
	data := filepath.Join(dir, "data")
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	for _, name := range []string{"deliveries/.a.mov.velours-part", "deliveries/b.velours-part/b.000001.dpx", "deliveries/whole.mov", "pins/.p.png.velours-part", "media/2026/.up.mov.velours-part", "preview-123/preview.mp4"} {
		file := filepath.Join(data, name)
		if err := errors.Join(os.MkdirAll(filepath.Dir(file), 0o755), os.WriteFile(file, []byte("x"), 0o644)); err != nil {
			t.Fatal(err)
		}
	}
	s, err := Open(data)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	var left []string
	filepath.WalkDir(data, func(p string, e os.DirEntry, err error) error {
		if strings.Contains(p, "velours-part") || strings.Contains(p, "preview-") {
			left = append(left, p)
		}
		return err
	})
	if len(left) > 0 {
		t.Errorf("left: %v", left)
	}
	if _, err := os.Stat(filepath.Join(data, "deliveries", "whole.mov")); err != nil {
		t.Error("a whole file was cleared")
	}
	// names that are taken are left alone, whatever the library says
	first, err := s.Deliver(shot.ID, "sequence-png", 0, false)
	if err != nil {
		t.Fatal(err)
	}
	waitFor(t, s, first.ID, "done")
	if err := library.Empty(s.lib, "deliveries"); err != nil {
		t.Fatal(err)
	}
	again, err := s.Deliver(shot.ID, "sequence-png", 0, false)
	if err != nil {
		t.Fatal(err)
	}
	waitFor(t, s, again.ID, "done")
	if again.Path == first.Path {
		t.Errorf("%s was written over", first.Path)
	}
}
