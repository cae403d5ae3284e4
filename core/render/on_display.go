package render

import (
	"context"

	"velours/core/film"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/scope"
	"velours/core/vec"
)

// enterOp brings a display's code values to the terms of scene light, white at 1, and leaveOp brings them back.
type enterOp struct{ screen film.Screen }

func (o *enterOp) Key() string { return "enter " + o.screen.Display.Key() }
func (o *enterOp) Columns(int, int, int, int) func(int, [3][]float32) {
	d := o.screen.Display
	light, m := scope.Decoder(d), d.FromACEScg()
	k := m.Inverse().Scale(d.Head()).Row12()
	return func(_ int, c [3][]float32) {
		for i := range c[0] {
			v := light([3]float64{float64(c[0][i]), float64(c[1][i]), float64(c[2][i])})
			c[0][i], c[1][i], c[2][i] = float32(v[0]), float32(v[1]), float32(v[2])
		}
		vec.Matrix(c[0], c[1], c[2], &k)
	}
}

type leaveOp struct{ screen film.Screen }

func (o *leaveOp) Key() string { return "leave " + o.screen.Display.Key() }
func (o *leaveOp) Columns(int, int, int, int) func(int, [3][]float32) {
	d := o.screen.Display
	code, w, m := scope.Encoder(d), d.Luminance(), d.FromACEScg()
	k := m.Scale(1 / d.Head()).Row12()
	return func(_ int, c [3][]float32) {
		vec.Matrix(c[0], c[1], c[2], &k)
		for i := range c[0] {
			v := [3]float64{float64(c[0][i]), float64(c[1][i]), float64(c[2][i])}
			v = code(inside(v, w))
			c[0][i], c[1][i], c[2][i] = float32(v[0]), float32(v[1]), float32(v[2])
		}
	}
}

// inside moves a colour that a display cannot show towards the grey of its luminance until it can; w holds the
// weights of luminance.
func inside(c, w [3]float64) [3]float64 {
	lo, hi := min(c[0], c[1], c[2]), max(c[0], c[1], c[2])
	if lo >= 0 && hi <= 1 {
		return c
	}
	y := min(max(w[0]*c[0]+w[1]*c[1]+w[2]*c[2], 0), 1)
	s := 1.0
	if lo < 0 {
		s = min(s, y/(y-lo))
	}
	if hi > 1 {
		s = min(s, (1-y)/(hi-y))
	}
	for i, v := range c {
		c[i] = min(max(y+(v-y)*s, 0), 1)
	}
	return c
}

// SceneTerms brings a picture that left a station to scene-linear terms: codes of the finish are taken for light
// of the plan's display, white at 1.
func (p *Plan) SceneTerms(ctx context.Context, f *frame.Frame, tap look.Station) (*frame.Frame, error) {
	if tap.Index() < look.Screen.Index() {
		return f, nil
	}
	return fuse(ctx, []Pointwise{&enterOp{film.Screen{Display: p.Display}}}, f, 0, 0, 0)
}
