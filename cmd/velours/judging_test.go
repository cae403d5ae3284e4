package main

import (
	"encoding/json"
	"path/filepath"
	"testing"

	"velours/core/frame"
)

// ramp writes linear light whose columns go from 0 to 1.
func ramp(t *testing.T, name string, w, h int) {
	t.Helper()
	f := frame.New(w, h, 3)
	for p := range 3 {
		for y := range h {
			for x := range w {
				f.Row(p, y)[x] = float32(x) / float32(w-1)
			}
		}
	}
	exr(t, name, f)
}

// A bracket's pictures on the sheet are those that render makes one by one, under their labels.
func TestBracketOnASheet(t *testing.T) {
	need(t)
	dir := t.TempDir()
	in, sheet := filepath.Join(dir, "in.exr"), filepath.Join(dir, "sheet.png")
	ramp(t, in, 120, 60)
	look := []string{"--encoding", "acescg", "--set", "negative.stock.id=aubade-250d", "--set", "print.medium.id=rideau"}
	must(t, append([]string{"render", "--in", in, "--out", sheet, "--bracket", "balance.exposure.stops=-1,0,2"}, look...)...)
	got := picture(t, sheet)
	const gap, line = 4, 15 // of pictures 120 wide: a sixtieth, at least 4; letters of 9 and their air
	if got.W != 2*(120+gap)+gap || got.H != 2*(60+line+gap)+gap {
		t.Fatalf("the sheet is %d×%d", got.W, got.H)
	}
	for i, stops := range []string{"-1", "0", "2"} {
		one := filepath.Join(dir, "one.png")
		must(t, append([]string{"render", "--in", in, "--out", one, "--set", "balance.exposure.stops=" + stops}, look...)...)
		want := picture(t, one)
		x0, y0 := gap+i%2*(120+gap), gap+i/2*(60+line+gap)
		for y := range 60 {
			for x := range 120 {
				if got.Row(1, y0+y)[x0+x] != want.Row(1, y)[x] {
					t.Fatalf("%s stops: %d, %d is %g on the sheet, %g alone", stops, x, y, got.Row(1, y0+y)[x0+x], want.Row(1, y)[x])
				}
			}
		}
		letters := 0
		for y := range line {
			for x := range 120 {
				if got.Row(0, y0+60+y)[x0+x] > 0.4 {
					letters++
				}
			}
		}
		if letters < 40 {
			t.Errorf("%s stops: %d pixels of a label", stops, letters)
		}
	}
}

// The histogram from the command line counts what is there.
func TestScopeFromTheCommandLine(t *testing.T) {
	need(t)
	dir := t.TempDir()
	in := filepath.Join(dir, "in.exr")
	ramp(t, in, 256, 10)
	var v struct {
		Histogram struct{ Count [4][]int }
		Readings  struct{ Low, High [3]float64 }
		Axis      struct{ Unit string }
	}
	if err := json.Unmarshal([]byte(must(t, "scope", "--in", in, "--encoding", "acescg", "--scope", "histogram", "--tap", "lens", "--json")), &v); err != nil {
		t.Fatal(err)
	}
	total := 0
	for _, n := range v.Histogram.Count[1] {
		total += n
	}
	if total != 2560 || v.Axis.Unit != "stops" || v.Readings.Low[0] != 0 || v.Readings.High[2] < 0.999 || v.Readings.High[2] > 1.001 {
		t.Errorf("%d pixels in %s, from %v to %v", total, v.Axis.Unit, v.Readings.Low, v.Readings.High)
	}
	out := filepath.Join(dir, "parade.png")
	must(t, "scope", "--in", in, "--encoding", "acescg", "--scope", "parade", "--out", out, "--cells", "300x100")
	if f := picture(t, out); f.H != 100 || f.W < 300 {
		t.Errorf("the drawing is %d×%d", f.W, f.H)
	}
	for _, bad := range [][]string{
		{"scope", "--in", in, "--encoding", "acescg", "--scope", "oracle", "--json"},
		{"scope", "--in", in, "--encoding", "acescg"},
		{"scope", "--in", in, "--encoding", "acescg", "--scope", "histogram", "--out", out},
		{"scope", "--in", in, "--encoding", "acescg", "--json", "--frames", "4"},
		{"render", "--in", in, "--encoding", "acescg", "--out", out, "--bracket", "balance.exposure.stops=99"},
		{"render", "--in", in, "--encoding", "acescg", "--out", filepath.Join(dir, "x.mov"), "--megabits", "5"},
	} {
		if code, _, problems := velours(bad...); code != 2 || problems == "" {
			t.Errorf("%v: exit %d, %q", bad, code, problems)
		}
	}
}
