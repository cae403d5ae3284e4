package render

import (
	"math"
	"testing"

	"velours/core/film"
)

// The curves the kernels use are within 5e-5 of the characteristic curves, density being good to
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
			check(film.Develop(s, film.Process{Strength: 1, Push: push}), 5e-5*steep, 1.5e-3*steep)
		}
		// the hardest ends there are, and the softest, which go on into the dark
		check(film.Develop(s, film.Process{Strength: 1, Contrast: 0.4, Toe: -0.515, Shoulder: -0.515}), 1e-3*steep, 1e-3*steep)
		check(film.Develop(s, film.Process{Strength: 1, Contrast: -0.3, Toe: 1, Shoulder: 1}), 1e-3*steep, 0.02*steep)
	}
}
