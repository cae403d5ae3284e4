package main

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// A movie of two colours is two shots, with time code; an edit list of it finds them, and tells what is missing.
func TestCutsAndEvents(t *testing.T) {
	dir := t.TempDir()
	movie := filepath.Join(dir, "two.mov")
	if text, err := exec.Command("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "color=red:s=64x36:r=24:d=1", "-f", "lavfi", "-i", "color=blue:s=64x36:r=24:d=1",
		"-filter_complex", "[0][1]concat=n=2[v]", "-map", "[v]", "-timecode", "01:00:00:00", "-c:v", "prores_ks", movie).CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, text)
	}
	if text := must(t, "cuts", "--in", movie); !strings.Contains(text, "frames 0 to 23  01:00:00:00") || !strings.Contains(text, "frames 24 to 47  01:00:01:00") {
		t.Errorf("it says %s", text)
	}
	list := filepath.Join(dir, "two.edl")
	if err := os.WriteFile(list, []byte("TITLE: two\n001 TWO V C 01:00:01:00 01:00:01:12 10:00:00:00 10:00:01:00\nM2 TWO 012.0 01:00:01:00\n002 THREE V C 00:00:00:00 00:00:01:00 10:00:01:00 10:00:02:00\n"), 0o644); err != nil {
		t.Fatal(err)
	}
	text := must(t, "events", "--in", list, "--media", dir, "--handles", "4")
	for _, part := range []string{"two, 2 events at 24 frames", "two.mov, frames 24 to 35 (20 to 39), speed 0.5", "THREE", "missing", "no file is called THREE"} {
		if !strings.Contains(text, part) {
			t.Errorf("it does not say %q: %s", part, text)
		}
	}
	if text := must(t, "cuts", "--json", "--in", movie); !strings.Contains(text, `"last": 47`) {
		t.Errorf("as JSON it says %s", text)
	}
	for _, c := range []struct {
		args []string
		why  string
	}{
		{[]string{"cuts"}, "--in names"}, {[]string{"events", "--in", list}, "--media"}, {[]string{"events", "--in", list, "--media", dir, "--rate", "x"}, "frame rate"},
		{[]string{"cuts", "--in", list}, "two.edl"}, {[]string{"events", "--in", movie, "--media", dir}, "no edit list"}, {[]string{"events", "--in", list, "--media", dir, "--handles", "-1"}, "handles"},
	} {
		if code, _, problem := velours(c.args...); code != 2 || !strings.Contains(problem, c.why) {
			t.Errorf("%v: %d, %s", c.args, code, problem)
		}
	}
}
