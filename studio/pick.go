package studio

import (
	"context"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/grade"
	"velours/core/render"
)

// Picked is what is read at a point of the picture, as light enters a step.
type Picked struct {
	// Light is linear, the mean of a few pixels around.
	Light [3]float64 `json:"light"`
	// Stops are from mid grey, Hue in degrees, Chroma over lightness.
	Stops  float64 `json:"stops"`
	Hue    float64 `json:"hue"`
	Chroma float64 `json:"chroma"`
	// Mired and Tint are the white balance under which it is neutral; none for black.
	Mired *float64 `json:"mired,omitempty"`
	Tint  *float64 `json:"tint,omitempty"`
}

// pickReach is how many pixels to each side of a point are averaged, of a picture about 1000 wide.
const pickReach = 3

// Pick reads a point of a view, in shares of what is seen, as light enters the view's Step.
func (s *Sessions) Pick(ctx context.Context, v View, q Probe) (*Picked, error) {
	if !(q.X >= 0 && q.X <= 1 && q.Y >= 0 && q.Y <= 1) {
		return nil, Bad("a pixel lies inside the picture, 0 to 1 each way")
	}
	v.Draft, v.Side, v.Show = false, Side{}, Plainly
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	light, err := s.entering(ctx, c, v.Step)
	if err != nil {
		return nil, err
	}
	raster, region := v.window(c.shot.Width, c.shot.Height)
	if region.W == 0 {
		region = render.Region{W: raster.W, H: raster.H}
	}
	x, y := region.X+int(q.X*float64(region.W)), region.Y+int(q.Y*float64(region.H))
	p := &Picked{Light: around(light, x, y, max(1, pickReach*light.W/1000))}
	p.Stops = grade.Stops(grade.Luma[0]*p.Light[0] + grade.Luma[1]*p.Light[1] + grade.Luma[2]*p.Light[2])
	p.Hue, p.Chroma = grade.Hue(p.Light)
	if m, t, ok := colour.Neutralise(p.Light); ok {
		p.Mired, p.Tint = &m, &t
	}
	return p, nil
}

// around is the mean of the pixels within reach of a place.
func around(f *frame.Frame, x, y, reach int) [3]float64 {
	var sum [3]float64
	n := 0.0
	for j := max(y-reach, 0); j <= min(y+reach, f.H-1); j++ {
		for i := max(x-reach, 0); i <= min(x+reach, f.W-1); i++ {
			for c, v := range f.At(i, j) {
				sum[c] += v
			}
			n++
		}
	}
	for c := range sum {
		sum[c] /= max(n, 1)
	}
	return sum
}
