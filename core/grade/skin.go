package grade

import (
	"math"

	"velours/core/colour"
)

// SkinAngle is the direction of skin on the vectorscope, counted from blue-yellow, in degrees: the axis I of
// the analogue colour systems.
const SkinAngle = 123

// SkinHue is that direction as a hue, for a colour as strong as skin is.
var SkinHue = func() float64 { h, _ := Hue(skinLight()); return h }()

// skinLight is a medium skin: luma 0.55 and a chroma of 0.12 along the skin line, in codes of BT.709.
func skinLight() [3]float64 {
	const y, c = 0.55, 0.12
	a := SkinAngle * math.Pi / 180
	cb, cr := c*math.Cos(a), c*math.Sin(a)
	code := [3]float64{y + 1.5748*cr, 0, y + 1.8556*cb}
	code[1] = (y - 0.2126*code[0] - 0.0722*code[2]) / 0.7152
	for i := range code {
		code[i] = math.Pow(code[i], 2.4)
	}
	return colour.Convert(colour.BT709, colour.AP1).Apply(code)
}

// Skin is where skin lies: hues around Centre (degrees from the skin line), Width degrees to either side,
// fading over half as much again; of a chroma that skin has; from tone Low to High in stops, fading over a stop.
type Skin struct{ Centre, Width, Low, High float64 }

// UsualSkin covers the skins there are, dark and light.
var UsualSkin = Skin{Centre: 0, Width: 16, Low: -5, High: 3.5}

// weight is how much of a skin an Oklab colour is.
func (s *Skin) weight() func(l, a, b, t float32) float32 {
	hue := newRound(func(h float64) float64 {
		d := math.Abs(apart(h, SkinHue+s.Centre))
		return 1 - smooth((d-s.Width)/(s.Width/2))
	})
	low, high := float32(s.Low), float32(s.High)
	return func(l, a, b, t float32) float32 {
		c2 := a*a + b*b
		if l <= 0 || c2 <= 0.03*0.03*l*l || c2 >= 0.24*0.24*l*l {
			return 0
		}
		w := hue.at(angle(a, b))
		if w == 0 {
			return 0
		}
		// fades in from a chroma of 0.03 to 0.06, and out from 0.16 to 0.24; skins have 0.07 to 0.12
		c := sqrt(c2) / l
		w *= smooth32((c-0.03)*(1/0.03)) * (1 - smooth32((c-0.16)*12.5))
		return w * smooth32(t-low+1) * (1 - smooth32(t-high))
	}
}

// Weight returns how much of a skin a colour is, 0…1.
func (s *Skin) Weight() func(c [3]float64) float64 {
	weight := s.weight()
	return func(c [3]float64) float64 {
		l, a, b := Lab(c)
		return float64(weight(float32(l), float32(a), float32(b), float32(3*math.Log2(max(l, 0.005)))-log2Grey))
	}
}

// Rows sets m to the weights of rows of colours.
func (s *Skin) Rows(w int) func(m, r, g, b []float32) { return Weigh(w, s.weight()) }

// Weigh runs a weight over rows: of a colour in Oklab, and its tone in stops from mid grey.
func Weigh(w int, weight func(l, a, b, t float32) float32) func(m, r, g, b []float32) {
	var s [4][]float32
	for i := range s {
		s[i] = scratch(w)
	}
	return func(m, red, green, blue []float32) {
		n := len(red)
		l, a, b, t := s[0][:n], s[1][:n], s[2][:n], s[3][:n]
		labRows(l, a, b, red, green, blue)
		labTones(t, l)
		for i, v := range l {
			m[i] = weight(v, a[i], b[i], t[i])
		}
	}
}

// Guard moves what is skin, and nothing else: its hue by Hue degrees, its chroma by the factor Chroma, its
// light by Light stops; before that its hue by the share Line, 0…1, of the way to the skin line.
type Guard struct {
	Skin
	Hue, Chroma, Light, Line float64
}

// Op makes the operation.
func (g *Guard) Op() Op {
	weight := g.weight()
	at := float32(SkinHue / 360)
	turned, line, chroma, light := float32(g.Hue/360), float32(g.Line), float32(g.Chroma-1), float32(g.Light)
	return labOp{func(l, a, b, t float32) (float32, float32, float32, bool) {
		w := weight(l, a, b, t)
		if w == 0 {
			return a, b, 0, false
		}
		turn := w * turned
		if line != 0 {
			d := angle(a, b) - at // hues near the line alone have a weight
			if d > 0.5 {
				d--
			} else if d < -0.5 {
				d++
			}
			turn -= w * line * d
		}
		k := 1 + w*chroma
		if turn == 0 && k == 1 && light == 0 {
			return a, b, 0, false
		}
		s, c := sinCos(turn)
		return (a*c - b*s) * k, (a*s + b*c) * k, w * light, true
	}}
}

// sinCos is the sine and cosine of less than a fifth of a turn, by their series to the eighth power; good to 2e-5.
func sinCos(turn float32) (s, c float32) {
	x := turn * (2 * math.Pi)
	q := x * x
	return x * (1 - q*(1.0/6-q*(1.0/120-q*(1.0/5040)))), 1 - q*(1.0/2-q*(1.0/24-q*(1.0/720-q*(1.0/40320))))
}

func smooth32(u float32) float32 {
	u = min(max(u, 0), 1)
	return u * u * (3 - 2*u)
}

func sqrt(x float32) float32 { return float32(math.Sqrt(float64(x))) }

// apart is a − b in degrees, −180 to 180.
func apart(a, b float64) float64 { return math.Remainder(a-b, 360) }
