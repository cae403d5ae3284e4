package scope

import "math"

// SkinAngle is where skin of every tone lies on a vectorscope, in degrees from the blue-difference axis
// towards the red: the in-phase axis of the first colour system, 33° from the red-difference axis
// (SMPTE ST 170, section 7.4).
const SkinAngle = 123

// Target is a point on the vectorscope that a saturated colour of the display reaches.
type Target struct {
	Label string  `json:"label"`
	Cb    float64 `json:"cb"`
	Cr    float64 `json:"cr"`
	// Level is the code value of the colour's channels, 0.75 or 1.
	Level float64 `json:"level"`
}

// differences are the scaled colour differences of code values: ±½ at full saturation (ITU-R BT.709-6,
// items 3.3 and 3.4, with the weights of the display's own primaries).
func differences(c, w [3]float64) (cb, cr float64) {
	y := w[0]*c[0] + w[1]*c[1] + w[2]*c[2]
	return (c[2] - y) / (2 * (1 - w[2])), (c[0] - y) / (2 * (1 - w[0]))
}

// Targets are the display's primaries and their mixtures at three quarters and at full code value.
func Targets(weights [3]float64) []Target {
	var list []Target
	for _, level := range []float64{0.75, 1} {
		for _, t := range []struct {
			label string
			c     [3]float64
		}{{"R", [3]float64{1, 0, 0}}, {"Y", [3]float64{1, 1, 0}}, {"G", [3]float64{0, 1, 0}}, {"C", [3]float64{0, 1, 1}}, {"B", [3]float64{0, 0, 1}}, {"M", [3]float64{1, 0, 1}}} {
			for i := range t.c {
				t.c[i] *= level
			}
			cb, cr := differences(t.c, weights)
			list = append(list, Target{t.label, cb, cr, level})
		}
	}
	return list
}

// VectorReach is how far from the middle the scope reaches unzoomed; beyond it lies no code value.
const VectorReach = 0.62

// Vector counts the colour differences of code values on a square of size cells, blue difference to the
// right and red difference upwards, the middle zoom times enlarged.
func Vector(p Picture, size int, zoom float64) *Trace {
	t := newTrace(size, size, 1)
	t.Share = []float64{Unit * float64(p.W) * float64(p.H)}
	w := p.Weights
	kr, kg, kb := float32(w[0]), float32(w[1]), float32(w[2])
	mid := float32(size-1) / 2
	reach := mid * float32(zoom/VectorReach)
	nb, nr := 1/(2*(1-kb)), 1/(2*(1-kr))
	for y := range p.H {
		r, g, b := p.Row(0, y), p.Row(1, y), p.Row(2, y)
		for x := range r {
			l := kr*r[x] + kg*g[x] + kb*b[x]
			t.splat(mid+(b[x]-l)*nb*reach, mid-(r[x]-l)*nr*reach)
		}
	}
	return t
}

// VectorAt is where a pixel stands on the scope, in shares of its side from the left and the top.
func VectorAt(c, weights [3]float64, zoom float64) (u, v float64) {
	cb, cr := differences(c, weights)
	return 0.5 + cb*zoom/VectorReach/2, 0.5 - cr*zoom/VectorReach/2
}

// SkinEnd is the outer end of the skin line in shares of the scope's side.
func SkinEnd() (u, v float64) {
	s, c := math.Sincos(SkinAngle * math.Pi / 180)
	return 0.5 + 0.46*c, 0.5 - 0.46*s
}
