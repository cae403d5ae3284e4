package frame

import (
	"context"
	"math"
)

// Scale resamples f to w×h: by area when it shrinks, bilinearly when it grows. Both treat
// a sample as a square of light, so the mean is kept. Values should be linear in light.
func Scale(ctx context.Context, f *Frame, w, h int) (*Frame, error) {
	if w == f.W && h == f.H {
		return f, nil
	}
	xs, ys := weights(f.W, w), weights(f.H, h)
	g := Get(w, h, f.Planes)
	err := Bands(ctx, h, 16, func(y0, y1 int) {
		line := make([]float32, f.W)
		for p := range f.Planes {
			for y := y0; y < y1; y++ {
				clear(line)
				for k, wy := range ys[y].w {
					src := f.Row(p, ys[y].at+k)
					for x, v := range src {
						line[x] += wy * v
					}
				}
				dst := g.Row(p, y)
				for x := range dst {
					t := &xs[x]
					var sum float32
					for k, wx := range t.w {
						sum += wx * line[t.at+k]
					}
					dst[x] = sum
				}
			}
		}
	})
	return g, err
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
