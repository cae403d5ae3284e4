package studio

import (
	"math/rand/v2"
	"path/filepath"
	"strings"
	"testing"

	"velours/core/frame"
	"velours/core/look"
	"velours/library"
	"velours/media"
)

// What a delivery leaves: less of the grain the fewer bits there are, and a picture that is still the
// shot's.
func TestDeliveryPreview(t *testing.T) {
	s, _, dir := small(t, 1)
	name := filepath.Join(dir, "noise.mkv")
	w, err := media.Create(name, 0, media.Options{})
	if err != nil {
		t.Fatal(err)
	}
	dice := rand.New(rand.NewPCG(3, 4))
	for range 6 {
		f := frame.New(320, 180, 3)
		for y := range f.H {
			for x := range f.W {
				v := 0.4 + 0.1*dice.Float32()
				f.Row(0, y)[x], f.Row(1, y)[x], f.Row(2, y)[x] = v, v, v
			}
		}
		if err := w.Write(ctx, f); err != nil {
			t.Fatal(err)
		}
	}
	if err := w.Close(); err != nil {
		t.Fatal(err)
	}
	shot, err := s.AddShot(ctx, 1, name)
	if err != nil {
		t.Fatal(err)
	}
	for _, id := range []string{"stock", "grain"} {
		if _, err := s.Edit(shot.ID, look.Edit{Op: "on", Station: "negative", Kind: id}, library.Author{}); err != nil {
			t.Fatal(err)
		}
	}
	v := View{Shot: shot.ID, Frame: 3}
	plain, err := s.Show(ctx, v)
	if err != nil {
		t.Fatal(err)
	}
	left := map[float64]float64{}
	for _, codec := range []string{"h264", "h265"} {
		for _, rate := range []float64{0.2, 20} {
			v.Show, v.Codec, v.Megabits = "delivery", codec, rate
			p, err := s.Show(ctx, v)
			if err != nil {
				t.Fatal(err)
			}
			if p.W != plain.W || p.H != plain.H || !strings.Contains(p.Note, "Mbit/s") {
				t.Fatalf("%d×%d, %q", p.W, p.H, p.Note)
			}
			left[rate] = texture(p.Frame) / texture(plain.Frame)
			mean := 0.0
			for y := range p.H {
				for x := range p.W {
					mean += float64(p.Row(1, y)[x] - plain.Row(1, y)[x])
				}
			}
			if mean /= float64(p.W * p.H); mean < -0.01 || mean > 0.01 {
				t.Errorf("%s at %g: the picture is %.3f brighter", codec, rate, mean)
			}
		}
		if !(left[0.2] < left[20] && left[20] > 0.5 && left[20] < 1.2) {
			t.Errorf("%s: texture left %v", codec, left)
		}
	}
	v.Draft = true
	if p, err := s.Show(ctx, v); err != nil || !strings.Contains(p.Note, "encoding") {
		t.Errorf("a draft says %v, %v", p, err)
	}
	for _, bad := range []View{{Shot: shot.ID, Show: "delivery", Codec: "h264"}, {Shot: shot.ID, Show: "delivery", Codec: "wax", Megabits: 5}} {
		if _, err := s.Show(ctx, bad); err == nil {
			t.Errorf("%s at %g was shown", bad.Codec, bad.Megabits)
		}
	}
}
