package vec

import "math"

// ShortSegments is how many cubics a Short has: one register's worth, twice as fast as a Curve.
const ShortSegments = 8

// Short is a function on [Lo, Hi] as 8 cubics, going on in a straight line outside; for shapes that
// need not be followed closely. With root, the pieces are of equal length in the square root of the
// distance from Lo, for functions that hurry at the start.
type Short struct {
	Lo, Hi        float32
	scale         float32
	before, after float32
	root          bool
	// twice over, so that 16 lanes may permute them too
	c0, c1, c2, c3 [2 * ShortSegments]float32
}

// NewShort fits f as NewCurve does. With root, f must be finite and smooth in √(x−lo).
func NewShort(lo, hi float64, root bool, f func(float64) float64) *Short {
	c := &Short{Lo: float32(lo), Hi: float32(hi), root: root, scale: float32(ShortSegments / (hi - lo))}
	g := func(u float64) float64 { return f(lo + (hi-lo)*u/ShortSegments) }
	if root {
		c.scale = float32(ShortSegments * ShortSegments / (hi - lo))
		g = func(u float64) float64 { return f(lo + (hi-lo)*u*u/ShortSegments/ShortSegments) }
	}
	for i := range ShortSegments {
		p := fit(4, func(u float64) float64 { return g(float64(i) + u) })
		for _, k := range [2]int{i, i + ShortSegments} {
			c.c0[k], c.c1[k], c.c2[k], c.c3[k] = float32(p[0]), float32(p[1]), float32(p[2]), float32(p[3])
		}
	}
	w := (hi - lo) * 1e-4
	c.after = float32((f(hi) - f(hi-w)) / w)
	if !root {
		c.before = float32((f(lo+w) - f(lo)) / w)
	}
	return c
}

// At evaluates the function at one place, as the plain kernel does.
func (c *Short) At(x float32) float32 {
	if x != x {
		x = c.Lo
	}
	t := min(max(x, c.Lo), c.Hi)
	if x < t {
		return c.within(t) + (x-t)*c.before
	}
	return c.within(t) + (x-t)*c.after
}

func (c *Short) within(t float32) float32 {
	u := (t - c.Lo) * c.scale
	if c.root {
		u = float32(math.Sqrt(float64(u)))
	}
	i := min(int32(u), ShortSegments-1)
	u -= float32(i)
	return c.c0[i] + u*(c.c1[i]+u*(c.c2[i]+u*c.c3[i]))
}
