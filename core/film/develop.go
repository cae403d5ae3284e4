package film

import (
	"math"
	"sync"

	"velours/core/colour"
	"velours/core/spectrum"
)

// Process says how a stock was exposed and developed.
type Process struct {
	// Rating is how many stops over its speed it was exposed.
	Rating float64
	// Push is stops of push (positive) or pull.
	Push float64
	// Strength mixes the stock with a straight negative: 1 is the stock.
	Strength float64
	// Trims of the stock, 0 for the card's own: Separation and Contrast are shares by which the interlayer effect
	// and the slope are raised, −1 for none; Toe and Shoulder are doublings of their softness.
	Separation, Contrast, Toe, Shoulder float64
	// Silver is how much of the developed silver the bleach left in, 0…1.
	Silver float64
}

// silverDensity is the neutral density of the silver that stands with one density of dye in one layer, all of it
// left in: three layers together have nearly as much of it as of dye.
const silverDensity = 0.3

// Negative is a stock in its process, ready to turn exposure into density.
type Negative struct {
	Stock   *Stock
	Process Process
	// Exposure takes ACEScg to the exposure of the layers.
	Exposure colour.Matrix
	// Coupling is the interlayer effect: how much each layer gains or loses by what the others develop, of their
	// log exposure where it counts (Developing). Its rows sum to 0.
	Coupling colour.Matrix
	layers   [3]Layer
	from, to float64 // the log exposures between which layers hold each other back
	fog      float64
	dyes     [3]spectrum.Curve
	unwanted [3]spectrum.Curve // what the mask makes up for, at unit density
	base     spectrum.Curve
}

var exposures sync.Map // stock → matrix

// Develop prepares a stock. A nil stock is the straight negative.
func Develop(s *Stock, p Process) *Negative {
	plain := Straight()
	k := p.Strength
	if s == nil {
		s, k = plain, 0
	}
	n := &Negative{Stock: s, Process: p, fog: 0.03 * p.Push * k}
	m, ok := exposures.Load(s.ID)
	if !ok {
		m = fitExposure(s)
		exposures.Store(s.ID, m)
	}
	for i := range 9 {
		n.Exposure[i] = k*m.(colour.Matrix)[i] + (1-k)*colour.Identity[i]
		n.Coupling[i] = k * (1 + p.Separation) * s.Separation[i/3][i%3]
	}
	for i := range 3 {
		a, b := s.Layers[i], plain.Layers[i]
		a.Gamma *= 1 + p.Contrast
		a.Toe *= math.Exp2(-p.Toe)
		a.Shoulder *= math.Exp2(-p.Shoulder)
		mix := func(x, y float64) float64 { return k*x + (1-k)*y }
		l := a
		l.Gamma = mix(a.Gamma*(1+a.Push*p.Push), b.Gamma)
		l.Speed = mix(a.Speed-0.35*math.Log10(2)*p.Push, b.Speed)
		l.Toe, l.Shoulder, l.DMax = mix(a.Toe, b.Toe), mix(a.Shoulder, b.Shoulder), mix(a.DMax, b.DMax)
		n.layers[i] = l
		n.dyes[i] = lobes(l.Dye)
		n.unwanted[i] = lobes(l.Dye[1:])
		n.dyes[i].Raise(k * p.Silver * silverDensity)
	}
	n.base = lobes(s.Base)
	n.from, n.to = math.Inf(1), 0
	for _, l := range n.layers {
		n.from = min(n.from, l.Speed)
		n.to += (l.Speed + l.DMax/l.Gamma) / 3
	}
	n.from -= inToe
	return n
}

// inToe is how far below the foot of a curve the effect on other layers ends, in log exposure, and effectEnds
// how sharply, at both ends.
const inToe, effectEnds = 0.25, 4

// Developing is the log exposure of a layer as the others feel it: only what develops holds them back, so it goes
// no further than the toe and the shoulder. It is the same for all layers, so that greys stay.
func (n *Negative) Developing(x float64) float64 {
	x = n.from + softplus(x-n.from, effectEnds)
	return n.to - softplus(n.to-x, effectEnds)
}

// softplus is ln(1 + e^{ku})/k.
func softplus(u, k float64) float64 {
	if k*u > 30 {
		return u
	}
	return math.Log1p(math.Exp(k*u)) / k
}

func sigmoid(x float64) float64 { return 1 / (1 + math.Exp(-x)) }

// Curve is the characteristic curve of a layer: density above base for log exposure x, two softplus
// functions for toe and shoulder, 0 (and fog) where there is no light.
func (n *Negative) Curve(layer int, x float64) float64 {
	l := &n.layers[layer]
	return n.fog + softplus(l.DMax, l.Shoulder) - softplus(l.DMax-l.Gamma*softplus(x-l.Speed, l.Toe), l.Shoulder)
}

// Grey is the density of the three layers for a neutral of log exposure x.
func (n *Negative) Grey(x float64) [3]float64 {
	return [3]float64{n.Curve(0, x), n.Curve(1, x), n.Curve(2, x)}
}

// Shift is the log exposure that the rating adds.
func (n *Negative) Shift() float64 { return math.Log10(2) * n.Process.Rating }

// Developed are the log exposures between which layers hold each other back; beyond, Developing hardly changes.
func (n *Negative) Developed() (from, to float64) { return n.from, n.to }

// Develop turns scene-linear ACEScg into the densities of the three layers: the reference that
// the row kernels are held to.
func (n *Negative) Develop(rgb [3]float64) [3]float64 {
	e := n.Exposure.Apply(rgb)
	for i := range e {
		e[i] = math.Log10(max(e[i], MinExposure)/0.18) + n.Shift()
	}
	x := n.Coupling.Apply([3]float64{n.Developing(e[0]), n.Developing(e[1]), n.Developing(e[2])})
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
		left := n.Stock.Mask * max(n.layers[i].DMax-d[i], 0)
		dye, un := &n.dyes[i], &n.unwanted[i]
		for k := range c {
			c[k] += d[i]*dye[k] + left*un[k]
		}
	}
	return c
}
