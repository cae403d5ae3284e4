package film

import (
	"fmt"
	"math"

	"velours/core/colour"
	"velours/core/curve"
)

// Screen shows projected light on a display.
type Screen struct {
	Display *colour.Display
	// Range opens the scale to the display's black: 0 keeps the print's black, 1 takes it to zero.
	Range float64
	// Whites brings the print's white to the display's: 0 leaves it below, as it is against the open gate.
	Whites float64
	// Surround raises luminance to the power of 1 + Surround, for a display in another surround.
	Surround float64
	// Tone is the neutral scale for a negative that is not printed.
	Tone colour.Tone
}

// Key tells screens apart.
func (s Screen) Key() string {
	return fmt.Sprintf("%s %g %g %g %v", s.Display.Key(), s.Range, s.Whites, s.Surround, s.Tone)
}

// Positive is the whole way from the negative's densities to the display: print and project, or,
// without a print, read the scene back from the negative's neutral scale.
type Positive struct {
	Negative *Negative
	Print    *Print // nil for no print
	// Through stands in the print's place where it is not nil, and Print is.
	Through *Through
	// Scan, where it is not nil, is what Through is given: it expects the printing density of a negative.
	Scan   *Scan
	Lights [3]float64
	// Strength mixes the print with the unprinted picture, in display code values.
	Strength float64
	Screen   Screen

	toDisplay colour.Matrix // XYZ to display linear, print white at 1
	fromScene colour.Matrix // ACEScg to display linear
	toScene   colour.Matrix // layer exposure to ACEScg
	black     float64
	weights   [3]float64
	inverse   [3]func(float64) float64
}

// NewPositive prepares the transform.
func NewPositive(n *Negative, p *Print, lights [3]float64, strength float64, s Screen) *Positive {
	t := &Positive{Negative: n, Print: p, Lights: lights, Strength: strength, Screen: s}
	t.fromScene = s.Display.FromACEScg()
	t.toScene = n.ToScene() // read back, the negative keeps its interlayer effect
	t.weights = s.Display.Luminance()
	if p != nil {
		w := s.Display.Gamut.White.XYZ()
		white := 1 + s.Whites*(p.White[1]-1)
		t.toDisplay = s.Display.Gamut.ToXYZ().Inverse().Mul(colour.Adapt(p.Projector(), w)).Scale(1 / white)
		t.black = s.Range * p.Black[1] / white
	}
	for j := range 3 {
		t.inverse[j] = invert(func(x float64) float64 { return n.Curve(j, x) })
	}
	return t
}

// Code is the display code value for layer densities d.
func (t *Positive) Code(d [3]float64) [3]float64 {
	var u [3]float64
	if t.Print != nil {
		u = t.Print.exposure(d)
	}
	return t.code(d, u)
}

// Printed is Code where the log exposure u of the print's layers is known (Print.Exposure).
func (t *Positive) Printed(d, u [3]float64) [3]float64 { return t.code(d, u) }

func (t *Positive) code(d, u [3]float64) [3]float64 {
	if t.Print == nil {
		s := t.unprinted(d)
		if t.Through != nil {
			for i, v := range t.through(d) {
				s[i] = t.Strength*v + (1-t.Strength)*s[i]
			}
		}
		return s
	}
	v := t.toDisplay.Apply(t.Print.lightOf(u, t.Lights))
	if t.black > 0 {
		y := t.weights[0]*v[0] + t.weights[1]*v[1] + t.weights[2]*v[2]
		k := opened(y, t.black) / max(y, 1e-9)
		for i := range v {
			v[i] *= k
		}
	}
	v = limited(v, t.weights)
	c := t.Screen.Display.Show(v, t.Screen.Surround, &t.weights)
	if t.Strength < 1 {
		s := t.unprinted(d)
		for i := range c {
			c[i] = t.Strength*c[i] + (1-t.Strength)*s[i]
		}
	}
	return c
}

// limited darkens a colour whose strongest channel comes near the display's peak, as little as brings it there: white
// stays, and so does what is not bright. Where it only paled instead, as it does at the border of all colours, a
// bright yellow would lose half its colour within a hair of brightness.
func limited(v, weights [3]float64) [3]float64 {
	hi := max(v[0], v[1], v[2])
	apart := hi - (weights[0]*v[0] + weights[1]*v[1] + weights[2]*v[2])
	if hi < limitFrom || apart <= 0 {
		return v
	}
	over := softplus(hi-1, limitEnds)
	f := 1 - apart/(apart+limitFull)*over/hi
	return [3]float64{v[0] * f, v[1] * f, v[2] * f}
}

// Below limitFrom a channel is not limited; limitEnds is how softly it begins, and limitFull how far the strongest channel
// is above luminance where it is half limited.
const limitFrom, limitEnds, limitFull = 0.3, 10, 0.08

// opened is luminance y, of 1, with the black b taken to the display's. What is near b or below goes on softly, so
// that the deepest shadows keep their detail; hue stays, and no channel ends before another.
func opened(y, b float64) float64 {
	z, soft := y-b, 0.12*b
	return (z + math.Sqrt(z*z+4*soft*soft)) / 2 / (1 - b)
}

// through is the display code that the table in the print's place gives.
func (t *Positive) through(d [3]float64) [3]float64 {
	if t.Scan != nil {
		return t.Through.Shown(t.Scan.Codes(d))
	}
	return t.Through.Code(t.scene(d))
}

// scene is the light that the negative's densities stand for, as ACEScg.
func (t *Positive) scene(d [3]float64) [3]float64 {
	var e [3]float64
	for i := range e {
		e[i] = 0.18 * math.Pow(10, t.inverse[i](d[i])-t.Negative.Shift())
	}
	return t.toScene.Apply(e)
}

// unprinted reads the negative back through its own neutral curve and shows it by the neutral scale.
func (t *Positive) unprinted(d [3]float64) [3]float64 {
	return t.Screen.Tone.Render(t.scene(d), t.Screen.Display, t.Screen.Surround, &t.fromScene, &t.weights)
}

// invert tabulates the inverse of a function of log exposure between -3.6 and 3.6 that rises, or falls, all the way.
func invert(f func(float64) float64) func(float64) float64 {
	const lo, hi, n = -3.6, 3.6, 512
	var y [n + 1]float64
	sign := 1.0
	if f(hi) < f(lo) {
		sign = -1
	}
	for i := range y {
		y[i] = sign * f(lo+(hi-lo)*float64(i)/n)
	}
	return func(v float64) float64 {
		v *= sign
		if v <= y[0] {
			return lo
		}
		if v >= y[n] {
			return hi
		}
		a := curve.Below(y[:], v)
		return lo + (hi-lo)/n*(float64(a)+(v-y[a])/(y[a+1]-y[a]))
	}
}
