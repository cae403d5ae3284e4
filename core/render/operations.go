package render

import (
	"fmt"
	"math"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/scatter"
	"velours/core/vec"
)

// matrixOp multiplies scene-linear colours.
type matrixOp struct{ m colour.Matrix }

func (o *matrixOp) Key() string { return fmt.Sprintf("matrix%v", o.m) }
func (o *matrixOp) Columns(int, int, int, int) func(int, [3][]float32) {
	m := o.m.Row12()
	if wide(o.m) {
		return func(_ int, c [3][]float32) {
			vec.Matrix(c[0], c[1], c[2], &m)
			boundRows(c)
		}
	}
	return func(_ int, c [3][]float32) { vec.Matrix(c[0], c[1], c[2], &m) }
}

// joinOp is the last step of a spatial operation, as the first of the pointwise ones after it.
type joinOp struct{ spread *scatter.Spread }

func (o *joinOp) Key() string { return "join" }
func (o *joinOp) Columns(_, x0, w, _ int) func(int, [3][]float32) {
	return o.spread.Columns(x0, w)
}
func (o *joinOp) ColumnsFrom(_, x0, w, _ int) func(int, [3][]float32, [3][]float32) {
	f := o.spread.Columns(x0, w)
	return func(y int, rgb, _ [3][]float32) { f(y, rgb) }
}

// developOp turns exposure into density: logarithm, rating, interlayer effect, characteristic curves.
type developOp struct {
	neg *film.Negative
	// effect is what a layer's exposure, as the others feel it, adds to theirs; the rating is its offset.
	effect [12]float32
	felt   *vec.Short // of log2 exposure
	// finer is felt where differences of it count twice: with a one-sided effect.
	finer  *vec.Curve
	curves [3]*vec.Curve
	// oneSided are the pairs of layers of which one gains where the other develops more; none in most stocks.
	oneSided []oneSided
}

// oneSided is a pair of layers: by how much either gains where the other develops more.
type oneSided struct {
	a, b   int
	ka, kb float32
}

// felt is film.Felt as the kernels have it, within a ten-thousandth; beyond it does not rise.
var felt = vec.NewShort(0, 1.2, true, film.Felt)

// The curves are tabulated over this range of log exposure; beyond it they go on straight.
const CurveFrom, CurveTo = -3.2, 4.7

var log10of2 = math.Log10(2)

// feltPad is how far beyond toe and shoulder the effect on other layers is tabulated: it is flat there.
const feltPad = 1.1

// developOf is that of a negative, which is kept: its curves are fitted, and a look is compiled for every change.
func developOf(n *film.Negative) *developOp {
	o, _ := developed.Get(negativeKey(n), func() (*developOp, error) { return newDevelop(n), nil })
	return o
}

func newDevelop(n *film.Negative) *developOp {
	o := &developOp{neg: n, effect: n.Coupling.Row12()}
	shift := n.Shift() - math.Log10(0.18)
	for i := range 3 {
		o.effect[4*i+3] = float32(shift)
		o.curves[i] = vec.NewCurve(CurveFrom, CurveTo, func(x float64) float64 { return n.Curve(i, x) })
	}
	// to a thousandth of log exposure where layers develop, of which others feel a third at most
	from, to := n.Developed()
	develops := func(x float64) float64 { return n.Developing(x*log10of2 + shift) }
	o.felt = vec.NewShort((from-feltPad-shift)/log10of2, (to+feltPad-shift)/log10of2, false, develops)
	for _, p := range [][2]int{{0, 1}, {0, 2}, {1, 2}} {
		if ka, kb := n.OneSided[3*p[0]+p[1]], n.OneSided[3*p[1]+p[0]]; ka != 0 || kb != 0 {
			o.oneSided = append(o.oneSided, oneSided{p[0], p[1], float32(ka), float32(kb)})
			o.finer = vec.NewCurve((from-feltPad-shift)/log10of2, (to+feltPad-shift)/log10of2, develops)
		}
	}
	return o
}

func (o *developOp) Key() string {
	return fmt.Sprintf("develop %s %v", o.neg.Stock.Key(), o.neg.Process)
}

func (o *developOp) Columns(number, x0, w, y0 int) func(int, [3][]float32) {
	f := o.ColumnsFrom(number, x0, w, y0)
	return func(y int, c [3][]float32) { f(y, c, c) }
}

func (o *developOp) ColumnsFrom(_, _, w, _ int) func(int, [3][]float32, [3][]float32) {
	flash := float32(0.18 * o.neg.Process.Flash)
	rows := func() (r [3][]float32) {
		for i := range r {
			r[i] = make([]float32, w, w+16)
		}
		return r
	}
	feels := rows()
	var gains [3][]float32
	if len(o.oneSided) > 0 {
		gains = rows()
	}
	return func(_ int, c, from [3][]float32) {
		for i := range c {
			if flash > 0 {
				for k, v := range from[i] {
					c[i][k] = max(v, film.MinExposure) + flash
				}
				from[i] = c[i]
			}
			vec.Log2(c[i], from[i], film.MinExposure)
			if o.finer != nil {
				vec.ApplyCurve(feels[i], c[i], o.finer)
			} else {
				vec.ApplyShort(feels[i], c[i], o.felt)
			}
		}
		if gains[0] != nil {
			for i := range gains {
				clear(gains[i])
			}
			for _, p := range o.oneSided {
				vec.OneSided(gains[p.a], gains[p.b], feels[p.a], feels[p.b], p.ka, p.kb, felt)
			}
		}
		vec.Matrix(feels[0], feels[1], feels[2], &o.effect)
		for i := range c {
			vec.Mix(c[i], c[i], feels[i], float32(log10of2), 1)
			if gains[0] != nil {
				vec.Mix(c[i], c[i], gains[i], 1, 1)
			}
			vec.ApplyCurve(c[i], c[i], o.curves[i])
		}
	}
}

// tableOp prints, projects and shows: density to display code values.
type tableOp struct {
	id    string
	table *film.Table
}

func (o *tableOp) Key() string { return o.id }
func (o *tableOp) Columns(int, int, int, int) func(int, [3][]float32) {
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

func (o *eachOp) Key() string { return o.id }
func (o *eachOp) Columns(int, int, int, int) func(int, [3][]float32) {
	return func(_ int, c [3][]float32) {
		for i := range c[0] {
			v := o.f([3]float64{float64(c[0][i]), float64(c[1][i]), float64(c[2][i])})
			c[0][i], c[1][i], c[2][i] = float32(v[0]), float32(v[1]), float32(v[2])
		}
		boundRows(c)
	}
}

// throughOp prints with a table whose codes are the screen's.
type throughOp struct {
	id string
	t  *film.Through
}

func (o *throughOp) Key() string { return o.id }
func (o *throughOp) Columns(_, _, w, _ int) func(int, [3][]float32) {
	scratch := make([]float32, w, w+16)
	return func(_ int, c [3][]float32) { o.t.Rows(c[0], c[1], c[2], scratch) }
}
