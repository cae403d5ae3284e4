package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/png"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"velours/core/film"
	"velours/core/measure"
	"velours/core/noise"
)

// The wedge gives every card's curves back within a hundredth of density: two softplus functions of the card's
// own numbers (film-model: D = sp(Dmax) − sp(Dmax − γ·sp(x − x₀))), written out here.
func TestWedgeIsTheCards(t *testing.T) {
	sp := func(u, k float64) float64 { return math.Log1p(math.Exp(k*u)) / k }
	for _, s := range film.Stocks() {
		var w measure.Wedge
		if err := json.Unmarshal([]byte(must(t, "measure", "wedge", "--set", "negative.stock.id="+s.ID, "--set", "print.medium.id=rideau", "--step", "0.5", "--json")), &w); err != nil {
			t.Fatal(err)
		}
		if len(w.Steps) != 33 || w.Stock != s.ID || w.Medium != "rideau" {
			t.Fatalf("%s: %d steps of %s on %s", s.ID, len(w.Steps), w.Stock, w.Medium)
		}
		last := math.Inf(1)
		for _, step := range w.Steps {
			x := step.Stops * math.Log10(2)
			for i, l := range s.Layers {
				want := sp(l.DMax, l.Shoulder) - sp(l.DMax-l.Gamma*sp(x-l.Speed, l.Toe), l.Shoulder)
				if s.Reversal { // the same, upside down
					want = sp(l.DMax, l.Shoulder) - want
				}
				if got := step.Density[i]; math.Abs(got-want) > 0.01 {
					t.Errorf("%s, layer %d at %+.1f: %.3f, by the card %.3f", s.ID, i, step.Stops, got, want)
				}
			}
			if step.Print == nil || *step.Print > last+1e-6 {
				t.Errorf("%s: the print does not thin out at %+.1f", s.ID, step.Stops)
			} else {
				last = *step.Print
			}
		}
		for i, l := range s.Layers {
			if g := w.Layers[i].Gamma; g > l.Gamma+1e-3 || g < 0.85*l.Gamma {
				t.Errorf("%s, layer %d: gamma reads %.3f, the card says %.3f", s.ID, i, g, l.Gamma)
			}
		}
	}
}

func TestMeasureSaysWhatIsWrong(t *testing.T) {
	for _, c := range []struct {
		args []string
		why  string
	}{{[]string{"measure", "wedge"}, "no film"}, {[]string{"measure", "weight"}, "measure what"}, {[]string{"measure", "wedge", "--set", "negative.stock.id=serein-500t", "--step", "0"}, "steps above 0"},
		{[]string{"measure", "grain"}, "no film"}, {[]string{"measure", "grain", "--set", "negative.stock.id=serein-500t", "--width", "9"}, "256 to 8192"}, {[]string{"measure", "grain", "--set", "negative.stock.id=serein-500t", "--at", "lens"}, "negative or at the finish"}} {
		code, _, problem := velours(c.args...)
		if code != 2 || !strings.Contains(problem, c.why) {
			t.Errorf("%v: exit %d, %q", c.args, code, problem)
		}
	}
	if text := must(t, "measure", "wedge", "--set", "negative.stock.id=serein-500t"); !strings.Contains(text, "gamma") || !strings.Contains(text, "+8.0") {
		t.Errorf("the table lacks its head or its end:\n%s", text)
	}
}

// Grain is told tone by tone: densities of the negative deviate most about the middle, and the spectrum falls.
func TestMeasureGrain(t *testing.T) {
	var g measure.Grain
	if err := json.Unmarshal([]byte(must(t, "measure", "grain", "--set", "negative.stock.id=percale-400", "--set", "negative.grain.amount=100", "--set", "print.medium.id=rideau", "--width", "640", "--json")), &g); err != nil {
		t.Fatal(err)
	}
	if len(g.Tones) != 13 || g.Of != "code" || math.Abs(g.Pitch-24900.0/640) > 1e-9 {
		t.Fatalf("%d tones of %s at %g µm", len(g.Tones), g.Of, g.Pitch)
	}
	deep, mid, high := g.Tones[0].Deviation[1], g.Tones[6].Deviation[1], g.Tones[12].Deviation[1]
	if mid < 5*deep || mid < 5*high {
		t.Errorf("deviations of %.5f, %.5f and %.5f in the deep, the middle and on top", deep, mid, high)
	}
	if first, last := g.Spectrum[0].RGB[1], g.Spectrum[len(g.Spectrum)-1].RGB[1]; first <= last {
		t.Errorf("a spectrum from %.3f to %.3f", first, last)
	}
	if text := must(t, "measure", "grain", "--set", "negative.stock.id=percale-400", "--set", "negative.grain.amount=100", "--width", "256", "--at", "negative"); !strings.Contains(text, "density, 256 pixels") {
		t.Errorf("as text it is\n%s", text)
	}
}

// A clip's noise is measured and kept as a card that is read again; what cannot be measured names the file and the remedy.
func TestMeasureGrainOfAClip(t *testing.T) {
	dir := t.TempDir()
	r := rand.New(rand.NewPCG(4, 2))
	for n := range 3 {
		f := image.NewNRGBA(image.Rect(0, 0, 160, 96))
		for y := range 96 {
			for x := range 160 {
				for c := range 3 {
					f.Pix[f.PixOffset(x, y)+c] = uint8(110 + 6*r.NormFloat64())
				}
				f.Pix[f.PixOffset(x, y)+3] = 255
			}
		}
		var b bytes.Buffer
		if err := png.Encode(&b, f); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(filepath.Join(dir, fmt.Sprintf("Dust & Noise.%03d.png", n)), b.Bytes(), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	clip, file := filepath.Join(dir, "Dust & Noise.%03d.png"), filepath.Join(dir, "card.json")
	text := must(t, "measure", "grain", "--in", clip, "--card", file, "--frames", "0-2")
	if !strings.Contains(text, "frames 0 to 2") || !strings.Contains(text, "few tones") {
		t.Errorf("it says\n%s", text)
	}
	data, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	card, err := noise.ParseCard(data)
	if err != nil {
		t.Fatal(err)
	}
	if d := card.At(0.43)[1]; math.Abs(d*255/6.01-1) > 0.06 { // and a twelfth of a code for rounding
		t.Errorf("green deviates by %.3f codes, made with 6", d*255)
	}
	// one frame is enough where it is flat, and says that it is one
	if text := must(t, "measure", "grain", "--in", clip, "--frames", "0"); !strings.Contains(text, "One frame") {
		t.Errorf("of one frame it says\n%s", text)
	}
	for _, c := range []struct {
		args []string
		why  string
	}{
		{[]string{"--in", clip, "--frames", "0-9"}, "frames 0 to 2"}, {[]string{"--in", clip, "--box", "0,0,9,9"}, "32 × 32"},
		{[]string{"--in", clip, "--box", "all"}, "X,Y,W,H"}, {[]string{"--in", filepath.Join(dir, "none.mov")}, "none.mov"}, {[]string{"--card", file}, "--in"},
	} {
		code, _, problem := velours(append([]string{"measure", "grain"}, c.args...)...)
		if code != 2 || !strings.Contains(problem, c.why) {
			t.Errorf("%v: exit %d, %q", c.args, code, problem)
		}
	}
}
