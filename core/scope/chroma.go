package scope

import (
	"velours/core/colour"
	"velours/core/spectrum"
)

// The part of the CIE 1976 diagram that a chromaticity plot shows.
const chromaU, chromaV = 0.64, 0.62

// Prime is u′, v′ of a colour (CIE 15:2004, equation 8.3); black has none.
func Prime(xyz [3]float64) (u, v float64, ok bool) {
	d := xyz[0] + 15*xyz[1] + 3*xyz[2]
	if d <= 0 {
		return 0, 0, false
	}
	return 4 * xyz[0] / d, 9 * xyz[1] / d, true
}

// ChromaAt is where a chromaticity stands on the plot, in shares from the left and the top.
func ChromaAt(u, v float64) (x, y float64) { return u / chromaU, 1 - v/chromaV }

// dim is the luminance, against white, below which a pixel's chromaticity says nothing.
const dim = 1e-3

// Chroma counts the chromaticities of a picture's light on a square of size cells.
func Chroma(p Picture, size int) *Trace {
	t := newTrace(size, size, 1)
	t.Share = []float64{Unit * float64(p.W) * float64(p.H)}
	end := float64(size - 1)
	for y := range p.H {
		r, g, b := p.Row(0, y), p.Row(1, y), p.Row(2, y)
		for x := range r {
			xyz := p.Light([3]float64{float64(r[x]), float64(g[x]), float64(b[x])})
			if xyz[1] < dim {
				continue
			}
			if u, v, ok := Prime(xyz); ok {
				px, py := ChromaAt(u, v)
				t.splat(float32(px*end), float32(py*end))
			}
		}
	}
	return t
}

// Outline is a line on the chromaticity plot, in shares from the left and the top.
type Outline [][2]float64

// Triangle is a display's gamut on the plot.
func Triangle(g colour.Gamut) Outline {
	var o Outline
	for _, p := range []colour.XY{g.R, g.G, g.B, g.R} {
		o = append(o, outlinePoint(p))
	}
	return o
}

// White is a gamut's white on the plot.
func White(g colour.Gamut) [2]float64 { return outlinePoint(g.White) }

func outlinePoint(p colour.XY) [2]float64 {
	u, v, _ := Prime(p.XYZ())
	x, y := ChromaAt(u, v)
	return [2]float64{x, y}
}

// Horseshoe is the edge of real colours on the plot.
func Horseshoe() Outline {
	var o Outline
	for _, p := range spectrum.Locus() {
		o = append(o, outlinePoint(colour.XY{X: p[0], Y: p[1]}))
	}
	return append(o, o[0])
}
