package studio

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"velours/core/look"
	"velours/demo"
	"velours/library"
)

// A movie of three takes is split at its cuts; each part has the look, the encoding and its own frames, and one undo makes it whole.
func TestSplittingAtCuts(t *testing.T) {
	dir := t.TempDir()
	if err := demo.Unpack(dir); err != nil {
		t.Fatal(err)
	}
	joined := filepath.Join(dir, "joined.mov")
	list := filepath.Join(dir, "list.txt")
	if err := os.WriteFile(list, []byte("file footlights.mov\nfile courtyard.mov\nfile workbench.mov\n"), 0o644); err != nil {
		t.Fatal(err)
	}
	if out, err := exec.Command("ffmpeg", "-v", "error", "-f", "concat", "-i", list, "-c", "copy", joined).CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	s := must(Open(filepath.Join(dir, "data")))
	t.Cleanup(func() { s.Close() })
	reel := must(s.AddReel("Takes")).ID
	shot := must(s.AddShot(ctx, reel, joined))
	must(s.AddShot(ctx, reel, filepath.Join(dir, "slate.exr")))
	must(s.Declare([]uint{shot.ID}, "logc4", library.Author{}))
	set(t, s, shot.ID, look.OfShot, "balance.exposure.stops=0.5")
	was := 0.0
	at := must(s.Cuts(ctx, shot.ID, func(done float64) {
		if done < was {
			t.Errorf("it went from %g to %g", was, done)
		}
		was = done
	}))
	if fmt.Sprint(at) != "[48 96]" || was != 1 {
		t.Fatalf("cuts at %v, told up to %g", at, was)
	}
	parts := must(s.Split(shot.ID, []int{96, 48, 48}, library.Author{}))
	names := func() string {
		var list []string
		for _, x := range must(s.Reel(reel)).Shots {
			list = append(list, fmt.Sprintf("%s %d-%d", x.Name, x.In, x.Out))
		}
		return strings.Join(list, ", ")
	}
	if names() != "joined 1 0-48, joined 2 48-96, joined 3 96-0, slate 0-0" {
		t.Errorf("the reel holds %s", names())
	}
	for _, p := range parts {
		if p := must(s.Shot(p.ID)); p.Encoding != "logc4" || must(parse(p.Look)).Step(look.Balance, "exposure") == nil {
			t.Errorf("%s has lost its encoding or look", p.Name)
		}
	}
	if err := s.UndoReel(reel, library.Author{}); err != nil {
		t.Fatal(err)
	}
	if names() != "joined 0-0, slate 0-0" {
		t.Errorf("undone the reel holds %s", names())
	}
	for _, bad := range [][]int{nil, {0}, {144}, {-1, 5}, {48, 1000}} {
		if _, err := s.Split(shot.ID, bad, library.Author{}); err == nil {
			t.Errorf("it was split at %v", bad)
		}
	}
}

// An edit list brings its events in, in order and with handles; what is missing is told.
func TestBringingAProgrammeIn(t *testing.T) {
	dir := t.TempDir()
	if err := demo.Unpack(filepath.Join(dir, "media")); err != nil {
		t.Fatal(err)
	}
	const edl = `TITLE: MATINEE
FCM: NON-DROP FRAME

001  FOOTLIGHTS V     C        00:00:00:10 00:00:01:00 01:00:00:00 01:00:00:14
* FROM CLIP NAME: FOOTLIGHTS.MOV
002  NOWHERE  V     C        00:00:00:00 00:00:01:00 01:00:00:14 01:00:01:14
* FROM CLIP NAME: NOWHERE.MOV
003  FOOTLIGHTS V     D    012 00:00:01:00 00:00:01:12 01:00:01:14 01:00:02:02
* FROM CLIP NAME: FOOTLIGHTS.MOV
`
	list := filepath.Join(dir, "media", "matinee.edl")
	if err := os.WriteFile(list, []byte(edl), 0o644); err != nil {
		t.Fatal(err)
	}
	s := must(Open(filepath.Join(dir, "data")))
	t.Cleanup(func() { s.Close() })
	if err := s.Allow(filepath.Join(dir, "media")); err != nil {
		t.Fatal(err)
	}
	reel := must(s.AddReel("Programme")).ID
	got := must(s.AddProgramme(ctx, reel, list, "24", 4, library.Author{}))
	if len(got.Shots) != 2 {
		t.Fatalf("%d shots came in: %v", len(got.Shots), got.Problems)
	}
	if a, b := got.Shots[0], got.Shots[1]; a.In != 6 || a.Out != 28 || b.In != 20 || b.Out != 40 || !strings.Contains(b.Note, "dissolve of 12") {
		t.Errorf("came in: %d-%d, %d-%d, %q; %v", a.In, a.Out, b.In, b.Out, b.Note, got.Problems)
	}
	if told := strings.Join(got.Problems, "\n"); !strings.Contains(told, "002") || !strings.Contains(strings.ToLower(told), "nowhere") {
		t.Errorf("what is missing is not told: %s", told)
	}
	if err := s.UndoReel(reel, library.Author{}); err != nil {
		t.Fatal(err)
	}
	if left := must(s.Reel(reel)).Shots; len(left) != 0 {
		t.Errorf("undone, %d shots are there", len(left))
	}
	for _, bad := range [][2]string{{list, "0"}, {filepath.Join(dir, "media", "slate.exr"), "24"}, {filepath.Join(dir, "none.edl"), "24"}, {"/etc/passwd", "24"}} {
		if _, err := s.AddProgramme(ctx, reel, bad[0], bad[1], 0, library.Author{}); err == nil {
			t.Errorf("%v was read", bad)
		}
	}
	l := must(s.Browse(filepath.Join(dir, "media")))
	found := false
	for _, e := range l.Entries {
		found = found || e.Kind == "list" && e.Name == "matinee.edl"
	}
	if !found {
		t.Error("the list is not listed")
	}
}
