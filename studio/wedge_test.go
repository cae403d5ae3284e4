package studio

import (
	"math"
	"strings"
	"testing"

	"velours/core/frame"
	"velours/core/look"
)

// Grain is judged on greys in the picture's place: they are flat without it, rise from left to right, and deviate with it; what corrects the scene does not
// touch them.
func TestGrainOnGreys(t *testing.T) {
	s, shot, _ := small(t, 1)
	edit(t, s, shot.ID, look.Edit{Op: "declare", Value: "srgb"})
	edit(t, s, shot.ID, look.Edit{Op: "on", Station: look.Negative, Kind: "stock"})
	edit(t, s, shot.ID, look.Edit{Op: "on", Station: look.Print, Kind: "medium"})
	edit(t, s, shot.ID, look.Edit{Op: look.OpSet, Station: look.Balance, Kind: "exposure", Setting: "stops", Value: 2.0})
	v := View{Shot: shot.ID, Show: ShowWedge, Step: look.StepPath{Station: look.Negative, Name: "grain"}}
	shown := func() *Shown {
		p, err := s.Show(t.Context(), v)
		if err != nil {
			t.Fatal(err)
		}
		return p
	}
	lower := func(f *frame.Frame) (mean, deviation float64) {
		n := 0.0
		for y := f.H/2 + 1; y < f.H; y++ {
			for _, k := range f.Row(1, y) {
				mean, deviation, n = mean+float64(k), deviation+float64(k)*float64(k), n+1
			}
		}
		mean /= n
		return mean, math.Sqrt(max(deviation/n-mean*mean, 0))
	}
	flat := shown()
	grey, none := lower(flat.Frame)
	if none > 1e-4 || grey < 0.3 || grey > 0.5 {
		t.Errorf("without grain mid grey is %.3f ± %.4f", grey, none)
	}
	row := flat.Row(1, 5)
	for x := 10; x < len(row); x += 9 {
		if row[x] < row[x-9]-1e-3 {
			t.Errorf("greys fall from %.3f to %.3f", row[x-9], row[x])
		}
	}
	edit(t, s, shot.ID, look.Edit{Op: look.OpSet, Station: look.Negative, Kind: "grain", Setting: "amount", Value: 100.0})
	grained := shown()
	if mean, deviation := lower(grained.Frame); deviation < 5e-4 || math.Abs(mean-grey) > 0.002 {
		t.Errorf("with grain mid grey is %.3f ± %.4f", mean, deviation)
	}
	if !strings.Contains(grained.Note, "Grain on greys") {
		t.Errorf("it says %q", grained.Note)
	}
	// a part of it shows all greys
	v.X, v.Y, v.CropW, v.CropH = 30, 10, 44, 20
	part := shown().Row(1, 3)
	if part[0] > 0.2 || part[43] < 0.8 {
		t.Errorf("a part goes from %.3f to %.3f", part[0], part[43])
	}
	v.CropW, v.CropH = 0, 0
	// it moves while the frame stands
	number := 7
	v.Number = &number
	if again := shown(); again.Row(1, 40)[20] == grained.Row(1, 40)[20] {
		t.Error("another frame has the same grain")
	}
}

// A frame in which grain cannot be seen is told.
func TestTonesThatHideGrain(t *testing.T) {
	for _, c := range []struct {
		code float32
		why  string
	}{{0.05, "dark"}, {0.5, ""}, {0.9, "bright"}} {
		f := frame.New(20, 10, 3)
		for y := range f.H {
			for x := range f.Row(1, y) {
				f.Row(1, y)[x] = c.code
			}
		}
		if got := quietTones(f); (got == "") != (c.why == "") || !strings.Contains(got, c.why) {
			t.Errorf("at %.2f it says %q", c.code, got)
		}
	}
}
