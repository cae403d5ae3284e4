package stage

import "math"

// mixed stands for the id of a pixel in which more than one body is seen.
const mixed = -2

// part is what one body adds to a pixel on a rim.
type part struct {
	id             int
	albedo, normal V       // albedo in proportion to the share, normal of unit length
	depth          float64 // mean
	share          float64
	light, spec    V // sums over samples lit for this part alone
	own            int
}

// rims looks again, and harder, wherever bodies meet. Out of focus such a pixel sees two
// bodies in very different light; it keeps them apart, so that each gets its own.
func (s *Scene) rims(g *gather, e *sight, views int) {
	const reach = 2 // px: two looks of pass one can miss a thin share
	edge := make([]bool, len(g.id))
	eachRow(g.h, func(y int) {
		for x := range g.w {
			i := y*g.w + x
			for yy := max(y-reach, 0); yy <= min(y+reach, g.h-1) && !edge[i]; yy++ {
				for xx := max(x-reach, 0); xx <= min(x+reach, g.w-1); xx++ {
					if j := yy*g.w + xx; g.id[j] == mixed || g.id[j] != g.id[i] {
						edge[i] = true
						break
					}
				}
			}
		}
	})
	rows := make([]map[int][]part, g.h) // one a row, so that rows need not wait for each other
	eachRow(g.h, func(y int) {
		rows[y] = map[int][]part{}
		for x := range g.w {
			if i := y*g.w + x; edge[i] {
				rows[y][i] = s.rim(g, e, x, y, views)
			}
		}
	})
	g.rim = map[int][]part{}
	for _, r := range rows {
		for i, p := range r {
			if len(p) > 0 && g.id[i] == mixed {
				g.rim[i] = p
				g.lit[i] = false // its light is of no single body
			}
		}
	}
	eachRow(g.h, func(y int) {
		for x := range g.w {
			s.orphans(g, e, x, y, views)
		}
	})
}

// orphans lights those parts of a rim pixel whose body is nowhere near seen alone, such as a thread.
func (s *Scene) orphans(g *gather, e *sight, x, y, views int) {
	i := y*g.w + x
	parts := g.rim[i]
	for k := range parts {
		p := &parts[k]
		if _, _, weight := g.near(i, p, g.light, g.spec); weight > 0 {
			continue
		}
		const enough = 4
		for n := 0; n < views && p.own < enough; n++ {
			d := &dice{x: x, y: y, sample: n}
			r := e.ray(x, y, n, d)
			h, ok := s.trace(r, 1e-3, 1e6, false)
			if !ok || h.body.id != p.id {
				continue
			}
			f := s.surface(r, h)
			di, sp := s.direct(&f, d, 2)
			p.light = p.light.Add(di.Add(s.indirect(&f, d)))
			p.spec = p.spec.Add(sp)
			p.own++
		}
	}
}

// rim takes the samples of one pixel and sorts them by body.
func (s *Scene) rim(g *gather, e *sight, x, y, views int) []part {
	i := y*g.w + x
	k := 1 / float64(views)
	var parts []part
	var emit, albedo V
	id := 0
	for n := range views {
		d := &dice{x: x, y: y, sample: n}
		r := e.ray(x, y, n, d)
		h, ok := s.trace(r, 1e-3, 1e6, false)
		if !ok {
			emit = emit.Add(s.sky(r.D).Scale(k))
			id = merge(n, id, -1)
			continue
		}
		f := s.surface(r, h)
		id = merge(n, id, f.id)
		if shine := f.mat.Emit; shine != nil {
			emit = emit.Add(shine(h.local, f.n.Dot(f.view)).Scale(k))
			continue
		}
		p := find(&parts, f.id)
		p.albedo = p.albedo.Add(f.albedo.Scale(k))
		p.normal = p.normal.Add(f.n)
		p.depth += h.t
		p.share += k
		albedo = albedo.Add(f.albedo.Scale(k))
	}
	for j := range parts {
		p := &parts[j]
		p.normal = p.normal.Unit()
		p.depth *= k / p.share
	}
	g.id[i], g.emit[i], g.albedo[i] = id, emit, albedo
	return parts
}

func merge(n, id, next int) int {
	if n > 0 && id != next {
		return mixed
	}
	return next
}

func find(parts *[]part, id int) *part {
	for i := range *parts {
		if (*parts)[i].id == id {
			return &(*parts)[i]
		}
	}
	*parts = append(*parts, part{id: id})
	return &(*parts)[len(*parts)-1]
}

// shade lights each part of a rim pixel as the nearest pixels that see its body alone are lit.
func (g *gather) shade(i int, parts []part, light, spec []V) V {
	var sum V
	for k := range parts {
		p := &parts[k]
		l, m := p.light, p.spec
		w := float64(p.own)
		if p.own == 0 {
			l, m, w = g.near(i, p, light, spec)
		}
		sum = sum.Add(p.albedo.Mul(l.Scale(1 / w))).Add(m.Scale(p.share / w))
	}
	return sum
}

// near sums what falls on the nearest pixels that see the body of a part alone, and their weight.
func (g *gather) near(i int, p *part, light, spec []V) (l, m V, weight float64) {
	x, y := i%g.w, i/g.w
	for r := 1; r <= 12 && weight < .5; r++ {
		for yy := max(y-r, 0); yy <= min(y+r, g.h-1); yy++ {
			step := 1
			if yy != y-r && yy != y+r {
				step = 2 * r // the sides of the ring only
			}
			for xx := x - r; xx <= x+r; xx += step {
				if xx < 0 || xx >= g.w {
					continue
				}
				j := yy*g.w + xx
				if g.id[j] != p.id {
					continue
				}
				c := max(0, p.normal.Dot(g.normal[j]))
				dz := (g.depth[j] - p.depth) / (p.depth * .02)
				w := (math.Pow(c, 8) + 1e-3) / (1 + dz*dz) / float64(r)
				l, m, weight = l.Add(light[j].Scale(w)), m.Add(spec[j].Scale(w)), weight+w
			}
		}
	}
	return l, m, weight
}
