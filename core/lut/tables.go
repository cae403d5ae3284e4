package lut

import (
	"math"

	"velours/core/vec"
)

// Table1 is three curves of equal length, interpolated in straight lines. Entry 0 stands for Lo and
// the last for Hi of each channel; what lies outside takes the end's value. A half-domain table has
// an entry for each of the 65536 numbers of 16 bits instead, and no Lo and Hi.
type Table1 struct {
	Lo, Hi     [3]float64
	Curves     [3][]float32
	HalfDomain bool
}

// Apply implements Node.
func (t *Table1) Apply(c [3]float64) [3]float64 {
	for i, v := range c {
		if t.HalfDomain {
			c[i] = t.half(t.Curves[i], v)
			continue
		}
		top := float64(len(t.Curves[i]) - 1)
		c[i] = between(t.Curves[i], (v-t.Lo[i])/(t.Hi[i]-t.Lo[i])*top)
	}
	return c
}

func between(curve []float32, u float64) float64 {
	top := float64(len(curve) - 1)
	if !(u > 0) { // NaN too
		return float64(curve[0])
	}
	if u >= top {
		return float64(curve[len(curve)-1])
	}
	k := int(u)
	f := u - float64(k)
	return float64(curve[k])*(1-f) + float64(curve[k+1])*f
}

// half looks v up between the two half floats that enclose it; the table's ends are the largest
// finite numbers of either sign.
func (t *Table1) half(curve []float32, v float64) float64 {
	if math.IsNaN(v) {
		return float64(curve[0])
	}
	if math.Abs(v) >= 65504 {
		if v < 0 {
			return float64(curve[0xfbff])
		}
		return float64(curve[0x7bff])
	}
	lo := halfBelow(math.Abs(v)) // towards zero
	a, b := halfValue(lo), halfValue(lo+1)
	sign := uint16(0)
	if math.Signbit(v) {
		sign = 0x8000
	}
	f := 0.0
	if b > a {
		f = (math.Abs(v) - a) / (b - a)
	}
	if lo == 0x7bff {
		return float64(curve[sign|lo])
	}
	return float64(curve[sign|lo])*(1-f) + float64(curve[sign|(lo+1)])*f
}

// Table3 is a cube of colours over Lo…Hi, interpolated in tetrahedra; what lies outside takes the
// value at the face.
type Table3 struct {
	Lo, Hi [3]float64
	Cube   *vec.Table3
}

// NewTable3 makes a table of n×n×n colours over 0…1; node gives the colour at a place.
func NewTable3(n int, node func(i, j, k int) [3]float32) *Table3 {
	t := &Table3{Hi: [3]float64{1, 1, 1}, Cube: vec.NewTable3(n)}
	for k := range n {
		for j := range n {
			for i := range n {
				c := node(i, j, k)
				t.Cube.Set(i, j, k, c[0], c[1], c[2])
			}
		}
	}
	return t
}

// N is the number of nodes along an edge.
func (t *Table3) N() int { return t.Cube.N }

func (t *Table3) node(i, j, k int) (r, g, b float32) {
	o := 4 * ((k*t.Cube.N+j)*t.Cube.N + i)
	return t.Cube.Data[o], t.Cube.Data[o+1], t.Cube.Data[o+2]
}

// Apply implements Node.
func (t *Table3) Apply(c [3]float64) [3]float64 {
	for i := range c {
		c[i] = (c[i] - t.Lo[i]) / (t.Hi[i] - t.Lo[i])
	}
	r, g, b := t.Cube.At(float32(c[0]), float32(c[1]), float32(c[2]))
	return [3]float64{float64(r), float64(g), float64(b)}
}

func (t *Table3) rows(r, g, b []float32) {
	if t.Lo != [3]float64{} || t.Hi != [3]float64{1, 1, 1} {
		var m [12]float32
		for i := range 3 {
			k := 1 / (t.Hi[i] - t.Lo[i])
			m[5*i], m[4*i+3] = float32(k), float32(-t.Lo[i]*k)
		}
		vec.Matrix(r, g, b, &m)
	}
	vec.Apply3(r, g, b, t.Cube)
}

func (m *Matrix) rows(r, g, b []float32) {
	var k [12]float32
	for i, v := range m {
		k[i] = float32(v)
	}
	vec.Matrix(r, g, b, &k)
}
