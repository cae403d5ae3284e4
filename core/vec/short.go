package vec

import "math"

// ShortSegments is how many cubics a Short has: one register's worth, four times as fast as a Curve.
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
	const e = 1e-3
	for i := range ShortSegments {
		a, b := float64(i), float64(i+1)
		y0, y1 := g(a), g(b)
		m0, m1 := (g(a+e)-g(max(a-e, 0)))/(a+e-max(a-e, 0)), (g(min(b+e, ShortSegments))-g(b-e))/(min(b+e, ShortSegments)-b+e)
		for _, k := range [2]int{i, i + ShortSegments} {
			c.c0[k], c.c1[k] = float32(y0), float32(m0)
			c.c2[k], c.c3[k] = float32(3*(y1-y0)-2*m0-m1), float32(2*(y0-y1)+m0+m1)
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
	t := min(max(x, c.Lo), c.Hi)
	out := x - t
	u := (t - c.Lo) * c.scale
	if c.root {
		u = float32(math.Sqrt(float64(u)))
	}
	i := min(int32(u), ShortSegments-1)
	u -= float32(i)
	y := c.c0[i] + u*(c.c1[i]+u*(c.c2[i]+u*c.c3[i]))
	if out < 0 {
		return y + out*c.before
	}
	return y + out*c.after
}
