package grade

import (
	"context"
	"math"
	"sync/atomic"

	"velours/core/frame"
	"velours/core/scatter"
	"velours/core/vec"
)

// Texture is local contrast at two scales: Fine and Coarse say how much of each is added, 1 for as much again,
// −1 for none left. Its sizes are shares of the picture's width. Brightness alone moves, and edges stay free of
// halos: what is broad is found by a guided filter (He, Sun & Tang 2010), which keeps them.
type Texture struct {
	Fine, Coarse         float64
	FineSize, CoarseSize float64
}

// keepEdge is the contrast, in stops, from which on the guided filter keeps an edge.
const keepEdge = 0.4

// most is how many stops texture and sharpening may move a tone.
const most = 1.5

// Run is the picture with it.
func (t *Texture) Run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	tone, err := tones(ctx, src)
	if err != nil {
		return nil, err
	}
	defer tone.Release()
	fine, err := Guided(ctx, tone, tone, t.FineSize*float64(src.W), keepEdge*keepEdge)
	if err != nil {
		return nil, err
	}
	defer fine.Release()
	coarse := fine
	if t.Coarse != 0 {
		if coarse, err = Guided(ctx, tone, tone, t.CoarseSize*float64(src.W), keepEdge*keepEdge); err != nil {
			return nil, err
		}
		defer coarse.Release()
	}
	a, b := float32(t.Fine), float32(t.Coarse)
	return lit(ctx, src, func(gain []float32, y int) {
		p, f, c := tone.Row(0, y), fine.Row(0, y), coarse.Row(0, y)
		for x := range gain {
			gain[x] = bounded(a*(p[x]-f[x]) + b*(f[x]-c[x]))
		}
	})
}

// bounded holds stops to what texture may do.
func bounded(v float32) float32 {
	if v > -0.3 && v < 0.3 {
		return v // the bend matters beyond
	}
	s := float32(0.3)
	if v < 0 {
		s = -s
	}
	return s + (most-0.3)*float32(math.Tanh(float64(v-s)/(most-0.3)))
}

// tones is the picture's tone in stops, one plane.
func tones(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	out := frame.Get(src.W, src.H, 1)
	return out, frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			t := out.Row(0, y)
			Tones(t, src.Row(0, y), src.Row(1, y), src.Row(2, y))
			vec.Clamp(t, -12, 12)
		}
	})
}

// lit multiplies every pixel by two to the power of a row of stops.
func lit(ctx context.Context, src *frame.Frame, stops func(gain []float32, y int)) (*frame.Frame, error) {
	out := frame.Get(src.W, src.H, src.Planes)
	return out, frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		k := scratch(src.W)
		for y := y0; y < y1; y++ {
			stops(k, y)
			vec.Exp2(k, k)
			for p := range src.Planes {
				d, s := out.Row(p, y), src.Row(p, y)
				if p > 2 {
					copy(d, s)
					continue
				}
				vec.Product(d, s, k, 1)
			}
		}
	})
}

// Guided smooths plane 0 of src over squares of a radius in samples, above 0, but for edges of the guide whose variance
// is above edge (He, Sun & Tang 2010).
func Guided(ctx context.Context, src, guide *frame.Frame, radius, edge float64) (*frame.Frame, error) {
	w, h := src.W, src.H
	own := src == guide // its own guide has half as many means
	planes := 4
	if own {
		planes = 2
	}
	means, err := frame.MeanOf(ctx, w, h, planes, radius, func(rows [][]float32, y int) {
		p, g := src.Row(0, y), guide.Row(0, y)
		copy(rows[0], p)
		vec.Product(rows[1], g, g, 1)
		if !own {
			copy(rows[2], g)
			vec.Product(rows[3], p, g, 1)
		}
	})
	if err != nil {
		return nil, err
	}
	defer means.Release()
	// a line of the guide for every square, and their means
	lines, err := frame.MeanOf(ctx, w, h, 2, radius, func(rows [][]float32, y int) {
		p, gg := means.Row(0, y), means.Row(1, y)
		g, pg := p, gg
		if !own {
			g, pg = means.Row(2, y), means.Row(3, y)
		}
		vec.Slope(rows[0], rows[1], p, g, pg, gg, float32(edge))
	})
	if err != nil {
		return nil, err
	}
	defer lines.Release()
	out := frame.Get(w, h, 1)
	return out, frame.Bands(ctx, h, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			vec.Line(out.Row(0, y), guide.Row(0, y), lines.Row(0, y), lines.Row(1, y))
		}
	})
}

// Soften blurs light by a Gaussian of standard deviation sigma in pixels.
func Soften(ctx context.Context, src *frame.Frame, sigma float64) (*frame.Frame, error) {
	return scatter.Blur(ctx, src, []scatter.Gaussian{{Sigma: sigma, Weight: 1}})
}

// Sharpen adds what a blur of sigma pixels takes from the tone, Amount times over. Half a stop is the most that
// it adds anywhere.
func Sharpen(ctx context.Context, src *frame.Frame, sigma, amount float64) (*frame.Frame, error) {
	tone, err := tones(ctx, src)
	if err != nil {
		return nil, err
	}
	defer tone.Release()
	soft, err := frame.Soften(ctx, tone, sigma)
	if err != nil {
		return nil, err
	}
	defer soft.Release()
	const most = 0.5
	return lit(ctx, src, func(gain []float32, y int) {
		vec.Mix(gain, tone.Row(0, y), soft.Row(0, y), float32(amount), -float32(amount))
		vec.Limit(gain, most)
	})
}

// Smooth takes the fine texture of skin away, the share amount of it, and leaves all else alone. Size is a
// share of the picture's width.
func (s *Skin) Smooth(ctx context.Context, src *frame.Frame, size, amount float64) (*frame.Frame, error) {
	tone, err := tones(ctx, src)
	if err != nil {
		return nil, err
	}
	defer tone.Release()
	broad, err := Guided(ctx, tone, tone, size*float64(src.W), keepEdge*keepEdge)
	if err != nil {
		return nil, err
	}
	defer broad.Release()
	out := frame.Get(src.W, src.H, src.Planes)
	k := float32(amount)
	return out, frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		gain, weights := scratch(src.W), s.Rows()
		for y := y0; y < y1; y++ {
			weights(gain, src.Row(0, y), src.Row(1, y), src.Row(2, y))
			p, b := tone.Row(0, y), broad.Row(0, y)
			for x, w := range gain {
				gain[x] = k * w * bounded(b[x]-p[x])
			}
			vec.Exp2(gain, gain)
			for p := range src.Planes {
				if p < 3 {
					vec.Product(out.Row(p, y), src.Row(p, y), gain, 1)
				} else {
					copy(out.Row(p, y), src.Row(p, y))
				}
			}
		}
	})
}

// Hide puts what surrounds a mask in the place of what it covers: the light around, spread inwards over size
// pixels, each pixel counted by how little it is covered. Mask has one plane, 1 where it covers.
func Hide(ctx context.Context, src, mask *frame.Frame, size float64) (*frame.Frame, error) {
	open := frame.Get(src.W, src.H, 4)
	defer open.Release()
	if err := frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			d := open.Row(3, y)
			vec.Affine(d, mask.Row(0, y), -1, 1)
			for p := range 3 {
				vec.Product(open.Row(p, y), src.Row(p, y), d, 1)
			}
		}
	}); err != nil {
		return nil, err
	}
	out := src.Clone()
	left := frame.New(src.W, src.H, 1) // how much of a pixel has been filled
	for range 12 {
		near, err := frame.Soften(ctx, open, size)
		if err != nil {
			return nil, err
		}
		var holes atomic.Bool
		err = frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
			for y := y0; y < y1; y++ {
				if fillRow(out, near, left.Row(0, y), y) {
					holes.Store(true)
				}
			}
		})
		near.Release()
		if err != nil {
			return nil, err
		}
		if !holes.Load() {
			break
		}
		size *= 2
	}
	return out, nil
}

// fillRow fills what is left of row y by the light near it, as far as there is any, and tells whether holes remain.
func fillRow(out, near *frame.Frame, left []float32, y int) (holes bool) {
	var d, n [3][]float32
	for p := range d {
		d[p], n[p] = out.Row(p, y)[:len(left)], near.Row(p, y)[:len(left)]
	}
	for x, w := range near.Row(3, y)[:len(left)] {
		l := left[x]
		if k := min(w*20, 1) - l; w > 1e-4 && k > 0 {
			for p := range d {
				v := n[p][x] / w
				if l == 0 {
					d[p][x] = v
				} else {
					d[p][x] += (v - d[p][x]) * k
				}
			}
			l += k
			left[x] = l
		}
		holes = holes || l <= 0.9
	}
	return holes
}
