package path

import (
	"context"
	"fmt"
	"math"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/grain"
	"velours/core/scatter"
	"velours/core/vec"
)

// matrixOp multiplies scene-linear colours.
type matrixOp struct{ m colour.Matrix }

func (o *matrixOp) key() string { return fmt.Sprintf("matrix%v", o.m) }
func (o *matrixOp) strip(int, int, int, int) func(int, [3][]float32) {
	m := o.m.Row12()
	return func(_ int, c [3][]float32) { vec.Matrix(c[0], c[1], c[2], &m) }
}

// bloomOp is the lens's scatter.
type bloomOp struct{ cloud scatter.Cloud }

func (o *bloomOp) key() string   { return fmt.Sprintf("bloom%v", o.cloud) }
func (o *bloomOp) uniform() bool { return true }
func (o *bloomOp) run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	return scatter.Diffuse(ctx, src, o.cloud)
}

// halationOp acts on the exposure of the layers.
type halationOp struct {
	halo  scatter.Halo
	perMM float64
}

func (o *halationOp) key() string   { return fmt.Sprintf("halation%v%g", o.halo, o.perMM) }
func (o *halationOp) uniform() bool { return false }
func (o *halationOp) run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	return scatter.Halate(ctx, src, o.halo, o.perMM)
}

// developOp turns exposure into density: logarithm, rating, interlayer effect, characteristic curves.
type developOp struct {
	neg    *film.Negative
	m      [12]float32
	curves [3]*vec.Curve
}

// The curves are tabulated over this range of log exposure; beyond it they go on straight.
const logLo, logHi = -3.4, 3.4

func newDevelop(n *film.Negative) *developOp {
	o := &developOp{neg: n}
	shift := n.Shift() - math.Log10(0.18)
	for i := range 3 {
		sum := 0.0
		for j := range 3 {
			k := n.Coupling[3*i+j]
			o.m[4*i+j] = float32(k * math.Log10(2))
			sum += k
		}
		o.m[4*i+3] = float32(sum * shift)
		o.curves[i] = vec.NewCurve(logLo, logHi, func(x float64) float64 { return n.Curve(i, x) })
	}
	return o
}

func (o *developOp) key() string {
	return fmt.Sprintf("develop %s %v", o.neg.Stock.ID, o.neg.Process)
}

func (o *developOp) strip(number, x0, w, y0 int) func(int, [3][]float32) {
	f := o.stripFrom(number, x0, w, y0)
	return func(y int, c [3][]float32) { f(y, c, c) }
}

func (o *developOp) stripFrom(int, int, int, int) func(int, [3][]float32, [3][]float32) {
	return func(_ int, c, from [3][]float32) {
		for i := range c {
			vec.Log2(c[i], from[i], film.MinExposure)
		}
		vec.Matrix(c[0], c[1], c[2], &o.m)
		for i := range c {
			vec.ApplyCurve(c[i], c[i], o.curves[i])
		}
	}
}

// grainOp adds grain to density.
type grainOp struct {
	set grain.Setting
	gen *grain.Generator
}

func (o *grainOp) key() string { return fmt.Sprintf("grain%v", o.set) }
func (o *grainOp) strip(number, x0, w, y0 int) func(int, [3][]float32) {
	s := o.gen.Strip(number, x0, w, y0)
	return s.Add
}

// tableOp prints, projects and shows: density to display code values.
type tableOp struct {
	id    string
	table *film.Table
}

func (o *tableOp) key() string { return o.id }
func (o *tableOp) strip(int, int, int, int) func(int, [3][]float32) {
	return func(_ int, c [3][]float32) {
		for i := range c {
			vec.ApplyShort(c[i], c[i], o.table.Shapers[i])
		}
		vec.Apply3(c[0], c[1], c[2], o.table.Cube)
	}
}

// eachOp computes a colour at a time in float64: for taps that are asked for seldom.
type eachOp struct {
	id string
	f  func([3]float64) [3]float64
}

func (o *eachOp) key() string { return o.id }
func (o *eachOp) strip(int, int, int, int) func(int, [3][]float32) {
	return func(_ int, c [3][]float32) {
		for i := range c[0] {
			v := o.f([3]float64{float64(c[0][i]), float64(c[1][i]), float64(c[2][i])})
			c[0][i], c[1][i], c[2][i] = float32(v[0]), float32(v[1]), float32(v[2])
		}
	}
}

// toneOp shows scene light without film: neutral scale, gamut fit, display curve.
type toneOp struct {
	screen film.Screen
	m      [12]float32
	w      [3]float64
	x0     float64
	encode []float32
}

func newTone(s film.Screen) *toneOp {
	o := &toneOp{screen: s, m: s.Display.FromACEScg().Row12(), w: s.Display.Luminance()}
	o.x0 = 0.18 * math.Pow(1/s.Tone.Grey-1, 1/s.Tone.Contrast)
	// display curves are near straight in the square root of light
	o.encode = make([]float32, encodeSteps+2)
	for i := range o.encode {
		v := float64(i) / encodeSteps
		o.encode[i] = float32(s.Display.Encode(v * v))
	}
	return o
}

const encodeSteps = 4096

func (o *toneOp) key() string {
	return fmt.Sprintf("tone %s %v", o.screen.Display.ID, o.screen.Tone)
}

func (o *toneOp) code(v float32) float32 {
	if v < 1e-3 {
		return float32(o.screen.Display.Encode(float64(v)))
	}
	u := float32(math.Sqrt(float64(v))) * encodeSteps
	i := min(int(u), encodeSteps)
	return o.encode[i] + (o.encode[i+1]-o.encode[i])*(u-float32(i))
}

func (o *toneOp) strip(_, _, w, _ int) func(int, [3][]float32) {
	y, t := make([]float32, w, w+16), make([]float32, w, w+16)
	c := float32(o.screen.Tone.Contrast)
	lx := float32(math.Log2(o.x0))
	return func(_ int, rgb [3][]float32) {
		r, g, b := rgb[0], rgb[1], rgb[2]
		vec.Matrix(r, g, b, &o.m)
		vec.Mix(y, r, g, float32(o.w[0]), float32(o.w[1]))
		vec.Mix(y, y, b, 1, float32(o.w[2]))
		vec.Log2(t, y, 1e-12)
		for i := range t {
			t[i] = c * (lx - t[i])
		}
		vec.Exp2(t, t)
		for i, l := range y {
			k := float32(1)
			if l <= 0 {
				k = 0
			} else if !o.screen.Tone.Straight {
				k = 1 / (1 + t[i]) / l
			}
			v := colour.Fit([3]float64{float64(r[i] * k), float64(g[i] * k), float64(b[i] * k)}, o.w)
			r[i], g[i], b[i] = o.code(float32(v[0])), o.code(float32(v[1])), o.code(float32(v[2]))
		}
	}
}
