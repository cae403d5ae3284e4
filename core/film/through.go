package film

import (
	"velours/core/colour"
	"velours/core/lut"
	"velours/core/vec"
)

// Through is a table in the place of a print: scene light is brought to the codes that the table
// expects, and what it gives is taken for the codes of a display.
type Through struct {
	// ID tells tables apart.
	ID    string
	Table *lut.List
	From  *colour.Encoding
	To    *colour.Display

	in      colour.Matrix
	out     colour.Matrix
	weights [3]float64
	screen  Screen
	encoder *colour.Encoder
}

// On prepares for a screen.
func (t Through) On(s Screen) *Through {
	t.screen = s
	t.in = colour.Convert(colour.AP1, t.From.Gamut).Scale(1 / t.From.Anchor)
	t.out = colour.Convert(t.To.Gamut, s.Display.Gamut).Scale(t.To.Head())
	t.weights = s.Display.Luminance()
	t.encoder = colour.NewEncoder(t.From)
	return &t
}

// Direct tells that the table's own codes are the screen's, so that Rows may stand for Code.
func (t *Through) Direct() bool {
	return t.To.Key() == t.screen.Display.Key() && t.screen.Surround == 0
}

// Rows turns rows of scene-linear ACEScg into display code values in place, where Direct. scratch is as
// long as a row; all follow the padding rules of package vec.
func (t *Through) Rows(r, g, b, scratch []float32) {
	m := t.in.Row12()
	vec.Matrix(r, g, b, &m)
	for _, row := range [][]float32{r, g, b} {
		t.encoder.Row(row, scratch)
	}
	t.Table.Rows(r, g, b)
	for _, row := range [][]float32{r, g, b} {
		for i, v := range row {
			if !(v > 0) { // what is no number too
				v = 0
			}
			row[i] = min(v, 1)
		}
	}
}

// Code is the display code value of scene-linear ACEScg.
func (t *Through) Code(scene [3]float64) [3]float64 {
	v := t.in.Apply(scene)
	for i := range v {
		v[i] = t.From.Encode(v[i])
	}
	return t.Shown(v)
}

// Shown is the display code value of codes as the table expects them.
func (t *Through) Shown(codes [3]float64) [3]float64 {
	v := t.Table.Apply(codes)
	if t.Direct() {
		for i := range v {
			v[i] = min(max(v[i], 0), 1)
		}
		return v
	}
	return t.screen.Display.Show(t.out.Apply(t.To.Light(v)), t.screen.Surround, &t.weights)
}
