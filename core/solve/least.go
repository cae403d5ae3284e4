// Package solve fits parameters to what was measured: sums of squares made least, and linear equations.
package solve

import "math"

// Least minimises the sum of squared residuals over parameters by Levenberg and Marquardt's method with forward
// differences; limits keeps a parameter between two values. It stops after so many steps, when nothing is gained, or when
// residuals have none.
func Least(p []float64, limits [][2]float64, steps int, residuals func(p []float64) []float64) []float64 {
	clamp := func(p []float64) {
		for i := range p {
			p[i] = min(max(p[i], limits[i][0]), limits[i][1])
		}
	}
	clamp(p)
	sum := func(r []float64) float64 {
		s := 0.0
		for _, v := range r {
			s += v * v
		}
		return s
	}
	r := residuals(p)
	cost := sum(r)
	lambda := 1e-2
	n := len(p)
	for range steps {
		j := make([][]float64, n) // one row for a parameter
		for i := range p {
			q := append([]float64(nil), p...)
			h := 1e-5 * max(1, math.Abs(p[i]))
			if q[i]+h > limits[i][1] {
				h = -h
			}
			q[i] += h
			s := residuals(q)
			if len(s) < len(r) {
				return p
			}
			j[i] = make([]float64, len(r))
			for k := range r {
				j[i][k] = (s[k] - r[k]) / h
			}
		}
		a, b := make([][]float64, n), make([]float64, n)
		for i := range n {
			a[i] = make([]float64, n)
			for k := range n {
				for m := range r {
					a[i][k] += j[i][m] * j[k][m]
				}
			}
			for m := range r {
				b[i] -= j[i][m] * r[m]
			}
		}
		gained := false
		for range 8 {
			q := append([]float64(nil), p...)
			for i, v := range Linear(a, b, lambda) {
				q[i] += v
			}
			clamp(q)
			s := residuals(q)
			if len(s) < len(r) {
				return p
			}
			if c := sum(s); c < cost {
				gained = cost-c > 1e-9*cost
				p, r, cost, lambda = q, s, c, lambda/4
				break
			}
			lambda *= 4
		}
		if !gained {
			break
		}
	}
	return p
}

// Linear solves (a + λ·diag a)·x = b by elimination with pivots.
func Linear(a [][]float64, b []float64, lambda float64) []float64 {
	n := len(b)
	m := make([][]float64, n)
	for i := range m {
		m[i] = append(append([]float64(nil), a[i]...), b[i])
		m[i][i] += lambda*a[i][i] + 1e-12
	}
	for c := range n {
		at := c
		for i := c + 1; i < n; i++ {
			if math.Abs(m[i][c]) > math.Abs(m[at][c]) {
				at = i
			}
		}
		m[c], m[at] = m[at], m[c]
		if m[c][c] == 0 {
			continue
		}
		for i := c + 1; i < n; i++ {
			f := m[i][c] / m[c][c]
			for k := c; k <= n; k++ {
				m[i][k] -= f * m[c][k]
			}
		}
	}
	x := make([]float64, n)
	for i := n - 1; i >= 0; i-- {
		v := m[i][n]
		for k := i + 1; k < n; k++ {
			v -= m[i][k] * x[k]
		}
		if m[i][i] != 0 {
			x[i] = v / m[i][i]
		}
	}
	return x
}
