package grade

import (
	"context"
	"math"

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
			for x, v := range t {
				t[x] = min(max(v, -12), 12)
			}
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
				for x, v := range s {
					d[x] = v * k[x]
				}
			}
		}
	})
}

// Guided smooths plane 0 of src over squares of a radius in samples, but for edges of the guide whose variance
// is above edge.
func Guided(ctx context.Context, src, guide *frame.Frame, radius, edge float64) (*frame.Frame, error) {
	products := frame.Get(src.W, src.H, 4)
	defer products.Release()
	each := func(f func(y int)) error {
		return frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
			for y := y0; y < y1; y++ {
				f(y)
			}
		})
	}
	if err := each(func(y int) {
		p, g := src.Row(0, y), guide.Row(0, y)
		a, b, c, d := products.Row(0, y), products.Row(1, y), products.Row(2, y), products.Row(3, y)
		for x, v := range p {
			a[x], b[x], c[x], d[x] = v, g[x], v*g[x], g[x]*g[x]
		}
	}); err != nil {
		return nil, err
	}
	means, err := frame.Mean(ctx, products, radius)
	if err != nil {
		return nil, err
	}
	defer means.Release()
	line := frame.Get(src.W, src.H, 2)
	defer line.Release()
	if err := each(func(y int) {
		a, b, c, d := means.Row(0, y), means.Row(1, y), means.Row(2, y), means.Row(3, y)
		k, o := line.Row(0, y), line.Row(1, y)
		for x, v := range a {
			slope := (c[x] - v*b[x]) / (max(d[x]-b[x]*b[x], 0) + float32(edge))
			k[x], o[x] = slope, v-slope*b[x]
		}
	}); err != nil {
		return nil, err
	}
	if means, err = frame.Mean(ctx, line, radius); err != nil {
		return nil, err
	}
	defer means.Release()
	out := frame.Get(src.W, src.H, 1)
	return out, each(func(y int) {
		k, o, g, d := means.Row(0, y), means.Row(1, y), guide.Row(0, y), out.Row(0, y)
		for x, v := range g {
			d[x] = k[x]*v + o[x]
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
		p, s := tone.Row(0, y), soft.Row(0, y)
		for x := range gain {
			d := amount * float64(p[x]-s[x])
			gain[x] = float32(d / math.Sqrt(1+d*d/(most*most)))
		}
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
				d, from := out.Row(p, y), src.Row(p, y)
				for x, v := range from {
					if p < 3 {
						v *= gain[x]
					}
					d[x] = v
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
			m := mask.Row(0, y)
			for p := range 3 {
				d, s := open.Row(p, y), src.Row(p, y)
				for x, v := range s {
					d[x] = v * (1 - m[x])
				}
			}
			d := open.Row(3, y)
			for x, v := range m {
				d[x] = 1 - v
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
		full := true
		for y := range src.H {
			n, l := near.Row(3, y), left.Row(0, y)
			for x, w := range n {
				if k := min(w*20, 1) - l[x]; w > 1e-4 && k > 0 {
					for p := range 3 {
						v := near.Row(p, y)[x] / w
						d := out.Row(p, y)
						if l[x] == 0 {
							d[x] = v
						} else {
							d[x] += (v - d[x]) * k
						}
					}
					l[x] += k
				}
				full = full && l[x] > 0.9
			}
		}
		near.Release()
		if full {
			break
		}
		size *= 2
	}
	return out, nil
}
