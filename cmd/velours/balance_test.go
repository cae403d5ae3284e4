package main

import (
	"encoding/json"
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// Two exposures of one station, one of them in a matte that moves over the frames of a sequence, from a look's file
// and from --set.
func TestStepsAndMattesOfALook(t *testing.T) {
	need(t)
	dir := t.TempDir()
	for n := range 3 {
		ramp(t, filepath.Join(dir, "in.00"+string(rune('0'+n))+".exr"), 90, 30)
	}
	look := filepath.Join(dir, "look.json")
	if err := os.WriteFile(look, []byte(`{"velours":1,"name":"x","stations":{"balance":{"on":true,"strength":1,"steps":[
		{"kind":"exposure","on":true,"strength":1,"settings":{"stops":1},"matte":null},
		{"kind":"exposure","id":"exposure-2","title":"Less, there","on":true,"strength":1,"settings":{"stops":-2},"matte":"there"}]}},
		"mattes":{"there":{"parts":[{"kind":"rectangle","settings":{"a":10,"b":40,"in":0,"out":0},"keys":[{"frame":0,"settings":{"x":20}},{"frame":2,"settings":{"x":80}}]}]}}}`), 0o644); err != nil {
		t.Fatal(err)
	}
	must(t, "render", "--in", filepath.Join(dir, "in.%03d.exr"), "--out", filepath.Join(dir, "out.%03d.exr"), "--look", look, "--encoding", "acescg", "--tap", "balance")
	for frame, share := range []float64{0.2, 0.5, 0.8} {
		f := picture(t, filepath.Join(dir, "out.00"+string(rune('0'+frame))+".exr"))
		for _, at := range []float64{0.2, 0.5, 0.8} {
			x := int(at * 90)
			in := float64(x) / 89
			want := 2 * in
			if at == share {
				want = in / 2
			}
			if got := float64(f.Row(1, 15)[x]); math.Abs(got-want) > 2e-3*want {
				t.Errorf("frame %d, column %d: %g, want %g", frame, x, got, want)
			}
		}
	}
	one := filepath.Join(dir, "one.exr")
	must(t, "render", "--in", filepath.Join(dir, "in.000.exr"), "--out", one, "--encoding", "acescg", "--tap", "balance", "--set", "balance.exposure.stops=1", "--set", "balance.exposure-2.stops=2", "--set", "balance.curve.all=-4:-4 4:3")
	f := picture(t, one)
	in := 20.0 / 89
	x := math.Log2(8*in/0.18) + 4 // over the first point; the curve through two is their line
	if got, want := float64(f.Row(0, 15)[20]), 0.18*math.Exp2(x*7/8-4); math.Abs(got-want) > 3e-3*want {
		t.Errorf("two exposures and a curve: %g, want %g", got, want)
	}

	for arg, why := range map[string]string{
		"balance.exposure-1.stops=1":     "exposure-1",
		"print.medium-2.id=rideau":       "medium-2",
		"balance.curve.all=0:1 -1:2":     "left of",
		"balance.contrast-2.amount=9000": "30 to 250",
	} {
		code, _, problem := velours("render", "--in", filepath.Join(dir, "in.000.exr"), "--out", one, "--encoding", "acescg", "--set", arg)
		if code != 2 || !strings.Contains(problem, why) || strings.Count(strings.TrimSpace(problem), "\n") > 0 {
			t.Errorf("%s: exit %d, %q", arg, code, problem)
		}
	}
}

// The kinds of mattes are listed with their settings.
func TestListMattes(t *testing.T) {
	var list []struct {
		ID, Label string
		Settings  []struct{ ID string }
	}
	if err := json.Unmarshal([]byte(must(t, "list", "mattes", "--json")), &list); err != nil {
		t.Fatal(err)
	}
	if len(list) < 9 {
		t.Errorf("only %d kinds", len(list))
	}
	for _, k := range list {
		if k.ID == "" || k.Label == "" || len(k.Settings) == 0 {
			t.Errorf("%+v is not whole", k)
		}
	}
}
