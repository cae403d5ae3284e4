package film

import (
	"math"

	"velours/core/spectrum"
)

// A generation is one more film between the camera's and the print: an interpositive, a dupe negative, or the
// internegative of a positive. It has the sensitivity of a print, has the reference's dyes and mask, and is nearly straight;
// its three layers are balanced so that what a densitometer of the printer's ears reads rises alike in all of them.
type generation struct {
	of     func([3]float64) spectrum.Curve // the film before it
	light  *[3]spectrum.Curve
	film   *Negative
	centre [3]float64 // log exposure of mid grey
	gamma  [3]float64
}

// A generation's mid grey lies at this density of its layers, and its ends are so soft.
const (
	dupeMid   = 1.05
	dupeTop   = 2.9
	dupeEnds  = 7
	dupeSlope = 1.03 // of one generation of a dupe: more contrast than its original
	interNeg  = 0.45 // of an internegative: what a positive has too much for a print
)

// newGeneration copies the film before it, of which mid are the densities of mid grey.
func newGeneration(of func([3]float64) spectrum.Curve, light *[3]spectrum.Curve, mid [3]float64, slope float64) *generation {
	g := &generation{of: of, light: light, film: Develop(Reference(), Process{Strength: 1})}
	g.centre = logExposure(of(mid), light)
	// the slope of printing density against layer density, at mid grey
	const e = 0.05
	at := func(d float64) [3]float64 {
		return logExposure(g.film.Spectrum([3]float64{d, d, d}), light)
	}
	lo, hi := at(dupeMid-e), at(dupeMid+e)
	for j := range g.gamma {
		g.gamma[j] = slope * 2 * e / (lo[j] - hi[j])
	}
	return g
}

// spectrum is the spectral density of the generation, from the layer densities of the camera film.
func (g *generation) spectrum(d [3]float64) spectrum.Curve {
	x := logExposure(g.of(d), g.light)
	for j := range x {
		v := softplus(dupeMid+g.gamma[j]*(x[j]-g.centre[j]), dupeEnds)
		x[j] = softplus(dupeTop, dupeEnds) - softplus(dupeTop-v, dupeEnds)
	}
	return g.film.Spectrum(x)
}

// logExposure is the log exposure of layers of which light is lamp times sensitivity, through a spectral density.
func logExposure(t spectrum.Curve, light *[3]spectrum.Curve) [3]float64 {
	for k := range t {
		t[k] = spectrum.Transmit(t[k])
	}
	return [3]float64{math.Log10(t.Dot(&light[0])), math.Log10(t.Dot(&light[1])), math.Log10(t.Dot(&light[2]))}
}
