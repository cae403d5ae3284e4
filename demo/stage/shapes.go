package stage

import "math"

// Ray is origin plus direction; the direction need not be of unit length.
type Ray struct{ O, D V }

// Shape is a solid in its own local space.
type Shape interface {
	// hit returns the nearest t in (tmin, tmax) and the local surface gradient.
	hit(o, d V, tmin, tmax float64) (float64, V, bool)
	box() (lo, hi V)
}

// Ball is the unit sphere; placed by a frame it is any ellipsoid.
type Ball struct{}

func (Ball) box() (V, V) { return V{-1, -1, -1}, V{1, 1, 1} }
func (Ball) hit(o, d V, tmin, tmax float64) (float64, V, bool) {
	a, b, c := d.Dot(d), o.Dot(d), o.Dot(o)-1
	h := b*b - a*c
	if h < 0 {
		return 0, V{}, false
	}
	h = math.Sqrt(h)
	t := (-b - h) / a
	if t < tmin {
		t = (-b + h) / a
	}
	if t < tmin || t > tmax {
		return 0, V{}, false
	}
	return t, o.Add(d.Scale(t)), true
}

// Block is the cube from -1 to 1.
type Block struct{}

func (Block) box() (V, V) { return V{-1, -1, -1}, V{1, 1, 1} }
func (Block) hit(o, d V, tmin, tmax float64) (float64, V, bool) {
	t0, t1 := math.Inf(-1), math.Inf(1)
	var n0, n1 V
	axis := func(o, d float64, e V) bool {
		if d == 0 {
			return math.Abs(o) <= 1
		}
		a, b := (-1-o)/d, (1-o)/d
		s := -1.0
		if a > b {
			a, b, s = b, a, 1
		}
		if a > t0 {
			t0, n0 = a, e.Scale(s)
		}
		if b < t1 {
			t1, n1 = b, e.Scale(-s)
		}
		return true
	}
	if !axis(o.X, d.X, V{1, 0, 0}) || !axis(o.Y, d.Y, V{0, 1, 0}) || !axis(o.Z, d.Z, V{0, 0, 1}) || t0 > t1 {
		return 0, V{}, false
	}
	if t0 > tmin && t0 < tmax {
		return t0, n0, true
	}
	if t1 > tmin && t1 < tmax {
		return t1, n1, true
	}
	return 0, V{}, false
}

// Drum is a cylinder of radius 1 along y from -1 to 1; Top is the radius at y = 1.
type Drum struct{ Top float64 }

func (c Drum) box() (V, V) { r := max(1, c.Top); return V{-r, -1, -r}, V{r, 1, r} }
func (c Drum) hit(o, d V, tmin, tmax float64) (float64, V, bool) {
	best, n, ok := tmax, V{}, false
	// radius(y) = m + k·y
	m, k := (1+c.Top)/2, (c.Top-1)/2
	ro, rd := m+k*o.Y, k*d.Y
	a := d.X*d.X + d.Z*d.Z - rd*rd
	b := o.X*d.X + o.Z*d.Z - ro*rd
	q := o.X*o.X + o.Z*o.Z - ro*ro
	if h := b*b - a*q; h >= 0 && a != 0 {
		h = math.Sqrt(h)
		for _, t := range [2]float64{(-b - h) / a, (-b + h) / a} {
			y := o.Y + t*d.Y
			if t > tmin && t < best && y >= -1 && y <= 1 {
				p := o.Add(d.Scale(t))
				best, n, ok = t, V{p.X, -k * (m + k*y), p.Z}, true
			}
		}
	}
	if d.Y != 0 {
		for _, cap := range [2]struct{ y, r float64 }{{-1, 1}, {1, c.Top}} {
			t := (cap.y - o.Y) / d.Y
			x, z := o.X+t*d.X, o.Z+t*d.Z
			if t > tmin && t < best && x*x+z*z <= cap.r*cap.r {
				best, n, ok = t, V{0, cap.y, 0}, true
			}
		}
	}
	return best, n, ok
}

// Field is a shape given by a signed distance, marched inside its box.
// Slack below 1 shortens the steps where the function overestimates.
type Field struct {
	Lo, Hi   V
	Distance func(V) float64
	// Rough, if set, is a cheaper stand-in to march with; the last step and the normal use Distance.
	Rough func(V) float64
	Slack float64
	Steps int
}

func (f *Field) box() (V, V) { return f.Lo, f.Hi }
func (f *Field) hit(o, d V, tmin, tmax float64) (float64, V, bool) {
	t0, t1, ok := slab(f.Lo, f.Hi, o, V{1 / d.X, 1 / d.Y, 1 / d.Z}, tmin, tmax)
	if !ok {
		return 0, V{}, false
	}
	l := d.Len()
	eps := 1e-4 * f.Hi.Sub(f.Lo).Max()
	t := t0
	if s := f.Distance(o.Add(d.Scale(t))); s < 0 && t0 <= tmin {
		t += 4 * eps / l
	}
	march := f.Distance
	if f.Rough != nil {
		march = f.Rough
	}
	for range f.Steps {
		s := march(o.Add(d.Scale(t)))
		if s < eps {
			p := o.Add(d.Scale(t))
			e := 3 * eps
			g := V{
				f.Distance(V{p.X + e, p.Y, p.Z}) - f.Distance(V{p.X - e, p.Y, p.Z}),
				f.Distance(V{p.X, p.Y + e, p.Z}) - f.Distance(V{p.X, p.Y - e, p.Z}),
				f.Distance(V{p.X, p.Y, p.Z + e}) - f.Distance(V{p.X, p.Y, p.Z - e}),
			}
			return t, g, t > tmin
		}
		t += s * f.Slack / l
		if t > t1 {
			return 0, V{}, false
		}
	}
	return 0, V{}, false
}

// Blend is the smooth minimum of two distances over a width k (polynomial form).
func Blend(a, b, k float64) float64 {
	h := max(k-math.Abs(a-b), 0) / k
	return min(a, b) - h*h*k*0.25
}

// Egg is the distance bound to an ellipsoid with radii r about c.
func Egg(p, c, r V) float64 {
	q := p.Sub(c)
	k0 := V{q.X / r.X, q.Y / r.Y, q.Z / r.Z}.Len()
	k1 := V{q.X / (r.X * r.X), q.Y / (r.Y * r.Y), q.Z / (r.Z * r.Z)}.Len()
	if k1 == 0 {
		return -min(r.X, min(r.Y, r.Z))
	}
	return k0 * (k0 - 1) / k1
}

// Rod is the distance to a capsule from a to b with radii ra and rb.
func Rod(p, a, b V, ra, rb float64) float64 {
	pa, ba := p.Sub(a), b.Sub(a)
	h := min(1, max(0, pa.Dot(ba)/ba.Dot(ba)))
	return pa.Sub(ba.Scale(h)).Len() - (ra + (rb-ra)*h)
}

func slab(lo, hi, o, inv V, tmin, tmax float64) (float64, float64, bool) {
	x0, x1 := (lo.X-o.X)*inv.X, (hi.X-o.X)*inv.X
	y0, y1 := (lo.Y-o.Y)*inv.Y, (hi.Y-o.Y)*inv.Y
	z0, z1 := (lo.Z-o.Z)*inv.Z, (hi.Z-o.Z)*inv.Z
	if x0 > x1 {
		x0, x1 = x1, x0
	}
	if y0 > y1 {
		y0, y1 = y1, y0
	}
	if z0 > z1 {
		z0, z1 = z1, z0
	}
	if x0 > tmin {
		tmin = x0
	}
	if y0 > tmin {
		tmin = y0
	}
	if z0 > tmin {
		tmin = z0
	}
	if x1 < tmax {
		tmax = x1
	}
	if y1 < tmax {
		tmax = y1
	}
	if z1 < tmax {
		tmax = z1
	}
	return tmin, tmax, tmin <= tmax
}

// Sheet tabulates a height over x and y, for cloth that hangs in folds: march with the
// table, take the normal from the formula.
func Sheet(lo, hi V, nx, ny int, height func(x, y float64) float64) func(x, y float64) float64 {
	grid := make([]float32, (nx+2)*(ny+2))
	for j := range ny + 2 {
		for i := range nx + 2 {
			grid[j*(nx+2)+i] = float32(height(lo.X+(hi.X-lo.X)*float64(i)/float64(nx), lo.Y+(hi.Y-lo.Y)*float64(j)/float64(ny)))
		}
	}
	kx, ky := float64(nx)/(hi.X-lo.X), float64(ny)/(hi.Y-lo.Y)
	return func(x, y float64) float64 {
		u, v := (x-lo.X)*kx, (y-lo.Y)*ky
		u, v = min(max(u, 0), float64(nx)), min(max(v, 0), float64(ny))
		i, j := int(u), int(v)
		u, v = u-float64(i), v-float64(j)
		g := grid[j*(nx+2)+i:]
		a := float64(g[0])*(1-u) + float64(g[1])*u
		b := float64(g[nx+2])*(1-u) + float64(g[nx+3])*u
		return a*(1-v) + b*v
	}
}
