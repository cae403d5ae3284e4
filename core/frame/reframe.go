package frame

import (
	"context"
	"math"
)

// Placement says how a picture lies in its frame.
type Placement struct {
	Scale float64 // 1 is its own size
	X, Y  float64 // how far its middle lies from the frame's, in widths and heights, right and down
	Turn  float64 // clockwise, in radians
}

// Plain tells that the placement leaves a picture where it is.
func (p Placement) Plain() bool { return p == Placement{Scale: 1} }

// Reframe resamples f into a frame of its own size; what the picture leaves free is 0. Enlarging is by
// cubics through the samples (Catmull & Rom 1974), held between the four nearest so that nothing rings;
// shrinking takes the mean of enough places within each sample. Values should be linear in light.
func Reframe(ctx context.Context, f *Frame, p Placement) (*Frame, error) {
	g := Get(f.W, f.H, f.Planes)
	sin, cos := math.Sincos(p.Turn)
	w, h := float64(f.W), float64(f.H)
	places := 1
	if p.Scale < 1 {
		places = min(8, int(math.Ceil(1/p.Scale-1e-9)))
	}
	share := 1 / float32(places*places)
	err := Bands(ctx, f.H, 16, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			for c := range f.Planes {
				clear(g.Row(c, y))
			}
			for x := range f.W {
				for k := range places * places {
					dx := float64(x) + (float64(k%places)+0.5)/float64(places) - w/2 - p.X*w
					dy := float64(y) + (float64(k/places)+0.5)/float64(places) - h/2 - p.Y*h
					sx, sy := (dx*cos+dy*sin)/p.Scale+w/2-0.5, (dy*cos-dx*sin)/p.Scale+h/2-0.5
					if sx < -0.5-1e-6 || sy < -0.5-1e-6 || sx > w-0.5+1e-6 || sy > h-0.5+1e-6 {
						continue
					}
					for c := range f.Planes {
						g.Row(c, y)[x] += share * f.sample(c, sx, sy)
					}
				}
			}
		}
	})
	return g, err
}

// sample reads plane c between samples.
func (f *Frame) sample(c int, x, y float64) float32 {
	ix, iy := math.Floor(x), math.Floor(y)
	wx, wy := cubic(float32(x-ix)), cubic(float32(y-iy))
	var sum float32
	lo, hi := float32(math.Inf(1)), float32(math.Inf(-1))
	for j := range 4 {
		row := f.Row(c, min(max(int(iy)+j-1, 0), f.H-1))
		var line float32
		for i := range 4 {
			v := row[min(max(int(ix)+i-1, 0), f.W-1)]
			line += wx[i] * v
			if (i == 1 || i == 2) && (j == 1 || j == 2) {
				lo, hi = min(lo, v), max(hi, v)
			}
		}
		sum += wy[j] * line
	}
	return min(max(sum, lo), hi)
}

// cubic are the weights of four samples at t from the second to the third.
func cubic(t float32) [4]float32 {
	return [4]float32{
		t * (-0.5 + t*(1-0.5*t)),
		1 + t*t*(-2.5+1.5*t),
		t * (0.5 + t*(2-1.5*t)),
		t * t * (-0.5 + 0.5*t),
	}
}
