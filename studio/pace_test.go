package studio

import (
	"fmt"
	"math/rand/v2"
	"testing"
	"time"
)

// The finest raster whose pictures are there in time is found, whatever a picture's fixed and its growing part are, and kept to.
func TestPaceFindsTheFinestRaster(t *testing.T) {
	const within = 1000. / 24
	for _, c := range []struct{ fixed, whole, want float64 }{
		{1, 5, 1},
		{5, 45, 3. / 4},
		{10, 60, 1. / 2},
		{20, 100, 3. / 8},
		{30, 400, 1. / 4},
		{80, 80, 1. / 4}, // even that is too slow
	} {
		var p Pace
		r := rand.New(rand.NewPCG(1, 2))
		at, changes, last := map[float64]int{}, 0, 0.0
		for i := range 2000 {
			s := p.Share(within, 1280)
			if i > 200 {
				at[s]++
				if s != last {
					changes++
				}
			}
			last = s
			ms := (c.fixed + c.whole*s*s) * (0.9 + 0.2*r.Float64())
			if i == 0 {
				ms += 500 // tables are made
			}
			p.Took(s, ms)
		}
		if at[c.want] < 1600 || changes > 40 {
			t.Errorf("%g + %g ms: at %v, changed %d times, want %g", c.fixed, c.whole, at, changes, c.want)
		}
		if pressed := c.fixed+c.whole*c.want*c.want > paceWish*within*1.1; c.want == 1./4 && p.Pressed() != pressed {
			t.Errorf("%g + %g ms: pressed %v", c.fixed, c.whole, p.Pressed())
		}
	}
}

// What was asked for before the raster was changed says nothing of the raster that is played at.
func TestPaceOfLateComers(t *testing.T) {
	var p Pace
	s := p.Share(40, 1280)
	for range 3 {
		p.Took(s, 100)
	}
	now := p.Share(40, 1280)
	if now >= s {
		t.Fatalf("slow at %g, then at %g", s, now)
	}
	for range 100 {
		p.Took(s, 1000)
	}
	if p.Share(40, 1280) != now {
		t.Errorf("late comers changed the raster from %g to %g", now, p.Share(40, 1280))
	}
}

// No picture is played so small that nothing can be told from it.
func TestPaceOfSmallPictures(t *testing.T) {
	for _, c := range []struct {
		width int
		want  float64
	}{{300, 1}, {500, 3. / 4}, {800, 1. / 2}, {1000, 3. / 8}, {4000, 1. / 4}} {
		var p Pace
		for range 100 {
			p.Took(p.Share(40, c.width), 1000)
		}
		if got := p.Share(40, c.width); got != c.want {
			t.Errorf("%d pixels wide: at %g, want %g", c.width, got, c.want)
		}
	}
}

// What plays is exact where that is kept or where there is the time, and kept as such; else it has the raster that is told, of the same shape.
func TestPlayAtAShare(t *testing.T) {
	s, shot, _ := small(t, 3)
	v := View{Shot: shot.ID, W: 48, H: 27}
	stretch := Stretch{From: 0, To: 3}
	kept := func() string { return fmt.Sprint(must(s.Kept(ctx, v, stretch))) }
	play := func(frame int, pace *Pace, within time.Duration) (*Image, float64) {
		t.Helper()
		w := v
		w.Frame = frame
		im, share, err := s.Play(ctx, w, pace, within)
		if err != nil {
			t.Fatal(err)
		}
		return im, share
	}
	whole := must(s.Picture(ctx, v))
	if im, share := play(0, &Pace{}, time.Hour); share != 1 || im.W != whole.W || kept() != "[[0 1]]" {
		t.Errorf("with an hour a frame: at %g, %d wide, kept %s", share, im.W, kept())
	}
	slow := &Pace{begun: true, at: 2, last: 4}
	v.W, v.H = 1280, 720 // nothing is larger than the shot, but the raster that is asked for tells how coarse it may be
	whole = must(s.Picture(ctx, v))
	im, share := play(1, slow, time.Millisecond)
	if share != shares[2] || 2*im.W != whole.W || im.H != whole.H/2 {
		t.Errorf("with a millisecond: at %g, %d×%d", share, im.W, im.H)
	}
	if kept() != "[]" {
		t.Errorf("lower ones count as exact: %s", kept())
	}
	if im, share := play(1, slow, 0); share != 1 || im.W != whole.W || kept() != "[[1 2]]" {
		t.Errorf("as long as it takes: at %g, %d wide, kept %s", share, im.W, kept())
	}
	if _, share := play(1, slow, time.Millisecond); share != 1 {
		t.Errorf("an exact one is kept, and it was made at %g", share)
	}
}
