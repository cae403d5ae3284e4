package scatter

import (
	"context"
	"fmt"
	"math"

	"velours/core/cache"
	"velours/core/frame"
)

// Focus lets a picture fall out of focus: every place is spread over a disc, as behind a lens, not over a bell. Radius is that of
// the largest disc, a fraction of the width; Rim, −1 to 1, makes discs brighter or darker towards their edge, as lenses do that
// correct too much or too little.
type Focus struct{ Radius, Rim float64 }

// focusLayers is how many discs are drawn: places between two of them are mixed of both.
const focusLayers = 6

// Run spreads every place by its share of the radius, 0 to 1, one plane. Light is kept where the share is even.
func (f Focus) Run(ctx context.Context, src, share *frame.Frame) (*frame.Frame, error) {
	out := frame.Get(src.W, src.H, src.Planes)
	// the weight of a layer is a tent about its share
	weigh := func(of *frame.Frame, layer int) error {
		return frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
			for y := y0; y < y1; y++ {
				m := share.Row(0, y)
				for p := range src.Planes {
					d, s := out.Row(p, y), src.Row(p, y)
					if p > 2 {
						if layer == 0 {
							copy(d, s)
						}
						continue
					}
					s = of.Row(p, y)
					for x, v := range m {
						w := max(0, 1-float32(math.Abs(float64(v*focusLayers-float32(layer)))))
						if layer == 0 {
							d[x] = w * s[x]
						} else if w > 0 {
							d[x] += w * s[x]
						}
					}
				}
			}
		})
	}
	if err := weigh(src, 0); err != nil {
		return nil, err
	}
	for k := 1; k <= focusLayers; k++ {
		r := f.Radius * float64(src.W) * float64(k) / focusLayers
		blurred, err := f.disc(ctx, src, r)
		if err != nil {
			return nil, err
		}
		err = weigh(blurred, k)
		blurred.Release()
		if err != nil {
			return nil, err
		}
	}
	return out, nil
}

// discRank is how many separable terms stand for a disc, and discSamples its radius, in samples, on the grid on which it is
// drawn.
const discRank, discSamples = 8, 11

// disc spreads a picture over a disc of a radius in pixels.
func (f Focus) disc(ctx context.Context, src *frame.Frame, radius float64) (*frame.Frame, error) {
	block := max(1, int(radius/discSamples))
	s := f.kernel(radius / float64(block))
	low, err := shrink(ctx, src, block)
	if err != nil {
		return nil, err
	}
	one := [3]float32{1, 1, 1}
	sum := frame.New(low.W, low.H, 3)
	err = s.addTo(ctx, sum, low, one)
	if low != src {
		low.Release()
	}
	if err != nil || block == 1 {
		return positive(sum), err
	}
	defer sum.Release()
	out := frame.New(src.W, src.H, 3)
	return out, addGrown(ctx, out, positive(sum), block)
}

// positive takes out what a sum of few terms rings below nothing.
func positive(f *frame.Frame) *frame.Frame {
	for p := range 3 {
		for y := range f.H {
			row := f.Row(p, y)
			for x, v := range row {
				row[x] = max(v, 0)
			}
		}
	}
	return f
}

var discs = cache.Results[*separable]{Size: 64}

// kernel is a disc of a radius in samples, by separable terms.
func (f Focus) kernel(radius float64) *separable {
	s, _ := discs.Get(fmt.Sprintf("%.4f %.3f", radius, f.Rim), func() (*separable, error) {
		r := int(math.Ceil(radius + 0.5))
		n := 2*r + 1
		grid := make([]float64, n*n)
		total := 0.0
		const sub = 8
		for i := range n {
			for j := range n {
				v := 0.0
				for a := range sub {
					for b := range sub {
						x, y := float64(i-r)+(float64(a)+0.5)/sub-0.5, float64(j-r)+(float64(b)+0.5)/sub-0.5
						if d := math.Hypot(x, y) / max(radius, 0.3); d <= 1 {
							v += 1 + f.Rim*(2*d*d-1)
						}
					}
				}
				grid[i*n+j] = v
				total += v
			}
		}
		for i := range grid {
			grid[i] /= total
		}
		out := separate(grid, r, discRank)
		return &out, nil
	})
	return s
}

// Around is the share of the radius of every place: none within a distance of a point, all from Feather further on; lengths are
// fractions of the width.
type Around struct{ X, Y, Size, Feather float64 }

// Share fills a plane.
func (a Around) Share(ctx context.Context, w, h int) (*frame.Frame, error) {
	out := frame.Get(w, h, 1)
	return out, frame.Bands(ctx, h, band(w), func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			row := out.Row(0, y)
			dy := (float64(y)+0.5)/float64(w) - a.Y*float64(h)/float64(w)
			for x := range row {
				dx := (float64(x)+0.5)/float64(w) - a.X
				row[x] = float32(smooth((math.Hypot(dx, dy) - a.Size) / max(a.Feather, 1e-4)))
			}
		}
	})
}
