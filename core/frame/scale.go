package frame

import (
	"context"
	"math"

	"velours/core/vec"
)

// Scale resamples f to w×h: by area when it shrinks, bilinearly when it grows. Both treat
// a sample as a square of light, so the mean is kept. Values should be linear in light.
func Scale(ctx context.Context, f *Frame, w, h int) (*Frame, error) {
	if w == f.W && h == f.H {
		return f, nil
	}
	return ScaleLines(ctx, f.W, f.H, f.Planes, func() func(y int) [][]float32 {
		rows := make([][]float32, f.Planes)
		return func(y int) [][]float32 {
			for p := range rows {
				rows[p] = f.Row(p, y)
			}
			return rows
		}
	}, w, h)
}

// ScaleLines is Scale of a picture of fromW×fromH samples in planes planes that comes row by row: lines returns what gives the planes of row y, with
// the room of rows of a Frame, until its next call; each goroutine has one of its own. Rows come in order, a few of them to two goroutines.
func ScaleLines(ctx context.Context, fromW, fromH, planes int, lines func() func(y int) [][]float32, w, h int) (*Frame, error) {
	xs, ys := across(fromW, w), weights(fromH, h)
	g := Get(w, h, planes)
	return g, Bands(ctx, h, 16, func(y0, y1 int) {
		line := lines()
		sums := make([][]float32, planes)
		for p := range sums {
			sums[p] = make([]float32, fromW, fromW+RightPad)
		}
		for y := y0; y < y1; y++ {
			for p := range sums {
				clear(sums[p])
			}
			for k, wy := range ys[y].w {
				for p, src := range line(ys[y].at + k) {
					vec.Mix(sums[p], sums[p], src, 1, wy)
				}
			}
			for p, sum := range sums {
				clear(sum[fromW : fromW+16]) // weighed by nothing, and so by numbers
				xs.Weigh(g.Row(p, y), sum)
			}
		}
	})
}

// across is weights for the kernel that weighs along rows.
func across(from, to int) *vec.Spans {
	spans := weights(from, to)
	places, w := make([]int, to), make([][]float32, to)
	for x, s := range spans {
		places[x], w[x] = s.at, s.w
	}
	return vec.NewSpans(places, w)
}

type span struct {
	at int
	w  []float32
}

// weights lists, for every sample of the new raster, which old ones it is made of.
func weights(from, to int) []span {
	out := make([]span, to)
	r := float64(from) / float64(to)
	for i := range out {
		lo, hi := float64(i)*r, float64(i+1)*r
		if r < 1 { // bilinear about the centre
			c := (lo+hi)/2 - 0.5
			a := math.Floor(c)
			t := c - a
			i0, i1 := min(max(int(a), 0), from-1), min(max(int(a)+1, 0), from-1)
			if i0 == i1 {
				out[i] = span{i0, []float32{1}}
			} else {
				out[i] = span{i0, []float32{float32(1 - t), float32(t)}}
			}
			continue
		}
		a, b := int(lo), min(int(math.Ceil(hi-1e-9)), from)
		s := span{at: a}
		for k := a; k < b; k++ {
			s.w = append(s.w, float32((math.Min(hi, float64(k+1))-math.Max(lo, float64(k)))/r))
		}
		out[i] = s
	}
	return out
}
