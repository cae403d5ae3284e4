package scatter

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// nonNegative solves A·x ≈ b by least squares with no x below 0 (Lawson and Hanson, Solving Least Squares Problems, 1974,
// chapter 23). A has a row for each equation.
func nonNegative(a *mat.Dense, b []float64) []float64 {
	rows, n := a.Dims()
	x, free := make([]float64, n), make([]bool, n)
	residual := mat.NewVecDense(rows, nil)
	gradient := mat.NewVecDense(n, nil)
	right := mat.NewVecDense(rows, b)
	for range 3 * n {
		residual.MulVec(a, mat.NewVecDense(n, x))
		residual.SubVec(right, residual)
		gradient.MulVec(a.T(), residual)
		best := -1
		for i := range n {
			if !free[i] && gradient.AtVec(i) > 1e-10 && (best < 0 || gradient.AtVec(i) > gradient.AtVec(best)) {
				best = i
			}
		}
		if best < 0 {
			break
		}
		free[best] = true
		for {
			s, ok := onFree(a, right, free)
			if !ok { // as good as dependent on the others
				free[best] = false
				return x
			}
			// as far as the first that would fall below 0
			step, out := 1.0, -1
			for i := range n {
				if free[i] && s[i] <= 0 {
					if t := x[i] / (x[i] - s[i]); t < step || out < 0 {
						step, out = min(step, t), i
					}
				}
			}
			for i := range n {
				if free[i] {
					x[i] += step * (s[i] - x[i])
				}
			}
			if out < 0 {
				break
			}
			for i := range n {
				if free[i] && x[i] < 1e-12 {
					free[i], x[i] = false, 0
				}
			}
		}
	}
	return x
}

// onFree is the least-squares solution in the free unknowns alone, the others at 0.
func onFree(a *mat.Dense, b *mat.VecDense, free []bool) ([]float64, bool) {
	rows, n := a.Dims()
	var at []int
	for i, f := range free {
		if f {
			at = append(at, i)
		}
	}
	out := make([]float64, n)
	if len(at) == 0 {
		return out, true
	}
	part := mat.NewDense(rows, len(at), nil)
	for k, i := range at {
		part.SetCol(k, mat.Col(nil, i, a))
	}
	var qr mat.QR
	qr.Factorize(part)
	var s mat.VecDense
	if err := qr.SolveVecTo(&s, false, b); err != nil {
		if c, ok := err.(mat.Condition); !ok || math.IsInf(float64(c), 1) {
			return nil, false
		}
	}
	for k, i := range at {
		out[i] = s.AtVec(k)
	}
	return out, true
}
