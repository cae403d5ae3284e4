package colour

// Matrix is 3×3, row by row: Matrix·column.
type Matrix [9]float64

// Identity leaves colours as they are.
var Identity = Matrix{1, 0, 0, 0, 1, 0, 0, 0, 1}

// Mul is a·b: b acts first.
func (a Matrix) Mul(b Matrix) Matrix {
	var c Matrix
	for i := range 3 {
		for j := range 3 {
			c[3*i+j] = a[3*i]*b[j] + a[3*i+1]*b[3+j] + a[3*i+2]*b[6+j]
		}
	}
	return c
}

// Apply is a·v.
func (a Matrix) Apply(v [3]float64) [3]float64 {
	return [3]float64{
		a[0]*v[0] + a[1]*v[1] + a[2]*v[2],
		a[3]*v[0] + a[4]*v[1] + a[5]*v[2],
		a[6]*v[0] + a[7]*v[1] + a[8]*v[2],
	}
}

// Scale multiplies every element.
func (a Matrix) Scale(k float64) Matrix {
	for i := range a {
		a[i] *= k
	}
	return a
}

// Transpose exchanges rows and columns.
func (a Matrix) Transpose() Matrix {
	return Matrix{a[0], a[3], a[6], a[1], a[4], a[7], a[2], a[5], a[8]}
}

// Determinant is how much larger a volume a makes; 0 if there is no inverse.
func (a Matrix) Determinant() float64 {
	return a[0]*(a[4]*a[8]-a[5]*a[7]) + a[1]*(a[5]*a[6]-a[3]*a[8]) + a[2]*(a[3]*a[7]-a[4]*a[6])
}

// Inverse is the matrix that undoes a; it panics if there is none.
func (a Matrix) Inverse() Matrix {
	c0, c1, c2 := a[4]*a[8]-a[5]*a[7], a[5]*a[6]-a[3]*a[8], a[3]*a[7]-a[4]*a[6]
	det := a[0]*c0 + a[1]*c1 + a[2]*c2
	if det == 0 {
		panic("colour: matrix has no inverse")
	}
	return Matrix{
		c0, a[2]*a[7] - a[1]*a[8], a[1]*a[5] - a[2]*a[4],
		c1, a[0]*a[8] - a[2]*a[6], a[2]*a[3] - a[0]*a[5],
		c2, a[1]*a[6] - a[0]*a[7], a[0]*a[4] - a[1]*a[3],
	}.Scale(1 / det)
}

// Row12 is the form the row kernel takes: three factors and an offset for every row.
func (a Matrix) Row12() [12]float32 {
	f := func(i int) float32 { return float32(a[i]) }
	return [12]float32{f(0), f(1), f(2), 0, f(3), f(4), f(5), 0, f(6), f(7), f(8), 0}
}
