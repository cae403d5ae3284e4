package stage

import "math"

// dice deals the random numbers of one sample. Neighbouring pixels get neighbouring
// points of a lattice, so that what the smoother averages is spread evenly.
type dice struct{ x, y, sample, dim int }

func (d *dice) roll() float64 {
	d.dim++
	k := float64(2*d.dim - 1)
	v := Rand(d.sample, d.dim, 0) + 0.7548776662466927*k*float64(d.x>>1) + 0.5698402909980532*k*float64(d.y>>1)
	return v - math.Floor(v)
}

type surface struct {
	p, n, view V
	albedo     V
	mat        *Material
	id         int
}

func (s *Scene) surface(r Ray, h hit) surface {
	b := h.body
	n := b.inv.normal(h.grad)
	if b.mat.Bump != nil {
		e := 2e-4
		f := b.mat.Bump
		p := h.local
		z := f(p)
		g := V{f(V{p.X + e, p.Y, p.Z}) - z, f(V{p.X, p.Y + e, p.Z}) - z, f(V{p.X, p.Y, p.Z + e}) - z}.Scale(1 / e)
		w := V{b.inv.X.Dot(g), b.inv.Y.Dot(g), b.inv.Z.Dot(g)}
		n = n.Sub(w.Sub(n.Scale(w.Dot(n)))).Unit()
	}
	view := r.D.Unit().Scale(-1)
	if n.Dot(view) < 0 {
		n = n.Scale(-1)
	}
	s1 := surface{p: r.O.Add(r.D.Scale(h.t)), n: n, view: view, mat: b.mat, id: b.id}
	if b.mat.Albedo != nil {
		s1.albedo = b.mat.Albedo(h.local, n)
	}
	return s1
}

// ggx is the mirror lobe times the cosine, for one light direction.
func (s *surface) ggx(l V) float64 {
	nl, nv := s.n.Dot(l), s.n.Dot(s.view)
	if nl <= 0 || nv <= 0 {
		return 0
	}
	h := l.Add(s.view).Unit()
	nh, vh := max(0, s.n.Dot(h)), max(0, s.view.Dot(h))
	a := s.mat.Rough * s.mat.Rough
	q := nh*nh*(a*a-1) + 1
	d := a * a / (math.Pi * q * q)
	k := a / 2
	g := 1 / ((nl*(1-k) + k) * (nv*(1-k) + k)) / 4
	f := s.mat.Gloss + (1-s.mat.Gloss)*math.Pow(1-vh, 5)
	return d * g * f * nl
}

// diffuse is the cosine with leaf and sheen taken into account.
func (s *surface) diffuse(l V) float64 {
	c := s.n.Dot(l)
	if c < 0 {
		return -c * s.mat.Leaf
	}
	if s.mat.Sheen > 0 {
		g := 1 - max(0, s.n.Dot(s.view))
		c *= 1 + s.mat.Sheen*g*g*g*4
	}
	return c * (1 - 0.35*s.mat.Leaf)
}

// direct returns the irradiance over pi and the mirrored light from lamps, panes and sun.
// So many lamps are tested for shadow, chosen in proportion to what they would give.
func (s *Scene) direct(f *surface, d *dice, lamps int) (irr, spec V) {
	add := func(to V, radiance V, solid float64, weight float64, reach float64) {
		side := f.n
		if f.n.Dot(to) < 0 {
			side = side.Scale(-1)
		}
		df := f.diffuse(to)
		sp := 0.0
		if f.mat.Gloss > 0 {
			sp = f.ggx(to)
		}
		if df <= 0 && sp <= 0 {
			return
		}
		if _, blocked := s.trace(Ray{f.p.Add(side.Scale(1e-3)), to}, 1e-4, reach, true); blocked {
			return
		}
		irr = irr.Add(radiance.Scale(df * solid * weight / math.Pi))
		spec = spec.Add(radiance.Scale(min(sp*solid, 1) * weight))
	}
	if n := len(s.Lamps); n > 0 {
		var w [32]float64
		sum := 0.0
		for i, l := range s.Lamps {
			to := l.At.Sub(f.p)
			r2 := to.Dot(to)
			c := max(0.15, f.n.Dot(to)/math.Sqrt(r2))
			w[i] = c * l.Radius * l.Radius / r2 * l.Radiance.Y
			sum += w[i]
		}
		u := d.roll()
		for k := range lamps {
			x := (u + float64(k)) / float64(lamps) * sum
			i := 0
			for ; i < n-1 && x >= w[i]; i++ {
				x -= w[i]
			}
			l := s.Lamps[i]
			to := l.At.Add(inBall(d).Scale(l.Radius)).Sub(f.p)
			dist := to.Len()
			solid := math.Pi * l.Radius * l.Radius / (dist*dist + l.Radius*l.Radius)
			add(to.Scale(1/dist), l.Radiance, solid, sum/w[i]/float64(lamps), dist-l.Radius*1.3)
		}
	}
	for i := range s.Panes {
		p := &s.Panes[i]
		q := p.Corner.Add(p.U.Scale(d.roll())).Add(p.W.Scale(d.roll()))
		to := q.Sub(f.p)
		dist := to.Len()
		to = to.Scale(1 / dist)
		area := p.U.Cross(p.W)
		c := -area.Dot(to)
		if c > 0 {
			before := spec
			add(to, p.Radiance, c/(dist*dist+0.02), 1, dist*0.995)
			if spec != before { // seen: the mirrored pane, over the whole of it
				spec = before.Add(p.Radiance.Scale(f.shine(p)))
			}
		}
	}
	if s.Sun.Dot(s.Sun) > 0 {
		to := s.Sun.Add(inBall(d).Scale(s.SunSize)).Unit()
		solid := math.Pi * s.SunSize * s.SunSize
		add(to, s.SunLit.Scale(1/solid), solid, 1, 1e6)
	}
	return irr, spec
}

// shine is the mirror lobe over a pane, 25 points of it.
func (f *surface) shine(p *Pane) float64 {
	const n = 5
	sum := 0.0
	area := p.U.Cross(p.W)
	for i := range n {
		for j := range n {
			to := p.Corner.Add(p.U.Scale((float64(i) + .5) / n)).Add(p.W.Scale((float64(j) + .5) / n)).Sub(f.p)
			r2 := to.Dot(to)
			to = to.Scale(1 / math.Sqrt(r2))
			if c := -area.Dot(to); c > 0 {
				sum += min(f.ggx(to)*c/(r2+0.02), 1)
			}
		}
	}
	return sum / n / n
}

func inBall(d *dice) V {
	z := 2*d.roll() - 1
	a := 2 * math.Pi * d.roll()
	r := math.Sqrt(1 - z*z)
	sn, cs := math.Sincos(a)
	return V{r * cs, r * sn, z}.Scale(math.Cbrt(d.roll()))
}

func cosine(n V, d *dice) V {
	a := 2 * math.Pi * d.roll()
	z := 1 - 2*d.roll()
	r := math.Sqrt(max(0, 1-z*z))
	sn, cs := math.Sincos(a)
	return n.Scale(1.0001).Add(V{r * cs, r * sn, z}).Unit()
}

func (s *Scene) sky(d V) V {
	if s.Sky == nil {
		return s.Ambient
	}
	return s.Sky(d)
}

// indirect follows one more bounce and shades what it meets.
func (s *Scene) indirect(f *surface, d *dice) V {
	r := Ray{f.p.Add(f.n.Scale(1e-3)), cosine(f.n, d)}
	h, ok := s.trace(r, 1e-4, 1e6, false)
	if !ok {
		return s.sky(r.D)
	}
	if h.body.mat.Emit != nil {
		return V{} // lamps are sampled directly
	}
	g := s.surface(r, h)
	irr, _ := s.direct(&g, d, 1)
	return g.albedo.Mul(irr.Add(s.Ambient))
}

// mirror follows the reflection of a glossy surface.
func (s *Scene) mirror(f *surface, d *dice) V {
	n := f.n.Add(inBall(d).Scale(f.mat.Rough * f.mat.Rough * 0.7)).Unit()
	r := Ray{f.p.Add(f.n.Scale(1e-3)), n.Scale(2 * n.Dot(f.view)).Sub(f.view)}
	c := max(0, f.n.Dot(f.view))
	fr := f.mat.Gloss + (1-f.mat.Gloss)*math.Pow(1-c, 5)*(1-f.mat.Rough)
	h, ok := s.trace(r, 1e-4, 1e6, false)
	if !ok {
		return s.sky(r.D).Scale(fr)
	}
	if e := h.body.mat.Emit; e != nil {
		return V{} // its glint is already in the direct lobe
	}
	g := s.surface(r, h)
	irr, _ := s.direct(&g, d, 1)
	return g.albedo.Mul(irr.Add(s.Ambient)).Scale(fr)
}
