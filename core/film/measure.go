package film

import (
	"math"

	"velours/core/colour"
	"velours/core/spectrum"
)

// Filters are the middles, in nanometres, of the three bands in which a densitometer reads red, green and blue here:
// where the dyes of negatives stand. Each is a Gaussian of a deviation of 12 nm.
var Filters = [3]float64{690, 550, 445}

// Read is what a densitometer reads of the developed film, base and mask included.
func (n *Negative) Read(d [3]float64) [3]float64 {
	return n.readOf(n.Spectrum(d))
}

// readOf is the density to the densitometer's three ears: −log10 of what passes of each, by share.
func (n *Negative) readOf(c spectrum.Curve) [3]float64 {
	e := logExposure(c, &ears)
	for i := range e {
		e[i] = math.Log10(heard[i]) - e[i]
	}
	return e
}

var (
	ears  = [3]spectrum.Curve{band(Filters[0]), band(Filters[1]), band(Filters[2])}
	heard = func() (sum [3]float64) {
		for i := range ears {
			for _, v := range ears[i] {
				sum[i] += v
			}
		}
		return sum
	}()
)

// Sensitometry are the figures of one layer's curve.
type Sensitometry struct {
	// Gamma is the steepest slope, Gradient the mean one over the five stops around mid grey; a positive's are its fall.
	Gamma    float64 `json:"gamma"`
	Gradient float64 `json:"gradient"`
	// Below and Above are how many stops from mid grey the curve goes on with a quarter of its gamma at least.
	Below float64 `json:"below"`
	Above float64 `json:"above"`
	// DMin and DMax are densities above base: where there is no light, and all there can be.
	DMin float64 `json:"dmin"`
	DMax float64 `json:"dmax"`
}

// Measure reads a layer's curve as it is exposed: mid grey stands where the rating puts it.
func (n *Negative) Measure(layer int) Sensitometry {
	stop := math.Log10(2)
	at := func(x float64) float64 { return n.Curve(layer, x+n.Shift()) }
	sign := 1.0
	if n.positive {
		sign = -1
	}
	slope := func(x float64) float64 { return sign * (at(x+0.01) - at(x-0.01)) / 0.02 }
	s := Sensitometry{DMin: min(at(-6), at(6)), DMax: max(at(-6), at(6)), Gradient: sign * (at(2.5*stop) - at(-2.5*stop)) / (5 * stop)}
	for x := -3.0; x < 3; x += 0.01 {
		s.Gamma = max(s.Gamma, slope(x))
	}
	for slope(-(s.Below+0.05)*stop) > s.Gamma/4 && s.Below < 20 {
		s.Below += 0.05
	}
	for slope((s.Above+0.05)*stop) > s.Gamma/4 && s.Above < 20 {
		s.Above += 0.05
	}
	return s
}

// A Patch is a colour of the chart by which stocks are told apart, as light in ACEScg.
type Patch struct {
	Name  string
	Light [3]float64
}

// Patches are what stocks differ by: a skin, and the six colours of paint.
var Patches = []Patch{
	{"skin", [3]float64{0.37, 0.255, 0.18}}, {"red", [3]float64{0.29, 0.060, 0.055}}, {"yellow", [3]float64{0.60, 0.53, 0.095}},
	{"green", [3]float64{0.13, 0.245, 0.085}}, {"cyan", [3]float64{0.105, 0.22, 0.33}}, {"blue", [3]float64{0.055, 0.058, 0.26}}, {"purple", [3]float64{0.36, 0.115, 0.27}},
}

// Rendered is a patch through negative and print on a screen: CIE L*, C* and hue in degrees.
func (t *Positive) Rendered(p Patch) (lightness, chroma, hue float64) {
	d := t.Screen.Display
	lab := colour.Lab(d.Gamut.ToXYZ().Apply(d.Light(t.Code(t.Negative.Develop(p.Light)))), d.Gamut.White.XYZ())
	return lab[0], math.Hypot(lab[1], lab[2]), math.Mod(math.Atan2(lab[2], lab[1])*180/math.Pi+360, 360)
}

// At is the modulation transfer of the stock at f cycles a millimetre: scatter, times the adjacency that sharpens
// density. It is above 1 where adjacency wins.
func (m Sharpness) At(f float64) float64 {
	bell := func(micrometres float64) float64 {
		t := math.Pi * micrometres / 1000 * f
		return math.Exp(-2 * t * t)
	}
	return (m.Share*bell(m.Fine) + (1-m.Share)*bell(m.Wide)) * (1 + m.Adjacency*(1-bell(m.Reach)))
}

// Half is where the transfer has fallen to a half, in cycles a millimetre.
func (m Sharpness) Half() float64 {
	lo, hi := 1.0, 1000.0
	for range 60 {
		mid := (lo + hi) / 2
		if m.At(mid) > 0.5 {
			lo = mid
		} else {
			hi = mid
		}
	}
	return lo
}

// Scatters is how far light scatters in the layer, against the stock's.
func (l *Layer) Scatters() float64 {
	if l.Scatter == 0 {
		return 1
	}
	return l.Scatter
}

// Drawn is how a layer draws: as the stock does, light scattered as far as in that layer.
func (s *Stock) Drawn(layer int) Sharpness {
	m, far := s.MTF, s.Layers[layer].Scatters()
	m.Fine, m.Wide = m.Fine*far, m.Wide*far
	return m
}
