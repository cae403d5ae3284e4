package colour

import "math"

// fitKnee is where the gamut fit begins to squeeze, as a share of the way from grey to the border.
const fitKnee = 0.8

// Fit brings a linear display colour into the unit cube without turning its hue: the colour
// moves towards the grey of its own luminance along a straight line in linear light. Below 80 %
// of the way to the border nothing happens; beyond, the way is squeezed softly so that no colour
// reaches the border. w holds the luminance weights of R, G and B.
func Fit(c, w [3]float64) [3]float64 {
	y := w[0]*c[0] + w[1]*c[1] + w[2]*c[2]
	if y <= 0 {
		return [3]float64{}
	}
	if y >= 1 {
		return [3]float64{1, 1, 1}
	}
	lo, hi := min(c[0], c[1], c[2]), max(c[0], c[1], c[2])
	e := max((y-lo)/y, (hi-y)/(1-y)) // 1 at the border
	if e <= fitKnee {
		return c
	}
	s := (fitKnee + (1-fitKnee)*(1-math.Exp(-(e-fitKnee)/(1-fitKnee)))) / e
	in := func(v float64) float64 { return min(max(y+(v-y)*s, 0), 1) } // the clamp catches rounding alone
	return [3]float64{in(c[0]), in(c[1]), in(c[2])}
}
