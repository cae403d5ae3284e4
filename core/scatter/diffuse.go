package scatter

import (
	"context"
	"fmt"
	"math"
	"sort"

	"velours/core/frame"
)

// Cloud is a layer of independent scatterers: light meets a Poisson number of them, depth Depth
// on average, and each spreads it by the sum of Lobes (σ as a fraction of the picture's width,
// weights that sum to 1). Its transfer function is exp(−depth·(1 − K̂)), so two clouds of half
// the depth make one whole.
type Cloud struct {
	Depth float64
	Lobes []Gaussian
}

// terms expands the cloud into the unscattered share and Gaussians: e^−τ Σ τⁿ/n!·Kⁿ, where powers
// of a Gaussian add variances. Orders that hold less than a negligible share of the light are
// added to the widest term so that nothing is lost.
func (c Cloud) terms() (direct float64, out []Gaussian) {
	direct = math.Exp(-c.Depth)
	power := []Gaussian{{0, 1}}
	factor, spent := direct, direct
	for n := 1; n == 1 || c.Depth*factor/float64(n) > negligible; n++ {
		var next []Gaussian
		for _, p := range power {
			for _, l := range c.Lobes {
				next = merge(next, Gaussian{math.Hypot(p.Sigma, l.Sigma), p.Weight * l.Weight})
			}
		}
		power = next
		factor *= c.Depth / float64(n)
		for _, p := range power {
			out = merge(out, Gaussian{p.Sigma, factor * p.Weight})
		}
		spent += factor
	}
	out[len(out)-1].Weight += 1 - spent
	return direct, thin(out, 1-direct)
}

const (
	// negligible is the share of light below which an order of scattering is not traced.
	negligible = 1e-4
	// alike is the ratio of widths up to which two Gaussians are drawn as one, and slight the share
	// of the scattered light below which one is not worth a kernel of its own.
	alike, slight = 1.06, 0.005
)

// merge adds a term, joining equal widths.
func merge(list []Gaussian, g Gaussian) []Gaussian {
	for i := range list {
		if math.Abs(list[i].Sigma-g.Sigma) < 1e-9*(1+g.Sigma) {
			list[i].Weight += g.Weight
			return list
		}
	}
	return append(list, g)
}

// thin joins terms of nearly the same width, and slight ones with their neighbour. Light and its
// variance are kept.
func thin(list []Gaussian, total float64) []Gaussian {
	sort.Slice(list, func(i, j int) bool { return list[i].Sigma < list[j].Sigma })
	out := list[:1]
	for _, g := range list[1:] {
		last := &out[len(out)-1]
		if g.Sigma > alike*last.Sigma && min(g.Weight, last.Weight) > slight*total {
			out = append(out, g)
			continue
		}
		w := last.Weight + g.Weight
		last.Sigma = math.Sqrt((last.Weight*last.Sigma*last.Sigma + g.Weight*g.Sigma*g.Sigma) / w)
		last.Weight = w
	}
	return out
}

// Diffuse passes light through the cloud.
func Diffuse(ctx context.Context, src *frame.Frame, c Cloud) (*frame.Frame, error) {
	direct, terms := c.at(src.W)
	return blurInto(ctx, src, terms, direct, [3]float32{1, 1, 1})
}

// Diffused is Diffuse up to its last step, for one who wants the rows; it is nil if the cloud has
// terms so narrow that they need the full picture.
func Diffused(ctx context.Context, src *frame.Frame, c Cloud) (*Spread, error) {
	direct, terms := c.at(src.W)
	return wideSpread(ctx, src, even(terms), shape{}, direct, [3]float32{1, 1, 1})
}

// at is terms for a picture of this width, in pixels.
func (c Cloud) at(width int) (direct [3]float32, terms []Gaussian) {
	d, terms := c.terms()
	for i := range terms {
		terms[i].Sigma *= float64(width)
	}
	return [3]float32{float32(d), float32(d), float32(d)}, terms
}

// Key tells clouds apart.
func (c Cloud) Key() string { return fmt.Sprintf("cloud%v", c) }

// Uniform is true: every channel meets the same scatterers.
func (c Cloud) Uniform() bool { return true }

// Lens is the cloud as a lens that can be joined with others.
func (c Cloud) Lens() *Lens {
	return &Lens{Aspect: 1, Filters: []Filter{{Depth: [3]float64{c.Depth, c.Depth, c.Depth}, Lobes: c.Lobes, Mix: 1}}}
}

// Taken is the share of light that is scattered.
func (c Cloud) Taken() [3]float64 { return c.Lens().Taken() }

// Scattered is where it arrives.
func (c Cloud) Scattered(ctx context.Context, light *frame.Frame, apart bool) (near, far *frame.Frame, err error) {
	return c.Lens().Scattered(ctx, light, apart)
}

// Run is Diffuse where the gain is 1.
func (c Cloud) Run(ctx context.Context, src *frame.Frame, gain float64) (*frame.Frame, error) {
	if gain != 1 {
		return c.Lens().Run(ctx, src, gain)
	}
	return Diffuse(ctx, src, c)
}

// Start is Run up to its last step.
func (c Cloud) Start(ctx context.Context, src *frame.Frame, gain float64) (*Spread, error) {
	if gain != 1 {
		return c.Lens().Start(ctx, src, gain)
	}
	return Diffused(ctx, src, c)
}

// StartOn is Start over a picture that is not put together yet (Lens.StartOn).
func (c Cloud) StartOn(ctx context.Context, s *Spread, gain float64) (*Spread, error) {
	return c.Lens().StartOn(ctx, s, gain)
}
