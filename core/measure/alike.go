package measure

import (
	"math"

	"velours/core/frame"
	"velours/core/grade"
)

// Light is what the light of a shot is like as its camera saw it, in stops: how bright it is in the mean, how far its tones spread, and
// how much redder and bluer than green it is.
type Light struct{ Level, Spread, Red, Blue float64 }

// alike are the differences, in stops, at which shots are just of one light: exposure as it wanders between takes, and a white
// balance as one would still leave it.
var alike = Light{Level: 0.6, Spread: 0.6, Red: 0.25, Blue: 0.25}

// lightFrom and lightTo bound the tones that count, in stops from grey: noise and what is clipped do not.
const lightFrom, lightTo = -6.0, 5.0

// LightOf measures pictures of scene-linear ACEScg light; they count alike.
func LightOf(pictures ...*frame.Frame) Light {
	var n, sum, squares, red, blue float64
	for _, f := range pictures {
		for y := range f.H {
			r, g, b := f.Row(0, y), f.Row(1, y)[:f.W], f.Row(2, y)[:f.W]
			for x, v := range r {
				c := [3]float64{float64(v), float64(g[x]), float64(b[x])}
				l := grade.Stops(grade.Luma[0]*c[0] + grade.Luma[1]*c[1] + grade.Luma[2]*c[2])
				if !(l > lightFrom && l < lightTo) || min(c[0], c[1], c[2]) <= 0 {
					continue
				}
				n++
				sum += l
				squares += l * l
				red += math.Log2(c[0] / c[1])
				blue += math.Log2(c[2] / c[1])
			}
		}
	}
	if n == 0 {
		return Light{}
	}
	mean := sum / n
	return Light{mean, math.Sqrt(max(squares/n-mean*mean, 0)), red / n, blue / n}
}

// Apart is how far two lights are apart: up to 1 shots are of the same light.
func (l Light) Apart(o Light) float64 {
	return max(math.Abs(l.Level-o.Level)/alike.Level, math.Abs(l.Spread-o.Spread)/alike.Spread, math.Abs(l.Red-o.Red)/alike.Red, math.Abs(l.Blue-o.Blue)/alike.Blue)
}
