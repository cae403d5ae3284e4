package render

import (
	"fmt"

	"velours/core/film"
	"velours/core/vec"
)

// exposing turns scene light into the exposure of the layers.
func exposing(n *film.Negative) Pointwise {
	if n.Natural() {
		return newNatural(n)
	}
	return &matrixOp{n.Exposure}
}

// naturalOp is exposure where layers hear more than a matrix says: the matrix, times a factor by chromaticity, which is read from
// the first floor of a cube.
type naturalOp struct {
	neg     *film.Negative
	m       [12]float32
	factors *vec.Table3
}

func newNatural(n *film.Negative) *naturalOp {
	o := &naturalOp{neg: n, m: n.Exposure.Row12(), factors: vec.NewTable3(film.NaturalNodes)}
	const last = film.NaturalNodes - 1
	for k := range 2 {
		for j := range film.NaturalNodes {
			for i := range film.NaturalNodes {
				f := n.NaturalFactor(float64(i)/last, float64(j)/last)
				o.factors.Set(i, j, k, float32(f[0]), float32(f[1]), float32(f[2]))
			}
		}
	}
	return o
}

func (o *naturalOp) Key() string {
	return fmt.Sprintf("expose %s %v", o.neg.Stock.Key(), o.neg.Process)
}

func (o *naturalOp) Columns(_, _, w, _ int) func(int, [3][]float32) {
	var f [3][]float32
	for i := range f {
		f[i] = make([]float32, w, w+16)
	}
	return func(_ int, c [3][]float32) {
		r, g, b := c[0], c[1], c[2]
		for i := range r {
			x, y, z := max(r[i], 0), max(g[i], 0), max(b[i], 0)
			if sum := x + y + z; sum > 0 {
				f[0][i], f[1][i] = x/sum, y/sum
			} else {
				f[0][i], f[1][i] = 1.0/3, 1.0/3
			}
		}
		clear(f[2])
		vec.Apply3(f[0], f[1], f[2], o.factors)
		vec.Matrix(r, g, b, &o.m)
		for i, k := range f {
			row := c[i]
			for x, v := range k {
				row[x] *= v
			}
		}
		boundRows(c)
	}
}
