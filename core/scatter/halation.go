package scatter

import (
	"context"
	"fmt"

	"velours/core/frame"
)

// Halo describes the halation of a negative.
type Halo struct {
	Thickness, Index float64 // base: mm, refractive index
	// Backing is how much of what keeps light from coming back is left: 1 intact, 0 removed. It lies on the back of the base, or
	// as an undercoat of the density Undercoat between layers and base.
	Backing   float64
	Undercoat float64
	// Held and Back are, for red, green and blue, the share of light that enters the base and
	// how well it exposes the layer on its return.
	Held, Back [3]float64
	// Amount scales the returned light; 1 is what the film does.
	Amount float64
	// Spread scales the distances, as a thicker base does; Near and Far scale the light of the first reflection, the ring, and
	// of the wide glow. 1 is what the film does.
	Spread, Near, Far float64
	// Trim scales the gain of each layer, which is what gives the halo its colour.
	Trim [3]float64
	// Quick draws a ring on a coarser grid, for pictures that follow a drag.
	Quick bool
	// PerMM is the raster, in pixels for a millimetre of film, across.
	PerMM float64
	// Squeeze is how many times as wide as on the film the picture is shown, for squeezed ones; 0 and 1 are for others.
	Squeeze int
}

// Plain is a halo as the film makes it, without trims.
func (h Halo) Plain() Halo {
	h.Spread, h.Near, h.Far, h.Trim = 1, 1, 1, [3]float64{1, 1, 1}
	return h
}

// intactTerms are five Gaussians for the spread of a backed base 0.13 mm thick: σ in mm, weights
// that sum to 1; 0.3 % of the exact profile is left over (design notes, table A3). The first nearTerms are near.
var intactTerms = []Gaussian{{.0934, .0871}, {.1524, .2608}, {.2856, .1613}, {.6892, .2751}, {1.5084, .2157}}

const nearTerms = 3

// returns are what comes back of light in the base: by what is left of the protection, and where there is none.
type returns struct {
	kept, bare Base
	// share is that of the kept part in the light that comes back.
	share, total float64
}

func (h Halo) returns() returns {
	r := returns{kept: Intact(h.Thickness, h.Index), bare: Removed(h.Thickness, h.Index)}
	if h.Undercoat > 0 {
		r.kept = Undercoated(h.Thickness, h.Index, h.Undercoat)
	}
	kept, bare := h.Backing*r.kept.Total(), (1-h.Backing)*r.bare.Total()
	r.total = kept + bare
	if r.total > 0 {
		r.share = kept / r.total
	}
	return r
}

// whole are the gains of the layers with all of the light that comes back.
func (h Halo) whole() [3]float64 {
	total := h.returns().total
	var g [3]float64
	for i := range g {
		g[i] = h.Amount * h.Held[i] * h.Back[i] * total
		if h.Trim[i] != 1 {
			g[i] *= h.Trim[i]
		}
	}
	return g
}

// Gains are the returned light of each layer as a share of its direct exposure.
func (h Halo) Gains() [3]float64 {
	g := h.whole()
	if near, far := h.parts(); h.Near != 1 || h.Far != 1 {
		for i := range g {
			g[i] *= h.Near*near + h.Far*far
		}
	}
	return g
}

// parts are the shares of returned light that fall near and far.
func (h Halo) parts() (near, far float64) {
	r := h.returns()
	for i, t := range intactTerms {
		if i < nearTerms && h.Undercoat == 0 {
			near += t.Weight * r.share
		}
	}
	if h.Undercoat > 0 {
		near += r.share * nearShare(r.kept, h.pitch())
	}
	near += (1 - r.share) * nearShare(r.bare, h.pitch())
	return near, 1 - near
}

// Key tells halos apart.
func (h Halo) Key() string { return fmt.Sprintf("halation%v", h) }

// Taken is the share of its exposure that each layer gives up: a stock's speed and balance are measured on even patches, where
// the returned light is already in, so it is divided by 1 + gain.
func (h Halo) Taken() [3]float64 {
	g := h.Gains()
	for i, v := range g {
		g[i] = v / (1 + v)
	}
	return g
}

// factors are those of direct exposure, and of what comes back near and far.
func (h Halo) factors() (direct, near, far [3]float32) {
	g := h.whole()
	for i, whole := range h.Gains() {
		direct[i] = float32(1 / (1 + whole))
		near[i], far[i] = float32(h.Near*g[i]/(1+whole)), float32(h.Far*g[i]/(1+whole))
	}
	return direct, near, far
}

// Uniform is false: every layer gets its own share.
func (h Halo) Uniform() bool { return false }

// Run is Halate, and Start Haloed; the gain is 1.
func (h Halo) Run(ctx context.Context, src *frame.Frame, _ float64) (*frame.Frame, error) {
	return Halate(ctx, src, h)
}

// Start is Run up to its last step.
func (h Halo) Start(ctx context.Context, src *frame.Frame, _ float64) (*Spread, error) {
	return Haloed(ctx, src, h)
}

// Halate adds the halo to the exposure of the layers and divides by 1 + gain.
func Halate(ctx context.Context, src *frame.Frame, h Halo) (*frame.Frame, error) {
	if h.Squeeze > 1 {
		return h.squeezed(ctx, src)
	}
	direct, near, far := h.factors()
	terms, b := h.terms(near, far)
	out, err := blurTerms(ctx, src, terms, shape{}, direct, b)
	if err != nil {
		return out, err
	}
	return out, h.addRings(ctx, out, src, near, far)
}

// Haloed is Halate up to its last step, for one who wants the rows; it is nil if the halo has parts
// that need the full picture, on a coarse raster.
func Haloed(ctx context.Context, src *frame.Frame, h Halo) (*Spread, error) {
	return h.over(ctx, src.W, src.H, linesOf(src), func(terms []Term, a, b [3]float32) (*Spread, error) {
		return wideSpread(ctx, src, terms, shape{}, a, b)
	})
}

// StartOn is Start over a picture that is not put together yet; it takes its base over. It is nil where that cannot be.
func (h Halo) StartOn(ctx context.Context, s *Spread, _ float64) (*Spread, error) {
	return h.over(ctx, s.base.W, s.base.H, s.lines(), func(terms []Term, a, b [3]float32) (*Spread, error) {
		return s.then(ctx, terms, shape{}, a, b)
	})
}

// over is the halo of a picture: its Gaussians as glow has them drawn, and its rings.
func (h Halo) over(ctx context.Context, w, hh int, src lines, glow func(terms []Term, a, b [3]float32) (*Spread, error)) (*Spread, error) {
	rings := h.rings()
	if h.Squeeze > 1 || len(rings) > 0 && grid(h.scale(), h.pitch()) == 1 {
		return nil, nil
	}
	direct, near, far := h.factors()
	terms, b := h.terms(near, far)
	s, err := glow(terms, direct, b)
	if s == nil || err != nil {
		return nil, err
	}
	for _, r := range rings {
		drawn, err := newRing(ctx, w, hh, src, r.base, h.scale(), grid(h.scale(), h.pitch()), r.share, near, far)
		if err != nil {
			s.Drop()
			return nil, err
		}
		s.rings = append(s.rings, drawn)
	}
	return s, nil
}

// Scattered is the light that comes back, near and far.
func (h Halo) Scattered(ctx context.Context, light *frame.Frame, apart bool) (near, far *frame.Frame, err error) {
	_, n, f := h.factors()
	none := [3]float32{}
	part := func(n, f [3]float32) (*frame.Frame, error) {
		if h.Squeeze > 1 {
			out := frame.New(light.W, light.H, 3)
			return out, h.addSqueezed(ctx, out, light, n, f)
		}
		terms, b := h.terms(n, f)
		out, err := blurTerms(ctx, light, terms, shape{}, none, b)
		if err == nil {
			err = h.addRings(ctx, out, light, n, f)
		}
		return out, err
	}
	if !apart {
		near, err = part(n, f)
		return near, nil, err
	}
	if near, err = part(n, none); err != nil {
		return nil, nil, err
	}
	far, err = part(none, f)
	return near, far, err
}

// scale is the raster as the halo's distances see it.
func (h Halo) scale() float64 { return h.PerMM * h.Spread }

// terms are the Gaussians of a backed base in pixels, and the factor of their sum, by the light that comes back near and far.
func (h Halo) terms(near, far [3]float32) (terms []Term, b [3]float32) {
	b = [3]float32{1, 1, 1}
	if near == far {
		b = near
	}
	share := h.returns().share
	if share == 0 || h.Undercoat > 0 {
		return nil, b
	}
	for i, t := range intactTerms {
		k := near
		if i >= nearTerms {
			k = far
		}
		g := Term{Sigma: t.Sigma * h.Thickness / 0.13 * h.scale()}
		for c := range g.Weight {
			g.Weight[c] = t.Weight * share
			if near != far {
				g.Weight[c] *= float64(k[c])
			}
		}
		terms = append(terms, g)
	}
	return terms, b
}

func (h Halo) pitch() float64 {
	if h.Quick {
		return quickPitch
	}
	return ringPitch
}

// ringed is a base whose light is reflected totally, and its share of what comes back.
type ringed struct {
	base  Base
	share float64
}

// rings are a bare base, and one with an undercoat.
func (h Halo) rings() (list []ringed) {
	r := h.returns()
	if r.share < 1 {
		list = append(list, ringed{r.bare, 1 - r.share})
	}
	if h.Undercoat > 0 && r.share > 0 {
		list = append(list, ringed{r.kept, r.share})
	}
	return list
}

// addRings adds what comes back of them.
func (h Halo) addRings(ctx context.Context, dst, src *frame.Frame, near, far [3]float32) error {
	for _, r := range h.rings() {
		if err := addRing(ctx, dst, src, r.base, h.scale(), h.pitch(), r.share, near, far); err != nil {
			return err
		}
	}
	return nil
}
