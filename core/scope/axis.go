package scope

import (
	"math"
	"strconv"

	"velours/core/colour"
	"velours/core/frame"
)

// Axis is the scale that a scope's values stand on: Lo at the bottom, Hi at the top, in Unit. A Log axis
// counts octaves of value/Ref.
type Axis struct {
	Unit   string  `json:"unit"`
	Lo     float64 `json:"lo"`
	Hi     float64 `json:"hi"`
	Log    bool    `json:"log,omitempty"`
	Ref    float64 `json:"ref,omitempty"`
	Marks  []Mark  `json:"marks"`
	Strong int     `json:"strong"` // index of the mark that matters most, −1 for none
}

// Mark is a line across a scope: its place, 0 at the bottom and 1 at the top, and what stands beside it.
type Mark struct {
	At    float64 `json:"at"`
	Label string  `json:"label"`
}

// Codes is for display code values, shown in per cent.
func Codes() Axis {
	a := Axis{Unit: "%", Lo: -0.03, Hi: 1.03, Strong: -1}
	for _, v := range []float64{0, 0.25, 0.5, 0.75, 1} {
		a.mark(v, strconv.Itoa(int(v*100)))
	}
	return a
}

// Stops is for scene-linear light, in stops from mid grey (0.18).
func Stops() Axis {
	a := Axis{Unit: "stops", Lo: -9, Hi: 8, Log: true, Ref: 0.18, Strong: 4}
	for v := -8; v <= 8; v += 2 {
		label := strconv.Itoa(v)
		if v > 0 {
			label = "+" + label
		}
		a.mark(0.18*math.Exp2(float64(v)), label)
	}
	return a
}

// Density is for the densities of a negative.
func Density() Axis {
	a := Axis{Unit: "D", Lo: 0, Hi: 3.2, Strong: -1}
	for v := 0.0; v < 3.2; v += 0.5 {
		a.mark(v, strconv.FormatFloat(v, 'f', 1, 64))
	}
	return a
}

// Nits is for light in cd/m² up to a peak.
func Nits(peak float64) Axis {
	a := Axis{Unit: "cd/m²", Lo: math.Log2(0.02), Hi: math.Log2(peak * 1.15), Log: true, Ref: 1, Strong: -1}
	for v := 0.1; v <= peak*1.01; v *= 10 {
		a.mark(v, strconv.FormatFloat(v, 'g', 3, 64))
	}
	return a
}

func (a *Axis) mark(v float64, label string) {
	a.Marks = append(a.Marks, Mark{a.Place(v), label})
}

// Place is where a value stands, 0…1 on the scale; what lies beyond is held at the ends, so that it
// can be seen.
func (a *Axis) Place(v float64) float64 {
	if a.Log {
		if !(v > 0) {
			return 0
		}
		v = math.Log2(v / a.Ref)
	}
	if v = (v - a.Lo) / (a.Hi - a.Lo); !(v > 0) { // what is no number too
		return 0
	}
	return min(v, 1)
}

// row writes the places of a row of values.
func (a *Axis) row(dst, src []float32) {
	if a.Log {
		for i, v := range src {
			dst[i] = float32(a.Place(float64(v)))
		}
		return
	}
	k := float32(1 / (a.Hi - a.Lo))
	lo := float32(a.Lo)
	for i, v := range src {
		if v = (v - lo) * k; !(v > 0) {
			v = 0
		}
		dst[i] = min(v, 1)
	}
}

// Picture is what a scope reads: planes R, G, B, their axis, and the weights of their sum (luma of code
// values, luminance of light, a third each of density).
type Picture struct {
	*frame.Frame
	Axis    Axis
	Weights [3]float64
	// Light turns a pixel into CIE XYZ with white at Y = 1; nil where a pixel is no light.
	Light func([3]float64) [3]float64
	// Display is what code values are for.
	Display *colour.Display
}

// Box is a part of a picture, in shares of its width and height.
type Box struct {
	X0 float64 `json:"x0"`
	Y0 float64 `json:"y0"`
	X1 float64 `json:"x1"`
	Y1 float64 `json:"y1"`
}

// In is the picture inside a box, which must not be empty.
func (p Picture) In(b Box) Picture {
	x0, y0 := int(math.Floor(b.X0*float64(p.W))), int(math.Floor(b.Y0*float64(p.H)))
	x1, y1 := int(math.Ceil(b.X1*float64(p.W))), int(math.Ceil(b.Y1*float64(p.H)))
	p.Frame = p.Crop(x0, y0, max(1, x1-x0), max(1, y1-y0))
	return p
}

// rows calls f for every row with the places of its three channels and of their weighted sum.
func (p Picture) rows(f func(y int, c [4][]float32)) {
	var c [4][]float32
	for i := range c {
		c[i] = make([]float32, p.W)
	}
	w := [3]float32{float32(p.Weights[0]), float32(p.Weights[1]), float32(p.Weights[2])}
	for y := range p.H {
		r, g, b := p.Row(0, y), p.Row(1, y), p.Row(2, y)
		for x := range c[3] {
			c[3][x] = w[0]*r[x] + w[1]*g[x] + w[2]*b[x]
		}
		p.Axis.row(c[0], r)
		p.Axis.row(c[1], g)
		p.Axis.row(c[2], b)
		p.Axis.row(c[3], c[3])
		f(y, c)
	}
}
