package scatter

import (
	"context"
	"fmt"
	"math"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/vec"
)

// Spreader is what spreads light: filters in front of the lens, or the base of a film.
type Spreader interface {
	// Key tells spreaders apart.
	Key() string
	// Taken is the share of its light that each channel of a source loses.
	Taken() [3]float64
	// Scattered is where that light arrives: near its source, and far from it. Where they need not be told apart all of it is
	// near, and far is nil.
	Scattered(ctx context.Context, light *frame.Frame, apart bool) (near, far *frame.Frame, err error)
	// Run is what a picture becomes, gain times as bright, and Start that up to its last step, for one who wants the rows; nil
	// where the full picture is needed.
	Run(ctx context.Context, src *frame.Frame, gain float64) (*frame.Frame, error)
	Start(ctx context.Context, src *frame.Frame, gain float64) (*Spread, error)
	// Uniform tells that every channel is treated alike.
	Uniform() bool
}

// overlay is a spreader that can do its work over a picture that is not put together yet. StartOn is Start over one, whose base it takes
// over; nil where that cannot be.
type overlay interface {
	StartOn(ctx context.Context, src *Spread, gain float64) (*Spread, error)
}

// Glow is light that spreads, with a say in what feeds it, what becomes of it, and where it stays away:
//
//	out = gain·(in + hold·(mix·(added·colour(scattered) − taken·source)))
//
// As it comes, all light feeds it, it keeps its colour and arrives everywhere, and no light is gained or lost.
type Glow struct {
	By Spreader
	// Mix is the share of it that is mixed in; below 0 it is taken out.
	Mix    float64
	Source Source
	// Added is the light that arrives against the light that is taken; 1 keeps the sum.
	Added float64
	// Near and Far colour what arrives near its source and far from it.
	Near, Far colour.Matrix
	Hold      Hold
	// Gain multiplies the picture in the end.
	Gain float64
	// Luma makes luminance of the picture's channels.
	Luma [3]float64
}

// NewGlow spreads light as a spreader does, in pictures whose luminance is made by luma.
func NewGlow(by Spreader, luma [3]float64) *Glow {
	return &Glow{By: by, Mix: 1, Added: 1, Near: colour.Identity, Far: colour.Identity, Gain: 1, Source: AllLight, Luma: luma}
}

// Plain tells that nothing but the spreader has a say.
func (g *Glow) Plain() bool {
	return g.Mix == 1 && g.Source.all() && g.Hold == Hold{} && g.Added == 1 && g.Near == colour.Identity && g.Far == colour.Identity
}

// Key tells glows apart.
func (g *Glow) Key() string {
	return fmt.Sprint(g.By.Key(), g.Mix, g.Source, g.Added, g.Near, g.Far, g.Hold, g.Gain, g.Luma)
}

// Fed is the light that feeds the glow, and its cover: the share of every pixel's light, nil for all of it (the light is
// then src itself). matte, if not nil, is a further cover of one plane.
func (g *Glow) Fed(ctx context.Context, src, matte *frame.Frame) (light, cover *frame.Frame, err error) {
	if g.Source.all() && matte == nil {
		return src, nil, nil
	}
	cover, err = g.Source.cover(ctx, src, matte, g.Luma)
	if err != nil {
		return nil, nil, err
	}
	light = frame.Get(src.W, src.H, src.Planes)
	return light, cover, frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			k := cover.Row(0, y)
			for p := range src.Planes {
				d, s := light.Row(p, y), src.Row(p, y)
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

// Start is Run without a matte up to its last step; nil where the full picture is needed.
func (g *Glow) Start(ctx context.Context, src *frame.Frame) (*Spread, error) {
	if !g.Plain() {
		return nil, nil
	}
	return g.By.Start(ctx, src, g.Gain)
}

// StartOn is Start over a picture that is not put together yet, whose base it takes over; nil where that cannot be.
func (g *Glow) StartOn(ctx context.Context, src *Spread) (*Spread, error) {
	by, ok := g.By.(overlay)
	if !ok || !g.Plain() {
		return nil, nil
	}
	return by.StartOn(ctx, src, g.Gain)
}

// Run spreads the light of src; matte, if not nil, covers the source.
func (g *Glow) Run(ctx context.Context, src, matte *frame.Frame) (*frame.Frame, error) {
	if g.Plain() && matte == nil {
		return g.By.Run(ctx, src, g.Gain)
	}
	light, cover, err := g.Fed(ctx, src, matte)
	if err != nil {
		return nil, err
	}
	if cover != nil {
		defer light.Release()
		defer cover.Release()
		if own, ok := g.By.(interface{ Shines() bool }); dark(cover) && !(ok && own.Shines()) { // nothing feeds it
			return g.finish(ctx, src, nil, nil, nil)
		}
	}
	near, far, err := g.By.Scattered(ctx, light, g.Near != g.Far)
	if err != nil {
		return nil, err
	}
	defer near.Release()
	if far != nil {
		defer far.Release()
	}
	return g.finish(ctx, src, light, near, far)
}

func dark(f *frame.Frame) bool {
	for y := range f.H {
		for _, v := range f.Row(0, y) {
			if v != 0 {
				return false
			}
		}
	}
	return true
}

// finish puts the picture together; without near nothing has spread.
func (g *Glow) finish(ctx context.Context, src, light, near, far *frame.Frame) (*frame.Frame, error) {
	out := frame.Get(src.W, src.H, src.Planes)
	taken := g.By.Taken()
	m := [2][12]float32{g.Near.Scale(g.Added).Row12(), g.Far.Scale(g.Added).Row12()}
	return out, frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
		var t [2][3][]float32
		for i := range t {
			for p := range t[i] {
				t[i][p] = make([]float32, src.W, src.W+frame.RightPad)
			}
		}
		hold := make([]float32, src.W, src.W+frame.RightPad)
		for y := y0; y < y1; y++ {
			for p := 3; p < src.Planes; p++ {
				copy(out.Row(p, y), src.Row(p, y))
			}
			in := [3][]float32{src.Row(0, y), src.Row(1, y), src.Row(2, y)}
			if near == nil {
				for p := range 3 {
					g.scale(out.Row(p, y), in[p])
				}
				continue
			}
			for i, f := range [2]*frame.Frame{near, far} {
				if f == nil {
					continue
				}
				for p := range 3 {
					copy(t[i][p], f.Row(p, y))
				}
				vec.Matrix(t[i][0], t[i][1], t[i][2], &m[i])
			}
			held := g.Hold != Hold{}
			if held {
				g.Hold.row(hold, in, g.Luma)
			}
			for p := range 3 {
				d, a, l := out.Row(p, y), t[0][p], light.Row(p, y)
				if far != nil {
					vec.Mix(a, a, t[1][p], 1, 1)
				}
				k, mix := float32(taken[p]), float32(g.Mix)
				for x, v := range in[p] {
					change := mix * (max(a[x], 0) - k*l[x])
					if held {
						change *= hold[x]
					}
					d[x] = v + change
				}
				if mix < 0 { // no more can be taken than there is
					for x, v := range in[p] {
						d[x] = max(d[x], min(v, 0))
					}
				}
				g.scale(d, d)
			}
		}
	})
}

func (g *Glow) scale(dst, src []float32) {
	if g.Gain == 1 {
		copy(dst, src)
		return
	}
	vec.Mix(dst, src, src, float32(g.Gain), 0)
}

// midGrey is what stops are counted from.
const midGrey = 0.18

// Lift is by how many stops the mid tones of pictures are raised on average: w-weighted, with w a bell about mid grey with a
// deviation of 1.5 stops, of the light before (the design's part B4).
func Lift(ctx context.Context, before, after []*frame.Frame, luma [3]float64) (float64, error) {
	const rows = 16 // in a band; bands are summed in order, so that cores do not matter
	sum, weight := 0.0, 0.0
	for i, b := range before {
		a := after[i]
		n := (b.H + rows - 1) / rows
		sums, weights := make([]float64, n), make([]float64, n)
		if err := frame.Bands(ctx, b.H, rows, func(y0, y1 int) {
			was, is, w := make([]float32, b.W, b.W+frame.RightPad), make([]float32, b.W, b.W+frame.RightPad), make([]float32, b.W, b.W+frame.RightPad)
			for y := y0; y < y1; y++ {
				stopsRow(was, [3][]float32{b.Row(0, y), b.Row(1, y), b.Row(2, y)}, luma)
				stopsRow(is, [3][]float32{a.Row(0, y), a.Row(1, y), a.Row(2, y)}, luma)
				for x, v := range was {
					w[x] = max(v*v*(-math.Log2E/(2*1.5*1.5)), -120)
				}
				vec.Exp2(w, w)
				for x, v := range was {
					sums[y0/rows] += float64(w[x] * (is[x] - v))
					weights[y0/rows] += float64(w[x])
				}
			}
		}); err != nil {
			return 0, err
		}
		for k := range sums {
			sum += sums[k]
			weight += weights[k]
		}
	}
	if weight < 1e-9 {
		return 0, nil
	}
	return sum / weight, nil
}

func luminance(c [3]float64, luma [3]float64) float64 {
	return luma[0]*c[0] + luma[1]*c[1] + luma[2]*c[2]
}

// Saturation is a matrix that multiplies colourfulness about luminance.
func Saturation(k float64, luma [3]float64) colour.Matrix {
	return colour.Matrix{
		k + (1-k)*luma[0], (1 - k) * luma[1], (1 - k) * luma[2],
		(1 - k) * luma[0], k + (1-k)*luma[1], (1 - k) * luma[2],
		(1 - k) * luma[0], (1 - k) * luma[1], k + (1-k)*luma[2],
	}
}

// Tint is a matrix that brings light by a share k to the colour c; luminance stays.
func Tint(c [3]float64, k float64, luma [3]float64) colour.Matrix {
	y := luminance(c, luma)
	m := colour.Identity.Scale(1 - k)
	for i := range 3 {
		for j := range 3 {
			m[3*i+j] += k * c[i] / y * luma[j]
		}
	}
	return m
}
