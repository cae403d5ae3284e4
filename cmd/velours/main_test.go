package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"velours/core/colour"
	"velours/core/frame"
	"velours/demo"
	"velours/media"
)

func need(t *testing.T) {
	t.Helper()
	if _, err := exec.LookPath("ffmpeg"); err != nil {
		if os.Getenv("CI") != "" {
			t.Fatal("ffmpeg is not installed")
		}
		t.Skip("ffmpeg is not installed; make test installs it")
	}
}

// velours runs a command line in this process.
func velours(args ...string) (code int, out, problems string) {
	var o, p bytes.Buffer
	code = run(args, &o, &p)
	return code, o.String(), p.String()
}

func must(t *testing.T, args ...string) string {
	t.Helper()
	code, out, problems := velours(args...)
	if code != 0 {
		t.Fatalf("velours %s: exit %d, %s", strings.Join(args, " "), code, problems)
	}
	return out
}

func picture(t *testing.T, path string) *frame.Frame {
	t.Helper()
	r, err := media.Open(context.Background(), path)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	f, err := r.Frame(context.Background(), 0)
	if err != nil {
		t.Fatal(err)
	}
	return f
}

func exr(t *testing.T, path string, f *frame.Frame) {
	t.Helper()
	w, err := media.Create(path, 0, media.Options{Light: true})
	if err != nil {
		t.Fatal(err)
	}
	if err := w.Write(context.Background(), f); err != nil {
		t.Fatal(err)
	}
}

// returns are the encodings taken back through files too; the formulas of all are returned in core/colour.
var returns = map[string]bool{"logc3": true, "logc4": true, "slog3-cine": true, "log3g10": true, "hlg": true}

// A grey ramp and 47 random colours through files, from every encoding and back.
func TestConvertEveryEncodingAndBack(t *testing.T) {
	need(t)
	dir := t.TempDir()
	r := rand.New(rand.NewPCG(47, 1))
	src := frame.New(64, 1, 3)
	for x := range 64 {
		for p := range 3 {
			v := 0.12 + 0.8*float64(x)/16
			if x > 16 {
				v = 0.25 + 0.4*r.Float64() // beyond, float32 light loses the small channel beside a large one
			}
			src.Row(p, 0)[x] = float32(v)
		}
	}
	in := filepath.Join(dir, "in.exr")
	exr(t, in, src)
	for _, e := range colour.Encodings() {
		mid, back := filepath.Join(dir, e.ID+".exr"), filepath.Join(dir, e.ID+"-back.exr")
		must(t, "convert", "--in", in, "--out", mid, "--from", e.ID, "--to", "aces2065-1")
		m := colour.Convert(e.Gamut, colour.AP0)
		got, ret := picture(t, mid), src
		if returns[e.ID] {
			must(t, "convert", "--in", mid, "--out", back, "--from", "aces2065-1", "--to", e.ID)
			ret = picture(t, back)
		}
		for x := range 64 {
			var c [3]float64
			for p := range 3 {
				c[p] = e.Decode(float64(src.Row(p, 0)[x]))
			}
			want := m.Apply(c)
			for p := range 3 {
				if d := math.Abs(float64(got.Row(p, 0)[x]) - want[p]); d > 1e-5*math.Abs(want[p])+1e-6 {
					t.Errorf("%s: colour %d is %g, formula %g", e.ID, x, got.Row(p, 0)[x], want[p])
				}
				if d := math.Abs(float64(ret.Row(p, 0)[x] - src.Row(p, 0)[x])); d > 2e-6 {
					t.Errorf("%s: code %g comes back as %g", e.ID, src.Row(p, 0)[x], ret.Row(p, 0)[x])
				}
			}
		}
	}
}

// A large EXR with alpha through a path with nothing on keeps every bit.
func TestNothingOnChangesNothing(t *testing.T) {
	need(t)
	dir := t.TempDir()
	f := frame.New(4096, 2160, 4)
	for p := range 4 {
		for y := range f.H {
			row := f.Row(p, y)
			for x := range row {
				row[x] = math.Float32frombits(math.Float32bits(float32(x+1)*1e-3) + uint32(y*7+p))
			}
		}
	}
	in := filepath.Join(dir, "in.exr")
	w, err := media.Create(in, 0, media.Options{Light: true})
	if err != nil {
		t.Fatal(err)
	}
	if err := w.Write(context.Background(), f); err != nil {
		t.Fatal(err)
	}
	for i, args := range [][]string{{"render", "--encoding", "acescg", "--tap", "lens"}, {"convert", "--from", "acescg", "--to", "acescg"}} {
		out := filepath.Join(dir, fmt.Sprint(i, ".exr"))
		must(t, append(args, "--in", in, "--out", out)...)
		back := picture(t, out)
		if back.Planes != 4 {
			t.Fatalf("%s: alpha was lost", args[0])
		}
		for p := range 4 {
			for y := range f.H {
				a, b := f.Row(p, y), back.Row(p, y)
				for x := range a {
					if a[x] != b[x] {
						t.Fatalf("%s: plane %d, %d, %d: %g became %g", args[0], p, x, y, a[x], b[x])
					}
				}
			}
		}
	}
}

// The exported table through ffmpeg's lut3d against render with the spatial steps off.
func TestBakedTableMatchesRender(t *testing.T) {
	need(t)
	dir := t.TempDir()
	if err := demo.Unpack(dir); err != nil {
		t.Fatal(err)
	}
	log, cube, direct, through := filepath.Join(dir, "log.png"), filepath.Join(dir, "look.cube"), filepath.Join(dir, "direct.png"), filepath.Join(dir, "through.png")
	sets := []string{"--set", "negative.stock.id=aubade-250d", "--set", "negative.stock.rating=0.5", "--set", "print.medium.id=rideau", "--set", "print.lights.red=1"}
	movie := filepath.Join(dir, "workbench.mov")
	frameOnly := filepath.Join(dir, "one.exr")
	if err := exec.Command("ffmpeg", "-v", "error", "-y", "-i", movie, "-frames:v", "1", "-vf", "scale=960:540:flags=area:in_color_matrix=bt709:in_range=tv,format=gbrpf32le", frameOnly).Run(); err != nil {
		t.Fatal(err)
	}
	must(t, "convert", "--in", frameOnly, "--out", log, "--from", "acescg", "--to", "acescg")
	must(t, append([]string{"render", "--in", log, "--out", direct, "--encoding", "logc3"}, sets...)...)
	out := must(t, append([]string{"bake", "--out", cube, "--from", "logc3", "--set", "negative.grain.amount=100"}, sets...)...)
	if !strings.Contains(out, "left out") || !strings.Contains(out, "Grain") {
		t.Errorf("bake does not say what it leaves out: %q", out)
	}
	text, err := os.ReadFile(cube)
	if err != nil || !strings.Contains(string(text), "Input: LogC3") || !strings.Contains(string(text), "Left out") {
		t.Errorf("the table does not state its input and what it lacks (%v)", err)
	}
	if err := exec.Command("ffmpeg", "-v", "error", "-y", "-i", log, "-vf", "format=gbrp16le,lut3d=file="+cube+":interp=tetrahedral", "-pix_fmt", "rgb48be", through).Run(); err != nil {
		t.Fatal(err)
	}
	d, _ := colour.FindDisplay("bt1886")
	m, white := d.Gamut.ToXYZ(), d.Gamut.White.XYZ()
	a, b := picture(t, direct), picture(t, through)
	var sum float64
	var all []float64
	for y := 0; y < a.H; y += 2 {
		for x := 0; x < a.W; x += 2 {
			var p, q [3]float64
			for c := range 3 {
				p[c], q[c] = d.Decode(float64(a.Row(c, y)[x])), d.Decode(float64(b.Row(c, y)[x]))
			}
			e := colour.DeltaE2000(colour.Lab(m.Apply(p), white), colour.Lab(m.Apply(q), white))
			sum += e
			all = append(all, e)
		}
	}
	over := 0
	for _, e := range all {
		if e > 2 {
			over++
		}
	}
	mean := sum / float64(len(all))
	t.Logf("mean ΔE2000 %.3f, %.2f %% over 2", mean, 100*float64(over)/float64(len(all)))
	if mean > 0.5 || over > len(all)/100 {
		t.Errorf("mean ΔE2000 %.3f, %.2f %% over 2", mean, 100*float64(over)/float64(len(all)))
	}
	clf := filepath.Join(dir, "look.clf")
	must(t, append([]string{"bake", "--out", clf, "--from", "logc3", "--size", "5"}, sets...)...)
	if text, err := os.ReadFile(clf); err != nil || strings.Count(string(text), "\n") < 125 || !strings.Contains(string(text), "<ProcessList") {
		t.Errorf("the CLF is not whole (%v)", err)
	}
}

func TestMistakesGetOneLineAndLeaveNothing(t *testing.T) {
	need(t)
	dir := t.TempDir()
	good := filepath.Join(dir, "good.exr")
	exr(t, good, frame.New(16, 16, 3))
	letter := filepath.Join(dir, "letter.exr")
	if err := os.WriteFile(letter, []byte("dear reader"), 0o644); err != nil {
		t.Fatal(err)
	}
	whole := filepath.Join(dir, "whole.mov")
	must(t, "render", "--in", good, "--out", whole, "--encoding", "acescg")
	data, err := os.ReadFile(whole)
	if err != nil {
		t.Fatal(err)
	}
	cut := filepath.Join(dir, "cut.mov")
	if err := os.WriteFile(cut, data[:len(data)*2/3], 0o644); err != nil {
		t.Fatal(err)
	}
	look := filepath.Join(dir, "look.json")
	if err := os.WriteFile(look, []byte(`{"velours":1,"name":"x","stations":{},"surprise":1}`), 0o644); err != nil {
		t.Fatal(err)
	}
	out := filepath.Join(dir, "out.png")
	base := []string{"render", "--in", good, "--out", out, "--encoding", "acescg"}
	before, _ := os.ReadDir(dir)
	for _, c := range []struct {
		name, word string
		args       []string
	}{
		{"missing file", "none.exr", []string{"render", "--in", filepath.Join(dir, "none.exr"), "--out", out}},
		{"text renamed", "letter.exr", []string{"render", "--in", letter, "--out", out, "--encoding", "acescg"}},
		{"cut movie", "cut.mov", []string{"render", "--in", cut, "--out", out, "--encoding", "acescg"}},
		{"unknown encoding", "sepia", []string{"render", "--in", good, "--out", out, "--encoding", "sepia"}},
		{"unknown display", "wall", append(base, "--display", "wall")},
		{"unknown set", "fog", append(base, "--set", "lens.fog.amount=1")},
		{"set without value", "lens.bloom.amount", append(base, "--set", "lens.bloom.amount")},
		{"out of range", "0 to 100", append(base, "--set", "lens.bloom.amount=1000")},
		{"not a number", "wants a number", append(base, "--set", "lens.bloom.amount=much")},
		{"unwritable", "nowhere", []string{"render", "--in", good, "--out", filepath.Join(dir, "nowhere", "a.png"), "--encoding", "acescg"}},
		{"unknown ending", ".gif", []string{"render", "--in", good, "--out", filepath.Join(dir, "a.gif"), "--encoding", "acescg"}},
		{"bad frames", "5-2", append(base, "--frames", "5-2")},
		{"frames beyond", "0 to 0", append(base, "--frames", "3-4")},
		{"bad size", "big", append(base, "--size", "big")},
		{"bad tap", "cellar", append(base, "--tap", "cellar")},
		{"light in png", "light", append(base, "--tap", "lens")},
		{"bad look", "surprise", append(base, "--look", look)},
		{"no look", "nix.json", append(base, "--look", "nix.json")},
		{"unknown flag", "-colour", append(base, "--colour", "x")},
		{"bake nowhere", "nowhere", []string{"bake", "--from", "logc3", "--out", filepath.Join(dir, "nowhere", "a.cube")}},
		{"bake ending", ".cube or .clf", []string{"bake", "--from", "logc3", "--out", filepath.Join(dir, "a.txt")}},
		{"convert from", "sepia", []string{"convert", "--in", good, "--out", out, "--from", "sepia", "--to", "acescg"}},
		{"list what", "hats", []string{"list", "hats"}},
		{"no command", "paint", []string{"paint"}},
	} {
		code, _, problems := velours(c.args...)
		if code != 2 && !(c.name == "cut movie" && code == 1) {
			t.Errorf("%s: exit %d", c.name, code)
		}
		if strings.Count(problems, "\n") != 1 || !strings.Contains(problems, c.word) {
			t.Errorf("%s: %q is not one line about %q", c.name, problems, c.word)
		}
	}
	after, _ := os.ReadDir(dir)
	if len(after) != len(before) {
		t.Errorf("files were left behind: %v", after)
	}
}

func TestListsAreArraysWithIds(t *testing.T) {
	for _, what := range []string{"encodings", "displays", "stocks", "media", "kinds", "looks"} {
		var items []struct{ ID, Label string }
		if err := json.Unmarshal([]byte(must(t, "list", what, "--json")), &items); err != nil {
			t.Fatalf("%s: %v", what, err)
		}
		if len(items) == 0 {
			t.Errorf("%s: none", what)
		}
		for _, i := range items {
			if i.ID == "" || i.Label == "" {
				t.Errorf("%s: %+v", what, i)
			}
		}
	}
}

// Every command takes a profile, and says so where it cannot be written.
func TestProfileOfACommand(t *testing.T) {
	file := filepath.Join(t.TempDir(), "velours.prof")
	var out, problems strings.Builder
	if code := run([]string{"list", "displays", "--profile", file}, &out, &problems); code != 0 {
		t.Fatalf("exit code %d: %s", code, problems.String())
	}
	if data, err := os.ReadFile(file); err != nil || len(data) < 2 || data[0] != 0x1f || data[1] != 0x8b { // a profile is gzipped
		t.Errorf("no profile: %v, %d bytes", err, len(data))
	}
	if code := run([]string{"list", "displays", "--profile", filepath.Join(file, "x")}, &out, &problems); code != 2 || !strings.Contains(problems.String(), "profile") {
		t.Errorf("exit code %d: %s", code, problems.String())
	}
}

// A sequence in, a sequence out, a part of it, at another size.
func TestSequencesAndParts(t *testing.T) {
	need(t)
	dir := t.TempDir()
	for n := range 4 {
		f := frame.New(32, 18, 3)
		for p := range 3 {
			for y := range 18 {
				for x := range 32 {
					f.Row(p, y)[x] = 0.18
				}
			}
		}
		exr(t, filepath.Join(dir, "a."+[]string{"000007", "000008", "000009", "000010"}[n]+".exr"), f)
	}
	must(t, "render", "--in", filepath.Join(dir, "a.%06d.exr"), "--out", filepath.Join(dir, "b.%04d.png"), "--encoding", "acescg", "--frames", "1-2", "--size", "16x9", "--set", "negative.grain.amount=100")
	got, err := filepath.Glob(filepath.Join(dir, "b.*.png"))
	if err != nil || len(got) != 2 || !strings.HasSuffix(got[0], "b.0001.png") {
		t.Fatalf("wrote %v, %v", got, err)
	}
	a, b := picture(t, got[0]), picture(t, got[1])
	if a.W != 16 || a.H != 9 {
		t.Errorf("size %d×%d", a.W, a.H)
	}
	if a.Row(0, 4)[7] == b.Row(0, 4)[7] && a.Row(0, 5)[3] == b.Row(0, 5)[3] {
		t.Error("grain is the same on two frames")
	}
}
