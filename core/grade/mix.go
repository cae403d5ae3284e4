package grade

import (
	"math"

	"velours/core/colour"
)

// Crosstalk is a matrix on light whose rows sum to one, so that greys stay: Into[i][j] is how much of channel
// j runs into channel i, and the channel itself gives way for it. After that, hues turn about grey by Turn
// degrees.
type Crosstalk struct {
	Into [3][3]float64 // the diagonal is not read
	Turn float64
	// Hold, 0…1, is how far each colour gets its luminance back.
	Hold float64
}

// Matrix is the whole of it but the hold.
func (c *Crosstalk) Matrix() colour.Matrix {
	var m colour.Matrix
	for i := range 3 {
		own := 1.0
		for j := range 3 {
			if j != i {
				m[3*i+j] = c.Into[i][j]
				own -= c.Into[i][j]
			}
		}
		m[3*i+i] = own
	}
	return turn(c.Turn).Mul(m)
}

// turn is a rotation of light about grey by an angle in degrees (Rodrigues); its rows sum to one.
func turn(degrees float64) colour.Matrix {
	if degrees == 0 {
		return colour.Identity
	}
	s, c := math.Sincos(degrees * math.Pi / 180)
	a, b := (1-c)/3, s/math.Sqrt(3)
	return colour.Matrix{c + a, a - b, a + b, a + b, c + a, a - b, a - b, a + b, c + a}
}

// Op makes the operation.
func (c *Crosstalk) Op() Op {
	m := c.Matrix()
	if c.Hold == 0 {
		return Matrix(m)
	}
	return &holdOp{m, float32(c.Hold)}
}

// holdOp multiplies by a matrix and gives luminance back.
type holdOp struct {
	m    colour.Matrix
	hold float32
}

// Rows implements Op.
func (o *holdOp) Rows(w int) func(r, g, b []float32) {
	was, is := scratch(w), scratch(w)
	mul := Matrix(o.m).Rows(w)
	return func(r, g, b []float32) {
		was, is := was[:len(r)], is[:len(r)]
		luminance(was, r, g, b)
		mul(r, g, b)
		luminance(is, r, g, b)
		for i, y := range is {
			if y < Deepest || was[i] < Deepest {
				continue
			}
			k := 1 + o.hold*(was[i]/y-1)
			r[i] *= k
			g[i] *= k
			b[i] *= k
		}
	}
}

// Squeeze is a crosstalk that presses colours towards the skin line from both sides: 0 is none, 1 leaves
// nothing but the line. Skin itself stays as it is.
func Squeeze(amount float64) Crosstalk {
	// in linear BT.709 light, by its colour differences: what lies across the skin line gives way
	toYCC := colour.Matrix{0.2126, 0.7152, 0.0722, -0.2126 / 1.8556, -0.7152 / 1.8556, 0.9278 / 1.8556, 0.7874 / 1.5748, -0.7152 / 1.5748, -0.0722 / 1.5748}
	to := colour.Convert(colour.AP1, colour.BT709)
	skin := toYCC.Apply(to.Apply(skinLight()))
	l := math.Hypot(skin[1], skin[2])
	x, y := skin[1]/l, skin[2]/l
	k := 1 - amount
	across := colour.Matrix{1, 0, 0, 0, x*x + k*y*y, x*y - k*x*y, 0, x*y - k*x*y, y*y + k*x*x}
	m := to.Inverse().Mul(toYCC.Inverse()).Mul(across).Mul(toYCC).Mul(to)
	var c Crosstalk
	for i := range 3 {
		for j := range 3 {
			if i != j {
				c.Into[i][j] = m[3*i+j]
			}
		}
	}
	return c
}

// Mono is black and white as light through a filter makes it: Weights of the channels, of which their sum is
// taken out, then the tone scale of Contrast, then a tint of a hue in degrees and a chroma. Amount, 0…1, is
// how much of the colour goes.
type Mono struct {
	Weights   [3]float64
	Contrast  Contrast
	Hue, Tint float64
	Amount    float64
}

// Op makes the operation.
func (o *Mono) Op() Op { return &monoOp{*o, NewTone(ByBrightness, o.Contrast.Gain)} }

type monoOp struct {
	Mono
	tone *Tone
}

// Rows implements Op.
func (o *monoOp) Rows(w int) func(r, g, b []float32) {
	y := scratch(w)
	sum := o.Weights[0] + o.Weights[1] + o.Weights[2]
	if math.Abs(sum) < 0.05 {
		sum = math.Copysign(0.05, sum)
	}
	k := [3]float32{float32(o.Weights[0] / sum), float32(o.Weights[1] / sum), float32(o.Weights[2] / sum)}
	amount := float32(o.Amount)
	tone := o.tone.Rows(w)
	tint := FromLab(1, o.Tint*math.Cos(o.Hue*math.Pi/180), o.Tint*math.Sin(o.Hue*math.Pi/180))
	lum := Luma[0]*tint[0] + Luma[1]*tint[1] + Luma[2]*tint[2]
	c := [3]float32{float32(tint[0] / lum), float32(tint[1] / lum), float32(tint[2] / lum)}
	toned := o.Contrast.Slope != 1
	u, v := scratch(w), scratch(w)
	return func(r, g, b []float32) {
		y, u, v := y[:len(r)], u[:len(r)], v[:len(r)]
		for i := range y {
			y[i] = max(k[0]*r[i]+k[1]*g[i]+k[2]*b[i], 0)
		}
		if toned {
			copy(u, y)
			copy(v, y)
			tone(y, u, v)
		}
		for i, l := range y {
			r[i] += amount * (l*c[0] - r[i])
			g[i] += amount * (l*c[1] - g[i])
			b[i] += amount * (l*c[2] - b[i])
		}
	}
}
