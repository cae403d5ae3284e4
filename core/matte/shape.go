package matte

import "math"

// Feather is how far a shape fades, inwards and outwards of its edge, as shares of the width.
type Feather struct{ In, Out float64 }

// pixels are the feather's widths in a picture. A sharp edge is as soft as a pixel.
func (f Feather) pixels(s Size) (in, out float64) {
	return max(f.In*float64(s.W), 0.5), max(f.Out*float64(s.W), 0.5)
}

// Placed is where a shape lies: its centre in shares of width and height, turned by Angle degrees.
type Placed struct{ X, Y, Angle float64 }

// local returns a function from pixels to the shape's own axes, in pixels.
func (p Placed) local(s Size) func(x, y float64) (float64, float64) {
	sin, cos := math.Sincos(p.Angle * math.Pi / 180)
	cx, cy := p.X*float64(s.W), p.Y*float64(s.H)
	return func(x, y float64) (float64, float64) {
		x, y = x-cx, y-cy
		return x*cos + y*sin, y*cos - x*sin
	}
}

// outside runs a signed distance, in pixels, over rows.
func outside(s Size, f Feather, distance func(x, y float64) float64) func(m []float32, y, x0 int, r, g, b []float32) {
	in, out := f.pixels(s)
	k := 1 / (in + out)
	return func(m []float32, y, x0 int, _, _, _ []float32) {
		for i := range m {
			d := distance(float64(x0+i)+0.5, float64(y)+0.5)
			switch {
			case d >= out:
				m[i] = 0
			case d <= -in:
				m[i] = 1
			default:
				u := (out - d) * k
				m[i] = float32(u * u * (3 - 2*u))
			}
		}
	}
}

// Ellipse has half axes A and B, shares of the width.
type Ellipse struct {
	Placed
	A, B float64
	Feather
}

// Rows implements Part. Distance is measured along the ray from the centre and by the slope there (Taubin 1994),
// exact on the axes.
func (e Ellipse) Rows(s Size) func(m []float32, y, x0 int, r, g, b []float32) {
	local := e.local(s)
	a, b := max(e.A*float64(s.W), 0.5), max(e.B*float64(s.W), 0.5)
	least := min(a, b)
	edge := outside(s, e.Feather, func(x, y float64) float64 {
		x, y = local(x, y)
		u, v := x/a, y/b
		q := u*u + v*v
		if q == 0 {
			return -least
		}
		q = math.Sqrt(q)
		u, v = u/a, v/b
		return (q - 1) * q / math.Sqrt(u*u+v*v)
	})
	// a distance is (q − 1) times something from the lesser axis to the greater, so that q tells what lies wholly in or out
	in, out := e.pixels(s)
	inside, beyond := max(1-in/least, 0), 1+out/least
	inside, beyond = inside*inside*(1-1e-9), beyond*beyond*(1+1e-9)
	sin, cos := math.Sincos(e.Angle * math.Pi / 180)
	cx, cy := e.X*float64(s.W), e.Y*float64(s.H)
	du, dv := cos/a, -sin/b
	return func(m []float32, y, x0 int, r, g, b0 []float32) {
		dx, dy := float64(x0)+0.5-cx, float64(y)+0.5-cy
		u0, v0 := (dx*cos+dy*sin)/a, (dy*cos-dx*sin)/b
		q := func(i int) float64 {
			u, v := u0+float64(i)*du, v0+float64(i)*dv
			return u*u + v*v
		}
		for i := 0; i < len(m); {
			switch k := q(i); {
			case k > beyond:
				m[i] = 0
				i++
			case k < inside:
				m[i] = 1
				i++
			default:
				from := i
				for i++; i < len(m); i++ {
					if k := q(i); k > beyond || k < inside {
						break
					}
				}
				edge(m[from:i], y, x0+from, nil, nil, nil)
			}
		}
	}
}

// Rectangle has half sides A and B, shares of the width.
type Rectangle struct {
	Placed
	A, B float64
	Feather
}

// Rows implements Part.
func (e Rectangle) Rows(s Size) func(m []float32, y, x0 int, r, g, b []float32) {
	local := e.local(s)
	a, b := e.A*float64(s.W), e.B*float64(s.W)
	return outside(s, e.Feather, func(x, y float64) float64 {
		x, y = local(x, y)
		x, y = math.Abs(x)-a, math.Abs(y)-b
		if x <= 0 || y <= 0 {
			return max(x, y)
		}
		return math.Sqrt(x*x + y*y)
	})
}

// Gradient covers one side of a line through its centre, and fades over Length, a share of the width, half on
// either side. At angle 0 it covers the top.
type Gradient struct {
	Placed
	Length float64
}

// Rows implements Part.
func (e Gradient) Rows(s Size) func(m []float32, y, x0 int, r, g, b []float32) {
	local := e.local(s)
	half := e.Length / 2
	return outside(s, Feather{half, half}, func(x, y float64) float64 {
		_, y = local(x, y)
		return y
	})
}
