package vec

// Segments is how many cubics a Curve is made of: as many as stay in registers.
const Segments = 32

// Curve is a function on [Lo, Hi] as 32 cubics of equal length, going on in a straight line outside.
type Curve struct {
	Lo, Hi         float32
	scale          float32
	before         float32 // slope below Lo and above Hi
	after          float32
	c0, c1, c2, c3 [Segments]float32
}

// NewCurve fits f, with derivative by central differences, as cubic Hermite pieces: the curve
// goes through f at every knot with f's slope.
func NewCurve(lo, hi float64, f func(float64) float64) *Curve {
	c := &Curve{Lo: float32(lo), Hi: float32(hi), scale: float32(Segments / (hi - lo))}
	w := (hi - lo) / Segments
	e := w * 1e-3
	slope := func(x float64) float64 { return (f(x+e) - f(x-e)) / (2 * e) }
	for i := range Segments {
		a, b := lo+w*float64(i), lo+w*float64(i+1)
		y0, y1 := f(a), f(b)
		m0, m1 := slope(a)*w, slope(b)*w
		if i == 0 {
			m0 = (f(a+e) - f(a)) / e * w
			c.before = float32(m0 / w)
		}
		if i == Segments-1 {
			m1 = (f(b) - f(b-e)) / e * w
			c.after = float32(m1 / w)
		}
		c.c0[i] = float32(y0)
		c.c1[i] = float32(m0)
		c.c2[i] = float32(3*(y1-y0) - 2*m0 - m1)
		c.c3[i] = float32(2*(y0-y1) + m0 + m1)
	}
	return c
}

// At evaluates the curve at one place, as the plain kernel does.
func (c *Curve) At(x float32) float32 {
	t := min(max(x, c.Lo), c.Hi)
	out := x - t
	u := (t - c.Lo) * c.scale
	i := min(int32(u), Segments-1)
	u -= float32(i)
	y := c.c0[i] + u*(c.c1[i]+u*(c.c2[i]+u*c.c3[i]))
	if out < 0 {
		return y + out*c.before
	}
	return y + out*c.after
}
