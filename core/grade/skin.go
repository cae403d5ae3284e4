package grade

import (
	"math"

	"velours/core/colour"
	"velours/core/vec"
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

// weight sets m to how much of a skin colours are.
func (s *Skin) weight() func(m []float32, row *LabRow) {
	hue := newRound(func(h float64) float64 {
		d := math.Abs(apart(h, SkinHue+s.Centre))
		return 1 - smooth((d-s.Width)/(s.Width/2))
	})
	// fades in from a chroma of 0.03 to 0.06, and out from 0.16 to 0.24; skins have 0.07 to 0.12
	fading := &vec.Fading{Pale: 0.03, Rise: 1 / 0.03, Strong: 0.16, Fall: 12.5, Low: float32(s.Low), High: float32(s.High)}
	return func(m []float32, row *LabRow) {
		hue.row(m, row.Hue)
		vec.Fade(m, row.L, row.A, row.B, row.Tone, fading)
	}
}

// asksOfSkin is what its weight needs.
var asksOfSkin = Asks{Tone: true, Hue: true}

// Weight returns what tells how much of a skin a colour is, 0…1; it has scratch of its own, so every goroutine takes its own.
func (s *Skin) Weight() func(c [3]float64) float64 {
	rows := s.Rows()
	row := make([]float32, 64)
	m, r, g, b := row[0:1:16], row[16:17:32], row[32:33:48], row[48:49:64]
	return func(c [3]float64) float64 {
		r[0], g[0], b[0] = float32(c[0]), float32(c[1]), float32(c[2])
		rows(m, r, g, b)
		return float64(m[0])
	}
}

// Rows sets m to the weights of rows of colours.
func (s *Skin) Rows() func(m, r, g, b []float32) { return Weigh(asksOfSkin, s.weight()) }

// Guard moves what is skin, and nothing else: its hue by Hue degrees, its chroma by the factor Chroma, its
// light by Light stops; before that its hue by the share Line, 0…1, of the way to the skin line.
type Guard struct {
	Skin
	Hue, Chroma, Light, Line float64
}

// Op makes the operation.
func (g *Guard) Op() Op {
	weight := g.weight()
	moves := &vec.Guarded{Turn: float32(g.Hue / 360), At: float32(SkinHue / 360), Line: float32(g.Line), Chroma: float32(g.Chroma - 1), Light: float32(g.Light)}
	return labOp{asksOfSkin, func(row *LabRow) (moved, lit bool) {
		w := row.moves[0][:len(row.L)]
		weight(w, row)
		vec.Guard(row.A, row.B, row.light, w, row.Hue, moves)
		for _, v := range w {
			moved = moved || v != 0
		}
		return moved, g.Light != 0
	}}
}

// apart is a − b in degrees, −180 to 180.
func apart(a, b float64) float64 { return math.Remainder(a-b, 360) }
