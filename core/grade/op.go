package grade

import (
	"math"

	"velours/core/colour"
	"velours/core/vec"
)

// An Op corrects colours one by one.
type Op interface {
	// Rows returns what corrects rows of up to w samples in place. It owns its scratch, so every goroutine
	// takes its own. Rows need room for whole vectors behind them, as those of a frame have.
	Rows(w int) func(r, g, b []float32)
}

// Apply is an operation on one colour.
func Apply(op Op, c [3]float64) [3]float64 {
	row := make([]float32, 48)
	r, g, b := row[0:1:16], row[16:17:32], row[32:33:48]
	r[0], g[0], b[0] = float32(c[0]), float32(c[1]), float32(c[2])
	op.Rows(1)(r, g, b)
	return [3]float64{float64(r[0]), float64(g[0]), float64(b[0])}
}

// Grey is mid grey, from which stops are counted, and Deepest the light below which all is one tone.
const Grey, Deepest = 0.18, 1e-6

// Stops is a brightness in stops from mid grey.
func Stops(y float64) float64 { return math.Log2(max(y, Deepest) / Grey) }

// Luma holds the weights of ACEScg in luminance.
var Luma = func() [3]float64 { m := colour.AP1.ToXYZ(); return [3]float64{m[3], m[4], m[5]} }()

// luminance sets y to the luminance of rows.
func luminance(y, r, g, b []float32) {
	vec.Mix(y, r, g, float32(Luma[0]), float32(Luma[1]))
	vec.Mix(y, y, b, 1, float32(Luma[2]))
}

// stops sets t to the stops of y from mid grey.
func stops(t, y []float32) {
	vec.Log2(t, y, Deepest)
	vec.Affine(t, t, 1, -log2Grey)
}

// Tones sets t to the stops from mid grey of rows of light.
func Tones(t, r, g, b []float32) {
	luminance(t, r, g, b)
	stops(t, t)
}

var log2Grey = float32(math.Log2(Grey))

// scratch is a row with room for whole vectors.
func scratch(w int) []float32 { return make([]float32, w, w+16) }

// Largest is the light that an infinity counts as, the largest half float: it says nothing of how bright. MostLight is
// the brightest that is computed with, 26 stops above mid grey; what operations make beyond it comes to it (vec.Bound),
// so that no product of theirs leaves what float32 can hold.
const (
	Largest   = 65504
	MostLight = 1 << 24
)

// SoundRow makes a row fit to compute with: what is no number becomes black, infinities the largest
// light, and what lies beyond MostLight comes to it. Rows that are sound, as nearly all are, cost a fraction of a
// nanosecond a sample.
func SoundRow(row []float32) {
	var a, b, c, d float32 // sums of zeros, but for what is no number or infinite
	n := len(row) &^ 3
	for i := 0; i < n; i += 4 {
		v := row[i : i+4 : i+4]
		a += v[0] * 0
		b += v[1] * 0
		c += v[2] * 0
		d += v[3] * 0
	}
	for _, v := range row[n:] {
		a += v * 0
	}
	if a+b+c+d != 0 {
		for i, v := range row {
			switch {
			case v > math.MaxFloat32:
				row[i] = Largest
			case v < -math.MaxFloat32:
				row[i] = -Largest
			}
		}
	}
	vec.Bound(row, MostLight)
}

// Matrix multiplies colours.
type Matrix colour.Matrix

// Rows implements Op.
func (m Matrix) Rows(int) func(r, g, b []float32) {
	k := colour.Matrix(m).Row12()
	return func(r, g, b []float32) { vec.Matrix(r, g, b, &k) }
}

// Lights is light through a printer's three valves, in points: twelve points are one stop.
func Lights(red, green, blue float64) Matrix {
	k := func(points float64) float64 { return math.Exp2(points / 12) }
	return Matrix{k(red), 0, 0, 0, k(green), 0, 0, 0, k(blue)}
}

// Chain is one operation after another.
type Chain []Op

// Rows implements Op.
func (o Chain) Rows(w int) func(r, g, b []float32) {
	var run []func(r, g, b []float32)
	for _, op := range o {
		run = append(run, op.Rows(w))
	}
	return func(r, g, b []float32) {
		for _, f := range run {
			f(r, g, b)
		}
	}
}
