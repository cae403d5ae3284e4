package scatter

import (
	"context"
	"fmt"

	"velours/core/frame"
)

// EvenVeil takes a share of all light and lays an even one in its place.
type EvenVeil struct {
	Share float64
	Light [3]float64
}

// Key tells veils apart.
func (v EvenVeil) Key() string { return fmt.Sprintf("veil%v", v) }

// Taken is the share.
func (v EvenVeil) Taken() [3]float64 { return [3]float64{v.Share, v.Share, v.Share} }

// Uniform is false: the veil has a colour.
func (v EvenVeil) Uniform() bool { return false }

// Scattered is the veil, whatever the light.
func (v EvenVeil) Scattered(ctx context.Context, light *frame.Frame, _ bool) (near, far *frame.Frame, err error) {
	out := frame.Get(light.W, light.H, 3)
	return out, nil, frame.Bands(ctx, light.H, band(light.W), func(y0, y1 int) {
		for p := range 3 {
			for y := y0; y < y1; y++ {
				row := out.Row(p, y)
				for x := range row {
					row[x] = float32(v.Share * v.Light[p])
				}
			}
		}
	})
}

// Run lays the veil over a picture.
func (v EvenVeil) Run(ctx context.Context, src *frame.Frame, gain float64) (*frame.Frame, error) {
	out := frame.Get(src.W, src.H, src.Planes)
	return out, frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
		for p := range src.Planes {
			for y := y0; y < y1; y++ {
				d, s := out.Row(p, y), src.Row(p, y)
				if p > 2 {
					copy(d, s)
					continue
				}
				a, b := float32(gain*(1-v.Share)), float32(gain*v.Share*v.Light[p])
				for x := range d {
					d[x] = a*s[x] + b
				}
			}
		}
	})
}

// Start is nil: rows need no neighbours, but none is spared.
func (v EvenVeil) Start(context.Context, *frame.Frame, float64) (*Spread, error) { return nil, nil }
