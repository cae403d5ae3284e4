package path

import (
	"context"
	"fmt"

	"velours/core/film"
	"velours/core/frame"
	"velours/core/scatter"
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

func (c *crisp) key() string { return fmt.Sprintf("crisp %.4g", *c) }

// scatter blurs exposure by both Gaussians.
func (c *crisp) scatter(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
	return scatter.Blur(ctx, src, []scatter.Gaussian{{Sigma: c.fine, Weight: c.share}, {Sigma: c.wide, Weight: 1 - c.share}})
}

// sharpen raises density by what it has more than its surroundings.
func (c *crisp) sharpen(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
	return scatter.BlurOver(ctx, src, 1+c.adjacency, []scatter.Gaussian{{Sigma: c.reach, Weight: -c.adjacency}})
}
