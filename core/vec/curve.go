package vec

import "math"

// Segments is how many quartics a Curve is made of: few enough that a coefficient is looked up in
// two registers of eight lanes, or one of sixteen.
const Segments = 16

// Curve is a function on [Lo, Hi] as 16 quartics of equal length, going on in a straight line outside.
type Curve struct {
	c      [5][Segments]float32 // first, so that they start with a cache line
	Lo, Hi float32
	scale  float32
	before float32 // slope below Lo and above Hi
	after  float32
}

// NewCurve fits f: the curve goes through f at every knot, and between knots stays as near as a
// quartic can in the mean square. The straight lines outside are chords a quarter of the range long.
func NewCurve(lo, hi float64, f func(float64) float64) *Curve {
	c := &Curve{Lo: float32(lo), Hi: float32(hi), scale: float32(Segments / (hi - lo))}
	w := (hi - lo) / Segments
	for i := range Segments {
		p := fit(5, func(u float64) float64 { return f(lo + w*(float64(i)+u)) })
		for k := range c.c {
			c.c[k][i] = float32(p[k])
		}
	}
	far := (hi - lo) / 4
	c.before, c.after = float32((f(lo)-f(lo-far))/far), float32((f(hi+far)-f(hi))/far)
	return c
}

// fit returns the n coefficients of the polynomial that meets f at 0 and 1 and is nearest to it
// between, by least squares at Chebyshev points, where the largest error is about the least.
func fit(n int, f func(float64) float64) []float64 {
	y0, y1 := f(0), f(1)
	// f is the chord and u(1−u) times a polynomial of n−2 coefficients, whose normal equations are a
	const points = 24
	m := n - 2
	a := make([][]float64, m)
	for i := range a {
		a[i] = make([]float64, m+1)
	}
	for k := range points {
		u := 0.5 - 0.5*math.Cos(math.Pi*(float64(k)+0.5)/points)
		r := f(u) - (y0 + u*(y1-y0))
		basis := make([]float64, m)
		for i := range basis {
			basis[i] = u * (1 - u) * math.Pow(u, float64(i))
		}
		for i, p := range basis {
			for j, q := range basis {
				a[i][j] += p * q
			}
			a[i][m] += p * r
		}
	}
	for i := range m { // Gauss and Jordan; the matrix is positive definite
		for j := range m {
			if k := a[j][i] / a[i][i]; j != i {
				for l := range a[j] {
					a[j][l] -= k * a[i][l]
				}
			}
		}
	}
	c := make([]float64, n)
	c[0], c[1] = y0, y1-y0
	for i := range m {
		v := a[i][m] / a[i][i]
		c[i+1] += v
		c[i+2] -= v
	}
	return c
}

// At evaluates the curve at one place, as the plain kernel does.
func (c *Curve) At(x float32) float32 {
	if x != x {
		x = c.Lo
	}
	t := min(max(x, c.Lo), c.Hi)
	out := x - t
	u := (t - c.Lo) * c.scale
	i := min(int32(u), Segments-1)
	u -= float32(i)
	y := c.c[0][i] + u*(c.c[1][i]+u*(c.c[2][i]+u*(c.c[3][i]+u*c.c[4][i])))
	if out < 0 {
		return y + out*c.before
	}
	return y + out*c.after
}
