package scatter

import (
	"context"
	"math"

	"velours/core/frame"
	"velours/core/vec"
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
	return direct, out
}

// negligible is the share of light below which an order of scattering is not traced.
const negligible = 1e-4

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

// Diffuse passes light through the cloud.
func Diffuse(ctx context.Context, src *frame.Frame, c Cloud) (*frame.Frame, error) {
	direct, terms := c.terms()
	for i := range terms {
		terms[i].Sigma *= float64(src.W)
	}
	d := float32(direct)
	return blurInto(ctx, src, terms, [3]float32{d, d, d}, [3]float32{1, 1, 1})
}

// combine is a·src + b·spread plane by plane, further planes of src passed on.
func combine(ctx context.Context, src, spread *frame.Frame, a, b [3]float32) (*frame.Frame, error) {
	out := frame.Get(src.W, src.H, src.Planes)
	err := frame.Bands(ctx, src.H, band, func(y0, y1 int) {
		for p := range src.Planes {
			for y := y0; y < y1; y++ {
				if p < 3 {
					vec.Mix(out.Row(p, y), src.Row(p, y), spread.Row(p, y), a[p], b[p])
				} else {
					copy(out.Row(p, y), src.Row(p, y))
				}
			}
		}
	})
	return out, err
}
