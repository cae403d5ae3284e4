package stage

import "math"

// V is a point, a direction or a colour.
type V struct{ X, Y, Z float64 }

func (a V) Add(b V) V            { return V{a.X + b.X, a.Y + b.Y, a.Z + b.Z} }
func (a V) Sub(b V) V            { return V{a.X - b.X, a.Y - b.Y, a.Z - b.Z} }
func (a V) Mul(b V) V            { return V{a.X * b.X, a.Y * b.Y, a.Z * b.Z} }
func (a V) Scale(k float64) V    { return V{a.X * k, a.Y * k, a.Z * k} }
func (a V) Dot(b V) float64      { return a.X*b.X + a.Y*b.Y + a.Z*b.Z }
func (a V) Len() float64         { return math.Sqrt(a.Dot(a)) }
func (a V) Unit() V              { return a.Scale(1 / max(a.Len(), 1e-30)) }
func (a V) Mix(b V, t float64) V { return a.Scale(1 - t).Add(b.Scale(t)) }
func (a V) Max() float64         { return max(a.X, max(a.Y, a.Z)) }
func (a V) Cross(b V) V {
	return V{a.Y*b.Z - a.Z*b.Y, a.Z*b.X - a.X*b.Z, a.X*b.Y - a.Y*b.X}
}

// Grey is a colour with three equal parts.
func Grey(k float64) V { return V{k, k, k} }

// Frame is an affine placement: columns X, Y, Z and an origin.
type Frame struct{ X, Y, Z, O V }

// At places a shape at o without turning it.
func At(x, y, z float64) Frame { return Frame{V{1, 0, 0}, V{0, 1, 0}, V{0, 0, 1}, V{x, y, z}} }

// Sized scales the local axes.
func (f Frame) Sized(x, y, z float64) Frame {
	return Frame{f.X.Scale(x), f.Y.Scale(y), f.Z.Scale(z), f.O}
}

func (f Frame) dir(v V) V { return f.X.Scale(v.X).Add(f.Y.Scale(v.Y)).Add(f.Z.Scale(v.Z)) }

// Point takes a local point to the outer space.
func (f Frame) Point(v V) V { return f.dir(v).Add(f.O) }

// In places an inner frame inside f.
func (f Frame) In(g Frame) Frame { return Frame{f.dir(g.X), f.dir(g.Y), f.dir(g.Z), f.Point(g.O)} }

// Turned rotates about the local axes, x first, then y, then z (radians).
func (f Frame) Turned(x, y, z float64) Frame {
	sx, cx := math.Sincos(x)
	sy, cy := math.Sincos(y)
	sz, cz := math.Sincos(z)
	r := Frame{V{cz * cy, sz * cy, -sy}, V{cz*sy*sx - sz*cx, sz*sy*sx + cz*cx, cy * sx}, V{cz*sy*cx + sz*sx, sz*sy*cx - cz*sx, cy * cx}, V{}}
	return f.In(r)
}

// Along is a frame whose y axis runs from a to b, unit lengths across.
func Along(a, b V) Frame {
	y := b.Sub(a)
	u := y.Unit()
	side := V{1, 0, 0}
	if math.Abs(u.X) > 0.8 {
		side = V{0, 0, 1}
	}
	z := side.Cross(u).Unit()
	x := u.Cross(z)
	return Frame{x, y.Scale(0.5), z, a.Mix(b, 0.5)}
}

func (f Frame) inverse() Frame {
	c := f.Y.Cross(f.Z)
	det := f.X.Dot(c)
	k := 1 / det
	r0, r1, r2 := c.Scale(k), f.Z.Cross(f.X).Scale(k), f.X.Cross(f.Y).Scale(k)
	inv := Frame{V{r0.X, r1.X, r2.X}, V{r0.Y, r1.Y, r2.Y}, V{r0.Z, r1.Z, r2.Z}, V{}}
	inv.O = inv.dir(f.O).Scale(-1)
	return inv
}

// normal takes a local gradient to the outer space by the inverse transpose.
func (inv Frame) normal(n V) V {
	return V{inv.X.Dot(n), inv.Y.Dot(n), inv.Z.Dot(n)}.Unit()
}
