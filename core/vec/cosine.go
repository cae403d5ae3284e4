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

// CosineScales are what the frequencies of Cosine are, times those of the orthonormal transform: √8 for the mean, 4·cos(kπ/16) for frequency k.
var CosineScales = func() (s [8]float64) {
	for k := range s {
		s[k] = 4 * math.Cos(float64(k)*math.Pi/16)
	}
	s[0] = math.Sqrt(8)
	return s
}()

// Weights of the scaled cosine transform (Arai, Agui and Nakajima, A fast DCT-SQ scheme for images, 1988): with c(k) = cos(kπ/16), c(4), c(6),
// c(2) − c(6) and c(2) + c(6) there, 2·c(4), 2·c(2), 2·(c(2) − c(6)) and −2·(c(2) + c(6)) back.
const (
	aanHalf, aanLow, aanNear, aanFar = 0.70710678118654752, 0.38268343236508977, 0.54119610014619698, 1.3065629648763765
	aanRoot, aanMore, aanUp, aanDown = 2 * aanHalf, 1.8477590650225735, 2 * aanNear, -2 * aanFar
)

// Cosine is the cosine transform (DCT-II) of eight samples, one of each row, n times over: dst[k][i] is frequency k of src[0][i], …, src[7][i],
// times CosineScales[k]. Rows are as long as n rounded up to 16, and dst and src do not overlap.
func Cosine(dst, src *Eight, n int) { active.cosine(dst, src, up(n)) }

// CosineBack makes 8 times the samples again of what Cosine makes of them.
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
	for i := range n {
		s0, s1, s2, s3 := s[0][i]+s[7][i], s[1][i]+s[6][i], s[2][i]+s[5][i], s[3][i]+s[4][i]
		d0, d1, d2, d3 := s[0][i]-s[7][i], s[1][i]-s[6][i], s[2][i]-s[5][i], s[3][i]-s[4][i]
		x, y := s0+s3, s1+s2
		d[0][i], d[4][i] = x+y, x-y
		x = s0 - s3
		y = (s1 - s2 + x) * aanHalf
		d[2][i], d[6][i] = x+y, x-y
		a, b, c := d3+d2, d2+d1, d1+d0
		z := (a - c) * aanLow
		x, y = d0+b*aanHalf, d0-b*aanHalf
		a, c = a*aanNear+z, c*aanFar+z
		d[1][i], d[7][i], d[5][i], d[3][i] = x+c, x-c, y+a, y-a
	}
}

func plainCosineBack(dst, src *Eight, n int) {
	var d, s [8][]float32
	for k := range d {
		d[k], s[k] = rows(n, dst[k]), rows(n, src[k])
	}
	for i := range n {
		// odd frequencies
		near, minus := s[5][i]+s[3][i], s[5][i]-s[3][i]
		far, less := s[1][i]+s[7][i], s[1][i]-s[7][i]
		o7 := far + near
		z := (minus + less) * aanMore
		o6 := minus*aanDown + z - o7
		o5 := (far-near)*aanRoot - o6
		o4 := less*aanUp + o5 - z
		// even ones
		a := s[2][i] + s[6][i]
		b := (s[2][i]-s[6][i])*aanRoot - a
		c, e := s[0][i]+s[4][i], s[0][i]-s[4][i]
		e0, e3, e1, e2 := c+a, c-a, e+b, e-b
		d[0][i], d[7][i], d[1][i], d[6][i] = e0+o7, e0-o7, e1+o6, e1-o6
		d[2][i], d[5][i], d[4][i], d[3][i] = e2+o5, e2-o5, e3+o4, e3-o4
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
