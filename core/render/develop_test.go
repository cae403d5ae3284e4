package render

import (
	"math"
	"math/rand/v2"
	"testing"

	"velours/core/film"
	"velours/core/frame"
)

// The curves the kernels use are within 1e-4 of the characteristic curves, density being good to
// about 0.01 on a densitometer, however far the film is pushed; in the dark beyond the curves'
// range, where nothing but fog is left, within 1e-3.
func TestDevelopmentFollowsTheCurves(t *testing.T) {
	check := func(n *film.Negative, near, dark float64) {
		t.Helper()
		o := newDevelop(n)
		for layer, c := range o.curves {
			for x := -5.2; x < 4.7; x += 0.0017 {
				limit := near
				if x < CurveFrom {
					limit = dark
				}
				if e := math.Abs(float64(c.At(float32(x))) - n.Curve(layer, x)); e > limit {
					t.Fatalf("%s, %+v, layer %d: off by %.2g at %.2f", n.Stock.ID, n.Process, layer, e, x)
				}
			}
		}
	}
	for _, s := range film.Stocks() {
		steep := 1.0
		if s.Reversal {
			steep = 6 // three times as steep, and bent as hard
		}
		for _, push := range []float64{-1, 0, 2} {
			check(film.Develop(s, film.Process{Strength: 1, Push: push}), 1e-4*steep, 4e-3*steep)
		}
		// the hardest ends there are, and the softest, which go on into the dark
		check(film.Develop(s, film.Process{Strength: 1, Contrast: 0.4, Toe: -0.515, Shoulder: -0.515}), 1e-3*steep, 1e-3*steep)
		check(film.Develop(s, film.Process{Strength: 1, Contrast: -0.3, Toe: 1, Shoulder: 1}), 1e-3*steep, 0.02*steep)
	}
}

// The rows develop colours as the negative does, one by one: within three thousandths of density, the one-sided effect and what
// layers hear of spectra included.
func TestRowsDevelopAsTheNegativeDoes(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 21))
	const w = 512
	for _, s := range film.Stocks() {
		n := film.Develop(s, film.Process{Strength: 1})
		f := frame.New(w, 1, 3)
		light := make([][3]float64, w)
		for x := range light {
			y := 0.18 * math.Exp2(r.Float64()*9-5)
			for p := range 3 {
				light[x][p] = y * (0.05 + 1.4*r.Float64())
				f.Row(p, 0)[x] = float32(light[x][p])
			}
		}
		rows := [3][]float32{f.Row(0, 0), f.Row(1, 0), f.Row(2, 0)}
		exposing(n).Columns(0, 0, w, 0)(0, rows)
		newDevelop(n).Columns(0, 0, w, 0)(0, rows)
		worst := 0.0
		for x, c := range light {
			want := n.Develop(c)
			for p := range 3 {
				worst = max(worst, math.Abs(float64(rows[p][x])-want[p]))
			}
		}
		limit := 3e-3
		if s.Reversal {
			limit = 9e-3 // three times as steep
		}
		if n.Natural() {
			limit = 0.02 // between the nodes of what is heard of spectra
		}
		if worst > limit {
			t.Errorf("%s: off by %.4f", s.ID, worst)
		}
	}
}
