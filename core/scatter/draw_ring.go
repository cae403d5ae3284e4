package scatter

import (
	"context"
	"math"

	"velours/core/frame"
	"velours/core/vec"
)

// ringPitch is the grid, in mm, on which a ring is computed, and quickPitch that for drafts.
const ringPitch, quickPitch = 0.035, 0.1

// grid is how many pixels a cell of a ring's grid has.
func grid(perMM, pitch float64) int { return max(1, int(math.Round(pitch*perMM))) }

// addRing adds weight times the spread of a base whose light is reflected totally to dst, by what is near and far of it.
func addRing(ctx context.Context, dst, src *frame.Frame, b Base, perMM, pitch, weight float64, near, far [3]float32) error {
	f := grid(perMM, pitch)
	if f == 1 { // the grid is the raster's own
		return drawRing(ctx, dst, src, b, perMM, f, weight, near, far)
	}
	r, err := newRing(ctx, src.W, src.H, linesOf(src), b, perMM, f, weight, near, far)
	if err != nil {
		return err
	}
	defer r.light.Release()
	return addGrown(ctx, dst, r.light, f)
}

// ring is light on a grid of cells of so many pixels.
type ring struct {
	light  *frame.Frame
	blocks *vec.Blocks
	f      int
}

// newRing draws the spread of a base whose light is reflected totally on a grid: the exposure is averaged over cells, convolved, and then to be
// brought back bilinearly.
func newRing(ctx context.Context, w, h int, src lines, b Base, perMM float64, f int, weight float64, near, far [3]float32) (ring, error) {
	low, err := shrinkLines(ctx, w, h, src, f)
	if err != nil {
		return ring{}, err
	}
	defer low.Release()
	light := frame.New(low.W, low.H, 3)
	if err := drawRing(ctx, light, low, b, perMM, f, weight, near, far); err != nil {
		light.Release()
		return ring{}, err
	}
	repeatEdges(light)
	return ring{light, vec.NewBlocks(f), f}, nil
}

// columns returns the function that adds the ring to columns x0 to x0+w of row y.
func (r ring) columns(x0, w int) func(y int, dst [3][]float32) {
	if r.f == 2 { // a doubling has its own kernel
		doubled := double(r.light, sizes(r.light.W, r.light.H, 0), x0, w)
		return func(y int, dst [3][]float32) {
			for p, d := range dst {
				vec.Double(d, d, doubled(p, y), 1, 1)
			}
		}
	}
	f := float64(r.f)
	first := int(math.Floor((float64(x0)+0.5)/f - 0.5))
	n := w/r.f + 3
	line := make([]float32, n, n+frame.RightPad)
	from := frame.LeftPad + first
	return func(y int, dst [3][]float32) {
		v := (float64(y)+0.5)/f - 0.5
		i := int(math.Floor(v))
		t := float32(v - math.Floor(v))
		for p, d := range dst {
			vec.Mix(line, r.light.Around(p, min(max(i, 0), r.light.H-1))[from:], r.light.Around(p, min(i+1, r.light.H-1))[from:], 1-t, t)
			r.blocks.GrowFrom(d, line, x0, first)
		}
	}
}

// drawRing adds weight times the spread of a base to dst, both on a grid of f pixels: near by separable terms, far by others on a coarser one.
func drawRing(ctx context.Context, dst, src *frame.Frame, b Base, perMM float64, f int, weight float64, near, far [3]float32) error {
	s := sample(b, float64(f)/perMM, near != far)
	for i := range near {
		near[i] *= float32(weight)
		far[i] *= float32(weight)
	}
	if err := s.near.addTo(ctx, dst, src, near); err != nil {
		return err
	}
	switch {
	case s.coarse > 1:
		lower, err := shrink(ctx, src, s.coarse)
		if err != nil {
			return err
		}
		defer lower.Release()
		wide := frame.New(lower.W, lower.H, 3)
		if err := s.far.addTo(ctx, wide, lower, far); err != nil {
			return err
		}
		return addGrown(ctx, dst, wide, s.coarse)
	case len(s.far.taps) > 0: // on the same grid
		return s.far.addTo(ctx, dst, src, far)
	}
	return nil
}

// addTo adds gain times the convolution of src to dst.
func (s *separable) addTo(ctx context.Context, dst, src *frame.Frame, gain [3]float32) error {
	var sum rowSum
	for k, taps := range s.taps {
		scaled := gain
		for i := range scaled {
			scaled[i] *= s.weights[k]
		}
		sum.blurs = append(sum.blurs, blurred{src, kernel{taps: taps, weight: [3]float32{1, 1, 1}}, scaled})
	}
	return sum.into(ctx, dst)
}

// shrink averages blocks of f×f; the last block of a row or column may be smaller.
func shrink(ctx context.Context, src *frame.Frame, f int) (*frame.Frame, error) {
	return shrinkLines(ctx, src.W, src.H, linesOf(src), f)
}

// shrinkLines is shrink of a picture that comes row by row.
func shrinkLines(ctx context.Context, w, h int, src lines, f int) (*frame.Frame, error) {
	dst := frame.Get((w+f-1)/f, (h+f-1)/f, 3)
	blocks := vec.NewBlocks(f)
	whole := w / f // blocks of a row
	err := frame.Bands(ctx, dst.H, 4, func(y0, y1 int) {
		row := src()
		var sums [3][]float32
		for p := range sums {
			sums[p] = make([]float32, w, w+17*f+8)
		}
		for y := y0; y < y1; y++ {
			rows := min(f, h-y*f)
			for j := range rows {
				for p, from := range row(y*f + j) {
					if j == 0 {
						copy(sums[p], from)
					} else {
						vec.Mix(sums[p], sums[p], from, 1, 1)
					}
				}
			}
			for p, sum := range sums {
				d := dst.Row(p, y)
				blocks.Gather(d[:whole], sum, float32(f*rows))
				if rest := sum[whole*f:]; len(rest) > 0 {
					var s float32
					for _, v := range rest {
						s += v
					}
					d[whole] = s / float32(len(rest)*rows)
				}
			}
		}
	})
	return dst, err
}

// addGrown adds src, bilinearly enlarged f times, to dst.
func addGrown(ctx context.Context, dst, src *frame.Frame, f int) error {
	repeatEdges(src)
	r := ring{src, vec.NewBlocks(f), f}
	return frame.Bands(ctx, dst.H, band(dst.W), func(y0, y1 int) {
		add := r.columns(0, dst.W)
		for y := y0; y < y1; y++ {
			add(y, [3][]float32{dst.Row(0, y), dst.Row(1, y), dst.Row(2, y)})
		}
	})
}
