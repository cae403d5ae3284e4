package stage

// gather holds what the samples of a frame brought back, apart from each other.
type gather struct {
	w, h                              int
	albedo, light, spec, emit, normal []V
	depth                             []float64
	lit, metal                        []bool
	id                                []int // the body seen, -1 for the sky, or mixed
	rim                               map[int][]part
}

func newGather(w, h int) *gather {
	n := w * h
	m := func() []V { return make([]V, n) }
	return &gather{w, h, m(), m(), m(), m(), m(), make([]float64, n), make([]bool, n), make([]bool, n), make([]int, n), nil}
}

// finish smooths the light with an edge-stopping à-trous filter (Dammertz et al. 2010) and multiplies it back.
func (g *gather) finish(passes int) *Picture {
	light, spec := g.light, g.spec
	for p := range passes {
		if p < 2 {
			spec = g.atrous(spec, 1<<p, p == 0, 1, g.metal)
		}
		light = g.atrous(light, 1<<p, p == 0, 0.5, nil)
	}
	out := &Picture{g.w, g.h, make([]float32, 3*g.w*g.h)}
	for i := range light {
		c := g.albedo[i].Mul(light[i]).Add(spec[i]).Add(g.emit[i])
		if parts, ok := g.rim[i]; ok {
			c = g.emit[i].Add(g.shade(i, parts, light, spec))
		}
		out.Pix[3*i], out.Pix[3*i+1], out.Pix[3*i+2] = float32(c.X), float32(c.Y), float32(c.Z)
	}
	return out.soften()
}

// soften is the blur of a good lens: (1 6 1)/8 along both axes.
func (p *Picture) soften() *Picture {
	pass := func(src []float32, dx, dy int) []float32 {
		out := make([]float32, len(src))
		for y := range p.H {
			for x := range p.W {
				a := 3 * (max(y-dy, 0)*p.W + max(x-dx, 0))
				b := 3 * (min(y+dy, p.H-1)*p.W + min(x+dx, p.W-1))
				i := 3 * (y*p.W + x)
				for c := range 3 {
					out[i+c] = 0.125*(src[a+c]+src[b+c]) + 0.75*src[i+c]
				}
			}
		}
		return out
	}
	p.Pix = pass(pass(p.Pix, 1, 0), 0, 1)
	return p
}

// atrous is one pass with taps step apart. The first pass fills the pixels that were not lit;
// later ones also stop where brightness differs by more than loose times the local value.
// Pixels marked in keep stay as they are.
func (g *gather) atrous(in []V, step int, fill bool, loose float64, keep []bool) []V {
	out := make([]V, len(in))
	taps := [3]float64{3.0 / 8, 1.0 / 4, 1.0 / 16}
	row := func(y int) {
		for x := range g.w {
			i := y*g.w + x
			if keep != nil && keep[i] {
				out[i] = in[i]
				continue
			}
			n, z := g.normal[i], g.depth[i]
			lum := in[i].X + in[i].Y + in[i].Z
			var sum, any V
			var ws, wa float64
			for dy := -2; dy <= 2; dy++ {
				yy := y + dy*step
				if yy < 0 || yy >= g.h {
					continue
				}
				for dx := -2; dx <= 2; dx++ {
					xx := x + dx*step
					if xx < 0 || xx >= g.w {
						continue
					}
					j := yy*g.w + xx
					if fill && !g.lit[j] || keep != nil && keep[j] || g.rim != nil && g.id[j] == mixed {
						continue
					}
					w := taps[abs(dx)] * taps[abs(dy)]
					v := in[j]
					if fill {
						any, wa = any.Add(v.Scale(w)), wa+w
					}
					c := max(0, n.Dot(g.normal[j]))
					c *= c
					c *= c
					c *= c
					dz := (g.depth[j] - z) / (z * 0.004 * float64(step))
					w *= c / (1 + dz*dz)
					if !fill {
						other := v.X + v.Y + v.Z
						dl := (other - lum) / ((lum+other)*loose + 0.01)
						w /= 1 + dl*dl
					}
					sum, ws = sum.Add(v.Scale(w)), ws+w
				}
			}
			switch {
			case ws > 1e-3:
				out[i] = sum.Scale(1 / ws)
			case wa > 0:
				out[i] = any.Scale(1 / wa)
			default:
				out[i] = in[i]
			}
		}
	}
	eachRow(g.h, row)
	return out
}

func abs(i int) int {
	if i < 0 {
		return -i
	}
	return i
}
