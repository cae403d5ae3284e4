package studio

import (
	"math/rand/v2"
	"testing"
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
