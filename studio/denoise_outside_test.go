package studio

import (
	"os/exec"
	"path/filepath"
	"testing"

	"velours/core/noise"
	"velours/core/noise/scenes"
	"velours/media"
)

// Noise reduction comes nearer the truth than filters of ffmpeg at their defaults do on the same clips.
func TestReductionBesideFilters(t *testing.T) {
	front, err := scenes.Load("courtyard")
	if err != nil {
		t.Fatal(err)
	}
	photo, err := scenes.Load("workbench")
	if err != nil {
		t.Fatal(err)
	}
	for _, s := range []scenes.Scene{{Sigma: 0.02, Frames: 5}, {Sigma: 0.04, Spot: 0.8, Pan: [2]float64{1.3, 2.1}, Thing: &[2]float64{3.4, -5.2}, Frames: 5}} {
		noisy, clean := s.Make(photo, front)
		m, err := noise.Measure(t.Context(), noisy, noise.Options{}, nil)
		if err != nil {
			t.Fatal(err)
		}
		out, err := m.Reduce(t.Context(), noise.Reduction{Bright: 1, Colour: 1, Larger: 1, Over: 1, Within: 1, Frames: 2, Texture: 0.5}, noisy[2], noise.Row(noisy, 2))
		if err != nil {
			t.Fatal(err)
		}
		own := scenes.PSNR(out, clean)
		dir := t.TempDir()
		in := filepath.Join(dir, "in.mkv")
		w, err := media.Create(in, 0, media.Options{Rate: "24/1", Codec: "ffv1"})
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range noisy {
			if err := w.Write(t.Context(), f); err != nil {
				t.Fatal(err)
			}
		}
		if err := w.Close(); err != nil {
			t.Fatal(err)
		}
		for _, filter := range []string{"hqdn3d", "nlmeans"} {
			to := filepath.Join(dir, filter+".mkv")
			if text, err := exec.CommandContext(t.Context(), "ffmpeg", "-v", "error", "-i", in, "-vf", filter, "-c:v", "ffv1", to).CombinedOutput(); err != nil {
				t.Fatalf("%v: %s", err, text)
			}
			r, err := media.Open(t.Context(), to)
			if err != nil {
				t.Fatal(err)
			}
			f, err := r.Frame(t.Context(), 2)
			r.Close()
			if err != nil {
				t.Fatal(err)
			}
			theirs := scenes.PSNR(f, clean)
			t.Logf("%+v: %.1f dB, ours %.1f, %s %.1f", s, scenes.PSNR(noisy[2], clean), own, filter, theirs)
			if own < theirs+3 {
				t.Errorf("%+v: ours %.1f dB, %s %.1f", s, own, filter, theirs)
			}
		}
	}
}
