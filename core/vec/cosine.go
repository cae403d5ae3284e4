package vec

import "math"

// Eight is eight rows, by where they begin: those that go into a cosine transform of eight samples, or come out of it.
type Eight [8]*float32

// Weights are those of eight rows.
type Weights [8]float32

// Rows takes the rows of a slice at eight places, step samples apart.
func (e *Eight) Rows(row []float32, step int) {
	for k := range e {
		e[k] = &row[k*step]
	}
}

// The weights of the cosine transform of eight samples, cos(kπ/16)/2, and that of its mean, 1/√8.
var cosines = func() (c [8]float32) {
	for k := range c {
		c[k] = float32(math.Cos(float64(k)*math.Pi/16) / 2)
	}
	c[0] = float32(1 / math.Sqrt(8))
	return c
}()

// Cosine is the orthonormal cosine transform (DCT-II) of eight samples, one of each row, n times over: dst[k][i] is frequency k of
// src[0][i], …, src[7][i]. Rows are as long as n rounded up to 16, and dst and src do not overlap.
func Cosine(dst, src *Eight, n int) { active.cosine(dst, src, up(n)) }

// CosineBack is the inverse of Cosine.
func CosineBack(dst, src *Eight, n int) { active.cosineBack(dst, src, up(n)) }

// SumEight sets n samples of dst to the sum of eight rows.
func SumEight(dst []float32, rows *Eight, n int) { active.sumEight(&dst[0], rows, up(n)) }

// WeighEight sets n samples of dst to eight rows, each times its weight.
func WeighEight(dst []float32, rows *Eight, k *Weights, n int) {
	active.weighEight(&dst[0], rows, k, up(n))
}

// Strong keeps of a row what is stronger than noise, and makes the rest 0: what x² of is above q·v.
func Strong(x, v []float32, n int, q float32) { active.strong(&x[0], &v[0], up(n), q) }

// Wiener scales a row by p²/(p² + q·v): p is what it is taken to be without noise, q·v the variance of its noise.
func Wiener(x, p, v []float32, n int, q float32) { active.wiener(&x[0], &p[0], &v[0], up(n), q) }

// AddSquares adds k times the squares of a row to dst.
func AddSquares(dst, src []float32, n int, k float32) { active.addSquares(&dst[0], &src[0], up(n), k) }

// AddExcess adds k times what a row has above a limit to dst.
func AddExcess(dst, src []float32, n int, limit, k float32) {
	active.addExcess(&dst[0], &src[0], up(n), limit, k)
}

// AddProduct adds the product of two rows to dst.
func AddProduct(dst, a, b []float32, n int) { active.addProduct(&dst[0], &a[0], &b[0], up(n)) }

func plainAddSquares(pd, ps *float32, n int, k float32) {
	d, s := rows(n, pd), rows(n, ps)
	for i, x := range s {
		d[i] += k * x * x
	}
}

func plainAddExcess(pd, ps *float32, n int, limit, k float32) {
	d, s := rows(n, pd), rows(n, ps)
	for i, x := range s {
		d[i] += k * max(x-limit, 0)
	}
}

func plainAddProduct(pd, pa, pb *float32, n int) {
	d, a, b := rows(n, pd), rows(n, pa), rows(n, pb)
	for i := range d {
		d[i] += a[i] * b[i]
	}
}

func plainCosine(dst, src *Eight, n int) {
	var d, s [8][]float32
	for k := range d {
		d[k], s[k] = rows(n, dst[k]), rows(n, src[k])
	}
	c := &cosines
	for i := range n {
		s0, s1, s2, s3 := s[0][i]+s[7][i], s[1][i]+s[6][i], s[2][i]+s[5][i], s[3][i]+s[4][i]
		d0, d1, d2, d3 := s[0][i]-s[7][i], s[1][i]-s[6][i], s[2][i]-s[5][i], s[3][i]-s[4][i]
		t0, t1, t2, t3 := s0+s3, s1+s2, s0-s3, s1-s2
		d[0][i], d[4][i] = (t0+t1)*c[0], (t0-t1)*c[0]
		d[2][i], d[6][i] = t2*c[2]+t3*c[6], t2*c[6]-t3*c[2]
		d[1][i] = d0*c[1] + d1*c[3] + d2*c[5] + d3*c[7]
		d[3][i] = d0*c[3] - d1*c[7] - d2*c[1] - d3*c[5]
		d[5][i] = d0*c[5] - d1*c[1] + d2*c[7] + d3*c[3]
		d[7][i] = d0*c[7] - d1*c[5] + d2*c[3] - d3*c[1]
	}
}

func plainCosineBack(dst, src *Eight, n int) {
	var d, s [8][]float32
	for k := range d {
		d[k], s[k] = rows(n, dst[k]), rows(n, src[k])
	}
	c := &cosines
	for i := range n {
		u0, u1 := (s[0][i]+s[4][i])*c[0], (s[0][i]-s[4][i])*c[0]
		v0, v1 := s[2][i]*c[2]+s[6][i]*c[6], s[2][i]*c[6]-s[6][i]*c[2]
		s0, s3, s1, s2 := u0+v0, u0-v0, u1+v1, u1-v1
		x1, x3, x5, x7 := s[1][i], s[3][i], s[5][i], s[7][i]
		d0, d1 := x1*c[1]+x3*c[3]+x5*c[5]+x7*c[7], x1*c[3]-x3*c[7]-x5*c[1]-x7*c[5]
		d2, d3 := x1*c[5]-x3*c[1]+x5*c[7]+x7*c[3], x1*c[7]-x3*c[5]+x5*c[3]-x7*c[1]
		d[0][i], d[7][i], d[1][i], d[6][i] = s0+d0, s0-d0, s1+d1, s1-d1
		d[2][i], d[5][i], d[3][i], d[4][i] = s2+d2, s2-d2, s3+d3, s3-d3
	}
}

func plainSumEight(dst *float32, from *Eight, n int) {
	d := rows(n, dst)
	var s [8][]float32
	for k := range s {
		s[k] = rows(n, from[k])
	}
	for i := range d {
		d[i] = ((s[0][i] + s[1][i]) + (s[2][i] + s[3][i])) + ((s[4][i] + s[5][i]) + (s[6][i] + s[7][i]))
	}
}

func plainWeighEight(dst *float32, from *Eight, k *Weights, n int) {
	d := rows(n, dst)
	var s [8][]float32
	for k := range s {
		s[k] = rows(n, from[k])
	}
	for i := range d {
		d[i] = ((k[0]*s[0][i] + k[1]*s[1][i]) + (k[2]*s[2][i] + k[3]*s[3][i])) + ((k[4]*s[4][i] + k[5]*s[5][i]) + (k[6]*s[6][i] + k[7]*s[7][i]))
	}
}

func plainStrong(px, pv *float32, n int, q float32) {
	x, v := rows(n, px), rows(n, pv)
	for i := range x {
		if !(q*v[i] < x[i]*x[i]) {
			x[i] = 0
		}
	}
}

func plainWiener(px, pp, pv *float32, n int, q float32) {
	x, p, v := rows(n, px), rows(n, pp), rows(n, pv)
	for i := range x {
		e := p[i] * p[i]
		x[i] *= e / (e + q*v[i])
	}
}
