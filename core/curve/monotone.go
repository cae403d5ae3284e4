// Package curve holds curves through measured points.
package curve

import "sort"

// Monotone is a cubic through points that never turns back between them
// (Fritsch and Carlson 1980). Outside its points it stays at the end values.
type Monotone struct{ x, y, m []float64 }

// NewMonotone takes points with rising x; it panics where x does not rise.
func NewMonotone(x, y []float64) *Monotone {
	n := len(x)
	d, m := make([]float64, n-1), make([]float64, n)
	for i := range d {
		h := x[i+1] - x[i]
		if h <= 0 {
			panic("curve: x does not rise")
		}
		d[i] = (y[i+1] - y[i]) / h
	}
	m[0], m[n-1] = d[0], d[n-2]
	for i := 1; i < n-1; i++ {
		if d[i-1]*d[i] <= 0 {
			continue
		}
		h0, h1 := x[i]-x[i-1], x[i+1]-x[i]
		a := (h0 + 2*h1) / (3 * (h0 + h1))
		m[i] = d[i-1] * d[i] / (a*d[i] + (1-a)*d[i-1]) // weighted harmonic mean (Fritsch & Butland 1984)
	}
	return &Monotone{x, y, m}
}

// At is the curve's value.
func (c *Monotone) At(x float64) float64 {
	n := len(c.x)
	switch {
	case x <= c.x[0]:
		return c.y[0]
	case x >= c.x[n-1]:
		return c.y[n-1]
	}
	i := Below(c.x, x)
	h := c.x[i+1] - c.x[i]
	t := (x - c.x[i]) / h
	d := (c.y[i+1] - c.y[i])
	m0, m1 := c.m[i]*h, c.m[i+1]*h
	return c.y[i] + t*(m0+t*((3*d-2*m0-m1)+t*(m0+m1-2*d)))
}

// Below is the index of the last of the rising values y that is not above v; v must not be below y[0].
func Below(y []float64, v float64) int {
	return sort.Search(len(y), func(i int) bool { return y[i] > v }) - 1
}
