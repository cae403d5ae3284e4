package studio

import (
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"velours/demo"
)

// A movie of 41 pieces of the demo reel, joined by ffmpeg: all 40 cuts are found and none besides, not among the moving bulbs of Footlights, which alone
// has none either.
func TestFortyCuts(t *testing.T) {
	dir := t.TempDir()
	reel := []string{"footlights.mov", "workbench.mov", "courtyard.mov"}
	if err := demo.Unpack(dir); err != nil {
		t.Fatal(err)
	}
	r := rand.New(rand.NewPCG(1, 40))
	var filter strings.Builder
	var ends []int
	at, last := 0, -1
	for i := range reel {
		fmt.Fprintf(&filter, "[%d:v]scale=320:180,split=41", i)
		for k := range 41 {
			fmt.Fprintf(&filter, "[s%d_%d]", i, k)
		}
		filter.WriteString(";")
	}
	used := [3]int{}
	var join strings.Builder
	for k := range 41 {
		clip := r.IntN(3)
		for clip == last { // a cut within a shot of the demo shows the same
			clip = r.IntN(3)
		}
		last = clip
		n := 5 + r.IntN(14)
		from := r.IntN(48 - n)
		fmt.Fprintf(&filter, "[s%d_%d]trim=start_frame=%d:end_frame=%d,setpts=PTS-STARTPTS[p%d];", clip, used[clip], from, from+n, k)
		used[clip]++
		fmt.Fprintf(&join, "[p%d]", k)
		at += n
		ends = append(ends, at)
	}
	for i, n := range used {
		for k := n; k < 41; k++ {
			fmt.Fprintf(&filter, "[s%d_%d]nullsink;", i, k)
		}
	}
	filter.WriteString(join.String() + "concat=n=41[v]")
	joined := filepath.Join(dir, "joined.mkv")
	args := []string{"-v", "error"}
	for _, name := range reel {
		args = append(args, "-i", filepath.Join(dir, name))
	}
	if text, err := exec.Command("ffmpeg", append(args, "-filter_complex", filter.String(), "-map", "[v]", "-c:v", "ffv1", joined)...).CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, text)
	}
	shots, err := ShotsIn(t.Context(), joined, nil)
	if err != nil {
		t.Fatal(err)
	}
	var got []int
	for _, s := range shots {
		got = append(got, s.Last+1)
	}
	if !slices.Equal(got, ends) {
		t.Errorf("shots end at %v, and pieces at %v", got, ends)
	}
	if shots, err := ShotsIn(t.Context(), filepath.Join(dir, "footlights.mov"), nil); err != nil || len(shots) != 1 {
		t.Errorf("Footlights is %d shots: %v", len(shots), err)
	}
}

// An edit list finds its recordings in folders by name and time code; what is missing, and what is no list, is told.
func TestAnEditListFindsItsRecordings(t *testing.T) {
	dir := t.TempDir()
	if err := os.MkdirAll(filepath.Join(dir, "day one"), 0o755); err != nil {
		t.Fatal(err)
	}
	movie := filepath.Join(dir, "day one", "LAMPS.mov")
	if text, err := exec.Command("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "testsrc2=s=160x90:r=24:d=2", "-timecode", "01:00:00:00", "-c:v", "prores_ks", movie).CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, text)
	}
	list := filepath.Join(dir, "market.edl")
	text := "TITLE: market\n001 T1 V C 01:00:00:12 01:00:01:12 10:00:00:00 10:00:01:00\n* FROM CLIP NAME: lamps.mov\n002 T2 V D 012 00:00:00:00 00:00:01:00 10:00:01:00 10:00:02:00\n* TO CLIP NAME: rain.mov\n003 LAMPS V C 02:00:00:00 02:00:01:00 10:00:02:00 10:00:03:00\n"
	if err := os.WriteFile(list, []byte(text), 0o644); err != nil {
		t.Fatal(err)
	}
	p, err := ReadProgramme(t.Context(), list, "24", dir, 6)
	if err != nil {
		t.Fatal(err)
	}
	want := []ProgrammeEvent{
		{Number: "001", Name: "lamps.mov", Record: "10:00:00:00", Speed: 1, File: movie, First: 12, Last: 35, From: 6, To: 41},
		{Number: "002", Name: "rain.mov", Record: "10:00:01:00", Speed: 1, Transition: "dissolve", Over: 12, Why: "event 002: no file is called rain.mov or T2"},
		{Number: "003", Name: "LAMPS", Record: "10:00:02:00", Speed: 1, Why: "event 003 wants 02:00:00:00 to 02:00:01:00, and LAMPS.mov has 01:00:00:00 to 01:00:02:00"},
	}
	if p.Title != "market" || p.Rate != "24" || !slices.Equal(p.Events, want) {
		t.Errorf("\n got %+v\nwant %+v", p.Events, want)
	}
	for _, c := range []struct{ list, rate, folder, why string }{
		{filepath.Join(dir, "none.edl"), "24", dir, "cannot be read"},
		{list, "many", dir, "does not say its frame rate"},
		{movie, "24", dir, "is no edit list"},
		{dir, "24", dir, "is no edit list"},
		{list, "24", filepath.Join(dir, "nowhere"), "cannot be looked through"},
	} {
		if _, err := ReadProgramme(t.Context(), c.list, c.rate, c.folder, 6); err == nil || !strings.Contains(err.Error(), c.why) {
			t.Errorf("%s: %v", c.list, err)
		}
	}
}
