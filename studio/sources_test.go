package studio

import (
	"bytes"
	"errors"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"testing/iotest"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/lut"
	"velours/library"
	"velours/media"
)

func still(t *testing.T, name string, n int) {
	t.Helper()
	f := frame.New(32, 18, 3)
	for p := range 3 {
		for y := range 18 {
			for x := range 32 {
				f.Row(p, y)[x] = float32(x+n) / 40
			}
		}
	}
	w, err := media.Create(name, n, media.Options{})
	if err != nil {
		t.Fatal(err)
	}
	if err := errors.Join(w.Write(ctx, f), w.Close()); err != nil {
		t.Fatal(err)
	}
}

func TestBrowsingStaysInItsPlaces(t *testing.T) {
	s, _, dir := small(t, 1)
	rushes := filepath.Join(dir, "rushes")
	if err := os.MkdirAll(filepath.Join(rushes, "day1"), 0o755); err != nil {
		t.Fatal(err)
	}
	for n := range 4 {
		if n != 2 {
			still(t, filepath.Join(rushes, "a.%03d.png"), n)
		}
	}
	if err := os.WriteFile(filepath.Join(rushes, "letter.txt"), []byte("x"), 0o644); err != nil {
		t.Fatal(err)
	}
	if err := s.Allow(filepath.Join(dir, "nowhere")); err == nil {
		t.Error("a place that is not there was allowed")
	}
	if err := s.Allow(rushes); err != nil {
		t.Fatal(err)
	}
	l, err := s.Browse(rushes)
	if err != nil {
		t.Fatal(err)
	}
	if len(l.Entries) != 2 || l.Entries[0].Kind != "folder" || l.Entries[1].Kind != "sequence" || l.Entries[1].Frames != 4 || l.Entries[1].Missing != 1 || l.Parent != "" {
		t.Errorf("got %+v", l)
	}
	if err := os.Symlink("/", filepath.Join(rushes, "door")); err != nil {
		t.Fatal(err)
	}
	for _, out := range []string{"/", "/etc", filepath.Join(rushes, ".."), filepath.Join(rushes, "door", "etc"), filepath.Join(rushes, "..", "rushes2")} {
		if _, err := s.Browse(out); err == nil {
			t.Errorf("%s was listed", out)
		}
		if _, err := s.AddSources(ctx, 1, []string{filepath.Join(out, "a.mov")}); err == nil {
			t.Errorf("a file of %s was brought in", out)
		}
	}
	got, err := s.AddSources(ctx, 1, []string{rushes, filepath.Join(rushes, "none.mov"), filepath.Join(rushes, "day1")})
	if err != nil {
		t.Fatal(err)
	}
	if len(got.Shots) != 1 || got.Shots[0].Name != "a" || got.Shots[0].Frames != 4 || len(got.Problems) != 2 {
		t.Errorf("brought in %+v, problems %q", got.Shots, got.Problems)
	}
}

// sent is what a browser sends, file after file.
func sent(files ...[2]string) func() (string, io.Reader, error) {
	return func() (string, io.Reader, error) {
		if len(files) == 0 {
			return "", nil, io.EOF
		}
		f := files[0]
		files = files[1:]
		if f[1] == "broken" {
			return f[0], io.MultiReader(strings.NewReader("half"), iotest.ErrReader(errors.New("cut off"))), nil
		}
		return f[0], strings.NewReader(f[1]), nil
	}
}

// Only pictures and movies are kept, under names of their own; what is refused leaves nothing behind, and of two of one
// name sent at once one is refused aloud.
func TestUploadsKeepPicturesAlone(t *testing.T) {
	s, shot, dir := small(t, 1)
	still(t, filepath.Join(dir, "x.png"), 0)
	picture := string(must(os.ReadFile(filepath.Join(dir, "x.png"))))
	left := func() (names []string) {
		filepath.WalkDir(s.uploads(), func(p string, e os.DirEntry, err error) error {
			if err == nil && !e.IsDir() {
				names = append(names, filepath.Base(p))
			}
			return nil
		})
		return names
	}
	for _, c := range []struct {
		files    [][2]string
		shots    int
		problems string
	}{
		{[][2]string{{`C:\card\..\..\one.png`, picture}}, 1, ""},
		{[][2]string{{"a.sh", "x"}}, 0, "is not a picture"},
		{[][2]string{{"../../a", "x"}}, 0, "is not a picture"},
		{[][2]string{{"", "x"}}, 0, "is not a picture"},
		{[][2]string{{"a.%04d.png", picture}}, 0, "is not a picture"},
		{[][2]string{{"not.png", "not a picture"}}, 0, "cannot be read"},
		{[][2]string{{"empty.mov", ""}}, 0, "is empty"},
		{[][2]string{{"two.png", picture}, {"two.png", picture}}, 1, "sent twice"},
		{[][2]string{{"three.png", picture}, {"bad.exr", "bad"}}, 1, "bad.exr"},
	} {
		before := len(left())
		got, err := s.Upload(ctx, shot.ReelID, sent(c.files...))
		if err != nil {
			t.Fatalf("%q: %v", c.files[0][0], err)
		}
		if len(got.Shots) != c.shots || !strings.Contains(strings.Join(got.Problems, "\n"), c.problems) || c.problems == "" && len(got.Problems) > 0 {
			t.Errorf("%q: %d shots, %q", c.files[0][0], len(got.Shots), got.Problems)
		}
		if now := left(); len(now) != before+c.shots {
			t.Errorf("%q: left %v", c.files[0][0], now)
		}
	}
	before := len(left())
	if _, err := s.Upload(ctx, shot.ReelID, sent([2]string{"cut.png", "broken"})); err == nil {
		t.Error("what broke off was kept")
	}
	if _, err := s.Upload(ctx, 999, sent([2]string{"one.png", picture})); !NotFound(err) {
		t.Errorf("a reel that is not there: %v", err)
	}
	if now := left(); len(now) != before {
		t.Errorf("left %v", now)
	}
	b := &bounded{from: strings.NewReader("abcdef"), left: 4, dir: dir, name: "large.mov"}
	if _, err := io.ReadAll(b); err == nil || !strings.Contains(err.Error(), "large.mov") {
		t.Errorf("more than the most: %v", err)
	}
}

// Links lead out of no place, neither folders, nor files, nor one file of a sequence.
func TestLinksLeadNowhere(t *testing.T) {
	s, shot, dir := small(t, 1)
	inside, outside := filepath.Join(dir, "inside"), filepath.Join(dir, "outside")
	for _, d := range []string{inside, outside} {
		if err := os.MkdirAll(d, 0o755); err != nil {
			t.Fatal(err)
		}
	}
	for n := range 3 {
		still(t, filepath.Join(outside, "secret.%03d.png"), n)
		still(t, filepath.Join(inside, "own.%03d.png"), n)
	}
	if err := errors.Join(os.Symlink(outside, filepath.Join(inside, "folder")), os.Symlink(filepath.Join(outside, "secret.001.png"), filepath.Join(inside, "file.png")),
		os.Remove(filepath.Join(inside, "own.001.png")), os.Symlink(filepath.Join(outside, "secret.001.png"), filepath.Join(inside, "own.001.png")),
		os.Symlink(filepath.Join(inside, "own.000.png"), filepath.Join(inside, "fine.png"))); err != nil {
		t.Fatal(err)
	}
	if err := s.Allow(inside); err != nil {
		t.Fatal(err)
	}
	for _, name := range []string{"folder", "folder/secret.001.png", "file.png", "own.%03d.png", "own.000.png", "../outside", "folder/secret.%03d.png"} {
		got, err := s.AddSources(ctx, shot.ReelID, []string{filepath.Join(inside, name)})
		if err == nil && len(got.Shots) > 0 {
			t.Errorf("%s led outside: %s", name, got.Shots[0].Path)
		}
	}
	if _, err := s.Browse(filepath.Join(inside, "folder")); err == nil {
		t.Error("a link to a folder outside was listed")
	}
	if got, err := s.AddSources(ctx, shot.ReelID, []string{filepath.Join(inside, "fine.png")}); err != nil || len(got.Shots) != 1 && !strings.Contains(strings.Join(got.Problems, ""), "own.001") {
		t.Errorf("a link that stays inside: %+v, %v", got, err)
	}
}

// What a file says, and what speaks against a declaration.
func TestDoubtsAndSuggestions(t *testing.T) {
	for _, c := range []struct {
		shot            library.Shot
		doubt, suggests string
	}{
		{library.Shot{Encoding: "logc3", Depth: 10}, "", ""},
		{library.Shot{Encoding: "logc3", Depth: 10, Transfer: "bt709", Dark: 0.3}, "tagged BT.709", ""},
		{library.Shot{Encoding: "logc3", Depth: 10, Transfer: "bt709"}, "", ""}, // cameras tag their log so
		{library.Shot{Encoding: "slog3", Depth: 8}, "8 bits are few", ""},
		{library.Shot{Encoding: "bt709", Depth: 10, Transfer: "smpte2084"}, "says otherwise", ""},
		{library.Shot{Encoding: "bt709", Depth: 8, Dark: 0.5}, "", ""},
		{library.Shot{Matrix: "bt709", Dark: 0.2}, "", "bt709"},
		{library.Shot{Matrix: "bt709"}, "", ""},
		{library.Shot{Matrix: "bt2020nc", Dark: 0.2}, "", "bt2020"},
	} {
		if got := Doubt(&c.shot); (got == "") != (c.doubt == "") || !strings.Contains(got, c.doubt) {
			t.Errorf("%+v: doubt %q", c.shot, got)
		}
		if got := Suggest(&c.shot); got.Encoding != c.suggests || (got.Why == "") != (c.suggests == "") {
			t.Errorf("%+v: suggests %+v", c.shot, got)
		}
	}
	if says := Says(&library.Shot{Codec: "h264", Depth: 8, Matrix: "bt709", Kind: "movie", Rotated: 90, Aspect: 1.42}); says != "h264 · 8 bits only · legal range · matrix bt709 · turned by 90° · pixels 1.42 wide" {
		t.Errorf("says %q", says)
	}
}

func TestSpans(t *testing.T) {
	s, shot, _ := small(t, 6)
	for _, bad := range [][2]int{{-1, 0}, {6, 0}, {3, 3}, {4, 2}} {
		if _, err := s.SetSpan(shot.ID, bad[0], bad[1], library.Author{}); err == nil {
			t.Errorf("%v was taken", bad)
		}
	}
	got, err := s.SetSpan(shot.ID, 2, 5, library.Author{})
	if err != nil || got.In != 2 || got.Out != 5 {
		t.Errorf("got %+v, %v", got, err)
	}
	if _, err := s.Declare([]uint{shot.ID}, "acescg", library.Author{}); err != nil {
		t.Fatal(err)
	}
	d, err := s.Deliver(shot.ID, "sequence-dpx", 0, false)
	if err != nil || d.Total != 3 {
		t.Fatalf("%+v, %v", d, err)
	}
}

// What is kept is known again when the studio is opened again, and leaves only when nobody needs it.
func TestAssetsAreKept(t *testing.T) {
	s, shot, dir := small(t, 1)
	at := 0.01
	own := &colour.Own{Name: "Kept one", Base: 10, LogSlope: 0.25, LogOffset: 0.38, LinSlope: 5, LinOffset: 0.05, Break: &at,
		Red: [2]float64{0.7, 0.3}, Green: [2]float64{0.2, 0.8}, Blue: [2]float64{0.1, -0.02}, White: [2]float64{0.3127, 0.329}}
	if _, err := s.AddEncoding(own); err != nil {
		t.Fatal(err)
	}
	var cube bytes.Buffer
	if err := lut.WriteCube(&cube, &lut.List{Title: "Plain", Nodes: []lut.Node{lut.NewTable3(2, func(i, j, k int) [3]float32 { return [3]float32{float32(i), float32(j), float32(k)} })}}); err != nil {
		t.Fatal(err)
	}
	step, err := s.AddTable("plain.cube", "", bytes.NewReader(cube.Bytes()))
	if err != nil {
		t.Fatal(err)
	}
	input, err := s.AddTable("plain.cube", "logc3", bytes.NewReader(cube.Bytes()))
	if err != nil || !strings.HasPrefix(input.Key, "own-plain-") || input.Key == step.Key {
		t.Fatalf("%+v, %v", input, err)
	}
	for name, data := range map[string]string{"x.cube": "LUT_3D_SIZE 9", "x.png": "", "x.cdl": "<a/>"} {
		if _, err := s.AddTable(name, "", strings.NewReader(data)); err == nil || !strings.Contains(err.Error(), name) {
			t.Errorf("%s: %v", name, err)
		}
	}
	if _, err := s.Declare([]uint{shot.ID}, input.Key, library.Author{}); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Edit(shot.ID, look.Edit{Op: "set", Station: "print", Kind: "table", Setting: "id", Value: step.Key}, library.Author{}); err != nil {
		t.Fatal(err)
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	for _, id := range []string{"own-kept-one", input.Key} {
		colour.Forget(id)
	}
	if s, err = Open(filepath.Join(dir, "data")); err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if _, err := s.Picture(ctx, View{Shot: shot.ID, W: 96, H: 54}); err != nil {
		t.Errorf("the shot cannot be shown: %v", err)
	}
	// a table that leads to an own encoding holds it, and one that leads nowhere stops nothing
	lead, err := s.AddTable("lead.cube", "own-kept-one", bytes.NewReader(cube.Bytes()))
	if err != nil {
		t.Fatal(err)
	}
	all, err := s.AllAssets()
	if err != nil {
		t.Fatal(err)
	}
	if err := s.RemoveAsset(all[0].ID); err == nil {
		t.Error("an encoding that a table leads to was removed")
	}
	colour.Forget("own-kept-one")
	if err := know(lead); err == nil {
		t.Error("a table leads to an encoding that is not there")
	}
	if err := s.loadAssets(); err != nil {
		t.Errorf("the library does not load: %v", err)
	}
	if err := s.RemoveAsset(lead.ID); err != nil {
		t.Error(err)
	}
	list, err := s.AllAssets()
	if err != nil || len(list) != 3 {
		t.Fatalf("%d assets, %v", len(list), err)
	}
	for _, a := range list {
		err := s.RemoveAsset(a.ID)
		if used := a.Key != "own-kept-one"; used != (err != nil) {
			t.Errorf("removing %s: %v", a.Key, err)
		}
	}
	if _, err := colour.FindEncoding("own-kept-one"); err == nil {
		t.Error("what was removed is still offered")
	}
}

// What is named at the start comes in from wherever it lies, into a person's own reel.
func TestAddAtTheStart(t *testing.T) {
	s, _, dir := small(t, 1)
	aside := filepath.Join(dir, "aside")
	if err := os.Mkdir(aside, 0o755); err != nil {
		t.Fatal(err)
	}
	still(t, filepath.Join(aside, "b.%02d.png"), 3)
	still(t, filepath.Join(aside, "b.%02d.png"), 4)
	got, err := s.Add(ctx, []string{filepath.Join(aside, "b.03.png"), filepath.Join(dir, "gone.mov")})
	if err != nil {
		t.Fatal(err)
	}
	if len(got.Shots) != 1 || got.Shots[0].Frames != 2 || len(got.Problems) != 1 {
		t.Errorf("got %+v", got)
	}
}

// Whoever asks for a file at once gets one and the same reader: a second would keep a decoder that nobody
// ends.
func TestOneReaderForAFile(t *testing.T) {
	s, shot, _ := small(t, 3)
	s.mu.Lock()
	old, _ := s.readers.Remove(shot.Path)
	s.mu.Unlock()
	old.Close()
	got := make(chan *media.Reader, 8)
	for range cap(got) {
		go func() {
			r, err := s.reader(ctx, shot.Path)
			if err != nil {
				t.Error(err)
			}
			got <- r
		}()
	}
	first := <-got
	for range cap(got) - 1 {
		if r := <-got; r != first {
			t.Error("two readers for one file")
		}
	}
}

// Many shots do not keep many decoders, and each still answers.
func TestReadersAreFew(t *testing.T) {
	s, _, dir := small(t, 1)
	var shots []*library.Shot
	for n := range s.budget.Readers + 4 {
		name := filepath.Join(dir, "lone-"+string(rune('a'+n))+".png")
		still(t, name, n)
		shot, err := s.AddShot(ctx, 1, name)
		if err != nil {
			t.Fatal(err)
		}
		shots = append(shots, shot)
	}
	for _, shot := range shots {
		if _, err := s.Picture(ctx, View{Shot: shot.ID, W: 32, H: 18}); err != nil {
			t.Error(err)
		}
	}
	if n := len(s.readers.All()); n > s.budget.Readers {
		t.Errorf("%d readers are open", n)
	}
}
