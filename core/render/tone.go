package render

import (
	"fmt"
	"math"

	"velours/core/film"
	"velours/core/vec"
)

// toneOp shows scene light without film: neutral scale, gamut fit, display curve.
type toneOp struct {
	screen film.Screen
	m      [12]float32
	w      [3]float32
	x0     float64
	encode *vec.Curve // over the eighth root of light
}

func newTone(s film.Screen) *toneOp {
	w := s.Display.Luminance()
	o := &toneOp{screen: s, m: s.Display.FromACEScg().Row12(), w: [3]float32{float32(w[0]), float32(w[1]), float32(w[2])}}
	o.x0 = s.Tone.Half(s.Display.Head())
	top := 1.0
	if s.Display.System() != 1 { // a channel may lie above 1 then; a piece begins where the logarithm does (BT.2100, table 5)
		top = math.Pow(1./12, 1./8) * vec.Segments / 11
	}
	o.encode = vec.NewCurve(0, top, func(u float64) float64 { return s.Display.Encode(math.Pow(max(u, 0), 8)) })
	return o
}

func (o *toneOp) Key() string {
	return fmt.Sprintf("tone %s %v %g", o.screen.Display.Key(), o.screen.Tone, o.screen.Surround)
}

func (o *toneOp) Columns(_, _, w, _ int) func(int, [3][]float32) {
	y, k, t := make([]float32, w, w+16), make([]float32, w, w+16), make([]float32, w, w+16)
	tone, head := &o.screen.Tone, o.screen.Display.Head()
	luminance := [4]float32{o.w[0], o.w[1], o.w[2]}
	c, lx, grey := float32(tone.Contrast), float32(math.Log2(o.x0)), float32(math.Log2(0.18))
	bent := tone.Toe != 0 || tone.RollOff != 0
	system := o.screen.Display.System()
	// k is what a colour is multiplied by, by the scale 1/((1 + (x₀/y)^c)·y) (colour.Tone.At)
	return func(_ int, rgb [3][]float32) {
		r, g, b := rgb[0], rgb[1], rgb[2]
		vec.Matrix(r, g, b, &o.m)
		vec.Sum(y, r, g, b, &luminance)
		if tone.Straight {
			for i := range k {
				k[i] = float32(1 / head)
			}
		} else {
			vec.Log2(t, y, 1e-12)
			if bent {
				vec.Sum(t, t, t, t, &[4]float32{1, 0, 0, -grey})
				vec.BendTone(t, t, float32(tone.Toe), float32(tone.RollOff))
				vec.Sum(t, t, t, t, &[4]float32{1, 0, 0, grey})
			}
			vec.Sum(t, t, t, t, &[4]float32{-c, 0, 0, c * lx})
			vec.Exp2(t, t)
			vec.Logistic(k, t, y)
		}
		if p := o.screen.Surround; p != 0 {
			vec.Product(t, y, k, float32(head))
			power(t, t, p)
			vec.Product(k, k, t, 1)
		}
		vec.FitGamut(r, g, b, k, &o.w)
		if system != 1 { // channels are treated together first (colour.Display.Code)
			vec.Sum(y, r, g, b, &luminance)
			power(t, y, (1-system)/system)
			for _, row := range rgb {
				vec.Product(row, row, t, 1)
			}
		}
		for _, row := range rgb {
			vec.EighthRoot(row, row)
			vec.ApplyCurve(row, row, o.encode)
		}
	}
}

// power sets dst = v^p of light; what is darker than any is taken for that.
func power(dst, v []float32, p float64) {
	vec.Log2(dst, v, 1e-30)
	vec.Sum(dst, dst, dst, dst, &[4]float32{float32(p)})
	vec.Exp2(dst, dst)
}
