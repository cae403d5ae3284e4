package studio

import (
	"encoding/json"
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"velours/core/film"
	"velours/core/film/fit"
	"velours/demo/standin"
)

// standinSet writes the stand-in set, and asks for all of it.
func standinSet(t testing.TB, dir string) (FilmAsk, []FilmFile) {
	t.Helper()
	if err := standin.Write(t.Context(), dir); err != nil {
		t.Fatal(err)
	}
	grey := 0.0
	q := FilmAsk{FitAsk: FitAsk{Name: standin.Label, Grey: &grey}, Status: "m"}
	var pictures []FilmFile
	var digital standin.File
	for _, f := range standin.Files {
		path := filepath.Join(dir, f.Name)
		stops := f.Stops
		switch f.Shows {
		case "wedge":
			text, err := os.ReadFile(path)
			if err != nil {
				t.Fatal(err)
			}
			q.Wedges = append(q.Wedges, WedgeText{f.Name, string(text)})
		case "chart, digital", "scene, digital":
			digital = f
		case "chart, film", "scene, film":
			shows := TestShot(strings.Split(f.Shows, ",")[0])
			pictures = append(pictures, FilmFile{FilmPicture: FilmPicture{Shows: shows, Stops: &stops, Width: f.Width}, Files: [2]string{filepath.Join(dir, digital.Name), path}, Encodings: [2]string{digital.Encoding, f.Encoding}})
		default:
			p := FilmFile{FilmPicture: FilmPicture{Shows: TestShot(f.Shows), Width: f.Width}, Files: [2]string{"", path}, Encodings: [2]string{"", f.Encoding}}
			if f.Shows == "lamp" {
				bright := standin.LampStops
				p.Stops = &bright
			}
			pictures = append(pictures, p)
		}
	}
	return q, pictures
}

// The stand-in set, with the faults of real scans, measured whole and held to its truth.
func TestStandInIsMeasured(t *testing.T) {
	q, pictures := standinSet(t, t.TempDir())
	made, err := MeasureFilm(t.Context(), q, pictures, nil)
	if err != nil {
		t.Fatal(err)
	}
	r := made.Report
	for _, p := range r.Parts {
		t.Logf("%s: %v, from %s; %s %s", p.Of, p.Measured, p.From, p.Sure, p.Problem)
		if !p.Measured || p.Problem != "" {
			t.Errorf("%s was not measured: %s", p.Of, p.Problem)
		}
	}
	for _, p := range r.Pairs {
		t.Logf("%s: ΔE %.2f, kept out %.2f; %+.2f stops, uneven %.0f %%", p.Name, p.Mean, p.KeptOut, p.Exposure, 100*p.Uneven)
		if most := map[bool]float64{true: 2.5, false: 2.0}[strings.HasPrefix(p.Name, "scene")]; p.KeptOut > most {
			t.Errorf("%s: what was kept out is ΔE2000 %.2f off, over %.1f", p.Name, p.KeptOut, most)
		}
	}
	card := &film.Stock{}
	if err := json.Unmarshal(made.Card, card); err != nil {
		t.Fatal(err)
	}
	if err := card.Ready(); err != nil {
		t.Fatal(err)
	}
	n := film.Develop(card, film.Process{Strength: 1})
	status, err := film.FindStatus("m")
	if err != nil {
		t.Fatal(err)
	}
	truth := standin.Truth{}
	worst := 0.0
	for x := -2.4; x <= 2.2; x += 0.05 {
		got, want := n.ReadIn(status, n.Grey(x-r.Grey)), truth.Printed(x)
		for k := range got {
			worst = max(worst, math.Abs(got[k]-want[k]))
		}
	}
	t.Logf("curves: %.3f of density at most; mid grey at %+.3f", worst, r.Grey)
	if math.Abs(r.Grey) > 0.05 {
		t.Errorf("mid grey is %.3f of log exposure off, over a sixth of a stop", r.Grey)
	}
	if worst > 0.03 {
		t.Errorf("curves are %.3f of density off", worst)
	}
	off := 0.0
	for _, d := range r.Drawn {
		if d.Cycles <= 50 {
			off = max(off, math.Abs(d.Measured-truth.Transfer(d.Cycles)), math.Abs(card.MTF.At(d.Cycles)-truth.Transfer(d.Cycles)))
		}
	}
	t.Logf("transfer: %.3f at most", off)
	if off > 0.05 {
		t.Errorf("transfer is %.3f off", off)
	}
	grainOff := 0.0
	for i, want := range truth.PatchGrain() {
		if len(r.Speckles) != len(truth.PatchExposures()) {
			break
		}
		t.Logf("%.4f %.4f", r.Speckles[i].Measured, want)
		for k := range want {
			grainOff = max(grainOff, math.Abs(r.Speckles[i].Measured[k]/want[k]-1))
		}
	}
	t.Logf("grain: %d tones, %.1f %% at most", len(r.Speckles), 100*grainOff)
	if grainOff > 0.08 || len(r.Speckles) != len(truth.PatchExposures()) {
		t.Errorf("grain is %.1f %% off in %d tones", 100*grainOff, len(r.Speckles))
	}
	if r.Ring == nil {
		t.Fatal("no ring")
	}
	hue := fit.HueOf(truth.Halo())
	t.Logf("ring: %.4f mm, truly %.4f; hue %.1f, truly %.1f; shares %.3f", r.Ring.Radius, truth.Ring(), r.Ring.Hue, hue, r.Ring.Share)
	if math.Abs(r.Ring.Radius/truth.Ring()-1) > 0.04 || !r.Ring.Seen || math.Abs(math.Remainder(r.Ring.Hue-hue, 360)) > 5 {
		t.Errorf("ring %.4f mm, hue %.1f; truly %.4f, %.1f", r.Ring.Radius, r.Ring.Hue, truth.Ring(), hue)
	}
}
