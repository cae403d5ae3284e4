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
	return float64(vec.TurnOf(float32(a), float32(b))) * 360, math.Hypot(a, b) / l
}

// LabRow is a row of colours in Oklab: lightness and the opponent colours; tones in stops from mid grey and hues in turns, 0…1,
// where they are asked for (Asks).
type LabRow struct {
	L, A, B, Tone, Hue []float32
	light              []float32    // stops of light by which colours are to move, 0 before
	moves              [4][]float32 // room for what shifts look up
}

// Asks is what a LabRow needs besides the colour.
type Asks struct{ Tone, Hue bool }

// labShift changes colours in Oklab: their A and B, and light. It tells whether any may have moved, and whether by light.
type labShift func(row *LabRow) (moved, lit bool)

// labOp runs a shift over rows. Colours that do not move are left to the bit.
type labOp struct {
	asks  Asks
	shift labShift
}

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

// LabPiece is how many colours are worked at together: their rows stay in the nearest cache.
const LabPiece = 256

// newLabRow is room for a piece.
func newLabRow() *LabRow {
	row := &LabRow{}
	for _, r := range row.all() {
		*r = scratch(LabPiece)
	}
	for i := range row.moves {
		row.moves[i] = scratch(LabPiece)
	}
	return row
}

func (row *LabRow) all() [6]*[]float32 {
	return [6]*[]float32{&row.L, &row.A, &row.B, &row.Tone, &row.Hue, &row.light}
}

// fill has the row be those colours, of which there are no more than a piece.
func (row *LabRow) fill(red, green, blue []float32, asks Asks) {
	for _, r := range row.all() {
		*r = (*r)[:len(red)]
	}
	labRows(row.L, row.A, row.B, red, green, blue)
	if asks.Tone {
		labTones(row.Tone, row.L)
	}
	if asks.Hue {
		vec.Turn(row.Hue, row.A, row.B)
	}
}

// Rows implements Op.
func (o labOp) Rows(int) func(r, g, b []float32) {
	row := newLabRow()
	wasA, wasB, changes := scratch(LabPiece), scratch(LabPiece), scratch(LabPiece)
	return inPieces(func(red, green, blue []float32) {
		row.fill(red, green, blue, o.asks)
		wasA, wasB, changes := wasA[:len(red)], wasB[:len(red)], changes[:len(red)]
		copy(wasA, row.A)
		copy(wasB, row.B)
		clear(row.light)
		moved, lit := o.shift(row)
		if !moved {
			return
		}
		vec.Changed(changes, wasA, row.A, wasB, row.B, row.light)
		colour := [3][]float32{row.L, row.A, row.B}
		if lit { // light times k is lightness times the cube root of k
			vec.Affine(row.light, row.light, 1.0/3, 0)
			vec.Exp2(row.light, row.light)
			for _, c := range colour {
				vec.Product(c, c, row.light, 1)
			}
		}
		vec.Matrix(row.L, row.A, row.B, &fromLab12)
		for _, c := range colour {
			vec.Cube(c)
		}
		vec.Matrix(row.L, row.A, row.B, &fromLMS12)
		for i, c := range [3][]float32{red, green, blue} {
			vec.Where(c, colour[i], changes)
		}
	})
}

// inPieces runs what corrects rows of a piece over rows of any length.
func inPieces(piece func(r, g, b []float32)) func(r, g, b []float32) {
	return func(r, g, b []float32) {
		for x := 0; x < len(r); x += LabPiece {
			end := min(x+LabPiece, len(r))
			piece(r[x:end], g[x:end], b[x:end])
		}
	}
}

// Weigh runs a weight over rows: it sets m for a row of colours in Oklab.
func Weigh(asks Asks, weight func(m []float32, row *LabRow)) func(m, r, g, b []float32) {
	row := newLabRow()
	return func(m, r, g, b []float32) {
		for x := 0; x < len(r); x += LabPiece {
			end := min(x+LabPiece, len(r))
			row.fill(r[x:end], g[x:end], b[x:end], asks)
			weight(m[x:end], row)
		}
	}
}

// labTones sets t to the tones of Oklab lightnesses, in stops from mid grey.
func labTones(t, l []float32) {
	vec.Log2(t, l, 0.005)
	vec.Affine(t, t, 3, -log2Grey)
}
