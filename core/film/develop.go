package film

import (
	"math"

	"velours/core/cache"
	"velours/core/colour"
	"velours/core/curve"
	"velours/core/spectrum"
)

// Process says how a stock was exposed and developed. Its zero value with a Strength of 1 is the stock as it is meant.
type Process struct {
	// Rating is how many stops over its speed it was exposed.
	Rating float64
	// Push is stops of push (positive) or pull.
	Push float64
	// Strength mixes the stock with a straight negative: 1 is the stock. LessColour and LessCurve leave out that
	// share of its colour (its spectral sensitivity, and how its layers hold each other back), and of its curve.
	Strength, LessColour, LessCurve float64
	// Trims of the stock, 0 for the card's own: Separation and Contrast are shares by which the interlayer effect
	// and the slope are raised, −1 for none; Toe and Shoulder are doublings of their softness.
	Separation, Contrast, Toe, Shoulder float64
	// Silver is how much of the developed silver the bleach left in, 0…1.
	Silver float64
	// Flash is a neutral exposure before the picture's, as a share of mid grey's.
	Flash float64
	// Crossed develops in the baths of the other kind.
	Crossed bool
	// Unfiltered, if not 0, is the colour temperature of the scene's light where no filter brings it to the stock's.
	Unfiltered float64
}

// silverDensity is the neutral density of the silver that stands with one density of dye in one layer, all of it
// left in: three layers together have nearly as much of it as of dye.
const silverDensity = 0.3

// Negative is a stock in its process, ready to turn exposure into density. A reversal stock, or a negative in the
// baths of one, becomes a positive; it is called a negative all the same.
type Negative struct {
	Stock   *Stock
	Process Process
	// Exposure takes ACEScg to the exposure of the layers.
	Exposure colour.Matrix
	// Coupling is the interlayer effect: how much each layer gains or loses by what the others develop, of their
	// log exposure where it counts (Developing). Its rows sum to 0.
	Coupling colour.Matrix
	// OneSided is how much of a difference a layer gains where another develops more than it: row by row the layer
	// that gains, column by column the other (Interlayer). Its diagonal is 0.
	OneSided colour.Matrix
	layers   [3]Layer
	refine   [3]*curve.Monotone // stated density → measured density, nil for none
	refined  float64            // how far it counts
	positive bool
	mask     float64
	hears    *natural // what its layers hear of spectra beside the matrix
	from, to float64  // the log exposures between which layers hold each other back
	fog      float64
	dyes     [3]spectrum.Curve
	unwanted [3]spectrum.Curve // what the mask makes up for, at unit density
	base     spectrum.Curve
}

var exposures = cache.Results[colour.Matrix]{Size: 96}

// taking takes ACEScg to the exposure of a stock's layers under its own light.
func taking(s *Stock) colour.Matrix {
	if s.Taking != nil {
		return *s.Taking
	}
	m, _ := exposures.Get(s.Key(), func() (colour.Matrix, error) { return fitExposure(s), nil })
	return m
}

// Develop prepares a stock. A nil stock is the straight negative.
func Develop(s *Stock, p Process) *Negative {
	k := p.Strength
	plain := Straight()
	if s == nil {
		s, k = plain, 0
	}
	colours, curves := k*(1-p.LessColour), k*(1-p.LessCurve)
	n := &Negative{Stock: s, Process: p, fog: s.Development.Fog * p.Push * k, positive: s.Reversal != p.Crossed, mask: s.Mask, refined: curves}
	n.hears = s.hears(colours)
	m := taking(s)
	if p.Unfiltered != 0 {
		m = filtered(s, p.Unfiltered).Mul(m)
	}
	separation := colours * (1 + p.Separation)
	if p.Crossed {
		separation *= s.Development.Crossed.Separation
	}
	for i := range 9 {
		n.Exposure[i] = colours*m[i] + (1-colours)*colour.Identity[i]
		n.Coupling[i] = separation * s.Separation[i/3][i%3]
		n.OneSided[i] = separation * s.OneSided[i/3][i%3]
	}
	for i := range 3 {
		a, b := s.Layers[i], plain.Layers[i]
		if s.Reversal || s.Mono {
			b = s.straight(i)
		}
		a.Gamma *= 1 + p.Contrast
		if s.Reversal { // no printer puts mid grey back
			a.Speed /= 1 + p.Contrast
		}
		a.Toe *= math.Exp2(-p.Toe)
		a.Shoulder *= math.Exp2(-p.Shoulder)
		mix := func(x, y float64) float64 { return curves*x + (1-curves)*y }
		l := a
		l.Gamma = mix(a.Gamma*(1+k*s.Development.Gamma[i]*p.Push), b.Gamma)
		l.Speed = mix(a.Speed-k*s.Development.Speed*math.Log10(2)*p.Push, b.Speed)
		l.Toe, l.Shoulder, l.DMax = mix(a.Toe, b.Toe), mix(a.Shoulder, b.Shoulder), mix(a.DMax, b.DMax)
		if p.Crossed {
			l.Gamma *= s.Development.Crossed.Gamma[i]
		} else {
			n.refine[i] = s.refine[i]
		}
		n.layers[i] = l
		n.dyes[i], n.unwanted[i] = lobes(l.Dye), lobes(l.Dye[1:])
		for w := range n.dyes[i] {
			n.dyes[i][w] *= 1 - s.Fade[i]
			n.unwanted[i][w] *= 1 - s.Fade[i]
		}
		n.dyes[i].Raise(k * p.Silver * silverDensity)
	}
	n.base = lobes(s.Base)
	if n.positive && !s.Reversal { // its orange base is filtered out of the lamp
		n.base, n.mask = spectrum.Curve{}, 0
		n.base.Raise(0.06)
	}
	n.from, n.to = math.Inf(1), 0
	for _, l := range n.layers {
		n.from = min(n.from, l.Speed)
		n.to += (l.Speed + l.DMax/l.Gamma) / 3
	}
	n.from -= inToe
	return n
}

// Positive tells whether what is dark in the scene is dark on the film.
func (n *Negative) Positive() bool { return n.positive }

// inToe is how far below the foot of a curve the effect on other layers ends, in log exposure, and effectEnds
// how sharply, at both ends.
const inToe, effectEnds = 0.25, 4

// Developing is the log exposure of a layer as the others feel it: only what develops holds them back, so it goes
// no further than the toe and the shoulder. It is the same for all layers, so that greys stay.
func (n *Negative) Developing(x float64) float64 {
	x = n.from + softplus(x-n.from, effectEnds)
	return n.to - softplus(n.to-x, effectEnds)
}

// Curve is the characteristic curve of a layer: density above base for log exposure x. It rises, but falls for a
// positive.
func (n *Negative) Curve(layer int, x float64) float64 {
	l := &n.layers[layer]
	d := l.Stated(x)
	if t := n.refine[layer]; t != nil {
		d += n.refined * (t.At(d) - d)
	}
	if !n.positive {
		return n.fog + d
	}
	top := l.Top()
	if t := n.refine[layer]; t != nil {
		top += n.refined * (t.At(top) - top)
	}
	return (top - d) * (1 - n.fog/top)
}

// Grey is the density of the three layers for a neutral of log exposure x.
func (n *Negative) Grey(x float64) [3]float64 {
	return [3]float64{n.Curve(0, x), n.Curve(1, x), n.Curve(2, x)}
}

// Shift is the log exposure that the rating adds.
func (n *Negative) Shift() float64 { return math.Log10(2) * n.Process.Rating }

// Flashed is the log exposure of a neutral that was exposed by x before the flash, in decades from mid grey.
func (n *Negative) Flashed(x float64) float64 {
	if n.Process.Flash == 0 {
		return x + n.Shift()
	}
	return math.Log10(math.Pow(10, x)+n.Process.Flash) + n.Shift()
}

// Mid is the density of the three layers for mid grey, as it was exposed.
func (n *Negative) Mid() [3]float64 { return n.Grey(n.Flashed(0)) }

// Developed are the log exposures between which layers hold each other back; beyond, Developing hardly changes.
func (n *Negative) Developed() (from, to float64) { return n.from, n.to }

// Develop turns scene-linear ACEScg into the densities of the three layers: the reference that
// the row kernels are held to.
func (n *Negative) Develop(rgb [3]float64) [3]float64 { return n.Expose(n.Exposed(rgb)) }

// Exposed is the exposure of the three layers by scene-linear ACEScg, mid grey at 0.18.
func (n *Negative) Exposed(rgb [3]float64) [3]float64 {
	e := n.Exposure.Apply(rgb)
	if n.Natural() {
		f := n.NaturalFactor(chromaticity(rgb))
		for i := range e {
			e[i] *= f[i]
		}
	}
	return e
}

// Expose turns the exposure of the three layers, mid grey at 0.18, into their densities.
func (n *Negative) Expose(e [3]float64) [3]float64 {
	for i := range e {
		e[i] = math.Log10((max(e[i], MinExposure)+0.18*n.Process.Flash)/0.18) + n.Shift()
	}
	x := n.Interlayer([3]float64{n.Developing(e[0]), n.Developing(e[1]), n.Developing(e[2])})
	return [3]float64{n.Curve(0, e[0]+x[0]), n.Curve(1, e[1]+x[1]), n.Curve(2, e[2]+x[2])}
}

// MinExposure is where exposure is cut off before its logarithm is taken.
const MinExposure = 1e-6

// Spectrum is the spectral density of the developed film, base and mask included, for layer
// densities d. The mask is the share of each dye's unwanted absorption that the coloured
// coupler still holds where no dye was formed.
func (n *Negative) Spectrum(d [3]float64) spectrum.Curve {
	c := n.base
	for i := range 3 {
		left := n.mask * max(n.layers[i].DMax-d[i], 0)
		dye, un := &n.dyes[i], &n.unwanted[i]
		for k := range c {
			c[k] += d[i]*dye[k] + left*un[k]
		}
	}
	return c
}

// Dyes are the spectral densities of the film's dyes at unit density, Base that of the film without any.
func (n *Negative) Dyes() [3]spectrum.Curve { return n.dyes }

// Base is the spectral density of the film that saw no light, mask included.
func (n *Negative) Base() spectrum.Curve { return n.Spectrum([3]float64{}) }

// Sensitivities are how the layers hear light, the peak of each at 1.
func (s *Stock) Sensitivities() [3]spectrum.Curve {
	var out [3]spectrum.Curve
	for i, l := range s.Layers {
		out[i] = lobes(l.Sensitivity)
		most := 0.0
		for _, v := range out[i] {
			most = max(most, v)
		}
		for k := range out[i] {
			out[i][k] /= most
		}
	}
	return out
}
