package grade

import (
	"math"

	"velours/core/colour"
	"velours/core/vec"
)

// Oklab (Ottosson 2020), with its matrices from linear BT.709 behind that of ACEScg. Rows of the first are
// brought to sum to one exactly, and those of the second to one and nothing, so that grey has no chroma.
var (
	toLMS = sumTo(colour.Matrix{
		0.4122214708, 0.5363325363, 0.0514459929,
		0.2119034982, 0.6806995451, 0.1073969566,
		0.0883024619, 0.2817188376, 0.6299787005,
	}.Mul(colour.Convert(colour.AP1, colour.BT709)), 1, 1, 1)
	toLab = sumTo(colour.Matrix{
		0.2104542553, 0.7936177850, -0.0040720468,
		1.9779984951, -2.4285922050, 0.4505937099,
		0.0259040371, 0.7827717662, -0.8086757660,
	}, 1, 0, 0)
	fromLMS, fromLab = toLMS.Inverse(), toLab.Inverse()
)

// sumTo adds to the middle entry of each row what its sum lacks.
func sumTo(m colour.Matrix, sums ...float64) colour.Matrix {
	for i, s := range sums {
		m[3*i+1] += s - m[3*i] - m[3*i+1] - m[3*i+2]
	}
	return m
}

// Lab is the Oklab colour of light.
func Lab(c [3]float64) (l, a, b float64) {
	v := toLMS.Apply(c)
	for i := range v {
		v[i] = math.Cbrt(v[i])
	}
	v = toLab.Apply(v)
	return v[0], v[1], v[2]
}

// FromLab undoes Lab.
func FromLab(l, a, b float64) [3]float64 {
	v := fromLab.Apply([3]float64{l, a, b})
	for i := range v {
		v[i] *= v[i] * v[i]
	}
	return fromLMS.Apply(v)
}

// Hue is the hue of light in degrees, 0 to 360, and its chroma as a share of its lightness.
func Hue(c [3]float64) (hue, chroma float64) {
	l, a, b := Lab(c)
	if l <= 0 {
		return 0, 0
	}
	return degrees(float32(a), float32(b)), math.Hypot(a, b) / l
}

// a labShift changes a colour in Oklab, whose tone is t stops from mid grey: it gives the colour's a and b anew, and
// stops of light by which all of it then moves. It tells whether it did anything.
type labShift func(l, a, b, t float32) (a2, b2, light float32, moved bool)

// labOp runs a shift over rows. Colours that do not move are left to the bit.
type labOp struct{ shift labShift }

var (
	toLMS12, toLab12     = toLMS.Row12(), toLab.Row12()
	fromLMS12, fromLab12 = fromLMS.Row12(), fromLab.Row12()
)

// labRows sets rows of Oklab for rows of light.
func labRows(l, a, b, red, green, blue []float32) {
	copy(l, red)
	copy(a, green)
	copy(b, blue)
	vec.Matrix(l, a, b, &toLMS12)
	for _, row := range [3][]float32{l, a, b} {
		vec.CubeRoot(row)
	}
	vec.Matrix(l, a, b, &toLab12)
}

// Rows implements Op.
func (o labOp) Rows(w int) func(r, g, b []float32) {
	var s [5][]float32
	for i := range s {
		s[i] = scratch(w)
	}
	moved := make([]bool, w)
	return func(red, green, blue []float32) {
		n := len(red)
		l, a, b, t, light := s[0][:n], s[1][:n], s[2][:n], s[3][:n], s[4][:n]
		labRows(l, a, b, red, green, blue)
		labTones(t, l)
		any, lit := false, false
		for i, v := range l {
			a[i], b[i], light[i], moved[i] = o.shift(v, a[i], b[i], t[i])
			any = any || moved[i]
			lit = lit || light[i] != 0
			light[i] *= 1.0 / 3
		}
		if !any {
			return
		}
		if lit { // light times k is lightness times the cube root of k
			vec.Exp2(light, light)
			for _, row := range [3][]float32{l, a, b} {
				vec.Product(row, row, light, 1)
			}
		}
		vec.Matrix(l, a, b, &fromLab12)
		for _, row := range [3][]float32{l, a, b} {
			vec.Cube(row)
		}
		vec.Matrix(l, a, b, &fromLMS12)
		for i, m := range moved[:n] {
			if m {
				red[i], green[i], blue[i] = l[i], a[i], b[i]
			}
		}
	}
}

// labTones sets t to the tones of Oklab lightnesses, in stops from mid grey.
func labTones(t, l []float32) {
	vec.Log2(t, l, 0.005)
	vec.Affine(t, t, 3, -log2Grey)
}

// degrees is the angle of a, b, 0 to 360, good to a thousandth of a degree.
func degrees(a, b float32) float64 { return float64(angle(a, b)) * 360 }

// angle is the angle of a, b in turns, 0…1 (Abramowitz & Stegun 4.4.49, five terms; within 2e-6).
func angle(a, b float32) float32 {
	x, y := max(a, -a), max(b, -b)
	if x == 0 && y == 0 {
		return 0
	}
	swap := y > x
	if swap {
		x, y = y, x
	}
	z := y / x
	q := z * z
	u := z * (0.9998660 + q*(-0.3302995+q*(0.1801410+q*(-0.0851330+q*0.0208351)))) * (1 / (2 * math.Pi))
	if swap {
		u = 0.25 - u
	}
	if a < 0 {
		u = 0.5 - u
	}
	if b < 0 {
		u = 1 - u
	}
	if u >= 1 {
		u--
	}
	return u
}
