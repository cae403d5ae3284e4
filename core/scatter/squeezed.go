package scatter

import (
	"context"
	"math"

	"velours/core/frame"
	"velours/core/vec"
)

// A squeezed picture lies narrower on the film than it is shown: what is round there is shown as an ellipse lying down. Its halo, which is
// far wider than a pixel, is computed as the film has it, and stretched.

// squeezed is Halate of a squeezed picture.
func (h Halo) squeezed(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	direct, near, far := h.factors()
	out := src.Clone()
	if err := frame.Bands(ctx, out.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			for p := range 3 {
				row := out.Row(p, y)
				for x := range row {
					row[x] *= direct[p]
				}
			}
		}
	}); err != nil {
		return nil, err
	}
	return out, h.addSqueezed(ctx, out, src, near, far)
}

// addSqueezed adds the light that comes back near and far of a squeezed picture to dst.
func (h Halo) addSqueezed(ctx context.Context, dst, src *frame.Frame, near, far [3]float32) error {
	small, err := squeeze(ctx, src, h.Squeeze)
	if err != nil {
		return err
	}
	defer small.Release()
	film := h
	film.PerMM, film.Squeeze = h.PerMM/float64(h.Squeeze), 1
	terms, b := film.terms(near, far)
	light, err := blurTerms(ctx, small, terms, shape{}, [3]float32{}, b)
	if err != nil {
		return err
	}
	defer light.Release()
	if err := film.addRings(ctx, light, small, near, far); err != nil {
		return err
	}
	return addStretched(ctx, dst, light, h.Squeeze)
}

// squeeze takes the mean of so many pixels beside each other; the last of a row may be of fewer.
func squeeze(ctx context.Context, src *frame.Frame, by int) (*frame.Frame, error) {
	dst := frame.Get((src.W+by-1)/by, src.H, 3)
	return dst, frame.Bands(ctx, dst.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			for p := range 3 {
				row, out := src.Row(p, y), dst.Row(p, y)
				for x := range out {
					part := row[x*by : min((x+1)*by, len(row))]
					var sum float32
					for _, v := range part {
						sum += v
					}
					out[x] = sum / float32(len(part))
				}
			}
		}
	})
}

// addStretched adds src, so many times as wide, to dst.
func addStretched(ctx context.Context, dst, src *frame.Frame, by int) error {
	blocks := vec.NewBlocks(by)
	return frame.Bands(ctx, dst.H, 32, func(y0, y1 int) {
		line := make([]float32, src.W+2, src.W+2+frame.RightPad)
		for y := y0; y < y1; y++ {
			for p := range 3 {
				copy(line[1:], src.Row(p, y))
				line[0], line[src.W+1] = line[1], line[src.W]
				blocks.Grow(dst.Row(p, y), line)
			}
		}
	})
}

// BlurSqueezed is Blur of a squeezed picture, keep times src added to it: deviations are across, and so many times as small down.
func BlurSqueezed(ctx context.Context, src *frame.Frame, keep float64, terms []Gaussian, by int) (*frame.Frame, error) {
	k := float32(keep)
	list := even(terms)
	for i := range list {
		list[i].Sigma /= math.Sqrt(float64(by))
	}
	return blurTerms(ctx, src, list, shape{Aspect: float64(by)}, [3]float32{k, k, k}, [3]float32{1, 1, 1})
}

// BlurLayers is Blur with terms of its own for each of three planes; by is that of BlurSqueezed, 1 for a picture that is not squeezed.
func BlurLayers(ctx context.Context, src *frame.Frame, terms [3][]Gaussian, by int) (*frame.Frame, error) {
	var list []Term
	for p, own := range terms {
		for _, g := range own {
			t := Term{Sigma: g.Sigma}
			t.Weight[p] = g.Weight
			if by > 1 {
				t.Sigma /= math.Sqrt(float64(by))
			}
			list = append(list, t)
		}
	}
	o := shape{}
	if by > 1 {
		o.Aspect = float64(by)
	}
	return blurTerms(ctx, src, list, o, [3]float32{}, [3]float32{1, 1, 1})
}
