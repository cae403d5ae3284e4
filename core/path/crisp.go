package path

import (
	"context"
	"fmt"

	"velours/core/film"
	"velours/core/frame"
	"velours/core/vec"
)

// crisp is how a stock draws detail, on a raster: light scatters in its layers before it exposes them, and what
// developed holds back its surroundings, which sharpens density (film.Sharpness, the transfer of which it has).
type crisp struct {
	fine, wide, reach float64 // standard deviations, pixels
	share, adjacency  float64
}

// crispOn is a stock's sharpness where a pixel is so many micrometres wide.
func crispOn(m film.Sharpness, pixel, scatter, adjacency float64) *crisp {
	return &crisp{fine: m.Fine * scatter / pixel, wide: m.Wide * scatter / pixel, reach: m.Reach / pixel, share: m.Share, adjacency: m.Adjacency * adjacency}
}

// least is a deviation, in pixels, below which a blur changes nothing that a raster can hold.
const least = 0.1

func (c *crisp) key() string { return fmt.Sprintf("crisp %.4g", *c) }

// scatter blurs exposure by both Gaussians.
func (c *crisp) scatter(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
	return mixed(ctx, src, [2]float64{c.fine, c.wide}, [2]float32{float32(c.share), float32(1 - c.share)}, 0)
}

// sharpen raises density by what it has more than its surroundings.
func (c *crisp) sharpen(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
	return mixed(ctx, src, [2]float64{c.reach}, [2]float32{float32(-c.adjacency)}, float32(1+c.adjacency))
}

// mixed is a picture times keep, and blurs of it times their shares; a blur of no width is the picture.
func mixed(ctx context.Context, src *frame.Frame, sigma [2]float64, share [2]float32, keep float32) (*frame.Frame, error) {
	out := frame.New(src.W, src.H, 3)
	var blurs [2]*frame.Frame
	for i, s := range sigma {
		if share[i] == 0 {
			continue
		}
		if s < least {
			keep += share[i]
			continue
		}
		b, err := frame.Soften(ctx, src, s)
		if err != nil {
			return nil, err
		}
		defer b.Release()
		blurs[i] = b
	}
	return out, frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			for p := range 3 {
				d := out.Row(p, y)
				vec.Mix(d, src.Row(p, y), src.Row(p, y), keep, 0)
				for i, b := range blurs {
					if b != nil {
						vec.Mix(d, d, b.Row(p, y), 1, share[i])
					}
				}
			}
		}
	})
}
