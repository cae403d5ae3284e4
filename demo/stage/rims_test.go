package stage

import (
	"math"
	"testing"
)

// A board in the dark, out of focus before a wall in the light, both of the same grey. Down its
// straight edge every pixel of a column sees the same shares of both, so the column is even.
func TestRimOutOfFocusIsEven(t *testing.T) {
	s := &Scene{Ambient: Grey(.01)}
	grey := &Material{Albedo: Solid(.5, .5, .5)}
	s.Add(Block{}, At(1, 0, 0).Sized(1, 2, .02), grey)
	s.Add(Block{}, At(0, 0, -3).Sized(4, 4, .05), grey)
	s.Panes = []Pane{{Corner: V{-4, -2, -1}, U: V{0, 4, 0}, W: V{.5, 0, -1.5}, Radiance: Grey(6)}}
	fix(&s.Panes[0], V{0, 0, -3})
	s.Build()
	c := Camera{At: V{0, 0, 1}, Focal: .036, Aperture: .03, Focus: 4}
	const w, h = 160, 90
	p := s.Render(c, w, h, Quality{Views: 4, Lights: 1, Smooth: 4, Rims: 64})
	column := func(x int) (mean, dev float64) {
		const from, to = h/2 - 16, h/2 + 16
		for y := from; y < to; y++ {
			v := float64(p.Pix[3*(y*w+x)+1])
			mean, dev = mean+v, dev+v*v
		}
		mean /= to - from
		return mean, math.Sqrt(max(0, dev/(to-from)-mean*mean))
	}
	light, _ := column(w/2 - 20)
	dark, _ := column(w/2 + 20)
	if light < 5*dark {
		t.Fatalf("wall %g, board %g: nothing to blend", light, dark)
	}
	between := 0
	for x := w/2 - 20; x < w/2+20; x++ {
		mean, dev := column(x)
		if dev > .1*light {
			t.Errorf("column %d is uneven: %g around %g, wall %g", x, dev, mean, light)
		}
		if mean > dark+.1*(light-dark) && mean < dark+.9*(light-dark) {
			between++
		}
	}
	if between < 4 {
		t.Errorf("the rim is %d pixels wide: not out of focus", between)
	}
}
